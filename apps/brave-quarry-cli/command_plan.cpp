#include "commands.h"
#include "output.h"
#include "plan/plan_power.h"
#include "plan_source.h"
#include "quantity/number.h"
#include "rehearsal/plan_world.h"
#include "report/sheet_page.h"
#include "report/sheet_table.h"
#include "store/plan_file.h"
#include "workflow/source.h"

namespace {

using namespace bq;

Json level_json(const FactorValue& value) {
  if (const auto* number = std::get_if<double>(&value)) return *number;
  return std::get<std::string>(value);
}

Json budget_json(const PlanBudget& b) {
  Json out{{"cuts", b.cuts},
           {"medium_m", b.medium_m},
           {"minutes", b.minutes()},
           {"resharpenings", b.resharpenings},
           {"readings", b.readings},
           {"sharpenings", b.sharpenings},
           {"cutting_min", b.cutting_min},
           {"reading_min", b.reading_min},
           {"cleaning_min", b.cleaning_min},
           {"sharpening_min", b.sharpening_min},
           {"resting_min", b.resting_min},
           {"metal_mm3", b.metal_mm3},
           {"days", b.days}};
  out["finishes_on"] = b.finishes_on.empty() ? Json() : Json(b.finishes_on);
  out["blades"] = Json::array();
  for (const auto& use : b.blades) {
    Json item{{"blade", use.blade},
              {"steel", use.steel},
              {"runs", use.runs},
              {"metal_mm3", use.metal_mm3}};
    item["allowed"] = use.allowed ? Json(use.allowed) : Json();
    out["blades"].push_back(item);
  }
  return out;
}

Json plan_answer(const PlannedSheet& p) {
  Json out;
  out["runs"] = Json::array();
  for (const auto& run : p.sheet.runs) {
    Json item{{"order", run.order}, {"code", run.code}, {"block", run.block}};
    for (std::size_t f = 0; f < p.plan.factors.size(); ++f)
      item[p.plan.factors[f].name] =
          level_json(p.plan.factors[f].levels[std::size_t(run.levels[f])]);
    item["blade"] = run.blade;
    item["operator"] = run.by_operator;
    item["day"] = run.day;
    item["starts_at_min"] = run.starts_at_min;
    item["minutes"] = run.minutes;
    item["rest_after_cuts"] = run.rest_after_cuts;
    item["extension"] = run.part;
    out["runs"].push_back(item);
  }
  out["checkpoints"] = p.sheet.checkpoints;
  out["readings_each"] = p.plan.checkpoints.readings_each;
  out["budget"] = budget_json(budget_of(p.plan, p.sheet));
  const auto ends = expected_ends(p.plan, p.sheet);
  out["likely"] = ends ? budget_json(budget_of(p.plan, p.sheet, *ends)) : Json();
  out["confounded"] = Json::array();
  for (const auto& c : p.sheet.confounded)
    out["confounded"].push_back(Json{
        {"first", c.first}, {"second", c.second}, {"share", c.share}, {"sentence", c.sentence}});
  out["balance"] = p.design.balance;
  out["warnings"] = p.design.warnings;
  out["notes"] = p.sheet.notes;
  out["d_efficiency_percent"] = number_or_null(p.design.d_efficiency_percent);
  out["excluded"] = Json::array();
  for (const auto& candidate : p.design.candidates)
    if (!candidate.excluded.empty() && out["excluded"].size() < 1000)
      out["excluded"].push_back(Json{{"combination", describe(p.plan, candidate.levels)},
                                     {"reason", candidate.excluded}});
  out["next_best"] = Json::array();
  if (const auto next = next_best_runs(p.plan, p.design, p.sheet))
    for (const auto& run : *next) {
      Json item;
      for (std::size_t f = 0; f < p.plan.factors.size(); ++f)
        item[p.plan.factors[f].name] =
            level_json(p.plan.factors[f].levels[std::size_t(run.levels[f])]);
      item["interval_shrinks_to"] = run.interval_shrinks_to;
      out["next_best"].push_back(item);
    }
  if (const PlanQuestion asked = p.plan.asked(); asked.ask == PlanAsk::hold)
    if (const auto chance = hold_chance(asked.hold))
      out["hold"] = Json{{"slimmest", chance->slimmest},
                         {"too_slim", chance->too_slim},
                         {"too_steep", chance->too_steep},
                         {"blocks", chance->blocks},
                         {"cuts", chance->cuts}};
  out["seed"] = p.plan.seed;
  return out;
}

void print_table(const PlannedSheet& p, bool open) {
  std::vector<std::string> heads{"order", "code", "block"};
  if (open)
    for (const auto& factor : p.plan.factors) heads.push_back(factor.name);
  heads.insert(heads.end(), {"blade", "operator", "day", "minutes"});
  TextTable table(heads);
  for (const auto& run : p.sheet.runs) {
    std::vector<std::string> cells{std::to_string(run.order), run.code, run.block};
    if (open)
      for (std::size_t f = 0; f < p.plan.factors.size(); ++f)
        cells.push_back(print_factor_value(p.plan.factors[f].levels[std::size_t(run.levels[f])]));
    cells.insert(cells.end(), {run.blade, run.by_operator, std::to_string(run.day),
                               print_fixed(run.minutes, 0)});
    table.add(cells);
  }
  table.print();
  const PlanBudget b = budget_of(p.plan, p.sheet);
  std::printf("%zu runs, %s cuts, %s m of medium, %s h on %d days, %d resharpenings\n",
              p.sheet.runs.size(), std::to_string(b.cuts).c_str(),
              print_number(b.medium_m, 3).c_str(), print_number(b.minutes() / 60, 3).c_str(),
              b.days, b.resharpenings);
  if (const auto ends = expected_ends(p.plan, p.sheet)) {
    const PlanBudget likely = budget_of(p.plan, p.sheet, *ends);
    std::printf("usually, since runs end when they are blunt: %s cuts, %s m of medium, %s h\n",
                std::to_string(likely.cuts).c_str(), print_number(likely.medium_m, 3).c_str(),
                print_number(likely.minutes() / 60, 3).c_str());
  }
  for (const auto& c : p.sheet.confounded) std::printf("%s\n", c.sentence.c_str());
  for (const auto* list : {&p.design.balance, &p.design.warnings, &p.sheet.notes})
    for (const auto& sentence : *list) std::printf("%s\n", sentence.c_str());
}

}  // namespace

PlannedSheet plan_from(const std::string& path, const std::optional<std::uint64_t>& seed) {
  return plan_from_text(read_text_file(path), path, seed);
}

PlannedSheet plan_from_text(const std::string& text, const std::string& path,
                            const std::optional<std::uint64_t>& seed) {
  auto plan = parse_plan(text);
  if (!plan) throw CommandEnd(kRefused, path + ":" + plan.refusal().reason);
  PlannedSheet out;
  out.plan = *plan;
  if (seed) out.plan.seed = *seed;
  if (out.plan.checkpoints.to_threshold) {
    if (const auto faults = faults_of(out.plan); !faults.empty())
      throw CommandEnd(kRefused, path + ": " + faults.front());
    const auto last = longest_run(out.plan);
    if (!last) throw CommandEnd(kRefused, path + ": " + last.refusal().reason);
    out.plan.checkpoints.last = *last;
    out.plan.checkpoints.to_threshold = false;
  }
  const auto design = design_plan(out.plan);
  if (!design) throw CommandEnd(kRefused, path + ": " + design.refusal().reason);
  out.design = *design;
  const auto sheet = run_sheet(out.plan, out.design);
  if (!sheet) throw CommandEnd(kRefused, path + ": " + sheet.refusal().reason);
  out.sheet = *sheet;
  return out;
}

int run_plan(const PlanOptions& options) {
  const PlannedSheet planned = plan_from(options.file, options.seed);
  if (!options.sheet.empty()) {
    const std::string& path = options.sheet;
    if (path.ends_with(".csv")) {
      write_whole(path, sheet_csv(planned.plan, planned.sheet));
      if (planned.plan.blind) {
        const std::string key = path.substr(0, path.size() - 4) + "-key.csv";
        write_whole(key, sheet_key_csv(planned.plan, planned.sheet));
        say("The sealed key is in " + key + ".");
      }
    } else if (path.ends_with(".pdf"))
      write_whole(path, sheet_pdf(sheet_document(planned.plan, planned.sheet)));
    else
      throw CommandEnd(kUsage, "A sheet is written as .csv or .pdf.");
    say("The run sheet is in " + path + ".");
  }
  if (options.json)
    print_json(plan_answer(planned));
  else
    print_table(planned, !planned.plan.blind || options.open);
  return kDone;
}
