// One trial, written down in the many ways that people keep tables: each comes in exactly as it is,
// or asks exactly what it does not say; and comes in exactly once that is answered.
#include <gtest/gtest.h>

#include <cctype>
#include <cmath>
#include <cstdlib>

#include "stats/random.h"
#include "store/corpus_tables.h"

using namespace bq;
using namespace bq::test;

TEST(TableCorpus, LongTables) {
  for (const auto& kept : long_tables()) judge(kept);
}
TEST(TableCorpus, AnglesAndFinishes) {
  for (const auto& kept : geometry_tables()) judge(kept);
}
TEST(TableCorpus, RunsAcrossAndDown) {
  for (const auto& kept : other_shapes()) judge(kept);
}
TEST(TableCorpus, FiveLanguages) {
  for (const auto& kept : languages()) judge(kept);
}
TEST(TableCorpus, Spreadsheets) {
  for (const auto& kept : spreadsheets()) judge(kept);
}

TEST(TableCorpus, EightyTablesOrMoreAreKeptHere) {
  const auto all = long_tables().size() + geometry_tables().size() + other_shapes().size() +
                   languages().size() + spreadsheets().size();
  EXPECT_GE(all, 80U);
  RecordProperty("tables", int(all));
}

TEST(TableCorpus, MutationsAreNeverWrongInSilence) {
  // One thing is done to a table as happens in life: a letter of a head is lost, swapped or written
  // large, a line is lost or written twice, blanks come in, a cell is emptied. What comes in
  // without a question is judged against the truth.
  std::vector<Kept> tables;
  for (auto& group : {long_tables(), geometry_tables(), other_shapes(), languages()})
    for (const auto& kept : group)
      if (kept.asks.empty() && !kept.bytes.starts_with("\xff\xfe")) tables.push_back(kept);
  stats::Random random(26);
  const int trials = std::getenv("BQ_THOROUGH") ? 10000 : 1500;
  int came = 0, as_meant = 0;
  for (int trial = 0; trial < trials; ++trial) {
    const Kept& kept = tables[random.below(tables.size())];
    std::string bytes = kept.bytes;
    const std::size_t at = random.below(bytes.size());
    const auto line_start = [&](std::size_t i) {
      const auto found = bytes.rfind('\n', i == 0 ? 0 : i - 1);
      return found == std::string::npos ? 0 : found + 1;
    };
    bool line_lost = false;
    switch (random.below(6)) {
      case 0:
        if (static_cast<unsigned char>(bytes[at]) < 0x80 && !std::isdigit(bytes[at]) &&
            std::isalpha(bytes[at]))
          bytes.erase(at, 1);
        break;
      case 1:
        if (at + 1 < bytes.size() && std::isalpha(static_cast<unsigned char>(bytes[at])) &&
            std::isalpha(static_cast<unsigned char>(bytes[at + 1])))
          std::swap(bytes[at], bytes[at + 1]);
        break;
      case 2:
        bytes[at] = char(std::toupper(static_cast<unsigned char>(bytes[at])));
        break;
      case 3: {
        const std::size_t from = line_start(at);
        const std::size_t end = bytes.find('\n', at);
        if (end == std::string::npos) break;
        bytes.erase(from, end + 1 - from);
        line_lost = true;
        break;
      }
      case 4:
        bytes.insert(line_start(at), "\n");
        break;
      default:
        bytes.insert(at, std::isalpha(static_cast<unsigned char>(bytes[at])) &&
                                 (at == 0 || bytes[at - 1] == ',' || bytes[at - 1] == ';' ||
                                  bytes[at - 1] == '\n')
                             ? " "
                             : "");
    }
    const SourceResult result = take_in(bytes, "{}", kept.name);
    if (result.refused) {
      EXPECT_FALSE(result.problems.empty());
      continue;
    }
    ++came;
    // Every reading that came in is a true one, of the run and at the cuts it says; what is missing
    // is a line that was lost, or it is told.
    bool told = line_lost;
    for (const auto& table : result.understood)
      told = told || !table.notes.empty() || !table.unknown.empty();
    std::size_t readings = 0;
    for (const auto& run : result.trial.runs) {
      for (const auto& reading : run.readings) {
        ++readings;
        bool true_one = false;
        for (const auto& meant : truth())
          for (const auto& [cuts, gf] : meant.readings)
            true_one = true_one ||
                       (cuts == reading.cuts &&
                        std::abs(convert(reading.value, reading.unit, Unit::gf) - gf) < 1e-6 * gf);
        EXPECT_TRUE(true_one) << kept.name << ": " << reading.cuts << " cuts, " << reading.value
                              << "\n"
                              << bytes;
      }
      if (run.facts.geometry) {
        const double angle = run.facts.geometry->apex().equivalent_deg();
        EXPECT_TRUE(std::abs(angle - 12.25) < 1e-9 || std::abs(angle - 14.5) < 1e-9)
            << angle << "\n"
            << bytes;
      }
      if (run.facts.finish) EXPECT_NEAR(run.facts.finish->mean_um(), kP1000_um, 1e-9) << bytes;
    }
    EXPECT_TRUE(readings == 6 || told) << kept.name << "\n" << bytes;
    as_meant += readings == 6 && result.trial.runs.size() == 2;
  }
  EXPECT_GT(came, trials / 3);
  EXPECT_GT(as_meant, came / 2);
}
