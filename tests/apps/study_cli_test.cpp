// gauge, damage and the blade effect on the command line.
#include <gtest/gtest.h>

#include <cmath>
#include <nlohmann/json.hpp>
#include <set>

#include "run_cli.h"
#include "support.h"

using namespace bq;
using Json = nlohmann::json;

TEST(StudyCli, GaugeAnswersInTheFirstRowsUnitAndRefusesWithThePlace) {
  const test::Folder folder;
  std::string csv = "part,operator,repeat,reading,unit\n";
  for (int part = 0; part < 3; ++part)
    for (const char* by : {"A", "B"})
      for (int r = 1; r <= 2; ++r)
        csv += std::to_string(part) + "," + by + "," + std::to_string(r) + "," +
               std::to_string(100 + 10 * part + r) + (r == 2 && part == 1 ? ",gf\n" : ",gf\n");
  const auto answer = test::run_cli("gauge " + folder.write("g.csv", csv).string() + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json out = Json::parse(answer.out);
  EXPECT_EQ(out["unit"], "gf");
  EXPECT_EQ(out["parts"], 3);
  EXPECT_GT(out["distinct_categories"].get<int>(), 5);
  EXPECT_DOUBLE_EQ(out["reproducibility_sd"].get<double>(), 0);
  const auto bad = test::run_cli(
      "gauge " +
      folder.write("b.csv", "part,operator,repeat,reading\n1,A,1,100\n1,A,2,-3\n1,A,1,99\n")
          .string());
  EXPECT_EQ(bad.code, 3);
  EXPECT_NE(bad.err.find("b.csv:3:7: reading must be a number above 0, not \"-3\""),
            std::string::npos)
      << bad.err;
  EXPECT_NE(bad.err.find("b.csv:4:5: this part, operator and repeat occurred before"),
            std::string::npos)
      << bad.err;
  EXPECT_EQ(
      test::run_cli(
          "gauge " +
          folder.write("o.csv", "part,operator,repeat,reading\n1,A,1,100\n1,A,2,101\n").string())
          .code,
      5);
}

TEST(StudyCli, DamageBoundsEveryAngleAndProposes) {
  const test::Folder folder;
  const auto path = folder
                        .write("d.csv",
                               "edge_angle,cuts,damaged,damaged_um\n10,50,1,60\n12,50,yes,40\n14,"
                               "50,0,\n14,300,no,\n")
                        .string();
  const auto answer = test::run_cli("damage " + path + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json out = Json::parse(answer.out);
  ASSERT_EQ(out["blocks"].size(), 3u);
  EXPECT_TRUE(out["blocks"][0]["rate_upper"].is_null()) << "every block damaged: no bound";
  EXPECT_NEAR(out["blocks"][2]["rate_upper"].get<double>(), 1 - std::pow(0.05, 1.0 / 350), 1e-12);
  EXPECT_EQ(out["proposal"]["finished"], true);
  const Json earlier = Json::parse(
      test::run_cli(
          "damage " +
          folder.write("e.csv", "edge_angle,cuts,damaged,damaged_um\n10,50,1,60\n").string() +
          " --json")
          .out);
  EXPECT_EQ(earlier["proposal"]["angle_deg"], 12);
  EXPECT_EQ(earlier["proposal"]["bevel_thickness_um"], 36) << "six tenths of it";
  EXPECT_EQ(earlier["proposal"]["regrind_deg"], 10);
  EXPECT_TRUE(earlier["load"].is_null());
  const std::string whole =
      "edge_angle,cuts,damaged,damaged_um,bevel_deg,bevel_um,micro_deg,micro_um,steel,use\n"
      "8,40,1,110,,,17,60,Marl Tough,corners\n8,40,1,78,10.5,66,17,60,Marl Tough,corners\n";
  const Json sections =
      Json::parse(test::run_cli("damage " + folder.write("w.csv", whole).string() +
                                " --step 2.5 --bears 2400 --json")
                      .out);
  EXPECT_EQ(sections["proposal"]["bevel_deg"], 13);
  EXPECT_EQ(sections["proposal"]["bevel_um"], 66);
  EXPECT_EQ(sections["proposal"]["regrind_deg"], 8);
  EXPECT_LT(sections["load"]["low"].get<double>(), sections["load"]["high"].get<double>());
  const auto mixed = test::run_cli(
      "damage " +
      folder.write("m.csv", whole + "8,40,1,78,10.5,66,17,60,Cairn Hard,corners\n").string());
  EXPECT_NE(mixed.err.find("m.csv:4:25: one search is of one steel and one use"), std::string::npos)
      << mixed.err;
  const auto bad = test::run_cli(
      "damage " + folder.write("b.csv", "edge_angle,cuts,damaged\n95,50,1\n10,0.5,2\n").string());
  EXPECT_EQ(bad.code, 3);
  EXPECT_NE(bad.err.find("b.csv:2:1: edge_angle must be degrees per side"), std::string::npos)
      << bad.err;
  EXPECT_NE(bad.err.find("b.csv:3:8: damaged must be 0, 1, yes or no"), std::string::npos)
      << bad.err;
}

TEST(StudyCli, ABladeEffectWidensWhatIsKnownOfSteels) {
  const auto life = [](const char* more) {
    return Json::parse(
        test::run_cli(
            "life " BQ_SOURCE_DIR
            "/demo/fernmoor.csv --threshold 450gf --medium 'rubberised coir mat 8 mm' --json " +
            std::string(more))
            .out);
  };
  const Json plain = life("--fixed-blades"), blades = life("");
  EXPECT_TRUE(plain["blade_sd"].is_null());
  ASSERT_TRUE(blades["blade_sd"].is_number());
  double plain_se = 0, blade_se = 0;
  for (const auto& c : plain["coefficients"])
    if (c["name"] == "steel[Marl Tough]") plain_se = c["se"];
  for (const auto& c : blades["coefficients"])
    if (c["name"] == "steel[Marl Tough]") blade_se = c["se"];
  EXPECT_GT(blade_se, plain_se);
}

TEST(DecideCli, RecommendKnowsForceDamageAndMixesOfAProject) {
  const test::Folder folder;
  const std::string project = test::whole_demo_project(folder).string();
  const auto limits =
      folder
          .write(
              "l.json",
              R"({"mix": [{"medium": "rubberised coir mat 8 mm", "share": 3}, {"medium": "latex foam 25 mm", "share": 1}], "most_minutes": 30, "wishes": {"life": 1, "force": 1}})")
          .string();
  const auto answer =
      test::run_cli("recommend " + project + " --threshold 250gf --limits " + limits + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json out = Json::parse(answer.out);
  ASSERT_EQ(out["work"].size(), 2u);
  EXPECT_DOUBLE_EQ(out["work"][0]["share"].get<double>(), 0.75);
  const Json& first = out["ranked"][0];
  EXPECT_EQ(first["force_of"], "filament") << "no stroke was made in the foam";
  EXPECT_TRUE(first["force_blunt_N"].is_null());
  const auto coir = test::run_cli(
      "recommend " + project + " --threshold 250gf --limits " +
      folder.write("c.json", R"({"medium": "rubberised coir mat 8 mm"})").string() + " --json");
  const Json stroked = Json::parse(coir.out)["ranked"][0];
  EXPECT_EQ(stroked["force_of"], "stroke");
  EXPECT_GT(stroked["force_blunt_N"].get<double>(), stroked["force_N"].get<double>());
  EXPECT_TRUE(first["damage_ratio"].is_number());
  EXPECT_LE(first["touch_up"]["minutes"].get<double>(), 30);
  EXPECT_EQ(out["schools"].size(), 3u);
  EXPECT_TRUE(out["prospect"]["cuts_in_all"].is_number());
  double before = 1e300;
  for (const auto& edge : out["ranked"]) {
    EXPECT_LE(edge["score"].get<double>(), before + 1e-12);
    before = edge["score"];
  }
  // Nothing passes: still an answer, and the code says so.
  const auto none =
      test::run_cli("recommend " + project + " --limits " +
                    folder.write("n.json", R"({"most_force_N": 0.1})").string() + " --json");
  EXPECT_EQ(none.code, 5);
  EXPECT_TRUE(Json::parse(none.out)["ranked"].empty());
  EXPECT_EQ(test::run_cli("recommend " + project + " --limits " +
                          folder.write("b.json", R"({"most_force_N": "little"})").string())
                .code,
            3);
  // Without evidence: customs, marked as such.
  const auto few = test::run_cli(
      "recommend " + folder.write("f.csv", "run,cuts,reading,unit\nA,0,100,gf\n").string() +
      " --json");
  EXPECT_EQ(few.code, 5);
  EXPECT_EQ(Json::parse(few.out)["starting_ranges"][0]["origin"], "convention");
}

TEST(DecideCli, ReportsComeOutTheSameForTheSameDay) {
  const test::Folder folder;
  const std::string project = test::whole_demo_project(folder).string();
  for (const char* ending : {"pdf", "html", "xlsx"}) {
    const auto path = [&](const char* name) {
      return (folder / (std::string(name) + "." + ending)).string();
    };
    ASSERT_EQ(test::run_cli("export " + project + " --to " + path("a") + " --date 2026-03-10").code,
              0)
        << ending;
    ASSERT_EQ(test::run_cli("export " + project + " --to " + path("b") + " --date 2026-03-10").code,
              0)
        << ending;
    EXPECT_EQ(test::read_file(path("a")), test::read_file(path("b"))) << ending;
    EXPECT_GT(test::read_file(path("a")).size(), 20000u) << ending;
    EXPECT_FALSE(std::filesystem::exists(path("a") + ".part"));
  }
  EXPECT_EQ(test::read_file(folder / "a.xlsx").substr(0, 2), "PK");
  EXPECT_EQ(test::run_cli("export " + project + " --to " + (folder / "c.pdf").string() +
                          " --date yesterday")
                .code,
            2);
  const auto empty =
      test::run_cli("export " + folder.write("e.csv", "run,cuts,reading,unit\n").string() +
                    " --to " + (folder / "e.pdf").string());
  EXPECT_EQ(empty.code, 3) << empty.err;
  EXPECT_FALSE(std::filesystem::exists(folder / "e.pdf"));
  EXPECT_EQ(test::run_cli("export " + project + " --to " + (folder / "no/where.pdf").string()).code,
            4);
}

// A nick in an edge ground to zero: what the whole of it costs, and the ways round it; the
// deburring goes by the steel.
TEST(LadderCli, PlansASharpeningFromItsFile) {
  const test::Folder folder;
  const std::string file = folder
                               .write("nick.json", R"({"section": {"stock_mm": 3, "height_mm": 30,
                      "grinds": [{"op": "flat", "side": "both", "angle_deg": 11.5, "until": "apex"}]},
 "edge_length_mm": 100, "dull_um": 3, "chip_um": 300, "wanted": {"edge_deg": 11.5, "finish_um": 3},
 "steel": {"hrc": 58, "hard_phase_percent": 2},
 "shelf": [{"name": "Coarse plate", "um": 120, "rate_mm3_per_min": 40, "kind": "diamond plate"},
           {"name": "Grey", "um": 35, "rate_mm3_per_min": 10},
           {"name": "Fine", "um": 10, "rate_mm3_per_min": 2},
           {"name": "Film 3", "um": 3, "rate_mm3_per_min": 0.4, "kind": "film"},
           {"name": "Film 1", "um": 1, "rate_mm3_per_min": 0.1, "kind": "film"}], "burr": "coarsest"})")
                               .string();
  const auto answer = test::run_cli("ladder " + file + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json out = Json::parse(answer.out);
  EXPECT_LT(out["total"]["mm3"].get<double>(), 1.1 * 90);
  EXPECT_NEAR(out["total"]["recedes_um"].get<double>(), 300, 8)
      << "the nick and the last scratches";
  double sum = 0;
  std::set<std::string> acts;
  for (const auto& step : out["steps"]) {
    if (step["mm3"].is_number()) sum += step["mm3"].get<double>();
    acts.insert(step["act"]);
    if (step["act"] == "grind") {
      EXPECT_LE(step["strokes_per_side"].get<int>(), 500) << step.dump();
    }
  }
  EXPECT_NEAR(sum, out["total"]["mm3"].get<double>(), 1e-6);
  EXPECT_TRUE(acts.contains("deburr") && acts.contains("strop")) << answer.out;
  // A ductile steel's burr is broken on the finest hard surface, above the edge's own angle.
  bool broken = false;
  for (const auto& step : out["steps"])
    broken = broken ||
             (step["act"] == "deburr" && step["abrasive"] == "Film 1" && step["angle_deg"] == 13.5);
  EXPECT_TRUE(broken) << answer.out;
  EXPECT_NE(out["remarks"].dump().find("three ways out"), std::string::npos) << out["remarks"];
  const auto words = test::run_cli("ladder " + file);
  EXPECT_NE(words.out.find("strokes a side, in groups of 10 with turning over between"),
            std::string::npos)
      << words.out;
  const auto bad = test::run_cli(
      "ladder " +
      folder.write("bad.json", R"({"section": {"stock_mm": 3}, "wanted": {}})").string());
  EXPECT_EQ(bad.code, 3);
}
