// The random blade effect, gauge study and damage bounds against R (tests/reference/blades.R), and
// their coverage of known truths.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <map>
#include <sstream>

#include "bluntness/damage_search.h"
#include "stats/distributions.h"
#include "stats/gauge_study.h"
#include "stats/mixed_regression.h"
#include "stats/paired_test.h"
#include "stats/random.h"

using namespace bq;
using namespace bq::stats;

namespace {

std::map<std::string, std::map<std::string, double>> figures() {
  std::map<std::string, std::map<std::string, double>> out;
  std::ifstream in(BQ_SOURCE_DIR "/tests/reference/blades.txt");
  std::string line, set, name;
  double value = 0;
  while (std::getline(in, line)) {
    std::istringstream cells(line);
    if (line[0] != '#' && cells >> set >> name >> value) out[set][name] = value;
  }
  return out;
}

struct Blades {
  Eigen::MatrixXd X{24, 3};
  std::vector<Bounds> y;
  std::vector<int> group;
};
/// The table of blades.R.
Blades table_of_reference(double upper) {
  const double shift[8] = {0.21, -0.17, 0.05, -0.08, -0.24, 0.19, 0.02, 0.11};
  const double noise[24] = {.05,  -.11, .02, .08,  -.03, -.06, .01,  .10, -.09, -.02, .04, .07,
                            -.12, .03,  .06, -.05, .09,  -.01, -.07, .02, .11,  -.04, .08, -.10};
  const double angle[3] = {-1.6, -1.35, -1.1}, more[4] = {0, 0.05, -0.05, 0.1};
  Blades out;
  for (int i = 0; i < 24; ++i) {
    const int blade = i / 3, steel = blade >= 4;
    const double x = angle[i % 3] + more[i / 6];
    out.X.row(i) << 1, steel, x;
    const double y =
        std::round(1e4 * (5.2 + 0.35 * steel - 1.1 * x + shift[blade] + noise[i])) / 1e4;
    out.y.push_back(y > upper ? Bounds::above(upper) : Bounds::exact(y));
    out.group.push_back(blade);
  }
  return out;
}

}  // namespace

TEST(MixedRegression, AgreesWithAnIndependentProgramWithAndWithoutCensoring) {
  auto known = figures();
  for (const auto& [set, upper] : {std::pair{"blades", 1e9}, std::pair{"blades_censored", 7.0}}) {
    const Blades t = table_of_reference(upper);
    const auto fit = mixed_regression(t.X, t.y, t.group);
    ASSERT_TRUE(fit.ok()) << fit.refusal().reason;
    auto& want = known.at(set);
    EXPECT_NEAR(fit->log_likelihood, want.at("loglik"), 1e-6) << set;
    EXPECT_NEAR(fit->sigma_ml, want.at("sigma"), 1e-5) << set;
    EXPECT_NEAR(fit->group_sd_ml, want.at("tau"), 1e-5) << set;
    for (int k = 0; k < 3; ++k) {
      EXPECT_NEAR(fit->coefficients[k], want.at("coef" + std::to_string(k)), 2e-5) << set;
      EXPECT_NEAR(fit->covariance(k, k), want.at("var" + std::to_string(k)),
                  2e-3 * want.at("var" + std::to_string(k)))
          << set;
    }
    EXPECT_EQ(fit->between, (std::vector<bool>{true, true, false}));
    EXPECT_EQ(fit->degrees_of_freedom(Eigen::Vector3d(0, 1, 0)), 6)
        << "a steel is known from blades";
    EXPECT_EQ(fit->degrees_of_freedom(Eigen::Vector3d(0, 0, 1)), 15) << "an angle from runs";
  }
}

// Steels compared on few blades used often: an interval that takes runs for independent is far too
// narrow, this one is not.
TEST(MixedRegression, IntervalsOfASteelKeepTheirCoverageWhereBladesAreUsedAgain) {
  int mixed_holds = 0, plain_holds = 0, within_holds = 0, count = 0;
  for (int world = 0; world < 400; ++world) {
    Random random(77, std::uint64_t(world));
    Blades t = table_of_reference(1e9);
    double shift[8];
    for (double& s : shift) s = 0.15 * random.normal();
    for (int i = 0; i < 24; ++i) {
      const double y =
          6 + 0.3 * t.X(i, 1) - t.X(i, 2) + shift[t.group[std::size_t(i)]] + 0.1 * random.normal();
      t.y[std::size_t(i)] = y > 7.75 ? Bounds::above(7.75) : Bounds::exact(y);
    }
    const auto fit = mixed_regression(t.X, t.y, t.group);
    const auto plain = censored_regression(t.X, t.y);
    if (!fit || !plain) continue;
    ++count;
    const auto holds = [](double estimate, double truth, double error, double dof) {
      return std::fabs(estimate - truth) <= t_quantile(0.975, dof) * error;
    };
    const Eigen::Vector3d steel(0, 1, 0), angle(0, 0, 1);
    mixed_holds += holds(fit->coefficients[1], 0.3, fit->standard_error(steel),
                         fit->degrees_of_freedom(steel));
    within_holds +=
        holds(fit->coefficients[2], -1, fit->standard_error(angle), fit->degrees_of_freedom(angle));
    plain_holds += holds(plain->coefficients[1], 0.3, plain->standard_error(steel),
                         plain->degrees_of_freedom());
  }
  ASSERT_GT(count, 390);
  EXPECT_NEAR(double(mixed_holds) / count, 0.95, 0.03);
  EXPECT_NEAR(double(within_holds) / count, 0.95, 0.03);
  EXPECT_LT(double(plain_holds) / count, 0.85) << "what taking runs for independent costs";
}

TEST(MixedRegression, RefusesWhatItCannotTell) {
  Blades t = table_of_reference(1e9);
  for (int i = 0; i < 24; ++i) t.group[std::size_t(i)] = i;
  EXPECT_NE(mixed_regression(t.X, t.y, t.group).refusal().reason.find("used twice"),
            std::string::npos);
  for (int i = 0; i < 24; ++i)
    t.group[std::size_t(i)] = i / 12;  // one blade a steel: steel and blade cannot be told apart
  EXPECT_NE(mixed_regression(t.X, t.y, t.group).refusal().reason.find("not more blades"),
            std::string::npos);
}

TEST(GaugeStudy, AgreesWithAnIndependentProgram) {
  auto known = figures();
  const double value[30] = {102, 104, 99,  101, 105, 106, 88, 87, 85, 88,  90,  91,  120, 118, 117,
                            116, 122, 125, 95,  97,  93,  92, 99, 98, 110, 113, 108, 107, 112, 114};
  const double more[30] = {0, 0, 6, 6, 0, 0, 0, 0,  -6, -6, 0, 0,  5,  5, 0,
                           0, 0, 0, 0, 0, 5, 5, -5, -5, 0,  0, -4, -4, 4, 4};
  for (const bool interaction : {false, true}) {
    std::vector<GaugeReading> readings;
    for (int i = 0; i < 30; ++i)
      readings.push_back({std::to_string(i / 6), std::string(1, char('A' + i % 6 / 2)),
                          value[i] + (interaction ? more[i] : 0)});
    const auto study = gauge_study(readings);
    ASSERT_TRUE(study.ok());
    auto& want = known.at(interaction ? "gauge_interaction" : "gauge");
    EXPECT_NEAR(study->repeatability_sd, want.at("repeatability"), 1e-8);
    EXPECT_NEAR(study->reproducibility_sd, want.at("reproducibility"), 1e-8);
    EXPECT_NEAR(study->interaction_sd, want.at("interaction"), 1e-8);
    EXPECT_NEAR(study->part_sd, want.at("part"), 1e-7);
    EXPECT_NEAR(*study->interaction_p, want.at("p"), 1e-8);
    EXPECT_NEAR(study->study_variation_percent, want.at("study"), 1e-6);
    EXPECT_EQ(study->interaction_kept, interaction);
    readings.pop_back();
    EXPECT_NE(gauge_study(readings).refusal().reason.find("part \"4\" 1 times"), std::string::npos);
  }
}

TEST(DamageBounds, AgreeWithAnIndependentProgram) {
  auto known = figures().at("damage");
  EXPECT_NEAR(*damage_rate_upper({{200, false}}), known.at("clean200"), 1e-11);
  std::vector<DamageBlock> blocks(8, {50, false});
  for (int i = 0; i < 3; ++i) blocks[std::size_t(i)].damaged = true;
  EXPECT_NEAR(*damage_rate_upper(blocks), known.at("3of8x50"), 1e-10);
}

TEST(PairedTests, AgreeWithAnIndependentProgram) {
  auto known = figures().at("paired");
  const double before[] = {181, 164, 175, 202, 158, 190, 171, 166},
               after[] = {150, 149, 168, 171, 150, 193, 152, 140};
  std::vector<Pair> pairs;
  for (int i = 0; i < 8; ++i) pairs.push_back({before[i], after[i]});
  const auto test = paired_test(pairs);
  ASSERT_TRUE(test.ok());
  EXPECT_NEAR(test->ratio, known.at("ratio"), 1e-9);
  EXPECT_NEAR(*test->low, known.at("low"), 1e-9);
  EXPECT_NEAR(*test->high, known.at("high"), 1e-9);
  EXPECT_NEAR(*test->t, known.at("t"), 1e-8);
  EXPECT_NEAR(*test->p, known.at("p"), 1e-10);
  EXPECT_NEAR(*test->signed_rank_p, known.at("signed_rank_p"), 1e-12);
}
