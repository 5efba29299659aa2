#include "ui/findings/answer_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/plot/plot_view.h"

namespace bq::ui {

AnswerPage::AnswerPage(Workbench& workbench, const QString& how, QWidget* parent)
    : QWidget(parent), controls_(new QHBoxLayout), plot_(new PlotView), table_(new QTableWidget),
      workbench_(workbench), sentence_(new QLabel), how_(quiet_label(how)) {
  sentence_->setFont(font_of(20));
  sentence_->setWordWrap(true);
  sentence_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  sentence_->setMinimumHeight(54);
  sentence_->setAlignment(Qt::AlignTop);
  sentence_->setAccessibleName(tr("Answer"));
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(26);
  table_->setShowGrid(false);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setTabKeyNavigation(false);
  table_->horizontalHeader()->setHighlightSections(false);
  table_->horizontalHeader()->setTextElideMode(Qt::ElideRight);
  table_->setAccessibleName(tr("Table behind the answer"));
  auto* unfold = new QPushButton(tr("How was this computed?"));
  unfold->setObjectName(QStringLiteral("flat"));
  unfold->setCheckable(true);
  how_->hide();
  connect(unfold, &QPushButton::toggled, how_, &QLabel::setVisible);

  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(sentence_);
  layout->addLayout(controls_);
  layout->addWidget(plot_, 5);
  layout->addWidget(table_, 3);
  layout->addWidget(unfold, 0, Qt::AlignLeft);
  layout->addWidget(how_);
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
      const bool number = !text.isEmpty() && (text[0].isDigit() || QStringLiteral("<>-−–").contains(text[0]));
      item->setTextAlignment(Qt::AlignVCenter | (number ? Qt::AlignRight : Qt::AlignLeft));
      item->setToolTip(text);
    }
  for (int c = 0; c < heads.size(); ++c) {
    table_->horizontalHeaderItem(c)->setToolTip(heads[c]);
    const auto* first = rows.empty() ? nullptr : table_->item(0, c);
    table_->horizontalHeaderItem(c)->setTextAlignment(
        first ? Qt::Alignment(first->textAlignment()) : Qt::AlignLeft | Qt::AlignVCenter);
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
  table_->horizontalHeader()->setStretchLastSection(corner && !(corner->textAlignment() & Qt::AlignRight));
  table_->setUpdatesEnabled(true);
}

}  // namespace bq::ui
