#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <functional>
#include <memory>

#include "store/project_file.h"

namespace bq {

/// Inside of ProjectFile; only the project_*.cpp files see it.
struct ProjectFile::Database {
  std::filesystem::path path;
  bool writable = false;
  bool newer = false;
  std::unique_ptr<SQLite::Database> sqlite;

  /// Runs `work` in one transaction, durable on return; SQLite's errors become StoreErrors.
  void write(const std::function<void()>& work) const;
  /// Id of a shared text, made when new; 0 for "".
  [[nodiscard]] std::int64_t label_id(const std::string& text) const;
};

/// Turns SQLite's exception into a sentence about this file.
[[noreturn]] void throw_store_error(const SQLite::Exception& error, const std::filesystem::path& path);

/// Facts and plan of a run into run and run_factor, inside a transaction; returns its id.
std::int64_t insert_run(SQLite::Database& db, const Run& run, std::optional<std::int64_t> blade_id);
/// Id of the blade with this name, or empty.
std::optional<std::int64_t> blade_id_of(SQLite::Database& db, const std::string& name);
/// Adds the factors of a run that has none yet.
void write_factors(SQLite::Database& db, std::int64_t run_id, const RunFacts& facts);
void bind_facts(SQLite::Statement& statement, const RunFacts& facts, const RunPlan& plan,
                std::optional<std::int64_t> blade_id);

/// Columns that bind_facts fills, in order, for INSERT and UPDATE.
inline constexpr const char* kRunColumns =
    "name, blade_id, steel, edge_left_deg, edge_right_deg, micro_left_deg, micro_right_deg, "
    "finish_left_um, finish_right_um, medium, cut_mode, block, checkpoints, readings_each";
inline constexpr int kRunColumnCount = 14;

}  // namespace bq
