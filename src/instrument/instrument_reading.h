#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "quantity/measure.h"

namespace bq::inline instrument {

/// What an instrument measures.
enum class InstrumentQuantity { force, length, angle };

/// A unit as an instrument writes it: one of Unit, or degrees.
struct InstrumentUnit {
  std::optional<Unit> unit;  ///< empty: degrees
  [[nodiscard]] InstrumentQuantity quantity() const;
  bool operator==(const InstrumentUnit&) const = default;
};
inline constexpr InstrumentUnit kDegrees{};
/// "gf", "mm", "deg".
std::string_view sign_of(const InstrumentUnit& unit);
/// Reads a sign as instruments write it ("gf", "N", "deg", "°"). Refused: a sign nobody knows, and
/// what could mean two things.
Checked<InstrumentUnit> parse_instrument_unit(std::string_view text);

enum class ReadingStatus {
  ok,
  overload,  ///< at or beyond the instrument's capacity, or it says so
  unstable,  ///< it says that it had not settled
  garbage    ///< not a reading: noise, a cut line, another unit kind
};
std::string_view name_of(ReadingStatus status);

/// One line of an instrument, as understood.
struct InstrumentReading {
  double value = 0;
  InstrumentUnit unit{Unit::gf};
  double resolution = 0;  ///< of the last figure, in `unit`
  ReadingStatus status = ReadingStatus::garbage;
  std::string raw;  ///< the line, at most 120 bytes
  std::string why;  ///< of everything but ok, in words
};

}  // namespace bq::inline instrument
