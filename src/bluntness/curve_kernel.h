#pragma once

#include "bluntness/blunting_curve.h"
#include "bluntness/checkpoint_table.h"
#include "stats/levenberg_marquardt.h"

namespace bq::inline bluntness::kernel {

/// Normal equations of Σ weight·(mean_log − ln g)² in the logarithms of the parameters, cuts
/// measured in units of table.reference_cuts:
///   power ln{r0, k, b}, linear ln{r0, k}, wear area ln{r0, c}, two-phase ln{r0, A, tau, m}.
/// Vectorised over checkpoints four at a time, with exp and ln of its own (relative error below
/// 4e-16 where used); AVX2 + FMA when the processor has them, chosen at run time.
stats::NormalEquations<3> power(const CheckpointTable& table,
                                const Eigen::Vector3d& log_parameters);
stats::NormalEquations<2> linear(const CheckpointTable& table,
                                 const Eigen::Vector2d& log_parameters);
stats::NormalEquations<2> wear_area(const CheckpointTable& table,
                                    const Eigen::Vector2d& log_parameters);
stats::NormalEquations<4> two_phase(const CheckpointTable& table,
                                    const Eigen::Vector4d& log_parameters);

/// Weighted sums for a straight line through (ln n, ln(y − r0)), the power model's start: points
/// with wear below 1 % of r0 or at 0 cuts are left out, weights are those of the relative wear.
struct StartSums {
  double w = 0, x = 0, z = 0, xx = 0, xz = 0;
};
StartSums power_start(const CheckpointTable& table, double r0);

/// Only the exponentials and logarithms that one look of power() costs; for the benchmark's floor.
double exp_log_floor(const CheckpointTable& table, double exponent);

/// exp and ln of `count` numbers (a multiple of 4), as the kernels compute them; for tests.
void exp_log(const double* x, double* exp_x, double* log_x, std::size_t count);

}  // namespace bq::inline bluntness::kernel
