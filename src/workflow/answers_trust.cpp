// Answers: which limit, and what the life model can be trusted with.
#include <algorithm>
#include <cmath>

#include "bluntness/angle_tolerance.h"
#include "bluntness/life_contrast.h"
#include "bluntness/one_blade.h"
#include "bluntness/steel_pairs.h"
#include "quantity/number.h"
#include "stats/distributions.h"
#include "workflow/answer_parts.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {

Answer limit(const AnswerSource& source) {
  if (auto no = no_model(source, "steel", "steel")) return *no;
  // The pair that was asked for, else the two that last longest: that is where the choice lies.
  const auto& asked = source.life->question.match;
  const auto leaders = steels_by_life(*source.life->model);
  const bool chosen = source.life->match_chosen && asked;
  const std::string a = chosen ? asked->to : leaders[1].second,
                    b = chosen ? asked->from : leaders[0].second;
  const RatioCurve curve = ratio_over_thresholds(*source.facts, *source.fits, *source.life, a, b);
  if (curve.threshold.size() < 3)
    return missing("Cannot tell yet: too few runs are read far enough for several limits.", true);
  Answer out;
  out.answered = true;
  const auto [least, most] = std::minmax_element(curve.ratio.begin(), curve.ratio.end());
  const std::string range = "between limits of " + print_reading(source, curve.threshold.front()) +
                            " and " + print_reading(source, curve.threshold.back());
  const auto leads = [&](double ratio) { return ratio > 1 ? b : a; };
  // A crossing counts where each steel leads for sure on its side.
  bool first_sure = false, second_sure = false;
  for (std::size_t i = 0; i < curve.ratio.size(); ++i) {
    first_sure = first_sure || curve.high[i] < 1;
    second_sure = second_sure || curve.low[i] > 1;
  }
  if (curve.crossings.empty()) {
    const bool second = *least > 1;
    const std::string& other = second ? a : b;
    const double low = second ? *least : 1 / *most, high = second ? *most : 1 / *least;
    std::size_t sure = 0;
    for (std::size_t i = 0; i < curve.ratio.size(); ++i)
      sure += second ? curve.low[i] > 1 : curve.high[i] < 1;
    const std::string times = " (" + print_number(low, 3) + " to " + print_number(high, 3) +
                              " times the life of " + other + ")";
    out.sentence = sure == curve.ratio.size()
                       ? "No: " + leads(*least) + " leads at every limit " + range + times + "."
                   : sure == 0
                       ? "Cannot tell: by the estimate " + leads(*least) +
                             " is ahead at every limit " + range + times + ", surely at none."
                       : "Not by the estimate: " + leads(*least) + " is ahead at every limit " +
                             range + times + ", surely at " + std::to_string(sure) + " of " +
                             std::to_string(curve.ratio.size()) + ".";
  } else if (first_sure && second_sure) {
    out.sentence = "Yes: the lead changes at a limit of about " +
                   print_reading(source, curve.crossings.front()) + ". Below it " +
                   leads(curve.ratio.front()) + " lasts longer, above it " +
                   leads(curve.ratio.back()) + ".";
  } else {
    out.sentence = "Perhaps: the estimate passes 1 at about " +
                   print_reading(source, curve.crossings.front()) +
                   ", but the runs do not show a sure lead on both sides.";
  }
  PictureSeries line;
  line.name = "life of " + b + " over " + a;
  for (std::size_t i = 0; i < curve.threshold.size(); ++i) {
    const bool bounded = curve.low[i] > 0 && std::isfinite(curve.high[i]);
    line.x.push_back(shown(source, curve.threshold[i]));
    line.y.push_back(curve.ratio[i]);
    line.y_low.push_back(bounded ? curve.low[i] : curve.ratio[i]);
    line.y_high.push_back(bounded ? curve.high[i] : curve.ratio[i]);
    out.table.rows.push_back(
        {print_reading(source, curve.threshold[i]), print_number(curve.ratio[i], 3),
         curve.low[i] > 0 ? print_number(curve.low[i], 3) : "not bounded",
         std::isfinite(curve.high[i]) ? print_number(curve.high[i], 3) : "not bounded"});
  }
  out.table.heads = {"Blunt at", "Ratio " + b + " / " + a, "Low 95 %", "High 95 %"};
  out.picture.x_label = "limit, " + std::string(sign_of(source.shown));
  out.picture.y_label = "life of " + b + " over " + a;
  out.picture.x_log = out.picture.y_log = true;
  out.picture.level = 1;
  out.picture.level_name = "alike";
  out.picture.series = {line};
  out.formula = std::string(kLifeFormula) + " Made anew at every limit shown, with the same terms.";
  out.method = "Life";
  use_rows(out, source);
  return out;
}

Answer trust(const AnswerSource& source) {
  if (auto no = no_model(source, nullptr, "")) return *no;
  const LifeModel& model = *source.life->model;
  const LifeDiagnostics d = diagnose(model, source.life->table);
  Answer out;
  out.answered = true;
  std::vector<std::string> doubts;
  if (d.bend_p && *d.bend_p < 0.05 && !d.bent)
    doubts.push_back("life bends with the angle (p " + print_number(*d.bend_p, 2) +
                     "): a straight line in ln tan misses it");
  if (d.interplay_p && *d.interplay_p < 0.05)
    doubts.push_back("the angle does not do the same to every steel (p " +
                     print_number(*d.interplay_p, 2) +
                     "): one matching angle does not hold everywhere");
  if (d.normality_p < 0.05)
    doubts.push_back("the runs scatter unlike a normal distribution (p " +
                     print_number(d.normality_p, 2) + "): look for an odd run");
  std::vector<std::string> names;
  for (const auto& run : d.influential) names.push_back(run.run);
  if (!names.empty() && d.influential.front().shift > 1)
    doubts.push_back("the answer leans on " + names_of(names, 3) + ": without " +
                     (names.size() == 1 ? "it" : "one of them") +
                     " a figure moves by more than its standard error");
  if (doubts.empty())
    out.sentence =
        std::string("Nothing speaks against it: ") +
        (d.bent ? "the bend over the angle is in the pattern, there is " : "no bend, ") +
        "no interplay of steel and angle, no odd scatter, no run that carries the answer alone.";
  else {
    out.sentence = "With care: " + doubts[0] + ".";
    for (std::size_t i = 1; i < doubts.size(); ++i)
      out.remarks.push_back("Also: " + doubts[i] + ".");
  }
  out.table.heads = {"Check", "p or figure", "In words"};
  const auto line = [&](const char* check, const std::optional<double>& p, const char* bad,
                        const char* good) {
    out.table.rows.push_back({check, p ? print_p(*p) : "not to be judged",
                              !p          ? "needs more runs or levels"
                              : *p < 0.05 ? bad
                                          : good});
  };
  line("bend in ln tan angle", d.bend_p,
       d.bent ? "the model bends with it" : "a straight line misses it", "a straight line will do");
  line("steel × angle", d.interplay_p, "the angle works differently on the steels",
       "one slope will do");
  line("normal scatter of the runs", d.normality_p, "odd scatter", "no sign of odd scatter");
  for (const auto& run : d.influential)
    out.table.rows.push_back(
        {"influence of " + run.run, print_number(run.shift, 2) + " SE", "look at this run"});
  PictureSeries points, arrows;
  points.kind = PictureSeries::Kind::points;
  points.name = "runs";
  arrows.kind = PictureSeries::Kind::arrows_up;
  arrows.name = "at least (limit not reached)";
  for (std::size_t i = 0; i < model.rows().size(); ++i) {
    const LifeRow& row = model.rows()[i];
    PictureSeries& series =
        row.cuts.censoring == Censoring::right && !row.carried ? arrows : points;
    series.x.push_back(
        std::exp(model.design().row(Eigen::Index(i)).dot(model.regression().coefficients)));
    series.y.push_back(d.residuals[i]);
    series.runs.push_back(model.rows()[i].facts.name);
  }
  for (auto* series : {&points, &arrows})
    if (!series->x.empty()) out.picture.series.push_back(*series);
  out.picture.x_label = "fitted life, cuts";
  out.picture.y_label = "run's distance from the pattern, in SDs";
  out.picture.x_log = true;
  out.picture.level = 0;
  const auto more = model_remarks(source);
  out.remarks.insert(out.remarks.end(), more.begin(), more.end());
  out.formula =
      "Bend and interplay: likelihood ratio against the model with (ln tan)² or steel × angle, as "
      "F. Scatter: Anderson–Darling on the uncensored runs. Influence: largest change of "
      "a coefficient when the run is left out, in standard errors; above 1 it is named.";
  out.method = "Life";
  use_rows(out, source);
  return out;
}

}  // namespace bq::inline workflow::answer_parts
