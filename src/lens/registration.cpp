#include "lens/registration.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <string>

#include "quantity/said.h"

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
  double falls = 0;  ///< agreement lost three pixels away, in the direction that loses least
  Spot ridge = {};   ///< that direction, a unit vector
  double rival = 0;  ///< agreement of the best place that is not on the same hump
};
/// What agrees less than this is not the same place.
constexpr double kAlike = 0.5;
/// A mark that agrees nearly as well three pixels on (along a scratch, say) or at another place is
/// held by nothing there. Both as shares of what is left to full agreement, which is noise: of
/// marks that stand alone one in a hundred falls short, of places on bare scratches three in a
/// hundred pass (tests/lens/any_apex_test).
constexpr double kHeld = 0.75, kOnly = 2.6;

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
  // How firmly it is held: the flattest way down from the hump, and other humps as high.
  const auto near = [&](double x, double y) {
    x = std::clamp(bx + x, 0.0, side - 1.001);
    y = std::clamp(by + y, 0.0, side - 1.001);
    const int ix = int(x), iy = int(y);
    const double fx = x - ix, fy = y - iy;
    return (1 - fy) * ((1 - fx) * value(ix, iy) + fx * value(ix + 1, iy)) +
           fy * ((1 - fx) * value(ix, iy + 1) + fx * value(ix + 1, iy + 1));
  };
  out.falls = 2;
  for (int i = 0; i < 16; ++i) {
    const double turn = std::numbers::pi * i / 16;
    const Spot way{std::cos(turn), std::sin(turn)};
    const double lost =
        out.agreement - 0.5 * (near(3 * way.x, 3 * way.y) + near(-3 * way.x, -3 * way.y));
    if (lost < out.falls) {
      out.falls = lost;
      out.ridge = way;
    }
  }
  for (int y = 1; y + 1 < side; ++y)
    for (int x = 1; x + 1 < side; ++x)
      if (std::hypot(x - bx, y - by) > 3 && value(x, y) > out.rival &&
          value(x, y) >= value(x - 1, y) && value(x, y) >= value(x + 1, y) &&
          value(x, y) >= value(x, y - 1) && value(x, y) >= value(x, y + 1))
        out.rival = value(x, y);
  return out;
}

/// The map by marks that count alike, and others that count little (a hand's).
Checked<Similarity> map_by(const std::vector<std::pair<Spot, Spot>>& marks,
                           const std::vector<bool>& firm) {
  std::vector<std::pair<Spot, Spot>> counted;
  for (std::size_t i = 0; i < marks.size(); ++i)
    if (firm[i]) counted.push_back(marks[i]);
  if (counted.size() >= 2)
    if (const auto by_firm = similarity_of(counted)) return by_firm;
  return similarity_of(marks);
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
  if (pairs.size() < 2) return Refusal{said("two marks at least are needed")};
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
  if (size < 64 || other < 64) return Refusal{said("the marks lie too close to each other")};
  Similarity out{cosine / size, sine / size, 0, 0};
  const Spot moved = out.map(from);
  out.dx = to.x - moved.x;
  out.dy = to.y - moved.y;
  if (out.scale() < 0.05 || out.scale() > 20)
    return Refusal{said("the marks do not fit each other")};
  return out;
}

namespace {

std::string doubt_of(const Registration& found, const std::vector<bool>& firm,
                     const GreyImage& first) {
  const auto held = std::count(firm.begin(), firm.end(), true);
  if (held < 2)
    return std::find(found.matched.begin(), found.matched.end(), false) != found.matched.end()
               ? said("the marks look different in the two pictures and stay where they were shown")
               : said(
                     "the marks look alike along a scratch or repeat beside themselves, so that "
                     "they may have slid: show something that stands alone (a speck, a scribed "
                     "cross, the end of a scratch)");
  if (found.residual_px > 2)
    return said(
        "the marks do not agree: one of them is not the same mark, or hidden in one picture");
  // A quarter of a pixel each (0.1 on the pictures of the tests), carried to the picture's corners.
  Spot middle{0, 0};
  for (std::size_t i = 0; i < firm.size(); ++i)
    if (firm[i]) middle = middle + (1.0 / double(held)) * found.marks[i].first;
  double spread = 0, farthest = 0;
  for (std::size_t i = 0; i < firm.size(); ++i)
    if (firm[i]) spread += dot(found.marks[i].first - middle, found.marks[i].first - middle);
  for (const double x : {0.0, double(first.width())})
    for (const double y : {0.0, double(first.height())})
      farthest = std::max(farthest, length(Spot{x, y} - middle));
  const double error = 0.25 * std::sqrt(1.0 / double(held) + farthest * farthest / spread);
  if (1.96 * error > 2)
    return said("the marks lie close together: far from them the pictures may be off");
  return {};
}

}  // namespace

Checked<Registration> register_pictures(const GreyImage& first, const GreyImage& second,
                                        const std::vector<std::pair<Spot, Spot>>& marks) {
  if (marks.size() > 8) return Refusal{said("more than eight marks")};
  for (const auto& [p, q] : marks)
    if (!first.contains(p) || !second.contains(q))
      return Refusal{said("a mark lies outside its picture")};
  const auto shown = similarity_of(marks);
  if (!shown) return shown.refusal();
  Registration out{*shown, marks, std::vector<bool>(marks.size(), false), 0, {}};
  std::vector<bool> firm(marks.size(), true);
  const auto is_held = [](const Match& found) {
    const double noise = 1 - found.agreement;
    return found.agreement >= kAlike && found.falls >= kHeld * noise &&
           found.agreement - found.rival >= kOnly * noise;
  };
  for (const Look& look : {kCoarse, kFine, kFine}) {
    const Similarity now = out.map;
    for (std::size_t i = 0; i < marks.size(); ++i) {
      const Match found = match(first, second, now, marks[i].first, look);
      out.matched[i] = found.agreement >= kAlike;
      if (look.reach == kCoarse.reach) firm[i] = is_held(found);
      out.marks[i].second = out.matched[i] ? now.map(marks[i].first) + found.off : marks[i].second;
    }
    const auto better = similarity_of(out.marks);
    if (!better) return better.refusal();
    out.map = *better;
  }
  // As they were shown, and once they lie on each other, a wide look tells what holds each mark.
  // What nothing holds may have slid: it stays where it was shown, but for how far it moved across
  // its ridge.
  for (std::size_t i = 0; i < marks.size(); ++i) {
    const Match found = match(first, second, out.map, marks[i].first, kCoarse);
    firm[i] = firm[i] && out.matched[i] && is_held(found) && length(found.off) < 2;
    if (firm[i] || !out.matched[i]) continue;
    const Spot moved = out.marks[i].second - marks[i].second, across = turned(found.ridge);
    out.marks[i].second = marks[i].second + dot(moved, across) * across;
  }
  const auto held = map_by(out.marks, firm);
  if (!held) return held.refusal();
  out.map = *held;
  if (marks.size() > 2) {
    double sum = 0;
    for (const auto& [p, q] : out.marks) sum += dot(out.map.map(p) - q, out.map.map(p) - q);
    out.residual_px = std::sqrt(sum / double(marks.size()));
  }
  out.doubt = doubt_of(out, firm, first);
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
