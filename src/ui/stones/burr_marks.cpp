#include "ui/stones/burr_marks.h"

#include <QMouseEvent>
#include <QPainter>
#include <array>

#include "ui/stones/condition_drawing.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr double kPlaceHigh = 58, kSizeHigh = 46, kGap = 6;
constexpr int kSizes = int(std::size(kSaidSizes));

const char* drawing_of(BurrProof proof) {
  return std::array{"prove-touch", "prove-light", "prove-paper", "prove-lens",
                    "prove-sound"}[std::size_t(proof)];
}

/// "heel", "3", "tip": short enough for a box among eighteen.
QString short_name(int mark, int places) {
  const int at = mark % places;
  if (at == 0) return BurrMarks::tr("heel");
  if (at == places - 1) return BurrMarks::tr("tip");
  if (2 * at == places - 1 && places == kLeastPlaces) return BurrMarks::tr("middle");
  return QString::number(at + 1);
}

}  // namespace

void paint_burr(QPainter& painter, const QPointF& centre, BurrSize size, double radius) {
  const Theme& t = theme();
  painter.setPen(QPen(t.ink, 1.2));
  if (size == BurrSize::not_looked) {
    painter.setBrush(t.panel);
    painter.drawEllipse(centre, 0.9 * radius, 0.9 * radius);
  } else if (size == BurrSize::none) {
    const double r = 0.7 * radius;
    painter.drawLine(centre + QPointF(-r, -r), centre + QPointF(r, r));
    painter.drawLine(centre + QPointF(-r, r), centre + QPointF(r, -r));
  } else if (size == BurrSize::felt) {
    painter.setBrush(t.panel);
    painter.drawEllipse(centre, 0.9 * radius, 0.9 * radius);
    painter.setBrush(t.ink);
    painter.drawEllipse(centre, 0.45 * radius, 0.45 * radius);
  } else {
    const double share = size == BurrSize::just_felt ? 0.4 : size == BurrSize::small ? 0.7 : 1.0;
    painter.setBrush(t.ink);
    painter.drawEllipse(centre, share * radius, share * radius);
  }
}

BurrMarks::BurrMarks(StonesModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  setMinimumWidth(360);
  connect(&model_, &StonesModel::hand_changed, this, [this] {
    touched_.reset();
    refresh();
  });
  refresh();
}

std::optional<int> BurrMarks::asked() const {
  if (!model_.hand()) return std::nullopt;
  const Sharpening& s = model_.hand()->sharpening;
  const auto tap = next_tap(s);
  if (!tap) return std::nullopt;
  return touched_ && (gate_of(s, tap->step) >> *touched_ & 1U) ? touched_ : tap->mark;
}

void BurrMarks::say(BurrSize size) {
  if (const auto mark = asked()) model_.tap_mark(*mark, size);
}

int BurrMarks::rows() const {
  return model_.hand() && model_.hand()->sharpening.places > kLeastPlaces ? 2 : 1;
}

QRectF BurrMarks::place_box(int mark) const {
  const int places = model_.hand()->sharpening.places;
  const bool right = mark >= places;
  // A long edge has a row for each side.
  if (rows() == 2) {
    const double wide = std::min(76.0, (width() - 8.0) / places - 4);
    return {2 + (mark % places) * (wide + 4), 2 + (right ? kPlaceHigh : 0), wide, kPlaceHigh - 4};
  }
  const double wide = std::min(76.0, (width() - 36) / 6.0);
  return {2 + mark * (wide + 4) + (right ? 12 : 0), 2, wide, kPlaceHigh - 4};
}

QRectF BurrMarks::size_box(int size) const {
  const double wide = std::min(118.0, (width() - 12.0) / kSizes - 4);
  return {2 + size * (wide + 4), rows() * kPlaceHigh + kGap, wide, kSizeHigh};
}

void BurrMarks::refresh() {
  const bool sizes = asked().has_value();
  setFixedHeight(int(rows() * kPlaceHigh + (sizes ? kGap + kSizeHigh + 2 : 0)));
  QString said = tr("Places where the burr is looked for");
  if (const auto mark = asked()) {
    const Sharpening& s = model_.hand()->sharpening;
    said = tr("Asked for now: %1. Key 1 large, 2 small, 3 just felt, 4 none")
               .arg(QString::fromStdString(gate_mark_name(*mark, s.places)));
  }
  setAccessibleName(said);
  update();
}

void BurrMarks::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  refresh();
}

void BurrMarks::paint_place(QPainter& painter, int mark, const SharpeningStep& step,
                            bool wanted) const {
  const Theme& t = theme();
  const Sharpening& s = model_.hand()->sharpening;
  const QRectF box = place_box(mark);
  const bool next = asked() == mark;
  painter.setPen(QPen(next ? t.ochre : wanted ? t.ink : t.hairline, next ? 3 : 1.2));
  painter.setBrush(t.panel);
  painter.drawRoundedRect(box, 4, 4);
  if (wanted)
    paint_burr(painter, {box.center().x(), box.top() + 18}, step.burr[std::size_t(mark)], 8);
  painter.setFont(font_of(12, next));
  painter.setPen(wanted ? t.ink : t.quiet);
  painter.drawText(box.adjusted(0, 30, 0, -2), Qt::AlignCenter,
                   (mark < s.places ? tr("L ") : tr("R ")) + short_name(mark, s.places));
}

void BurrMarks::paintEvent(QPaintEvent*) {
  const auto step = model_.hand() ? current_step(model_.hand()->sharpening) : std::nullopt;
  if (!step) return;
  const Sharpening& s = model_.hand()->sharpening;
  const Theme& t = theme();
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const unsigned gate = gate_of(s, *step);
  for (int mark = 0; mark < 2 * s.places; ++mark)
    paint_place(painter, mark, s.steps[*step], gate >> mark & 1U);
  const auto mark = asked();
  if (!mark) return;
  const BurrSize expected = expected_burr(s, *step, *mark);
  for (int size = 0; size < kSizes; ++size) {
    const QRectF box = size_box(size);
    // What is to be expected after the abrasives so far has the stronger rim.
    painter.setPen(QPen(t.ink, kSaidSizes[size] == expected ? 2.4 : 1));
    painter.setBrush(t.panel);
    painter.drawRoundedRect(box, 4, 4);
    paint_burr(painter, {box.left() + 32, box.center().y()}, kSaidSizes[size], 8);
    painter.setPen(t.ink);
    painter.setFont(font_of(kBody, true));
    painter.drawText(QRectF(box.left() + 7, box.top(), 14, box.height()), Qt::AlignVCenter,
                     QString::number(size + 1));
    painter.setFont(font_of(12));
    painter.drawText(box.adjusted(46, 0, -3, 0), Qt::AlignVCenter | Qt::TextWordWrap,
                     QString::fromStdString(in_words(kSaidSizes[size], s.proof)));
  }
  // How to look, where there is room beside the places.
  constexpr double kLeastWide = 90;
  const double left = place_box(2 * s.places - 1).right() + 12, high = height() - 4.0;
  const double right = size_box(kSizes - 1).right() + 12;
  const QRectF room(std::max(left, right), 2, width() - std::max(left, right) - 4, high);
  if (room.width() >= kLeastWide)
    paint_condition(painter, room, QLatin1String(drawing_of(s.proof)));
}

void BurrMarks::mousePressEvent(QMouseEvent* event) {
  const auto step = model_.hand() ? current_step(model_.hand()->sharpening) : std::nullopt;
  if (!step) return;
  const Sharpening& s = model_.hand()->sharpening;
  for (int mark = 0; mark < 2 * s.places; ++mark)
    if (place_box(mark).contains(event->position()) && (gate_of(s, *step) >> mark & 1U)) {
      touched_ = mark;
      return refresh();
    }
  if (!asked()) return;
  for (int size = 0; size < kSizes; ++size)
    if (size_box(size).contains(event->position())) return say(kSaidSizes[size]);
}

}  // namespace bq::ui
