#include <gtest/gtest.h>

#include <cmath>
#include <set>

#include "plan/claim.h"
#include "report/card_page.h"
#include "report/claim_card.h"
#include "stats/paired_test.h"

using namespace bq;

namespace {

ClaimTest test_of(const char* id, int pairs) {
  ClaimTest test;
  for (const auto& claim : known_claims())
    if (claim.id == id) test.claim = claim;
  test.pairs = pairs;
  test.seed = 5;
  return test;
}

/// Fills in the figures: `first` × ratio_i for the part that got the second treatment.
void measure(ClaimTest& test, double first, const std::vector<double>& ratios,
             bool second_outlasts = false) {
  for (const auto& row : claim_sheet(test))
    test.values.push_back({row.code, row.second ? first * ratios[std::size_t(row.pair) - 1] : first,
                           second_outlasts && row.second});
}

}  // namespace

TEST(Claims, TheListIsWholeAndEachNeedsTheFewestPairs) {
  EXPECT_GE(known_claims().size(), 9u);
  std::set<std::string> ids;
  for (const auto& claim : known_claims()) {
    EXPECT_TRUE(ids.insert(claim.id).second);
    EXPECT_EQ(fault_of(claim), "") << claim.id;
    EXPECT_FALSE(other_school(claim.id).empty()) << claim.id;
    EXPECT_GE(claim.steps.size(), 2u);
    EXPECT_FALSE(claim.not_tested.empty());
    const int pairs = *pairs_needed(claim, 0.8, 0.95);
    EXPECT_GE(*chance_with(claim, pairs, 0.95), 0.8);
    if (pairs > 2) EXPECT_LT(*chance_with(claim, pairs - 1, 0.95), 0.8);
  }
  Claim nothing = known_claims().front();
  nothing.ratio = 1;
  EXPECT_NE(pairs_needed(nothing, 0.8, 0.95).refusal().reason.find("no effect"), std::string::npos);
  nothing.ratio = 1.001;
  EXPECT_NE(pairs_needed(nothing, 0.8, 0.95).refusal().reason.find("too small"), std::string::npos);
}

TEST(Claims, TheSheetIsBlindAndEven) {
  for (const char* id : {"lower-angle", "strop-helps"})
    for (const int pairs : {2, 7, 40}) {
      const ClaimTest test = test_of(id, pairs);
      const auto rows = claim_sheet(test);
      ASSERT_EQ(rows.size(), std::size_t(2 * pairs));
      EXPECT_EQ(rows, claim_sheet(test)) << "the seed decides";
      std::set<std::string> codes;
      int second_at_heel = 0;
      for (std::size_t i = 0; i < rows.size(); i += 2) {
        EXPECT_NE(rows[i].second, rows[i + 1].second) << "each blade gets both";
        EXPECT_EQ(rows[i].blade, rows[i + 1].blade);
        for (const auto& row : {rows[i], rows[i + 1]}) {
          EXPECT_TRUE(codes.insert(row.code).second);
          second_at_heel += row.second && (row.place == "heel half" || row.place == "first run");
        }
      }
      EXPECT_LE(std::abs(2 * second_at_heel - pairs), 1) << "as often on one half as on the other";
    }
}

TEST(Claims, AreJudgedByTheRatioWithinPairs) {
  ClaimTest test = test_of("strop-helps", 6);
  const std::vector<double> ratios{0.90, 0.94, 0.88, 0.93, 0.91, 0.95};
  measure(test, 150, ratios);
  const auto result = *judge_claim(test);
  std::vector<stats::Pair> pairs;
  for (const double ratio : ratios) pairs.push_back({1, ratio});
  const auto plain = *stats::paired_test(pairs);
  EXPECT_NEAR(result.ratio, plain.ratio, 1e-12);
  EXPECT_NEAR(*result.low, *plain.low, 1e-12);
  EXPECT_NEAR(*result.high, *plain.high, 1e-12);
  EXPECT_EQ(result.verdict, ClaimVerdict::holds) << result.sentence;
  // The other way round it does not hold, and near 1 with wide intervals nothing is claimed.
  test.values.clear();
  measure(test, 150, {1.10, 1.06, 1.12, 1.07, 1.09, 1.05});
  EXPECT_EQ(judge_claim(test)->verdict, ClaimVerdict::opposite);
  test.values.clear();
  measure(test, 150, {1.2, 0.8, 1.1, 0.9, 1.3, 0.75});
  EXPECT_EQ(judge_claim(test)->verdict, ClaimVerdict::cannot_tell);
  // Close to 1 with a narrow interval: what matters is ruled out, which is an answer too.
  test.values.clear();
  measure(test, 150, {1.01, 0.99, 1.02, 0.98, 1.01, 0.99});
  EXPECT_NE(judge_claim(test)->sentence.find("smaller than the one that matters"),
            std::string::npos);
}

TEST(Claims, ADifferenceTooSmallToMatterDoesNotHold) {
  ClaimTest test = test_of("lower-angle", 6);
  test.claim.ratio = 1.5;
  test.claim.second_higher = true;
  measure(test, 300, {1.03, 1.035, 1.028, 1.031, 1.033, 1.027});  // seen for certain, and tiny
  const auto tiny = *judge_claim(test);
  EXPECT_EQ(tiny.verdict, ClaimVerdict::same) << tiny.sentence;
  EXPECT_NE(tiny.sentence.find("smaller than the one that matters (1.5×)"), std::string::npos);
  EXPECT_EQ(tiny.sentence.find("holds"), std::string::npos);
  test.values.clear();
  measure(test, 300, {1.2, 1.5, 1.3, 1.6, 1.35, 1.4});  // seen, and 1.5 is within reach
  const auto open = *judge_claim(test);
  EXPECT_EQ(open.verdict, ClaimVerdict::holds);
  EXPECT_NE(open.sentence.find("these pairs cannot tell"), std::string::npos) << open.sentence;
  test.values.clear();
  measure(test, 300, {1.9, 2.1, 2.0, 1.95, 2.05, 2.0});
  EXPECT_NE(judge_claim(test)->sentence.find("at least what matters"), std::string::npos);
  // The other direction, turned over: the same answers.
  test.claim.second_higher = false;
  test.claim.ratio = 1 / 1.5;
  test.values.clear();
  measure(test, 300, {1 / 1.03, 1 / 1.035, 1 / 1.028, 1 / 1.031, 1 / 1.033, 1 / 1.027});
  EXPECT_EQ(judge_claim(test)->verdict, ClaimVerdict::same);
}

TEST(Claims, SamenessNeedsANarrowIntervalNotAFailureToSee) {
  ClaimTest test = test_of("stone-as-labelled", 5);
  measure(test, 12, {1.01, 0.98, 1.03, 0.99, 1.0});
  EXPECT_EQ(judge_claim(test)->verdict, ClaimVerdict::same);
  test.values.clear();
  measure(test, 12, {1.6, 0.7, 1.2, 0.8, 1.1});
  EXPECT_EQ(judge_claim(test)->verdict, ClaimVerdict::cannot_tell)
      << "not seen is not the same as alike";
  test.values.clear();
  measure(test, 12, {1.6, 1.7, 1.55, 1.65, 1.6});
  EXPECT_EQ(judge_claim(test)->verdict, ClaimVerdict::opposite);
}

TEST(Claims, RunsThatOutlastTheCutsAreBoundsNotFailures) {
  ClaimTest test = test_of("lower-angle", 5);
  measure(test, 300, {1.3, 1.25, 1.4, 1.35, 1.3});
  const auto whole = *judge_claim(test);
  for (auto& value : test.values)
    if (value.value > 400) {  // one run was stopped at 400
      value.value = 400;
      value.more_than = true;
    }
  const auto bounded = *judge_claim(test);
  EXPECT_EQ(bounded.censored, 2);
  EXPECT_NEAR(bounded.ratio, whole.ratio, 0.05 * whole.ratio);
  EXPECT_EQ(bounded.verdict, ClaimVerdict::holds);
  EXPECT_GT(*bounded.low, 1);
  // Censored regression with pair effects, nothing censored, is the paired test.
  EXPECT_FALSE(bounded.notes.empty());
  // One missing: left out and named. Both parts open: named, and it takes part.
  ClaimTest open = test_of("lower-angle", 4);
  measure(open, 300, {1.3, 1.2, 1.25, 1.3});
  const auto rows = claim_sheet(open);
  for (auto& value : open.values)
    if (value.code == rows[0].code || value.code == rows[1].code) value.more_than = true;
  std::erase_if(open.values, [&](const auto& v) { return v.code == rows[2].code; });
  const auto left = *judge_claim(open);
  EXPECT_EQ(left.pairs, 3);
  EXPECT_EQ(left.notes.size(), 4u);
  std::erase_if(open.values, [&](const auto& v) { return v.code == rows[4].code; });
  EXPECT_NE(judge_claim(open).refusal().reason.find("two pairs"), std::string::npos);
}

TEST(Claims, BadFiguresAreRefused) {
  ClaimTest test = test_of("strop-helps", 3);
  measure(test, 150, {0.9, 0.91, 0.92});
  test.values[0].value = 0;
  EXPECT_FALSE(judge_claim(test).ok());
  test.values[0] = {"QQ9", 100, false};
  EXPECT_NE(judge_claim(test).refusal().reason.find("QQ9"), std::string::npos);
}

TEST(Claims, TheCardSaysItAllOnOnePageAndAlwaysAlike) {
  ClaimTest test = test_of("strop-helps", 10);
  measure(test, 150, {0.9, 0.94, 0.88, 0.93, 0.91, 0.95, 0.92, 0.9, 0.93, 0.94});
  const auto result = *judge_claim(test);
  const EdgeCard card = claim_card(test, result, "2026-11-23");
  EXPECT_EQ(card_pages(card, 60).size(), 1u);
  EXPECT_EQ(card_pdf(card), card_pdf(claim_card(test, result, "2026-11-23")));
  const std::string html = card_html(card);
  for (const char* part : {"Result card", "holds here", "What was not tested",
                           "Whether the edge also lasts longer", "The other school", "pair 10"})
    EXPECT_NE(html.find(part), std::string::npos) << part;
}
