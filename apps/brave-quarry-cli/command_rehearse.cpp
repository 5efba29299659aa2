#include <chrono>
#include <cmath>

#include "commands.h"
#include "output.h"
#include "plan_source.h"
#include "quantity/number.h"
#include "rehearsal/plan_rehearsal.h"

int run_rehearse(const RehearseOptions& options) {
  const PlannedSheet planned = plan_from(options.file, std::nullopt);
  bq::RehearsalOptions how;
  how.plays = options.plays;
  how.seed = options.seed;
  bq::stats::Work work;
  work.workers = options.threads ? options.threads : bq::stats::core_count();
  const auto start = std::chrono::steady_clock::now();
  const auto result = bq::rehearse(planned.plan, planned.sheet, how, work);
  const double seconds =
      std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
  if (!result) throw CommandEnd(kRefused, options.file + ": " + result.refusal().reason);
  const bq::PlanQuestion asked = planned.plan.asked();
  const auto sd = bq::life_sd_of(planned.plan, planned.sheet);
  const auto analytic = sd ? bq::plan_power(planned.plan, planned.sheet, *sd, result->true_ratio)
                           : bq::Checked<bq::PlanPower>(sd.refusal());
  const auto any = sd ? bq::any_level_power(planned.plan, planned.sheet, *sd) : std::nullopt;
  const bool none = result->undetermined == long(result->plays.size());
  if (options.json) {
    Json out{{"plays", result->plays.size()}, {"detected", result->detected},
             {"power", result->power.value},  {"low", result->power.low},
             {"high", result->power.high},    {"seconds", seconds}};
    out["factor"] = asked.factor;
    out["from"] = bq::print_factor_value(asked.from);
    out["to"] = bq::print_factor_value(asked.to);
    out["true_ratio"] = result->true_ratio;
    out["mean_ratio"] = std::exp(result->mean_log_ratio);
    out["wrong_way"] = result->wrong_way;
    out["undetermined"] = result->undetermined;
    out["right_censored_share"] = result->right_censored_share;
    out["left_censored_share"] = result->left_censored_share;
    out["interval_factor"] = number_or_null(result->median_interval_factor > 0
                                                ? std::optional(result->median_interval_factor)
                                                : std::nullopt);
    out["best_plays"] = result->best_plays;
    out["best_right"] = result->best_right;
    out["enough_plays"] = result->enough_plays;
    out["enough_wrong"] = result->enough_wrong;
    out["enough_after"] = number_or_null(result->median_enough_after);
    out["match_plays"] = result->match_plays;
    out["match_bounded"] = result->match_bounded;
    out["match_width"] = number_or_null(result->median_match_width);
    out["analytic_power"] =
        number_or_null(analytic ? std::optional(analytic->power) : std::nullopt);
    out["any_level_power"] = number_or_null(any);
    out["seed"] = options.seed;
    print_json(out);
  } else {
    std::printf("%s: %s against %s, true life ratio %s\n", asked.factor.c_str(),
                bq::print_factor_value(asked.to).c_str(),
                bq::print_factor_value(asked.from).c_str(),
                bq::print_number(result->true_ratio, 3).c_str());
    std::printf("seen in %ld of %zu rehearsals: chance %s %% (%s to %s %%)%s\n", result->detected,
                result->plays.size(), bq::print_fixed(100 * result->power.value, 1).c_str(),
                bq::print_fixed(100 * result->power.low, 1).c_str(),
                bq::print_fixed(100 * result->power.high, 1).c_str(),
                analytic ? (", by formula without censoring " +
                            bq::print_fixed(100 * analytic->power, 1) + " %")
                               .c_str()
                         : "");
    if (std::fabs(std::log(result->true_ratio)) < 1e-6)
      std::printf(
          "no effect is stated: this is the share of false alarms, not a chance to see "
          "something\n");
    if (any)
      std::printf("any difference among all levels of %s, by formula: %s %%\n",
                  asked.factor.c_str(), bq::print_fixed(100 * *any, 1).c_str());
    if (result->wrong_way) std::printf("the opposite was said in %ld\n", result->wrong_way);
    if (result->undetermined)
      std::printf("no answer could be worked out in %ld\n", result->undetermined);
    std::printf("%s %% of the runs end before the threshold, %s %% are past it from the start\n",
                bq::print_fixed(100 * result->right_censored_share, 1).c_str(),
                bq::print_fixed(100 * result->left_censored_share, 1).c_str());
    if (result->median_interval_factor > 0)
      std::printf("the ratio will usually be known to within a factor of %s\n",
                  bq::print_number(result->median_interval_factor, 3).c_str());
    if (result->best_plays)
      std::printf("which edge lasts longest: right, or within a tenth of it, in %ld of %ld\n",
                  result->best_right, result->best_plays);
    if (result->median_enough_after)
      std::printf("enough runs before the sheet's end in %ld, usually after %s, wrongly in %ld\n",
                  result->enough_plays, bq::print_number(*result->median_enough_after, 3).c_str(),
                  result->enough_wrong);
    if (result->match_plays)
      std::printf("matching: bounded in %ld of %ld, interval usually %s wide\n",
                  result->match_bounded, result->match_plays,
                  result->median_match_width
                      ? bq::print_number(*result->median_match_width, 3).c_str()
                      : "not determinable");
    std::printf("%s s\n", bq::print_fixed(seconds, 2).c_str());
  }
  return none ? kNotDeterminable : kDone;
}
