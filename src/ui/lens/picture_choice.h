#pragma once

#include <QAbstractListModel>
#include <QComboBox>
#include <cstdint>
#include <functional>
#include <vector>

namespace bq::ui {

/// One of a project's pictures out of thousands: a line's words are made when it is seen.
class PictureChoice : public QComboBox {
  Q_OBJECT
 public:
  explicit PictureChoice(QWidget* parent = nullptr);
  /// `none` stands first where it is not empty (id 0); a line divides the first `near` from the
  /// rest.
  void offer(const QString& none, std::vector<std::int64_t> ids, std::size_t near,
             std::function<QString(std::int64_t)> words, std::int64_t chosen);
  [[nodiscard]] std::int64_t chosen() const;

 private:
  class Lines;
  Lines* lines_;
};

}  // namespace bq::ui
