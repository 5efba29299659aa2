#include "workflow/cuts_left.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
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

namespace {

constexpr double kOneSided = 1.645;  // 95 %

/// The life of a run that was stopped before the limit, carried on to it.
std::optional<CarriedLife> carried_life_of(const LifeModel& model, const std::string& run) {
  for (const auto& row : model.rows())
    if (row.facts.name == run) return row.carried;
  return std::nullopt;
}

/// Median and lower 95 % limit of the lives of such edges that are longer than `made`.
std::pair<double, double> beyond(const LifeModel& model, double usual, double made) {
  const double sd = std::hypot(model.sigma(), model.blade_sd().value_or(0));
  if (!(sd > 0)) return {std::max(usual, made), made};
  const double still = stats::normal_log_survival((std::log(made) - std::log(usual)) / sd);
  const auto at = [&](double share) {
    return usual * std::exp(-sd * stats::normal_quantile(std::exp(still) * share));
  };
  // So far out that no probability is left: as long as it was cut.
  if (!(std::exp(still) > 1e-12)) return {made, made};
  return {at(0.5), at(0.95)};
}

}  // namespace

Checked<CutsLeft> cuts_left(const Trial& facts, const std::vector<RunFit>& fits,
                            const LifeModel& model, const std::string& work, double threshold,
                            std::size_t blade, const LadderDraft& draft) {
  CutsLeft out;
  out.unknown = said("It has not been cut with since it was sharpened: its whole life is left.");
  const RunFit* own = nullptr;
  out.run = run_on_edge(facts, blade);
  if (out.run) {
    const Run& cut = facts.runs[*out.run];
    out.made = double(cut.cuts_done);
    const std::string cuts =
        said("{cuts_done} cuts of run {name}",
             {{"cuts_done", print_number(double(cut.cuts_done), 9)}, {"name", cut.facts.name}});
    const std::string there = work_of_runs(facts)[*out.run];
    if (there != work) {
      out.unknown = said(
          "The {cuts} were made in \"{there}\": what they took from the edge is not known here, a "
          "whole life is reckoned.",
          {{"cuts", cuts}, {"there", there}});
    } else if (!fits[*out.run].curve) {
      out.unknown = said(
          "The {cuts} have no blunting curve: what they took from the edge is not known, a whole "
          "life is reckoned.",
          {{"cuts", cuts}});
    } else {
      own = &fits[*out.run];
      out.unknown.clear();
    }
  }
  out.apex_deg =
      draft.wish.micro ? draft.wish.micro->equivalent_deg() : draft.wish.edge.equivalent_deg();
  const auto fresh =
      life_at(model, facts.blades.at(blade).steel, out.apex_deg, draft.state.finish_um);
  if (!fresh) return Refusal{said("the life model cannot speak of this blade's edge")};
  out.fresh = *fresh;
  out.by_curve = own != nullptr;
  if (!own) {
    out.usual = fresh->usual;
    out.low = fresh->low;
    return out;
  }
  const auto cuts = cuts_to_threshold(*own, threshold);
  // Blunt at its first reading: nothing is left.
  if (cuts.censoring == Censoring::left) return out;
  double life = cuts.estimate.value_or(0), least = cuts.low.value_or(0);
  if (cuts.censoring == Censoring::right) {
    const auto carried = carried_life_of(model, own->run);
    out.stopped = true;
    out.carried = carried.has_value();
    const auto [usual, low] =
        carried ? std::pair(std::exp(carried->log_life),
                            std::exp(carried->log_life - kOneSided * carried->log_sd))
                : beyond(model, fresh->usual, std::max(least, 1.0));
    life = std::max(usual, least);
    least = std::max(low, least);
  }
  out.usual = std::max(0.0, life - out.made);
  out.low = std::clamp(least - out.made, 0.0, out.usual);
  return out;
}

}  // namespace bq::inline workflow
