// An act is one change: whole or not at all, on the disk and in memory; a name is followed wherever
// it is spoken of; a project is whole again from its JSON.
#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>
#include <malloc.h>

#include <sstream>

#include "full_disk.h"
#include "store/plan_file.h"
#include "store/readings_export.h"
#include "support.h"
#include "workflow/bench_study.h"
#include "workflow/ladder_draft.h"
#include "workflow/plan_study.h"
#include "workflow/project_session.h"
#include "workflow/stones_study.h"

using namespace bq;

namespace {

/// A project with a blade, a run of a blind plan and two stones.
std::filesystem::path small_project(const test::Folder& folder) {
  const auto path = folder / "p.bquarry";
  {
    ProjectFile file = ProjectFile::create(path, "p");
    file.import(
        test::table("run,cuts,reading,unit,blade,steel\nKT4,0,150,gf,b,S\nKT4,50,200,gf,b,S\n")
            .trial,
        KnownRuns::refuse);
    file.set_abrasive(test::plain_stone("grey"));
    file.set_abrasive(test::plain_stone("white"));
  }
  return path;
}

std::string all_of(const ProjectFile& file) {
  std::ostringstream out;
  file.write_record(out);
  return out.str();
}
std::string on_disk(const std::filesystem::path& path) {
  return all_of(ProjectFile::open(path, ProjectFile::Access::read));
}

}  // namespace

TEST(OneAct, SharpeningIsKeptWholeOrNotAtAll) {
  Sharpening s;
  for (const char* name : {"grey", "white"}) {
    SharpeningStep step;
    step.abrasive = name;
    step.done = true;
    s.steps.push_back(step);
  }
  // The disk fails at each page of the act in turn, until all of them are written.
  int page = 0;
  for (bool whole = false; !whole; ++page) {
    ASSERT_LT(page, 60);
    SCOPED_TRACE(page);
    const test::Folder folder;
    const auto path = small_project(folder);
    {
      ProjectSession session = ProjectSession::open(path);
      session.keep("hand", "in hand", "a sharpening");
      const auto blades = session.trial().blades;
      const auto shelf = session.trial().shelf;
      const std::string undo = session.undo_text();
      {
        const test::FullDisk disk(path.string() + "-wal", page);
        try {
          session.finish_sharpening(0, s, "hand");
          whole = true;
        } catch (const StoreError& error) {
          EXPECT_EQ(error.problem(), StoreProblem::disk) << error.what();
        }
      }
      if (whole) break;
      EXPECT_TRUE(session.trial().blades == blades);
      EXPECT_TRUE(session.trial().shelf == shelf);
      EXPECT_EQ(session.undo_text(), undo);
      EXPECT_EQ(session.kept("hand"), "in hand");
    }
    EXPECT_EQ(on_disk(path).find("\"sharpening\""), std::string::npos);
    // Tried again on a sound disk there is one sharpening, not two.
    ProjectSession session = ProjectSession::open(path);
    session.finish_sharpening(0, s, "hand");
    EXPECT_EQ(session.trial().blades[0].records.size(), 1U);
    EXPECT_EQ(session.trial().shelf[0].blades_since_check, 1);
  }
  EXPECT_GE(page, 3) << "history, two stones, what was in hand";
}

TEST(OneAct, SeveralActsAreOneStepOfUndoAndFailTogether) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(small_project(folder));
  const auto before = session.trial().blades;
  EXPECT_THROW(session.as_one("two blades",
                              [&] {
                                Blade made;
                                made.name = "c";
                                session.add_blade(made);
                                session.add_blade(made);  // the name is taken by now
                              }),
               StoreError);
  EXPECT_TRUE(session.trial().blades == before);
  EXPECT_FALSE(session.can_undo());
  session.as_one("two blades", [&] {
    for (const char* name : {"c", "d"}) {
      Blade made;
      made.name = name;
      session.add_blade(made);
    }
  });
  EXPECT_EQ(session.trial().blades.size(), 3U);
  EXPECT_EQ(session.undo_text(), "two blades");
  session.undo();
  EXPECT_TRUE(session.trial().blades == before);
  session.redo();
  EXPECT_EQ(session.trial().blades.size(), 3U);
}

TEST(OneAct, ARunAndABladeThatAreRenamedAreFollowedEverywhere) {
  const test::Folder folder;
  const auto path = small_project(folder);
  std::string memory, kept_book;
  {
    ProjectSession session = ProjectSession::open(path);
    PlanBook book;
    PlanEntry entry;
    entry.plan.name = "plan";
    entry.plan.blind = true;
    entry.plan.blades = {{"b", "S", 3}};
    entry.issued = {"KT4"};
    book.plans.push_back(entry);
    session.keep(kPlanBookKey, plan_book_json(book), "a plan");
    LadderInput input;
    input.run = "KT4";
    const Blade& blade = session.trial().blades[0];
    session.keep("ladder:" + std::to_string(blade.id), ladder_input_json(input), "a ladder");
    Sharpening made;
    made.run = "KT4";
    session.add_records(0,
                        {SharpeningRecord{made}, ConditionRecord{"", "", 0.5, {}, "KT4", {}, ""}},
                        "a sharpening");
    DamageSearch search;
    search.name = "search 1";
    search.blade = "b";
    session.set_bench_session({0, "", search}, "a search");
    ASSERT_EQ(blind_runs(session.kept(kPlanBookKey)), std::set<std::string>{"KT4"});
    const std::string book_before = session.kept(kPlanBookKey);

    RunFacts facts = session.trial().runs[0].facts;
    facts.name = "Fred";
    session.update_run(0, facts, session.trial().runs[0].plan);
    const auto followed = [&](const std::string& name) {
      EXPECT_EQ(blind_runs(session.kept(kPlanBookKey)), std::set<std::string>{name})
          << "it stays covered";
      EXPECT_TRUE(plan_book_problems(session.kept(kPlanBookKey), session.trial()).empty());
      const auto& records = session.trial().blades[0].records;
      EXPECT_EQ(std::get<SharpeningRecord>(records[0].data).sharpening.run, name);
      EXPECT_EQ(std::get<ConditionRecord>(records[1].data).run, name);
      EXPECT_NE(session.kept("ladder:" + std::to_string(session.trial().blades[0].id)).find(name),
                std::string::npos);
      const auto kept = parse_plan_book(session.kept(kPlanBookKey));
      EXPECT_EQ(kept->plans[0].issued[0], "KT4") << "the sheet still knows it by its code";
      EXPECT_EQ(kept->plans[0].run_names()[0], name);
    };
    followed("Fred");
    facts.name = "Anna";
    session.update_run(0, facts, session.trial().runs[0].plan);
    followed("Anna");
    session.undo();
    followed("Fred");
    session.undo();
    followed("KT4");
    EXPECT_EQ(session.kept(kPlanBookKey), book_before);
    session.redo();
    followed("Fred");

    Blade renamed = session.trial().blades[0];
    renamed.name = "best blade";
    session.update_blade(0, renamed);
    EXPECT_EQ(std::get<DamageSearch>(session.bench_sessions()[0].data).blade, "best blade");
    EXPECT_EQ(parse_plan_book(session.kept(kPlanBookKey))->plans[0].plan.blades[0].name,
              "best blade");
    EXPECT_EQ(session.trial().runs[0].facts.blade, "best blade");
    memory = trial_json(session.trial());
    kept_book = session.kept(kPlanBookKey);
  }
  const ProjectFile file = ProjectFile::open(path, ProjectFile::Access::read);
  EXPECT_EQ(trial_json(file.load()), memory);
  EXPECT_EQ(file.setting(kPlanBookKey), kept_book);
}

TEST(OneAct, AProjectIsMadeAgainFromItsJsonEqual) {
  const test::Folder folder;
  const auto path = test::whole_demo_project(folder);
  std::ostringstream out;
  {
    ProjectFile file = ProjectFile::open(path, ProjectFile::Access::write);
    file.set_setting("threshold", "310 gf");
    file.set_setting("odd \"key\"", std::string("line\nand \xE2\x82\xAC"));
    write_project_json(file, file.load(), out);
  }
  const std::string json = out.str();
  const auto made = folder / "again.bquarry";
  EXPECT_TRUE(ProjectFile::create_from_record(made, json).check().empty());
  EXPECT_EQ(on_disk(made), on_disk(path));
  std::ostringstream again;
  const ProjectFile file = ProjectFile::open(made, ProjectFile::Access::read);
  write_project_json(file, file.load(), again);
  EXPECT_EQ(again.str(), json);

  // What does not hold together makes no file, and says where.
  const auto refused = [&](const std::string& text) {
    const auto nowhere = folder / "nowhere.bquarry";
    std::string why;
    try {
      ProjectFile::create_from_record(nowhere, text);
    } catch (const StoreError& error) {
      why = error.what();
    }
    EXPECT_FALSE(std::filesystem::exists(nowhere)) << why;
    return why;
  };
  EXPECT_NE(refused(json.substr(0, json.size() / 2)).find("breaks off"), std::string::npos);
  EXPECT_NE(refused("{\"runs\": []}").find("no whole project"), std::string::npos);
  EXPECT_NE(refused(R"({"record": {"version": 99, "tables": {}}})").find("newer"),
            std::string::npos);
  EXPECT_NE(refused(R"({"record": {"version": 5, "tables": {"x; DROP": {}}}})").find("no table"),
            std::string::npos);
  EXPECT_NE(
      refused(R"({"record": {"version": 5, "tables": {"run": {"columns": ["y"], "rows": []}}}})")
          .find("no column"),
      std::string::npos);
  EXPECT_NE(
      refused(
          R"({"record": {"version": 5, "tables": {"blade": {"columns": ["id", "name"], "rows": [[1]]}}}})")
          .find("rows[0]"),
      std::string::npos);
  EXPECT_NE(
      refused(
          R"({"record": {"version": 5, "tables": {"reading": {"columns": ["id", "run_id", "cuts", "value", "unit"], "rows": [[1, 7, 0, -2, "gf"]]}}}})")
          .find("does not fit"),
      std::string::npos);
}

TEST(OneAct, AnImportIsOneStepOfUndo) {
  const test::Folder folder;
  const auto path = small_project(folder);
  ProjectSession session = ProjectSession::open(path);
  session.add_blade({0, "bare", "", "", false, {}});
  session.keep_reading(0, 210, Unit::gf, "");
  std::ostringstream before;
  session.write_json(before);
  const std::uint64_t revision = session.revision(0);
  // New runs, a new blade, a blade that learns its steel, a label nobody used.
  const Trial table =
      test::table(
          "run,cuts,reading,unit,blade,steel,operator\nN1,0,100,gf,new,Q,Ann\nN1,10,120,gf,new,Q,\n"
          "N2,0,90,gf,bare,R,\n")
          .trial;
  EXPECT_EQ(session.import(table).readings, 3);
  EXPECT_EQ(session.trial().runs.size(), 3U);
  EXPECT_EQ(session.trial().blades[1].steel, "R");
  EXPECT_EQ(session.undo_text(), "importing 2 runs");
  std::ostringstream after;
  session.write_json(after);
  session.undo();
  std::ostringstream back;
  session.write_json(back);
  // A label that nothing uses may stay in the file.
  const auto without_labels = [](const std::string& text) {
    const auto at = text.find("\"record\"");
    return text.substr(0, at);
  };
  EXPECT_EQ(without_labels(back.str()), without_labels(before.str()));
  EXPECT_EQ(session.trial().runs.size(), 1U);
  EXPECT_EQ(session.trial().blades[1].steel, "");
  EXPECT_EQ(session.revision(0), revision) << "what was there is not fitted anew";
  EXPECT_TRUE(session.can_undo()) << "what was done before can still be undone";
  session.redo();
  std::ostringstream again;
  session.write_json(again);
  EXPECT_EQ(without_labels(again.str()), without_labels(after.str()));
  // What fails leaves everything as it was.
  EXPECT_THROW(session.import(table), StoreError);
  EXPECT_EQ(session.trial().runs.size(), 3U);
  session.undo();
  session.undo();
  session.undo();
  EXPECT_EQ(session.trial().blades.size(), 1U);
}

TEST(OneAct, WhatIsDoneAgainSaysTheSameAfterAnImportWasTakenBack) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(small_project(folder));
  session.keep_reading(0, {210, Unit::gf, "operator A", "heel", "gauge 1", {}});
  session.import(test::table("run,cuts,reading,unit\nN1,0,100,gf\n").trial);
  session.undo();
  session.undo();
  session.redo();
  const Reading& reading = session.trial().runs[0].readings.back();
  const LabelTable& labels = session.trial().labels;
  EXPECT_EQ(labels.text(reading.by_operator), "operator A");
  EXPECT_EQ(labels.text(reading.station), "heel");
  EXPECT_EQ(labels.text(reading.gauge), "gauge 1");
}

TEST(OneAct, TheWayBackOfManyActsHoldsNoPicturesAndNoStrokes) {
  const test::Folder folder;
  ProjectSession session = ProjectSession::open(small_project(folder));
  const auto held_mb = [] {
    const auto now = mallinfo2();
    return double(now.uordblks + now.hblkhd) * 1e-6;
  };
  double before = 0;
  constexpr int kWarm = 20, kActs = 60;  // by then the file's own memory is as large as it gets
  ForceStroke stroke;
  for (int i = 0; i < 200'000; ++i) stroke.force_N.push_back(float(i * 7919 % 1000) / 100);
  for (int i = 0; i < kActs; ++i) {
    if (i == kWarm) before = held_mb();
    session.keep_look(0, {}, PictureFile{0, "look.png", "png", std::string(2'000'000, char(i))},
                      "A");
    session.keep_stroke(0, stroke, {0, 9, 5, 0.1, ""}, "A");
  }
  EXPECT_LT(held_mb() - before, 10) << "the files were 80 MB, the samples 32 MB";
  const auto last = session.trial().micrographs.back().id;
  const auto of_stroke = session.trial().runs[0].events.back();
  const std::int64_t stroke_id = std::get<StrokeEvent>(of_stroke.data).stroke;
  session.undo();
  session.undo();
  EXPECT_FALSE(session.picture(last).has_value());
  EXPECT_FALSE(session.stroke(stroke_id).has_value());
  session.redo();
  session.redo();
  EXPECT_EQ(session.picture(last)->bytes, std::string(2'000'000, char(kActs - 1)));
  EXPECT_EQ(session.stroke(stroke_id)->force_N.size(), stroke.force_N.size());
}
