#pragma once

#include <map>

#include "workflow/act_records.h"

namespace bq::inline workflow {

/// An open project on the disk and in memory. Acts change both (act_book.h), nobody else does.
class ProjectState {
 public:
  explicit ProjectState(ProjectFile opened);  ///< throws StoreError

  ProjectFile file;
  Trial trial;
  std::vector<BenchSession> sessions;       ///< oldest first
  std::map<std::string, std::string> kept;  ///< texts by their keys

  /// Another number after every change of that run's readings or steel; for caches.
  [[nodiscard]] std::uint64_t revision(std::size_t run) const { return revisions_[run]; }
  void touch(std::size_t run) { revisions_[run] = ++last_revision_; }
  [[nodiscard]] std::size_t run_index(std::int64_t id) const;    ///< its place, or that of the next
  [[nodiscard]] std::size_t blade_index(std::int64_t id) const;  ///< the same of a blade
  void insert_run(const Run& run);
  void erase_run(std::int64_t id);
  /// The other trial comes in, this one goes out; runs that are in both keep their revision.
  void exchange(Trial& other);

 private:
  std::vector<std::uint64_t> revisions_;
  std::uint64_t last_revision_ = 0;
};

/// Brings the change's record to its other side on the disk; ids and times are filled in. Throws
/// StoreError; the transaction around it (ProjectFile::together) is to be given up then.
void write(ProjectState& state, AnyChange& change, Way way);
/// The same in memory.
void remember(ProjectState& state, AnyChange& change, Way way);
/// What is on the disk for good by now need not be held by the change as well.
void let_go(AnyChange& change, Way way);

}  // namespace bq::inline workflow
