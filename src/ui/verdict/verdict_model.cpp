#include "ui/verdict/verdict_model.h"

#include <utility>

#include "workflow/answers.h"
#include "workflow/objections.h"
#include "workflow/section_study.h"

namespace bq::ui {

VerdictModel::VerdictModel(Workbench& workbench, std::function<LimitsFile()> wanted,
                           QObject* parent)
    : QObject(parent), workbench_(workbench), wanted_(std::move(wanted)) {
  job_.belongs_to(workbench_.of_this_project());
  for (auto signal : {&Workbench::opened, &Workbench::fits_changed, &Workbench::threshold_changed,
                      &Workbench::display_changed})
    connect(&workbench_, signal, this, &VerdictModel::refresh);
  // Its limits come by the panel; other texts (a section in hand, a plan) are nothing to it.
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.any_part() || touched.text(kSectionQuestionsKey)) refresh();
  });
}

void VerdictModel::set_watched(bool watched) {
  watched_ = watched;
  if (stale_) refresh();
}

void VerdictModel::refresh() {
  stale_ = !watched_;
  if (stale_ || workbench_.fitting()) return;
  const auto threshold = workbench_.threshold();
  if (!threshold) {
    auto none = std::make_shared<Verdict>();
    none->why_not = workbench_.has_project() ? "there are no readings yet" : "no project is open";
    for (const auto& range : starting_ranges()) none->starting.push_back(range);
    return take(std::move(none));
  }
  const LimitsFile wanted = wanted_();
  VerdictQuestion question{*threshold, wanted.limits, wanted.wishes, wanted.stones,
                           workbench_.display().angles};
  auto facts = std::make_shared<Trial>(for_answers(workbench_.trial()));
  // A new set of fits begins a new memory; the job that still uses the old one holds it.
  if (!memory_ || memory_->fits != workbench_.fits()) {
    memory_ = std::make_shared<ObjectionMemory>();
    memory_->fits = workbench_.fits();
  }
  job_.ask(
      [facts, fits = workbench_.fits(), question, memory = memory_,
       sessions = workbench_.session().bench_sessions(),
       questions = workbench_.session().kept(kSectionQuestionsKey)](const std::stop_token&) {
        return std::make_shared<Verdict>(
            find_verdict({facts.get(), fits.get(), sessions, questions, memory.get()}, question));
      },
      [this](std::shared_ptr<Verdict> verdict) { take(std::move(verdict)); });
}

void VerdictModel::take(std::shared_ptr<const Verdict> verdict) {
  verdict_ = std::move(verdict);
  emit found();
}

}  // namespace bq::ui
