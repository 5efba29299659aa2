#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/evidence_key.h"
#include "quantity/angle.h"
#include "trial/trial.h"
#include "workflow/picture_scale.h"

namespace bq::inline workflow {

/// How a measure is taken.
struct LensHand {
  bool snap = true;  ///< ends go to the nearest edges; else they stay where the hand put them
  bool box = false;  ///< scratches: the points are corners of a box, not ends of a line
  bool other_side =
      false;  ///< the blade lies on the other side of the apex than is found by itself
  double px_per_screen_px = 1;  ///< of the view it was shown in: a hand is sure to a pixel of the
                                ///< screen, and what is looked for may lie that much farther away
};

/// trace_apex; with `other_side` the blade is what would be taken for the ground.
Checked<ApexTrace> trace_blade(const GreyImage& image, Spot from, Spot to, double reach_px,
                               bool other_side);

/// One taking of a measure between (or along) two shown points. By hand each end counts as within
/// a screen pixel (standard error). Chips, scratches and straightness cannot be taken by hand alone
/// but for a chip's width. Refused in plain words, too where the picture is too soft for a claim.
Checked<LensTake> take_measure(const GreyImage& image, LensMeasureKind kind, Spot from, Spot to,
                               const LensHand& hand = {});

/// A measure in µm with its 95 % half-width from the scale and from the repeats.
struct LensValue {
  double value = 0, plus_minus = 0;  ///< µm
  std::optional<double> second,
      second_plus_minus;           ///< chip: depth, µm; scratches: direction, degrees
  std::optional<double> crossing;  ///< crosshatch: spacing of the weaker direction, µm
  double crossing_plus_minus = 0, crossing_deg = 0;
  int takes = 0;
  double repeat_um = 0;  ///< SD of the takes; 0 with one
};
/// Mean of the takes. Standard error: that of one taking and the takes' SD, both over √takes; the
/// part that takes share (their mean) and the scale's, which no number of takes makes smaller;
/// times 1.96, from three takes on times t(takes − 1) for the first part where that gives more.
LensValue value_of(const LensMeasure& measure, const PictureScale& scale);
/// "12.4 ± 0.3 µm", with depth or direction.
std::string print_value(LensMeasureKind kind, const LensValue& value);

/// The apex followed through the whole picture (find_apex, trace_blade). Refused in plain words.
Checked<ApexTrace> trace_whole(const GreyImage& image, bool other_side);
/// What it shows along its length; `um_per_px` chooses the wavelength that parts waves from
/// raggedness, 0: not known. Refused as trace_whole.
Checked<EdgeStretch> stretch_along(const GreyImage& image, bool other_side, double um_per_px);
/// The same of `later`, with how far its apex fell back since `earlier`, which it is laid over by
/// `laid`. The error of
/// the laying is that of its marks, and at least a pixel where two marks leave nothing over to
/// judge it by. Refused in plain words.
Checked<EdgeStretch> stretch_since(const GreyImage& earlier, const GreyImage& later,
                                   const SamePlace& laid, bool other_side, double um_per_px);
/// The picture that its recession is reckoned from; nullptr where there is none.
const Micrograph* since_of(const Trial& trial, const Micrograph& micrograph);
/// What a stretch shows, in figures with units: chips per millimetre (exact Poisson interval),
/// widths and depths of the chips, wander, waves and raggedness, bright band, belly, recession and
/// lost area with ± 95 %.
struct SpreadAlong {
  double percent = 0;  ///< of the length that has it
  LensValue mean, most;
  double median_um = 0, ninth_um = 0;
};
struct StretchValues {
  double length_um = 0;
  int chips = 0;
  double per_mm = 0, per_mm_low = 0, per_mm_high = 0;
  double median_width_um = 0, widest_um = 0, deepest_um = 0, chipped_percent = 0;
  LensValue wander;
  double cutoff_um = 0;                   ///< parts the next two
  std::optional<LensValue> wavy, ragged;  ///< root mean squares
  std::optional<SpreadAlong> burr, band;  ///< heights of a burr that stands, widths of a band
  double belly_um = 0;
  std::optional<LensValue> receded, receded_most;  ///< mean over the stretch, and at its worst
  double lost_um2 = 0, lost_plus_minus_um2 = 0;
};
/// Empty where nothing was measured along it, or it has no scale.
std::optional<StretchValues> stretch_values(const Trial& trial, const Micrograph& micrograph);
/// The same as sentences, one a line.
std::vector<std::string> words_of(const StretchValues& values);

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

/// "chip?  12.4 ± 0.8 µm long, how deep is not sure"; pixels without a scale.
std::string print_hint(const DamageHint& hint, const std::optional<PictureScale>& scale);

/// A damage suggestion as a look at the edge; a size only where it is sure to half of itself.
/// `at_mm` the picture's place.
LookEvent look_of(const Micrograph& micrograph, const HintAnswer& hint, const PictureScale& scale);

/// What the edge-condition key may take from a picture: what the apex looks like by its chips,
/// rolls and straight line, and that it has been cutting. Only what the measures say; the rest is
/// for the tester.
Observations observations_of(const Micrograph& micrograph);

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
