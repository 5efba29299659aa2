#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "trial/micrograph.h"

class QComboBox;
class QPushButton;

namespace bq::ui {

/// The knock test in three steps: a picture of the place, the knock, the same place again.
class KnockPanel : public QWidget {
  Q_OBJECT
 public:
  static constexpr int kKnocks = 10;  ///< what the rules' question says
  explicit KnockPanel(QWidget* parent = nullptr);
  /// Offers the pictures of a blade near a place (all of them where none is said); what was chosen
  /// stays where it is still offered.
  void offer(const std::vector<Micrograph>& pictures, const std::string& blade,
             std::optional<double> at_mm);
  /// "knock test, 10 rocks, pictures 12 and 15": what a record says of it.
  [[nodiscard]] QString note() const;

 signals:
  /// Two different pictures, before and after, to be laid over each other in Lens.
  void pictures_wanted(std::int64_t before, std::int64_t after);
  void lens_wanted();  ///< to take or bring in one

 private:
  void allow();
  [[nodiscard]] std::int64_t chosen(const QComboBox* box) const;

  QComboBox *before_, *after_;
  QPushButton* see_;
};

}  // namespace bq::ui
