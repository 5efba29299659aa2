#include "store/csv_reader.h"
#include "quantity/csv_cell.h"
#include "quantity/said.h"

#include <algorithm>
#include <cstring>

namespace bq::inline store {
namespace {

constexpr std::size_t kChunk = std::size_t(1) << 18;
constexpr std::size_t npos = std::string_view::npos;

bool all_ascii(std::string_view text) {
  std::uint64_t seen = 0;
  std::size_t i = 0;
  for (; i + 8 <= text.size(); i += 8) {
    std::uint64_t word;
    std::memcpy(&word, text.data() + i, 8);
    seen |= word;
  }
  for (; i < text.size(); ++i) seen |= std::uint64_t(static_cast<unsigned char>(text[i]));
  return (seen & 0x8080808080808080ULL) == 0;
}

/// Offset of the first byte that is not part of well-formed UTF-8 (RFC 3629), or npos.
std::size_t first_bad_utf8(std::string_view text) {
  const auto byte = [&](std::size_t i) { return static_cast<unsigned char>(text[i]); };
  for (std::size_t i = 0; i < text.size();) {
    const unsigned lead = byte(i);
    std::size_t length = 1;
    if (lead >= 0x80) {
      if (lead >= 0xc2 && lead <= 0xdf)
        length = 2;
      else if (lead >= 0xe0 && lead <= 0xef)
        length = 3;
      else if (lead >= 0xf0 && lead <= 0xf4)
        length = 4;
      else
        return i;
      if (i + length > text.size()) return i;
      for (std::size_t k = 1; k < length; ++k)
        if ((byte(i + k) & 0xc0) != 0x80) return i;
      const unsigned second = byte(i + 1);
      if ((lead == 0xe0 && second < 0xa0) || (lead == 0xed && second > 0x9f) ||
          (lead == 0xf0 && second < 0x90) || (lead == 0xf4 && second > 0x8f))
        return i;
    }
    i += length;
  }
  return npos;
}

}  // namespace

CsvReader::CsvReader(std::istream& in) : in_(in) {
  buffer_.resize(2 * kChunk);
  fill();
  constexpr std::string_view mark = "\xef\xbb\xbf";
  if (std::string_view(buffer_.data(), stop_).starts_with(mark)) start_ = mark.size();
}

/// Brings more bytes behind the unread ones; false when the stream is at its end.
bool CsvReader::fill() {
  if (at_end_) return false;
  if (start_ > 0) {
    std::memmove(buffer_.data(), buffer_.data() + start_, stop_ - start_);
    stop_ -= start_;
    start_ = 0;
  }
  if (buffer_.size() - stop_ < kChunk) buffer_.resize(stop_ + kChunk);
  in_.read(buffer_.data() + stop_, std::streamsize(kChunk));
  const auto got = std::size_t(in_.gcount());
  stop_ += got;
  if (got < kChunk) at_end_ = true;
  return got > 0;
}

std::uint64_t CsvReader::column_of(std::size_t offset) const {
  const std::string_view before = record_.substr(0, std::min(offset, record_.size()));
  const auto line_start = before.rfind('\n') == npos ? 0 : before.rfind('\n') + 1;
  std::uint64_t column = 1;
  for (const char c : before.substr(line_start))
    column += (static_cast<unsigned char>(c) & 0xc0) != 0x80;
  return column;
}

CsvReader::Outcome CsvReader::fail(Outcome outcome, std::size_t offset, std::string why) {
  const std::string_view before = record_.substr(0, std::min(offset, record_.size()));
  problem_line_ = line_ + std::uint64_t(std::count(before.begin(), before.end(), '\n'));
  problem_column_ = column_of(offset);
  problem_ = std::move(why);
  return outcome;
}

void CsvReader::find_separator(std::string_view line) {
  std::size_t counts[3] = {0, 0, 0};
  constexpr char marks[3] = {',', ';', '\t'};
  bool quoted = false;
  for (const char c : line) {
    if (c == '"') quoted = !quoted;
    for (int i = 0; i < 3 && !quoted; ++i) counts[i] += c == marks[i];
  }
  separator_ = marks[std::max_element(counts, counts + 3) - counts];
}

CsvReader::Outcome CsvReader::next() {
  cells_.clear();
  line_ = next_line_;
  record_ = {};
  // Find the end of the record: a line end outside quotes.
  std::size_t scanned = 0;
  std::size_t first_open = npos, closed = npos;
  bool quoted = false;
  std::size_t length = npos;
  while (length == npos) {
    const std::string_view unread(buffer_.data() + start_, stop_ - start_);
    if (!quoted) {
      const auto newline = unread.find('\n', scanned);
      const auto limit = newline == npos ? unread.size() : newline;
      const auto quote = unread.substr(0, limit).find('"', scanned);
      if (quote != npos) {
        // A quote opens only at the start of a cell; elsewhere it is refused when the cells are
        // split.
        const char before = quote == 0 ? '\0' : unread[quote - 1];
        const bool cell_start =
            quote == 0 ||
            (separator_ ? before == separator_ : before == ',' || before == ';' || before == '\t');
        if (cell_start || closed == quote) {
          quoted = true;
          if (cell_start) first_open = quote;
        }
        scanned = quote + 1;
        continue;
      }
      scanned = limit;
      if (newline != npos) {
        length = newline;
        break;
      }
    } else {
      const auto quote = unread.find('"', scanned);
      if (quote != npos) {
        quoted = false;
        scanned = quote + 1;
        closed = scanned;  // a quote right here would be a doubled one
        continue;
      }
      scanned = unread.size();
    }
    if (unread.size() > kLongestRecord) {
      record_ = unread;
      if (quoted)
        return fail(Outcome::broken, first_open, said("the quote opened here is never closed"));
      return fail(Outcome::broken, 0,
                  said("this line is longer than 1 MiB; a readings table has one reading a line"));
    }
    if (!fill()) {
      record_ = std::string_view(buffer_.data() + start_, stop_ - start_);
      if (quoted)
        return fail(Outcome::broken, first_open, said("the quote opened here is never closed"));
      if (record_.empty()) return Outcome::end;
      length = record_.size();
    }
  }
  record_ = std::string_view(buffer_.data() + start_, length);
  start_ = std::min(stop_, start_ + length + 1);
  next_line_ = line_ + 1 + std::uint64_t(std::count(record_.begin(), record_.end(), '\n'));
  if (record_.ends_with('\r')) record_.remove_suffix(1);

  if (const auto zero = record_.find('\0'); zero != npos)
    return fail(Outcome::bad, zero, said("there is a NUL byte; this is not a text table"));
  if (!all_ascii(record_))
    if (const auto bad = first_bad_utf8(record_); bad != npos)
      return fail(Outcome::bad, bad, said("these bytes are not UTF-8; save the table as UTF-8"));
  if (separator_ == 0) find_separator(record_);
  const Outcome outcome = record_.find('"') == npos ? split_plain(record_) : split_quoted(record_);
  if (outcome == Outcome::record && cells_.size() > kMostColumns)
    return fail(Outcome::broken, cells_[kMostColumns].offset,
                said("this row has {cells} columns; a table may have {most_columns}",
                     {{"cells", std::to_string(cells_.size())},
                      {"most_columns", std::to_string(kMostColumns)}}));
  return outcome;
}

CsvReader::Outcome CsvReader::split_plain(std::string_view record) {
  std::size_t from = 0;
  while (true) {
    const void* found = std::memchr(record.data() + from, separator_, record.size() - from);
    const std::size_t end =
        found ? std::size_t(static_cast<const char*>(found) - record.data()) : record.size();
    cells_.push_back({unguarded(record.substr(from, end - from)), from});
    if (!found) return Outcome::record;
    from = end + 1;
  }
}

CsvReader::Outcome CsvReader::split_quoted(std::string_view record) {
  // Unquoted text is never longer than the record, so the views into it stay valid.
  unquoted_.clear();
  unquoted_.reserve(record.size());
  std::size_t i = 0;
  while (true) {
    const std::size_t cell_start = i;
    if (i < record.size() && record[i] == '"') {
      const std::size_t text_start = unquoted_.size();
      ++i;
      while (true) {
        if (i >= record.size())
          return fail(Outcome::broken, cell_start, said("the quote opened here is never closed"));
        if (record[i] == '"') {
          if (i + 1 < record.size() && record[i + 1] == '"')
            ++i;
          else
            break;
        }
        unquoted_.push_back(record[i++]);
      }
      ++i;
      if (i < record.size() && record[i] != separator_)
        return fail(Outcome::bad, i, said("there is text after a closing quote"));
      cells_.push_back({unguarded(std::string_view(unquoted_).substr(text_start)), cell_start});
    } else {
      while (i < record.size() && record[i] != separator_) {
        if (record[i] == '"')
          return fail(Outcome::bad, i,
                      said("there is a quote inside an unquoted cell; put the cell in quotes and "
                           "double it"));
        ++i;
      }
      cells_.push_back({unguarded(record.substr(cell_start, i - cell_start)), cell_start});
    }
    if (i >= record.size()) return Outcome::record;
    ++i;
  }
}

}  // namespace bq::inline store
