#include "edge/strop_contact.h"

#include <array>
#include <cmath>

#include "edge/edge_geometry.h"
#include "quantity/number.h"

namespace bq::inline edge {
namespace {

constexpr std::array<std::string_view, kStropBackings> kBackings{
    "thin leather on wood", "thick soft leather", "a hanging strap"};
constexpr std::array<std::string_view, kStropPressures> kPressures{"the weight of the blade",
                                                                   "light", "firm"};
constexpr std::array<Substrate, kStropBackings> kSubstrates{{{2, 3}, {4, 1.6}, {3, 1.0}}};
constexpr std::array<double, kStropPressures> kPressures_MPa{0.05, 0.15, 0.4};

double steeper_deg(StropBacking backing, StropPressure pressure) {
  return substrate_effect(substrate_of(backing), pressure_MPa(pressure))->steeper_deg;
}

std::string degrees_text(double deg) { return print_fixed(deg, 1) + "°"; }

/// "under light pressure", "under the weight of the blade".
std::string under(StropPressure pressure) {
  return "under " + std::string(name_of(pressure)) +
         (pressure == StropPressure::blade_weight ? "" : " pressure");
}

}  // namespace

std::string_view name_of(StropBacking backing) { return kBackings[std::size_t(backing)]; }
std::string_view name_of(StropPressure pressure) { return kPressures[std::size_t(pressure)]; }
Substrate substrate_of(StropBacking backing) { return kSubstrates[std::size_t(backing)]; }
double pressure_MPa(StropPressure pressure) { return kPressures_MPa[std::size_t(pressure)]; }

StropBacking nearest_backing(const Substrate& substrate) {
  StropBacking best = StropBacking::thin_on_wood;
  const auto off = [&](StropBacking backing) {
    return std::fabs(std::log(substrate.modulus_MPa / substrate_of(backing).modulus_MPa));
  };
  for (const auto backing : {StropBacking::thick, StropBacking::hanging})
    if (off(backing) < off(best)) best = backing;
  return best;
}

Checked<StropContact> strop_contact(StropBacking backing, StropPressure pressure, double held_deg) {
  if (!(held_deg >= 1) || held_deg > 79)
    return Refusal{"the angle held on the strop must lie between 1° and 79° per side"};
  StropContact out;
  out.steeper_deg = steeper_deg(backing, pressure);
  out.apex_deg = held_deg + out.steeper_deg;
  if (held_deg > out.steeper_deg) out.hold_deg = held_deg - out.steeper_deg;
  std::string what(name_of(backing));
  what[0] = char(what[0] - 'a' + 'A');
  out.sentence = what + " " + under(pressure) + " meets the apex about " +
                 degrees_text(out.steeper_deg) + " steeper on each side: held at " +
                 degrees_text(held_deg) + " per side the apex sees " + degrees_text(out.apex_deg) +
                 " (estimate).";
  out.remedies.push_back(
      out.hold_deg ? "Lower lift: hold " + degrees_text(*out.hold_deg) +
                         " per side, or lay it flat and "
                         "raise the spine while pushing until it just bites"
                   : "Lower lift does not help here: it gives more than the angle that is held");
  if (pressure != StropPressure::blade_weight)
    out.remedies.push_back("Less pressure: the weight of the blade adds " +
                           degrees_text(steeper_deg(backing, StropPressure::blade_weight)));
  if (backing != StropBacking::thin_on_wood)
    out.remedies.push_back("Harder backing: thin leather on wood adds " +
                           degrees_text(steeper_deg(StropBacking::thin_on_wood, pressure)));
  return out;
}

}  // namespace bq::inline edge
