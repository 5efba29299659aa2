#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_model.h"
#include "bluntness/run_fits.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {

/// Life of an edge by a model: the usual one, and the least for the next single edge (95 %).
struct EdgeLife {
  double usual = 0, low = 0;
};
/// Empty where the model cannot speak of this edge. `angle` per side at the apex, degrees.
std::optional<EdgeLife> life_at(const LifeModel& model, const std::string& steel, double angle,
                                std::optional<double> finish_um);

/// What is left of the edge that is on a blade now, to the limit.
struct CutsLeft {
  double made = 0;                 ///< with this edge, since its last sharpening
  std::optional<std::size_t> run;  ///< whose cuts they are
  bool by_curve = false;           ///< the run's own curve tells; else a whole life is reckoned
  bool stopped = false;            ///< it was stopped before the limit: its curve ends below it
  bool carried = false;            ///< and is carried on to it; else the pattern tells beyond it
  double usual = 0;                ///< 0: it is past the limit
  double low = 0;                  ///< at least, 95 %
  double apex_deg = 0;             ///< of the edge, per side
  EdgeLife fresh;                  ///< such an edge when new
  std::string unknown;  ///< why what its cuts took is not known; "" it is, or none were made
};

/// Refused: a draft without angles the model knows. `work` and `threshold` as the model's runs have
/// them; `fits` are those of `facts`' runs, in order.
Checked<CutsLeft> cuts_left(const Trial& facts, const std::vector<RunFit>& fits,
                            const LifeModel& model, const std::string& work, double threshold,
                            std::size_t blade, const LadderDraft& draft);

}  // namespace bq::inline workflow
