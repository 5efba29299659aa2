#pragma once

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "quantity/measure.h"
#include "store/any_table.h"
#include "store/number_column.h"
#include "store/spreadsheet.h"
#include "store/table_grid.h"

/// Inside of understand_table: one table on its way from a grid to tidy rows.
namespace bq::inline store::understanding {

/// Of a fact about the run, written once or in every row of it.
bool says_of_run(Meaning meaning);
bool is_angle(Meaning meaning);
/// "g" on a gauge is a gram of force. Empty: no unit of a reading.
std::optional<Unit> unit_in(std::string_view text);
/// All figures that tell a number from its neighbours.
std::string exact(double value);
/// Lines as "lines 3, 5, 7 and 12 more".
std::string lines_in_words(const std::vector<std::uint64_t>& lines);

struct Column {
  std::size_t at = 0;  ///< cell
  std::string name;
  HeadGuess guess;
  bool from_map = false;
  std::optional<double> across;  ///< cuts that the head counts
  char decimal = '.';
  bool sparse = false;  ///< written only where it changes
  std::size_t key = 0;  ///< of its fact in a tidy row
  // The cell above and the fact it gave: columns of facts mostly repeat themselves.
  bool remembered = false;
  std::string last_text{}, last_fact{};
};

class Understanding {
 public:
  Understanding(const TableMap& map, AnyTable& out) : map_(map), out_(out) {}
  void understand(std::string_view bytes);

 private:
  const TableMap& map_;
  AnyTable& out_;
  TableGrid grid_;
  std::size_t head_ = 0;
  std::vector<Column> columns_;
  /// Data rows in order, without blank ones, sums and notes.
  std::vector<const TableGrid::Row*> rows_;
  bool inclusive_ = false;

  // Left out, by what they are, with their lines.
  std::map<std::string, std::vector<std::uint64_t>> left_out_;

  void problem(std::uint64_t line, std::size_t cell, const std::string& what) {
    constexpr std::size_t kMostProblems = 50;
    if (out_.faults.size() < kMostProblems) out_.faults.push_back({line, cell + 1, what});
  }
  void ask(const std::string& key, const std::string& sentence,
           const std::vector<std::string>& choices) {
    for (const auto& question : out_.questions)
      if (question.key == key) return;
    out_.questions.push_back({key, sentence, choices});
  }
  static const std::string& cell(const TableGrid::Row& row, const Column& column) {
    static const std::string kNothing;
    return column.at < row.cells.size() ? row.cells[column.at] : kNothing;
  }
  /// The first column of this meaning; null where there is none.
  [[nodiscard]] const Column* one(Meaning meaning) const {
    for (const auto& column : columns_)
      if (column.guess.meaning == meaning && !column.across) return &column;
    return nullptr;
  }

  bool read(std::string_view bytes);
  bool choose_sheet(std::vector<SpreadsheetSheet> sheets);
  /// The row of this grid that names the columns.
  [[nodiscard]] std::optional<std::size_t> head_of(const TableGrid& grid) const;
  void name_columns();
  bool find_shape();
  void ask_about_columns();
  void look_at_values();
  void pick_rows();
  void decide_signs();
  void decide_convention();
  void note_left_out();
  void show_rows();
  void take_apart();
  void list_columns();

  std::optional<double> number(const TableGrid::Row& row, const Column& column,
                               const std::string& text);
  /// The same of a cell that was taken apart already.
  std::optional<double> number(const TableGrid::Row& row, const Column& column,
                               const std::string& text, const std::optional<NumberCell>& value);
  std::optional<std::string> finish_um(const TableGrid::Row& row, const Column& column,
                                       const std::string& text);
  std::optional<Unit> unit_of(const TableGrid::Row& row, const Column& column,
                              const NumberCell& value);

  /// A tidy row: its cells by key; "" not said.
  using Facts = std::vector<std::string>;
  enum Key : std::size_t { kRun, kCuts, kReading, kUnit };
  /// The key of a column of the tidy table; a new one where there is none of the name.
  std::size_t key_of(const std::string& name);
  void name_keys();
  /// What a cell says of its run, as a tidy cell; "" nothing, or a problem.
  std::string fact_of(const TableGrid::Row& row, const Column& column, const std::string& text);
  /// The same, remembered from row to row.
  const std::string& fact_again(const TableGrid::Row& row, Column& column);
  void add_reading(const TableGrid::Row& row, const Column& column, double cuts, Facts& facts);
  void write_rows();
  void write_columns_as_runs();
  void add_facts_across(const TableGrid::Row& row, std::vector<Facts>& facts);
  [[nodiscard]] const std::string& blade_of(const Facts& facts) const;
  std::string run_name(const TableGrid::Row& row, const Facts& facts, double cuts);
  std::optional<double> last_cuts_;
  int counted_runs_ = 0;
  std::string last_run_;
  std::set<std::string> run_names_;
  std::vector<std::string> keys_{"run", "cuts", "reading", "unit"};
  std::string tidy_rows_;
  std::vector<std::uint64_t> tidy_lines_;
};

}  // namespace bq::inline store::understanding
