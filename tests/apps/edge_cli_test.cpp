// section, clamp, marker and grit as a person or a script runs them.
#include <gtest/gtest.h>

#include <cmath>

#include "run_cli.h"
#include "stats/random.h"
#include "store/jig_files.h"
#include "store/section_file.h"
#include "support.h"

using namespace bq;
using test::CliAnswer;
using test::run_cli;
using Json = nlohmann::json;

namespace {

const char* kSection = R"({"stock_mm":2,"height_mm":22,"grinds":[
 {"op":"flat","side":"both","angle_deg":3,"until":{"thickness_mm":0.4}},
 {"op":"flat","side":"both","angle_deg":14,"until":"apex"},
 {"op":"flat","side":"both","angle_deg":20,"until":{"facet_um":50}}],
 "hardness_hrc":60,"bend_strength_MPa":3000,"load":{"line_N_per_mm":20,"depth_um":80},"at_mm":[0.5,30]})";

const char* kClamp =
    R"({"pivot":{"x_mm":60,"height_mm":34,"lateral_mm":110},"offset_mm":2,"preset":"belly","length_mm":130,
 "stations":[{"name":"heel","x_mm":5},{"name":"middle","x_mm":65}],"hold":{"station":"middle","angle_deg":15},"shift_limits_mm":[-30,30]})";

}  // namespace

TEST(EdgeCommands, SectionGivesEveryFixedKey) {
  const test::Folder folder;
  const CliAnswer answer =
      run_cli("section " + folder.write("s.json", kSection).string() + " --json");
  ASSERT_EQ(answer.code, 0) << answer.err;
  const Json json = answer.json();
  EXPECT_NEAR(json["inclusive_deg"], 40, 1e-9);
  ASSERT_EQ(json["facets"].size(), 6U);
  for (const auto& facet : json["facets"])
    for (const char* key : {"side", "angle_deg", "width_um", "from_um", "to_um"})
      EXPECT_TRUE(facet.contains(key)) << key;
  EXPECT_NEAR(json["facets"][0]["width_um"], 50, 1e-6);
  EXPECT_GT(json["shoulder_thickness_mm"], 0.4);
  EXPECT_EQ(json["thickness_mm"][0]["at_mm"], 0.5);
  EXPECT_TRUE(json["thickness_mm"][1]["value"].is_null()) << "beyond the spine";
  EXPECT_GT(json["removed_mm2"], 12);
  EXPECT_GT(json["apex_receded_mm"], 0.02);
  for (const char* key : {"peak_ratio", "at_um", "thickness_um", "least_angle_deg"})
    EXPECT_TRUE(json["stress"].contains(key)) << key;
  EXPECT_TRUE(json["stress"]["neck"]);
  EXPECT_EQ(run_cli("section - --json < " + folder.write("t.json", kSection).string()).out,
            answer.out);
  // A polished micro-bevel drags less; a soft strop meets the apex steeper.
  std::string richer = kSection;
  richer.insert(
      richer.rfind('}'),
      R"(,"parting_depth_mm":5,"friction_by_grind":[null,null,0.05],"substrate":{"thickness_mm":2,"modulus_MPa":8,"pressure_MPa":0.4})");
  const Json rich =
      run_cli("section " + folder.write("r.json", richer).string() + " --json").json();
  EXPECT_NEAR(rich["substrate"]["sink_um"], 100, 1e-9);
  EXPECT_GT(rich["parting"]["index"], 0);
  // The least angle is that of a wedge which the load brings just to the limit.
  const double limit = json["stress"]["limit_MPa"], least = json["stress"]["least_angle_deg"];
  EXPECT_NEAR(0.375 * 20 / (0.04 * std::pow(std::tan(least * M_PI / 180), 2)), limit, 1e-6 * limit);
}

TEST(EdgeCommands, ClampAndMarkerGiveTheirFixedKeys) {
  const test::Folder folder;
  const Json clamp = run_cli("clamp " + folder.write("c.json", kClamp).string() + " --json").json();
  EXPECT_NEAR(clamp["angles"][1]["angle_deg"], 15, 1e-9);
  EXPECT_EQ(clamp["angles"][0]["station"], "heel");
  EXPECT_EQ(clamp["angles"][0]["x_mm"], 5);
  EXPECT_LT(clamp["best_range_deg"], clamp["range_deg"]);
  EXPECT_LE(std::abs(double(clamp["best_shift_mm"])), 30);
  EXPECT_GT(clamp["pivot_lateral_mm"], 100);
  const auto marker = [&](const std::string& touches) {
    return run_cli(
               "marker " +
               folder.write("m.json", "{\"guess_deg\":15,\"touches\":[" + touches + "]}").string() +
               " --json")
        .json();
  };
  const Json first = marker("");
  EXPECT_EQ(first["next_deg"], 18);
  EXPECT_TRUE(first["contradictions"].empty());
  EXPECT_FALSE(first.contains("low"));
  std::string touches;
  for (const char* touch : {"18 apex", "12 shoulder", "15 whole", "16 apex", "14 shoulder",
                            "16 apex", "14 shoulder", "15.5 whole", "14.5 whole"}) {
    const std::string text = touch, word = text.substr(text.find(' ') + 1);
    touches += (touches.empty() ? "" : ",") + std::string("{\"angle_deg\":") +
               text.substr(0, text.find(' ')) + ",\"ink\":\"" +
               (word == "whole" ? "whole bevel" : word + " only") + "\"}";
  }
  const Json done = marker(touches);
  ASSERT_TRUE(done.contains("angle_deg")) << done.dump();
  EXPECT_LT(done["low"], 15.0);
  EXPECT_GT(done["high"], 15.0);
  EXPECT_LE(double(done["high"]) - double(done["low"]), 1.0);
}

TEST(EdgeCommands, GritSpeaksBothWays) {
  const Json size = run_cli("grit JIS 1000 --json").json();
  EXPECT_EQ(size["designation"], "JIS 1000");
  for (const char* key : {"mean_um", "low_um", "high_um"})
    EXPECT_TRUE(size[key].is_number()) << key;
  EXPECT_EQ(run_cli("grit P400 --json").json()["mean_um"], 35.0);
  EXPECT_EQ(run_cli("grit '12 um' --json").json()["near"].size(), 4U);
  EXPECT_EQ(run_cli("grit 400").code, 3);
  EXPECT_EQ(run_cli("grit").code, 2);
  EXPECT_EQ(run_cli("grit '0.01 um' --json").code, 5);
}

TEST(EdgeCommands, RefuseWithThePlaceInTheFile) {
  const test::Folder folder;
  const auto refused = [&](const std::string& command, const std::string& text,
                           const std::string& place) {
    const CliAnswer answer =
        run_cli(command + " " + folder.write("bad.json", text).string() + " --json");
    EXPECT_EQ(answer.code, 3) << text;
    EXPECT_TRUE(answer.out.empty()) << answer.out;
    EXPECT_NE(answer.err.find(place), std::string::npos) << answer.err;
  };
  refused("section", "{\n \"stock_mm\": 2,\n \"height_mm\" 3}", "bad.json:3:");
  refused("section", R"({"stock_mm":1e999,"height_mm":20})", "too large");
  refused("section", "", "bad.json:1:1");
  refused("section", "[]", "must be an object");
  refused("section", R"({"stock_mm":2})", "height_mm: is missing");
  refused("section", R"({"stock_mm":-2,"height_mm":20})", "stock_mm");
  refused("section", R"({"stock_mm":0,"height_mm":20})", "stock");
  refused(
      "section",
      R"({"stock_mm":2,"height_mm":20,"grinds":[{"op":"flat","angle_deg":15,"until":"apex"},{"op":"flat","until":"apex"}]})",
      "grinds[1].angle_deg");
  refused("section",
          R"({"stock_mm":2,"height_mm":20,"grinds":[{"op":"flat","angle_deg":85,"until":"apex"}]})",
          "grind 1");
  refused("section",
          R"({"stock_mm":2,"height_mm":20,"grinds":[{"op":"dish","angle_deg":5,"until":"apex"}]})",
          "grinds[0].op");
  refused(
      "section",
      R"({"stock_mm":2,"height_mm":20,"grinds":[{"op":"flat","angle_deg":5,"until":{"width":1}}]})",
      "until");
  refused("section", R"({"profile_mm":[[0,0],[2,0.5],[1,0.7]]})", "cross itself");
  refused("section", R"({"stock_mm":2,"height_mm":20,"load":{"line_N_per_mm":0,"depth_um":9}})",
          "load.line_N_per_mm");
  refused("clamp",
          R"({"pivot":{"x_mm":0,"height_mm":0,"lateral_mm":9},"outline_mm":[[0,0],[9,0]]})",
          "pivot.height_mm");
  refused(
      "clamp",
      R"({"pivot":{"x_mm":0,"height_mm":9,"lateral_mm":50},"outline_mm":[[0,0],[9,0],[9,4],[4,-4]]})",
      "crosses itself");
  refused("clamp", R"({"pivot":{"x_mm":0,"height_mm":9,"lateral_mm":50},"outline_mm":[[0,0]]})",
          "outline_mm");
  refused("clamp",
          R"({"pivot":{"x_mm":0,"height_mm":90,"lateral_mm":1},"outline_mm":[[0,0],[9,0]]})",
          "between 0° and 80°");
  refused("marker", R"({"guess_deg":15,"touches":[{"angle_deg":18,"ink":"top"}]})",
          "touches[0].ink");
  refused("marker", R"({"guess_deg":"x"})", "guess_deg: must be a number");
  const CliAnswer noted = run_cli(
      "section " + folder.write("n.json", R"({"stock_mm":2,"height_mm":20,"colour":1})").string() +
      " --json");
  EXPECT_EQ(noted.code, 0);
  EXPECT_NE(noted.err.find("\"colour\" is not known"), std::string::npos);
}

TEST(EdgeFiles, PlansGoRoundThroughTheirJson) {
  const auto question =
      *parse_section_file(R"({"profile_mm":[[0,0],[2,0.5],[9,1]],"apex_um":2,"grinds":[
    {"op":"hollow","side":"left","angle_deg":5,"radius_mm":80,"until":{"depth_mm":0.2}},
    {"op":"convex","angle_deg":12,"angle_to_deg":18,"until":{"behind_edge_mm":0.3}},
    {"op":"flat","angle_deg":12,"angle_right_deg":16,"until":{"thickness_mm":0.01}}]})");
  const auto again = parse_section_plan(section_plan_json(question.plan));
  ASSERT_TRUE(again.ok()) << again.refusal().reason;
  EXPECT_EQ(*again, question.plan);
}

TEST(EdgeFiles, NoBytesMakeTheReadersFail) {
  stats::Random random(31);
  const std::string sources[] = {
      kSection, kClamp, R"({"guess_deg":15,"touches":[{"angle_deg":18,"ink":"apex only"}]})"};
  int made = 0;
  for (int i = 0; i < 6000; ++i) {
    std::string text = sources[i % 3];
    for (int k = 1 + int(random.uniform() * 6); k > 0; --k) {
      const auto at = std::size_t(random.uniform() * double(text.size()));
      switch (int(random.uniform() * 4)) {
        case 0:
          text[at] = char(int(random.uniform() * 256));
          break;
        case 1:
          text.erase(at, std::size_t(1 + random.uniform() * 5));
          break;
        case 2:
          text.insert(at, std::to_string(int(random.uniform() * 2000 - 1000)));
          break;
        default:
          text.insert(at, std::string(1, "[]{},:\"-.e"[int(random.uniform() * 10)]));
      }
    }
    const auto section = parse_section_file(text);
    if (section) {
      ++made;
      (void)make_section(section->plan);
    }
    (void)parse_clamp_file(text);
    (void)parse_marker_file(text);
  }
  EXPECT_GT(made, 20) << "some of them are still readable";
}
