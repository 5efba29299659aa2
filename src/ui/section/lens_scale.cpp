#include "ui/section/lens_scale.h"

#include <QMouseEvent>
#include <QPainter>
#include <QStyle>
#include <QVariantAnimation>

#include <cmath>
#include "ui/frame/preferences.h"

#include "ui/section/section_drawing.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {
constexpr int kTop = 26, kBottom = 14, kAxis = 22;
constexpr double kLeast = SectionDrawing::kLeastLens_mm, kLargest = SectionDrawing::kLargestLens_mm;
}  // namespace

LensScale::LensScale(QWidget* parent) : QWidget(parent), glide_(new QVariantAnimation(this)) {
  setFixedWidth(104);
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Lens: height of blade in the picture"));
  setToolTip(tr("Drag, or Page Up and Page Down for the next rest"));
  // Motion never delays: 120 ms, none where the desktop asks for none.
  glide_->setDuration(
      style()->styleHint(QStyle::SH_Widget_Animation_Duration) == 0 || preferences().still ? 0
                                                                                           : 120);
  connect(glide_, &QVariantAnimation::valueChanged, this,
          [this](const QVariant& value) { emit lens_moved(std::exp(value.toDouble())); });
}

void LensScale::set_lens(double mm) {
  lens_mm_ = mm;
  update();
}

void LensScale::set_rests(std::vector<Rest> rests) {
  rests_ = std::move(rests);
  update();
}

double LensScale::y_of(double mm) const {
  const double share = std::log(kLargest / mm) / std::log(kLargest / kLeast);
  return kTop + share * (height() - kTop - kBottom);
}

double LensScale::mm_at(double y) const {
  const double share = std::clamp((y - kTop) / (height() - kTop - kBottom), 0.0, 1.0);
  return kLargest * std::pow(kLeast / kLargest, share);
}

void LensScale::glide_to(double mm) {
  glide_->stop();
  if (glide_->duration() == 0) {
    emit lens_moved(mm);
    return;
  }
  glide_->setStartValue(std::log(lens_mm_));
  glide_->setEndValue(std::log(mm));
  glide_->start();
}

void LensScale::step(int direction) {
  const Rest* found = nullptr;
  for (const auto& rest : rests_) {
    const bool ahead =
        direction < 0 ? rest.lens_mm < lens_mm_ * 0.99 : rest.lens_mm > lens_mm_ * 1.01;
    if (ahead &&
        (!found || (direction < 0 ? rest.lens_mm > found->lens_mm : rest.lens_mm < found->lens_mm)))
      found = &rest;
  }
  if (found) glide_to(found->lens_mm);
}

void LensScale::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(t.quiet);
  painter.setFont(font_of(12, true));
  painter.drawText(QRect(4, 0, width(), 18), Qt::AlignLeft, tr("lens"));
  painter.setPen(QPen(t.ink, 1.5));
  painter.drawLine(QPointF(kAxis, y_of(kLargest)), QPointF(kAxis, y_of(kLeast)));
  painter.setFont(font_of(11));
  for (const double mm : {10.0, 1.0, 0.1, 0.01, 0.001}) {
    const double y = y_of(mm);
    painter.setPen(QPen(t.quiet, 1));
    painter.drawLine(QPointF(kAxis - 4, y), QPointF(kAxis, y));
  }
  double last = -100;
  for (const auto& rest : rests_) {
    const double y = y_of(std::clamp(rest.lens_mm, kLeast, kLargest));
    const bool here = std::abs(std::log(rest.lens_mm / lens_mm_)) < 0.02;
    painter.setPen(QPen(t.ink, 1.2));
    painter.setBrush(here ? t.ochre : t.ground);
    painter.drawEllipse(QPointF(kAxis, y), 4, 4);
    if (y - last < 26) continue;
    last = y;
    painter.setPen(t.ink);
    painter.setFont(font_of(12, here));
    painter.drawText(QRectF(kAxis + 12, y - 15, width() - kAxis - 12, 16),
                     Qt::AlignLeft | Qt::AlignVCenter, rest.name);
    painter.setPen(t.quiet);
    painter.setFont(font_of(11));
    painter.drawText(QRectF(kAxis + 12, y, width() - kAxis - 12, 14),
                     Qt::AlignLeft | Qt::AlignVCenter, length_text(rest.lens_mm));
  }
  const double y = y_of(lens_mm_);
  painter.setPen(QPen(hasFocus() ? t.ochre : t.ink, 2));
  painter.setBrush(t.ochre);
  painter.drawPolygon(
      QPolygonF{QPointF(kAxis - 14, y - 6), QPointF(kAxis - 3, y), QPointF(kAxis - 14, y + 6)});
}

void LensScale::mousePressEvent(QMouseEvent* event) {
  setFocus();
  for (const auto& rest : rests_)
    if (event->position().x() > kAxis + 6 &&
        std::abs(event->position().y() - y_of(rest.lens_mm)) < 14) {
      glide_to(rest.lens_mm);
      return;
    }
  glide_->stop();
  emit lens_moved(mm_at(event->position().y()));
}

void LensScale::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons() & Qt::LeftButton) emit lens_moved(mm_at(event->position().y()));
}

void LensScale::wheelEvent(QWheelEvent* event) {
  emit lens_moved(
      std::clamp(lens_mm_ * std::pow(1.0015, -event->angleDelta().y()), kLeast, kLargest));
}

void LensScale::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_PageDown:
      step(-1);
      break;
    case Qt::Key_PageUp:
      step(1);
      break;
    case Qt::Key_Down:
      emit lens_moved(lens_mm_ / 1.1);
      break;
    case Qt::Key_Up:
      emit lens_moved(lens_mm_ * 1.1);
      break;
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace bq::ui
