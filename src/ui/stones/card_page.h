#pragma once

#include "report/edge_card.h"
#include "trial/making.h"
#include "ui/stones/stones_page.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace bq::ui {

/// The card of a run, or of any edge the blade has had, as it will be printed: to look at, to save,
/// to print, to make again.
class CardPage : public StonesPage {
  Q_OBJECT
 public:
  CardPage(Workbench& workbench, StonesModel& model, QWidget* parent = nullptr);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  void reload() override;
  void list_makings(std::size_t blade);
  /// What is chosen; empty: nothing.
  [[nodiscard]] std::optional<EdgeCard> card() const;
  [[nodiscard]] std::optional<Making> making() const;
  void make_again();
  void show_card();
  void save();
  void print();
  QComboBox* run_;
  QPushButton *save_, *print_, *again_;
  QLabel* pages_;
  std::int64_t blade_id_ = -1;
  int listed_ = 0;  ///< cards of this blade when they were last listed
};

}  // namespace bq::ui
