#include "bluntness/life_model.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "quantity/angle.h"
#include "quantity/said.h"
#include "quantity/wording.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/normal_mixture.h"
#include "stats/variance_shares.h"

namespace bq::inline bluntness {
namespace {

/// What a term of the angle's shape is at an angle: the square and the cube of ln tan over that of
/// 15°; empty for other terms.
std::optional<double> shape_at(const std::string& term, double log_tangent) {
  static const double middle = std::log(std::tan(radians(15)));
  const double x = log_tangent - middle;
  if (term == kAngleBend) return x * x;
  if (term == kAngleTwist) return x * x * x;
  return std::nullopt;
}

std::string column_name(const std::string& term) {
  if (term == "angle") return "ln tan angle";
  if (term == kAngleBend) return "bend over ln tan angle";
  if (term == kAngleTwist) return "twist over ln tan angle";
  if (term == "edge_angle") return "ln tan edge bevel";
  if (term == "finish") return "ln finish";
  return term;
}

/// Root mean square of what each run's own curve leaves open of its ln life; 0 where none tells.
double error_of_lives(const std::vector<LifeRow>& rows) {
  double sum = 0;
  int count = 0;
  for (const auto& row : rows)
    if (row.cuts.censoring == Censoring::none && std::isfinite(row.cuts.log_variance)) {
      sum += row.cuts.log_variance;
      ++count;
    }
  return count ? std::sqrt(sum / count) : 0;
}

}  // namespace

bool is_shape_of_angle(const std::string& term) {
  return term == kAngleBend || term == kAngleTwist;
}

std::optional<FactorValue> value_in(const RunFacts& facts, const std::string& term) {
  const auto word = [](const std::string& text) -> std::optional<FactorValue> {
    if (text.empty()) return std::nullopt;
    return FactorValue(text);
  };
  if (term == "steel") return word(facts.steel);
  if (term == "medium") return word(facts.medium);
  if (term == "blade") return word(facts.blade);
  if (term == "block") return word(facts.block);
  if (term == "angle")
    return facts.geometry
               ? std::optional<FactorValue>(std::log(facts.geometry->apex().mean_tangent()))
               : std::nullopt;
  if (is_shape_of_angle(term)) {
    if (!facts.geometry) return std::nullopt;
    return FactorValue(*shape_at(term, std::log(facts.geometry->apex().mean_tangent())));
  }
  if (term == "edge_angle")
    return facts.geometry
               ? std::optional<FactorValue>(std::log(facts.geometry->edge().mean_tangent()))
               : std::nullopt;
  if (term == "finish")
    return facts.finish ? std::optional<FactorValue>(std::log(facts.finish->mean_um()))
                        : std::nullopt;
  if (term == "cut_mode")
    return facts.cut_mode ? word(std::string(name_of(*facts.cut_mode))) : std::nullopt;
  const auto found = facts.factors.find(term);
  return found == facts.factors.end() ? std::nullopt : std::optional(found->second);
}

const LifeModel::Term* LifeModel::find(const std::string& name) const {
  const auto found = std::find_if(terms_.begin(), terms_.end(),
                                  [&](const Term& term) { return term.name == name; });
  return found == terms_.end() ? nullptr : &*found;
}

std::optional<Eigen::VectorXd> LifeModel::values_of(const Term& term,
                                                    const FactorValue& value) const {
  if (term.continuous) {
    const auto* number = std::get_if<double>(&value);
    if (!number) return std::nullopt;
    return Eigen::VectorXd::Constant(1, *number);
  }
  const std::string level = print_factor_value(value);
  const auto found = std::find(term.levels.begin(), term.levels.end(), level);
  if (found == term.levels.end()) return std::nullopt;
  Eigen::VectorXd dummies = Eigen::VectorXd::Zero(term.width());
  if (const auto index = found - term.levels.begin(); index > 0) dummies[index - 1] = 1;
  return dummies;
}

Eigen::VectorXd LifeModel::with_interactions(const std::vector<Eigen::VectorXd>& parts) const {
  std::vector<double> cells{1};
  for (const auto& part : parts) cells.insert(cells.end(), part.begin(), part.end());
  for (const auto& [a, b] : interactions_)
    for (const double left : parts[std::size_t(a)])
      for (const double right : parts[std::size_t(b)]) cells.push_back(left * right);
  return Eigen::Map<Eigen::VectorXd>(cells.data(), Eigen::Index(cells.size()));
}

Checked<LifeModel> LifeModel::fit(const LifeTable& table, const LifeSpec& spec) {
  LifeModel model;
  model.spec_ = spec;
  // Rows with a value for every term.
  for (const auto& row : table.rows) {
    std::vector<std::string> missing;
    for (const auto& term : spec.terms)
      if (!value_in(row.facts, term)) missing.push_back(term);
    if (missing.empty())
      model.rows_.push_back(row);
    else
      model.left_out_.push_back(
          {row.facts.name, said("has no {missing}", {{"missing", listed(missing)}})});
  }
  if (table.rows.empty()) return Refusal{said("no run has a blunting curve that tells a life")};
  if (model.rows_.empty()) {
    for (const auto& term : spec.terms)
      if (std::none_of(table.rows.begin(), table.rows.end(),
                       [&](const LifeRow& row) { return value_in(row.facts, term).has_value(); }))
        return Refusal{said("no run has a value for the term \"{term}\"", {{"term", term}})};
    return Refusal{said("no run has a blunting curve and a value for every term")};
  }

  model.column_names_ = {"(intercept)"};
  for (const auto& name : spec.terms) {
    if (model.find(name))
      return Refusal{said("the term \"{name}\" is named twice", {{"name", name}})};
    Term term;
    term.name = name;
    term.first_column = int(model.column_names_.size());
    std::set<std::string> levels;
    std::set<double> seen;  // a number is printed once, not once a run
    bool numbers = true;
    double sum = 0;
    for (const auto& row : model.rows_) {
      const auto value = *value_in(row.facts, name);
      const auto* number = std::get_if<double>(&value);
      if (!number || seen.insert(*number).second) levels.insert(print_factor_value(value));
      if (number)
        sum += *number;
      else
        numbers = false;
    }
    if (levels.size() < 2)
      return Refusal{said(
          "the term \"{name}\" has only one level here ({levels}), so nothing can be said of it",
          {{"name", name}, {"levels", *levels.begin()}})};
    term.continuous = numbers;
    term.centre = sum / double(model.rows_.size());
    term.levels.assign(levels.begin(), levels.end());
    if (numbers)
      model.column_names_.push_back(column_name(name));
    else
      for (std::size_t i = 1; i < term.levels.size(); ++i)
        model.column_names_.push_back(name + "[" + term.levels[i] + "]");
    model.terms_.push_back(std::move(term));
  }
  for (const auto& [first, second] : spec.interactions) {
    const Term *a = model.find(first), *b = model.find(second);
    if (!a || !b || a == b)
      return Refusal{said("the interaction {first}:{second} needs both as terms",
                          {{"first", first}, {"second", second}})};
    model.interactions_.emplace_back(int(a - model.terms_.data()), int(b - model.terms_.data()));
    for (int i = 0; i < a->width(); ++i)
      for (int j = 0; j < b->width(); ++j)
        model.column_names_.push_back(model.column_names_[std::size_t(a->first_column + i)] + ":" +
                                      model.column_names_[std::size_t(b->first_column + j)]);
  }

  model.design_.resize(Eigen::Index(model.rows_.size()), Eigen::Index(model.column_names_.size()));
  for (std::size_t i = 0; i < model.rows_.size(); ++i) {
    std::vector<Eigen::VectorXd> parts;
    for (const auto& term : model.terms_)
      parts.push_back(*model.values_of(term, *value_in(model.rows_[i].facts, term.name)));
    model.design_.row(Eigen::Index(i)) = model.with_interactions(parts);
    model.response_.push_back(model.rows_[i].log_bounds());
  }
  if (const std::string none = no_life_seen(model.rows_); !none.empty()) return Refusal{none};
  auto fit = stats::censored_regression(model.design_, model.response_);
  if (!fit) {
    if (fit.refusal().place > 0)
      return Refusal{
          said("in this design \"{column_names}\" cannot be told apart from the other terms",
               {{"column_names", model.column_names_[fit.refusal().place]}})};
    return Refusal{said("{reason} ({rows} runs, {column_names} coefficients)",
                        {{"reason", fit.refusal().reason},
                         {"rows", std::to_string(model.rows_.size())},
                         {"column_names", std::to_string(model.column_names_.size())}})};
  }
  model.fit_ = *fit;
  // Runs cannot differ less than each is known to: with a degree of freedom or two the scatter
  // about the pattern may come out next to nothing by luck.
  constexpr int kFewDegrees = 2;
  if (const double error = error_of_lives(model.rows_), sigma = model.fit_.sigma();
      model.fit_.degrees_of_freedom() <= kFewDegrees && sigma > 0 && sigma < error) {
    const double wider = error / sigma;
    model.fit_.sigma_ml *= wider;
    model.fit_.covariance *= wider * wider;
  }
  if (spec.random_blade) model.add_blades();
  if (spec.drawn_steels) model.draw_steels();
  return model;
}

void LifeModel::add_blades() {
  std::map<std::string, int> blades;
  std::vector<int> group;
  for (const auto& row : rows_)  // a run without a blade's name stands for itself
    group.push_back(blades
                        .emplace(row.facts.blade.empty()
                                     ? said("run {name}", {{"name", row.facts.name}})
                                     : said("blade {blade}", {{"blade", row.facts.blade}}),
                                 int(blades.size()))
                        .first->second);
  auto mixed = stats::mixed_regression(design_, response_, group);
  if (!mixed) {
    blade_note_ = mixed.refusal().reason;
    return;
  }
  fit_.coefficients = mixed->coefficients;
  fit_.covariance = mixed->covariance;
  fit_.sigma_ml = mixed->sigma_ml;
  fit_.log_likelihood = mixed->log_likelihood;
  mixed_ = *mixed;
}

// Steel effects as exchangeable normal draws about a common mean with SD tau, everything else flat:
// given tau the posterior of the coefficients is the fit, told that the differences between steels
// are zero within tau (one Kalman step on the normal approximation of the likelihood). tau itself
// is known from few steels only, so it is averaged over: a half-Cauchy prior (Gelman 2006) as wide
// as a steel is known, weights from the marginal density of the differences.
void LifeModel::draw_steels() {
  constexpr std::size_t kLeastSteels = 4;
  constexpr int kGrid = 60;
  constexpr double kWidest = 4;
  const Term* steel = find("steel");
  if (!steel || steel->levels.size() < kLeastSteels || !interactions_.empty()) return;
  const Eigen::Index first = steel->first_column, k = Eigen::Index(steel->width());
  const Eigen::VectorXd unit = Eigen::VectorXd::Unit(fit_.coefficients.size(), first);
  // Standard errors of small samples are larger than the likelihood's.
  const double scale = std::pow(standard_error(unit), 2) / fit_.covariance(first, first);
  const Eigen::MatrixXd S = scale * fit_.covariance;
  const Eigen::VectorXd differences = fit_.coefficients.segment(first, k);
  const Eigen::MatrixXd within = S.block(first, first, k, k), across = S.middleCols(first, k);
  const Eigen::MatrixXd alike =
      Eigen::MatrixXd::Identity(k, k) + Eigen::MatrixXd::Ones(k, k);  // of differences to the first
  const double widest = kWidest * std::sqrt(std::max(differences.squaredNorm() / double(k),
                                                     within.diagonal().mean()));
  const double width = std::sqrt(0.5 * within.diagonal().mean());  // of a difference of two
  std::vector<stats::WeightedNormal> draws;
  for (int i = 0; i < kGrid; ++i) {
    const double tau = widest * (i + 0.5) / kGrid;
    const Eigen::MatrixXd spread = within + tau * tau * alike;
    const auto inverse = stats::inverse_if_positive(spread);
    if (!inverse) return;
    const Eigen::MatrixXd gain = across * *inverse;
    draws.push_back({-0.5 * (stats::log_determinant_symmetric(spread) +
                             differences.dot(*inverse * differences)) -
                         std::log1p(std::pow(tau / width, 2)),
                     tau, fit_.coefficients - gain * differences, S - gain * across.transpose()});
  }
  const auto drawn = stats::mixture_of(draws);
  steel_sd_ = drawn.at;
  fit_.coefficients = drawn.mean;
  fit_.covariance = drawn.covariance / scale;
  if (!mixed_) return;
  mixed_->coefficients = fit_.coefficients;
  mixed_->covariance = fit_.covariance;
}

std::vector<LifeCoefficient> LifeModel::coefficients() const {
  std::vector<LifeCoefficient> out;
  for (int i = 0; i < fit_.parameters(); ++i) {
    LifeCoefficient c;
    c.name = column_names_[std::size_t(i)];
    c.estimate = fit_.coefficients[i];
    const Eigen::VectorXd unit = Eigen::VectorXd::Unit(fit_.parameters(), i);
    const double dof = degrees_of_freedom(unit), t = stats::t_quantile(0.5 + spec_.level / 2, dof);
    c.standard_error = standard_error(unit);
    c.low = c.estimate - t * c.standard_error;
    c.high = c.estimate + t * c.standard_error;
    c.p = stats::t_two_sided_p(c.estimate / c.standard_error, dof);
    out.push_back(c);
  }
  return out;
}

double LifeModel::run_to_run_sd() const {
  return std::sqrt(std::max(0.0, sigma() * sigma() - std::pow(error_of_lives(rows_), 2)));
}

Eigen::VectorXd LifeModel::centre_of(const Term& term) const {
  if (const Term* angle = find("angle"); is_shape_of_angle(term.name) && angle)
    return *values_of(term, FactorValue(*shape_at(term.name, angle->centre)));
  if (term.continuous) return *values_of(term, FactorValue(term.centre));
  if (term.name == "steel") return *values_of(term, FactorValue(term.levels[0]));
  Eigen::VectorXd mix = Eigen::VectorXd::Zero(term.width());
  for (const auto& run : rows_) mix += *values_of(term, *value_in(run.facts, term.name));
  return mix / double(rows_.size());
}

Checked<Eigen::VectorXd> LifeModel::row(const LifePoint& point) const {
  std::vector<Eigen::VectorXd> parts;
  for (const auto& term : terms_) {
    std::optional<FactorValue> value;
    if (term.name == "steel" && point.steel)
      value = *point.steel;
    else if (term.name == "angle" && point.mean_tangent)
      value = std::log(*point.mean_tangent);
    else if (is_shape_of_angle(term.name) && point.mean_tangent)
      value = *shape_at(term.name, std::log(*point.mean_tangent));
    else if (term.name == "finish" && point.finish_um)
      value = std::log(*point.finish_um);
    else if (const auto found = point.others.find(term.name); found != point.others.end())
      value = found->second;
    if (!value) {
      parts.push_back(centre_of(term));
      continue;
    }
    const auto values = values_of(term, *value);
    if (!values)
      return Refusal{said("no run here has the {name} \"{factor_value}\"; there are {levels}",
                          {{"name", term.name},
                           {"factor_value", print_factor_value(*value)},
                           {"levels", listed(term.levels)}})};
    parts.push_back(*values);
  }
  return with_interactions(parts);
}

std::pair<double, double> LifeModel::log_life(const Eigen::VectorXd& row) const {
  return {row.dot(fit_.coefficients), standard_error(row)};
}

double LifeModel::log_prediction_limit(const Eigen::VectorXd& row, double level) const {
  const auto [centre, error] = log_life(row);
  const double t = stats::t_quantile(level, degrees_of_freedom(row)),
               blade = blade_sd().value_or(0);
  return centre - t * std::sqrt(error * error + sigma() * sigma() + blade * blade);
}

Eigen::VectorXd LifeModel::row_of(const RunFacts& facts) const {
  return *row_of(facts, nullptr, {});
}

Checked<Eigen::VectorXd> LifeModel::row_of(const RunFacts& facts, const std::string& changed,
                                           const FactorValue& level) const {
  const Term* term = find(changed);
  if (!term) return Refusal{said("the model has no term \"{changed}\"", {{"changed", changed}})};
  FactorValue value = level;
  if (const auto* number = std::get_if<double>(&level)) {
    const bool is_angle = changed == "angle" || changed == "edge_angle";
    if ((is_angle || changed == "finish") && !(*number > 0 && (!is_angle || *number < 80)))
      return Refusal{said("\"{level}\" is no level of {changed}",
                          {{"level", print_factor_value(level)}, {"changed", changed}})};
    if (is_angle)
      value = std::log(std::tan(radians(*number)));
    else if (changed == "finish")
      value = std::log(*number);
  }
  return row_of(facts, term, value);
}

Checked<Eigen::VectorXd> LifeModel::row_of(const RunFacts& facts, const Term* changed,
                                           const FactorValue& value) const {
  std::vector<Eigen::VectorXd> parts;
  for (const auto& term : terms_) {
    const auto* moved = changed && changed->name == "angle" ? std::get_if<double>(&value) : nullptr;
    const auto own = &term == changed ? std::optional(value)
                     : is_shape_of_angle(term.name) && moved
                         ? std::optional<FactorValue>(*shape_at(term.name, *moved))
                         : value_in(facts, term.name);
    const auto values = own ? values_of(term, *own) : std::nullopt;
    if (!values && &term == changed)
      return Refusal{said("no run here has the {name} \"{factor_value}\"; there are {levels}",
                          {{"name", term.name},
                           {"factor_value", print_factor_value(value)},
                           {"levels", listed(term.levels)}})};
    // What is not given or not known stands at the centre, as in row().
    parts.push_back(values ? *values : centre_of(term));
  }
  return with_interactions(parts);
}

double LifeModel::unscaled_variance(const Eigen::VectorXd& contrast) const {
  return contrast.dot(fit_.covariance * contrast) / (fit_.sigma_ml * fit_.sigma_ml);
}

double LifeModel::variance_shrink(const Eigen::VectorXd& contrast,
                                  const Eigen::VectorXd& more) const {
  const Eigen::VectorXd along = fit_.covariance * more / (fit_.sigma_ml * fit_.sigma_ml);
  const double before = unscaled_variance(contrast);
  if (!(before > 0)) return 1;
  const double gain = std::pow(contrast.dot(along), 2) / (1 + more.dot(along));
  return std::max(0.0, 1 - gain / before);
}

double LifeModel::deviance(const Eigen::VectorXd& contrast, double value) const {
  return 2 * (fit_.log_likelihood -
              stats::constrained_log_likelihood(design_, response_, contrast, value));
}

double LifeModel::outside(const Eigen::VectorXd& contrast, double value, double level) const {
  if (!mixed_ && !steel_sd_)
    return deviance(contrast, value) -
           stats::profile_cutoff(fit_.observations, fit_.parameters(), level);
  const double t = (contrast.dot(fit_.coefficients) - value) / standard_error(contrast);
  const double quantile = stats::t_quantile(0.5 + level / 2, degrees_of_freedom(contrast));
  return t * t - quantile * quantile;
}

}  // namespace bq::inline bluntness
