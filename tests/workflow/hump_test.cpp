// A truth that is no line in ln tan: life over the angle has a hump (a slim edge chips, a thick one
// wears), a slope, or nothing at all. 60 worlds of each; 600 with BQ_THOROUGH=1.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>

#include "bluntness/recommendation.h"
#include "stats/random.h"
#include "support.h"
#include "workflow/life_findings.h"

using namespace bq;

namespace {

int hump_worlds() { return std::getenv("BQ_THOROUGH") ? 600 : 60; }

enum class Truth { hump, line, nothing };

/// Median cuts to three times the fresh reading.
double true_life(Truth truth, double angle) {
  if (truth == Truth::nothing) return 300;
  const double wear = 800 * std::tan(radians(10)) / std::tan(radians(angle));
  if (truth == Truth::line) return wear;
  // Chipping takes its share of the slim ones: best near 14°, 10° at less than half of it.
  return wear / (1 + std::exp(-(angle - 11) / 1.2));
}

struct HumpBench {
  Trial trial;
  std::vector<RunFit> fits;
  double threshold = 300;
};

HumpBench hump_bench(Truth truth, std::uint64_t seed) {
  stats::Random random(seed);
  HumpBench out;
  int number = 0;
  for (const double angle : {10.0, 12.0, 14.0, 16.0, 18.0, 22.0})
    for (int k = 0; k < 3; ++k) {
      bq::Run run;
      run.facts.name = "r" + std::to_string(number++);
      run.facts.steel = "Marl";
      run.facts.medium = "tow";
      run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle));
      const double life = true_life(truth, angle) * std::exp(0.12 * random.normal());
      for (const int cuts : {0, 30, 80, 160, 300, 500, 800, 1200})
        for (int i = 0; i < 2; ++i) {
          Reading r;
          r.cuts = cuts;
          r.value = 100 * (1 + 2 * std::pow(cuts / life, 0.7)) * std::exp(0.03 * random.normal());
          run.readings.push_back(r);
        }
      run.cuts_done = 1200;
      out.trial.runs.push_back(std::move(run));
    }
  out.fits = *fit_runs(out.trial, {}, {});
  return out;
}

}  // namespace

TEST(Hump, TheFirstPlaceIsAmongTheBestAndItsLifeIsTrue) {
  for (const Truth truth : {Truth::hump, Truth::line, Truth::nothing}) {
    int right = 0, held = 0, tried = 0;
    double width = 0;
    double best = 0;
    for (double angle = 10; angle <= 22; angle += 0.1)
      best = std::max(best, true_life(truth, angle));
    for (int seed = 1; seed <= hump_worlds(); ++seed) {
      const HumpBench bench = hump_bench(truth, std::uint64_t(seed) * 7919);
      const auto answer = recommend(bench.trial, bench.fits, bench.threshold, {});
      ASSERT_TRUE(answer) << answer.refusal().reason;
      const RankedEdge& first = answer->ranked.front();
      // Within a tenth of the best there is: what these runs cannot tell apart.
      right += true_life(truth, first.angle_deg) > 0.9 * best;
      held += first.life_mean_low <= true_life(truth, first.angle_deg) &&
              true_life(truth, first.angle_deg) <= first.life_mean_high;
      tried += first.tested;
      width += std::log(first.life_mean_high / first.life_mean_low);
    }
    const double n = hump_worlds();
    std::printf("%s: first among the best in %.1f %%, its interval holds in %.1f %%, width %.3f\n",
                truth == Truth::hump   ? "hump"
                : truth == Truth::line ? "line"
                                       : "nothing",
                100 * right / n, 100 * held / n, width / n);
    EXPECT_GE(right, 0.85 * n);
    EXPECT_GE(held, (truth == Truth::hump ? 0.80 : 0.85) * n);
    if (truth == Truth::nothing) {
      EXPECT_GE(tried, 0.9 * n) << "an edge that nobody made leads those that are level with it";
    }
  }
}

TEST(Hump, EveryPageSaysThatLifeBends) {
  const HumpBench bench = hump_bench(Truth::hump, 5);
  LifeQuestion question;
  question.threshold = bench.threshold;
  const LifeFindings life = find_life(bench.trial, bench.fits, question);
  ASSERT_TRUE(life.model);
  EXPECT_TRUE(is_shape_of_angle(life.model->spec().terms.back()));
  const std::string sentence = angle_sentence(life);
  EXPECT_NE(sentence.find("Life bends over the angle here"), std::string::npos) << sentence;
  EXPECT_TRUE(sentence.find("near 14°") != std::string::npos ||
              sentence.find("near 14.5°") != std::string::npos ||
              sentence.find("near 13.5°") != std::string::npos ||
              sentence.find("near 15°") != std::string::npos)
      << sentence;
  // The drawn line is the model's: highest where the sentence says.
  const LifeLine& line = life.lines.front();
  const auto top = std::max_element(line.life.begin(), line.life.end()) - line.life.begin();
  EXPECT_NEAR(line.angle_deg[std::size_t(top)], 14, 1.6);
  // Where life is a line the sentence is what it was.
  const HumpBench straight = hump_bench(Truth::line, 5);
  const LifeFindings plain = find_life(straight.trial, straight.fits, question);
  EXPECT_EQ(angle_sentence(plain).find("bends"), std::string::npos);
}
