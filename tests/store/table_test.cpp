#include <gtest/gtest.h>

#include <sstream>

#include "store/readings_export.h"
#include "support.h"

using namespace bq;
using test::table;

namespace {

const std::string kHead = "run,cuts,reading,unit,steel,edge_angle\n";

/// The first problem of a table that must be refused.
std::string refusal(const std::string& csv) {
  const auto result = table(csv);
  EXPECT_FALSE(result.ok()) << csv.substr(0, 80);
  EXPECT_TRUE(result.trial.runs.empty());
  return result.problems.empty() ? "" : result.problems.front();
}

}  // namespace

TEST(ReadingsTable, TakesAGoodTable) {
  const auto result = table(
      "run,cuts,reading,unit,blade,steel,edge_angle_left,edge_angle_right,micro_angle,finish_um,"
      "medium,cut_mode,"
      "station,operator,block,excluded,reason,humidity,strop\r\n"
      "A1,0,101.5,gf,B1,Marl Tough,12,14,20,3,\"coir, 8 mm\",slice,heel,operator A,day "
      "1,0,,45,bare\r\n"
      "A1,10,1.2,N,B1,,,,,,,,tip,operator B,,1,\"said \"\"slipped\"\"\",,\r\n"
      "A2,0,99,gf,B1,Marl Tough,12,14,20,1,coir,push,,,,,,50.5,loaded\n\n");
  ASSERT_TRUE(result.ok()) << result.problems.front();
  const auto& runs = result.trial.runs;
  ASSERT_EQ(runs.size(), 2u);
  EXPECT_EQ(runs[0].facts.geometry->edge().right_deg, 14);
  EXPECT_EQ(runs[0].facts.geometry->apex().left_deg, 20);
  EXPECT_EQ(runs[0].facts.medium, "coir, 8 mm");
  EXPECT_EQ(*runs[1].facts.cut_mode, CutMode::push);
  EXPECT_EQ(runs[0].cuts_done, 10);
  EXPECT_EQ(runs[0].readings[1].unit, Unit::N);
  EXPECT_TRUE(runs[0].readings[1].excluded);
  EXPECT_EQ(result.trial.labels.text(runs[0].readings[1].reason), "said \"slipped\"");
  EXPECT_EQ(std::get<double>(runs[1].facts.factors.at("humidity")), 50.5);
  EXPECT_EQ(std::get<std::string>(runs[0].facts.factors.at("strop")), "bare");
  ASSERT_EQ(result.trial.blades.size(), 1u);
}

TEST(ReadingsTable, ReadsOtherSeparatorsAndDecimalCommas) {
  const auto semicolon = table("run;cuts;reading;unit;edge_angle\nA;0;1,25;N;12,5\nA;10;1.5;N;\n");
  ASSERT_TRUE(semicolon.ok()) << semicolon.problems.front();
  EXPECT_DOUBLE_EQ(semicolon.trial.runs[0].readings[0].value, 1.25);
  EXPECT_DOUBLE_EQ(semicolon.trial.runs[0].facts.geometry->edge().left_deg, 12.5);
  const auto tab = table("\xef\xbb\xbfrun\tcuts\treading\tunit\nA\t0\t1,25\tmm\n");
  ASSERT_TRUE(tab.ok());
  EXPECT_DOUBLE_EQ(tab.trial.runs[0].readings[0].value, 1.25);
}

TEST(ReadingsTable, RefusesEachBadRowWithItsPlace) {
  const std::vector<std::pair<std::string, std::string>> rows{
      {"A,0,-5,gf,S,12", "t.csv:2:5: a reading must be above zero"},
      {"A,0,0,gf,S,12", "t.csv:2:5: a reading must be above zero"},
      {"A,0,nan,gf,S,12", "t.csv:2:5: reading: this is not a number"},
      {"A,0,inf,gf,S,12", "t.csv:2:5: reading: this is not a number"},
      {"A,0,1e999,gf,S,12", "t.csv:2:5: reading: the number is out of range"},
      {"A,0,twelve,gf,S,12", "t.csv:2:5: reading: this is not a number"},
      {"A,0,,gf,S,12", "t.csv:2:5: reading is empty"},
      {"A,-1,9,gf,S,12", "t.csv:2:3: cuts must be a whole number"},
      {"A,2.5,9,gf,S,12", "t.csv:2:3: cuts must be a whole number"},
      {"A,0,9,gf,S,0", "t.csv:2:12: edge_angle must lie between"},
      {"A,0,9,gf,S,80", "t.csv:2:12: edge_angle must lie between"},
      {"A,0,9,stone,S,12", "t.csv:2:7: the unit \"stone\" is not known"},
      {"A,0,9,g,S,12", "t.csv:2:7: \"g\" is a mass"},
      {"A,0,9,um,S,12", "t.csv:2:7: readings are in"},
      {"A,0,9,gf,S", "t.csv:2:10: this row has 5 cells, the header has 6"},
      {"A,0,9,gf,S,12,7", "t.csv:2:15: this row has 7 cells, the header has 6"},
      {"A,0,\"9\"x,gf,S,12", "t.csv:2:8: there is text after a closing quote"},
      {"A,0,9,gf,5\" S,12", "t.csv:2:11: there is a quote inside"},
      {"A,0,9,gf,\xff\xfe,12", "t.csv:2:10: these bytes are not UTF-8"},
      {"é,0,x,gf,S,12", "t.csv:2:5: reading: this is not a number"},  // columns count characters
      {",0,9,gf,S,12", "t.csv:2:1: run is empty"},
      {std::string("A,0,9,gf,") + '\0' + ",12", "t.csv:2:10: there is a NUL byte"}};
  for (const auto& [row, wanted] : rows)
    EXPECT_EQ(refusal(kHead + row + "\n").substr(0, wanted.size()), wanted) << row;
}

TEST(ReadingsTable, RefusesWhatRunsThroughTheWholeTable) {
  EXPECT_EQ(refusal(""),
            "t.csv:1:1: the file is empty; a header row with run, cuts, reading, unit is needed");
  EXPECT_EQ(refusal(kHead), "t.csv:2:1: there is a header but no reading");
  EXPECT_NE(refusal("run,cuts,value,unit\nA,0,9,gf\n").find("\"reading\" is missing"),
            std::string::npos);
  EXPECT_EQ(refusal("run,Cuts,reading,unit\n"), "t.csv:1:5: write the column \"Cuts\" as \"cuts\"");
  EXPECT_NE(refusal("run,cuts,reading,unit,run\n").find("1:23: the column \"run\" is there twice"),
            std::string::npos);
  EXPECT_EQ(refusal(kHead + "A,0,9,gf,\"S,12\nA,0,9,gf,S,12\n").substr(0, 11), "t.csv:2:10:");
  EXPECT_NE(refusal(kHead + "A,0,9,gf,S,12\nB,0,9,mm,S,12\n").find("forces and lengths are mixed"),
            std::string::npos);
  EXPECT_NE(refusal(kHead + "A,0,9,gf,S,12\nA,5,9,gf,S,14\n").find("in line 2, here \"14\""),
            std::string::npos);
  EXPECT_NE(refusal("run,cuts,reading,unit,blade,steel\nA,0,9,gf,b,S\nB,0,9,gf,b,T\n")
                .find("blade \"b\" is S"),
            std::string::npos);
  EXPECT_NE(refusal("run,cuts,reading,unit,edge_angle_left\nA,0,9,gf,12\n")
                .find("has no edge_angle_right"),
            std::string::npos);
  EXPECT_NE(refusal(std::string("PK\x03\x04\x00\x00", 6) + "\n").find("t.csv:1:"),
            std::string::npos);
}

TEST(ReadingsTable, ATableThatIsTooWideIsRefusedAtOnce) {
  std::string wide = "run,cuts,reading,unit";
  for (int i = 0; i < 80'000; ++i) wide += ",c" + std::to_string(i);
  EXPECT_NE(refusal(wide + "\n").find("80004 columns; a table may have 1000"), std::string::npos);
}

TEST(ReadingsTable, AnEndlessLineIsRefusedInBoundedMemory) {
  // A stream that would go on for 200 MB.
  class Endless : public std::streambuf {
   public:
    std::size_t given = 0;

   protected:
    int underflow() override {
      if (given > 200'000'000) return traits_type::eof();
      std::fill(std::begin(block_), std::end(block_), 'x');
      given += sizeof block_;
      setg(block_, block_, block_ + sizeof block_);
      return 'x';
    }

   private:
    char block_[4096];
  } endless;
  std::istream in(&endless);
  ReadingsTableReader reader;
  reader.read(in, "t.csv");
  const auto result = reader.finish();
  EXPECT_FALSE(result.ok());
  EXPECT_NE(result.problems.front().find("longer than 1 MiB"), std::string::npos);
  EXPECT_LT(endless.given, 4u << 20);
}

TEST(ReadingsTable, ListsFiftyProblemsAndCountsAll) {
  std::string csv = kHead;
  for (int i = 0; i < 80; ++i) csv += "A,0,-1,gf,S,12\n";
  csv += "A,0,5,gf,S,12\n";
  const auto refused = table(csv);
  EXPECT_EQ(refused.problems.size(), 50u);
  EXPECT_EQ(refused.problem_count, 80);
  const auto skipped = table(csv, true);
  ASSERT_TRUE(skipped.ok());
  EXPECT_EQ(skipped.skipped, 80);
  EXPECT_EQ(skipped.trial.reading_count(), 1u);
}

TEST(ReadingsTable, ComesBackTheSameAfterExport) {
  const Trial demo = test::demo_trial();
  std::ostringstream once, twice;
  write_readings_csv(demo, once);
  const auto again = table(once.str());
  ASSERT_TRUE(again.ok()) << again.problems.front();
  write_readings_csv(again.trial, twice);
  EXPECT_EQ(once.str(), twice.str());
  EXPECT_EQ(again.trial.runs.size(), demo.runs.size());
  for (std::size_t i = 0; i < demo.runs.size(); ++i)
    EXPECT_TRUE(again.trial.runs[i].facts == demo.runs[i].facts);
  // Row order is free: the same rows shuffled say the same of every run.
  const auto odd = table(
      "run,cuts,reading,unit,steel,note\nA,10,5,N,\" S, "
      "\"\"x\"\"\",\"two\nlines\"\nA,0,4.25,N,,\n");
  ASSERT_TRUE(odd.ok()) << odd.problems.front();
  std::ostringstream out;
  write_readings_csv(odd.trial, out);
  EXPECT_EQ(table(out.str()).trial.runs[0].facts.factors, odd.trial.runs[0].facts.factors);
}
