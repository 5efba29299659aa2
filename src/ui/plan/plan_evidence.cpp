// What a plan takes from elsewhere: this bench's runs, another project's, the load set on Section.
#include <QDate>
#include <QFileInfo>

#include "ui/parts/words.h"
#include "ui/plan/plan_model.h"
#include "workflow/section_study.h"

namespace bq::ui {

void PlanModel::take_evidence() {
  if (!can_edit()) return;
  TrialPlan changed = *plan();
  const FitService::Fits fits = workbench_.settled_fits();
  const std::string words = expect_from_evidence(changed, workbench_.trial(), *fits);
  changed.truth.from.clear();
  change(changed, tr("what is expected"));
  evidence_note_ = QString::fromStdString(words);
  emit book_changed();
}

void PlanModel::take_evidence_from(const QString& project) {
  if (!can_edit()) return;
  evidence_note_ = tr("Reading %1 …").arg(QFileInfo(project).fileName());
  emit book_changed();
  evidence_job_.ask(
      [project](const std::stop_token& stop) {
        stats::Work work;
        work.stop = stop;
        return std::make_shared<Checked<FittedTrial>>(fitted_trial(project.toStdString(), work));
      },
      [this, project](const std::shared_ptr<Checked<FittedTrial>>& read) {
        evidence_note_.clear();
        if (!can_edit()) return;
        if (!*read) {
          emit workbench_.refused(
              tr("Nothing was taken from %1: %2")
                  .arg(QFileInfo(project).fileName(), text_of(read->refusal().reason)));
        } else {
          const FittedTrial& other = **read;
          TrialPlan changed = *plan();
          const std::string words = expect_from_evidence(changed, other.trial, other.fits);
          if (!(changed.truth == plan()->truth))
            changed.truth.from =
                tr("%1 on %2")
                    .arg(text_of(other.name), QDate::currentDate().toString(Qt::ISODate))
                    .toStdString();
          change(changed, tr("what is expected"));
          evidence_note_ = tr("%1: %2").arg(text_of(other.name), text_of(words));
        }
        emit book_changed();
      });
}

void PlanModel::take_durable() {
  if (!can_edit()) return;
  const SectionQuestions load =
      section_questions_of(workbench_.session().kept(kSectionQuestionsKey));
  const auto limits = durable_limits(*plan(), workbench_.trial(), load.load());
  if (!limits) {
    emit workbench_.refused(
        tr("No durable limit was set: %1.").arg(QString::fromStdString(limits.refusal().reason)));
    return;
  }
  TrialPlan changed = *plan();
  changed.durable = *limits;
  change(changed, tr("the durable limit"));
}

}  // namespace bq::ui
