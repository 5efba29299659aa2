#pragma once

#include <optional>
#include <string>

#include "bluntness/run_fits.h"
#include "trial/trial.h"

namespace bq {

enum class Station { rack, section, bench, findings, verdict };
std::string_view name_of(Station station);

/// The single most useful thing to do next, as one sentence, and where it is done.
struct NextAction {
  std::string sentence;
  std::string button;  ///< two or three words
  Station station = Station::rack;
  std::optional<std::size_t> run;
};

/// In this order: a run under way; an early collapse or a far-off reading to look at; a planned run;
/// too few runs for a life model; else the verdict.
/// `fits` may be empty while they are being made.
NextAction next_action(const Trial& trial, const std::vector<RunFit>& fits);

/// One fact for each station of the path.
std::string station_fact(Station station, const Trial& trial);

}  // namespace bq
