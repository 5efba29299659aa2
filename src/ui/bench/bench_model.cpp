#include "ui/bench/bench_model.h"

#include <QApplication>
#include <QFile>
#include <QFileInfo>
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

QString cuts_text(double cuts) { return QString::fromStdString(print_cuts(cuts)); }

}  // namespace

BenchModel::BenchModel(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench), desk_(workbench) {
  connect(&workbench_, &Workbench::changed, this, &BenchModel::refresh);
  connect(&workbench_, &Workbench::run_chosen, this, [this] {
    in_rest_ = false;
    pace_.stop();
    weigh_now_ = false;
    refresh();
  });
  connect(&workbench_, &Workbench::threshold_changed, this, &BenchModel::refresh);
  connect(&desk_, &InstrumentDesk::told, this, &BenchModel::said);
  connect(&desk_, &InstrumentDesk::read, this, [this](InstrumentRole role, const InstrumentReading& reading) {
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
      emit said(tr("%1 beats: the block is full. Space when the cuts are made.").arg(beats_), false);
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
  return index >= 0 && index < int(workbench_.trial().runs.size()) ? &workbench_.trial().runs[std::size_t(index)] : nullptr;
}

bool BenchModel::is_covered(int index) const {
  if (index < 0 || index >= int(workbench_.trial().runs.size())) return false;
  const Run& run = workbench_.trial().runs[std::size_t(index)];
  return blind_.contains(run.facts.name) && state_of(run) != RunState::done && !was_uncovered(run);
}

void BenchModel::refresh() {
  if (workbench_.has_project()) {
    if (std::string text = workbench_.session().kept(kPlanBookKey); !texts_read_ || text != plans_text_) {
      blind_ = blind_runs(text);
      plans_text_ = std::move(text);
      protocol_ = protocol_of(workbench_.session());
    }
    if (std::string text = workbench_.session().kept(kProtocolKey); !texts_read_ || text != protocol_text_) {
      protocol_ = protocol_of(workbench_.session());
      protocol_text_ = std::move(text);
    }
    texts_read_ = true;
  } else {
    texts_read_ = false;
    blind_.clear();
  }
  const StageKind before = stage_.kind;
  stage_ = {};
  if (const Run* now = run()) {
    StageFacts facts = stage_facts(workbench_.trial(), std::size_t(workbench_.current_run()), workbench_.threshold(), utc_now());
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
  if (before != stage_.kind) beats_ = 0;
  emit changed();
}

void BenchModel::set_protocol(const BenchProtocol& protocol) {
  if (const std::string fault = fault_of(protocol); !fault.empty()) {
    emit said(tr("Not kept: %1").arg(QString::fromStdString(fault)), true);
    return;
  }
  if (protocol == protocol_) return;
  const std::string text = protocol_json(protocol);
  const std::string batch_before = protocol_.medium_batch;
  edit([&](ProjectSession& session) {
    session.keep(kProtocolKey, text, "the bench's protocol");
    // Another batch in the middle of a run is a deviation of that run.
    if (const Run* now = run(); now && batch_before != protocol.medium_batch && now->cuts_done > 0 && state_of(*now) == RunState::running)
      session.record(std::size_t(workbench_.current_run()),
                     {DeviationEvent{"medium batch " + (protocol.medium_batch.empty() ? "not said" : protocol.medium_batch) + " instead of " +
                                     (batch_before.empty() ? "not said" : batch_before)}},
                     operator_.toStdString());
  });
}

bool BenchModel::edit(const std::function<void(ProjectSession&)>& change) {
  QString why;
  const auto listening = connect(&workbench_, &Workbench::refused, this, [&](const QString& sentence) { why = sentence; });
  const bool good = workbench_.edit(change);
  disconnect(listening);
  if (!good) emit said(why.isEmpty() ? tr("Not kept.") : tr("Not kept. %1").arg(why), true);
  return good;
}

void BenchModel::set_operator(const QString& name) { operator_ = name.trimmed(); }

void BenchModel::uncover() {
  if (!covered()) return;
  if (edit([&](ProjectSession& s) { s.record(std::size_t(workbench_.current_run()), {DeviationEvent{kUncovered}}, operator_.toStdString()); }))
    emit said(tr("Uncovered. It is written down with the run: who reads and knows the edge may read differently."), false);
}

std::vector<std::string> BenchModel::deviations() const {
  std::vector<std::string> out;
  const Run* now = run();
  if (!now || now->readings.empty() || operator_.isEmpty()) return out;
  const std::string before = workbench_.trial().labels.text(now->readings.back().by_operator);
  if (!before.empty() && before != operator_.toStdString()) out.push_back("operator " + operator_.toStdString() + " instead of " + before);
  // Gone on with after a long break: that is written down too.
  if (!now->events.empty())
    if (const auto gap = seconds_between(now->events.back().made_at, utc_now()); gap && (*gap > 3600 || *gap < -60))
      out.push_back(*gap > 0 ? "gone on with after " + print_number(*gap / 3600, 2) + " hours" : "the clock was moved back by " + print_number(-*gap / 60, 3) + " minutes");
  return out;
}

std::string BenchModel::gauge_words(const std::string& name) const {
  const std::string words = protocol_.gauge_words();
  return words.empty() ? name : name + ", " + words;
}

void BenchModel::keep(TakenReading taken) {
  const auto index = std::size_t(workbench_.current_run());
  Reading kept;
  pending_.reset();
  if (!edit([&](ProjectSession& session) { kept = session.keep_reading(index, taken); })) {
    // The disk refused: the reading is not lost as long as the window stands.
    pending_ = std::move(taken);
    pending_run_ = run() ? run()->id : 0;
    emit changed();
    return;
  }
  // Said only now: the transaction is on disk.
  QString line = tr("kept %1 at %2 cuts").arg(QString::fromStdString(print_measure(kept.value, kept.unit, 6)), cuts_text(double(kept.cuts)));
  if (!taken.station.empty()) line += tr(", %1").arg(QString::fromStdString(taken.station));
  if (kept.reason) line += tr(", flagged: %1").arg(QString::fromStdString(workbench_.trial().labels.text(kept.reason)));
  if (!taken.deviations.empty()) line += tr("; noted: %1").arg(QString::fromStdString(taken.deviations.front()));
  if (stage_.kind == StageKind::gate) line += QStringLiteral(". ") + QString::fromStdString(gate_sentence(workbench_.trial(), index, covered()));
  emit said(line, false);
}

void BenchModel::keep_weight(double value, Unit unit, const QString& gauge) {
  CheckWeightEvent check{protocol_.check_nominal, convert(value, unit, protocol_.check_unit), protocol_.check_unit, gauge_words(gauge.toStdString()), 0, ""};
  for (const auto& run : workbench_.trial().runs)
    for (const auto& reading : run.readings) check.last_reading = std::max(check.last_reading, reading.id);
  weigh_now_ = false;
  if (!edit([&](ProjectSession& session) { session.keep_check(check, operator_.toStdString()); })) return;
  const GaugeDrift drift = gauge_drift(workbench_.trial(), protocol_.check_limit_percent);
  emit said(QString::fromStdString(drift.sentence), drift.drifted);
}

void BenchModel::take(const InstrumentReading& reading) {
  if (!run() || !workbench_.writable()) return;
  const QString name = QString::fromStdString(desk_.profile(InstrumentRole::gauge)->name);
  const bool wanted = stage_.kind == StageKind::read || stage_.kind == StageKind::check_weight;
  if (pending_) {
    emit said(tr("%1 sent %2, but the reading before is not kept yet. Nothing was taken.").arg(name, QString::fromStdString(reading.raw)), true);
    return;
  }
  if (!wanted) {
    emit said(tr("%1 sent %2, but no reading is due now. Nothing was taken.").arg(name, QString::fromStdString(reading.raw)), true);
    return;
  }
  if (reading.status != ReadingStatus::ok) {
    emit said(tr("Not taken: %1 (%2: %3). Read again.")
                  .arg(QString::fromStdString(reading.raw), QString::fromUtf8(name_of(reading.status).data()), QString::fromStdString(reading.why)), true);
    return;
  }
  const UnitKind kind = kind_of(workbench_.trial().unit());
  if (!reading.unit.unit || (workbench_.trial().reading_count() > 0 && kind_of(*reading.unit.unit) != kind)) {
    emit said(tr("Not taken: %1 is in %2, this trial's readings are in %3.")
                  .arg(QString::fromStdString(reading.raw), QString::fromUtf8(sign_of(reading.unit).data()),
                       QString::fromUtf8(sign_of(workbench_.trial().unit()).data())), true);
    return;
  }
  if (!(reading.value > 0)) {
    emit said(tr("Not taken: %1. A reading must be above zero.").arg(QString::fromStdString(reading.raw)), true);
    return;
  }
  if (stage_.kind == StageKind::check_weight) {
    keep_weight(reading.value, *reading.unit.unit, name);
    return;
  }
  keep({reading.value, *reading.unit.unit, operator_.toStdString(), stage_.station, gauge_words(name.toStdString()), deviations()});
}

void BenchModel::type(const QString& typed) {
  const QString text = typed.trimmed();
  if (!run() || text.isEmpty()) return;
  if (pending_) {
    emit said(tr("The reading before is not kept yet: Space tries again. Nothing was taken."), true);
    return;
  }
  if (stage_.kind == StageKind::cut) {
    bool good = false;
    const qlonglong made = text.toLongLong(&good);
    if (!good || made < 1) {
      emit said(tr("Not kept: cuts made are a whole number above 0."), true);
      return;
    }
    const auto asked = stage_.cuts_to_make;
    if (edit([&](ProjectSession& s) { s.make_cuts(std::size_t(workbench_.current_run()), asked, made, operator_.toStdString()); }))
      emit said(made == asked ? tr("kept: %1 cuts made").arg(cuts_text(double(run()->cuts_done)))
                              : tr("kept: %1 cuts now, %2 made where %3 were asked for").arg(cuts_text(double(run()->cuts_done))).arg(made).arg(asked), false);
    return;
  }
  if (stage_.kind != StageKind::read && stage_.kind != StageKind::check_weight) {
    emit said(tr("No number is wanted now. Nothing was kept."), true);
    return;
  }
  const bool first = workbench_.trial().reading_count() == 0;
  const InstrumentReading reading = keyed(text.toStdString(), workbench_.shown_unit(), first ? std::nullopt : std::optional(kind_of(workbench_.trial().unit())));
  if (reading.status != ReadingStatus::ok) {
    emit said(tr("Not kept: %1.").arg(QString::fromStdString(reading.why)), true);
    return;
  }
  if (stage_.kind == StageKind::check_weight && kind_of(*reading.unit.unit) != kind_of(protocol_.check_unit)) {
    emit said(tr("Not kept: the check weight is in %1.").arg(QString::fromUtf8(sign_of(protocol_.check_unit).data())), true);
    return;
  }
  if (stage_.kind == StageKind::check_weight) keep_weight(reading.value, *reading.unit.unit, tr("keyed"));
  else keep({reading.value, *reading.unit.unit, operator_.toStdString(), stage_.station, gauge_words("keyed"), deviations()});
}

void BenchModel::act() {
  const Run* now = run();
  if (!now || !workbench_.writable()) return;
  const auto index = std::size_t(workbench_.current_run());
  const std::string by = operator_.toStdString();
  const auto record = [&](const BenchEventData& event, const QString& words) {
    if (edit([&](ProjectSession& s) { s.record(index, {event}, by); })) emit said(words, false);
  };
  if (pending_) {
    if (now->id != pending_run_) {
      for (std::size_t i = 0; i < workbench_.trial().runs.size(); ++i)
        if (workbench_.trial().runs[i].id == pending_run_) workbench_.choose_run(int(i));
    }
    keep(*pending_);
    return;
  }
  if (in_rest_) {
    const RestEvent rest{rest_planned_s_, double(resting_.elapsed()) / 1000};
    in_rest_ = false;
    record(rest, tr("kept: %1").arg(QString::fromStdString(describe(rest))));
    return;
  }
  switch (stage_.kind) {
    case StageKind::prepare: record(PreparedEvent{}, tr("kept: sharpened, angle looked at")); break;
    case StageKind::clean: record(CleanedEvent{}, tr("kept: edge cleaned")); break;
    case StageKind::look: record(LookEvent{}, tr("kept: looked at, clean")); break;
    case StageKind::cut: {
      const auto asked = stage_.cuts_to_make;
      const std::int64_t made = protocol_.count_by == CountBy::each ? 1 : asked;
      if (edit([&](ProjectSession& s) { s.make_cuts(index, made, made, by); })) emit said(tr("kept: %1 cuts made").arg(cuts_text(double(run()->cuts_done))), false);
      break;
    }
    case StageKind::read:
    case StageKind::check_weight:
      if (desk_.open(InstrumentRole::gauge)) {
        if (desk_.profile(InstrumentRole::gauge)->request.empty()) emit said(tr("The gauge sends by itself: take the reading there, or type it."), false);
        else if (desk_.ask(InstrumentRole::gauge)) emit said(tr("asking the gauge …"), false);
        else emit said(tr("The gauge has been asked; its answer is awaited."), false);
      } else {
        emit said(tr("Type the reading; Enter keeps it."), false);
      }
      break;
    case StageKind::gate:
    case StageKind::stop:
    case StageKind::stopped:
    case StageKind::finished:
    case StageKind::rest: break;
  }
}

void BenchModel::decide(bool go_on, const QString& reason) {
  const Run* now = run();
  if (!now) return;
  const auto index = std::size_t(workbench_.current_run());
  const std::string by = operator_.toStdString(), why = reason.trimmed().toStdString();
  switch (stage_.kind) {
    case StageKind::gate: {
      const std::string verdict = gate_sentence(workbench_.trial(), index, false);
      if (go_on && why.empty()) {
        emit said(tr("A start outside its limits is passed only with a reason."), true);
        return;
      }
      if (go_on && edit([&](ProjectSession& s) { s.record(index, {GateEvent{verdict, true, why}}, by); })) emit said(tr("kept: the start is passed (%1)").arg(reason), false);
      if (!go_on && edit([&](ProjectSession& s) { s.send_back(index, {verdict, false, why.empty() ? "outside the limits" : why}, by); }))
        emit said(tr("kept: its readings are set aside, the edge is to be sharpened again"), false);
      break;
    }
    case StageKind::stop: {
      const StopRule rule = stage_.rule;
      if (go_on ? edit([&](ProjectSession& s) { s.record(index, {GoOnEvent{why}}, by); }) : edit([&](ProjectSession& s) { s.record(index, {StopEvent{rule, why}}, by); }))
        emit said(go_on ? tr("kept: the run goes on") : tr("kept: the run is stopped"), false);
      break;
    }
    case StageKind::stopped:
      if (go_on && edit([&](ProjectSession& s) { s.record(index, {GoOnEvent{why.empty() ? "taken up again" : why}}, by); })) emit said(tr("kept: the run is taken up again"), false);
      break;
    case StageKind::check_weight: {
      CheckWeightEvent check{protocol_.check_nominal, std::nullopt, protocol_.check_unit, "", 0, why.empty() ? "not said why" : why};
      weigh_now_ = false;
      if (edit([&](ProjectSession& s) { s.keep_check(check, by); })) emit said(tr("kept: the check weight was left out"), false);
      break;
    }
    default: break;
  }
}

void BenchModel::stop_run(const QString& reason) {
  if (!run() || state_of(*run()) == RunState::done) return;
  if (edit([&](ProjectSession& s) {
        s.record(std::size_t(workbench_.current_run()), {StopEvent{StopRule::wish, reason.trimmed().toStdString()}}, operator_.toStdString());
      }))
    emit said(tr("kept: the run is stopped. It can be taken up again."), false);
}

void BenchModel::keep_look(const LookEvent& look, const QString& picture_path) {
  if (!run()) return;
  std::optional<PictureFile> picture;
  if (!picture_path.isEmpty()) {
    QFile file(picture_path);
    if (!file.open(QIODevice::ReadOnly)) {
      emit said(tr("Not kept: %1 cannot be read (%2).").arg(picture_path, file.errorString()), true);
      return;
    }
    if (file.size() > qint64(kLargestPicture)) {
      emit said(tr("Not kept: the picture is larger than 64 MB. Save it smaller and try again."), true);
      return;
    }
    const QByteArray bytes = file.readAll();
    PictureFile read{0, QFileInfo(picture_path).fileName().toStdString(), "", bytes.toStdString()};
    read.kind = picture_kind(read.bytes);
    if (read.kind.empty()) {
      emit said(tr("Not kept: %1 is no PNG, JPEG, TIFF or BMP picture.").arg(QFileInfo(picture_path).fileName()), true);
      return;
    }
    picture = std::move(read);
  }
  if (edit([&](ProjectSession& s) { s.keep_look(std::size_t(workbench_.current_run()), look, picture, operator_.toStdString()); }))
    emit said(tr("kept: %1").arg(QString::fromStdString(describe(BenchEventData(look)))), false);
}

void BenchModel::set_reading_aside(int reading, const QString& reason) {
  if (!run() || reading < 0 || reading >= int(run()->readings.size())) return;
  const bool out = !run()->readings[std::size_t(reading)].excluded;
  if (edit([&](ProjectSession& s) { s.set_excluded(std::size_t(workbench_.current_run()), std::size_t(reading), out, out ? reason.trimmed().toStdString() : ""); }))
    emit said(out ? tr("taken out: %1. It stays in the project and is shown.").arg(reason.trimmed()) : tr("taken back in"), false);
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
    emit said(tr("Nothing to undo since this project was opened."), false);
    return;
  }
  const QString what = QString::fromStdString(workbench_.session().undo_text());
  workbench_.undo();
  emit said(tr("undone: %1").arg(what), false);
}

void BenchModel::check_weight_now() {
  if (protocol_.check_nominal <= 0) {
    emit said(tr("No check weight is set: name one under Protocol."), true);
    return;
  }
  weigh_now_ = !weigh_now_;
  refresh();
}

std::optional<double> BenchModel::last_check() const {
  const auto& checks = workbench_.trial().gauge_checks;
  for (auto event = checks.rbegin(); event != checks.rend(); ++event)
    if (const auto* check = std::get_if<CheckWeightEvent>(&event->data); check && check->value) return 100 * (*check->value / check->nominal - 1);
  return std::nullopt;
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
  emit said(tr("No other run is open: all are done."), false);
}

void BenchModel::forget_pending() {
  if (!pending_) return;
  emit said(tr("Given up: %1 was not kept.").arg(QString::fromStdString(print_measure(pending_->value, pending_->unit, 6))), true);
  pending_.reset();
  emit changed();
}

void BenchModel::stroke_now() {
  if (!desk_.open(InstrumentRole::force_cell)) emit said(tr("No force cell is there: set one up under Instruments."), true);
  else if (desk_.ask(InstrumentRole::force_cell)) emit said(tr("make one standard stroke …"), false);
  else emit said(tr("Make one standard stroke; the force cell records it by itself."), false);
}

void BenchModel::take_stroke(const CaughtStroke& caught) {
  if (!run() || !workbench_.writable()) return;
  const auto profile = desk_.profile(InstrumentRole::force_cell);
  if (!profile) return;
  if (stage_.kind == StageKind::prepare || state_of(*run()) == RunState::done) {
    emit said(tr("The force cell saw a stroke; it was not kept, because this run is not being cut now."), false);
    return;
  }
  ForceStroke stroke;
  stroke.rate_hz = caught.rate_hz;
  stroke.resolution_N = profile->resolution ? convert(*profile->resolution, *profile->unit.unit, Unit::N) : convert(0.01, *profile->unit.unit, Unit::N);
  stroke.capacity_N = profile->capacity ? convert(*profile->capacity, *profile->unit.unit, Unit::N) : 0;
  stroke.lost = caught.lost;
  stroke.cut_off = caught.cut_off;
  stroke.force_N = caught.force_N;
  const auto figures = stroke_figures(stroke, {protocol_.stroke_mm, 0.1, 0.03, 0.01});
  if (!figures) {
    emit said(tr("A stroke was not kept: %1").arg(QString::fromStdString(figures.refusal().reason)), true);
    return;
  }
  StrokeEvent event{0, figures->peak_N, figures->mean_N, figures->work_J, ""};
  for (const auto& trouble : figures->troubles) event.trouble += (event.trouble.empty() ? "" : "; ") + trouble;
  if (!edit([&](ProjectSession& s) { s.keep_stroke(std::size_t(workbench_.current_run()), stroke, event, operator_.toStdString()); })) return;
  const auto& kept = std::get<StrokeEvent>(run()->events.back().data);
  emit said(tr("kept a stroke: peak %1 N, mean %2 N%3")
                .arg(QString::fromStdString(print_number(kept.peak_N, 3)), QString::fromStdString(print_number(kept.mean_N, 3)),
                     kept.trouble.empty() ? QString() : tr(". Look at it: %1").arg(QString::fromStdString(kept.trouble))), !kept.trouble.empty());
  emit stroke_kept(kept.stroke);
}

void BenchModel::toggle_pace() {
  if (pace_.isActive()) {
    pace_.stop();
  } else if (stage_.kind == StageKind::cut && protocol_.seconds_per_cut > 0) {
    beats_ = 0;
    since_beat_.start();
    pace_.start(int(protocol_.seconds_per_cut * 1000));
  } else {
    emit said(protocol_.seconds_per_cut > 0 ? tr("The pace runs while cuts are made.") : tr("No pace is set: name the seconds per cut under Protocol."), false);
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
    if (asleep > 5) emit said(tr("The computer slept for %1 s. Everything kept is safe; look whether the instruments are there again.").arg(int(asleep)), false);
    if (shift < -30)
      emit said(tr("The computer's clock was moved back by %1 min. Nothing is lost: entries keep the order they were made in.").arg(int(-shift / 60 + 0.5)), false);
  }
  last_wall_s_ = wall;
  last_mono_s_ = mono;
  last_boot_s_ = boot;
}

}  // namespace bq::ui
