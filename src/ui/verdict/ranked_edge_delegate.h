#pragma once

#include <QAbstractListModel>
#include <QStyledItemDelegate>
#include <optional>

#include "bluntness/recommendation.h"
#include "ui/frame/workbench.h"

namespace bq::ui {

/// A ranked edge's own shape; empty where its angles do not go together.
std::optional<EdgeGeometry> geometry_of(const RankedEdge& edge);
std::optional<Finish> finish_of(const RankedEdge& edge);

/// The ranking as rows; all bars share one log axis.
class RankedEdgeModel : public QAbstractListModel {
  Q_OBJECT
 public:
  explicit RankedEdgeModel(Workbench& workbench, QObject* parent = nullptr);
  void show_edges(std::vector<RankedEdge> edges);
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] const RankedEdge& edge(int row) const { return edges_[std::size_t(row)]; }
  [[nodiscard]] const Workbench& workbench() const { return workbench_; }
  /// Place of a life on the shared axis, 0 … 1.
  [[nodiscard]] double place(double life) const;
  [[nodiscard]] double axis_low() const { return low_; }
  [[nodiscard]] double axis_high() const { return high_; }
  [[nodiscard]] QString title(int row) const;
  /// Force, damage, touch-up, as far as known, in one line; else the first reason.
  [[nodiscard]] QString figures(int row) const;

 private:
  Workbench& workbench_;
  std::vector<RankedEdge> edges_;
  double low_ = 1, high_ = 10;
};

/// One ranked edge in one line: rank, glyph, name, life interval as a bar, usual life, what else is
/// known; in two lines where the list is narrow. Edges that cannot be told apart from the first
/// stand in one bracket with it.
class RankedEdgeDelegate : public QStyledItemDelegate {
  Q_OBJECT
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* painter, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override;
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option,
                               const QModelIndex& index) const override;
};

}  // namespace bq::ui
