#define PCRE2_CODE_UNIT_WIDTH 8
#include "instrument/line_parser.h"

#include <pcre2.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline instrument {
namespace {

constexpr std::size_t kLongestPattern = 400;
constexpr std::uint32_t kMostSteps = 20000;

/// "+12.50": sign, figures, at most one point; no exponent, no words. Sets the size of one step of
/// its last figure.
std::optional<double> plain_number(std::string_view text, double& step) {
  if (text.starts_with('+')) {
    text.remove_prefix(1);
    if (text.starts_with('-')) return std::nullopt;
  }
  const std::string_view figures = text.starts_with('-') ? text.substr(1) : text;
  const std::size_t point = figures.find('.');
  const auto is_figure = [](char c) { return c >= '0' && c <= '9'; };
  std::size_t count = 0;
  for (std::size_t i = 0; i < figures.size(); ++i) {
    if (i == point) continue;
    if (!is_figure(figures[i])) return std::nullopt;
    ++count;
  }
  if (count == 0 || count > 15) return std::nullopt;
  double value = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
  // A point at the end ("12.") is taken whole by from_chars too.
  if (error != std::errc() || end != text.data() + text.size()) return std::nullopt;
  step = point == std::string_view::npos ? 1 : std::pow(10.0, -double(figures.size() - point - 1));
  return value;
}

std::string_view trimmed(std::string_view text) {
  const auto blank = [](char c) { return c == ' ' || c == '\t'; };
  while (!text.empty() && blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && blank(text.back())) text.remove_suffix(1);
  return text;
}

InstrumentReading garbage(std::string_view raw, std::string why) {
  InstrumentReading out;
  out.raw = raw.substr(0, LineFramer::kLongest);
  out.why = std::move(why);
  return out;
}

/// Number and unit of a line put together; `unit` empty: the profile's.
InstrumentReading understood(std::string_view raw, std::string_view number, std::string_view unit,
                             const InstrumentProfile& profile) {
  double step = 1;
  const auto value = plain_number(number, step);
  if (!value) return garbage(raw, said("no plain number"));
  InstrumentReading out;
  out.raw = raw;
  out.value = *value;
  out.unit = profile.unit;
  if (!unit.empty()) {
    const auto sign = parse_instrument_unit(unit);
    if (!sign) return garbage(raw, sign.refusal().reason);
    if (sign->quantity() != profile.unit.quantity())
      return garbage(raw, said("it is in {sign}, the instrument is set up for {unit}",
                               {{"sign", std::string(sign_of(*sign))},
                                {"unit", std::string(sign_of(profile.unit))}}));
    out.unit = *sign;
  }
  const double scale = out.unit == profile.unit || !out.unit.unit
                           ? 1
                           : convert(1, *out.unit.unit, *profile.unit.unit);
  out.resolution = profile.resolution && out.unit == profile.unit ? *profile.resolution : step;
  out.status = ReadingStatus::ok;
  if (profile.capacity && std::fabs(out.value * scale) >= *profile.capacity) {
    out.status = ReadingStatus::overload;
    out.why = said("at or beyond the capacity of {capacity} {unit}",
                   {{"capacity", print_number(*profile.capacity)},
                    {"unit", std::string(sign_of(profile.unit))}});
  }
  return out;
}

}  // namespace

InstrumentQuantity InstrumentUnit::quantity() const {
  if (!unit) return InstrumentQuantity::angle;
  return kind_of(*unit) == UnitKind::force ? InstrumentQuantity::force : InstrumentQuantity::length;
}

std::string_view sign_of(const InstrumentUnit& unit) {
  return unit.unit ? sign_of(*unit.unit) : "deg";
}

Checked<InstrumentUnit> parse_instrument_unit(std::string_view text) {
  if (text == "deg" || text == "°" || text == "\xb0") return kDegrees;
  const auto unit = parse_unit(text);
  if (!unit) return unit.refusal();
  return InstrumentUnit{*unit};
}

std::string_view name_of(ReadingStatus status) {
  switch (status) {
    case ReadingStatus::ok:
      return "ok";
    case ReadingStatus::overload:
      return "overload";
    case ReadingStatus::unstable:
      return "unstable";
    case ReadingStatus::garbage:
      break;
  }
  return "garbage";
}

std::string_view name_of(InstrumentRole role) {
  switch (role) {
    case InstrumentRole::gauge:
      return "gauge";
    case InstrumentRole::force_cell:
      return "force cell";
    case InstrumentRole::angle:
      break;
  }
  return "angle gauge";
}

std::optional<InstrumentRole> parse_instrument_role(std::string_view text) {
  for (const auto role : {InstrumentRole::gauge, InstrumentRole::force_cell, InstrumentRole::angle})
    if (text == name_of(role)) return role;
  return std::nullopt;
}

InstrumentProfile usual_profile(InstrumentRole role) {
  InstrumentProfile out;
  out.role = role;
  switch (role) {
    case InstrumentRole::gauge:
      out.name = said("sharpness gauge");
      out.request = "READ";
      out.capacity = 3000;
      break;
    case InstrumentRole::force_cell:
      out.name = said("force cell");
      out.baud = 115200;
      out.unit = {Unit::N};
      out.rate_hz = 1000;
      out.capacity = 200;
      break;
    case InstrumentRole::angle:
      out.name = said("angle gauge");
      out.baud = 115200;
      out.unit = kDegrees;
      out.rate_hz = 50;
      break;
  }
  return out;
}

std::string fault_of(const InstrumentProfile& profile) {
  if (trimmed(profile.name).empty()) return said("An instrument needs a name.");
  if (std::none_of(std::begin(kBauds), std::end(kBauds),
                   [&](int baud) { return baud == profile.baud; }))
    return said("The line speed is one of 9600, 19200, 38400, 57600 and 115200.");
  if (profile.capacity && !(*profile.capacity > 0)) return said("The capacity must be above 0.");
  if (profile.resolution && !(*profile.resolution > 0))
    return said("The resolution must be above 0.");
  if (!(profile.rate_hz >= 0 && profile.rate_hz <= 5000))
    return said("The rate lies between 0 and 5000 lines a second.");
  const InstrumentQuantity quantity = profile.unit.quantity();
  if (profile.role == InstrumentRole::gauge && quantity == InstrumentQuantity::angle)
    return said("A sharpness gauge reads a force or a length, not degrees.");
  if (profile.role == InstrumentRole::force_cell && quantity != InstrumentQuantity::force)
    return said("A force cell reads a force: gf, N, lbf or ozf.");
  if (profile.role == InstrumentRole::angle && quantity != InstrumentQuantity::angle)
    return said("An angle gauge reads degrees (deg).");
  if (const auto parser = LineParser::make(profile); !parser) return parser.refusal().reason;
  return "";
}

struct LineParser::Pattern {
  pcre2_code* code = nullptr;
  pcre2_match_context* context = nullptr;
  Pattern() = default;
  Pattern(const Pattern&) = delete;
  Pattern& operator=(const Pattern&) = delete;
  ~Pattern() {
    pcre2_match_context_free(context);
    pcre2_code_free(code);
  }
  /// The text of a named group; empty when it took no part.
  [[nodiscard]] std::string_view group(pcre2_match_data* data, const char* name,
                                       std::string_view subject) const {
    PCRE2_SPTR first = nullptr, last = nullptr;
    const int width =
        pcre2_substring_nametable_scan(code, reinterpret_cast<PCRE2_SPTR>(name), &first, &last);
    if (width < 0) return {};
    const PCRE2_SIZE* places = pcre2_get_ovector_pointer(data);
    for (PCRE2_SPTR entry = first; entry <= last; entry += width) {
      const std::size_t index = std::size_t(entry[0]) << 8 | entry[1];
      const auto from = places[2 * index], to = places[2 * index + 1];
      if (from != PCRE2_UNSET && to != PCRE2_UNSET && from <= to)
        return subject.substr(from, to - from);
    }
    return {};
  }
};

LineParser::LineParser(const InstrumentProfile& profile) : profile_(profile) {}
LineParser::LineParser(LineParser&&) noexcept = default;
LineParser& LineParser::operator=(LineParser&&) noexcept = default;
LineParser::LineParser(const LineParser&) = default;
LineParser& LineParser::operator=(const LineParser&) = default;
LineParser::~LineParser() = default;

Checked<LineParser> LineParser::make(const InstrumentProfile& profile) {
  LineParser out(profile);
  if (profile.pattern.empty()) return out;
  if (profile.pattern.size() > kLongestPattern)
    return Refusal{said("The pattern is longer than 400 letters."), kLongestPattern};
  auto pattern = std::make_shared<Pattern>();
  int error = 0;
  PCRE2_SIZE place = 0;
  pcre2_compile_context* context = pcre2_compile_context_create(nullptr);
  pcre2_set_parens_nest_limit(context, 30);
  pattern->code =
      pcre2_compile(reinterpret_cast<PCRE2_SPTR>(profile.pattern.data()), profile.pattern.size(),
                    PCRE2_ANCHORED | PCRE2_ENDANCHORED | PCRE2_NEVER_UTF | PCRE2_NEVER_BACKSLASH_C,
                    &error, &place, context);
  pcre2_compile_context_free(context);
  if (!pattern->code) {
    PCRE2_UCHAR words[160];
    pcre2_get_error_message(error, words, sizeof words);
    return Refusal{said("The pattern cannot be read at letter {place}: {char}.",
                        {{"place", std::to_string(place + 1)},
                         {"char", reinterpret_cast<const char*>(words)}}),
                   place};
  }
  if (pcre2_substring_number_from_name(pattern->code, reinterpret_cast<PCRE2_SPTR>("value")) ==
      PCRE2_ERROR_NOSUBSTRING)
    return Refusal{
        said("The pattern has no group named value: write (?<value>…) around the number.")};
  pattern->context = pcre2_match_context_create(nullptr);
  pcre2_set_match_limit(pattern->context, kMostSteps);
  pcre2_set_depth_limit(pattern->context, 1000);
  pcre2_set_heap_limit(pattern->context, 512);  // KiB
  out.pattern_ = std::move(pattern);
  return out;
}

InstrumentReading parse_plain_line(std::string_view raw, const InstrumentProfile& profile) {
  const std::string_view text = trimmed(raw);
  // The number ends where its letters do.
  const std::size_t end = std::min(text.find_first_not_of("+-.0123456789"), text.size());
  if (end == 0) return garbage(raw, said("no number"));
  std::string_view unit = text.substr(end);
  // One blank at most between number and unit.
  if (unit.starts_with(' ')) unit.remove_prefix(1);
  if (unit.empty()) return garbage(raw, said("no unit"));
  return understood(raw, text.substr(0, end), unit, profile);
}

InstrumentReading LineParser::parse(const FramedLine& line) const {
  if (!line.whole) return garbage(line.text, std::string(line.why));
  for (const char c : line.text)
    if ((c >= 0 && c < ' ' && c != '\t') || c == 0x7f)
      return garbage(line.text, said("bytes that are no text"));
  if (!pattern_) return parse_plain_line(line.text, profile_);
  struct Match {
    pcre2_match_data* data;
    explicit Match(const pcre2_code* code)
        : data(pcre2_match_data_create_from_pattern(code, nullptr)) {}
    Match(const Match&) = delete;
    Match& operator=(const Match&) = delete;
    ~Match() { pcre2_match_data_free(data); }
  } match(pattern_->code);
  const int found = pcre2_match(pattern_->code, reinterpret_cast<PCRE2_SPTR>(line.text.data()),
                                line.text.size(), 0, 0, match.data, pattern_->context);
  if (found == PCRE2_ERROR_NOMATCH) return garbage(line.text, said("it does not fit the pattern"));
  if (found < 0) return garbage(line.text, said("the pattern takes too many steps on this line"));
  const std::string_view flag = pattern_->group(match.data, "flag", line.text);
  const bool says_overload = !profile_.overload_text.empty() && flag == profile_.overload_text;
  InstrumentReading out =
      understood(line.text, trimmed(pattern_->group(match.data, "value", line.text)),
                 trimmed(pattern_->group(match.data, "unit", line.text)), profile_);
  if (says_overload) {
    out.raw = line.text;
    out.status = ReadingStatus::overload;
    out.why = said("the instrument says overload");
  } else if (out.status == ReadingStatus::ok && !profile_.unstable_text.empty() &&
             flag == profile_.unstable_text) {
    out.status = ReadingStatus::unstable;
    out.why = said("the instrument had not settled");
  }
  return out;
}

}  // namespace bq::inline instrument
