#include "store/section_file.h"

#include "store/json_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;
constexpr double kLong_mm = 500, kWide_um = 5e5, kLarge = 1e6;

GrindUntil until_of(const JsonFields& fields) {
  const Json& value = fields.raw("until");
  if (value.is_string()) {
    if (value.get<std::string>() != "apex")
      fields.fault("until", "must be \"apex\" or an object such as {\"thickness_mm\": 0.4}");
    return UntilApex{};
  }
  const JsonFields until = fields.object("until");
  if (until.has("thickness_mm")) return UntilThickness{until.number("thickness_mm", 0, kLong_mm)};
  if (until.has("facet_um")) return UntilFacet{until.number("facet_um", 0, kWide_um)};
  if (until.has("depth_mm")) return UntilDepth{until.number("depth_mm", 0, kLong_mm)};
  if (until.has("behind_edge_mm"))
    return UntilBehindEdge{until.number("behind_edge_mm", 0, kLong_mm)};
  fields.fault("until", "must hold thickness_mm, facet_um, depth_mm or behind_edge_mm");
}

Grind grind_of(const JsonFields& fields, std::vector<std::string>& notes) {
  Grind grind;
  const auto shape = parse_grind_shape(fields.text("op"));
  if (!shape) fields.fault("op", "must be flat, hollow or convex");
  grind.shape = *shape;
  const auto side = parse_grind_side(fields.text_or("side", "both"));
  if (!side) fields.fault("side", "must be both, left or right");
  grind.side = *side;
  grind.angle_deg = fields.number("angle_deg", -1e3, 1e3);
  grind.angle_right_deg = fields.number_if("angle_right_deg", -1e3, 1e3);
  grind.radius_mm = fields.number_if("radius_mm", 0, 1e5);
  grind.to_deg = fields.number_if("angle_to_deg", -1e3, 1e3);
  grind.until = until_of(fields);
  if (grind.angle_right_deg && grind.side != GrindSide::both)
    fields.fault("angle_right_deg", "belongs to a grind of both sides");
  for (auto& key : fields.unknown()) notes.push_back(std::move(key));
  return grind;
}

SectionPlan plan_of(const JsonFields& fields, std::vector<std::string>& notes) {
  SectionPlan plan;
  if (fields.has("profile_mm")) {
    std::size_t index = 0;
    for (const Json& point : fields.list("profile_mm")) {
      const auto [distance, thickness] = number_pair(
          point, fields.path_of("profile_mm[" + std::to_string(index++) + "]"), 0, kLong_mm);
      plan.profile.push_back({distance, thickness});
    }
    if (plan.profile.size() < 2)
      fields.fault("profile_mm", "needs at least two points [distance, thickness]");
    plan.stock_mm = fields.number_or("stock_mm", 0, kLong_mm, 2);
    plan.height_mm = fields.number_or("height_mm", 0, kLong_mm, 20);
  } else {
    plan.stock_mm = fields.number("stock_mm", 0, kLong_mm);
    plan.height_mm = fields.number("height_mm", 0, kLong_mm);
  }
  std::size_t index = 0;
  for (const Json& grind : fields.list("grinds"))
    plan.grinds.push_back(grind_of(
        JsonFields(grind, fields.path_of("grinds[" + std::to_string(index++) + "]")), notes));
  if (plan.grinds.size() > 200) fields.fault("grinds", "at most 200 grinds are taken");
  plan.apex_um = fields.number_or("apex_um", 0, kWide_um, 0);
  return plan;
}

void take_unknown(const JsonFields& fields, std::vector<std::string>& notes) {
  for (auto& key : fields.unknown()) notes.push_back(std::move(key));
}

void read_strength(const JsonFields& fields, SectionQuestion& out) {
  if (fields.has("load")) {
    const JsonFields load = fields.object("load");
    out.load = SideLoad{load.number("line_N_per_mm", 0, kLarge),
                        load.number("depth_um", 0, kWide_um) / 1000,
                        load.number_or("length_mm", 0, kLong_mm, 0)};
    if (out.load->line_N_per_mm <= 0) load.fault("line_N_per_mm", "must be above 0");
    if (out.load->depth_mm <= 0) load.fault("depth_um", "must be above 0");
    take_unknown(load, out.notes);
  }
  out.hardness_hrc = fields.number_if("hardness_hrc", 20, 68);
  if (out.hardness_hrc) out.limits.yield_MPa = *yield_MPa(*out.hardness_hrc);
  out.limits.bend_strength_MPa = fields.number_if("bend_strength_MPa", 1, 1e5);
  if (fields.has("toughness")) {
    const auto toughness = parse_toughness(fields.text("toughness"));
    if (!toughness) fields.fault("toughness", "must be tough, middling or brittle");
    if (!out.limits.bend_strength_MPa)
      out.limits.bend_strength_MPa = default_bend_strength_MPa(*toughness);
  }
}

void read_series(const JsonFields& fields, SectionQuestion& out) {
  if (fields.has("touch_ups")) {
    const JsonFields t = fields.object("touch_ups");
    TouchUp touch_up;
    touch_up.worn_width_um = t.number("worn_width_um", 0.01, 5000);
    const double edge_deg = t.number("edge_deg", 0, 80);
    touch_up.set_both(edge_deg, t.number_if("micro_deg", 0, 80));
    touch_up.micro_facet_um = t.number_or("micro_facet_um", 0.1, kWide_um, 50);
    out.touch_up = touch_up;
    out.touch_ups = int(t.number_or("count", 1, 1000, 20));
    out.thinning_limit_mm = t.number_if("limit_mm", 0, kLong_mm);
    take_unknown(t, out.notes);
  }
  if (fields.has("thinning")) {
    const JsonFields t = fields.object("thinning");
    ThinningWish wish;
    wish.behind_edge_mm = t.number("behind_edge_mm", 1e-4, 50);
    wish.blend_mm = t.number("blend_mm", 1e-3, kLong_mm);
    wish.wheel_radius_mm = t.number_if("wheel_radius_mm", 1, 1e5);
    wish.convex_turn_deg = t.number_or("convex_turn_deg", 0.01, 60, wish.convex_turn_deg);
    out.thinning = wish;
    take_unknown(t, out.notes);
  }
}

Json until_json(const GrindUntil& until) {
  struct Writer {
    Json operator()(const UntilApex&) const { return "apex"; }
    Json operator()(const UntilThickness& u) const { return {{"thickness_mm", u.thickness_mm}}; }
    Json operator()(const UntilFacet& u) const { return {{"facet_um", u.width_um}}; }
    Json operator()(const UntilDepth& u) const { return {{"depth_mm", u.depth_mm}}; }
    Json operator()(const UntilBehindEdge& u) const { return {{"behind_edge_mm", u.thickness_mm}}; }
  };
  return std::visit(Writer{}, until);
}

}  // namespace

Checked<SectionQuestion> parse_section_file(std::string_view text) {
  return read_json<SectionQuestion>(text, [](const JsonFields& fields) {
    SectionQuestion out;
    out.plan = plan_of(fields, out.notes);
    if (fields.has("compare_with")) {
      const JsonFields other = fields.object("compare_with");
      out.compare_with = plan_of(other, out.notes);
      take_unknown(other, out.notes);
    }
    std::size_t index = 0;
    for (const Json& at : fields.list("at_mm")) {
      const std::string key = "at_mm[" + std::to_string(index++) + "]";
      if (!at.is_number() || !(at.get<double>() >= 0 && at.get<double>() <= kLong_mm))
        fields.fault(key, "must lie between 0 and 500");
      out.at_mm.push_back(at.get<double>());
    }
    read_strength(fields, out);
    read_series(fields, out);
    out.edge_length_mm = fields.number_if("edge_length_mm", 0.01, 1e5);
    out.rate_mm3_per_min = fields.number_if("rate_mm3_per_min", 1e-6, 1e6);
    out.parting_depth_mm = fields.number_if("parting_depth_mm", 1e-6, kLong_mm);
    out.friction = fields.number_or("friction", 0, 10, out.friction);
    index = 0;
    for (const Json& value : fields.list("friction_by_grind")) {
      const int grind = int(index++);
      if (value.is_null()) continue;  // as the others
      if (!value.is_number() || !(value.get<double>() >= 0 && value.get<double>() <= 10))
        fields.fault("friction_by_grind[" + std::to_string(grind) + "]",
                     "must lie between 0 and 10, or be null");
      out.friction_by_grind.push_back({grind, value.get<double>()});
    }
    if (fields.has("substrate")) {
      const JsonFields s = fields.object("substrate");
      out.substrate =
          Substrate{s.number("thickness_mm", 1e-6, 1000), s.number("modulus_MPa", 1e-6, 1e6)};
      out.substrate_pressure_MPa = s.number("pressure_MPa", 1e-9, 1e6);
      take_unknown(s, out.notes);
    }
    take_unknown(fields, out.notes);
    return out;
  });
}

std::string section_plan_json(const SectionPlan& plan) {
  Json out;
  out["stock_mm"] = plan.stock_mm;
  out["height_mm"] = plan.height_mm;
  for (const auto& point : plan.profile)
    out["profile_mm"].push_back({point.distance_mm, point.thickness_mm});
  out["grinds"] = Json::array();
  for (const auto& grind : plan.grinds) {
    Json item{{"op", name_of(grind.shape)},
              {"side", name_of(grind.side)},
              {"angle_deg", grind.angle_deg},
              {"until", until_json(grind.until)}};
    if (grind.angle_right_deg) item["angle_right_deg"] = *grind.angle_right_deg;
    if (grind.radius_mm) item["radius_mm"] = *grind.radius_mm;
    if (grind.to_deg) item["angle_to_deg"] = *grind.to_deg;
    out["grinds"].push_back(item);
  }
  out["apex_um"] = plan.apex_um;
  return out.dump();
}

Checked<SectionPlan> parse_section_plan(std::string_view text) {
  return read_json<SectionPlan>(text, [](const JsonFields& fields) {
    std::vector<std::string> notes;
    return plan_of(fields, notes);
  });
}

}  // namespace bq::inline store
