#pragma once

// All that a project holds as one text, to be compared before and after.
#include <string>

#include "store/bench_json.h"
#include "store/micrograph_json.h"
#include "store/shelf_json.h"
#include "trial/trial.h"

namespace bq::test {

/// One line of what happened on the bench, as it is kept.
inline std::string line_of(const BenchEvent& event) {
  return event.made_at + " " + std::to_string(event.cuts) + " " + event.by_operator + " " +
         std::string(kind_of(event.data)) + " " + bench_event_json(event.data) + "\n";
}

/// Everything of a trial that an edit can change, as one comparable text.
inline std::string picture(const Trial& trial) {
  std::string out = trial.title + "\n";
  for (const auto& blade : trial.blades) {
    out += "blade " + blade.name + "|" + blade.steel + "|" + blade.note + "|" +
           std::to_string(blade.retired) + "\n";
    for (const auto& record : blade.records)
      out += "  " + std::to_string(record.data.index()) + " " + describe(record.data) + "\n";
  }
  for (const auto& run : trial.runs) {
    out += "run " + run.facts.name + "|" + run.facts.blade + "|" + run.facts.steel + "|" +
           run.facts.medium + "|" + std::to_string(run.cuts_done);
    for (const auto cuts : run.plan.checkpoints) out += " " + std::to_string(cuts);
    out += "\n";
    for (const auto& reading : run.readings)
      out += "  " + std::to_string(reading.cuts) + " " + std::to_string(reading.value) +
             std::string(sign_of(reading.unit)) + (reading.excluded ? " out " : " ") +
             trial.labels.text(reading.reason) + "|" + trial.labels.text(reading.by_operator) +
             "\n";
    for (const auto& event : run.events) out += "  " + line_of(event);
  }
  for (const auto& check : trial.gauge_checks) out += "check " + line_of(check);
  for (const auto& m : trial.micrographs) out += "micrograph " + micrograph_json(m) + "\n";
  for (const auto& scale : trial.scales)
    out += "scale " + scale.magnification + " " + std::to_string(scale.scale.um_per_px) + "\n";
  for (const auto& card : trial.steels)
    out += "steel " + card.name + "|" + std::to_string(card.hardness_hrc.value_or(0)) + "|" +
           card.behaviour + "|" + card.note + "\n";
  for (const auto& card : trial.media) out += "medium " + card.name + "|" + card.form + "\n";
  for (const auto& a : trial.shelf) out += "shelf " + abrasive_json(a) + "\n";
  for (const auto& c : trial.comparisons)
    out += "comparison " + std::to_string(c.id) + comparison_json(c) + "\n";
  return out;
}

}  // namespace bq::test
