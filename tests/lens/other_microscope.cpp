#include "lens/other_microscope.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace bq {
namespace {

/// Brightness while it is being made, one float a pixel.
struct Plane {
  int width = 0, height = 0;
  std::vector<float> values;
  float& at(int x, int y) { return values[std::size_t(y) * std::size_t(width) + std::size_t(x)]; }
  [[nodiscard]] float get(int x, int y) const {
    x = std::clamp(x, 0, width - 1);
    y = std::clamp(y, 0, height - 1);
    return values[std::size_t(y) * std::size_t(width) + std::size_t(x)];
  }
};

Plane blurred(const Plane& in, double sigma) {
  if (sigma < 0.2) return in;
  const int half = int(std::ceil(3 * sigma));
  std::vector<float> kernel;
  float sum = 0;
  for (int i = -half; i <= half; ++i) {
    kernel.push_back(float(std::exp(-0.5 * i * i / (sigma * sigma))));
    sum += kernel.back();
  }
  Plane across = in, out = in;
  for (int y = 0; y < in.height; ++y)
    for (int x = 0; x < in.width; ++x) {
      float total = 0;
      for (int k = -half; k <= half; ++k) total += kernel[std::size_t(k + half)] * in.get(x + k, y);
      across.at(x, y) = total / sum;
    }
  for (int y = 0; y < in.height; ++y)
    for (int x = 0; x < in.width; ++x) {
      float total = 0;
      for (int k = -half; k <= half; ++k)
        total += kernel[std::size_t(k + half)] * across.get(x, y + k);
      out.at(x, y) = total / sum;
    }
  return out;
}

/// Noise over a line: values at whole places, joined smoothly.
class LineNoise {
 public:
  LineNoise(std::uint64_t seed, int count) {
    stats::Random random(seed);
    for (int i = 0; i < count; ++i) values_.push_back(2 * random.uniform() - 1);
  }
  [[nodiscard]] double operator()(double x) const {
    const double whole = std::floor(x), t = x - whole, s = t * t * (3 - 2 * t);
    const auto n = std::int64_t(values_.size());
    const auto value = [&](std::int64_t i) { return values_[std::size_t(((i % n) + n) % n)]; };
    return value(std::int64_t(whole)) * (1 - s) + value(std::int64_t(whole) + 1) * s;
  }

 private:
  std::vector<double> values_;
};

/// 0 … 1 over `wide` (10 to 90 %), to a power.
double step(double v, double wide, double skew) {
  if (wide <= 0 || std::abs(v) > 3 * wide) return v > 0 ? 1 : 0;
  const double s = 1 / (1 + std::exp(-4.394 * v / wide));
  if (skew == 1) return s;
  // The middle of the rounding stays where it is; its brightness does not.
  return std::pow(s, skew);
}

double notch_depth(const OtherNotch& notch, double u) {
  const double x = std::abs(u - notch.at) / (0.5 * notch.length);
  if (x >= 1) return 0;
  return notch.depth * (notch.pointed ? 1 - x : 1 - x * x);
}

/// Rounds the cosines of blocks as a JPEG of this quality does (luminance table of the standard,
/// ITU T.81 annex K).
void press(Plane& plane, int quality) {
  static constexpr std::array<int, 64> kTable{
      16, 11, 10, 16, 24,  40,  51,  61,  12, 12, 14, 19, 26,  58,  60,  55,
      14, 13, 16, 24, 40,  57,  69,  56,  14, 17, 22, 29, 51,  87,  80,  62,
      18, 22, 37, 56, 68,  109, 103, 77,  24, 35, 55, 64, 81,  104, 113, 92,
      49, 64, 78, 87, 103, 121, 120, 101, 72, 92, 95, 98, 112, 100, 103, 99};
  const double scale = quality < 50 ? 5000.0 / quality : 200.0 - 2 * quality;
  double cosines[8][8];
  for (int k = 0; k < 8; ++k)
    for (int x = 0; x < 8; ++x)
      cosines[k][x] =
          (k == 0 ? std::sqrt(0.125) : 0.5) * std::cos((2 * x + 1) * k * std::numbers::pi / 16);
  for (int by = 0; by + 8 <= plane.height; by += 8)
    for (int bx = 0; bx + 8 <= plane.width; bx += 8) {
      double rows[8][8], out[8][8];
      for (int y = 0; y < 8; ++y)
        for (int k = 0; k < 8; ++k) {
          rows[y][k] = 0;
          for (int x = 0; x < 8; ++x)
            rows[y][k] += cosines[k][x] * (double(plane.at(bx + x, by + y)) - 128);
        }
      for (int k = 0; k < 8; ++k)
        for (int l = 0; l < 8; ++l) {
          double sum = 0;
          for (int y = 0; y < 8; ++y) sum += cosines[l][y] * rows[y][k];
          const double q =
              std::clamp(std::floor((kTable[std::size_t(8 * l + k)] * scale + 50) / 100), 1., 255.);
          out[l][k] = std::round(sum / q) * q;
        }
      for (int y = 0; y < 8; ++y)
        for (int k = 0; k < 8; ++k) {
          rows[y][k] = 0;
          for (int l = 0; l < 8; ++l) rows[y][k] += cosines[l][y] * out[l][k];
        }
      for (int y = 0; y < 8; ++y)
        for (int x = 0; x < 8; ++x) {
          double sum = 128;
          for (int k = 0; k < 8; ++k) sum += cosines[k][x] * rows[y][k];
          plane.at(bx + x, by + y) = float(sum);
        }
    }
}

GreyImage finished(Plane plane, double noise, int jpeg, stats::Random& random) {
  for (float& value : plane.values) value += float(noise * random.normal());
  if (jpeg > 0) press(plane, jpeg);
  GreyImage out = *GreyImage::make(plane.width, plane.height);
  for (int y = 0; y < plane.height; ++y)
    for (int x = 0; x < plane.width; ++x)
      out.row(y)[x] = std::uint8_t(std::clamp(std::lround(plane.at(x, y)), 0L, 255L));
  return out;
}

}  // namespace

double other_unevenness(const OtherScene& s, double u) {
  const double wave = s.wave * std::sin(2 * std::numbers::pi * u / s.wave_px);
  return s.rough > 0 ? wave + s.rough * LineNoise(s.seed + 14, 2003)(u / s.rough_px) : wave;
}

double other_burr_height(const OtherScene& s, double u) {
  const LineNoise wide(s.seed + 15, 1009), fine(s.seed + 16, 4003);
  return std::max(0.0, s.burr * (1 + 1.3 * wide(u / 70) + 0.3 * fine(u / 8)));
}

double other_band_width(const OtherBand& band, double u) {
  if (u < band.from || u > band.to) return 0;
  return band.wide * (1 + band.uneven * std::sin(u / 9));
}

OtherPicture other_picture(const OtherScene& s) {
  stats::Random random(s.seed * 7919 + 3);
  OtherPicture out;
  const double turn = s.turn_deg * std::numbers::pi / 180;
  out.along = {std::cos(turn), std::sin(turn)};
  out.inward = turned(out.along);
  out.middle = {0.5 * (s.width - 1), 0.5 * (s.height - 1)};
  out.apex_at = s.apex_at;
  out.sag = s.sag;
  const double lay = s.lay_deg * std::numbers::pi / 180;
  const LineNoise lines(s.seed + 11, 4001), strength(s.seed + 12, 997), wave(s.seed + 13, 401);
  Plane plane{s.width, s.height, std::vector<float>(std::size_t(s.width) * std::size_t(s.height))};
  const double sin_lay = std::sin(lay), cos_lay = std::cos(lay);
  std::vector<double> uneven;
  for (int i = -s.width - s.height; i <= s.width + s.height; ++i)
    uneven.push_back(s.wave != 0 || s.rough != 0 ? other_unevenness(s, i) : 0);
  std::vector<double> burr;
  for (int i = -s.width - s.height; i <= s.width + s.height; ++i)
    burr.push_back(s.burr > 0 ? other_burr_height(s, i) : 0);
  // A pixel's share of metal by how far its middle lies behind the line: exact for edges along the
  // rows, within a twentieth of a pixel for others.
  const auto covered = [](double into) { return std::clamp(into + 0.5, 0.0, 1.0); };
  for (int y = 0; y < s.height; ++y)
    for (int x = 0; x < s.width; ++x) {
      const Spot p = Spot{double(x), double(y)} - out.middle;
      const double u = dot(p, out.along);
      const double v = dot(p, out.inward) - s.apex_at - s.sag * (u / 400) * (u / 400);
      const double sound = v - uneven[std::size_t(std::lround(u) + s.width + s.height)];
      double into = sound;
      for (const auto& notch : s.notches) into = std::min(into, sound - notch_depth(notch, u));
      // In front of the apex the burr is what is seen.
      const double stands = into + burr[std::size_t(std::lround(u) + s.width + s.height)];
      const double across = u * sin_lay - v * cos_lay, down = u * cos_lay + v * sin_lay;
      double face = s.face + s.scratch * lines(across / s.grain) *
                                 (0.7 + 0.5 * strength(down / (30 * s.grain)));
      if (s.bands > 0) face += s.bands * wave(u / 60 + 3) + 0.5 * s.bands * wave(v / 90 + 77);
      for (const OtherBand& band : s.bands_behind) {
        const double wide = other_band_width(band, u);
        if (wide > 0) face += (band.bright - face) * covered(wide - into);
      }
      for (const Spot& pit : s.pits)
        if (const double off = length(Spot{u, v} - pit); off < 12)
          face -= 70 / (1 + std::exp(2 * (off - 5)));
      const double behind = s.body + 0.8 * s.scratch * lines(1000 + u / (0.7 * s.grain));
      const double apex = s.round > 0 ? step(into, 0.4 * s.round, 1) : covered(into),
                   shoulder =
                       s.round > 0 ? step(v - s.bevel, s.round, s.skew) : covered(v - s.bevel);
      const double metal = face + (behind - face) * shoulder;
      const double beyond = s.ground + (s.burr_bright - s.ground) * covered(stands);
      plane.at(x, y) = float(s.burr > 0 ? beyond + (metal - beyond) * apex
                                        : s.ground + (metal - s.ground) * apex);
    }
  if (s.soft_far > 0) {
    const Plane one = blurred(plane, s.soft_far), other = blurred(plane, std::max(s.soft, 0.5));
    for (int y = 0; y < s.height; ++y)
      for (int x = 0; x < s.width; ++x) {
        const float share = float(x) / float(s.width - 1);
        plane.at(x, y) = (1 - share) * one.get(x, y) + share * other.get(x, y);
      }
  } else {
    plane = blurred(plane, s.soft);
  }
  for (int y = 0; y < s.height; ++y)
    for (int x = 0; x < s.width; ++x)
      plane.at(x, y) *=
          float(1 - s.fall * (double(x) / s.width * 0.6 + double(y) / s.height * 0.4));
  const auto spot = [&](double x, double y, double r, double level, double share) {
    for (int j = int(y - 2 * r); j <= int(y + 2 * r); ++j)
      for (int i = int(x - 2 * r); i <= int(x + 2 * r); ++i) {
        if (i < 0 || j < 0 || i >= s.width || j >= s.height) continue;
        const double d = std::hypot(i - x, j - y), k = share / (1 + std::exp(4 * (d - r)));
        plane.at(i, j) = float((1 - k) * double(plane.at(i, j)) + k * level);
      }
  };
  for (int i = 0; i < s.dust; ++i)
    spot(random.uniform() * s.width, random.uniform() * s.height, 1.5 + 4 * random.uniform(),
         random.uniform() < 0.5 ? 15 : 235, 0.9);
  for (int i = 0; i < s.oil; ++i)
    spot(random.uniform() * s.width, random.uniform() * s.height, 15 + 25 * random.uniform(),
         60 + 120 * random.uniform(), 0.35);
  for (int i = 0; i < s.fibres; ++i) {
    double x = random.uniform() * s.width, y = random.uniform() * s.height,
           way = 6.28 * random.uniform();
    const double level = random.uniform() < 0.5 ? 30 : 220;
    for (int k = 0; k < 120; ++k) {
      spot(x, y, 1.2, level, 0.8);
      x += std::cos(way);
      y += std::sin(way);
      way += 0.06 * (random.uniform() - 0.4);
    }
  }
  out.image = finished(std::move(plane), s.noise, s.jpeg, random);
  return out;
}

void draw_bar(GreyImage& image, const OtherBar& bar) {
  const double turn = bar.turn_deg * std::numbers::pi / 180;
  const Spot along{std::cos(turn), std::sin(turn)}, across = turned(along);
  const double half = 0.5 * bar.line;
  const auto inside = [&](Spot p) {
    const Spot d = p - bar.from;
    const double u = dot(d, along), v = dot(d, across), l = bar.length;
    const double near = std::min(u, l - u);
    switch (bar.kind) {
      case BarKind::thick:
      case BarKind::plate:
        return u >= 0 && u <= l && std::abs(v) <= 4 * half;
      case BarKind::thin:
        return u >= 0 && u <= l && std::abs(v) <= half;
      case BarKind::ends:
        return u >= 0 && u <= l &&
               (std::abs(v) <= half || (near <= bar.line && std::abs(v) <= 5 * bar.line));
      case BarKind::arrows:
        return u >= 0 && u <= l &&
               (std::abs(v) <= half || (near <= 5 * bar.line && std::abs(v) <= 0.45 * near));
      case BarKind::ruler: {
        const double pitch = l / 10, nearest = std::round(u / pitch);
        return nearest >= -1 && nearest <= 11 && std::abs(u - nearest * pitch) <= half && v <= 0 &&
               v >= (std::fmod(std::abs(nearest), 5) == 0 ? -40 : -24);
      }
    }
    return false;
  };
  if (bar.kind == BarKind::plate)
    for (int y = std::max(0, int(bar.from.y) - 26);
         y <= std::min(image.height() - 1, int(bar.from.y) + 16); ++y)
      for (int x = std::max(0, int(bar.from.x) - 18);
           x <= std::min(image.width() - 1, int(bar.from.x + bar.length) + 18); ++x)
        image.row(y)[x] = 12;
  Plane plane{image.width(), image.height(),
              std::vector<float>(std::size_t(image.width()) * std::size_t(image.height()))};
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) {
      int hits = 0;
      for (int i = 0; i < 4; ++i)
        for (int k = 0; k < 4; ++k)
          hits += inside({x + (i + 0.5) / 4 - 0.5, y + (k + 0.5) / 4 - 0.5});
      plane.at(x, y) = float(hits) / 16;
    }
  plane = blurred(plane, bar.soft);
  for (int y = 0; y < image.height(); ++y)
    for (int x = 0; x < image.width(); ++x) {
      const double share = double(plane.at(x, y));
      image.row(y)[x] = std::uint8_t(
          std::clamp(std::lround((1 - share) * image.row(y)[x] + share * bar.bright), 0L, 255L));
    }
}

GreyImage other_scratches(int width, int height, double spacing, double lay_deg, double contrast,
                          double noise, double soft, std::uint64_t seed, bool crossed) {
  stats::Random random(seed);
  Plane plane{width, height, std::vector<float>(std::size_t(width) * std::size_t(height), 130.F)};
  for (int pass = 0; pass < (crossed ? 2 : 1); ++pass) {
    const double turn = (lay_deg + (pass == 0 ? 0 : 60)) * std::numbers::pi / 180;
    const Spot across{-std::sin(turn), std::cos(turn)}, middle{0.5 * width, 0.5 * height};
    // A groove every `spacing`, shaken by a quarter of it, each of its own depth and width.
    const int reach = int(std::hypot(width, height) / spacing / 2) + 2;
    std::vector<double> at, deep;
    for (int i = -reach; i <= reach; ++i) {
      at.push_back((i + 0.25 * (2 * random.uniform() - 1)) * spacing);
      deep.push_back(contrast * (0.5 + random.uniform()));
    }
    for (int y = 0; y < height; ++y)
      for (int x = 0; x < width; ++x) {
        double sum = 0;
        for (const double part : {-0.33, 0.0, 0.33}) {
          const double w = dot(Spot{x + part, y + part} - middle, across);
          const int near = int(std::lround(w / spacing)) + reach;
          for (int i = std::max(0, near - 2); i <= std::min(int(at.size()) - 1, near + 2); ++i) {
            const double off = (w - at[std::size_t(i)]) / (0.28 * spacing);
            sum -= deep[std::size_t(i)] * std::exp(-off * off) / 3;
          }
        }
        plane.at(x, y) += float(sum);
      }
  }
  plane = blurred(plane, soft);
  return finished(std::move(plane), noise, 0, random);
}

}  // namespace bq
