#include "plan/trial_plan.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "plan/plan_fields.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/run_plan.h"

namespace bq::inline plan {
namespace {

struct BuiltIn {
  FactorKind kind;
  std::string_view key, words;
  bool numeric;
};
constexpr std::array<BuiltIn, kBuiltInFactors> kBuiltIns{{
    {FactorKind::steel, "steel", "steel", false},
    {FactorKind::apex_angle, "apex_angle", "apex angle (° per side)", true},
    {FactorKind::edge_angle, "edge_angle", "edge bevel (° per side)", true},
    {FactorKind::micro_width, "micro_width_um", "micro-bevel width (µm)", true},
    {FactorKind::finish, "finish_um", "finish (µm)", true},
    {FactorKind::medium, "medium", "medium", false},
    {FactorKind::cut_mode, "cut_mode", "cut mode", false},
    {FactorKind::finishing_step, "finishing_step", "finishing step", false},
}};

bool same(const FactorValue& a, const FactorValue& b) {
  return print_factor_value(a) == print_factor_value(b);
}

bool matches(const TrialPlan& plan, const Combination& levels, const LevelMatch& when) {
  return std::all_of(when.begin(), when.end(), [&](const auto& part) {
    const auto value = plan.value_of(levels, part.first);
    return value && same(*value, part.second);
  });
}

std::optional<double> number_of(const std::optional<FactorValue>& value) {
  if (!value) return std::nullopt;
  const auto* number = std::get_if<double>(&*value);
  return number ? std::optional(*number) : std::nullopt;
}
std::string word_of(const std::optional<FactorValue>& value) {
  return value ? print_factor_value(*value) : std::string();
}

void check_level(const PlanFactor& factor, const FactorValue& level,
                 std::vector<std::string>& faults) {
  const auto* number = std::get_if<double>(&level);
  const std::string text = print_factor_value(level);
  const auto within = [&](double low, double high, const char* what) {
    if (!number || !(*number > low && *number < high))
      faults.push_back(said("\"{text}\" is no level of {name}: it takes {what}",
                            {{"text", text}, {"name", factor.name}, {"what", what}}));
  };
  switch (factor.kind) {
    case FactorKind::apex_angle:
    case FactorKind::edge_angle:
      within(0, 80, "degrees per side above 0 and below 80");
      break;
    case FactorKind::finish:
      within(0, 1e4, "a particle size in µm above 0");
      break;
    case FactorKind::micro_width:
      within(0, 1e5, "a width in µm above 0");
      break;
    case FactorKind::cut_mode:
      if (number || !parse_cut_mode(text))
        faults.push_back(said("\"{text}\" is no cut mode: slice, push or chop", {{"text", text}}));
      break;
    default:
      if (text.empty())
        faults.push_back(said("a level of {name} is empty", {{"name", factor.name}}));
  }
}

/// Whether a condition can be met at all: it names a factor and one of its levels.
void check_match(const TrialPlan& plan, const LevelMatch& when, const std::string& what,
                 std::vector<std::string>& faults) {
  for (const auto& [name, value] : when) {
    const PlanFactor* factor = plan.factor(name);
    if (!factor)
      faults.push_back(said("{what} names \"{name}\", which is no factor of this plan",
                            {{"what", what}, {"name", name}}));
    else if (std::none_of(factor->levels.begin(), factor->levels.end(),
                          [&](const auto& level) { return same(level, value); }))
      faults.push_back(
          said("{what} names {name} \"{factor_value}\", which is not among its levels",
               {{"what", what}, {"name", name}, {"factor_value", print_factor_value(value)}}));
  }
}

void check_numbers(const TrialPlan& plan, std::vector<std::string>& faults) {
  for_each_range_fault(plan, [&](const std::string& fault) { faults.push_back(fault); });
  if (kind_of(plan.unit) != UnitKind::force)
    faults.emplace_back(said("the readings of a plan are forces: gf, N, lbf or ozf"));
}

void check_checkpoints(const CheckpointChoice& choice, std::vector<std::string>& faults) {
  for (std::size_t i = 0; i < choice.given.size(); ++i)
    if (choice.given[i] < 0 || (i && choice.given[i] <= choice.given[i - 1])) {
      faults.push_back(
          said("the checkpoints must rise: {given}{comes_after}",
               {{"given", std::to_string(choice.given[i])},
                {"comes_after",
                 i ? said(" comes after {given}", {{"given", std::to_string(choice.given[i - 1])}})
                   : said(" is below 0")}}));
      break;
    }
  if (choice.given.size() > 200) faults.emplace_back(said("more than 200 checkpoints in a run"));
  if (choice.given.empty() &&
      (choice.last < 2 || choice.last > 100000000 || choice.steps < 2 || choice.steps > 60))
    faults.emplace_back(said("a run goes to 2 … 100 million cuts in 2 … 60 checkpoints"));
}

void check_design(const TrialPlan& plan, std::vector<std::string>& faults) {
  if (plan.design.replicates < 1)
    faults.emplace_back(
        said("there are no replicates: each combination must be run at least once, and for a "
             "spread one of them twice"));
  else if (plan.design.replicates > 100)
    faults.emplace_back(said("more than 100 replicates"));
  if (plan.design.kind != DesignKind::full && plan.design.runs < 2)
    faults.emplace_back(said("a chosen part of the combinations needs at least 2 runs"));
  if (plan.design.runs > kMostFullRuns)
    faults.emplace_back(said("more than 2000 runs are no bench trial"));
  for (const auto& extension : plan.extensions)
    if (extension.runs < 0 || extension.runs > kMostFullRuns)
      faults.emplace_back(said("an extension has at most 2000 runs"));
  for (const auto& [a, b] : plan.design.interactions)
    if (!plan.factor(a) || !plan.factor(b) || a == b)
      faults.push_back(said("the interaction {a} with {b} needs two factors of this plan",
                            {{"a", a}, {"b", b}}));
  if (plan.blocks.runs_each < 0) faults.emplace_back(said("runs in a block cannot be negative"));
}

void check_question(const TrialPlan& plan, std::vector<std::string>& faults) {
  if (!plan.question) return;
  const auto& q = *plan.question;
  if (!plan.factor(q.factor))
    faults.push_back(said("the question is about \"{factor}\", which is no factor of this plan",
                          {{"factor", q.factor}}));
  else {
    check_match(plan, {{q.factor, q.from}, {q.factor, q.to}}, said("the question"), faults);
    if (same(q.from, q.to)) faults.emplace_back(said("the question compares a level with itself"));
  }
  if (!(q.level >= 0.5 && q.level < 1))
    faults.emplace_back(said("the question's level must lie between 0.5 and 1"));
  if (!(q.wished_power > 0.05 && q.wished_power < 1))
    faults.emplace_back(said("the wished chance must lie between 0.05 and 1"));
}

constexpr std::array<std::string_view, 4> kAsks{"difference", "match", "best", "hold"};

}  // namespace

std::string_view key_of(FactorKind kind) {
  return kind == FactorKind::user ? std::string_view("user") : kBuiltIns[std::size_t(kind)].key;
}
FactorKind kind_of_factor(std::string_view key) {
  for (const auto& entry : kBuiltIns)
    if (entry.key == key) return entry.kind;
  return FactorKind::user;
}
std::string words_of(FactorKind kind) {
  return kind == FactorKind::user ? said("user factor")
                                  : std::string(kBuiltIns[std::size_t(kind)].words);
}
std::string plain_name(const std::string& term) {
  if (const auto colon = term.find(':'); colon != std::string::npos)
    return said("{plain_name} with {plain_name_2}",
                {{"plain_name", plain_name(term.substr(0, colon))},
                 {"plain_name_2", plain_name(term.substr(colon + 1))}});
  const FactorKind kind = kind_of_factor(term);
  if (kind == FactorKind::user) return term;
  const std::string words = words_of(kind);
  return words.substr(0, words.find(" ("));
}
bool is_numeric(FactorKind kind) {
  return kind != FactorKind::user && kBuiltIns[std::size_t(kind)].numeric;
}

bool PlanFactor::numeric() const {
  return !levels.empty() && std::all_of(levels.begin(), levels.end(), [](const auto& level) {
    return std::holds_alternative<double>(level);
  });
}

std::string_view name_of(DesignKind kind) {
  return kind == DesignKind::full ? "full" : kind == DesignKind::fraction ? "fraction" : "best";
}
std::optional<DesignKind> parse_design_kind(std::string_view text) {
  for (const DesignKind kind : {DesignKind::full, DesignKind::fraction, DesignKind::best})
    if (name_of(kind) == text) return kind;
  return std::nullopt;
}
std::string_view name_of(BlockBy by) {
  constexpr std::array<std::string_view, 5> names{"none", "day", "medium batch", "operator",
                                                  "blade"};
  return names[std::size_t(by)];
}
std::optional<BlockBy> parse_block_by(std::string_view text) {
  for (int i = 0; i < 5; ++i)
    if (name_of(BlockBy(i)) == text) return BlockBy(i);
  return std::nullopt;
}

const PlanFactor* TrialPlan::factor(std::string_view factor_name) const {
  for (const auto& f : factors)
    if (f.name == factor_name) return &f;
  return nullptr;
}

std::optional<FactorValue> TrialPlan::value_of(const Combination& levels,
                                               std::string_view factor_name) const {
  for (std::size_t i = 0; i < factors.size(); ++i)
    if (factors[i].name == factor_name) return factors[i].levels.at(std::size_t(levels.at(i)));
  for (const auto& [key, value] : held)
    if (key == factor_name) return value;
  return std::nullopt;
}

std::string_view name_of(PlanAsk ask) { return kAsks[std::size_t(ask)]; }

std::optional<PlanAsk> parse_plan_ask(std::string_view text) {
  for (std::size_t i = 0; i < kAsks.size(); ++i)
    if (kAsks[i] == text) return PlanAsk(i);
  return std::nullopt;
}

PlanQuestion TrialPlan::asked() const {
  if (question) return *question;
  PlanQuestion q;
  if (factors.empty() || factors.front().levels.empty()) return q;
  q.factor = factors.front().name;
  q.from = factors.front().levels.front();
  q.to = factors.front().levels.back();
  return q;
}

std::vector<std::string> faults_of(const TrialPlan& plan) {
  std::vector<std::string> faults;
  if (plan.factors.empty())
    faults.emplace_back(said("there is no factor: say what is to be compared"));
  std::set<std::string> names;
  for (const auto& factor : plan.factors) {
    if (factor.name.empty()) faults.emplace_back(said("a factor has no name"));
    if (!names.insert(factor.name).second)
      faults.push_back(said("the factor \"{name}\" is named twice", {{"name", factor.name}}));
    if (factor.levels.size() < 2)
      faults.push_back(
          said("{name} has {no_level}: a factor needs two or more to be compared; what stays the "
               "same is held",
               {{"name", factor.name},
                {"no_level", factor.levels.empty() ? said("no level") : said("only one level")}}));
    if (factor.levels.size() > 1000)
      faults.push_back(said("{name} has more than 1000 levels", {{"name", factor.name}}));
    std::set<std::string> seen;
    for (const auto& level : factor.levels) {
      check_level(factor, level, faults);
      if (!seen.insert(print_factor_value(level)).second)
        faults.push_back(said("{name} has the level \"{level}\" twice",
                              {{"name", factor.name}, {"level", print_factor_value(level)}}));
    }
    if (!factor.life_ratio.empty() && factor.life_ratio.size() != factor.levels.size())
      faults.push_back(
          said("{name} must have one stated life ratio for each level", {{"name", factor.name}}));
    for (const double ratio : factor.life_ratio)
      if (!(ratio >= 1e-3 && ratio <= 1e3))
        faults.push_back(said("a stated life ratio of {name} lies outside 0.001 to 1000",
                              {{"name", factor.name}}));
    for (const auto& [key, value] : plan.held)
      if (key == factor.name)
        faults.push_back(said("{name} is a factor and is held as well", {{"name", factor.name}}));
  }
  std::set<std::string> held;
  for (const auto& [key, value] : plan.held) {
    if (!held.insert(key).second)
      faults.push_back(said("{key} is held at two values", {{"key", key}}));
    check_level({kind_of_factor(key), key, {}, {}}, value, faults);
  }
  for (const auto& exclusion : plan.exclusions)
    check_match(plan, exclusion.when, said("an exclusion"), faults);
  for (const auto& rule : plan.only) {
    check_match(plan, rule.when, "a rule", faults);
    for (const auto& level : rule.levels)
      check_match(plan, {{rule.factor, level}}, "a rule", faults);
  }
  for (const auto& blade : plan.blades) {
    if (blade.name.empty()) faults.emplace_back(said("a blade has no name"));
    if (blade.resharpenings < 0 || blade.resharpenings > 1000)
      faults.push_back(said("resharpenings of {name} must be 0 to 1000", {{"name", blade.name}}));
  }
  check_design(plan, faults);
  check_checkpoints(plan.checkpoints, faults);
  check_numbers(plan, faults);
  check_question(plan, faults);
  return faults;
}

long combination_count(const TrialPlan& plan) {
  double count = 1;
  for (const auto& factor : plan.factors) count *= double(factor.levels.size());
  return long(std::min(count, 1e15));
}

Combination combination_at(const TrialPlan& plan, long index) {
  Combination levels(plan.factors.size());
  for (std::size_t i = plan.factors.size(); i-- > 0;) {
    const long count = long(plan.factors[i].levels.size());
    levels[i] = int(index % count);
    index /= count;
  }
  return levels;
}

std::string why_excluded(const TrialPlan& plan, const Combination& levels) {
  const auto apex = number_of(plan.value_of(levels, key_of(FactorKind::apex_angle)));
  const auto edge = number_of(plan.value_of(levels, key_of(FactorKind::edge_angle)));
  if (apex && edge && *edge > *apex)
    return said("the edge bevel is steeper than the apex: there is no such micro-bevel");
  const std::string steel = word_of(plan.value_of(levels, key_of(FactorKind::steel)));
  for (const auto& limit : plan.durable)
    if (apex && (limit.steel.empty() || limit.steel == steel) && *apex < limit.least_apex_deg)
      return said(
          "below the durable limit of {least_apex_deg}° per side{for}",
          {{"least_apex_deg", print_number(limit.least_apex_deg, 3)},
           {"for", limit.steel.empty() ? "" : said(" for {steel}", {{"steel", limit.steel}})}});
  for (const auto& rule : plan.only) {
    if (!matches(plan, levels, rule.when)) continue;
    const auto value = plan.value_of(levels, rule.factor);
    if (value && std::none_of(rule.levels.begin(), rule.levels.end(),
                              [&](const auto& level) { return same(level, *value); })) {
      std::string text = said("{factor} only", {{"factor", rule.factor}});
      for (std::size_t i = 0; i < rule.levels.size(); ++i)
        text += (i ? ", " : " ") + print_factor_value(rule.levels[i]);
      for (const auto& [name, level] : rule.when)
        text += said(" with {level}", {{"level", print_factor_value(level)}});
      return text;
    }
  }
  for (const auto& exclusion : plan.exclusions)
    if (!exclusion.when.empty() && matches(plan, levels, exclusion.when))
      return exclusion.reason.empty() ? said("taken out by hand") : exclusion.reason;
  return "";
}

std::string print_level(FactorKind kind, const FactorValue& value) {
  const std::string text = print_factor_value(value);
  switch (kind) {
    case FactorKind::apex_angle:
      return said("{text}° per side", {{"text", text}});
    case FactorKind::edge_angle:
      return said("{text}° edge bevel", {{"text", text}});
    case FactorKind::micro_width:
      return said("{text} µm micro-bevel", {{"text", text}});
    case FactorKind::finish:
      return text + " µm";
    default:
      return text;
  }
}

std::string describe(const TrialPlan& plan, const Combination& levels) {
  std::string text;
  for (std::size_t i = 0; i < plan.factors.size(); ++i) {
    const auto& factor = plan.factors[i];
    const auto& level = factor.levels.at(std::size_t(levels.at(i)));
    text += (i ? ", " : "") +
            (factor.kind == FactorKind::user ? factor.name + " " : std::string()) +
            print_level(factor.kind, level);
  }
  return text;
}

std::vector<std::int64_t> checkpoints_of(const CheckpointChoice& choice) {
  if (!choice.given.empty()) return choice.given;
  auto ladder = checkpoint_ladder(choice.last, choice.steps);
  if (choice.burr_suspected)
    for (const std::int64_t cuts : {3, 6, 10, 15})
      if (cuts < choice.last && std::find(ladder.begin(), ladder.end(), cuts) == ladder.end())
        ladder.push_back(cuts);
  std::sort(ladder.begin(), ladder.end());
  return ladder;
}

Checked<RunFacts> facts_of(const TrialPlan& plan, const Combination& levels) {
  RunFacts facts;
  const auto value = [&](FactorKind kind) { return plan.value_of(levels, key_of(kind)); };
  facts.steel = word_of(value(FactorKind::steel));
  facts.medium = word_of(value(FactorKind::medium));
  if (const auto mode = value(FactorKind::cut_mode))
    facts.cut_mode = parse_cut_mode(print_factor_value(*mode));
  if (const auto finish = number_of(value(FactorKind::finish)))
    facts.finish = Finish::both(*finish);
  const auto apex = number_of(value(FactorKind::apex_angle)),
             edge = number_of(value(FactorKind::edge_angle));
  if (apex || edge) {
    const bool micro = apex && edge && *apex != *edge;
    const auto geometry =
        EdgeGeometry::make(BevelAngles::symmetric(edge ? *edge : *apex),
                           micro ? std::optional(BevelAngles::symmetric(*apex)) : std::nullopt);
    if (!geometry) return geometry.refusal();
    facts.geometry = *geometry;
  }
  const auto is_plain = [](const std::string& key) {
    const FactorKind kind = kind_of_factor(key);
    return kind == FactorKind::user || kind == FactorKind::micro_width ||
           kind == FactorKind::finishing_step;
  };
  for (std::size_t i = 0; i < plan.factors.size(); ++i)
    if (is_plain(plan.factors[i].name))
      facts.factors[plan.factors[i].name] = plan.factors[i].levels.at(std::size_t(levels.at(i)));
  for (const auto& [key, held_value] : plan.held)
    if (is_plain(key)) facts.factors[key] = held_value;
  return facts;
}

}  // namespace bq::inline plan
