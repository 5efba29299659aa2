#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/steadiness.h"
#include "bluntness/stroke_force.h"
#include "stats/random.h"
#include "store/bench_json.h"

using namespace bq;

namespace {

/// Rest, ramp, plateau, ramp, rest; `zero` before, `zero_after` behind.
ForceStroke a_stroke(double plateau, int cutting_ms, double zero, double zero_after,
                     std::uint64_t seed = 1) {
  stats::Random random(seed);
  ForceStroke out;
  for (int i = -100; i < cutting_ms + 100; ++i) {
    const double in = std::clamp(std::min(i, cutting_ms - i) / 30.0, 0.0, 1.0);
    const double base = i < cutting_ms / 2 ? zero : zero_after;
    out.force_N.push_back(
        float(std::round((base + in * plateau + 0.01 * random.normal()) * 100) / 100));
  }
  return out;
}

}  // namespace

TEST(Strokes, FiguresAreThoseOfTheStroke) {
  const auto figures = stroke_figures(a_stroke(12, 400, 0.5, 0.5), {100, 0.1, 0.03, 0.01});
  ASSERT_TRUE(figures.ok());
  EXPECT_TRUE(figures->troubles.empty()) << figures->troubles.front();
  EXPECT_NEAR(figures->zero_N, 0.5, 0.01);
  EXPECT_NEAR(figures->peak_N, 12, 0.05);
  EXPECT_NEAR(figures->seconds, 0.394, 0.006) << "from a tenth of the peak to a tenth of the peak";
  // Mean over the cut: the plateau and two ramps from a tenth up.
  const double area = 340 * 12 + 2 * 27 * 12 * 0.55;
  EXPECT_NEAR(figures->mean_N, area / 394, 0.1);
  EXPECT_NEAR(figures->work_J, figures->mean_N * 0.1, 1e-12);
  // One spike is no peak.
  auto spiked = a_stroke(12, 400, 0, 0);
  spiked.force_N[300] += 5;
  EXPECT_LT(stroke_figures(spiked, {})->peak_N, 13.2);
}

TEST(Strokes, WhatIsWrongIsSaid) {
  const auto trouble = [](const ForceStroke& stroke) {
    const auto figures = stroke_figures(stroke, {});
    return figures.ok() ? figures->troubles.empty() ? std::string() : figures->troubles.front()
                        : figures.refusal().reason;
  };
  EXPECT_EQ(trouble(a_stroke(12, 300, 0, 0)), "");
  EXPECT_NE(trouble(a_stroke(12, 60, 0, 0)).find("too short"), std::string::npos);
  EXPECT_NE(trouble(a_stroke(12, 300, 0, 1)).find("drifted"), std::string::npos);
  auto stroke = a_stroke(12, 300, 0, 0);
  stroke.capacity_N = 11;
  for (auto& f : stroke.force_N) f = std::min(f, 11.0f);
  EXPECT_NE(trouble(stroke).find("saturated"), std::string::npos);
  stroke = a_stroke(12, 300, 0, 0);
  stroke.lost = 40;
  EXPECT_NE(trouble(stroke).find("lost"), std::string::npos);
  stroke = a_stroke(12, 300, 0, 0);
  stroke.force_N.resize(250);
  EXPECT_NE(trouble(stroke).find("ends before"), std::string::npos);
  stroke.force_N.resize(5);
  EXPECT_FALSE(stroke_figures(stroke, {}).ok());
}

// Strokes of a made-up world with known severing and stiffness: both intervals hold what they
// claim.
TEST(Strokes, SeveringAndPartingAreToldApart) {
  int s_held = 0, k_held = 0;
  constexpr int kWorlds = 400;
  for (int w = 0; w < kWorlds; ++w) {
    stats::Random random(77, std::uint64_t(w));
    std::vector<StrokePoint> points;
    for (int r = 0; r < 12; ++r) {
      const double index = r % 2 ? 60 : 140, hand = 0.6 * random.normal();
      for (int c = 0; c < 6; ++c) {
        const double reading = 100 + 50 * c + 5 * random.normal();
        points.push_back({"R" + std::to_string(r), reading,
                          0.03 * reading + 0.1 * index + hand + 0.3 * random.normal(), index});
      }
    }
    const auto split = split_force(points);
    ASSERT_TRUE(split.ok());
    EXPECT_EQ(split->geometries, 2);
    s_held += split->severing_low <= 0.03 && 0.03 <= split->severing_high;
    k_held += split->stiffness_low <= 0.1 && 0.1 <= split->stiffness_high;
  }
  EXPECT_NEAR(double(s_held) / kWorlds, 0.95, 0.033);
  EXPECT_NEAR(double(k_held) / kWorlds, 0.95, 0.033);
  // What cannot be told is refused in words.
  const std::vector<StrokePoint> one{
      {"a", 100, 5, 60}, {"a", 150, 6, 60}, {"b", 100, 5, 60}, {"c", 100, 5, 62}};
  EXPECT_NE(split_force(one).refusal().reason.find("two geometries"), std::string::npos);
  EXPECT_FALSE(split_force({}).ok());
}

TEST(Strokes, SamplesArePackedExactly) {
  stats::Random random(5);
  for (int round = 0; round < 200; ++round) {
    ForceStroke stroke;
    const auto count = random.below(800);
    for (std::uint64_t i = 0; i < count; ++i)
      stroke.force_N.push_back(float(double(std::int64_t(random.below(40000)) - 20000) * 0.01));
    const auto bytes = pack_samples(stroke.force_N, 0.01);
    const auto back = unpack_samples(bytes, 0.01, stroke.force_N.size());
    ASSERT_TRUE(back.ok());
    EXPECT_EQ(*back, stroke.force_N);
    EXPECT_FALSE(unpack_samples(bytes, 0.01, stroke.force_N.size() + 1).ok());
    if (bytes.size() > 3)
      EXPECT_FALSE(
          unpack_samples(bytes.substr(0, bytes.size() / 2), 0.01, stroke.force_N.size()).ok());
  }
  const auto real = a_stroke(12, 400, 0.1, 0.1);
  EXPECT_LT(pack_samples(real.force_N, 0.01).size(), real.force_N.size() * 2)
      << "smaller than two bytes a sample";
}

TEST(SteadinessMeter, FindsStrokesAndTheTailThatDecides) {
  stats::Random random(9);
  SteadinessSession session;
  session.target_deg = 15;
  for (int s = 0; s < 20; ++s) {
    const double mean = 15.5 + 0.8 * random.normal();
    for (int i = 0; i < 100; ++i) session.trace_deg.push_back(float(mean + 0.5 * random.normal()));
    for (int i = 0; i < 20; ++i) session.trace_deg.push_back(40);
  }
  session.strokes = strokes_of(session.trace_deg, 50, 15);
  ASSERT_EQ(session.strokes.size(), 20u);
  const auto s = *steadiness_of(session);
  EXPECT_NEAR(s.within_sd_deg, 0.5, 0.03);
  EXPECT_NEAR(s.between_sd_deg, 0.8, 0.3);
  EXPECT_NEAR(s.tail_deg, s.mean_deg + 1.645 * 0.5, 0.1);
  EXPECT_LT(*s.tail_low, s.tail_deg);
  EXPECT_NE(describe(s, 15).find("Strokes differ among themselves"), std::string::npos)
      << describe(s, 15);
  EXPECT_FALSE(steadiness_of({}).has_value());
  EXPECT_TRUE(strokes_of(std::vector<float>(200, 60.0f), 50, 15).empty());
}
