#pragma once

#include <QTimer>
#include <QWidget>
#include <optional>

#include "trial/force_stroke.h"
#include "ui/bench/instrument_desk.h"

namespace bq::ui {

/// The force of the stroke being made, at the cell's full rate (every pixel column shows the least
/// and largest sample in it); at rest the last stroke that was kept, with its cut, peak and mean.
class StrokeTrace : public QWidget {
  Q_OBJECT
 public:
  explicit StrokeTrace(InstrumentDesk& desk, QWidget* parent = nullptr);
  void show_stroke(const std::optional<ForceStroke>& stroke, double stroke_mm);
  [[nodiscard]] bool has_stroke() const { return stroke_.has_value(); }
  [[nodiscard]] long frames() const { return frames_; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void draw_samples(QPainter& painter, const QRectF& box, const std::vector<float>& samples,
                    double low, double high);
  InstrumentDesk& desk_;
  std::optional<ForceStroke> stroke_;
  double stroke_mm_ = 0;
  QTimer frame_;
  long frames_ = 0;
};

}  // namespace bq::ui
