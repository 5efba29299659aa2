#include "ui/stones/step_panel.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QResizeEvent>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>

#include "ui/stones/step_dialog.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr int kKeyRest_ms = 120;  ///< a second press within this is a trembling hand

QString clock_text(double seconds) {
  const int whole = int(seconds);
  return QStringLiteral("%1:%2").arg(whole / 60).arg(whole % 60, 2, 10, QLatin1Char('0'));
}

}  // namespace

/// The six places as large targets in the order of the work.
class StepPanel::Marks : public QWidget {
 public:
  explicit Marks(StonesModel& model) : model_(model) {
    setFixedHeight(58);
    setMinimumWidth(360);
    setMouseTracking(true);
    setAccessibleName(StepPanel::tr("Places where the burr is confirmed: keys 1 to 6"));
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    if (!model_.hand()) return;
    const auto step = current_step(model_.hand()->sharpening);
    if (!step) return;
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const unsigned gate = gate_of(model_.hand()->sharpening, *step);
    const auto tap = next_tap(model_.hand()->sharpening);
    static const char* const names[] = {QT_TR_NOOP("heel"), QT_TR_NOOP("middle"),
                                        QT_TR_NOOP("tip")};
    for (int mark = 0; mark < kGateMarks; ++mark) {
      const QRectF box = box_of(mark);
      const bool wanted = gate >> mark & 1U,
                 on = model_.hand()->sharpening.steps[*step].has_burr(mark);
      const bool next = tap && tap->mark == mark;
      painter.setPen(QPen(next ? t.ochre : wanted ? t.ink : t.hairline, next ? 3 : 1.2));
      painter.setBrush(on ? t.ink : t.panel);
      painter.drawRoundedRect(box, 4, 4);
      painter.setFont(font_of(kHeading, true));
      painter.setPen(on ? t.ground : wanted ? t.ink : t.quiet);
      painter.drawText(box.adjusted(0, 4, 0, -20), Qt::AlignCenter,
                       on       ? QString(QChar(0x2713))
                       : wanted ? QString::number(mark + 1)
                                : QStringLiteral("–"));
      painter.setFont(font_of(12));
      painter.drawText(
          box.adjusted(0, 22, 0, -2), Qt::AlignCenter,
          (mark < 3 ? StepPanel::tr("L ") : StepPanel::tr("R ")) + StepPanel::tr(names[mark % 3]));
    }
  }
  void mousePressEvent(QMouseEvent* event) override {
    for (int mark = 0; mark < kGateMarks; ++mark)
      if (box_of(mark).contains(event->position())) model_.tap_mark(mark);
  }

 private:
  [[nodiscard]] QRectF box_of(int mark) const {
    const double wide = std::min(76.0, (width() - 36) / 6.0);
    return {2 + mark * (wide + 4) + (mark >= 3 ? 12 : 0), 2, wide, height() - 4.0};
  }
  StonesModel& model_;
};

StepPanel::StepPanel(Workbench& workbench, StonesModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      place_(quiet_label({})),
      big_(new QLabel),
      next_(quiet_label({})),
      time_(new QLabel),
      first_(new QLabel),
      caution_text_(new QLabel),
      caution_(new QWidget),
      reason_row_(new QWidget),
      buttons_(new QWidget),
      begin_(new QPushButton(tr("Begin this sharpening"))),
      tap_(new QPushButton),
      undo_(new QPushButton(tr("Undo ⌫"))),
      pause_(new QPushButton),
      pass_(new QPushButton(tr("Pass O"))),
      add_(new QPushButton(tr("Add"))),
      change_(new QPushButton(tr("Change"))),
      give_up_(new QPushButton(tr("Lay away"))),
      reason_(new QLineEdit),
      marks_(new Marks(model)),
      clock_(new QTimer(this)),
      rest_(kKeyRest_ms) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("What to do now"));
  big_->setWordWrap(true);
  big_->setFont(font_of(24, true));
  big_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  time_->setFont(font_of(kFigure, true));
  time_->setAlignment(Qt::AlignRight | Qt::AlignTop);
  time_->setMinimumWidth(84);
  time_->setAccessibleName(tr("Time on this step"));
  first_->setWordWrap(true);
  first_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  caution_text_->setObjectName(QStringLiteral("caution"));
  caution_text_->setWordWrap(true);
  auto* caution = new QHBoxLayout(caution_);
  caution->setContentsMargins(0, 0, 0, 0);
  auto* seen = new QPushButton(tr("Seen"));
  caution->addWidget(caution_text_, 1);
  caution->addWidget(seen, 0, Qt::AlignTop);
  begin_->setObjectName(QStringLiteral("primary"));
  tap_->setObjectName(QStringLiteral("primary"));
  tap_->setMinimumSize(360, 44);
  for (QPushButton* button : {tap_, undo_, pause_, pass_, add_, change_, give_up_})
    button->setFocusPolicy(Qt::TabFocus);
  reason_->setPlaceholderText(tr("why is there no burr?"));
  reason_->setAccessibleName(tr("Reason to pass the gate"));
  auto* reason = new QHBoxLayout(reason_row_);
  reason->setContentsMargins(0, 0, 0, 0);
  auto* keep = new QPushButton(tr("Keep the reason"));
  reason->addWidget(reason_, 1);
  reason->addWidget(keep);
  reason_row_->hide();

  auto* head = new QHBoxLayout;
  auto* words = new QVBoxLayout;
  words->setSpacing(4);
  words->addWidget(place_);
  words->addWidget(big_);
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
  layout->addWidget(marks_);
  layout->addWidget(tap_, 0, Qt::AlignLeft);
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

  connect(seen, &QPushButton::clicked, this, [this] {
    caution_seen_ = true;
    refresh();
    setFocus();
  });
  connect(begin_, &QPushButton::clicked, this, [this] {
    model_.begin_planned();
    setFocus();
  });
  connect(tap_, &QPushButton::clicked, &model_, &StonesModel::tap_next);
  connect(undo_, &QPushButton::clicked, &model_, &StonesModel::undo_tap);
  connect(pause_, &QPushButton::clicked, &model_, &StonesModel::pause_or_go_on);
  connect(pass_, &QPushButton::clicked, this, &StepPanel::ask_reason);
  add_->setToolTip(tr("Add a step before this one: local rework, straightening, a strop …"));
  add_->setAccessibleName(tr("Add a step"));
  change_->setToolTip(
      tr("Change this step to what is really done: passes, pressure, angle, stone"));
  change_->setAccessibleName(tr("Change this step"));
  pass_->setToolTip(tr("Pass the gate without its burr, with a reason"));
  connect(add_, &QPushButton::clicked, this, [this] { ask_step(false); });
  connect(change_, &QPushButton::clicked, this, [this] { ask_step(true); });
  connect(give_up_, &QPushButton::clicked, &model_, &StonesModel::give_up);
  const auto pass = [this] {
    model_.pass_gate(reason_->text());
    if (!reason_->text().trimmed().isEmpty()) {
      reason_row_->hide();
      reason_->clear();
      setFocus();
    }
  };
  connect(keep, &QPushButton::clicked, this, pass);
  connect(reason_, &QLineEdit::returnPressed, this, pass);
  connect(&model_, &StonesModel::hand_changed, this, &StepPanel::refresh);
  connect(&model_, &StonesModel::plan_changed, this, &StepPanel::refresh);
  connect(&model_, &StonesModel::blade_changed, this, [this] {
    caution_seen_ = false;  // another blade is another act
    done_sentence_.clear();
    reason_row_->hide();
  });
  connect(&model_, &StonesModel::finished, this, [this](const QString& sentence) {
    done_sentence_ = sentence;
    caution_seen_ = false;
    refresh();
  });
  connect(&workbench_, &Workbench::display_changed, this, &StepPanel::refresh);
  clock_->setInterval(500);
  connect(clock_, &QTimer::timeout, this, &StepPanel::tick);
  refresh();
}

QString StepPanel::instruction_text() const { return big_->text(); }

void StepPanel::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  big_->setFont(font_of(width() < 520 ? 19 : 24, true));
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
  marks_->setVisible(step && gate_of(sharpening, at) != 0);
  marks_->update();
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
  pause_->setText(model_.timer_runs() ? tr("Hold T") : tr("Timer T"));

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
  big_->setText(QString::fromStdString(instruction(sharpening, at)));
  tap_->setText(
      tap->mark
          ? tr("Burr at the %1  Space").arg(QString::fromStdString(gate_mark_name(*tap->mark)))
          : tr("Step done  Space"));
  pass_->setVisible(open_marks(sharpening, at) != 0);
  next_->setText(at + 1 < sharpening.steps.size()
                     ? tr("Then: %1").arg(QString::fromStdString(instruction(sharpening, at + 1)))
                     : tr("Then: wipe it, take the start readings, and see the card."));
  QStringList before;
  for (const auto& a : workbench_.trial().shelf)
    if (a.name == sharpening.steps[at].abrasive)
      for (const auto& line : before_use(a, model_.cutting_class()))
        before << QString::fromStdString(line);
  first_->setText(tr("Before you use it: %1.").arg(before.join(QStringLiteral("; "))));
  first_->setVisible(!before.isEmpty());
}

void StepPanel::ask_reason() {
  reason_row_->show();
  reason_->setFocus();
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
  const int key = event->key();
  const bool mine = key == Qt::Key_Space || key == Qt::Key_Backspace || key == Qt::Key_T ||
                    key == Qt::Key_O || (key >= Qt::Key_1 && key <= Qt::Key_6);
  if (!mine) return false;
  if (key != Qt::Key_Backspace && !model_.hand()) return false;
  // The keys that do another thing each time rest a moment; a place confirmed twice is confirmed.
  if ((key == Qt::Key_Space || key == Qt::Key_Backspace) && !rest_.pass(*event)) return true;
  if (key == Qt::Key_Backspace) {
    model_.undo_tap();
    return true;
  }
  if (key == Qt::Key_Space)
    model_.tap_next();
  else if (key == Qt::Key_T)
    model_.pause_or_go_on();
  else if (key == Qt::Key_O)
    ask_reason();
  else
    model_.tap_mark(key - Qt::Key_1);
  return true;
}

void StepPanel::keyPressEvent(QKeyEvent* event) {
  if (!take_key(event)) QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
