// Who may write a project, whatever else happens in the process that has it open.
#include <gtest/gtest.h>
#include <unistd.h>

#include <atomic>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <memory>
#include <mutex>
#include <sstream>
#include <thread>

#include "run_cli.h"
#include "store/project_file.h"
#include "support.h"

using namespace bq;

namespace {

void look_into(const std::filesystem::path& path) {
  std::ifstream file(path, std::ios::binary);  // what a file dialog does to tell what a file is
  char byte = 0;
  file.get(byte);
}

TEST(ProjectLock, SurvivesAnythingInTheProcessThatOpensAndClosesTheFile) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  const auto table = folder / "more.csv";
  std::ofstream(table) << "run,cuts,reading,unit\nR1,0,100,gf\nR1,10,120,gf\n";
  {
    auto project = ProjectFile::create(path, "p");
    project.write_behind([](std::uint64_t, const std::string&) {});
    for (int i = 0; i < 40; ++i) project.set_setting("key", std::string(4000, char('a' + i % 26)));
    look_into(path);
    const auto answer = test::run_cli("import " + path.string() + " " + table.string());
    EXPECT_NE(answer.code, 0) << "another program writes into an open project: " << answer.out;
    EXPECT_NE(answer.err.find("open in another window"), std::string::npos) << answer.err;
    // Reading harms nobody.
    const auto checked = test::run_cli("check " + path.string());
    EXPECT_EQ(checked.code, 0) << checked.out << checked.err;
    EXPECT_NE(checked.err.find("is being worked on (process"), std::string::npos) << checked.err;
    look_into(path);
    EXPECT_THROW(ProjectFile::open(path, ProjectFile::Access::write), StoreError);
    for (int i = 0; i < 40; ++i) project.set_setting("key", std::string(4000, char('A' + i % 26)));
  }
  const auto again = ProjectFile::open(path, ProjectFile::Access::write);
  EXPECT_TRUE(again.check().empty());
  EXPECT_EQ(again.setting("key")->front(), 'A' + 39 % 26);
}

TEST(ProjectLock, KeptIsNotSaidOfAFileThatWasTakenAwayOrReplaced) {
  for (const bool replaced : {false, true}) {
    const test::Folder folder;
    const auto path = folder / "p.bquarry";
    std::mutex mutex;
    std::vector<std::string> said;
    {
      auto project = ProjectFile::create(path, "p");
      project.write_behind([&](std::uint64_t, const std::string& fault) {
        const std::lock_guard lock(mutex);
        said.push_back(fault);
      });
      project.set_setting("key", "one");
      ASSERT_TRUE(test::wait_until([&] {
        const std::lock_guard lock(mutex);
        return !said.empty();
      }));
      EXPECT_EQ(said.front(), "");
      std::filesystem::rename(path, folder / "elsewhere.bquarry");
      if (replaced) std::filesystem::copy_file(folder / "elsewhere.bquarry", path);
      const std::size_t before = said.size();
      project.set_setting("key", "two");
      ASSERT_TRUE(test::wait_until([&] {
        const std::lock_guard lock(mutex);
        return said.size() > before;
      }));
      EXPECT_NE(said.back().find("project file"), std::string::npos) << said.back();
      EXPECT_THROW(project.set_setting("key", "three"), StoreError);
    }
  }
}

// A project that was not cleanly closed, where nothing can be written: a stick with its switch on.
TEST(ProjectLock, ALogIsReadWhereNothingCanBeWritten) {
  const test::Folder folder;
  const auto closed = folder / "stick";
  std::filesystem::create_directory(closed);
  const auto path = closed / "p.bquarry";
  std::filesystem::permissions(folder / "", std::filesystem::perms::others_all,
                               std::filesystem::perm_options::add);
  {
    auto project = ProjectFile::create(folder / "p.bquarry", "p");
    project.write_behind([](std::uint64_t, const std::string&) {});
    project.set_setting("key", "in the log");
    // As a kill leaves it.
    std::filesystem::copy_file(folder / "p.bquarry", path);
    std::filesystem::copy_file((folder / "p.bquarry").string() + "-wal", path.string() + "-wal");
  }
  ASSERT_GT(std::filesystem::file_size(path.string() + "-wal"), 0u);
  std::filesystem::permissions(closed, std::filesystem::perms(0555));
  // Root may write anywhere: be somebody else for a moment.
  const bool root = geteuid() == 0;
  if (root) ASSERT_EQ(seteuid(65534), 0);
  const auto back = [&](const void*) {
    if (root) EXPECT_EQ(seteuid(0), 0);
    std::filesystem::permissions(closed, std::filesystem::perms(0755));
  };
  const std::unique_ptr<const void, decltype(back)> left(&folder, back);
  EXPECT_THROW(ProjectFile::open(path, ProjectFile::Access::write), StoreError);
  const auto project = ProjectFile::open(path, ProjectFile::Access::read);
  EXPECT_EQ(project.setting("key"), "in the log");
  EXPECT_TRUE(project.check().empty());
  std::ostringstream out;
  project.write_record(out);
  EXPECT_NE(out.str().find("in the log"), std::string::npos);
  EXPECT_EQ(std::distance(std::filesystem::directory_iterator(closed), {}), 2)
      << "nothing beside it";
}

// Looked at while it is written: always whole, always something that was kept, never older than
// before; the writer never notices.
TEST(ProjectLock, WhatIsSeenBesideAWriterWasKept) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  auto project = ProjectFile::create(path, "p");
  project.write_behind([](std::uint64_t, const std::string&) {});
  project.set_setting("count", "0");
  std::atomic<bool> stop = false;
  std::atomic<int> written = 0;
  std::thread writer([&] {
    for (int i = 1; !stop; ++i) {
      project.set_setting("count", std::to_string(i) + std::string(std::size_t(i % 50) * 100, ' '));
      written = i;
      if (i % 20 == 0) project.fold_soon();
      std::this_thread::sleep_for(std::chrono::milliseconds(i % 7 == 0 ? 120 : 3));
    }
  });
  int last = 0;
  for (int look = 0; look < 12; ++look) {
    const int at_least = written;
    const auto seen = ProjectFile::open(path, ProjectFile::Access::beside);
    EXPECT_FALSE(seen.writable());
    EXPECT_TRUE(seen.check().empty());
    const int count = std::stoi(*seen.setting("count"));
    EXPECT_GE(count, std::max(last, at_least));
    EXPECT_LE(count, written + 1);
    last = count;
  }
  stop = true;
  writer.join();
  EXPECT_GT(last, 0);
  const auto seen = ProjectFile::open(path, ProjectFile::Access::beside);
  project.fold_soon();
  project.set_setting("count", "end");
  EXPECT_TRUE(seen.outdated());
}

}  // namespace
