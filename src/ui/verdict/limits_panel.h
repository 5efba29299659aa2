#pragma once

#include <QTimer>
#include <QWidget>
#include <array>
#include <functional>
#include <map>

#include "ui/frame/workbench.h"
#include "ui/parts/number_entry.h"
#include "workflow/limits.h"

class QCheckBox;
class QLabel;
class QSlider;
class QVBoxLayout;

namespace bq::ui {

class LimitSlider;

/// What the edge must do (limits, with the count of edges that pass) and what one would like more
/// of (wishes). Kept in the project when the hand pauses; one step of undo.
class LimitsPanel : public QWidget {
  Q_OBJECT
 public:
  explicit LimitsPanel(Workbench& workbench, QWidget* parent = nullptr);
  /// Limits, wishes and stones; its threshold is empty (the window's holds).
  [[nodiscard]] LimitsFile wanted() const;
  /// Spans of the sliders, counts, media.
  void show_verdict(const Verdict& verdict);
  [[nodiscard]] QString count_line() const;
  [[nodiscard]] LimitSlider* life() const { return life_; }
  [[nodiscard]] LimitSlider* force() const { return force_; }
  void keep_now();
  /// As a hand's change of the panel: shown, kept when it pauses, one step of undo.
  void change(const std::function<void(LimitsFile&)>& how);

 signals:
  void changed();

 protected:
  void hideEvent(QHideEvent* event) override;  ///< another station, or the window is closed

 private:
  void lay_out();
  void listen();
  void reload();
  void fill_names();
  void fill_work(const std::vector<std::pair<std::string, int>>& media);
  void touched();

  Workbench& workbench_;
  LimitsFile now_;
  QString kept_;
  QLabel* count_;
  QVBoxLayout *work_box_, *steels_box_, *stones_box_;
  std::vector<std::pair<std::string, NumberEntry*>> work_;
  std::vector<QCheckBox*> steels_, stones_;
  LimitSlider *life_, *force_, *damage_, *minutes_;
  QCheckBox* roughest_;
  NumberEntry *least_angle_, *largest_angle_, *finest_, *coarsest_, *beyond_;
  std::array<QSlider*, 4> wishes_{};
  std::array<QLabel*, 4> wish_figures_{};
  QTimer keeping_;
  bool filling_ = false, in_hand_ = false;  ///< in hand: changed and not kept yet
};

}  // namespace bq::ui
