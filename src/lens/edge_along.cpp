#include "lens/edge_along.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "quantity/said.h"

namespace bq::inline lens {
namespace {

bool in_one_of(const std::vector<ChipFound>& chips, double at, double beside) {
  return std::any_of(chips.begin(), chips.end(), [&](const ChipFound& c) {
    return at > c.from_px - beside && at < c.to_px + beside;
  });
}

/// At most 400 of them, means of neighbours.
std::vector<double> for_drawing(const std::vector<double>& values) {
  const std::size_t every = std::max<std::size_t>(1, (values.size() + 399) / 400);
  std::vector<double> out;
  for (std::size_t i = 0; i < values.size(); i += every) {
    double sum = 0;
    const std::size_t to = std::min(values.size(), i + every);
    for (std::size_t k = i; k < to; ++k) sum += values[k];
    out.push_back(sum / double(to - i));
  }
  return out;
}

/// Root of a mean square with the standard error that eight pieces of it give; `noise` is taken
/// out.
struct RootMean {
  double value = 0, error = 0;
};
RootMean root_mean(const std::vector<double>& values, double middle, double noise, double unit) {
  constexpr std::size_t kPieces = 8;
  std::vector<double> pieces;
  double all = 0;
  for (std::size_t p = 0; p < kPieces; ++p) {
    const std::size_t from = values.size() * p / kPieces, to = values.size() * (p + 1) / kPieces;
    double squares = 0;
    for (std::size_t i = from; i < to; ++i) squares += std::pow(values[i] - middle, 2);
    pieces.push_back(squares / double(to - from));
    all += squares;
  }
  const double variance = all / double(values.size());
  double spread = 0;
  for (const double piece : pieces) spread += std::pow(piece - variance, 2);
  const double error = std::sqrt(spread / (kPieces - 1) / kPieces);
  RootMean out;
  out.value = std::sqrt(std::max(0.0, variance - noise));
  // Of a root, where it is not nothing; else what could hide in the noise.
  out.error = out.value > 0.1 ? error / (2 * out.value) : std::sqrt(error);
  out.error = std::hypot(out.error, 0.05 * unit);
  return out;
}

/// Half of the Gaussian filter of ISO 16610-21, its middle first: half of a wave as long as the
/// cut-off passes.
std::vector<double> filter_of(double cutoff) {
  std::vector<double> kernel;
  for (int k = 0; k <= std::max(1, int(std::ceil(cutoff))); ++k)
    kernel.push_back(std::exp(-std::numbers::pi * std::pow(k / (0.4697 * cutoff), 2)));
  return kernel;
}

/// What passes it; at the ends by what there is of the kernel.
std::vector<double> long_waves(const std::vector<double>& values, double cutoff) {
  const std::vector<double> kernel = filter_of(cutoff);
  const int half = int(kernel.size()) - 1, n = int(values.size());
  std::vector<double> out(values.size());
  for (int i = 0; i < n; ++i) {
    double sum = 0, weight = 0;
    for (int k = std::max(-half, -i); k <= std::min(half, n - 1 - i); ++k) {
      sum += kernel[std::size_t(std::abs(k))] * values[std::size_t(i + k)];
      weight += kernel[std::size_t(std::abs(k))];
    }
    out[std::size_t(i)] = sum / weight;
  }
  return out;
}

/// Noise of depths that are means of three columns has variance 1: what passes the filter of it.
double noise_through(double cutoff) {
  const std::vector<double> kernel = filter_of(cutoff);
  const int half = int(kernel.size()) - 1;
  double sum = 0, through = 0;
  for (int i = -half; i <= half; ++i) {
    sum += kernel[std::size_t(std::abs(i))];
    for (int j = std::max(-half, i - 2); j <= std::min(half, i + 2); ++j)
      through += kernel[std::size_t(std::abs(i))] * kernel[std::size_t(std::abs(j))] *
                 (1 - std::abs(i - j) / 3.0);
  }
  return through / (sum * sum);
}

/// Variance of the noise of depths: what neighbours differ in as their distance goes to nothing.
/// Those three columns apart share none; what the apex itself does grows as the distance squared.
double noise_of(const std::vector<double>& depths) {
  const auto differ = [&](std::size_t apart) {
    double squares = 0;
    for (std::size_t i = apart; i < depths.size(); ++i)
      squares += std::pow(depths[i] - depths[i - apart], 2);
    return squares / double(depths.size() - apart);
  };
  const double three = differ(3), five = differ(5);
  return std::max(0.0, 0.5 * std::min(three, (25 * three - 9 * five) / 16));
}

void part_by_length(EdgeAlong& out, const ApexTrace& trace, double cutoff_px, double noise) {
  std::vector<double> depths = trace.inward_px;
  // Chips are bridged: they are counted apart.
  for (const ChipFound& chip : out.chips) {
    const auto index = [&](double at) {
      const auto it = std::lower_bound(trace.along_px.begin(), trace.along_px.end(), at);
      return std::clamp<std::ptrdiff_t>(it - trace.along_px.begin(), 0,
                                        std::ptrdiff_t(depths.size()) - 1);
    };
    const auto from = index(chip.from_px - 3 * trace.unit_px),
               to = index(chip.to_px + 3 * trace.unit_px);
    const double a = depths[std::size_t(from)], b = depths[std::size_t(to)];
    for (auto i = from; i < to; ++i)
      depths[std::size_t(i)] = a + (b - a) * double(i - from) / double(to - from);
  }
  const double step = out.length_px / double(depths.size() - 1);
  const double most = out.length_px / 5;
  out.cutoff_px = cutoff_px > 0 ? std::min(cutoff_px, most) : most;
  const auto waves = long_waves(depths, out.cutoff_px / step);
  double middle = 0;
  for (const double wave : waves) middle += wave / double(waves.size());
  const RootMean wavy = root_mean(waves, middle, 0, trace.unit_px);
  out.wavy_px = wavy.value;
  out.wavy_error_px = wavy.error;
  const double shortest = 0.1 * out.cutoff_px;
  if (shortest < std::max(6 * trace.unit_px, 2 * trace.soft_px)) return;
  std::vector<double> rest = long_waves(depths, shortest / step);
  for (std::size_t i = 0; i < rest.size(); ++i) rest[i] -= waves[i];
  const RootMean ragged = root_mean(rest, 0, noise * noise_through(shortest / step), trace.unit_px);
  out.ragged_px = ragged.value;
  out.ragged_error_px = ragged.error;
}

/// Where the bright band is: six units or longer, gaps of three bridged, none in chips.
std::optional<BrightBand> band_of(const ApexTrace& trace, const std::vector<ChipFound>& chips) {
  if (trace.bevel <= trace.surround) return std::nullopt;
  const int n = int(trace.width_px.size());
  const double step = (trace.along_px.back() - trace.along_px.front()) / std::max(1, n - 1);
  const auto there = [&](int i) {
    const double at = trace.along_px[std::size_t(i)];
    return trace.width_px[std::size_t(i)] >= 2 * trace.unit_px && !in_one_of(chips, at, 0);
  };
  std::vector<double> widths;
  double covered = 0, noise = 0, most = 0;
  int pairs = 0;
  for (int i = 0; i < n;) {
    if (!there(i)) {
      ++i;
      continue;
    }
    int last = i;
    std::vector<double> run;
    for (int k = i; k < n && k - last <= 3; ++k)
      if (there(k)) {
        last = k;
        run.push_back(trace.width_px[std::size_t(k)]);
      }
    if (last - i >= 6) {
      covered += (last - i + 1) * step;
      widths.insert(widths.end(), run.begin(), run.end());
      for (std::size_t k = 3; k < run.size(); ++k, ++pairs)
        noise += 0.5 * std::pow(run[k] - run[k - 3], 2);
      // A bright scratch behind it adds a column or two that are too wide.
      for (std::size_t k = 4; k + 4 < run.size(); ++k) {
        const auto at = run.begin() + std::ptrdiff_t(k);
        most = std::max(most, upper_median(std::vector<double>(at - 4, at + 5)));
      }
    }
    i = last + 1;
  }
  if (widths.empty()) return std::nullopt;
  BrightBand out;
  const double length_px = trace.along_px.back() - trace.along_px.front();
  out.share = std::min(1.0, covered / length_px);
  for (const double width : widths) out.mean_px += width / double(widths.size());
  std::sort(widths.begin(), widths.end());
  const auto below = [&](double share) {
    return widths[std::size_t(share * double(widths.size() - 1))];
  };
  out.median_px = below(0.5);
  out.ninth_px = below(0.9);
  out.most_px = most;
  const double shared = trace.band_common_px();
  const double column = std::sqrt(noise / std::max(1, pairs));
  out.mean_error_px = std::hypot(shared, column * std::sqrt(3.0 / double(widths.size())));
  out.most_error_px = std::hypot(shared, column / std::sqrt(2.0), 0.05 * most);
  return out;
}

}  // namespace

EdgeAlong along_edge(const ApexTrace& trace, double cutoff_px) {
  EdgeAlong out;
  if (trace.along_px.size() < 2) return out;
  out.length_px = trace.along_px.back() - trace.along_px.front();
  out.chips = chips_of(trace);
  out.belly_px = trace.sag_px();
  out.depth_px = for_drawing(trace.inward_px);
  out.band = band_of(trace, out.chips);
  double chipped = 0;
  for (const auto& chip : out.chips) chipped += chip.width_px;
  out.chipped_share = std::clamp(chipped / out.length_px, 0.0, 1.0);
  std::vector<double> sound;
  for (std::size_t i = 0; i < trace.along_px.size(); ++i) {
    if (!in_one_of(out.chips, trace.along_px[i], 2 * trace.unit_px))
      sound.push_back(trace.inward_px[i]);
  }
  if (sound.size() < 32) return out;
  const double noise = noise_of(sound);
  double mean = 0;
  for (const double depth : sound) mean += depth / double(sound.size());
  const RootMean wander = root_mean(sound, mean, noise, trace.unit_px);
  out.wander_px = wander.value;
  out.wander_error_px = wander.error;
  part_by_length(out, trace, cutoff_px, noise);
  return out;
}

namespace {

/// A straight line behind the rim: depth_px behind the trace's line at its middle, rising by
/// `slope` along it.
struct BurrRoot {
  double depth_px = 0, slope = 0, change = 0;  ///< change: grey levels a unit
};

/// How brightness changes across lines of one slope, at every half unit of depth.
std::vector<double> changes_across(const GreyImage& image, const ApexTrace& trace, double slope,
                                   double from, double to) {
  const double step = 0.5 * trace.unit_px,
               margin = 2 * trace.unit_px + 1.2 * trace.soft_px;  // the rim's own blur
  const auto count = std::size_t((to - from) / step) + 1;
  std::vector<double> sum(count, 0), number(count, 0), values(count);
  const std::size_t every = std::max<std::size_t>(1, trace.along_px.size() / 250);
  for (std::size_t i = 0; i < trace.along_px.size(); i += every) {
    const double at = trace.along_px[i], lift = slope * at;
    const double first = (trace.inward_px[i] + margin - from - lift) / step;
    const auto begin = std::size_t(std::clamp(std::ceil(first), 0.0, double(count)));
    for (std::size_t k = begin; k < count; ++k)
      values[k] = image.at(trace.spot(at, from + double(k) * step + lift));
    // Of the same column on both sides: columns that join later are as bright as they are.
    for (std::size_t k = begin + 3; k + 3 < count; ++k) {
      sum[k] += (values[k + 1] + values[k + 2] + values[k + 3] - values[k - 1] - values[k - 2] -
                 values[k - 3]) /
                6;
      number[k] += 1;
    }
  }
  const double least = 0.5 * double(trace.along_px.size()) / double(every);
  for (std::size_t k = 0; k < count; ++k)
    sum[k] = number[k] >= least ? std::abs(sum[k] / number[k]) : 0;
  return sum;
}

std::optional<BurrRoot> root_of_burr(const GreyImage& image, const ApexTrace& trace,
                                     const std::vector<double>& rim) {
  const double near = rim[std::size_t(0.1 * double(rim.size() - 1))],
               far = rim[std::size_t(0.9 * double(rim.size() - 1))], range = far - near;
  const double from = far - 0.3 * range, to = far + 2 * range + 6 * trace.unit_px;
  BurrRoot best;
  std::vector<double> all;
  for (int turn = -16; turn <= 16; ++turn) {
    const double slope = std::tan(turn * 0.25 * std::numbers::pi / 180);
    const auto changes = changes_across(image, trace, slope, from, to);
    for (std::size_t k = 0; k < changes.size(); ++k) {
      if (changes[k] > 0) all.push_back(changes[k]);
      if (changes[k] > best.change)
        best = {from + 0.5 * trace.unit_px * double(k), slope, changes[k]};
    }
  }
  // Scratches and uneven light change brightness too, but nowhere as in one straight line.
  if (all.empty() || best.change < std::max(2.0, 3 * upper_median(all))) return std::nullopt;
  return best;
}

}  // namespace

std::optional<BrightBand> standing_burr(const GreyImage& image, const ApexTrace& trace) {
  if (trace.along_px.size() < 64) return std::nullopt;
  // A chip makes no rim, nor its floor a foot.
  const std::vector<ChipFound> chips = chips_of(trace);
  std::vector<double> rim;
  for (std::size_t i = 0; i < trace.along_px.size(); ++i)
    if (!in_one_of(chips, trace.along_px[i], 2 * trace.unit_px)) rim.push_back(trace.inward_px[i]);
  if (rim.size() < trace.along_px.size() / 2) return std::nullopt;
  std::sort(rim.begin(), rim.end());
  const double range = rim[std::size_t(0.9 * double(rim.size() - 1))] -
                       rim[std::size_t(0.1 * double(rim.size() - 1))];
  if (range < 4 * trace.unit_px) return std::nullopt;
  const auto root = root_of_burr(image, trace, rim);
  if (!root) return std::nullopt;
  std::vector<double> heights;
  for (std::size_t i = 0; i < trace.along_px.size(); ++i) {
    if (in_one_of(chips, trace.along_px[i], 2 * trace.unit_px)) continue;
    const double high = root->depth_px + root->slope * trace.along_px[i] - trace.inward_px[i];
    if (high >= 2 * trace.unit_px) heights.push_back(high);
  }
  if (heights.size() < 6) return std::nullopt;
  BrightBand out;
  out.share = double(heights.size()) / double(rim.size());
  for (const double high : heights) out.mean_px += high / double(heights.size());
  for (std::size_t k = 4; k + 4 < heights.size(); ++k) {
    const auto at = heights.begin() + std::ptrdiff_t(k);
    out.most_px = std::max(out.most_px, upper_median(std::vector<double>(at - 4, at + 5)));
  }
  std::sort(heights.begin(), heights.end());
  // A line that lies evenly far behind is a facet's, not a burr's foot.
  if (heights[std::size_t(0.05 * double(heights.size() - 1))] >
      0.5 * heights[std::size_t(0.9 * double(heights.size() - 1))])
    return std::nullopt;
  out.median_px = heights[std::size_t(0.5 * double(heights.size() - 1))];
  out.ninth_px = heights[std::size_t(0.9 * double(heights.size() - 1))];
  out.mean_error_px = std::hypot(0.9 * trace.unit_px, 0.2 * trace.soft_px, 0.04 * out.mean_px);
  out.most_error_px = std::hypot(out.mean_error_px, 0.6 * trace.unit_px, 0.04 * out.most_px);
  return out;
}

Checked<Recession> recession(const ApexTrace& earlier, const ApexTrace& later,
                             const Similarity& map, double map_error_px) {
  // The later apex in the earlier picture, as depth behind the earlier line.
  struct Place {
    double at, depth;
  };
  std::vector<Place> places;
  for (std::size_t i = 0; i < later.along_px.size(); ++i) {
    const Spot p = map.map(later.spot(later.along_px[i], later.inward_px[i])) - earlier.line.at;
    const double at = dot(p, earlier.line.along);
    places.push_back({at, dot(p, earlier.inward) - earlier.bend * at * at});
  }
  const Spot inward = map.map(later.spot(0, 10)) - map.map(later.spot(0, 0));
  if (dot(inward, earlier.inward) <= 0)
    return Refusal{said("the blade was taken to lie on different sides in the two pictures")};
  std::sort(places.begin(), places.end(),
            [](const Place& a, const Place& b) { return a.at < b.at; });
  std::vector<double> lost, at;
  std::size_t k = 0;
  for (std::size_t i = 0; i < earlier.along_px.size(); ++i) {
    const double s = earlier.along_px[i];
    while (k + 1 < places.size() && places[k + 1].at < s) ++k;
    if (k + 1 >= places.size() || places[k].at > s || places[k + 1].at < s) continue;
    const double gap = places[k + 1].at - places[k].at,
                 share = gap > 1e-9 ? (s - places[k].at) / gap : 0;
    const double depth = places[k].depth + share * (places[k + 1].depth - places[k].depth);
    lost.push_back(depth - earlier.inward_px[i]);
    at.push_back(s);
  }
  if (lost.size() < 40 / earlier.unit_px || at.back() - at.front() < 40)
    return Refusal{said("less than 40 pixels of the apex are seen in both pictures")};
  Recession out;
  out.length_px = at.back() - at.front();
  out.depth_px = for_drawing(lost);
  for (const double d : lost) out.mean_px += d / double(lost.size());
  const double size = map.scale();
  const double shared =
      std::hypot(std::hypot(map_error_px, 0.2), 0.1 * earlier.soft_px, 0.1 * later.soft_px * size);
  // Columns side by side are not independent: pieces of an eighth are.
  double spread = 0;
  constexpr std::size_t kPieces = 8;
  for (std::size_t p = 0; p < kPieces; ++p) {
    const std::size_t from = lost.size() * p / kPieces, to = lost.size() * (p + 1) / kPieces;
    double noise = 0;
    for (std::size_t i = from + 3; i < to; ++i) noise += std::pow(lost[i] - lost[i - 3], 2);
    spread += noise / 2 / std::max<double>(1, double(to - from) - 3);
  }
  const double column = std::sqrt(spread / kPieces);
  out.mean_error_px = std::hypot(shared, column * std::sqrt(3.0 / double(lost.size())));
  for (std::size_t i = 4; i + 4 < lost.size(); ++i) {
    double mean = 0;
    for (std::size_t j = i - 4; j <= i + 4; ++j) mean += lost[j] / 9;
    if (mean > out.most_px) {
      out.most_px = mean;
      out.most_at_px = at[i];
    }
  }
  out.most_error_px = std::hypot(shared, column / std::sqrt(3.0), 0.3 * earlier.unit_px);
  out.area_px2 = out.mean_px * out.length_px;
  out.area_error_px2 = out.mean_error_px * out.length_px;
  return out;
}

}  // namespace bq::inline lens
