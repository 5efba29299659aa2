#include "plan/plan_design.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <set>

#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "quantity/wording.h"
#include "stats/optimal_design.h"

namespace bq::inline plan {
namespace {

/// Columns of each level of a factor: levels × width.
Eigen::MatrixXd level_columns(const PlanFactor& factor) {
  const auto count = Eigen::Index(factor.levels.size());
  if (factor.numeric()) {
    Eigen::VectorXd x(count);
    for (Eigen::Index i = 0; i < count; ++i)
      x[i] = coded_level(factor, factor.levels[std::size_t(i)]);
    const double middle = 0.5 * (x.minCoeff() + x.maxCoeff()),
                 half = 0.5 * (x.maxCoeff() - x.minCoeff());
    return (x.array() - middle) / (half > 0 ? half : 1);
  }
  Eigen::MatrixXd contrasts = Eigen::MatrixXd::Zero(count, count - 1);
  for (Eigen::Index i = 0; i + 1 < count; ++i) contrasts(i, i) = 1;
  contrasts.row(count - 1).setConstant(-1);
  return contrasts;
}

std::vector<std::pair<std::string, std::string>> all_pairs(const TrialPlan& plan) {
  std::vector<std::pair<std::string, std::string>> pairs;
  for (std::size_t i = 0; i < plan.factors.size(); ++i)
    for (std::size_t j = i + 1; j < plan.factors.size(); ++j)
      pairs.emplace_back(plan.factors[i].name, plan.factors[j].name);
  return pairs;
}

/// Which candidates share the limit of one steel's blades.
struct SteelGroups {
  std::vector<int> group, capacity;
};
SteelGroups steel_groups(const TrialPlan& plan, const std::vector<Combination>& allowed,
                         int replicates, const std::map<std::string, int>& used) {
  SteelGroups out;
  const auto places = places_by_steel(plan);
  if (places.empty()) return out;
  std::map<std::string, int> index;
  for (const auto& levels : allowed) {
    const auto steel = plan.value_of(levels, "steel");
    const std::string name = steel ? print_factor_value(*steel) : "";
    const auto [found, fresh] = index.try_emplace(name, int(index.size()));
    if (fresh) {
      const auto place = places.find(name);
      const auto taken = used.find(name);
      out.capacity.push_back(std::max(0, (place == places.end() ? 0 : place->second) -
                                             (taken == used.end() ? 0 : taken->second)) /
                             replicates);
    }
    out.group.push_back(found->second);
  }
  return out;
}

std::map<std::string, int> runs_by_steel(const TrialPlan& plan,
                                         const std::vector<Combination>& runs) {
  std::map<std::string, int> counts;
  for (const auto& levels : runs) {
    const auto steel = plan.value_of(levels, "steel");
    ++counts[steel ? print_factor_value(*steel) : ""];
  }
  return counts;
}

std::optional<Refusal> blades_short(const TrialPlan& plan, const std::vector<Combination>& runs) {
  const auto places = places_by_steel(plan);
  if (places.empty()) return std::nullopt;
  std::vector<std::string> short_of;
  for (const auto& [steel, count] : runs_by_steel(plan, runs)) {
    const auto found = places.find(steel);
    const int have = found == places.end() ? 0 : found->second;
    if (count > have)
      short_of.push_back(said("{the_plan} has {count} runs, but its blades allow {have}",
                              {{"the_plan", steel.empty() ? said("the plan") : steel},
                               {"count", std::to_string(count)},
                               {"have", std::to_string(have)}}));
  }
  if (short_of.empty()) return std::nullopt;
  return Refusal{
      said("more runs than the blades and their resharpenings allow: {short_of}. Allow more "
           "resharpenings, add a blade or take fewer runs",
           {{"short_of", listed(short_of, "; ")}})};
}

void describe_balance(const TrialPlan& plan, PlanDesign& out) {
  for (std::size_t f = 0; f < plan.factors.size(); ++f) {
    const auto& factor = plan.factors[f];
    std::vector<int> counts(factor.levels.size());
    for (const auto& candidate : out.candidates)
      counts[std::size_t(candidate.levels[f])] += candidate.count;
    const auto [least, most] = std::minmax_element(counts.begin(), counts.end());
    if (*least == *most) continue;
    const auto say = [&](auto at) {
      return print_level(factor.kind, factor.levels[std::size_t(at - counts.begin())]) + " " +
             std::to_string(*at);
    };
    out.balance.push_back(said("{plain_name} is not balanced: {most}{run}{least}",
                               {{"plain_name", plain_name(factor.name)},
                                {"most", say(most)},
                                {"run", *most == 1 ? said(" run, ") : said(" runs, ")},
                                {"least", say(least)}}));
    if (*least == 0)
      out.warnings.push_back(said(
          "{kind} of {plain_name} is never run: nothing will be said of it",
          {{"kind", print_level(factor.kind, factor.levels[std::size_t(least - counts.begin())])},
           {"plain_name", plain_name(factor.name)}}));
  }
}

/// The model with the wished interactions must be estimable, and leave something for the spread.
void judge_size(const TrialPlan& plan, const std::vector<Combination>& runs, PlanDesign& out) {
  const auto model = model_columns(plan, runs, plan.design.interactions);
  out.coefficients = int(model.rows.cols());
  const int left = out.runs - out.coefficients;
  if (left < 1)
    out.warnings.push_back(said(
        "{runs} runs for {coefficients} coefficients leave nothing to judge the spread by: add "
        "replicates",
        {{"runs", std::to_string(out.runs)}, {"coefficients", std::to_string(out.coefficients)}}));
  else if (left < 4)
    out.warnings.push_back(
        said("only {left}{run_is} left to judge the spread by: intervals will be wide",
             {{"left", std::to_string(left)},
              {"run_is", left == 1 ? said(" run is") : said(" runs are")}}));
  const bool repeated = std::any_of(out.candidates.begin(), out.candidates.end(),
                                    [](const Candidate& c) { return c.count > 1; });
  if (!repeated)
    out.warnings.emplace_back(
        said("no combination is run twice: repeatability rests on the fitted pattern being right"));
}

void find_efficiency(const TrialPlan& plan, const std::vector<Combination>& allowed,
                     const std::vector<Combination>& runs, PlanDesign& out) {
  if (allowed.size() > 20000) return;
  const auto all = model_columns(plan, allowed, plan.design.interactions),
             chosen = model_columns(plan, runs, plan.design.interactions);
  const auto per_run = [](const ModelColumns& model) {
    std::vector<int> rows(std::size_t(model.rows.rows()));
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = int(i);
    return stats::log_determinant(model.rows, rows) / double(model.rows.cols()) -
           std::log(double(model.rows.rows()));
  };
  const double gain = per_run(chosen) - per_run(all);
  if (std::isfinite(gain)) out.d_efficiency_percent = 100 * std::exp(gain);
}

/// Rows of `all` for the given combinations.
std::vector<Combination> allowed_of(const PlanDesign& design) {
  std::vector<Combination> allowed;
  for (const auto& candidate : design.candidates)
    if (candidate.excluded.empty()) allowed.push_back(candidate.levels);
  return allowed;
}

}  // namespace

double coded_level(const PlanFactor& factor, const FactorValue& value) {
  const double number = std::get<double>(value);
  if (factor.kind == FactorKind::apex_angle || factor.kind == FactorKind::edge_angle)
    return std::log(std::tan(radians(number)));
  return number > 0 && factor.kind != FactorKind::user ? std::log(number) : number;
}

std::map<std::string, int> places_by_steel(const TrialPlan& plan) {
  std::map<std::string, int> places;
  const auto held = plan.value_of(Combination(plan.factors.size(), 0), "steel");
  const bool known = held.has_value();
  for (const auto& blade : plan.blades) places[known ? blade.steel : ""] += 1 + blade.resharpenings;
  return places;
}

ModelColumns model_columns(const TrialPlan& plan, const std::vector<Combination>& runs,
                           const std::vector<std::pair<std::string, std::string>>& interactions) {
  ModelColumns out;
  std::vector<Eigen::MatrixXd> levels;
  int width = 1;
  for (const auto& factor : plan.factors) {
    levels.push_back(level_columns(factor));
    out.terms.push_back({factor.name, width, int(levels.back().cols())});
    width += int(levels.back().cols());
  }
  std::vector<std::pair<int, int>> pairs;
  for (const auto& [a, b] : interactions) {
    const auto place = [&](const std::string& name) {
      for (std::size_t i = 0; i < plan.factors.size(); ++i)
        if (plan.factors[i].name == name) return int(i);
      return -1;
    };
    const int i = place(a), j = place(b);
    if (i < 0 || j < 0) continue;
    pairs.emplace_back(i, j);
    const int wide = int(levels[std::size_t(i)].cols() * levels[std::size_t(j)].cols());
    out.terms.push_back({a + ":" + b, width, wide});
    width += wide;
  }
  out.rows.resize(Eigen::Index(runs.size()), width);
  for (std::size_t r = 0; r < runs.size(); ++r) {
    int column = 0;
    const auto row = Eigen::Index(r);
    out.rows(row, column++) = 1;
    for (std::size_t f = 0; f < levels.size(); ++f)
      for (Eigen::Index c = 0; c < levels[f].cols(); ++c)
        out.rows(row, column++) = levels[f](runs[r][f], c);
    for (const auto& [i, j] : pairs)
      for (Eigen::Index a = 0; a < levels[std::size_t(i)].cols(); ++a)
        for (Eigen::Index b = 0; b < levels[std::size_t(j)].cols(); ++b)
          out.rows(row, column++) = levels[std::size_t(i)](runs[r][std::size_t(i)], a) *
                                    levels[std::size_t(j)](runs[r][std::size_t(j)], b);
  }
  return out;
}

std::vector<Confounding> confounding_of(const TrialPlan& plan, const std::vector<Combination>& runs,
                                        const std::vector<std::string>& blocks) {
  std::vector<Confounding> out;
  // Judged on the different combinations and counts only; far more runs than coefficients tell
  // nothing new.
  if (runs.size() < 2 || runs.size() > 3000) return out;
  auto model = model_columns(plan, runs, all_pairs(plan));
  if (model.rows.cols() > 400) model = model_columns(plan, runs, {});
  const auto columns = [&](const ModelColumns::Term& term) {
    return Eigen::MatrixXd(model.rows.middleCols(term.first, term.width));
  };
  const auto add = [&](const std::string& a, const std::string& b, double share) {
    if (share < kMixedShare) return;
    Confounding c{a, b, share, ""};
    const std::string first = plain_name(a), second = plain_name(b);
    c.sentence =
        share >= kSameShare
            ? said("what {second} does cannot be told from what {first} does.",
                   {{"second", second}, {"first", first}})
            : said("{second} is partly mixed with {first} ({share} % in common).",
                   {{"second", second}, {"first", first}, {"share", print_number(100 * share, 2)}});
    c.sentence[0] = char(std::toupper(static_cast<unsigned char>(c.sentence[0])));
    out.push_back(c);
  };
  const std::size_t mains = plan.factors.size();
  for (std::size_t i = 0; i < mains; ++i)
    for (std::size_t j = i + 1; j < model.terms.size(); ++j) {
      const auto& other = model.terms[j];
      // A factor with its own interactions is mixed only through unbalanced levels; that is the
      // balance's business.
      if (j >= mains && (other.name.starts_with(model.terms[i].name + ":") ||
                         other.name.ends_with(":" + model.terms[i].name)))
        continue;
      add(model.terms[i].name, other.name,
          stats::shared_share(columns(model.terms[i]), columns(other)));
    }
  const auto wished = [&](const std::string& name) {
    return std::any_of(
        plan.design.interactions.begin(), plan.design.interactions.end(), [&](const auto& pair) {
          return pair.first + ":" + pair.second == name || pair.second + ":" + pair.first == name;
        });
  };
  for (std::size_t i = mains; i < model.terms.size(); ++i)
    for (std::size_t j = mains; j < model.terms.size(); ++j)
      if (i != j && wished(model.terms[i].name) && !(wished(model.terms[j].name) && j < i))
        add(model.terms[i].name, model.terms[j].name,
            stats::shared_share(columns(model.terms[i]), columns(model.terms[j])));
  std::map<std::string, int> index;
  for (const auto& block : blocks) index.try_emplace(block, int(index.size()));
  if (index.size() > 1 && blocks.size() == runs.size()) {
    Eigen::MatrixXd membership =
        Eigen::MatrixXd::Zero(Eigen::Index(runs.size()), Eigen::Index(index.size()) - 1);
    for (std::size_t r = 0; r < runs.size(); ++r)
      if (const int b = index[blocks[r]]; b > 0) membership(Eigen::Index(r), b - 1) = 1;
    for (std::size_t i = 0; i < mains; ++i)
      add("block", model.terms[i].name, stats::shared_share(membership, columns(model.terms[i])));
  }
  std::stable_sort(out.begin(), out.end(),
                   [](const auto& a, const auto& b) { return a.share > b.share; });
  return out;
}

Checked<PlanDesign> design_plan(const TrialPlan& plan, const stats::Work& work) {
  if (const auto faults = faults_of(plan); !faults.empty()) return Refusal{listed(faults, "; ")};
  const long count = combination_count(plan);
  if (count > kMostCandidates)
    return Refusal{
        said("{count} combinations are more than the {most_candidates} that are looked through: "
             "take fewer factors or levels",
             {{"count", print_number(double(count), 6)},
              {"most_candidates", std::to_string(kMostCandidates)}})};
  if (plan.design.kind == DesignKind::full && count * plan.design.replicates > 20 * kMostFullRuns)
    return Refusal{said(
        "all combinations would be {replicates} runs; choose the best few dozen of them instead",
        {{"replicates", print_number(double(count) * plan.design.replicates, 6)}})};
  PlanDesign out;
  std::vector<std::size_t> place;
  for (long i = 0; i < count; ++i) {
    if (i % 4096 == 0 && work.stop.stop_requested())
      return Refusal{said("stopped: nothing was designed")};
    Candidate candidate{combination_at(plan, i), "", 0};
    candidate.excluded = why_excluded(plan, candidate.levels);
    if (candidate.excluded.empty()) place.push_back(std::size_t(i));
    out.candidates.push_back(std::move(candidate));
  }
  if (place.empty()) {
    std::set<std::string> reasons;
    for (const auto& candidate : out.candidates) reasons.insert(candidate.excluded);
    return Refusal{said("the conditions contradict each other, no combination is left: {reasons}",
                        {{"reasons", listed({reasons.begin(), reasons.end()}, "; ")}})};
  }
  const std::vector<Combination> allowed = allowed_of(out);
  const int replicates = plan.design.replicates;
  if (plan.design.kind == DesignKind::full) {
    for (const auto i : place) out.candidates[i].count = replicates;
  } else {
    const bool fraction = plan.design.kind == DesignKind::fraction;
    if (fraction && std::size_t(plan.design.runs) > allowed.size())
      return Refusal{
          said("a fraction of {runs} is more than the {allowed} combinations that are allowed",
               {{"runs", std::to_string(plan.design.runs)},
                {"allowed", std::to_string(allowed.size())}})};
    stats::DesignQuestion question;
    const auto main = model_columns(plan, allowed, plan.design.interactions);
    question.candidates = main.rows;
    if (fraction) {
      const auto wide = model_columns(plan, allowed, all_pairs(plan));
      if (wide.rows.cols() <= 120) {
        // The wished interactions are asked for; the others only kept apart from the rest.
        question.candidates = wide.rows;
        question.prior = Eigen::VectorXd::Zero(wide.rows.cols());
        for (const auto& term : wide.terms) {
          const bool asked =
              std::any_of(main.terms.begin(), main.terms.end(),
                          [&](const auto& other) { return other.name == term.name; });
          if (!asked) question.prior.segment(term.first, term.width).setConstant(1.0);
        }
      }
    }
    question.runs = plan.design.runs;
    if (question.runs * replicates < main.rows.cols())
      return Refusal{
          said("{runs} runs are too few: this plan asks for {cols} coefficients ({terms} terms and "
               "the mean)",
               {{"runs", std::to_string(question.runs)},
                {"cols", std::to_string(main.rows.cols())},
                {"terms", std::to_string(main.terms.size())}})};
    question.most_repeats = fraction ? 1 : question.runs;
    auto groups = steel_groups(plan, allowed, replicates, {});
    question.group = groups.group;
    question.group_capacity = groups.capacity;
    question.seed = plan.seed;
    const auto found = stats::d_optimal(question, work);
    if (!found || found->stopped) {
      if (found && found->stopped) return Refusal{said("stopped: nothing was designed")};
      std::vector<Combination> wanted;
      for (std::size_t i = 0; i < std::size_t(plan.design.runs * replicates); ++i)
        wanted.push_back(allowed[i % allowed.size()]);
      if (const auto refusal = blades_short(plan, wanted)) return *refusal;
      return Refusal{
          said("{reason}: {runs} runs do not fit the blades and combinations that are allowed",
               {{"reason", found.refusal().reason}, {"runs", std::to_string(plan.design.runs)}})};
    }
    for (const int index : found->chosen)
      out.candidates[place[std::size_t(index)]].count += replicates;
  }
  std::vector<Combination> runs;
  for (const auto& candidate : out.candidates) {
    out.runs += candidate.count;
    for (int i = 0; i < candidate.count && runs.size() <= 20 * std::size_t(kMostFullRuns); ++i)
      runs.push_back(candidate.levels);
  }
  if (out.runs > kMostFullRuns)
    return Refusal{said(
        "{runs} runs are more than a bench makes ({most_full_runs}); choose the best few dozen "
        "instead",
        {{"runs", std::to_string(out.runs)}, {"most_full_runs", std::to_string(kMostFullRuns)}})};
  if (const auto refusal = blades_short(plan, runs)) return *refusal;
  judge_size(plan, runs, out);
  describe_balance(plan, out);
  find_efficiency(plan, allowed, runs, out);
  out.confounded = confounding_of(plan, runs, {});
  return out;
}

Checked<std::vector<std::vector<Combination>>> extend_design(const TrialPlan& plan,
                                                             const PlanDesign& design,
                                                             const stats::Work& work) {
  std::vector<std::vector<Combination>> out;
  std::vector<Combination> so_far;
  for (const auto& candidate : design.candidates)
    so_far.insert(so_far.end(), std::size_t(candidate.count), candidate.levels);
  const std::vector<Combination> allowed = allowed_of(design);
  for (const auto& extension : plan.extensions) {
    std::vector<Combination> more;
    if (extension.runs <= 0) {
      for (const auto& candidate : design.candidates)
        if (candidate.count) more.push_back(candidate.levels);
    } else {
      stats::DesignQuestion question;
      question.candidates = model_columns(plan, allowed, plan.design.interactions).rows;
      question.fixed = model_columns(plan, so_far, plan.design.interactions).rows;
      question.runs = question.most_repeats = extension.runs;
      auto groups = steel_groups(plan, allowed, 1, runs_by_steel(plan, so_far));
      question.group = groups.group;
      question.group_capacity = groups.capacity;
      question.seed = extension.seed;
      const auto found = stats::d_optimal(question, work);
      if (!found)
        return Refusal{said("the extension by {runs} runs does not fit: the blades allow no more",
                            {{"runs", std::to_string(extension.runs)}})};
      for (const int index : found->chosen) more.push_back(allowed[std::size_t(index)]);
    }
    so_far.insert(so_far.end(), more.begin(), more.end());
    if (so_far.size() > std::size_t(kMostFullRuns))
      return Refusal{said("with its extensions the plan has more than 2000 runs")};
    if (const auto refusal = blades_short(plan, so_far)) return *refusal;
    out.push_back(std::move(more));
  }
  return out;
}

}  // namespace bq::inline plan
