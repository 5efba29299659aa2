#include "quantity/csv_cell.h"
#include "quantity/terminal.h"

#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <sstream>

#include "store/csv_reader.h"
#include "store/readings_export.h"
#include "store/readings_table.h"

using namespace bq;

namespace {

TableResult read_table(const std::string& text) {
  std::istringstream in(text);
  ReadingsTableReader reader;
  reader.read(in, "t.csv");
  return reader.finish();
}

TEST(CsvCell, ASpreadsheetRunsNothingAndNumbersStayNumbers) {
  EXPECT_EQ(csv_cell("=1+2"), "'=1+2");
  EXPECT_EQ(csv_cell("@sum"), "'@sum");
  EXPECT_EQ(csv_cell("+B"), "'+B");
  EXPECT_EQ(csv_cell("-12.5"), "-12.5");
  EXPECT_EQ(csv_cell("-12.5+3"), "'-12.5+3");
  EXPECT_EQ(csv_cell("'=x"), "''=x");
  EXPECT_EQ(csv_cell("'tis plain"), "'tis plain");
}

TEST(CsvCell, ComesBackUnchangedThroughTheReadingsTable) {
  for (const std::string name :
       {"=cmd|' /C calc'!A0", "+1", "-x", "@a", "'=b", "''@c", "'d", "- e", "=\"q\",\"r\""}) {
    const auto read = read_table("run,cuts,reading,unit\n" + csv_cell(name) + ",0,100,gf\n" +
                                 csv_cell(name) + ",5,120,gf\n");
    ASSERT_EQ(read.trial.runs.size(), 1u) << name;
    EXPECT_EQ(read.trial.runs[0].facts.name, name);
    std::ostringstream out;
    write_readings_csv(read.trial, out);
    EXPECT_EQ(read_table(out.str()).trial.runs[0].facts.name, name) << out.str();
  }
  EXPECT_TRUE(rc::check("any text, written and read", [](const std::string& text) {
    const std::string written = csv_cell(text);
    if (written.empty() || written.front() != '"')
      RC_ASSERT(std::string(unguarded(written)) == text);
  }));
}

}  // namespace

TEST(Terminal, ControlCharactersOfNamesAreShownNotObeyed) {
  EXPECT_EQ(shown_controls("a\x1b[2Jb\rc\x7f"), "a␛[2Jb␍c␡");
  EXPECT_EQ(shown_controls("12 \u009b31m \u202egnp.exe"), "12 <U+009B>31m <U+202E>gnp.exe");
  EXPECT_EQ(shown_controls("Zähigkeit µm ° – …\n\t"), "Zähigkeit µm ° – …\n\t");
  EXPECT_EQ(shown_controls("\xe2\xff cut \xc2"),
            "\xe2\xff cut \xc2");  // broken ones stay as they are
}
