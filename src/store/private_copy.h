#pragma once

#include <cstdint>
#include <filesystem>
#include <string>

namespace bq::inline store {

/// A project's file and its log as they are at one moment, copied to where only this program looks:
/// for a project that another program is writing, or whose log has to be read on a medium that
/// cannot be written. Nothing is locked and nothing is written beside the project.
class PrivateCopy {
 public:
  /// Waits for a moment in which nobody writes, for five seconds at most. Throws StoreError: `busy`
  /// when there was none, `missing`, `disk` when the copy cannot be made.
  explicit PrivateCopy(const std::filesystem::path& project);
  ~PrivateCopy();
  PrivateCopy(const PrivateCopy&) = delete;
  PrivateCopy& operator=(const PrivateCopy&) = delete;

  [[nodiscard]] const std::filesystem::path& file() const { return file_; }
  /// The project is no longer what was copied.
  [[nodiscard]] bool outdated() const;

 private:
  std::filesystem::path project_, folder_, file_;
  std::string moment_;  ///< sizes, times and places of the project and its log
};

}  // namespace bq::inline store
