#include "ui/findings/life_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <map>

#include "quantity/number.h"
#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {

std::vector<PlotSeries> life_series(const Workbench& workbench, const LifeFindings& findings,
                                    bool with_bands) {
  const double factor = workbench.display().angles == AngleConvention::inclusive ? 2 : 1;
  std::vector<PlotSeries> out;
  const auto scaled = [factor](std::vector<double> angles) {
    for (double& angle : angles) angle *= factor;
    return angles;
  };
  for (const auto& line : findings.lines) {
    PlotSeries series;
    series.name = QString::fromStdString(line.steel);
    series.style = workbench.steel_style(line.steel);
    series.x = scaled(line.angle_deg);
    series.y = line.life;
    if (with_bands) {
      series.y_low = line.low;
      series.y_high = line.high;
    }
    series.label_at_end = true;
    out.push_back(std::move(series));
  }
  if (!findings.pure_geometry.life.empty()) {
    PlotSeries pure;
    pure.name = QObject::tr("wear geometry alone");
    pure.ink = true;
    pure.x = scaled(findings.pure_geometry.angle_deg);
    pure.y = findings.pure_geometry.life;
    pure.label_at_start = true;
    out.push_back(std::move(pure));
  }
  std::map<std::pair<int, bool>, PlotSeries> points;
  for (const auto& row : findings.table.rows) {
    if (!row.facts.geometry) continue;
    const bool censored = row.cuts.censoring == Censoring::right;
    const int style = workbench.steel_style(row.facts.steel);
    PlotSeries& series = points[{style, censored}];
    series.name = QString::fromStdString(row.facts.steel) +
                  (censored ? QObject::tr(" (more than)") : QString());
    series.style = style;
    series.line = false;
    series.markers = true;
    series.upward_arrows = censored;
    series.runs.push_back(QString::fromStdString(row.facts.name));
    series.x.push_back(factor * row.facts.geometry->apex().equivalent_deg());
    series.y.push_back(censored ? *row.cuts.low
                                : row.cuts.estimate.value_or(row.cuts.high.value_or(1)));
  }
  for (auto& [key, series] : points) out.push_back(std::move(series));
  return out;
}

LifePage::LifePage(Workbench& bench, QWidget* parent)
    : AnswerPage(bench,
                 tr("ln(cuts to the limit) = constant + steel + slope·ln(½(tan left + tan right)) "
                    "+ finish, by maximum likelihood "
                    "with runs that never reached the limit counted as \"more than\" (log-normal "
                    "accelerated failure time). The "
                    "run is the unit of replication; t intervals on n − p. Wear geometry alone "
                    "predicts a slope of −1. See "
                    "docs/methods.md."),
                 parent),
      model_(new QComboBox) {
  model_->addItems({tr("one slope for all"), tr("angle works differently on steels"),
                    tr("angle works differently on finishes"),
                    tr("finish works differently on steels")});
  model_->setAccessibleName(tr("What the life model allows"));
  controls_->addWidget(new QLabel(tr("The pattern:")));
  controls_->addWidget(model_);
  controls_->addStretch();
  connect(model_, &QComboBox::activated, this, [this](int index) {
    static const std::vector<std::vector<std::pair<std::string, std::string>>> kWishes{
        {}, {{"steel", "angle"}}, {{"angle", "finish"}}, {{"steel", "finish"}}};
    emit interactions_wished(kWishes[std::size_t(index)]);
  });
  plot_->set_empty_text(tr("Life needs several runs that differ in steel, angle or finish."));
  connect(&workbench(), &Workbench::display_changed, this, [this] { plot_->retheme(); });
}

void LifePage::show_findings(const LifeFindings& findings) {
  set_sentence(QString::fromStdString(angle_sentence(findings, workbench().display().angles)));
  QStringList remarks;
  if (!findings.interaction_note.empty())
    remarks << tr("The wished pattern cannot be told from these runs: %1. One slope for all is "
                  "shown.")
                   .arg(QString::fromStdString(findings.interaction_note));
  if (const std::string carried = carried_sentence(findings.table); !carried.empty())
    remarks << QString::fromStdString(carried);
  set_remarks(remarks);
  PlotAxes axes{tr("apex angle, ° %1").arg(shown(workbench().display().angles)),
                findings.question.threshold > 0
                    ? tr("cuts to %1").arg(workbench().print_value(findings.question.threshold))
                    : tr("cuts to the limit")};
  axes.x_log = axes.y_log = true;
  plot_->show_plot(axes, life_series(workbench(), findings, true));
  std::vector<QStringList> rows;
  if (findings.model) {
    const auto number = [](double value, int decimals) {
      return QString::number(value, 'f', decimals).replace('-', QChar(0x2212));
    };
    for (const auto& c : findings.model->coefficients())
      rows.push_back({QString::fromStdString(c.name), number(c.estimate, 3),
                      number(c.standard_error, 3), number(c.low, 3), number(c.high, 3),
                      c.p < 0.0001 ? QStringLiteral("< 0.0001") : number(c.p, 4)});
    rows.push_back({tr("run to run SD of ln life"), number(findings.model->run_to_run_sd(), 3)});
    for (const auto& share : findings.model->shares())
      rows.push_back({tr("share of variation: %1").arg(QString::fromStdString(share.term)),
                      QStringLiteral("%1 %").arg(100 * share.share, 0, 'f', 0)});
  }
  set_table(
      {tr("Term (of ln life)"), tr("Estimate"), tr("SE"), tr("Low 95 %"), tr("High 95 %"), tr("p")},
      rows);
}

}  // namespace bq::ui
