#include <gtest/gtest.h>

#include "support.h"
#include "workflow/next_action.h"
#include "workflow/project_session.h"
#include "workflow/sentences.h"

using namespace bq;

namespace {

std::size_t run_named(const ProjectSession& session, const std::string& name) {
  return std::size_t(session.trial().find_run(name) - session.trial().runs.data());
}

}  // namespace

TEST(Session, EveryEditIsOnDiskAndCanBeUndoneAndRedone) {
  const test::Folder folder;
  const auto path = test::demo_project(folder);
  {
    auto session = ProjectSession::open(path);
    const auto k02 = run_named(session, "K02");
    EXPECT_EQ(next_action(session.trial(), {}).sentence,
              "Run K01: make 200 cuts, then read at 500.");
    for (const double value : {88.0, 91.0, 90.0})
      session.keep_reading(k02, value, Unit::gf, "operator A");
    EXPECT_EQ(next_step(session.trial().runs[k02]).kind, StepKind::cut);
    session.confirm_cuts(k02);
    session.keep_reading(k02, 0.98, Unit::N, "operator A");
    session.set_excluded(k02, 3, true, "filament slipped");
    session.add_blade({0, "Marl Tough 9", "Marl Tough", "", false, {}});
    Blade renamed = session.trial().blades.back();
    renamed.note = "thin at the tip";
    session.update_blade(session.trial().blades.size() - 1, renamed);
    session.set_threshold("500 gf");
    EXPECT_EQ(session.undo_text(), "threshold 500 gf");
  }
  auto session = ProjectSession::open(path);
  const auto k02 = run_named(session, "K02");
  EXPECT_EQ(session.trial().runs[k02].readings.size(), 4u);
  EXPECT_TRUE(session.trial().runs[k02].readings[3].excluded);
  EXPECT_EQ(session.trial().runs[k02].cuts_done, 10);
  EXPECT_EQ(session.threshold_text(), "500 gf");
  EXPECT_EQ(session.trial().blades.back().note, "thin at the tip");
  EXPECT_FALSE(session.can_undo());

  session.keep_reading(k02, 101, Unit::gf, "");
  session.keep_reading(k02, 103, Unit::gf, "");
  const auto id = session.trial().runs[k02].readings.back().id;
  session.undo();
  session.undo();
  EXPECT_EQ(session.trial().runs[k02].readings.size(), 4u);
  EXPECT_EQ(session.redo_text(), "reading 101 gf of run K02");
  session.redo();
  session.redo();
  EXPECT_EQ(session.trial().runs[k02].readings.back().id, id);  // the same row, not a copy
  session.undo();
  session.keep_reading(k02, 99, Unit::gf, "");  // a new edit ends what could be redone
  EXPECT_FALSE(session.can_redo());
}

TEST(Session, AFarOffReadingIsFlaggedWithItsReasonAndKept) {
  const test::Folder folder;
  auto session = ProjectSession::open(test::demo_project(folder));
  const auto run = run_named(session, "K03");
  for (const double value : {88.0, 91.0, 90.0}) session.keep_reading(run, value, Unit::gf, "");
  session.confirm_cuts(run);
  session.keep_reading(run, 100, Unit::gf, "");
  session.keep_reading(run, 103, Unit::gf, "");
  const Reading flagged = session.keep_reading(run, 190, Unit::gf, "");
  EXPECT_NE(session.trial().labels.text(flagged.reason).find("from the median"), std::string::npos);
  EXPECT_FALSE(flagged.excluded);
  EXPECT_THROW(session.set_excluded(run, 5, true, ""), StoreError);
  session.set_excluded(run, 5, true, "double press");
  session.undo();
  EXPECT_EQ(session.trial().runs[run].readings[5].reason, flagged.reason);
}

TEST(Session, RefusedEditsChangeNothing) {
  const test::Folder folder;
  const auto path = test::demo_project(folder);
  auto session = ProjectSession::open(path);
  const auto runs = session.trial().runs.size();
  bq::Run copy = session.trial().runs[0];
  copy.id = 0;
  EXPECT_THROW(session.add_run(copy), StoreError);
  EXPECT_THROW(session.add_blade({0, "  ", "", "", false, {}}), StoreError);
  EXPECT_EQ(session.trial().runs.size(), runs);
  EXPECT_FALSE(session.can_undo());
  copy.facts.name = "Z1";
  session.add_run(copy);
  EXPECT_TRUE(session.trial().runs.back().readings.empty());
  session.undo();
  EXPECT_EQ(session.trial().runs.size(), runs);
}

TEST(NextAction, FollowsTheWork) {
  Trial trial;
  EXPECT_EQ(next_action(trial, {}).button, "Add a blade");
  trial.blades.push_back({1, "b", "S", "", false, {}});
  EXPECT_EQ(next_action(trial, {}).button, "Add a run");
  bq::Run run;
  run.facts.name = "R1";
  run.plan = {{0, 10}, 1};
  trial.runs.push_back(run);
  EXPECT_EQ(next_action(trial, {}).button, "Start run");
  // Ground and not measured since: the angle comes before the run; a reading settles it.
  trial.runs[0].facts.blade = "b";
  trial.blades[0].records = {{1, "", AngleRecord{EdgeSide::left, 10, 15, 0, ""}},
                             {2, "", SectionRecord{}}};
  const auto measure = next_action(trial, {});
  EXPECT_EQ(measure.station, Station::section);
  EXPECT_EQ(measure.blade, 0u);
  EXPECT_NE(measure.sentence.find("Blade b was ground"), std::string::npos);
  trial.blades[0].records.push_back({3, "", AngleRecord{EdgeSide::right, 10, 15.2, 0, ""}});
  EXPECT_EQ(next_action(trial, {}).button, "Start run");
  trial.runs[0].readings.push_back({1, 0, 100, 0, 0, 0, Unit::gf, false});
  EXPECT_EQ(next_action(trial, {}).sentence, "Run R1: make 10 cuts, then read at 10.");
  const Trial demo = test::demo_trial();
  const auto fits = *fit_runs(demo, {}, {});
  const auto action = next_action(demo, fits);
  EXPECT_EQ(action.station, Station::findings);
  EXPECT_NE(action.sentence.find("C30 collapsed early"), std::string::npos);
}

TEST(Sentences, NameTheConventionAndTheInterval) {
  MatchAnswer answer;
  answer.value = 12.1;
  answer.low = 10.6;
  answer.high = 13.5;
  const MatchQuestion question{MatchKind::angle, "Marl Tough", 16, "Fenland Plain", 1, 0.95};
  EXPECT_EQ(
      match_sentence(question, answer, AngleConvention::per_side),
      "Fenland Plain at 12.1° per side lasts as long as Marl Tough at 16° (10.6° to 13.5°, 95 %).");
  EXPECT_EQ(
      match_sentence(question, answer, AngleConvention::inclusive),
      "Fenland Plain at 24.2° inclusive lasts as long as Marl Tough at 32° (21.2° to 27°, 95 %).");
  CutsToThreshold cuts;
  cuts.censoring = Censoring::right;
  cuts.low = cuts.at_least = cuts.read_to = 1500;
  EXPECT_EQ(cuts_sentence(cuts, 450, Unit::gf), "stays below 450 gf for all its 1500 cuts");
  EXPECT_EQ(cuts_short(cuts), "> 1500");
  cuts.low = cuts.at_least = 1290;
  EXPECT_EQ(cuts_sentence(cuts, 450, Unit::gf),
            "was read to 1500 cuts, near 450 gf: its life is that or more, and surely 1290");
  EXPECT_EQ(cuts_short(cuts), "≥ 1290");
}
