#include <gtest/gtest.h>

#include <set>
#include <sstream>

#include "report/sheet_page.h"
#include "report/sheet_table.h"
#include "store/csv_reader.h"
#include "store/plan_file.h"
#include "support.h"

using namespace bq;

namespace {

struct Planned {
  TrialPlan plan;
  RunSheet sheet;
};
Planned demo_sheet(bool blind = true) {
  Planned out;
  out.plan = *parse_plan(test::read_file(BQ_SOURCE_DIR "/demo/fernmoor-plan.json"));
  out.plan.blind = blind;
  out.sheet = *run_sheet(out.plan, *design_plan(out.plan));
  return out;
}

std::vector<std::vector<std::string>> rows_of(const std::string& csv) {
  std::istringstream in(csv);
  CsvReader reader(in);
  std::vector<std::vector<std::string>> rows;
  while (reader.next() == CsvReader::Outcome::record) {
    rows.emplace_back();
    for (const auto& cell : reader.cells()) rows.back().emplace_back(cell.text);
  }
  return rows;
}

}  // namespace

TEST(SheetTable, IsBlindAndItsKeyTellsAllInNoOrder) {
  const auto [plan, sheet] = demo_sheet();
  const auto rows = rows_of(sheet_csv(plan, sheet)), key = rows_of(sheet_key_csv(plan, sheet));
  ASSERT_EQ(rows.size(), sheet.runs.size() + 1);
  ASSERT_EQ(key.size(), rows.size());
  EXPECT_EQ(rows[0][1], "code");
  std::set<std::string> heads(rows[0].begin(), rows[0].end());
  EXPECT_FALSE(heads.contains("apex_angle") || heads.contains("blade"));
  const std::string table = sheet_csv(plan, sheet);
  ASSERT_FALSE(plan.blades.empty());
  for (const auto& blade : plan.blades)
    EXPECT_EQ(table.find(blade.name), std::string::npos) << "blind: " << blade.name;
  TrialPlan by_blade = plan;
  by_blade.blocks = {BlockBy::blade, 0, {}};
  const auto blocked = run_sheet(by_blade, *design_plan(by_blade));
  ASSERT_TRUE(blocked) << blocked.refusal().reason;
  const SheetDocument page = sheet_document(by_blade, *blocked);
  for (const auto& blade : plan.blades) {
    EXPECT_EQ(sheet_csv(by_blade, *blocked).find(blade.name), std::string::npos) << blade.name;
    for (const auto& day : page.days) EXPECT_EQ(day.note.find(blade.name), std::string::npos);
  }
  EXPECT_TRUE(std::is_sorted(key.begin() + 1, key.end()));
  for (const auto& run : sheet.runs) {
    EXPECT_EQ(rows[std::size_t(run.order)][1], run.code);
    const auto found =
        std::find_if(key.begin(), key.end(), [&](const auto& row) { return row[0] == run.code; });
    ASSERT_NE(found, key.end());
    EXPECT_EQ((*found)[1], run.blade) << "the key alone names blades";
    EXPECT_EQ((*found)[2], print_factor_value(plan.factors[0].levels[std::size_t(run.levels[0])]));
  }
  const auto open = demo_sheet(false);
  const auto open_rows = rows_of(sheet_csv(open.plan, open.sheet));
  EXPECT_EQ(open_rows[0].back(), "finish_um");
  // A name that a spreadsheet would run is defused, one with a comma is quoted.
  TrialPlan nasty = open.plan;
  nasty.blades.clear();
  nasty.factors[0].levels = {std::string("=1+1"), std::string("a, \"b\"")};
  nasty.only.clear();
  const std::string nasty_csv = sheet_csv(nasty, *run_sheet(nasty, *design_plan(nasty)));
  EXPECT_NE(nasty_csv.find(",'=1+1"), std::string::npos) << nasty_csv;
  EXPECT_EQ(nasty_csv.find(",=1+1"), std::string::npos);
  const auto nasty_rows = rows_of(nasty_csv);
  for (std::size_t i = 1; i < nasty_rows.size(); ++i)
    EXPECT_TRUE(nasty_rows[i][12] == "=1+1" || nasty_rows[i][12] == "a, \"b\"")
        << nasty_rows[i][12];
}

TEST(SheetPages, DayAfterDayAndTheKeyApart) {
  const auto [plan, sheet] = demo_sheet();
  const SheetDocument document = sheet_document(plan, sheet);
  EXPECT_EQ(int(document.days.size()), sheet.days);
  EXPECT_EQ(document.key.size(), sheet.runs.size());
  EXPECT_LE(sheet_pages(document, 40).size(), std::size_t(sheet.days)) << "several days a page";
  EXPECT_GE(sheet_pages(document, 40).size(), 2u) << "the key has a page of its own";
  EXPECT_FALSE(document.cautions.empty());
  for (const auto& day : document.days)
    for (const auto& line : day.lines) {
      EXPECT_TRUE(line.what.empty()) << "blind";
      EXPECT_EQ(line.readings, plan.checkpoints.readings_each) << "room for every reading";
      for (const auto& text : line.beside)
        for (const auto& blade : plan.blades) EXPECT_EQ(text.find(blade.name), std::string::npos);
      EXPECT_EQ(line.boxes.front(), "sharpened");
      EXPECT_EQ(line.boxes.back(), std::to_string(sheet.checkpoints.back()));
      EXPECT_GT(std::count(line.boxes.begin(), line.boxes.end(), "rest"), 0);
    }
  const std::string pdf = sheet_pdf(document);
  EXPECT_EQ(pdf.substr(0, 5), "%PDF-");
  EXPECT_EQ(pdf, sheet_pdf(document)) << "the same bytes for the same sheet";
  const auto open = demo_sheet(false);
  const SheetDocument plain = sheet_document(open.plan, open.sheet);
  EXPECT_TRUE(plain.key.empty());
  EXPECT_NE(plain.days[0].lines[0].what.find("°"), std::string::npos);
  EXPECT_EQ(sheet_pages(plain, 40).size() + 1, sheet_pages(document, 40).size());
}

TEST(SheetPages, AClaimHasASheetToWriteOnAndASealedKey) {
  ClaimTest test;
  test.claim = known_claims()[2];
  test.pairs = 4;
  const SheetDocument document = claim_document(test);
  ASSERT_EQ(document.days.size(), 1u);
  EXPECT_EQ(document.days[0].lines.size(), 8u);
  for (const auto& line : document.days[0].lines) {
    EXPECT_TRUE(line.write_in);
    for (const auto& text : line.beside) EXPECT_EQ(text.find(test.claim.second), std::string::npos);
  }
  EXPECT_EQ(document.key.size(), 8u);
  const std::string blind = claim_csv(test), key = claim_key_csv(test);
  for (const auto& [code, what] : document.key) {
    EXPECT_NE(blind.find("," + code + ","), std::string::npos);
    EXPECT_NE(key.find(code + "," + what + "\n"), std::string::npos);
  }
  EXPECT_EQ(blind.find("no strop"), std::string::npos);
}
