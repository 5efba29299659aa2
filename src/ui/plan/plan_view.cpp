#include "ui/plan/plan_view.h"
#include "report/sheet_page.h"
#include "ui/frame/print_preview.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "ui/plan/claim_page.h"
#include "ui/plan/cost_panel.h"
#include "ui/plan/design_field.h"
#include "ui/plan/design_panel.h"
#include "ui/plan/expect_panel.h"
#include "ui/plan/factor_panel.h"
#include "ui/plan/power_panel.h"
#include "ui/plan/sheet_actions.h"
#include "ui/plan/sheet_strip.h"

namespace bq::ui {

PlanView::PlanView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(new PlanModel(workbench, this)),
      plans_(new QComboBox),
      name_(new QLineEdit),
      new_(new QPushButton(tr("New plan"))),
      copy_(new QPushButton(tr("Copy plan"))),
      remove_(new QPushButton(tr("Remove plan"))),
      issue_(new QPushButton(tr("Put on the bench"))),
      sheet_(new QPushButton(tr("Save sheet …"))),
      print_(new QPushButton(tr("Print …"))),
      extend_(new QPushButton(tr("Extend …"))),
      pages_(new QStackedWidget),
      panels_(new QStackedWidget),
      remarks_(quiet_label({})),
      caution_(new QLabel),
      field_(new DesignField(workbench, *model_)),
      power_(new PowerPanel(workbench, *model_, this)),
      claims_(new ClaimPage(workbench, *model_)) {
  plans_->setAccessibleName(tr("Plan"));
  plans_->setMinimumWidth(220);
  plans_->setMaximumWidth(320);
  name_->setAccessibleName(tr("Name of the plan"));
  name_->setMaximumWidth(320);
  listen();
}

void PlanView::listen() {
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  page_tabs_ =
      make_tabs({tr("Plan a trial"), tr("Settle a claim")}, [this](int i) { open_page(Page(i)); });
  for (auto* tab : page_tabs_) head->addWidget(tab);
  head->addSpacing(14);
  head->addWidget(plans_);
  head->addWidget(name_, 1);
  head->addWidget(new_);
  head->addWidget(copy_);
  head->addWidget(remove_);
  head->addStretch(1);
  copy_->setObjectName(QStringLiteral("flat"));
  remove_->setObjectName(QStringLiteral("flat"));
  pages_->addWidget(make_trial_page());
  pages_->addWidget(claims_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 16, 10);
  layout->setSpacing(10);
  layout->addLayout(head);
  layout->addWidget(pages_, 1);

  connect(plans_, &QComboBox::activated, this, [this](int index) { model_->choose(index); });
  connect(name_, &QLineEdit::editingFinished, this, [this] {
    const QString text = name_->text().trimmed();
    if (!model_->plan() || text.isEmpty()) return refresh();
    TrialPlan plan = *model_->plan();
    plan.name = text.toStdString();
    model_->change(plan, tr("the name of the plan"));
  });
  connect(new_, &QPushButton::clicked, model_, &PlanModel::add_plan);
  connect(copy_, &QPushButton::clicked, model_, &PlanModel::copy_plan);
  connect(remove_, &QPushButton::clicked, model_, &PlanModel::remove_plan);
  connect(issue_, &QPushButton::clicked, model_, &PlanModel::issue);
  connect(sheet_, &QPushButton::clicked, this, &PlanView::save_sheet);
  connect(print_, &QPushButton::clicked, this, &PlanView::print_sheet);
  connect(extend_, &QPushButton::clicked, this, &PlanView::extend);
  connect(model_, &PlanModel::book_changed, this, &PlanView::refresh);
  connect(model_, &PlanModel::study_changed, this, &PlanView::refresh);
  connect(model_, &PlanModel::rehearsal_changed, this, &PlanView::refresh);
  open_panel(Panel::factors);
  open_page(Page::trial);
  refresh();
}

QWidget* PlanView::make_left() {
  auto* left = new QWidget;
  auto* column = new QVBoxLayout(left);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* tabs = new QHBoxLayout;
  tabs->setSpacing(3);
  panel_tabs_ = make_tabs({tr("Factors"), tr("Design"), tr("Work"), tr("Expect")},
                          [this](int i) { open_panel(Panel(i)); });
  for (auto* tab : panel_tabs_) tabs->addWidget(tab, 1);
  // Tabs of one parent exclude each other: these have a parent of their own.
  panels_->addWidget(new FactorPanel(workbench_, *model_));
  panels_->addWidget(new DesignPanel(workbench_, *model_));
  panels_->addWidget(new WorkPanel(workbench_, *model_));
  panels_->addWidget(new ExpectPanel(workbench_, *model_));
  column->addLayout(tabs);
  column->addWidget(panels_, 1);
  return left;
}

QWidget* PlanView::make_bottom() {
  auto* bottom = new QWidget;
  auto* column = new QVBoxLayout(bottom);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* row = new QHBoxLayout;
  row->addWidget(heading(tr("Run sheet")));
  row->addSpacing(10);
  caution_->setText(
      tr("Glove on the off hand at the bench, none at belts and wheels; eye protection; take the "
         "rests. Workplace rules come first."));
  caution_->setObjectName(QStringLiteral("quiet"));
  caution_->setWordWrap(true);
  row->addWidget(caution_, 1);
  row->addWidget(extend_);
  row->addWidget(sheet_);
  row->addWidget(print_);
  row->addWidget(issue_);
  column->addLayout(row);
  auto* scroll = new QScrollArea;
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setWidgetResizable(true);
  scroll->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setWidget(new SheetStrip(workbench_, *model_));
  scroll->setFixedHeight(126);
  scroll->setAccessibleName(tr("Run sheet, in running order"));
  column->addWidget(scroll);
  return bottom;
}

QWidget* PlanView::make_trial_page() {
  left_ = make_left();
  bottom_ = make_bottom();
  auto* centre = new QWidget;
  auto* middle = new QVBoxLayout(centre);
  middle->setContentsMargins(0, 0, 0, 0);
  middle->setSpacing(8);
  middle->addWidget(field_, 1);
  middle->addWidget(remarks_);
  middle->addWidget(new CostPanel(workbench_, *model_, this));
  auto* top = new QHBoxLayout;
  top->setSpacing(18);
  top->addWidget(left_);
  top->addWidget(scrolled(centre), 1);  // a low window scrolls instead of squeezing
  auto* work = new QVBoxLayout;
  work->setSpacing(8);
  work->addLayout(top, 1);
  work->addWidget(bottom_);
  auto* page = new QWidget;
  auto* all = new QHBoxLayout(page);
  all->setContentsMargins(0, 0, 0, 0);
  all->setSpacing(18);
  all->addLayout(work, 1);
  all->addWidget(power_);
  return page;
}

void PlanView::open_page(Page page) {
  pages_->setCurrentIndex(int(page));
  page_tabs_[std::size_t(page)]->setChecked(true);
  refresh();
}

void PlanView::open_panel(Panel panel) {
  panels_->setCurrentIndex(int(panel));
  panel_tabs_[std::size_t(panel)]->setChecked(true);
}

QString PlanView::remarks() const { return remarks_->text(); }

void PlanView::refresh() {
  const bool trial = pages_->currentIndex() == int(Page::trial);
  const TrialPlan* plan = model_->plan();
  plans_->clear();
  for (const auto& entry : model_->book().plans)
    plans_->addItem(entry.issued.empty()
                        ? QString::fromStdString(entry.plan.name)
                        : tr("%1 (on the bench)").arg(QString::fromStdString(entry.plan.name)));
  plans_->setCurrentIndex(model_->current());
  plans_->setToolTip(plans_->currentText());
  plans_->setVisible(trial && model_->book().plans.size() > 1);
  name_->setVisible(trial && plan);
  if (plan && !name_->hasFocus()) {
    name_->setText(QString::fromStdString(plan->name));
    name_->setCursorPosition(0);
  }
  name_->setToolTip(name_->text());
  name_->setReadOnly(!workbench_.writable());
  for (QPushButton* button : {new_, copy_, remove_})
    button->setVisible(trial && (button == new_ || plan));
  new_->setEnabled(workbench_.writable());
  // With no plan there is one thing to do.
  name_look(new_, plan ? "flat" : "primary");
  copy_->setEnabled(workbench_.writable());
  remove_->setEnabled(workbench_.writable());
  left_->setVisible(plan);
  bottom_->setVisible(plan);
  const PlanStudy* study = model_->study();
  const bool good = plan && study && model_->up_to_date() && study->refusal.empty();
  const std::size_t issued = model_->entry() ? model_->entry()->issued.size() : 0;
  const std::size_t waiting =
      good && study->sheet.runs.size() > issued ? study->sheet.runs.size() - issued : 0;
  issue_->setEnabled(good && workbench_.writable() && waiting > 0);
  issue_->setText(issued == 0 ? tr("Put on the bench")
                  : waiting   ? tr("Put %1 more on the bench").arg(waiting)
                              : tr("On the bench"));
  const bool rehearsed = model_->rehearsal() && !model_->rehearsal()->stopped();
  name_look(issue_, issue_->isEnabled() && rehearsed && !model_->rehearsing() ? "primary" : "");
  sheet_->setEnabled(good);
  print_->setEnabled(good);
  extend_->setVisible(issued > 0);
  extend_->setEnabled(good && workbench_.writable() && waiting == 0);
  QStringList remarks;
  bool refusal = false;
  if (study && plan) {
    if (!study->refusal.empty()) {
      remarks << tr("No sheet yet: %1.").arg(QString::fromStdString(study->refusal));
      refusal = true;
    } else if (study->design) {
      std::size_t shown = 0;
      for (const auto& c : study->sheet.confounded)
        if (shown++ < 3) remarks << QString::fromStdString(c.sentence);
      if (study->sheet.confounded.size() > 3)
        remarks << tr("%1 more pairs are mixed.").arg(study->sheet.confounded.size() - 3);
      for (const auto* list : {&study->design->warnings, &study->sheet.notes})
        for (const auto& sentence : *list)
          remarks << QString::fromStdString(sentence.back() == '.' ? sentence : sentence + ".");
      if (remarks.isEmpty() && study->design->balance.empty())
        remarks << tr("Every level is run equally often and nothing is mixed.");
      else
        for (const auto& sentence : study->design->balance)
          remarks << QString::fromStdString(sentence) + QLatin1Char('.');
    }
  }
  for (QString& sentence : remarks)
    if (!sentence.isEmpty()) sentence[0] = sentence[0].toUpper();
  remarks_->setText(remarks.join(QLatin1Char(' ')));
  remarks_->setVisible(!remarks.isEmpty());
  remarks_->setFont(font_of(kBody, refusal));
}

void PlanView::save_sheet() {
  if (!model_->up_to_date()) return;
  const PlanStudy& study = *model_->study();
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Save the run sheet"), QStringLiteral("run-sheet.pdf"),
                                   tr("PDF, one page a day (*.pdf);;Table (*.csv)"));
  if (path.isEmpty()) return;
  const QString written = write_sheet(path, study.plan, study.sheet);
  if (written.isEmpty())
    emit workbench_.refused(tr("%1 could not be written. Nothing was changed.").arg(path));
  else
    emit workbench_.told(tr("The run sheet was written to %1.").arg(written));
}

void PlanView::print_sheet() {
  if (!model_->up_to_date()) return;
  const PlanStudy& study = *model_->study();
  preview_print(this, tr("the run sheet"), QPageSize::A4,
                [document = sheet_document(study.plan, study.sheet)](double dots) {
                  return sheet_pages(document, dots);
                });
}

void PlanView::extend() {
  bool good = false;
  const int runs =
      QInputDialog::getInt(this, tr("Extend the plan"),
                           tr("How many more runs? They come after those of the sheet, in blocks "
                              "of their own, and are chosen to tell most."),
                           4, 1, 200, 1, &good);
  if (good) model_->extend(runs);
}

void PlanView::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  // A narrow window takes it from the sides; the field needs its columns.
  const bool narrow = width() < 1050;
  left_->setFixedWidth(narrow ? 268 : 306);
  power_->setFixedWidth(narrow ? 286 : 326);
}

void PlanView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  model_->keep_now();  // another station, or the window is closed
}

}  // namespace bq::ui
