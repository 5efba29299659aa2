// Everything that parses text from outside meets seeded mutations of good input and must either
// take or refuse it: no crash, no hang, no half-taken table. Run under the sanitizer preset too.
#include <gtest/gtest.h>

#include <cmath>
#include <sstream>

#include "quantity/angle.h"
#include "quantity/measure.h"
#include "rehearsal/recipe.h"
#include "stats/random.h"
#include "store/study_tables.h"
#include "support.h"
#include "trial/run_plan.h"
#include "workflow/limits.h"

using namespace bq;

namespace {

std::string mutate(std::string text, stats::Random& random) {
  static const std::string spice[] = {
      "\"",    ",",   ";",   "\t", "\n", "\r\n",    std::string(1, '\0'),    "\xff", "é", "-",
      "1e309", "nan", "0x1", "{",  "]",  "\\u0000", "999999999999999999999", "µ",    " "};
  const int changes = 1 + int(random.below(6));
  for (int i = 0; i < changes && !text.empty(); ++i) {
    const auto at = random.below(text.size());
    switch (random.below(5)) {
      case 0:
        text[at] = char(random.below(256));
        break;
      case 1:
        text.erase(at, 1 + random.below(12));
        break;
      case 2:
        text.insert(at, spice[random.below(std::size(spice))]);
        break;
      case 3:
        text.insert(at, text.substr(random.below(text.size()), random.below(40)));
        break;
      default:
        text.resize(at);
        break;
    }
  }
  return text;
}

}  // namespace

TEST(Fuzz, ReadingsTables) {
  const std::string good =
      "run,cuts,reading,unit,blade,steel,edge_angle,micro_angle,finish_um,medium,cut_mode,station,"
      "excluded,reason,hum\n"
      "A,0,101,gf,b1,Marl Tough,12,20,3,\"coir, "
      "8\",slice,heel,0,,4.5\nA,10,120.5,gf,b1,,,,,,,tip,1,\"a \"\"b\"\"\",\n"
      "B,0,1.2,N,b2,Cairn Hard,15,,1,foam,push,,,,5\n";
  stats::Random random(1);
  int taken = 0;
  for (int i = 0; i < 6000; ++i) {
    const auto result = test::table(mutate(good, random), i % 3 == 0);
    taken += result.ok();
    for (const auto& run : result.trial.runs)
      for (const auto& reading : run.readings) {
        ASSERT_TRUE(std::isfinite(reading.value) && reading.value > 0);
        ASSERT_GE(reading.cuts, 0);
      }
    if (!result.ok()) {
      ASSERT_FALSE(result.problems.empty());
    }
  }
  EXPECT_GT(taken, 300);
  EXPECT_LT(taken, 5700);
}

TEST(Fuzz, QuantitiesRecipesLimitsAndCheckpoints) {
  stats::Random random(2);
  const std::string recipe = test::demo_recipe();
  for (int i = 0; i < 400; ++i) (void)parse_recipe(mutate(recipe, random)).ok();
  for (int i = 0; i < 4000; ++i) {
    if (const auto force = parse_force(mutate("1,450.5 gf", random))) {
      ASSERT_TRUE(std::isfinite(force->N()));
    }
    if (const auto angle =
            parse_angle(mutate("24° inclusive", random), AngleConvention::per_side)) {
      ASSERT_TRUE(angle_in_range(*angle));
    }
    (void)parse_limits(mutate(R"({"threshold":"450 gf","steels":["A"],"least_life":50})", random))
        .ok();
    if (const auto points = parse_checkpoints(mutate("0 10 20 40", random))) {
      ASSERT_TRUE(std::is_sorted(points->begin(), points->end()));
    }
  }
}

TEST(Fuzz, TablesOfTheGaugeStudyAndOfDamage) {
  const std::string gauge =
      "part,operator,repeat,reading,unit\n1,A,1,100,gf\n1,A,2,101.5,gf\n1,B,1,1.02,N\n1,B,2,99,"
      "gf\n2,A,1,120,gf\n2,A,2,118,gf\n2,B,1,121,gf\n2,B,2,122,gf\n";
  const std::string damage =
      "edge_angle,cuts,damaged,damaged_um\n10,50,1,60\n12,50,yes,40\n14,50,0,\n14,300,no,\n";
  stats::Random random(3);
  int taken = 0;
  for (int i = 0; i < 4000; ++i) {
    std::istringstream g(mutate(gauge, random)), d(mutate(damage, random));
    const auto study = read_gauge_table(g, "g.csv");
    for (const auto& reading : study.readings) {
      ASSERT_TRUE(std::isfinite(reading.value) && reading.value > 0);
    }
    const auto blocks = read_damage_table(d, "d.csv");
    taken += study.problems.empty() + blocks.problems.empty();
    if (study.problems.empty()) (void)stats::gauge_study(study.readings).ok();
    if (blocks.problems.empty() && !blocks.rounds.empty())
      for (const auto& round : blocks.rounds) {
        ASSERT_TRUE(round.cuts > 0 && round.edge_angle_deg > 0);
      }
    for (const auto* problems : {&study.problems, &blocks.problems})
      for (const auto& problem : *problems) {
        ASSERT_NE(problem.find(".csv:"), std::string::npos) << problem;
      }
  }
  EXPECT_GT(taken, 100);
}
