#include "store/project_lock.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <cstdlib>
#include <ctime>
#include <fstream>
#include <sstream>
#include <system_error>
#include <vector>

#include "quantity/said.h"
#include "store/project_file.h"

namespace bq::inline store {

namespace {

/// When a process began, as "09:14 on 2026-11-29"; "" where that cannot be told.
std::string start_of(const std::string& process) {
  std::string stat_line;
  std::getline(std::ifstream("/proc/" + process + "/stat"), stat_line);
  double up = 0;
  std::ifstream("/proc/uptime") >> up;
  std::istringstream fields(stat_line.substr(std::min(stat_line.size(), stat_line.rfind(')') + 1)));
  std::string field;
  for (int i = 3; i <= 22 && fields >> field;
       ++i) {  // the 22nd: clock ticks since the machine began
  }
  const double ticks = std::atof(field.c_str());
  if (!fields || up <= 0) return "";
  const time_t began = time(nullptr) - time_t(up - ticks / double(sysconf(_SC_CLK_TCK)));
  tm local{};
  localtime_r(&began, &local);
  char words[40];
  std::strftime(words, sizeof words, "%H:%M on %Y-%m-%d", &local);
  return words;
}

}  // namespace

std::string holder_of(const std::filesystem::path& path) {
  struct stat facts{};
  if (stat(path.c_str(), &facts) != 0) return "";
  const std::string place = ':' + std::to_string(facts.st_ino) + ' ';
  std::ifstream locks("/proc/locks");
  for (std::string line; std::getline(locks, line);) {
    std::istringstream words(line);
    std::string number, kind, advice, mode, process, name;
    words >> number >> kind >> advice >> mode >> process;
    if (kind != "FLOCK" || mode != "WRITE" || line.find(place) == std::string::npos) continue;
    std::getline(std::ifstream("/proc/" + process + "/comm"), name);
    const std::string since = start_of(process);
    if (name.empty() || since.empty()) return "";
    return said(" (process {process}, {name}, since {since})",
                {{"process", process}, {"name", name}, {"since", since}});
  }
  return "";
}

bool is_written_elsewhere(const std::filesystem::path& path) {
  const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (file < 0) return false;
  const bool held = flock(file, LOCK_SH | LOCK_NB) != 0 && errno == EWOULDBLOCK;
  close(file);
  return held;
}

void throw_busy(const std::filesystem::path& path) {
  throw StoreError(StoreProblem::busy,
                   said("\"{path}\" is open in another window or command{holder_of}. Nothing was "
                        "changed; close it there and try again.",
                        {{"path", path.string()}, {"holder_of", holder_of(path)}}));
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
  if (stat(path_.c_str(), &facts) != 0) return said("the project file is no longer in its folder");
  if (facts.st_dev != device_ || facts.st_ino != node_)
    return said("another file has taken the project file's place");
  return "";
}

}  // namespace bq::inline store
