#include "store/readings_export.h"
#include "store/bench_json.h"

#include "quantity/csv_cell.h"
#include "store/edge_record_json.h"
#include "store/micrograph_json.h"
#include "store/plan_file.h"
#include "store/shelf_json.h"

#include <algorithm>
#include <charconv>
#include <functional>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>
#include <vector>

namespace bq::inline store {
namespace {

std::string exact(double value) {
  char buffer[40];
  const auto end = std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
  return {buffer, end};
}

std::string factor_cell(const RunFacts& facts, const std::string& name) {
  const auto found = facts.factors.find(name);
  if (found == facts.factors.end()) return {};
  if (const auto* number = std::get_if<double>(&found->second)) return exact(*number);
  return std::get<std::string>(found->second);
}

/// A column that belongs to the run: its name and its cell.
struct RunColumn {
  std::string name;
  std::function<std::string(const RunFacts&)> cell;
};

/// Angle or finish columns: one when all runs are symmetric, else left and right.
template <class Get>
void add_sides(std::vector<RunColumn>& columns, const Trial& trial, const std::string& name,
               Get get) {
  bool symmetric = true;
  for (const auto& run : trial.runs)
    if (const auto pair = get(run.facts); pair && pair->first != pair->second) symmetric = false;
  if (symmetric) {
    columns.push_back({name, [get](const RunFacts& facts) {
                         const auto pair = get(facts);
                         return pair ? exact(pair->first) : std::string();
                       }});
    return;
  }
  for (const bool left : {true, false})
    columns.push_back({name + (left ? "_left" : "_right"), [get, left](const RunFacts& facts) {
                         const auto pair = get(facts);
                         return pair ? exact(left ? pair->first : pair->second) : std::string();
                       }});
}

using Pair = std::optional<std::pair<double, double>>;

std::vector<RunColumn> run_columns(const Trial& trial) {
  std::vector<RunColumn> columns;
  columns.push_back({"blade", [](const RunFacts& f) { return f.blade; }});
  columns.push_back({"steel", [](const RunFacts& f) { return f.steel; }});
  add_sides(columns, trial, "edge_angle", [](const RunFacts& f) -> Pair {
    if (!f.geometry) return std::nullopt;
    return std::pair(f.geometry->edge().left_deg, f.geometry->edge().right_deg);
  });
  add_sides(columns, trial, "micro_angle", [](const RunFacts& f) -> Pair {
    if (!f.geometry || !f.geometry->micro()) return std::nullopt;
    return std::pair(f.geometry->micro()->left_deg, f.geometry->micro()->right_deg);
  });
  add_sides(columns, trial, "finish_um", [](const RunFacts& f) -> Pair {
    if (!f.finish) return std::nullopt;
    return std::pair(f.finish->left_um, f.finish->right_um);
  });
  columns.push_back({"medium", [](const RunFacts& f) { return f.medium; }});
  columns.push_back({"cut_mode", [](const RunFacts& f) {
                       return f.cut_mode ? std::string(name_of(*f.cut_mode)) : std::string();
                     }});
  columns.push_back({"block", [](const RunFacts& f) { return f.block; }});
  std::set<std::string> factors;
  for (const auto& run : trial.runs)
    for (const auto& [name, value] : run.facts.factors) factors.insert(name);
  for (const auto& name : factors)
    columns.push_back({name, [name](const RunFacts& f) { return factor_cell(f, name); }});
  std::erase_if(columns, [&](const RunColumn& column) {
    return std::all_of(trial.runs.begin(), trial.runs.end(), [&](const Run& run) {
      return run.readings.empty() || column.cell(run.facts).empty();
    });
  });
  return columns;
}

}  // namespace

void write_readings_csv(const Trial& trial, std::ostream& out) {
  const auto columns = run_columns(trial);
  bool station = false, by_operator = false, excluded = false, reason = false;
  for (const auto& run : trial.runs)
    for (const auto& r : run.readings) {
      station |= r.station != 0;
      by_operator |= r.by_operator != 0;
      excluded |= r.excluded;
      reason |= r.reason != 0;
    }
  out << "run";
  for (const auto& column : columns) out << ',' << csv_cell(column.name);
  out << ",cuts,reading,unit" << (station ? ",station" : "") << (by_operator ? ",operator" : "")
      << (excluded ? ",excluded" : "") << (reason ? ",reason" : "") << '\n';
  for (const auto& run : trial.runs) {
    std::string head = csv_cell(run.facts.name);
    for (const auto& column : columns) head += "," + csv_cell(column.cell(run.facts));
    for (const auto& r : run.readings) {
      out << head << ',' << r.cuts << ',' << exact(r.value) << ',' << sign_of(r.unit);
      if (station) out << ',' << csv_cell(trial.labels.text(r.station));
      if (by_operator) out << ',' << csv_cell(trial.labels.text(r.by_operator));
      if (excluded) out << ',' << (r.excluded ? '1' : '0');
      if (reason) out << ',' << csv_cell(trial.labels.text(r.reason));
      out << '\n';
    }
  }
}

namespace {

/// Cards, shelf, comparisons and histories, with the keys of a rack file.
void put_rack(nlohmann::ordered_json& root, const Trial& trial) {
  using OrderedJson = nlohmann::ordered_json;
  const auto put = [](OrderedJson& item, const char* key, const std::optional<double>& value) {
    if (value) item[key] = *value;
  };
  for (const auto& card : trial.steels) {
    OrderedJson item{{"name", card.name}};
    put(item, "hardness_hrc", card.hardness_hrc);
    put(item, "hard_phase_percent", card.hard_phase_percent);
    put(item, "bend_strength_MPa", card.bend_strength_MPa);
    item["behaviour"] = card.behaviour;
    item["toughness"] = card.toughness;
    item["note"] = card.note;
    root["steel_cards"].push_back(std::move(item));
  }
  for (const auto& card : trial.media)
    root["medium_cards"].push_back({{"name", card.name}, {"form", card.form}, {"note", card.note}});
  for (const auto& abrasive : trial.shelf)
    root["shelf"].push_back(OrderedJson::parse(abrasive_json(abrasive)));
  for (const auto& comparison : trial.comparisons)
    root["comparisons"].push_back(OrderedJson::parse(comparison_json(comparison)));
  for (const auto& m : trial.micrographs) {
    OrderedJson item = OrderedJson::parse(micrograph_json(m));
    item["id"] = m.id;
    root["micrographs"].push_back(std::move(item));
  }
  if (!trial.scales.empty())
    root["lens_scales"] = OrderedJson::parse(scales_json(trial.scales))["scales"];
  for (const auto& blade : trial.blades)
    for (const auto& record : blade.records)
      root["history"].push_back({{"blade", blade.name},
                                 {"made_at", record.made_at},
                                 {"kind", kind_of_record(record.data)},
                                 {"data", OrderedJson::parse(edge_record_json(record.data))}});
}

nlohmann::ordered_json json_of_run(const Run& run, const LabelTable& labels) {
  using OrderedJson = nlohmann::ordered_json;
  OrderedJson item;
  item["run"] = run.facts.name;
  if (!run.facts.blade.empty()) item["blade"] = run.facts.blade;
  if (!run.facts.steel.empty()) item["steel"] = run.facts.steel;
  const auto put_sides = [&](const std::string& name, double left, double right) {
    if (left == right)
      item[name] = left;
    else {
      item[name + "_left"] = left;
      item[name + "_right"] = right;
    }
  };
  if (const auto& geometry = run.facts.geometry) {
    put_sides("edge_angle", geometry->edge().left_deg, geometry->edge().right_deg);
    if (geometry->micro())
      put_sides("micro_angle", geometry->micro()->left_deg, geometry->micro()->right_deg);
  }
  if (run.facts.finish)
    put_sides("finish_um", run.facts.finish->left_um, run.facts.finish->right_um);
  if (!run.facts.medium.empty()) item["medium"] = run.facts.medium;
  if (run.facts.cut_mode) item["cut_mode"] = name_of(*run.facts.cut_mode);
  if (!run.facts.block.empty()) item["block"] = run.facts.block;
  for (const auto& [name, value] : run.facts.factors) {
    if (const auto* number = std::get_if<double>(&value))
      item["factors"][name] = *number;
    else
      item["factors"][name] = std::get<std::string>(value);
  }
  item["state"] = name_of(state_of(run));
  for (const auto& event : run.events)
    item["events"].push_back({{"made_at", event.made_at},
                              {"cuts", event.cuts},
                              {"operator", event.by_operator},
                              {"kind", kind_of(event.data)},
                              {"data", nlohmann::json::parse(bench_event_json(event.data))}});
  item["cuts_done"] = run.cuts_done;
  if (!run.plan.checkpoints.empty())
    item["plan"] = {{"checkpoints", run.plan.checkpoints},
                    {"readings_each", run.plan.readings_each}};
  item["readings"] = OrderedJson::array();
  for (const auto& r : run.readings) {
    OrderedJson entry{{"cuts", r.cuts}, {"reading", r.value}, {"unit", sign_of(r.unit)}};
    if (r.station) entry["station"] = labels.text(r.station);
    if (r.by_operator) entry["operator"] = labels.text(r.by_operator);
    if (r.excluded) entry["excluded"] = true;
    if (r.reason) entry["reason"] = labels.text(r.reason);
    item["readings"].push_back(std::move(entry));
  }
  return item;
}

std::string printed(const nlohmann::ordered_json& json) {
  return json.dump(1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

/// The object but for its closing brace; runs one at a time, for there may be a million readings.
void write_open_trial(const Trial& trial, std::string_view plan_book, std::ostream& out) {
  using OrderedJson = nlohmann::ordered_json;
  OrderedJson root;
  root["title"] = trial.title;
  root["unit"] = sign_of(trial.unit());
  root["blades"] = OrderedJson::array();
  for (const auto& blade : trial.blades)
    root["blades"].push_back({{"name", blade.name},
                              {"steel", blade.steel},
                              {"note", blade.note},
                              {"retired", blade.retired}});
  std::string text = printed(root);
  out << text.substr(0, text.find_last_not_of("\n}") + 1) << ",\n \"runs\": [";
  for (const auto& run : trial.runs)
    out << (&run == trial.runs.data() ? "\n" : ",\n") << printed(json_of_run(run, trial.labels));
  out << ']';
  OrderedJson rest = OrderedJson::object();
  put_rack(rest, trial);
  if (const OrderedJson book = OrderedJson::parse(plan_book, nullptr, false); book.is_object())
    for (const char* key : {"plans", "claims"})
      if (book.contains(key)) rest[key] = book[key];
  text = printed(rest);
  if (!rest.empty()) out << ',' << text.substr(1, text.rfind('\n') - 1);
}

}  // namespace

std::string trial_json(const Trial& trial, std::string_view plan_book) {
  std::ostringstream out;
  write_trial_json(trial, plan_book, out);
  return out.str();
}

void write_trial_json(const Trial& trial, std::string_view plan_book, std::ostream& out) {
  write_open_trial(trial, plan_book, out);
  out << "\n}\n";
}

void write_project_json(const ProjectFile& project, const Trial& trial, std::ostream& out) {
  write_open_trial(trial, project.setting(kPlanBookKey).value_or(""), out);
  out << ",\n \"record\": ";
  project.write_record(out);
  out << "\n}\n";
}

}  // namespace bq::inline store
