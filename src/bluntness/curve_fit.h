#pragma once

#include <Eigen/Core>
#include <array>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "bluntness/blunting_curve.h"
#include "bluntness/checkpoint_table.h"
#include "quantity/checked.h"

namespace bq::inline bluntness {

/// Variance of an estimate with the degrees of freedom it is known with.
struct VarianceEstimate {
  double variance = 0;
  double degrees_of_freedom = 0;
};

/// Correlations of neighbouring checkpoints at which a bench is tried.
inline constexpr std::array<double, 6> kNeighbourGrid{0, 0.2, 0.4, 0.6, 0.8, 0.9};

/// Sums of squares of ln readings about fitted curves, of one run or added up over a bench, with
/// what each expects. A checkpoint's mean deviates by its own scatter σ_c, neighbours (in order)
/// with correlation ρ, and by σ_w of its readings.
struct ScatterSums {
  double within_sum = 0, within_dof = 0;    ///< of readings about their checkpoint's mean
  double between_sum = 0, between_dof = 0;  ///< Σ w·(mean_log − ln g)²; expects σ_w²·between_dof
  double lag_sum = 0, lag_within = 0;  ///< Σ of products of neighbours; expects σ_w²·lag_within
  /// What σ_c² adds to between_sum and lag_sum, for ρ on kNeighbourGrid.
  std::array<double, kNeighbourGrid.size()> between_share{}, lag_share{};
  double correlation = 0;  ///< ρ that is taken, 0 <= ρ <= 0.9

  ScatterSums& operator+=(const ScatterSums& other);
  [[nodiscard]] double within_variance() const;      ///< σ_w²; 0 without degrees of freedom
  [[nodiscard]] double between_share_at() const;     ///< for the correlation that is taken
  [[nodiscard]] double checkpoint_variance() const;  ///< σ_c² by moments, not below 0
};

/// One blunting curve fitted by least squares on ln y.
struct CurveFit {
  Curve curve;
  int readings = 0;
  int checkpoints = 0;
  double last_cuts = 0;
  double reference_cuts = 1;
  double sum_of_squares = 0;  ///< of the readings' residuals in ln y
  double sigma_log = 0;       ///< √(SSE/(n − p))
  double aicc = 0;
  bool converged = false;
  bool has_zero = false;           ///< a checkpoint at 0 cuts; without it r0 is badly determined
  double within_variance = 0;      ///< of ln y within checkpoints
  double checkpoint_variance = 0;  ///< between checkpoints besides that within; 0 when not seen
  /// (Σ w J Jᵀ)⁻¹ and Σ w² J Jᵀ in the logarithms of the parameters (k as wear at reference_cuts);
  /// parameters at a bound have zero rows.
  Eigen::Matrix4d inverse_information = Eigen::Matrix4d::Zero();
  Eigen::Matrix4d squared_weight_information = Eigen::Matrix4d::Zero();
  double between_sum = 0;  ///< Σ w·(mean_log − ln g)² over checkpoints
  /// The scatter of the whole bench; empty: the run's own is all there is.
  std::optional<ScatterSums> bench;

  [[nodiscard]] int parameters() const { return parameter_count(curve.model); }
  /// The run's own scatter about this curve, without correlation of neighbours.
  [[nodiscard]] ScatterSums own_scatter() const;
  /// Variance of gradientᵀ·(ln parameters). The covariance carries the scatter between checkpoints
  /// besides that within them: (ΣwJJᵀ)⁻¹(σ_w²·ΣwJJᵀ + σ_c²·Σw²JJᵀ)(ΣwJJᵀ)⁻¹, σ_c² by moments and
  /// not below 0, both from the bench where it is known, else from the run. Degrees of freedom of
  /// the sums they come from: all of them when no checkpoint scatter is seen, else Satterthwaite's,
  /// not below those between checkpoints.
  [[nodiscard]] VarianceEstimate variance_of(const Eigen::Vector4d& gradient) const;
};

/// Checkpoints a model needs: two-phase and levelling 6, power 3 with one at 0 cuts (else 4),
/// linear and wear area 2 with one at 0 cuts (else 3).
int checkpoints_needed(CurveModel model, bool has_zero);

/// b of the power model is kept in this range.
inline constexpr double kLeastExponent = 0.05, kLargestExponent = 4.0;

/// The least-squares solution alone, without what inference needs: the cheap part of a fit.
struct CurveSolution {
  Curve curve;
  double between_sum = 0;  ///< Σ w·(mean_log − ln g)²
  bool converged = false;
  int evaluations = 0;
  /// Σ w J Jᵀ at the solution; the first parameter_count(model) rows and columns count.
  Eigen::Matrix4d information = Eigen::Matrix4d::Zero();
  bool at_bound[kMaxCurveParameters] = {};
};

/// Solves one model, cold start. The table must hold checkpoints_needed(model).
CurveSolution solve_curve(CurveModel model, const CheckpointTable& table);

/// The same, started from a curve that is near (bootstrap refits, profiles).
CurveSolution resolve_curve(const Curve& near, const CheckpointTable& table);

/// How the checkpoints of a run lie about a curve.
struct CurveResiduals {
  ScatterSums sums;
  /// √w·(mean_log − ln g) over what the fit leaves of equal deviations, one per checkpoint.
  std::vector<double> standardised;
  /// Squares of each inner checkpoint's distance from the line between its neighbours, over what
  /// the fit leaves of equal deviations: scatter without the shape (Gasser, Sroka and
  /// Jennen-Steinmetz 1986).
  std::vector<double> rough_squares;
};
/// With all that pooling over runs needs. `fit` was made from `table`.
CurveResiduals residuals_about(const CurveFit& fit, const CheckpointTable& table);

/// Σ w_i·w_j·ρ^|i−j|·J_i·J_jᵀ: CurveFit::squared_weight_information for correlated neighbours.
Eigen::Matrix4d correlated_information(const CurveFit& fit, const CheckpointTable& table,
                                       double correlation);

/// Fits one model, cold start. Refused ("not enough to fit …") with too few checkpoints or not more
/// readings than parameters.
Checked<CurveFit> fit_curve(CurveModel model, const CheckpointTable& table);

}  // namespace bq::inline bluntness
