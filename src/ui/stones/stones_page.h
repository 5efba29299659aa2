#pragma once

#include <QWidget>

#include "ui/stones/stones_model.h"

class QVBoxLayout;

namespace bq::ui {

/// What the pages on the right have in common: a heading over a column that scrolls, filled only
/// while it is looked at.
class StonesPage : public QWidget {
  Q_OBJECT
 public:
  StonesPage(Workbench& workbench, StonesModel& model, const QString& title,
             QWidget* parent = nullptr);

 protected:
  /// Takes what the project and the model hold now.
  virtual void reload() = 0;
  void showEvent(QShowEvent* event) override;
  [[nodiscard]] Workbench& workbench() const { return workbench_; }
  [[nodiscard]] StonesModel& model() const { return model_; }
  [[nodiscard]] const Trial& trial() const { return workbench_.trial(); }

  QVBoxLayout* column_;

 private:
  Workbench& workbench_;
  StonesModel& model_;
};

}  // namespace bq::ui
