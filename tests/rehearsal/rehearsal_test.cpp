#include <gtest/gtest.h>

#include <cmath>
#include <sstream>

#include "bluntness/run_fits.h"
#include "rehearsal/virtual_bench.h"
#include "store/readings_export.h"
#include "support.h"

using namespace bq;

TEST(Rehearsal, TheDemoTableIsWhatTheRecipeGives) {
  const auto recipe = parse_recipe(test::demo_recipe());
  ASSERT_TRUE(recipe.ok()) << recipe.refusal().reason;
  std::ostringstream made;
  write_readings_csv(play(*recipe, 20299), made);
  EXPECT_EQ(made.str(), test::read_file(BQ_SOURCE_DIR "/demo/fernmoor.csv"));
}

TEST(Rehearsal, TheDemoShowsWhatItIsMeantToShow) {
  const Trial trial = test::demo_trial();
  const auto fits = *fit_runs(trial, {}, {});
  std::vector<std::string> collapsed;
  bool bad_reading = false;
  for (const auto& fit : fits) {
    if (fit.curve->early_collapse) collapsed.push_back(fit.run);
    bad_reading |= fit.run == "C19" && fit.curve->suspects.size() == 1;
  }
  EXPECT_EQ(collapsed, std::vector<std::string>{"C30"});
  EXPECT_TRUE(bad_reading);
}

TEST(Rehearsal, SeedsDecideAndRunsDoNotDisturbEachOther) {
  auto recipe = *parse_recipe(test::demo_recipe());
  const auto csv = [](const Trial& trial) {
    std::ostringstream out;
    write_readings_csv(trial, out);
    return out.str();
  };
  EXPECT_EQ(csv(play(recipe, 5)), csv(play(recipe, 5)));
  EXPECT_NE(csv(play(recipe, 5)), csv(play(recipe, 6)));
  const Trial whole = play(recipe, 5);
  recipe.runs.resize(10);
  const Trial part = play(recipe, 5);
  for (std::size_t i = 0; i < 10; ++i)
    for (std::size_t r = 0; r < part.runs[i].readings.size(); ++r)
      EXPECT_EQ(part.runs[i].readings[r].value, whole.runs[i].readings[r].value);
}

TEST(Rehearsal, AVirtualBladeWearsByTheWedgeIdentity) {
  const auto recipe = *parse_recipe(test::demo_recipe());
  const auto blade = blade_of(recipe, recipe.runs[0], 1);
  const auto& run = recipe.runs[0];
  const auto& medium = recipe.media.at(run.facts.medium);
  const double area = 100 * medium.stroke_mm * 1e-3 * medium.wear_um2_per_m *
                      recipe.steels.at(run.facts.steel).wear_factor;
  const double w0 = VirtualBlade::fresh_width_um(run.facts.finish->mean_um());
  EXPECT_NEAR(blade.apex_width_um(100),
              std::sqrt(w0 * w0 + 4 * area * run.facts.geometry->apex().mean_tangent()), 1e-9);
  EXPECT_LT(blade.reading_gf(0), blade.reading_gf(500));
  const auto life = blade.true_life(450, 1e5);
  ASSERT_TRUE(life.has_value());
  EXPECT_NEAR(blade.reading_gf(*life), 450, 1e-3);
  // A lower apex angle lasts longer under plain wear.
  auto slim = run;
  slim.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(10));
  EXPECT_GT(*blade_of(recipe, slim, 1).true_life(450, 1e5), *life);
}

TEST(Recipe, RefusalsNameTheirPlace) {
  const std::string good =
      R"({"media":[{"name":"m","stroke_mm":100,"wear_um2_per_m":1}],"steels":[{"name":"s","wear_factor":1}],
    "checkpoints":[0,10,20],"runs":[{"run":"A","steel":"s","edge_angle":15,"finish_um":3,"medium":"m"}]})";
  ASSERT_TRUE(parse_recipe(good).ok()) << parse_recipe(good).refusal().reason;
  const auto why = [&](const std::string& from, const std::string& to) {
    std::string text = good;
    text.replace(text.find(from), from.size(), to);
    const auto recipe = parse_recipe(text);
    return recipe.ok() ? std::string("taken") : recipe.refusal().reason;
  };
  EXPECT_NE(why("\"edge_angle\":15", "\"edge_angle\":85").find("80°"), std::string::npos);
  EXPECT_NE(why("\"edge_angle\":15", "\"edge_angle\":\"x\"").find("runs[0].edge_angle"),
            std::string::npos);
  EXPECT_NE(why("\"steel\":\"s\"", "\"steel\":\"t\"").find("runs[0].steel"), std::string::npos);
  EXPECT_NE(why("[0,10,20]", "[0,10,10]").find("rise"), std::string::npos);
  EXPECT_NE(why("\"wear_factor\":1", "\"wear_factor\":-1").find("wear_factor"), std::string::npos);
  EXPECT_NE(why("\"runs\":[", "\"runs\":[5,").find("runs[0]"), std::string::npos);
  EXPECT_NE(why("}]}", "}]").find("valid JSON"), std::string::npos);
  for (std::size_t cut = 0; cut < good.size(); cut += 7)
    EXPECT_FALSE(parse_recipe(good.substr(0, cut)).ok());
}
