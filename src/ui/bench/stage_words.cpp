#include "ui/bench/stage_words.h"

#include <QCoreApplication>

#include "quantity/number.h"
#include "workflow/bench_study.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

class Say {
  Q_DECLARE_TR_FUNCTIONS(Bench)
};

QString of(const std::string& text) { return QString::fromStdString(text); }
QString cuts_of(std::int64_t cuts) { return of(print_cuts(double(cuts))); }

/// The cautions of the act that lies ahead; shown once for each run.
QString cutting_caution() {
  return Say::tr(
      "<b>Before you cut:</b> cut-resistant glove on the off hand; cut away from the body; fix the "
      "work; a blunt blade needs force and slips; rest when your hand tires. "
      "Local rules, workplace procedure and trained persons come before this program.");
}
QString edge_caution() {
  return Say::tr(
      "<b>At the stone and in the clamp:</b> feel for a burr across the edge, never along it; "
      "cover an edge that stays in a clamp; no gloves, loose sleeves or hanging hair at belts "
      "and wheels. Local rules, workplace procedure and trained persons come before this program.");
}

void words_for_cut(StageWords& w, const BenchModel& model, const Run& run) {
  const BenchStage& stage = model.stage();
  const BenchProtocol& p = model.protocol();
  const QString medium = run.facts.medium.empty() ? Say::tr("the medium") : of(run.facts.medium);
  const bool each = p.count_by == CountBy::each;
  w.instruction = Say::tr("Cut %1 on %2").arg(cuts_of(stage.cuts_to_make), medium);
  QStringList detail;
  if (p.stroke_mm > 0) detail << Say::tr("%1 mm strokes").arg(of(print_number(p.stroke_mm, 4)));
  if (p.seconds_per_cut > 0)
    detail << Say::tr("one every %1 s").arg(of(print_number(p.seconds_per_cut, 3)));
  if (run.facts.cut_mode) detail << of(std::string(name_of(*run.facts.cut_mode)));
  w.detail = detail.join(QStringLiteral(" · "));
  w.figure = cuts_of(stage.cuts_to_make);
  w.figure_unit = each ? Say::tr("cuts left") : Say::tr("cuts");
  w.button = each ? Say::tr("One cut made  (Space)") : Say::tr("Cuts made  (Space)");
  w.takes_number = true;
  w.entry_unit = Say::tr("made");
  const auto after = run.cuts_done + stage.cuts_to_make;
  w.then = after < stage.at_cuts
               ? Say::tr("then rest")
               : Say::tr("then clean the edge and read at %1 cuts").arg(cuts_of(stage.at_cuts));
  w.keys = Say::tr(
      "Space cuts made    digits + Enter another count    P pace    R rest    D damage    S "
      "stop    U undo");
  w.caution = cutting_caution();
}

/// That the gauge that was set up is not there, and since when; "" it is, or none was.
QString gauge_away(const BenchModel& model) {
  const auto gauge = model.desk().profile(InstrumentRole::gauge);
  if (!gauge || gauge->port.empty() || model.desk().open(InstrumentRole::gauge)) return {};
  return Say::tr("The %1. It is looked for; type the reading meanwhile.")
      .arg(model.desk().state_words(InstrumentRole::gauge));
}

void words_for_read(StageWords& w, const Workbench& workbench, const BenchModel& model,
                    const Run& run) {
  const BenchStage& stage = model.stage();
  const Trial& trial = workbench.trial();
  w.instruction = Say::tr("Read %1 of %2 at %3 cuts")
                      .arg(stage.reading_number)
                      .arg(run.plan.readings_each)
                      .arg(cuts_of(stage.at_cuts));
  if (!stage.station.empty()) {
    const auto counts = readings_at(run, trial.labels, model.protocol().stations);
    int here = 0;
    for (std::size_t i = 0; i < counts.size(); ++i)
      if (model.protocol().stations[i] == stage.station) here = counts[i];
    w.detail = here == 0 ? Say::tr("at the %1; a reading is itself a cut there, the first one")
                               .arg(of(stage.station))
                         : Say::tr("at the %1; %2 so far there, each of them a cut on the edge")
                               .arg(of(stage.station), QString::number(here));
  }
  const auto counts = std::find_if(run.readings.rbegin(), run.readings.rend(),
                                   [](const Reading& reading) { return !reading.excluded; });
  if (counts != run.readings.rend()) {
    const Reading& last = *counts;
    w.figure = workbench.print_value(convert(last.value, last.unit, trial.unit()), false);
    w.figure_unit =
        Say::tr("%1 last").arg(QString::fromUtf8(sign_of(workbench.shown_unit()).data()));
  } else {
    w.figure = QStringLiteral("–");
    w.figure_unit = QString::fromUtf8(sign_of(workbench.shown_unit()).data());
  }
  w.takes_number = true;
  w.entry_unit = QString::fromUtf8(sign_of(workbench.shown_unit()).data());
  const auto gauge = model.desk().profile(InstrumentRole::gauge);
  const bool asks = model.desk().open(InstrumentRole::gauge) && gauge && !gauge->request.empty();
  w.button = asks ? Say::tr("Read the gauge  (Space)") : QString();
  if (const QString away = gauge_away(model); !away.isEmpty())
    w.detail += (w.detail.isEmpty() ? QString() : QStringLiteral("\n")) + away;
  const auto next =
      std::upper_bound(run.plan.checkpoints.begin(), run.plan.checkpoints.end(), stage.at_cuts);
  if (next != run.plan.checkpoints.end())
    w.then = Say::tr("then cut on to %1").arg(cuts_of(*next));
  else if (!run.plan.checkpoints.empty())
    w.then = Say::tr("this is the last checkpoint");
  w.keys = Say::tr(
               "%1digits + Enter type it    X take out last    W check weight    D damage    M "
               "until tomorrow    U undo")
               .arg(asks ? Say::tr("Space gauge    ") : QString());
}

void words_for_stop(StageWords& w, const Workbench& workbench, const BenchModel& model,
                    const Run& run) {
  switch (model.stage().rule) {
    case StopRule::threshold:
      w.instruction = Say::tr("At the threshold: stop here?");
      w.detail = Say::tr("The median at %1 cuts is at the limit or past it (%2).")
                     .arg(cuts_of(run.cuts_done), workbench.threshold_text());
      break;
    case StopRule::damage:
      w.instruction = Say::tr("Damage: stop here?");
      break;
    case StopRule::budget:
      w.instruction = Say::tr("The budget of cuts is used up: stop here?");
      break;
    case StopRule::wish:
      w.instruction = Say::tr("Stop here?");
      break;
  }
  w.figure = cuts_of(run.cuts_done);
  w.figure_unit = Say::tr("cuts");
  w.button = Say::tr("Stop the run  (Space)");
  w.second_button = Say::tr("Go on…  (G)");
  w.then = Say::tr(
      "stopped, it counts with what was read; going on costs cuts and keeps the curve growing");
  w.keys = Say::tr("Space or S stop    G go on with a reason    U undo");
}

}  // namespace

StageWords words_of(const Workbench& workbench, const BenchModel& model) {
  StageWords w;
  const Run* run = model.run();
  if (!run) {
    w.instruction = workbench.has_project() ? Say::tr(
                                                  "There is no run to do. Add one on the rack "
                                                  "(Ctrl+1) or put a plan on the bench (Ctrl+4).")
                                            : Say::tr("No project is open.");
    return w;
  }
  if (model.pending()) {
    w.instruction = Say::tr("This reading is NOT kept");
    w.figure = of(print_number(model.pending()->value, 6));
    w.figure_unit = QString::fromUtf8(sign_of(model.pending()->unit).data());
    w.detail = Say::tr(
        "The disk refused it; see the message below. Everything kept before is safe. Make room "
        "or end the write protection, then try again.");
    w.button = Say::tr("Try again  (Space)");
    return w;
  }
  if (model.rest_left_s()) {
    w.instruction = Say::tr("Rest");
    w.detail = Say::tr("Open the hand, look into the distance, drink. The edge stays covered.");
    w.button = Say::tr("Go on  (Space)");
    w.then = Say::tr("what was rested is written down");
    w.keys = Say::tr("Space end the rest    U undo");
    return w;
  }
  const bool covered = model.covered();
  switch (model.stage().kind) {
    case StageKind::prepare:
      w.instruction =
          covered ? Say::tr("Take the blade marked %1").arg(of(run->facts.name))
                  : Say::tr("Sharpen %1, look at its angle")
                        .arg(of(run->facts.blade.empty() ? run->facts.name : run->facts.blade));
      w.detail = covered ? Say::tr(
                               "Whoever holds the key sharpens it and looks at its angle; you only "
                               "need the code.")
                         : Say::tr(
                               "Ladder and gates are on Stones (Ctrl+3), the angle gauge on "
                               "Section (Ctrl+2).");
      w.button = covered ? Say::tr("Sharpened blade is here  (Space)")
                         : Say::tr("Sharpened, angle looked at  (Space)");
      w.then = Say::tr("then the first readings, before any cut");
      w.keys = Say::tr("Space done    S stop the run    U undo");
      w.caution = edge_caution();
      break;
    case StageKind::check_weight:
      w.instruction = Say::tr("Put the check weight on the gauge");
      w.detail =
          Say::tr("Start and end of a sitting: a gauge that drifts looks like an edge that dulls.");
      if (const auto off = model.check_off_percent(); off && !model.weighing_by_wish()) {
        w.instruction = Say::tr("The gauge is off: weigh again");
        w.detail = Say::tr(
                       "It was %1%2 % off. Zero it and look at its clamp; going on (G), readings "
                       "since the last good check stay in doubt.")
                       .arg(*off > 0 ? QStringLiteral("+") : QStringLiteral("−"),
                            of(print_fixed(std::fabs(*off), 1)));
      }
      if (const QString away = gauge_away(model); !away.isEmpty())
        w.detail += QStringLiteral("\n") + away;
      w.figure = of(print_number(model.protocol().check_nominal, 5));
      w.figure_unit = QString::fromUtf8(sign_of(model.protocol().check_unit).data());
      w.takes_number = true;
      w.entry_unit = QString::fromUtf8(sign_of(workbench.shown_unit()).data());
      w.button = model.desk().open(InstrumentRole::gauge) ? Say::tr("Read it  (Space)") : QString();
      w.second_button = Say::tr("Leave out…  (G)");
      w.keys = Say::tr("digits + Enter type it    G leave it out with a reason");
      break;
    case StageKind::read:
      words_for_read(w, workbench, model, *run);
      break;
    case StageKind::gate:
      w.instruction = Say::tr("The start lies outside its limits");
      w.detail =
          of(gate_sentence(workbench.trial(), std::size_t(workbench.current_run()), covered));
      w.button = Say::tr("Sharpen again  (Space)");
      w.second_button = Say::tr("Pass it…  (G)");
      w.then = Say::tr("sharpened again, its readings are set aside with the reason");
      w.keys = Say::tr(
          "Space or S sharpen again    G pass with a reason    X take out last reading    U undo");
      break;
    case StageKind::cut:
      words_for_cut(w, model, *run);
      break;
    case StageKind::clean:
      w.instruction = Say::tr("Clean the edge");
      w.detail = Say::tr("Wipe off what the medium left; do not strop.");
      w.figure = cuts_of(run->cuts_done);
      w.figure_unit = Say::tr("cuts");
      w.button = Say::tr("Cleaned  (Space)");
      w.then = Say::tr("then %1 readings").arg(run->plan.readings_each);
      w.keys = Say::tr("Space cleaned    D damage    R rest    U undo");
      break;
    case StageKind::look:
      w.instruction = Say::tr("Look at the edge under light and lens");
      w.figure = cuts_of(run->cuts_done);
      w.figure_unit = Say::tr("cuts");
      w.button = Say::tr("Clean  (Space)");
      w.second_button = Say::tr("Damage…  (D)");
      w.then = Say::tr("bright spot, bent or broken out? only even wear is clean");
      w.keys = Say::tr("Space clean    D damage, size, place, picture    U undo");
      break;
    case StageKind::rest:
      break;
    case StageKind::stop:
      words_for_stop(w, workbench, model, *run);
      break;
    case StageKind::stopped:
    case StageKind::finished:
      w.instruction = model.stage().kind == StageKind::stopped
                          ? Say::tr("Run %1 is stopped").arg(of(run->facts.name))
                          : Say::tr("Run %1 is done").arg(of(run->facts.name));
      if (model.stage().kind == StageKind::stopped && !run->events.empty())
        w.detail = of(describe(run->events.back().data));
      w.figure = cuts_of(run->cuts_done);
      w.figure_unit = Say::tr("cuts");
      w.then =
          model.protocol().check_nominal > 0
              ? Say::tr("put the check weight on the gauge (W), then choose the next run above")
              : Say::tr("see the curve in Findings, or choose the next run above");
      w.button = Say::tr("Next run  (Space)");
      w.keys = Say::tr(
          "Space or N next run    click a reading in the strip to take it out or back in    U "
          "undo");
      if (model.stage().kind == StageKind::stopped)
        w.second_button = Say::tr("Take it up again…  (G)");
      break;
  }
  return w;
}

}  // namespace bq::ui
