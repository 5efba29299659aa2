// Every act of a session, with the disk full at each page of it in turn: disk and memory are both
// as before or both as after, undo knows which, and a second try is good.
#include <gtest/gtest.h>

#include <functional>

#include "full_disk.h"
#include "lens/png_bytes.h"
#include "stats/random.h"
#include "store/micrograph_json.h"
#include "store/picture_store.h"
#include "support.h"
#include "trial_picture.h"
#include "workflow/project_session.h"

using namespace bq;
using bq::test::picture;

namespace {

const std::string& small_png() {
  static const std::string kPng = png_bytes(*GreyImage::make(40, 30, 99));
  return kPng;
}

Run planned(const std::string& name) {
  Run out;
  out.facts.name = name;
  out.facts.blade = "K1";
  out.plan.checkpoints = {0, 10, 40};
  return out;
}

LookEvent look() {
  LookEvent out;
  out.found = DamageFound::bent;
  out.widest_um = 40;
  return out;
}

Sharpening done_sharpening() {
  Sharpening out;
  for (const char* name : {"grey", "white"}) {
    SharpeningStep step;
    step.abrasive = name;
    step.done = true;
    out.steps.push_back(step);
  }
  return out;
}

/// A project that has one of everything.
std::filesystem::path small_project(const test::Folder& folder) {
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "p");
  auto session = ProjectSession::open(path);
  Blade blade;
  blade.name = "K1";
  blade.steel = "S";
  session.add_blade(blade);
  session.add_run(planned("R1"));
  for (const double value : {150.0, 152.0, 149.0})
    session.keep_reading(0, {value, Unit::gf, "A", "heel", "", {}});
  session.confirm_cuts(0);
  for (const double value : {160.0, 161.0, 163.0})
    session.keep_reading(0, {value, Unit::gf, "A", "heel", "", {}});
  session.set_abrasive(test::plain_stone("grey"));
  session.set_abrasive(test::plain_stone("white"));
  session.add_records(0, {AngleRecord{EdgeSide::left, 20, 15, 0.2, "gauge"}}, "an angle");
  SteelCard card;
  card.name = "S";
  card.hardness_hrc = 60;
  session.set_steel_card(card);
  session.set_medium_card({"mat", "8 mm", ""});
  Comparison comparison;
  comparison.name = "c";
  comparison.first.name = "a";
  comparison.second.name = "b";
  comparison.pairs.push_back({"K1", "", 10, 12});
  session.set_comparison(comparison);
  session.keep_look(0, look(), PictureFile{0, "look.png", "png", small_png()}, "A");
  PictureFile other{0, "other.png", "png", small_png()};
  other.id = session.pictures()->add(other.name, other.kind, other.bytes);
  session.add_micrograph(micrograph_of(other), small_png());
  DamageSearch search;
  search.name = "search";
  search.steel = "S";
  BenchSession bench;
  bench.data = search;
  session.set_bench_session(bench, "a search");
  session.keep("hand", "in hand", "a sharpening");
  return path;
}

struct Tried {
  const char* name;
  std::function<void(ProjectSession&)> does;
};

/// The picture that no look rests on.
std::int64_t free_picture(const ProjectSession& session) {
  return session.trial().micrographs.back().id;
}

const std::vector<Tried>& acts() {
  static const std::vector<Tried> kActs{
      {"set_threshold", [](auto& s) { s.set_threshold("450 gf"); }},
      {"keep", [](auto& s) { s.keep("hand", std::string(20000, 'x'), "more"); }},
      {"keep_reading", [](auto& s) { s.keep_reading(0, {190, Unit::gf, "B", "tip", "g", {"d"}}); }},
      {"make_cuts", [](auto& s) { s.make_cuts(0, 10, 25, "A"); }},
      {"confirm_cuts", [](auto& s) { s.confirm_cuts(0); }},
      {"record", [](auto& s) { s.record(0, {CleanedEvent{}, RestEvent{300, 280}}, "A"); }},
      {"keep_look",
       [](auto& s) { s.keep_look(0, look(), PictureFile{0, "l.png", "png", small_png()}, "A"); }},
      {"keep_stroke",
       [](auto& s) {
         ForceStroke stroke;
         stroke.force_N.assign(3000, 0.0F);
         for (std::size_t i = 0; i < 3000; ++i) stroke.force_N[i] = float(i * 7919 % 1000) / 100;
         s.keep_stroke(0, stroke, {0, 9, 5, 0.1, ""}, "A");
       }},
      {"send_back", [](auto& s) { s.send_back(0, {"outside", false, "a burr was left"}, "A"); }},
      {"keep_check", [](auto& s) { s.keep_check({200, 201, Unit::gf, "g", 0, ""}, "A"); }},
      {"flag_readings", [](auto& s) { s.flag_readings({{0, 0}, {0, 2}}, "the gauge was off"); }},
      {"set_micrograph",
       [](auto& s) {
         Micrograph m = s.trial().micrographs.back();
         m.note = "oiled";
         s.set_micrograph(m, "a note");
       }},
      {"set_scale",
       [](auto& s) {
         MagnificationScale scale{"20x", {0.25, 0.001, "", {}}, ""};
         scale.width = 40;
         scale.height = 30;
         s.set_scale(scale, true);
       }},
      {"remove_micrograph", [](auto& s) { s.remove_micrograph(free_picture(s)); }},
      {"accept_damage",
       [](auto& s) {
         Micrograph m = s.trial().micrographs.back();
         m.note = "answered";
         s.accept_damage(0, look(), 10, m, "A");
       }},
      {"set_bench_session",
       [](auto& s) {
         BenchSession session = s.bench_sessions().front();
         std::get<DamageSearch>(session.data)
             .rounds.push_back({12, 40, 50, false, look(), "", "A"});
         s.set_bench_session(session, "a round");
       }},
      {"set_excluded", [](auto& s) { s.set_excluded(0, 1, true, "dropped"); }},
      {"add_blade",
       [](auto& s) {
         Blade blade;
         blade.name = "K2";
         s.add_blade(blade);
       }},
      {"update_blade",
       [](auto& s) {
         Blade blade = s.trial().blades[0];
         blade.name = "K1 renamed";
         s.update_blade(0, blade);
       }},
      {"duplicate_blade", [](auto& s) { s.duplicate_blade(0, "K3"); }},
      {"set_retired", [](auto& s) { s.set_retired(0, true); }},
      {"add_records",
       [](auto& s) {
         s.add_records(0,
                       {AngleRecord{EdgeSide::left, 30, 15, 0.2, "g"},
                        SpotRecord{SpotKind(1), std::nullopt, 12, 80, true, "n"}, SectionRecord{}},
                       "facts");
       }},
      {"remove_record",
       [](auto& s) {
         if (!s.trial().blades[0].records.empty()) s.remove_record(0, 0);
       }},
      {"set_steel_card",
       [](auto& s) {
         SteelCard card = s.trial().steels[0];
         card.hardness_hrc = 62;
         s.set_steel_card(card);
       }},
      {"set_medium_card", [](auto& s) { s.set_medium_card({"foam", "25 mm", ""}); }},
      {"set_abrasive", [](auto& s) { s.set_abrasive(test::plain_stone("black")); }},
      {"remove_abrasive", [](auto& s) { s.remove_abrasive("grey"); }},
      {"set_comparison",
       [](auto& s) {
         Comparison comparison;
         if (!s.trial().comparisons.empty()) comparison = s.trial().comparisons[0];
         comparison.name = "c";
         comparison.pairs.push_back({"K1", "tip", 11, 13});
         s.set_comparison(comparison);
       }},
      {"remove_comparison",
       [](auto& s) {
         if (!s.trial().comparisons.empty()) s.remove_comparison(s.trial().comparisons[0].id);
       }},
      {"finish_sharpening",
       [](auto& s) { s.finish_sharpening(0, done_sharpening(), "hand", SectionPlan{}); }},
      {"add_run", [](auto& s) { s.add_run(planned("R2")); }},
      {"issue_runs",
       [](auto& s) { s.issue_runs({planned("R3"), planned("R4")}, "plans", "{}", "two runs"); }},
      {"update_run",
       [](auto& s) {
         RunFacts facts = s.trial().runs[0].facts;
         facts.name = "R1 renamed";
         s.update_run(0, facts, s.trial().runs[0].plan);
       }},
      {"import",
       [](auto& s) {
         s.import(test::table("run,cuts,reading,unit,blade,steel\nT1,0,150,gf,K9,S\n"
                              "T1,50,200,gf,K9,S\n")
                      .trial);
       }},
      {"as_one",
       [](auto& s) {
         s.as_one("three", [&] {
           s.set_abrasive(test::plain_stone("red"));
           s.keep("hand", "other", "");
           s.set_retired(0, true);
         });
       }},
  };
  return kActs;
}

/// All that a session holds.
std::string held(const ProjectSession& session) {
  std::string out = session.threshold_text() + "\n" + picture(session.trial());
  for (const auto& bench : session.bench_sessions())
    out += "session " + bench_session_json(bench) + "\n";
  return out + session.kept("hand") + "\n" + session.kept("plans") + "\n";
}
/// The same from the file, as somebody else would read it now.
std::string on_disk(const std::filesystem::path& path) {
  const ProjectFile file = ProjectFile::open(path, ProjectFile::Access::beside);
  std::string out = file.setting("threshold").value_or("3x") + "\n" + picture(file.load());
  for (const auto& bench : file.bench_sessions())
    out += "session " + bench_session_json(bench) + "\n";
  return out + file.setting("hand").value_or("") + "\n" + file.setting("plans").value_or("") + "\n";
}

class EveryWrite : public testing::TestWithParam<std::size_t> {};

}  // namespace

TEST_P(EveryWrite, FailsWholeOrHappensWhole) {
  const Tried& act = acts()[GetParam()];
  SCOPED_TRACE(act.name);
  constexpr int kMostPages = 120;
  int failed = 0;
  for (int pages = 0;; ++pages) {
    ASSERT_LT(pages, kMostPages);
    SCOPED_TRACE(pages);
    const test::Folder folder;
    const auto path = small_project(folder);
    auto session = ProjectSession::open(path);
    const std::string before = held(session);
    ASSERT_EQ(on_disk(path), before);
    const std::string undo = session.undo_text();
    bool whole = false;
    {
      const test::FullDisk disk(path.string() + "-wal", pages);
      try {
        act.does(session);
        whole = true;
      } catch (const StoreError& error) {
        EXPECT_EQ(error.problem(), StoreProblem::disk) << error.what();
        ++failed;
      }
    }
    if (!whole) {
      EXPECT_EQ(held(session), before) << "memory is as it was";
      EXPECT_EQ(on_disk(path), before) << "so is the disk";
      EXPECT_EQ(session.undo_text(), undo) << "and undo knows of nothing";
      act.does(session);
    }
    const std::string after = held(session);
    EXPECT_NE(after, before) << "the act does something";
    EXPECT_EQ(on_disk(path), after);
    session.undo();
    EXPECT_EQ(held(session), before);
    EXPECT_EQ(on_disk(path), before);
    session.redo();
    EXPECT_EQ(held(session), after);
    EXPECT_EQ(on_disk(path), after);
    // An undo that the disk does not take is none: said, and to be tried again.
    for (int room = 0; room < 2; ++room) {
      const test::FullDisk disk(path.string() + "-wal", room);
      try {
        session.undo();
        break;
      } catch (const StoreError&) {
        EXPECT_EQ(held(session), after);
        EXPECT_TRUE(session.can_undo());
      }
    }
    if (whole) break;
  }
  EXPECT_GE(failed, 1) << "the disk was never full";
  RecordProperty("pages", failed);
}

namespace {

/// Texts of the project: in memory and in the file.
void expect_same_texts(const ProjectSession& session, const std::filesystem::path& path) {
  for (const auto& [key, value] : ProjectFile::open(path, ProjectFile::Access::beside).settings())
    if (key != kScalesKey && key != "threshold") EXPECT_EQ(session.kept(key), value) << key;
}

}  // namespace

TEST(EveryAct, InAnyOrderOnADiskThatFailsNowAndThenIsOneStory) {
  int failed = 0, refused = 0, turned = 0;
  for (std::uint64_t seed = 1; seed <= 8; ++seed) {
    const test::Folder folder;
    const auto path = small_project(folder);
    auto session = ProjectSession::open(path);
    stats::Random random(seed);
    std::vector<std::string> story{held(session)};
    std::size_t here = 0;
    for (int i = 0; i < 90; ++i) {
      const std::size_t chosen = random.below(acts().size());
      const std::size_t turn = random.below(10);
      SCOPED_TRACE("seed " + std::to_string(seed) + ", step " + std::to_string(i) + ": " +
                   (turn < 7   ? acts()[chosen].name
                    : turn < 9 ? "undo"
                               : "redo"));
      std::size_t wanted = here;
      {
        std::optional<test::FullDisk> disk;
        if (random.below(4) == 0) disk.emplace(path.string() + "-wal", int(random.below(16)));
        try {
          if (turn < 7) {
            acts()[chosen].does(session);
            // One that changed nothing that can be seen may have ended what could be redone.
            if (!session.can_redo()) story.resize(here + 1);
            if (const std::string now = held(session); now != story[here]) {
              story.push_back(now);
              wanted = here + 1;
            }
          } else {
            // Steps that changed nothing that can be seen are passed over.
            const bool back = turn < 9;
            while ((back ? session.can_undo() : session.can_redo()) && held(session) == story[here])
              back ? session.undo() : session.redo();
            if (back && here > 0) wanted = here - 1;
            if (!back && here + 1 < story.size()) wanted = here + 1;
            ++turned;
          }
        } catch (const StoreError& error) {
          ++(error.problem() == StoreProblem::disk ? failed : refused);
          wanted = here;
        }
      }
      here = wanted;
      ASSERT_TRUE(held(session) == story[here]);
      if (i % 10 == 0) {
        ASSERT_TRUE(on_disk(path) == story[here]);
        expect_same_texts(session, path);
      }
    }
    while (session.can_undo()) session.undo();
    EXPECT_TRUE(held(session) == story.front());
    while (session.can_redo()) session.redo();
    EXPECT_TRUE(held(session) == story.back());
    EXPECT_TRUE(on_disk(path) == story.back());
    expect_same_texts(session, path);
    EXPECT_TRUE(ProjectFile::open(path, ProjectFile::Access::beside).check().empty());
  }
  EXPECT_GE(failed, 20);
  EXPECT_GE(refused, 10);
  EXPECT_GE(turned, 100);
}

INSTANTIATE_TEST_SUITE_P(Acts, EveryWrite, testing::Range(std::size_t(0), acts().size()),
                         [](const auto& info) { return std::string(acts()[info.param].name); });
