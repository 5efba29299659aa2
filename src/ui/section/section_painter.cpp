#include "ui/section/section_painter.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr double kBelowApex = 0.10, kBand_px = 74, kFar_px = 20000;

class Say {
  Q_DECLARE_TR_FUNCTIONS(Section)
};

/// A side's face at h, mm right of the centre plane.
double across(const Section& section, EdgeSide side, double h) {
  return (side == EdgeSide::left ? -1 : 1) * section.half_mm(side, h);
}

/// A face as points in pixels over the heights that can be seen.
QPolygonF face(const SectionFrame& frame, const Section& section, EdgeSide side, double offset,
               double low, double high) {
  QPolygonF out;
  const double sign = side == EdgeSide::left ? -1 : 1;
  const auto add = [&](const SurfacePiece& piece, double h) {
    QPointF p = frame.at(sign * piece.y(h), h + offset);
    p.setX(std::clamp(p.x(), -kFar_px, kFar_px));
    if (out.isEmpty() || out.back() != p) out << p;
  };
  for (const auto& piece : section.pieces(side)) {
    const double a = std::max(piece.from_mm, low - offset),
                 b = std::min(piece.to_mm, high - offset);
    if (!(b > a)) continue;
    const int steps = piece.shape == SurfacePiece::Shape::straight ? 1 : 48;
    for (int i = 0; i <= steps; ++i) add(piece, a + (b - a) * i / steps);
  }
  return out;
}

QPainterPath body(const SectionFrame& frame, const Section& section, double offset, double low,
                  double high) {
  QPolygonF left = face(frame, section, EdgeSide::left, offset, low, high);
  const QPolygonF right = face(frame, section, EdgeSide::right, offset, low, high);
  QPainterPath path;
  if (left.isEmpty() || right.isEmpty()) return path;
  std::reverse(left.begin(), left.end());
  path.addPolygon(left + right);
  path.closeSubpath();
  return path;
}

struct Callout {
  QPointF anchor;
  QString text;
  double y = 0;
  bool strong = false;
};

/// Moves labels apart so that none covers another, keeping their order and staying in [top,
/// bottom].
void spread(std::vector<Callout>& labels, double top, double bottom, double step) {
  std::sort(labels.begin(), labels.end(),
            [](const Callout& a, const Callout& b) { return a.anchor.y() < b.anchor.y(); });
  double least = top;
  for (auto& label : labels) {
    label.y = std::max(label.anchor.y(), least);
    least = label.y + step;
  }
  double most = bottom;
  for (auto label = labels.rbegin(); label != labels.rend(); ++label) {
    label->y = std::min(label->y, most);
    most = label->y - step;
  }
}

/// A facet's angle in the shown convention; inclusive only where both sides were ground alike.
QString facet_text(const SectionStudy& study, const Facet& facet, AngleConvention convention) {
  double angle = facet.angle_deg;
  QString note;
  if (convention == AngleConvention::inclusive) {
    const auto twin = std::find_if(study.facets.begin(), study.facets.end(), [&](const Facet& f) {
      return f.side != facet.side && f.made_by == facet.made_by &&
             std::abs(f.from_um - facet.from_um) < 1e-3 * facet.to_um + 1e-6;
    });
    if (twin != study.facets.end())
      angle += twin->angle_deg;
    else
      note = Say::tr(" this side");
  }
  QString text = QString::number(angle, 'f', 1) + QChar(0xb0) + note;
  if (facet.shape != SurfacePiece::Shape::straight)
    text += Say::tr(" (%1° to %2°)")
                .arg(facet.shoulder_end_deg, 0, 'f', 1)
                .arg(facet.apex_end_deg, 0, 'f', 1);
  return text + QStringLiteral("  ") + length_text(facet.width_um / 1000);
}

void collect(const SectionScene& scene, const SectionFrame& frame, std::vector<Callout>& left,
             std::vector<Callout>& right) {
  const Section& section = scene.study->section;
  const QRectF& box = frame.drawing();
  const double low = frame.h_of(box.bottom()), high = frame.h_of(box.top());
  double last_px = 1e9;
  for (const auto& facet : scene.study->facets) {
    const double from = section.apex_mm() + facet.from_um / 1000,
                 to = section.apex_mm() + facet.to_um / 1000;
    const double a = std::max(from, low);
    double b = std::min(to, high);
    // Only as far up as the face stays in the picture: faces open toward the spine.
    const auto seen = [&](double h) {
      const double x = frame.at(across(section, facet.side, h), h).x();
      return x > box.left() && x < box.right();
    };
    if (b > a && !seen(b)) {
      double inside = a, outside = b;
      for (int i = 0; i < 40; ++i) {
        const double middle = 0.5 * (inside + outside);
        (seen(middle) ? inside : outside) = middle;
      }
      b = inside;
    }
    if (!(b > a) || (b - a) * frame.px_per_mm() < 12) continue;
    if (facet.made_by == kMadeByMeasurement && (b - a) * frame.px_per_mm() < 40) continue;
    const double h = 0.5 * (a + b);
    auto& side = facet.side == EdgeSide::left ? left : right;
    side.push_back({frame.at(across(section, facet.side, h), h),
                    facet_text(*scene.study, facet, scene.convention)});
    // The thickness where the facet ends, once for both sides.
    if (facet.side == EdgeSide::right && to <= b * (1 + 1e-12) && to < section.top_mm() - 1e-9) {
      const QPointF anchor = frame.at(section.half_mm(EdgeSide::right, to), to);
      if (std::abs(anchor.y() - last_px) > 14)
        right.push_back({anchor, Say::tr("%1 thick").arg(length_text(facet.to_thickness_mm))});
      last_px = anchor.y();
    }
  }
  if (section.apex_width_mm() > 0 && section.apex_width_mm() * frame.px_per_mm() > 6)
    right.push_back(
        {frame.at(across(section, EdgeSide::right, section.apex_mm()), section.apex_mm()),
         Say::tr("apex %1 wide").arg(length_text(section.apex_width_mm()))});
  if (scene.study->stress && scene.stress) {
    const double h = section.apex_mm() + scene.study->stress->weakest.at_mm;
    if (h > low && h < high)
      left.push_back({frame.at(across(section, EdgeSide::left, h), h),
                      scene.study->stress->weakest.from_apex
                          ? Say::tr("weakest from the apex to here")
                          : Say::tr("weakest place"),
                      0, true});
  }
}

void draw_callouts(QPainter& painter, std::vector<Callout>& labels, const QRectF& box,
                   bool at_left) {
  const Theme& t = theme();
  spread(labels, box.top() + 10, box.bottom() - 30, 19);
  for (const auto& label : labels) {
    painter.setFont(font_of(12, label.strong));
    const double width = painter.fontMetrics().horizontalAdvance(label.text);
    const double x = at_left ? box.left() + 8 : box.right() - 8 - width;
    const double inner = at_left ? x + width + 4 : x - 4;
    painter.setPen(QPen(label.strong ? t.ink : t.quiet, 1));
    painter.drawLine(QPointF(inner, label.y), QPointF(inner + (at_left ? 10 : -10), label.y));
    painter.drawLine(QPointF(inner + (at_left ? 10 : -10), label.y), label.anchor);
    if (label.strong) {
      painter.setBrush(t.ochre);
      const QPolygonF diamond{QPointF(0, -6), QPointF(6, 0), QPointF(0, 6), QPointF(-6, 0)};
      painter.drawPolygon(diamond.translated(label.anchor));
    } else {
      painter.setBrush(t.quiet);
      painter.drawEllipse(label.anchor, 2, 2);
    }
    const QRectF at(x, label.y - 9, width, 18);
    painter.fillRect(at.adjusted(-3, 0, 3, 0), t.panel);
    painter.setPen(t.ink);
    painter.drawText(at, Qt::AlignVCenter | Qt::AlignLeft, label.text);
  }
}

void draw_scale_bar(QPainter& painter, const SectionFrame& frame, const SectionScene& scene) {
  const Theme& t = theme();
  const double length = round_below(0.2 * scene.lens_mm), px = length * frame.px_per_mm();
  const QPointF from(frame.drawing().left() + 12, frame.drawing().bottom() - 12);
  painter.setPen(QPen(t.ink, 2));
  painter.drawLine(from, from + QPointF(px, 0));
  painter.drawLine(from + QPointF(0, -4), from + QPointF(0, 4));
  painter.drawLine(from + QPointF(px, -4), from + QPointF(px, 4));
  painter.setFont(font_of(12));
  painter.drawText(QRectF(from.x() + px + 8, from.y() - 10, 200, 20),
                   Qt::AlignVCenter | Qt::AlignLeft, length_text(length) + Say::tr(", to scale"));
}

void draw_stress(QPainter& painter, const SectionFrame& frame, const SectionScene& scene) {
  const Theme& t = theme();
  const StressStudy& stress = *scene.study->stress;
  const QRectF& band = frame.band();
  const double full = stress.limit ? stress.limit->limit_MPa : stress.weakest.peak_MPa;
  const double apex = scene.study->section.apex_mm();
  const auto& scan = stress.weakest.scan;
  const double zero = band.left() + 2, one = zero + (band.width() - 6) / 1.35;
  painter.setFont(font_of(11));
  painter.setPen(t.quiet);
  painter.drawText(QRectF(band.left() - 40, band.top() - 2, band.width() + 44, 16), Qt::AlignRight,
                   stress.limit ? Say::tr("stress / limit") : Say::tr("stress / peak"));
  const double top = band.top() + 16;
  painter.setPen(QPen(t.hairline, 1));
  painter.drawLine(QPointF(zero, top), QPointF(zero, band.bottom()));
  for (double y = band.bottom(); y > top; y -= 2) {
    const double d = frame.h_of(y) - apex;
    if (d <= scan.front().at_mm || d > scan.back().at_mm) continue;
    const auto above = std::lower_bound(
        scan.begin(), scan.end(), d, [](const StressPoint& p, double at) { return p.at_mm < at; });
    const auto below = above - 1;
    const double share = (d - below->at_mm) / (above->at_mm - below->at_mm);
    const double ratio =
        (below->stress_MPa + share * (above->stress_MPa - below->stress_MPa)) / full;
    const double end = zero + (one - zero) * std::min(ratio, 1.35);
    painter.fillRect(QRectF(zero, y - 2, std::min(end, one) - zero, 2), t.ochre);
    if (ratio > 1)
      painter.fillRect(QRectF(one, y - 2, end - one, 1), t.ink);  // over the limit: dark stripes
  }
  painter.setPen(QPen(t.ink, 1.5, Qt::DashLine));
  painter.drawLine(QPointF(one, top), QPointF(one, band.bottom()));
  painter.setPen(t.ink);
  painter.drawText(QRectF(one - 20, band.bottom() + 1, 40, 14), Qt::AlignHCenter,
                   QStringLiteral("1"));
}

}  // namespace

QString length_text(double mm) {
  const double size = std::abs(mm);
  if (size >= 0.9995) return QString::fromStdString(print_number(mm, 3)) + QStringLiteral(" mm");
  return QString::fromStdString(print_number(mm * 1000, 3)) + QStringLiteral(" µm");
}

SectionFrame::SectionFrame(const QRectF& box, const SectionScene& scene) {
  drawing_ = box;
  if (scene.stress) drawing_.setRight(box.right() - kBand_px);
  band_ = QRectF(drawing_.right() + 4, box.top() + 4, kBand_px - 10, box.height() - 22);
  scale_ = drawing_.height() * (1 - kBelowApex) / scene.lens_mm;
  apex_ = QPointF(drawing_.center().x(), drawing_.bottom() - kBelowApex * drawing_.height());
  if (!scene.study) return;
  // The blade's middle at the top of the picture: a chisel's apex lies in its back, not in the
  // centre plane of its stock.
  const Section& section = scene.study->section;
  apex_h_ = section.apex_mm();
  const double top = std::min(apex_h_ + scene.lens_mm, section.top_mm());
  middle_ = 0.5 * (section.half_mm(EdgeSide::right, top) - section.half_mm(EdgeSide::left, top));
}

QPointF SectionFrame::at(double y_mm, double h_mm) const {
  return {apex_.x() + (y_mm - middle_) * scale_, apex_.y() - (h_mm - apex_h_) * scale_};
}
double SectionFrame::h_of(double y_px) const { return apex_h_ + (apex_.y() - y_px) / scale_; }
double SectionFrame::y_of(double x_px) const { return middle_ + (x_px - apex_.x()) / scale_; }

void paint_section(QPainter& painter, const QRectF& box, const SectionScene& scene) {
  const Theme& t = theme();
  const SectionFrame frame(box, scene);
  const Section& section = scene.study->section;
  painter.save();
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(frame.drawing(), t.panel);
  painter.setClipRect(frame.drawing());
  const double margin = 0.05 * scene.lens_mm;
  const double low = frame.h_of(frame.drawing().bottom()) - margin,
               high = frame.h_of(frame.drawing().top()) + margin;
  const QPainterPath now = body(frame, section, 0, low, high);
  if (scene.before) {
    const QPainterPath before = body(frame, *scene.before, scene.before_offset_mm, low, high);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QBrush(t.quiet, Qt::BDiagPattern));
    painter.drawPath(before);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(t.quiet, 1, Qt::DashLine));
    painter.drawPath(before);
  }
  painter.setPen(Qt::NoPen);
  painter.setBrush(t.chosen);
  painter.drawPath(now);
  // The centre plane, then the faces.
  painter.setPen(QPen(t.hairline, 1, Qt::DashDotLine));
  painter.drawLine(QPointF(frame.at(0, 0).x(), frame.drawing().top()),
                   QPointF(frame.at(0, 0).x(), frame.drawing().bottom()));
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    painter.setPen(QPen(t.ink, 2, Qt::SolidLine, Qt::FlatCap, Qt::RoundJoin));
    painter.drawPolyline(face(frame, section, side, 0, low, high));
  }
  painter.setPen(QPen(t.ink, 2));
  painter.drawLine(
      frame.at(-section.half_mm(EdgeSide::left, section.apex_mm()), section.apex_mm()),
      frame.at(section.half_mm(EdgeSide::right, section.apex_mm()), section.apex_mm()));
  if (scene.hot_grind >= 0) {
    painter.setPen(QPen(t.ochre, 4, Qt::SolidLine, Qt::FlatCap));
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
      const double sign = side == EdgeSide::left ? -1 : 1;
      for (const auto& piece : section.pieces(side)) {
        if (piece.made_by != scene.hot_grind) continue;
        const double a = std::max(piece.from_mm, low), b = std::min(piece.to_mm, high);
        QPolygonF line;
        for (int i = 0; i <= 24 && b > a; ++i) {
          const double h = a + (b - a) * i / 24;
          line << frame.at(sign * piece.y(h), h);
        }
        painter.drawPolyline(line);
      }
    }
  }
  std::vector<Callout> left, right;
  collect(scene, frame, left, right);
  const QRectF labels = frame.drawing().adjusted(0, scene.title.isEmpty() ? 0 : 24, 0, 0);
  draw_callouts(painter, left, labels, true);
  draw_callouts(painter, right, labels, false);
  draw_scale_bar(painter, frame, scene);
  if (!scene.title.isEmpty()) {
    painter.setPen(t.ink);
    painter.setFont(font_of(kBody, true));
    painter.drawText(frame.drawing().adjusted(10, 6, -10, 0), Qt::AlignTop | Qt::AlignHCenter,
                     scene.title);
  }
  painter.setClipping(false);
  if (scene.stress && scene.study->stress) draw_stress(painter, frame, scene);
  painter.restore();
}

int facet_at(const QRectF& box, const SectionScene& scene, QPointF place) {
  if (!scene.study) return -1;
  const SectionFrame frame(box, scene);
  if (!frame.drawing().contains(place)) return -1;
  const Section& section = scene.study->section;
  const double h = frame.h_of(place.y()), x = frame.y_of(place.x());
  for (std::size_t i = 0; i < scene.study->facets.size(); ++i) {
    const auto& facet = scene.study->facets[i];
    const double d_um = (h - section.apex_mm()) * 1000;
    if (facet.made_by < 0 || d_um < facet.from_um || d_um > facet.to_um) continue;
    if (std::abs(across(section, facet.side, h) - x) * frame.px_per_mm() < 9) return int(i);
  }
  return -1;
}

}  // namespace bq::ui
