// Whose reading is it: steel, blade, edge and medium of a run stay what was said, whatever is
// edited, and readings never come to a run that they were not taken on.
#include <gtest/gtest.h>

#include "support.h"
#include "workflow/project_session.h"

using namespace bq;

namespace {

ProjectSession project_of(const test::Folder& folder, const std::string& csv) {
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "p").import(test::table(csv).trial, KnownRuns::refuse);
  return ProjectSession::open(path);
}

const RunFacts& facts_of(const Trial& trial, const std::string& run) {
  return trial.find_run(run)->facts;
}

std::string refusal_of(ProjectFile& file, const std::string& csv, KnownRuns known) {
  try {
    file.import(test::table(csv).trial, known);
  } catch (const StoreError& error) {
    return error.what();
  }
  return "";
}

}  // namespace

TEST(WhoseReading, AnyEditOfABladeLeavesTheSteelsOfItsRuns) {
  const test::Folder folder;
  // Steel known to the table only: the blade learns it, and a run that says none is of it too.
  std::unique_ptr<ProjectSession> held(new ProjectSession(project_of(
      folder, "run,cuts,reading,unit,blade,steel\nA,0,5,gf,b,S\nB,0,5,gf,b,\nC,0,5,gf,,T\n")));
  ProjectSession& session = *held;
  EXPECT_EQ(session.trial().blades[0].steel, "S");
  EXPECT_EQ(facts_of(session.trial(), "B").steel, "S");
  session.set_retired(0, true);
  Blade noted = session.trial().blades[0];
  noted.note = "chipped";
  session.update_blade(0, noted);
  EXPECT_EQ(facts_of(session.trial(), "A").steel, "S");
  EXPECT_EQ(facts_of(session.trial(), "B").steel, "S");
  Blade other = noted;
  other.steel = "U";
  session.update_blade(0, other);
  EXPECT_EQ(facts_of(session.trial(), "A").steel, "U");
  EXPECT_EQ(facts_of(session.trial(), "C").steel, "T") << "of no blade";
  session.undo();
  EXPECT_EQ(facts_of(session.trial(), "A").steel, "S");
  const Trial in_memory = session.trial();
  held.reset();
  for (const auto& run :
       ProjectFile::open(folder / "p.bquarry", ProjectFile::Access::read).load().runs)
    EXPECT_TRUE(run.facts == facts_of(in_memory, run.facts.name)) << run.facts.name;
}

TEST(WhoseReading, ARunMadeOnABladeIsOfItsSteel) {
  const test::Folder folder;
  auto session = project_of(folder, "run,cuts,reading,unit,blade,steel\nA,0,5,gf,b,S\n");
  bq::Run fresh;
  fresh.facts.name = "B";
  fresh.facts.blade = "b";
  session.add_run(fresh);
  EXPECT_EQ(facts_of(session.trial(), "B").steel, "S");
}

TEST(WhoseReading, FurtherReadingsMustBeOfTheRunTheyNameAndAreTakenOnce) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  const std::string head =
      "run,cuts,reading,unit,blade,steel,edge_angle,finish_um,medium,cut_mode,grip\n";
  auto file = ProjectFile::create(path, "p");
  file.import(test::table(head + "A,0,5,gf,b,S,15,3,foam,slice,007\n").trial, KnownRuns::refuse);
  // One thing another at a time: each is refused by its name, and nothing is written.
  const std::pair<const char*, const char*> faults[] = {
      {"blade", "A,9,7,gf,c,S,15,3,foam,slice,007\n"},
      {"steel", "A,9,7,gf,b,T,15,3,foam,slice,007\n"},
      {"edge", "A,9,7,gf,b,S,16,3,foam,slice,007\n"},
      {"finish", "A,9,7,gf,b,S,15,1,foam,slice,007\n"},
      {"medium", "A,9,7,gf,b,S,15,3,felt,slice,007\n"},
      {"cut mode", "A,9,7,gf,b,S,15,3,foam,push,007\n"},
      {"grip", "A,9,7,gf,b,S,15,3,foam,slice,7\n"},
      {"unit", "A,9,7,N,b,S,15,3,foam,slice,007\n"}};
  for (const auto& [fact, row] : faults)
    for (const KnownRuns known :
         {KnownRuns::further, KnownRuns::only_new, KnownRuns::repeats_too}) {
      const std::string why = refusal_of(file, head + row, known);
      EXPECT_NE(why.find(fact), std::string::npos) << fact << ": " << why;
      EXPECT_NE(why.find("Nothing was imported"), std::string::npos) << why;
    }
  EXPECT_EQ(file.load().reading_count(), 1u);
  EXPECT_EQ(file.load().blades.size(), 1u);
  // What the project did not know comes along.
  EXPECT_EQ(refusal_of(file, "run,cuts,reading,unit,block\nA,9,7,gf,monday\n", KnownRuns::further),
            "");
  EXPECT_EQ(facts_of(file.load(), "A").block, "monday");
  EXPECT_EQ(facts_of(file.load(), "A").medium, "foam");
  // The same table once more, and the table as it has grown.
  const std::string grown = "run,cuts,reading,unit\nA,0,5,gf\nA,9,7,gf\nA,20,7,gf\n";
  const std::string why = refusal_of(file, grown, KnownRuns::further);
  EXPECT_NE(why.find("2 of the table's 3 readings"), std::string::npos) << why;
  EXPECT_EQ(file.load().reading_count(), 2u);
  const auto counts = file.import(test::table(grown).trial, KnownRuns::only_new);
  EXPECT_EQ(counts.readings, 1);
  EXPECT_EQ(counts.repeats_left_out, 2);
  EXPECT_EQ(file.import(test::table(grown).trial, KnownRuns::repeats_too).readings, 3);
  EXPECT_EQ(file.load().reading_count(), 6u);
}

TEST(WhoseReading, ACodeWithLeadingZerosStaysTheWordItIs) {
  const test::Folder folder;
  auto session =
      project_of(folder, "run,cuts,reading,unit,batch,pull\nA,0,5,gf,007,1.50\nB,0,5,gf,7,2\n");
  EXPECT_EQ(facts_of(session.trial(), "A").factors.at("batch"), FactorValue(std::string("007")));
  EXPECT_EQ(facts_of(session.trial(), "B").factors.at("batch"), FactorValue(std::string("7")));
  EXPECT_EQ(facts_of(session.trial(), "A").factors.at("pull"), FactorValue(1.5));
}
