// Bytes of an instrument, cut anywhere: framing and the built-in format. What is taken is a finite
// number with a unit of the right kind.
#include <cmath>
#include <cstdlib>

#include "instrument/instrument_line.h"

using namespace bq;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 2) return 0;
  InstrumentProfile profile = usual_profile(InstrumentRole(data[0] % kInstrumentRoles));
  profile.ends_with_cr = data[0] & 0x80;
  const std::size_t step = 1 + data[1] % 64;
  InstrumentLine line(*LineParser::make(profile));
  long taken = 0;
  const auto take = [&](const InstrumentReading& r) {
    ++taken;
    if (r.raw.size() > LineFramer::kLongest) std::abort();
    if (r.status == ReadingStatus::garbage) {
      if (r.why.empty()) std::abort();
      return;
    }
    if (!std::isfinite(r.value) || !(r.resolution > 0) ||
        r.unit.quantity() != profile.unit.quantity())
      std::abort();
  };
  for (std::size_t at = 2; at < size; at += step) {
    line.feed({reinterpret_cast<const char*>(data) + at, std::min(step, size - at)}, take);
    if (data[at] == 0xfe) line.quiet(take);
    if (data[at] == 0xfd) line.begin();
  }
  line.quiet(take);
  if (line.counts().lines() != taken || line.waiting()) std::abort();
  return 0;
}
