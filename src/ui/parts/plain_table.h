#pragma once

#include <QHeaderView>
#include <QTableView>

namespace bq::ui {

/// A table as all here look: no grid, no head beside its rows; Tab goes past its cells. `name`:
/// what a screen reader says.
inline void make_plain(QTableView* table, const QString& name) {
  table->verticalHeader()->hide();
  table->setShowGrid(false);
  table->setTabKeyNavigation(false);
  table->setAccessibleName(name);
}

}  // namespace bq::ui
