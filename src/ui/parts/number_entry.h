#pragma once

#include <QAbstractSpinBox>
#include <QPointer>
#include <cmath>

#include "edge/asked_number.h"

class QLabel;

namespace bq::ui {

/// The one entry for a number in this window. Nothing is reformatted while it is typed: what was
/// typed is read by the program's own parser (read_asked), live as long as it can be read, and for
/// good when the field is left or Enter is pressed. What cannot be read is refused beside the field
/// with the reason; the number before it stays, and a click that left the field is not carried out,
/// so that no button acts on a number that was not meant. Coming back brings what was typed back.
/// Keys step it; the wheel does so only with the focus; the locale never matters.
class NumberEntry : public QAbstractSpinBox {
  Q_OBJECT
 public:
  explicit NumberEntry(QWidget* parent = nullptr);

  [[nodiscard]] double value() const { return value_; }
  /// The number of a set_whole() field.
  [[nodiscard]] int whole() const { return int(std::lround(value_)); }
  /// Shown with decimals() decimals, kept exactly; brought into the range. A text that is being
  /// typed is left alone.
  void setValue(double value);
  [[nodiscard]] double minimum() const { return asked_.least; }
  [[nodiscard]] double maximum() const { return asked_.most; }
  void setRange(double least, double most);
  /// The least value stands for "not known"; from there to `least_known` nothing is taken.
  void set_least_known(double least_known) { asked_.least_known = least_known; }
  void setMinimum(double least) { setRange(least, asked_.most); }
  void setMaximum(double most) { setRange(asked_.least, most); }
  /// How many decimals are shown, not how many are kept.
  void setDecimals(int decimals);
  [[nodiscard]] int decimals() const { return decimals_; }
  void setSingleStep(double step) { step_ = step; }
  /// Says the unit; see AskedNumber::beside.
  void setSuffix(const QString& suffix);
  [[nodiscard]] QString suffix() const { return suffix_; }
  void setPrefix(const QString& prefix);
  /// Shown for the least value.
  void setSpecialValueText(const QString& text);
  /// Off: valueChanged waits until the field is left.
  void setKeyboardTracking(bool live) { live_ = live; }
  /// Only whole numbers are taken.
  void set_whole() {
    asked_.whole = true;
    setDecimals(0);
  }
  void set_particle_size(bool asked = true) { asked_.particle_size = asked; }
  void set_edge_angle(AngleConvention convention) { asked_.edge_angle = convention; }
  [[nodiscard]] const AskedNumber& asked() const { return asked_; }

  /// Why the last text was not taken; empty when it was.
  [[nodiscard]] QString refusal() const { return refusal_; }

  void stepBy(int steps) override;
  [[nodiscard]] QSize sizeHint() const override;
  [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

 signals:
  void valueChanged(double value);
  void refused(const QString& sentence);

 protected:
  [[nodiscard]] StepEnabled stepEnabled() const override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  bool event(QEvent* event) override;

 private:
  [[nodiscard]] QString shown(double value) const;
  [[nodiscard]] Checked<double> read() const;
  void typed();
  bool commit();  ///< reads the text for good; false when it was refused
  void take(double value);
  void show_text();
  void say(const QString& sentence);
  void clear_refusal();

  AskedNumber asked_{0, 99.99, {}, false, false, {}};
  double value_ = 0;
  double committed_ = 0;  ///< before the text in hand was begun
  double step_ = 1;
  int decimals_ = 2;
  bool live_ = true;
  bool typing_ = false;  ///< the text differs from what the program put there
  QString suffix_, prefix_, special_;
  QString refusal_, refused_text_;
  QPointer<QLabel> bubble_;
};

}  // namespace bq::ui
