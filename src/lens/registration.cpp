#include "lens/registration.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bq::inline lens {
namespace {

/// Surroundings of a mark: half their side and the distance of the points looked at, and how far
/// they are looked for (px).
struct Look {
  int half, step, reach;
};
constexpr Look kCoarse{34, 2, 12}, kFine{20, 1, 4};

struct Match {
  Spot off;
  double agreement = -1;
};

/// Where the surroundings of `at` in the first picture lie in the second, as an offset from where
/// the map puts them.
Match match(const GreyImage& first, const GreyImage& second, const Similarity& map, Spot at,
            const Look& look) {
  const int reach = look.reach;
  std::vector<double> patch;
  double mean = 0;
  for (int y = -look.half; y <= look.half; y += look.step)
    for (int x = -look.half; x <= look.half; x += look.step) {
      patch.push_back(first.at(at + Spot{double(x), double(y)}));
      mean += patch.back();
    }
  mean /= double(patch.size());
  double own = 0;
  for (double& value : patch) {
    value -= mean;
    own += value * value;
  }
  const int side = 2 * reach + 1;
  std::vector<double> agreement(std::size_t(side * side), -1.0);
  for (int oy = -reach; oy <= reach; ++oy)
    for (int ox = -reach; ox <= reach; ++ox) {
      double sum = 0, squares = 0, cross = 0;
      std::size_t i = 0;
      for (int y = -look.half; y <= look.half; y += look.step)
        for (int x = -look.half; x <= look.half; x += look.step) {
          const double value =
              second.at(map.map(at + Spot{double(x), double(y)}) + Spot{double(ox), double(oy)});
          sum += value;
          squares += value * value;
          cross += value * patch[i++];
        }
      const double other = squares - sum * sum / double(patch.size());
      if (own > 1e-6 && other > 1e-6)
        agreement[std::size_t((oy + reach) * side + ox + reach)] = cross / std::sqrt(own * other);
    }
  const auto best = std::max_element(agreement.begin(), agreement.end()) - agreement.begin();
  const int bx = int(best) % side, by = int(best) / side;
  Match out{{double(bx - reach), double(by - reach)}, agreement[std::size_t(best)]};
  const auto between = [&](double before, double here, double after) {
    const double bend = before - 2 * here + after;
    return bend < -1e-12 ? std::clamp(0.5 * (before - after) / bend, -0.5, 0.5) : 0;
  };
  const auto value = [&](int x, int y) { return agreement[std::size_t(y * side + x)]; };
  if (bx > 0 && bx + 1 < side)
    out.off.x += between(value(bx - 1, by), value(bx, by), value(bx + 1, by));
  if (by > 0 && by + 1 < side)
    out.off.y += between(value(bx, by - 1), value(bx, by), value(bx, by + 1));
  return out;
}

/// Means over boxes of 64 px, to be read between them.
struct SlowLight {
  int columns = 0, rows = 0;
  std::vector<double> means;
  explicit SlowLight(const GreyImage& image)
      : columns((image.width() + 63) / 64), rows((image.height() + 63) / 64) {
    for (int j = 0; j < rows; ++j)
      for (int i = 0; i < columns; ++i) {
        double sum = 0;
        int count = 0;
        for (int y = 64 * j; y < std::min(image.height(), 64 * j + 64); y += 2)
          for (int x = 64 * i; x < std::min(image.width(), 64 * i + 64); x += 2) {
            sum += image.row(y)[x];
            ++count;
          }
        means.push_back(sum / count);
      }
  }
  [[nodiscard]] double at(Spot p) const {
    const double x = std::clamp(p.x / 64 - 0.5, 0.0, double(columns - 1)),
                 y = std::clamp(p.y / 64 - 0.5, 0.0, double(rows - 1));
    const int x0 = int(x), y0 = int(y), x1 = std::min(x0 + 1, columns - 1),
              y1 = std::min(y0 + 1, rows - 1);
    const auto m = [&](int i, int j) { return means[std::size_t(j * columns + i)]; };
    return (1 - (y - y0)) * ((1 - (x - x0)) * m(x0, y0) + (x - x0) * m(x1, y0)) +
           (y - y0) * ((1 - (x - x0)) * m(x0, y1) + (x - x0) * m(x1, y1));
  }
};

}  // namespace

double Similarity::scale() const { return std::hypot(a, b); }
double Similarity::turn_deg() const { return std::atan2(b, a) * 180 / std::numbers::pi; }
Similarity Similarity::inverse() const {
  const double k = a * a + b * b;
  Similarity out{a / k, -b / k, 0, 0};
  const Spot back = out.map({dx, dy});
  out.dx = -back.x;
  out.dy = -back.y;
  return out;
}

Checked<Similarity> similarity_of(const std::vector<std::pair<Spot, Spot>>& pairs) {
  if (pairs.size() < 2) return Refusal{"two marks at least are needed"};
  Spot from{0, 0}, to{0, 0};
  for (const auto& [p, q] : pairs) {
    from = from + (1.0 / double(pairs.size())) * p;
    to = to + (1.0 / double(pairs.size())) * q;
  }
  double size = 0, cosine = 0, sine = 0, other = 0;
  for (const auto& [p, q] : pairs) {
    const Spot u = p - from, v = q - to;
    size += dot(u, u);
    other += dot(v, v);
    cosine += dot(u, v);
    sine += u.x * v.y - u.y * v.x;
  }
  if (size < 64 || other < 64) return Refusal{"the marks lie too close to each other"};
  Similarity out{cosine / size, sine / size, 0, 0};
  const Spot moved = out.map(from);
  out.dx = to.x - moved.x;
  out.dy = to.y - moved.y;
  if (out.scale() < 0.05 || out.scale() > 20) return Refusal{"the marks do not fit each other"};
  return out;
}

Checked<Registration> register_pictures(const GreyImage& first, const GreyImage& second,
                                        const std::vector<std::pair<Spot, Spot>>& marks) {
  if (marks.size() > 8) return Refusal{"more than eight marks"};
  for (const auto& [p, q] : marks)
    if (!first.contains(p) || !second.contains(q))
      return Refusal{"a mark lies outside its picture"};
  const auto shown = similarity_of(marks);
  if (!shown) return shown.refusal();
  Registration out{*shown, marks, std::vector<bool>(marks.size(), false), 0};
  for (const Look& look : {kCoarse, kFine, kFine}) {
    const Similarity now = out.map;
    for (std::size_t i = 0; i < marks.size(); ++i) {
      const Match found = match(first, second, now, marks[i].first, look);
      out.matched[i] = found.agreement >= 0.5;
      out.marks[i].second = out.matched[i] ? now.map(marks[i].first) + found.off : marks[i].second;
    }
    const auto better = similarity_of(out.marks);
    if (!better) return better.refusal();
    out.map = *better;
  }
  if (marks.size() > 2) {
    double sum = 0;
    for (const auto& [p, q] : out.marks) sum += dot(out.map.map(p) - q, out.map.map(p) - q);
    out.residual_px = std::sqrt(sum / double(marks.size()));
  }
  return out;
}

GreyImage difference_of(const GreyImage& first, const GreyImage& second, const Similarity& map,
                        const std::function<bool()>& stop) {
  if (first.empty() || second.empty()) return {};
  GreyImage out = *GreyImage::make(first.width(), first.height(), 128);
  const SlowLight one(first), other(second);
  for (int y = 0; y < first.height(); ++y) {
    if (stop && stop()) return {};
    for (int x = 0; x < first.width(); ++x) {
      const Spot here{double(x), double(y)}, there = map.map(here);
      if (!second.contains(there)) continue;
      const double gain = (one.at(here) + 8) / (other.at(there) + 8);
      out.row(y)[x] =
          std::uint8_t(std::clamp(128.5 + (second.at(there) * gain - first.row(y)[x]), 0.0, 255.0));
    }
  }
  return out;
}

}  // namespace bq::inline lens
