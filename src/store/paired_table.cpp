#include "store/paired_table.h"

#include <array>
#include <optional>

#include "quantity/number.h"
#include "store/csv_reader.h"
#include "store/readings_columns.h"

namespace bq {
namespace {

constexpr std::array<std::string_view, 4> kColumns{"blade", "before", "after", "unit"};
constexpr std::size_t kMostProblems = 50;

class Reader {
 public:
  Reader(std::istream& in, std::string name) : csv_(in), name_(std::move(name)) {}

  PairedTable read() {
    if (!head()) return std::move(out_);
    for (;;) {
      const auto outcome = csv_.next();
      if (outcome == CsvReader::Outcome::end) break;
      if (outcome != CsvReader::Outcome::record) {
        problem(csv_.problem_line(), csv_.problem_column(), csv_.problem());
        if (outcome == CsvReader::Outcome::broken) break;
        continue;
      }
      row();
    }
    if (out_.rows.empty() && out_.problems.empty()) problem(1, 1, "the table has no rows");
    return std::move(out_);
  }

 private:
  void problem(std::uint64_t line, std::uint64_t column, const std::string& what) {
    if (out_.problems.size() < kMostProblems) out_.problems.push_back(name_ + ":" + std::to_string(line) + ":" + std::to_string(column) + ": " + what);
  }

  bool head() {
    if (csv_.next() != CsvReader::Outcome::record) {
      problem(1, 1, csv_.problem().empty() ? "the table is empty" : csv_.problem());
      return false;
    }
    std::size_t index = 0;
    for (const auto& cell : csv_.cells()) {
      const auto text = trimmed(cell.text);
      bool known = false;
      for (std::size_t i = 0; i < kColumns.size(); ++i)
        if (text == kColumns[i]) {
          known = true;
          if (place_[i]) problem(csv_.line(), csv_.column_of(cell.offset), "the column " + std::string(text) + " occurs twice");
          place_[i] = index;
        }
      if (!known) problem(csv_.line(), csv_.column_of(cell.offset), "\"" + std::string(text) + "\" is no column of this table: blade, before, after, unit");
      ++index;
    }
    for (std::size_t i = 0; i < 3; ++i)
      if (!place_[i]) problem(csv_.line(), 1, "the column " + std::string(kColumns[i]) + " is missing");
    return out_.problems.empty();
  }

  std::optional<double> number(std::size_t column) {
    if (*place_[column] >= csv_.cells().size()) {
      problem(csv_.line(), 1, std::string(kColumns[column]) + " is missing");
      return std::nullopt;
    }
    const auto& cell = csv_.cells()[*place_[column]];
    const auto value = parse_number(cell.text, csv_.separator() == ',' ? CommaRule::never : CommaRule::decimal);
    if (!value || !(*value > 0)) {
      problem(csv_.line(), csv_.column_of(cell.offset), std::string(kColumns[column]) + " must be a number above 0, not \"" + std::string(cell.text) + "\"");
      return std::nullopt;
    }
    return *value;
  }

  void row() {
    const auto& cells = csv_.cells();
    if (cells.size() == 1 && trimmed(cells[0].text).empty()) return;
    PairedRow row;
    if (*place_[0] < cells.size()) row.blade = std::string(trimmed(cells[*place_[0]].text));
    if (row.blade.empty()) return problem(csv_.line(), 1, "blade is missing");
    const auto before = number(1), after = number(2);
    if (!before || !after) return;
    double factor = 1;
    if (place_[3]) {
      const std::string_view sign = *place_[3] < cells.size() ? trimmed(cells[*place_[3]].text) : std::string_view();
      const auto unit = parse_unit(sign);
      const std::uint64_t column = *place_[3] < cells.size() ? csv_.column_of(cells[*place_[3]].offset) : 1;
      if (!unit) return problem(csv_.line(), column, "unit: " + unit.refusal().reason);
      if (!unit_) {
        unit_ = *unit;
        out_.unit = std::string(sign_of(*unit));
      }
      if (kind_of(*unit) != kind_of(*unit_)) return problem(csv_.line(), column, "forces and lengths are mixed");
      factor = convert(1, *unit, *unit_);
    }
    row.before = *before * factor;
    row.after = *after * factor;
    out_.rows.push_back(std::move(row));
  }

  CsvReader csv_;
  std::string name_;
  PairedTable out_;
  std::array<std::optional<std::size_t>, 4> place_;
  std::optional<Unit> unit_;
};

}  // namespace

PairedTable read_paired_table(std::istream& in, const std::string& name) { return Reader(in, name).read(); }

}  // namespace bq
