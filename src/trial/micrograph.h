#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "edge/grind.h"
#include "lens/damage_finder.h"
#include "lens/edge_along.h"
#include "lens/registration.h"
#include "lens/scratch_spectrum.h"

namespace bq::inline trial {

/// What is measured in a picture of an edge.
enum class LensMeasureKind {
  bevel_width,
  micro_bevel_width,
  burr_height,
  roll_width,
  chip,
  scratches,
  apex_line
};
inline constexpr int kLensMeasures = 7;
std::string_view name_of(
    LensMeasureKind kind);  ///< "bevel width", …, "scratch spacing", "apex straightness"
std::optional<LensMeasureKind> parse_lens_measure(std::string_view text);
/// What the second figure of a kind is: "depth" (chip), "direction" (scratches); "" none.
std::string_view second_of(LensMeasureKind kind);

/// One taking of a measure. Lengths in pixels of the picture, directions in degrees.
struct LensTake {
  std::vector<Spot> points;  ///< as they were shown, two of them; scratches in a box: its corners
  bool box = false;          ///< scratches: the points are corners, not a line
  bool snapped = true;  ///< ends were found by the gradient; else they are where the hand put them
  double value_px = 0;
  double error_px = 0;  ///< standard error: what a repeat averages
  double common_px =
      0;  ///< standard error that repeats share: softness, rounding, the finder's own
  std::optional<double> second;  ///< chip: depth (px); scratches: direction (degrees)
  double second_error = 0, second_common = 0;
  double soft_px = 0;  ///< 10 to 90 % width of what was measured at; 0: not known
  double streaks = 0;  ///< scratches: share of deep ones
  std::optional<CrossingScratches> crossing;  ///< of a crosshatch
  std::vector<Spot> drawn;  ///< what was found, to be drawn: ends of lines, two by two
  bool operator==(const LensTake&) const = default;
};

/// One thing in a picture, measured once or again and again.
struct LensMeasure {
  LensMeasureKind kind = LensMeasureKind::bevel_width;
  std::vector<LensTake> takes;
  std::string note;
  bool operator==(const LensMeasure&) const = default;
};

/// A known length that was shown in a picture.
struct ScaleReading {
  Spot from, to;
  double um = 0;
  double px = 0, error_px = 0;  ///< its length and the standard error of that
  bool operator==(const ScaleReading&) const = default;
};
/// Length of a pixel.
struct PictureScale {
  double um_per_px = 0;                ///< 0.001 to 1000
  double relative_error = 0;           ///< standard error over the value
  std::string how;                     ///< "100 µm between two points, 400.2 px"
  std::vector<ScaleReading> readings;  ///< it was made from; empty: one, as `how` says
  bool operator==(const PictureScale&) const = default;
};
/// The scale of all pictures that one instrument takes with one magnification at one size.
struct MagnificationScale {
  std::string magnification;
  PictureScale scale;
  std::string made_at;
  std::string instrument = {};  ///< "" the only one
  int width = 0, height = 0;    ///< of the pictures; 0: from a file that did not keep it
  bool operator==(const MagnificationScale&) const = default;
};

/// This picture laid over another one of the same place.
struct SamePlace {
  std::int64_t other = 0;                    ///< the picture it is compared with
  std::vector<std::pair<Spot, Spot>> marks;  ///< here, there
  Similarity map;                            ///< from here into the other
  double residual_px = 0;
  std::string doubt = {};  ///< why it may be more than 2 px off somewhere; "" it is not
  bool operator==(const SamePlace&) const = default;
};

/// How far the apex fell back since another picture of the place, from both laid over each other.
struct StretchRecession {
  std::int64_t since = 0;  ///< the earlier picture, whose pixels the figures are in
  double mean_px = 0, mean_error_px = 0, most_px = 0, most_error_px = 0;
  double length_px = 0;
  std::vector<double> depth_px;  ///< evenly along the stretch
  bool operator==(const StretchRecession&) const = default;
};
/// What the apex of a picture shows along its length; pixels, standard errors.
struct EdgeStretch {
  Spot from, to;  ///< the ends of what was followed
  double length_px = 0;
  std::vector<std::pair<double, double>> chips;  ///< width, depth
  double wander_px = 0, wander_error_px = 0;     ///< of the sound apex, root mean square
  double belly_px = 0, chipped_share = 0, soft_px = 0;
  std::vector<double> depth_px;  ///< evenly along the stretch
  std::optional<StretchRecession> recession;
  double cutoff_px = 0;  ///< parts waves from raggedness; 0: measured before they were parted
  double wavy_px = 0, wavy_error_px = 0;
  std::optional<double> ragged_px;  ///< empty: the picture is too soft or too coarse for it
  double ragged_error_px = 0;
  std::optional<BrightBand> burr;  ///< that stands: what was followed is its ragged rim
  std::optional<BrightBand> band;  ///< worn apex, roll, or a burr that lies over
  bool operator==(const EdgeStretch&) const = default;
};

/// What the tester said to a suggestion of the damage finder.
struct HintAnswer {
  ApexDamage kind = ApexDamage::chip;
  Spot at;
  double length_px = 0, size_px = 0;
  bool accepted = false;
  double length_error_px = 0, size_error_px = 0;  ///< standard errors; 0: not known
  bool operator==(const HintAnswer&) const = default;
};

/// A picture of an edge (or of a stone's scratches) and what is known and measured of it. The
/// file's bytes lie in the project; `id` is their row.
struct Micrograph {
  std::int64_t id = 0;
  std::string name;  ///< of the file it came from
  std::string kind;  ///< "png", "jpeg", "tiff", "bmp"
  int width = 0, height = 0;
  std::int64_t size = 0;             ///< bytes of the file
  std::string sha256;                ///< of the file, hexadecimal
  std::string made_at;               ///< brought in, UTC
  std::string taken_at;              ///< EXIF, else the file's time; "" not known
  std::string blade, run;            ///< names; "" none
  std::optional<std::int64_t> cuts;  ///< of the run when it was taken
  std::optional<EdgeSide> side;
  std::optional<double> at_mm;  ///< place from the heel
  std::string mark;             ///< reference mark in words: "scribed cross 2"
  std::string magnification;    ///< "20x"; pictures of one magnification and size share its scale
  std::string instrument;       ///< which microscope or camera; "" the only one
  std::string stone;            ///< a sample piece scratched by this abrasive; "" an edge
  std::string note;
  std::optional<PictureScale> scale;  ///< its own; wins over its magnification's
  std::vector<LensMeasure> measures;
  std::vector<SamePlace> laid_over;
  std::vector<HintAnswer> hints;
  std::optional<EdgeStretch> along;  ///< measured along the apex
  bool other_side = false;           ///< the blade lies on the other side than its brightness says
  bool operator==(const Micrograph&) const = default;
};

/// Gives scales from a file that did not keep sizes the size of the picture they were made in (by
/// its name in `how`), else the one that most pictures of that magnification have.
void give_sizes(std::vector<MagnificationScale>& scales, const std::vector<Micrograph>& pictures);

/// "chips.png, run C07 after 150 cuts, left, 40 mm from the heel"
std::string describe(const Micrograph& micrograph);
/// Taken of the same place: same blade (or run), side, place within half a millimetre and reference
/// mark.
bool same_place(const Micrograph& one, const Micrograph& other);

}  // namespace bq::inline trial
