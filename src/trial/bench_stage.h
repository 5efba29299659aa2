#pragma once

#include "trial/bench_protocol.h"
#include "trial/run_plan.h"

namespace bq::inline trial {

enum class StageKind {
  prepare,
  check_weight,
  read,
  gate,
  cut,
  clean,
  look,
  rest,
  stop,
  stopped,
  finished
};

/// What is to be done next at the bench, from what is on the disk alone: a program that starts
/// again stands where it stood.
struct BenchStage {
  StageKind kind = StageKind::prepare;
  std::int64_t at_cuts = 0;       ///< the checkpoint this belongs to
  std::int64_t cuts_to_make = 0;  ///< cut: up to the checkpoint or the next rest
  int reading_number = 0;         ///< read: 1 … readings_each
  std::size_t checkpoint_index = 0;
  std::string station;             ///< read: "" where none are stated
  StopRule rule = StopRule::wish;  ///< stop, stopped
  bool operator==(const BenchStage&) const = default;
};

/// What the stage needs besides the run itself.
struct StageFacts {
  bool start_out = false;           ///< the chart says that the start lies outside its limits
  std::optional<double> threshold;  ///< in `unit`
  Unit unit = Unit::gf;
  bool check_due =
      false;  ///< the check weight has not been on the gauge in this sitting, or was off
  std::optional<double> check_off_percent{};  ///< by which the last one was beyond its limit
  const LabelTable* labels = nullptr;         ///< of the trial: stations of readings by name
};

/// In order: prepare, (check weight), readings at 0, gate, then for every checkpoint cut (with
/// rests), clean, readings, look, stop rules. Runs that began without the bench's events (imported
/// ones) are only asked for what lies ahead of them.
BenchStage bench_stage(const Run& run, const BenchProtocol& protocol, const StageFacts& facts);

/// The run was stopped and not taken up again.
bool is_stopped(const Run& run);
/// Readings taken so far at each of the protocol's stations; a reading is itself a cut on the edge
/// there.
std::vector<int> readings_at(const Run& run, const LabelTable& labels,
                             const std::vector<std::string>& stations);

}  // namespace bq::inline trial
