#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace bq::inline store {

/// A cell that begins with a number: the number's text and what follows ("150 gf").
struct NumberCell {
  std::string number;   ///< digits and signs only, blanks and apostrophes between them gone
  std::string rest;     ///< trimmed
  bool beyond = false;  ///< "> 400", "<5": past what the gauge shows, no value
};
/// Empty where the cell does not begin with a number.
std::optional<NumberCell> number_cell(std::string_view cell);

/// Which sign is the decimal one in these numbers; 0: nothing in them tells.
/// `ambiguous`: a number like "1.500" stands among them that reads differently by either.
struct DecimalSign {
  char sign = 0;
  bool ambiguous = false;
  std::string example;       ///< of what is ambiguous
  bool contradicts = false;  ///< both signs are surely decimal somewhere
};
DecimalSign decimal_sign_of(const std::vector<std::string>& numbers);

/// The number by a decision; the other sign groups thousands. Empty where it is none by it.
std::optional<double> number_by(std::string_view number, char decimal);

}  // namespace bq::inline store
