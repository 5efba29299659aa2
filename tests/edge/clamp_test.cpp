#include <gtest/gtest.h>

#include <array>
#include <cmath>

#include "edge/clamp_jig.h"
#include "quantity/angle.h"
#include "stats/random.h"

using namespace bq;

namespace {

using Vector = std::array<double, 3>;

double dot(const Vector& a, const Vector& b) { return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]; }

/// The angle between the blade's plane (z = 0) and a plane that holds the edge's tangent and passes
/// the pivot at distance r, found by turning that plane about the tangent: no formula of DOMAIN §2.
double brute_force_angle(const ClampJig& jig, const EdgePoint& e) {
  const Vector tangent{e.tangent_x, e.tangent_y, 0}, up{0, 0, 1};
  // In-plane normal of the edge that points to the pivot's foot.
  Vector inward{-tangent[1], tangent[0], 0};
  const Vector to_pivot{jig.pivot_x_mm - e.x_mm, jig.pivot_lateral_mm - e.y_mm,
                        jig.pivot_height_mm};
  if (dot(inward, to_pivot) < 0) inward = {tangent[1], -tangent[0], 0};
  const auto distance = [&](double angle) {  // of the pivot above the plane tilted by `angle`
    const Vector normal{-std::sin(angle) * inward[0], -std::sin(angle) * inward[1],
                        std::cos(angle) * up[2]};
    return dot(normal, to_pivot);
  };
  double low = 0, high = radians(89.9);
  for (int i = 0; i < 200; ++i) {
    const double middle = 0.5 * (low + high);
    (distance(middle) > jig.offset_mm ? low : high) = middle;
  }
  return degrees(0.5 * (low + high));
}

std::vector<OutlinePoint> random_outline(stats::Random& random, int count) {
  std::vector<OutlinePoint> points;
  const double a = 20 * random.uniform() - 8, b = 10 * random.uniform() - 5,
               phase = 6 * random.uniform();
  for (int i = 0; i < count; ++i) {
    const double u = double(i) / (count - 1);
    points.push_back({120 * u, a * u * u + 0.3 * b * std::sin(3 * u + phase)});
  }
  return points;
}

}  // namespace

TEST(Clamp, AStraightEdgeAndAnArcAboutThePivotHaveOneAngle) {
  ClampJig jig{30, 90, 35, 0};
  const auto straight = *ClampSolver::make(EdgeOutline::straight({0, 0}, {110, 12}), jig);
  EXPECT_LT(straight.spread({})->range_deg(), 1e-9);
  EXPECT_LT(straight.spread({25, 0})->range_deg(), 1e-9);
  jig.offset_mm = 4;
  const auto arc = *ClampSolver::make(EdgeOutline::arc({30, 90}, 140, -110, -50), jig);
  EXPECT_LT(arc.spread({})->range_deg(), 1e-9);
  EXPECT_GT(arc.spread({15, 0})->range_deg(), 0.1) << "off its centre the arc's angle drifts";
  const double theta = radians(arc.spread({})->least_deg);
  EXPECT_NEAR(35 * std::cos(theta) - 140 * std::sin(theta), 4, 1e-10);
  // Through points 5 mm apart: the stated error of the smooth curve.
  std::vector<OutlinePoint> points;
  for (double angle = -110; angle <= -50; angle += 1)
    points.push_back({30 + 300 * std::cos(radians(angle)), 90 + 300 * std::sin(radians(angle))});
  const auto fitted = *ClampSolver::make(*EdgeOutline::through(points), jig);
  EXPECT_LT(fitted.spread({})->range_deg(), 1e-5);
}

TEST(Clamp, AgreesWithThreeDimensionsOnRandomOutlines) {
  stats::Random random(11);
  for (int trial = 0; trial < 40; ++trial) {
    const auto outline = *EdgeOutline::through(random_outline(random, 25));
    const ClampJig jig{120 * random.uniform(), 70 + 60 * random.uniform(),
                       20 + 40 * random.uniform(), 8 * random.uniform() - 4};
    const auto solver = ClampSolver::make(outline, jig);
    ASSERT_TRUE(solver.ok());
    for (const double share : {0.0, 0.17, 0.5, 0.83, 1.0}) {
      const EdgePoint e = outline.at(share);
      const double d = std::abs((e.x_mm - jig.pivot_x_mm) * e.tangent_y -
                                (e.y_mm - jig.pivot_lateral_mm) * e.tangent_x);
      EXPECT_NEAR(*clamp_angle_deg(jig, d), brute_force_angle(jig, e), 1e-9);
    }
  }
}

TEST(Clamp, TheOptimumBeatsEveryShiftOnAFineGrid) {
  stats::Random random(5);
  for (int trial = 0; trial < 12; ++trial) {
    auto solver =
        *ClampSolver::make(*EdgeOutline::through(random_outline(random, 30)), {60, 95, 34, 2});
    const bool holding = trial % 2 == 1;
    ASSERT_TRUE(!holding || solver.hold(60, 15).ok());
    for (const auto aim : {ClampSolver::Aim::least_range, ClampSolver::Aim::least_rms}) {
      const auto best = *solver.best({-40, 40, 0}, aim);
      for (int i = 0; i <= 3000; ++i) {
        const auto spread = solver.spread({-40 + 80.0 * i / 3000, 0});
        if (!spread) continue;
        const bool range = aim == ClampSolver::Aim::least_range;
        EXPECT_LE(range ? best.spread.range_deg() : best.spread.rms_deg,
                  (range ? spread->range_deg() : spread->rms_deg) + 1e-7)
            << trial;
      }
      const auto turned = *solver.best({-40, 40, 4}, aim);
      EXPECT_LE(turned.spread.rms_deg,
                aim == ClampSolver::Aim::least_rms ? best.spread.rms_deg + 1e-6 : 1e9);
      EXPECT_LE(turned.spread.range_deg(),
                aim == ClampSolver::Aim::least_range ? best.spread.range_deg() + 1e-6 : 1e9);
    }
  }
}

TEST(Clamp, AHeldStationKeepsItsAngleThroughEveryShift) {
  stats::Random random(8);
  auto solver =
      *ClampSolver::make(*EdgeOutline::through(random_outline(random, 20)), {40, 100, 30, 3});
  ASSERT_TRUE(solver.hold(55, 16.5).ok());
  for (const double shift : {-20.0, 0.0, 13.0})
    EXPECT_NEAR(*solver.angle_at_x(55, {shift, 0}), 16.5, 1e-9);
  EXPECT_NEAR(*solver.angle_at_x(55, {5, 3}), 16.5, 1e-9);
  EXPECT_GT(*solver.lateral_mm({}), 30) << "the pivot stays on its own side";
  EXPECT_FALSE(solver.hold(500, 15).ok());
  EXPECT_FALSE(solver.hold(55, 85).ok());
  EXPECT_FALSE(ClampSolver::make(EdgeOutline::straight({0, 0}, {1, 0}), {0, 10, -3, 0}).ok());
  EXPECT_FALSE(ClampSolver::make(EdgeOutline::straight({0, 0}, {1, 0}), {0, 10, 3, 5}).ok());
}

TEST(Clamp, SensitivityIsWhatAMillimetreChanges) {
  stats::Random random(3);
  const auto solver =
      *ClampSolver::make(*EdgeOutline::through(random_outline(random, 20)), {50, 95, 32, 0});
  const auto sensitivity = *solver.sensitivity(110, {});
  EXPECT_NEAR(sensitivity.per_mm_shift_deg * 0.02,
              *solver.angle_at_x(110, {0.01, 0}) - *solver.angle_at_x(110, {-0.01, 0}), 1e-7);
  // The advice works: moving as it says changes the tip against the middle by about a degree.
  const auto gap = [&](double shift) {
    return *solver.angle_at_x(120, {shift, 0}) - *solver.angle_at_x(60, {shift, 0});
  };
  const std::string advice = solver.tip_advice(ClampSolver::TipInk::at_apex, {});
  const bool to_tip = advice.find("its tip") != std::string::npos;
  ASSERT_TRUE(to_tip || advice.find("its heel") != std::string::npos) << advice;
  EXPECT_GT(gap(to_tip ? 2 : -2), gap(0)) << advice;
}

TEST(Outline, RefusesWhatIsNoEdge) {
  const auto reason = [](std::vector<OutlinePoint> points) {
    const auto made = EdgeOutline::through(points);
    return made ? std::string() : made.refusal().reason;
  };
  EXPECT_NE(reason({{0, 0}}).find("two points"), std::string::npos);
  EXPECT_NE(reason({{0, 0}, {0, 0}}).find("same"), std::string::npos);
  EXPECT_NE(reason({{0, 0}, {10, 0}, {10, 5}, {5, -5}}).find("crosses itself"), std::string::npos);
  EXPECT_NE(reason({{0, 0}, {std::nan(""), 0}}).find("point 2"), std::string::npos);
  for (int i = 0; i < 5; ++i)
    EXPECT_TRUE(EdgeOutline::through(preset_outline(ProfilePreset(i), 120)).ok());
}

TEST(Outline, ReadsTablesAndDrawings) {
  const auto table = outline_from_table("x;y\n0;0\n10,5;1\n20;2,5\n");
  ASSERT_TRUE(table.ok());
  EXPECT_EQ((*table)[1], (OutlinePoint{10.5, 1}));
  EXPECT_NE(outline_from_table("0,0\n1;x\n").refusal().reason.find("line 2"), std::string::npos);
  const auto drawn = outline_from_svg(
      "<svg><g id=\"d\"/><path id='x' d='m 10,0 l10 0 h5 C 30 0 40 -5 45 -10 s 5 -5 10 -12 "
      "z'/></svg>",
      2);
  ASSERT_TRUE(drawn.ok()) << drawn.refusal().reason;
  EXPECT_EQ(drawn->front(), (OutlinePoint{20, 0}));
  EXPECT_EQ((*drawn)[2], (OutlinePoint{50, 0}));
  EXPECT_NEAR(drawn->back().x_mm, 110, 1e-12);
  EXPECT_NEAR(drawn->back().y_mm, 44, 1e-12) << "y points up";
  EXPECT_EQ(drawn->size(), 3U + 32U);
  for (const char* bad : {"", "L 1 1", "M 1", "M 0 0 A 1 1 0 0 0 2 2", "<svg></svg>",
                          "<path d=\"M 0 0 L 1 1", "M nan 1 2 2", "M 1e999 0 L 1 1"})
    EXPECT_FALSE(outline_from_svg(bad, 1).ok()) << bad;
}

TEST(Outline, NoBytesMakeTheReadersFail) {
  stats::Random random(17);
  const std::string alphabet = "MmLlHhVvCcSsQqTtZzAa0123456789.,-+eE \n<path d=\"'/>;\t#";
  for (int i = 0; i < 20000; ++i) {
    std::string text;
    for (int k = int(random.uniform() * 60); k > 0; --k)
      text += alphabet[std::size_t(random.uniform() * double(alphabet.size()))];
    const auto drawn = outline_from_svg(text, 1);
    if (drawn) (void)EdgeOutline::through(*drawn);
    (void)outline_from_table(text);
  }
}

TEST(SpineLift, GapAndAngleAreInverse) {
  for (const double angle : {6.0, 12.0, 18.0, 25.0}) {
    const auto gap = spine_lift_mm(32, 2.4, angle);
    ASSERT_TRUE(gap.ok());
    EXPECT_NEAR(*gap, 32 * std::sin(radians(angle)) - 1.2 * std::cos(radians(angle)), 1e-12);
    EXPECT_NEAR(*angle_of_spine_lift_deg(32, 2.4, *gap), angle, 1e-10);
  }
  const auto choice = spacers_for(32, 2.4, 15, 1.5);
  ASSERT_TRUE(choice.ok());
  EXPECT_EQ(choice->pieces, 5);
  EXPECT_NEAR(*spine_lift_mm(32, 2.4, choice->angle_deg), 7.5, 1e-10);
  EXPECT_FALSE(spine_lift_mm(32, 2.4, 1).ok());
  EXPECT_FALSE(spine_lift_mm(0, 2.4, 15).ok());
  EXPECT_FALSE(angle_of_spine_lift_deg(32, 2.4, 40).ok());
}
