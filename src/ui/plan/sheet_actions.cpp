#include "ui/plan/sheet_actions.h"

#include <QFileDialog>

#include "report/sheet_page.h"
#include "report/sheet_table.h"
#include "ui/parts/save_file.h"

namespace bq::ui {
namespace {

QString key_path(const QString& path) {
  return path.left(path.size() - 4) + QStringLiteral("-key.csv");
}

QString write_pair(const QString& path, const std::string& table, const std::string& key) {
  if (!key.empty() && !write_whole(key_path(path), key)) return {};
  if (!write_whole(path, table)) return {};
  return key.empty() ? path : PlanModel::tr("%1, and the sealed key %2").arg(path, key_path(path));
}

}  // namespace

void save_bytes(QWidget* parent, Workbench& workbench, const QString& title,
                const QString& suggestion, const QString& filter,
                const std::function<std::string(const QString& path)>& bytes) {
  const QString path = QFileDialog::getSaveFileName(parent, title, suggestion, filter);
  if (path.isEmpty()) return;
  if (write_whole(path, bytes(path)))
    emit workbench.told(PlanModel::tr("Written to %1.").arg(path));
  else
    emit workbench.refused(
        PlanModel::tr("%1 could not be written. Nothing was changed.").arg(path));
}

QString write_sheet(const QString& path, const TrialPlan& plan, const RunSheet& sheet) {
  if (path.endsWith(QLatin1String(".csv")))
    return write_pair(path, sheet_csv(plan, sheet),
                      plan.blind ? sheet_key_csv(plan, sheet) : std::string());
  return write_whole(path, sheet_pdf(sheet_document(plan, sheet))) ? path : QString();
}

QString write_claim_sheet(const QString& path, const ClaimTest& test) {
  if (path.endsWith(QLatin1String(".csv")))
    return write_pair(path, claim_csv(test), claim_key_csv(test));
  return write_whole(path, sheet_pdf(claim_document(test))) ? path : QString();
}

}  // namespace bq::ui
