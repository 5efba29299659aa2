#include "ui/rack/run_table_model.h"

#include <QPainter>
#include <algorithm>
#include <limits>
#include <map>
#include <tuple>

#include "ui/glyph/edge_glyph.h"
#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {

RunTableModel::RunTableModel(Workbench& workbench, QObject* parent)
    : QAbstractTableModel(parent), workbench_(workbench) {}

void RunTableModel::show_blade(const std::optional<std::string>& blade) {
  blade_ = blade;
  reload();
}

void RunTableModel::reload() {
  beginResetModel();
  rows_.clear();
  const auto& runs = workbench_.trial().runs;
  const QStringList words = words_.split(' ', Qt::SkipEmptyParts);
  const auto is_found = [&](std::size_t i) {
    QString all;
    for (int column = name; column <= state && !words.isEmpty(); ++column)
      all += text(runs[i], i, column) + '\n';
    return holds_words(all, words);
  };
  for (std::size_t i = 0; i < runs.size(); ++i)
    if ((!blade_ || runs[i].facts.blade == *blade_) && is_found(i)) rows_.push_back(int(i));
  put_in_order();
  endResetModel();
}

void RunTableModel::find(const QString& words) {
  if (words == words_) return;
  words_ = words;
  reload();
}

std::pair<double, QString> RunTableModel::key(int run, int column) const {
  const auto index = std::size_t(run);
  const Run& r = workbench_.trial().runs[index];
  const QString shown = text(r, index, column);
  constexpr double kNone = std::numeric_limits<double>::infinity();
  const bool covered = workbench_.is_covered(index);
  switch (column) {
    case glyph:
    case edge:
      return {r.facts.geometry && !covered ? r.facts.geometry->apex().equivalent_deg() : kNone,
              shown};
    case finish:
      return {r.facts.finish && !covered ? r.facts.finish->mean_um() : kNone, shown};
    case readings:
      return {double(r.readings.size()), shown};
    case last:
      return {r.readings.empty() ? kNone
                                 : convert(r.readings.back().value, r.readings.back().unit,
                                           workbench_.trial().unit()),
              shown};
    case life: {
      const auto fits = workbench_.fits();
      const auto threshold = workbench_.threshold();
      if (index >= fits->size() || !threshold || !(*fits)[index].curve) return {kNone, shown};
      const auto cuts = cuts_to_threshold((*fits)[index], *threshold);
      return {cuts.estimate.value_or(cuts.low.value_or(kNone)), shown};
    }
    default:
      return {0, shown};
  }
}

void RunTableModel::put_in_order() {
  if (sort_column_ < 0) {
    std::sort(rows_.begin(), rows_.end());
    return;
  }
  std::vector<std::pair<std::pair<double, QString>, int>> keyed;
  for (const int run : rows_) keyed.emplace_back(key(run, sort_column_), run);
  std::stable_sort(keyed.begin(), keyed.end(), [&](const auto& a, const auto& b) {
    const auto& [first, second] = order_ == Qt::AscendingOrder ? std::tie(a, b) : std::tie(b, a);
    if (first.first.first != second.first.first) return first.first.first < second.first.first;
    return compare_names(first.first.second, second.first.second) < 0;
  });
  for (std::size_t i = 0; i < keyed.size(); ++i) rows_[i] = keyed[i].second;
}

void RunTableModel::sort(int column, Qt::SortOrder order) {
  sort_column_ = column;
  order_ = order;
  emit layoutAboutToBeChanged();
  const std::vector<int> before = rows_;
  put_in_order();
  std::map<int, int> now;
  for (std::size_t i = 0; i < rows_.size(); ++i) now[rows_[i]] = int(i);
  const QModelIndexList from = persistentIndexList();
  QModelIndexList to;
  for (const QModelIndex& at : from) to << index(now[before[std::size_t(at.row())]], at.column());
  changePersistentIndexList(from, to);
  emit layoutChanged();
}

int RunTableModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : int(rows_.size());
}
int RunTableModel::columnCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : column_count;
}

const RunFacts& RunTableModel::facts(int row) const {
  return workbench_.trial().runs[std::size_t(rows_[std::size_t(row)])].facts;
}

QString RunTableModel::text(const Run& run, std::size_t index, int column) const {
  const RunFacts& f = run.facts;
  // Among a blade's runs the code would name the blade; among all runs the edge would.
  if (workbench_.is_covered(index)) {
    if (column == edge || column == finish || column == blade || column == steel)
      return tr("covered");
    if (blade_) return column == name ? tr("a blind run") : QString();
  }
  switch (column) {
    case name:
      return QString::fromStdString(f.name);
    case blade:
      return QString::fromStdString(f.blade);
    case steel:
      return QString::fromStdString(f.steel);
    case edge:
      return f.geometry ? QString::fromStdString(
                              print_geometry_short(*f.geometry, workbench_.display().angles))
                        : tr("not given");
    case finish:
      return f.finish ? QString::fromStdString(print_finish(*f.finish)) : QString();
    case medium:
      return QString::fromStdString(f.medium);
    case state:
      return shown(state_of(run));
    case readings:
      return QString::number(run.readings.size());
    case last:
      if (run.readings.empty()) return {};
      return workbench_.print_value(
          convert(run.readings.back().value, run.readings.back().unit, workbench_.trial().unit()));
    case life: {
      const auto fits = workbench_.fits();
      const auto threshold = workbench_.threshold();
      if (index >= fits->size() || !threshold || run.readings.empty()) return {};
      const RunFit& fit = (*fits)[index];
      if (!fit.curve) return tr("not enough");
      return QString::fromStdString(cuts_short(cuts_to_threshold(fit, *threshold)));
    }
    default:
      return {};
  }
}

QVariant RunTableModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const auto run_index = std::size_t(rows_[std::size_t(index.row())]);
  if (run_index >= workbench_.trial().runs.size()) return {};  // between a change and its reload
  const Run& run = workbench_.trial().runs[run_index];
  const bool number = index.column() >= readings;
  if (role == Qt::DisplayRole) return text(run, run_index, index.column());
  if (role == Qt::TextAlignmentRole)
    return QVariant(Qt::AlignVCenter |
                    (number || index.column() == finish ? Qt::AlignRight : Qt::AlignLeft));
  if (role == Qt::ToolTipRole) {
    const auto fits = workbench_.fits();
    if (run_index < fits->size()) {
      const auto remarks = fit_remarks((*fits)[run_index]);
      if (!remarks.empty()) return QString::fromStdString(remarks);
    }
    return text(run, run_index, index.column());
  }
  return {};
}

QVariant RunTableModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal) return {};
  if (role == Qt::TextAlignmentRole)
    return QVariant(Qt::AlignVCenter |
                    (section >= readings || section == finish ? Qt::AlignRight : Qt::AlignLeft));
  if (role != Qt::DisplayRole) return {};
  switch (section) {
    case name:
      return tr("Run");
    case blade:
      return tr("Blade");
    case steel:
      return tr("Steel");
    case edge:
      return tr("Edge, %1").arg(shown(workbench_.display().angles));
    case finish:
      return tr("Finish");
    case medium:
      return tr("Medium");
    case state:
      return tr("State");
    case readings:
      return tr("Readings");
    case last:
      return tr("Last");
    case life:
      return tr("Cuts to limit");
    default:
      return {};
  }
}

void GlyphDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                          const QModelIndex& index) const {
  if (option.state & QStyle::State_Selected) painter->fillRect(option.rect, theme().chosen);
  const auto& facts = static_cast<const RunTableModel*>(index.model())->facts(index.row());
  if (!facts.geometry) return;
  const QRectF box = QRectF(option.rect).adjusted(4, 2, -4, -2);
  paint_edge_glyph(*painter, box, *facts.geometry, facts.finish, theme().ink);
}

}  // namespace bq::ui
