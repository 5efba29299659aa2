#pragma once

#include <string>

#include "bluntness/life_table.h"
#include "bluntness/matching.h"
#include "bluntness/run_fits.h"
#include "bluntness/start_gate.h"

namespace bq::inline workflow {

/// The matching answer as one sentence, e.g. "Fenland Plain at 12.1° per side lasts as long as Marl
/// Tough at 16° (10.6° to 13.5°, 95 %)". Says when an end is not bounded, when the data cannot tell
/// and when the answer is extrapolated.
std::string match_sentence(const MatchQuestion& question, const MatchAnswer& answer,
                           AngleConvention convention);

/// "reaches 450 gf after 812 cuts (760 to 868)", "stays below 450 gf for its 1,500 cuts",
/// "is past 450 gf from the start".
std::string cuts_sentence(const CutsToThreshold& cuts, double threshold, Unit unit);

/// "812", ">1500", "<20" for tables.
std::string cuts_short(const CutsToThreshold& cuts);

/// What the fit says of a run beyond its numbers: model, early collapse, no checkpoint at 0 cuts,
/// readings flagged; empty when nothing needs saying.
std::string fit_remarks(const RunFit& fit);

/// "12.4 µm": three digits.
std::string print_um(double um);
/// Whole cuts with a thin space between thousands: 12 345.
std::string print_cuts(double cuts);
/// Of a forecast: two digits that count, "110 000".
std::string print_about(double cuts);

/// How a run's edge started, in one line: "sharpened 2026-03-04 (ductile route), start in: 96 gf of
/// 82 to 112 gf". "" where nothing is on record. `fresh` as for start_gate.
std::string start_line(const Trial& trial, std::size_t run, Unit shown,
                       const FreshReading& fresh = {});

}  // namespace bq::inline workflow
