#include <gtest/gtest.h>

#include <atomic>
#include <cmath>
#include <cstdlib>
#include <sstream>

#include "rehearsal/plan_rehearsal.h"
#include "rehearsal/plan_world.h"
#include "rehearsal/virtual_bench.h"
#include "store/readings_export.h"

using namespace bq;

namespace {

FactorValue named_level(const char* text) { return std::string(text); }

/// Two steels, `replicates` runs each, long enough that nothing is censored, read without error: ln
/// life is normal.
TrialPlan clean_plan(int replicates, double ratio, double run_sd) {
  TrialPlan plan;
  plan.factors = {{FactorKind::steel,
                   "steel",
                   {named_level("Fenland Plain"), named_level("Marl Tough")},
                   {1, ratio}}};
  plan.design.replicates = replicates;
  plan.truth = {150, 200, run_sd, 0, 0, 0, 0, 100, 1e9};
  plan.unit = Unit::N;  // resolution a thousandth of the fresh reading
  plan.truth.fresh_reading = 1.5;
  plan.threshold = "4.5 N";
  plan.checkpoints.given = {0, 10, 25, 60, 120, 200, 300, 500, 900};
  return plan;
}

RunSheet designed_sheet(const TrialPlan& plan) { return *run_sheet(plan, *design_plan(plan)); }

Rehearsal rehearsed(const TrialPlan& plan, long plays, unsigned workers = 2,
                    const std::vector<PlayOutcome>& before = {}) {
  RehearsalOptions options;
  options.plays = plays;
  stats::Work work;
  work.workers = workers;
  const auto result = rehearse(plan, designed_sheet(plan), options, work, before);
  EXPECT_TRUE(result.ok()) << (result.ok() ? "" : result.refusal().reason);
  return result ? *result : Rehearsal{};
}

}  // namespace

TEST(PlanWorld, TheFirstLevelsHaveTheStatedReadingAndLife) {
  TrialPlan plan;
  plan.factors = {{FactorKind::apex_angle, "apex_angle", {12.0, 18.0}, {}},
                  {FactorKind::finish, "finish_um", {6.0, 25.0}, {}},
                  {FactorKind::user, "hand", {named_level("dry"), named_level("wet")}, {1, 0.5}}};
  plan.held = {{"medium", named_level("rubberised coir mat 8 mm")},
               {"cut_mode", named_level("push")}};
  plan.truth.fresh_reading = 140;
  plan.truth.life = 333;
  for (const char* threshold : {"3x", "500 gf", "500"}) {
    plan.threshold = threshold;
    const auto recipe = *recipe_of(plan, designed_sheet(plan));
    for (const auto& run : recipe.runs) {
      if (run.facts.geometry->apex().left_deg != 12 || run.facts.finish->left_um != 6 ||
          run.wear_scale != 1)
        continue;
      const VirtualBlade blade = blade_of(recipe, run, 1);
      EXPECT_NEAR(blade.reading_gf(0), 140, 1e-9);
      EXPECT_NEAR(*blade.true_life(threshold[0] == '3' ? 420 : 500, 1e4), 333, 1e-5);
    }
  }
  // Half the life: close to it, since teeth go by cuts; and exactly after the correction.
  plan.question = PlanQuestion{"hand", named_level("dry"), named_level("wet")};
  EXPECT_NEAR(*true_ratio_of(plan), 0.5, 0.05);
  for (const double ratio : {0.5, 1.0, 1.7})
    EXPECT_NEAR(*true_ratio_of(*with_true_ratio(plan, ratio)), ratio, 1e-6);
  plan.question = PlanQuestion{"apex_angle", 18.0, 12.0};
  EXPECT_GT(*true_ratio_of(plan), 1.2) << "the geometry alone makes the lower angle last";
  EXPECT_NEAR(*true_ratio_of(*with_true_ratio(plan, 1.1)), 1.1, 1e-6);
  plan.truth.fresh_reading = 600;
  plan.threshold = "500 gf";
  EXPECT_NE(recipe_of(plan, designed_sheet(plan)).refusal().reason.find("dull from the start"),
            std::string::npos);
  plan.threshold = "soon";
  EXPECT_FALSE(recipe_of(plan, designed_sheet(plan)).ok());
}

TEST(PlanWorld, TheLongestRunLetsNineteenOfTwentyReachTheThreshold) {
  TrialPlan plan = clean_plan(10, 2.0, 0.3);
  plan.checkpoints.given.clear();
  plan.checkpoints.last = *longest_run(plan);
  EXPECT_GT(plan.checkpoints.last, 400);
  const auto result = rehearsed(plan, 200);
  // Half the runs are the long-lived steel's.
  EXPECT_NEAR(result.right_censored_share, 0.025, 0.02);
}

TEST(Rehearsal, AgreesWithTheFormulaWhereTheFormulaHolds) {
  // As many as the methods page quotes with BQ_THOROUGH=1.
  const int kPlays = std::getenv("BQ_THOROUGH") ? 2000 : 700;
  struct Case {
    int replicates;
    double ratio, sd;
  };
  for (const auto& c : {Case{3, 1.35, 0.12}, Case{6, 1.2, 0.15}, Case{4, 0.8, 0.1}}) {
    const TrialPlan plan = clean_plan(c.replicates, c.ratio, c.sd);
    const auto result = rehearsed(plan, kPlays);
    EXPECT_EQ(result.right_censored_share, 0);
    EXPECT_EQ(result.undetermined, 0);
    EXPECT_NEAR(result.mean_log_ratio, std::log(c.ratio),
                4 * c.sd * std::sqrt(2.0 / c.replicates / kPlays) + 0.004);
    const double formula = *stats::two_group_power(c.replicates, c.sd, c.ratio, 0.95);
    EXPECT_NEAR(result.power.value, formula, 3.5 * std::sqrt(formula * (1 - formula) / kPlays))
        << c.replicates;
  }
  // No effect: false alarms at their stated rate.
  const auto nothing = rehearsed(clean_plan(4, 1, 0.15), kPlays);
  EXPECT_NEAR(nothing.power.value, 0.05, 3.5 * std::sqrt(0.05 * 0.95 / kPlays));
}

/// Two steels whose lives differ: the better one comes out first as often as a mean of n beats
/// another one; where nothing differs no choice is wrong.
TEST(Rehearsal, SaysHowOftenTheBestEdgeIsKnown) {
  const auto asked_each = [](const TrialPlan& plan, long plays) {
    RehearsalOptions options;
    options.plays = plays;
    options.analysis = [](const Trial& trial, const PlayQuestion& question, bool) {
      return analyse_play(trial, question, true);
    };
    stats::Work work;
    work.workers = 2;
    return *rehearse(plan, designed_sheet(plan), options, work);
  };
  constexpr long kPlays = 300;
  for (const auto& [replicates, ratio, sd] :
       {std::tuple(3, 1.25, 0.4), std::tuple(2, 1.5, 0.35), std::tuple(5, 0.8, 0.3)}) {
    const auto result = asked_each(clean_plan(replicates, ratio, sd), kPlays);
    EXPECT_EQ(result.best_plays, kPlays);
    const double z = std::fabs(std::log(ratio)) / (sd * std::sqrt(2.0 / replicates));
    const double known = 0.5 * std::erfc(-z / std::sqrt(2.0));
    EXPECT_NEAR(double(result.best_right) / kPlays, known,
                3.5 * std::sqrt(known * (1 - known) / kPlays))
        << replicates << " runs, ratio " << ratio;
  }
  // Looked at after every run: a clear difference ends before the sheet does, and hardly wrongly;
  // one that is nothing to go back for is never chosen wrongly.
  const auto clear = asked_each(clean_plan(8, 1.6, 0.15), 120);
  EXPECT_GT(clear.enough_plays, 100);
  EXPECT_LE(clear.enough_wrong, 12);
  ASSERT_TRUE(clear.median_enough_after);
  EXPECT_LT(*clear.median_enough_after, 12) << "of sixteen runs";
  const auto level = asked_each(clean_plan(2, 1.05, 0.3), 60);
  EXPECT_EQ(level.enough_wrong, 0);
  EXPECT_EQ(level.best_right, 60) << "a twentieth is nothing to go back for";
}

TEST(Rehearsal, ReallyRunsTheAnalysis) {
  const TrialPlan plan = clean_plan(5, 1.4, 0.12);
  const RunSheet sheet = designed_sheet(plan);
  std::atomic<long> calls{0};
  RehearsalOptions options;
  options.plays = 400;
  stats::Work work;
  work.workers = 2;
  options.analysis = [&](const Trial& trial, const PlayQuestion& question, bool with_match) {
    ++calls;
    return analyse_play(trial, question, with_match);
  };
  const auto sound = *rehearse(plan, sheet, options, work);
  EXPECT_EQ(calls, 400);
  EXPECT_GT(sound.power.value, 0.9);
  // The analysis broken: it takes every run's readings from the run before it.
  options.analysis = [](const Trial& trial, const PlayQuestion& question, bool with_match) {
    Trial mixed = trial;
    for (std::size_t i = 0; i < trial.runs.size(); ++i)
      mixed.runs[i].facts.steel = i % 2 ? "Marl Tough" : "Fenland Plain";
    return analyse_play(mixed, question, with_match);
  };
  EXPECT_LT(rehearse(plan, sheet, options, work)->power.value, 0.6);
  // Broken otherwise: the threshold is one that no run reaches.
  options.analysis = [](const Trial& trial, const PlayQuestion& question, bool with_match) {
    PlayQuestion far = question;
    far.contrast.threshold = "900 N";
    return analyse_play(trial, far, with_match);
  };
  const auto blind = *rehearse(plan, sheet, options, work);
  EXPECT_EQ(blind.detected, 0);
  EXPECT_EQ(blind.undetermined, 400);
  EXPECT_EQ(blind.right_censored_share, 1);
}

TEST(Rehearsal, IsTheSameForAnyNumberOfWorkersAndGoesOnWhereItWasStopped) {
  TrialPlan plan = clean_plan(3, 1.3, 0.15);
  plan.truth.reading_sd = 0.05;
  plan.truth.checkpoint_sd = 0.03;
  plan.truth.blade_sd = 0.05;
  plan.truth.block_sd = 0.05;
  plan.blocks.by = BlockBy::medium_batch;
  const auto one = rehearsed(plan, 200, 1);
  EXPECT_EQ(one.plays, rehearsed(plan, 200, 2).plays);
  EXPECT_EQ(one.plays, rehearsed(plan, 200, 5).plays);
  // Stopped from inside the analysis, so that it really is under way.
  std::stop_source stop;
  RehearsalOptions options;
  options.plays = 200;
  std::atomic<int> count{0};
  options.analysis = [&](const Trial& trial, const PlayQuestion& question, bool with_match) {
    if (++count == 60) stop.request_stop();
    return analyse_play(trial, question, with_match);
  };
  stats::Work work;
  work.workers = 2;
  work.stop = stop.get_token();
  std::atomic<std::size_t> done{0};
  work.done = &done;
  const auto part = *rehearse(plan, designed_sheet(plan), options, work);
  EXPECT_TRUE(part.stopped());
  EXPECT_GE(part.plays.size(), 32u);
  EXPECT_LT(part.plays.size(), 200u);
  EXPECT_TRUE(std::equal(part.plays.begin(), part.plays.end(), one.plays.begin()))
      << "what is done is what it would have been";
  EXPECT_GE(done.load(), part.plays.size());
  EXPECT_EQ(rehearsed(plan, 200, 2, part.plays).plays, one.plays);
}

TEST(Rehearsal, TellsCensoringMatchingAndWhatHelps) {
  TrialPlan plan;
  plan.factors = {{FactorKind::steel,
                   "steel",
                   {named_level("Fenland Plain"), named_level("Marl Tough")},
                   {1, 1.25}},
                  {FactorKind::apex_angle, "apex_angle", {12.0, 15.0, 18.0}, {}}};
  plan.held = {{"finish_um", 6.0}};
  plan.design.replicates = 2;
  plan.threshold = "450 gf";
  plan.checkpoints.last = 500;
  plan.blades = {{"F1", "Fenland Plain", 5}, {"M1", "Marl Tough", 5}};
  const auto result = rehearsed(plan, 300);
  EXPECT_EQ(result.match_plays, 30);
  EXPECT_GT(result.match_bounded, 20);
  EXPECT_GT(*result.median_match_width, 0.5);
  EXPECT_GT(result.median_interval_factor, 1.05);
  TrialPlan short_runs = plan;
  short_runs.checkpoints.last = 200;
  EXPECT_GT(rehearsed(short_runs, 100).right_censored_share, 0.3);

  RehearsalOptions options;
  options.plays = 200;
  stats::Work work;
  work.workers = 2;
  const auto helps = *what_would_help(plan, options, work);
  EXPECT_EQ(helps.front().what, "as it is");
  const auto find = [&](const char* what) {
    return *std::find_if(helps.begin(), helps.end(), [&](const Help& h) { return h.what == what; });
  };
  EXPECT_NE(find("one more replicate").impossible.find("blades allow 6"), std::string::npos)
      << "the blades are used up, and it says so";
  const RunSheet sheet = designed_sheet(plan);
  const auto readings = budget_of(plan, sheet, *expected_ends(plan, sheet)).readings;
  EXPECT_LT(readings, 12 * std::int64_t(sheet.checkpoints.size()) * 3) << "blunt runs end";
  EXPECT_NEAR(find("twice the readings").extra_minutes, double(readings) * 25 / 60, 11)
      << "a rest or two may fall otherwise";
  for (auto& blade : plan.blades) blade.resharpenings = 20;
  const auto more = *what_would_help(plan, options, work);
  const auto replicate = std::find_if(more.begin(), more.end(),
                                      [](const Help& h) { return h.what == "one more replicate"; });
  EXPECT_EQ(replicate->extra_runs, 6);
  EXPECT_GT(replicate->power.value, more.front().power.value);
  std::stop_source stop;
  stop.request_stop();
  work.stop = stop.get_token();
  EXPECT_LT(what_would_help(plan, options, work)->size(), 2u) << "stopped at once";
}

TEST(Rehearsal, EffectsAreFoundBackAndScatterOfBladesAndBlocksIsSharedByTheirRuns) {
  TrialPlan plan = clean_plan(8, 1.5, 0);
  plan.truth.blade_sd = 0.4;
  plan.blades = {{"F1", "Fenland Plain", 20}, {"M1", "Marl Tough", 20}};
  const auto recipe = *recipe_of(plan, designed_sheet(plan));
  const Trial trial = play(recipe, 3);
  // Without any other scatter the runs of a blade are alike, and those of another differ.
  std::map<std::string, std::vector<double>> last;
  for (const auto& run : trial.runs) last[run.facts.blade].push_back(run.readings.back().value);
  for (const auto& [blade, values] : last)
    for (const double value : values) EXPECT_NEAR(value, values.front(), 0.011) << blade;
  std::ostringstream table;
  write_readings_csv(trial, table);
  EXPECT_NE(table.str().find("Marl Tough"), std::string::npos);
  EXPECT_FALSE(rehearse(plan, RunSheet{}, {}, {}).ok()) << "an empty sheet";
  RehearsalOptions none;
  none.plays = 0;
  EXPECT_FALSE(rehearse(plan, designed_sheet(plan), none, {}).ok());
}
