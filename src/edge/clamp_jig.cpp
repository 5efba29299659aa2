#include "edge/clamp_jig.h"

#include <algorithm>
#include <cmath>

#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

/// Angle without the range check (degrees); not finite when the abrasive cannot reach.
double raw_angle_deg(const ClampJig& jig, double distance) {
  return degrees(std::acos(jig.offset_mm / std::hypot(jig.pivot_height_mm, distance)) -
                 std::atan2(distance, jig.pivot_height_mm));
}

double tangent_distance(const EdgePoint& e, double x, double y) {
  return std::abs((e.x_mm - x) * e.tangent_y - (e.y_mm - y) * e.tangent_x);
}

}  // namespace

Checked<double> clamp_angle_deg(const ClampJig& jig, double distance) {
  const double angle = raw_angle_deg(jig, distance);
  if (!(angle_in_range(angle)))
    return Refusal{said("the jig does not give an angle between 0° and 80° per side there")};
  return angle;
}

ClampSolver::ClampSolver(EdgeOutline outline, ClampJig jig, int samples)
    : outline_(std::move(outline)), jig_(jig), samples_(outline_.sample(samples)) {
  middle_ = {0.5 * (samples_.front().x_mm + samples_.back().x_mm),
             0.5 * (samples_.front().y_mm + samples_.back().y_mm)};
}

Checked<ClampSolver> ClampSolver::make(EdgeOutline outline, ClampJig jig, int samples) {
  if (!(jig.pivot_height_mm > 0) || !std::isfinite(jig.pivot_height_mm))
    return Refusal{said("the pivot's height must be above 0")};
  if (!(std::abs(jig.offset_mm) < jig.pivot_height_mm))
    return Refusal{said("the abrasive's offset must be smaller than the pivot's height")};
  if (!std::isfinite(jig.pivot_x_mm) || !std::isfinite(jig.pivot_lateral_mm))
    return Refusal{said("the pivot's place must be a number")};
  return ClampSolver(std::move(outline), jig, std::max(samples, 2));
}

Checked<bool> ClampSolver::hold(double station_x_mm, double angle_deg) {
  if (!angle_in_range(angle_deg))
    return Refusal{said("the angle to hold must lie between 0° and 80° per side, both excluded")};
  const auto station = outline_.at_x(station_x_mm);
  if (!station) return station.refusal();
  const double angle = radians(angle_deg);
  const double distance =
      (jig_.pivot_height_mm * std::cos(angle) - jig_.offset_mm) / std::sin(angle);
  if (!(distance > 0))
    return Refusal{said("the pivot is too low for that angle: no lateral distance gives it")};
  held_ = *station;
  held_distance_mm_ = distance;
  if (!lateral_mm({})) {
    held_.reset();
    return Refusal{
        said("the edge runs straight across the jig there: the lateral distance does not change "
             "the angle")};
  }
  return true;
}

EdgePoint ClampSolver::placed(const EdgePoint& p, const ClampPlacement& placement) const {
  if (placement.turn_deg == 0)
    return {p.x_mm + placement.shift_mm, p.y_mm, p.tangent_x, p.tangent_y};
  const double c = std::cos(radians(placement.turn_deg)), s = std::sin(radians(placement.turn_deg));
  const double x = p.x_mm - middle_.x_mm, y = p.y_mm - middle_.y_mm;
  return {middle_.x_mm + c * x - s * y + placement.shift_mm, middle_.y_mm + s * x + c * y,
          c * p.tangent_x - s * p.tangent_y, s * p.tangent_x + c * p.tangent_y};
}

std::optional<double> ClampSolver::lateral_mm(const ClampPlacement& placement) const {
  if (!held_) return jig_.pivot_lateral_mm;
  const EdgePoint e = placed(*held_, placement);
  if (std::abs(e.tangent_x) < 1e-9) return std::nullopt;
  // (E − P′) × t = ±d gives one lateral place on either side; the jig's own side is kept.
  const double base = e.y_mm - (e.x_mm - jig_.pivot_x_mm) * e.tangent_y / e.tangent_x;
  const double step = held_distance_mm_ / std::abs(e.tangent_x);
  return jig_.pivot_lateral_mm > base ? base + step : base - step;
}

Checked<double> ClampSolver::angle_at_x(double x_mm, const ClampPlacement& placement) const {
  const auto point = outline_.at_x(x_mm);
  if (!point) return point.refusal();
  const auto lateral = lateral_mm(placement);
  if (!lateral) return Refusal{said("the held angle cannot be reached with this placement")};
  return clamp_angle_deg(jig_,
                         tangent_distance(placed(*point, placement), jig_.pivot_x_mm, *lateral));
}

std::vector<ClampSolver::SweepPoint> ClampSolver::sweep(const ClampPlacement& placement) const {
  const auto lateral = lateral_mm(placement);
  if (!lateral) return {};
  std::vector<SweepPoint> out;
  for (const auto& point : samples_) {
    const auto angle = clamp_angle_deg(
        jig_, tangent_distance(placed(point, placement), jig_.pivot_x_mm, *lateral));
    if (!angle) return {};
    out.push_back({point.x_mm, *angle});
  }
  return out;
}

std::optional<ClampSolver::Spread> ClampSolver::spread(const ClampPlacement& placement) const {
  const auto points = sweep(placement);
  if (points.empty()) return std::nullopt;
  Spread out{1e300, -1e300, 0};
  double sum = 0, squares = 0;
  for (const auto& point : points) {
    out.least_deg = std::min(out.least_deg, point.angle_deg);
    out.largest_deg = std::max(out.largest_deg, point.angle_deg);
    sum += point.angle_deg;
  }
  const double mean = sum / double(points.size());
  for (const auto& point : points) squares += (point.angle_deg - mean) * (point.angle_deg - mean);
  out.rms_deg = std::sqrt(squares / double(points.size()));
  return out;
}

double ClampSolver::cost(const ClampPlacement& placement, Aim aim) const {
  if (aim == Aim::least_rms) {
    const auto found = spread(placement);
    return found ? found->rms_deg : 1e9;
  }
  // The angle falls with the distance: the range needs only the least and the largest distance.
  const auto lateral = lateral_mm(placement);
  if (!lateral) return 1e9;
  double least = 1e300, largest = 0;
  const double c = std::cos(radians(placement.turn_deg)), s = std::sin(radians(placement.turn_deg));
  for (const auto& p : samples_) {
    const double x = p.x_mm - middle_.x_mm, y = p.y_mm - middle_.y_mm;
    const double ex = middle_.x_mm + c * x - s * y + placement.shift_mm - jig_.pivot_x_mm;
    const double ey = middle_.y_mm + s * x + c * y - *lateral;
    const double d = std::abs(ex * (s * p.tangent_x + c * p.tangent_y) -
                              ey * (c * p.tangent_x - s * p.tangent_y));
    least = std::min(least, d);
    largest = std::max(largest, d);
  }
  const double steep = raw_angle_deg(jig_, least), shallow = raw_angle_deg(jig_, largest);
  return angle_in_range(steep) && angle_in_range(shallow) ? steep - shallow : 1e9;
}

Checked<ClampSolver::Best> ClampSolver::best(const Limits& limits, Aim aim) const {
  if (!(limits.least_shift_mm <= limits.largest_shift_mm))
    return Refusal{said("the lower shift limit lies above the upper one")};
  if (!(limits.largest_turn_deg >= 0 && limits.largest_turn_deg <= 45))
    return Refusal{said("the turn must lie between 0° and 45°")};
  constexpr int kShifts = 400;
  const bool turning = limits.largest_turn_deg > 0;
  const int turns = turning ? 40 : 0;
  const double width = limits.largest_shift_mm - limits.least_shift_mm;
  struct Candidate {
    double cost;
    ClampPlacement placement;
  };
  std::vector<Candidate> low;
  for (int j = 0; j <= turns; ++j) {
    const double turn = turning ? limits.largest_turn_deg * (2.0 * j / turns - 1) : 0;
    const int shifts = turning ? kShifts / 10 : kShifts;
    std::vector<Candidate> row;
    for (int i = 0; i <= shifts; ++i) {
      const ClampPlacement placement{limits.least_shift_mm + width * i / shifts, turn};
      row.push_back({cost(placement, aim), placement});
    }
    for (std::size_t i = 0; i < row.size(); ++i)
      if ((i == 0 || row[i].cost <= row[i - 1].cost) &&
          (i + 1 == row.size() || row[i].cost <= row[i + 1].cost))
        low.push_back(row[i]);
  }
  std::sort(low.begin(), low.end(),
            [](const Candidate& a, const Candidate& b) { return a.cost < b.cost; });
  if (low.empty() || low.front().cost >= 1e8)
    return Refusal{said("no placement within the limits keeps every angle between 0° and 80°")};
  low.resize(std::min(low.size(), std::size_t(turning ? 6 : 4)));
  Candidate best = low.front();
  for (Candidate candidate : low) {
    double shift_step = width / (turning ? kShifts / 10 : kShifts),
           turn_step = turning ? limits.largest_turn_deg / 20 : 0;
    const auto golden = [&](double middle, double step, double from, double to, const auto& place) {
      constexpr double ratio = 0.6180339887498949;
      double a = std::max(from, middle - step), b = std::min(to, middle + step);
      double x = b - ratio * (b - a), y = a + ratio * (b - a), fx = cost(place(x), aim),
             fy = cost(place(y), aim);
      for (int i = 0; i < 40 && b - a > 1e-9; ++i) {
        if (fx < fy) {
          b = y;
          y = x;
          fy = fx;
          x = b - ratio * (b - a);
          fx = cost(place(x), aim);
        } else {
          a = x;
          x = y;
          fx = fy;
          y = a + ratio * (b - a);
          fy = cost(place(y), aim);
        }
      }
      return place(fx < fy ? x : y);
    };
    for (int round = 0; round < (turning ? 12 : 1); ++round) {
      const auto along = [&](double shift) {
        return ClampPlacement{shift, candidate.placement.turn_deg};
      };
      ClampPlacement next = golden(candidate.placement.shift_mm, shift_step, limits.least_shift_mm,
                                   limits.largest_shift_mm, along);
      if (const double f = cost(next, aim); f < candidate.cost) candidate = {f, next};
      if (!turning) break;
      const auto about = [&](double turn) {
        return ClampPlacement{candidate.placement.shift_mm, turn};
      };
      next = golden(candidate.placement.turn_deg, turn_step, -limits.largest_turn_deg,
                    limits.largest_turn_deg, about);
      if (const double f = cost(next, aim); f < candidate.cost) candidate = {f, next};
      shift_step *= 0.7;
      turn_step *= 0.7;
    }
    if (candidate.cost < best.cost) best = candidate;
  }
  const auto found = spread(best.placement);
  if (!found)
    return Refusal{said("no placement within the limits keeps every angle between 0° and 80°")};
  return Best{best.placement, *found, *lateral_mm(best.placement)};
}

Checked<ClampSolver::Sensitivity> ClampSolver::sensitivity(double x_mm,
                                                           const ClampPlacement& placement) const {
  const auto point = outline_.at_x(x_mm);
  if (!point) return point.refusal();
  const auto lateral = lateral_mm(placement);
  if (!lateral) return Refusal{said("the held angle cannot be reached with this placement")};
  constexpr double step = 1e-3;
  const auto angle = [&](double shift, double height) {
    ClampJig jig = jig_;
    jig.pivot_height_mm += height;
    return raw_angle_deg(
        jig, tangent_distance(placed(*point, {placement.shift_mm + shift, placement.turn_deg}),
                              jig.pivot_x_mm, *lateral));
  };
  return Sensitivity{(angle(step, 0) - angle(-step, 0)) / (2 * step),
                     (angle(0, step) - angle(0, -step)) / (2 * step)};
}

std::string ClampSolver::tip_advice(TipInk left, const ClampPlacement& placement) const {
  const double tip = samples_.back().x_mm, middle = samples_[samples_.size() / 2].x_mm;
  const auto at_tip = sensitivity(tip, placement), at_middle = sensitivity(middle, placement);
  if (!at_tip || !at_middle) return said("The jig cannot hold this placement.");
  // Ink left at the apex: the abrasive lies too flat there and must come steeper at the tip.
  const double gain = at_tip->per_mm_shift_deg - at_middle->per_mm_shift_deg;
  const double wanted = left == TipInk::at_apex ? 1 : -1;
  const std::string why = left == TipInk::at_apex
                              ? said("The abrasive lies too flat at the tip. ")
                              : said("The abrasive lies too steep at the tip. ");
  if (std::abs(gain) < 1e-4)
    return said(
        "{why}Moving the blade along the clamp changes tip and middle alike; change the pivot or "
        "turn the blade instead.",
        {{"why", why}});
  const double shift = wanted / gain;
  const bool to_tip = (shift > 0) == (samples_.back().x_mm > samples_.front().x_mm);
  return said(
      "{why}Move the blade in the clamp toward its {tip}: about {shift} mm for each degree between "
      "tip and middle.",
      {{"why", why},
       {"tip", to_tip ? said("tip") : said("heel")},
       {"shift", print_number(std::abs(shift), 2)}});
}

Checked<double> spine_lift_mm(double width_mm, double spine_mm, double angle_deg) {
  if (!(width_mm > 0) || !(spine_mm >= 0))
    return Refusal{said(
        "the width from apex to spine must be above 0 and the spine's thickness not negative")};
  if (!angle_in_range(angle_deg))
    return Refusal{said("the angle must lie between 0° and 80° per side, both excluded")};
  const double angle = radians(angle_deg),
               gap = width_mm * std::sin(angle) - spine_mm / 2 * std::cos(angle);
  if (gap < 0)
    return Refusal{
        said("the spine alone lifts the blade to {degrees}° per side already",
             {{"degrees", print_number(degrees(std::atan(spine_mm / 2 / width_mm)), 3)}})};
  return gap;
}

Checked<double> angle_of_spine_lift_deg(double width_mm, double spine_mm, double gap_mm) {
  if (!(width_mm > 0) || !(spine_mm >= 0) || !(gap_mm >= 0))
    return Refusal{said("lengths must not be negative")};
  // L·sin θ − (t/2)·cos θ = gap, with one hypotenuse.
  const double long_side = std::hypot(width_mm, spine_mm / 2);
  if (gap_mm > long_side) return Refusal{said("the gap is larger than the blade is wide")};
  const double angle = degrees(std::asin(gap_mm / long_side) + std::atan2(spine_mm / 2, width_mm));
  if (!angle_in_range(angle))
    return Refusal{said("that gap does not give an angle between 0° and 80° per side")};
  return angle;
}

Checked<SpacerChoice> spacers_for(double width_mm, double spine_mm, double angle_deg,
                                  double spacer_mm) {
  const auto gap = spine_lift_mm(width_mm, spine_mm, angle_deg);
  if (!gap) return gap.refusal();
  if (!(spacer_mm > 0)) return Refusal{said("a spacer's thickness must be above 0")};
  SpacerChoice choice;
  choice.pieces = int(std::lround(*gap / spacer_mm));
  choice.gap_mm = choice.pieces * spacer_mm;
  const auto angle = angle_of_spine_lift_deg(width_mm, spine_mm, choice.gap_mm);
  if (!angle) return angle.refusal();
  choice.angle_deg = *angle;
  return choice;
}

}  // namespace bq::inline edge
