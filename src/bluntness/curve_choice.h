#pragma once

#include <optional>
#include <vector>

#include "bluntness/curve_fit.h"
#include "quantity/shared_list.h"

namespace bq::inline bluntness {

struct CurveOptions {
  std::optional<CurveModel> model;  ///< empty: choose
  bool robust = false;              ///< Huber loss, tuning constant 1.345
};

/// A reading whose residual is too large for the fit (Bonferroni bound at 5 %).
struct FitSuspect {
  std::size_t reading_index = 0;  ///< into the readings passed in
  double studentised = 0;         ///< externally studentised residual
};

/// A fitted run: the curve that was chosen and those it was chosen from.
struct ChosenCurve {
  CurveFit fit;
  SharedList<CurveFit> candidates;       ///< every model that could be fitted
  SharedList<CurveResiduals> residuals;  ///< of each candidate
  std::size_t alone = 0;                 ///< the candidate that this run by itself chooses
  std::vector<FitSuspect> suspects;      ///< flagged, never removed
  /// Two-phase was chosen, its fast phase is over (3·tau) in the first tenth of the cuts and costs
  /// at least half of the fresh reading: the signature of a residual burr or of fragile teeth.
  bool early_collapse = false;
  /// Akaike weight of a candidate among the candidates.
  [[nodiscard]] double weight(std::size_t candidate) const;
};

/// Two-phase with its fast phase over early and worth half a fresh reading (early_collapse).
bool shows_early_collapse(const CurveFit& fit);

/// A rival must lead the power model by more than this in AICc to be chosen (DOMAIN §6: always
/// following the smallest AICc costs coverage). Where there is scatter between checkpoints the
/// likelihood's part of the lead is divided by the overdispersion (quasi-AICc, Lebreton et al.
/// 1992).
inline constexpr double kAiccLead = 6.0;

/// Fits and chooses. `readings` sorted by cuts. Refused ("not enough to fit …") as fit_curve.
Checked<ChosenCurve> choose_curve(std::span<const LogReading> readings,
                                  const CurveOptions& options = {});

}  // namespace bq::inline bluntness
