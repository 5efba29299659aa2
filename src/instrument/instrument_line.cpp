#include "instrument/instrument_line.h"

#include "quantity/said.h"

namespace bq::inline instrument {

void InstrumentLine::pass(const FramedLine& line, const Take& take) {
  const InstrumentReading reading = parser_.parse(line);
  switch (reading.status) {
    case ReadingStatus::ok:
      ++counts_.good;
      break;
    case ReadingStatus::overload:
      ++counts_.overload;
      break;
    case ReadingStatus::unstable:
      ++counts_.unstable;
      break;
    case ReadingStatus::garbage:
      ++counts_.garbage;
      break;
  }
  take(reading);
}

void InstrumentLine::feed(std::string_view bytes, const Take& take) {
  framer_.feed(bytes, [&](const FramedLine& line) { pass(line, take); });
}

void InstrumentLine::quiet(const Take& take) {
  framer_.quiet([&](const FramedLine& line) { pass(line, take); });
}

InstrumentReading keyed(std::string_view text, Unit bare, std::optional<UnitKind> kind) {
  InstrumentReading out;
  out.raw = text.substr(0, LineFramer::kLongest);
  out.unit = {bare};
  const auto measure = parse_measure(text, kind, bare);
  if (!measure) {
    out.why = measure.refusal().reason;
    return out;
  }
  out.value = measure->value;
  out.unit = {measure->unit};
  if (!(out.value > 0))
    out.why = said("a reading must be above zero");
  else if (measure->unit == Unit::um || measure->unit == Unit::thou)
    out.why = said("readings are in gf, N, lbf, ozf, mm or in");
  else
    out.status = ReadingStatus::ok;
  return out;
}

}  // namespace bq::inline instrument
