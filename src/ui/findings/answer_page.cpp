#include "ui/findings/answer_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/parts/plain_table.h"
#include "ui/plot/plot_view.h"

namespace bq::ui {

AnswerPage::AnswerPage(Workbench& workbench, const QString& how, QWidget* parent)
    : QWidget(parent),
      controls_(new QHBoxLayout),
      plot_(new PlotView),
      table_(new QTableWidget),
      workbench_(workbench),
      sentence_(new QLabel),
      remarks_(quiet_label({})),
      how_(quiet_label(how)) {
  sentence_->setFont(font_of(20));
  sentence_->setWordWrap(true);
  sentence_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  sentence_->setMinimumHeight(54);
  sentence_->setAlignment(Qt::AlignTop);
  sentence_->setAccessibleName(tr("Answer"));
  table_->verticalHeader()->setDefaultSectionSize(26);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setAutoScroll(false);
  table_->horizontalHeader()->setHighlightSections(false);
  table_->horizontalHeader()->setTextElideMode(Qt::ElideRight);
  make_plain(table_, tr("Table behind the answer"));
  lay_out();
  listen();
}

void AnswerPage::lay_out() {
  auto* unfold = new QPushButton(tr("How was this computed?"));
  unfold->setObjectName(QStringLiteral("flat"));
  unfold->setCheckable(true);
  how_->hide();
  how_->setOpenExternalLinks(true);  // "guide:…" leads to the method
  connect(unfold, &QPushButton::toggled, how_, &QLabel::setVisible);

  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(sentence_);
  layout->addWidget(remarks_);
  remarks_->hide();
  layout->addLayout(controls_);
  layout->addWidget(plot_, 5);
  layout->addWidget(table_, 3);
  layout->addWidget(unfold, 0, Qt::AlignLeft);
  layout->addWidget(how_);
  layout->addStretch(0);
}

void AnswerPage::listen() {
  connect(plot_, &PlotView::run_picked, this, &AnswerPage::pick);
  connect(table_, &QTableWidget::cellClicked, this,
          [this](int row, int) { pick(row_runs_.value(row)); });
  connect(&workbench_, &Workbench::run_chosen, this, &AnswerPage::light_run);
}

void AnswerPage::pick(const QString& run) {
  const auto& runs = workbench_.trial().runs;
  for (std::size_t i = 0; i < runs.size() && !run.isEmpty(); ++i)
    if (runs[i].facts.name == run.toStdString()) return workbench_.choose_run(int(i));
}

void AnswerPage::light_run() {
  const int index = workbench_.current_run();
  const QString name =
      index >= 0 && index < int(workbench_.trial().runs.size())
          ? QString::fromStdString(workbench_.trial().runs[std::size_t(index)].facts.name)
          : QString();
  plot_->light_run(name);
  if (const int row = int(row_runs_.indexOf(name)); row >= 0 && row < table_->rowCount()) {
    table_->selectRow(row);
    if (isVisible())
      table_->scrollToItem(
          table_->item(row, 0));  // picked while looking at it; else the table stays at its top
  } else if (!row_runs_.isEmpty()) {
    table_->clearSelection();
  }
}

void AnswerPage::set_row_runs(const QStringList& runs) {
  row_runs_ = runs;
  light_run();
}
void AnswerPage::set_how(const QString& how) { how_->setText(how); }
void AnswerPage::set_remarks(const QStringList& remarks) {
  remarks_->setText(remarks.join(QLatin1Char(' ')));
  remarks_->setVisible(!remarks.isEmpty());
}

QString AnswerPage::sentence() const { return sentence_->text(); }
void AnswerPage::set_sentence(const QString& text) { sentence_->setText(text); }

void AnswerPage::set_table(const QStringList& heads, const std::vector<QStringList>& rows) {
  table_->setUpdatesEnabled(false);
  table_->setColumnCount(int(heads.size()));
  table_->setHorizontalHeaderLabels(heads);
  table_->setRowCount(int(rows.size()));
  for (int r = 0; r < int(rows.size()); ++r)
    for (int c = 0; c < heads.size(); ++c) {
      const QString text = rows[std::size_t(r)].value(c);
      auto* item = table_->item(r, c);
      if (!item) table_->setItem(r, c, item = new QTableWidgetItem);
      if (item->text() != text) item->setText(text);
      // A sentence may begin with a figure; a figure with its unit is short.
      const bool number = !text.isEmpty() && text.size() <= 18 &&
                          (text[0].isDigit() || QStringLiteral("<>-−–").contains(text[0]));
      item->setTextAlignment(Qt::AlignVCenter | (number ? Qt::AlignRight : Qt::AlignLeft));
      item->setToolTip(text);
    }
  for (int c = 0; c < heads.size(); ++c) {
    table_->horizontalHeaderItem(c)->setToolTip(heads[c]);
    const auto* first = rows.empty() ? nullptr : table_->item(0, c);
    table_->horizontalHeaderItem(c)->setTextAlignment(first ? Qt::Alignment(first->textAlignment())
                                                            : Qt::AlignLeft | Qt::AlignVCenter);
  }
  // Room for the longest of head and cells, and the last column takes what is left.
  const QFontMetrics metrics(table_->font());
  for (int c = 0; c < heads.size(); ++c) {
    int width = metrics.horizontalAdvance(heads[c]);
    for (std::size_t r = 0; r < rows.size() && r < 200; ++r)
      width = std::max(width, metrics.horizontalAdvance(rows[r].value(c)));
    table_->setColumnWidth(c, std::min(width + 26, 320));
  }
  // Words may run to the edge; a number stays by its neighbours.
  const auto* corner = rows.empty() ? nullptr : table_->item(0, int(heads.size()) - 1);
  table_->horizontalHeader()->setStretchLastSection(corner &&
                                                    !(corner->textAlignment() & Qt::AlignRight));
  table_->setUpdatesEnabled(true);
}

}  // namespace bq::ui
