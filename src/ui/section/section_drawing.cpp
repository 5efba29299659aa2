#include "ui/section/section_drawing.h"

#include <QClipboard>
#include <QContextMenuEvent>
#include <QFileDialog>
#include <QGuiApplication>
#include <QMenu>
#include <QMessageBox>
#include <QMouseEvent>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgGenerator>
#include <cmath>

#include "ui/theme/theme.h"

namespace bq::ui {

SectionDrawing::SectionDrawing(Workbench& workbench, SectionModel& model, QWidget* parent)
    : QWidget(parent), workbench_(workbench), model_(model) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(360, 300);
  setAccessibleName(tr("Section, to scale"));
  connect(&model_, &SectionModel::study_changed, this, qOverload<>(&QWidget::update));
  connect(&workbench_, &Workbench::display_changed, this, qOverload<>(&QWidget::update));
}

void SectionDrawing::set_lens(double mm) {
  lens_mm_ = std::clamp(mm, kLeastLens_mm, kLargestLens_mm);
  emit lens_changed(lens_mm_);
  update();
}

void SectionDrawing::set_side_by_side(bool on) {
  side_by_side_ = on;
  update();
}

SectionScene SectionDrawing::scene() const {
  SectionScene out;
  out.study = model_.study();
  out.convention = workbench_.display().angles;
  out.lens_mm = lens_mm_;
  out.hot_grind = dragged_ >= 0 ? dragged_
                  : hot_ >= 0 && out.study && hot_ < int(out.study->facets.size())
                      ? out.study->facets[std::size_t(hot_)].made_by
                      : -1;
  out.stress = !side_by_side_;
  if (out.study && !side_by_side_) {
    out.before = &out.study->before;
    // One blade is laid spine on spine; another blade apex on apex.
    out.before_offset_mm = model_.compare() == CompareWith::other_blade
                               ? out.study->section.apex_mm() - out.before->apex_mm()
                               : out.study->section.top_mm() - out.before->top_mm();
  }
  if (side_by_side_) out.title = tr("as worked on");
  return out;
}

QRectF SectionDrawing::main_box() const {
  const QRectF all = QRectF(rect());
  return side_by_side_ ? QRectF(all.center().x() + 4, 0, all.width() / 2 - 4, all.height()) : all;
}

void SectionDrawing::draw(QPainter& painter, const QRectF& box) const {
  const Theme& t = theme();
  if (!model_.study()) {
    painter.fillRect(box, t.panel);
    painter.setPen(t.quiet);
    painter.setFont(font_of(15));
    painter.drawText(box.adjusted(40, 40, -40, -40), Qt::AlignCenter | Qt::TextWordWrap,
                     model_.blade() < 0
                         ? tr("Put a blade on the rack first; its section is drawn here.")
                         : model_.refusal());
    return;
  }
  if (!side_by_side_) {
    paint_section(painter, box, scene());
    return;
  }
  const QRectF right(box.center().x() + 4, box.top(), box.width() / 2 - 4, box.height());
  paint_section(painter, right, scene());
  if (const SectionStudy* before = model_.before_study()) {
    SectionScene other = scene();
    other.study = before;
    other.hot_grind = -1;
    other.title = model_.before_name();
    paint_section(painter, QRectF(box.left(), box.top(), box.width() / 2 - 4, box.height()), other);
  }
}

void SectionDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  draw(painter, QRectF(rect()));
  if (hasFocus()) {
    painter.setPen(QPen(theme().ochre, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
  }
}

void SectionDrawing::wheelEvent(QWheelEvent* event) {
  set_lens(lens_mm_ * std::pow(1.0015, -event->angleDelta().y()));
  event->accept();
}

void SectionDrawing::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
      set_lens(lens_mm_ / 1.5);
      break;
    case Qt::Key_Minus:
      set_lens(lens_mm_ * 1.5);
      break;
    default:
      QWidget::keyPressEvent(event);
  }
}

void SectionDrawing::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const int facet =
      event->button() == Qt::LeftButton ? facet_at(main_box(), scene(), event->position()) : -1;
  if (facet < 0 || !workbench_.writable() || !model_.refusal().isEmpty()) return;
  const Facet& f = model_.study()->facets[std::size_t(facet)];
  if (f.made_by >= int(model_.plan().grinds.size())) return;
  dragged_ = f.made_by;
  dragged_side_ = f.side;
  pivot_h_mm_ = model_.study()->section.apex_mm() + f.from_um / 1000;
  pivot_y_mm_ = model_.study()->section.half_mm(f.side, pivot_h_mm_);
  drag_frame_.emplace(main_box(), scene());
  update();
}

void SectionDrawing::drag_to(QPointF place) {
  const SectionFrame& frame = *drag_frame_;
  const double dh = frame.h_of(place.y()) - pivot_h_mm_,
               outward = dragged_side_ == EdgeSide::left ? -1 : 1,
               dy = outward * frame.y_of(place.x()) - pivot_y_mm_;
  if (dh * frame.px_per_mm() < 8) return;  // too close to the pivot to tell an angle
  const double angle = std::clamp(std::round(degrees(std::atan2(dy, dh)) * 10) / 10, 0.5, 79.0);
  SectionPlan plan = model_.plan();
  Grind& grind = plan.grinds[std::size_t(dragged_)];
  const bool right_own =
      grind.side == GrindSide::both && grind.angle_right_deg && dragged_side_ == EdgeSide::right;
  double& target = right_own ? *grind.angle_right_deg : grind.angle_deg;
  // A convex face turns as a whole: its chord follows the hand.
  const double chord = grind.to_deg ? 0.5 * (target + *grind.to_deg) : target;
  const double moved = angle - chord;
  if (target + moved <= 0.1 || (grind.to_deg && *grind.to_deg + moved >= 80)) return;
  target += moved;
  if (grind.to_deg) *grind.to_deg += moved;
  model_.set_plan(plan, false);
}

void SectionDrawing::mouseMoveEvent(QMouseEvent* event) {
  if (dragged_ >= 0) {
    drag_to(event->position());
    return;
  }
  const int facet = facet_at(main_box(), scene(), event->position());
  if (facet != hot_) {
    hot_ = facet;
    setCursor(facet >= 0 ? Qt::SizeHorCursor : Qt::ArrowCursor);
    update();
  }
}

void SectionDrawing::mouseReleaseEvent(QMouseEvent*) {
  if (dragged_ < 0) return;
  dragged_ = -1;
  model_.set_plan(model_.plan(), true);
  update();
}

void SectionDrawing::leaveEvent(QEvent*) {
  hot_ = -1;
  update();
}

QPointF SectionDrawing::handle_of(int grind, EdgeSide side) const {
  const SectionStudy* study = model_.study();
  if (!study) return {};
  const SectionFrame frame(main_box(), scene());
  for (const auto& facet : study->facets)
    if (facet.made_by == grind && facet.side == side) {
      const double top = std::min(facet.to_um / 1000, 0.9 * lens_mm_);
      const double h = study->section.apex_mm() + 0.5 * (facet.from_um / 1000 + top);
      const double y = study->section.half_mm(side, h);
      return frame.at(side == EdgeSide::left ? -y : y, h);
    }
  return {};
}

void SectionDrawing::copy() {
  QPixmap picture(size() * 2);
  picture.setDevicePixelRatio(2);
  QPainter painter(&picture);
  draw(painter, QRectF(rect()));
  painter.end();
  QGuiApplication::clipboard()->setPixmap(picture);
}

bool SectionDrawing::save(const QString& path) {
  if (path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive)) {
    QSvgGenerator generator;
    generator.setFileName(path);
    generator.setSize(size());
    generator.setViewBox(rect());
    QPainter painter;
    if (!painter.begin(&generator)) return false;
    draw(painter, QRectF(rect()));
    return painter.end();
  }
  if (path.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive)) {
    QPdfWriter writer(path);
    writer.setPageSize(QPageSize(QSizeF(size()) * 0.75, QPageSize::Point));
    writer.setPageMargins({0, 0, 0, 0});
    QPainter painter;
    if (!painter.begin(&writer)) return false;
    painter.scale(double(writer.width()) / width(), double(writer.height()) / height());
    draw(painter, QRectF(rect()));
    return painter.end();
  }
  QPixmap picture(size() * 2);
  picture.setDevicePixelRatio(2);
  QPainter painter(&picture);
  draw(painter, QRectF(rect()));
  painter.end();
  return picture.save(path);
}

void SectionDrawing::contextMenuEvent(QContextMenuEvent* event) {
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(tr("Copy picture"), this, &SectionDrawing::copy);
  menu->addAction(tr("Save picture…"), this, [this] {
    const QString path =
        QFileDialog::getSaveFileName(this, tr("Save picture"), QStringLiteral("section.svg"),
                                     tr("Pictures (*.svg *.png *.pdf)"));
    if (!path.isEmpty() && !save(path))
      QMessageBox::warning(this, tr("Not saved"),
                           tr("The picture could not be written to %1.").arg(path));
  });
  menu->popup(event->globalPos());
}

}  // namespace bq::ui
