#include "ui/plan/cost_panel.h"

#include <QDate>
#include <QGridLayout>
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <cmath>

#include "quantity/number.h"

namespace bq::ui {

QString print_hours(double minutes) {
  const long whole = std::lround(minutes);
  if (whole < 60) return PlanModel::tr("%1 min").arg(whole);
  return whole % 60 && whole < 600 ? PlanModel::tr("%1 h %2 min").arg(whole / 60).arg(whole % 60)
                                   : PlanModel::tr("%1 h").arg(QString::number(
                                         double(whole) / 60, 'f', whole % 60 ? 1 : 0));
}

BudgetBar::BudgetBar(QWidget* parent) : QWidget(parent) { setFixedHeight(72); }

void BudgetBar::show_budget(const PlanBudget& b) {
  parts_ = {{tr("cutting"), b.cutting_min},
            {tr("reading"), b.reading_min},
            {tr("cleaning"), b.cleaning_min},
            {tr("sharpening"), b.sharpening_min},
            {tr("rests"), b.resting_min}};
  QStringList words;
  for (const auto& [name, minutes] : parts_)
    words << name + QStringLiteral(" ") + print_hours(minutes);
  setAccessibleName(tr("Where the time goes: %1").arg(words.join(QStringLiteral(", "))));
  setToolTip(words.join(QStringLiteral("\n")));
  update();
}

void BudgetBar::paintEvent(QPaintEvent*) {
  double total = 0;
  for (const auto& [name, minutes] : parts_) total += minutes;
  if (total <= 0) return;
  const Theme& t = theme();
  QPainter painter(this);
  painter.setFont(font_of(12));
  double x = 0;
  std::array<double, 3> ends{-8, -8, -8};
  for (std::size_t i = 0; i < parts_.size(); ++i) {
    const double wide = width() * parts_[i].second / total;
    QColor fill = t.quiet;
    fill.setAlphaF(i % 2 ? 0.28F : 0.5F);
    painter.fillRect(QRectF(x, 2, std::max(0.0, wide - 2), 16), fill);
    painter.setPen(t.ink);
    // On the first of three lines where it stands free, so that a narrow part still has its name.
    const QString text =
        tr("%1 %2 h").arg(parts_[i].first, QString::number(parts_[i].second / 60, 'f', 1));
    const double room = painter.fontMetrics().horizontalAdvance(text),
                 left = std::clamp(x, 0.0, std::max(0.0, width() - room));
    const auto line =
        std::find_if(ends.begin(), ends.end(), [&](double end) { return end + 8 <= left; });
    if (parts_[i].second > 0 && line != ends.end()) {
      painter.drawText(QRectF(left, 20 + 17 * double(line - ends.begin()), room + 4, 17),
                       Qt::AlignLeft | Qt::AlignVCenter, text);
      *line = left + room;
    }
    x += wide;
  }
}

CostPanel::CostPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : QWidget(parent),
      model_(model),
      bar_(new BudgetBar),
      most_(quiet_label({})),
      blades_(quiet_label({})) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(4);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(0);
  for (int i = 0; i < 6; ++i) {
    auto* figure = new QLabel;
    figure->setFont(font_of(i == 0 ? 24 : kHeading, true));
    auto* name = quiet_label({});
    name->setWordWrap(false);
    grid->addWidget(figure, i / 3 * 2, i % 3, Qt::AlignLeft | Qt::AlignBottom);
    grid->addWidget(name, i / 3 * 2 + 1, i % 3, Qt::AlignLeft | Qt::AlignTop);
    grid->setColumnStretch(i % 3, 1);
    figures_.push_back(figure);
    names_.push_back(name);
  }
  grid->setRowMinimumHeight(2, 32);  // some air between the two lines of figures
  layout->addLayout(grid);
  layout->addWidget(bar_);
  layout->addWidget(most_);
  layout->addWidget(blades_);
  connect(&model_, &PlanModel::study_changed, this, &CostPanel::refill);
  connect(&workbench, &Workbench::display_changed, this, &CostPanel::refill);
  refill();
}

void CostPanel::refill() {
  const PlanStudy* study = model_.study();
  setVisible(study && study->refusal.empty() && model_.plan());
  if (!isVisibleTo(parentWidget())) return;
  const PlanBudget& most = study->budget;
  const PlanBudget& b = study->likely ? *study->likely : most;
  const QLocale locale(QLocale::English, QLocale::UnitedKingdom);
  const QStringList figures{print_hours(b.minutes()),
                            QString::number(study->sheet.runs.size()),
                            QString::number(b.cuts),
                            tr("%1 m").arg(QString::fromStdString(print_number(b.medium_m, 3))),
                            QString::number(b.readings),
                            QString::number(b.resharpenings)};
  const QDate end = QDate::fromString(QString::fromStdString(b.finishes_on), Qt::ISODate);
  const QStringList names{
      b.days == 1 ? tr("in one day")
      : end.isValid()
          ? tr("%1 days, to %2").arg(b.days).arg(locale.toString(end, QStringLiteral("d MMM")))
          : tr("on %1 days").arg(b.days),
      tr("runs"),
      tr("cuts"),
      tr("of medium"),
      tr("readings"),
      tr("regrinds")};
  for (int i = 0; i < figures.size(); ++i) {
    figures_[std::size_t(i)]->setText(figures[i]);
    names_[std::size_t(i)]->setText(names[i]);
  }
  bar_->show_budget(b);
  const bool less = most.minutes() > b.minutes() + 1;
  most_->setVisible(study->likely.has_value());
  most_->setText(less ? tr("Usually: runs end when they are blunt. All cut to the last checkpoint: "
                           "%1, %2 cuts, %3 m; the days leave room for that.")
                            .arg(print_hours(most.minutes()), QString::number(most.cuts),
                                 QString::fromStdString(print_number(most.medium_m, 3)))
                      : tr("Every run is expected to go to the last checkpoint."));
  QStringList uses;
  int used = 0, allowed = 0;
  for (const auto& use : b.blades) {
    if (!use.runs) continue;
    uses << (use.allowed
                 ? tr("%1: %2 of %3")
                       .arg(QString::fromStdString(use.blade), QString::number(use.runs),
                            QString::number(use.allowed))
                 : tr("%1: %2").arg(QString::fromStdString(use.blade), QString::number(use.runs)));
    if (use.runs > used) {
      used = use.runs;
      allowed = use.allowed;
    }
  }
  const QString metal = QString::fromStdString(print_number(b.metal_mm3, 3));
  blades_->setText(allowed
                       ? tr("Up to %1 of %2 sharpenings a blade; %3 mm³ of metal.")
                             .arg(used)
                             .arg(allowed)
                             .arg(metal)
                       : tr("Up to %1 sharpenings a blade; %2 mm³ of metal.").arg(used).arg(metal));
  blades_->setToolTip(uses.join(QLatin1Char('\n')));
}

}  // namespace bq::ui
