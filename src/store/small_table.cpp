#include "store/small_table.h"

#include "quantity/number.h"
#include "quantity/said.h"
#include "store/csv_reader.h"
#include "store/readings_columns.h"

namespace bq::inline store {
namespace {
constexpr std::size_t kMostProblems = 50;
}

SmallTable::SmallTable(std::istream& in, std::string name, const std::vector<SmallColumn>& columns)
    : name_(std::move(name)), columns_(columns), present_(columns.size(), false) {
  CsvReader csv(in);
  if (csv.next() != CsvReader::Outcome::record) {
    problem_at(1, 1, csv.problem().empty() ? said("the table is empty") : csv.problem());
    return;
  }
  std::vector<std::optional<std::size_t>> place(columns.size());
  std::string all;
  for (const auto& column : columns) all += (all.empty() ? "" : ", ") + column.name;
  std::size_t index = 0;
  for (const auto& cell : csv.cells()) {
    const auto text = trimmed(cell.text);
    bool known = false;
    for (std::size_t i = 0; i < columns.size(); ++i)
      if (text == columns[i].name) {
        known = true;
        if (place[i])
          problem_at(csv.line(), csv.column_of(cell.offset),
                     said("the column {text} occurs twice", {{"text", std::string(text)}}));
        place[i] = index;
        present_[i] = true;
      }
    if (!known)
      problem_at(csv.line(), csv.column_of(cell.offset),
                 said("\"{text}\" is no column of this table: {all}",
                      {{"text", std::string(text)}, {"all", all}}));
    ++index;
  }
  for (std::size_t i = 0; i < columns.size(); ++i)
    if (columns[i].needed && !place[i])
      problem_at(csv.line(), 1, said("the column {name} is missing", {{"name", columns[i].name}}));
  if (!problems_.empty()) return;
  comma_separated_ = csv.separator() == ',';
  for (;;) {
    const auto outcome = csv.next();
    if (outcome == CsvReader::Outcome::end) break;
    if (outcome != CsvReader::Outcome::record) {
      problem_at(csv.problem_line(), csv.problem_column(), csv.problem());
      if (outcome == CsvReader::Outcome::broken) break;
      continue;
    }
    const auto& cells = csv.cells();
    if (cells.size() == 1 && trimmed(cells[0].text).empty()) continue;
    std::vector<Cell> row(columns.size());
    for (std::size_t i = 0; i < columns.size(); ++i) {
      row[i].line = csv.line();
      if (!place[i] || *place[i] >= cells.size()) continue;
      row[i].column = csv.column_of(cells[*place[i]].offset);
      row[i].text = std::string(trimmed(cells[*place[i]].text));
    }
    cells_.push_back(std::move(row));
  }
  if (cells_.empty() && problems_.empty()) problem_at(1, 1, said("the table has no rows"));
}

void SmallTable::problem_at(std::uint64_t line, std::uint64_t column, const std::string& what) {
  if (problems_.size() < kMostProblems)
    problems_.push_back(name_ + ":" + std::to_string(line) + ":" + std::to_string(column) + ": " +
                        what);
}

void SmallTable::problem(std::size_t row, std::size_t column, const std::string& what) {
  problem_at(cells_[row][column].line, cells_[row][column].column, what);
}

std::optional<double> SmallTable::number(std::size_t row, std::size_t column, const char* what,
                                         bool (*good)(double)) {
  const std::string& text = cells_[row][column].text;
  if (text.empty()) {
    problem(row, column, said("{name} is missing", {{"name", columns_[column].name}}));
    return std::nullopt;
  }
  const auto value = parse_number(text, comma_separated_ ? CommaRule::never : CommaRule::decimal);
  if (!value || !good(*value)) {
    problem(row, column,
            said("{name} must be {what}, not \"{text}\"",
                 {{"name", columns_[column].name}, {"what", what}, {"text", text}}));
    return std::nullopt;
  }
  return *value;
}

std::optional<double> SmallTable::unit_factor(std::size_t row, std::size_t column) {
  if (!present_[column]) return 1;
  const auto unit = parse_unit(cells_[row][column].text);
  if (!unit) {
    problem(row, column, said("unit: {reason}", {{"reason", unit.refusal().reason}}));
    return std::nullopt;
  }
  if (!unit_) unit_ = *unit;
  if (kind_of(*unit) != kind_of(*unit_)) {
    problem(row, column, said("forces and lengths are mixed"));
    return std::nullopt;
  }
  return convert(1, *unit, *unit_);
}

}  // namespace bq::inline store
