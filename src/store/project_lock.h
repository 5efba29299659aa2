#pragma once

#include <sys/types.h>

#include <filesystem>
#include <string>

namespace bq::inline store {

/// Thrown of a project that somebody else uses: StoreError `busy`.
[[noreturn]] void throw_busy(const std::filesystem::path& path);

/// Who has the project open for writing: " (process 4711, brave-quarry, since 09:14 on
/// 2026-11-29)", the process and when it began, where this machine's kernel tells; else "".
std::string holder_of(const std::filesystem::path& path);
/// Some program has it open for writing now. Not for a project that this process has open: closing
/// a second description of it drops SQLite's own locks.
bool is_written_elsewhere(const std::filesystem::path& path);

/// Who may use a project file. SQLite's own locks belong to the process and are lost as soon as
/// anything in it (a file dialog that looks into the folder) opens and closes the file; this one
/// belongs to an open description of its own (flock) and stays until it is let go. It also
/// remembers which file it was: a path that leads elsewhere is noticed.
class ProjectLock {
 public:
  enum class Kind { writing, reading };
  /// Takes the lock. Thrown: StoreError `busy` while another window or command has the file open
  /// (for reading: open for writing). A file system without such locks is used without one.
  ProjectLock(const std::filesystem::path& path, Kind kind);
  ~ProjectLock();
  ProjectLock(const ProjectLock&) = delete;
  ProjectLock& operator=(const ProjectLock&) = delete;

  /// The bytes of the file, by the description that is open: whoever opens and closes the file
  /// himself drops SQLite's locks. Throws std::system_error.
  void copy_to(const std::filesystem::path& target) const;
  /// "" while the path is still this file; else what happened to it, as the end of a sentence.
  [[nodiscard]] std::string moved() const;

 private:
  std::filesystem::path path_;
  int file_ = -1;
  dev_t device_ = 0;
  ino_t node_ = 0;
};

}  // namespace bq::inline store
