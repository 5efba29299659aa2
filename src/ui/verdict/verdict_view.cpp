#include "ui/verdict/verdict_view.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QListView>
#include <QVBoxLayout>

#include "ui/verdict/ranked_edge_delegate.h"
#include "workflow/sentences.h"

namespace bq::ui {

VerdictView::VerdictView(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench), model_(new RankedEdgeModel(workbench, this)), list_(new QListView),
      count_(quiet_label({})), sentence_(new QLabel), reasons_(new QLabel), next_(new QLabel), axis_(quiet_label({})),
      medium_(new QComboBox), life_(new QDoubleSpinBox), least_angle_(new QDoubleSpinBox), largest_angle_(new QDoubleSpinBox),
      steels_box_(new QVBoxLayout) {
  sentence_->setFont(font_of(20));
  sentence_->setWordWrap(true);
  sentence_->setMinimumHeight(54);
  sentence_->setAlignment(Qt::AlignTop);
  list_->setModel(model_);
  list_->setItemDelegate(new RankedEdgeDelegate(list_));
  list_->setAccessibleName(tr("Ranked edges"));
  list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  reasons_->setWordWrap(true);
  reasons_->setMinimumHeight(76);
  reasons_->setAlignment(Qt::AlignTop);
  next_->setWordWrap(true);
  next_->setMinimumHeight(36);

  auto* centre = new QVBoxLayout;
  centre->setSpacing(10);
  centre->addWidget(sentence_);
  centre->addWidget(axis_);
  centre->addWidget(list_, 1);
  centre->addWidget(heading(tr("Why this edge")));
  centre->addWidget(reasons_);
  centre->addWidget(next_);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 16, 20, 10);
  layout->setSpacing(24);
  layout->addWidget(make_limits());
  layout->addLayout(centre, 1);

  connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this,
          [this](const QModelIndex& now) { show_reasons(now.row()); });
  connect(medium_, &QComboBox::activated, this, &VerdictView::refresh);
  for (auto* box : {life_, least_angle_, largest_angle_})
    connect(box, &QDoubleSpinBox::valueChanged, this, &VerdictView::refresh);
  connect(&workbench_, &Workbench::fits_changed, this, &VerdictView::refresh);
  connect(&workbench_, &Workbench::threshold_changed, this, &VerdictView::refresh);
  connect(&workbench_, &Workbench::display_changed, this, &VerdictView::refresh);
  refresh();
}

QWidget* VerdictView::make_limits() {
  life_->setRange(0, 1e9);
  life_->setDecimals(0);
  life_->setSingleStep(50);
  life_->setSpecialValueText(tr("any"));
  life_->setSuffix(tr(" cuts"));
  life_->setAccessibleName(tr("Least life of the next edge"));
  for (auto* box : {least_angle_, largest_angle_}) {
    box->setRange(0, 79.9);
    box->setDecimals(1);
    box->setSpecialValueText(tr("any"));
    box->setSuffix(QStringLiteral("°"));
  }
  least_angle_->setAccessibleName(tr("Least apex angle per side"));
  largest_angle_->setAccessibleName(tr("Largest apex angle per side"));
  medium_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  medium_->setAccessibleName(tr("Medium"));
  auto* column = new QWidget;
  column->setFixedWidth(240);
  auto* layout = new QVBoxLayout(column);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addWidget(heading(tr("What the edge must do")));
  layout->addWidget(count_);
  layout->addSpacing(6);
  const auto add = [&](const QString& label, QWidget* field) {
    layout->addWidget(new QLabel(label));
    layout->addWidget(field);
  };
  add(tr("Work"), medium_);
  add(tr("The next edge lasts at least"), life_);
  add(tr("Apex angle per side, from"), least_angle_);
  add(tr("to"), largest_angle_);
  layout->addSpacing(6);
  layout->addWidget(new QLabel(tr("Steels at hand")));
  layout->addLayout(steels_box_);
  layout->addStretch();
  auto* damage = quiet_label(tr("Damage is not judged here. Before you make many, try the slimmest edge in the roughest use, with "
                                "a cut-resistant glove on the off hand and by the rules of your workplace."));
  layout->addWidget(damage);
  return column;
}

QString VerdictView::count_line() const { return count_->text(); }

RecommendLimits VerdictView::limits() const {
  RecommendLimits out;
  if (life_->value() > 0) out.least_life = life_->value();
  if (least_angle_->value() > 0) out.least_angle_deg = least_angle_->value();
  if (largest_angle_->value() > 0) out.largest_angle_deg = largest_angle_->value();
  bool all = true;
  for (const auto* box : steels_) all = all && box->isChecked();
  if (!all) {
    for (const auto* box : steels_)
      if (box->isChecked()) out.steels.push_back(box->text().toStdString());
    if (out.steels.empty()) out.steels.emplace_back();  // none at hand: nothing passes
  }
  return out;
}

void VerdictView::refresh() {
  const auto steels = steels_of(workbench_.trial());
  if (steels.size() != steels_.size() ||
      !std::equal(steels.begin(), steels.end(), steels_.begin(),
                  [](const std::string& name, const QCheckBox* box) { return box->text().toStdString() == name; })) {
    for (auto* box : steels_) box->deleteLater();
    steels_.clear();
    for (const auto& steel : steels) {
      auto* box = new QCheckBox(QString::fromStdString(steel));
      box->setToolTip(box->text());
      box->setChecked(true);
      connect(box, &QCheckBox::toggled, this, &VerdictView::refresh);
      steels_box_->addWidget(box);
      steels_.push_back(box);
    }
  }
  const auto threshold = workbench_.threshold();
  if (workbench_.fitting()) return;
  if (!threshold) {
    LifeFindings none;
    none.recommend_refusal = workbench_.has_project() ? "there are no readings yet" : "no project is open";
    take(none);
    return;
  }
  LifeQuestion question;
  question.threshold = *threshold;
  question.medium = medium_->currentData().toString().toStdString();
  question.recommend = limits();
  auto facts = std::make_shared<Trial>(without_readings(workbench_.trial()));
  job_.ask([facts, fits = workbench_.fits(), question](const std::stop_token&) {
    return std::make_shared<LifeFindings>(find_life(*facts, *fits, question));
  },
           [this](const std::shared_ptr<LifeFindings>& findings) { take(*findings); });
}

void VerdictView::take(const LifeFindings& findings) {
  if (int(findings.media.size()) != medium_->count()) {
    medium_->clear();
    for (const auto& [name, count] : findings.media)
      medium_->addItem(name.empty() ? tr("not given") : QString::fromStdString(name), QString::fromStdString(name));
  }
  medium_->setCurrentIndex(medium_->findData(QString::fromStdString(findings.question.medium)));
  medium_->setToolTip(medium_->currentText());
  const auto& answer = findings.recommendation;
  model_->show_edges(answer ? answer->ranked : std::vector<RankedEdge>{});
  if (!answer) {
    sentence_->setText(tr("No verdict yet: %1.").arg(QString::fromStdString(findings.recommend_refusal)));
    count_->clear();
    axis_->clear();
    next_->clear();
    reasons_->clear();
    return;
  }
  count_->setText(tr("%1 of %2 edges pass").arg(answer->ranked.size()).arg(answer->candidates));
  if (answer->ranked.empty()) {
    sentence_->setText(tr("No edge passes these limits. Lower the life wished for, or widen the angles."));
    axis_->clear();
    reasons_->clear();
  } else {
    const RankedEdge& best = answer->ranked.front();
    sentence_->setText(tr("Make %1: usually %2 cuts to %3 (%4 to %5), the next one at least %6.")
                           .arg(model_->title(0), QString::fromStdString(print_cuts(best.life)),
                                workbench_.print_value(findings.question.threshold),
                                QString::fromStdString(print_cuts(best.life_mean_low)),
                                QString::fromStdString(print_cuts(best.life_mean_high)),
                                QString::fromStdString(print_cuts(best.life_low))));
    axis_->setText(tr("Bars: 95 % interval of the usual edge, on one log scale from %1 to %2 cuts; the stroke is the lower 95 % "
                      "limit for the next single edge. Pale bars lie between tested angles.")
                       .arg(QString::fromStdString(print_cuts(model_->axis_low())), QString::fromStdString(print_cuts(model_->axis_high()))));
    list_->setCurrentIndex(model_->index(0));
    show_reasons(0);
  }
  next_->setText(answer->next_best ? tr("<b>Next best run:</b> %1, %2.")
                                         .arg(QString::fromStdString(answer->next_best->steel) + QStringLiteral(" at ") +
                                                  QString::fromStdString(print_angle(answer->next_best->angle_deg, workbench_.display().angles)) +
                                                  (answer->next_best->finish_um ? QStringLiteral(", %1 µm").arg(*answer->next_best->finish_um) : QString()),
                                              QString::fromStdString(answer->next_best->reason))
                                   : QString());
}

void VerdictView::show_reasons(int row) {
  if (row < 0 || row >= model_->rowCount()) {
    reasons_->clear();
    return;
  }
  const RankedEdge& edge = model_->edge(row);
  QStringList lines;
  for (const auto& reason : edge.reasons) lines << QStringLiteral("· ") + QString::fromStdString(reason);
  if (edge.fresh_reading) lines << tr("· fresh it reads about %1").arg(workbench_.print_value(*edge.fresh_reading));
  reasons_->setText(lines.join('\n'));
}

}  // namespace bq::ui
