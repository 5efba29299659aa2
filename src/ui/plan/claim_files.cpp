// A claim on paper: its coded sheet, the codes opened, its result card.
#include "ui/plan/claim_page.h"

#include <QDate>
#include <QFileDialog>
#include <QMessageBox>
#include <QPushButton>

#include "report/card_page.h"
#include "report/claim_card.h"
#include "report/sheet_page.h"
#include "ui/frame/print_preview.h"
#include "ui/parts/words.h"
#include "ui/plan/sheet_actions.h"
#include "ui/theme/theme.h"

namespace bq::ui {

void ClaimPage::ask_unseal() {
  const ClaimTest* test = chosen();
  if (!test) return;
  const int missing = 2 * test->pairs - int(test->values.size());
  if (missing > 0 &&
      QMessageBox::question(
          this, tr("Unseal early?"),
          tr("%1 figures are missing. Whoever measures on will know who got what, and stopping "
             "when it looks good makes answers look surer than they are. Unseal all the same?")
              .arg(missing)) != QMessageBox::Yes)
    return;
  ClaimTest changed = *test;
  changed.unsealed = true;
  model_.set_claim(index_, changed, tr("unsealing the claim"));
}

void ClaimPage::save_sheet() {
  const ClaimTest* test = chosen();
  if (!test) return;
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Save the sheet"), QStringLiteral("claim-sheet.pdf"),
                                   tr("PDF (*.pdf);;Table (*.csv)"));
  if (path.isEmpty()) return;
  const QString written = write_claim_sheet(path, *test);
  if (written.isEmpty())
    emit workbench_.refused(tr("%1 could not be written. Nothing was changed.").arg(path));
  else
    emit workbench_.told(tr("The sheet was written to %1.").arg(written));
}

void ClaimPage::print_sheet() {
  if (const ClaimTest* test = chosen())
    preview_print(
        this, tr("the claim's sheet"), QPageSize::A4,
        [document = claim_document(*test)](double dots) { return sheet_pages(document, dots); });
}

void ClaimPage::save_card() {
  const ClaimTest* test = chosen();
  const auto result = test ? judge_claim(*test) : Checked<ClaimResult>(Refusal{});
  if (!result) return;
  const EdgeCard card =
      claim_card(*test, *result, QDate::currentDate().toString(Qt::ISODate).toStdString());
  save_bytes(this, workbench_, tr("Save the result card"), QStringLiteral("result-card.pdf"),
             tr("PDF (*.pdf);;HTML (*.html)"), [&](const QString& path) {
               return path.endsWith(QLatin1String(".html")) ? card_html(card) : card_pdf(card);
             });
}

}  // namespace bq::ui
