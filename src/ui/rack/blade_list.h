#pragma once

#include <QAbstractListModel>
#include <QSortFilterProxyModel>
#include <QStyledItemDelegate>

#include "ui/frame/workbench.h"

namespace bq::ui {

/// What the rack shows of one blade.
struct BladeTag {
  QString name, steel, edge, state, note;
  std::optional<EdgeGeometry> geometry;  ///< of its latest run
  std::optional<Finish> finish;
  int style = 0;
};

class BladeListModel : public QAbstractListModel {
  Q_OBJECT
 public:
  explicit BladeListModel(Workbench& workbench, QObject* parent = nullptr);
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] const BladeTag& tag(int row) const { return tags_[std::size_t(row)]; }
  void reload();

 private:
  Workbench& workbench_;
  std::vector<BladeTag> tags_;
};

/// The blades that hold certain words, in one of several orders.
class BladeFinder : public QSortFilterProxyModel {
  Q_OBJECT
 public:
  enum class Order { as_put, name, steel, state };
  explicit BladeFinder(BladeListModel* blades, QObject* parent = nullptr);
  void find(const QString& words);
  void order_by(Order order);
  /// The blade's place in the project; -1 none.
  [[nodiscard]] int blade_at(const QModelIndex& row) const;
  /// Invalid where it is not among those that are found.
  [[nodiscard]] QModelIndex row_of(int blade) const;

 protected:
  [[nodiscard]] bool filterAcceptsRow(int row, const QModelIndex& parent) const override;
  [[nodiscard]] bool lessThan(const QModelIndex& a, const QModelIndex& b) const override;

 private:
  BladeListModel* blades_;
  QStringList words_;
  Order order_ = Order::as_put;
};

/// Draws a blade as a tag on a peg.
class BladeTagDelegate : public QStyledItemDelegate {
  Q_OBJECT
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* painter, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override;
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option,
                               const QModelIndex& index) const override;
};

}  // namespace bq::ui
