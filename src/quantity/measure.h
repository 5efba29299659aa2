#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "quantity/checked.h"

namespace bq::inline quantity {

enum class UnitKind { force, length };

/// Every unit a length or a force can be typed in.
enum class Unit { gf, N, lbf, ozf, mm, um, in, thou };

UnitKind kind_of(Unit unit);

/// The unit's short sign: "gf", "N", "lbf", "ozf", "mm", "µm", "in", "thou".
std::string_view sign_of(Unit unit);

/// Size of one unit in the base unit of its kind (N for forces, mm for lengths).
/// 1 gf = 9.80665e-3 N, 1 lbf = 4.4482216152605 N, 1 ozf = 1 lbf / 16 (exact definitions);
/// 1 in = 25.4 mm, 1 thou = 0.001 in.
double in_base(Unit unit);

/// Converts a number between two units of one kind (asserts that the kinds agree).
double convert(double value, Unit from, Unit to);

/// Reads a unit sign. What could mean two things ("g", "oz", "lb", "mil") is refused with a hint.
Checked<Unit> parse_unit(std::string_view text);

/// A force, stored in newtons.
class Force {
 public:
  static Force from(double value, Unit unit);
  static Force from_N(double value) { return Force(value); }
  static Force from_gf(double value) { return from(value, Unit::gf); }
  [[nodiscard]] double in(Unit unit) const;
  [[nodiscard]] double N() const { return newton_; }

 private:
  explicit Force(double newton) : newton_(newton) {}
  double newton_;
};

/// A length, stored in millimetres.
class Length {
 public:
  static Length from(double value, Unit unit);
  static Length from_mm(double value) { return Length(value); }
  static Length from_um(double value) { return from(value, Unit::um); }
  static Length from_thou(double value) { return from(value, Unit::thou); }
  [[nodiscard]] double in(Unit unit) const;
  [[nodiscard]] double mm() const { return millimetre_; }

 private:
  explicit Length(double millimetre) : millimetre_(millimetre) {}
  double millimetre_;
};

/// A number as typed, with its unit kept.
struct Measure {
  double value = 0;
  Unit unit = Unit::gf;
};

/// Reads "450 gf", "0.018 in", "18 thou", "1,5 N". A bare number takes `bare`; without it, it is
/// refused. `kind` limits what is taken. Not refused here: zero and negative (callers know).
Checked<Measure> parse_measure(std::string_view text, std::optional<UnitKind> kind,
                               std::optional<Unit> bare);
Checked<Force> parse_force(std::string_view text, std::optional<Unit> bare = {});
Checked<Length> parse_length(std::string_view text, std::optional<Unit> bare = {});

/// "450 gf", "0.0180 in": four significant digits and the sign.
std::string print_measure(double value, Unit unit, int digits = 4);

}  // namespace bq::inline quantity
