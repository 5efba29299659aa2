#pragma once

#include <istream>
#include <map>
#include <string>
#include <vector>

#include "store/any_table.h"
#include "store/list_table.h"
#include "store/project_file.h"
#include "store/readings_table.h"
#include "trial/bench_session.h"
#include "trial/trial.h"
#include "workflow/shown_pictures.h"

namespace bq::inline workflow {

/// Where readings come from: a project, a readings table, or "-" for standard input.
struct SourceResult {
  Trial trial;
  std::vector<std::string> problems;  ///< of a table, "file:line:column: what"
  std::int64_t problem_count = 0;
  std::int64_t skipped = 0;
  std::vector<std::string> notes;  ///< what the caller should know (newer version, …)
  bool refused = false;
  /// Of a table that is not tidy: what its columns were taken for, and what it must be asked about
  /// (refused then; nothing is in `trial`). Without the tidy text.
  std::vector<AnyTable> understood;
  std::vector<ListTable> lists;  ///< blades, stones and pairs that the tables listed
  int first_understood = -1;     ///< which of the tables it was
  bool is_project = false;
  std::string plans;                   ///< of a project: its plans and claims as kept, "" none
  std::string threshold = "3x";        ///< of a project: its limit as typed
  std::vector<BenchSession> sessions;  ///< of a project: damage searches and steadiness sessions
  std::string section_questions;  ///< of a project: the side load and rates set on Section, as kept
  std::string gauge_study;        ///< of a project: a gauge study that came in as a table, as kept
  std::string verdict_limits;     ///< of a project: limits and wishes set on Verdict, as kept
  /// Of a project: pictures of measured micrographs for a page, by their id; thumbnails until
  /// show_whole.
  std::map<std::int64_t, ReportPicture> pictures;
  double check_limit_percent = 2;  ///< of a project: how far a check weight may be off
};

/// A project to be read only; one that another program is working on as it has been kept up to now
/// (`notes` says so). Throws StoreError.
ProjectFile open_to_read(const std::string& path, std::vector<std::string>& notes);

/// Opens and reads a source. A file is a project when it starts as an SQLite file or is named
/// *.bquarry. Throws StoreError for projects and files that cannot be opened; a bad table comes
/// back as refused with its problems.
SourceResult read_source(const std::string& path, std::istream& standard_input,
                         const TableOptions& options = {});

/// Names that a project has; what a table calls nearly so is asked about.
struct KnownNames {
  std::vector<std::string> blades, steels, media;
};
KnownNames names_of(const Trial& trial);

/// Reads readings tables only ("-" allowed), all into one trial. A table that is not tidy is
/// understood (understand_table) with the answers of `map`; what it does not say refuses it, as a
/// problem "file: what is asked (map: key)". A name of a blade, steel or medium that is near to one
/// of `known`, or to another one in the tables, is asked about (map: names); names that differ in
/// figures or in words of fewer than four letters are never near.
SourceResult read_tables(const std::vector<std::string>& paths, std::istream& standard_input,
                         const TableOptions& options = {}, const TableMap& map = {},
                         const KnownNames& known = {});

class ProjectSession;
/// Takes lists into a project, as one step of undo; what it has already by its name is left out.
/// What came in and what did not, as a sentence: "12 blades came in; K1 is there already and was
/// left out." Throws StoreError.
std::string add_lists(ProjectSession& session, const std::vector<ListTable>& lists);
/// "12 blades and 3 stones".
std::string count_of(const std::vector<ListTable>& lists);

/// The content of a small text file (at most `most` bytes); throws StoreError.
std::string read_text_file(const std::string& path, std::size_t most = std::size_t(16) << 20);

}  // namespace bq::inline workflow
