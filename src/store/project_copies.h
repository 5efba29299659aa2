#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace bq::inline store {

/// How many of a project's copies are kept, one a day of work.
inline constexpr int kCopiesKept = 7;

/// Where they lie: "trial.copies" beside "trial.bquarry".
std::filesystem::path folder_of_copies(const std::filesystem::path& project);
/// The copies that are there, newest first.
std::vector<std::filesystem::path> copies_of(const std::filesystem::path& project);

/// Puts a copy in the place of a damaged project that is not open. The damaged file is set aside
/// under a name of its own, which is returned; nothing is overwritten. Throws StoreError.
std::filesystem::path go_back_to_copy(const std::filesystem::path& copy,
                                      const std::filesystem::path& project);

}  // namespace bq::inline store
