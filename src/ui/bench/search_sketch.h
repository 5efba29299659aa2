#pragma once

#include <QWidget>

#include "bluntness/damage_search.h"

namespace bq::ui {

/// The edge of a damage search to scale, apex down: what was cut last, up to which thickness it was
/// damaged, and the section that is to be ground next, in the blade it is ground from.
class SearchSketch : public QWidget {
  Q_OBJECT
 public:
  explicit SearchSketch(QWidget* parent = nullptr);
  void show_search(const DamageSearch& search, const SearchProposal& next);
  /// As it is read aloud: "damaged up to 110 µm thick, 337 µm from the apex; next 10.5° …".
  [[nodiscard]] QString words() const { return accessibleDescription(); }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  ApexProfile last_, next_;
  bool has_last_ = false, has_next_ = false;
  double damaged_um_ = 0;  ///< thickness; 0: none, or not measured
};

}  // namespace bq::ui
