#include "ui/stones/stones_view.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "ui/stones/card_page.h"
#include "ui/stones/compare_page.h"
#include "ui/stones/key_page.h"
#include "ui/stones/ladder_drawing.h"
#include "ui/stones/plan_page.h"
#include "ui/stones/route_page.h"
#include "ui/stones/start_page.h"
#include "ui/stones/step_panel.h"
#include "ui/stones/stone_page.h"

namespace bq::ui {

StonesView::StonesView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(new StonesModel(workbench, this)),
      blades_(new QComboBox),
      facts_(quiet_label({})),
      ladder_(new LadderDrawing(workbench, *model_)),
      step_(new StepPanel(workbench, *model_)),
      pages_(new QStackedWidget),
      stone_(new StonePage(workbench, *model_)) {
  blades_->setAccessibleName(tr("Blade"));
  blades_->setMinimumWidth(180);
  blades_->setMaximumWidth(320);
  lay_out();
}

void StonesView::lay_out() {
  auto* head = new QHBoxLayout;
  head->setSpacing(10);
  head->addWidget(blades_);
  head->addWidget(facts_, 1);

  auto* route = new RoutePage(workbench_, *model_);
  pages_->addWidget(new PlanPage(workbench_, *model_));
  condition_ = new KeyPage(workbench_, *model_, KeyPage::Which::condition);
  pages_->addWidget(condition_);
  pages_->addWidget(new KeyPage(workbench_, *model_, KeyPage::Which::causes));
  pages_->addWidget(route);
  pages_->addWidget(new StartPage(workbench_, *model_));
  pages_->addWidget(new ComparePage(workbench_, *model_));
  pages_->addWidget(stone_);
  pages_->addWidget(new CardPage(workbench_, *model_));
  auto* tabs = new QGridLayout;
  tabs->setSpacing(3);
  tabs_ = make_tabs({tr("Ladder"), tr("On the edge?"), tr("Why dull?"), tr("Burr route"),
                     tr("Start gate"), tr("Compare"), tr("Stone"), tr("Card")},
                    [this](int i) { open_page(Page(i)); });
  for (int i = 0; i < int(tabs_.size()); ++i) tabs->addWidget(tabs_[std::size_t(i)], i / 4, i % 4);
  auto* right_column = new QWidget;
  right_column->setFixedWidth(436);
  auto* right = new QVBoxLayout(right_column);
  right->setContentsMargins(0, 0, 0, 0);
  right->setSpacing(8);
  right->addLayout(tabs);
  right->addWidget(pages_, 1);
  auto* left = new QVBoxLayout;
  left->setSpacing(10);
  left->addWidget(ladder_, 4);
  left->addWidget(step_, 7);
  auto* body = new QHBoxLayout;
  body->setSpacing(16);
  body->addLayout(left, 1);
  body->addWidget(right_column);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 16, 12);
  layout->setSpacing(10);
  layout->addLayout(head);
  layout->addLayout(body, 1);
  setFocusProxy(step_);

  connect(blades_, &QComboBox::activated, this, [this](int index) { model_->choose_blade(index); });
  connect(ladder_, &LadderDrawing::stone_chosen, this, [this](const QString& name) {
    stone_->choose(name);
    open_page(Page::stone);
  });
  connect(condition_, &KeyPage::pictures_wanted, this, &StonesView::pictures_wanted);
  connect(condition_, &KeyPage::lens_wanted, this, &StonesView::lens_wanted);
  connect(route, &RoutePage::look_wanted, this, [this] { open_page(Page::condition); });
  connect(model_, &StonesModel::finished, this, [this] { open_page(Page::card); });
  connect(model_, &StonesModel::plan_changed, this, [this] {
    if (isVisible()) refresh_head();
  });
  refresh_head();
  open_page(Page::plan);
}

QWidget* StonesView::page() const { return pages_->currentWidget(); }

void StonesView::open_page(Page page) {
  pages_->setCurrentIndex(int(page));
  tabs_[std::size_t(page)]->setChecked(true);
  if (page == Page::condition || page == Page::causes) pages_->currentWidget()->setFocus();
}

void StonesView::show_stone(const QString& name) {
  stone_->choose(name);
  open_page(Page::stone);
}

void StonesView::open_key(int blade, const Observations& seen, std::optional<double> at_mm) {
  choose_blade(blade);
  open_page(Page::condition);
  condition_->take_over(seen, at_mm);
}

void StonesView::refresh_head() {
  const auto& blades = workbench_.trial().blades;
  blades_->clear();
  for (const auto& blade : blades) {
    const QString name = QString::fromStdString(blade.name);
    const bool in_hand = !workbench_.session().kept(sharpening_key(blade)).empty();
    blades_->addItem(in_hand         ? tr("%1 (in hand)").arg(name)
                     : blade.retired ? tr("%1 (retired)").arg(name)
                                     : name);
  }
  blades_->setCurrentIndex(model_->blade());
  blades_->setToolTip(blades_->currentText());
  const Blade* blade = model_->blade_facts();
  if (!blade) return facts_->clear();
  QString text = blade->steel.empty() ? tr("steel not said") : QString::fromStdString(blade->steel);
  for (auto record = blade->records.rbegin(); record != blade->records.rend(); ++record)
    if (const auto* sharpening = std::get_if<SharpeningRecord>(&record->data)) {
      text += tr(", last %1 (%2)")
                  .arg(QString::fromStdString(describe(sharpening->sharpening)),
                       QString::fromStdString(record->made_at.substr(0, 10)));
      break;
    }
  facts_->setText(text);
}

void StonesView::keyPressEvent(QKeyEvent* event) {
  if (!step_->take_key(event)) QWidget::keyPressEvent(event);
}

void StonesView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh_head();
}

void StonesView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  model_->keep_now();  // another station, or the window is closed
}

}  // namespace bq::ui
