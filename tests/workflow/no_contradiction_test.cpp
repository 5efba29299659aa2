// No two pages say different things of one bench: Verdict, Findings, half hour and report of the
// demo and of benches whose truth is none of our models.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <regex>

#include "bluntness/edge_candidates.h"
#include "quantity/number.h"
#include "stats/random.h"
#include "support.h"
#include "workflow/half_hour.h"
#include "workflow/report_source.h"
#include "workflow/sentences.h"
#include "workflow/source.h"

using namespace bq;

namespace {

/// A bench that nobody designed: steels, angles, finishes and looks at random; lives with a hump, a
/// slope that differs by steel, or nothing; some runs stopped early, some cut on without a reading.
SourceResult random_bench(std::uint64_t seed) {
  stats::Random random(seed, 31);
  const auto any = [&](double low, double high) { return low + (high - low) * random.uniform(); };
  SourceResult out;
  Trial& trial = out.trial;
  trial.title = "bench " + std::to_string(seed);
  const std::vector<std::string> steels{"Marl", "Cairn", "Peat"};
  const std::size_t used = 1 + random.below(3);
  std::vector<double> angles{10, 12, 14, 17, 20};
  angles.resize(3 + random.below(3));
  const int truth = int(random.below(3));
  const bool looked = random.uniform() < 0.7, finishes = random.uniform() < 0.5;
  const double sd = any(0.05, 0.3);
  for (std::size_t s = 0; s < used; ++s) {
    const double steel = std::exp(any(-0.4, 0.4)), slope = any(0.3, 1.6);
    for (const double angle : angles)
      for (int k = 0; k < 2 + int(random.below(2)); ++k) {
        bq::Run run;
        run.facts.name = "R" + std::to_string(trial.runs.size() + 1);
        run.facts.steel = steels[s];
        run.facts.blade = steels[s] + " " + std::to_string(k + 1);
        run.facts.medium = "tow";
        run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle));
        if (finishes) run.facts.finish = Finish::both(random.uniform() < 0.5 ? 1 : 6);
        const double wear = std::pow(std::tan(radians(14)) / std::tan(radians(angle)), slope);
        const double shape = truth == 0   ? 1
                             : truth == 1 ? wear
                                          : wear / (1 + std::exp(-(angle - 12) / 1.1));
        const double life = 400 * steel * shape * std::exp(sd * random.normal());
        const int last = random.uniform() < 0.15 ? 160 : 1200;
        for (const int cuts : {0, 30, 80, 160, 300, 500, 800, 1200}) {
          if (cuts > last) break;
          for (int i = 0; i < 2; ++i)
            run.readings.push_back(
                {0, cuts,
                 100 * (1 + 2 * std::sqrt(cuts / life)) * std::exp(0.03 * random.normal())});
          if (looked && cuts > 0 && random.uniform() < 0.4) {
            BenchEvent look;
            look.cuts = cuts;
            LookEvent seen;
            if (random.uniform() < (angle < 13 ? 0.4 : 0.05)) seen.found = DamageFound::bent;
            look.data = seen;
            run.events.push_back(look);
          }
        }
        run.cuts_done = last + (random.uniform() < 0.2 ? 150 : 0);
        trial.runs.push_back(std::move(run));
      }
    for (int k = 1; k <= 3; ++k) {
      Blade blade;
      blade.name = steels[s] + " " + std::to_string(k);
      blade.steel = steels[s];
      trial.blades.push_back(blade);
    }
  }
  out.threshold = "3x";
  return out;
}

const Answer& of(const TrialStudy& study, Question question) {
  return study.answers[std::size_t(question)];
}

/// What the pages say of the damage seen at an angle: Verdict's objection against Findings' table.
void expect_damage_alike(const TrialStudy& study) {
  const Answer& chips = of(study, Question::chips);
  const RankedEdge& first = study.verdict.recommendation->ranked.front();
  std::string blocks = "0", damaged = "0";
  for (const auto& row : chips.table.rows)
    if (row[0] == first.steel && row[1].starts_with("ordinary") &&
        std::fabs(std::stod(row[2]) - first.angle_deg) < 0.06) {
      blocks = row[3];
      damaged = row[5];
    }
  for (const auto& objection : study.verdict.objections) {
    if (objection.kind == "damaged") {
      EXPECT_NE(objection.sentence.find("in " + damaged + " of " + blocks), std::string::npos)
          << objection.sentence << " beside " << damaged << " of " << blocks;
    }
    if (objection.kind == "damage-unknown" &&
        objection.sentence.find("looked for damage") != std::string::npos) {
      EXPECT_EQ(damaged, "0");
    }
  }
  // "at worst 1 damage in N" is the table's promise at the angle that it names.
  if (first.damage_rate_upper)
    for (const auto& row : chips.table.rows)
      if (row[0] == first.steel && row[1].starts_with("ordinary") &&
          std::fabs(std::stod(row[2]) - first.damage_tested_deg) < 0.06) {
        EXPECT_EQ(row[6], print_cuts(std::floor(1 / *first.damage_rate_upper)));
      }
}

void expect_lives_alike(const TrialStudy& study) {
  const LifeModel& model = *study.life.model;
  for (const auto& edge : study.verdict.recommendation->ranked) {
    const auto row = model.row(candidates::point_of(edge));
    ASSERT_TRUE(row.ok());
    EXPECT_NEAR(edge.life, std::exp(model.log_life(*row).first), 1e-6 * edge.life);
    EXPECT_NEAR(edge.life_low, std::exp(model.log_prediction_limit(*row, 0.95)),
                1e-6 * edge.life_low);
  }
  // Which steel lasts: the leader of Findings is the first place's, or Verdict says why not.
  const Answer& steel = of(study, Question::steel);
  const RankedEdge& first = study.verdict.recommendation->ranked.front();
  if (steel.answered && steel.sentence.find("lasts longest here") != std::string::npos &&
      !steel.sentence.starts_with(first.steel)) {
    const bool said =
        std::any_of(study.verdict.objections.begin(), study.verdict.objections.end(),
                    [](const Objection& o) { return o.kind == "tied" || o.kind == "interplay"; });
    EXPECT_TRUE(said) << steel.sentence << " but " << first.steel << " comes first";
  }
  // A lead at every limit is a lead at this one.
  const Answer& limit = of(study, Question::limit);
  if (steel.answered && limit.answered && limit.sentence.starts_with("No: ") &&
      steel.table.rows.size() == 1) {
    const std::string leader = limit.sentence.substr(4, limit.sentence.find(" leads") - 4);
    EXPECT_TRUE(steel.sentence.starts_with(leader)) << steel.sentence << "\n" << limit.sentence;
  }
  // At the limit that is asked about the two leaders' ratio is one figure.
  if (steel.answered && limit.answered) {
    const std::string asked = print_measure(study.threshold.value, study.threshold.unit, 3);
    bool found = false;
    for (const auto& row : limit.table.rows) {
      if (row[0] != asked) continue;
      found = true;
      EXPECT_EQ(row[1], steel.table.rows[0][2]) << limit.sentence << "\n" << steel.sentence;
    }
    EXPECT_TRUE(found) << "no row for " << asked;
  }
}

/// Sentences that count the same things count alike.
void expect_counts_alike(const SourceResult& source, const TrialStudy& study) {
  const LifeTable& table = study.life.table;
  int reached = 0;
  for (const auto& row : table.rows) reached += row.cuts.censoring == Censoring::none;
  const Answer& curves = of(study, Question::curves);
  std::smatch found;
  const std::regex ended("; ([0-9]+) reached");
  ASSERT_TRUE(std::regex_search(curves.sentence, found, ended)) << curves.sentence;
  EXPECT_EQ(std::stoi(found[1]), reached);
  const std::string limit = print_measure(study.threshold.value, study.threshold.unit, 3);
  EXPECT_NE(curves.sentence.find(limit), std::string::npos) << curves.sentence;
  // How far anybody cut: reasons and objections.
  const std::regex longer("no run was cut for longer than ([0-9 ,]+) cuts");
  std::set<std::string> said;
  const auto listen = [&](const std::string& sentence) {
    if (std::regex_search(sentence, found, longer)) {
      std::string figure = found[1];
      std::erase_if(figure, [](char c) { return !std::isdigit(static_cast<unsigned char>(c)); });
      said.insert(figure);
    }
  };
  for (const auto& reason : study.verdict.recommendation->ranked.front().reasons) listen(reason);
  for (const auto& objection : study.verdict.objections) listen(objection.sentence);
  EXPECT_LE(said.size(), 1u) << *said.begin() << " and " << *said.rbegin();
  // The report's first sentence is Verdict's, its answers are Findings'.
  const TrialReport report = trial_report(source, study, {}, "2026-03-11");
  EXPECT_EQ(report.verdict,
            verdict_sentence(study.verdict, limit, AngleConvention::per_side, false));
  std::vector<std::string> against;
  for (const auto& objection : study.verdict.objections) against.push_back(objection.sentence);
  EXPECT_EQ(report.first.against, against);
  for (std::size_t i = 0; i < study.answers.size(); ++i) {
    const Answer& one = study.answers[i];
    // A table that names runs names such as there are; a sentence without an answer has no table.
    for (const auto& run : one.runs) EXPECT_TRUE(source.trial.find_run(run)) << run;
    if (!one.answered) {
      EXPECT_TRUE(one.sentence.find("annot tell") != std::string::npos ||
                  one.sentence.find("cannot tell") != std::string::npos)
          << one.sentence;
    }
  }
}

/// An angle that is said to be best on Findings is the one that comes first on Verdict.
void expect_angles_alike(const TrialStudy& study) {
  const Answer& angle = of(study, Question::angle);
  std::smatch found;
  const std::regex longest("near ([0-9.]+)°");
  if (!std::regex_search(angle.sentence, found, longest)) return;
  const RankedEdge& first = study.verdict.recommendation->ranked.front();
  const double said = std::stod(found[1]);
  const LifeModel& model = *study.life.model;
  const auto life_of = [&](double deg) {
    RankedEdge edge = first;
    edge.angle_deg = deg;
    return std::exp(model.log_life(*model.row(candidates::point_of(edge))).first);
  };
  // Ranked by what the next edge makes at least, the first may stand beside the longest usual life:
  // by no more than what is called level.
  EXPECT_GT(life_of(first.angle_deg), life_of(said) / 1.15)
      << angle.sentence << " but first place has " << first.angle_deg;
}

void expect_one_story(const SourceResult& source, const std::vector<RunFit>& fits,
                      const std::string& threshold) {
  TrialStudyOptions options;
  options.bootstrap_refits = 20;
  options.threshold = threshold;
  const auto study = study_trial(source, fits, options);
  ASSERT_TRUE(study.ok()) << study.refusal().reason;
  if (!study->verdict.recommendation || study->verdict.recommendation->ranked.empty()) return;
  ASSERT_TRUE(study->life.model);
  expect_damage_alike(*study);
  expect_lives_alike(*study);
  expect_counts_alike(source, *study);
  expect_angles_alike(*study);
}

}  // namespace

TEST(OneStory, TheDemosPagesAgree) {
  test::Folder folder;
  std::istringstream none;
  const SourceResult source = read_source(test::whole_demo_project(folder).string(), none);
  expect_one_story(source, *fit_runs(source.trial, {}, {}), "450 gf");
}

TEST(OneStory, ThePagesOfTwentyRandomBenchesAgree) {
  for (std::uint64_t seed = 1; seed <= 20; ++seed) {
    SCOPED_TRACE("bench " + std::to_string(seed));
    const SourceResult source = random_bench(seed);
    expect_one_story(source, *fit_runs(source.trial, {}, {}), "3x");
  }
}
