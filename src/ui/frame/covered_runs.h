#pragma once

#include <set>
#include <string>

#include "ui/frame/workbench.h"

namespace bq::ui {

/// Which runs are covered at the moment: of a blind plan, not done, not uncovered. Whoever reads
/// must not learn from any list which blade, steel or edge such a run's code stands for.
class CoveredRuns {
 public:
  explicit CoveredRuns(const Workbench& workbench) : workbench_(workbench) {}
  [[nodiscard]] bool covers(std::size_t run) const;
  [[nodiscard]] const std::set<std::string>& blind() const;  ///< names of blind plans' runs

 private:
  const Workbench& workbench_;
  mutable std::string plans_;  ///< the text `blind_` was read from
  mutable std::set<std::string> blind_;
};

}  // namespace bq::ui
