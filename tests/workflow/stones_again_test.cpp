// What a bench of today makes of an earlier record: stones that wore, a place looked at again, a
// start read too soon; and what thinning takes.
#include <gtest/gtest.h>

#include "bluntness/start_gate.h"
#include "edge/section_outcomes.h"
#include "edge/strop_contact.h"
#include "support.h"
#include "workflow/ladder_draft.h"
#include "workflow/project_session.h"
#include "workflow/stones_study.h"
#include "workflow/taken_up.h"
#include "workflow/thinning_study.h"

namespace bq {
namespace {

Abrasive stone(const char* name, double um, AbrasiveKind kind = AbrasiveKind::bench_stone) {
  Abrasive out;
  out.name = name;
  out.measured_um = um;
  out.rate_mm3_per_min = um / 2;
  out.kind = kind;
  out.flatness = {{"2026-03-01", 5, 200, false, ""}};
  return out;
}

SharpeningStep on(const char* name, double um, StepWork work = StepWork::grind) {
  SharpeningStep out;
  out.work = work;
  out.abrasive = name;
  out.size_um = um;
  out.done = true;
  out.burr[0] = BurrSize::large;
  return out;
}

std::size_t blade_of(const Trial& trial, const std::string& name) {
  return std::size_t(trial.find_blade(name) - trial.blades.data());
}

}  // namespace

TEST(TakenUp, WornReplacedAndGoneStonesAreSaid) {
  Sharpening earlier;
  earlier.steps = {on("Coarse", 60), on("Grey", 17), on("Fine", 5), on("Odd", 200),
                   on("Leather", 1, StepWork::strop)};
  std::vector<Abrasive> shelf{stone("Coarse", 60), stone("Grey", 13), stone("Amber", 6),
                              stone("Balsa", 1.2, AbrasiveKind::strop), stone("Fine", 5)};
  shelf.back().retired = true;
  const TakenUp taken = take_up(earlier, shelf);
  const auto& steps = taken.sharpening.steps;
  EXPECT_EQ(steps[0].abrasive, "Coarse");
  EXPECT_EQ(*steps[1].size_um, 13) << "as it is now";
  EXPECT_EQ(steps[2].abrasive, "Amber") << "a retired stone is not at hand";
  EXPECT_EQ(steps[3].abrasive, "Odd") << "nothing is near: it keeps its name to be changed";
  EXPECT_EQ(steps[4].abrasive, "Balsa") << "a strop for a strop, never a stone";
  EXPECT_FALSE(taken.complete);
  EXPECT_EQ(finish_of(taken.sharpening), Finish::both(200));
  for (const auto& step : steps) {
    EXPECT_FALSE(step.done);
    EXPECT_EQ(step.confirmed(), 0U);
  }
  ASSERT_EQ(taken.said.size(), 4U);
  EXPECT_NE(taken.said[0].find("Grey was 17 µm then and is 13 µm now"), std::string::npos);
  EXPECT_NE(taken.said[1].find("Fine (5 µm) is no longer on the shelf: Amber (6 µm) instead"),
            std::string::npos);
  EXPECT_NE(taken.said[2].find("Odd (200 µm) is no longer on the shelf and nothing near"),
            std::string::npos);
  // The same stones: nothing to say.
  EXPECT_TRUE(
      take_up(taken.sharpening, {stone("Coarse", 60), stone("Grey", 13), stone("Amber", 6),
                                 stone("Odd", 200), stone("Balsa", 1.2, AbrasiveKind::strop)})
          .said.empty());
}

TEST(SeenThere, OnlyAtThisPlaceAndOnlySinceTheEdgeWasMade) {
  Trial trial;
  Blade blade;
  blade.name = "B";
  const auto put = [&](EdgeRecordData data) {
    blade.records.push_back({0, "", std::move(data)});
    trial.blades = {blade};
  };
  const auto there = [&](std::optional<double> at_mm) {
    const auto facts = known_facts(trial, 0, {}, at_mm);
    const auto found = facts.find("seen there");
    return found == facts.end() ? "" : found->second.answers.front();
  };
  put(ConditionRecord{"wire", "wire edge", 0.9, {}, "", 40.0, ""});
  EXPECT_EQ(there(43), "burr");
  EXPECT_EQ(there(60), "");
  EXPECT_EQ(there({}), "") << "a look at one place says nothing of the edge as a whole";
  put(ConditionRecord{"clean", "clean apex", 0.9, {}, "", 41.0, ""});
  EXPECT_EQ(there(43), "clean") << "the later look holds";
  Sharpening done;
  done.steps = {on("Grey", 17)};
  put(SharpeningRecord{done});
  EXPECT_EQ(there(43), "") << "that edge is gone";
}

TEST(StartOfARun, IsTheReadingAfterTheCleanUp) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(test::demo_project(folder));
  const std::size_t blade = blade_of(session.trial(), "Cairn Hard 3");
  std::size_t run = 0;
  while (session.trial().runs[run].facts.name != "K03") ++run;
  ASSERT_EQ(session.trial().runs[run].cuts_done, 0);
  for (const double gf : {150.0, 154.0, 149.0}) session.keep_reading(run, gf, Unit::gf, "");
  Sharpening done;
  done.run = "K03";
  done.steps = {on("Grey", 17)};
  EXPECT_EQ(session.finish_sharpening(blade, done, "hand"), 3);
  const auto starts = [&] {
    std::vector<double> out;
    for (const auto& reading : session.trial().runs[run].readings)
      if (!reading.excluded) out.push_back(reading.value);
    return out;
  };
  EXPECT_TRUE(starts().empty()) << "kept, not counted";
  EXPECT_EQ(session.trial().runs[run].readings.size(), 3U);
  EXPECT_EQ(reading_before_clean_up(session.trial(), run, Unit::gf), 150);
  session.keep_reading(run, 96, Unit::gf, "");
  const auto groups = start_gate(session.trial(), {}, run);
  const auto start = start_of_run(groups, run, Unit::gf);
  ASSERT_TRUE(start);
  EXPECT_EQ(start->start->reading, 96);
  session.undo();
  session.undo();
  EXPECT_EQ(starts().size(), 3U) << "undone as one act with the sharpening";
  // A run that has cut keeps the start it had.
  std::size_t cut = 0;
  while (session.trial().runs[cut].cuts_done == 0) ++cut;
  done.run = session.trial().runs[cut].facts.name;
  EXPECT_EQ(session.finish_sharpening(blade, done, "hand"), 0);
}

// A slack belt is worked on belts, crossed wheels on wheels, and neither pretends to know the
// section it leaves.
TEST(GrindWays, TakeTheirOwnAbrasivesAndSayWhatIsNotReckoned) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(test::demo_project(folder));
  Trial trial = session.trial();
  std::size_t blade = 0;
  while (!draft_ladder(trial, blade)) ++blade;
  LadderInput input = *first_input(trial, blade);
  input.damage_um = 200;
  input.wish.finish_left_um = input.wish.finish_right_um = 10;
  for (const auto& [way, kind] : {std::pair(GrindWay::slack_belt, AbrasiveKind::belt),
                                  {GrindWay::crossed_wheels, AbrasiveKind::wheel}}) {
    input.way = way;
    trial.shelf = session.trial().shelf;
    std::erase_if(trial.shelf, [&, k = kind](const Abrasive& a) { return a.kind == k; });
    const auto none = ladder_for(trial, blade, input);
    ASSERT_FALSE(none) << "there is none on the shelf";
    EXPECT_NE(none.refusal().reason.find(way == GrindWay::slack_belt ? "slack belt" : "crossed"),
              std::string::npos);
    trial.shelf.push_back(stone("Own", 12, kind));
    const auto plan = ladder_for(trial, blade, input);
    ASSERT_TRUE(plan) << plan.refusal().reason;
    for (const auto& step : plan->steps) EXPECT_EQ(trial.shelf[step.abrasive].name, "Own");
    EXPECT_NE(plan->remarks.front().find("measured, not told"), std::string::npos);
    const Sharpening s = sharpening_for(trial, blade, input, *plan, DeburrBehaviour::ductile);
    EXPECT_EQ(s.way, way);
    EXPECT_EQ(gate_of(s, 0) != 0, way == GrindWay::slack_belt);
  }
}

TEST(StropContact, FollowsTheTwoAnchorsAndOrdersItsRemedies) {
  const auto at = [](StropBacking backing, StropPressure pressure) {
    return strop_contact(backing, pressure, 15)->steeper_deg;
  };
  EXPECT_NEAR(at(StropBacking::thin_on_wood, StropPressure::blade_weight), 1, 0.1);
  EXPECT_NEAR(at(StropBacking::thick, StropPressure::firm), 14, 0.5);
  for (int backing = 0; backing < kStropBackings; ++backing)
    for (int pressure = 0; pressure < kStropPressures; ++pressure) {
      const auto b = StropBacking(backing);
      const auto p = StropPressure(pressure);
      if (backing > 0) {
        EXPECT_GT(at(b, p), at(StropBacking(backing - 1), p));
      }
      if (pressure > 0) {
        EXPECT_GT(at(b, p), at(b, StropPressure(pressure - 1)));
      }
      const auto contact = strop_contact(b, p, 15);
      EXPECT_NEAR(contact->apex_deg, 15 + contact->steeper_deg, 1e-12);
      if (contact->hold_deg) {
        const auto lower = strop_contact(b, p, std::max(1.0, *contact->hold_deg));
        EXPECT_NEAR(lower->apex_deg, std::max(15.0, 1 + contact->steeper_deg), 1e-9)
            << "held that much lower the apex meets what was wished";
      }
      EXPECT_EQ(contact->remedies.size(), 1U + (pressure > 0) + (backing > 0));
      EXPECT_EQ(nearest_backing(substrate_of(b)), b);
    }
  EXPECT_FALSE(strop_contact(StropBacking::thick, StropPressure::firm, 0));
}

TEST(Thinning, EachWaySaysItsMetalItsToolAndWhatItBuys) {
  Trial trial;
  trial.shelf = {stone("Coarse", 60, AbrasiveKind::diamond_plate),
                 stone("Belt", 80, AbrasiveKind::belt)};
  Blade blade;
  blade.name = "B";
  blade.records.push_back({0, "", OutlineRecord{"points", {{0, 0}, {150, 0}}}});
  trial.blades = {blade};
  SectionPlan plan;
  plan.stock_mm = 3;
  plan.height_mm = 40;
  Grind hollow, edge;
  hollow.shape = GrindShape::hollow;
  hollow.radius_mm = 100;
  hollow.angle_deg = 5;
  hollow.until = UntilThickness{0.8};
  edge.angle_deg = 15;
  edge.until = UntilApex{};
  plan.grinds = {hollow, edge};
  const auto section = make_section(plan);
  ASSERT_TRUE(section) << section.refusal().reason;
  EXPECT_NEAR(hollow_radius_mm(*section).value_or(0), 100, 1e-9);
  ThinningQuestion question;
  question.wish.behind_edge_mm = 0.4;
  question.wish.blend_mm = 10;
  const auto ways = thinning_of(trial, 0, *section, plan.grinds, question);
  ASSERT_TRUE(ways) << ways.refusal().reason;
  ASSERT_EQ(ways->size(), 4U) << "flat, hollow, convex, and the wheel with the shoulders after it";
  EXPECT_EQ((*ways)[0].option.what, "flat stone on the shoulders");
  EXPECT_EQ((*ways)[0].with, "Belt") << "the quickest that can";
  EXPECT_FALSE((*ways)[0].strokes_a_side) << "nobody counts strokes at a belt";
  for (const auto& way : *ways) {
    if (!way.option.why_not.empty()) {
      EXPECT_NE(way.sentence.find(way.option.why_not), std::string::npos);
      continue;
    }
    EXPECT_NEAR(way.metal_mm3, 150 * removal(*section, way.option.section).area_mm2, 1e-9)
        << "Section's own figure along the edge";
    EXPECT_LT(way.parting_change, 0) << way.sentence;
    if (way.option.shape == GrindShape::hollow) {
      EXPECT_NE(way.sentence.find("minutes not known: no wheel"), std::string::npos)
          << way.sentence;
    } else {
      EXPECT_NE(way.sentence.find("min on Belt"), std::string::npos) << way.sentence;
    }
    EXPECT_TRUE(way.series_known);
  }
  // The default wheel is the one the blade was ground on: that answer is there.
  EXPECT_TRUE((*ways)[1].option.why_not.empty()) << (*ways)[1].option.why_not;
  trial.shelf.pop_back();
  const auto by_hand = thinning_of(trial, 0, *section, plan.grinds, question);
  EXPECT_GT((*by_hand)[0].strokes_a_side.value_or(0), 0) << (*by_hand)[0].sentence;
}

}  // namespace bq
