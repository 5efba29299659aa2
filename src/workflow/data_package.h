#pragma once

#include <cstdint>
#include <filesystem>
#include <stop_token>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline workflow {

/// The most that a package may unpack to: more is refused, when it is made and when it is read.
inline constexpr std::uint64_t kMostPackageBytes = std::uint64_t(2) << 30;

/// Writes a project as an open tabular data package (zip): `datapackage.json` (descriptor: every
/// file with its kind, size, SHA-256 and, of tables, its schema), `data/*.csv` (one a table of the
/// project), `readings.csv` (the tidy readings table), `pictures/`, `answers.json` (every question
/// with its sentence, table, formula and the data used; each run's curve; the ranking),
/// `methods.md` and `README.md`. The same project and day give the same bytes. Throws StoreError.
/// `day`: ISO 8601, when it is made.
std::string package_of(const std::string& project, const std::string& day,
                       const std::stop_token& stop = {});

/// Makes a new project, equal to the one that was packed. Throws StoreError with the place where
/// the package does not hold together; then no file is made.
void create_from_package(const std::filesystem::path& project, std::string_view package);

/// What a package was found to be.
struct PackageCheck {
  int tables = 0, answers = 0, pictures = 0;  ///< that were compared
  std::vector<std::string> differs;           ///< each with its place; empty: the same
};
/// Compares a package with itself: files with the sizes and sums in the descriptor, tables with
/// their schemas, the tidy table with the tables, and every answer with the one recomputed from the
/// tables. Refused: no package at all. Throws StoreError where there is no room for it.
Checked<PackageCheck> verify_package(std::string_view package, const std::stop_token& stop = {});

}  // namespace bq::inline workflow
