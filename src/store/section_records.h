#pragma once

#include "edge/section_fields.h"
#include "quantity/said.h"
#include "store/record_json.h"

namespace bq::inline store {

/// A thickness at its distance from the apex: [distance, thickness].
template <>
struct JsonValue<MeasuredThickness> : JsonPair<MeasuredThickness, &MeasuredThickness::distance_mm,
                                               &MeasuredThickness::thickness_mm> {};

template <>
struct JsonValue<GrindUntil> {
  static GrindUntil read(const nlohmann::json& value, const std::string& path, double, double);
  template <class Json>
  static Json json(const GrindUntil& until) {
    struct Writer {
      Json operator()(const UntilApex&) const { return "apex"; }
      Json operator()(const UntilThickness& u) const { return {{"thickness_mm", u.thickness_mm}}; }
      Json operator()(const UntilFacet& u) const { return {{"facet_um", u.width_um}}; }
      Json operator()(const UntilDepth& u) const { return {{"depth_mm", u.depth_mm}}; }
      Json operator()(const UntilBehindEdge& u) const {
        return {{"behind_edge_mm", u.thickness_mm}};
      }
    };
    return std::visit(Writer{}, until);
  }
};

template <>
struct Otherwise<Grind> : NothingElse<Grind> {
  static void read(const JsonFields& f, Grind& grind) {
    if (grind.angle_right_deg && grind.side != GrindSide::both)
      f.fault("angle_right_deg", said("belongs to a grind of both sides"));
  }
};

template <>
struct Otherwise<SectionPlan> : NothingElse<SectionPlan> {
  static void read(const JsonFields& f, SectionPlan& plan);
};

}  // namespace bq::inline store
