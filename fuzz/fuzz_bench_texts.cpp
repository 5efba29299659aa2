// Texts of the bench as a project may hold them: refused with a reason, or taken and written back
// to the same.
#include <array>
#include <cstdlib>

#include "store/bench_json.h"

using namespace bq;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 1) return 0;
  const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
  static constexpr std::array<const char*, 11> kKinds{
      "prepared",  "gate", "cleaned", "cut",          "look",  "rest",
      "deviation", "stop", "go on",   "check weight", "stroke"};
  const int which = data[0] % 16;
  if (which < 11) {
    if (const auto event = parse_bench_event(kKinds[std::size_t(which)], text)) {
      const auto again = parse_bench_event(kKinds[std::size_t(which)], bench_event_json(*event));
      if (!again || describe(*again) != describe(*event)) std::abort();
    }
  } else if (which == 11 || which == 12) {
    const char* kind = which == 11 ? "damage search" : "steadiness";
    if (const auto session = parse_bench_session(kind, text);
        session && !parse_bench_session(kind, bench_session_json(*session)))
      std::abort();
  } else if (which == 13) {
    if (const auto protocol = parse_protocol(text);
        protocol && !(*parse_protocol(protocol_json(*protocol)) == *protocol))
      std::abort();
  } else if (which == 14) {
    if (const auto profiles = parse_instruments(text);
        profiles && !(*parse_instruments(instruments_json(*profiles)) == *profiles))
      std::abort();
  } else {
    for (const std::size_t count : {std::size_t(0), std::size_t(5), std::size_t(300)})
      if (const auto samples = unpack_samples(text, 0.01, count);
          samples && samples->size() != count)
        std::abort();
  }
  return 0;
}
