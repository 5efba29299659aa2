#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace bq::inline store {

/// Something of a damaged project that is not in the new one.
struct SalvageLoss {
  std::string what;  ///< "reading, numbers 120 to 188 … of run C01"
  std::string why;   ///< what the file said there
};

struct Salvage {
  std::int64_t runs = 0, readings = 0;  ///< in the new project
  std::vector<SalvageLoss> lost;
  std::vector<std::string> remarks;  ///< what ProjectFile::check says of the new project
};

/// Takes what can still be read of a project file into a new one, table by table and row by row
/// around what is damaged; triggers, views and anything else that is no part of a project stay
/// behind. `from` is never written, nor is a log beside it: the work is done on a copy beside
/// `made`. Readings whose run is lost come back under a run "salvaged run N". Throws StoreError:
/// `exists` when `made` is there, `missing`, `not_a_project` (or the file's head cannot be read at
/// all), `disk`. Nothing is left behind then.
Salvage salvage_project(const std::filesystem::path& from, const std::filesystem::path& made);

}  // namespace bq::inline store
