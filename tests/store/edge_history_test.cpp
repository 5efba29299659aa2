// Blades' histories and cards: through the file, through undo, and from files of version 1.
#include <gtest/gtest.h>

#include "run_cli.h"
#include "store/edge_record_json.h"
#include "store/project_file.h"
#include "support.h"
#include "trial/edge_map.h"
#include "workflow/project_session.h"

using namespace bq;

namespace {

SectionPlan some_plan() {
  SectionPlan plan;
  plan.stock_mm = 2.2;
  plan.height_mm = 26;
  Grind edge;
  edge.angle_deg = 15;
  Grind micro;
  micro.angle_deg = 21;
  micro.until = UntilFacet{45};
  plan.grinds = {edge, micro};
  return plan;
}

std::vector<EdgeRecordData> one_of_each() {
  return {OutlineRecord{"belly", preset_outline(ProfilePreset::belly, 120)},
          AngleRecord{EdgeSide::right, 35.5, 15.25, 0.4, "marker test"},
          ThicknessRecord{40, 1, 0.52},
          FindingRecord{IntakeCheck::chips, true, 61.0, 0.3, "from a staple"},
          SpotRecord{SpotKind::damage, EdgeSide::left, 34, 120, false, "rolled"},
          SectionRecord{some_plan(), "as delivered"},
          SettingRecord{15, 60, 120.5, 34, 2, -3.5, 0.5, 0.31, "third notch"},
          NoteRecord{"cut \"test\" fibres,\nthen cleaned"}};
}

}  // namespace

TEST(EdgeHistory, EveryKindOfRecordGoesThroughTheFile) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  {
    ProjectFile project = ProjectFile::create(path, "t");
    Blade blade;
    blade.name = "B1";
    for (const auto& data : one_of_each()) blade.records.push_back({0, "", data});
    const Blade stored = project.add_blade(blade);
    EXPECT_GT(stored.records.front().id, 0);
    // All or none: a line that contradicts the file takes the others back with it.
    EXPECT_THROW(
        project.add_edge_records(stored.id, {{0, "", NoteRecord{"new"}},
                                             {stored.records.front().id, "", NoteRecord{"twice"}}}),
        StoreError);
    project.set_steel_card({"Marl Tough", 57.5, 3, "ductile", "tough", std::nullopt, "bar 4"});
    project.set_medium_card({"coir", "8 mm mat", ""});
  }
  const ProjectFile project = ProjectFile::open(path, ProjectFile::Access::read);
  const Trial trial = project.load();
  ASSERT_EQ(trial.blades.size(), 1U);
  const auto expected = one_of_each();
  ASSERT_EQ(trial.blades[0].records.size(), expected.size());
  for (std::size_t i = 0; i < expected.size(); ++i) {
    EXPECT_EQ(trial.blades[0].records[i].data, expected[i]) << describe(expected[i]);
    EXPECT_EQ(trial.blades[0].records[i].made_at.size(), 20U);
  }
  EXPECT_EQ(trial.steel_card("Marl Tough")->hardness_hrc, 57.5);
  EXPECT_EQ(trial.medium_card("coir")->form, "8 mm mat");
  EXPECT_TRUE(project.check().empty());
  EXPECT_FALSE(parse_edge_record("angle", R"({"side":"up","at_mm":1,"angle_deg":9})").ok());
  EXPECT_FALSE(parse_edge_record("angle", R"({"side":"left","at_mm":1,"angle_deg":99})").ok());
  EXPECT_FALSE(parse_edge_record("dance", "{}").ok());
}

TEST(EdgeHistory, EveryStepIsOnDiskAndCanBeUndone) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "t");
  const auto on_disk = [&] {
    const auto copy = folder / "copy.bquarry";
    std::filesystem::remove(copy);
    std::filesystem::remove(copy.string() + "-wal");
    std::filesystem::copy_file(path, copy);
    if (std::filesystem::exists(path.string() + "-wal"))
      std::filesystem::copy_file(path.string() + "-wal", copy.string() + "-wal");
    return ProjectFile::open(copy, ProjectFile::Access::write).load();
  };
  ProjectSession session = ProjectSession::open(path);
  Blade blade;
  blade.name = "B1";
  blade.steel = "Cairn Hard";
  session.add_blade(blade);
  session.add_records(0, one_of_each(), "intake");
  EXPECT_EQ(on_disk().blades[0].records, session.trial().blades[0].records);
  session.remove_record(0, 3);
  EXPECT_EQ(on_disk().blades[0].records.size(), 7U);
  session.undo();
  EXPECT_EQ(session.trial().blades[0].records.size(), 8U);
  EXPECT_EQ(on_disk().blades[0].records, session.trial().blades[0].records);
  // Editing the blade keeps its history.
  blade.name = "B1 long";
  session.update_blade(0, blade);
  EXPECT_EQ(session.trial().blades[0].records.size(), 8U);
  session.duplicate_blade(0, "B2");
  ASSERT_EQ(session.trial().blades.size(), 2U);
  EXPECT_EQ(session.trial().blades[1].records.size(), 2U)
      << "outline and section, not the measurements";
  EXPECT_EQ(edge_now(session.trial().blades[1]).section, some_plan());
  EXPECT_THROW(session.duplicate_blade(0, "B2"), StoreError);
  session.set_retired(0, true);
  session.set_steel_card({"Cairn Hard", 64, 18, "brittle", "brittle", 2600, ""});
  session.set_steel_card({"Cairn Hard", 65, 18, "brittle", "brittle", 2600, ""});
  EXPECT_THROW(session.set_steel_card({"Cairn Hard", 75, {}, "", "", {}, ""}), StoreError);
  EXPECT_THROW(session.set_steel_card({" ", {}, {}, "", "", {}, ""}), StoreError);
  EXPECT_EQ(on_disk().steel_card("Cairn Hard")->hardness_hrc, 65);
  session.undo();
  EXPECT_EQ(on_disk().steel_card("Cairn Hard")->hardness_hrc, 64);
  while (session.can_undo()) session.undo();
  EXPECT_TRUE(on_disk().blades.empty());
  EXPECT_TRUE(on_disk().steels.empty());
  while (session.can_redo()) session.redo();
  EXPECT_EQ(on_disk().blades.size(), 2U);
  EXPECT_EQ(on_disk().blades[0].records, session.trial().blades[0].records);
  EXPECT_TRUE(session.trial().blades[0].retired);
}

TEST(EdgeHistory, AFileOfVersionOneIsBroughtUpToDateAfterACopy) {
  const test::Folder folder;
  const auto path = folder / "old.bquarry", backup = folder / "old.version-1.bquarry";
  std::filesystem::copy_file(BQ_SOURCE_DIR "/tests/data/version1.bquarry", path);
  std::filesystem::permissions(path, std::filesystem::perms::owner_write,
                               std::filesystem::perm_options::add);
  const std::string before = test::read_file(path);
  // Looking at it changes nothing.
  EXPECT_EQ(ProjectFile::open(path, ProjectFile::Access::read).load().reading_count(), 512U);
  EXPECT_EQ(test::read_file(path), before);
  EXPECT_FALSE(std::filesystem::exists(backup));
  {
    ProjectSession session = ProjectSession::open(path);
    EXPECT_EQ(session.trial().reading_count(), 512U);
    EXPECT_NE(session.opening_note().find("old.version-1.bquarry"), std::string::npos)
        << session.opening_note();
    session.add_records(0, {NoteRecord{"kept"}}, "note");
  }
  EXPECT_TRUE(ProjectSession::open(path).opening_note().empty()) << "once is enough";
  const ProjectFile now = ProjectFile::open(path, ProjectFile::Access::read);
  EXPECT_TRUE(now.check().empty());
  EXPECT_EQ(now.load().blades[0].records.size(), 1U);
  EXPECT_EQ(now.load().reading_count(), 512U);
  const ProjectFile old = ProjectFile::open(backup, ProjectFile::Access::read);
  EXPECT_EQ(old.load().reading_count(), 512U);
  EXPECT_TRUE(old.load().blades[0].records.empty());
}

TEST(EdgeMap, TellsTheSpreadAndTheWorstPlace) {
  Blade blade;
  const auto add = [&](EdgeRecordData data) { blade.records.push_back({0, "", std::move(data)}); };
  EXPECT_EQ(describe_edge(edge_now(blade), 0.5).spread, "No angle has been measured on this edge.");
  add(AngleRecord{EdgeSide::left, 20, 15, 0, ""});
  add(AngleRecord{EdgeSide::left, 20, 15.4, 0, ""});
  add(AngleRecord{EdgeSide::left, 100, 17, 0, ""});
  add(AngleRecord{EdgeSide::right, 60, 16, 0.3, ""});
  auto words = describe_edge(edge_now(blade), 0.5);
  EXPECT_EQ(words.spread,
            "Bevel not said: left 16.1° (15.2° to 17.0°), right 16.0° per side; left is 0.1° "
            "steeper; heel to tip 1.8°.");
  EXPECT_NE(words.worst.find("the left side is 0.9° "), std::string::npos) << words.worst;
  add(SpotRecord{SpotKind::bright, {}, 80, 0, false, ""});
  add(SpotRecord{SpotKind::damage, EdgeSide::left, 34, 100, false, ""});
  words = describe_edge(edge_now(blade), 0.5);
  EXPECT_EQ(words.worst,
            "34 mm from the heel: damage 100 µm deep, left side: the whole edge goes back to its "
            "bottom (Stones plans it), or it is lived with; do not grind here alone, that makes a "
            "hollow.");
  EXPECT_EQ(words.worst_at_mm, 34);
  add(SpotRecord{SpotKind::damage, EdgeSide::left, 34.5, 0, true, ""});
  EXPECT_EQ(describe_edge(edge_now(blade), 0.5).worst_at_mm, 80)
      << "what was cleared is no longer the worst";
  // Grinding makes what was measured before history.
  add(SectionRecord{some_plan(), ""});
  EXPECT_TRUE(edge_now(blade).left.stations.empty());
  EXPECT_EQ(blade.records.size(), 8U);
  for (int i = 0; i < kIntakeChecks; ++i) EXPECT_FALSE(meaning_of(IntakeCheck(i)).empty());
}
