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
  const double unit = trace.unit_px;
  const auto place = [&](double along, double depth) { return trace.spot(along, depth); };
  for (const auto& chip : chips_of(trace)) {
    const double limit = std::max(2.0 * unit, 4 * trace.scatter_px);
    out.push_back({ApexDamage::chip, chip.from_px, chip.to_px, chip.depth_px,
                   std::hypot(chip.width_error_px, chip.width_common_px),
                   std::hypot(chip.depth_error_px, chip.depth_common_px), chip.depth_px / limit,
                   place(0.5 * (chip.from_px + chip.to_px), 0.5 * chip.depth_px)});
  }
  const auto in_chip = [&](double along) {
    return std::any_of(out.begin(), out.end(), [&](const DamageHint& h) {
      return h.kind == ApexDamage::chip && along > h.from_px - 4 * unit &&
             along < h.to_px + 4 * unit;
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
        return along > h.from_px - 3 * unit && along < h.to_px + 3 * unit;
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
      const double wide = std::max((kind == ApexDamage::roll ? 7 : 2) * unit, upper_median(widths));
      // Its ends fade; its width is that of columns that differ.
      std::vector<double> off_wide;
      for (const double width : widths) off_wide.push_back(std::abs(width - wide));
      if (last - i >= 6)
        found.push_back(
            {kind, trace.along_px[std::size_t(i)], trace.along_px[std::size_t(last)], wide,
             std::hypot(3 * unit, trace.soft_px),
             std::hypot(trace.band_common_px(),
                        1.4826 * upper_median(off_wide) / std::sqrt(double(widths.size()) / 3)),
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

namespace {

/// The steepest change of brightness in each of twenty columns (or rows) of a picture.
struct Steepest {
  std::vector<Spot> places;  ///< x: column, y: place along it
  std::vector<double> slopes;
  int along = 0, wide = 0;  ///< length of a column, and of the way across them
};

Steepest steepest_in(const GreyImage& small, bool rows) {
  constexpr int kColumns = 20;
  Steepest out;
  out.along = rows ? small.width() : small.height();
  out.wide = rows ? small.height() : small.width();
  const auto value = [&](int column, int at) {
    return double(rows ? small.row(column)[at] : small.row(at)[column]);
  };
  for (int i = 0; i < kColumns; ++i) {
    const int column = std::clamp(int((i + 0.5) * out.wide / kColumns), 3, out.wide - 4);
    double found = 0;
    int at = 0;
    for (int k = 6; k < out.along - 6; ++k) {
      double step = 0, dark = 0;
      for (int d = 1; d <= 5; ++d)
        for (int c = -3; c <= 3; c += 3)
          step += value(column + c, k + d) - value(column + c, k - d);
      // One side is dark: a step up to something bright from something as bright is a shoulder or a
      // scratch.
      for (int d = 2; d <= 5; ++d) dark += value(column, k + (step > 0 ? -d : d)) / 4;
      const double score = std::abs(step) * (1 - dark / 320);
      if (score > found) {
        found = score;
        at = k;
      }
    }
    out.places.push_back({double(column), double(at)});
    out.slopes.push_back(found / 15);
  }
  return out;
}

/// A line, or a parabola, over the columns.
struct Course {
  double at_0 = 0, turn = 0, bend = 0;
  [[nodiscard]] double at(double column) const { return at_0 + column * (turn + column * bend); }
};

/// The course that most of the columns agree on, by the sum of their slopes; its score is raised.
std::optional<Course> course_through(const Steepest& columns, bool bent, double within,
                                     double& best_score) {
  const int count = int(columns.places.size());
  std::optional<Course> best;
  const auto judge = [&](const Course& course) {
    double score = 0;
    int agree = 0;
    for (int k = 0; k < count; ++k) {
      const Spot& p = columns.places[std::size_t(k)];
      if (std::abs(p.y - course.at(p.x)) >= within || columns.slopes[std::size_t(k)] <= 8) continue;
      ++agree;
      score += columns.slopes[std::size_t(k)];
    }
    if (agree < 12 || score <= best_score) return;
    best_score = score;
    best = course;
  };
  for (int i = 0; i < count; ++i)
    for (int j = i + 6; j < count; ++j) {
      const Spot &a = columns.places[std::size_t(i)], &b = columns.places[std::size_t(j)];
      const double turn = (b.y - a.y) / (b.x - a.x);
      if (std::abs(turn) > 1) continue;
      if (!bent) {
        judge({a.y - turn * a.x, turn, 0});
        continue;
      }
      for (int k = i + 3; k + 3 <= j; ++k) {
        const Spot& m = columns.places[std::size_t(k)];
        const double bend = (m.y - a.y - turn * (m.x - a.x)) / ((m.x - a.x) * (m.x - b.x));
        // A belly, not a hook.
        if (std::abs(bend) * 0.25 * columns.wide * columns.wide > 0.2 * columns.wide) continue;
        const double slope = turn - bend * (a.x + b.x);
        judge({a.y - a.x * (slope + a.x * bend), slope, bend});
      }
    }
  return best;
}

}  // namespace

std::optional<std::pair<Spot, Spot>> find_apex(const GreyImage& image) {
  if (image.width() < 64 || image.height() < 64) return std::nullopt;
  const GreyImage small = shrunk(image, 640);
  const double back = double(image.width()) / small.width();
  const Steepest looked[] = {steepest_in(small, false), steepest_in(small, true)};
  // A straight apex first; a belly only where there is none, and the rim of a ragged burr last.
  constexpr double kRagged = 18;
  for (const auto& [bent, within] :
       {std::pair{false, 3.0}, std::pair{true, 3.0}, std::pair{false, kRagged}}) {
    std::optional<std::pair<Spot, Spot>> best;
    double score = 0;
    for (const bool rows : {false, true}) {
      const Steepest& columns = looked[rows ? 1 : 0];
      const auto course = course_through(columns, bent, within, score);
      if (!course) continue;
      const auto end = [&](double column) {
        const double at = std::clamp(course->at(column), 0.0, double(columns.along - 1));
        const Spot p = rows ? Spot{at, column} : Spot{column, at};
        return Spot{std::clamp(p.x * back, 0.0, double(image.width() - 1)),
                    std::clamp(p.y * back, 0.0, double(image.height() - 1))};
      };
      best = {end(2), end(columns.wide - 3)};
    }
    if (best) return best;
  }
  return std::nullopt;
}

}  // namespace bq::inline lens
