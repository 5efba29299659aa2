#include "lens/scale_mark.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>
#include <vector>

#include "quantity/said.h"

namespace bq::inline lens {
namespace {

constexpr double kMarkStep = 0.25;     // px between samples
constexpr double kLeastContrast = 15;  // grey levels a mark stands out by
constexpr double kMostLean_deg = 3;

/// Brightness along a short way, every kMarkStep px from -half to half.
std::vector<double> way(const GreyImage& image, Spot middle, Spot unit, double half) {
  const int n = int(std::ceil(half / kMarkStep));
  std::vector<double> out;
  for (int i = -n; i <= n; ++i) out.push_back(image.at(middle + (i * kMarkStep) * unit));
  return out;
}

/// A stretch of a profile that stands out from both its sides.
struct Band {
  double middle_px = 0, width_px = 0;  ///< from the profile's middle
  double level = 0, ground = 0;
  [[nodiscard]] double contrast() const { return level - ground; }
};

/// The band that lies nearest to the profile's middle. Ground is the median of the profile, which
/// is longer than twice the band. Empty where nothing stands out on both sides.
std::optional<Band> band_in(const std::vector<double>& values, double reach_px) {
  const int n = int(values.size()), middle = n / 2;
  Band out;
  out.ground = upper_median(values);
  std::vector<double> off;
  for (const double v : values) off.push_back(std::abs(v - out.ground));
  const double noise = 1.4826 * upper_median(off), limit = std::max(kLeastContrast, 5 * noise);
  int best = -1;
  double best_score = 0;
  for (int i = 0; i < n; ++i) {
    const double away = std::abs(i - middle) * kMarkStep;
    if (away > reach_px) continue;
    const double score =
        std::abs(values[std::size_t(i)] - out.ground) * (1 - 0.3 * away / reach_px);
    if (score > best_score) {
      best_score = score;
      best = i;
    }
  }
  if (best < 0 || std::abs(values[std::size_t(best)] - out.ground) < limit) return std::nullopt;
  out.level = values[std::size_t(best)];
  const auto inside = [&](int i) {
    return (values[std::size_t(i)] - out.ground) / (out.level - out.ground) >= 0.5;
  };
  int from = best, to = best;
  while (from > 0 && inside(from - 1)) --from;
  while (to + 1 < n && inside(to + 1)) ++to;
  if (from == 0 || to + 1 == n) return std::nullopt;
  const auto crossing = [&](int in, int beyond) {
    const double a = values[std::size_t(in)], b = values[std::size_t(beyond)],
                 half = 0.5 * (out.level + out.ground);
    const double share = a != b ? std::clamp((a - half) / (a - b), 0.0, 1.0) : 0.5;
    return (in + share * (beyond - in) - middle) * kMarkStep;
  };
  const double left = crossing(from, from - 1), right = crossing(to, to + 1);
  out.middle_px = 0.5 * (left + right);
  out.width_px = right - left;
  return out;
}

/// The band between two opposite steps nearest to the profile's middle: for a bar on a plate of its
/// own, beyond which the picture goes on, so that no one ground stands for the profile.
std::optional<Band> band_between_steps(const std::vector<double>& values, double reach_px) {
  constexpr int kOver = 6;  // samples a step is taken over
  const int n = int(values.size()), middle = n / 2;
  std::vector<int> steps;
  const auto change = [&](int i) {
    return values[std::size_t(i + kOver / 2)] - values[std::size_t(i - kOver / 2)];
  };
  for (int i = kOver; i + kOver < n; ++i)
    if (std::abs(change(i)) >= 2 * kLeastContrast &&
        std::abs(change(i)) >= std::abs(change(i - 1)) &&
        std::abs(change(i)) > std::abs(change(i + 1)))
      steps.push_back(i);
  std::optional<Band> best;
  double best_score = 0;
  for (std::size_t k = 0; k + 1 < steps.size(); ++k) {
    const int from = steps[k], to = steps[k + 1];
    if (change(from) * change(to) >= 0) continue;
    const double away = std::abs(0.5 * (from + to) - middle) * kMarkStep;
    if (away > reach_px) continue;
    const double score =
        std::min(std::abs(change(from)), std::abs(change(to))) * (1 - 0.3 * away / reach_px);
    if (score <= best_score) continue;
    best_score = score;
    Band band;
    band.middle_px = (0.5 * (from + to) - middle) * kMarkStep;
    band.width_px = (to - from) * kMarkStep;
    band.level = values[std::size_t((from + to) / 2)];
    band.ground = 0.5 * (values[std::size_t(std::max(0, from - kOver))] +
                         values[std::size_t(std::min(n - 1, to + kOver))]);
    best = band;
  }
  return best;
}

/// The bar's axis: bands across it at stations between the points, a line through their middles.
struct Axis {
  LineFit fit;
  double width_px = 0, level = 0, ground = 0;
};
template <typename Look>
std::optional<Axis> axis_of(const GreyImage& image, Spot from, Spot to, double reach,
                            const Look& band_of) {
  const double span = length(to - from);
  const Spot along = (1 / span) * (to - from), across = turned(along);
  std::vector<Spot> places;
  std::vector<double> widths, levels, grounds;
  constexpr int kStations = 25;
  for (int i = 0; i < kStations; ++i) {
    const Spot at = from + (0.12 + 0.76 * i / (kStations - 1)) * (to - from);
    const auto band = band_of(way(image, at, across, 3 * reach + 12), reach);
    if (!band || band->width_px > 2 * reach + 8) continue;
    places.push_back(at + band->middle_px * across);
    widths.push_back(band->width_px);
    levels.push_back(band->level);
    grounds.push_back(band->ground);
  }
  if (int(places.size()) < kStations * 4 / 5) return std::nullopt;
  const auto fit = fit_line(places);
  if (!fit || fit->scatter_px > 1.5) return std::nullopt;
  Axis out{*fit, upper_median(widths), upper_median(levels), upper_median(grounds)};
  if (dot(out.fit.line.along, along) < 0) out.fit.line.along = -1 * out.fit.line.along;
  // One and the same thing all along: scratches that cross have their own brightness each.
  int alike = 0;
  for (std::size_t i = 0; i < levels.size(); ++i)
    alike += std::abs(levels[i] - out.level) < 0.35 * std::abs(out.level - out.ground) &&
             std::abs(widths[i] - out.width_px) < std::max(1.5, 0.4 * out.width_px);
  return alike * 5 >= int(levels.size()) * 4 ? std::optional(out) : std::nullopt;
}

struct End {
  Spot at;
  double error_px = 0;
};

/// Where the band ends, near `shown`; `outward` along the axis.
std::optional<End> end_of(const GreyImage& image, const Axis& axis, Spot shown, Spot outward,
                          double reach) {
  const StraightLine& line = axis.fit.line;
  const Spot start = line.at + dot(shown - line.at, line.along) * line.along;
  const Spot across = turned(line.along);
  // Over the middle half of the band, for its corners may be round.
  const double half = std::max(0.0, 0.25 * axis.width_px);
  const auto brightness = [&](double place) {
    double sum = 0;
    for (const double part : {-1.0, -0.5, 0.0, 0.5, 1.0})
      sum += image.at(start + place * outward + (part * half) * across) / 5;
    return sum;
  };
  // Beyond the end: the ground just there, which need not be that beside the bar.
  const double inside = axis.level;
  std::vector<double> beyond;
  for (double place = reach + 3; place <= reach + 12; place += 0.5)
    beyond.push_back(brightness(place));
  const double ground = upper_median(beyond);
  if (std::abs(inside - ground) < kLeastContrast) return std::nullopt;
  const auto share = [&](double place) { return (brightness(place) - ground) / (inside - ground); };
  if (share(-reach - 3) < 0.6) return std::nullopt;
  // From inside to the last place that still belongs to it.
  double last = -reach - 3;
  for (double place = last; place <= reach + 3; place += kMarkStep) {
    if (share(place) >= 0.5)
      last = place;
    else if (place - last > 2)
      break;
  }
  if (last > reach) return std::nullopt;  // goes on beyond what was shown
  if (last < -reach) return std::nullopt;
  const double a = share(last), b = share(last + kMarkStep);
  const double place = last + (a > b ? kMarkStep * std::clamp((a - 0.5) / (a - b), 0.0, 1.0) : 0);
  // How soft the end is, and whether it has a tick or a head: the band is wider there.
  double from = place, to = place;
  while (from > place - 12 && share(from) < 0.9) from -= kMarkStep;
  while (to < place + 12 && share(to) > 0.1) to += kMarkStep;
  double tick = 0;
  const double wide = 0.5 * axis.width_px + 1.5;
  for (double back = 0; back <= 14; back += kMarkStep) {
    const Spot at = start + (place - back) * outward;
    const auto stands_out = [&](double off) {
      return (image.at(at + off * across) - ground) / (inside - ground) > 0.5;
    };
    if (!stands_out(wide) || !stands_out(-wide)) {
      if (back > 3) break;
      continue;
    }
    tick = back;
  }
  // A tick that is as thin as the bar is one; a head widens over more.
  const bool is_tick = tick > 0.5 && tick < 3 * axis.width_px + 2;
  const double soft = to - from;
  return End{start + place * outward, std::hypot(0.35, 0.12 * soft,
                                                 is_tick    ? 0.4 * std::min(tick, 6.0)
                                                 : tick > 0 ? 0.7
                                                            : 0)};
}

/// The line square to `along` nearest to `shown`.
std::optional<LineFit> ruler_line(const GreyImage& image, Spot shown, Spot along, double reach,
                                  double* contrast, double* width) {
  const Spot across = turned(along);
  std::vector<Spot> places;
  std::vector<double> contrasts, widths;
  for (int i = -10; i <= 10; ++i) {
    const Spot at = shown + double(i) * across;
    if (!image.contains(at)) continue;
    const auto band = band_in(way(image, at, along, 2 * reach + 6), reach);
    if (!band || band->width_px > reach + 2) continue;
    places.push_back(at + band->middle_px * along);
    contrasts.push_back(band->contrast());
    widths.push_back(band->width_px);
  }
  if (places.size() < 8) return std::nullopt;
  const auto fit = fit_line(places);
  if (!fit || fit->scatter_px > 0.8) return std::nullopt;
  *contrast = upper_median(contrasts);
  *width = upper_median(widths);
  return fit;
}

double lean_of(const StraightLine& line, Spot along) {
  return std::asin(std::clamp(dot(line.along, along), -1.0, 1.0)) * 180 / std::numbers::pi;
}

}  // namespace

Checked<ScaleMark> find_scale_mark(const GreyImage& image, Spot from, Spot to, double reach_px) {
  const double span = length(to - from);
  if (image.empty() || !image.contains(from) || !image.contains(to))
    return Refusal{said("a point lies outside the picture")};
  if (span < 10) return Refusal{said("the two points lie less than ten pixels apart")};
  const double reach = std::clamp(std::min(reach_px, 0.3 * span), 3.0, 200.0);
  const Spot along = (1 / span) * (to - from);
  ScaleMark out;
  auto axis = axis_of(image, from, to, reach, band_in);
  if (!axis) axis = axis_of(image, from, to, reach, band_between_steps);
  if (axis) {
    const Spot way_on = axis->fit.line.along;
    const auto first = end_of(image, *axis, from, -1 * way_on, reach),
               second = end_of(image, *axis, to, way_on, reach);
    if (!first || !second)
      return Refusal{
          said("a bar lies there, but where it ends was not found: show its ends more closely")};
    out.from = first->at;
    out.to = second->at;
    out.length_px = length(out.to - out.from);
    out.error_px = std::hypot(first->error_px, second->error_px);
    return out;
  }
  double contrast[2] = {}, width[2] = {};
  const auto first = ruler_line(image, from, along, reach, &contrast[0], &width[0]),
             second = ruler_line(image, to, along, reach, &contrast[1], &width[1]);
  if (!first || !second)
    return Refusal{
        said("neither a bar between the points nor lines of a ruler at both were found")};
  if (contrast[0] * contrast[1] < 0 || std::abs(width[0] - width[1]) > 1.5 + 0.5 * width[0])
    return Refusal{said("what lies at the two points is not alike: no two lines of one ruler")};
  const double lean = lean_of(first->line, along), other = lean_of(second->line, along);
  // (Both undirected: a line may come back turned round.)
  const double apart = std::min(std::abs(lean - other), std::abs(lean + other));
  if (apart > kMostLean_deg || std::abs(lean) > 12)
    return Refusal{said("the lines at the two points lean differently: no two lines of one ruler")};
  out.kind = ScaleMarkKind::ruler;
  out.from = first->line.at;
  out.to = second->line.at;
  // Square to the lines: what was drawn askew is not longer for it.
  const Spot normal = turned(first->line.along);
  out.length_px = std::abs(dot(out.to - out.from, normal));
  out.error_px = std::hypot(0.2, first->error_px, second->error_px);
  return out;
}

}  // namespace bq::inline lens
