#pragma once

#include "edge/ladder.h"

namespace bq::inline edge {

/// An edge ground to zero has no narrow bevel to take a nick out of: the whole face goes back. What
/// that costs against a micro-bevel over the nick, and against living with it.
/// Nothing is said where the damage is below 50 µm or the edge has a narrow bevel. `start`: the
/// section before the work.
void add_nick_remarks(LadderPlan& plan, const EdgeState& state, const LadderWish& wish,
                      const Section& start);

}  // namespace bq::inline edge
