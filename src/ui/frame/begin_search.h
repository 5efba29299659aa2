#pragma once

#include "trial/bench_session.h"

namespace bq::ui {

class Workbench;

/// Begins a damage search on the Bench and shows it: one step of undo. Its blade is the first of
/// its steel that is not retired, where it names none. False where it was refused, which was said
/// then.
bool begin_damage_search(Workbench& workbench, DamageSearch search);

}  // namespace bq::ui
