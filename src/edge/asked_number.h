#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "quantity/angle.h"
#include "quantity/checked.h"

namespace bq::inline edge {

/// What a field asks for: the range that is taken and the unit that is shown beside it.
struct AskedNumber {
  double least = 0, most = 0;  ///< both included, in the field's own unit
  /// What stands beside the number: "mm", "µm hollow", "° per side", "mm³/min", "blades since". Its
  /// first word names the unit; a length, a force or an angle may then be typed in any unit of its
  /// kind.
  std::string beside;
  bool whole = false;          ///< only whole numbers
  bool particle_size = false;  ///< a designation ("P1000", "JIS 4000") gives its mean size in µm
  /// The field holds an edge angle in this convention; "30 inclusive" is then understood.
  std::optional<AngleConvention> edge_angle = std::nullopt;
  /// Between `least`, which then stands for "not known", and this nothing is taken.
  double least_known = 0;
};

/// Reads what a person typed into such a field; the value is in the field's own unit. Both decimal
/// signs are taken; no locale matters; every digit is kept. Refused, with what was wrong and the
/// range or unit that is wanted: no number, a comma that could mean thousands, a unit of another
/// kind, a number outside the range, a broken number where a whole one is wanted.
Checked<double> read_asked(std::string_view typed, const AskedNumber& asked);

/// "from 0.05 to 50 mm", of what may be known.
std::string print_range(const AskedNumber& asked);

/// The number as a field shows it: `decimals` decimals, and more only where a short decimal number
/// (at most nine figures) would be cut short by them.
std::string print_asked(double value, int decimals);

}  // namespace bq::inline edge
