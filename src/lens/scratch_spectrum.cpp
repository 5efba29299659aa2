#include "lens/scratch_spectrum.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <numbers>
#include <optional>

#include "quantity/said.h"

namespace bq::inline lens {
namespace {

constexpr double kTurn = 180 / std::numbers::pi;

struct Tensor {
  double xx = 0, xy = 0, yy = 0;
  [[nodiscard]] double oneness() const {
    return xx + yy > 0 ? std::hypot(xx - yy, 2 * xy) / (xx + yy) : 0;
  }
  /// Direction in which brightness changes least.
  [[nodiscard]] double direction() const {
    return 0.5 * std::atan2(2 * xy, xx - yy) + std::numbers::pi / 2;
  }
};

/// Of the brightness inside a box, whole pixels.
Tensor tensor_of(const GreyImage& image, int x0, int y0, int x1, int y1) {
  Tensor out;
  for (int y = std::max(2, y0); y <= std::min(image.height() - 3, y1); ++y) {
    const std::uint8_t *a = image.row(y - 2), *b = image.row(y - 1), *c = image.row(y),
                       *d = image.row(y + 1), *e = image.row(y + 2);
    for (int x = std::max(2, x0); x <= std::min(image.width() - 3, x1); ++x) {
      // A derivative of a Gaussian of about 1 px: rotates well.
      const auto column = [&](int i) {
        return 0.054 * a[i] + 0.242 * b[i] + 0.408 * c[i] + 0.242 * d[i] + 0.054 * e[i];
      };
      const double gx =
          0.25 * (column(x + 1) - column(x - 1)) + 0.108 * (column(x + 2) - column(x - 2));
      const auto line = [&](const std::uint8_t* r) {
        return 0.054 * r[x - 2] + 0.242 * r[x - 1] + 0.408 * r[x] + 0.242 * r[x + 1] +
               0.054 * r[x + 2];
      };
      const double gy = 0.25 * (line(d) - line(b)) + 0.108 * (line(e) - line(a));
      out.xx += gx * gx;
      out.xy += gx * gy;
      out.yy += gy * gy;
    }
  }
  return out;
}

/// Strips that run along the scratches, each as one mean profile across them, slow changes of light
/// taken out.
struct Strips {
  std::vector<std::vector<double>> profiles;
  double step = 0.5;
};

void take_out_slow(std::vector<double>& values) {
  // A parabola by least squares on x in [-1, 1].
  const auto n = double(values.size());
  double s0 = n, s2 = 0, s4 = 0, b0 = 0, b1 = 0, b2 = 0;
  for (std::size_t i = 0; i < values.size(); ++i) {
    const double x = 2 * double(i) / (n - 1) - 1, xx = x * x;
    s2 += xx;
    s4 += xx * xx;
    b0 += values[i];
    b1 += values[i] * x;
    b2 += values[i] * xx;
  }
  const double det = s0 * s4 - s2 * s2, c0 = (b0 * s4 - b2 * s2) / det,
               c2 = (s0 * b2 - s2 * b0) / det, c1 = b1 / s2;
  for (std::size_t i = 0; i < values.size(); ++i) {
    const double x = 2 * double(i) / (n - 1) - 1;
    values[i] -= c0 + c1 * x + c2 * x * x;
  }
}

/// Profiles of `long_side` px along `line` around `middle`, `short_side` px deep along the
/// scratches, in strips of about ten.
Strips strips_of(const GreyImage& image, Spot middle, Spot along, Spot line, double long_side,
                 double short_side) {
  Strips out;
  const int strips = std::clamp(int(short_side / 10), 2, 60),
            lines = std::max(1, int(short_side / strips));
  const int count = std::max(8, int(long_side / out.step));
  for (int s = 0; s < strips; ++s) {
    std::vector<double> profile(std::size_t(count), 0.0);
    for (int i = 0; i < count; ++i) {
      const Spot place = middle + ((i - 0.5 * (count - 1)) * out.step) * line;
      for (int k = 0; k < lines; ++k)
        profile[std::size_t(i)] +=
            image.at(place + (((s + (k + 0.5) / lines) / strips - 0.5) * short_side) * along) /
            lines;
    }
    take_out_slow(profile);
    out.profiles.push_back(std::move(profile));
  }
  return out;
}

std::complex<double> component(const std::vector<double>& windowed, double cycles_per_sample) {
  const std::complex<double> turn = std::polar(1.0, -2 * std::numbers::pi * cycles_per_sample);
  std::complex<double> at = 1, sum = 0;
  for (const double value : windowed) {
    sum += value * at;
    at *= turn;
  }
  return sum;
}

/// Distance (px) of two upward passes of the profile through its mean, from the spectrum's moments.
double spacing_of_spectrum(const Strips& strips) {
  std::vector<double> sizes;
  for (const auto& profile : strips.profiles)
    for (const double value : profile) sizes.push_back(std::abs(value));
  const double usual = std::max(1e-6, upper_median(sizes));
  const std::size_t n = strips.profiles.front().size();
  std::vector<std::vector<double>> pressed;
  for (const auto& profile : strips.profiles) {
    std::vector<double> one(n);
    for (std::size_t i = 0; i < n; ++i)
      one[i] = profile[i] / (std::abs(profile[i]) + usual) *
               (0.5 - 0.5 * std::cos(2 * std::numbers::pi * (double(i) + 0.5) / double(n)));
    pressed.push_back(std::move(one));
  }
  const double length_px = double(n) * strips.step;
  double sum = 0, second = 0;
  for (double k = 2.5; k / length_px < 0.42; k += 0.5) {
    double power = 0;
    std::complex<double> before;
    for (std::size_t s = 0; s < pressed.size(); ++s) {
      const auto here = component(pressed[s], k / length_px * strips.step);
      if (s > 0) power += (here * std::conj(before)).real();
      before = here;
    }
    power = std::max(0.0, power);
    sum += power;
    second += power * (k / length_px) * (k / length_px);
  }
  return second > 0 ? std::sqrt(sum / second) : 0;
}

std::vector<double> smoothed(const std::vector<double>& values, double sigma) {
  if (sigma < 0.3) return values;
  const int half = int(std::ceil(3 * sigma)), last = int(values.size()) - 1;
  std::vector<double> kernel, out(values.size());
  double sum = 0;
  for (int i = -half; i <= half; ++i) {
    kernel.push_back(std::exp(-i * i / (2 * sigma * sigma)));
    sum += kernel.back();
  }
  for (int i = 0; i <= last; ++i)
    for (int k = -half; k <= half; ++k)
      out[std::size_t(i)] +=
          kernel[std::size_t(k + half)] * values[std::size_t(std::clamp(i + k, 0, last))] / sum;
  return out;
}

struct Groove {
  double at = 0, depth = 0;  ///< px, grey levels below the lower of its shoulders
};

/// Of the mean of all strips: what two strips differ in is noise, and how a scratch changes along
/// its way.
double noise_of_strips(const Strips& strips) {
  std::vector<double> differences;
  for (std::size_t s = 1; s < strips.profiles.size(); ++s)
    for (std::size_t i = 0; i < strips.profiles[s].size(); i += 3)
      differences.push_back(std::abs(strips.profiles[s][i] - strips.profiles[s - 1][i]));
  return 1.4826 * upper_median(differences) / std::sqrt(2.0 * double(strips.profiles.size()));
}

/// The same where other scratches cross these: they differ from strip to strip, and fall out of a
/// mean of many far sooner than noise does.
double noise_of_halves(const Strips& strips) {
  const std::size_t half = strips.profiles.size() / 2;
  std::vector<double> differences;
  for (std::size_t i = 0; i < strips.profiles.front().size(); i += 3) {
    double off = 0;
    for (std::size_t s = 0; s < 2 * half; ++s)
      off += (s % 2 ? 1 : -1) * strips.profiles[s][i] / double(half);
    differences.push_back(std::abs(off));
  }
  return 1.4826 * upper_median(differences) / 2;
}

std::vector<Groove> grooves_of(const Strips& strips, double spacing, bool crossed) {
  const std::size_t n = strips.profiles.front().size();
  std::vector<double> mean(n, 0.0);
  for (const auto& profile : strips.profiles)
    for (std::size_t i = 0; i < n; ++i) mean[i] += profile[i] / double(strips.profiles.size());
  const auto values = smoothed(mean, 0.05 * spacing / strips.step);
  std::vector<Groove> found;
  std::vector<double> depths;
  for (std::size_t i = 1; i + 1 < n; ++i) {
    if (!(values[i] < values[i - 1] && values[i] <= values[i + 1])) continue;
    double left = values[i], right = values[i];
    for (std::size_t j = i; j-- > 0 && values[j] >= values[i];) left = std::max(left, values[j]);
    for (std::size_t j = i + 1; j < n && values[j] >= values[i]; ++j)
      right = std::max(right, values[j]);
    found.push_back({double(i) * strips.step, std::min(left, right) - values[i]});
    depths.push_back(found.back().depth);
  }
  const double noise = crossed ? noise_of_halves(strips) : noise_of_strips(strips);
  const double least = std::max(0.05 * upper_median(depths), 2.5 * noise);
  std::erase_if(found, [&](const Groove& g) { return g.depth <= least; });
  return found;
}

/// Counts them into `out`; distances along the profile are `turned_in` times as far across the
/// scratches.
Checked<ScratchFinding> counted(const Strips& strips, double turned_in, ScratchFinding out,
                                bool crossed = false) {
  const double rate = spacing_of_spectrum(strips);
  const auto grooves = grooves_of(strips, rate, crossed);
  if (grooves.size() < 6)
    return Refusal{
        said("fewer than six scratches lie side by side there: take a larger box or a smaller "
             "magnification")};
  std::vector<double> gaps, depths;
  for (std::size_t i = 0; i < grooves.size(); ++i) {
    depths.push_back(grooves[i].depth);
    if (i > 0) gaps.push_back(grooves[i].at - grooves[i - 1].at);
  }
  const double usual = upper_median(gaps);
  double total = 0, number = 0, squares = 0;
  for (const double gap : gaps) {
    total += gap;
    number += gap > 1.6 * usual ? std::round(gap / usual) : 1;
  }
  const double mean = total / number;
  for (const double gap : gaps)
    squares += (std::min(gap, 1.6 * usual) - mean) * (std::min(gap, 1.6 * usual) - mean);
  const double cv = std::sqrt(squares / double(gaps.size())) / mean;
  out.spacing_px = mean * turned_in;
  // Scratches that run together leave irregular gaps that are wider.
  if (out.spacing_px < kFinestScratches_px || (out.spacing_px < 8 && cv > 0.3))
    return Refusal{
        said("the scratches lie closer than this picture can show (five and a half pixels): take a "
             "larger magnification")};
  // The count is sure to half a scratch at its ends; the stretch stands for the stone as far as its
  // own gaps scatter.
  out.spacing_error_px = out.spacing_px * std::hypot(cv / std::sqrt(number), 0.5 / number);
  out.scratches = int(std::lround(number)) + 1;
  const double deep = 3 * upper_median(depths);
  out.streaks =
      double(std::count_if(depths.begin(), depths.end(), [&](double d) { return d >= deep; })) /
      double(depths.size());
  return out;
}

/// Direction over a box and its standard error from nine parts.
std::optional<ScratchFinding> direction_in(const GreyImage& image, double x0, double y0, double x1,
                                           double y1) {
  ScratchFinding out;
  Tensor whole;
  std::vector<double> parts;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) {
      const Tensor part =
          tensor_of(image, int(x0 + (x1 - x0) * i / 3), int(y0 + (y1 - y0) * j / 3),
                    int(x0 + (x1 - x0) * (i + 1) / 3) - 1, int(y0 + (y1 - y0) * (j + 1) / 3) - 1);
      whole.xx += part.xx;
      whole.xy += part.xy;
      whole.yy += part.yy;
      parts.push_back(part.direction());
    }
  out.oneness = whole.oneness();
  if (out.oneness < 0.15) return std::nullopt;
  const double direction = whole.direction();
  double squares = 0;
  for (const double part : parts) {
    const double off = std::remainder(part - direction, std::numbers::pi) * kTurn;
    squares += off * off;
  }
  out.direction_error_deg = std::sqrt(squares / 8 / 9);
  out.direction_deg = StraightLine{{0, 0}, {std::cos(direction), std::sin(direction)}}.angle_deg();
  return out;
}

double sharpness_of(const Strips& strips) {
  const std::size_t n = strips.profiles.front().size();
  double power = 0;
  for (std::size_t i = 0; i < n; ++i) {
    double mean = 0;
    for (const auto& profile : strips.profiles) mean += profile[i];
    power += mean * mean;
  }
  return power;
}

Spot unit_at(double deg) { return {std::cos(deg / kTurn), std::sin(deg / kTurn)}; }

/// The direction along which the mean profile is sharpest, near the one that the brightness changes
/// gave, at most `sure_deg` off: those lean towards the picture's axes by up to a degree where
/// scratches are a few pixels wide, enough to smear a long mean.
double sharpened(const GreyImage& image, Spot middle, double near_deg, double long_side,
                 double short_side, double sure_deg) {
  double best = near_deg, most = -1;
  for (const double step : {sure_deg / 5, sure_deg / 25}) {
    const double around = best;
    for (int i = -5; i <= 5; ++i) {
      const double deg = around + i * step;
      const Spot along = unit_at(deg);
      const double power =
          sharpness_of(strips_of(image, middle, along, turned(along), long_side, short_side));
      if (power > most) {
        most = power;
        best = deg;
      }
    }
  }
  return best;
}

/// Two directions (degrees) along which the mean profile is sharp, the sharper first; empty: one,
/// or none, or a box too small to tell. Slopes of brightness do not tell: where scratches cross
/// they add up to any direction.
std::optional<std::pair<double, double>> crosshatch_in(const GreyImage& image, Spot middle,
                                                       double width, double height) {
  constexpr int kSteps = 90, kApart = 12;  // of two degrees
  const double side = 0.7 * std::min({width, height, 460.0});
  if (side < 96) return std::nullopt;
  std::array<double, kSteps> sharp{};
  for (int i = 0; i < kSteps; ++i) {
    const Spot along = unit_at(2.0 * i);
    sharp[std::size_t(i)] =
        sharpness_of(strips_of(image, middle, along, turned(along), side, std::min(side, 60.0)));
  }
  std::array<double, kSteps> sorted = sharp;
  std::sort(sorted.begin(), sorted.end());
  const double floor = sorted[kSteps / 4];
  const auto above = [&](int i) {
    return sharp[std::size_t((i % kSteps + kSteps) % kSteps)] - floor;
  };
  const int first = int(std::max_element(sharp.begin(), sharp.end()) - sharp.begin());
  int second = -1;
  for (int i = first + kApart; i <= first + kSteps - kApart; ++i)
    if (above(i) >= above(i - 1) && above(i) > above(i + 1) &&
        (second < 0 || above(i) > above(second)))
      second = i;
  if (second < 0 || above(second) < std::max(0.2 * above(first), floor)) return std::nullopt;
  return std::pair{2.0 * first, 2.0 * (second % kSteps)};
}

/// Counts the scratches of one direction in a box; the others are evened out by the mean along it.
Checked<ScratchFinding> counted_in(const GreyImage& image, Spot middle, double width, double height,
                                   ScratchFinding direction, bool crossed) {
  const double sure_deg = crossed ? 3 : 1.5;
  // The largest turned rectangle in the box that uses four fifths of its length across the
  // scratches.
  const Spot first = turned(unit_at(direction.direction_deg));
  const double ax = std::max(1e-6, std::abs(first.x)), ay = std::max(1e-6, std::abs(first.y));
  const double long_side = 0.8 * std::min(width / ax, height / ay);
  const double short_side =
      std::max(4.0, std::min((width - ax * long_side) / ay, (height - ay * long_side) / ax));
  const double deg = sharpened(image, middle, direction.direction_deg, std::min(long_side, 400.0),
                               std::min(short_side, 200.0), sure_deg);
  direction.direction_deg = StraightLine{{0, 0}, unit_at(deg)}.angle_deg();
  direction.direction_error_deg = std::hypot(
      direction.direction_error_deg, 0.12 / std::min(short_side, 200.0) * kTurn, 0.013 * sure_deg);
  const Spot along = unit_at(deg), across = turned(along);
  return counted(strips_of(image, middle, along, across, long_side, short_side), 1, direction,
                 crossed);
}

}  // namespace

Checked<ScratchFinding> find_scratches(const GreyImage& image, Spot middle, double width,
                                       double height) {
  if (width < 48 || height < 48)
    return Refusal{said("a box for scratches is at least 48 pixels wide and high")};
  const Spot half{0.5 * width, 0.5 * height};
  if (image.empty() || !image.contains(middle - half) || !image.contains(middle + half))
    return Refusal{said("the box leaves the picture")};
  const double x0 = middle.x - half.x, y0 = middle.y - half.y, x1 = middle.x + half.x,
               y1 = middle.y + half.y;
  const auto across = crosshatch_in(image, middle, width, height);
  if (!across) {
    const auto direction = direction_in(image, x0, y0, x1, y1);
    if (!direction) return Refusal{said("no one direction of scratches can be told there")};
    return counted_in(image, middle, width, height, *direction, false);
  }
  ScratchFinding first, second;
  first.direction_deg = across->first;
  second.direction_deg = across->second;
  first.oneness = tensor_of(image, int(x0), int(y0), int(x1), int(y1)).oneness();
  auto found = counted_in(image, middle, width, height, first, true);
  const auto other = counted_in(image, middle, width, height, second, true);
  if (!found)
    return Refusal{said("two directions cross there, and of one {reason}",
                        {{"reason", found.refusal().reason}})};
  if (!other)
    return Refusal{said("two directions cross there, and of one {reason}",
                        {{"reason", other.refusal().reason}})};
  ScratchFinding both = *found;
  both.crossing = CrossingScratches{other->direction_deg, other->direction_error_deg,
                                    other->spacing_px, other->spacing_error_px};
  return both;
}

Checked<ScratchFinding> find_scratches_along(const GreyImage& image, Spot from, Spot to) {
  const double span = length(to - from);
  if (span < 48) return Refusal{said("a line for scratches is at least 48 pixels long")};
  if (image.empty() || !image.contains(from) || !image.contains(to))
    return Refusal{said("the line leaves the picture")};
  const auto direction =
      direction_in(image, std::min(from.x, to.x) - 16, std::min(from.y, to.y) - 16,
                   std::max(from.x, to.x) + 16, std::max(from.y, to.y) + 16);
  if (!direction)
    return Refusal{
        said("no one direction of scratches can be told there: a box finds two that cross")};
  const Spot along = unit_at(direction->direction_deg), line = (1 / span) * (to - from);
  const double turned_in = std::abs(dot(line, turned(along)));
  if (turned_in < 0.26)
    return Refusal{said("the line runs along the scratches: draw it across them")};
  return counted(strips_of(image, 0.5 * (from + to), along, line, span, 24), turned_in, *direction);
}

}  // namespace bq::inline lens
