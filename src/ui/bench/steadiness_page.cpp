#include "ui/bench/steadiness_page.h"

#include <QApplication>
#include <QCheckBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/plot/plot_view.h"
#include "ui/theme/theme.h"

namespace bq::ui {

AngleCue::AngleCue(InstrumentDesk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
  setMinimumHeight(150);
  setAccessibleName(tr("Angle now"));
  frame_.setSingleShot(true);
  frame_.setInterval(16);
  connect(&desk_, &InstrumentDesk::streamed, this, [this](InstrumentRole role) {
    if (role == InstrumentRole::angle && !frame_.isActive()) frame_.start();
  });
  connect(&frame_, &QTimer::timeout, this, qOverload<>(&QWidget::update));
}

void AngleCue::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const auto& trace = desk_.trace(InstrumentRole::angle);
  const QRectF box = QRectF(rect()).adjusted(4, 4, -70, -4);
  constexpr double kSpan = 6;  // degrees to each side of the target
  const auto y = [&](double angle) {
    return box.center().y() - std::clamp((angle - target_) / kSpan, -1.0, 1.0) * box.height() / 2;
  };
  // The lane of one degree to each side is where the angle is wanted.
  painter.fillRect(
      QRectF(QPointF(box.left(), y(target_ + 1)), QPointF(box.right(), y(target_ - 1))), t.chosen);
  painter.setPen(QPen(t.hairline, 1));
  painter.drawRect(box);
  painter.setPen(QPen(t.ochre, 1.5, Qt::DashLine));
  painter.drawLine(QPointF(box.left(), y(target_)), QPointF(box.right(), y(target_)));
  painter.setFont(font_of(12));
  painter.setPen(t.quiet);
  const QRectF label(box.right() + 6, 0, 64, 16);
  painter.drawText(label.translated(0, y(target_) - 8), Qt::AlignVCenter,
                   tr("%1° aim").arg(QString::fromStdString(print_number(target_, 3))));
  painter.drawText(label.translated(0, y(target_ + 1) - 8), Qt::AlignVCenter, tr("+1°"));
  painter.drawText(label.translated(0, y(target_ - 1) - 8), Qt::AlignVCenter, tr("−1°"));
  if (trace.empty()) {
    painter.setPen(t.quiet);
    painter.drawText(box.adjusted(0, 10, 0, 0), Qt::AlignHCenter | Qt::AlignTop,
                     tr("No angle gauge is sending. Set one up under Instruments."));
    return;
  }
  const std::size_t shown = std::min<std::size_t>(trace.size(), 300);
  QPolygonF line;
  for (std::size_t i = 0; i < shown; ++i)
    line << QPointF(box.left() + box.width() * double(i) / 300, y(trace[trace.size() - shown + i]));
  painter.setPen(QPen(t.ink, 2));
  painter.drawPolyline(line);
  painter.setBrush(t.ink);
  painter.drawEllipse(line.back(), 5, 5);
}

SteadinessPage::SteadinessPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      target_(new NumberEntry),
      tone_(new QCheckBox(tr("tone above +1°"))),
      start_(new QPushButton),
      zero_(new QPushButton(tr("Zero the gauge"))),
      state_(new QLabel),
      sentence_(new QLabel),
      progress_sentence_(quiet_label({})),
      cue_(new AngleCue(model.desk())),
      progress_(new PlotView) {
  setFocusPolicy(Qt::StrongFocus);
  target_->set_edge_angle(AngleConvention::per_side);
  set_up_number(target_, 3, 45, 1, 0.5, tr("° per side"), tr("Angle aimed at"));
  target_->setFixedWidth(150);
  target_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
  target_->setValue(15);
  state_->setFont(font_of(72, true));
  sentence_->setFont(font_of(kHeading));
  sentence_->setWordWrap(true);
  name_look(start_, "primary");
  start_->setMinimumHeight(48);
  start_->setFont(font_of(kHeading, true));
  start_->setFocusPolicy(Qt::TabFocus);
  progress_->set_empty_text(tr("Sessions appear here: is the upper tail coming down?"));
  lay_out();
  listen();
}

void SteadinessPage::lay_out() {
  auto* row = new QHBoxLayout;
  row->addWidget(new QLabel(tr("aim at")));
  row->addWidget(target_);
  row->addWidget(tone_);
  row->addWidget(zero_);
  row->addStretch();
  auto* upper = new QHBoxLayout;
  upper->setSpacing(24);
  auto* left = new QVBoxLayout;
  left->addLayout(row);
  left->addWidget(state_);
  left->addWidget(start_);
  left->addWidget(sentence_);
  left->addStretch();
  upper->addLayout(left, 1);
  auto* right = new QVBoxLayout;
  right->addWidget(progress_, 1);
  right->addWidget(progress_sentence_);
  upper->addLayout(right, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 4, 0, 4);
  layout->setSpacing(10);
  layout->addLayout(upper, 3);
  layout->addWidget(cue_, 2);
}

void SteadinessPage::listen() {
  connect(target_, &NumberEntry::valueChanged, this, [this](double value) {
    cue_->set_target(value);
    cue_->update();
  });
  connect(start_, &QPushButton::clicked, this, &SteadinessPage::toggle);
  connect(zero_, &QPushButton::clicked, this, [this] {
    InstrumentDesk& desk = model_.desk();
    auto profile = desk.profile(InstrumentRole::angle);
    if (!profile || profile->request.empty())
      sentence_->setText(
          tr("This gauge is zeroed at itself: lay it on the reference face and press its own "
             "button."));
    else
      desk.ask(InstrumentRole::angle);
  });
  connect(&model_.desk(), &InstrumentDesk::streamed, this,
          [this](InstrumentRole role, double value) {
            if (role != InstrumentRole::angle) return;
            if (recording_) now_.trace_deg.push_back(float(std::round(value * 10) / 10));
            const bool over = value > target_->value() + 1 && value < target_->value() + 8;
            if (over && !was_over_ && tone_->isChecked() && recording_) QApplication::beep();
            was_over_ = over;
          });
  connect(&tick_, &QTimer::timeout, this, [this] {
    if (isVisible()) show_state();
  });
  tick_.start(100);
  connect(&workbench_, &Workbench::changed, this, [this] {
    if (isVisible()) reload();
  });
  connect(&workbench_, &Workbench::display_changed, this, [this] { progress_->retheme(); });
}

QString SteadinessPage::sentence() const { return sentence_->text(); }

void SteadinessPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  cue_->set_target(target_->value());
  reload();
}

void SteadinessPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  if (recording_) finish();  // what was stroked is kept, also when one walks away
}

void SteadinessPage::show_state() {
  const auto& trace = model_.desk().trace(InstrumentRole::angle);
  const bool there = model_.desk().open(InstrumentRole::angle);
  const bool silent = trace.empty() || !there;
  state_->setFont(silent ? font_of(kFigure) : font_of(72, true));
  state_->setText(silent
                      ? tr("no angle yet")
                      : QString::fromStdString(print_fixed(double(trace.back()), 1)) + QChar(0xb0));
  start_->setEnabled(workbench_.writable() && (there || recording_));
  zero_->setEnabled(there);
  start_->setText(recording_ ? tr("Stop and keep  (Space)") : tr("Start stroking  (Space)"));
  if (!recording_) return;
  const auto strokes = strokes_of(now_.trace_deg, now_.rate_hz, now_.target_deg);
  if (strokes.empty()) {
    sentence_->setText(tr("Stroke as you always do; lift between strokes."));
    return;
  }
  const auto& last = strokes.back();
  sentence_->setText(tr("%1 strokes. The last one: mean %2°, SD %3°, steepest twentieth above %4°.")
                         .arg(strokes.size())
                         .arg(last.mean_deg, 0, 'f', 1)
                         .arg(last.sd_deg, 0, 'f', 1)
                         .arg(last.tail_deg, 0, 'f', 1));
}

void SteadinessPage::toggle() {
  if (recording_) {
    finish();
    return;
  }
  if (!model_.desk().open(InstrumentRole::angle) || !workbench_.writable()) return;
  now_ = {};
  now_.target_deg = target_->value();
  now_.rate_hz = model_.desk().profile(InstrumentRole::angle)->rate_hz;
  now_.by_operator = model_.by_operator().toStdString();
  recording_ = true;
  show_state();
}

void SteadinessPage::finish() {
  recording_ = false;
  now_.strokes = strokes_of(now_.trace_deg, now_.rate_hz, now_.target_deg);
  if (now_.strokes.empty()) {
    sentence_->setText(
        tr("No stroke was seen within 8° of the aim: nothing was kept. Is the gauge zeroed, is the "
           "aim right?"));
    return;
  }
  BenchSession session;
  session.data = now_;
  if (!workbench_.edit(
          [&](ProjectSession& s) { s.set_bench_session(session, "a steadiness session"); })) {
    sentence_->setText(tr("Not kept; see the message below."));
    return;
  }
  reload();
}

void SteadinessPage::reload() {
  std::vector<double> tails, withins, betweens;
  QString latest;
  if (workbench_.has_project())
    for (const auto& one : workbench_.session().bench_sessions())
      if (const auto* session = std::get_if<SteadinessSession>(&one.data))
        if (const auto s = steadiness_of(*session)) {
          tails.push_back(s->over_target_deg);
          withins.push_back(s->within_sd_deg);
          betweens.push_back(s->between_sd_deg);
          latest = QString::fromStdString(describe(*s, session->target_deg));
        }
  if (!recording_)
    sentence_->setText(latest.isEmpty()
                           ? tr("Stroke freehand with the angle gauge on the blade: the steepest "
                                "moments of a stroke decide what the apex gets.")
                           : latest);
  const auto series = [&](const QString& name, const std::vector<double>& y, int style) {
    PlotSeries out;
    out.name = name;
    for (std::size_t i = 0; i < y.size(); ++i) out.x.push_back(double(i + 1));
    out.y = y;
    out.style = style;
    out.markers = true;
    out.label_at_end = y.size() > 1;
    return out;
  };
  if (tails.empty()) {
    progress_->show_plot({tr("session"), tr("degrees")}, {});
    progress_sentence_->clear();
    return;
  }
  progress_->show_plot(
      {tr("session"), tr("degrees"), false, false, std::pair{0.5, double(tails.size()) + 0.5}},
      {series(tr("upper tail"), tails, 0), series(tr("SD within"), withins, 1),
       series(tr("SD between"), betweens, 2)});
  progress_sentence_->setText(tails.size() < 2
                                  ? tr("One session so far.")
                                  : tr("Upper tail: degrees over the aim. From the first session "
                                       "to the latest it went from %1° to %2°.")
                                        .arg(tails.front(), 0, 'f', 1)
                                        .arg(tails.back(), 0, 'f', 1));
  show_state();
}

void SteadinessPage::keyPressEvent(QKeyEvent* event) {
  if (!event->isAutoRepeat() && event->key() == Qt::Key_Space)
    toggle();
  else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
