// Who may write a project, whatever else happens in the process that has it open.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <iterator>
#include <mutex>

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

}  // namespace
