#include "bluntness/steel_pairs.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "bluntness/one_blade.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/holm.h"

namespace bq::inline bluntness {
std::string_view name_of(SteelVerdict verdict) {
  switch (verdict) {
    case SteelVerdict::differs:
      return "differs";
    case SteelVerdict::alike:
      return "alike";
    case SteelVerdict::cannot_tell:
      return "cannot tell";
    case SteelVerdict::one_blade:
      return "one blade";
  }
  return "";
}

std::vector<std::pair<double, std::string>> steels_by_life(const LifeModel& model) {
  std::set<std::string> names;
  for (const auto& row : model.rows()) names.insert(row.facts.steel);
  std::vector<std::pair<double, std::string>> out;
  for (const auto& name : names) {
    LifePoint point;
    point.steel = name;
    if (const auto row = model.row(point)) out.emplace_back(model.log_life(*row).first, name);
  }
  std::sort(out.rbegin(), out.rend());
  return out;
}

std::vector<SteelPair> compare_steels(const LifeModel& model, double margin) {
  const auto& terms = model.spec().terms;
  if (std::find(terms.begin(), terms.end(), "steel") == terms.end()) return {};
  std::set<std::string> single;
  for (const auto& one : steels_of_one_blade(model.rows())) single.insert(one.steel);
  std::vector<std::string> steels;
  for (const auto& [life, name] : steels_by_life(model)) steels.push_back(name);
  std::vector<SteelPair> out;
  std::vector<std::size_t> asked;
  std::vector<double> p;
  for (std::size_t a = 0; a < steels.size(); ++a)
    for (std::size_t b = a + 1; b < steels.size(); ++b) {
      const auto contrast = life_contrast(model, {"steel", steels[b], steels[a]});
      if (!contrast) continue;
      SteelPair pair;
      pair.longer = steels[a];
      pair.shorter = steels[b];
      pair.contrast = *contrast;
      if (single.contains(steels[a]) || single.contains(steels[b])) {
        pair.verdict = SteelVerdict::one_blade;
      } else {
        asked.push_back(out.size());
        p.push_back(contrast->p);
      }
      out.push_back(std::move(pair));
    }
  const auto together = stats::holm(p);
  for (std::size_t i = 0; i < asked.size(); ++i) {
    SteelPair& pair = out[asked[i]];
    pair.family_p = together[i];
    const auto row = contrast_row(model, {"steel", pair.shorter, pair.longer});
    pair.within = row && lies_within(model, *row, margin);
    pair.verdict = verdict_of(pair, model.spec().level);
  }
  return out;
}

bool lies_within(const LifeModel& model, const Eigen::VectorXd& contrast, double margin) {
  const double end = std::log1p(margin);
  if (std::fabs(model.log_life(contrast).first) >= end) return false;
  // Each one-sided test at 1 − level is an end of the two-sided interval at 2·level − 1.
  const double level = 2 * model.spec().level - 1;
  return model.outside(contrast, end, level) > 0 && model.outside(contrast, -end, level) > 0;
}

SteelVerdict verdict_of(const SteelPair& pair, double level) {
  return pair.family_p < 1 - level ? SteelVerdict::differs
         : pair.within             ? SteelVerdict::alike
                                   : SteelVerdict::cannot_tell;
}

std::string alike_sentence(const SteelPair& pair, double margin) {
  const auto end = [](const std::optional<double>& v) {
    return v ? print_number(*v, 3) : said("not bounded");
  };
  return said(
      "{longer} and {shorter} last alike here, within {margin} %: {longer_2} {ratio} ({low} to "
      "{high}) times as long as {shorter_2} at the same angle and finish (95 %).",
      {{"longer", pair.longer},
       {"shorter", pair.shorter},
       {"margin", print_number(100 * margin, 3)},
       {"longer_2", pair.longer},
       {"ratio", print_number(pair.contrast.ratio, 3)},
       {"low", end(pair.contrast.low)},
       {"high", end(pair.contrast.high)},
       {"shorter_2", pair.shorter}});
}

}  // namespace bq::inline bluntness
