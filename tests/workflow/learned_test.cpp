// What one project takes from another, and lives of several trials looked at together.
#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/life_model.h"
#include "stats/random.h"
#include "store/project_file.h"
#include "support.h"
#include "workflow/learned.h"

using namespace bq;
using bq::test::Folder;

TEST(Learned, TakesWhatIsNotThereWithItsOriginAsOneAct) {
  const Folder folder;
  const Trial other =
      ProjectFile::open(test::demo_project(folder), ProjectFile::Access::read).load();
  ASSERT_GE(other.steels.size(), 3U);
  ProjectFile::create(folder / "own.bquarry", "own");
  auto session = ProjectSession::open(folder / "own.bquarry");
  SteelCard own;
  own.name = other.steels[0].name;
  own.hardness_hrc = 51;
  session.set_steel_card(own);
  const Learned learned = learn_from(session.trial(), other, {}, "2026-11-30");
  EXPECT_EQ(learned.there, std::vector<std::string>{own.name});
  EXPECT_EQ(learned.unlike, std::vector<std::string>{own.name});
  take_learned(session, learned);
  EXPECT_EQ(session.trial().steels.size(), other.steels.size());
  EXPECT_EQ(session.trial().steel_card(own.name)->hardness_hrc, 51) << "what is here stays";
  EXPECT_EQ(session.trial().shelf.size(), other.shelf.size());
  for (const auto& stone : session.trial().shelf) {
    EXPECT_NE(stone.note.find("taken from " + other.title + " on 2026-11-30"), std::string::npos);
    const auto from = std::find_if(other.shelf.begin(), other.shelf.end(),
                                   [&](const Abrasive& a) { return a.name == stone.name; });
    EXPECT_EQ(stone.measured_um, from->measured_um) << stone.name;
    EXPECT_EQ(stone.rate_mm3_per_min, from->rate_mm3_per_min) << stone.name;
  }
  // Taken on to a third project a card keeps where it came from first.
  const Learned again = learn_from(Trial{}, session.trial(), {}, "2027-01-01");
  for (const auto& stone : again.stones)
    EXPECT_EQ(stone.note.find("2027"), std::string::npos) << stone.note;
  session.undo();
  EXPECT_EQ(session.trial().shelf.size(), 0U);
  EXPECT_EQ(session.trial().steels.size(), 1U);
}

TEST(Learned, ATrialIsARandomEffectAndOtherWorkIsLeftOut) {
  // Four trials whose level differs by a spread of its own: two steels differ by 1.3 in all of
  // them. The interval of the difference holds, and that of a trial's level is not taken for
  // certainty about a steel.
  stats::Random random(251);
  const int plays = std::getenv("BQ_THOROUGH") ? 400 : 60;
  int holds = 0, fitted = 0;
  double between = 0;
  for (int play = 0; play < plays; ++play) {
    std::vector<TrialLives> trials(4);
    for (std::size_t t = 0; t < trials.size(); ++t) {
      trials[t].name = "trial " + std::to_string(t);
      const double level = 0.35 * random.normal();
      for (int i = 0; i < 8; ++i) {
        LifeRow row;
        row.facts.name = "r" + std::to_string(i);
        row.facts.steel = i % 2 ? "Marl" : "Cairn";
        row.facts.medium = "coir";
        row.work = "coir";
        row.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(12 + (i / 2) % 4));
        row.cuts.estimate =
            std::exp(6.5 + level + (i % 2 ? std::log(1.3) : 0) -
                     std::log(std::tan((12 + (i / 2) % 4) * M_PI / 180)) + 0.15 * random.normal());
        trials[t].table.rows.push_back(row);
      }
    }
    LifeRow other = trials[1].table.rows[0];
    other.work = "foam";
    other.facts.name = "f1";
    trials[1].table.rows.push_back(other);
    const LifeTable table = lives_together(trials);
    EXPECT_EQ(table.rows.size(), 32U);
    ASSERT_EQ(table.left_out.size(), 1U);
    EXPECT_EQ(table.left_out[0].run, "trial 1: f1");
    LifeSpec spec;
    spec.terms = {"steel", "angle"};
    spec.random_blade = true;
    const auto model = LifeModel::fit(table, spec);
    ASSERT_TRUE(model) << model.refusal().reason;
    for (const auto& c : model->coefficients())
      if (c.name == "steel[Marl]") {
        ++fitted;
        holds += c.low <= std::log(1.3) && std::log(1.3) <= c.high;
      }
    between += model->blade_sd().value_or(0) / plays;
  }
  ASSERT_EQ(fitted, plays);
  EXPECT_GE(holds, int(0.88 * plays));
  EXPECT_NEAR(between, 0.32, 0.09) << "the spread between trials";
}
