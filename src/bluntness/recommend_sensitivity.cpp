#include "bluntness/recommend_sensitivity.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline bluntness::ranking {
namespace {

constexpr const char* kFigureWords[kFigures] = {"life", "cutting force", "damage",
                                                "sharpening time"};

std::array<double, kFigures> weights_of(const RecommendWishes& w) {
  return {w.life, w.force, w.damage, w.minutes};
}

std::string cuts_per_event(double rate) {
  return said("1 event in {rate} cuts", {{"rate", print_number(std::floor(1 / rate), 6)}});
}

/// What comes first among those that pass `still`; its name or that nothing does.
template <class Still>
std::string then_first(const std::vector<Judged>& passed, AngleConvention angles,
                       const Still& still) {
  for (const auto& one : passed)
    if (still(one.edge))
      return said("then {edge} comes first", {{"edge", name_of(one.edge, angles)}});
  return said("then no edge passes");
}

/// A limit as it is and the figure it is about; false where the edge's figure is not known.
struct Loosened {
  double from = 0, to = 0;
};
std::optional<Loosened> loosening(const Judged& one, const RecommendLimits& limits) {
  switch (one.stopped_by.front()) {
    case Limit::life:
      return Loosened{*limits.least_life, one.edge.life_low};
    case Limit::force:
      return one.edge.force_blunt_N
                 ? std::optional(Loosened{*limits.most_force_N, *one.edge.force_blunt_N})
                 : std::nullopt;
    case Limit::damage:
      return one.edge.damage_rate_upper
                 ? std::optional(Loosened{*limits.most_damage_rate, *one.edge.damage_rate_upper})
                 : std::nullopt;
    case Limit::minutes:
      return one.edge.resharpening
                 ? std::optional(Loosened{*limits.most_minutes, one.edge.resharpening->minutes})
                 : std::nullopt;
    default:
      return std::nullopt;
  }
}

/// To three figures, outward: typed in as the limit, what is printed lets the edge pass.
double rounded_up(double value) {
  const double step = std::pow(10, std::floor(std::log10(value)) - 2);
  return std::ceil(value / step - 1e-9) * step;
}

std::string print_limit(Limit limit, double value) {
  switch (limit) {
    case Limit::life:
      return said("{floor} cuts", {{"floor", print_number(std::floor(value), 6)}});
    case Limit::force:
      return print_number(rounded_up(value), 6) + " N";
    case Limit::damage:
      return cuts_per_event(value);
    default:
      return print_number(rounded_up(value), 6) + " min";
  }
}

void add_weights(const std::vector<Judged>& passed, const RecommendWishes& wishes,
                 AngleConvention angles, std::vector<std::string>& out) {
  const auto weights = weights_of(wishes);
  for (int k = 0; k < kFigures; ++k) {
    double least = 1e9;
    const Judged* taker = nullptr;
    for (std::size_t i = 1; i < passed.size(); ++i) {
      const double gain = passed[i].log_ratio[std::size_t(k)] - passed[0].log_ratio[std::size_t(k)];
      if (!(gain > 1e-12)) continue;
      const double more = (passed[0].edge.score - passed[i].edge.score) / gain;
      if (more < least) {
        least = more;
        taker = &passed[i];
      }
    }
    const double weight = weights[std::size_t(k)] + least;
    if (taker && weight <= 10)
      out.push_back(
          said("With a weight on {figure_words} above {weight} (now {weights}) {edge} comes first.",
               {{"figure_words", kFigureWords[k]},
                {"weight", print_number(weight, 2)},
                {"weights", print_number(weights[std::size_t(k)], 2)},
                {"edge", name_of(taker->edge, angles)}}));
  }
}

}  // namespace

std::optional<double> log_figure(const RankedEdge& edge, int figure) {
  switch (figure) {
    case 0:
      return std::log(std::max(edge.life_low, 1e-9));
    case 1:
      return edge.force_N() && *edge.force_N() > 0 ? std::optional(-std::log(*edge.force_N()))
                                                   : std::nullopt;
    case 2:
      return edge.damage_rate_upper && *edge.damage_rate_upper > 0
                 ? std::optional(-std::log(*edge.damage_rate_upper))
                 : std::nullopt;
    default:
      return edge.resharpening && edge.resharpening->minutes > 0
                 ? std::optional(-std::log(edge.resharpening->minutes))
                 : std::nullopt;
  }
}

std::string_view words_of(Limit limit) {
  switch (limit) {
    case Limit::steel:
      return "steels";
    case Limit::angle:
      return "angle";
    case Limit::finish:
      return "finish";
    case Limit::life:
      return "life";
    case Limit::force:
      return "cutting force";
    case Limit::damage:
      return "damage";
    case Limit::minutes:
      return "sharpening time";
    case Limit::roughest:
      return "the roughest use";
  }
  return "";
}

void score(std::vector<Judged>& passed, std::vector<Judged>& stopped,
           const RecommendWishes& wishes) {
  const auto weights = weights_of(wishes);
  for (int k = 0; k < kFigures; ++k) {
    double best = -1e300, worst = 1e300;
    for (const auto& one : passed)
      if (const auto figure = log_figure(one.edge, k)) {
        best = std::max(best, *figure);
        worst = std::min(worst, *figure);
      }
    for (auto* list : {&passed, &stopped})
      for (auto& one : *list) {
        const auto figure = log_figure(one.edge, k);
        one.log_ratio[std::size_t(k)] = worst > best ? 0 : figure.value_or(worst) - best;
        one.edge.score += weights[std::size_t(k)] * one.log_ratio[std::size_t(k)];
      }
  }
}

bool comes_before(const Judged& a, const Judged& b) {
  if (std::fabs(a.edge.score - b.edge.score) > 1e-12) return a.edge.score > b.edge.score;
  if (a.edge.life_low != b.edge.life_low) return a.edge.life_low > b.edge.life_low;
  return a.edge.force_N().value_or(1e300) < b.edge.force_N().value_or(1e300);
}

std::vector<std::string> sensitivity(const std::vector<Judged>& passed,
                                     const std::vector<Judged>& stopped,
                                     const RecommendLimits& limits, const RecommendWishes& wishes,
                                     AngleConvention angles) {
  std::vector<std::string> out;
  if (passed.empty()) return out;
  const RankedEdge& first = passed.front().edge;
  if (first.force_blunt_N)
    out.push_back(said("Changes if the force limit falls below {force_blunt_n} N: {then_first}.",
                       {{"force_blunt_n", print_number(rounded_up(*first.force_blunt_N), 6)},
                        {"then_first", then_first(passed, angles, [&](const RankedEdge& e) {
                           return e.force_blunt_N && *e.force_blunt_N < *first.force_blunt_N - 1e-9;
                         })}}));
  if (first.damage_rate_upper)
    out.push_back(said("Changes if less than {cuts_per_event} is allowed: {then_first}.",
                       {{"cuts_per_event", cuts_per_event(*first.damage_rate_upper)},
                        {"then_first", then_first(passed, angles, [&](const RankedEdge& e) {
                           return e.damage_rate_upper &&
                                  *e.damage_rate_upper < *first.damage_rate_upper * (1 - 1e-9);
                         })}}));
  if (first.resharpening)
    out.push_back(said("Changes if a touch-up may take less than {minutes} min: {then_first}.",
                       {{"minutes", print_number(rounded_up(first.resharpening->minutes), 6)},
                        {"then_first", then_first(passed, angles, [&](const RankedEdge& e) {
                           return e.resharpening &&
                                  e.resharpening->minutes < first.resharpening->minutes - 1e-9;
                         })}}));
  out.push_back(said("Changes if the next edge must last more than {life_low} cuts: {then_first}.",
                     {{"life_low", print_number(std::floor(first.life_low), 6)},
                      {"then_first", then_first(passed, angles, [&](const RankedEdge& e) {
                         return e.life_low > first.life_low * (1 + 1e-9);
                       })}}));
  // What one limit alone keeps from the first place, by the least loosening of each.
  for (const Limit limit : {Limit::life, Limit::force, Limit::damage, Limit::minutes}) {
    const Judged* nearest = nullptr;
    double least = 1e300;
    for (const auto& one : stopped) {
      if (one.stopped_by.size() != 1 || one.stopped_by.front() != limit ||
          one.edge.score <= first.score)
        continue;
      const auto step = loosening(one, limits);
      if (!step || !(std::fabs(std::log(step->to / step->from)) < least)) continue;
      least = std::fabs(std::log(step->to / step->from));
      nearest = &one;
    }
    if (nearest)
      out.push_back(
          said("With a limit on {limit} of {limit_2} instead of {limit_3} {edge} would come first.",
               {{"limit", std::string(words_of(limit))},
                {"limit_2", print_limit(limit, loosening(*nearest, limits)->to)},
                {"limit_3", print_limit(limit, loosening(*nearest, limits)->from)},
                {"edge", name_of(nearest->edge, angles)}}));
  }
  add_weights(passed, wishes, angles, out);
  return out;
}

std::string rule_in_words(const RecommendWishes& wishes) {
  const auto weights = weights_of(wishes);
  std::string parts;
  const char* const figures[kFigures] = {"the lower 95 % limit of life for the next edge",
                                         "the force half-way between fresh and blunt",
                                         "the upper 95 % bound on damage",
                                         "the minutes of a touch-up"};
  int used = 0;
  for (int k = 0; k < kFigures; ++k)
    if (weights[std::size_t(k)] > 0)
      parts += (used++ ? ", " : "") + std::string(figures[k]) + " × " +
               print_number(weights[std::size_t(k)], 2);
  if (used == 0) return said("No wish has a weight: edges stand by the lower limit of life.");
  if (used == 1 && weights[0] > 0)
    return said("Ranked by the lower 95 % limit of life for the next single edge.");
  return said(
      "Ranked by weighted ratios to the best: {parts}. What is not known of an edge counts as the "
      "worst that is known.",
      {{"parts", parts}});
}

}  // namespace bq::inline bluntness::ranking
