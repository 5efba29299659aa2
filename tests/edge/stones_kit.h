#pragma once

#include <string>
#include <vector>

#include "edge/abrasive.h"
#include "edge/ladder.h"

/// A shelf, a knife and a wish to try ladders on.
namespace bq::test {

inline Abrasive stone(const std::string& name, double um, double rate,
                      AbrasiveKind kind = AbrasiveKind::bench_stone) {
  Abrasive a;
  a.name = name;
  a.kind = kind;
  a.measured_um = um;
  a.rate_mm3_per_min = rate;
  a.flatness = {{"2026-03-01", 0, 0, true, ""}};
  return a;
}

inline std::vector<Abrasive> shelf() {
  return {stone("Coarse", 120, 24), stone("Middle", 45, 8), stone("Fine", 15, 2.4),
          stone("Finest", 5, 0.8)};
}

/// A knife: 2 mm stock, 3° faces to 0.4 mm, 15° edge, sharp.
inline EdgeState knife() {
  EdgeState state;
  Grind face, edge;
  face.angle_deg = 3;
  face.until = UntilThickness{0.4};
  edge.angle_deg = 15;
  state.section = {2, 24, {}, {face, edge}, 0};
  state.edge_length_mm = 120;
  return state;
}

inline LadderWish wish(double angle, double finish) {
  LadderWish out;
  out.edge = BevelAngles::symmetric(angle);
  out.finish_left_um = out.finish_right_um = finish;
  return out;
}

inline std::vector<std::string> names(const LadderPlan& plan, const std::vector<Abrasive>& all) {
  std::vector<std::string> out;
  for (const auto& step : plan.steps) out.push_back(all[step.abrasive].name);
  return out;
}

}  // namespace bq::test
