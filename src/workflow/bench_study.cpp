#include "workflow/bench_study.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <ctime>
#include <limits>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "store/bench_json.h"
#include "store/plan_file.h"
#include "workflow/edge_costs.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {
namespace {

/// By how much a check weight was off; it has a value.
double off_percent(const CheckWeightEvent& check) {
  return 100 * (*check.value / check.nominal - 1);
}

constexpr double kSitting_s = 8 * 3600;

std::optional<std::time_t> time_of(const std::string& text) {
  std::tm parts{};
  if (std::sscanf(text.c_str(), "%d-%d-%dT%d:%d:%d", &parts.tm_year, &parts.tm_mon, &parts.tm_mday,
                  &parts.tm_hour, &parts.tm_min, &parts.tm_sec) != 6)
    return std::nullopt;
  parts.tm_year -= 1900;
  parts.tm_mon -= 1;
  return timegm(&parts);
}

}  // namespace

std::optional<double> seconds_between(const std::string& earlier, const std::string& later) {
  const auto a = time_of(earlier), b = time_of(later);
  if (!a || !b) return std::nullopt;
  return std::difftime(*b, *a);
}

BenchProtocol protocol_of(const ProjectSession& session) {
  const std::string kept = session.kept(kProtocolKey);
  if (!kept.empty())
    if (const auto protocol = parse_protocol(kept)) return *protocol;
  BenchProtocol out;
  if (const auto book = parse_plan_book(session.kept(kPlanBookKey)); book && !book->plans.empty()) {
    const PlanRates& rates = book->plans.back().plan.rates;
    out.seconds_per_cut = rates.seconds_per_cut;
    out.rest_after_min = rates.rest_after_minutes;
    out.rest_min = rates.rest_minutes;
  }
  return out;
}

std::set<std::string> blind_runs(const std::string& plan_book) {
  std::set<std::string> out;
  if (plan_book.empty()) return out;
  if (const auto book = parse_plan_book(plan_book))
    for (const auto& entry : book->plans)
      if (entry.plan.blind)
        for (const auto& name : entry.run_names()) out.insert(name);
  return out;
}

bool was_uncovered(const Run& run) {
  return std::any_of(run.events.begin(), run.events.end(), [](const BenchEvent& e) {
    const auto* deviation = std::get_if<DeviationEvent>(&e.data);
    return deviation && deviation->what.starts_with(kUncovered);
  });
}

bool is_covered(const Run& run, const std::set<std::string>& blind) {
  return blind.contains(run.facts.name) && state_of(run) != RunState::done && !was_uncovered(run);
}

bool check_due(const std::vector<BenchEvent>& checks, const std::string& now) {
  if (checks.empty()) return true;
  const auto age = seconds_between(checks.back().made_at, now);
  // A clock that went back says nothing about the sitting: the weight that was on last counts.
  return age && *age > kSitting_s;
}

std::optional<double> check_off_percent(const std::vector<BenchEvent>& checks,
                                        double limit_percent) {
  if (checks.empty()) return std::nullopt;
  const auto* last = std::get_if<CheckWeightEvent>(&checks.back().data);
  if (!last || !last->value || !(last->nominal > 0)) return std::nullopt;
  const double off = off_percent(*last);
  return std::fabs(off) > limit_percent ? std::optional(off) : std::nullopt;
}

std::string odd_reading(const Trial& trial, std::size_t index, double value, Unit unit) {
  constexpr double kOdd = 8;
  std::vector<double> before;
  const auto add = [&](const Run& run, std::int64_t cuts) {
    for (const auto& reading : run.readings)
      if (reading.cuts == cuts && !reading.excluded && kind_of(reading.unit) == kind_of(unit))
        before.push_back(convert(reading.value, reading.unit, unit));
  };
  const Run& run = trial.runs.at(index);
  std::string what = said("the run's last readings");
  for (auto reading = run.readings.rbegin(); reading != run.readings.rend() && before.empty();
       ++reading)
    if (!reading->excluded) add(run, reading->cuts);
  if (before.empty()) {
    what = said("the fresh readings of this trial");
    for (const auto& other : trial.runs) add(other, 0);
  }
  if (before.empty()) return "";
  const auto middle = before.begin() + std::ptrdiff_t(before.size() / 2);
  std::nth_element(before.begin(), middle, before.end());
  if (value < kOdd * *middle && kOdd * value > *middle) return "";
  return what + " (" + print_measure(*middle, unit, 3) + ")";
}

StageFacts stage_facts(const Trial& trial, std::size_t run, std::optional<double> threshold,
                       const std::string& now, double check_limit_percent) {
  StageFacts facts;
  facts.threshold = threshold;
  facts.unit = trial.unit();
  facts.check_off_percent = check_off_percent(trial.gauge_checks, check_limit_percent);
  facts.check_due = check_due(trial.gauge_checks, now) || facts.check_off_percent;
  facts.labels = &trial.labels;
  if (trial.runs[run].cuts_done == 0 && !trial.runs[run].readings.empty()) {
    const auto groups = start_gate(trial, {}, run);
    if (const auto verdict = start_of_run(groups, run, facts.unit))
      facts.start_out = verdict->start->state == StartState::too_dull ||
                        verdict->start->state == StartState::too_sharp;
  }
  return facts;
}

std::string gate_sentence(const Trial& trial, std::size_t run, bool covered) {
  const auto groups = start_gate(trial, {}, run);
  const auto verdict = start_of_run(groups, run, trial.unit());
  if (!verdict) return "";
  if (!covered) return verdict->sentence;
  switch (verdict->start->state) {
    case StartState::in:
      return said("In: the start lies within the limits of its kind.");
    case StartState::too_dull:
      return said("Too dull: the start lies above the limits of its kind.");
    case StartState::too_sharp:
      return said(
          "Too sharp: the start lies below the limits of its kind; a burr may be standing.");
    case StartState::not_judged:
      break;
  }
  return said("Not judged: too few starts of its kind so far.");
}

GaugeDrift gauge_drift(const Trial& trial, double limit_percent) {
  GaugeDrift out;
  constexpr std::int64_t kNow = std::numeric_limits<std::int64_t>::max();
  // Ids of readings after a good check and up to the next good one, with a bad one between.
  std::vector<std::pair<std::int64_t, std::int64_t>> in_doubt;
  std::int64_t good_at = 0;
  bool bad = false;
  for (const auto& event : trial.gauge_checks) {
    const auto* check = std::get_if<CheckWeightEvent>(&event.data);
    if (!check || !check->value) continue;
    const double off = off_percent(*check);
    const bool beyond = std::fabs(off) > limit_percent;
    out.points.push_back({event.made_at, off, beyond});
    if (beyond) {
      bad = true;
      continue;
    }
    // A good check does not forgive: nobody knows when in between the gauge was off.
    if (bad) in_doubt.emplace_back(good_at, check->last_reading);
    good_at = check->last_reading;
    bad = false;
  }
  if (bad) in_doubt.emplace_back(good_at, kNow);
  if (out.points.empty()) {
    out.sentence = said("No check weight has been on the gauge yet.");
    return out;
  }
  out.drifted = out.points.back().beyond;
  const auto signed_percent = [](double value) {
    return (value >= 0 ? "+" : "−") + print_fixed(std::fabs(value), 1) + " %";
  };
  out.sentence = said("The gauge reads {signed_percent} of the check weight, ",
                      {{"signed_percent", signed_percent(out.points.back().off_percent)}});
  out.sentence += out.drifted ? said("beyond the limit of {limit_percent} %.",
                                     {{"limit_percent", print_number(limit_percent, 2)}})
                              : said("within {limit_percent} %.",
                                     {{"limit_percent", print_number(limit_percent, 2)}});
  for (std::size_t r = 0; r < trial.runs.size(); ++r)
    for (std::size_t i = 0; i < trial.runs[r].readings.size(); ++i) {
      // A reading that names no gauge was not taken at this bench, whenever it came in.
      const auto& reading = trial.runs[r].readings[i];
      if (reading.gauge != 0 &&
          std::any_of(in_doubt.begin(), in_doubt.end(), [&](const auto& span) {
            return reading.id > span.first && reading.id <= span.second;
          }))
        out.doubtful.emplace_back(r, i);
    }
  if (!out.doubtful.empty())
    out.sentence +=
        said(" {doubtful}{reading} between good checks, with a bad one among them, {is} in doubt.",
             {{"doubtful", std::to_string(out.doubtful.size())},
              {"reading", out.doubtful.size() == 1 ? said(" reading") : said(" readings")},
              {"is", out.doubtful.size() == 1 ? said("is") : said("are")}});
  return out;
}

std::optional<StressFacts> stress_facts(const Trial& trial, const std::string& steel,
                                        const std::string& section_questions) {
  const SteelCard* card = trial.steel_card(steel);
  if (!card) return std::nullopt;
  const auto limit = leading_limit(strength_of(*card));
  if (!limit) return std::nullopt;
  const SectionQuestions questions = section_questions_of(section_questions);
  return StressFacts{questions.line_N_per_mm, questions.depth_um * 1e-3, limit->limit_MPa};
}

Checked<VirtualEdge> stand_in_edge(const Trial& trial, std::size_t index, const std::string& world,
                                   std::uint64_t seed) {
  const Run& run = trial.runs.at(index);
  VirtualEdge edge;
  edge.medium.wear_um2_per_m = 0.75;
  edge.medium.stroke_mm = 120;
  if (!world.empty()) {
    const auto recipe = parse_recipe(world);
    if (!recipe) return recipe.refusal();
    edge.gauge = recipe->gauge;
    edge.scatter = recipe->scatter;
    if (const auto medium = recipe->media.find(run.facts.medium); medium != recipe->media.end())
      edge.medium = medium->second;
    else if (!recipe->media.empty())
      edge.medium = recipe->media.begin()->second;
    if (const auto steel = recipe->steels.find(run.facts.steel); steel != recipe->steels.end())
      edge.wear_factor = steel->second.wear_factor;
  }
  edge.run = run.facts.name;
  if (run.facts.geometry) edge.geometry = *run.facts.geometry;
  if (run.facts.finish) edge.finish = *run.facts.finish;
  if (run.facts.cut_mode) edge.medium.cut_mode = *run.facts.cut_mode;
  edge.cuts = run.cuts_done;
  edge.seed = seed;
  edge.sharpened =
      std::uint64_t(std::count_if(run.events.begin(), run.events.end(), [](const BenchEvent& e) {
        return std::holds_alternative<PreparedEvent>(e.data);
      }));
  return edge;
}

}  // namespace bq::inline workflow
