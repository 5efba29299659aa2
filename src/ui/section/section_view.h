#pragma once

#include <QWidget>

#include "ui/section/section_model.h"

class QLayout;
class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

class GrindList;
class LensScale;
class OutcomesPanel;
class SectionDrawing;

/// Station Section: the cross-section to scale under a lens, the grinds that made it, what it is
/// worth, and the helpers that measure and set angles.
class SectionView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { outcomes, marker, gauge, jig, lift, wear };
  explicit SectionView(Workbench& workbench, QWidget* parent = nullptr);
  void choose_blade(int index) { model_->choose_blade(index); }
  void open_page(Page page);
  [[nodiscard]] SectionModel& model() { return *model_; }
  [[nodiscard]] SectionDrawing* drawing() const { return drawing_; }
  [[nodiscard]] GrindList* grinds() const { return grinds_; }
  [[nodiscard]] OutcomesPanel* outcomes() const { return outcomes_; }
  [[nodiscard]] QWidget* page() const;

 protected:
  void hideEvent(QHideEvent* event) override;

 private:
  QLayout* make_head();    ///< which blade, against which
  QWidget* make_right();   ///< its grinds, and the pages
  void lay_out_caution();  ///< before the act
  void listen();
  void refresh_blades();
  void refresh_state();
  void refresh_rests();
  void look_at_bevel();

  Workbench& workbench_;
  SectionModel* model_;
  QComboBox *blades_, *compare_;
  QLabel* state_;
  QWidget* caution_;
  bool caution_seen_ = false;
  QPushButton *side_by_side_, *revert_, *adopt_;
  LensScale* lens_;
  SectionDrawing* drawing_;
  GrindList* grinds_;
  OutcomesPanel* outcomes_;
  QStackedWidget* pages_;
  std::vector<QPushButton*> tabs_;
};

}  // namespace bq::ui
