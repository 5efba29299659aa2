#include "ui/lens/place_strip.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>

#include "quantity/number.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {
constexpr double kWide = 112, kHigh = 72, kTop = 24, kStep = 122;
}

PlaceStrip::PlaceStrip(LensModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setFixedHeight(122);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Pictures of this place over the cuts"));
  connect(&model_, &LensModel::picture_changed, this, &PlaceStrip::reload);
  connect(&model_, &LensModel::changed, this, &PlaceStrip::reload);
  reload();
}

void PlaceStrip::reload() {
  shown_.clear();
  const Micrograph* m = model_.current();
  if (m) {
    for (const std::size_t i : pictures_of_place(model_.trial(), *m))
      shown_.push_back(model_.trial().micrographs[i].id);
    if (!m->stone.empty()) {
      heading_ = tr("Sample pieces of %1").arg(QString::fromStdString(m->stone));
    } else if (m->blade.empty() && m->run.empty()) {
      heading_ =
          tr("Not tied to an edge yet: say on Place what it shows, and the pictures of the same "
             "place stand here over the cuts");
    } else {
      QString place;
      if (m->side) place += QStringLiteral(", ") + shown(*m->side);
      if (m->at_mm)
        place +=
            tr(", %1 mm from the heel").arg(QString::fromStdString(print_number(*m->at_mm, 3)));
      if (!m->mark.empty()) place += QStringLiteral(", ") + QString::fromStdString(m->mark);
      heading_ = tr("The same place over the cuts: %1%2")
                     .arg(QString::fromStdString(m->blade.empty() ? m->run : m->blade), place);
    }
  } else {
    heading_ = tr("Pictures of one place stand here over the cuts");
  }
  const double most = std::max(0.0, kStep * double(shown_.size()) - width() + 16);
  scroll_ = std::clamp(scroll_, 0.0, most);
  update();
}

QRectF PlaceStrip::frame_of(int index) const {
  return {8 + kStep * index - scroll_, kTop, kWide, kHigh};
}

void PlaceStrip::paintEvent(QPaintEvent*) {
  const Theme& t = photograph_theme();
  QPainter painter(this);
  painter.fillRect(rect(), t.panel);
  painter.setFont(font_of(kBody));
  painter.setPen(t.quiet);
  painter.drawText(QRectF(10, 2, width() - 20.0, kTop - 2), Qt::AlignLeft | Qt::AlignVCenter,
                   painter.fontMetrics().elidedText(heading_, Qt::ElideRight, width() - 20));
  for (int i = 0; i < int(shown_.size()); ++i) {
    const QRectF frame = frame_of(i);
    if (frame.right() < 0 || frame.left() > width()) continue;
    const Micrograph* m = model_.workbench().session().micrograph(shown_[std::size_t(i)]);
    if (!m) continue;
    const QImage small = model_.thumbnail(m->id);
    painter.fillRect(frame, t.ground);
    if (!small.isNull()) {
      const QImage fitted =
          small.scaled(int(kWide * devicePixelRatioF()), int(kHigh * devicePixelRatioF()),
                       Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
      const double k = devicePixelRatioF();
      painter.drawImage(frame, fitted,
                        QRectF(0.5 * (fitted.width() - kWide * k),
                               0.5 * (fitted.height() - kHigh * k), kWide * k, kHigh * k));
    }
    const bool now = m->id == model_.current_id(),
               other = model_.other() && m->id == model_.other()->id;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(now     ? QPen(t.ochre, 3)
                   : other ? QPen(t.ochre, 2, Qt::DashLine)
                           : QPen(t.hairline, 1));
    painter.drawRect(frame);
    painter.setPen(now ? t.ochre : t.ink);
    const QString name =
        m->cuts && m->stone.empty() ? tr("%1 cuts").arg(*m->cuts) : QString::fromStdString(m->name);
    painter.drawText(QRectF(frame.left(), frame.bottom() + 2, kWide, 20), Qt::AlignCenter,
                     painter.fontMetrics().elidedText(name, Qt::ElideMiddle, int(kWide)));
  }
  if (hasFocus()) {
    painter.setPen(QPen(t.ochre, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void PlaceStrip::mousePressEvent(QMouseEvent* event) {
  for (int i = 0; i < int(shown_.size()); ++i)
    if (frame_of(i).contains(event->position())) {
      if (event->modifiers() & Qt::ControlModifier)
        model_.compare_with(shown_[std::size_t(i)]);
      else
        model_.open(shown_[std::size_t(i)]);
      return;
    }
}

void PlaceStrip::keyPressEvent(QKeyEvent* event) {
  const auto at = std::find(shown_.begin(), shown_.end(), model_.current_id()) - shown_.begin();
  const auto to = at + (event->key() == Qt::Key_Right) - (event->key() == Qt::Key_Left);
  if (to != at && to >= 0 && to < std::ptrdiff_t(shown_.size()))
    model_.open(shown_[std::size_t(to)]);
  else if (to == at)
    QWidget::keyPressEvent(event);
}

void PlaceStrip::wheelEvent(QWheelEvent* event) {
  scroll_ = std::clamp(scroll_ - 0.5 * (event->angleDelta().y() + event->angleDelta().x()), 0.0,
                       std::max(0.0, kStep * double(shown_.size()) - width() + 16));
  update();
  event->accept();
}

}  // namespace bq::ui
