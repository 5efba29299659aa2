// What one project takes from another.
#include <gtest/gtest.h>

#include "store/bench_json.h"
#include "store/jig_files.h"
#include "store/project_file.h"
#include "support.h"
#include "workflow/learned.h"
#include "workflow/section_study.h"

using namespace bq;
using bq::test::Folder;

namespace {

Teacher demo_of(const Folder& folder) {
  return teacher_from(ProjectFile::open(test::demo_project(folder), ProjectFile::Access::read));
}

}  // namespace

TEST(Learned, TakesWhatIsNotThereWithItsOriginAsOneAct) {
  const Folder folder;
  const Teacher teacher = demo_of(folder);
  const Trial& other = teacher.trial;
  ASSERT_GE(other.steels.size(), 3U);
  ProjectFile::create(folder / "own.bquarry", "own");
  auto session = ProjectSession::open(folder / "own.bquarry");
  SteelCard own;
  own.name = other.steels[0].name;
  own.hardness_hrc = 51;
  session.set_steel_card(own);
  const Learned learned = learn_from(session, teacher, {}, "2026-11-30");
  EXPECT_EQ(learned.there, std::vector<std::string>{own.name});
  EXPECT_EQ(learned.unlike, std::vector<std::string>{own.name});
  take_learned(session, learned);
  EXPECT_EQ(session.trial().steels.size(), other.steels.size());
  EXPECT_EQ(session.trial().steel_card(own.name)->hardness_hrc, 51) << "what is here stays";
  EXPECT_EQ(session.trial().shelf.size(), other.shelf.size());
  for (const auto& stone : session.trial().shelf) {
    EXPECT_NE(stone.note.find("taken from " + other.title + " on 2026-11-30"), std::string::npos);
    const auto from = std::find_if(other.shelf.begin(), other.shelf.end(),
                                   [&](const Abrasive& a) { return a.name == stone.name; });
    EXPECT_EQ(stone.measured_um, from->measured_um) << stone.name;
    EXPECT_EQ(stone.rate_mm3_per_min, from->rate_mm3_per_min) << stone.name;
  }
  session.undo();
  EXPECT_EQ(session.trial().shelf.size(), 0U);
  EXPECT_EQ(session.trial().steels.size(), 1U);
  EXPECT_EQ(session.kept(kTakenOverKey), "");
}

TEST(Learned, TheBenchComesAlongAndItsOriginStaysUntilItIsChanged) {
  const Folder folder;
  {
    auto session = ProjectSession::open(test::demo_project(folder));
    BenchProtocol protocol;
    protocol.seconds_per_cut = 7;
    protocol.filament_lot = "lot 7";
    protocol.medium_batch = "roll 3";
    session.keep(kProtocolKey, protocol_json(protocol), "");
    session.keep(kSectionQuestionsKey, section_questions_text({33, 90, 4, 28, 0.3}), "");
    // No jig of its own: the one of the newest setting on record.
    if (session.trial().blades.empty()) FAIL();
    session.add_records(0, {SettingRecord{15, 55, 118, 36, 2, 0, 0, 0.4, ""}}, "");
  }
  const Teacher teacher =
      teacher_from(ProjectFile::open(folder / "demo.bquarry", ProjectFile::Access::read));
  ProjectFile::create(folder / "own.bquarry", "own");
  auto session = ProjectSession::open(folder / "own.bquarry");
  take_learned(session, learn_from(session, teacher, {false, false, false}, "2026-11-30"));
  EXPECT_TRUE(session.trial().steels.empty()) << "what is not chosen stays there";
  const auto protocol = parse_protocol(session.kept(kProtocolKey));
  ASSERT_TRUE(protocol);
  EXPECT_EQ(protocol->seconds_per_cut, 7);
  EXPECT_EQ(protocol->filament_lot, "") << "another trial's filament is not on this gauge";
  EXPECT_EQ(protocol->medium_batch, "");
  EXPECT_EQ(section_questions_of(session.kept(kSectionQuestionsKey)).line_N_per_mm, 33);
  const auto jig = parse_jig_text(session.kept(kClampJigKey));
  ASSERT_TRUE(jig);
  EXPECT_EQ(jig->pivot_height_mm, 36);
  EXPECT_EQ(origin_of_setting(session, kClampJigKey),
            "taken from " + teacher.trial.title + " on 2026-11-30");
  // Taken on to a third project a setting keeps where it came from first; and a card does.
  take_learned(session, learn_from(session, teacher, {}, "2026-11-30"));
  const Teacher second =
      teacher_from(ProjectFile::open(session.path(), ProjectFile::Access::beside));
  ProjectFile::create(folder / "third.bquarry", "third");
  auto third = ProjectSession::open(folder / "third.bquarry");
  take_learned(third, learn_from(third, second, {}, "2027-01-01"));
  EXPECT_EQ(origin_of_setting(third, kProtocolKey),
            "taken from " + teacher.trial.title + " on 2026-11-30");
  for (const auto& stone : third.trial().shelf)
    EXPECT_EQ(stone.note.find("2027"), std::string::npos) << stone.note;
  // Once changed it is this bench's own; what was there is left and said.
  session.keep(kClampJigKey, "60 120 40 0", "");
  EXPECT_EQ(origin_of_setting(session, kClampJigKey), "");
  const Learned again = learn_from(session, teacher, {}, "2027-01-01");
  EXPECT_TRUE(again.bench.empty());
  EXPECT_NE(std::find(again.unlike.begin(), again.unlike.end(), "the clamp jig"),
            again.unlike.end());
  EXPECT_EQ(std::find(again.unlike.begin(), again.unlike.end(), "the bench's protocol"),
            again.unlike.end());
  // Marks nobody can read mark nothing.
  session.keep(kTakenOverKey, "{\"clamp-jig\": [1, {\"text\"", "");
  EXPECT_EQ(origin_of_setting(session, kClampJigKey), "");
}
