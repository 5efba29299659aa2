// What is to be done to a blade, in the order in which it has to be done, and what closes it.
#include "workflow/work_list.h"

#include <gtest/gtest.h>

#include "support.h"
#include "workflow/ladder_draft.h"
#include "workflow/project_session.h"

namespace bq {
namespace {

std::vector<BladeWork> works(const Trial& trial, std::size_t blade) {
  std::vector<BladeWork> out;
  for (const auto& item : work_list(trial, blade)) out.push_back(item.work);
  return out;
}

}  // namespace

TEST(WorkList, FiveFindingsAreWorkInOrderAndTheSharpeningClosesThem) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(test::demo_project(folder));
  std::size_t blade = 0;
  while (!draft_ladder(session.trial(), blade)) ++blade;
  for (const auto& item : work_list(session.trial(), blade))
    EXPECT_EQ(item.work, BladeWork::thin) << describe(item);
  const auto add = [&](EdgeRecordData data) {
    session.add_records(blade, {std::move(data)}, "found");
  };
  // Found in no order at all.
  add(SpotRecord{SpotKind::hangs, {}, 60, 0, false, ""});
  add(FindingRecord{IntakeCheck::chips, true, 40.0, 0.15, ""});
  add(FindingRecord{IntakeCheck::recurve, true, 30.0, 0.3, ""});
  add(FindingRecord{IntakeCheck::corrosion, true, 80.0, {}, ""});
  add(FindingRecord{IntakeCheck::straightness, true, {}, 0.5, ""});
  auto order = works(session.trial(), blade);
  std::erase(order, BladeWork::thin);
  EXPECT_EQ(order, (std::vector{BladeWork::straighten, BladeWork::outline, BladeWork::chips,
                                BladeWork::spots, BladeWork::clean}));
  for (const auto& item : work_list(session.trial(), blade)) {
    if (item.work == BladeWork::outline || item.work == BladeWork::chips) {
      EXPECT_GT(item.metal_mm3.value_or(0), 0) << describe(item);
      EXPECT_TRUE(item.minutes) << describe(item);
    }
    if (item.work == BladeWork::spots) {
      EXPECT_NE(item.why.find(" µm)"), std::string::npos) << "with which stone: " << item.why;
    }
    if (item.work == BladeWork::chips) {
      EXPECT_NE(item.what.find("0.15 mm"), std::string::npos) << item.what;
    }
  }
  // Stones takes all of it up: the chip's depth, the straightening, the recurve.
  const auto input = first_input(session.trial(), blade);
  ASSERT_TRUE(input);
  EXPECT_DOUBLE_EQ(input->damage_um, 150);
  EXPECT_TRUE(input->straighten && input->recurve);
  const auto plan = ladder_for(session.trial(), blade, *input);
  ASSERT_TRUE(plan) << plan.refusal().reason;
  EXPECT_GE(plan->receded_um, 150 - 1e-6);
  Sharpening done = sharpening_for(session.trial(), blade, *input, *plan, DeburrBehaviour::ductile);
  for (auto& step : done.steps) step.done = true;
  const auto leaves =
      resulting_section(draft_ladder(session.trial(), blade)->state, input->wish, *plan);
  session.finish_sharpening(blade, done, "hand", leaves);
  order = works(session.trial(), blade);
  std::erase(order, BladeWork::thin);
  EXPECT_EQ(order, std::vector{BladeWork::clean}) << "rust is not ground off with the edge";
  // Undone as one act, all of it is open again.
  session.undo();
  EXPECT_GE(works(session.trial(), blade).size(), 5U);
}

TEST(WorkList, WhatWasNotDoneStaysOpen) {
  Blade blade;
  blade.records.push_back({0, "", FindingRecord{IntakeCheck::recurve, true, {}, 0.2, ""}});
  blade.records.push_back({0, "", FindingRecord{IntakeCheck::chips, true, {}, 0.1, ""}});
  Sharpening s;
  SharpeningStep grind;
  grind.done = true;
  s.steps = {grind};
  EXPECT_TRUE(findings_closed_by(blade, s, std::nullopt).empty())
      << "nobody mended the outline, nobody planned to the bottom of the chips";
  // A touch-up that was planned without the chip leaves it open; 0.1 mm deeper it is gone.
  SectionPlan plan;
  plan.stock_mm = 2;
  plan.height_mm = 20;
  Grind edge;
  edge.angle_deg = 10;
  edge.until = UntilApex{};
  plan.grinds = {edge};
  blade.records.push_back({0, "", SectionRecord{plan, ""}});
  SectionPlan deeper = plan;
  edge.until = UntilDepth{0.05};
  deeper.grinds.push_back(edge);
  EXPECT_TRUE(findings_closed_by(blade, s, deeper).empty());
  deeper.grinds.push_back(edge);
  const auto closed = findings_closed_by(blade, s, deeper);
  ASSERT_EQ(closed.size(), 1U);
  EXPECT_EQ(closed[0].check, IntakeCheck::chips);
  EXPECT_FALSE(closed[0].trouble);
}

// A burr is broken where its root is: above the angle of what was made last.
TEST(Route, IsFollowedAtTheAngleOfWhatWasMadeLast) {
  Trial trial;
  Abrasive grey, film;
  grey.name = "Grey";
  grey.measured_um = 15;
  grey.rate_mm3_per_min = 8;
  film.name = "Film";
  film.measured_um = 2;
  film.kind = AbrasiveKind::film;
  film.rate_mm3_per_min = 0.5;
  EdgeState state;
  state.section.stock_mm = 2;
  state.section.height_mm = 20;
  Grind primary, edge;
  primary.angle_deg = 3;
  primary.until = UntilThickness{0.4};
  edge.angle_deg = 15;
  edge.until = UntilApex{};
  state.section.grinds = {primary, edge};
  state.dull_um = 8;
  LadderWish wish;
  wish.edge = BevelAngles::symmetric(15);
  wish.micro = BevelAngles::symmetric(20);
  wish.finish_left_um = wish.finish_right_um = 15;
  const auto plan = plan_ladder(state, wish, {grey, film}, CuttingClass::plain);
  ASSERT_TRUE(plan) << plan.refusal().reason;
  for (const auto behaviour :
       {DeburrBehaviour::ductile, DeburrBehaviour::between, DeburrBehaviour::brittle}) {
    SharpeningOptions options;
    options.behaviour = behaviour;
    const Sharpening s = sharpening_from(*plan, {grey, film}, wish, options);
    const auto micro = std::find_if(s.steps.begin(), s.steps.end(), [](const auto& step) {
      return step.work == StepWork::micro_bevel;
    });
    ASSERT_NE(micro, s.steps.end());
    double steepest = 0;
    int after = 0;
    for (auto step = micro + 1; step != s.steps.end(); ++step, ++after) {
      EXPECT_GE(step->angles.left_deg, 20) << "below it no stroke reaches the apex";
      EXPECT_TRUE(step->work == StepWork::deburr || step->work == StepWork::strop);
      steepest = std::max(steepest, step->angles.left_deg);
      if (step->angles.left_deg > 20) {
        EXPECT_EQ(step->abrasive, "Film") << "a hard fine surface";
      }
    }
    EXPECT_EQ(s.steps.back().work, StepWork::strop) << "the clean-up comes last";
    EXPECT_GE(after, 2);
    EXPECT_EQ(steepest, behaviour == DeburrBehaviour::ductile ? 22 : 20) << name_of(behaviour);
    EXPECT_TRUE(order_remarks(s).empty()) << order_remarks(s).front();
  }
}

}  // namespace bq
