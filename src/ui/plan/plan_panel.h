#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>

#include "ui/parts/number_entry.h"
#include "ui/parts/record_form.h"
#include "ui/plan/plan_model.h"
#include "ui/theme/theme.h"

namespace bq::ui {

/// What the panels of the Plan station have in common: a column that scrolls, number fields bound
/// to one figure of the plan, filled from the model whenever it changes and never while it fills
/// itself.
class PlanPanel : public QWidget {
  Q_OBJECT
 public:
  PlanPanel(Workbench& workbench, PlanModel& model, const QString& title,
            QWidget* parent = nullptr);
  void refill();

 protected:
  virtual void fill(const TrialPlan& plan) = 0;
  void showEvent(QShowEvent* event) override;
  [[nodiscard]] AngleConvention angles() const { return workbench_.display().angles; }
  /// Changes the plan unless the panel is being filled.
  void edit(const QString& what, const std::function<void(TrialPlan&)>& change);
  /// A labelled number at a row of a grid; shown multiplied by `scale`.
  NumberEntry* number(QGridLayout* grid, int row, const QString& label, double least, double most,
                      int decimals, double step, const QString& suffix,
                      const std::function<double&(TrialPlan&)>& of, double scale = 1);
  NumberEntry* whole(QGridLayout* grid, int row, const QString& label, int least, int most,
                     const QString& suffix, const std::function<int(const TrialPlan&)>& get,
                     const std::function<void(TrialPlan&, int)>& put);
  /// The entry of a declared number of a part of the plan (`&TrialPlan::rates`): label, range and
  /// unit are the declared ones; with a scale of 100 it is shown in percent.
  template <auto Part, auto Member>
  NumberEntry* told(QGridLayout* grid, int row, int decimals = 0, double step = 1,
                    double scale = 1) {
    static constexpr auto one = field_of<Member>();
    const QString unit = scale == 100 ? QStringLiteral(" %") : unit_after<Member>();
    if constexpr (std::is_integral_v<typename Field<Member>::Bare>)
      return whole(
          grid, row, label_of<Member>(), int(one.least), int(one.most), unit,
          [](const TrialPlan& plan) { return int(plan.*Part.*Member); },
          [](TrialPlan& plan, int value) { plan.*Part.*Member = value; });
    else
      return number(
          grid, row, label_of<Member>(), scale * one.least, scale * one.most, decimals, step, unit,
          [](TrialPlan& plan) -> double& { return plan.*Part.*Member; }, scale);
  }
  static QGridLayout* two_columns();
  [[nodiscard]] bool filling() const { return filling_; }
  [[nodiscard]] Workbench& workbench() const { return workbench_; }
  [[nodiscard]] PlanModel& model() const { return model_; }

  QVBoxLayout* column_;

 private:
  Workbench& workbench_;
  PlanModel& model_;
  std::vector<std::function<void(const TrialPlan&)>> shows_;
  bool filling_ = false;
};

/// Levels from a text: numbers for numeric kinds (angles in the window's convention), else words; a
/// user factor is numeric where all are numbers. Refused with the part that is wrong.
Checked<std::vector<FactorValue>> read_levels(FactorKind kind, const QString& text,
                                              AngleConvention angles);
/// The text read_levels reads.
QString print_levels(FactorKind kind, const std::vector<FactorValue>& levels,
                     AngleConvention angles);

}  // namespace bq::ui
