// Paired tests and control charts against closed forms, enumeration and published constants.
#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <bit>
#include <cmath>
#include <numeric>

#include "bluntness/start_gate.h"
#include "bluntness/treatment_verdict.h"
#include "stats/control_chart.h"
#include "stats/distributions.h"
#include "stats/paired_test.h"
#include "support.h"

namespace bq {
namespace {

using stats::Pair;

/// Two-sided signed rank p by trying all sign patterns.
double enumerated_p(const std::vector<double>& d) {
  const std::size_t n = d.size();
  std::vector<double> rank(n);
  for (std::size_t i = 0; i < n; ++i) {
    double below = 0, alike = 0;
    for (const double other : d) {
      below += std::abs(other) < std::abs(d[i]) - 1e-9;

      alike += std::abs(std::abs(other) - std::abs(d[i])) <= 1e-9;
    }
    rank[i] = below + (alike + 1) / 2;
  }
  double observed = 0;
  for (std::size_t i = 0; i < n; ++i) observed += d[i] > 0 ? rank[i] : 0;
  double low = 0, high = 0;
  for (unsigned long mask = 0; mask < (1UL << n); ++mask) {
    double sum = 0;
    for (std::size_t i = 0; i < n; ++i) sum += mask >> i & 1U ? rank[i] : 0;
    low += sum <= observed + 1e-9;
    high += sum >= observed - 1e-9;
  }
  return std::min(1.0, 2 * std::min(low, high) / double(1UL << n));
}

TEST(Paired, AgreesWithTheClosedForm) {
  const std::vector<Pair> pairs{{100, 90}, {120, 100}, {90, 88}, {100, 85}, {110, 111}};
  const auto test = stats::paired_test(pairs);
  ASSERT_TRUE(test);
  std::vector<double> d;
  for (const auto& p : pairs) d.push_back(std::log(p.after / p.before));
  const double mean = std::accumulate(d.begin(), d.end(), 0.0) / 5;
  double ss = 0;
  for (const double x : d) ss += (x - mean) * (x - mean);
  const double se = std::sqrt(ss / 4 / 5);
  EXPECT_NEAR(test->ratio, std::exp(mean), 1e-14);
  EXPECT_NEAR(*test->t, mean / se, 1e-12);
  EXPECT_EQ(test->df, 4);
  EXPECT_NEAR(std::log(*test->high), mean + 2.7764451051977987 * se, 1e-12);  // t(0.975; 4)
  EXPECT_NEAR(std::log(*test->low), mean - 2.7764451051977987 * se, 1e-12);
  EXPECT_NEAR(*test->p, stats::t_two_sided_p(mean / se, 4), 1e-14);
  EXPECT_NEAR(*test->signed_rank_p, 0.125, 1e-15);  // W = 1 of 15: 2·2/32
}

TEST(Paired, SignedRankIsTheEnumeratedOneTiesIncluded) {
  EXPECT_TRUE(rc::check("up to 12 differences from a small set, so that ties are common", [] {
    const auto raw = *rc::gen::container<std::vector<int>>(rc::gen::inRange(-6, 7));
    std::vector<double> d;
    for (const int x : raw)
      if (x != 0 && d.size() < 12) d.push_back(x * 0.1);
    RC_PRE(!d.empty());
    RC_ASSERT(std::abs(stats::signed_rank_p(d) - enumerated_p(d)) < 1e-12);
  }));
}

TEST(Paired, LargeSamplesLeaveTheExactDistributionSmoothly) {
  std::vector<double> d;
  for (int i = 1; i <= stats::kExactPairs; ++i) d.push_back(i % 5 < 3 ? i : -i);
  const double exact = stats::signed_rank_p(d);
  d.push_back(-(stats::kExactPairs + 1));
  std::vector<double> more = d;
  more.push_back(stats::kExactPairs + 2);
  EXPECT_NEAR(stats::signed_rank_p(more), exact, 0.25 * exact)
      << "normal approximation beside the exact one";
}

TEST(Paired, SaysWhatItCannotSay) {
  const std::vector<Pair> one{{100, 90}};
  const auto single = stats::paired_test(one);
  ASSERT_TRUE(single);
  EXPECT_FALSE(single->low);
  EXPECT_FALSE(single->t);
  const std::vector<Pair> alike{{100, 100}, {50, 50}, {70, 70}};
  const auto unchanged = stats::paired_test(alike);
  EXPECT_EQ(unchanged->unchanged, 3);
  EXPECT_FALSE(unchanged->signed_rank_p);
  EXPECT_FALSE(unchanged->t);
  EXPECT_FALSE(stats::paired_test(std::vector<Pair>{}));
  EXPECT_EQ(stats::paired_test(std::vector<Pair>{{1, 1}, {1, 0}}).refusal().place, 1U);
  EXPECT_FALSE(stats::paired_test(std::vector<Pair>{{1, INFINITY}}));
}

TEST(ControlChart, LimitsAreThePublishedConstants) {
  // ASTM MNL 7, table for n = 2: d2 = 1.128, d3 = 0.853, D4 = 3.267, E2 = 2.660.
  EXPECT_NEAR(stats::kRangeMean, 1.128, 5e-4);
  EXPECT_NEAR(stats::kRangeSd, 0.853, 6e-4);
  const std::vector<double> values{10, 12, 11, 13, 9};
  const auto chart = stats::individuals_chart(values);
  ASSERT_TRUE(chart);
  EXPECT_DOUBLE_EQ(chart->centre, 11);
  EXPECT_DOUBLE_EQ(chart->mean_range, 9.0 / 4);
  EXPECT_NEAR(chart->upper, 11 + 2.660 * 2.25, 5e-3);
  EXPECT_NEAR(chart->lower, 11 - 2.660 * 2.25, 5e-3);
  EXPECT_NEAR(chart->range_upper, 3.267 * 2.25, 2e-3);
  EXPECT_FALSE(stats::individuals_chart(std::vector<double>{1}));
  EXPECT_FALSE(stats::individuals_chart(std::vector<double>{1, NAN}));
}

Trial starts(const std::vector<double>& readings) {
  std::string csv = "run,steel,finish_um,cuts,reading,unit\n";
  for (std::size_t i = 0; i < readings.size(); ++i)
    csv += "R" + std::to_string(i + 1) + ",Marl Tough,6,0," + std::to_string(readings[i]) + ",gf\n";
  return test::table(csv).trial;
}

TEST(StartGate, JudgesOnlyWithEnoughStarts) {
  const auto few = start_gate(starts({90, 95, 92, 91, 94}));
  ASSERT_EQ(few.size(), 1U);
  EXPECT_FALSE(few[0].chart);
  const auto verdict = start_of_run(few, 2, Unit::gf);
  EXPECT_EQ(verdict->start->state, StartState::not_judged);
  EXPECT_NE(verdict->sentence.find("at least 6 are needed"), std::string::npos)
      << verdict->sentence;
}

TEST(StartGate, FindsADullAndAKeenStartAndSaysWhy) {
  std::vector<double> readings{90, 95, 92, 91, 94, 93, 90, 140, 92, 94, 91, 60};
  const auto groups = start_gate(starts(readings));
  ASSERT_TRUE(groups[0].chart);
  EXPECT_TRUE(groups[0].provisional);
  std::vector<double> alike{90, 95, 92, 91, 94, 93, 90, 92, 94,  91, 93,
                            92, 90, 95, 92, 91, 94, 93, 90, 140, 92};
  const auto firm = start_gate(starts(alike));
  EXPECT_FALSE(firm[0].provisional);
  EXPECT_EQ(firm[0].starts[19].state, StartState::too_dull);
  EXPECT_EQ(firm[0].starts[3].state, StartState::in);
  EXPECT_NE(start_of_run(firm, 19, Unit::gf)->sentence.find("too dull: 140 gf lies above"),
            std::string::npos);
  alike[19] = 60;
  const auto keen = start_gate(starts(alike));
  EXPECT_EQ(keen[0].starts[19].state, StartState::too_sharp);
  EXPECT_NE(start_of_run(keen, 19, Unit::gf)->sentence.find("burr"), std::string::npos);
}

TEST(StartGate, LimitsAreFactorsAndGroupsAreKeptApart) {
  const Trial trial = test::demo_trial();
  const auto groups = start_gate(trial);
  std::size_t count = 0, judged = 0;
  for (const auto& group : groups) {
    count += group.starts.size();
    if (!group.chart) continue;
    ++judged;
    EXPECT_NEAR(group.upper() / group.centre(), group.centre() / group.lower(), 1e-9);
    for (const auto& start : group.starts)
      EXPECT_EQ(trial.runs[start.run].facts.steel, group.steel);
  }
  EXPECT_EQ(count, trial.runs.size());
  const auto own = start_gate(trial, {}, groups[1].starts[2].run);
  ASSERT_EQ(own.size(), 1U) << "asked for one run, its group alone";
  EXPECT_EQ(own[0].starts.size(), groups[1].starts.size());
  EXPECT_EQ(own[0].upper(), groups[1].upper());
  EXPECT_EQ(judged, 6U) << "two finishes of three steels have six starts or more";
}

Comparison comparison(const std::vector<std::pair<std::string, double>>& ratios) {
  Comparison c;
  c.name = "strops";
  c.first = {"Leather", 2.0, {}, {}, 0.10, ""};
  c.second = {"Balsa", 3.0, {}, {}, 0.05, "dust"};
  c.price_per_hour = 30;
  for (const auto& [blade, ratio] : ratios) c.pairs.push_back({blade, "", 100, 100 * ratio});
  return c;
}

TEST(Comparison, TheBladeIsTheUnitOfReplication) {
  // Many alike pairs on each of three blades must not make it surer than three blades can.
  std::vector<std::pair<std::string, double>> many;
  for (int i = 0; i < 10; ++i)
    for (const auto& [blade, ratio] : {std::pair("A", 0.90), {"B", 0.95}, {"C", 0.85}})
      many.emplace_back(blade, ratio);
  const auto verdict = compare_treatments(comparison(many));
  ASSERT_TRUE(verdict);
  EXPECT_TRUE(verdict->by_blade);
  EXPECT_EQ(verdict->test.n, 3);
  const auto three = stats::paired_test(std::vector<Pair>{{1, 0.90}, {1, 0.95}, {1, 0.85}});
  EXPECT_NEAR(*verdict->test.low, *three->low, 1e-12);
  const auto two = compare_treatments(comparison({{"A", 0.9}, {"A", 0.92}, {"B", 0.88}}));
  EXPECT_FALSE(two->by_blade);
  EXPECT_NE(two->cautions.front().find("these two blades only"), std::string::npos);
}

TEST(Comparison, VerdictSetsThePriceAgainstTheBenefit) {
  const auto better = compare_treatments(comparison({{"A", 0.90}, {"B", 0.91}, {"C", 0.89}}));
  ASSERT_TRUE(better);
  EXPECT_NEAR(*better->first_price, 2.0 / 60 * 30 + 0.10, 1e-12);
  EXPECT_NEAR(*better->second_price, 3.0 / 60 * 30 + 0.05, 1e-12);
  EXPECT_NE(better->verdict.find("Balsa is keener; each percent lower costs"), std::string::npos)
      << better->verdict;
  EXPECT_NE(better->price.find("Balsa costs 0.45 more a blade"), std::string::npos)
      << better->price;
  const auto unclear = compare_treatments(comparison({{"A", 0.8}, {"B", 1.2}, {"C", 1.0}}));
  EXPECT_NE(unclear->verdict.find("cannot tell them apart"), std::string::npos) << unclear->verdict;
  EXPECT_NE(unclear->verdict.find("Leather is the cheaper choice"), std::string::npos)
      << unclear->verdict;
  EXPECT_FALSE(compare_treatments(comparison({{"A", -1}})));
  EXPECT_FALSE(compare_treatments(comparison({})));
}

TEST(Comparison, WhatIsAStropTheShelfSays) {
  Comparison c = comparison({{"A", 0.9}});
  std::vector<Abrasive> shelf(2);
  shelf[0].name = "Felt wheel 3";  // made of felt, and a stone's work
  shelf[0].kind = AbrasiveKind::wheel;
  shelf[1].name = "Horse belt";
  shelf[1].kind = AbrasiveKind::strop;
  const auto matter = [&](const char* first, const char* second) {
    c.first.name = first;
    c.second.name = second;
    return strop_matter(c, shelf);
  };
  EXPECT_EQ(matter("Felt wheel 3", "Pale stone"), StropMatter::none);
  EXPECT_EQ(matter("Horse belt", "nothing after it"), StropMatter::whether);
  EXPECT_EQ(matter("no strop", "Leather strop"), StropMatter::whether);
  EXPECT_EQ(matter("Horse belt", "balsa STROP"), StropMatter::which);
  EXPECT_EQ(matter("leather jacket stone", "Pale stone"), StropMatter::none);
}

}  // namespace
}  // namespace bq
