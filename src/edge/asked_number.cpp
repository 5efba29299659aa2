#include "edge/asked_number.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <cstdlib>

#include "edge/grit.h"
#include "quantity/measure.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr std::string_view kDegree = "°";

std::string_view trimmed(std::string_view text) {
  while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
  while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
  return text;
}

std::string_view first_word(std::string_view text) { return text.substr(0, text.find(' ')); }

/// The length or force that the field is in; empty for angles and plain numbers.
std::optional<Unit> unit_beside(const AskedNumber& asked) {
  const auto unit = parse_unit(first_word(trimmed(asked.beside)));
  return unit ? std::optional(*unit) : std::nullopt;
}

bool in_degrees(const AskedNumber& asked) { return trimmed(asked.beside).starts_with(kDegree); }

/// The unit as it is named in a sentence: "mm", "°", "cuts", or nothing.
std::string unit_words(const AskedNumber& asked) {
  if (in_degrees(asked)) {
    if (!asked.edge_angle) return std::string(kDegree);
    return std::string(kDegree) + " " + std::string(name_of(*asked.edge_angle));
  }
  if (const auto unit = unit_beside(asked)) return " " + std::string(sign_of(*unit));
  const std::string_view words = trimmed(asked.beside);
  return words.empty() ? std::string() : " " + std::string(words);
}

/// What stands beside the field may be typed too, whole or its first word alone.
bool says_the_unit(std::string_view rest, const AskedNumber& asked) {
  const std::string_view beside = trimmed(asked.beside);
  return rest.empty() || rest == beside || rest == first_word(beside);
}

Checked<double> degrees_of(double number, std::string_view rest, const AskedNumber& asked) {
  for (const std::string_view sign :
       {kDegree, std::string_view("degrees"), std::string_view("degree"), std::string_view("deg")})
    if (rest.starts_with(sign)) {
      rest = trimmed(rest.substr(sign.size()));
      break;
    }
  const std::string_view own = trimmed(trimmed(asked.beside).substr(kDegree.size()));
  if (rest.empty() || rest == own) return number;
  const bool per_side = rest == "per side" || rest == "per-side" || rest == "/side";
  const bool inclusive = rest == "inclusive" || rest == "incl" || rest == "incl.";
  if (!per_side && !inclusive)
    return Refusal{said("after the number write ° or nothing, not \"{rest}\"",
                        {{"rest", std::string(rest.substr(0, 20))}})};
  if (!asked.edge_angle) return Refusal{said("this is not an edge angle: write the degrees alone")};
  const bool wanted = *asked.edge_angle == AngleConvention::inclusive;
  if (wanted == inclusive) return number;
  return wanted ? 2 * number : number / 2;
}

Checked<double> in_own_unit(double number, std::string_view rest, const AskedNumber& asked) {
  if (in_degrees(asked)) return degrees_of(number, rest, asked);
  if (says_the_unit(rest, asked)) return number;
  const auto own = unit_beside(asked);
  if (!own) {
    const std::string words = unit_words(asked);
    return Refusal{
        said("\"{rest}\" is not understood: a number{alone} is wanted here",
             {{"rest", std::string(rest.substr(0, 20))},
              {"alone", words.empty() ? " alone" : said(" in{words}", {{"words", words}})}})};
  }
  const auto unit = parse_unit(rest);
  if (!unit) return unit.refusal();
  if (kind_of(*unit) != kind_of(*own))
    return Refusal{kind_of(*own) == UnitKind::force ? "this is a length; a force is wanted here"
                                                    : "this is a force; a length is wanted here"};
  // By way of decimal figures: 10 thou is 0.254 mm, not 0.25399999999999995.
  return std::strtod(print_number(convert(number, *unit, *own), 15).c_str(), nullptr);
}

bool is_designation(std::string_view typed) {
  return !typed.empty() &&
         (std::isalpha(static_cast<unsigned char>(typed.front())) || typed.front() == '#');
}

}  // namespace

std::string print_range(const AskedNumber& asked) {
  return said("from {least} to {most}{unit_words}",
              {{"least", print_number(std::max(asked.least, asked.least_known), 9)},
               {"most", print_number(asked.most, 9)},
               {"unit_words", unit_words(asked)}});
}

Checked<double> read_asked(std::string_view typed, const AskedNumber& asked) {
  typed = trimmed(typed);
  double value = 0;
  if (asked.particle_size && is_designation(typed)) {
    const auto grit = parse_grit(typed);
    if (!grit) return grit.refusal();
    value = grit->mean_um;
  } else {
    const auto leading = parse_leading_number(typed);
    if (!leading) return leading.refusal();
    const auto own = in_own_unit(leading->number, leading->rest, asked);
    if (!own) return own.refusal();
    value = *own;
  }
  if (asked.whole && value != std::round(value))
    return Refusal{said("a whole number is wanted here, {asked}", {{"asked", print_range(asked)}})};
  const bool between = value > asked.least && value < asked.least_known;
  if (!(value >= asked.least && value <= asked.most) || between)
    return Refusal{said("it must lie {asked}", {{"asked", print_range(asked)}})};
  return value;
}

std::string print_asked(double value, int decimals) {
  const std::string full = print_number(value, 9);
  const std::string fixed = print_fixed(value, decimals);
  const double read_full = std::strtod(full.c_str(), nullptr);
  const bool short_decimal = std::abs(read_full - value) <= 1e-12 * std::abs(value);
  const bool cut = std::abs(std::strtod(fixed.c_str(), nullptr) - value) > 1e-12 * std::abs(value);
  return short_decimal && cut ? full : fixed;
}

}  // namespace bq::inline edge
