#include "store/corpus_tables.h"

namespace bq::test {

std::vector<Kept> long_tables() {
  const std::string rows =
      "A,0,100\nA,50,140.5\nA,1000,1181.25\nB,0,110.5\nB,50,160\nB,1000,1234.5\n";
  const std::string semi =
      "A;0;100\nA;50;140,5\nA;1000;1181,25\nB;0;110,5\nB;50;160\nB;1000;1234,5\n";
  return {
      {"plain", "run,cuts,reading (gf)\n" + rows, "", {}},
      {"capitals", "RUN,CUTS,READING [gf]\n" + rows, "", {}},
      {"blanks around", " run , cuts , reading (gf) \n" + rows, "", {}},
      {"grams", "Run,Cuts,Reading [g]\n" + rows, "", {}},
      {"no unit", "run,cuts,reading\n" + rows, "", {"unit"}, R"({"unit":"gf"})"},
      {"comma decimals", "run;cuts;reading (gf)\n" + semi, "", {}},
      {"tab",
       "run\tcuts\treading (gf)\nA\t0\t100\nA\t50\t140.5\nA\t1000\t1181.25\n"
       "B\t0\t110.5\nB\t50\t160\nB\t1000\t1234.5\n",
       "",
       {}},
      {"bar",
       "run|cuts|reading (gf)\nA|0|100\nA|50|140.5\nA|1000|1181.25\n"
       "B|0|110.5\nB|50|160\nB|1000|1234.5\n",
       "",
       {}},
      {"quoted",
       "\"run\",\"cuts\",\"reading (gf)\"\n\"A\",\"0\",\"100\"\n\"A\",\"50\",\"140.5\"\n"
       "\"A\",\"1,000\",\"1,181.25\"\n\"B\",\"0\",\"110.5\"\n\"B\",\"50\",\"160\"\n"
       "\"B\",\"1,000\",\"1,234.5\"\n",
       "",
       {}},
      {"carriage returns",
       "run,cuts,reading (gf)\r\nA,0,100\r\nA,50,140.5\r\nA,1000,1181.25\r\n"
       "B,0,110.5\r\nB,50,160\r\nB,1000,1234.5\r\n",
       "",
       {}},
      {"old line ends",
       "run,cuts,reading (gf)\rA,0,100\rA,50,140.5\rA,1000,1181.25\r"
       "B,0,110.5\rB,50,160\rB,1000,1234.5\r",
       "",
       {}},
      {"byte-order mark", "\xef\xbb\xbfrun,cuts,reading (gf)\n" + rows, "", {}},
      {"UTF-16", utf16("run,cuts,reading (gf)\n" + rows), "", {}, "{}", "UTF-16"},
      {"title",
       "Bench book of March\n\nrun,cuts,reading (gf)\n" + rows,
       "",
       {},
       "{}",
       "titles above"},
      {"three titles", "Bench book\noperator A,,\n,,\nrun,cuts,reading (gf)\n" + rows, "", {}},
      {"note between",
       "run,cuts,reading (gf)\nA,0,100\nA,50,140.5\nA,1000,1181.25\n"
       "lunch,,\nB,0,110.5\nB,50,160\nB,1000,1234.5\n",
       "",
       {},
       "{}",
       "(line 5)"},
      {"sums",
       "run,cuts,reading (gf)\nA,0,100\nA,50,140.5\nA,1000,1181.25\nMean,,473.9\n"
       "B,0,110.5\nB,50,160\nB,1000,1234.5\nTotal,,1505\n",
       "",
       {},
       "{}",
       "sums and means"},
      {"unit in cells",
       "run,cuts,reading\nA,0,100 gf\nA,50,140.5 gf\nA,1000,1181.25 gf\n"
       "B,0,110.5 gf\nB,50,160 g\nB,1000,1234.5 gf\n",
       "",
       {}},
      {"unit column",
       "run,cuts,reading,unit of reading\nA,0,100,gf\nA,50,140.5,gf\n"
       "A,1000,1181.25,gf\nB,0,110.5,gf\nB,50,160,gf\nB,1000,1234.5,gf\n",
       "",
       {}},
      {"newton",
       "run,cuts,reading (N)\nA,0,0.980665\nA,50,1.377834325\nA,1000,11.58410531\n"
       "B,0,1.083634825\nB,50,1.569064\nB,1000,12.1063094\n",
       "",
       {}},
      {"mixed units",
       "run,cuts,reading\nA,0,0.980665 N\nA,50,140.5 gf\nA,1000,1181.25 gf\n"
       "B,0,110.5 gf\nB,50,1.569064 N\nB,1000,1234.5 gf\n",
       "",
       {}},
      {"only where it changes",
       "run,steel,cuts,reading (gf)\nA,Marl,0,100\n,,50,140.5\n,,1000,1181.25\n"
       "B,Cairn,0,110.5\n,,50,160\n,,1000,1234.5\n",
       "s",
       {},
       "{}",
       "carried down"},
      {"cuts with word",
       "run,cuts,reading (gf)\nA,0 cuts,100\nA,50 cuts,140.5\nA,1000 cuts,1181.25\n"
       "B,0 cuts,110.5\nB,50 cuts,160\nB,1000 cuts,1234.5\n",
       "",
       {}},
      {"grouped by blanks",
       "run;cuts;reading (gf)\nA;0;100\nA;50;140,5\nA;1 000;1 181,25\n"
       "B;0;110,5\nB;50;160\nB;1 000;1 234,5\n",
       "",
       {}},
      {"grouped by points",
       "run;cuts;reading (gf)\nA;0;100\nA;50;140,5\nA;1.000;1.181,25\n"
       "B;0;110,5\nB;50;160\nB;1.000;1.234,5\n",
       "",
       {}},
      {"grouped by apostrophes",
       "run;cuts;reading (gf)\nA;0;100\nA;50;140.5\nA;1'000;1'181.25\n"
       "B;0;110.5\nB;50;160\nB;1'000;1'234.5\n",
       "",
       {}},
      {"past the gauge",
       "run,cuts,reading (gf)\nA,0,100\nA,50,140.5\nA,1000,1181.25\nA,1500,> 1500\n"
       "B,0,110.5\nB,50,160\nB,1000,1234.5\n",
       "",
       {},
       "{}",
       "past what the gauge"},
      {"no reading",
       "run,cuts,reading (gf)\nA,0,100\nA,50,140.5\nA,700,n/a\nA,1000,1181.25\n"
       "B,0,110.5\nB,50,160\nB,700,\nB,1000,1234.5\n",
       "",
       {}},
      {"misspelt",
       "run,cuts,raeding (gf)\n" + rows,
       "",
       {"columns.raeding (gf)"},
       R"x({"columns":{"raeding (gf)":"reading"}})x"},
      {"unknown head",
       "run,cuts,pull\n" + rows,
       "",
       {"columns"},
       R"({"columns":{"pull":"reading"},"unit":"gf"})"},
      {"a column without a head",
       "run,cuts,reading (gf),\nA,0,100,ok\nA,50,140.5,\nA,1000,1181.25,\n"
       "B,0,110.5,\nB,50,160,\nB,1000,1234.5,\n",
       "",
       {},
       "{}",
       "has no head"},
      {"notes and dates",
       "run,date,cuts,reading (gf),notes\nA,2026-03-01,0,100,fresh\n"
       "A,2026-03-01,50,140.5,\nA,2026-03-01,1000,1181.25,\nB,2026-03-02,0,110.5,\n"
       "B,2026-03-02,50,160,\nB,2026-03-02,1000,1234.5,\n",
       "",
       {},
       "{}",
       "left out: the column \"date\""},
      {"days under a name of one's own",
       "run,sitting,cuts,reading (gf)\nA,2026-03-01,0,100\nA,2026-03-01,50,140.5\n"
       "A,2026-03-01,1000,1181.25\nB,2026-03-02,0,110.5\nB,2026-03-02,50,160\n"
       "B,2026-03-02,1000,1234.5\n",
       "",
       {"columns.sitting"},
       R"({"columns":{"sitting":"block"}})"},
      {"factor of one's own",
       "run,humidity,cuts,reading (gf)\nA,40,0,100\nA,40,50,140.5\n"
       "A,40,1000,1181.25\nB,55,0,110.5\nB,55,50,160\nB,55,1000,1234.5\n",
       "x",
       {}},
      {"runs by number",
       "blade,cuts,reading (gf)\nK1,0,100\nK1,50,140.5\nK1,1000,1181.25\n"
       "K2,0,110.5\nK2,50,160\nK2,1000,1234.5\n",
       "b-",
       {},
       "{}",
       "no column names the runs"},
      {"runs not named",
       "cuts,reading (gf)\n0,100\n50,140.5\n1000,1181.25\n0,110.5\n50,160\n"
       "1000,1234.5\n",
       "-",
       {},
       "{}",
       "named by number"},
      {"two spellings",
       "run,steel,cuts,reading (gf)\nA,Marl,0,100\nA,Marl,50,140.5\n"
       "A,Marl,1000,1181.25\nB,Cairn,0,110.5\nB,Cairn,50,160\nB,Cairn,1000,1234.5\n",
       "s",
       {}},
  };
}

std::vector<Kept> geometry_tables() {
  const auto with = [](const std::string& heads, const std::string& a, const std::string& b) {
    return "run,cuts,reading (gf)," + heads + "\nA,0,100," + a + "\nA,50,140.5," + a +
           "\nA,1000,1181.25," + a + "\nB,0,110.5," + b + "\nB,50,160," + b + "\nB,1000,1234.5," +
           b + "\n";
  };
  return {
      {"per side", with("angle per side", "12.25", "14.5"), "a", {}},
      {"degrees in cells", with("angle per side", "12.25°", "14.5 deg"), "a", {}},
      {"inclusive in the head", with("angle (inclusive)", "24.5", "29"), "a", {}, "{}", "halved"},
      {"total angle", with("total angle", "24.5", "29"), "a", {}},
      {"either", with("angle", "12.25", "14.5"), "a", {"angles"}, R"({"angles":"per side"})"},
      {"either, steep", with("angle", "24.5", "29"), "a", {"angles"}, R"({"angles":"inclusive"})"},
      {"tidy name, steep",
       with("edge_angle", "24.5", "29"),
       "a",
       {"angles"},
       R"({"angles":"inclusive"})"},
      {"sides apart", with("angle left,angle right", "12.25,12.25", "14.5,14.5"), "a", {}},
      {"grit P", with("finish", "P1000", "P1000"), "f", {}},
      {"grit with a blank", with("grit", "P 1000", "P 1000"), "f", {}},
      {"grit under a name of one's own",
       with("last stone", "P1000", "P1000"),
       "f",
       {"columns.last stone"},
       R"({"columns":{"last stone":"finish"}})"},
      {"grit by number", with("grit", "1000", "1000"), "f", {"grit"}, R"({"grit":"P"})"},
      {"microns", with("finish (µm)", "18.3", "18.3"), "f", {}},
      {"microns in cells", with("finish", "18.3 µm", "18.3 um"), "f", {}},
      {"all of it",
       with("blade,steel,angle per side,finish,medium", "K1,Marl,12.25,P1000,coir",
            "K2,Cairn,14.5,P1000,coir"),
       "bsafm",
       {}},
      {"misspelt angle",
       with("edge_angel", "12.25", "14.5"),
       "a",
       {"columns.edge_angel", "angles"},
       R"({"columns":{"edge_angel":"edge_angle"},"angles":"per side"})"},
      {"two steels",
       with("steel,alloy", "Marl,x", "Cairn,y"),
       "s",
       {"columns.alloy"},
       R"({"columns":{"alloy":"skip"}})"},
      {"spellings of a steel",
       "run,cuts,reading (gf),steel\nA,0,100,Marl\nA,50,140.5,Marl\n"
       "A,1000,1181.25,Marl\nB,0,110.5,Cairn\nB,50,160,Cairn\n"
       "B,1000,1234.5,Cairn\n",
       "s",
       {}},
  };
}

std::vector<Kept> other_shapes() {
  return {
      {"run a row",
       "run,0 cuts,50 cuts,1000 cuts\nA,100 gf,140.5 gf,1181.25 gf\n"
       "B,110.5 gf,160 gf,1234.5 gf\n",
       "",
       {}},
      {"run a row, bare counts",
       "run,steel,0,50,1000\nA,Marl,100,140.5,1181.25\n"
       "B,Cairn,110.5,160,1234.5\n",
       "s",
       {"unit"},
       R"({"unit":"gf"})"},
      {"run a row, after",
       "run,after 0,after 50,after 1000\nA,100 g,140.5 g,1181.25 g\n"
       "B,110.5 g,160 g,1234.5 g\n",
       "",
       {}},
      {"run a row, by blade",
       "blade,steel,angle per side,0 cuts,50 cuts,1000 cuts\n"
       "K1,Marl,12.25,100 gf,140.5 gf,1181.25 gf\n"
       "K2,Cairn,14.5,110.5 gf,160 gf,1234.5 gf\n",
       "bsa-",
       {}},
      {"run a row, gaps",
       "run,0 cuts,50 cuts,200 cuts,1000 cuts\nA,100 gf,140.5 gf,,1181.25 gf\n"
       "B,110.5 gf,160 gf,n/a,1234.5 gf\n",
       "",
       {}},
      {"run a row, German",
       "Versuch;Stahl;0 Schnitte;50 Schnitte;1.000 Schnitte\n"
       "A;Marl;100 gf;140,5 gf;1.181,25 gf\nB;Cairn;110,5 gf;160 gf;1.234,5 gf\n",
       "s",
       {}},
      {"run a row, a head nobody knows",
       "run,0 cuts,50 cuts,1000 cuts,at the end\n"
       "A,100 gf,140.5 gf,1181.25 gf,1200 gf\n"
       "B,110.5 gf,160 gf,1234.5 gf,1300 gf\n",
       "",
       {"columns.at the end"},
       R"({"columns":{"at the end":"skip"}})"},
      {"run a column",
       "cuts,A,B\n0,100,110.5\n50,140.5,160\n1000,1181.25,1234.5\n",
       "",
       {"unit"},
       R"({"unit":"gf"})"},
      {"run a column, facts",
       "cuts,A,B\nsteel,Marl,Cairn\nangle per side,12.25,14.5\n"
       "0,100 gf,110.5 gf\n50,140.5 gf,160 gf\n1000,1181.25 gf,1234.5 gf\n",
       "sa",
       {}},
      {"run a column, German",
       "Schnitte;A;B\nStahl;Marl;Cairn\n0;100 gf;110,5 gf\n"
       "50;140,5 gf;160 gf\n1000;1181,25 gf;1234,5 gf\n",
       "s",
       {}},
      {"run a column, either angle",
       "cuts,A,B\nangle,24.5,29\n0,100 gf,110.5 gf\n"
       "50,140.5 gf,160 gf\n1000,1181.25 gf,1234.5 gf\n",
       "a",
       {"angles"},
       R"({"angles":"inclusive"})"},
  };
}

std::vector<Kept> languages() {
  const std::string semi =
      "A;0;100\nA;50;140,5\nA;1000;1181,25\nB;0;110,5\nB;50;160\nB;1000;1234,5\n";
  const auto rows = [](const std::string& a, const std::string& b) {
    return "A;" + a + ";0;100\nA;" + a + ";50;140,5\nA;" + a + ";1000;1181,25\nB;" + b +
           ";0;110,5\nB;" + b + ";50;160\nB;" + b + ";1000;1234,5\n";
  };
  return {
      {"German", "Lauf;Schnitte;Messwert (gf)\n" + semi, "", {}},
      {"German, full",
       "Versuch;Klinge;Stahl;Winkel je Seite;Körnung;Material;Schnitte;Kraft (gf)\n" +
           rows("K1;Marl;12,25;P1000;coir", "K2;Cairn;14,5;P1000;coir"),
       "bsafm",
       {}},
      {"German, inclusive",
       "Versuch;Winkel gesamt;Schnitte;Kraft (gf)\n" + rows("24,5", "29"),
       "a",
       {}},
      {"German, either",
       "Versuch;Winkel;Schnitte;Kraft (gf)\n" + rows("24,5", "29"),
       "a",
       {"angles"},
       R"({"angles":"inclusive"})"},
      {"German, umlauts lost",
       "Versuch;Stahl;Schnitte;Schaerfe (gf)\n" + rows("Marl", "Cairn"),
       "s",
       {}},
      {"German, Windows-1252",
       "Versuch;Stahl;Schnitte;Sch\xe4rfe (gf)\n" + rows("Marl", "Cairn"),
       "s",
       {},
       "{}",
       "Windows-1252"},
      {"French", "essai;coupes;mesure (gf)\n" + semi, "", {}},
      {"French, full",
       "essai;lame;acier;angle par côté;matière;nombre de coupes;mesure (gf)\n" +
           rows("K1;Marl;12,25;coir", "K2;Cairn;14,5;coir"),
       "bsam",
       {}},
      {"French, total", "essai;angle total;coupes;mesure (gf)\n" + rows("24,5", "29"), "a", {}},
      {"Spanish", "ensayo;cortes;fuerza (gf)\n" + semi, "", {}},
      {"Spanish, full",
       "ensayo;hoja;acero;ángulo por lado;material;cortes;fuerza (gf)\n" +
           rows("K1;Marl;12,25;coir", "K2;Cairn;14,5;coir"),
       "bsam",
       {}},
      {"Spanish, either",
       "ensayo;ángulo;cortes;fuerza (gf)\n" + rows("12,25", "14,5"),
       "a",
       {"angles"},
       R"({"angles":"per side"})"},
      {"Japanese",
       "試験,切断回数,荷重 (gf)\nA,0,100\nA,50,140.5\nA,1000,1181.25\nB,0,110.5\n"
       "B,50,160\nB,1000,1234.5\n",
       "",
       {}},
  };
}

std::vector<Kept> spreadsheets() {
  std::vector<Kept> out;
  for (const char* kind : {".ods", ".xlsx"}) {
    const auto add = [&](const std::string& name, const std::string& holds,
                         std::set<std::string> asks = {}, const std::string& answers = "{}",
                         const std::string& says = {}) {
      out.push_back({name + kind, text_file(name + kind), holds, std::move(asks), answers, says});
    };
    add("long", "sa", {}, "{}", "titles above");
    add("across", "sa", {"unit"}, R"({"unit":"gf"})");
    add("merged", "sa", {}, "{}", "carried down");
    add("two", "", {"sheet"}, R"({"sheet":"April"})");
    add("columns", "sa", {"unit"}, R"({"unit":"gf"})");
  }
  return out;
}

}  // namespace bq::test
