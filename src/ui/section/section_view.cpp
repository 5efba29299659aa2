#include "ui/section/section_view.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/section/gauge_page.h"
#include "ui/section/grind_list.h"
#include "ui/section/jig_page.h"
#include "ui/section/lens_scale.h"
#include "ui/section/lift_page.h"
#include "ui/section/marker_page.h"
#include "ui/section/outcomes_panel.h"
#include "ui/section/section_drawing.h"
#include "ui/section/wear_page.h"

namespace bq::ui {

SectionView::SectionView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(new SectionModel(workbench, this)),
      blades_(new QComboBox),
      compare_(new QComboBox),
      state_(new QLabel),
      caution_(new QWidget),
      side_by_side_(new QPushButton(tr("Side by side"))),
      revert_(new QPushButton(tr("Back to as it is"))),
      adopt_(new QPushButton(tr("It is ground like this"))),
      lens_(new LensScale),
      drawing_(new SectionDrawing(workbench, *model_)),
      grinds_(new GrindList(workbench, *model_)),
      outcomes_(new OutcomesPanel(workbench, *model_)),
      pages_(new QStackedWidget) {
  auto* body = new QHBoxLayout;
  body->setSpacing(12);
  body->addWidget(lens_);
  auto* middle = new QVBoxLayout;
  middle->setSpacing(8);
  middle->addWidget(drawing_, 1);
  lay_out_caution();
  middle->addWidget(caution_);
  body->addLayout(middle, 1);
  body->addWidget(make_right());
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 16, 12);
  layout->setSpacing(10);
  layout->addLayout(make_head());
  layout->addLayout(body, 1);
  setFocusProxy(drawing_);
  listen();
  refresh_blades();
  refresh_state();
  refresh_rests();
  look_at_bevel();
  open_page(Page::outcomes);
}

QLayout* SectionView::make_head() {
  blades_->setAccessibleName(tr("Blade"));
  blades_->setMinimumWidth(180);
  blades_->setMaximumWidth(320);
  compare_->setAccessibleName(tr("Compare with"));
  compare_->setMaximumWidth(240);
  side_by_side_->setCheckable(true);
  state_->setWordWrap(true);
  adopt_->setObjectName(QStringLiteral("primary"));
  adopt_->setToolTip(tr("The section becomes this blade's; angles measured before become history"));
  auto* head = new QHBoxLayout;
  head->setSpacing(8);
  head->addWidget(blades_);
  head->addWidget(quiet_label(tr("against")));
  head->addWidget(compare_);
  head->addWidget(side_by_side_);
  head->addWidget(state_, 1);
  head->addWidget(revert_);
  head->addWidget(adopt_);
  return head;
}

QWidget* SectionView::make_right() {
  pages_->addWidget(outcomes_);
  pages_->addWidget(new MarkerPage(workbench_, *model_));
  pages_->addWidget(new GaugePage(workbench_, *model_));
  pages_->addWidget(new JigPage(workbench_, *model_));
  pages_->addWidget(new LiftPage(workbench_, *model_));
  pages_->addWidget(new WearPage(workbench_, *model_));
  auto* tabs = new QHBoxLayout;
  tabs->setSpacing(3);
  tabs_ =
      make_tabs({tr("Outcomes"), tr("Marker"), tr("Gauge"), tr("Clamp"), tr("Lift"), tr("Wear")},
                [this](int i) { open_page(Page(i)); });
  for (auto* tab : tabs_) tabs->addWidget(tab);
  auto* right = new QVBoxLayout;
  right->setSpacing(8);
  right->addWidget(grinds_, 5);
  right->addLayout(tabs);
  right->addWidget(pages_, 6);
  auto* right_column = new QWidget;
  right_column->setLayout(right);
  right->setContentsMargins(0, 0, 0, 0);
  right_column->setFixedWidth(std::max(436, outcomes_->minimumWidth()));
  return right_column;
}

void SectionView::lay_out_caution() {
  auto* caution = new QHBoxLayout(caution_);
  caution->setContentsMargins(0, 0, 0, 0);
  auto* caution_text =
      new QLabel(tr("Before this is ground: eye protection; at belts and wheels no gloves, loose "
                    "sleeves or hanging hair; on buffers and "
                    "strops the edge trails; cool often, an edge that turned blue is soft; mind "
                    "the dust. Local rules and trained people come first."));
  caution_text->setObjectName(QStringLiteral("caution"));
  caution_text->setWordWrap(true);
  auto* seen = new QPushButton(tr("Seen"));
  caution->addWidget(caution_text, 1);
  caution->addWidget(seen, 0, Qt::AlignTop);
  caution_->hide();
  connect(seen, &QPushButton::clicked, this, [this] {
    caution_seen_ = true;
    caution_->hide();
  });
}

void SectionView::listen() {
  connect(lens_, &LensScale::lens_moved, drawing_, &SectionDrawing::set_lens);
  connect(drawing_, &SectionDrawing::lens_changed, lens_, &LensScale::set_lens);
  connect(blades_, &QComboBox::activated, this, [this](int index) { model_->choose_blade(index); });
  connect(compare_, &QComboBox::activated, this, [this](int index) {
    const int blade = compare_->itemData(index).toInt();
    if (index == 0)
      model_->set_compare(CompareWith::as_it_is);
    else if (index == 1)
      model_->set_compare(CompareWith::blank);
    else
      model_->set_compare(CompareWith::other_blade, blade);
  });
  connect(side_by_side_, &QPushButton::toggled, drawing_, &SectionDrawing::set_side_by_side);
  connect(revert_, &QPushButton::clicked, model_, &SectionModel::revert);
  connect(adopt_, &QPushButton::clicked, model_, &SectionModel::adopt);
  connect(model_, &SectionModel::blade_changed, this, [this] {
    caution_seen_ = false;  // another blade is another act
    refresh_blades();
    refresh_rests();
    // Every blade is first seen at its bevel.
    look_at_bevel();
  });
  connect(model_, &SectionModel::study_changed, this, [this] {
    refresh_state();
    refresh_rests();
  });
  connect(&workbench_, &Workbench::changed, this, &SectionView::refresh_blades);
}

void SectionView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  model_->keep_now();  // another station, or the window is closed
}

void SectionView::look_at_bevel() {
  if (!model_->study() || !model_->study()->behind) return;
  drawing_->set_lens(std::clamp(model_->study()->behind->distance_mm * 1.6, 0.05, 40.0));
}

QWidget* SectionView::page() const { return pages_->currentWidget(); }

void SectionView::open_page(Page page) {
  pages_->setCurrentIndex(int(page));
  tabs_[std::size_t(page)]->setChecked(true);
  // A helper takes the room of the list of grinds too; the drawing stays as it is.
  grinds_->setVisible(page == Page::outcomes);
  if (page != Page::outcomes) pages_->currentWidget()->setFocus();
}

void SectionView::refresh_blades() {
  const auto& blades = workbench_.trial().blades;
  blades_->clear();
  compare_->clear();
  compare_->addItem(tr("as it is"));
  compare_->addItem(tr("the blank"));
  for (std::size_t i = 0; i < blades.size(); ++i) {
    const QString name = QString::fromStdString(blades[i].name);
    blades_->addItem(blades[i].retired ? tr("%1 (retired)").arg(name) : name);
    if (int(i) != model_->blade() && edge_now(blades[i]).section) compare_->addItem(name, int(i));
  }
  blades_->setCurrentIndex(model_->blade());
  blades_->setToolTip(blades_->currentText());
  if (model_->compare() == CompareWith::blank) compare_->setCurrentIndex(1);
  if (model_->compare() == CompareWith::other_blade)
    compare_->setCurrentIndex(compare_->findData(model_->other_blade()));
  compare_->setToolTip(compare_->currentText());
}

void SectionView::refresh_state() {
  const bool any = model_->blade() >= 0;
  const bool changed = any && model_->changed();
  state_->setText(!any                           ? QString()
                  : !model_->refusal().isEmpty() ? QString()
                  : changed
                      ? (model_->edge().section ? tr("planned, not ground yet")
                                                : tr("no section is on record for this blade"))
                      : tr("on record as ground"));
  revert_->setVisible(changed && model_->edge().section);
  adopt_->setVisible(changed);
  caution_->setVisible(changed && model_->edge().section && !caution_seen_ &&
                       !drawing_->dragging());  // nothing moves under the hand
  adopt_->setEnabled(workbench_.writable() && model_->refusal().isEmpty());
}

void SectionView::refresh_rests() {
  std::vector<LensScale::Rest> rests;
  if (const SectionStudy* study = model_->study()) {
    rests.push_back({tr("blade"),
                     std::min(study->section.height_mm() * 1.12, SectionDrawing::kLargestLens_mm)});
    double micro = 0;
    for (const auto& faces : edge_faces(study->section, model_->plan().grinds))
      if (faces.micro) micro = std::max(micro, faces.micro->to_um / 1000);
    const double bevel = study->behind ? study->behind->distance_mm : 0;
    if (bevel > 0 && bevel < 0.9 * study->section.height_mm())
      rests.push_back({tr("bevel"), bevel * 1.5});
    if (micro > 0 && micro < 0.7 * bevel) rests.push_back({tr("micro-bevel"), micro * 2});
    const double apex = study->section.apex_width_mm();
    rests.push_back(
        {tr("apex"), std::clamp(apex > 0 ? apex * 6 : 0.002, SectionDrawing::kLeastLens_mm, 1.0)});
  }
  lens_->set_rests(std::move(rests));
}

}  // namespace bq::ui
