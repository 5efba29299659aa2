#pragma once

#include <nlohmann/json.hpp>
#include <string>

namespace bq::test {

/// What brave-quarry-cli said and how it ended.
struct CliAnswer {
  int code = -1;
  std::string out, err;
  [[nodiscard]] nlohmann::json json() const { return nlohmann::json::parse(out); }
};

/// Runs the command line's program with these arguments (a shell reads them), after what `first`
/// says to that shell.
CliAnswer run_cli(const std::string& arguments, const std::string& first = {});

}  // namespace bq::test
