#include "workflow/picture_scale.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline workflow {
namespace {

/// Mean of µm over px and its standard error, of some of the readings.
struct MeanScale {
  double value = 0, error = 0;
  int readings = 0;
};

template <typename Wanted>
MeanScale scale_of_readings(const std::vector<ScaleReading>& readings, const Wanted& wanted) {
  MeanScale out;
  double weights = 0, sum = 0, squares = 0;
  for (const auto& r : readings)
    if (wanted(r)) {
      const double value = r.um / r.px, error = value * std::max(r.error_px, 0.05) / r.px;
      weights += 1 / (error * error);
      sum += value / (error * error);
      ++out.readings;
    }
  if (out.readings == 0) return out;
  out.value = sum / weights;
  for (const auto& r : readings)
    if (wanted(r)) squares += std::pow(r.um / r.px - out.value, 2);
  const double scatter =
      out.readings > 1 ? std::sqrt(squares / (out.readings - 1) / out.readings) : 0;
  out.error = std::max(1 / std::sqrt(weights), scatter);
  return out;
}

bool sizes_agree(const Trial& trial, const Micrograph& one) {
  return std::all_of(trial.micrographs.begin(), trial.micrographs.end(), [&](const Micrograph& m) {
    return !same_optics(m, one) || same_size(m, one);
  });
}

const PictureScale* of_magnification(const Trial& trial, const Micrograph& m) {
  for (const auto& s : trial.scales)
    if (same_optics(s, m) && same_size(s, m)) return &s.scale;
  for (const auto& s : trial.scales)
    if (same_optics(s, m) && s.width == 0 && sizes_agree(trial, m)) return &s.scale;
  return nullptr;
}

}  // namespace

Checked<PictureScale> scale_from(const std::vector<ScaleReading>& readings, int width, int height,
                                 const std::string& what) {
  if (readings.empty()) return Refusal{said("a known length is needed")};
  for (const auto& r : readings) {
    if (!(r.um > 0 && r.um < 1e7)) return Refusal{said("a length above 0 is needed")};
    if (r.px < 10)
      return Refusal{
          said("the two points lie less than ten pixels apart: a longer known length gives a "
               "better scale")};
  }
  const MeanScale all = scale_of_readings(readings, [](const ScaleReading&) { return true; });
  if (all.value < 1e-3 || all.value > 1e3)
    return Refusal{said("that makes a pixel {all} µm long, which no microscope does",
                        {{"all", print_number(all.value, 3)}})};
  for (const auto& r : readings)
    if (std::abs(r.um / r.px / all.value - 1) > 0.1)
      return Refusal{
          said("{um} µm over {px} px is more than a tenth off the other readings: one of the "
               "lengths is another",
               {{"um", print_number(r.um, 6)}, {"px", print_number(r.px, 5)}})};
  const auto& first = readings.front();
  const Distortion distortion = distortion_of(readings, width, height);
  PictureScale out{all.value, std::hypot(all.error / all.value, distortion.relative_error),
                   what + ": ", readings};
  out.how += readings.size() == 1
                 ? said("{um} µm between two points, {px} px",
                        {{"um", print_number(first.um, 6)}, {"px", print_number(first.px, 5)}})
                 : said("{readings} readings of a known length",
                        {{"readings", std::to_string(readings.size())}});
  if (!distortion.words.empty()) out.how += "; " + distortion.words;
  return out;
}

ShownLength shown_length(const GreyImage& image, Spot from, Spot to, double px_per_screen_px,
                         bool snap) {
  const double hand = std::numbers::sqrt2 * std::max(1.0, px_per_screen_px);
  ShownLength out{{from, to, 0, length(to - from), hand}, {}, ""};
  if (!snap) return out;
  const auto found = find_scale_mark(image, from, to, std::max(10.0, 6 * px_per_screen_px));
  if (!found) {
    out.why_not = found.refusal().reason;
    return out;
  }
  out.found = found->kind;
  out.reading = {found->from, found->to, 0, found->length_px, found->error_px};
  return out;
}

Distortion distortion_of(const std::vector<ScaleReading>& readings, int width, int height) {
  Distortion out;
  const double all = scale_of_readings(readings, [](const ScaleReading&) { return true; }).value;
  const Spot middle{0.5 * width, 0.5 * height};
  const auto check = [&](const auto& which, const std::string& words) {
    const MeanScale one = scale_of_readings(readings, which),
                    other = scale_of_readings(readings,
                                              [&](const ScaleReading& r) { return !which(r); });
    if (one.readings == 0 || other.readings == 0) return;
    const double apart = std::abs(one.value - other.value) / all;
    if (apart < 2 * std::hypot(one.error, other.error) / all || apart < 0.003) return;
    out.relative_error = std::hypot(out.relative_error, 0.5 * apart);
    out.words += said("{separator}{words} differ by {apart} %",
                      {{"separator", out.words.empty() ? "" : "; "},
                       {"words", words},
                       {"apart", print_number(100 * apart, 2)}});
  };
  check(
      [](const ScaleReading& r) {
        return std::abs(r.to.y - r.from.y) > std::abs(r.to.x - r.from.x);
      },
      said("lengths along the rows and along the columns"));
  check(
      [&](const ScaleReading& r) {
        const Spot d = 0.5 * (r.from + r.to) - middle;
        return std::max(std::abs(d.x) / middle.x, std::abs(d.y) / middle.y) > 0.66;
      },
      said("lengths in the middle and at the rim"));
  return out;
}

OpticsNames optics_names(const Trial& trial) {
  OpticsNames out;
  const auto add = [&out](const auto& one) {
    if (!one.instrument.empty()) out.instruments.insert(one.instrument);
    if (!one.magnification.empty()) out.magnifications.insert(one.magnification);
  };
  for (const auto& scale : trial.scales) add(scale);
  for (const auto& picture : trial.micrographs) add(picture);
  return out;
}

std::optional<PictureScale> scale_of(const Trial& trial, const Micrograph& micrograph) {
  if (micrograph.scale) return micrograph.scale;
  const PictureScale* shared = of_magnification(trial, micrograph);
  return shared ? std::optional(*shared) : std::nullopt;
}

std::string why_no_scale(const Trial& trial, const Micrograph& micrograph) {
  if (micrograph.magnification.empty() || scale_of(trial, micrograph)) return "";
  const std::string size =
      std::to_string(micrograph.width) + " × " + std::to_string(micrograph.height) + " px";
  for (const auto& s : trial.scales)
    if (same_optics(s, micrograph))
      return s.width > 0 ? said(
                               "The scale of {magnification} belongs to pictures of {width} × "
                               "{height} px; this one has {what}. Set its scale.",
                               {{"magnification", s.magnification},
                                {"width", std::to_string(s.width)},
                                {"height", std::to_string(s.height)},
                                {"what", size}})
                         : said(
                               "The scale of {magnification} was set before picture sizes were "
                               "kept with it, and pictures of several sizes have this "
                               "magnification. Set the scale for {what}.",
                               {{"magnification", s.magnification}, {"what", size}});
  for (const auto& s : trial.scales)
    if (s.magnification == micrograph.magnification)
      return said("The scale of {magnification} belongs to {another_instrument}. Set its scale.",
                  {{"magnification", s.magnification},
                   {"another_instrument",
                    s.instrument.empty() ? said("another instrument") : s.instrument}});
  return "";
}

ScaleReach reach_of(const Trial& trial, const Micrograph& micrograph, const PictureScale& scale) {
  ScaleReach out;
  for (const auto& m : trial.micrographs) {
    if (m.id == micrograph.id || m.scale || !same_optics(m, micrograph) ||
        !same_size(m, micrograph))
      continue;
    const auto now = scale_of(trial, m);
    if (!now || now->um_per_px == scale.um_per_px) continue;
    out.others.push_back(m.id);
    out.measures += int(m.measures.size());
    out.factor = scale.um_per_px / now->um_per_px;
  }
  return out;
}

}  // namespace bq::inline workflow
