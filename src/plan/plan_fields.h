#pragma once

#include "plan/claim.h"
#include "plan/trial_plan.h"
#include "quantity/field.h"
#include "quantity/unit_word.h"

namespace bq::inline plan {

inline constexpr double kMostOfPlan = 1e6;    ///< runs, replicates
inline constexpr double kLargestSeed = 9e15;  ///< whole numbers that a double holds
inline constexpr double kLargestSpread = 3;   ///< SD of a natural logarithm
inline constexpr std::string_view kSpread = "(SD of ln; 0.15 is about 15 %)";

constexpr auto fields_of(Told<PlanFactor>) {
  using R = PlanFactor;
  return std::tuple(field<&R::name>("factor").must().says("", "a built-in factor, or its own name"),
                    field<&R::levels>("levels").always().says("", "numbers or texts"),
                    field<&R::life_ratio>("life_ratio")
                        .says("", "stated: life of each level over the first one's"));
}
constexpr auto fields_of(Told<Exclusion>) {
  using R = Exclusion;
  return std::tuple(field<&R::when>("when").must().says("", "factors and their levels"),
                    field<&R::reason>("reason"));
}
constexpr auto fields_of(Told<OnlyRule>) {
  using R = OnlyRule;
  return std::tuple(field<&R::when>("when").must().says("", "factors and their levels"),
                    field<&R::factor>("factor").must(),
                    field<&R::levels>("levels").always().says("", "those it takes there"));
}
constexpr auto fields_of(Told<DurableLimit>) {
  using R = DurableLimit;
  return std::tuple(field<&R::least_apex_deg>("least_apex_deg")
                        .within(0, 80, "°")
                        .must()
                        .says("least apex angle that lasts"),
                    field<&R::steel>("steel").says("", "absent: all steels"));
}
constexpr auto fields_of(Told<DesignChoice>) {
  using R = DesignChoice;
  return std::tuple(
      field<&R::kind>("kind").word(parse_design_kind, 3).always(),
      field<&R::runs>("runs")
          .within(0, kMostOfPlan)
          .always()
          .says("", "combinations of a fraction, runs of the best; 0 in a full one"),
      field<&R::replicates>("replicates").within(0, kMostOfPlan).always(),
      field<&R::interactions>("interactions").says("", "pairs of factors, to be estimated"));
}
constexpr auto fields_of(Told<Blocking>) {
  using R = Blocking;
  return std::tuple(field<&R::by>("by").word(parse_block_by, 5).always(),
                    field<&R::runs_each>("runs_each")
                        .within(0, kMostOfPlan)
                        .always()
                        .says("", "0: as many as a day holds, else a replicate"),
                    field<&R::names>("names"));
}
constexpr auto fields_of(Told<PlanBlade>) {
  using R = PlanBlade;
  return std::tuple(field<&R::name>("name").must(), field<&R::steel>("steel").always(),
                    field<&R::resharpenings>("resharpenings").within(0, 1000).always());
}
/// Its ladder stands under `checkpoints` (store/plan_file.cpp).
constexpr auto fields_of(Told<CheckpointChoice>) {
  using R = CheckpointChoice;
  return std::tuple(
      field<&R::readings_each>("readings_each").within(1, 100).always().says("readings at each"));
}
constexpr auto fields_of(Told<PlanRates>) {
  using R = PlanRates;
  return std::tuple(
      field<&R::medium_mm_per_cut>("medium_mm_per_cut")
          .within(0, 1e5, "mm")
          .always()
          .says("medium of a cut"),
      field<&R::offcut_percent>("offcut_percent")
          .within(0, 500, "%")
          .always()
          .says("offcut on top"),
      field<&R::seconds_per_cut>("seconds_per_cut").within(0, 3600, "s").always().says("a cut"),
      field<&R::seconds_per_reading>("seconds_per_reading")
          .within(0, 3600, "s")
          .always()
          .says("a reading"),
      field<&R::minutes_per_checkpoint>("minutes_per_checkpoint")
          .within(0, 600, "min")
          .always()
          .says("cleaning, each checkpoint"),
      field<&R::minutes_per_sharpening>("minutes_per_sharpening")
          .within(0, 1440, "min")
          .always()
          .says("a sharpening"),
      field<&R::rest_after_minutes>("rest_after_minutes")
          .within(1, 600, "min")
          .always()
          .says("rest after cutting for"),
      field<&R::rest_minutes>("rest_minutes").within(0, 600, "min").always().says("a rest"),
      field<&R::hours_a_day>("hours_a_day").within(0.25, 24, "h").always().says("hours a day"),
      field<&R::days_a_week>("days_a_week")
          .within(1, 7)
          .always()
          .says("days a week", "Monday first"),
      field<&R::metal_mm3_per_sharpening>("metal_mm3_per_sharpening")
          .within(0, 1e6, "mm³")
          .always()
          .says("metal of a sharpening"),
      field<&R::start_date>("start_date").says("", "first day, ISO 8601"));
}
constexpr auto fields_of(Told<PlanTruth>) {
  using R = PlanTruth;
  constexpr double kFar = 1e9;
  return std::tuple(
      field<&R::fresh_reading>("fresh_reading")
          .within(1e-9, kFar)
          .always()
          .says("their fresh reading", "of the first levels, in the plan's unit"),
      field<&R::life>("life")
          .within(1, kFar, "cuts")
          .always()
          .says("their life", "cuts to the threshold of the first levels"),
      field<&R::run_sd>("run_sd")
          .within(0, kLargestSpread, kSpread)
          .always()
          .says("spread of life, run to run"),
      field<&R::blade_sd>("blade_sd")
          .within(0, kLargestSpread, kSpread)
          .always()
          .says("… blade to blade"),
      field<&R::block_sd>("block_sd")
          .within(0, kLargestSpread, kSpread)
          .always()
          .says("… block to block"),
      field<&R::checkpoint_sd>("checkpoint_sd")
          .within(0, kLargestSpread, kSpread)
          .always()
          .says("spread of a checkpoint"),
      field<&R::reading_sd>("reading_sd")
          .within(0, kLargestSpread, kSpread)
          .always()
          .says("spread of a reading"),
      field<&R::stroke_mm>("stroke_mm").within(0.01, 1e5, "mm").always().says("stroke"),
      field<&R::tooth_life_cuts>("tooth_life_cuts")
          .within(1, kFar, "cuts")
          .says("", "e-folding cuts of the teeth; absent: four lives"),
      field<&R::from>("from").says("", "the trial that showed them, and when"));
}
constexpr auto fields_of(Told<HoldSearch>) {
  using R = HoldSearch;
  return std::tuple(
      field<&R::start_deg>("start_deg").within(1, 45, "°").always().says("begin with", "per side"),
      field<&R::step_deg>("step_deg").within(0.1, 15, "°").always().says("steeper after damage by"),
      field<&R::rough_cuts>("rough_cuts").within(1, 1e6, "cuts").always().says("rough block"),
      field<&R::confirm_cuts>("confirm_cuts")
          .within(0, 1e6, "cuts")
          .always()
          .says("long block when clean", "0: a clean block is enough"),
      field<&R::wanted_cuts>("wanted_cuts")
          .within(2, 1e6, "cuts")
          .always()
          .says("damaged at most once in", "for an edge that holds"),
      field<&R::expected_deg>("expected_deg")
          .within(1, 45, "°")
          .always()
          .says("slimmest that may hold", "per side, as is thought before"),
      field<&R::load_sd>("load_sd").within(0.01, 5).always().says("spread of the side load",
                                                                  "SD of its ln from cut to cut"));
}
constexpr auto fields_of(Told<PlanQuestion>) {
  using R = PlanQuestion;
  return std::tuple(field<&R::factor>("factor").must(), field<&R::from>("from").must(),
                    field<&R::to>("to").must(),
                    field<&R::level>("level").within(0.5, 0.9999).always().says("confidence"),
                    field<&R::wished_power>("chance")
                        .within(0.06, 0.9999)
                        .always()
                        .says("wished chance of telling"),
                    field<&R::ask>("ask").word(parse_plan_ask, 4), field<&R::hold>("hold"));
}
constexpr auto fields_of(Told<PlanExtension>) {
  using R = PlanExtension;
  return std::tuple(field<&R::runs>("runs")
                        .within(0, kMostOfPlan)
                        .always()
                        .says("", "0: one more replicate of all"),
                    field<&R::seed>("seed").within(0, kLargestSeed).always());
}
constexpr auto fields_of(Told<TrialPlan>) {
  using R = TrialPlan;
  return std::tuple(
      field<&R::name>("name").always(), field<&R::note>("note"),
      field<&R::threshold>("threshold").typed().always().says("", "as typed: `3x`, `450 gf`, 450"),
      field<&R::unit>("unit")
          .word(
              unit_told,
              [](Unit unit) -> std::string_view { return unit == Unit::um ? "um" : sign_of(unit); })
          .always()
          .says("", "of the readings: gf, N, um"),
      field<&R::blind>("blind").always(),
      field<&R::seed>("seed")
          .within(0, kLargestSeed)
          .always()
          .says("", "of the order and the codes"),
      field<&R::factors>("factors").always(),
      field<&R::held>("held").says("", "what is no factor, and its level"),
      field<&R::exclusions>("exclude").says("", "combinations that are not run"),
      field<&R::only>("only").says("", "levels that go with these alone"),
      field<&R::durable>("durable"), field<&R::design>("design").always(),
      field<&R::blocks>("blocks").always(), field<&R::blades>("blades"),
      field<&R::operators>("operators").says("", "take turns"),
      field<&R::checkpoints>("checkpoints").flat(),
      field<&R::rates>("rates").always().says("what the work takes"),
      field<&R::truth>("truth").always().says("what is taken as true", "stated for the rehearsal"),
      field<&R::question>("question"),
      field<&R::extensions>("extensions").says("", "runs added while it is under way"));
}

constexpr auto fields_of(Told<Claim>) {
  using R = Claim;
  return std::tuple(
      field<&R::id>("id").always().says("", "one of the list, or `own`"),
      field<&R::sentence>("claim").always(),
      field<&R::measure>("measure").word(parse_claim_measure, 5).always(),
      field<&R::first>("first").always().says("", "a treatment"),
      field<&R::second>("second").always().says("", "the other"),
      field<&R::sameness>("sameness").always().says("", "the claim is that they are alike"),
      field<&R::second_higher>("second_higher").always(),
      field<&R::ratio>("ratio").within(1e-3, 1e3).always().says("ratio that matters"),
      field<&R::pair_sd>("pair_sd")
          .within(1e-6, kLargestSpread, kSpread)
          .always()
          .says("spread from pair to pair"),
      field<&R::steps>("steps").always().says("", "how the parts are made alike"),
      field<&R::not_tested>("not_tested").always().says("", "what is left open"));
}
constexpr auto fields_of(Told<ClaimTest::Value>) {
  using R = ClaimTest::Value;
  return std::tuple(
      field<&R::code>("code").must(), field<&R::value>("value").within(1e-12, 1e12).must(),
      field<&R::more_than>("more_than").says("", "the run ended before the threshold"));
}
constexpr auto fields_of(Told<ClaimTest>) {
  using R = ClaimTest;
  return std::tuple(
      field<&R::claim>("claim").flat(),
      field<&R::chance>("chance").within(0.05, 0.9999).always().says("wished chance of deciding"),
      field<&R::level>("level").within(0.5, 0.9999).always().says("confidence"),
      field<&R::seed>("seed").within(0, kLargestSeed).always(),
      field<&R::pairs>("pairs").within(0, 200).always(), field<&R::blades>("blades").always(),
      field<&R::unsealed>("unsealed").always(), field<&R::values>("values").always());
}

}  // namespace bq::inline plan
