#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <cmath>

#include "edge/apex_wear.h"
#include "edge/edge_geometry.h"

using namespace bq;

TEST(EdgeGeometry, RefusesAnglesThatCannotBe) {
  EXPECT_FALSE(EdgeGeometry::make(BevelAngles::symmetric(0)).ok());
  EXPECT_FALSE(EdgeGeometry::make(BevelAngles::symmetric(80)).ok());
  EXPECT_FALSE(EdgeGeometry::make({15, -2}).ok());
  EXPECT_FALSE(EdgeGeometry::make(BevelAngles::symmetric(15), BevelAngles::symmetric(12)).ok());
  EXPECT_FALSE(EdgeGeometry::make(BevelAngles::symmetric(std::nan(""))).ok());
  const auto made = EdgeGeometry::make({12, 14}, BevelAngles{18, 18});
  ASSERT_TRUE(made.ok());
  EXPECT_EQ(made->apex().inclusive_deg(), 36);
  EXPECT_EQ(made->edge().inclusive_deg(), 26);
}

TEST(EdgeGeometry, NeverLeavesTheConventionOut) {
  const auto edge = *EdgeGeometry::make(BevelAngles::symmetric(12), BevelAngles::symmetric(16));
  EXPECT_EQ(print_geometry(edge, AngleConvention::per_side), "12° + 16° micro, per side");
  EXPECT_EQ(print_geometry(edge, AngleConvention::inclusive), "24° + 32° micro, inclusive");
  EXPECT_EQ(print_geometry(*EdgeGeometry::make({12, 14}), AngleConvention::per_side),
            "12°|14° per side");
}

RC_GTEST_PROP(ApexWear, AreaAndWidthAreInverse, ()) {
  const double left = *rc::gen::inRange(5, 40), right = *rc::gen::inRange(5, 40);
  const double start = *rc::gen::inRange(0, 20) * 1e-4, area = *rc::gen::inRange(1, 1000) * 1e-6;
  const BevelAngles apex{left, right};
  const double width = worn_apex_width_mm(start, area, apex);
  // DOMAIN §1: w² = w₀² + 2·A·(tan left + tan right)
  RC_ASSERT(std::fabs(width * width - start * start -
                      2 * area * (std::tan(radians(left)) + std::tan(radians(right)))) < 1e-15);
  RC_ASSERT(std::fabs(worn_area_for_width_mm2(start, width, apex) - area) < 1e-12);
  RC_ASSERT(worn_apex_width_mm(start, area, {left + 1, right}) > width);
}
