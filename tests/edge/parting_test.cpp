// Touch-ups over the years, and the force that parts what is cut.
#include <gtest/gtest.h>

#include <cmath>

#include "edge/apex_wear.h"
#include "edge/parting.h"
#include "edge/resharpening.h"
#include "section_kit.h"

using namespace bq;
using namespace bq::test;

TEST(Section, TouchUpsThickenTheEdgeUntilItIsThinned) {
  const Section start =
      made(plan({flat(2.5, UntilThickness{0.3}), flat(15), flat(20, UntilFacet{40})}, 2.2, 28));
  TouchUp touch_up;
  touch_up.worn_width_um = 8;
  touch_up.set_both(15, 20);
  touch_up.micro_facet_um = 40;
  const auto series = touch_up_series(start, touch_up, 60);
  ASSERT_TRUE(series.ok()) << series.refusal().reason;
  for (std::size_t i = 1; i < series->size(); ++i) {
    EXPECT_GT((*series)[i].apex_receded_mm, (*series)[i - 1].apex_receded_mm);
    EXPECT_GT((*series)[i].shoulder_thickness_mm, (*series)[i - 1].shoulder_thickness_mm - 1e-12);
    EXPECT_NEAR((*series)[i].inclusive_deg, 40, 1e-8);
  }
  // The edge bevel climbs the primary: the thickness behind it grows with what the apex recedes.
  const auto &first = series->at(1), &last = series->back();
  const double climb = (last.shoulder_thickness_mm - first.shoulder_thickness_mm) /
                       (last.apex_receded_mm - first.apex_receded_mm);
  EXPECT_NEAR(climb, 2 * tangent(2.5) * tangent(15) / (tangent(15) - tangent(2.5)), 1e-6);
  const auto due =
      thinning_due(*series, 0.5 * (first.shoulder_thickness_mm + last.shoulder_thickness_mm));
  ASSERT_TRUE(due.has_value());
  EXPECT_NEAR(*due, 30, 2);
  EXPECT_FALSE(thinning_due(*series, 5).has_value());
}

TEST(Section, TouchUpsOfUnlikeAndOneSidedEdgesKeepEachSidesAngle) {
  Grind unlike = flat(12);
  unlike.angle_right_deg = 18;
  const SectionPlan two_sides = plan({flat(2.5, UntilThickness{0.3}), unlike}, 2.2, 28);
  Grind back = flat(25);
  back.side = GrindSide::left;
  const SectionPlan chisel = plan({back}, 3, 40);
  for (const auto& [made_as, left, right] :
       {std::tuple(two_sides, 12.0, 18.0), std::tuple(chisel, 25.0, 0.0)}) {
    const Section start = made(made_as);
    const auto series = touch_up_series(start, touch_up_of(start, made_as.grinds, 10), 12);
    ASSERT_TRUE(series.ok()) << series.refusal().reason;
    for (const auto& state : *series) EXPECT_NEAR(state.inclusive_deg, left + right, 1e-8);
    EXPECT_GT(series->back().removed_mm2, 0);
  }
  EXPECT_FALSE(touch_up_of(made(chisel), chisel.grinds, 10).right.edge_deg.has_value());
}

TEST(Parting, IsMeasuredFromThePlaneThroughTheApex) {
  PartingOptions options;
  options.depth_mm = 5;
  options.friction = 0.25;
  Grind one_side = flat(25);
  one_side.side = GrindSide::left;
  // A chisel's flat back costs nothing: half of a wedge with the bevel's angle on both sides.
  EXPECT_NEAR(*parting_force_N_per_mm(made(plan({one_side}, 6, 40)), options),
              wedge_parting_N_per_mm(BevelAngles::symmetric(25), options) / 2, 1e-9);
  one_side.side = GrindSide::right;
  EXPECT_NEAR(*parting_force_N_per_mm(made(plan({one_side}, 6, 40)), options),
              wedge_parting_N_per_mm(BevelAngles::symmetric(25), options) / 2, 1e-9);
  // Against brute force on unlike sides: the thickness alone is known, each side from the apex's
  // plane.
  Grind unlike = flat(9);
  unlike.angle_right_deg = 21;
  const Section section = made(plan({unlike}, 5, 60));
  double sum = 0;
  constexpr int kSteps = 200000;
  for (const double angle : {9.0, 21.0}) {
    const double slope = tangent(angle);
    for (int i = 0; i < kSteps; ++i) {
      const double h = options.depth_mm * (i + 0.5) / kSteps;
      sum += h * slope * (slope + options.friction) * options.depth_mm / kSteps;
    }
  }
  EXPECT_NEAR(*parting_force_N_per_mm(section, options), sum, 1e-6);
}

TEST(Parting, AWedgeCostsWhatTheIntegralSays) {
  const Section wedge = made(plan({flat(12)}, 4, 40));
  PartingOptions options;
  options.depth_mm = 6;
  options.friction = 0.25;
  options.stiffness_N_per_mm3 = 0.02;
  // 2·∫ K·tan·h·(tan + μ) dh = K·tan·(tan + μ)·D²
  EXPECT_NEAR(*parting_force_N_per_mm(wedge, options),
              0.02 * tangent(12) * (tangent(12) + 0.25) * 36, 1e-12);
  options.facets = {{0, 0.1}};
  EXPECT_NEAR(*parting_force_N_per_mm(wedge, options),
              0.02 * tangent(12) * (tangent(12) + 0.1) * 36, 1e-12);
  // A hollow face against thin slices.
  const Section hollowed = made(plan({hollow(6, 120, UntilThickness{0.5})}, 3, 40));
  options = {8, 0.3, 1, {}};
  double sum = 0;
  for (int i = 0; i < 200000; ++i) {
    const double h = 8.0 * (i + 0.5) / 200000, step = 1e-6;
    const double y = *hollowed.thickness_mm(h) / 2,
                 slope = (*hollowed.thickness_mm(h + step) - *hollowed.thickness_mm(h)) / 2 / step;
    sum += 2 * y * (slope + 0.3) * 8.0 / 200000;
  }
  EXPECT_NEAR(*parting_force_N_per_mm(hollowed, options), sum, 1e-5 * sum);
}

TEST(Parting, ASoftStropRaisesTheAngle) {
  const auto effect = substrate_effect({2, 8}, 0.4);
  ASSERT_TRUE(effect.ok());
  EXPECT_NEAR(effect->sink_mm, 0.1, 1e-12);
  EXPECT_NEAR(effect->steeper_deg, degrees(std::atan(0.05)), 1e-12);
  EXPECT_NEAR(pressure_for({2, 8}, effect->steeper_deg), 0.4, 1e-12);
  EXPECT_FALSE(substrate_effect({2, 8}, 9).ok());
  EXPECT_FALSE(substrate_effect({0, 8}, 1).ok());
}
