// What keys and presses do on the Bench's trial page.
#include <QComboBox>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>

#include "quantity/number.h"
#include "ui/bench/look_panel.h"
#include "ui/bench/reason_panel.h"
#include "ui/bench/stage_words.h"
#include "ui/bench/trial_page.h"

namespace bq::ui {

void TrialPage::back_to_work() {
  middle_->setCurrentIndex(kWork);
  if (!isVisible()) return;
  if (entry_->isVisible())
    entry_->setFocus();
  else
    setFocus();
}

void TrialPage::ask(const QString& question, const QString& more, const QStringList& usual,
                    const std::function<void(const QString&)>& take) {
  middle_->setCurrentIndex(kReason);
  reason_->ask(question, more, usual, take);
}

void TrialPage::ask_exclude(int reading) {
  if (!run() || reading < 0 || reading >= int(run()->readings.size()) || !workbench_.writable())
    return;
  const Reading& now = run()->readings[std::size_t(reading)];
  if (now.excluded) {
    model_.set_reading_aside(reading, {});
    return;
  }
  const QString flag = QString::fromStdString(workbench_.trial().labels.text(now.reason));
  ask(tr("Why is %1 taken out?").arg(QString::fromStdString(print_measure(now.value, now.unit, 6))),
      tr("At %1 cuts. It stays in the project and is shown, but is not used in the curve; the "
         "checkpoint asks for another.")
              .arg(now.cuts) +
          (flag.isEmpty() ? QString() : tr(" Flagged: %1.").arg(flag)),
      {tr("filament slipped"), tr("wrong place"), tr("gauge was pushed"), tr("read twice"),
       tr("edge was not clean"), tr("typed wrongly")},
      [this, reading](const QString& why) { model_.set_reading_aside(reading, why); });
}

void TrialPage::ask_go_on() {
  switch (model_.stage().kind) {
    case StageKind::gate:
      ask(tr("Why is this start passed?"),
          tr("It lies outside the limits of its kind. The reason is kept with the run."),
          {tr("looked at again: no burr"), tr("new finish, no limits yet"), tr("gauge was checked"),
           tr("wanted like this")},
          [this](const QString& why) { model_.decide(true, why); });
      break;
    case StageKind::stop:
    case StageKind::stopped:
      ask(tr("Why does the run go on?"), tr("The reason is kept with the run."),
          {tr("to see how it goes on"), tr("the damage is old"), tr("the limit is another now"),
           tr("stopped by mistake")},
          [this](const QString& why) { model_.decide(true, why); });
      break;
    case StageKind::check_weight:
      ask(tr("Why is the check weight left out?"),
          tr("Readings without a check cannot be told from a gauge that drifted."),
          {tr("weight is not here"), tr("checked on another project"), tr("no time")},
          [this](const QString& why) { model_.decide(true, why); });
      break;
    default:
      break;
  }
}

void TrialPage::ask_stop() {
  if (model_.stage().kind == StageKind::stop || model_.stage().kind == StageKind::gate) {
    model_.decide(false, {});
    return;
  }
  if (!run() || state_of(*run()) == RunState::done) return;
  ask(tr("Why is this run stopped?"),
      tr("What was read stays and counts as “more than so many cuts”. The run can be taken up "
         "again. To go on tomorrow nothing needs to be stopped: M pauses it."),
      {tr("edge is damaged"), tr("medium is used up"), tr("blunt enough"),
       tr("something went wrong")},
      [this](const QString& why) { model_.stop_run(why); });
}

void TrialPage::act() {
  if (run() && model_.stage().kind == StageKind::cut) cautioned_.insert(run()->id);
  if (model_.stage().kind == StageKind::gate || model_.stage().kind == StageKind::stop)
    ask_stop();
  else if (model_.stage().kind == StageKind::stopped || model_.stage().kind == StageKind::finished)
    model_.next_run();
  else
    model_.act();
  if (middle_->currentIndex() == kWork && isVisible() && !entry_->isVisible()) setFocus();
}

void TrialPage::keep_entry() {
  if (!entry_->text().trimmed().isEmpty())
    model_.type(entry_->text());
  else if (!entry_->isVisible())
    act();
}

bool TrialPage::take(const QKeyEvent& press) {
  // An Enter behind a number always counts: a gauge that types like a keyboard is quicker than any
  // glove, and a number left standing would run into the next one.
  const bool ends_number = (press.key() == Qt::Key_Return || press.key() == Qt::Key_Enter) &&
                           entry_->isVisible() && !entry_->text().trimmed().isEmpty();
  if (ends_number)
    rest_.note(press);
  else if (!rest_.pass(press))
    return true;
  return command(press.key());
}

bool TrialPage::command(int key) {
  switch (key) {
    case Qt::Key_Space:
      // Behind a number one Space may lead to its unit; two are a pedal that confirms what was
      // typed.
      if (!entry_->isVisible() || entry_->text().trimmed().isEmpty())
        act();
      else if (entry_->text().endsWith(QLatin1Char(' ')))
        keep_entry();
      else {
        entry_->insert(QStringLiteral(" "));

        say(tr("Space again or Enter keeps %1").arg(entry_->text().trimmed()), false);
      }
      return true;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      keep_entry();
      return true;
    case Qt::Key_D:
      if (run() && run()->cuts_done > 0 && workbench_.writable()) {
        middle_->setCurrentIndex(kLook);
        look_->begin(true);
        look_->offer(damage_offers(workbench_.trial(), run()->facts.blade, run()->facts.name));
      } else {
        say(tr("Damage is looked for after the first cuts."), false);
      }
      return true;
    case Qt::Key_X:
      // The last one that counts: what is out already is taken back in where it is shown.
      if (run())
        for (int i = int(run()->readings.size()); i-- > 0;)
          if (!run()->readings[std::size_t(i)].excluded) {
            ask_exclude(i);
            break;
          }
      return true;
    case Qt::Key_M:
      model_.pause_until_tomorrow();
      return true;
    case Qt::Key_U:
      model_.undo();
      return true;
    case Qt::Key_R:
      model_.begin_rest();
      return true;
    case Qt::Key_P:
      model_.toggle_pace();
      return true;
    case Qt::Key_T:
      model_.stroke_now();
      return true;
    case Qt::Key_N:
      model_.next_run();
      return true;
    case Qt::Key_W:
      model_.check_weight_now();
      return true;
    case Qt::Key_G:
      ask_go_on();
      return true;
    case Qt::Key_S:
      ask_stop();
      return true;
    case Qt::Key_Escape:
      // Closes what is open; what was typed stays typed, what was kept stays kept.
      emit full_screen_left();
      return true;
    default:
      return false;
  }
}

void TrialPage::keyPressEvent(QKeyEvent* event) {
  if (event->isAutoRepeat()) return;  // a key held by a wet glove is one press
  const bool plain =
      !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
  if (middle_->currentIndex() != kWork) {
    if (event->key() == Qt::Key_Escape) back_to_work();
    return;
  }
  // Digits find the reading without anything being clicked; at a block of cuts they say how many
  // were made.
  if (plain && !event->text().isEmpty() && event->text()[0].isDigit() && entry_->isVisible()) {
    entry_->setFocus();
    entry_->insert(event->text());
    return;
  }
  if (plain && take(*event)) return;
  QWidget::keyPressEvent(event);
}

bool TrialPage::eventFilter(QObject* watched, QEvent* event) {
  if (watched == entry_ && event->type() == QEvent::KeyPress) {
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool plain =
        !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier | Qt::MetaModifier));
    const bool confirms = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter ||
                          key->key() == Qt::Key_Space || key->key() == Qt::Key_Escape;
    // Taken here and not passed on: the same press must not reach the Bench as a second key.
    // Letters are commands as long as nothing is typed; behind a number they are its unit.
    if (plain && (confirms || (entry_->text().isEmpty() && key->text().size() == 1 &&
                               key->text()[0].isLetter()))) {
      if (!key->isAutoRepeat()) take(*key);
      return true;
    }
    // Ctrl+Z in an empty field undoes the last entry, not the field.
    if (entry_->text().isEmpty() && key->modifiers().testFlag(Qt::ControlModifier) &&
        key->key() == Qt::Key_Z) {
      if (key->modifiers().testFlag(Qt::ShiftModifier))
        workbench_.redo();
      else
        workbench_.undo();
      return true;
    }
  }
  return QWidget::eventFilter(watched, event);
}

void TrialPage::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  if (middle_->currentIndex() == kLook)
    look_->setFocus();
  else if (middle_->currentIndex() == kReason)
    reason_->setFocus();
  else if (entry_->isVisible())
    entry_->setFocus();
}

}  // namespace bq::ui
