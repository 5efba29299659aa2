#include "lens/apex_line.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "lens/edge_finder.h"
#include "quantity/said.h"

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

/// How much brightness changes along the apex over a few pixels, as a power, less what noise alone
/// would make of it: metal has scratches, the ground has only noise, however bright it is. Columns
/// are means of three, so noise changes three times as much (in power) over three of them or more
/// than over one.
double liveliness(const std::vector<std::vector<double>>& columns, bool plus) {
  // Means of four pixels going inward: noise falls out of them, scratches that cross the apex do
  // not.
  constexpr std::size_t kBlock = 8;
  constexpr std::array<std::size_t, 4> kAway{1, 3, 6, 9};
  std::array<std::vector<double>, kAway.size()> changes;
  for (std::size_t i = 0; i + kAway.back() < columns.size(); i += 2) {
    const auto& one = columns[i];
    const std::size_t third = one.size() / 3, from = plus ? one.size() - third : 0;
    for (std::size_t k = from; k + kBlock <= from + third; k += kBlock) {
      const double here = mean_of(one, k, k + kBlock);
      for (std::size_t a = 0; a < kAway.size(); ++a)
        changes[a].push_back(std::abs(here - mean_of(columns[i + kAway[a]], k, k + kBlock)));
    }
  }
  const double near = upper_median(changes[0]);
  double most = 0;
  for (std::size_t a = 1; a < kAway.size(); ++a) most = std::max(most, upper_median(changes[a]));
  return std::max(0.0, most * most - 3 * near * near);
}

// Neighbouring columns share pixels and scratches: about one in eight stands for itself.
constexpr double kColumnsAlike = 8;

/// Robust SD of depths about 0.
double spread_of(const std::vector<double>& depths) {
  std::vector<double> sizes;
  for (const double depth : depths) sizes.push_back(std::abs(depth));
  return 1.4826 * upper_median(sizes);
}

/// Depths behind a parabola instead of the line, where that fits clearly better. The line becomes
/// its tangent at line.at.
void take_belly(ApexTrace& out, const std::vector<Spot>& places, double span) {
  std::vector<Spot> depth_at;
  for (std::size_t i = 0; i < places.size(); ++i)
    depth_at.push_back({out.along_px[i], out.inward_px[i]});
  const auto belly = fit_bend(depth_at);
  // One wide chip would pass for a belly, were it not that most of the apex lies on the line then.
  if (!belly || std::abs(belly->bend) * 0.25 * span * span <= 1 ||
      belly->scatter >= 0.7 * spread_of(out.inward_px) ||
      std::abs(belly->bend) <= 4 * std::sqrt(kColumnsAlike) * belly->error_bend)
    return;
  const double turned_by = std::atan(belly->slope);
  const Spot along = out.line.along, inward = out.inward;
  out.line.at = out.line.at + belly->at_0 * inward;
  out.line.along = std::cos(turned_by) * along + std::sin(turned_by) * inward;
  out.inward = std::cos(turned_by) * inward - std::sin(turned_by) * along;
  out.bend = belly->bend;
  out.error_px = belly->error_at_0 * std::sqrt(kColumnsAlike);
  for (std::size_t i = 0; i < places.size(); ++i) {
    const Spot d = places[i] - out.line.at;
    const double at = dot(d, out.line.along);
    out.along_px[i] = at;
    out.inward_px[i] = dot(d, out.inward) - out.bend * at * at;
  }
}

/// Width of the bright band behind the apex: from where brightness has come half-way up to it, to
/// where it has come half-way down to what lies behind. 0 where nothing is that bright.
double bright_width(const GreyImage& image, Spot edge, const ApexTrace& trace, double reach) {
  const auto at = [&](double s) { return image.at(edge + s * trace.inward); };
  const double glint = trace.bevel + 0.45 * (255 - trace.bevel);
  double wide = 0, most = 0;
  for (double s = 0.5; s < reach; s += kTraceStep) {
    const double here = at(s);
    most = std::max(most, here);
    if (here >= glint)
      wide = s;
    else if (s - wide > (wide > 0 ? 2 : 5))
      break;
  }
  if (wide == 0) return 0;
  const double half_up = 0.5 * (trace.surround + most);
  double outer = 0;
  for (double s = -4; s < 5; s += kTraceStep)
    if (at(s) < half_up && at(s + kTraceStep) >= half_up) {
      outer = s + kTraceStep * (half_up - at(s)) / (at(s + kTraceStep) - at(s));
      break;
    }
  double behind = 0;
  for (int k = 4; k <= 9; ++k) behind += at(wide + k) / 6;
  const double level = 0.5 * (most + behind);
  if (level >= most) return wide;
  for (double s = std::max(0.5, wide - 4); s < wide + 6; s += kTraceStep) {
    const double here = at(s), next = at(s + kTraceStep);
    if (here >= level && next < level)
      return s + kTraceStep * (here - level) / (here - next) - outer;
  }
  return wide;
}

/// One look at a picture as it is.
struct ApexLook {
  ApexTrace trace;
  int cut_short = 0;  ///< columns in which no apex was found within the reach
};

Checked<ApexLook> look_along(const GreyImage& image, Spot from, Spot to,
                             const ApexOptions& options) {
  const double span = length(to - from);
  ApexTrace out;
  int cut_short = 0;
  const Spot along = (1 / span) * (to - from);
  const Spot side = turned(along);
  const int count = int(span) + 1;
  const double reach = std::clamp(options.reach_px, 8.0, 1600.0);
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
    return Refusal{said("both sides of the line are equally bright: no apex can be told there")};
  bool turn = low > high;  // the metal lies on the other side
  if (options.metal) {
    turn = dot(*options.metal - from, side) < 0;
    out.side_told = true;
  } else {
    const double here = liveliness(columns, false), there = liveliness(columns, true);
    if (std::max(here, there) > 2 * std::min(here, there) + 0.2) {
      turn = here > there;
      out.side_told = true;
    }
  }
  out.inward = turn ? -1 * side : side;
  if (turn)
    for (auto& c : columns) std::reverse(c.begin(), c.end());
  out.surround = turn ? high : low;
  out.bevel = turn ? low : high;
  // A dark bevel on bright ground is looked at in negative.
  const bool negative = out.bevel < out.surround;
  if (negative)
    for (auto& c : columns)
      for (double& value : c) value = 255 - value;
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
    cut_short = 0;
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
      cut_short += place > reach - 4;
      depths[std::size_t(i)] = place;
    }
  }
  for (int i = 0; i < count; ++i)
    places[std::size_t(i)] = from + double(i) * along + depths[std::size_t(i)] * out.inward;
  const auto fit = fit_line(places);
  if (!fit) return Refusal{said("no apex can be told there")};
  out.line = fit->line;
  if (dot(out.line.along, along) < 0) out.line.along = -1 * out.line.along;
  const Spot normal = dot(turned(out.line.along), out.inward) > 0 ? turned(out.line.along)
                                                                  : -1 * turned(out.line.along);
  out.inward = normal;
  for (const Spot& place : places) {
    const Spot d = place - out.line.at;
    out.along_px.push_back(dot(d, out.line.along));
    out.inward_px.push_back(dot(d, normal));
  }
  out.error_px = fit->error_px * std::sqrt(kColumnsAlike);
  take_belly(out, places, span);
  out.scatter_px = std::max(0.05, spread_of(out.inward_px));
  for (int i = 0; i < count; ++i) {
    const Spot edge = places[std::size_t(i)];
    out.brightness.push_back(
        0.5 * (image.at(edge + 1.0 * out.inward) + image.at(edge + 2.0 * out.inward)));
    double deep = 0;
    for (int k = 4; k <= 7; ++k) deep += image.at(edge + double(k) * out.inward) / 4;
    out.deeper.push_back(deep);
    out.width_px.push_back(bright_width(image, edge, out, reach));
  }
  return ApexLook{std::move(out), cut_short};
}

}  // namespace

double ApexTrace::band_common_px() const { return std::hypot(0.25 * unit_px, 0.2 * soft_px); }

double ApexTrace::sag_px() const {
  if (along_px.size() < 2) return 0;
  const double half = 0.5 * (along_px.back() - along_px.front());
  return std::abs(bend) * half * half;
}

Checked<ApexTrace> trace_apex(const GreyImage& image, Spot from, Spot to,
                              const ApexOptions& options) {
  const double span = length(to - from);
  if (image.empty() || !image.contains(from) || !image.contains(to))
    return Refusal{said("the line along the apex leaves the picture")};
  if (span < 20) return Refusal{said("the line along the apex is shorter than 20 pixels")};
  // How soft the apex is: the median of five places along it.
  std::vector<double> softs;
  SnapOptions near;
  near.reach_px = std::clamp(options.reach_px / 2, 10.0, 60.0);
  near.swath_px = std::clamp(span / 12, 8.0, 60.0);
  for (int i = 1; i <= 5; ++i)
    if (const auto edge = snap_edge(image, from + (i / 6.0) * (to - from), turned(to - from), near))
      softs.push_back(edge->soft_px);
  const double soft = upper_median(softs);
  const int unit = std::clamp(int(soft / 3), 1, 16);
  GreyImage coarse;
  if (unit > 1 && span > 40.0 * unit)
    coarse = shrunk(image, std::max(image.width(), image.height()) / unit);
  const bool whole = coarse.empty();
  const double k = whole ? 1 : double(image.width()) / coarse.width();
  const auto down = [k](Spot p) { return Spot{(p.x + 0.5) / k - 0.5, (p.y + 0.5) / k - 0.5}; };
  const GreyImage& seen = whole ? image : coarse;
  const auto inside = [&seen](Spot p) {
    return Spot{std::clamp(p.x, 0.0, seen.width() - 1.0),
                std::clamp(p.y, 0.0, seen.height() - 1.0)};
  };
  ApexOptions own = options;
  own.reach_px = options.reach_px / k;
  if (options.metal) own.metal = down(*options.metal);
  Checked<ApexLook> found = look_along(seen, inside(down(from)), inside(down(to)), own);
  // A chip deeper than the reach would fall to pieces.
  const double farthest = std::min(1600.0, 0.7 * std::max(seen.width(), seen.height()));
  while (found && found->cut_short > 2 && 2 * own.reach_px <= farthest) {
    own.reach_px *= 2;
    auto wider = look_along(seen, inside(down(from)), inside(down(to)), own);
    if (!wider || wider->cut_short >= found->cut_short) break;
    found = std::move(wider);
  }
  if (!found) return Refusal{found.refusal().reason};
  ApexTrace out = std::move(found->trace);
  out.soft_px = soft;
  out.unit_px = k;
  if (whole) return out;
  out.line.at = {(out.line.at.x + 0.5) * k - 0.5, (out.line.at.y + 0.5) * k - 0.5};
  out.bend /= k;
  for (auto* values : {&out.along_px, &out.inward_px, &out.width_px})
    for (double& value : *values) value *= k;
  out.scatter_px *= k;
  out.error_px *= k;
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

}  // namespace bq::inline lens
