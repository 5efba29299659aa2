#include "edge/marker_test.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "quantity/angle.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr double kGrid_deg = 0.05;
constexpr double kTail = 0.0125;
constexpr double kSafeStart_deg = 3;
/// The window's border is not sharp: an eye tells it to about this much (SD, degrees).
constexpr double kBorder_deg = 0.12;
constexpr std::array<std::string_view, 6> kNames{"apex only",   "shoulder only", "whole bevel",
                                                 "middle only", "nothing",       "patchy"};
/// The three answers that place the angle.
constexpr std::array<InkSeen, 3> kTelling{InkSeen::apex_only, InkSeen::shoulder_only,
                                          InkSeen::whole_bevel};

/// Chances of the telling answers, in their order.
using Sights = std::array<double, kTelling.size()>;

double normal_cdf(double z) { return 0.5 * std::erfc(-z / std::sqrt(2.0)); }

Sights sights(double trial_deg, double angle_deg, double window_deg) {
  // Far from a border the answer is certain; the error function is only needed close by.
  const auto beyond = [&](double distance) {
    const double z = (distance - window_deg) / kBorder_deg;
    return z > 6 ? 1.0 : z < -6 ? 0.0 : normal_cdf(z);
  };
  const double steeper = trial_deg - angle_deg;
  const double apex = beyond(steeper), shoulder = beyond(-steeper);
  return {apex, shoulder, std::max(0.0, 1 - apex - shoulder)};
}

bool is_telling(InkSeen seen) { return int(seen) < 3; }

/// Chance of a report by a tester who misreads.
double chance_reported(double seen_chance, double misread) {
  return (1 - misread) * seen_chance + misread * (1 - seen_chance) / 2;
}

/// Windows that are thought possible, as multiples of the one that is set, and how likely each is
/// before a touch: a film of ink on a narrow facet, or one on a wide facet, moves it by a factor of
/// two and more. Log-normal with an SD of ln 1.6, on a grid.
constexpr std::array<double, 7> kWindows{0.35, 0.5, 0.7, 1, 1.4, 2, 2.8};
constexpr std::array<double, 7> kWindowPrior{0.029, 0.119, 0.228, 0.260, 0.222, 0.112, 0.030};
using OfWindows = std::array<double, kWindows.size()>;

double likelihood(const MarkerTouch& touch, double angle_deg, double window_deg,
                  const MarkerSettings& s) {
  if (is_telling(touch.seen))
    return chance_reported(chance_to_see(touch.seen, touch.trial_deg, angle_deg, window_deg),
                           s.misread);
  if (touch.seen == InkSeen::middle_only) {
    const double off = (touch.trial_deg - angle_deg) / 2.0;
    return 0.05 + std::exp(-0.5 * off * off);
  }
  return 1;
}

std::optional<Refusal> refuse(const MarkerSettings& s, const std::vector<MarkerTouch>& touches) {
  if (!angle_in_range(s.guess_deg))
    return Refusal{said("the guess must lie between 0° and 80° per side, both excluded")};
  if (!(s.reach_deg >= 2 && s.reach_deg <= 40))
    return Refusal{said("the reach must lie between 2° and 40°")};
  if (!(s.step_deg >= kGrid_deg && s.step_deg <= 5))
    return Refusal{said("the jig's step must lie between 0.05° and 5°")};
  if (!(s.misread >= 0 && s.misread <= 0.4))
    return Refusal{said("the misread rate must lie between 0 and 0.4")};
  if (!(s.window_deg >= 0.1 && s.window_deg <= 3))
    return Refusal{said("the window must lie between 0.1° and 3°")};
  if (!(s.wished_width_deg >= 0.2))
    return Refusal{said("the wished interval must be at least 0.2° wide")};
  for (std::size_t i = 0; i < touches.size(); ++i)
    if (!angle_in_range(touches[i].trial_deg))
      return Refusal{
          said("touch {i}: the angle must lie between 0° and 80° per side, both excluded",
               {{"i", std::to_string(i + 1)}}),
          i};
  return std::nullopt;
}

/// What is believed of the angle, and of the window for each angle (shares that sum to 1 there).
struct Joint {
  MarkerBelief angle;
  std::vector<OfWindows> window;
};

Joint belief_of(const MarkerSettings& s, const std::vector<MarkerTouch>& touches) {
  Joint out;
  MarkerBelief& belief = out.angle;
  const double from = std::max(kGrid_deg, s.guess_deg - s.reach_deg),
               to = std::min(kAngleLimit_deg - kGrid_deg, s.guess_deg + s.reach_deg);
  const int count = int(std::round((to - from) / kGrid_deg)) + 1;
  double sum = 0;
  for (int i = 0; i < count; ++i) {
    const double angle = from + i * kGrid_deg;
    OfWindows shares = kWindowPrior;
    double p = 0;
    for (std::size_t w = 0; w < kWindows.size(); ++w) {
      for (const auto& touch : touches)
        shares[w] *= std::max(1e-9, likelihood(touch, angle, kWindows[w] * s.window_deg, s));
      p += shares[w];
    }
    for (double& share : shares) share /= p;
    belief.angle_deg.push_back(angle);
    belief.probability.push_back(p);
    out.window.push_back(shares);
    sum += p;
  }
  for (double& p : belief.probability) p /= sum;
  return out;
}

/// Chances of the answers at this place of the grid by a tester who does not misread.
Sights sights_at(const Joint& joint, std::size_t place, double trial_deg, const MarkerSettings& s) {
  Sights chances{};
  for (std::size_t w = 0; w < kWindows.size(); ++w) {
    const Sights with = sights(trial_deg, joint.angle.angle_deg[place], kWindows[w] * s.window_deg);
    for (std::size_t k = 0; k < with.size(); ++k) chances[k] += joint.window[place][w] * with[k];
  }
  return chances;
}

/// Angle below which a share of the probability lies, straight within a grid cell.
double quantile(const MarkerBelief& belief, double share) {
  double below = 0;
  for (std::size_t i = 0; i < belief.angle_deg.size(); ++i) {
    const double p = belief.probability[i];
    if (below + p >= share)
      return belief.angle_deg[i] + kGrid_deg * ((share - below) / std::max(p, 1e-300) - 0.5);
    below += p;
  }
  return belief.angle_deg.back();
}

/// Expected gain of information (nats) of a touch: entropy of the report minus its mean entropy
/// given the angle.
double gain_of(const Joint& joint, double trial_deg, const MarkerSettings& s) {
  const MarkerBelief& belief = joint.angle;
  Sights marginal{};
  double given = 0;
  for (std::size_t i = 0; i < belief.angle_deg.size(); ++i) {
    const double weight = belief.probability[i];
    if (weight < 1e-7) continue;
    const Sights chances = sights_at(joint, i, trial_deg, s);
    for (std::size_t k = 0; k < chances.size(); ++k) {
      const double p = chance_reported(chances[k], s.misread);
      marginal[k] += weight * p;
      if (p > 0) given -= weight * p * std::log(p);
    }
  }
  double entropy = 0;
  for (const double p : marginal)
    if (p > 0) entropy -= p * std::log(p);
  return entropy - given;
}

double on_step(double angle, double step) { return std::round(angle / step) * step; }

double most_telling(const Joint& joint, const MarkerSettings& s) {
  const MarkerBelief& belief = joint.angle;
  double best = -1, at = s.guess_deg;
  // Settings beyond the likely angles (and a window) tell nothing.
  const double reach = kWindows.back() * s.window_deg + s.step_deg,
               from = quantile(belief, 0.001) - reach, to = quantile(belief, 0.999) + reach;
  for (double trial = on_step(from, s.step_deg); trial <= to; trial += s.step_deg) {
    if (!angle_in_range(trial)) continue;
    const double gain = gain_of(joint, trial, s);
    if (gain >= best - 1e-9) {
      best = std::max(best, gain);
      at = trial;
    }  // the steeper of two equals spares the face
  }
  return at;
}

}  // namespace

std::string_view name_of(InkSeen seen) { return kNames[std::size_t(seen)]; }

std::optional<InkSeen> parse_ink_seen(std::string_view text) {
  for (std::size_t i = 0; i < kNames.size(); ++i)
    if (kNames[i] == text) return InkSeen(i);
  return std::nullopt;
}

double chance_to_see(InkSeen seen, double trial_deg, double angle_deg, double window_deg) {
  return is_telling(seen) ? sights(trial_deg, angle_deg, window_deg)[std::size_t(seen)] : 0;
}

Checked<MarkerBelief> marker_belief(const MarkerSettings& settings,
                                    const std::vector<MarkerTouch>& touches) {
  if (auto refusal = refuse(settings, touches)) return *refusal;
  return belief_of(settings, touches).angle;
}

Checked<MarkerAnswer> assess_marker(const MarkerSettings& s,
                                    const std::vector<MarkerTouch>& touches) {
  if (auto refusal = refuse(s, touches)) return *refusal;
  const Joint joint = belief_of(s, touches);
  const MarkerBelief& belief = joint.angle;
  MarkerAnswer answer;
  answer.angle_deg = quantile(belief, 0.5);
  answer.low_deg = quantile(belief, kTail);
  answer.high_deg = quantile(belief, 1 - kTail);
  std::vector<double> middles;
  for (std::size_t i = 0; i < touches.size(); ++i) {
    const auto& touch = touches[i];
    if (touch.seen == InkSeen::middle_only &&
        std::find(middles.begin(), middles.end(), touch.trial_deg) == middles.end())
      middles.push_back(touch.trial_deg);
    if (!is_telling(touch.seen) || s.misread == 0) continue;
    double misread = 0;
    for (std::size_t k = 0; k < belief.angle_deg.size(); ++k) {
      const double chance = sights_at(joint, k, touch.trial_deg, s)[std::size_t(touch.seen)];
      misread +=
          belief.probability[k] * s.misread * (1 - chance) / 2 / chance_reported(chance, s.misread);
    }
    if (misread > 0.5) answer.contradictions.push_back(i);
  }
  answer.looks_convex = middles.size() >= 2;
  std::array<int, 3> told{};
  for (const auto& touch : touches)
    if (is_telling(touch.seen)) ++told[std::size_t(touch.seen)];
  const auto kinds = 3 - std::count(told.begin(), told.end(), 0);
  // One answer only, whatever was tried: the ink, the light or the eye, not the angle.
  answer.one_answer = kinds == 1 && told[0] + told[1] + told[2] >= 4;
  answer.done = kinds >= 2 && answer.high_deg - answer.low_deg <= s.wished_width_deg;
  if (answer.done) return answer;
  if (touches.empty()) {
    answer.next_deg = std::min(on_step(s.guess_deg + kSafeStart_deg, s.step_deg),
                               on_step(kAngleLimit_deg - 1, s.step_deg));
  } else if (!is_telling(touches.back().seen) && touches.back().seen != InkSeen::middle_only) {
    answer.next_deg = touches.back().trial_deg;  // nothing was learnt: ink again, touch again
    answer.ask_again = true;
  } else if (!answer.contradictions.empty() && answer.contradictions.back() + 1 == touches.size()) {
    answer.next_deg = touches.back().trial_deg;
    answer.ask_again = true;
  } else if (s.own_steps && touches.back().seen == InkSeen::apex_only) {
    answer.next_deg = std::max(s.step_deg, touches.back().trial_deg - s.step_deg);
  } else if (s.own_steps && touches.back().seen == InkSeen::shoulder_only) {
    answer.next_deg = std::min(kAngleLimit_deg - 1, touches.back().trial_deg + s.step_deg);
  } else {
    answer.next_deg = most_telling(joint, s);
  }
  return answer;
}

}  // namespace bq::inline edge
