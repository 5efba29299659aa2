#include "rehearsal/recipe.h"

#include <nlohmann/json.hpp>

#include "quantity/nesting.h"
#include "quantity/said.h"
#include "stats/random.h"
#include "trial/run_plan.h"

namespace bq::inline rehearsal {
namespace {

using Json = nlohmann::json;

/// Thrown inside this file only; parse_recipe turns it into a Refusal.
struct RecipeFault {
  std::string reason;
};

[[noreturn]] void fault(const std::string& path, const std::string& what) {
  throw RecipeFault{path + ": " + what};
}

double number(const Json& object, const std::string& path, const char* key, double least,
              double most, std::optional<double> otherwise = {}) {
  const auto found = object.find(key);
  if (found == object.end()) {
    if (otherwise) return *otherwise;
    fault(path + "." + key, said("is missing"));
  }
  if (!found->is_number()) fault(path + "." + key, said("must be a number"));
  const double value = found->get<double>();
  if (!(value >= least && value <= most))
    fault(path + "." + key,
          said("must lie between {least} and {most}",
               {{"least", std::to_string(least)}, {"most", std::to_string(most)}}));
  return value;
}

std::string text(const Json& object, const std::string& path, const char* key,
                 std::optional<std::string> otherwise = {}) {
  const auto found = object.find(key);
  if (found == object.end()) {
    if (otherwise) return *otherwise;
    fault(path + "." + key, said("is missing"));
  }
  if (!found->is_string()) fault(path + "." + key, said("must be a text"));
  return found->get<std::string>();
}

const Json& list(const Json& object, const std::string& path, const char* key) {
  const auto found = object.find(key);
  if (found == object.end() || !found->is_array() || found->empty())
    fault(path + "." + key, said("must be a list with at least one entry"));
  return *found;
}

std::vector<double> numbers(const Json& object, const std::string& path, const char* key,
                            double least, double most) {
  std::vector<double> out;
  for (const auto& item : list(object, path, key)) {
    if (!item.is_number() || !(item.get<double>() >= least && item.get<double>() <= most))
      fault(path + "." + key,
            said("must hold numbers between {least} and {most}",
                 {{"least", std::to_string(least)}, {"most", std::to_string(most)}}));
    out.push_back(item.get<double>());
  }
  return out;
}

RunPlan plan_of(const Json& object, const std::string& path, const RunPlan& otherwise) {
  RunPlan plan = otherwise;
  if (object.contains("checkpoints")) {
    plan.checkpoints.clear();
    for (const double cuts : numbers(object, path, "checkpoints", 0, 1e9)) {
      if (cuts != double(std::int64_t(cuts)) ||
          (!plan.checkpoints.empty() && cuts <= double(plan.checkpoints.back())))
        fault(path + ".checkpoints", said("must be whole numbers that rise"));
      plan.checkpoints.push_back(std::int64_t(cuts));
    }
  }
  plan.readings_each = int(number(object, path, "readings_each", 1, 100, plan.readings_each));
  if (plan.checkpoints.empty()) fault(path + ".checkpoints", said("is missing"));
  return plan;
}

EdgeGeometry geometry_of(double edge_deg, std::optional<double> micro_deg,
                         const std::string& path) {
  const auto made = EdgeGeometry::make(
      BevelAngles::symmetric(edge_deg),
      micro_deg ? std::optional(BevelAngles::symmetric(*micro_deg)) : std::nullopt);
  if (!made) fault(path, made.refusal().reason);
  return *made;
}

class Reader {
 public:
  explicit Reader(const Json& root) : root_(root) {}

  Recipe read() {
    if (!root_.is_object()) fault("recipe", "must be an object { … }");
    out_.title = text(root_, "recipe", "title", "");
    out_.threshold = text(root_, "recipe", "threshold", "");
    read_media_and_steels();
    read_gauge_and_scatter();
    plan_ = root_.contains("checkpoints") ? plan_of(root_, "recipe", {}) : RunPlan{};
    if (root_.contains("design")) {
      int index = 0;
      for (const auto& design : list(root_, "recipe", "design"))
        read_design(design, "design[" + std::to_string(index++) + "]");
    }
    if (root_.contains("runs")) {
      int index = 0;
      for (const auto& run : list(root_, "recipe", "runs"))
        read_run(run, "runs[" + std::to_string(index++) + "]");
    }
    if (out_.runs.empty()) fault("recipe", said("has neither \"design\" nor \"runs\""));
    if (root_.contains("events")) read_events();
    return out_;
  }

 private:
  void read_media_and_steels() {
    for (const auto& item : list(root_, "recipe", "media")) {
      VirtualMedium medium;
      medium.name = text(item, "media[]", "name");
      const std::string path = "media[" + medium.name + "]";
      const auto mode = parse_cut_mode(text(item, path, "cut_mode", "slice"));
      if (!mode) fault(path + ".cut_mode", said("must be slice, push or chop"));
      medium.cut_mode = *mode;
      medium.stroke_mm = number(item, path, "stroke_mm", 0.01, 1e5);
      medium.wear_um2_per_m = number(item, path, "wear_um2_per_m", 0, 1e6);
      medium.tooth_life_cuts = number(item, path, "tooth_life_cuts", 1, 1e9, 400);
      out_.media[medium.name] = medium;
    }
    for (const auto& item : list(root_, "recipe", "steels")) {
      VirtualSteel steel;
      steel.name = text(item, "steels[]", "name");
      steel.wear_factor = number(item, "steels[" + steel.name + "]", "wear_factor", 1e-6, 1e6);
      out_.steels[steel.name] = steel;
    }
  }

  void read_gauge_and_scatter() {
    const Json empty = Json::object();
    const Json& gauge = root_.contains("gauge") ? root_["gauge"] : empty;
    const auto unit = parse_unit(text(gauge, "gauge", "unit", "gf"));
    if (!unit || kind_of(*unit) != UnitKind::force)
      fault("gauge.unit", said("must be gf, N, lbf or ozf"));
    out_.gauge.unit = *unit;
    out_.gauge.resolution = number(gauge, "gauge", "resolution", 1e-9, 1e6, 1);
    out_.gauge.gf_per_um = number(gauge, "gauge", "gf_per_um", 1e-6, 1e9, 100);
    const Json& scatter = root_.contains("scatter") ? root_["scatter"] : empty;
    out_.scatter.run_sd = number(scatter, "scatter", "run_sd", 0, 3, 0.12);
    out_.scatter.blade_sd = number(scatter, "scatter", "blade_sd", 0, 3, 0);
    out_.scatter.block_sd = number(scatter, "scatter", "block_sd", 0, 3, 0);
    out_.scatter.checkpoint_sd = number(scatter, "scatter", "checkpoint_sd", 0, 3, 0.03);
    out_.scatter.reading_sd = number(scatter, "scatter", "reading_sd", 0, 3, 0.05);
  }

  void check_names(const RecipeRun& run, const std::string& path) {
    if (!out_.steels.contains(run.facts.steel))
      fault(path + ".steel", said("is not among the steels"));
    if (!out_.media.contains(run.facts.medium))
      fault(path + ".medium", said("is not among the media"));
    for (const auto& other : out_.runs)
      if (other.facts.name == run.facts.name) fault(path + ".run", said("the name is used twice"));
  }

  void read_run(const Json& item, const std::string& path) {
    if (!item.is_object()) fault(path, "must be an object { … }");
    RecipeRun run;
    run.facts.name = text(item, path, "run");
    run.facts.blade = text(item, path, "blade", "");
    run.facts.steel = text(item, path, "steel");
    const double edge = number(item, path, "edge_angle", 0, 90);
    std::optional<double> micro;
    if (item.contains("micro_angle")) micro = number(item, path, "micro_angle", 0, 90);
    run.facts.geometry = geometry_of(edge, micro, path);
    run.facts.finish = Finish::both(number(item, path, "finish_um", 1e-3, 1e4));
    run.facts.medium = text(item, path, "medium");
    run.facts.block = text(item, path, "block", "");
    run.by_operator = text(item, path, "operator", "");
    run.residual_burr_um = number(item, path, "residual_burr_um", 0, 1e3, 0);
    run.planned_only = item.value("planned_only", false);
    if (item.contains("played_to")) run.played_to = number(item, path, "played_to", 0, 1e9);
    run.plan = plan_of(item, path, plan_);
    add_stations(run);
    check_names(run, path);
    run.facts.cut_mode = out_.media.at(run.facts.medium).cut_mode;
    out_.runs.push_back(std::move(run));
  }

  void add_stations(RecipeRun& run) {
    run.stations = {"middle"};
    if (root_.contains("stations")) {
      run.stations.clear();
      for (const auto& name : list(root_, "recipe", "stations"))
        run.stations.push_back(name.get<std::string>());
    }
  }

  /// Crosses steels × apex angles × finishes × replicates; edge bevels and operators take turns.
  void read_design(const Json& item, const std::string& path) {
    if (!item.is_object()) fault(path, "must be an object { … }");
    std::vector<RecipeRun> runs;
    const auto apexes = numbers(item, path, "apex_angles", 0, 90);
    const auto edges = numbers(item, path, "edge_angles", 0, 90);
    const auto finishes = numbers(item, path, "finishes_um", 1e-3, 1e4);
    const int replicates = int(number(item, path, "replicates", 1, 100, 1));
    const int blocks = int(number(item, path, "blocks", 1, 1000, 1));
    const std::string prefix = text(item, path, "prefix", "R");
    const std::string medium = text(item, path, "medium");
    int turn = 0;
    std::map<std::string, int> blades;
    const int blades_each = int(number(item, path, "blades_per_steel", 1, 1000, 4));
    for (int replicate = 0; replicate < replicates; ++replicate)
      for (const auto& steel : list(item, path, "steels"))
        for (const double apex : apexes)
          for (const double finish : finishes) {
            RecipeRun run;
            run.facts.steel = steel.get<std::string>();
            const double edge = edges[std::size_t(turn++) % edges.size()];
            run.facts.geometry =
                geometry_of(edge, edge == apex ? std::nullopt : std::optional(apex), path);
            run.facts.finish = Finish::both(finish);
            run.facts.medium = medium;
            const int serial = blades[run.facts.steel]++ % blades_each + 1;
            run.facts.blade = run.facts.steel + " " + std::to_string(serial);
            run.plan = plan_of(item, path, plan_);
            add_stations(run);
            runs.push_back(std::move(run));
          }
    stats::Random random(std::uint64_t(number(item, path, "order_seed", 0, 1e15, 1)));
    for (std::size_t i = runs.size(); i > 1; --i) std::swap(runs[i - 1], runs[random.below(i)]);
    for (std::size_t i = 0; i < runs.size(); ++i) {
      const std::string serial = std::to_string(i + 1);
      runs[i].facts.name =
          prefix + std::string(serial.size() < 2 ? 2 - serial.size() : 0, '0') + serial;
      runs[i].facts.block =
          said("day {runs}", {{"runs", std::to_string(i * std::size_t(blocks) / runs.size() + 1)}});
      runs[i].by_operator = i % 2 ? said("operator B") : said("operator A");
      check_names(runs[i], path);
      runs[i].facts.cut_mode = out_.media.at(medium).cut_mode;
      out_.runs.push_back(runs[i]);
    }
  }

  /// What goes wrong: {"run", "residual_burr_um"} or {"run", "checkpoint", "reading", "factor"} or
  /// {"run", "stop_after"} (the run ended early, at that checkpoint).
  void read_events() {
    int index = 0;
    for (const auto& event : list(root_, "recipe", "events")) {
      const std::string path = "events[" + std::to_string(index++) + "]";
      const std::string name = text(event, path, "run");
      RecipeRun* run = nullptr;
      for (auto& other : out_.runs)
        if (other.facts.name == name) run = &other;
      if (!run) fault(path + ".run", said("there is no run \"{name}\"", {{"name", name}}));
      run->residual_burr_um =
          number(event, path, "residual_burr_um", 0, 1e3, run->residual_burr_um);
      if (event.contains("factor"))
        run->slips.push_back({std::size_t(number(event, path, "checkpoint", 0, 1e4)),
                              int(number(event, path, "reading", 0, 1e4)),
                              number(event, path, "factor", 1e-3, 1e3)});
      if (event.contains("stop_after")) {
        const double stop = number(event, path, "stop_after", 0, 1e9);
        std::erase_if(run->plan.checkpoints,
                      [&](std::int64_t cuts) { return double(cuts) > stop; });
      }
    }
  }

  const Json& root_;
  Recipe out_;
  RunPlan plan_;
};

}  // namespace

Checked<Recipe> parse_recipe(std::string_view json) {
  if (too_deep(json)) return Refusal{std::string(kTooDeep)};
  try {
    const Json root = Json::parse(json);
    return Reader(root).read();
  } catch (const Json::parse_error& error) {
    std::size_t line = 1, column = 1;
    const std::size_t end = std::min<std::size_t>(error.byte ? error.byte - 1 : 0, json.size());
    for (std::size_t i = 0; i < end; ++i) {
      column = json[i] == '\n' ? 1 : column + 1;
      line += json[i] == '\n';
    }
    return Refusal{said("{line}:{column}: this is not valid JSON",
                        {{"line", std::to_string(line)}, {"column", std::to_string(column)}}),
                   end};
  } catch (const Json::exception&) {
    return Refusal{said("a value has another type than the recipe needs")};
  } catch (const RecipeFault& error) {
    return Refusal{error.reason};
  }
}

}  // namespace bq::inline rehearsal
