// The sharpening record: gates, order, replay.
#include "trial/sharpening.h"

#include <gtest/gtest.h>

#include "report/card_page.h"
#include "store/shelf_json.h"
#include "support.h"

namespace bq {
namespace {

SharpeningStep step(StepWork work, const std::string& abrasive, double um,
                    GrindSide side = GrindSide::both) {
  SharpeningStep out;
  out.work = work;
  out.abrasive = abrasive;
  if (um > 0) out.size_um = um;
  out.side = side;
  out.angles = BevelAngles::symmetric(15);
  return out;
}

Sharpening plan(GatePolicy policy) {
  Sharpening out;
  out.policy = policy;
  out.route = "ductile route";
  out.steps = {step(StepWork::grind, "Coarse", 60), step(StepWork::grind, "Fine", 15),
               step(StepWork::deburr, "Fine", 15), step(StepWork::strop, "Leather", 0.5)};
  return out;
}

/// Taps the one big key until nothing is left.
Sharpening played(Sharpening s) {
  while (const auto tap = next_tap(s)) {
    const auto next = tap->mark ? with_mark(s, *tap->mark) : with_step_done(s, 60);
    if (!next) throw std::runtime_error(next.refusal().reason);
    s = *next;
  }
  return s;
}

TEST(Sharpening, GateHoldsTheStepUntilAllPlacesAreConfirmed) {
  Sharpening s = plan(GatePolicy::every_abrasive);
  for (int mark : {0, 1, 2, 3, 5}) s = *with_mark(s, mark);
  const auto refused = with_step_done(s, 10);
  ASSERT_FALSE(refused);
  EXPECT_NE(refused.refusal().reason.find("right middle"), std::string::npos)
      << refused.refusal().reason;
  EXPECT_EQ(refused.refusal().reason.find("right tip"), std::string::npos);
  s = *with_mark(s, 4);
  s = *with_step_done(s, 10);
  EXPECT_EQ(*current_step(s), 1U);
  EXPECT_EQ(s.steps[0].seconds, 10);
}

TEST(Sharpening, PoliciesAskForTheirPlaces) {
  for (const auto& [policy, first, second] :
       {std::tuple(GatePolicy::every_abrasive, 0b111111U, 0b111111U),
        {GatePolicy::coarsest_only, 0b111111U, 0U},
        {GatePolicy::single_sided, 0b111000U, 0b111000U},
        {GatePolicy::none, 0U, 0U}}) {
    const Sharpening s = plan(policy);
    EXPECT_EQ(gate_of(s, 0), first) << name_of(policy);
    EXPECT_EQ(gate_of(s, 1), second) << name_of(policy);
    EXPECT_EQ(gate_of(s, 2), 0U) << "no gate at deburring";
    EXPECT_FALSE(next_tap(played(s)));
  }
  Sharpening left = plan(GatePolicy::every_abrasive);
  left.steps[0].side = GrindSide::left;
  EXPECT_EQ(gate_of(left, 0), 0b111000U) << "the burr rises on the side that is not ground";
  EXPECT_FALSE(with_mark(left, 0));
}

TEST(Sharpening, OverrideNeedsAReasonAndIsKept) {
  Sharpening s = plan(GatePolicy::every_abrasive);
  EXPECT_FALSE(with_override(s, "  "));
  s = *with_override(s, "crossing wheels raise none");
  EXPECT_FALSE(next_tap(s)->mark);
  s = *with_step_done(s, 0);
  EXPECT_EQ(s.steps[0].override_reason, "crossing wheels raise none");
  EXPECT_NE(describe(s).find("1 gate passed with a reason"), std::string::npos);
  EXPECT_FALSE(with_override(played(plan(GatePolicy::none)), "no gate")) << "nothing is open";
}

TEST(Sharpening, OrderOfTheWorkIsChecked) {
  EXPECT_TRUE(order_remarks(plan(GatePolicy::none)).empty());
  Sharpening s;
  s.steps = {step(StepWork::recurve, "Coarse", 60), step(StepWork::straighten, "", 0),
             step(StepWork::grind, "Fine", 15), step(StepWork::strop, "Leather", 1),
             step(StepWork::grind, "Coarse", 60)};
  const auto remarks = order_remarks(s);
  ASSERT_EQ(remarks.size(), 3U);
  EXPECT_NE(remarks[0].find("straighten before the recurve"), std::string::npos);
  EXPECT_NE(remarks[1].find("strop before an abrasive"), std::string::npos);
  EXPECT_NE(remarks[2].find("coarser abrasive (60 µm) after a finer one (15 µm)"),
            std::string::npos);
  s.steps = {step(StepWork::grind, "Coarse", 60), step(StepWork::deburr, "Cork", 0),
             step(StepWork::grind, "Fine", 15)};
  EXPECT_EQ(order_remarks(s).size(), 1U) << "deburring was to be at the end";
  s.deburr_between = true;
  EXPECT_TRUE(order_remarks(s).empty());
}

TEST(Sharpening, FinishIsThatOfTheLastAbrasiveOnEachSide) {
  Sharpening s = plan(GatePolicy::none);
  EXPECT_EQ(*finish_of(s), Finish::both(15)) << "a strop is a finishing step of its own";
  s.steps.insert(s.steps.begin() + 2, step(StepWork::grind, "Finest", 5, GrindSide::left));
  EXPECT_EQ(*finish_of(s), (Finish{5, 15}));
}

TEST(Sharpening, SurvivesItsFileFormat) {
  Sharpening s = played(plan(GatePolicy::every_abrasive));
  s.steps[1].passes = 40;
  s.steps[1].from_mm = 20;
  s.steps[1].to_mm = 35;
  s.steps[1].note = "näher – \"hier\"";
  s.run = "C07";
  const auto back = parse_sharpening(sharpening_json(s));
  ASSERT_TRUE(back) << back.refusal().reason;
  EXPECT_EQ(*back, s);
  EXPECT_NE(
      parse_sharpening(R"({"steps":[{"work":"bake"}]})").refusal().reason.find("steps[0].work"),
      std::string::npos);
}

TEST(EdgeCard, ARecordReplayedGivesTheSameCardByteForByte) {
  Trial trial = test::demo_trial();
  trial.blades[0].name = trial.runs[0].facts.blade;
  Sharpening first = plan(GatePolicy::every_abrasive);
  for (auto& s : first.steps) s.planned_min = 1;
  first.run = trial.runs[0].facts.name;
  first = played(first);
  const auto card_with = [&](const Sharpening& s) {
    Trial with = trial;
    with.blades[0].records = {
        {1, "2026-03-02T09:00:00Z", SharpeningRecord{*parse_sharpening(sharpening_json(s))}}};
    return edge_card(with, 0, {});
  };
  Sharpening second = played(replay(first));
  second.run = first.run;
  const EdgeCard once = card_with(first), again = card_with(second);
  EXPECT_EQ(card_html(once), card_html(again));
  EXPECT_EQ(card_pdf(once), card_pdf(again));
  // And it is no empty agreement: one mark less, one minute more, another card.
  Sharpening other = first;
  other.steps[0].override_reason = "no light";
  EXPECT_NE(card_html(once), card_html(card_with(other)));
  other = first;
  other.steps[0].seconds = 120;
  EXPECT_NE(card_pdf(once), card_pdf(card_with(other)));
}

TEST(EdgeCard, OfAnOldRunStaysWhatItWasAfterTheNextSharpening) {
  Trial trial = test::demo_trial();
  trial.blades[0].name = trial.runs[0].facts.blade;
  Sharpening mine = played(plan(GatePolicy::none)), next = mine;
  mine.run = trial.runs[0].facts.name;
  auto& records = trial.blades[0].records;
  records = {{1, "2026-03-02T09:00:00Z", SharpeningRecord{mine}},
             {2, "2026-03-02T09:30:00Z", AngleRecord{EdgeSide::left, 10, 15.1, 0.2, "gauge"}}};
  const std::string before = card_html(edge_card(trial, 0, {}));
  EXPECT_NE(before.find("15.1° per side"), std::string::npos);
  records.push_back({3, "2026-04-01T09:00:00Z", SharpeningRecord{next}});
  records.push_back(
      {4, "2026-04-01T10:00:00Z", AngleRecord{EdgeSide::left, 10, 19.9, 0.2, "gauge"}});
  records.push_back(
      {5, "2026-04-01T10:00:00Z", ConditionRecord{"wire", "wire edge", 0.9, {}, "", {}, ""}});
  EXPECT_EQ(card_html(edge_card(trial, 0, {})), before);
}

TEST(EdgeCard, SaysWhatIsNotOnRecord) {
  const Trial trial = test::demo_trial();
  const std::string html = card_html(edge_card(trial, 0, {}));
  EXPECT_NE(html.find("No sharpening is on record"), std::string::npos);
  EXPECT_NE(html.find("No jig setting is on record"), std::string::npos);
  EXPECT_NE(html.find("Local rules"), std::string::npos);
  Trial hostile = trial;
  hostile.runs[0].facts.medium = "<script>&\"";
  EXPECT_EQ(card_html(edge_card(hostile, 0, {})).find("<script>"), std::string::npos);
  const auto pages = card_pages(edge_card(trial, 0, {}), 96);
  ASSERT_FALSE(pages.empty());
  EXPECT_EQ(pages[0].width, 559);  // 148 mm at 96 dpi
}

}  // namespace
}  // namespace bq
