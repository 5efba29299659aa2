#pragma once

#include <filesystem>
#include <functional>
#include <iosfwd>
#include <string>

namespace bq::inline store {

/// What happens to a file that has the name already, or gets it meanwhile.
enum class Existing { refused, replaced };

/// Makes a file that appears under its name only when it is whole and on the disk (through a power
/// cut too). `write` fills a draft beside it, made by this call. Throws what `write` throws, and
/// StoreError: `exists`, `disk` (with the system's reason). Nothing is left behind then, and what
/// was there before is.
void make_whole_file(const std::filesystem::path& path, Existing existing,
                     const std::function<void(const std::filesystem::path& draft)>& write);
/// The same from a stream.
void write_whole_file(const std::filesystem::path& path, Existing existing,
                      const std::function<void(std::ostream&)>& write);

/// A name for a file whose name came from elsewhere: no folder, not hidden, no option of a command,
/// no control characters, at most 200 bytes with its ending; `instead` where nothing is left.
std::string plain_file_name(const std::string& name, const std::string& instead);

}  // namespace bq::inline store
