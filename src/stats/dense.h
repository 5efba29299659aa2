#pragma once

#include <Eigen/Core>
#include <optional>

namespace bq::stats {

/// The decompositions of dense algebra that this program needs, each behind a plain function: they
/// are compiled once, in dense.cpp, and no other source parses them. Square arguments are n × n.

/// x with a·x = b for a symmetric matrix (LDLᵀ, pivoted). Not finite where a is singular.
Eigen::VectorXd solve_symmetric(const Eigen::MatrixXd& a, const Eigen::VectorXd& b);

/// Inverse of a symmetric matrix (LDLᵀ, pivoted). Not finite where it is singular.
Eigen::MatrixXd inverse_symmetric(const Eigen::MatrixXd& a);

/// The same; empty where the matrix is not positive (semi)definite.
std::optional<Eigen::MatrixXd> inverse_if_positive(const Eigen::MatrixXd& a);

/// Inverse of a positive definite matrix (LLᵀ): the quickest, nothing is checked.
Eigen::MatrixXd inverse_positive(const Eigen::MatrixXd& a);

/// ln det of a symmetric positive definite matrix; −∞ where a pivot falls below 1e-11 of the
/// largest.
double log_determinant_symmetric(const Eigen::MatrixXd& a);

/// R with a = R·Rᵀ for a symmetric positive semidefinite matrix (LDLᵀ, pivoted; pivots below 0 by
/// rounding count as 0).
Eigen::MatrixXd root_of_symmetric(const Eigen::MatrixXd& a);

/// Inverse of any square matrix (LU, fully pivoted); empty where it is singular or 0 × 0.
std::optional<Eigen::MatrixXd> inverse_if_regular(const Eigen::MatrixXd& a);

/// Coefficients that minimise |X·β − y| (QR, columns pivoted), X rows × columns of full rank.
Eigen::VectorXd least_squares_solution(const Eigen::MatrixXd& X, const Eigen::VectorXd& y);

/// The same, with (XᵀX)⁻¹ from the triangle of the decomposition.
struct PivotedSolution {
  Eigen::VectorXd coefficients;
  Eigen::MatrixXd unscaled_covariance;
};
PivotedSolution pivoted_solution(const Eigen::MatrixXd& X, const Eigen::VectorXd& y);

/// Orthonormal columns that span those of a matrix (QR, columns pivoted); pivots below `threshold`
/// of the largest count as nothing (0: the usual rounding bound).
Eigen::MatrixXd orthonormal_basis(const Eigen::MatrixXd& columns, double threshold = 0);

/// Orthonormal columns of the plane square to a vector that is not 0 (Householder): n × (n − 1).
Eigen::MatrixXd plane_square_to(const Eigen::VectorXd& direction);

/// Largest singular value (Jacobi).
double largest_singular_value(const Eigen::MatrixXd& a);

/// Eigenvalues, rising, and the first component of each eigenvector of a symmetric matrix.
struct SymmetricSpectrum {
  Eigen::VectorXd values, first_components;
};
SymmetricSpectrum symmetric_spectrum(const Eigen::MatrixXd& a);

}  // namespace bq::stats
