#pragma once

#include <QAbstractButton>
#include <QString>
#include <QWidget>
#include <vector>

#include "edge/evidence_key.h"

namespace bq::ui {

/// An answer of a key: its drawing, its number, its words.
class AnswerButton : public QAbstractButton {
  Q_OBJECT
 public:
  AnswerButton(const EvidenceAnswer& answer, int number);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QString draw_;
  int number_;
};

/// The outcomes in front as drawings with their probability as a bar.
class StandingBars : public QWidget {
  Q_OBJECT
 public:
  StandingBars();
  /// `key` must live as long as this is shown.
  void show_result(const EvidenceKey* key, const EvidenceResult& result);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const EvidenceKey* key_ = nullptr;
  std::vector<RankedOutcome> ranked_;
};

}  // namespace bq::ui
