#pragma once

#include <QWidget>
#include <string>
#include <vector>

namespace bq::ui {

class Workbench;

/// This run as a strip of checkpoints, readings as dots at their height; the checkpoint at work is
/// framed. A click on a dot asks for it to be taken out or back in.
class CheckpointStrip : public QWidget {
  Q_OBJECT
 public:
  explicit CheckpointStrip(Workbench& workbench, QWidget* parent = nullptr);
  void reload();
  [[nodiscard]] QSize sizeHint() const override { return {600, 104}; }

 signals:
  void reading_clicked(int reading);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  bool event(QEvent* event) override;

 private:
  struct Dot {
    QPointF place;
    int reading = 0;
    bool excluded = false;
    std::string suspect;  ///< why it lies off; "" it does not
  };
  struct Column {
    qint64 cuts = 0;
    bool current = false, passed = false;
    QRectF box;
    std::vector<Dot> dots;
  };
  [[nodiscard]] const Dot* dot_at(QPointF place) const;
  [[nodiscard]] QString words_of(const Dot& dot) const;
  Workbench& workbench_;
  std::vector<Column> columns_;
};

}  // namespace bq::ui
