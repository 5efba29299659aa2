#pragma once

#include "edge/angle_checks.h"
#include "edge/marker_test.h"
#include "quantity/field.h"

namespace bq::inline edge {

inline constexpr double kFarOnBlade_mm = 1e4;

constexpr auto fields_of(Told<MarkerSettings>) {
  using R = MarkerSettings;
  return std::tuple(
      field<&R::guess_deg>("guess_deg").within(0, 80, "°").must().says("guess, per side"),
      field<&R::reach_deg>("reach_deg")
          .within(2, 40, "°")
          .always()
          .says("reach", "the true angle is sought within guess ± reach"),
      field<&R::step_deg>("step_deg")
          .within(0.05, 5, "°")
          .always()
          .says("step", "in which the jig can be set"),
      field<&R::misread>("misread").within(0, 0.4).always().says(
          "misread", "share of touches that people report wrongly"),
      field<&R::window_deg>("window_deg")
          .within(0.1, 3, "°")
          .always()
          .says("whole bevel within", "about so near the bevel's angle a touch cleans all of it"),
      field<&R::wished_width_deg>("wished_width_deg")
          .within(0.2, 20, "°")
          .always()
          .says("wished", "width of the 95 % interval"),
      field<&R::own_steps>("own_steps").says("", "the tester walks in steps of the jig"));
}
constexpr auto fields_of(Told<MarkerTouch>) {
  using R = MarkerTouch;
  return std::tuple(
      field<&R::trial_deg>("angle_deg").within(0, 80, "°").must().says("set to, per side"),
      field<&R::seen>("ink").word(parse_ink_seen, 6).must().says("", "where it is gone"));
}
constexpr auto fields_of(Told<GaugeLogOptions>) {
  using R = GaugeLogOptions;
  return std::tuple(field<&R::drift_limit_deg>("drift_limit_deg")
                        .within(0, 45, "°")
                        .always()
                        .says("", "a larger drift voids the readings between"),
                    field<&R::face_taper_deg>("face_taper_deg")
                        .within(-45, 45, "°")
                        .always()
                        .says("", "lean of the face it was zeroed on, per side"));
}
constexpr auto fields_of(Told<GaugeEntry>) {
  using R = GaugeEntry;
  return std::tuple(
      field<&R::kind>("kind").word(parse_gauge_entry, 4).must(),
      field<&R::side>("side").word(parse_edge_side, 2).always(),
      field<&R::station_mm>("at_mm")
          .within(-kFarOnBlade_mm, kFarOnBlade_mm, "mm")
          .always()
          .says("", "from the heel"),
      field<&R::angle_deg>("angle_deg").within(-360, 360, "°").must().says("", "as it shows"));
}

}  // namespace bq::inline edge
