#pragma once

#include <QString>

#include "ui/bench/bench_model.h"

namespace bq::ui {

/// What stands on the trial page at a stage.
struct StageWords {
  QString instruction, detail, figure, figure_unit, button, second_button, entry_unit, then, keys,
      caution;
  bool takes_number = false;
};
StageWords words_of(const Workbench& workbench, const BenchModel& model);

}  // namespace bq::ui
