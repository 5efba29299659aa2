#pragma once

#include <array>
#include <optional>
#include <string_view>

namespace bq::inline bluntness {

/// The blunting curves g(n) of DOMAIN §6, n cumulative cuts.
enum class CurveModel {
  power,      ///< r0 + k·n^b
  linear,     ///< r0 + k·n
  wear_area,  ///< √(r0² + c·n)
  two_phase,  ///< r0 + A·(1 − e^(−n/tau)) + m·n
  levelling   ///< r0 + A·(1 − e^(−(n/tau)^s)): starts late (s > 1) or at once, and levels off
};

inline constexpr int kMaxCurveParameters = 4;

std::string_view name_of(
    CurveModel model);  ///< "power", "linear", "wear-area", "two-phase", "levelling"
std::optional<CurveModel> parse_curve_model(std::string_view text);
int parameter_count(CurveModel model);
/// Parameter names in the order of Curve::parameters: {"r0","k","b"}, …
std::array<std::string_view, kMaxCurveParameters> parameter_names(CurveModel model);

/// A curve with its parameters in natural units (response unit, cuts).
struct Curve {
  CurveModel model = CurveModel::power;
  std::array<double, kMaxCurveParameters> parameters{};

  [[nodiscard]] double at(double cuts) const;
  /// dg/dn; for the power model at 0 cuts and b < 1 the slope at a millionth of a cut.
  [[nodiscard]] double slope(double cuts) const;
  /// ∂ ln g/∂ ln parameter at n, one per parameter. For the power model the second parameter is
  /// k·reference^b (the wear at `reference` cuts), which is far less tied to b than k itself.
  [[nodiscard]] std::array<double, kMaxCurveParameters> log_gradient(double cuts,
                                                                     double reference = 1) const;
  /// The cuts at which the rising curve reaches `threshold`; empty when it is at or above it at 0
  /// cuts or does not reach it by `limit` cuts. Accurate to 1e-12 relative.
  [[nodiscard]] std::optional<double> reaches(double threshold, double limit) const;
};

}  // namespace bq::inline bluntness
