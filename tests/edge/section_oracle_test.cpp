// Sections against an oracle that knows neither pieces nor infeeds: each side is the lowest of a
// few lines and arcs, written down from the geometry, and everything is found by sampling it.
#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "edge/parting.h"
#include "edge/section.h"
#include "edge/section_outcomes.h"
#include "stats/random.h"

using namespace bq;

namespace {

double slope_of(double deg) { return std::tan(radians(deg)); }

using Face = std::function<double(double)>;  ///< half-thickness against height

Face line(double h, double y, double deg) {
  return [=](double at) { return y + (at - h) * slope_of(deg); };
}

/// An arc over the chord from (h0, y0) to (h1, y1); `bulge`: +1 outward (convex), −1 (hollow).
Face arc(double h0, double y0, double h1, double y1, double radius, double bulge) {
  const double half = std::hypot(h1 - h0, y1 - y0) / 2,
               off = std::sqrt(radius * radius - half * half);
  const double along_h = (h1 - h0) / (2 * half), along_y = (y1 - y0) / (2 * half);
  // The centre lies on the metal's side of the chord for a bulge, on the wheel's for a hollow.
  const double centre_h = (h0 + h1) / 2 + bulge * off * along_y,
               centre_y = (y0 + y1) / 2 - bulge * off * along_h;
  return [=](double at) {
    if (at < h0 || at > h1) return 1e9;
    return centre_y + bulge * std::sqrt(radius * radius - (at - centre_h) * (at - centre_h));
  };
}

/// Where two faces cross, between two heights at which they are in different order.
double crossing(const Face& one, const Face& other, double low, double high) {
  const bool above = one(low) > other(low);
  for (int i = 0; i < 200; ++i) {
    const double middle = (low + high) / 2;
    ((one(middle) > other(middle)) == above ? low : high) = middle;
  }
  return (low + high) / 2;
}

struct OracleSide {
  std::vector<Face> faces;
  std::optional<std::size_t> edge;  ///< the face that is the edge bevel
  [[nodiscard]] double at(double h) const {
    double least = 1e9;
    for (const auto& face : faces) least = std::min(least, face(h));
    return least;
  }
};

struct Oracle {
  double height = 0;
  OracleSide sides[2];
  std::string told;  ///< for messages

  [[nodiscard]] double thickness(double h) const { return sides[0].at(h) + sides[1].at(h); }
  [[nodiscard]] double apex() const {
    double low = 0, high = height;
    if (thickness(0) > 0) return 0;
    for (int i = 0; i < 200; ++i) {
      const double middle = (low + high) / 2;
      (thickness(middle) > 0 ? high : low) = middle;
    }
    return high;
  }
  /// Where the edge bevel of a side ends; empty where it goes on to the stock.
  [[nodiscard]] std::optional<double> bevel_end(int side) const {
    const OracleSide& own = sides[side];
    if (!own.edge) return std::nullopt;
    double end = apex();
    constexpr int kSteps = 100000;
    for (int i = 0; i < kSteps; ++i) {
      const double h = height * (i + 0.5) / kSteps;
      if (own.faces[*own.edge](h) <= own.at(h) + 1e-12) end = std::max(end, h);
    }
    return end;
  }
};

/// A blade as people grind them, with what it must be.
struct Case {
  SectionPlan plan;
  Oracle oracle;
  bool zero = false;  ///< the edge bevel ends at the stock: nothing behind it
};

Grind grind_at(double deg, GrindUntil until, GrindSide side = GrindSide::both) {
  Grind out;
  out.angle_deg = deg;
  out.until = until;
  out.side = side;
  return out;
}

Case any_case(stats::Random& random) {
  const auto between = [&](double low, double high) {
    return low + (high - low) * random.uniform();
  };
  Case out;
  const double stock = between(1.8, 4.5), height = between(22, 45);
  out.plan.stock_mm = stock;
  out.plan.height_mm = height;
  out.oracle.height = height;
  OracleSide& left = out.oracle.sides[0];
  OracleSide& right = out.oracle.sides[1];
  for (OracleSide* side : {&left, &right})
    side->faces.push_back([stock](double) { return stock / 2; });

  // The primary: none (ground to zero), flat, sabre, hollow; on both sides or, a chisel's, on one.
  const int kind = int(random.below(4));
  const bool one_sided = random.below(4) == 0;
  const GrindSide ground_side = one_sided ? GrindSide::left : GrindSide::both;
  const double angle = between(2.5, 6), rest = between(0.25, 0.6);
  out.zero = kind == 0;
  if (kind > 0) {
    Grind primary = grind_at(kind == 2 ? angle + 4 : angle, UntilThickness{rest}, ground_side);
    // What a chisel's one side leaves at the bottom is measured from the other's flat back.
    const double y = one_sided ? rest - stock / 2 : rest / 2;
    Face face = line(0, y, primary.angle_deg);
    if (kind == 3) {
      // The chord ends at the stock, or at the spine where the side is ground over its whole
      // height.
      const double top = std::min(height, (stock / 2 - y) / slope_of(primary.angle_deg));
      const double chord = std::hypot(top, face(top) - y);
      primary.shape = GrindShape::hollow;
      primary.radius_mm = between(14, 40) * chord;
      face = arc(0, y, top, face(top), *primary.radius_mm, -1);
    }
    out.plan.grinds.push_back(primary);
    left.faces.push_back(face);
    if (!one_sided) right.faces.push_back(face);
  }

  // The edge bevel, to the apex: alike, unlike, convex; a chisel's on its one side.
  const double steep = kind == 0 ? between(9, 16) : between(14, 22);
  const bool unlike = !one_sided && random.below(3) == 0;
  const bool convex = !one_sided && !unlike && kind != 0 && random.below(3) == 0;
  Grind bevel = grind_at(steep, UntilApex{}, ground_side);
  if (unlike) bevel.angle_right_deg = steep + between(2, 7);
  double right_deg = bevel.angle_right_deg.value_or(steep);
  if (convex) {
    bevel.shape = GrindShape::convex;
    bevel.to_deg = steep + between(2, 8);
    const double mean = (steep + *bevel.to_deg) / 2;
    const Face chord = line(0, 0, mean), face = left.faces.back();
    const double top = crossing(chord, face, 0, 4);
    const double length = std::hypot(top, chord(top));
    const double radius = length / 2 / std::sin(radians(*bevel.to_deg - steep) / 2);
    for (OracleSide* side : {&left, &right})
      side->faces.push_back(arc(0, 0, top, chord(top), radius, 1));
  } else {
    left.faces.push_back(line(0, one_sided ? -stock / 2 : 0, steep));
    if (!one_sided) right.faces.push_back(line(0, 0, right_deg));
  }
  out.plan.grinds.push_back(bevel);
  left.edge = left.faces.size() - 1;
  if (!one_sided) right.edge = right.faces.size() - 1;

  // A micro-bevel: on both sides alike, or on the left alone.
  const int micro = convex ? 0 : int(random.below(3));
  if (micro > 0 && !(micro == 1 && (unlike || one_sided))) {
    const double deg = std::max(steep, right_deg) + between(3, 8), width_um = between(20, 120);
    const double rise = width_um / 1000 * std::cos(radians(deg));
    out.plan.grinds.push_back(
        grind_at(deg, UntilFacet{width_um}, micro == 1 ? GrindSide::both : GrindSide::left));
    const double back = one_sided ? 0 : slope_of(right_deg);
    if (micro == 1) {
      const double apex = rise * (slope_of(deg) / slope_of(steep) - 1);
      left.faces.push_back(line(apex, 0, deg));
      right.faces.push_back(line(apex, 0, deg));
    } else {
      const double apex = rise * (slope_of(deg) - slope_of(steep)) / (slope_of(steep) + back);
      left.faces.push_back(line(apex, one_sided ? -stock / 2 : -apex * back, deg));
    }
  }
  return out;
}

}  // namespace

TEST(SectionOracle, EveryFigureOfRandomBladesIsWhatSamplingFinds) {
  stats::Random random(19);
  int with_shoulder = 0;
  for (int round = 0; round < 30; ++round) {
    const Case blade = any_case(random);
    std::string told = "blade " + std::to_string(round);
    for (const auto& g : blade.plan.grinds) told += "; " + describe(g);
    SCOPED_TRACE(told);
    const auto section = make_section(blade.plan);
    ASSERT_TRUE(section.ok()) << section.refusal().reason;
    const Oracle& oracle = blade.oracle;
    const double apex = oracle.apex(), plane = oracle.sides[0].at(apex);
    EXPECT_NEAR(section->apex_mm(), apex, 1e-9);
    EXPECT_NEAR(section->apex_left_mm(), plane, 1e-8);

    // Area of all of it, thickness wherever one asks.
    constexpr int kSteps = 50000;
    double area = 0;
    for (int i = 0; i < kSteps; ++i)
      area += oracle.thickness(apex + (oracle.height - apex) * (i + 0.5) / kSteps);
    EXPECT_NEAR(section->area_mm2(), area * (oracle.height - apex) / kSteps, 1e-5);
    for (const double d : {0.001, 0.02, 0.1, 0.5, 1.0, 3.0, 5.0, 12.0})
      EXPECT_NEAR(*section->thickness_mm(d), oracle.thickness(apex + d), 1e-8) << d;

    // Parting, from the plane through the apex.
    PartingOptions options;
    options.friction = 0.3;
    double parting = 0;
    constexpr int kSlices = 25000;
    for (int i = 0; i < kSlices; ++i)
      for (int side = 0; side < 2; ++side) {
        const double step = options.depth_mm / kSlices, low = apex + i * step;
        const double from = oracle.sides[side].at(low), to = oracle.sides[side].at(low + step);
        const double y = (from + to) / 2 + (side == 0 ? -plane : plane);
        parting += y * ((to - from) + options.friction * step);
      }
    EXPECT_NEAR(*parting_force_N_per_mm(*section, options), parting, 2e-5 * std::max(1.0, parting));

    // Behind the edge: where the edge bevel ends toward the spine.
    const auto behind = behind_edge(*section, blade.plan.grinds);
    ASSERT_TRUE(behind.has_value());
    EXPECT_EQ(behind->thickness_mm.has_value(), !blade.zero);
    EXPECT_NEAR(behind->at_1_mm, oracle.thickness(apex + 1), 1e-8);
    double thickness = 0, distance = 0;
    int sides = 0;
    for (int side = 0; side < 2; ++side)
      if (const auto end = oracle.bevel_end(side)) {
        thickness += oracle.thickness(*end);
        distance += *end - apex;
        ++sides;
      }
    EXPECT_NEAR(behind->distance_mm, distance / sides, 6e-4);
    if (behind->thickness_mm) {
      EXPECT_NEAR(*behind->thickness_mm, thickness / sides, 3e-4);
    }
    with_shoulder += behind->thickness_mm.has_value();

    // The angles at the apex, each side its own, from the slope just above it.
    const BevelAngles angles = section->apex_angles();
    for (int side = 0; side < 2; ++side) {
      const double slope =
          (oracle.sides[side].at(apex + 2e-5) - oracle.sides[side].at(apex)) / 2e-5;
      EXPECT_NEAR(side == 0 ? angles.left_deg : angles.right_deg, degrees(std::atan(slope)), 2e-3);
    }
  }
  EXPECT_GT(with_shoulder, 15);
}
