#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "ui/lens/lens_model.h"

class QLineEdit;
class QListWidget;

namespace bq::ui {

/// Many pictures to choose from: found as one types, several at once, the newest first.
class PictureList : public QWidget {
  Q_OBJECT
 public:
  /// `name`: what the list is called. Pictures that `before` says yes to stand before the others;
  /// the one with the id `without` is left out.
  PictureList(LensModel& model, const QString& name,
              std::function<bool(const Micrograph&)> before = {}, std::int64_t without = 0,
              QWidget* parent = nullptr);
  /// In the order they are listed.
  [[nodiscard]] std::vector<std::int64_t> chosen() const;
  /// Chooses those that `before` says yes to.
  void choose_first_ones();
  /// The project's pictures anew; what is chosen stays so.
  void fill();

 signals:
  void changed();

 private:
  LensModel& model_;
  std::function<bool(const Micrograph&)> before_;
  std::int64_t without_;
  QLineEdit* filter_;
  QListWidget* list_;
};

}  // namespace bq::ui
