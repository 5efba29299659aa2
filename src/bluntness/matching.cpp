#include "bluntness/matching.h"

#include <algorithm>
#include <cmath>

#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline bluntness {
namespace {

constexpr double kFinestFinish_um = 0.01, kCoarsestFinish_um = 2000;

double to_x(MatchKind kind, double value) {
  return kind == MatchKind::angle ? std::log(std::tan(radians(value))) : std::log(value);
}
double from_x(MatchKind kind, double x) {
  return kind == MatchKind::angle ? degrees(std::atan(std::exp(x))) : std::exp(x);
}

LifePoint point_at(MatchKind kind, const std::string& steel, double x) {
  LifePoint point;
  point.steel = steel;
  if (kind == MatchKind::angle)
    point.mean_tangent = std::exp(x);
  else
    point.finish_um = std::exp(x);
  return point;
}

struct Range {
  double low = 0, high = 0;
  [[nodiscard]] bool holds(double value) const {
    const double slack = 1e-6 * std::max(1.0, high);
    return value >= low - slack && value <= high + slack;
  }
};

Range tested_range(const LifeModel& model, MatchKind kind, const std::string& steel) {
  Range range{1e300, -1e300};
  for (const auto& row : model.rows()) {
    if (row.facts.steel != steel) continue;
    const double value = kind == MatchKind::angle ? row.facts.geometry->apex().equivalent_deg()
                                                  : row.facts.finish->mean_um();
    range.low = std::min(range.low, value);
    range.high = std::max(range.high, value);
  }
  return range;
}

}  // namespace

Checked<MatchQuestion> parse_match(MatchKind kind, std::string_view text) {
  const auto at = text.rfind('@');
  const auto colon = at == std::string_view::npos ? at : text.find(':', at);
  if (at == std::string_view::npos || colon == std::string_view::npos || at == 0 ||
      colon + 1 >= text.size())
    return Refusal{kind == MatchKind::angle ? "write it as FROM@DEGREES:TO, degrees per side"
                                            : "write it as FROM@MICROMETRES:TO"};
  MatchQuestion question;
  question.kind = kind;
  question.from = text.substr(0, at);
  question.to = text.substr(colon + 1);
  const auto value = parse_number(text.substr(at + 1, colon - at - 1));
  if (!value) return Refusal{value.refusal().reason, at + 1};
  question.from_value = *value;
  if (kind == MatchKind::angle && !angle_in_range(*value))
    return Refusal{said("the angle must lie between 0° and 80° per side, both excluded"), at + 1};
  if (kind == MatchKind::finish && !(*value > 0))
    return Refusal{said("the finish must be above 0 µm"), at + 1};
  return question;
}

Checked<MatchAnswer> match(const LifeModel& model, const MatchQuestion& question) {
  const std::string term = question.kind == MatchKind::angle ? said("angle") : said("finish");
  for (const auto& needed : {std::string("steel"), term})
    if (std::find(model.spec().terms.begin(), model.spec().terms.end(), needed) ==
        model.spec().terms.end())
      return Refusal{
          said("matching needs the term \"{needed}\" in the model", {{"needed", needed}})};
  const double x_from = to_x(question.kind, question.from_value);
  const auto from = model.row(point_at(question.kind, question.from, x_from));
  if (!from) return from.refusal();
  if (const auto known = model.row(point_at(question.kind, question.to, 0)); !known)
    return known.refusal();
  const Eigen::VectorXd& beta = model.regression().coefficients;
  const auto contrast = [&](double x) -> Eigen::VectorXd {
    return *model.row(point_at(question.kind, question.to, x)) - *from;
  };
  const double wished = std::log(question.ratio);
  const auto misses = [&](double x) { return contrast(x).dot(beta) - wished; };
  const bool angle = question.kind == MatchKind::angle;
  const double x_min = to_x(question.kind, angle ? 0.5 : kFinestFinish_um);
  const double x_max = to_x(question.kind, angle ? 79.9 : kCoarsestFinish_um);
  double x = 0, slope = 0;
  if (!angle || model.spec().terms.end() ==
                    std::find(model.spec().terms.begin(), model.spec().terms.end(), kAngleBend)) {
    // The row is affine in x, so the contrast is too.
    slope = misses(1) - misses(0);
    if (slope == 0)
      return Refusal{said("the fitted effect of the {term} is exactly zero", {{"term", term}})};
    x = -misses(0) / slope;
  } else {
    // A bent life can be met at two angles, or at none: the nearest within what was tested.
    const Range tested = tested_range(model, question.kind, question.to);
    const double low = to_x(question.kind, tested.low), high = to_x(question.kind, tested.high);
    constexpr int kSteps = 400;
    std::optional<double> nearest;
    for (int i = 0; i < kSteps; ++i) {
      double a = low + (high - low) * i / kSteps, b = low + (high - low) * (i + 1) / kSteps;
      if ((misses(a) < 0) == (misses(b) < 0)) continue;
      for (int k = 0; k < 60; ++k)
        ((misses(a) < 0) == (misses(0.5 * (a + b)) < 0) ? a : b) = 0.5 * (a + b);
      if (!nearest || std::abs(a - x_from) < std::abs(*nearest - x_from)) nearest = a;
    }
    if (!nearest)
      return Refusal{said("life bends over the angle, and no angle tested with {to} meets it",
                          {{"to", question.to}})};
    x = *nearest;
    slope = (misses(x + 1e-4) - misses(x - 1e-4)) / 2e-4;
    if (std::abs(slope) < 1e-6)
      return Refusal{said("life turns right there: the angle cannot be told")};
  }

  MatchAnswer answer;
  answer.value = from_x(question.kind, x);
  answer.difference = answer.value - question.from_value;
  const double standard_error = model.standard_error(contrast(x)) / std::fabs(slope);
  if (x > x_min && x < x_max) {
    const auto outside = [&](double at) {
      return model.outside(contrast(at), wished, question.level);
    };
    const auto ends = stats::profile_interval(outside, x, std::clamp(standard_error / 2, 1e-9, 0.5),
                                              x_min, x_max, 0);
    // Where the effect itself is uncertain the values not ruled out come back beyond an end; then
    // that side has no honest end.
    if (ends.low && outside(x_min) > 0) answer.low = from_x(question.kind, *ends.low);
    if (ends.high && outside(x_max) > 0) answer.high = from_x(question.kind, *ends.high);
  }
  const Range to_range = tested_range(model, question.kind, question.to);
  answer.tested_low = to_range.low;
  answer.tested_high = to_range.high;
  answer.extrapolated =
      !to_range.holds(answer.value) ||
      !tested_range(model, question.kind, question.from).holds(question.from_value);
  const bool censored = model.regression().exact < model.regression().observations;
  if (model.blade_sd())
    answer.method = said("Fieller's interval with t quantiles, blades as a random effect");
  else
    answer.method = censored ? said("profile likelihood, small-sample cutoff")
                             : said("profile likelihood, small-sample cutoff (Fieller's interval)");
  return answer;
}

}  // namespace bq::inline bluntness
