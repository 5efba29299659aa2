#pragma once

#include <vector>

#include "lens/grey_image.h"
#include "stats/random.h"

namespace bq {

inline double between(stats::Random& random, double low, double high) {
  return low + (high - low) * random.uniform();
}

/// A notch in the apex of OtherScene; pixels.
struct OtherNotch {
  double at = 0;  ///< its middle along the edge, from the picture's middle
  double length = 0, depth = 0;
  bool pointed = false;  ///< straight walls that meet, else a parabola
};

/// A bright band just behind the apex; pixels.
struct OtherBand {
  double from = 0, to = 0;  ///< along the edge, from the picture's middle
  double wide = 0;          ///< its width; it swells and thins by `uneven` of that
  double uneven = 0, bright = 235;
};

/// A second maker of pictures, which shares nothing with rehearsal/virtual_microscope: other
/// scratches, other light, other faults. The edge runs through the picture's middle; `u` along it,
/// `v` into the blade, both in pixels from there.
struct OtherScene {
  int width = 800, height = 600;
  double turn_deg = 0;    ///< of the edge in the picture, any
  double bevel = 220;     ///< apex to shoulder
  double apex_at = -120;  ///< v of the apex in the picture's middle
  double sag = 0;         ///< belly: how far the apex falls back 400 px from the middle
  double soft = 0.8;      ///< SD of the blur
  double soft_far = 0;    ///< blur at the picture's left end; grows evenly to the right end
  double round = 0;       ///< shoulder and apex pass over so many pixels (10 to 90 %)
  double skew = 1;        ///< brightness over the rounding to this power: not the same both ways
  double ground = 40, face = 150, body = 90;  ///< grey levels outside, of the bevel, behind it
  double grain = 9;                           ///< px between scratches
  double scratch = 14;                        ///< grey levels
  double lay_deg = 70;                        ///< of the scratches from the edge
  double bands = 0;                           ///< specular bands along the edge, grey levels
  double fall = 0.1;  ///< light falls by this share from one corner to the other
  double noise = 3;   ///< SD, grey levels
  int jpeg = 0;       ///< quality 1 … 100; 0: none
  int dust = 0, fibres = 0, oil = 0;
  double wave = 0, wave_px = 200;   ///< the apex swings so far to either side, over so many px
  double rough = 0, rough_px = 12;  ///< and is ragged besides: noise at knots so far apart
  std::vector<OtherNotch> notches;
  std::vector<OtherBand> bands_behind;
  double burr = 0, burr_bright = 200;  ///< mean height of a burr that stands, px, and its grey
  std::vector<Spot> pits;              ///< u, v behind the apex: dark specks 5 px across the middle
  std::uint64_t seed = 1;
};

struct OtherPicture {
  GreyImage image;
  Spot along, inward, middle;
  double apex_at = 0, sag = 0;
  /// The place `u` along and `v` px behind the apex.
  [[nodiscard]] Spot place(double u, double v) const {
    return middle + u * along + (apex_at + sag * (u / 400) * (u / 400) + v) * inward;
  }
};
OtherPicture other_picture(const OtherScene& scene);
/// How far the sound apex lies behind its line (or belly) at `u`; the width of a band there.
double other_unevenness(const OtherScene& scene, double u);
double other_burr_height(const OtherScene& scene, double u);
double other_band_width(const OtherBand& band, double u);

/// What is put on a picture as its scale; plate: a thick bar on a dark plate of its own, beyond
/// which the picture goes on.
enum class BarKind { thick, plate, thin, arrows, ends, ruler };
struct OtherBar {
  BarKind kind = BarKind::thick;
  Spot from;            ///< its left end, outermost pixel edge
  double length = 200;  ///< px from outer end to outer end; ruler: between the first and last
                        ///< lines' middles
  double turn_deg = 0;
  double line = 3;  ///< px thick; ruler: its lines
  double bright = 235;
  double soft = 0;  ///< SD of its blur
};
/// Draws it; the picture may be any.
void draw_bar(GreyImage& image, const OtherBar& bar);

/// A picture of nothing but scratches with about `spacing` px between them, in one direction or
/// crossed by a second one.
GreyImage other_scratches(int width, int height, double spacing, double lay_deg, double contrast,
                          double noise, double soft, std::uint64_t seed, bool crossed = false);

}  // namespace bq
