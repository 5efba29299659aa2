#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace bq::inline store {

/// What a column of a table that somebody kept may mean.
enum class Meaning {
  run,
  cuts,
  reading,
  unit,
  blade,
  steel,
  edge_angle,
  micro_angle,
  finish,
  medium,
  cut_mode,
  station,
  by_operator,
  block,
  excluded,
  reason,
  factor,  ///< a factor of the user's own
  skip     ///< kept out: dates, notes
};
/// As written in a map of meanings: "run", "edge_angle", "factor", "skip", …
std::string_view name_of(Meaning meaning);
std::optional<Meaning> parse_meaning(std::string_view text);

enum class TableSide { both, left, right };
enum class SaidConvention { none, per_side, inclusive };

/// "_left", "_right", "": the end of a side column's name.
std::string_view end_of(TableSide side);
/// A meaning with its side, as a map or a tidy table names it: "edge_angle_left".
struct SidedMeaning {
  Meaning meaning = Meaning::factor;
  TableSide side = TableSide::both;
};
std::optional<SidedMeaning> parse_sided_meaning(std::string_view text);

/// What a head is taken for.
struct HeadGuess {
  Meaning meaning = Meaning::factor;
  TableSide side = TableSide::both;
  SaidConvention convention = SaidConvention::none;
  std::string unit;           ///< as it stands in brackets or behind a comma, "" none
  std::optional<int> number;  ///< behind the word: "reading 2"
  double sure = 0;            ///< 1 the very word; 0.5 near it; 0 not known
  std::string near;           ///< the word it is near to, when 0.5
  /// The column of a tidy table that it is: "edge_angle_left".
  [[nodiscard]] std::string tidy_name() const {
    return std::string(name_of(meaning)) + std::string(end_of(side));
  }
};

/// Reads a head in English, German, French, Spanish or Japanese; accents, case, signs between words
/// and filling words ("no", "deg") do not matter. A head of one or two letters' difference from a
/// known word (by length: from 5 letters, from 8) is near it.
HeadGuess guess_head(std::string_view head);

/// A head that is a count of cuts by itself: "50", "100 cuts", "after 200", "0 Schnitte".
std::optional<double> cuts_in_head(std::string_view head);

/// Lower case, accents taken off, every run of other signs one blank.
std::string plain_words(std::string_view text);

/// Letters (bytes) changed, added, left out or swapped between two words (optimal string
/// alignment); `most` + 1 where they are more, or a word is longer than 40.
int letters_between(std::string_view a, std::string_view b, int most);

/// A row that sums others up begins with it: "mean", "Summe", "平均".
bool is_summary_word(std::string_view cell);
/// The first cell of a template's example row: "example", "Beispiel", …
bool is_example_row(std::string_view first_cell);
/// A cell that says that there is nothing: "n/a", "-", "none", "k. A.".
bool is_no_value(std::string_view cell);
/// A formula of a spreadsheet that came to nothing: "#DIV/0!", "Err:502", "#no result".
bool is_error_cell(std::string_view cell);
/// A day or a time of day, or both: "2026-03-01", "1.3.2026", "3/1/26", "14:05", "2 pm".
bool is_date_cell(std::string_view cell);

}  // namespace bq::inline store
