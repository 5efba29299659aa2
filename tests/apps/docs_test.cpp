// What the documents show can be run as it stands there.
#include <gtest/gtest.h>

#include <cstdlib>
#include <filesystem>
#include <regex>
#include <sstream>

#include "run_cli.h"
#include "support.h"

using namespace bq;

namespace {

std::string document(const char* name) {
  return test::read_file(std::string(BQ_SOURCE_DIR "/docs/") + name);
}

/// The first block of a language after a heading.
std::string block_after(const std::string& text, const std::string& heading,
                        const std::string& language) {
  const auto at = text.find("\n## " + heading + "\n");
  if (at == std::string::npos) return "";
  const auto open = text.find("```" + language + "\n", at);
  const auto from = open + language.size() + 4;
  return text.substr(from, text.find("```", from) - from);
}

}  // namespace

TEST(Documents, TheFilesShownForTheCommandLineAreTaken) {
  const std::string text = document("command-line.md");
  const test::Folder folder;
  for (const auto& [heading, command] :
       {std::pair("Section file", "section"), std::pair("Clamp file", "clamp"),
        std::pair("Marker file", "marker")}) {
    const std::string shown = block_after(text, heading, "json");
    ASSERT_FALSE(shown.empty()) << heading;
    const auto answer = test::run_cli(std::string(command) + " " +
                                      folder.write("shown.json", shown).string() + " --json");
    EXPECT_EQ(answer.code, 0) << heading << ": " << answer.err;
    EXPECT_TRUE(answer.err.empty()) << answer.err;
    EXPECT_FALSE(answer.json().empty());
  }
  const std::string plans = document("plan-format.md");
  const auto open = plans.find("```json\n") + 8;
  const auto plan = test::run_cli(
      "plan " +
      folder.write("plan.json", plans.substr(open, plans.find("```", open) - open)).string() +
      " --json");
  EXPECT_EQ(plan.code, 0) << plan.err;
  const auto limits = folder.write("limits.json", block_after(text, "Limits file", "json"));
  const auto ranked = test::run_cli("recommend " BQ_SOURCE_DIR "/demo/fernmoor.csv --limits " +
                                    limits.string() + " --json");
  EXPECT_TRUE(ranked.code == 0 || ranked.code == 5)
      << ranked.err;  // one steel alone need not be enough to rank
  EXPECT_TRUE(ranked.err.find("not known") == std::string::npos) << ranked.err;
}

TEST(Documents, TheExamplesOfTheReadMeRunAsTheyArePrinted) {
  // In a folder of its own that looks like the source's: what is written stays there.
  const test::Folder folder;
  std::filesystem::create_directories(folder / "build/bin");
  std::filesystem::create_symlink(BQ_CLI, folder / "build/bin/brave-quarry-cli");
  std::filesystem::create_directory_symlink(BQ_SOURCE_DIR "/demo", folder / "demo");
  const std::string text = document("../README.md");
  std::istringstream lines(text);
  int run = 0;
  for (std::string line; std::getline(lines, line);) {
    if (!line.starts_with("build/bin/brave-quarry-cli ")) continue;
    const std::string command = "cd '" + (folder / "").string() + "' && " +
                                line.substr(0, line.find("  #")) + " > out 2> err";
    EXPECT_EQ(std::system(command.c_str()), 0) << line << "\n" << test::read_file(folder / "err");
    ++run;
  }
  EXPECT_GE(run, 9);
}

TEST(Documents, EveryCommandIsDescribedAndEveryLinkLeadsSomewhere) {
  const std::string text = document("command-line.md");
  const std::string help = test::run_cli("--help").out;
  std::smatch found;
  std::string rest = help.substr(help.find("Subcommands"));
  const std::regex command("\n  ([a-z]+) ");
  int commands = 0;
  while (std::regex_search(rest, found, command)) {
    EXPECT_NE(text.find("| `" + found[1].str()), std::string::npos)
        << found[1].str() << " is not in docs/command-line.md";
    ++commands;
    rest = found.suffix();
    rest.insert(0, "\n");
  }
  EXPECT_GE(commands, 12);
  const std::regex link("\\]\\(([^)#]+)(#[^)]*)?\\)");
  int links = 0;
  for (const char* name : {"../README.md", "command-line.md", "user-guide.md", "methods.md",
                           "words.md", "file-format.md", "rule-format.md", "plan-format.md",
                           "instruments.md", "architecture.md"}) {
    const std::string page = document(name);
    for (auto it = std::sregex_iterator(page.begin(), page.end(), link);
         it != std::sregex_iterator(); ++it) {
      const std::string target = (*it)[1].str();
      const std::string base = std::string(BQ_SOURCE_DIR "/docs/") + name;
      EXPECT_TRUE(std::filesystem::exists(std::filesystem::path(base).parent_path() / target))
          << name << " links to " << target;
      ++links;
    }
  }
  EXPECT_GT(links, 20);
}

TEST(Documents, WhatTheRecipesNameIsThere) {
  const std::string text = document("../CONTRIBUTING.md");
  const std::regex path("`((?:src|tests|docs|scripts|cmake|apps)/[^`…]*)`");
  int paths = 0;
  for (auto at = std::sregex_iterator(text.begin(), text.end(), path); at != std::sregex_iterator();
       ++at, ++paths)
    EXPECT_TRUE(std::filesystem::exists(BQ_SOURCE_DIR "/" + (*at)[1].str())) << (*at)[1].str();
  EXPECT_GT(paths, 50);
}

TEST(Documents, TheFileFormatNamesEveryTableAndColumn) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  ASSERT_EQ(
      test::run_cli("import " + path.string() + " " BQ_SOURCE_DIR "/tests/data/short_trial.csv")
          .code,
      0);
  const std::string text = document("file-format.md");
  // The schema as SQLite keeps it, straight from the file's bytes.
  const std::string bytes = test::read_file(path);
  const std::regex table("CREATE TABLE ([a-z_]+)\\(([^;]*?)\\)( WITHOUT ROWID)?(?=[^ ,)A-Za-z])");
  const std::regex column("(?:^|,)\\s*([a-z_A-Z]+) (?:TEXT|REAL|INTEGER)");
  int columns = 0;
  for (const char* name :
       {"setting", "label", "blade", "run", "run_factor", "reading", "edge_record", "steel",
        "medium", "abrasive", "comparison", "bench_event", "stroke", "picture", "bench_session"}) {
    EXPECT_NE(text.find("| `" + std::string(name) + "` |"), std::string::npos) << name;
    const auto at = bytes.find("CREATE TABLE " + std::string(name) + "(");
    ASSERT_NE(at, std::string::npos) << name;
    const auto row_at = text.find("| `" + std::string(name) + "` |");
    const std::string row = text.substr(row_at, text.find('\n', row_at) - row_at);
    std::string body = bytes.substr(at + 13 + std::string(name).size(), 1200);
    // Up to the bracket that closes the list.
    int depth = 0;
    std::size_t end = 0;
    for (; end < body.size(); ++end) {
      depth += body[end] == '(' ? 1 : body[end] == ')' ? -1 : 0;
      if (depth == 0) break;
    }
    body = body.substr(1, end - 1);
    for (auto it = std::sregex_iterator(body.begin(), body.end(), column);
         it != std::sregex_iterator(); ++it) {
      EXPECT_NE(row.find("`" + (*it)[1].str() + "`"), std::string::npos)
          << name << "." << (*it)[1].str() << " is not described";
      ++columns;
    }
  }
  EXPECT_GT(columns, 40);
}
