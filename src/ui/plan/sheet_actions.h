#pragma once

#include <QString>

#include "ui/plan/plan_model.h"

class QWidget;

namespace bq::ui {

/// Asks for a file and writes bytes to it, whole or not at all; says so through the workbench.
void save_bytes(QWidget* parent, Workbench& workbench, const QString& title,
                const QString& suggestion, const QString& filter,
                const std::function<std::string(const QString& path)>& bytes);

/// Writes the sheet as PDF or CSV (blind plans: the key into a file of its own beside it). Returns
/// what was written, "" when refused.
QString write_sheet(const QString& path, const TrialPlan& plan, const RunSheet& sheet);
QString write_claim_sheet(const QString& path, const ClaimTest& test);

}  // namespace bq::ui
