#include "ui/section/lift_page.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "edge/angle_checks.h"
#include "edge/clamp_jig.h"
#include "edge/strop_contact.h"
#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/parts/plain_table.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

/// Names over entries, side by side.
void put_row(QGridLayout* grid, const QStringList& names, std::initializer_list<QWidget*> boxes) {
  int column = 0;
  for (const auto& name : names) grid->addWidget(quiet_label(name), 0, column++);
  column = 0;
  for (auto* box : boxes) grid->addWidget(box, 1, column++);
}

}  // namespace
namespace {
const char* const kHoldersKey = "holders";
}

LiftPage::LiftPage(Workbench& workbench, SectionModel& model, QWidget* parent)
    : HelperPage(workbench, model, tr("Spine lift, holders, callipers, strop"),
                 tr("Fix the stone so that it cannot slip; the off hand stays behind the edge."),
                 parent),
      angle_(new NumberEntry),
      width_(new NumberEntry),
      spine_(new NumberEntry),
      spacer_(new NumberEntry),
      near_d_(new NumberEntry),
      near_t_(new NumberEntry),
      far_d_(new NumberEntry),
      far_t_(new NumberEntry),
      facet_(new NumberEntry),
      shoulder_(new NumberEntry),
      backing_(new QComboBox),
      pressure_(new QComboBox),
      result_(new QLabel),
      callipers_(new QLabel),
      from_facet_(new QLabel),
      strop_say_(new QLabel),
      holders_say_(quiet_label(QString())),
      holders_(new QTableWidget) {
  set_up_entries();
  lay_out_lift();
  lay_out_holders();
  lay_out_estimates();
  filling_ = true;
  near_d_->setValue(0.2);
  near_t_->setValue(0.1);
  far_d_->setValue(0.8);
  far_t_->setValue(0.4);
  spacer_->setValue(0.5);
  facet_->setValue(0.8);
  shoulder_->setValue(0.4);
  filling_ = false;
  connect(&model, &SectionModel::blade_changed, this, &LiftPage::take_blade);
  connect(&workbench, &Workbench::display_changed, this, &LiftPage::refresh);
  take_blade();
}

void LiftPage::set_up_entries() {
  const auto set_up = [&](NumberEntry* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, decimals, step, suffix, name);
    connect(box, &NumberEntry::valueChanged, this, [this] {
      if (!filling_) refresh();
    });
  };
  set_up(angle_, 1, 79, 1, 0.5, QStringLiteral("°"), tr("Angle wanted, per side"));
  angle_->set_edge_angle(AngleConvention::per_side);
  set_up(width_, 1, 300, 1, 1, tr(" mm"), tr("Apex to spine"));
  set_up(spine_, 0, 50, 2, 0.1, tr(" mm"), tr("Thickness of the spine"));
  set_up(spacer_, 0.05, 20, 2, 0.1, tr(" mm"), tr("Thickness of one spacer"));
  set_up(near_d_, 0, 100, 2, 0.1, tr(" mm"), tr("Near distance from the apex"));
  set_up(near_t_, 0, 50, 2, 0.01, tr(" mm"), tr("Thickness at the near distance"));
  set_up(far_d_, 0.01, 100, 2, 0.1, tr(" mm"), tr("Far distance from the apex"));
  set_up(far_t_, 0.01, 50, 2, 0.01, tr(" mm"), tr("Thickness at the far distance"));
  set_up(facet_, 0.01, 50, 2, 0.01, tr(" mm"), tr("Width of the facet along its face"));
  set_up(shoulder_, 0.01, 50, 2, 0.01, tr(" mm"), tr("Thickness at the facet's shoulder"));
  for (int i = 0; i < kStropBackings; ++i) backing_->addItem(shown(StropBacking(i)), i);
  for (int i = 0; i < kStropPressures; ++i) pressure_->addItem(shown(StropPressure(i)), i);
  backing_->setAccessibleName(tr("What the strop lies on"));
  pressure_->setAccessibleName(tr("Pressure on the strop"));
  for (QComboBox* box : {backing_, pressure_})
    connect(box, &QComboBox::currentIndexChanged, this, &LiftPage::refresh_estimates);
}

void LiftPage::lay_out_lift() {
  auto* lift = new QGridLayout;
  lift->setHorizontalSpacing(6);
  put_row(lift, {tr("angle, per side"), tr("apex to spine"), tr("spine thick"), tr("one spacer")},
          {angle_, width_, spine_, spacer_});
  column_->addLayout(lift);
  result_->setWordWrap(true);
  result_->setFont(font_of(15));
  column_->addWidget(result_);
}

void LiftPage::lay_out_holders() {
  column_->addWidget(heading(tr("Rolling and V holders")));
  holders_->setColumnCount(4);
  holders_->setHorizontalHeaderLabels({tr("holder"), tr("its angle"), tr("wedges"), tr("gives")});
  holders_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  for (int i : {1, 2, 3}) holders_->setColumnWidth(i, 84);
  holders_->setFixedHeight(124);
  make_plain(holders_, tr("Holders and wedges"));
  column_->addWidget(holders_);
  auto* foot = new QHBoxLayout;
  auto* add = new QPushButton(tr("Add holder"));
  auto* remove = new QPushButton(tr("Take out"));
  foot->addWidget(add);
  foot->addWidget(remove);
  foot->addStretch();
  column_->addLayout(foot);
  column_->addWidget(holders_say_);
  connect(add, &QPushButton::clicked, this, [this] {
    filling_ = true;
    const int at = holders_->rowCount();
    holders_->insertRow(at);
    const QString cells[] = {tr("holder %1").arg(at + 1), QStringLiteral("15"),
                             QStringLiteral("0")};
    for (int i = 0; i < 3; ++i) holders_->setItem(at, i, new QTableWidgetItem(cells[i]));
    filling_ = false;
    keep_holders();
  });
  connect(remove, &QPushButton::clicked, this, [this] {
    if (holders_->currentRow() < 0) return;
    holders_->removeRow(holders_->currentRow());
    keep_holders();
  });
  connect(holders_, &QTableWidget::itemChanged, this, [this](QTableWidgetItem* item) {
    if (!filling_ && item->column() < 3) keep_holders();
  });
}

void LiftPage::lay_out_estimates() {
  column_->addWidget(heading(tr("Angle from two thicknesses")));
  auto* two = new QGridLayout;
  two->setHorizontalSpacing(6);
  put_row(two, {tr("distance 1"), tr("thickness 1"), tr("distance 2"), tr("thickness 2")},
          {near_d_, near_t_, far_d_, far_t_});
  column_->addLayout(two);
  callipers_->setWordWrap(true);
  column_->addWidget(callipers_);
  column_->addWidget(heading(tr("Angle from one facet")));
  auto* one = new QGridLayout;
  one->setHorizontalSpacing(6);
  put_row(one, {tr("facet width"), tr("shoulder thick")}, {facet_, shoulder_});
  column_->addLayout(one);
  from_facet_->setWordWrap(true);
  column_->addWidget(from_facet_);
  column_->addWidget(heading(tr("A strop that gives")));
  auto* soft = new QGridLayout;
  soft->setHorizontalSpacing(6);
  put_row(soft, {tr("the strop"), tr("pressed with")}, {backing_, pressure_});
  column_->addLayout(soft);
  strop_say_->setWordWrap(true);
  column_->addWidget(strop_say_);
}

QString LiftPage::result() const { return result_->text(); }

void LiftPage::reload() { refresh_holders(); }

void LiftPage::take_blade() {
  filling_ = true;
  width_->setValue(model().study() ? model().study()->section.height_mm() : 24);
  spine_->setValue(model().plan().profile.empty() ? model().plan().stock_mm
                                                  : model().plan().profile.back().thickness_mm);
  if (!model().plan().grinds.empty()) angle_->setValue(model().plan().grinds.back().angle_deg);
  filling_ = false;
  refresh();
}

void LiftPage::refresh() {
  const auto gap = spine_lift_mm(width_->value(), spine_->value(), angle_->value());
  if (!gap) {
    result_->setText(tr("No: %1.").arg(QString::fromStdString(gap.refusal().reason)));
  } else {
    const auto spacers =
        spacers_for(width_->value(), spine_->value(), angle_->value(), spacer_->value());
    result_->setText(tr("Lay %1 mm under the spine's lower corner.").arg(*gap, 0, 'f', 2) +
                     (spacers ? tr(" %1 spacers make %2 mm and %3 %4.")
                                    .arg(spacers->pieces)
                                    .arg(spacers->gap_mm, 0, 'f', 2)
                                    .arg(angle_text(spacers->angle_deg, 2), convention_text())
                              : QString()));
  }
  const auto angle = angle_from_thicknesses(near_d_->value(), near_t_->value(), far_d_->value(),
                                            far_t_->value(), 0.01);
  callipers_->setText(
      angle
          ? tr("%1 ± %2 %3 (callipers that read 0.01 mm, a symmetric wedge between the two places)")
                .arg(angle_text(angle->angle_deg, 2), angle_text(angle->plus_minus_deg, 2),
                     convention_text())
          : tr("No: %1.").arg(QString::fromStdString(angle.refusal().reason)));
  refresh_estimates();
}

void LiftPage::refresh_estimates() {
  const auto facet = angle_from_facet(shoulder_->value(), facet_->value(), 0.01);
  from_facet_->setText(facet ? tr("%1 ± %2 %3 (a symmetric edge, callipers that read 0.01 mm)")
                                   .arg(angle_text(facet->angle_deg, 2),
                                        angle_text(facet->plus_minus_deg, 2), convention_text())
                             : tr("No: %1.").arg(QString::fromStdString(facet.refusal().reason)));
  const auto contact =
      strop_contact(StropBacking(backing_->currentData().toInt()),
                    StropPressure(pressure_->currentData().toInt()), angle_->value());
  if (!contact)
    return strop_say_->setText(tr("No: %1.").arg(QString::fromStdString(contact.refusal().reason)));
  QStringList lines{QString::fromStdString(contact->sentence)};
  for (const auto& remedy : contact->remedies)
    lines << QStringLiteral("• ") + QString::fromStdString(remedy) + '.';
  lines << tr("As many strokes on one side as on the other, the edge always trailing.");
  strop_say_->setText(lines.join('\n'));
}

void LiftPage::refresh_holders() {
  if (!workbench().has_project()) return;
  const QStringList lines = QString::fromStdString(workbench().session().kept(kHoldersKey))
                                .split('\n', Qt::SkipEmptyParts);
  filling_ = true;
  holders_->setRowCount(int(lines.size()));
  for (int row = 0; row < lines.size(); ++row) {
    const QStringList cells = lines[row].split('\t');
    for (int i = 0; i < 3; ++i) holders_->setItem(row, i, new QTableWidgetItem(cells.value(i)));
    HolderSetting setting;
    QString gives;
    const auto own = parse_number(cells.value(1).toStdString());
    bool good = own.ok();
    if (good) setting.holder_deg = *own;
    for (const QString& wedge : cells.value(2).split(' ', Qt::SkipEmptyParts)) {
      const auto value = parse_number(wedge.toStdString());
      if (value)
        setting.wedges_deg.push_back(*value);
      else
        good = false;
    }
    const auto angle = holder_angle_deg(setting);
    gives = !good ? tr("not a number") : angle ? angle_text(*angle) : tr("no edge");
    auto* item = new QTableWidgetItem(gives);
    item->setFlags(item->flags() & ~Qt::ItemIsEditable);
    item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    holders_->setItem(row, 3, item);
  }
  filling_ = false;
  holders_say_->setText(lines.isEmpty() ? tr("No holder yet. A holder has an angle of its own; "
                                             "wedges add to it or, with a minus sign, take away.")
                                        : tr("Wedges are added, blanks between them; −1 takes a "
                                             "degree away. Angles are per side."));
}

void LiftPage::keep_holders() {
  QStringList lines;
  for (int row = 0; row < holders_->rowCount(); ++row) {
    QStringList cells;
    for (int i = 0; i < 3; ++i)
      cells << (holders_->item(row, i) ? holders_->item(row, i)->text().simplified() : QString());
    lines << cells.join('\t');
  }
  workbench().edit([&](ProjectSession& session) {
    session.keep(kHoldersKey, lines.join('\n').toStdString(), "the table of holders");
  });
  refresh_holders();
}

}  // namespace bq::ui
