#pragma once

#include "ui/frame/workbench.h"
#include "ui/plot/plot_view.h"

namespace bq::ui {

/// A run's readings and curve as plot series: dots, excluded ones hollow, the fitted curve with its
/// 95 % band.
std::vector<PlotSeries> run_series(const Workbench& workbench, std::size_t run, bool with_band,
                                   double end_cuts);

}  // namespace bq::ui
