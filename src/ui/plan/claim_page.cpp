#include "ui/plan/claim_page.h"
#include "report/sheet_page.h"
#include "ui/frame/print_preview.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "plan/plan_fields.h"
#include "quantity/number.h"
#include "report/card_page.h"
#include "report/claim_card.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/plan/sheet_actions.h"
#include "ui/theme/theme.h"

namespace bq::ui {
ClaimPage::ClaimPage(Workbench& workbench, PlanModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      list_(new QListWidget),
      new_claim_(new QComboBox),
      measure_(new QComboBox),
      kind_(new QComboBox),
      words_(new QLineEdit),
      first_(new QLineEdit),
      second_(new QLineEdit),
      ratio_(new NumberEntry),
      spread_(new NumberEntry),
      chance_(new NumberEntry),
      pairs_(new NumberEntry),
      size_(new QLabel),
      other_(quiet_label({})),
      steps_(new QLabel),
      caution_(new QLabel),
      answer_(new QLabel),
      notes_(quiet_label({})),
      sheet_head_(heading(tr("Sheet"))),
      table_(new QTableWidget(0, 5)),
      unseal_(new QPushButton(tr("Unseal"))),
      sheet_(new QPushButton(tr("Save sheet …"))),
      print_(new QPushButton(tr("Print …"))),
      card_(new QPushButton(tr("Save result card …"))),
      remove_(new QPushButton(tr("Take it out"))),
      form_(new QWidget),
      right_(new QWidget),
      left_(new QWidget) {
  lay_out_claims();
  lay_out_form();
  lay_out_answer();
  listen();
}

void ClaimPage::lay_out_claims() {
  auto* left = new QVBoxLayout(left_);
  left->setContentsMargins(0, 0, 0, 0);
  left->setSpacing(8);
  left->addWidget(heading(tr("Claims")));
  list_->setAccessibleName(tr("Claims being settled"));
  list_->setWordWrap(true);
  left->addWidget(list_, 1);
  new_claim_->setAccessibleName(tr("Settle another claim"));
  new_claim_->addItem(tr("Settle a claim …"));
  for (const auto& claim : known_claims())
    new_claim_->addItem(QString::fromStdString(claim.sentence), QString::fromStdString(claim.id));
  new_claim_->addItem(tr("One in my own words"), QStringLiteral("own"));
  new_claim_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  left->addWidget(new_claim_);
  left->addWidget(remove_, 0, Qt::AlignLeft);
  remove_->setObjectName(QStringLiteral("flat"));
}

void ClaimPage::lay_out_form() {
  auto* middle = new QVBoxLayout(form_);
  middle->setContentsMargins(0, 0, 6, 0);
  middle->setSpacing(8);
  words_->setAccessibleName(tr("The claim, one sentence"));
  words_->setFont(font_of(kHeading, true));
  words_->setPlaceholderText(tr("The claim, one sentence"));
  middle->addWidget(words_);
  middle->addWidget(other_);
  size_->setFont(font_of(kFigure, true));
  size_->setWordWrap(true);
  middle->addWidget(size_);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(5);
  grid->setColumnStretch(1, 1);
  int row = 0;
  const auto line = [&](const QString& label, QWidget* field) {
    auto* words = quiet_label(label);
    words->setFixedWidth(150);
    grid->addWidget(words, row, 0);
    grid->addWidget(field, row++, 1);
    field->setAccessibleName(label);
  };
  line(tr("the one"), first_);
  line(tr("the other, as claimed"), second_);
  for (int i = 0; i < 5; ++i) measure_->addItem(QString::fromStdString(words_of(ClaimMeasure(i))));
  measure_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  line(tr("measured"), measure_);
  kind_->addItems(
      {tr("the other is higher"), tr("the other is lower"), tr("no difference that matters")});
  kind_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  line(tr("the claim says"), kind_);
  set_up_number(ratio_, 0.01, 100, 2, 0.05, tr(" ×"), tr("Difference that matters"));
  line(tr("difference that matters"), ratio_);
  set_up_number(spread_, 0.1, 300, 1, 1, tr(" %"), tr("Spread from pair to pair"));
  line(tr("spread from pair to pair"), spread_);
  set_up_number(chance_, 10, 99, 0, 5, tr(" %"), tr("Wished chance to decide"));
  line(tr("wished chance"), chance_);
  pairs_->set_whole();
  pairs_->setRange(2, field_of<&ClaimTest::pairs>().most);
  line(tr("pairs"), pairs_);
  for (NumberEntry* box : {ratio_, spread_, chance_}) box->setKeyboardTracking(false);
  pairs_->setKeyboardTracking(false);
  middle->addLayout(grid);
  middle->addWidget(heading(tr("How")));
  steps_->setWordWrap(true);
  middle->addWidget(steps_);
  caution_->setObjectName(QStringLiteral("caution"));
  caution_->setWordWrap(true);
  caution_->setText(
      tr("Edges: glove on the off hand, cut away from the body, feel across the edge and never "
         "along it. Strops and buffers: the edge trails; no gloves at belts and wheels. "
         "Workplace rules and trained people come first."));
  middle->addWidget(caution_);
  middle->addStretch(1);
}

void ClaimPage::lay_out_answer() {
  auto* right = new QVBoxLayout(right_);
  right->setContentsMargins(0, 0, 0, 0);
  right->setSpacing(8);
  answer_->setWordWrap(true);
  answer_->setFont(font_of(kHeading, true));
  right->addWidget(answer_);
  right->addWidget(notes_);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(unseal_);
  buttons->addWidget(card_);
  buttons->addStretch(1);
  right->addLayout(buttons);
  auto* head = new QHBoxLayout;
  head->addWidget(sheet_head_, 1);
  head->addWidget(sheet_);
  head->addWidget(print_);
  right->addLayout(head);
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->setAccessibleName(tr("Measured figures by code"));
  right->addWidget(table_, 1);
  right->addWidget(
      quiet_label(tr("Type each figure beside its code; \"> 400\" says that the run ended at 400 "
                     "cuts before the threshold. Who got what stays sealed until the end.")));

  auto* body = new QHBoxLayout(this);
  body->setContentsMargins(0, 0, 0, 0);
  body->setSpacing(18);
  body->addWidget(left_);
  body->addWidget(scrolled(form_), 1);
  body->addWidget(right_);
}

void ClaimPage::listen() {
  connect(list_, &QListWidget::currentRowChanged, this, [this](int at) {
    if (!filling_ && at >= 0) choose(at);
  });
  connect(new_claim_, &QComboBox::activated, this, [this](int at) {
    const std::string id = new_claim_->itemData(at).toString().toStdString();
    new_claim_->setCurrentIndex(0);
    if (!id.empty()) begin(id);
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    const int at = index_;
    model_.remove_claim(at);
  });
  for (QLineEdit* field : {words_, first_, second_})
    connect(field, &QLineEdit::editingFinished, this, &ClaimPage::take_form);
  for (QComboBox* field : {measure_, kind_})
    connect(field, &QComboBox::activated, this, &ClaimPage::take_form);
  for (NumberEntry* field : {ratio_, spread_, chance_})
    connect(field, &NumberEntry::valueChanged, this, &ClaimPage::take_form);
  connect(pairs_, &NumberEntry::valueChanged, this, [this](int pairs) {
    if (filling_ || !chosen()) return;
    ClaimTest test = *chosen();
    test.pairs = pairs;
    model_.set_claim(index_, test, tr("the number of pairs"));
  });
  connect(table_, &QTableWidget::cellChanged, this, [this](int at, int column) {
    if (column == 4) take_value(at);
  });
  connect(sheet_, &QPushButton::clicked, this, &ClaimPage::save_sheet);
  connect(print_, &QPushButton::clicked, this, &ClaimPage::print_sheet);
  connect(card_, &QPushButton::clicked, this, &ClaimPage::save_card);
  connect(unseal_, &QPushButton::clicked, this, &ClaimPage::ask_unseal);
  connect(&model_, &PlanModel::book_changed, this, &ClaimPage::refill);
  refill();
}

QString ClaimPage::sentence() const { return answer_->text(); }

const ClaimTest* ClaimPage::chosen() const {
  return index_ >= 0 && index_ < int(model_.book().claims.size())
             ? &model_.book().claims[std::size_t(index_)]
             : nullptr;
}

void ClaimPage::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  // A narrow window takes it from the sides.
  left_->setFixedWidth(width() < 1020 ? 180 : 212);
  right_->setFixedWidth(width() < 1020 ? 344 : 392);
}

void ClaimPage::choose(int index) {
  index_ = index;
  refill();
}

void ClaimPage::begin(const std::string& claim_id) {
  Claim claim;
  claim.id = "own";
  claim.sentence = tr("My claim.").toStdString();
  claim.first = tr("the one").toStdString();
  claim.second = tr("the other").toStdString();
  claim.steps = {
      tr("Treat two halves of one edge, or two runs of one blade, alike but for what is claimed.")
          .toStdString(),
      tr("Whoever measures sees codes only.").toStdString()};
  for (const auto& known : known_claims())
    if (known.id == claim_id) claim = known;
  const int at = model_.add_claim(claim);
  if (at >= 0) choose(at);
}

void ClaimPage::refill() {
  filling_ = true;
  const auto& claims = model_.book().claims;
  if (index_ < 0 || index_ >= int(claims.size())) index_ = int(claims.size()) - 1;
  list_->clear();
  for (const auto& test : claims) {
    auto* item = new QListWidgetItem(
        QString::fromStdString(test.claim.sentence) + QStringLiteral("\n") +
        (test.unsealed ? tr("unsealed")
                       : tr("%1 of %2 figures").arg(test.values.size()).arg(2 * test.pairs)));
    item->setToolTip(item->text());
    list_->addItem(item);
  }
  list_->setCurrentRow(index_);
  new_claim_->setEnabled(workbench_.writable());
  const ClaimTest* test = chosen();
  form_->setVisible(test);
  right_->setVisible(true);
  for (QWidget* part :
       {static_cast<QWidget*>(table_), static_cast<QWidget*>(sheet_), static_cast<QWidget*>(print_),
        static_cast<QWidget*>(unseal_), static_cast<QWidget*>(card_),
        static_cast<QWidget*>(remove_), static_cast<QWidget*>(sheet_head_)})
    part->setVisible(test);
  if (test) {
    fill_form(*test);
    fill_table(*test);
    show_answer(*test);
  } else {
    answer_->setText(
        workbench_.has_project()
            ? tr("Which dispute shall the bench settle? Pick a claim on the left, or word one: you "
                 "get the smallest blind test on the same blades that can decide it.")
            : tr("Open a project first."));
    notes_->clear();
  }
  filling_ = false;
}

void ClaimPage::fill_form(const ClaimTest& test) {
  const Claim& c = test.claim;
  // Once figures are in, the test is what it is.
  const bool open = workbench_.writable() && test.values.empty() && !test.unsealed;
  for (QWidget* field :
       {static_cast<QWidget*>(words_), static_cast<QWidget*>(first_),
        static_cast<QWidget*>(second_), static_cast<QWidget*>(measure_),
        static_cast<QWidget*>(kind_), static_cast<QWidget*>(ratio_), static_cast<QWidget*>(spread_),
        static_cast<QWidget*>(chance_), static_cast<QWidget*>(pairs_)})
    field->setEnabled(open);
  words_->setText(QString::fromStdString(c.sentence));
  words_->setCursorPosition(0);
  words_->setToolTip(words_->text());
  first_->setText(QString::fromStdString(c.first));
  second_->setText(QString::fromStdString(c.second));
  measure_->setCurrentIndex(int(c.measure));
  kind_->setCurrentIndex(c.sameness ? 2 : c.second_higher ? 0 : 1);
  for (QComboBox* box : {measure_, kind_}) box->setToolTip(box->currentText());
  show_value(ratio_, c.ratio);
  show_value(spread_, 100 * c.pair_sd);
  show_value(chance_, 100 * test.chance);
  pairs_->setValue(std::max(2, test.pairs));
  other_->setText(QString::fromStdString(other_school(c.id)));
  other_->setVisible(!other_->text().isEmpty());
  const auto needed = pairs_needed(c, test.chance, test.level);
  const auto power = chance_with(c, std::max(2, test.pairs), test.level);
  if (!needed)
    size_->setText(QString::fromStdString(needed.refusal().reason));
  else
    size_->setText(tr("%1 pairs: %2 chance to decide")
                       .arg(test.pairs)
                       .arg(power ? percent(*power) : QString()));
  size_->setFont(font_of(needed ? kFigure : kHeading, true));
  QStringList steps;
  for (std::size_t i = 0; i < c.steps.size(); ++i)
    steps << QStringLiteral("%1. %2").arg(i + 1).arg(QString::fromStdString(c.steps[i]));
  QStringList open_ends;
  for (const auto& text : c.not_tested) open_ends << QString::fromStdString(text);
  if (!open_ends.isEmpty()) steps << tr("Not tested: %1").arg(open_ends.join(QLatin1Char(' ')));
  steps_->setText(steps.join(QLatin1Char('\n')));
}

void ClaimPage::fill_table(const ClaimTest& test) {
  const auto rows = claim_sheet(test);
  const QString unit = test.claim.measure == ClaimMeasure::life         ? tr("cuts")
                       : test.claim.measure == ClaimMeasure::early_rise ? tr("ratio")
                       : test.claim.measure == ClaimMeasure::scratch    ? tr("µm")
                                                                        : tr("reading");
  table_->setColumnCount(test.unsealed ? 6 : 5);
  QStringList heads{QString(), tr("blade"), tr("part"), tr("code"), unit};
  if (test.unsealed) heads << tr("was");
  table_->setHorizontalHeaderLabels(heads);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  for (const int wide : {1, 5})
    if (wide < table_->columnCount())
      table_->horizontalHeader()->setSectionResizeMode(wide, QHeaderView::Stretch);
  table_->setRowCount(int(rows.size()));
  for (int i = 0; i < int(rows.size()); ++i) {
    const ClaimRow& row = rows[std::size_t(i)];
    const auto value = std::find_if(test.values.begin(), test.values.end(),
                                    [&](const auto& v) { return v.code == row.code; });
    QStringList cells{QString::number(row.order), QString::fromStdString(row.blade),
                      QString::fromStdString(row.place), QString::fromStdString(row.code),
                      value == test.values.end()
                          ? QString()
                          : (value->more_than ? QStringLiteral("> ") : QString()) +
                                QString::fromStdString(print_number(value->value, 5))};
    if (test.unsealed)
      cells << QString::fromStdString(row.second ? test.claim.second : test.claim.first);
    for (int column = 0; column < cells.size(); ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      item->setToolTip(cells[column]);
      const bool field = column == 4 && workbench_.writable() && !test.unsealed;
      item->setFlags(field ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable
                           : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      if (column == 4 || column == 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (column == 3) item->setFont(font_of(kBody, true));
      table_->setItem(i, column, item);
    }
  }
}

void ClaimPage::show_answer(const ClaimTest& test) {
  const int missing = 2 * test.pairs - int(test.values.size());
  card_->setVisible(test.unsealed);
  unseal_->setVisible(!test.unsealed);
  unseal_->setEnabled(workbench_.writable() && test.values.size() >= 4);
  name_look(unseal_, missing == 0 ? "primary" : "");
  notes_->clear();
  notes_->hide();
  if (!test.unsealed) {
    answer_->setText(
        missing > 0 ? tr("%1 of %2 figures are in.").arg(test.values.size()).arg(2 * test.pairs)
                    : tr("Every figure is in: unseal it."));
    return;
  }
  const auto result = judge_claim(test);
  if (!result) {
    answer_->setText(tr("No answer: %1.").arg(QString::fromStdString(result.refusal().reason)));
    return;
  }
  answer_->setText(QString::fromStdString(result->sentence));
  QStringList notes;
  for (const auto& note : result->notes) notes << QString::fromStdString(note);
  notes_->setText(notes.join(QLatin1Char(' ')));
  notes_->setVisible(!notes.isEmpty());
}

void ClaimPage::take_form() {
  const ClaimTest* before = chosen();
  if (filling_ || !before) return;
  ClaimTest test = *before;
  Claim& c = test.claim;
  c.sentence = words_->text().trimmed().toStdString();
  c.first = first_->text().trimmed().toStdString();
  c.second = second_->text().trimmed().toStdString();
  c.measure = ClaimMeasure(measure_->currentIndex());
  c.sameness = kind_->currentIndex() == 2;
  c.second_higher = kind_->currentIndex() == 0;
  c.ratio = value_of(ratio_, c.ratio);
  // The ratio goes the way the claim does.
  if (c.sameness ? c.ratio < 1 : (c.second_higher ? c.ratio < 1 : c.ratio > 1))
    c.ratio = 1 / c.ratio;
  c.pair_sd = value_of(spread_, 100 * c.pair_sd) / 100;
  test.chance = value_of(chance_, 100 * test.chance) / 100;
  if (test == *before) return;
  if (const auto needed = pairs_needed(c, test.chance, test.level)) test.pairs = *needed;
  model_.set_claim(index_, test, tr("the claim"));
}

void ClaimPage::take_value(int row) {
  const ClaimTest* before = chosen();
  if (filling_ || !before || before->unsealed) return;
  const std::string code = table_->item(row, 3)->text().toStdString();
  QString text = table_->item(row, 4)->text().trimmed();
  ClaimTest test = *before;
  std::erase_if(test.values, [&](const auto& v) { return v.code == code; });
  const auto back = [this] {
    QMetaObject::invokeMethod(this, [this] { refill(); }, Qt::QueuedConnection);
  };
  if (!text.isEmpty()) {
    const bool more = text.startsWith('>');
    if (more) text = text.mid(1).trimmed();
    const auto value = parse_number(text.toStdString());
    if (!value || !(*value > 0)) {
      emit workbench_.refused(
          tr("\"%1\" is no figure above 0. What was there before stands.").arg(text));
      return back();
    }
    if (more && before->claim.measure != ClaimMeasure::life) {
      emit workbench_.refused(
          tr("\"More than\" belongs to lives only. What was there before stands."));
      return back();
    }
    test.values.push_back({code, *value, more});
  }
  const int at = index_;
  // The table is filled anew while it is still busy with this cell: after it.
  QMetaObject::invokeMethod(
      this, [this, test, at] { model_.set_claim(at, test, tr("a figure of the claim")); },
      Qt::QueuedConnection);
}

}  // namespace bq::ui
