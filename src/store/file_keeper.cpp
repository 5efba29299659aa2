#include "store/file_keeper.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>

#include "quantity/said.h"

namespace bq::inline store {
namespace {

/// A log that holds more than its own beginning is worth folding: a copy of the file alone, made at
/// rest, is then the whole project.
constexpr int kLongLog = 1;

}  // namespace

FileKeeper::FileKeeper(std::filesystem::path log, Settled settled,
                       std::function<std::string()> astray, std::function<void()> fold,
                       std::chrono::milliseconds idle)
    : log_(std::move(log)),
      settled_(std::move(settled)),
      astray_(std::move(astray)),
      fold_(std::move(fold)),
      idle_(idle),
      thread_([this] { work(); }) {}

FileKeeper::~FileKeeper() {
  {
    const std::lock_guard lock(mutex_);
    stop_ = true;
  }
  wake_.notify_all();
  thread_.join();
  if (file_ >= 0) close(file_);
}

void FileKeeper::wrote(std::uint64_t changes, int pages) {
  {
    const std::lock_guard lock(mutex_);
    written_ = changes;
    pages_ = pages;
  }
  wake_.notify_all();
}

void FileKeeper::rest_now() {
  {
    const std::lock_guard lock(mutex_);
    rest_ = true;
  }
  wake_.notify_all();
}

std::string FileKeeper::fault() const {
  const std::lock_guard lock(mutex_);
  return fault_;
}

/// Opening the log a second time is harmless: the locks of the project lie on its main file.
std::string FileKeeper::bring_to_disk() {
  if (file_ < 0) file_ = ::open(log_.c_str(), O_RDONLY | O_CLOEXEC);
  if (file_ < 0) return std::strerror(errno);
  int result = 0;
  do result = fdatasync(file_);
  while (result != 0 && errno == EINTR);
  if (result != 0) return std::strerror(errno);
  // What was written is on the disk; but does it still belong to the project?
  struct stat opened{};
  struct stat named{};
  if (stat(log_.c_str(), &named) != 0 || fstat(file_, &opened) != 0 ||
      opened.st_ino != named.st_ino || opened.st_dev != named.st_dev)
    return said("the project's log was taken away or replaced");
  return astray_();
}

void FileKeeper::work() {
  std::unique_lock lock(mutex_);
  for (;;) {
    const auto due = [this] { return stop_ || rest_ || (written_ > safe_ && fault_.empty()); };
    const bool woken = wake_.wait_for(lock, pages_ > kLongLog ? idle_ : std::chrono::hours(1), due);
    if (written_ > safe_ && fault_.empty()) {
      const std::uint64_t target = written_;
      lock.unlock();
      const std::string fault = bring_to_disk();
      settled_(target, fault);
      lock.lock();
      if (fault.empty()) safe_ = target;
      fault_ = fault;
    } else if (stop_) {
      return;
    } else {
      const bool at_rest = rest_ || (!woken && pages_ > kLongLog);
      rest_ = false;
      if (!at_rest || !fault_.empty()) continue;
      pages_ = 0;  // if it does not work now, the next change asks again
      lock.unlock();
      fold_();
      lock.lock();
    }
  }
}

}  // namespace bq::inline store
