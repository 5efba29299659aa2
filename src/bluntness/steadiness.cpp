#include "bluntness/steadiness.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"

namespace bq::inline bluntness {
namespace {

SteadyStroke figures_of(std::vector<double> angles) {
  SteadyStroke out;
  out.samples = int(angles.size());
  for (const double a : angles) out.mean_deg += a / double(angles.size());
  double squares = 0;
  for (const double a : angles) squares += (a - out.mean_deg) * (a - out.mean_deg);
  out.sd_deg = angles.size() > 1 ? std::sqrt(squares / double(angles.size() - 1)) : 0;
  // Linear between order statistics.
  std::sort(angles.begin(), angles.end());
  const double place = 0.95 * double(angles.size() - 1);
  const auto below = std::size_t(place);
  out.tail_deg =
      angles[below] +
      (place - double(below)) * (angles[std::min(below + 1, angles.size() - 1)] - angles[below]);
  return out;
}

}  // namespace

std::vector<SteadyStroke> strokes_of(const std::vector<float>& trace, double rate_hz,
                                     double target_deg, const SteadinessOptions& options) {
  std::vector<SteadyStroke> out;
  const auto edge = std::size_t(std::lround(0.1 * rate_hz));
  const auto least = std::max<std::size_t>(3, std::size_t(options.least_seconds * rate_hz));
  for (std::size_t i = 0; i < trace.size();) {
    if (std::fabs(double(trace[i]) - target_deg) > options.lift_deg) {
      ++i;
      continue;
    }
    std::size_t end = i;
    while (end < trace.size() && std::fabs(double(trace[end]) - target_deg) <= options.lift_deg)
      ++end;
    if (end - i >= least && end - i > 2 * edge + 2) {
      std::vector<double> angles(trace.begin() + std::ptrdiff_t(i + edge),
                                 trace.begin() + std::ptrdiff_t(end - edge));
      out.push_back(figures_of(std::move(angles)));
    }
    i = end;
  }
  return out;
}

std::optional<Steadiness> steadiness_of(const SteadinessSession& session) {
  const auto& strokes = session.strokes;
  if (strokes.empty()) return std::nullopt;
  Steadiness out;
  out.strokes = int(strokes.size());
  const double n = double(strokes.size());
  double squares = 0, freedom = 0;
  for (const auto& s : strokes) {
    out.mean_deg += s.mean_deg / n;
    out.tail_deg += s.tail_deg / n;
    squares += s.sd_deg * s.sd_deg * double(s.samples - 1);
    freedom += double(s.samples - 1);
  }
  out.within_sd_deg = freedom > 0 ? std::sqrt(squares / freedom) : 0;
  double means = 0, tails = 0;
  for (const auto& s : strokes) {
    means += (s.mean_deg - out.mean_deg) * (s.mean_deg - out.mean_deg);
    tails += (s.tail_deg - out.tail_deg) * (s.tail_deg - out.tail_deg);
  }
  if (strokes.size() > 1) out.between_sd_deg = std::sqrt(means / (n - 1));
  if (strokes.size() > 2) {
    const double half = stats::t_quantile(0.975, n - 1) * std::sqrt(tails / (n - 1) / n);
    out.tail_low = out.tail_deg - half;
    out.tail_high = out.tail_deg + half;
  }
  out.over_target_deg = out.tail_deg - session.target_deg;
  return out;
}

/// Scatter above it (SD) is not called steady: ±2° of a stroke's angle moves the apex by a whole
/// step of the customary angles.
constexpr double kSteady_deg = 1;

std::string describe(const Steadiness& s, double target_deg) {
  const auto degrees = [](double value) { return print_fixed(value, 1) + "°"; };
  std::string text =
      said("The steepest moments decide the apex: {degrees}", {{"degrees", degrees(s.tail_deg)}});
  if (s.tail_low)
    text += said(" ({degrees} to {degrees_2})",
                 {{"degrees", degrees(*s.tail_low)}, {"degrees_2", degrees(*s.tail_high)}});
  const double over = s.over_target_deg;
  text += said(", {degrees}{over} the {degrees_2} aimed at (per side). ",
               {{"degrees", degrees(std::fabs(over))},
                {"over", over >= 0 ? said(" over") : said(" under")},
                {"degrees_2", degrees(target_deg)}});
  text +=
      said("Within a stroke the angle scatters by {degrees} (SD), between strokes by {degrees_2}. ",
           {{"degrees", degrees(s.within_sd_deg)}, {"degrees_2", degrees(s.between_sd_deg)}});
  if (over > 1 && s.between_sd_deg < 0.7 * s.within_sd_deg)
    text += said("Most of it happens inside a stroke: mind its end, where the hand tips up.");
  else if (over > 1)
    text += said("Strokes differ among themselves: set the angle anew before each one.");
  else if (s.within_sd_deg > kSteady_deg || s.between_sd_deg > kSteady_deg)
    text += said("The mean is near, but no stroke can be relied on: slower strokes, or a guide.");
  else if (over < -1)
    text += said("Steady, but flatter than aimed at: the apex is not reached. Raise the hand.");
  else
    text += said("That is steady.");
  return text;
}

}  // namespace bq::inline bluntness
