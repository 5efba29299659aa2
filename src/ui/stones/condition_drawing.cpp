#include "ui/stones/condition_drawing.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

/// A picture in its own coordinates: 100 wide, 60 high.
class Sketch {
 public:
  Sketch(QPainter& painter, const QRectF& box) : p_(painter) {
    const double scale = std::min(box.width() / 100, box.height() / 60);
    p_.save();
    p_.setRenderHint(QPainter::Antialiasing);
    p_.translate(box.center() - QPointF(50, 30) * scale);
    p_.scale(scale, scale);
  }
  ~Sketch() { p_.restore(); }
  Sketch(const Sketch&) = delete;
  Sketch& operator=(const Sketch&) = delete;

  /// The apex in cross-section, pointing down, cut off at `flat` half-width.
  void wedge(double flat = 0.6, double half_top = 26) {
    QPainterPath path;
    path.moveTo(50 - half_top, 2);
    path.lineTo(50 - flat, 46);
    path.lineTo(50 + flat, 46);
    path.lineTo(50 + half_top, 2);
    fill(path);
  }
  void fill(const QPainterPath& path) {
    p_.setPen(QPen(theme().ink, 1.6));
    p_.setBrush(theme().chosen);
    p_.drawPath(path);
  }
  /// What is on the apex.
  void mark(const QPainterPath& path, double width = 2.2) {
    p_.setPen(QPen(theme().ochre, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p_.setBrush(Qt::NoBrush);
    p_.drawPath(path);
  }
  void line(double x1, double y1, double x2, double y2) {
    QPainterPath path(QPointF(x1, y1));
    path.lineTo(x2, y2);
    mark(path);
  }
  void ink(double x1, double y1, double x2, double y2, double width = 1.4, bool dashed = false) {
    p_.setPen(QPen(theme().ink, width, dashed ? Qt::DashLine : Qt::SolidLine, Qt::RoundCap));
    p_.drawLine(QPointF(x1, y1), QPointF(x2, y2));
  }
  void dot(double x, double y, double r) {
    p_.setPen(Qt::NoPen);
    p_.setBrush(theme().ochre);
    p_.drawEllipse(QPointF(x, y), r, r);
  }
  void hatch(const QRectF& box) {
    p_.fillRect(box, theme().panel);
    p_.setPen(QPen(theme().ink, 1));
    for (double x = box.left(); x < box.right() + box.height(); x += 5) {
      const double x1 = std::max(box.left(), x - box.height()), x2 = std::min(box.right(), x);
      p_.drawLine(QPointF(x1, box.top() + (x - x1)), QPointF(x2, box.top() + (x - x2)));
    }
  }
  QPainter& painter() { return p_; }

 private:
  QPainter& p_;
};

void burr(Sketch& s, double direction) {
  QPainterPath path(QPointF(50, 46));
  path.quadTo(50 + direction * 2, 54, 50 + direction * 13, 52);
  s.mark(path, 3);
}

/// The edge head-on, a bar seen from its apex side, with light on it.
void head_on(Sketch& s) {
  s.painter().setPen(QPen(theme().ink, 1.4));
  s.painter().setBrush(theme().chosen);
  s.painter().drawRect(QRectF(8, 16, 84, 28));
  s.ink(8, 30, 92, 30, 1);
}

/// A bevel from the side: shoulder above, apex below; hatched where the ink is left.
void bevel(Sketch& s, const std::vector<QRectF>& inked) {
  s.painter().setPen(QPen(theme().ink, 1.4));
  s.painter().setBrush(theme().chosen);
  s.painter().drawRect(QRectF(8, 10, 84, 40));
  for (const auto& box : inked) s.hatch(box);
  s.ink(4, 50, 96, 50, 2.6);
  s.ink(4, 10, 96, 10, 1);
}

void stone(Sketch& s, double hollow) {
  QPainterPath path(QPointF(8, 24));
  path.quadTo(50, 24 + 2 * hollow, 92, 24);
  path.lineTo(92, 46);
  path.lineTo(8, 46);
  path.closeSubpath();
  s.fill(path);
  s.ink(4, 22, 96, 22, 1, true);
}

/// The edge from the side, apex below.
void side(Sketch& s, double bend) {
  QPainterPath path(QPointF(6, 12));
  path.lineTo(94, 12);
  path.lineTo(94, 40);
  path.quadTo(50, 40 - bend, 6, 40);
  path.closeSubpath();
  s.fill(path);
}

/// How a burr is looked for: a wedge with its burr, and what is held to it. False: no such proof.
bool paint_proof(Sketch& s, const QString& how) {
  const bool touch = how == QLatin1String("touch"), light = how == QLatin1String("light"),
             paper = how == QLatin1String("paper"), lens = how == QLatin1String("lens"),
             sound = how == QLatin1String("sound");
  if (!touch && !light && !paper && !lens && !sound) return false;
  s.wedge(0.6, 18);
  burr(s, 1);
  const auto outward = [&](double x1, double y1, double x2, double y2) {
    s.ink(x1, y1, x2, y2, 2.4);
    s.ink(x2, y2, x2 - 7, y2 - 1, 2.4);
    s.ink(x2, y2, x2 - 1, y2 - 7, 2.4);
  };
  if (touch) outward(86, 10, 74, 40);
  if (light)
    for (const double y : {6.0, 18.0, 30.0}) s.ink(96, y, 72, y + 14, 1.2, true);
  if (paper) {
    QPainterPath sheet(QPointF(78, 4));
    sheet.quadTo(66, 34, 57, 52);
    s.mark(sheet, 1.2);
    outward(90, 14, 78, 44);
  }
  if (lens) {
    s.painter().setPen(QPen(theme().ink, 2));
    s.painter().setBrush(Qt::NoBrush);
    s.painter().drawEllipse(QPointF(52, 48), 16, 11);
    s.ink(65, 42, 92, 26, 3);
  }
  if (sound) {
    s.ink(62, 52, 92, 34, 4);
    for (const double r : {6.0, 11.0}) s.ink(34 - r, 46, 34 - r, 56, 1.4);
  }
  return true;
}

}  // namespace

bool paint_condition(QPainter& painter, const QRectF& box, const QString& name) {
  Sketch s(painter, box);
  if (name == QLatin1String("burr-one")) {
    s.wedge();
    burr(s, 1);
  } else if (name == QLatin1String("burr-both")) {
    s.wedge();
    burr(s, 1);
    burr(s, -1);
  } else if (name == QLatin1String("clean")) {
    s.wedge(0.3);
  } else if (name == QLatin1String("feather")) {
    s.wedge();
    for (int i = -2; i <= 2; ++i) s.line(50 + i * 0.6, 46, 50 + i * 4.0, 52 + (i % 2 ? 2 : 0));
  } else if (name == QLatin1String("wire")) {
    s.wedge();
    QPainterPath path(QPointF(50, 46));
    path.lineTo(50, 57);
    s.mark(path, 2.6);
  } else if (name == QLatin1String("foil")) {
    s.wedge(1.2);
    QPainterPath path(QPointF(49, 44));
    path.cubicTo(48, 50, 53, 52, 50, 58);
    s.mark(path, 1.4);
    s.line(49, 46, 51, 46);
  } else if (name == QLatin1String("rolled")) {
    QPainterPath path(QPointF(24, 2));
    path.lineTo(46, 42);
    path.cubicTo(49, 48, 56, 52, 64, 46);
    path.cubicTo(58, 47, 55, 44, 54, 40);
    path.lineTo(76, 2);
    s.fill(path);
    QPainterPath bend(QPointF(46, 42));
    bend.cubicTo(49, 48, 56, 52, 64, 46);
    s.mark(bend);
  } else if (name == QLatin1String("chips")) {
    QPainterPath path(QPointF(6, 12));
    path.lineTo(94, 12);
    path.lineTo(94, 40);
    for (const auto& [x, y] :
         {std::pair(76, 40), {72, 31}, {66, 34}, {62, 40}, {44, 40}, {41, 34}, {37, 40}, {6, 40}})
      path.lineTo(x, y);
    path.closeSubpath();
    s.fill(path);
    QPainterPath gap(QPointF(76, 40));
    gap.lineTo(72, 31);
    gap.lineTo(66, 34);
    gap.lineTo(62, 40);
    s.mark(gap);
  } else if (name == QLatin1String("flat")) {
    s.wedge(6);
    s.line(44, 46, 56, 46);
  } else if (name == QLatin1String("glint-line")) {
    head_on(s);
    s.line(30, 30, 74, 30);
  } else if (name == QLatin1String("glint-spots")) {
    head_on(s);
    for (const double x : {24.0, 47.0, 70.0}) s.dot(x, 30, 2.6);
  } else if (name == QLatin1String("ink-whole")) {
    bevel(s, {});
  } else if (name == QLatin1String("ink-apex")) {
    bevel(s, {QRectF(8, 36, 84, 14)});
  } else if (name == QLatin1String("ink-places")) {
    bevel(s, {QRectF(20, 34, 18, 16), QRectF(58, 34, 22, 16)});
  } else if (name == QLatin1String("ink-ends")) {
    bevel(s, {QRectF(8, 34, 20, 16), QRectF(70, 10, 22, 16)});
  } else if (name == QLatin1String("stone-flat")) {
    stone(s, 0);
  } else if (name == QLatin1String("stone-dished")) {
    stone(s, 9);
    QPainterPath path(QPointF(8, 24));
    path.quadTo(50, 42, 92, 24);
    s.mark(path);
  } else if (name == QLatin1String("stone-loaded")) {
    stone(s, 0);
    for (const double x : {18.0, 30.0, 47.0, 61.0, 78.0}) s.line(x, 25.5, x + 7, 25.5);
  } else if (name == QLatin1String("blade-straight")) {
    side(s, 0);
    s.ink(2, 44, 98, 44, 1, true);
  } else if (name == QLatin1String("blade-bent")) {
    side(s, 16);
    s.ink(2, 42, 98, 42, 1, true);
    QPainterPath path(QPointF(94, 40));
    path.quadTo(50, 24, 6, 40);
    s.mark(path);
  } else if (name == QLatin1String("slim")) {
    s.wedge(0.4, 12);
  } else if (name == QLatin1String("thick")) {
    s.wedge(0.4, 40);
  } else if (name == QLatin1String("micro-narrow") || name == QLatin1String("micro-wide")) {
    const double height = name == QLatin1String("micro-wide") ? 20 : 7;
    const double y = 46 - height, half = 22 * (height / 44) + height * 0.35;
    QPainterPath path(QPointF(24, 2));
    path.lineTo(50 - half, y);
    path.lineTo(50, 46);
    path.lineTo(50 + half, y);
    path.lineTo(76, 2);
    s.fill(path);
    s.line(50 - half, y, 50, 46);
    s.line(50, 46, 50 + half, y);
  } else if (name == QLatin1String("strop-soft")) {
    QPainterPath path(QPointF(4, 30));
    path.quadTo(36, 30, 46, 42);
    path.quadTo(54, 48, 64, 40);
    path.quadTo(76, 30, 96, 30);
    path.lineTo(96, 56);
    path.lineTo(4, 56);
    path.closeSubpath();
    s.fill(path);
    s.line(46, 40, 92, 14);
    s.line(46, 40, 88, 6);
  } else {
    return name.startsWith(QLatin1String("prove-")) && paint_proof(s, name.sliced(6));
  }
  return true;
}

}  // namespace bq::ui
