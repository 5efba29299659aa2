#include "store/leaf_search.h"

#include <array>
#include <bit>
#include <optional>
#include <string_view>

namespace bq::inline store {
namespace {

constexpr unsigned kTableLeaf = 0x0d, kIndexLeaf = 0x0a, kIndexInner = 0x02;

std::uint64_t big_endian(const unsigned char* bytes, int count) {
  std::uint64_t out = 0;
  for (int i = 0; i < count; ++i) out = out << 8 | bytes[i];
  return out;
}

/// A number of one to nine bytes at `at`, which is moved behind it; empty where the bytes end.
template <class Bytes>
std::optional<std::uint64_t> varint(const Bytes& bytes, std::size_t& at) {
  std::uint64_t out = 0;
  for (int i = 0; i < 9; ++i) {
    if (at >= bytes.size()) return std::nullopt;
    const auto byte = static_cast<unsigned char>(bytes[at++]);
    if (i == 8) return out << 8 | byte;
    out = out << 7 | (byte & 0x7fU);
    if (!(byte & 0x80U)) return out;
  }
  return out;
}

/// Bytes that a value of this type takes in a row; empty: no such type.
std::optional<std::uint64_t> size_of(std::uint64_t type) {
  constexpr std::array<std::uint64_t, 10> kSizes{0, 1, 2, 3, 4, 6, 8, 8, 0, 0};
  if (type < kSizes.size()) return kSizes[type];
  if (type < 12) return std::nullopt;
  return (type - 12) / 2;
}

LeafValue value_of(std::uint64_t type, std::string_view bytes) {
  const auto* raw = reinterpret_cast<const unsigned char*>(bytes.data());
  if (type == 0) return std::monostate{};
  if (type == 7) return std::bit_cast<double>(big_endian(raw, 8));
  if (type == 8 || type == 9) return std::int64_t(type - 8);
  if (type < 7) {
    const int unused = 64 - 8 * int(bytes.size());
    return std::int64_t(big_endian(raw, int(bytes.size())) << unused) >> unused;
  }
  if (type % 2 == 0) return LeafBlob{std::string(bytes)};
  return std::string(bytes);
}

bool fits(const LeafValue& value, const LeafColumn& column) {
  using Kind = LeafColumn::Kind;
  if (std::holds_alternative<std::monostate>(value))
    return column.kind == Kind::number_of_row || column.may_be_empty;
  switch (column.kind) {
    case Kind::number_of_row:
      return false;
    case Kind::whole:
      return std::holds_alternative<std::int64_t>(value);
    case Kind::real:  // a whole number is kept as one
      return std::holds_alternative<double>(value) || std::holds_alternative<std::int64_t>(value);
    case Kind::text:
      return std::holds_alternative<std::string>(value);
    case Kind::blob:
      return std::holds_alternative<LeafBlob>(value);
  }
  return false;
}

/// The values of a row; empty where the bytes are no row of these columns.
std::vector<LeafValue> values_of(std::string_view row, const std::vector<LeafColumn>& columns) {
  std::size_t at = 0;
  const auto head = varint(row, at);
  if (!head || *head > row.size() || *head < at) return {};
  std::vector<std::uint64_t> types;
  const std::string_view head_bytes = row.substr(0, std::size_t(*head));
  while (at < head_bytes.size()) {
    const auto type = varint(head_bytes, at);
    if (!type || types.size() == columns.size()) return {};
    types.push_back(*type);
  }
  std::vector<LeafValue> out;
  std::size_t from = std::size_t(*head);
  for (std::size_t i = 0; i < types.size(); ++i) {
    const auto size = size_of(types[i]);
    if (!size || *size > row.size() - from) return {};
    out.push_back(value_of(types[i], row.substr(from, std::size_t(*size))));
    from += std::size_t(*size);
    if (!fits(out.back(), columns[i])) return {};
  }
  if (from != row.size()) return {};
  // A column that came with a later version is not there in rows from before it.
  for (std::size_t i = types.size(); i < columns.size(); ++i) {
    if (!columns[i].may_be_empty) return {};
    out.emplace_back();
  }
  return out;
}

}  // namespace

LeafSearch::LeafSearch(const std::filesystem::path& file) : in_(file, std::ios::binary) {
  const std::uintmax_t size = std::filesystem::file_size(file);
  std::array<unsigned char, 100> head{};
  in_.read(reinterpret_cast<char*>(head.data()), std::streamsize(head.size()));
  in_.clear();
  // Where the head is damaged too, the size that every project's pages have.
  const auto told = std::size_t(big_endian(&head[16], 2)), real = told == 1 ? 65536 : told;
  if (real >= 512 && std::has_single_bit(real)) {
    page_size_ = real;
    usable_ = real - (head[20] < 32 ? head[20] : 0);
  }
  pages_ = size / page_size_;
  list_free_pages();
}

bool LeafSearch::read(std::uint64_t number, Page& page) {
  if (number == 0 || number > pages_) return false;
  page.resize(page_size_);
  in_.clear();
  in_.seekg(std::streamoff((number - 1) * page_size_));
  return bool(in_.read(reinterpret_cast<char*>(page.data()), std::streamsize(page_size_)));
}

void LeafSearch::list_free_pages() {
  Page page;
  if (!read(1, page)) return;
  std::uint64_t trunk = big_endian(&page[32], 4);
  while (trunk && free_.insert(trunk).second && read(trunk, page)) {
    const std::uint64_t count = big_endian(&page[4], 4);
    for (std::uint64_t i = 0; i < count && 8 + 4 * i + 4 <= usable_; ++i)
      free_.insert(big_endian(&page[std::size_t(8 + 4 * i)], 4));
    trunk = big_endian(page.data(), 4);
  }
}

std::string LeafSearch::payload(const Page& page, std::size_t at, std::uint64_t size,
                                std::size_t local_most) {
  if (size > pages_ * page_size_) return {};
  std::size_t local = std::size_t(size);
  if (size > local_most) {
    const std::size_t least = (usable_ - 12) * 32 / 255 - 23,
                      kept = least + std::size_t((size - least) % (usable_ - 4));
    local = kept <= local_most ? kept : least;
  }
  if (at + local + (size > local ? 4 : 0) > usable_) return {};
  std::string out(reinterpret_cast<const char*>(&page[at]), local);
  if (size == local) return out;
  std::uint64_t next = big_endian(&page[at + local], 4);
  Page more;
  std::set<std::uint64_t> seen;
  while (out.size() < size) {
    if (!seen.insert(next).second || !read(next, more)) return {};
    const std::size_t take = std::min<std::size_t>(usable_ - 4, std::size_t(size) - out.size());
    out.append(reinterpret_cast<const char*>(&more[4]), take);
    next = big_endian(more.data(), 4);
  }
  return out;
}

void LeafSearch::cell(const Page& page, std::size_t at, const std::vector<LeafColumn>& columns,
                      bool numbered, const Take& take) {
  const auto size = varint(page, at);
  if (!size || *size == 0) return;
  std::int64_t number = 0;
  if (numbered) {
    const auto own = varint(page, at);
    if (!own) return;
    number = std::int64_t(*own);
  }
  const std::size_t most = numbered ? usable_ - 35 : (usable_ - 12) * 64 / 255 - 23;
  const std::string row = payload(page, at, *size, most);
  const auto cells = values_of(row, columns);
  if (!cells.empty()) take(number, cells);
}

void LeafSearch::rows(const std::vector<LeafColumn>& columns, bool numbered, const Take& take) {
  Page page;
  for (std::uint64_t number = 1; number <= pages_; ++number) {
    if (free_.contains(number) || !read(number, page)) continue;
    const std::size_t head = number == 1 ? 100 : 0;
    const unsigned kind = page[head];
    if (numbered ? kind != kTableLeaf : kind != kIndexLeaf && kind != kIndexInner) continue;
    const std::size_t own = kind == kIndexInner ? 12 : 8, child = kind == kIndexInner ? 4 : 0;
    const auto count = std::size_t(big_endian(&page[head + 3], 2));
    for (std::size_t i = 0; i < count && head + own + 2 * i + 2 <= usable_; ++i) {
      const auto at = std::size_t(big_endian(&page[head + own + 2 * i], 2));
      if (at >= head + own && at + child < usable_) cell(page, at + child, columns, numbered, take);
    }
  }
}

}  // namespace bq::inline store
