#include "ui/bench/curve_panel.h"

#include <cmath>

#include "stats/distributions.h"

namespace bq::ui {

std::vector<PlotSeries> run_series(const Workbench& workbench, std::size_t run_index,
                                   bool with_band, double end_cuts) {
  const Trial& trial = workbench.trial();
  const Run& run = trial.runs[run_index];
  const int style = workbench.steel_style(run.facts.steel);
  std::vector<PlotSeries> out;
  const auto fits = workbench.fits();
  if (run_index < fits->size() && (*fits)[run_index].curve) {
    const CurveFit& fit = (*fits)[run_index].curve->fit;
    PlotSeries curve;
    curve.name = QString::fromStdString(run.facts.name);
    curve.style = style;
    const double end = std::max(end_cuts, 1.0);
    for (int i = 0; i <= 80; ++i) {
      // Denser where the curve bends.
      const double n = std::min(fit.last_cuts, end) * std::pow(i / 80.0, 2);
      const double g = drawn_reading((*fits)[run_index], n);
      curve.x.push_back(n);
      curve.y.push_back(workbench.shown(g));
      if (!with_band || (*fits)[run_index].interpolated) continue;
      const auto j = fit.curve.log_gradient(n, fit.reference_cuts);
      const auto v = fit.variance_of({j[0], j[1], j[2], j[3]});
      const double half =
          v.variance > 0 ? stats::t_quantile(0.975, v.degrees_of_freedom) * std::sqrt(v.variance)
                         : 0;
      curve.y_low.push_back(workbench.shown(g * std::exp(-half)));
      curve.y_high.push_back(workbench.shown(g * std::exp(half)));
    }
    out.push_back(std::move(curve));
  }
  PlotSeries used, excluded;
  used.name = QStringLiteral("%1 readings").arg(QString::fromStdString(run.facts.name));
  excluded.name = QStringLiteral("%1 taken out").arg(QString::fromStdString(run.facts.name));
  for (auto* series : {&used, &excluded}) {
    series->style = style;
    series->line = false;
    series->markers = true;
  }
  excluded.faint = true;
  for (const auto& reading : run.readings) {
    PlotSeries& series = reading.excluded ? excluded : used;
    series.x.push_back(double(reading.cuts));
    series.y.push_back(workbench.shown(convert(reading.value, reading.unit, trial.unit())));
  }
  out.push_back(std::move(used));
  if (!excluded.x.empty()) out.push_back(std::move(excluded));
  return out;
}

}  // namespace bq::ui
