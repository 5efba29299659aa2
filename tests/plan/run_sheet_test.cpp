#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "plan/small_plan.h"

using namespace bq;
using namespace bq::test;

TEST(RunSheet, IsTheSameEverywhereAndAnotherWithAnotherSeed) {
  TrialPlan plan = small_plan();
  plan.blocks.by = BlockBy::medium_batch;
  plan.seed = 20299;
  const auto sheet = sheet_of(plan);
  std::string codes;
  for (const auto& run : sheet.runs) codes += run.code + (run.order % 12 ? " " : "\n");
  // Written down once; a change here would change sheets that are already on paper.
  EXPECT_EQ(codes,
            "XL3 XG7 PJ2 CN7 KN9 MM4 MR6 WF9 GK3 MV6 TC5 XP2\nFP7 TW7 JG9 WN2 ZM7 HL2 DS3 TF9 GS7 "
            "SK3 VW4 NS3\n");
  std::string order;
  for (const auto& run : sheet.runs)
    for (const int level : run.levels) order += char('0' + level);
  EXPECT_EQ(order.size(), 72u);
  EXPECT_EQ(order,
            "010020110000120121111001101011100021"
            "100020001010110120101011000021111121");
  plan.seed = 20300;
  EXPECT_NE(counted(sheet_of(plan)).size(), 0u);
  std::string other;
  for (const auto& run : sheet_of(plan).runs)
    for (const int level : run.levels) other += char('0' + level);
  EXPECT_NE(order, other);
}

TEST(RunSheet, HoldsWhatItPromisesForAnyPlan) {
  EXPECT_TRUE(rc::check("blocks, blades, codes, counts and extensions", [] {
    TrialPlan plan = small_plan();
    plan.seed = std::uint64_t(*rc::gen::inRange(0, 1000000));
    plan.design.replicates = *rc::gen::inRange(1, 4);
    plan.blocks.by = *rc::gen::element(BlockBy::none, BlockBy::day, BlockBy::medium_batch,
                                       BlockBy::by_operator, BlockBy::blade);
    plan.blocks.runs_each = *rc::gen::inRange(0, 9);
    plan.operators = {"operator A", "operator B"};
    const int regrinds = *rc::gen::inRange(8, 30);
    plan.blades = {{"F1", "Fenland Plain", regrinds},
                   {"F2", "Fenland Plain", regrinds},
                   {"M1", "Marl Tough", regrinds},
                   {"M2", "Marl Tough", regrinds},
                   {"M3", "Marl Tough", regrinds}};
    const auto design = design_plan(plan);
    RC_PRE(design.ok());
    const auto sheet = run_sheet(plan, *design);
    RC_ASSERT(sheet.ok());
    for (const auto& candidate : design->candidates)
      RC_ASSERT(counted(*sheet)[candidate.levels] == candidate.count);
    std::set<std::string> codes, blocks_done;
    std::map<std::string, int> uses, in_block;
    std::map<std::string, std::map<int, int>> angles;
    std::string block;
    for (std::size_t i = 0; i < sheet->runs.size(); ++i) {
      const auto& run = sheet->runs[i];
      RC_ASSERT(run.order == int(i) + 1);
      RC_ASSERT(codes.insert(run.code).second);
      RC_ASSERT(++uses[run.blade] <= regrinds + 1);
      RC_ASSERT((run.blade[0] == 'F') == (run.levels[0] == 0));
      if (plan.blocks.by == BlockBy::blade) RC_ASSERT(run.blade == run.block);
      if (plan.blocks.by == BlockBy::by_operator) RC_ASSERT(run.by_operator == run.block);
      // A block is run through before the next begins.
      if (run.block != block) RC_ASSERT(blocks_done.insert(run.block).second);
      block = run.block;
      ++in_block[block];
      ++angles[block][run.levels[1]];
    }
    if (plan.blocks.by == BlockBy::medium_batch && plan.blocks.runs_each > 0)
      for (const auto& [name, count] : in_block) RC_ASSERT(count <= plan.blocks.runs_each);
    if (plan.blocks.by == BlockBy::medium_batch && plan.blocks.runs_each == 0)
      for (const auto& [name, levels] : angles)
        for (const auto& [level, count] : levels)
          RC_ASSERT(count == 4);  // one whole replicate in each
    // More runs later leave every earlier line as it was.
    TrialPlan longer = plan;
    longer.extensions = {{*rc::gen::inRange(0, 6), 77}};
    const auto more = run_sheet(longer, *design);
    RC_PRE(more.ok());
    RC_ASSERT(more->runs.size() > sheet->runs.size());
    for (std::size_t i = 0; i < sheet->runs.size(); ++i) {
      RC_ASSERT(more->runs[i].code == sheet->runs[i].code);
      RC_ASSERT(more->runs[i].levels == sheet->runs[i].levels);
      RC_ASSERT(more->runs[i].blade == sheet->runs[i].blade);
      RC_ASSERT(more->runs[i].part == 0);
    }
  }));
}

TEST(RunSheet, SaysWhenABlockCannotBeToldFromAFactor) {
  TrialPlan plan;
  plan.factors = {{FactorKind::user, "hand", {word("left"), word("right")}, {}}};
  plan.design.replicates = 1;
  plan.blocks = {BlockBy::medium_batch, 1, {"old", "new"}};
  const auto sheet = sheet_of(plan);
  ASSERT_EQ(sheet.runs.size(), 2u);
  ASSERT_FALSE(sheet.confounded.empty());
  EXPECT_EQ(sheet.confounded.front().sentence,
            "What hand does cannot be told from what block does.");
}

TEST(Budget, AddsUpByHand) {
  TrialPlan plan;
  plan.factors = {{FactorKind::user, "hand", {word("left"), word("right")}, {}}};
  plan.design.replicates = 3;
  plan.blades = {{"Marl Tough 1", "", 2}, {"Marl Tough 2", "", 2}};
  plan.checkpoints.given = {0, 100, 300};
  plan.checkpoints.readings_each = 4;
  plan.rates = {20, 10, 6, 30, 2, 15, 20, 5, 4, 5, 10, "2026-11-27"};  // a Friday
  const auto sheet = sheet_of(plan);
  const auto b = budget_of(plan, sheet);
  EXPECT_EQ(b.cuts, 6 * 300);
  EXPECT_DOUBLE_EQ(b.medium_m, 1800 * 0.020 * 1.1);
  EXPECT_EQ(b.readings, 6 * 3 * 4);
  EXPECT_DOUBLE_EQ(b.cutting_min, 180);
  EXPECT_DOUBLE_EQ(b.reading_min, 36);
  EXPECT_DOUBLE_EQ(b.cleaning_min, 36);
  EXPECT_DOUBLE_EQ(b.sharpening_min, 90);
  EXPECT_EQ(b.sharpenings, 6);
  EXPECT_EQ(b.resharpenings, 4);
  EXPECT_DOUBLE_EQ(b.metal_mm3, 60);
  EXPECT_DOUBLE_EQ(run_minutes(plan), 57);
  // 30 minutes of cutting a run, a rest after every 20: 1.5 a run over a day of four runs.
  EXPECT_DOUBLE_EQ(b.resting_min,
                   5 * double(std::accumulate(sheet.runs.begin(), sheet.runs.end(), std::size_t(0),
                                              [](std::size_t n, const SheetRun& run) {
                                                return n + run.rest_after_cuts.size();
                                              })));
  EXPECT_GE(b.resting_min, 5 * 6);
  for (const auto& run : sheet.runs)
    EXPECT_LE(run.starts_at_min + run.minutes, 240 + 1e-9) << "nothing runs past the day";
  EXPECT_EQ(b.days, 2);
  EXPECT_EQ(b.finishes_on, "2026-11-30") << "not on Saturday";
  EXPECT_EQ(working_date("2026-11-28", 1, 5), "2026-11-30");
  EXPECT_EQ(working_date("2026-11-28", 1, 7), "2026-11-28");
  EXPECT_EQ(working_date("soon", 1, 5), "");
}

TEST(Checkpoints, RiseToTheirEndAndStandDenserWhereABurrMayFall) {
  CheckpointChoice choice;
  for (const std::int64_t last : {2, 7, 40, 400, 123456}) {
    choice.last = last;
    choice.burr_suspected = false;
    const auto plain = checkpoints_of(choice);
    EXPECT_EQ(plain.front(), 0);
    EXPECT_EQ(plain.back(), last);
    EXPECT_TRUE(std::adjacent_find(plain.begin(), plain.end(), std::greater_equal<>()) ==
                plain.end());
    choice.burr_suspected = true;
    const auto dense = checkpoints_of(choice);
    EXPECT_TRUE(std::includes(dense.begin(), dense.end(), plain.begin(), plain.end()));
    const auto early = [](const auto& list) {
      return std::count_if(list.begin(), list.end(),
                           [](std::int64_t c) { return c > 0 && c <= 15; });
    };
    EXPECT_TRUE(last < 20 || early(dense) > early(plain));
  }
}

TEST(PlannedRuns, CarryTheirFactsAndHideThemBehindCodes) {
  TrialPlan plan = small_plan();
  plan.held = {
      {"medium", word("latex foam 25 mm")}, {"cut_mode", word("push")}, {"edge_angle", 10.0}};
  plan.factors.push_back({FactorKind::user, "hand", {word("dry"), word("wet")}, {}});
  const auto sheet = sheet_of(plan);
  const auto runs = *planned_runs(plan, sheet, "P");
  ASSERT_EQ(runs.size(), sheet.runs.size());
  for (std::size_t i = 0; i < runs.size(); ++i) {
    EXPECT_EQ(runs[i].facts.name, sheet.runs[i].code);
    EXPECT_EQ(runs[i].facts.steel, sheet.runs[i].levels[0] ? "Marl Tough" : "Fenland Plain");
    EXPECT_EQ(runs[i].facts.geometry->apex().left_deg,
              (std::array{12.0, 15.0, 18.0})[std::size_t(sheet.runs[i].levels[1])]);
    EXPECT_EQ(runs[i].facts.geometry->edge().left_deg, 10);
    EXPECT_EQ(runs[i].facts.cut_mode, CutMode::push);
    EXPECT_EQ(print_factor_value(runs[i].facts.factors.at("hand")),
              sheet.runs[i].levels[3] ? "wet" : "dry");
    EXPECT_EQ(runs[i].plan.checkpoints, sheet.checkpoints);
  }
  plan.blind = false;
  EXPECT_EQ((*planned_runs(plan, sheet, "P"))[8].facts.name, "P09");
}

TEST(RunSheet, RestsComeInTimeAndDaysAreKept) {
  EXPECT_TRUE(rc::check("no longer cutting than agreed, no day longer than it is", [] {
    TrialPlan plan = small_plan();
    plan.seed = std::uint64_t(*rc::gen::inRange(0, 100000));
    plan.checkpoints.last = *rc::gen::inRange(20, 2000);
    plan.checkpoints.steps = *rc::gen::inRange(2, 12);
    plan.rates.seconds_per_cut = *rc::gen::inRange(1, 12);
    plan.rates.rest_after_minutes = *rc::gen::inRange(5, 60);
    plan.rates.rest_minutes = *rc::gen::inRange(0, 20);
    plan.rates.hours_a_day = *rc::gen::inRange(2, 10);
    plan.blocks.by = *rc::gen::element(BlockBy::none, BlockBy::day);
    plan.operators =
        *rc::gen::element(std::vector<std::string>{}, std::vector<std::string>{"A", "B"});
    const auto sheet = run_sheet(plan, *design_plan(plan));
    RC_ASSERT(sheet.ok());
    const double cut_min = plan.rates.seconds_per_cut / 60,
                 last = double(sheet->checkpoints.back());
    // Each person's own hands: cutting since the last rest, and when it ended.
    std::map<std::string, std::pair<double, double>> hands;
    double end_of_last = 0, total = 0;
    int day = 1;
    for (const auto& run : sheet->runs) {
      RC_ASSERT(run.day == day || run.day == day + 1);
      if (run.day != day) {
        hands.clear();
        end_of_last = 0;
      }
      day = run.day;
      auto& [since, until] = hands[run.by_operator];
      if (plan.rates.rest_minutes > 0 &&
          run.starts_at_min - until >= plan.rates.rest_minutes - 1e-9)
        since = 0;
      RC_ASSERT(std::fabs(run.starts_at_min - end_of_last) < 1e-9);
      std::int64_t from = 0;
      for (const auto at : run.rest_after_cuts) {
        RC_ASSERT(at > from || (at == from && from == 0));
        RC_ASSERT(since + double(at - from) * cut_min <=
                  plan.rates.rest_after_minutes + cut_min + 1e-9);
        since = 0;
        from = at;
      }
      since += (last - double(from)) * cut_min;
      RC_ASSERT(since <= plan.rates.rest_after_minutes + cut_min + 1e-9);
      RC_ASSERT(std::fabs(run.minutes - run_minutes(plan) -
                          double(run.rest_after_cuts.size()) * plan.rates.rest_minutes) < 1e-9);
      end_of_last = until = run.starts_at_min + run.minutes;
      // Only a run that is by itself longer than a day runs over it.
      RC_ASSERT(end_of_last <= plan.rates.hours_a_day * 60 + 1e-9 || run.starts_at_min == 0);
      total += run.minutes;
    }
    RC_ASSERT(std::fabs(budget_of(plan, *sheet).minutes() - total) < 1e-6 * total);
  }));
}

TEST(Extension, IsChosenToTellMostBesideWhatThereIs) {
  // Only low runs of a two-level factor exist in the base plan: the extension takes the high ones.
  TrialPlan plan = two_level_plan(2);
  plan.design = {DesignKind::full, 0, 2, {}};
  plan.extensions = {{2, 5}};
  const auto design = *design_plan(plan);
  const auto more = *extend_design(plan, design);
  ASSERT_EQ(more.size(), 1u);
  ASSERT_EQ(more[0].size(), 2u);
  EXPECT_NE(more[0][0], more[0][1]) << "two corners, not one twice";
  const auto sheet = *run_sheet(plan, design);
  EXPECT_EQ(sheet.runs.back().part, 1);
  EXPECT_EQ(sheet.runs.back().block, "extension 1");
  EXPECT_NE(sheet.notes.back().find("comes after"), std::string::npos);
  // One more replicate of all, on blades that have room for it and on blades that have not.
  plan.extensions = {{0, 5}};
  plan.blades = {{"M1", "", 5}, {"M2", "", 5}};
  EXPECT_EQ((*run_sheet(plan, design)).runs.size(), 12u);
  plan.blades[1].resharpenings = 4;
  EXPECT_NE(run_sheet(plan, design).refusal().reason.find("12 runs, but its blades allow 11"),
            std::string::npos);
}
