#include "ui/bench/gauge_page.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/plot/plot_view.h"
#include "ui/theme/theme.h"
#include "workflow/bench_study.h"
#include "workflow/force_study.h"

namespace bq::ui {

GaugeChecksPage::GaugeChecksPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      sentence_(new QLabel),
      force_(new QLabel),
      said_(quiet_label({})),
      flag_(new QPushButton(tr("Flag the readings in doubt"))),
      plot_(new PlotView),
      log_(new QListWidget) {
  sentence_->setFont(font_of(20));
  sentence_->setWordWrap(true);
  force_->setWordWrap(true);
  plot_->set_empty_text(
      tr("Name a check weight under Protocol, put it on the gauge at the start and the end of a "
         "sitting (W): its drift is drawn here."));
  plot_->setMinimumHeight(220);
  log_->setAccessibleName(tr("What happened in this run"));
  log_->setWordWrap(true);
  lay_out();
  listen();
}

void GaugeChecksPage::lay_out() {
  auto* row = new QHBoxLayout;
  row->addWidget(flag_);
  row->addWidget(said_, 1);
  auto* left = new QVBoxLayout;
  left->setSpacing(10);
  left->addWidget(sentence_);
  left->addLayout(row);
  left->addWidget(plot_, 1);
  left->addWidget(heading(tr("Severing and parting")));
  left->addWidget(force_);
  auto* right = new QVBoxLayout;
  right->setSpacing(8);
  right->addWidget(heading(tr("What happened in this run")));
  right->addWidget(log_, 1);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 4, 0, 4);
  layout->setSpacing(24);
  layout->addLayout(left, 3);
  layout->addLayout(right, 2);
}

void GaugeChecksPage::listen() {
  connect(flag_, &QPushButton::clicked, this, &GaugeChecksPage::flag);
  connect(&model_, &BenchModel::changed, this, [this] {
    if (isVisible()) reload();
  });
  connect(&workbench_, &Workbench::display_changed, this, [this] { plot_->retheme(); });
}

QString GaugeChecksPage::sentence() const { return sentence_->text(); }

void GaugeChecksPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  reload();
}

void GaugeChecksPage::reload() {
  const double limit = model_.protocol().check_limit_percent;
  const GaugeDrift drift = gauge_drift(workbench_.trial(), limit);
  sentence_->setText(QString::fromStdString(drift.sentence));
  flag_->setVisible(!drift.doubtful.empty() && workbench_.writable());
  if (drift.points.empty()) {
    plot_->show_plot({tr("check"), tr("off, %")}, {});
  } else {
    PlotSeries off;
    off.name = tr("check weight");
    off.markers = true;
    for (std::size_t i = 0; i < drift.points.size(); ++i) {
      off.x.push_back(double(i + 1));
      off.y.push_back(drift.points[i].off_percent);
    }
    const double last = double(drift.points.size()) + 0.5;
    const auto line = [&](double y, const QString& name) {
      PlotSeries series;
      series.name = name;
      series.x = {0.5, last};
      series.y = {y, y};
      series.ink = true;
      series.label_at_end = y != 0;
      return series;
    };
    plot_->show_plot(
        {tr("check, in order"), tr("off the check weight, %"), false, false, std::pair{0.5, last}},
        {line(limit, tr("limit")), line(-limit, tr("limit")), line(0, {}), off});
  }
  force_->setText(QString::fromStdString(force_sentence(workbench_.trial())));
  log_->clear();
  const auto add = [&](const BenchEvent& event, bool of_run) {
    QString text =
        QString::fromStdString(event.made_at.substr(0, 10) + " " +
                               (event.made_at.size() >= 16 ? event.made_at.substr(11, 5) : ""));
    if (of_run) text += tr("  at %1 cuts").arg(event.cuts);
    text += QStringLiteral("  ") + QString::fromStdString(describe(event.data));
    if (!event.by_operator.empty())
      text += tr(" · %1").arg(QString::fromStdString(event.by_operator));
    log_->addItem(text);
  };
  if (const Run* run = model_.run())
    for (const auto& event : run->events) add(event, true);
  if (log_->count() == 0)
    log_->addItem(
        tr("Nothing yet: sharpening, cuts, looks, strokes and deviations of the chosen run are "
           "listed here, with their time (UTC)."));
  log_->scrollToBottom();
}

void GaugeChecksPage::flag() {
  const GaugeDrift drift = gauge_drift(workbench_.trial(), model_.protocol().check_limit_percent);
  int flagged = 0;
  if (workbench_.edit([&](ProjectSession& session) {
        flagged = session.flag_readings(drift.doubtful, "the gauge drifted between two checks");
      }))
    said_->setText(
        tr("%1 readings are flagged and stay in the fits; take single ones out on the Trial page.")
            .arg(flagged));
}

}  // namespace bq::ui
