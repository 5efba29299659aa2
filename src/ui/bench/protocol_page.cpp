#include "ui/bench/protocol_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include "store/bench_json.h"
#include "ui/frame/origin_line.h"
#include "ui/parts/number_field.h"
#include "ui/theme/theme.h"

namespace bq::ui {

ProtocolPage::ProtocolPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      prepare_(new QCheckBox(tr("ask that the edge was sharpened and its angle looked at"))),
      gate_(new QCheckBox(tr("hold a start outside its control limits"))),
      clean_(new QCheckBox(tr("clean the edge before every checkpoint"))),
      look_(new QCheckBox(tr("look for damage after every checkpoint"))),
      sound_(new QCheckBox(tr("a tone at every beat"))),
      at_threshold_(new QCheckBox(tr("ask to stop past the threshold"))),
      on_damage_(new QCheckBox(tr("ask to stop at damage"))),
      count_(new QComboBox),
      check_unit_(new QComboBox),
      pace_(new NumberEntry),
      stroke_(new NumberEntry),
      rest_after_(new NumberEntry),
      rest_(new NumberEntry),
      most_(new NumberEntry),
      nominal_(new NumberEntry),
      limit_(new NumberEntry),
      debounce_(new NumberEntry),
      stations_(new QLineEdit),
      rate_(new QLineEdit),
      lot_(new QLineEdit),
      batch_(new QLineEdit),
      said_(quiet_label({})),
      origin_(quiet_label({})) {
  count_->addItems({tr("the whole block with one press"), tr("every cut with one press")});
  count_->setAccessibleName(tr("Counting"));
  check_unit_->addItems(
      {QStringLiteral("gf"), QStringLiteral("N"), QStringLiteral("lbf"), QStringLiteral("ozf")});
  check_unit_->setAccessibleName(tr("Unit of the check weight"));
  set_up_number(pace_, 0, 600, 1, 0.5, tr(" s a cut"), tr("Pace"));
  pace_->setSpecialValueText(tr("none"));
  set_up_number(stroke_, 0, 10000, 0, 10, tr(" mm"), tr("Length of a stroke"));
  stroke_->setSpecialValueText(tr("not said"));
  set_up_number(rest_after_, 0, 600, 0, 5, tr(" min of cutting"), tr("Rest after"));
  rest_after_->setSpecialValueText(tr("no rests"));
  set_up_number(rest_, 0, 600, 0, 1, tr(" min"), tr("Length of a rest"));
  most_->set_whole();
  set_up_number(most_, 0, 1e9, 0, 100, tr(" cuts"), tr("Budget of a run"));
  most_->setSpecialValueText(tr("the plan's end"));
  set_up_number(nominal_, 0, 1e6, 2, 50, {}, tr("Check weight"));
  nominal_->setSpecialValueText(tr("none"));
  set_up_number(limit_, 0.1, 50, 1, 0.5, tr(" %"), tr("Limit of drift"));
  set_up_number(debounce_, 0, 2000, 0, 50, tr(" ms"), tr("Keys are held off for"));
  stations_->setAccessibleName(tr("Stations"));
  stations_->setPlaceholderText(tr("heel, middle, tip"));
  rate_->setAccessibleName(tr("Loading rate"));
  rate_->setPlaceholderText(tr("20 mm/min"));
  lot_->setAccessibleName(tr("Filament lot"));
  batch_->setAccessibleName(tr("Medium batch"));

  const auto form_of = [](const QString& title, QVBoxLayout* column) {
    column->addWidget(heading(title));
    auto* form = new QFormLayout;
    form->setHorizontalSpacing(12);
    form->setVerticalSpacing(7);
    column->addLayout(form);
    return form;
  };
  auto *first = new QVBoxLayout, *second = new QVBoxLayout;
  first->setSpacing(10);
  second->setSpacing(10);
  auto* steps = form_of(tr("Steps of a run"), first);
  for (auto* box : {prepare_, gate_, clean_, look_, at_threshold_, on_damage_}) steps->addRow(box);
  steps->addRow(tr("budget of a run"), most_);
  auto* cutting = form_of(tr("Cutting"), first);
  cutting->addRow(tr("counted"), count_);
  cutting->addRow(tr("pace (P)"), pace_);
  cutting->addRow(QString(), sound_);
  cutting->addRow(tr("stroke"), stroke_);
  cutting->addRow(tr("rest after"), rest_after_);
  cutting->addRow(tr("for"), rest_);
  cutting->addRow(tr("medium batch"), batch_);
  auto* gauge = form_of(tr("Gauge"), second);
  gauge->addRow(tr("stations in turn"), stations_);
  gauge->addRow(tr("loading rate"), rate_);
  gauge->addRow(tr("filament lot"), lot_);
  auto* weight = new QHBoxLayout;
  weight->addWidget(nominal_, 1);
  weight->addWidget(check_unit_);
  gauge->addRow(tr("check weight"), weight);
  gauge->addRow(tr("limit of its drift"), limit_);
  gauge->addRow(
      quiet_label(tr("Rate and lot are kept with every reading. With a check weight the first "
                     "reading of a sitting asks for it.")));
  auto* keys = form_of(tr("Keys and pedal"), second);
  keys->addRow(tr("held off for"), debounce_);
  keys->addRow(quiet_label(
      tr("The same key again within this time is one press: gloves, shaking hands, worn pedals.")));
  first->addStretch();
  second->addStretch();
  auto* inside = new QWidget;
  auto* columns = new QHBoxLayout(inside);
  columns->setContentsMargins(0, 0, 6, 0);
  columns->setSpacing(32);
  columns->addLayout(first, 1);
  columns->addLayout(second, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 4, 0, 4);
  layout->addWidget(origin_);
  layout->addWidget(scrolled(inside), 1);
  layout->addWidget(said_);

  soon_.setSingleShot(true);
  soon_.setInterval(600);
  connect(&soon_, &QTimer::timeout, this, &ProtocolPage::keep);
  for (auto* box : {prepare_, gate_, clean_, look_, sound_, at_threshold_, on_damage_})
    connect(box, &QCheckBox::toggled, &soon_, qOverload<>(&QTimer::start));
  for (auto* box : {pace_, stroke_, rest_after_, rest_, most_, nominal_, limit_, debounce_})
    connect(box, &NumberEntry::valueChanged, &soon_, qOverload<>(&QTimer::start));
  for (auto* box : {count_, check_unit_})
    connect(box, &QComboBox::activated, &soon_, qOverload<>(&QTimer::start));
  for (auto* field : {stations_, rate_, lot_, batch_})
    connect(field, &QLineEdit::textEdited, &soon_, qOverload<>(&QTimer::start));
  connect(&workbench_, &Workbench::about_to_undo, this, &ProtocolPage::keep);
  connect(&model_, &BenchModel::changed, this, [this] {
    if (isVisible() && !soon_.isActive()) reload();
  });
  connect(&model_, &BenchModel::said, this,
          [this](const QString& sentence) { said_->setText(sentence); });
}

void ProtocolPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  reload();
}

void ProtocolPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  keep();
}

void ProtocolPage::reload() {
  const BenchProtocol& p = model_.protocol();
  for (const auto& [box, on] :
       std::initializer_list<std::pair<QCheckBox*, bool>>{{prepare_, p.prepare},
                                                          {gate_, p.gate},
                                                          {clean_, p.clean},
                                                          {look_, p.look},
                                                          {sound_, p.sound},
                                                          {at_threshold_, p.stop_at_threshold},
                                                          {on_damage_, p.stop_on_damage}})
    box->setChecked(on);
  for (const auto& [box, value] :
       std::initializer_list<std::pair<NumberEntry*, double>>{{pace_, p.seconds_per_cut},
                                                              {stroke_, p.stroke_mm},
                                                              {rest_after_, p.rest_after_min},
                                                              {rest_, p.rest_min},
                                                              {most_, double(p.most_cuts)},
                                                              {nominal_, p.check_nominal},
                                                              {limit_, p.check_limit_percent},
                                                              {debounce_, double(p.debounce_ms)}})
    show_value(box, value);
  count_->setCurrentIndex(int(p.count_by));
  check_unit_->setCurrentText(QString::fromUtf8(sign_of(p.check_unit).data()));
  QStringList stations;
  for (const auto& station : p.stations) stations << QString::fromStdString(station);
  if (!stations_->hasFocus()) stations_->setText(stations.join(QStringLiteral(", ")));
  rate_->setText(QString::fromStdString(p.loading_rate));
  lot_->setText(QString::fromStdString(p.filament_lot));
  batch_->setText(QString::fromStdString(p.medium_batch));
  soon_.stop();
  show_origin(*origin_, workbench_, kProtocolKey);
  setEnabled(workbench_.writable());
}

void ProtocolPage::keep() {
  if (!soon_.isActive() && sender() != &soon_) return;
  soon_.stop();
  BenchProtocol p = model_.protocol();
  p.prepare = prepare_->isChecked();
  p.gate = gate_->isChecked();
  p.clean = clean_->isChecked();
  p.look = look_->isChecked();
  p.sound = sound_->isChecked();
  p.stop_at_threshold = at_threshold_->isChecked();
  p.stop_on_damage = on_damage_->isChecked();
  p.count_by = CountBy(count_->currentIndex());
  p.seconds_per_cut = value_of(pace_, p.seconds_per_cut);
  p.stroke_mm = value_of(stroke_, p.stroke_mm);
  p.rest_after_min = value_of(rest_after_, p.rest_after_min);
  p.rest_min = value_of(rest_, p.rest_min);
  p.most_cuts = std::int64_t(most_->value());
  p.check_nominal = value_of(nominal_, p.check_nominal);
  if (const auto unit = parse_unit(check_unit_->currentText().toStdString())) p.check_unit = *unit;
  p.check_limit_percent = value_of(limit_, p.check_limit_percent);
  p.debounce_ms = int(debounce_->value());
  p.stations.clear();
  for (const QString& station : stations_->text().split(QLatin1Char(','), Qt::SkipEmptyParts))
    if (!station.trimmed().isEmpty()) p.stations.push_back(station.trimmed().toStdString());
  p.loading_rate = rate_->text().trimmed().toStdString();
  p.filament_lot = lot_->text().trimmed().toStdString();
  p.medium_batch = batch_->text().trimmed().toStdString();
  model_.set_protocol(p);
}

}  // namespace bq::ui
