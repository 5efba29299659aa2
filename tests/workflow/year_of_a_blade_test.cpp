// Twelve months of one blade: twenty sharpenings, chips and bends in between, thinned when it is
// told to. Whatever the year brings, the record, the section, the work list and the shelf agree.
#include <gtest/gtest.h>

#include "edge/resharpening.h"
#include "edge/section_outcomes.h"
#include "support.h"
#include "workflow/ladder_draft.h"
#include "workflow/project_session.h"
#include "workflow/thinning_study.h"
#include "workflow/work_list.h"

namespace bq {
namespace {

/// Says a burr at every place, one size smaller after each abrasive, and does all the steps.
Sharpening carried_out(Sharpening s) {
  while (const auto tap = next_tap(s)) {
    const auto next = tap->mark ? with_mark(s, *tap->mark, expected_burr(s, tap->step, *tap->mark))
                                : with_step_done(s, 60);
    if (!next) throw std::runtime_error(next.refusal().reason);
    s = *next;
    const auto step = current_step(s);
    if (step) {
      EXPECT_TRUE(burr_remarks(s, *step).empty()) << burr_remarks(s, *step).front();
    }
  }
  return s;
}

bool has(const Trial& trial, std::size_t blade, BladeWork work) {
  for (const auto& item : work_list(trial, blade))
    if (item.work == work) return true;
  return false;
}

double behind_mm(const SectionPlan& plan) {
  const auto section = make_section(plan);
  return *behind_edge(*section, plan.grinds)->thickness_mm;
}

}  // namespace

TEST(YearOfABlade, TwentySharpeningsStayConsistent) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(test::demo_project(folder));
  std::size_t blade = 0;
  while (!draft_ladder(session.trial(), blade)) ++blade;
  const std::size_t records = session.trial().blades[blade].records.size();
  const auto now = [&] { return edge_now(session.trial().blades[blade]); };
  const double length = now().edge_mm();
  SectionPlan before = *now().section;
  double metal = 0, told = 0;
  int thinned = 0, chipped = 0;
  const auto start_area = make_section(before)->area_mm2();
  for (int month = 0; month < 20; ++month) {
    if (month % 4 == 1) {
      ++chipped;
      session.add_records(blade, {FindingRecord{IntakeCheck::chips, true, 40.0, 0.4, ""}},
                          "a chip");
    }
    if (month % 7 == 3)
      session.add_records(blade,
                          {FindingRecord{IntakeCheck::straightness, true, {}, 0.4, ""},
                           SpotRecord{SpotKind::hangs, {}, 60, 0, false, ""}},
                          "a bend");
    if (has(session.trial(), blade, BladeWork::thin)) {
      // It says so before anything else that grinds, and thinning it as told ends it.
      ThinningQuestion question;
      question.wish.behind_edge_mm = 0.3;
      const auto ways =
          thinning_of(session.trial(), blade, *make_section(before), before.grinds, question);
      ASSERT_TRUE(ways) << month << ": " << ways.refusal().reason;
      ASSERT_TRUE(ways->front().option.why_not.empty()) << ways->front().sentence;
      SectionPlan thin = before;
      thin.grinds.push_back(ways->front().option.grind);
      const auto section = make_section(thin);
      ASSERT_TRUE(section) << section.refusal().reason;
      told += ways->front().metal_mm3;
      metal += (make_section(before)->area_mm2() - section->area_mm2()) * length;
      session.add_records(blade, {SectionRecord{thin, "thinned"}}, "thinned");
      EXPECT_FALSE(has(session.trial(), blade, BladeWork::thin)) << "month " << month;
      before = thin;
      ++thinned;
    }
    auto input = first_input(session.trial(), blade);
    ASSERT_TRUE(input);
    input->dull_um = 8 + month % 3;
    if (month % 4 == 1) {
      EXPECT_DOUBLE_EQ(input->damage_um, 400);
    } else {
      EXPECT_EQ(input->damage_um, 0) << "month " << month << ": no chip is mended twice";
    }
    const auto plan = ladder_for(session.trial(), blade, *input);
    ASSERT_TRUE(plan) << "month " << month << ": " << plan.refusal().reason;
    auto state = draft_ladder(session.trial(), blade)->state;
    state.dull_um = input->dull_um;
    state.damage_um = input->damage_um;
    const auto leaves = resulting_section(state, input->wish, *plan);
    ASSERT_TRUE(leaves) << "month " << month;
    const Sharpening done = carried_out(
        sharpening_for(session.trial(), blade, *input, *plan, DeburrBehaviour::ductile));
    EXPECT_TRUE(order_remarks(done).empty());
    session.finish_sharpening(blade, done, "hand", leaves);
    const EdgeNow edge = now();
    ASSERT_TRUE(edge.section);
    const auto was = make_section(before), is = make_section(*edge.section);
    ASSERT_TRUE(is);
    EXPECT_GT(is->apex_mm(), was->apex_mm() - 1e-9) << "no sharpening puts metal on";
    EXPECT_NEAR(is->apex_angles().left_deg, input->wish.micro.value_or(input->wish.edge).left_deg,
                1e-6);
    metal += (was->area_mm2() - is->area_mm2()) * length;
    told += plan->metal_mm3;
    EXPECT_GT(behind_mm(*edge.section), behind_mm(before) - 1e-6)
        << "an edge gets thicker behind it from sharpening to sharpening";
    for (const auto work : {BladeWork::straighten, BladeWork::chips, BladeWork::spots})
      EXPECT_FALSE(has(session.trial(), blade, work))
          << "month " << month << ": still to do what was done: " << name_of(work);
    before = *edge.section;
  }
  EXPECT_EQ(chipped, 5);
  EXPECT_GE(thinned, 1) << "five chips of 0.4 mm make this edge thick";
  EXPECT_NEAR(metal, (start_area - make_section(before)->area_mm2()) * length, 1e-6 * metal);
  // The plans told the metal that went, but for what the apex had worn off by itself.
  EXPECT_NEAR(told, metal, 0.02 * metal);
  // All of it is in the file, and every sharpening is undone as one act.
  const std::size_t at_end = session.trial().blades[blade].records.size();
  EXPECT_GT(at_end, records + 40);
  const auto sharpened = [&] {
    int count = 0;
    for (const auto& record : session.trial().blades[blade].records)
      count += std::holds_alternative<SharpeningRecord>(record.data);
    return count;
  };
  const int sharpenings = sharpened();
  session.undo();
  EXPECT_EQ(sharpened(), sharpenings - 1);
  session.redo();
  EXPECT_EQ(session.trial().blades[blade].records.size(), at_end);
}

}  // namespace bq
