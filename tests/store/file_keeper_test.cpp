#include "store/file_keeper.h"

#include <gtest/gtest.h>

#include <atomic>
#include <fstream>
#include <future>

#include "store/project_file.h"
#include "support.h"

using namespace bq;

namespace {

/// What a keeper says, waited for.
struct Ear {
  std::mutex mutex;
  std::condition_variable heard;
  std::uint64_t safe = 0;
  std::string fault;
  FileKeeper::Settled settled() {
    return [this](std::uint64_t changes, const std::string& what) {
      const std::lock_guard lock(mutex);
      if (what.empty()) safe = changes;
      fault = what;
      heard.notify_all();
    };
  }
  bool wait(const std::function<bool()>& until) {
    std::unique_lock lock(mutex);
    return heard.wait_for(lock, std::chrono::seconds(5), until);
  }
};

TEST(FileKeeper, SaysWhatIsOnTheDiskAndThatTheDiskFailed) {
  const test::Folder folder;
  std::ofstream(folder / "log") << "x";
  Ear ear;
  {
    FileKeeper keeper(folder / "log", ear.settled(), [] { return ""; }, [] {});
    keeper.wrote(3, 1);
    EXPECT_TRUE(ear.wait([&] { return ear.safe == 3; }));
    keeper.wrote(4, 1);
  }
  EXPECT_EQ(ear.safe, 4u) << "what was written reaches the disk before the keeper goes";
  // A device that cannot be brought to a disk refuses.
  Ear other;
  FileKeeper refused("/dev/null", other.settled(), [] { return ""; }, [] {});
  refused.wrote(1, 1);
  EXPECT_TRUE(other.wait([&] { return !other.fault.empty(); }));
  while (refused.fault().empty()) std::this_thread::yield();
  refused.wrote(2, 1);
  EXPECT_EQ(other.safe, 0u);
}

// A long log is folded into the file while nothing is written; what was in it is in the file, and
// changes go on.
TEST(FileKeeper, FoldsALongLogWhenNothingIsWritten) {
  const test::Folder folder;
  std::promise<void> folded;
  {
    std::ofstream(folder / "log") << "x";
    Ear ear;
    std::atomic<int> folds = 0;
    FileKeeper keeper(
        folder / "log", ear.settled(), [] { return ""; },
        [&] {
          if (++folds == 1) folded.set_value();
        },
        std::chrono::milliseconds(20));
    keeper.wrote(1, 1);
    EXPECT_TRUE(ear.wait([&] { return ear.safe == 1; }));
    std::this_thread::sleep_for(std::chrono::milliseconds(60));
    EXPECT_EQ(folds, 0) << "nothing but its own beginning";
    keeper.wrote(2, 5);
    EXPECT_EQ(folded.get_future().wait_for(std::chrono::minutes(1)), std::future_status::ready);
    keeper.rest_now();
    EXPECT_TRUE(test::wait_until([&] { return folds == 2; })) << "asked for";
  }
}

// A copy of the file alone, made while the project is open and at rest, is the whole project; a log
// that is not the file's own is never applied.
TEST(LeftOverLog, ACopyOfTheFileAloneAtRestIsTheWholeProject) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  Ear ear;
  auto project = ProjectFile::create(path, "p");
  project.write_behind(ear.settled());
  for (int i = 0; i < 20; ++i) {
    project.set_setting("k", std::to_string(i));
    EXPECT_TRUE(test::wait_until([&] {
      std::error_code ignored;
      std::filesystem::remove(folder / "copy.bquarry", ignored);
      std::filesystem::copy_file(path, folder / "copy.bquarry");
      if (i < 18 && i > 1) return true;  // typed on without a rest
      if (i == 19) project.fold_soon();  // the window lost the focus
      return ProjectFile::open(folder / "copy.bquarry", ProjectFile::Access::read).setting("k") ==
             std::to_string(i);
    })) << i;
  }
  EXPECT_TRUE(
      ProjectFile::open(folder / "copy.bquarry", ProjectFile::Access::write).check().empty());
}

TEST(LeftOverLog, IsAppliedToItsOwnFileOnly) {
  const test::Folder folder;
  namespace fs = std::filesystem;
  const auto path = folder / "p.bquarry", wal = folder / "p.bquarry-wal";
  Ear ear;
  // Killed three times: files and logs as they stand on the disk.
  const auto kill_as = [&](const std::string& name) {
    fs::create_directory(folder / name);
    fs::copy_file(path, folder / (name + "/p.bquarry"));
    if (fs::exists(wal)) fs::copy_file(wal, folder / (name + "/p.bquarry-wal"));
  };
  {
    auto project = ProjectFile::create(path, "p");
    project.write_behind(ear.settled());
    // Folded: the file alone says it.
    const auto folded = [&](const std::string& value) {
      project.fold_soon();
      EXPECT_TRUE(test::wait_until([&] {
        fs::remove(folder / "look.bquarry");
        fs::copy_file(path, folder / "look.bquarry");
        return ProjectFile::open(folder / "look.bquarry", ProjectFile::Access::read).setting("k") ==
               value;
      }));
    };
    project.set_setting("k", "first");
    kill_as("one");
    folded("first");
    project.set_setting("k", "second");
    kill_as("two");
    folded("second");
    project.set_setting("k", "third");
    kill_as("three");
  }
  // Each with its own log is what was kept.
  for (const auto& [name, kept] :
       {std::pair("one", "first"), {"two", "second"}, {"three", "third"}}) {
    fs::copy(folder / name, folder / (std::string(name) + "-own"));
    const auto own = ProjectFile::open(folder / (std::string(name) + "-own/p.bquarry"),
                                       ProjectFile::Access::write);
    EXPECT_EQ(own.setting("k"), kept);
    EXPECT_EQ(own.log_set_aside(), "");
    EXPECT_TRUE(own.check().empty());
  }
  // An older file put back beside a later log; another project; a new one of that name.
  const auto foreign = [&](const fs::path& file, const std::string& what,
                           const std::function<ProjectFile(const fs::path&)>& open) {
    const auto place = folder / (what + ".bquarry");
    if (!file.empty()) fs::copy_file(file, place);
    const auto log = folder / (what + ".bquarry-wal");
    fs::copy_file(folder / "three/p.bquarry-wal", log);
    const std::string bytes = test::read_file(log);
    if (!file.empty()) {
      const std::string before = test::read_file(place);
      const ProjectFile read = ProjectFile::open(place, ProjectFile::Access::read);
      EXPECT_NE(read.setting("k"), "third") << what;
      EXPECT_EQ(test::read_file(place), before) << "looking changes nothing";
      EXPECT_EQ(test::read_file(log), bytes);
    }
    const ProjectFile opened = open(place);
    EXPECT_NE(opened.setting("k"), "third") << what;
    EXPECT_TRUE(opened.check().empty()) << what;
    ASSERT_NE(opened.log_set_aside(), "") << what;
    EXPECT_EQ(test::read_file(folder / opened.log_set_aside()), bytes) << "nothing is destroyed";
  };
  const auto open = [](const fs::path& p) {
    return ProjectFile::open(p, ProjectFile::Access::write);
  };
  foreign(folder / "one/p.bquarry", "put-back", open);
  {
    ProjectFile::create(folder / "other.bquarry", "o").set_setting("k", "other");
  }
  foreign(folder / "other.bquarry", "replaced", open);
  {
    ProjectFile::open(folder / "one-own/p.bquarry", ProjectFile::Access::read)
        .copy_to(folder / "copy.bquarry");
  }
  foreign(folder / "copy.bquarry", "copied", open);
  foreign({}, "new", [](const fs::path& p) { return ProjectFile::create(p, "n"); });
}

TEST(WriteBehind, ChangesAreCountedAndSettleInOrderWhileTheLogIsReadBySomebodyElse) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  Ear ear;
  {
    auto project = ProjectFile::create(path, "p");
    project.write_behind(ear.settled());
    for (int i = 0; i < 50; ++i)
      project.set_setting("k", std::string(std::size_t(2000 * i), 'x') + std::to_string(i));
    EXPECT_EQ(project.changes(), 50u);
    EXPECT_TRUE(ear.wait([&] { return ear.safe == 50; }));
    // The program ends here as if it were killed: file and log as they stand on the disk are a
    // whole project.
    std::filesystem::copy_file(path, folder / "killed.bquarry");
    std::filesystem::copy_file(path.string() + "-wal", folder / "killed.bquarry-wal");
  }
  for (const char* name : {"killed.bquarry", "p.bquarry"}) {
    const auto again = ProjectFile::open(folder / name, ProjectFile::Access::write);
    EXPECT_TRUE(again.setting("k")->ends_with("x49"));
    EXPECT_TRUE(again.check().empty());
  }
  EXPECT_FALSE(std::filesystem::exists(path.string() + "-wal"));
}

}  // namespace
