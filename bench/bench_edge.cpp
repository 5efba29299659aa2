// A section with 12 grinds made anew, and the clamp's best shift over a 200-point outline.
#include <algorithm>
#include <chrono>
#include <cstdio>

#include "edge/clamp_jig.h"
#include "edge/marker_test.h"
#include "edge/section_outcomes.h"
#include "edge/weakest_place.h"

using namespace bq;

namespace {

template <class Work>
double best_of(int rounds, int repeats, Work work) {
  double best = 1e9;
  for (int round = 0; round < rounds; ++round) {
    const auto start = std::chrono::steady_clock::now();
    for (int i = 0; i < repeats; ++i) work(i);
    best = std::min(
        best,
        std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count() / repeats);
  }
  return best;
}

Grind grind(GrindShape shape, GrindSide side, double angle, GrindUntil until) {
  Grind out;
  out.shape = shape;
  out.side = side;
  out.angle_deg = angle;
  out.until = until;
  if (shape == GrindShape::hollow) out.radius_mm = 125;
  if (shape == GrindShape::convex) out.to_deg = angle + 3;
  return out;
}

/// Every shape and every way to stop.
SectionPlan twelve_grinds() {
  using S = GrindShape;
  SectionPlan plan;
  plan.stock_mm = 3;
  plan.height_mm = 30;
  plan.grinds = {grind(S::hollow, GrindSide::both, 4, UntilThickness{0.6}),
                 grind(S::flat, GrindSide::both, 3, UntilThickness{0.5}),
                 grind(S::flat, GrindSide::left, 6, UntilFacet{2000}),
                 grind(S::flat, GrindSide::right, 6, UntilFacet{2000}),
                 grind(S::flat, GrindSide::both, 12, UntilApex{}),
                 grind(S::flat, GrindSide::both, 14, UntilFacet{300}),
                 grind(S::convex, GrindSide::both, 15, UntilFacet{200}),
                 grind(S::flat, GrindSide::left, 19, UntilDepth{0.004}),
                 grind(S::flat, GrindSide::right, 19, UntilDepth{0.004}),
                 grind(S::flat, GrindSide::both, 21, UntilFacet{60}),
                 grind(S::flat, GrindSide::both, 24, UntilFacet{25}),
                 grind(S::flat, GrindSide::both, 27, UntilDepth{0.001})};
  plan.apex_um = 0.5;
  return plan;
}

}  // namespace

int main() {
  double sink = 0;
  SectionPlan plan = twelve_grinds();
  const auto made = make_section(plan);
  if (!made)
    return std::printf("the section could not be made: %s\n", made.refusal().reason.c_str()), 1;
  const double section = best_of(20, 200, [&](int i) {
    plan.grinds[4].angle_deg = 12 + 0.001 * i;  // as when a facet is dragged
    sink += make_section(plan)->apex_mm();
  });
  const double outcomes = best_of(20, 200, [&](int) {
    sink += facets_of(*made).front().width_um + weakest_place(*made, {30, 0.1})->peak_MPa;
  });
  const auto outline = *EdgeOutline::through(preset_outline(ProfilePreset::belly, 140));
  auto solver = *ClampSolver::make(outline, {70, 110, 36, 3}, 200);
  const double clamp = best_of(10, 5, [&](int) {
    sink += solver.best({-50, 50, 0}, ClampSolver::Aim::least_range)->placement.shift_mm;
  });
  const double rms = best_of(5, 2, [&](int) {
    sink += solver.best({-50, 50, 0}, ClampSolver::Aim::least_rms)->placement.shift_mm;
  });
  if (!solver.hold(70, 15)) return 1;
  const double held = best_of(10, 5, [&](int) {
    sink += solver.best({-50, 50, 0}, ClampSolver::Aim::least_range)->placement.shift_mm;
  });
  const std::vector<MarkerTouch> touches{
      {18, InkSeen::apex_only}, {13, InkSeen::shoulder_only}, {15, InkSeen::whole_bevel}};
  const double marker = best_of(10, 20, [&](int) { sink += assess_marker({}, touches)->next_deg; });
  std::printf("section with 12 grinds made anew:           %7.1f us   (wanted: under 50)\n",
              section * 1e6);
  std::printf("  its facets and weakest place:             %7.1f us\n", outcomes * 1e6);
  std::printf("clamp, least range over a 200-place edge:   %7.2f ms   (wanted: under 5)\n",
              clamp * 1e3);
  std::printf("  with one angle held:                      %7.2f ms   (wanted: under 5)\n",
              held * 1e3);
  std::printf("  least RMS:                                %7.2f ms   (wanted: under 5)\n",
              rms * 1e3);
  std::printf("marker test, next touch:                    %7.2f ms   [%g]\n", marker * 1e3,
              sink != 0 ? 0.0 : 1.0);
  return 0;
}
