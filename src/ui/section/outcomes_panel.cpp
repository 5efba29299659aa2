#include "ui/section/outcomes_panel.h"

#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/frame/origin_line.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/section/section_painter.h"
#include "workflow/rough_standing.h"

namespace bq::ui {
namespace {

/// One outcome of a study; empty where there is none.
struct Outcome {
  const char* name;
  const char* tip;
  const char* unit;
  int decimals;
  std::optional<double> (*value)(const SectionStudy&);
  bool against_before = false;  ///< only the present one has it: it is a difference already
};

std::optional<double> thickness(const SectionStudy& s, double at) {
  for (const auto& [distance, value] : s.thickness_mm)
    if (distance == at) return value;
  return std::nullopt;
}

const Outcome kOutcomes[] = {
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Inclusive angle at the apex"), "", "°", 1,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.section.apex_angles().inclusive_deg();
     }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "  left, per side"), "", "°", 1,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.section.apex_angles().left_deg;
     }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "  right, per side"), "", "°", 1,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.section.apex_angles().right_deg;
     }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Thickness behind the edge"),
     QT_TRANSLATE_NOOP(
         "bq::ui::OutcomesPanel",
         "Where the edge bevel ends toward the spine; an edge ground to zero has none: see "
         "the thicknesses below"),
     "mm", 3,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.behind ? s.behind->thickness_mm : std::nullopt;
     }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Thickness 0.5 mm up"), "", "mm", 3,
     [](const SectionStudy& s) { return thickness(s, 0.5); }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Thickness 1 mm up"), "", "mm", 3,
     [](const SectionStudy& s) { return thickness(s, 1); }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Thickness 5 mm up"), "", "mm", 3,
     [](const SectionStudy& s) { return thickness(s, 5); }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Stress over the limit"),
     QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel",
                       "Largest bending stress over what the steel bends or breaks at (estimate)"),
     "×", 2,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.stress ? s.stress->peak_ratio : std::nullopt;
     }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Parting index"),
     QT_TRANSLATE_NOOP(
         "bq::ui::OutcomesPanel",
         "Force per mm of edge to push it 8 mm deep into a medium of 1 N/mm³ (estimate)"),
     "N/mm", 2, [](const SectionStudy& s) { return s.parting_index; }},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Metal removed"), "", "mm²", 3,
     [](const SectionStudy& s) -> std::optional<double> { return s.removed.area_mm2; }, true},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "  along the edge"), "", "mm³", 1,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.cost ? std::optional(s.cost->volume_mm3) : std::nullopt;
     },
     true},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "  mass"), "", "g", 2,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.cost ? std::optional(s.cost->mass_g) : std::nullopt;
     },
     true},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "  time at the abrasive's rate"), "", "min", 1,
     [](const SectionStudy& s) -> std::optional<double> {
       return s.cost ? s.cost->minutes : std::nullopt;
     },
     true},
    {QT_TRANSLATE_NOOP("bq::ui::OutcomesPanel", "Apex receded"), "", "mm", 4,
     [](const SectionStudy& s) -> std::optional<double> { return s.removed.apex_receded_mm; },
     true},
};

QLabel* number_label() {
  auto* label = new QLabel;
  label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  return label;
}

}  // namespace

OutcomesPanel::OutcomesPanel(Workbench& workbench, SectionModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      before_head_(quiet_label({})),
      steel_(quiet_label({})),
      estimate_(new QLabel),
      rough_(new QLabel),
      force_(new NumberEntry),
      depth_(new NumberEntry),
      length_(new NumberEntry),
      rate_(new NumberEntry),
      origin_(quiet_label({})) {
  lay_out();
  listen();
}

void OutcomesPanel::lay_out() {
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(3);
  before_head_->setWordWrap(false);
  before_head_->setAlignment(Qt::AlignRight);
  auto* now = quiet_label(tr("worked on"));
  now->setWordWrap(false);
  now->setAlignment(Qt::AlignRight);
  auto* difference = quiet_label(tr("difference"));
  difference->setAlignment(Qt::AlignRight);
  difference->setWordWrap(false);
  grid->addWidget(before_head_, 0, 1);
  grid->addWidget(now, 0, 2);
  grid->addWidget(difference, 0, 3);
  int row = 1;
  for (const auto& outcome : kOutcomes) {
    const QString name = tr(outcome.name);
    auto* label =
        new QLabel(name + (*outcome.unit ? QStringLiteral(", ") + QString::fromUtf8(outcome.unit)
                                         : QString()));
    if (*outcome.tip) label->setToolTip(tr(outcome.tip));
    Line line{name.trimmed(), label, number_label(), number_label(), number_label()};
    grid->addWidget(label, row, 0);
    grid->addWidget(line.before, row, 1);
    grid->addWidget(line.now, row, 2);
    grid->addWidget(line.difference, row, 3);
    lines_.push_back(line);
    ++row;
  }
  grid->setColumnStretch(0, 1);
  estimate_->setWordWrap(true);
  rough_->setWordWrap(true);
  rough_->setAccessibleName(tr("What damage searches say of this section"));
  const auto set_up = [&](NumberEntry* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, decimals, step, suffix, name);
    box->setKeyboardTracking(false);
    connect(box, &NumberEntry::valueChanged, this, &OutcomesPanel::ask);
  };
  set_up(force_, 0.1, 5000, 1, 5, tr(" N/mm"), tr("Sideways load"));
  set_up(depth_, 1, 20000, 0, 10, tr(" µm"), tr("Buried depth of the load"));
  set_up(length_, 0, 2000, 1, 1, tr(" mm"), tr("Length of edge that the load acts on"));
  length_->setToolTip(
      tr("A knot or a staple loads a few millimetres, a twist in thick material "
         "more; 0: the whole edge at once."));
  set_up(rate_, 0.01, 100000, 1, 5, tr(" mm³/min"), tr("Rate of the abrasive"));
  auto* load = new QGridLayout;
  load->setHorizontalSpacing(6);
  load->setVerticalSpacing(2);
  const std::pair<QString, QWidget*> asked[] = {{tr("sideways load"), force_},
                                                {tr("buried deep"), depth_},
                                                {tr("on a length of"), length_},
                                                {tr("abrasive takes"), rate_}};
  int place = 0;
  for (const auto& [name, box] : asked) {
    load->addWidget(quiet_label(name), 2 * (place / 2), place % 2);
    load->addWidget(box, 2 * (place / 2) + 1, place % 2);
    ++place;
  }
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 6, 0);
  column->setSpacing(6);
  column->addLayout(load);
  column->addWidget(origin_);
  column->addWidget(steel_);
  column->addWidget(estimate_);
  column->addWidget(rough_);
  column->addLayout(grid);
  column->addStretch();
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(scrolled(inside));
  // Beside the names, whatever their language, there is room for three numbers.
  constexpr int kNumbers = 3 * 84;
  int widest = 0;
  const QFontMetrics metrics(font());
  for (const auto& line : lines_)
    widest = std::max(widest, metrics.horizontalAdvance(line.label->text()));
  setMinimumWidth(widest + kNumbers);
}

void OutcomesPanel::listen() {
  connect(&model_, &SectionModel::study_changed, this, &OutcomesPanel::refresh);
  connect(&model_, &SectionModel::blade_changed, this, &OutcomesPanel::refresh);
  // Read from the project: not with every step of a drag.
  const auto show = [this] { show_origin(*origin_, workbench_, kSectionQuestionsKey); };
  connect(&workbench_, &Workbench::opened, this, show);
  connect(&workbench_, &Workbench::changed, this, show);
  show();
  refresh();
}

void OutcomesPanel::ask() {
  if (filling_) return;
  SectionQuestions q = model_.questions();
  q.line_N_per_mm = value_of(force_, q.line_N_per_mm);
  q.depth_um = value_of(depth_, q.depth_um);
  q.length_mm = value_of(length_, q.length_mm);
  q.rate_mm3_per_min = value_of(rate_, q.rate_mm3_per_min);
  model_.set_questions(q);
}

void OutcomesPanel::refresh() {
  filling_ = true;
  force_->setValue(model_.questions().line_N_per_mm);
  depth_->setValue(model_.questions().depth_um);
  length_->setValue(model_.questions().length_mm);
  rate_->setValue(model_.questions().rate_mm3_per_min);
  filling_ = false;
  before_head_->setText(
      before_head_->fontMetrics().elidedText(model_.before_name(), Qt::ElideRight, 96));
  before_head_->setToolTip(model_.before_name());
  const SectionStudy* now = model_.study();
  const SectionStudy* before = model_.before_study();
  const SteelCard* card = model_.steel();
  steel_->setText(
      !card || !card->hardness_hrc
          ? tr("No hardness on the steel's card: stress is shown against its own peak.")
          : tr("%1 at %2 HRC")
                .arg(QString::fromStdString(card->name), QString::number(*card->hardness_hrc)));
  if (card && card->hardness_hrc && now && now->stress && now->stress->limit)
    steel_->setText(steel_->text() + tr(": %1 at %2 MPa")
                                         .arg(shown(now->stress->limit->failure))
                                         .arg(now->stress->limit->limit_MPa, 0, 'f', 0));
  if (!model_.refusal().isEmpty()) {
    estimate_->setText(model_.refusal());
  } else {
    QString text;
    if (now && now->stress) {
      text = tr("Estimate: %1.").arg(QString::fromStdString(now->stress->sentence));
      if (now->stress->least_angle_deg) {
        const bool inclusive = workbench_.display().angles == AngleConvention::inclusive;
        text += tr(" A plain wedge would need at least %1° %2.")
                    .arg(*now->stress->least_angle_deg * (inclusive ? 2 : 1), 0, 'f', 1)
                    .arg(inclusive ? tr("inclusive") : tr("per side"));
      }
    }
    estimate_->setText(text);
  }
  name_look(estimate_, model_.refusal().isEmpty() ? "" : "refusal");
  refresh_rough(now);
  for (std::size_t i = 0; i < lines_.size(); ++i) {
    const Outcome& outcome = kOutcomes[i];
    const auto text = [&](std::optional<double> value, bool sign) {
      if (!value || !std::isfinite(*value)) return QString(QChar(0x2013));
      QString number = QString::number(*value, 'f', outcome.decimals);
      if (number.toDouble() == 0) number = QString::number(0.0, 'f', outcome.decimals);
      return sign && number.toDouble() > 0 ? "+" + number : number;
    };
    const auto a = before && !outcome.against_before ? outcome.value(*before) : std::nullopt;
    const auto b = now ? outcome.value(*now) : std::nullopt;
    lines_[i].before->setText(outcome.against_before ? QString() : text(a, false));
    lines_[i].now->setText(outcome.against_before ? QString() : text(b, false));
    const std::pair<QLabel*, QString> columns[] = {{lines_[i].before, model_.before_name()},
                                                   {lines_[i].now, tr("worked on")},
                                                   {lines_[i].difference, tr("difference")}};
    lines_[i].difference->setText(outcome.against_before ? text(b, true)
                                  : a && b               ? text(*b - *a, true)
                                                         : QString());
    // Alone, as a reader meets it, a number says nothing.
    for (const auto& [number, column] : columns)
      number->setAccessibleName(
          tr("%1, %2: %3").arg(lines_[i].label->text().trimmed(), column, number->text()));
  }
}

void OutcomesPanel::refresh_rough(const SectionStudy* now) {
  QStringList lines;
  const auto& blades = workbench_.trial().blades;
  if (const int blade = model_.blade(); now && blade >= 0 && blade < int(blades.size()))
    for (const auto& one : RoughSearches(workbench_.trial(), blades[std::size_t(blade)].steel,
                                         workbench_.session().bench_sessions(),
                                         workbench_.session().kept(kSectionQuestionsKey))
                               .of(now->section)) {
      // The mark is told by its shape, as on the staircase of the search.
      const QString mark = one.standing == RoughestUse::held      ? QStringLiteral("◎")
                           : one.standing == RoughestUse::damaged ? QStringLiteral("⊗")
                                                                  : QStringLiteral("○");
      lines << tr("%1 %2: this section %3.").arg(mark, text_of(one.use), text_of(one.sentence));
    }
  rough_->setText(lines.join(QLatin1Char('\n')));
  rough_->setVisible(!lines.isEmpty());
}

QString OutcomesPanel::rough_words() const { return rough_->text(); }

QString OutcomesPanel::cell(const QString& row, int column) const {
  for (const auto& line : lines_)
    if (line.name == row)
      return (column == 0 ? line.before : column == 1 ? line.now : line.difference)->text();
  return {};
}

}  // namespace bq::ui
