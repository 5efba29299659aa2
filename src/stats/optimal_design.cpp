#include "stats/optimal_design.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include "quantity/said.h"
#include "stats/dense.h"
#include "stats/random.h"

namespace bq::stats {
namespace {

constexpr double kNothing = -std::numeric_limits<double>::infinity();

/// Keeps the first start invertible; far below what a run adds, so that it never decides.
constexpr double kRidge = 1e-7;

/// One start: the points chosen, and how often each candidate and group is in use.
class Exchange {
 public:
  Exchange(const DesignQuestion& question, const Eigen::MatrixXd& base, Random random)
      : q_(question),
        base_(base),
        used_(std::size_t(question.candidates.rows())),
        group_used_(question.group_capacity.size()),
        random_(random) {}

  bool start() {
    // Any candidate with room may come next, again or for the first time: starts differ as much as
    // designs do.
    std::vector<int> open(used_.size());
    std::iota(open.begin(), open.end(), 0);
    while (int(points_.size()) < q_.runs && !open.empty()) {
      const auto at = std::size_t(random_.below(open.size()));
      if (has_room(open[at], -1)) {
        take(open[at]);
        continue;
      }
      open[at] = open.back();
      open.pop_back();
    }
    return int(points_.size()) == q_.runs;
  }

  void improve(const std::stop_token& stop) {
    refresh();
    for (int pass = 0; pass < 60; ++pass) {
      bool changed = false;
      for (std::size_t i = 0; i < points_.size() && !stop.stop_requested(); ++i)
        changed |= exchange(i);
      if (!changed || stop.stop_requested()) return;
    }
  }

  [[nodiscard]] double value() const { return log_determinant_symmetric(information()); }
  [[nodiscard]] std::vector<int> points() const {
    std::vector<int> sorted = points_;
    std::sort(sorted.begin(), sorted.end());
    return sorted;
  }

 private:
  [[nodiscard]] int group_of(int candidate) const {
    return q_.group.empty() ? -1 : q_.group[std::size_t(candidate)];
  }
  /// Whether a candidate may come in when `leaving` (or -1) goes out.
  [[nodiscard]] bool has_room(int candidate, int leaving) const {
    const int freed = leaving == candidate;
    if (used_[std::size_t(candidate)] - freed >= q_.most_repeats) return false;
    const int group = group_of(candidate);
    if (group < 0 || q_.group_capacity.empty()) return true;
    const int freed_group = leaving >= 0 && group_of(leaving) == group;
    return group_used_[std::size_t(group)] - freed_group < q_.group_capacity[std::size_t(group)];
  }
  void count(int candidate, int by) {
    used_[std::size_t(candidate)] += by;
    if (const int group = group_of(candidate); group >= 0 && !q_.group_capacity.empty())
      group_used_[std::size_t(group)] += by;
  }
  void take(int candidate) {
    points_.push_back(candidate);
    count(candidate, 1);
  }
  [[nodiscard]] Eigen::MatrixXd information() const {
    Eigen::MatrixXd sum = base_;
    for (const int point : points_)
      sum.noalias() += q_.candidates.row(point).transpose() * q_.candidates.row(point);
    return sum;
  }
  void refresh() {
    Eigen::MatrixXd sum = information();
    sum.diagonal().array() += kRidge;
    inverse_ = inverse_positive(sum);
    along_.noalias() = q_.candidates * inverse_;
    variance_ = along_.cwiseProduct(q_.candidates).rowwise().sum();
  }
  /// The candidate that gains most in place of point i; taken when it gains at all.
  bool exchange(std::size_t i) {
    const int old = points_[i];
    const Eigen::VectorXd cross = along_ * q_.candidates.row(old).transpose();
    const double d_old = variance_[old];
    double best_gain = 1 + 1e-9;
    int best = -1;
    for (Eigen::Index j = 0; j < q_.candidates.rows(); ++j) {
      const double gain = (1 + variance_[j]) * (1 - d_old) + cross[j] * cross[j];
      // Equal but for rounding: the first one stays, whatever the machine rounds to.
      if (gain <= best_gain * (1 + 1e-9) || int(j) == old || !has_room(int(j), old)) continue;
      best_gain = gain;
      best = int(j);
    }
    if (best < 0) return false;
    count(old, -1);
    count(best, 1);
    points_[i] = best;
    refresh();
    return true;
  }

  const DesignQuestion& q_;
  const Eigen::MatrixXd& base_;
  std::vector<int> points_, used_, group_used_;
  Eigen::MatrixXd inverse_, along_;
  Eigen::VectorXd variance_;
  Random random_;
};

long places(const DesignQuestion& q) {
  const long each = q.most_repeats;
  if (q.group.empty() || q.group_capacity.empty()) return each * q.candidates.rows();
  std::vector<long> in_group(q.group_capacity.size());
  for (const int group : q.group) in_group[std::size_t(group)] += each;
  long sum = 0;
  for (std::size_t g = 0; g < in_group.size(); ++g)
    sum += std::min(in_group[g], long(q.group_capacity[g]));
  return sum;
}

/// Columns with the mean and `given` taken out, as an orthonormal basis.
Eigen::MatrixXd basis(Eigen::MatrixXd columns, const Eigen::MatrixXd& given) {
  const Eigen::Index n = columns.rows();
  Eigen::MatrixXd known(n, 1 + given.cols());
  known.col(0).setOnes();
  if (given.cols()) known.rightCols(given.cols()) = given;
  const Eigen::VectorXd before = columns.colwise().norm();
  const Eigen::MatrixXd q = orthonormal_basis(known);
  columns -= q * (q.transpose() * columns);
  for (Eigen::Index c = 0; c < columns.cols(); ++c)
    if (columns.col(c).norm() < 1e-9 * std::max(1.0, before[c])) columns.col(c).setZero();
  if (columns.norm() < 1e-9) return Eigen::MatrixXd(n, 0);
  return orthonormal_basis(columns, 1e-9);
}

}  // namespace

Checked<OptimalDesign> d_optimal(const DesignQuestion& question, const Work& work) {
  const auto& X = question.candidates;
  if (X.rows() == 0 || X.cols() == 0)
    return Refusal{said("there is no combination to choose from")};
  if (question.runs < 1) return Refusal{said("at least one run must be chosen")};
  if (places(question) < question.runs) return Refusal{said("there are fewer places than runs")};
  Eigen::MatrixXd base = Eigen::MatrixXd::Zero(X.cols(), X.cols());
  if (question.fixed.rows()) base += question.fixed.transpose() * question.fixed;
  if (question.prior.size()) base.diagonal() += question.prior;
  const double cost = double(X.rows()) * double(X.cols()) * double(X.cols()) * question.runs * 4;
  const int starts = int(std::clamp(question.work_limit / std::max(1.0, cost), 1.0,
                                    double(std::max(1, question.starts))));
  OptimalDesign best;
  best.log_determinant = kNothing;
  for (int s = 0; s < starts; ++s) {
    if (work.stop.stop_requested() && s > 0) break;
    Exchange exchange(question, base, Random(question.seed, std::uint64_t(s) + 1));
    if (!exchange.start()) continue;
    exchange.improve(work.stop);
    const double value = exchange.value();
    ++best.starts_made;
    if (best.chosen.empty() || value > best.log_determinant + 1e-9) {
      best.log_determinant = value;
      best.chosen = exchange.points();
    }
    if (work.done) work.done->fetch_add(1, std::memory_order_relaxed);
  }
  best.stopped = work.stop.stop_requested();
  if (best.chosen.empty()) return Refusal{said("the limits leave no design of this size")};
  return best;
}

double log_determinant(const Eigen::MatrixXd& candidates, const std::vector<int>& chosen) {
  Eigen::MatrixXd sum = Eigen::MatrixXd::Zero(candidates.cols(), candidates.cols());
  for (const int row : chosen) sum += candidates.row(row).transpose() * candidates.row(row);
  return log_determinant_symmetric(sum);
}

double shared_share(const Eigen::MatrixXd& A, const Eigen::MatrixXd& B,
                    const Eigen::MatrixXd& given) {
  if (A.cols() == 0 || B.cols() == 0) return 0;
  const Eigen::MatrixXd a = basis(A, given), b = basis(B, given);
  if (a.cols() == 0 || b.cols() == 0) return 0;
  const double largest = largest_singular_value(a.transpose() * b);
  return std::clamp(largest * largest, 0.0, 1.0);
}

}  // namespace bq::stats
