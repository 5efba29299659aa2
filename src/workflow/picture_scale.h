#pragma once

#include <optional>
#include <set>
#include <string>
#include <vector>

#include "lens/scale_mark.h"
#include "quantity/checked.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// Scale of a picture from known lengths that were shown in it. The value is the mean of µm over
/// px, weighed by the readings' own errors; its standard error is the larger of what those errors
/// give and of the readings' scatter. Where lengths along the rows and along the columns, or in the
/// middle and at the rim (beyond two thirds of the way out), differ by more than twice their errors
/// and 0.3 %, the picture is distorted: half the difference goes into the error, and `how` says so.
/// Refused: none, a length not above 0, one under 10 px, a scale no microscope has, readings that
/// differ by more than a tenth (one of them was of another length).
Checked<PictureScale> scale_from(const std::vector<ScaleReading>& readings, int width, int height,
                                 const std::string& what);

/// Two points that were shown as the ends of a known length.
struct ShownLength {
  ScaleReading reading;                ///< its `um` is not known yet
  std::optional<ScaleMarkKind> found;  ///< what was found there; else as a hand showed it
  std::string why_not;                 ///< where it was looked for in vain
};
/// With `snap` the bar or the ruler's lines there (find_scale_mark, six pixels of the screen
/// around), else, and where there are none, the points within a pixel of the screen each.
ShownLength shown_length(const GreyImage& image, Spot from, Spot to, double px_per_screen_px,
                         bool snap);

/// Why readings of one picture do not agree: the pixel is not square, or the rim is drawn in.
struct Distortion {
  std::string words;          ///< "lengths along the rows and along the columns differ by 2 %"; ""
  double relative_error = 0;  ///< half the differences, over the scale
};
Distortion distortion_of(const std::vector<ScaleReading>& readings, int width, int height);

/// One instrument and magnification, and pictures of one size; of scales and pictures alike.
template <typename One, typename Other>
bool same_optics(const One& one, const Other& other) {
  return !one.magnification.empty() && one.magnification == other.magnification &&
         one.instrument == other.instrument;
}
template <typename One, typename Other>
bool same_size(const One& one, const Other& other) {
  return one.width == other.width && one.height == other.height;
}
/// Names of instruments and magnifications that a trial's scales and pictures have, none empty.
struct OpticsNames {
  std::set<std::string> instruments, magnifications;
};
OpticsNames optics_names(const Trial& trial);

/// Its own scale, else that of its instrument, magnification and size; empty: the picture can be
/// looked at, not measured. A scale that was kept before sizes were is used only where all pictures
/// of its magnification have one size.
std::optional<PictureScale> scale_of(const Trial& trial, const Micrograph& micrograph);
/// Why a picture with a magnification has no scale, in words for the tester; "" where it has one,
/// or no scale is known for that magnification at all.
std::string why_no_scale(const Trial& trial, const Micrograph& micrograph);

/// Pictures beside the one in hand that a new scale of its instrument, magnification and
/// size would change.
struct ScaleReach {
  std::vector<std::int64_t> others;  ///< they have another value by their magnification now
  int measures = 0;                  ///< in them
  double factor = 1;                 ///< the new value over the old one
};
ScaleReach reach_of(const Trial& trial, const Micrograph& micrograph, const PictureScale& scale);

}  // namespace bq::inline workflow
