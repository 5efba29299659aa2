#pragma once

#include <string>

#include "store/project_file.h"

namespace bq::inline workflow {

/// An act that cannot be done as asked: nothing was changed.
[[noreturn]] inline void refuse(const std::string& sentence) {
  throw StoreError(StoreProblem::refused, sentence);
}

}  // namespace bq::inline workflow
