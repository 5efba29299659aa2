// What happens on the bench: through files, undo, older versions and hostile bytes.
#include <gtest/gtest.h>
#include <rapidcheck.h>

#include "lens/picture_header.h"
#include "store/bench_json.h"
#include "store/project_file.h"
#include "support.h"
#include "workflow/bench_study.h"
#include "workflow/project_session.h"

using namespace bq;

namespace {

std::vector<BenchEventData> every_event() {
  return {PreparedEvent{"by the key's holder", "batch 7"},
          GateEvent{"too dull", false, "burr"},
          CleanedEvent{},
          CutEvent{40, 43},
          LookEvent{DamageFound::broken_out, 120.0, false, 62.5, "at the staple", 3},
          RestEvent{300, 290.5},
          DeviationEvent{"operator B instead of A"},
          StopEvent{StopRule::damage, "enough"},
          GoOnEvent{"to see"},
          CheckWeightEvent{200, 201.5, Unit::gf, "g1", 17, ""},
          CheckWeightEvent{2, std::nullopt, Unit::N, "", 0, "no time"},
          StrokeEvent{4, 12.5, 9.25, 1.1, "too short"}};
}

std::filesystem::path bench_project(const test::Folder& folder) {
  const auto path = folder / "p.bquarry";
  auto project = ProjectFile::create(path, "bench");
  bq::Run run;
  run.facts.name = "R1";
  run.plan.checkpoints = {0, 10, 40};
  run.plan.readings_each = 2;
  project.add_run(run);
  return path;
}

}  // namespace

TEST(BenchStore, EveryEventSurvivesItsText) {
  for (const auto& event : every_event()) {
    const auto back = parse_bench_event(kind_of(event), bench_event_json(event));
    ASSERT_TRUE(back.ok()) << bench_event_json(event) << back.refusal().reason;
    EXPECT_EQ(*back, event) << describe(event);
    EXPECT_FALSE(describe(event).empty());
  }
  EXPECT_FALSE(parse_bench_event("sneezed", "{}").ok());
  // Found by a fuzz program: a count that no integer holds.
  const auto vast = parse_bench_session(
      "steadiness", R"({"target_deg":15,"strokes":[[60111111111111111111111111111,15,0.5,16]]})");
  ASSERT_FALSE(vast.ok());
  EXPECT_NE(vast.refusal().reason.find("strokes[0]"), std::string::npos) << vast.refusal().reason;
  EXPECT_FALSE(parse_bench_session("steadiness", R"({"trace_tenths_deg":[1e18]})").ok());
  for (const auto& [kind, json] : std::initializer_list<std::pair<const char*, const char*>>{
           {"look", R"({"found":"dirty"})"},
           {"stop", R"({"rule":"mood"})"},
           {"check weight", R"({"nominal":0})"},
           {"check weight", R"({"nominal":1,"unit":"stone"})"},
           {"gate", R"({"passed":"yes"})"},
           {"cut", R"({"made":-1})"},
           {"look", "[]"},
           {"look", "{"}})
    EXPECT_FALSE(parse_bench_event(kind, json).ok()) << json;
  DamageSearch search;
  search.name = "corners";
  search.rounds.push_back({9,
                           0,
                           40,
                           false,
                           {DamageFound::bent, 55.0, true, 62.0, "", 0},
                           "2026-02-18T09:40:00Z",
                           "operator A"});
  SteadinessSession steady;
  steady.trace_deg = {15.1F, 15.2F, -3.4F};
  steady.strokes = {{60, 15.2, 0.5, 16.1}};
  for (const BenchSession& session : {BenchSession{0, "", search}, BenchSession{0, "", steady}}) {
    const auto back = parse_bench_session(kind_of(session), bench_session_json(session));
    ASSERT_TRUE(back.ok()) << back.refusal().reason;
    EXPECT_EQ(*back, session);
  }
  BenchProtocol protocol;
  protocol.stations = {"heel"};
  protocol.count_by = CountBy::each;
  protocol.filament_lot = "7";
  protocol.check_nominal = 200;
  EXPECT_EQ(*parse_protocol(protocol_json(protocol)), protocol);
  std::vector<InstrumentProfile> profiles{usual_profile(InstrumentRole::gauge),
                                          usual_profile(InstrumentRole::angle)};
  profiles[0].port = "/dev/ttyS7";
  profiles[0].pattern = "(?<value>\\d+)";
  EXPECT_EQ(*parse_instruments(instruments_json(profiles)), profiles);
  EXPECT_FALSE(parse_instruments(R"({"instruments":[{"role":"gauge","pattern":"("}]})").ok());
}

// Any walk through a run, every step through the session: what is on the disk is what is in memory,
// undo goes back to the very beginning, redo comes back to the same.
TEST(BenchStore, WalksAreDurableUndoneAndRedone) {
  const test::Folder folder;
  int round = 0;
  EXPECT_TRUE(rc::check("walks", [&] {
    const auto path = folder / ("w" + std::to_string(round++) + ".bquarry");
    {
      auto project = ProjectFile::create(path, "walk");
      bq::Run run;
      run.facts.name = "R1";
      run.plan.checkpoints = {0, 10, 40};
      run.plan.readings_each = 2;
      project.add_run(run);
    }
    const auto same = [](const bq::Run& a, const bq::Run& b) {
      if (a.events.size() != b.events.size() || a.readings.size() != b.readings.size() ||
          a.cuts_done != b.cuts_done || !(a.plan == b.plan))
        return false;
      for (std::size_t i = 0; i < a.events.size(); ++i)
        if (!(a.events[i] == b.events[i])) return false;
      for (std::size_t i = 0; i < a.readings.size(); ++i)
        if (a.readings[i].value != b.readings[i].value ||
            a.readings[i].excluded != b.readings[i].excluded)
          return false;
      return true;
    };
    bq::Run end;
    {
      auto session = ProjectSession::open(path);
      const auto stage = [&] { return bench_stage(session.trial().runs[0], {}, {}); };
      const int steps = *rc::gen::inRange(1, 20);
      for (int i = 0; i < steps; ++i) {
        const BenchStage now = stage();
        switch (*rc::gen::inRange(0, 8)) {
          case 0:
            session.record(0, {DeviationEvent{"odd"}}, "A");
            break;
          case 1:
            if (!session.trial().runs[0].readings.empty())
              session.set_excluded(0, 0, !session.trial().runs[0].readings[0].excluded, "why");
            break;
          case 2:
            session.make_cuts(0, 5, *rc::gen::inRange<std::int64_t>(1, 30), "A");
            break;
          case 3: {
            ForceStroke stroke;
            stroke.force_N = std::vector<float>(30, 1.25F);
            session.keep_stroke(0, stroke, {0, 1, 1, 1, ""}, "A");
            break;
          }
          default:
            if (now.kind == StageKind::read)
              session.keep_reading(0, {100.0 + i, Unit::gf, "A", now.station, "keyed", {}});
            else if (now.kind == StageKind::cut)
              session.make_cuts(0, now.cuts_to_make, now.cuts_to_make, "A");
            else if (now.kind == StageKind::clean)
              session.record(0, {CleanedEvent{}}, "A");
            else if (now.kind == StageKind::look)
              session.keep_look(0, {}, PictureFile{0, "a.png", "png", "\x89PNG\r\n\x1a\n"}, "A");
            else
              session.record(0, {PreparedEvent{}}, "A");
        }
      }
      end = session.trial().runs[0];
      while (session.can_undo()) session.undo();
      const bq::Run& start = session.trial().runs[0];
      RC_ASSERT(start.events.empty() && start.readings.empty() && start.cuts_done == 0);
      RC_ASSERT(start.plan.checkpoints == (std::vector<std::int64_t>{0, 10, 40}));
      while (session.can_redo()) session.redo();
      RC_ASSERT(same(session.trial().runs[0], end));
    }
    const auto project = ProjectFile::open(path, ProjectFile::Access::read);
    RC_ASSERT(project.check().empty());
    RC_ASSERT(same(project.load().runs[0], end));
  }));
}

TEST(BenchStore, FileOfVersionThreeIsCopiedAndBroughtUpToDate) {
  const test::Folder folder;
  const auto path = folder / "old.bquarry";
  std::filesystem::copy_file(BQ_SOURCE_DIR "/tests/data/version3.bquarry", path);
  std::filesystem::permissions(path, std::filesystem::perms::owner_write,
                               std::filesystem::perm_options::add);
  const std::string before = test::read_file(path);
  EXPECT_EQ(ProjectFile::open(path, ProjectFile::Access::read).load().reading_count(), 3u);
  EXPECT_EQ(test::read_file(path), before) << "opened for reading it stays as it is";
  {
    auto session = ProjectSession::open(path);
    EXPECT_NE(session.opening_note().find("old.version-3.bquarry"), std::string::npos);
    session.record(0, {CleanedEvent{}}, "A");
    session.keep_reading(0, {200, Unit::gf, "A", "heel", "gauge, lot 7", {}});
  }
  const Trial now = ProjectFile::open(path, ProjectFile::Access::read).load();
  EXPECT_EQ(now.runs[0].events.size(), 1u);
  EXPECT_EQ(now.labels.text(now.runs[0].readings.back().gauge), "gauge, lot 7");
  EXPECT_EQ(ProjectFile::open(folder / "old.version-3.bquarry", ProjectFile::Access::read)
                .load()
                .reading_count(),
            3u);
  EXPECT_TRUE(ProjectFile::open(path, ProjectFile::Access::read).check().empty());
}

TEST(BenchStudy, ChecksGuardAndDoubtIsNamed) {
  const test::Folder folder;
  auto session = ProjectSession::open(bench_project(folder));
  EXPECT_TRUE(check_due({}, now_utc()));
  const auto weigh = [&](double value) {
    std::int64_t last = 0;
    for (const auto& reading : session.trial().runs[0].readings) last = std::max(last, reading.id);
    session.keep_check({200, value, Unit::gf, "g", last, ""}, "A");
  };
  const auto read = [&](double value) {
    session.keep_reading(0, {value, Unit::gf, "A", "heel", "g", {}});
  };
  read(100);
  weigh(200.4);
  read(101);
  session.make_cuts(0, 10, 10, "A");
  read(120);
  weigh(206);
  read(121);
  const auto drift = gauge_drift(session.trial(), 2);
  EXPECT_TRUE(drift.drifted);
  ASSERT_EQ(drift.doubtful.size(), 3u) << "all since the good check, those after the bad one too";
  EXPECT_EQ(drift.doubtful[0].second, 1u);
  EXPECT_EQ(session.flag_readings(drift.doubtful, "drift"), 3);
  EXPECT_EQ(session.flag_readings(drift.doubtful, "drift"), 0) << "once is enough";
  EXPECT_FALSE(check_due(session.trial().gauge_checks, now_utc()));
  const std::vector<BenchEvent> morning{{1, "2026-02-02T07:55:00Z", 0, "", CheckWeightEvent{}}};
  EXPECT_TRUE(check_due(morning, "2026-02-02T16:00:00Z"));
  EXPECT_FALSE(check_due(morning, "2026-02-01T16:00:00Z")) << "a clock that went back says nothing";
  weigh(199.8);
  read(122);
  const auto after = gauge_drift(session.trial(), 2);
  EXPECT_FALSE(after.drifted);
  EXPECT_EQ(after.doubtful, drift.doubtful)
      << "a good check forgives nothing, and is good from then on";
  EXPECT_EQ(*seconds_between("2026-02-02T07:55:00Z", "2026-02-03T07:55:01Z"), 86401);
  EXPECT_FALSE(seconds_between("yesterday", "2026-02-03T07:55:01Z").has_value());
}

TEST(BenchStudy, PicturesAreToldByTheirBytes) {
  EXPECT_EQ(picture_kind("\x89PNG\r\n\x1a\n..."), "png");
  EXPECT_EQ(picture_kind("\xff\xd8\xff\xe0"), "jpeg");
  EXPECT_EQ(picture_kind(std::string_view("II*\0....", 8)), "tiff");
  EXPECT_EQ(picture_kind("GIF89a"), "");
  EXPECT_EQ(picture_kind(""), "");
}
