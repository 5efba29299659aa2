// Answers: which limit, and what the life model can be trusted with.
#include <algorithm>
#include <cmath>

#include "bluntness/angle_tolerance.h"
#include "bluntness/life_contrast.h"
#include "bluntness/one_blade.h"
#include "bluntness/steel_pairs.h"
#include "quantity/number.h"
#include "quantity/said.h"
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
    return missing(said("Cannot tell yet: too few runs are read far enough for several limits."),
                   true);
  Answer out;
  out.answered = true;
  const auto [least, most] = std::minmax_element(curve.ratio.begin(), curve.ratio.end());
  const std::string range = said("between limits of {source} and {source_2}",
                                 {{"source", print_reading(source, curve.threshold.front())},
                                  {"source_2", print_reading(source, curve.threshold.back())}});
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
    const std::string times =
        said(" ({low} to {high} times the life of {other})",
             {{"low", print_number(low, 3)}, {"high", print_number(high, 3)}, {"other", other}});
    out.sentence = sure == curve.ratio.size()
                       ? said("No: {leads} leads at every limit {range}{times}.",
                              {{"leads", leads(*least)}, {"range", range}, {"times", times}})
                   : sure == 0 ? said(
                                     "Cannot tell: by the estimate {leads} is ahead at every limit "
                                     "{range}{times}, surely at none.",
                                     {{"leads", leads(*least)}, {"range", range}, {"times", times}})
                               : said(
                                     "Not by the estimate: {leads} is ahead at every limit "
                                     "{range}{times}, surely at {sure} of {ratio}.",
                                     {{"leads", leads(*least)},
                                      {"range", range},
                                      {"times", times},
                                      {"sure", std::to_string(sure)},
                                      {"ratio", std::to_string(curve.ratio.size())}});
  } else if (first_sure && second_sure) {
    out.sentence = said(
        "Yes: the lead changes at a limit of about {source}. Below it {leads} lasts longer, above "
        "it {leads_2}.",
        {{"source", print_reading(source, curve.crossings.front())},
         {"leads", leads(curve.ratio.front())},
         {"leads_2", leads(curve.ratio.back())}});
  } else {
    out.sentence = said(
        "Perhaps: the estimate passes 1 at about {source}, but the runs do not show a sure lead on "
        "both sides.",
        {{"source", print_reading(source, curve.crossings.front())}});
  }
  PictureSeries line;
  line.name = said("life of {b} over {a}", {{"b", b}, {"a", a}});
  for (std::size_t i = 0; i < curve.threshold.size(); ++i) {
    const bool bounded = curve.low[i] > 0 && std::isfinite(curve.high[i]);
    line.x.push_back(shown(source, curve.threshold[i]));
    line.y.push_back(curve.ratio[i]);
    line.y_low.push_back(bounded ? curve.low[i] : curve.ratio[i]);
    line.y_high.push_back(bounded ? curve.high[i] : curve.ratio[i]);
    out.table.rows.push_back(
        {print_reading(source, curve.threshold[i]), print_number(curve.ratio[i], 3),
         curve.low[i] > 0 ? print_number(curve.low[i], 3) : said("not bounded"),
         std::isfinite(curve.high[i]) ? print_number(curve.high[i], 3) : said("not bounded")});
  }
  out.table.heads = {"Blunt at", said("Ratio {b} / {a}", {{"b", b}, {"a", a}}), "Low 95 %",
                     "High 95 %"};
  out.picture.x_label = said("limit, {shown}", {{"shown", std::string(sign_of(source.shown))}});
  out.picture.y_label = said("life of {b} over {a}", {{"b", b}, {"a", a}});
  out.picture.x_log = out.picture.y_log = true;
  out.picture.level = 1;
  out.picture.level_name = "alike";
  out.picture.series = {line};
  out.formula = said("{life_formula} Made anew at every limit shown, with the same terms.",
                     {{"life_formula", kLifeFormula}});
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
    doubts.push_back(
        said("life bends with the angle (p {bend_p}): a straight line in ln tan misses it",
             {{"bend_p", print_number(*d.bend_p, 2)}}));
  if (d.interplay_p && *d.interplay_p < 0.05)
    doubts.push_back(
        said("the angle does not do the same to every steel (p {interplay_p}): one matching angle "
             "does not hold everywhere",
             {{"interplay_p", print_number(*d.interplay_p, 2)}}));
  if (d.normality_p < 0.05)
    doubts.push_back(
        said("the runs scatter unlike a normal distribution (p {normality_p}): look for an odd run",
             {{"normality_p", print_number(d.normality_p, 2)}}));
  std::vector<std::string> names;
  for (const auto& run : d.influential) names.push_back(run.run);
  if (!names.empty() && d.influential.front().shift > 1)
    doubts.push_back(said(
        "the answer leans on {names}: without {it} a figure moves by more than its standard error",
        {{"names", names_of(names, 3)},
         {"it", names.size() == 1 ? said("it") : said("one of them")}}));
  if (doubts.empty())
    out.sentence = said(
        "Nothing speaks against it: {the_bend_over}no interplay of steel and angle, no odd "
        "scatter, no run that carries the answer alone.",
        {{"the_bend_over", d.bent ? said("the bend over the angle is in the pattern, there is ")
                                  : said("no bend, ")}});
  else {
    out.sentence = said("With care: {doubts}.", {{"doubts", doubts[0]}});
    for (std::size_t i = 1; i < doubts.size(); ++i)
      out.remarks.push_back(said("Also: {doubts}.", {{"doubts", doubts[i]}}));
  }
  out.table.heads = {said("Check"), said("p or figure"), said("In words")};
  const auto line = [&](const char* check, const std::optional<double>& p, const char* bad,
                        const char* good) {
    out.table.rows.push_back({check, p ? print_p(*p) : said("not to be judged"),
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
    out.table.rows.push_back({said("influence of {run}", {{"run", run.run}}),
                              said("{shift} SE", {{"shift", print_number(run.shift, 2)}}),
                              "look at this run"});
  PictureSeries points, arrows;
  points.kind = PictureSeries::Kind::points;
  points.name = "runs";
  arrows.kind = PictureSeries::Kind::arrows_up;
  arrows.name = said("at least (limit not reached)");
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
  out.picture.x_label = said("fitted life, cuts");
  out.picture.y_label = said("run's distance from the pattern, in SDs");
  out.picture.x_log = true;
  out.picture.level = 0;
  const auto more = model_remarks(source);
  out.remarks.insert(out.remarks.end(), more.begin(), more.end());
  out.formula = said(
      "Bend and interplay: likelihood ratio against the model with (ln tan)² or steel × angle, as "
      "F. Scatter: Anderson–Darling on the uncensored runs. Influence: largest change of a "
      "coefficient when the run is left out, in standard errors; above 1 it is named.");
  out.method = "Life";
  use_rows(out, source);
  return out;
}

}  // namespace bq::inline workflow::answer_parts
