#include <filesystem>
#include <iostream>

#include "commands.h"
#include "output.h"
#include "readings_source.h"
#include "store/left_over_log.h"
#include "store/project_file.h"
#include "workflow/data_package.h"
#include "workflow/project_session.h"
#include "workflow/source.h"

namespace {

int tell_made_again(const bq::Trial& trial, bool json) {
  if (json)
    print_json({{"runs", trial.runs.size()}, {"readings", trial.reading_count()}, {"skipped", 0}});
  else
    std::printf("a project with %zu blades, %zu runs and %zu readings made again\n",
                trial.blades.size(), trial.runs.size(), trial.reading_count());
  return kDone;
}

/// A whole project that was exported as JSON becomes a project again.
int import_project(const ImportOptions& options) {
  std::error_code ignored;
  if (std::filesystem::exists(options.project, ignored))
    throw CommandEnd(kRefused, options.project + " is already there: a whole project (" +
                                   options.tables.front() +
                                   ") is made in a new file only. Nothing was changed.");
  constexpr std::size_t kLargest = std::size_t(2) << 30;
  const auto project = bq::ProjectFile::create_from_record(
      options.project, bq::read_text_file(options.tables.front(), kLargest));
  return tell_made_again(project.load(), options.json);
}

/// A data package becomes a project again.
int import_package(const ImportOptions& options) {
  const std::string bytes = bq::read_text_file(options.tables.front(), bq::kMostPackageBytes);
  bq::create_from_package(options.project, bytes);
  return tell_made_again(
      bq::ProjectFile::open(options.project, bq::ProjectFile::Access::read).load(), options.json);
}

Json json_of(const bq::AnyTable& table) {
  Json out{{"shape", name_of(table.shape)},
           {"columns", Json::array()},
           {"unknown", table.unknown},
           {"questions", Json::array()},
           {"notes", table.notes},
           {"problems", Json::array()},
           {"runs", table.runs},
           {"readings", table.readings}};
  for (const auto& column : table.columns)
    out["columns"].push_back({{"name", column.name},
                              {"meaning", column.meaning},
                              {"unit", column.unit},
                              {"sure", column.sure}});
  if (!table.sheet.empty()) out["sheet"] = table.sheet;
  if (!table.encoding.empty()) out["encoding"] = table.encoding;
  if (!table.separator.empty()) out["separator"] = table.separator;
  for (const auto& fault : table.faults) out["problems"].push_back(fault.in_words());
  for (const auto& question : table.questions)
    out["questions"].push_back(
        {{"key", question.key}, {"question", question.sentence}, {"choices", question.choices}});
  return out;
}

/// What a table that is not tidy was taken for, on the error stream.
void tell(const bq::AnyTable& table) {
  say("A table, " + std::string(name_of(table.shape)) + ":");
  for (const auto& column : table.columns)
    say("  " + column.name + ": " + column.meaning +
        (column.unit.empty() ? "" : " (" + column.unit + ")"));
  for (const auto& note : table.notes) say("  " + note);
}

}  // namespace

int run_import(const ImportOptions& options) {
  namespace fs = std::filesystem;
  if (options.tables.size() == 1 && options.tables.front().ends_with(".json"))
    return import_project(options);
  if (options.tables.size() == 1 && options.tables.front().ends_with(".zip"))
    return import_package(options);
  bq::TableMap map;
  if (!options.map.empty()) {
    const auto read = bq::parse_table_map(bq::read_text_file(options.map));
    if (!read) throw CommandEnd(kRefused, options.map + ": " + read.refusal().reason);
    map = *read;
  }
  if (!options.kind.empty()) map.kind = options.kind;
  if (!options.sheet.empty()) map.sheet = options.sheet;
  bq::KnownNames known;
  std::error_code none;
  if (fs::exists(options.project, none)) {
    std::vector<std::string> notes;
    known = bq::names_of(bq::open_to_read(options.project, notes).load());
  }
  auto tables = bq::read_tables(options.tables, std::cin, {options.skip_bad}, map, known);
  for (const auto& table : tables.understood)
    if (!options.json) tell(table);
  if (options.json && (tables.refused || options.dry_run)) {
    Json out = tables.understood.size() == 1 ? json_of(tables.understood.front()) : Json::object();
    out["tables"] = Json::array();
    for (const auto& table : tables.understood) out["tables"].push_back(json_of(table));
    out["problems"] = tables.problems;
    print_json(out);
  }
  accept_or_end(tables, "imported");
  if (options.dry_run && !tables.lists.empty()) {
    if (!options.json)
      std::printf("%s would come in; nothing was written\n", bq::count_of(tables.lists).c_str());
    return kDone;
  }
  if (options.dry_run) {
    if (!options.json)
      std::printf("%zu runs and %zu readings would be imported; nothing was written\n",
                  tables.trial.runs.size(), tables.trial.reading_count());
    return kDone;
  }
  bq::ImportCounts counts;
  const bq::KnownRuns known_runs = !options.append             ? bq::KnownRuns::refuse
                                   : options.repeats.empty()   ? bq::KnownRuns::further
                                   : options.repeats == "skip" ? bq::KnownRuns::only_new
                                                               : bq::KnownRuns::repeats_too;
  std::error_code ignored;
  if (fs::exists(options.project, ignored)) {
    auto project = bq::ProjectFile::open(options.project, bq::ProjectFile::Access::write);
    counts = project.import(tables.trial, known_runs);
    project.fold();
  } else {
    // A project that cannot be filled must not stay behind empty.
    try {
      auto project =
          bq::ProjectFile::create(options.project, fs::path(options.project).stem().string());
      counts = project.import(tables.trial, known_runs);
      project.fold();
    } catch (const bq::StoreError& error) {
      if (error.problem() == bq::StoreProblem::exists) throw;
      bq::remove_with_logs(options.project);
      if (error.problem() != bq::StoreProblem::disk) throw;
      throw bq::StoreError(
          bq::StoreProblem::disk,
          "There is no room for \"" + options.project +
              "\", or its disk fails. Nothing was imported; nothing is left of it.");
    }
  }
  std::string listed;
  if (!tables.lists.empty()) {
    auto session = bq::ProjectSession::open(options.project);
    listed = bq::add_lists(session, tables.lists);
    if (!options.json) std::printf("%s\n", listed.c_str());
    if (!options.json && counts.runs == 0) return kDone;
  }
  if (options.json) {
    Json out{{"runs", counts.runs}, {"readings", counts.readings}, {"skipped", tables.skipped}};
    if (tables.understood.size() == 1) {
      const Json told = json_of(tables.understood.front());
      for (const char* key : {"shape", "columns", "unknown", "questions", "notes"})
        out[key] = told[key];
    }
    if (!listed.empty()) out["listed"] = listed;
    if (!options.repeats.empty()) out["repeats_left_out"] = counts.repeats_left_out;
    print_json(out);
    return kDone;
  }
  std::printf("%d runs and %lld readings imported, %lld rows skipped\n", counts.runs,
              static_cast<long long>(counts.readings), static_cast<long long>(tables.skipped));
  if (counts.repeats_left_out)
    std::printf("%lld readings left out: the project has them\n",
                static_cast<long long>(counts.repeats_left_out));
  return kDone;
}
