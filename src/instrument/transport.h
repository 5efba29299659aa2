#pragma once

#include <functional>
#include <string>
#include <string_view>

namespace bq::inline instrument {

/// A line of bytes to an instrument: a serial port, a pseudo-terminal, a test's own. Comes back by
/// itself after a loss, until close() is called.
class Transport {
 public:
  enum class State { closed, open, lost };
  virtual ~Transport() = default;
  virtual void open() = 0;
  virtual void close() = 0;
  /// False: not open, nothing was sent.
  virtual bool write(std::string_view bytes) = 0;
  [[nodiscard]] virtual State state() const = 0;

  std::function<void(std::string_view)> on_bytes;
  /// After every change of state; `why` in words where it was lost or could not be opened.
  std::function<void(State, const std::string& why)> on_state;
};

}  // namespace bq::inline instrument
