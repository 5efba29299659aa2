#include "ui/bench/bench_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "ui/bench/bench_model.h"
#include "ui/bench/gauge_page.h"
#include "ui/bench/instruments_page.h"
#include "ui/bench/protocol_page.h"
#include "ui/bench/search_page.h"
#include "ui/bench/steadiness_page.h"

namespace bq::ui {

BenchView::BenchView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      model_(new BenchModel(workbench, this)),
      trial_(new TrialPage(workbench, *model_)),
      pages_(new QStackedWidget) {
  auto* tabs = new QHBoxLayout;
  tabs->setSpacing(3);
  tabs_ = make_tabs({tr("Trial"), tr("Damage search"), tr("Steadiness"), tr("Gauge checks"),
                     tr("Instruments"), tr("Protocol")},
                    [this](int i) { open_page(Page(i)); });
  for (auto* tab : tabs_) {
    tab->setFocusPolicy(Qt::TabFocus);
    tabs->addWidget(tab);
  }
  tabs->addStretch();
  pages_->addWidget(trial_);
  pages_->addWidget(new SearchPage(workbench, *model_));
  pages_->addWidget(new SteadinessPage(workbench, *model_));
  pages_->addWidget(new GaugeChecksPage(workbench, *model_));
  pages_->addWidget(new InstrumentsPage(workbench, *model_));
  pages_->addWidget(new ProtocolPage(workbench, *model_));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 10, 20, 8);
  layout->setSpacing(8);
  layout->addLayout(tabs);
  layout->addWidget(pages_, 1);
  setFocusProxy(trial_);
  connect(trial_, &TrialPage::full_screen_left, this, &BenchView::full_screen_left);
  open_page(Page::trial);
}

void BenchView::open_page(Page page) {
  pages_->setCurrentIndex(int(page));
  tabs_[std::size_t(page)]->setChecked(true);
  setFocusProxy(pages_->currentWidget());
  pages_->currentWidget()->setFocus();
}

QWidget* BenchView::page(Page page) const { return pages_->widget(int(page)); }

void BenchView::keyPressEvent(QKeyEvent* event) {
  if (pages_->currentWidget() == trial_)
    trial_->take_key(event);
  else if (event->key() == Qt::Key_Escape)
    open_page(Page::trial);
  else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
