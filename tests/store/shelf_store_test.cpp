// The shelf, comparisons, rules and before/after tables: through files, undo, older versions and
// hostile bytes.
#include <gtest/gtest.h>

#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "run_cli.h"
#include "stats/random.h"
#include "store/paired_table.h"
#include "store/project_file.h"
#include "store/rule_file.h"
#include "store/shelf_json.h"
#include "support.h"
#include "workflow/project_session.h"
#include "workflow/rule_base.h"
#include "workflow/stones_study.h"

using namespace bq;

namespace {

Abrasive full_abrasive() {
  Abrasive a;
  a.name = "Grey 400 – \"Ä\"";
  a.kind = AbrasiveKind::diamond_plate;
  a.label = "P400";
  a.measured_um = 22.5;
  a.rate_mm3_per_min = 3.25;
  a.rate_pressure = "weight of the hand";
  a.bites = {Bite::well, Bite::slowly, Bite::hardly};
  a.length_mm = 180;
  a.flatness = {{"2026-03-01", 45, 150, false, "lamp"}, {"2026-03-02", 10, 0, true, ""}};
  a.flat_within_um = 25;
  a.check_every_blades = 8;
  a.blades_since_check = 3;
  a.soak_min = 5;
  a.price = 42.5;
  a.usable_mm = 6;
  a.wear_um_per_blade = 12;
  a.break_in_blades = 2;
  a.loaded = a.streaks = a.blackened = a.retired = true;
  a.mess = "slurry";
  a.substrate_mm = 2;
  a.substrate_MPa = 40;
  a.blades_since_upkeep = 7;
  a.note = "lent to \"B\"";
  return a;
}

Comparison full_comparison() {
  Comparison c;
  c.name = "leather against balsa";
  c.first = {"Leather", 2, 0.5, 3, 0.1, "none"};
  c.second = {"Balsa", 3, {}, {}, {}, "dust"};
  c.unit = "N";
  c.price_per_hour = 30;
  c.pairs = {{"B1", "heel", 0.9, 0.8}, {"B1", "tip", 1.0, 0.95}};
  c.note = "third try";
  return c;
}

std::string mutated(std::string text, stats::Random& random) {
  static const std::vector<std::string> kPieces{
      "-",  "1e999", "nan",  "\"",   "{",    "}",    "[",
      "]",  ",",     ":",    "null", "true", "\xff", std::string(1, '\0'),
      "64", "\n",    "\r\n", ";"};
  const auto any = [&](std::size_t n) { return n ? std::size_t(random.uniform() * double(n)) : 0; };
  for (int k = 1 + int(any(4)); k > 0 && !text.empty(); --k) {
    const auto at = any(text.size());
    if (any(3) == 0)
      text.erase(at, 1 + any(9));
    else if (any(2) == 0)
      text[at] = char(any(256));
    else
      text.insert(at, kPieces[any(kPieces.size())]);
  }
  return text;
}

}  // namespace

TEST(Shelf, EveryFieldGoesThroughTheFileAndUndo) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "t");
  {
    auto session = ProjectSession::open(path);
    session.set_abrasive(full_abrasive());
    session.set_comparison(full_comparison());
    Abrasive other = full_abrasive();
    other.loaded = false;
    session.set_abrasive(other);
    session.undo();
    EXPECT_EQ(session.trial().shelf.at(0), full_abrasive());
    Abrasive bad = full_abrasive();
    bad.label = "smooth";
    EXPECT_THROW(session.set_abrasive(bad), StoreError);
    session.remove_comparison(session.trial().comparisons.at(0).id);
    EXPECT_TRUE(session.trial().comparisons.empty());
    session.undo();
  }
  const Trial trial = ProjectFile::open(path, ProjectFile::Access::read).load();
  ASSERT_EQ(trial.shelf.size(), 1U);
  EXPECT_EQ(trial.shelf[0], full_abrasive());
  ASSERT_EQ(trial.comparisons.size(), 1U);
  Comparison read = trial.comparisons[0];
  EXPECT_FALSE(read.made_at.empty());
  read.id = 0;
  read.made_at.clear();
  EXPECT_EQ(read, full_comparison());
  EXPECT_TRUE(ProjectFile::open(path, ProjectFile::Access::read).check().empty());
}

TEST(Shelf, FinishingASharpeningIsOneStepOfUndo) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "t");
  auto session = ProjectSession::open(path);
  Blade blade;
  blade.name = "B1";
  session.add_blade(blade);
  Abrasive a = full_abrasive();
  session.set_abrasive(a);
  Sharpening s;
  SharpeningStep step;
  step.abrasive = a.name;
  step.done = true;
  s.steps = {step, step};  // twice on the same stone: still one blade
  const std::string key = sharpening_key(session.trial().blades[0]);
  session.keep(key, "in hand", "a tap");
  const std::string draft = "ladder:" + std::to_string(session.trial().blades[0].id);
  session.keep(draft, "a deep chip", "the ladder");
  session.finish_sharpening(0, s, key);
  EXPECT_EQ(session.kept(key), "");
  EXPECT_EQ(session.kept(draft), "") << "its chip is ground away";
  EXPECT_EQ(session.trial().shelf[0].blades_since_check, a.blades_since_check + 1);
  EXPECT_EQ(session.trial().shelf[0].break_in_blades, a.break_in_blades - 1);
  ASSERT_EQ(session.trial().blades[0].records.size(), 1U);
  const Trial after = session.trial();
  session.undo();
  EXPECT_EQ(session.kept(key), "in hand");
  EXPECT_EQ(session.kept(draft), "a deep chip");
  EXPECT_TRUE(session.trial().blades[0].records.empty());
  EXPECT_EQ(session.trial().shelf[0], a);
  session.redo();
  EXPECT_EQ(session.trial().blades[0], after.blades[0]);
}

TEST(Shelf, FileOfVersionTwoIsCopiedAndBroughtUpToDate) {
  const test::Folder folder;
  const auto path = folder / "old.bquarry", backup = folder / "old.version-2.bquarry";
  std::filesystem::copy_file(BQ_SOURCE_DIR "/tests/data/version2.bquarry", path);
  const std::string before = test::read_file(path);
  const Trial read = ProjectFile::open(path, ProjectFile::Access::read).load();
  EXPECT_EQ(test::read_file(path), before) << "opened for reading it stays as it is";
  EXPECT_TRUE(read.shelf.empty());
  {
    auto session = ProjectSession::open(path);
    EXPECT_NE(session.opening_note().find("old.version-2.bquarry"), std::string::npos);
    ASSERT_EQ(session.trial().blades.size(), 1U);
    EXPECT_EQ(session.trial().blades[0].records, read.blades[0].records);
    EXPECT_EQ(session.trial().steels, read.steels);
    session.set_abrasive(full_abrasive());
  }
  const Trial copy = ProjectFile::open(backup, ProjectFile::Access::read).load();
  EXPECT_EQ(copy.blades, read.blades);
  EXPECT_EQ(copy.runs.at(0).readings.size(), read.runs.at(0).readings.size());
  EXPECT_TRUE(ProjectFile::open(path, ProjectFile::Access::read).check().empty());
}

TEST(Rules, BuiltInRulesAreSoundAndAnswerTheDescribedCases) {
  const RuleBase base = load_rules({});
  EXPECT_TRUE(base.problems.empty()) << base.problems.front();
  const auto cases =
      nlohmann::json::parse(test::read_file(BQ_SOURCE_DIR "/tests/data/condition_cases.json"));
  EXPECT_GE(cases.size(), 25U);
  std::set<std::string> found;
  for (const auto& item : cases) {
    Observations seen;
    for (const auto& [question, answer] : item["seen"].items()) seen[question] = answer;
    const auto result = weigh(base.condition, seen);
    ASSERT_TRUE(result) << item["case"] << ": " << result.refusal().reason;
    const std::string is = result->found ? base.condition.outcomes[*result->found].id : "?";
    EXPECT_EQ(is, item["is"].get<std::string>()) << item["case"] << ": " << result->sentence;
    found.insert(is);
    EXPECT_EQ(result->steps.size(), seen.size()) << "every answer is accounted for";
    if (is == "?") {
      ASSERT_TRUE(result->next) << item["case"];
      EXPECT_NE(result->sentence.find(base.condition.questions[*result->next].ask),
                std::string::npos)
          << "says where to look";
    } else if (!seen.empty()) {
      EXPECT_TRUE(std::any_of(
          result->steps.begin(), result->steps.end(),
          [](const EvidenceStep& s) { return s.sentence.find("because") != std::string::npos; }))
          << item["case"];
    }
  }
  EXPECT_EQ(found.size(), base.condition.outcomes.size() + 1)
      << "every condition and \"cannot tell\"";
}

TEST(Rules, ProbabilitiesAreBayesRuleByHand) {
  EvidenceKey key;
  key.questions = {{"q", "?", "", Effort::look, "", {{"a", "a", ""}, {"b", "b", ""}}, {}}};
  EvidenceOutcome x{
      "x",    "x", "", Often::often,
      {"do"}, {},  "", {{"q", {{"a", {Often::always, ""}}, {"b", {Often::never, ""}}}}}};
  EvidenceOutcome y{
      "y",    "y", "", Often::seldom,
      {"do"}, {},  "", {{"q", {{"a", {Often::sometimes, ""}}, {"b", {Often::always, ""}}}}}};
  key.outcomes = {x, y};
  key.least_answers = 1;
  const auto result = weigh(key, {{"q", "b"}});
  ASSERT_TRUE(result);
  const double px = 0.65 * (0.01 / 0.96), py = 0.07 * (0.95 / 1.20);
  EXPECT_NEAR(result->ranked[0].probability, py / (px + py), 1e-12);
  EXPECT_EQ(result->ranked[0].outcome, 1U);
  EXPECT_FALSE(weigh(key, {{"q", "c"}}));
  EXPECT_FALSE(weigh(key, {{"r", "a"}}));
}

TEST(Rules, OwnRulesExtendAndFaultyOnesAreNamedAndLeftOut) {
  const test::Folder folder;
  const std::string page = test::read_file(BQ_SOURCE_DIR "/docs/rule-format.md");
  const auto open = page.find("```json\n") + 8;
  folder.write("a-burnt.json", page.substr(open, page.find("```", open) - open));
  folder.write("b-broken.json", "{\"key\": \"edge-condition\",");
  folder.write("c-typo.json",
               R"({"key":"causes","outcomes":[{"id":"x","name":"x","do":["y"],"expekt":{}}]})");
  folder.write(
      "d-unknown.json",
      R"({"key":"causes","outcomes":[{"id":"x","name":"x","do":["y"],"expect":{"moon":{"full":"always"}}}]})");
  const RuleBase base = load_rules(folder / "");
  EXPECT_EQ(base.added, std::vector<std::string>{"a-burnt.json"});
  ASSERT_EQ(base.problems.size(), 3U);
  EXPECT_NE(base.problems[0].find("b-broken.json"), std::string::npos);
  EXPECT_NE(base.problems[2].find("\"moon\", which is no question"), std::string::npos)
      << base.problems[2];
  const auto result = weigh(base.condition, {{"smell", "yes"}, {"last", "ground"}});
  ASSERT_TRUE(result);
  EXPECT_TRUE(std::any_of(
      result->ranked.begin(), result->ranked.end(),
      [&](const RankedOutcome& r) { return base.condition.outcomes[r.outcome].id == "burnt"; }));
  // The same by the command line, with places.
  const auto bad = test::run_cli(
      "check " +
      folder
          .write(
              "d.json",
              R"({"key":"causes","outcomes":[{"id":"x","name":"x","do":["y"],"expect":{"moon":{"full":"always"}}}]})")
          .string() +
      " --json");
  EXPECT_EQ(bad.code, 3);
  EXPECT_FALSE(bad.json()["ok"]);
  EXPECT_EQ(test::run_cli("check " BQ_SOURCE_DIR "/rules/causes.json").code, 0);
}

TEST(Rules, CausesAreRankedFromWhatTheProjectKnows) {
  Trial trial = test::demo_trial();
  Blade& blade = trial.blades.at(0);
  Abrasive hollow;
  hollow.name = "Grey";
  hollow.flatness = {{"2026-03-01", 90, 200, false, ""}};
  trial.shelf = {hollow};
  for (const double at : {10.0, 90.0})
    blade.records.push_back(
        {0, "", AngleRecord{EdgeSide::left, at, at < 50 ? 14.0 : 16.5, 0.3, "gauge"}});
  const RuleBase base = load_rules({});
  auto seen = answered_by(base.causes, known_facts(trial, 0, {}));
  EXPECT_EQ(seen["flatness"], "hollow");
  EXPECT_EQ(seen["sweep"], "wanders");
  seen["complaint"] = "not-sharp";
  const auto result = weigh(base.causes, seen);
  ASSERT_TRUE(result);
  EXPECT_EQ(base.causes.outcomes[result->ranked[0].outcome].id, "dished") << result->sentence;
  EXPECT_FALSE(base.causes.outcomes[result->ranked[0].outcome].confirm.empty());
}

TEST(Rules, TheOtherRouteIsProposedOnlyAfterALook) {
  Trial trial = test::demo_trial();
  std::vector<RunFit> fits;
  for (const auto& run : trial.runs) fits.push_back(fit_run(run, trial.unit()));
  const auto steel_of = [&](const std::string& name) { return trial.find_run(name)->facts.steel; };
  RouteAdvice advice = route_advice(trial, steel_of("C30"), fits);
  ASSERT_EQ(advice.collapsed, 1) << "C30 was made with a residual burr";
  EXPECT_TRUE(advice.look_first);
  EXPECT_FALSE(advice.proposed);
  EXPECT_NE(advice.sentence.find("fragile teeth look the same"), std::string::npos);
  auto& blade = *std::find_if(trial.blades.begin(), trial.blades.end(), [&](const Blade& b) {
    return b.name == trial.find_run("C30")->facts.blade;
  });
  Sharpening s;
  s.run = "C30";
  s.route = "brittle route";
  blade.records = {{1, "", SharpeningRecord{s}},
                   {2, "", ConditionRecord{"wire", "wire edge", 0.9, {}, "C30", {}, ""}}};
  advice = route_advice(trial, steel_of("C30"), fits);
  EXPECT_EQ(*advice.used, "brittle route");
  EXPECT_EQ(*advice.proposed, DeburrBehaviour::ductile);
  std::get<ConditionRecord>(blade.records[1].data).condition = "chips";
  advice = route_advice(trial, steel_of("C30"), fits);
  EXPECT_FALSE(advice.proposed) << "fragile teeth: the route stays";
  EXPECT_FALSE(advice.look_first);
  EXPECT_TRUE(route_advice(trial, "Marl Tough", fits).sentence.empty());
}

TEST(ShelfFuzz, NoBytesMakeAReaderFail) {
  stats::Random random(11);
  const std::string seeds[] = {
      abrasive_json(full_abrasive()), comparison_json(full_comparison()),
      R"({"policy":"none","steps":[{"work":"grind","size_um":12,"burr":63,"left_deg":15,"seconds":4}]})",
      test::read_file(BQ_SOURCE_DIR "/rules/causes.json")};
  int taken = 0;
  for (int i = 0; i < 20000; ++i) {
    const std::size_t which = std::size_t(i) % 8 < 7 ? std::size_t(i) % 3 : 3;
    const std::string text = mutated(seeds[which], random);
    if (which == 0)
      if (const auto a = parse_abrasive(text)) {
        ++taken;
        EXPECT_FALSE(fault_of(*a));
        before_use(*a, CuttingClass::hard_phase);
      }
    if (which == 1)
      if (const auto c = parse_comparison(text)) {
        ++taken;
        for (const auto& pair : c->pairs) EXPECT_GT(pair.first, 0);
      }
    if (which == 2)
      if (const auto s = parse_sharpening(text)) {
        ++taken;
        for (std::size_t k = 0; k < s->steps.size(); ++k) EXPECT_FALSE(instruction(*s, k).empty());
        order_remarks(*s);
      }
    if (which == 3)
      if (const auto key = parse_rule_file(text); key && faults_of(*key).empty()) {
        ++taken;
        EXPECT_TRUE(weigh(*key, {}));
      }
  }
  EXPECT_GT(taken, 1500) << "enough of them are still readable";
}

TEST(PairedTable, ConvertsUnitsAndNamesEveryBadPlace) {
  std::istringstream good("blade;before;after;unit\nB1;0,98;0,90;N\nB2;100;90;gf\n\n");
  const auto table = read_paired_table(good, "t.csv");
  ASSERT_TRUE(table.problems.empty()) << table.problems[0];
  EXPECT_EQ(table.unit, "N");
  EXPECT_NEAR(table.rows[1].before, 0.980665, 1e-12);
  std::istringstream bad("blade,before,after\nB1,ten,9\n,3,4\nB3,0,1\nB4,5\n");
  const auto refused = read_paired_table(bad, "t.csv");
  ASSERT_EQ(refused.problems.size(), 4U);
  EXPECT_EQ(refused.problems[0], "t.csv:2:4: before must be a number above 0, not \"ten\"");
  EXPECT_EQ(refused.problems[1].substr(0, 10), "t.csv:3:1:");
  std::istringstream heads("blade,befor,after\n");
  EXPECT_EQ(read_paired_table(heads, "t.csv").problems.size(), 2U);
  std::istringstream nothing("");
  EXPECT_FALSE(read_paired_table(nothing, "t.csv").problems.empty());
  stats::Random random(5);
  for (int i = 0; i < 20000; ++i) {
    std::istringstream in(
        mutated("blade,before,after,unit\nB1,100,90,gf\nB2,120,100,gf\n", random));
    const auto any = read_paired_table(in, "t.csv");
    for (const auto& row : any.rows) {
      EXPECT_GT(row.before, 0);
      EXPECT_GT(row.after, 0);
    }
  }
}

TEST(StonesCommands, PairedGivesEveryFixedKeyAndRefusesWithPlace) {
  const test::Folder folder;
  const auto good = test::run_cli(
      "paired " +
      folder.write("p.csv", "blade,before,after,unit\na,100,90,gf\nb,120,100,gf\nc,90,88,gf\n")
          .string() +
      " --json");
  ASSERT_EQ(good.code, 0) << good.err;
  for (const char* key :
       {"n", "ratio", "percent_change", "low", "high", "t", "df", "p", "signed_rank_p"})
    EXPECT_TRUE(good.json().contains(key)) << key;
  EXPECT_NEAR(good.json()["signed_rank_p"], 0.25, 1e-12);
  const auto one = test::run_cli(
      "paired " + folder.write("one.csv", "blade,before,after\na,100,90\n").string() + " --json");
  EXPECT_EQ(one.code, 5);
  EXPECT_TRUE(one.json()["t"].is_null());
  const auto bad = test::run_cli(
      "paired " + folder.write("bad.csv", "blade,before,after\na,100,-90\n").string() + " --json");
  EXPECT_EQ(bad.code, 3);
  EXPECT_NE(bad.err.find("bad.csv:2:7:"), std::string::npos) << bad.err;
  EXPECT_TRUE(bad.out.empty());
  // Two blades, one of which changed: eight pairs are not eight blades.
  std::string often = "blade,before,after\n";
  for (int k = 0; k < 4; ++k)
    often += "a,100," + std::to_string(80 + k) + "\nb,100," + std::to_string(98 + k) + "\n";
  const auto again =
      test::run_cli("paired " + folder.write("often.csv", often).string() + " --json");
  const auto told = nlohmann::json::parse(again.out);
  EXPECT_EQ(told["n"], 8);
  EXPECT_EQ(told["blades"], 2);
  EXPECT_LT(told["p"].get<double>(), 0.05);
  EXPECT_GT(told["by_blade"]["p"].get<double>(), 0.3);
  EXPECT_NE(again.err.find("8 pairs on 2 blades"), std::string::npos) << again.err;
  EXPECT_EQ(test::run_cli("paired /nowhere.csv").code, 4);
}

TEST(StonesCommands, EdgeCardIsWrittenAsHtmlAndPdf) {
  const test::Folder folder;
  const auto project = test::demo_project(folder);
  for (const std::string ending : {"html", "pdf"}) {
    const auto first = folder / ("a." + ending), second = folder / ("b." + ending);
    for (const auto& target : {first, second}) {
      const auto answer =
          test::run_cli("export " + project.string() + " --card C07 --to " + target.string());
      ASSERT_EQ(answer.code, 0) << answer.err;
    }
    const std::string bytes = test::read_file(first);
    EXPECT_EQ(bytes, test::read_file(second)) << "the same record, the same bytes";
    EXPECT_EQ(bytes.substr(0, 4), ending == "pdf" ? "%PDF" : "<!DO");
  }
  const std::string html = test::read_file(folder / "a.html");
  EXPECT_NE(html.find("Touch up after about"), std::string::npos);
  const auto inclusive = folder / "i.html";
  ASSERT_EQ(test::run_cli("export " + project.string() + " --card C07 --inclusive --to " +
                          inclusive.string())
                .code,
            0);
  EXPECT_NE(test::read_file(inclusive).find("inclusive"), std::string::npos);
  EXPECT_EQ(test::run_cli("export " + project.string() + " --card NONE --to " +
                          (folder / "n.html").string())
                .code,
            3);
  EXPECT_FALSE(std::filesystem::exists(folder / "n.html"));
  EXPECT_EQ(test::run_cli("export " + project.string() + " --card C07 --to " +
                          (folder / "n.csv").string())
                .code,
            2);
  EXPECT_EQ(test::run_cli("export " + project.string() + " --card C07 --threshold dull --to " +
                          (folder / "n.html").string())
                .code,
            3);
}
