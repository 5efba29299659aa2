#pragma once

#include "edge/section_fields.h"
#include "quantity/field.h"
#include "trial/edge_record.h"
#include "trial/shelf_fields.h"

namespace bq::inline trial {

inline constexpr double kFarOnEdge_mm = 1e5;

constexpr auto fields_of(Told<OutlineRecord>) {
  using R = OutlineRecord;
  return std::tuple(field<&R::origin>("origin").always().says("where it is from"),
                    field<&R::points>("points_mm")
                        .within(-kFarOnEdge_mm, kFarOnEdge_mm, "mm")
                        .always()
                        .says("", "[x, y] each"));
}

constexpr auto fields_of(Told<AngleRecord>) {
  using R = AngleRecord;
  return std::tuple(field<&R::side>("side").word(parse_edge_side, 2).must(),
                    field<&R::at_mm>("at_mm")
                        .within(-kFarOnEdge_mm, kFarOnEdge_mm, "mm")
                        .must()
                        .says("place", "from the heel"),
                    field<&R::angle_deg>("angle_deg")
                        .within(0, 80, "°")
                        .must()
                        .says("angle per side", "from the centre plane"),
                    field<&R::plus_minus_deg>("plus_minus_deg")
                        .within(0, 80, "°")
                        .always()
                        .says("give or take", "95 % half-width; 0: not known"),
                    field<&R::method>("method").always().says("how it was measured"),
                    field<&R::bevel>("bevel")
                        .word(parse_measured_bevel, 3)
                        .says("which bevel", "absent: not said"));
}

constexpr auto fields_of(Told<ThicknessRecord>) {
  using R = ThicknessRecord;
  return std::tuple(
      field<&R::at_mm>("at_mm")
          .within(-kFarOnEdge_mm, kFarOnEdge_mm, "mm")
          .must()
          .says("place", "from the heel"),
      field<&R::distance_mm>("distance_mm").within(0, 500, "mm").must().says("from the apex"),
      field<&R::thickness_mm>("thickness_mm").within(0, 50, "mm").must().says("thick there"));
}

constexpr auto fields_of(Told<FindingRecord>) {
  using R = FindingRecord;
  return std::tuple(field<&R::check>("check").word(parse_intake_check, kIntakeChecks).must(),
                    field<&R::trouble>("trouble").must(),
                    field<&R::at_mm>("at_mm")
                        .within(-kFarOnEdge_mm, kFarOnEdge_mm, "mm")
                        .says("Place", "from the heel"),
                    field<&R::size_mm>("size_mm").within(0, 500, "mm").says("Size"),
                    field<&R::note>("note").always());
}

constexpr auto fields_of(Told<SpotRecord>) {
  using R = SpotRecord;
  return std::tuple(
      field<&R::kind>("kind").word(parse_spot_kind, 4).must(),
      field<&R::side>("side").word(parse_edge_side, 2).says("", "absent: on both"),
      field<&R::at_mm>("at_mm")
          .within(-kFarOnEdge_mm, kFarOnEdge_mm, "mm")
          .must()
          .says("place", "from the heel"),
      field<&R::size_um>("size_um").within(0, 1e6, "µm").always().says("size", "0: not measured"),
      field<&R::cleared>("cleared").always().says("it was there and is gone"),
      field<&R::note>("note").always());
}

constexpr auto fields_of(Told<SectionRecord>) {
  using R = SectionRecord;
  return std::tuple(field<&R::plan>("plan").must(), field<&R::note>("note").always());
}

/// Its object is the sharpening's own.
constexpr auto fields_of(Told<SharpeningRecord>) {
  return std::tuple(field<&SharpeningRecord::sharpening>("sharpening").flat());
}

constexpr auto fields_of(Told<SettingRecord>) {
  using R = SettingRecord;
  constexpr double kFar = kFarOnEdge_mm;
  return std::tuple(
      field<&R::angle_deg>("angle_deg")
          .within(0, 80, "°")
          .must()
          .says("angle per side", "at the held station"),
      field<&R::pivot_x_mm>("pivot_x_mm").within(-kFar, kFar, "mm").always(),
      field<&R::pivot_lateral_mm>("pivot_lateral_mm").within(-kFar, kFar, "mm").always(),
      field<&R::pivot_height_mm>("pivot_height_mm").within(-kFar, kFar, "mm").always(),
      field<&R::offset_mm>("offset_mm").within(-kFar, kFar, "mm").always(),
      field<&R::shift_mm>("shift_mm").within(-kFar, kFar, "mm").always(),
      field<&R::turn_deg>("turn_deg").within(-kFar, kFar, "°").always(),
      field<&R::range_deg>("range_deg")
          .within(-kFar, kFar, "°")
          .always()
          .says("range over the edge, predicted"),
      field<&R::note>("note").always());
}

constexpr auto fields_of(Told<NoteRecord>) {
  return std::tuple(field<&NoteRecord::text>("text").must());
}

constexpr auto fields_of(Told<ConditionRecord>) {
  using R = ConditionRecord;
  return std::tuple(field<&R::condition>("condition")
                        .always()
                        .says("an outcome of the rules, by its id", "empty: could not be told"),
                    field<&R::name>("name").always().says("in words"),
                    field<&R::probability>("probability").within(0, 1).always(),
                    field<&R::evidence>("evidence")
                        .always()
                        .says("what was seen", "answer by question, both by their ids"),
                    field<&R::run>("run").says("the run it was looked at in"),
                    field<&R::at_mm>("at_mm")
                        .within(-kFarOnEdge_mm, kFarOnEdge_mm, "mm")
                        .says("place", "from the heel"),
                    field<&R::note>("note").always());
}

constexpr auto fields_of(Told<SteelCard>) {
  using R = SteelCard;
  return std::tuple(
      field<&R::hardness_hrc>("hardness_hrc").within(20, 68, "HRC").says("Hardness"),
      field<&R::hard_phase_percent>("hard_phase_percent")
          .within(0, 100, "%")
          .says("Hard phase", "share of the volume"),
      field<&R::behaviour>("behaviour").says("When deburred"),
      field<&R::toughness>("toughness").says("Toughness"),
      field<&R::bend_strength_MPa>("bend_strength_MPa").within(1, 1e5, "MPa").says("Bend strength"),
      field<&R::note>("note").says("Note"));
}

}  // namespace bq::inline trial
