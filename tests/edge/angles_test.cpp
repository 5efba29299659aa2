#include <gtest/gtest.h>

#include <cmath>

#include "edge/angle_checks.h"
#include "edge/grit.h"
#include "edge/marker_test.h"
#include "quantity/angle.h"
#include "stats/random.h"

using namespace bq;

namespace {

/// Plays one test on a bevel with a known angle. Returns the answer and how many touches it took.
struct Play {
  MarkerAnswer answer;
  int touches = 0;
};
Play play(double truth_deg, double window_deg, double misread, const MarkerSettings& settings,
          stats::Random& random) {
  std::vector<MarkerTouch> touches;
  while (true) {
    const auto answer = *assess_marker(settings, touches);
    if (answer.done || touches.size() >= 80) return {answer, int(touches.size())};
    const double off = answer.next_deg - truth_deg;
    int seen = off > window_deg ? 0 : off < -window_deg ? 1 : 2;
    if (random.uniform() < misread) seen = (seen + 1 + int(random.uniform() * 2)) % 3;
    touches.push_back({answer.next_deg, InkSeen(seen)});
  }
}

}  // namespace

TEST(MarkerTest, HoldsTheTruthThoughOneTouchInTenIsMisread) {
  stats::Random random(2024);
  int held = 0, most = 0;
  double sum = 0, worst_width = 0;
  constexpr int kPlays = 300;
  for (int i = 0; i < kPlays; ++i) {
    MarkerSettings settings;
    settings.guess_deg = 10 + 15 * random.uniform();
    const double truth = settings.guess_deg + 12 * random.uniform() - 6;
    const Play one = play(truth, 0.5, 0.1, settings, random);
    held += one.answer.low_deg <= truth && truth <= one.answer.high_deg;
    most = std::max(most, one.touches);
    sum += one.touches;
    worst_width = std::max(worst_width, one.answer.high_deg - one.answer.low_deg);
  }
  RecordProperty("held", held);
  RecordProperty("mean_touches", std::to_string(sum / kPlays));
  EXPECT_GE(held, kPlays * 95 / 100);
  EXPECT_LE(worst_width, 1.0);
  EXPECT_LE(sum / kPlays, 9) << "the user guide promises about eight touches";
  EXPECT_LE(most, 40);
}

TEST(MarkerTest, HoldsTheTruthWhateverTheWindowIsAndNeverEndsOnOneAnswer) {
  constexpr int kPlays = 80;
  for (const double window : {0.25, 1.0}) {
    stats::Random random(77, std::uint64_t(100 * window));
    int held = 0;
    double touches = 0;
    for (int i = 0; i < kPlays; ++i) {
      MarkerSettings settings;
      settings.guess_deg = 10 + 15 * random.uniform();
      const double truth = settings.guess_deg + 12 * random.uniform() - 6;
      const Play one = play(truth, window, 0.1, settings, random);
      held += one.answer.low_deg <= truth && truth <= one.answer.high_deg;
      touches += double(one.touches) / kPlays;
    }
    std::printf("marker test, window %.2f: held %.1f %%, %.1f touches\n", window,
                100.0 * held / kPlays, touches);
    EXPECT_GE(held, kPlays * 90 / 100) << window;  // 93 % but for the plays' own chance
  }
  // A tester who always says "apex only" gets no angle.
  MarkerSettings settings;
  std::vector<MarkerTouch> always;
  MarkerAnswer answer = *assess_marker(settings, always);
  for (int i = 0; i < 25; ++i) {
    always.push_back({answer.next_deg, InkSeen::apex_only});
    answer = *assess_marker(settings, always);
    EXPECT_FALSE(answer.done);
  }
  EXPECT_TRUE(answer.one_answer);
}

TEST(MarkerTest, StartsSteepAndAsksAgainWhereAnswersClash) {
  MarkerSettings settings;
  settings.guess_deg = 15;
  EXPECT_NEAR(assess_marker(settings, {})->next_deg, 18, 1e-9)
      << "a first touch on the shoulder would scratch the face";
  // Nothing learnt: the same angle again, with fresh ink.
  const auto again = *assess_marker(settings, {{18, InkSeen::patchy}});
  EXPECT_TRUE(again.ask_again);
  EXPECT_NEAR(again.next_deg, 18, 1e-9);
  // Two clear answers and one that cannot be.
  const std::vector<MarkerTouch> clash{{18, InkSeen::apex_only},
                                       {18, InkSeen::apex_only},
                                       {12, InkSeen::shoulder_only},
                                       {12, InkSeen::shoulder_only},
                                       {19, InkSeen::shoulder_only}};
  const auto answer = *assess_marker(settings, clash);
  ASSERT_EQ(answer.contradictions, std::vector<std::size_t>{4});
  EXPECT_TRUE(answer.ask_again);
  EXPECT_NEAR(answer.next_deg, 19, 1e-9);
  EXPECT_GT(answer.angle_deg, 12);
  EXPECT_LT(answer.angle_deg, 18);
  // The word "apex" means: too steep.
  EXPECT_LT(assess_marker(settings, {{15, InkSeen::apex_only}})->angle_deg, 15);
  EXPECT_GT(assess_marker(settings, {{15, InkSeen::shoulder_only}})->angle_deg, 15);
  EXPECT_TRUE(assess_marker(settings, {{15, InkSeen::middle_only}, {17, InkSeen::middle_only}})
                  ->looks_convex);
  for (const double trial : {0.0, 80.0, -3.0})
    EXPECT_FALSE(assess_marker(settings, {{trial, InkSeen::nothing}}).ok());
  settings.misread = 0.7;
  EXPECT_FALSE(assess_marker(settings, {}).ok());
}

TEST(MarkerTest, ChancesOfWhatIsSeenAddUp) {
  for (double trial = 5; trial < 25; trial += 0.31) {
    double sum = 0;
    for (int k = 0; k < 3; ++k) sum += chance_to_see(InkSeen(k), trial, 15, 0.5);
    EXPECT_NEAR(sum, 1, 1e-12);
  }
  EXPECT_GT(chance_to_see(InkSeen::apex_only, 17, 15, 0.5), 0.999);
  EXPECT_GT(chance_to_see(InkSeen::whole_bevel, 15, 15, 0.5), 0.999);
}

TEST(GaugeLog, ADriftedZeroVoidsTheReadingsBetween) {
  using K = GaugeEntry::Kind;
  const std::vector<GaugeEntry> log{{K::zero, {}, 0, 0},
                                    {K::reading, EdgeSide::left, 10, 14.8},
                                    {K::reading, EdgeSide::left, 80, 15.4},
                                    {K::reading, EdgeSide::right, 10, 15.9},
                                    {K::zero_check, {}, 0, 0.1},
                                    {K::reading, EdgeSide::left, 45, 22.0},
                                    {K::zero_check, {}, 0, 0.6},
                                    {K::reading, EdgeSide::right, 80, 16.9}};
  const auto found = evaluate_gauge_log(log, {0.2, 0});
  ASSERT_TRUE(found.ok()) << found.refusal().reason;
  ASSERT_EQ(found->readings.size(), 5U);
  EXPECT_FALSE(found->readings[0].voided);
  EXPECT_TRUE(found->readings[3].voided) << "kept in the log, not in the mean";
  EXPECT_TRUE(found->readings[4].unchecked);
  EXPECT_NEAR(found->readings[4].angle_deg, 16.3, 1e-12) << "read from the zero that was last seen";
  EXPECT_NEAR(found->left->mean_deg, 15.1, 1e-12);
  EXPECT_NEAR(*found->left->sd_deg, 0.6 / std::sqrt(2.0), 1e-12);
  EXPECT_NEAR(found->left->heel_to_tip_deg, 0.6, 1e-12);
  EXPECT_NEAR(*found->left_minus_right_deg, 15.1 - 16.1, 1e-12);
  EXPECT_FALSE(found->drifts[0].beyond_limit);
  EXPECT_TRUE(found->drifts[1].beyond_limit);
  // Zeroed on a face that tapers: read from that face, so the taper is added.
  EXPECT_NEAR(
      evaluate_gauge_log({{K::zero, {}, 0, 0}, {K::reading, EdgeSide::left, 10, 12}}, {0.2, 2.5})
          ->left->mean_deg,
      14.5, 1e-12);
  EXPECT_FALSE(evaluate_gauge_log({{K::reading, EdgeSide::left, 10, 12}}, {}).ok());
  EXPECT_FALSE(
      evaluate_gauge_log({{K::zero, {}, 0, 0}, {K::reading, EdgeSide::left, 10, 85}}, {}).ok());
}

TEST(GaugeLog, ATiltedClampIsToldFromAnUnequalEdge) {
  // Edge 15|17 in a clamp tilted by 1.5°: readings as the gauge shows them.
  const auto check = clamp_tilt(15 + 1.5, 17 - 1.5, 15 - 1.5, 17 + 1.5);
  EXPECT_NEAR(check.edge_difference_deg, -2, 1e-12);
  EXPECT_NEAR(check.tilt_deg, 1.5, 1e-12);
  using K = GaugeEntry::Kind;
  const auto log = evaluate_gauge_log({{K::zero, {}, 0, 0},
                                       {K::reading, EdgeSide::left, 5, 16.5},
                                       {K::reading, EdgeSide::right, 5, 15.5},
                                       {K::turned, {}, 0, 0},
                                       {K::reading, EdgeSide::left, 5, 13.5},
                                       {K::reading, EdgeSide::right, 5, 18.5},
                                       {K::zero_check, {}, 0, 0}},
                                      {});
  ASSERT_TRUE(log.ok() && log->tilt.has_value());
  EXPECT_NEAR(log->tilt->tilt_deg, 1.5, 1e-12);
  EXPECT_NEAR(log->tilt->edge_difference_deg, -2, 1e-12);
  EXPECT_NEAR(log->left->mean_deg, 15, 1e-12) << "read both ways round, the tilt cancels";
}

TEST(AngleChecks, CallipersAndBeamGiveTheAngleBack) {
  const double slope = std::tan(radians(17));
  const auto two = angle_from_thicknesses(0.5, 2 * 0.5 * slope, 3, 2 * 3 * slope, 0.01);
  ASSERT_TRUE(two.ok());
  EXPECT_NEAR(two->angle_deg, 17, 1e-10);
  EXPECT_GT(two->plus_minus_deg, 0.02);
  EXPECT_LT(two->plus_minus_deg, 0.2);
  EXPECT_NEAR(angle_from_facet(2 * 0.8 * std::sin(radians(17)), 0.8, 0)->angle_deg, 17, 1e-10);
  EXPECT_FALSE(angle_from_facet(2, 0.9, 0.01).ok());
  EXPECT_FALSE(angle_from_thicknesses(1, 0.5, 1, 0.8, 0.01).ok());
  EXPECT_FALSE(angle_from_thicknesses(1, 0.5, 2, 0.4, 0.01).ok());
  EXPECT_EQ(read_beam({EdgeSide::left, {20, 14}, {}})->kind, BeamFinding::Kind::two_facets);
  EXPECT_EQ(read_beam({EdgeSide::left, {20, 14}, {}})->apex_deg, 20);
  EXPECT_EQ(read_beam({EdgeSide::left, {}, std::pair{13.0, 19.0}})->kind,
            BeamFinding::Kind::convex);
  EXPECT_FALSE(read_beam({EdgeSide::left, {}, {}}).ok());
  EXPECT_FALSE(read_beam({EdgeSide::left, {1, 2, 3}, {}}).ok());
  EXPECT_NEAR(*holder_angle_deg({"roller", 15, {2, -0.5}}), 16.5, 1e-12);
  EXPECT_FALSE(holder_angle_deg({"roller", 15, {-20}}).ok());
}

TEST(Grit, DesignationsStandForTheSizesOfTheirStandards) {
  EXPECT_EQ(parse_grit("P400")->mean_um, 35.0);
  EXPECT_EQ(parse_grit("F220")->mean_um, 58);
  EXPECT_EQ(parse_grit("JIS 1000")->mean_um, 11.5);
  EXPECT_EQ(parse_grit("ansi 320")->mean_um, 36);
  EXPECT_EQ(parse_grit(" p 400 ")->designation, "P400");
  EXPECT_EQ(parse_grit("JIS 1000")->low_um, 10.5);
  const auto between = *parse_grit("JIS 5000");
  EXPECT_TRUE(between.interpolated);
  EXPECT_LT(between.mean_um, 3.0);
  EXPECT_GT(between.mean_um, 2.0);
  // Coarse JIS grits are sieved as those of ISO 8486-1; finer than the standard makers differ.
  EXPECT_EQ(parse_grit("JIS 60")->mean_um, parse_grit("F60")->mean_um);
  EXPECT_NE(parse_grit("JIS 10000").refusal().reason.find("makers"), std::string::npos);
  EXPECT_NE(parse_grit("P3000").refusal().reason.find("makers"), std::string::npos);
  EXPECT_NE(parse_grit("400").refusal().reason.find("every system"), std::string::npos);
  EXPECT_NE(parse_grit("#1000").refusal().reason.find("every system"), std::string::npos);
  for (const char* bad : {"", "P", "Q400", "P5", "P99999", "F1.5", "JIS -4", "P4x"})
    EXPECT_FALSE(parse_grit(bad).ok()) << bad;
}

TEST(Grit, TablesFallAndFindTheirWayBack) {
  for (const auto system :
       {GritSystem::fepa_p, GritSystem::fepa_f, GritSystem::jis, GritSystem::ansi}) {
    const auto table = grit_table(system);
    for (std::size_t i = 0; i < table.size(); ++i) {
      EXPECT_LT(table[i].low_um, table[i].mean_um);
      EXPECT_GT(table[i].high_um, table[i].mean_um);
      EXPECT_LT(table[i].mean_um, i > 0 ? table[i - 1].mean_um : 1e9) << table[i].designation;
      EXPECT_EQ(parse_grit(table[i].designation)->mean_um, table[i].mean_um);
      bool found = false;
      const auto near = *grits_near(table[i].mean_um);
      for (const auto& size : near) found |= size.designation == table[i].designation;
      EXPECT_TRUE(found) << table[i].designation;
    }
  }
  EXPECT_EQ(grits_near(12)->size(), 4U);
  EXPECT_EQ(grits_near(0.9)->size(), 2U) << "only F and JIS reach that fine";
  EXPECT_FALSE(grits_near(0).ok());
  EXPECT_FALSE(grits_near(-3).ok());
}
