#include "ui/verdict/compare_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/findings/picture_series.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/parts/words.h"
#include "ui/plot/plot_view.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "workflow/report_source.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

/// Where the least and the most force differ by less, it is nothing to choose by: readings and
/// friction do not tell more.
constexpr double kHardlyDiffers = 1.1;

}  // namespace

ComparePanel::ComparePanel(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      plot_(new PlotView),
      other_(new QComboBox),
      left_glyph_(new EdgeGlyph),
      right_glyph_(new EdgeGlyph),
      table_(new QTableWidget(0, 3)),
      why_(quiet_label({})) {
  plot_->set_empty_text(tr("No edge passes yet."));
  plot_->setMinimumHeight(190);
  other_->setAccessibleName(tr("Compare with"));
  other_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(21);
  table_->setShowGrid(false);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  table_->setFocusPolicy(Qt::NoFocus);
  table_->horizontalHeader()->hide();
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  table_->setAccessibleName(tr("Two edges side by side"));
  for (auto* glyph : {left_glyph_, right_glyph_}) glyph->setFixedSize(52, 58);
  lay_out();
}

void ComparePanel::lay_out() {
  auto* head = new QHBoxLayout;
  head->setSpacing(6);
  head->addWidget(left_glyph_);
  head->addWidget(right_glyph_);
  auto* choice = new QVBoxLayout;
  choice->addWidget(new QLabel(tr("Chosen edge against")));
  choice->addWidget(other_);
  head->addLayout(choice, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addWidget(plot_, 5);
  layout->addWidget(why_);
  layout->addLayout(head);
  layout->addWidget(table_, 6);
  connect(other_, &QComboBox::activated, this, &ComparePanel::fill);
  connect(plot_, &PlotView::run_picked, this, [this](const QString& name) {
    for (std::size_t i = 0; i < edges_.size(); ++i)
      if (text_of(name_of(edges_[i], workbench_.display().angles)) == name)
        return emit edge_picked(int(i));
  });
}

void ComparePanel::show_verdict(const Verdict& verdict) {
  edges_ = verdict.recommendation ? verdict.recommendation->ranked : std::vector<RankedEdge>{};
  const auto angles = workbench_.display().angles;
  Picture picture = edges_.empty() ? Picture{} : trade_off_picture(verdict, angles);
  for (auto& series : picture.series)
    if (series.kind == PictureSeries::Kind::line)
      series.name.clear();  // said below the picture, which is narrow
  show_picture(*plot_, picture, workbench_);
  plot_->setToolTip(tr("Click a point to choose its edge."));
  const QString before = other_->currentText();
  other_->clear();
  for (const auto& edge : edges_) {
    other_->addItem(text_of(name_of(edge, angles)));
    other_->setItemData(other_->count() - 1, other_->itemText(other_->count() - 1),
                        Qt::ToolTipRole);
  }
  if (const int at = other_->findText(before); at >= 0) other_->setCurrentIndex(at);
  double least = INFINITY, most = 0;
  for (const auto& edge : edges_)
    if (edge.force_blunt_N) {
      least = std::min(least, *edge.force_blunt_N);
      most = std::max(most, *edge.force_blunt_N);
    }
  // A picture of two axes is a choice to be made; where one hardly differs there is none.
  const bool choice = most > kHardlyDiffers * least;
  plot_->setVisible(choice);
  why_->setText(choice ? tr("Dashed: no edge is better in both.")
                : least < INFINITY
                    ? tr("Force is nothing to choose by here: a cut when blunt takes %1 to "
                         "%2 N with all of them.")
                          .arg(text_of(print_number(least, 3)), text_of(print_number(most, 3)))
                    : text_of(verdict.force_note));
  why_->setVisible(!edges_.empty());
  choose(0);
}

void ComparePanel::choose(int row) {
  row_ = row;
  if (row >= 0 && row < int(edges_.size()))
    plot_->light_run(text_of(name_of(edges_[std::size_t(row)], workbench_.display().angles)));
  if (other_->currentIndex() == row) other_->setCurrentIndex(row == 0 && edges_.size() > 1 ? 1 : 0);
  fill();
}

void ComparePanel::fill() {
  const bool any = row_ >= 0 && row_ < int(edges_.size());
  for (QWidget* widget : {static_cast<QWidget*>(left_glyph_), static_cast<QWidget*>(right_glyph_),
                          static_cast<QWidget*>(table_), static_cast<QWidget*>(other_)})
    widget->setEnabled(any);
  table_->setRowCount(0);
  if (!any) {
    left_glyph_->show_edge({}, {});
    right_glyph_->show_edge({}, {});
    return;
  }
  const RankedEdge& a = edges_[std::size_t(row_)];
  const RankedEdge& b = edges_[std::size_t(std::max(0, other_->currentIndex()))];
  left_glyph_->show_edge(geometry_of(a), finish_of(a));
  right_glyph_->show_edge(geometry_of(b), finish_of(b));
  other_->setToolTip(other_->currentText());
  const auto add = [this](const QString& words, const QString& first, const QString& second) {
    const int row = table_->rowCount();
    table_->insertRow(row);
    int column = 0;
    for (const QString& text : {words, first, second}) {
      auto* item = new QTableWidgetItem(text);
      item->setToolTip(text);
      if (column > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      table_->setItem(row, column++, item);
    }
  };
  const auto cuts = [](double value) { return text_of(print_cuts(value)); };
  const QString unknown = tr("not known");
  const auto figure = [&](const std::optional<double>& value, const char* unit, int digits) {
    return value ? text_of(print_number(*value, digits)) + QStringLiteral(" ") +
                       QString::fromUtf8(unit)
                 : unknown;
  };
  const auto free_for = [&](const RankedEdge& e) {
    return e.damage_rate_upper ? cuts(std::floor(1 / *e.damage_rate_upper)) : unknown;
  };
  const auto minutes = [&](const RankedEdge& e) {
    return e.resharpening ? text_of(print_number(e.resharpening->minutes, 2)) + tr(" min")
                          : unknown;
  };
  const auto roughest = [&](const RankedEdge& e) {
    return e.roughest == RoughestUse::held      ? tr("held")
           : e.roughest == RoughestUse::damaged ? tr("damaged")
                                                : tr("not known");
  };
  const auto angles = workbench_.display().angles;
  const auto deg = [&](double value) {
    return text_of(print_angle_number(value, angles)) + QStringLiteral("°");
  };
  add(tr("Steel"), text_of(a.steel), text_of(b.steel));
  add(tr("Apex, %1").arg(text_of(words_of(angles))), deg(a.angle_deg), deg(b.angle_deg));
  if (a.edge_deg || b.edge_deg)
    add(tr("Edge bevel"), a.edge_deg ? deg(*a.edge_deg) : tr("none"),
        b.edge_deg ? deg(*b.edge_deg) : tr("none"));
  add(tr("Usual life, cuts"), cuts(a.life), cuts(b.life));
  add(tr("Next edge, at least"), cuts(a.life_low), cuts(b.life_low));
  add(tr("Force fresh"), figure(a.force_fresh_N, "N", 3), figure(b.force_fresh_N, "N", 3));
  add(tr("Force when blunt"), figure(a.force_blunt_N, "N", 3), figure(b.force_blunt_N, "N", 3));
  add(tr("No damage in, cuts"), free_for(a), free_for(b));
  add(tr("Roughest use"), roughest(a), roughest(b));
  add(tr("Stress / limit"), figure(a.stress_ratio, "", 2), figure(b.stress_ratio, "", 2));
  add(tr("Touch-up"), minutes(a), minutes(b));
}

}  // namespace bq::ui
