// Certified results of the NIST Statistical Reference Datasets (public domain): Longley (linear,
// higher difficulty), Misra1a and DanWood (nonlinear, lower difficulty). Data and certified values
// as published.
#include <gtest/gtest.h>

#include <Eigen/LU>
#include <cmath>

#include "stats/least_squares.h"
#include "stats/levenberg_marquardt.h"

using namespace bq::stats;

namespace {

/// Digits in which a value agrees with the certified one.
double digits(double value, double certified) {
  return -std::log10(std::max(1e-16, std::abs(value - certified) / std::abs(certified)));
}

struct CertifiedCurve {
  std::vector<double> x, y;
};

/// Fits y = f(x; b) by the solver under test, from a start.
template <class Model>
LmResult<2> fit(const CertifiedCurve& data, const Eigen::Vector2d& start, const Model& model) {
  LmOptions options;
  options.tolerance = 1e-18;
  options.max_evaluations = 2000;
  const auto evaluate = [&](const Eigen::Vector2d& b) {
    NormalEquations<2> out;
    for (std::size_t i = 0; i < data.x.size(); ++i) {
      const auto [value, j] = model(data.x[i], b);
      const double residual = data.y[i] - value;
      out.sum_of_squares += residual * residual;
      out.gradient += residual * j;
      out.information += j * j.transpose();
    }
    return out;
  };
  return levenberg_marquardt<2>(start, Eigen::Vector2d(-1e9, -1e9), Eigen::Vector2d(1e9, 1e9),
                                evaluate, options);
}

}  // namespace

TEST(Certified, LongleyIsFittedToNineDigits) {
  const double y[16] = {60323, 61122, 60171, 61187, 63221, 63639, 64989, 63761,
                        66019, 67857, 68169, 66513, 68655, 69564, 69331, 70551};
  const double x[6][16] = {{83.0, 88.5, 88.2, 89.5, 96.2, 98.1, 99.0, 100.0, 101.2, 104.6, 108.4,
                            110.8, 112.6, 114.2, 115.7, 116.9},
                           {234289, 259426, 258054, 284599, 328975, 346999, 365385, 363112, 397469,
                            419180, 442769, 444546, 482704, 502601, 518173, 554894},
                           {2356, 2325, 3682, 3351, 2099, 1932, 1870, 3578, 2904, 2822, 2936, 4681,
                            3813, 3931, 4806, 4007},
                           {1590, 1456, 1616, 1650, 3099, 3594, 3547, 3350, 3048, 2857, 2798, 2637,
                            2552, 2514, 2572, 2827},
                           {107608, 108632, 109773, 110929, 112075, 113270, 115094, 116219, 117388,
                            118734, 120445, 121950, 123366, 125368, 127852, 130081},
                           {1947, 1948, 1949, 1950, 1951, 1952, 1953, 1954, 1955, 1956, 1957, 1958,
                            1959, 1960, 1961, 1962}};
  const double certified[7] = {-3482258.63459582, 15.0618722713733,  -0.358191792925910e-01,
                               -2.02022980381683, -1.03322686717359, -0.511041056535807e-01,
                               1829.15146461355};
  const double certified_error[7] = {890420.383607373,  84.9149257747669,  0.334910077722432e-01,
                                     0.488399681651699, 0.214274163161675, 0.226073200069370,
                                     455.478499142212};
  Eigen::MatrixXd X(16, 7);
  Eigen::VectorXd Y(16);
  for (int i = 0; i < 16; ++i) {
    X(i, 0) = 1;
    for (int j = 0; j < 6; ++j) X(i, j + 1) = x[j][i];
    Y[i] = y[i];
  }
  const auto found = least_squares(X, Y);
  ASSERT_TRUE(found.ok()) << found.refusal().reason;
  for (int j = 0; j < 7; ++j) {
    EXPECT_GT(digits(found->coefficients[j], certified[j]), 9) << j;
    EXPECT_GT(digits(found->standard_error(j), certified_error[j]), 8) << j;
  }
  EXPECT_GT(digits(found->sigma(), 304.854073561965), 9);
}

TEST(Certified, Misra1aIsReachedFromBothStarts) {
  const CertifiedCurve data{{77.6, 114.9, 141.1, 190.8, 239.9, 289.0, 332.8, 378.4, 434.8, 477.3,
                             536.8, 593.1, 689.1, 760.0},
                            {10.07, 14.73, 17.94, 23.93, 29.61, 35.18, 40.02, 44.82, 50.76, 55.05,
                             61.01, 66.40, 75.47, 81.78}};
  const auto model = [](double x, const Eigen::Vector2d& b) {
    const double decay = std::exp(-b[1] * x);
    return std::pair(b[0] * (1 - decay), Eigen::Vector2d(1 - decay, b[0] * x * decay));
  };
  for (const auto& start : {Eigen::Vector2d(500, 0.0001), Eigen::Vector2d(250, 0.0005)}) {
    const auto found = fit(data, start, model);
    EXPECT_TRUE(found.converged());
    EXPECT_GT(digits(found.parameters[0], 2.3894212918e+02), 8);
    EXPECT_GT(digits(found.parameters[1], 5.5015643181e-04), 8);
    EXPECT_GT(digits(found.at.sum_of_squares, 1.2455138894e-01), 8);
    const double sigma = std::sqrt(found.at.sum_of_squares / 12);
    const Eigen::Matrix2d inverse = found.at.information.inverse();
    EXPECT_GT(digits(sigma * std::sqrt(inverse(0, 0)), 2.7070075241e+00), 6);
    EXPECT_GT(digits(sigma * std::sqrt(inverse(1, 1)), 7.2668688436e-06), 6);
  }
}

TEST(Certified, DanWoodIsReachedFromBothStarts) {
  const CertifiedCurve data{{1.309, 1.471, 1.490, 1.565, 1.611, 1.680},
                            {2.138, 3.421, 3.597, 4.340, 4.882, 5.660}};
  const auto model = [](double x, const Eigen::Vector2d& b) {
    const double power = std::pow(x, b[1]);
    return std::pair(b[0] * power, Eigen::Vector2d(power, b[0] * power * std::log(x)));
  };
  for (const auto& start : {Eigen::Vector2d(1, 5), Eigen::Vector2d(0.7, 4)}) {
    const auto found = fit(data, start, model);
    EXPECT_TRUE(found.converged());
    EXPECT_GT(digits(found.parameters[0], 7.6886226176e-01), 8);
    EXPECT_GT(digits(found.parameters[1], 3.8604055871e+00), 8);
    EXPECT_GT(digits(found.at.sum_of_squares, 4.3173084083e-03), 8);
  }
}
