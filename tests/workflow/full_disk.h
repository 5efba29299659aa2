#pragma once

#include <sys/resource.h>

#include <csignal>
#include <filesystem>

namespace bq::test {

/// A disk on which this log has room for so many pages more.
class FullDisk {
 public:
  FullDisk(const std::filesystem::path& log, int pages) : handler_(std::signal(SIGXFSZ, SIG_IGN)) {
    getrlimit(RLIMIT_FSIZE, &before_);
    rlimit now = before_;
    now.rlim_cur = std::filesystem::file_size(log) + std::uintmax_t(pages) * (4096 + 24);
    setrlimit(RLIMIT_FSIZE, &now);
  }
  ~FullDisk() {
    setrlimit(RLIMIT_FSIZE, &before_);
    std::signal(SIGXFSZ, handler_);
  }
  FullDisk(const FullDisk&) = delete;
  FullDisk& operator=(const FullDisk&) = delete;

 private:
  void (*handler_)(int);
  rlimit before_{};
};

}  // namespace bq::test
