#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline edge {

enum class GritSystem { fepa_p, fepa_f, jis, ansi };
/// "P", "F", "JIS", "ANSI": what stands before the number.
std::string_view sign_of(GritSystem system);
/// The standard by its number.
std::string_view standard_of(GritSystem system);

/// A designation with the particle size it stands for.
struct GritSize {
  GritSystem system = GritSystem::fepa_p;
  int number = 0;
  std::string designation;  ///< "P400", "F220", "JIS 1000", "ANSI 320"
  double mean_um = 0;
  /// Where the standard gives a tolerance of the mean, that; else half-way (in log size) to the
  /// neighbouring designations.
  double low_um = 0, high_um = 0;
  bool interpolated = false;  ///< the number is not a designation of the standard
};

/// Mean particle size of a designation: FEPA P ("P400"), FEPA F ("F220"), JIS ("JIS 1000", "#1000"
/// with JIS said), ANSI/CAMI ("ANSI 320", "CAMI 320"). A number between two designations is
/// interpolated in log size and marked. Refused: an unknown system, a bare number (it means four
/// different sizes), a number outside the table.
Checked<GritSize> parse_grit(std::string_view text);

/// The other way: in every system the designation whose mean lies nearest in log size. Refused:
/// not positive. A size beyond a system's table has no entry there.
Checked<std::vector<GritSize>> grits_near(double size_um);

/// The whole table of a system, coarse first.
std::vector<GritSize> grit_table(GritSystem system);

}  // namespace bq::inline edge
