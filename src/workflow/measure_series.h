#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "trial/trial.h"
#include "workflow/lens_study.h"

namespace bq::inline workflow {

/// Where the apex lies in a picture: the sound apex as a line.
struct ApexFrame {
  Spot at;             ///< the place on it nearest to the picture's middle
  Spot along, inward;  ///< unit vectors; along points to the right (or down)
  bool operator==(const ApexFrame&) const = default;
};
/// Empty where no apex goes through the picture.
std::optional<ApexFrame> apex_frame(const GreyImage& image, bool other_side);

/// What is to be measured in every picture of a series, as it was shown in one of them.
struct MeasureTemplate {
  struct Item {
    LensMeasureKind kind = LensMeasureKind::bevel_width;
    Spot from, to;  ///< px of the picture it was shown in
    bool box = false;
    std::string note;
    bool operator==(const Item&) const = default;
  };
  std::string name;           ///< of that picture
  int width = 0, height = 0;  ///< px
  double um_per_px = 0;       ///< 0: it has no scale
  std::optional<ApexFrame> apex;
  bool along = false;  ///< measure along the apex too
  std::vector<Item> items;
  bool operator==(const MeasureTemplate&) const = default;
};
/// The measures of a picture (their last taking) as a template. Refused: nothing in it was measured
/// by snapping, for a series cannot repeat a hand.
Checked<MeasureTemplate> template_of(const Trial& trial, const Micrograph& micrograph,
                                     const GreyImage& image);
/// JSON: {"like", "size", "um_per_px", "apex", "along", "measures": [{"kind", "points", …}]}.
std::string template_json(const MeasureTemplate& wanted);
/// Refused with the path of what is wrong.
Checked<MeasureTemplate> parse_template(std::string_view json);

/// What came of a template in one picture.
struct SeriesPicture {
  std::int64_t id = 0;
  struct Found {
    LensMeasureKind kind = LensMeasureKind::bevel_width;
    std::string note;
    std::optional<LensTake> take;
    std::string why_not;  ///< where there is none: in plain words
    bool known = false;   ///< there is none, for it was measured there already
  };
  std::vector<Found> measures;  ///< one an item
  std::optional<EdgeStretch> along;
  std::string why_not_along;
  bool known_along = false;
};
/// Measures one picture as the template says. Places are carried over by the apex of both pictures
/// (as far along it from the middle, as far behind it, in µm where both have a scale); where one
/// shows no apex, by pixels between pictures of one size. What was measured there already is left
/// as it is and said so. For workers: about 0.1 s a picture.
SeriesPicture measure_like(const MeasureTemplate& wanted, const Trial& trial,
                           const Micrograph& micrograph, const GreyImage& image);
/// The picture with what was found in it.
Micrograph with_series(Micrograph micrograph, const SeriesPicture& found);

}  // namespace bq::inline workflow
