#pragma once

#include <qcustomplot.h>

namespace bq::ui {

/// A graph whose markers are stamped where they are many and on a screen.
class StampedGraph : public QCPGraph {
 public:
  using QCPGraph::QCPGraph;

 protected:
  void drawScatterPlot(QCPPainter* painter, const QVector<QPointF>& scatters,
                       const QCPScatterStyle& style) const override;
};

}  // namespace bq::ui
