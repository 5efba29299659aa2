// A user's pattern and a line: the pattern is refused or ends in a bounded number of steps; what it
// takes is a number.
#include <cmath>
#include <cstdlib>

#include "instrument/line_parser.h"

using namespace bq;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view all(reinterpret_cast<const char*>(data), size);
  const std::size_t cut = all.find('\n');
  InstrumentProfile profile = usual_profile(InstrumentRole::gauge);
  profile.pattern = all.substr(0, cut);
  profile.overload_text = "OL";
  profile.unstable_text = "US";
  const auto parser = LineParser::make(profile);
  if (!parser) {
    if (parser.refusal().reason.empty()) std::abort();
    return 0;
  }
  const std::string_view line = cut == std::string_view::npos
                                    ? std::string_view("312 gf")
                                    : all.substr(cut + 1, LineFramer::kLongest);
  const auto reading = parser->parse({line, true, {}});
  if (reading.status == ReadingStatus::ok &&
      (!std::isfinite(reading.value) || !(reading.resolution > 0)))
    std::abort();
  return 0;
}
