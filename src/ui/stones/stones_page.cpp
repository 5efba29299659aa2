#include "ui/stones/stones_page.h"

#include <QScrollArea>
#include <QVBoxLayout>

#include "ui/theme/theme.h"

namespace bq::ui {

StonesPage::StonesPage(Workbench& workbench, StonesModel& model, const QString& title, QWidget* parent)
    : QWidget(parent), column_(nullptr), workbench_(workbench), model_(model) {
  auto* inside = new QWidget;
  column_ = new QVBoxLayout(inside);
  column_->setContentsMargins(0, 0, 6, 0);
  column_->setSpacing(8);
  auto* scroll = scrolled(inside);
  scroll->setFocusPolicy(Qt::NoFocus);
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(0, 0, 0, 0);
  whole->addWidget(scroll);
  column_->addWidget(heading(title));
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
