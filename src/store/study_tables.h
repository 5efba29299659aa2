#pragma once

#include <istream>
#include <string>
#include <vector>

#include "stats/gauge_study.h"
#include "trial/bench_session.h"

namespace bq::inline store {

/// A gauge study from a table: `part,operator,repeat,reading` and optionally `unit`
/// (docs/command-line.md). Rows in units of one kind are converted to the first row's; a part,
/// operator and repeat may occur once.
struct GaugeTable {
  std::vector<stats::GaugeReading> readings;
  std::string unit;
  std::vector<std::string> problems;  ///< as PairedTable::problems
};
GaugeTable read_gauge_table(std::istream& in, const std::string& name);

/// Blocks under the roughest use, in order: `edge_angle,cuts,damaged` and optionally `damaged_um`
/// (widest affected thickness).
struct DamageTable {
  std::vector<SearchRound> rounds;
  std::string steel, use;  ///< "" where the table does not say
  std::vector<std::string> problems;
};
DamageTable read_damage_table(std::istream& in, const std::string& name);

}  // namespace bq::inline store
