#include "edge/steel_behaviour.h"

#include <array>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {

std::string_view name_of(DeburrBehaviour behaviour) {
  return std::array<std::string_view, 3>{"ductile", "between", "brittle"}[std::size_t(behaviour)];
}

std::optional<DeburrBehaviour> parse_deburr_behaviour(std::string_view text) {
  for (const auto behaviour :
       {DeburrBehaviour::ductile, DeburrBehaviour::between, DeburrBehaviour::brittle})
    if (text == name_of(behaviour)) return behaviour;
  return std::nullopt;
}

std::optional<BehaviourGuess> guess_behaviour(std::optional<double> hrc,
                                              std::optional<double> phase) {
  if (!hrc && !phase) return std::nullopt;
  const std::string hardness = hrc ? print_number(*hrc, 3) + " HRC" : said("hardness not known");
  const std::string share = phase
                                ? said("{phase} % hard phase", {{"phase", print_number(*phase, 3)}})
                                : said("hard phase not known");
  const std::string facts = hardness + ", " + share + ": ";
  if (phase && *phase >= 10)
    return BehaviourGuess{
        DeburrBehaviour::brittle,
        said("{facts}10 % hard phase and more usually breaks away", {{"facts", facts}})};
  if (hrc && *hrc >= 65)
    return BehaviourGuess{DeburrBehaviour::brittle,
                          said("{facts}65 HRC and more usually breaks away", {{"facts", facts}})};
  if (phase && *phase <= 5 && (!hrc || *hrc < 62))
    return BehaviourGuess{DeburrBehaviour::ductile,
                          said("{facts}little hard phase below 62 HRC usually bends and hangs on",
                               {{"facts", facts}})};
  if (!phase && *hrc < 58)
    return BehaviourGuess{
        DeburrBehaviour::ductile,
        said("{facts}below 58 HRC usually bends and hangs on", {{"facts", facts}})};
  return BehaviourGuess{
      DeburrBehaviour::between,
      said("{facts}neither clearly bends nor clearly breaks", {{"facts", facts}})};
}

std::vector<RouteStep> deburring_route(DeburrBehaviour behaviour) {
  const RouteStep clean{
      "Clean up at the edge angle on bare leather or the finest oxide, edge trailing, light; no "
      "felt, no fast-cutting compound",
      0.0, "a soft or fast substrate rounds the apex that was just made", true};
  const RouteStep wipe{"Wipe the edge across, away from it; never along it", std::nullopt,
                       "loose debris reads like a burr"};
  const std::vector<RouteStep> brittle{
      {"Reduce the burr with light alternating strokes, halving the pressure as it goes", 0.0,
       "a burr that breaks away leaves no root when it is ground thin"},
      {"Finish with the lightest strokes at the edge angle on the last abrasive", 0.0,
       "a steeper stroke would break teeth out of a brittle apex"},
      clean,
      wipe};
  switch (behaviour) {
    case DeburrBehaviour::brittle:
      return brittle;
    case DeburrBehaviour::ductile:
      return {{"Reduce the burr with light alternating strokes, halving the pressure as it goes",
               0.0, "a ductile burr only bends over from side to side: it must be thin first"},
              {"Break it with a few feather-light strokes on a hard fine surface, 1° to 3° above "
               "the edge angle",
               2.0, "the steeper contact meets the burr's root and not the bevel"},
              clean,
              wipe};
    case DeburrBehaviour::between:
      break;
  }
  std::vector<RouteStep> out{{"Mark one third of the edge and do only that one by the next steps",
                              std::nullopt, "this steel may bend or break: a third shows which"}};
  out.insert(out.end(), brittle.begin(), brittle.end());
  out.push_back(
      {"Look at the third under the lens, and try it: clean, go on alike; a burr left, take the "
       "ductile route for the rest",
       std::nullopt, "the look decides, not the number"});
  return out;
}

std::string route_name(DeburrBehaviour behaviour) {
  return said("{behaviour} route", {{"behaviour", std::string(name_of(behaviour))}});
}

}  // namespace bq::inline edge
