#include "ui/section/marker_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "ui/parts/number_field.h"
#include "ui/section/ink_button.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr InkSeen kOrder[] = {InkSeen::apex_only,   InkSeen::whole_bevel, InkSeen::shoulder_only,
                              InkSeen::middle_only, InkSeen::patchy,      InkSeen::nothing};

}  // namespace

/// What is believed of the angle, and the next touch.
class MarkerPage::Belief : public QWidget {
 public:
  Belief() {
    setMinimumHeight(74);
    setAccessibleName(MarkerPage::tr("How likely each angle is"));
  }
  void show_belief(const MarkerBelief& belief, const MarkerAnswer& answer, double factor) {
    belief_ = belief;
    answer_ = answer;
    factor_ = factor;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (belief_.angle_deg.empty()) return;
    const double from = belief_.angle_deg.front(), to = belief_.angle_deg.back();
    const double most = *std::max_element(belief_.probability.begin(), belief_.probability.end());
    const QRectF box(8, 6, width() - 16, height() - 26);
    const auto x = [&](double angle) {
      return box.left() + (angle - from) / (to - from) * box.width();
    };
    QPolygonF hill{QPointF(box.left(), box.bottom())};
    for (std::size_t i = 0; i < belief_.angle_deg.size(); ++i)
      hill << QPointF(x(belief_.angle_deg[i]),
                      box.bottom() - belief_.probability[i] / most * box.height());
    hill << box.bottomRight();
    painter.setPen(QPen(t.ink, 1.2));
    painter.setBrush(t.chosen);
    painter.drawPolygon(hill);
    painter.setPen(QPen(t.ink, 3));
    painter.drawLine(QPointF(x(answer_.low_deg), box.bottom()),
                     QPointF(x(answer_.high_deg), box.bottom()));
    if (!answer_.done) {
      painter.setPen(QPen(t.ochre, 2));
      painter.drawLine(QPointF(x(answer_.next_deg), box.top()),
                       QPointF(x(answer_.next_deg), box.bottom()));
    }
    painter.setPen(t.quiet);
    painter.setFont(font_of(11));
    const double step = to - from > 14 ? 5 : 2;
    for (double angle = std::ceil(from / step) * step; angle <= to; angle += step)
      painter.drawText(QRectF(x(angle) - 30, box.bottom() + 3, 60, 14), Qt::AlignHCenter,
                       QString::number(angle * factor_) + QChar(0xb0));
  }

 private:
  MarkerBelief belief_;
  MarkerAnswer answer_;
  double factor_ = 1;
};

/// The next touch as a cross-section: one bevel as it is believed to lie, and the abrasive on it.
class MarkerPage::Touch : public QWidget {
 public:
  Touch() {
    setFixedSize(150, 56);
    setAccessibleName(MarkerPage::tr("The abrasive at the next angle on the bevel"));
  }
  void show_touch(double bevel_deg, double trial_deg, bool done) {
    bevel_ = bevel_deg;
    trial_ = trial_deg;
    done_ = done;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF apex(12, height() - 12);
    const auto along = [&](double deg, double length) {
      return apex + QPointF(length * std::cos(radians(deg)), -length * std::sin(radians(deg)));
    };
    // Centre plane level, the bevel rises from the apex to its shoulder, then the face runs on.
    const QPointF shoulder = along(bevel_, 70);
    painter.setPen(QPen(t.ink, 1.6));
    painter.setBrush(t.chosen);
    painter.drawPolygon(QPolygonF{apex, shoulder, QPointF(width() - 4, shoulder.y() - 3),
                                  QPointF(width() - 4, apex.y())});
    if (done_) return;
    // Steeper than the bevel it rests on the apex, flatter on the shoulder.
    const QPointF foot = trial_ >= bevel_ ? apex : shoulder;
    const QPointF direction = along(trial_, 1) - apex;
    painter.setPen(QPen(t.ochre, 5, Qt::SolidLine, Qt::RoundCap));
    const QPointF off(-3 * std::sin(radians(trial_)), -3 * std::cos(radians(trial_)));
    painter.drawLine(foot + off - direction * (trial_ >= bevel_ ? 6 : 84),
                     foot + off + direction * (trial_ >= bevel_ ? 100 : 20));
  }

 private:
  double bevel_ = 15, trial_ = 18;
  bool done_ = false;
};

MarkerPage::MarkerPage(Workbench& workbench, SectionModel& model, QWidget* parent)
    : HelperPage(workbench, model, tr("Marker test"),
                 tr("The edge is sharp: guard the off hand, move the abrasive away from the edge, "
                    "wipe across it and never along it."),
                 parent),
      side_(new QComboBox),
      bevel_(new BevelChoice),
      at_(new NumberEntry),
      guess_(new NumberEntry),
      step_(new NumberEntry),
      touched_(new NumberEntry),
      own_(new QCheckBox(tr("in my own steps"))),
      big_(new QLabel),
      say_(quiet_label({})),
      result_(new QLabel),
      answers_(new QWidget),
      store_(new QPushButton),
      back_(new QPushButton(tr("Take back"))),
      again_(new QPushButton(tr("Start anew"))),
      belief_(new Belief),
      touch_(new Touch) {
  lay_out();
  listen();
}

void MarkerPage::lay_out() {
  setFocusPolicy(Qt::StrongFocus);
  side_->addItems({tr("left"), tr("right")});
  side_->setAccessibleName(tr("Side that is tested"));
  const auto set_up = [&](NumberEntry* box, double least, double most, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, 1, step, suffix, name);
    box->setKeyboardTracking(false);
    connect(box, &NumberEntry::valueChanged, this, &MarkerPage::adjust);
  };
  set_up(at_, 0, 2000, 5, tr(" mm"), tr("Place, from the heel"));
  set_up(guess_, 3, 75, 1, QStringLiteral("°"), tr("Guess of the angle, per side"));
  set_up(step_, 0.1, 2, 0.1, QStringLiteral("°"), tr("Step of the jig"));
  guess_->set_edge_angle(AngleConvention::per_side);
  at_->setDecimals(0);
  connect(side_, &QComboBox::activated, this, &MarkerPage::begin);
  auto* where = new QGridLayout;
  where->setHorizontalSpacing(6);
  where->addWidget(quiet_label(tr("side")), 0, 0);
  where->addWidget(quiet_label(tr("from the heel")), 0, 1);
  where->addWidget(quiet_label(tr("guess, per side")), 0, 2);
  where->addWidget(quiet_label(tr("jig's step")), 0, 3);
  where->addWidget(side_, 1, 0);
  where->addWidget(at_, 1, 1);
  where->addWidget(guess_, 1, 2);
  where->addWidget(step_, 1, 3);
  where->addWidget(quiet_label(tr("inked bevel")), 2, 0, 1, 2);
  where->addWidget(quiet_label(tr("touched at, per side")), 2, 2);
  where->addWidget(bevel_, 3, 0, 1, 2);
  where->addWidget(touched_, 3, 2);
  where->addWidget(own_, 3, 3);
  column_->addLayout(where);
  set_up_number(touched_, 0.5, 79, 1, 0.5, QStringLiteral("°"),
                tr("Angle the abrasive was really set to, per side"));
  touched_->set_edge_angle(AngleConvention::per_side);
  own_->setToolTip(
      tr("The next touch is one step of the jig toward the bevel's angle, as a hand walks, instead "
         "of the touch that tells most"));
  connect(own_, &QCheckBox::clicked, this, &MarkerPage::adjust);
  connect(bevel_, &QComboBox::activated, this, &MarkerPage::adjust);
  again_->installEventFilter(this);
  big_->setFont(font_of(kFigure, true));
  big_->setAccessibleName(tr("What to do"));
  auto* now = new QHBoxLayout;
  now->addWidget(big_, 1);
  now->addWidget(touch_);
  column_->addLayout(now);
  column_->addWidget(say_);
  auto* grid = new QGridLayout(answers_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(6);
  for (int i = 0; i < 6; ++i) {
    auto* button = new InkButton(kOrder[i], i + 1);
    grid->addWidget(button, i / 3, i % 3);
    connect(button, &QAbstractButton::clicked, this, [this, i] { answer(kOrder[i]); });
  }
  column_->addWidget(answers_);
  column_->addWidget(belief_);
  result_->setWordWrap(true);
  column_->addWidget(result_);
  auto* foot = new QHBoxLayout;
  foot->addWidget(back_);
  foot->addWidget(again_);
  foot->addStretch();
  store_->setObjectName(QStringLiteral("primary"));
  foot->addWidget(store_);
  column_->addLayout(foot);
  column_->addStretch();
}

void MarkerPage::listen() {
  connect(back_, &QPushButton::clicked, this, &MarkerPage::take_back);
  connect(again_, &QPushButton::clicked, this, &MarkerPage::begin);
  connect(store_, &QPushButton::clicked, this, &MarkerPage::store);
  connect(&workbench(), &Workbench::display_changed, this, &MarkerPage::refresh);
}

QString MarkerPage::instruction() const { return big_->text(); }

void MarkerPage::showEvent(QShowEvent* event) {
  HelperPage::showEvent(event);
  setFocus();
}

void MarkerPage::reload() {
  const auto text = kept("marker");
  const auto read = text.empty() ? Checked<MarkerQuestion>(Refusal{}) : parse_marker_file(text);
  if (read) {
    question_ = *read;
  } else {
    question_ = {};
    question_.at_mm = std::round(model().edge().length_mm() / 2);
    // The apex as it is ground, not the grind that came last: that may have thinned it.
    if (const SectionStudy* study = model().study()) {
      const BevelAngles apex = study->section.apex_angles();
      const double ground = apex.left_deg > 0.5 ? apex.left_deg : apex.right_deg;
      question_.settings.guess_deg = std::clamp(std::round(ground), 3.0, 75.0);
    }
  }
  filling_ = true;
  side_->setCurrentIndex(int(question_.side));
  at_->setValue(question_.at_mm);
  guess_->setValue(question_.settings.guess_deg);
  step_->setValue(question_.settings.step_deg);
  own_->setChecked(question_.settings.own_steps);
  if (model().blade() >= 0) ask_bevel(*bevel_, workbench().trial(), std::size_t(model().blade()));
  if (question_.bevel != MeasuredBevel::not_said) bevel_->choose(question_.bevel);
  filling_ = false;
  refresh();
}

void MarkerPage::keep_now(const char* what) { keep("marker", marker_file_json(question_), what); }

void MarkerPage::adjust() {
  if (filling_) return;
  question_.at_mm = at_->value();
  question_.settings.guess_deg = guess_->value();
  question_.settings.step_deg = step_->value();
  question_.settings.own_steps = own_->isChecked();
  question_.bevel = bevel_->bevel();
  keep_now("the settings of the marker test");
  refresh();
}

void MarkerPage::begin() {
  if (filling_) return;
  question_.side = EdgeSide(side_->currentIndex());
  question_.at_mm = at_->value();
  question_.settings.guess_deg = guess_->value();
  question_.settings.step_deg = step_->value();
  question_.bevel = bevel_->bevel();
  question_.touches.clear();
  keep_now("starting a marker test");
  refresh();
}

void MarkerPage::answer(InkSeen seen) {
  if (answer_.done || !blade() || !workbench().writable()) return;
  question_.touches.push_back({touched_->value(), seen});
  keep_now("an answer of the marker test");
  refresh();
}

void MarkerPage::take_back() {
  if (question_.touches.empty()) return;
  question_.touches.pop_back();
  keep_now("taking back an answer of the marker test");
  refresh();
}

void MarkerPage::refresh() {
  const auto assessed = assess_marker(question_.settings, question_.touches);
  const auto belief = marker_belief(question_.settings, question_.touches);
  if (!assessed || !belief) return;
  answer_ = *assessed;
  touched_->setValue(answer_.next_deg);
  const double factor = workbench().display().angles == AngleConvention::inclusive ? 2 : 1;
  belief_->show_belief(*belief, answer_, factor);
  touch_->show_touch(question_.touches.empty() ? question_.settings.guess_deg : answer_.angle_deg,
                     answer_.next_deg, answer_.done);
  const bool possible = blade() && workbench().writable();
  const QString interval =
      tr("%1 to %2").arg(angle_text(answer_.low_deg), angle_text(answer_.high_deg));
  if (!possible)
    big_->setText(tr("No blade to test"));
  else if (answer_.done)
    big_->setText(QStringLiteral("%1 %2").arg(angle_text(answer_.angle_deg), convention_text()));
  else
    big_->setText(tr("Touch at %1").arg(hand_text(answer_.next_deg)));  // per side: said below
  if (answer_.done)
    say_->setText(tr("95 % interval %1, after %2 touches.")
                      .arg(interval, QString::number(question_.touches.size())));
  else if (answer_.one_answer)
    say_->setText(
        tr("Always the same answer, whatever the angle: that is the ink, the light or the "
           "eye. Clean the bevel, ink it thinly, and look at apex and shoulder from one side "
           "under a lamp; then touch at %1 per side.")
            .arg(hand_text(answer_.next_deg)));
  else if (answer_.ask_again)
    say_->setText(tr("Ink again and touch once more at the same angle: the last answer %1. Where "
                     "is the ink gone?")
                      .arg(answer_.contradictions.empty() ? tr("told nothing")
                                                          : tr("clashes with the others")));
  else
    say_->setText(tr("Ink the bevel afresh, set the abrasive to %1 per side, touch lightly. Where "
                     "is the ink gone? (Hatched: it is still there.)")
                      .arg(hand_text(answer_.next_deg)));
  QString result = question_.touches.empty() ? tr("The first touch lies steeper than the guess: it "
                                                  "can only mark the apex, not the face.")
                   : answer_.done
                       ? QString()
                       : tr("%1 touches so far: %2.").arg(question_.touches.size()).arg(interval);
  for (const std::size_t i : answer_.contradictions)
    result +=
        tr(" Touch %1 (%2 at %3) clashes with the others.")
            .arg(i + 1)
            .arg(answer_text(question_.touches[i].seen), hand_text(question_.touches[i].trial_deg));
  if (answer_.looks_convex)
    result += tr(" The bevel may be convex, or lie between edge and micro-bevel.");
  result_->setText(result);
  answers_->setEnabled(possible && !answer_.done);
  back_->setEnabled(possible && !question_.touches.empty());
  store_->setText(tr("Store: %1, %2 mm")
                      .arg(question_.side == EdgeSide::left ? tr("left") : tr("right"))
                      .arg(question_.at_mm, 0, 'f', 0));
  store_->setEnabled(possible && answer_.done && bevel_->said());
  touched_->setEnabled(possible && !answer_.done);
  if (possible && answer_.done && !bevel_->said())
    result_->setText(tr("Before you store: %1.").arg(BevelChoice::question()));
}

void MarkerPage::store() {
  if (!answer_.done || !bevel_->said()) return;
  const AngleRecord record{question_.side,    question_.at_mm,
                           answer_.angle_deg, (answer_.high_deg - answer_.low_deg) / 2,
                           "marker test",     bevel_->bevel()};
  const int index = model().blade();
  workbench().edit([&](ProjectSession& session) {
    session.add_records(std::size_t(index), {record}, "the angle");
  });
  // The other side comes next.
  filling_ = true;
  side_->setCurrentIndex(1 - side_->currentIndex());
  guess_->setValue(std::round(answer_.angle_deg));
  filling_ = false;
  begin();
}

bool MarkerPage::eventFilter(QObject* watched, QEvent* event) {
  if (watched == again_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space)
    return true;
  return HelperPage::eventFilter(watched, event);
}

void MarkerPage::keyPressEvent(QKeyEvent* event) {
  const int key = event->key() - Qt::Key_1;
  if (key >= 0 && key < 6)
    answer(kOrder[key]);
  else if (event->key() == Qt::Key_Backspace)
    take_back();
  else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter ||
            event->key() == Qt::Key_Space) &&
           answer_.done)
    store();
  else
    HelperPage::keyPressEvent(event);
}

}  // namespace bq::ui
