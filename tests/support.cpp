#include "support.h"

#include <chrono>
#include <thread>

#include <unistd.h>

#include <atomic>
#include <fstream>
#include <iostream>
#include <sstream>

#include "workflow/source.h"

namespace bq::test {
namespace fs = std::filesystem;

Folder::Folder() {
  static std::atomic<int> count{0};
  path_ = fs::temp_directory_path() /
          ("bq-test-" + std::to_string(getpid()) + "-" + std::to_string(count++));
  fs::create_directories(path_);
}

Folder::~Folder() {
  std::error_code ignored;
  fs::permissions(path_, fs::perms::owner_all, ignored);
  fs::remove_all(path_, ignored);
}

fs::path Folder::write(const std::string& name, const std::string& bytes) const {
  std::ofstream(path_ / name, std::ios::binary) << bytes;
  return path_ / name;
}

std::string read_file(const fs::path& path) {
  std::ifstream in(path, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

TableResult table(const std::string& csv, bool skip_bad) {
  std::istringstream in(csv);
  ReadingsTableReader reader({skip_bad});
  reader.read(in, "t.csv");
  return reader.finish();
}

std::string demo_recipe() { return read_file(BQ_SOURCE_DIR "/demo/fernmoor.json"); }

Trial demo_trial() { return read_tables({BQ_SOURCE_DIR "/demo/fernmoor.csv"}, std::cin).trial; }

const Trial& demo() {
  static const Trial trial = demo_trial();
  return trial;
}
const std::vector<RunFit>& demo_fits() {
  static const std::vector<RunFit> fits = *fit_runs(demo(), {}, {});
  return fits;
}

namespace {
/// A copy of a project that the build made (tests/CMakeLists.txt).
fs::path copy_of(const char* project, const Folder& folder) {
  const auto path = folder / "demo.bquarry";
  fs::copy_file(fs::path(BQ_DEMO_DIR) / project, path);
  return path;
}
}  // namespace

fs::path demo_project(const Folder& folder) { return copy_of("demo.bquarry", folder); }
fs::path whole_demo_project(const Folder& folder) { return copy_of("whole-demo.bquarry", folder); }

Abrasive plain_stone(const std::string& name) {
  Abrasive out;
  out.name = name;
  out.measured_um = 20;
  out.rate_mm3_per_min = 3;
  return out;
}

bool wait_until(const std::function<bool()>& holds) {
  for (int i = 0; i < 6000; ++i) {
    if (holds()) return true;
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  }
  return false;
}

}  // namespace bq::test
