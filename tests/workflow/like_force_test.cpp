// Forces and steels of different work are never one.
#include <gtest/gtest.h>

#include <cmath>
#include <map>

#include "trial/checkpoints.h"
#include "trial/edge_map.h"
#include "workflow/force_study.h"
#include "workflow/half_hour.h"
#include "workflow/like_bench.h"
#include "workflow/verdict.h"

using namespace bq;
using namespace bq::test;

TEST(LikeWithLike, ForceBelongsToOneMediumAndWayOfCutting) {
  constexpr double kFelt = 0.4, kTow = 0.1, kSevering = 0.02;
  LikeBench bench;
  for (const double behind_mm : {0.2, 0.8}) {
    SectionRecord section;
    Grind primary;
    primary.angle_deg = 3;
    primary.until = UntilThickness{behind_mm};
    section.plan.grinds = {primary};
    Blade blade;
    blade.name = behind_mm < 0.5 ? "a" : "b";
    blade.steel = "Marl";
    blade.records = {{0, "", section}};
    bench.trial.blades.push_back(blade);
  }
  for (const double angle : {10.0, 14.0, 20.0})
    for (const char* medium : {"tow", "felt", "foam"})
      for (const char* blade : {"a", "b"})
        bench
            .add(medium + std::string(blade) + std::to_string(int(angle)), "Marl", angle, 400,
                 medium)
            .facts.blade = blade;
  // The strokes' places are asked of the program; their forces are ours.
  const auto stroke = [&](const std::function<double(const bq::Run&, const StrokePoint&)>& force) {
    std::map<std::pair<std::string, double>, double> made;
    for (const auto& of_work : forces_of(bench.trial))
      for (const auto& point : of_work.points)
        for (const auto& run : bench.trial.runs)
          if (run.facts.name == point.run) made[{point.run, point.reading}] = force(run, point);
    return made;
  };
  for (auto& run : bench.trial.runs) {
    if (run.facts.medium == "foam") continue;
    for (const auto& checkpoint : checkpoints_of(run, Unit::gf)) {
      BenchEvent event;
      event.cuts = checkpoint.cuts;
      event.data = StrokeEvent{0, 1, 1, 0, ""};
      run.events.push_back(event);
    }
  }
  const auto forces = stroke([&](const bq::Run& run, const StrokePoint& point) {
    return (kSevering * point.reading +
            (run.facts.medium == "felt" ? kFelt : kTow) * point.parting_index) *
           std::exp(0.01 * bench.random.normal());
  });
  for (auto& run : bench.trial.runs) {
    std::size_t event = 0;
    for (const auto& checkpoint : checkpoints_of(run, Unit::gf))
      if (const auto made = forces.find({run.facts.name, checkpoint.median()});
          made != forces.end())
        std::get<StrokeEvent>(run.events[event++].data).mean_N = made->second;
  }
  const auto splits = splits_of(forces_of(bench.trial));
  ASSERT_EQ(splits.size(), 2U) << force_sentence(bench.trial);
  EXPECT_NEAR(splits.at("felt").stiffness_N_per_mm3, kFelt, 0.03 * kFelt);
  EXPECT_NEAR(splits.at("tow").stiffness_N_per_mm3, kTow, 0.03 * kTow);
  const auto fits = bench.fits();
  const VerdictSource source{&bench.trial, &fits, {}, ""};
  const auto verdict = [&](std::vector<WorkShare> mix, const std::string& medium) {
    VerdictQuestion question;
    question.threshold = 300;
    question.limits.mix = std::move(mix);
    question.limits.medium = medium;
    const Verdict found = find_verdict(source, question);
    EXPECT_TRUE(found.recommendation) << found.why_not;
    return found;
  };
  const auto blunt_N = [&](const Verdict& found, double angle) {
    for (const auto& edge : found.recommendation->ranked)
      if (edge.angle_deg == angle) return edge.force_blunt_N;
    return std::optional<double>();
  };
  const auto felt = verdict({}, "felt"), tow = verdict({}, "tow"), foam = verdict({}, "foam"),
             both = verdict({{"felt", 1}, {"tow", 3}}, ""),
             with_foam = verdict({{"felt", 1}, {"foam", 3}}, "");
  const double parting = *blunt_N(tow, 20) - kSevering * 300;
  EXPECT_NEAR(*blunt_N(felt, 20) - kSevering * 300, 4 * parting, 0.2 * parting);
  EXPECT_EQ(blunt_N(foam, 20), std::nullopt);
  EXPECT_NE(foam.force_note.find("In foam: no run has force strokes"), std::string::npos)
      << foam.force_note;
  EXPECT_DOUBLE_EQ(*blunt_N(both, 20), *blunt_N(felt, 20)) << "the work that asks for most";
  EXPECT_EQ(blunt_N(with_foam, 20), std::nullopt);
  // The answer: one table, each in its own work; a pair of two works is not compared.
  const auto life = bench.life("tow");
  AnswerSource asked = source_of(bench.trial, fits, life);
  asked.force_first = "felta10";
  asked.force_second = "towa20";
  const Answer answered = answer(Question::force, asked);
  ASSERT_TRUE(answered.answered) << answered.sentence;
  EXPECT_EQ(answered.table.rows.size(), 12U);
  EXPECT_NE(answered.sentence.find("felta10"), std::string::npos) << answered.sentence;
  EXPECT_EQ(answered.sentence.find("tow"), std::string::npos) << answered.sentence;
  EXPECT_TRUE(says(answered.remarks, "towa20 cut tow, felta10 felt"));
  const auto limits =
      std::count_if(answered.table.heads.begin(), answered.table.heads.end(),
                    [](const std::string& head) { return head.starts_with("Cuts to "); });
  EXPECT_EQ(limits, 2) << "the reading's limit and the force's stand in one table";
}

TEST(LikeWithLike, OneBladeOfASteelSaysNothingOfTheSteel) {
  int told = 0, of_blades = 0;
  for (int seed = 1; seed <= 30; ++seed) {
    LikeBench bench;
    bench.random = stats::Random(std::uint64_t(seed), 3);
    for (const char* steel : {"Marl", "Cairn"}) {
      const double blade = std::exp(0.25 * bench.random.normal());
      for (int i = 0; i < 6; ++i) {
        auto& run = bench.add(steel + std::to_string(i), steel, 12 + 3 * (i % 3),
                              400 * blade * std::exp(0.08 * bench.random.normal()));
        run.facts.blade = std::string(steel) + " 1";
      }
    }
    const auto fits = bench.fits();
    const auto life = bench.life();
    const AnswerSource asked = source_of(bench.trial, fits, life);
    const Answer answered = answer(Question::steel, asked);
    ASSERT_TRUE(answered.answered) << answered.sentence;
    told += answered.sentence.find("lasts longest") != std::string::npos ||
            answered.sentence.find("seems to last longest") != std::string::npos;
    of_blades += answered.sentence.find("steel and blade are one thing") != std::string::npos &&
                 answered.sentence.find("lade Marl 1 (Marl)") != std::string::npos;
    EXPECT_EQ(answered.table.rows.at(0).at(3), "–") << "no interval for the steels";
    for (const auto& series : answered.picture.series) EXPECT_TRUE(series.y_low.empty());
  }
  EXPECT_EQ(told, 0);
  EXPECT_EQ(of_blades, 30);
}
