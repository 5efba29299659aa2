#pragma once

#include <QObject>
#include <QString>
#include <optional>
#include <set>

#include "trial/making.h"
#include "ui/frame/workbench.h"
#include "workflow/ladder_draft.h"
#include "workflow/rule_base.h"

class QTimer;

namespace bq::ui {

/// What the Stones station works on: one blade, the ladder wished for it, and the sharpening in
/// hand. Every tap is in the project before it is shown.
class StonesModel : public QObject {
  Q_OBJECT
 public:
  explicit StonesModel(Workbench& workbench, QObject* parent = nullptr);

  void choose_blade(int index);
  [[nodiscard]] int blade() const { return blade_; }
  [[nodiscard]] const Blade* blade_facts() const;
  [[nodiscard]] const RuleBase& rules() const { return rules_; }

  /// The ladder being planned; empty input: the blade has no section.
  [[nodiscard]] const std::optional<LadderInput>& input() const { return input_; }
  void set_input(const LadderInput& input);
  [[nodiscard]] const std::optional<LadderPlan>& plan() const { return plan_; }
  [[nodiscard]] const QString& refusal() const { return refusal_; }
  [[nodiscard]] const RouteAdvice& advice() const { return advice_; }
  /// The steps the plan would give.
  [[nodiscard]] Sharpening planned() const;
  [[nodiscard]] CuttingClass cutting_class() const;

  /// The sharpening in hand.
  [[nodiscard]] const std::optional<SharpeningInHand>& hand() const { return hand_; }
  /// Seconds of the current step, running on.
  [[nodiscard]] double seconds() const;
  [[nodiscard]] bool timer_runs() const { return hand_ && hand_->since > 0; }
  void begin_planned();
  void begin_again(
      const Sharpening& sharpening);  ///< a replay: what section it leaves is not known
  /// An edge the blade has had, made again: its sharpening step by step, its jig setting put on
  /// record again where another one is set; one step of undo.
  void make_again(const Making& making);
  void tap_next();  ///< the one big key
  void tap_mark(int mark, BurrSize size = BurrSize::felt);
  /// The work on the places of the current step that were missed, put before it.
  void work_missed();
  void pass_gate(const QString& reason);
  void pause_or_go_on();
  void add_step(const SharpeningStep& step);     ///< before the current one
  void change_step(const SharpeningStep& step);  ///< the current one, as it is really done
  void undo_tap();
  void give_up();  ///< lays the sharpening away; undo brings it back
  /// Keeps at once what is being typed.
  void keep_now();

 signals:
  void blade_changed();
  void plan_changed();
  void hand_changed();
  void finished(const QString& sentence);

 private:
  void reload();
  void replan();
  void hold_stale_timer();
  void put(SharpeningInHand hand, const QString& what);
  void take(const Checked<Sharpening>& next, const QString& what, bool step_done);
  [[nodiscard]] std::string input_key() const;

  Workbench& workbench_;
  RuleBase rules_;
  int blade_ = -1;
  std::int64_t blade_id_ = 0;
  std::optional<LadderInput> input_;
  std::optional<LadderPlan> plan_;
  QString refusal_;
  RouteAdvice advice_;
  std::optional<SharpeningInHand> hand_;
  std::set<std::int64_t> timed_here_;  ///< blades whose timer was started in this sitting
  QTimer* pause_;
  bool unkept_ = false;
};

}  // namespace bq::ui
