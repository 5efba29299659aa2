// What a disk or another program changed in silence: found by the checksums, and by nothing less;
// and nothing that the program itself does ever looks like it.
#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

#include <fstream>
#include <set>
#include <sstream>

#include "stats/random.h"
#include "store/checksums.h"
#include "store/content_check.h"
#include "store/picture_store.h"
#include "store/project_file.h"
#include "store/project_schema.h"
#include "support.h"
#include "workflow/project_session.h"

using namespace bq;
namespace fs = std::filesystem;

namespace {

void run_sql(const fs::path& path, const std::string& sql) {
  SQLite::Database(path.string(), SQLite::OPEN_READWRITE).exec(sql);
}

std::vector<std::string> check_of(const fs::path& path) {
  return ProjectFile::open(path, ProjectFile::Access::read).check();
}

std::string record_of(const fs::path& path) {
  std::ostringstream out;
  ProjectFile::open(path, ProjectFile::Access::read).write_record(out);
  return out.str();
}

}  // namespace

TEST(Checksum, EveryTableHasOneOrSaysWhyNot) {
  std::set<std::string> of;
  const test::Folder folder;
  const auto path = test::whole_demo_project(folder);
  {
    SQLite::Database db(path.string());
    SQLite::Statement all(db, "SELECT DISTINCT of FROM checksum");
    while (all.executeStep()) of.insert(all.getColumn(0).getString());
    for (const auto& entry : schema_of_version(ProjectFile::kVersion)) {
      if (entry.type != "table" ||
          db.execAndGet("SELECT count(*) FROM " + entry.name).getInt() == 0)
        continue;
      // Parts of pictures have a SHA-256.
      EXPECT_EQ(of.count(entry.name),
                entry.name == "checksum" || entry.name == "picture_part" ? 0 : 1)
          << entry.name;
    }
  }
  EXPECT_GT(of.size(), 10u);
  EXPECT_TRUE(check_of(path).empty());
}

// One bit, anywhere in the file: what leaves the program as another figure is told of.
TEST(Checksum, NoFlippedBitChangesAFigureInSilence) {
  const test::Folder folder;
  const auto path = test::demo_project(folder);
  const std::string bytes = test::read_file(path), truth = record_of(path);
  stats::Random random(429);
  int told = 0, changed = 0;
  for (int play = 0; play < 300; ++play) {
    std::string hit = bytes;
    const auto at = random.below(hit.size());
    hit[at] = char(hit[at] ^ (1 << random.below(8)));
    const auto damaged = folder.write("hit.bquarry", hit);
    try {
      const ProjectFile file = ProjectFile::open(damaged, ProjectFile::Access::read);
      std::ostringstream out;
      file.write_record(out);
      if (out.str() == truth) continue;
      ++changed;
      const bool silent = file.check().empty();
      EXPECT_FALSE(silent) << "byte " << at << " of " << hit.size();
      told += !silent;
    } catch (const StoreError&) {  // could not be read: that is no silence
      ++told;
    }
  }
  EXPECT_GT(changed, 20) << "a test that could not fail";
  EXPECT_GT(told, 60);
}

TEST(Checksum, NamesWhatIsNotAsItWasKept) {
  const test::Folder folder;
  const auto path = test::whole_demo_project(folder);
  run_sql(path, "UPDATE reading SET value = value * 2 WHERE id = (SELECT min(id) FROM reading)");
  run_sql(path, "UPDATE setting SET value = 'Another' WHERE key = 'title'");
  run_sql(path, "DELETE FROM edge_record WHERE id = (SELECT min(id) FROM edge_record)");
  std::string run, blade;
  {
    SQLite::Database db(path.string());
    run = db.execAndGet("SELECT name FROM run WHERE id = (SELECT run_id FROM reading LIMIT 1)")
              .getString();
    blade = db.execAndGet("SELECT name FROM blade ORDER BY id LIMIT 1").getString();
  }
  const auto problems = check_of(path);
  ASSERT_EQ(problems.size(), 3u);
  EXPECT_EQ(problems[0], "not as it was kept: the setting title (checksum)");
  EXPECT_EQ(problems[1], "not as it was kept: the readings of run " + run + " (checksum)");
  EXPECT_TRUE(problems[2].starts_with("not as it was kept: the history of blade")) << problems[2];
  // Work goes on, and what was wrong stays told.
  {
    auto session = ProjectSession::open(path);
    session.set_threshold("433 gf");
    session.keep_reading(0, {500, Unit::gf, "A", "", "", {}});
    session.undo();
  }
  EXPECT_EQ(check_of(path), problems);
  // Taken into a new project it counts as it is.
  ProjectFile::open(path, ProjectFile::Access::read).copy_to(folder / "copy.bquarry");
  EXPECT_EQ(check_of(folder / "copy.bquarry"), problems);
}

TEST(Checksum, WorkBesideTheComparisonIsNoDamage) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "many");
  Trial trial;
  for (int r = 0; r < 40; ++r) {
    bq::Run& run = trial.runs.emplace_back();
    run.facts.name = "R" + std::to_string(r);
    for (int i = 0; i < 1500; ++i) {
      Reading& reading = run.readings.emplace_back();
      reading.cuts = i / 3;
      reading.value = 100 + i;
    }
  }
  auto session = ProjectSession::open(path);
  session.import(trial);
  const auto check = session.content_check();
  stats::Random random(7);
  int pieces = 0;
  while (check->go_on()) {
    ++pieces;
    for (int i = 0; i < 6; ++i) {  // before and behind where the comparison is
      const auto run = random.below(40);
      if (i == 3) {
        session.undo();
      } else if (i == 4) {
        session.set_excluded(run, random.below(1500), true, "slipped");
      } else {
        session.keep_reading(run, {100.0 + double(i), Unit::gf, "A", "", "", {}});
      }
    }
    // An act that is taken back half done leaves nothing.
    EXPECT_ANY_THROW(session.as_one("half", [&] {
      session.keep_reading(3, {222, Unit::gf, "B", "", "", {}});
      throw std::runtime_error("no");
    }));
  }
  EXPECT_GT(pieces, 4);
  EXPECT_TRUE(check->unlike().empty());
  {
    const auto again = session.content_check();
    while (again->go_on()) {
    }
    EXPECT_TRUE(again->unlike().empty());
  }
}

// Statements of every kind that change rows, at random, also such as the program does not use.
TEST(Checksum, FollowsEveryKindOfChange) {
  SQLite::Database db(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
  make_schema(db, ProjectFile::kVersion);
  db.exec("PRAGMA foreign_keys = ON");
  Checksums sums(db);
  stats::Random random(11);
  const auto id = [&] { return std::to_string(1 + random.below(5)); };
  int taken_back = 0, done = 0;
  for (int i = 0; i < 4000; ++i) {
    std::string sql;
    switch (random.below(12)) {
      case 0:
        sql = "INSERT OR REPLACE INTO setting VALUES('k" + id() + "', '" + id() + "')";
        break;
      case 1:
        sql = "INSERT INTO blade(id, name) VALUES(" + id() + ", 'b" + id() + "')";
        break;
      case 2:
        sql = "INSERT OR REPLACE INTO edge_record(id, blade_id, made_at, kind, data) VALUES(" +
              id() + ", " + id() + ", '', 'note', '" + id() + "')";
        break;
      case 3:
        sql = "DELETE FROM blade WHERE id = " + id();  // and what hangs on it
        break;
      case 4:
        sql = "INSERT INTO run(id, name, edge_left_deg) VALUES(" + id() + ", 'r" + id() + "', " +
              id() + ")";
        break;
      case 5:
        sql = "INSERT INTO reading(run_id, cuts, value, unit) VALUES(" + id() + ", " + id() + ", " +
              id() + (i % 2 ? ".5" : "") + ", 'gf')";
        break;
      case 6:
        sql = "UPDATE reading SET value = value + 1, run_id = " + id() + " WHERE cuts = " + id();
        break;
      case 7:
        sql = "DELETE FROM reading" + std::string(i % 3 ? " WHERE cuts < " + id() : "");
        break;
      case 8:
        sql = "INSERT OR REPLACE INTO run_factor VALUES(" + id() + ", 'f', '" + id() + "')";
        break;
      case 9:
        sql = "INSERT INTO comparison(id, made_at, data) VALUES(" + id() +
              ", '', 'x') ON CONFLICT(id) DO UPDATE SET data = data || '+'";
        break;
      case 10:
        sql = "UPDATE blade SET id = id + 1 WHERE id = " + id();
        break;
      default:
        sql = "DELETE FROM run WHERE id = " + id();
    }
    CheckedTransaction change(db, &sums);
    try {
      db.exec(sql);
      if (random.below(5) == 0) {
        ++taken_back;
        continue;
      }
      change.commit();
      ++done;
    } catch (const SQLite::Exception&) {  // a constraint: nothing happened
    }
  }
  EXPECT_GT(taken_back, 200);
  EXPECT_GT(done, 1000);
  const auto rows = [&] {
    std::string out;
    SQLite::Statement all(db, "SELECT of, id, name, sum FROM checksum");
    while (all.executeStep())
      for (int c = 0; c < 4; ++c) out += all.getColumn(c).getString() + ' ';
    return out;
  };
  const std::string followed = rows();
  Checksums::make_anew(db);
  EXPECT_EQ(followed, rows());
}

TEST(Checksum, AFileOfVersion5GetsThemAndKeepsEverything) {
  const test::Folder folder;
  const auto path = folder / "old.bquarry";
  fs::copy_file(BQ_SOURCE_DIR "/tests/data/version5.bquarry", path);
  fs::permissions(path, fs::perms::owner_write, fs::perm_options::add);
  const Trial before = ProjectFile::open(path, ProjectFile::Access::read).load();
  {
    const ProjectFile file = ProjectFile::open(path, ProjectFile::Access::read);
    const auto check = file.content_check();
    EXPECT_FALSE(check->go_on()) << "it has none";
  }
  {
    const ProjectFile file = ProjectFile::open(path, ProjectFile::Access::write);
    EXPECT_EQ(file.copy_of_older().filename(), "old.version-5.bquarry");
    EXPECT_TRUE(file.check().empty());
    const Trial after = file.load();
    ASSERT_EQ(after.runs.size(), before.runs.size());
    EXPECT_EQ(after.reading_count(), before.reading_count());
    EXPECT_EQ(after.micrographs.size(), before.micrographs.size());
    EXPECT_EQ(after.runs[0].readings[3].value, before.runs[0].readings[3].value);
  }
  run_sql(path, "UPDATE reading SET cuts = cuts + 1 WHERE id = 2");
  ASSERT_EQ(check_of(path).size(), 1u);
}
