#include "workflow/rough_standing.h"

#include "bluntness/search_load.h"
#include "quantity/number.h"
#include "workflow/bench_study.h"

namespace bq::inline workflow {
namespace {

/// "; the load that search met (10 to 22 N/mm) would bend it up to 40 µm thick (estimate)".
std::string by_the_load(const ApexProfile& section, const DamageSearch& search,
                        const std::optional<StressFacts>& stress) {
  if (!stress) return "; what this steel bears is not known, so there is no estimate";
  const auto load = calibrated_load(search, stress->limit_MPa, stress->depth_mm);
  if (!load) return "; that search has met no load that damaged";
  const auto bends = [&](double N_per_mm) {
    return yield_thickness_um(section, N_per_mm, stress->limit_MPa, stress->depth_mm);
  };
  const std::string met = "; the load that search met (" + print_number(load->low_N_per_mm, 2) +
                          " to " + print_number(load->high_N_per_mm, 2) + " N/mm) ";
  const double most = bends(load->high_N_per_mm), usual = bends(load->best_N_per_mm);
  if (!(most > 0)) return met + "it would bear (estimate)";
  if (!(usual > 0)) return met + "it may bear (estimate)";
  return met + "would bend it up to " + print_number(usual, 2) + " µm thick (estimate)";
}

}  // namespace

std::vector<RoughStanding> rough_standings(const Section& section, const Trial& trial,
                                           const std::string& steel,
                                           const std::vector<BenchSession>& sessions,
                                           const std::string& section_questions) {
  std::vector<RoughStanding> out;
  const ApexProfile profile = profile_of(section);
  const auto stress = stress_facts(trial, steel, section_questions);
  for (const auto& session : sessions) {
    const auto* search = std::get_if<DamageSearch>(&session.data);
    if (!search || steel.empty() || search->steel != steel) continue;
    const auto uses = rough_uses(*search);
    if (uses.empty()) continue;
    std::vector<const RoughUse*> all;
    for (const auto& use : uses) all.push_back(&use);
    RoughStanding one;
    one.use = search->name + " (" + search->medium +
              (search->cut_mode ? ", " + std::string(name_of(*search->cut_mode)) : "") + ")";
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
                       by_the_load(profile, *search, stress);
        break;
    }
    out.push_back(std::move(one));
  }
  return out;
}

}  // namespace bq::inline workflow
