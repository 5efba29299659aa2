#include "ui/stones/compare_page.h"

#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "bluntness/treatment_verdict.h"
#include "quantity/number.h"
#include "ui/theme/theme.h"

namespace bq::ui {
ComparePage::ComparePage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("This one or that one?"), parent),
      choice_(new QComboBox),
      new_name_(new QLineEdit),
      add_(new QPushButton(tr("Begin"))),
      remove_(new QPushButton(tr("Take it out"))),
      result_(new QLabel),
      price_(new QLabel),
      verdict_(new QLabel),
      cautions_(quiet_label({})),
      fields_([this] { take(); }),
      pairs_(new QTableWidget(0, 4)),
      form_(new QWidget) {
  choice_->setAccessibleName(tr("Comparison"));
  choice_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  new_name_->setPlaceholderText(tr("name of a new one"));
  new_name_->setAccessibleName(tr("Name of a new comparison"));
  for (QLabel* label : {result_, price_, verdict_}) label->setWordWrap(true);
  result_->setFont(font_of(kHeading, true));
  auto* top = new QHBoxLayout;
  top->addWidget(choice_, 3);
  top->addWidget(new_name_, 2);
  top->addWidget(add_);
  column_->addLayout(top);
  for (QLabel* label : {result_, verdict_, price_, cautions_}) column_->addWidget(label);
  lay_out_treatments();
  column_->addWidget(form_);
  pairs_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  pairs_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  pairs_->verticalHeader()->hide();
  pairs_->setShowGrid(false);
  pairs_->setMinimumHeight(190);
  pairs_->setAccessibleName(tr("Pairs of readings"));
  connect(pairs_, &QTableWidget::cellChanged, this, [this](int row, int) { take_pair(row); });
  column_->addWidget(pairs_, 1);
  listen();
}

void ComparePage::listen() {
  column_->addWidget(quiet_label(
      tr("A pair is two neighbouring marked sections of one blade, one for each treatment, read "
         "alike; draw by lot which gets which. The last line is for the next pair.")));
  column_->addWidget(remove_, 0, Qt::AlignLeft);
  connect(choice_, &QComboBox::activated, this, [this](int index) {
    id_ = choice_->itemData(index).toLongLong();
    reload();
  });
  connect(add_, &QPushButton::clicked, this, &ComparePage::add_new);
  connect(new_name_, &QLineEdit::returnPressed, this, &ComparePage::add_new);
  connect(remove_, &QPushButton::clicked, this, [this] {
    if (chosen())
      this->workbench().edit([&](ProjectSession& session) { session.remove_comparison(id_); });
  });
}

void ComparePage::lay_out_treatments() {
  using T = Treatment;
  auto* grid = new QGridLayout(form_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(5);
  grid->setColumnStretch(1, 1);
  grid->setColumnStretch(2, 1);
  for (int i = 0; i < 2; ++i) {
    auto& treatment = treatments_.emplace_back([this] { take(); });
    const QString who = i == 0 ? tr("first") : tr("second");
    auto* name = names_[std::size_t(i)] = new QComboBox;
    name->setEditable(true);
    name->setInsertPolicy(QComboBox::NoInsert);
    name->setAccessibleName(tr("treatment"));
    connect(name->lineEdit(), &QLineEdit::editingFinished, this, &ComparePage::take);
    connect(name, &QComboBox::activated, this, &ComparePage::take);
    treatment.bind([name](const T& t) { name->setCurrentText(text_of(t.name)); },
                   [name](T& t) { t.name = name->currentText().trimmed().toStdString(); });
    int row = 0;
    for (QWidget* entry :
         {static_cast<QWidget*>(name), static_cast<QWidget*>(treatment.number<&T::minutes>(1, 0.5)),
          static_cast<QWidget*>(treatment.number<&T::metal_mm3>(2, 0.5)),
          static_cast<QWidget*>(treatment.number<&T::wear_um>(1, 0.5)),
          static_cast<QWidget*>(treatment.number<&T::wear_price>(2, 0.5)),
          static_cast<QWidget*>(treatment.text<&T::mess>())}) {
      if (i == 0) grid->addWidget(quiet_label(entry->accessibleName()), row, 0);
      entry->setAccessibleName(tr("%1 (%2)").arg(entry->accessibleName(), who));
      entry->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
      grid->addWidget(entry, row++, i + 1);
    }
  }
  auto* per_hour = fields_.number<&Comparison::price_per_hour>(2, 1, tr(" an hour"));
  grid->addWidget(quiet_label(per_hour->accessibleName()), 6, 0);
  grid->addWidget(per_hour, 6, 1);
}

QString ComparePage::result() const { return result_->text(); }

const Comparison* ComparePage::chosen() const {
  for (const auto& c : trial().comparisons)
    if (c.id == id_) return &c;
  return nullptr;
}

void ComparePage::reload() {
  if (!chosen()) id_ = trial().comparisons.empty() ? 0 : trial().comparisons.back().id;
  filling_ = true;
  choice_->clear();
  for (const auto& c : trial().comparisons)
    choice_->addItem(QString::fromStdString(c.name), qlonglong(c.id));
  choice_->setCurrentIndex(choice_->findData(qlonglong(id_)));
  choice_->setToolTip(choice_->currentText());
  const Comparison* c = chosen();
  for (QWidget* widget : {form_, static_cast<QWidget*>(pairs_), static_cast<QWidget*>(remove_)}) {
    widget->setVisible(c);
    widget->setEnabled(workbench().writable());
  }
  if (c) {
    for (QComboBox* name : names_) {
      name->clear();
      for (const auto& a : trial().shelf) name->addItem(text_of(a.name));
    }
    treatments_[0].show(c->first);
    treatments_[1].show(c->second);
    fields_.show(*c);
    const QString unit = QString::fromStdString(c->unit);
    pairs_->setHorizontalHeaderLabels(
        {tr("blade"), tr("place"), tr("%1, %2").arg(QString::fromStdString(c->first.name), unit),
         tr("%1, %2").arg(QString::fromStdString(c->second.name), unit)});
    pairs_->setRowCount(int(c->pairs.size()) + 1);
    for (int row = 0; row <= int(c->pairs.size()); ++row) {
      const bool last = row == int(c->pairs.size());
      const ComparisonPair pair = last ? ComparisonPair{} : c->pairs[std::size_t(row)];
      const QStringList cells{
          QString::fromStdString(pair.blade), QString::fromStdString(pair.place),
          last ? QString() : QString::fromStdString(print_number(pair.first, 5)),
          last ? QString() : QString::fromStdString(print_number(pair.second, 5))};
      for (int column = 0; column < 4; ++column) {
        auto* item = new QTableWidgetItem(cells[column]);
        item->setToolTip(cells[column]);
        if (column > 1) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        pairs_->setItem(row, column, item);
      }
    }
  }
  filling_ = false;
  show_verdict();
}

void ComparePage::show_verdict() {
  const Comparison* c = chosen();
  price_->clear();
  verdict_->clear();
  cautions_->clear();
  if (!c)
    return result_->setText(
        tr("Two stones, two strops, two routes: mark sections on a blade, treat them by turns, "
           "read both. Give it a name above."));
  const auto v = compare_treatments(*c);
  if (!v)
    return result_->setText(
        tr("No answer yet: %1.").arg(QString::fromStdString(v.refusal().reason)));
  result_->setText(QString::fromStdString(v->result));
  price_->setText(QString::fromStdString(v->price));
  verdict_->setText(QString::fromStdString(v->verdict));
  QStringList cautions;
  if (v->test.p)
    cautions << tr("t test p %1; signed rank p %2.")
                    .arg(*v->test.p, 0, 'g', 2)
                    .arg(v->test.signed_rank_p.value_or(1), 0, 'g', 2);
  for (const auto& caution : v->cautions) cautions << QString::fromStdString(caution);
  cautions_->setText(cautions.join(QStringLiteral(" ")));
}

void ComparePage::keep(const Comparison& comparison) {
  if (!workbench().edit([&](ProjectSession& session) { session.set_comparison(comparison); }))
    reload();
}

void ComparePage::take() {
  const Comparison* before = chosen();
  if (filling_ || !before) return;
  Comparison c = fields_.taken(*before);
  c.first = treatments_[0].taken(c.first);
  c.second = treatments_[1].taken(c.second);
  if (!(c == *before)) keep(c);
}

void ComparePage::take_pair(int row) {
  const Comparison* before = chosen();
  if (filling_ || !before) return;
  const auto cell = [&](int column) {
    return pairs_->item(row, column) ? pairs_->item(row, column)->text().trimmed() : QString();
  };
  Comparison c = *before;
  const bool empty =
      cell(0).isEmpty() && cell(1).isEmpty() && cell(2).isEmpty() && cell(3).isEmpty();
  if (row < int(c.pairs.size()) && empty) {
    c.pairs.erase(c.pairs.begin() + row);
    return keep(c);
  }
  if (cell(2).isEmpty() || cell(3).isEmpty()) return;  // not whole yet
  const auto first = parse_number(cell(2).toStdString()),
             second = parse_number(cell(3).toStdString());
  if (!first || !second || !(*first > 0) || !(*second > 0)) {
    emit workbench().refused(tr("A reading is a number above 0, not \"%1\". The pair was not kept.")
                                 .arg(first && *first > 0 ? cell(3) : cell(2)));
    return;
  }
  const ComparisonPair pair{cell(0).isEmpty() && model().blade_facts() ? model().blade_facts()->name
                                                                       : cell(0).toStdString(),
                            cell(1).toStdString(), *first, *second};
  if (row < int(c.pairs.size()))
    c.pairs[std::size_t(row)] = pair;
  else
    c.pairs.push_back(pair);
  // The table is filled anew while it is still busy with this cell: after it.
  QMetaObject::invokeMethod(this, [this, c] { keep(c); }, Qt::QueuedConnection);
}

void ComparePage::add_new() {
  Comparison c;
  c.name = new_name_->text().trimmed().toStdString();
  c.first.name = tr("first").toStdString();
  c.second.name = tr("second").toStdString();
  c.unit = std::string(sign_of(trial().unit()));
  if (!workbench().edit([&](ProjectSession& session) { session.set_comparison(c); })) return;
  new_name_->clear();
  id_ = trial().comparisons.back().id;
  reload();
}

void ComparePage::hideEvent(QHideEvent* event) {
  take();  // what was typed and not yet left
  StonesPage::hideEvent(event);
}

}  // namespace bq::ui
