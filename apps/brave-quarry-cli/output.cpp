#include "output.h"

#include <cctype>
#include <cmath>
#include <cstdio>
#include <ctime>
#include <ostream>

#include "commands.h"
#include "store/whole_file.h"

namespace {

/// Characters on the screen: UTF-8 code points.
std::size_t width(const std::string& text) {
  std::size_t count = 0;
  for (const char c : text) count += (static_cast<unsigned char>(c) & 0xc0) != 0x80;
  return count;
}

bool looks_numeric(const std::string& text) {
  return !text.empty() && (std::isdigit(static_cast<unsigned char>(text[0])) || text[0] == '-' ||
                           text[0] == '<' || text[0] == '>');
}

}  // namespace

void TextTable::print() const {
  std::vector<std::size_t> widths;
  std::vector<bool> numeric;
  for (std::size_t c = 0; c < heads_.size(); ++c) {
    widths.push_back(width(heads_[c]));
    bool numbers = !rows_.empty();
    for (const auto& row : rows_) {
      widths[c] = std::max(widths[c], width(row[c]));
      numbers = numbers && (row[c].empty() || looks_numeric(row[c]));
    }
    numeric.push_back(numbers);
  }
  const auto line = [&](const std::vector<std::string>& cells) {
    std::string text;
    for (std::size_t c = 0; c < cells.size(); ++c) {
      const std::string pad(widths[c] - width(cells[c]), ' ');
      text += numeric[c] ? pad + cells[c] : cells[c] + pad;
      if (c + 1 < cells.size()) text += "  ";
    }
    while (!text.empty() && text.back() == ' ') text.pop_back();
    std::printf("%s\n", text.c_str());
  };
  line(heads_);
  for (const auto& row : rows_) line(row);
}

void say(const std::string& sentence) { std::fprintf(stderr, "%s\n", sentence.c_str()); }

Json number_or_null(std::optional<double> value) {
  return value && std::isfinite(*value) ? Json(*value) : Json(nullptr);
}

namespace {

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  localtime_r(&now, &parts);
  char text[16];
  std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
  return text;
}

bool is_day(const std::string& text) {
  static constexpr std::string_view kShape = "dddd-dd-dd";
  if (text.size() != kShape.size()) return false;
  for (std::size_t i = 0; i < text.size(); ++i)
    if (kShape[i] == 'd' ? !std::isdigit(static_cast<unsigned char>(text[i]))
                         : text[i] != kShape[i])
      return false;
  return true;
}

}  // namespace

std::string day_or_today(const std::string& day) {
  const std::string out = day.empty() ? today() : day;
  if (!is_day(out)) throw CommandEnd(kUsage, "--date " + out + ": a day is written 2026-11-26");
  return out;
}

void print_json(const Json& json) { std::printf("%s\n", json.dump(1).c_str()); }

void write_whole(const std::string& target, const std::string& bytes) {
  bq::write_whole_file(target, bq::Existing::replaced, [&](std::ostream& out) { out << bytes; });
}
