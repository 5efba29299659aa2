#include "workflow/life_findings.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "bluntness/steel_pairs.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "workflow/life_terms.h"

namespace bq::inline workflow {

bool has_term(const LifeSpec& spec, const std::string& term) {
  return std::find(spec.terms.begin(), spec.terms.end(), term) != spec.terms.end();
}

std::set<std::string> steels_in(const LifeModel& model) {
  std::set<std::string> steels;
  for (const auto& row : model.rows()) steels.insert(row.facts.steel);
  return steels;
}

namespace {

std::pair<double, double> angle_range(const LifeModel& model, const std::string& steel) {
  double low = 1e9, high = 0;
  for (const auto& row : model.rows()) {
    if (!steel.empty() && row.facts.steel != steel) continue;
    const double angle = row.facts.geometry->apex().equivalent_deg();
    low = std::min(low, angle);
    high = std::max(high, angle);
  }
  return {low, high};
}

void add_lines(LifeFindings& out) {
  const LifeModel& model = *out.model;
  if (!has_term(model.spec(), "angle")) return;
  for (const auto& steel : steels_in(model)) {
    LifeLine line;
    line.steel = steel;
    const auto [low, high] = angle_range(model, steel);
    for (int i = 0; i <= 40; ++i) {
      const double angle = low + (high - low) * i / 40;
      LifePoint point;
      point.steel = steel;
      point.mean_tangent = std::tan(radians(angle));
      const auto row = model.row(point);
      if (!row) continue;
      const auto [centre, error] = model.log_life(*row);
      const double t = stats::t_quantile(0.975, model.degrees_of_freedom(*row));
      line.angle_deg.push_back(angle);
      line.life.push_back(std::exp(centre));
      line.low.push_back(std::exp(centre - t * error));
      line.high.push_back(std::exp(centre + t * error));
    }
    out.lines.push_back(std::move(line));
  }
  // Pure geometry: through the mean of the fitted lines at the middle angle.
  const auto [low, high] = angle_range(model, "");
  double sum = 0, x_sum = 0;
  int count = 0;
  for (const auto& line : out.lines) {
    const std::size_t middle = line.life.size() / 2;
    sum += std::log(line.life[middle]);
    x_sum += std::log(std::tan(radians(line.angle_deg[middle])));
    ++count;
  }
  if (!count) return;
  out.pure_geometry.steel = said("wear geometry alone");
  for (int i = 0; i <= 40; ++i) {
    const double angle = low + (high - low) * i / 40;
    out.pure_geometry.angle_deg.push_back(angle);
    out.pure_geometry.life.push_back(
        std::exp(sum / count - (std::log(std::tan(radians(angle))) - x_sum / count)));
  }
}

std::string names_of_work(const std::vector<std::pair<std::string, int>>& work) {
  std::string out;
  for (const auto& [name, count] : work) out += (out.empty() ? "\"" : ", \"") + name + "\"";
  return out;
}

/// The two steels with most runs, at the middle tested angle of the longer-lived one.
std::optional<MatchQuestion> default_match(const LifeModel& model) {
  if (!has_term(model.spec(), "steel") || !has_term(model.spec(), "angle")) return std::nullopt;
  const auto by_life = steels_by_life(model);
  if (by_life.size() < 2) return std::nullopt;
  // Neighbours in life: the question most likely to have an answer inside the tested angles.
  MatchQuestion question;
  question.from = by_life[by_life.size() - 2].second;
  question.to = by_life.back().second;
  std::set<double> angles;
  for (const auto& row : model.rows())
    if (row.facts.steel == question.from)
      angles.insert(std::round(10 * row.facts.geometry->apex().equivalent_deg()) / 10);
  question.from_value = *std::next(angles.begin(), std::ptrdiff_t(angles.size() / 2));
  return question;
}

/// The middle of what was tested of the first steel, in the question's own quantity.
double middle_of(const LifeModel& model, const MatchQuestion& question) {
  std::set<double> values;
  for (const auto& row : model.rows()) {
    if (row.facts.steel != question.from) continue;
    if (question.kind == MatchKind::angle)
      values.insert(std::round(10 * row.facts.geometry->apex().equivalent_deg()) / 10);
    else if (row.facts.finish)
      values.insert(row.facts.finish->mean_um());
  }
  return values.empty() ? 1 : *std::next(values.begin(), std::ptrdiff_t(values.size() / 2));
}

}  // namespace

LifeFindings find_life(const Trial& facts, const std::vector<RunFit>& fits,
                       const LifeQuestion& question) {
  LifeFindings out;
  out.question = question;
  const LifeTable all = life_table(facts, fits, question.threshold);
  out.media = media_of(all);
  if (out.media.empty()) {
    out.why_not = said("no run has enough checkpoints for a blunting curve yet");
    return out;
  }
  const auto work = work_meant(out.media, question.medium);
  if (!work) {
    out.why_not =
        said("no run with a blunting curve is in \"{medium}\"; there are runs in {names_of_work}",
             {{"medium", question.medium}, {"names_of_work", names_of_work(out.media)}});
    return out;
  }
  out.question.medium = *work;
  out.table = in_medium(all, *work);
  out.sides = side_differences(out.table);
  const LifeSpec spec = terms_with_blades(out.table);
  if (spec.terms.empty()) {
    out.why_not =
        said("the runs do not differ in steel, angle or finish, so nothing can be compared");
  } else {
    LifeSpec wished = spec;
    for (const auto& [a, b] : question.interactions)
      if (has_term(spec, a) && has_term(spec, b)) wished.interactions.emplace_back(a, b);
    auto model = LifeModel::fit(out.table, wished);
    if (!model && !wished.interactions.empty()) {
      out.interaction_note = model.refusal().reason;
      model = LifeModel::fit(out.table, spec);
    }
    if (model)
      out.model = *model;
    else
      out.why_not = model.refusal().reason;
  }
  if (out.model) {
    add_lines(out);
    const auto steels = steels_in(*out.model);
    out.match_chosen = question.match.has_value();
    if (!question.match || !steels.contains(question.match->from) ||
        !steels.contains(question.match->to))
      out.question.match = default_match(*out.model);
    else if (out.question.match && !(out.question.match->from_value > 0))
      out.question.match->from_value = middle_of(*out.model, *out.question.match);
    if (out.question.match) {
      auto answer = match(*out.model, *out.question.match);
      if (answer)
        out.match = *answer;
      else
        out.match_refusal = answer.refusal().reason;
    } else {
      out.match_refusal = said("matching needs at least two steels and two angles in this medium");
    }
  }
  return out;
}

namespace {

/// Slope of ln life in ln tan of the angle at a point of the model, with its 95 % interval.
std::string slope_at(const LifeModel& model, LifePoint point) {
  point.mean_tangent = 0.2;
  const auto low = model.row(point);
  point.mean_tangent = 0.3;
  const auto high = model.row(point);
  if (!low || !high) return said("not known");
  const Eigen::VectorXd contrast = (*high - *low) / std::log(0.3 / 0.2);
  const auto [slope, error] = model.log_life(contrast);
  const double half = stats::t_quantile(0.975, model.degrees_of_freedom(contrast)) * error;
  return said("{slope} ({half} to {half_2})", {{"slope", print_fixed(slope, 2)},
                                               {"half", print_fixed(slope - half, 2)},
                                               {"half_2", print_fixed(slope + half, 2)}});
}

/// With an interaction of the angle there is no one slope.
std::string slopes_sentence(const LifeModel& model) {
  std::string out;
  const bool by_steel =
      std::any_of(model.spec().interactions.begin(), model.spec().interactions.end(),
                  [](const auto& i) { return i.first == "steel" || i.second == "steel"; });
  if (by_steel) {
    for (const auto& steel : steels_in(model)) {
      LifePoint point;
      point.steel = steel;
      out += (out.empty() ? "" : ", ") + steel + " " + slope_at(model, point);
    }
  } else {
    std::set<double> finishes;
    for (const auto& row : model.rows())
      if (row.facts.finish) finishes.insert(row.facts.finish->mean_um());
    for (const double um : {*finishes.begin(), *finishes.rbegin()}) {
      LifePoint point;
      point.finish_um = um;
      out += (out.empty() ? "" : ", ") + print_number(um, 3) + " µm " + slope_at(model, point);
    }
  }
  return said(
      "Slope of ln life in ln tan of the angle, each on its own: {out}; wear geometry alone "
      "predicts -1.",
      {{"out", out}});
}

}  // namespace

std::string bend_sentence(const LifeModel& model, AngleConvention angles) {
  if (!has_term(model.spec(), kAngleBend)) return "";
  const auto [low, high] = angle_range(model, "");
  const auto row_at = [&](double angle) {
    LifePoint point;
    point.mean_tangent = std::tan(radians(angle));
    return *model.row(point);
  };
  double best = low, most = -1e300;
  for (int i = 0; i <= 200; ++i) {
    const double angle = low + (high - low) * i / 200;
    if (const double life = model.log_life(row_at(angle)).first; life > most) {
      most = life;
      best = angle;
    }
  }
  const auto against = [&](double end) {
    const Eigen::VectorXd contrast = row_at(end) - row_at(best);
    const auto [centre, error] = model.log_life(contrast);
    const double half = stats::t_quantile(0.975, model.degrees_of_freedom(contrast)) * error;
    return said("{exp} % of that at {end} ({exp_2} to {exp_3} %)",
                {{"exp", print_number(100 * std::exp(centre), 2)},
                 {"end", print_angle(end, angles)},
                 {"exp_2", print_number(100 * std::exp(centre - half), 2)},
                 {"exp_3", print_number(100 * std::exp(centre + half), 2)}});
  };
  std::string out =
      said("Life bends over the angle here: of {low}° to {high} it is longest ",
           {{"low", print_angle_number(low, angles)}, {"high", print_angle(high, angles)}});
  const double near = 0.02 * (high - low);
  if (best < low + near)
    return said("{out}at the low end, and {against}.", {{"out", out}, {"against", against(high)}});
  if (best > high - near)
    return said("{out}at the steep end, and {against}.", {{"out", out}, {"against", against(low)}});
  return said("{out}near {round}, and {against} and {against_2}.",
              {{"out", out},
               {"round", print_angle(std::round(2 * best) / 2, angles)},
               {"against", against(low)},
               {"against_2", against(high)}});
}

std::string angle_sentence(const LifeFindings& findings, AngleConvention angles) {
  if (!findings.model) return said("No answer yet: {why_not}.", {{"why_not", findings.why_not}});
  if (std::string bend = bend_sentence(*findings.model, angles); !bend.empty()) return bend;
  for (const auto& [a, b] : findings.model->spec().interactions)
    if (a == "angle" || b == "angle") return slopes_sentence(*findings.model);
  for (const auto& c : findings.model->coefficients()) {
    if (c.name != "ln tan angle") continue;
    // What a tester can set: the middle angle that was run, and one a tenth slimmer.
    const auto [low, high] = angle_range(*findings.model, "");
    const double middle = std::round(0.5 * (low + high));
    const double slimmer = std::round(0.9 * middle * 10) / 10;
    const double step = std::log(std::tan(radians(slimmer)) / std::tan(radians(middle)));
    const auto longer = [&](double slope) { return 100 * std::expm1(slope * step); };
    const std::string effect = said("{longer} % ({longer_2} to {longer_3} %)",
                                    {{"longer", print_number(longer(c.estimate), 2)},
                                     {"longer_2", print_number(longer(c.high), 2)},
                                     {"longer_3", print_number(longer(c.low), 2)}});
    const std::string instead =
        said("{slimmer}° instead of {middle}", {{"slimmer", print_angle_number(slimmer, angles)},
                                                {"middle", print_angle(middle, angles)}});
    if (c.high < 0)
      return said(
          "An apex of {instead} lasts {effect} longer here; wear geometry alone predicts {longer} "
          "%.",
          {{"instead", instead}, {"effect", effect}, {"longer", print_number(longer(-1), 2)}});
    if (c.low > 0)
      return said(
          "A steeper edge lasts longer here (slope {estimate}): look for damage at the low angles.",
          {{"estimate", print_number(c.estimate, 2)}});
    return said(
        "These runs cannot tell whether the angle matters: {instead} changes life by {effect}.",
        {{"instead", instead}, {"effect", effect}});
  }
  return said("Only one angle was tested in this medium.");
}

}  // namespace bq::inline workflow
