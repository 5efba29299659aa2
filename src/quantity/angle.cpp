#include "quantity/angle.h"

#include <cmath>
#include <numbers>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline quantity {

bool angle_in_range(double per_side_deg) {
  return per_side_deg > 0 && per_side_deg < kAngleLimit_deg;
}

double radians(double degrees) { return degrees * std::numbers::pi / 180; }
double degrees(double radians) { return radians * 180 / std::numbers::pi; }

Checked<double> parse_angle(std::string_view text, std::optional<AngleConvention> bare) {
  auto leading = parse_leading_number(text);
  if (!leading) return leading.refusal();
  std::string_view rest = leading->rest;
  for (std::string_view sign : {"°", "degrees", "degree", "deg"}) {
    if (rest.starts_with(sign)) {
      rest.remove_prefix(sign.size());
      break;
    }
  }
  while (!rest.empty() && rest.front() == ' ') rest.remove_prefix(1);

  std::optional<AngleConvention> convention = bare;
  if (rest == "per side" || rest == "per-side" || rest == "/side") {
    convention = AngleConvention::per_side;
  } else if (rest == "inclusive" || rest == "incl" || rest == "incl.") {
    convention = AngleConvention::inclusive;
  } else if (!rest.empty()) {
    return Refusal{said("after the angle write \"per side\" or \"inclusive\""),
                   leading->rest_place};
  }
  if (!convention)
    return Refusal{said("say whether the angle is \"per side\" or \"inclusive\""),
                   leading->rest_place};
  const double per_side_deg =
      *convention == AngleConvention::inclusive ? leading->number / 2 : leading->number;
  if (!angle_in_range(per_side_deg))
    return Refusal{*convention == AngleConvention::inclusive
                       ? "an inclusive angle must lie between 0° and 160°, both excluded"
                       : "an angle per side must lie between 0° and 80°, both excluded",
                   0};
  return per_side_deg;
}

std::string print_angle_number(double per_side_deg, AngleConvention convention) {
  const double shown = convention == AngleConvention::inclusive ? 2 * per_side_deg : per_side_deg;
  return print_number(std::round(shown * 10) / 10, 4);
}

std::string print_angle(double per_side_deg, AngleConvention convention) {
  return print_angle_number(per_side_deg, convention) + "° " + words_of(convention);
}

std::string_view name_of(AngleConvention convention) {
  return convention == AngleConvention::inclusive ? "inclusive" : "per side";
}

std::string words_of(AngleConvention convention) { return said(name_of(convention).data()); }

}  // namespace bq::inline quantity
