#pragma once

#include <array>
#include <string>
#include <vector>

#include "instrument/instrument_reading.h"

namespace bq::inline instrument {

/// What an instrument is used for.
enum class InstrumentRole { gauge, force_cell, angle };
inline constexpr int kInstrumentRoles = 3;
inline constexpr std::array<InstrumentRole, kInstrumentRoles> kEveryRole{
    InstrumentRole::gauge, InstrumentRole::force_cell, InstrumentRole::angle};
std::string_view name_of(InstrumentRole role);  ///< "gauge", "force cell", "angle gauge"
std::optional<InstrumentRole> parse_instrument_role(std::string_view text);

/// How an instrument is reached and understood; kept in the project.
struct InstrumentProfile {
  InstrumentRole role = InstrumentRole::gauge;
  std::string name;  ///< the bench's own name for it
  std::string port;  ///< device path; "" typed by hand (or a gauge that types like a keyboard)
  int baud = 9600;   ///< 9600 … 115200, 8N1
  std::string
      pattern;  ///< regular expression with the groups value and unit; "": the built-in line format
  InstrumentUnit unit{Unit::gf};  ///< the unit its lines are in; lines in another unit of this kind
                                  ///< are converted by the user of the reading
  std::string request;  ///< sent with a line end to ask for one reading; "": it sends by itself
  std::optional<double> capacity;    ///< in `unit`; at or beyond it: overload
  std::optional<double> resolution;  ///< in `unit`; empty: from the figures of the line
  double rate_hz = 0;                ///< of a stream; 0: single readings
  bool ends_with_cr = false;
  std::string overload_text, unstable_text;  ///< what the pattern's group `flag` says then
  bool operator==(const InstrumentProfile&) const = default;
};

/// A profile that suits the stand-ins and most gauges of this role.
InstrumentProfile usual_profile(InstrumentRole role);
inline constexpr int kBauds[] = {9600, 19200, 38400, 57600, 115200};
/// What is wrong with it, in words; "" when it can be used.
std::string fault_of(const InstrumentProfile& profile);

}  // namespace bq::inline instrument
