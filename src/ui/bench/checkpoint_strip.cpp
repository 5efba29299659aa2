#include "ui/bench/checkpoint_strip.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <set>

#include "ui/frame/workbench.h"
#include "ui/parts/stamps.h"
#include "workflow/sentences.h"

namespace bq::ui {

CheckpointStrip::CheckpointStrip(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench) {
  setFixedHeight(104);
  setAccessibleName(tr("Checkpoints of this run"));
}

void CheckpointStrip::reload() {
  columns_.clear();
  if (workbench_.current_run() >= 0) {
    const Trial& trial = workbench_.trial();
    const Run& run = trial.runs[std::size_t(workbench_.current_run())];
    std::set<std::int64_t> cuts(run.plan.checkpoints.begin(), run.plan.checkpoints.end());
    for (const auto& reading : run.readings) cuts.insert(reading.cuts);
    const Step step = next_step(run);
    const auto suspects = suspects_of(run);
    for (const auto at : cuts) {
      Column& column = columns_.emplace_back();
      column.cuts = at;
      column.current = step.kind != StepKind::finished && step.at_cuts == at;
      column.passed = at <= run.cuts_done;
    }
    for (std::size_t i = 0; i < run.readings.size(); ++i) {
      const auto column =
          std::lower_bound(columns_.begin(), columns_.end(), run.readings[i].cuts,
                           [](const Column& c, std::int64_t at) { return c.cuts < at; });
      column->dots.push_back({{}, int(i), run.readings[i].excluded, {}});
      for (const auto& suspect : suspects)
        if (suspect.reading_index == i) column->dots.back().suspect = suspect.reason;
    }
  }
  update();
}

QString CheckpointStrip::words_of(const Dot& dot) const {
  const Trial& trial = workbench_.trial();
  const Reading& reading =
      trial.runs[std::size_t(workbench_.current_run())].readings[std::size_t(dot.reading)];
  QString out = tr("%1 at %2 cuts")
                    .arg(workbench_.print_value(convert(reading.value, reading.unit, trial.unit())),
                         QString::fromStdString(print_cuts(double(reading.cuts))));
  if (reading.station)
    out += tr(", %1").arg(QString::fromStdString(trial.labels.text(reading.station)));
  if (reading.excluded) out += tr("\ntaken out");
  const std::string& reason = reading.reason ? trial.labels.text(reading.reason) : dot.suspect;
  if (!reason.empty()) out += '\n' + QString::fromStdString(reason);
  return out;
}

void CheckpointStrip::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  if (columns_.empty()) return;
  double low = 1e300, high = -1e300;
  const Trial& trial = workbench_.trial();
  const Run& run = trial.runs[std::size_t(workbench_.current_run())];
  const auto height_of = [&](const Dot& dot) {
    const Reading& reading = run.readings[std::size_t(dot.reading)];
    return std::log(convert(reading.value, reading.unit, trial.unit()));
  };
  for (const auto& column : columns_)
    for (const auto& dot : column.dots) {
      low = std::min(low, height_of(dot));
      high = std::max(high, height_of(dot));
    }
  high = std::max(high, low + 0.2);
  Stamps plain = Stamps::discs(devicePixelRatioF(), 3.5, QPen(t.ink, 1.2), t.ink);
  const bool many = run.readings.size() > kManyMarks;
  const double step = double(width()) / double(columns_.size());
  for (std::size_t i = 0; i < columns_.size(); ++i) {
    Column& column = columns_[i];
    column.box = QRectF(step * double(i), 0, step - 4, 84);
    painter.setPen(column.current ? QPen(t.ochre, 2) : QPen(t.hairline, 1));
    painter.setBrush(column.passed || column.current ? t.panel : t.ground);
    painter.drawRect(column.box.adjusted(1, 1, -1, -1));
    painter.setPen(column.current ? t.ink : t.quiet);
    painter.setFont(font_of(12, column.current));
    painter.drawText(QRectF(column.box.left(), 85, column.box.width(), 18), Qt::AlignCenter,
                     QString::fromStdString(print_cuts(double(column.cuts))));
    for (std::size_t d = 0; d < column.dots.size(); ++d) {
      Dot& dot = column.dots[d];
      const double spacing = column.box.width() / double(column.dots.size() + 1);
      dot.place = {column.box.left() + spacing * double(d + 1),
                   72 - 60 * (height_of(dot) - low) / (high - low)};
      const bool is_suspect = !dot.suspect.empty();
      if (many && !is_suspect && !dot.excluded) {
        plain.put(painter, dot.place);
        continue;
      }
      painter.setPen(QPen(t.ink, is_suspect ? 2 : 1.2));
      painter.setBrush(dot.excluded || is_suspect ? QBrush(t.panel) : QBrush(t.ink));
      const double radius = is_suspect ? 5.5 : 3.5;
      painter.drawEllipse(dot.place, radius, radius);
      if (dot.excluded) painter.drawLine(dot.place + QPointF(-5, 5), dot.place + QPointF(5, -5));
    }
  }
}

const CheckpointStrip::Dot* CheckpointStrip::dot_at(QPointF place) const {
  for (const auto& column : columns_)
    for (const auto& dot : column.dots)
      if (QLineF(dot.place, place).length() < 9) return &dot;
  return nullptr;
}

void CheckpointStrip::mousePressEvent(QMouseEvent* event) {
  if (const Dot* dot = dot_at(event->position())) emit reading_clicked(dot->reading);
}

bool CheckpointStrip::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    if (const Dot* dot = dot_at(help->pos()))
      QToolTip::showText(help->globalPos(), words_of(*dot), this);
    else
      QToolTip::hideText();
    return true;
  }
  return QWidget::event(event);
}

}  // namespace bq::ui
