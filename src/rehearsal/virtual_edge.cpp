#include "rehearsal/virtual_edge.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>
#include <numbers>

#include "quantity/said.h"
#include "rehearsal/virtual_bench.h"

namespace bq::inline rehearsal {
namespace {

using Json = nlohmann::json;

/// FNV-1a over words and numbers: a stream of random numbers for every thing that has a name.
std::uint64_t stream_of(const VirtualEdge& edge, std::uint64_t kind, std::uint64_t index) {
  std::uint64_t hash = 0xcbf29ce484222325ULL;
  const auto add = [&](std::uint64_t byte) { hash = (hash ^ (byte & 0xff)) * 0x100000001b3ULL; };
  for (const char c : edge.run) add(std::uint8_t(c));
  for (const std::uint64_t number : {kind, edge.sharpened, index})
    for (int i = 0; i < 8; ++i) add(number >> (8 * i));
  return hash;
}

double draw(const VirtualEdge& edge, std::uint64_t kind, std::uint64_t index) {
  return stats::Random(edge.seed, stream_of(edge, kind, index)).normal();
}

double in_range(const Json& json, const char* key, double least, double most, double otherwise) {
  const auto found = json.find(key);
  if (found == json.end()) return otherwise;
  if (!found->is_number()) throw Refusal{said("{key}: a number is wanted", {{"key", key}})};
  const double value = found->get<double>();
  if (!(value >= least && value <= most))
    throw Refusal{said("{key}: out of range", {{"key", key}})};
  return value;
}

}  // namespace

std::string virtual_edge_json(const VirtualEdge& e) {
  Json out{{"run", e.run},
           {"sharpened", e.sharpened},
           {"seed", e.seed},
           {"cuts", e.cuts},
           {"edge_angle_left", e.geometry.edge().left_deg},
           {"edge_angle_right", e.geometry.edge().right_deg},
           {"finish_um_left", e.finish.left_um},
           {"finish_um_right", e.finish.right_um},
           {"wear_factor", e.wear_factor},
           {"residual_burr_um", e.residual_burr_um},
           {"cut_mode", name_of(e.medium.cut_mode)},
           {"stroke_mm", e.medium.stroke_mm},
           {"wear_um2_per_m", e.medium.wear_um2_per_m},
           {"tooth_life_cuts", e.medium.tooth_life_cuts},
           {"unit", sign_of(e.gauge.unit)},
           {"resolution", e.gauge.resolution},
           {"gf_per_um", e.gauge.gf_per_um},
           {"slice_tooth_gain", e.gauge.slice_tooth_gain},
           {"push_tooth_loss", e.gauge.push_tooth_loss},
           {"run_sd", e.scatter.run_sd},
           {"checkpoint_sd", e.scatter.checkpoint_sd},
           {"reading_sd", e.scatter.reading_sd},
           {"severing_N_per_um", e.severing_N_per_um},
           {"stiffness_N_per_mm3", e.stiffness_N_per_mm3},
           {"friction", e.friction},
           {"depth_mm", e.depth_mm},
           {"engaged_mm", e.engaged_mm}};
  if (const auto micro = e.geometry.micro()) {
    out["micro_angle_left"] = micro->left_deg;
    out["micro_angle_right"] = micro->right_deg;
  }
  if (e.check_weight) out["check_weight"] = *e.check_weight;
  return out.dump(1) + "\n";
}

Checked<VirtualEdge> parse_virtual_edge(std::string_view text) {
  const Json json = Json::parse(text, nullptr, false);
  if (json.is_discarded() || !json.is_object()) return Refusal{said("no JSON object")};
  try {
    VirtualEdge e;
    const auto number = [&](const char* key, double least, double most, double otherwise) {
      return in_range(json, key, least, most, otherwise);
    };
    e.run = json.value("run", std::string());
    e.sharpened = std::uint64_t(number("sharpened", 0, 1e9, 0));
    e.seed = json.value("seed", std::uint64_t(1));
    e.cuts = std::int64_t(number("cuts", 0, 1e12, 0));
    std::optional<BevelAngles> micro;
    if (json.contains("micro_angle_left"))
      micro = BevelAngles{number("micro_angle_left", 0.1, 80, 0),
                          number("micro_angle_right", 0.1, 80, 0)};
    const auto geometry = EdgeGeometry::make(
        {number("edge_angle_left", 0, 80, 15), number("edge_angle_right", 0, 80, 15)}, micro);
    if (!geometry) return geometry.refusal();
    e.geometry = *geometry;
    e.finish = {number("finish_um_left", 0.01, 2000, 6), number("finish_um_right", 0.01, 2000, 6)};
    e.wear_factor = number("wear_factor", 1e-6, 1e6, 1);
    e.residual_burr_um = number("residual_burr_um", 0, 1000, 0);
    const auto mode = parse_cut_mode(json.value("cut_mode", std::string("slice")));
    if (!mode) return Refusal{said("cut_mode: slice, push or chop")};
    e.medium.cut_mode = *mode;
    e.medium.stroke_mm = number("stroke_mm", 1, 1e5, e.medium.stroke_mm);
    e.medium.wear_um2_per_m = number("wear_um2_per_m", 0, 1e6, e.medium.wear_um2_per_m);
    e.medium.tooth_life_cuts = number("tooth_life_cuts", 0.1, 1e12, e.medium.tooth_life_cuts);
    const auto unit = parse_unit(json.value("unit", std::string("gf")));
    if (!unit || kind_of(*unit) != UnitKind::force) return Refusal{said("unit: a force")};
    e.gauge.unit = *unit;
    e.gauge.resolution = number("resolution", 1e-6, 1e6, e.gauge.resolution);
    e.gauge.gf_per_um = number("gf_per_um", 1e-6, 1e9, e.gauge.gf_per_um);
    e.gauge.slice_tooth_gain = number("slice_tooth_gain", 0, 100, e.gauge.slice_tooth_gain);
    e.gauge.push_tooth_loss = number("push_tooth_loss", 0, 100, e.gauge.push_tooth_loss);
    e.scatter.run_sd = number("run_sd", 0, 3, e.scatter.run_sd);
    e.scatter.checkpoint_sd = number("checkpoint_sd", 0, 3, e.scatter.checkpoint_sd);
    e.scatter.reading_sd = number("reading_sd", 0, 3, e.scatter.reading_sd);
    if (json.contains("check_weight")) e.check_weight = number("check_weight", 1e-6, 1e9, 0);
    e.severing_N_per_um = number("severing_N_per_um", 0, 1e6, e.severing_N_per_um);
    e.stiffness_N_per_mm3 = number("stiffness_N_per_mm3", 0, 1e6, e.stiffness_N_per_mm3);
    e.friction = number("friction", 0, 10, e.friction);
    e.depth_mm = number("depth_mm", 0.01, 1000, e.depth_mm);
    e.engaged_mm = number("engaged_mm", 0.01, 10000, e.engaged_mm);
    return e;
  } catch (const Refusal& refusal) {
    return refusal;
  } catch (const Json::exception&) {
    return Refusal{said("a value of the wrong kind")};
  }
}

VirtualEdge virtual_edge(const Recipe& recipe, const RecipeRun& run, std::uint64_t seed,
                         std::int64_t cuts) {
  VirtualEdge e;
  e.run = run.facts.name;
  e.geometry = *run.facts.geometry;
  e.finish = *run.facts.finish;
  e.wear_factor = recipe.steels.at(run.facts.steel).wear_factor * run.wear_scale;
  e.residual_burr_um = run.residual_burr_um;
  e.medium = recipe.media.at(run.facts.medium);
  if (run.facts.cut_mode) e.medium.cut_mode = *run.facts.cut_mode;
  e.gauge = recipe.gauge;
  e.scatter = recipe.scatter;
  e.seed = seed;
  e.cuts = cuts;
  return e;
}

double run_factor(const VirtualEdge& edge) {
  return std::exp(edge.scatter.run_sd * draw(edge, 1, 0));
}

VirtualBlade blade_of(const VirtualEdge& edge) {
  return {{edge.geometry, edge.finish, edge.wear_factor * run_factor(edge), edge.residual_burr_um},
          edge.medium,
          edge.gauge};
}

double gauge_reading(const VirtualEdge& edge, int index) {
  const auto rounded = [&](double value) {
    return std::max(1.0, std::round(value / edge.gauge.resolution)) * edge.gauge.resolution;
  };
  const auto at = std::uint64_t(edge.cuts) << 20 | std::uint64_t(index & 0xfffff);
  // A weight does not scatter as an edge does.
  if (edge.check_weight) return rounded(*edge.check_weight * std::exp(0.004 * draw(edge, 4, at)));
  const double level =
      blade_of(edge).reading_gf(double(edge.cuts)) *
      std::exp(edge.scatter.checkpoint_sd * draw(edge, 2, std::uint64_t(edge.cuts)));
  return rounded(convert(level * std::exp(edge.scatter.reading_sd * draw(edge, 3, at)), Unit::gf,
                         edge.gauge.unit));
}

StrokeForce stroke_force(const VirtualEdge& edge) {
  const double effective_um = blade_of(edge).reading_gf(double(edge.cuts)) / edge.gauge.gf_per_um;
  // A plain wedge pushed to its depth, both sides: K·½·tan θ·(tan θ + μ)·D² each (DOMAIN §1).
  double per_mm = 0;
  for (const double angle : {edge.geometry.edge().left_deg, edge.geometry.edge().right_deg}) {
    const double slope = std::tan(angle * std::numbers::pi / 180);
    per_mm += 0.5 * edge.stiffness_N_per_mm3 * slope * (slope + edge.friction) * edge.depth_mm *
              edge.depth_mm;
  }
  return {edge.severing_N_per_um * effective_um, per_mm * edge.engaged_mm};
}

}  // namespace bq::inline rehearsal
