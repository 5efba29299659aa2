#include "report/sheet_table.h"

#include <algorithm>
#include <cmath>

#include "quantity/csv_cell.h"
#include "report/sheet_page.h"

namespace bq::inline report {
namespace {

std::string line(const std::vector<std::string>& cells) {
  std::string out;
  for (std::size_t i = 0; i < cells.size(); ++i) out += (i ? "," : "") + csv_cell(cells[i]);
  return out + "\n";
}

std::string list(const std::vector<std::int64_t>& numbers) {
  std::string out;
  for (const auto number : numbers) out += (out.empty() ? "" : " ") + std::to_string(number);
  return out;
}

}  // namespace

std::string sheet_csv(const TrialPlan& plan, const RunSheet& sheet) {
  std::vector<std::string> heads{"order", "code", "day", "date", "starts", "minutes"};
  // A blind sheet names no blade: it would tell whoever cuts what the code keeps from them.
  const bool block = !plan.blind || plan.blocks.by != BlockBy::blade;
  if (block) heads.emplace_back("block");
  if (!plan.blind) heads.emplace_back("blade");
  for (const char* head : {"operator", "checkpoints", "readings_each", "rest_after_cuts"})
    heads.emplace_back(head);
  if (!plan.blind)
    for (const auto& factor : plan.factors) heads.push_back(factor.name);
  std::string out = line(heads);
  for (const auto& run : sheet.runs) {
    std::vector<std::string> cells{
        std::to_string(run.order),
        run.code,
        std::to_string(run.day),
        plan.rates.start_date.empty()
            ? ""
            : working_date(plan.rates.start_date, run.day, plan.rates.days_a_week),
        clock_of(run.starts_at_min),
        std::to_string(std::lround(run.minutes))};
    if (block) cells.push_back(run.block);
    if (!plan.blind) cells.push_back(run.blade);
    for (const auto& cell :
         {run.by_operator, list(sheet.checkpoints), std::to_string(plan.checkpoints.readings_each),
          list(run.rest_after_cuts)})
      cells.push_back(cell);
    if (!plan.blind)
      for (std::size_t f = 0; f < plan.factors.size(); ++f)
        cells.push_back(print_factor_value(plan.factors[f].levels[std::size_t(run.levels[f])]));
    out += line(cells);
  }
  return out;
}

std::string sheet_key_csv(const TrialPlan& plan, const RunSheet& sheet) {
  std::vector<std::string> heads{"code", "blade"};
  for (const auto& factor : plan.factors) heads.push_back(factor.name);
  std::vector<std::string> rows;
  for (const auto& run : sheet.runs) {
    std::vector<std::string> cells{run.code, run.blade};
    for (std::size_t f = 0; f < plan.factors.size(); ++f)
      cells.push_back(print_factor_value(plan.factors[f].levels[std::size_t(run.levels[f])]));
    rows.push_back(line(cells));
  }
  std::sort(rows.begin(), rows.end());
  std::string out = line(heads);
  for (const auto& row : rows) out += row;
  return out;
}

std::string claim_csv(const ClaimTest& test) {
  std::string out =
      line({"order", "pair", "blade", "place", "code", name_of(test.claim.measure).data()});
  for (const auto& row : claim_sheet(test))
    out += line(
        {std::to_string(row.order), std::to_string(row.pair), row.blade, row.place, row.code, ""});
  return out;
}

std::string claim_key_csv(const ClaimTest& test) {
  std::vector<std::string> rows;
  for (const auto& row : claim_sheet(test))
    rows.push_back(line({row.code, row.second ? test.claim.second : test.claim.first}));
  std::sort(rows.begin(), rows.end());
  std::string out = line({"code", "treatment"});
  for (const auto& row : rows) out += row;
  return out;
}

}  // namespace bq::inline report
