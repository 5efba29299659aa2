#include "ui/section/wear_page.h"

#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/parts/plain_table.h"
#include "ui/plot/plot_view.h"
#include "workflow/thinning_study.h"

namespace bq::ui {
namespace {

/// "−17 %", "0 %".
QString percent_change(double share) {
  const int percent = int(std::lround(100 * share));
  return (percent < 0 ? QString(QChar(0x2212)) : QString()) +
         QStringLiteral("%1 %").arg(std::abs(percent));
}

}  // namespace

WearPage::WearPage(Workbench& workbench, SectionModel& model, QWidget* parent)
    : HelperPage(workbench, model, tr("Touch-ups and thinning"), {}, parent),
      worn_(new NumberEntry),
      limit_(new NumberEntry),
      wish_(new NumberEntry),
      wheel_(new NumberEntry),
      count_(new NumberEntry),
      sentence_(new QLabel),
      thinning_(quiet_label({})),
      plot_(new PlotView),
      table_(new QTableWidget(0, 5)) {
  lay_out();
  listen();
}

void WearPage::lay_out() {
  const auto set_up = [&](NumberEntry* box, double least, double most, int decimals, double step,
                          double value, const QString& suffix, const QString& name) {
    set_up_number(box, least, most, decimals, step, suffix, name);
    box->setValue(value);
    connect(box, &NumberEntry::valueChanged, this, &WearPage::refresh);
  };
  set_up(worn_, 0.5, 500, 1, 1, 8, tr(" µm"), tr("Apex width at which it is touched up"));
  set_up(limit_, 0.05, 20, 2, 0.05, 0.7, tr(" mm"),
         tr("Thickness behind the edge at which thinning is due"));
  set_up(wish_, 0.05, 20, 2, 0.05, 0.25, tr(" mm"),
         tr("Thickness behind the edge wished after thinning"));
  set_up(wheel_, 9, 2000, 0, 5, 9, tr(" mm R"), tr("Radius of the hollow grind's wheel"));
  wheel_->setSpecialValueText(tr("as ground"));
  count_->set_whole();
  count_->setRange(1, 500);
  count_->setValue(40);
  count_->setAccessibleName(tr("Touch-ups to look ahead"));
  connect(count_, &NumberEntry::valueChanged, this, &WearPage::refresh);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->addWidget(quiet_label(tr("worn to")), 0, 0);
  grid->addWidget(quiet_label(tr("touch-ups")), 0, 1);
  grid->addWidget(quiet_label(tr("thin above")), 0, 2);
  grid->addWidget(worn_, 1, 0);
  grid->addWidget(count_, 1, 1);
  grid->addWidget(limit_, 1, 2);
  column_->addLayout(grid);
  sentence_->setWordWrap(true);
  column_->addWidget(sentence_);
  plot_->setMinimumHeight(170);
  column_->addWidget(plot_, 1);
  column_->addWidget(heading(tr("Ways to thin it")));
  auto* wish = new QHBoxLayout;
  wish->addWidget(quiet_label(tr("behind the edge")));
  wish->addWidget(wish_);
  wish->addWidget(quiet_label(tr("wheel")));
  wish->addWidget(wheel_);
  column_->addLayout(wish);
  table_->setHorizontalHeaderLabels({tr("way"), tr("mm³"), tr("min"), tr("parting"), tr("MPa")});
  table_->horizontalHeaderItem(3)->setToolTip(
      tr("How much less force parts the material, down to where the thinned face runs out"));
  table_->horizontalHeaderItem(4)->setToolTip(tr("Stress under the load said on Outcomes"));
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  make_plain(table_, tr("What thinning costs in each shape"));
  column_->addWidget(table_);
  column_->addWidget(thinning_);
}

void WearPage::listen() {
  // A series costs milliseconds: only while it is looked at.
  connect(&model(), &SectionModel::study_changed, this, [this] {
    if (isVisible()) refresh();
  });
  connect(&workbench(), &Workbench::display_changed, this, [this] { plot_->retheme(); });
}

QString WearPage::sentence() const { return sentence_->text(); }

void WearPage::refresh() {
  const SectionStudy* study = model().study();
  const auto& grinds = model().plan().grinds;
  plot_->set_empty_text(tr("No series for this section."));
  if (!study || grinds.empty()) {
    sentence_->setText(tr("There is no edge to touch up."));
    plot_->show_plot({tr("touch-ups"), tr("behind the edge, mm")}, {});
    return;
  }
  const TouchUp touch_up = touch_up_of(study->section, grinds, worn_->value());
  const auto series = touch_up_series(study->section, touch_up, count_->whole());
  if (!series) {
    sentence_->setText(tr("It cannot be touched up like this: %1.")
                           .arg(QString::fromStdString(series.refusal().reason)));
    plot_->show_plot({tr("touch-ups"), tr("behind the edge, mm")}, {});
  } else {
    PlotSeries line;
    line.name = tr("behind the edge");
    for (const auto& state : *series) {
      line.x.push_back(state.touch_ups);
      line.y.push_back(state.shoulder_thickness_mm);
    }
    plot_->show_plot({tr("touch-ups"), tr("behind the edge, mm")}, {line});
    const auto due = thinning_due(*series, limit_->value());
    const auto& last = series->back();
    const bool to_zero = study->behind && !study->behind->thickness_mm;
    const QString angles = tr("the angle is %1° inclusive (%2° at the start).")
                               .arg(QString::number(last.inclusive_deg, 'f', 1),
                                    QString::number(series->front().inclusive_deg, 'f', 1));
    const QString receded = tr("After %1 the apex has receded %2 mm")
                                .arg(last.touch_ups)
                                .arg(last.apex_receded_mm, 0, 'f', 2);
    const QString thinning = due ? tr("Thinning is due after touch-up %1 (above %2 mm).")
                                       .arg(*due)
                                       .arg(limit_->value(), 0, 'f', 2)
                                 : tr("No thinning within %1 touch-ups.").arg(count_->whole());
    sentence_->setText(
        to_zero ? tr("Ground to zero: there is no thickness behind the edge to thin. %1; %2")
                      .arg(receded, angles)
                : tr("%1 %2, the edge is %3 mm thick behind its bevel; %4")
                      .arg(thinning, receded, QString::number(last.shoulder_thickness_mm, 'f', 3),
                           angles));
  }
  show_thinning(*study);
}

void WearPage::show_thinning(const SectionStudy& study) {
  ThinningQuestion question;
  question.wish.behind_edge_mm = wish_->value();
  if (wheel_->value() > wheel_->minimum()) question.wish.wheel_radius_mm = wheel_->value();
  question.wish.blend_mm = std::min(0.45 * study.section.height_mm(), 12.0);
  question.load = model().questions().load();
  question.due_mm = limit_->value();
  question.worn_um = worn_->value();
  question.look_ahead = count_->whole();
  table_->setRowCount(0);
  if (model().blade() < 0) return thinning_->clear();
  const auto ways = thinning_of(workbench().trial(), std::size_t(model().blade()), study.section,
                                model().plan().grinds, question);
  if (!ways) {
    table_->hide();
    return thinning_->setText(tr("No thinning to that thickness: %1.")
                                  .arg(QString::fromStdString(ways.refusal().reason)));
  }
  table_->show();
  table_->setRowCount(int(ways->size()));
  QStringList lines;
  for (int row = 0; row < int(ways->size()); ++row) {
    const ThinningAnswer& way = (*ways)[std::size_t(row)];
    const QString what = QString::fromStdString(way.option.what);
    lines << QString::fromStdString(way.sentence) + '.';
    QStringList cells{way.option.why_not.empty() ? what : tr("%1: cannot be ground").arg(what)};
    if (way.option.why_not.empty())
      cells << QString::fromStdString(print_number(way.metal_mm3, 2))
            << (!way.minutes          ? QStringLiteral("–")
                : *way.minutes < 0.05 ? QStringLiteral("< 0.1")
                                      : (way.minutes_estimated ? QStringLiteral("~") : QString()) +
                                            QString::number(*way.minutes, 'f', 1))
            << percent_change(way.parting_change)
            << (way.option.peak_MPa ? QString::number(*way.option.peak_MPa, 'f', 0) : QString());
    for (int column = 0; column < int(cells.size()); ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      item->setToolTip(lines.back());
      table_->setItem(row, column, item);
    }
  }
  table_->setFixedHeight(table_->horizontalHeader()->sizeHint().height() +
                         table_->verticalHeader()->defaultSectionSize() * table_->rowCount() + 4);
  thinning_->setText(
      tr("Thinned up to %1 mm from the apex, along the whole edge; the edge is honed again after "
         "it. ~ marks an estimated rate.")
          .arg(question.wish.blend_mm, 0, 'f', 1) +
      '\n' + lines.join('\n'));
}

}  // namespace bq::ui
