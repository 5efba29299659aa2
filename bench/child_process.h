#pragma once

#include <string>
#include <vector>

/// What running a program cost.
struct ChildCost {
  int exit_code = -1;
  double seconds = 0;
  double first_line_seconds = -1;  ///< until its first line on standard output
  double peak_mb = 0;
};

ChildCost run_child(const std::vector<std::string>& command);
