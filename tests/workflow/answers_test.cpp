// Every question on the demo, on an empty project and on what is missing; the verdict and the half
// hour of a blade.
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "bluntness/lives_world.h"
#include "store/project_file.h"
#include "support.h"
#include "workflow/answers.h"
#include "workflow/half_hour.h"
#include "workflow/limits.h"
#include "workflow/sentences.h"
#include "workflow/source.h"

using namespace bq;

namespace {

/// The demo with its bench, read from a project file.
struct Demo {
  test::Folder folder;
  SourceResult source;
  std::vector<RunFit> fits;
  LifeFindings life;
  AnswerSource answers;
  Demo() {
    std::istringstream none;
    source = read_source(test::whole_demo_project(folder).string(), none);
    fits = *fit_runs(source.trial, {}, {});
    LifeQuestion question;
    question.threshold = 450;
    life = find_life(source.trial, fits, question);
    answers.facts = &source.trial;
    answers.fits = &fits;
    answers.life = &life;
    answers.sessions = source.sessions;
    answers.bootstrap_refits = 100;
  }
};
Demo& whole() {
  static Demo demo;
  return demo;
}

}  // namespace

TEST(Answers, EveryQuestionOnTheDemoHasASentenceAPictureATableAndHowItWasComputed) {
  Demo& d = whole();
  for (int i = 0; i < kQuestions; ++i) {
    const Answer a = answer(Question(i), d.answers);
    EXPECT_EQ(a.question, Question(i));
    EXPECT_TRUE(a.answered) << words_of(Question(i)) << a.sentence;
    EXPECT_FALSE(a.sentence.empty());
    EXPECT_FALSE(a.picture.empty()) << words_of(Question(i));
    EXPECT_FALSE(a.table.rows.empty()) << words_of(Question(i));
    for (const auto& row : a.table.rows)
      EXPECT_EQ(row.size(), a.table.heads.size()) << words_of(Question(i));
    EXPECT_FALSE(a.formula.empty()) << words_of(Question(i));
    EXPECT_NE(test::read_file(BQ_SOURCE_DIR "/docs/methods.md").find("### " + a.method),
              std::string::npos)
        << a.method;
    for (const auto& series : a.picture.series) {
      EXPECT_EQ(series.x.size(), series.y.size()) << words_of(Question(i));
      if (!series.runs.empty()) {
        EXPECT_EQ(series.runs.size(), series.x.size());
      }
    }
  }
}

TEST(Answers, AnEmptyProjectSaysWhatIsMissingToEveryQuestion) {
  const Trial none;
  const std::vector<RunFit> fits;
  const LifeFindings life = find_life(none, fits, {});
  AnswerSource source;
  source.facts = &none;
  source.fits = &fits;
  source.life = &life;
  for (int i = 0; i < kQuestions; ++i) {
    const Answer a = answer(Question(i), source);
    EXPECT_FALSE(a.answered) << words_of(Question(i));
    EXPECT_GT(a.sentence.size(), 30u) << words_of(Question(i));
  }
}

TEST(Answers, TheyFindWhatTheRecipeMade) {
  Demo& d = whole();
  // C30 was given a burr, C19 an odd reading, the coarser finish and Cairn Hard last longer.
  EXPECT_NE(answer(Question::burr, d.answers).sentence.find("C30"), std::string::npos);
  EXPECT_NE(answer(Question::steel, d.answers).sentence.find("Cairn Hard lasts longest"),
            std::string::npos);
  EXPECT_NE(answer(Question::finish, d.answers).sentence.find("coarser finish lasts longer"),
            std::string::npos);
  const Answer readings = answer(Question::readings, d.answers);
  const auto odd = std::find_if(readings.table.rows.begin(), readings.table.rows.end(),
                                [](const auto& row) { return row[0] == "C19"; });
  ASSERT_NE(odd, readings.table.rows.end());
  EXPECT_EQ(odd->back(), "1");
  // Severing and parting as the bench file says them: 0.0333 N/gf and 0.25 N/mm³.
  const auto by_work =
      find_verdict({&d.source.trial, &d.fits, d.source.sessions, ""}, {450, {}, {}, {}, {}}).force;
  ASSERT_EQ(by_work.size(), 1u);
  const ForceSplit* split = &by_work.begin()->second;
  EXPECT_LT(split->severing_low, 0.0333);
  EXPECT_GT(split->severing_high, 0.0333);
  EXPECT_LT(split->stiffness_low, 0.25);
  EXPECT_GT(split->stiffness_high, 0.25);
  // The damage search stands apart from the looks at runs.
  const Answer chips = answer(Question::chips, d.answers);
  EXPECT_NE(
      chips.sentence.find(
          "under the roughest use was damaged up to 10.5° per side and held the long block with "
          "13° per side up to 66 µm thick on 8° per side, under a micro-bevel of 17° per "
          "side"),
      std::string::npos)
      << chips.sentence;
}

TEST(Answers, TwoChosenRunsAreComparedInForce) {
  Demo& d = whole();
  AnswerSource source = d.answers;
  source.force_first = "D03";
  source.force_second = "D01";
  source.force_limit_N = 12;
  const Answer a = answer(Question::force, source);
  EXPECT_NE(a.sentence.find("D03 is"), std::string::npos) << a.sentence;
  EXPECT_EQ(a.picture.level, 12);
  EXPECT_EQ(a.picture.series.front().runs.front(), "D03");
  ASSERT_GE(a.remarks.size(), 2u);
  EXPECT_NE(a.remarks[0].find("D01"), std::string::npos);
}

TEST(Verdict, KnowsTheShelfTheLoadAndTheSchools) {
  Demo& d = whole();
  const VerdictSource source{&d.source.trial, &d.fits, d.source.sessions,
                             d.source.section_questions};
  const Verdict v = find_verdict(source, {450, {}, {}, {}, {}});
  ASSERT_TRUE(v.recommendation);
  const RankedEdge& first = v.recommendation->ranked.front();
  EXPECT_TRUE(first.resharpening && first.stress_ratio && first.damage_rate_upper &&
              first.force_blunt_N);
  ASSERT_TRUE(v.prospect);
  EXPECT_EQ(v.prospect->interval_cuts, std::floor(first.life_low));
  EXPECT_GT(v.prospect->touch_ups, 10);
  ASSERT_EQ(v.schools.size(), 3u);
  EXPECT_TRUE(v.schools[0].evidence.starts_with(
      "Wear (Cairn Hard, Fenland Plain, Marl Tough): the lower angle lasts longer here"))
      << v.schools[0].evidence;
  EXPECT_NE(v.schools[0].evidence.find("Damage: seen up to"), std::string::npos);
  // Without the fine stones the fine finishes cannot be made, and a limit on minutes says so.
  RecommendLimits limits;
  limits.most_minutes = 60;
  const Verdict coarse = find_verdict(source, {450, limits, {}, {"Red plate"}, {}});
  ASSERT_FALSE(coarse.recommendation->ranked.empty());
  for (const auto& edge : coarse.recommendation->ranked) EXPECT_EQ(edge.finish_um, 25);
  EXPECT_NE(coarse.recommendation->remarks.front().find("shelf cannot make"), std::string::npos);
  // Nothing on the bench: customs, marked as such.
  const Trial none;
  const std::vector<RunFit> no_fits;
  const Verdict empty = find_verdict({&none, &no_fits, {}, ""}, {450, {}, {}, {}, {}});
  EXPECT_FALSE(empty.recommendation);
  EXPECT_EQ(empty.starting.size(), starting_ranges().size());
}

TEST(HalfHour, RanksWhatCanBeDoneByCutsGainedAMinute) {
  Demo& d = whole();
  const VerdictSource source{&d.source.trial, &d.fits, d.source.sessions, ""};
  int answered = 0;
  for (std::size_t blade = 0; blade < d.source.trial.blades.size(); ++blade) {
    HalfHourQuestion question;
    question.blade = blade;
    question.threshold = 450;
    question.force_limit_N = 18;
    const auto half = best_half_hour(source, question);
    if (!half) {
      EXPECT_FALSE(half.refusal().reason.empty());
      continue;
    }
    ++answered;
    double before = 1e300;
    bool leave = false;
    for (const auto& option : half->options) {
      leave = leave || option.kind == HalfHourKind::leave;
      const double rank =
          option.kind == HalfHourKind::leave ? 0 : option.low_per_minute.value_or(-1e200);
      EXPECT_LE(rank, before) << option.what;
      before = rank;
      EXPECT_FALSE(option.why.empty()) << option.what;
      if (option.low_per_minute && option.kind == HalfHourKind::refinish) {
        EXPECT_NEAR(*option.low_per_minute * option.minutes, *option.extra_low,
                    1e-9 * std::fabs(*option.extra_low) + 1e-9);
      }
    }
    EXPECT_TRUE(leave);
  }
  EXPECT_GE(answered, 10);
}

TEST(Limits, AreReadBackAsTheyWereWritten) {
  const auto read = parse_limits(
      R"({"threshold": "450 gf", "mix": [{"medium": "a", "share": 0.7}, {"medium": "b", "share": 0.3}], "steels": ["X"], "stones": ["Red plate"], "least_life": 500,
    "most_force_N": 30, "most_damage_rate": 0.002, "most_minutes": 8, "hold_roughest": true, "beyond_deg": 2, "finest_finish_um": 1, "wishes": {"life": 1, "force": 0.5}})");
  ASSERT_TRUE(read.ok()) << read.refusal().reason;
  const auto again = parse_limits(limits_json(*read));
  ASSERT_TRUE(again.ok());
  EXPECT_EQ(limits_json(*again), limits_json(*read));
  EXPECT_EQ(again->limits.mix[1].medium, "b");
  EXPECT_EQ(again->wishes.force, 0.5);
  EXPECT_TRUE(again->limits.hold_roughest);
  EXPECT_EQ(
      parse_limits(R"({"mix": [{"medium": "a", "share": "much"}]})").refusal().reason.substr(0, 12),
      "mix[0].share");
  EXPECT_FALSE(parse_limits(R"({"most_damage_rate": 2})").ok());
}

TEST(CutsLeft, TheHalfHourAndTheListOfBladesSayTheSameOfEveryBlade) {
  Demo& d = whole();
  const Answer due = answer(Question::touch_up, d.answers);
  ASSERT_TRUE(due.answered) << due.sentence;
  VerdictSource source{&d.source.trial, &d.fits, d.source.sessions, ""};
  std::size_t compared = 0;
  double before = -1;
  for (const auto& row : due.table.rows) {
    const auto& blades = d.source.trial.blades;
    const auto blade = std::find_if(blades.begin(), blades.end(),
                                    [&](const Blade& b) { return b.name == row[0]; });
    ASSERT_NE(blade, blades.end());
    HalfHourQuestion question;
    question.blade = std::size_t(blade - blades.begin());
    question.threshold = d.life.question.threshold;
    question.medium = d.life.question.medium;
    const auto half_hour = best_half_hour(source, question);
    ASSERT_TRUE(half_hour.ok()) << row[0] << half_hour.refusal().reason;
    EXPECT_EQ(row[1], print_cuts(half_hour->cuts_made)) << row[0];
    EXPECT_EQ(row[2], print_cuts(std::floor(half_hour->cuts_left))) << row[0];
    // What is due first stands first.
    const double low = std::stod(row[3]);
    EXPECT_GE(low, before) << row[0];
    EXPECT_LE(low, half_hour->cuts_left);
    before = low;
    ++compared;
  }
  EXPECT_GE(compared, 8u);
  EXPECT_NE(due.sentence.find(due.table.rows.front()[0]), std::string::npos) << due.sentence;
}

TEST(Answers, TheBevelBehindTheDayAndThePlaceOfTheDemo) {
  Demo& d = whole();
  const Answer behind = answer(Question::behind, d.answers);
  ASSERT_TRUE(behind.answered) << behind.sentence;
  EXPECT_EQ(behind.table.rows.size(), 2u) << "10 and 12 degrees stand behind micro-bevels";
  // The demo's world wears at the apex only: the bevel behind is nothing to life.
  EXPECT_NE(behind.sentence.find("cannot be told apart in life"), std::string::npos)
      << behind.sentence;
  const Answer places = answer(Question::along, d.answers);
  EXPECT_EQ(places.table.rows.size(), 3u);
  const Answer day = answer(Question::circumstances, d.answers);
  ASSERT_TRUE(day.answered) << day.sentence;
  // By itself the operators differ, held together with the rest it is no proof: "perhaps", as the
  // model, which allows for it to be careful, says beside its lives.
  EXPECT_TRUE(day.sentence.starts_with("Perhaps the operator")) << day.sentence;
  std::set<std::string> asked;
  for (const auto& row : day.table.rows) asked.insert(row[0]);
  EXPECT_EQ(asked, (std::set<std::string>{"block", "operator", "order"}));
  // Light facts, as a worker gets them, tell the same.
  const Trial light = for_answers(d.source.trial);
  AnswerSource source = d.answers;
  source.facts = &light;
  EXPECT_EQ(answer(Question::along, source).sentence, places.sentence);
  EXPECT_EQ(answer(Question::circumstances, source).sentence, day.sentence);
  EXPECT_EQ(answer(Question::touch_up, source).sentence,
            answer(Question::touch_up, d.answers).sentence);
  EXPECT_EQ(answer(Question::behind, source).sentence, behind.sentence);
}

// Six checkpoints a run and a third of the runs stopped: there the intervals hold least often.
TEST(Answers, ABenchWhoseIntervalsHoldLessOftenIsTold) {
  for (const int checkpoints : {6, 11}) {
    test::LivesBench cell;
    cell.checkpoints = checkpoints;
    cell.stopped = 0.4;
    const auto bench = test::play_lives(test::lives_worlds().front(), cell, 3);
    const auto fits = *fit_runs(bench.trial, {}, {});
    LifeQuestion question;
    question.threshold = test::kLivesLimit;
    const LifeFindings life = find_life(bench.trial, fits, question);
    AnswerSource source;
    source.facts = &bench.trial;
    source.fits = &fits;
    source.life = &life;
    const Answer angle = answer(Question::angle, source);
    const bool told = std::any_of(angle.remarks.begin(), angle.remarks.end(), [](const auto& line) {
      return line.starts_with("Few checkpoints a run (6) and ");
    });
    EXPECT_EQ(told, checkpoints == 6);
  }
}
