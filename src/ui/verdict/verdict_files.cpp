// The verdict's documents: the report and the chosen edge's card.
#include <QApplication>
#include <QDate>
#include <QFile>
#include <QFileDialog>
#include <QListView>
#include <QPushButton>
#include <QTemporaryDir>

#include "pixels/cut_picture.h"
#include "report/card_page.h"
#include "ui/frame/print_preview.h"
#include "ui/parts/save_file.h"
#include "ui/parts/words.h"
#include "ui/plan/sheet_actions.h"
#include "ui/verdict/limits_panel.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "ui/verdict/verdict_view.h"
#include "workflow/bench_study.h"
#include "workflow/card_source.h"
#include "workflow/gauge_table.h"
#include "workflow/lens_study.h"
#include "workflow/report_source.h"

namespace bq::ui {
namespace {

/// Writes by the ending; "" or what went wrong.
QString write_study(const QString& path, const SourceResult& source,
                    const std::vector<RunFit>& fits, const TrialStudyOptions& options,
                    const TrialStudy& study, const std::string& date) {
  std::string bytes;
  if (path.endsWith(QLatin1String(".xlsx"))) {
    const QTemporaryDir folder;
    const QString beside = folder.filePath(QStringLiteral("book.xlsx"));
    try {
      write_workbook(beside.toStdString(), trial_workbook(source, fits, study, options),
                     source.trial.title, date);
    } catch (const StoreError& error) {
      return QString::fromUtf8(error.what());
    }
    QFile file(beside);
    if (!file.open(QIODevice::ReadOnly))
      return VerdictView::tr("The workbook could not be made. Nothing was written.");
    bytes = file.readAll().toStdString();
  } else {
    const TrialReport report = trial_report(source, study, options, date);
    bytes = path.endsWith(QLatin1String(".html")) ? report_html(report) : report_pdf(report);
  }
  return write_whole(path, bytes)
             ? QString()
             : VerdictView::tr("%1 could not be written. Nothing was changed.").arg(path);
}

}  // namespace

struct VerdictView::ReportWork {
  SourceResult source;
  TrialStudyOptions options;
  FitService::Fits fits;
  std::shared_ptr<PictureStore> pictures;
  std::string date;

  /// On a worker: the pictures as a page shows them, and the study. Refused in a sentence.
  Checked<TrialStudy> study(const std::stop_token& stop) {
    show_whole(source.pictures, source.trial, *pictures, cut_picture);
    options.stop = stop;
    auto made = study_trial(source, *fits, options);
    if (!made) return Refusal{"No report: " + made.refusal().reason + "."};
    if (stop.stop_requested()) return Refusal{"The report was stopped. Nothing was written."};
    return made;
  }
};

std::shared_ptr<VerdictView::ReportWork> VerdictView::report_work() const {
  if (!workbench_.has_project() || !workbench_.threshold()) return nullptr;
  auto work = std::make_shared<ReportWork>();
  const ProjectSession& session = workbench_.session();
  SourceResult& source = work->source;
  source.trial = workbench_.trial();
  source.sessions = session.bench_sessions();
  for (const auto* m : report_pictures(source.trial))
    source.pictures[m->id] = {session.thumbnail(m->id), whole_picture(*m)};
  source.section_questions = session.kept(kSectionQuestionsKey);
  source.gauge_study = session.kept(kGaugeStudyKey);
  source.threshold = session.threshold_text();
  source.check_limit_percent = protocol_of(session).check_limit_percent;
  work->options.limits = limits_->wanted();
  work->options.angles = workbench_.display().angles;
  work->options.workers = 1;
  work->fits = workbench_.fits();
  work->pictures = session.pictures();
  work->date = QDate::currentDate().toString(Qt::ISODate).toStdString();
  return work;
}

void VerdictView::say_writing(bool writing) {
  report_->setText(writing ? tr("Writing …") : tr("Report …"));
  report_->setEnabled(!writing);
  print_->setEnabled(!writing);
}

void VerdictView::write_report(const QString& path) {
  const auto work = report_work();
  if (!work) return;
  say_writing(true);
  reporting_.ask(
      [path, work](const std::stop_token& stop) {
        const auto study = work->study(stop);
        return std::make_shared<QString>(
            study ? write_study(path, work->source, *work->fits, work->options, *study, work->date)
                  : text_of(study.refusal().reason));
      },
      [this, path](const std::shared_ptr<QString>& fault) {
        say_writing(false);
        if (fault->isEmpty())
          emit workbench_.told(tr("The report was written to %1.").arg(path));
        else
          emit workbench_.refused(*fault);
      });
}

void VerdictView::print_report() {
  const auto work = report_work();
  if (!work) return;
  say_writing(true);
  const auto report = std::make_shared<TrialReport>();
  reporting_.ask(
      [report, work](const std::stop_token& stop) {
        const auto study = work->study(stop);
        if (!study) return std::make_shared<QString>(text_of(study.refusal().reason));
        *report = trial_report(work->source, *study, work->options, work->date);
        return std::make_shared<QString>();
      },
      [this, report](const std::shared_ptr<QString>& fault) {
        say_writing(false);
        if (!fault->isEmpty()) {
          emit workbench_.refused(*fault);
          return;
        }
        preview_print(this, tr("the report"), QPageSize::A4,
                      [report](double dots) { return report_pages(*report, dots); });
      });
}

void VerdictView::save_report() {
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Save the report"), QStringLiteral("trial-report.pdf"),
                                   tr("PDF (*.pdf);;Web page (*.html);;Workbook (*.xlsx)"));
  if (!path.isEmpty()) write_report(path);
}

void VerdictView::save_card() {
  const int row = list_->currentIndex().row();
  if (row < 0) return;
  const RankedEdge& edge = edges_->edge(row);
  const Trial& trial = workbench_.trial();
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    if (edge.evidence_runs.empty() || trial.runs[i].facts.name != edge.evidence_runs.front())
      continue;
    const EdgeCard card = card_of_run(trial, i, *workbench_.fits(), workbench_.threshold(),
                                      workbench_.display().angles);
    save_bytes(
        this, workbench_,
        edge.tested
            ? tr("Save the card of run %1").arg(QString::fromStdString(edge.evidence_runs.front()))
            : tr("Not made yet: card of the nearest run, %1")
                  .arg(QString::fromStdString(edge.evidence_runs.front())),
        QStringLiteral("edge-card-%1.pdf").arg(QString::fromStdString(edge.evidence_runs.front())),
        tr("PDF (*.pdf);;Web page (*.html)"), [&card](const QString& path) {
          return path.endsWith(QLatin1String(".html")) ? card_html(card) : card_pdf(card);
        });
    return;
  }
}

}  // namespace bq::ui
