#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

struct zip;

namespace bq::inline store {

/// Bounds of an archive that is read: more is refused before it is unpacked.
inline constexpr std::uint64_t kMostUnpackedBytes = std::uint64_t(512) << 20;
inline constexpr std::int64_t kMostArchiveEntries = 20'000;

/// Whether these are the bytes of a zip archive.
bool is_archive(std::string_view bytes);

/// A zip archive in memory, read with libzip. The bytes must outlive it.
class Archive {
 public:
  /// Refused: bytes that are no whole archive, more entries than kMostArchiveEntries, entries that
  /// say no size or one name twice, more than `most` bytes in all.
  static Checked<Archive> open(std::string_view bytes, std::uint64_t most = kMostUnpackedBytes);
  ~Archive();
  Archive(Archive&& other) noexcept;
  Archive& operator=(Archive&& other) noexcept;

  [[nodiscard]] std::vector<std::string> names() const;
  /// An entry, unpacked, its checksum compared; empty where there is none of the name or it is
  /// damaged or larger than it says.
  [[nodiscard]] std::optional<std::string> read(const std::string& name) const;

 private:
  explicit Archive(zip* archive) : archive_(archive) {}
  zip* archive_ = nullptr;
};

/// An entry to be written.
struct ArchiveEntry {
  std::string name;
  std::string bytes;
  bool packed = true;  ///< false: stored as it is (what is packed already)
};
/// The bytes of an archive of these entries, in their order; the same entries give the same bytes.
/// Refused: no room.
Checked<std::string> archive_of(const std::vector<ArchiveEntry>& entries);

}  // namespace bq::inline store
