#pragma once

#include <filesystem>
#include <string>
#include <string_view>

namespace bq::inline instrument {

/// The device's end of a pseudo-terminal, linked at a path where a program finds it as if it were a
/// serial port.
class PseudoTerminal {
 public:
  /// Throws std::runtime_error with a sentence when there is none to be had or the link cannot be
  /// made. An old link is replaced; anything else at that path is not.
  explicit PseudoTerminal(std::filesystem::path link);
  ~PseudoTerminal();
  PseudoTerminal(const PseudoTerminal&) = delete;
  PseudoTerminal& operator=(const PseudoTerminal&) = delete;

  /// Waits up to `wait_ms` for bytes; "" when none came.
  std::string read(int wait_ms);
  /// Sends what fits; the rest is held and sent with the next call (a device does not wait for its
  /// reader).
  void write(std::string_view bytes);
  /// Breaks the connection and makes a new one at the same link.
  void reconnect(int away_ms);

 private:
  void make();
  void shut();
  std::filesystem::path link_;
  int device_ = -1, port_ = -1;
  std::string unsent_;
};

}  // namespace bq::inline instrument
