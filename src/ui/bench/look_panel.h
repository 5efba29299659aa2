#pragma once

#include <QWidget>

#include "ui/parts/number_entry.h"
#include "workflow/lens_study.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLayout;
class QLineEdit;
class QPushButton;

namespace bq::ui {

/// What the look at the edge found, by one key (1 to 4) or a big button; size, place, words and a
/// picture beside it.
class LookPanel : public QWidget {
  Q_OBJECT
 public:
  /// `with_picture`: a picture can be added.
  explicit LookPanel(bool with_picture, QWidget* parent = nullptr);
  void begin(bool damage);
  /// Widths measured on Lens in pictures of this edge, to be taken over with their picture.
  void offer(std::vector<LensOffer> offers);

 signals:
  void decided(const bq::LookEvent& look, const QString& picture_path);
  void left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QLayout* make_kinds();
  QLayout* make_sizes(bool with_picture);
  void take_measured(int at);  ///< what was measured in a picture fills the fields
  void choose(DamageFound found);
  void finish();
  DamageFound found_ = DamageFound::bright_spot;
  std::vector<QPushButton*> kinds_;
  NumberEntry *widest_, *place_;
  QCheckBox* width_;
  QLineEdit *note_, *picture_;
  QPushButton *keep_, *back_;
  QComboBox* measured_;
  QLabel* measured_label_;
  std::vector<LensOffer> offers_;
  std::int64_t picture_row_ = 0;  ///< of the offer taken over; 0 none
  QLabel* meaning_;
};

}  // namespace bq::ui
