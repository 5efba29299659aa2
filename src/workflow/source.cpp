#include "workflow/source.h"

#include "quantity/said.h"
#include "workflow/lens_study.h"

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <iostream>
#include <set>
#include <sstream>
#include <streambuf>

#include "quantity/number.h"
#include "store/bench_json.h"
#include "store/list_columns.h"
#include "store/near_names.h"
#include "store/plan_file.h"
#include "store/project_file.h"
#include "store/project_lock.h"
#include "store/readings_columns.h"
#include "store/spreadsheet.h"
#include "store/table_grid.h"
#include "workflow/gauge_table.h"
#include "workflow/limits.h"
#include "workflow/project_session.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {
namespace fs = std::filesystem;
namespace {

void open_or_throw(std::ifstream& in, const std::string& path) {
  std::error_code ignored;
  if (!fs::exists(path, ignored))
    throw StoreError(StoreProblem::missing, said("There is no file \"{path}\".", {{"path", path}}));
  if (fs::is_directory(path, ignored))
    throw StoreError(StoreProblem::read_only,
                     said("\"{path}\" is a folder, not a file.", {{"path", path}}));
  in.open(path, std::ios::binary);
  if (!in)
    throw StoreError(StoreProblem::read_only,
                     said("\"{path}\" cannot be read: no permission.", {{"path", path}}));
}

/// What is left of a stream, or so much of it that it is more than `most`: who asked says so.
std::string read_at_most(std::istream& in, std::size_t most) {
  std::string bytes;
  char chunk[65536];
  while (bytes.size() <= most && (in.read(chunk, sizeof chunk), in.gcount() > 0))
    bytes.append(chunk, std::size_t(in.gcount()));
  return bytes;
}

bool looks_like_project(const std::string& path) {
  if (path.ends_with(".bquarry")) return true;
  std::ifstream in(path, std::ios::binary);
  char head[15] = {};
  in.read(head, sizeof head);
  return in.gcount() == sizeof head && std::string_view(head, sizeof head) == "SQLite format 3";
}

}  // namespace

namespace {

/// A place in the tidy text of a table, "file:7:3: what", as a place in the table itself.
std::string in_own_lines(const std::string& problem, const std::string& path,
                         const std::vector<std::uint64_t>& lines) {
  const std::string start = path + ":";
  if (!problem.starts_with(start)) return problem;
  const std::size_t end = problem.find(':', start.size());
  const auto line = parse_number(problem.substr(start.size(), end - start.size()));
  if (!line || !(*line >= 1) || *line > double(lines.size()) || end == std::string::npos)
    return problem;
  // The column is the tidy one's; the sentence names it.
  const std::size_t what = problem.find(": ", end);
  return start + std::to_string(lines[std::size_t(*line) - 1]) +
         (what == std::string::npos ? "" : problem.substr(what));
}

class TableSources {
 public:
  TableSources(const TableOptions& options, const TableMap& map, const KnownNames& known)
      : reader_({options.skip_bad, map.names}), map_(map), known_(known) {}

  void read(std::istream& in, const std::string& name) {
    std::string first;
    std::getline(in, first);
    if (!in.eof()) first += '\n';
    if (first.empty() || (map_.encoding.empty() && map_.separator.empty() && is_tidy_head(first))) {
      Joined whole(first, in);
      std::istream stream(&whole);
      reader_.read(stream, name);
      ++count_;
      return;
    }
    const std::string bytes = first + read_at_most(in, kMostTableBytes);
    AnyTable table = understand_table(bytes, map_);
    const bool list = read_list(bytes, table);
    for (const auto& fault : table.faults) out_.problems.push_back(name + ":" + fault.in_words());
    for (const auto& question : table.questions)
      out_.problems.push_back(
          said("{name}: {sentence} (map: {key})",
               {{"name", name}, {"sentence", question.sentence}, {"key", question.key}}));
    if (!list && table.faults.empty() && table.questions.empty()) {
      std::istringstream tidy(table.tidy);
      reader_.read(tidy, name);
      lines_[name] = std::move(table.lines);
    }
    table.tidy.clear();
    table.lines.clear();
    if (out_.understood.empty()) out_.first_understood = count_;
    out_.understood.push_back(std::move(table));
    ++count_;
  }

  SourceResult finish() {
    TableResult table = reader_.finish();
    for (auto problem : table.problems) {
      for (const auto& [name, lines] : lines_) problem = in_own_lines(problem, name, lines);
      out_.problems.push_back(std::move(problem));
    }
    out_.problem_count = std::int64_t(out_.problems.size()) +
                         (table.problem_count - std::int64_t(table.problems.size()));
    out_.skipped = table.skipped;
    const bool asked =
        std::any_of(out_.understood.begin(), out_.understood.end(),
                    [](const AnyTable& t) { return !t.questions.empty() || !t.faults.empty(); });
    out_.refused = table.refused || asked;
    out_.notes.insert(out_.notes.end(), table.renamed.begin(), table.renamed.end());
    if (!out_.refused) ask_about_names(table.trial, table.doubts);
    if (!out_.refused) out_.trial = std::move(table.trial);
    if (out_.refused) out_.lists.clear();
    return std::move(out_);
  }

 private:
  /// Heads that a gauge study or force strokes have, beside a reading or cuts.
  static bool names_parts_or_samples(const AnyTable& table) {
    std::set<ListCell> heads;
    for (const auto& column : table.columns)
      if (const auto cell = list_cell_of(column.name)) heads.insert(*cell);
    return heads.contains(ListCell::part) ||
           (heads.contains(ListCell::time) && heads.contains(ListCell::force));
  }

  static std::string list_question(ListKind kind) {
    switch (kind) {
      case ListKind::gauge:
        return said("Parts, operators and readings: this looks like a gauge study. What is it?");
      case ListKind::strokes:
        return said(
            "Times in seconds and forces: this looks like samples of force strokes. What is it?");
      default:
        return said("No column counts cuts: this looks like a list of {kind}. What is it?",
                    {{"kind", std::string(name_of(kind))}});
    }
  }

  /// A table without runs may be a list: it is asked what it is, or read as what it was said to be.
  bool read_list(const std::string& bytes, AnyTable& table) {
    const auto asked_kind = parse_list_kind(map_.kind);
    const bool no_runs = std::none_of(
        table.columns.begin(), table.columns.end(),
        [](const auto& c) { return c.meaning == "cuts" || c.meaning.starts_with("reading"); });
    if (!asked_kind && (map_.kind == "readings" || (!no_runs && !names_parts_or_samples(table))))
      return false;
    const auto grid =
        read_any_grid(bytes, map_.sheet, map_.encoding, separator_sign(map_.separator));
    if (!grid) return false;
    const auto kind = asked_kind ? asked_kind : looks_like_list(*grid);
    if (!kind) return false;
    if (!asked_kind) {
      table.faults.clear();
      table.questions = {{"kind", list_question(*kind), {std::string(name_of(*kind)), "readings"}}};
      return true;
    }
    ListTable list = understand_list(*grid, *kind, map_);
    table = {};
    table.columns = list.columns;
    table.questions = list.questions;
    table.faults = list.faults;
    table.notes = list.notes;
    for (const auto& row : grid->rows)
      if (!row.blank() && table.preview.size() < AnyTable::kMostPreviewed)
        table.preview.push_back({row.line, TablePreviewRow::Use::data, row.cells});
    out_.lists.push_back(std::move(list));
    return true;
  }

  /// `doubts`: names that the table itself spells in two ways where only one can stand.
  void ask_about_names(const Trial& trial, const std::vector<NameDoubt>& doubts) {
    std::vector<TableQuestion> questions;
    for (const NameDoubt& doubt : doubts)
      questions.push_back({"names." + doubt.kind + "." + doubt.written,
                           doubt.sentence,
                           {doubt.first, doubt.written}});
    const auto settle = [&](const char* kind, const std::vector<std::string>& names,
                            auto&& each_name) {
      const auto settled = map_.names.find(kind);
      NearNames known;
      for (const auto& name : names) known.add(name);
      std::set<std::string> asked;
      each_name([&](const std::string& name) {
        if (name.empty() || !asked.insert(name).second) return;
        if (settled != map_.names.end() && settled->second.contains(name)) return;
        if (known.has(name)) return;
        if (const std::string* near = known.near(name))
          questions.push_back(
              {"names." + std::string(kind) + "." + name,
               said("The {kind} {shown} is near to {shown_2}. Is it the same?",
                    {{"kind", kind}, {"shown", shown(name)}, {"shown_2", shown(*near)}}),
               {*near, name}});
        else
          known.add(name);
      });
    };
    settle("blade", known_.blades, [&](const auto& act) {
      for (const auto& blade : trial.blades) act(blade.name);
      for (const auto& run : trial.runs) act(run.facts.blade);
    });
    settle("steel", known_.steels, [&](const auto& act) {
      for (const auto& blade : trial.blades) act(blade.steel);
      for (const auto& run : trial.runs) act(run.facts.steel);
    });
    settle("medium", known_.media, [&](const auto& act) {
      for (const auto& run : trial.runs) act(run.facts.medium);
    });
    if (questions.empty()) return;
    if (out_.understood.empty()) {
      out_.understood.emplace_back();
      out_.first_understood = 0;
    }
    for (const auto& question : questions)
      out_.problems.push_back(said("{sentence} (map: {key})",
                                   {{"sentence", question.sentence}, {"key", question.key}}));
    out_.problem_count += std::int64_t(questions.size());
    auto& all = out_.understood.front().questions;
    all.insert(all.end(), questions.begin(), questions.end());
    out_.refused = true;
  }

  /// A line that was read already, with the rest of its stream behind it.
  class Joined : public std::streambuf {
   public:
    Joined(std::string& line, std::istream& rest) : rest_(rest) {
      setg(line.data(), line.data(), line.data() + line.size());
    }

   protected:
    int_type underflow() override {
      rest_.read(buffer_, sizeof buffer_);
      if (rest_.gcount() == 0) return traits_type::eof();
      setg(buffer_, buffer_, buffer_ + rest_.gcount());
      return traits_type::to_int_type(buffer_[0]);
    }

   private:
    std::istream& rest_;
    char buffer_[65536];
  };

  ReadingsTableReader reader_;
  const TableMap& map_;
  const KnownNames& known_;
  SourceResult out_;
  int count_ = 0;  ///< tables read
  std::map<std::string, std::vector<std::uint64_t>> lines_;
};

}  // namespace

KnownNames names_of(const Trial& trial) {
  KnownNames out;
  std::set<std::string> steels, media;
  for (const auto& blade : trial.blades) {
    out.blades.push_back(blade.name);
    steels.insert(blade.steel);
  }
  for (const auto& run : trial.runs) {
    steels.insert(run.facts.steel);
    media.insert(run.facts.medium);
  }
  for (const auto& card : trial.steels) steels.insert(card.name);
  for (const auto& card : trial.media) media.insert(card.name);
  steels.erase("");
  media.erase("");
  out.steels.assign(steels.begin(), steels.end());
  out.media.assign(media.begin(), media.end());
  return out;
}

SourceResult read_tables(const std::vector<std::string>& paths, std::istream& standard_input,
                         const TableOptions& options, const TableMap& map,
                         const KnownNames& known) {
  TableSources sources(options, map, known);
  for (const auto& path : paths) {
    if (path == "-") {
      sources.read(standard_input, "-");
      continue;
    }
    std::ifstream in;
    open_or_throw(in, path);
    sources.read(in, path);
  }
  return sources.finish();
}

ProjectFile open_to_read(const std::string& path, std::vector<std::string>& notes) {
  try {
    return ProjectFile::open(path, ProjectFile::Access::read);
  } catch (const StoreError& error) {
    if (error.problem() != StoreProblem::busy) throw;
    notes.push_back(
        said("\"{path}\" is being worked on{holder_of}: read as it has been kept up to now.",
             {{"path", path}, {"holder_of", holder_of(path)}}));
    return ProjectFile::open(path, ProjectFile::Access::beside);
  }
}

SourceResult read_source(const std::string& path, std::istream& standard_input,
                         const TableOptions& options) {
  if (path == "-" || !looks_like_project(path)) return read_tables({path}, standard_input, options);
  SourceResult out;
  const ProjectFile project = open_to_read(path, out.notes);
  if (project.from_newer_version())
    out.notes.push_back(
        said("\"{path}\" was written by a newer version of the program; what this version knows of "
             "it is read, nothing is changed.",
             {{"path", path}}));
  out.is_project = true;
  out.trial = project.load();
  out.threshold = project.setting("threshold").value_or(out.threshold);
  out.plans = project.setting(kPlanBookKey).value_or("");
  out.sessions = project.bench_sessions();
  for (const auto* m : report_pictures(out.trial))
    out.pictures[m->id] = {project.thumbnail(m->id), whole_picture(*m)};
  out.verdict_limits = project.setting(kVerdictKey).value_or("");
  out.section_questions = project.setting(kSectionQuestionsKey).value_or("");
  out.gauge_study = project.setting(kGaugeStudyKey).value_or("");
  if (const auto kept = project.setting(kProtocolKey))
    if (const auto protocol = parse_protocol(*kept))
      out.check_limit_percent = protocol->check_limit_percent;
  return out;
}

std::string read_text_file(const std::string& path, std::size_t most) {
  std::ifstream file;
  if (path != "-") open_or_throw(file, path);
  std::string text = read_at_most(path == "-" ? std::cin : file, most);
  if (text.size() > most)
    throw StoreError(StoreProblem::refused,
                     said("\"{path}\" is larger than {most} MiB.",
                          {{"path", path}, {"most", std::to_string(most >> 20)}}));
  return text;
}

}  // namespace bq::inline workflow
