#pragma once

#include <compare>
#include <optional>
#include <string>

#include "quantity/angle.h"
#include "quantity/checked.h"

namespace bq::inline edge {

/// The two bevel angles of an edge, each per side (degrees).
struct BevelAngles {
  double left_deg = 0;
  double right_deg = 0;
  static BevelAngles symmetric(double per_side_deg) { return {per_side_deg, per_side_deg}; }
  [[nodiscard]] bool is_symmetric() const { return left_deg == right_deg; }
  [[nodiscard]] double inclusive_deg() const { return left_deg + right_deg; }
  /// ½(tan left + tan right): apex width grows with this under wear (DOMAIN §1).
  [[nodiscard]] double mean_tangent() const;
  /// The angle of the symmetric edge with the same mean tangent (degrees per side).
  [[nodiscard]] double equivalent_deg() const;
  auto operator<=>(const BevelAngles&) const = default;
};

/// An edge bevel and, where there is one, the micro-bevel at the apex.
class EdgeGeometry {
 public:
  /// Refused: any angle outside (0°, 80°) per side; a micro-bevel less steep than its edge bevel
  /// on a side (it would not touch the apex).
  static Checked<EdgeGeometry> make(BevelAngles edge, std::optional<BevelAngles> micro = {});

  [[nodiscard]] const BevelAngles& edge() const { return edge_; }
  [[nodiscard]] const std::optional<BevelAngles>& micro() const { return micro_; }
  /// The angles at the apex: the micro-bevel where present, else the edge bevel.
  [[nodiscard]] const BevelAngles& apex() const { return micro_ ? *micro_ : edge_; }
  auto operator<=>(const EdgeGeometry&) const = default;

 private:
  EdgeGeometry(BevelAngles edge, std::optional<BevelAngles> micro) : edge_(edge), micro_(micro) {}
  BevelAngles edge_;
  std::optional<BevelAngles> micro_;
};

/// The finish of an edge as the abrasive's particle size on each side (µm).
struct Finish {
  double left_um = 0;
  double right_um = 0;
  static Finish both(double um) { return {um, um}; }
  /// Geometric mean of the sides (µm).
  [[nodiscard]] double mean_um() const;
  auto operator<=>(const Finish&) const = default;
};

/// "12° per side", "12°|14° per side" (left|right) or "15° + 20° micro, per side"; "24° inclusive"
/// when asked.
std::string print_geometry(const EdgeGeometry& geometry, AngleConvention convention);

/// The same without the convention's name, for columns whose head says it: "15° + 20° micro".
std::string print_geometry_short(const EdgeGeometry& geometry, AngleConvention convention);

/// "3 µm", or "3|6 µm".
std::string print_finish(const Finish& finish);

}  // namespace bq::inline edge
