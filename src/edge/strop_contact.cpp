#include "edge/strop_contact.h"

#include <array>
#include <cmath>

#include "edge/edge_geometry.h"
#include "quantity/number.h"
#include "quantity/said.h"

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
  return said("under {pressure}{pressure_2}",
              {{"pressure", said(name_of(pressure).data())},
               {"pressure_2", pressure == StropPressure::blade_weight ? "" : said(" pressure")}});
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
    return Refusal{said("the angle held on the strop must lie between 1° and 79° per side")};
  StropContact out;
  out.steeper_deg = steeper_deg(backing, pressure);
  out.apex_deg = held_deg + out.steeper_deg;
  if (held_deg > out.steeper_deg) out.hold_deg = held_deg - out.steeper_deg;
  std::string what = said(name_of(backing).data());
  if (what[0] >= 'a' && what[0] <= 'z') what[0] = char(what[0] - 'a' + 'A');
  out.sentence = said(
      "{what} {under} meets the apex about {degrees_text} steeper on each side: held at "
      "{degrees_text_2} per side the apex sees {degrees_text_3} (estimate).",
      {{"what", what},
       {"under", under(pressure)},
       {"degrees_text", degrees_text(out.steeper_deg)},
       {"degrees_text_2", degrees_text(held_deg)},
       {"degrees_text_3", degrees_text(out.apex_deg)}});
  out.remedies.push_back(
      out.hold_deg
          ? said("Lower lift: hold {degrees_text} per side, or lay it flat and raise the spine "
                 "while pushing until it just bites",
                 {{"degrees_text", degrees_text(*out.hold_deg)}})
          : said("Lower lift does not help here: it gives more than the angle that is held"));
  if (pressure != StropPressure::blade_weight)
    out.remedies.push_back(
        said("Less pressure: the weight of the blade adds {degrees_text}",
             {{"degrees_text", degrees_text(steeper_deg(backing, StropPressure::blade_weight))}}));
  if (backing != StropBacking::thin_on_wood)
    out.remedies.push_back(
        said("Harder backing: thin leather on wood adds {degrees_text}",
             {{"degrees_text", degrees_text(steeper_deg(StropBacking::thin_on_wood, pressure))}}));
  return out;
}

}  // namespace bq::inline edge
