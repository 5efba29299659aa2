#pragma once

#include <QAbstractListModel>
#include <QStyledItemDelegate>

#include "ui/frame/workbench.h"

namespace bq::ui {

/// What the rack shows of one blade.
struct BladeTag {
  QString name, steel, edge, state;
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
