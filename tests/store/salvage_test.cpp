// Files that something happened to: damaged pages, a cut end, things that a stranger wrote into the
// schema. What can be read comes into a new project, the rest is named, the old file stays as it
// is.
#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

#include <fstream>
#include <map>
#include <set>

#include "stats/random.h"
#include "store/project_file.h"
#include "store/project_salvage.h"
#include "support.h"

using namespace bq;
namespace fs = std::filesystem;

namespace {

/// Every reading by its run: what is told of it elsewhere may not differ.
using Readings = std::map<std::int64_t, std::tuple<std::string, std::int64_t, double>>;

Readings readings_of(const fs::path& path) {
  Readings out;
  for (const auto& run : ProjectFile::open(path, ProjectFile::Access::read).load().runs)
    for (const auto& r : run.readings) out[r.id] = {run.facts.name, r.cuts, r.value};
  return out;
}

void run_sql(const fs::path& path, const std::string& sql) {
  SQLite::Database(path.string(), SQLite::OPEN_READWRITE).exec(sql);
}

std::string refusal_of(const fs::path& path, ProjectFile::Access access) {
  try {
    ProjectFile::open(path, access);
  } catch (const StoreError& error) {
    return error.what();
  }
  return "";
}

}  // namespace

/// Leaf pages of the readings with the readings on each, and the pages that lead to them.
struct ReadingPages {
  std::map<std::size_t, std::int64_t> leaves;
  std::vector<std::size_t> inner;
};

ReadingPages pages_of_readings(const fs::path& path) {
  ReadingPages out;
  SQLite::Database db(path.string());
  SQLite::Statement page(db, "SELECT pageno, pagetype, ncell FROM dbstat WHERE name = 'reading'");
  while (page.executeStep()) {
    const auto number = std::size_t(page.getColumn(0).getInt64());
    if (page.getColumn(1).getString() == "leaf")
      out.leaves[number] = page.getColumn(2).getInt64();
    else
      out.inner.push_back(number);
  }
  return out;
}

constexpr std::size_t kPage = 4096;

void blank(std::string& bytes, std::size_t page) {
  bytes.replace((page - 1) * kPage, kPage, kPage, '\0');
}

/// What was saved is true; what is called by the name of its run is that run's.
void expect_true(const Readings& saved, const Readings& truth) {
  for (const auto& [id, what] : saved) {
    const auto found = truth.find(id);
    ASSERT_NE(found, truth.end()) << "a reading nobody made";
    EXPECT_EQ(std::get<1>(what), std::get<1>(found->second));
    EXPECT_EQ(std::get<2>(what), std::get<2>(found->second));
    if (!std::get<0>(what).starts_with("salvaged run")) {
      EXPECT_EQ(std::get<0>(what), std::get<0>(found->second));
    }
  }
}

// Twenty pages of any kind, those that lead to others too: what lies on a page that is whole comes
// back, every single reading, and the rest is named.
TEST(Salvage, WhatCanBeReadComesBackAndTheRestIsNamed) {
  const test::Folder folder;
  const auto whole = test::whole_demo_project(folder);
  const Readings truth = readings_of(whole);
  const std::string bytes = test::read_file(whole);
  const ReadingPages where = pages_of_readings(whole);
  ASSERT_GT(where.leaves.size(), 8u);
  ASSERT_FALSE(where.inner.empty());
  std::vector<std::size_t> leaves;
  for (const auto& [page, count] : where.leaves) leaves.push_back(page);
  stats::Random random(23);
  for (int play = 0; play < 8; ++play) {
    SCOPED_TRACE(play);
    std::set<std::size_t> hit;
    // Where the readings lie: pages of pictures would take most of the hits.
    for (int i = 0; i < 20; ++i)
      hit.insert(i < play % 4 ? leaves[random.below(leaves.size())]
                              : 2 + random.below(bytes.size() / kPage - 1));
    if (play >= 4) hit.insert(where.inner.begin(), where.inner.end());
    if (play == 7) hit.insert(1);  // the head
    std::string damaged_bytes = bytes;
    std::int64_t gone = 0;
    for (const std::size_t page : hit) {
      blank(damaged_bytes, page);
      if (const auto leaf = where.leaves.find(page); leaf != where.leaves.end())
        gone += leaf->second;
    }
    const auto damaged = folder.write("damaged.bquarry", damaged_bytes),
               made = folder / "made.bquarry";
    fs::remove(made);
    const Salvage out = salvage_project(damaged, made);
    EXPECT_EQ(test::read_file(damaged), damaged_bytes) << "the old file is never written";
    EXPECT_FALSE(fs::exists(damaged.string() + "-wal"));
    const Readings saved = readings_of(made);
    EXPECT_EQ(out.readings, std::int64_t(saved.size()));
    EXPECT_EQ(std::int64_t(saved.size()), std::int64_t(truth.size()) - gone);
    expect_true(saved, truth);
    if (gone > 0) {
      EXPECT_TRUE(std::any_of(out.lost.begin(), out.lost.end(), [&](const SalvageLoss& loss) {
        return loss.what.starts_with("reading") || (play == 7 && loss.what.starts_with("the head"));
      })) << "lost without a word";
    }
  }
}

// What was taken out before the damage stays out, whatever page it still stands on.
TEST(Salvage, RowsThatWereTakenOutDoNotComeBack) {
  const test::Folder folder;
  const auto whole = test::demo_project(folder);
  run_sql(whole, "PRAGMA foreign_keys = OFF; DELETE FROM reading WHERE id % 7 < 3 OR id > 900");
  const Readings truth = readings_of(whole);
  const ReadingPages where = pages_of_readings(whole);
  std::string bytes = test::read_file(whole);
  for (const std::size_t page : where.inner) blank(bytes, page);
  salvage_project(folder.write("damaged.bquarry", bytes), folder / "made.bquarry");
  EXPECT_EQ(readings_of(folder / "made.bquarry"), truth);
}

TEST(Salvage, ACutFileGivesWhatIsLeftAndAGoodOneEverything) {
  const test::Folder folder;
  const auto whole = test::demo_project(folder);
  const Salvage all = salvage_project(whole, folder / "all.bquarry");
  EXPECT_TRUE(all.lost.empty());
  EXPECT_TRUE(all.remarks.empty());
  EXPECT_EQ(readings_of(folder / "all.bquarry"), readings_of(whole));
  const std::string bytes = test::read_file(whole);
  const auto cut = folder.write("cut.bquarry", bytes.substr(0, bytes.size() / 2));
  EXPECT_NE(refusal_of(cut, ProjectFile::Access::read), "");
  const Salvage half = salvage_project(cut, folder / "half.bquarry");
  EXPECT_FALSE(half.lost.empty());
  EXPECT_EQ(refusal_of(folder / "half.bquarry", ProjectFile::Access::write), "");
  // Nothing is overwritten, and of what is no database nothing is made.
  EXPECT_THROW(salvage_project(whole, folder / "all.bquarry"), StoreError);
  const auto noise = folder.write("noise.bquarry", std::string(9000, 'x'));
  EXPECT_THROW(salvage_project(noise, folder / "none.bquarry"), StoreError);
  for (const auto& entry : fs::directory_iterator(whole.parent_path()))
    EXPECT_EQ(entry.path().filename().string().find("salvage-"), std::string::npos);
  EXPECT_FALSE(fs::exists(folder / "none.bquarry"));
}

TEST(Schema, StrangersAreNotLetToWork) {
  const test::Folder folder;
  const struct {
    const char* sql;
    const char* named;
  } evil[] = {
      {"CREATE TRIGGER sweep AFTER INSERT ON run BEGIN DELETE FROM reading; END", "trigger sweep"},
      {"CREATE VIEW endless AS WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i FROM n) SELECT "
       "* FROM n",
       "view endless"},
      {"CREATE TABLE hoard(x)", "table hoard"},
      {"CREATE INDEX slow ON reading(value)", "index slow"},
      {"DROP TABLE medium; CREATE TABLE medium(name TEXT PRIMARY KEY, form TEXT, note TEXT)",
       "table medium (made otherwise"},
      {"CREATE TABLE hoard(x); CREATE VIEW v AS SELECT 1; CREATE INDEX slow ON reading(value)",
       "table hoard, the view v, the index slow"}};
  for (const auto& one : evil) {
    SCOPED_TRACE(one.sql);
    const auto path = test::demo_project(folder);
    const Readings truth = readings_of(path);
    run_sql(path, one.sql);
    const std::string before = test::read_file(path);
    for (const auto access : {ProjectFile::Access::read, ProjectFile::Access::write}) {
      const std::string refusal = refusal_of(path, access);
      EXPECT_NE(refusal.find(one.named), std::string::npos) << refusal;
      EXPECT_NE(refusal.find("salvage"), std::string::npos) << "what to do";
    }
    EXPECT_EQ(test::read_file(path), before);
    const auto made = folder / "made.bquarry";
    salvage_project(path, made);
    EXPECT_EQ(readings_of(made), truth);
    fs::remove(made);
    fs::remove(path);
  }
}
