#include "store/project_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>

#include "store/project_file.h"

namespace bq::inline store {

void throw_busy(const std::filesystem::path& path) {
  throw StoreError(StoreProblem::busy,
                   "\"" + path.string() +
                       "\" is open in another window or command. Nothing was changed; close it "
                       "there and try again.");
}

ProjectLock::ProjectLock(const std::filesystem::path& path, Kind kind) : path_(path) {
  // Before SQLite has the file: closing this descriptor later would drop SQLite's locks.
  file_ = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (file_ < 0) return;  // SQLite says why
  struct stat facts{};
  if (fstat(file_, &facts) == 0) {
    device_ = facts.st_dev;
    node_ = facts.st_ino;
  }
  if (flock(file_, (kind == Kind::writing ? LOCK_EX : LOCK_SH) | LOCK_NB) != 0 &&
      errno == EWOULDBLOCK) {
    close(file_);
    throw_busy(path);
  }
}

ProjectLock::~ProjectLock() {
  if (file_ >= 0) close(file_);
}

std::string ProjectLock::moved() const {
  struct stat facts{};
  if (file_ < 0) return "";
  if (stat(path_.c_str(), &facts) != 0) return "the project file is no longer in its folder";
  if (facts.st_dev != device_ || facts.st_ino != node_)
    return "another file has taken the project file's place";
  return "";
}

}  // namespace bq::inline store
