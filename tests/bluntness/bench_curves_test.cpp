// Curves of a bench together: cuts to the threshold keep their promise where the edge does not
// blunt by the book, where neighbouring checkpoints are alike, and where runs were stopped near it.
// The truths are no models of ours. Thinned here; BQ_THOROUGH=1 plays every cell (docs/methods.md).
#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <functional>

#include "bluntness/bench_scatter.h"
#include "stats/random.h"

using namespace bq;

namespace {

/// Relative reading against the share of life used; 3 at the end of life.
using Shape = std::function<double(double)>;

Shape saturating(double s) {
  const double top = 3.4, tau = std::pow(-std::log(1 - 2 / (top - 1)), -1 / s);
  return [=](double x) { return 1 + (top - 1) * (1 - std::exp(-std::pow(x / tau, s))); };
}

const std::vector<std::pair<std::string, Shape>> kShapes{
    {"power", [](double x) { return 1 + 2 * std::pow(x, 0.7); }},
    {"wear area", [](double x) { return std::sqrt(1 + 8 * x); }},
    {"saturating, s = 1", saturating(1)},
    {"saturating, s = 1.6", saturating(1.6)},
    {"drop at 80 %",
     [](double x) { return 1 + 1.2 * std::pow(x, 0.7) + 0.8 / (1 + std::exp(-(x - 0.8) / 0.02)); }},
    {"root and logarithm",
     [](double x) {
       const auto f = [](double u) { return std::sqrt(u) + 0.3 * std::log1p(10 * u); };
       return 1 + 2 * f(x) / f(1);
     }},
    {"exponential", [](double x) { return std::pow(3.0, x); }}};

struct Cell {
  int checkpoints = 8;
  double checkpoint_sd = 0, neighbours = 0, cut_to = 780;
  int runs = 24;
};

struct Outcome {
  int ended = 0, held = 0, kept_promise = 0, runs = 0, said_more = 0, more_was_less = 0;
  double bias = 0, half_width = 0;
  [[nodiscard]] double coverage() const { return 100.0 * held / std::max(1, ended); }
  [[nodiscard]] double promise() const { return 100.0 * kept_promise / std::max(1, runs); }
};

/// A run of life `life` cuts, read three times at each checkpoint.
RunFit played(const Shape& shape, const Cell& cell, double life, stats::Random& random) {
  RunFit run;
  std::vector<LogReading> readings;
  double deviation = 0;
  for (int c = 0; c < cell.checkpoints; ++c) {
    const double cuts = std::round(cell.cut_to * std::pow(c / double(cell.checkpoints - 1), 1.8));
    const double fresh = random.normal(), r = c ? cell.neighbours : 0;
    deviation = r * deviation + std::sqrt(1 - r * r) * fresh;
    for (int i = 0; i < 3; ++i)
      readings.push_back({cuts,
                          std::log(100 * shape(cuts / life)) + cell.checkpoint_sd * deviation +
                              0.04 * random.normal(),
                          1});
  }
  run.readings = readings;
  run.table = collapse(run.readings);
  run.curve = *choose_curve(run.readings);
  return run;
}

Outcome play(const Shape& shape, const Cell& cell, int benches) {
  Outcome out;
  for (int bench = 0; bench < benches; ++bench) {
    stats::Random random(2126, std::uint64_t(1000 * cell.checkpoints + bench));
    std::vector<RunFit> fits;
    std::vector<double> lives;
    for (int i = 0; i < cell.runs; ++i) {
      lives.push_back(300 * std::exp(0.25 * random.normal()));
      fits.push_back(played(shape, cell, lives.back(), random));
    }
    settle_on_bench(fits);
    for (int i = 0; i < cell.runs; ++i) {
      const double life = lives[std::size_t(i)];
      const auto cuts = cuts_to_threshold(fits[std::size_t(i)], 300);
      ++out.runs;
      out.kept_promise += cuts.at_least <= life;
      if (cuts.censoring == Censoring::right) {
        ++out.said_more;
        out.more_was_less += *cuts.low > life;
      }
      if (!cuts.estimate) continue;
      ++out.ended;
      out.bias += std::log(*cuts.estimate / life);
      out.held += (!cuts.low || *cuts.low <= life) && (!cuts.high || life <= *cuts.high);
      if (cuts.low && cuts.high) out.half_width += 0.5 * std::log(*cuts.high / *cuts.low);
    }
  }
  out.bias /= std::max(1, out.ended);
  out.half_width /= std::max(1, out.ended);
  return out;
}

void print(const std::string& name, const Cell& cell, const Outcome& out) {
  std::printf(
      "%-20s %2d checkpoints, SD %.0f %%, alike %.1f, cut to %3.0f: held %5.1f %%, bias "
      "%+.3f, half width %.3f, promise kept %5.1f %%, \"more than\" wrong %d of %d\n",
      name.c_str(), cell.checkpoints, 100 * cell.checkpoint_sd, cell.neighbours, cell.cut_to,
      out.coverage(), out.bias, out.half_width, out.promise(), out.more_was_less, out.said_more);
}

bool thorough() { return std::getenv("BQ_THOROUGH") != nullptr; }

std::vector<RunFit> one_bench(const Shape& shape, const Cell& cell) {
  stats::Random random(99, 1);
  std::vector<RunFit> fits;
  for (int i = 0; i < cell.runs; ++i)
    fits.push_back(played(shape, cell, 300 * std::exp(0.25 * random.normal()), random));
  return fits;
}

}  // namespace

TEST(BenchCurves, KeepTheirPromiseWhateverTheShape) {
  const int benches = thorough() ? 40 : 4;
  for (const auto& [name, shape] : kShapes)
    for (const int checkpoints : {6, 8, 11})
      for (const double sd : {0.0, 0.05}) {
        if (!thorough() && checkpoints != 8) continue;
        const Cell cell{checkpoints, sd, 0, 780, 24};
        const Outcome out = play(shape, cell, benches);
        print(name, cell, out);
        EXPECT_GE(out.coverage(), thorough() ? 88 : 84) << name;
        EXPECT_GE(out.promise(), thorough() ? 82 : 78) << name;
        EXPECT_LE(std::fabs(out.bias), name == "drop at 80 %" ? 0.15 : 0.05) << name;
      }
}

TEST(BenchCurves, NeighboursThatAreAlikeWidenTheInterval) {
  // Each run by itself held in 60 to 75 %.
  for (const auto& [name, shape] : kShapes) {
    if (!thorough() && name != "power" && name != "saturating, s = 1.6") continue;
    for (const int checkpoints : {6, 8, 11}) {
      if (!thorough() && checkpoints != 11) continue;
      const Cell cell{checkpoints, 0.05, 0.6, 780, 24};
      const Outcome out = play(shape, cell, thorough() ? 40 : 8);
      print(name, cell, out);
      EXPECT_GE(out.coverage(), 79) << name;
    }
  }
}

TEST(BenchCurves, MoreThanIsSaidOnlyOfWhatWasSurelyCut) {
  // Cut to the mean life: half of the runs stop near the limit. It was said wrongly of 29 to 38 %.
  for (const auto& [name, shape] : kShapes)
    for (const double sd : {0.0, 0.05}) {
      const Cell cell{8, sd, 0, 300, 24};
      const Outcome out = play(shape, cell, thorough() ? 40 : 4);
      print(name, cell, out);
      EXPECT_GT(out.said_more, 20) << name;
      EXPECT_LE(out.more_was_less, std::max(4.0, 0.09 * out.said_more)) << name;
      EXPECT_GE(out.promise(), 93) << name;
    }
}

TEST(BenchCurves, ByTheBookTheyAreNoWider) {
  // The scatter of 24 runs is better known than that of one: intervals shrink.
  const Cell cell{6, 0, 0, 780, 24};
  double alone = 0, together = 0;
  for (int bench = 0; bench < 4; ++bench) {
    stats::Random random(7, std::uint64_t(bench));
    std::vector<RunFit> fits;
    for (int i = 0; i < cell.runs; ++i)
      fits.push_back(
          played(kShapes[0].second, cell, 300 * std::exp(0.25 * random.normal()), random));
    const auto width = [](const RunFit& run) {
      const auto cuts = cuts_to_threshold(run, 300);
      return cuts.low && cuts.high ? std::log(*cuts.high / *cuts.low) : 0;
    };
    for (const auto& run : fits) alone += width(run);
    settle_on_bench(fits);
    for (const auto& run : fits) together += width(run);
  }
  EXPECT_LT(together, 0.95 * alone);
}

TEST(BenchCurves, SettlingTwiceChangesNothing) {
  for (const auto& [name, shape] : kShapes) {
    auto fits = one_bench(shape, {8, 0.05, 0.6, 780, 12});
    settle_on_bench(fits);
    const auto once = fits;
    settle_on_bench(fits);
    for (std::size_t i = 0; i < fits.size(); ++i) {
      const auto a = cuts_to_threshold(once[i], 300), b = cuts_to_threshold(fits[i], 300);
      EXPECT_EQ(a.estimate, b.estimate) << name;
      EXPECT_EQ(a.low, b.low) << name;
      EXPECT_EQ(a.at_least, b.at_least) << name;
      EXPECT_EQ(once[i].interpolated, fits[i].interpolated) << name;
    }
  }
}

TEST(BenchCurves, TwoRunsOrShortOnesStayAlone) {
  auto fits = one_bench(kShapes[0].second, {8, 0.05, 0, 780, 2});
  settle_on_bench(fits);
  for (const auto& run : fits) {
    EXPECT_FALSE(run.curve->fit.bench);
    EXPECT_FALSE(run.lack_of_fit_p);
    EXPECT_FALSE(run.interpolated);
  }
  std::vector<RunFit> none;
  settle_on_bench(none);
  none.emplace_back().why_not = "not enough";
  settle_on_bench(none);
}

TEST(BenchCurves, OneRunThatNoCurveFitsIsReadBetweenItsCheckpoints) {
  auto fits = one_bench(kShapes[0].second, {8, 0, 0, 780, 12});
  // One whose edge gave way twice, at once.
  RunFit& odd = fits[3];
  std::vector<LogReading> readings = odd.readings;
  for (auto& reading : readings)
    reading.log_value = std::log(reading.cuts < 100   ? 100.0
                                 : reading.cuts < 400 ? 200.0
                                                      : 420.0) +
                        0.02 * std::sin(37 * reading.log_value);
  odd.readings = readings;
  odd.table = collapse(odd.readings);
  odd.curve = *choose_curve(odd.readings);
  settle_on_bench(fits);
  ASSERT_TRUE(odd.lack_of_fit_p);
  EXPECT_TRUE(odd.interpolated);
  EXPECT_EQ(curve_name(odd), "interpolated");
  const auto cuts = cuts_to_threshold(odd, 250);
  ASSERT_TRUE(cuts.estimate);
  double before = 0, after = 0;
  for (std::size_t i = 0; i < odd.table.checkpoints; ++i) {
    if (odd.table.cuts[i] < 400)
      before = odd.table.cuts[i];
    else if (after == 0)
      after = odd.table.cuts[i];
  }
  EXPECT_GT(*cuts.estimate, before);
  EXPECT_LT(*cuts.estimate, after);
  EXPECT_LE(*cuts.low, before + 0.5 * (after - before));
  EXPECT_NEAR(drawn_reading(odd, *cuts.estimate), 250, 1e-6 * 250);
  for (std::size_t i = 0; i < fits.size(); ++i)
    if (i != 3) {
      EXPECT_FALSE(fits[i].interpolated) << i;
    }
}

TEST(BenchCurves, AReadingExactlyAtTheLimitHasReachedIt) {
  const ScatterSums bench{
      .within_sum = 0.01, .within_dof = 20, .between_sum = 0.01, .between_dof = 20};
  int last = 0, first = 0;
  constexpr int kLimits = 500;
  for (int i = 0; i < kLimits; ++i) {
    const double limit = 7.3 + 0.611 * i;
    std::vector<LogReading> readings;
    for (const double cuts : {0.0, 20.0, 80.0})
      for (int k = 0; k < 3; ++k)
        readings.push_back({cuts, std::log(cuts < 80 ? limit / (2 - cuts / 40) : limit), 1});
    const auto life = interpolated_cuts(collapse(readings), bench, limit, 0.95);
    last += life.censoring == Censoring::none && std::abs(*life.estimate - 80) < 1e-6;
    for (auto& reading : readings) reading.log_value = std::log(limit) + reading.cuts / 100;
    first += interpolated_cuts(collapse(readings), bench, limit, 0.95).censoring == Censoring::left;
  }
  EXPECT_EQ(last, kLimits);
  EXPECT_EQ(first, kLimits);
}
