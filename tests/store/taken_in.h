#pragma once

// What came in from a table, and one trial whose truth is known.
#include <gtest/gtest.h>

#include <fstream>
#include <iostream>
#include <set>
#include <sstream>

#include "support.h"
#include "workflow/source.h"

namespace bq::test {

/// A table, what of the trial it holds besides its readings ("s" steel, "a" angle, "f" finish, "m"
/// medium, "b" blade, "o" operator), what it must ask, the answers, and what it must say.
struct Kept {
  std::string name, bytes, holds;
  std::set<std::string> asks;
  std::string answers = "{}";
  std::string says{};  ///< a part of a note
};

// The truth: two runs of three readings (gf).
struct TrueRun {
  const char *name, *steel, *blade;
  double angle;
  std::vector<std::pair<std::int64_t, double>> readings;
};
inline const std::vector<TrueRun>& truth() {
  static const std::vector<TrueRun> kTruth{
      {"A", "Marl", "K1", 12.25, {{0, 100}, {50, 140.5}, {1000, 1181.25}}},
      {"B", "Cairn", "K2", 14.5, {{0, 110.5}, {50, 160}, {1000, 1234.5}}}};
  return kTruth;
}
inline constexpr double kP1000_um = 18.3;

inline SourceResult take_in(const std::string& bytes, const std::string& map,
                            const std::string& name) {
  const Folder folder;
  const auto read = parse_table_map(map);
  EXPECT_TRUE(read) << name << ": " << (read ? "" : read.refusal().reason);
  return read_tables({folder.write("t.csv", bytes).string()}, std::cin, {}, *read);
}

inline std::set<std::string> asked(const SourceResult& result) {
  std::set<std::string> out;
  for (const auto& table : result.understood)
    for (const auto& question : table.questions) out.insert(question.key);
  return out;
}

inline std::string problems_of(const SourceResult& result) {
  std::string out;
  for (const auto& problem : result.problems) out += problem + "\n";
  return out;
}

inline void expect_truth(const SourceResult& result, const Kept& kept) {
  ASSERT_FALSE(result.refused) << kept.name << "\n" << problems_of(result) << kept.bytes;
  const auto holds = [&](char c) { return kept.holds.find(c) != std::string::npos; };
  ASSERT_EQ(result.trial.runs.size(), truth().size()) << kept.name << "\n" << kept.bytes;
  for (std::size_t r = 0; r < truth().size(); ++r) {
    const TrueRun& meant = truth()[r];
    const Run& run = result.trial.runs[r];
    const std::string where = kept.name + ", run " + meant.name + "\n" + kept.bytes;
    if (!holds('-')) EXPECT_EQ(run.facts.name, meant.name) << where;
    EXPECT_EQ(run.facts.steel, holds('s') ? meant.steel : "") << where;
    if (holds('b')) EXPECT_EQ(run.facts.blade, meant.blade) << where;
    EXPECT_EQ(run.facts.medium, holds('m') ? "coir" : "") << where;
    ASSERT_EQ(run.facts.geometry.has_value(), holds('a')) << where;
    if (holds('a'))
      EXPECT_NEAR(run.facts.geometry->apex().equivalent_deg(), meant.angle, 1e-9) << where;
    ASSERT_EQ(run.facts.finish.has_value(), holds('f')) << where;
    if (holds('f')) EXPECT_NEAR(run.facts.finish->mean_um(), kP1000_um, 1e-9) << where;
    EXPECT_EQ(run.facts.factors.size(), holds('x') ? 1U : 0U) << where;
    ASSERT_EQ(run.readings.size(), meant.readings.size()) << where;
    for (std::size_t i = 0; i < meant.readings.size(); ++i) {
      EXPECT_EQ(run.readings[i].cuts, meant.readings[i].first) << where;
      const double gf = convert(run.readings[i].value, run.readings[i].unit, Unit::gf);
      EXPECT_NEAR(gf, meant.readings[i].second, 1e-6 * gf) << where;
    }
  }
}

inline void judge(const Kept& kept) {
  const SourceResult first = take_in(kept.bytes, "{}", kept.name);
  if (kept.asks.empty()) {
    expect_truth(first, kept);
    if (!kept.says.empty()) {
      bool said = false;
      for (const auto& table : first.understood)
        for (const auto& note : table.notes)
          said = said || note.find(kept.says) != std::string::npos;
      EXPECT_TRUE(said) << kept.name << ": not said: " << kept.says;
    }
    return;
  }
  EXPECT_TRUE(first.refused) << kept.name << "\n" << kept.bytes;
  EXPECT_EQ(asked(first), kept.asks) << kept.name << "\n" << problems_of(first) << kept.bytes;
  expect_truth(take_in(kept.bytes, kept.answers, kept.name), kept);
}

inline std::string text_file(const std::string& name) {
  std::ifstream in(BQ_SOURCE_DIR "/tests/data/tables/" + name, std::ios::binary);
  std::stringstream out;
  out << in.rdbuf();
  return out.str();
}

inline std::string utf16(const std::string& ascii) {
  std::string out = "\xff\xfe";
  for (const char c : ascii) {
    out += c;
    out += '\0';
  }
  return out;
}

}  // namespace bq::test
