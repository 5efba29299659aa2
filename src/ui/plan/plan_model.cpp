#include "ui/plan/plan_model.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"

namespace bq::ui {
namespace {
constexpr int kKeepAfter_ms = 400, kTick_ms = 100;

/// Ratios of the rehearsed curve: round the plan's own, on both sides of it.
std::vector<double> curve_ratios(const PlanStudy& study) {
  const double own = std::fabs(std::log(study.true_ratio));
  const double far =
      std::max({1.6 * own, 1.5 * std::log(study.power ? study.power->smallest_ratio : 1.3), 0.08});
  std::vector<double> ratios;
  for (int i = 1; i <= 6; ++i) ratios.push_back(std::exp(far * i / 6.0));
  return ratios;
}
/// Whether a rehearsal of the one is a rehearsal of the other: names, notes and what is looked at
/// in it aside.
bool same_trial(TrialPlan a, const TrialPlan& b) {
  a.name = b.name;
  a.note = b.note;
  a.truth.from = b.truth.from;
  PlanQuestion asked = a.asked();
  asked.ask = b.asked().ask;
  asked.hold = b.asked().hold;
  if (asked == b.asked()) a.question = b.question;
  return a == b;
}

}  // namespace

PlanModel::PlanModel(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench) {
  study_job_.belongs_to(workbench_.of_this_project());
  rehearsal_job_.belongs_to(workbench_.of_this_project());
  evidence_job_.belongs_to(workbench_.of_this_project(), [this] { evidence_note_.clear(); });
  pause_.setSingleShot(true);
  pause_.setInterval(kKeepAfter_ms);
  ticker_.setInterval(kTick_ms);
  connect(&pause_, &QTimer::timeout, this, &PlanModel::keep_now);
  connect(&ticker_, &QTimer::timeout, this, &PlanModel::progressed);
  connect(&workbench_, &Workbench::opened, this, [this] {
    unkept_ = false;
    pause_.stop();
    known_text_ = "\1";  // no project's text: read whatever is there
    current_ = -1;
    reload();
  });
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.text(kPlanBookKey)) reload();
  });
  connect(&workbench_, &Workbench::about_to_undo, this, &PlanModel::keep_now);
  known_text_ = "\1";
  reload();
}

PlanModel::~PlanModel() {
  study_job_.stop();
  rehearsal_job_.stop();
}

const PlanEntry* PlanModel::entry() const {
  return current_ >= 0 && current_ < int(book_.plans.size()) ? &book_.plans[std::size_t(current_)]
                                                             : nullptr;
}

bool PlanModel::can_edit() const { return workbench_.writable() && entry() && !issued(); }

void PlanModel::reload() {
  const std::string text =
      workbench_.has_project() ? workbench_.session().kept(kPlanBookKey) : std::string();
  if (text == known_text_ || unkept_) return;
  known_text_ = text;
  PlanBook book;
  if (!text.empty()) {
    const auto read = parse_plan_book(text);
    if (read)
      book = *read;
    else
      emit workbench_.refused(tr("The plans of this project cannot be read (%1). They stay as they "
                                 "are until you change one.")
                                  .arg(QString::fromStdString(read.refusal().reason)));
  }
  const TrialPlan before = plan() ? *plan() : TrialPlan{};
  const bool had = plan();
  book_ = std::move(book);
  current_ = book_.plans.empty() ? -1
                                 : std::clamp(current_ < 0 ? int(book_.plans.size()) - 1 : current_,
                                              0, int(book_.plans.size()) - 1);
  if (!had || !plan() || !(before == *plan())) {
    if (!had || !plan() || !same_trial(before, *plan())) forget_rehearsal();
    study_now();
  }
  emit book_changed();
}

void PlanModel::choose(int index) {
  if (index < 0 || index >= int(book_.plans.size()) || index == current_) return;
  keep_now();
  current_ = index;
  forget_rehearsal();
  study_now();
  emit book_changed();
}

void PlanModel::keep_soon(const QString& what) {
  if (unkept_ && unkept_what_ != what) keep_now();
  unkept_ = true;
  unkept_what_ = what;
  pause_.start();
}

void PlanModel::keep_now() {
  pause_.stop();
  if (!unkept_) return;
  unkept_ = false;
  if (!workbench_.writable()) return;
  const std::string text = plan_book_json(book_), before = known_text_;
  known_text_ = text;
  if (workbench_.edit([&](ProjectSession& session) {
        session.keep(kPlanBookKey, text, unkept_what_.toStdString());
      }))
    return;
  // Refused and said so: it is still in hand, and tried again with the next change and on leaving.
  known_text_ = before;
  unkept_ = true;
}

void PlanModel::another_plan(const QString& what) {
  keep_soon(what);
  keep_now();
  forget_rehearsal();
  study_now();
  emit book_changed();
}

void PlanModel::add_plan() {
  if (!workbench_.writable()) return;
  keep_now();
  const auto& fits = *workbench_.fits();
  book_.plans.push_back(
      {first_plan(workbench_.trial(), workbench_.fitting() ? std::vector<RunFit>{} : fits,
                  workbench_.session().threshold_text(),
                  tr("Plan %1").arg(book_.plans.size() + 1).toStdString()),
       {},
       {}});
  // Orders of different plans must not be the same lot.
  book_.plans.back().plan.seed = 1 + std::uint64_t(QDateTime::currentMSecsSinceEpoch()) % 1000000;
  current_ = int(book_.plans.size()) - 1;
  another_plan(tr("a new plan"));
}

void PlanModel::copy_plan() {
  if (!entry() || !workbench_.writable()) return;
  keep_now();
  PlanEntry copy{entry()->plan, {}, {}};
  copy.plan.name = tr("%1, copy").arg(QString::fromStdString(copy.plan.name)).toStdString();
  copy.plan.extensions.clear();
  copy.plan.seed += 1 + book_.plans.size();  // codes of its own: both may go on the bench
  book_.plans.push_back(copy);
  current_ = int(book_.plans.size()) - 1;
  another_plan(tr("a copy of a plan"));
}

void PlanModel::remove_plan() {
  if (!entry() || !workbench_.writable()) return;
  keep_now();
  book_.plans.erase(book_.plans.begin() + current_);
  current_ = std::min(current_, int(book_.plans.size()) - 1);
  another_plan(tr("taking out a plan"));
}

void PlanModel::change(const TrialPlan& plan, const QString& what) {
  if (!entry() || !workbench_.writable() || plan == entry()->plan) return;
  const bool same = same_trial(plan, entry()->plan);
  const PlanTruth before = entry()->plan.truth;
  TrialPlan& own = book_.plans[std::size_t(current_)].plan;
  own = plan;
  // What was changed by hand is from nowhere else.
  if (!(own.truth == before) && own.truth.from == before.from) own.truth.from.clear();
  keep_soon(what);
  evidence_note_.clear();
  if (!same) forget_rehearsal();
  study_now();
  emit book_changed();
}

void PlanModel::study_now() {
  if (!plan()) {
    study_.reset();
    emit study_changed();
    return;
  }
  study_job_.ask(
      [plan = *plan()](const std::stop_token& stop) {
        stats::Work work;
        work.stop = stop;
        return std::make_shared<const PlanStudy>(study_plan(plan, work));
      },
      [this](const std::shared_ptr<const PlanStudy>& study) {
        if (!plan() || !(study->plan == *plan())) return;  // a newer one is on its way
        study_ = study;
        emit study_changed();
      });
  emit study_changed();
}

void PlanModel::forget_rehearsal() {
  ++generation_;
  if (rehearsal_job_.busy()) rehearsal_job_.stop();
  rehearsal_.reset();
  curve_.clear();
  helps_.clear();
  rehearsal_refusal_.clear();
  emit rehearsal_changed();
}

void PlanModel::start_job(const QString& doing, long total,
                          std::function<Played(const stats::Work&)> work) {
  doing_ = doing;
  total_ = total;
  done_ = 0;
  rehearsal_refusal_.clear();
  const std::uint64_t generation = generation_;
  rehearsal_job_.ask(
      [this, work = std::move(work)](const std::stop_token& stop) {
        stats::Work how;
        how.workers = stats::core_count();
        how.stop = stop;
        how.done = &done_;
        return std::make_shared<Played>(work(how));
      },
      [this, generation](const std::shared_ptr<Played>& played) {
        ticker_.stop();
        if (generation == generation_) {
          rehearsal_refusal_ = played->refusal;
          if (played->rehearsal) {
            rehearsal_ = played->rehearsal;
            curve_ = played->curve;
          }
          if (played->is_help && !played->helps.empty()) helps_ = played->helps;
        }
        emit rehearsal_changed();
      });
  ticker_.start();
  emit rehearsal_changed();
}

void PlanModel::rehearse() {
  if (!up_to_date() || !study_->refusal.empty() || rehearsing()) return;
  const auto study = study_;
  std::vector<PlayOutcome> before;
  if (rehearsal_ && rehearsal_->stopped()) before = rehearsal_->plays;
  const auto ratios = curve_ratios(*study);
  const long total = kPlays + long(ratios.size()) * kCurvePlays;
  start_job(tr("Rehearsing"), total, [study, before, ratios](const stats::Work& work) {
    Played out;
    RehearsalOptions options;
    options.plays = kPlays;
    options.seed = study->plan.seed;
    const auto result = bq::rehearse(study->plan, study->sheet, options, work, before);
    if (!result) {
      out.refusal = QString::fromStdString(result.refusal().reason);
      return out;
    }
    out.rehearsal = *result;
    if (result->stopped()) return out;
    options.plays = kCurvePlays;
    const auto curve = rehearse_curve(study->plan, study->sheet, ratios, options, work);
    if (curve) out.curve = *curve;
    return out;
  });
}

void PlanModel::ask_help() {
  if (!up_to_date() || !study_->refusal.empty() || rehearsing()) return;
  const auto study = study_;
  start_job(tr("Trying changes"), kMostHelps * kHelpPlays, [study](const stats::Work& work) {
    Played out;
    out.is_help = true;
    RehearsalOptions options;
    options.plays = kHelpPlays;
    options.seed = study->plan.seed;
    const auto helps = what_would_help(study->plan, options, work);
    if (!helps)
      out.refusal = QString::fromStdString(helps.refusal().reason);
    else if (!work.stop.stop_requested())
      out.helps = *helps;
    return out;
  });
}

void PlanModel::stop() { rehearsal_job_.stop(); }

void PlanModel::issue() {
  if (!up_to_date() || !study_->refusal.empty() || !workbench_.writable()) return;
  keep_now();
  if (const std::string fault = issued_fault(*entry(), study_->sheet); !fault.empty()) {
    emit workbench_.refused(QString::fromStdString(fault) +
                            tr(" Nothing was changed: make a new plan for the other runs."));
    return;
  }
  const auto runs =
      planned_runs(study_->plan, study_->sheet, tr("P%1-").arg(current_ + 1).toStdString());
  if (!runs) {
    emit workbench_.refused(QString::fromStdString(runs.refusal().reason));
    return;
  }
  std::vector<Run> fresh(runs->begin() + std::ptrdiff_t(entry()->issued.size()), runs->end());
  if (fresh.empty()) return;
  PlanBook changed = book_;
  for (const auto& run : fresh)
    changed.plans[std::size_t(current_)].issued.push_back(run.facts.name);
  const std::string text = plan_book_json(changed);
  const std::size_t count = fresh.size();
  const bool done = workbench_.edit([&](ProjectSession& session) {
    session.issue_runs(fresh, kPlanBookKey, text,
                       "putting " + std::to_string(count) + " runs of the plan on the bench");
  });
  if (done)
    emit workbench_.told(tr("%1 runs are on the bench, in the order of the sheet. Undo takes them "
                            "back as long as none has a reading.")
                             .arg(count));
}

void PlanModel::extend(int runs) {
  if (!entry() || !workbench_.writable()) return;
  TrialPlan changed = *plan();
  changed.extensions.push_back({runs, changed.seed + 1000 + changed.extensions.size()});
  change(changed, tr("an extension of the plan"));
}

int PlanModel::add_claim(const Claim& claim) {
  if (!workbench_.writable()) return -1;
  keep_now();
  ClaimTest test;
  test.claim = claim;
  test.seed = 1 + std::uint64_t(QDateTime::currentMSecsSinceEpoch()) % 1000000;
  for (const auto& blade : workbench_.trial().blades)
    if (!blade.retired) test.blades.push_back(blade.name);
  const auto pairs = pairs_needed(claim, test.chance, test.level);
  test.pairs = pairs ? *pairs : 10;
  book_.claims.push_back(test);
  keep_soon(tr("a claim to settle"));
  keep_now();
  emit book_changed();
  return int(book_.claims.size()) - 1;
}

void PlanModel::set_claim(int index, const ClaimTest& test, const QString& what) {
  if (index < 0 || index >= int(book_.claims.size()) || book_.claims[std::size_t(index)] == test ||
      !workbench_.writable())
    return;
  book_.claims[std::size_t(index)] = test;
  keep_soon(what);
  keep_now();  // measured figures are on disk before they are shown
  emit book_changed();
}

void PlanModel::remove_claim(int index) {
  if (index < 0 || index >= int(book_.claims.size()) || !workbench_.writable()) return;
  keep_now();
  book_.claims.erase(book_.claims.begin() + index);
  keep_soon(tr("taking out a claim"));
  keep_now();
  emit book_changed();
}

QString shown_level(FactorKind kind, const FactorValue& value, AngleConvention angles) {
  const bool angle = kind == FactorKind::apex_angle || kind == FactorKind::edge_angle;
  if (const auto* number = std::get_if<double>(&value); number && angle)
    return QString::fromStdString(
               print_number(angles == AngleConvention::inclusive ? 2 * *number : *number, 4)) +
           QStringLiteral("°");
  const QString text = QString::fromStdString(print_factor_value(value));
  return kind == FactorKind::finish || kind == FactorKind::micro_width
             ? text + QStringLiteral(" µm")
             : text;
}

QStringList words_of_levels(const TrialPlan& plan, const Combination& levels,
                            AngleConvention angles) {
  QStringList words;
  for (std::size_t f = 0; f < plan.factors.size(); ++f)
    words << shown_factor(plan.factors[f], angles) + QStringLiteral(" ") +
                 shown_level(plan.factors[f].kind, plan.factors[f].levels[std::size_t(levels[f])],
                             angles);
  return words;
}

QString shown_factor(const PlanFactor& factor, AngleConvention angles) {
  const QString convention =
      angles == AngleConvention::inclusive ? PlanModel::tr("inclusive") : PlanModel::tr("per side");
  switch (factor.kind) {
    case FactorKind::apex_angle:
      return PlanModel::tr("apex angle, %1").arg(convention);
    case FactorKind::edge_angle:
      return PlanModel::tr("edge bevel, %1").arg(convention);
    case FactorKind::micro_width:
      return PlanModel::tr("micro-bevel width");
    case FactorKind::finish:
      return PlanModel::tr("finish");
    case FactorKind::cut_mode:
      return PlanModel::tr("cut mode");
    case FactorKind::finishing_step:
      return PlanModel::tr("finishing step");
    default:
      return QString::fromStdString(factor.name);
  }
}

}  // namespace bq::ui
