#pragma once

#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "bluntness/circumstances.h"
#include "workflow/answers.h"
#include "workflow/verdict.h"

namespace bq::inline workflow {

/// Refits that do not hang on limits and wishes: a slider that is dragged asks for them again and
/// again. Of one set of fits, held so that its address is its own.
struct ObjectionMemory {
  std::shared_ptr<const std::vector<RunFit>> fits;
  double threshold = 0;
  std::string medium;
  std::vector<std::optional<LifeModel>> without;  ///< each run of the table, in order
  std::optional<LifeDiagnostics> checks;
  std::optional<std::vector<Circumstance>> around;  ///< what the day and the hand did
};

/// What objections are looked for in. Pointers are not owned and not null.
struct ObjectionFacts {
  const Trial* facts;
  const LifeTable* table;  ///< of the work that was ranked for
  const LifeModel* model;  ///< of it
  const std::vector<DamageFact>* damage;
  bool rough_uses;  ///< the work has a roughest use
  RecommendWishes wishes;
  AngleConvention angles;
  ObjectionMemory* memory;  ///< may be null
};

/// Everything that speaks against the first edge of a ranking, or is not known of it, gravest
/// first. Each is a fact that another page shows; where none is found the choice stands by itself.
/// Refits the life model once for each run (up to 80 runs).
std::vector<Objection> objections_to(const Recommendation& ranking, const ObjectionFacts& known);

}  // namespace bq::inline workflow
