#pragma once

#include <functional>
#include <string>
#include <string_view>

namespace bq::inline instrument {

/// A line as it was cut out of the stream of bytes.
struct FramedLine {
  std::string_view text;  ///< without its end; a view that lasts for the call
  bool whole = true;      ///< false: its start may be missing, or it was too long and has been cut
  std::string_view why;   ///< of not whole, in words
};

/// Cuts a stream of bytes into lines that end in "\n" or "\r\n" (or "\r" alone, where asked for).
/// Resynchronises by itself: after an overlong line, a break of the connection or noise, the next
/// line end starts afresh. A line whose beginning was not seen is handed on as not whole and never
/// as a reading: "12 gf" may be the tail of "312 gf".
class LineFramer {
 public:
  using Take = std::function<void(const FramedLine&)>;
  static constexpr std::size_t kLongest =
      120;  ///< bytes without the end; no gauge's line is longer

  explicit LineFramer(bool ends_with_cr = false) : end_(ends_with_cr ? '\r' : '\n') {}
  /// Any number of bytes, cut anywhere.
  void feed(std::string_view bytes, const Take& take);
  /// The connection has just been made: what comes first may be the tail of a line.
  void begin();
  /// Nothing has come for longer than a line takes to be sent: an unfinished line will not be
  /// finished (handed on as not whole), and the next byte starts a line.
  void quiet(const Take& take);
  [[nodiscard]] bool waiting() const { return !held_.empty() || skipping_; }

 private:
  char end_;
  std::string held_;
  bool unsure_ = true;     ///< the present line's start may be missing
  bool skipping_ = false;  ///< inside an overlong line
};

}  // namespace bq::inline instrument
