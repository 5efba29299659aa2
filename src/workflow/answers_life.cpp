// Answers from the life model: angle, matching, steel, finish, shares, limit, trust.
#include <algorithm>
#include <cctype>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/angle_tolerance.h"
#include "bluntness/life_contrast.h"
#include "bluntness/one_blade.h"
#include "bluntness/steel_pairs.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "workflow/answer_parts.h"
#include "workflow/life_terms.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
namespace {

/// What every answer of the life model closes with: its remarks, formula and data.
void end_with_model(Answer& out, const AnswerSource& source, const std::string& formula) {
  const auto more = model_remarks(source);
  out.remarks.insert(out.remarks.end(), more.begin(), more.end());
  out.formula = formula;
  out.method = "Life";
  use_rows(out, source);
}

std::vector<PictureSeries> line_series(const AnswerSource& source, bool bands) {
  std::vector<PictureSeries> out;
  for (const auto& line : source.life->lines) {
    PictureSeries series;
    series.name = series.steel = line.steel;
    for (const double angle : line.angle_deg) series.x.push_back(shown_angle(source, angle));
    series.y = line.life;
    if (bands) {
      series.y_low = line.low;
      series.y_high = line.high;
    }
    out.push_back(std::move(series));
  }
  return out;
}

Picture life_picture(const AnswerSource& source, bool bands) {
  Picture out;
  out.x_label = angle_label(source);
  out.y_label = life_label(source);
  out.x_log = out.y_log = true;
  out.series = line_series(source, bands);
  if (!source.life->pure_geometry.life.empty()) {
    PictureSeries pure;
    pure.name = said("wear geometry alone");
    pure.ink = true;
    for (const double angle : source.life->pure_geometry.angle_deg)
      pure.x.push_back(shown_angle(source, angle));
    pure.y = source.life->pure_geometry.life;
    out.series.push_back(std::move(pure));
  }
  for (auto& points :
       run_points(source, [&](const RunFacts& facts) { return shown_apex(source, facts); }))
    out.series.push_back(std::move(points));
  return out;
}

std::string in_words(const SteelPair& pair) {
  switch (pair.verdict) {
    case SteelVerdict::differs:
      return pair.within ? said("differs, by less than 15 %") : said("differs");
    case SteelVerdict::alike:
      return said("alike within 15 %");
    case SteelVerdict::cannot_tell:
      return said("not told apart");
    case SteelVerdict::one_blade:
      return said("one blade: not to be told");
  }
  return "";
}

}  // namespace

void use_rows(Answer& out, const AnswerSource& source) {
  for (const auto& row : source.life->model->rows()) out.runs.push_back(row.facts.name);
}

std::optional<Answer> no_model(const AnswerSource& source, const char* term, const char* what) {
  if (!source.life->model)
    return missing(said("Cannot tell yet: {why_not}.", {{"why_not", source.life->why_not}}), true);
  if (term && !has_term(source.life->model->spec(), term))
    return missing(
        said("Cannot tell yet: the runs in {this_medium} have only one {what}.",
             {{"this_medium", source.life->question.medium.empty() ? said("this medium")
                                                                   : source.life->question.medium},
              {"what", what}}),
        true);
  return std::nullopt;
}

Answer angle(const AnswerSource& source) {
  if (auto no = no_model(source, "angle", "apex angle")) return *no;
  Answer out;
  out.answered = true;
  out.sentence = angle_sentence(*source.life, source.angles);
  out.picture = life_picture(source, true);
  out.table.heads = {said("Term (of ln life)"), said("Estimate"),  said("SE"),
                     said("Low 95 %"),          said("High 95 %"), "p"};
  for (const auto& c : source.life->model->coefficients())
    out.table.rows.push_back({c.name, print_fixed(c.estimate, 3), print_fixed(c.standard_error, 3),
                              print_fixed(c.low, 3), print_fixed(c.high, 3), print_p(c.p)});
  const bool one_slope = has_one_slope(source.life->model->spec());
  for (const auto& c : source.life->model->coefficients())
    if (c.name == "ln tan angle" && c.estimate < 0 && one_slope)
      out.remarks.push_back(said(
          "Wear geometry alone (slope −1) explains {percent} % of the fitted slope {estimate}.",
          {{"percent", print_number(100 * std::min(1.0, 1 / -c.estimate), 2)},
           {"estimate", print_fixed(c.estimate, 2)}}));
  if (const auto known = angle_tolerance(*source.facts, *source.life->model))
    out.remarks.push_back(tolerance_sentence(*known));
  end_with_model(out, source, kLifeFormula);
  return out;
}

Answer matching(const AnswerSource& source) {
  if (!source.life->match)
    return missing(said("Cannot tell yet: {match_refusal}.",
                        {{"match_refusal",
                          source.life->model ? source.life->match_refusal : source.life->why_not}}),
                   true);
  Answer out;
  out.answered = source.life->match->determinable();
  out.plan_helps = !out.answered;
  out.sentence = match_sentence(*source.life->question.match, *source.life->match, source.angles);
  out.picture = life_picture(source, false);
  const MatchQuestion& question = *source.life->question.match;
  out.table.heads = {said("{from} at", {{"from", question.from}}),
                     said("{to} matches at", {{"to", question.to}}),
                     "Low 95 %",
                     "High 95 %",
                     "Difference",
                     "Remark"};
  std::set<double> angles;
  for (const auto& row : source.life->model->rows())
    if (row.facts.steel == question.from)
      angles.insert(std::round(10 * row.facts.geometry->apex().equivalent_deg()) / 10);
  const auto deg = [&](double value) { return print_angle_number(value, source.angles) + "°"; };
  const auto end = [&](const std::optional<double>& value) {
    return value ? deg(*value) : said("not bounded");
  };
  std::vector<double> differences, ratios;
  for (const double at : angles) {
    MatchQuestion other = question;
    other.from_value = at;
    const auto one = match(*source.life->model, other);
    if (!one) continue;
    differences.push_back(one->difference);
    out.table.rows.push_back({deg(at), deg(one->value), end(one->low), end(one->high),
                              (one->difference < 0 ? "−" : "+") + deg(std::fabs(one->difference)),
                              one->extrapolated ? "extrapolated" : ""});
  }
  if (differences.size() > 1) {
    const auto [least, most] = std::minmax_element(differences.begin(), differences.end());
    out.remarks.push_back(
        *most - *least < 0.5
            ? said("Over the tested angles the offset stays within {least}: a constant number of "
                   "degrees serves as well as a constant ratio of tangents.",
                   {{"least", deg(*most - *least)}})
            : said("The offset grows from {fabs} to {fabs_2} over the tested angles: a constant "
                   "ratio of tangents describes it, a constant number of degrees does not.",
                   {{"fabs", deg(std::min(std::fabs(*least), std::fabs(*most)))},
                    {"fabs_2", deg(std::max(std::fabs(*least), std::fabs(*most)))}}));
  }
  out.formula = said(
      "The angle at which the fitted life of one steel equals that of the other: x = (α_A + β·x_A "
      "+ ln ρ − α_B)/β with x = ln tan of the angle. Interval: {method}.",
      {{"method", source.life->match->method}});
  out.method = "Matching";
  use_rows(out, source);
  return out;
}

Answer steel(const AnswerSource& source) {
  if (auto no = no_model(source, "steel", "steel")) return *no;
  const LifeModel& model = *source.life->model;
  const auto lives = steels_by_life(model);
  std::map<std::string, std::string> one_blade;  // by steel
  for (const auto& one : steels_of_one_blade(model.rows())) one_blade[one.steel] = one.blade;
  const auto blade_or_steel = [&](const std::string& steel) {
    const auto found = one_blade.find(steel);
    return found == one_blade.end()
               ? said("the blades of {steel}", {{"steel", steel}})
               : said("blade {found} ({steel})", {{"found", found->second}, {"steel", steel}});
  };
  Answer out;
  out.table.heads = {said("Steel"),    said("lasts × as long as"), said("Ratio"),
                     said("Low 95 %"), said("High 95 %"),          "p",
                     said("In words")};
  const auto pairs = compare_steels(model);
  for (const auto& pair : pairs) {
    const LifeContrast& contrast = pair.contrast;
    const bool told = pair.verdict != SteelVerdict::one_blade;
    const auto end = [&](const std::optional<double>& v) {
      return !told ? "–" : v ? print_number(*v, 3) : said("not bounded");
    };
    out.table.rows.push_back({pair.longer, pair.shorter, print_number(contrast.ratio, 3),
                              end(contrast.low), end(contrast.high),
                              told ? print_p(pair.family_p) : "–", in_words(pair)});
  }
  if (pairs.empty() || pairs[0].longer != lives[0].second || pairs[0].shorter != lives[1].second)
    return missing(said("Cannot tell yet: the steels cannot be told apart in these runs."), true);
  if (pairs.size() > 1)
    out.remarks.push_back(
        said("All {pairs} pairs are asked together, so each p is held against that (Holm); the "
             "intervals are those of each pair alone.",
             {{"pairs", std::to_string(pairs.size())}}));
  const SteelPair& first = pairs[0];
  out.answered = true;
  const std::string &best = first.longer, &next = first.shorter;
  const std::string ratio =
      with_interval(first.contrast.ratio, first.contrast.low, first.contrast.high);
  switch (first.verdict) {
    case SteelVerdict::differs:
      out.sentence = said(
          "{best} lasts longest here: {ratio} times as long as {next} at the same angle and finish "
          "(95 %){and_by_less}",
          {{"best", best},
           {"ratio", ratio},
           {"next", next},
           {"and_by_less",
            first.within ? said(", and by less than 15 %: choose by what else matters.") : "."}});
      break;
    case SteelVerdict::alike:
      out.sentence = alike_sentence(first);
      break;
    case SteelVerdict::cannot_tell:
      out.sentence = said(
          "{best} seems to last longest, but these runs cannot tell it from {next}: {ratio} times "
          "as long (95 %{of_this_pair}).",
          {{"best", best},
           {"next", next},
           {"ratio", ratio},
           {"of_this_pair",
            first.contrast.seen
                ? said(" of this pair alone; with all pairs asked together p = {family_p}",
                       {{"family_p", print_p(first.family_p)}})
                : ""}});
      break;
    case SteelVerdict::one_blade: {
      const bool both = one_blade.contains(best) && one_blade.contains(next);
      std::string words = blade_or_steel(best);
      words[0] = char(std::toupper(static_cast<unsigned char>(words[0])));
      out.sentence = said(
          "{words} lasted {ratio} times as long as {blade_or_steel} at the same angle and finish. "
          "{with_one_blade}, steel and blade are one thing: nothing can be said of the steels yet.",
          {{"words", words},
           {"ratio", print_number(first.contrast.ratio, 3)},
           {"blade_or_steel", blade_or_steel(next)},
           {"with_one_blade", both ? said("With one blade of each")
                                   : said("With one blade of {best}",
                                          {{"best", one_blade.contains(best) ? best : next}})}});
      out.remarks.emplace_back(
          said("A second blade of each steel tells more than any number of runs on these."));
      break;
    }
  }
  out.plan_helps =
      first.verdict == SteelVerdict::cannot_tell || first.verdict == SteelVerdict::one_blade;
  out.picture.y_label =
      said("{life_label} at the middle angle and finish", {{"life_label", life_label(source)}});
  out.picture.y_log = true;
  std::string mean_and_next;
  for (std::size_t i = 0; i < lives.size(); ++i) {
    LifePoint point;
    point.steel = lives[i].second;
    const auto row = *model.row(point);
    const auto [centre, error] = model.log_life(row);
    const double t = stats::t_quantile(0.975, model.degrees_of_freedom(row));
    PictureSeries series;
    series.kind = PictureSeries::Kind::points;
    series.name = series.steel = lives[i].second;
    series.x = {double(i)};
    series.y = {std::exp(centre)};
    if (one_blade.contains(lives[i].second)) {
      mean_and_next += said("{separator}{blade_or_steel} usually {y}",
                            {{"separator", i ? "; " : ""},
                             {"blade_or_steel", blade_or_steel(lives[i].second)},
                             {"y", print_cuts(series.y[0])}});
      out.picture.series.push_back(series);
      out.picture.x_words.push_back(lives[i].second);
      continue;
    }
    series.y_low = {std::exp(centre - t * error)};
    series.y_high = {std::exp(centre + t * error)};
    mean_and_next += said(
        "{separator}{lives} usually {y} ({y_low} to {y_high}), the next single edge at least "
        "{log_prediction_limit}",
        {{"separator", i ? "; " : ""},
         {"lives", lives[i].second},
         {"y", print_cuts(series.y[0])},
         {"y_low", print_cuts(series.y_low[0])},
         {"y_high", print_cuts(series.y_high[0])},
         {"log_prediction_limit", print_cuts(std::exp(model.log_prediction_limit(row, 0.95)))}});
    out.picture.series.push_back(series);
    out.picture.x_words.push_back(lives[i].second);
  }
  out.remarks.push_back(said("At the middle angle and finish (95 %): {mean_and_next}.",
                             {{"mean_and_next", mean_and_next}}));
  end_with_model(out, source,
                 said("{life_formula} Shown: the ratio of the fitted lives of two steels, "
                      "everything else alike, with its 95 % interval.",
                      {{"life_formula", kLifeFormula}}));
  return out;
}

Answer finish(const AnswerSource& source) {
  if (auto no = no_model(source, "finish", "finish")) return *no;
  const LifeModel& model = *source.life->model;
  std::set<double> finishes;
  for (const auto& row : model.rows()) finishes.insert(row.facts.finish->mean_um());
  const double fine = *finishes.begin(), coarse = *finishes.rbegin();
  const auto contrast = life_contrast(model, {"finish", fine, coarse});
  if (!contrast)
    return missing(said("Cannot tell yet: {reason}.", {{"reason", contrast.refusal().reason}}),
                   true);
  Answer out;
  out.answered = true;
  const std::string ends =
      said("{coarse} µm against {fine} µm",
           {{"coarse", print_number(coarse, 3)}, {"fine", print_number(fine, 3)}});
  const bool longer = contrast->ratio > 1;
  out.sentence =
      contrast->seen
          ? said("{the_coarser_finish}{ends} makes {with_interval} times the life (95 %).",
                 {{"the_coarser_finish", longer ? said("The coarser finish lasts longer here: ")
                                                : said("The finer finish lasts longer here: ")},
                  {"ends", ends},
                  {"with_interval", with_interval(contrast->ratio, contrast->low, contrast->high)}})
          : said(
                "These runs cannot tell whether the finish matters: {ends} makes {with_interval} "
                "times the life (95 %).",
                {{"ends", ends},
                 {"with_interval", with_interval(contrast->ratio, contrast->low, contrast->high)}});
  out.plan_helps = !contrast->seen;
  out.picture.x_label = "finish, µm";
  out.picture.y_label = life_label(source);
  out.picture.x_log = out.picture.y_log = true;
  out.table.heads = {said("Steel"), said("Finish µm"), said("Life at the middle angle"),
                     said("Low 95 %"), said("High 95 %")};
  for (const auto& name : steels_in(model)) {
    PictureSeries line;
    line.name = line.steel = name;
    for (int i = 0; i <= 24; ++i) {
      LifePoint point;
      if (!name.empty()) point.steel = name;
      point.finish_um = fine * std::pow(coarse / fine, i / 24.0);
      const auto row = model.row(point);
      if (!row) continue;
      const auto [centre, error] = model.log_life(*row);
      const double t = stats::t_quantile(0.975, model.degrees_of_freedom(*row));
      line.x.push_back(*point.finish_um);
      line.y.push_back(std::exp(centre));
      line.y_low.push_back(std::exp(centre - t * error));
      line.y_high.push_back(std::exp(centre + t * error));
      if (i == 0 || i == 24)
        out.table.rows.push_back({name, print_number(*point.finish_um, 3),
                                  print_cuts(line.y.back()), print_cuts(line.y_low.back()),
                                  print_cuts(line.y_high.back())});
    }
    out.picture.series.push_back(std::move(line));
  }
  for (auto& points : run_points(source, [](const RunFacts& facts) {
         return facts.finish ? std::optional(facts.finish->mean_um()) : std::nullopt;
       }))
    out.picture.series.push_back(std::move(points));
  if (has_term(model.spec(), "steel") && source.life->question.match) {
    MatchQuestion question = *source.life->question.match;
    question.kind = MatchKind::finish;
    question.from_value = std::sqrt(fine * coarse);
    if (const auto answer = match(model, question))
      out.remarks.push_back(match_sentence(question, *answer, source.angles));
  }
  out.remarks.emplace_back(said(
      "Both schools: some hold that a coarse edge keeps biting in fibrous media, others that a "
      "fine one wears less. The sentence above is what this bench's runs say, in this medium."));
  end_with_model(out, source, kLifeFormula);
  return out;
}

Answer shares(const AnswerSource& source) {
  if (auto no = no_model(source, nullptr, "")) return *no;
  LifeSpec spec = source.life->model->spec();
  auto parts = bootstrap_shares(source.life->table, spec, source.bootstrap_refits, 20299,
                                source.workers, source.stop);
  if (parts.empty())
    return missing(said("Cannot tell yet: the shares could not be worked out."), false);
  Answer out;
  out.answered = true;
  const auto name_of_term = [](const std::string& term) {
    return term == "repeatability" ? said("run to run (blades and repeats)") : term;
  };
  std::sort(parts.begin(), parts.end(),
            [](const auto& a, const auto& b) { return a.share.share > b.share.share; });
  const auto percent = [](double v) { return print_number(100 * v, 2); };
  out.sentence = said(
      "In this design most of the variation of life comes from {term}: {share} % ({low} to {high} "
      "%, bootstrap){then_with}",
      {{"term", name_of_term(parts[0].share.term)},
       {"share", percent(parts[0].share.share)},
       {"low", percent(parts[0].low)},
       {"high", percent(parts[0].high)},
       {"then_with", parts.size() > 1 ? said(", then {term} with {share} %.",
                                             {{"term", name_of_term(parts[1].share.term)},
                                              {"share", percent(parts[1].share.share)}})
                                      : "."}});
  out.table.heads = {said("Part"), said("Share %"), said("Low %"), said("High %")};
  PictureSeries bars;
  bars.kind = PictureSeries::Kind::points;
  bars.name = said("share of the variation of ln life");
  for (const auto& part : parts) {
    out.table.rows.push_back({name_of_term(part.share.term), percent(part.share.share),
                              percent(part.low), percent(part.high)});
    bars.x.push_back(double(out.picture.x_words.size()));
    bars.y.push_back(100 * part.share.share);
    bars.y_low.push_back(100 * part.low);
    bars.y_high.push_back(100 * part.high);
    out.picture.x_words.push_back(part.share.term == "repeatability" ? said("run to run")
                                                                     : part.share.term);
  }
  out.picture.y_label = said("share of the variation of ln life, %");
  out.picture.series = {bars};
  out.remarks.emplace_back(
      said("Shares depend on the levels that were chosen: twice the range of angles makes the "
           "angle matter more. They say what mattered in this trial, not in the world."));
  out.formula = said(
      "Contribution of every term to the variance of the fitted ln life, averaged over the orders "
      "in which terms can enter, beside σ² of the runs. Interval: {bootstrap_refits} refits on "
      "runs drawn again (seeded), 2.5 to 97.5 %; its coverage is in docs/methods.md.",
      {{"bootstrap_refits", std::to_string(source.bootstrap_refits)}});
  out.method = "Shares";
  use_rows(out, source);
  return out;
}

}  // namespace bq::inline workflow::answer_parts
