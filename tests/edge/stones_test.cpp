// The ladder: which abrasives, how far, how much metal and time.
#include <gtest/gtest.h>
#include <rapidcheck.h>
#include <rapidcheck/gtest.h>

#include <algorithm>
#include <cmath>

#include "edge/abrasive.h"
#include "edge/ladder.h"
#include "edge/section_outcomes.h"
#include "quantity/angle.h"
#include "stones_kit.h"

using namespace bq;
using namespace bq::test;

TEST(Ladder, ChippedBladeStartsCoarserThanATouchUp) {
  const auto all = shelf();
  EdgeState touch_up = knife(), chipped = knife();
  touch_up.dull_um = 3;
  chipped.dull_um = 3;
  chipped.damage_um = 400;
  const auto light = plan_ladder(touch_up, wish(15, 5), all, CuttingClass::plain),
             heavy = plan_ladder(chipped, wish(15, 5), all, CuttingClass::plain);
  ASSERT_TRUE(light) << light.refusal().reason;
  ASSERT_TRUE(heavy) << heavy.refusal().reason;
  EXPECT_EQ(names(*light, all).front(), "Finest");
  EXPECT_EQ(names(*heavy, all), (std::vector<std::string>{"Coarse", "Middle", "Fine", "Finest"}));
  EXPECT_GE(heavy->receded_um, 400);
  EXPECT_GT(heavy->metal_mm3, 50 * light->metal_mm3);
}

TEST(Ladder, MetalOfAllStepsIsTheSectionsFigure) {
  const auto all = shelf();
  for (const double damage : {0.0, 150.0, 600.0})
    for (const double angle : {10.0, 15.0, 20.0})
      for (const bool micro : {false, true}) {
        EdgeState state = knife();
        state.dull_um = 4;
        state.damage_um = damage;
        LadderWish w = wish(angle, 5);
        if (micro) w.micro = BevelAngles::symmetric(angle + 6);
        const auto plan = plan_ladder(state, w, all, CuttingClass::plain);
        ASSERT_TRUE(plan) << plan.refusal().reason;
        double steps = 0;
        for (const auto& step : plan->steps) steps += step.metal_mm3;
        // The other way: one grind of the whole depth, made by Section alone.
        auto start = make_section(state.section);
        start = start->truncated(0.004);
        double depth = 0;
        for (const auto& step : plan->steps)
          if (!step.micro) depth += step.receded_um / 1000;
        Grind whole;
        whole.angle_deg = angle;
        // A flatter face can meet its twin right where the flat was: then no depth is to be said.
        if (depth > 1e-9) whole.until = UntilDepth{depth};
        auto after = start->ground(whole);
        ASSERT_TRUE(after) << after.refusal().reason << " " << angle << "° " << damage
                           << " µm, depth " << depth;
        if (micro) {
          Grind apex;
          apex.angle_deg = angle + 6;
          apex.until = UntilFacet{w.micro_facet_um};
          after = after->ground(apex);
          ASSERT_TRUE(after);
        }
        const double wanted = removal(*start, *after).area_mm2 * state.edge_length_mm;
        EXPECT_NEAR(steps, wanted, 0.01 * wanted) << angle << "° " << damage << " µm";
        EXPECT_DOUBLE_EQ(steps, plan->metal_mm3);
      }
}

TEST(Ladder, UnlikeSidesAreGroundEachToItsOwnAngle) {
  // Brute force: the wished edge is the old section cut by two half-planes through its apex.
  const auto all = shelf();
  for (const auto& [left, right] :
       {std::pair(12.0, 18.0), std::pair(18.0, 12.0), std::pair(11.0, 14.0)})
    for (const double dull : {0.0, 3.0})
      for (const double damage : {0.0, 200.0}) {
        EdgeState state = knife();
        state.dull_um = dull;
        state.damage_um = damage;
        LadderWish w = wish(15, 5);
        w.edge = {left, right};
        const auto plan = plan_ladder(state, w, all, CuttingClass::plain);
        ASSERT_TRUE(plan) << plan.refusal().reason;
        double at_left = 0, at_right = 0;
        for (const auto& facet : facets_of(plan->after))
          if (facet.from_um < 1e-6)
            (facet.side == EdgeSide::left ? at_left : at_right) = facet.apex_end_deg;
        EXPECT_NEAR(at_left, left, 1e-6);
        EXPECT_NEAR(at_right, right, 1e-6);
        const auto before = *make_section(state.section);
        const double apex = plan->after.apex_mm();
        const auto side = [&](EdgeSide which, double angle, double h) {
          return std::min(before.half_mm(which, h), std::tan(radians(angle)) * (h - apex));
        };
        for (double h = apex + 0.002; h < apex + 3; h += 0.07) {
          EXPECT_NEAR(plan->after.half_mm(EdgeSide::left, h), side(EdgeSide::left, left, h), 1e-9);
          EXPECT_NEAR(plan->after.half_mm(EdgeSide::right, h), side(EdgeSide::right, right, h),
                      1e-9);
        }
        const auto kept = resulting_section(state, w, *plan);
        ASSERT_TRUE(kept) << left << "|" << right << " dull " << dull << " damage " << damage;
        // Sharpened again at the same angles it stays what it is.
        EdgeState again = state;
        again.section = *kept;
        again.dull_um = 4;
        again.damage_um = 0;
        const auto next = plan_ladder(again, w, all, CuttingClass::plain);
        ASSERT_TRUE(next) << next.refusal().reason;
        EXPECT_TRUE(resulting_section(again, w, *next));
      }
}

TEST(Ladder, ADullBladeIsNeverQuickerThanASharpOne) {
  const auto all = shelf();
  EdgeState state = knife();
  state.finish_um = 15;
  double before = 0;
  for (const double dull : {0.0, 0.5, 1.0, 2.0, 5.0, 20.0}) {
    state.dull_um = dull;
    const auto plan = plan_ladder(state, wish(15, 5), all, CuttingClass::plain);
    ASSERT_TRUE(plan) << plan.refusal().reason;
    // But for the metal of the apex itself, which wear has taken already.
    EXPECT_GE(plan->minutes, 0.995 * before) << dull << " µm";
    before = std::max(before, plan->minutes);
  }
}

TEST(Ladder, AMicroBevelNarrowerThanTheGritIsNoBevel) {
  const auto all = shelf();
  EdgeState state = knife();
  state.dull_um = 5;
  LadderWish w = wish(15, 15);
  w.micro = BevelAngles::symmetric(20);
  w.micro_facet_um = 8;
  const auto narrow = plan_ladder(state, w, all, CuttingClass::plain);
  ASSERT_TRUE(narrow);
  EXPECT_TRUE(narrow->facet_too_narrow);
  EXPECT_NE(narrow->remarks.front().find("torn strip"), std::string::npos);
  w.micro_facet_um = 60;
  EXPECT_FALSE(plan_ladder(state, w, all, CuttingClass::plain)->facet_too_narrow);
}

TEST(Ladder, ANickInAZeroGrindTakesWhatTheNickAsks) {
  // 3 mm stock ground to zero at 11.5°, 100 mm, a nick of 0.3 mm: about 90 mm³, not twice that.
  auto all = shelf();
  all.push_back(stone("Lapping film", 1, 0.2));
  EdgeState state;
  Grind zero;
  zero.angle_deg = 11.5;
  state.section = {3, 24, {}, {zero}, 0};
  state.edge_length_mm = 100;
  state.damage_um = 300;
  const auto plan = plan_ladder(state, wish(11.5, 1), all, CuttingClass::plain);
  ASSERT_TRUE(plan) << plan.refusal().reason;
  const auto start = *make_section(state.section);
  Grind to_the_nick = zero;
  to_the_nick.until = UntilDepth{0.3};
  const double asked = removal(start, *start.ground(to_the_nick)).area_mm2 * 100;
  EXPECT_NEAR(asked, 90, 5);
  EXPECT_LE(plan->metal_mm3, 1.1 * asked);
  EXPECT_GE(plan->metal_mm3, asked * (1 - 1e-9));
  EXPECT_NEAR(plan->receded_um, 300, 1e-6);
  EXPECT_GT(plan->steps.size(), 2U);
}

RC_GTEST_PROP(Ladder, MetalIsTheSectionsFigureAndNeverLessForMore, ()) {
  // Random edges: all steps together are one grind to the end; a deeper chip never takes less, nor
  // starts finer; and no abrasive has more to do than it can without a remark.
  const auto all = shelf();
  EdgeState state = knife();
  const double angle = *rc::gen::inRange(90, 220) / 10.0;
  state.dull_um = *rc::gen::inRange(0, 40);
  state.finish_um = 15;
  LadderWish w = wish(angle, *rc::gen::element(5.0, 15.0, 40.0));
  if (*rc::gen::inRange(0, 3) == 0) w.edge.right_deg = angle + *rc::gen::inRange(1, 6);
  double metal = 0, coarsest = 0;
  for (const double damage : {0.0, 30.0, 90.0, 250.0, 800.0}) {
    state.damage_um = damage;
    const auto plan = plan_ladder(state, w, all, CuttingClass::plain);
    RC_ASSERT(plan.ok());
    auto start = *make_section(state.section);
    if (state.dull_um > 0) start = *start.truncated(state.dull_um / 1000);
    Grind whole;
    whole.angle_deg = w.edge.left_deg;
    whole.angle_right_deg = w.edge.right_deg;
    if (const double depth = plan->after.apex_mm() - start.apex_mm(); depth > 1e-9)
      whole.until = UntilDepth{depth};
    const auto once = start.ground(whole);
    RC_ASSERT(once.ok());
    RC_ASSERT(std::abs(removal(start, *once).area_mm2 * state.edge_length_mm - plan->metal_mm3) <
              1e-6 * plan->metal_mm3 + 1e-9);
    RC_ASSERT(plan->after.apex_mm() - start.apex_mm() >= damage / 1000 - 1e-9);
    RC_ASSERT(plan->metal_mm3 >= metal - 1e-9);
    const double first = *size_um(all[plan->steps.front().abrasive]);
    RC_ASSERT(first >= coarsest - 1e-9);
    metal = plan->metal_mm3;
    coarsest = first;
    const int a_side = (*plan->steps.front().passes + 1) / 2;
    const bool said = std::any_of(plan->remarks.begin(), plan->remarks.end(), [](const auto& r) {
      return r.find("strokes a side to make") != std::string::npos;
    });
    RC_ASSERT(said == (a_side > 500));
  }
}

TEST(Ladder, EachStepClearsTheScratchesOfTheOneBefore) {
  const auto all = shelf();
  EdgeState state = knife();
  state.damage_um = 400;
  LadderRules rules;
  const auto plan = plan_ladder(state, wish(15, 5), all, CuttingClass::plain, rules);
  ASSERT_TRUE(plan);
  for (std::size_t i = 1; i < plan->steps.size(); ++i) {
    const auto& step = plan->steps[i];
    EXPECT_NEAR(step.scratch_um, rules.scratch_share * *size_um(all[plan->steps[i - 1].abrasive]),
                1e-9);
    EXPECT_NEAR(step.receded_um, step.scratch_um / std::sin(radians(15)), 1e-6)
        << "the apex recedes by depth / sin of the angle per side";
    EXPECT_NEAR(*step.minutes, step.metal_mm3 / *all[step.abrasive].rate_mm3_per_min, 1e-9);
  }
}

TEST(Ladder, QuickestSequenceIsFound) {
  // Against every subset of the shelf, reckoned by hand with the figures of the plan's own steps.
  const auto all = shelf();
  EdgeState state = knife();
  for (const double damage : {0.0, 20.0, 100.0, 500.0}) {
    state.damage_um = damage;
    state.dull_um = 3;
    LadderRules rules;
    rules.shelf.too_far = 100;  // every sequence is allowed
    const auto best = plan_ladder(state, wish(15, 5), all, CuttingClass::plain, rules);
    ASSERT_TRUE(best);
    for (unsigned kept = 0; kept < 8; ++kept) {
      std::vector<Abrasive> some{all[3]};
      for (unsigned i = 0; i < 3; ++i)
        if (kept >> i & 1U) some.push_back(all[i]);
      // Forced: the sequence of exactly these stones.
      double minutes = rules.handling_min * double(some.size());
      std::sort(some.begin(), some.end(),
                [](const auto& a, const auto& b) { return *a.measured_um > *b.measured_um; });
      // All of it goes to one place; each but the last stops short by the scratches that follow.
      const auto start = *make_section(state.section)->truncated(0.003);
      const double end = start.apex_mm() + damage / 1000;
      double allowed = 0;
      std::vector<double> ends(some.size(), end);
      for (std::size_t i = some.size() - 1; i-- > 0;)
        ends[i] = end - (allowed +=
                         rules.scratch_share * *some[i].measured_um / 1000 / std::sin(radians(15)));
      auto section = start;
      bool can = true;
      for (std::size_t i = 0; i < some.size() && can; ++i) {
        Grind grind;
        grind.angle_deg = 15;
        const double above = ends[i] - section.apex_mm();
        if (above > 1e-9)
          grind.until = UntilDepth{above};
        else if (above < -1e-9)
          grind.until = UntilThickness{-above * 2 * std::tan(radians(15))};
        const auto next = section.ground(grind);
        can = next.ok();  // else its scratches go deeper than what is to come off
        if (!can) break;
        minutes += removal(section, *next).area_mm2 * 120 / *some[i].rate_mm3_per_min;
        section = *next;
      }
      if (!can) continue;
      EXPECT_LE(best->minutes, minutes * 1.001) << damage << " µm against sequence " << kept;
    }
  }
}

TEST(Ladder, JumpsTooFarOnlyWhereItSparesHours) {
  std::vector<Abrasive> gap{stone("Coarse", 120, 24), stone("Finest", 5, 0.8)};
  EdgeState state = knife();
  state.damage_um = 400;
  const auto plan = plan_ladder(state, wish(15, 5), gap, CuttingClass::plain);
  ASSERT_TRUE(plan);
  EXPECT_EQ(plan->steps.size(), 1U)
      << "a few minutes more on the fine one are cheaper than scratches found late";
  EXPECT_FALSE(plan->steps[0].too_far);
  state.damage_um = 3000;
  const auto deep = plan_ladder(state, wish(15, 5), gap, CuttingClass::plain);
  ASSERT_TRUE(deep);
  EXPECT_EQ(names(*deep, gap), (std::vector<std::string>{"Coarse", "Finest"}))
      << "hours on the fine one are not";
  EXPECT_TRUE(deep->steps.back().too_far);
  EXPECT_TRUE(std::any_of(deep->remarks.begin(), deep->remarks.end(), [](const std::string& r) {
    return r.find("too far (a factor of 24.0)") != std::string::npos;
  }));
  gap.push_back(stone("Between", 30, 5));
  LadderRules rules;
  rules.shelf.too_far = 6.5;
  const auto wide = plan_ladder(state, wish(15, 5), gap, CuttingClass::plain, rules);
  ASSERT_TRUE(wide);
  EXPECT_EQ(names(*wide, gap), (std::vector<std::string>{"Coarse", "Between", "Finest"}));
}

TEST(Ladder, UnlikeFinishesGoOnOnOneSideOnly) {
  const auto all = shelf();
  EdgeState state = knife();
  state.dull_um = 30;
  LadderWish w = wish(15, 15);
  w.finish_left_um = 5;
  const auto plan = plan_ladder(state, w, all, CuttingClass::plain);
  ASSERT_TRUE(plan);
  EXPECT_EQ(plan->steps.back().side, GrindSide::left);
  EXPECT_EQ(all[plan->steps.back().abrasive].name, "Finest");
  EXPECT_EQ(plan->steps[plan->steps.size() - 2].side, GrindSide::both);
  LadderWish with_micro = w;
  with_micro.micro = BevelAngles::symmetric(20);
  const auto on_micro = plan_ladder(state, with_micro, all, CuttingClass::plain);
  ASSERT_TRUE(on_micro);
  EXPECT_EQ(on_micro->steps.back().side, GrindSide::left)
      << "the micro-bevel does not wipe out the finer side";
  EXPECT_EQ(on_micro->steps.back().angles.left_deg, 20);
  EXPECT_NEAR(plan->steps.back().receded_um,
              3 / std::cos(radians(15)) / (2 * std::tan(radians(15))), 1e-6);
}

TEST(Ladder, SectionItLeavesIsPutOnRecordAgainAndAgain) {
  // A blade sharpened sixty times at changing angles: what is on record stays the section that was
  // made, and stays short.
  const auto all = shelf();
  EdgeState state = knife();
  std::optional<Section> last;
  for (int i = 0; i < 60; ++i) {
    LadderWish w = wish(i % 7 == 3 ? 14 : 15, i % 2 ? 5 : 15);
    if (i % 3 == 1) w.finish_left_um = 5;
    w.micro = BevelAngles::symmetric(20);
    state.dull_um = 4 + i % 5;
    state.damage_um = i % 4 == 2 ? 60 : 0;
    const auto plan = plan_ladder(state, w, all, CuttingClass::plain);
    ASSERT_TRUE(plan) << i << ": " << plan.refusal().reason;
    const auto left = resulting_section(state, w, *plan);
    ASSERT_TRUE(left) << i;
    const auto made = make_section(*left);
    ASSERT_TRUE(made);
    EXPECT_NEAR(made->apex_mm(), plan->after.apex_mm(), 1e-4);
    EXPECT_NEAR(made->area_mm2(), plan->after.area_mm2(), 1e-4);
    EXPECT_NEAR(made->apex_angles().left_deg, 20, 1e-9);
    if (last) {
      EXPECT_LT(made->height_mm(), last->height_mm());
    }
    last = *made;
    state.section = *left;
  }
  EXPECT_LE(state.section.grinds.size(), 8U);
}

TEST(Ladder, RefusesWhatMakesNoSense) {
  const auto all = shelf();
  EXPECT_NE(plan_ladder(knife(), wish(15, 5), {}, CuttingClass::plain)
                .refusal()
                .reason.find("no abrasive"),
            std::string::npos);
  EXPECT_NE(plan_ladder(knife(), wish(15, 5), all, CuttingClass::plain)
                .refusal()
                .reason.find("nothing is to be removed"),
            std::string::npos);
  EdgeState state = knife();
  state.damage_um = 1e9;
  EXPECT_FALSE(plan_ladder(state, wish(15, 5), all, CuttingClass::plain));
  state.damage_um = 15000;
  state.section.height_mm = 10;
  EXPECT_FALSE(plan_ladder(state, wish(15, 5), all, CuttingClass::plain))
      << "deeper than the blade";
  LadderWish apex = wish(15, 5);
  apex.apex_only = true;
  EXPECT_FALSE(plan_ladder(knife(), apex, all, CuttingClass::plain));
  auto soft = all;
  for (auto& a : soft) a.bites.fill(Bite::hardly);
  EXPECT_FALSE(plan_ladder(knife(), wish(15, 5), soft, CuttingClass::plain));
}
