#include <gtest/gtest.h>

#include "trial/checkpoints.h"
#include "trial/run_plan.h"

using namespace bq;

namespace {

Run planned() {
  bq::Run run;
  run.plan = {{0, 10, 40}, 2};
  return run;
}

void add(Run& run, double value, bool excluded = false) {
  Reading reading;
  reading.cuts = run.cuts_done;
  reading.value = value;
  reading.excluded = excluded;
  run.readings.push_back(reading);
}

}  // namespace

TEST(RunPlan, LeadsFromReadingToCuttingToTheEnd) {
  bq::Run run = planned();
  EXPECT_EQ(state_of(run), RunState::planned);
  EXPECT_EQ(next_step(run).kind, StepKind::read);
  add(run, 100);
  EXPECT_EQ(next_step(run).reading_number, 2);
  add(run, 300, true);  // taken out: the checkpoint asks for another
  EXPECT_EQ(next_step(run).reading_number, 2);
  add(run, 104);
  Step step = next_step(run);
  EXPECT_EQ(step.kind, StepKind::cut);
  EXPECT_EQ(step.cuts_to_make, 10);
  run.cuts_done = 10;
  EXPECT_EQ(next_step(run).at_cuts, 10);
  add(run, 120);
  add(run, 121);
  EXPECT_EQ(next_step(run).cuts_to_make, 30);
  run.cuts_done = 40;
  add(run, 150);
  add(run, 151);
  EXPECT_EQ(next_step(run).kind, StepKind::finished);
  EXPECT_EQ(state_of(run), RunState::done);
}

TEST(RunPlan, ReadsAndMakesCheckpoints) {
  EXPECT_EQ(*parse_checkpoints("0, 20; 50 100"), (std::vector<std::int64_t>{0, 20, 50, 100}));
  EXPECT_FALSE(parse_checkpoints("0 20 20").ok());
  EXPECT_FALSE(parse_checkpoints("0 -5").ok());
  EXPECT_FALSE(parse_checkpoints("0 2.5").ok());
  const auto ladder = checkpoint_ladder(1000, 9);
  EXPECT_EQ(ladder.front(), 0);
  EXPECT_EQ(ladder.back(), 1000);
  EXPECT_TRUE(std::is_sorted(ladder.begin(), ladder.end()));
  EXPECT_GE(ladder.size(), 8u);
}

TEST(Suspects, OneGrossReadingIsFoundAndItsNeighboursAreNot) {
  bq::Run run;
  const double base[] = {100, 130, 170, 220};
  for (int c = 0; c < 4; ++c) {
    run.cuts_done = c * 50;
    for (const double factor : {0.97, 1.0, 1.04}) add(run, base[c] * factor);
  }
  EXPECT_TRUE(suspects_of(run).empty());
  run.readings[7].value *= 1.9;
  const auto suspects = suspects_of(run);
  ASSERT_EQ(suspects.size(), 1u);
  EXPECT_EQ(suspects[0].reading_index, 7u);
  EXPECT_NE(suspects[0].reason.find("usual spread"), std::string::npos);
  // Two readings are too few to judge either.
  bq::Run pair;
  add(pair, 100);
  add(pair, 200);
  EXPECT_TRUE(suspects_of(pair).empty());
}
