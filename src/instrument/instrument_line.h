#pragma once

#include <functional>

#include "instrument/line_parser.h"

namespace bq::inline instrument {

/// From bytes to readings: framing and parsing of one instrument, with counts of what came. A keyed
/// reading goes through the same gate (see keyed()), so typing by hand, or a gauge that types like
/// a keyboard, is one more instrument.
class InstrumentLine {
 public:
  using Take = std::function<void(const InstrumentReading&)>;
  struct Counts {
    long good = 0, overload = 0, unstable = 0, garbage = 0;
    [[nodiscard]] long lines() const { return good + overload + unstable + garbage; }
  };

  explicit InstrumentLine(LineParser parser)
      : parser_(std::move(parser)), framer_(parser_.profile().ends_with_cr) {}
  void feed(std::string_view bytes, const Take& take);
  void begin() { framer_.begin(); }
  void quiet(const Take& take);
  [[nodiscard]] bool waiting() const { return framer_.waiting(); }
  [[nodiscard]] const Counts& counts() const { return counts_; }
  [[nodiscard]] const InstrumentProfile& profile() const { return parser_.profile(); }

 private:
  void pass(const FramedLine& line, const Take& take);
  LineParser parser_;
  LineFramer framer_;
  Counts counts_;
};

/// A reading typed by hand: a number with or without a unit (`bare` then). A comma may be the
/// decimal sign, as in every field of the program. Status ok or garbage with the reason.
InstrumentReading keyed(std::string_view text, Unit bare, std::optional<UnitKind> kind);

}  // namespace bq::inline instrument
