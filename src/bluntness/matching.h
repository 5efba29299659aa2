#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "bluntness/life_model.h"

namespace bq::inline bluntness {

enum class MatchKind { angle, finish };

/// "How must `to` be ground (or finished) to last as long as `from` at `from_value`?"
struct MatchQuestion {
  MatchKind kind = MatchKind::angle;
  std::string from;
  double from_value = 0;  ///< degrees per side of a symmetric apex, or µm
  std::string to;
  double ratio = 1;  ///< life wished of `to` as a multiple of that of `from`
  double level = 0.95;
};

/// Reads "FROM@DEG:TO"; the value must be in range. Steel names may hold blanks.
Checked<MatchQuestion> parse_match(MatchKind kind, std::string_view text);

struct MatchAnswer {
  double value = 0;           ///< degrees per side, or µm
  std::optional<double> low;  ///< absent: the data do not bound it on that side
  std::optional<double> high;
  double difference = 0;                   ///< value − from_value
  bool extrapolated = false;               ///< outside what was tested of either steel
  double tested_low = 0, tested_high = 0;  ///< tested range of `to`
  std::string method;
  /// Neither end is bounded: the data cannot tell.
  [[nodiscard]] bool determinable() const { return low || high; }
};

/// Solves x of `to` where its life is ratio × that of `from` at from_value (DOMAIN §7), other terms
/// held equal. Interval: profile likelihood with the cutoff n·ln(1 + t²/(n − p)); with nothing
/// censored, or with a blade effect, this is Fieller's interval with t quantiles. Searched between
/// 0.5° and 79.9°, or 0.01 µm and 2000 µm; an end outside is "not bounded". Refused: the model
/// lacks steel or the term, an unknown steel, an angle effect of exactly zero.
Checked<MatchAnswer> match(const LifeModel& model, const MatchQuestion& question);

}  // namespace bq::inline bluntness
