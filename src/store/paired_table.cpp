#include "store/paired_table.h"

#include <cmath>

#include "quantity/said.h"
#include "store/small_table.h"

namespace bq::inline store {

PairedTable read_paired_table(std::istream& in, const std::string& name) {
  SmallTable table(in, name, {{"blade"}, {"before"}, {"after"}, {"unit", false}});
  PairedTable out;
  const auto positive = [](double value) { return value > 0 && std::isfinite(value); };
  for (std::size_t i = 0; i < table.rows(); ++i) {
    if (table.text(i, 0).empty()) {
      table.problem(i, 0, said("blade is missing"));
      continue;
    }
    const auto before = table.number(i, 1, "a number above 0", positive),
               after = table.number(i, 2, "a number above 0", positive);
    if (!before || !after) continue;
    if (const auto factor = table.unit_factor(i, 3))
      out.rows.push_back({table.text(i, 0), *before * *factor, *after * *factor});
  }
  out.unit = table.unit_sign();
  out.problems = table.problems();
  return out;
}

}  // namespace bq::inline store
