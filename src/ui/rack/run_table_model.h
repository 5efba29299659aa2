#pragma once

#include <QAbstractTableModel>
#include <QStyledItemDelegate>

#include "ui/frame/workbench.h"

namespace bq::ui {

/// Runs of one blade (or all): glyph, name, blade, steel, edge, finish, medium, state, readings,
/// cuts to the threshold; in any order, and those alone that hold certain words.
class RunTableModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column {
    glyph,
    name,
    blade,
    steel,
    edge,
    finish,
    medium,
    state,
    readings,
    last,
    life,
    column_count
  };
  explicit RunTableModel(Workbench& workbench, QObject* parent = nullptr);
  /// Empty name: every run.
  void show_blade(const std::optional<std::string>& blade);
  void reload();
  /// Only runs in whose row all these words stand (run to state, as they are shown: nothing of
  /// a covered run).
  void find(const QString& words);
  /// By what is shown, figures as figures; column -1: as they were made.
  void sort(int column, Qt::SortOrder order) override;
  [[nodiscard]] int run_at(int row) const { return rows_[std::size_t(row)]; }
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation,
                                    int role) const override;
  [[nodiscard]] const RunFacts& facts(int row) const;

 private:
  [[nodiscard]] QString text(const Run& run, std::size_t index, int column) const;
  /// What a row is sorted by: a figure, or else the text.
  [[nodiscard]] std::pair<double, QString> key(int run, int column) const;
  void put_in_order();
  Workbench& workbench_;
  std::optional<std::string> blade_;
  QString words_;
  int sort_column_ = -1;
  Qt::SortOrder order_ = Qt::AscendingOrder;
  std::vector<int> rows_;
};

/// Draws the glyph column.
class GlyphDelegate : public QStyledItemDelegate {
  Q_OBJECT
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* painter, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override;
};

}  // namespace bq::ui
