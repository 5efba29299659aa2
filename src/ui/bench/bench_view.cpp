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
#include "ui/frame/aloud.h"

namespace bq::ui {

BenchView::BenchView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(new BenchModel(workbench, this)),
      trial_(new TrialPage(workbench, *model_)),
      stack_(new QStackedWidget) {
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
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 10, 20, 8);
  layout->setSpacing(8);
  layout->addLayout(tabs);
  layout->addWidget(stack_, 1);
  setFocusProxy(trial_);
  connect(trial_, &TrialPage::full_screen_left, this, &BenchView::full_screen_left);
  auto* aloud = new Aloud(this);
  connect(model_, &BenchModel::said, aloud, &Aloud::tell);
  connect(&workbench_, &Workbench::refused, aloud,
          [aloud](const QString& sentence) { aloud->tell(sentence, true); });
  connect(model_, &BenchModel::changed, aloud, [this, aloud] {
    if (stack_->currentWidget() == trial_) aloud->instruct(trial_->instruction());
  });
  open_page(Page::trial);
}

void BenchView::open_page(Page which) {
  QWidget* opened = page(which);
  stack_->setCurrentWidget(opened);
  tabs_[std::size_t(which)]->setChecked(true);
  setFocusProxy(opened);
  opened->setFocus();
}

QWidget* BenchView::page(Page which) {
  QWidget*& page = pages_[std::size_t(which)];
  if (!page) {
    page = make(which);
    stack_->addWidget(page);
  }
  return page;
}

QWidget* BenchView::make(Page which) {
  switch (which) {
    case Page::trial:
      return trial_;
    case Page::search:
      return new SearchPage(workbench_, *model_);
    case Page::steadiness:
      return new SteadinessPage(workbench_, *model_);
    case Page::gauge:
      return new GaugeChecksPage(workbench_, *model_);
    case Page::instruments:
      return new InstrumentsPage(workbench_, *model_);
    case Page::protocol:
      return new ProtocolPage(workbench_, *model_);
  }
  return nullptr;
}

void BenchView::keyPressEvent(QKeyEvent* event) {
  if (stack_->currentWidget() == trial_)
    trial_->take_key(event);
  else if (event->key() == Qt::Key_Escape)
    open_page(Page::trial);
  else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
