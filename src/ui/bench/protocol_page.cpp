#include "ui/bench/protocol_page.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include "store/bench_json.h"
#include "ui/frame/origin_line.h"
#include "ui/theme/theme.h"

namespace bq::ui {

ProtocolPage::ProtocolPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      fields_([this] { soon_.start(); }, RecordForm<BenchProtocol>::Tells::typing),
      said_(quiet_label({})),
      origin_(quiet_label({})) {
  lay_out();
  listen();
}

void ProtocolPage::lay_out() {
  using P = BenchProtocol;
  const auto or_none = [](NumberEntry* box, const QString& none) {
    box->setSpecialValueText(none);
    return box;
  };
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
  for (QCheckBox* box : {fields_.flag<&P::prepare>(), fields_.flag<&P::gate>(),
                         fields_.flag<&P::clean>(), fields_.flag<&P::look>(),
                         fields_.flag<&P::stop_at_threshold>(), fields_.flag<&P::stop_on_damage>()})
    steps->addRow(box);
  steps->addRow(label_of<&P::most_cuts>(),
                or_none(fields_.number<&P::most_cuts>(0, 100), tr("the plan's end")));
  auto* cutting = form_of(tr("Cutting"), first);
  cutting->addRow(label_of<&P::count_by>(),
                  fields_.word<&P::count_by>(
                      {tr("the whole block with one press"), tr("every cut with one press")}));
  cutting->addRow(tr("pace (P)"),
                  or_none(fields_.number<&P::seconds_per_cut>(1, 0.5, tr(" s a cut")), tr("none")));
  cutting->addRow(QString(), fields_.flag<&P::sound>());
  cutting->addRow(label_of<&P::stroke_mm>(),
                  or_none(fields_.number<&P::stroke_mm>(0, 10), tr("not said")));
  cutting->addRow(
      label_of<&P::rest_after_min>(),
      or_none(fields_.number<&P::rest_after_min>(0, 5, tr(" min of cutting")), tr("no rests")));
  cutting->addRow(tr("for"), fields_.number<&P::rest_min>(0));
  cutting->addRow(label_of<&P::medium_batch>(), fields_.text<&P::medium_batch>());
  auto* gauge = form_of(tr("Gauge"), second);
  gauge->addRow(label_of<&P::stations>(), stations());
  gauge->addRow(label_of<&P::loading_rate>(), fields_.text<&P::loading_rate>(tr("20 mm/min")));
  gauge->addRow(label_of<&P::filament_lot>(), fields_.text<&P::filament_lot>());
  auto* weight = new QHBoxLayout;
  weight->addWidget(or_none(fields_.number<&P::check_nominal>(2, 50), tr("none")), 1);
  weight->addWidget(check_unit());
  gauge->addRow(label_of<&P::check_nominal>(), weight);
  gauge->addRow(label_of<&P::check_limit_percent>(),
                fields_.number<&P::check_limit_percent>(1, 0.5));
  gauge->addRow(
      quiet_label(tr("Rate and lot are kept with every reading. With a check weight the first "
                     "reading of a sitting asks for it.")));
  auto* keys = form_of(tr("Keys and pedal"), second);
  keys->addRow(tr("held off for"), fields_.number<&P::debounce_ms>(0, 50));
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
}

void ProtocolPage::listen() {
  connect(&soon_, &QTimer::timeout, this, &ProtocolPage::keep);
  connect(&workbench_, &Workbench::about_to_undo, this, &ProtocolPage::keep);
  connect(&model_, &BenchModel::changed, this, [this] {
    if (isVisible() && !soon_.isActive()) reload();
  });
  connect(&model_, &BenchModel::said, this,
          [this](const QString& sentence) { said_->setText(sentence); });
}

QLineEdit* ProtocolPage::stations() {
  auto* edit = text_field(label_of<&BenchProtocol::stations>(), tr("heel, middle, tip"));
  connect(edit, &QLineEdit::textEdited, this, [this] { soon_.start(); });
  fields_.bind(
      [edit](const BenchProtocol& p) {
        if (!edit->hasFocus()) edit->setText(texts_of(p.stations).join(QStringLiteral(", ")));
      },
      [edit](BenchProtocol& p) {
        p.stations.clear();
        for (const QString& station : edit->text().split(QLatin1Char(','), Qt::SkipEmptyParts))
          if (!station.trimmed().isEmpty()) p.stations.push_back(station.trimmed().toStdString());
      });
  return edit;
}

QComboBox* ProtocolPage::check_unit() {
  auto* box = new QComboBox;
  for (const Unit unit : {Unit::gf, Unit::N, Unit::lbf, Unit::ozf})
    box->addItem(text_of(sign_of(unit)), int(unit));
  box->setAccessibleName(label_of<&BenchProtocol::check_unit>());
  connect(box, &QComboBox::activated, this, [this] { soon_.start(); });
  fields_.bind(
      [box](const BenchProtocol& p) { box->setCurrentIndex(box->findData(int(p.check_unit))); },
      [box](BenchProtocol& p) {
        if (box->currentIndex() >= 0) p.check_unit = Unit(box->currentData().toInt());
      });
  return box;
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
  fields_.show(model_.protocol());
  soon_.stop();
  show_origin(*origin_, workbench_, kProtocolKey);
  setEnabled(workbench_.writable());
}

void ProtocolPage::keep() {
  if (!soon_.isActive() && sender() != &soon_) return;
  soon_.stop();
  model_.set_protocol(fields_.taken(model_.protocol()));
}

}  // namespace bq::ui
