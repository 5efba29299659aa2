#include "rehearsal/virtual_microscope.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <string>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/random.h"

namespace bq::inline rehearsal {
namespace {

constexpr double kRadian = std::numbers::pi / 180;

/// exp(-x²) within 2e-5, from a table: a picture asks for millions.
double bell(double x) {
  static const std::vector<double> kTable = [] {
    std::vector<double> out;
    for (int i = 0; i <= 901; ++i) out.push_back(std::exp(-1e-4 * (0.5 * i) * (0.5 * i)));
    return out;
  }();
  const double at = 200 * std::abs(x);
  if (at >= 900) return 0;
  const int i = int(at);
  return kTable[std::size_t(i)] + (at - i) * (kTable[std::size_t(i + 1)] - kTable[std::size_t(i)]);
}

/// Scratches of one facet: places across their direction, each with its depth, width and slight
/// turn.
struct Scratches {
  struct Scratch {
    double at = 0, depth = 0, width = 0, turn = 0, wave = 0, phase = 0;
  };
  std::vector<Scratch> all;

  /// From the middle outward, so that a wider view adds scratches and moves none.
  Scratches(double spacing, double reach, double streaks, std::uint64_t seed,
            std::uint64_t stream) {
    for (const int side : {1, -1}) {
      stats::Random random(seed, stream + (side < 0 ? 100 : 0));
      double at = side > 0 ? -0.3 * spacing
                           : -0.3 * spacing - spacing * std::max(0.5, 1 + 0.2 * random.normal());
      for (; std::abs(at) < reach;
           at += side * spacing * std::max(0.5, 1 + 0.2 * random.normal())) {
        Scratch s;
        s.at = at;
        s.depth = 17 * std::exp(0.35 * random.normal());
        s.width = 0.2 * spacing * std::exp(0.2 * random.normal());
        if (random.uniform() < streaks) {
          s.depth *= 3 + 2 * random.uniform();
          s.width *= 1.4;
        }
        s.turn = 0.006 * random.normal();
        s.wave = 0.3 * random.uniform();
        s.phase = 6.28 * random.uniform();
        all.push_back(s);
      }
    }
    std::sort(all.begin(), all.end(),
              [](const Scratch& a, const Scratch& b) { return a.at < b.at; });
  }

  /// Grey levels at a place across (q) and along (t) the scratches.
  [[nodiscard]] double at(double q, double t, double spacing) const {
    const double far = 1.4 * spacing;
    auto it = std::lower_bound(all.begin(), all.end(), q - far,
                               [](const Scratch& s, double value) { return s.at < value; });
    double sum = 0;
    for (; it != all.end() && it->at < q + far; ++it) {
      const double d = (q - it->at - it->turn * t) / it->width;
      if (std::abs(d) > 4.5) continue;
      const double depth = it->depth * (1 + it->wave * std::sin(t / (9 * spacing) + it->phase));
      sum += depth * (-bell(d) + 0.55 * bell(d - 1.5));
    }
    return std::max(sum, -70.0);  // the floor of a groove still reflects
  }
};

/// Figures and letters of a scale bar's length, five by seven, rows from the top.
const std::array<std::pair<char, std::array<std::uint8_t, 7>>, 12> kGlyphs{
    {{'0', {14, 17, 19, 21, 25, 17, 14}},
     {'1', {4, 12, 4, 4, 4, 4, 14}},
     {'2', {14, 17, 1, 6, 8, 16, 31}},
     {'3', {14, 17, 1, 6, 1, 17, 14}},
     {'4', {2, 6, 10, 18, 31, 2, 2}},
     {'5', {31, 16, 30, 1, 1, 17, 14}},
     {'6', {6, 8, 16, 30, 17, 17, 14}},
     {'7', {31, 1, 2, 4, 8, 8, 8}},
     {'8', {14, 17, 17, 14, 17, 17, 14}},
     {'9', {14, 17, 17, 15, 1, 2, 12}},
     {'u', {0, 0, 17, 17, 19, 21, 16}},
     {'m', {0, 0, 26, 21, 21, 21, 21}}}};

void fill(GreyImage& image, double x0, double y0, double x1, double y1, std::uint8_t level) {
  for (int y = std::max(0, int(std::lround(y0)));
       y <= std::min(image.height() - 1, int(std::lround(y1))); ++y)
    for (int x = std::max(0, int(std::lround(x0)));
         x <= std::min(image.width() - 1, int(std::lround(x1))); ++x)
      image.row(y)[x] = level;
}

void write_text(GreyImage& image, const std::string& text, int x, int y, int size) {
  for (const char c : text) {
    for (const auto& [name, rows] : kGlyphs)
      if (name == c)
        for (int r = 0; r < 7; ++r)
          for (int k = 0; k < 5; ++k)
            if (rows[std::size_t(r)] >> (4 - k) & 1)
              fill(image, x + k * size, y + r * size, x + (k + 1) * size - 1,
                   y + (r + 1) * size - 1, 245);
    x += 6 * size;
  }
}

void draw_scale_bar(GreyImage& image, MicroscopeTruth& truth) {
  const double um = round_below(0.28 * image.width() * truth.um_per_px);
  const int length = int(std::lround(um / truth.um_per_px)),
            size = std::max(1, image.width() / 400), high = 6 * size;
  const int x1 = image.width() - 1 - 12 * size, x0 = x1 - length + 1,
            y1 = image.height() - 1 - 10 * size;
  fill(image, x0 - 8 * size, y1 - high - 14 * size, x1 + 8 * size, y1 + 6 * size, 12);
  fill(image, x0, y1 - high, x1, y1, 245);
  if (um >= 1)
    write_text(image, std::to_string(std::int64_t(std::lround(um))) + " um", x0,
               y1 - high - 10 * size, size);
  truth.bar_px = length;
  truth.bar_um = um;
  truth.bar_from = {x0 - 0.5, y1 - 0.5 * high};
  truth.bar_to = {x1 + 0.5, y1 - 0.5 * high};
}

void blur(std::vector<float>& values, int w, int h, double sigma) {
  if (sigma < 0.2) return;
  const int half = int(std::ceil(3 * sigma));
  std::vector<float> kernel;
  float sum = 0;
  for (int i = -half; i <= half; ++i) {
    kernel.push_back(float(std::exp(-i * i / (2 * sigma * sigma))));
    sum += kernel.back();
  }
  for (float& k : kernel) k /= sum;
  std::vector<float> line(std::size_t(std::max(w, h)));
  const auto pass = [&](float* start, int count, int stride) {
    for (int i = 0; i < count; ++i) line[std::size_t(i)] = start[std::ptrdiff_t(i) * stride];
    for (int i = 0; i < count; ++i) {
      float value = 0;
      for (int k = -half; k <= half; ++k)
        value += kernel[std::size_t(k + half)] * line[std::size_t(std::clamp(i + k, 0, count - 1))];
      start[std::ptrdiff_t(i) * stride] = value;
    }
  };
  for (int y = 0; y < h; ++y) pass(values.data() + std::size_t(y) * std::size_t(w), w, 1);
  for (int x = 0; x < w; ++x) pass(values.data() + x, h, w);
}

/// Depth (µm) of missing metal at a place along the edge.
double missing_at(const std::vector<MicroscopeDamage>& damage, double u) {
  double out = 0;
  for (const auto& d : damage) {
    const double x = 2 * (u - d.at_um) / d.length_um;
    if (d.kind != MicroscopeDamage::Kind::chip || std::abs(x) >= 1) continue;
    out = std::max(out, d.depth_um * (d.pointed ? 1 - std::abs(x) : std::sqrt(1 - x * x)));
  }
  return out;
}

/// Smooth wander of the apex (µm), the same in every picture of the place.
struct Wander {
  std::array<double, 4> phase{};
  double size = 0;
  Wander(double um, stats::Random& random) : size(um) {
    for (double& p : phase) p = 6.283 * random.uniform();
  }
  [[nodiscard]] double at(double u, double length) const {
    double sum = 0;
    for (int i = 0; i < 4; ++i)
      sum += std::sin((3 + 4 * i) * u / length + phase[std::size_t(i)]) / 2;
    return size * sum;
  }
};

}  // namespace

double scratch_spacing_um(double finish_um) { return 0.6 * finish_um; }

double MicroscopeTruth::spacing_px(Spot middle, double long_px, bool of_bevel) const {
  const Spot across = std::cos(lean_deg * kRadian) * along - std::sin(lean_deg * kRadian) * inward;
  const double at = dot(middle - apex_zero, across);
  double first = 0, last = 0;
  int count = 0;
  for (const double q : of_bevel ? bevel_scratches_px : scratches_px)
    if (std::abs(q - at) <= 0.5 * long_px) {
      if (count++ == 0) first = q;
      last = q;
    }
  return count > 1 ? (last - first) / (count - 1) : 0;
}

double MicroscopeTruth::burr_um_at(double u_um) const {
  return burr_um * std::clamp(0.75 + 0.5 * std::sin(7 * u_um / view_um + burr_phase) +
                                  0.08 * std::sin(61 * u_um / view_um),
                              0.0, 1.0);
}

Checked<VirtualMicrograph> micrograph(const MicroscopeSubject& subject,
                                      const MicroscopeShot& shot) {
  if (shot.width < 32 || shot.height < 32)
    return Refusal{said("a picture is at least 32 pixels wide and high")};
  if (!(shot.um_per_px >= 0.005 && shot.um_per_px <= 100))
    return Refusal{said("the scale lies outside 0.005 to 100 µm per pixel")};
  const auto blank = GreyImage::make(shot.width, shot.height);
  if (!blank) return blank.refusal();
  VirtualMicrograph out{*blank, {}};
  MicroscopeTruth& truth = out.truth;
  const double per = shot.um_per_px, c = std::cos(shot.turn_deg * kRadian),
               s = std::sin(shot.turn_deg * kRadian);
  truth.um_per_px = per;
  truth.along = {c, s};
  truth.inward = {-s, c};
  // The ideal apex lies a fifth from the top: the surround above it, the blade below.
  truth.apex_zero = {0.5 * (shot.width - 1) + shot.shift_x_px, 0.2 * shot.height + shot.shift_y_px};
  truth.micro_bevel_px = subject.micro_bevel_um / per;
  truth.bevel_px = subject.bevel_um / per;
  truth.burr_px = subject.burr_um / per;

  stats::Random place(subject.seed, 11), light(shot.seed, 12);
  const double reach =
      2 * per * (shot.width + shot.height);  // µm: all that any picture of this place shows
  const double apex_spacing = scratch_spacing_um(subject.apex_finish_um),
               bevel_spacing = scratch_spacing_um(subject.bevel_finish_um);
  const double face_spacing = std::max(bevel_spacing, 2.0);
  const Scratches apex_facet(apex_spacing, reach, subject.streaks, subject.seed, 31),
      bevel_facet(bevel_spacing, reach, subject.streaks, subject.seed, 32);
  const Scratches face(face_spacing, reach, 0, subject.seed, 33);
  for (const auto& scratch : apex_facet.all) truth.scratches_px.push_back(scratch.at / per);
  for (const auto& scratch : bevel_facet.all) truth.bevel_scratches_px.push_back(scratch.at / per);
  const double lay = subject.lay_deg * kRadian, lc = std::cos(lay), ls = std::sin(lay);
  // Scratches run along (sin lay, cos lay) in (u, v); q counts across them.
  const Spot run = ls * truth.along + lc * truth.inward;
  truth.lean_deg = subject.lay_deg;
  truth.lay_deg = StraightLine{{0, 0}, run}.angle_deg();
  const double view = subject.view_um;
  const Wander wander(subject.piece ? 0 : 0.15, place);
  for (const auto& d : subject.damage)
    if (std::abs(d.at_um) < 0.5 * per * shot.width) truth.damage.push_back(d);
  // Marks are scratched into the face behind the shoulder and into the bevel: three small crosses.
  const double arm = 0.02 * view, line = 0.0035 * view;
  const std::array<std::pair<double, double>, 3> marks{
      {{-0.30 * view, subject.bevel_um + 0.075 * view},
       {0.30 * view, subject.bevel_um + 0.12 * view},
       {0.02 * view, 0.6 * subject.bevel_um}}};
  for (const auto& [u, v] : marks) truth.marks.push_back(truth.place(u, v));

  std::vector<float> values(std::size_t(shot.width) * std::size_t(shot.height));
  const double glint =
      std::clamp((subject.apex_width_um - 0.6) / 3, 0.0, 1.0);  // a keen apex reflects nothing
  const double lit_x = light.normal(), lit_y = light.normal(),
               lit_n = std::max(1e-9, std::hypot(lit_x, lit_y));
  truth.burr_um = subject.burr_um;
  truth.view_um = view;
  truth.burr_phase = 6.283 * place.uniform();
  // Beyond these no pixel hangs on where the apex wanders: in front is the surround, behind lies
  // the facet.
  double deepest = 2 * wander.size + std::max(1.5 * per, subject.apex_width_um) + 5 * per;
  for (const auto& m : truth.damage) deepest += 2 * m.depth_um;
  double front = -(2 * wander.size + subject.burr_um + per);
  for (const auto& mark : marks) front = std::min(front, mark.second - arm);
  for (int y = 0; y < shot.height; ++y)
    for (int x = 0; x < shot.width; ++x) {
      const Spot d = Spot{double(x), double(y)} - truth.apex_zero;
      const double u = per * dot(d, truth.along), v = per * dot(d, truth.inward);
      const double q = u * lc - v * ls, t = u * ls + v * lc;
      double level;
      if (subject.piece) {
        level = 150 + apex_facet.at(q, t, apex_spacing);
      } else if (v < front) {
        level = 24;
      } else {
        const double gone = missing_at(truth.damage, u),
                     apex = gone + (v < deepest ? wander.at(u, view) : 0);
        const auto inside = [&](double edge) {
          return std::clamp(0.5 + (v - edge) / per, 0.0, 1.0);
        };  // share of the pixel behind an edge
        level = 24;
        double surface = 0;
        const double past_micro = subject.micro_bevel_um > 0 ? inside(subject.micro_bevel_um) : 0,
                     past_bevel = inside(subject.bevel_um);
        if (past_micro < 1 && past_bevel < 1)
          surface = (subject.micro_bevel_um > 0 ? 138 : 172) + apex_facet.at(q, t, apex_spacing);
        if (past_micro > 0 && past_bevel < 1)
          surface += (172 + bevel_facet.at(q, t, bevel_spacing) - surface) * past_micro;
        if (past_bevel > 0)
          surface += (88 + 0.6 * face.at(v, u, face_spacing) - surface) * past_bevel;
        if (glint > 0 && gone <= 0) {
          const double wide = std::max(1.5 * per, subject.apex_width_um),
                       share = std::clamp(0.5 + (apex + wide - v) / per, 0.0, 1.0);
          surface += glint * share * (235 - surface);
        }
        for (const auto& m : truth.damage) {
          const double off = std::abs(u - m.at_um) - 0.5 * m.length_um;
          const double within = std::clamp(0.5 - off / (3 * per), 0.0, 1.0);
          if (within <= 0) continue;
          if (m.kind == MicroscopeDamage::Kind::glint)
            surface +=
                within * std::clamp(0.5 + (apex + 2.5 * per - v) / per, 0.0, 1.0) * (240 - surface);
          if (m.kind == MicroscopeDamage::Kind::roll)
            surface += within * std::clamp(0.5 + (apex + m.depth_um - v) / per, 0.0, 1.0) *
                       (225 - surface);
          if (m.kind == MicroscopeDamage::Kind::chip)
            surface += 0.5 * within *
                       std::clamp(1 - std::abs(v - apex - 1.5 * per) / (2 * per), 0.0, 1.0) *
                       (215 - surface);
        }
        double edge = apex;
        if (subject.burr_um > 0 && gone <= 0) {
          // Stands along most of the edge, ragged at its rim.
          const double high = truth.burr_um_at(u);
          if (v < apex) surface = 205;
          edge = apex - high;
        }
        level += (surface - level) * inside(edge);
        for (const auto& [mu, mv] : marks) {
          const double a = std::abs(u - mu), b = std::abs(v - mv);
          if ((a < line && b < arm) || (b < line && a < arm)) level = 28;
        }
      }
      const double lit = 1 + shot.uneven *
                                 ((x - 0.5 * shot.width) * lit_x / lit_n / shot.width +
                                  (y - 0.5 * shot.height) * lit_y / lit_n / shot.height) *
                                 2;
      values[std::size_t(y) * std::size_t(shot.width) + std::size_t(x)] = float(level * lit);
    }
  blur(values, shot.width, shot.height, shot.blur_px);
  for (int y = 0; y < shot.height; ++y)
    for (int x = 0; x < shot.width; ++x)
      out.image.row(y)[x] = std::uint8_t(
          std::clamp(values[std::size_t(y) * std::size_t(shot.width) + std::size_t(x)] +
                         shot.noise_sd * light.normal() + 0.5,
                     0.0, 255.0));
  if (shot.scale_bar) draw_scale_bar(out.image, truth);
  return out;
}

MicroscopeSubject microscope_subject(const VirtualEdge& edge, double thickness_um,
                                     double micro_bevel_um, bool brittle,
                                     double damage_per_1000_cuts, double view_um,
                                     std::uint64_t place) {
  MicroscopeSubject out;
  out.view_um = view_um;
  out.seed = edge.seed * 1000003 + place;
  for (const char c : edge.run) out.seed = out.seed * 131 + std::uint8_t(c);
  const BevelAngles& bevel = edge.geometry.edge();
  out.bevel_um =
      thickness_um / (std::sin(bevel.left_deg * kRadian) + std::sin(bevel.right_deg * kRadian));
  out.micro_bevel_um = edge.geometry.micro() ? micro_bevel_um : 0;
  out.apex_finish_um = edge.finish.left_um;
  out.bevel_finish_um = std::max(14.0, 2 * edge.finish.left_um);
  out.apex_width_um = blade_of(edge).apex_width_um(double(edge.cuts));
  out.burr_um = edge.residual_burr_um * std::exp(-double(edge.cuts) / 12);
  stats::Random random(out.seed, 21);
  // Each at the cut that did it.
  double cut = 0;
  for (int i = 0; i < 40 && damage_per_1000_cuts > 0; ++i) {
    cut += -std::log(1 - random.uniform()) * 1000 / damage_per_1000_cuts;
    MicroscopeDamage d;
    d.at_um = (random.uniform() - 0.5) * 0.8 * view_um;
    const double kind = random.uniform(), size = std::exp(0.4 * random.normal());
    d.kind = brittle ? (kind < 0.8 ? MicroscopeDamage::Kind::chip : MicroscopeDamage::Kind::glint)
                     : (kind < 0.2   ? MicroscopeDamage::Kind::chip
                        : kind < 0.7 ? MicroscopeDamage::Kind::roll
                                     : MicroscopeDamage::Kind::glint);
    d.length_um = (d.kind == MicroscopeDamage::Kind::glint ? 10 : 14) * size;
    d.depth_um = d.kind == MicroscopeDamage::Kind::chip ? 5 * size : 2.5 * size;
    d.pointed = random.uniform() < 0.5;
    d.from_cuts = std::int64_t(std::ceil(cut));
    const bool apart =
        std::none_of(out.damage.begin(), out.damage.end(), [&](const MicroscopeDamage& o) {
          return std::abs(o.at_um - d.at_um) < 0.5 * (o.length_um + d.length_um) + 4;
        });
    if (d.from_cuts > edge.cuts) break;
    if (apart) out.damage.push_back(d);
  }
  return out;
}

}  // namespace bq::inline rehearsal
