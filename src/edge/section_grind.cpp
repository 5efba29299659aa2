#include <algorithm>
#include <cmath>

#include "edge/faces_meet.h"
#include "edge/section.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr double kNothing_mm = 1e-9;  ///< a contact shorter than this is rounding

/// The straightedge that is fed into one side: y = touch − infeed + slope·h.
struct Straightedge {
  bool active = false;
  double angle_deg = 0, slope = 0, touch = 0;
  [[nodiscard]] double y(double h, double infeed) const { return touch - infeed + slope * h; }
};

/// Where a straightedge lies inside the metal.
struct Contact {
  double low = 0, high = 0,
         length_h = 0;  ///< lowest and highest h, and the sum of the lengths along h
};

}  // namespace

/// One grind on its way: the chord is fed in until the condition holds, then the facet is cut.
class Grinder {
 public:
  Grinder(const Section& before, const Grind& grind) : before_(before), grind_(grind) {}

  Checked<Section> cut() {
    if (auto refusal = check_grind()) return *refusal;
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) aim(side);
    const auto infeed = find_infeed();
    if (!infeed) return infeed.refusal();
    const auto bottom = bottom_after(*infeed);
    if (!bottom) return Refusal{said("it would take the whole blade")};
    Section after = before_;
    ++after.grinds_;
    bool touched = false;
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
      if (!edge(side).active) continue;
      const Contact contact = contact_of(side, *infeed, *bottom);
      if (contact.high - contact.low <= kNothing_mm) continue;
      const auto cutter = cutter_of(side, contact, *infeed);
      if (!cutter) return cutter.refusal();
      touched |= cut_side(after.sides_[std::size_t(side)], *cutter);
    }
    if (!touched) return Refusal{said("it touches nothing")};
    if (*bottom > before_.bottom_mm_) after.cut_below(*bottom);
    if (faces_meet(after.sides_[0], after.sides_[1], after.bottom_mm_))
      return Refusal{said("it would go through the blade above the edge")};
    return after;
  }

 private:
  using Surface = std::vector<SurfacePiece>;
  [[nodiscard]] Straightedge& edge(EdgeSide side) { return edges_[std::size_t(side)]; }
  [[nodiscard]] const Straightedge& edge(EdgeSide side) const { return edges_[std::size_t(side)]; }

  [[nodiscard]] std::optional<Refusal> check_grind() const {
    const std::string range = said(" must lie between 0° and 80° per side, both excluded");
    if (!angle_in_range(grind_.angle_deg))
      return Refusal{said("the angle{range}", {{"range", range}})};
    if (grind_.angle_right_deg && !angle_in_range(*grind_.angle_right_deg))
      return Refusal{said("the right side's angle{range}", {{"range", range}})};
    if (grind_.to_deg && !angle_in_range(*grind_.to_deg))
      return Refusal{said("the angle at the apex{range}", {{"range", range}})};
    if (grind_.radius_mm && !(*grind_.radius_mm > 0 && std::isfinite(*grind_.radius_mm)))
      return Refusal{said("the radius must be above 0")};
    if (grind_.shape == GrindShape::hollow && !grind_.radius_mm)
      return Refusal{said("a hollow grind needs the wheel's radius")};
    if (grind_.shape == GrindShape::convex) {
      if (grind_.radius_mm.has_value() == grind_.to_deg.has_value())
        return Refusal{
            said("a convex grind needs either the angle at the apex or the arc's radius")};
      if (grind_.to_deg && *grind_.to_deg <= grind_.angle_deg)
        return Refusal{said("a convex grind is steeper at the apex than at the shoulder")};
    }
    struct Positive {
      bool operator()(const UntilApex&) const { return true; }
      bool operator()(const UntilThickness& u) const {
        return u.thickness_mm > 0 && std::isfinite(u.thickness_mm);
      }
      bool operator()(const UntilFacet& u) const {
        return u.width_um > 0 && std::isfinite(u.width_um);
      }
      bool operator()(const UntilDepth& u) const {
        return u.depth_mm > 0 && std::isfinite(u.depth_mm);
      }
      bool operator()(const UntilBehindEdge& u) const {
        return u.thickness_mm > 0 && std::isfinite(u.thickness_mm);
      }
    };
    if (!std::visit(Positive{}, grind_.until))
      return Refusal{said("the size to stop at must be above 0")};
    return std::nullopt;
  }

  /// Turn of a convex facet between its ends (radians); 0 for other shapes.
  [[nodiscard]] double turn(double angle_deg) const {
    return grind_.shape == GrindShape::convex && grind_.to_deg ? radians(*grind_.to_deg - angle_deg)
                                                               : 0;
  }

  /// Lays the chord on the side without feeding it in.
  void aim(EdgeSide side) {
    Straightedge& e = edge(side);
    e.active = grind_.side == GrindSide::both ||
               (grind_.side == GrindSide::left) == (side == EdgeSide::left);
    if (!e.active) return;
    e.angle_deg = side == EdgeSide::right && grind_.side == GrindSide::both
                      ? grind_.angle_right_deg.value_or(grind_.angle_deg)
                      : grind_.angle_deg;
    if (grind_.to_deg) e.angle_deg = 0.5 * (e.angle_deg + *grind_.to_deg);
    e.slope = std::tan(radians(e.angle_deg));
    e.touch = -1e300;
    for (const auto& piece : surface(side)) e.touch = std::max(e.touch, piece.support(e.slope));
  }

  [[nodiscard]] const Surface& surface(EdgeSide side) const {
    return before_.sides_[std::size_t(side)];
  }

  /// Infeed at which the section is `left_mm` thick at h; the two sides are fed in alike.
  [[nodiscard]] std::optional<double> infeed_for(double h, double left_mm) const {
    const double excess = before_.thickness_at_h(h) - left_mm;
    if (excess <= kNothing_mm) return std::nullopt;
    double gaps[2];
    int active = 0;
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
      if (edge(side).active) gaps[active++] = edge(side).y(h, 0) - before_.half_mm(side, h);
    if (active == 1) return gaps[0] + excess;
    const double near = std::min(gaps[0], gaps[1]), far = std::max(gaps[0], gaps[1]);
    return near + excess <= far ? near + excess : 0.5 * (near + far + excess);
  }

  /// Both sides ground for an apex at h: each is fed in until its own face reaches the plane
  /// through the apex, as a hand does it. Fed in alike, the side with the lower angle would never
  /// get there. False where one side's metal does not reach that plane.
  bool feed_to_apex(double h) {
    if (!edge(EdgeSide::left).active || !edge(EdgeSide::right).active) return false;
    const double at = before_.apex_left_mm();
    const double left = edge(EdgeSide::left).y(h, 0) - at,
                 right = edge(EdgeSide::right).y(h, 0) + at;
    if (!(left >= -kNothing_mm) || !(right >= -kNothing_mm)) return false;
    edge(EdgeSide::left).touch -= std::max(0.0, left);
    edge(EdgeSide::right).touch -= std::max(0.0, right);
    return true;
  }

  [[nodiscard]] Checked<double> find_infeed() {
    const double bottom = before_.bottom_mm_;
    if (std::holds_alternative<UntilApex>(grind_.until)) {
      if (infeed_for(bottom, 0) && feed_to_apex(bottom)) return 0.0;
      const auto found = infeed_for(bottom, 0);
      if (!found)
        return Refusal{
            said("there is no flat left at the apex to grind away; give a depth, a thickness or a "
                 "facet width instead")};
      return *found;
    }
    if (const auto* until = std::get_if<UntilThickness>(&grind_.until)) {
      const auto found = infeed_for(bottom, until->thickness_mm);
      if (!found)
        return Refusal{said("the flat at the bottom is not thicker than {thickness_mm} mm already",
                            {{"thickness_mm", print_number(until->thickness_mm, 3)}})};
      // The faces, carried on below the flat that is left, meet in the plane through the apex.
      const double below =
          until->thickness_mm / (edge(EdgeSide::left).slope + edge(EdgeSide::right).slope);
      if (feed_to_apex(bottom - below)) return 0.0;
      return *found;
    }
    if (const auto* until = std::get_if<UntilDepth>(&grind_.until)) {
      const double h = bottom + until->depth_mm;
      if (h >= before_.top_mm_) return Refusal{said("it would take the whole blade")};
      const auto found = infeed_for(h, 0);
      if (!found) return Refusal{said("there is no metal at that depth")};
      if (feed_to_apex(h)) return 0.0;
      return *found;
    }
    if (const auto* until = std::get_if<UntilBehindEdge>(&grind_.until))
      return infeed_for_meeting(until->thickness_mm);
    return infeed_for_facet(std::get<UntilFacet>(grind_.until).width_um / 1000);
  }

  /// Infeed at which the chord passes through the faces where the section is `thickness` thick.
  [[nodiscard]] Checked<double> infeed_for_meeting(double thickness) const {
    const auto cut = before_.truncated(thickness);
    if (!cut || thickness <= before_.apex_width_mm())
      return Refusal{said("the section has no place behind the edge that is {thickness} mm thick",
                          {{"thickness", print_number(thickness, 3)}})};
    double infeed = 0;
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
      if (edge(side).active)
        infeed = std::max(
            infeed, edge(side).y(cut->bottom_mm_, 0) - before_.half_mm(side, cut->bottom_mm_));
    if (infeed <= kNothing_mm) return Refusal{said("the face is thinner than that there already")};
    return infeed;
  }

  /// Width of the narrower facet's chord (mm) at an infeed; infinite when nothing of the blade is
  /// left.
  [[nodiscard]] double chord_width(double infeed) const {
    const auto bottom = bottom_after(infeed);
    if (!bottom) return 1e300;
    double narrowest = 1e300;
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
      if (!edge(side).active) continue;
      const Contact contact = contact_of(side, infeed, *bottom);
      const double along =
          grind_.shape == GrindShape::flat ? contact.length_h : contact.high - contact.low;
      narrowest = std::min(
          narrowest, std::max(0.0, along) * std::sqrt(1 + edge(side).slope * edge(side).slope));
    }
    return narrowest;
  }

  [[nodiscard]] Checked<double> infeed_for_facet(double width_mm) const {
    double chord = width_mm;
    if (grind_.radius_mm && grind_.shape != GrindShape::flat) {
      if (width_mm > 3.14 * *grind_.radius_mm)
        return Refusal{said("the radius is too small for a facet that wide")};
      chord = 2 * *grind_.radius_mm * std::sin(width_mm / (2 * *grind_.radius_mm));
    } else if (const double angle = turn(grind_.angle_deg); angle > 0) {
      chord = width_mm * std::sin(angle / 2) / (angle / 2);
    }
    // Widths grow with the infeed, straight between the section's corners: secant steps, bracketed.
    double low = 0, f_low = -chord, high = 1e-3 * chord, f_high = chord_width(high) - chord;
    int doublings = 0;
    while (f_high < 0) {
      low = high;
      f_low = f_high;
      const double width = f_high + chord;
      high *= width > 0 ? std::clamp(1.02 * chord / width, 1.5, 64.0) : 8;
      f_high = chord_width(high) - chord;
      if (++doublings > 200) return Refusal{said("no facet that wide can be ground here")};
    }
    if (f_high > 1e200 && !narrow_to_blade(low, f_low, high, f_high, chord))
      return Refusal{said("a facet that wide would take the whole blade")};
    for (int i = 0; i < 200 && high - low > 1e-14 * high && f_high > 1e-13 * chord; ++i) {
      double next = low + (high - low) * (-f_low) / (f_high - f_low);
      if (i % 3 == 2 || !(next > low && next < high)) next = 0.5 * (low + high);
      const double f = chord_width(next) - chord;
      if (f < 0) {
        low = next;
        f_low = f;
      } else {
        high = next;
        f_high = f;
      }
    }
    // Flush on a face that is there already: the first touch is wider than what was asked for.
    if (high <= kNothing_mm)
      return Refusal{said("at this angle it lies flat on a face that is wider than that already")};
    return high;
  }

  /// Brings `high` back to an infeed that leaves metal and a facet wide enough; false when there is
  /// none.
  bool narrow_to_blade(double& low, double& f_low, double& high, double& f_high,
                       double chord) const {
    for (int i = 0; i < 100; ++i) {
      const double middle = 0.5 * (low + high), f = chord_width(middle) - chord;
      if (f > 1e200)
        high = middle;
      else if (f < 0) {
        low = middle;
        f_low = f;
      } else {
        high = middle;
        f_high = f;
        return true;
      }
    }
    return false;
  }

  [[nodiscard]] double cut_half(EdgeSide side, const SurfacePiece& piece, double h,
                                double infeed) const {
    const double y = piece.y(h);
    return edge(side).active ? std::min(y, edge(side).y(h, infeed)) : y;
  }

  /// h of the lowest metal left; empty when there is none.
  [[nodiscard]] std::optional<double> bottom_after(double infeed) const {
    const Surface &left = surface(EdgeSide::left), &right = surface(EdgeSide::right);
    std::size_t l = 0, r = 0;
    const auto thickness = [&](double h) {
      return cut_half(EdgeSide::left, left[l], h, infeed) +
             cut_half(EdgeSide::right, right[r], h, infeed);
    };
    double from = before_.bottom_mm_, at_from = thickness(from);
    if (at_from > kNothing_mm * 1e-3) return from;
    while (l < left.size() && r < right.size()) {
      const double to = std::min(left[l].to_mm, right[r].to_mm), at_to = thickness(to);
      if (at_to > 0) return first_metal(thickness, from, at_from, to, at_to);
      if (left[l].to_mm <= to) ++l;
      if (r < right.size() && right[r].to_mm <= to) ++r;
      from = to;
      at_from = at_to;
    }
    return std::nullopt;
  }

  /// Root between a place without metal and one with.
  static double first_metal(const auto& thickness, double low, double at_low, double high,
                            double at_high) {
    for (int i = 0; i < 100 && high - low > 1e-15 * high && at_high > 1e-16; ++i) {
      double next = low + (high - low) * (-at_low) / (at_high - at_low);
      if (i % 4 == 3 || !(next > low && next < high)) next = 0.5 * (low + high);
      const double f = thickness(next);
      if (f <= 0) {
        low = next;
        at_low = f;
        if (f == 0) return next;
      } else {
        high = next;
        at_high = f;
      }
    }
    return high;
  }

  /// Calls with every stretch of a piece on which the cutter lies below the surface.
  static void for_stretches(const SurfacePiece& piece, const SurfacePiece& cutter, double a,
                            double b, const auto& take) {
    if (!(b > a)) return;
    const Crossings crossed = crossings(piece, cutter, a, b);
    double from = a;
    for (int i = 0; i <= crossed.count; ++i) {
      const double to = i < crossed.count ? crossed.at_mm[i] : b;
      const double middle = 0.5 * (from + to);
      take(from, to, cutter.y(middle) < piece.y(middle));
      from = to;
    }
  }

  [[nodiscard]] SurfacePiece chord_piece(EdgeSide side, double infeed, double from,
                                         double to) const {
    return SurfacePiece::straight(from, to, from, edge(side).y(from, infeed), edge(side).slope,
                                  before_.grinds_);
  }

  [[nodiscard]] Contact contact_of(EdgeSide side, double infeed, double bottom) const {
    Contact contact{1e300, -1e300, 0};
    const SurfacePiece chord = chord_piece(side, infeed, bottom, before_.top_mm_);
    for (const auto& piece : surface(side))
      for_stretches(piece, chord, std::max(piece.from_mm, bottom), piece.to_mm,
                    [&](double from, double to, bool cut) {
                      if (!cut) return;
                      contact.low = std::min(contact.low, from);
                      contact.high = std::max(contact.high, to);
                      contact.length_h += to - from;
                    });
    return contact;
  }

  [[nodiscard]] Checked<SurfacePiece> cutter_of(EdgeSide side, const Contact& contact,
                                                double infeed) const {
    const SurfacePiece chord = chord_piece(side, infeed, contact.low, contact.high);
    if (grind_.shape == GrindShape::flat) return chord;
    const double length = chord.length(contact.low, contact.high);
    double radius = 0;
    if (grind_.radius_mm)
      radius = *grind_.radius_mm;
    else
      radius = length / (2 * std::sin(turn(2 * edge(side).angle_deg - *grind_.to_deg) / 2));
    if (length > 2 * radius)
      return Refusal{said("the radius is too small for a facet {length} mm wide",
                          {{"length", print_number(length, 3)}})};
    const double half_turn = degrees(std::asin(length / (2 * radius)));
    const bool hollow = grind_.shape == GrindShape::hollow;
    const double at_apex = edge(side).angle_deg + (hollow ? -half_turn : half_turn);
    const double at_shoulder = edge(side).angle_deg + (hollow ? half_turn : -half_turn);
    if (hollow && at_apex <= 0)
      return Refusal{
          said("the wheel is so small that it would undercut the edge: the facet would lie at "
               "{at_apex}° at the apex",
               {{"at_apex", print_number(at_apex, 3)}})};
    if (at_apex >= kAngleLimit_deg || at_shoulder >= 89 || at_shoulder < -1e-9)
      return Refusal{said(
          "the radius is too small: the facet would turn from {at_apex}° to {at_shoulder}°",
          {{"at_apex", print_number(at_apex, 3)}, {"at_shoulder", print_number(at_shoulder, 3)}})};
    return SurfacePiece::arc(
        contact.low, chord.y(contact.low), contact.high, chord.y(contact.high), radius,
        hollow ? SurfacePiece::Shape::hollow : SurfacePiece::Shape::bulged, before_.grinds_);
  }

  /// Replaces what lies outside the cutter; true when something did.
  static bool cut_side(Surface& surface, const SurfacePiece& cutter) {
    Surface out;
    out.reserve(surface.size() + 3);
    bool touched = false;
    const auto add = [&](SurfacePiece piece, double from, double to) {
      if (!(to > from)) return;
      const bool goes_on =
          !out.empty() && out.back().made_by == piece.made_by && out.back().shape == piece.shape &&
          out.back().slope == piece.slope && out.back().radius_mm == piece.radius_mm &&
          out.back().anchor_mm == piece.anchor_mm && out.back().centre_h_mm == piece.centre_h_mm;
      if (goes_on) {
        out.back().to_mm = to;
        return;
      }
      piece.from_mm = from;
      piece.to_mm = to;
      out.push_back(piece);
    };
    for (const auto& piece : surface) {
      add(piece, piece.from_mm, std::min(piece.to_mm, cutter.from_mm));
      for_stretches(piece, cutter, std::max(piece.from_mm, cutter.from_mm),
                    std::min(piece.to_mm, cutter.to_mm), [&](double from, double to, bool cut) {
                      touched |= cut && to - from > kNothing_mm;
                      add(cut ? cutter : piece, from, to);
                    });
      add(piece, std::max(piece.from_mm, cutter.to_mm), piece.to_mm);
    }
    surface = std::move(out);
    return touched;
  }

  const Section& before_;
  const Grind& grind_;
  Straightedge edges_[2];
};

Checked<Section> Section::ground(const Grind& grind) const { return Grinder(*this, grind).cut(); }

}  // namespace bq::inline edge
