#pragma once

#include <QAbstractTableModel>
#include <QStyledItemDelegate>

#include "ui/frame/workbench.h"

namespace bq::ui {

/// Runs of one blade (or all): glyph, name, edge, finish, medium, state, readings, cuts to the
/// threshold.
class RunTableModel : public QAbstractTableModel {
  Q_OBJECT
 public:
  enum Column { glyph, name, edge, finish, medium, state, readings, last, life, column_count };
  explicit RunTableModel(Workbench& workbench, QObject* parent = nullptr);
  /// Empty name: every run.
  void show_blade(const std::optional<std::string>& blade);
  void reload();
  [[nodiscard]] int run_at(int row) const { return rows_[std::size_t(row)]; }
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] int columnCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] QVariant headerData(int section, Qt::Orientation orientation,
                                    int role) const override;
  [[nodiscard]] const RunFacts& facts(int row) const;

 private:
  [[nodiscard]] QString text(const Run& run, std::size_t index, int column) const;
  Workbench& workbench_;
  std::optional<std::string> blade_;
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
