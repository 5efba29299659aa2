#pragma once

#include "store/jig_files.h"
#include "ui/parts/bevel_choice.h"
#include "ui/parts/number_entry.h"
#include "ui/section/helper_page.h"

class QCheckBox;
class QComboBox;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

/// The marker test: one big question at a time, one key for each answer.
class MarkerPage : public HelperPage {
  Q_OBJECT
 public:
  MarkerPage(Workbench& workbench, SectionModel& model, QWidget* parent = nullptr);
  /// The big line: "Touch at 18.0°" or the answer.
  [[nodiscard]] QString instruction() const;

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  /// The space bar belongs to the answers: it never wipes a test.
  bool eventFilter(QObject* watched, QEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void lay_out();
  void listen();
  class Belief;
  class Touch;
  void reload() override;
  void refresh();
  void answer(InkSeen seen);
  void take_back();
  void adjust();  ///< settings change, answers stay
  void begin();   ///< a new test
  void store();
  void keep_now(const char* what);

  MarkerQuestion question_;
  MarkerAnswer answer_;
  bool filling_ = false;
  QComboBox* side_;
  BevelChoice* bevel_;
  NumberEntry *at_, *guess_, *step_, *touched_;
  QCheckBox* own_;
  QLabel *big_, *say_, *result_;
  QWidget* answers_;
  QPushButton *store_, *back_, *again_;
  Belief* belief_;
  Touch* touch_;
};

}  // namespace bq::ui
