// The command line on a disk that fills at any moment: done means done, refused means that what was
// there is whole and nothing half made is left.
#include <gtest/gtest.h>

#include <cstdlib>
#include <filesystem>
#include <set>

#include "run_cli.h"
#include "store/project_file.h"
#include "support.h"

using namespace bq;
namespace fs = std::filesystem;

namespace {

/// No file may grow beyond so many bytes (rounded to 512).
test::CliAnswer on_small_disk(std::size_t bytes, const std::string& arguments) {
  return test::run_cli(arguments, "trap '' XFSZ; ulimit -f " + std::to_string(bytes / 512) + "; ");
}

std::size_t readings_in(const fs::path& path) {
  return ProjectFile::open(path, ProjectFile::Access::read).load().reading_count();
}

/// Sentences of ours, each to its end, and nothing else.
void expect_plain_words(const test::CliAnswer& answer) {
  EXPECT_FALSE(answer.err.empty());
  EXPECT_EQ(answer.err.find("SQLite::"), std::string::npos) << answer.err;
  EXPECT_EQ(answer.err.find("terminate"), std::string::npos) << answer.err;
  EXPECT_TRUE(answer.err.ends_with(".\n")) << answer.err;
}

std::string quoted(const fs::path& path) { return "'" + path.string() + "'"; }

}  // namespace

TEST(FullDisk, EveryCommandEndsWithTheTruth) {
  const test::Folder folder;
  const auto table = fs::path(BQ_SOURCE_DIR "/demo/fernmoor.csv"), whole = folder / "whole.bquarry";
  ASSERT_EQ(test::run_cli("import " + quoted(whole) + " " + quoted(table)).code, 0);
  const std::size_t all = readings_in(whole), size = fs::file_size(whole);
  const auto more = folder.write("more.csv", [&] {
    std::string text = "run,cuts,reading,unit\n";
    for (int i = 0; i < 4000; ++i)
      text += "NEW," + std::to_string(i) + "," + std::to_string(100 + i) + ",gf\n";
    return text;
  }());
  int done = 0, refused = 0;
  std::set<std::string> said;
  const auto judge = [&](const test::CliAnswer& answer, bool complete, bool untouched) {
    SCOPED_TRACE(answer.err);
    EXPECT_LT(answer.code, 128) << "ended by a signal";
    if (answer.code == 0) {
      ++done;
      EXPECT_TRUE(complete) << "exit 0";
      return;
    }
    ++refused;
    said.insert(answer.err);
    EXPECT_TRUE(untouched || complete);
    expect_plain_words(answer);
  };
  for (int step = 0; step < 12; ++step) {
    const std::size_t room = size * std::size_t(step) / 8 + 1024;
    SCOPED_TRACE(room);
    const auto made = folder / "made.bquarry";
    auto answer = on_small_disk(room, "import " + quoted(made) + " " + quoted(table));
    judge(answer, fs::exists(made) && readings_in(made) == all,
          !fs::exists(made) && !fs::exists(made.string() + "-wal"));
    fs::remove(made);
    fs::copy_file(whole, made);
    answer = on_small_disk(room, "import --append " + quoted(made) + " " + quoted(more));
    const std::size_t now = readings_in(made);
    judge(answer, now == all + 4000, now == all);
    EXPECT_TRUE(ProjectFile::open(made, ProjectFile::Access::read).check().empty());
    for (const char* end : {"", "-wal", "-shm"}) fs::remove(made.string() + end);
    for (const char* name : {"out.csv", "out.json"}) {
      const auto out = folder / name;
      answer = on_small_disk(room, "export " + quoted(whole) + " --to " + quoted(out));
      const std::string text = fs::exists(out) ? test::read_file(out) : "";
      judge(answer, text.ends_with("\n") && text.size() > 40000, text.empty());
      fs::remove(out);
    }
    const auto saved = folder / "saved.bquarry";
    answer = on_small_disk(room, "salvage " + quoted(whole) + " " + quoted(saved));
    judge(answer, fs::exists(saved) && readings_in(saved) == all, !fs::exists(saved));
    fs::remove(saved);
  }
  EXPECT_GT(done, 8);
  EXPECT_GT(refused, 20);
  EXPECT_EQ(std::distance(fs::directory_iterator(folder / ""), {}), 2) << "drafts are left";
}
