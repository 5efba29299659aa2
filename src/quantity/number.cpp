#include "quantity/number.h"

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstring>

#include "quantity/said.h"

namespace bq::inline quantity {
namespace {

bool is_blank(char c) { return c == ' ' || c == '\t'; }
bool is_digit(char c) { return c >= '0' && c <= '9'; }

/// The length of the leading run of characters that can belong to a number.
std::size_t number_length(std::string_view text) {
  std::size_t i = 0;
  if (i < text.size() && (text[i] == '+' || text[i] == '-')) ++i;
  while (i < text.size() && (is_digit(text[i]) || text[i] == '.' || text[i] == ',')) ++i;
  // An exponent counts only when digits follow, so that "5 e" or "2em" is not eaten.
  if (i < text.size() && (text[i] == 'e' || text[i] == 'E')) {
    std::size_t j = i + 1;
    if (j < text.size() && (text[j] == '+' || text[j] == '-')) ++j;
    if (j < text.size() && is_digit(text[j])) {
      while (j < text.size() && is_digit(text[j])) ++j;
      i = j;
    }
  }
  return i;
}

/// Why a comma cannot be told from a thousands mark, or empty.
bool comma_is_ambiguous(std::string_view digits) {
  const auto comma = digits.find(',');
  std::size_t start = (digits[0] == '+' || digits[0] == '-') ? 1 : 0;
  std::size_t after = 0;
  for (auto i = comma + 1; i < digits.size() && is_digit(digits[i]); ++i) ++after;
  const std::size_t before = comma - start;
  // "0,500" can only be a decimal; "1,500" and "120,500" could be thousands.
  return after == 3 && before >= 1 && before <= 3 && digits[start] != '0';
}

}  // namespace

Checked<NumberAndRest> parse_leading_number(std::string_view text, CommaRule comma) {
  std::size_t start = 0;
  while (start < text.size() && is_blank(text[start])) ++start;
  const std::string_view body = text.substr(start);
  if (body.empty()) return Refusal{said("there is no number"), start};
  const std::size_t length = number_length(body);
  std::string_view digits = body.substr(0, length);
  if (digits.find_first_of("0123456789") == std::string_view::npos)
    return Refusal{said("this is not a number"), start};

  char buffer[64];
  if (digits.size() >= sizeof buffer) return Refusal{said("the number has too many digits"), start};
  std::memcpy(buffer, digits.data(), digits.size());
  const auto commas = std::size_t(std::count(digits.begin(), digits.end(), ','));
  const auto points = std::size_t(std::count(digits.begin(), digits.end(), '.'));
  if (commas + points > 1)
    return Refusal{said("more than one decimal sign; write the number without thousands marks"),
                   start};
  if (commas == 1) {
    if (comma == CommaRule::never)
      return Refusal{said("write a point, not a comma, as decimal sign"), start};
    if (comma == CommaRule::refuse_ambiguous && comma_is_ambiguous(digits))
      return Refusal{
          said("the comma could mean thousands or decimals; write it with a point or without"),
          start};
    buffer[digits.find(',')] = '.';
  }
  const char* first = buffer[0] == '+' ? buffer + 1 : buffer;
  double value = 0;
  const auto [end, error] = std::from_chars(first, buffer + digits.size(), value);
  if (error == std::errc::result_out_of_range || !std::isfinite(value))
    return Refusal{said("the number is out of range"), start};
  if (error != std::errc() || end != buffer + digits.size())
    return Refusal{said("this is not a number"), start};

  std::size_t rest = start + length;
  while (rest < text.size() && is_blank(text[rest])) ++rest;
  std::size_t stop = text.size();
  while (stop > rest && is_blank(text[stop - 1])) --stop;
  return NumberAndRest{value, text.substr(rest, stop - rest), rest};
}

Checked<double> parse_number(std::string_view text, CommaRule comma) {
  auto leading = parse_leading_number(text, comma);
  if (!leading) return leading.refusal();
  if (!leading->rest.empty()) {
    if (is_digit(leading->rest[0]))
      return Refusal{said("there is a blank inside the number"), leading->rest_place};
    return Refusal{said("this is not a number"), leading->rest_place};
  }
  return leading->number;
}

Checked<std::vector<std::string>> split_list(std::string_view text) {
  const char sign = text.find(';') != std::string_view::npos ? ';' : ',';
  if (sign == ',')
    for (std::size_t start = 0; start < text.size();) {
      const std::size_t stop = std::min(text.find_first_of(" \t", start), text.size());
      std::string_view word = text.substr(start, stop - start);
      if (!word.empty() && word.back() == ',') word.remove_suffix(1);
      const auto number = parse_leading_number(word, CommaRule::decimal);
      if (word.find(',') != std::string_view::npos && number &&
          number->rest_place >= word.find(','))
        return Refusal{
            said("\"{word}\" could be one number or two; put semicolons between the numbers",
                 {{"word", std::string(word)}}),
            start};
      start = stop + 1;
    }
  std::vector<std::string> parts;
  for (std::size_t start = 0; start <= text.size();) {
    const std::size_t stop = std::min(text.find(sign, start), text.size());
    std::string_view part = text.substr(start, stop - start);
    while (!part.empty() && is_blank(part.front())) part.remove_prefix(1);
    while (!part.empty() && is_blank(part.back())) part.remove_suffix(1);
    if (!part.empty()) parts.emplace_back(part);
    start = stop + 1;
  }
  return parts;
}

std::string print_number(double value, int digits) {
  if (value == 0 || !std::isfinite(value)) return std::isfinite(value) ? "0" : "–";
  char buffer[64];
  const int exponent = int(std::floor(std::log10(std::fabs(value))));
  if (exponent < -4 || exponent > 14) {
    std::snprintf(buffer, sizeof buffer, "%.*g", digits, value);
    return buffer;
  }
  const int decimals = digits - 1 - exponent;
  if (decimals < 0) {
    const double step = std::pow(10.0, -decimals);
    std::snprintf(buffer, sizeof buffer, "%.0f", std::round(value / step) * step);
    return buffer;
  }
  std::snprintf(buffer, sizeof buffer, "%.*f", decimals, value);
  std::string text = buffer;
  if (text.find('.') != std::string::npos) {
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
  }
  return text;
}

std::string print_fixed(double value, int decimals) {
  char buffer[64];
  std::snprintf(buffer, sizeof buffer, "%.*f", decimals, value);
  return buffer;
}

double round_below(double value) {
  const double base = std::pow(10.0, std::floor(std::log10(value)));
  return value >= 5 * base ? 5 * base : value >= 2 * base ? 2 * base : base;
}

std::string with_minus_signs(const std::string& text) {
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const bool figure =
        i + 1 < text.size() &&
        (std::isdigit(static_cast<unsigned char>(text[i + 1])) || text[i + 1] == '.');
    const bool starts = i == 0 || text[i - 1] == ' ' || text[i - 1] == '(';
    if (text[i] == '-' && figure && starts)
      out += "−";
    else
      out += text[i];
  }
  return out;
}

}  // namespace bq::inline quantity
