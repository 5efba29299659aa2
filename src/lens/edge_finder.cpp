#include "lens/edge_finder.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace bq::inline lens {
namespace {

constexpr double kProfileStep = 0.5;  // px between samples of a profile
// px: of the Gaussians whose derivatives find edges.
constexpr std::array<double, 4> kSigmas{1.2, 3, 6, 12};
constexpr double kLeastSlope = 0.35;  // grey levels per px
constexpr int kParts = 12;
constexpr int kSearchLines = 48;  // a direction is looked for in so many lines, the place in all

Spot rotated(Spot a, double deg) {
  const double c = std::cos(deg * std::numbers::pi / 180),
               s = std::sin(deg * std::numbers::pi / 180);
  return {c * a.x - s * a.y, s * a.x + c * a.y};
}

/// Mean brightness along `along` over [from, to], at places -half … half across, every
/// kProfileStep.
std::vector<double> profile(const GreyImage& image, Spot middle, Spot across, Spot along,
                            double from, double to, double half, int most_lines = 400) {
  const int count = 2 * int(std::ceil(half / kProfileStep)) + 1;
  std::vector<double> out(std::size_t(count), 0.0);
  const int lines = std::clamp(int(std::lround(to - from)), 1, most_lines);
  for (int i = 0; i < count; ++i) {
    const Spot place = middle + ((i - count / 2) * kProfileStep) * across;
    double sum = 0;
    for (int k = 0; k < lines; ++k)
      sum += image.at(place + (from + (to - from) * (k + 0.5) / lines) * along);
    out[std::size_t(i)] = sum / lines;
  }
  return out;
}

/// Slope (grey levels per px) of a profile, smoothed.
std::vector<double> slope(const std::vector<double>& values, double sigma) {
  const int half = int(std::ceil(3.5 * sigma / kProfileStep)), count = int(values.size());
  std::vector<double> kernel(std::size_t(2 * half + 1));
  double norm = 0;
  for (int i = -half; i <= half; ++i) {
    const double x = i * kProfileStep;
    kernel[std::size_t(i + half)] = x * std::exp(-x * x / (2 * sigma * sigma));
    norm += kernel[std::size_t(i + half)] * x;
  }
  std::vector<double> out(values.size(), 0.0);
  for (int i = 0; i < count; ++i) {
    double sum = 0;
    for (int k = -half; k <= half; ++k)
      sum += kernel[std::size_t(k + half)] * values[std::size_t(std::clamp(i + k, 0, count - 1))];
    out[std::size_t(i)] = sum / norm;
  }
  return out;
}

struct Peak {
  double place = 0, slope = 0;  ///< px from the middle
  /// How much it counts among others: what lies nearer to the point that was shown is favoured by
  /// up to a third.
  [[nodiscard]] double score(double reach) const {
    return std::abs(slope) * (1 - 0.33 * (place / reach) * (place / reach));
  }
};

/// Place of the steepest slope within `reach`; `sign` 0: either. Nearer ones are favoured.
Peak steepest(const std::vector<double>& slopes, double reach, int sign) {
  const int middle = int(slopes.size()) / 2;
  Peak best;
  double best_score = 0;
  for (int i = 1; i + 1 < int(slopes.size()); ++i) {
    const double place = (i - middle) * kProfileStep;
    if (std::abs(place) > reach) continue;
    const double value = slopes[std::size_t(i)];
    if (sign != 0 && value * sign <= 0) continue;
    const double score = Peak{place, value}.score(reach);
    if (score <= best_score) continue;
    best_score = score;
    const double before = std::abs(slopes[std::size_t(i - 1)]), here = std::abs(value),
                 after = std::abs(slopes[std::size_t(i + 1)]);
    const double bend = before - 2 * here + after;
    const double shift = bend < 0 ? std::clamp(0.5 * (before - after) / bend, -0.5, 0.5) : 0;
    best = {place + shift * kProfileStep, value};
  }
  return best;
}

/// How soft a change of brightness is, and where its half lies.
struct Softness {
  double width_px = 0;   ///< 10 to 90 %, what the smoothing added taken out
  double middle_px = 0;  ///< the 50 % place, from the profile's middle
};

/// The lobe of one sign around the peak of a slope that was smoothed by `sigma`.
Softness softness_of(const std::vector<double>& slopes, double peak_px, double sigma) {
  const int count = int(slopes.size()), middle = count / 2,
            top = std::clamp(middle + int(std::lround(peak_px / kProfileStep)), 0, count - 1);
  const double sign = slopes[std::size_t(top)] > 0 ? 1 : -1,
               least = 0.06 * std::abs(slopes[std::size_t(top)]);
  int from = top, to = top;
  while (from > 0 && sign * slopes[std::size_t(from - 1)] > least) --from;
  while (to + 1 < count && sign * slopes[std::size_t(to + 1)] > least) ++to;
  double total = 0;
  for (int i = from; i <= to; ++i) total += slopes[std::size_t(i)];
  const auto place_of = [&](double share) {
    double sum = 0;
    for (int i = from; i <= to; ++i) {
      const double next = sum + slopes[std::size_t(i)] / total;
      if (next >= share) {
        const double part = (share - sum) / std::max(1e-12, next - sum);
        return (i - 0.5 + part - middle) * kProfileStep;
      }
      sum = next;
    }
    return (to - middle) * kProfileStep;
  };
  const double seen = place_of(0.9) - place_of(0.1), added = 2.563 * sigma;
  return {std::sqrt(std::max(0.25, seen * seen - added * added)), place_of(0.5)};
}

}  // namespace

std::optional<FoundEdge> snap_edge(const GreyImage& image, Spot near, Spot across,
                                   const SnapOptions& options) {
  if (image.empty() || !image.contains(near) || length(across) < 0.5) return std::nullopt;
  across = (1 / length(across)) * across;
  const double reach = std::clamp(options.reach_px, 3.0, 200.0),
               swath = std::clamp(options.swath_px, 4.0, 2000.0),
               turn = std::clamp(options.turn_deg, 0.0, 40.0),
               softest = std::clamp(options.softest_px, kSigmas.front(), 30.0);
  const auto margin = [](double sigma) { return 3.5 * sigma + 1; };
  double widest = kSigmas.front();
  for (const double sigma : kSigmas)
    if (sigma <= softest) widest = sigma;
  double angle = 0, best = 0, sigma = kSigmas.front();
  Peak peak;
  // Coarse, then fine around the best.
  for (const double step : {1.5, 0.3}) {
    const double from = step > 1 ? -turn : std::max(-turn, angle - 1.5),
                 to = step > 1 ? turn : std::min(turn, angle + 1.5);
    double found_angle = angle;
    for (double deg = from; deg <= to + 1e-9; deg += step) {
      const auto brightness = profile(image, near, across, rotated(turned(across), deg), -swath,
                                      swath, reach + margin(widest), kSearchLines);
      for (const double width : kSigmas) {
        if (width > widest) break;
        const Peak here = steepest(slope(brightness, width), reach, 0);
        const double answer = here.score(reach) * std::sqrt(width / kSigmas.front());
        if (answer > best) {
          best = answer;
          found_angle = deg;
          peak = here;
          sigma = width;
        }
      }
    }
    angle = found_angle;
  }
  if (std::abs(peak.slope) * sigma < kLeastSlope * kSigmas.front()) return std::nullopt;
  const Spot along = rotated(turned(across), angle), middle = near + peak.place * across;
  const int sign = peak.slope > 0 ? 1 : -1;
  const double near_by = std::max(4.0, 1.5 * sigma);
  std::vector<Spot> places;
  for (int part = 0; part < kParts; ++part) {
    const double from = -swath + 2 * swath * part / kParts,
                 to = -swath + 2 * swath * (part + 1) / kParts;
    const Peak here = steepest(
        slope(profile(image, middle, across, along, from, to, near_by + margin(sigma)), sigma),
        near_by, sign);
    const Spot place = middle + here.place * across + (0.5 * (from + to)) * along;
    if (std::abs(here.slope) > 0.3 * std::abs(peak.slope) && image.contains(place))
      places.push_back(place);
  }
  const auto fit = fit_line(places);
  if (!fit || int(places.size()) < kParts / 2) return std::nullopt;
  FoundEdge out;
  out.fit = *fit;
  const StraightLine& line = fit->line;
  std::vector<Spot> along_off;
  for (const Spot& place : places)
    along_off.push_back({dot(place - near, line.along), line.off(place)});
  if (const auto curve = fit_bend(along_off); curve &&
                                              std::abs(curve->bend) > 3.5 * curve->error_bend &&
                                              std::abs(curve->bend) * swath * swath > 0.5) {
    out.sag_px = std::abs(curve->bend) * swath * swath;
    out.fit.line.at = near + dot(line.at - near, turned(line.along)) * turned(line.along) +
                      curve->at_0 * turned(line.along);
    out.fit.error_px = curve->error_at_0;
  }
  // How soft: over the middle third, where a bend does not smear it.
  const auto narrow = slope(profile(image, middle, across, along, -swath / 3, swath / 3,
                                    4 * sigma + near_by + margin(sigma)),
                            sigma);
  const Peak here = steepest(narrow, near_by, sign);
  const Softness soft = softness_of(narrow, here.place, sigma);
  out.soft_px = soft.width_px;
  out.common_px = std::hypot(0.2, 0.1 * soft.width_px, 0.5 * (soft.middle_px - here.place));
  return out;
}

std::optional<EdgeDistance> distance_between_edges(const GreyImage& image, Spot from, Spot to,
                                                   const SnapOptions& options) {
  const double drawn = length(to - from);
  if (drawn < 3) return std::nullopt;
  SnapOptions near = options;
  // Two ends must not find the same edge.
  near.reach_px = std::min(options.reach_px, std::max(3.0, 0.45 * drawn));
  near.softest_px = std::min(options.softest_px, 0.2 * drawn);
  const Spot across = (1 / drawn) * (to - from);
  const auto first = snap_edge(image, from, across, near),
             second = snap_edge(image, to, across, near);
  if (!first || !second) return std::nullopt;
  EdgeDistance out{*first, *second};
  const StraightLine &a = first->fit.line, &b = second->fit.line;
  // Each line's distance from the middle of the other, where the drawn line crosses them.
  const auto crossing = [&](const StraightLine& line) {
    const double slope_across = dot(across, turned(line.along));
    return std::abs(slope_across) < 0.1 ? line.at
                                        : from + (-line.off(from) / slope_across) * across;
  };
  const Spot pa = crossing(a), pb = crossing(b);
  out.width_px = 0.5 * (std::abs(b.off(pa)) + std::abs(a.off(pb)));
  out.error_px = std::hypot(first->fit.error_px, second->fit.error_px);
  out.common_px = std::hypot(first->common_px, second->common_px);
  const double lean = std::abs(a.angle_deg() - b.angle_deg());
  out.lean_deg = std::min(lean, 180 - lean);
  // Both ends went to one edge between them.
  if (out.width_px < std::max(1.0, 0.35 * drawn)) return std::nullopt;
  return out;
}

}  // namespace bq::inline lens
