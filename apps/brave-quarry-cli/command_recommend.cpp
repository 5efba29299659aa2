#include <cmath>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "readings_source.h"
#include "workflow/limits.h"
#include "workflow/sentences.h"

namespace {

Json edge_json(const bq::RankedEdge& edge, bool force_unit, bq::Unit unit) {
  // Without strokes the gauge's own force stands in: what a fresh edge needs to sever the reference
  // filament.
  std::optional<double> force = edge.force_fresh_N;
  if (!force && edge.fresh_reading && force_unit)
    force = bq::convert(*edge.fresh_reading, unit, bq::Unit::N);
  Json out{{"steel", edge.steel},
           {"angle_deg", edge.angle_deg},
           {"edge_bevel_deg", number_or_null(edge.edge_deg)},
           {"finish_um", number_or_null(edge.finish_um)},
           {"life", edge.life},
           {"life_low", edge.life_low},
           {"life_mean_low", edge.life_mean_low},
           {"life_mean_high", edge.life_mean_high},
           {"force_N", number_or_null(force)},
           {"force_of", edge.force_fresh_N ? "stroke"
                        : force            ? "filament"
                                           : ""},
           {"force_blunt_N", number_or_null(edge.force_blunt_N)},
           {"damage_ratio", number_or_null(edge.stress_ratio)},
           {"damage_rate_upper", number_or_null(edge.damage_rate_upper)},
           {"score", edge.score},
           {"tested", edge.tested},
           {"extrapolated", edge.extrapolated},
           {"dominated", edge.dominated},
           {"chance_best", edge.chance_best},
           {"tied", edge.tied},
           {"roughest", edge.roughest == bq::RoughestUse::held      ? "held"
                        : edge.roughest == bq::RoughestUse::damaged ? "damaged"
                                                                    : "not known"},
           {"reasons", edge.reasons},
           {"evidence_runs", edge.evidence_runs}};
  if (edge.resharpening)
    out["touch_up"] = {{"minutes", edge.resharpening->minutes},
                       {"metal_mm3", edge.resharpening->metal_mm3},
                       {"estimated", edge.resharpening->estimated}};
  else
    out["touch_up"] = nullptr;
  return out;
}

void print_text(const bq::Verdict& verdict, const std::string& headline) {
  const bq::Recommendation& answer = *verdict.recommendation;
  std::printf("%s\n", headline.c_str());
  if (answer.enough) std::printf("%s\n", answer.enough->sentence.c_str());
  std::printf("\n");
  TextTable table({"steel", "angle/side", "finish µm", "life", "life low", "force N",
                   "no damage in", "min", "how", "reason"});
  for (const auto& edge : answer.ranked)
    table.add(
        {edge.steel, bq::print_number(edge.angle_deg, 3),
         edge.finish_um ? bq::print_number(*edge.finish_um, 3) : "", bq::print_cuts(edge.life),
         bq::print_cuts(edge.life_low),
         edge.force_blunt_N ? bq::print_number(*edge.force_blunt_N, 3) : "",
         edge.damage_rate_upper ? bq::print_cuts(std::floor(1 / *edge.damage_rate_upper)) : "",
         edge.resharpening ? bq::print_number(edge.resharpening->minutes, 2) : "",
         edge.extrapolated ? "beyond"
         : edge.tested     ? "tested"
                           : "between",
         edge.reasons.front()});
  table.print();
  std::printf("\n%s\n", answer.rule.c_str());
  for (const auto& line : answer.sensitivity) std::printf("%s\n", line.c_str());
  if (answer.next_best && answer.next_best->helps())
    std::printf("\nNext best run: %s\n", answer.next_best->reason.c_str());
  if (verdict.prospect)
    std::printf(
        "\nTouch up every %s cuts (%s min, %s mm³ each): about %s cuts in all from one blade of 3 "
        "mm usable height (estimate).\n",
        bq::print_cuts(verdict.prospect->interval_cuts).c_str(),
        bq::print_number(verdict.prospect->touch_up.minutes, 2).c_str(),
        bq::print_number(verdict.prospect->touch_up.metal_mm3, 2).c_str(),
        bq::print_cuts(verdict.prospect->cuts_in_all).c_str());
  for (const auto& school : verdict.schools)
    std::printf("\n%s. %s / %s\n  %s\n", school.matter.c_str(), school.first.c_str(),
                school.second.c_str(), school.evidence.c_str());
}

void print_starting(const bq::Verdict& verdict) {
  std::printf(
      "Without evidence, where testers customarily start (a convention, not this bench's data; "
      "authors differ):\n");
  TextTable table({"work", "angle/side", "commonly said", "finish µm", "commonly said "});
  const auto range = [](double a, double b) {
    return bq::print_number(a, 3) + " to " + bq::print_number(b, 3);
  };
  for (const auto& r : verdict.starting)
    table.add({std::string(r.work), range(r.angle_from_deg, r.angle_to_deg),
               range(r.angle_least_deg, r.angle_most_deg), range(r.finish_from_um, r.finish_to_um),
               range(r.finish_least_um, r.finish_most_um)});
  table.print();
}

Json starting_json(const bq::Verdict& verdict) {
  Json out = Json::array();
  for (const auto& r : verdict.starting)
    out.push_back({{"work", r.work},
                   {"cut_mode", r.mode},
                   {"angle_deg", {r.angle_from_deg, r.angle_to_deg}},
                   {"angle_spread_deg", {r.angle_least_deg, r.angle_most_deg}},
                   {"finish_um", {r.finish_from_um, r.finish_to_um}},
                   {"finish_spread_um", {r.finish_least_um, r.finish_most_um}},
                   {"origin", "convention"}});
  return out;
}

}  // namespace

int run_recommend(const RecommendOptions& options) {
  bq::LimitsFile file;
  if (!options.limits.empty()) {
    const auto parsed = bq::parse_limits(bq::read_text_file(options.limits));
    if (!parsed) throw CommandEnd(kRefused, options.limits + ": " + parsed.refusal().reason);
    file = *parsed;
  }
  for (const auto& note : file.notes) say(options.limits + ": " + note);
  const bq::SourceResult source = source_from(options.source, options.skip_bad);
  const bq::Trial& trial = source.trial;
  const auto fits = fits_of(trial, {});
  std::string typed = options.threshold.empty() ? file.threshold : options.threshold;
  if (typed.empty()) typed = source.threshold;
  const bq::Threshold threshold = threshold_from(typed, trial, fits);
  const bq::Verdict verdict =
      bq::find_verdict({&trial, &fits, source.sessions, source.section_questions},
                       {threshold.value, file.limits, file.wishes, file.stones, {}});
  if (!verdict.recommendation) {
    say("Not determinable: " + verdict.why_not + ".");
    if (options.json)
      print_json({{"ranked", Json::array()},
                  {"next_best_run", nullptr},
                  {"why_not", verdict.why_not},
                  {"starting_ranges", starting_json(verdict)}});
    else
      print_starting(verdict);
    return kNotDeterminable;
  }
  const bq::Recommendation& answer = *verdict.recommendation;
  if (file.limits.medium.empty() && file.limits.mix.empty() && !answer.medium().empty())
    say("Ranked for \"" + answer.medium() + "\", the medium with most runs.");
  for (const auto& left : answer.left_out) say("left out: run " + left.run + ": " + left.reason);
  for (const auto& remark : answer.remarks) say(remark);

  const std::string headline =
      bq::verdict_sentence(verdict, bq::print_measure(threshold.value, threshold.unit, 3), {});
  Json out{{"threshold", {{"value", threshold.value}, {"unit", sign_of(threshold.unit)}}},
           {"medium", answer.medium()},
           {"work", Json::array()},
           {"candidates", answer.candidates}};
  for (const auto& part : answer.work)
    out["work"].push_back({{"medium", part.medium}, {"share", part.share}});
  out["ranked"] = Json::array();
  const bool force = kind_of(trial.unit()) == bq::UnitKind::force;
  for (const auto& edge : answer.ranked)
    out["ranked"].push_back(edge_json(edge, force, trial.unit()));
  out["headline"] = headline;
  out["objections"] = Json::array();
  for (const auto& objection : verdict.objections)
    out["objections"].push_back(
        {{"kind", objection.kind}, {"sentence", objection.sentence}, {"where", objection.where()}});
  if (answer.enough)
    out["enough"] = {
        {"chance_right", answer.enough->chance_right},
        {"more_runs", answer.enough->more_runs ? Json(*answer.enough->more_runs) : Json()},
        {"which", answer.enough->which},
        {"sentence", answer.enough->sentence}};
  else
    out["enough"] = nullptr;
  out["rule"] = answer.rule;
  out["sensitivity"] = answer.sensitivity;
  if (answer.next_best)
    out["next_best_run"] = {{"steel", answer.next_best->steel},
                            {"angle_deg", answer.next_best->angle_deg},
                            {"finish_um", number_or_null(answer.next_best->finish_um)},
                            {"medium", answer.next_best->medium},
                            {"interval_shrinks_to", answer.next_best->interval_shrinks_to},
                            {"reason", answer.next_best->reason}};
  else
    out["next_best_run"] = Json::object();
  if (const auto& p = verdict.prospect)
    out["prospect"] = {{"interval_cuts", p->interval_cuts},
                       {"touch_ups", p->touch_ups},
                       {"cuts_in_all", p->cuts_in_all},
                       {"usable_mm", p->usable_mm},
                       {"thinning_after", p->thinning_after ? Json(*p->thinning_after) : Json()}};
  out["schools"] = Json::array();
  for (const auto& school : verdict.schools)
    out["schools"].push_back({{"matter", school.matter},
                              {"first", school.first},
                              {"second", school.second},
                              {"evidence", school.evidence}});
  if (options.json)
    print_json(out);
  else
    print_text(verdict, headline);
  return answer.ranked.empty() ? kNotDeterminable : kDone;
}
