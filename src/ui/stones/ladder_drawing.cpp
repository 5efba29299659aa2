#include "ui/stones/ladder_drawing.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/parts/words.h"
#include "ui/stones/burr_marks.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {
constexpr double kLeft = 34, kRight = 40, kAxis = 26, kRow = 17;
QString minutes_text(double minutes) {
  return minutes < 0.95
             ? LadderDrawing::tr("%1 s").arg(std::max(1.0, std::round(minutes * 60)), 0, 'f', 0)
             : LadderDrawing::tr("%1 min").arg(minutes, 0, 'f', 1);
}
QString um_text(double um) { return QString::fromStdString(print_number(um, 2)); }
}  // namespace

LadderDrawing::LadderDrawing(Workbench& workbench, StonesModel& model, QWidget* parent)
    : QWidget(parent), workbench_(workbench), model_(model) {
  setMouseTracking(true);
  setAccessibleName(tr("The shelf by particle size, and the ladder"));
  const auto redraw = [this] { update(); };
  connect(&model_, &StonesModel::plan_changed, this, redraw);
  connect(&model_, &StonesModel::hand_changed, this, redraw);
  connect(&workbench_, &Workbench::display_changed, this, redraw);
}

double LadderDrawing::x_of(double um) const {
  return kLeft + (width() - kLeft - kRight) * std::log(coarsest_um_ / um) /
                     std::log(coarsest_um_ / finest_um_);
}

void LadderDrawing::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  hits_.clear();
  coarsest_um_ = 150;
  finest_um_ = 1;
  bool any = false;
  for (const auto& a : workbench_.trial().shelf)
    if (const auto um = size_um(a); um && !a.retired) {
      coarsest_um_ = std::max(coarsest_um_, *um);
      finest_um_ = std::min(finest_um_, *um);
      any = true;
    }
  coarsest_um_ *= 1.25;
  finest_um_ /= 1.35;
  // The axis.
  painter.setFont(font_of(12));
  painter.setPen(QPen(t.hairline, 1));
  painter.drawLine(QPointF(kLeft, kAxis), QPointF(width() - kRight, kAxis));
  for (const double decade : {0.1, 1.0, 10.0, 100.0, 1000.0})
    for (const double step : {1.0, 2.0, 3.0, 5.0}) {
      const double um = decade * step;
      if (um > coarsest_um_ || um < finest_um_) continue;
      const double x = x_of(um);
      painter.setPen(QPen(t.quiet, 1));
      painter.drawLine(QPointF(x, kAxis - (step == 1 ? 6 : 3)), QPointF(x, kAxis));
      if (step == 1 || step == 3)
        painter.drawText(QRectF(x - 30, 2, 60, 16), Qt::AlignCenter, um_text(um));
    }
  painter.setPen(t.quiet);
  painter.drawText(QRectF(width() - kRight - 4, 2, kRight + 4, 16),
                   Qt::AlignRight | Qt::AlignVCenter, tr("µm"));
  if (!any) {
    painter.setPen(t.ink);
    painter.setFont(font_of(kHeading));
    painter.drawText(rect().adjusted(0, 40, 0, 0), Qt::AlignCenter | Qt::TextWordWrap,
                     tr("The shelf is empty. Put an abrasive on it: \"Stone\" on the right."));
    return;
  }
  const Sharpening sharpening = model_.hand() ? model_.hand()->sharpening : model_.planned();
  draw_rungs(painter, sharpening, draw_shelf(painter, sharpening));
}

double LadderDrawing::draw_shelf(QPainter& painter, const Sharpening& sharpening) {
  const Theme& t = theme();
  const auto& shelf = workbench_.trial().shelf;
  std::vector<const Abrasive*> order;
  for (const auto& a : shelf)
    if (size_um(a) && !a.retired) order.push_back(&a);
  std::stable_sort(order.begin(), order.end(), [](const Abrasive* a, const Abrasive* b) {
    return *size_um(*a) > *size_um(*b);
  });
  struct Name {
    QRectF box;
    QString text;
    bool used, barred, warned;
  };
  std::vector<Name> names;
  // What is used has its name, the others as far as there is room above the rungs.
  const auto is_used = [&](const Abrasive* a) {
    return std::any_of(sharpening.steps.begin(), sharpening.steps.end(),
                       [&](const SharpeningStep& s) { return s.abrasive == a->name; });
  };
  std::stable_partition(order.begin(), order.end(), is_used);
  constexpr double kRung = 20, kFoot = 26;
  const auto most_rows = std::size_t(std::max(
      3.0, (height() - kAxis - 16 - kFoot - kRung * double(sharpening.steps.size())) / kRow));
  std::vector<std::vector<std::pair<double, double>>> rows;  // the names' places in each
  int unnamed = 0;
  for (const Abrasive* a : order) {
    const double x = x_of(*size_um(*a));
    const bool used = is_used(a);
    const auto warnings = before_use(*a, model_.cutting_class());
    const bool barred = a->bites[std::size_t(model_.cutting_class())] == Bite::hardly;
    const QString name = QString::fromStdString(a->name);
    const double wide =
        QFontMetricsF(font_of(12, used)).horizontalAdvance(name) + (warnings.empty() ? 6 : 20);
    // The name hangs in the first row that has room; names at the right edge hang leftward.
    const double from = std::min(x - 6, width() - wide - 2.0), to = from + wide + 6;
    std::size_t row = 0;
    const auto taken = [&](const auto& place) { return place.first < to && place.second > from; };
    while (row < rows.size() && std::any_of(rows[row].begin(), rows[row].end(), taken)) ++row;
    const bool named = used || row < most_rows;
    const double y = kAxis + 8 + double(row) * kRow;
    painter.setPen(QPen(used ? t.ink : t.hairline, used ? 1.6 : 1));
    if (named) painter.drawLine(QPointF(x, kAxis), QPointF(x, y + 2));
    painter.setBrush(used ? t.ink : t.panel);
    painter.setPen(QPen(t.ink, 1.2));
    painter.drawEllipse(QPointF(x, kAxis), 3.5, 3.5);
    QString tip = name + QStringLiteral("\n") + QString::fromStdString(print_size(*a));
    for (const auto& warning : warnings)
      tip += QStringLiteral("\n• ") + QString::fromStdString(warning);
    const QRectF mark(x - 6, kAxis - 8, 12, 16);
    if (named) {
      if (row == rows.size()) rows.emplace_back();
      rows[row].emplace_back(from, to);
      const QRectF box(from, y, wide, kRow);
      names.push_back({box, name, used, barred, !warnings.empty()});
      hits_.push_back({box.united(mark), name, tip});
    } else {
      ++unnamed;
      hits_.push_back({mark, name, tip});
    }
  }
  // Names over the lines that pass behind them.
  for (const Name& name : names) {
    painter.setFont(font_of(12, name.used));
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(name.text);
    painter.fillRect(QRectF(name.box.left() - 1, name.box.top() + 1, wide + 2, kRow - 2), t.ground);
    painter.setPen(name.used ? t.ink : t.quiet);
    painter.drawText(name.box.adjusted(0, 0, 4, 0), Qt::AlignLeft | Qt::AlignVCenter, name.text);
    if (name.barred)
      painter.drawLine(QPointF(name.box.left(), name.box.center().y()),
                       QPointF(name.box.left() + wide, name.box.center().y()));
    if (!name.warned) continue;
    // Something to do before it is used: a small open triangle, never colour alone.
    const QPointF at(name.box.left() + wide + 10, name.box.center().y());
    painter.setBrush(t.ground);
    painter.setPen(QPen(t.ink, 1.4));
    painter.drawPolygon(QPolygonF{at + QPointF(0, -5), at + QPointF(5, 4), at + QPointF(-5, 4)});
  }
  double bottom = kAxis + 16 + double(rows.size()) * kRow;
  if (unnamed > 0) {
    painter.setFont(font_of(12));
    painter.setPen(t.quiet);
    painter.drawText(QRectF(kLeft, bottom - 8, width() - kLeft, 16), Qt::AlignLeft,
                     tr("%1 more: rest the pointer on their marks").arg(unnamed));
    bottom += 14;
  }
  return bottom;
}

void LadderDrawing::draw_rungs(QPainter& painter, const Sharpening& sharpening, double top) {
  const Theme& t = theme();
  std::vector<std::size_t> rungs;
  for (std::size_t i = 0; i < sharpening.steps.size(); ++i)
    if (sharpening.steps[i].size_um && sharpening.steps[i].work != StepWork::deburr)
      rungs.push_back(i);
  if (rungs.empty()) return;
  const auto now = model_.hand() ? current_step(sharpening) : std::nullopt;
  const double drop = std::clamp((height() - top - 26) / double(rungs.size()), 20.0, 58.0);
  const ShelfRules rules;
  const auto place = [&](std::size_t k) {
    return QPointF(x_of(*sharpening.steps[rungs[k]].size_um), top + 8 + double(k) * drop);
  };
  for (std::size_t k = 1; k < rungs.size(); ++k) {
    const SharpeningStep &before = sharpening.steps[rungs[k - 1]],
                         &step = sharpening.steps[rungs[k]];
    const QPointF last = place(k - 1), at = place(k);
    const double ratio = *before.size_um / *step.size_um;
    const bool too_far = step.work == StepWork::grind && ratio > rules.too_far * 1.0001;
    painter.setPen(QPen(t.ink, 1.6, too_far ? Qt::DashLine : Qt::SolidLine));
    painter.drawLine(last, QPointF(last.x(), at.y()));
    painter.drawLine(QPointF(last.x(), at.y()), at);
    if (!too_far) continue;
    painter.setFont(font_of(12));
    painter.drawText(QRectF(last.x() + 8, at.y() - 18, 150, 16), Qt::AlignLeft,
                     tr("too far: %1 times").arg(ratio, 0, 'f', 1));
  }
  for (std::size_t k = 0; k < rungs.size(); ++k) {
    const SharpeningStep& step = sharpening.steps[rungs[k]];
    const QPointF at = place(k);
    const bool current = now == rungs[k];
    painter.setBrush(step.done ? t.ink : current ? t.ochre : t.panel);
    painter.setPen(QPen(t.ink, 1.4));
    painter.drawPolygon(QPolygonF{at + QPointF(0, -7), at + QPointF(7, 0), at + QPointF(0, 7),
                                  at + QPointF(-7, 0)});
    // The places of the gate, left then right: a ring is open, a disc is as large as the burr, a
    // cross where none was found.
    const unsigned gate = gate_of(sharpening, rungs[k]);
    double x = at.x() + 14;
    if (gate)
      for (int mark = 0; mark < 2 * sharpening.places; ++mark) {
        if (mark == sharpening.places) x += 5;
        if (gate >> mark & 1U) paint_burr(painter, {x, at.y()}, step.burr[std::size_t(mark)], 3.8);
        x += sharpening.places > kLeastPlaces ? 8 : 9;
      }
    QString text;
    if (step.work == StepWork::micro_bevel) text = tr("micro-bevel ");
    if (step.work == StepWork::strop) text = tr("strop ");
    if (step.side != GrindSide::both) text += shown(step.side) + tr(" only ");
    if (!step.override_reason.empty()) text += tr("gate passed ");
    if (step.done && step.seconds > 0)
      text += minutes_text(step.seconds / 60);
    else if (step.planned_min)
      text += minutes_text(*step.planned_min);
    painter.setFont(font_of(12, current));
    painter.setPen(t.ink);
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text);
    const bool fits = x + 4 + wide < width();
    // No room beside it: below.
    painter.drawText(fits ? QRectF(x + 4, at.y() - 9, wide + 2, 18)
                          : QRectF(width() - wide - 4, at.y() + 6, wide + 2, 16),
                     Qt::AlignLeft | Qt::AlignVCenter, text);
  }
}

const LadderDrawing::Hit* LadderDrawing::hit_at(const QPointF& at) const {
  for (const auto& hit : hits_)
    if (hit.box.contains(at)) return &hit;
  return nullptr;
}

void LadderDrawing::mousePressEvent(QMouseEvent* event) {
  if (const Hit* hit = hit_at(event->position())) emit stone_chosen(hit->name);
}

void LadderDrawing::mouseMoveEvent(QMouseEvent* event) {
  setCursor(hit_at(event->position()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

bool LadderDrawing::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const Hit* hit = hit_at(help->pos());
    QToolTip::showText(help->globalPos(), hit ? hit->tip : QString(), this);
    return true;
  }
  return QWidget::event(event);
}

}  // namespace bq::ui
