#include "ui/bench/stroke_trace.h"

#include <QPainter>

#include "bluntness/stroke_force.h"
#include "quantity/number.h"
#include "ui/theme/theme.h"

namespace bq::ui {

StrokeTrace::StrokeTrace(InstrumentDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(90);
  setAccessibleName(tr("Live stroke"));
  // Drawn when there is something new, at most sixty times a second.
  frame_.setSingleShot(true);
  frame_.setInterval(16);
  connect(&desk_, &InstrumentDesk::streamed, this, [this](InstrumentRole role) {
    if (role == InstrumentRole::force_cell && !frame_.isActive()) frame_.start();
  });
  connect(&frame_, &QTimer::timeout, this, qOverload<>(&QWidget::update));
}

void StrokeTrace::show_stroke(const std::optional<ForceStroke>& stroke, double stroke_mm) {
  stroke_ = stroke;
  stroke_mm_ = stroke_mm;
  update();
}

void StrokeTrace::draw_samples(QPainter& painter, const QRectF& box,
                               const std::vector<float>& samples, double low, double high) {
  if (samples.empty()) return;
  const auto y = [&](double value) {
    return box.bottom() - (value - low) / (high - low) * box.height();
  };
  const int columns = std::max(1, int(box.width()));
  QPointF last;
  for (int c = 0; c < columns; ++c) {
    const auto from = std::size_t(double(c) / columns * double(samples.size()));
    const auto to =
        std::min(samples.size(),
                 std::max(from + 1, std::size_t(double(c + 1) / columns * double(samples.size()))));
    if (from >= samples.size()) break;
    const auto [least, most] = std::minmax_element(samples.begin() + std::ptrdiff_t(from),
                                                   samples.begin() + std::ptrdiff_t(to));
    const double x = box.left() + c;
    painter.drawLine(QPointF(x, y(*least)), QPointF(x, y(*most)));
    const QPointF here(x, y(0.5 * double(*least + *most)));
    if (c) painter.drawLine(last, here);
    last = here;
  }
}

void StrokeTrace::paintEvent(QPaintEvent*) {
  ++frames_;
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setFont(font_of(12));
  const QRectF box = QRectF(rect()).adjusted(46, 20, -6, -6);
  painter.setPen(QPen(t.hairline, 1));
  painter.drawLine(box.bottomLeft(), box.bottomRight());
  const auto& trace = desk_.trace(InstrumentRole::force_cell);
  const auto last_second = [&] {
    const std::size_t count = std::min<std::size_t>(trace.size(), 1500);
    return std::vector<float>(trace.end() - std::ptrdiff_t(count), trace.end());
  };
  const bool live = !stroke_ && !trace.empty();
  const std::vector<float> samples = live      ? last_second()
                                     : stroke_ ? stroke_->force_N
                                               : std::vector<float>();
  if (samples.empty()) {
    painter.setPen(t.quiet);
    painter.drawText(
        QRectF(rect()), Qt::AlignCenter | Qt::TextWordWrap,
        tr("The stroke appears here while it is made (T asks the force cell for one)."));
    return;
  }
  const auto [least, most] = std::minmax_element(samples.begin(), samples.end());
  const double low = std::min(0.0, double(*least)),
               high = std::max(low + 0.5, double(*most) * 1.08);
  const auto y = [&](double value) {
    return box.bottom() - (value - low) / (high - low) * box.height();
  };
  QString words = tr("live, N");
  if (!live) {
    if (const auto figures = stroke_figures(*stroke_, {stroke_mm_, 0.1, 0.03, 0.01})) {
      const auto x = [&](std::size_t i) {
        return box.left() + double(i) / double(samples.size()) * box.width();
      };
      painter.fillRect(
          QRectF(QPointF(x(figures->from), box.top()), QPointF(x(figures->to), box.bottom())),
          t.chosen);
      painter.setPen(QPen(t.ochre, 1.5, Qt::DashLine));
      painter.drawLine(QPointF(box.left(), y(figures->zero_N + figures->mean_N)),
                       QPointF(box.right(), y(figures->zero_N + figures->mean_N)));
      const auto n = [](double value) { return QString::fromStdString(print_number(value, 3)); };
      words = tr("last stroke: peak %1 N, mean %2 N over %3 ms")
                  .arg(n(figures->peak_N), n(figures->mean_N), n(1000 * figures->seconds));
      if (figures->work_J > 0) words += tr(", work %1 J").arg(n(figures->work_J));
      if (!figures->troubles.empty())
        words += tr(" · %1").arg(QString::fromStdString(figures->troubles.front()));
    }
  }
  painter.setPen(QPen(t.ink, 1.2));
  draw_samples(painter, box, samples, low, high);
  painter.setPen(t.ink);
  painter.drawText(QRectF(0, 0, width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
                   QFontMetricsF(painter.font()).elidedText(words, Qt::ElideRight, width()));
  painter.setPen(t.quiet);
  for (const double mark : {0.0, double(*most)})
    painter.drawText(QRectF(0, y(mark) - 8, 40, 16), Qt::AlignRight | Qt::AlignVCenter,
                     QString::fromStdString(print_number(mark, 2)));
}

}  // namespace bq::ui
