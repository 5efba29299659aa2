// Project files whose cells hold what no program of ours writes, and whose bytes were damaged:
// opened or refused with a sentence; what is read otherwise than it was kept, `check` tells; a
// salvage ends and makes a project. The input is a list of changes, so that most of them get past
// SQLite and into the readers.
#include <SQLiteCpp/SQLiteCpp.h>
#include <fuzzer/FuzzedDataProvider.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>
#include <sstream>

#include "store/bench_json.h"
#include "store/project_file.h"
#include "store/project_salvage.h"
#include "store/project_schema.h"

using namespace bq;
namespace fs = std::filesystem;

namespace {

fs::path folder() {
  static const fs::path made = [] {
    const fs::path shared = "/dev/shm";
    fs::path out = (fs::exists(shared) ? shared : fs::temp_directory_path()) /
                   ("bq-fuzz-project-" + std::to_string(getpid()));
    fs::create_directories(out);
    return out;
  }();
  return made;
}

std::string bytes_of(const fs::path& path) {
  std::ifstream in(path, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

/// Something in every table.
std::string whole_project() {
  const fs::path path = folder() / "whole.bquarry";
  fs::remove(path);
  {
    ProjectFile file = ProjectFile::create(path, "fuzz");
    Blade blade{0, "B1", "Marl", "", false, {}};
    blade = file.add_blade(blade);
    file.add_edge_records(blade.id, {{0, "2026-01-01T00:00:00Z", NoteRecord{"sharp"}}});
    SteelCard steel;
    steel.name = "Marl";
    file.set_steel_card(steel);
    MediumCard medium;
    medium.name = "coir";
    file.set_medium_card(medium);
    Abrasive stone;
    stone.name = "Grey";
    file.set_abrasive(stone);
    Comparison comparison;
    comparison.name = "strop";
    file.set_comparison(comparison);
    bq::Run run;
    run.facts.name = "R1";
    run.facts.blade = "B1";
    run.facts.factors = {{"shift", "late"}};
    run.plan.checkpoints = {0, 10, 20};
    const std::int64_t id = file.add_run(run);
    LabelTable labels;
    for (int i = 0; i < 12; ++i) {
      Reading reading;
      reading.cuts = 10 * (i / 4);
      reading.value = 300 + 7 * i;
      file.put_reading(id, reading, labels);
      BenchEvent event;
      event.data = LookEvent{};
      file.put_event(id, event);
      PictureFile picture{0, "look.png", "png", "not a picture"};
      if (i == 5) file.put_picture(picture);
      ForceStroke stroke;
      stroke.force_N.assign(40, 1.5F);
      if (i == 6) file.put_stroke(id, stroke);
    }
    file.set_bench_session({});
  }
  std::string out = bytes_of(path);
  fs::remove(path);
  return out;
}

void change_cells(FuzzedDataProvider& input, const fs::path& path) {
  SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
  db.exec("PRAGMA ignore_check_constraints = ON");
  db.exec("PRAGMA synchronous = OFF");
  db.exec("PRAGMA journal_mode = MEMORY");
  const auto& schema = schema_of_version(ProjectFile::kVersion);
  for (int changes = 0; changes < 8 && input.remaining_bytes() > 4; ++changes) {
    const SchemaEntry& table =
        schema[input.ConsumeIntegralInRange<std::size_t>(0, schema.size() - 1)];
    if (table.type != "table") continue;
    const std::string column =
        table.columns[input.ConsumeIntegralInRange<std::size_t>(0, table.columns.size() - 1)];
    const std::string key = table.columns.front();
    try {
      SQLite::Statement change(db, "UPDATE " + table.name + " SET " + column + " = ? WHERE " + key +
                                       " = (SELECT " + key + " FROM " + table.name +
                                       " LIMIT 1 OFFSET " +
                                       std::to_string(input.ConsumeIntegralInRange(0, 12)) + ")");
      switch (input.ConsumeIntegralInRange(0, 4)) {
        case 0:
          change.bind(1);
          break;
        case 1:
          change.bind(1, input.ConsumeIntegral<std::int64_t>());
          break;
        case 2:
          change.bind(1, input.ConsumeFloatingPoint<double>());
          break;
        case 3: {
          const std::string blob = input.ConsumeRandomLengthString(200);
          change.bind(1, blob.data(), int(blob.size()));
          break;
        }
        default:
          change.bind(1, input.ConsumeRandomLengthString(400));
      }
      change.exec();
    } catch (const SQLite::Exception&) {  // NOT NULL, a primary key: stays as it was
    }
  }
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const std::string whole = whole_project();
  static const fs::path path = folder() / "p.bquarry", saved = folder() / "s.bquarry";
  static const std::string truth = [] {
    std::ofstream(path, std::ios::binary) << whole;
    std::ostringstream out;
    ProjectFile::open(path, ProjectFile::Access::read).write_record(out);
    return out.str();
  }();
  FuzzedDataProvider input(data, size);
  std::string bytes = whole;
  const int flips = input.ConsumeIntegralInRange(0, 3);
  for (int i = 0; i < flips; ++i)
    bytes[input.ConsumeIntegralInRange<std::size_t>(100, bytes.size() - 1)] =
        input.ConsumeIntegral<char>();
  std::ofstream(path, std::ios::binary) << bytes;
  try {
    change_cells(input, path);
  } catch (const SQLite::Exception&) {  // too damaged to be changed further
  }
  try {
    const ProjectFile file = ProjectFile::open(path, ProjectFile::Access::read);
    const auto problems = file.check();
    std::ostringstream out;
    file.write_record(out);
    if (problems.empty() && out.str() != truth) __builtin_trap();  // changed in silence
    (void)file.load();
  } catch (const StoreError& error) {
    if (std::string_view(error.what()).empty()) __builtin_trap();
  }
  try {
    fs::remove(saved);
    (void)salvage_project(path, saved);
    if (!ProjectFile::open(saved, ProjectFile::Access::write).writable()) __builtin_trap();
  } catch (const StoreError& error) {
    if (std::string_view(error.what()).empty()) __builtin_trap();
  }
  return 0;
}
