// Power-model fits per second, side by side in one run: ours, Eigen's unsupported
// Levenberg–Marquardt with analytic derivatives, and the bare cost of the exponentials and
// logarithms. Then the bootstrap.
#include <chrono>
#include <cmath>
#include <cstdio>
#include <unsupported/Eigen/NonLinearOptimization>

#include "bluntness/curve_bootstrap.h"
#include "bluntness/curve_choice.h"
#include "bluntness/curve_kernel.h"
#include "stats/random.h"

using namespace bq;

namespace {

using Clock = std::chrono::steady_clock;

struct DataSet {
  std::vector<LogReading> readings;
  Eigen::Vector3d start;  ///< the same cold start for both solvers
};

/// r0 + k·n^b with 5 % scatter, truth varied from set to set.
DataSet make(std::uint64_t seed, int counts, int each) {
  stats::Random random(seed);
  const double r0 = 60 + 60 * random.uniform(), k = 1 + 4 * random.uniform(),
               b = 0.5 + 0.5 * random.uniform();
  DataSet set;
  for (int i = 0; i < counts; ++i) {
    const double n = i == 0 ? 0 : std::round(5 * std::pow(240.0, double(i) / (counts - 1)) + i);
    for (int j = 0; j < each; ++j)
      set.readings.push_back(
          {n, std::log(r0 + (n > 0 ? k * std::pow(n, b) : 0)) + 0.05 * random.normal(), 1});
  }
  const double first = std::exp(set.readings.front().log_value),
               last = std::exp(set.readings.back().log_value);
  set.start = {std::log(0.99 * first), std::log((last - first) / 2), std::log(0.8)};
  return set;
}

/// The problem as Eigen's solver wants it: ln r0, ln k (at the reference count), ln b.
struct EigenProblem {
  enum { InputsAtCompileTime = 3, ValuesAtCompileTime = Eigen::Dynamic };
  using Scalar = double;
  using InputType = Eigen::Vector3d;
  using ValueType = Eigen::VectorXd;
  using JacobianType = Eigen::Matrix<double, Eigen::Dynamic, 3>;
  const std::vector<LogReading>& readings;
  std::vector<double> u;  ///< ln(n/reference)
  explicit EigenProblem(const std::vector<LogReading>& r) : readings(r) {
    double sum = 0;
    int positive = 0;
    for (const auto& x : readings)
      if (x.cuts > 0) {
        sum += std::log(x.cuts);
        ++positive;
      }
    for (const auto& x : readings) u.push_back(x.cuts > 0 ? std::log(x.cuts) - sum / positive : 0);
  }
  [[nodiscard]] int inputs() const { return 3; }
  [[nodiscard]] int values() const { return int(readings.size()); }
  int operator()(const Eigen::VectorXd& p, Eigen::VectorXd& f) const {
    const double r0 = std::exp(p[0]), k = std::exp(p[1]), b = std::exp(p[2]);
    for (int i = 0; i < values(); ++i) {
      const auto& x = readings[std::size_t(i)];
      f[i] = std::log(r0 + (x.cuts > 0 ? k * std::exp(b * u[std::size_t(i)]) : 0)) - x.log_value;
    }
    return 0;
  }
  int df(const Eigen::VectorXd& p, Eigen::MatrixXd& J) const {
    const double r0 = std::exp(p[0]), k = std::exp(p[1]), b = std::exp(p[2]);
    for (int i = 0; i < values(); ++i) {
      const auto& x = readings[std::size_t(i)];
      const double wear = x.cuts > 0 ? k * std::exp(b * u[std::size_t(i)]) : 0, g = r0 + wear;
      J(i, 0) = r0 / g;
      J(i, 1) = wear / g;
      J(i, 2) = wear * b * u[std::size_t(i)] / g;
    }
    return 0;
  }
};

double eigen_fit(const DataSet& set) {
  EigenProblem problem(set.readings);
  Eigen::LevenbergMarquardt<EigenProblem> solver(problem);
  solver.parameters.ftol = solver.parameters.xtol = 1e-10;
  Eigen::VectorXd p = set.start;
  solver.minimize(p);
  return solver.fnorm * solver.fnorm;
}

template <class Work>
double seconds(Work work) {
  const auto start = Clock::now();
  work();
  return std::chrono::duration<double>(Clock::now() - start).count();
}

void compare(const char* name, int counts, int each, double wanted_ratio) {
  std::vector<DataSet> sets;
  for (std::uint64_t seed = 1; seed <= 300; ++seed) sets.push_back(make(seed, counts, each));
  double ours = 1e9, eigen = 1e9, floor = 1e9, vector_floor = 1e9, sink = 0, worst = 0;
  long evaluations = 0;
  std::vector<CheckpointTable> tables;
  for (const auto& set : sets) tables.push_back(collapse(set.readings));
  std::vector<int> looks;
  for (std::size_t i = 0; i < sets.size(); ++i) {
    const auto found = solve_curve(CurveModel::power, tables[i]);
    looks.push_back(found.evaluations);
    evaluations += found.evaluations;
    const double sse = found.between_sum + tables[i].within_sum;
    worst = std::max(worst, (sse - eigen_fit(sets[i])) / sse);
    if (!found.converged) std::printf("  set %zu did not converge\n", i);
  }
  // Interleaved, the best of nine rounds each: noise only ever adds.
  for (int round = 0; round < 9; ++round) {
    ours = std::min(ours, seconds([&] {
                      for (const auto& set : sets)
                        sink += solve_curve(CurveModel::power, collapse(set.readings)).between_sum;
                    }));
    eigen = std::min(eigen, seconds([&] {
                       for (const auto& set : sets) sink += eigen_fit(set);
                     }));
    // One exponential and one logarithm a point in every look, and once more in the cold start:
    // with the C library's functions, and with the four-wide ones that the solver calls.
    floor = std::min(
        floor, seconds([&] {
          for (std::size_t i = 0; i < sets.size(); ++i)
            for (int look = 0; look < looks[i] + 1; ++look)
              for (std::size_t j = 0; j < tables[i].checkpoints; ++j)
                sink += std::log(1 + std::exp((0.7 + 0.001 * look) * tables[i].log_cuts[j]));
        }));
    vector_floor = std::min(vector_floor, seconds([&] {
                              for (std::size_t i = 0; i < sets.size(); ++i)
                                for (int look = 0; look < looks[i] + 1; ++look)
                                  sink += kernel::exp_log_floor(tables[i], 0.7 + 0.001 * look);
                            }));
  }
  // The fit alone, as the refits of a bootstrap see it (readings collapsed before).
  double solve = 1e9;
  for (int round = 0; round < 9; ++round)
    solve = std::min(solve, seconds([&] {
                       for (const auto& table : tables)
                         sink += solve_curve(CurveModel::power, table).between_sum;
                     }));
  const double n = double(sets.size());
  std::printf("%s\n  ours, from readings   %9.0f fits/s   %.1f looks a fit\n", name, n / ours,
              double(evaluations) / n);
  std::printf("  ours, fit alone       %9.0f fits/s\n", n / solve);
  std::printf("  Eigen's solver        %9.0f fits/s\n", n / eigen);
  std::printf("  ratio to Eigen's      %9.1f x        (wanted: at least %.0f)\n", eigen / ours,
              wanted_ratio);
  std::printf(
      "  fit alone over the exp/log floor %.2f x with the C library's functions (wanted: at most "
      "2.5), %.2f x with our four-wide ones\n",
      solve / floor, solve / vector_floor);
  std::printf("  worst excess of our sum of squares over Eigen's: %.1e of it   [%g]\n", worst,
              sink > 0 ? 0.0 : 1.0);
}

void bootstrap() {
  std::vector<DataSet> runs;
  std::vector<CurveFit> fits;
  for (std::uint64_t seed = 1; seed <= 24; ++seed) {
    runs.push_back(make(seed + 900, 10, 4));
    fits.push_back(choose_curve(runs.back().readings, {CurveModel::power, false})->fit);
  }
  for (const unsigned workers : {1u, 2u}) {
    double best = 1e9;
    long refits = 0;
    for (int round = 0; round < 5; ++round) {
      refits = 0;
      best = std::min(
          best, seconds([&] {
            stats::Work work;
            work.workers = workers;
            for (std::size_t i = 0; i < runs.size(); ++i)
              refits +=
                  bootstrap_curve(fits[i], runs[i].readings, {1000, 7, i, 0.95, 300}, work)->refits;
          }));
    }
    std::printf(
        "bootstrap, 24 runs x 40 readings x 1000 refits, %u worker(s): %.3f s for %ld refits   "
        "(wanted on two: under 0.2)\n",
        workers, best, refits);
  }
}

}  // namespace

int main() {
  compare("60 readings at 60 counts", 60, 1, 3);
  compare("60 readings at 12 checkpoints", 12, 5, 12);
  bootstrap();
}
