#include <gtest/gtest.h>
#include <rapidcheck.h>

#include "../trial/bench_walk.h"
#include "trial/checkpoints.h"

using namespace bq;

namespace {

bq::Run planned_run() {
  bq::Run run;
  run.id = 1;
  run.facts.name = "R";
  run.plan.checkpoints = {0, 10, 40};
  run.plan.readings_each = 2;
  return run;
}

void happened(bq::Run& run, BenchEventData data) {
  run.events.push_back(
      {std::int64_t(run.events.size() + 1), "", run.cuts_done, "", std::move(data)});
}
void read_at(bq::Run& run, double value) {
  run.readings.push_back({std::int64_t(run.readings.size() + 1), run.cuts_done, value});
}

}  // namespace

TEST(BenchStage, GoesThroughARunInOrder) {
  bq::Run run = planned_run();
  BenchProtocol protocol;
  StageFacts facts;
  const auto kind = [&] { return bench_stage(run, protocol, facts).kind; };
  EXPECT_EQ(kind(), StageKind::prepare);
  happened(run, PreparedEvent{});
  EXPECT_EQ(kind(), StageKind::read);
  EXPECT_EQ(bench_stage(run, protocol, facts).station, "heel");
  read_at(run, 100);
  EXPECT_EQ(bench_stage(run, protocol, facts).station, "middle")
      << "stations take turns: a reading is a cut there";
  read_at(run, 102);
  facts.start_out = true;
  EXPECT_EQ(kind(), StageKind::gate);
  happened(run, GateEvent{"", true, "looked at"});
  EXPECT_EQ(bench_stage(run, protocol, facts).cuts_to_make, 10);
  run.cuts_done = 10;
  happened(run, CutEvent{10, 10});
  EXPECT_EQ(kind(), StageKind::clean);
  happened(run, CleanedEvent{});
  read_at(run, 130);
  read_at(run, 131);
  EXPECT_EQ(kind(), StageKind::look);
  happened(run, LookEvent{});
  for (const double at_or_below : {130.5, 125.0}) {  // the median is 130.5: at the limit is reached
    facts.threshold = at_or_below;
    EXPECT_EQ(bench_stage(run, protocol, facts).rule, StopRule::threshold);
  }
  EXPECT_EQ(kind(), StageKind::stop);
  happened(run, GoOnEvent{"see"});
  EXPECT_EQ(kind(), StageKind::cut);
  happened(run, StopEvent{StopRule::wish, ""});
  EXPECT_EQ(kind(), StageKind::stopped);
  EXPECT_EQ(state_of(run), RunState::done);
  EXPECT_EQ(next_step(run).kind, StepKind::finished);
  happened(run, GoOnEvent{""});
  EXPECT_EQ(state_of(run), RunState::running);
  // Sent back by the gate: sharpened again, however the readings stand.
  bq::Run again = planned_run();
  happened(again, PreparedEvent{});
  read_at(again, 170);
  again.readings[0].excluded = true;
  happened(again, GateEvent{"", false, "burr"});
  EXPECT_EQ(bench_stage(again, protocol, facts).kind, StageKind::prepare);
  happened(again, PreparedEvent{});
  EXPECT_EQ(bench_stage(again, protocol, facts).kind, StageKind::read);
}

TEST(BenchStage, AReplacedReadingIsTakenWhereTheOneThatIsOutWas) {
  BenchProtocol protocol;
  protocol.stations = {"heel", "middle", "tip"};
  protocol.prepare = protocol.clean = protocol.look = protocol.gate = false;
  LabelTable labels;
  StageFacts facts;
  facts.labels = &labels;
  bq::Run run;
  run.facts.name = "R";
  run.plan.checkpoints = {0, 10, 30};
  run.plan.readings_each = 2;
  const auto next = [&] { return bench_stage(run, protocol, facts).station; };
  const auto read = [&](std::int64_t cuts) {
    Reading reading;
    reading.cuts = cuts;
    reading.value = 100;
    reading.station = labels.id_of(next());
    run.readings.push_back(reading);
  };
  EXPECT_EQ(next(), "heel");
  read(0);
  EXPECT_EQ(next(), "middle");
  read(0);
  run.cuts_done = 10;
  EXPECT_EQ(next(), "tip") << "two to a checkpoint: they go on through the run";
  read(10);
  read(10);
  EXPECT_EQ(labels.text(run.readings.back().station), "heel");
  run.readings[2].excluded = true;
  EXPECT_EQ(next(), "tip") << "the place of the one that is out";
  read(10);
  run.cuts_done = 30;
  EXPECT_EQ(next(), "middle") << "what was replaced shifts no later one";
}

TEST(BenchStage, ImportedRunsAreAskedOnlyForWhatLiesAhead) {
  bq::Run done = planned_run();
  for (const auto cuts : done.plan.checkpoints)
    for (int i = 0; i < 2; ++i) done.readings.push_back({0, cuts, 100});
  done.cuts_done = 40;
  EXPECT_EQ(bench_stage(done, {}, {}).kind, StageKind::finished);
  bq::Run bare;
  bare.readings.push_back({1, 50, 100});
  bare.cuts_done = 50;
  EXPECT_EQ(bench_stage(bare, {}, {}).kind, StageKind::finished)
      << "a run without a plan is finished once it was read";
}

// A hand that does what it is told, or something odd, always gets to the end; every step is one
// that the stage asked for.
TEST(BenchStage, EveryWalkEndsAndNothingIsAskedTwice) {
  EXPECT_TRUE(rc::check("walks", [] {
    test::BenchWalk walk;
    walk.run = planned_run();
    walk.protocol.prepare = *rc::gen::arbitrary<bool>();
    walk.protocol.gate = *rc::gen::arbitrary<bool>();
    walk.protocol.clean = *rc::gen::arbitrary<bool>();
    walk.protocol.look = *rc::gen::arbitrary<bool>();
    walk.protocol.rest_after_min = *rc::gen::element(0.0, 0.5, 1.0, 20.0);
    walk.protocol.check_nominal = *rc::gen::element(0.0, 200.0);
    walk.facts.check_due = walk.protocol.check_nominal > 0;
    walk.facts.threshold = *rc::gen::element(80.0, 150.0, 1e9);
    walk.facts.start_out = *rc::gen::arbitrary<bool>();
    int steps = 0;
    BenchStage before;
    while (walk.kind() != StageKind::finished && walk.kind() != StageKind::stopped) {
      RC_ASSERT(++steps < 200);
      const BenchStage now = walk.stage();
      RC_ASSERT(steps == 1 || !(now == before));
      before = now;
      walk.step(*rc::gen::inRange(0, 6));
    }
    if (walk.kind() == StageKind::finished)
      for (const auto at : walk.run.plan.checkpoints)
        RC_ASSERT(std::count_if(walk.run.readings.begin(), walk.run.readings.end(),
                                [&](const Reading& r) { return r.cuts == at && !r.excluded; }) >=
                  2);
  }));
}

TEST(BenchProtocolWords, RestsFallDueByPaceAndLimitsAreHeld) {
  BenchProtocol p;
  p.seconds_per_cut = 6;
  p.rest_after_min = 10;
  EXPECT_EQ(rests_of(p, 350), (std::vector<std::int64_t>{100, 200, 300}));
  p.rest_after_min = 0;
  EXPECT_TRUE(rests_of(p, 350).empty());
  p.loading_rate = "20 mm/min";
  p.filament_lot = "7";
  EXPECT_EQ(p.gauge_words(), "20 mm/min, filament lot 7");
  p.debounce_ms = 5000;
  EXPECT_NE(fault_of(p), "");
}
