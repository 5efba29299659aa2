#pragma once

#include "report/trial_report.h"
#include "store/workbook.h"
#include "workflow/answers.h"
#include "workflow/limits.h"
#include "workflow/source.h"

namespace bq::inline workflow {

/// Everything a project or table says, worked out once: what the report and the workbook are made
/// from.
struct TrialStudy {
  Threshold threshold;
  LifeFindings life;
  Verdict verdict;
  std::vector<Answer> answers;  ///< in the order of Question
  std::vector<std::string> steels;
};
struct TrialStudyOptions {
  std::string threshold;  ///< as typed; "" the source's own
  LimitsFile limits;      ///< of the verdict; its threshold is not used
  AngleConvention angles = AngleConvention::per_side;
  int bootstrap_refits = 400;
  unsigned workers = 2;
  std::stop_token stop = {};
};
/// Refused: a threshold that cannot be read, or no readings.
Checked<TrialStudy> study_trial(const SourceResult& source, const std::vector<RunFit>& fits,
                                const TrialStudyOptions& options);

/// The report; `date`: ISO 8601 day it is made on. Pure: the same study and date give the same
/// report.
TrialReport trial_report(const SourceResult& source, const TrialStudy& study,
                         const TrialStudyOptions& options, const std::string& date);

/// Life against the force when blunt, edges that pass as points by steel (their names as runs), the
/// best joined; without force strokes life against the angle. Empty without a ranking.
Picture trade_off_picture(const Verdict& verdict, AngleConvention angles);

/// The same as a workbook's sheets: verdict, answers, runs, readings.
std::vector<WorkbookSheet> trial_workbook(const SourceResult& source,
                                          const std::vector<RunFit>& fits, const TrialStudy& study,
                                          const TrialStudyOptions& options);

}  // namespace bq::inline workflow
