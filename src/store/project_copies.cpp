#include "store/project_copies.h"

#include <algorithm>
#include <functional>
#include <system_error>

#include "quantity/said.h"
#include "store/project_database.h"
#include "store/whole_file.h"

namespace bq::inline store {
namespace fs = std::filesystem;
namespace {

/// A project's bytes as another project, with an identity of its own.
void put_project(const fs::path& to, const std::function<void(const fs::path&)>& write) {
  make_whole_file(to, Existing::refused, [&](const fs::path& draft) {
    write(draft);
    give_new_identity(draft);
  });
}

}  // namespace

fs::path folder_of_copies(const fs::path& project) {
  return project.parent_path() / (project.stem().string() + ".copies");
}

std::vector<fs::path> copies_of(const fs::path& project) {
  std::vector<fs::path> out;
  std::error_code ignored;
  for (const auto& entry : fs::directory_iterator(folder_of_copies(project), ignored))
    if (entry.path().extension() == ".bquarry" && entry.path().stem().string().size() == 10)
      out.push_back(entry.path());
  std::sort(out.rbegin(), out.rend());
  return out;
}

std::string ProjectFile::keep_copy_of_day(const std::string& day) const {
  try {
    const auto there = copies_of(path());
    const fs::path copy = folder_of_copies(path()) / (day + ".bquarry");
    if (!writable() || fs::exists(copy)) return {};
    fs::create_directories(folder_of_copies(path()));
    const auto lock = database_->use();
    put_project(copy, [&](const fs::path& draft) { database_->held->copy_to(draft); });
    for (std::size_t i = kCopiesKept - 1; i < there.size(); ++i) fs::remove(there[i]);
    return {};
  } catch (const std::system_error& error) {
    return said(
        "Today's copy of the project could not be made: {message}. Work goes on without it.",
        {{"message", error.code().message()}});
  } catch (const std::exception& error) {
    return said("Today's copy of the project could not be made: {error}. Work goes on without it.",
                {{"error", error.what()}});
  }
}

fs::path go_back_to_copy(const fs::path& copy, const fs::path& project) {
  const ProjectLock held(project, ProjectLock::Kind::writing);
  const fs::path aside = free_name((project.parent_path() / project.stem()).string() + ".damaged",
                                   project.extension().string());
  try {
    set_aside_logs(project);
    fs::rename(project, aside);
    try {
      put_project(project, [&](const fs::path& draft) { fs::copy_file(copy, draft); });
    } catch (...) {
      fs::rename(aside, project);
      throw;
    }
  } catch (const SQLite::Exception& error) {
    throw_store_error(error, copy);
  } catch (const std::system_error& error) {
    throw StoreError(StoreProblem::disk,
                     said("The copy could not be put back: {message}. Nothing was changed.",
                          {{"message", error.code().message()}}));
  }
  return aside;
}

}  // namespace bq::inline store
