#include "ui/bench/bench_model.h"

#include <QApplication>
#include <algorithm>
#include <cmath>
#include <ctime>

#include "quantity/number.h"
#include "store/bench_json.h"
#include "store/plan_file.h"
#include "workflow/bench_study.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

double clock_s(clockid_t which) {
  timespec now{};
  clock_gettime(which, &now);
  return double(now.tv_sec) + 1e-9 * double(now.tv_nsec);
}

}  // namespace

BenchModel::BenchModel(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench), desk_(workbench) {
  connect(&workbench_, &Workbench::changed, this, &BenchModel::refresh);
  connect(&workbench_, &Workbench::run_chosen, this, [this] {
    in_rest_ = false;
    pace_.stop();
    weigh_now_ = false;
    refresh();
  });
  connect(&workbench_, &Workbench::threshold_changed, this, &BenchModel::refresh);
  connect(&desk_, &InstrumentDesk::told, this, &BenchModel::say);
  connect(&desk_, &InstrumentDesk::read, this,
          [this](InstrumentRole role, const InstrumentReading& reading) {
            if (role == InstrumentRole::gauge) take(reading);
          });
  connect(&desk_, &InstrumentDesk::stroke_caught, this, &BenchModel::take_stroke);
  connect(&desk_, &InstrumentDesk::state_changed, this, [this] { emit changed(); });
  connect(&pace_, &QTimer::timeout, this, [this] {
    ++beats_;
    since_beat_.start();
    const bool whole = stage_.kind == StageKind::cut && beats_ >= stage_.cuts_to_make;
    if (protocol_.sound) QApplication::beep();
    if (whole) {
      pace_.stop();
      say(tr("%1 beats: the block is full. Space when the cuts are made.").arg(beats_));
    }
    emit beat();
  });
  connect(&clock_, &QTimer::timeout, this, &BenchModel::watch_clock);
  clock_.start(1000);
  watch_clock();
  refresh();
}

const Run* BenchModel::run() const {
  const int index = workbench_.current_run();
  return index >= 0 && index < int(workbench_.trial().runs.size())
             ? &workbench_.trial().runs[std::size_t(index)]
             : nullptr;
}

bool BenchModel::is_covered(int index) const {
  return index >= 0 && workbench_.is_covered(std::size_t(index));
}

void BenchModel::refresh() {
  if (workbench_.has_project()) {
    if (std::string text = workbench_.session().kept(kPlanBookKey);
        !texts_read_ || text != plans_text_) {
      plans_text_ = std::move(text);
      protocol_ = protocol_of(workbench_.session());
    }
    if (std::string text = workbench_.session().kept(kProtocolKey);
        !texts_read_ || text != protocol_text_) {
      protocol_ = protocol_of(workbench_.session());
      protocol_text_ = std::move(text);
    }
    texts_read_ = true;
  } else {
    texts_read_ = false;
  }
  const StageKind before = stage_.kind;
  stage_ = {};
  if (const Run* now = run()) {
    StageFacts facts =
        stage_facts(workbench_.trial(), std::size_t(workbench_.current_run()),
                    workbench_.threshold(), now_utc(), protocol_.check_limit_percent);
    check_off_percent_ = facts.check_off_percent;
    stage_ = bench_stage(*now, protocol_, facts);
    if (weigh_now_ && protocol_.check_nominal > 0) stage_.kind = StageKind::check_weight;
  }
  if (stage_.kind != StageKind::cut && pace_.isActive()) pace_.stop();
  // A rest that is due begins when it is first met.
  if (stage_.kind == StageKind::rest && !in_rest_) {
    in_rest_ = true;
    rest_by_wish_ = false;
    rest_planned_s_ = protocol_.rest_min * 60;
    resting_.start();
  } else if (stage_.kind != StageKind::rest && in_rest_ && !rest_by_wish_) {
    in_rest_ = false;
  }
  if (before != stage_.kind) {
    beats_ = 0;
    questioned_.clear();
  }
  emit changed();
}

void BenchModel::set_protocol(const BenchProtocol& protocol) {
  if (const std::string fault = fault_of(protocol); !fault.empty()) {
    say(tr("Not kept: %1").arg(QString::fromStdString(fault)), true);
    return;
  }
  if (protocol == protocol_) return;
  const std::string text = protocol_json(protocol);
  const std::string batch_before = protocol_.medium_batch;
  edit([&](ProjectSession& session) {
    session.keep(kProtocolKey, text, "the bench's protocol");
    // Another batch in the middle of a run is a deviation of that run.
    if (const Run* now = run(); now && batch_before != protocol.medium_batch &&
                                now->cuts_done > 0 && state_of(*now) == RunState::running)
      session.record(
          std::size_t(workbench_.current_run()),
          {DeviationEvent{"medium batch " +
                          (protocol.medium_batch.empty() ? "not said" : protocol.medium_batch) +
                          " instead of " + (batch_before.empty() ? "not said" : batch_before)}},
          operator_.toStdString());
  });
}

bool BenchModel::edit(const std::function<void(ProjectSession&)>& change) {
  const Edited edited = workbench_.edit(change);
  if (!edited) say(tr("Not kept. %1").arg(edited.refusal), true);
  return edited;
}

void BenchModel::say(const QString& sentence, bool warning) {
  workbench_.when_kept([self = QPointer(this), sentence, warning] {
    if (self) emit self->said(sentence, warning);
  });
}

void BenchModel::set_operator(const QString& name) { operator_ = name.trimmed(); }

void BenchModel::uncover() {
  if (!covered()) return;
  if (edit([&](ProjectSession& s) {
        s.record(std::size_t(workbench_.current_run()), {DeviationEvent{kUncovered}},
                 operator_.toStdString());
      }))
    say(
        tr("Uncovered. It is written down with the run: who reads and knows the edge may read "
           "differently."));
}

void BenchModel::begin_rest() {
  if (!run() || in_rest_ || state_of(*run()) == RunState::done) return;
  in_rest_ = rest_by_wish_ = true;
  rest_planned_s_ = protocol_.rest_min * 60;
  resting_.start();
  pace_.stop();
  emit changed();
}

std::optional<double> BenchModel::rest_left_s() const {
  if (!in_rest_) return std::nullopt;
  return rest_planned_s_ - double(resting_.elapsed()) / 1000;
}

void BenchModel::undo() {
  if (!workbench_.has_project() || !workbench_.session().can_undo()) {
    say(tr("Nothing to undo since this project was opened."));
    return;
  }
  const QString what = QString::fromStdString(workbench_.session().undo_text());
  workbench_.undo();
  say(tr("undone: %1").arg(what));
}

void BenchModel::check_weight_now() {
  if (protocol_.check_nominal <= 0) {
    say(tr("No check weight is set: name one under Protocol."), true);
    return;
  }
  weigh_now_ = !weigh_now_;
  refresh();
}

void BenchModel::next_run() {
  const auto& runs = workbench_.trial().runs;
  const int from = workbench_.current_run();
  for (int step = 1; step <= int(runs.size()); ++step) {
    const int index = (from + step) % int(runs.size());
    if (state_of(runs[std::size_t(index)]) == RunState::done || index == from) continue;
    workbench_.choose_run(index);
    return;
  }
  say(tr("No other run is open: all are done."));
}

void BenchModel::stroke_now() {
  if (!desk_.open(InstrumentRole::force_cell))
    say(tr("No force cell is there: set one up under Instruments."), true);
  else if (desk_.ask(InstrumentRole::force_cell))
    say(tr("make one standard stroke …"));
  else
    say(tr("Make one standard stroke; the force cell records it by itself."));
}

void BenchModel::take_stroke(const CaughtStroke& caught) {
  if (!run() || !workbench_.writable()) return;
  const auto profile = desk_.profile(InstrumentRole::force_cell);
  if (!profile) return;
  if (stage_.kind == StageKind::prepare || state_of(*run()) == RunState::done) {
    say(tr("The force cell saw a stroke; it was not kept, because this run is not being cut now."));
    return;
  }
  if (caught.headless) {
    say(tr("The force cell was heard only from the middle of a stroke on: without its beginning "
           "nobody knows its zero, so it was not kept. Make one more."),
        true);
    return;
  }
  ForceStroke stroke;
  stroke.rate_hz = caught.rate_hz;
  stroke.resolution_N = profile->resolution
                            ? convert(*profile->resolution, *profile->unit.unit, Unit::N)
                            : convert(0.01, *profile->unit.unit, Unit::N);
  stroke.capacity_N =
      profile->capacity ? convert(*profile->capacity, *profile->unit.unit, Unit::N) : 0;
  stroke.lost = caught.lost;
  stroke.cut_off = caught.cut_off;
  stroke.force_N = caught.force_N;
  const auto figures = stroke_figures(stroke, {protocol_.stroke_mm, 0.1, 0.03, 0.01});
  if (!figures) {
    say(tr("A stroke was not kept: %1").arg(QString::fromStdString(figures.refusal().reason)),
        true);
    return;
  }
  const StrokeEvent event = stroke_event(*figures);
  if (!edit([&](ProjectSession& s) {
        s.keep_stroke(std::size_t(workbench_.current_run()), stroke, event,
                      operator_.toStdString());
      }))
    return;
  const auto& kept = std::get<StrokeEvent>(run()->events.back().data);
  say(tr("kept a stroke: peak %1 N, mean %2 N%3")
          .arg(QString::fromStdString(print_number(kept.peak_N, 3)),
               QString::fromStdString(print_number(kept.mean_N, 3)),
               kept.trouble.empty()
                   ? QString()
                   : tr(". Look at it: %1").arg(QString::fromStdString(kept.trouble))),
      !kept.trouble.empty());
  emit stroke_kept(kept.stroke);
}

QString BenchModel::start_words() {
  const ProjectSession& session = workbench_.session();
  const Trial& trial = workbench_.trial();
  // Another project has the same numbers of runs and revisions.
  if (const auto opening = workbench_.of_this_project()(); opening != fresh_opening_) {
    fresh_ = {};
    fresh_opening_ = opening;
  }
  const auto fresh = [&](std::size_t run) {
    return fresh_.of(trial.runs[run], session.revision(run), trial.unit());
  };
  return QString::fromStdString(
      start_line(trial, std::size_t(workbench_.current_run()), workbench_.shown_unit(), fresh));
}

void BenchModel::toggle_pace() {
  if (pace_.isActive()) {
    pace_.stop();
  } else if (stage_.kind == StageKind::cut && protocol_.seconds_per_cut > 0) {
    beats_ = 0;
    since_beat_.start();
    pace_.start(int(protocol_.seconds_per_cut * 1000));
  } else {
    say(protocol_.seconds_per_cut > 0
            ? tr("The pace runs while cuts are made.")
            : tr("No pace is set: name the seconds per cut under Protocol."),
        false);
  }
  emit beat();
}

double BenchModel::into_beat() const {
  if (!pace_.isActive() || pace_.interval() <= 0) return 0;
  return std::clamp(double(since_beat_.elapsed()) / pace_.interval(), 0.0, 1.0);
}

void BenchModel::watch_clock() {
  const double wall = clock_s(CLOCK_REALTIME);
  const double mono = clock_s(CLOCK_MONOTONIC), boot = clock_s(CLOCK_BOOTTIME);
  if (last_wall_s_ > 0) {
    const double asleep = boot - last_boot_s_ - (mono - last_mono_s_);
    const double shift = wall - last_wall_s_ - (boot - last_boot_s_);
    if (asleep > 5)
      say(tr("The computer slept for %1 s. Everything kept is safe; look whether the instruments "
             "are there again.")
              .arg(int(asleep)));
    if (shift < -30)
      say(tr("The computer's clock was moved back by %1 min. Nothing is lost: entries keep the "
             "order they were made in.")
              .arg(int(-shift / 60 + 0.5)));
  }
  last_wall_s_ = wall;
  last_mono_s_ = mono;
  last_boot_s_ = boot;
}

}  // namespace bq::ui
