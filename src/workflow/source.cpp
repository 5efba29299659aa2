#include "workflow/source.h"

#include "workflow/lens_study.h"

#include <filesystem>
#include <fstream>
#include <iostream>

#include "store/bench_json.h"
#include "store/plan_file.h"
#include "store/project_file.h"
#include "workflow/limits.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {
namespace fs = std::filesystem;
namespace {

void open_or_throw(std::ifstream& in, const std::string& path) {
  std::error_code ignored;
  if (!fs::exists(path, ignored))
    throw StoreError(StoreProblem::missing, "There is no file \"" + path + "\".");
  if (fs::is_directory(path, ignored))
    throw StoreError(StoreProblem::read_only, "\"" + path + "\" is a folder, not a file.");
  in.open(path, std::ios::binary);
  if (!in)
    throw StoreError(StoreProblem::read_only, "\"" + path + "\" cannot be read: no permission.");
}

bool looks_like_project(const std::string& path) {
  if (path.ends_with(".bquarry")) return true;
  std::ifstream in(path, std::ios::binary);
  char head[15] = {};
  in.read(head, sizeof head);
  return in.gcount() == sizeof head && std::string_view(head, sizeof head) == "SQLite format 3";
}

}  // namespace

SourceResult read_tables(const std::vector<std::string>& paths, std::istream& standard_input,
                         const TableOptions& options) {
  ReadingsTableReader reader(options);
  for (const auto& path : paths) {
    if (path == "-") {
      reader.read(standard_input, "-");
      continue;
    }
    std::ifstream in;
    open_or_throw(in, path);
    reader.read(in, path);
  }
  TableResult table = reader.finish();
  SourceResult out;
  out.trial = std::move(table.trial);
  out.problems = std::move(table.problems);
  out.problem_count = table.problem_count;
  out.skipped = table.skipped;
  out.refused = table.refused;
  return out;
}

SourceResult read_source(const std::string& path, std::istream& standard_input,
                         const TableOptions& options) {
  if (path == "-" || !looks_like_project(path)) return read_tables({path}, standard_input, options);
  SourceResult out;
  const ProjectFile project = ProjectFile::open(path, ProjectFile::Access::read);
  if (project.from_newer_version())
    out.notes.push_back("\"" + path +
                        "\" was written by a newer version of the program; what this "
                        "version knows of it is read, nothing is changed.");
  out.is_project = true;
  out.trial = project.load();
  out.threshold = project.setting("threshold").value_or(out.threshold);
  out.plans = project.setting(kPlanBookKey).value_or("");
  out.sessions = project.bench_sessions();
  for (const auto* m : report_pictures(out.trial)) out.thumbnails[m->id] = project.thumbnail(m->id);
  out.verdict_limits = project.setting(kVerdictKey).value_or("");
  out.section_questions = project.setting(kSectionQuestionsKey).value_or("");
  if (const auto kept = project.setting(kProtocolKey))
    if (const auto protocol = parse_protocol(*kept))
      out.check_limit_percent = protocol->check_limit_percent;
  return out;
}

std::string read_text_file(const std::string& path, std::size_t most) {
  std::ifstream file;
  if (path != "-") open_or_throw(file, path);
  std::istream& in = path == "-" ? std::cin : file;
  std::string text;
  char chunk[65536];
  while (in.read(chunk, sizeof chunk), in.gcount() > 0) {
    text.append(chunk, std::size_t(in.gcount()));
    if (text.size() > most)
      throw StoreError(StoreProblem::refused,
                       "\"" + path + "\" is larger than " + std::to_string(most >> 20) + " MiB.");
  }
  return text;
}

}  // namespace bq::inline workflow
