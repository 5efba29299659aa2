#include <gtest/gtest.h>

#include <cmath>
#include <fstream>
#include <sstream>

#include "store/project_file.h"
#include "store/readings_export.h"
#include "support.h"

using namespace bq;
namespace fs = std::filesystem;

namespace {

template <class Act>
StoreProblem problem_of(Act act) {
  try {
    act();
  } catch (const StoreError& error) {
    EXPECT_GT(std::string(error.what()).size(), 20u);
    return error.problem();
  }
  ADD_FAILURE() << "was not refused";
  return StoreProblem::refused;
}

void overwrite(const fs::path& path, std::streamoff at, const std::string& bytes) {
  std::fstream file(path, std::ios::in | std::ios::out | std::ios::binary);
  file.seekp(at);
  file << bytes;
}

}  // namespace

TEST(ProjectFile, KeepsAWholeTrial) {
  const test::Folder folder;
  const Trial demo = test::demo_trial();
  {
    auto project = ProjectFile::create(folder / "p.bquarry", "Fernmoor");
    const auto counts = project.import(demo, KnownRuns::refuse);
    EXPECT_EQ(counts.runs, 55);
    EXPECT_EQ(counts.readings, std::int64_t(demo.reading_count()));
    EXPECT_TRUE(project.check().empty());
  }
  EXPECT_FALSE(fs::exists(folder / "p.bquarry-wal"));
  const Trial loaded = ProjectFile::open(folder / "p.bquarry", ProjectFile::Access::read).load();
  std::ostringstream before, after;
  write_readings_csv(demo, before);
  write_readings_csv(loaded, after);
  EXPECT_EQ(before.str(), after.str());
  EXPECT_EQ(trial_json(loaded).find("nan"), std::string::npos);
}

TEST(ProjectFile, KeepsFactorsSidesAndExclusions) {
  const test::Folder folder;
  const auto csv =
      test::table(
          "run,cuts,reading,unit,edge_angle_left,edge_angle_right,finish_um_left,finish_um_right,"
          "excluded,reason,hum,strop\n"
          "A,0,0.1,N,12,13.5,1,6,1,slipped,0.1,bare\nA,5,0.30000000000000004,N,,,,,,,,\n")
          .trial;
  auto project = ProjectFile::create(folder / "p.bquarry", "");
  project.import(csv, KnownRuns::refuse);
  const Trial loaded = project.load();
  EXPECT_TRUE(loaded.runs[0].facts == csv.runs[0].facts);
  EXPECT_EQ(loaded.runs[0].readings[1].value, 0.30000000000000004);
  EXPECT_TRUE(loaded.runs[0].readings[0].excluded);
}

TEST(ProjectFile, AnImportIsWholeOrNotAtAll) {
  const test::Folder folder;
  auto project = ProjectFile::create(folder / "p.bquarry", "");
  project.import(test::table("run,cuts,reading,unit,blade,steel\nA,0,5,gf,b,S\n").trial,
                 KnownRuns::refuse);
  EXPECT_EQ(problem_of([&] {
              project.import(test::table("run,cuts,reading,unit\nNew,0,5,gf\nA,9,7,gf\n").trial,
                             KnownRuns::refuse);
            }),
            StoreProblem::refused);
  EXPECT_EQ(problem_of([&] {
              project.import(test::table("run,cuts,reading,unit\nL,0,5,mm\n").trial,
                             KnownRuns::refuse);
            }),
            StoreProblem::refused);
  EXPECT_EQ(problem_of([&] {
              project.import(test::table("run,cuts,reading,unit,blade,steel\nZ,0,5,gf,b,T\n").trial,
                             KnownRuns::refuse);
            }),
            StoreProblem::refused);
  EXPECT_EQ(project.load().runs.size(), 1u);
  EXPECT_EQ(
      project.import(test::table("run,cuts,reading,unit\nA,9,7,gf\n").trial, KnownRuns::further)
          .readings,
      1);
  EXPECT_EQ(project.load().runs[0].cuts_done, 9);
}

TEST(ProjectFile, RefusesWhatIsNoProjectAndLeavesItAlone) {
  const test::Folder folder;
  const auto open = [](const fs::path& path) {
    return [path] { ProjectFile::open(path, ProjectFile::Access::write); };
  };
  EXPECT_EQ(problem_of(open(folder / "none.bquarry")), StoreProblem::missing);
  const auto text = folder.write("text.bquarry", std::string(5000, 'x'));
  EXPECT_EQ(problem_of(open(text)), StoreProblem::not_a_project);
  EXPECT_EQ(test::read_file(text), std::string(5000, 'x'));
  EXPECT_EQ(problem_of(open(folder.write("empty.bquarry", ""))), StoreProblem::truncated);

  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "x").import(test::demo_trial(), KnownRuns::refuse);
  const std::string whole = test::read_file(path);
  for (const double part : {0.999, 0.7, 0.3, 0.02}) {
    const auto cut =
        folder.write("cut.bquarry", whole.substr(0, std::size_t(double(whole.size()) * part)));
    const std::string before = test::read_file(cut);
    EXPECT_EQ(problem_of(open(cut)), StoreProblem::truncated) << part;
    EXPECT_EQ(test::read_file(cut), before);
  }
  const auto other = folder.write("other.bquarry", whole);
  overwrite(other, 68, "ABCD");
  EXPECT_EQ(problem_of(open(other)), StoreProblem::not_a_project);
  EXPECT_EQ(problem_of([&] { ProjectFile::create(path, "again"); }), StoreProblem::exists);
  EXPECT_EQ(test::read_file(path), whole);
}

TEST(ProjectFile, ANewerOneIsReadNotWritten) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "x").import(test::demo_trial(), KnownRuns::refuse);
  overwrite(path, 60, std::string("\0\0\0\x09", 4));
  const std::string before = test::read_file(path);
  EXPECT_EQ(problem_of([&] { ProjectFile::open(path, ProjectFile::Access::write); }),
            StoreProblem::newer);
  const auto project = ProjectFile::open(path, ProjectFile::Access::read);
  EXPECT_TRUE(project.from_newer_version());
  EXPECT_EQ(project.load().runs.size(), 55u);
  EXPECT_EQ(test::read_file(path), before);
}

TEST(ProjectFile, AWriteProtectedOneIsReadNotWritten) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "x").import(test::demo_trial(), KnownRuns::refuse);
  fs::permissions(path, fs::perms::owner_read);
  EXPECT_EQ(problem_of([&] { ProjectFile::open(path, ProjectFile::Access::write); }),
            StoreProblem::read_only);
  EXPECT_EQ(ProjectFile::open(path, ProjectFile::Access::read).load().runs.size(), 55u);
}

TEST(ProjectFile, IsOpenForOneOnly) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  {
    auto first = ProjectFile::create(path, "x");
    EXPECT_EQ(problem_of([&] { ProjectFile::open(path, ProjectFile::Access::write); }),
              StoreProblem::busy);
    first.set_setting("threshold", "450 gf");
  }
  EXPECT_EQ(*ProjectFile::open(path, ProjectFile::Access::write).setting("threshold"), "450 gf");
}

TEST(ProjectFile, CheckFindsDanglingEvidenceAndDamage) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "x").import(test::demo_trial(), KnownRuns::refuse);
  EXPECT_TRUE(ProjectFile::open(path, ProjectFile::Access::read).check().empty());
  ASSERT_EQ(std::system(("sqlite3 '" + path.string() +
                         "' 'PRAGMA foreign_keys=OFF; DELETE FROM run WHERE id=3; UPDATE run SET "
                         "edge_left_deg=95 WHERE id=4;' "
                         "2>/dev/null || python3 -c \"import sqlite3; c=sqlite3.connect('" +
                         path.string() +
                         "'); c.execute('DELETE FROM run WHERE id=3'); c.execute('UPDATE run SET "
                         "edge_left_deg=95 WHERE id=4'); c.commit()\"")
                            .c_str()),
            0);
  const auto problems = ProjectFile::open(path, ProjectFile::Access::read).check();
  ASSERT_GE(problems.size(), 2u);
  std::string all;
  for (const auto& problem : problems) all += problem + "\n";
  EXPECT_NE(all.find("dangling evidence"), std::string::npos);
  EXPECT_NE(all.find("outside 0° to 80°"), std::string::npos);
}
