#include "report/picture_drawing.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "quantity/number.h"

namespace bq::inline report {
namespace {

constexpr double kLeft = 17, kBottom = 11, kText = 2.6, kMarker = 0.95;

struct Axis {
  double low = 0, high = 1, from = 0, to = 1;  ///< values, and where they lie in mm
  bool log = false;
  [[nodiscard]] double at(double value) const {
    const double share =
        log ? std::log(value / low) / std::log(high / low) : (value - low) / (high - low);
    return from + (to - from) * share;
  }
  [[nodiscard]] bool holds(double value) const {
    return std::isfinite(value) && (!log || value > 0);
  }
};

Axis spanning(std::vector<double> values, bool log, double from, double to) {
  Axis axis{0, 1, from, to, log};
  std::erase_if(values, [&](double v) { return !std::isfinite(v) || (log && v <= 0); });
  if (values.empty()) values = log ? std::vector<double>{1, 10} : std::vector<double>{0, 1};
  const auto [low, high] = std::minmax_element(values.begin(), values.end());
  if (log) {
    const double room = std::max(0.05, 0.05 * std::log(*high / *low));
    axis.low = *low * std::exp(-room);
    axis.high = *high * std::exp(room);
  } else {
    const double span = std::max(*high - *low, 1e-9 + 0.02 * std::fabs(*high));
    axis.low = *low >= 0 && *low < 0.35 * *high ? 0 : *low - 0.06 * span;
    axis.high = *high + 0.06 * span;
  }
  return axis;
}

std::vector<std::pair<double, double>> marker_at(int style, double x, double y) {
  const double r = kMarker;
  std::vector<std::pair<double, double>> out;
  const auto turn = [&](int corners, double start, double radius) {
    for (int i = 0; i < corners; ++i) {
      const double angle = start + 2 * std::numbers::pi * i / corners;
      out.emplace_back(x + radius * std::cos(angle), y + radius * std::sin(angle));
    }
  };
  switch (style % 6) {
    case 0:
      turn(16, 0, r);
      break;
    case 1:
      turn(4, std::numbers::pi / 4, 1.25 * r);
      break;
    case 2:
      turn(3, -std::numbers::pi / 2, 1.3 * r);
      break;
    case 3:
      turn(4, 0, 1.3 * r);
      break;
    case 4:
      out = {
          {x - r, y - 0.3 * r}, {x + r, y - 0.3 * r}, {x + r, y + 0.3 * r}, {x - r, y + 0.3 * r}};
      break;
    default:
      turn(3, std::numbers::pi / 2, 1.3 * r);
      break;
  }
  return out;
}

/// Everything that is drawn into one frame.
class Painter {
 public:
  Painter(const Picture& picture, const std::vector<std::string>& steels, double width,
          double height)
      : picture_(picture), steels_(steels) {
    out_.width_mm = width;
    out_.height_mm = height;
    int named = 0;
    for (const auto& s : picture.series)
      named += s.kind == PictureSeries::Kind::line && !s.name.empty();
    ends_ = picture.x_words.empty() && named <= 8;
    std::size_t longest = 0;
    for (const auto& s : picture.series)
      if (ends_ && s.kind == PictureSeries::Kind::line) longest = std::max(longest, s.name.size());
    const double right = std::min(0.32 * width, 3 + 1.45 * double(longest));
    std::vector<std::string> told;
    for (std::size_t i = 0; i < picture.series.size(); ++i) {
      const auto& s = picture.series[i];
      if (s.name.empty() || (ends_ && s.kind == PictureSeries::Kind::line)) continue;
      // Lines too many to be named one by one are told by steel.
      const bool line = s.kind == PictureSeries::Kind::line;
      const std::string& name = line && !s.steel.empty() ? s.steel : s.name;
      if (std::find(told.begin(), told.end(), name + (line ? "" : "|")) != told.end() ||
          legend_.size() >= 8)
        continue;
      told.push_back(name + (line ? "" : "|"));
      legend_.emplace_back(i, name);
    }
    const double top = legend_.empty() ? 2 : 6.5;
    std::vector<double> xs, ys;
    for (const auto& s : picture.series) {
      xs.insert(xs.end(), s.x.begin(), s.x.end());
      ys.insert(ys.end(), s.y.begin(), s.y.end());
      if (s.kind != PictureSeries::Kind::line) {
        ys.insert(ys.end(), s.y_low.begin(), s.y_low.end());

        ys.insert(ys.end(), s.y_high.begin(), s.y_high.end());
      }
    }
    if (picture.level) ys.push_back(*picture.level);
    x_ = spanning(xs, picture.x_log, kLeft, width - right);
    y_ = spanning(ys, picture.y_log, height - kBottom, top);
    if (!picture.x_words.empty())
      x_ = {-0.6, double(picture.x_words.size()) - 0.4, kLeft, width - right, false};
  }

  Drawing paint() {
    frame();
    if (picture_.level) {
      const double y = y_.at(*picture_.level);
      out_.lines.push_back({{{x_.from, y}, {x_.to, y}}, 0.25, false, false, true});
      if (!picture_.level_name.empty())
        text(x_.from + 1, y - 0.7, picture_.level_name, DrawingText::Anchor::start);
    }
    for (std::size_t i = 0; i < picture_.series.size(); ++i) series(i);
    labels();
    legend();
    return std::move(out_);
  }

 private:
  int style_of(std::size_t index) const {
    const auto& s = picture_.series[index];
    const auto at = std::find(steels_.begin(), steels_.end(), s.steel);
    return s.steel.empty() || at == steels_.end() ? int(index) : int(at - steels_.begin());
  }
  void text(double x, double y, const std::string& words, DrawingText::Anchor anchor,
            bool upward = false, std::optional<int> colour = {}) {
    out_.texts.push_back({x, y, words, kText, anchor, upward, colour});
  }

  void frame() {
    out_.lines.push_back(
        {{{x_.from, y_.to}, {x_.from, y_.from}, {x_.to, y_.from}}, 0.2, false, false, false});
    if (picture_.x_words.empty()) {
      for (const double tick : axis_ticks(x_.low, x_.high, x_.log)) {
        out_.lines.push_back(
            {{{x_.at(tick), y_.from}, {x_.at(tick), y_.from + 1}}, 0.2, false, false, false});
        text(x_.at(tick), y_.from + 4, print_number(tick, 6), DrawingText::Anchor::middle);
      }
    } else {
      const double each = (x_.to - x_.from) / double(picture_.x_words.size());
      const std::size_t letters = std::max<std::size_t>(4, std::size_t(each / 1.5));
      // Where there is no room for each word, every second or third one stands.
      const std::size_t step = std::max<std::size_t>(1, std::size_t(std::ceil(7 / each)));
      for (std::size_t i = 0; i < picture_.x_words.size(); i += step) {
        const std::string& word = picture_.x_words[i];
        text(x_.at(double(i)), y_.from + 4,
             word.size() > letters * step ? word.substr(0, letters * step - 1) + "…" : word,
             DrawingText::Anchor::middle);
      }
    }
    for (const double tick : axis_ticks(y_.low, y_.high, y_.log)) {
      out_.lines.push_back(
          {{{x_.from - 1, y_.at(tick)}, {x_.from, y_.at(tick)}}, 0.2, false, false, false});
      text(x_.from - 1.6, y_.at(tick) + 0.9, print_number(tick, 6), DrawingText::Anchor::end);
    }
    text(0.5 * (x_.from + x_.to), out_.height_mm - 1.2, picture_.x_label,
         DrawingText::Anchor::middle);
    text(3, 0.5 * (y_.from + y_.to), picture_.y_label, DrawingText::Anchor::middle, true);
  }

  void series(std::size_t index) {
    const auto& s = picture_.series[index];
    const std::optional<int> colour = s.ink ? std::nullopt : std::optional(style_of(index));
    if (s.kind == PictureSeries::Kind::line) {
      if (s.y_low.size() == s.x.size() && !s.x.empty()) {
        DrawingLine band{{}, 0, true, true, false, colour, 0.14};
        for (std::size_t i = 0; i < s.x.size(); ++i)
          band.points.push_back(clipped(s.x[i], s.y_low[i]));
        for (std::size_t i = s.x.size(); i-- > 0;)
          band.points.push_back(clipped(s.x[i], s.y_high[i]));
        out_.lines.push_back(std::move(band));
      }
      DrawingLine line{{}, s.ink ? 0.25 : 0.4, false, false, s.ink, colour};
      for (std::size_t i = 0; i < s.x.size(); ++i)
        if (x_.holds(s.x[i]) && y_.holds(s.y[i]))
          line.points.emplace_back(x_.at(s.x[i]), y_.at(s.y[i]));
      out_.lines.push_back(std::move(line));
      return;
    }
    const int style = style_of(index);
    for (std::size_t i = 0; i < s.x.size(); ++i) {
      if (!x_.holds(s.x[i]) || !y_.holds(s.y[i])) continue;
      const double x = x_.at(s.x[i]), y = y_.at(s.y[i]);
      if (i < s.y_low.size()) {
        const double low = clipped(s.x[i], s.y_low[i]).second,
                     high = clipped(s.x[i], s.y_high[i]).second;
        for (const double end : {low, high})
          out_.lines.push_back(
              {{{x - 0.8, end}, {x + 0.8, end}}, 0.3, false, false, false, style, 0, true});
        out_.lines.push_back({{{x, low}, {x, high}}, 0.3, false, false, false, style, 0, true});
      }
      if (s.kind == PictureSeries::Kind::points) {
        out_.lines.push_back({marker_at(style, x, y), 0.2, true, true, false, style, 0.85});
      } else {
        const double way = s.kind == PictureSeries::Kind::arrows_up ? -1 : 1;
        out_.lines.push_back(
            {{{x, y}, {x, y + 3 * way}}, 0.3, false, false, false, style, 0, true});
        out_.lines.push_back({{{x - 0.8, y + 2 * way}, {x, y + 3 * way}, {x + 0.8, y + 2 * way}},
                              0.3,
                              false,
                              false,
                              false,
                              style,
                              0,
                              true});
      }
    }
  }

  std::pair<double, double> clipped(double x, double y) const {
    const double value =
        y_.log && !(y > 0) ? y_.low : std::clamp(std::isfinite(y) ? y : y_.high, y_.low, y_.high);
    return {x_.at(x), y_.at(value)};
  }

  /// Names at the lines' ends, pushed apart where they meet.
  void labels() {
    if (!ends_) return;
    struct Label {
      double y;
      std::string name;
      std::optional<int> colour;
    };
    std::vector<Label> all;
    for (std::size_t i = 0; i < picture_.series.size(); ++i) {
      const auto& s = picture_.series[i];
      if (s.kind != PictureSeries::Kind::line || s.name.empty() || s.x.empty() ||
          !y_.holds(s.y.back()))
        continue;
      all.push_back({y_.at(s.y.back()), s.name, s.ink ? std::nullopt : std::optional(style_of(i))});
    }
    std::sort(all.begin(), all.end(), [](const Label& a, const Label& b) { return a.y < b.y; });
    for (std::size_t i = 1; i < all.size(); ++i) all[i].y = std::max(all[i].y, all[i - 1].y + 3.1);
    for (const auto& label : all)
      text(x_.to + 1, label.y + 0.9, label.name, DrawingText::Anchor::start, false, label.colour);
  }

  void legend() {
    double x = x_.from;
    for (const auto& [i, name] : legend_) {
      const auto& s = picture_.series[i];
      const double wide = 6 + 1.5 * double(name.size());
      if (x + wide > out_.width_mm) break;
      if (s.kind == PictureSeries::Kind::line)
        out_.lines.push_back({{{x, 2.6}, {x + 3, 2.6}},
                              0.4,
                              false,
                              false,
                              s.ink,
                              s.ink ? std::nullopt : std::optional(style_of(i)),
                              0});
      else
        out_.lines.push_back({marker_at(style_of(i), x + 1.5, 2.6), 0.2, true, true, false,
                              style_of(i), s.kind == PictureSeries::Kind::points ? 0.85 : 0.0});
      text(x + 4, 3.5, name, DrawingText::Anchor::start);
      x += wide;
    }
  }

  const Picture& picture_;
  const std::vector<std::string>& steels_;
  Drawing out_;
  Axis x_, y_;
  bool ends_ = false;
  std::vector<std::pair<std::size_t, std::string>> legend_;
};

}  // namespace

std::vector<double> axis_ticks(double low, double high, bool log) {
  std::vector<double> out;
  if (log && high > 5 * low) {
    for (double decade = std::pow(10, std::floor(std::log10(low))); decade <= high; decade *= 10)
      for (const double figure : {1.0, 2.0, 5.0})
        if (const double tick = figure * decade; tick >= low && tick <= high) out.push_back(tick);
    return out;
  }
  const double rough = (high - low) / 5, size = std::pow(10, std::floor(std::log10(rough)));
  double step = 10 * size;
  for (const double figure : {5.0, 2.0, 1.0})
    if (figure * size >= rough) step = figure * size;
  for (double i = std::ceil(low / step - 1e-9); i * step <= high + 1e-9 * step; ++i)
    out.push_back(i * step);
  return out;
}

Drawing draw_picture(const Picture& picture, const std::vector<std::string>& steels,
                     double width_mm, double height_mm) {
  return Painter(picture, steels, width_mm, height_mm).paint();
}

}  // namespace bq::inline report
