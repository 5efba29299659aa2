#include "workflow/making_check.h"

#include <cmath>

#include "quantity/number.h"
#include "trial/making.h"

namespace bq::inline workflow {
namespace {

constexpr double kSameAngle_deg = 0.5;

/// "edge bevel 12° per side instead of 10°"; "" where they agree or one does not say.
std::string disagreement(const RunFacts& facts, const Sharpening& sharpening) {
  const auto ground = geometry_of(sharpening);
  if (!ground || !facts.geometry) return "";
  const auto apart = [](const char* bevel, const BevelAngles& said, const BevelAngles& made) {
    if (std::fabs(said.left_deg - made.left_deg) <= kSameAngle_deg &&
        std::fabs(said.right_deg - made.right_deg) <= kSameAngle_deg)
      return std::string();
    const bool left = std::fabs(said.left_deg - made.left_deg) > kSameAngle_deg;
    return std::string(bevel) + " " + print_number(left ? made.left_deg : made.right_deg, 4) +
           "° per side and not " + print_number(left ? said.left_deg : said.right_deg, 4) + "°";
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
      const std::string which = "blade " + blade.name + ", " + describe(blade, making) + ": ";
      const Run* run = trial.find_run(sharpening.run);
      if (!run)
        out.problems.push_back(which + "there is no such run");
      else if (run->facts.blade != blade.name)
        out.problems.push_back(
            which + "the run is " +
            (run->facts.blade.empty() ? "of no blade" : "of blade " + run->facts.blade));
      else if (const auto apart = disagreement(run->facts, sharpening); !apart.empty())
        out.notes.push_back(which + "the sharpening ground the " + apart + ", as the run says");
    }
    if (makings.unplaced.empty()) continue;
    std::string runs;
    for (const std::size_t run : makings.unplaced)
      runs += (runs.empty() ? "" : ", ") + trial.runs[run].facts.name;
    out.notes.push_back("blade " + blade.name + ": whether " + runs +
                        (makings.unplaced.size() == 1 ? " was" : " were") +
                        " cut before or after its sharpenings is not on record");
  }
  return out;
}

}  // namespace bq::inline workflow
