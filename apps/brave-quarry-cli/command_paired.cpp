#include <cmath>
#include <fstream>
#include <iostream>
#include <map>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "stats/paired_test.h"
#include "store/paired_table.h"

namespace {

bq::PairedTable read(const std::string& path) {
  if (path == "-") return bq::read_paired_table(std::cin, "standard input");
  std::ifstream in(path, std::ios::binary);
  if (!in) throw CommandEnd(kSystem, "\"" + path + "\" cannot be read.");
  return bq::read_paired_table(in, path);
}

std::string number(std::optional<double> value, int digits = 4) {
  return value ? bq::print_number(*value, digits) : "not determinable";
}

/// One pair a blade: the geometric mean of its pairs. Pairs of one blade are alike, so that each
/// tells less than a pair of another blade.
std::vector<bq::stats::Pair> by_blade(const bq::PairedTable& table) {
  std::map<std::string, std::pair<double, int>> sums;
  for (std::size_t i = 0; i < table.rows.size(); ++i) {
    const auto& row = table.rows[i];
    auto& [sum, count] = sums[row.blade.empty() ? "row " + std::to_string(i) : row.blade];
    sum += std::log(row.after / row.before);
    ++count;
  }
  std::vector<bq::stats::Pair> out;
  for (const auto& [blade, sum] : sums) out.push_back({1, std::exp(sum.first / sum.second)});
  return out;
}

}  // namespace

int run_paired(const PairedOptions& options) {
  const auto table = read(options.table);
  if (!table.problems.empty()) {
    for (const auto& problem : table.problems) say(problem);
    throw CommandEnd(kRefused, "Nothing was computed.");
  }
  std::vector<bq::stats::Pair> pairs;
  for (const auto& row : table.rows) pairs.push_back({row.before, row.after});
  const auto test = bq::stats::paired_test(pairs, options.level);
  if (!test) throw CommandEnd(kRefused, options.table + ": " + test.refusal().reason);
  const auto blades = by_blade(table);
  const bool again = blades.size() < pairs.size();
  const auto of_blades = bq::stats::paired_test(blades, options.level);
  if (again)
    say("Some blades are listed more than once (" + std::to_string(pairs.size()) + " pairs on " +
        std::to_string(blades.size()) +
        " blades): pairs of one blade are alike, so the interval over pairs is too narrow. " +
        (of_blades && of_blades->low
             ? "By blades: " + number(of_blades->ratio) + " (" + number(of_blades->low) + " to " +
                   number(of_blades->high) + ")."
             : std::string("By blades nothing can be said of how sure it is.")));
  if (options.json) {
    Json out;
    out["blades"] = blades.size();
    out["by_blade"] = nullptr;
    if (again && of_blades)
      out["by_blade"] = {{"n", of_blades->n},
                         {"ratio", of_blades->ratio},
                         {"low", number_or_null(of_blades->low)},
                         {"high", number_or_null(of_blades->high)},
                         {"p", number_or_null(of_blades->p)}};
    out["n"] = test->n;
    out["ratio"] = test->ratio;
    out["percent_change"] = 100 * (test->ratio - 1);
    out["low"] = number_or_null(test->low);
    out["high"] = number_or_null(test->high);
    out["level"] = options.level;
    out["t"] = number_or_null(test->t);
    out["df"] = test->df;
    out["p"] = number_or_null(test->p);
    out["signed_rank_p"] = number_or_null(test->signed_rank_p);
    out["signed_rank_exact"] = test->signed_rank_exact;
    out["unchanged"] = test->unchanged;
    out["unit"] = table.unit.empty() ? Json() : Json(table.unit);
    print_json(out);
  } else {
    std::printf("%d pairs: after/before %s (%s %%)\n", test->n, number(test->ratio).c_str(),
                number(100 * (test->ratio - 1), 3).c_str());
    std::printf("%g %% interval: %s to %s\n", 100 * options.level, number(test->low).c_str(),
                number(test->high).c_str());
    std::printf("t %s, %d degrees of freedom, p %s\n", number(test->t).c_str(), test->df,
                number(test->p, 3).c_str());
    std::printf("signed rank p %s%s\n", number(test->signed_rank_p, 3).c_str(),
                test->signed_rank_exact ? " (exact)" : " (approximate)");
    if (test->unchanged)
      std::printf("%d unchanged pairs are in the t test and not in the signed rank test\n",
                  test->unchanged);
  }
  if (test->n < 2) say("One pair cannot say how sure the change is.");
  return test->t ? kDone : kNotDeterminable;
}
