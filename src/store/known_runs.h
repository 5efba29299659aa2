#pragma once

#include <vector>

#include "store/project_file.h"

namespace bq::inline store {

/// Inside of ProjectFile::import: a table's run that the project has already.

/// What the project says of the run with what only the table says added. StoreError (refused), with
/// the run, the fact and both values, where they say different things.
RunFacts agreed_facts(const Run& known, const Run& in_table);

/// Marks the table's readings that the project has: the same cuts, value, unit and station, each
/// reading of the project answering for one of the table. `table_labels` and `known_labels` name
/// the stations.
std::vector<bool> repeats_of(const Run& known, const LabelTable& known_labels, const Run& in_table,
                             const LabelTable& table_labels);

}  // namespace bq::inline store
