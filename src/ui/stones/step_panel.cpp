#include "ui/stones/step_panel.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QResizeEvent>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "ui/frame/aloud.h"
#include "ui/stones/burr_marks.h"
#include "ui/stones/step_dialog.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr int kKeyRest_ms = 120;  ///< a second press within this is a trembling hand
constexpr int kFeel_ms = 600;     ///< nobody looks at the next place sooner

/// Why a gate is passed without its burr: keys 1 to 4.
QStringList usual_reasons() {
  return {StepPanel::tr("too small to feel; the apex was seen under the lens"),
          StepPanel::tr("the ink is gone to the apex on both sides"),
          StepPanel::tr("this side is only polished"),
          StepPanel::tr("this steel or method raises none")};
}

QString clock_text(double seconds) {
  const int whole = int(seconds);
  return QStringLiteral("%1:%2").arg(whole / 60).arg(whole % 60, 2, 10, QLatin1Char('0'));
}

}  // namespace

StepPanel::StepPanel(Workbench& workbench, StonesModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      place_(quiet_label({})),
      big_(new QLabel),
      next_(quiet_label({})),
      time_(new QLabel),
      first_(new QLabel),
      note_(new QLabel),
      look_(quiet_label({})),
      remarks_(new QLabel),
      caution_text_(new QLabel),
      caution_(new QWidget),
      reason_row_(new QWidget),
      buttons_(new QWidget),
      begin_(new QPushButton(tr("Begin this sharpening"))),
      tap_(new QPushButton),
      undo_(new QPushButton(tr("Undo ⌫"))),
      pause_(new QPushButton),
      pass_(new QPushButton(tr("Pass 7"))),
      add_(new QPushButton(tr("Add"))),
      change_(new QPushButton(tr("Change"))),
      give_up_(new QPushButton(tr("Lay away"))),
      reason_(new QLineEdit),
      marks_(new BurrMarks(model)),
      aloud_(new Aloud(this)),
      clock_(new QTimer(this)),
      rest_(kKeyRest_ms),
      feel_(kFeel_ms) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("What to do now"));
  set_up_words();
  lay_out_caution();
  lay_out_reason();
  lay_out();
  listen();
  refresh();
}

void StepPanel::set_up_words() {
  big_->setWordWrap(true);
  big_->setFont(font_of(24, true));
  big_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  time_->setFont(font_of(kFigure, true));
  time_->setAlignment(Qt::AlignRight | Qt::AlignTop);
  time_->setMinimumWidth(84);
  time_->setAccessibleName(tr("Time on this step"));
  first_->setWordWrap(true);
  note_->setWordWrap(true);
  note_->setFont(font_of(15));
  look_->setWordWrap(true);
  remarks_->setWordWrap(true);
  remarks_->setObjectName(QStringLiteral("caution"));
  first_->setTextInteractionFlags(Qt::TextSelectableByMouse);
}

/// Before the act, with what is pressed when it was read.
void StepPanel::lay_out_caution() {
  caution_text_->setObjectName(QStringLiteral("caution"));
  caution_text_->setWordWrap(true);
  auto* caution = new QHBoxLayout(caution_);
  caution->setContentsMargins(0, 0, 0, 0);
  auto* seen = new QPushButton(tr("Seen"));
  caution->addWidget(caution_text_, 1);
  caution->addWidget(seen, 0, Qt::AlignTop);
  make_wet(seen);
  connect(seen, &QPushButton::clicked, this, &StepPanel::see_caution);
}

void StepPanel::set_up_buttons() {
  begin_->setObjectName(QStringLiteral("primary"));
  tap_->setObjectName(QStringLiteral("primary"));
  make_wet(begin_);
  tap_->setMinimumWidth(360);
  for (QPushButton* button : {tap_, undo_, pause_, pass_, add_, change_, give_up_}) {
    make_wet(button);
    button->setFocusPolicy(Qt::TabFocus);
  }
  add_->setToolTip(tr("Add a step before this one: local rework, straightening, a strop …"));
  add_->setAccessibleName(tr("Add a step"));
  change_->setToolTip(
      tr("Change this step to what is really done: passes, pressure, angle, stone"));
  change_->setAccessibleName(tr("Change this step"));
  pass_->setToolTip(tr("Pass the gate without its burr, with a reason"));
}

/// Why a gate is passed without its burr: a usual reason, or one that is typed.
void StepPanel::lay_out_reason() {
  reason_->setPlaceholderText(tr("why is there no burr?"));
  reason_->setAccessibleName(tr("Reason to pass the gate"));
  reason_->installEventFilter(this);
  auto* reasons = new QVBoxLayout(reason_row_);
  reasons->setContentsMargins(0, 0, 0, 0);
  reasons->setSpacing(4);
  for (int i = 0; i < int(usual_reasons().size()); ++i) {
    auto* usual = new QPushButton(QStringLiteral("%1  %2").arg(i + 1).arg(usual_reasons()[i]));
    make_wet(usual);
    usual->setFocusPolicy(Qt::TabFocus);
    connect(usual, &QPushButton::clicked, this, [this, i] { pass_with(usual_reasons()[i]); });
    reasons->addWidget(usual);
  }
  auto* reason = new QHBoxLayout;
  auto* keep = new QPushButton(tr("Keep the reason"));
  reason->addWidget(reason_, 1);
  reason->addWidget(keep);
  reasons->addLayout(reason);
  reason_row_->hide();
  const auto pass = [this] { pass_with(reason_->text()); };
  connect(keep, &QPushButton::clicked, this, pass);
  connect(reason_, &QLineEdit::returnPressed, this, pass);
}

void StepPanel::lay_out() {
  set_up_buttons();
  auto* head = new QHBoxLayout;
  auto* words = new QVBoxLayout;
  words->setSpacing(4);
  words->addWidget(place_);
  words->addWidget(big_);
  words->addWidget(note_);
  head->addLayout(words, 1);
  head->addWidget(time_, 0, Qt::AlignTop);
  auto* row = new QHBoxLayout(buttons_);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(6);
  row->addWidget(undo_);
  row->addWidget(pause_);
  row->addWidget(pass_);
  row->addStretch(1);
  row->addWidget(add_);
  row->addWidget(change_);
  row->addWidget(give_up_);
  auto* inside = new QWidget;
  auto* layout = new QVBoxLayout(inside);
  layout->setContentsMargins(0, 0, 4, 0);
  layout->setSpacing(8);
  layout->addLayout(head);
  layout->addWidget(look_);
  layout->addWidget(marks_);
  layout->addWidget(tap_, 0, Qt::AlignLeft);
  layout->addWidget(remarks_);
  layout->addWidget(reason_row_);
  layout->addWidget(buttons_);
  layout->addWidget(begin_, 0, Qt::AlignLeft);
  layout->addWidget(first_);
  layout->addWidget(next_);
  layout->addStretch(1);
  // A low window scrolls what is not needed for the next tap.
  auto* whole = new QVBoxLayout(this);
  whole->setContentsMargins(0, 0, 0, 0);
  whole->setSpacing(8);
  whole->addWidget(caution_);  // before the act, and never scrolled away
  auto* scroll = scrolled(inside);
  scroll->setFocusPolicy(Qt::NoFocus);
  whole->addWidget(scroll);
}

void StepPanel::listen() {
  connect(begin_, &QPushButton::clicked, this, [this] {
    model_.begin_planned();
    setFocus();
  });
  connect(tap_, &QPushButton::clicked, &model_, &StonesModel::tap_next);
  connect(undo_, &QPushButton::clicked, &model_, &StonesModel::undo_tap);
  connect(pause_, &QPushButton::clicked, &model_, &StonesModel::pause_or_go_on);
  connect(pass_, &QPushButton::clicked, this, &StepPanel::ask_reason);
  connect(add_, &QPushButton::clicked, this, [this] { ask_step(false); });
  connect(change_, &QPushButton::clicked, this, [this] { ask_step(true); });
  connect(give_up_, &QPushButton::clicked, &model_, &StonesModel::give_up);
  connect(&model_, &StonesModel::hand_changed, this, &StepPanel::refresh);
  connect(&model_, &StonesModel::plan_changed, this, &StepPanel::refresh);
  connect(&model_, &StonesModel::blade_changed, this, [this] {
    caution_seen_ = false;  // another blade is another act
    done_sentence_.clear();
    reason_row_->hide();
  });
  connect(&model_, &StonesModel::finished, this, [this](const QString& sentence) {
    done_sentence_ = sentence.left(1).toUpper() + sentence.sliced(1);
    caution_seen_ = false;
    refresh();
  });
  connect(&workbench_, &Workbench::display_changed, this, &StepPanel::refresh);
  clock_->setInterval(500);
  connect(clock_, &QTimer::timeout, this, &StepPanel::tick);
}

QString StepPanel::instruction_text() const {
  return note_->isHidden() ? big_->text() : big_->text() + ' ' + note_->text();
}

void StepPanel::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  // On a large window it is read from further away.
  const double high = std::clamp(window()->height() / 900.0, 1.0, 2.0);
  big_->setFont(font_of(width() < 520 ? 19 : int(std::lround(24 * high)), true));
  time_->setFont(font_of(int(std::lround(kFigure * high)), true));
}

void StepPanel::tick() {
  if (isVisible()) time_->setText(model_.hand() ? clock_text(model_.seconds()) : QString());
}

void StepPanel::refresh() {
  const bool in_hand = model_.hand().has_value();
  const Sharpening sharpening = in_hand ? model_.hand()->sharpening : model_.planned();
  const auto step = in_hand ? current_step(sharpening) : std::nullopt;
  const std::size_t at = step.value_or(0);
  const bool writable = workbench_.writable();
  note_->setText(step ? QString::fromStdString(sharpening.steps[at].note) : QString());
  note_->setVisible(!note_->text().isEmpty());
  marks_->setVisible(step && gate_of(sharpening, at) != 0);
  const auto asked = marks_->isHidden() ? std::nullopt : marks_->asked();
  look_->setText(asked ? QString::fromStdString(how_to_look(
                             sharpening.proof, gate_mark_name(*asked, sharpening.places)))
                       : QString());
  look_->setVisible(asked.has_value());
  QStringList remarks;
  if (step)
    for (const auto& remark : burr_remarks(sharpening, at))
      remarks << QString::fromStdString(remark);
  remarks_->setText(remarks.join('\n'));
  remarks_->setVisible(!remarks.isEmpty());
  buttons_->setVisible(in_hand);
  tap_->setVisible(in_hand);
  tap_->setEnabled(writable);
  buttons_->setEnabled(writable);
  begin_->setVisible(!in_hand && model_.plan().has_value());
  begin_->setEnabled(writable);
  if (!in_hand) reason_row_->hide();
  time_->setText(in_hand ? clock_text(model_.seconds()) : QString());
  if (model_.timer_runs())
    clock_->start();
  else
    clock_->stop();
  pause_->setText(model_.timer_runs() ? tr("Hold 9") : tr("Timer 9"));

  bool powered = false, strop = false;
  for (const auto& s : sharpening.steps) {
    strop |= s.work == StepWork::strop;
    for (const auto& a : workbench_.trial().shelf)
      powered |= a.name == s.abrasive && is_powered(a.kind);
  }
  caution_text_->setText(
      tr("Feel for a burr across the edge, never along it; mind slurry and dust. ") +
      (powered ? tr("At the wheel or belt: eye protection, no gloves, loose sleeves or hanging "
                    "hair; cool every pass, blue metal is soft. ")
               : QString()) +
      (strop ? tr("On the strop the edge trails. ") : QString()) +
      tr("Local rules and trained people come first."));
  caution_->setVisible(!caution_seen_ && (in_hand || model_.plan()) && !sharpening.steps.empty());

  if (!model_.blade_facts()) {
    place_->clear();
    big_->setText(tr("There is no blade on the rack yet."));
    next_->clear();
    first_->hide();
    return;
  }
  if (!in_hand) {
    place_->setText(done_sentence_.isEmpty() ? tr("Nothing in hand")
                                             : tr("Kept in the blade's history"));
    if (!done_sentence_.isEmpty())
      big_->setText(done_sentence_);
    else if (model_.plan())
      big_->setText(
          (sharpening.steps.size() == 1
               ? tr("1 step, about %2 min, %3 mm³ of metal")
               : tr("%1 steps, about %2 min, %3 mm³ of metal").arg(sharpening.steps.size()))
              .arg(model_.plan()->minutes, 0, 'f', 0)
              .arg(model_.plan()->metal_mm3, 0, 'f', 1));
    else
      big_->setText(tr("No ladder: %1.").arg(model_.refusal()));
    next_->setText(sharpening.steps.empty()
                       ? QString()
                       : tr("First: %1").arg(QString::fromStdString(instruction(sharpening, 0))));
    first_->hide();
    return;
  }
  if (!step) return;
  done_sentence_.clear();
  const auto tap = next_tap(sharpening);
  place_->setText(tr("Step %1 of %2").arg(at + 1).arg(sharpening.steps.size()) +
                  (sharpening.run.empty()
                       ? QString()
                       : tr(", start of run %1").arg(QString::fromStdString(sharpening.run))));
  big_->setText(QString::fromStdString(instruction(sharpening, at, false)));
  aloud_->instruct(instruction_text());
  if (tap->mark)
    tap_->setText(tr("A burr at the %1, size not said  Space")
                      .arg(QString::fromStdString(gate_mark_name(*tap->mark, sharpening.places))));
  else
    tap_->setText(tap->missed ? tr("Work the missed places alone  Space") : tr("Step done  Space"));
  pass_->setVisible(open_marks(sharpening, at) != 0);
  next_->setText(
      at + 1 < sharpening.steps.size()
          ? tr("Then: %1").arg(QString::fromStdString(instruction(sharpening, at + 1, false)))
          : tr("Then: wipe it, take the start readings, and see the card."));
  QStringList before;
  for (const auto& a : workbench_.trial().shelf)
    if (a.name == sharpening.steps[at].abrasive)
      for (const auto& line : before_use(a, model_.cutting_class()))
        before << QString::fromStdString(line);
  first_->setText(tr("Before you use it: %1.").arg(before.join(QStringLiteral("; "))));
  first_->setVisible(!before.isEmpty());
}

void StepPanel::see_caution() {
  caution_seen_ = true;
  refresh();
  setFocus();
}

void StepPanel::ask_reason() {
  if (pass_->isHidden()) return;
  reason_row_->show();
  reason_->setFocus();
}

void StepPanel::pass_with(const QString& reason) {
  model_.pass_gate(reason);
  if (reason.trimmed().isEmpty()) return;
  close_reasons();
}

void StepPanel::close_reasons() {
  reason_row_->hide();
  reason_->clear();
  setFocus();
}

bool StepPanel::eventFilter(QObject* watched, QEvent* event) {
  // Before anything is typed a number takes the usual reason of that number.
  if (watched == reason_ && event->type() == QEvent::KeyPress && reason_->text().isEmpty()) {
    const int key = static_cast<QKeyEvent*>(event)->key(), number = key - Qt::Key_1;
    if (number >= 0 && number < int(usual_reasons().size())) {
      pass_with(usual_reasons()[number]);
      return true;
    }
    if (key == Qt::Key_Backspace || key == Qt::Key_Escape) {
      close_reasons();
      return true;
    }
  }
  return QWidget::eventFilter(watched, event);
}

void StepPanel::ask_step(bool change) {
  const auto at = model_.hand() ? current_step(model_.hand()->sharpening) : std::nullopt;
  if (!at) return;
  StepDialog dialog(workbench_, model_, change ? &model_.hand()->sharpening.steps[*at] : nullptr,
                    this);
  if (dialog.exec() == QDialog::Accepted) {
    if (change)
      model_.change_step(dialog.step());
    else
      model_.add_step(dialog.step());
  }
  setFocus();
}

bool StepPanel::take_key(QKeyEvent* event) {
  if (event->isAutoRepeat() || (event->modifiers() & ~(Qt::KeypadModifier | Qt::ShiftModifier)))
    return false;
  const int key = event->key(), size = key - Qt::Key_1;
  const bool says = size >= 0 && size < int(std::size(kSaidSizes));
  const bool pauses = key == Qt::Key_T || key == Qt::Key_9,
             passes = key == Qt::Key_O || key == Qt::Key_7;
  if (!says && !pauses && !passes && key != Qt::Key_Space && key != Qt::Key_Backspace) return false;
  // The keys that do another thing each time rest a moment.
  if ((key == Qt::Key_Space || key == Qt::Key_Backspace) && !rest_.pass(*event)) return true;
  if (key == Qt::Key_Backspace) {
    model_.undo_tap();
    return true;
  }
  if (key == Qt::Key_Space && !caution_->isHidden()) {
    see_caution();
    return true;
  }
  if (!model_.hand()) {
    // Not straight after the last step: a press too many begins nothing.
    if (key != Qt::Key_Space || !begin_->isEnabled() || begin_->isHidden() ||
        !done_sentence_.isEmpty())
      return false;
    model_.begin_planned();
    return true;
  }
  const bool at_place = !marks_->isHidden() && marks_->asked();
  if (pauses) {
    model_.pause_or_go_on();
  } else if (passes) {
    ask_reason();
  } else if (at_place) {
    // Whatever is said of a place: the next one takes a hand its time.
    if (!feel_.pass(*event, Qt::Key_Space)) return true;
    marks_->say(says ? kSaidSizes[size] : BurrSize::felt);
  } else if (key == Qt::Key_Space) {
    model_.tap_next();
  }
  return true;
}

void StepPanel::keyPressEvent(QKeyEvent* event) {
  if (!take_key(event)) QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
