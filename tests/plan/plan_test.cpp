#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <array>
#include <cmath>
#include <map>
#include <set>

#include "plan/plan_power.h"
#include "plan/small_plan.h"
#include "stats/power.h"

using namespace bq;
using namespace bq::test;

TEST(Plan, FullFactorialRunsEveryAllowedCombinationEquallyOften) {
  TrialPlan plan = small_plan();
  plan.only = {{{{"steel", word("Marl Tough")}}, "apex_angle", {15.0, 18.0}}};
  plan.durable = {{"", 12.5}};
  plan.exclusions = {
      {{{"steel", word("Fenland Plain")}, {"apex_angle", 18.0}, {"finish_um", 25.0}}, ""}};
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
  for (const auto& c : design.confounded)
    EXPECT_NE(c.first.find(':'), std::string::npos) << c.sentence;
  // With the interaction asked for, its partner is named: that is the price of the half.
  plan.design.interactions = {{"A", "B"}};
  const auto asked = *design_plan(plan);
  EXPECT_TRUE(std::any_of(asked.confounded.begin(), asked.confounded.end(),
                          [](const Confounding& c) {
                            return c.first == "A:B" && c.share > kSameShare && c.second == "C:D";
                          }))
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
  const auto says = [](const std::string& text, const char* part) {
    EXPECT_NE(text.find(part), std::string::npos) << "\"" << part << "\" not in: " << text;
  };
  says(with([](TrialPlan& p) { p.factors.clear(); }), "no factor");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0}; }), "only one level");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0, 12.0}; }), "twice");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0, 95.0}; }), "no level of apex_angle");
  says(with([](TrialPlan& p) { p.factors[1].levels = {12.0, word("steep")}; }),
       "no level of apex_angle");
  says(with([](TrialPlan& p) { p.design.replicates = 0; }), "no replicates");
  says(with([](TrialPlan& p) { p.checkpoints.given = {0, 50, 20}; }),
       "must rise: 20 comes after 50");
  says(with([](TrialPlan& p) { p.checkpoints.readings_each = 0; }),
       "readings at each: must lie between 1 and 100");
  says(with([](TrialPlan& p) {
         p.only = {{{{"steel", word("Fenland Plain")}}, "apex_angle", {}},
                   {{{"steel", word("Marl Tough")}}, "apex_angle", {}}};
       }),
       "contradict");
  says(with([](TrialPlan& p) { p.durable = {{"", 40}}; }), "contradict");
  says(with([](TrialPlan& p) { p.exclusions = {{{{"steel", word("Cairn Hard")}}, ""}}; }),
       "not among its levels");
  says(with([](TrialPlan& p) { p.blades = {{"M1", "Marl Tough", 30}}; }),
       "Fenland Plain has 12 runs, but its blades allow 0");
  says(
      with([](TrialPlan& p) { p.blades = {{"M1", "Marl Tough", 3}, {"F1", "Fenland Plain", 20}}; }),
      "Marl Tough has 12 runs, but its blades allow 4");
  says(with([](TrialPlan& p) { p.blocks.by = BlockBy::by_operator; }), "two operators");
  says(with([](TrialPlan& p) { p.blocks.by = BlockBy::blade; }), "named blades");
  says(with([](TrialPlan& p) { p.truth.reading_sd = -1; }),
       "spread of a reading: must lie between 0 and 3 (SD of ln");
  says(with([](TrialPlan& p) { p.rates.hours_a_day = std::nan(""); }), "0.25 and 24 h");
  says(with([](TrialPlan& p) {
         p.question = PlanQuestion{"steel", word("Marl Tough"), word("Marl Tough")};
       }),
       "with itself");
  says(with([](TrialPlan& p) { p.design = {DesignKind::best, 3, 1, {}}; }), "too few");
  says(with([](TrialPlan& p) { p.design = {DesignKind::fraction, 40, 1, {}}; }),
       "more than the 12");
  says(with([](TrialPlan& p) { p.held = {{"steel", word("Marl Tough")}}; }), "held as well");
  says(with([](TrialPlan& p) { p.extensions = {{5000, 1}}; }), "2000");
}

TEST(Plan, AHundredThousandCandidatesAreChosenFromAndMoreAreRefused) {
  TrialPlan plan;
  for (int f = 0; f < 5; ++f) {
    PlanFactor factor{FactorKind::user, "factor " + std::to_string(f), {}, {}};
    for (int l = 0; l < 10; ++l) factor.levels.emplace_back(double(l));
    plan.factors.push_back(factor);
  }
  ASSERT_EQ(combination_count(plan), 100000);
  EXPECT_NE(refusal_of(plan).find("choose the best"), std::string::npos)
      << "not all of them on a bench";
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
  plan.factors = {
      {FactorKind::finishing_step, "finishing_step", {word("none"), word("strop")}, {}}};
  plan.held = {{"steel", word("Marl Tough")}};
  plan.design.replicates = 6;
  plan.blocks.by = BlockBy::blade;
  for (int i = 1; i <= 6; ++i) plan.blades.push_back({"M" + std::to_string(i), "Marl Tough", 1});
  const auto sheet = sheet_of(plan);
  std::map<std::string, std::set<int>> on_blade;
  for (const auto& run : sheet.runs) on_blade[run.blade].insert(run.levels[0]);
  for (const auto& [blade, levels] : on_blade)
    EXPECT_EQ(levels.size(), 2u) << blade << " gets both";
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
  EXPECT_NEAR(*factor_power(plan, sheet, std::sqrt(3.0),
                            {means[1] * scale, means[2] * scale, means[3] * scale}),
              0.3535594238, 1e-8);
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
    return std::sqrt(
        model.unscaled_variance(*contrast_row(model, contrast_question(plan, s).contrast)));
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

TEST(PlanDesign, MixedTermsAreFoundExactlyWhereColumnsCoincide) {
  EXPECT_TRUE(rc::check("told apart where the columns are", [] {
    // Some runs of a 2³ plan: two factors cannot be told apart exactly where they agree (or
    // disagree) in every run.
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
          return c.first == plan.factors[std::size_t(a)].name &&
                 c.second == plan.factors[std::size_t(b)].name && c.share >= kSameShare;
        });
        RC_ASSERT(said == coincide);
      }
  }));
}

TEST(PlanDesign, TheEfficiencyIsThatOfTheDeterminants) {
  TrialPlan plan = small_plan();
  plan.design.replicates = 3;
  EXPECT_NEAR(*design_plan(plan)->d_efficiency_percent, 100, 1e-9)
      << "all combinations alike are their own measure";
  // Three angles in a straight line: leaving the middle out tells more a run.
  plan.exclusions = {};
  plan.design = {DesignKind::best, 8, 1, {}};
  const auto design = *design_plan(plan);
  EXPECT_GT(*design.d_efficiency_percent, 104);
  for (const auto& candidate : design.candidates)
    if (candidate.levels[1] == 1)
      EXPECT_EQ(candidate.count, 0) << "the middle angle tells nothing of a slope";
  EXPECT_TRUE(std::any_of(design.warnings.begin(), design.warnings.end(), [](const std::string& w) {
    return w.find("never run") != std::string::npos;
  })) << "and that is said";
  // With an interaction and few runs the spread cannot be judged, which is said too.
  TrialPlan tight = two_level_plan(2);
  tight.design = {DesignKind::full, 0, 1, {{"A", "B"}}};
  const auto saturated = *design_plan(tight);
  EXPECT_EQ(saturated.coefficients, 4);
  EXPECT_NE(saturated.warnings.front().find("nothing to judge the spread by"), std::string::npos);
}
