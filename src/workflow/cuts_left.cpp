#include "workflow/cuts_left.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "trial/making.h"

namespace bq::inline workflow {

std::optional<EdgeLife> life_at(const LifeModel& model, const std::string& steel, double angle,
                                std::optional<double> finish_um) {
  LifePoint point;
  point.steel = steel;
  point.mean_tangent = std::tan(radians(angle));
  point.finish_um = finish_um;
  const auto row = model.row(point);
  if (!row) return std::nullopt;
  return EdgeLife{std::exp(model.log_life(*row).first),
                  std::exp(model.log_prediction_limit(*row, 0.95))};
}

Checked<CutsLeft> cuts_left(const Trial& facts, const std::vector<RunFit>& fits,
                            const LifeModel& model, const std::string& work, double threshold,
                            std::size_t blade, const LadderDraft& draft) {
  CutsLeft out;
  out.unknown = "It has not been cut with since it was sharpened: its whole life is left.";
  const RunFit* own = nullptr;
  out.run = run_on_edge(facts, blade);
  if (out.run) {
    const Run& cut = facts.runs[*out.run];
    out.made = double(cut.cuts_done);
    const std::string cuts =
        print_number(double(cut.cuts_done), 9) + " cuts of run " + cut.facts.name;
    const std::string there = work_of_runs(facts)[*out.run];
    if (there != work) {
      out.unknown = "The " + cuts + " were made in \"" + there +
                    "\": what they took from the edge is not known here, a whole life is reckoned.";
    } else if (!fits[*out.run].curve) {
      out.unknown = "The " + cuts +
                    " have no blunting curve: what they took from the edge is not known, "
                    "a whole life is reckoned.";
    } else {
      own = &fits[*out.run];
      out.unknown.clear();
    }
  }
  out.apex_deg =
      draft.wish.micro ? draft.wish.micro->equivalent_deg() : draft.wish.edge.equivalent_deg();
  const auto fresh =
      life_at(model, facts.blades.at(blade).steel, out.apex_deg, draft.state.finish_um);
  if (!fresh) return Refusal{"the life model cannot speak of this blade's edge"};
  out.fresh = *fresh;
  out.by_curve = own != nullptr;
  if (!own) {
    out.usual = fresh->usual;
    out.low = fresh->low;
    return out;
  }
  const auto cuts = cuts_to_threshold(*own, threshold);
  // Blunt at its first reading: nothing is left. Not blunt at its last: as long as the usual one.
  const double life = cuts.censoring == Censoring::left
                          ? 0
                          : cuts.estimate.value_or(std::max(fresh->usual, cuts.low.value_or(0)));
  out.usual = std::max(0.0, life - out.made);
  out.low = cuts.censoring == Censoring::left
                ? 0
                : std::clamp(cuts.low.value_or(0) - out.made, 0.0, out.usual);
  return out;
}

}  // namespace bq::inline workflow
