#include "ui/lens/lens_canvas.h"

#include <QDropEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QUrl>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"

namespace bq::ui {
namespace {
constexpr double kLeastZoom = 0.005, kMostZoom = 40;
constexpr int kLoupe = 152;
constexpr double kLoupeZoom = 6;
}  // namespace

LensCanvas::LensCanvas(LensModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAcceptDrops(true);
  setMinimumSize(320, 240);
  setAccessibleName(tr("Picture"));
  setAccessibleDescription(tr("Arrow keys move the cross-hair, Space or Enter shows a point, plus and minus zoom."));
  setCursor(Qt::CrossCursor);
  blink_.setInterval(600);
  connect(&blink_, &QTimer::timeout, this, [this] {
    blinked_ = !blinked_;
    update();
  });
  connect(&model_, &LensModel::picture_changed, this, [this] {
    if (model_.current_id() != shown_id_) {
      shown_id_ = model_.current_id();
      fit();
    }
    if (const Micrograph* other = model_.other()) other_cursor_ = {0.5 * other->width, 0.5 * other->height};
    update();
  });
  connect(&model_, &LensModel::changed, this, [this] {
    if (model_.mode() == CompareMode::blink) {
      if (!blink_.isActive()) blink_.start();
    } else {
      blink_.stop();
      blinked_ = false;
    }
    if (model_.tool() != LensTool::marks) over_other_ = false;
    if (side_by_side() != paired_) {
      paired_ = side_by_side();
      fit();
    }
    update();
  });
  connect(&model_, &LensModel::cursor_moved, this, QOverload<>::of(&QWidget::update));
}

QRectF LensCanvas::pane(bool of_other) const {
  if (!side_by_side()) return rect();
  const double half = 0.5 * width();
  return of_other ? QRectF(half + 2, 0, half - 2, height()) : QRectF(0, 0, half - 2, height());
}

void LensCanvas::fit() {
  const Micrograph* m = model_.current();
  zoom_ = 0;
  if (!m || m->width < 1 || m->height < 1) return;
  const QRectF room = pane(false);
  fitted_ = std::clamp(std::min((room.width() - 8) / m->width, (room.height() - 8) / m->height), kLeastZoom, kMostZoom);
  middle_ = {0.5 * (m->width - 1), 0.5 * (m->height - 1)};
  update();
}

void LensCanvas::zoom_to(double px_per_px) {
  zoom_ = std::clamp(px_per_px, kLeastZoom, kMostZoom);
  keep_inside();
  update();
}

void LensCanvas::keep_inside() {
  const Micrograph* m = model_.current();
  if (!m) return;
  middle_ = {std::clamp(middle_.x, 0.0, double(m->width - 1)), std::clamp(middle_.y, 0.0, double(m->height - 1))};
}

QTransform LensCanvas::transform(bool of_other) const {
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  const QRectF room = pane(of_other);
  QTransform out;
  out.translate(room.center().x(), room.center().y());
  if (of_other && side_by_side()) {
    // The other picture fills its own pane.
    const Micrograph* m = model_.other();
    const double fit = m ? std::min((room.width() - 8) / m->width, (room.height() - 8) / m->height) : 1;
    out.scale(fit, fit);
    if (m) out.translate(-0.5 * m->width, -0.5 * m->height);
    return out;
  }
  out.scale(k, k);
  out.translate(-middle_.x - 0.5, -middle_.y - 0.5);
  if (of_other)
    if (const SamePlace* laid = model_.laid()) {
      const Similarity back = laid->map.inverse();
      // Centres of pixels are laid on centres.
      out.translate(0.5, 0.5);
      out = QTransform(back.a, back.b, -back.b, back.a, back.dx, back.dy) * out;
      out.translate(-0.5, -0.5);
    }
  return out;
}

QPointF LensCanvas::screen_of(Spot p, bool in_other) const { return transform(in_other).map(QPointF(p.x + 0.5, p.y + 0.5)); }
Spot LensCanvas::spot_at(QPointF p, bool in_other) const {
  const QPointF at = transform(in_other).inverted().map(p);
  return {at.x() - 0.5, at.y() - 0.5};
}

void LensCanvas::draw_image(QPainter& painter, const LensPixels& pixels, const QTransform& to_screen, const QRectF& clip) const {
  // The copy that is nearest above the screen's fineness; only what is seen of it.
  const double k = std::hypot(to_screen.m11(), to_screen.m12()) * devicePixelRatioF();
  const QImage* image = &pixels.shown;
  double shrink = 1;
  for (const QImage& smaller : pixels.smaller) {
    if (k * shrink > 0.5) break;
    image = &smaller;
    shrink *= 2;
  }
  const double sx = double(pixels.shown.width()) / image->width(), sy = double(pixels.shown.height()) / image->height();
  painter.save();
  painter.setClipRect(clip);
  QTransform t = to_screen;
  t.scale(sx, sy);
  const QRectF seen = t.inverted().mapRect(clip).intersected(QRectF(0, 0, image->width(), image->height()));
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
    if (model_.mode() == CompareMode::wipe) draw_image(painter, *model_.other_pixels(), transform(true), QRectF(x, 0, width() - x, height()));
    if (model_.mode() == CompareMode::blink && blinked_) draw_image(painter, *model_.other_pixels(), transform(true), rect());
    if (model_.mode() == CompareMode::wipe) {
      painter.setPen(QPen(t.ochre, 2));
      painter.drawLine(QPointF(x, 0), QPointF(x, height()));
      painter.setBrush(t.ochre);
      painter.drawRoundedRect(QRectF(x - 6, 0.5 * height() - 18, 12, 36), 5, 5);
      const auto named = [&](const Micrograph* which) { return which->cuts ? tr("%1 cuts").arg(*which->cuts) : QString::fromStdString(which->name); };
      draw_label(painter, {std::max(8.0, x - 12 - fontMetrics().horizontalAdvance(named(m)) - 12), 24}, named(m), false);
      draw_label(painter, {x + 12, 24}, named(model_.other()), false);
    }
    if (model_.mode() == CompareMode::blink) {
      const Micrograph* which = blinked_ ? model_.other() : m;
      draw_label(painter, {12, 24}, which->cuts ? tr("%1 cuts").arg(*which->cuts) : QString::fromStdString(which->name), true);
    }
  }
  if (!side_by_side() && model_.mode() == CompareMode::none) {
    draw_measures(painter);
    draw_hints(painter);
  }
  draw_cursor(painter);
  draw_foot(painter);
  if (loupe_ && model_.pixels() && !side_by_side() && model_.mode() == CompareMode::none) draw_loupe(painter);
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
  QRectF box(at.x(), at.y() - metrics.ascent() - 2, metrics.horizontalAdvance(text) + 10, metrics.height() + 4);
  box.moveLeft(std::clamp(box.left(), 2.0, std::max(2.0, width() - box.width() - 2)));
  box.moveTop(std::clamp(box.top(), 2.0, std::max(2.0, height() - box.height() - 2)));
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
      painter.setPen(QPen(chosen ? photograph_theme().ochre : photograph_theme().ink, 1.4, Qt::DashLine));
      painter.drawRect(QRectF(screen_of(take.points[0]), screen_of(take.points[1])).normalized());
    }
    for (std::size_t k = 0; k + 1 < take.drawn.size(); k += 2) draw_segment(painter, screen_of(take.drawn[k]), screen_of(take.drawn[k + 1]), chosen);
    if (take.drawn.size() < 2) continue;
    draw_label(painter, screen_of(take.drawn[1]) + QPointF(8, -6), tr("%1  %2").arg(i + 1).arg(QString::fromStdString(print_measure(m.measures[i], scale))), chosen);
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
    if (model_.tool() == LensTool::scratches && model_.box()) painter.drawRect(QRectF(a, b).normalized());
    else painter.drawLine(a, b);
  } else if (model_.points().size() == 2) {
    draw_segment(painter, screen_of(model_.points()[0]), screen_of(model_.points()[1]), true);
  }
}

void LensCanvas::draw_hints(QPainter& painter) const {
  const Theme& t = photograph_theme();
  for (std::size_t i = 0; i < model_.hints().size(); ++i) {
    const DamageHint& hint = model_.hints()[i];
    const bool chosen = int(i) == model_.chosen_hint();
    const double k = zoom_ > 0 ? zoom_ : fitted_, half = std::max(10.0, 0.5 * k * (hint.to_px - hint.from_px) + 6);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(chosen ? t.ochre : t.ink, chosen ? 2.4 : 1.4, Qt::DotLine));
    painter.drawEllipse(screen_of(hint.at), half, std::max(10.0, 0.5 * half));
    draw_label(painter, screen_of(hint.at) + QPointF(-half, -std::max(14.0, 0.5 * half + 6)), tr("%1?").arg(QString::fromUtf8(name_of(hint.kind).data())), chosen);
  }
  for (const HintAnswer& answer : model_.current()->hints)
    if (answer.accepted) draw_label(painter, screen_of(answer.at) + QPointF(4, -10), QString::fromUtf8(name_of(answer.kind).data()), false);
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
    draw_label(painter, pane(in_other).topLeft() + QPointF(10, 24), m->cuts ? tr("%1, %2 cuts").arg(QString::fromStdString(m->name)).arg(*m->cuts) : QString::fromStdString(m->name), false);
  }
  const bool there_next = model_.marks_here().size() > model_.marks_there().size();
  draw_label(painter, QPointF(10, height() - 44.0),
             model_.marks_here().size() >= 2 && !there_next && model_.marks_here().size() == model_.marks_there().size()
                 ? tr("Enter lays them over each other; a third mark makes it surer")
                 : there_next ? tr("now the same mark in the right picture") : tr("a mark in the left picture (corner of a scratch, a cross)"),
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
  const auto number = [&](double v) { return QString::fromStdString(print_fixed(k * v, scale ? (k < 0.02 ? 3 : k < 0.5 ? 2 : 1) : 0)); };
  QString out = tr("x %1  y %2 %3").arg(number(model_.cursor().x), number(model_.cursor().y), unit);
  if (model_.points().size() == 1) out += tr("   from the first point %1 %2").arg(number(length(model_.cursor() - model_.points()[0])), unit);
  return out;
}

void LensCanvas::draw_foot(QPainter& painter) const {
  const Theme& t = photograph_theme();
  const auto scale = model_.scale();
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  double right = width() - 12.0;
  if (scale && !side_by_side()) {
    const double um = scale_bar_um(0.7 * width() / k * scale->um_per_px), wide = k * um / scale->um_per_px;
    QColor plate = t.on_ochre;
    plate.setAlpha(205);
    painter.setPen(Qt::NoPen);
    painter.setBrush(plate);
    painter.drawRoundedRect(QRectF(right - wide - 12, height() - 42.0, wide + 18, 36), 3, 3);
    painter.fillRect(QRectF(right - wide - 3, height() - 16.0, wide, 5), t.ink);
    painter.setPen(t.ink);
    painter.setFont(font_of(kBody));
    painter.drawText(QRectF(right - wide - 60, height() - 40.0, wide + 57, 20), Qt::AlignRight | Qt::AlignVCenter, QString::fromStdString(um >= 1000 ? print_number(um / 1000, 3) + " mm" : print_number(um, 3) + " µm"));
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
  painter.drawText(room, Qt::AlignCenter | Qt::TextWordWrap, project ? tr("No pictures yet") : tr("Open a project: its pictures are looked at here"));
  if (!project) return;
  painter.setFont(font_of(kBody));
  painter.setPen(t.quiet);
  painter.drawText(room.translated(0, 44), Qt::AlignCenter | Qt::TextWordWrap,
                   tr("Drop pictures of an apex here, paste one (Ctrl+V), press Bring in, or watch the folder that your microscope's program saves into."));
}

void LensCanvas::resizeEvent(QResizeEvent*) {
  if (zoom_ <= 0) fit();
}

void LensCanvas::set_loupe(bool shown) {
  loupe_ = shown;
  update();
}
void LensCanvas::set_wipe(double share) {
  wipe_ = std::clamp(share, 0.0, 1.0);
  update();
}
void LensCanvas::shift(QPointF by) {
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  if (zoom_ <= 0) zoom_ = fitted_;
  middle_ = middle_ - Spot{by.x() / k, by.y() / k};
  keep_inside();
  update();
}

void LensCanvas::point_shown(QPointF at) {
  if (side_by_side()) {
    const bool in_other = pane(true).contains(at);
    model_.show_mark(spot_at(at, in_other), in_other);
    return;
  }
  model_.show_point(spot_at(at));
}

void LensCanvas::mousePressEvent(QMouseEvent* event) {
  setFocus(Qt::MouseFocusReason);
  pressed_ = last_ = event->position();
  dragging_ = false;
  wiping_ = event->button() == Qt::LeftButton && model_.mode() == CompareMode::wipe && std::abs(event->position().x() - wipe_ * width()) < 14;
}

void LensCanvas::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  if (wiping_) {
    set_wipe(at.x() / width());
    return;
  }
  const bool pans = event->buttons() & (Qt::MiddleButton | Qt::RightButton) || (event->buttons() & Qt::LeftButton && model_.tool() == LensTool::look);
  if (pans) {
    if (dragging_ || (at - pressed_).manhattanLength() > 4) {
      dragging_ = true;
      shift(at - last_);
    }
    last_ = at;
    return;
  }
  if (event->buttons() & Qt::LeftButton && !dragging_ && (at - pressed_).manhattanLength() > 6 && model_.points().empty() && !side_by_side()) {
    // Drawn in one go: press shows the first point, release the second.
    dragging_ = true;
    model_.show_point(spot_at(pressed_));
  }
  over_other_ = side_by_side() && pane(true).contains(at);
  if (over_other_) {
    other_cursor_ = spot_at(at, true);
    update();
  } else {
    model_.move_cursor(spot_at(at));
  }
}

void LensCanvas::mouseReleaseEvent(QMouseEvent* event) {
  if (wiping_) {
    wiping_ = false;
    return;
  }
  if (event->button() != Qt::LeftButton) return;
  if (model_.tool() == LensTool::look && dragging_) return;
  if (model_.tool() != LensTool::look) point_shown(event->position());
  dragging_ = false;
}

void LensCanvas::wheelEvent(QWheelEvent* event) {
  const Spot under = spot_at(event->position());
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  zoom_ = std::clamp(k * std::pow(1.0015, event->angleDelta().y()), kLeastZoom, kMostZoom);
  // What lies under the pointer stays there.
  const QPointF off = event->position() - pane(false).center();
  middle_ = {under.x - off.x() / zoom_, under.y - off.y() / zoom_};
  keep_inside();
  update();
  event->accept();
}

void LensCanvas::keyPressEvent(QKeyEvent* event) {
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  const bool shifted = event->modifiers() & Qt::ShiftModifier;
  QPointF step;
  switch (event->key()) {
    case Qt::Key_Left: step = {-1, 0}; break;
    case Qt::Key_Right: step = {1, 0}; break;
    case Qt::Key_Up: step = {0, -1}; break;
    case Qt::Key_Down: step = {0, 1}; break;
    case Qt::Key_Plus:
    case Qt::Key_Equal: zoom_to(1.25 * k); return;
    case Qt::Key_Minus: zoom_to(0.8 * k); return;
    case Qt::Key_0: fit(); return;
    case Qt::Key_1: zoom_to(1); return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (side_by_side() && model_.marks_here().size() == model_.marks_there().size() && model_.marks_here().size() >= 2) {
        model_.lay_over();
        return;
      }
      [[fallthrough]];
    case Qt::Key_Space:
      if (side_by_side()) {
        model_.show_mark(over_other_ ? other_cursor_ : model_.cursor(), over_other_);
        over_other_ = model_.marks_here().size() > model_.marks_there().size();
      } else {
        model_.show_point(model_.cursor());
      }
      return;
    case Qt::Key_Less:
    case Qt::Key_Comma: set_wipe(wipe_ - 0.05); return;
    case Qt::Key_Greater:
    case Qt::Key_Period: set_wipe(wipe_ + 0.05); return;
    default: QWidget::keyPressEvent(event); return;
  }
  if (event->modifiers() & Qt::ControlModifier) {
    shift(QPointF(-60 * step.x(), -60 * step.y()));
    return;
  }
  // A step is a pixel of the screen, or of the picture where it is enlarged; with Shift ten of them.
  const double by = (shifted ? 10 : 1) * std::max(1.0, std::min(1 / k, 50.0)) / (k > 1 ? std::min(k, 4.0) : 1);
  if (side_by_side() && over_other_) {
    other_cursor_ = other_cursor_ + Spot{by * step.x(), by * step.y()};
    update();
  } else {
    model_.move_cursor(model_.cursor() + Spot{by * step.x(), by * step.y()});
    const QPointF at = screen_of(model_.cursor());
    if (!rect().contains(at.toPoint())) shift(-60 * step);
  }
}

void LensCanvas::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls() || event->mimeData()->hasImage()) event->acceptProposedAction();
}

void LensCanvas::dropEvent(QDropEvent* event) {
  QStringList paths;
  for (const QUrl& url : event->mimeData()->urls())
    if (url.isLocalFile()) paths << url.toLocalFile();
  if (!paths.isEmpty()) emit files_dropped(paths);
  else if (event->mimeData()->hasImage()) model_.paste(qvariant_cast<QImage>(event->mimeData()->imageData()));
  event->acceptProposedAction();
}

}  // namespace bq::ui
