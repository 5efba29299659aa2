#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/edge_card.h"

namespace bq::inline workflow {

/// The edge card of a run for a threshold as typed ("450 gf", "3x"). Refused: a threshold that
/// cannot be read. "3x" where no run was read at 0 cuts gives a card without a touch-up interval,
/// which it says.
Checked<EdgeCard> card_of_run(const Trial& trial, std::size_t run, const std::string& threshold,
                              AngleConvention angles);

/// The same with fits that are made already and a threshold in the trial's unit (empty: none).
EdgeCard card_of_run(const Trial& trial, std::size_t run, const std::vector<RunFit>& fits,
                     std::optional<double> threshold, AngleConvention angles);

}  // namespace bq::inline workflow
