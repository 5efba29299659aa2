#include "quantity/terminal.h"

#include <unistd.h>

#include <cstdio>

namespace bq::inline quantity {
namespace {

std::string utf8(unsigned code) {
  return {char(0xe0 | (code >> 12)), char(0x80 | ((code >> 6) & 0x3f)), char(0x80 | (code & 0x3f))};
}

std::string named(unsigned code) {
  char text[16];
  std::snprintf(text, sizeof text, "<U+%04X>", code);
  return text;
}

bool turns_direction(unsigned code) {
  return (code >= 0x202a && code <= 0x202e) || (code >= 0x2066 && code <= 0x2069) ||
         code == 0x200e || code == 0x200f;
}

/// Bytes that may be the begin of a C1 character or of a mark of direction, cut off by a buffer's
/// end.
std::size_t unfinished(std::string_view text) {
  if (!text.empty() && (text.back() == '\xc2' || text.back() == '\xe2')) return 1;
  if (text.size() > 1 && text[text.size() - 2] == '\xe2') return 2;
  return 0;
}

struct Guarded {
  int descriptor;
  std::string waiting;
};

ssize_t write_shown(void* cookie, const char* bytes, std::size_t size) {
  auto* out = static_cast<Guarded*>(cookie);
  std::string text = std::move(out->waiting);
  text.append(bytes, size);
  const std::size_t keep = unfinished(text);
  out->waiting = text.substr(text.size() - keep);
  text.resize(text.size() - keep);
  const std::string shown = shown_controls(text);
  for (std::size_t done = 0; done < shown.size();) {
    const ssize_t step = ::write(out->descriptor, shown.data() + done, shown.size() - done);
    if (step < 0) return 0;
    done += std::size_t(step);
  }
  return ssize_t(size);
}

void guard(FILE*& stream, Guarded& cookie, int buffering) {
  if (!isatty(cookie.descriptor)) return;
  FILE* shown = fopencookie(&cookie, "w", {nullptr, write_shown, nullptr, nullptr});
  if (!shown) return;
  std::fflush(stream);
  std::setvbuf(shown, nullptr, buffering, 4096);
  stream = shown;
}

}  // namespace

std::string shown_controls(std::string_view text) {
  std::string out;
  out.reserve(text.size());
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto byte = [&](std::size_t at) {
      return at < text.size() ? unsigned(static_cast<unsigned char>(text[at])) : 0U;
    };
    const unsigned c = byte(i);
    const unsigned three = ((c & 0x0f) << 12) | ((byte(i + 1) & 0x3f) << 6) | (byte(i + 2) & 0x3f);
    if ((c < 0x20 && c != '\n' && c != '\t') || c == 0x7f) {
      out += utf8(c == 0x7f ? 0x2421 : 0x2400 + c);
    } else if (c == 0xc2 && byte(i + 1) >= 0x80 && byte(i + 1) < 0xa0) {
      out += named(byte(++i));
    } else if (c == 0xe2 && turns_direction(three)) {
      out += named(three);
      i += 2;
    } else {
      out += char(c);
    }
  }
  return out;
}

void guard_terminal() {
  // Never taken down: streams are written to until the very end of the program.
  static auto& out = *new Guarded{STDOUT_FILENO, {}};
  static auto& error = *new Guarded{STDERR_FILENO, {}};
  guard(stdout, out, _IOLBF);
  guard(stderr, error, _IONBF);
}

}  // namespace bq::inline quantity
