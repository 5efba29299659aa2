#pragma once

#include <optional>
#include <set>
#include <string>

#include "bluntness/run_fits.h"
#include "trial/trial.h"

namespace bq::inline workflow {

enum class Station { rack, section, stones, plan, bench, lens, findings, verdict };
std::string_view name_of(Station station);  ///< "Bench": as in the guide and in notes
std::string words_of(Station station);      ///< in the desk's language

/// The single most useful thing to do next, as one sentence, and where it is done.
struct NextAction {
  std::string sentence;
  std::string button;  ///< two or three words
  Station station = Station::rack;
  std::optional<std::size_t> run;
  std::optional<std::size_t> blade;  ///< to be measured on Section, or sharpened on Stones
};

/// In this order: a run under way; a sharpening in hand (`in_hand`: its blade); the angle of a
/// blade that was ground and not measured since, when its run is next; a planned run; an early
/// collapse or a far-off reading to look at; too few runs for a life model; else the verdict.
/// `fits` may be empty while they are being made. Of the runs of blind plans (`blind`) it is never
/// said which blade is theirs.
NextAction next_action(const Trial& trial, const std::vector<RunFit>& fits,
                       std::optional<std::size_t> in_hand = {},
                       const std::set<std::string>& blind = {});

/// One fact for each station of the path.
std::string station_fact(Station station, const Trial& trial);

}  // namespace bq::inline workflow
