// The edge as it is now: what was measured before a sharpening is history, damage that is open is
// the same on the map and in the ladder, and nobody is sent to an edge that is not there.
#include <gtest/gtest.h>

#include <cmath>

#include "report/edge_card.h"
#include "store/project_file.h"
#include "support.h"
#include "trial/edge_map.h"
#include "trial/making.h"
#include "workflow/half_hour.h"
#include "workflow/ladder_draft.h"
#include "workflow/making_check.h"
#include "workflow/next_action.h"
#include "workflow/stones_study.h"

using namespace bq;
using namespace bq::test;

namespace {

SharpeningRecord sharpened(const std::string& run, bool finished = true) {
  SharpeningRecord out;
  out.sharpening.run = run;
  SharpeningStep step;
  step.abrasive = "a stone";
  step.done = finished;
  out.sharpening.steps = {step};
  return out;
}

SpotRecord chip(double at_mm, double um, bool cleared = false) {
  SpotRecord out;
  out.kind = SpotKind::damage;
  out.at_mm = at_mm;
  out.size_um = um;
  out.cleared = cleared;
  return out;
}

Blade blade_with(std::vector<EdgeRecordData> records) {
  Blade blade;
  blade.name = "b";
  blade.steel = "S";
  int minute = 10;
  for (auto& data : records)
    blade.records.push_back(
        {0, "2026-03-01T10:" + std::to_string(minute++) + ":00Z", std::move(data)});
  return blade;
}

/// The demo with its rack: sections, sharpenings.
Trial racked() {
  const test::Folder folder;
  return ProjectFile::open(test::demo_project(folder), ProjectFile::Access::read).load();
}

bq::Run cut(const std::string& name, std::int64_t cuts, const std::string& last_at = "") {
  bq::Run run;
  run.facts.name = name;
  run.facts.blade = "b";
  run.cuts_done = cuts;
  if (!last_at.empty()) run.events.push_back({0, last_at, cuts, "", RestEvent{}});
  return run;
}

}  // namespace

TEST(EdgeAsItIs, ASharpeningMakesWhatWasMeasuredHistoryUnlessItWasBrokenOff) {
  AngleRecord angle;
  angle.side = EdgeSide::left;
  angle.angle_deg = 15;
  EdgeNow edge = edge_now(blade_with({angle, chip(40, 200), sharpened("", false)}));
  EXPECT_EQ(edge.left.stations.size(), 1u);
  EXPECT_EQ(open_damage_um(edge), 200);
  edge = edge_now(blade_with({angle, chip(40, 200), sharpened("")}));
  EXPECT_TRUE(edge.left.stations.empty());
  EXPECT_EQ(open_damage_um(edge), 0);
}

TEST(EdgeAsItIs, ClearingOneChipLeavesTheOthersForTheLadder) {
  Trial trial = racked();
  auto& blade = trial.blades[0];
  for (auto spot : {chip(20, 150), chip(60, 90), chip(20, 0, true)})
    blade.records.push_back({0, "2026-05-01T10:00:00Z", spot});
  EXPECT_EQ(open_damage_um(edge_now(blade)), 90);
  EXPECT_EQ(draft_ladder(trial, 0)->state.damage_um, 90) << "the map and the ladder say the same";
}

TEST(EdgeAsItIs, TheRunWhoseCutsAreOnTheEdge) {
  Trial trial;
  trial.runs = {cut("A", 100, "2026-03-01T09:00:00Z"), cut("B", 300, "2026-03-02T09:00:00Z"),
                cut("C", 0)};
  trial.blades = {blade_with({})};
  EXPECT_EQ(run_on_edge(trial, 0), 1u);
  trial.blades = {blade_with({sharpened("B")})};
  EXPECT_EQ(run_on_edge(trial, 0), 1u) << "sharpened for B, cut with since";
  trial.blades = {blade_with({sharpened("C")})};
  EXPECT_EQ(run_on_edge(trial, 0), 1u) << "sharpened for C, and B was cut with it a day later";
  trial.blades = {blade_with({sharpened("C", false)})};
  EXPECT_EQ(run_on_edge(trial, 0), 1u) << "broken off: still the edge of B";
  trial.blades = {blade_with({sharpened("")})};
  EXPECT_EQ(run_on_edge(trial, 0), 1u) << "sharpened a day before B was cut";
  trial.runs[1].events.front().made_at = "2026-02-01T09:00:00Z";
  trial.runs[0].events.front().made_at = "2026-01-31T09:00:00Z";
  EXPECT_FALSE(run_on_edge(trial, 0));
  trial.blades = {blade_with({sharpened("C")})};
  EXPECT_FALSE(run_on_edge(trial, 0)) << "sharpened for C, which has no cuts yet";
}

TEST(EdgeAsItIs, TheHalfHourSeesASharpeningAndARunThatWasBluntFromTheStart) {
  Trial trial = racked();
  std::size_t blade = trial.blades.size();
  for (std::size_t i = 0; i < trial.blades.size(); ++i)
    if (const auto run = run_on_edge(trial, i); run && demo_fits()[*run].curve) blade = i;
  ASSERT_LT(blade, trial.blades.size());
  const std::size_t run = *run_on_edge(trial, blade);
  VerdictSource source;
  source.facts = &trial;
  source.fits = &demo_fits();
  HalfHourQuestion question;
  question.blade = blade;
  question.medium = trial.runs[run].facts.medium;
  question.threshold = 450;
  const auto cut_with = best_half_hour(source, question);
  ASSERT_TRUE(cut_with.ok()) << cut_with.refusal().reason;
  EXPECT_GT(cut_with->cuts_made, 0);
  // Blunt at its first reading: nothing is left, whatever the model says of the usual edge.
  std::vector<RunFit> fits = demo_fits();
  bq::Run dull = trial.runs[run];
  for (auto& reading : dull.readings) reading.value = 2000 + double(reading.cuts);
  fits[run] = fit_run(dull, Unit::gf);
  source.fits = &fits;
  const auto blunt = best_half_hour(source, question);
  ASSERT_TRUE(blunt.ok()) << blunt.refusal().reason;
  EXPECT_EQ(blunt->cuts_left, 0);
  // Sharpened since: a whole life is left.
  trial.blades[blade].records.push_back({0, "2026-12-01T10:00:00Z", sharpened("")});
  const auto fresh = best_half_hour(source, question);
  ASSERT_TRUE(fresh.ok()) << fresh.refusal().reason;
  EXPECT_EQ(fresh->cuts_made, 0);
  EXPECT_GT(fresh->cuts_left, 0);
}

TEST(EdgeAsItIs, APlannedFinishIsNotOnTheEdgeYet) {
  Trial trial = racked();
  trial.blades[0].records.erase(
      std::remove_if(
          trial.blades[0].records.begin(), trial.blades[0].records.end(),
          [](const EdgeRecord& r) { return std::holds_alternative<SharpeningRecord>(r.data); }),
      trial.blades[0].records.end());
  const auto before = draft_ladder(trial, 0)->state.finish_um;
  bq::Run planned;
  planned.facts.name = "planned";
  planned.facts.blade = trial.blades[0].name;
  planned.facts.finish = Finish::both(99);
  planned.plan.checkpoints = {0, 10};
  trial.runs.push_back(planned);
  ASSERT_TRUE(before);
  EXPECT_EQ(draft_ladder(trial, 0)->state.finish_um, before);
}

TEST(EdgeAsItIs, NobodyIsSentToARetiredBladeOrToLookAgain) {
  Trial trial = demo();
  trial.micrographs.clear();
  std::vector<RunFit> fits = demo_fits();
  for (auto& run : trial.runs) run.events.push_back({0, "", 0, "", StopEvent{}});
  fits[3].curve->early_collapse = true;
  NextAction action = next_action(trial, fits);
  EXPECT_NE(action.sentence.find("collapsed early"), std::string::npos) << action.sentence;
  for (std::size_t i = 0; i < fits.size(); ++i)
    if (fits[i].curve && fits[i].curve->early_collapse)
      trial.runs[i].events.push_back({0, "", 0, "", LookEvent{}});
  action = next_action(trial, fits);
  EXPECT_EQ(action.sentence.find("collapsed early"), std::string::npos) << action.sentence;
  bq::Run planned;
  planned.facts.name = "planned";
  planned.facts.blade = trial.blades[0].name;
  planned.plan.checkpoints = {0, 10};
  trial.runs.push_back(planned);
  EXPECT_NE(next_action(trial, fits).sentence.find("planned"), std::string::npos);
  trial.blades[0].retired = true;
  EXPECT_EQ(next_action(trial, fits).sentence.find("planned"), std::string::npos);
}

TEST(EdgeAsItIs, EveryPlaceSaysTheSameOfEachOfThreeSharpenings) {
  Trial trial;
  Blade blade;
  blade.name = "b";
  blade.steel = "S";
  const auto at = [&](const std::string& day, EdgeRecordData data) {
    blade.records.push_back({0, "2026-03-0" + day + "T10:00:00Z", std::move(data)});
  };
  const double angles[] = {11, 14, 17};
  for (int i = 0; i < 3; ++i) {
    const std::string day = std::to_string(2 + 2 * i), name = "R" + std::to_string(i);
    SettingRecord jig;
    jig.angle_deg = angles[i];
    at(day, jig);
    SharpeningRecord made = sharpened(name);
    made.sharpening.steps[0].angles = BevelAngles::symmetric(angles[i]);
    at(day, made);
    SectionRecord section;
    section.plan = with_edge({}, BevelAngles::symmetric(angles[i]), std::nullopt);
    at(day, section);
    AngleRecord angle;
    angle.angle_deg = angles[i] + 0.3;
    angle.bevel = MeasuredBevel::edge_bevel;
    at(day, angle);
    bq::Run run = cut(name, 100, "2026-03-0" + std::to_string(3 + 2 * i) + "T10:00:00Z");
    run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angles[i]));
    trial.runs.push_back(run);
  }
  trial.blades = {blade};
  const BladeMakings makings = makings_of(trial, 0);
  ASSERT_EQ(makings.all.size(), 4u) << "as it came, and three";
  for (std::size_t i = 0; i < 3; ++i) {
    // The card of the run, the card of the making, the blade as it was then: one angle, one jig
    // setting, one section, one day; and no other making's.
    const Making& making = makings.all[i + 1];
    const std::string of_run = card_html(edge_card(trial, i, {})),
                      of_making = card_html(edge_card_of_making(trial, 0, i + 1, {}));
    const EdgeNow then = edge_now(blade_in(trial.blades[0], making));
    for (std::size_t k = 0; k < 3; ++k) {
      const bool own = k == i;
      const std::string measured = print_fixed(angles[k] + 0.3, 1) + "° per side",
                        clamp = "clamp, " + print_number(angles[k], 4) + "°",
                        day = "sharpened 2026-03-0" + std::to_string(2 + 2 * k);
      for (const std::string* card : {&of_run, &of_making}) {
        EXPECT_EQ(card->find(measured) != std::string::npos, own) << measured;
        EXPECT_EQ(card->find(clamp) != std::string::npos, own) << clamp;
        EXPECT_EQ(card->find(day) != std::string::npos, own) << day;
      }
      EXPECT_EQ(describe_edge(then, 0.5).spread.find(print_fixed(angles[k] + 0.3, 1)) !=
                    std::string::npos,
                own);
    }
    EXPECT_NEAR(*then.left.mean_deg(), angles[i] + 0.3, 1e-12);
    EXPECT_EQ(then.section->grinds[1].angle_deg, angles[i]);
    EXPECT_EQ(setting_of(trial.blades[0], making)->setting.angle_deg, angles[i]);
    EXPECT_EQ(start_of(trial, trial.runs[i])->made_at.substr(0, 10),
              "2026-03-0" + std::to_string(2 + 2 * i));
    EXPECT_EQ(making.runs, (std::vector<std::size_t>{i}));
  }
  EXPECT_EQ(run_on_edge(trial, 0), 2u);
  EXPECT_TRUE(check_makings(trial).problems.empty());
  EXPECT_TRUE(check_makings(trial).notes.empty());
  // A run that was cut at nobody knows what time, and one whose angle is another's.
  trial.runs.push_back(cut("later", 40));
  trial.runs[0].facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(13));
  const MakingCheck check = check_makings(trial);
  ASSERT_EQ(check.notes.size(), 2u);
  EXPECT_NE(check.notes[0].find("edge bevel 11° per side and not 13°"), std::string::npos)
      << check.notes[0];
  EXPECT_NE(check.notes[1].find("whether later was cut before or after"), std::string::npos)
      << check.notes[1];
  EXPECT_NE(card_html(edge_card(trial, 3, {})).find("it has no times"), std::string::npos);
  EXPECT_EQ(run_on_edge(trial, 0), 2u) << "a run of which nothing is known is on no edge";
}
