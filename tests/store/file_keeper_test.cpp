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
    keeper.wrote(1, 100);
    EXPECT_TRUE(ear.wait([&] { return ear.safe == 1; }));
    std::this_thread::sleep_for(std::chrono::milliseconds(60));
    EXPECT_EQ(folds, 0) << "short";
    keeper.wrote(2, 5000);
    EXPECT_EQ(folded.get_future().wait_for(std::chrono::seconds(5)), std::future_status::ready);
  }
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
