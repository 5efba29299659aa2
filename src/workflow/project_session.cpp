#include "workflow/project_session.h"

#include <memory>

#include "quantity/said.h"
#include "store/project_lock.h"
#include "store/readings_export.h"

namespace bq::inline workflow {
namespace {
constexpr const char* kThresholdKey = "threshold";
}

ProjectSession ProjectSession::open(const std::filesystem::path& path) {
  try {
    return {ProjectFile::open(path, ProjectFile::Access::write), ""};
  } catch (const StoreError& error) {
    if (error.problem() != StoreProblem::newer && error.problem() != StoreProblem::read_only) throw;
    return {ProjectFile::open(path, ProjectFile::Access::read), error.what()};
  }
}

ProjectSession ProjectSession::look_beside(const std::filesystem::path& path) {
  const std::string name = "\"" + path.filename().string() + "\"";
  return {ProjectFile::open(path, ProjectFile::Access::beside),
          is_written_elsewhere(path)
              ? said("{name} is being worked on in another window or command{holder_of}. What is "
                     "kept there is shown here as it comes; it can be changed there only.",
                     {{"name", name}, {"holder_of", holder_of(path)}})
              : said("{name} is no longer worked on elsewhere. Open it again to work on it here.",
                     {{"name", name}})};
}

ProjectSession::ProjectSession(ProjectFile file, std::string read_only_reason)
    : state_(std::move(file)), read_only_reason_(std::move(read_only_reason)) {}

std::string ProjectSession::opening_note() const {
  if (!state_.file.log_set_aside().empty())
    return said(
        "Beside this project lay what another one of its name had left behind. It was not taken "
        "in; it is kept as \"{log_set_aside}\".",
        {{"log_set_aside", state_.file.log_set_aside()}});
  if (state_.file.copy_of_older().empty()) return "";
  return said(
      "This project was written by an older version and has been brought up to date. As it was, it "
      "is kept in \"{filename}\" beside it.",
      {{"filename", state_.file.copy_of_older().filename().string()}});
}

ImportCounts ProjectSession::import(const Trial& trial) {
  const std::string what = said("importing {runs}{run}",
                                {{"runs", std::to_string(trial.runs.size())},
                                 {"run", trial.runs.size() == 1 ? said(" run") : said(" runs")}});
  ImportedTables in;
  in.tables = std::make_shared<const Trial>(trial);
  return perform<ImportedTables>(what, {}, in).counts;
}

void ProjectSession::write_json(std::ostream& out) const {
  write_project_json(state_.file, state_.trial, out);
}

std::string ProjectSession::kept(const std::string& key) const {
  const auto found = state_.kept.find(key);
  return found == state_.kept.end() ? "" : found->second;
}

void ProjectSession::set_kept(const std::string& key, const std::string& value) {
  acts_.replace(KeptText{key, kept(key)}, KeptText{key, value});
}

void ProjectSession::keep(const std::string& key, const std::string& value,
                          const std::string& what) {
  if (kept(key) != value) as_one(what, [&] { set_kept(key, value); });
}

std::string ProjectSession::threshold_text() const {
  const std::string text = kept(kThresholdKey);
  return text.empty() ? "3x" : text;
}

void ProjectSession::set_threshold(const std::string& text) {
  if (text != threshold_text())
    perform<KeptText>(said("threshold {text}", {{"text", text}}),
                      KeptText{kThresholdKey, threshold_text()}, {kThresholdKey, text});
}

void ProjectSession::check_name(const std::string& name, bool is_blade,
                                std::optional<std::size_t> self) const {
  const char* what = is_blade ? "blade" : "run";
  if (name.find_first_not_of(' ') == std::string::npos)
    throw StoreError(StoreProblem::refused, said("A {what} needs a name.", {{"what", what}}));
  const std::size_t count = is_blade ? trial().blades.size() : trial().runs.size();
  for (std::size_t i = 0; i < count; ++i)
    if (i != self && name == (is_blade ? trial().blades[i].name : trial().runs[i].facts.name))
      throw StoreError(StoreProblem::refused, said("There is already a {what} named \"{name}\".",
                                                   {{"what", what}, {"name", name}}));
}

void ProjectSession::add_blade(const Blade& blade) {
  check_name(blade.name, true, std::nullopt);
  as_one(said("adding blade {name}", {{"name", blade.name}}), [&] {
    Blade head = blade;
    head.records.clear();
    const std::int64_t id = acts_.add(BladeHead{head}).blade.id;
    for (const auto& record : blade.records) acts_.add(BladeLine{id, record});
  });
}

void ProjectSession::update_blade(std::size_t index, const Blade& blade) {
  check_name(blade.name, true, index);
  Blade before = trial().blades.at(index), after = blade;
  before.records.clear();
  after.records.clear();
  after.id = before.id;
  as_one(said("editing blade {name}", {{"name", before.name}}), [&] {
    acts_.replace(BladeHead{before}, BladeHead{after});
    // Runs of the blade's steel follow when that is changed, and those that said none; a run that
    // was of another one stays.
    if (after.steel != before.steel)
      for (const auto& run : trial().runs)
        if (run.facts.blade == after.name &&
            (run.facts.steel == before.steel || run.facts.steel.empty()))
          acts_.replace(RunSteel{run.id, run.facts.steel}, RunSteel{run.id, after.steel});
    follow_blade_name(before.name, after.name);
  });
}

/// A run of a blade whose steel is known is of that steel.
RunFacts ProjectSession::with_steel(RunFacts facts) const {
  if (facts.steel.empty())
    for (const auto& blade : trial().blades)
      if (blade.name == facts.blade) facts.steel = blade.steel;
  return facts;
}

void ProjectSession::add_run(const Run& run) {
  check_name(run.facts.name, false, std::nullopt);
  Run made = run;
  made.facts = with_steel(run.facts);
  made.readings.clear();
  perform<Run>(said("adding run {name}", {{"name", run.facts.name}}), {}, made);
}

void ProjectSession::update_run(std::size_t index, const RunFacts& asked, const RunPlan& plan) {
  check_name(asked.name, false, index);
  const Run& now = trial().runs.at(index);
  const RunHead before{now.id, now.facts, now.plan}, after{now.id, with_steel(asked), plan};
  as_one(said("editing run {name}", {{"name", before.facts.name}}), [&] {
    acts_.replace(before, after);
    follow_run_name(before.facts.name, after.facts.name);
  });
}

}  // namespace bq::inline workflow
