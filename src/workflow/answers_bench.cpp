// Answers from readings, gauge, starts and stropping.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/life_model.h"
#include "bluntness/start_gate.h"
#include "bluntness/treatment_verdict.h"
#include "edge/abrasive.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/power.h"
#include "workflow/answer_parts.h"
#include "workflow/bench_study.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
Answer curves(const AnswerSource& source) {
  Answer out;
  int fitted = 0, ended = 0;
  out.table.heads = {said("Run"),   said("Steel"),      said("Curve"),
                     said("Fresh"), said("Life, cuts"), said("Remark")};
  const std::vector<bool> of_work = of_this_work(source);
  for (std::size_t i = 0; i < source.fits->size(); ++i) {
    const RunFit& fit = (*source.fits)[i];
    if (!of_work[i]) continue;
    const RunFacts& facts = source.facts->runs[i].facts;
    if (!fit.curve) {
      out.table.rows.push_back({fit.run, facts.steel, "", "", "", fit.why_not});
      out.table.runs.push_back(fit.run);
      continue;
    }
    ++fitted;
    const auto cuts = cuts_to_threshold(fit, source.life->question.threshold);
    ended += cuts.censoring == Censoring::none;
    PictureSeries line;
    line.name = fit.run;
    line.steel = facts.steel;
    for (int k = 0; k <= 40; ++k) {
      line.x.push_back(fit.table.last_cuts() *
                       std::pow(k / 40.0, 2));  // denser where the curve bends
      line.y.push_back(shown(source, drawn_reading(fit, line.x.back())));
      line.runs.push_back(fit.run);
    }
    out.picture.series.push_back(std::move(line));
    out.table.rows.push_back({fit.run, facts.steel, curve_name(fit),
                              print_reading(source, fit.curve->fit.curve.at(0)), cuts_short(cuts),
                              fit_remarks(fit)});
    out.table.runs.push_back(fit.run);
    out.runs.push_back(fit.run);
  }
  if (fitted == 0)
    return missing(said("No run in this medium has enough checkpoints for a curve yet."), true);
  out.answered = true;
  out.sentence = said(
      "{fitted} a blunting curve in {medium}; {ended} reached {source}.",
      {{"fitted", count_of(std::size_t(fitted), to_be_said("run has"), to_be_said("runs have"))},
       {"medium", source.life->question.medium},
       {"ended", std::to_string(ended)},
       {"source", print_reading(source, source.life->question.threshold)}});
  out.picture.x_label = "cuts";
  out.picture.y_label = said("reading, {shown}", {{"shown", std::string(sign_of(source.shown))}});
  out.picture.level = shown(source, source.life->question.threshold);
  out.picture.level_name = "blunt";
  out.formula = said(
      "Least squares on ln reading. The power curve r0 + k·n^b is kept unless another leads by "
      "more than 6 in AICc.");
  out.method = said("Blunting curve of a run");
  return out;
}

Answer readings(const AnswerSource& source) {
  double within = 0, between = 0;
  int dof = 0, runs = 0;
  std::size_t readings = 0, checkpoints = 0, suspects = 0;
  Answer out;
  out.table.heads = {said("Run"),
                     said("Readings"),
                     said("Checkpoints"),
                     said("Within a checkpoint %"),
                     said("Between checkpoints %"),
                     said("Suspect")};
  PictureSeries points;
  points.kind = PictureSeries::Kind::points;
  points.name = "runs";
  const std::vector<bool> of_work = of_this_work(source);
  for (std::size_t i = 0; i < source.fits->size(); ++i) {
    const RunFit& fit = (*source.fits)[i];
    if (!fit.curve || !of_work[i]) continue;
    const CurveFit& f = fit.curve->fit;
    const int own = f.readings - f.checkpoints;
    readings += std::size_t(f.readings);
    checkpoints += std::size_t(f.checkpoints);
    suspects += fit.curve->suspects.size();
    if (own > 0) {
      within += own * f.within_variance;
      dof += own;
    }
    between += f.checkpoint_variance;
    ++runs;
    const double cv = 100 * std::sqrt(std::max(0.0, f.within_variance)),
                 scatter = 100 * std::sqrt(std::max(0.0, f.checkpoint_variance));
    out.table.rows.push_back(
        {fit.run, std::to_string(f.readings), std::to_string(f.checkpoints),
         own > 0 ? print_fixed(cv, 1) : said("read once each"), print_fixed(scatter, 1),
         fit.curve->suspects.empty() ? "" : std::to_string(fit.curve->suspects.size())});
    out.table.runs.push_back(fit.run);
    out.runs.push_back(fit.run);
    points.x.push_back(own > 0 ? cv : 0);
    points.y.push_back(scatter);
    points.runs.push_back(fit.run);
  }
  if (dof < 3)
    return missing(
        said("Cannot tell yet: checkpoints must be read at least twice, in several runs."), true);
  const double cv = std::sqrt(within / dof), scatter = std::sqrt(between / runs);
  const int needed =
      stats::readings_needed(cv, source.wished_precision, 0.95, 10000).value_or(10000);
  const double m = double(readings) / double(std::max<std::size_t>(1, checkpoints));
  out.answered = true;
  out.sentence = said(
      "Readings of one checkpoint spread by {cv} %; a checkpoint's mean to within "
      "{wished_precision} % needs {needed} readings (95 %), here there are {m}.",
      {{"cv", print_fixed(100 * cv, 1)},
       {"wished_precision", print_number(100 * source.wished_precision, 2)},
       {"needed", std::to_string(needed)},
       {"m", print_number(m, 2)}});
  const double by_readings = cv * cv / m;
  if (scatter * scatter > by_readings)
    out.remarks.push_back(
        said("Checkpoints differ by a further {scatter} % that more readings cannot cure: more "
             "checkpoints or runs help, more readings do not.",
             {{"scatter", print_fixed(100 * scatter, 1)}}));
  else
    out.remarks.push_back(
        said("Scatter between checkpoints is {scatter} %, less than what the readings themselves "
             "bring in: more readings at each checkpoint help.",
             {{"scatter", print_fixed(100 * scatter, 1)}}));
  out.remarks.push_back(
      suspects ? said("{suspects} in the fits.",
                      {{"suspects", count_of(suspects, "reading is flagged as suspect and stays",
                                             "readings are flagged as suspect and stay")}})
               : said("No reading is suspect."));
  out.picture.x_label = said("spread within a checkpoint, %");
  out.picture.y_label = said("scatter between checkpoints, %");
  out.picture.series = {points};
  out.formula = said(
      "Spread: SD of ln reading within checkpoints, pooled over the runs. Readings needed: "
      "⌈(t·spread/wished precision)²⌉ with t on one less than that number. Scatter between "
      "checkpoints: from the curve's residuals, by moments, never below 0.");
  out.method = said("Blunting curve of a run");
  return out;
}

Answer gauge(const AnswerSource& source) {
  const GaugeDrift drift = gauge_drift(*source.facts, source.check_limit_percent);
  const auto study = stats::gauge_study(source.gauge_readings);
  if (drift.points.empty() && !study)
    return missing(
        said("Cannot tell yet: put a check weight on the gauge at the start and end of every "
             "sitting (Bench, Gauge checks), and let two operators read the same places twice."),
        false);
  Answer out;
  out.answered = true;
  out.sentence =
      drift.points.empty() ? said("No check weight has been on the gauge yet.") : drift.sentence;
  out.table.heads = {said("What"), said("Figure"), said("In words")};
  if (study) {
    const bool good = study->study_variation_percent < 30;
    out.sentence =
        said("The gauge makes {study_variation_percent} % of what is seen between places: {good}",
             {{"study_variation_percent", print_number(study->study_variation_percent, 2)},
              {"good", study->study_variation_percent < 10 ? said("good.")
                       : good ? said("good enough for large differences.")
                              : said("too much; differences between edges drown in it.")}});
    if (!drift.points.empty()) out.remarks.push_back(drift.sentence);
    out.table.rows.push_back({"repeatability SD", print_reading(source, study->repeatability_sd),
                              "one operator, one place, again"});
    out.table.rows.push_back({"reproducibility SD",
                              print_reading(source, study->reproducibility_sd),
                              "between operators"});
    out.table.rows.push_back(
        {"places SD", print_reading(source, study->part_sd), "what is to be told apart"});
    out.table.rows.push_back(
        {"distinct categories", std::to_string(study->distinct_categories),
         study->distinct_categories >= 5 ? "fine grading" : "coarse grading only"});
  } else {
    out.remarks.emplace_back(said(
        "How much of the scatter is the gauge's and the operators' is not known: let two operators "
        "read the same places twice (or use the gauge command on a table of its own)."));
  }
  PictureSeries line;
  line.kind = PictureSeries::Kind::points;
  line.name = said("check weight");
  for (std::size_t i = 0; i < drift.points.size(); ++i) {
    line.x.push_back(double(i + 1));
    line.y.push_back(drift.points[i].off_percent);
    out.table.rows.push_back(
        {said("check {made_at}", {{"made_at", drift.points[i].made_at.substr(0, 10)}}),
         print_fixed(drift.points[i].off_percent, 1) + " %",
         drift.points[i].beyond ? "beyond the limit" : "within the limit"});
  }
  if (!line.x.empty()) {
    out.picture.series = {line};
    out.picture.x_label = said("check, in order");
    out.picture.y_label = said("off the check weight, %");
    out.picture.level = 0;
  }
  out.formula = said(
      "Check weight: reading over nominal. Gauge study: analysis of variance of places × operators "
      "× repeats, interaction kept when p < 0.25.");
  out.method = said("Gauge study");
  return out;
}

Answer strop(const AnswerSource& source) {
  Answer out;
  out.table.heads = {said("Comparison"), said("Result"), said("Price"), said("Verdict")};
  std::string whether, which;
  std::vector<std::string> others;
  for (const auto& comparison : source.facts->comparisons) {
    const auto verdict = compare_treatments(comparison);
    if (!verdict) {
      out.table.rows.push_back({comparison.name,
                                said("No answer: {reason}", {{"reason", verdict.refusal().reason}}),
                                "", ""});
      continue;
    }
    out.table.rows.push_back({comparison.name, verdict->result, verdict->price, verdict->verdict});
    const StropMatter matter = strop_matter(comparison, source.facts->shelf);
    if (matter == StropMatter::none) {
      others.push_back(comparison.name);
      continue;
    }
    (matter == StropMatter::whether ? whether : which) = verdict->result;
    out.remarks = verdict->cautions;
    PictureSeries point;
    point.kind = PictureSeries::Kind::points;
    point.name = comparison.name;
    point.x = {double(out.picture.x_words.size())};
    point.y = {verdict->test.ratio};
    if (verdict->test.low && verdict->test.high) {
      point.y_low = {*verdict->test.low};
      point.y_high = {*verdict->test.high};
    }
    out.picture.x_words.push_back(comparison.name);
    out.picture.series.push_back(point);
  }
  if (whether.empty() && which.empty())
    return missing(
        source.facts->comparisons.empty()
            ? said("Cannot tell yet: treat neighbouring sections of some blades in the two ways "
                   "and read both (Stones, Compare).")
        : others.empty()
            ? said("Cannot tell yet: the comparisons have no pairs that can be judged.")
            : said("Cannot tell yet: no comparison has a strop in it. {others}{compares} other "
                   "treatments (Stones, Compare).",
                   {{"others", names_of(others)},
                    {"compares", others.size() == 1 ? said(" compares") : said(" compare")}}),
        false);
  out.answered = true;
  out.sentence = whether.empty() ? said(
                                       "Whether a strop helps was not tried: each comparison has "
                                       "one on both sides. Which of them: {which}",
                                       {{"which", which}})
                                 : whether;
  if (!whether.empty() && !which.empty())
    out.remarks.push_back(said("Which strop: {which}", {{"which", which}}));
  if (!others.empty())
    out.remarks.push_back(
        said("Not about a strop: {others} (in the table).", {{"others", names_of(others)}}));
  out.picture.y_label = said("reading after the second over the first");
  out.picture.y_log = true;
  out.picture.level = 1;
  out.picture.level_name = said("no difference");
  out.formula = said(
      "Paired t test on ln(second/first); the blade is the unit where there are three or more. "
      "Beside it the exact signed rank test.");
  out.method = "Paired";
  return out;
}

Answer starts(const AnswerSource& source) {
  const auto groups = start_gate(*source.facts);
  Answer out;
  out.table.heads = {said("Kind"), said("Starts"), said("Centre"),
                     said("Low"),  said("High"),   said("Outside")};
  std::vector<std::string> outside;
  int judged = 0;
  const StartGroup* largest = nullptr;
  for (const auto& group : groups) {
    std::vector<std::string> own;
    for (const auto& start : group.starts)
      if (start.state == StartState::too_dull || start.state == StartState::too_sharp)
        own.push_back(source.facts->runs[start.run].facts.name);
    outside.insert(outside.end(), own.begin(), own.end());
    if (group.chart) ++judged;
    if (group.chart && (!largest || group.starts.size() > largest->starts.size())) largest = &group;
    out.table.rows.push_back({name_of(group), std::to_string(group.starts.size()),
                              group.chart ? print_reading(source, group.centre()) : "",
                              group.chart ? print_reading(source, group.lower()) : "",
                              group.chart ? print_reading(source, group.upper()) : "",
                              group.chart ? names_of(own) : said("needs 6 starts")});
  }
  if (!largest)
    return missing(said("Cannot tell yet: six runs of one steel, finish and way of cutting must "
                        "have been read at 0 cuts."),
                   true);
  out.answered = true;
  out.sentence = outside.empty()
                     ? said("Yes: no start lies outside the limits of its kind ({judged} judged).",
                            {{"judged", count_of(std::size_t(judged), to_be_said("kind"),
                                                 to_be_said("kinds"))}})
                     : said("Not all: {outside} started outside the limits of its kind.",
                            {{"outside", names_of(outside)}});
  PictureSeries points;
  points.kind = PictureSeries::Kind::points;
  points.name = name_of(*largest);
  points.steel = largest->steel;
  for (const auto& start : largest->starts) {
    points.x.push_back(double(points.x.size() + 1));
    points.y.push_back(shown(source, start.reading));
    points.runs.push_back(source.facts->runs[start.run].facts.name);
    out.runs.push_back(points.runs.back());
  }
  out.picture.series.push_back(points);
  for (const auto& [name, value] :
       {std::pair("upper limit", largest->upper()), std::pair("centre", largest->centre()),
        std::pair("lower limit", largest->lower())}) {
    PictureSeries line;
    line.name = name;
    line.ink = true;
    line.x = {1, double(largest->starts.size())};
    line.y = {shown(source, value), shown(source, value)};
    out.picture.series.push_back(line);
  }
  out.picture.x_label = said("start, in order: {largest}", {{"largest", name_of(*largest)}});
  out.picture.y_label =
      said("reading at 0 cuts, {shown}", {{"shown", std::string(sign_of(source.shown))}});
  if (largest->provisional)
    out.remarks.emplace_back(
        said("Fewer than 20 starts of this kind: the limits are provisional."));
  out.formula = said(
      "Individuals chart of ln reading at 0 cuts for every steel, finish and way of cutting: mean "
      "∓ 2.66 × mean moving range.");
  out.method = said("Start gate");
  return out;
}

}  // namespace bq::inline workflow::answer_parts
