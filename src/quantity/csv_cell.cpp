#include "quantity/csv_cell.h"

#include "quantity/number.h"

namespace bq::inline quantity {
namespace {

bool runs(char first) { return first == '=' || first == '+' || first == '-' || first == '@'; }

bool wants_guard(std::string_view text) {
  if (text.empty()) return false;
  if (text[0] == '\'') {
    while (!text.empty() && text[0] == '\'') text.remove_prefix(1);
    return !text.empty() && runs(text[0]);
  }
  return runs(text[0]) && !parse_number(text, CommaRule::never);
}

}  // namespace

std::string csv_cell(std::string_view text) {
  std::string guarded = wants_guard(text) ? "'" : "";
  guarded += text;
  if (guarded.find_first_of(",;\t\"\r\n") == std::string::npos &&
      (guarded.empty() || (guarded.front() != ' ' && guarded.back() != ' ')))
    return guarded;
  std::string out = "\"";
  for (const char c : guarded) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

std::string_view unguarded(std::string_view cell) {
  if (cell.size() < 2 || cell[0] != '\'') return cell;
  std::size_t at = 0;
  while (at < cell.size() && cell[at] == '\'') ++at;
  return at < cell.size() && runs(cell[at]) ? cell.substr(1) : cell;
}

}  // namespace bq::inline quantity
