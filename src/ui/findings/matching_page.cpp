#include "ui/findings/matching_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <cmath>
#include <set>

#include "quantity/number.h"
#include "ui/findings/life_page.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/words.h"
#include "workflow/sentences.h"

namespace bq::ui {

MatchingPage::MatchingPage(Workbench& bench, QWidget* parent)
    : AnswerPage(bench,
                 tr("From the life model: the apex angle at which the second steel has the life of "
                    "the first, other things "
                    "equal. The interval holds every angle that the likelihood does not rule out "
                    "(profile likelihood with the "
                    "cutoff n·ln(1 + t²/(n − p)); with no run censored it is Fieller's interval). "
                    "An end that the data do not "
                    "bound is said to be so. See docs/methods.md."),
                 parent),
      kind_(new QComboBox),
      from_(new QComboBox),
      to_(new QComboBox),
      angle_(new NumberEntry),
      ratio_(new NumberEntry) {
  angle_->setRange(0.5, 159);
  angle_->setDecimals(1);
  angle_->setSuffix(QStringLiteral("°"));
  angle_->set_edge_angle(AngleConvention::per_side);
  angle_->setAccessibleName(tr("Apex angle of the first steel"));
  ratio_->setRange(0.1, 10);
  ratio_->setSingleStep(0.1);
  ratio_->setDecimals(2);
  ratio_->setValue(1);
  ratio_->setSuffix(QStringLiteral(" ×"));
  ratio_->setAccessibleName(tr("Life wished of the second steel, as a multiple of the first"));
  from_->setAccessibleName(tr("First steel"));
  to_->setAccessibleName(tr("Second steel"));
  from_->setFixedWidth(140);
  to_->setFixedWidth(140);
  kind_->addItems({tr("angle"), tr("finish")});
  kind_->setAccessibleName(tr("What is matched"));
  controls_->addWidget(new QLabel(tr("At which")));
  controls_->addWidget(kind_);
  controls_->addWidget(new QLabel(tr("does")));
  controls_->addWidget(to_);
  lay_out();
  listen();
}

void MatchingPage::lay_out() {
  controls_->addWidget(new QLabel(tr("last")));
  controls_->addWidget(ratio_);
  controls_->addWidget(new QLabel(tr("as long as")));
  controls_->addWidget(from_);
  controls_->addWidget(new QLabel(tr("at")));
  controls_->addWidget(angle_);
  controls_->addWidget(new QLabel(QStringLiteral("?")));
  controls_->addStretch();
  plot_->set_empty_text(tr("Matching needs at least two steels and two angles."));
}

void MatchingPage::listen() {
  connect(kind_, &QComboBox::activated, this, [this] {
    // Another quantity: start from its middle, not from a number of the other one.
    filling_ = true;
    angle_->setValue(0.5);
    filling_ = false;
    ask();
  });
  for (auto* box : {from_, to_}) connect(box, &QComboBox::activated, this, &MatchingPage::ask);
  for (auto* box : {angle_, ratio_})
    connect(box, &NumberEntry::valueChanged, this, &MatchingPage::ask);
  connect(&workbench(), &Workbench::display_changed, this, [this] { plot_->retheme(); });
}

void MatchingPage::ask() {
  if (filling_ || from_->currentText().isEmpty()) return;
  MatchQuestion question;
  question.from = from_->currentText().toStdString();
  question.to = to_->currentText().toStdString();
  const bool inclusive = workbench().display().angles == AngleConvention::inclusive,
             finish = kind_->currentIndex() == 1;
  question.kind = finish ? MatchKind::finish : MatchKind::angle;
  question.from_value = finish || !inclusive ? angle_->value() : angle_->value() / 2;
  if (angle_->value() <= 0.5) question.from_value = 0;  // the middle of what was tested
  question.ratio = ratio_->value();
  emit asked(question);
}

void MatchingPage::show_findings(const LifeFindings& findings) {
  const auto convention = workbench().display().angles;
  const double factor = convention == AngleConvention::inclusive ? 2 : 1;
  filling_ = true;
  std::set<std::string> steels;
  for (const auto& line : findings.lines) steels.insert(line.steel);
  for (auto* box : {from_, to_}) {
    QStringList names;
    for (const auto& steel : steels) names << QString::fromStdString(steel);
    QStringList now;
    for (int i = 0; i < box->count(); ++i) now << box->itemText(i);
    if (now != names) {
      box->clear();
      box->addItems(names);
    }
  }
  if (const auto& question = findings.question.match) {
    from_->setCurrentText(QString::fromStdString(question->from));
    to_->setCurrentText(QString::fromStdString(question->to));
    const bool finish = question->kind == MatchKind::finish;
    kind_->setCurrentIndex(finish ? 1 : 0);
    angle_->set_edge_angle(convention);
    angle_->set_particle_size(finish);
    angle_->setSuffix(finish ? tr(" µm") : QStringLiteral("°"));
    angle_->setRange(finish ? 0.01 : 0.5, finish ? 2000 : 159);
    if (!angle_->hasFocus())
      angle_->setValue(finish ? question->from_value : factor * question->from_value);
    if (!ratio_->hasFocus()) ratio_->setValue(question->ratio);
  }
  filling_ = false;

  if (findings.question.match && findings.question.match->kind == MatchKind::finish)
    return show_finish(findings);
  PlotAxes axes{tr("apex angle, ° %1").arg(shown(convention)),
                findings.question.threshold > 0
                    ? tr("cuts to %1").arg(workbench().print_value(findings.question.threshold))
                    : tr("cuts to the limit")};
  axes.x_log = axes.y_log = true;
  std::vector<QPointF> lines;
  std::vector<QStringList> rows;
  if (!findings.match) {
    set_sentence(tr("No answer: %1.")
                     .arg(QString::fromStdString(findings.model ? findings.match_refusal
                                                                : findings.why_not)));
  } else {
    const MatchQuestion& question = *findings.question.match;
    set_sentence(QString::fromStdString(match_sentence(question, *findings.match, convention)));
    for (const auto& [steel, angle] : {std::pair(question.from, question.from_value),
                                       std::pair(question.to, findings.match->value)}) {
      LifePoint point;
      point.steel = steel;
      point.mean_tangent = std::tan(radians(angle));
      if (const auto row = findings.model->row(point))
        lines.emplace_back(factor * angle, std::exp(findings.model->log_life(*row).first));
    }
    // The same question at every tested angle of the first steel: is it constant degrees?
    std::set<double> angles;
    for (const auto& row : findings.model->rows())
      if (row.facts.steel == question.from)
        angles.insert(std::round(10 * row.facts.geometry->apex().equivalent_deg()) / 10);
    for (const double angle : angles) {
      MatchQuestion other = question;
      other.from_value = angle;
      const auto answer = match(*findings.model, other);
      if (!answer) continue;
      const auto end = [&](const std::optional<double>& value) {
        return value ? QString::fromStdString(print_angle_number(*value, convention)) +
                           QStringLiteral("°")
                     : tr("not bounded");
      };
      rows.push_back(
          {QStringLiteral("%1°").arg(QString::fromStdString(print_angle_number(angle, convention))),
           end(answer->value), end(answer->low), end(answer->high),
           (answer->difference < 0 ? QString(QChar(0x2212)) : QStringLiteral("+")) +
               QString::fromStdString(
                   print_angle_number(std::abs(answer->difference), convention)) +
               QStringLiteral("°"),
           answer->extrapolated ? tr("extrapolated") : QString()});
    }
  }
  plot_->set_reading_lines(lines);
  plot_->show_plot(axes, life_series(workbench(), findings, false));
  const auto& question = findings.question.match;
  set_table(
      {question ? tr("%1 at").arg(QString::fromStdString(question->from)) : tr("First steel at"),
       question ? tr("%1 matches at").arg(QString::fromStdString(question->to))
                : tr("Second steel matches at"),
       tr("Low 95 %"), tr("High 95 %"), tr("Difference"), QString()},
      rows);
}

void MatchingPage::show_finish(const LifeFindings& findings) {
  const MatchQuestion& question = *findings.question.match;
  PlotAxes axes{tr("finish, µm"),
                tr("cuts to %1").arg(workbench().print_value(findings.question.threshold))};
  axes.x_log = axes.y_log = true;
  std::vector<PlotSeries> series;
  std::vector<QPointF> lines;
  std::vector<QStringList> rows;
  const auto life = [&](const std::string& steel, double um) {
    LifePoint point;
    point.steel = steel;
    point.finish_um = um;
    const auto row = findings.model->row(point);
    return row ? std::exp(findings.model->log_life(*row).first) : 0.0;
  };
  if (!findings.match) {
    set_sentence(tr("No answer: %1.")
                     .arg(QString::fromStdString(findings.model ? findings.match_refusal
                                                                : findings.why_not)));
  } else {
    set_sentence(QString::fromStdString(
        match_sentence(question, *findings.match, workbench().display().angles)));
    lines = {{question.from_value, life(question.from, question.from_value)},
             {findings.match->value, life(question.to, findings.match->value)}};
    std::set<double> finishes;
    for (const auto& row : findings.model->rows())
      if (row.facts.finish) finishes.insert(row.facts.finish->mean_um());
    for (const auto& steel : {question.from, question.to}) {
      PlotSeries line, points;
      line.name = points.name = QString::fromStdString(steel);
      line.style = points.style = workbench().steel_style(steel);
      line.label_at_end = true;
      points.line = false;
      points.markers = true;
      for (int i = 0; i <= 30; ++i) {
        line.x.push_back(*finishes.begin() *
                         std::pow(*finishes.rbegin() / *finishes.begin(), i / 30.0));
        line.y.push_back(life(steel, line.x.back()));
      }
      for (const auto& row : findings.table.rows) {
        if (row.facts.steel != steel || !row.facts.finish || !row.cuts.estimate) continue;
        points.x.push_back(row.facts.finish->mean_um());
        points.y.push_back(*row.cuts.estimate);
        points.runs.push_back(QString::fromStdString(row.facts.name));
      }
      series.push_back(line);
      series.push_back(points);
    }
    for (const double um : finishes) {
      MatchQuestion other = question;
      other.from_value = um;
      const auto answer = match(*findings.model, other);
      if (!answer) continue;
      const auto figure = [](const std::optional<double>& value) {
        return value ? QString::fromStdString(print_number(*value, 3)) + QStringLiteral(" µm")
                     : tr("not bounded");
      };
      rows.push_back(
          {figure(um), figure(answer->value), figure(answer->low), figure(answer->high),
           QString::fromStdString(print_number(answer->value / um, 3)) + QStringLiteral(" ×"),
           answer->extrapolated ? tr("extrapolated") : QString()});
    }
  }
  plot_->set_reading_lines(lines);
  plot_->show_plot(axes, series);
  set_table({tr("%1 at").arg(QString::fromStdString(question.from)),
             tr("%1 matches at").arg(QString::fromStdString(question.to)), tr("Low 95 %"),
             tr("High 95 %"), tr("Ratio"), QString()},
            rows);
}

}  // namespace bq::ui
