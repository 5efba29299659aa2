// How much of the differences between lives each term of the model carries.
#include "bluntness/life_model.h"

#include <algorithm>

#include "stats/variance_shares.h"

namespace bq::inline bluntness {

std::vector<LifeShare> LifeModel::split_variation(const Eigen::MatrixXd& design,
                                                  const Eigen::VectorXd& coefficients,
                                                  double within,
                                                  std::optional<double> between_sd) const {
  std::vector<stats::ModelTerm> parts;
  std::vector<std::string> names;
  int column = 1;
  for (const auto& term : terms_) {
    stats::ModelTerm part;
    for (int i = 0; i < term.width(); ++i) part.columns.push_back(column++);
    // A bend is part of what the angle does.
    const auto angle = std::find(names.begin(), names.end(), "angle");
    if (is_shape_of_angle(term.name) && angle != names.end()) {
      auto& own = parts[std::size_t(angle - names.begin())].columns;
      own.insert(own.end(), part.columns.begin(), part.columns.end());
      continue;
    }
    parts.push_back(part);
    names.push_back(term.name);
  }
  for (const auto& [a, b] : interactions_) {
    stats::ModelTerm part;
    const int width = terms_[std::size_t(a)].width() * terms_[std::size_t(b)].width();
    for (int i = 0; i < width; ++i) part.columns.push_back(column++);
    part.after = {a, b};
    parts.push_back(part);
    names.push_back(terms_[std::size_t(a)].name + ":" + terms_[std::size_t(b)].name);
  }
  if (parts.size() > 8) return {};
  const auto contributions = stats::averaged_contributions(design, design * coefficients, parts);
  const double between = between_sd.value_or(0) * between_sd.value_or(0);
  double total = within * within + between;
  for (const double part : contributions) total += part;
  std::vector<LifeShare> out;
  for (std::size_t i = 0; i < parts.size(); ++i)
    out.push_back({names[i], contributions[i] / total});
  if (between_sd) out.push_back({"blade", between / total});
  out.push_back({"repeatability", within * within / total});
  return out;
}

std::vector<LifeShare> LifeModel::shares() const {
  return split_variation(design_, fit_.coefficients, sigma(), blade_sd());
}

std::vector<LifeShare> LifeModel::shares_of(const std::vector<std::size_t>& rows) const {
  Eigen::MatrixXd design(Eigen::Index(rows.size()), design_.cols());
  std::vector<stats::Bounds> response;
  response.reserve(rows.size());
  for (std::size_t i = 0; i < rows.size(); ++i) {
    design.row(Eigen::Index(i)) = design_.row(Eigen::Index(rows[i]));
    response.push_back(response_[rows[i]]);
  }
  const auto fit = stats::censored_regression(design, response);
  return fit ? split_variation(design, fit->coefficients, fit->sigma(), {})
             : std::vector<LifeShare>{};
}

}  // namespace bq::inline bluntness
