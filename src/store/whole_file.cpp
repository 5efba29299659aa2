#include "store/whole_file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <fstream>
#include <ostream>
#include <system_error>

#include "quantity/said.h"
#include "store/left_over_log.h"
#include "store/project_file.h"

namespace bq::inline store {
namespace fs = std::filesystem;
namespace {

[[noreturn]] void throw_system(const fs::path& path, int problem) {
  if (problem == EEXIST)
    throw StoreError(StoreProblem::exists, said("\"{path}\" is already there. Nothing was written.",
                                                {{"path", path.string()}}));
  throw StoreError(
      StoreProblem::disk,
      said("\"{path}\" could not be written: {message}. Nothing is left of it.",
           {{"path", path.string()}, {"message", std::generic_category().message(problem)}}));
}

void bring_to_disk(const fs::path& path) {
  const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
  if (file < 0) throw std::system_error(errno, std::generic_category());
  const int problem = fsync(file) == 0 ? 0 : errno;
  close(file);
  // Folders of some file systems cannot be synchronised and need not be.
  if (problem && problem != EINVAL) throw std::system_error(problem, std::generic_category());
}

void take_name(const fs::path& draft, const fs::path& path, Existing existing) {
  if (existing == Existing::replaced) {
    fs::rename(draft, path);
    return;
  }
  if (renameat2(AT_FDCWD, draft.c_str(), AT_FDCWD, path.c_str(), RENAME_NOREPLACE) == 0) return;
  if (errno != EINVAL && errno != ENOSYS) throw std::system_error(errno, std::generic_category());
  // A file system that does not know it: a second name is refused where there is one.
  if (link(draft.c_str(), path.c_str()) != 0)
    throw std::system_error(errno, std::generic_category());
  fs::remove(draft);
}

}  // namespace

void make_whole_file(const fs::path& path, Existing existing,
                     const std::function<void(const fs::path&)>& write) {
  std::error_code ignored;
  if (existing == Existing::refused && fs::exists(path, ignored)) throw_system(path, EEXIST);
  const fs::path draft = path.string() + ".new-" + std::to_string(getpid());
  try {
    write(draft);
    bring_to_disk(draft);
    take_name(draft, path, existing);
    bring_to_disk(fs::absolute(path).parent_path());
  } catch (const std::system_error& error) {
    remove_with_logs(draft);
    throw_system(path, error.code().value());
  } catch (...) {
    remove_with_logs(draft);
    throw;
  }
}

void write_whole_file(const fs::path& path, Existing existing,
                      const std::function<void(std::ostream&)>& write) {
  make_whole_file(path, existing, [&](const fs::path& draft) {
    errno = 0;
    std::ofstream out(draft, std::ios::binary);
    write(out);
    out.close();
    if (!out) throw std::system_error(errno ? errno : EIO, std::generic_category());
  });
}

std::string plain_file_name(const std::string& name, const std::string& instead) {
  constexpr std::size_t kMost = 200, kMostEnding = 20;
  std::string out;
  for (const char c : fs::path(name).filename().string())
    out += static_cast<unsigned char>(c) < 0x20 || c == 0x7f ? '_' : c;
  out.erase(0, out.find_first_not_of(".- "));
  if (out.empty()) return instead;
  if (out.size() <= kMost) return out;
  std::string ending = fs::path(out).extension().string();
  if (ending.size() > kMostEnding) ending.clear();
  std::size_t keep = kMost - ending.size();
  while (keep > 0 && (static_cast<unsigned char>(out[keep]) & 0xc0) == 0x80) --keep;  // whole signs
  return out.substr(0, keep) + ending;
}

}  // namespace bq::inline store
