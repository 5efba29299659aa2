#pragma once

#include <stop_token>
#include <string_view>

#include "bluntness/life_model.h"
#include "report/answer.h"
#include "stats/gauge_study.h"
#include "trial/bench_session.h"
#include "workflow/life_findings.h"

namespace bq::inline workflow {

/// "Which steel lasts?", as shown in the list of questions.
std::string words_of(Question question);

/// A trial with only those readings that answers look at besides the fits: at 0 cuts and where
/// strokes were made. Cheap to hand to a worker.
Trial for_answers(const Trial& trial);

/// What answers are made from. `facts` as for_answers gives it (or whole); `fits` are those of its
/// runs, in order.
struct AnswerSource {
  const Trial* facts = nullptr;
  const std::vector<RunFit>* fits = nullptr;
  const LifeFindings* life = nullptr;               ///< of the threshold and medium asked for
  std::vector<stats::GaugeReading> gauge_readings;  ///< see operator_readings
  std::vector<BenchSession> sessions;               ///< damage searches among them
  std::string section_questions;                    ///< side load and depth as set on Section
  double check_limit_percent = 2;
  AngleConvention angles = AngleConvention::per_side;  ///< in which angles are said and drawn
  Unit shown = Unit::gf;           ///< in which readings are said and drawn; of the trial's kind
  double wished_precision = 0.05;  ///< of a checkpoint's mean, relative, at 95 %
  std::string force_first,
      force_second;  ///< runs that are compared in force; "": the pair that shows most
  std::optional<double>
      force_limit_N;  ///< a cut that needs more is no use; empty: the first run's force when blunt
  int bootstrap_refits = 400;
  unsigned workers = 2;
  std::stop_token stop = {};
};

/// Readings of places (run, cuts, station) that two operators or more have read equally often: a
/// gauge study that lies in the trial.
std::vector<stats::GaugeReading> operator_readings(const Trial& trial);

/// One answer; pure, for a worker. curves, angle and matching have pages of their own and give
/// their sentence, picture and table as the report shows them.
Answer answer(Question question, const AnswerSource& source);

/// Life ratio of two steels over thresholds.
struct RatioCurve {
  std::string first, second;
  std::vector<double> threshold, ratio, low,
      high;                       ///< low and high: 95 %, absent ends are 0 and infinity
  std::vector<double> crossings;  ///< thresholds at which the ratio passes 1
};
/// `life`: whose runs, medium, terms and limit are asked about; the limit itself is among the
/// thresholds, and every other one is fitted with the same terms wherever its runs hold them.
RatioCurve ratio_over_thresholds(const Trial& facts, const std::vector<RunFit>& fits,
                                 const LifeFindings& life, const std::string& first,
                                 const std::string& second, int steps = 13);

/// Shares of variation with bootstrap intervals over the runs.
struct ShareInterval {
  LifeShare share;
  double low = 0, high = 0;
};
/// 95 % percentile intervals of `refits` refits on runs drawn again (seeded; the same for any
/// worker count). Fewer where a draw cannot be fitted. Empty when stopped.
std::vector<ShareInterval> bootstrap_shares(const LifeTable& table, const LifeSpec& spec,
                                            int refits, std::uint64_t seed, unsigned workers,
                                            const std::stop_token& stop = {});

/// Whether the life model's pattern can be trusted.
struct LifeDiagnostics {
  double normality_p = 1;  ///< Anderson–Darling of the uncensored runs' residuals (D'Agostino &
                           ///< Stephens 1986); 1 below 8 runs
  std::optional<double> bend_p;       ///< of a bend in ln tan angle
  bool bent = false;                  ///< the model has that bend
  std::optional<double> interplay_p;  ///< of steel × angle
  struct Influence {
    std::string run;
    double shift = 0;  ///< largest change of a coefficient without this run, in its standard errors
  };
  std::vector<Influence> influential;  ///< shift above 1, largest first
  std::vector<double>
      residuals;  ///< standardised, of the rows in order; of censored runs the bound's
};
LifeDiagnostics diagnose(const LifeModel& model, const LifeTable& table);

}  // namespace bq::inline workflow
