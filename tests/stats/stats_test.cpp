#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <algorithm>
#include <cmath>

#include "stats/censored_regression.h"
#include "stats/distributions.h"
#include "stats/least_squares.h"
#include "stats/levenberg_marquardt.h"
#include "stats/parallel.h"
#include "stats/random.h"
#include "stats/variance_shares.h"

using namespace bq::stats;

namespace {

Eigen::MatrixXd random_design(Random& random, int n, int p) {
  Eigen::MatrixXd X(n, p);
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < p; ++j) X(i, j) = j == 0 ? 1 : random.normal();
  return X;
}

}  // namespace

TEST(Stats, DistributionsAgreeWithTables) {
  EXPECT_NEAR(t_quantile(0.975, 10), 2.228138852, 1e-8);
  EXPECT_NEAR(t_quantile(0.975, 1e7), 1.959964, 1e-5);
  EXPECT_NEAR(t_two_sided_p(2.228138852, 10), 0.05, 1e-9);
  EXPECT_NEAR(normal_log_survival(0), std::log(0.5), 1e-14);
  // Far out, against the continued fraction's leading terms and across the switch at 20.
  EXPECT_NEAR(normal_log_survival(19.999), normal_log_survival(20.001) + 0.002 * normal_hazard(20),
              1e-6);
  EXPECT_NEAR(normal_hazard(30), 30.0332591, 1e-6);
  EXPECT_NEAR(aicc(-10, 3, 12), 26 + 24.0 / 8, 1e-12);
  EXPECT_TRUE(std::isinf(aicc(-10, 3, 4)));
}

TEST(Stats, LeastSquaresMatchesTheNormalEquationsAndNamesTheCulprit) {
  Random random(5);
  const Eigen::MatrixXd X = random_design(random, 30, 4);
  Eigen::VectorXd y(30);
  for (int i = 0; i < 30; ++i) y[i] = random.normal();
  const auto fit = least_squares(X, y);
  ASSERT_TRUE(fit.ok());
  const Eigen::VectorXd normal = (X.transpose() * X).ldlt().solve(X.transpose() * y);
  EXPECT_LT((fit->coefficients - normal).norm(), 1e-12);
  EXPECT_LT((fit->unscaled_covariance - (X.transpose() * X).inverse()).norm(), 1e-12);
  Eigen::MatrixXd dependent = X;
  dependent.col(2) = 2 * X.col(1) - X.col(0);
  const auto refused = least_squares(dependent, y);
  ASSERT_FALSE(refused.ok());
  EXPECT_EQ(refused.refusal().place, 2u);
  EXPECT_FALSE(least_squares(X.topRows(4), y.head(4)).ok());
}

TEST(Stats, LevenbergMarquardtSolvesTheRosenbrockValleyAndStaysInItsBox) {
  // r1 = 10(x2 − x1²), r2 = 1 − x1, minimum at (1, 1).
  const auto valley = [](const Eigen::Vector2d& x) {
    NormalEquations<2> at;
    const Eigen::Vector2d r(-10 * (x[1] - x[0] * x[0]), -(1 - x[0]));  // data (0) − model
    Eigen::Matrix2d J;
    J << -20 * x[0], 10, -1, 0;
    at.sum_of_squares = r.squaredNorm();
    at.gradient = J.transpose() * r;
    at.information = J.transpose() * J;
    return at;
  };
  const Eigen::Vector2d wide(10, 10);
  const auto free = levenberg_marquardt<2>({-1.2, 1}, -wide, wide, valley);
  EXPECT_TRUE(free.converged());
  EXPECT_LT((free.parameters - Eigen::Vector2d(1, 1)).norm(), 1e-6);
  const auto boxed = levenberg_marquardt<2>({-1.2, 1}, -wide, {0.5, 10}, valley);
  EXPECT_TRUE(boxed.converged());
  EXPECT_NEAR(boxed.parameters[0], 0.5, 1e-12);
  EXPECT_NEAR(boxed.parameters[1], 0.25, 1e-6);
  EXPECT_TRUE(boxed.at_bound[0]);
}

TEST(CensoredRegression, WithNothingCensoredIsLeastSquares) {
  for (std::uint64_t seed = 1; seed <= 20; ++seed) {
    Random random(seed);
    const int n = 8 + int(random.below(40)), p = 2 + int(random.below(3));
    const Eigen::MatrixXd X = random_design(random, n, p);
    Eigen::VectorXd y(n);
    std::vector<Bounds> bounds;
    for (int i = 0; i < n; ++i) {
      y[i] = 6 + X(i, 1) + 0.3 * random.normal();
      bounds.push_back(Bounds::exact(y[i]));
    }
    const auto ols = least_squares(X, y);
    const auto ml = censored_regression(X, bounds);
    ASSERT_TRUE(ols.ok() && ml.ok());
    EXPECT_LT((ols->coefficients - ml->coefficients).cwiseAbs().maxCoeff(), 1e-8);
    EXPECT_NEAR(ols->sigma(), ml->sigma(), 1e-8);
    for (int i = 0; i < p; ++i)
      EXPECT_NEAR(ols->standard_error(i), ml->standard_error(Eigen::VectorXd::Unit(p, i)), 1e-8);
  }
}

TEST(CensoredRegression, StandsAtAMaximumWithTheRightCurvature) {
  // Independent check by finite differences of a likelihood written from scratch.
  Random random(11);
  const int n = 40;
  const Eigen::MatrixXd X = random_design(random, n, 3);
  std::vector<Bounds> y;
  for (int i = 0; i < n; ++i) {
    const double exact = 5 + X(i, 1) - 0.5 * X(i, 2) + 0.4 * random.normal();
    const int kind = int(random.below(5));
    y.push_back(kind == 0   ? Bounds::above(exact - 0.2)
                : kind == 1 ? Bounds::below(exact + 0.3)
                : kind == 2 ? Bounds{exact - 0.3, exact + 0.1}
                            : Bounds::exact(exact));
  }
  const auto log_likelihood = [&](const Eigen::VectorXd& beta, double sigma) {
    double sum = 0;
    for (int i = 0; i < n; ++i) {
      const double mean = X.row(i) * beta;
      const Bounds& b = y[std::size_t(i)];
      const double low = (b.low - mean) / sigma, high = (b.high - mean) / sigma;
      sum += b.is_exact() ? std::log(normal_density(low) / sigma)
                          : std::log(normal_cdf(high) - normal_cdf(low));
    }
    return sum;
  };
  const auto fit = censored_regression(X, y);
  ASSERT_TRUE(fit.ok());
  EXPECT_NEAR(fit->log_likelihood, log_likelihood(fit->coefficients, fit->sigma_ml), 1e-9);
  const double h = 1e-4;
  Eigen::MatrixXd hessian(4, 4);
  const auto at = [&](int i, double di, int j, double dj) {
    Eigen::VectorXd beta = fit->coefficients;
    double sigma = fit->sigma_ml;
    for (const auto& [k, d] : {std::pair(i, di), std::pair(j, dj)}) (k < 3 ? beta[k] : sigma) += d;
    return log_likelihood(beta, sigma);
  };
  for (int i = 0; i < 4; ++i) {
    EXPECT_NEAR((at(i, h, i, 0) - at(i, -h, i, 0)) / (2 * h), 0, 1e-4) << "gradient " << i;
    for (int j = 0; j < 4; ++j)
      hessian(i, j) =
          (at(i, h, j, h) - at(i, h, j, -h) - at(i, -h, j, h) + at(i, -h, j, -h)) / (4 * h * h);
  }
  const Eigen::MatrixXd covariance = (-hessian).inverse().topLeftCorner(3, 3);
  EXPECT_LT((covariance - fit->covariance).norm(), 1e-4 * covariance.norm());
}

// Two exact values and three coefficients: one direction is free. Where some point along it keeps
// within every bound the scatter can shrink to nothing (it was told as 3e-8, p = 1e-14).
TEST(CensoredRegression, RefusesAScatterThatCanShrinkToNothing) {
  Random random(598);
  int refused = 0, answered = 0;
  for (int round = 0; round < 400; ++round) {
    const int n = 5 + int(random.below(5));
    const Eigen::MatrixXd X = random_design(random, n, 3);
    std::vector<Bounds> y;
    for (int i = 0; i < n; ++i) {
      const double value = 2 * random.normal();
      y.push_back(i < 2             ? Bounds::exact(value)
                  : random.below(2) ? Bounds::above(value)
                                    : Bounds::below(value));
    }
    // The truth by trying: β = at + z·free, at every z where a bound is met and between them.
    const Eigen::Vector3d first = X.row(0), second = X.row(1);
    const Eigen::Vector3d free = first.cross(second);
    const Eigen::Vector3d at =
        X.topRows(2).colPivHouseholderQr().solve(Eigen::Vector2d(y[0].low, y[1].low));
    std::vector<double> meets;
    for (int i = 2; i < n; ++i) {
      const double bound = std::isfinite(y[i].low) ? y[i].low : y[i].high;
      meets.push_back((bound - X.row(i).dot(at)) / X.row(i).dot(free));
    }
    std::sort(meets.begin(), meets.end());
    std::vector<double> tried{meets.front() - 1, meets.back() + 1};
    for (std::size_t i = 0; i + 1 < meets.size(); ++i)
      tried.push_back((meets[i] + meets[i + 1]) / 2);
    const bool shrinks = std::any_of(tried.begin(), tried.end(), [&](double z) {
      const Eigen::VectorXd values = X * (at + z * free);
      for (int i = 2; i < n; ++i)
        if (values[i] < y[i].low || values[i] > y[i].high) return false;
      return true;
    });
    const auto fit = censored_regression(X, y);
    EXPECT_FALSE(shrinks && fit.ok()) << round;
    refused += shrinks;
    answered += fit.ok();
  }
  EXPECT_GT(refused, 60);
  EXPECT_GT(answered, 40);
}

TEST(CensoredRegression, RefusesWhatHasNoAnswer) {
  Eigen::MatrixXd X(6, 2);
  X << 1, 0, 1, 0, 1, 0, 1, 1, 1, 1, 1, 1;
  std::vector<Bounds> all_censored(6, Bounds::above(3));
  EXPECT_FALSE(censored_regression(X, all_censored).ok());
  // One group never ended: its effect is unbounded.
  std::vector<Bounds> one_group{Bounds::exact(1), Bounds::exact(1.2), Bounds::exact(0.9),
                                Bounds::above(2), Bounds::above(2),   Bounds::above(2)};
  EXPECT_FALSE(censored_regression(X, one_group).ok());
}

TEST(ProfileInterval, OfAContrastIsTheTIntervalAndOfARatioIsFiellers) {
  Random random(3);
  const int n = 14;
  const Eigen::MatrixXd X = random_design(random, n, 2);
  Eigen::VectorXd y(n);
  std::vector<Bounds> bounds;
  for (int i = 0; i < n; ++i) {
    y[i] = 2 + 1.5 * X(i, 1) + 0.5 * random.normal();
    bounds.push_back(Bounds::exact(y[i]));
  }
  const auto ols = least_squares(X, y);
  const auto ml = censored_regression(X, bounds);
  const double cutoff = profile_cutoff(n, 2, 0.95);
  const Eigen::VectorXd slope = Eigen::VectorXd::Unit(2, 1);
  const auto interval = profile_interval(
      [&](double value) {
        return 2 * (ml->log_likelihood - constrained_log_likelihood(X, bounds, slope, value));
      },
      ols->coefficients[1], 0.1, -100, 100, cutoff);
  const double half = t_quantile(0.975, n - 2) * ols->standard_error(1);
  EXPECT_NEAR(*interval.low, ols->coefficients[1] - half, 1e-7);
  EXPECT_NEAR(*interval.high, ols->coefficients[1] + half, 1e-7);

  // Fieller for −b0/b1 from the quadratic in closed form.
  const double t2 = std::pow(t_quantile(0.975, n - 2), 2) * ols->sigma() * ols->sigma();
  const auto& V = ols->unscaled_covariance;
  const double b0 = ols->coefficients[0], b1 = ols->coefficients[1];
  const double A = b1 * b1 - t2 * V(1, 1), B = 2 * (b0 * b1 - t2 * V(0, 1)),
               C = b0 * b0 - t2 * V(0, 0);
  const double root = std::sqrt(B * B - 4 * A * C);
  const auto ratio = profile_interval(
      [&](double x) {
        const Eigen::Vector2d contrast(1, x);
        return 2 * (ml->log_likelihood - constrained_log_likelihood(X, bounds, contrast, 0));
      },
      -b0 / b1, 0.05, -50, 50, cutoff);
  EXPECT_NEAR(*ratio.low, (-B - root) / (2 * A), 1e-7);
  EXPECT_NEAR(*ratio.high, (-B + root) / (2 * A), 1e-7);
}

TEST(VarianceShares, OfAnOrthogonalDesignAreItsSumsOfSquares) {
  Eigen::MatrixXd X(8, 4);
  for (int i = 0; i < 8; ++i) X.row(i) << 1, (i & 1 ? 1 : -1), (i & 2 ? 1 : -1), (i & 4 ? 1 : -1);
  const Eigen::VectorXd fitted = X * Eigen::Vector4d(5, 3, 2, 1);
  const auto parts = averaged_contributions(X, fitted, {{{1}, {}}, {{2}, {}}, {{3}, {0, 1}}});
  EXPECT_NEAR(parts[0], 9, 1e-12);
  EXPECT_NEAR(parts[1], 4, 1e-12);
  EXPECT_NEAR(parts[2], 1, 1e-12);
}

TEST(Parallel, EveryPieceRunsOnceAndAStopIsHeard) {
  std::vector<int> seen(1000, 0);
  Work work;
  work.workers = 4;
  EXPECT_TRUE(for_each_piece(seen.size(), work, [&](std::size_t i) { ++seen[i]; }));
  EXPECT_EQ(std::count(seen.begin(), seen.end(), 1), 1000);
  std::stop_source source;
  std::atomic<int> ran{0};
  work.stop = source.get_token();
  EXPECT_FALSE(for_each_piece(100000, work, [&](std::size_t) {
    if (++ran == 50) source.request_stop();
  }));
  EXPECT_LT(ran.load(), 1000);
  work.stop = {};
  EXPECT_THROW(for_each_piece(10, work,
                              [](std::size_t i) {
                                if (i == 7) throw std::runtime_error("seven");
                              }),
               std::runtime_error);
}

TEST(Random, IsTheSameOnEveryMachineAndLooksNormal) {
  Random random(42, 7);
  EXPECT_EQ(random.next(),
            9575585145373591810ULL);  // recorded on amd64; integers only, so exact anywhere
  double sum = 0, squares = 0;
  const int n = 100000;
  for (int i = 0; i < n; ++i) {
    const double z = random.normal();
    sum += z;
    squares += z * z;
  }
  EXPECT_NEAR(sum / n, 0, 0.02);
  EXPECT_NEAR(squares / n, 1, 0.03);
}
