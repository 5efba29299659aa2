#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace bq::inline edge {

/// How a steel's burr behaves when it is taken off (DOMAIN §4).
enum class DeburrBehaviour { ductile, between, brittle };
std::string_view name_of(DeburrBehaviour behaviour);
std::optional<DeburrBehaviour> parse_deburr_behaviour(std::string_view text);

struct BehaviourGuess {
  DeburrBehaviour behaviour = DeburrBehaviour::between;
  std::string why;
};
/// A suggestion, always to be overruled: hard-phase share up to 5 % and below 62 HRC bends; 10 %
/// and more, or 65 HRC and more, breaks; the rest lies between. The bounds are round figures of
/// this program. Empty when neither is known.
std::optional<BehaviourGuess> guess_behaviour(std::optional<double> hardness_hrc,
                                              std::optional<double> hard_phase_percent);

/// One step of a deburring route.
struct RouteStep {
  std::string what;
  std::optional<double> above_edge_deg;  ///< per side, over the edge angle; empty: not at the stone
  std::string why;
  bool cleans_up = false;  ///< what is left of a burr and dust comes off, on bare leather
};
/// The route for a behaviour (DOMAIN §4): ductile breaks the burr 1° to 3° above the edge angle,
/// brittle stays at the edge angle throughout, between tries the brittle route on one third first.
/// The clean-up never uses a fast-cutting or felt-like substrate.
std::vector<RouteStep> deburring_route(DeburrBehaviour behaviour);
/// "ductile route": the name a record keeps.
std::string route_name(DeburrBehaviour behaviour);

}  // namespace bq::inline edge
