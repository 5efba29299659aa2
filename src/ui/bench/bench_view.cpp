#include "ui/bench/bench_view.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

#include "ui/bench/checkpoint_strip.h"
#include "ui/bench/curve_panel.h"
#include "ui/bench/reading_dots.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/plot/plot_view.h"
#include "workflow/sentences.h"

namespace bq::ui {

BenchView::BenchView(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench), chooser_(new QComboBox), operator_(new QComboBox), glyph_(new EdgeGlyph),
      edge_(new QLabel), caution_(new QLabel), instruction_(new QLabel), figure_(new QLabel), figure_unit_(new QLabel),
      said_(new QLabel), then_(new QLabel), keys_(new QLabel), understood_(new QPushButton(tr("Understood"))),
      confirm_(new QPushButton), entry_(new QLineEdit), entry_unit_(new QLabel), dots_(new ReadingDots),
      plot_(new PlotView), strip_(new CheckpointStrip(workbench)) {
  setFocusPolicy(Qt::StrongFocus);
  auto* upper = new QHBoxLayout;
  upper->setSpacing(24);
  auto* left = make_left();
  upper->addWidget(left, 1);
  upper->addWidget(plot_, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 16, 20, 10);
  layout->setSpacing(12);
  layout->addLayout(upper, 1);
  layout->addWidget(strip_);
  plot_->set_empty_text(tr("The curve appears with the first readings."));

  connect(chooser_, &QComboBox::activated, this, [this](int index) {
    workbench_.choose_run(index);
    setFocus();
  });
  connect(confirm_, &QPushButton::clicked, this, &BenchView::confirm);
  connect(understood_, &QPushButton::clicked, this, [this] {
    if (run()) cautioned_.insert(run()->id);
    show_step();
    setFocus();
  });
  connect(strip_, &CheckpointStrip::reading_clicked, this, &BenchView::ask_exclude);
  connect(plot_, &PlotView::threshold_dragged, this, [this](double y) { workbench_.drag_threshold(workbench_.from_shown(y)); });
  connect(plot_, &PlotView::threshold_dropped, this, [this](double y) { workbench_.drop_threshold(workbench_.from_shown(y)); });
  connect(&workbench_, &Workbench::changed, this, [this] {
    reload_chooser();
    reload();
  });
  connect(&workbench_, &Workbench::run_chosen, this, [this] {
    say({}, false);
    reload_chooser();
    reload();
  });
  connect(&workbench_, &Workbench::fits_changed, this, &BenchView::show_curve);
  connect(&workbench_, &Workbench::threshold_changed, this, [this] {
    if (const auto threshold = workbench_.threshold())
      plot_->set_threshold(workbench_.shown(*threshold), workbench_.threshold_text());
  });
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    plot_->retheme();
    reload_chooser();
    reload();
  });
  reload_chooser();
  reload();
}

QWidget* BenchView::make_left() {
  chooser_->setAccessibleName(tr("Run"));
  chooser_->setFont(font_of(15));
  chooser_->setMinimumWidth(200);
  operator_->setEditable(true);
  operator_->setAccessibleName(tr("Operator"));
  operator_->setMinimumWidth(120);
  operator_->lineEdit()->setPlaceholderText(tr("operator"));
  edge_->setFont(font_of(15));
  edge_->setWordWrap(true);
  caution_->setObjectName(QStringLiteral("caution"));
  caution_->setWordWrap(true);
  caution_->setText(tr("<b>Before you cut:</b> cut-resistant glove on the off hand; cut away from the body; fix the work; "
                       "rest when your hand tires. Feel for a burr across the edge, never along it. Local rules, "
                       "workplace procedure and trained persons come before this program."));
  instruction_->setFont(font_of(32, true));
  instruction_->setWordWrap(true);
  figure_->setFont(font_of(kHuge, true));
  figure_unit_->setFont(font_of(kFigure));
  said_->setFont(font_of(15));
  said_->setWordWrap(true);
  said_->setMinimumHeight(40);
  said_->setAlignment(Qt::AlignTop);
  then_->setObjectName(QStringLiteral("quiet"));
  then_->setFont(font_of(15));
  keys_->setObjectName(QStringLiteral("quiet"));
  confirm_->setObjectName(QStringLiteral("primary"));
  confirm_->setMinimumHeight(44);
  confirm_->setFont(font_of(kHeading, true));
  entry_->setFont(font_of(kFigure, true));
  entry_->setAccessibleName(tr("Reading"));
  entry_->setMaximumWidth(220);
  entry_->setAlignment(Qt::AlignRight);
  entry_->installEventFilter(this);
  entry_unit_->setFont(font_of(kFigure));

  auto* head = new QHBoxLayout;
  head->addWidget(chooser_, 1);
  head->addWidget(operator_);
  auto* edge = new QHBoxLayout;
  edge->setSpacing(12);
  edge->addWidget(glyph_);
  edge->addWidget(edge_, 1);
  auto* figure = new QHBoxLayout;
  figure->addWidget(figure_);
  figure->addWidget(figure_unit_, 0, Qt::AlignBottom);
  figure->addStretch();
  auto* entry = new QHBoxLayout;
  entry->addWidget(entry_);
  entry->addWidget(entry_unit_);
  entry->addWidget(confirm_, 1);
  entry->addStretch();
  auto* caution = new QHBoxLayout;
  caution->addWidget(caution_, 1);
  caution->addWidget(understood_, 0, Qt::AlignBottom);
  auto* left = new QWidget;
  auto* layout = new QVBoxLayout(left);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addLayout(head);
  layout->addLayout(edge);
  layout->addSpacing(6);
  layout->addWidget(instruction_);
  layout->addLayout(figure);
  layout->addWidget(dots_);
  layout->addLayout(entry);
  layout->addWidget(said_);
  layout->addWidget(then_);
  layout->addStretch();
  layout->addLayout(caution);
  layout->addWidget(keys_);
  return left;
}

void BenchView::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  // On a low window the big type gives way before anything is cut off.
  const bool low = height() < 700;
  instruction_->setFont(font_of(low ? 22 : 32, true));
  figure_->setFont(font_of(low ? 44 : kHuge, true));
  figure_unit_->setFont(font_of(low ? 20 : kFigure));
  entry_->setFont(font_of(low ? 20 : kFigure, true));
  said_->setMinimumHeight(low ? 0 : 40);
  glyph_->setVisible(!low);
  instruction_->parentWidget()->layout()->setSpacing(low ? 3 : 10);
}

const Run* BenchView::run() const {
  const int index = workbench_.current_run();
  return index >= 0 && index < int(workbench_.trial().runs.size()) ? &workbench_.trial().runs[std::size_t(index)] : nullptr;
}

QString BenchView::instruction() const { return instruction_->text(); }
QString BenchView::kept_line() const { return said_->text(); }

void BenchView::say(const QString& sentence, bool refusal) {
  said_->setObjectName(refusal ? QStringLiteral("refusal") : QString());
  said_->style()->unpolish(said_);
  said_->style()->polish(said_);
  said_->setText(sentence);
}

void BenchView::reload_chooser() {
  const auto& runs = workbench_.trial().runs;
  // A long list is rebuilt only when it changed.
  if (chooser_->count() != int(runs.size())) {
    chooser_->clear();
    for (const auto& item : runs) chooser_->addItem(QString::fromStdString(item.facts.name));
  }
  for (std::size_t i = 0; i < runs.size(); ++i) {
    const QString text = QString::fromStdString(runs[i].facts.name + " · " + std::string(name_of(state_of(runs[i]))) +
                                                (runs[i].facts.medium.empty() ? "" : " · " + runs[i].facts.medium));
    if (chooser_->itemText(int(i)) != text) chooser_->setItemText(int(i), text);
  }
  chooser_->setCurrentIndex(workbench_.current_run());
  const QString by = operator_->currentText();
  std::set<std::string> names;
  const Trial& trial = workbench_.trial();
  if (run())
    for (const auto& reading : run()->readings)
      if (reading.by_operator) names.insert(trial.labels.text(reading.by_operator));
  for (const auto& name : names)
    if (operator_->findText(QString::fromStdString(name)) < 0) operator_->addItem(QString::fromStdString(name));
  operator_->setCurrentText(by);
}

void BenchView::reload() {
  const Run* now = run();
  const bool any = now != nullptr;
  for (QWidget* part : {static_cast<QWidget*>(figure_), static_cast<QWidget*>(figure_unit_), static_cast<QWidget*>(dots_)})
    part->setVisible(any);
  glyph_->setVisible(any && now->facts.geometry);
  if (any) {
    glyph_->show_edge(now->facts.geometry, now->facts.finish);
    QStringList words;
    words << QString::fromStdString(now->facts.blade.empty() ? now->facts.steel : now->facts.blade);
    if (now->facts.geometry)
      words << QString::fromStdString(print_geometry(*now->facts.geometry, workbench_.display().angles));
    if (now->facts.finish) words << QString::fromStdString(print_finish(*now->facts.finish));
    const QString start = QString::fromStdString(start_line(workbench_.trial(), std::size_t(workbench_.current_run()), workbench_.shown_unit()));
    edge_->setText(words.join(QStringLiteral(" · ")) + (start.isEmpty() ? QString() : QStringLiteral("\n") + start));
  } else {
    edge_->clear();
  }
  show_step();
  show_curve();
  strip_->reload();
}

void BenchView::show_step() {
  const Run* now = run();
  const bool writable = workbench_.writable();
  entry_->hide();
  entry_unit_->hide();
  confirm_->hide();
  caution_->hide();
  understood_->hide();
  keys_->clear();
  then_->clear();
  if (!now) {
    instruction_->setText(workbench_.has_project() ? tr("There is no run to do. Add one on the rack (Ctrl+1).")
                                                   : tr("No project is open."));
    return;
  }
  const Step step = next_step(*now);
  const QString medium = now->facts.medium.empty() ? tr("the medium") : QString::fromStdString(now->facts.medium);
  const bool cautioned = cautioned_.contains(now->id);
  // The figure: the last reading, or the cuts to make.
  const Checkpoint* current = nullptr;
  const auto checkpoints = checkpoints_of(*now, workbench_.trial().unit());
  for (const auto& checkpoint : checkpoints)
    if (checkpoint.cuts == (step.kind == StepKind::read ? step.at_cuts : now->cuts_done)) current = &checkpoint;
  std::vector<ReadingDots::Dot> dots;
  const auto suspects = suspects_of(*now);
  if (current) {
    for (std::size_t i = 0; i < now->readings.size(); ++i) {
      const Reading& r = now->readings[i];
      if (r.cuts != current->cuts) continue;
      ReadingDots::Dot dot{convert(r.value, r.unit, workbench_.trial().unit()), r.excluded, false};
      for (const auto& suspect : suspects) dot.suspect |= suspect.reading_index == i;
      dots.push_back(dot);
    }
  }
  dots_->show_dots(dots, current ? tr("at %1 cuts: median %2, spread %3 % of %4")
                                       .arg(QString::fromStdString(print_cuts(double(current->cuts))),
                                            workbench_.print_value(current->median()),
                                            QString::number(100 * current->cv(), 'f', 1),
                                            current->values.size() == 1 ? tr("1 reading")
                                                                        : tr("%1 readings").arg(current->values.size()))
                                 : tr("no reading at this checkpoint yet"));
  switch (step.kind) {
    case StepKind::cut:
      instruction_->setText(tr("Cut %1 on %2").arg(QString::fromStdString(print_cuts(double(step.cuts_to_make))), medium));
      figure_->setText(QString::fromStdString(print_cuts(double(step.cuts_to_make))));
      figure_unit_->setText(tr("cuts"));
      confirm_->setText(tr("Cuts made  (Space)"));
      confirm_->setVisible(writable);
      then_->setText(tr("then clean the edge and read at %1 cuts").arg(QString::fromStdString(print_cuts(double(step.at_cuts)))));
      caution_->setVisible(!cautioned);
      understood_->setVisible(!cautioned);
      keys_->setText(tr("Space cuts made    X take out last reading    Ctrl+Z undo"));
      break;
    case StepKind::read: {
      instruction_->setText(tr("Read %1 of %2 at %3 cuts")
                                .arg(step.reading_number).arg(now->plan.readings_each)
                                .arg(QString::fromStdString(print_cuts(double(step.at_cuts)))));
      figure_->setText(now->readings.empty() ? QString()
                                             : workbench_.print_value(convert(now->readings.back().value, now->readings.back().unit,
                                                                              workbench_.trial().unit()), false));
      figure_unit_->setText(now->readings.empty() ? QString()
                                                  : tr("%1 last").arg(QString::fromUtf8(sign_of(workbench_.shown_unit()).data())));
      entry_->setVisible(writable);
      entry_unit_->setVisible(writable);
      entry_unit_->setText(QString::fromUtf8(sign_of(workbench_.shown_unit()).data()));
      if (step.checkpoint_index + 1 < now->plan.checkpoints.size())
        then_->setText(tr("then cut on to %1").arg(QString::fromStdString(print_cuts(double(now->plan.checkpoints[step.checkpoint_index + 1])))));
      else if (!now->plan.checkpoints.empty()) then_->setText(tr("this is the last checkpoint"));
      keys_->setText(tr("Digits and Enter keep a reading    X take out last reading    Ctrl+Z undo"));
      break;
    }
    case StepKind::finished:
      instruction_->setText(tr("Run %1 is done").arg(QString::fromStdString(now->facts.name)));
      figure_->setText(QString::fromStdString(print_cuts(double(now->cuts_done))));
      figure_unit_->setText(tr("cuts"));
      then_->setText(tr("see the curve in Findings, or choose the next run above"));
      keys_->setText(tr("Click a reading in the strip to take it out or back in    Ctrl+Z undo"));
      break;
  }
  if (isVisible() && entry_->isVisible() && !chooser_->hasFocus() && !operator_->hasFocus()) entry_->setFocus();
  else if (isVisible() && !entry_->isVisible() && !operator_->hasFocus()) setFocus();
}

void BenchView::show_curve() {
  const Run* now = run();
  if (!now) {
    plot_->show_plot({tr("cuts"), tr("reading")}, {});
    return;
  }
  PlotAxes axes{tr("cuts"), tr("reading, %1").arg(QString::fromUtf8(sign_of(workbench_.shown_unit()).data()))};
  const double end = now->plan.checkpoints.empty() ? 1e15 : double(now->plan.checkpoints.back());
  if (!now->plan.checkpoints.empty()) axes.x_range = {0, end};
  plot_->show_plot(axes, run_series(workbench_, std::size_t(workbench_.current_run()), true, end));
  if (const auto threshold = workbench_.threshold())
    plot_->set_threshold(workbench_.shown(*threshold), workbench_.threshold_text());
  else plot_->set_threshold({}, {});
}

void BenchView::keep_entry() {
  if (!run() || entry_->text().trimmed().isEmpty()) return;
  if (next_step(*run()).kind != StepKind::read) return;
  const UnitKind kind = kind_of(workbench_.trial().unit());
  const bool first = workbench_.trial().reading_count() == 0;
  const auto measure = parse_measure(entry_->text().trimmed().toStdString(), first ? std::nullopt : std::optional(kind),
                                     workbench_.shown_unit());
  const auto refuse = [this](const QString& why) {
    say(tr("Not kept: %1.").arg(why), true);
    entry_->selectAll();
  };
  if (!measure) return refuse(QString::fromStdString(measure.refusal().reason));
  if (!(measure->value > 0)) return refuse(tr("a reading must be above zero"));
  if (measure->unit == Unit::um || measure->unit == Unit::thou) return refuse(tr("readings are in gf, N, lbf, ozf, mm or in"));
  Reading kept;
  const auto index = std::size_t(workbench_.current_run());
  const QString by = operator_->currentText().trimmed();
  entry_->clear();
  if (!workbench_.edit([&](ProjectSession& session) {
        kept = session.keep_reading(index, measure->value, measure->unit, by.toStdString());
      }))
    return say(tr("Not kept; see the message below."), true);
  // Said only now: the transaction is on disk.
  QString line = tr("kept %1 at %2 cuts").arg(QString::fromStdString(print_measure(kept.value, kept.unit, 6)),
                                              QString::fromStdString(print_cuts(double(kept.cuts))));
  if (kept.reason)
    line += tr(", flagged: %1").arg(QString::fromStdString(workbench_.trial().labels.text(kept.reason)));
  say(line, false);
}

void BenchView::confirm() {
  if (!run() || next_step(*run()).kind != StepKind::cut || !workbench_.writable()) return;
  cautioned_.insert(run()->id);
  const auto index = std::size_t(workbench_.current_run());
  if (workbench_.edit([&](ProjectSession& session) { session.confirm_cuts(index); }))
    say(tr("kept: %1 cuts made").arg(QString::fromStdString(print_cuts(double(run()->cuts_done)))), false);
}

void BenchView::ask_exclude(int reading) {
  if (!run() || reading < 0 || reading >= int(run()->readings.size()) || !workbench_.writable()) return;
  const Reading& now = run()->readings[std::size_t(reading)];
  const auto index = std::size_t(workbench_.current_run());
  QString reason;
  if (!now.excluded) {
    bool good = false;
    reason = QInputDialog::getText(
        this, tr("Take a reading out"),
        tr("%1 at %2 cuts stays in the project and is shown, but is not used in the curve.\nWhy is it taken out?")
            .arg(QString::fromStdString(print_measure(now.value, now.unit, 6))).arg(now.cuts),
        QLineEdit::Normal, QString::fromStdString(workbench_.trial().labels.text(now.reason)), &good);
    if (!good) return;
  }
  const bool out = !now.excluded;
  if (workbench_.edit([&](ProjectSession& session) {
        session.set_excluded(index, std::size_t(reading), out, reason.trimmed().toStdString());
      }))
    say(out ? tr("taken out: %1").arg(reason.trimmed()) : tr("taken back in"), false);
}

void BenchView::keyPressEvent(QKeyEvent* event) {
  if (event->isAutoRepeat()) return;  // a key held by a wet glove is one press
  switch (event->key()) {
    case Qt::Key_Space: confirm(); return;
    case Qt::Key_X:
      if (run()) ask_exclude(int(run()->readings.size()) - 1);
      return;
    default: break;
  }
  // Digits find the reading without anything being clicked.
  if (entry_->isVisible() && !event->text().isEmpty() && event->text()[0].isDigit()) {
    entry_->setFocus();
    entry_->insert(event->text());
    return;
  }
  QWidget::keyPressEvent(event);
}

bool BenchView::eventFilter(QObject* watched, QEvent* event) {
  if (watched == entry_ && event->type() == QEvent::KeyPress) {
    const auto* key = static_cast<QKeyEvent*>(event);
    // Taken here and not passed on: the same press must not reach the Bench as a second key.
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
      if (!key->isAutoRepeat()) keep_entry();
      return true;
    }
    if (key->key() == Qt::Key_X && entry_->text().isEmpty()) {
      if (run()) ask_exclude(int(run()->readings.size()) - 1);
      return true;
    }
    // Ctrl+Z in an empty field undoes the last entry, not the field.
    if (entry_->text().isEmpty() && key->modifiers().testFlag(Qt::ControlModifier) && key->key() == Qt::Key_Z) {
      if (key->modifiers().testFlag(Qt::ShiftModifier)) workbench_.redo();
      else workbench_.undo();
      return true;
    }
  }
  return QWidget::eventFilter(watched, event);
}

void BenchView::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  if (entry_->isVisible()) entry_->setFocus();
}

}  // namespace bq::ui
