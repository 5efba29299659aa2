// Lives of several trials looked at together: what is told of their steels is held against worlds
// in which trials, and the blades in them, have levels of their own.
#include "workflow/together_answer.h"

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "stats/random.h"

using namespace bq;

namespace {

struct World {
  int trials = 4, runs = 4;      ///< runs of each steel in a trial
  double steel = std::log(1.3);  ///< ln of how much longer Marl lasts
  double between = 0.35, blades = 0, noise = 0.15;
  bool blades_again = false;  ///< one blade of each steel in a trial
  /// Which steels a trial holds; empty: both.
  std::function<bool(int trial, bool marl)> holds{};
};

LifeRow row_of(const std::string& name, bool marl, double angle_deg, double log_life) {
  LifeRow row;
  row.facts.name = name;
  row.facts.steel = marl ? "Marl" : "Cairn";
  row.facts.medium = row.work = "coir";
  row.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle_deg));
  row.cuts.estimate = std::exp(log_life);
  return row;
}

/// A heavy-tailed draw of about the same spread as a normal one: no world promised us normal
/// blades.
double draw(stats::Random& random) {
  const double z = random.normal();
  return random.uniform() < 0.1 ? 2 * z : 0.85 * z;
}

std::vector<TrialLives> play(const World& world, stats::Random& random) {
  std::vector<TrialLives> out;
  for (int t = 0; t < world.trials; ++t) {
    TrialLives trial{"trial " + std::to_string(t), {}};
    const double level = 6.5 + world.between * draw(random);
    for (const bool marl : {false, true}) {
      if (world.holds && !world.holds(t, marl)) continue;
      double blade = world.blades * draw(random);
      for (int i = 0; i < world.runs; ++i) {
        if (!world.blades_again && i > 0) blade = world.blades * draw(random);
        const double angle = 12 + i % 4;
        LifeRow row =
            row_of((marl ? "m" : "c") + std::to_string(i), marl, angle,
                   level + blade + (marl ? world.steel : 0) -
                       std::log(std::tan(angle * M_PI / 180)) + world.noise * draw(random));
        if (world.blades_again) row.facts.blade = marl ? "M1" : "C1";
        trial.table.rows.push_back(row);
      }
    }
    out.push_back(std::move(trial));
  }
  return out;
}

int plays(int usual, int thorough) { return std::getenv("BQ_THOROUGH") ? thorough : usual; }

void tell(const char* what, int times, int count) {
  if (std::getenv("BQ_THOROUGH"))
    std::printf("%s: %.1f %% of %d\n", what, 100.0 * times / count, count);
}

bool tells_apart(const Together& together) {
  return std::any_of(together.steels.begin(), together.steels.end(), [](const SteelsTogether& two) {
    return two.pair.verdict == SteelVerdict::differs;
  });
}

}  // namespace

TEST(TrialsTogether, TheRatioOfTwoSteelsLiesInsideItsInterval) {
  stats::Random random(251);
  const int count = plays(60, 400);
  int holds = 0, told = 0;
  double between = 0;
  for (int i = 0; i < count; ++i) {
    const Together together = look_together(play({}, random));
    ASSERT_TRUE(together.model) << together.sentence;
    ASSERT_EQ(together.steels.size(), 1U);
    const SteelPair& pair = together.steels[0].pair;
    const double truth = pair.longer == "Marl" ? 1.3 : 1 / 1.3;
    holds += *pair.contrast.low <= truth && truth <= *pair.contrast.high;
    told += tells_apart(together);
    between += together.model->blade_sd().value_or(0) / count;
  }
  tell("inside", holds, count);
  tell("told apart", told, count);
  EXPECT_GE(holds, int(0.88 * count));
  EXPECT_GE(told, int(0.8 * count)) << "32 runs are enough to see 30 %";
  EXPECT_NEAR(between, 0.33, 0.1) << "the spread between trials";
}

TEST(TrialsTogether, OneBladeOfASteelInEachTrialIsNotManyRuns) {
  // The steels are the same; what differs is the one blade of each in a trial, and four runs of one
  // blade are no four blades.
  World world;
  world.steel = 0;
  world.blades = 0.25;
  world.blades_again = true;
  stats::Random random(77);
  const int count = plays(60, 600);
  int wrongly = 0;
  for (int i = 0; i < count; ++i) wrongly += tells_apart(look_together(play(world, random)));
  tell("wrongly told apart", wrongly, count);
  EXPECT_LE(wrongly, int(0.09 * count) + 1) << "of " << count;
}

TEST(TrialsTogether, SteelsThatWereInNoTrialTogetherAreNotCompared) {
  World world;
  world.trials = 2;
  world.runs = 8;
  world.between = 0.5;
  world.holds = [](int trial, bool marl) { return marl == (trial == 1); };
  stats::Random random(5);
  for (int i = 0; i < 10; ++i) {
    const Together together = look_together(play(world, random));
    EXPECT_FALSE(tells_apart(together));
    EXPECT_NE(together.sentence.find("in no trial together"), std::string::npos)
        << together.sentence;
  }
}

TEST(TrialsTogether, WhatTrialsShareOutUnevenlyIsReadWithinThem) {
  // Trials that went well had mostly Marl: over all runs it seems to last longer, inside each trial
  // it does not.
  stats::Random random(11);
  int wrongly = 0;
  const int count = plays(40, 200);
  for (int i = 0; i < count; ++i) {
    std::vector<TrialLives> trials;
    for (int t = 0; t < 6; ++t) {
      TrialLives trial{"trial " + std::to_string(t), {}};
      const double share = t / 5.0;
      for (int r = 0; r < 8; ++r)
        trial.table.rows.push_back(row_of(
            "r" + std::to_string(r), r < 1 + std::lround(6 * share), 12 + r % 4,
            6 + 0.8 * share - std::log(std::tan((12 + r % 4) * M_PI / 180)) + 0.12 * draw(random)));
      trials.push_back(std::move(trial));
    }
    const Together together = look_together(trials);
    for (const auto& two : together.steels) wrongly += two.pair.verdict == SteelVerdict::differs;
  }
  tell("wrongly told apart", wrongly, count);
  EXPECT_LE(wrongly, int(0.12 * count));
}

TEST(TrialsTogether, OnlyWhatIsAlikeIsPutTogether) {
  stats::Random random(3);
  World world;
  world.noise = 0.05;
  auto trials = play(world, random);
  LifeRow foam = trials[1].table.rows[0];
  foam.work = "foam";
  foam.facts.name = "f1";
  trials[1].table.rows.push_back(foam);
  // Runs of two trials that were stopped after as many cuts are two runs.
  for (const int t : {0, 1}) {
    LifeRow& stopped = trials[std::size_t(t)].table.rows[1];
    stopped.cuts.estimate.reset();
    stopped.cuts.low = 1200;
    stopped.cuts.censoring = Censoring::right;
    stopped.cut_to = 1200;
  }
  // A trial that was saved under another name is no second one.
  trials.push_back(trials[0]);
  trials.back().name = "copy";
  // Two states of one steel; and a card that says the same but for its rounding.
  SteelCard hard;
  hard.name = "Cairn";
  hard.hardness_hrc = 61;
  for (auto& trial : trials) trial.steels = {hard};
  trials[1].steels[0].hardness_hrc = 60.5;
  trials[2].steels[0].hardness_hrc = 57;
  const LifeTable table = lives_together(trials);
  EXPECT_EQ(table.rows.size(), 32U);
  std::map<std::string, int> reasons, steels;
  for (const auto& left : table.left_out) ++reasons[left.reason];
  for (const auto& row : table.rows) ++steels[row.facts.steel];
  EXPECT_EQ(reasons["the same run as in trial 0"], 8);
  EXPECT_EQ(reasons.size(), 2U);
  EXPECT_EQ(steels, (std::map<std::string, int>{
                        {"Cairn (57 HRC)", 4}, {"Cairn (60.5 HRC)", 12}, {"Marl", 16}}));
  const Together together = look_together(trials);
  EXPECT_EQ(together.trials.back().runs, 0);
  EXPECT_EQ(together.trials.back().left_out, 8);
  EXPECT_EQ(together.trials[1].left_out, 1);
  // Nothing is a trial's own that stands alone.
  const Together alone = look_together({trials[0], trials[4]});
  EXPECT_FALSE(alone.model);
  EXPECT_NE(alone.sentence.find("no two trials"), std::string::npos) << alone.sentence;
  // Of one steel there is its life; two projects of one name are two trials.
  world.holds = [](int, bool marl) { return marl; };
  auto one_steel = play(world, random);
  for (auto& trial : one_steel) trial.name = "trial";
  const Together life = look_together(one_steel);
  EXPECT_TRUE(life.model);
  EXPECT_NE(life.sentence.find("Over 4 trials (16 runs in coir): Marl"), std::string::npos)
      << life.sentence;
}
