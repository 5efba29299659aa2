#pragma once

#include <QWidget>

#include "ui/section/section_model.h"

class QHBoxLayout;
class QLabel;
class QVBoxLayout;

namespace bq::ui {

/// What the helpers beside the drawing have in common: a heading, a caution that is shown once for
/// each act, and the blade they work for.
class HelperPage : public QWidget {
  Q_OBJECT
 public:
  HelperPage(Workbench& workbench, SectionModel& model, const QString& title,
             const QString& caution, QWidget* parent = nullptr);

 protected:
  /// Takes what the project and the blade hold now; called when the page is shown and, while it can
  /// be seen, whenever they change. A page nobody looks at costs a reading on the Bench nothing.
  virtual void reload() = 0;
  void showEvent(QShowEvent* event) override;
  [[nodiscard]] Workbench& workbench() const { return workbench_; }
  [[nodiscard]] SectionModel& model() const { return model_; }
  [[nodiscard]] const Blade* blade() const;
  /// What this helper keeps for the blade under a name of its own.
  [[nodiscard]] std::string kept(const char* name) const;
  /// The key that is kept under; there must be a blade.
  [[nodiscard]] std::string key_of(const char* name) const;
  /// False, and said by the window, where the project refuses.
  bool keep(const char* name, const std::string& text, const char* what);
  /// Degrees per side in the shown convention: "15.0°".
  [[nodiscard]] QString angle_text(double per_side_deg, int decimals = 1) const;
  /// An angle that the hand sets: per side, whatever is displayed.
  [[nodiscard]] static QString hand_text(double per_side_deg, int decimals = 1);
  [[nodiscard]] QString convention_text() const;

  QVBoxLayout* column_;

 private:
  Workbench& workbench_;
  SectionModel& model_;
};

}  // namespace bq::ui
