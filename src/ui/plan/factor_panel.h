#pragma once

#include <vector>

#include "ui/plan/plan_panel.h"

class QComboBox;
class QLineEdit;

namespace bq::ui {

/// Glyphs (or colour marks) of a factor's levels in a row, each with its name.
class LevelStrip : public QWidget {
  Q_OBJECT
 public:
  explicit LevelStrip(Workbench& workbench, QWidget* parent = nullptr);
  void show_levels(const TrialPlan& plan, std::size_t factor);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Mark {
    std::optional<EdgeGeometry> geometry;
    std::optional<Finish> finish;
    QString text;
    int style = -1;
  };
  Workbench& workbench_;
  std::vector<Mark> marks_;
};

/// What is compared (factors with their levels, typed in place) and what is held the same.
class FactorPanel : public PlanPanel {
  Q_OBJECT
 public:
  FactorPanel(Workbench& workbench, PlanModel& model, QWidget* parent = nullptr);

 protected:
  void fill(const TrialPlan& plan) override;

 private:
  struct Row {
    QWidget* widget = nullptr;
    QLabel* name = nullptr;
    QLineEdit *own_name = nullptr, *levels = nullptr;
    LevelStrip* strip = nullptr;
  };
  void build(const TrialPlan& plan);
  void take_levels(std::size_t factor);
  void take_held(FactorKind kind, const QString& text);
  void add(int choice);
  [[nodiscard]] QStringList suggestions(FactorKind kind) const;

  QVBoxLayout *factors_, *held_;
  QComboBox* add_;
  std::vector<Row> rows_;
  std::vector<std::pair<FactorKind, QWidget*>> held_fields_;
  QString built_;  ///< what the rows were built for
};

}  // namespace bq::ui
