// Files that something happened to: damaged pages, a cut end, things that a stranger wrote into the
// schema. What can be read comes into a new project, the rest is named, the old file stays as it
// is.
#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

#include <fstream>
#include <map>

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

TEST(Salvage, WhatCanBeReadComesBackAndTheRestIsNamed) {
  const test::Folder folder;
  const auto whole = test::whole_demo_project(folder);
  const Readings truth = readings_of(whole);
  const std::string bytes = test::read_file(whole);
  const std::size_t page = 4096, pages = bytes.size() / page;
  ASSERT_GT(pages, 60u);
  // Where the readings lie: pages of pictures would take most of the hits.
  std::vector<std::size_t> tree;
  {
    SQLite::Database db(whole.string());
    SQLite::Statement root(db, "SELECT rootpage FROM sqlite_master WHERE name = 'reading'");
    ASSERT_TRUE(root.executeStep());
    const auto at = std::size_t(root.getColumn(0).getInt());
    const auto* head = reinterpret_cast<const unsigned char*>(bytes.data()) + (at - 1) * page;
    ASSERT_EQ(head[0], 5) << "an inner page over the leaves";
    for (int i = 0; i < head[3] * 256 + head[4]; ++i) {
      const unsigned char* cell = head + head[12 + 2 * i] * 256 + head[13 + 2 * i];
      tree.push_back(std::size_t(cell[0]) << 24 | std::size_t(cell[1]) << 16 |
                     std::size_t(cell[2]) << 8 | cell[3]);
    }
  }
  ASSERT_GT(tree.size(), 8u);
  stats::Random random(23);
  std::size_t back = 0, asked = 0;
  for (int play = 0; play < 6; ++play) {
    SCOPED_TRACE(play);
    std::string hit = bytes;
    std::size_t hits_on_readings = 0;
    for (int i = 0; i < 20; ++i) {
      const bool on_readings = i < play % 4;
      const std::size_t at =
          on_readings ? tree[random.below(tree.size())] : 2 + random.below(pages - 1);
      hits_on_readings += on_readings;
      hit.replace((at - 1) * page, page, page, '\0');
    }
    const auto damaged = folder.write("damaged.bquarry", hit), made = folder / "made.bquarry";
    fs::remove(made);
    const Salvage out = salvage_project(damaged, made);
    EXPECT_EQ(test::read_file(damaged), hit) << "the old file is never written";
    EXPECT_FALSE(fs::exists(damaged.string() + "-wal"));
    const Readings saved = readings_of(made);
    EXPECT_EQ(out.readings, std::int64_t(saved.size()));
    for (const auto& [id, what] : saved) {
      const auto found = truth.find(id);
      ASSERT_NE(found, truth.end()) << "a reading nobody made";
      EXPECT_EQ(std::get<1>(what), std::get<1>(found->second));
      EXPECT_EQ(std::get<2>(what), std::get<2>(found->second));
      if (!std::get<0>(what).starts_with("salvaged run")) {
        EXPECT_EQ(std::get<0>(what), std::get<0>(found->second));
      }
    }
    if (saved.size() < truth.size()) {
      EXPECT_TRUE(std::any_of(out.lost.begin(), out.lost.end(), [](const SalvageLoss& loss) {
        return loss.what.starts_with("reading") && loss.what.find(" of run") != std::string::npos;
      })) << "lost without a word";
    }
    back += saved.size();
    asked += truth.size();
    EXPECT_LE(std::size_t(truth.size() - saved.size()), 180 * hits_on_readings + 400)
        << "a damaged page takes what lies on it, not what lies behind it";
  }
  EXPECT_GT(back, asked * 7 / 10);
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
