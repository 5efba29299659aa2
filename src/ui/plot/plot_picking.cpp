// A run picked in one picture lights up in all of them.
#include <qcustomplot.h>

#include "ui/plot/plot_view.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {
constexpr double kReach_px = 12;
}

void PlotView::light_run(const QString& run) {
  if (run == lit_) return;
  lit_ = run;
  const QCPRange x = plot_->xAxis->range(), y = plot_->yAxis->range();
  const bool zoomed = plot_->property("zoomed").toBool();
  draw();
  plot_->xAxis->setRange(x);
  plot_->yAxis->setRange(y);
  plot_->setProperty("zoomed", zoomed);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void PlotView::draw_lit() {
  if (lit_.isEmpty()) return;
  for (const auto& series : series_) {
    QVector<double> x, y;
    for (std::size_t i = 0; i < series.runs.size(); ++i)
      if (series.runs[i] == lit_) x << series.x[i], y << series.y[i];
    if (x.isEmpty()) continue;
    auto* graph = plot_->addGraph();
    graph->setData(x, y);
    const QPen pen(theme().ochre, 2.6);
    graph->setPen(pen);
    graph->setLineStyle(series.line ? QCPGraph::lsLine : QCPGraph::lsNone);
    if (!series.line)
      graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssCircle, pen, Qt::NoBrush, 16));
  }
}

QString PlotView::run_at(QPointF position) const {
  QString nearest;
  double best = kReach_px;
  for (const auto& series : series_)
    for (std::size_t i = 0; i < series.runs.size(); ++i) {
      const double distance = std::hypot(plot_->xAxis->coordToPixel(series.x[i]) - position.x(),
                                         plot_->yAxis->coordToPixel(series.y[i]) - position.y());
      if (distance < best) {
        best = distance;
        nearest = series.runs[i];
      }
    }
  return nearest;
}

QPoint PlotView::point_of(const QString& run) const {
  for (const auto& series : series_)
    for (std::size_t i = 0; i < series.runs.size(); ++i)
      if (series.runs[i] == run)
        return {int(plot_->xAxis->coordToPixel(series.x[i])),
                int(plot_->yAxis->coordToPixel(series.y[i]))};
  return {};
}

}  // namespace bq::ui
