#include "ui/stones/route_page.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

RoutePage::RoutePage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("Taking the burr off"), parent),
      why_(new QLabel),
      runs_(new QLabel),
      steps_(new QLabel),
      both_(
          quiet_label(tr("Some break every burr a little above the edge angle, some never leave "
                         "the edge angle. Both work, on other steels; a finishing step can be made "
                         "a factor of a trial to see what this bench says."))),
      behaviour_(new QComboBox),
      look_(new QPushButton(tr("Look at the apex"))),
      try_other_(new QPushButton) {
  for (QLabel* label : {why_, runs_, steps_}) label->setWordWrap(true);
  steps_->setTextFormat(Qt::RichText);
  behaviour_->setAccessibleName(tr("Behaviour when deburred"));
  behaviour_->addItem(tr("as the steel advises"), QString());
  for (const auto b :
       {DeburrBehaviour::ductile, DeburrBehaviour::between, DeburrBehaviour::brittle}) {
    const QString name = text_of(name_of(b));
    behaviour_->addItem(b == DeburrBehaviour::ductile   ? tr("ductile: bends and hangs on")
                        : b == DeburrBehaviour::brittle ? tr("brittle: breaks away")
                                                        : tr("between: try one third first"),
                        name);
  }
  column_->addWidget(why_);
  column_->addWidget(behaviour_);
  column_->addWidget(runs_);
  auto* row = new QHBoxLayout;
  row->addWidget(look_);
  row->addWidget(try_other_);
  row->addStretch(1);
  column_->addLayout(row);
  column_->addWidget(steps_);
  column_->addWidget(both_);
  column_->addStretch(1);
  connect(look_, &QPushButton::clicked, this, &RoutePage::look_wanted);
  listen();
}

void RoutePage::listen() {
  connect(try_other_, &QPushButton::clicked, this, [this] {
    if (!this->model().advice().proposed || !this->model().input()) return;
    LadderInput input = *this->model().input();
    input.behaviour = std::string(name_of(*this->model().advice().proposed));
    this->model().set_input(input);
  });
  connect(behaviour_, &QComboBox::activated, this, [this](int index) {
    if (!this->model().input()) return;
    LadderInput input = *this->model().input();
    input.behaviour = behaviour_->itemData(index).toString().toStdString();
    this->model().set_input(input);
  });
}

void RoutePage::reload() {
  const RouteAdvice& advice = model().advice();
  const std::string chosen = model().input() ? model().input()->behaviour : std::string();
  const DeburrBehaviour behaviour = parse_deburr_behaviour(chosen).value_or(advice.behaviour);
  why_->setText(QString::fromStdString(advice.why));
  behaviour_->setCurrentIndex(std::max(0, behaviour_->findData(QString::fromStdString(chosen))));
  behaviour_->setEnabled(model().input().has_value());
  runs_->setText(QString::fromStdString(advice.sentence));
  runs_->setVisible(!advice.sentence.empty());
  look_->setVisible(advice.look_first);
  try_other_->setVisible(advice.proposed.has_value());
  if (advice.proposed)
    try_other_->setText(
        tr("Take the %1 next time").arg(QString::fromStdString(route_name(*advice.proposed))));
  const double edge = model().input() ? model().input()->wish.edge.left_deg : 0;
  QString html =
      tr("<p><b>%1</b></p>").arg(QString::fromStdString(route_name(behaviour)).toHtmlEscaped());
  html += QStringLiteral("<ol style=\"margin-left:-18px\">");
  for (const auto& step : deburring_route(behaviour)) {
    QString angle;
    if (step.above_edge_deg && edge > 0) {
      // What the hand sets is per side, whatever is displayed.
      angle = *step.above_edge_deg > 0
                  ? tr(" (about %1° per side)").arg(edge + *step.above_edge_deg, 0, 'f', 1)
                  : tr(" (%1° per side)").arg(edge, 0, 'f', 1);
    }
    html += tr("<li style=\"margin-bottom:6px\">%1%2.<br><span style=\"color:%3\">because "
               "%4</span></li>")
                .arg(QString::fromStdString(step.what).toHtmlEscaped(), angle, theme().quiet.name(),
                     QString::fromStdString(step.why).toHtmlEscaped());
  }
  steps_->setText(html + QStringLiteral("</ol>"));
}

}  // namespace bq::ui
