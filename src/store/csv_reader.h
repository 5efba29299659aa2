#pragma once

#include <cstdint>
#include <istream>
#include <string>
#include <string_view>
#include <vector>

namespace bq::inline store {

/// One cell; `text` is unquoted and lives until the next record is read.
struct CsvCell {
  std::string_view text;
  std::size_t offset = 0;  ///< byte offset of its start in the record
};

/// Reads RFC 4180 records from a stream in bounded memory: quotes, line ends \n or \r\n, separator
/// found from the first line (comma, semicolon or tab, whichever occurs most outside quotes), a
/// UTF-8 byte-order mark skipped.
class CsvReader {
 public:
  /// A record, quotes included, may be this long (bytes).
  static constexpr std::size_t kLongestRecord = std::size_t(1) << 20;
  static constexpr std::size_t kMostColumns = 1000;

  enum class Outcome {
    record,  ///< cells() holds it
    bad,     ///< this record is not well formed; reading can go on after it
    broken,  ///< nothing after this place can be trusted
    end
  };

  explicit CsvReader(std::istream& in);
  Outcome next();
  [[nodiscard]] const std::vector<CsvCell>& cells() const { return cells_; }
  [[nodiscard]] char separator() const { return separator_; }
  /// Line on which the current record starts (1-based).
  [[nodiscard]] std::uint64_t line() const { return line_; }
  /// Where and why for Outcome::bad and broken.
  [[nodiscard]] std::uint64_t problem_line() const { return problem_line_; }
  [[nodiscard]] std::uint64_t problem_column() const { return problem_column_; }
  [[nodiscard]] const std::string& problem() const { return problem_; }
  /// Character column (1-based) of a byte offset in the current record's first line.
  [[nodiscard]] std::uint64_t column_of(std::size_t offset) const;

 private:
  bool fill();
  Outcome fail(Outcome outcome, std::size_t offset, std::string why);
  void find_separator(std::string_view line);
  Outcome split_plain(std::string_view record);
  Outcome split_quoted(std::string_view record);

  std::istream& in_;
  std::vector<char> buffer_;
  std::size_t start_ = 0, stop_ = 0;  ///< unread bytes in buffer_
  bool at_end_ = false;
  char separator_ = 0;
  std::uint64_t line_ = 0, next_line_ = 1;
  std::string_view record_;
  std::vector<CsvCell> cells_;
  std::string unquoted_;
  std::string problem_;
  std::uint64_t problem_line_ = 0, problem_column_ = 0;
};

}  // namespace bq::inline store
