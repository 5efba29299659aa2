// Spreadsheets and lists: faults have their place, hostile files are refused, nothing is dropped,
// near names are asked about, templates come back with what is filled in.
#include <gtest/gtest.h>

#include "store/archive.h"
#include "store/project_file.h"
#include "store/spreadsheet.h"
#include "store/table_template.h"
#include "store/taken_in.h"
#include "workflow/project_session.h"

using namespace bq;
using namespace bq::test;

TEST(TakenIn, FaultsOfSpreadsheetsHaveTheirPlace) {
  for (const std::string kind : {".ods", ".xlsx"}) {
    const auto error = take_in(text_file("error" + kind), "{}", kind);
    EXPECT_TRUE(error.refused);
    EXPECT_NE(problems_of(error).find("t.csv:3:3: the formula in \"reading (gf)\" came to nothing"),
              std::string::npos)
        << problems_of(error);
    const auto typed = take_in(text_file("typed" + kind), "{}", kind);
    EXPECT_NE(problems_of(typed).find("both the point and the comma"), std::string::npos)
        << problems_of(typed);
    const auto hidden = take_in(text_file("across" + kind), R"({"unit":"gf"})", kind);
    bool said = false;
    for (const auto& note : hidden.understood.at(0).notes)
      said = said || note.find("does not show them: line 3") != std::string::npos;
    EXPECT_TRUE(said) << kind;
    const auto none = take_in(text_file("two" + kind), R"({"sheet":"May"})", kind);
    EXPECT_EQ(asked(none), std::set<std::string>{"sheet"}) << kind;
  }
  EXPECT_NE(problems_of(take_in(text_file("other.ods"), "{}", "other")).find("no row names"),
            std::string::npos);
}

TEST(TakenIn, HostileAndDamagedArchivesAreRefused) {
  const std::string good = text_file("long.xlsx");
  for (std::size_t cut = 0; cut < good.size(); cut += 97)
    EXPECT_TRUE(take_in(good.substr(0, cut), "{}", "cut").refused) << cut;
  // Any byte of it changed: refused, or what came in is what was written.
  const Kept kept{"changed", good, "sa", {}, "{}", ""};
  for (std::size_t at = 0; at < good.size(); at += 61) {
    std::string changed = good;
    changed[at] = char(changed[at] ^ 0x20);
    const auto result = take_in(changed, "{}", "changed");
    if (!result.refused) expect_truth(result, kept);
  }
  // What unpacks to gigabytes is refused by what it says; what says too little is damaged.
  std::vector<ArchiveEntry> bomb;
  for (int i = 0; i < 9; ++i)
    bomb.push_back({"part" + std::to_string(i), std::string(std::size_t(60) << 20, ' '), true});
  const std::string packed = archive_of(bomb).take();
  EXPECT_LT(packed.size(), std::size_t(1) << 20);
  EXPECT_NE(problems_of(take_in(packed, "{}", "bomb")).find("unpacks to more than 512 MiB"),
            std::string::npos);
  // Entities of the document's own are not resolved; a repeat of a million cells is refused.
  const auto sheet = [](const std::string& rows, const std::string& head = {}) {
    return archive_of({{"content.xml",
                        "<?xml version=\"1.0\"?>" + head +
                            "<d xmlns:table=\"t\" xmlns:office=\"o\" xmlns:text=\"x\"><table:table "
                            "table:name=\"S\">" +
                            rows + "</table:table></d>",
                        true}})
        .take();
  };
  const std::string wide = sheet(
      "<table:table-row><table:table-cell table:number-columns-repeated=\"16000000\" "
      "office:value-type=\"float\" office:value=\"1\"/></table:table-row>");
  EXPECT_TRUE(take_in(wide, "{}", "wide").refused);
  const std::string deep = sheet(
      "<table:table-row table:number-rows-repeated=\"19000000\"><table:table-cell "
      "table:number-columns-repeated=\"900\" office:value-type=\"float\" "
      "office:value=\"1\"/></table:table-row>");
  EXPECT_NE(problems_of(take_in(deep, "{}", "deep")).find("more than 10000000 cells"),
            std::string::npos);
  std::string laughs = "<!DOCTYPE d [<!ENTITY a \"ha\">";
  for (char c = 'b'; c < 'p'; ++c) {
    laughs += std::string("<!ENTITY ") + c + " \"";
    for (int i = 0; i < 10; ++i) laughs += std::string("&") + char(c - 1) + ";";
    laughs += "\">";
  }
  EXPECT_TRUE(
      take_in(sheet("<table:table-row><table:table-cell office:value-type=\"string\"><text:p>"
                    "&o;</text:p></table:table-cell></table:table-row>",
                    laughs + "]>"),
              "{}", "laughs")
          .refused);
}

TEST(TakenIn, WhatStandsBehindANumberIsNotDropped) {
  for (const char* cell :
       {"12-14", "12 ± 0.5", "12/14", "24 incl.", "12 x 2", "12+1", "2026-03-01"}) {
    const auto taken = take_in("run,cuts,reading (gf),angle per side\nA,0,100," +
                                   std::string(cell) + "\nA,10,120," + cell + "\n",
                               "{}", cell);
    EXPECT_TRUE(taken.refused) << cell;
    EXPECT_TRUE(asked(taken).empty()) << cell;
  }
  for (const char* cell : {"50-60", "50 (?)2", "2026-03-01", "14:05", "50/2"})
    EXPECT_TRUE(
        take_in("run,cuts,reading (gf)\nA,0,100\nA," + std::string(cell) + ",120\n", "{}", cell)
            .refused)
        << cell;
}

TEST(TakenIn, NearNamesAreAskedAbout) {
  const Folder folder;
  const auto read = [&](const std::string& bytes, const std::string& map, const KnownNames& known) {
    return read_tables({folder.write("n.csv", bytes).string()}, std::cin, {}, *parse_table_map(map),
                       known);
  };
  const KnownNames known{{"K1", "K2"}, {"Marl Tough", "Cairn Hard"}, {"coir mat"}};
  // A tidy table too.
  const std::string tidy =
      "run,cuts,reading,unit,blade,steel,medium\na,0,100,gf,K3,Marl Touhg,coir mat\n"
      "b,0,100,gf,K1,Cairn Hard,Coir-Mat\n";
  const auto first = read(tidy, "{}", known);
  EXPECT_TRUE(first.refused);
  EXPECT_EQ(asked(first),
            (std::set<std::string>{"names.steel.Marl Touhg", "names.medium.Coir-Mat"}));
  const auto settled = read(
      tidy, R"({"names":{"steel":{"Marl Touhg":"Marl Tough"},"medium":{"Coir-Mat":"Coir-Mat"}}})",
      known);
  ASSERT_FALSE(settled.refused) << problems_of(settled);
  EXPECT_EQ(settled.notes,
            std::vector<std::string>{"steel \"Marl Touhg\" is taken for \"Marl Tough\""});
  EXPECT_EQ(settled.trial.runs[0].facts.steel, "Marl Tough");
  EXPECT_EQ(settled.trial.find_blade("K3")->steel, "Marl Tough");
  EXPECT_EQ(settled.trial.runs[1].facts.medium, "Coir-Mat") << "as written, if somebody says so";
  // Two spellings in one table are asked about too; numbers and single letters tell names apart.
  const auto twice =
      read("run,cuts,reading,unit,steel\na,0,1,N,Fenland\nb,0,1,N,Fenlnad\n", "{}", {});
  EXPECT_EQ(asked(twice), std::set<std::string>{"names.steel.Fenlnad"});
  // So are two spellings where only one can stand: in a run, of a blade; a tidy table or not.
  for (const char* head :
       {"run,cuts,reading,unit,steel,blade", "Run,Cuts,Force (N),unit,Steel,Blade"})
    for (const char* rows : {"a,0,1,N,Fenland,K1\na,10,2,N,Fenlnad,K1\n",
                             "a,0,1,N,Fenland,K1\nb,0,2,N,Fenlnad,K1\n"}) {
      const std::string table = std::string(head) + "\n" + rows;
      const auto within = read(table, "{}", {});
      EXPECT_TRUE(within.refused);
      EXPECT_EQ(asked(within), std::set<std::string>{"names.steel.Fenlnad"}) << problems_of(within);
      const auto same = read(table, R"({"names":{"steel":{"Fenlnad":"Fenland"}}})", {});
      ASSERT_FALSE(same.refused) << problems_of(same);
      for (const auto& run : same.trial.runs) EXPECT_EQ(run.facts.steel, "Fenland");
      const auto two = read(table, R"({"names":{"steel":{"Fenlnad":"Fenlnad"}}})", {});
      EXPECT_TRUE(two.refused) << "one run or blade is of one steel";
      EXPECT_TRUE(asked(two).empty());
    }
  // What is not near is a fault with its place, as before.
  const auto other = read("run,cuts,reading,unit,steel\na,0,1,N,Marl\na,1,2,N,Cairn\n", "{}", {});
  EXPECT_TRUE(other.refused && asked(other).empty());
  EXPECT_FALSE(read("run,cuts,reading,unit,steel,blade\na,0,1,N,Steel A,K1\nb,0,1,N,Steel B,K11\n"
                    "c,0,1,N,M 390,K12\nd,0,1,N,M 391,k-13\n",
                    "{}", {})
                   .refused);
}

TEST(TakenIn, ListsOfBladesStonesAndPairs) {
  const Folder folder;
  const auto read = [&](const std::string& bytes, const std::string& map) {
    return take_in(bytes, map, map);
  };
  const std::string blades = "Klinge;Stahl;Ort;Bemerkung\nK1;Marl;Regal 3;neu\nK2;Cairn;;\n";
  EXPECT_EQ(asked(read(blades, "{}")), std::set<std::string>{"kind"});
  EXPECT_EQ(asked(read(blades, R"({"kind":"blades"})")), std::set<std::string>{"columns.Ort"});
  const auto two = read(blades, R"({"kind":"blades","columns":{"Ort":"note"}})");
  ASSERT_FALSE(two.refused) << problems_of(two);
  ASSERT_EQ(two.lists.size(), 1U);
  ASSERT_EQ(two.lists[0].blades.size(), 2U);
  EXPECT_EQ(two.lists[0].blades[0].note, "Ort: Regal 3; neu");
  EXPECT_EQ(two.lists[0].blades[1].steel, "Cairn");

  const auto shelf = read(
      "stone,kind,grit,size (µm),rate,note\nGrey,bench stone,JIS 1000,,1.1,\n"
      "Film,film,,3,,fine\nRed,diamond plate,F220,,,\n",
      R"({"kind":"stones"})");
  ASSERT_FALSE(shelf.refused) << problems_of(shelf);
  ASSERT_EQ(shelf.lists[0].stones.size(), 3U);
  EXPECT_EQ(shelf.lists[0].stones[0].label, "JIS 1000");
  EXPECT_EQ(shelf.lists[0].stones[0].rate_mm3_per_min, 1.1);
  EXPECT_EQ(shelf.lists[0].stones[1].measured_um, 3.0);
  EXPECT_EQ(shelf.lists[0].stones[2].kind, AbrasiveKind::diamond_plate);
  EXPECT_EQ(asked(read("stone,grit\nGrey,1000\n", R"({"kind":"stones"})")),
            std::set<std::string>{"grit"});
  for (const char* bad :
       {"stone,grit\nGrey,soft\n", "stone,kind\nGrey,gemstone\n", "stone,size\nGrey,-3\n",
        "stone,size\nGrey,3 mm\n", "stone\nGrey\nGrey\n", "stone,rate\nGrey,1.1 or so\n"})
    EXPECT_NE(problems_of(read(bad, R"({"kind":"stones"})")).find("t.csv:"), std::string::npos)
        << bad;

  const auto pairs = read("blade,place,before (N),after (N)\nK1,heel,1.5,1.25\nK1,tip,1.75,1.5\n",
                          R"({"kind":"pairs"})");
  ASSERT_FALSE(pairs.refused) << problems_of(pairs);
  ASSERT_EQ(pairs.lists[0].pairs->pairs.size(), 2U);
  EXPECT_EQ(pairs.lists[0].pairs->unit, "N");
  EXPECT_EQ(pairs.lists[0].pairs->pairs[1].second, 1.5);
  EXPECT_EQ(asked(read("blade,before,after\nK1,1.5,1.25\n", R"({"kind":"pairs"})")),
            std::set<std::string>{"unit"});
  EXPECT_TRUE(read("blade,before (gf),after (gf)\nK1,150,\n", R"({"kind":"pairs"})").refused);
  // One sign for the whole list: what 1.500 is, is told by the figure beside it.
  const auto comma =
      read("blade;before (gf);after (gf)\nK1;1.500;1.250,5\n", R"({"kind":"pairs"})");
  ASSERT_FALSE(comma.refused) << problems_of(comma);
  EXPECT_EQ(comma.lists[0].pairs->pairs[0].first, 1500);
  EXPECT_EQ(asked(read("blade,before (gf),after (gf)\nK1,1.500,1.250\n", R"({"kind":"pairs"})")),
            std::set<std::string>{"decimal"});
  EXPECT_TRUE(read("blade;before (gf);after (gf)\nK1;1.5;1,5\n", R"({"kind":"pairs"})").refused);

  // What a project has by name is left as it is; the rest is one step of undo.
  ProjectFile::create(folder / "p.bquarry", "p");
  auto session = ProjectSession::open(folder / "p.bquarry");
  Blade own;
  own.name = "K1";
  own.steel = "Other";
  session.add_blade(own);
  EXPECT_EQ(add_lists(session, two.lists),
            "1 blade came in; there already by name, and left as they are: K1.");
  EXPECT_EQ(add_lists(session, shelf.lists), "3 abrasives came in.");
  EXPECT_EQ(add_lists(session, pairs.lists), "2 pairs came in.");
  EXPECT_EQ(session.trial().find_blade("K1")->steel, "Other");
  EXPECT_EQ(session.trial().shelf.size(), 3U);
  session.undo();
  session.undo();
  EXPECT_EQ(session.trial().shelf.size(), 0U);
}

TEST(TakenIn, TemplatesComeBackWithWhatIsFilledIn) {
  for (const TemplateKind kind : kTemplateKinds) {
    auto rows = template_rows(kind);
    const std::string name(name_of(kind));
    const std::string map = parse_list_kind(name) ? R"({"kind":")" + name + R"("})" : "{}";
    // As it is there is nothing in it; nothing of the example comes in.
    for (const auto& bytes : {csv_of(rows), ods_of(rows, name)}) {
      const auto blank = take_in(bytes, map, name);
      EXPECT_TRUE(blank.refused) << name;
      EXPECT_TRUE(asked(blank).empty()) << name << problems_of(blank);
    }
    auto filled = rows.back();
    filled.front() = "A";
    rows.push_back(filled);
    for (int sample = 1; kind == TemplateKind::strokes && sample < 30; ++sample) {
      filled[3] = "0." + std::to_string(100 + sample);
      rows.push_back(filled);
    }
    if (kind == TemplateKind::strokes) rows[rows.size() - 30][3] = "0.100";
    for (const auto& bytes : {csv_of(rows), ods_of(rows, name)}) {
      const auto taken = take_in(bytes, map, name);
      ASSERT_FALSE(taken.refused) << name << "\n" << problems_of(taken);
      const std::size_t rows_in = taken.trial.runs.size() + (taken.lists.empty() ? 0 : 1);
      EXPECT_EQ(rows_in, 1U) << name;
      if (!taken.lists.empty()) continue;
      const bq::Run& run = taken.trial.runs[0];
      EXPECT_NEAR(run.facts.geometry->apex().equivalent_deg(), 15, 1e-9) << name;
      EXPECT_NEAR(run.facts.finish->mean_um(), kP1000_um, 1e-9) << name;
      EXPECT_EQ(run.readings.size(), kind == TemplateKind::readings ? 1U : 4U) << name;
      EXPECT_TRUE(run.facts.factors.empty()) << name;
    }
  }
}
