#include "ui/bench/stage_line.h"

#include <QPainter>

#include "ui/theme/theme.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

/// The place of a stage within the round of one checkpoint.
int place_of(StageKind kind) {
  switch (kind) {
    case StageKind::cut:
      return 0;
    case StageKind::clean:
      return 1;
    case StageKind::check_weight:
    case StageKind::read:
      return 2;
    case StageKind::look:
      return 3;
    case StageKind::stop:
      return 4;
    default:
      return -1;
  }
}

}  // namespace

StageLine::StageLine(BenchModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setFixedHeight(26);
  setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  setAccessibleName(tr("Steps of this run"));
}

void StageLine::reload() {
  items_.clear();
  const Run* run = model_.run();
  if (run && !run->plan.checkpoints.empty()) {
    const BenchStage& now = model_.stage();
    const BenchProtocol& p = model_.protocol();
    const auto cuts = [](std::int64_t n) { return QString::fromStdString(print_cuts(double(n))); };
    const auto add = [&](const QString& text, int state) { items_.push_back({text, state}); };
    const bool at_start = run->cuts_done == 0 && now.kind != StageKind::cut;
    if (at_start && now.kind != StageKind::finished && now.kind != StageKind::stopped) {
      const int here = now.kind == StageKind::prepare ? 0 : now.kind == StageKind::gate ? 2 : 1;
      if (p.prepare) add(tr("Sharpen"), 0 < here ? -1 : here == 0 ? 0 : 1);
      add(tr("Read at 0"), 1 < here ? -1 : here == 1 ? 0 : 1);
      if (p.gate) add(tr("Start gate"), here == 2 ? 0 : 1);
      if (run->plan.checkpoints.size() > 1)
        add(tr("Cut to %1").arg(cuts(run->plan.checkpoints[1])), 1);
      add(tr("…"), 1);
    } else if (now.kind == StageKind::finished || now.kind == StageKind::stopped) {
      add(tr("All steps done"), -1);
      add(now.kind == StageKind::stopped ? tr("Stopped at %1").arg(cuts(run->cuts_done))
                                         : tr("Run finished"),
          0);
    } else if (now.kind == StageKind::rest) {
      add(tr("Rest"), 0);
      const auto next = std::upper_bound(run->plan.checkpoints.begin(), run->plan.checkpoints.end(),
                                         run->cuts_done);
      if (next != run->plan.checkpoints.end()) add(tr("Cut to %1").arg(cuts(*next)), 1);
      if (p.clean) add(tr("Clean"), 1);
      add(tr("Read"), 1);
    } else {
      // The round of this checkpoint, then the next one.
      const int here = place_of(now.kind);
      const std::int64_t at = now.kind == StageKind::cut ? now.at_cuts : run->cuts_done;
      const auto state = [&](int place) { return place < here ? -1 : place == here ? 0 : 1; };
      if (at > 0) add(tr("Cut to %1").arg(cuts(at)), state(0));
      if (p.clean && at > 0) add(tr("Clean"), state(1));
      add(now.kind == StageKind::read
              ? tr("Read %1 of %2").arg(now.reading_number).arg(run->plan.readings_each)
              : tr("Read"),
          state(2));
      if (p.look && at > 0) add(tr("Look"), state(3));
      if (now.kind == StageKind::stop) add(tr("Stop?"), 0);
      const auto next =
          std::upper_bound(run->plan.checkpoints.begin(), run->plan.checkpoints.end(), at);
      add(next == run->plan.checkpoints.end() ? tr("End of the run")
                                              : tr("Cut to %1").arg(cuts(*next)),
          1);
    }
  }
  update();
}

QString StageLine::words() const {
  QStringList out;
  for (const auto& item : items_)
    out << (item.state == 0 ? QStringLiteral("[%1]").arg(item.text) : item.text);
  return out.join(QStringLiteral(", "));
}

void StageLine::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  double x = 0;
  const double middle = height() / 2.0;
  for (std::size_t i = 0; i < items_.size(); ++i) {
    const Item& item = items_[i];
    const QFont font = font_of(14, item.state == 0);
    painter.setFont(font);
    const double width = QFontMetricsF(font).horizontalAdvance(item.text) + 20;
    if (x + width > this->width()) break;
    const QRectF box(x + 1, 2, width - 2, height() - 4);
    if (item.state == 0) {
      painter.setPen(QPen(t.ochre, 2));
      painter.setBrush(t.chosen);
      painter.drawRoundedRect(box, 3, 3);
    }
    painter.setPen(item.state < 0 ? t.quiet : t.ink);
    painter.drawText(box, Qt::AlignCenter, item.text);
    if (item.state < 0) {  // struck through: colour is not the only sign
      painter.setPen(QPen(t.quiet, 1));
      painter.drawLine(QPointF(box.left() + 8, middle), QPointF(box.right() - 8, middle));
    }
    x += width;
    if (i + 1 < items_.size()) {
      painter.setPen(QPen(t.hairline, 1.5));
      painter.drawLine(QPointF(x + 1, middle), QPointF(x + 13, middle));
      x += 14;
    }
  }
}

}  // namespace bq::ui
