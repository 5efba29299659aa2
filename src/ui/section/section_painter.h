#pragma once

#include <QRectF>
#include <QString>
#include <vector>

#include "quantity/angle.h"
#include "workflow/section_study.h"

class QPainter;

namespace bq::ui {

/// What a picture of a section shows.
struct SectionScene {
  const SectionStudy* study = nullptr;
  const Section* before = nullptr;  ///< hatched where metal went; may be null
  double before_offset_mm = 0;      ///< added to its h to lie in the same frame
  QString title;                    ///< over the picture, when several stand side by side
  AngleConvention convention = AngleConvention::per_side;
  double lens_mm = 20;  ///< height of blade in the picture
  int hot_grind = -1;   ///< the facet under the hand
  bool stress = true;   ///< the band at the right
};

/// Places of a picture in pixels; the same for painting and for the mouse.
class SectionFrame {
 public:
  SectionFrame(const QRectF& box, const SectionScene& scene);
  [[nodiscard]] QPointF at(double y_mm, double h_mm) const;  ///< h of the blank
  [[nodiscard]] double h_of(double y_px) const;
  [[nodiscard]] double y_of(double x_px) const;
  [[nodiscard]] const QRectF& drawing() const { return drawing_; }
  [[nodiscard]] const QRectF& band() const { return band_; }
  [[nodiscard]] double px_per_mm() const { return scale_; }

 private:
  QRectF drawing_, band_;
  QPointF apex_;
  double apex_h_ = 0, scale_ = 1;
  double middle_ = 0;  ///< what stands in the middle of the picture, mm right of the centre plane
};

/// Draws the section to scale, with the metal removed hatched, callouts that keep clear of each
/// other, a scale bar and the stress as a band.
void paint_section(QPainter& painter, const QRectF& box, const SectionScene& scene);

/// The facet whose face passes within a few pixels of a place: its index in study->facets, or -1.
int facet_at(const QRectF& box, const SectionScene& scene, QPointF place);

/// "12.0 mm", "976 µm": a length with the unit that suits it.
QString length_text(double mm);

}  // namespace bq::ui
