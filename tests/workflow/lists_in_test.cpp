// Gauge studies and force strokes that come in as tables: what is read, what is asked, what is
// refused with its place, and what becomes of them in the project and in Findings.
#include <gtest/gtest.h>

#include <cmath>

#include "../store/taken_in.h"
#include "run_cli.h"
#include "stats/random.h"
#include "workflow/answers.h"
#include "workflow/gauge_table.h"
#include "workflow/project_session.h"

using namespace bq;
using bq::test::Folder;
using bq::test::take_in;

namespace {

std::set<std::string> keys_asked(const SourceResult& read) {
  std::set<std::string> out;
  for (const auto& table : read.understood)
    for (const auto& question : table.questions) out.insert(question.key);
  return out;
}

std::string faults_in(const SourceResult& read) {
  std::string out;
  for (const auto& problem : read.problems) out += problem + "\n";
  return out;
}

SourceResult read(const std::string& bytes, const std::string& map) {
  return take_in(bytes, map, map);
}

/// A stroke as a force cell sees it: rest, a cut of half a second, rest; samples of 0.003 N.
std::string stroke_rows(const std::string& run, int cuts, double peak_N, const char* separator,
                        bool milliseconds = false) {
  std::string out;
  for (int i = 0; i < 200; ++i) {
    const double t = i / 200.0;
    const double force =
        t > 0.25 && t < 0.75 ? peak_N * std::sin((t - 0.25) * 2 * M_PI) : 0.003 * (i % 3);
    char line[128];
    std::snprintf(line, sizeof line, "%s%s%d%s%.*f%s%.3f\n", run.c_str(), separator, cuts,
                  separator, milliseconds ? 0 : 3, milliseconds ? 1000 * t : t, separator, force);
    out += line;
  }
  return out;
}

std::string gauge_rows(double error, std::uint64_t seed) {
  stats::Random random(seed);
  std::string out;
  for (int part = 0; part < 6; ++part)
    for (const char* who : {"A", "B"})
      for (int repeat = 1; repeat <= 3; ++repeat) {
        char line[96];
        std::snprintf(line, sizeof line, "p%d,%s,%d,%.2f\n", part, who, repeat,
                      120.0 + 20 * part + error * random.normal());
        out += line;
      }
  return out;
}

}  // namespace

TEST(ListsIn, AGaugeStudyIsKeptAndAnswersWhetherTheGaugeIsGoodEnough) {
  const std::string head = "part,operator,repeat,reading (gf)\n";
  const std::string table = head + gauge_rows(1.5, 3);
  EXPECT_EQ(keys_asked(read(table, "{}")), std::set<std::string>{"kind"}) << "never taken for runs";
  const auto good = read(table, R"({"kind":"gauge"})");
  ASSERT_FALSE(good.refused) << faults_in(good);
  ASSERT_EQ(good.lists.at(0).gauge.size(), 36U);
  // The same in German, in N, with a comma.
  const auto german = read("Teil;Prüfer;Wiederholung;Messwert (N)\nT1;Ada;1;1,25\nT1;Ada;2;1,5\n",
                           R"({"kind":"gauge"})");
  ASSERT_FALSE(german.refused) << faults_in(german);
  EXPECT_EQ(german.lists.at(0).gauge_unit, Unit::N);
  EXPECT_EQ(german.lists.at(0).gauge.at(1).value, 1.5);
  EXPECT_EQ(keys_asked(read("part,operator,reading\np,A,1.5\n", R"({"kind":"gauge"})")),
            std::set<std::string>{"unit"});
  for (const char* bad : {"p1,A,1,0\n", "p1,A,1,-2\n", "p1,,1,3\n", "p1,A,1,\n", "p1,A,1,3 mm\n",
                          "p1,A,1,3\np1,A,1,4\n", "p1,A,1,3\np1,A,2,3 mm\n"})
    EXPECT_NE(faults_in(read(head + bad, R"({"kind":"gauge"})")).find("t.csv:"), std::string::npos)
        << bad;

  const Folder folder;
  auto session = ProjectSession::open(test::demo_project(folder));
  EXPECT_EQ(add_lists(session, good.lists), "a gauge study of 36 readings came in.");
  AnswerSource source;
  const Trial facts = for_answers(session.trial());
  source.facts = &facts;
  source.gauge_readings = gauge_readings_of(session.kept(kGaugeStudyKey), session.trial());
  ASSERT_EQ(source.gauge_readings.size(), 36U);
  const auto study = stats::gauge_study(source.gauge_readings);
  ASSERT_TRUE(study);
  EXPECT_NEAR(study->repeatability_sd, 1.5, 0.5);
  // Shown in the trial's unit, whatever it came in; of another kind it is not used at all.
  const auto in_newtons =
      gauge_readings_of(gauge_study_json({{{"p", "A", 1.0}}, Unit::N}), session.trial());
  EXPECT_NEAR(in_newtons.at(0).value, 101.97, 0.01);
  EXPECT_NE(
      gauge_readings_of(gauge_study_json({{{"p", "A", 1.0}}, Unit::mm}), session.trial()).size(),
      1U);
  session.undo();
  EXPECT_EQ(session.kept(kGaugeStudyKey), "");
  for (const char* bad :
       {"{", "{\"unit\":\"gf\"}x", R"({"unit":"gf","readings":[["p","A"]]})",
        R"({"unit":"gf","readings":[["p","A",-1]]})", R"({"unit":"x","readings":[]})"})
    EXPECT_FALSE(parse_gauge_study(bad)) << bad;
}

TEST(ListsIn, StrokesComeToTheirRunsWithEverySampleAsItIs) {
  const std::string head = "run,cuts,time (s),force (N)\n";
  const Folder folder;
  auto session = ProjectSession::open(test::demo_project(folder));
  const std::string run = session.trial().runs.at(0).facts.name;
  const auto before = session.trial().runs.at(0).events.size();
  const std::string table = head + stroke_rows(run, 50, 12, ",") + stroke_rows(run, 50, 14, ",") +
                            stroke_rows(run, 100, 16, ",") + stroke_rows("nobody's", 0, 9, ",");
  EXPECT_EQ(keys_asked(read(table, "{}")), std::set<std::string>{"kind"});
  const auto strokes = read(table, R"({"kind":"strokes"})");
  ASSERT_FALSE(strokes.refused) << faults_in(strokes);
  ASSERT_EQ(strokes.lists.at(0).strokes.size(), 4U) << "time falls back, or the cuts are others";
  EXPECT_NEAR(strokes.lists[0].strokes[0].stroke.rate_hz, 200, 0.5);
  const std::string said = add_lists(session, strokes.lists);
  EXPECT_NE(said.find("3 force strokes came in"), std::string::npos) << said;
  EXPECT_NE(said.find("nobody's (line 602) was left out: there is no such run"), std::string::npos)
      << said;
  const auto& events = session.trial().runs[0].events;
  ASSERT_EQ(events.size(), before + 3);
  EXPECT_EQ(events.back().cuts, 100);
  const auto& event = std::get<StrokeEvent>(events.back().data);
  EXPECT_NEAR(event.peak_N, 16, 0.5);
  const auto kept = session.stroke(event.stroke);
  ASSERT_TRUE(kept);
  ASSERT_EQ(kept->force_N.size(), 200U);
  for (std::size_t i = 0; i < 200; ++i)
    EXPECT_NEAR(kept->force_N[i], strokes.lists[0].strokes[2].stroke.force_N[i], 1e-5);
  // The same table once more adds nothing.
  EXPECT_NE(add_lists(session, strokes.lists).find("is kept already"), std::string::npos);
  EXPECT_EQ(session.trial().runs[0].events.size(), before + 3);
  session.undo();
  EXPECT_EQ(session.trial().runs[0].events.size(), before);
  // Milliseconds and semicolons; a gap, too few samples, a length for a force.
  const auto ms = read("Lauf;Schnitte;Zeit (ms);Kraft (N)\n" + stroke_rows("L", 5, 10, ";", true),
                       R"({"kind":"strokes"})");
  ASSERT_FALSE(ms.refused) << faults_in(ms);
  EXPECT_NEAR(ms.lists.at(0).strokes.at(0).stroke.rate_hz, 200, 0.5);
  std::string gap = head + stroke_rows("L", 5, 10, ",");
  gap.erase(gap.find("L,5,0.300"), gap.find("L,5,0.350") - gap.find("L,5,0.300"));
  EXPECT_NE(faults_in(read(gap, R"({"kind":"strokes"})")).find("not evenly spaced"),
            std::string::npos);
  EXPECT_NE(faults_in(read(head + "L,5,0,1\nL,5,0.1,2\n", R"({"kind":"strokes"})"))
                .find("a stroke of 2 samples"),
            std::string::npos);
  EXPECT_NE(
      faults_in(read("run,time (s),force (mm)\n" + std::string("L,0,1\n"), R"({"kind":"strokes"})"))
          .find("no unit of a force"),
      std::string::npos);
  // Readings that name a time of day and a force are readings still.
  const auto readings = read("run,time,cuts,force (gf)\nA,09:10,0,120\nA,09:20,50,140\n", "{}");
  EXPECT_FALSE(keys_asked(readings).contains("kind"));
}

TEST(ListsIn, TheCommandLineTakesEveryKindThatThereIs) {
  const Folder folder;
  const auto project = test::demo_project(folder).string();
  const auto table =
      folder.write("g.csv", "part,operator,repeat,reading (gf)\n" + gauge_rows(1, 5));
  const auto asked = test::run_cli("import " + project + " " + table.string());
  EXPECT_EQ(asked.code, 3) << "it asks what the table is";
  const auto taken = test::run_cli("import " + project + " " + table.string() + " --kind gauge");
  EXPECT_EQ(taken.code, 0) << taken.err;
  const std::string help = test::run_cli("import --help").out;
  for (const ListKind kind : kListKinds)
    EXPECT_NE(help.find(name_of(kind)), std::string::npos) << name_of(kind);
}
