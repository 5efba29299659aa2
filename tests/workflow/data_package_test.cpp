// Everything out and in again: a package holds the project, says what was concluded, and whoever
// changes a figure in it is found out.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>
#include <sstream>

#include "store/archive.h"
#include "store/picture_store.h"
#include "store/project_file.h"
#include "support.h"
#include "workflow/data_package.h"
#include "workflow/project_session.h"

using namespace bq;
using bq::test::Folder;

namespace {

using Json = nlohmann::ordered_json;

std::string record_of(const std::filesystem::path& project) {
  std::ostringstream out;
  ProjectFile::open(project, ProjectFile::Access::read).write_record(out);
  return out.str();
}

/// A package with one of its files changed; with `honest` sums where whoever does it knows them.
std::string changed(const std::string& package, const std::string& file,
                    const std::function<void(std::string&)>& change, bool honest) {
  const Archive archive = Archive::open(package).take();
  std::vector<ArchiveEntry> entries;
  for (const auto& name : archive.names()) entries.push_back({name, *archive.read(name), true});
  std::string sum;
  for (auto& entry : entries)
    if (entry.name == file) {
      const std::string before = entry.bytes;
      change(entry.bytes);
      EXPECT_NE(entry.bytes, before) << file;
      sum = "sha256:" + sha256_of(entry.bytes);
    }
  if (honest)
    for (auto& entry : entries)
      if (entry.name == "datapackage.json") {
        Json descriptor = Json::parse(entry.bytes);
        for (auto& resource : descriptor["resources"])
          if (resource["path"] == file) resource["hash"] = sum;
        entry.bytes = descriptor.dump(1) + "\n";
      }
  return archive_of(entries).take();
}

void replace_first(std::string& text, const std::string& from, const std::string& to) {
  const auto at = text.find(from);
  ASSERT_NE(at, std::string::npos) << from;
  text.replace(at, from.size(), to);
}

std::string words_of(const PackageCheck& check) {
  std::string out;
  for (const auto& one : check.differs) out += one + "\n";
  return out;
}

}  // namespace

TEST(DataPackage, ComesBackAsAnEqualProjectWithEveryOddText) {
  const Folder folder;
  const auto project = test::whole_demo_project(folder);
  {
    auto session = ProjectSession::open(project);
    const std::vector<std::string> odd{
        "=1+1",         "\\N",  "\\", "'=quoted", "two\nlines", " led ",       "a\"quote",
        "comma, semi;", "\r\n", "-5", "007",      "1e3",        "Schärfe 荷重"};
    for (const auto& text : odd) {
      Blade blade;
      blade.name = "blade " + text;
      blade.note = text;
      session.add_blade(blade);
    }
  }
  const std::string package = package_of(project.string(), "2026-11-30");
  create_from_package(folder / "again.bquarry", package);
  EXPECT_EQ(record_of(folder / "again.bquarry"), record_of(project));
  EXPECT_EQ(package_of((folder / "again.bquarry").string(), "2026-11-30"), package);
  const auto check = verify_package(package);
  ASSERT_TRUE(check) << check.refusal().reason;
  EXPECT_TRUE(check->differs.empty()) << words_of(*check);
  EXPECT_EQ(check->answers, 20);
  // Whoever has no program of ours finds tables, schemas and units in it.
  const Archive archive = Archive::open(package).take();
  const Json descriptor = Json::parse(*archive.read("datapackage.json"));
  EXPECT_EQ(descriptor["profile"], "data-package");
  for (const auto& resource : descriptor["resources"]) {
    const auto bytes = archive.read(resource["path"].get<std::string>());
    ASSERT_TRUE(bytes) << resource;
    EXPECT_EQ(resource["bytes"], bytes->size());
    if (!resource.contains("schema")) continue;
    std::string heads;
    for (const auto& field : resource["schema"]["fields"])
      heads += (heads.empty() ? "" : ",") + field["name"].get<std::string>();
    EXPECT_EQ(bytes->substr(0, bytes->find('\n')), heads) << resource["path"];
  }
  EXPECT_THROW(create_from_package(folder / "again.bquarry", package), StoreError)
      << "nothing that is there is written over";
}

TEST(DataPackage, WhatWasChangedIsNamed) {
  const Folder folder;
  const std::string package = package_of(test::demo_project(folder).string(), "2026-11-30");
  const auto differs = [&](const std::string& file, const std::function<void(std::string&)>& change,
                           bool honest) {
    const auto check = verify_package(changed(package, file, change, honest));
    return check ? words_of(*check) : check.refusal().reason;
  };
  const auto a_reading = [](std::string& csv) {
    const std::size_t row = csv.find("\n1,") + 1;
    const std::size_t value = csv.find(',', csv.find(',', row + 2) + 1) + 1;
    csv[value] = csv[value] == '9' ? '8' : '9';
  };
  EXPECT_NE(differs("data/reading.csv", a_reading, false).find("data/reading.csv: its content"),
            std::string::npos);
  // With sums that fit, the answers still tell.
  const std::string honest = differs("data/reading.csv", a_reading, true);
  EXPECT_NE(honest.find("readings.csv: says otherwise"), std::string::npos) << honest;
  EXPECT_NE(honest.find("runs[0]"), std::string::npos) << honest;
  const std::string sentence = differs(
      "answers.json",
      [](std::string& text) { replace_first(text, "\"answered\": true", "\"answered\": false"); },
      true);
  EXPECT_NE(sentence.find("answers["), std::string::npos) << sentence;
  const std::string figure = differs(
      "answers.json",
      [](std::string& text) {
        const auto at = text.find("\"estimate\": ") + 12;
        text[at] = text[at] == '1' ? '2' : '1';
      },
      true);
  EXPECT_NE(figure.find("cuts_to_threshold.estimate"), std::string::npos) << figure;
  EXPECT_NE(differs(
                "data/run.csv", [](std::string& csv) { csv += "1,2\n"; }, true)
                .find("cells"),
            std::string::npos);
  EXPECT_NE(differs(
                "data/blade.csv", [](std::string& csv) { csv += "\"open"; }, true)
                .find("data/blade.csv, row"),
            std::string::npos);
  EXPECT_NE(
      differs(
          "datapackage.json",
          [](std::string& text) { replace_first(text, "data/run.csv", "data/ran.csv"); }, false)
          .find("data/ran.csv is missing"),
      std::string::npos);
  EXPECT_NE(differs(
                "datapackage.json", [](std::string& text) { text = "{}"; }, false)
                .find("bquarry"),
            std::string::npos);
}

TEST(DataPackage, DamagedOnesAreRefusedAndNothingIsMade) {
  const Folder folder;
  const auto project = test::demo_project(folder);
  const std::string record = record_of(project);
  const std::string package = package_of(project.string(), "2026-11-30");
  for (std::size_t cut = 1; cut < package.size(); cut += package.size() / 23) {
    const std::string part = package.substr(0, cut);
    EXPECT_FALSE(verify_package(part)) << cut;
    EXPECT_THROW(create_from_package(folder / "none.bquarry", part), StoreError);
    EXPECT_FALSE(std::filesystem::exists(folder / "none.bquarry"));
  }
  for (std::size_t at = 7; at < package.size(); at += package.size() / 40) {
    std::string flipped = package;
    flipped[at] = char(flipped[at] ^ 0x10);
    const auto check = verify_package(flipped);
    if (check && check->differs.empty()) {
      // Only what is no content may have changed: a name's flag, a time.
      create_from_package(folder / ("f" + std::to_string(at) + ".bquarry"), flipped);
      EXPECT_EQ(record_of(folder / ("f" + std::to_string(at) + ".bquarry")), record);
    }
  }
  // A project without a reading is packed, too; there is no answer in it.
  ProjectFile::create(folder / "empty.bquarry", "empty");
  const auto empty = verify_package(package_of((folder / "empty.bquarry").string(), "2026-11-30"));
  ASSERT_TRUE(empty);
  EXPECT_TRUE(empty->differs.empty()) << words_of(*empty);
  EXPECT_EQ(empty->answers, 0);
}
