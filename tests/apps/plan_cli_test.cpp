#include <gtest/gtest.h>

#include <fstream>

#include "run_cli.h"
#include "store/plan_file.h"
#include "store/project_file.h"
#include "support.h"

using namespace bq;
using bq::test::run_cli;

namespace {
const std::string kPlan = BQ_SOURCE_DIR "/demo/fernmoor-plan.json";
}

TEST(PlanCommand, AnswersWithTheFixedKeys) {
  const auto answer = run_cli("plan " + kPlan + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const auto json = answer.json();
  ASSERT_EQ(json["runs"].size(), 10u);
  for (const char* key : {"order", "code", "block", "steel", "apex_angle", "finish_um"})
    EXPECT_TRUE(json["runs"][0].contains(key)) << key;
  EXPECT_EQ(json["checkpoints"].front(), 0);
  for (const char* key : {"cuts", "medium_m", "minutes", "resharpenings"})
    EXPECT_TRUE(json["budget"][key].is_number()) << key;
  EXPECT_EQ(json["budget"]["cuts"], 7000);
  EXPECT_TRUE(json["confounded"].is_array());
  EXPECT_LT(json["next_best"][0]["interval_shrinks_to"].get<double>(), 1);
  EXPECT_EQ(run_cli("plan " + kPlan + " --json").out, answer.out);
  EXPECT_EQ(run_cli("plan " + kPlan + " --seed 20299 --json").out, answer.out);
  EXPECT_NE(run_cli("plan " + kPlan + " --seed 4 --json").out, answer.out);
  EXPECT_EQ(run_cli("plan - --json < " + kPlan).out, answer.out);
  // Blind: the table on the screen does not tell either, unless asked.
  EXPECT_EQ(run_cli("plan " + kPlan).out.find("finish_um"), std::string::npos);
  EXPECT_NE(run_cli("plan " + kPlan + " --open").out.find("finish_um"), std::string::npos);
}

TEST(PlanCommand, WritesSheetsAndRefusesBadPlans) {
  const test::Folder folder;
  const std::string csv = (folder / "sheet.csv").string(), pdf = (folder / "sheet.pdf").string();
  EXPECT_EQ(run_cli("plan " + kPlan + " --sheet " + csv).code, 0);
  EXPECT_TRUE(std::filesystem::exists(folder / "sheet-key.csv"));
  EXPECT_EQ(run_cli("plan " + kPlan + " --sheet " + pdf).code, 0);
  EXPECT_EQ(test::read_file(pdf).substr(0, 5), "%PDF-");
  EXPECT_EQ(run_cli("plan " + kPlan + " --sheet " + (folder / "sheet.doc").string()).code, 2);
  EXPECT_EQ(run_cli("plan " + kPlan + " --sheet /nowhere/sheet.csv").code, 4);
  const auto bad =
      folder.write("bad.json", R"({"factors": [{"factor": "steel", "levels": ["one"]}]})");
  const auto refused = run_cli("plan " + bad.string() + " --json");
  EXPECT_EQ(refused.code, 3);
  EXPECT_TRUE(refused.out.empty());
  EXPECT_NE(refused.err.find("only one level"), std::string::npos);
  const auto broken = folder.write("broken.json", "{\"factors\": [\n  {]}");
  EXPECT_NE(run_cli("plan " + broken.string()).err.find(":2:4: this is not valid JSON"),
            std::string::npos);
  EXPECT_EQ(run_cli("plan /nowhere.json").code, 4);
}

TEST(PowerCommand, GivesTheFormulasFigure) {
  const auto answer = run_cli("power --runs 4 --sd 0.2 --ratio 1.5 --json");
  EXPECT_EQ(answer.code, 0);
  EXPECT_NEAR(answer.json()["power"].get<double>(), 0.6683945015, 1e-8);
  EXPECT_NEAR(run_cli("power --runs 24 --sd 0.3 --ratio 0.8 --level 0.99 --json")
                  .json()["power"]
                  .get<double>(),
              0.4633740894, 1e-8);
  EXPECT_EQ(run_cli("power --runs 1 --sd 0.2 --ratio 1.5").code, 3);
  EXPECT_EQ(run_cli("power --runs 4 --sd 0 --ratio 1.5").code, 3);
  EXPECT_EQ(run_cli("power --runs 4 --sd 0.2").code, 2);
}

TEST(RehearseCommand, IsSeededAndTheSameOnAnyThreads) {
  const auto one = run_cli("rehearse " + kPlan + " --plays 200 --seed 7 --threads 1 --json");
  ASSERT_EQ(one.code, 0) << one.err;
  auto first = one.json(),
       second = run_cli("rehearse " + kPlan + " --plays 200 --seed 7 --threads 3 --json").json();
  for (const char* key : {"plays", "detected", "power", "low", "high", "seconds"})
    EXPECT_TRUE(first.contains(key)) << key;
  EXPECT_EQ(first["plays"], 200);
  EXPECT_DOUBLE_EQ(first["power"].get<double>(), first["detected"].get<double>() / 200);
  EXPECT_LT(first["low"].get<double>(), first["power"].get<double>());
  first.erase("seconds");
  second.erase("seconds");
  EXPECT_EQ(first, second);
  // Too short for any edge: an answer, and its exit code says which.
  const test::Folder folder;
  std::string text = test::read_file(kPlan);
  text.replace(text.find("\"last\": 700"), 11, "\"last\": 30");
  const auto none =
      run_cli("rehearse " + folder.write("short.json", text).string() + " --plays 20 --json");
  EXPECT_EQ(none.code, 5) << none.err;
  EXPECT_EQ(none.json()["undetermined"], 20);
  EXPECT_EQ(none.json()["right_censored_share"], 1);
}

TEST(SimulateCommand, PlaysAPlanIntoATableThatCanBeAnalysed) {
  const test::Folder folder;
  const auto table = run_cli("simulate " + kPlan + " --seed 3");
  ASSERT_EQ(table.code, 0) << table.err;
  EXPECT_EQ(table.out, run_cli("simulate " + kPlan + " --seed 3").out);
  const auto file = folder.write("played.csv", table.out);
  const auto life =
      run_cli("life " + file.string() + " --threshold 450gf --terms steel,angle,finish --json");
  ASSERT_EQ(life.code, 0) << life.err;
  EXPECT_EQ(life.json()["n"], 10);
  // The longest run of the longest-lived edge, found from the stated life.
  std::string text = test::read_file(kPlan);
  text.replace(text.find("\"last\": 700"), 11, "\"last\": \"threshold\"");
  const auto plan = run_cli("plan " + folder.write("reach.json", text).string() + " --json");
  ASSERT_EQ(plan.code, 0) << plan.err;
  EXPECT_GT(plan.json()["checkpoints"].back().get<int>(), 400);
}

TEST(ExportCommand, JsonHoldsThePlansAndClaimsAndGivesThemBack) {
  const test::Folder folder;
  const auto project = test::demo_project(folder);
  const auto all = (folder / "all.json").string();
  ASSERT_EQ(run_cli("export " + project.string() + " --to " + all).code, 0);
  const auto book = parse_plan_book(test::read_file(all));
  ASSERT_TRUE(book.ok()) << book.refusal().reason;
  EXPECT_EQ(book->plans.size(), 1u);
  EXPECT_EQ(book->plans.front().plan, *parse_plan(test::read_file(kPlan)));
  EXPECT_EQ(book->claims.size(), 2u);
  // `check` looks at them too.
  EXPECT_EQ(run_cli("check " + project.string()).code, 0);
  auto wrong = *book;
  wrong.plans.front().issued = {"ZZ9"};
  wrong.claims.back().values.front().code = "QQ9";
  {
    auto file = ProjectFile::open(project, ProjectFile::Access::write);
    file.set_setting(kPlanBookKey, plan_book_json(wrong));
  }
  const auto found = run_cli("check " + project.string());
  EXPECT_EQ(found.code, 3);
  EXPECT_NE(found.out.find("ZZ9 is not among the runs"), std::string::npos);
  EXPECT_NE(found.out.find("QQ9"), std::string::npos);
}
