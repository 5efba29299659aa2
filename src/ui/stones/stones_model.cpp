#include "ui/stones/stones_model.h"

#include <QDateTime>
#include <QTimer>
#include <algorithm>

#include "trial/edge_map.h"
#include "workflow/stones_study.h"
#include "workflow/taken_up.h"

namespace bq::ui {
namespace {
std::int64_t now_seconds() { return QDateTime::currentSecsSinceEpoch(); }
const QString kTap = QStringLiteral("tap: ");  ///< how the undo text of a tap starts
}  // namespace

StonesModel::StonesModel(Workbench& workbench, QObject* parent)
    : QObject(parent),
      workbench_(workbench),
      rules_(load_rules(own_rules_folder())),
      pause_(new QTimer(this)) {
  pause_->setSingleShot(true);
  pause_->setInterval(400);
  connect(pause_, &QTimer::timeout, this, &StonesModel::keep_now);
  connect(&workbench_, &Workbench::opened, this, [this] {
    blade_ = -1;
    blade_id_ = 0;
    unkept_ = false;
    timed_here_.clear();
    pause_->stop();
    reload();
  });
  connect(&workbench_, &Workbench::changed, this, &StonesModel::reload);
  connect(&workbench_, &Workbench::about_to_undo, this, &StonesModel::keep_now);
  connect(&workbench_, &Workbench::fits_changed, this, [this] {
    if (blade_facts())
      advice_ = route_advice(workbench_.trial(), blade_facts()->steel, *workbench_.fits());
    emit plan_changed();
  });
  reload();
}

const Blade* StonesModel::blade_facts() const {
  const auto& blades = workbench_.trial().blades;
  return blade_ >= 0 && blade_ < int(blades.size()) ? &blades[std::size_t(blade_)] : nullptr;
}

std::string StonesModel::input_key() const { return "ladder:" + std::to_string(blade_id_); }

void StonesModel::choose_blade(int index) {
  if (index < 0 || index >= int(workbench_.trial().blades.size()) ||
      workbench_.trial().blades[std::size_t(index)].id == blade_id_)
    return;
  keep_now();
  blade_ = index;
  blade_id_ = 0;
  reload();
}

void StonesModel::reload() {
  const auto& blades = workbench_.trial().blades;
  if (blade_id_ != 0) {
    const auto found = std::find_if(blades.begin(), blades.end(),
                                    [&](const Blade& b) { return b.id == blade_id_; });
    blade_ = found == blades.end() ? -1 : int(found - blades.begin());
  }
  if (blade_ < 0 && !blades.empty()) {
    // One with a sharpening in hand comes first, then the next planned run's, then the first.
    blade_ = 0;
    for (const auto& run : workbench_.trial().runs)
      if (state_of(run) == RunState::planned) {
        if (const Blade* next = workbench_.trial().find_blade(run.facts.blade))
          blade_ = int(next - blades.data());
        break;
      }
    for (std::size_t i = 0; i < blades.size(); ++i)
      if (workbench_.has_project() && !workbench_.session().kept(sharpening_key(blades[i])).empty())
        blade_ = int(i);
  }
  const Blade* blade = blade_facts();
  const std::int64_t id = blade ? blade->id : 0;
  const bool other = id != blade_id_;
  if (other) {
    pause_->stop();
    unkept_ = false;
  }
  blade_id_ = id;
  hand_.reset();
  if (!unkept_) input_.reset();
  if (blade) {
    if (const std::string text = workbench_.session().kept(sharpening_key(*blade)); !text.empty())
      if (const auto hand = parse_in_hand(text)) hand_ = *hand;
    if (!unkept_) {
      input_ = first_input(workbench_.trial(), std::size_t(blade_));
      if (const std::string text = workbench_.session().kept(input_key()); !text.empty() && input_)
        if (const auto kept = parse_ladder_input(text)) input_ = *kept;
    }
    advice_ = route_advice(workbench_.trial(), blade->steel, *workbench_.fits());
  }
  // Not here: a change within a change.
  if (timer_runs() && !timed_here_.contains(blade_id_))
    QTimer::singleShot(0, this, &StonesModel::hold_stale_timer);
  replan();
  if (other) emit blade_changed();
  emit plan_changed();
  emit hand_changed();
}

void StonesModel::replan() {
  plan_.reset();
  refusal_.clear();
  if (!blade_facts()) return;
  const auto plan =
      ladder_for(workbench_.trial(), std::size_t(blade_), input_.value_or(LadderInput{}));
  if (plan)
    plan_ = *plan;
  else
    refusal_ = QString::fromStdString(plan.refusal().reason);
}

void StonesModel::set_input(const LadderInput& input) {
  if (!input_ || *input_ == input) return;
  input_ = input;
  unkept_ = true;
  replan();
  pause_->start();
  emit plan_changed();
}

void StonesModel::keep_now() {
  pause_->stop();
  if (!unkept_ || !input_ || !workbench_.has_project()) return;
  unkept_ = false;
  if (!workbench_.writable()) return;
  const std::string text = ladder_input_json(*input_), key = input_key();
  workbench_.edit([&](ProjectSession& session) {
    session.keep(key, text, "the ladder wished for blade " + blade_facts()->name);
  });
}

Sharpening StonesModel::planned() const {
  return plan_ && input_ ? sharpening_for(workbench_.trial(), std::size_t(blade_), *input_, *plan_,
                                          advice_.behaviour)
                         : Sharpening{};
}

CuttingClass StonesModel::cutting_class() const {
  return class_of_steel(workbench_.trial(), blade_facts() ? blade_facts()->steel : "");
}

double StonesModel::seconds() const { return hand_ ? hand_->seconds_at(now_seconds()) : 0; }

void StonesModel::hold_stale_timer() {
  if (!timer_runs() || timed_here_.contains(blade_id_) || !workbench_.writable()) return;
  // The window was closed since the last tap: nobody knows how long the work went on.
  SharpeningInHand hand = *hand_;
  hand.since = 0;
  put(hand, tr("timer held"));
  emit workbench_.told(tr("The window was closed while the timer of %1 ran. It is held; the time "
                          "since the last tap is not counted.")
                           .arg(QString::fromStdString(blade_facts()->name)));
}

void StonesModel::put(SharpeningInHand hand, const QString& what) {
  const Blade* blade = blade_facts();
  if (!blade) return;
  if (hand.since > 0) timed_here_.insert(blade_id_);
  const std::string key = sharpening_key(*blade), text = in_hand_json(hand);
  workbench_.edit(
      [&](ProjectSession& session) { session.keep(key, text, (kTap + what).toStdString()); });
}

void StonesModel::begin_planned() {
  if (hand_ || !plan_ || !input_) return;
  keep_now();
  SharpeningInHand hand{planned(), 0, {}, now_seconds()};
  // What a slack belt or crossed wheels leave is measured.
  auto draft = draft_ladder(workbench_.trial(), std::size_t(blade_));
  if (draft && input_->way == GrindWay::held) {
    draft->state.dull_um = input_->dull_um;
    draft->state.damage_um = input_->damage_um;
    hand.leaves = resulting_section(draft->state, input_->wish, *plan_);
  }
  put(std::move(hand), tr("sharpening begun"));
}

void StonesModel::begin_again(const Sharpening& sharpening) {
  if (hand_ || sharpening.steps.empty()) return;
  keep_now();
  put({sharpening, 0, {}, now_seconds()}, tr("sharpening begun"));
}

void StonesModel::make_again(const Making& making) {
  const Blade* blade = blade_facts();
  if (hand_ || !blade || !making.sharpening) return;
  const Trial& trial = workbench_.trial();
  const auto& record = std::get<SharpeningRecord>(blade->records.at(*making.sharpening).data);
  const TakenUp taken = take_up(record.sharpening, trial.shelf);
  SharpeningInHand hand{taken.sharpening, 0, {}, now_seconds()};
  hand.sharpening.run = input_ ? input_->run : std::string();
  const EdgeNow edge = edge_now(*blade);
  if (const auto geometry = geometry_of(record.sharpening); geometry && edge.section) {
    const SectionPlan leaves = with_edge(*edge.section, geometry->edge(), geometry->micro());
    if (make_section(leaves)) hand.leaves = leaves;
  }
  const auto setting = setting_of(*blade, making);
  const bool set = setting && edge.setting != setting->setting;
  const std::string key = sharpening_key(*blade), text = in_hand_json(hand);
  keep_now();
  timed_here_.insert(blade_id_);
  const bool begun = workbench_.edit([&](ProjectSession& session) {
    session.as_one("taking up an earlier edge of blade " + blade->name, [&] {
      if (set)
        session.add_records(std::size_t(blade_), {EdgeRecordData(setting->setting)},
                            "the jig setting");
      session.keep(key, text, "the sharpening in hand");
    });
  });
  if (!begun) return;
  QString said = tr("In hand: the edge %1.").arg(QString::fromStdString(describe(*blade, making)));
  if (set) said += tr(" Its jig setting holds again.");
  for (const auto& sentence : taken.said) said += ' ' + QString::fromStdString(sentence);
  emit workbench_.told(said);
}

void StonesModel::take(const Checked<Sharpening>& next, const QString& what, bool step_done) {
  if (!next) {
    emit workbench_.refused(tr("Not done: %1.").arg(QString::fromStdString(next.refusal().reason)));
    return;
  }
  SharpeningInHand hand = *hand_;
  hand.sharpening = *next;
  if (step_done) {
    hand.seconds = 0;
    hand.since = timer_runs() ? now_seconds() : 0;
  }
  if (!current_step(*next)) {
    const QString sentence = QString::fromStdString(describe(*next));
    const std::string key = sharpening_key(*blade_facts());
    int set_aside = 0;
    if (!workbench_.edit([&](ProjectSession& session) {
          set_aside = session.finish_sharpening(std::size_t(blade_), *next, key, hand.leaves);
        }))
      return;
    emit finished(sentence);
    if (set_aside > 0)
      emit workbench_.told(
          tr("%1 of run %2 at 0 cuts were read before the last step was done: they are kept and "
             "not counted. Read the start again now, at the same place.")
              .arg(set_aside == 1 ? tr("1 reading") : tr("%1 readings").arg(set_aside))
              .arg(QString::fromStdString(next->run)));
    return;
  }
  put(std::move(hand), what);
}

void StonesModel::tap_next() {
  if (!hand_) return;
  const auto tap = next_tap(hand_->sharpening);
  if (!tap) return;
  if (tap->mark)
    tap_mark(*tap->mark);
  else if (tap->missed)
    work_missed();
  else
    take(with_step_done(hand_->sharpening, seconds()), tr("step %1 done").arg(tap->step + 1), true);
}

void StonesModel::tap_mark(int mark, BurrSize size) {
  if (!hand_) return;
  const int places = hand_->sharpening.places;
  take(with_mark(hand_->sharpening, mark, size),
       tr("burr at the %1").arg(QString::fromStdString(gate_mark_name(mark, places))), false);
}

void StonesModel::work_missed() {
  const Blade* blade = blade_facts();
  if (!hand_ || !blade) return;
  take(with_missed_worked(hand_->sharpening, edge_now(*blade).edge_mm()),
       tr("the missed places are worked alone"), false);
}

void StonesModel::pass_gate(const QString& reason) {
  if (hand_)
    take(with_override(hand_->sharpening, reason.trimmed().toStdString()),
         tr("gate passed with a reason"), false);
}

void StonesModel::pause_or_go_on() {
  if (!hand_) return;
  SharpeningInHand hand = *hand_;
  hand.seconds = seconds();
  hand.since = hand.since > 0 ? 0 : now_seconds();
  put(hand, hand.since > 0 ? tr("timer on") : tr("timer held"));
}

void StonesModel::add_step(const SharpeningStep& step) {
  if (!hand_) return;
  SharpeningInHand hand = *hand_;
  const std::size_t at = current_step(hand.sharpening).value_or(hand.sharpening.steps.size());
  if (step.work != StepWork::deburr && step.work != StepWork::strop)
    hand.leaves.reset();  // metal that was not planned
  hand.sharpening.steps.insert(hand.sharpening.steps.begin() + std::ptrdiff_t(at), step);
  put(hand, tr("step added"));
}

void StonesModel::change_step(const SharpeningStep& step) {
  const auto at = hand_ ? current_step(hand_->sharpening) : std::nullopt;
  if (!at || hand_->sharpening.steps[*at] == step) return;
  SharpeningInHand hand = *hand_;
  // Another angle, side or stone makes another section than the one planned: what is not known is
  // not put on record.
  const SharpeningStep& before = hand.sharpening.steps[*at];
  if (!(before.angles == step.angles) || before.side != step.side || before.work != step.work)
    hand.leaves.reset();
  hand.sharpening.steps[*at] = step;
  put(hand, tr("step changed"));
}

void StonesModel::undo_tap() {
  // Only taps: nothing else of the project goes back by this key.
  if (!workbench_.has_project()) return;
  if (workbench_.session().undo_changes_kept(kSharpeningKeys))
    workbench_.undo();
  else
    emit workbench_.refused(
        tr("The last change was no tap (\"%1\"): take it back with Ctrl+Z if you mean it.")
            .arg(text_of(workbench_.session().undo_text())));
}

void StonesModel::give_up() {
  if (!hand_ || !blade_facts()) return;
  const std::string key = sharpening_key(*blade_facts());
  workbench_.edit([&](ProjectSession& session) {
    session.keep(key, "", (kTap + tr("sharpening laid away")).toStdString());
  });
}

}  // namespace bq::ui
