// What the picture's widget draws.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "report/micrograph_drawing.h"
#include "ui/lens/lens_canvas.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {
constexpr int kLoupe = 152;
constexpr double kLoupeZoom = 6;
}  // namespace

void LensCanvas::draw_image(QPainter& painter, const LensPixels& pixels,
                            const QTransform& to_screen, const QRectF& clip) const {
  // The copy that is nearest above the screen's fineness; only what is seen of it.
  const double k = std::hypot(to_screen.m11(), to_screen.m12()) * devicePixelRatioF();
  const QImage* image = &pixels.shown;
  double shrink = 1;
  for (const QImage& smaller : pixels.smaller) {
    if (k * shrink > 0.5) break;
    image = &smaller;
    shrink *= 2;
  }
  const double sx = double(pixels.shown.width()) / image->width(),
               sy = double(pixels.shown.height()) / image->height();
  painter.save();
  painter.setClipRect(clip);
  QTransform t = to_screen;
  t.scale(sx, sy);
  const QRectF seen =
      t.inverted().mapRect(clip).intersected(QRectF(0, 0, image->width(), image->height()));
  if (!seen.isEmpty()) {
    const QRect whole = seen.toAlignedRect().adjusted(-1, -1, 1, 1).intersected(image->rect());
    painter.setTransform(t, true);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, k * shrink < 3);
    painter.drawImage(QRectF(whole), *image, QRectF(whole));
  }
  painter.restore();
}

void LensCanvas::paintEvent(QPaintEvent*) {
  const Theme& t = photograph_theme();
  QPainter painter(this);
  painter.fillRect(rect(), t.ground);
  painter.setRenderHint(QPainter::Antialiasing);
  labels_.clear();
  const Micrograph* m = model_.current();
  if (!m) {
    draw_empty(painter);
    return;
  }
  if (model_.mode() == CompareMode::difference && !model_.difference().isNull()) {
    LensPixels one;
    one.shown = model_.difference();
    draw_image(painter, one, transform(false), rect());
  } else if (model_.pixels()) {
    draw_image(painter, *model_.pixels(), transform(false), pane(false));
  } else if (const QImage small = model_.first_view(); !small.isNull()) {
    // First view: the small picture until the pixels are there.
    painter.save();
    painter.setTransform(transform(false), true);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(0, 0, m->width, m->height), small);
    painter.restore();
  }
  if (side_by_side()) {
    draw_image(painter, *model_.other_pixels(), transform(true), pane(true));
    draw_marks(painter);
  } else if (model_.other_pixels() && model_.laid()) {
    const double x = wipe_ * width();
    if (model_.mode() == CompareMode::wipe)
      draw_image(painter, *model_.other_pixels(), transform(true),
                 QRectF(x, 0, width() - x, height()));
    if (model_.mode() == CompareMode::blink && blinked_)
      draw_image(painter, *model_.other_pixels(), transform(true), rect());
    if (model_.mode() == CompareMode::wipe) {
      painter.setPen(QPen(t.ochre, 2));
      painter.drawLine(QPointF(x, 0), QPointF(x, height()));
      painter.setBrush(t.ochre);
      painter.drawRoundedRect(QRectF(x - 6, 0.5 * height() - 18, 12, 36), 5, 5);
      const auto named = [&](const Micrograph* which) {
        return which->cuts ? tr("%1 cuts").arg(*which->cuts) : QString::fromStdString(which->name);
      };
      draw_label(painter,
                 {std::max(8.0, x - 12 - fontMetrics().horizontalAdvance(named(m)) - 12), 24},
                 named(m), false);
      draw_label(painter, {x + 12, 24}, named(model_.other()), false);
    }
    if (model_.mode() == CompareMode::blink) {
      const Micrograph* which = blinked_ ? model_.other() : m;
      draw_label(
          painter, {12, 24},
          which->cuts ? tr("%1 cuts").arg(*which->cuts) : QString::fromStdString(which->name),
          true);
    }
  }
  if (!side_by_side() && model_.mode() == CompareMode::none) {
    draw_measures(painter);
    draw_hints(painter);
  }
  draw_cursor(painter);
  draw_foot(painter);
  if (loupe_ && model_.pixels() && !side_by_side() && model_.mode() == CompareMode::none)
    draw_loupe(painter);
}

void LensCanvas::draw_segment(QPainter& painter, QPointF a, QPointF b, bool chosen) const {
  const Theme& t = photograph_theme();
  painter.setPen(QPen(t.on_ochre, chosen ? 5 : 4, Qt::SolidLine, Qt::RoundCap));
  painter.drawLine(a, b);
  painter.setPen(QPen(chosen ? t.ochre : t.ink, chosen ? 2.2 : 1.4, Qt::SolidLine, Qt::RoundCap));
  painter.drawLine(a, b);
}

void LensCanvas::draw_label(QPainter& painter, QPointF at, const QString& text, bool chosen) const {
  const Theme& t = photograph_theme();
  painter.setFont(font_of(kBody, chosen));
  const QFontMetrics metrics(painter.font());
  QRectF box(at.x(), at.y() - metrics.ascent() - 2, metrics.horizontalAdvance(text) + 10,
             metrics.height() + 4);
  box.moveLeft(std::clamp(box.left(), 2.0, std::max(2.0, width() - box.width() - 2)));
  box.moveTop(std::clamp(box.top(), 2.0, std::max(2.0, height() - box.height() - 2)));
  // Labels never hide each other: one that would goes up, where that fails down.
  const auto taken = [&](const QRectF& r) {
    return std::any_of(labels_.begin(), labels_.end(),
                       [&](const QRectF& other) { return other.intersects(r); });
  };
  for (const double way : {-1.0, 1.0}) {
    QRectF moved = box;
    for (int i = 0; i < 8 && taken(moved) && moved.top() > 2 && moved.bottom() < height() - 2; ++i)
      moved.translate(0, way * (box.height() + 2));
    if (!taken(moved) && moved.top() >= 0 && moved.bottom() <= height()) {
      box = moved;
      break;
    }
  }
  labels_.push_back(box);
  QColor plate = t.on_ochre;
  plate.setAlpha(205);
  painter.setPen(Qt::NoPen);
  painter.setBrush(plate);
  painter.drawRoundedRect(box, 3, 3);
  painter.setPen(chosen ? t.ochre : t.ink);
  painter.drawText(box, Qt::AlignCenter, text);
}

void LensCanvas::draw_measures(QPainter& painter) const {
  const Micrograph& m = *model_.current();
  const auto scale = model_.scale();
  for (std::size_t i = 0; i < m.measures.size(); ++i) {
    const bool chosen = int(i) == model_.chosen();
    const LensTake& take = m.measures[i].takes.back();
    if (take.box && take.points.size() == 2) {
      painter.setBrush(Qt::NoBrush);
      painter.setPen(
          QPen(chosen ? photograph_theme().ochre : photograph_theme().ink, 1.4, Qt::DashLine));
      painter.drawRect(QRectF(screen_of(take.points[0]), screen_of(take.points[1])).normalized());
    }
    for (std::size_t k = 0; k + 1 < take.drawn.size(); k += 2)
      draw_segment(painter, screen_of(take.drawn[k]), screen_of(take.drawn[k + 1]), chosen);
    if (take.drawn.size() < 2) continue;
    draw_label(
        painter, screen_of(take.drawn[1]) + QPointF(8, -6),
        tr("%1  %2").arg(i + 1).arg(QString::fromStdString(print_measure(m.measures[i], scale))),
        chosen);
  }
  const Theme& t = photograph_theme();
  for (const Spot& p : model_.points()) {
    painter.setPen(QPen(t.ochre, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(screen_of(p), 6, 6);
  }
  if (model_.points().size() == 1) {
    const QPointF a = screen_of(model_.points()[0]), b = screen_of(model_.cursor());
    painter.setPen(QPen(t.ochre, 1.4, Qt::DashLine));
    if (model_.tool() == LensTool::scratches && model_.box())
      painter.drawRect(QRectF(a, b).normalized());
    else
      painter.drawLine(a, b);
  } else if (model_.points().size() == 2) {
    draw_segment(painter, screen_of(model_.points()[0]), screen_of(model_.points()[1]), true);
  }
}

void LensCanvas::draw_hints(QPainter& painter) const {
  const Theme& t = photograph_theme();
  for (std::size_t i = 0; i < model_.hints().size(); ++i) {
    const DamageHint& hint = model_.hints()[i];
    const bool chosen = int(i) == model_.chosen_hint();
    const double k = zoom_ > 0 ? zoom_ : fitted_,
                 half = std::max(10.0, 0.5 * k * (hint.to_px - hint.from_px) + 6);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(chosen ? t.ochre : t.ink, chosen ? 2.4 : 1.4, Qt::DotLine));
    painter.drawEllipse(screen_of(hint.at), half, std::max(10.0, 0.5 * half));
    draw_label(painter, screen_of(hint.at) + QPointF(-half, -std::max(14.0, 0.5 * half + 6)),
               tr("%1?").arg(shown(hint.kind)), chosen);
  }
  for (const HintAnswer& answer : model_.current()->hints)
    if (answer.accepted)
      draw_label(painter, screen_of(answer.at) + QPointF(4, -10), shown(answer.kind), false);
}

void LensCanvas::draw_marks(QPainter& painter) const {
  const Theme& t = photograph_theme();
  for (const bool in_other : {false, true}) {
    const auto& marks = in_other ? model_.marks_there() : model_.marks_here();
    for (std::size_t i = 0; i < marks.size(); ++i) {
      const QPointF at = screen_of(marks[i], in_other);
      painter.setPen(QPen(t.ochre, 2));
      painter.setBrush(Qt::NoBrush);
      painter.drawEllipse(at, 9, 9);
      draw_label(painter, at + QPointF(12, 4), QString::number(i + 1), true);
    }
    const Micrograph* m = in_other ? model_.other() : model_.current();
    draw_label(painter, pane(in_other).topLeft() + QPointF(10, 24),
               m->cuts ? tr("%1, %2 cuts").arg(text_of(m->name), QString::number(*m->cuts))
                       : QString::fromStdString(m->name),
               false);
  }
  const bool there_next = model_.marks_here().size() > model_.marks_there().size();
  draw_label(painter, QPointF(10, height() - 44.0),
             model_.marks_here().size() >= 2 && !there_next &&
                     model_.marks_here().size() == model_.marks_there().size()
                 ? tr("Enter lays them over each other; a third mark makes it surer")
             : there_next ? tr("now the same mark in the right picture")
                          : tr("a mark in the left picture (corner of a scratch, a cross)"),
             true);
}

void LensCanvas::draw_cursor(QPainter& painter) const {
  if (!hasFocus() && !underMouse()) return;
  const Theme& t = photograph_theme();
  const QPointF at = over_other_ ? screen_of(other_cursor_, true) : screen_of(model_.cursor());
  for (const auto& [colour, width] : {std::pair(t.on_ochre, 3.0), std::pair(t.ochre, 1.2)}) {
    painter.setPen(QPen(colour, width));
    painter.drawLine(at - QPointF(12, 0), at - QPointF(4, 0));
    painter.drawLine(at + QPointF(4, 0), at + QPointF(12, 0));
    painter.drawLine(at - QPointF(0, 12), at - QPointF(0, 4));
    painter.drawLine(at + QPointF(0, 4), at + QPointF(0, 12));
  }
}

QString LensCanvas::readout() const {
  const Micrograph* m = model_.current();
  if (!m) return {};
  const auto scale = model_.scale();
  const double k = scale ? scale->um_per_px : 1;
  const QString unit = scale ? tr("µm") : tr("px");
  const auto number = [&](double v) {
    return QString::fromStdString(print_fixed(k * v, scale ? (k < 0.02 ? 3 : k < 0.5 ? 2 : 1) : 0));
  };
  QString out = tr("x %1  y %2 %3").arg(number(model_.cursor().x), number(model_.cursor().y), unit);
  if (model_.points().size() == 1)
    out += tr("   from the first point %1 %2")
               .arg(number(length(model_.cursor() - model_.points()[0])), unit);
  return out;
}

void LensCanvas::draw_foot(QPainter& painter) const {
  const Theme& t = photograph_theme();
  const auto scale = model_.scale();
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  // At the left: the picture's own bar is mostly at its right.
  if (scale && !side_by_side()) {
    const double um = scale_bar_um(0.7 * width() / k * scale->um_per_px),
                 wide = k * um / scale->um_per_px;
    QColor plate = t.on_ochre;
    plate.setAlpha(205);
    painter.setPen(Qt::NoPen);
    painter.setBrush(plate);
    painter.drawRoundedRect(QRectF(12, height() - 74.0, std::max(wide, 60.0) + 16, 40), 3, 3);
    painter.fillRect(QRectF(20, height() - 45.0, wide, 5), t.ink);
    painter.setPen(t.ink);
    painter.setFont(font_of(kBody));
    painter.drawText(QRectF(20, height() - 72.0, std::max(wide, 60.0), 22),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     QString::fromStdString(um >= 1000 ? print_number(um / 1000, 3) + " mm"
                                                       : print_number(um, 3) + " µm"));
  }
  QString text = readout();
  if (!scale) text += tr("   no scale: to be looked at, not measured");
  text += tr("   %1 %").arg(QString::fromStdString(print_number(100 * k, 3)));
  draw_label(painter, {12, height() - 14.0}, text, false);
}

void LensCanvas::draw_loupe(QPainter& painter) const {
  const Theme& t = photograph_theme();
  // In the corner away from the cross-hair.
  const QPointF cursor = screen_of(model_.cursor());
  const bool left = cursor.x() > kLoupe + 60 || cursor.y() > kLoupe + 60;
  const QRectF frame(left ? 10 : width() - kLoupe - 10, 10, kLoupe, kLoupe);
  painter.fillRect(frame, t.ground);
  const double k = std::max(kLoupeZoom, 2 * (zoom_ > 0 ? zoom_ : fitted_));
  QTransform to;
  to.translate(frame.center().x(), frame.center().y());
  to.scale(k, k);
  to.translate(-model_.cursor().x - 0.5, -model_.cursor().y - 0.5);
  draw_image(painter, *model_.pixels(), to, frame);
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(t.on_ochre, 3));
  painter.drawRect(frame);
  painter.setPen(QPen(t.ink, 1));
  painter.drawRect(frame);
  painter.setPen(QPen(t.ochre, 1));
  painter.drawLine(frame.center() - QPointF(14, 0), frame.center() - QPointF(3, 0));
  painter.drawLine(frame.center() + QPointF(3, 0), frame.center() + QPointF(14, 0));
  painter.drawLine(frame.center() - QPointF(0, 14), frame.center() - QPointF(0, 3));
  painter.drawLine(frame.center() + QPointF(0, 3), frame.center() + QPointF(0, 14));
}

void LensCanvas::draw_empty(QPainter& painter) const {
  const Theme& t = photograph_theme();
  const bool project = model_.workbench().has_project();
  painter.setPen(t.ink);
  painter.setFont(font_of(20));
  const QRectF room = QRectF(rect()).adjusted(40, 0, -40, -30);
  painter.drawText(
      room, Qt::AlignCenter | Qt::TextWordWrap,
      project ? tr("No pictures yet") : tr("Open a project: its pictures are looked at here"));
  if (!project) return;
  painter.setFont(font_of(kBody));
  painter.setPen(t.quiet);
  painter.drawText(room.translated(0, 44), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("Drop pictures of an apex here, paste one (Ctrl+V), press Bring in, or watch "
                      "the folder that your microscope's program saves into.\n\n"
                      "A bare edge under the microscope: clamp the blade, cover all of the edge "
                      "but the place. Local rules and trained persons come first."));
}

}  // namespace bq::ui
