#include "edge/section.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

const SurfacePiece& piece_at(const std::vector<SurfacePiece>& surface, double h) {
  auto found =
      std::upper_bound(surface.begin(), surface.end(), h,
                       [](double at, const SurfacePiece& piece) { return at < piece.to_mm; });
  return found == surface.end() ? surface.back() : *found;
}

bool finite(double value) { return std::isfinite(value); }

}  // namespace

Checked<Section> Section::blank(double stock_mm, double height_mm) {
  if (!finite(stock_mm) || stock_mm <= 0 || stock_mm > kThickestStock_mm)
    return Refusal{said("the stock's thickness must be above 0 and at most 50 mm")};
  if (!finite(height_mm) || height_mm <= 0 || height_mm > 500)
    return Refusal{said("the blade's height must be above 0 and at most 500 mm")};
  Section section;
  section.top_mm_ = height_mm;
  for (auto& side : section.sides_)
    side = {SurfacePiece::straight(0, height_mm, 0, stock_mm / 2, 0, kMadeByBlank)};
  return section;
}

Checked<Section> Section::measured(std::span<const MeasuredThickness> profile) {
  if (profile.size() < 2) return Refusal{said("a measured section needs at least two thicknesses")};
  Surface side;
  MeasuredThickness last{0, 0};
  for (std::size_t i = 0; i < profile.size(); ++i) {
    const auto& point = profile[i];
    const std::string which = said("measured thickness {i}: ", {{"i", std::to_string(i + 1)}});
    if (!finite(point.distance_mm) || point.distance_mm < 0 || point.distance_mm > 500)
      return Refusal{said("{which}the distance must lie between 0 and 500 mm", {{"which", which}}),
                     i};
    if (!finite(point.thickness_mm) || point.thickness_mm > 50 || point.thickness_mm < 0 ||
        (point.thickness_mm == 0 && point.distance_mm > 0))
      return Refusal{
          said("{which}the thickness must be above 0 (0 only at the apex) and at most 50 mm",
               {{"which", which}}),
          i};
    if (i > 0 && point.distance_mm <= profile[i - 1].distance_mm)
      return Refusal{
          said("{which}distances must rise from the apex; the outline would cross itself",
               {{"which", which}}),
          i};
    if (point.distance_mm > 0)
      side.push_back(SurfacePiece::straight(
          last.distance_mm, point.distance_mm, last.distance_mm, last.thickness_mm / 2,
          (point.thickness_mm - last.thickness_mm) / 2 / (point.distance_mm - last.distance_mm),
          kMadeByMeasurement));
    last = point;
  }
  Section section;
  section.top_mm_ = last.distance_mm;
  section.sides_ = {side, side};
  return section;
}

double Section::half_mm(EdgeSide side, double h_mm) const {
  return piece_at(sides_[std::size_t(side)], h_mm).y(h_mm);
}

double Section::thickness_at_h(double h) const {
  return half_mm(EdgeSide::left, h) + half_mm(EdgeSide::right, h);
}

double Section::apex_left_mm() const {
  const double left = half_mm(EdgeSide::left, bottom_mm_),
               right = half_mm(EdgeSide::right, bottom_mm_);
  if (pieces(EdgeSide::left).empty() || pieces(EdgeSide::right).empty())
    return 0.5 * (left - right);
  const double rise = pieces(EdgeSide::left).front().slope_at(bottom_mm_),
               both = rise + pieces(EdgeSide::right).front().slope_at(bottom_mm_);
  if (!(both > 1e-6)) return 0.5 * (left - right);
  return left - rise * (left + right) / both;
}

double Section::apex_width_mm() const {
  const double width = std::max(0.0, thickness_at_h(bottom_mm_));
  return width < 1e-9 ? 0 : width;  // a thousandth of a nanometre is rounding
}

std::optional<double> Section::thickness_mm(double distance_mm) const {
  if (!(distance_mm >= 0) || distance_mm > height_mm() * (1 + 1e-12)) return std::nullopt;
  return std::max(0.0, thickness_at_h(std::min(bottom_mm_ + distance_mm, top_mm_)));
}

double Section::area_mm2(double from, double to) const {
  double sum = 0;
  for (const auto& side : sides_)
    for (const auto& piece : side) {
      const double a = std::max(from, piece.from_mm), b = std::min(to, piece.to_mm);
      if (b > a) sum += piece.area(a, b);
    }
  return sum;
}

BevelAngles Section::apex_angles() const {
  const auto angle = [&](EdgeSide side) {
    return degrees(std::atan(piece_at(sides_[std::size_t(side)], bottom_mm_).slope_at(bottom_mm_)));
  };
  return {angle(EdgeSide::left), angle(EdgeSide::right)};
}

void Section::cut_below(double h) {
  bottom_mm_ = h;
  for (auto& side : sides_) {
    std::erase_if(side, [&](const SurfacePiece& piece) { return piece.to_mm <= h; });
    side.front().from_mm = h;
  }
}

Checked<Section> Section::truncated(double width_mm) const {
  if (!finite(width_mm) || width_mm < 0)
    return Refusal{said("the apex width must not be negative")};
  Section out = *this;
  if (width_mm <= apex_width_mm()) return out;
  // The first place, from the apex, where the section is that thick.
  double low = bottom_mm_, high = top_mm_;
  for (const auto& side : sides_)
    for (const auto& piece : side)
      if (piece.to_mm < high && thickness_at_h(piece.to_mm) >= width_mm) {
        high = piece.to_mm;
        break;
      }
  if (thickness_at_h(high) < width_mm)
    return Refusal{said("the section is nowhere as thick as the apex width")};
  for (int i = 0; i < 200 && high - low > 1e-15 * high; ++i) {
    const double middle = 0.5 * (low + high);
    (thickness_at_h(middle) < width_mm ? low : high) = middle;
  }
  out.cut_below(high);
  return out;
}

Checked<Section> Section::worn(double area) const {
  if (!finite(area) || area < 0) return Refusal{said("the worn area must not be negative")};
  if (area >= area_mm2()) return Refusal{said("the worn area is all there is of the section")};
  Section out = *this;
  double low = bottom_mm_, high = top_mm_;
  for (int i = 0; i < 200 && high - low > 1e-15 * high; ++i) {
    const double middle = 0.5 * (low + high);
    (area_mm2(bottom_mm_, middle) < area ? low : high) = middle;
  }
  if (area > 0) out.cut_below(high);
  return out;
}

namespace {

/// The plan carried out but for the width of its apex. `refused`: the grind that cannot be made.
Checked<Section> ground_by(const SectionPlan& plan, std::optional<std::size_t>& refused) {
  auto section = plan.profile.empty() ? Section::blank(plan.stock_mm, plan.height_mm)
                                      : Section::measured(plan.profile);
  if (!section) return Refusal{section.refusal().reason, 0};
  for (std::size_t i = 0; i < plan.grinds.size(); ++i) {
    section = section->ground(plan.grinds[i]);
    if (section) continue;
    refused = i;
    return Refusal{
        said("grind {number} ({grind}): {reason}", {{"number", std::to_string(i + 1)},
                                                    {"grind", describe(plan.grinds[i])},
                                                    {"reason", section.refusal().reason}}),
        i};
  }
  return section;
}

}  // namespace

std::optional<std::size_t> refused_grind(const SectionPlan& plan) {
  std::optional<std::size_t> refused;
  (void)ground_by(plan, refused);
  return refused;
}

Checked<Section> make_section(const SectionPlan& plan) {
  std::optional<std::size_t> refused;
  auto section = ground_by(plan, refused);
  if (section && plan.apex_um != 0) {
    section = section->truncated(plan.apex_um / 1000);
    if (!section) return Refusal{section.refusal().reason, plan.grinds.size()};
  }
  return section;
}

}  // namespace bq::inline edge
