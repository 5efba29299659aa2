#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "bluntness/stroke_force.h"
#include "instrument/instrument_line.h"
#include "instrument/stand_in.h"
#include "instrument/stroke_catcher.h"

using namespace bq;

namespace {

VirtualEdge an_edge() {
  VirtualEdge edge;
  edge.run = "KT4";
  edge.geometry = *EdgeGeometry::make({10, 10}, BevelAngles{15, 15});
  edge.medium.wear_um2_per_m = 0.75;
  edge.seed = 7;
  edge.cuts = 40;
  return edge;
}

std::vector<CaughtStroke> strokes_of(StandIn& cell, double until_s) {
  StrokeCatcher catcher;
  std::vector<CaughtStroke> out;
  const auto take = [&](const CaughtStroke& stroke) { out.push_back(stroke); };
  InstrumentLine line(*LineParser::make(usual_profile(InstrumentRole::force_cell)));
  line.quiet([](const InstrumentReading&) {});
  for (double now = 0; now < until_s; now += 0.007)
    line.feed(cell.advance(now), [&](const InstrumentReading& r) {
      ASSERT_EQ(r.status, ReadingStatus::ok) << r.raw;
      catcher.sample(r.value, false, take);
    });
  catcher.silent(take);
  return out;
}

}  // namespace

TEST(StandIns, EdgeSurvivesItsFileAndDecidesItsReadings) {
  const VirtualEdge edge = an_edge();
  const auto back = parse_virtual_edge(virtual_edge_json(edge));
  ASSERT_TRUE(back.ok()) << back.refusal().reason;
  EXPECT_EQ(virtual_edge_json(*back), virtual_edge_json(edge));
  for (int i = 0; i < 5; ++i) EXPECT_EQ(gauge_reading(*back, i), gauge_reading(edge, i));
  EXPECT_NE(gauge_reading(edge, 0), gauge_reading(edge, 1));
  VirtualEdge again = edge;
  again.sharpened = 1;
  EXPECT_NE(run_factor(again), run_factor(edge)) << "a new sharpening is another draw";
  for (const char* bad :
       {"", "[]", "{", R"({"cuts":-1})", R"({"cuts":"x"})", R"({"cut_mode":"tear"})",
        R"({"unit":"mm"})", R"({"edge_angle_left":95})", R"({"cut_mode":3})"})
    EXPECT_FALSE(parse_virtual_edge(bad).ok()) << bad;
}

// The scatter that the state file states is the scatter that the readings have.
TEST(StandIns, ReadingsScatterAsStated) {
  VirtualEdge edge = an_edge();
  edge.gauge.resolution = 0.001;
  double within = 0, between = 0;
  constexpr int kRuns = 3000;
  for (int i = 0; i < kRuns; ++i) {
    edge.run = "R" + std::to_string(i);
    const double truth = std::log(blade_of(edge).reading_gf(40));
    const double a = std::log(gauge_reading(edge, 0)) - truth,
                 b = std::log(gauge_reading(edge, 1)) - truth;
    within += (a - b) * (a - b) / 2;
    between += a * b;
  }
  EXPECT_NEAR(std::sqrt(within / kRuns), edge.scatter.reading_sd, 0.003);
  EXPECT_NEAR(std::sqrt(between / kRuns), edge.scatter.checkpoint_sd, 0.004);
}

TEST(StandIns, GaugeAnswersInTheLineFormat) {
  const auto gauge = make_stand_in(InstrumentRole::gauge, 1);
  VirtualEdge edge = an_edge();
  gauge->put(edge);
  EXPECT_EQ(gauge->answer("HELLO", 0), "");
  const double first = gauge_reading(edge, 0);
  EXPECT_EQ(gauge->answer("READ", 0), std::to_string(int(first)) + " gf\n");
  gauge->answer("READ", 0);
  edge.cuts = 80;
  gauge->put(edge);
  EXPECT_EQ(gauge->answer("READ", 0), std::to_string(int(gauge_reading(edge, 0))) + " gf\n");
  edge.check_weight = 200;
  gauge->put(edge);
  EXPECT_NEAR(std::stod(gauge->answer("READ", 0)), 200, 5);
}

TEST(StandIns, StrokesAreCaughtWholeWithTheirForce) {
  const auto cell = make_stand_in(InstrumentRole::force_cell, 3);
  VirtualEdge edge = an_edge();
  edge.medium.stroke_mm = 120;
  cell->put(edge);
  EXPECT_TRUE(strokes_of(*cell, 1).empty()) << "nothing happens by itself";
  cell->answer("STROKE", 0);
  const auto strokes = strokes_of(*cell, 1.5);
  ASSERT_EQ(strokes.size(), 1u);
  const auto& stroke = strokes[0];
  EXPECT_FALSE(stroke.cut_off);
  EXPECT_EQ(stroke.lost, 0);
  EXPECT_NEAR(double(stroke.force_N.size()), 400 + 120, 40)
      << "400 ms of cutting, 60 ms before and behind";
  const StrokeForce force = stroke_force(edge);
  double plateau = 0;
  for (int i = 160; i < 360; ++i) plateau += stroke.force_N[std::size_t(i)] / 200;
  EXPECT_NEAR(plateau, force.severing_N + force.parting_N,
              0.12 * (force.severing_N + force.parting_N));
}

// A cell switched on, or heard again, in the middle of a stroke: the piece is no stroke, and the
// next one is whole.
TEST(StandIns, APieceOfAStrokeIsNotTakenForOne) {
  const auto played = [](double force_N, int silent_from, int silent_to, int begin) {
    StrokeCatcher catcher;
    std::vector<CaughtStroke> out;
    const auto take = [&](const CaughtStroke& stroke) { out.push_back(stroke); };
    for (int ms = begin; ms < 3000; ++ms) {
      const int at = ms % 1000;
      const double in = std::clamp(std::min(at - 200, 600 - at) / 40.0, 0.0, 1.0);
      const double force = 2.5 + force_N * in * (1 + 0.1 * std::sin(0.07 * ms));
      if (ms == silent_from) catcher.silent(take);
      if (ms < silent_from || ms >= silent_to) catcher.sample(force, false, take);
    }
    catcher.silent(take);
    return out;
  };
  for (const double force_N : {3.0, 14.0, 60.0})
    for (int begin = 0; begin < 1000; begin += 10) {
      const auto late = played(force_N, 0, 0, begin);
      ASSERT_GE(late.size(), 2u) << force_N << " N from " << begin;
      for (const auto& stroke : late) {
        const bool whole = stroke.force_N.front() < 2.5 + 0.1 * force_N;
        ForceStroke heard;
        heard.force_N = stroke.force_N;
        const auto figures = stroke_figures(heard, {120, 0.1, 0.03, 0.01});
        if (whole)
          EXPECT_FALSE(stroke.headless) << force_N << " N from " << begin;
        else
          EXPECT_TRUE(stroke.headless || !figures || !figures->troubles.empty())
              << force_N << " N from " << begin << ": taken for a whole one";
      }
      EXPECT_FALSE(late[late.size() - 2].headless);
      // The line falls silent in the first stroke, for 100 ms.
      const auto torn = played(force_N, begin, begin + 100, 0);
      for (const auto& stroke : torn)
        EXPECT_TRUE(stroke.headless || stroke.cut_off || stroke.force_N.size() > 340)
            << force_N << " N, silent at " << begin << ": " << stroke.force_N.size();
      EXPECT_FALSE(torn.back().headless);
    }
}

TEST(StandIns, FaultsNeverMakeAWrongReading) {
  for (const auto fault :
       {LineFault::drop, LineFault::garbage, LineFault::stall, LineFault::disconnect}) {
    FaultyLine faulty(fault, 11, 0.1);
    InstrumentLine line(*LineParser::make(usual_profile(InstrumentRole::gauge)));
    line.quiet([](const InstrumentReading&) {});
    long good = 0, sent = 0, broken = 0;
    for (int i = 0; i < 5000; ++i) {
      const auto out = faulty.pass("1234 gf\n", 0.01 * i);
      ++sent;
      broken += out.disconnect;
      line.feed(out.bytes, [&](const InstrumentReading& r) {
        if (r.status != ReadingStatus::ok) return;
        EXPECT_EQ(r.value, 1234);
        ++good;
      });
    }
    if (fault == LineFault::garbage || fault == LineFault::disconnect) {
      EXPECT_EQ(good, sent);
    } else if (fault == LineFault::drop) {
      EXPECT_GT(good, sent * 8 / 10);
      EXPECT_LT(good, sent);
    }
    EXPECT_EQ(broken > 0, fault == LineFault::disconnect);
  }
}
