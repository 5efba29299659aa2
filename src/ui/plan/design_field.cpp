#include "ui/plan/design_field.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "ui/glyph/edge_glyph.h"

namespace bq::ui {
namespace {
constexpr double kHead = 22, kRowHead = 86, kLeastCell = 26, kLargestCell = 92, kFlowCell = 66;
constexpr int kMostCells = 600;

long product(const TrialPlan& plan, std::size_t from, std::size_t to) {
  long count = 1;
  for (std::size_t f = from; f < to; ++f) count *= long(plan.factors[f].levels.size());
  return count;
}
}  // namespace

DesignField::DesignField(Workbench& workbench, PlanModel& model, QWidget* parent)
    : QWidget(parent), workbench_(workbench), model_(model) {
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(260, 150);
  setAccessibleName(tr("Combinations"));
  const auto again = [this] {
    arrange();
    update();
  };
  connect(&model_, &PlanModel::study_changed, this, again);
  connect(&model_, &PlanModel::book_changed, this, again);
  connect(&workbench_, &Workbench::display_changed, this, again);
}

void DesignField::resizeEvent(QResizeEvent*) { arrange(); }

void DesignField::arrange() {
  cells_.clear();
  heads_.clear();
  more_.clear();
  const PlanStudy* study = model_.study();
  if (!study || !study->design || study->plan.factors.empty()) return;
  const TrialPlan& plan = study->plan;
  // The split of the factors over rows and columns that leaves the largest cells.
  double best = 0;
  std::size_t rows_of_best = 0;
  for (std::size_t split = 0; split < plan.factors.size(); ++split) {
    const double rows = double(product(plan, 0, split)),
                 columns = double(product(plan, split, plan.factors.size()));
    const double wide = (width() - double(split) * kRowHead) / columns,
                 tall = (height() - kHead * double(plan.factors.size() - split)) / rows;
    if (const double size = std::min(wide, tall * 0.95); size > best) {
      best = size;
      rows_of_best = split;
    }
  }
  if (best >= kLeastCell && study->design->candidates.size() <= kMostCells)
    arrange_grid(rows_of_best);
  else
    arrange_flow();
  focus_ = std::clamp(focus_, 0, std::max(0, int(cells_.size()) - 1));
}

void DesignField::arrange_grid(std::size_t row_factors) {
  const TrialPlan& plan = model_.study()->plan;
  const std::size_t k = plan.factors.size();
  const long rows = product(plan, 0, row_factors), columns = product(plan, row_factors, k);
  const double left = kRowHead * double(row_factors), top = kHead * double(k - row_factors);
  const double wide = std::min((width() - left) / double(columns), 1.5 * kLargestCell),
               tall = std::min({(height() - top) / double(rows), kLargestCell, 1.25 * wide + 14});
  const auto style = [&](const PlanFactor& factor, std::size_t level) {
    return factor.kind == FactorKind::steel
               ? workbench_.steel_style(print_factor_value(factor.levels[level]))
               : -1;
  };
  const AngleConvention angles = workbench_.display().angles;
  for (std::size_t f = row_factors; f < k; ++f) {
    const long span = product(plan, f + 1, k), repeat = product(plan, row_factors, f),
               levels = long(plan.factors[f].levels.size());
    for (long i = 0; i < repeat * levels; ++i)
      heads_.push_back({QRectF(left + double(i * span) * wide, kHead * double(f - row_factors),
                               double(span) * wide, kHead),
                        shown_level(plan.factors[f].kind,
                                    plan.factors[f].levels[std::size_t(i % levels)], angles),
                        false, style(plan.factors[f], std::size_t(i % levels))});
  }
  for (std::size_t f = 0; f < row_factors; ++f) {
    const long span = product(plan, f + 1, row_factors), repeat = product(plan, 0, f),
               levels = long(plan.factors[f].levels.size());
    for (long i = 0; i < repeat * levels; ++i)
      heads_.push_back({QRectF(kRowHead * double(f), top + double(i * span) * tall, kRowHead - 6,
                               double(span) * tall),
                        shown_level(plan.factors[f].kind,
                                    plan.factors[f].levels[std::size_t(i % levels)], angles),
                        true, style(plan.factors[f], std::size_t(i % levels))});
  }
  for (long i = 0; i < rows * columns; ++i)
    cells_.push_back(
        {QRectF(left + double(i % columns) * wide, top + double(i / columns) * tall, wide, tall),
         std::size_t(i)});
}

void DesignField::arrange_flow() {
  const auto& candidates = model_.study()->design->candidates;
  const int columns = std::max(1, int(width() / kFlowCell)),
            rows = std::max(1, int((height() - 24) / kFlowCell));
  std::size_t chosen = 0;
  for (std::size_t i = 0; i < candidates.size(); ++i) {
    if (candidates[i].count == 0) continue;
    if (int(chosen) < columns * rows)
      cells_.push_back(
          {QRectF(double(int(chosen) % columns) * kFlowCell,
                  24 + double(int(chosen) / columns) * kFlowCell, kFlowCell, kFlowCell),
           i});
    ++chosen;
  }
  more_ = tr("%1 combinations; drawn are the %2 that are run%3.")
              .arg(candidates.size())
              .arg(chosen)
              .arg(chosen > cells_.size() ? tr(", as far as there is room") : QString());
}

void DesignField::paint_cell(QPainter& painter, const Cell& cell) const {
  const Theme& t = theme();
  const auto& study = *model_.study();
  const Candidate& candidate = study.design->candidates[cell.candidate];
  const bool out = !candidate.excluded.empty();
  // The number of runs stands over the glyph.
  const double full = std::min(cell.box.width(), cell.box.height() - 14) - 4;
  const double size = full * (out || candidate.count == 0 ? 0.66
                              : candidate.count == 1      ? 0.82
                                                          : 1.0);
  const QRectF box(cell.box.center().x() - size / 2, cell.box.center().y() + 7 - size / 2, size,
                   size);
  const auto facts = facts_of(study.plan, candidate.levels);
  QColor ink = t.ink;
  if (out || candidate.count == 0) ink.setAlphaF(0.35F);
  const EdgeGeometry geometry =
      facts && facts->geometry ? *facts->geometry : *EdgeGeometry::make(BevelAngles::symmetric(15));
  paint_edge_glyph(painter, box, geometry, facts ? facts->finish : std::nullopt, ink);
  if (out) {
    painter.setPen(QPen(t.quiet, 1.6));
    painter.drawLine(box.topLeft(), box.bottomRight());
    painter.drawLine(box.topRight(), box.bottomLeft());
  }
  if (candidate.count > 1) {
    painter.setFont(font_of(12, true));
    painter.setPen(t.ink);
    painter.drawText(QRectF(cell.box.left(), cell.box.top() + 1, cell.box.width(), 15),
                     Qt::AlignHCenter | Qt::AlignVCenter, tr("%1×").arg(candidate.count));
  }
}

void DesignField::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const PlanStudy* study = model_.study();
  if (!study || !study->design) {
    painter.setPen(t.quiet);
    painter.setFont(font_of(model_.plan() ? kBody : kHeading));
    const QString text = !model_.plan()
                             ? tr("No plan yet. Begin one: the steels, angles, blades and spreads "
                                  "of this project are put in to start from.")
                         : study && !study->refusal.empty()
                             ? tr("The combinations are drawn as soon as the plan is whole.")
                             : tr("Designing …");
    painter.drawText(rect().adjusted(12, 12, -12, -12), Qt::AlignCenter | Qt::TextWordWrap, text);
    return;
  }
  painter.setFont(font_of(12));
  for (const auto& head : heads_) {
    QRectF text = head.box.adjusted(2, 0, -2, 0);
    if (head.style >= 0) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(t.series(head.style));
      const double y = text.center().y();
      const double wide =
          std::min(text.width() - 14, double(painter.fontMetrics().horizontalAdvance(head.text)));
      const double x = head.row ? text.left() : text.center().x() - wide / 2 - 10;
      painter.drawEllipse(QRectF(x, y - 4, 8, 8));
      if (head.row) text.setLeft(text.left() + 13);
      painter.setBrush(Qt::NoBrush);
    }
    painter.setPen(t.ink);
    if (head.row)
      painter.drawText(text, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, head.text);
    else
      painter.drawText(
          text, Qt::AlignCenter,
          painter.fontMetrics().elidedText(head.text, Qt::ElideRight, int(text.width())));
    painter.setPen(QPen(t.hairline, 1));
    if (head.row)
      painter.drawLine(head.box.topLeft(), QPointF(width(), head.box.top()));
    else
      painter.drawLine(head.box.bottomLeft() + QPointF(3, 0),
                       head.box.bottomRight() - QPointF(3, 0));
  }
  if (!more_.isEmpty()) {
    painter.setPen(t.quiet);
    painter.drawText(QRectF(0, 0, width(), 22), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(more_, Qt::ElideRight, width()));
  }
  for (std::size_t i = 0; i < cells_.size(); ++i) {
    paint_cell(painter, cells_[i]);
    if (hasFocus() && int(i) == focus_) {
      painter.setPen(QPen(t.ochre, 2));
      painter.setBrush(Qt::NoBrush);
      painter.drawRoundedRect(cells_[i].box.adjusted(2, 2, -2, -2), 3, 3);
    }
  }
}

int DesignField::cell_at(QPointF position) const {
  for (std::size_t i = 0; i < cells_.size(); ++i)
    if (cells_[i].box.contains(position)) return int(i);
  return -1;
}

QPoint DesignField::centre_of(const Combination& levels) const {
  const PlanStudy* study = model_.study();
  for (const auto& cell : cells_)
    if (study->design->candidates[cell.candidate].levels == levels)
      return cell.box.center().toPoint();
  return {};
}

QString DesignField::words_of_cell(const Cell& cell) const {
  const auto& study = *model_.study();
  const Candidate& candidate = study.design->candidates[cell.candidate];
  const QStringList parts =
      words_of_levels(study.plan, candidate.levels, workbench_.display().angles);
  const QString state = !candidate.excluded.empty()
                            ? tr("not run: %1").arg(QString::fromStdString(candidate.excluded))
                        : candidate.count ? tr("run %1 times").arg(candidate.count)
                                          : tr("allowed, not chosen");
  return parts.join(QStringLiteral("\n")) + QStringLiteral("\n") + state;
}

void DesignField::toggle(std::size_t index) {
  const PlanStudy* study = model_.study();
  if (!model_.can_edit() || !model_.up_to_date() || !study->design ||
      index >= study->design->candidates.size())
    return;
  const Candidate& candidate = study->design->candidates[index];
  LevelMatch when;
  for (std::size_t f = 0; f < study->plan.factors.size(); ++f)
    when.emplace_back(study->plan.factors[f].name,
                      study->plan.factors[f].levels[std::size_t(candidate.levels[f])]);
  TrialPlan changed = *model_.plan();
  // A file gives the factors of a condition back in another order.
  const auto in_order = [](LevelMatch match) {
    std::sort(match.begin(), match.end());
    return match;
  };
  const auto found =
      std::find_if(changed.exclusions.begin(), changed.exclusions.end(),
                   [&](const Exclusion& e) { return in_order(e.when) == in_order(when); });
  if (found != changed.exclusions.end())
    changed.exclusions.erase(found);
  else if (!candidate.excluded.empty()) {
    emit workbench_.told(tr("This combination is not run: %1. Change the rule to have it back.")
                             .arg(QString::fromStdString(candidate.excluded)));
    return;
  } else
    changed.exclusions.push_back({when, ""});
  model_.change(changed, found != changed.exclusions.end() ? tr("a combination taken back in")
                                                           : tr("a combination taken out"));
}

void DesignField::mouseReleaseEvent(QMouseEvent* event) {
  const int at = event->button() == Qt::LeftButton ? cell_at(event->position()) : -1;
  if (at < 0) return;
  focus_ = at;
  toggle(cells_[std::size_t(at)].candidate);
  update();
}

void DesignField::keyPressEvent(QKeyEvent* event) {
  if (cells_.empty()) return QWidget::keyPressEvent(event);
  const QRectF now = cells_[std::size_t(focus_)].box;
  const auto move = [&](double dx, double dy) {
    const int to = cell_at(now.center() + QPointF(dx * now.width(), dy * now.height()));
    if (to >= 0) focus_ = to;
    setAccessibleDescription(words_of_cell(cells_[std::size_t(focus_)]));
    update();
  };
  switch (event->key()) {
    case Qt::Key_Left:
      return move(-1, 0);
    case Qt::Key_Right:
      return move(1, 0);
    case Qt::Key_Up:
      return move(0, -1);
    case Qt::Key_Down:
      return move(0, 1);
    case Qt::Key_Space:
      return toggle(cells_[std::size_t(focus_)].candidate);
    default:
      QWidget::keyPressEvent(event);
  }
}

bool DesignField::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const auto* help = static_cast<QHelpEvent*>(event);
    const int at = cell_at(help->pos());
    if (at >= 0)
      QToolTip::showText(help->globalPos(), words_of_cell(cells_[std::size_t(at)]), this);
    else
      QToolTip::hideText();
    return true;
  }
  return QWidget::event(event);
}

}  // namespace bq::ui
