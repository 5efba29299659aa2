#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <cmath>

#include "bluntness/curve_bootstrap.h"
#include "bluntness/curve_choice.h"
#include "bluntness/curve_kernel.h"
#include "bluntness/cuts_to_threshold.h"
#include "bluntness/run_fits.h"
#include "stats/random.h"
#include "support.h"

using namespace bq;

namespace {

const std::vector<double> kLadder{0, 10, 20, 40, 80, 150, 300, 500, 800, 1200};

/// Readings of a curve with ln scatter `sd`, three at each checkpoint.
std::vector<LogReading> readings_of(const Curve& curve, double sd, std::uint64_t seed = 1,
                                    const std::vector<double>& at = kLadder, int each = 3) {
  stats::Random random(seed);
  std::vector<LogReading> out;
  for (const double n : at)
    for (int i = 0; i < each; ++i)
      out.push_back({n, std::log(curve.at(n)) + sd * random.normal(), 1});
  return out;
}

const Curve kPower{CurveModel::power, {80, 3.0, 0.7}};
const Curve kLinear{CurveModel::linear, {80, 0.4}};
const Curve kWearArea{CurveModel::wear_area, {80, 300}};
const Curve kTwoPhase{CurveModel::two_phase, {70, 90, 15, 0.3}};

double direct_sse(const std::vector<LogReading>& readings, const Curve& curve) {
  double sum = 0;
  for (const auto& r : readings) sum += std::pow(r.log_value - std::log(curve.at(r.cuts)), 2);
  return sum;
}

}  // namespace

TEST(CurveKernel, ExpAndLogAreAsGoodAsTheLibrarys) {
  std::vector<double> x, e, l;
  stats::Random random(2);
  for (int i = 0; i < 4000; ++i)
    x.push_back(std::exp(40 * (random.uniform() - 0.5)) * (i % 2 ? 1 : 30));
  x[0] = 1;
  x[1] = 0.99999999;
  x[2] = 700;
  x[3] = 1e-300;
  e.resize(x.size());
  l.resize(x.size());
  kernel::exp_log(x.data(), e.data(), l.data(), x.size());
  for (std::size_t i = 0; i < x.size(); ++i) {
    if (x[i] < 700) {
      EXPECT_NEAR(e[i] / std::exp(x[i]), 1, 1e-15) << x[i];
    }
    EXPECT_NEAR(l[i], std::log(x[i]), 4e-16 * std::max(1.0, std::fabs(std::log(x[i])))) << x[i];
  }
}

TEST(CurveKernel, GradientsAgreeWithFiniteDifferences) {
  const auto table = collapse(readings_of(kPower, 0.1));
  const auto check = [&](const auto& evaluate, auto parameters) {
    const auto at = evaluate(table, parameters);
    for (int i = 0; i < parameters.size(); ++i) {
      auto up = parameters, down = parameters;
      up[i] += 1e-6;
      down[i] -= 1e-6;
      const double slope =
          (evaluate(table, up).sum_of_squares - evaluate(table, down).sum_of_squares) / 2e-6;
      EXPECT_NEAR(-2 * at.gradient[i], slope, 1e-5 * std::max(1.0, std::fabs(slope)));
    }
  };
  check(kernel::power, Eigen::Vector3d(4.3, 4.8, -0.3));
  check(kernel::linear, Eigen::Vector2d(4.3, 4.1));
  check(kernel::wear_area, Eigen::Vector2d(4.3, 9));
  check(kernel::two_phase, Eigen::Vector4d(4.3, 4.1, -2, 3.5));
}

TEST(CurveFit, RecoversACurveWithoutNoise) {
  for (const Curve& truth : {kPower, kLinear, kWearArea, kTwoPhase}) {
    const auto fit = fit_curve(truth.model, collapse(readings_of(truth, 0)));
    ASSERT_TRUE(fit.ok() && fit->converged) << name_of(truth.model);
    for (int i = 0; i < parameter_count(truth.model); ++i)
      EXPECT_NEAR(fit->curve.parameters[std::size_t(i)] / truth.parameters[std::size_t(i)], 1, 2e-4)
          << name_of(truth.model) << " " << i;
  }
}

TEST(CurveFit, CollapsedCheckpointsAreTheSameLeastSquares) {
  const auto readings = readings_of(kPower, 0.08, 4);
  const auto fit = fit_curve(CurveModel::power, collapse(readings));
  EXPECT_NEAR(fit->sum_of_squares, direct_sse(readings, fit->curve), 1e-10);
  EXPECT_NEAR(fit->sigma_log, std::sqrt(fit->sum_of_squares / (30 - 3)), 1e-14);
  // No neighbour is better: it is a minimum of the readings' own sum of squares.
  for (int i = 0; i < 3; ++i)
    for (const double factor : {0.999, 1.001}) {
      Curve near = fit->curve;
      near.parameters[std::size_t(i)] *= factor;
      EXPECT_GE(direct_sse(readings, near), fit->sum_of_squares - 1e-12);
    }
}

RC_GTEST_PROP(CurveFit, DoesNotDependOnUnitsOrRowOrder, ()) {
  const auto seed = std::uint64_t(*rc::gen::inRange(1, 100000));
  const double unit = *rc::gen::inRange(1, 1000) * 0.01;
  bq::Run run, scaled;
  stats::Random random(seed);
  for (const double n : kLadder)
    for (int i = 0; i < 2; ++i) {
      Reading r;
      r.cuts = std::int64_t(n);
      r.value = kPower.at(n) * std::exp(0.06 * random.normal());
      run.readings.push_back(r);
      r.value *= unit;
      scaled.readings.insert(scaled.readings.begin(), r);  // backwards
    }
  const auto a = fit_curve(CurveModel::power, collapse(log_readings(run, Unit::gf)));
  const auto b = fit_curve(CurveModel::power, collapse(log_readings(scaled, Unit::gf)));
  RC_ASSERT(std::fabs(a->sum_of_squares - b->sum_of_squares) < 1e-8 * a->sum_of_squares);
  const auto n_a = a->curve.reaches(250, 1200), n_b = b->curve.reaches(250 * unit, 1200);
  RC_ASSERT(n_a.has_value() && n_b.has_value());
  RC_ASSERT(std::fabs(*n_a / *n_b - 1) < 1e-4);
}

TEST(CurveFit, TooFewCheckpointsIsNotEnoughNeverANumber) {
  const auto fit = [](const std::vector<double>& at, CurveModel model) {
    return fit_curve(model, collapse(readings_of(kPower, 0.05, 1, at)));
  };
  EXPECT_FALSE(fit({0, 10}, CurveModel::power).ok());
  EXPECT_TRUE(fit({0, 10, 50}, CurveModel::power).ok());
  EXPECT_FALSE(fit({5, 10, 50}, CurveModel::power).ok());
  EXPECT_TRUE(fit({5, 10, 50, 90}, CurveModel::power).ok());
  EXPECT_TRUE(fit({0, 10}, CurveModel::linear).ok());
  EXPECT_FALSE(fit({5, 10}, CurveModel::wear_area).ok());
  EXPECT_FALSE(fit({0, 5, 10, 20, 40}, CurveModel::two_phase).ok());
  EXPECT_EQ(fit({0}, CurveModel::linear).refusal().reason,
            "not enough to fit: 1 checkpoint, 2 are needed");
  EXPECT_FALSE(choose_curve(readings_of(kPower, 0.05, 1, {0})).ok());
}

TEST(CurveFit, EqualAndFallingReadingsAreTakenAsTheyAre) {
  std::vector<LogReading> flat;
  for (const double n : kLadder)
    for (int i = 0; i < 3; ++i) flat.push_back({n, std::log(200), 1});
  for (const double drift : {0.0, -0.0004}) {
    for (auto& r : flat) r.log_value += drift * r.cuts;
    const auto chosen = choose_curve(flat);
    ASSERT_TRUE(chosen.ok());
    const auto cuts = cuts_to_threshold(chosen->fit, collapse(flat), 450);
    EXPECT_EQ(cuts.censoring, Censoring::right);
    EXPECT_EQ(*cuts.low, 1200);
    EXPECT_FALSE(cuts.estimate.has_value());
  }
}

TEST(CurveChoice, KeepsPowerUnlessARivalLeadsBySix) {
  int changed = 0, found = 0, false_alarm = 0;
  for (std::uint64_t seed = 1; seed <= 100; ++seed) {
    const auto plain = choose_curve(readings_of(kPower, 0.05, seed));
    changed += plain->fit.curve.model != CurveModel::power;
    false_alarm += plain->early_collapse;
    const Curve burr{CurveModel::two_phase, {70, 140, 12, 0.12}};
    const auto collapsed = choose_curve(readings_of(burr, 0.05, seed));
    found += collapsed->fit.curve.model == CurveModel::two_phase && collapsed->early_collapse;
  }
  EXPECT_LE(changed, 12);
  EXPECT_LE(false_alarm, 1);
  EXPECT_GE(found, 90);  // nearly nine in ten is what DOMAIN §6 asks for
}

TEST(CurveChoice, WeightsAddUpToOne) {
  const auto chosen = choose_curve(readings_of(kPower, 0.05, 9));
  ASSERT_EQ(chosen->candidates.size(), 5u);
  double total = 0;
  for (std::size_t i = 0; i < chosen->candidates.size(); ++i) total += chosen->weight(i);
  EXPECT_NEAR(total, 1, 1e-12);
}

TEST(CurveChoice, AGrossReadingIsFlaggedKeptAndResisted) {
  auto readings = readings_of(kPower, 0.04, 6);
  const double truth = *kPower.reaches(300, 1200);
  readings[17].log_value += std::log(3);
  const auto plain = choose_curve(readings, {CurveModel::power, false});
  const auto robust = choose_curve(readings, {CurveModel::power, true});
  ASSERT_EQ(plain->suspects.size(), 1u);
  EXPECT_EQ(plain->suspects[0].reading_index, 17u);
  EXPECT_EQ(plain->fit.readings, 30);  // nothing was dropped
  const auto error = [&](const ChosenCurve& c) {
    return std::fabs(std::log(*c.fit.curve.reaches(300, 1200) / truth));
  };
  EXPECT_LT(error(*robust), 0.6 * error(*plain));
}

TEST(CutsToThreshold, SaysCensoredInsteadOfExtrapolating) {
  const auto readings = readings_of(kPower, 0.03, 3);
  const auto table = collapse(readings);
  const auto fit = fit_curve(CurveModel::power, table);
  const auto right = cuts_to_threshold(*fit, table, 900);
  EXPECT_EQ(right.censoring, Censoring::right);
  EXPECT_EQ(*right.low, 1200);
  EXPECT_FALSE(right.estimate || right.high);
  const auto left = cuts_to_threshold(*fit, table, 60);
  EXPECT_EQ(left.censoring, Censoring::left);
  EXPECT_EQ(*left.high, 10);  // the first checkpoint after the fresh edge
  EXPECT_FALSE(left.estimate || left.low);
}

TEST(CutsToThreshold, DeltaAndProfileAgreeOnGoodData) {
  for (const Curve& truth : {kPower, kLinear, kWearArea}) {
    const auto table = collapse(readings_of(truth, 0.03, 8));
    const auto fit = fit_curve(truth.model, table);
    const auto delta = cuts_to_threshold(*fit, table, 300);
    const auto profile = cuts_to_threshold(*fit, table, 300, 0.95, IntervalMethod::profile);
    ASSERT_TRUE(profile.low && profile.high) << name_of(truth.model);
    const double width = std::log(*delta.high / *delta.low);
    EXPECT_NEAR(std::log(*profile.low / *delta.low), 0, 0.3 * width);
    EXPECT_NEAR(std::log(*profile.high / *delta.high), 0, 0.3 * width);
  }
}

TEST(CurveBootstrap, IsTheSameForAnyWorkerCountAndNearTheDeltaInterval) {
  const auto readings = readings_of(kPower, 0.05, 12);
  const auto table = collapse(readings);
  const auto fit = fit_curve(CurveModel::power, table);
  const BootstrapOptions options{800, 99, 3, 0.95, 300};
  stats::Work one, many;
  many.workers = 7;
  const auto a = bootstrap_curve(*fit, readings, options, one);
  const auto b = bootstrap_curve(*fit, readings, options, many);
  EXPECT_EQ(*a->low, *b->low);
  EXPECT_EQ(*a->high, *b->high);
  EXPECT_EQ(a->refits, 800);
  const auto delta = cuts_to_threshold(*fit, table, 300);
  EXPECT_NEAR(std::log(*a->high / *a->low) / std::log(*delta.high / *delta.low), 1, 0.35);
  BootstrapOptions other = options;
  other.seed = 100;
  EXPECT_NE(*bootstrap_curve(*fit, readings, other, one)->low, *a->low);
}

TEST(Threshold, ReadsUnitsAndMultiplesOfTheFreshReading) {
  const auto trial =
      test::table(
          "run,cuts,reading,unit\nA,0,100,gf\nA,0,110,gf\nA,0,120,gf\nB,0,1.96133,N\nC,5,90,gf\n")
          .trial;
  std::vector<RunFit> fits;
  for (const auto& run : trial.runs) fits.push_back(fit_run(run, Unit::gf));
  EXPECT_NEAR(*median_fresh_reading(fits), 155, 1e-9);  // runs 110 and 200
  EXPECT_NEAR(parse_threshold("3x", Unit::gf, fits, true)->value, 465, 1e-9);
  EXPECT_NEAR(parse_threshold("4.90332 N", Unit::gf, fits, false)->value, 500, 1e-3);
  EXPECT_DOUBLE_EQ(parse_threshold("450gf", Unit::gf, fits, false)->value, 450);
  for (const char* text : {"450", "0 gf", "-3 gf", "5 mm", "x", "", "3 g"})
    EXPECT_FALSE(parse_threshold(text, Unit::gf, fits, false).ok()) << text;
  EXPECT_FALSE(parse_threshold("3x", Unit::gf, {}, false).ok());
}
