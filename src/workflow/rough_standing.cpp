#include "workflow/rough_standing.h"

#include "quantity/number.h"
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
  if (!stress_) return "; what this steel bears is not known, so there is no estimate";
  if (!known.load_known) {
    known.load = calibrated_load(known.search, stress_->limit_MPa, stress_->depth_mm);
    known.load_known = true;
  }
  if (!known.load) return "; that search has met no load that damaged";
  const auto bends = [&](double N_per_mm) {
    return yield_thickness_um(section, N_per_mm, stress_->limit_MPa, stress_->depth_mm);
  };
  const std::string met = "; the load that search met (" +
                          print_number(known.load->low_N_per_mm, 2) + " to " +
                          print_number(known.load->high_N_per_mm, 2) + " N/mm) ";
  const double most = bends(known.load->high_N_per_mm), usual = bends(known.load->best_N_per_mm);
  if (!(most > 0)) return met + "it would bear (estimate)";
  if (!(usual > 0)) return met + "it may bear (estimate)";
  return met + "would bend it up to " + print_number(usual, 2) + " µm thick (estimate)";
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
        one.sentence = "holds: it is nowhere thinner than the edge that held the long block";
        break;
      case RoughestUse::damaged:
        one.sentence = "is damaged: it is nowhere thicker than an edge that was";
        break;
      case RoughestUse::not_tried:
        one.sentence = "is not known: thinner in places than what held, thicker than what failed" +
                       by_the_load(profile, known);
        break;
    }
    out.push_back(std::move(one));
  }
  return out;
}

}  // namespace bq::inline workflow
