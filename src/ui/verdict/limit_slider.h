#pragma once

#include <QWidget>
#include <optional>

#include "ui/parts/number_entry.h"

class QLabel;
class QSlider;

namespace bq::ui {

/// One limit: its words, a slider and the figure with its unit. At the slack end the slider says
/// "any" and nothing binds.
class LimitSlider : public QWidget {
  Q_OBJECT
 public:
  enum class Binds { at_least, at_most };
  /// Steps are even on a log scale where `log`.
  LimitSlider(const QString& words, const QString& unit, Binds binds, int decimals, bool log,
              QWidget* parent = nullptr);
  /// What the slider spans, from the figures of the edges; the value in it stays, even outside.
  void set_span(double low, double high);
  void set_value(std::optional<double> value);  ///< without a signal
  [[nodiscard]] std::optional<double> value() const { return value_; }
  [[nodiscard]] QSlider* slider() const { return slider_; }
  [[nodiscard]] NumberEntry* field() const { return field_; }

 signals:
  void moved();

 private:
  void slid(int step);
  void typed(double value);
  void place();
  [[nodiscard]] double value_at(int step) const;

  Binds binds_;
  bool log_, filling_ = false;
  double low_ = 1, high_ = 100;
  std::optional<double> value_;
  QSlider* slider_;
  NumberEntry* field_;
};

}  // namespace bq::ui
