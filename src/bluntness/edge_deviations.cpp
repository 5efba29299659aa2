#include "bluntness/edge_deviations.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <tuple>

#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/normal_mixture.h"

namespace bq::inline bluntness::ranking {
namespace {

constexpr std::size_t kMostCells = 150;
constexpr int kGrid = 40;
constexpr double kWidest = 6;  ///< of the grid, in SDs of a run
constexpr double kSame = 1e-6;

/// ln life of a run; where it is only known to be more, what is expected beyond that.
double expected_life(const stats::Bounds& bounds, double pattern, double sigma) {
  if (bounds.is_exact()) return bounds.low;
  if (std::isinf(bounds.low)) return std::min(pattern, bounds.high);
  if (!std::isinf(bounds.high)) return 0.5 * (bounds.low + bounds.high);
  const double z = (bounds.low - pattern) / sigma;
  const double density = std::exp(-0.5 * z * z) / std::sqrt(2 * M_PI);
  const double beyond = std::exp(stats::normal_log_survival(z));
  return pattern + sigma * (beyond > 1e-12 ? density / beyond : z);
}

struct Gathered {
  Eigen::VectorXd design;
  double sum = 0, squares = 0;
  int runs = 0;
};

}  // namespace

Eigen::VectorXd EdgeDeviations::row(const LifePoint& edge, const Eigen::VectorXd& design) const {
  Eigen::VectorXd out = Eigen::VectorXd::Zero(design.size() + Eigen::Index(cells.size()));
  out.head(design.size()) = design;
  const double at = on_angle && edge.mean_tangent ? std::log(*edge.mean_tangent) : 0,
               finish = on_finish && edge.finish_um ? std::log(*edge.finish_um) : 0;
  std::optional<std::size_t> below, above;
  for (std::size_t c = 0; c < cells.size(); ++c) {
    const Cell& cell = cells[c];
    if ((on_steel && edge.steel && cell.steel != *edge.steel) ||
        std::abs(cell.log_finish - finish) > kSame)
      continue;
    if (cell.log_tangent <= at + kSame && (!below || cells[*below].log_tangent < cell.log_tangent))
      below = c;
    if (cell.log_tangent >= at - kSame && (!above || cells[*above].log_tangent > cell.log_tangent))
      above = c;
  }
  if (!below) below = above;
  if (!above) above = below;
  if (!below) return out;
  const double gap = cells[*above].log_tangent - cells[*below].log_tangent;
  const double share = gap > kSame ? (at - cells[*below].log_tangent) / gap : 0;
  out[design.size() + Eigen::Index(*below)] += 1 - share;
  out[design.size() + Eigen::Index(*above)] += share;
  return out;
}

EdgeDeviations edge_deviations(const LifeModel& model) {
  EdgeDeviations out;
  const Eigen::VectorXd& beta = model.regression().coefficients;
  const Eigen::Index p = beta.size();
  out.mean = beta;
  const auto has = [&](const char* term) {
    return std::find(model.spec().terms.begin(), model.spec().terms.end(), term) !=
           model.spec().terms.end();
  };
  out.on_steel = has("steel");
  out.on_angle = has("angle");
  out.on_finish = has("finish");
  const double sigma = model.sigma();
  std::map<std::tuple<std::string, double, double>, Gathered> gathered;
  for (std::size_t i = 0; i < model.rows().size(); ++i) {
    const RunFacts& facts = model.rows()[i].facts;
    const auto rounded = [](double value) { return std::round(value / kSame) * kSame; };
    const std::tuple key(
        out.on_steel ? facts.steel : std::string(),
        out.on_angle && facts.geometry ? rounded(std::log(facts.geometry->apex().mean_tangent()))
                                       : 0,
        out.on_finish && facts.finish ? rounded(std::log(facts.finish->mean_um())) : 0);
    Gathered& cell = gathered[key];
    if (cell.runs == 0) cell.design = Eigen::VectorXd::Zero(p);
    const Eigen::VectorXd row = model.design().row(Eigen::Index(i)).transpose();
    const double y = expected_life(model.rows()[i].log_bounds(), row.dot(beta), sigma);
    cell.design += row;
    cell.sum += y;
    cell.squares += y * y;
    ++cell.runs;
  }
  const auto k = Eigen::Index(gathered.size());
  double within = 0;
  int freedom = 0;
  for (const auto& [key, cell] : gathered) {
    within += cell.squares - cell.sum * cell.sum / cell.runs;
    freedom += cell.runs - 1;
  }
  if (gathered.size() > kMostCells || gathered.size() < 3 || (k <= p && freedom < 1) ||
      !(sigma > 0))
    return out;
  // Runs of one edge say how far runs differ; where they are few the pattern's scatter helps.
  constexpr int kOwn = 4;
  const double variance = (std::max(within, 0.0) + kOwn * sigma * sigma) / double(freedom + kOwn);
  Eigen::MatrixXd X(k, p);
  Eigen::VectorXd y(k), own(k);
  Eigen::Index c = 0;
  for (const auto& [key, cell] : gathered) {
    X.row(c) = cell.design.transpose() / cell.runs;
    y[c] = cell.sum / cell.runs;
    own[c] = variance / cell.runs;
    out.cells.push_back({std::get<0>(key), std::get<1>(key), std::get<2>(key)});
    ++c;
  }
  std::vector<stats::WeightedNormal> draws;
  const double widest = kWidest * std::sqrt(variance), usual = std::sqrt(own.mean());
  for (int i = 0; i < kGrid; ++i) {
    const double sd = widest * std::pow((i + 0.5) / kGrid, 2);  // denser near 0
    const Eigen::VectorXd weight = (own.array() + sd * sd).inverse();
    const Eigen::MatrixXd information = X.transpose() * weight.asDiagonal() * X;
    const auto inverse = stats::inverse_if_positive(information);
    if (!inverse) continue;
    const Eigen::VectorXd b = *inverse * (X.transpose() * weight.asDiagonal() * y);
    const Eigen::VectorXd rest = y - X * b;
    // Given the coefficients each deviation is the share of its edge's rest that is not chance.
    const Eigen::VectorXd share = sd * sd * weight;
    stats::WeightedNormal draw;
    draw.at = sd;
    // Restricted likelihood, half-Cauchy prior, and the width of this step of the grid.
    draw.log_weight =
        0.5 * (weight.array().log().sum() - stats::log_determinant_symmetric(information) -
               rest.dot(weight.asDiagonal() * rest)) -
        std::log1p(sd * sd / (usual * usual)) + std::log(i + 0.5);
    draw.mean.resize(p + k);
    draw.mean << b, share.cwiseProduct(rest);
    draw.covariance.resize(p + k, p + k);
    const Eigen::MatrixXd pulled = -(share.asDiagonal() * X * *inverse);
    draw.covariance.topLeftCorner(p, p) = *inverse;
    draw.covariance.bottomLeftCorner(k, p) = pulled;
    draw.covariance.topRightCorner(p, k) = pulled.transpose();
    draw.covariance.bottomRightCorner(k, k) = -pulled * X.transpose() * share.asDiagonal();
    draw.covariance.bottomRightCorner(k, k).diagonal() += share.cwiseProduct(own);
    draws.push_back(std::move(draw));
  }
  if (draws.empty()) {
    out.cells.clear();
    return out;
  }
  auto drawn = stats::mixture_of(draws);
  out.mean = std::move(drawn.mean);
  out.covariance = std::move(drawn.covariance);
  return out;
}

}  // namespace bq::inline bluntness::ranking
