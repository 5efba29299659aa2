#include "workflow/making_check.h"

#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/making.h"

namespace bq::inline workflow {
namespace {

constexpr double kSameAngle_deg = 0.5;

/// "edge bevel 12° per side instead of 10°"; "" where they agree or one does not say.
std::string disagreement(const RunFacts& facts, const Sharpening& sharpening) {
  const auto ground = geometry_of(sharpening);
  if (!ground || !facts.geometry) return "";
  const auto apart = [](const char* bevel, const BevelAngles& given, const BevelAngles& made) {
    if (std::fabs(given.left_deg - made.left_deg) <= kSameAngle_deg &&
        std::fabs(given.right_deg - made.right_deg) <= kSameAngle_deg)
      return std::string();
    const bool left = std::fabs(given.left_deg - made.left_deg) > kSameAngle_deg;
    return said("{bevel} {left_deg}° per side and not {left_deg_2}°",
                {{"bevel", bevel},
                 {"left_deg", print_number(left ? made.left_deg : made.right_deg, 4)},
                 {"left_deg_2", print_number(left ? given.left_deg : given.right_deg, 4)}});
  };
  std::string out = apart("edge bevel", facts.geometry->edge(), ground->edge());
  if (out.empty() && facts.geometry->micro() && ground->micro())
    out = apart("micro-bevel", *facts.geometry->micro(), *ground->micro());
  return out;
}

}  // namespace

MakingCheck check_makings(const Trial& trial) {
  MakingCheck out;
  for (std::size_t b = 0; b < trial.blades.size(); ++b) {
    const Blade& blade = trial.blades[b];
    const BladeMakings makings = makings_of(trial, b);
    for (const auto& making : makings.all) {
      if (!making.sharpening) continue;
      const auto& record = blade.records[*making.sharpening];
      const Sharpening& sharpening = std::get<SharpeningRecord>(record.data).sharpening;
      if (sharpening.run.empty()) continue;
      const std::string which = said("blade {name}, {blade}: ",
                                     {{"name", blade.name}, {"blade", describe(blade, making)}});
      const Run* run = trial.find_run(sharpening.run);
      if (!run)
        out.problems.push_back(said("{which}there is no such run", {{"which", which}}));
      else if (run->facts.blade != blade.name)
        out.problems.push_back(
            said("{which}the run is {of_no_blade}",
                 {{"which", which},
                  {"of_no_blade", run->facts.blade.empty()
                                      ? said("of no blade")
                                      : said("of blade {blade}", {{"blade", run->facts.blade}})}}));
      else if (const auto apart = disagreement(run->facts, sharpening); !apart.empty())
        out.notes.push_back(said("{which}the sharpening ground the {apart}, as the run says",
                                 {{"which", which}, {"apart", apart}}));
    }
    if (makings.unplaced.empty()) continue;
    std::string runs;
    for (const std::size_t run : makings.unplaced)
      runs += (runs.empty() ? "" : ", ") + trial.runs[run].facts.name;
    out.notes.push_back(said(
        "blade {name}: whether {runs}{was} cut before or after its sharpenings is not on record",
        {{"name", blade.name},
         {"runs", runs},
         {"was", makings.unplaced.size() == 1 ? said(" was") : said(" were")}}));
  }
  return out;
}

}  // namespace bq::inline workflow
