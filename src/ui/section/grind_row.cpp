#include "ui/section/grind_row.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>

#include "ui/parts/number_field.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

/// Places in the list of ways to stop; those of GrindUntil.
enum Until { at_apex, at_thickness, at_facet, at_depth, at_edge };

/// The size a way to stop goes by; what a fresh field shows where there is none.
double amount_of(const GrindUntil& until) {
  struct Amount {
    double operator()(const UntilApex&) const { return 0.4; }
    double operator()(const UntilThickness& u) const { return u.thickness_mm; }
    double operator()(const UntilFacet& u) const { return u.width_um; }
    double operator()(const UntilDepth& u) const { return u.depth_mm; }
    double operator()(const UntilBehindEdge& u) const { return u.thickness_mm; }
  };
  return std::visit(Amount{}, until);
}

NumberEntry* number_box(double least, double most, int decimals, double step, const QString& name) {
  auto* box = new NumberEntry;
  set_up_number(box, least, most, decimals, step, {}, name);
  return box;
}

}  // namespace

GrindRow::GrindRow(int index, QWidget* parent)
    : QFrame(parent),
      index_(index),
      grip_(new QLabel),
      shape_(new QComboBox),
      side_(new QComboBox),
      until_(new QComboBox),
      angle_(number_box(0.1, 79.9, 1, 0.5, tr("Angle of grind %1").arg(index + 1))),
      right_(number_box(0.1, 79.9, 1, 0.5, tr("Right side's angle of grind %1").arg(index + 1))),
      extra_(number_box(0.1, 1000, 1, 1,
                        tr("Radius or angle at the apex of grind %1").arg(index + 1))),
      amount_(
          number_box(0.0001, 100000, 3, 0.1, tr("Size at which grind %1 stops").arg(index + 1))),
      remove_(new QToolButton) {
  setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(tr("Grind %1").arg(index + 1));
  grip_->setFixedWidth(26);
  grip_->setCursor(Qt::OpenHandCursor);
  grip_->setToolTip(tr("Drag to another place in the order (or Alt+Up, Alt+Down)"));
  grip_->installEventFilter(this);
  grip_->setText(QString::number(index + 1));
  grip_->setAlignment(Qt::AlignHCenter | Qt::AlignBottom);
  shape_->addItems({tr("flat"), tr("hollow"), tr("convex")});
  shape_->setAccessibleName(tr("Shape of grind %1").arg(index + 1));
  side_->addItems({tr("both"), tr("left"), tr("right"), tr("unlike")});
  side_->setAccessibleName(tr("Side of grind %1").arg(index + 1));
  until_->addItems({tr("until the apex"), tr("until left thick"), tr("until facet wide"),
                    tr("by depth"), tr("meeting the edge at")});
  until_->setAccessibleName(tr("When grind %1 stops").arg(index + 1));
  // The columns share the width; what is in them does not ask for more.
  for (auto* box : {shape_, side_, until_})
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  remove_->setText(QChar(0x00d7));
  remove_->setAutoRaise(true);
  remove_->setToolTip(tr("Take this grind out"));
  remove_->setAccessibleName(tr("Take grind %1 out").arg(index + 1));
  lay_out();
  listen();
}

void GrindRow::lay_out() {
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(2, 5, 2, 6);
  grid->setHorizontalSpacing(5);
  grid->setVerticalSpacing(4);
  grid->addWidget(grip_, 0, 0, 2, 1);
  grid->addWidget(shape_, 0, 1);
  grid->addWidget(side_, 0, 2);
  grid->addWidget(angle_, 0, 3);
  grid->addWidget(remove_, 0, 4);
  grid->addWidget(amount_, 1, 3);
  auto* pair = new QHBoxLayout;
  pair->setSpacing(5);
  pair->addWidget(right_, 1);
  pair->addWidget(extra_, 1);
  grid->addLayout(pair, 2, 2, 1, 2);
  grid->addWidget(until_, 1, 1, 1, 2);
  grid->setColumnStretch(1, 10);
  grid->setColumnStretch(2, 10);
  grid->setColumnStretch(3, 15);
}

void GrindRow::listen() {
  for (auto* box : {shape_, side_, until_})
    connect(box, &QComboBox::activated, this, [this] {
      arrange();
      tell(true);
    });
  for (auto* box : {angle_, right_, extra_, amount_}) {
    connect(box, &NumberEntry::valueChanged, this, [this] { tell(false); });
    connect(box, &NumberEntry::editingFinished, this, [this] { tell(true); });
  }
  connect(remove_, &QToolButton::clicked, this, [this] { emit removed(index_); });
}

void GrindRow::arrange() {
  const bool was = filling_;
  filling_ = true;
  const bool hollow = shape_->currentIndex() == 1, convex = shape_->currentIndex() == 2;
  extra_->setVisible(hollow || convex);
  right_->setVisible(side_->currentIndex() == 3);
  amount_->setVisible(until_->currentIndex() != at_apex);
  const int factor = convention_ == AngleConvention::inclusive ? 2 : 1;
  const bool doubled = factor == 2 && side_->currentIndex() == 0;
  angle_->set_edge_angle(doubled ? AngleConvention::inclusive : AngleConvention::per_side);
  right_->set_edge_angle(AngleConvention::per_side);
  extra_->set_edge_angle(AngleConvention::per_side);
  angle_->setSuffix(doubled                      ? tr("° incl.")
                    : side_->currentIndex() == 3 ? tr("° left")
                                                 : tr("° per side"));
  right_->setSuffix(tr("° right"));
  angle_->setRange(0.1, doubled ? 159.8 : 79.9);
  if (hollow) {
    extra_->setSuffix(tr(" mm R"));
    extra_->setRange(1, 5000);
    extra_->setDecimals(0);
    extra_->setToolTip(tr("Radius of the wheel"));
  } else {
    extra_->setSuffix(tr("° apex"));
    extra_->setDecimals(1);
    extra_->setRange(0.2, 79.9);
    extra_->setToolTip(tr("Angle per side at the apex; the angle above is at the shoulder"));
  }
  const bool micrometres = until_->currentIndex() == at_facet;
  amount_->setSuffix(micrometres ? QStringLiteral(" µm") : QStringLiteral(" mm"));
  amount_->setDecimals(micrometres ? 1 : 3);
  amount_->setSingleStep(micrometres ? 5 : 0.05);
  filling_ = was;
}

void GrindRow::show_grind(const Grind& grind, AngleConvention convention) {
  filling_ = true;
  grind_ = grind;
  convention_ = convention;
  shape_->setCurrentIndex(int(grind.shape));
  side_->setCurrentIndex(grind.angle_right_deg ? 3 : int(grind.side));
  until_->setCurrentIndex(int(grind.until.index()));
  arrange();
  const bool doubled = convention == AngleConvention::inclusive && side_->currentIndex() == 0;
  show_value(angle_, doubled ? 2 * grind.angle_deg : grind.angle_deg);
  show_value(right_, grind.angle_right_deg.value_or(grind.angle_deg));
  if (grind.shape == GrindShape::hollow) show_value(extra_, grind.radius_mm.value_or(125));
  if (grind.shape == GrindShape::convex)
    show_value(extra_, grind.to_deg.value_or(grind.angle_deg + 5));
  show_value(amount_, amount_of(grind.until));
  filling_ = false;
}

Grind GrindRow::grind_shown() const {
  Grind out;
  out.shape = GrindShape(shape_->currentIndex());
  const bool unlike = side_->currentIndex() == 3;
  out.side = unlike ? GrindSide::both : GrindSide(side_->currentIndex());
  const bool doubled = convention_ == AngleConvention::inclusive && side_->currentIndex() == 0;
  const double factor = doubled ? 2 : 1;
  out.angle_deg = value_of(angle_, factor * grind_.angle_deg) / factor;
  if (unlike)
    out.angle_right_deg = value_of(right_, grind_.angle_right_deg.value_or(grind_.angle_deg));
  if (out.shape == GrindShape::hollow)
    out.radius_mm =
        grind_.shape == out.shape ? value_of(extra_, grind_.radius_mm.value_or(125)) : 125;
  if (out.shape == GrindShape::convex) {
    out.to_deg = grind_.shape == out.shape && grind_.to_deg ? value_of(extra_, *grind_.to_deg)
                                                            : out.angle_deg + 5;
    if (grind_.shape == GrindShape::convex && !grind_.to_deg) {
      out.radius_mm = grind_.radius_mm;
      out.to_deg.reset();
    }
  }
  const bool same_until = grind_.until.index() == std::size_t(until_->currentIndex());
  const double amount = value_of(amount_, amount_of(grind_.until));
  switch (until_->currentIndex()) {
    case at_thickness:
      out.until = UntilThickness{same_until ? amount : 0.4};
      break;
    case at_facet:
      out.until = UntilFacet{same_until ? amount : 60};
      break;
    case at_depth:
      out.until = UntilDepth{same_until ? amount : 0.02};
      break;
    case at_edge:
      out.until = UntilBehindEdge{same_until ? amount : 0.3};
      break;
    default:
      out.until = UntilApex{};
  }
  return out;
}

void GrindRow::tell(bool done) {
  if (filling_) return;
  const Grind grind = grind_shown();
  if (grind == grind_ && !done) return;
  grind_ = grind;
  emit edited(index_, grind, done);
}

void GrindRow::show_trouble(bool trouble) {
  if (trouble == trouble_) return;
  trouble_ = trouble;
  update();
}

bool GrindRow::eventFilter(QObject* watched, QEvent* event) {
  if (watched != grip_) return QFrame::eventFilter(watched, event);
  if (event->type() == QEvent::MouseButtonPress) {
    drag_from_ = static_cast<QMouseEvent*>(event)->globalPosition().toPoint().y();
    grip_->setCursor(Qt::ClosedHandCursor);
    return true;
  }
  if (event->type() == QEvent::MouseMove &&
      static_cast<QMouseEvent*>(event)->buttons() & Qt::LeftButton)
    return true;
  if (event->type() == QEvent::MouseButtonRelease) {
    grip_->setCursor(Qt::OpenHandCursor);
    const int moved = static_cast<QMouseEvent*>(event)->globalPosition().toPoint().y() - drag_from_;
    const int steps = int(std::lround(double(moved) / height()));
    if (steps != 0) emit move_wanted(index_, steps);
    return true;
  }
  return QFrame::eventFilter(watched, event);
}

void GrindRow::keyPressEvent(QKeyEvent* event) {
  if (event->modifiers() & Qt::AltModifier &&
      (event->key() == Qt::Key_Up || event->key() == Qt::Key_Down))
    emit move_wanted(index_, event->key() == Qt::Key_Up ? -1 : 1);
  else if (event->key() == Qt::Key_Delete)
    emit removed(index_);
  else
    QFrame::keyPressEvent(event);
}

void GrindRow::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter painter(this);
  painter.setPen(QPen(t.hairline, 1));
  painter.drawLine(0, height() - 1, width(), height() - 1);
  if (trouble_ || hasFocus()) painter.fillRect(0, 2, 3, height() - 4, t.ochre);
  // The grip: three short lines over the number.
  painter.setPen(QPen(t.quiet, 1.5));
  for (int i = 0; i < 3; ++i) painter.drawLine(9, 16 + 5 * i, 21, 16 + 5 * i);
}

}  // namespace bq::ui
