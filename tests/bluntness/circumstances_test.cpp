// What belongs to the day and the hand, and where along the edge it dulls: worlds that are none of
// our models, with and without the effect.
#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/circumstances.h"
#include "bluntness/edge_places.h"
#include "stats/random.h"

using namespace bq;

namespace {

struct DayWorld {
  double of_operator_b = 1;  ///< times the life
  double of_last = 1;        ///< the last run's life over the first's
};

/// Twelve edges twice, lives Weibull (not log-normal), cut to 900: some never get blunt. Who reads
/// and the batch are drawn, the order is drawn.
struct DayPlay {
  Trial trial;
  LifeTable table;
  DayPlay(const DayWorld& world, std::uint64_t seed) {
    stats::Random random(seed, 3);
    std::vector<int> order(24);
    for (int i = 0; i < 24; ++i) order[std::size_t(i)] = i;
    for (std::size_t i = 24; i > 1; --i) std::swap(order[i - 1], order[random.below(i)]);
    for (int i = 0; i < 24; ++i) {
      bq::Run run;
      run.facts.name = "W" + std::to_string(i);
      run.facts.steel = i % 2 ? "Marl" : "Cairn";
      const double angle = 12 + 3 * (i / 2 % 3);
      run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle));
      const bool b = random.uniform() < 0.5;
      const double when = order[std::size_t(i)] / 23.0;
      BenchEvent begun;
      begun.made_at = "2026-03-" + std::to_string(10 + order[std::size_t(i)]) + "T08:00:00Z";
      begun.data = PreparedEvent{};
      run.events.push_back(begun);
      LifeRow row{run.facts, {}, "tow", 900};
      row.facts.factors[kOperatorTerm] = b ? "operator B" : "operator A";
      row.facts.factors[kBatchTerm] = "batch " + std::to_string(random.below(3));
      const double usual = 500 * (i % 2 ? 1.4 : 1) * (15 / angle);
      const double life = usual * std::pow(-std::log(1 - random.uniform()), 1 / 4.5) *
                          (b ? world.of_operator_b : 1) * std::pow(world.of_last, when);
      if (life < 900) {
        row.cuts.estimate = row.cuts.low = row.cuts.high = life;
      } else {
        row.cuts.censoring = Censoring::right;
        row.cuts.low = 900;
      }
      trial.runs.push_back(run);
      table.rows.push_back(row);
    }
  }
  [[nodiscard]] std::vector<Circumstance> ask() const {
    return circumstances(trial, table, terms_with_blades(table));
  }
};

const Circumstance& day_named(const std::vector<Circumstance>& all, const std::string& name) {
  return *std::find_if(all.begin(), all.end(),
                       [&](const Circumstance& one) { return one.name == name; });
}

int times_seen(const DayWorld& world, const std::string& name, int plays) {
  int seen = 0;
  for (int play = 0; play < plays; ++play)
    seen += day_named(DayPlay(world, 100 + play).ask(), name).seen();
  return seen;
}

}  // namespace

TEST(Circumstances, NothingIsFoundWhereThereIsNothing) {
  int wrong = 0;
  constexpr int kPlays = 150;
  for (int play = 0; play < kPlays; ++play) {
    const auto all = DayPlay({}, 1000 + play).ask();
    ASSERT_EQ(all.size(), 3u) << "batch, operator, order";
    wrong += std::any_of(all.begin(), all.end(), [](const Circumstance& c) { return c.seen(); });
  }
  // 5 of 100 are promised for all three together: 7.5 of 150, by chance up to 14.
  EXPECT_LE(wrong, 14);
}

TEST(Circumstances, AHandThatMattersAndABenchThatWearsOutAreFound) {
  EXPECT_GE(times_seen({0.6, 1}, kOperatorTerm, 40), 32);
  EXPECT_GE(times_seen({1, 0.45}, kOrder, 40), 28);
  const auto all = DayPlay({0.6, 1}, 7).ask();
  const Circumstance& hand = day_named(all, kOperatorTerm);
  EXPECT_EQ(hand.shortest, "operator B");
  EXPECT_EQ(hand.longest, "operator A");
  EXPECT_GT(hand.contrast->ratio, 1.2);
}

TEST(Circumstances, WhatCannotBeToldSaysWhy) {
  DayPlay play({}, 5);
  play.table.rows[3].facts.factors.erase(kBatchTerm);
  // Every run of one steel was read by one person: the hand and the steel are one.
  for (auto& row : play.table.rows)
    row.facts.factors[kOperatorTerm] = row.facts.steel == "Marl" ? "operator A" : "operator B";
  play.trial.runs[0].events.clear();
  const auto all = play.ask();
  ASSERT_EQ(all.size(), 2u) << "no order where one run does not say when";
  EXPECT_EQ(day_named(all, kBatchTerm).why_not, "not every run says it");
  EXPECT_FALSE(day_named(all, kOperatorTerm).why_not.empty());
  EXPECT_FALSE(day_named(all, kOperatorTerm).p);
}

namespace {

/// Runs read at three places: the reading saturates, places start unlike, scatter has heavy tails,
/// and the tip dulls `tip` times as much.
Trial places_world(double tip, std::uint64_t seed, int runs = 10) {
  stats::Random random(seed, 9);
  Trial trial;
  const LabelId places[] = {trial.labels.id_of("heel"), trial.labels.id_of("middle"),
                            trial.labels.id_of("tip")};
  const auto heavy = [&](double sd) {
    return sd * random.normal() * (random.uniform() < 0.1 ? 3 : 1);
  };
  for (int i = 0; i < runs; ++i) {
    bq::Run run;
    run.facts.name = "P" + std::to_string(i);
    const double whole = std::log(4.0) + heavy(0.2);
    for (int place = 0; place < 3; ++place) {
      const double fresh = std::log(100.0) + (place == 2 ? 0.15 : 0) + heavy(0.06);
      const double rise = whole + (place == 2 ? std::log(tip) : 0) + heavy(0.08);
      for (const std::int64_t cuts : {0, 50, 200, 800})
        for (int each = 0; each < 2; ++each) {
          Reading reading;
          reading.cuts = cuts;
          reading.station = places[place];
          reading.value =
              std::exp(fresh + rise * double(cuts) / (cuts + 200.0) * 1.25 + heavy(0.04));
          run.readings.push_back(reading);
        }
    }
    trial.runs.push_back(std::move(run));
  }
  return trial;
}

}  // namespace

TEST(EdgePlaces, TheTipThatDullsFasterIsFoundAndItsIntervalHolds) {
  constexpr int kPlays = 200;
  int first = 0, inside = 0, alarms = 0;
  for (int play = 0; play < kPlays; ++play) {
    const auto found = dulling_by_place(places_world(1.2, 50 + play), std::vector<bool>(10, true));
    ASSERT_TRUE(found.ok());
    const PlaceDulling& most = found->places.front();
    first += most.place == "tip" && most.differs;
    const auto tip = std::find_if(found->places.begin(), found->places.end(),
                                  [](const PlaceDulling& p) { return p.place == "tip"; });
    const double truth = std::pow(1.2, 2.0 / 3);  // over the mean of the three
    inside += tip->low <= truth && truth <= tip->high;
    const auto none = dulling_by_place(places_world(1, 50 + play), std::vector<bool>(10, true));
    alarms += std::any_of(none->places.begin(), none->places.end(),
                          [](const PlaceDulling& p) { return p.differs; });
  }
  EXPECT_GE(first, 160);
  EXPECT_GE(inside, 186);
  EXPECT_LE(alarms, 16) << "5 of 100 for all places together";
}

TEST(EdgePlaces, PlacesOfOneCheckpointOnlyAndForeignWorkTellNothing) {
  Trial trial = places_world(1.2, 4);
  EXPECT_EQ(dulling_by_place(trial, std::vector<bool>(10, false)).ok(), false);
  EXPECT_EQ(dulling_by_place(places_world(1, 4, 2), {true, true}).refusal().reason.find("fewer"),
            0u);
  for (auto& run : trial.runs)
    for (auto& reading : run.readings) reading.station = trial.labels.id_of("heel");
  EXPECT_FALSE(dulling_by_place(trial, std::vector<bool>(10, true)).ok());
  // A unit that is not the trial's first is no dulling.
  Trial mixed = places_world(1.2, 4);
  const auto before = dulling_by_place(mixed, std::vector<bool>(10, true));
  for (auto& reading : mixed.runs[4].readings) {
    reading.value = convert(reading.value, Unit::gf, Unit::N);
    reading.unit = Unit::N;
  }
  const auto after = dulling_by_place(mixed, std::vector<bool>(10, true));
  for (std::size_t i = 0; i < before->places.size(); ++i)
    EXPECT_NEAR(before->places[i].ratio, after->places[i].ratio, 1e-9);
}
