#include "quantity/measure.h"

#include <array>
#include <cassert>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline quantity {
namespace {

struct UnitFacts {
  Unit unit;
  UnitKind kind;
  std::string_view sign;
  double base;
};

constexpr double kNewtonPerPound =
    4.4482216152605;  // exact, from 0.45359237 kg and standard gravity
constexpr std::array<UnitFacts, 8> kUnits{{
    {Unit::gf, UnitKind::force, "gf", 9.80665e-3},
    {Unit::N, UnitKind::force, "N", 1},
    {Unit::lbf, UnitKind::force, "lbf", kNewtonPerPound},
    {Unit::ozf, UnitKind::force, "ozf", kNewtonPerPound / 16},
    {Unit::mm, UnitKind::length, "mm", 1},
    {Unit::um, UnitKind::length, "µm", 1e-3},
    {Unit::in, UnitKind::length, "in", 25.4},
    {Unit::thou, UnitKind::length, "thou", 0.0254},
}};

const UnitFacts& facts(Unit unit) { return kUnits[std::size_t(unit)]; }

}  // namespace

UnitKind kind_of(Unit unit) { return facts(unit).kind; }
std::string_view sign_of(Unit unit) { return facts(unit).sign; }
double in_base(Unit unit) { return facts(unit).base; }

double convert(double value, Unit from, Unit to) {
  assert(kind_of(from) == kind_of(to));
  return from == to ? value : value * in_base(from) / in_base(to);
}

Checked<Unit> parse_unit(std::string_view text) {
  for (const auto& unit : kUnits)
    if (text == unit.sign) return unit.unit;
  // Both code points for the micro sign, and the spelling without it.
  if (text == "um" || text == "μm" || text == "micron" || text == "microns") return Unit::um;
  if (text == "\"" || text == "inch" || text == "inches") return Unit::in;
  if (text == "g" || text == "gr" || text == "gram" || text == "grams")
    return Refusal{
        said("\"{text}\" is a mass; write gf for gram-force", {{"text", std::string(text)}})};
  if (text == "kg" || text == "kgf") return Refusal{said("write the force in gf, N, lbf or ozf")};
  if (text == "lb" || text == "lbs")
    return Refusal{said("\"lb\" is a mass; write lbf for pound-force")};
  if (text == "oz") return Refusal{said("\"oz\" is a mass; write ozf for ounce-force")};
  if (text == "mil" || text == "mils")
    return Refusal{
        said("\"mil\" means a thousandth of an inch to one and a millimetre to another; write thou "
             "or mm")};
  if (text == "n") return Refusal{said("write N (capital) for newton")};
  return Refusal{
      said("the unit \"{text}\" is not known; known are gf, N, lbf, ozf, mm, µm, in, thou",
           {{"text", std::string(text.substr(0, 20))}})};
}

Force Force::from(double value, Unit unit) {
  assert(kind_of(unit) == UnitKind::force);
  return Force(value * in_base(unit));
}
double Force::in(Unit unit) const {
  assert(kind_of(unit) == UnitKind::force);
  return newton_ / in_base(unit);
}
Length Length::from(double value, Unit unit) {
  assert(kind_of(unit) == UnitKind::length);
  return Length(value * in_base(unit));
}
double Length::in(Unit unit) const {
  assert(kind_of(unit) == UnitKind::length);
  return millimetre_ / in_base(unit);
}

Checked<Measure> parse_measure(std::string_view text, std::optional<UnitKind> kind,
                               std::optional<Unit> bare) {
  auto leading = parse_leading_number(text);
  if (!leading) return leading.refusal();
  if (leading->rest.empty()) {
    if (!bare)
      return Refusal{kind == UnitKind::length ? "say the unit: mm, µm, in or thou"
                                              : "say the unit: gf, N, lbf or ozf",
                     leading->rest_place};
    return Measure{leading->number, *bare};
  }
  auto unit = parse_unit(leading->rest);
  if (!unit) return Refusal{unit.refusal().reason, leading->rest_place};
  if (kind && kind_of(*unit) != *kind)
    return Refusal{*kind == UnitKind::force ? "this is a length; a force is wanted here"
                                            : "this is a force; a length is wanted here",
                   leading->rest_place};
  return Measure{leading->number, *unit};
}

Checked<Force> parse_force(std::string_view text, std::optional<Unit> bare) {
  auto measure = parse_measure(text, UnitKind::force, bare);
  if (!measure) return measure.refusal();
  return Force::from(measure->value, measure->unit);
}

Checked<Length> parse_length(std::string_view text, std::optional<Unit> bare) {
  auto measure = parse_measure(text, UnitKind::length, bare);
  if (!measure) return measure.refusal();
  return Length::from(measure->value, measure->unit);
}

std::string print_measure(double value, Unit unit, int digits) {
  return print_number(value, digits) + " " + std::string(sign_of(unit));
}

}  // namespace bq::inline quantity
