#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "stats/control_chart.h"
#include "trial/trial.h"

namespace bq::inline bluntness {

struct StartGateOptions {
  int least_starts = 6;  ///< below this nothing is judged; >= 3
  int firm_starts = 20;  ///< below this the limits are called provisional
};

enum class StartState { in, too_sharp, too_dull, not_judged };

/// The first readings of one run: the median of those at 0 cuts that are not excluded.
struct Start {
  std::size_t run = 0;  ///< index in the trial
  double reading = 0;   ///< in the trial's unit
  StartState state = StartState::not_judged;
};

/// Runs that should start alike: one steel, one finish, one cut mode (the gauge is set up for it).
struct StartGroup {
  std::string steel;
  std::optional<Finish> finish;
  std::optional<CutMode> cut_mode;
  std::vector<Start> starts;  ///< in the order of the runs
  /// On ln reading; empty with fewer than least_starts.
  std::optional<stats::IndividualsChart> chart;
  bool provisional = false;
  [[nodiscard]] double centre() const;  ///< of the chart, back in the trial's unit
  [[nodiscard]] double lower() const;
  [[nodiscard]] double upper() const;
};

/// The fresh reading of the run at a place.
using FreshReading = std::function<std::optional<double>(std::size_t run)>;
/// Fresh readings, remembered as long as their runs stay as they are: a thousand runs are not gone
/// through with every reading that comes in.
class FreshReadings {
 public:
  /// Median of the readings at 0 cuts that count, in `unit`; empty without one. `revision` is
  /// another one whenever the run is.
  std::optional<double> of(const Run& run, std::uint64_t revision, Unit unit);

 private:
  struct Known {
    std::uint64_t revision = 0;
    Unit unit = Unit::gf;
    std::optional<double> reading;
  };
  std::map<std::int64_t, Known> known_;  ///< by the run's number
};

/// Individuals chart of ln initial reading for every group (DOMAIN §11, the start gate): readings
/// spread by a factor, so the limits are symmetric as factors. A start outside is "too dull" above,
/// "too sharp" below. Groups in the order of their first run. With `like` only the group of that
/// run is made: no other run's readings are looked at. `fresh`: for whoever remembers them; empty:
/// they are looked up.
std::vector<StartGroup> start_gate(const Trial& trial, const StartGateOptions& options = {},
                                   std::optional<std::size_t> like = {},
                                   const FreshReading& fresh = {});

/// The group a run belongs to and its start there; empty when it was not read at 0 cuts.
struct StartVerdict {
  const StartGroup* group = nullptr;
  const Start* start = nullptr;
  std::string sentence;  ///< "In: 96 gf lies within 82 to 112 gf (7 starts …)."
};
std::optional<StartVerdict> start_of_run(const std::vector<StartGroup>& groups, std::size_t run,
                                         Unit unit, const StartGateOptions& options = {});

/// Median of the readings at 0 cuts that were taken before the clean-up (kBeforeCleanUp), in
/// `unit`: kept, never a start. Empty without one.
std::optional<double> reading_before_clean_up(const Trial& trial, std::size_t run, Unit unit);

/// "Marl Tough, 6 µm, slice".
std::string name_of(const StartGroup& group);

}  // namespace bq::inline bluntness
