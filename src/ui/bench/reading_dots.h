#pragma once

#include <QWidget>
#include <vector>

namespace bq::ui {

/// The readings of one checkpoint as dots on a line, with their spread in words.
class ReadingDots : public QWidget {
  Q_OBJECT
 public:
  struct Dot {
    double value = 0;
    bool excluded = false, suspect = false;
  };
  explicit ReadingDots(QWidget* parent = nullptr);
  /// `spread` e.g. "median 312 gf, spread 4.1 %".
  void show_dots(const std::vector<Dot>& dots, const QString& spread);
  [[nodiscard]] QSize sizeHint() const override { return {300, 52}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<Dot> dots_;
  QString spread_;
};

}  // namespace bq::ui
