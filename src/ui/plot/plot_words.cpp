// The words of a plot: where the names of its lines stand, and what it shows for whoever does not
// see it.
#include <qcustomplot.h>

#include <algorithm>

#include "ui/plot/plot_view.h"

namespace bq::ui {

void PlotView::spread_labels() {
  // Names of lines that end close together stand below each other, not in each other.
  constexpr double kApart_px = 14;
  std::vector<std::pair<double, QCPItemText*>> places;
  for (const auto& [label, y] : end_labels_)
    places.emplace_back(plot_->yAxis->coordToPixel(y), label);
  std::sort(places.begin(), places.end());
  for (std::size_t i = 1; i < places.size(); ++i)
    places[i].first = std::max(places[i].first, places[i - 1].first + kApart_px);
  for (const auto& [pixel, label] : places)
    label->position->setCoords(label->position->coords().x(), plot_->yAxis->pixelToCoord(pixel));
}

QString PlotView::in_words() const {
  if (series_.empty()) return empty_text_;
  const auto number = [](double value) { return QString::number(value, 'g', 4); };
  QStringList out{tr("%1 over %2").arg(axes_.y_label, axes_.x_label)};
  for (const auto& series : series_) {
    if (series.x.empty() || series.y.size() != series.x.size()) continue;
    const QString name = series.name.isEmpty() ? tr("points") : series.name;
    const auto [least, most] = std::minmax_element(series.y.begin(), series.y.end());
    out << (series.x.size() == 1
                ? tr("%1: %2 at %3").arg(name, number(series.y[0]), number(series.x[0]))
                : tr("%1: %2 points, from %3 at %4 to %5 at %6, between %7 and %8")
                      .arg(name, QString::number(series.x.size()), number(series.y.front()),
                           number(series.x.front()), number(series.y.back()),
                           number(series.x.back()), number(*least), number(*most)));
    constexpr int kMostNamed = 12;
    if (out.size() > kMostNamed) {
      out << tr("and more");
      break;
    }
  }
  if (threshold_) out << tr("line at %1: %2").arg(number(*threshold_), threshold_label_);
  return out.join(QStringLiteral("; "));
}

}  // namespace bq::ui
