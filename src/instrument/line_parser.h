#pragma once

#include <memory>

#include "instrument/instrument_profile.h"
#include "instrument/line_framing.h"

namespace bq::inline instrument {

/// Reads lines by a profile: the built-in format "<value><blank?><unit>", or a user's pattern. The
/// whole line must match; anything else on it is noise and is reported, not guessed at. Numbers
/// have an optional sign, figures and at most one decimal point. Never throws on a line's content;
/// a pattern gets a bounded number of steps.
class LineParser {
 public:
  /// Refused: a pattern that cannot be read, is longer than 400 bytes, or has no group named
  /// "value".
  static Checked<LineParser> make(const InstrumentProfile& profile);
  LineParser(LineParser&&) noexcept;
  LineParser& operator=(LineParser&&) noexcept;
  LineParser(const LineParser&);
  LineParser& operator=(const LineParser&);
  ~LineParser();

  [[nodiscard]] InstrumentReading parse(const FramedLine& line) const;
  [[nodiscard]] const InstrumentProfile& profile() const { return profile_; }

 private:
  struct Pattern;
  explicit LineParser(const InstrumentProfile& profile);
  InstrumentProfile profile_;
  std::shared_ptr<const Pattern> pattern_;  ///< empty: the built-in format
};

/// The built-in format by itself.
InstrumentReading parse_plain_line(std::string_view text, const InstrumentProfile& profile);

}  // namespace bq::inline instrument
