#include "workflow/project_state.h"

#include <unordered_map>

#include "workflow/rows_by_id.h"

namespace bq::inline workflow {
namespace {

/// The labels of a trial as another one's table has them: acts hold on to those.
void speak_alike(Trial& trial, const LabelTable& labels) {
  LabelTable known = labels;
  std::vector<LabelId> of;
  for (LabelId id = 0; id < trial.labels.size(); ++id)
    of.push_back(known.id_of(trial.labels.text(id)));
  for (auto& run : trial.runs)
    for (auto& reading : run.readings)
      for (LabelId Reading::* label :
           {&Reading::station, &Reading::by_operator, &Reading::reason, &Reading::gauge})
        reading.*label = of[reading.*label];
  trial.labels = std::move(known);
}

}  // namespace

ProjectState::ProjectState(ProjectFile opened)
    : file(std::move(opened)),
      trial(file.load()),
      sessions(file.bench_sessions()),
      kept(file.settings()) {
  for (std::size_t i = 0; i < trial.runs.size(); ++i) revisions_.push_back(++last_revision_);
}

std::size_t ProjectState::run_index(std::int64_t id) const {
  return std::size_t(place_of(trial.runs, id) - trial.runs.begin());
}
std::size_t ProjectState::blade_index(std::int64_t id) const {
  return std::size_t(place_of(trial.blades, id) - trial.blades.begin());
}

void ProjectState::insert_run(const Run& run) {
  const auto at = std::ptrdiff_t(run_index(run.id));
  revisions_.insert(revisions_.begin() + at, ++last_revision_);
  trial.runs.insert(trial.runs.begin() + at, run);
}

void ProjectState::erase_run(std::int64_t id) {
  const auto at = std::ptrdiff_t(run_index(id));
  trial.runs.erase(trial.runs.begin() + at);
  revisions_.erase(revisions_.begin() + at);
}

void ProjectState::exchange(Trial& other) {
  std::unordered_map<std::int64_t, std::uint64_t> known;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) known[trial.runs[i].id] = revisions_[i];
  std::vector<std::uint64_t> revisions;
  for (const auto& run : other.runs) {
    const auto found = known.find(run.id);
    revisions.push_back(found == known.end() ? ++last_revision_ : found->second);
  }
  speak_alike(other, trial.labels);
  std::swap(trial, other);
  revisions_ = std::move(revisions);
}

}  // namespace bq::inline workflow
