#include "ui/section/jig_page.h"

#include <QGridLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QSlider>
#include <QVBoxLayout>
#include <cmath>
#include <sstream>

#include "store/jig_files.h"
#include "ui/frame/origin_line.h"
#include "ui/parts/number_field.h"
#include "ui/theme/theme.h"
#include "workflow/learned.h"

namespace bq::ui {
namespace {
constexpr double kShiftLimit_mm = 40;
}

/// The outline in its jig above, the angle along the edge below; the shift can be dragged.
class JigPage::Picture : public QWidget {
 public:
  explicit Picture(JigPage& page) : page_(page) {
    setMinimumHeight(230);
    setCursor(Qt::SizeHorCursor);
    setAccessibleName(JigPage::tr("Blade in the jig, and the angle along the edge"));
    setToolTip(JigPage::tr("Drag sideways to move the blade in the clamp"));
  }
  void show_jig(const std::optional<ClampSolver>& solver, double shift, double held) {
    solver_ = solver;
    shift_ = shift;
    held_ = held;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), t.panel);
    if (!solver_) return;
    draw_jig(painter, QRectF(0, 0, width(), height() * 0.46), t);
    draw_sweep(painter, QRectF(0, height() * 0.48, width(), height() * 0.52), t);
  }
  void mousePressEvent(QMouseEvent* event) override {
    from_ = event->position().x();
    at_press_ = shift_;
  }
  void mouseMoveEvent(QMouseEvent* event) override {
    if (event->buttons() & Qt::LeftButton)
      page_.shift_->setValue(
          int(std::lround(10 * (at_press_ + (event->position().x() - from_) / scale_))));
  }
  void mouseReleaseEvent(QMouseEvent*) override { page_.change(true); }

 private:
  void draw_jig(QPainter& painter, const QRectF& box, const Theme& t) {
    const auto& points = solver_->outline().points();
    const double lateral =
        solver_->lateral_mm({shift_, 0}).value_or(solver_->jig().pivot_lateral_mm);
    double left = solver_->jig().pivot_x_mm, right = left, low = lateral, high = lateral;
    for (const auto& p : points) {
      left = std::min(left, p.x_mm - kShiftLimit_mm);

      right = std::max(right, p.x_mm + kShiftLimit_mm);
      low = std::min(low, p.y_mm);
      high = std::max(high, p.y_mm);
    }
    scale_ = std::min((box.width() - 30) / (right - left),
                      (box.height() - 34) / std::max(high - low, 1.0));
    const auto at = [&](double x, double y) {
      return QPointF(box.center().x() + (x - 0.5 * (left + right)) * scale_,
                     box.bottom() - 12 - (y - low) * scale_);
    };
    // Blade: the edge with a strip of the blade behind it, toward the pivot.
    QPolygonF edge, body;
    const double toward = lateral > points.front().y_mm ? 1 : -1,
                 strip = std::min(24.0, 0.4 * std::abs(lateral - points.front().y_mm));
    for (const auto& p : points) edge << at(p.x_mm + shift_, p.y_mm);
    body = edge;
    body << at(points.back().x_mm + shift_, points.back().y_mm + toward * strip * 0.4)
         << at(points.front().x_mm + shift_, points.front().y_mm + toward * strip);
    painter.setPen(Qt::NoPen);
    painter.setBrush(t.chosen);
    painter.drawPolygon(body);
    painter.setPen(QPen(t.ink, 2));
    painter.drawPolyline(edge);
    const QPointF foot = at(solver_->jig().pivot_x_mm, lateral);
    painter.setPen(QPen(t.quiet, 1, Qt::DashLine));
    for (const double share : {0.0, 0.5, 1.0}) {
      const EdgePoint e = solver_->outline().at(share);
      painter.drawLine(foot, at(e.x_mm + shift_, e.y_mm));
    }
    painter.setPen(QPen(t.ink, 1.5));
    painter.setBrush(t.ochre);
    painter.drawEllipse(foot, 5, 5);
    painter.setFont(font_of(11));
    painter.setPen(t.quiet);
    painter.drawText(QRectF(foot.x() + 9, foot.y() - 8, 220, 16), Qt::AlignLeft | Qt::AlignVCenter,
                     JigPage::tr("pivot, %1 mm up").arg(solver_->jig().pivot_height_mm, 0, 'f', 1));
    painter.drawText(QRectF(edge.front().x() - 30, edge.front().y() + 1, 60, 14), Qt::AlignHCenter,
                     JigPage::tr("heel"));
    painter.drawText(QRectF(edge.back().x() - 30, edge.back().y() + 1, 60, 14), Qt::AlignHCenter,
                     JigPage::tr("tip"));
  }

  void draw_sweep(QPainter& painter, const QRectF& whole, const Theme& t) {
    const auto now = solver_->sweep({shift_, 0}), start = solver_->sweep({0, 0});
    const QRectF box = whole.adjusted(52, 28, -12, -20);
    painter.setFont(font_of(11));
    painter.setPen(t.quiet);
    painter.drawText(QRectF(whole.left() + 6, whole.top(), 300, 14), Qt::AlignLeft,
                     JigPage::tr("angle along the edge, ") + page_.convention_text());
    if (now.empty()) {
      painter.drawText(box, Qt::AlignCenter, JigPage::tr("Out of the jig's range here."));
      return;
    }
    double low = held_ - 0.5, high = held_ + 0.5;
    for (const auto* sweep : {&now, &start})
      for (const auto& p : *sweep) {
        low = std::min(low, p.angle_deg);
        high = std::max(high, p.angle_deg);
      }
    const double from = now.front().x_mm, to = now.back().x_mm;
    const auto at = [&](const ClampSolver::SweepPoint& p) {
      return QPointF(box.left() + (p.x_mm - from) / (to - from) * box.width(),
                     box.bottom() - (p.angle_deg - low) / (high - low) * box.height());
    };
    painter.setPen(QPen(t.hairline, 1));
    painter.drawLine(box.topLeft(), box.bottomLeft());
    painter.drawLine(box.bottomLeft(), box.bottomRight());
    painter.setPen(t.quiet);
    for (const double angle : {low, high})
      painter.drawText(
          QRectF(whole.left(), box.bottom() - (angle - low) / (high - low) * box.height() - 8, 48,
                 16),
          Qt::AlignRight | Qt::AlignVCenter, page_.angle_text(angle));
    painter.drawText(QRectF(box.left(), box.bottom() + 3, 80, 14), Qt::AlignLeft,
                     JigPage::tr("heel"));
    painter.drawText(QRectF(box.right() - 80, box.bottom() + 3, 80, 14), Qt::AlignRight,
                     JigPage::tr("tip"));
    const auto line = [&](const std::vector<ClampSolver::SweepPoint>& sweep, const QPen& pen) {
      QPolygonF points;
      for (const auto& p : sweep) points << at(p);
      painter.setPen(pen);
      painter.drawPolyline(points);
    };
    if (!start.empty() && shift_ != 0) line(start, QPen(t.quiet, 1, Qt::DashLine));
    line(now, QPen(t.ink, 2));
  }

  JigPage& page_;
  std::optional<ClampSolver> solver_;
  double shift_ = 0, held_ = 15, scale_ = 1, from_ = 0, at_press_ = 0;
};

JigPage::JigPage(Workbench& workbench, SectionModel& model, QWidget* parent)
    : HelperPage(
          workbench, model, tr("Clamp jig"),
          tr("Clamp the blade with its edge covered, hands behind the edge while it is tightened."),
          parent),
      x_(new NumberEntry),
      height_(new NumberEntry),
      offset_(new NumberEntry),
      held_(new NumberEntry),
      shift_(new QSlider(Qt::Horizontal)),
      shift_text_(new QLabel),
      result_(new QLabel),
      advice_(quiet_label({})),
      best_(new QPushButton(tr("Find the evenest place"))),
      store_(new QPushButton(tr("Store as this blade's setting"))),
      ink_apex_(new QPushButton(tr("at the apex"))),
      ink_shoulder_(new QPushButton(tr("at the shoulder"))),
      picture_(new Picture(*this)),
      origin_(quiet_label({})) {
  lay_out();
}

void JigPage::lay_out() {
  const auto set_up = [&](NumberEntry* box, double least, double most, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, 1, step, suffix, name);
    box->setKeyboardTracking(false);
    connect(box, &NumberEntry::valueChanged, this, [this] { change(true); });
  };
  set_up(held_, 1, 79, 0.5, QStringLiteral("°"),
         tr("Angle wanted at the middle of the edge, per side"));
  held_->set_edge_angle(AngleConvention::per_side);
  set_up(height_, 1, 500, 1, tr(" mm"), tr("Height of the pivot over the blade's plane"));
  set_up(x_, -500, 1000, 1, tr(" mm"), tr("Pivot along the blade, from the heel"));
  set_up(offset_, -50, 50, 0.5, tr(" mm"), tr("Abrasive's face from the pivot, toward the blade"));
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->addWidget(quiet_label(tr("angle, per side")), 0, 0);
  grid->addWidget(quiet_label(tr("pivot height")), 0, 1);
  grid->addWidget(quiet_label(tr("pivot along")), 0, 2);
  grid->addWidget(quiet_label(tr("abrasive")), 0, 3);
  grid->addWidget(held_, 1, 0);
  grid->addWidget(height_, 1, 1);
  grid->addWidget(x_, 1, 2);
  grid->addWidget(offset_, 1, 3);
  column_->addLayout(grid);
  column_->addWidget(origin_);
  column_->addWidget(picture_, 1);
  auto* move = new QHBoxLayout;
  shift_->setRange(int(-10 * kShiftLimit_mm), int(10 * kShiftLimit_mm));
  shift_->setAccessibleName(tr("Shift of the blade in the clamp"));
  move->addWidget(shift_text_);
  move->addWidget(shift_, 1);
  column_->addLayout(move);
  result_->setWordWrap(true);
  column_->addWidget(result_);
  auto* ink = new QHBoxLayout;
  ink->addWidget(new QLabel(tr("Ink left at the tip:")));
  ink->addWidget(ink_apex_);
  ink->addWidget(ink_shoulder_);
  ink->addStretch();
  column_->addLayout(ink);
  column_->addWidget(advice_);
  auto* foot = new QHBoxLayout;
  foot->addWidget(best_);
  foot->addStretch();
  store_->setObjectName(QStringLiteral("primary"));
  foot->addWidget(store_);
  column_->addLayout(foot);
  connect(shift_, &QSlider::valueChanged, this, [this] { change(false); });
  connect(shift_, &QSlider::sliderReleased, this, [this] { change(true); });
  connect(best_, &QPushButton::clicked, this, &JigPage::find_best);
  connect(store_, &QPushButton::clicked, this, &JigPage::store);
  const auto advise = [this](ClampSolver::TipInk ink_left) {
    if (const auto s = solver())
      advice_->setText(QString::fromStdString(s->tip_advice(ink_left, {setting_.shift_mm, 0})));
  };
  connect(ink_apex_, &QPushButton::clicked, this,
          [advise] { advise(ClampSolver::TipInk::at_apex); });
  connect(ink_shoulder_, &QPushButton::clicked, this,
          [advise] { advise(ClampSolver::TipInk::at_shoulder); });
  connect(&workbench(), &Workbench::display_changed, this, &JigPage::refresh);
}

QString JigPage::result() const { return result_->text(); }

void JigPage::reload() {
  Setting read;
  read.jig.pivot_x_mm = std::round(model().edge().length_mm() / 2);
  const auto bench = workbench().has_project()
                         ? parse_jig_text(workbench().session().kept(kClampJigKey))
                         : std::nullopt;
  if (bench) read.jig = *bench;  // the jig is the bench's; how a blade sits in it is the blade's
  std::istringstream in(kept("jig"));
  in.imbue(std::locale::classic());
  Setting s;
  if (in >> s.jig.pivot_x_mm >> s.jig.pivot_lateral_mm >> s.jig.pivot_height_mm >>
      s.jig.offset_mm >> s.held_deg >> s.shift_mm)
    read = s;
  setting_ = read;
  filling_ = true;
  held_->setValue(setting_.held_deg);
  height_->setValue(setting_.jig.pivot_height_mm);
  x_->setValue(setting_.jig.pivot_x_mm);
  offset_->setValue(setting_.jig.offset_mm);
  shift_->setValue(int(std::lround(10 * setting_.shift_mm)));
  filling_ = false;
  show_origin(*origin_, workbench(), kClampJigKey);
  refresh();
}

std::optional<ClampSolver> JigPage::solver() const {
  if (!blade()) return std::nullopt;
  const auto outline = EdgeOutline::through(model().edge().outline);
  if (!outline) return std::nullopt;
  auto made = ClampSolver::make(*outline, setting_.jig);
  if (!made) return std::nullopt;
  ClampSolver out = *made;
  double low = 1e9, high = -1e9;
  for (const auto& p : model().edge().outline) {
    low = std::min(low, p.x_mm);
    high = std::max(high, p.x_mm);
  }
  if (!out.hold(0.5 * (low + high), setting_.held_deg)) return std::nullopt;
  return out;
}

void JigPage::change(bool keep_it) {
  if (filling_) return;
  setting_.jig = {value_of(x_, setting_.jig.pivot_x_mm), setting_.jig.pivot_lateral_mm,
                  value_of(height_, setting_.jig.pivot_height_mm),
                  value_of(offset_, setting_.jig.offset_mm)};
  setting_.held_deg = value_of(held_, setting_.held_deg);
  setting_.shift_mm = shift_->value() / 10.0;
  advice_->clear();
  if (keep_it && workbench().writable()) {
    std::ostringstream out;
    out.imbue(std::locale::classic());
    out.precision(10);
    out << jig_text(setting_.jig) << ' ' << setting_.held_deg << ' ' << setting_.shift_mm;
    const std::string own = out.str(), key = key_of("jig");
    workbench().edit([&](ProjectSession& session) {
      session.as_one("the clamp jig", [&] {
        session.keep(key, own, "the clamp jig");
        session.keep(kClampJigKey, jig_text(setting_.jig), "the clamp jig");
      });
    });
  }
  refresh();
}

void JigPage::refresh() {
  const auto s = solver();
  picture_->show_jig(s, setting_.shift_mm, setting_.held_deg);
  shift_text_->setText(tr("shift %1 mm").arg(setting_.shift_mm, 0, 'f', 1));
  shift_text_->setMinimumWidth(110);
  const bool possible = s && workbench().writable();
  store_->setEnabled(possible);
  for (QWidget* part : {static_cast<QWidget*>(best_), static_cast<QWidget*>(ink_apex_),
                        static_cast<QWidget*>(ink_shoulder_)})
    part->setEnabled(s.has_value());
  if (!s) {
    result_->setText(blade()
                         ? tr("This jig cannot give %1 %2: raise the pivot, or lower the abrasive.")
                               .arg(angle_text(setting_.held_deg), convention_text())
                         : tr("Put a blade on the rack first."));
    return;
  }
  const ClampPlacement placement{setting_.shift_mm, 0};
  const auto spread = s->spread(placement);
  const auto lateral = s->lateral_mm(placement);
  if (!spread || !lateral) {
    result_->setText(tr("With this shift a part of the edge is out of the jig's range."));
    return;
  }
  const auto sensitivity = s->sensitivity(s->outline().at(1).x_mm, placement);
  result_->setText(
      tr("%1 to %2 %3 along the edge, range %4. Set the pivot %5 mm out. At the tip 1 mm of shift "
         "makes %6°, 1 mm of pivot height %7°.%8")
          .arg(angle_text(spread->least_deg, 2), angle_text(spread->largest_deg, 2),
               convention_text(), angle_text(spread->range_deg(), 2))
          .arg(std::abs(*lateral), 0, 'f', 1)
          .arg(sensitivity ? sensitivity->per_mm_shift_deg : 0, 0, 'f', 3)
          .arg(sensitivity ? sensitivity->per_mm_height_deg : 0, 0, 'f', 3)
          .arg(model().edge().outline_known
                   ? QString()
                   : tr(" The outline is not set on the Rack: a straight edge is assumed.")));
}

void JigPage::find_best() {
  const auto s = solver();
  if (!s) return;
  const auto best = s->best({-kShiftLimit_mm, kShiftLimit_mm, 0}, ClampSolver::Aim::least_range);
  if (!best) {
    result_->setText(QString::fromStdString(best.refusal().reason));
    return;
  }
  filling_ = true;
  shift_->setValue(int(std::lround(10 * best->placement.shift_mm)));
  filling_ = false;
  change(true);
}

void JigPage::store() {
  const auto s = solver();
  if (!s) return;
  const ClampPlacement placement{setting_.shift_mm, 0};
  const auto spread = s->spread(placement);
  const auto lateral = s->lateral_mm(placement);
  if (!spread || !lateral) return;
  const SettingRecord record{setting_.held_deg,
                             setting_.jig.pivot_x_mm,
                             *lateral,
                             setting_.jig.pivot_height_mm,
                             setting_.jig.offset_mm,
                             setting_.shift_mm,
                             0,
                             spread->range_deg(),
                             ""};
  const int index = model().blade();
  if (workbench().edit([&](ProjectSession& session) {
        session.add_records(std::size_t(index), {record}, "the jig setting");
      }))
    workbench().told(
        tr("The jig setting was stored for %1.").arg(QString::fromStdString(blade()->name)));
}

}  // namespace bq::ui
