// What the schools of sharpeners hold, against what this bench has measured.
#include "quantity/said.h"
#include "ui/verdict/verdict_view.h"

#include <QHeaderView>
#include <QVBoxLayout>

#include "quantity/number.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/parts/words.h"
#include "ui/verdict/chance_band.h"
#include "ui/verdict/compare_panel.h"
#include "ui/verdict/limits_panel.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "workflow/answers.h"

namespace bq::ui {

QWidget* VerdictView::make_schools_page() {
  schools_->setWordWrap(true);
  schools_->setTextFormat(Qt::RichText);
  next_->setTextFormat(Qt::RichText);
  schools_->setAlignment(Qt::AlignTop);
  starting_->setHorizontalHeaderLabels(
      {tr("Work"), tr("Apex angle"), tr("commonly said"), tr("Finish µm"), tr("commonly said")});
  starting_->verticalHeader()->hide();
  starting_->setShowGrid(false);
  starting_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  starting_->setSelectionMode(QAbstractItemView::NoSelection);
  starting_->setFocusPolicy(Qt::NoFocus);
  starting_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  starting_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  starting_->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  starting_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  starting_->setAccessibleName(tr("Customary starting ranges"));
  auto* inside = new QWidget;
  auto* layout = new QVBoxLayout(inside);
  layout->setContentsMargins(0, 0, 12, 0);
  layout->setSpacing(10);
  layout->addWidget(heading(tr("Where practitioners disagree, and what this bench says")));
  layout->addWidget(schools_);
  layout->addSpacing(8);
  layout->addWidget(heading(tr("Where testers customarily start")));
  layout->addWidget(
      quiet_label(tr("A convention, not evidence of this bench. Authors differ: the wider range "
                     "holds what is commonly said. Once this bench has runs, they go before it.")));
  layout->addWidget(starting_);
  layout->addStretch();
  return scrolled(inside);
}

void VerdictView::show_schools() {
  QString html;
  for (const auto& school : model_->verdict().schools)
    html += QStringLiteral(
                "<p style='margin:0 0 10px 0'><b>%1</b><br/>%2 %3<br/>%4 %5<br/><b>%6</b> %7</p>")
                .arg(text_of(school.matter).toHtmlEscaped(), tr("One school:"),
                     text_of(school.first).toHtmlEscaped(), tr("The other:"),
                     text_of(school.second).toHtmlEscaped(), tr("This bench:"),
                     text_of(school.evidence).toHtmlEscaped());
  schools_->setText(html.isEmpty() ? tr("Nothing can be said before there are runs.") : html);
  starting_->setRowCount(0);
  const auto angles = workbench_.display().angles;
  const auto degrees = [&](double a, double b) {
    return tr("%1° to %2°")
        .arg(text_of(print_angle_number(a, angles)), text_of(print_angle_number(b, angles)));
  };
  const auto range = [](double a, double b) {
    return tr("%1 to %2").arg(text_of(print_number(a, 3)), text_of(print_number(b, 3)));
  };
  for (const auto& r : model_->verdict().starting) {
    const int row = starting_->rowCount();
    starting_->insertRow(row);
    int column = 0;
    for (const QString& text :
         {text_of(said(r.work.data())), degrees(r.angle_from_deg, r.angle_to_deg),
          degrees(r.angle_least_deg, r.angle_most_deg), range(r.finish_from_um, r.finish_to_um),
          range(r.finish_least_um, r.finish_most_um)}) {
      auto* item = new QTableWidgetItem(text);
      item->setToolTip(text_of(said(r.words.data())));
      if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      starting_->setItem(row, column++, item);
    }
  }
  starting_->horizontalHeaderItem(1)->setText(tr("Apex, %1").arg(text_of(words_of(angles))));
  starting_->setFixedHeight(starting_->horizontalHeader()->sizeHint().height() + 8 +
                            starting_->verticalHeader()->defaultSectionSize() *
                                std::max(1, starting_->rowCount()));
}

}  // namespace bq::ui
