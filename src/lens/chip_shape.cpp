// Chips in a traced apex: where they begin and end, and how deep they were before the picture
// blurred them.
#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>

#include "lens/apex_line.h"

namespace bq::inline lens {
namespace {

struct Depths {
  std::vector<double> along_px, inward_px;
};

/// The apex around pixels a … b with the apex beside them as its zero: the median depth of 4 to 28
/// px on either side, joined by a straight line.
Depths from_beside(const ApexTrace& trace, int a, int b) {
  const int count = int(trace.inward_px.size());
  const auto beside = [&](int from, int to, double& place) {
    std::vector<double> depths, places;
    for (int i = std::max(0, from); i <= std::min(count - 1, to); ++i)
      if (std::abs(trace.inward_px[std::size_t(i)]) < 4 * trace.scatter_px + 0.5 * trace.unit_px) {
        depths.push_back(trace.inward_px[std::size_t(i)]);

        places.push_back(trace.along_px[std::size_t(i)]);
      }
    place = upper_median(places);
    return depths.size() < 8 ? 0 : upper_median(depths);
  };
  double left_at = 0, right_at = 0;
  const double left = beside(a - 28, a - 4, left_at), right = beside(b + 4, b + 28, right_at);
  Depths out{trace.along_px, trace.inward_px};
  for (std::size_t i = 0; i < out.inward_px.size(); ++i) {
    const double share =
        right_at > left_at
            ? std::clamp((out.along_px[i] - left_at) / (right_at - left_at), 0.0, 1.0)
            : 0.5;
    out.inward_px[i] -= left + share * (right - left);
  }
  return out;
}

/// Place between two neighbours where the depth passes `level`.
double passing(const Depths& trace, int below, int above, double level) {
  const double a = trace.inward_px[std::size_t(below)], b = trace.inward_px[std::size_t(above)];
  const double share = b > a ? std::clamp((level - a) / (b - a), 0.0, 1.0) : 1.0;
  return trace.along_px[std::size_t(below)] +
         share * (trace.along_px[std::size_t(above)] - trace.along_px[std::size_t(below)]);
}

/// Where a chip's wall meets the line. `foot`: first pixel above `least`; `step`: into the chip.
/// The wall up to three quarters of the depth is carried on to depth 0: straight, or as a parabola
/// (place over depth) where that fits clearly better.
double wall_at_line(const Depths& trace, int foot, int step, double least, double depth,
                    double unit) {
  const int count = int(trace.inward_px.size());
  const double crossing = foot - step >= 0 && foot - step < count
                              ? passing(trace, foot - step, foot, least)
                              : trace.along_px[std::size_t(foot)];
  std::vector<Spot> wall;  // x: depth, y: distance into the chip from the crossing
  const double high = std::max(3 * least, 0.75 * depth);
  for (int i = foot; i >= 0 && i < count; i += step) {
    const double d = trace.inward_px[std::size_t(i)];
    if (d > high) {
      wall.push_back(
          {high, step * (passing(trace, std::clamp(i - step, 0, count - 1), i, high) - crossing)});
      break;
    }
    wall.push_back({d, step * (trace.along_px[std::size_t(i)] - crossing)});
  }
  wall.push_back({least, 0});
  double s0 = 0, s1 = 0, s2 = 0, s3 = 0, s4 = 0, b0 = 0, b1 = 0, b2 = 0;
  for (const auto& [d, x] : wall) {
    s0 += 1;
    s1 += d;
    s2 += d * d;
    s3 += d * d * d;
    s4 += d * d * d * d;
    b0 += x;
    b1 += x * d;

    b2 += x * d * d;
  }
  double start = 0;
  const double straight_bottom = s0 * s2 - s1 * s1;
  if (wall.size() >= 3 && straight_bottom > 1e-9) start = (b0 * s2 - b1 * s1) / straight_bottom;
  if (wall.size() >= 7) {
    const double det =
        s0 * (s2 * s4 - s3 * s3) - s1 * (s1 * s4 - s3 * s2) + s2 * (s1 * s3 - s2 * s2);
    if (std::abs(det) > 1e-6) {
      const double c0 =
          (b0 * (s2 * s4 - s3 * s3) - s1 * (b1 * s4 - s3 * b2) + s2 * (b1 * s3 - s2 * b2)) / det;
      const double c2 =
          (s0 * (s2 * b2 - b1 * s3) - s1 * (s1 * b2 - b1 * s2) + b0 * (s1 * s3 - s2 * s2)) / det;
      const double c1 = s2 > 0 ? (b1 - c0 * s1 - c2 * s3) / s2 : 0,
                   slope = (s0 * b1 - s1 * b0) / straight_bottom;
      double bent_squares = 0, straight_squares = 0;
      for (const auto& [d, x] : wall) {
        bent_squares += std::pow(x - c0 - c1 * d - c2 * d * d, 2);
        straight_squares += std::pow(x - start - slope * d, 2);
      }
      // Bent only where it clearly is: a parabola scatters more.
      if (c2 > 0 && bent_squares < 0.6 * straight_squares) start = c0;
    }
  }
  return crossing + step * std::clamp(start, -10 * unit, 0.0);
}

/// A notch of a simple shape, blurred, laid through depths by least squares.
struct Shape {
  double middle = 0, half = 0, depth = 0;  ///< px
  double misfit = 0;                       ///< root mean square, px
};

/// Depth of the blurred shape at `u`.
double blurred_depth(const Shape& s, bool pointed, double u, double blur) {
  const auto sharp = [&](double at) {
    const double x = std::abs(at - s.middle) / s.half;
    return x >= 1 ? 0 : s.depth * (pointed ? 1 - x : 1 - x * x);
  };
  // Gauss–Hermite, five points.
  static constexpr std::array<double, 5> kAt{-2.857, -1.3556, 0, 1.3556, 2.857};
  static constexpr std::array<double, 5> kWeight{0.011257, 0.222076, 0.533333, 0.222076, 0.011257};
  double sum = 0;
  for (std::size_t i = 0; i < 5; ++i) sum += kWeight[i] * sharp(u + kAt[i] * blur);
  return sum;
}

std::optional<Shape> fit_shape(const Depths& depths, int first, int end, Shape start, bool pointed,
                               double blur) {
  const int count = int(depths.inward_px.size()), more = std::max(3, (end - first) / 4);
  const int from = std::max(0, first - more), to = std::min(count - 1, end + more);
  if (to - from < 8) return std::nullopt;
  const auto misfit_of = [&](const Shape& s, Eigen::VectorXd* off) {
    double squares = 0;
    for (int i = from; i <= to; ++i) {
      const double d = depths.inward_px[std::size_t(i)] -
                       blurred_depth(s, pointed, depths.along_px[std::size_t(i)], blur);
      if (off) (*off)(i - from) = d;
      squares += d * d;
    }
    return std::sqrt(squares / (to - from + 1));
  };
  Eigen::VectorXd off(to - from + 1), moved(to - from + 1);
  Eigen::MatrixXd slopes(to - from + 1, 3);
  start.misfit = misfit_of(start, &off);
  double damping = 1e-3;
  for (int round = 0; round < 25; ++round) {
    const double small = 1e-3 * start.half;
    for (int p = 0; p < 3; ++p) {
      Shape next = start;
      (p == 0 ? next.middle : p == 1 ? next.half : next.depth) += small;
      misfit_of(next, &moved);
      slopes.col(p) = (off - moved) / small;
    }
    Eigen::Matrix3d normal = slopes.transpose() * slopes;
    for (int p = 0; p < 3; ++p) normal(p, p) *= 1 + damping;
    const Eigen::Vector3d step = normal.ldlt().solve(slopes.transpose() * off);
    if (!step.allFinite()) break;
    Shape next{start.middle + step(0), start.half + step(1), start.depth + step(2)};
    if (next.half < 1 || next.depth < 0.5) {
      damping *= 10;
      continue;
    }
    next.misfit = misfit_of(next, &moved);
    if (next.misfit >= start.misfit) {
      damping *= 10;
      if (damping > 1e6) break;
      continue;
    }
    const bool done = start.misfit - next.misfit < 1e-5 * start.misfit;
    start = next;
    off = moved;
    damping = std::max(1e-6, damping / 5);
    if (done) break;
  }
  return start;
}

/// What blur took is given back where a simple shape explains what is seen.
void sharpen(ChipFound& chip, const Depths& depths, int first, int end, const ApexTrace& trace) {
  const double blur = trace.soft_px / 2.563;
  const Shape start{0.5 * (chip.from_px + chip.to_px), std::max(2.0, 0.5 * chip.width_px),
                    chip.depth_px};
  const auto vee = fit_shape(depths, first, end, start, true, blur),
             bowl = fit_shape(depths, first, end, start, false, blur);
  // What is not known of the chip's shape, and where in a soft change the metal ends.
  chip.width_common_px = std::hypot(0.5 * trace.unit_px, 0.17 * trace.soft_px);
  chip.depth_common_px = std::hypot(0.3 * trace.unit_px, 0.1 * trace.soft_px);
  if (!vee || !bowl) return;
  const Shape& best = vee->misfit < bowl->misfit ? *vee : *bowl;
  const Shape& other = vee->misfit < bowl->misfit ? *bowl : *vee;
  // What does not look like a chip at all, a speck on its wall, may have moved the wall.
  chip.width_common_px = std::hypot(chip.width_common_px, 1.5 * best.misfit);
  if (best.misfit > 0.15 * chip.depth_px || best.depth > 2.5 * chip.depth_px) {
    chip.depth_common_px = std::hypot(chip.depth_common_px, 0.25 * trace.soft_px);
    return;
  }
  // Two shapes that fit alike leave the depth open between them.
  const double alike = std::clamp(2 - other.misfit / std::max(0.1, best.misfit), 0.0, 1.0);
  const double depth = best.depth + 0.5 * alike * (other.depth - best.depth);
  chip.depth_common_px = std::hypot(chip.depth_common_px, 0.35 * (depth - chip.depth_px),
                                    0.35 * alike * (other.depth - best.depth));
  chip.depth_px = depth;
  if (trace.soft_px > 4 * trace.unit_px || trace.soft_px > 0.1 * chip.width_px) {
    const double half = best.half + 0.5 * alike * (other.half - best.half);
    const double width = 0.5 * (chip.width_px + 2 * half);
    chip.width_common_px = std::hypot(chip.width_common_px, 0.5 * (width - chip.width_px));
    chip.from_px = best.middle - 0.5 * width;
    chip.to_px = best.middle + 0.5 * width;
    chip.width_px = width;
  }
}

}  // namespace

std::vector<ChipFound> chips_of(const ApexTrace& trace) {
  std::vector<ChipFound> out;
  const double least = std::max(1.0 * trace.unit_px, 2.5 * trace.scatter_px),
               deep = std::max(2.0 * trace.unit_px, 4 * trace.scatter_px);
  const int count = int(trace.inward_px.size());
  for (int i = 0; i < count;) {
    if (trace.inward_px[std::size_t(i)] < least) {
      ++i;
      continue;
    }
    int last = i;
    double depth = 0;
    // A pixel or two below the limit do not end a chip.
    for (int k = i; k < count && k - last <= 2; ++k)
      if (trace.inward_px[std::size_t(k)] >= least) {
        last = k;
        depth = std::max(depth, trace.inward_px[std::size_t(k)]);
      }
    if (depth >= deep && last - i >= 1) {
      const Depths here = from_beside(trace, i, last);
      int first = i, end = last;
      while (first < end && here.inward_px[std::size_t(first)] < least) ++first;
      while (first > 0 && here.inward_px[std::size_t(first - 1)] >= least) --first;
      while (end > first && here.inward_px[std::size_t(end)] < least) --end;
      while (end + 1 < count && here.inward_px[std::size_t(end + 1)] >= least) ++end;
      depth = *std::max_element(here.inward_px.begin() + first, here.inward_px.begin() + end + 1);
      ChipFound chip;
      chip.from_px = wall_at_line(here, first, 1, least, depth, trace.unit_px);
      chip.to_px = wall_at_line(here, end, -1, least, depth, trace.unit_px);
      last = std::max(last, end);
      chip.width_px = chip.to_px - chip.from_px;
      chip.depth_px = depth;
      chip.width_error_px = std::hypot(0.8 * trace.unit_px, trace.scatter_px);
      chip.depth_error_px = std::hypot(0.4 * trace.unit_px, trace.error_px);
      if (chip.width_px <= trace.unit_px) {
        i = last + 1;
        continue;
      }
      sharpen(chip, here, first, end, trace);
      out.push_back(chip);
    }
    i = last + 1;
  }
  return out;
}

std::optional<ChipFound> chip_at(const ApexTrace& trace, double at_px) {
  const auto chips = chips_of(trace);
  std::optional<ChipFound> best;
  double nearest = 1e300;
  for (const auto& chip : chips) {
    const double away = at_px < chip.from_px ? chip.from_px - at_px
                        : at_px > chip.to_px ? at_px - chip.to_px
                                             : 0;
    if (away < nearest || (away == nearest && chip.depth_px > best->depth_px)) {
      nearest = away;
      best = chip;
    }
  }
  return best;
}

}  // namespace bq::inline lens
