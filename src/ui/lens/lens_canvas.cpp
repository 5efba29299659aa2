#include "ui/lens/lens_canvas.h"

#include <QDropEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QResizeEvent>
#include <QUrl>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace bq::ui {
namespace {
constexpr double kLeastZoom = 0.005, kMostZoom = 40;
}  // namespace

LensCanvas::LensCanvas(LensModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAcceptDrops(true);
  setMinimumSize(320, 240);
  setAccessibleName(tr("Picture"));
  setAccessibleDescription(
      tr("Arrow keys move the cross-hair, Space or Enter shows a point, plus and minus zoom."));
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
    if (const Micrograph* other = model_.other())
      other_cursor_ = {0.5 * other->width, 0.5 * other->height};
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
  fitted_ = std::clamp(std::min((room.width() - 8) / m->width, (room.height() - 8) / m->height),
                       kLeastZoom, kMostZoom);
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
  middle_ = {std::clamp(middle_.x, 0.0, double(m->width - 1)),
             std::clamp(middle_.y, 0.0, double(m->height - 1))};
}

QTransform LensCanvas::transform(bool of_other) const {
  const double k = zoom_ > 0 ? zoom_ : fitted_;
  const QRectF room = pane(of_other);
  QTransform out;
  out.translate(room.center().x(), room.center().y());
  if (of_other && side_by_side()) {
    // The other picture fills its own pane.
    const Micrograph* m = model_.other();
    const double fit =
        m ? std::min((room.width() - 8) / m->width, (room.height() - 8) / m->height) : 1;
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

double LensCanvas::px_per_screen_px() const {
  return 1 / ((zoom_ > 0 ? zoom_ : fitted_) * devicePixelRatioF());
}

QPointF LensCanvas::screen_of(Spot p, bool in_other) const {
  return transform(in_other).map(QPointF(p.x + 0.5, p.y + 0.5));
}
Spot LensCanvas::spot_at(QPointF p, bool in_other) const {
  const QPointF at = transform(in_other).inverted().map(p);
  return {at.x() - 0.5, at.y() - 0.5};
}

void LensCanvas::resizeEvent(QResizeEvent* event) {
  if (!model_.points().empty() || !model_.marks_here().empty()) {
    // A message that takes some of the window between two clicks must not move what is measured.
    if (zoom_ <= 0) zoom_ = fitted_;
    held_ = true;
    const QSizeF more = QSizeF(event->size()) - QSizeF(event->oldSize());
    middle_ = middle_ + Spot{0.5 * more.width() / zoom_, 0.5 * more.height() / zoom_};
    return;
  }
  if (held_) {
    held_ = false;
    zoom_ = 0;
  }
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
  model_.show_point(spot_at(at), px_per_screen_px());
}

void LensCanvas::mousePressEvent(QMouseEvent* event) {
  setFocus(Qt::MouseFocusReason);
  pressed_ = last_ = event->position();
  dragging_ = false;
  wiping_ = event->button() == Qt::LeftButton && model_.mode() == CompareMode::wipe &&
            std::abs(event->position().x() - wipe_ * width()) < 14;
}

void LensCanvas::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = event->position();
  if (wiping_) {
    set_wipe(at.x() / width());
    return;
  }
  const bool pans = event->buttons() & (Qt::MiddleButton | Qt::RightButton) ||
                    (event->buttons() & Qt::LeftButton && model_.tool() == LensTool::look);
  if (pans) {
    if (dragging_ || (at - pressed_).manhattanLength() > 4) {
      dragging_ = true;
      shift(at - last_);
    }
    last_ = at;
    return;
  }
  if (event->buttons() & Qt::LeftButton && !dragging_ && (at - pressed_).manhattanLength() > 6 &&
      model_.points().empty() && !side_by_side()) {
    // Drawn in one go: press shows the first point, release the second.
    dragging_ = true;
    model_.show_point(spot_at(pressed_), px_per_screen_px());
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
    case Qt::Key_Left:
      step = {-1, 0};
      break;
    case Qt::Key_Right:
      step = {1, 0};
      break;
    case Qt::Key_Up:
      step = {0, -1};
      break;
    case Qt::Key_Down:
      step = {0, 1};
      break;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      zoom_to(1.25 * k);
      return;
    case Qt::Key_Minus:
      zoom_to(0.8 * k);
      return;
    case Qt::Key_0:
      fit();
      return;
    case Qt::Key_1:
      zoom_to(1);
      return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (side_by_side() && model_.marks_here().size() == model_.marks_there().size() &&
          model_.marks_here().size() >= 2) {
        model_.lay_over();
        return;
      }
      [[fallthrough]];
    case Qt::Key_Space:
      if (side_by_side()) {
        model_.show_mark(over_other_ ? other_cursor_ : model_.cursor(), over_other_);
        over_other_ = model_.marks_here().size() > model_.marks_there().size();
      } else {
        model_.show_point(model_.cursor(), px_per_screen_px());
      }
      return;
    case Qt::Key_Less:
    case Qt::Key_Comma:
      set_wipe(wipe_ - 0.05);
      return;
    case Qt::Key_Greater:
    case Qt::Key_Period:
      set_wipe(wipe_ + 0.05);
      return;
    default:
      QWidget::keyPressEvent(event);
      return;
  }
  if (event->modifiers() & Qt::ControlModifier) {
    shift(QPointF(-60 * step.x(), -60 * step.y()));
    return;
  }
  // A step is a pixel of the screen, or of the picture where it is enlarged; with Shift ten of
  // them.
  const double by =
      (shifted ? 10 : 1) * std::max(1.0, std::min(1 / k, 50.0)) / (k > 1 ? std::min(k, 4.0) : 1);
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
  if (!paths.isEmpty())
    emit files_dropped(paths);
  else if (event->mimeData()->hasImage())
    model_.paste(qvariant_cast<QImage>(event->mimeData()->imageData()));
  event->acceptProposedAction();
}

}  // namespace bq::ui
