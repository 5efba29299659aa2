#include "store/archive.h"

#include <zip.h>

#include <limits>
#include <memory>
#include <set>
#include <utility>

#include "quantity/said.h"

namespace bq::inline store {
namespace {

struct FileEnd {
  void operator()(zip_file_t* file) const { zip_fclose(file); }
};
using EntryFile = std::unique_ptr<zip_file_t, FileEnd>;

zip_t* opened(std::string_view bytes) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  zip_t* out = source ? zip_open_from_source(source, ZIP_RDONLY | ZIP_CHECKCONS, &error) : nullptr;
  if (source && !out) zip_source_free(source);
  zip_error_fini(&error);
  return out;
}

/// The size of an entry where it says one.
std::optional<std::uint64_t> size_of(zip_t* archive, zip_uint64_t index) {
  zip_stat_t stat;
  if (zip_stat_index(archive, index, 0, &stat) != 0 || !(stat.valid & ZIP_STAT_SIZE))
    return std::nullopt;
  return stat.size;
}

}  // namespace

bool is_archive(std::string_view bytes) { return bytes.starts_with("PK\x03\x04"); }

Checked<Archive> Archive::open(std::string_view bytes, std::uint64_t most) {
  Archive out(opened(bytes));
  if (!out.archive_) return Refusal{said("the archive is damaged or not whole")};
  const zip_int64_t entries = zip_get_num_entries(out.archive_, 0);
  if (entries > kMostArchiveEntries)
    return Refusal{
        said("the archive holds {entries} files; at most {most_archive_entries} are taken",
             {{"entries", std::to_string(entries)},
              {"most_archive_entries", std::to_string(kMostArchiveEntries)}})};
  std::uint64_t unpacked = 0;
  std::set<std::string> seen;
  for (zip_int64_t i = 0; i < entries; ++i) {
    const auto size = size_of(out.archive_, zip_uint64_t(i));
    const char* name = zip_get_name(out.archive_, zip_uint64_t(i), 0);
    if (!size || !name || !seen.insert(name).second)
      return Refusal{said("the archive is damaged: a part of it says no size or is there twice")};
    if (*size > most - unpacked)
      return Refusal{said("the archive unpacks to more than {most} MiB",
                          {{"most", std::to_string(most >> 20)}})};
    unpacked += *size;
  }
  return out;
}

Archive::~Archive() {
  if (archive_) zip_discard(archive_);
}
Archive::Archive(Archive&& other) noexcept : archive_(std::exchange(other.archive_, nullptr)) {}
Archive& Archive::operator=(Archive&& other) noexcept {
  std::swap(archive_, other.archive_);
  return *this;
}

std::vector<std::string> Archive::names() const {
  std::vector<std::string> out;
  for (zip_int64_t i = 0; i < zip_get_num_entries(archive_, 0); ++i)
    out.emplace_back(zip_get_name(archive_, zip_uint64_t(i), 0));
  return out;
}

std::optional<std::string> Archive::read(const std::string& name) const {
  const zip_int64_t index = zip_name_locate(archive_, name.c_str(), 0);
  if (index < 0) return std::nullopt;
  const auto size = size_of(archive_, zip_uint64_t(index));
  const EntryFile file(zip_fopen_index(archive_, zip_uint64_t(index), 0));
  if (!file || !size) return std::nullopt;
  std::string out(*size, '\0');
  std::size_t at = 0;
  while (at < out.size()) {
    const zip_int64_t read = zip_fread(file.get(), out.data() + at, out.size() - at);
    if (read <= 0) return std::nullopt;
    at += std::size_t(read);
  }
  // Reading on to the end is what compares the checksum; more than it said is damage.
  char more = 0;
  if (zip_fread(file.get(), &more, 1) != 0) return std::nullopt;
  return out;
}

Checked<std::string> archive_of(const std::vector<ArchiveEntry>& entries) {
  const Refusal no_room{"there is no room to make the archive"};
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
  zip_t* archive =
      target ? zip_open_from_source(target, ZIP_CREATE | ZIP_TRUNCATE, &error) : nullptr;
  if (!archive) {
    if (target) zip_source_free(target);
    return no_room;
  }
  zip_source_keep(target);  // it is read below, after the archive is closed
  const std::unique_ptr<zip_source_t, void (*)(zip_source_t*)> kept(target, zip_source_free);
  // 1 January 1980, the first day that an archive can name: the same entries give the same bytes.
  constexpr zip_uint16_t kFirstDay = (1 << 5) | 1;
  for (const auto& entry : entries) {
    zip_source_t* source = zip_source_buffer(archive, entry.bytes.data(), entry.bytes.size(), 0);
    const zip_int64_t index =
        source ? zip_file_add(archive, entry.name.c_str(), source, ZIP_FL_ENC_UTF_8) : -1;
    if (index < 0) {
      if (source) zip_source_free(source);
      zip_discard(archive);
      return no_room;
    }
    zip_file_set_dostime(archive, zip_uint64_t(index), 0, kFirstDay, 0);
    zip_set_file_compression(archive, zip_uint64_t(index),
                             entry.packed ? ZIP_CM_DEFLATE : ZIP_CM_STORE, 0);
  }
  if (zip_close(archive) != 0) {
    zip_discard(archive);
    return no_room;
  }
  zip_stat_t stat;
  zip_stat_init(&stat);
  if (zip_source_stat(target, &stat) != 0 || zip_source_open(target) != 0) return no_room;
  std::string out(stat.size, '\0');
  const bool whole = zip_source_read(target, out.data(), out.size()) == zip_int64_t(out.size());
  zip_source_close(target);
  if (!whole) return no_room;
  return out;
}

}  // namespace bq::inline store
