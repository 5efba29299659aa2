#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "bluntness/checkpoint_table.h"
#include "bluntness/run_fits.h"
#include "store/readings_table.h"
#include "trial/trial.h"

namespace bq::test {

/// A folder of its own that goes away with the test.
class Folder {
 public:
  Folder();
  ~Folder();
  [[nodiscard]] std::filesystem::path operator/(const std::string& name) const {
    return path_ / name;
  }
  std::filesystem::path write(const std::string& name, const std::string& bytes) const;

 private:
  std::filesystem::path path_;
};

std::string read_file(const std::filesystem::path& path);

/// Reads a table from text; its name in messages is "t.csv".
TableResult table(const std::string& csv, bool skip_bad = false);

/// The demo's recipe and table.
std::string demo_recipe();
Trial demo_trial();

/// The demo's trial and its fits, made once.
const Trial& demo();
const std::vector<RunFit>& demo_fits();

/// A project made from the demo, with its planned runs.
std::filesystem::path demo_project(const Folder& folder);
/// A bench stone of 20 µm that takes 3 mm³ a minute.
Abrasive plain_stone(const std::string& name);
/// Waits until it holds, a minute at most: a slow machine waits longer, it does not fail.
bool wait_until(const std::function<bool()>& holds);
/// The same with its bench: sessions, check weights, force strokes, looks for damage.
std::filesystem::path whole_demo_project(const Folder& folder);

}  // namespace bq::test
