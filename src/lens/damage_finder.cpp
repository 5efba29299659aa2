#include "lens/damage_finder.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace bq::inline lens {
namespace {
constexpr std::array<std::string_view, 3> kNames{"chip", "roll", "glint"};

/// Means over nine neighbours: single scratches that run out at the apex are no damage.
std::vector<double> evened(const std::vector<double>& values) {
  std::vector<double> out;
  const int last = int(values.size()) - 1;
  for (int i = 0; i <= last; ++i) {
    double sum = 0;
    for (int k = -4; k <= 4; ++k) sum += values[std::size_t(std::clamp(i + k, 0, last))];
    out.push_back(sum / 9);
  }
  return out;
}

}  // namespace

std::string_view name_of(ApexDamage kind) { return kNames[std::size_t(kind)]; }
std::optional<ApexDamage> parse_apex_damage(std::string_view text) {
  for (std::size_t i = 0; i < kNames.size(); ++i)
    if (kNames[i] == text) return ApexDamage(i);
  return std::nullopt;
}

std::vector<DamageHint> find_damage(const ApexTrace& trace) {
  std::vector<DamageHint> out;
  const auto place = [&](double along, double depth) {
    return trace.line.at + along * trace.line.along + depth * trace.inward;
  };
  for (const auto& chip : chips_of(trace)) {
    const double limit = std::max(2.0, 4 * trace.scatter_px);
    out.push_back({ApexDamage::chip, chip.from_px, chip.to_px, chip.depth_px, chip.depth_px / limit,
                   place(0.5 * (chip.from_px + chip.to_px), 0.5 * chip.depth_px)});
  }
  const auto in_chip = [&](double along) {
    return std::any_of(out.begin(), out.end(), [&](const DamageHint& h) {
      return h.kind == ApexDamage::chip && along > h.from_px - 4 && along < h.to_px + 4;
    });
  };
  std::vector<DamageHint> bright;
  // Rolls first: what is bright far inside is no mere glint.
  for (const ApexDamage kind : {ApexDamage::roll, ApexDamage::glint}) {
    const auto values = evened(kind == ApexDamage::roll ? trace.deeper : trace.brightness);
    const double usual = upper_median(values);
    std::vector<double> off;
    for (const double value : values) off.push_back(std::abs(value - usual));
    const double limit = std::max(15.0, 3 * 1.4826 * upper_median(off));
    const int count = int(values.size());
    const auto over = [&](int i) {
      const double along = trace.along_px[std::size_t(i)];
      const bool known = std::any_of(bright.begin(), bright.end(), [&](const DamageHint& h) {
        return along > h.from_px - 3 && along < h.to_px + 3;
      });
      return values[std::size_t(i)] >= usual + limit && !known && !in_chip(along);
    };
    std::vector<DamageHint> found;
    for (int i = 0; i < count;) {
      if (!over(i)) {
        ++i;
        continue;
      }
      int last = i;
      std::vector<double> widths, above;
      for (int k = i; k < count && k - last <= 3; ++k)
        if (over(k)) {
          last = k;
          widths.push_back(trace.width_px[std::size_t(k)]);

          above.push_back(values[std::size_t(k)] - usual);
        }
      const double wide = std::max(kind == ApexDamage::roll ? 7.0 : 2.0, upper_median(widths));
      if (last - i >= 6)
        found.push_back(
            {kind, trace.along_px[std::size_t(i)], trace.along_px[std::size_t(last)], wide,
             upper_median(above) / limit,
             place(0.5 * (trace.along_px[std::size_t(i)] + trace.along_px[std::size_t(last)]),
                   0.5 * wide)});
      i = last + 1;
    }
    bright.insert(bright.end(), found.begin(), found.end());
  }
  out.insert(out.end(), bright.begin(), bright.end());
  std::sort(out.begin(), out.end(),
            [](const DamageHint& a, const DamageHint& b) { return a.from_px < b.from_px; });
  return out;
}

std::optional<std::pair<Spot, Spot>> find_apex(const GreyImage& image) {
  if (image.width() < 64 || image.height() < 64) return std::nullopt;
  const GreyImage small = shrunk(image, 640);
  const double back = double(image.width()) / small.width();
  std::optional<std::pair<Spot, Spot>> best;
  double best_score = 0;
  for (const bool across : {false, true}) {
    const int columns = 20, length_px = across ? small.width() : small.height(),
              wide = across ? small.height() : small.width();
    const auto value = [&](int column, int at) {
      return double(across ? small.row(column)[at] : small.row(at)[column]);
    };
    std::vector<Spot> places;  // x: column, y: place along it
    std::vector<double> slopes;
    for (int i = 0; i < columns; ++i) {
      const int column = std::clamp(int((i + 0.5) * wide / columns), 3, wide - 4);
      double found = 0;
      int at = 0;
      for (int k = 6; k < length_px - 6; ++k) {
        double step = 0, dark = 0;
        for (int d = 1; d <= 5; ++d)
          for (int c = -3; c <= 3; c += 3)
            step += value(column + c, k + d) - value(column + c, k - d);
        // The surround is dark: a step up to something bright from something as bright is a
        // shoulder or a scratch.
        for (int d = 2; d <= 5; ++d) dark += value(column, k + (step > 0 ? -d : d)) / 4;
        const double score = std::abs(step) * (1 - dark / 320);
        if (score > found) {
          found = score;
          at = k;
        }
      }
      places.push_back({double(column), double(at)});
      slopes.push_back(found / 15);
    }
    for (int i = 0; i < columns; ++i)
      for (int j = i + 6; j < columns; ++j) {
        const double turn = (places[std::size_t(j)].y - places[std::size_t(i)].y) /
                            (places[std::size_t(j)].x - places[std::size_t(i)].x);
        if (std::abs(turn) > 1) continue;
        double score = 0;
        int agree = 0;
        for (int k = 0; k < columns; ++k)
          if (std::abs(places[std::size_t(k)].y - places[std::size_t(i)].y -
                       turn * (places[std::size_t(k)].x - places[std::size_t(i)].x)) < 3 &&
              slopes[std::size_t(k)] > 8) {
            ++agree;
            score += slopes[std::size_t(k)];
          }
        if (agree < 12 || score <= best_score) continue;
        best_score = score;
        const auto end = [&](double column) {
          const double at =
              std::clamp(places[std::size_t(i)].y + turn * (column - places[std::size_t(i)].x), 0.0,
                         double(length_px - 1));
          const Spot p = across ? Spot{at, column} : Spot{column, at};
          return Spot{std::clamp(p.x * back, 0.0, double(image.width() - 1)),
                      std::clamp(p.y * back, 0.0, double(image.height() - 1))};
        };
        best = {end(2), end(wide - 3)};
      }
  }
  return best;
}

}  // namespace bq::inline lens
