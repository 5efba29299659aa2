#include <cctype>
#include <charconv>
#include <cmath>
#include <optional>

#include "edge/edge_outline.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr int kCurveSteps = 16;
constexpr std::size_t kMostPoints = 5000;

/// Path data read from left to right.
class PathReader {
 public:
  PathReader(std::string_view text, std::size_t offset) : text_(text), offset_(offset) {}

  Checked<std::vector<OutlinePoint>> read() {
    char command = 0;
    while (skip(), place_ < text_.size()) {
      const char c = text_[place_];
      if (std::isalpha(static_cast<unsigned char>(c))) {
        command = c;
        ++place_;
        if (command == 'Z' || command == 'z') return points_;
        if (std::string_view("MmLlHhVvCcSsQqTt").find(command) == std::string_view::npos)
          return Refusal{
              std::string("path command \"") + command + "\" is not one this program draws",
              offset_ + place_ - 1};
        if (points_.empty() && command != 'M' && command != 'm')
          return Refusal{said("a path starts with M"), offset_ + place_ - 1};
        if ((command == 'M' || command == 'm') && !points_.empty())
          return points_;  // only the first stroke
      } else if (!command) {
        return Refusal{said("a path starts with M"), offset_ + place_};
      }
      if (auto refusal = step(command)) return *refusal;
      if (command == 'M') command = 'L';
      if (command == 'm') command = 'l';
      if (points_.size() > kMostPoints)
        return Refusal{said("the path has more than 5000 points"), offset_ + place_};
    }
    if (points_.empty()) return Refusal{said("the path is empty"), offset_};
    return points_;
  }

 private:
  void skip() {
    while (place_ < text_.size() &&
           (std::isspace(static_cast<unsigned char>(text_[place_])) || text_[place_] == ','))
      ++place_;
  }

  std::optional<double> number() {
    skip();
    double value = 0;
    const char* from = text_.data() + place_;
    const char* end = text_.data() + text_.size();
    if (from < end && *from == '+') ++from;
    const auto [rest, error] = std::from_chars(from, end, value);
    if (error != std::errc() || !std::isfinite(value)) return std::nullopt;
    place_ = std::size_t(rest - text_.data());
    return value;
  }

  std::optional<Refusal> take(double (&values)[6], int count) {
    for (int i = 0; i < count; ++i) {
      const auto value = number();
      if (!value) return Refusal{said("a number is missing in the path"), offset_ + place_};
      values[i] = *value;
    }
    return std::nullopt;
  }

  std::optional<Refusal> step(char command) {
    const bool relative = std::islower(static_cast<unsigned char>(command)) != 0;
    const double bx = relative ? now_.x_mm : 0, by = relative ? now_.y_mm : 0;
    double v[6];
    switch (std::toupper(static_cast<unsigned char>(command))) {
      case 'M':
      case 'L':
        if (auto refusal = take(v, 2)) return refusal;
        go({bx + v[0], by + v[1]});
        break;
      case 'H':
        if (auto refusal = take(v, 1)) return refusal;
        go({bx + v[0], now_.y_mm});
        break;
      case 'V':
        if (auto refusal = take(v, 1)) return refusal;
        go({now_.x_mm, by + v[0]});
        break;
      case 'C':
        if (auto refusal = take(v, 6)) return refusal;
        curve({bx + v[0], by + v[1]}, {bx + v[2], by + v[3]}, {bx + v[4], by + v[5]});
        return std::nullopt;
      case 'S':
        if (auto refusal = take(v, 4)) return refusal;
        curve(mirrored(), {bx + v[0], by + v[1]}, {bx + v[2], by + v[3]});
        return std::nullopt;
      case 'Q':
        if (auto refusal = take(v, 4)) return refusal;
        quadratic({bx + v[0], by + v[1]}, {bx + v[2], by + v[3]});
        return std::nullopt;
      default:  // 'T'
        if (auto refusal = take(v, 2)) return refusal;
        quadratic(mirrored(), {bx + v[0], by + v[1]});
        return std::nullopt;
    }
    handle_ = now_;
    return std::nullopt;
  }

  [[nodiscard]] OutlinePoint mirrored() const {
    return {2 * now_.x_mm - handle_.x_mm, 2 * now_.y_mm - handle_.y_mm};
  }

  void go(OutlinePoint to) {
    if (points_.empty() || std::hypot(to.x_mm - now_.x_mm, to.y_mm - now_.y_mm) > 1e-9)
      points_.push_back(to);
    now_ = to;
  }

  void curve(OutlinePoint one, OutlinePoint two, OutlinePoint to) {
    const OutlinePoint from = now_;
    for (int i = 1; i <= kCurveSteps; ++i) {
      const double b = double(i) / kCurveSteps, a = 1 - b;
      const double w0 = a * a * a, w1 = 3 * a * a * b, w2 = 3 * a * b * b, w3 = b * b * b;
      go({w0 * from.x_mm + w1 * one.x_mm + w2 * two.x_mm + w3 * to.x_mm,
          w0 * from.y_mm + w1 * one.y_mm + w2 * two.y_mm + w3 * to.y_mm});
    }
    handle_ = two;
  }

  void quadratic(OutlinePoint handle, OutlinePoint to) {
    const OutlinePoint from = now_;
    const auto third = [](OutlinePoint a, OutlinePoint b) {
      return OutlinePoint{a.x_mm + 2.0 / 3 * (b.x_mm - a.x_mm),
                          a.y_mm + 2.0 / 3 * (b.y_mm - a.y_mm)};
    };
    curve(third(from, handle), third(to, handle), to);
    handle_ = handle;
  }

  std::string_view text_;
  std::size_t offset_, place_ = 0;
  OutlinePoint now_, handle_;
  std::vector<OutlinePoint> points_;
};

/// The data of the first path of a document; the whole text when it is bare path data.
Checked<std::pair<std::string_view, std::size_t>> path_data(std::string_view text) {
  if (text.find('<') == std::string_view::npos) return std::pair{text, std::size_t(0)};
  for (std::size_t path = text.find("<path"); path != std::string_view::npos;
       path = text.find("<path", path + 1)) {
    const std::size_t end = text.find('>', path);
    for (std::size_t d = text.find("d=", path); d != std::string_view::npos && d < end;
         d = text.find("d=", d + 1)) {
      const char before = text[d - 1];
      if (!std::isspace(static_cast<unsigned char>(before)) || d + 2 >= text.size()) continue;
      const char quote = text[d + 2];
      const std::size_t close =
          quote == '"' || quote == '\'' ? text.find(quote, d + 3) : std::string_view::npos;
      if (close == std::string_view::npos) return Refusal{said("the path's data has no end"), d};
      return std::pair{text.substr(d + 3, close - d - 3), d + 3};
    }
  }
  return Refusal{said("there is no path in the drawing")};
}

}  // namespace

Checked<std::vector<OutlinePoint>> outline_from_svg(std::string_view text, double scale) {
  const auto data = path_data(text);
  if (!data) return data.refusal();
  auto points = PathReader(data->first, data->second).read();
  if (!points) return points.refusal();
  auto out = *points;
  for (auto& point : out) point = {point.x_mm * scale, -point.y_mm * scale};
  if (out.size() < 2) return Refusal{said("the path has fewer than two points")};
  return out;
}

Checked<std::vector<OutlinePoint>> outline_from_table(std::string_view text) {
  std::vector<OutlinePoint> out;
  std::size_t line_number = 0, start = 0;
  while (start <= text.size()) {
    std::size_t end = text.find('\n', start);
    if (end == std::string_view::npos) end = text.size();
    std::string_view line = text.substr(start, end - start);
    const std::size_t at = start;
    start = end + 1;
    ++line_number;
    while (!line.empty() && std::isspace(static_cast<unsigned char>(line.back())))
      line.remove_suffix(1);
    while (!line.empty() && std::isspace(static_cast<unsigned char>(line.front())))
      line.remove_prefix(1);
    if (line.empty()) continue;
    std::size_t cut = line.find_first_of(";\t");
    if (cut == std::string_view::npos) cut = line.find(',');
    if (cut == std::string_view::npos) cut = line.find(' ');
    const auto bad = [&](const char* what) {
      return Refusal{said("line {line_number}: {what}",
                          {{"line_number", std::to_string(line_number)}, {"what", what}}),
                     at};
    };
    const auto x = parse_number(line.substr(0, cut), CommaRule::decimal);
    if (!x && out.empty() && line_number == 1) continue;  // the head
    if (cut == std::string_view::npos) return bad("two numbers are wanted, x and y in mm");
    const auto y = parse_number(line.substr(cut + 1), CommaRule::decimal);
    if (!x || !y) return bad("x and y must be numbers");
    out.push_back({*x, *y});
    if (out.size() > kMostPoints) return bad("more than 5000 points");
  }
  if (out.size() < 2) return Refusal{said("an outline needs at least two points")};
  return out;
}

}  // namespace bq::inline edge
