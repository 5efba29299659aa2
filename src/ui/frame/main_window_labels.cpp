// The window: labels of blades and stones, printed and read.
#include "ui/frame/main_window.h"

#include <QDateTime>
#include <QFileDialog>

#include "report/label_page.h"
#include "store/readings_export.h"
#include "store/readings_table.h"
#include "ui/frame/first_page.h"
#include "ui/frame/print_preview.h"
#include "ui/parts/save_file.h"
#include "ui/parts/words.h"
#include "ui/rack/rack_view.h"
#include "ui/stones/stones_view.h"
#include "workflow/data_package.h"
#include "workflow/label_codes.h"

namespace bq::ui {

std::vector<Label> MainWindow::labels_now() {
  if (!workbench_.has_project()) return {};
  std::string tag = workbench_.session().kept(kLabelTagKey);
  if (tag.empty()) {
    tag = label_tag(std::uint64_t(QDateTime::currentMSecsSinceEpoch()));
    if (!workbench_.edit([&](ProjectSession& session) {
          session.keep(kLabelTagKey, tag, "the letters of this project's labels");
        }))
      return {};
  }
  auto labels =
      labels_of(workbench_.trial(), tag, workbench_.blind_runs(), workbench_.display().angles);
  if (labels.empty())
    show_message(tr("There is nothing to label yet: no blade, no run that is planned, no stone."),
                 true);
  return labels;
}

void MainWindow::print_labels() {
  auto labels = labels_now();
  if (!labels.empty())
    preview_print(this, tr("the labels"), QPageSize::A4,
                  [labels = std::move(labels)](double dots) { return label_pages(labels, dots); });
}

void MainWindow::ask_labels() {
  const auto labels = labels_now();
  if (labels.empty()) return;
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Labels for blades, runs and stones"),
                                   QStringLiteral("labels.pdf"), tr("Sheets of labels (*.pdf)"));
  if (path.isEmpty()) return;
  QString why;
  if (write_whole(path, labels_pdf(labels, workbench_.trial().title), &why))
    show_message(tr("%1 labels were written to %2. A code reader that types like a keyboard opens "
                    "what they name.")
                     .arg(QString::number(labels.size()), path),
                 false);
  else
    show_message(tr("%1 could not be written: %2. Nothing was changed.").arg(path, why), true);
}

void MainWindow::open_label(const QString& code) {
  if (!workbench_.has_project()) {
    show_message(tr("A label was read, and no project is open."), true);
    return;
  }
  const auto target =
      read_label(workbench_.trial(), workbench_.session().kept(kLabelTagKey), code.toStdString());
  if (!target) {
    show_message(tr("Not opened: %1.").arg(text_of(target.refusal().reason)), true);
    return;
  }
  switch (target->kind) {
    case LabelTarget::Kind::blade:
      go_to(Station::rack);
      static_cast<RackView*>(station(Station::rack))->choose_blade(int(target->index));
      break;
    case LabelTarget::Kind::run:
      workbench_.choose_run(int(target->index));
      go_to(Station::bench);
      break;
    case LabelTarget::Kind::abrasive:
      go_to(Station::stones);
      static_cast<StonesView*>(station(Station::stones))
          ->show_stone(text_of(workbench_.trial().shelf[target->index].name));
      break;
  }
}

}  // namespace bq::ui
