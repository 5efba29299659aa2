#include "ui/bench/trial_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "trial/checkpoints.h"
#include "ui/bench/checkpoint_strip.h"
#include "ui/bench/curve_panel.h"
#include "ui/bench/look_panel.h"
#include "ui/bench/reading_dots.h"
#include "ui/bench/reason_panel.h"
#include "ui/bench/stage_line.h"
#include "ui/bench/stage_words.h"
#include "ui/bench/stroke_trace.h"
#include "ui/frame/enough_line.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/plot/plot_view.h"
#include "workflow/sentences.h"

namespace bq::ui {

TrialPage::TrialPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      rest_(model.protocol().debounce_ms),
      chooser_(new QComboBox),
      operator_(new QComboBox),
      glyph_(new EdgeGlyph),
      edge_(new QLabel),
      caution_(new QLabel),
      instruction_(new QLabel),
      detail_(new QLabel),
      figure_(new QLabel),
      figure_unit_(new QLabel),
      said_(new QLabel),
      then_(new QLabel),
      keys_(new QLabel),
      enough_(new EnoughLine(workbench)),
      understood_(new QPushButton(tr("Understood"))),
      confirm_(new QPushButton),
      second_(new QPushButton),
      uncover_(new QPushButton(tr("Uncover…"))),
      entry_(new QLineEdit),
      entry_unit_(new QLabel),
      dots_(new ReadingDots),
      stages_(new StageLine(model)),
      middle_(new QStackedWidget),
      look_(new LookPanel(true)),
      reason_(new ReasonPanel),
      plot_(new PlotView),
      trace_(new StrokeTrace(model.desk())),
      strip_(new CheckpointStrip(workbench)),
      pace_(new QProgressBar) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Trial: one step at a time"));
  lay_out();
  listen();
  follow();
}

void TrialPage::lay_out() {
  auto* right = new QVBoxLayout;
  right->setSpacing(6);
  right->addWidget(plot_, 3);
  right->addWidget(trace_, 1);
  auto* upper = new QHBoxLayout;
  upper->setSpacing(24);
  upper->addWidget(make_left(), 1);
  upper->addLayout(right, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addLayout(upper, 1);
  layout->addWidget(stages_);
  layout->addWidget(strip_);
  plot_->set_empty_text(tr("The curve appears with the first readings."));
}

void TrialPage::listen() {
  connect(chooser_, &QComboBox::activated, this, [this](int index) {
    workbench_.choose_run(index);
    setFocus();
  });
  connect(operator_, &QComboBox::currentTextChanged, &model_, &BenchModel::set_operator);
  connect(confirm_, &QPushButton::clicked, this, &TrialPage::act);
  connect(second_, &QPushButton::clicked, this,
          [this] { command(model_.stage().kind == StageKind::look ? Qt::Key_D : Qt::Key_G); });
  connect(uncover_, &QPushButton::clicked, this, [this] {
    ask(tr("Uncover this run's edge?"),
        tr("Whoever reads and knows the edge may read differently. It is written down with the "
           "run."),
        {tr("the blade must be told apart"), tr("sharpening it myself")},
        [this](const QString&) { model_.uncover(); });
  });
  connect(understood_, &QPushButton::clicked, this, [this] {
    if (run()) cautioned_.insert(run()->id);
    show_step();
    setFocus();
  });
  connect(look_, &LookPanel::decided, this, [this](const LookEvent& look, const QString& picture) {
    back_to_work();
    model_.keep_look(look, picture);
  });
  connect(look_, &LookPanel::left, this, &TrialPage::back_to_work);
  connect(reason_, &ReasonPanel::left, this, &TrialPage::back_to_work);
  connect(strip_, &CheckpointStrip::reading_clicked, this, &TrialPage::ask_exclude);
}

void TrialPage::follow() {
  connect(plot_, &PlotView::threshold_dragged, this,
          [this](double y) { workbench_.drag_threshold(workbench_.from_shown(y)); });
  connect(plot_, &PlotView::threshold_dropped, this,
          [this](double y) { workbench_.drop_threshold(workbench_.from_shown(y)); });
  connect(&model_, &BenchModel::changed, this, &TrialPage::reload);
  connect(&model_, &BenchModel::said, this, &TrialPage::say);
  connect(&model_, &BenchModel::number_taken, entry_, &QLineEdit::clear);
  connect(&model_, &BenchModel::beat, this, &TrialPage::show_live);
  connect(&model_, &BenchModel::stroke_kept, this, [this](qint64 id) {
    trace_->show_stroke(workbench_.session().stroke(id), model_.protocol().stroke_mm);
  });
  connect(&workbench_, &Workbench::run_chosen, this, [this] {
    say({}, false);
    back_to_work();
    trace_->show_stroke({}, 0);
  });
  connect(&workbench_, &Workbench::fits_changed, this, &TrialPage::show_curve);
  connect(&workbench_, &Workbench::threshold_changed, this, [this] {
    if (const auto threshold = workbench_.threshold())
      plot_->set_threshold(workbench_.shown(*threshold), workbench_.threshold_text());
  });
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    plot_->retheme();
    reload();
  });
  connect(&live_, &QTimer::timeout, this, &TrialPage::show_live);
  reload();
}

QWidget* TrialPage::make_left() {
  chooser_->setAccessibleName(tr("Run"));
  chooser_->setFont(font_of(15));
  chooser_->setMinimumWidth(200);
  operator_->setEditable(true);
  operator_->setAccessibleName(tr("Operator"));
  operator_->setMinimumWidth(120);
  operator_->lineEdit()->setPlaceholderText(tr("operator"));
  edge_->setFont(font_of(14));
  edge_->setWordWrap(true);
  uncover_->setToolTip(
      tr("Shows steel, angles and finish of this run, and writes down that it was done."));
  auto* head = new QHBoxLayout;
  head->addWidget(chooser_, 1);
  head->addWidget(operator_);
  auto* edge = new QHBoxLayout;
  edge->setSpacing(12);
  edge->addWidget(glyph_);
  edge->addWidget(edge_, 1);
  edge->addWidget(uncover_, 0, Qt::AlignTop);
  middle_->addWidget(make_work());
  middle_->addWidget(look_);
  middle_->addWidget(reason_);
  auto* left = new QWidget;
  auto* layout = new QVBoxLayout(left);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addLayout(head);
  layout->addLayout(edge);
  layout->addWidget(middle_, 1);
  return left;
}

QWidget* TrialPage::make_work() {
  caution_->setObjectName(QStringLiteral("caution"));
  caution_->setWordWrap(true);
  caution_->setTextFormat(Qt::RichText);
  instruction_->setFont(font_of(32, true));
  instruction_->setWordWrap(true);
  detail_->setFont(font_of(15));
  detail_->setWordWrap(true);
  figure_->setFont(font_of(kHuge, true));
  figure_unit_->setFont(font_of(kFigure));
  said_->setFont(font_of(15));
  said_->setWordWrap(true);
  said_->setMinimumHeight(40);
  said_->setAlignment(Qt::AlignTop);
  then_->setObjectName(QStringLiteral("quiet"));
  then_->setFont(font_of(15));
  then_->setWordWrap(true);
  keys_->setObjectName(QStringLiteral("quiet"));
  keys_->setWordWrap(true);
  confirm_->setObjectName(QStringLiteral("primary"));
  for (auto* button : {confirm_, second_}) {
    button->setMinimumHeight(48);
    button->setFont(font_of(kHeading, true));
  }
  entry_->setFont(font_of(kFigure, true));
  entry_->setAccessibleName(tr("Reading"));
  entry_->setMaximumWidth(200);
  entry_->setAlignment(Qt::AlignRight);
  entry_->installEventFilter(this);
  entry_unit_->setFont(font_of(kFigure));
  auto* figure = new QHBoxLayout;
  figure->addWidget(figure_);
  figure->addWidget(figure_unit_, 0, Qt::AlignBottom);
  figure->addStretch();
  auto* entry = new QHBoxLayout;
  entry->addWidget(entry_);
  entry->addWidget(entry_unit_);
  entry->addWidget(confirm_, 1);
  entry->addWidget(second_, 1);
  auto* caution = new QHBoxLayout;
  caution->addWidget(caution_, 1);
  caution->addWidget(understood_, 0, Qt::AlignBottom);
  auto* work = new QWidget;
  auto* layout = new QVBoxLayout(work);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addWidget(instruction_);
  layout->addWidget(detail_);
  layout->addWidget(enough_);
  layout->addLayout(figure);
  pace_->setFixedHeight(12);
  pace_->setRange(0, 100);
  pace_->setTextVisible(false);
  pace_->setAccessibleName(tr("Pace"));
  layout->addWidget(pace_);
  layout->addWidget(dots_);
  layout->addLayout(entry);
  layout->addWidget(said_);
  layout->addWidget(then_);
  layout->addStretch();
  layout->addLayout(caution);
  layout->addWidget(keys_);
  return work;
}

void TrialPage::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  // On a low window the big type gives way before anything is cut off.
  const bool low = height() < 640;
  // On a large one it is read from further away.
  const double high = std::clamp(double(height()) / 800, 1.0, 2.4), small = std::min(high, 1.7);
  const auto in = [](int pixels, double times) { return int(std::lround(pixels * times)); };
  instruction_->setFont(font_of(low ? 22 : in(32, high), true));
  figure_->setFont(font_of(low ? 48 : in(96, high), true));
  figure_unit_->setFont(font_of(low ? 20 : in(kFigure, high)));
  entry_->setFont(font_of(low ? 20 : in(kFigure, high), true));
  entry_->setMaximumWidth(in(200, high));
  for (auto* line : {detail_, said_, then_}) line->setFont(font_of(in(15, small)));
  for (auto* button : {confirm_, second_}) button->setFont(font_of(in(kHeading, small), true));
  said_->setMinimumHeight(low ? 0 : 40);
  glyph_->setVisible(!low && run() && run()->facts.geometry && !model_.covered());
  then_->setVisible(!low && !caution_->isVisibleTo(this));
  trace_->setVisible(height() > 520 &&
                     (trace_->has_stroke() || model_.desk().profile(InstrumentRole::force_cell)));
  instruction_->parentWidget()->layout()->setSpacing(low ? 3 : 8);
}

QString TrialPage::instruction() const { return instruction_->text(); }
QString TrialPage::kept_line() const { return said_->text(); }
QString TrialPage::facts() const { return edge_->text(); }

void TrialPage::say(const QString& sentence, bool refusal) {
  name_look(said_, refusal ? "refusal" : "");
  said_->setText(sentence);
  if (refusal) entry_->selectAll();
}

void TrialPage::reload_chooser() {
  const auto& runs = workbench_.trial().runs;
  // A long list is rebuilt only when it changed.
  if (chooser_->count() != int(runs.size())) {
    chooser_->clear();
    for (const auto& item : runs) chooser_->addItem(QString::fromStdString(item.facts.name));
  }
  for (std::size_t i = 0; i < runs.size(); ++i) {
    const QString text = QString::fromStdString(
        runs[i].facts.name + " · " + std::string(name_of(state_of(runs[i]))) +
        (runs[i].facts.medium.empty() ? "" : " · " + runs[i].facts.medium));
    if (chooser_->itemText(int(i)) != text) chooser_->setItemText(int(i), text);
  }
  chooser_->setCurrentIndex(workbench_.current_run());
  const QString by = operator_->currentText();
  if (run())
    for (const auto& reading : run()->readings)
      if (const auto name =
              QString::fromStdString(workbench_.trial().labels.text(reading.by_operator));
          !name.isEmpty() && operator_->findText(name) < 0)
        operator_->addItem(name);
  operator_->setCurrentText(by);
}

void TrialPage::reload() {
  rest_.set_rest(model_.protocol().debounce_ms);
  reload_chooser();
  show_facts();
  show_dots();
  show_step();
  show_curve();
  stages_->reload();
  strip_->reload();
  trace_->setVisible(height() > 520 &&
                     (trace_->has_stroke() || model_.desk().profile(InstrumentRole::force_cell)));
}

void TrialPage::show_facts() {
  const Run* now = run();
  const bool covered = model_.covered();
  for (QWidget* part : {static_cast<QWidget*>(figure_), static_cast<QWidget*>(figure_unit_),
                        static_cast<QWidget*>(dots_)})
    part->setVisible(now != nullptr);
  glyph_->setVisible(now && now->facts.geometry && !covered && height() >= 640);
  uncover_->setVisible(covered && workbench_.writable());
  if (!now) return edge_->clear();
  if (covered) {
    edge_->setText(
        tr("Blind: blade marked %1. Steel, angles and finish stay covered until the run is done.")
            .arg(QString::fromStdString(now->facts.name)));
    return;
  }
  glyph_->show_edge(now->facts.geometry, now->facts.finish);
  QStringList words;
  words << QString::fromStdString(now->facts.blade.empty() ? now->facts.steel : now->facts.blade);
  if (now->facts.geometry)
    words << QString::fromStdString(
        print_geometry(*now->facts.geometry, workbench_.display().angles));
  if (now->facts.finish) words << QString::fromStdString(print_finish(*now->facts.finish));
  const QString start = model_.start_words();
  edge_->setText(words.join(QStringLiteral(" · ")) +
                 (start.isEmpty() ? QString() : QStringLiteral("\n") + start));
}

void TrialPage::show_dots() {
  const Run* now = run();
  if (!now) return;
  const Trial& trial = workbench_.trial();
  const std::int64_t at =
      model_.stage().kind == StageKind::read ? model_.stage().at_cuts : now->cuts_done;
  const auto checkpoints = checkpoints_of(*now, trial.unit());
  const auto current = std::find_if(checkpoints.begin(), checkpoints.end(),
                                    [&](const Checkpoint& c) { return c.cuts == at; });
  std::vector<ReadingDots::Dot> dots;
  const auto suspects = suspects_of(*now);
  for (std::size_t i = 0; i < now->readings.size(); ++i) {
    const Reading& r = now->readings[i];
    if (r.cuts != at) continue;
    ReadingDots::Dot dot{convert(r.value, r.unit, trial.unit()), r.excluded, false};
    for (const auto& suspect : suspects) dot.suspect |= suspect.reading_index == i;
    dots.push_back(dot);
  }
  dots_->show_dots(dots, current == checkpoints.end()
                             ? tr("no reading at this checkpoint yet")
                             : tr("at %1 cuts: median %2, spread %3 % of %4")
                                   .arg(QString::fromStdString(print_cuts(double(at))),
                                        workbench_.print_value(current->median()),
                                        QString::number(100 * current->cv(), 'f', 1),
                                        current->values.size() == 1
                                            ? tr("1 reading")
                                            : tr("%1 readings").arg(current->values.size())));
}

void TrialPage::show_step() {
  const StageWords words = words_of(workbench_, model_);
  const bool writable = workbench_.writable() && run();
  instruction_->setText(words.instruction);
  detail_->setText(words.detail);
  detail_->setVisible(!words.detail.isEmpty());
  // Not while a run is under way: whoever reads a gauge need not know what leads.
  const StageKind stage = model_.stage().kind;
  enough_->set_wanted(run() && (stage == StageKind::stopped || stage == StageKind::finished));
  figure_->setText(words.figure);
  figure_unit_->setText(words.figure_unit);
  confirm_->setText(words.button);
  confirm_->setVisible(writable && !words.button.isEmpty());
  second_->setText(words.second_button);
  second_->setVisible(writable && !words.second_button.isEmpty());
  entry_->setVisible(writable && words.takes_number);
  entry_unit_->setVisible(writable && words.takes_number);
  entry_unit_->setText(words.entry_unit);
  then_->setText(words.then);
  // A key stays on one line with what it does.
  QStringList keys = words.keys.split(QStringLiteral("    "), Qt::SkipEmptyParts);
  for (auto& key : keys) key = key.trimmed().replace(QLatin1Char(' '), QChar(0xa0));
  keys_->setText(keys.join(QStringLiteral("    ")));
  const bool caution = run() && !words.caution.isEmpty() && !cautioned_.contains(run()->id);
  caution_->setText(words.caution);
  caution_->setVisible(caution);
  understood_->setVisible(caution);
  dots_->setVisible(run() && !caution);  // the caution comes first
  then_->setVisible(!caution && height() >= 640);
  show_live();
  if (middle_->currentIndex() != kWork || !isVisible() || chooser_->hasFocus() ||
      operator_->hasFocus())
    return;
  if (entry_->isVisible())
    entry_->setFocus();
  else
    setFocus();
}

void TrialPage::show_live() {
  const bool lively = model_.rest_left_s() || model_.pacing();
  if (lively != live_.isActive()) lively ? live_.start(50) : live_.stop();
  pace_->setVisible(
      model_.pacing());  // fills with every beat: the pace can be seen as well as heard
  if (const auto left = model_.rest_left_s()) {
    const int whole = int(std::max(0.0, *left) + 0.999);
    figure_->setText(
        QStringLiteral("%1:%2").arg(whole / 60).arg(whole % 60, 2, 10, QLatin1Char('0')));
    figure_unit_->setText(*left > 0 ? tr("to rest") : tr("rested: go on"));
  } else if (model_.pacing() || model_.beats() > 0) {
    if (model_.stage().kind != StageKind::cut) return;
    figure_->setText(tr("%1").arg(model_.beats()));
    figure_unit_->setText(tr("of %1 cuts").arg(model_.stage().cuts_to_make));
    pace_->setValue(int(model_.into_beat() * 100));
  }
}

void TrialPage::show_curve() {
  const Run* now = run();
  if (!now) {
    plot_->show_plot({tr("cuts"), tr("reading")}, {});
    return;
  }
  PlotAxes axes{tr("cuts"),
                tr("reading, %1").arg(QString::fromUtf8(sign_of(workbench_.shown_unit()).data()))};
  const double end = now->plan.checkpoints.empty() ? 1e15 : double(now->plan.checkpoints.back());
  if (!now->plan.checkpoints.empty()) axes.x_range = {0, end};
  auto series = run_series(workbench_, std::size_t(workbench_.current_run()), true, end);
  if (model_.covered())
    for (auto& one : series) one.style = 0;  // a steel's colour and marker would give it away
  plot_->show_plot(axes, series);
  if (const auto threshold = workbench_.threshold())
    plot_->set_threshold(workbench_.shown(*threshold), workbench_.threshold_text());
  else
    plot_->set_threshold({}, {});
}

}  // namespace bq::ui
