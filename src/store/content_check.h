#pragma once

#include <memory>
#include <string>
#include <vector>

#include "store/project_file.h"

namespace bq::inline store {

/// Compares what is in an open project with its checksums, on any thread and while it is worked
/// on; the project is held up for some milliseconds at a time. It does not keep the project open.
class ContentCheck {
 public:
  explicit ContentCheck(std::weak_ptr<ProjectFile::Database> database)
      : database_(std::move(database)) {}
  /// Looks at some thousand rows more. False when all was compared, when the project was closed or
  /// when it has no checksums (an older file that is only read).
  bool go_on();
  /// What is not as it was kept: "the readings of run C01". Final when go_on() said false.
  [[nodiscard]] const std::vector<std::string>& unlike() const { return unlike_; }

 private:
  std::weak_ptr<ProjectFile::Database> database_;
  std::vector<std::string> unlike_;
};

}  // namespace bq::inline store
