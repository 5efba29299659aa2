#pragma once

#include <algorithm>
#include <cmath>
#include <functional>
#include <string>
#include <vector>

#include "stats/random.h"
#include "support.h"
#include "workflow/answers.h"
#include "workflow/life_findings.h"

namespace bq::test {

/// A bench whose truth is no model of ours: the reading goes up in a straight line on a square
/// root, threefold at `life` cuts; `life` is given for every run.
struct LikeBench {
  Trial trial;
  stats::Random random{7};
  std::string unit = "gf";

  bq::Run& add(const std::string& name, const std::string& steel, double angle, double life,
               const std::string& medium = "tow", std::optional<CutMode> mode = CutMode::slice,
               bool read_fresh = true) {
    bq::Run run;
    run.facts.name = name;
    run.facts.steel = steel;
    run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle), std::nullopt);
    run.facts.medium = medium;
    run.facts.cut_mode = mode;
    for (const int cuts : {0, 20, 50, 100, 200, 400, 700, 1000}) {
      if (cuts == 0 && !read_fresh) continue;
      for (int i = 0; i < 3; ++i) {
        Reading r;
        r.cuts = cuts;
        r.unit = unit == "gf" ? Unit::gf : Unit::mm;
        r.value = 100 * (1 + 2 * std::sqrt(cuts / life)) * std::exp(0.03 * random.normal());
        run.readings.push_back(r);
      }
    }
    run.cuts_done = 1000;
    trial.runs.push_back(std::move(run));
    return trial.runs.back();
  }
  [[nodiscard]] std::vector<RunFit> fits() const { return *fit_runs(trial, {}, {}); }
  [[nodiscard]] LifeFindings life(const std::string& medium = "") const {
    const auto all = fits();
    LifeQuestion question;
    question.threshold = parse_threshold("3x", trial.unit(), all, true)->value;
    question.medium = medium;
    return find_life(trial, all, question);
  }
};

/// What Findings asks of this bench.
inline AnswerSource source_of(const Trial& facts, const std::vector<RunFit>& fits,
                              const LifeFindings& life) {
  AnswerSource out;
  out.facts = &facts;
  out.fits = &fits;
  out.life = &life;
  return out;
}

/// Six runs of two steels at three angles.
inline void add_six(LikeBench& bench, const std::string& prefix, double life,
                    std::optional<CutMode> mode, const std::string& medium = "tow") {
  int i = 0;
  for (const double angle : {12.0, 15.0, 18.0})
    for (const char* steel : {"Marl", "Cairn"})
      bench.add(prefix + std::to_string(i++), steel, angle,
                life * (steel[0] == 'M' ? 1.3 : 1) * std::exp(0.05 * bench.random.normal()), medium,
                mode);
}

inline bool says(const std::vector<std::string>& sentences, const std::string& part) {
  return std::any_of(sentences.begin(), sentences.end(),
                     [&](const std::string& s) { return s.find(part) != std::string::npos; });
}

}  // namespace bq::test
