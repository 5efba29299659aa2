#include "store/number_column.h"

#include <algorithm>

#include "quantity/number.h"
#include "store/readings_columns.h"

namespace bq::inline store {
namespace {

bool is_digit(char c) { return c >= '0' && c <= '9'; }

/// Length of a blank that groups figures (blank, no-break, thin, narrow), or of an apostrophe.
std::size_t group_length(std::string_view text) {
  for (const std::string_view sign : {" ", "'", "\u00a0", "\u2009", "\u202f", "’"})
    if (text.starts_with(sign)) return sign.size();
  return 0;
}

}  // namespace

std::optional<NumberCell> number_cell(std::string_view cell) {
  NumberCell out;
  std::string_view text = trimmed(cell);
  for (const std::string_view sign : {">", "<", "≥", "≤", "~>"})
    if (text.starts_with(sign)) {
      out.beyond = true;
      text = trimmed(text.substr(sign.size()));
      if (text.starts_with('=')) text = trimmed(text.substr(1));
      break;
    }
  if (text.starts_with("\u2212")) {
    text = text.substr(3);
    out.number = "-";
  } else if (text.starts_with('-') || text.starts_with('+')) {
    if (text[0] == '-') out.number = "-";
    text = text.substr(1);
  }
  if (text.empty() || !(is_digit(text[0]) || ((text[0] == '.' || text[0] == ',') &&
                                              text.size() > 1 && is_digit(text[1]))))
    return std::nullopt;
  std::size_t i = 0;
  while (i < text.size()) {
    if (is_digit(text[i]) ||
        ((text[i] == '.' || text[i] == ',') && i + 1 < text.size() && is_digit(text[i + 1]))) {
      out.number += text[i++];
      continue;
    }
    // A blank or an apostrophe groups only where three figures follow and no fourth.
    const std::size_t group = group_length(text.substr(i));
    const std::string_view after = group ? text.substr(i + group) : std::string_view();
    if (group && after.size() >= 3 && is_digit(after[0]) && is_digit(after[1]) &&
        is_digit(after[2]) && (after.size() == 3 || !is_digit(after[3]))) {
      out.number += after.substr(0, 3);
      i += group + 3;
      continue;
    }
    break;
  }
  if (i < text.size() && (text[i] == 'e' || text[i] == 'E')) {
    std::size_t end = i + 1;
    if (end < text.size() && (text[end] == '-' || text[end] == '+')) ++end;
    const std::size_t digits = end;
    while (end < text.size() && is_digit(text[end])) ++end;
    if (end > digits) {
      out.number += text.substr(i, end - i);
      i = end;
    }
  }
  out.rest = std::string(trimmed(text.substr(i)));
  return out;
}

DecimalSign decimal_sign_of(const std::vector<std::string>& numbers) {
  bool point = false, comma = false;  // surely decimal somewhere
  DecimalSign out;
  for (const auto& number : numbers) {
    const auto points = std::count(number.begin(), number.end(), '.'),
               commas = std::count(number.begin(), number.end(), ',');
    if (points + commas == 0) continue;
    if (points && commas) {
      (number.rfind('.') > number.rfind(',') ? point : comma) = true;
      continue;
    }
    if (points > 1) {
      comma = true;  // points group
      continue;
    }
    if (commas > 1) {
      point = true;
      continue;
    }
    const std::size_t at = number.find_first_of(".,");
    const std::size_t before = at - (number[0] == '-' ? 1 : 0);
    const std::size_t after = number.find_first_of("eE") == std::string::npos
                                  ? number.size() - at - 1
                                  : number.find_first_of("eE") - at - 1;
    const bool groups =
        after == 3 && before >= 1 && before <= 3 && number[number[0] == '-' ? 1 : 0] != '0';
    if (!groups) {
      (points ? point : comma) = true;
    } else {
      out.ambiguous = true;
      if (out.example.empty()) out.example = number;
    }
  }
  out.contradicts = point && comma;
  out.sign = point && !comma ? '.' : comma && !point ? ',' : '\0';
  return out;
}

std::optional<double> number_by(std::string_view number, char decimal) {
  std::string text;
  const char group = decimal == ',' ? '.' : ',';
  const std::size_t end = std::min(number.find(decimal), number.size());
  for (std::size_t i = 0; i < number.size(); ++i) {
    const char c = number[i];
    if (c == group) {
      // Thousands stand in threes, before the decimal sign.
      const std::size_t next = std::min(number.find(group, i + 1), end);
      if (i > end || next != i + 4) return std::nullopt;
      continue;
    }
    text += c == decimal ? '.' : c;
  }
  const auto value = parse_number(text, CommaRule::never);
  return value ? std::optional(*value) : std::nullopt;
}

}  // namespace bq::inline store
