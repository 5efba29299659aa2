#include "workflow/rough_standing.h"

#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/bench_study.h"

namespace bq::inline workflow {

RoughSearches::RoughSearches(const Trial& trial, const std::string& steel,
                             const std::vector<BenchSession>& sessions,
                             const std::string& section_questions)
    : stress_(stress_facts(trial, steel, section_questions)) {
  for (const auto& session : sessions) {
    const auto* search = std::get_if<DamageSearch>(&session.data);
    if (!search || steel.empty() || search->steel != steel) continue;
    auto rounds = rough_uses(*search);
    if (rounds.empty()) continue;
    Known known;
    known.search = *search;
    known.use = search->name + " (" + search->medium +
                (search->cut_mode ? ", " + std::string(name_of(*search->cut_mode)) : "") + ")";
    known.rounds = std::move(rounds);
    searches_.push_back(std::move(known));
  }
}

/// "; the load that search met (10 to 22 N/mm) would bend it up to 40 µm thick (estimate)".
std::string RoughSearches::by_the_load(const ApexProfile& section, Known& known) const {
  if (!stress_) return said("; what this steel bears is not known, so there is no estimate");
  if (!known.load_known) {
    known.load = calibrated_load(known.search, stress_->limit_MPa, stress_->depth_mm);
    known.load_known = true;
  }
  if (!known.load) return said("; that search has met no load that damaged");
  const auto bends = [&](double N_per_mm) {
    return yield_thickness_um(section, N_per_mm, stress_->limit_MPa, stress_->depth_mm);
  };
  const std::string met =
      said("; the load that search met ({low_n_per_mm} to {high_n_per_mm} N/mm) ",
           {{"low_n_per_mm", print_number(known.load->low_N_per_mm, 2)},
            {"high_n_per_mm", print_number(known.load->high_N_per_mm, 2)}});
  const double most = bends(known.load->high_N_per_mm), usual = bends(known.load->best_N_per_mm);
  if (!(most > 0)) return said("{met}it would bear (estimate)", {{"met", met}});
  if (!(usual > 0)) return said("{met}it may bear (estimate)", {{"met", met}});
  return said("{met}would bend it up to {usual} µm thick (estimate)",
              {{"met", met}, {"usual", print_number(usual, 2)}});
}

std::vector<RoughStanding> RoughSearches::of(const Section& section) {
  std::vector<RoughStanding> out;
  const ApexProfile profile = profile_of(section);
  for (auto& known : searches_) {
    std::vector<const RoughUse*> all;
    for (const auto& round : known.rounds) all.push_back(&round);
    RoughStanding one;
    one.use = known.use;
    one.standing = judge(profile, all);
    switch (one.standing) {
      case RoughestUse::held:
        one.sentence = said("holds: it is nowhere thinner than the edge that held the long block");
        break;
      case RoughestUse::damaged:
        one.sentence = said("is damaged: it is nowhere thicker than an edge that was");
        break;
      case RoughestUse::not_tried:
        one.sentence = said(
            "is not known: thinner in places than what held, thicker than what failed{by_the_load}",
            {{"by_the_load", by_the_load(profile, known)}});
        break;
    }
    out.push_back(std::move(one));
  }
  return out;
}

}  // namespace bq::inline workflow
