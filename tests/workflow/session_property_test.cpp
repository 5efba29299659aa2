// Random work on a project against a plain model of it: what is on disk, in memory and in the undo
// list never come apart.
#include <gtest/gtest.h>

#include <algorithm>
#include <functional>

#include "stats/random.h"
#include "support.h"
#include "trial_picture.h"
#include "workflow/project_session.h"
#include "workflow/sentences.h"

using namespace bq;
using bq::test::picture;

namespace {

class RandomWork {
 public:
  RandomWork(ProjectSession& session, std::uint64_t seed) : session_(session), random_(seed) {}

  /// One edit; false when the session refused it, which must leave everything as it was.
  bool step() {
    const std::string before = picture(session_.trial());
    const bool could_undo = session_.can_undo();
    try {
      edit();
      return true;
    } catch (const StoreError& error) {
      EXPECT_EQ(error.problem(), StoreProblem::refused) << error.what();
      EXPECT_EQ(picture(session_.trial()), before) << error.what();
      EXPECT_EQ(session_.can_undo(), could_undo);
      return false;
    }
  }

 private:
  std::size_t any(std::size_t count) { return std::size_t(random_.uniform() * double(count)); }
  std::string name(const char* kind) { return kind + std::to_string(any(9)); }

  void edit() {
    const Trial& trial = session_.trial();
    switch (any(15)) {
      case 0: {
        Blade blade;
        blade.name = any(12) == 0 ? " " : name("blade ");
        blade.steel = name("steel ");
        session_.add_blade(blade);
        break;
      }
      case 1: {
        if (trial.blades.empty()) break;
        Blade blade = trial.blades[any(trial.blades.size())];
        const auto index = any(trial.blades.size());
        blade.name = name("blade ");
        blade.note = name("note ");
        session_.update_blade(index, blade);
        break;
      }
      case 2: {
        Run run;
        run.facts.name = name("run ");
        if (!trial.blades.empty()) {
          run.facts.blade = trial.blades[any(trial.blades.size())].name;
          run.facts.steel = trial.blades[any(trial.blades.size())].steel;
        }
        run.plan.checkpoints = {0, 10, 20, 40};
        run.plan.readings_each = 2;
        session_.add_run(run);
        break;
      }
      case 3:
      case 4:
      case 5:
        if (!trial.runs.empty())
          session_.keep_reading(any(trial.runs.size()), 50 + 400 * random_.uniform(),
                                any(4) ? Unit::gf : Unit::N, name("op "));
        break;
      case 6:
        if (!trial.runs.empty()) session_.confirm_cuts(any(trial.runs.size()));
        break;
      case 7: {
        if (trial.runs.empty()) break;
        const auto run = any(trial.runs.size());
        if (trial.runs[run].readings.empty()) break;
        session_.set_excluded(run, any(trial.runs[run].readings.size()), any(2) == 0,
                              any(3) ? "dropped" : "");
        break;
      }
      case 8: {
        if (trial.blades.empty()) break;
        std::vector<EdgeRecordData> records{AngleRecord{EdgeSide(int(any(2))), double(any(100)),
                                                        10 + double(any(20)), 0.2, "gauge"}};
        if (any(2))
          records.push_back(SpotRecord{SpotKind(int(any(4))), std::nullopt, double(any(100)),
                                       double(any(300)), any(3) == 0, name("n")});
        if (any(3) == 0) records.push_back(SectionRecord{});
        session_.add_records(any(trial.blades.size()), records, "facts");
        break;
      }
      case 9: {
        if (trial.blades.empty()) break;
        const auto blade = any(trial.blades.size());
        if (!trial.blades[blade].records.empty())
          session_.remove_record(blade, any(trial.blades[blade].records.size()));
        else
          session_.duplicate_blade(blade, name("blade "));
        break;
      }
      case 10: {
        SteelCard card;
        card.name = name("steel ");
        card.hardness_hrc = 15 + 60 * random_.uniform();  // some are refused
        card.behaviour = any(2) ? "ductile" : "";
        session_.set_steel_card(card);
        break;
      }
      case 11: {
        Abrasive a;
        a.name = name("stone ");
        a.label = any(6) == 0 ? "smooth" : any(2) ? "P400" : "";  // some are refused
        a.blades_since_check = int(any(20));
        if (any(4))
          session_.set_abrasive(a);
        else
          session_.remove_abrasive(a.name);
        break;
      }
      case 12: {
        if (trial.blades.empty()) break;
        Sharpening s;
        for (std::size_t i = any(3); i-- > 0;) {
          SharpeningStep step;
          step.abrasive = name("stone ");
          step.done = true;
          s.steps.push_back(step);
        }
        session_.finish_sharpening(any(trial.blades.size()), s,
                                   "sharpening/" + std::to_string(any(4)),
                                   any(2) ? std::optional(SectionPlan{}) : std::nullopt);
        break;
      }
      case 13: {
        Comparison c;
        if (!trial.comparisons.empty() && any(2))
          c = trial.comparisons[any(trial.comparisons.size())];
        if (c.id != 0 && any(3) == 0) {
          session_.remove_comparison(c.id);
          break;
        }
        c.name = any(8) == 0 ? " " : name("comparison ");
        c.first.name = name("a ");
        c.second.name = name("b ");
        c.pairs.push_back({name("blade "), "", 1 + double(any(99)), 1 + double(any(99))});
        session_.set_comparison(c);
        break;
      }
      default:
        session_.set_medium_card({name("medium "), name("form "), ""});
    }
  }

  ProjectSession& session_;
  stats::Random random_;
};

}  // namespace

/// What is remembered of fresh readings is what a look at all of them finds, whatever was done.
void expect_remembered(const ProjectSession& session, FreshReadings& fresh) {
  const Trial& trial = session.trial();
  const auto remembered = [&](std::size_t run) {
    return fresh.of(trial.runs[run], session.revision(run), trial.unit());
  };
  for (std::size_t run = 0; run < trial.runs.size(); ++run)
    ASSERT_EQ(start_line(trial, run, Unit::gf, remembered), start_line(trial, run, Unit::gf));
}

TEST(SessionProperty, RandomWorkUndoneAndRedoneIsTheSameOnDiskAndInMemory) {
  int refused = 0, done = 0;
  for (std::uint64_t seed = 1; seed <= 12; ++seed) {
    const test::Folder folder;
    const auto path = folder / "p.bquarry";
    ProjectFile::create(path, "random work");
    std::vector<std::string> pictures;
    {
      ProjectSession session = ProjectSession::open(path);
      RandomWork work(session, seed);
      pictures.push_back(picture(session.trial()));
      FreshReadings fresh;
      for (int i = 0; i < 70; ++i) {
        const std::string undo_before = session.undo_text();
        if (!work.step()) ++refused;
        expect_remembered(session, fresh);
        const std::string now = picture(session.trial());
        if (now != pictures.back()) {
          pictures.push_back(now);
          ++done;
        } else if (session.undo_text() != undo_before && session.can_undo()) {
          session.undo();  // an edit that changed nothing that can be seen
          EXPECT_EQ(picture(session.trial()), now);
        }
      }
      // Back to the beginning and forth again, in the same steps.
      for (std::size_t i = pictures.size(); i-- > 1;) {
        EXPECT_EQ(picture(session.trial()), pictures[i]);
        const std::string here = picture(session.trial());
        while (session.can_undo() && picture(session.trial()) == here) session.undo();
        expect_remembered(session, fresh);
      }
      EXPECT_EQ(picture(session.trial()), pictures.front()) << "seed " << seed;
      while (session.can_redo()) session.redo();
      EXPECT_EQ(picture(session.trial()), pictures.back()) << "seed " << seed;
      // Half-way back, then something new: what was undone is gone for good.
      for (int i = 0; i < 10 && session.can_undo(); ++i) session.undo();
      session.set_threshold("123 gf");
      EXPECT_FALSE(session.can_redo());
      pictures.back() = picture(session.trial());
    }
    const ProjectFile file = ProjectFile::open(path, ProjectFile::Access::read);
    EXPECT_EQ(picture(file.load()), pictures.back()) << "seed " << seed;
    EXPECT_TRUE(file.check().empty()) << file.check().front();
  }
  EXPECT_GT(done, 400);
  EXPECT_GT(refused, 20) << "refusals must be among what is tried";
}
