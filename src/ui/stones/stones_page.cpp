#include "ui/stones/stones_page.h"

#include "ui/theme/theme.h"

namespace bq::ui {

StonesPage::StonesPage(Workbench& workbench, StonesModel& model, const QString& title,
                       QWidget* parent)
    : QWidget(parent), column_(scrolled_column(this, title)), workbench_(workbench), model_(model) {
  const auto reload_if_seen = [this] {
    if (isVisible()) reload();
  };
  connect(&model_, &StonesModel::plan_changed, this, reload_if_seen);
  connect(&workbench_, &Workbench::display_changed, this, reload_if_seen);
}

void StonesPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  reload();
}

}  // namespace bq::ui
