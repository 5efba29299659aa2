#include "edge/steel_strength.h"

#include <array>
#include <cmath>

#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr int kLeast = 20, kLargest = 68;
// ASTM E140, table 1: Vickers hardness number for 20, 21, … 68 HRC.
constexpr std::array<double, kLargest - kLeast + 1> kVickers{
    238, 243, 248, 254, 260, 266, 272, 279, 286, 294, 302, 310, 318, 327, 336, 345, 354,
    363, 372, 382, 392, 402, 412, 423, 434, 446, 458, 471, 484, 498, 513, 528, 544, 560,
    577, 595, 613, 633, 653, 674, 697, 720, 746, 772, 800, 832, 865, 900, 940};
constexpr std::array<std::string_view, 3> kToughness{"tough", "middling", "brittle"};

}  // namespace

Checked<double> vickers_of(double hrc) {
  if (!(hrc >= kLeast && hrc <= kLargest))
    return Refusal{said("the hardness must lie between 20 and 68 HRC")};
  const auto below = std::min(std::size_t(hrc - kLeast), kVickers.size() - 2);
  const double share = hrc - kLeast - double(below);
  return kVickers[below] + share * (kVickers[below + 1] - kVickers[below]);
}

Checked<double> rockwell_c_of(double vickers) {
  if (!(vickers >= kVickers.front() && vickers <= kVickers.back()))
    return Refusal{said("the hardness must lie between 238 and 940 HV")};
  std::size_t below = 0;
  while (below + 2 < kVickers.size() && kVickers[below + 1] < vickers) ++below;
  return kLeast + double(below) +
         (vickers - kVickers[below]) / (kVickers[below + 1] - kVickers[below]);
}

Checked<double> yield_MPa(double hrc) {
  const auto vickers = vickers_of(hrc);
  if (!vickers) return vickers.refusal();
  return *vickers * 9.80665 / 3;
}

std::string_view name_of(Toughness toughness) { return kToughness[std::size_t(toughness)]; }

std::optional<Toughness> parse_toughness(std::string_view text) {
  for (std::size_t i = 0; i < kToughness.size(); ++i)
    if (kToughness[i] == text) return Toughness(i);
  return std::nullopt;
}

double default_bend_strength_MPa(Toughness toughness) {
  return std::array<double, 3>{4500, 3500, 2500}[std::size_t(toughness)];
}

std::string_view name_of(Failure failure) {
  return failure == Failure::bends_flat ? "bends flat" : "breaks out";
}

std::optional<LeadingLimit> leading_limit(const StrengthLimits& limits) {
  std::optional<LeadingLimit> out;
  if (limits.yield_MPa) out = {*limits.yield_MPa, Failure::bends_flat};
  if (limits.bend_strength_MPa && (!out || *limits.bend_strength_MPa < out->limit_MPa))
    out = {*limits.bend_strength_MPa, Failure::breaks_out};
  return out;
}

}  // namespace bq::inline edge
