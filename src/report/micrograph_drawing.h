#pragma once

#include "report/drawing.h"
#include "trial/micrograph.h"

namespace bq::inline report {

/// A part of a picture, pixels.
struct PicturePart {
  int x = 0, y = 0, width = 0, height = 0;
  bool operator==(const PicturePart&) const = default;
};
/// A picture with what was measured in it.
struct MicrographFigure {
  std::string bytes, kind = "png";  ///< what of the picture is shown, as fine as it is or coarser
  PicturePart part;  ///< which part of the original that is; marks are in the original's pixels
  std::optional<PictureScale> scale;
  struct Mark {
    std::vector<Spot> drawn;  ///< ends of lines, two by two
    bool box = false;         ///< the first two are corners
    std::string label;        ///< "1  12.4 ± 0.3 µm"
  };
  std::vector<Mark> marks;
};

/// Length of a scale bar: 1, 2 or 5 of a decade, at most 0.28 of the picture's width.
double scale_bar_um(double picture_width_um);

/// The picture `width_mm` wide with light lines on dark ones, labels and a scale bar at its lower
/// left; without a scale it says so instead.
Drawing draw_micrograph(const MicrographFigure& figure, double width_mm);

}  // namespace bq::inline report
