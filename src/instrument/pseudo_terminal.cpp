#include "instrument/pseudo_terminal.h"

#include <fcntl.h>
#include <poll.h>
#include <stdlib.h>
#include <termios.h>
#include <unistd.h>

#include <array>
#include <cerrno>
#include <stdexcept>
#include <thread>

namespace bq::inline instrument {
namespace fs = std::filesystem;

PseudoTerminal::PseudoTerminal(fs::path link) : link_(std::move(link)) { make(); }
PseudoTerminal::~PseudoTerminal() { shut(); }

void PseudoTerminal::make() {
  device_ = posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
  if (device_ < 0 || grantpt(device_) != 0 || unlockpt(device_) != 0)
    throw std::runtime_error("No pseudo-terminal could be made.");
  std::array<char, 128> name{};
  if (ptsname_r(device_, name.data(), name.size()) != 0)
    throw std::runtime_error("The pseudo-terminal has no name.");
  // Held open here too, so that the device stays when a program closes its end.
  port_ = open(name.data(), O_RDWR | O_NOCTTY | O_CLOEXEC);
  if (port_ < 0) throw std::runtime_error("The pseudo-terminal cannot be opened.");
  termios line{};
  tcgetattr(port_, &line);
  cfmakeraw(&line);
  tcsetattr(port_, TCSANOW, &line);
  std::error_code error;
  if (fs::is_symlink(link_, error)) fs::remove(link_, error);
  fs::create_symlink(name.data(), link_, error);
  if (error)
    throw std::runtime_error("The link \"" + link_.string() +
                             "\" cannot be made: " + error.message() + ".");
}

void PseudoTerminal::shut() {
  std::error_code ignored;
  if (fs::is_symlink(link_, ignored)) fs::remove(link_, ignored);
  if (port_ >= 0) close(port_);
  if (device_ >= 0) close(device_);
  port_ = device_ = -1;
}

void PseudoTerminal::reconnect(int away_ms) {
  shut();
  unsent_.clear();
  std::this_thread::sleep_for(std::chrono::milliseconds(away_ms));
  make();
}

std::string PseudoTerminal::read(int wait_ms) {
  pollfd wait{device_, POLLIN, 0};
  if (poll(&wait, 1, wait_ms) <= 0) return {};
  std::array<char, 512> bytes{};
  const ssize_t got = ::read(device_, bytes.data(), bytes.size());
  return got > 0 ? std::string(bytes.data(), std::size_t(got)) : std::string();
}

void PseudoTerminal::write(std::string_view bytes) {
  unsent_.append(bytes);
  while (!unsent_.empty()) {
    const ssize_t sent = ::write(device_, unsent_.data(), unsent_.size());
    if (sent <= 0) return;  // full: nobody reads
    unsent_.erase(0, std::size_t(sent));
  }
}

}  // namespace bq::inline instrument
