#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "instrument/instrument_profile.h"
#include "rehearsal/virtual_edge.h"

namespace bq::inline instrument {

/// A device that is not there: what it sends, without any port. `now_s` counts from when it was
/// switched on.
class StandIn {
 public:
  virtual ~StandIn() = default;
  /// A line that was sent to it (without its end); returns what it answers, line ends included.
  virtual std::string answer(std::string_view line, double now_s) = 0;
  /// What it sends by itself up to now.
  virtual std::string advance(double now_s) = 0;
  /// What lies before it; without one a plain edge of its own.
  void put(const VirtualEdge& edge) {
    const VirtualEdge before = edge_;
    edge_ = edge;
    if (edge.run != before.run || edge.cuts != before.cuts || edge.sharpened != before.sharpened ||
        edge.check_weight != before.check_weight)
      changed(before);
  }

 protected:
  virtual void changed(const VirtualEdge& before) { (void)before; }
  VirtualEdge edge_;
};

/// Answers READ with one reading "312 gf". The force cell streams 1000 lines a second while a
/// stroke lasts, which begins on STROKE (and by itself with every change of the state's cuts); the
/// angle gauge streams 50 lines a second of a hand that strokes, its zero drifting until ZERO.
std::unique_ptr<StandIn> make_stand_in(InstrumentRole role, std::uint64_t seed);

/// What goes wrong on a line.
enum class LineFault { none, drop, garbage, stall, disconnect };
std::optional<LineFault> parse_line_fault(std::string_view text);

/// Puts faults into what a device sends, by seed. `drop` loses the rest of a line with its end, or
/// a whole line; `garbage` puts in lines of noise, bytes that are no text, overlong lines, cut and
/// doubled ones; `stall` holds everything back for a while; `disconnect` asks the caller to break
/// the connection.
class FaultyLine {
 public:
  FaultyLine(LineFault fault, std::uint64_t seed, double share = 0.05)
      : fault_(fault), random_(seed, 77), share_(share) {}
  struct Out {
    std::string bytes;
    bool disconnect = false;
  };
  Out pass(std::string_view bytes, double now_s);

 private:
  LineFault fault_;
  stats::Random random_;
  double share_;
  double stalled_until_ = -1;
  std::string held_;
};

}  // namespace bq::inline instrument
