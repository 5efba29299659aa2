#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "stats/power.h"

int run_power(const PowerOptions& options) {
  const auto power =
      bq::stats::two_group_power(options.runs, options.sd, options.ratio, options.level);
  if (!power) throw CommandEnd(kRefused, power.refusal().reason);
  if (options.json) {
    print_json(Json{{"power", *power},
                    {"runs", options.runs},
                    {"sd", options.sd},
                    {"ratio", options.ratio},
                    {"level", options.level}});
  } else {
    std::printf(
        "chance %s to see a life ratio of %s with %d runs each, SD of ln life %s, level %s\n",
        bq::print_fixed(*power, 4).c_str(), bq::print_number(options.ratio, 4).c_str(),
        options.runs, bq::print_number(options.sd, 4).c_str(),
        bq::print_number(options.level, 4).c_str());
  }
  return kDone;
}
