// What the Bench's keys and instruments do to the run: each act is kept before it is said.
#include <QFile>
#include <QFileInfo>
#include <algorithm>

#include "lens/picture_header.h"
#include "quantity/number.h"
#include "ui/bench/bench_model.h"
#include "workflow/bench_study.h"
#include "workflow/sentences.h"

#include "ui/parts/words.h"

namespace bq::ui {
namespace {

QString cuts_text(double cuts) { return QString::fromStdString(print_cuts(cuts)); }

}  // namespace

std::vector<std::string> BenchModel::deviations() const {
  std::vector<std::string> out;
  const Run* now = run();
  if (!now || now->readings.empty() || operator_.isEmpty()) return out;
  const std::string before = workbench_.trial().labels.text(now->readings.back().by_operator);
  if (!before.empty() && before != operator_.toStdString())
    out.push_back("operator " + operator_.toStdString() + " instead of " + before);
  // Gone on with after a long break: that is written down too.
  if (!now->events.empty())
    if (const auto gap = seconds_between(now->events.back().made_at, now_utc());
        gap && (*gap > 3600 || *gap < -60))
      out.push_back(*gap > 0 ? "gone on with after " + print_number(*gap / 3600, 2) + " hours"
                             : "the clock was moved back by " + print_number(-*gap / 60, 3) +
                                   " minutes");
  return out;
}

std::string BenchModel::gauge_words(const std::string& name) const {
  const std::string words = protocol_.gauge_words();
  return words.empty() ? name : name + ", " + words;
}

bool BenchModel::confirmed(const QString& what, const QString& question) {
  if (questioned_ == what) {
    questioned_.clear();
    return true;
  }
  questioned_ = what;
  say(question, true);
  return false;
}

void BenchModel::pause_until_tomorrow() {
  if (!run() || !workbench_.writable()) return;
  const auto index = std::size_t(workbench_.current_run());
  if (edit([&](ProjectSession& s) {
        s.record(index, {DeviationEvent{"paused until another day"}}, operator_.toStdString());
      }))
    say(
        tr("Paused: everything is kept, the run goes on where it stands. Cover the edge; put the "
           "check weight on the gauge before the next reading."));
}

void BenchModel::keep(TakenReading taken) {
  const auto index = std::size_t(workbench_.current_run());
  if (const std::string odd = odd_reading(workbench_.trial(), index, taken.value, taken.unit);
      !odd.empty() && !pending_) {
    const QString value = text_of(print_measure(taken.value, taken.unit, 6));
    if (!confirmed(value, tr("%1 is far from %2. Nothing was kept: the same once more keeps it, "
                             "anything else takes its place.")
                              .arg(value, text_of(odd))))
      return;
  }
  Reading kept;
  pending_.reset();
  if (!edit([&](ProjectSession& session) { kept = session.keep_reading(index, taken); })) {
    // The disk refused: the reading is not lost as long as the window stands.
    pending_ = std::move(taken);
    pending_run_ = run() ? run()->id : 0;
    emit changed();
    return;
  }
  emit number_taken();
  QString line = tr("kept %1 at %2 cuts")
                     .arg(QString::fromStdString(print_measure(kept.value, kept.unit, 6)),
                          cuts_text(double(kept.cuts)));
  if (!taken.station.empty()) line += tr(", %1").arg(QString::fromStdString(taken.station));
  if (kept.reason)
    line += tr(", flagged: %1")
                .arg(QString::fromStdString(workbench_.trial().labels.text(kept.reason)));
  if (!taken.deviations.empty())
    line += tr("; noted: %1").arg(QString::fromStdString(taken.deviations.front()));
  if (stage_.kind == StageKind::gate)
    line += QStringLiteral(". ") +
            QString::fromStdString(gate_sentence(workbench_.trial(), index, covered()));
  say(line);
}

void BenchModel::keep_weight(double value, Unit unit, const QString& gauge) {
  CheckWeightEvent check{protocol_.check_nominal,
                         convert(value, unit, protocol_.check_unit),
                         protocol_.check_unit,
                         gauge_words(gauge.toStdString()),
                         0,
                         ""};
  // Half or twice the weight is a slip of the finger or another weight, no drift.
  if (*check.value < 0.5 * check.nominal || *check.value > 2 * check.nominal) {
    const QString said = text_of(print_measure(*check.value, check.unit, 6));
    if (!confirmed(said, tr("%1 for a check weight of %2? Nothing was kept: the same once more "
                            "keeps it, anything else takes its place.")
                             .arg(said, text_of(print_measure(check.nominal, check.unit, 6)))))
      return;
  }
  for (const auto& run : workbench_.trial().runs)
    for (const auto& reading : run.readings)
      check.last_reading = std::max(check.last_reading, reading.id);
  weigh_now_ = false;
  if (!edit([&](ProjectSession& session) { session.keep_check(check, operator_.toStdString()); }))
    return;
  emit number_taken();
  const GaugeDrift drift = gauge_drift(workbench_.trial(), protocol_.check_limit_percent);
  say(QString::fromStdString(drift.sentence), drift.drifted);
}

void BenchModel::take(const InstrumentReading& reading) {
  if (!run() || !workbench_.writable()) return;
  const QString name = QString::fromStdString(desk_.profile(InstrumentRole::gauge)->name);
  const bool wanted = stage_.kind == StageKind::read || stage_.kind == StageKind::check_weight;
  if (pending_) {
    say(tr("%1 sent %2, but the reading before is not kept yet. Nothing was taken.")
            .arg(name, QString::fromStdString(reading.raw)),
        true);
    return;
  }
  if (!wanted) {
    say(tr("%1 sent %2, but no reading is due now. Nothing was taken.")
            .arg(name, QString::fromStdString(reading.raw)),
        true);
    return;
  }
  if (reading.status != ReadingStatus::ok) {
    say(tr("Not taken: %1 (%2: %3). Read again.")
            .arg(QString::fromStdString(reading.raw), shown(reading.status),
                 QString::fromStdString(reading.why)),
        true);
    return;
  }
  const UnitKind kind = kind_of(workbench_.trial().unit());
  if (!reading.unit.unit ||
      (workbench_.trial().reading_count() > 0 && kind_of(*reading.unit.unit) != kind)) {
    say(tr("Not taken: %1 is in %2, this trial's readings are in %3.")
            .arg(QString::fromStdString(reading.raw),
                 QString::fromUtf8(sign_of(reading.unit).data()),
                 QString::fromUtf8(sign_of(workbench_.trial().unit()).data())),
        true);
    return;
  }
  if (!(reading.value > 0)) {
    say(tr("Not taken: %1. A reading must be above zero.").arg(QString::fromStdString(reading.raw)),
        true);
    return;
  }
  if (stage_.kind == StageKind::check_weight &&
      kind_of(*reading.unit.unit) != kind_of(protocol_.check_unit)) {
    say(tr("Not taken: the check weight is in %1, the gauge reads %2.")
            .arg(QString::fromUtf8(sign_of(protocol_.check_unit).data()),
                 QString::fromUtf8(sign_of(reading.unit).data())),
        true);
    return;
  }
  if (stage_.kind == StageKind::check_weight) {
    keep_weight(reading.value, *reading.unit.unit, name);
    return;
  }
  keep({reading.value, *reading.unit.unit, operator_.toStdString(), stage_.station,
        gauge_words(name.toStdString()), deviations()});
}

void BenchModel::type(const QString& typed) {
  const QString text = typed.trimmed();
  if (!run() || text.isEmpty()) return;
  if (pending_) {
    say(tr("The reading before is not kept yet: Space tries again. Nothing was taken."), true);
    return;
  }
  if (stage_.kind == StageKind::cut) {
    bool good = false;
    const qlonglong made = text.toLongLong(&good);
    if (!good || made < 1) {
      say(tr("Not kept: cuts made are a whole number above 0."), true);
      return;
    }
    const auto asked = stage_.cuts_to_make;
    // A reading typed too early would move the checkpoint.
    if (made != asked &&
        !confirmed(text, tr("%1 cuts made where %2 are due? Nothing was kept: the same once more "
                            "says so. A reading is asked for after the cuts.")
                             .arg(made)
                             .arg(asked)))
      return;
    if (edit([&](ProjectSession& s) {
          s.make_cuts(std::size_t(workbench_.current_run()), asked, made, operator_.toStdString());
        })) {
      emit number_taken();
      say(made == asked ? tr("kept: %1 cuts made").arg(cuts_text(double(run()->cuts_done)))
                        : tr("kept: %1 cuts now, %2 made where %3 were asked for")
                              .arg(cuts_text(double(run()->cuts_done)))
                              .arg(made)
                              .arg(asked));
    }
    return;
  }
  if (stage_.kind != StageKind::read && stage_.kind != StageKind::check_weight) {
    say(tr("No number is wanted now. Nothing was kept."), true);
    return;
  }
  const bool first = workbench_.trial().reading_count() == 0;
  const InstrumentReading reading =
      keyed(text.toStdString(), workbench_.shown_unit(),
            first ? std::nullopt : std::optional(kind_of(workbench_.trial().unit())));
  if (reading.status != ReadingStatus::ok) {
    say(tr("Not kept: %1.").arg(QString::fromStdString(reading.why)), true);
    return;
  }
  if (stage_.kind == StageKind::check_weight &&
      kind_of(*reading.unit.unit) != kind_of(protocol_.check_unit)) {
    say(tr("Not kept: the check weight is in %1.")
            .arg(QString::fromUtf8(sign_of(protocol_.check_unit).data())),
        true);
    return;
  }
  if (stage_.kind == StageKind::check_weight)
    keep_weight(reading.value, *reading.unit.unit, tr("keyed"));
  else
    keep({reading.value, *reading.unit.unit, operator_.toStdString(), stage_.station,
          gauge_words("keyed"), deviations()});
}

void BenchModel::act() {
  const Run* now = run();
  if (!now || !workbench_.writable()) return;
  const auto index = std::size_t(workbench_.current_run());
  const std::string by = operator_.toStdString();
  const auto record = [&](const BenchEventData& event, const QString& words) {
    if (edit([&](ProjectSession& s) { s.record(index, {event}, by); })) say(words);
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
    case StageKind::prepare:
      record(PreparedEvent{"", protocol_.medium_batch}, tr("kept: sharpened, angle looked at"));
      break;
    case StageKind::clean:
      record(CleanedEvent{}, tr("kept: edge cleaned"));
      break;
    case StageKind::look:
      record(LookEvent{}, tr("kept: looked at, clean"));
      break;
    case StageKind::cut: {
      const auto asked = stage_.cuts_to_make;
      const std::int64_t made = protocol_.count_by == CountBy::each ? 1 : asked;
      if (edit([&](ProjectSession& s) { s.make_cuts(index, made, made, by); }))
        say(tr("kept: %1 cuts made").arg(cuts_text(double(run()->cuts_done))));
      break;
    }
    case StageKind::read:
    case StageKind::check_weight:
      if (desk_.open(InstrumentRole::gauge)) {
        if (desk_.profile(InstrumentRole::gauge)->request.empty())
          say(tr("The gauge sends by itself: take the reading there, or type it."));
        else if (desk_.ask(InstrumentRole::gauge))
          say(tr("asking the gauge …"));
        else
          say(tr("The gauge has been asked; its answer is awaited."));
      } else {
        say(tr("Type the reading; Enter keeps it."));
      }
      break;
    case StageKind::gate:
    case StageKind::stop:
    case StageKind::stopped:
    case StageKind::finished:
    case StageKind::rest:
      break;
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
        say(tr("A start outside its limits is passed only with a reason."), true);
        return;
      }
      if (go_on &&
          edit([&](ProjectSession& s) { s.record(index, {GateEvent{verdict, true, why}}, by); }))
        say(tr("kept: the start is passed (%1)").arg(reason));
      if (!go_on && edit([&](ProjectSession& s) {
            s.send_back(index, {verdict, false, why.empty() ? "outside the limits" : why}, by);
          }))
        say(tr("kept: its readings are set aside, the edge is to be sharpened again"));
      break;
    }
    case StageKind::stop: {
      const StopRule rule = stage_.rule;
      if (go_on ? edit([&](ProjectSession& s) { s.record(index, {GoOnEvent{why}}, by); })
                : edit([&](ProjectSession& s) { s.record(index, {StopEvent{rule, why}}, by); }))
        say(go_on ? tr("kept: the run goes on") : tr("kept: the run is stopped"));
      break;
    }
    case StageKind::stopped:
      if (go_on && edit([&](ProjectSession& s) {
            s.record(index, {GoOnEvent{why.empty() ? "taken up again" : why}}, by);
          }))
        say(tr("kept: the run is taken up again"));
      break;
    case StageKind::check_weight: {
      CheckWeightEvent check{
          protocol_.check_nominal,           std::nullopt, protocol_.check_unit, "", 0,
          why.empty() ? "not said why" : why};
      weigh_now_ = false;
      if (edit([&](ProjectSession& s) { s.keep_check(check, by); }))
        say(tr("kept: the check weight was left out"));
      break;
    }
    default:
      break;
  }
}

void BenchModel::stop_run(const QString& reason) {
  if (!run() || state_of(*run()) == RunState::done) return;
  if (edit([&](ProjectSession& s) {
        s.record(std::size_t(workbench_.current_run()),
                 {StopEvent{StopRule::wish, reason.trimmed().toStdString()}},
                 operator_.toStdString());
      }))
    say(tr("kept: the run is stopped. It can be taken up again."));
}

void BenchModel::keep_look(const LookEvent& look, const QString& picture_path) {
  if (!run()) return;
  std::optional<PictureFile> picture;
  if (!picture_path.isEmpty()) {
    QFile file(picture_path);
    if (!file.open(QIODevice::ReadOnly)) {
      say(tr("Not kept: %1 cannot be read (%2).").arg(picture_path, file.errorString()), true);
      return;
    }
    if (file.size() > qint64(kLargestPicture)) {
      say(tr("Not kept: the picture is larger than 64 MB. Save it smaller and try again."), true);
      return;
    }
    const QByteArray bytes = file.readAll();
    PictureFile read{0, QFileInfo(picture_path).fileName().toStdString(), "", bytes.toStdString()};
    read.kind = picture_kind(read.bytes);
    if (read.kind.empty()) {
      say(tr("Not kept: %1 is no PNG, JPEG, TIFF or BMP picture.")
              .arg(QFileInfo(picture_path).fileName()),
          true);
      return;
    }
    picture = std::move(read);
  }
  if (edit([&](ProjectSession& s) {
        s.keep_look(std::size_t(workbench_.current_run()), look, picture, operator_.toStdString());
      }))
    say(tr("kept: %1").arg(QString::fromStdString(describe(BenchEventData(look)))));
}

void BenchModel::set_reading_aside(int reading, const QString& reason) {
  if (!run() || reading < 0 || reading >= int(run()->readings.size())) return;
  const bool out = !run()->readings[std::size_t(reading)].excluded;
  if (edit([&](ProjectSession& s) {
        s.set_excluded(std::size_t(workbench_.current_run()), std::size_t(reading), out,
                       out ? reason.trimmed().toStdString() : "");
      }))
    say(out ? tr("taken out: %1. It stays in the project and is shown.").arg(reason.trimmed())
            : tr("taken back in"));
}

}  // namespace bq::ui
