#pragma once

#include <cstdint>
#include <filesystem>
#include <fstream>
#include <functional>
#include <set>
#include <string>
#include <variant>
#include <vector>

namespace bq::inline store {

/// What a column holds, as far as a row's own bytes tell.
struct LeafColumn {
  enum class Kind { number_of_row, whole, real, text, blob } kind = Kind::text;
  bool may_be_empty = true;
  bool operator==(const LeafColumn&) const = default;
};

/// Bytes that are no text are told apart from it.
struct LeafBlob {
  std::string bytes;
};
using LeafValue = std::variant<std::monostate, std::int64_t, double, std::string, LeafBlob>;

/// Rows of a table found in the pages of a database file whatever else of it is damaged: by what
/// the rows look like, for no page leads to them any more. Pages that the file's own list calls
/// free are passed over, so that rows which were taken out do not come back. File format: SQLite 3
/// ("Database File Format", sections 1.6 and 2).
class LeafSearch {
 public:
  /// Throws std::filesystem::filesystem_error where the file cannot be read.
  explicit LeafSearch(const std::filesystem::path& file);

  using Take = std::function<void(std::int64_t number, const std::vector<LeafValue>& cells)>;
  /// Every row that can be one of these columns: as many values or fewer where the rest may be
  /// empty, each of its column's kind. `numbered`: rows have numbers (they are in `number`), else
  /// the table is one without (`number` is 0).
  void rows(const std::vector<LeafColumn>& columns, bool numbered, const Take& take);

 private:
  using Page = std::vector<unsigned char>;
  bool read(std::uint64_t number, Page& page);
  void list_free_pages();
  void cell(const Page& page, std::size_t at, const std::vector<LeafColumn>& columns, bool numbered,
            const Take& take);
  /// The whole payload of a cell, its overflow pages too; empty where they cannot be followed.
  std::string payload(const Page& page, std::size_t at, std::uint64_t size, std::size_t local_most);

  std::ifstream in_;
  std::size_t page_size_ = 4096, usable_ = 4096;
  std::uint64_t pages_ = 0;
  std::set<std::uint64_t> free_;
};

}  // namespace bq::inline store
