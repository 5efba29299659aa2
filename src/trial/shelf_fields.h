#pragma once

#include "edge/abrasive_fields.h"
#include "trial/comparison.h"
#include "trial/sharpening.h"

namespace bq::inline trial {

constexpr auto fields_of(Told<SharpeningStep>) {
  using R = SharpeningStep;
  constexpr double kFar = 1e6;
  return std::tuple(
      field<&R::work>("work").word(parse_step_work, kStepWorks).always(),
      field<&R::abrasive>("abrasive")
          .says("name of the abrasive", "of a strop its compound's holder"),
      field<&R::size_um>("size_um").within(0, kFar, "µm").says("particle size"),
      field<&R::side>("side").word(parse_grind_side, 3).always(),
      field<&R::planned_min>("planned_min").within(0, kFar, "min").says("time, as planned"),
      field<&R::passes>("passes").within(0, kFar).says("strokes of all sides",
                                                       "as done, else as planned"),
      field<&R::pressure>("pressure").says("pressure, in words"),
      field<&R::substrate>("substrate").says("what a strop lies on"),
      field<&R::from_mm>("from_mm")
          .within(-kFar, kFar, "mm")
          .says("local work from", "from the heel"),
      field<&R::to_mm>("to_mm").within(-kFar, kFar, "mm").says("local work to", "from the heel"),
      field<&R::note>("note"), field<&R::done>("done"),
      field<&R::seconds>("seconds").within(0, kFar, "s").says("time it took"),
      field<&R::override_reason>("override_reason")
          .says("why the gate was passed without its marks"));
}

constexpr auto fields_of(Told<Sharpening>) {
  using R = Sharpening;
  return std::tuple(
      field<&R::policy>("policy").word(parse_gate_policy, kGatePolicies).always(),
      field<&R::proof>("proof").word(parse_burr_proof, kBurrProofs).always(),
      field<&R::way>("way").word(parse_grind_way, kGrindWays).says("how a face gets its angle"),
      field<&R::stop>("stop").word(parse_abrasive_end, kAbrasiveEnds).says("what ends an abrasive"),
      field<&R::places>("places")
          .within(kLeastPlaces, kMostPlaces)
          .says("places of a gate on one side"),
      field<&R::route>("route").says("route of deburring"),
      field<&R::deburr_between>("deburr_between").says("between abrasives too"),
      field<&R::run>("run").says("the run it is the start of"), field<&R::by_operator>("operator"),
      field<&R::note>("note"), field<&R::steps>("steps").always());
}

constexpr auto fields_of(Told<Treatment>) {
  using R = Treatment;
  constexpr double kFar = 1e6;
  return std::tuple(field<&R::name>("name").must(),
                    field<&R::minutes>("minutes").within(0, kFar, "min").says("time per blade"),
                    field<&R::metal_mm3>("metal_mm3").within(0, kFar, "mm³").says("metal taken"),
                    field<&R::wear_um>("wear_um")
                        .within(0, kFar, "µm")
                        .says("stone wear", "height the abrasive lost, per blade"),
                    field<&R::wear_price>("wear_price")
                        .within(0, kFar)
                        .says("wear costs", "in the bench's own money, per blade"),
                    field<&R::mess>("mess").says("mess"));
}

constexpr auto fields_of(Told<ComparisonPair>) {
  using R = ComparisonPair;
  constexpr double kLeast = 1e-9, kFar = 1e6;
  return std::tuple(
      field<&R::blade>("blade").must(), field<&R::place>("place").always(),
      field<&R::first>("first").within(kLeast, kFar).must().says("reading after the first"),
      field<&R::second>("second").within(kLeast, kFar).must().says("reading after the second"));
}

constexpr auto fields_of(Told<Comparison>) {
  using R = Comparison;
  return std::tuple(field<&R::name>("name").must(), field<&R::first>("first").must(),
                    field<&R::second>("second").must(), field<&R::unit>("unit").always(),
                    field<&R::price_per_hour>("price_per_hour")
                        .within(0, 1e6)
                        .says("the bench costs", "an hour of its time"),
                    field<&R::pairs>("pairs").always().says("readings after the one and the other"),
                    field<&R::note>("note"));
}

}  // namespace bq::inline trial
