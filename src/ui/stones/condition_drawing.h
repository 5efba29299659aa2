#pragma once

#include <QRectF>
#include <QString>

class QPainter;

namespace bq::ui {

/// Draws one of the pictures a rule file may name (kDrawings), or one of how a burr is proved
/// ("prove-touch", "-light", "-paper", "-lens", "-sound"): the apex in cross-section, seen from
/// the side or head-on, a bevel with ink, a stone, a blade. Line art in the theme's inks, to fill
/// `box`. False for a name it does not know.
bool paint_condition(QPainter& painter, const QRectF& box, const QString& name);

}  // namespace bq::ui
