// What a plan takes of time, in minutes and in working days.
#include "plan/run_sheet.h"

#include <chrono>
#include <cstdio>

#include "stats/random.h"

namespace bq::inline plan {

double run_minutes(const TrialPlan& plan) {
  const auto checkpoints = checkpoints_of(plan.checkpoints);
  const double cuts = checkpoints.empty() ? 0 : double(checkpoints.back());
  return plan.rates.minutes_per_sharpening + cuts * plan.rates.seconds_per_cut / 60 +
         double(checkpoints.size()) *
             (plan.rates.minutes_per_checkpoint +
              plan.checkpoints.readings_each * plan.rates.seconds_per_reading / 60);
}

std::string working_date(const std::string& start, int day, int days_a_week) {
  namespace chr = std::chrono;
  int y = 0, m = 0, d = 0;
  if (start.size() != 10 || std::sscanf(start.c_str(), "%4d-%2d-%2d", &y, &m, &d) != 3) return "";
  const chr::year_month_day date{chr::year(y), chr::month(unsigned(m)), chr::day(unsigned(d))};
  if (!date.ok() || day < 1 || day > 100000) return "";
  chr::sys_days at = date;
  const auto works = [&](chr::sys_days when) {
    return int(chr::weekday(when).iso_encoding()) <= days_a_week;
  };
  while (!works(at)) at += chr::days(1);
  for (int i = 1; i < day; ++i) {
    at += chr::days(1);
    while (!works(at)) at += chr::days(1);
  }
  const chr::year_month_day end{at};
  char text[40];
  std::snprintf(text, sizeof text, "%04d-%02u-%02u", int(end.year()), unsigned(end.month()),
                unsigned(end.day()));
  return text;
}

}  // namespace bq::inline plan
