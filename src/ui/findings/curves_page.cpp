#include "ui/findings/curves_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/curve_study.h"
#include "quantity/number.h"
#include "ui/bench/curve_panel.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

/// The group a run belongs to in an overlay, and its place among the groups.
QString group_of(const RunFacts& facts, int by, AngleConvention convention) {
  switch (by) {
    case 1:
      return QString::fromStdString(facts.steel);
    case 2:
      return facts.geometry ? QString::fromStdString(print_angle_number(
                                  facts.geometry->apex().equivalent_deg(), convention)) +
                                  QStringLiteral("° apex")
                            : QString();
    case 3:
      return facts.finish ? QString::fromStdString(print_finish(*facts.finish)) : QString();
    default:
      return {};
  }
}

}  // namespace

CurvesPage::CurvesPage(Workbench& bench, QWidget* parent)
    : AnswerPage(bench,
                 tr("Each run is fitted by least squares on the logarithm of the reading. The "
                    "power model r0 + k·n^b is "
                    "kept unless a straight line, a wear-area, a two-phase or a levelling curve "
                    "leads by more "
                    "than 6 in AICc. Cuts to the "
                    "limit: delta method on ln n, with the scatter between checkpoints carried; "
                    "nothing is extrapolated "
                    "beyond the last checkpoint. See docs/methods.md."),
                 parent),
      overlay_(new QComboBox),
      run_(new QComboBox),
      log_cuts_(new QCheckBox(tr("log cuts"))),
      log_readings_(new QCheckBox(tr("log readings"))),
      at_(new NumberEntry) {
  overlay_->addItems(
      {tr("One run"), tr("All, by steel"), tr("All, by angle"), tr("All, by finish")});
  overlay_->setCurrentIndex(by_steel);
  overlay_->setAccessibleName(tr("What is drawn"));
  run_->setAccessibleName(tr("Run"));
  run_->setMinimumWidth(120);
  controls_->addWidget(overlay_);
  controls_->addWidget(run_);
  at_->set_whole();
  at_->setRange(0, 1e9);
  at_->setDecimals(0);
  at_->setSpecialValueText(tr("read at the end"));
  at_->setPrefix(tr("read at "));
  at_->setSuffix(tr(" cuts"));
  at_->setButtonSymbols(NumberEntry::NoButtons);
  at_->setFixedWidth(150);
  at_->setAccessibleName(tr("Cuts at which the curve is read"));
  controls_->addWidget(at_);
  controls_->addWidget(log_cuts_);
  controls_->addWidget(log_readings_);
  listen();
}

void CurvesPage::listen() {
  controls_->addStretch();
  controls_->addWidget(quiet_label(tr("Drag the ochre line to move the limit.")));
  plot_->set_empty_text(tr("No readings yet. Take some at the Bench or import a table."));
  connect(overlay_, &QComboBox::currentIndexChanged, this, &CurvesPage::reload);
  connect(run_, &QComboBox::activated, this, [this](int index) { workbench().choose_run(index); });
  connect(at_, &NumberEntry::valueChanged, this, &CurvesPage::reload_table);
  connect(log_cuts_, &QCheckBox::toggled, this, &CurvesPage::reload);
  connect(log_readings_, &QCheckBox::toggled, this, &CurvesPage::reload);
  connect(plot_, &PlotView::threshold_dragged, this,
          [this](double shown) { workbench().drag_threshold(workbench().from_shown(shown)); });
  connect(plot_, &PlotView::threshold_dropped, this,
          [this](double shown) { workbench().drop_threshold(workbench().from_shown(shown)); });
  connect(&workbench(), &Workbench::fits_changed, this, &CurvesPage::reload);
  connect(&workbench(), &Workbench::run_chosen, this, &CurvesPage::reload);
  connect(&workbench(), &Workbench::threshold_changed, this, &CurvesPage::reload_threshold);
  connect(&workbench(), &Workbench::display_changed, this, [this] {
    plot_->retheme();
    reload();
  });
  connect(table_, &QTableWidget::cellDoubleClicked, this, [this](int row, int) {
    if (overlay_->currentIndex() == one_run) return;
    workbench().choose_run(table_->item(row, 0)->data(Qt::UserRole).toInt());
    overlay_->setCurrentIndex(one_run);
  });
  reload();
}

void CurvesPage::set_medium(const std::string& medium) {
  if (medium == medium_) return;
  medium_ = medium;
  reload();
}

std::vector<PlotSeries> CurvesPage::overlay(Overlay by) const {
  const Trial& trial = workbench().trial();
  const auto fits = workbench().fits();
  std::map<QString, int> order;
  std::map<QString, double> keys;
  for (const auto& run : trial.runs) {
    const QString group = group_of(run.facts, by, workbench().display().angles);
    const double key =
        by == by_angle && run.facts.geometry  ? run.facts.geometry->apex().equivalent_deg()
        : by == by_finish && run.facts.finish ? run.facts.finish->mean_um()
                                              : workbench().steel_style(run.facts.steel);
    keys.try_emplace(group, key);
  }
  std::vector<std::pair<double, QString>> sorted;
  for (const auto& [group, key] : keys) sorted.emplace_back(key, group);
  std::sort(sorted.begin(), sorted.end());
  for (std::size_t i = 0; i < sorted.size(); ++i) order[sorted[i].second] = int(i);

  std::vector<PlotSeries> out;
  std::set<QString> groups;
  const std::vector<std::string> work = work_of_runs(trial);
  constexpr std::size_t kMostCurves = 400;
  for (std::size_t i = 0; i < trial.runs.size() && i < fits->size() && out.size() < kMostCurves;
       ++i) {
    if (!(*fits)[i].curve || (!medium_.empty() && work[i] != medium_)) continue;
    const RunFit& fit = (*fits)[i];
    PlotSeries series;
    const QString group = group_of(trial.runs[i].facts, by, workbench().display().angles);
    series.name = group;
    series.style = order[group];
    series.faint = true;
    for (int k = 0; k <= 50; ++k) {
      const double n = fit.table.last_cuts() * std::pow(k / 50.0, 2);
      if (log_cuts_->isChecked() && n < 1) continue;
      series.x.push_back(n);
      series.y.push_back(workbench().shown(drawn_reading(fit, n)));
      series.runs.push_back(QString::fromStdString(trial.runs[i].facts.name));
    }
    out.push_back(std::move(series));
    groups.insert(group);
  }
  // A group's name stands at the curve that ends in its middle.
  for (const auto& group : groups) {
    std::vector<std::pair<double, std::size_t>> ends;
    for (std::size_t i = 0; i < out.size(); ++i)
      if (out[i].name == group) ends.emplace_back(out[i].y.back(), i);
    std::sort(ends.begin(), ends.end());
    auto& middle = out[ends[ends.size() / 2].second];
    middle.label_at_end = true;
    middle.faint = false;
  }
  return out;
}

void CurvesPage::reload() {
  const Trial& trial = workbench().trial();
  if (run_->count() != int(trial.runs.size())) {
    run_->clear();
    for (const auto& run : trial.runs) run_->addItem(QString::fromStdString(run.facts.name));
  }
  run_->setCurrentIndex(workbench().current_run());
  const auto by = Overlay(overlay_->currentIndex());
  run_->setVisible(by == one_run);
  at_->setVisible(by == one_run);
  PlotAxes axes{tr("cuts"),
                tr("reading, %1").arg(QString::fromUtf8(sign_of(workbench().shown_unit()).data()))};
  axes.x_log = log_cuts_->isChecked();
  axes.y_log = log_readings_->isChecked();
  std::vector<PlotSeries> series;
  if (by == one_run && workbench().current_run() >= 0) {
    series = run_series(workbench(), std::size_t(workbench().current_run()), true, 1e15);
    if (axes.x_log)
      for (auto& s : series) {
        // 0 cuts has no place on a log axis.
        std::vector<double> x, y;
        for (std::size_t i = 0; i < s.x.size(); ++i)
          if (s.x[i] >= 1) {
            x.push_back(s.x[i]);
            y.push_back(s.y[i]);
          }
        s.x = x;
        s.y = y;
        s.y_low.clear();
        s.y_high.clear();
      }
  } else if (by != one_run) {
    series = overlay(by);
  }
  plot_->show_plot(axes, series);
  reload_threshold();
}

void CurvesPage::reload_threshold() {
  const auto threshold = workbench().threshold();
  const bool any = threshold && workbench().trial().reading_count() > 0;
  plot_->set_threshold(any ? std::optional(workbench().shown(*threshold)) : std::nullopt,
                       workbench().threshold_text());
  reload_table();
}

void CurvesPage::reload_table() {
  const Trial& trial = workbench().trial();
  const auto fits = workbench().fits();
  const auto threshold = workbench().threshold();
  if (!threshold || fits->empty()) {
    set_sentence(workbench().has_project() ? tr("No answer yet: there are no readings.")
                                           : tr("No project is open."));
    set_table({}, {});
    return;
  }
  const QString limit = workbench().print_value(*threshold);
  std::vector<QStringList> rows;
  std::vector<int> indices;
  const std::vector<std::string> work = work_of_runs(trial);
  int reached = 0, censored = 0, near = 0, dull = 0, unfit = 0;
  for (std::size_t i = 0; i < fits->size() && i < trial.runs.size(); ++i) {
    const RunFit& fit = (*fits)[i];
    if (!medium_.empty() && work[i] != medium_) continue;
    if (fit.readings.empty()) continue;
    QStringList row{QString::fromStdString(fit.run),
                    QString::fromStdString(trial.runs[i].facts.steel),
                    trial.runs[i].facts.geometry
                        ? QString::fromStdString(print_geometry_short(*trial.runs[i].facts.geometry,
                                                                      workbench().display().angles))
                        : QString(),
                    trial.runs[i].facts.finish
                        ? QString::fromStdString(print_finish(*trial.runs[i].facts.finish))
                        : QString()};
    if (fit.curve) {
      const auto cuts = cuts_to_threshold(fit, *threshold);
      reached += cuts.censoring == Censoring::none;
      censored += cuts.surely_not_reached();
      near += cuts.censoring == Censoring::right && !cuts.surely_not_reached();
      dull += cuts.censoring == Censoring::left;
      row << QString::fromStdString(cuts_short(cuts))
          << (cuts.estimate && cuts.low && cuts.high
                  ? tr("%1 to %2")
                        .arg(QString::fromStdString(print_cuts(*cuts.low)),
                             QString::fromStdString(print_cuts(*cuts.high)))
                  : QString())
          << QString::fromStdString(fit_remarks(fit)) << QString::fromStdString(curve_name(fit))
          << QStringLiteral("%1 %").arg(100 * fit.curve->fit.sigma_log, 0, 'f', 1);
    } else {
      ++unfit;
      row << tr("not enough") << QString() << QString::fromStdString(fit_remarks(fit)) << QString()
          << QString();
    }
    rows.push_back(row);
    indices.push_back(int(i));
    if (rows.size() >= 2000) break;
  }
  const bool single = overlay_->currentIndex() == one_run && workbench().current_run() >= 0 &&
                      workbench().current_run() < int(fits->size());
  if (single) {
    const RunFit& fit = (*fits)[std::size_t(workbench().current_run())];
    set_sentence(
        fit.curve ? tr("Run %1 %2.")
                        .arg(QString::fromStdString(fit.run),
                             QString::fromStdString(cuts_sentence(
                                 cuts_to_threshold(fit, *threshold), workbench().shown(*threshold),
                                 workbench().shown_unit())))
                  : tr("Run %1: %2.")
                        .arg(QString::fromStdString(fit.run), QString::fromStdString(fit.why_not)));
    if (fit.curve) return show_study(fit, *threshold);
    set_remarks({});
  } else {
    set_remarks({});
    QString text = tr("%1 of %2 edges reach %3").arg(reached).arg(rows.size()).arg(limit);
    if (censored == 1)
      text += tr("; 1 stayed below it for all its cuts and counts as more than that");
    else if (censored)
      text +=
          tr("; %1 stayed below it for all their cuts and count as more than that").arg(censored);
    if (near == 1)
      text += tr("; 1 was stopped so near it that it may have reached it");
    else if (near)
      text += tr("; %1 were stopped so near it that they may have reached it").arg(near);
    if (dull) text += tr("; %1 were past it from the start").arg(dull);
    if (unfit) text += tr("; %1 have too few checkpoints").arg(unfit);
    set_sentence(text + '.');
  }
  set_table({tr("Run"), tr("Steel"), tr("Edge, %1").arg(shown(workbench().display().angles)),
             tr("Finish"), tr("Cuts to limit"), tr("95 % interval"), tr("Remarks"), tr("Curve"),
             tr("Scatter")},
            rows);
  QStringList runs;
  for (std::size_t r = 0; r < indices.size(); ++r) {
    table_->item(int(r), 0)->setData(Qt::UserRole, indices[r]);
    runs << rows[r].front();
  }
  set_row_runs(runs);
}

/// One run: the models beside each other, what the curve says at a count of cuts, and whether the
/// residuals agree.
void CurvesPage::show_study(const RunFit& fit, double threshold) {
  double reference = fit.curve->fit.curve.at(0);
  for (const auto& other : *workbench().fits())
    if (other.curve) reference = std::min(reference, other.curve->fit.curve.at(0));
  const auto study = study_curve(fit, threshold, reference, at_->value());
  if (!study) return;
  QStringList words;
  for (const auto& check : study->checks) words << QString::fromStdString(check);
  set_remarks(words);
  set_row_runs({});
  const auto text = [](const std::string& t) { return QString::fromStdString(t); };
  const auto interval = [&](const Estimate& e) {
    return e.low && e.high
               ? tr("%1 to %2")
                     .arg(workbench().print_value(*e.low, false), workbench().print_value(*e.high))
               : QString();
  };
  std::vector<QStringList> rows;
  for (const auto& m : study->models) {
    const QString name = shown(m.model);
    rows.push_back(
        {m.robust ? tr("%1, Huber loss").arg(name) : name,
         m.chosen   ? tr("chosen")
         : m.robust ? tr("for comparison")
                    : QString(),
         QStringLiteral("%1 %").arg(100 * m.sigma_log, 0, 'f', 1),
         m.robust || !std::isfinite(m.aicc) ? QString()
                                            : text(with_minus_signs(print_fixed(m.aicc, 1))),
         m.robust ? QString() : QStringLiteral("%1 %").arg(100 * m.weight, 0, 'f', 0),
         text(cuts_short(m.cuts)),
         m.cuts.estimate && m.cuts.low && m.cuts.high
             ? tr("%1 to %2").arg(text(print_cuts(*m.cuts.low)), text(print_cuts(*m.cuts.high)))
             : QString()});
  }
  const QString at = text(print_cuts(study->at_cuts));
  rows.push_back({tr("Fresh reading, fitted"),
                  {},
                  {},
                  {},
                  {},
                  workbench().print_value(study->fresh.value),
                  interval(study->fresh)});
  rows.push_back({tr("Reading at %1 cuts").arg(at),
                  {},
                  {},
                  {},
                  {},
                  workbench().print_value(study->at.value),
                  interval(study->at)});
  rows.push_back({tr("Early loss, first tenth of the cuts"),
                  {},
                  {},
                  {},
                  {},
                  QStringLiteral("%1 %").arg(study->early_loss_percent, 0, 'f', 0),
                  tr("over the fresh reading")});
  rows.push_back({tr("Relative sharpness at the end"),
                  {},
                  {},
                  {},
                  {},
                  QStringLiteral("%1 %").arg(study->relative_end_percent, 0, 'f', 0),
                  tr("of the sharpest fresh edge")});
  rows.push_back({tr("Mean relative sharpness to %1 cuts").arg(at),
                  {},
                  {},
                  {},
                  {},
                  QStringLiteral("%1 %").arg(study->mean_relative_percent, 0, 'f', 0),
                  tr("area under its curve")});
  set_table({tr("Curve or figure"), tr("Choice"), tr("Scatter"), tr("AICc"), tr("Weight"),
             tr("Cuts, or value"), tr("95 % interval")},
            rows);
}

}  // namespace bq::ui
