#include "workflow/demo_project.h"

#include <algorithm>
#include <map>

#include "quantity/said.h"
#include "store/bench_json.h"
#include "store/edge_record_json.h"
#include "store/json_fields.h"
#include "store/plan_file.h"
#include "store/shelf_json.h"
#include "workflow/bench_study.h"
#include "workflow/plan_study.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

void read_cards(const JsonFields& root, Trial& trial) {
  std::size_t index = 0;
  for (const auto& item : root.list("steel_cards")) {
    const JsonFields f(item, "steel_cards[" + std::to_string(index++) + "]");
    trial.steels.push_back({f.text("name"), f.number_if("hardness_hrc", 20, 68),
                            f.number_if("hard_phase_percent", 0, 100), f.text_or("behaviour", ""),
                            f.text_or("toughness", ""), f.number_if("bend_strength_MPa", 1, 1e5),
                            f.text_or("note", "")});
  }
  index = 0;
  for (const auto& item : root.list("medium_cards")) {
    const JsonFields f(item, "medium_cards[" + std::to_string(index++) + "]");
    trial.media.push_back({f.text("name"), f.text_or("form", ""), f.text_or("note", "")});
  }
}

/// Entries of a list, each read from its own text by `parse`.
template <class Parse, class Take>
void read_entries(const JsonFields& root, const char* key, const Parse& parse, const Take& take) {
  std::size_t index = 0;
  for (const auto& item : root.list(key)) {
    const auto value = parse(item.dump());
    if (!value)
      throw JsonFault{std::string(key) + "[" + std::to_string(index) +
                      "]: " + value.refusal().reason};
    take(*value);
    ++index;
  }
}

void read_history(const JsonFields& root, Trial& trial) {
  std::size_t index = 0;
  for (const auto& item : root.list("history")) {
    const JsonFields f(item, "history[" + std::to_string(index++) + "]");
    const std::string name = f.text("blade");
    const auto data = parse_edge_record(f.text("kind"), f.raw("data").dump());
    if (!data) f.fault("data", data.refusal().reason);
    auto blade = std::find_if(trial.blades.begin(), trial.blades.end(),
                              [&](const Blade& b) { return b.name == name; });
    if (blade == trial.blades.end()) {
      Blade fresh;
      fresh.name = name;
      trial.blades.push_back(fresh);
      blade = trial.blades.end() - 1;
    }
    blade->records.push_back({0, f.text_or("made_at", ""), *data});
  }
}

/// Sharpenings under way, kept by the ids the blades got.
void keep_in_hand(std::string_view json, ProjectFile& project) {
  const auto root = parse_json(json);
  const JsonFields fields(root, "");
  const Trial trial = project.load();
  std::size_t index = 0;
  for (const auto& item : fields.list("in_hand")) {
    const JsonFields f(item, "in_hand[" + std::to_string(index++) + "]");
    const auto hand = parse_in_hand(item.dump());
    if (!hand) f.fault("sharpening", hand.refusal().reason);
    const std::string name = f.text("blade");
    for (const auto& blade : trial.blades)
      if (blade.name == name) project.set_setting(sharpening_key(blade), in_hand_json(*hand));
  }
}

/// Protocol, sessions and check weights of a bench file.
void keep_bench(std::string_view json, ProjectFile& project) {
  const auto root = parse_json(json);
  const JsonFields fields(root, "");
  const auto taken = [](const auto& read, const JsonFields& f) {
    if (!read) f.fault("data", read.refusal().reason);
    return *read;
  };
  if (fields.has("protocol")) {
    const auto protocol = parse_protocol(fields.raw("protocol").dump());
    if (!protocol) fields.fault("protocol", protocol.refusal().reason);
    project.set_setting(kProtocolKey, protocol_json(*protocol));
  }
  std::size_t index = 0;
  for (const auto& item : fields.list("sessions")) {
    const JsonFields f(item, "sessions[" + std::to_string(index++) + "]");
    BenchSession session = taken(parse_bench_session(f.text("kind"), f.raw("data").dump()), f);
    session.made_at = f.text_or("made_at", "");
    project.set_bench_session(session);
  }
  index = 0;
  for (const auto& item : fields.list("checks")) {
    const JsonFields f(item, "checks[" + std::to_string(index++) + "]");
    BenchEvent check{0, f.text_or("made_at", ""), 0, f.text_or("operator", ""),
                     taken(parse_bench_event("check weight", f.raw("data").dump()), f)};
    project.put_event(0, check);
  }
  keep_demo_bench(fields, project);
  if (fields.has("pictures")) keep_demo_pictures(fields.object("pictures"), project);
}

}  // namespace

std::optional<Refusal> add_rack(Trial& trial, std::string_view json) {
  try {
    const auto root = parse_json(json);
    const JsonFields fields(root, "");
    read_cards(fields, trial);
    read_history(fields, trial);
    read_entries(fields, "shelf", parse_abrasive,
                 [&](const Abrasive& abrasive) { trial.shelf.push_back(abrasive); });
    read_entries(fields, "comparisons", parse_comparison,
                 [&](const Comparison& comparison) { trial.comparisons.push_back(comparison); });
    return std::nullopt;
  } catch (const JsonFault& fault) {
    return Refusal{fault.reason};
  }
}

ImportCounts make_demo_project(const std::filesystem::path& path, const Recipe& recipe,
                               const Trial& readings, std::string_view rack_json,
                               std::string_view plan_text, std::string_view claims_text,
                               std::string_view world_text, std::string_view bench_text) {
  Trial trial = readings;
  std::map<std::string, Run*> known;
  for (auto& run : trial.runs) known[run.facts.name] = &run;
  std::vector<Run> planned;
  for (const auto& run : recipe.runs) {
    if (const auto found = known.find(run.facts.name); found != known.end()) {
      found->second->plan = run.plan;
      continue;
    }
    Run empty;
    empty.facts = run.facts;
    empty.plan = run.plan;
    planned.push_back(std::move(empty));
    if (!run.facts.blade.empty() && !trial.find_blade(run.facts.blade)) {
      Blade blade;
      blade.name = run.facts.blade;
      blade.steel = run.facts.steel;
      trial.blades.push_back(blade);
    }
  }
  trial.runs.insert(trial.runs.end(), planned.begin(), planned.end());
  if (!rack_json.empty())
    if (const auto refusal = add_rack(trial, rack_json))
      throw StoreError(StoreProblem::refused,
                       said("The rack file: {reason}.", {{"reason", refusal->reason}}));
  std::sort(trial.blades.begin(), trial.blades.end(),
            [](const Blade& a, const Blade& b) { return a.name < b.name; });
  ProjectFile project = ProjectFile::create(path, recipe.title);
  const ImportCounts counts = project.import(trial, KnownRuns::refuse);
  if (!rack_json.empty()) keep_in_hand(rack_json, project);
  if (!recipe.threshold.empty()) project.set_setting("threshold", recipe.threshold);
  PlanBook book;
  if (!claims_text.empty()) {
    const auto read = parse_plan_book(claims_text);
    if (!read)
      throw StoreError(StoreProblem::refused,
                       said("The claims file: {reason}.", {{"reason", read.refusal().reason}}));
    book = *read;
  }
  if (!plan_text.empty()) {
    const auto plan = parse_plan(plan_text);
    if (!plan)
      throw StoreError(StoreProblem::refused,
                       said("The plan file: {reason}.", {{"reason", plan.refusal().reason}}));
    book.plans.push_back({*plan, {}, {}});
  }
  if (!(book == PlanBook{})) project.set_setting(kPlanBookKey, plan_book_json(book));
  if (!world_text.empty()) project.set_setting(kStandInWorldKey, std::string(world_text));
  try {
    if (!bench_text.empty()) keep_bench(bench_text, project);
  } catch (const JsonFault& fault) {
    throw StoreError(StoreProblem::refused,
                     said("The bench file: {reason}.", {{"reason", fault.reason}}));
  }
  return counts;
}

}  // namespace bq::inline workflow
