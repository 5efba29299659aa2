#pragma once

#include <condition_variable>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <mutex>
#include <string>
#include <thread>

namespace bq::inline store {

/// Brings a growing log to the disk on a thread of its own, so that whoever writes it never waits
/// for the disk. After every round `settled` is called on that thread with the count of changes
/// that are on the disk by now; once with a fault, and never again, when the disk fails (whether
/// the changes since are on it cannot be known). When nothing has been written for `idle`, `fold`
/// is called to fold a log that has grown long into its file.
class FileKeeper {
 public:
  using Settled = std::function<void(std::uint64_t changes, const std::string& fault)>;
  /// `astray` says what happened when the log no longer belongs to the project; "" while it does.
  FileKeeper(std::filesystem::path log, Settled settled, std::function<std::string()> astray,
             std::function<void()> fold,
             std::chrono::milliseconds idle = std::chrono::milliseconds(1500));
  /// What was written so far reaches the disk first.
  ~FileKeeper();
  FileKeeper(const FileKeeper&) = delete;
  FileKeeper& operator=(const FileKeeper&) = delete;

  /// `changes` of them are in the log, which has `pages` pages.
  void wrote(std::uint64_t changes, int pages);
  /// The log is folded as soon as it is on the disk, without waiting for rest.
  void rest_now();
  /// What the disk said; empty while it is well.
  [[nodiscard]] std::string fault() const;

 private:
  void work();
  std::string bring_to_disk();

  const std::filesystem::path log_;
  const Settled settled_;
  const std::function<std::string()> astray_;
  const std::function<void()> fold_;
  const std::chrono::milliseconds idle_;
  mutable std::mutex mutex_;
  std::condition_variable wake_;
  std::uint64_t written_ = 0, safe_ = 0;
  int pages_ = 0;
  std::string fault_;
  bool stop_ = false, rest_ = false;
  int file_ = -1;
  std::thread thread_;
};

}  // namespace bq::inline store
