#include <gtest/gtest.h>
#include <rapidcheck.h>

#include <cmath>

#include "stats/optimal_design.h"
#include "stats/power.h"

using namespace bq;
using namespace bq::stats;

namespace {

/// Largest determinant of n rows with at most `repeats` of each, by looking at all of them.
double exhaustive(const Eigen::MatrixXd& X, int n, int repeats) {
  double best = -1e300;
  std::vector<int> chosen;
  const std::function<void(int)> choose = [&](int from) {
    if (int(chosen.size()) == n) {
      best = std::max(best, log_determinant(X, chosen));
      return;
    }
    for (int i = from; i < X.rows(); ++i) {
      if (std::count(chosen.begin(), chosen.end(), i) >= repeats) continue;
      chosen.push_back(i);
      choose(i);
      chosen.pop_back();
    }
  };
  choose(0);
  return best;
}

/// Rows (1, a, b, …) over levels −1 … 1.
Eigen::MatrixXd grid(const std::vector<int>& levels) {
  int rows = 1;
  for (const int l : levels) rows *= l;
  Eigen::MatrixXd X(rows, 1 + int(levels.size()));
  for (int r = 0; r < rows; ++r) {
    int rest = r;
    X(r, 0) = 1;
    for (std::size_t f = 0; f < levels.size(); ++f) {
      X(r, Eigen::Index(f) + 1) =
          levels[f] == 1 ? 0 : -1 + 2.0 * (rest % levels[f]) / (levels[f] - 1);
      rest /= levels[f];
    }
  }
  return X;
}

}  // namespace

// R 4.2.2: power.t.test(strict = TRUE), pf(…, ncp), integrate() over the chi-squared law,
// binom.test.
TEST(Power, AgreesWithAnIndependentProgram) {
  const double two[][5] = {{4, .2, 1.5, .95, 0.6683945015},   {2, .1, 1.3, .95, 0.3208165117},
                           {12, .15, 1.1, .95, 0.3190103046}, {24, .3, .8, .99, 0.4633740894},
                           {6, .2, 1.05, .9, 0.1262803322},   {100, .5, 1.2, .95, 0.7277217126}};
  for (const auto& c : two) EXPECT_NEAR(*two_group_power(int(c[0]), c[1], c[2], c[3]), c[4], 1e-8);
  const double paired[][4] = {
      {10, .08, .92, 0.8340160282}, {9, .2, 1.25, 0.8333769741}, {3, .1, 1.2, 0.4157609888}};
  for (const auto& c : paired) EXPECT_NEAR(*paired_power(int(c[0]), c[1], c[2], .95), c[3], 1e-8);
  const double f[][5] = {{3, 16, 5, .95, 0.3535594238},
                         {2, 9, 8, .95, 0.5596310291},
                         {1, 10, 6, .95, 0.5991533197},
                         {5, 40, 12, .99, 0.4408146460}};
  for (const auto& c : f) EXPECT_NEAR(f_power(c[2], c[0], c[1], c[3]), c[4], 1e-8);
  const double same[][6] = {{7, .15, 1.25, 1, .95, 0.8101541994},
                            {10, .1, 1.1, 1.02, .95, 0.4770687567},
                            {4, .2, 1.3, 1, .9, 0.4065864303}};
  for (const auto& c : same)
    EXPECT_NEAR(*sameness_power(int(c[0]), c[1], c[2], c[3], c[4]), c[5], 1e-7);
  const double shares[][4] = {{50, 100, 0.3983211295, 0.6016788705},
                              {0, 20, 0, 0.1684334710},
                              {20, 20, 0.8315665290, 1},
                              {3, 7, 0.0989882784, 0.8159484324}};
  for (const auto& c : shares) {
    const Share share = share_of(long(c[0]), long(c[1]));
    EXPECT_NEAR(share.low, c[2], 1e-8);
    EXPECT_NEAR(share.high, c[3], 1e-8);
  }
}

TEST(Power, NoEffectIsTheFalseAlarmRateAndAHugeOneIsCertain) {
  EXPECT_DOUBLE_EQ(*two_group_power(5, 0.2, 1, 0.95), 1 - 0.95);
  EXPECT_DOUBLE_EQ(t_power(1e6, 3, 0.95), 1);
  EXPECT_DOUBLE_EQ(f_power(1e9, 2, 3, 0.95), 1);
  EXPECT_NEAR(t_power(2.5, 7, 0.95), f_power(6.25, 1, 7, 0.95), 1e-10) << "t squared is F";
  for (const double power : {0.3, 0.8, 0.99})
    EXPECT_NEAR(t_power(noncentrality_for(power, 6, 0.95), 6, 0.95), power, 1e-9);
  // Around the place where the series gives way there is no step.
  EXPECT_NEAR(t_power(36.999, 1, 0.95), t_power(37.001, 1, 0.95), 0.02);
  EXPECT_FALSE(two_group_power(1, 0.2, 1.5, 0.95).ok());
  EXPECT_FALSE(two_group_power(3, 0, 1.5, 0.95).ok());
  EXPECT_FALSE(two_group_power(3, 0.1, -1, 0.95).ok());
}

TEST(Power, ReadingsNeededAreTheLeastThatReachThePrecision) {
  for (const double cv : {0.02, 0.05, 0.11})
    for (const double precision : {0.01, 0.05}) {
      const int m = *readings_needed(cv, precision, 0.95);
      // t quantile by the power of nothing: half-width of m readings, and of one fewer.
      const auto reaches = [&](int n) {
        return n >= 2 && readings_needed(cv, precision, 0.95, n).has_value();
      };
      EXPECT_TRUE(reaches(m));
      EXPECT_FALSE(reaches(m - 1));
    }
  EXPECT_EQ(*readings_needed(0.05, 0.05, 0.95),
            7);  // t(6) = 2.447; 2.447 · 5 / √7 = 4.62 ≤ 5, with 6: 5.25
  EXPECT_FALSE(readings_needed(0.5, 0.001, 0.95).has_value());
}

TEST(OptimalDesign, ReachesTheBestOfAllDesignsOnSmallCases) {
  struct Case {
    std::vector<int> levels;
    int runs, repeats;
  };
  for (const auto& c : {Case{{2, 3}, 4, 2}, Case{{3, 3}, 5, 5}, Case{{2, 2, 2}, 5, 1},
                        Case{{3, 4}, 6, 1}, Case{{2, 2, 3}, 6, 1}, Case{{5}, 4, 4}}) {
    DesignQuestion q;
    q.candidates = grid(c.levels);
    q.runs = c.runs;
    q.most_repeats = c.repeats;
    const auto found = d_optimal(q);
    ASSERT_TRUE(found.ok());
    EXPECT_GE(std::exp(found->log_determinant - exhaustive(q.candidates, c.runs, c.repeats)), 0.98)
        << c.levels.size() << " factors, " << c.runs << " runs";
  }
}

TEST(OptimalDesign, ReachesThemOnRandomCandidates) {
  EXPECT_TRUE(rc::check("at least 98 % of the best determinant", [] {
    const int n = *rc::gen::inRange(4, 9), p = *rc::gen::inRange(2, 4),
              runs = *rc::gen::inRange(p, 6), repeats = *rc::gen::inRange(1, 3);
    RC_PRE(n * repeats >= runs);
    Eigen::MatrixXd X(n, p);
    for (Eigen::Index i = 0; i < n; ++i)
      for (Eigen::Index j = 0; j < p; ++j) X(i, j) = *rc::gen::inRange(-20, 21) / 10.0;
    const double best = exhaustive(X, runs, repeats);
    RC_PRE(best > -8);
    DesignQuestion q;
    q.candidates = X;
    q.runs = runs;
    q.most_repeats = repeats;
    const auto found = d_optimal(q);
    RC_ASSERT(found.ok());
    RC_ASSERT(std::exp(found->log_determinant - best) >= 0.98);
  }));
}

TEST(OptimalDesign, KeepsItsLimitsAndItsSeed) {
  DesignQuestion q;
  q.candidates = grid({2, 2, 2, 2});
  q.runs = 8;
  for (int i = 0; i < 16; ++i) q.group.push_back(i % 2);
  q.group_capacity = {2, 6};
  const auto found = d_optimal(q);
  ASSERT_TRUE(found.ok());
  int in_first = 0;
  for (const int i : found->chosen) in_first += i % 2 == 0;
  EXPECT_EQ(found->chosen.size(), 8u);
  EXPECT_LE(in_first, 2);
  EXPECT_EQ(std::set<int>(found->chosen.begin(), found->chosen.end()).size(), 8u)
      << "none is repeated";
  EXPECT_EQ(d_optimal(q)->chosen, found->chosen);
  q.group_capacity = {2, 3};
  EXPECT_FALSE(d_optimal(q).ok()) << "five places for eight runs";
  // What is there already is not chosen again: the new run goes to the other end.
  DesignQuestion more;
  more.candidates = grid({2});
  more.runs = 2;
  more.most_repeats = 2;
  more.fixed = more.candidates.row(0).replicate(3, 1);
  EXPECT_EQ(d_optimal(more)->chosen, (std::vector<int>{1, 1}));
  std::stop_source stop;
  stop.request_stop();
  Work work;
  work.stop = stop.get_token();
  DesignQuestion small;
  small.candidates = grid({3, 3});
  small.runs = 4;
  small.most_repeats = 2;
  EXPECT_TRUE(d_optimal(small, work)->stopped);
}

TEST(OptimalDesign, SharedShareSeesWhatCannotBeToldApart) {
  const Eigen::MatrixXd X = grid({2, 2, 2});
  const auto a = X.col(1), b = X.col(2);
  EXPECT_NEAR(shared_share(a, b), 0, 1e-12);
  EXPECT_NEAR(shared_share(a, a), 1, 1e-12);
  Eigen::MatrixXd both(8, 2);
  both << a, b;
  EXPECT_NEAR(shared_share(a + b, both), 1, 1e-12);
  EXPECT_NEAR(shared_share(a + b, a), 0.5, 1e-12);
  EXPECT_EQ(shared_share(a, b, both), 0) << "nothing is left once both are known";
  EXPECT_EQ(shared_share(Eigen::MatrixXd::Ones(8, 1), a), 0) << "a constant shares nothing";
}
