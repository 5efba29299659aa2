#include "bluntness/blunting_curve.h"

#include <algorithm>
#include <cmath>

namespace bq::inline bluntness {
namespace {
constexpr std::array<CurveModel, 5> kModels{CurveModel::power, CurveModel::linear,
                                            CurveModel::wear_area, CurveModel::two_phase,
                                            CurveModel::levelling};
}

std::string_view name_of(CurveModel model) {
  switch (model) {
    case CurveModel::power:
      return "power";
    case CurveModel::linear:
      return "linear";
    case CurveModel::wear_area:
      return "wear-area";
    case CurveModel::two_phase:
      return "two-phase";
    case CurveModel::levelling:
      return "levelling";
  }
  return "";
}

std::optional<CurveModel> parse_curve_model(std::string_view text) {
  for (const CurveModel model : kModels)
    if (text == name_of(model)) return model;
  return std::nullopt;
}

int parameter_count(CurveModel model) {
  switch (model) {
    case CurveModel::power:
      return 3;
    case CurveModel::linear:
    case CurveModel::wear_area:
      return 2;
    case CurveModel::two_phase:
    case CurveModel::levelling:
      return 4;
  }
  return 0;
}

std::array<std::string_view, kMaxCurveParameters> parameter_names(CurveModel model) {
  switch (model) {
    case CurveModel::power:
      return {"r0", "k", "b"};
    case CurveModel::linear:
      return {"r0", "k"};
    case CurveModel::wear_area:
      return {"r0", "c"};
    case CurveModel::two_phase:
      return {"r0", "A", "tau", "m"};
    case CurveModel::levelling:
      return {"r0", "A", "tau", "s"};
  }
  return {};
}

double Curve::at(double n) const {
  const auto& p = parameters;
  switch (model) {
    case CurveModel::power:
      return p[0] + (n > 0 ? p[1] * std::pow(n, p[2]) : 0);
    case CurveModel::linear:
      return p[0] + p[1] * n;
    case CurveModel::wear_area:
      return std::sqrt(p[0] * p[0] + p[1] * n);
    case CurveModel::two_phase:
      return p[0] - p[1] * std::expm1(-n / p[2]) + p[3] * n;
    case CurveModel::levelling:
      return p[0] - (n > 0 ? p[1] * std::expm1(-std::pow(n / p[2], p[3])) : 0);
  }
  return 0;
}

double Curve::slope(double n) const {
  const auto& p = parameters;
  switch (model) {
    case CurveModel::power:
      return p[1] * p[2] * std::pow(std::max(n, 1e-6), p[2] - 1);
    case CurveModel::linear:
      return p[1];
    case CurveModel::wear_area:
      return 0.5 * p[1] / at(n);
    case CurveModel::two_phase:
      return p[1] / p[2] * std::exp(-n / p[2]) + p[3];
    case CurveModel::levelling: {
      const double x = std::max(n, 1e-6) / p[2], power = std::pow(x, p[3]);
      return p[1] * p[3] / p[2] * power / x * std::exp(-power);
    }
  }
  return 0;
}

std::array<double, kMaxCurveParameters> Curve::log_gradient(double n, double reference) const {
  const auto& p = parameters;
  const double g = at(n);
  switch (model) {
    case CurveModel::power: {
      const double wear = n > 0 ? p[1] * std::pow(n, p[2]) : 0;
      return {p[0] / g, wear / g, n > 0 ? wear * p[2] * std::log(n / reference) / g : 0};
    }
    case CurveModel::linear:
      return {p[0] / g, p[1] * n / g};
    case CurveModel::wear_area:
      return {p[0] * p[0] / (g * g), 0.5 * p[1] * n / (g * g)};
    case CurveModel::two_phase: {
      const double decay = std::exp(-n / p[2]);
      return {p[0] / g, p[1] * (1 - decay) / g, -p[1] * (n / p[2]) * decay / g, p[3] * n / g};
    }
    case CurveModel::levelling: {
      if (!(n > 0)) return {1, 0, 0, 0};
      const double log_x = std::log(n / p[2]), power = std::exp(p[3] * log_x);
      const double decay = std::exp(-power), turn = p[1] * power * decay * p[3] / g;
      return {p[0] / g, -p[1] * std::expm1(-power) / g, -turn, turn * log_x};
    }
  }
  return {};
}

std::optional<double> Curve::reaches(double threshold, double limit) const {
  const auto& p = parameters;
  if (at(0) >= threshold || at(limit) < threshold) return std::nullopt;
  switch (model) {
    case CurveModel::power:
      return std::min(limit, std::pow((threshold - p[0]) / p[1], 1 / p[2]));
    case CurveModel::linear:
      return std::min(limit, (threshold - p[0]) / p[1]);
    case CurveModel::wear_area:
      return std::min(limit, (threshold * threshold - p[0] * p[0]) / p[1]);
    case CurveModel::levelling:
      if (threshold >= p[0] + p[1]) return limit;  // rounding at its very top
      return std::min(limit, p[2] * std::pow(-std::log1p(-(threshold - p[0]) / p[1]), 1 / p[3]));
    case CurveModel::two_phase:
      break;
  }
  double low = 0, high = limit;
  for (int i = 0; i < 200 && high - low > 1e-12 * high; ++i) {
    const double middle = 0.5 * (low + high);
    (at(middle) < threshold ? low : high) = middle;
  }
  return 0.5 * (low + high);
}

}  // namespace bq::inline bluntness
