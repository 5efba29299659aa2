#pragma once

#include <QStyledItemDelegate>

namespace bq::ui {

/// One question: its words, and by shape what became of it: filled diamond answered, open diamond
/// cannot tell yet, dots under way.
class QuestionDelegate : public QStyledItemDelegate {
  Q_OBJECT
 public:
  enum State { under_way, answered, cannot_tell };
  static constexpr int kStateRole = Qt::UserRole;
  using QStyledItemDelegate::QStyledItemDelegate;
  void paint(QPainter* painter, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override;
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem& option,
                               const QModelIndex& index) const override;
};

}  // namespace bq::ui
