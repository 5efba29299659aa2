#pragma once

#include "trial/bench_stage.h"

namespace bq::test {

/// A run that is walked through without a program around it: each step does what the stage asks
/// for, or, by `choice`, something else that is allowed there.
struct BenchWalk {
  bq::Run run;
  BenchProtocol protocol;
  StageFacts facts;
  [[nodiscard]] BenchStage stage() const { return bench_stage(run, protocol, facts); }
  [[nodiscard]] StageKind kind() const { return stage().kind; }
  void happened(BenchEventData data) {
    run.events.push_back(
        {std::int64_t(run.events.size() + 1), "", run.cuts_done, "", std::move(data)});
  }
  void step(int choice) {
    const BenchStage now = stage();
    switch (now.kind) {
      case StageKind::prepare:
        happened(PreparedEvent{});
        break;
      case StageKind::check_weight:
        facts.check_due = false;
        break;
      case StageKind::read:
        run.readings.push_back(
            {std::int64_t(run.readings.size() + 1), now.at_cuts, 100.0 + double(run.cuts_done)});
        if (choice == 0 && run.readings.size() < 30) run.readings.back().excluded = true;
        break;
      case StageKind::gate:
        if (choice == 0 && run.readings.size() < 10) {
          for (auto& r : run.readings) r.excluded = true;
          happened(GateEvent{"", false, "burr"});
        } else {
          happened(GateEvent{"", true, "looked at"});
        }
        break;
      case StageKind::cut: {
        const auto made =
            choice == 0 ? std::max<std::int64_t>(1, now.cuts_to_make / 2) : now.cuts_to_make;
        run.cuts_done += made;
        happened(CutEvent{now.cuts_to_make, made});
        break;
      }
      case StageKind::clean:
        happened(CleanedEvent{});
        break;
      case StageKind::look: {
        LookEvent look;
        if (choice == 0) look.found = DamageFound::bent;
        happened(look);
        break;
      }
      case StageKind::rest:
        happened(RestEvent{60, 60});
        break;
      case StageKind::stop:
        if (choice < 2)
          happened(StopEvent{now.rule, ""});
        else
          happened(GoOnEvent{""});
        break;
      case StageKind::stopped:
      case StageKind::finished:
        break;
    }
  }
};

}  // namespace bq::test
