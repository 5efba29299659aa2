#include "ui/frame/path_rail.h"

#include <QAbstractButton>
#include <QPainter>
#include <QVBoxLayout>

#include "ui/theme/theme.h"

namespace bq::ui {
namespace {
constexpr int kLineX = 18, kStopHeight = 64;
}

/// One stop; a real button, so that Tab and a screen reader find it.
class PathRail::Stop : public QAbstractButton {
 public:
  Stop(const QString& name, int number, QWidget* parent) : QAbstractButton(parent), name_(name) {
    setFixedHeight(kStopHeight);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(name);
    setToolTip(QStringLiteral("Ctrl+%1").arg(number));
  }
  void set_fact(const QString& fact) {
    fact_ = fact;
    setAccessibleDescription(fact);
    update();
  }
  void set_current(bool current) {
    current_ = current;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (underMouse() || hasFocus()) {
      QColor wash = t.chosen;
      wash.setAlphaF(0.6F);
      painter.fillRect(rect().adjusted(28, 6, -4, -6), wash);
    }
    if (hasFocus()) {
      painter.setPen(QPen(t.ochre, 2));
      painter.drawRect(rect().adjusted(28, 6, -5, -7));
    }
    const QPointF centre(kLineX, 24);
    if (current_) {
      const QPolygonF diamond{QPointF(0, -8), QPointF(8, 0), QPointF(0, 8), QPointF(-8, 0)};
      painter.setBrush(t.ochre);
      painter.setPen(QPen(t.ink, 1.5));
      painter.drawPolygon(diamond.translated(centre));
    } else {
      painter.setBrush(t.ground);
      painter.setPen(QPen(t.ink, 1.5));
      painter.drawEllipse(centre, 4.5, 4.5);
    }
    painter.setPen(t.ink);
    painter.setFont(font_of(15, current_));
    painter.drawText(QRect(36, 12, width() - 40, 22), Qt::AlignLeft | Qt::AlignVCenter, name_);
    painter.setPen(t.quiet);
    painter.setFont(font_of(12));
    painter.drawText(QRect(36, 34, width() - 40, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(fact_, Qt::ElideRight, width() - 42));
  }

 private:
  QString name_, fact_;
  bool current_ = false;
};

PathRail::PathRail(const QStringList& stations, QWidget* parent) : QWidget(parent) {
  setFixedWidth(kWidth);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 12, 0, 0);
  layout->setSpacing(0);
  for (int i = 0; i < stations.size(); ++i) {
    auto* stop = new Stop(stations[i], i + 1, this);
    connect(stop, &QAbstractButton::clicked, this, [this, i] { emit chosen(i); });
    stops_.push_back(stop);
    layout->addWidget(stop);
  }
  layout->addStretch();
}

void PathRail::set_facts(const QStringList& facts) {
  for (std::size_t i = 0; i < stops_.size(); ++i) stops_[i]->set_fact(facts.value(int(i)));
}

void PathRail::set_reached(int station) {
  reached_ = station;
  update();
}

void PathRail::set_current(int station) {
  current_ = station;
  for (std::size_t i = 0; i < stops_.size(); ++i) stops_[i]->set_current(int(i) == station);
}

void PathRail::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setPen(QPen(t.hairline, 1));
  painter.drawLine(width() - 1, 0, width() - 1, height());
  const int top = 12 + 24;
  for (int i = 0; i + 1 < int(stops_.size()); ++i) {
    const bool solid = i < reached_;
    painter.setPen(
        QPen(solid ? t.ink : t.quiet, solid ? 2.0 : 1.0, solid ? Qt::SolidLine : Qt::DotLine));
    painter.drawLine(kLineX, top + i * kStopHeight, kLineX, top + (i + 1) * kStopHeight);
  }
}

}  // namespace bq::ui
