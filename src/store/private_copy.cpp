#include "store/private_copy.h"

#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>
#include <chrono>
#include <ctime>
#include <memory>
#include <system_error>
#include <thread>

#include "quantity/said.h"
#include "store/project_file.h"
#include "store/project_lock.h"

namespace bq::inline store {
namespace fs = std::filesystem;
namespace {

using namespace std::chrono_literals;

/// A file system counts time in steps; what was written just now may be written on unseen.
constexpr auto kRest = 30ms;
constexpr auto kPatience = 5s;

struct Moment {
  std::string words;
  std::chrono::nanoseconds latest{};  ///< since 1970
};

Moment moment_of(const fs::path& project) {
  Moment out;
  for (const char* end : {"", "-wal"}) {
    struct stat facts{};
    if (stat((project.string() + end).c_str(), &facts) != 0) {
      out.words += "- ";
      continue;
    }
    const auto at = std::chrono::seconds(facts.st_mtim.tv_sec) +
                    std::chrono::nanoseconds(facts.st_mtim.tv_nsec);
    out.latest = std::max<std::chrono::nanoseconds>(out.latest, at);
    out.words += std::to_string(facts.st_dev) + ':' + std::to_string(facts.st_ino) + ':' +
                 std::to_string(facts.st_size) + ':' + std::to_string(at.count()) + ' ';
  }
  return out;
}

bool at_rest(const Moment& moment) {
  timespec now{};
  clock_gettime(CLOCK_REALTIME, &now);
  const auto since =
      std::chrono::seconds(now.tv_sec) + std::chrono::nanoseconds(now.tv_nsec) - moment.latest;
  return since > kRest || since < -kRest;  // a file from the future is no sign of work
}

}  // namespace

PrivateCopy::PrivateCopy(const fs::path& project) : project_(project) {
  std::string made = (fs::temp_directory_path() / "brave-quarry-look-XXXXXX").string();
  if (!mkdtemp(made.data()))
    throw StoreError(
        StoreProblem::disk,
        said("There is no room for a copy of \"{project}\" to look at in {folder}.",
             {{"project", project.string()}, {"folder", fs::temp_directory_path().string()}}));
  folder_ = made;
  file_ = folder_ / project.filename();
  const auto leave = [this](const void*) { fs::remove_all(folder_); };
  std::unique_ptr<const void, decltype(leave)> left(this, leave);
  try {
    const auto until = std::chrono::steady_clock::now() + kPatience;
    for (;;) {
      const Moment before = moment_of(project);
      if (at_rest(before)) {
        fs::copy_file(project, file_, fs::copy_options::overwrite_existing);
        const fs::path log = project.string() + "-wal", own = file_.string() + "-wal";
        if (fs::exists(log))
          fs::copy_file(log, own, fs::copy_options::overwrite_existing);
        else
          fs::remove(own);
        if (moment_of(project).words == before.words) {
          moment_ = before.words;
          break;
        }
      }
      if (std::chrono::steady_clock::now() > until) throw_busy(project);
      std::this_thread::sleep_for(10ms);
    }
  } catch (const fs::filesystem_error& error) {
    if (error.code() == std::errc::no_such_file_or_directory)
      throw StoreError(StoreProblem::missing,
                       said("There is no file \"{project}\".", {{"project", project.string()}}));
    throw StoreError(StoreProblem::disk,
                     said("A copy of \"{project}\" to look at could not be made ({message}). "
                          "Nothing was changed.",
                          {{"project", project.string()}, {"message", error.code().message()}}));
  }
  // Readable for its owner, whatever the original is.
  std::error_code ignored;
  for (const char* end : {"", "-wal"})
    fs::permissions(file_.string() + end, fs::perms::owner_read | fs::perms::owner_write, ignored);
  (void)left.release();
}

PrivateCopy::~PrivateCopy() {
  std::error_code ignored;
  fs::remove_all(folder_, ignored);
}

bool PrivateCopy::outdated() const { return moment_of(project_).words != moment_; }

}  // namespace bq::inline store
