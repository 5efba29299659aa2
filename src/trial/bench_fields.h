#pragma once

#include "quantity/field.h"
#include "quantity/unit_word.h"
#include "trial/bench_event.h"
#include "trial/bench_protocol.h"
#include "trial/bench_session.h"

namespace bq::inline trial {

inline constexpr double kFarAtBench = 1e9;
inline constexpr double kMostRows = 9e15;  ///< rows and counts of cuts

inline constexpr auto kUnitWord = [](auto one) {
  return one.word(unit_told, [](Unit unit) { return sign_of(unit); });
};

constexpr auto fields_of(Told<PreparedEvent>) {
  using R = PreparedEvent;
  return std::tuple(field<&R::note>("note"), field<&R::medium_batch>("medium_batch")
                                                 .says("batch of the medium that lay "
                                                       "ready"));
}
constexpr auto fields_of(Told<GateEvent>) {
  using R = GateEvent;
  return std::tuple(field<&R::verdict>("verdict").always(), field<&R::passed>("passed").always(),
                    field<&R::reason>("reason").says("why it is passed although outside"));
}
constexpr auto fields_of(Told<CleanedEvent>) { return std::tuple(); }
constexpr auto fields_of(Told<CutEvent>) {
  using R = CutEvent;
  return std::tuple(field<&R::planned>("planned").within(0, kMostRows, "cuts").always(),
                    field<&R::made>("made").within(0, kMostRows, "cuts").always());
}
constexpr auto fields_of(Told<LookEvent>) {
  using R = LookEvent;
  return std::tuple(
      field<&R::found>("found").word(parse_damage_found, 4).always(),
      field<&R::widest_um>("widest_um").within(0, kFarAtBench, "µm").says("widest affected place"),
      field<&R::at_mm>("at_mm")
          .within(-kFarAtBench, kFarAtBench, "mm")
          .says("place", "from the heel"),
      field<&R::note>("note"),
      field<&R::picture>("picture").within(0, kMostRows).says("", "row of the picture"));
}
constexpr auto fields_of(Told<RestEvent>) {
  using R = RestEvent;
  return std::tuple(field<&R::planned_s>("planned_s").within(0, kFarAtBench, "s").always(),
                    field<&R::taken_s>("taken_s").within(0, kFarAtBench, "s").always());
}
constexpr auto fields_of(Told<DeviationEvent>) {
  return std::tuple(field<&DeviationEvent::what>("what").always().says("in words"));
}
constexpr auto fields_of(Told<StopEvent>) {
  using R = StopEvent;
  return std::tuple(field<&R::rule>("rule").word(parse_stop_rule, 4).always(),
                    field<&R::reason>("reason").always());
}
constexpr auto fields_of(Told<GoOnEvent>) {
  return std::tuple(field<&GoOnEvent::reason>("reason").always());
}
constexpr auto fields_of(Told<CheckWeightEvent>) {
  using R = CheckWeightEvent;
  return std::tuple(
      field<&R::nominal>("nominal").within(1e-9, kFarAtBench).must().says("its weight"),
      field<&R::value>("value")
          .within(-kFarAtBench, kFarAtBench)
          .says("the gauge said", "absent: left out"),
      kUnitWord(field<&R::unit>("unit")).always(), field<&R::gauge>("gauge"),
      field<&R::last_reading>("last_reading")
          .within(0, kMostRows)
          .says("", "row of the last reading before it"),
      field<&R::note>("note"));
}
constexpr auto fields_of(Told<StrokeEvent>) {
  using R = StrokeEvent;
  constexpr double kFar = kFarAtBench;
  return std::tuple(
      field<&R::stroke>("stroke").within(0, kMostRows).always().says("", "row of the stroke"),
      field<&R::peak_N>("peak_N").within(-kFar, kFar, "N").always(),
      field<&R::mean_N>("mean_N").within(-kFar, kFar, "N").always(),
      field<&R::work_J>("work_J").within(-kFar, kFar, "J").always(),
      field<&R::trouble>("trouble").says("what is wrong with it"));
}

constexpr auto fields_of(Told<SearchRound>) {
  using R = SearchRound;
  return std::tuple(
      field<&R::edge_angle_deg>("edge_angle_deg")
          .within(0.1, 80, "°")
          .must()
          .says("angle per side", "of the bevel at the apex, without a micro-bevel"),
      field<&R::bevel_thickness_um>("bevel_thickness_um")
          .within(0, kFarAtBench, "µm")
          .always()
          .says("thick where that bevel ends", "0: the whole edge bevel"),
      field<&R::cuts>("cuts").within(0, kMostRows).always(),
      field<&R::confirmation>("confirmation").always().says("a long block after a clean one"),
      field<&R::look>("look").must(), field<&R::done_at>("done_at").says("", "UTC"),
      field<&R::by_operator>("operator"),
      field<&R::base_deg>("base_deg")
          .within(0, 80, "°")
          .says("angle of the edge bevel below it, per side",
                "absent: what the rounds before left"),
      field<&R::micro_deg>("micro_deg").within(0.1, 80, "°").says("micro-bevel, per side"),
      field<&R::finish_um>("finish_um").within(0.001, 2000, "µm").says("particle size"));
}
constexpr auto fields_of(Told<DamageSearch>) {
  using R = DamageSearch;
  return std::tuple(
      field<&R::name>("name").always(), field<&R::blade>("blade"), field<&R::steel>("steel"),
      field<&R::medium>("medium"),
      field<&R::roughest_use>("roughest_use").says("what makes the use rough"),
      field<&R::cut_mode>("cut_mode").word(parse_cut_mode, 3).says("how it is cut"),
      field<&R::start_angle_deg>("start_angle_deg")
          .within(1, 60, "°")
          .always()
          .says("first angle per side"),
      field<&R::step_deg>("step_deg").within(0.1, 30, "°").always().says("step"),
      field<&R::bevel_share>("bevel_share")
          .within(0.05, 10)
          .always()
          .says("new bevel over the damage, both thick"),
      field<&R::micro_deg>("micro_deg")
          .within(0.1, 80, "°")
          .says("micro-bevel, per side", "renewed each round"),
      field<&R::rough_cuts>("rough_cuts").within(1, kMostRows, "cuts").always().says("rough block"),
      field<&R::confirm_cuts>("confirm_cuts")
          .within(1, kMostRows, "cuts")
          .always()
          .says("long block"),
      field<&R::ended>("ended").always(), field<&R::note>("note"),
      field<&R::rounds>("rounds").always());
}
constexpr auto fields_of(Told<SteadinessSession>) {
  using R = SteadinessSession;
  return std::tuple(field<&R::by_operator>("operator"), field<&R::blade>("blade"),
                    field<&R::target_deg>("target_deg")
                        .within(0.1, 80, "°")
                        .always()
                        .says("angle aimed at", "per side"),
                    field<&R::rate_hz>("rate_hz").within(1, 5000, "Hz").always(),
                    field<&R::note>("note"));
}

constexpr auto fields_of(Told<BenchProtocol>) {
  using R = BenchProtocol;
  return std::tuple(
      field<&R::stations>("stations").always().says("stations in turn"),
      field<&R::prepare>("prepare").always().says(
          "ask that the edge was sharpened and its angle looked at"),
      field<&R::gate>("gate").always().says("hold a start outside its control limits"),
      field<&R::clean>("clean").always().says("clean the edge before every checkpoint"),
      field<&R::look>("look").always().says("look for damage after every checkpoint"),
      field<&R::count_by>("count_by").word(parse_count_by, 2).always().says("counted"),
      field<&R::seconds_per_cut>("seconds_per_cut")
          .within(0, 600, "s a cut")
          .always()
          .says("pace", "0: none"),
      field<&R::sound>("sound").always().says("a tone at every beat"),
      field<&R::stroke_mm>("stroke_mm")
          .within(0, 10000, "mm")
          .always()
          .says("stroke", "0: not said"),
      field<&R::rest_after_min>("rest_after_min")
          .within(0, 600, "min")
          .always()
          .says("rest after", "of cutting; 0: no rests"),
      field<&R::rest_min>("rest_min").within(0, 600, "min").always().says("length of a rest"),
      field<&R::stop_at_threshold>("stop_at_threshold")
          .always()
          .says("ask to stop past the threshold"),
      field<&R::stop_on_damage>("stop_on_damage").always().says("ask to stop at damage"),
      field<&R::most_cuts>("most_cuts")
          .within(0, kMostRows, "cuts")
          .always()
          .says("budget of a run", "0: the plan's end only"),
      field<&R::loading_rate>("loading_rate").says("loading rate"),
      field<&R::filament_lot>("filament_lot").says("filament lot"),
      field<&R::medium_batch>("medium_batch").says("medium batch"),
      field<&R::check_nominal>("check_nominal")
          .within(0, kFarAtBench)
          .always()
          .says("check weight", "0: none is used"),
      kUnitWord(field<&R::check_unit>("check_unit")).always().says("unit of the check weight"),
      field<&R::check_limit_percent>("check_limit_percent")
          .within(0.01, 50, "%")
          .always()
          .says("limit of its drift"),
      field<&R::debounce_ms>("debounce_ms")
          .within(0, 2000, "ms")
          .always()
          .says("keys are held off for"));
}

}  // namespace bq::inline trial
