#include "ui/verdict/half_hour_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/parts/plain_table.h"
#include "workflow/answers.h"
#include "workflow/section_study.h"
#include "workflow/sentences.h"

namespace bq::ui {

HalfHourPanel::HalfHourPanel(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      blade_(new QComboBox),
      sentence_(new QLabel),
      remarks_(quiet_label({})),
      table_(new QTableWidget(0, 7)) {
  job_.belongs_to(workbench_.of_this_project());
  sentence_->setFont(font_of(20));
  sentence_->setWordWrap(true);
  sentence_->setMinimumHeight(54);
  sentence_->setAlignment(Qt::AlignTop);
  sentence_->setAccessibleName(tr("Best next half hour"));
  blade_->setAccessibleName(tr("Blade in hand"));
  blade_->setMinimumWidth(220);
  table_->setHorizontalHeaderLabels({tr("What"), tr("Minutes"), tr("Metal mm³"), tr("Price"),
                                     tr("Extra cuts, usual"), tr("at least"),
                                     tr("at least, a minute")});
  table_->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  for (int c = 1; c < 7; ++c)
    table_->horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
  table_->verticalHeader()->setDefaultSectionSize(28);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  make_plain(table_, tr("What could be done"));
  table_->horizontalHeader()->setHighlightSections(false);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  lay_out();
}

void HalfHourPanel::lay_out() {
  auto* why = quiet_label({});
  auto* head = new QHBoxLayout;
  head->addWidget(new QLabel(tr("Blade in hand")));
  head->addWidget(blade_);
  head->addStretch();
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addLayout(head);
  layout->addWidget(sentence_);
  layout->addWidget(remarks_);
  layout->addWidget(table_, 1);
  layout->addWidget(why);
  layout->addWidget(quiet_label(
      tr("Extra cuts are over leaving the blade as it is, by the life model of this work; \"at "
         "least\" is the lower 95 % limit for the next edge. Metal and minutes come from the "
         "blade's own "
         "section and the stones at hand. No gloves or loose sleeves at belts and wheels; eye "
         "protection; cool often. Local rules and trained persons come first.")));
  connect(blade_, &QComboBox::activated, this, &HalfHourPanel::ask);
  connect(table_, &QTableWidget::itemSelectionChanged, this, [this, why] {
    const auto* item = table_->currentRow() >= 0 ? table_->item(table_->currentRow(), 0) : nullptr;
    why->setText(item ? item->data(Qt::UserRole).toString() : QString());
  });
}

QString HalfHourPanel::sentence() const { return sentence_->text(); }

void HalfHourPanel::choose_blade(int index) {
  if (const int at = blade_->findData(index); at >= 0) blade_->setCurrentIndex(at);
  ask();
}

void HalfHourPanel::refresh(const LimitsFile& limits, const std::string& medium) {
  limits_ = limits;
  medium_ = medium;
  const QString before = blade_->currentText();
  blade_->clear();
  const auto& blades = workbench_.trial().blades;
  for (std::size_t i = 0; i < blades.size(); ++i)
    if (!blades[i].retired) blade_->addItem(QString::fromStdString(blades[i].name), int(i));
  if (const int at = blade_->findText(before); at >= 0) blade_->setCurrentIndex(at);
  ask();
}

void HalfHourPanel::ask() {
  const auto threshold = workbench_.threshold();
  if (blade_->currentIndex() < 0 || !threshold) {
    show_answer(Refusal{blade_->count() == 0 ? "there is no blade on the rack yet"
                                             : "there are no readings yet"});
    return;
  }
  HalfHourQuestion question;
  question.blade = std::size_t(blade_->currentData().toInt());
  question.threshold = *threshold;
  question.medium = medium_;
  question.force_limit_N = limits_.limits.most_force_N;
  question.stones = limits_.stones;
  question.angles = workbench_.display().angles;
  auto facts = std::make_shared<Trial>(for_answers(workbench_.trial()));
  const std::string questions = workbench_.session().kept(kSectionQuestionsKey);
  job_.ask(
      [facts, fits = workbench_.fits(), question, questions](const std::stop_token&) {
        return std::make_shared<Checked<HalfHour>>(
            best_half_hour({facts.get(), fits.get(), {}, questions}, question));
      },
      [this](const std::shared_ptr<Checked<HalfHour>>& answer) { show_answer(*answer); });
}

void HalfHourPanel::show_answer(const Checked<HalfHour>& answer) {
  table_->setRowCount(0);
  if (!answer) {
    sentence_->setText(tr("No answer: %1.").arg(QString::fromStdString(answer.refusal().reason)));
    remarks_->clear();
    return;
  }
  sentence_->setText(QString::fromStdString(answer->sentence));
  QStringList remarks{
      tr("Made %1 cuts since it was sharpened; %2 left to the limit.")
          .arg(QString::fromStdString(print_cuts(answer->cuts_made)),
               answer->cuts_left < 1
                   ? tr("none are")
                   : tr("about %1 are")
                         .arg(QString::fromStdString(print_cuts(std::floor(answer->cuts_left)))))};
  for (const auto& remark : answer->remarks) remarks << QString::fromStdString(remark);
  remarks_->setText(remarks.join(QLatin1Char(' ')));
  for (const auto& option : answer->options) {
    const int row = table_->rowCount();
    table_->insertRow(row);
    const auto figure = [](const std::optional<double>& value, int digits) {
      if (!value) return QStringLiteral("–");
      return QString::fromStdString(with_minus_signs(print_number(*value, digits)));
    };
    const auto cuts = [](const std::optional<double>& value) {
      if (!value) return tr("not known");
      return (*value < 0 ? QString(QChar(0x2212)) : QString()) +
             QString::fromStdString(print_cuts(std::floor(std::fabs(*value))));
    };
    const bool leave = option.kind == HalfHourKind::leave;
    const QStringList cells{
        QString::fromStdString(option.what),
        leave ? QStringLiteral("0")
              : figure(option.minutes, 2) + (option.estimated ? tr(" est.") : QString()),
        figure(option.metal_mm3, 2),
        leave          ? QStringLiteral("0")
        : option.price ? QString::number(*option.price, 'f', 2)
                       : QStringLiteral("–"),
        cuts(option.extra_cuts),
        cuts(option.extra_low),
        leave ? QStringLiteral("–") : figure(option.low_per_minute, 2)};
    for (int c = 0; c < cells.size(); ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      item->setToolTip(c == 0 ? QString::fromStdString(option.what + ". " + option.why) : cells[c]);
      item->setTextAlignment(Qt::AlignVCenter | (c == 0 ? Qt::AlignLeft : Qt::AlignRight));
      if (c == 0) item->setData(Qt::UserRole, QString::fromStdString(option.why));
      if (row == 0) item->setFont(font_of(kBody, true));
      table_->setItem(row, c, item);
    }
  }
  if (table_->rowCount() > 0) table_->selectRow(0);
}

}  // namespace bq::ui
