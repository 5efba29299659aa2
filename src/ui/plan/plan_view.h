#pragma once

#include <QWidget>

#include "ui/plan/plan_model.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QScrollArea;
class QStackedWidget;

namespace bq::ui {

class ClaimPage;
class DesignField;
class PowerPanel;

/// The Plan station: factors, design, work and expectations on the left, the field of combinations
/// with its price in the middle, what it can see on the right, the run sheet below; or a claim to
/// be settled.
class PlanView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { trial, claim };
  enum class Panel { factors, design, work, expect };
  explicit PlanView(Workbench& workbench, QWidget* parent = nullptr);

  [[nodiscard]] PlanModel& model() { return *model_; }
  void open_page(Page page);
  void open_panel(Panel panel);
  [[nodiscard]] ClaimPage* claims() const { return claims_; }
  [[nodiscard]] DesignField* field() const { return field_; }
  [[nodiscard]] PowerPanel* power() const { return power_; }
  [[nodiscard]] QPushButton* issue_button() const { return issue_; }
  /// The refusals, mixtures and warnings under the field, as a person reads them.
  [[nodiscard]] QString remarks() const;

 protected:
  void hideEvent(QHideEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void listen();
  QWidget* make_trial_page();
  QWidget* make_left();
  QWidget* make_bottom();
  void refresh();
  void save_sheet();
  void print_sheet();
  void extend();

  Workbench& workbench_;
  PlanModel* model_;
  QComboBox* plans_;
  QLineEdit* name_;
  QPushButton *new_, *copy_, *remove_, *issue_, *sheet_, *print_, *extend_;
  QStackedWidget *pages_, *panels_;
  QLabel *remarks_, *caution_;
  DesignField* field_;
  PowerPanel* power_;
  ClaimPage* claims_;
  QWidget *left_ = nullptr, *bottom_ = nullptr;
  std::vector<QPushButton*> page_tabs_, panel_tabs_;
};

}  // namespace bq::ui
