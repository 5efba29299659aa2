#pragma once

#include <istream>
#include <optional>
#include <string>
#include <vector>

#include "quantity/measure.h"

namespace bq::inline store {

/// A column of a small table: its name and whether it must be there.
struct SmallColumn {
  std::string name;
  bool needed = true;
};

/// A CSV of a few known columns, read whole. Other columns are a problem, since a misspelt one
/// would be lost.
class SmallTable {
 public:
  /// `name` stands in messages. Columns may come in any order.
  SmallTable(std::istream& in, std::string name, const std::vector<SmallColumn>& columns);
  [[nodiscard]] std::size_t rows() const { return cells_.size(); }
  [[nodiscard]] bool has(std::size_t column) const { return present_[column]; }
  /// Trimmed; "" where the row is short.
  [[nodiscard]] const std::string& text(std::size_t row, std::size_t column) const {
    return cells_[row][column].text;
  }
  /// A number for which `good` holds; otherwise empty, and a problem: "…: cuts must be <what>, not
  /// "x"".
  std::optional<double> number(std::size_t row, std::size_t column, const char* what,
                               bool (*good)(double));
  /// Factor from this row's unit to the first row's; a problem where it is no unit or of another
  /// kind. 1 without a unit column.
  std::optional<double> unit_factor(std::size_t row, std::size_t column);
  [[nodiscard]] std::string unit_sign() const {
    return unit_ ? std::string(sign_of(*unit_)) : std::string();
  }
  void problem(std::size_t row, std::size_t column, const std::string& what);
  /// "name:line:column: what"; the first 50. Not empty: the table is refused.
  [[nodiscard]] const std::vector<std::string>& problems() const { return problems_; }

 private:
  struct Cell {
    std::string text;
    std::uint64_t line = 1, column = 1;
  };
  void problem_at(std::uint64_t line, std::uint64_t column, const std::string& what);

  std::string name_;
  std::vector<SmallColumn> columns_;
  std::vector<bool> present_;
  std::vector<std::vector<Cell>> cells_;
  std::vector<std::string> problems_;
  std::optional<Unit> unit_;
  bool comma_separated_ = true;
};

}  // namespace bq::inline store
