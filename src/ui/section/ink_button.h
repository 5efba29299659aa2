#pragma once

#include <QAbstractButton>

#include "edge/marker_test.h"

namespace bq::ui {

/// What was seen of the ink, in two words.
QString answer_text(InkSeen seen);

/// An answer as a drawing: the bevel seen from its side, ink where it is left, bare where it went.
class InkButton : public QAbstractButton {
 public:
  InkButton(InkSeen seen, int key);

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  InkSeen seen_;
  int key_;
};

}  // namespace bq::ui
