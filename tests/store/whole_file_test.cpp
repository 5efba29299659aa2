// Files that are whole or not there, under names that do no harm.
#include <gtest/gtest.h>

#include <filesystem>
#include <ostream>

#include "store/project_file.h"
#include "store/whole_file.h"
#include "support.h"

using namespace bq;
namespace fs = std::filesystem;

TEST(WholeFile, AppearsWholeAndNeverOverWhatWasMadeMeanwhile) {
  const test::Folder folder;
  const auto path = folder / "out.csv";
  write_whole_file(path, Existing::refused, [&](std::ostream& out) {
    EXPECT_FALSE(fs::exists(path)) << "not before it is whole";
    out << "first";
  });
  EXPECT_EQ(test::read_file(path), "first");
  EXPECT_THROW(
      write_whole_file(path, Existing::refused, [](std::ostream& out) { out << "second"; }),
      StoreError);
  write_whole_file(path, Existing::replaced, [](std::ostream& out) { out << "third"; });
  EXPECT_EQ(test::read_file(path), "third");
  // Somebody makes a file of that name while this one is being written.
  const auto late = folder / "late.csv";
  EXPECT_THROW(write_whole_file(late, Existing::refused,
                                [&](std::ostream& out) {
                                  out << "ours";
                                  folder.write("late.csv", "theirs");
                                }),
               StoreError);
  EXPECT_EQ(test::read_file(late), "theirs");
  EXPECT_THROW(write_whole_file(path, Existing::replaced,
                                [](std::ostream&) { throw std::runtime_error("half way"); }),
               std::runtime_error);
  EXPECT_EQ(test::read_file(path), "third");
  EXPECT_THROW(write_whole_file(folder / "no/such/folder", Existing::refused, [](std::ostream&) {}),
               StoreError);
  EXPECT_EQ(std::distance(fs::directory_iterator(folder / ""), {}), 2) << "drafts are left";
}

TEST(WholeFile, NamesFromElsewhereArePlain) {
  const auto name = [](const std::string& text) { return plain_file_name(text, "picture-7.png"); };
  EXPECT_EQ(name("apex 20x.png"), "apex 20x.png");
  EXPECT_EQ(name("../../etc/passwd"), "passwd");
  EXPECT_EQ(name(".bashrc"), "bashrc");
  EXPECT_EQ(name("--delete-all.png"), "delete-all.png");
  EXPECT_EQ(name("-"), "picture-7.png");
  EXPECT_EQ(name(""), "picture-7.png");
  EXPECT_EQ(name(".."), "picture-7.png");
  EXPECT_EQ(name("a\nb\x1b[31m.png"), "a_b_[31m.png");
  std::string long_name;
  for (int i = 0; i < 200; ++i) long_name += "ü";
  const std::string cut = name(long_name + ".tiff");
  EXPECT_LE(cut.size(), 200u);
  EXPECT_TRUE(cut.ends_with("ü.tiff")) << "whole characters, and its ending";
  EXPECT_LE(name(std::string(5000, 'x')).size(), 200u);
}
