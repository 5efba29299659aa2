#include "workflow/together_answer.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "stats/holm.h"

namespace bq::inline workflow {

std::string ratio_in_words(double ratio) {
  return ratio < 10 ? print_fixed(ratio, 2) : print_number(ratio, 3);
}

namespace {

std::string beyond(const std::optional<double>& end) {
  return end ? ratio_in_words(*end) : said("not bounded");
}
std::string interval(const std::optional<double>& low, const std::optional<double>& high) {
  return said("({beyond} to {beyond_2}, 95 %)",
              {{"beyond", beyond(low)}, {"beyond_2", beyond(high)}});
}
std::string trials_in_words(std::size_t count) {
  return std::to_string(count) + (count == 1 ? said(" trial") : said(" trials"));
}

/// Steels that were cut in one trial, or are linked so through others, have one number.
std::map<std::string, int> linked_steels(const std::vector<LifeRow>& rows) {
  std::map<std::string, int> group;
  std::map<std::string, std::set<std::string>> in_trial;
  for (const auto& row : rows) {
    group.emplace(row.facts.steel, int(group.size()));
    in_trial[trial_of(row)].insert(row.facts.steel);
  }
  for (const auto& [trial, steels] : in_trial)
    for (const auto& steel : steels) {
      const int from = group[steel], to = group[*steels.begin()];
      for (auto& [name, number] : group)
        if (number == from) number = to;
    }
  return group;
}

int trials_with(const std::vector<LifeRow>& rows, const std::string& a, const std::string& b) {
  std::map<std::string, int> seen;
  for (const auto& row : rows)
    seen[trial_of(row)] |= (row.facts.steel == a ? 1 : 0) | (row.facts.steel == b ? 2 : 0);
  return int(std::count_if(seen.begin(), seen.end(), [](const auto& s) { return s.second == 3; }));
}

bool has_term(const LifeSpec& spec, const char* term) {
  return std::find(spec.terms.begin(), spec.terms.end(), term) != spec.terms.end();
}

class TogetherBuilder {
 public:
  TogetherBuilder(const std::vector<TrialLives>& trials, const std::optional<std::string>& work)
      : trials_(trials) {
    out_.table = lives_together(trials, work);
    if (!out_.table.rows.empty()) out_.work = out_.table.rows.front().work;
  }

  Together make() {
    count();
    if (std::count_if(out_.trials.begin(), out_.trials.end(),
                      [](const auto& t) { return t.runs > 0; }) < 2) {
      out_.sentence = said(
          "There are no two trials here that can be put together: see what was left out and why.");
      return out_;
    }
    link();
    if (trials_in(linked_).size() < 2) {
      // Each trial had its own steels.
      out_.sentence = out_.steels.front().sentence;
      return out_;
    }
    fit();
    if (!out_.model) return out_;
    compare();
    say();
    return out_;
  }

 private:
  void count() {
    for (const auto& trial : trials_) out_.trials.push_back({trial.name, trial.limit, 0, 0});
    std::map<std::string, Together::Part*> of;
    for (auto& trial : out_.trials) of[trial.name] = &trial;
    for (const auto& row : out_.table.rows) ++of.at(trial_of(row))->runs;
    for (std::size_t t = 0; t < trials_.size(); ++t)
      out_.trials[t].left_out =
          int(trials_[t].table.rows.size() + trials_[t].table.left_out.size()) -
          out_.trials[t].runs;
    std::set<std::string> apart;
    for (const auto& names : names_of_steels(trials_))
      for (const auto& [name, called] : names) apart.insert(name);
    for (const auto& name : apart)
      out_.remarks.push_back(
          said("The trials' cards give {name} hardnesses more than 1 HRC apart: each is a steel of "
               "its own here.",
               {{"name", name}}));
  }

  /// What is linked through common steels and has most runs is put into one model; of what is not
  /// linked with it is said that it is not compared.
  void link() {
    const auto groups = linked_steels(out_.table.rows);
    std::map<int, int> runs;
    for (const auto& row : out_.table.rows) ++runs[groups.at(row.facts.steel)];
    const int most = std::max_element(runs.begin(), runs.end(), [](const auto& a, const auto& b) {
                       return a.second < b.second;
                     })->first;
    linked_ = out_.table;
    std::erase_if(linked_.rows,
                  [&](const LifeRow& row) { return groups.at(row.facts.steel) != most; });
    for (auto a = groups.begin(); a != groups.end(); ++a)
      for (auto b = std::next(a); b != groups.end(); ++b) {
        if (a->second == b->second) continue;
        SteelsTogether two;
        two.pair.longer = a->first;
        two.pair.shorter = b->first;
        two.sentence = said(
            "{a} and {b} were in no trial together, nor linked through others: what sets them "
            "apart here sets the trials apart too, and nothing is said of it.",
            {{"a", a->first}, {"b", b->first}});
        out_.remarks.push_back(two.sentence);
        out_.steels.push_back(std::move(two));
      }
  }

  void fit() {
    LifeTable table = linked_;
    LifeSpec spec = usual_terms(table);
    std::erase(spec.terms, kTrialTerm);
    plain_ = spec;
    random_trial_ = allow_for_trials(table, spec);
    auto model = LifeModel::fit(table, spec);
    if (model && spec.random_blade && !model->blade_sd()) {
      // Too few groups for a spread between them: each trial with a level of its own.
      too_sure_ = !random_trial_;
      random_trial_ = false;
      spec = plain_;
      spec.terms.emplace_back(kTrialTerm);
      table = linked_;
      model = LifeModel::fit(table, spec);
    }
    if (!model) {
      out_.sentence = said("Nothing can be said of these trials together: {reason}.",
                           {{"reason", model.refusal().reason}});
      return;
    }
    out_.model.emplace(*model);
    for (const auto& left : out_.model->left_out())
      out_.remarks.push_back(
          said("{run} {reason}, and is left out.", {{"run", left.run}, {"reason", left.reason}}));
  }

  /// The trials each with a level of its own: what is known without taking them for draws of one
  /// kind. Empty where that cannot be fitted, or is what was fitted.
  [[nodiscard]] std::optional<LifeModel> trials_alone() const {
    if (!random_trial_) return std::nullopt;
    LifeSpec spec = plain_;
    spec.terms.emplace_back(kTrialTerm);
    const auto model = LifeModel::fit(linked_, spec);
    return model ? std::optional(*model) : std::nullopt;
  }

  void compare() {
    if (!has_term(out_.model->spec(), "steel")) return;
    const auto alone = trials_alone();
    const auto order = steels_by_life(*out_.model);
    std::vector<SteelsTogether> compared;
    std::vector<double> p;
    std::vector<std::size_t> asked;
    for (std::size_t a = 0; a < order.size(); ++a)
      for (std::size_t b = a + 1; b < order.size(); ++b) {
        SteelsTogether two;
        two.pair.longer = order[a].second;
        two.pair.shorter = order[b].second;
        two.trials_with_both = trials_with(out_.model->rows(), two.pair.longer, two.pair.shorter);
        if (contrast(two, alone)) {
          asked.push_back(compared.size());
          p.push_back(two.pair.contrast.p);
        }
        compared.push_back(std::move(two));
      }
    const auto family = stats::holm(p);
    for (std::size_t i = 0; i < asked.size(); ++i) judge(compared[asked[i]], family[i]);
    out_.steels.insert(out_.steels.begin(), compared.begin(), compared.end());
  }

  bool contrast(SteelsTogether& two, const std::optional<LifeModel>& alone) {
    const FactorContrast asked{"steel", two.pair.shorter, two.pair.longer};
    const auto drawn = life_contrast(*out_.model, asked);
    if (!drawn) {
      two.sentence = said("{longer} and {shorter} cannot be compared: {reason}.",
                          {{"longer", two.pair.longer},
                           {"shorter", two.pair.shorter},
                           {"reason", drawn.refusal().reason}});
      return false;
    }
    two.pair.contrast = *drawn;
    const LifeModel* model = &*out_.model;
    const auto own = alone ? life_contrast(*alone, asked) : Checked<LifeContrast>(Refusal{""});
    if (own &&
        ((drawn->low && own->ratio < *drawn->low) || (drawn->high && own->ratio > *drawn->high))) {
      two.pair.contrast = *own;
      model = &*alone;
      out_.remarks.push_back(
          said("Within the trials {longer} and {shorter} stand otherwise to each other than over "
               "all runs: trials that had more of one were also otherwise. What is said of them is "
               "from within the trials.",
               {{"longer", two.pair.longer}, {"shorter", two.pair.shorter}}));
      if (own->ratio < 1) {
        // The one that lasts longer is named first.
        std::swap(two.pair.longer, two.pair.shorter);
        turn(two.pair.contrast);
      }
    }
    const auto row = contrast_row(*model, {"steel", two.pair.shorter, two.pair.longer});
    two.pair.within = row && lies_within(*model, *row);
    return true;
  }

  static void turn(LifeContrast& contrast) {
    contrast.log_ratio = -contrast.log_ratio;
    contrast.ratio = 1 / contrast.ratio;
    const auto low = contrast.low, high = contrast.high;
    contrast.low = high ? std::optional(1 / *high) : std::nullopt;
    contrast.high = low ? std::optional(1 / *low) : std::nullopt;
  }

  void judge(SteelsTogether& two, double family_p) {
    SteelPair& pair = two.pair;
    pair.family_p = family_p;
    const std::string ratio =
        ratio_in_words(pair.contrast.ratio) + " " + interval(pair.contrast.low, pair.contrast.high);
    const std::string both =
        two.trials_with_both > 0
            ? said("both were in {trials_in_words}",
                   {{"trials_in_words", trials_in_words(two.trials_with_both)}})
            : said("linked through other steels");
    if (too_sure_) {
      two.sentence = said(
          "{longer} came out at {ratio_in_words} times {shorter}, from too few blades for how "
          "blades of one steel differ to be known: nothing is claimed.",
          {{"longer", pair.longer},
           {"ratio_in_words", ratio_in_words(pair.contrast.ratio)},
           {"shorter", pair.shorter}});
      return;
    }
    pair.verdict = verdict_of(pair, out_.model->spec().level);
    if (pair.verdict == SteelVerdict::differs) {
      two.sentence = said(
          "{longer} lasts {ratio} times as long as {shorter} at the same angle and finish; {both}.",
          {{"longer", pair.longer}, {"ratio", ratio}, {"shorter", pair.shorter}, {"both", both}});
    } else if (pair.verdict == SteelVerdict::alike) {
      two.sentence = alike_sentence(pair);
    } else {
      two.sentence = said(
          "{longer} and {shorter} cannot be told apart: {ratio} times; {both}.",
          {{"longer", pair.longer}, {"shorter", pair.shorter}, {"ratio", ratio}, {"both", both}});
    }
  }

  void say() {
    const std::size_t with_runs = trials_in(linked_).size();
    const std::string lead =
        said("Over {trials_in_words} ({rows} runs{in}): ",
             {{"trials_in_words", trials_in_words(with_runs)},
              {"rows", std::to_string(out_.model->rows().size())},
              {"in", out_.work.empty() ? "" : said(" in {work}", {{"work", out_.work}})}});
    std::vector<std::string> told;
    for (const auto verdict : {SteelVerdict::differs, SteelVerdict::alike})
      for (const auto& two : out_.steels)
        if (two.pair.verdict == verdict) told.push_back(two.sentence);
    if (!told.empty())
      out_.sentence = lead + told.front();
    else if (!out_.steels.empty())
      out_.sentence = lead + (out_.steels.size() == 1 ? out_.steels.front().sentence
                                                      : said("no two steels can be told apart."));
    else
      out_.sentence = lead + mean_life();
    spread(with_runs);
  }

  /// Of one steel: how long its middle edge lasts over the trials.
  [[nodiscard]] std::string mean_life() const {
    const auto& rows = out_.model->rows();
    const auto row = out_.model->row({});
    if (!row) return said("the runs hold nothing to compare.");
    const auto [log_life, error] = out_.model->log_life(*row);
    const double t = stats::t_quantile(0.5 + out_.model->spec().level / 2,
                                       std::max(1, out_.model->degrees_of_freedom(*row)));
    const std::string steel = rows.front().facts.steel;
    return said(
        "{an_edge_in} lasts {log_life} cuts {interval}.",
        {{"an_edge_in", steel.empty()
                            ? said("an edge in the middle of these")
                            : said("{steel} at the middle of these edges", {{"steel", steel}})},
         {"log_life", print_number(std::exp(log_life), 3)},
         {"interval", interval(std::exp(log_life - t * error), std::exp(log_life + t * error))}});
  }

  void spread(std::size_t trials) {
    const double within = 100 * std::expm1(out_.model->run_to_run_sd());
    if (random_trial_ && out_.model->blade_sd()) {
      out_.remarks.push_back(said(
          "Between trials lives differ by about {percent} % beside what the edges explain, from "
          "run "
          "to run by {within} %{say_little_of}",
          {{"percent", print_number(100 * std::expm1(*out_.model->blade_sd()), 2)},
           {"within", print_number(within, 2)},
           {"say_little_of",
            trials < 4 ? said("; {trials_in_words} say little of how the next one will differ.",
                              {{"trials_in_words", trials_in_words(trials)}})
                       : "."}}));
    } else {
      out_.remarks.push_back(
          said("Each trial has a level of its own here{and_runs_of}",
               {{"and_runs_of",
                 out_.model->blade_sd() ? said(", and runs of one blade are alike.") : "."}}));
    }
    std::set<std::string> limits;
    for (const auto& trial : out_.trials)
      if (trial.runs > 0) limits.insert(trial.limit);
    if (limits.size() > 1)
      out_.remarks.push_back(said("Each trial is counted to its own limit: they differ."));
  }

  const std::vector<TrialLives>& trials_;
  LifeTable linked_;  ///< the rows that one model can hold
  LifeSpec plain_;    ///< without the trials
  bool random_trial_ = false, too_sure_ = false;
  Together out_;
};

}  // namespace

Together look_together(const std::vector<TrialLives>& trials,
                       const std::optional<std::string>& work) {
  std::vector<TrialLives> named = trials;
  std::map<std::string, int> of_a_name;
  for (auto& trial : named)
    if (const int count = ++of_a_name[trial.name]; count > 1)
      trial.name += " (" + std::to_string(count) + ")";
  return TogetherBuilder(named, work).make();
}

}  // namespace bq::inline workflow
