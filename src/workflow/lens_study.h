#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/evidence_key.h"
#include "quantity/angle.h"
#include "report/micrograph_drawing.h"
#include "trial/trial.h"

namespace bq::inline workflow {

/// One taking of a measure between (or along) two shown points. `snap`: ends go to the nearest
/// edges; else they stay where the hand put them, with a pixel of error each. Chips, scratches and
/// straightness cannot be taken by hand alone but for a chip's width. Refused in plain words.
Checked<LensTake> take_measure(const GreyImage& image, LensMeasureKind kind, Spot from, Spot to,
                               bool snap, bool box = false);

/// Scale of a picture from a length that was shown in it; the points count as within half a pixel
/// each (snapped) or one. Refused: no length, or less than 10 px.
Checked<PictureScale> scale_from(Spot from, Spot to, double um, bool snapped,
                                 const std::string& what);
/// Its own scale, else its magnification's; empty: the picture can be looked at, not measured.
std::optional<PictureScale> scale_of(const Trial& trial, const Micrograph& micrograph);

/// A measure in µm with its 95 % half-width from the scale and from the repeats.
struct LensValue {
  double value = 0, plus_minus = 0;  ///< µm
  std::optional<double> second,
      second_plus_minus;  ///< chip: depth, µm; scratches: direction, degrees
  int takes = 0;
  double repeat_um = 0;  ///< SD of the takes; 0 with one
};
/// Mean of the takes. Standard error: that of one taking and the takes' SD, both over √takes, and
/// the scale's; times 1.96, from three takes on times t(takes − 1) where that gives more.
LensValue value_of(const LensMeasure& measure, const PictureScale& scale);
/// "12.4 ± 0.3 µm", with depth or direction.
std::string print_value(LensMeasureKind kind, const LensValue& value);

/// Bevel angle from the width of the bevel as seen and the thickness behind the edge (at the
/// shoulder), against the log.
struct LensAngle {
  double angle_deg = 0, plus_minus_deg = 0;  ///< per side
  std::optional<double> logged_deg, logged_plus_minus_deg;
  std::string sentence;
};
/// Symmetric edge: θ = asin(t / 2b) with the bevel seen square to its face; θ = atan(t / 2b′) with
/// the blade's side seen square (b′ = b·cos θ). Errors to first order. The log: readings of that
/// side within 2 mm of the place, else the side's mean, else the run's geometry. Refused: no
/// thickness, an angle outside (0°, 80°).
Checked<LensAngle> angle_from_picture(const Trial& trial, const Micrograph& micrograph,
                                      const LensValue& bevel, double thickness_mm,
                                      double thickness_error_mm, bool square_to_bevel,
                                      AngleConvention convention);

/// Pictures of one place over the cuts, the given one among them: indices into trial.micrographs.
std::vector<std::size_t> pictures_of_place(const Trial& trial, const Micrograph& micrograph);

/// A damage suggestion as a look at the edge. `at_mm` the picture's place.
LookEvent look_of(const Micrograph& micrograph, const HintAnswer& hint, const PictureScale& scale);

/// What the edge-condition key may take from a picture: what the apex looks like by its chips,
/// rolls and straight line, and that it has been cutting. Only what the measures say; the rest is
/// for the tester.
Observations observations_of(const Micrograph& micrograph);

/// Measured pictures of edges that go into the report, the newest first, at most `most`.
std::vector<const Micrograph*> report_pictures(const Trial& trial, std::size_t most = 12);
/// A picture with its measures; `bytes`: the picture itself or a smaller one of it.
MicrographFigure figure_of(const Trial& trial, const Micrograph& micrograph,
                           const std::string& bytes, const std::string& kind = "png");
/// "12.4 ± 0.3 µm", or in pixels where there is no scale.
std::string print_measure(const LensMeasure& measure, const std::optional<PictureScale>& scale);

/// Widths and depths measured in pictures of a blade or run, newest first: "chip 24 ± 1 µm, depth 9
/// µm (name)".
struct LensOffer {
  std::string words;
  LookEvent look;
};
std::vector<LensOffer> damage_offers(const Trial& trial, const std::string& blade,
                                     const std::string& run);

}  // namespace bq::inline workflow
