#include "ui/plot/stamped_graph.h"

#include <QPaintEngine>
#include <cmath>

#include "ui/parts/stamps.h"

namespace bq::ui {

void StampedGraph::drawScatterPlot(QCPPainter* painter, const QVector<QPointF>& scatters,
                                   const QCPScatterStyle& style) const {
  const bool on_screen = painter->paintEngine()->type() == QPaintEngine::Raster &&
                         !painter->modes().testFlag(QCPPainter::pmNoCaching);
  if (scatters.size() <= kManyMarks || !on_screen || !style.isPenDefined())
    return QCPGraph::drawScatterPlot(painter, scatters, style);
  Stamps stamps(painter->device()->devicePixelRatioF(), style.size() / 2 + style.pen().widthF(),
                [&style](QImage& onto, QPointF centre) {
                  QCPPainter marker(&onto);
                  marker.setAntialiasing(true);
                  marker.translate(-0.5, -0.5);  // it moved by that
                  style.applyTo(&marker, style.pen());
                  style.drawShape(&marker, centre);
                });
  applyScattersAntialiasingHint(painter);
  for (const QPointF& at : scatters)
    if (std::isfinite(at.x()) && std::isfinite(at.y())) stamps.put(*painter, at);
}

}  // namespace bq::ui
