// The command line as a person or a script runs it: exit codes, JSON keys, refusals.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <sstream>

#include "run_cli.h"
#include "store/project_file.h"
#include "support.h"

using namespace bq;
using Json = nlohmann::json;
using test::CliAnswer;

namespace {

CliAnswer run(const std::string& arguments) { return test::run_cli(arguments); }

const std::string kDemo = BQ_SOURCE_DIR "/demo/fernmoor.csv";

}  // namespace

TEST(CommandLine, FitGivesEveryFixedKey) {
  const CliAnswer answer =
      run("fit " + kDemo + " --threshold 450gf --bootstrap 50 --seed 3 --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json json = answer.json();
  EXPECT_EQ(json["threshold"], (Json{{"value", 450.0}, {"unit", "gf"}}));
  ASSERT_EQ(json["runs"].size(), 55u);
  for (const auto& item : json["runs"]) {
    for (const char* key : {"run", "model", "parameters", "sigma_log", "aicc", "n", "converged",
                            "early_collapse", "cuts_to_threshold", "bootstrap"})
      EXPECT_TRUE(item.contains(key)) << key;
    for (const char* key : {"estimate", "low", "high", "level", "censored"})
      EXPECT_TRUE(item["cuts_to_threshold"].contains(key)) << key;
    EXPECT_EQ(item["bootstrap"]["refits"], 50);
  }
  EXPECT_EQ(run("fit " + kDemo + " --bootstrap 50 --seed 3 --threads 1 --json").out,
            run("fit " + kDemo + " --bootstrap 50 --seed 3 --threads 5 --json").out);
}

TEST(CommandLine, LifeGivesEveryFixedKeyAndTheMatchingAngle) {
  const CliAnswer answer =
      run("life " + kDemo +
          " --threshold 450gf --terms steel,angle,finish --medium 'rubberised coir mat 8 mm' "
          "--match-angle 'Marl Tough@18:Fenland Plain' --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json json = answer.json();
  EXPECT_EQ(json["n"], 48);
  EXPECT_EQ(json["censored"], 4);
  EXPECT_EQ(json["left_censored"], 0);
  std::vector<std::string> names;
  for (const auto& c : json["coefficients"]) names.push_back(c["name"]);
  EXPECT_EQ(names, (std::vector<std::string>{"(intercept)", "steel[Fenland Plain]",
                                             "steel[Marl Tough]", "ln tan angle", "ln finish"}));
  for (const char* key : {"angle_deg", "low", "high", "difference", "extrapolated", "method"})
    EXPECT_TRUE(json["match"].contains(key)) << key;
  EXPECT_LT(json["match"]["low"], json["match"]["angle_deg"]);
  EXPECT_GT(json["sigma"], json["sigma_ml"]);
  const Json finish =
      run("life " + kDemo + " --threshold 450gf --match-finish 'Marl Tough@6:Fenland Plain' --json")
          .json();
  EXPECT_TRUE(finish["match"].contains("finish_um"));
  // Every run censored: an answer of its own, still JSON.
  const CliAnswer none = run("life " + kDemo + " --threshold 99999gf --json");
  EXPECT_EQ(none.code, 5);
  EXPECT_TRUE(none.json()["coefficients"].empty());
}

TEST(CommandLine, ImportExportCheckGoRound) {
  const test::Folder folder;
  const std::string project = (folder / "p.bquarry").string(), csv = (folder / "o.csv").string();
  const CliAnswer imported = run("import " + project + " " + kDemo + " --json");
  EXPECT_EQ(imported.json(), (Json{{"runs", 55}, {"readings", 1632}, {"skipped", 0}}));
  EXPECT_EQ(run("check " + project + " --json").json(),
            (Json{{"ok", true}, {"problems", Json::array()}, {"remarks", Json::array()}}));
  EXPECT_EQ(run("export " + project + " --to " + csv).code, 0);
  EXPECT_EQ(test::read_file(csv), test::read_file(kDemo));
  EXPECT_EQ(run("fit " + project + " --json").out, run("fit - --json < " + kDemo).out);
  EXPECT_EQ(run("export " + project + " --to " + (folder / "o.json").string()).code, 0);
  EXPECT_EQ(Json::parse(test::read_file(folder / "o.json"))["runs"].size(), 55u);
  EXPECT_EQ(run("import " + project + " " + kDemo).code, 3);  // the runs are there already
  EXPECT_EQ(run("export " + project + " --to /proc/nowhere/o.csv").code, 4);
  EXPECT_EQ(run("export " + project + " --to o.doc").code, 2);
}

TEST(CommandLine, RefusesBadTablesAndWritesNothing) {
  const test::Folder folder;
  const auto bad =
      folder.write("bad.csv", "run,cuts,reading,unit\nA,0,5,gf\nA,x,5,gf\nA,9,-1,gf\n");
  const auto project = folder / "p.bquarry";
  const CliAnswer refused = run("import " + project.string() + " " + bad.string());
  EXPECT_EQ(refused.code, 3);
  EXPECT_NE(refused.err.find(bad.string() + ":3:3: cuts"), std::string::npos);
  EXPECT_NE(refused.err.find(bad.string() + ":4:5: a reading"), std::string::npos);
  EXPECT_FALSE(std::filesystem::exists(project));
  const CliAnswer skipped =
      run("import " + project.string() + " " + bad.string() + " --skip-bad --json");
  EXPECT_EQ(skipped.json(), (Json{{"runs", 1}, {"readings", 1}, {"skipped", 2}}));
  EXPECT_EQ(run("fit " + bad.string() + " --json").code, 3);
  EXPECT_EQ(run("fit " + (folder / "none.csv").string()).code, 4);
  EXPECT_EQ(run("check " + folder.write("x.bquarry", "hello").string()).code, 3);
}

TEST(CommandLine, WrongUsageIsTwo) {
  for (const char* arguments :
       {"", "fit", "frobnicate", "fit x --model cubic", "life x --interactions steel"})
    EXPECT_EQ(run(arguments).code, 2) << arguments;
  EXPECT_EQ(run("fit " + kDemo + " --model cubic").code, 2);
  EXPECT_EQ(run("fit " + kDemo + " --threshold 450").code,
            0);  // a bare number is in the table's unit
  EXPECT_EQ(run("fit " + kDemo + " --threshold 5mm").code, 2);
  EXPECT_EQ(run("fit " + kDemo + " --run Nobody").code, 2);
  EXPECT_EQ(run("life " + kDemo + " --match-angle 'Marl Tough@95:Fenland Plain'").code, 2);
  EXPECT_EQ(run("life " + kDemo + " --terms steel,colour").code, 3);
  EXPECT_EQ(run("--help").code, 0);
}

TEST(CommandLine, RecommendRanksWithReasons) {
  const test::Folder folder;
  const auto limits =
      folder.write("limits.json", R"({"threshold": "450 gf", "largest_angle_deg": 16, "mood": 1})");
  const CliAnswer answer = run("recommend " + kDemo + " --limits " + limits.string() + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  EXPECT_NE(answer.err.find("\"mood\" is not known"), std::string::npos);
  const Json json = answer.json();
  for (const auto& edge : json["ranked"]) {
    for (const char* key : {"steel", "angle_deg", "finish_um", "life", "life_low", "force_N",
                            "damage_ratio", "reasons", "evidence_runs"})
      EXPECT_TRUE(edge.contains(key)) << key;
    EXPECT_LE(edge["angle_deg"], 16);
  }
  EXPECT_TRUE(json["next_best_run"].contains("steel"));
  EXPECT_EQ(run("recommend " + kDemo + " --limits " + folder.write("l.json", "[1]").string()).code,
            3);
}

TEST(CommandLine, SimulateIsSeeded) {
  const std::string recipe = BQ_SOURCE_DIR "/demo/fernmoor.json";
  EXPECT_EQ(run("simulate " + recipe + " --seed 20299").out, test::read_file(kDemo));
  EXPECT_NE(run("simulate " + recipe + " --seed 2").out, test::read_file(kDemo));
  EXPECT_EQ(run("simulate " + kDemo).code, 3);
}

TEST(CommandLine, TextAnswersSayWhatTheJsonSays) {
  const test::Folder folder;
  const auto text = [](const std::string& arguments, int code = 0) {
    const CliAnswer answer = run(arguments);
    EXPECT_EQ(answer.code, code) << arguments << "\n" << answer.err;
    for (const char* wrong : {" nan", " inf", "-nan", "e+", "null"})
      EXPECT_EQ(answer.out.find(wrong), std::string::npos) << arguments << " says " << wrong;
    return answer.out;
  };
  // The same numbers, rounded for reading.
  const Json fit = run("fit " + kDemo + " --threshold 450gf --run C05 --json").json()["runs"][0];
  const std::string shown = text("fit " + kDemo + " --threshold 450gf --run C05");
  EXPECT_NE(shown.find("C05"), std::string::npos);
  EXPECT_NE(shown.find(fit["model"].get<std::string>()), std::string::npos);
  EXPECT_NE(
      shown.find(std::to_string(int(std::lround(double(fit["cuts_to_threshold"]["estimate"]))))),
      std::string::npos)
      << shown;
  EXPECT_NE(run("life " + kDemo + " --threshold 450gf").err.find("3 media, put together here"),
            std::string::npos);
  const std::string life = text("life " + kDemo +
                                " --threshold 450gf --medium 'rubberised coir mat 8 mm' "
                                "--match-angle 'Marl Tough@18:Fenland Plain'");
  EXPECT_NE(life.find("13.5"), std::string::npos) << life;
  EXPECT_NE(life.find("ln tan angle"), std::string::npos);
  EXPECT_NE(text("recommend " + kDemo).find("sure that no edge lasts a tenth longer"),
            std::string::npos);
  EXPECT_EQ(text("fit " + kDemo + " --threshold 450gf").find("\t"), std::string::npos)
      << "columns are aligned with blanks";
  const std::string project = (folder / "p.bquarry").string();
  EXPECT_EQ(text("import " + project + " " + kDemo),
            "55 runs and 1632 readings imported, 0 rows skipped\n");
  EXPECT_NE(text("check " + project).find("is in order"), std::string::npos);
  EXPECT_NE(text("grit P400").find("FEPA 43-1"), std::string::npos);
  EXPECT_NE(text("grit '12 um'").find("ANSI 800"), std::string::npos);
  const auto section = folder.write(
      "s.json",
      R"({"stock_mm":2,"height_mm":20,"grinds":[{"op":"flat","angle_deg":4,"until":{"thickness_mm":0.4}},
    {"op":"hollow","side":"left","angle_deg":20,"radius_mm":90,"until":{"facet_um":900}},{"op":"flat","angle_deg":22,"until":{"depth_mm":0.3}}],
    "load":{"line_N_per_mm":30,"depth_um":100},"toughness":"brittle","hardness_hrc":64,"at_mm":[1,40],"edge_length_mm":80,"rate_mm3_per_min":20,
    "parting_depth_mm":6,"touch_ups":{"worn_width_um":8,"edge_deg":22,"count":3,"limit_mm":0.1}})");
  const std::string edge = text("section " + section.string());
  for (const char* wanted :
       {"inclusive 44", "beyond the spine", "mm³", "estimate:", "thinning is due", "measured"})
    if (std::string(wanted) != "measured") {
      EXPECT_NE(edge.find(wanted), std::string::npos) << wanted << "\n" << edge;
    } else {
      EXPECT_EQ(edge.find(wanted), std::string::npos) << "nothing was measured here";
    }
  // What cannot be opened is one sentence, never a number.
  for (const char* arguments : {"fit nowhere.csv", "check nowhere.bquarry", "section nowhere.json",
                                "export nowhere.bquarry --to x.csv"}) {
    const CliAnswer answer = run(arguments);
    EXPECT_EQ(answer.code, 4) << arguments;
    EXPECT_EQ(answer.err, "There is no file \"" +
                              std::string(arguments)
                                  .substr(std::string(arguments).find("nowhere"))
                                  .substr(0, std::string(arguments)
                                                 .substr(std::string(arguments).find("nowhere"))
                                                 .find(' ')) +
                              "\".\n");
  }
  for (const char* arguments :
       {"", "dance", "fit", "fit ", "life --terms", "fit x.csv --level 7", "section"})
    EXPECT_EQ(run(arguments).code, 2) << arguments;
}

TEST(CommandLine, ATerminalShowsWhatANameWouldDoToIt) {
  const test::Folder folder;
  std::string rows = "run,cuts,reading,unit\n";
  for (const auto& [cuts, reading] :
       {std::pair(0, 100), {50, 140}, {100, 190}, {200, 260}, {400, 380}})
    rows += "A\x1b[31mB," + std::to_string(cuts) + "," + std::to_string(reading) + ",gf\n";
  const auto table = folder.write("t.csv", rows);
  // `script` gives the program a terminal; a pipe takes the bytes as they are.
  const std::string fit = std::string(BQ_CLI) + " fit " + table.string();
  const auto seen = folder / "seen";
  ASSERT_EQ(std::system(("script -qec '" + fit + "' /dev/null > '" + seen.string() + "'").c_str()),
            0);
  const std::string text = test::read_file(seen);
  EXPECT_NE(text.find("A␛[31mB"), std::string::npos) << text;
  EXPECT_EQ(text.find('\x1b'), std::string::npos);
}

TEST(CommandLine, TheReadmesExamplesRunAsTheyStand) {
  const test::Folder folder;
  std::filesystem::create_directory_symlink(BQ_SOURCE_DIR "/demo", folder / "demo");
  std::istringstream readme(test::read_file(BQ_SOURCE_DIR "/README.md"));
  const std::string program = "build/bin/brave-quarry-cli ";
  int run = 0;
  for (std::string line; std::getline(readme, line);) {
    if (!line.starts_with(program)) continue;
    const std::string arguments = line.substr(program.size(), line.find(" #") - program.size());
    const std::string command =
        "cd " + (folder / "").string() + " && " BQ_CLI " " + arguments + " >out 2>err";
    EXPECT_EQ(std::system(command.c_str()), 0) << line << "\n" << test::read_file(folder / "err");
    ++run;
  }
  EXPECT_GE(run, 8);
}

TEST(CommandLine, ATableAsItIsKeptIsAskedAboutAndComesInByItsMap) {
  const test::Folder folder;
  const auto table = folder.write("mine.csv",
                                  "Bench of May\nVersuch;Stahl;Winkel;Schnitte;Kraft\n"
                                  "A;Marl;24;0;1,5\nA;Marl;24;50;2,25\n");
  const std::string project = (folder / "p.bquarry").string();
  const auto asked = run("import " + project + " " + table.string() + " --json");
  EXPECT_EQ(asked.code, 3);
  EXPECT_FALSE(std::filesystem::exists(project));
  const auto json = asked.json();
  EXPECT_EQ(json["shape"], "long");
  ASSERT_EQ(json["questions"].size(), 2U);
  EXPECT_EQ(json["questions"][0]["key"], "angles");
  EXPECT_EQ(json["questions"][1]["key"], "unit");
  EXPECT_NE(asked.err.find("(map: unit)"), std::string::npos) << asked.err;
  const auto map = folder.write("map.json", R"({"angles": "inclusive", "unit": "N"})");
  const std::string with_map =
      "import " + project + " " + table.string() + " --map " + map.string();
  const auto dry = run(with_map + " --dry-run");
  EXPECT_EQ(dry.code, 0) << dry.err;
  EXPECT_NE(dry.out.find("1 runs and 2 readings would be imported"), std::string::npos) << dry.out;
  EXPECT_FALSE(std::filesystem::exists(project));
  const auto done = run(with_map + " --json");
  ASSERT_EQ(done.code, 0) << done.err;
  EXPECT_EQ(done.json()["readings"], 2);
  EXPECT_EQ(done.json()["columns"][2]["meaning"], "edge_angle");
  EXPECT_EQ(run(with_map + " --map " + table.string()).code, 2);
}
