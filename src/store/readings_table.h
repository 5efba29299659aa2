#pragma once

#include <cstdint>
#include <istream>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "store/near_names.h"
#include "trial/trial.h"

namespace bq::inline store {

struct TableOptions {
  bool skip_bad = false;  ///< take the good rows and report the others
  /// What is known of names of blades, steels and media (TableMap::names).
  NameAnswers::Known names = {};
};

/// What reading tidy CSV tables gave (FORMATS: readings table).
struct TableResult {
  Trial trial;                        ///< only to be used when ok()
  std::vector<std::string> problems;  ///< "file:line:column: what is wrong", the first 50
  std::int64_t problem_count = 0;     ///< all of them
  std::int64_t skipped = 0;           ///< rows left out because of skip_bad
  std::vector<NameDoubt> doubts;      ///< to be asked about before the trial is used; one a name
  std::vector<std::string> renamed;   ///< "steel "Marl Touhg" is taken for "Marl Tough"", one each
  bool refused = false;
  [[nodiscard]] bool ok() const { return !refused; }
};

/// Collects one or several tables into one trial. A table is refused as a whole when one row is
/// bad, unless skip_bad; a wrong header, an unfinished quote or an endless line always refuses.
class ReadingsTableReader {
 public:
  explicit ReadingsTableReader(TableOptions options = {});
  ~ReadingsTableReader();
  ReadingsTableReader(const ReadingsTableReader&) = delete;
  ReadingsTableReader& operator=(const ReadingsTableReader&) = delete;

  /// `name` stands before each problem's place.
  void read(std::istream& in, const std::string& name);
  /// Decides user factors (all numbers: continuous) and returns everything. Call once.
  TableResult finish();

 private:
  struct State;
  std::unique_ptr<State> state_;
};

}  // namespace bq::inline store
