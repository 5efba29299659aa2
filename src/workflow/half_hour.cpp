#include "workflow/half_hour.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "edge/parting.h"
#include "edge/resharpening.h"
#include "edge/section_outcomes.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/cuts_left.h"
#include "workflow/force_study.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

constexpr double kDeburr_min = 3, kDeburr_mm3 = 0.02, kThinnerBy = 0.7;

/// What is worked with.
struct Bench {
  const VerdictSource& source;
  const HalfHourQuestion& question;
  const Blade& blade;
  std::string work;  ///< work_of_runs
  LifeModel model;
  LadderDraft draft;
  std::vector<Abrasive> shelf;
  CuttingClass cutting_class;
  std::optional<double> price_per_hour;
  double cuts_left = 0;
};

/// Tested angles or finishes of a steel.
template <class Value>
std::set<double> tested(const LifeModel& model, const std::string& steel, const Value& value) {
  std::set<double> out;
  for (const auto& row : model.rows())
    if (row.facts.steel == steel)
      if (const std::optional<double> v = value(row)) out.insert(std::round(20 * *v) / 20);
  return out;
}

void add_gain(HalfHourOption& option, const EdgeLife& life, double left) {
  option.extra_cuts = life.usual - left;
  option.extra_low = life.low - left;
  if (option.minutes > 0) option.low_per_minute = *option.extra_low / option.minutes;
}

std::optional<HalfHourOption> by_ladder(const Bench& bench, HalfHourKind kind,
                                        const LadderWish& wish, double angle, double finish) {
  const auto plan = plan_ladder(bench.draft.state, wish, bench.shelf, bench.cutting_class);
  if (!plan || plan->steps.empty()) return std::nullopt;
  const auto last = size_um(bench.shelf[plan->steps.back().abrasive]);
  if (!last || std::fabs(std::log(*last / finish)) > std::log(1.4)) return std::nullopt;
  const auto life = life_at(bench.model, bench.blade.steel, angle, finish);
  if (!life) return std::nullopt;
  HalfHourOption out;
  out.kind = kind;
  out.what = (kind == HalfHourKind::reprofile ? said("reprofile to ") : said("touch up at ")) +
             print_angle(angle, bench.question.angles) + ", " + print_number(finish, 3) + " µm";
  out.minutes = plan->minutes;
  out.metal_mm3 = plan->metal_mm3;
  out.estimated = plan->minutes_estimated;
  double wear = 0;
  bool priced = true;
  std::string stones;
  for (const auto& step : plan->steps) {
    const auto price = wear_price_per_blade(bench.shelf[step.abrasive]);
    priced = priced && price;
    wear += price.value_or(0);
    const std::string& name = bench.shelf[step.abrasive].name;
    if (stones.ends_with(name)) continue;  // its micro-bevel
    stones += (stones.empty() ? "" : ", ") + name;
  }
  if (priced || bench.price_per_hour)
    out.price = wear + bench.price_per_hour.value_or(0) * out.minutes / 60;
  if (plan->facet_too_narrow) {
    out.why =
        said("By {stones}. {remarks} No run was made on such a strip: what it gains is not known.",
             {{"stones", stones}, {"remarks", plan->remarks.front()}});
    return out;
  }
  add_gain(out, *life, bench.cuts_left);
  out.why = said(
      "By {stones}. The usual such edge makes {usual} cuts, the next one at least {low} (95 %).",
      {{"stones", stones},
       {"usual", print_number(std::floor(life->usual), 6)},
       {"low", print_number(std::floor(life->low), 6)}});
  return out;
}

void add_ladders(const Bench& bench, double apex, std::vector<HalfHourOption>& out) {
  const auto finishes = tested(bench.model, bench.blade.steel, [](const LifeRow& r) {
    return r.facts.finish ? std::optional(r.facts.finish->mean_um()) : std::nullopt;
  });
  const auto angles = tested(bench.model, bench.blade.steel, [](const LifeRow& r) {
    return std::optional(r.facts.geometry->apex().equivalent_deg());
  });
  LadderWish same = bench.draft.wish;
  same.apex_only = same.micro.has_value();
  for (const double finish : finishes) {
    LadderWish wish = same;
    wish.finish_left_um = wish.finish_right_um = finish;
    if (auto option = by_ladder(bench, HalfHourKind::refinish, wish, apex, finish))
      out.push_back(std::move(*option));
  }
  // Another angle: the best finish for each.
  for (const double angle : angles) {
    if (std::fabs(angle - apex) < 0.25) continue;
    std::optional<HalfHourOption> best;
    for (const double finish : finishes) {
      LadderWish wish = bench.draft.wish;
      wish.apex_only = false;
      wish.finish_left_um = wish.finish_right_um = finish;
      if (wish.micro && angle > wish.edge.left_deg + 0.25) {
        wish.micro = BevelAngles::symmetric(angle);
        wish.apex_only = angle > apex;
      } else {
        wish.edge = BevelAngles::symmetric(angle);
        wish.micro.reset();
      }
      auto option = by_ladder(bench, HalfHourKind::reprofile, wish, angle, finish);
      if (option && option->low_per_minute &&
          (!best || *option->low_per_minute > *best->low_per_minute))
        best = std::move(option);
    }
    if (best) out.push_back(std::move(*best));
  }
}

void add_deburr(const Bench& bench, const RunFit* last, double apex, std::optional<double> finish,
                HalfHour& out) {
  if (!last || !last->curve || !last->curve->early_collapse) {
    out.remarks.emplace_back(
        said("Deburring: nothing speaks of a burr left on (no early collapse in its last run)."));
    return;
  }
  HalfHourOption option;
  option.kind = HalfHourKind::deburr;
  option.what = said("take the burr off and strop at the same angle");
  option.minutes = kDeburr_min;
  option.metal_mm3 = kDeburr_mm3;
  option.estimated = true;
  const auto cuts = cuts_to_threshold(*last, bench.question.threshold);
  if (const auto life = life_at(bench.model, bench.blade.steel, apex, finish)) {
    // What the model's clean edge makes, less what this one does with its burr.
    const double with_burr = cuts.estimate.value_or(cuts.low.value_or(0));
    option.extra_cuts = std::max(0.0, life->usual - with_burr);
    option.extra_low = std::max(0.0, life->low - with_burr);
    option.low_per_minute = *option.extra_low / option.minutes;
  }
  option.why = said(
      "Run {run} fell in its first cuts as an edge with a burr does (or with fragile teeth: look "
      "first). Three minutes are a round figure.",
      {{"run", last->run}});
  out.options.push_back(std::move(option));
}

void add_thinning(const Bench& bench, const RunFit* last, HalfHour& out) {
  const auto section = make_section(bench.draft.state.section);
  const auto behind =
      section ? behind_edge(*section, bench.draft.state.section.grinds) : std::nullopt;
  if (!behind) return;
  if (!behind->thickness_mm) {
    out.remarks.emplace_back(
        said("Thinning: the edge is ground to zero, there is no thickness behind it to take off."));
    return;
  }
  ThinningWish wish;
  wish.behind_edge_mm = kThinnerBy * *behind->thickness_mm;
  const auto options = compare_thinning(*section, wish, std::nullopt);
  if (!options) {
    out.remarks.push_back(said("Thinning: {reason}.", {{"reason", options.refusal().reason}}));
    return;
  }
  const ThinningOption& flat =
      *std::find_if(options->begin(), options->end(),
                    [](const ThinningOption& option) { return option.why_not.empty(); });
  HalfHourOption option;
  option.kind = HalfHourKind::thin;
  option.what = said("thin to {behind_edge_mm} mm behind the edge (now {thickness_mm} mm)",
                     {{"behind_edge_mm", print_number(wish.behind_edge_mm, 2)},
                      {"thickness_mm", print_number(*behind->thickness_mm, 2)}});
  option.metal_mm3 = flat.removed_mm2 * bench.draft.state.edge_length_mm;
  const auto best =
      quickest_of(bench.shelf, bench.cutting_class, [](AbrasiveKind) { return true; });
  if (!best) return;
  option.minutes = option.metal_mm3 / best->rate.mm3_per_min + LadderRules{}.handling_min;
  option.estimated = best->rate.estimated;
  // The edge is honed again on the thinned blade; the finish of the face is left as it comes.
  EdgeState thinned = bench.draft.state;
  thinned.section.grinds.push_back(flat.grind);
  if (const auto hone = plan_ladder(thinned, bench.draft.wish, bench.shelf, bench.cutting_class)) {
    option.minutes += hone->minutes;
    option.metal_mm3 += hone->metal_mm3;
    option.estimated = option.estimated || hone->minutes_estimated;
  }
  const auto forces = splits_of(forces_of(*bench.source.facts));
  const auto split = forces.find(bench.work);
  if (split == forces.end() || !bench.question.force_limit_N || !last || !last->curve) {
    option.why = said(
        "The face on {name}. What it gains cannot be told: {no_force_strokes}",
        {{"name", best->abrasive->name},
         {"no_force_strokes",
          split == forces.end()
              ? said("no force strokes {in}tell severing and parting apart yet.",
                     {{"in", bench.work.empty() ? "" : said("in {work} ", {{"work", bench.work}})}})
          : !bench.question.force_limit_N
              ? said("set a force limit; thinning pays in force, not in sharpness.")
              : said("its last run has no blunting curve.")}});
  } else {
    PartingOptions parting;
    parting.friction = kStrokeFriction;
    const double before = kEngaged_mm * *parting_force_N_per_mm(*section, parting),
                 after = kEngaged_mm * *parting_force_N_per_mm(flat.section, parting);
    const UsefulLife now = life_to_force({last, before}, split->second,
                                         *bench.question.force_limit_N),
                     then =
                         life_to_force({last, after}, split->second, *bench.question.force_limit_N);
    const double saved = split->second.stiffness_N_per_mm3 * (before - after);
    const auto cuts = [](const UsefulLife& life) {
      return life.estimate                        ? *life.estimate
             : life.censoring == Censoring::right ? life.low.value_or(0)
                                                  : 0.0;
    };
    option.extra_cuts = cuts(then) - cuts(now);
    option.extra_low = std::max(0.0, then.low.value_or(0) - cuts(now));
    option.low_per_minute = *option.extra_low / option.minutes;
    option.why = said(
        "The face on {name}. Parting falls by about {saved} N (estimate); by the curve of run "
        "{run} to a force of {force_limit_n} N{it_was_not}",
        {{"name", best->abrasive->name},
         {"saved", print_number(saved, 2)},
         {"run", last->run},
         {"force_limit_n", print_number(*bench.question.force_limit_N, 3)},
         {"it_was_not", then.censoring == Censoring::right
                            ? said("; it was not cut far enough to tell all of the gain.")
                            : "."}});
  }
  out.options.push_back(std::move(option));
}

}  // namespace

std::string_view name_of(HalfHourKind kind) {
  switch (kind) {
    case HalfHourKind::leave:
      return "leave it";
    case HalfHourKind::deburr:
      return "deburr";
    case HalfHourKind::refinish:
      return "touch up";
    case HalfHourKind::reprofile:
      return "reprofile";
    case HalfHourKind::thin:
      return "thin";
  }
  return "";
}

Checked<HalfHour> best_half_hour(const VerdictSource& source, const HalfHourQuestion& question) {
  const Trial& facts = *source.facts;
  const Blade& blade = facts.blades.at(question.blade);
  if (blade.steel.empty()) return Refusal{said("the blade's steel is not said (Rack)")};
  const auto draft = draft_ladder(facts, question.blade);
  if (!draft)
    return Refusal{said("no section is on record for this blade: say on Section how it is ground")};
  const LifeTable all = life_table(facts, *source.fits, question.threshold);
  if (all.rows.empty())
    return Refusal{said("no run has enough checkpoints for a blunting curve yet")};
  const std::string medium = work_meant(media_of(all), question.medium).value_or(question.medium);
  LifeTable table = in_medium(all, medium);
  std::erase_if(table.rows, [](const LifeRow& row) { return !row.facts.geometry; });
  if (std::none_of(table.rows.begin(), table.rows.end(),
                   [&](const LifeRow& row) { return row.facts.steel == blade.steel; }))
    return Refusal{said("no run of {steel} in \"{medium}\" has a blunting curve",
                        {{"steel", blade.steel}, {"medium", medium}})};
  const LifeSpec spec = terms_with_blades(table);
  if (spec.terms.empty())
    return Refusal{said(
        "the runs do not differ in steel, angle or finish: no act can be compared with another")};
  const auto model = LifeModel::fit(table, spec);
  if (!model) return model.refusal();
  Bench bench{source,
              question,
              blade,
              medium,
              *model,
              *draft,
              EdgeCosts(facts, question.stones, source.section_questions).shelf(),
              class_of_steel(facts, blade.steel),
              {},
              0};
  for (const auto& comparison : facts.comparisons)
    if (comparison.price_per_hour) bench.price_per_hour = comparison.price_per_hour;

  HalfHour out;
  const std::optional<double> finish = draft->state.finish_um;
  const auto left_now =
      cuts_left(facts, *source.fits, *model, medium, question.threshold, question.blade, *draft);
  if (!left_now) return left_now.refusal();
  const double apex = left_now->apex_deg;
  const RunFit* last = left_now->by_curve ? &(*source.fits)[*left_now->run] : nullptr;
  out.cuts_made = left_now->made;
  out.cuts_left = left_now->usual;
  if (!left_now->unknown.empty()) out.remarks.push_back(left_now->unknown);
  bench.cuts_left = out.cuts_left;
  HalfHourOption leave;
  leave.what = said("leave it as it is");
  leave.extra_cuts = leave.extra_low = 0;
  const std::string left = print_number(std::floor(out.cuts_left), 6);
  leave.why = !(out.cuts_left > 0) ? said("It is past the limit.")
              : left_now->by_curve || out.cuts_made <= 0
                  ? said("About {left} cuts are left to the limit.", {{"left", left}})
                  : said(
                        "At most about {left} cuts are left: a whole life, for what its "
                        "{cuts_made} cuts took is not known.",
                        {{"left", left}, {"cuts_made", print_number(out.cuts_made, 9)}});
  out.options.push_back(leave);
  add_ladders(bench, apex, out.options);
  add_deburr(bench, last, apex, finish, out);
  add_thinning(bench, last, out);
  // Acts that pay (more than nothing for sure) before leaving it; those that cannot be told last.
  const auto rank = [](const HalfHourOption& o) {
    return o.kind == HalfHourKind::leave ? 0.0 : o.low_per_minute.value_or(-1e300);
  };
  std::stable_sort(out.options.begin(), out.options.end(),
                   [&](const auto& a, const auto& b) { return rank(a) > rank(b); });
  const HalfHourOption& best = out.options.front();
  out.sentence = best.kind == HalfHourKind::leave
                     ? said("Leave it: no act is sure to gain cuts. {why}", {{"why", best.why}})
                     : said(
                           "Best: {what}: about {extra_cuts} extra cuts in {minutes} min (at least "
                           "{low_per_minute} a minute with 95 % confidence).",
                           {{"what", best.what},
                            {"extra_cuts", print_number(*best.extra_cuts, 3)},
                            {"minutes", print_number(best.minutes, 2)},
                            {"low_per_minute", print_number(*best.low_per_minute, 2)}});
  return out;
}

}  // namespace bq::inline workflow
