// Lives of different work are never one life; what else the runs differ in is allowed for or said;
// an answer belongs to what was asked.
#include <gtest/gtest.h>

#include <cmath>
#include <functional>
#include <map>

#include "bluntness/treatment_verdict.h"
#include "stats/random.h"
#include "support.h"
#include "trial/checkpoints.h"
#include "trial/edge_map.h"
#include "workflow/answers.h"
#include "workflow/force_study.h"
#include "workflow/half_hour.h"
#include "workflow/life_findings.h"
#include "workflow/like_bench.h"
#include "workflow/verdict.h"

using namespace bq;
using namespace bq::test;

TEST(LikeWithLike, SlicingAndPushingAreTwoKindsOfWork) {
  LikeBench bench;
  add_six(bench, "s", 400, CutMode::slice);
  add_six(bench, "p", 60, CutMode::push);
  const auto slice = bench.life("tow, slice");
  ASSERT_EQ(slice.media.size(), 2U);
  const auto push = bench.life("tow, push");
  ASSERT_TRUE(slice.model && push.model) << slice.why_not << push.why_not;
  EXPECT_EQ(slice.model->rows().size(), 6U);
  EXPECT_EQ(push.model->rows().size(), 6U);
  // Each is what it would be were the other not there.
  LikeBench alone;
  add_six(alone, "s", 400, CutMode::slice);
  const auto only = alone.life();
  ASSERT_EQ(slice.table.rows.size(), 6U);
  for (std::size_t i = 0; i < 6; ++i)
    EXPECT_NEAR(*slice.table.rows[i].cuts.estimate, *only.table.rows[i].cuts.estimate,
                0.05 * *only.table.rows[i].cuts.estimate)
        << "but for the limit, three times the fresh reading of all";
  EXPECT_NEAR(slice.model->coefficients()[1].estimate, only.model->coefficients()[1].estimate,
              0.02);
  EXPECT_EQ(slice.question.medium, "tow, slice");
  EXPECT_EQ(only.question.medium, "tow");
  // The bare name stands for the way with most runs, and the rest is said to be left out.
  const auto bare = bench.life("tow");
  EXPECT_EQ(bare.question.medium.substr(0, 3), "tow");
  EXPECT_EQ(bare.table.rows.size(), 6U);
  EXPECT_NE(bare.table.left_out.at(0).reason.find("another way of cutting"), std::string::npos);
}

TEST(LikeWithLike, AMediumThatNobodyCutIsNotAnsweredWithAnother) {
  LikeBench bench;
  add_six(bench, "s", 400, CutMode::slice);
  const auto none = bench.life("felt");
  EXPECT_FALSE(none.model);
  EXPECT_TRUE(none.table.rows.empty());
  EXPECT_NE(none.why_not.find("\"felt\""), std::string::npos) << none.why_not;
  EXPECT_NE(none.why_not.find("\"tow\""), std::string::npos);
}

TEST(LikeWithLike, FactorsOfTheUsersOwnAreInTheModelOrSaid) {
  // Oil doubles the life and was used on the steeper edges more often: left out it would pass for
  // an effect of the angle.
  LikeBench bench;
  int i = 0;
  for (const double angle : {12.0, 14.0, 16.0, 18.0})
    for (int k = 0; k < 4; ++k) {
      const bool oil = angle > 15 ? k > 0 : k == 0;
      bench
          .add("r" + std::to_string(i++), "Marl", angle,
               (oil ? 400 : 200) * std::exp(0.05 * bench.random.normal()))
          .facts.factors["lubricant"] = std::string(oil ? "oil" : "none");
    }
  const auto life = bench.life();
  ASSERT_TRUE(life.model);
  EXPECT_EQ(life.model->spec().terms, (std::vector<std::string>{"angle", "lubricant"}));
  for (const auto& c : life.model->coefficients())
    if (c.name == "ln tan angle") {
      EXPECT_LT(c.low, 0);
      EXPECT_GT(c.high, 0);
    }
  EXPECT_TRUE(says(side_sentences(life.sides), "\"lubricant\" too"));
  // Where it cannot be told apart it is said, not ignored.
  for (auto& run : bench.trial.runs)
    run.facts.factors["lubricant"] =
        std::string(run.facts.geometry->edge().left_deg > 15 ? "oil" : "none");
  bench.trial.runs[0].facts.factors.erase("lubricant");
  const auto mixed = bench.life();
  EXPECT_EQ(mixed.model->spec().terms, std::vector<std::string>{"angle"});
  EXPECT_TRUE(says(side_sentences(mixed.sides), "not allowed for"));
}

TEST(LikeWithLike, OperatorsAreADifferenceBetweenRuns) {
  // Half of the runs were read by somebody whose edges last half as long; or by nobody different.
  for (const bool differ : {false, true}) {
    LikeBench bench;
    int i = 0;
    for (int k = 0; k < 2; ++k)
      for (const double angle : {12.0, 15.0, 18.0, 21.0})
        for (const char* who : {"Ann", "Bo"}) {
          bq::Run& run = bench.add("r" + std::to_string(i++), "Marl", angle,
                                   300 * std::tan(radians(15)) / std::tan(radians(angle)) *
                                       (differ && who[0] == 'B' ? 0.5 : 1) *
                                       std::exp(0.05 * bench.random.normal()));
          for (auto& reading : run.readings) reading.by_operator = bench.trial.labels.id_of(who);
        }
    const auto life = bench.life();
    ASSERT_TRUE(life.model);
    EXPECT_EQ(
        std::count(life.model->spec().terms.begin(), life.model->spec().terms.end(), "operator"),
        differ ? 1 : 0);
    EXPECT_TRUE(says(side_sentences(life.sides),
                     differ ? "differ in operator too" : "No difference between the operators"));
  }
}

TEST(LikeWithLike, BlocksAreAllowedForWhereTheyDiffer) {
  for (const bool differ : {false, true}) {
    LikeBench bench;
    int i = 0;
    for (const char* block : {"day 1", "day 2", "day 3"})
      for (const double angle : {12.0, 15.0, 18.0})
        bench
            .add("r" + std::to_string(i++), "Marl", angle,
                 300 * std::tan(radians(15)) / std::tan(radians(angle)) *
                     (differ ? std::exp(0.5 * (block[4] - '2')) : 1) *
                     std::exp(0.05 * bench.random.normal()))
            .facts.block = block;
    const auto life = bench.life();
    ASSERT_TRUE(life.model);
    EXPECT_EQ(std::count(life.model->spec().terms.begin(), life.model->spec().terms.end(), "block"),
              differ ? 1 : 0);
    EXPECT_TRUE(says(side_sentences(life.sides), differ ? "block too" : "No difference"));
    // The slope is the world's either way, and known well.
    for (const auto& c : life.model->coefficients())
      if (c.name == "ln tan angle") {
        EXPECT_NEAR(c.estimate, -1, 0.35);
        EXPECT_LT(c.standard_error, 0.25);
      }
  }
}

TEST(LikeWithLike, AProjectWithoutReadingsAtZeroCutsIsNoDeadEnd) {
  LikeBench bench;
  for (int i = 0; i < 4; ++i)
    bench.add("r" + std::to_string(i), "Marl", 12 + 2 * i, 300, "tow", CutMode::slice, false);
  const auto fits = bench.fits();
  const auto limit = parse_threshold("3x", bench.trial.unit(), fits, true);
  ASSERT_TRUE(limit) << limit.refusal().reason;
  EXPECT_NE(limit->origin.find("no run was read at 0 cuts"), std::string::npos);
  EXPECT_NEAR(limit->value, 3 * *median_first_reading(fits), 1e-9);
  EXPECT_TRUE(parse_threshold("300 gf", bench.trial.unit(), fits, false));
}

TEST(LikeWithLike, AResponseThatFallsIsNotTakenForAnEdgeThatStaysSharp) {
  LikeBench bench;
  add_six(bench, "s", 400, CutMode::slice);
  // Cut depth per stroke: higher is sharper.
  auto& falling = bench.add("depth", "Marl", 15, 400);
  for (auto& reading : falling.readings) reading.value = 1e4 / reading.value;
  const auto fits = bench.fits();
  EXPECT_FALSE(fits.back().curve);
  EXPECT_EQ(fits.back().why_not, kFallingReadings);
  const auto life = bench.life();
  EXPECT_EQ(life.table.rows.size(), 6U);
  ASSERT_EQ(life.table.left_out.size(), 1U);
  EXPECT_EQ(life.table.left_out[0].run, "depth");
  // An edge that gains a little in its first cuts, or hardly dulls, has its curve.
  auto& polished = bench.add("polished", "Marl", 15, 4000);
  for (auto& reading : polished.readings)
    if (reading.cuts == 0) reading.value *= 1.3;
  bench.add("tough", "Marl", 15, 1e7);
  for (std::size_t i = 7; i < bench.fits().size(); ++i) EXPECT_TRUE(bench.fits()[i].curve);
}

TEST(LikeWithLike, APartOfATrialHasTheUnitOfTheWhole) {
  LikeBench bench;
  bench.unit = "mm";
  add_six(bench, "s", 400, CutMode::slice);
  EXPECT_EQ(bench.trial.unit(), Unit::mm);
  EXPECT_EQ(without_readings(bench.trial).unit(), Unit::mm);
  EXPECT_EQ(for_answers(bench.trial).unit(), Unit::mm);
  Trial first_in_newtons = bench.trial;
  for (auto& reading : first_in_newtons.runs[0].readings) reading.unit = Unit::in;
  EXPECT_EQ(for_answers(first_in_newtons).unit(), Unit::in);
}

TEST(LikeWithLike, PlacesOfAnEdgeAreNotRepeatsOfTheGauge) {
  // Two operators who read alike, each place once: heel, middle and tip differ much.
  LikeBench bench;
  bq::Run run;
  run.facts.name = "A";
  for (const int cuts : {0, 50, 100})
    for (const char* who : {"A", "B"})
      for (const auto& [place, value] :
           {std::pair("heel", 100.0), {"middle", 150.0}, {"tip", 200.0}}) {
        Reading r;
        r.cuts = cuts;
        r.value = value + cuts;
        r.by_operator = bench.trial.labels.id_of(who);
        r.station = bench.trial.labels.id_of(place);
        run.readings.push_back(r);
      }
  bench.trial.runs.push_back(run);
  EXPECT_TRUE(operator_readings(bench.trial).empty()) << "no place was read twice by anybody";
  // Read twice, the scatter is that of a place read again: none here.
  auto& readings = bench.trial.runs[0].readings;
  const auto once = readings;
  readings.insert(readings.end(), once.begin(), once.end());
  const auto study = stats::gauge_study(operator_readings(bench.trial));
  ASSERT_TRUE(study);
  EXPECT_NEAR(study->repeatability_sd, 0, 1e-9);
  EXPECT_NEAR(study->reproducibility_sd, 0, 1e-9);
}

TEST(LikeWithLike, AStoneComparisonSaysNothingOfTheStrop) {
  LikeBench bench;
  add_six(bench, "s", 400, CutMode::slice);
  Comparison stones;
  stones.name = "grey or white";
  stones.first.name = "grey stone";
  stones.second.name = "white stone";
  for (int i = 0; i < 6; ++i)
    stones.pairs.push_back({"b" + std::to_string(i), "heel", 150, 140.0 + i});
  bench.trial.comparisons.push_back(stones);
  const auto fits = bench.fits();
  const LifeFindings life = bench.life();
  const Trial facts = for_answers(bench.trial);
  AnswerSource source = source_of(facts, fits, life);
  const Answer none = answer(Question::strop, source);
  EXPECT_FALSE(none.answered);
  EXPECT_NE(none.sentence.find("no comparison has a strop"), std::string::npos) << none.sentence;
  stones.name = "leather";
  stones.second.name = "grey stone, then the strop";
  bench.trial.comparisons.push_back(stones);
  const Trial with = for_answers(bench.trial);
  source.facts = &with;
  EXPECT_TRUE(answer(Question::strop, source).answered);
}

TEST(LikeWithLike, WhatWasNotEnteredIsNotFree) {
  Comparison c;
  c.name = "c";
  c.first.name = "stone";
  c.second.name = "strop";
  c.price_per_hour = 60;
  for (int i = 0; i < 6; ++i) c.pairs.push_back({"b" + std::to_string(i), "heel", 150, 130.0 + i});
  c.first.minutes = 4;  // the strop's were not timed
  const auto unknown = *compare_treatments(c);
  EXPECT_FALSE(unknown.first_price || unknown.second_price);
  EXPECT_NE(unknown.verdict.find("the minutes of strop are missing"), std::string::npos)
      << unknown.verdict;
  c.second.minutes = 6;
  const auto known = *compare_treatments(c);
  EXPECT_NEAR(*known.second_price - *known.first_price, 2, 1e-12);
  c.first.wear_price = 0.5;
  EXPECT_FALSE(compare_treatments(c)->first_price);
}

// Two media of which one is four times as stiff, and one that was never stroked: each has its own
// force, as if the other were not there.
// Two steels that are alike, one blade of each: a good blade is not a good steel.
// A run that was stopped below the limit is not past it, however much longer than usual it has
// lasted; what is left to it is near the truth where it can be carried on.
TEST(LikeWithLike, AnEdgeThatOutlastsThePatternIsNotDueYet) {
  for (const bool checked : {true, false}) {
    double off = 0;
    int asked = 0, carried = 0;
    for (int seed = 1; seed <= 12; ++seed) {
      LikeBench bench;
      bench.random = stats::Random(std::uint64_t(seed), 9);
      std::map<std::string, double> lives;
      // Where few reach the limit nothing checks how lives are carried on.
      const int reach = checked ? 10 : 3, stopped = checked ? 2 : 4;
      for (int i = 0; i < reach + stopped; ++i) {
        Blade blade;
        blade.name = "b" + std::to_string(i);
        blade.steel = i % 2 ? "Marl" : "Cairn";
        const double angle = 12 + 3 * (i % 3);
        SectionRecord section;
        section.plan = with_edge({}, BevelAngles::symmetric(angle), std::nullopt);
        blade.records = {{0, "2026-01-01T00:00:00Z", section}};
        const double life = i < reach ? 450 * std::exp(0.2 * bench.random.normal())
                                      : 1300 * std::exp(0.1 * bench.random.normal());
        if (i >= reach) lives[blade.name] = life;
        bench.add("r" + std::to_string(i), blade.steel, angle, life).facts.blade = blade.name;
        bench.trial.blades.push_back(std::move(blade));
      }
      const auto fits = bench.fits();
      const auto life = bench.life();
      const AnswerSource asked_of = source_of(bench.trial, fits, life);
      if ((life.table.carried_on() > 0) != checked) continue;
      const Answer due = answer(Question::touch_up, asked_of);
      ASSERT_TRUE(due.answered) << due.sentence;
      for (const auto& row : due.table.rows) {
        // One or another is read at the limit all the same.
        if (!lives.contains(row[0]) || row[5].starts_with("its own curve")) continue;
        EXPECT_NE(row[2], "0") << row[0] << " was read below the limit: " << due.sentence;
        carried += row[5].find("carried on") != std::string::npos;
        std::string left = row[2];
        std::erase_if(left, [](char c) { return c < '0' || c > '9'; });
        off += std::fabs(std::log((1000 + std::stod(left)) / lives[row[0]]));
        ++asked;
      }
    }
    ASSERT_GE(asked, 12) << checked;
    EXPECT_GE(carried, checked ? asked * 3 / 4 : 0);
    EXPECT_LE(carried, checked ? asked : 0);
    EXPECT_LT(off / asked, checked ? 0.12 : 0.5) << "of the whole life";
  }
}
