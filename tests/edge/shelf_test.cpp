// The shelf of abrasives, and the steel's behaviour when it is deburred.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "edge/steel_behaviour.h"
#include "quantity/angle.h"
#include "stones_kit.h"

using namespace bq;
using namespace bq::test;

TEST(Shelf, MeasuredSizeWinsOverTheLabel) {
  Abrasive a;
  a.name = "Grey";
  a.label = "P400";
  EXPECT_NEAR(*size_um(a), 35.0, 0.5);  // FEPA 43-1: P400 is 35.0 µm
  a.measured_um = 22;
  EXPECT_EQ(*size_um(a), 22);
  EXPECT_EQ(print_size(a), "22 µm measured (label P400: 35 µm)");
  EXPECT_FALSE(fault_of(a));
  a.label = "400";
  EXPECT_TRUE(fault_of(a)->reason.find("system") != std::string::npos);
  a.label.clear();
  a.measured_um.reset();
  EXPECT_FALSE(size_um(a));
}

TEST(Shelf, HollowStoneTurnsTheContactAndAsksForFlattening) {
  Abrasive a = stone("Grey", 20, 3);
  a.flatness = {{"2026-03-01", 60, 200, false, ""}};
  a.flat_within_um = 30;
  FaceState face = face_state(a);
  EXPECT_NEAR(face.turn_deg, std::atan(4 * 0.060 / 200) * 180 / M_PI, 1e-12);
  EXPECT_FALSE(face.flatten_first) << "0.07° is nothing a hand would notice: " << face.sentence;
  a.flatness = {{"2026-03-01", 60, 100, false, ""}};
  face = face_state(a);
  EXPECT_TRUE(face.flatten_first) << "the same hollow over half the length turns it twice as far";
  a.flatness.push_back({"2026-03-02", 60, 200, true, ""});
  EXPECT_FALSE(face_state(a).flatten_first);
  a.blades_since_check = a.check_every_blades;
  EXPECT_TRUE(face_state(a).flatten_first) << "a check is due again";
  a.flatness.clear();
  EXPECT_TRUE(face_state(a).flatten_first) << "never checked";
  EXPECT_FALSE(face_state(stone("Belt", 60, 20, AbrasiveKind::belt)).flatten_first)
      << "a belt has no flat face";
}

TEST(Shelf, HardPhaseSlowsOrStopsASoftAbrasive) {
  Abrasive a = stone("Soft", 20, 4);
  a.bites = {Bite::well, Bite::slowly, Bite::hardly};
  EXPECT_EQ(rate_on(a, cutting_class_of(2))->mm3_per_min, 4);
  EXPECT_EQ(rate_on(a, cutting_class_of(5))->mm3_per_min, 1.6);
  EXPECT_EQ(cutting_class_of(17), CuttingClass::hard_phase);
  const auto first = before_use(a, CuttingClass::hard_phase);
  EXPECT_TRUE(std::any_of(first.begin(), first.end(), [](const std::string& s) {
    return s.find("hardly") != std::string::npos;
  }));
  a.rate_mm3_per_min.reset();
  EXPECT_TRUE(rate_on(a, CuttingClass::plain)->estimated);
}

TEST(Shelf, NamesJumpsThatAreTooFarAndStonesThatDoTheSame) {
  auto all = shelf();
  all.push_back(stone("Twin of Fine", 13, 2));
  all.push_back(stone("Far", 0.8, 0.1));
  Abrasive blank;
  blank.name = "Nameless size";
  all.push_back(blank);
  all.push_back(stone("Leather", 1, 0.1, AbrasiveKind::strop));
  const auto remarks = shelf_remarks(all);
  ASSERT_EQ(remarks.size(), 3U);
  EXPECT_EQ(remarks[0].kind, ShelfRemarkKind::unknown_size);
  EXPECT_EQ(remarks[1].kind, ShelfRemarkKind::redundant);
  EXPECT_EQ(remarks[1].fine, "Twin of Fine");
  EXPECT_EQ(remarks[2].kind, ShelfRemarkKind::too_far);
  EXPECT_EQ(remarks[2].coarse, "Finest");
  EXPECT_NEAR(remarks[2].ratio, 5 / 0.8, 1e-12);
}

TEST(Behaviour, IsSuggestedFromHardnessAndHardPhase) {
  EXPECT_EQ(guess_behaviour(58, 2)->behaviour, DeburrBehaviour::ductile);
  EXPECT_EQ(guess_behaviour(64, 17)->behaviour, DeburrBehaviour::brittle);
  EXPECT_EQ(guess_behaviour(63, 4)->behaviour, DeburrBehaviour::between);
  EXPECT_EQ(guess_behaviour(66, std::nullopt)->behaviour, DeburrBehaviour::brittle);
  EXPECT_FALSE(guess_behaviour(std::nullopt, std::nullopt));
  for (const auto& step : deburring_route(DeburrBehaviour::brittle))
    EXPECT_LE(step.above_edge_deg.value_or(0), 0) << "never above the edge angle";
  const auto ductile = deburring_route(DeburrBehaviour::ductile);
  EXPECT_TRUE(std::any_of(ductile.begin(), ductile.end(), [](const RouteStep& s) {
    return s.above_edge_deg.value_or(0) >= 1 && *s.above_edge_deg <= 3;
  }));
  EXPECT_NE(deburring_route(DeburrBehaviour::between).front().what.find("third"),
            std::string::npos);
}
