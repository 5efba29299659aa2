#pragma once

#include <istream>
#include <string>
#include <vector>

#include "quantity/measure.h"

namespace bq::inline store {

/// One row of a before/after table.
struct PairedRow {
  std::string blade;
  double before = 0, after = 0;  ///< in `unit`
};
struct PairedTable {
  std::vector<PairedRow> rows;
  std::string unit;  ///< sign; "" where the table has no unit
  std::vector<std::string>
      problems;  ///< "name:line:column: what"; the first 50. Not empty: the table is refused
};

/// CSV with `blade,before,after` and optionally `unit` (docs/command-line.md); other columns are
/// reported as a problem, since a misspelt one would be lost. Rows in units of one kind are
/// converted to the first row's. Readings must be above 0; a blade may occur more than once.
PairedTable read_paired_table(std::istream& in, const std::string& name);

}  // namespace bq::inline store
