// Agreement with an independent statistics program: tests/reference/reference.R and its figures.
#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <iostream>
#include <map>
#include <sstream>

#include "bluntness/life_model.h"
#include "support.h"
#include "workflow/source.h"

using namespace bq;

namespace {

using Figures = std::map<std::string, double>;

Figures figures_of(const std::string& set) {
  std::ifstream in(BQ_SOURCE_DIR "/tests/reference/reference.txt");
  Figures out;
  std::string line;
  while (std::getline(in, line)) {
    std::istringstream cells(line);
    std::string name, key, value;
    std::getline(cells, name, '\t');
    std::getline(cells, key, '\t');
    std::getline(cells, value, '\t');
    if (name == set) out[key] = std::stod(value);
  }
  return out;
}

struct Set {
  const char *name, *file, *medium;
  double threshold;
};
const Set kSets[] = {{"fernmoor", "demo/fernmoor.csv", "rubberised coir mat 8 mm", 450},
                     {"short", "tests/data/short_trial.csv", "coir", 400},
                     {"uncensored", "tests/data/uncensored.csv", "coir", 4}};

std::string r_name(std::string name) {
  for (const auto& [ours, theirs] :
       {std::pair("(intercept)", "(Intercept)"), std::pair("ln tan angle", "x"),
        std::pair("ln finish", "finish"), std::pair("steel[", "steel"), std::pair("]", "")})
    if (const auto at = name.find(ours); at != std::string::npos)
      name.replace(at, std::string(ours).size(), theirs);
  return name;
}

}  // namespace

class Reference : public testing::TestWithParam<Set> {};

TEST_P(Reference, CurvesAndLifeModelsAgree) {
  const Set& set = GetParam();
  const Figures figures = figures_of(set.name);
  ASSERT_GT(figures.size(), 30u);
  const Trial trial = read_tables({std::string(BQ_SOURCE_DIR "/") + set.file}, std::cin).trial;
  const auto fits = *fit_runs(trial, {CurveModel::power, false}, {});
  int compared = 0;
  for (std::size_t i = 0; i < fits.size(); ++i) {
    const auto sse = figures.find("sse:" + fits[i].run);
    if (sse == figures.end()) continue;
    ++compared;
    EXPECT_NEAR(fits[i].curve->fit.sum_of_squares / sse->second, 1, 1e-7) << fits[i].run;
    const auto cuts = cuts_to_threshold(fits[i], set.threshold);
    if (const auto life = figures.find("life:" + fits[i].run); life != figures.end()) {
      ASSERT_EQ(cuts.censoring, Censoring::none) << fits[i].run;
      EXPECT_NEAR(*cuts.estimate / life->second, 1, 2e-4) << fits[i].run;
    } else {
      EXPECT_EQ(cuts.censoring, Censoring::right) << fits[i].run;
      EXPECT_EQ(cuts.read_to, figures.at("more:" + fits[i].run));
    }
  }
  EXPECT_GE(compared, 16);

  LifeTable table =
      in_medium(life_table(trial, fits, set.threshold, 0.95, LifeMethod::two_stage), set.medium);
  // The reference counts a run that stopped below the limit as more than its last checkpoint.
  for (auto& row : table.rows)
    if (row.cuts.censoring == Censoring::right) row.cuts.low = row.cuts.read_to;
  const auto model = LifeModel::fit(table, {{"steel", "angle", "finish"}, {}, 0.95});
  ASSERT_TRUE(model.ok());
  EXPECT_NEAR(model->regression().sigma_ml, figures.at("sigma_ml"), 2e-5);
  EXPECT_NEAR(model->regression().log_likelihood, figures.at("loglik"), 2e-3);
  for (const auto& c : model->coefficients()) {
    EXPECT_NEAR(c.estimate, figures.at("coef:" + r_name(c.name)), 2e-4) << c.name;
    EXPECT_NEAR(c.standard_error / figures.at("se:" + r_name(c.name)), 1, 2e-3) << c.name;
    if (const auto low = figures.find("lm_low:" + r_name(c.name)); low != figures.end()) {
      EXPECT_NEAR(c.low, low->second, 2e-4);
      EXPECT_NEAR(c.high, figures.at("lm_high:" + r_name(c.name)), 2e-4);
      EXPECT_NEAR(model->sigma(), figures.at("lm_sigma"), 2e-5);
    }
  }
  const auto crossed =
      LifeModel::fit(table, {{"steel", "angle", "finish"}, {{"steel", "angle"}}, 0.95});
  ASSERT_TRUE(crossed.ok());
  int interactions = 0;
  for (const auto& c : crossed->coefficients()) {
    std::string name = r_name(c.name);
    EXPECT_NEAR(c.estimate, figures.at("inter:" + name), 1e-3) << c.name;
    interactions += name.find(':') != std::string::npos;
  }
  EXPECT_GE(interactions, 1);
}

INSTANTIATE_TEST_SUITE_P(Sets, Reference, testing::ValuesIn(kSets),
                         [](const auto& i) { return std::string(i.param.name); });
