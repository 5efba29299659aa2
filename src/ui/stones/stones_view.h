#pragma once

#include <QWidget>

#include "ui/stones/stones_model.h"

class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

class KeyPage;
class LadderDrawing;
class StepPanel;
class StonePage;

/// The Stones station: the ladder and the step in hand on the left, one helper at a time on the
/// right.
class StonesView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { plan, condition, causes, route, start, compare, stone, card };
  explicit StonesView(Workbench& workbench, QWidget* parent = nullptr);

  [[nodiscard]] StonesModel& model() { return *model_; }
  void choose_blade(int index) { model_->choose_blade(index); }
  void open_page(Page page);
  void show_stone(const QString& name);  ///< the page of one abrasive
  /// The edge-condition key for a blade with what a picture shows answered.
  void open_key(int blade, const Observations& seen, std::optional<double> at_mm);
  [[nodiscard]] QWidget* page() const;
  [[nodiscard]] StepPanel* step() const { return step_; }

 signals:
  /// Pictures of a knock test, to be laid over each other in Lens.
  void pictures_wanted(std::int64_t before, std::int64_t after);
  void lens_wanted();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void lay_out();
  void refresh_head();

  Workbench& workbench_;
  StonesModel* model_;
  QComboBox* blades_;
  QLabel* facts_;
  LadderDrawing* ladder_;
  StepPanel* step_;
  QStackedWidget* pages_;
  StonePage* stone_;
  KeyPage* condition_ = nullptr;
  std::vector<QPushButton*> tabs_;
};

}  // namespace bq::ui
