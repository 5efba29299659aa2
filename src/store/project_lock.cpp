#include "store/project_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <system_error>
#include <vector>

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

void ProjectLock::copy_to(const std::filesystem::path& target) const {
  const int out = ::open(target.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
  const auto fail = [&] {
    const int problem = errno;
    if (out >= 0) close(out);
    throw std::system_error(problem, std::generic_category());
  };
  if (out < 0) fail();
  std::vector<char> block(1 << 20);
  for (off_t at = 0;;) {
    const ssize_t got = pread(file_, block.data(), block.size(), at);
    if (got < 0) fail();
    if (got == 0) break;
    for (ssize_t done = 0; done < got;) {
      const ssize_t put = write(out, block.data() + done, std::size_t(got - done));
      if (put < 0) fail();
      done += put;
    }
    at += got;
  }
  close(out);
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
