#include "store/section_file.h"

#include "quantity/said.h"
#include "store/section_records.h"

namespace bq::inline store {

GrindUntil JsonValue<GrindUntil>::read(const nlohmann::json& value, const std::string& path, double,
                                       double) {
  if (value.is_string()) {
    if (value.get<std::string>() != "apex")
      throw JsonFault{path + ": must be \"apex\" or an object such as {\"thickness_mm\": 0.4}"};
    return UntilApex{};
  }
  const JsonFields until(value, path);
  constexpr double kMost_mm = kLongestSection_mm;
  if (until.has("thickness_mm")) return UntilThickness{until.number("thickness_mm", 0, kMost_mm)};
  if (until.has("facet_um")) return UntilFacet{until.number("facet_um", 0, kWidestFacet_um)};
  if (until.has("depth_mm")) return UntilDepth{until.number("depth_mm", 0, kMost_mm)};
  if (until.has("behind_edge_mm"))
    return UntilBehindEdge{until.number("behind_edge_mm", 0, kMost_mm)};
  throw JsonFault{said("{path}: must hold thickness_mm, facet_um, depth_mm or behind_edge_mm",
                       {{"path", path}})};
}

void Otherwise<SectionPlan>::read(const JsonFields& f, SectionPlan& plan) {
  if (!f.has("profile_mm")) {
    for (const char* blank : {"stock_mm", "height_mm"})
      if (!f.has(blank)) f.fault(blank, said("is missing"));
  } else if (plan.profile.size() < 2) {
    f.fault("profile_mm", said("needs at least two points [distance, thickness]"));
  }
  if (plan.grinds.size() > 200) f.fault("grinds", said("at most 200 grinds are taken"));
}

namespace {

using Json = nlohmann::json;
constexpr double kLong_mm = kLongestSection_mm, kWide_um = kWidestFacet_um, kLarge = 1e6;

void read_strength(const JsonFields& fields, SectionQuestion& out) {
  if (fields.has("load")) {
    const JsonFields load = fields.object("load");
    out.load = SideLoad{load.number("line_N_per_mm", 0, kLarge),
                        load.number("depth_um", 0, kWide_um) / 1000,
                        load.number_or("length_mm", 0, kLong_mm, 0)};
    if (out.load->line_N_per_mm <= 0) load.fault("line_N_per_mm", said("must be above 0"));
    if (out.load->depth_mm <= 0) load.fault("depth_um", said("must be above 0"));
    load.end();
  }
  out.hardness_hrc = fields.number_if("hardness_hrc", 20, 68);
  if (out.hardness_hrc) out.limits.yield_MPa = *yield_MPa(*out.hardness_hrc);
  out.limits.bend_strength_MPa = fields.number_if("bend_strength_MPa", 1, 1e5);
  if (fields.has("toughness")) {
    const auto toughness = parse_toughness(fields.text("toughness"));
    if (!toughness) fields.fault("toughness", said("must be tough, middling or brittle"));
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
    t.end();
  }
  if (fields.has("thinning")) {
    const JsonFields t = fields.object("thinning");
    ThinningWish wish;
    wish.behind_edge_mm = t.number("behind_edge_mm", 1e-4, 50);
    wish.blend_mm = t.number("blend_mm", 1e-3, kLong_mm);
    wish.wheel_radius_mm = t.number_if("wheel_radius_mm", 1, 1e5);
    wish.convex_turn_deg = t.number_or("convex_turn_deg", 0.01, 60, wish.convex_turn_deg);
    out.thinning = wish;
    t.end();
  }
}

}  // namespace

Checked<SectionQuestion> parse_section_file(std::string_view text) {
  return read_json<SectionQuestion>(text, [](const JsonFields& file) {
    SectionQuestion out;
    const JsonFields fields = file.noting(out.notes);
    read_fields(fields, out.plan);
    if (fields.has("compare_with"))
      out.compare_with = read_record<SectionPlan>(fields.object("compare_with"));
    std::size_t index = 0;
    for (const Json& at : fields.list("at_mm")) {
      const std::string key = "at_mm[" + std::to_string(index++) + "]";
      if (!at.is_number() || !(at.get<double>() >= 0 && at.get<double>() <= kLong_mm))
        fields.fault(key, said("must lie between 0 and 500"));
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
                     said("must lie between 0 and 10, or be null"));
      out.friction_by_grind.push_back({grind, value.get<double>()});
    }
    if (fields.has("substrate")) {
      const JsonFields s = fields.object("substrate");
      out.substrate =
          Substrate{s.number("thickness_mm", 1e-6, 1000), s.number("modulus_MPa", 1e-6, 1e6)};
      out.substrate_pressure_MPa = s.number("pressure_MPa", 1e-9, 1e6);
      s.end();
    }
    fields.end();
    return out;
  });
}

std::string section_plan_json(const SectionPlan& plan) { return compact_text(record_json(plan)); }

Checked<SectionPlan> parse_section_plan(std::string_view text) {
  return read_json<SectionPlan>(text, read_record<SectionPlan>);
}

}  // namespace bq::inline store
