#include <gtest/gtest.h>

#include <cmath>

#include "edge/section.h"
#include "edge/weakest_place.h"

using namespace bq;

namespace {

double slope_of(double deg) { return std::tan(radians(deg)); }

Section wedge(double edge_deg, double micro_deg = 0, double micro_depth_mm = 0) {
  Grind edge;
  edge.angle_deg = edge_deg;
  SectionPlan plan;
  plan.stock_mm = 6;
  plan.height_mm = 60;
  plan.grinds = {edge};
  if (micro_deg > 0) {
    Grind micro;
    micro.angle_deg = micro_deg;
    micro.until = UntilFacet{1000 * micro_depth_mm / std::cos(radians(micro_deg))};
    plan.grinds.push_back(micro);
  }
  const auto section = make_section(plan);
  if (!section) throw std::runtime_error(section.refusal().reason);
  return *section;
}

}  // namespace

TEST(Weakest, APlainWedgeCarriesTheSameStressDownToTheBuriedDepth) {
  const SideLoad load{40, 0.12};
  const auto found = *weakest_place(wedge(15), load);
  EXPECT_NEAR(found.peak_MPa, 0.375 * 40 / (0.06 * slope_of(15) * slope_of(15)),
              1e-8 * found.peak_MPa);
  EXPECT_NEAR(found.peak_MPa, wedge_stress_MPa(load, 15), 1e-8 * found.peak_MPa);
  EXPECT_NEAR(found.at_mm, 0.12, 1e-8);
  EXPECT_EQ(found.place, WeakPlace::apex_zone);
  for (const auto& point : found.scan)
    if (point.at_mm < 0.12) {
      EXPECT_NEAR(point.stress_MPa, found.peak_MPa, 1e-6 * found.peak_MPa);
    } else if (point.at_mm > 0.13) {
      EXPECT_LT(point.stress_MPa, found.peak_MPa);
    }
  EXPECT_NEAR(least_wedge_angle_deg(load, found.peak_MPa), 15, 1e-6);
}

TEST(Weakest, TheNeckBehindASteepMicroBevelIsFound) {
  const double edge = 10, micro = 24, h0 = 0.05;
  const double r = slope_of(micro) / slope_of(edge);
  for (const double depth : {0.12, 0.15, 0.18, 0.3, 0.6}) {
    const SideLoad load{25, 2 * h0};
    const auto found = *weakest_place(wedge(edge, micro, depth), load);
    const double apex_zone = 0.375 * 25 / (h0 * slope_of(micro) * slope_of(micro));
    const double neck = 0.375 * 25 / (slope_of(edge) * slope_of(edge) * (depth * (r - 1) + h0));
    EXPECT_NEAR(found.apex_zone_MPa, apex_zone, 1e-7 * apex_zone);
    EXPECT_NEAR(found.peak_MPa, std::max(apex_zone, neck), 1e-7 * found.peak_MPa) << depth;
    const bool governs = depth < (1 + r) * h0;
    EXPECT_EQ(neck > apex_zone, governs) << depth;
    EXPECT_EQ(found.place, governs ? WeakPlace::neck : WeakPlace::apex_zone) << depth;
    if (governs) {
      EXPECT_NEAR(found.at_mm, 2 * h0 + depth * (r - 1), 1e-5);
      EXPECT_EQ(found.facet_made_by, 0);
    }
  }
}

TEST(Weakest, AWornApexIsNotCalledANeck) {
  for (const double width : {0.0005, 0.002, 0.006}) {
    const auto found = *weakest_place(*wedge(15).truncated(width), {40, 0.08});
    EXPECT_EQ(found.place, WeakPlace::apex_zone) << width;
    EXPECT_LT(found.peak_MPa, wedge_stress_MPa({40, 0.08}, 15)) << "metal at the apex only helps";
  }
}

TEST(Weakest, ALoadOnALengthSpreadsAndTheNeckComesDown) {
  // On a strip a thin blade is weakest where its grind ends, whatever its edge; a load of a few
  // millimetres has spread by then.
  for (const double h : {0.05, 0.5, 6.0})
    EXPECT_NEAR(bending_moment_N({20, 0.08, 5}, h),
                bending_moment_N({20, 0.08}, h) * 5 / (5 + 2 * h), 1e-12);
  const Section thin = wedge(2, 15, 0.25);
  const auto strip = *weakest_place(thin, {20, 0.08}), local = *weakest_place(thin, {20, 0.08, 2});
  EXPECT_LT(local.peak_MPa, strip.peak_MPa);
  EXPECT_LE(local.at_mm, strip.at_mm);
  EXPECT_FALSE(weakest_place(thin, {20, 0.08, -1}).ok());
}

TEST(Weakest, NothingIsSaidOfAnApexThinnerThanAMicrometre) {
  // A wedge of one degree is 1 µm thick 29 µm from its apex: nearer no plate bends.
  for (const double angle : {1.0, 5.0, 15.0})
    EXPECT_GE(weakest_place(wedge(angle), {20, 0.08})->thickness_mm, 0.0008) << angle;
  const auto found = *weakest_place(wedge(5), {20, 0.08});
  for (const auto& point : found.scan) EXPECT_GE(2 * slope_of(5) * point.at_mm, 0.0008);
}

TEST(Weakest, APlaceIsNotNamedFinerThanTheStressTellsThemApart) {
  // All along the buried apex the stress is the same within a twentieth: it is a stretch from the
  // apex on, whichever rounding or spreading puts the highest figure at the floor.
  for (const double angle : {8.0, 12.0, 20.0})
    for (const double length : {0.0, 3.0, 40.0}) {
      const auto found = *weakest_place(wedge(angle), {20, 0.08, length});
      EXPECT_TRUE(found.from_apex) << angle << " " << length;
      EXPECT_GT(found.at_mm, 0.07) << angle << " " << length;
      EXPECT_NE(describe(found, {}).find("from the apex on, to "), std::string::npos);
    }
  // Nor of a hollow ground to zero.
  SectionPlan hollow;
  hollow.stock_mm = 4;
  hollow.height_mm = 30;
  Grind grind;
  grind.shape = GrindShape::hollow;
  grind.angle_deg = 15;
  grind.radius_mm = 60;
  hollow.grinds = {grind};
  const auto found = *weakest_place(*make_section(hollow), {20, 0.08});
  EXPECT_TRUE(found.from_apex);
  EXPECT_GT(found.at_mm, 0.05);
  // A neck is a place.
  EXPECT_FALSE(weakest_place(wedge(10, 24, 0.12), {25, 0.1})->from_apex);
}

TEST(Weakest, TheBrittleSteelIsNotCalledTheSafest) {
  // Harder steel yields later, yet breaks out earlier.
  const double soft = *yield_MPa(54), hard = *yield_MPa(66);
  EXPECT_GT(hard, soft);
  const auto limit = leading_limit({hard, default_bend_strength_MPa(Toughness::brittle)});
  EXPECT_EQ(limit->failure, Failure::breaks_out);
  EXPECT_EQ(leading_limit({soft, default_bend_strength_MPa(Toughness::tough)})->failure,
            Failure::bends_flat);
  EXPECT_FALSE(leading_limit({}).has_value());
  const auto place = *weakest_place(wedge(8), {60, 0.1});
  EXPECT_NE(describe(place, {hard, 2500.0}).find("breaks out"), std::string::npos);
  EXPECT_NE(describe(place, {1e9, {}}).find("holds"), std::string::npos);
  EXPECT_FALSE(weakest_place(wedge(12), {0, 0.1}).ok());
  EXPECT_FALSE(weakest_place(wedge(12), {10, -1}).ok());
}

TEST(Strength, HardnessFollowsThePublishedTable) {
  EXPECT_EQ(*vickers_of(60), 697);
  EXPECT_EQ(*vickers_of(20), 238);
  EXPECT_EQ(*vickers_of(68), 940);
  EXPECT_NEAR(*vickers_of(58.5), 0.5 * (653 + 674), 1e-12);
  EXPECT_NEAR(*yield_MPa(60), 697 * 9.80665 / 3, 1e-9);
  for (double hrc = 20; hrc <= 68; hrc += 0.37)
    EXPECT_NEAR(*rockwell_c_of(*vickers_of(hrc)), hrc, 1e-9);
  EXPECT_FALSE(vickers_of(70).ok());
  EXPECT_FALSE(vickers_of(12).ok());
  EXPECT_FALSE(vickers_of(std::nan("")).ok());
}
