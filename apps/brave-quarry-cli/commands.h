#pragma once

#include <cstdint>
#include <optional>
#include <stdexcept>
#include <string>
#include <vector>

/// Exit codes of FORMATS.
enum ExitCode { kDone = 0, kUsage = 2, kRefused = 3, kSystem = 4, kNotDeterminable = 5 };

/// Thrown by a command whose input or system says no; main prints the sentence and exits with it.
class CommandEnd : public std::runtime_error {
 public:
  CommandEnd(int code, const std::string& sentence) : std::runtime_error(sentence), code_(code) {}
  [[nodiscard]] int code() const { return code_; }

 private:
  int code_;
};

struct ImportOptions {
  std::string project;
  std::vector<std::string> tables;
  bool skip_bad = false, append = false, json = false;
  std::string map;       ///< JSON file with what a table that is not tidy does not say
  std::string kind;      ///< what the tables hold; wins over the map's
  std::string sheet;     ///< of a spreadsheet; wins over the map's
  bool dry_run = false;  ///< say what would come in, write nothing
  std::string repeats;   ///< "skip" or "keep" readings the project has; empty: refuse them
};
struct ExportOptions {
  std::string source, target, card, card_of, threshold, limits, date;
  bool labels = false;
  int making = 0;  ///< of blade card_of, counted from 1; 0: the present one
  bool inclusive = false;
};
struct PairedOptions {
  std::string table;
  double level = 0.95;
  bool json = false;
};
struct StudyOptions {
  std::string table;
  bool json = false;
  // damage only
  std::optional<double> step_deg, share, bears_MPa;
  double depth_mm = 0.08;
};
struct CheckOptions {
  std::string project;
  bool json = false;
};
struct PicturesOptions {
  std::string project, folder, measure;
  std::int64_t like = 0;           ///< picture whose measures become a template
  std::vector<std::int64_t> only;  ///< pictures to measure; empty: all of edges
  bool json = false, keep = false;
};
struct FitOptions {
  std::string source, model = "best", threshold = "3x", run, interval = "delta";
  bool robust = false, json = false, skip_bad = false;
  int bootstrap = 0;
  std::uint64_t seed = 1;
  double level = 0.95;
  unsigned threads = 0;
};
struct LifeOptions {
  std::string source, threshold = "3x", match_angle, match_finish, medium, model = "best",
                      method = "joint";
  std::vector<std::string> terms{"steel", "angle", "finish"}, interactions;
  std::vector<std::string> with;  ///< further trials, looked at together
  double ratio = 1, level = 0.95;
  bool json = false, skip_bad = false, robust = false, fixed_blades = false;
};
struct SimulateOptions {
  std::string recipe;
  std::uint64_t seed = 1;
};
struct PlanOptions {
  std::string file, sheet;
  std::optional<std::uint64_t> seed;
  bool json = false, open = false;
};
struct PowerOptions {
  int runs = 0;
  double sd = 0, ratio = 1, level = 0.95;
  bool json = false;
};
struct RehearseOptions {
  std::string file;
  long plays = 2000;
  std::uint64_t seed = 1;
  unsigned threads = 0;
  bool json = false;
};
struct RecommendOptions {
  std::string source, limits, threshold;
  bool json = false, skip_bad = false;
};
struct DemoOptions {
  std::string project, recipe, readings, rack, plan, claims, bench;
};
struct EdgeFileOptions {
  std::string file;
  bool json = false;
};
struct PackageOptions {
  std::string project, target, date;
};
struct LearnOptions {
  std::string project, from, date;
  std::vector<std::string> what;
  bool json = false;
};
struct TemplateOptions {
  std::string kind, target;
};
struct VerifyOptions {
  std::string package;
  bool json = false;
};
struct SalvageOptions {
  std::string from, made;
  bool json = false;
};
struct GritOptions {
  std::vector<std::string> words;
  bool json = false;
};

// Each runs one command and returns its exit code; throws CommandEnd or bq::StoreError.
int run_import(const ImportOptions& options);
int run_export(const ExportOptions& options);
int run_check(const CheckOptions& options);
int run_package(const PackageOptions& options);
int run_salvage(const SalvageOptions& options);
int run_learn(const LearnOptions& options);
int run_template(const TemplateOptions& options);
int run_verify(const VerifyOptions& options);
int run_pictures(const PicturesOptions& options);
int run_measure(const PicturesOptions& options);
int run_measure_template(const PicturesOptions& options);
int run_fit(const FitOptions& options);
int run_life(const LifeOptions& options);
int run_simulate(const SimulateOptions& options);
int run_plan(const PlanOptions& options);
int run_power(const PowerOptions& options);
int run_rehearse(const RehearseOptions& options);
int run_recommend(const RecommendOptions& options);
int run_demo(const DemoOptions& options);
int run_section(const EdgeFileOptions& options);
int run_ladder(const EdgeFileOptions& options);
int run_clamp(const EdgeFileOptions& options);
int run_marker(const EdgeFileOptions& options);
int run_grit(const GritOptions& options);
int run_paired(const PairedOptions& options);
int run_gauge(const StudyOptions& options);
int run_damage(const StudyOptions& options);
