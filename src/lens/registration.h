#pragma once

#include <functional>
#include <string>
#include <utility>
#include <vector>

#include "lens/grey_image.h"

namespace bq::inline lens {

/// Shift, rotation and scale: where a point of one picture lies in another.
struct Similarity {
  double a = 1, b = 0;    ///< scale·cos, scale·sin of the turn
  double dx = 0, dy = 0;  ///< px
  [[nodiscard]] Spot map(Spot p) const { return {a * p.x - b * p.y + dx, b * p.x + a * p.y + dy}; }
  [[nodiscard]] double scale() const;
  [[nodiscard]] double turn_deg() const;
  [[nodiscard]] Similarity inverse() const;
  bool operator==(const Similarity&) const = default;
};

/// Least squares over pairs (Umeyama 1991, without reflection; exact for two). Refused: fewer than
/// two pairs, or points that lie within 8 px.
Checked<Similarity> similarity_of(const std::vector<std::pair<Spot, Spot>>& pairs);

struct Registration {
  Similarity map;                            ///< from the first picture into the second
  std::vector<std::pair<Spot, Spot>> marks;  ///< the second ones as they were found
  std::vector<bool> matched;                 ///< found by its surroundings; else as it was shown
  double residual_px = 0;  ///< root mean square of the marks about the map; 0 with two marks, which
                           ///< leave nothing over
  std::string doubt;  ///< why it may be more than 2 px off somewhere, in plain words; "" it is not
};
/// Two to eight marks shown in both pictures, each within about 8 px. Their surroundings (69, then
/// twice 41 px wide) are looked for again within 12, then 4 px of where the map puts them
/// (normalised cross-correlation, a parabola between pixels). A mark whose surroundings agree less
/// than 0.5 stays as it was shown. On simulated pictures right within 1 px over the whole picture.
Checked<Registration> register_pictures(const GreyImage& first, const GreyImage& second,
                                        const std::vector<std::pair<Spot, Spot>>& marks);

/// The second picture's brightness minus the first's, in the first's frame: 128 where they agree,
/// lighter where the second is. Slow differences of light are taken out (means over 64 px). Outside
/// the second picture 128. `stop` is asked after every row.
GreyImage difference_of(const GreyImage& first, const GreyImage& second, const Similarity& map,
                        const std::function<bool()>& stop = {});

}  // namespace bq::inline lens
