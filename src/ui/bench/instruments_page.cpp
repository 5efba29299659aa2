#include "ui/bench/instruments_page.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "ui/parts/number_field.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

QStringList units_for(InstrumentRole role) {
  if (role == InstrumentRole::angle) return {QStringLiteral("deg")};
  QStringList out{QStringLiteral("gf"), QStringLiteral("N"), QStringLiteral("lbf"),
                  QStringLiteral("ozf")};
  if (role == InstrumentRole::gauge) out << QStringLiteral("mm") << QStringLiteral("in");
  return out;
}

}  // namespace

InstrumentsPage::InstrumentsPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      name_(new QLineEdit),
      pattern_(new QLineEdit),
      request_(new QLineEdit),
      overload_(new QLineEdit),
      unstable_(new QLineEdit),
      port_(new QComboBox),
      baud_(new QComboBox),
      unit_(new QComboBox),
      end_(new QComboBox),
      capacity_(new NumberEntry),
      resolution_(new NumberEntry),
      rate_(new NumberEntry),
      state_(new QLabel),
      counts_(quiet_label({})),
      said_(quiet_label({})),
      keep_(new QPushButton(tr("Keep and connect"))),
      test_(new QPushButton(tr("Test: ask for one reading"))),
      forget_(new QPushButton(tr("Forget"))),
      lines_(new QTableWidget(0, 2)) {
  state_->setFont(font_of(20));
  state_->setWordWrap(true);
  lines_->setHorizontalHeaderLabels({tr("what came on the line"), tr("what it means")});
  lines_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  lines_->verticalHeader()->hide();
  lines_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  lines_->setAccessibleName(tr("Lines of the instrument"));
  listen();
}

void InstrumentsPage::listen() {
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(test_);
  buttons->addWidget(counts_, 1);
  auto* right = new QVBoxLayout;
  right->setSpacing(8);
  right->addWidget(state_);
  right->addWidget(lines_, 1);
  right->addLayout(buttons);
  right->addWidget(said_);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 4, 0, 4);
  layout->setSpacing(24);
  layout->addWidget(make_form(), 2);
  layout->addLayout(right, 3);
  connect(keep_, &QPushButton::clicked, this, [this] {
    if (model_.desk().set_profile(typed()))
      said_->setText(tr("Kept in the project. It is connected whenever the project is open."));
  });
  connect(forget_, &QPushButton::clicked, this, [this] { model_.desk().forget(role_); });
  connect(test_, &QPushButton::clicked, this, [this] {
    if (!model_.desk().ask(role_))
      said_->setText(tr("Nothing was asked: it is not connected, or it sends by itself."));
  });
  connect(&model_.desk(), &InstrumentDesk::state_changed, this, [this] {
    if (isVisible()) show_lines();
  });
  connect(&model_.desk(), &InstrumentDesk::told, this,
          [this](const QString& sentence) { said_->setText(sentence); });
  connect(&workbench_, &Workbench::changed, this, [this] {
    if (isVisible()) show_lines();
  });
  connect(&tick_, &QTimer::timeout, this, [this] {
    if (isVisible() &&
        model_.desk().samples_seen(role_) + model_.desk().counts(role_).lines() != shown_)
      show_lines();
  });
  tick_.start(200);
  choose(InstrumentRole::gauge);
}

QWidget* InstrumentsPage::make_form() {
  auto* roles = new QHBoxLayout;
  for (const auto role : kEveryRole) {
    auto* button = tab_button(role == InstrumentRole::gauge        ? tr("Gauge")
                              : role == InstrumentRole::force_cell ? tr("Force cell")
                                                                   : tr("Angle gauge"));
    connect(button, &QPushButton::clicked, this, [this, role] { choose(role); });
    roles->addWidget(button);
    roles_.push_back(button);
  }
  port_->setEditable(true);
  port_->setAccessibleName(tr("Port"));
  port_->lineEdit()->setPlaceholderText(tr("none: readings are typed"));
  for (const int baud : kBauds) baud_->addItem(QString::number(baud), baud);
  baud_->setAccessibleName(tr("Line speed"));
  unit_->setAccessibleName(tr("Unit"));
  end_->addItems({tr("line feed (\\n or \\r\\n)"), tr("carriage return (\\r)")});
  end_->setAccessibleName(tr("Line end"));
  name_->setAccessibleName(tr("Name"));
  pattern_->setAccessibleName(tr("Pattern"));
  pattern_->setPlaceholderText(tr("built-in: number and unit, \"312 gf\""));
  pattern_->setToolTip(
      tr("A regular expression for the whole line with the groups value and, where the line has "
         "them, unit and flag:\n(?<value>[+-]?\\d+\\.\\d)(?<unit>gf)"));
  request_->setAccessibleName(tr("Request"));
  request_->setPlaceholderText(tr("it sends by itself"));
  overload_->setPlaceholderText(tr("flag for overload"));
  unstable_->setPlaceholderText(tr("flag for not settled"));
  overload_->setAccessibleName(tr("Overload flag"));
  unstable_->setAccessibleName(tr("Unstable flag"));
  set_up_number(capacity_, 0, 1e6, 2, 100, {}, tr("Capacity"));
  capacity_->setSpecialValueText(tr("not known"));
  set_up_number(resolution_, 0, 1000, 4, 0.1, {}, tr("Resolution"));
  resolution_->setSpecialValueText(tr("as the line's last figure"));
  set_up_number(rate_, 0, 5000, 0, 50, tr(" lines/s"), tr("Stream"));
  rate_->setSpecialValueText(tr("single readings"));
  name_look(keep_, "primary");
  auto* form = new QFormLayout;
  form->setHorizontalSpacing(12);
  form->setVerticalSpacing(7);
  form->addRow(tr("name"), name_);
  form->addRow(tr("port"), port_);
  form->addRow(tr("line speed, 8N1"), baud_);
  form->addRow(tr("line end"), end_);
  form->addRow(tr("unit"), unit_);
  form->addRow(tr("asked with"), request_);
  form->addRow(tr("stream"), rate_);
  form->addRow(tr("capacity"), capacity_);
  form->addRow(tr("resolution"), resolution_);
  form->addRow(tr("pattern"), pattern_);
  auto* flags = new QHBoxLayout;
  flags->addWidget(overload_);
  flags->addWidget(unstable_);
  form->addRow(tr("flags"), flags);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(keep_, 1);
  buttons->addWidget(forget_);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 6, 0);
  column->setSpacing(10);
  column->addLayout(roles);
  column->addLayout(form);
  column->addLayout(buttons);
  column->addWidget(
      quiet_label(tr("A gauge that types like a keyboard needs no port: click nothing, let it type "
                     "on the Trial page; its Enter keeps the reading.")));
  column->addStretch();
  return scrolled(inside);
}

void InstrumentsPage::choose(InstrumentRole role) {
  role_ = role;
  roles_[std::size_t(role)]->setChecked(true);
  said_->clear();
  reload();
}

QString InstrumentsPage::state() const { return state_->text(); }

void InstrumentsPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  reload();
}

void InstrumentsPage::reload() {
  const auto kept = model_.desk().profile(role_);
  const InstrumentProfile p = kept.value_or(usual_profile(role_));
  name_->setText(QString::fromStdString(p.name));
  port_->clear();
  port_->addItems(SerialTransport::ports());
  port_->setCurrentText(QString::fromStdString(p.port));
  baud_->setCurrentIndex(baud_->findData(p.baud));
  unit_->clear();
  unit_->addItems(units_for(role_));
  unit_->setCurrentText(QString::fromUtf8(sign_of(p.unit).data()));
  end_->setCurrentIndex(p.ends_with_cr);
  request_->setText(QString::fromStdString(p.request));
  rate_->setValue(p.rate_hz);
  capacity_->setValue(p.capacity.value_or(0));
  resolution_->setValue(p.resolution.value_or(0));
  pattern_->setText(QString::fromStdString(p.pattern));
  overload_->setText(QString::fromStdString(p.overload_text));
  unstable_->setText(QString::fromStdString(p.unstable_text));
  show_lines();
}

InstrumentProfile InstrumentsPage::typed() const {
  InstrumentProfile p;
  p.role = role_;
  p.name = name_->text().trimmed().toStdString();
  p.port = port_->currentText().trimmed().toStdString();
  p.baud = baud_->currentData().toInt();
  p.ends_with_cr = end_->currentIndex() == 1;
  if (const auto unit = parse_instrument_unit(unit_->currentText().toStdString())) p.unit = *unit;
  p.request = request_->text().toStdString();
  p.rate_hz = rate_->value();
  if (capacity_->value() > 0) p.capacity = capacity_->value();
  if (resolution_->value() > 0) p.resolution = resolution_->value();
  p.pattern = pattern_->text().toStdString();
  p.overload_text = overload_->text().toStdString();
  p.unstable_text = unstable_->text().toStdString();
  return p;
}

void InstrumentsPage::show_lines() {
  InstrumentDesk& desk = model_.desk();
  const auto counts = desk.counts(role_);
  shown_ = desk.samples_seen(role_) + counts.lines();
  const QString words = desk.state_words(role_);
  state_->setText(words.isEmpty() ? words : words[0].toUpper() + words.mid(1) + QLatin1Char('.'));
  const bool ready = workbench_.writable();
  keep_->setEnabled(ready);
  forget_->setEnabled(ready && desk.profile(role_).has_value());
  test_->setEnabled(desk.open(role_));
  const auto& heard = desk.heard(role_);
  const int rows = int(std::min<std::size_t>(heard.size(), 60));
  lines_->setRowCount(rows);
  for (int i = 0; i < rows; ++i) {
    const auto& one = heard[heard.size() - 1 - std::size_t(i)];
    const auto put = [&](int column, const QString& text) {
      auto* item = lines_->item(i, column);
      if (!item) lines_->setItem(i, column, item = new QTableWidgetItem);
      item->setText(text);
      item->setForeground(one.good ? theme().ink : theme().danger);
    };
    put(0, one.raw);
    put(1, (one.good ? QStringLiteral("✓ ") : QStringLiteral("✗ ")) + one.meaning);
  }
  counts_->setText(counts.lines() == 0 ? tr("Nothing has come yet.")
                                       : tr("%1 good, %2 overload, %3 not settled, %4 no readings")
                                             .arg(counts.good)
                                             .arg(counts.overload)
                                             .arg(counts.unstable)
                                             .arg(counts.garbage));
  if (!desk.missed(role_).isEmpty() && said_->text().isEmpty()) said_->setText(desk.missed(role_));
}

}  // namespace bq::ui
