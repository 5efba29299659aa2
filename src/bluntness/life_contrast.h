#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/life_model.h"

namespace bq::inline bluntness {

/// "How long does `to` last compared with `from`?" for one term of a life model.
struct FactorContrast {
  std::string term;  ///< as in LifeSpec
  FactorValue from,
      to;  ///< a level; degrees per side for angles, µm for the finish, the number of a user factor
};

/// The answer: a life ratio with its interval.
struct LifeContrast {
  double log_ratio = 0;       ///< ln(life of `to` / life of `from`)
  double standard_error = 0;  ///< of it
  double ratio = 1;
  std::optional<double> low, high;  ///< of the ratio; absent where the data do not bound it
  double p = 1;                     ///< two-sided
  bool seen = false;                ///< the interval at the model's level leaves out a ratio of 1
};

/// The row difference `to` − `from` of the model, averaged over its runs where `term` is part of an
/// interaction. Refused: a term the model lacks, a level no run has.
Checked<Eigen::VectorXd> contrast_row(const LifeModel& model, const FactorContrast& contrast);

/// The life ratio with its interval at the model's level: by t where nothing is censored, else by
/// profile likelihood with the small-sample cutoff (the same thing without censoring). With
/// `interval` false only the ratio, its SE and whether it is seen are worked out, which is what
/// thousands of rehearsals need.
Checked<LifeContrast> life_contrast(const LifeModel& model, const FactorContrast& contrast,
                                    bool interval = true);

/// One question put to a whole trial: curves, lives, model, contrast.
struct ContrastQuestion {
  std::string threshold = "3x";
  CurveOptions curves;
  LifeSpec spec;
  FactorContrast contrast;
};
struct ContrastAnswer {
  LifeContrast contrast;
  Threshold threshold;
  int runs = 0, right_censored = 0, left_censored = 0;  ///< that took part
  double mean_curve_variance = 0;                       ///< of ln life, over uncensored runs
  std::vector<LeftOut> left_out;
};

/// What a real trial and every rehearsal of one are judged by: the same code. `fits` as fit_runs
/// gives them. Refused: a threshold that cannot be read, a model that cannot be fitted, a level no
/// run has.
Checked<ContrastAnswer> analyse_contrast(const Trial& trial, const std::vector<RunFit>& fits,
                                         const ContrastQuestion& question, bool interval = true);

}  // namespace bq::inline bluntness
