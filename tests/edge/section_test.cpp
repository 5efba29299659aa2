#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <cmath>

#include "edge/apex_wear.h"
#include "edge/parting.h"
#include "edge/resharpening.h"
#include "edge/section.h"
#include "edge/section_outcomes.h"
#include "section_kit.h"

using namespace bq;
using namespace bq::test;

TEST(Section, APlainWedgeIsWhatTheFormulasSay) {
  const Section wedge = made(plan({flat(15)}));
  EXPECT_NEAR(wedge.apex_angles().inclusive_deg(), 30, 1e-12);
  EXPECT_EQ(wedge.apex_width_mm(), 0);
  for (const double d : {1e-5, 0.001, 0.1, 1.0, 3.0})
    EXPECT_NEAR(*wedge.thickness_mm(d), 2 * d * tangent(15), 1e-12);
  EXPECT_NEAR(*wedge.thickness_mm(20), 2, 1e-12);
  EXPECT_FALSE(wedge.thickness_mm(26).has_value());
  const auto facets = facets_of(wedge);
  ASSERT_EQ(facets.size(), 2U);
  for (const auto& f : facets) {
    EXPECT_NEAR(f.angle_deg, 15, 1e-10);
    EXPECT_NEAR(f.width_um, 1000 / std::sin(radians(15)), 1e-6);
    // θ = asin(t / 2b)
    EXPECT_NEAR(degrees(std::asin(f.to_thickness_mm / 2 / (f.width_um / 1000))), 15, 1e-9);
  }
  EXPECT_NEAR(*shoulder_thickness_mm(wedge), 2, 1e-12);
  EXPECT_NEAR(removal(*Section::blank(2, 25), wedge).area_mm2, 1 / tangent(15), 1e-10);
}

TEST(Section, EveryWayToStopStopsThere) {
  // A flat of 0.4 mm left by the primary, then the edge, then a micro-bevel 60 µm wide.
  const Section primary = made(plan({flat(4, UntilThickness{0.4})}));
  EXPECT_NEAR(primary.apex_width_mm(), 0.4, 1e-12);
  EXPECT_EQ(primary.apex_mm(), 0);
  const Section edge = *primary.ground(flat(14));
  EXPECT_NEAR(edge.apex_mm(), 0, 1e-12)
      << "the least depth that leaves no flat does not shorten the blade";
  EXPECT_NEAR(*shoulder_thickness_mm(edge), 0.4 + 2 * tangent(4) * 0.2 / (tangent(14) - tangent(4)),
              1e-9);
  const Section micro = *edge.ground(flat(20, UntilFacet{60}));
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
    EXPECT_NEAR(facet(facets_of(micro), side, 2).width_um, 60, 1e-8);
  EXPECT_NEAR(micro.apex_angles().inclusive_deg(), 40, 1e-10);
  // Both lines pass through the end of the facet: the apex receded by b·cos·(tan20/tan14 − 1).
  EXPECT_NEAR(micro.apex_mm(), 0.06 * std::cos(radians(20)) * (tangent(20) / tangent(14) - 1),
              1e-10);
  const Section deep = *edge.ground(flat(20, UntilDepth{0.05}));
  EXPECT_NEAR(deep.apex_mm(), 0.05, 1e-12);
  // Thinning until it meets the edge bevel at 0.3 mm.
  const Section thinned = *edge.ground(flat(3, UntilBehindEdge{0.3}));
  EXPECT_NEAR(facet(facets_of(thinned), EdgeSide::left, 2).from_thickness_mm, 0.3, 1e-9);
  EXPECT_NEAR(thinned.apex_angles().inclusive_deg(), 28, 1e-10);
}

TEST(Section, ThicknessBehindTheEdgeIsWhereTheEdgeBevelEnds) {
  const auto behind = [](const SectionPlan& p) { return *behind_edge(made(p), p.grinds); };
  const Grind primary = flat(4, UntilThickness{0.4}), bevel = flat(14);
  const double end_mm = 0.4 + 2 * tangent(4) * 0.2 / (tangent(14) - tangent(4));
  EXPECT_NEAR(*behind(plan({primary, bevel})).thickness_mm, end_mm, 1e-9);
  // A micro-bevel does not end the edge bevel, thinning does, whatever the order of the grinds.
  EXPECT_NEAR(*behind(plan({primary, bevel, flat(20, UntilFacet{60})})).thickness_mm, end_mm, 1e-9);
  EXPECT_NEAR(*behind(plan({primary, bevel, flat(3, UntilBehindEdge{0.3})})).thickness_mm, 0.3,
              1e-9);
  // A sabre grind of 8° on thick stock turns more at its upper end than at the bevel: still the
  // bevel.
  const SectionPlan sabre = plan({flat(8, UntilThickness{0.7}), flat(17)}, 4, 40);
  EXPECT_NEAR(*behind(sabre).thickness_mm, 0.7 + 2 * tangent(8) * 0.35 / (tangent(17) - tangent(8)),
              1e-9);
  // Hollow behind the bevel; unlike sides; one side only.
  Grind hollow = flat(8, UntilThickness{0.5});
  hollow.shape = GrindShape::hollow;
  hollow.radius_mm = 100;
  EXPECT_LT(*behind(plan({hollow, flat(15)}, 3, 40)).thickness_mm, 1.2);
  EXPECT_NEAR(*behind(plan({flat(5, UntilThickness{0.6}, GrindSide::left),
                            flat(25, UntilApex{}, GrindSide::left)},
                           3, 40))
                   .thickness_mm,
              0.6 + tangent(5) * 0.6 / (tangent(25) - tangent(5)), 1e-9);
  // Ground to zero, with and without a micro-bevel: none, and the thickness at stated places
  // instead.
  for (const auto& zero :
       {plan({flat(11.5)}, 3, 100), plan({flat(11.5), flat(17, UntilFacet{60})}, 3, 100)}) {
    const BehindEdge none = behind(zero);
    EXPECT_FALSE(none.thickness_mm.has_value());
    EXPECT_NEAR(none.at_1_mm, 2 * tangent(11.5), 0.02);
    EXPECT_NE(describe(none).find("ground to zero"), std::string::npos);
  }
}

TEST(Section, AChiselAndUnequalSidesKeepTheirOwnAngles) {
  const Section chisel = made(plan({flat(25, UntilApex{}, GrindSide::left)}));
  EXPECT_NEAR(chisel.apex_angles().left_deg, 25, 1e-10);
  EXPECT_NEAR(chisel.apex_angles().right_deg, 0, 1e-12);
  EXPECT_NEAR(*chisel.thickness_mm(1), tangent(25), 1e-12);
  Grind unequal = flat(12);
  unequal.angle_right_deg = 18;
  const Section both = made(plan({unequal}));
  EXPECT_NEAR(both.apex_angles().left_deg, 12, 1e-10);
  EXPECT_NEAR(both.apex_angles().right_deg, 18, 1e-10);
  EXPECT_NEAR(*both.thickness_mm(0.7), 0.7 * (tangent(12) + tangent(18)), 1e-12);
}

RC_GTEST_PROP(Section, WearFollowsTheAreaIdentityOnBothKindsOfEdge, ()) {
  const double left = *rc::gen::inRange(6, 40), right = *rc::gen::inRange(6, 40);
  Grind grind = flat(left);
  grind.angle_right_deg = right;
  const Section sharp = made(plan({grind}));
  const double area = *rc::gen::inRange(1, 500) * 1e-5, start = *rc::gen::inRange(0, 40) * 1e-3;
  const Section begun = *sharp.truncated(start);
  const Section worn = *begun.worn(area);
  RC_ASSERT(std::fabs(worn.apex_width_mm() - worn_apex_width_mm(start, area, {left, right})) <
            1e-9);
  RC_ASSERT(std::fabs(removal(begun, worn).area_mm2 - area) < 1e-9);
}

TEST(Section, AHollowHasTheSagittaOfItsWheel) {
  const double radius = 100;
  const Section section = made(plan({hollow(5, radius, UntilThickness{0.5})}, 3));
  const auto f = facet(facets_of(section), EdgeSide::left, 0);
  EXPECT_NEAR(f.angle_deg, 5, 1e-9) << "the chord lies at the angle that was set";
  const double chord =
      std::hypot(f.to_um - f.from_um, (f.to_thickness_mm - f.from_thickness_mm) / 2 * 1000) / 1000;
  const double middle = 0.5 * (f.from_um + f.to_um) / 1000;
  // Depth of the arc below the chord's middle, square to the chord.
  const double sagitta = radius - std::sqrt(radius * radius - chord * chord / 4);
  const double chord_y = 0.25 * (f.from_thickness_mm + f.to_thickness_mm);
  const double h = middle + sagitta * std::sin(radians(5)),
               y = chord_y - sagitta * std::cos(radians(5));
  EXPECT_NEAR(section.half_mm(EdgeSide::left, section.apex_mm() + h), y, 1e-10);
  EXPECT_NEAR(f.shoulder_end_deg - f.apex_end_deg, 2 * degrees(std::asin(chord / 2 / radius)),
              1e-9);
  EXPECT_NEAR(f.width_um, 2000 * radius * std::asin(chord / 2 / radius), 1e-6);
  // A facet width asked for on a hollow is the width along the arc.
  const Section wide = made(plan({hollow(5, radius, UntilFacet{9000})}, 3));
  EXPECT_NEAR(facet(facets_of(wide), EdgeSide::right, 0).width_um, 9000, 1e-6);
}

TEST(Section, AConvexFaceTurnsFromShoulderToApex) {
  const Section section = made(plan({convex(8, 22, UntilApex{})}));
  const auto f = facet(facets_of(section), EdgeSide::right, 0);
  EXPECT_NEAR(f.apex_end_deg, 22, 1e-8);
  EXPECT_NEAR(f.shoulder_end_deg, 8, 1e-8);
  EXPECT_NEAR(section.apex_angles().inclusive_deg(), 44, 1e-8);
  Grind disc = flat(12);
  disc.shape = GrindShape::convex;
  disc.radius_mm = 30;
  const auto d = facet(facets_of(made(plan({disc}))), EdgeSide::right, 0);
  EXPECT_NEAR(d.angle_deg, 12, 1e-9);
  EXPECT_NEAR(d.width_um / 1000, 30 * radians(d.apex_end_deg - d.shoulder_end_deg), 1e-9);
}

TEST(Section, MetalRemovedAgreesWithSlices) {
  const Section start = made(plan({flat(3, UntilThickness{0.8}), flat(16)}, 2.5, 30));
  ThinningWish wish;
  wish.behind_edge_mm = 0.35;
  wish.blend_mm = 11;
  wish.wheel_radius_mm = 110;
  wish.convex_turn_deg = 2.5;
  const auto options = compare_thinning(start, wish, SideLoad{30, 0.2});
  ASSERT_TRUE(options.ok()) << options.refusal().reason;
  const double before = area_by_slices(start, 15);
  for (const auto& option : *options) {
    EXPECT_NEAR(before - area_by_slices(option.section, 15), option.removed_mm2, 2e-7)
        << name_of(option.shape);
    EXPECT_NEAR(*option.section.truncated(wish.behind_edge_mm)->thickness_mm(0),
                wish.behind_edge_mm, 1e-12);
  }
  // Same thickness behind the edge, same height: hollow takes most, convex least.
  EXPECT_GT((*options)[1].removed_mm2, (*options)[0].removed_mm2);
  EXPECT_LT((*options)[2].removed_mm2, (*options)[0].removed_mm2);
  EXPECT_LT((*options)[1].parting_N_per_mm, (*options)[2].parting_N_per_mm);
  const RemovalCost cost = cost_of(2.0, 90, 60);
  EXPECT_NEAR(cost.volume_mm3, 180, 1e-12);
  EXPECT_NEAR(cost.mass_g, 1.404, 1e-12);
  EXPECT_NEAR(*cost.minutes, 3, 1e-12);
}

namespace {
/// A grind that may or may not fit; `half_tenths` scales lengths.
Grind any_grind(double scale) {
  Grind grind = flat(*rc::gen::inRange(3, 35));
  grind.side = GrindSide(*rc::gen::inRange(0, 3));
  const double size = *rc::gen::inRange(5, 80) * 0.01;
  switch (*rc::gen::inRange(0, 4)) {
    case 0:
      grind.until = UntilApex{};
      break;
    case 1:
      grind.until = UntilThickness{size * scale};
      break;
    case 2:
      grind.until = UntilFacet{size * scale * 1000};
      break;
    default:
      grind.until = UntilDepth{size * 0.2 * scale};
  }
  const int shape = *rc::gen::inRange(0, 4);
  if (shape == 1) {
    grind.shape = GrindShape::hollow;
    grind.radius_mm = *rc::gen::inRange(40, 300) * scale;
  }
  if (shape == 2) {
    grind.shape = GrindShape::convex;
    grind.to_deg = grind.angle_deg + *rc::gen::inRange(1, 12);
  }
  return grind;
}
}  // namespace

RC_GTEST_PROP(Section, GrindingNeverAddsMetal, ()) {
  Section section = made(plan({}, 2, 20));
  int done = 0;
  for (int i = 0; i < 5; ++i) {
    const auto next = section.ground(any_grind(1));
    if (!next) continue;
    ++done;
    RC_ASSERT(next->apex_mm() >= section.apex_mm() - 1e-12);
    for (double h = next->apex_mm() + 1e-4; h < 20; h += 0.037) {
      for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
        RC_ASSERT(next->half_mm(side, h) <= section.half_mm(side, h) + 1e-10);
      RC_ASSERT(next->half_mm(EdgeSide::left, h) + next->half_mm(EdgeSide::right, h) > -1e-10);
    }
    RC_ASSERT(next->area_mm2() < section.area_mm2());
    section = *next;
  }
  RC_CLASSIFY(done >= 2, "two grinds or more");
}

RC_GTEST_PROP(Section, LeftAndRightAreMirrorImages, ()) {
  Section one = made(plan({}, 2, 20)), other = one;
  for (int i = 0; i < 4; ++i) {
    Grind grind = any_grind(1), mirrored = grind;
    if (grind.side != GrindSide::both)
      mirrored.side = grind.side == GrindSide::left ? GrindSide::right : GrindSide::left;
    const auto a = one.ground(grind), b = other.ground(mirrored);
    RC_ASSERT(a.ok() == b.ok());
    if (!a) continue;
    one = *a;
    other = *b;
    RC_ASSERT(std::fabs(one.apex_mm() - other.apex_mm()) < 1e-9);
    for (double h = one.apex_mm() + 1e-6; h < 20; h += 0.11)
      RC_ASSERT(std::fabs(one.half_mm(EdgeSide::left, h) - other.half_mm(EdgeSide::right, h)) <
                1e-9);
  }
}

RC_GTEST_PROP(Section, ALargerBladeIsTheSameBladeLarger, ()) {
  const double factor = 7;
  Section small = made(plan({}, 2, 20)), large = made(plan({}, 2 * factor, 20 * factor));
  for (int i = 0; i < 3; ++i) {
    Grind grind = any_grind(1), grown = grind;
    if (grown.radius_mm) *grown.radius_mm *= factor;
    if (auto* u = std::get_if<UntilThickness>(&grown.until)) u->thickness_mm *= factor;
    if (auto* u = std::get_if<UntilFacet>(&grown.until)) u->width_um *= factor;
    if (auto* u = std::get_if<UntilDepth>(&grown.until)) u->depth_mm *= factor;
    const auto a = small.ground(grind), b = large.ground(grown);
    RC_ASSERT(a.ok() == b.ok());
    if (!a) continue;
    small = *a;
    large = *b;
    RC_ASSERT(std::fabs(small.apex_mm() * factor - large.apex_mm()) < 1e-8);
    for (double d = 0; d < 19; d += 0.13) {
      const auto t = small.thickness_mm(d), u = large.thickness_mm(d * factor);
      RC_ASSERT(t.has_value() == u.has_value());
      if (t) RC_ASSERT(std::fabs(*t * factor - *u) < 1e-8);
    }
  }
}

RC_GTEST_PROP(Section, GrindsThatDoNotMeetMayChangePlaces, ()) {
  // A thinning of the upper face on one side and a micro-bevel on the other never touch.
  const Section start = made(plan({flat(5, UntilThickness{0.5}), flat(16)}, 3, 30));
  const Grind thin = flat(*rc::gen::inRange(2, 5), UntilBehindEdge{0.8}, GrindSide::left);
  const Grind micro = flat(*rc::gen::inRange(20, 40),
                           UntilFacet{double(*rc::gen::inRange(10, 120))}, GrindSide::right);
  const auto one = start.ground(thin), other = start.ground(micro);
  RC_PRE(one.ok() && other.ok());
  const Section a = *one->ground(micro), b = *other->ground(thin);
  for (double d = 0; d < 29; d += 0.07)
    RC_ASSERT(std::fabs(*a.thickness_mm(d) - *b.thickness_mm(d)) < 1e-8);
}

TEST(Section, RefusesWhatCannotBeGroundAndSaysWhy) {
  const auto reason = [](const SectionPlan& p) {
    const auto section = make_section(p);
    return section ? std::string("made") : section.refusal().reason;
  };
  EXPECT_NE(reason(plan({flat(0)})).find("between 0° and 80°"), std::string::npos);
  EXPECT_NE(reason(plan({flat(80)})).find("grind 1 (flat 80° per side"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15)}, 0)).find("stock"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15)}, -1)).find("stock"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15), flat(20)})).find("grind 2"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15), flat(20)})).find("no flat left"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15), flat(20, UntilThickness{0.1})})).find("not thicker"),
            std::string::npos);
  EXPECT_NE(reason(plan({flat(15, UntilDepth{30})})).find("whole blade"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15, UntilFacet{1e6})})).find("whole blade"), std::string::npos);
  EXPECT_NE(reason(plan({flat(9), flat(9, UntilFacet{590})})).find("wider than that already"),
            std::string::npos);
  EXPECT_NE(reason(plan({flat(26, UntilApex{}, GrindSide::left),
                         flat(26, UntilFacet{290}, GrindSide::left)}))
                .find("wider"),
            std::string::npos);
  EXPECT_EQ(reason(plan({flat(15), flat(15.01, UntilFacet{1})})), "made")
      << "a hair steeper is a facet";
  EXPECT_NE(reason(plan({hollow(5, 4, UntilThickness{0.2})})).find("radius"), std::string::npos);
  EXPECT_NE(reason(plan({hollow(3, 25, UntilApex{})})).find("undercut"), std::string::npos);
  EXPECT_NE(reason(plan({flat(15, UntilFacet{-5})})).find("above 0"), std::string::npos);
  EXPECT_NE(reason(plan({convex(15, 12, UntilApex{})})).find("steeper at the apex"),
            std::string::npos);
  Grind bare = flat(5);
  bare.shape = GrindShape::hollow;
  EXPECT_NE(reason(plan({bare})).find("wheel's radius"), std::string::npos);
  EXPECT_FALSE(Section::measured(std::vector<MeasuredThickness>{{0, 0}, {1, 0.3}, {1, 0.4}}).ok());
  EXPECT_FALSE(Section::measured(std::vector<MeasuredThickness>{{0, 0}, {1, -0.3}}).ok());
  EXPECT_FALSE(Section::measured(std::vector<MeasuredThickness>{{0, 0}}).ok());
  EXPECT_FALSE(Section::measured(std::vector<MeasuredThickness>{{0, 0}, {1, std::nan("")}}).ok());
}

TEST(Section, AMeasuredEdgeIsGroundLikeAnyOther) {
  const std::vector<MeasuredThickness> profile{{0, 0}, {0.5, 0.22}, {2, 0.5}, {10, 1.4}, {20, 2.2}};
  const Section forged = *Section::measured(profile);
  EXPECT_NEAR(*forged.thickness_mm(1.25), 0.36, 1e-12);
  const Section edged = *forged.ground(flat(17, UntilFacet{300}));
  EXPECT_NEAR(edged.apex_angles().inclusive_deg(), 34, 1e-9);
  EXPECT_GT(edged.apex_mm(), 0);
  EXPECT_NEAR(*edged.thickness_mm(10 - edged.apex_mm()), 1.4, 1e-10)
      << "the face above is not touched";
  // Thick and thin spots along a blade.
  auto thick = profile;
  for (auto& point : thick) point.thickness_mm *= 1.2;
  const auto along = SectionsAlong::make({{10, forged}, {90, *Section::measured(thick)}});
  ASSERT_TRUE(along.ok());
  EXPECT_NEAR(*along->thickness_mm(50, 2), 0.5 * (0.5 + 0.6), 1e-12);
  EXPECT_NEAR(*along->thickness_mm(0, 2), 0.5, 1e-12);
  EXPECT_EQ(along->range(2)->largest_at_mm, 90);
  EXPECT_FALSE(SectionsAlong::make({{90, forged}, {10, forged}}).ok());
  EXPECT_FALSE(SectionsAlong::make({}).ok());
}
