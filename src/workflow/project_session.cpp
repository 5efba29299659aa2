#include "workflow/project_session.h"

#include <algorithm>
#include <map>
#include <memory>

#include "quantity/number.h"
#include "store/project_lock.h"
#include "store/readings_export.h"

namespace bq::inline workflow {

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
              ? name + " is being worked on in another window or command" + holder_of(path) +
                    ". What is kept there is shown here as it comes; it can be changed there only."
              : name + " is no longer worked on elsewhere. Open it again to work on it here."};
}

ProjectSession::ProjectSession(ProjectFile file, std::string read_only_reason)
    : file_(std::move(file)), trial_(file_.load()), read_only_reason_(std::move(read_only_reason)) {
  revisions_.assign(trial_.runs.size(), 1);
  threshold_ = file_.setting("threshold").value_or("3x");
  sessions_ = file_.bench_sessions();
}

std::string ProjectSession::opening_note() const {
  if (!file_.log_set_aside().empty())
    return "Beside this project lay what another one of its name had left behind. It was not taken "
           "in; it is kept as \"" +
           file_.log_set_aside() + "\".";
  if (file_.copy_of_older().empty()) return "";
  return "This project was written by an older version and has been brought up to date. As it was, "
         "it is kept in \"" +
         file_.copy_of_older().filename().string() + "\" beside it.";
}

std::size_t ProjectSession::run_index(std::int64_t id) const {
  const auto found = std::find_if(trial_.runs.begin(), trial_.runs.end(),
                                  [&](const Run& run) { return run.id == id; });
  return std::size_t(found - trial_.runs.begin());
}

std::size_t ProjectSession::blade_index(std::int64_t id) const {
  const auto found = std::find_if(trial_.blades.begin(), trial_.blades.end(),
                                  [&](const Blade& blade) { return blade.id == id; });
  return std::size_t(found - trial_.blades.begin());
}

void ProjectSession::read_back() {
  try {
    trial_ = file_.load();
    sessions_ = file_.bench_sessions();
    threshold_ = file_.setting("threshold").value_or("3x");
  } catch (const StoreError&) {
    // The disk does not give it back either: what is in memory is the best there is.
    return;
  }
  revisions_.resize(trial_.runs.size(), 0);
  for (auto& revision : revisions_) ++revision;
}

void ProjectSession::whole(const std::function<void()>& work) {
  bool outermost = !in_act_;
  in_act_ = true;
  try {
    file_.together(work);
  } catch (...) {
    if (outermost) {
      in_act_ = false;
      read_back();
    }
    throw;
  }
  if (outermost) in_act_ = false;
}

void ProjectSession::perform(Edit edit) {
  whole(edit.forth);
  if (group_) {
    group_->push_back(std::move(edit));
    return;
  }
  edits_.resize(done_);
  edits_.push_back(std::move(edit));
  ++done_;
}

void ProjectSession::as_one(const std::string& what, const std::function<void()>& acts) {
  if (group_) return acts();
  const auto parts = std::make_shared<std::vector<Edit>>();
  group_ = parts.get();
  const auto leave = [this](void*) { group_ = nullptr; };
  const std::unique_ptr<std::vector<Edit>, decltype(leave)> left(parts.get(), leave);
  whole(acts);
  if (parts->empty()) return;
  edits_.resize(done_);
  edits_.push_back({what,
                    [parts] {
                      for (const auto& part : *parts) part.forth();
                    },
                    [parts] {
                      for (auto part = parts->rbegin(); part != parts->rend(); ++part) part->back();
                    }});
  ++done_;
}

void ProjectSession::undo() {
  if (!can_undo()) return;
  whole(edits_[done_ - 1].back);
  --done_;
}

void ProjectSession::redo() {
  if (!can_redo()) return;
  whole(edits_[done_].forth);
  ++done_;
}

ImportCounts ProjectSession::import(const Trial& trial) {
  const auto table = std::make_shared<const Trial>(trial);
  const auto mark = std::make_shared<ProjectFile::ImportMark>();
  const auto counts = std::make_shared<ImportCounts>();
  perform({"importing " + std::to_string(trial.runs.size()) +
               (trial.runs.size() == 1 ? " run" : " runs"),
           [this, table, mark, counts] {
             *mark = file_.import_mark();
             *counts = file_.import(*table, KnownRuns::refuse);
             reload();
           },
           [this, mark] {
             file_.take_back_import(*mark);
             reload();
           }});
  return *counts;
}

void ProjectSession::reload() {
  std::map<std::int64_t, std::uint64_t> revisions;
  for (std::size_t i = 0; i < trial_.runs.size(); ++i) revisions[trial_.runs[i].id] = revisions_[i];
  trial_ = file_.load();
  // A run that is new, even under an id that was used before, is known to nobody.
  reloads_ += kRevisionsApart;
  revisions_.clear();
  for (const auto& run : trial_.runs) {
    const auto known = revisions.find(run.id);
    revisions_.push_back(known == revisions.end() ? reloads_ : known->second);
  }
}

void ProjectSession::write_json(std::ostream& out) const { write_project_json(file_, trial_, out); }

void ProjectSession::set_threshold(const std::string& text) {
  if (text == threshold_) return;
  const std::string before = threshold_;
  const auto put = [this](const std::string& value) {
    file_.set_setting("threshold", value);
    threshold_ = value;
  };
  perform({"threshold " + text, [put, text] { put(text); }, [put, before] { put(before); }});
}

void ProjectSession::check_name(const std::string& name, bool is_blade,
                                std::optional<std::size_t> self) const {
  const char* what = is_blade ? "blade" : "run";
  if (name.find_first_not_of(' ') == std::string::npos)
    throw StoreError(StoreProblem::refused, std::string("A ") + what + " needs a name.");
  const std::size_t count = is_blade ? trial_.blades.size() : trial_.runs.size();
  for (std::size_t i = 0; i < count; ++i)
    if (i != self && name == (is_blade ? trial_.blades[i].name : trial_.runs[i].facts.name))
      throw StoreError(StoreProblem::refused,
                       std::string("There is already a ") + what + " named \"" + name + "\".");
}

void ProjectSession::add_blade(const Blade& blade) {
  check_name(blade.name, true, std::nullopt);
  auto made = std::make_shared<Blade>(blade);
  perform({"adding blade " + blade.name,
           [this, made] {
             *made = file_.add_blade(*made);
             trial_.blades.push_back(*made);
           },
           [this, made] {
             file_.remove_blade(made->id);
             std::erase_if(trial_.blades, [&](const Blade& other) { return other.id == made->id; });
           }});
}

void ProjectSession::update_blade(std::size_t index, const Blade& blade) {
  check_name(blade.name, true, index);
  const Blade before = trial_.blades.at(index);
  Blade after = blade;
  after.id = before.id;
  after.records = before.records;
  // Runs of the blade's steel follow when that is changed, and those that said none; a run that was
  // of another one stays.
  std::map<std::int64_t, std::string> steels_before, steels_after;
  if (after.steel != before.steel)
    for (const auto& run : trial_.runs)
      if (run.facts.blade == before.name &&
          (run.facts.steel == before.steel || run.facts.steel.empty())) {
        steels_before[run.id] = run.facts.steel;
        steels_after[run.id] = after.steel;
      }
  const auto put = [this](const Blade& value, const std::map<std::int64_t, std::string>& steels) {
    file_.update_blade(value, steels);
    Blade& target = trial_.blades[blade_index(value.id)];
    const std::string was = target.name;
    for (std::size_t i = 0; i < trial_.runs.size(); ++i) {
      Run& run = trial_.runs[i];
      if (run.facts.blade == was) run.facts.blade = value.name;
      if (const auto steel = steels.find(run.id); steel != steels.end()) {
        run.facts.steel = steel->second;
        touch(i);
      }
    }
    auto records = std::move(target.records);
    target = value;
    target.records = std::move(records);
    follow_blade_name(was, value.name);
  };
  perform({"editing blade " + before.name, [put, after, steels_after] { put(after, steels_after); },
           [put, before, steels_before] { put(before, steels_before); }});
}

/// A run of a blade whose steel is known is of that steel.
RunFacts ProjectSession::with_steel(RunFacts facts) const {
  if (facts.steel.empty())
    for (const auto& blade : trial_.blades)
      if (blade.name == facts.blade) facts.steel = blade.steel;
  return facts;
}

void ProjectSession::add_run(const Run& run) {
  check_name(run.facts.name, false, std::nullopt);
  auto made = std::make_shared<Run>(run);
  made->facts = with_steel(run.facts);
  made->readings.clear();
  perform({"adding run " + run.facts.name,
           [this, made] {
             made->id = file_.add_run(*made);
             trial_.runs.push_back(*made);
             revisions_.push_back(1);
           },
           [this, made] {
             file_.remove_run(made->id);
             const auto index = run_index(made->id);
             trial_.runs.erase(trial_.runs.begin() + std::ptrdiff_t(index));
             revisions_.erase(revisions_.begin() + std::ptrdiff_t(index));
           }});
}

void ProjectSession::update_run(std::size_t index, const RunFacts& asked, const RunPlan& plan) {
  check_name(asked.name, false, index);
  const RunFacts facts = with_steel(asked);
  const std::int64_t id = trial_.runs.at(index).id;
  const auto put = [this, id](const RunFacts& f, const RunPlan& p) {
    file_.update_run(id, f, p);
    const auto at = run_index(id);
    const std::string was = trial_.runs[at].facts.name;
    trial_.runs[at].facts = f;
    follow_run_name(was, f.name);
    trial_.runs[at].plan = p;
    touch(at);
  };
  const RunFacts facts_before = trial_.runs[index].facts;
  const RunPlan plan_before = trial_.runs[index].plan;
  perform({"editing run " + facts_before.name, [put, facts, plan] { put(facts, plan); },
           [put, facts_before, plan_before] { put(facts_before, plan_before); }});
}

}  // namespace bq::inline workflow
