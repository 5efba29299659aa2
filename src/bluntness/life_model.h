#pragma once

#include <Eigen/Core>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "bluntness/life_table.h"
#include "quantity/checked.h"
#include "stats/mixed_regression.h"

namespace bq::inline bluntness {

/// The terms by which life bends over the angle, and more on one side than on the other: the square
/// and the cube of ln tan over that of 15° per side.
inline constexpr const char* kAngleBend = "angle_bend";
inline constexpr const char* kAngleTwist = "angle_twist";
bool is_shape_of_angle(const std::string& term);

/// Which terms the life model has. Terms: "steel", "angle" (at the apex), kAngleBend, "edge_angle",
/// "finish", "medium", "cut_mode", "blade", "block" or the name of a user factor.
struct LifeSpec {
  std::vector<std::string> terms;
  std::vector<std::pair<std::string, std::string>> interactions;
  double level = 0.95;
  /// The blade is a random effect: runs on one blade are alike. Where the runs cannot tell it
  /// (LifeModel::blade_note) it is left out.
  bool random_blade = false;
  /// Steels are drawn toward their mean, as far as they are alike: the one that came out first of
  /// many owes some of its life to luck. For four steels or more, without interactions.
  bool drawn_steels = false;
};

struct LifeCoefficient {
  std::string name;  ///< "(intercept)", "steel[Marl Tough]", "ln tan angle", "ln finish", …
  double estimate = 0, standard_error = 0, low = 0, high = 0, p = 0;
};

/// The value a run has for a term; empty when it has none. Angle and finish come as logarithms.
std::optional<FactorValue> value_in(const RunFacts& facts, const std::string& term);

/// Values at which the model is asked. What a term needs and is absent here stands at the term's
/// centre: the mean, or the runs' mix of levels; of the steel the first one.
struct LifePoint {
  std::optional<std::string> steel;
  std::optional<double> mean_tangent;  ///< ½(tan left + tan right) at the apex
  std::optional<double> finish_um;
  std::map<std::string, FactorValue> others;
};

struct LifeShare {
  std::string term;  ///< a term, an interaction "a:b", or "repeatability"
  double share = 0;
};

/// ln(cuts to threshold) = β₀ + terms + σ·z, censored runs as bounds (DOMAIN §7).
class LifeModel {
 public:
  /// Refused, naming what is wrong: an unknown term, a factor with one level, terms that cannot be
  /// told apart in this design, not more runs than coefficients, every run censored.
  static Checked<LifeModel> fit(const LifeTable& table, const LifeSpec& spec);

  [[nodiscard]] const stats::CensoredFit& regression() const { return fit_; }
  [[nodiscard]] const LifeSpec& spec() const { return spec_; }
  [[nodiscard]] const std::vector<LifeRow>& rows() const { return rows_; }
  /// Runs left out because a term has no value for them.
  [[nodiscard]] const std::vector<LeftOut>& left_out() const { return left_out_; }
  [[nodiscard]] std::vector<LifeCoefficient> coefficients() const;
  /// Degrees of freedom adjusted error SD of ln life; with a blade effect that of runs on one
  /// blade.
  [[nodiscard]] double sigma() const { return mixed_ ? mixed_->sigma() : fit_.sigma(); }
  /// With a blade effect in the model: the SD of ln life between blades of one kind (0 none was
  /// seen); else empty.
  [[nodiscard]] std::optional<double> blade_sd() const {
    return mixed_ ? std::optional(mixed_->group_sd()) : std::nullopt;
  }
  /// With drawn steels in the model: the SD of ln life between steels (posterior mean); else empty.
  [[nodiscard]] std::optional<double> steel_sd() const { return steel_sd_; }
  [[nodiscard]] int blades() const { return mixed_ ? mixed_->groups : 0; }
  /// Why the wished blade effect is not in the model; "" it is, or was not wished.
  [[nodiscard]] const std::string& blade_note() const { return blade_note_; }
  /// Those a contrast is known with: by the between–within rule where the model has a blade effect,
  /// else n − p.
  [[nodiscard]] int degrees_of_freedom(const Eigen::VectorXd& contrast) const {
    return mixed_ ? mixed_->degrees_of_freedom(contrast) : fit_.degrees_of_freedom();
  }
  [[nodiscard]] double standard_error(const Eigen::VectorXd& contrast) const {
    return mixed_ ? mixed_->standard_error(contrast) : fit_.standard_error(contrast);
  }
  /// σ with the mean squared error of ln life from the curve fits taken out; 0 when nothing is
  /// left.
  [[nodiscard]] double run_to_run_sd() const;
  /// How much of the variation in this design is each term; depends on the levels chosen.
  [[nodiscard]] std::vector<LifeShare> shares() const;
  /// The same from a refit on these of its rows (some drawn twice, some not at all), without a
  /// blade effect; for the bootstrap. Empty where they cannot be fitted.
  [[nodiscard]] std::vector<LifeShare> shares_of(const std::vector<std::size_t>& rows) const;

  /// The row of the design matrix for a point. Refused: a level that no run has.
  [[nodiscard]] Checked<Eigen::VectorXd> row(const LifePoint& point) const;
  /// The row of a run; a value the run lacks, or a level nobody knows, stands at the term's centre.
  [[nodiscard]] Eigen::VectorXd row_of(const RunFacts& facts) const;
  /// The same with one term at `level` (degrees per side for angles, µm for the finish). Refused: a
  /// term the model lacks, a level no run has.
  [[nodiscard]] Checked<Eigen::VectorXd> row_of(const RunFacts& facts, const std::string& changed,
                                                const FactorValue& level) const;
  /// Variance of contrastᵀβ as a multiple of σ² (from the covariance; XᵀX⁻¹ where nothing is
  /// censored).
  [[nodiscard]] double unscaled_variance(const Eigen::VectorXd& contrast) const;
  /// What one more uncensored run with the row `more` leaves of the contrast's variance, 0 … 1.
  [[nodiscard]] double variance_shrink(const Eigen::VectorXd& contrast,
                                       const Eigen::VectorXd& more) const;
  /// Estimate of ln life and its standard error for the mean edge.
  [[nodiscard]] std::pair<double, double> log_life(const Eigen::VectorXd& row) const;
  /// Lower one-sided limit of ln life for the next single edge (run-to-run scatter included).
  [[nodiscard]] double log_prediction_limit(const Eigen::VectorXd& row, double level) const;
  /// 2·(lnL_max − lnL) with contrastᵀβ held at `value`, of the model without a blade effect.
  [[nodiscard]] double deviance(const Eigen::VectorXd& contrast, double value) const;
  /// Above 0 where the interval of contrastᵀβ at `level` leaves `value` out: the profile likelihood
  /// less its small-sample cutoff; with a blade effect t² less its quantile (so a ratio of
  /// contrasts gets Fieller's interval).
  [[nodiscard]] double outside(const Eigen::VectorXd& contrast, double value, double level) const;
  [[nodiscard]] const Eigen::MatrixXd& design() const { return design_; }

 private:
  struct Term {
    std::string name;
    bool continuous = false;
    std::vector<std::string> levels;  ///< categorical: alphabetical, the first is the baseline
    double centre = 0;                ///< continuous: the mean
    int first_column = 0;
    [[nodiscard]] int width() const { return continuous ? 1 : int(levels.size()) - 1; }
  };
  [[nodiscard]] std::optional<Eigen::VectorXd> values_of(const Term& term,
                                                         const FactorValue& value) const;
  [[nodiscard]] Checked<Eigen::VectorXd> row_of(const RunFacts& facts, const Term* changed,
                                                const FactorValue& value) const;
  [[nodiscard]] std::vector<LifeShare> split_variation(const Eigen::MatrixXd& design,
                                                       const Eigen::VectorXd& coefficients,
                                                       double within,
                                                       std::optional<double> between) const;
  [[nodiscard]] const Term* find(const std::string& name) const;
  /// Where a term stands whose value is not given: the mean, the runs' mix of levels (of a block, a
  /// factor), the first steel.
  [[nodiscard]] Eigen::VectorXd centre_of(const Term& term) const;
  void add_blades();
  void draw_steels();
  [[nodiscard]] Eigen::VectorXd with_interactions(const std::vector<Eigen::VectorXd>& parts) const;

  LifeSpec spec_;
  std::vector<LifeRow> rows_;
  std::vector<LeftOut> left_out_;
  std::vector<Term> terms_;
  std::vector<std::pair<int, int>> interactions_;  ///< indices into terms_
  std::vector<std::string> column_names_;
  Eigen::MatrixXd design_;
  std::vector<stats::Bounds> response_;
  stats::CensoredFit
      fit_;  ///< with a blade effect its coefficients, covariance and SD are those of mixed_
  std::optional<stats::MixedFit> mixed_;
  std::string blade_note_;
  std::optional<double> steel_sd_;
};

/// p of the terms that `more` has over `less`, fitted to the same runs without a blade effect, from
/// the small-sample likelihood ratio: F = (e^(Δ/n) − 1)·(n − p)/q. Empty where there are none.
std::optional<double> p_of_more(const LifeModel& less, const LifeModel& more);

/// The terms that a table can tell: steel, angle and finish where they have at least two levels, of
/// what else the runs differ in (side_differences) that which is taken, and a bend over the angle
/// where a straight line misses it (p < 0.05, three angles or more, four degrees of freedom left);
/// a twist where the bend misses it (four angles or more).
LifeSpec usual_terms(const LifeTable& table);

/// Something beside steel, angle and finish in which the runs of a table differ: a factor of the
/// user's own, or the block.
struct SideDifference {
  std::string term;
  std::vector<std::string> levels;
  bool taken = false;       ///< it is a term of the model: the other terms are compared within it
  std::optional<double> p;  ///< of no difference between its levels (F from the likelihoods)
  std::string why_not;      ///< it cannot be a term: why
};
/// A factor of the user's own is taken wherever the runs can tell it apart from the other terms and
/// two degrees of freedom are left; block and operator only where their levels differ (p < 0.05)
/// and four are.
std::vector<SideDifference> side_differences(const LifeTable& table);
/// What became of each, in words.
std::vector<std::string> side_sentences(const std::vector<SideDifference>& sides);
/// What it means that steels were drawn together, in words; "" where they were not.
std::string drawn_sentence(const LifeModel& model);
/// Some blade was cut with in two runs or more.
bool blades_used_again(const LifeTable& table);
/// The same with the blade as a random effect where blades were used again, and steels drawn toward
/// their mean where there are four or more.
LifeSpec terms_with_blades(const LifeTable& table);

}  // namespace bq::inline bluntness
