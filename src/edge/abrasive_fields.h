#pragma once

#include "edge/abrasive.h"
#include "quantity/field.h"

namespace bq::inline edge {

constexpr auto fields_of(Told<FlatnessEntry>) {
  using R = FlatnessEntry;
  return std::tuple(
      field<&R::date>("date").always().says("day of the look"),
      field<&R::deviation_um>("deviation_um").within(0, 5000, "µm").must().says("hollow by"),
      field<&R::over_mm>("over_mm")
          .within(0, 5000, "mm")
          .says("over a span of", "0: the stone's own length"),
      field<&R::flattened>("flattened").says("flattened after this look"),
      field<&R::note>("note").says("note"));
}

constexpr auto fields_of(Told<Abrasive>) {
  using R = Abrasive;
  constexpr double kMany = 1e6;
  return std::tuple(
      field<&R::name>("name").must().says("name"),
      field<&R::kind>("kind").word(parse_abrasive_kind, kAbrasiveKinds).always().says("kind"),
      field<&R::label>("label").says("grit, as it is labelled"),
      field<&R::measured_um>("measured_um")
          .within(0.01, 5000, "µm")
          .says("particle size, measured", "wins over the label"),
      field<&R::rate_mm3_per_min>("rate_mm3_per_min").within(1e-4, 1e5, "mm³/min").says("rate"),
      field<&R::rate_pressure>("rate_pressure").says("pressure of that rate"),
      field<&R::length_mm>("length_mm").within(5, 5000, "mm").always().says("length"),
      field<&R::flatness>("flatness").says("looks at its face", "oldest first"),
      field<&R::flat_within_um>("flat_within_um")
          .within(1, 5000, "µm")
          .always()
          .says("flatten a face hollower than"),
      field<&R::check_every_blades>("check_every_blades")
          .within(1, kMany, "blades")
          .always()
          .says("look at the face"),
      field<&R::blades_since_check>("blades_since_check")
          .within(0, kMany, "blades")
          .says("since the last look"),
      field<&R::soak_min>("soak_min").within(0, 1440, "min").says("soaked before use"),
      field<&R::price>("price").within(0, kMany).says("price of a new one",
                                                      "in the bench's own money"),
      field<&R::usable_mm>("usable_mm").within(0, kMany, "mm").says("height to be worn away"),
      field<&R::wear_um_per_blade>("wear_um_per_blade")
          .within(0, kMany, "µm a blade")
          .says("wears down"),
      field<&R::break_in_blades>("break_in_blades")
          .within(0, kMany, "blades")
          .says("blades until broken in"),
      field<&R::loaded>("loaded").says("loaded", "clogged: dress it"),
      field<&R::streaks>("streaks").says("streaks", "leaves single deep scratches"),
      field<&R::mess>("mess").says("what it leaves behind"),
      field<&R::substrate_mm>("substrate_mm")
          .within(1e-3, kMany, "mm")
          .says("what it lies on, thick", "strops"),
      field<&R::substrate_MPa>("substrate_MPa")
          .within(1e-3, kMany, "MPa")
          .says("stiffness of that", "strops"),
      field<&R::blades_since_upkeep>("blades_since_upkeep")
          .within(0, kMany, "blades")
          .says("upkeep", "strops: since it was cleaned and dressed again"),
      field<&R::blackened>("blackened").says("compound black"),
      field<&R::note>("note").says("note"), field<&R::retired>("retired").says("retired"));
}

}  // namespace bq::inline edge
