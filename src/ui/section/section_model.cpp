#include "ui/section/section_model.h"

#include <QTimer>

namespace bq::ui {

SectionModel::SectionModel(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench), pause_(new QTimer(this)) {
  pause_->setSingleShot(true);
  pause_->setInterval(400);
  connect(pause_, &QTimer::timeout, this, [this] { set_plan(plan_, true); });
  connect(&workbench_, &Workbench::changed, this, &SectionModel::reload);
  connect(&workbench_, &Workbench::about_to_undo, this, &SectionModel::keep_now);
  reload();
}

std::string SectionModel::draft_key() const { return "section-draft:" + std::to_string(blade_id_); }

const SteelCard* SectionModel::steel() const {
  if (blade_ < 0) return nullptr;
  return workbench_.trial().steel_card(workbench_.trial().blades[std::size_t(blade_)].steel);
}

void SectionModel::choose_blade(int index) {
  if (index == blade_ || index < 0 || index >= int(workbench_.trial().blades.size())) return;
  keep_now();
  blade_ = index;
  blade_id_ = 0;
  if (compare_ == CompareWith::other_blade) compare_ = CompareWith::as_it_is;
  reload();
}

SectionPlan SectionModel::start_plan() const {
  if (edge_.section) return *edge_.section;
  // What the blade's latest run says of its edge, on ordinary stock.
  SectionPlan plan;
  plan.stock_mm = 2;
  plan.height_mm = 24;
  Grind edge;
  edge.angle_deg = 15;
  std::optional<Grind> micro;
  for (const auto& run : workbench_.trial().runs)
    if (run.facts.blade == workbench_.trial().blades[std::size_t(blade_)].name &&
        run.facts.geometry) {
      const auto& geometry = *run.facts.geometry;
      edge.angle_deg = geometry.edge().left_deg;
      edge.angle_right_deg =
          geometry.edge().is_symmetric() ? std::nullopt : std::optional(geometry.edge().right_deg);
      micro.reset();
      if (geometry.micro()) {
        micro = Grind{};
        micro->angle_deg = geometry.micro()->left_deg;
        if (!geometry.micro()->is_symmetric()) micro->angle_right_deg = geometry.micro()->right_deg;
        micro->until = UntilFacet{60};
      }
    }
  plan.grinds = {edge};
  if (micro) plan.grinds.push_back(*micro);
  return plan;
}

void SectionModel::reload() {
  const Trial& trial = workbench_.trial();
  if (!workbench_.has_project() || trial.blades.empty()) {
    blade_ = -1;
    blade_id_ = 0;
    study_.reset();
    before_.reset();
    emit blade_changed();
    return;
  }
  questions_ = section_questions_of(workbench_.session().kept(kSectionQuestionsKey));
  if (blade_ >= int(trial.blades.size())) blade_ = int(trial.blades.size()) - 1;
  if (blade_ < 0) {
    blade_ = 0;
    blade_id_ = 0;
  }
  const Blade& blade = trial.blades[std::size_t(blade_)];
  const bool other = blade.id != blade_id_;
  blade_id_ = blade.id;
  edge_ = edge_now(blade);
  if (other_blade_ >= int(trial.blades.size())) other_blade_ = -1;
  // What is in the hand, else what was being worked on, else the section as it is.
  const std::string draft = workbench_.session().kept(draft_key());
  const auto kept = draft.empty() ? Checked<SectionPlan>(Refusal{}) : parse_section_plan(draft);
  const bool in_hand = !other && pause_->isActive();
  const SectionPlan plan = in_hand ? plan_ : kept ? *kept : start_plan();
  const bool moved = other || !(plan == plan_);
  plan_ = plan;
  if (other) {
    study_.reset();
    emit blade_changed();
  }
  if (moved) emit plan_changed();
  study_now();
}

std::optional<SectionPlan> SectionModel::before_plan() const {
  switch (compare_) {
    case CompareWith::as_it_is:
      return edge_.section ? edge_.section : std::optional<SectionPlan>();
    case CompareWith::blank:
      return std::nullopt;
    case CompareWith::other_blade: {
      if (other_blade_ < 0) return std::nullopt;
      return edge_now(workbench_.trial().blades[std::size_t(other_blade_)]).section;
    }
  }
  return std::nullopt;
}

QString SectionModel::before_name() const {
  if (!before_plan()) return plan_.profile.empty() ? tr("the blank") : tr("as measured");
  return compare_ == CompareWith::as_it_is
             ? tr("as it is")
             : QString::fromStdString(workbench_.trial().blades[std::size_t(other_blade_)].name);
}

bool SectionModel::changed() const { return blade_ >= 0 && !(edge_.section == plan_); }

void SectionModel::study_now() {
  if (blade_ < 0) return;
  SectionQuestion question;
  question.plan = plan_;
  question.compare_with = before_plan();
  question.load = questions_.load();
  if (const SteelCard* card = steel()) {
    question.hardness_hrc = card->hardness_hrc;
    question.limits = strength_of(*card);
  }
  question.at_mm = {0.1, 0.5, 1, 5};
  question.edge_length_mm = edge_.edge_mm();
  question.rate_mm3_per_min = questions_.rate_mm3_per_min;
  question.parting_depth_mm = 8;
  question.friction = questions_.friction;
  auto study = study_section(question);
  refusal_.clear();
  refused_grind_ = -1;
  if (study) {
    study_ = *study;
  } else {
    refusal_ = QString::fromStdString(study.refusal().reason);
    if (const auto grind = bq::refused_grind(question.plan)) refused_grind_ = int(*grind);
    if (study_) refusal_ += tr(" The drawing shows the last section that could be made.");
  }
  SectionQuestion before = question;
  before.compare_with.reset();
  before.plan = question.compare_with.value_or(plan_);
  if (!question.compare_with) {
    before.plan.grinds.clear();
    before.plan.apex_um = 0;
    before.load.reset();  // a blank has no edge to load
  }
  const auto other = study_section(before);
  before_ = other ? std::optional(*other) : std::nullopt;
  emit study_changed();
}

void SectionModel::set_plan(const SectionPlan& plan, bool keep) {
  const bool same = plan == plan_;
  plan_ = plan;
  if (!same) {
    emit plan_changed();
    study_now();
  }
  if (!keep) {
    if (!same) pause_->start();
    return;
  }
  pause_->stop();
  if (workbench_.writable() && section_plan_json(plan) != workbench_.session().kept(draft_key()))
    workbench_.edit([&](ProjectSession& session) {
      session.keep(draft_key(), section_plan_json(plan), "a change of the section");
    });
}

void SectionModel::set_questions(const SectionQuestions& questions) {
  questions_ = questions;
  study_now();
  if (workbench_.writable())
    workbench_.edit([&](ProjectSession& session) {
      session.keep(kSectionQuestionsKey, section_questions_text(questions),
                   "the load on the section");
    });
}

void SectionModel::set_compare(CompareWith with, int other_blade) {
  compare_ = with;
  other_blade_ = other_blade;
  study_now();
}

void SectionModel::keep_now() {
  if (pause_->isActive()) set_plan(plan_, true);
}

void SectionModel::adopt() {
  if (blade_ < 0 || !refusal_.isEmpty()) return;
  workbench_.edit([&](ProjectSession& session) {
    session.add_records(std::size_t(blade_), {SectionRecord{plan_, ""}}, "the section");
  });
}

void SectionModel::revert() {
  if (blade_ >= 0) set_plan(start_plan(), true);
}

}  // namespace bq::ui
