#pragma once

#include <QWidget>

#include "ui/bench/bench_model.h"

namespace bq::ui {

/// What comes, as words in a row: done ones quiet, the present one in ochre, the next ones open.
class StageLine : public QWidget {
  Q_OBJECT
 public:
  explicit StageLine(BenchModel& model, QWidget* parent = nullptr);
  void reload();
  /// As it is read: "Sharpen, Read at 0, [Cut 40], Clean, …"; for tests.
  [[nodiscard]] QString words() const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Item {
    QString text;
    int state = 0;  ///< −1 done, 0 now, 1 to come
  };
  BenchModel& model_;
  std::vector<Item> items_;
};

}  // namespace bq::ui
