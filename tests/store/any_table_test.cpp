// Tables as testers keep them: each comes in exactly, or asks exactly what it must; none comes in
// wrong without a word.
#include <gtest/gtest.h>

#include <cmath>
#include <iostream>

#include "stats/random.h"
#include "store/any_table.h"
#include "store/number_column.h"
#include "support.h"
#include "workflow/source.h"

using namespace bq;
using bq::test::Folder;

namespace {

/// What came in, or what stood in the way.
struct TakenIn {
  SourceResult result;
  Trial& trial() { return result.trial; }
  [[nodiscard]] bool asks(const std::string& key) const {
    for (const auto& table : result.understood)
      for (const auto& question : table.questions)
        if (question.key == key) return true;
    return false;
  }
  [[nodiscard]] std::string all_problems() const {
    std::string out;
    for (const auto& problem : result.problems) out += problem + "\n";
    return out;
  }
  [[nodiscard]] bool notes(const std::string& part) const {
    for (const auto& table : result.understood)
      for (const auto& note : table.notes)
        if (note.find(part) != std::string::npos) return true;
    return false;
  }
};

TakenIn take_in(const std::string& bytes, const std::string& map = "{}") {
  const Folder folder;
  TakenIn out;
  const auto read = parse_table_map(map);
  EXPECT_TRUE(read) << map;
  out.result = read_tables({folder.write("t.csv", bytes).string()}, std::cin, {}, *read);
  return out;
}

double value_at(const Trial& trial, std::size_t run, std::size_t reading) {
  return trial.runs.at(run).readings.at(reading).value;
}

}  // namespace

TEST(AnyTable, ATidyTableIsReadAsItIs) {
  const auto taken = take_in("run,cuts,reading,unit,humidity\na,0,100,gf,40\na,10,150,gf,40\n");
  EXPECT_FALSE(taken.result.refused) << taken.all_problems();
  EXPECT_TRUE(taken.result.understood.empty());
  EXPECT_TRUE(taken.result.trial.runs[0].facts.factors.contains("humidity"));
}

TEST(AnyTable, NothingComesInWrongWithoutAWord) {
  // Each of these came in wrong: a misspelt name, a grit, an inclusive angle became factors, 1.000
  // cuts became one.
  const auto misspelt =
      take_in("run,cuts,reading,unit,edge_angel\na,0,100,gf,12\na,10,150,gf,12\n");
  EXPECT_TRUE(misspelt.result.refused);
  EXPECT_TRUE(misspelt.asks("columns.edge_angel")) << misspelt.all_problems();
  auto mended = take_in("run,cuts,reading,unit,edge_angel\na,0,100,gf,12\na,10,150,gf,12\n",
                        R"({"columns":{"edge_angel":"edge_angle"},"angles":"per side"})");
  ASSERT_FALSE(mended.result.refused) << mended.all_problems();
  EXPECT_NEAR(mended.trial().runs[0].facts.geometry->apex().equivalent_deg(), 12, 1e-9);

  auto grit = take_in("run,cuts,reading,unit,grit\na,0,100,gf,P1000\na,10,150,gf,P1000\n");
  ASSERT_FALSE(grit.result.refused) << grit.all_problems();
  EXPECT_NEAR(grit.trial().runs[0].facts.finish->mean_um(), 18.3, 1e-9);
  EXPECT_TRUE(take_in("run,cuts,reading,unit,grit\na,0,100,gf,1000\n").asks("grit"));

  auto inclusive =
      take_in("run,cuts,reading,unit,angle_inclusive\na,0,100,gf,24\na,10,150,gf,24\n");
  ASSERT_FALSE(inclusive.result.refused) << inclusive.all_problems();
  EXPECT_NEAR(inclusive.trial().runs[0].facts.geometry->apex().equivalent_deg(), 12, 1e-9);
  EXPECT_TRUE(take_in("run,cuts,reading,unit,angle\na,0,100,gf,24\n").asks("angles"));

  const auto thousand = take_in("run,cuts,reading,unit\na,0,100,gf\na,1.000,150,gf\n");
  EXPECT_TRUE(thousand.result.refused);
  EXPECT_NE(thousand.all_problems().find("two ways"), std::string::npos);
}

TEST(AnyTable, EveryShapeComesIn) {
  auto down = take_in(
      "Trial of March, second sitting\n\n"
      "Run;Knife;Steel;Angle per side;Cuts;Reading (g)\n"
      "1;K1;Marl;12;0;100\n;;;;50;140\n;;;;100;\"181,5\"\n"
      "2;K2;Cairn;14;0;110\n;;;;50;160\nMean;;;;;138\n");
  ASSERT_FALSE(down.result.refused) << down.all_problems();
  ASSERT_EQ(down.trial().runs.size(), 2U);
  EXPECT_EQ(down.trial().runs[0].readings.size(), 3U);
  EXPECT_EQ(value_at(down.trial(), 0, 2), 181.5);
  EXPECT_EQ(down.trial().runs[1].facts.steel, "Cairn");
  EXPECT_TRUE(down.notes("titles above the head (line 1)"));
  EXPECT_TRUE(down.notes("sums and means (line 9)"));

  auto across = take_in(
      "blade,steel,edge angle (per side),0 cuts,50,100 cuts\n"
      "K1,Marl,12,100 gf,140 gf,n/a\nK2,Cairn,14,110 gf,> 400,200 gf\n");
  ASSERT_FALSE(across.result.refused) << across.all_problems();
  EXPECT_EQ(across.result.understood[0].shape, TableShape::run_per_row);
  ASSERT_EQ(across.trial().runs.size(), 2U);
  EXPECT_EQ(across.trial().runs[0].facts.name, "K1");
  EXPECT_EQ(across.trial().runs[0].readings.size(), 2U);
  EXPECT_EQ(across.trial().runs[1].readings[1].cuts, 100);
  EXPECT_TRUE(across.notes("past what the gauge shows"));
  EXPECT_TRUE(across.notes("say there is no reading"));

  auto columns =
      take_in("cuts,R1,R2\nsteel,Marl,Cairn\nedge angle per side,12,14\n0,100,110\n50,140,160\n",
              R"({"unit":"gf"})");
  ASSERT_FALSE(columns.result.refused) << columns.all_problems();
  EXPECT_EQ(columns.result.understood[0].shape, TableShape::run_per_column);
  EXPECT_EQ(columns.trial().runs[1].facts.steel, "Cairn");
  EXPECT_NEAR(columns.trial().runs[1].facts.geometry->apex().equivalent_deg(), 14, 1e-9);

  auto repeats = take_in("run\tcuts\treading 1 [N]\treading 2 [N]\nA\t0\t1.1\t1.2\nA\t20\t1.5\t\n");
  ASSERT_FALSE(repeats.result.refused) << repeats.all_problems();
  EXPECT_EQ(repeats.result.understood[0].shape, TableShape::repeats);
  EXPECT_EQ(repeats.trial().runs[0].readings.size(), 3U);
  EXPECT_EQ(repeats.trial().runs[0].readings[0].unit, Unit::N);
}

TEST(AnyTable, HeadsInFiveLanguagesAndOtherEncodings) {
  auto german = take_in(
      "Versuch;Klinge;Stahl;Winkel (je Seite);Körnung;Schnitte;Kraft [N]\n"
      "V1;K1;Marl;12,5;P400;0;1,05\nV1;K1;Marl;12,5;P400;1.000;1,90\n");
  ASSERT_FALSE(german.result.refused) << german.all_problems();
  EXPECT_EQ(german.trial().runs[0].readings[1].cuts, 1000) << "1,05 says which sign is decimal";
  EXPECT_EQ(value_at(german.trial(), 0, 1), 1.9);
  EXPECT_NEAR(german.trial().runs[0].facts.finish->mean_um(), 35, 1e-9);
  auto latin = take_in("Lauf;Schnitte;Sch\xe4rfe [gf]\na;0;100\na;10;120\n");
  ASSERT_FALSE(latin.result.refused) << latin.all_problems();
  EXPECT_TRUE(latin.notes("Windows-1252"));
  // What was found can be said otherwise; what it cannot be is refused.
  const std::string one = "run;cuts;reading, gf\na;0;100\na;10;120\n";
  EXPECT_FALSE(take_in(one).result.refused);
  EXPECT_TRUE(take_in(one, R"({"separator":","})").result.refused);
  EXPECT_TRUE(take_in("Lauf;Schnitte;Sch\xe4rfe [gf]\na;0;100\n", R"({"encoding":"UTF-8"})")
                  .result.refused);
  EXPECT_FALSE(
      take_in("run;cuts;reading (gf)\na;0;100\n", R"({"encoding":"Windows-1252"})").result.refused);
  EXPECT_FALSE(take_in("essai;lame;nombre de coupes;mesure (N)\nE1;L1;0;1,5\n").result.refused);
  EXPECT_FALSE(take_in("ensayo;hoja;cortes;fuerza (N)\nE1;H1;0;1,5\n").result.refused);
  EXPECT_FALSE(take_in("試験,包丁,切断回数,荷重 (N)\n1,A,0,1.5\n").result.refused);
  std::string wide = "\xff\xfe";
  for (const char c : std::string("run\tcuts\treading (gf)\r\na\t0\t100\r\n")) {
    wide += c;
    wide += '\0';
  }
  EXPECT_FALSE(take_in(wide).result.refused);
}

TEST(AnyTable, AsksOnlyWhatItMust) {
  EXPECT_TRUE(take_in("run,cuts,reading\na,0,100\n").asks("unit"));
  EXPECT_TRUE(take_in("run;cuts;reading (gf)\na;0;100\na;1.500;120\n").asks("decimal"));
  auto answered = take_in("run;cuts;reading (gf)\na;0;100\na;1.500;120\n", R"({"decimal":","})");
  ASSERT_FALSE(answered.result.refused) << answered.all_problems();
  EXPECT_EQ(answered.trial().runs[0].readings[1].cuts, 1500);
  EXPECT_TRUE(take_in("run,reading (gf)\na,100\n").asks("columns"));
  EXPECT_TRUE(take_in("knife,cuts,reading (gf)\nK,0,100\nK,50,150\nK,0,90\n").asks("columns"))
      << "two runs of one blade, and nothing tells them apart";
  EXPECT_TRUE(take_in("run,cuts,reading (gf),alloy,steel\na,0,100,x,y\n").asks("columns.steel"));
}

TEST(AnyTable, FaultsHaveTheirPlaceInTheTableItself) {
  const auto taken = take_in("my table\n\nrun,cuts,reading (gf)\na,0,100\na,ten,120\na,20,abc\n");
  EXPECT_TRUE(taken.result.refused);
  EXPECT_NE(taken.all_problems().find("t.csv:5:2: "), std::string::npos) << taken.all_problems();
  EXPECT_NE(taken.all_problems().find("t.csv:6:3: "), std::string::npos) << taken.all_problems();
  const auto steels =
      take_in("title\nrun,cuts,reading (gf),steel\na,0,100,Marl\n\na,20,130,Cairn\n");
  EXPECT_NE(steels.all_problems().find("t.csv:5: "), std::string::npos) << steels.all_problems();
  EXPECT_NE(take_in("just\nsome\nwords\n").all_problems().find("no row names the columns"),
            std::string::npos);
  EXPECT_TRUE(take_in("").result.refused);
  EXPECT_TRUE(take_in(std::string("PK\x03\x04\0\0", 6)).result.refused);
}

TEST(AnyTable, DecimalSigns) {
  const auto sign = [](std::initializer_list<std::string> numbers) {
    const auto found = decimal_sign_of(numbers);
    return std::string(1, found.sign ? found.sign : '0') + (found.ambiguous ? "?" : "") +
           (found.contradicts ? "!" : "");
  };
  EXPECT_EQ(sign({"1", "20"}), "0");
  EXPECT_EQ(sign({"1.5"}), ".");
  EXPECT_EQ(sign({"1,5"}), ",");
  EXPECT_EQ(sign({"1.500"}), "0?");
  EXPECT_EQ(sign({"0.500"}), ".");
  EXPECT_EQ(sign({"1.500", "2,25"}), ",?");
  EXPECT_EQ(sign({"1.500,5"}), ",");
  EXPECT_EQ(sign({"1.500.000"}), ",");
  EXPECT_EQ(sign({"1.5", "1,5"}), "0!");
  EXPECT_EQ(number_by("1.234,5", ','), 1234.5);
  EXPECT_EQ(number_by("12,34", '.'), std::nullopt) << "no thousands stand like that";
  EXPECT_EQ(number_cell("1 234 gf")->number, "1234");
  EXPECT_EQ(number_cell("12 5 gf")->rest, "5 gf");
  EXPECT_TRUE(number_cell("> 400")->beyond);
  EXPECT_FALSE(number_cell("abc"));
}

TEST(AnyTable, MutationsAreNeverWrongInSilence) {
  // A table whose truth is known, written with one thing changed: it comes in as it was meant, or
  // it is refused or asked about.
  stats::Random random(25);
  const int trials = std::getenv("BQ_THOROUGH") ? 10000 : 400;
  int came = 0;
  for (int trial = 0; trial < trials; ++trial) {
    const char separator = ",;\t"[random.below(3)];
    const bool comma = separator != ',' && random.below(2) == 1;
    const bool inclusive = random.below(2) == 1;
    const bool thousands = random.below(2) == 1;
    std::string run = "run", cuts = "cuts", reading = "reading (gf)",
                angle = inclusive ? "angle inclusive" : "angle per side", steel = "steel";
    // One letter of one head is lost, doubled or swapped.
    if (random.below(2) == 1) {
      std::string* heads[] = {&run, &cuts, &reading, &angle, &steel};
      std::string& head = *heads[random.below(5)];
      const std::size_t at = random.below(std::min<std::size_t>(head.size() - 1, 4));
      if (random.below(2) == 1)
        head.erase(at, 1);
      else
        std::swap(head[at], head[at + 1]);
    }
    const auto number = [&](double value) {
      std::string text = print_number(value, 6);
      std::string whole = text.substr(0, text.find('.')),
                  rest = text.find('.') == std::string::npos ? "" : text.substr(text.find('.') + 1);
      if (thousands && whole.size() > 3) whole.insert(whole.size() - 3, comma ? "." : ",");
      text = whole + (rest.empty() ? "" : (comma ? "," : ".") + rest);
      return text.find(separator) == std::string::npos ? text : '"' + text + '"';
    };
    std::string table;
    const auto add = [&](std::initializer_list<std::string> cells) {
      std::string line;
      for (const auto& cell : cells) line += (line.empty() ? "" : std::string(1, separator)) + cell;
      table += line + "\n";
    };
    if (random.below(3) == 0) table += "Notes of the bench\n\n";
    add({run, cuts, reading, angle, steel});
    std::vector<std::pair<double, double>> truth;
    for (int k = 0; k < 4; ++k) {
      const double at = k * 600, value = 100.5 + 431.25 * k;
      truth.emplace_back(at, value);
      add({"a", number(at), number(value), number(inclusive ? 25 : 12.5), "Marl"});
    }
    auto taken = take_in(table);
    if (taken.result.refused) {
      EXPECT_FALSE(taken.result.problems.empty());
      continue;
    }
    ++came;
    ASSERT_EQ(taken.trial().runs.size(), 1U) << table;
    const bq::Run& read = taken.trial().runs[0];
    ASSERT_EQ(read.readings.size(), truth.size()) << table;
    for (std::size_t i = 0; i < truth.size(); ++i) {
      EXPECT_EQ(double(read.readings[i].cuts), truth[i].first) << table;
      EXPECT_NEAR(read.readings[i].value, truth[i].second, 1e-9) << table;
    }
    // An angle or a steel whose head is not a known word any more is a factor, and that is said.
    if (read.facts.geometry) {
      EXPECT_NEAR(read.facts.geometry->apex().equivalent_deg(), 12.5, 1e-9) << table;
    } else {
      EXPECT_FALSE(taken.result.understood[0].unknown.empty()) << table;
    }
  }
  EXPECT_GT(came, trials / 4);
}

TEST(AnyTable, AMapComesBackAsItWas) {
  const std::string text =
      R"({"columns":{"Kraft":"reading","x":"skip","W links":"edge_angle_left"},"unit":"N","angles":"inclusive","decimal":",","grit":"P","encoding":"UTF-16","separator":"tab","kind":"readings","sheet":"S","names":{"steel":{"a":"b"}}})";
  const auto map = parse_table_map(text);
  ASSERT_TRUE(map);
  EXPECT_EQ(*parse_table_map(table_map_text(*map)), *map);
  for (const char* bad :
       {"", "[]", R"({"columns":{"a":"nonsense"}})", R"({"unit":"kg"})", R"({"angles":"both"})",
        R"({"decimal":";"})", R"({"what":"x"})", R"({"encoding":"EBCDIC"})", R"({"separator":"x"})",
        R"({"kind":"knives"})", R"({"names":{"run":{}}})", R"({"names":{"steel":{"a":1}}})"})
    EXPECT_FALSE(parse_table_map(bad)) << bad;
}
