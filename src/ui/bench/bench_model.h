#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QPointer>
#include <QTimer>
#include <set>

#include "bluntness/start_gate.h"
#include "trial/bench_stage.h"
#include "ui/bench/instrument_desk.h"
#include "ui/frame/workbench.h"

namespace bq::ui {

/// The run at the bench: its stage, what a press of the key does there, and what is still waiting
/// to be kept. Everything it knows of the work stands in the project; a window that opens again is
/// where the other one stopped.
class BenchModel : public QObject {
  Q_OBJECT
 public:
  explicit BenchModel(Workbench& workbench, QObject* parent = nullptr);

  [[nodiscard]] const Run* run() const;
  [[nodiscard]] const BenchStage& stage() const { return stage_; }
  [[nodiscard]] const BenchProtocol& protocol() const { return protocol_; }
  void set_protocol(const BenchProtocol& protocol);
  /// Steel, geometry and finish of this run are hidden by its plan.
  [[nodiscard]] bool covered() const { return is_covered(workbench_.current_run()); }
  [[nodiscard]] bool is_covered(int run) const;
  void uncover();
  /// How the edge of this run started (workflow/sentences.h); "" where nothing is on record.
  [[nodiscard]] QString start_words();
  [[nodiscard]] InstrumentDesk& desk() { return desk_; }
  [[nodiscard]] const InstrumentDesk& desk() const { return desk_; }
  [[nodiscard]] const QString& by_operator() const { return operator_; }
  void set_operator(const QString& name);

  // What keys and buttons do. Each says what was kept, or why nothing was.
  void act();                      ///< Space, a pedal: the one thing to do now
  void type(const QString& text);  ///< a number was typed and confirmed
  void take(const InstrumentReading& reading);
  void keep_look(const LookEvent& look, const QString& picture_path);
  void set_reading_aside(int reading,
                         const QString& reason);  ///< out of the fits with a reason, or back in
  void begin_rest();
  void undo();
  void decide(
      bool go_on,
      const QString& reason);  ///< at the gate, at a stop rule, at a check weight, of a stopped run
  void stop_run(const QString& reason);
  void check_weight_now();  ///< puts the check weight before everything else once
  void stroke_now();        ///< asks the force cell for a stroke
  void next_run();          ///< the next run under way or planned, in the order of the sheet

  [[nodiscard]] std::optional<double> rest_left_s() const;  ///< empty: no rest
  /// A reading that the disk refused; it is held and tried again with act().
  [[nodiscard]] const std::optional<TakenReading>& pending() const { return pending_; }
  /// By how much the last check weight was beyond its limit; empty: it was not.
  [[nodiscard]] std::optional<double> check_off_percent() const { return check_off_percent_; }
  /// Ends the sitting: everything is kept, and the run goes on another day.
  void pause_until_tomorrow();
  [[nodiscard]] bool weighing_by_wish() const { return weigh_now_; }
  [[nodiscard]] bool weighing() const { return stage_.kind == StageKind::check_weight; }

  // The pace.
  void toggle_pace();
  [[nodiscard]] bool pacing() const { return pace_.isActive(); }
  [[nodiscard]] int beats() const { return beats_; }
  [[nodiscard]] double into_beat() const;  ///< 0 … 1

 signals:
  void number_taken();  ///< what was typed or sent is in the project (and said to be kept when it
                        ///< is on the disk)
  void changed();       ///< run, stage, protocol
  void said(const QString& sentence, bool refusal);
  void beat();
  void stroke_kept(qint64 id);

 private:
  /// True when this was asked about already: the same again is taken. Else asks `question`.
  bool confirmed(const QString& what, const QString& question);
  void refresh();
  void keep(TakenReading taken);
  void keep_weight(double value, Unit unit, const QString& gauge);
  void take_stroke(const CaughtStroke& stroke);
  bool edit(const std::function<void(ProjectSession&)>& change);
  /// Said when everything changed before is on the disk, so "kept" is true and sentences keep their
  /// order.
  void say(const QString& sentence, bool warning = false);
  [[nodiscard]] std::vector<std::string> deviations() const;
  [[nodiscard]] std::string gauge_words(const std::string& name) const;
  void watch_clock();

  Workbench& workbench_;
  InstrumentDesk desk_;
  FreshReadings fresh_;
  std::uint64_t fresh_opening_ = 0;
  BenchProtocol protocol_;
  BenchStage stage_;
  std::string plans_text_, protocol_text_;
  bool texts_read_ = false;
  QString operator_;
  std::optional<TakenReading> pending_;
  QString questioned_;  ///< what was typed or sent and asked about; the same again is taken
  std::optional<double> check_off_percent_;
  std::int64_t pending_run_ = 0;
  bool weigh_now_ = false;
  QElapsedTimer resting_;
  bool in_rest_ = false, rest_by_wish_ = false;
  double rest_planned_s_ = 0;
  QTimer pace_;
  QElapsedTimer since_beat_;
  int beats_ = 0;
  QTimer clock_;
  double last_wall_s_ = 0, last_boot_s_ = 0;
  double last_mono_s_ = 0;
};

}  // namespace bq::ui
