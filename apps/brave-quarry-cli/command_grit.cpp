#include <cstdio>

#include "commands.h"
#include "edge/grit.h"
#include "output.h"
#include "quantity/measure.h"
#include "quantity/number.h"

namespace {

Json json_of(const bq::GritSize& size) {
  return {{"designation", size.designation},
          {"mean_um", size.mean_um},
          {"low_um", size.low_um},
          {"high_um", size.high_um},
          {"interpolated", size.interpolated},
          {"standard", standard_of(size.system)}};
}

void add(TextTable& table, const bq::GritSize& size) {
  table.add({size.designation, bq::print_number(size.mean_um), bq::print_number(size.low_um),
             bq::print_number(size.high_um),
             std::string(standard_of(size.system)) + (size.interpolated ? ", interpolated" : "")});
}

}  // namespace

int run_grit(const GritOptions& options) {
  std::string typed;
  for (const auto& word : options.words) typed += (typed.empty() ? "" : " ") + word;
  TextTable table({"designation", "mean µm", "low µm", "high µm", "standard"});
  // A length asks the other way round.
  if (const auto length = bq::parse_length(typed)) {
    const double size_um = length->in(bq::Unit::um);
    const auto near = bq::grits_near(size_um);
    if (!near) throw CommandEnd(kRefused, near.refusal().reason + ".");
    Json out{{"size_um", size_um}, {"near", Json::array()}};
    for (const auto& size : *near) {
      out["near"].push_back(json_of(size));
      add(table, size);
    }
    if (options.json)
      print_json(out);
    else
      table.print();
    return near->empty() ? kNotDeterminable : kDone;
  }
  const auto size = bq::parse_grit(typed);
  if (!size) throw CommandEnd(kRefused, "\"" + typed + "\": " + size.refusal().reason + ".");
  if (options.json) {
    print_json(json_of(*size));
  } else {
    add(table, *size);
    table.print();
  }
  return kDone;
}
