#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline quantity {

/// A number with the text that followed it, as in "18 thou" -> {18, "thou"}.
struct NumberAndRest {
  double number = 0;
  std::string_view rest;  ///< trimmed; a view into the text that was passed in
  std::size_t rest_place = 0;
};

/// How a comma inside a number is read.
enum class CommaRule {
  refuse_ambiguous,  ///< "1,5" is 1.5; "1,500" could be either and is refused
  decimal,           ///< the comma is always the decimal sign
  never              ///< only the point is
};

/// Reads one finite decimal number that fills the whole text (blanks around it are allowed).
/// Refused: empty, text, NaN, infinity, two decimal signs, an ambiguous comma.
Checked<double> parse_number(std::string_view text, CommaRule comma = CommaRule::refuse_ambiguous);

/// Reads a number at the start and leaves the rest to the caller.
Checked<NumberAndRest> parse_leading_number(std::string_view text,
                                            CommaRule comma = CommaRule::refuse_ambiguous);

/// Splits what a person types as a list: at semicolons; where there is none, at commas. Parts are
/// trimmed, empty ones dropped. A comma right between two figures may be a decimal sign: "11,5"
/// (and "14, 11,5") is refused, "14, 16" and "14,16,18" are lists, "11,5; 12" is two numbers.
Checked<std::vector<std::string>> split_list(std::string_view text);

/// Prints with `digits` significant digits, no exponent between 1e-4 and 1e15, no trailing zeros.
std::string print_number(double value, int digits = 4);

/// Prints with a fixed count of decimals (for columns that must line up).
std::string print_fixed(double value, int decimals);

/// The largest of 1, 2, 5 × 10ⁿ that is not above a positive value: lengths of scale bars.
double round_below(double value);

/// The same text with a minus sign (U+2212) for every hyphen that stands before a figure at the
/// start of a word: for sentences and tables that people read.
std::string with_minus_signs(const std::string& text);

}  // namespace bq::inline quantity
