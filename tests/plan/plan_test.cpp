#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

#include "plan/plan_power.h"
#include "plan/run_sheet.h"
#include "stats/power.h"

using namespace bq;

namespace {

FactorValue word(const char* text) { return std::string(text); }

/// Two steels, three angles, two finishes.
TrialPlan small_plan() {
  TrialPlan plan;
  plan.factors = {{FactorKind::steel, "steel", {word("Fenland Plain"), word("Marl Tough")}, {}},
                  {FactorKind::apex_angle, "apex_angle", {12.0, 15.0, 18.0}, {}},
                  {FactorKind::finish, "finish_um", {1.0, 25.0}, {}}};
  plan.design.replicates = 2;
  return plan;
}

/// k factors of two levels each.
TrialPlan two_level_plan(int k) {
  TrialPlan plan;
  for (int i = 0; i < k; ++i) plan.factors.push_back({FactorKind::user, std::string(1, char('A' + i)), {word("low"), word("high")}, {}});
  return plan;
}

RunSheet sheet_of(const TrialPlan& plan) {
  const auto design = design_plan(plan);
  EXPECT_TRUE(design.ok()) << (design.ok() ? "" : design.refusal().reason);
  if (!design) return {};
  const auto sheet = run_sheet(plan, *design);
  EXPECT_TRUE(sheet.ok()) << (sheet.ok() ? "" : sheet.refusal().reason);
  return sheet ? *sheet : RunSheet{};
}

std::string refusal_of(const TrialPlan& plan) {
  const auto design = design_plan(plan);
  if (!design) return design.refusal().reason;
  const auto sheet = run_sheet(plan, *design);
  return sheet ? std::string() : sheet.refusal().reason;
}

std::map<Combination, int> counted(const RunSheet& sheet) {
  std::map<Combination, int> counts;
  for (const auto& run : sheet.runs) ++counts[run.levels];
  return counts;
}

}  // namespace

TEST(Plan, FullFactorialRunsEveryAllowedCombinationEquallyOften) {
  TrialPlan plan = small_plan();
  plan.only = {{{{"steel", word("Marl Tough")}}, "apex_angle", {15.0, 18.0}}};
  plan.durable = {{"", 12.5}};
  plan.exclusions = {{{{"steel", word("Fenland Plain")}, {"apex_angle", 18.0}, {"finish_um", 25.0}}, ""}};
  const auto design = *design_plan(plan);
  EXPECT_EQ(design.candidates.size(), 12u);
  EXPECT_EQ(design.runs, 2 * 7);
  std::set<std::string> reasons;
  for (const auto& candidate : design.candidates) {
    EXPECT_EQ(candidate.count, candidate.excluded.empty() ? 2 : 0);
    if (!candidate.excluded.empty()) reasons.insert(candidate.excluded);
  }
  EXPECT_TRUE(reasons.contains("below the durable limit of 12.5° per side"));
  EXPECT_TRUE(reasons.contains("taken out by hand"));
  EXPECT_EQ(why_excluded(plan, {1, 0, 0}).find("below"), 0u);
  EXPECT_EQ(counted(sheet_of(plan)).size(), 7u);
}

TEST(Plan, HalfOfAFourFactorPlanKeepsMainEffectsClearOfInteractions) {
  TrialPlan plan = two_level_plan(4);
  plan.design.kind = DesignKind::fraction;
  plan.design.runs = 8;
  const auto design = *design_plan(plan);
  EXPECT_EQ(design.runs, 8);
  EXPECT_NEAR(*design.d_efficiency_percent, 100, 1e-6) << "orthogonal";
  EXPECT_TRUE(design.balance.empty());
  for (const auto& c : design.confounded) EXPECT_NE(c.first.find(':'), std::string::npos) << c.sentence;
  // With the interaction asked for, its partner is named: that is the price of the half.
  plan.design.interactions = {{"A", "B"}};
  const auto asked = *design_plan(plan);
  EXPECT_TRUE(std::any_of(asked.confounded.begin(), asked.confounded.end(), [](const Confounding& c) { return c.first == "A:B" && c.share > kSameShare && c.second == "C:D"; }))
      << "told in words: " << (asked.confounded.empty() ? "" : asked.confounded.front().sentence);
  // A quarter of three factors cannot keep them clear, and says so.
  TrialPlan three = two_level_plan(3);
  three.design = {DesignKind::fraction, 4, 1, {}};
  const auto quarter = *design_plan(three);
  ASSERT_FALSE(quarter.confounded.empty());
  EXPECT_NE(quarter.confounded.front().sentence.find("cannot be told"), std::string::npos);
}

TEST(Plan, BestRunsUseTheBladesThereAre) {
  TrialPlan plan = small_plan();
  plan.design = {DesignKind::best, 9, 1, {}};
  plan.blades = {{"F1", "Fenland Plain", 1}, {"F2", "Fenland Plain", 0}, {"M1", "Marl Tough", 5}};
  const auto sheet = sheet_of(plan);
  std::map<std::string, int> uses;
  for (const auto& run : sheet.runs) {
    EXPECT_EQ(run.blade[0], run.levels[0] == 0 ? 'F' : 'M');
    EXPECT_EQ(run.blade_use, ++uses[run.blade]);
  }
  EXPECT_LE(uses["F1"], 2);
  EXPECT_LE(uses["F2"], 1);
  EXPECT_LE(uses["M1"], 6);
  EXPECT_EQ(sheet.runs.size(), 9u);
}

TEST(Plan, EveryBadValueIsASentence) {
  const auto with = [](auto change) {
    TrialPlan plan = small_plan();
    change(plan);
    return refusal_of(plan);
  };
  const auto says = [](const std::string& text, const char* part) { EXPECT_NE(text.find(part), std::string::npos) << "\"" << part << "\" not in: " << text; };
  says(with([](TrialPlan& p) { p.factors.clear(); }), "no factor");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0}; }), "only one level");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0, 12.0}; }), "twice");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0, 95.0}; }), "no level of apex_angle");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0, word("steep")}; }), "no level of apex_angle");
  says(with([](TrialPlan& p) { p.design.replicates = 0; }), "no replicates");
  says(with([](TrialPlan& p) { p.checkpoints.given = {0, 50, 20}; }), "must rise: 20 comes after 50");
  says(with([](TrialPlan& p) { p.checkpoints.readings_each = 0; }), "1 to 100 readings");
  says(with([](TrialPlan& p) { p.only = {{{{"steel", word("Fenland Plain")}}, "apex_angle", {}}, {{{"steel", word("Marl Tough")}}, "apex_angle", {}}}; }), "contradict");
  says(with([](TrialPlan& p) { p.durable = {{"", 40}}; }), "contradict");
  says(with([](TrialPlan& p) { p.exclusions = {{{{"steel", word("Cairn Hard")}}, ""}}; }), "not among its levels");
  says(with([](TrialPlan& p) { p.blades = {{"M1", "Marl Tough", 30}}; }), "Fenland Plain has 12 runs, but its blades allow 0");
  says(with([](TrialPlan& p) { p.blades = {{"M1", "Marl Tough", 3}, {"F1", "Fenland Plain", 20}}; }), "Marl Tough has 12 runs, but its blades allow 4");
  says(with([](TrialPlan& p) { p.blocks.by = BlockBy::by_operator; }), "two operators");
  says(with([](TrialPlan& p) { p.blocks.by = BlockBy::blade; }), "named blades");
  says(with([](TrialPlan& p) { p.truth.reading_sd = -1; }), "SDs");
  says(with([](TrialPlan& p) { p.question = PlanQuestion{"steel", word("Marl Tough"), word("Marl Tough")}; }), "with itself");
  says(with([](TrialPlan& p) { p.design = {DesignKind::best, 3, 1, {}}; }), "too few");
  says(with([](TrialPlan& p) { p.design = {DesignKind::fraction, 40, 1, {}}; }), "more than the 12");
  says(with([](TrialPlan& p) { p.held = {{"steel", word("Marl Tough")}}; }), "held as well");
  says(with([](TrialPlan& p) { p.extensions = {{5000, 1}}; }), "2,000");
}

TEST(Plan, AHundredThousandCandidatesAreChosenFromAndMoreAreRefused) {
  TrialPlan plan;
  for (int f = 0; f < 5; ++f) {
    PlanFactor factor{FactorKind::user, "factor " + std::to_string(f), {}, {}};
    for (int l = 0; l < 10; ++l) factor.levels.emplace_back(double(l));
    plan.factors.push_back(factor);
  }
  ASSERT_EQ(combination_count(plan), 100000);
  EXPECT_NE(refusal_of(plan).find("choose the best"), std::string::npos) << "not all of them on a bench";
  plan.design = {DesignKind::best, 12, 1, {}};
  const auto design = design_plan(plan);
  ASSERT_TRUE(design.ok());
  EXPECT_EQ(design->runs, 12);
  // Straight lines are best told from the ends.
  for (const auto& candidate : design->candidates)
    if (candidate.count)
      for (const int level : candidate.levels) EXPECT_TRUE(level == 0 || level == 9);
  std::stop_source stop;
  stop.request_stop();
  stats::Work work;
  work.stop = stop.get_token();
  EXPECT_NE(design_plan(plan, work).refusal().reason.find("stopped"), std::string::npos);
  plan.factors.push_back({FactorKind::user, "one more", {1.0, 2.0, 3.0}, {}});
  EXPECT_NE(refusal_of(plan).find("300000 combinations"), std::string::npos);
}

TEST(RunSheet, IsTheSameEverywhereAndAnotherWithAnotherSeed) {
  TrialPlan plan = small_plan();
  plan.blocks.by = BlockBy::medium_batch;
  plan.seed = 20299;
  const auto sheet = sheet_of(plan);
  std::string codes;
  for (const auto& run : sheet.runs) codes += run.code + (run.order % 12 ? " " : "\n");
  // Written down once; a change here would change sheets that are already on paper.
  EXPECT_EQ(codes, "XL3 XG7 PJ2 CN7 KN9 MM4 MR6 WF9 GK3 MV6 TC5 XP2\nFP7 TW7 JG9 WN2 ZM7 HL2 DS3 TF9 GS7 SK3 VW4 NS3\n");
  std::string order;
  for (const auto& run : sheet.runs)
    for (const int level : run.levels) order += char('0' + level);
  EXPECT_EQ(order.size(), 72u);
  EXPECT_EQ(order, "010020110000120121111001101011100021" "100020001010110120101011000021111121");
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
    plan.blocks.by = *rc::gen::element(BlockBy::none, BlockBy::day, BlockBy::medium_batch, BlockBy::by_operator, BlockBy::blade);
    plan.blocks.runs_each = *rc::gen::inRange(0, 9);
    plan.operators = {"operator A", "operator B"};
    const int regrinds = *rc::gen::inRange(8, 30);
    plan.blades = {{"F1", "Fenland Plain", regrinds}, {"F2", "Fenland Plain", regrinds}, {"M1", "Marl Tough", regrinds}, {"M2", "Marl Tough", regrinds}, {"M3", "Marl Tough", regrinds}};
    const auto design = design_plan(plan);
    RC_PRE(design.ok());
    const auto sheet = run_sheet(plan, *design);
    RC_ASSERT(sheet.ok());
    for (const auto& candidate : design->candidates) RC_ASSERT(counted(*sheet)[candidate.levels] == candidate.count);
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
        for (const auto& [level, count] : levels) RC_ASSERT(count == 4);  // one whole replicate in each
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
  EXPECT_EQ(sheet.confounded.front().sentence, "What hand does cannot be told from what block does.");
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
  EXPECT_DOUBLE_EQ(b.resting_min, 5 * double(std::accumulate(sheet.runs.begin(), sheet.runs.end(), std::size_t(0),
                                                              [](std::size_t n, const SheetRun& run) { return n + run.rest_after_cuts.size(); })));
  EXPECT_GE(b.resting_min, 5 * 6);
  for (const auto& run : sheet.runs) EXPECT_LE(run.starts_at_min + run.minutes, 240 + 1e-9) << "nothing runs past the day";
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
    EXPECT_TRUE(std::adjacent_find(plain.begin(), plain.end(), std::greater_equal<>()) == plain.end());
    choice.burr_suspected = true;
    const auto dense = checkpoints_of(choice);
    EXPECT_TRUE(std::includes(dense.begin(), dense.end(), plain.begin(), plain.end()));
    const auto early = [](const auto& list) { return std::count_if(list.begin(), list.end(), [](std::int64_t c) { return c > 0 && c <= 15; }); };
    EXPECT_TRUE(last < 20 || early(dense) > early(plain));
  }
}

TEST(PlanPower, OfTwoGroupsIsTheTextbooks) {
  for (const int replicates : {2, 5, 12}) {
    TrialPlan plan;
    plan.factors = {{FactorKind::steel, "steel", {word("A"), word("B")}, {}}};
    plan.design.replicates = replicates;
    const auto sheet = sheet_of(plan);
    for (const double ratio : {1.1, 1.4, 0.6}) {
      const auto power = plan_power(plan, sheet, 0.2, ratio);
      ASSERT_TRUE(power.ok());
      EXPECT_NEAR(power->power, *stats::two_group_power(replicates, 0.2, ratio, 0.95), 1e-9);
      EXPECT_NEAR(power_at(*power, {power->smallest_ratio}, 0.95)[0], 0.8, 1e-6);
    }
  }
  EXPECT_FALSE(plan_power(small_plan(), sheet_of(small_plan()), 0, 1.2).ok());
}

TEST(PlanPower, SameBladeBlocksAreAPairedTest) {
  TrialPlan plan;
  plan.factors = {{FactorKind::finishing_step, "finishing_step", {word("none"), word("strop")}, {}}};
  plan.held = {{"steel", word("Marl Tough")}};
  plan.design.replicates = 6;
  plan.blocks.by = BlockBy::blade;
  for (int i = 1; i <= 6; ++i) plan.blades.push_back({"M" + std::to_string(i), "Marl Tough", 1});
  const auto sheet = sheet_of(plan);
  std::map<std::string, std::set<int>> on_blade;
  for (const auto& run : sheet.runs) on_blade[run.blade].insert(run.levels[0]);
  for (const auto& [blade, levels] : on_blade) EXPECT_EQ(levels.size(), 2u) << blade << " gets both";
  const auto power = plan_power(plan, sheet, 0.1, 1.2);
  // The SD of a difference of two runs is √2 that of one.
  EXPECT_NEAR(power->power, *stats::paired_power(6, 0.1 * std::sqrt(2.0), 1.2, 0.95), 1e-9);
}

TEST(PlanPower, OfAllLevelsIsTheTextbooksAnalysisOfVariance) {
  // Four groups of five, between-group variance 1, within 3: 0.3535594 (R's own example).
  TrialPlan plan;
  plan.factors = {{FactorKind::user, "route", {word("a"), word("b"), word("c"), word("d")}, {}}};
  plan.design.replicates = 5;
  const auto sheet = sheet_of(plan);
  const std::array means{0.0, 1.0, 2.0, 3.0};
  double variance = 0;
  for (const double m : means) variance += (m - 1.5) * (m - 1.5) / 3;
  const double scale = 1 / std::sqrt(variance);
  EXPECT_NEAR(*factor_power(plan, sheet, std::sqrt(3.0), {means[1] * scale, means[2] * scale, means[3] * scale}), 0.3535594238, 1e-8);
  EXPECT_NEAR(*factor_power(plan, sheet, 1, {0, 0, 0}), 0.05, 1e-12);
  EXPECT_FALSE(factor_power(plan, sheet, 1, {0, 0}).ok());
}

TEST(NextBestRun, ShrinksTheIntervalAsSaidAndNoOtherShrinksItMore) {
  TrialPlan plan = small_plan();
  plan.design.interactions = {{"steel", "apex_angle"}};
  plan.question = PlanQuestion{"finish_um", 1.0, 25.0};
  plan.exclusions = {{{{"steel", word("Marl Tough")}, {"apex_angle", 12.0}}, ""}};
  plan.design.interactions.clear();
  const auto design = *design_plan(plan);
  const auto sheet = *run_sheet(plan, design);
  const auto next = *next_best_runs(plan, design, sheet, 100);
  EXPECT_EQ(next.size(), 10u) << "every allowed combination, no excluded one";
  const auto width = [&](const RunSheet& s) {
    const auto model = *model_of_sheet(plan, s);
    return std::sqrt(model.unscaled_variance(*contrast_row(model, contrast_question(plan, s).contrast)));
  };
  const double before = width(sheet);
  for (const auto& run : next) {
    RunSheet longer = sheet;
    SheetRun more = longer.runs.back();
    more.levels = run.levels;
    more.code = "ONE";
    longer.runs.push_back(more);
    EXPECT_NEAR(width(longer) / before, run.interval_shrinks_to, 1e-9);
    EXPECT_GE(run.interval_shrinks_to, next.front().interval_shrinks_to - 1e-9);
  }
}

TEST(PlannedRuns, CarryTheirFactsAndHideThemBehindCodes) {
  TrialPlan plan = small_plan();
  plan.held = {{"medium", word("latex foam 25 mm")}, {"cut_mode", word("push")}, {"edge_angle", 10.0}};
  plan.factors.push_back({FactorKind::user, "hand", {word("dry"), word("wet")}, {}});
  const auto sheet = sheet_of(plan);
  const auto runs = *planned_runs(plan, sheet, "P");
  ASSERT_EQ(runs.size(), sheet.runs.size());
  for (std::size_t i = 0; i < runs.size(); ++i) {
    EXPECT_EQ(runs[i].facts.name, sheet.runs[i].code);
    EXPECT_EQ(runs[i].facts.steel, sheet.runs[i].levels[0] ? "Marl Tough" : "Fenland Plain");
    EXPECT_EQ(runs[i].facts.geometry->apex().left_deg, (std::array{12.0, 15.0, 18.0})[std::size_t(sheet.runs[i].levels[1])]);
    EXPECT_EQ(runs[i].facts.geometry->edge().left_deg, 10);
    EXPECT_EQ(runs[i].facts.cut_mode, CutMode::push);
    EXPECT_EQ(print_factor_value(runs[i].facts.factors.at("hand")), sheet.runs[i].levels[3] ? "wet" : "dry");
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
    const auto sheet = run_sheet(plan, *design_plan(plan));
    RC_ASSERT(sheet.ok());
    const double cut_min = plan.rates.seconds_per_cut / 60, last = double(sheet->checkpoints.back());
    double since = 0, end_of_last = 0, total = 0;
    int day = 1;
    for (const auto& run : sheet->runs) {
      RC_ASSERT(run.day == day || run.day == day + 1);
      if (run.day != day) since = end_of_last = 0;
      day = run.day;
      RC_ASSERT(std::fabs(run.starts_at_min - end_of_last) < 1e-9);
      std::int64_t from = 0;
      for (const auto at : run.rest_after_cuts) {
        RC_ASSERT(at > from || (at == from && from == 0));
        RC_ASSERT(since + double(at - from) * cut_min <= plan.rates.rest_after_minutes + cut_min + 1e-9);
        since = 0;
        from = at;
      }
      since += (last - double(from)) * cut_min;
      RC_ASSERT(since <= plan.rates.rest_after_minutes + cut_min + 1e-9);
      RC_ASSERT(std::fabs(run.minutes - run_minutes(plan) - double(run.rest_after_cuts.size()) * plan.rates.rest_minutes) < 1e-9);
      end_of_last = run.starts_at_min + run.minutes;
      // Only a run that is by itself longer than a day runs over it.
      RC_ASSERT(end_of_last <= plan.rates.hours_a_day * 60 + 1e-9 || run.starts_at_min == 0);
      total += run.minutes;
    }
    RC_ASSERT(std::fabs(budget_of(plan, *sheet).minutes() - total) < 1e-6 * total);
  }));
}

TEST(PlanDesign, MixedTermsAreFoundExactlyWhereColumnsCoincide) {
  EXPECT_TRUE(rc::check("told apart where the columns are", [] {
    // Some runs of a 2³ plan: two factors cannot be told apart exactly where they agree (or disagree) in every run.
    TrialPlan plan = two_level_plan(3);
    const auto picked = *rc::gen::unique<std::vector<int>>(4, rc::gen::inRange(0, 8));
    std::vector<Combination> runs;
    for (const int index : picked) runs.push_back(combination_at(plan, index));
    const auto found = confounding_of(plan, runs, {});
    for (int a = 0; a < 3; ++a)
      for (int b = a + 1; b < 3; ++b) {
        int same = 0;
        bool varies_a = false, varies_b = false;
        for (const auto& run : runs) {
          same += run[std::size_t(a)] == run[std::size_t(b)];
          varies_a |= run[std::size_t(a)] != runs[0][std::size_t(a)];
          varies_b |= run[std::size_t(b)] != runs[0][std::size_t(b)];
        }
        const bool coincide = varies_a && varies_b && (same == 0 || same == 4);
        const bool said = std::any_of(found.begin(), found.end(), [&](const Confounding& c) {
          return c.first == plan.factors[std::size_t(a)].name && c.second == plan.factors[std::size_t(b)].name && c.share >= kSameShare;
        });
        RC_ASSERT(said == coincide);
      }
  }));
}

TEST(PlanDesign, TheEfficiencyIsThatOfTheDeterminants) {
  TrialPlan plan = small_plan();
  plan.design.replicates = 3;
  EXPECT_NEAR(*design_plan(plan)->d_efficiency_percent, 100, 1e-9) << "all combinations alike are their own measure";
  // Three angles in a straight line: leaving the middle out tells more a run.
  plan.exclusions = {};
  plan.design = {DesignKind::best, 8, 1, {}};
  const auto design = *design_plan(plan);
  EXPECT_GT(*design.d_efficiency_percent, 104);
  for (const auto& candidate : design.candidates)
    if (candidate.levels[1] == 1) EXPECT_EQ(candidate.count, 0) << "the middle angle tells nothing of a slope";
  EXPECT_TRUE(std::any_of(design.warnings.begin(), design.warnings.end(), [](const std::string& w) { return w.find("never run") != std::string::npos; })) << "and that is said";
  // With an interaction and few runs the spread cannot be judged, which is said too.
  TrialPlan tight = two_level_plan(2);
  tight.design = {DesignKind::full, 0, 1, {{"A", "B"}}};
  const auto saturated = *design_plan(tight);
  EXPECT_EQ(saturated.coefficients, 4);
  EXPECT_NE(saturated.warnings.front().find("nothing to judge the spread by"), std::string::npos);
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
  EXPECT_NE(run_sheet(plan, design).refusal().reason.find("12 runs, but its blades allow 11"), std::string::npos);
}
