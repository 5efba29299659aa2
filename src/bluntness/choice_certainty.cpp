#include "bluntness/choice_certainty.h"

#include "bluntness/edge_deviations.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/random.h"

namespace bq::inline bluntness::ranking {
namespace {

constexpr int kDraws = 2000;
constexpr std::uint64_t kSeed = 22;
constexpr double kSettled = 0.95;
/// With more, Student's t is the normal distribution.
constexpr int kManyFreedom = 100;

using candidates::WorkModel;

/// Covariance of a model's coefficients, from the variances of their sums.
Eigen::MatrixXd covariance_of(const LifeModel& model) {
  const Eigen::Index p = model.design().cols();
  const auto variance = [&](const Eigen::VectorXd& contrast) {
    return std::pow(model.standard_error(contrast), 2);
  };
  Eigen::MatrixXd out(p, p);
  for (Eigen::Index i = 0; i < p; ++i) out(i, i) = variance(Eigen::VectorXd::Unit(p, i));
  for (Eigen::Index i = 0; i < p; ++i)
    for (Eigen::Index j = 0; j < i; ++j)
      out(i, j) = out(j, i) =
          0.5 * (variance(Eigen::VectorXd::Unit(p, i) + Eigen::VectorXd::Unit(p, j)) - out(i, i) -
                 out(j, j));
  return out;
}

/// One kind of work: what a draw of its coefficients does to ln life of every edge.
struct Part {
  Eigen::MatrixXd rows;        ///< edges × coefficients and deviations, weighted by the work's part
                               ///< of the wear
  Eigen::MatrixXd covariance;  ///< of the coefficients
  Eigen::MatrixXd root;
  Eigen::VectorXd shift;    ///< what the deviations add to the pattern's ln life, by edge
  double own_variance = 0;  ///< of ln life of one more run
  int freedom = 1;
};

/// Blades and steels that are drawn are not in the deviations' own reckoning: what the model says
/// of the pattern holds then, and the deviations come on top.
bool is_drawn(const LifeModel& model) { return model.blade_sd() || model.steel_sd(); }

std::vector<Part> parts_of(const std::vector<RankedEdge>& ranked,
                           const std::vector<WorkModel>& work) {
  std::vector<Part> out(work.size());
  std::vector<EdgeDeviations> deviations;
  for (std::size_t w = 0; w < work.size(); ++w) {
    const LifeModel& model = work[w].model;
    deviations.push_back(edge_deviations(model));
    const EdgeDeviations& own = deviations.back();
    const Eigen::MatrixXd pattern = covariance_of(model);
    out[w].covariance = own.cells.empty() ? pattern : own.covariance;
    if (!own.cells.empty() && is_drawn(model)) {
      const Eigen::Index p = pattern.rows(), k = out[w].covariance.rows() - p;
      out[w].covariance.topLeftCorner(p, p) = pattern;
      out[w].covariance.topRightCorner(p, k).setZero();
      out[w].covariance.bottomLeftCorner(k, p).setZero();
    }
    out[w].root = stats::root_of_symmetric(out[w].covariance);
    out[w].rows.resize(Eigen::Index(ranked.size()), out[w].covariance.cols());
    out[w].shift = Eigen::VectorXd::Zero(Eigen::Index(ranked.size()));
    out[w].own_variance = std::pow(model.sigma(), 2);
    out[w].freedom = kManyFreedom;
  }
  for (std::size_t i = 0; i < ranked.size(); ++i) {
    const std::vector<double> weights = candidates::weights_in(ranked[i], work);
    for (std::size_t w = 0; w < work.size(); ++w) {
      const LifeModel& model = work[w].model;
      const LifePoint point = candidates::point_of(ranked[i]);
      const Eigen::VectorXd row = *model.row(point);
      const Eigen::VectorXd whole = deviations[w].row(point, row);
      out[w].rows.row(Eigen::Index(i)) = weights[w] * whole.transpose();
      const Eigen::Index p = row.size(), k = whole.size() - p;
      const double pattern =
          is_drawn(model) ? 0 : row.dot(deviations[w].mean.head(p)) - model.log_life(row).first;
      out[w].shift[Eigen::Index(i)] =
          weights[w] * (pattern + whole.tail(k).dot(deviations[w].mean.tail(k)));
      out[w].freedom = std::min(out[w].freedom, std::max(1, model.degrees_of_freedom(row)));
    }
  }
  return out;
}

/// √(ν/χ²_ν): what turns a normal draw into Student's t.
double student_scale(int freedom, stats::Random& random) {
  if (freedom >= kManyFreedom) return 1;
  double sum = 0;
  for (int i = 0; i < freedom; ++i) sum += std::pow(random.normal(), 2);
  return std::sqrt(freedom / std::max(sum, 1e-12));
}

/// Lets the models know of one more run of an edge.
void add_run(std::vector<Part>& parts, Eigen::Index edge) {
  for (Part& part : parts) {
    // Weights of the work are taken out again: a run tells of the whole life of its edge.
    Eigen::VectorXd row = part.rows.row(edge).transpose();
    row /= row[0] != 0 ? row[0] : 1;
    const Eigen::VectorXd along = part.covariance * row;
    part.covariance -= along * along.transpose() / (part.own_variance + row.dot(along));
    ++part.freedom;
  }
}

/// P(T <= t) for Student's t.
double student_cdf(double t, double freedom) {
  const double tail = 0.5 * stats::t_two_sided_p(std::fabs(t), freedom);
  return t < 0 ? tail : 1 - tail;
}

/// That the first is not worse than the rival by more than the margin; `ahead`: how far ln life
/// leads, with it.
double chance_against(const std::vector<Part>& parts, Eigen::Index rival, double ahead) {
  double variance = 0, freedom = 1e9;
  for (const Part& part : parts) {
    const Eigen::VectorXd contrast = (part.rows.row(0) - part.rows.row(rival)).transpose();
    variance += contrast.dot(part.covariance * contrast);
    freedom = std::min(freedom, double(part.freedom));
  }
  return student_cdf(ahead / std::sqrt(std::max(variance, 1e-18)), freedom);
}

std::string percent(double share) {
  // "100 %" is not said of what was drawn.
  return share > 0.995 ? said("more than 99 %") : print_number(std::round(100 * share), 3) + " %";
}

std::string in_words(const Enough& enough, const std::string& first) {
  const std::string sure =
      said("It is {chance_right} sure that no edge lasts a tenth longer than {first}",
           {{"chance_right", percent(enough.chance_right)}, {"first", first}});
  if (!enough.more_runs)
    return said("{sure}; not even {most_more_runs} more runs of {which} would make it 95 %.",
                {{"sure", sure},
                 {"most_more_runs", std::to_string(kMostMoreRuns)},
                 {"which", enough.which}});
  if (*enough.more_runs == 0)
    return said("{sure}: enough runs were made for this choice.", {{"sure", sure}});
  return said("{sure}; about {more_runs} more {run} of {which} would make it 95 %.",
              {{"sure", sure},
               {"more_runs", std::to_string(*enough.more_runs)},
               {"run", *enough.more_runs == 1 ? said("run") : said("runs")},
               {"which", enough.which}});
}

}  // namespace

std::optional<Enough> certainty(std::vector<RankedEdge>& ranked, const std::vector<WorkModel>& work,
                                const RecommendWishes& wishes, AngleConvention angles) {
  if (ranked.size() < 2 || !(wishes.life > 0)) return std::nullopt;
  std::vector<Part> parts = parts_of(ranked, work);
  const auto count = Eigen::Index(ranked.size());
  // The score with the usual life in place of the next edge's limit: what is best, not what is
  // known best.
  Eigen::VectorXd usual(count);
  for (Eigen::Index i = 0; i < count; ++i) {
    const RankedEdge& edge = ranked[std::size_t(i)];
    usual[i] = edge.score / wishes.life - std::log(edge.life_low) + std::log(edge.life);
    for (const Part& part : parts) usual[i] += part.shift[i];
  }
  std::vector<int> best(ranked.size(), 0), beats_first(ranked.size(), 0);
  int right = 0;
  const double margin = std::log(kWorthwhile);
  for (int draw = 0; draw < kDraws; ++draw) {
    stats::Random random(kSeed, std::uint64_t(draw));
    Eigen::VectorXd score = usual;
    for (const Part& part : parts) {
      Eigen::VectorXd z(part.root.cols());
      for (double& value : z) value = random.normal();
      score += part.rows * (part.root * z) * student_scale(part.freedom, random);
    }
    Eigen::Index at = 0;
    const double most = score.maxCoeff(&at);
    ++best[std::size_t(at)];
    right += most <= score[0] + margin;
    if (at != 0 && most > score[0] + margin) ++beats_first[std::size_t(at)];
  }
  for (std::size_t i = 0; i < ranked.size(); ++i) ranked[i].chance_best = double(best[i]) / kDraws;

  Enough out;
  out.chance_right = double(right) / kDraws;
  const auto rival = std::max_element(beats_first.begin() + 1, beats_first.end());
  const std::size_t other = *rival > 0 ? std::size_t(rival - beats_first.begin()) : std::size_t(1);
  out.which = said("{ranked} and {ranked_2}", {{"ranked", name_of(ranked[0], angles)},
                                               {"ranked_2", name_of(ranked[other], angles)}});
  const double ahead = usual[0] - usual[Eigen::Index(other)];
  if (out.chance_right >= kSettled) {
    out.more_runs = 0;
  } else {
    const auto rival_row = Eigen::Index(other);
    for (int more = 1; more <= kMostMoreRuns && !out.more_runs; ++more) {
      add_run(parts, more % 2 ? 0 : rival_row);
      // One of each at least.
      if (more > 1 && chance_against(parts, rival_row, ahead + margin) >= kSettled)
        out.more_runs = more;
    }
  }
  out.sentence = in_words(out, name_of(ranked[0], angles));
  return out;
}

}  // namespace bq::inline bluntness::ranking
