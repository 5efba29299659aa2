#include "store/known_runs.h"

#include <cmath>
#include <map>
#include <tuple>

#include "edge/edge_geometry.h"
#include "quantity/said.h"

namespace bq::inline store {
namespace {

/// Angles in degrees and finishes in µm, as tables write them.
constexpr double kSame = 1e-6;

bool same(const BevelAngles& a, const BevelAngles& b) {
  return std::abs(a.left_deg - b.left_deg) < kSame && std::abs(a.right_deg - b.right_deg) < kSame;
}

bool same(const EdgeGeometry& a, const EdgeGeometry& b) {
  return same(a.edge(), b.edge()) && a.micro().has_value() == b.micro().has_value() &&
         (!a.micro() || same(*a.micro(), *b.micro()));
}

bool same(const Finish& a, const Finish& b) {
  return std::abs(a.left_um - b.left_um) < kSame && std::abs(a.right_um - b.right_um) < kSame;
}

[[noreturn]] void refuse(const std::string& run, const std::string& fact, const std::string& there,
                         const std::string& here) {
  throw StoreError(StoreProblem::refused,
                   said("The {fact} of run \"{run}\" is {there} in the project and {here} in the "
                        "table: these are not readings of one run. Nothing was imported.",
                        {{"fact", fact}, {"run", run}, {"there", there}, {"here", here}}));
}

void agree_text(const std::string& run, const char* fact, std::string& known,
                const std::string& in_table) {
  if (in_table.empty()) return;
  if (known.empty()) known = in_table;
  if (known != in_table) refuse(run, fact, "\"" + known + "\"", "\"" + in_table + "\"");
}

template <class Value, class Same, class Words>
void agree(const std::string& run, const char* fact, std::optional<Value>& known,
           const std::optional<Value>& in_table, Same same_value, Words in_words) {
  if (!in_table) return;
  if (!known) known = in_table;
  if (!same_value(*known, *in_table)) refuse(run, fact, in_words(*known), in_words(*in_table));
}

}  // namespace

RunFacts agreed_facts(const Run& known, const Run& in_table) {
  RunFacts out = known.facts;
  const RunFacts& table = in_table.facts;
  const std::string& run = out.name;
  agree_text(run, "blade", out.blade, table.blade);
  agree_text(run, "steel", out.steel, table.steel);
  agree_text(run, "medium", out.medium, table.medium);
  agree_text(run, "block", out.block, table.block);
  agree(
      run, "edge", out.geometry, table.geometry,
      [](const auto& a, const auto& b) { return same(a, b); },
      [](const auto& g) { return print_geometry(g, AngleConvention::per_side); });
  agree(
      run, "finish", out.finish, table.finish,
      [](const auto& a, const auto& b) { return same(a, b); },
      [](const Finish& f) { return print_finish(f); });
  agree(run, "cut mode", out.cut_mode, table.cut_mode, std::equal_to<>(),
        [](CutMode mode) { return std::string(name_of(mode)); });
  for (const auto& [name, value] : table.factors) {
    const auto there = out.factors.try_emplace(name, value).first;
    if (print_factor_value(there->second) != print_factor_value(value))
      refuse(run, name, "\"" + print_factor_value(there->second) + "\"",
             "\"" + print_factor_value(value) + "\"");
  }
  if (!known.readings.empty() && !in_table.readings.empty() &&
      known.readings.front().unit != in_table.readings.front().unit)
    refuse(run, "unit", std::string(sign_of(known.readings.front().unit)),
           std::string(sign_of(in_table.readings.front().unit)));
  return out;
}

std::vector<bool> repeats_of(const Run& known, const LabelTable& known_labels, const Run& in_table,
                             const LabelTable& table_labels) {
  std::map<std::tuple<std::int64_t, double, Unit, std::string>, int> there;
  for (const auto& r : known.readings)
    ++there[{r.cuts, r.value, r.unit, std::string(known_labels.text(r.station))}];
  std::vector<bool> out;
  out.reserve(in_table.readings.size());
  for (const auto& r : in_table.readings) {
    const auto found =
        there.find({r.cuts, r.value, r.unit, std::string(table_labels.text(r.station))});
    out.push_back(found != there.end() && found->second-- > 0);
  }
  return out;
}

}  // namespace bq::inline store
