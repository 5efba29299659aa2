#include "lens/apex_line.h"

#include <algorithm>
#include <cmath>

namespace bq::inline lens {
namespace {

constexpr double kTraceStep = 0.5;

/// Mean of three columns beside each other, from -reach to +reach across.
std::vector<double> column(const GreyImage& image, Spot middle, Spot inward, Spot along,
                           double reach) {
  const int half = int(std::ceil(reach / kTraceStep));
  std::vector<double> out(std::size_t(2 * half + 1));
  for (int i = -half; i <= half; ++i) {
    const Spot place = middle + (i * kTraceStep) * inward;
    out[std::size_t(i + half)] =
        (image.at(place - along) + image.at(place) + image.at(place + along)) / 3;
  }
  return out;
}

double mean_of(const std::vector<double>& values, std::size_t from, std::size_t to) {
  double sum = 0;
  for (std::size_t i = from; i < to; ++i) sum += values[i];
  return to > from ? sum / double(to - from) : 0;
}

}  // namespace

Checked<ApexTrace> trace_apex(const GreyImage& image, Spot from, Spot to, double reach_px) {
  const double span = length(to - from);
  if (image.empty() || !image.contains(from) || !image.contains(to))
    return Refusal{"the line along the apex leaves the picture"};
  if (span < 20) return Refusal{"the line along the apex is shorter than 20 pixels"};
  ApexTrace out;
  const Spot along = (1 / span) * (to - from);
  const Spot side = turned(along);
  const int count = int(span) + 1;
  const double reach = std::clamp(reach_px, 8.0, 400.0);
  std::vector<std::vector<double>> columns(static_cast<std::size_t>(count));
  std::vector<double> plus, minus;
  for (int i = 0; i < count; ++i) {
    columns[std::size_t(i)] = column(image, from + double(i) * along, side, along, reach);
    const auto& c = columns[std::size_t(i)];
    minus.push_back(mean_of(c, 0, c.size() / 3));
    plus.push_back(mean_of(c, c.size() - c.size() / 3, c.size()));
  }
  const double low = upper_median(minus), high = upper_median(plus);
  if (std::abs(high - low) < 8)
    return Refusal{"both sides of the line are equally bright: no apex can be told there"};
  const bool turn = low > high;  // the bevel lies on the other side
  out.inward = turn ? -1 * side : side;
  if (turn)
    for (auto& c : columns) std::reverse(c.begin(), c.end());
  out.surround = std::min(low, high);
  out.bevel = std::max(low, high);
  // The bevel's own brightness wanders under uneven light: the level is taken from the
  // neighbourhood, a third of the way up, for the floor of a deep scratch is darker than half the
  // bevel. The shift this makes is the same everywhere. Twice: first with all that lies inside,
  // then with the band just behind the apex that was found.
  std::vector<Spot> places(static_cast<std::size_t>(count));
  std::vector<double> depths(std::size_t(count), 0);
  for (int pass = 0; pass < 2; ++pass) {
    std::vector<double> inside(static_cast<std::size_t>(count)), outside(inside);
    for (int i = 0; i < count; ++i) {
      const auto& c = columns[std::size_t(i)];
      const auto at = [&](double px) {
        return std::size_t(std::clamp((px + reach) / kTraceStep, 0.0, double(c.size())));
      };
      inside[std::size_t(i)] =
          pass == 0 ? mean_of(c, c.size() - c.size() / 3, c.size())
                    : mean_of(c, at(depths[std::size_t(i)] + 3), at(depths[std::size_t(i)] + 12));
      outside[std::size_t(i)] = mean_of(c, 0, c.size() / 4);
    }
    for (int i = 0; i < count; ++i) {
      std::vector<double> in, ex;
      for (int k = std::max(0, i - 40); k <= std::min(count - 1, i + 40); k += 4) {
        in.push_back(inside[std::size_t(k)]);
        ex.push_back(outside[std::size_t(k)]);
      }
      const double level = upper_median(ex) + 0.3 * (upper_median(in) - upper_median(ex));
      const auto& c = columns[std::size_t(i)];
      double place = reach;
      for (std::size_t k = 1; k < c.size(); ++k) {
        if (c[k] < level || c[k - 1] >= level) continue;
        if (mean_of(c, k, std::min(c.size(), k + 7)) < level) continue;  // a speck, not the edge
        place = (double(k) - 1 + (level - c[k - 1]) / (c[k] - c[k - 1])) * kTraceStep - reach;
        break;
      }
      depths[std::size_t(i)] = place;
    }
  }
  for (int i = 0; i < count; ++i)
    places[std::size_t(i)] = from + double(i) * along + depths[std::size_t(i)] * out.inward;
  const auto fit = fit_line(places);
  if (!fit) return Refusal{"no apex can be told there"};
  out.line = fit->line;
  if (dot(out.line.along, along) < 0) out.line.along = -1 * out.line.along;
  const Spot normal = dot(turned(out.line.along), out.inward) > 0 ? turned(out.line.along)
                                                                  : -1 * turned(out.line.along);
  out.inward = normal;
  std::vector<double> sizes;
  for (int i = 0; i < count; ++i) {
    const Spot d = places[std::size_t(i)] - out.line.at;
    out.along_px.push_back(dot(d, out.line.along));
    out.inward_px.push_back(dot(d, normal));
    sizes.push_back(std::abs(out.inward_px.back()));
  }
  out.scatter_px = std::max(0.05, 1.4826 * upper_median(sizes));
  // Neighbouring columns share pixels and scratches: about one in eight stands for itself.
  out.error_px = fit->error_px * std::sqrt(8.0);
  for (int i = 0; i < count; ++i) {
    const Spot edge = places[std::size_t(i)];
    out.brightness.push_back(
        0.5 * (image.at(edge + 1.0 * out.inward) + image.at(edge + 2.0 * out.inward)));
    double deep = 0;
    for (int k = 4; k <= 7; ++k) deep += image.at(edge + double(k) * out.inward) / 4;
    out.deeper.push_back(deep);
    const double glint = out.bevel + 0.45 * (255 - out.bevel);
    double wide = 0;
    for (double s = 0.5; s < reach; s += kTraceStep) {
      if (image.at(edge + s * out.inward) >= glint)
        wide = s;
      else if (s - wide > 2)
        break;
    }
    out.width_px.push_back(wide);
  }
  return out;
}

Straightness straightness(const ApexTrace& trace) {
  Straightness out;
  if (trace.inward_px.empty()) return out;
  double sum = 0;
  for (const double depth : trace.inward_px) sum += depth * depth;
  out.rms_px = std::sqrt(sum / double(trace.inward_px.size()));
  const auto [least, most] = std::minmax_element(trace.inward_px.begin(), trace.inward_px.end());
  out.range_px = *most - *least;
  out.length_px = trace.along_px.back() - trace.along_px.front();
  return out;
}

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
      if (std::abs(trace.inward_px[std::size_t(i)]) < 4 * trace.scatter_px + 0.5) {
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
double wall_at_line(const Depths& trace, int foot, int step, double least, double depth) {
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
  return crossing + step * std::clamp(start, -10.0, 0.0);
}

}  // namespace

std::vector<ChipFound> chips_of(const ApexTrace& trace) {
  std::vector<ChipFound> out;
  const double least = std::max(1.0, 2.5 * trace.scatter_px),
               deep = std::max(2.0, 4 * trace.scatter_px);
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
      chip.from_px = wall_at_line(here, first, 1, least, depth);
      chip.to_px = wall_at_line(here, end, -1, least, depth);
      last = std::max(last, end);
      chip.width_px = chip.to_px - chip.from_px;
      chip.depth_px = depth;
      chip.width_error_px = std::hypot(1.0, trace.scatter_px);
      chip.depth_error_px = std::hypot(0.4, trace.error_px);
      if (chip.width_px > 1) out.push_back(chip);
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
