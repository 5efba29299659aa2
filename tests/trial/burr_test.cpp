// What is found of a burr, place by place, and what follows from it.
#include "trial/burr.h"

#include <gtest/gtest.h>

#include <set>

#include "store/shelf_json.h"
#include "trial/sharpening.h"

namespace bq {
namespace {

Sharpening three_abrasives(int places = kLeastPlaces) {
  Sharpening out;
  out.places = places;
  for (const double um : {60.0, 15.0, 5.0}) {
    SharpeningStep step;
    step.abrasive = std::to_string(int(um));
    step.size_um = um;
    step.angles = BevelAngles::symmetric(15);
    out.steps.push_back(step);
  }
  return out;
}

Sharpening said(Sharpening s, std::initializer_list<BurrSize> sizes) {
  int mark = 0;
  for (const BurrSize size : sizes) {
    const auto next = with_mark(std::move(s), mark++, size);
    EXPECT_TRUE(next);
    s = *next;
  }
  return s;
}

constexpr auto kLarge = BurrSize::large, kSmall = BurrSize::small, kTrace = BurrSize::just_felt,
               kNone = BurrSize::none;

}  // namespace

TEST(Burr, AMissedPlaceIsWorkedAloneOnTheOtherSideAndAskedForAgain) {
  Sharpening s = said(three_abrasives(), {kLarge, kLarge, kNone, kLarge, kLarge, kLarge});
  const auto tap = next_tap(s);
  ASSERT_TRUE(tap);
  EXPECT_FALSE(tap->mark);
  EXPECT_EQ(tap->missed, 0b000100U);
  EXPECT_FALSE(with_step_done(s, 1)) << "a place without a burr holds the gate";
  const auto worked = with_missed_worked(s, 120);
  ASSERT_TRUE(worked);
  s = *worked;
  ASSERT_EQ(s.steps.size(), 4U);
  const SharpeningStep& alone = s.steps[0];
  EXPECT_EQ(alone.work, StepWork::local);
  EXPECT_EQ(alone.side, GrindSide::right) << "the burr of one side is raised from the other";
  EXPECT_EQ(alone.abrasive, "60");
  EXPECT_EQ(*alone.from_mm, 80);
  EXPECT_EQ(*alone.to_mm, 120);
  EXPECT_NE(instruction(s, 0).find("Then 5 strokes over the whole side"), std::string::npos)
      << "worked alone, then evened out: " << instruction(s, 0);
  s = *with_step_done(s, 30);
  EXPECT_EQ(next_tap(s)->mark, 2) << "the place is felt again, the others were confirmed";
  s = *with_mark(s, 2, kNone);
  ASSERT_EQ(burr_remarks(s, 1).size(), 1U);
  EXPECT_NE(burr_remarks(s, 1)[0].find("Missed again"), std::string::npos);
  s = *with_mark(s, 2, kSmall);
  EXPECT_TRUE(with_step_done(s, 1));
  EXPECT_FALSE(with_missed_worked(s, 120)) << "nothing is missed now";
  EXPECT_EQ(replay(s).steps.size(), 3U) << "what was missed this time is not missed next time";
}

TEST(Burr, IsExpectedSmallerAfterEachAbrasiveAndSaidWhenItIsNot) {
  Sharpening s = three_abrasives();
  EXPECT_EQ(expected_burr(s, 0, 0), kLarge);
  EXPECT_EQ(expected_burr(s, 1, 0), kSmall);
  EXPECT_EQ(expected_burr(s, 2, 0), kTrace);
  s = said(s, {kSmall, kSmall, kSmall, kSmall, kSmall, kSmall});
  s = *with_step_done(s, 60);
  EXPECT_EQ(expected_burr(s, 1, 0), kTrace) << "what was felt leads";
  s = said(s, {kTrace, kTrace, kTrace, kTrace, kTrace, kSmall});
  ASSERT_EQ(burr_remarks(s, 1).size(), 1U);
  EXPECT_NE(burr_remarks(s, 1)[0].find("no smaller than after 60 (right tip)"), std::string::npos)
      << burr_remarks(s, 1)[0];
  s = *with_mark(s, 5, kTrace);
  EXPECT_TRUE(burr_remarks(s, 1).empty());
  s = *with_step_done(s, 60);
  s = said(s, {kTrace, kTrace, kTrace, kTrace, kTrace, kTrace});
  EXPECT_TRUE(burr_remarks(s, 2).empty()) << "smaller than just felt there is none";
  // Under a policy of one burr only the side where it rises is expected to have one.
  s.policy = GatePolicy::single_sided;
  EXPECT_EQ(gate_of(s, 2), 0b111000U);
}

TEST(Burr, LongEdgesHaveMorePlacesEachWithItsOwnName) {
  EXPECT_EQ(places_for(0), 3);
  EXPECT_EQ(places_for(250), 3);
  EXPECT_EQ(places_for(251), 5);
  EXPECT_EQ(places_for(400), 7);
  EXPECT_EQ(places_for(1e9), 9);
  for (int places = kLeastPlaces; places <= kMostPlaces; ++places) {
    std::set<std::string> names;
    for (int mark = 0; mark < 2 * places; ++mark) names.insert(gate_mark_name(mark, places));
    EXPECT_EQ(names.size(), std::size_t(2 * places));
    EXPECT_TRUE(names.contains("left heel"));
    EXPECT_TRUE(names.contains("right tip"));
  }
  Sharpening s = three_abrasives(9);
  EXPECT_EQ(gate_of(s, 0), (1U << 18) - 1);
  for (int mark = 0; mark < 18; ++mark) s = *with_mark(s, mark, kLarge);
  EXPECT_TRUE(with_step_done(s, 1));
  EXPECT_FALSE(with_mark(s, 18));
}

TEST(Burr, SizesSurviveTheFileAndOldRecordsAreRead) {
  Sharpening s = said(three_abrasives(5), {kLarge, kNone, BurrSize::felt, BurrSize::not_looked});
  s.stop = AbrasiveEnd::burr;
  s.way = GrindWay::slack_belt;
  s.proof = BurrProof::sound;
  const auto back = parse_sharpening(sharpening_json(s));
  ASSERT_TRUE(back) << back.refusal().reason;
  EXPECT_EQ(*back, s);
  const auto old = parse_sharpening(R"({"steps":[{"burr":35}]})");
  ASSERT_TRUE(old);
  EXPECT_EQ(old->steps[0].confirmed(), 35U);
  EXPECT_EQ(old->steps[0].burr[5], BurrSize::felt);
  EXPECT_NE(sharpening_json(*old).find("\"burr\":35"), std::string::npos)
      << "what says nothing new is written as before";
  for (const char* wrong :
       {R"({"steps":[{"burr_sizes":["huge"]}]})", R"({"places":2})", R"({"places":10})",
        R"({"steps":[{"burr_sizes":[1]}]})", R"({"stop":"luck"})",
        R"({"steps":[{"burr_sizes":["","","","","","","","","","","","","","","","","","",""]}]})"})
    EXPECT_FALSE(parse_sharpening(wrong)) << wrong;
}

TEST(Burr, TheInstructionSaysWhatEndsTheWorkAndHowToLook) {
  Sharpening s = three_abrasives();
  s.steps[0].passes = 120;
  s.steps[0].planned_min = 4;
  EXPECT_NE(instruction(s, 0).find("60 strokes a side"), std::string::npos);
  s.stop = AbrasiveEnd::time;
  EXPECT_NE(instruction(s, 0).find("about 4 min, turning over every half minute"),
            std::string::npos);
  s.stop = AbrasiveEnd::burr;
  EXPECT_NE(instruction(s, 0).find("until the burr stands at every place: about 60 strokes"),
            std::string::npos);
  s.way = GrindWay::slack_belt;
  EXPECT_NE(instruction(s, 0).find("the belt slack, the edge trailing, at 15°"), std::string::npos)
      << instruction(s, 0);
  EXPECT_NE(gate_of(s, 0), 0U);
  s.way = GrindWay::crossed_wheels;
  EXPECT_EQ(gate_of(s, 0), 0U) << "they raise none";
  EXPECT_NE(instruction(s, 0).find("60 pulls"), std::string::npos) << instruction(s, 0);
  EXPECT_EQ(instruction(s, 0).find("a burr at"), std::string::npos);
  s.way = GrindWay::held;
  s.policy = GatePolicy::none;
  EXPECT_EQ(instruction(s, 0).find("until the burr"), std::string::npos) << "none is raised";
  for (int i = 0; i < kBurrProofs; ++i) {
    const auto proof = BurrProof(i);
    EXPECT_NE(how_to_look(proof, "left tip").find("left tip"), std::string::npos);
    EXPECT_EQ(parse_burr_proof(name_of(proof)), proof);
    std::set<std::string> words;
    for (const BurrSize size : kSaidSizes) words.insert(in_words(size, proof));
    EXPECT_EQ(words.size(), 4U) << name_of(proof);
  }
  EXPECT_NE(how_to_look(BurrProof::paper, "left tip").find("paper"), std::string::npos);
  EXPECT_NE(how_to_look(BurrProof::touch, "left tip").find("never along it"), std::string::npos);
}

}  // namespace bq
