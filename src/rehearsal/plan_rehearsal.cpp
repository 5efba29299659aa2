#include "rehearsal/plan_rehearsal.h"

#include "bluntness/bench_scatter.h"
#include "bluntness/recommendation.h"

#include <algorithm>
#include <cmath>

#include "quantity/said.h"
#include "rehearsal/virtual_bench.h"
#include "stats/distributions.h"
#include "trial/median.h"

namespace bq::inline rehearsal {
namespace {

/// Every so many plays the matching question is asked as well.
constexpr long kMatchEvery = 10;
/// Plays that one worker takes at a time.
constexpr std::size_t kHandful = 16;
/// Below this |ln ratio| there is no true direction.
constexpr double kNoEffect = 1e-6;
/// A step between tested angles that leaves none between them.
constexpr double kNoneBetween_deg = 90;

/// Seeds of the plays: neighbours far apart (splitmix64's finaliser).
std::uint64_t seed_of(std::uint64_t seed, long play) {
  std::uint64_t z = seed + 0x9e3779b97f4a7c15ULL * (std::uint64_t(play) + 1);
  z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
  z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
  return z ^ (z >> 31);
}

std::vector<RunFit> fits_of(const Trial& trial, const CurveOptions& options) {
  std::vector<RunFit> fits;
  fits.reserve(trial.runs.size());
  const Unit unit = trial.unit();
  for (const auto& run : trial.runs) fits.push_back(fit_run(run, unit, options));
  settle_on_bench(fits, work_of_runs(trial));
  return fits;
}

/// `t`: the quantile that turns a standard error into half an interval.
void summarise(Rehearsal& out, double t) {
  const double direction =
      std::fabs(std::log(out.true_ratio)) < kNoEffect ? 0 : std::log(out.true_ratio);
  double runs = 0, right = 0, left = 0, sum = 0;
  std::vector<double> widths, matches, ends;
  for (const auto& play : out.plays) {
    runs += play.runs;
    right += play.right_censored;
    left += play.left_censored;
    out.best_plays += play.best_asked;
    out.best_right += play.best_right;
    if (play.enough_after > 0) {
      ++out.enough_plays;
      out.enough_wrong += play.enough_wrong;
      ends.push_back(play.enough_after);
    }
    if (play.match_asked) {
      ++out.match_plays;
      if (play.match_width >= 0) {
        ++out.match_bounded;
        matches.push_back(play.match_width);
      }
    }
    if (!play.determined) {
      ++out.undetermined;
      continue;
    }
    sum += play.log_ratio;
    widths.push_back(play.standard_error);
    if (!play.seen) continue;
    if (direction == 0 || play.log_ratio * direction > 0)
      ++out.detected;
    else
      ++out.wrong_way;
  }
  const long played = long(out.plays.size());
  out.power = stats::share_of(out.detected, played);
  if (runs > 0) {
    out.right_censored_share = right / runs;
    out.left_censored_share = left / runs;
  }
  if (!widths.empty()) {
    out.mean_log_ratio = sum / double(widths.size());
    out.median_interval_factor = std::exp(t * median_of(widths));
  }
  if (!ends.empty()) out.median_enough_after = median_of(ends);
  if (!matches.empty()) out.median_match_width = median_of(matches);
}

/// Whether the edge that a model makes last longest is the longest-lived, or within kWorthwhile of
/// it: nobody would go back for less.
bool knows_the_best(const LifeModel& model, const std::vector<PlannedEdge>& edges) {
  double most = -INFINITY, best = 0, chosen = 0;
  for (const auto& edge : edges) {
    const double life = model.log_life(model.row_of(edge.facts)).first;
    if (life > most) {
      most = life;
      chosen = edge.true_life;
    }
    best = std::max(best, edge.true_life);
  }
  return kWorthwhile * chosen >= best;
}

/// Life without scatter of the planned edge that was ranked first; empty where it is none of them.
std::optional<double> true_life_of(const RankedEdge& first, const std::vector<PlannedEdge>& edges) {
  std::optional<double> longest;
  for (const auto& edge : edges) {
    const bool same =
        edge.facts.steel == first.steel &&
        std::fabs(edge.facts.geometry->apex().equivalent_deg() - first.angle_deg) < 0.01 &&
        (!first.finish_um ||
         std::fabs(edge.facts.finish->mean_um() - *first.finish_um) < 0.01 * *first.finish_um);
    if (same) longest = std::max(longest.value_or(0), edge.true_life);
  }
  return longest;
}

/// Looks after every run, as the Verdict does, until it says that enough runs were made.
void look_until_enough(const Trial& trial, const std::vector<RunFit>& fits, double limit,
                       const PlayQuestion& question, PlayOutcome& out) {
  double best = 0;
  for (const auto& edge : question.edges) best = std::max(best, edge.true_life);
  RecommendLimits limits;
  limits.angle_step_deg = kNoneBetween_deg;
  Trial so_far;
  so_far.labels = trial.labels;
  std::vector<RunFit> fits_so_far;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    so_far.runs.push_back(trial.runs[i]);
    fits_so_far.push_back(fits[i]);
    if (i + 1 < question.edges.size()) continue;  // each edge once
    const auto answer = recommend(so_far, fits_so_far, limit, limits);
    if (!answer || answer->ranked.empty() || !answer->enough || answer->enough->more_runs != 0)
      continue;
    out.enough_after = std::uint16_t(std::min<std::size_t>(i + 1, 65535));
    const auto chosen = true_life_of(answer->ranked.front(), question.edges);
    out.enough_wrong = chosen && kWorthwhile * *chosen < best;
    return;
  }
}

}  // namespace

PlayQuestion play_question(const TrialPlan& plan, const RunSheet& sheet) {
  PlayQuestion out;
  out.contrast = contrast_question(plan, sheet);
  if (const auto edges = edges_of(plan)) out.edges = *edges;
  const PlanQuestion asked = plan.asked();
  const auto* steel = plan.factor("steel");
  if (!steel || steel->levels.size() < 2) return out;
  const bool of_steels = asked.factor == steel->name;
  for (const auto& factor : plan.factors) {
    const bool angle = factor.kind == FactorKind::apex_angle;
    if (!angle && factor.kind != FactorKind::finish) continue;
    MatchQuestion match;
    match.kind = angle ? MatchKind::angle : MatchKind::finish;
    match.from = print_factor_value(of_steels ? asked.from : steel->levels.front());
    match.to = print_factor_value(of_steels ? asked.to : steel->levels.back());
    match.from_value = std::get<double>(factor.levels[factor.levels.size() / 2]);
    match.level = asked.level;
    out.match = match;
    if (angle) break;
  }
  return out;
}

PlayOutcome analyse_play(const Trial& trial, const PlayQuestion& question, bool dear) {
  PlayOutcome out;
  const auto fits = fits_of(trial, question.contrast.curves);
  out.runs = std::uint16_t(std::min<std::size_t>(trial.runs.size(), 65535));
  const auto answer = analyse_contrast(trial, fits, question.contrast, false);
  if (!answer) {
    // Censoring is told even where it leaves nothing to analyse.
    if (const auto threshold =
            parse_threshold(question.contrast.threshold, trial.unit(), fits, true)) {
      const LifeTable table = life_table(trial, fits, threshold->value);
      out.right_censored = std::uint16_t(table.right_censored());
      out.left_censored = std::uint16_t(table.left_censored());
    }
    return out;
  }
  out.determined = true;
  out.seen = answer->contrast.seen;
  out.log_ratio = float(answer->contrast.log_ratio);
  out.standard_error = float(answer->contrast.standard_error);
  out.right_censored = std::uint16_t(answer->right_censored);
  out.left_censored = std::uint16_t(answer->left_censored);
  if (!dear) return out;
  out.match_asked = question.match.has_value();
  out.best_asked = question.edges.size() > 1;
  if (!out.match_asked && !out.best_asked) return out;
  const auto model =
      LifeModel::fit(life_table(trial, fits, answer->threshold.value), question.contrast.spec);
  if (!model) return out;
  if (out.match_asked) {
    const auto match = bq::match(*model, *question.match);
    if (match && match->low && match->high) out.match_width = float(*match->high - *match->low);
  }
  if (out.best_asked) {
    out.best_right = knows_the_best(*model, question.edges);
    look_until_enough(trial, fits, answer->threshold.value, question, out);
  }
  return out;
}

Checked<Rehearsal> rehearse(const TrialPlan& plan, const RunSheet& sheet,
                            const RehearsalOptions& options, const stats::Work& work,
                            const std::vector<PlayOutcome>& before) {
  if (options.plays < 1 || options.plays > 1000000)
    return Refusal{said("a rehearsal has 1 to 1000000 plays")};
  const auto recipe = recipe_of(plan, sheet);
  if (!recipe) return recipe.refusal();
  const auto truth = true_ratio_of(plan);
  if (!truth) return truth.refusal();
  // A design that cannot answer is found before the first play.
  const auto model = model_of_sheet(plan, sheet);
  if (!model) return model.refusal();
  const PlayQuestion question = play_question(plan, sheet);
  if (const auto row = contrast_row(*model, question.contrast.contrast); !row) return row.refusal();
  const Analysis analysis = options.analysis ? options.analysis : Analysis(analyse_play);

  Rehearsal out;
  out.asked = options.plays;
  out.true_ratio = *truth;
  out.plays.resize(std::size_t(options.plays));
  const std::size_t first = std::min(before.size(), out.plays.size());
  std::copy_n(before.begin(), first, out.plays.begin());
  if (work.done) work.done->fetch_add(first, std::memory_order_relaxed);
  // Handfuls of plays, so that workers do not write side by side.
  const std::size_t rest = out.plays.size() - first, handfuls = (rest + kHandful - 1) / kHandful;
  std::vector<char> finished(handfuls, 0);
  stats::Work pieces = work;
  pieces.done = nullptr;
  const bool complete = stats::for_each_piece(handfuls, pieces, [&](std::size_t handful) {
    const std::size_t from = first + handful * kHandful,
                      to = std::min(out.plays.size(), from + kHandful);
    std::vector<PlayOutcome> own;
    for (std::size_t i = from; i < to; ++i) {
      const bool dear = options.match && long(i) % kMatchEvery == 0;
      own.push_back(analysis(play(*recipe, seed_of(options.seed, long(i))), question, dear));
      if (work.done) work.done->fetch_add(1, std::memory_order_relaxed);
    }
    std::copy(own.begin(), own.end(), out.plays.begin() + std::ptrdiff_t(from));
    finished[handful] = 1;
  });
  if (!complete) {
    const auto end = std::find(finished.begin(), finished.end(), 0);
    out.plays.resize(
        std::min(out.plays.size(), first + std::size_t(end - finished.begin()) * kHandful));
  }
  const double level = plan.asked().level;
  summarise(out, stats::t_quantile(0.5 + level / 2, model->regression().degrees_of_freedom()));
  return out;
}

Checked<double> curve_variance_of(const TrialPlan& plan, const RunSheet& sheet, int plays) {
  const auto recipe = recipe_of(plan, sheet);
  if (!recipe) return recipe.refusal();
  const ContrastQuestion question = contrast_question(plan, sheet);
  double sum = 0;
  int count = 0;
  for (int i = 0; i < plays; ++i) {
    const Trial trial = play(*recipe, seed_of(plan.seed, i));
    const auto fits = fits_of(trial, question.curves);
    const auto threshold = parse_threshold(question.threshold, trial.unit(), fits, true);
    if (!threshold) return threshold.refusal();
    for (const auto& row : life_table(trial, fits, threshold->value).rows)
      if (row.cuts.censoring == Censoring::none && std::isfinite(row.cuts.log_variance)) {
        sum += row.cuts.log_variance;
        ++count;
      }
  }
  return count ? sum / count : 0.0;
}

Checked<double> life_sd_of(const TrialPlan& plan, const RunSheet& sheet) {
  const auto curves = curve_variance_of(plan, sheet);
  if (!curves) return curves.refusal();
  const LifeSpec spec = analysis_of(plan, sheet);
  const auto has = [&](const char* term) {
    return std::find(spec.terms.begin(), spec.terms.end(), term) != spec.terms.end();
  };
  const auto square = [](double x) { return x * x; };
  const auto& t = plan.truth;
  return std::sqrt(square(t.run_sd) + *curves + (has("blade") ? 0 : square(t.blade_sd)) +
                   (has("block") ? 0 : square(t.block_sd)));
}

std::optional<double> any_level_power(const TrialPlan& plan, const RunSheet& sheet, double sd) {
  const auto* factor = plan.factor(plan.asked().factor);
  if (!factor || factor->numeric() || factor->levels.size() < 3) return std::nullopt;
  std::vector<double> log_ratios;
  TrialPlan asking = plan;
  for (std::size_t level = 1; level < factor->levels.size(); ++level) {
    PlanQuestion question = plan.asked();
    question.from = factor->levels.front();
    question.to = factor->levels[level];
    asking.question = question;
    const auto ratio = true_ratio_of(asking);
    if (!ratio) return std::nullopt;
    log_ratios.push_back(std::log(*ratio));
  }
  const auto power = factor_power(plan, sheet, sd, log_ratios);
  return power ? std::optional(*power) : std::nullopt;
}

Checked<std::vector<RehearsedPoint>> rehearse_curve(const TrialPlan& plan, const RunSheet& sheet,
                                                    const std::vector<double>& ratios,
                                                    const RehearsalOptions& options,
                                                    const stats::Work& work) {
  std::vector<RehearsedPoint> out;
  for (const double ratio : ratios) {
    const auto changed = with_true_ratio(plan, ratio);
    if (!changed) return changed.refusal();
    RehearsalOptions each = options;
    each.match = false;
    const auto result = rehearse(*changed, sheet, each, work);
    if (!result) return result.refusal();
    if (result->stopped()) return out;
    out.push_back({ratio, result->power});
  }
  return out;
}

Checked<std::vector<Help>> what_would_help(const TrialPlan& plan, const RehearsalOptions& options,
                                           const stats::Work& work) {
  std::vector<Help> list;
  list.push_back({"as it is", plan, "", {}, 0, 0, 0});
  const auto offer = [&](const char* what, auto change) {
    Help help{what, plan, "", {}, 0, 0, 0};
    change(help.plan);
    list.push_back(std::move(help));
  };
  offer("one more replicate", [](TrialPlan& p) { ++p.design.replicates; });
  offer("twice the readings", [](TrialPlan& p) { p.checkpoints.readings_each *= 2; });
  offer("runs half as long again", [](TrialPlan& p) {
    auto& c = p.checkpoints;
    if (!c.given.empty())
      c.given.push_back(std::max(c.given.back() + 1, c.given.back() * 3 / 2));
    else
      c.last = c.last * 3 / 2;
  });
  if (plan.checkpoints.given.empty())
    offer("four more checkpoints", [](TrialPlan& p) { p.checkpoints.steps += 4; });
  if (plan.truth.reading_sd > 0)
    offer("a gauge twice as steady", [](TrialPlan& p) { p.truth.reading_sd /= 2; });
  if (plan.truth.blade_sd > 0 && plan.blocks.by == BlockBy::none && !plan.blades.empty() &&
      plan.asked().factor != "steel")
    offer("each blade its own block", [](TrialPlan& p) { p.blocks = {BlockBy::blade, 0, {}}; });

  RehearsalOptions each = options;
  each.match = false;
  double minutes = 0, medium = 0;
  int runs = 0;
  std::size_t finished = 0;
  for (auto& help : list) {
    const auto design = design_plan(help.plan, work);
    const auto sheet =
        design ? run_sheet(help.plan, *design, work) : Checked<RunSheet>(design.refusal());
    const auto result =
        sheet ? rehearse(help.plan, *sheet, each, work) : Checked<Rehearsal>(sheet.refusal());
    if (work.stop.stop_requested()) break;
    if (!result) {
      if (&help == &list.front()) return result.refusal();
      help.impossible = result.refusal().reason;
      if (work.done) work.done->fetch_add(std::size_t(each.plays), std::memory_order_relaxed);
    } else {
      const auto ends = expected_ends(help.plan, *sheet);
      const PlanBudget budget = budget_of(help.plan, *sheet, ends ? *ends : std::vector<RunEnd>());
      if (&help == &list.front()) {
        minutes = budget.minutes();
        medium = budget.medium_m;
        runs = budget.sharpenings;
      }
      help.power = result->power;
      help.extra_minutes = budget.minutes() - minutes;
      help.extra_medium_m = budget.medium_m - medium;
      help.extra_runs = budget.sharpenings - runs;
    }
    ++finished;
  }
  list.resize(finished);
  if (list.size() > 1)
    std::stable_sort(list.begin() + 1, list.end(), [](const Help& a, const Help& b) {
      if (a.impossible.empty() != b.impossible.empty()) return a.impossible.empty();
      return a.power.value > b.power.value;
    });
  return list;
}

}  // namespace bq::inline rehearsal
