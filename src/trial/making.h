#pragma once

#include <optional>
#include <string>
#include <vector>

#include "trial/trial.h"

namespace bq::inline trial {

/// One state of a blade's edge: from a finished sharpening to the next one (DOMAIN §13). What was
/// measured on it, seen on it and cut with it belongs to it alone.
struct Making {
  std::optional<std::size_t> sharpening;  ///< its place in Blade::records; empty: as it came
  std::size_t end = 0;                    ///< its records go from there (0) to here
  std::vector<std::size_t> runs;  ///< of the trial, in the order they were cut; planned ones too
                                  ///< where the sharpening was made for them
};

/// The makings of a blade's edge, oldest first; the first is the edge as it came.
struct BladeMakings {
  std::vector<Making> all;
  /// Runs cut with this blade of which the record does not say whether before or after a
  /// sharpening.
  std::vector<std::size_t> unplaced;
  [[nodiscard]] const Making& now() const { return all.back(); }
  /// Place in `all` of the making a run belongs to; empty: not of this blade, not known, or planned
  /// and not sharpened for yet.
  [[nodiscard]] std::optional<std::size_t> of_run(std::size_t run) const;
};

/// A sharpening that was broken off begins nothing. A run belongs to the last finished sharpening
/// that names it, or where its times are known to a later one that was done before its first event;
/// without a name to the last one before its first event; without both to the edge as it came when
/// the blade was never sharpened. Runs of one making are in the order of
/// their last events, where times are not known in that of the trial.
BladeMakings makings_of(const Trial& trial, std::size_t blade);

/// The blade as it was when the next sharpening began: its history up to there.
Blade blade_in(const Blade& blade, const Making& making);

/// The jig setting an edge was made with: the last one before its sharpening. One put on record
/// after it is for the next, unless there is no other. Empty: none is on record, or the sharpening
/// was at another angle (by more than 1°): the jig had been set anew and nobody wrote it down.
struct DatedSetting {
  SettingRecord setting;
  std::string made_at;
};
std::optional<DatedSetting> setting_of(const Blade& blade, const Making& making);

/// "as it came", "sharpened 2026-03-09 for run D01".
std::string describe(const Blade& blade, const Making& making);

/// The making a run was cut with (or is sharpened for).
struct RunMaking {
  std::size_t blade = 0;  ///< place in Trial::blades
  Making making;
};
/// Empty: no blade, or not known which making.
std::optional<RunMaking> making_of_run(const Trial& trial, std::size_t run);

/// Whether the edge a blade has now has, or may have, a micro-bevel: by its section, its last
/// sharpening or a run of it. An angle measured on such an edge says of which bevel it is.
bool may_have_micro_bevel(const Trial& trial, std::size_t blade);

/// The run whose cuts are on this blade's edge: of those of the present making the last one with
/// cuts.
std::optional<std::size_t> run_on_edge(const Trial& trial, std::size_t blade);

}  // namespace bq::inline trial
