
#include "bluntness/recommendation.h"
#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "readings_source.h"
#include "workflow/limits.h"
#include "workflow/sentences.h"

int run_recommend(const RecommendOptions& options) {
  bq::LimitsFile file;
  if (!options.limits.empty()) {
    const auto parsed = bq::parse_limits(bq::read_text_file(options.limits));
    if (!parsed) throw CommandEnd(kRefused, options.limits + ": " + parsed.refusal().reason);
    file = *parsed;
  }
  for (const auto& note : file.notes) say(options.limits + ": " + note);
  const bq::Trial trial = trial_from(options.source, options.skip_bad);
  const auto fits = fits_of(trial, {});
  std::string typed = options.threshold.empty() ? file.threshold : options.threshold;
  if (typed.empty()) typed = "3x";
  const bq::Threshold threshold = threshold_from(typed, trial, fits);
  const auto answer = bq::recommend(trial, fits, threshold.value, file.limits);
  if (!answer) {
    say("Not determinable: " + answer.refusal().reason + ".");
    if (options.json)
      print_json({{"ranked", Json::array()}, {"next_best_run", nullptr}, {"why_not", answer.refusal().reason}});
    return kNotDeterminable;
  }
  if (file.limits.medium.empty() && !answer->medium.empty())
    say("Ranked for \"" + answer->medium + "\", the medium with most runs.");
  for (const auto& left : answer->left_out) say("left out: run " + left.run + ": " + left.reason);

  Json out{{"threshold", {{"value", threshold.value}, {"unit", sign_of(threshold.unit)}}},
           {"medium", answer->medium}, {"candidates", answer->candidates}};
  out["ranked"] = Json::array();
  TextTable table({"steel", "angle/side", "finish µm", "life", "life low", "how", "reason"});
  const bool force = kind_of(trial.unit()) == bq::UnitKind::force;
  for (const auto& edge : answer->ranked) {
    const auto force_N = edge.fresh_reading && force
                             ? std::optional(bq::convert(*edge.fresh_reading, trial.unit(), bq::Unit::N))
                             : std::nullopt;
    out["ranked"].push_back({{"steel", edge.steel}, {"angle_deg", edge.angle_deg},
                             {"finish_um", number_or_null(edge.finish_um)}, {"life", edge.life},
                             {"life_low", edge.life_low}, {"life_mean_low", edge.life_mean_low},
                             {"life_mean_high", edge.life_mean_high}, {"force_N", number_or_null(force_N)},
                             {"damage_ratio", nullptr}, {"tested", edge.tested},
                             {"reasons", edge.reasons}, {"evidence_runs", edge.evidence_runs}});
    table.add({edge.steel, bq::print_number(edge.angle_deg, 3),
               edge.finish_um ? bq::print_number(*edge.finish_um, 3) : "", bq::print_cuts(edge.life),
               bq::print_cuts(edge.life_low), edge.tested ? "tested" : "between", edge.reasons.front()});
  }
  if (answer->next_best)
    out["next_best_run"] = {{"steel", answer->next_best->steel}, {"angle_deg", answer->next_best->angle_deg},
                            {"finish_um", number_or_null(answer->next_best->finish_um)},
                            {"interval_shrinks_to", answer->next_best->interval_shrinks_to},
                            {"reason", answer->next_best->reason}};
  else out["next_best_run"] = Json::object();
  if (options.json) {
    print_json(out);
  } else {
    table.print();
    if (answer->next_best) std::printf("\nNext best run: %s\n", answer->next_best->reason.c_str());
    std::printf("Damage is not judged here: check the slimmest edge in use before you make many.\n");
  }
  return answer->ranked.empty() ? kNotDeterminable : kDone;
}
