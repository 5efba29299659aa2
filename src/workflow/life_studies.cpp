// Studies of the life model: ratio over thresholds, shares with intervals, whether the pattern can
// be trusted.
#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

#include "bluntness/life_contrast.h"
#include "stats/dense.h"
#include "stats/distributions.h"
#include "stats/parallel.h"
#include "stats/random.h"
#include "workflow/answers.h"

namespace bq::inline workflow {
namespace {

LifeTable with_spec_rows(const LifeTable& table, const std::vector<std::size_t>& rows) {
  LifeTable out;
  for (const std::size_t row : rows) out.rows.push_back(table.rows[row]);
  return out;
}

std::optional<double> p_of_more(const Checked<LifeModel>& less, const Checked<LifeModel>& more) {
  return less && more ? bluntness::p_of_more(*less, *more) : std::nullopt;
}

/// Anderson–Darling with mean and SD estimated: p by D'Agostino & Stephens (1986), table 4.9.
double normality_p(std::vector<double> z) {
  const std::size_t n = z.size();
  if (n < 8) return 1;
  double mean = 0, sum = 0;
  for (const double v : z) mean += v / double(n);
  for (const double v : z) sum += (v - mean) * (v - mean);
  const double sd = std::sqrt(sum / double(n - 1));
  if (!(sd > 0)) return 1;
  std::sort(z.begin(), z.end());
  double a = 0;
  for (std::size_t i = 0; i < n; ++i)
    a += double(2 * i + 1) * (std::log(std::max(1e-300, stats::normal_cdf((z[i] - mean) / sd))) +
                              stats::normal_log_survival((z[n - 1 - i] - mean) / sd));
  const double star = (-double(n) - a / double(n)) * (1 + 0.75 / double(n) + 2.25 / double(n * n));
  if (star < 0.2) return 1 - std::exp(-13.436 + 101.14 * star - 223.73 * star * star);
  if (star < 0.34) return 1 - std::exp(-8.318 + 42.796 * star - 59.938 * star * star);
  if (star < 0.6) return std::exp(0.9177 - 4.279 * star - 1.38 * star * star);
  return std::exp(1.2937 - 5.709 * star + 0.0186 * star * star);
}

/// Rows whose absence may shift a coefficient by its standard error: all of a small table; of a
/// large one those whose case deletion in the linear model (Belsley, Kuh & Welsch 1980) comes half
/// that far, the furthest first, and no more than a small table has.
std::vector<std::size_t> rows_that_may_matter(const LifeModel& model, const LifeTable& table) {
  constexpr std::size_t kSmall = 80;
  constexpr double kHalfWay = 0.5;
  std::vector<std::size_t> out(table.rows.size());
  std::iota(out.begin(), out.end(), std::size_t(0));
  if (out.size() <= kSmall) return out;
  const Eigen::MatrixXd& X = model.design();
  const Eigen::MatrixXd inverse = stats::inverse_symmetric(X.transpose() * X);
  std::vector<std::pair<double, std::size_t>> shifts;
  for (std::size_t i = 0, row = 0; i < table.rows.size() && row < model.rows().size(); ++i) {
    // The model leaves out rows that it cannot place.
    if (table.rows[i].facts.name != model.rows()[row].facts.name) continue;
    const auto bounds = model.rows()[row].log_bounds();
    const Eigen::VectorXd x = X.row(Eigen::Index(row++)).transpose();
    const double seen = bounds.middle();
    const Eigen::VectorXd pull = inverse * x;
    const double leverage = std::min(0.999, x.dot(pull));
    const double off = (seen - x.dot(model.regression().coefficients)) / (1 - leverage);
    double shift = 0;
    for (Eigen::Index c = 0; c < pull.size(); ++c)
      shift = std::max(shift, std::abs(pull[c] * off) / (model.sigma() * std::sqrt(inverse(c, c))));
    if (shift > kHalfWay) shifts.emplace_back(shift, i);
  }
  std::sort(shifts.rbegin(), shifts.rend());
  out.clear();
  for (std::size_t k = 0; k < std::min(kSmall, shifts.size()); ++k) out.push_back(shifts[k].second);
  return out;
}

}  // namespace

RatioCurve ratio_over_thresholds(const Trial& facts, const std::vector<RunFit>& fits,
                                 const LifeFindings& life, const std::string& first,
                                 const std::string& second, int steps) {
  const std::string& medium = life.question.medium;
  RatioCurve out{first, second, {}, {}, {}, {}, {}};
  // From a little above the dullest fresh edge to what half of the runs have reached.
  double low = 0;
  const std::vector<std::string> work = work_of_runs(facts);
  std::vector<double> ends;
  for (std::size_t i = 0; i < fits.size(); ++i) {
    if (!fits[i].curve || work[i] != medium) continue;
    low = std::max(low, fits[i].curve->fit.curve.at(0));
    ends.push_back(fits[i].curve->fit.curve.at(fits[i].table.last_cuts()));
  }
  if (ends.size() < 4) return out;
  std::sort(ends.begin(), ends.end());
  const double high = ends[ends.size() / 2];
  low *= 1.1;
  if (!(high > 1.05 * low)) return out;
  std::set<double> thresholds;
  for (int i = 0; i < steps; ++i)
    thresholds.insert(low * std::pow(high / low, double(i) / (steps - 1)));
  if (life.question.threshold > 0) thresholds.insert(life.question.threshold);
  for (const double threshold : thresholds) {
    const LifeTable table = in_medium(life_table(facts, fits, threshold), medium);
    // The same terms at every limit: one that comes and goes would move the ratio by itself.
    auto model = LifeModel::fit(table, life.model ? life.model->spec() : terms_with_blades(table));
    if (!model && life.model) model = LifeModel::fit(table, terms_with_blades(table));
    if (!model) continue;
    const auto contrast = life_contrast(*model, {"steel", first, second});
    if (!contrast) continue;
    out.threshold.push_back(threshold);
    out.ratio.push_back(contrast->ratio);
    out.low.push_back(contrast->low.value_or(0));
    out.high.push_back(contrast->high.value_or(INFINITY));
    const std::size_t n = out.ratio.size();
    if (n > 1 && (out.ratio[n - 2] < 1) != (out.ratio[n - 1] < 1)) {
      const double a = std::log(out.ratio[n - 2]), b = std::log(out.ratio[n - 1]);
      out.crossings.push_back(out.threshold[n - 2] *
                              std::pow(out.threshold[n - 1] / out.threshold[n - 2], a / (a - b)));
    }
  }
  return out;
}

std::vector<ShareInterval> bootstrap_shares(const LifeTable& table, const LifeSpec& spec,
                                            int refits, std::uint64_t seed, unsigned workers,
                                            const std::stop_token& stop) {
  LifeSpec plain = spec;
  plain.random_blade = false;
  const auto model = LifeModel::fit(table, plain);
  if (!model) return {};
  std::vector<ShareInterval> out;
  for (const auto& share : model->shares()) out.push_back({share, 0, 0});
  std::vector<std::vector<double>> drawn(static_cast<std::size_t>(std::max(refits, 0)));
  stats::Work work{workers, stop};
  const bool whole = stats::for_each_piece(drawn.size(), work, [&](std::size_t i) {
    stats::Random random(seed, i);
    std::vector<std::size_t> rows(model->rows().size());
    for (auto& row : rows) row = random.below(rows.size());
    const auto shares = model->shares_of(rows);
    if (shares.size() != out.size()) return;
    for (const auto& share : shares) drawn[i].push_back(share.share);
  });
  if (!whole) return {};
  std::erase_if(drawn, [](const auto& draw) { return draw.empty(); });
  for (std::size_t term = 0; term < out.size() && !drawn.empty(); ++term) {
    std::vector<double> values;
    for (const auto& draw : drawn) values.push_back(draw[term]);
    std::sort(values.begin(), values.end());
    const auto at = [&](double p) {
      return values[std::min(values.size() - 1, std::size_t(p * double(values.size())))];
    };
    out[term].low = at(0.025);
    out[term].high = at(0.975);
  }
  return out;
}

LifeDiagnostics diagnose(const LifeModel& model, const LifeTable& table) {
  LifeDiagnostics out;
  const auto& fit = model.regression();
  std::vector<double> exact;
  for (std::size_t i = 0; i < model.rows().size(); ++i) {
    const auto bounds = model.rows()[i].log_bounds();
    const double z = (bounds.middle() - model.design().row(Eigen::Index(i)).dot(fit.coefficients)) /
                     model.sigma();
    out.residuals.push_back(z);
    if (bounds.is_exact()) exact.push_back(z);
  }
  out.normality_p = normality_p(exact);

  LifeSpec plain = model.spec();
  plain.random_blade = false;
  const auto base = LifeModel::fit(table, plain);
  const bool angle =
      std::find(plain.terms.begin(), plain.terms.end(), "angle") != plain.terms.end();
  const bool steel =
      std::find(plain.terms.begin(), plain.terms.end(), "steel") != plain.terms.end();
  if (base && angle) {
    // Whether the bend is in the model already or not: of a straight line against a bent one.
    LifeSpec straight = plain, bent = plain;
    out.bent = std::erase_if(straight.terms, is_shape_of_angle) > 0;
    if (!out.bent) bent.terms.emplace_back(kAngleBend);
    out.bend_p = p_of_more(LifeModel::fit(table, straight), LifeModel::fit(table, bent));
  }
  if (base && angle && steel) {
    LifeSpec more = plain;
    more.interactions.emplace_back("steel", "angle");
    out.interplay_p = p_of_more(base, LifeModel::fit(table, more));
  }
  if (base)
    for (const std::size_t i : rows_that_may_matter(*base, table)) {
      std::vector<std::size_t> rows;
      for (std::size_t j = 0; j < table.rows.size(); ++j)
        if (j != i) rows.push_back(j);
      const auto without = LifeModel::fit(with_spec_rows(table, rows), plain);
      if (!without || without->regression().parameters() != base->regression().parameters())
        continue;
      double shift = 0;
      for (int c = 0; c < base->regression().parameters(); ++c) {
        const double se =
            base->standard_error(Eigen::VectorXd::Unit(base->regression().parameters(), c));
        shift = std::max(shift, std::fabs(without->regression().coefficients[c] -
                                          base->regression().coefficients[c]) /
                                    se);
      }
      if (shift > 1) out.influential.push_back({table.rows[i].facts.name, shift});
    }
  std::sort(out.influential.begin(), out.influential.end(),
            [](const auto& a, const auto& b) { return a.shift > b.shift; });
  return out;
}

}  // namespace bq::inline workflow
