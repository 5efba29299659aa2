#include "ui/lens/live_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QSlider>
#include <QVBoxLayout>
#include <algorithm>

#include "quantity/number.h"
#include "ui/lens/stored_picture.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/picture_scale.h"

namespace bq::ui {

LiveCanvas::LiveCanvas(QWidget* parent) : QWidget(parent) {
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(320, 240);
  setAccessibleName(tr("What the camera shows"));
}

void LiveCanvas::show_frame(const QImage& frame) {
  frame_ = frame;
  update();
}
void LiveCanvas::show_reference(const QImage& image, const std::vector<Spot>& marks) {
  reference_ = image;
  marks_ = marks;
  update();
}
void LiveCanvas::set_strength(double share) {
  strength_ = share;
  update();
}
void LiveCanvas::show_points(const std::vector<Spot>& points) {
  points_ = points;
  update();
}
void LiveCanvas::say(const QString& words) {
  words_ = words;
  update();
}

QRectF LiveCanvas::frame_on_screen() const {
  if (frame_.isNull()) return {};
  const QSizeF fitted = QSizeF(frame_.size()).scaled(QSizeF(size()), Qt::KeepAspectRatio);
  return {0.5 * (width() - fitted.width()), 0.5 * (height() - fitted.height()), fitted.width(),
          fitted.height()};
}

QPointF LiveCanvas::screen_of(Spot p) const {
  const QRectF box = frame_on_screen();
  const double k = box.width() / std::max(1, frame_.width());
  return {box.left() + (p.x + 0.5) * k, box.top() + (p.y + 0.5) * k};
}

void LiveCanvas::paintEvent(QPaintEvent*) {
  const Theme& t = photograph_theme();
  QPainter painter(this);
  painter.fillRect(rect(), t.ground);
  if (frame_.isNull()) {
    painter.setPen(t.ink);
    painter.setFont(font_of(kHeading));
    painter.drawText(rect().adjusted(40, 20, -40, -20), Qt::AlignCenter | Qt::TextWordWrap, words_);
    return;
  }
  painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
  const QRectF box = frame_on_screen();
  painter.drawImage(box, frame_);
  if (!reference_.isNull() && strength_ > 0) {
    painter.setOpacity(strength_);
    painter.drawImage(box, reference_);
    painter.setOpacity(1);
    painter.setBrush(Qt::NoBrush);
    for (const Spot& mark : marks_) {
      painter.setPen(QPen(t.on_ochre, 4));
      painter.drawEllipse(screen_of(mark), 12, 12);
      painter.setPen(QPen(t.ochre, 2));
      painter.drawEllipse(screen_of(mark), 12, 12);
    }
  }
  for (const Spot& p : points_) {
    painter.setPen(QPen(t.ochre, 2));
    painter.drawEllipse(screen_of(p), 6, 6);
  }
  if (points_.size() == 2) painter.drawLine(screen_of(points_[0]), screen_of(points_[1]));
}

void LiveCanvas::mousePressEvent(QMouseEvent* event) {
  const QRectF box = frame_on_screen();
  if (event->button() != Qt::LeftButton || !box.contains(event->position())) return;
  const double k = frame_.width() / box.width();
  emit pressed({(event->position().x() - box.left()) * k - 0.5,
                (event->position().y() - box.top()) * k - 0.5},
               k);
}

LivePage::LivePage(LensModel& model, QWidget* parent)
    : QWidget(parent),
      model_(model),
      source_(new QComboBox),
      again_(new QPushButton(tr("Look again"))),
      freeze_(new QPushButton(tr("Freeze  (Space)"))),
      keep_(new QPushButton(tr("Keep this picture  (Enter)"))),
      overlay_(new QCheckBox(tr("Last picture of this place over it  (O)"))),
      strength_(new QSlider(Qt::Horizontal)),
      canvas_(new LiveCanvas),
      tied_(wrapped_label()),
      scale_(wrapped_label()),
      check_(wrapped_label()),
      reference_words_(wrapped_label()) {
  source_->setAccessibleName(tr("Camera"));
  source_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  strength_->setRange(0, 100);
  strength_->setValue(35);
  strength_->setAccessibleName(tr("How strongly the last picture shows, %"));
  overlay_->setChecked(true);
  name_look(keep_, "primary");
  freeze_->setCheckable(true);
  lay_out();
  listen();
}

void LivePage::lay_out() {
  auto* side = new QWidget;
  side->setFixedWidth(300);
  auto* column = new QVBoxLayout(side);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  auto* row = new QHBoxLayout;
  row->addWidget(source_, 1);
  row->addWidget(again_);
  column->addLayout(row);
  column->addWidget(freeze_);
  column->addWidget(keep_);
  column->addWidget(tied_);
  column->addSpacing(8);
  column->addWidget(overlay_);
  column->addWidget(strength_);
  column->addWidget(reference_words_);
  column->addSpacing(8);
  column->addWidget(scale_);
  column->addWidget(check_);
  column->addStretch();
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(14);
  layout->addWidget(canvas_, 1);
  layout->addWidget(side);
  setFocusProxy(canvas_);

  loading_.belongs_to(model_.workbench().of_this_project());
}

void LivePage::listen() {
  connect(source_, &QComboBox::activated, this, &LivePage::choose);
  connect(again_, &QPushButton::clicked, this, [this] {
    looked_ = false;
    look_for_cameras();
  });
  connect(freeze_, &QPushButton::toggled, this, &LivePage::freeze);
  connect(keep_, &QPushButton::clicked, this, &LivePage::keep);
  connect(overlay_, &QCheckBox::toggled, this, [this] { show_state(); });
  connect(strength_, &QSlider::valueChanged, this, [this] { show_state(); });
  connect(canvas_, &LiveCanvas::pressed, this, &LivePage::check_scale);
  connect(&model_, &LensModel::changed, this, [this] {
    if (isVisible()) {
      load_reference();
      show_state();
    }
  });
}

void LivePage::offer(const LiveChoice& choice) {
  offered_.push_back(choice);
  looked_ = false;
  if (isVisible()) look_for_cameras();
}

void LivePage::look_for_cameras() {
  if (looked_) return;
  looked_ = true;
  const QString before = source_->currentText();
  there_ = cameras(why_none_);
  there_.insert(there_.end(), offered_.begin(), offered_.end());
  source_->clear();
  for (const LiveChoice& choice : there_) source_->addItem(choice.name);
  if (there_.empty()) source_->addItem(tr("no camera"));
  source_->setEnabled(!there_.empty());
  const int known = source_->findText(before);
  choose(known >= 0 ? known : 0);
}

void LivePage::choose(int index) {
  running_.reset();
  frame_ = {};
  freeze_->setChecked(false);
  canvas_->show_frame({});
  if (index < 0 || index >= int(there_.size())) {
    canvas_->say(
        tr("No camera was found%1. Connect one and look again, or watch the folder that "
           "its own program saves into: page Pictures, Watch a folder.")
            .arg(why_none_.isEmpty() ? QString() : QStringLiteral(" (") + why_none_ + ')'));
    show_state();
    return;
  }
  source_->setCurrentIndex(index);
  canvas_->say(tr("Waiting for the first picture of %1 …").arg(there_[std::size_t(index)].name));
  running_ = there_[std::size_t(index)].make();
  if (running_) {
    running_->frame = [this](const QImage& frame) { take_frame(frame); };
    running_->failed = [this](const QString& why) {
      canvas_->say(tr("The camera stopped: %1 Look again when it is back.").arg(why));
      if (!frozen_) {
        frame_ = {};
        canvas_->show_frame({});
      }
      show_state();
    };
    running_->start();
  }
  show_state();
}

void LivePage::take_frame(const QImage& frame) {
  if (frozen_) return;
  const bool other_size = frame.size() != frame_.size();
  frame_ = frame;
  canvas_->show_frame(frame_);
  if (!other_size) return;
  load_reference();
  show_state();
}

void LivePage::freeze(bool frozen) {
  const bool was = frozen_;
  frozen_ = frozen && !frame_.isNull();
  if (freeze_->isChecked() != frozen_) freeze_->setChecked(frozen_);
  points_.clear();
  canvas_->show_points(points_);
  check_->clear();
  // What was frozen outlived its camera while the page was not looked at.
  if (was && !frozen_ && !running_ && isVisible() && !there_.empty())
    choose(source_->currentIndex());
  show_state();
}

void LivePage::keep() {
  if (frame_.isNull()) return;
  model_.keep_live(frame_);
  freeze(false);
}

Micrograph LivePage::as_kept() const {
  Micrograph m;
  model_.tie(m);
  m.width = frame_.width();
  m.height = frame_.height();
  return m;
}

void LivePage::load_reference() {
  const Micrograph like = as_kept();
  const Micrograph* last = nullptr;
  for (const Micrograph& m : model_.trial().micrographs)
    if (same_place(m, like) && same_size(m, like)) last = &m;
  const std::int64_t id = last ? last->id : 0;
  if (id == reference_) return;
  reference_ = id;
  canvas_->show_reference({}, {});
  if (!last) return;
  std::vector<Spot> marks;
  if (!last->laid_over.empty())
    for (const auto& [here, there] : last->laid_over.front().marks) marks.push_back(here);
  else
    for (const Micrograph& m : model_.trial().micrographs)
      for (const SamePlace& laid : m.laid_over)
        if (laid.other == id && marks.empty())
          for (const auto& [here, there] : laid.marks) marks.push_back(there);
  const auto pictures = model_.workbench().session().pictures();
  loading_.ask(
      [pictures, id](const std::stop_token& stop) {
        return std::make_shared<DecodedPicture>(
            read_stored(*pictures, id, [&stop] { return stop.stop_requested(); }));
      },
      [this, id, marks](const std::shared_ptr<DecodedPicture>& out) {
        if (id == reference_ && out->pixels) canvas_->show_reference(out->pixels->shown, marks);
      });
}

void LivePage::check_scale(Spot at, double px_per_screen_px) {
  if (frame_.isNull()) return;
  if (!frozen_) freeze(true);
  canvas_->setFocus();
  if (points_.size() >= 2) points_.clear();
  px_per_screen_px_ = px_per_screen_px;
  points_.push_back(at);
  if (points_.size() == 2) {
    const auto scale = scale_of(model_.trial(), as_kept());
    const auto pixels = pixels_of(frame_);
    const ShownLength shown = shown_length(pixels ? pixels->grey : GreyImage(), points_[0],
                                           points_[1], px_per_screen_px_, pixels != nullptr);
    points_ = {shown.reading.from, shown.reading.to};
    const double px = shown.reading.px, error = shown.reading.error_px;
    const QString how = shown.found ? tr("ends found") : tr("as you showed them");
    if (scale) {
      LensValue apart;
      apart.value = px * scale->um_per_px;
      apart.plus_minus = 1.96 * apart.value * std::hypot(error / px, scale->relative_error);
      check_->setText(
          tr("By the scale these are %1 apart (%2). If the ruler says otherwise, keep this picture "
             "and set its scale anew (K).")
              .arg(text_of(print_value(LensMeasureKind::bevel_width, apart)), how));
    } else {
      check_->setText(
          tr("These are %1 ± %2 px apart (%3). Keep this picture and set its scale "
             "from them (K).")
              .arg(text_of(print_number(px, 4)), text_of(print_number(1.96 * error, 2)), how));
    }
  } else {
    check_->setText(tr("Now the other end of the known length."));
  }
  canvas_->show_points(points_);
}

void LivePage::show_state() {
  const bool seen = !frame_.isNull();
  freeze_->setEnabled(seen);
  keep_->setEnabled(seen && model_.workbench().writable());
  freeze_->setText(frozen_ ? tr("Go on  (Space)") : tr("Freeze  (Space)"));
  const bool has = reference_ != 0;
  overlay_->setVisible(has);
  strength_->setVisible(has);
  strength_->setEnabled(overlay_->isChecked());
  canvas_->set_strength(has && overlay_->isChecked() ? strength_->value() / 100.0 : 0);
  const Micrograph like = as_kept();
  const QString edge = like.run.empty() ? text_of(like.blade) : text_of(like.run);
  tied_->setText(
      !model_.workbench().has_project() ? tr("Open or start a project: pictures are kept in it.")
      : edge.isEmpty()
          ? tr("What is kept is tied to nothing yet: say on Place what it shows.")
          : tr("What is kept is tied to %1 like the picture looked at, or the run at the "
               "bench.")
                .arg(edge));
  const Micrograph* last = has && model_.workbench().has_project()
                               ? model_.workbench().session().micrograph(reference_)
                               : nullptr;
  reference_words_->setText(
      last ? tr("%1. Move the stage until both lie on each other.").arg(text_of(describe(*last)))
           : tr("There is no picture of this place in this size yet."));
  if (!seen) {
    scale_->clear();
    return;
  }
  const auto scale = scale_of(model_.trial(), like);
  const QString size = tr("%1 × %2 px").arg(frame_.width()).arg(frame_.height());
  if (scale)
    scale_->setText(
        tr("%1 at %2: %3 µm per px. Show both ends of a ruler's length to check it.")
            .arg(text_of(like.magnification), size, text_of(print_number(scale->um_per_px, 4))));
  else
    scale_->setText(like.magnification.empty()
                        ? tr("No magnification is set, so %1 have no scale.").arg(size)
                        : tr("%1 has no scale at %2 yet.").arg(text_of(like.magnification), size));
}

void LivePage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (!looked_)
    look_for_cameras();
  else if (!running_ && !frozen_ && !there_.empty())
    choose(source_->currentIndex());
  load_reference();
  show_state();
}

void LivePage::hideEvent(QHideEvent* event) {
  // Nobody looks: the camera's light goes out. What was frozen stays, to be kept or let go.
  running_.reset();
  QWidget::hideEvent(event);
}

void LivePage::keyPressEvent(QKeyEvent* event) {
  if (event->modifiers() & ~Qt::KeypadModifier) {
    QWidget::keyPressEvent(event);
    return;
  }
  switch (event->key()) {
    case Qt::Key_Space:
      freeze(!frozen_);
      break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
      keep();
      break;
    case Qt::Key_O:
      if (reference_ != 0) overlay_->toggle();
      break;
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace bq::ui
