#include "ui/plan/sheet_strip.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

#include "report/sheet_page.h"
#include "ui/glyph/edge_glyph.h"

namespace bq::ui {
namespace {
constexpr double kTag = 100, kGap = 6, kRest = 9, kGroup = 18, kTop = 22, kTall = 84;
}

SheetStrip::SheetStrip(Workbench& workbench, PlanModel& model, QWidget* parent)
    : QWidget(parent), workbench_(workbench), model_(model) {
  setFixedHeight(112);
  setAccessibleName(tr("Run sheet"));
  const auto again = [this] {
    arrange();
    update();
  };
  connect(&model_, &PlanModel::study_changed, this, again);
  connect(&model_, &PlanModel::book_changed, this, again);
  connect(&workbench_, &Workbench::display_changed, this, again);
}

void SheetStrip::arrange() {
  left_.clear();
  double x = 2;
  const PlanStudy* study = model_.study();
  if (study && study->refusal.empty() && model_.plan())
    for (std::size_t i = 0; i < study->sheet.runs.size(); ++i) {
      const SheetRun& run = study->sheet.runs[i];
      if (i &&
          (run.block != study->sheet.runs[i - 1].block || run.day != study->sheet.runs[i - 1].day))
        x += kGroup;
      left_.push_back(x);
      x += kTag + kGap + kRest * double(std::min<std::size_t>(run.rest_after_cuts.size(), 3));
    }
  width_ = int(x) + 4;
  setMinimumWidth(width_);
}

void SheetStrip::paintEvent(QPaintEvent*) {
  const PlanStudy* study = model_.study();
  if (!study || left_.size() != study->sheet.runs.size()) return;
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const std::size_t issued = model_.entry() ? model_.entry()->issued.size() : 0;
  for (std::size_t i = 0; i < left_.size(); ++i) {
    const SheetRun& run = study->sheet.runs[i];
    const QRectF box(left_[i], kTop, kTag, kTall);
    const bool group = i == 0 || run.block != study->sheet.runs[i - 1].block ||
                       run.day != study->sheet.runs[i - 1].day;
    if (group) {
      painter.setFont(font_of(12, true));
      painter.setPen(t.ink);
      const QString day = tr("day %1").arg(run.day), block = QString::fromStdString(run.block);
      painter.drawText(QRectF(box.left(), 0, 220, kTop - 2), Qt::AlignLeft | Qt::AlignVCenter,
                       block.isEmpty() || block == day ? day : tr("%1, %2").arg(day, block));
      if (i) {
        painter.setPen(QPen(t.hairline, 1));
        painter.drawLine(QPointF(box.left() - kGroup / 2 - 2, 2),
                         QPointF(box.left() - kGroup / 2 - 2, kTop + kTall));
      }
    }
    painter.setPen(QPen(i < issued ? t.ink : t.hairline, 1));
    painter.setBrush(i < issued ? t.chosen : t.panel);
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(t.quiet);
    painter.setFont(font_of(12));
    painter.drawText(box.adjusted(5, 2, -4, 0), Qt::AlignLeft | Qt::AlignTop,
                     QString::number(run.order));
    const auto facts = facts_of(study->plan, run.levels);
    if (facts && facts->geometry)
      paint_edge_glyph(painter, QRectF(box.right() - 32, box.top() + 3, 28, 28), *facts->geometry,
                       facts->finish, t.ink);
    painter.setPen(t.ink);
    painter.setFont(font_of(kHeading, true));
    painter.drawText(box.adjusted(5, 26, -4, 0), Qt::AlignLeft | Qt::AlignTop,
                     QString::fromStdString(run.code));
    painter.setFont(font_of(12));
    painter.setPen(t.quiet);
    double text_left = box.left() + 5;
    if (facts && !facts->steel.empty()) {
      painter.setBrush(t.series(workbench_.steel_style(facts->steel)));
      painter.save();
      painter.setPen(Qt::NoPen);
      painter.drawEllipse(QRectF(box.left() + 5, box.top() + 53, 7, 7));
      painter.restore();
      text_left += 11;
    }
    const auto line = [&](double y, double from, const QString& text) {
      const QRectF at(from, box.top() + y, box.right() - from - 3, 15);
      painter.drawText(at, Qt::AlignLeft | Qt::AlignVCenter,
                       painter.fontMetrics().elidedText(text, Qt::ElideMiddle, int(at.width())));
    };
    line(49, text_left,
         QString::fromStdString(run.blade.empty() ? (facts ? facts->steel : std::string())
                                                  : run.blade));
    line(65, box.left() + 5, QString::fromStdString(run.by_operator));
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.quiet);
    for (std::size_t r = 0; r < std::min<std::size_t>(run.rest_after_cuts.size(), 3); ++r)
      painter.drawRect(QRectF(box.right() + 5 + kRest * double(r), box.top() + 30, 3, 22));
  }
}

QString SheetStrip::words_of_run(const SheetRun& run) const {
  const PlanStudy& study = *model_.study();
  QStringList words{tr("run %1, code %2").arg(run.order).arg(QString::fromStdString(run.code))};
  words << words_of_levels(study.plan, run.levels, workbench_.display().angles);
  if (!run.blade.empty())
    words << tr("%1, run %2 of this blade")
                 .arg(QString::fromStdString(run.blade), QString::number(run.blade_use));
  words << tr("day %1, starts at %2, takes %3 min")
               .arg(QString::number(run.day), QString::fromStdString(clock_of(run.starts_at_min)),
                    QString::number(std::lround(run.minutes)));
  if (!run.rest_after_cuts.empty()) {
    QStringList rests;
    for (const auto cuts : run.rest_after_cuts) rests << QString::number(cuts);
    words << tr("rests after %1 cuts").arg(rests.join(QStringLiteral(", ")));
  }
  return words.join(QStringLiteral("\n"));
}

bool SheetStrip::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    for (std::size_t i = 0; i < left_.size(); ++i)
      if (QRectF(left_[i], kTop, kTag, kTall).contains(help->pos())) {
        QToolTip::showText(help->globalPos(), words_of_run(model_.study()->sheet.runs[i]), this);
        return true;
      }
    QToolTip::hideText();
    return true;
  }
  return QWidget::event(event);
}

}  // namespace bq::ui
