#include "bluntness/angle_tolerance.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <utility>

#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "trial/making.h"

namespace bq::inline bluntness {
namespace {

constexpr int kLeastSpare = 4;  ///< with fewer the spread of the readings is hardly known
/// An angle is its log's mean when it is that to what a table shows of it.
constexpr double kRounded_deg = 0.06;

/// The readings of one side in one making.
struct SideLog {
  int n = 0;
  double mean = 0, squares = 0;  ///< squares about the mean
  void add(double angle) {
    ++n;
    const double off = angle - mean;
    mean += off / n;
    squares += off * (angle - mean);
  }
};
using Log = std::array<SideLog, 2>;

/// Logs of the bevel at the apex, by the run that was cut with it; the spread counts each making
/// once, however many runs were cut with it.
struct Logs {
  std::map<std::string, Log> of;
  int logs = 0, readings = 0, spare = 0;
  double squares = 0;
  void count(const Log& log) {
    bool counts = false;
    for (const auto& side : log)
      if (side.n > 1) {
        squares += side.squares;
        spare += side.n - 1;
        readings += side.n;
        counts = true;
      }
    logs += counts;
  }
};

Logs logs_of(const Trial& trial) {
  Logs out;
  for (std::size_t b = 0; b < trial.blades.size(); ++b) {
    const auto& records = trial.blades[b].records;
    for (const Making& making : makings_of(trial, b).all) {
      bool counted = false;
      for (const std::size_t run : making.runs) {
        const auto& facts = trial.runs[run].facts;
        if (!facts.geometry) continue;
        const bool micro = facts.geometry->micro().has_value();
        Log log;
        for (std::size_t i = making.sharpening ? *making.sharpening + 1 : 0; i < making.end; ++i)
          if (const auto* angle = std::get_if<AngleRecord>(&records[i].data);
              angle && (angle->bevel == MeasuredBevel::micro_bevel) == micro)
            log[angle->side == EdgeSide::left ? 0 : 1].add(angle->angle_deg);
        if (log[0].n + log[1].n == 0) continue;
        out.of[facts.name] = log;
        if (!std::exchange(counted, true)) out.count(log);
      }
    }
  }
  return out;
}

double mean_of(const Log& log) {
  if (log[0].n == 0) return log[1].mean;
  if (log[1].n == 0) return log[0].mean;
  return 0.5 * (log[0].mean + log[1].mean);
}

/// Variance of that mean as a multiple of a reading's.
double share_of(const Log& log) {
  if (log[0].n == 0) return 1.0 / log[1].n;
  if (log[1].n == 0) return 1.0 / log[0].n;
  return 0.25 * (1.0 / log[0].n + 1.0 / log[1].n);
}

}  // namespace

bool has_one_slope(const LifeSpec& spec) {
  return std::find(spec.terms.begin(), spec.terms.end(), "angle") != spec.terms.end() &&
         std::none_of(spec.terms.begin(), spec.terms.end(), is_shape_of_angle) &&
         std::none_of(spec.interactions.begin(), spec.interactions.end(), [](const auto& pair) {
           return pair.first == "angle" || pair.second == "angle";
         });
}

std::optional<AngleTolerance> angle_tolerance(const Trial& trial, const LifeModel& model) {
  if (!has_one_slope(model.spec())) return std::nullopt;
  const auto coefficients = model.coefficients();
  const auto slope = std::find_if(coefficients.begin(), coefficients.end(),
                                  [](const auto& c) { return c.name == "ln tan angle"; });
  if (slope == coefficients.end()) return std::nullopt;
  const auto column = Eigen::Index(slope - coefficients.begin());

  const Logs logs = logs_of(trial);
  if (logs.spare < kLeastSpare) return std::nullopt;
  const double variance = logs.squares / logs.spare;
  AngleTolerance out;
  out.logs = logs.logs;
  out.readings = logs.readings;
  out.reading_sd_deg = std::sqrt(variance);

  std::map<double, int> shared;  // runs that state this very angle
  for (const auto& row : model.rows()) ++shared[row.facts.geometry->apex().equivalent_deg()];
  double known = 0, error = 0;
  int with_log = 0;
  for (const auto& row : model.rows()) {
    const auto log = logs.of.find(row.facts.name);
    if (log == logs.of.end()) continue;
    const double stated = row.facts.geometry->apex().equivalent_deg();
    const double of_mean = variance * share_of(log->second);
    known += std::sqrt(of_mean);
    ++with_log;
    if (shared[stated] > 1 || std::fabs(stated - mean_of(log->second)) > kRounded_deg) continue;
    ++out.measured;
    // d ln tan θ/dθ = 2/sin 2θ, θ in radians.
    const double steep = 2 / std::sin(2 * radians(stated)) * radians(1);
    error += of_mean * steep * steep;
  }
  if (with_log == 0) return std::nullopt;
  const double t = stats::t_quantile(0.975, logs.spare);
  out.plus_minus_deg = t * known / with_log;

  // What is left of ln tan beside the other columns is what the slope is fitted on.
  const Eigen::MatrixXd& X = model.design();
  Eigen::MatrixXd others(X.rows(), X.cols() - 1);
  others << X.leftCols(column), X.rightCols(X.cols() - column - 1);
  const Eigen::VectorXd x = X.col(column);
  const Eigen::VectorXd left = x - others * stats::least_squares_solution(others, x);
  const double free = double(X.rows() - others.cols()) / double(X.rows());
  const double noise = error * free / left.squaredNorm();
  out.reliability = std::max(0.0, 1 - noise);
  out.slope = slope->estimate;
  if (out.reliability < 0.5) return out;
  const double corrected = slope->estimate / out.reliability;
  const double by_slope = slope->standard_error / out.reliability;
  const double by_noise = corrected * noise * std::sqrt(2.0 / logs.spare) / out.reliability;
  const Eigen::VectorXd unit = Eigen::VectorXd::Unit(X.cols(), column);
  const double half =
      stats::t_quantile(0.5 + model.spec().level / 2, model.degrees_of_freedom(unit)) *
      std::hypot(by_slope, by_noise);
  out.corrected = {corrected, corrected - half, corrected + half};
  return out;
}

std::string tolerance_sentence(const AngleTolerance& known) {
  const std::string basis = said(
      "Angles are known to ±{plus_minus_deg}° per side (95 %, {readings} readings in {logs} logs)",
      {{"plus_minus_deg", print_number(known.plus_minus_deg, 2)},
       {"readings", std::to_string(known.readings)},
       {"logs", std::to_string(known.logs)}});
  if (known.measured == 0)
    return said(
        "{basis}; they were set, not taken from the readings, so this scatters the lives and does "
        "not flatten the slope.",
        {{"basis", basis}});
  if (!known.corrected)
    return said(
        "{basis}: that is as much as they differ from run to run, so the slope says nothing; "
        "measure them more often, or test angles farther apart.",
        {{"basis", basis}});
  const double flat = 100 * (1 - known.reliability);
  return said(
      "{basis}, which flattens the slope by {flat} %: {slope} is to be read as {slope_2} ({low} to "
      "{high}).",
      {{"basis", basis},
       {"flat", print_number(flat, flat < 1 ? 1 : 2)},
       {"slope", print_fixed(known.slope, 2)},
       {"slope_2", print_fixed(known.corrected->slope, 2)},
       {"low", print_fixed(known.corrected->low, 2)},
       {"high", print_fixed(known.corrected->high, 2)}});
}

}  // namespace bq::inline bluntness
