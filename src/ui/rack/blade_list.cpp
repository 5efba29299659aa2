#include "ui/rack/blade_list.h"

#include <QPainter>
#include <algorithm>
#include <unordered_map>

#include "trial/edge_map.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/parts/words.h"

namespace bq::ui {

BladeListModel::BladeListModel(Workbench& workbench, QObject* parent)
    : QAbstractListModel(parent), workbench_(workbench) {}

int BladeListModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : int(tags_.size());
}

QVariant BladeListModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const BladeTag& tag = tags_[std::size_t(index.row())];
  if (role == Qt::DisplayRole) return tag.name;
  if (role == Qt::UserRole) return QVariant::fromValue(&tag);
  if (role == Qt::ToolTipRole)
    return QStringLiteral("%1\n%2, %3\n%4").arg(tag.name, tag.steel, tag.edge, tag.state);
  if (role == Qt::AccessibleTextRole)
    return QStringLiteral("%1, %2, %3, %4").arg(tag.name, tag.steel, tag.edge, tag.state);
  return {};
}

void BladeListModel::reload() {
  beginResetModel();
  tags_.clear();
  const Trial& trial = workbench_.trial();
  std::unordered_map<std::string, std::vector<const Run*>> runs;
  for (const auto& run : trial.runs) runs[run.facts.blade].push_back(&run);
  for (const auto& blade : trial.blades) {
    BladeTag tag;
    tag.name = QString::fromStdString(blade.name);
    tag.steel = blade.steel.empty() ? tr("steel not given") : QString::fromStdString(blade.steel);
    tag.style = workbench_.steel_style(blade.steel);
    tag.note = QString::fromStdString(blade.note);
    const Run* latest = nullptr;
    int done = 0;
    bool running = false, planned = false, blind = false;
    for (const Run* run : runs[blade.name]) {
      // Which blade a code stands for is nobody's to read while it is covered.
      if (workbench_.is_covered(std::size_t(run - trial.runs.data()))) {
        blind = true;
        continue;
      }
      const RunState state = state_of(*run);
      running |= state == RunState::running;
      planned |= state == RunState::planned;
      done += state == RunState::done;
      if (!latest || state != RunState::planned) latest = run;
    }
    if (latest && latest->facts.geometry) {
      tag.geometry = latest->facts.geometry;
      tag.finish = latest->facts.finish;
      tag.edge = QString::fromStdString(print_geometry(*tag.geometry, workbench_.display().angles));
    } else {
      tag.edge = tr("edge not given");
    }
    const EdgeNow edge = edge_now(blade);
    const bool needs_angle = edge.section && !edge.has_angle();
    tag.state = blade.retired   ? tr("retired")
                : blind         ? tr("in a blind trial")
                : running       ? tr("in trial")
                : planned       ? tr("planned next")
                : needs_angle   ? tr("needs its angle")
                : !tag.geometry ? tr("needs a run")
                : done == 1     ? tr("ready, 1 run")
                                : tr("ready, %1 runs").arg(done);
    tags_.push_back(std::move(tag));
  }
  endResetModel();
}

BladeFinder::BladeFinder(BladeListModel* blades, QObject* parent)
    : QSortFilterProxyModel(parent), blades_(blades) {
  setSourceModel(blades);
}

void BladeFinder::find(const QString& words) {
  words_ = words.split(' ', Qt::SkipEmptyParts);
  invalidateFilter();
}

void BladeFinder::order_by(Order order) {
  order_ = order;
  sort(order == Order::as_put ? -1 : 0);
  invalidate();
}

int BladeFinder::blade_at(const QModelIndex& row) const {
  return row.isValid() ? mapToSource(row).row() : -1;
}

QModelIndex BladeFinder::row_of(int blade) const {
  return blade < 0 ? QModelIndex() : mapFromSource(blades_->index(blade));
}

bool BladeFinder::filterAcceptsRow(int row, const QModelIndex&) const {
  const BladeTag& tag = blades_->tag(row);
  const QString all =
      tag.name + '\n' + tag.steel + '\n' + tag.edge + '\n' + tag.state + '\n' + tag.note;
  return holds_words(all, words_);
}

bool BladeFinder::lessThan(const QModelIndex& a, const QModelIndex& b) const {
  const BladeTag &first = blades_->tag(a.row()), &second = blades_->tag(b.row());
  int order = 0;
  if (order_ == Order::steel) order = compare_names(first.steel, second.steel);
  if (order_ == Order::state) order = compare_names(first.state, second.state);
  if (order == 0) order = compare_names(first.name, second.name);
  return order < 0;
}

QSize BladeTagDelegate::sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const {
  return {240, 68};
}

void BladeTagDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                             const QModelIndex& index) const {
  const Theme& t = theme();
  const auto* found = index.data(Qt::UserRole).value<const BladeTag*>();
  if (!found) return;
  const BladeTag& tag = *found;
  painter->save();
  painter->setRenderHint(QPainter::Antialiasing);
  const QRect box = option.rect;
  if (option.state & QStyle::State_Selected) painter->fillRect(box, t.chosen);
  painter->setPen(QPen(t.hairline, 1));
  painter->drawLine(box.bottomLeft() + QPoint(8, 0), box.bottomRight() - QPoint(8, 0));
  // The peg the tag hangs on, in the steel's colour.
  painter->setPen(QPen(t.series(tag.style), 2));
  painter->setBrush(t.ground);
  painter->drawEllipse(QPointF(box.left() + 14, box.center().y()), 4, 4);
  if (tag.geometry)
    paint_edge_glyph(*painter, QRectF(box.left() + 26, box.top() + 8, 42, 50), *tag.geometry,
                     tag.finish, t.ink);
  const int left = box.left() + 78, width = box.right() - left - 8;
  const auto line = [&](int y, const QFont& font, const QColor& colour, const QString& text) {
    painter->setFont(font);
    painter->setPen(colour);
    painter->drawText(QRect(left, box.top() + y, width, 20), Qt::AlignLeft | Qt::AlignVCenter,
                      painter->fontMetrics().elidedText(text, Qt::ElideRight, width));
  };
  line(6, font_of(kBody, true), t.ink, tag.name);
  line(24, font_of(12), t.ink, tag.edge);
  line(42, font_of(12), t.quiet, tag.steel + QStringLiteral(" · ") + tag.state);
  painter->restore();
}

}  // namespace bq::ui
