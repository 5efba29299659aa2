// Measures held against a second maker of pictures (lens/other_microscope), which is not the one
// the program simulates with: the truth has to lie inside what is claimed, or nothing is claimed.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <map>
#include <numbers>
#include <string>

#include "lens/other_microscope.h"
#include "lens/registration.h"
#include "lens/scale_mark.h"
#include "lens/scratch_spectrum.h"
#include "workflow/lens_study.h"

namespace bq {
namespace {

/// Pictures of each kind; BQ_THOROUGH=1 plays as many as the methods page quotes.
const int kOfEach = std::getenv("BQ_THOROUGH") ? 200 : 5;

struct Kind {
  const char* name;
  std::function<void(OtherScene&, stats::Random&)> change;
  double most_refused = 0.1;
};

OtherScene plain_scene(stats::Random& random, std::uint64_t seed) {
  OtherScene s;
  s.seed = seed;
  s.turn_deg = between(random, -10, 10);
  s.bevel = between(random, 80, 260);
  s.apex_at = -0.5 * s.bevel + between(random, -30, 30);
  s.soft = between(random, 0.6, 1.6);
  s.grain = between(random, 6, 16);
  s.scratch = between(random, 6, 20);
  s.lay_deg = between(random, 55, 125);
  s.noise = between(random, 1, 6);
  s.fall = between(random, 0, 0.2);
  return s;
}

const std::vector<Kind>& kinds() {
  using S = OtherScene;
  using R = stats::Random;
  static const std::vector<Kind> all{
      {"plain", [](S&, R&) {}},
      {"dark bevel on bright ground",
       [](S& s, R&) {
         s.ground = 225;
         s.face = 80;
         s.body = 150;
       }},
      {"light falls by 60 %", [](S& s, R&) { s.fall = 0.6; }},
      {"specular bands", [](S& s, R& r) { s.bands = between(r, 15, 40); }},
      // Chips smaller than the blur are refused, as they must be.
      {"out of focus", [](S& s, R& r) { s.soft = between(r, 3, 9); }, 0.3},
      {"out of focus at one end", [](S& s, R& r) { s.soft_far = between(r, 4, 10); }},
      {"JPEG", [](S& s, R& r) { s.jpeg = int(between(r, 35, 90)); }},
      {"dust, fibres, oil",
       [](S& s, R& r) {
         s.dust = int(between(r, 10, 60));
         s.fibres = int(between(r, 1, 5));
         s.oil = int(between(r, 1, 5));
       },
       0.2},
      {"rounded shoulders",
       [](S& s, R& r) {
         s.round = between(r, 6, 30);
         s.skew = between(r, 0.6, 1.7);
       }},
      {"bellies", [](S& s, R& r) { s.sag = between(r, 6, 40) * (r.uniform() < 0.5 ? -1 : 1); }},
      {"any rotation",
       [](S& s, R& r) {
         s.turn_deg = between(r, -180, 180);
         s.bevel = between(r, 80, 200);
       }},
      {"320 px",
       [](S& s, R& r) {
         s.width = 320;
         s.height = 240;
         s.bevel = between(r, 40, 110);
         s.apex_at = -0.5 * s.bevel;
         s.grain = between(r, 3, 7);
       }},
      {"large pictures",
       [](S& s, R& r) {
         s.width = 4200;
         s.height = 2200;
         s.bevel = between(r, 600, 1500);
         s.apex_at = -0.5 * s.bevel;
         s.turn_deg = between(r, -5, 5);
         s.soft = between(r, 2, 7);
         s.grain = between(r, 30, 80);
       }},
  };
  return all;
}

struct Tally {
  int asked = 0, refused = 0, inside = 0;
  double widest = 0;  ///< claimed half-width, relative to the figure, mean
  std::map<std::string, int> why;
  void add(const Checked<LensTake>& take, double truth, bool second = false) {
    ++asked;
    if (!take) {
      ++refused;
      ++why[take.refusal().reason.substr(0, 60)];
      return;
    }
    const LensMeasure measure{LensMeasureKind::chip, {*take}, ""};
    const LensValue value = value_of(measure, {1, 0, "", {}});
    const double figure = second ? value.second.value_or(0) : value.value,
                 half = second ? value.second_plus_minus.value_or(0) : value.plus_minus;
    inside += std::abs(figure - truth) <= half;
    widest += half / truth;
  }
  void add(const Tally& other) {
    asked += other.asked;
    refused += other.refused;
    inside += other.inside;
  }
  [[nodiscard]] double coverage() const {
    return asked == refused ? 1 : double(inside) / (asked - refused);
  }
  void print(const char* kind, const char* what) const {
    std::printf("%-30s %-12s inside %5.1f %%, refused %5.1f %%, claims ± %.1f %%\n", kind, what,
                100 * coverage(), 100.0 * refused / asked,
                100 * widest / std::max(1, asked - refused));
    for (const auto& [reason, count] : why)
      std::printf("    %d times: %s\n", count, reason.c_str());
  }
};

/// Few pictures scatter: three standard errors below what is promised.
double least_coverage(int n) { return 0.92 - 3 * std::sqrt(0.92 * 0.08 / std::max(1, n)); }

TEST(AnyPicture, WidthsLieInsideWhatIsClaimed) {
  Tally all;
  for (const Kind& kind : kinds()) {
    SCOPED_TRACE(kind.name);
    stats::Random random(77);
    Tally tally;
    const bool large = std::string(kind.name) == "large pictures";
    const int count = large ? std::max(4, kOfEach / 8) : kOfEach;
    for (int k = 0; k < count; ++k) {
      OtherScene scene = plain_scene(random, std::uint64_t(1000 + k));
      kind.change(scene, random);
      const OtherPicture picture = other_picture(scene);
      const double zoom = std::max(1.0, scene.width / 900.0);
      for (const double u : {-0.2, 0.05, 0.25}) {
        const auto shown = [&](double v) {
          return picture.place(u * scene.width, v) +
                 Spot{between(random, -4, 4) * zoom, between(random, -4, 4) * zoom};
        };
        tally.add(take_measure(picture.image, LensMeasureKind::bevel_width, shown(0),
                               shown(scene.bevel), {true, false, false, zoom}),
                  scene.bevel);
      }
    }
    tally.print(kind.name, "width");
    all.add(tally);
    EXPECT_GE(tally.coverage(), least_coverage(tally.asked - tally.refused));
    EXPECT_LE(double(tally.refused) / tally.asked,
              kind.most_refused + 2 * std::sqrt(0.09 / tally.asked));
  }
  EXPECT_GE(all.coverage(), least_coverage(all.asked - all.refused)) << "all kinds together";
}

TEST(AnyPicture, NotchesLieInsideWhatIsClaimed) {
  Tally all_widths, all_depths;
  for (const Kind& kind : kinds()) {
    SCOPED_TRACE(kind.name);
    stats::Random random(78);
    Tally width, depth;
    const bool large = std::string(kind.name) == "large pictures";
    const int count = large ? std::max(4, kOfEach / 8) : kOfEach;
    for (int k = 0; k < count; ++k) {
      OtherScene scene = plain_scene(random, std::uint64_t(3000 + k));
      kind.change(scene, random);
      const double size = scene.width / 800.0;
      const OtherNotch notch{between(random, -150, 150) * size, between(random, 24, 70) * size,
                             between(random, 10, 30) * size, k % 2 == 0};
      scene.notches = {notch};
      const OtherPicture picture = other_picture(scene);
      const auto shown = [&](double u) {
        return picture.place(u, 0) +
               Spot{between(random, -4, 4) * size, between(random, -4, 4) * size};
      };
      const auto take =
          take_measure(picture.image, LensMeasureKind::chip, shown(notch.at - 0.5 * notch.length),
                       shown(notch.at + 0.5 * notch.length), {true, false, false, size});
      width.add(take, notch.length);
      depth.add(take, notch.depth, true);
    }
    width.print(kind.name, "chip, width");
    depth.print(kind.name, "chip, depth");
    all_widths.add(width);
    all_depths.add(depth);
    EXPECT_GE(width.coverage(), least_coverage(width.asked - width.refused));
    EXPECT_GE(depth.coverage(), least_coverage(depth.asked - depth.refused));
    EXPECT_LE(double(width.refused) / width.asked,
              kind.most_refused + 2 * std::sqrt(0.09 / width.asked));
  }
  EXPECT_GE(all_widths.coverage(), least_coverage(all_widths.asked - all_widths.refused));
  EXPECT_GE(all_depths.coverage(), least_coverage(all_depths.asked - all_depths.refused));
}

TEST(AnyPicture, ScaleMarksAreFoundOrRefused) {
  stats::Random random(79);
  const std::pair<BarKind, const char*> marks[] = {
      {BarKind::thick, "thick bar"},      {BarKind::plate, "bar on a plate"},
      {BarKind::thin, "thin line"},       {BarKind::arrows, "arrows"},
      {BarKind::ends, "line with ticks"}, {BarKind::ruler, "ruler"}};
  for (const auto& [kind, name] : marks) {
    SCOPED_TRACE(name);
    int asked = 0, refused = 0, inside = 0;
    double claimed = 0, worst = 0;
    for (int k = 0; k < 2 * kOfEach; ++k) {
      OtherScene scene = plain_scene(random, std::uint64_t(5000 + k));
      scene.apex_at = -600;  // the mark lies on the bevel, or on plain ground
      scene.bevel = k % 2 ? 2000 : 400;
      OtherPicture picture = other_picture(scene);
      OtherBar bar;
      bar.kind = kind;
      bar.length = between(random, 90, 420);
      bar.from = {between(random, 60, 300), between(random, 120, 500)};
      bar.turn_deg = kind == BarKind::ruler ? between(random, -3, 3) : 0;
      bar.line = kind == BarKind::thin ? between(random, 1, 3) : between(random, 2, 4);
      bar.bright = k % 3 || kind == BarKind::plate ? 250 : 5;
      bar.soft = between(random, 0, 1.5);
      draw_bar(picture.image, bar);
      const double turn = bar.turn_deg * std::numbers::pi / 180;
      const Spot along{std::cos(turn), std::sin(turn)};
      const Spot from = bar.from + (kind == BarKind::ruler ? -12.0 : 0.0) * turned(along);
      const auto near = [&](Spot p) {
        return p + Spot{between(random, -6, 6), between(random, -4, 4)};
      };
      const auto found =
          find_scale_mark(picture.image, near(from), near(from + bar.length * along));
      ++asked;
      if (!found) {
        ++refused;
        continue;
      }
      const double off = std::abs(found->length_px - bar.length);
      inside += off <= 1.96 * found->error_px;
      worst = std::max(worst, off);
      claimed += 1.96 * found->error_px / bar.length;
    }
    std::printf("%-16s inside %5.1f %%, refused %5.1f %%, claims ± %.2f %%, worst %.1f px\n", name,
                100.0 * inside / std::max(1, asked - refused), 100.0 * refused / asked,
                100 * claimed / std::max(1, asked - refused), worst);
    EXPECT_GE(double(inside) / std::max(1, asked - refused), least_coverage(asked - refused));
    EXPECT_LE(double(refused) / asked, 0.1 + 2 * std::sqrt(0.09 / asked));
    EXPECT_LT(worst, 8);
  }
}

TEST(AnyPicture, WhereNoScaleMarkIsNoneIsFound) {
  stats::Random random(80);
  int found = 0;
  for (int k = 0; k < 4 * kOfEach; ++k) {
    OtherScene scene = plain_scene(random, std::uint64_t(7000 + k));
    scene.dust = 30;
    const OtherPicture picture = other_picture(scene);
    const Spot from{between(random, 40, 500), between(random, 40, 560)};
    const Spot to = from + Spot{between(random, 80, 240), between(random, -3, 3)};
    found += bool(find_scale_mark(picture.image, from, to));
  }
  EXPECT_LE(found, 1 + 4 * kOfEach / 50) << "scratches and dust are no scale";
}

TEST(AnyPicture, ScratchesAreCountedOrRefusedAsTooFine) {
  for (const double spacing : {2.5, 3.5, 4.5, 6.0, 8.0, 12.0, 20.0, 35.0}) {
    SCOPED_TRACE(spacing);
    stats::Random random(81);
    int refused = 0, inside = 0;
    double worst = 0;
    std::map<std::string, int> why;
    const int count = kOfEach;
    for (int k = 0; k < count; ++k) {
      const double soft = between(random, 0.5, 1.2);
      const GreyImage image =
          other_scratches(900, 500, spacing, between(random, -90, 90), between(random, 20, 60),
                          between(random, 1, 5), soft, std::uint64_t(k + 1));
      const auto found = find_scratches(image, {450, 250}, 480, 470);
      if (!found) {
        ++refused;
        ++why[found.refusal().reason.substr(0, 50)];
        continue;
      }
      const double off = found->spacing_px / spacing - 1;
      worst = std::abs(off) > std::abs(worst) ? off : worst;
      inside += std::abs(found->spacing_px - spacing) <= 1.96 * found->spacing_error_px;
    }
    std::printf("spacing %4.1f px: inside %3d of %3d, refused %d, worst %+.0f %%\n", spacing,
                inside, count - refused, refused, 100 * worst);
    for (const auto& [reason, times] : why)
      std::printf("    %d times: %s\n", times, reason.c_str());
    const int wrong = count - refused - inside;
    if (spacing >= 6) {
      EXPECT_LE(double(refused) / count, 0.1 + 2 * std::sqrt(0.09 / count));
      EXPECT_GE(double(inside) / std::max(1, count - refused), least_coverage(count - refused));
    } else {
      EXPECT_LE(double(wrong) / count, 0.05 + 2 * std::sqrt(0.05 / count)) << "merged, not refused";
    }
  }
}

TEST(AnyPicture, ABellyAChippedEdgeAndALargePictureAreFoundByTheFinder) {
  stats::Random random(82);
  int chips = 0, found = 0, extra = 0, judged = 0, inside = 0;
  for (int k = 0; k < 8 * (1 + kOfEach / 10); ++k) {
    OtherScene scene = plain_scene(random, std::uint64_t(8000 + k));
    const double size = k % 4 == 3 ? 4 : 1;
    if (k % 4 == 1) scene.sag = 13;
    if (k % 4 == 2) {
      scene.ground = 225;
      scene.face = 80;
    }
    if (size > 1) {
      scene.width = 3200;
      scene.height = 2000;
      scene.grain *= size;
      scene.soft = between(random, 1.5, 5);
      scene.bevel *= size;
      scene.apex_at = -500;
    }
    for (const double at : {-250, -80, 110, 270})
      scene.notches.push_back({(at + between(random, -20, 20)) * size,
                               between(random, 26, 60) * size, between(random, 12, 40) * size,
                               random.uniform() < 0.5});
    const OtherPicture picture = other_picture(scene);
    const auto along = stretch_along(picture.image, false, 0);
    chips += 4;
    if (!along) continue;
    found += std::min<int>(4, int(along->chips.size()));
    extra += std::max(0, int(along->chips.size()) - 4);
    for (std::size_t i = 0; i < along->chips.size() && along->chips.size() == 4; ++i) {
      // In order along the edge, one way or the other.
      ++judged;
      const double width = along->chips[i].first;
      inside += std::abs(width - scene.notches[i].length) < 0.25 * scene.notches[i].length ||
                std::abs(width - scene.notches[3 - i].length) < 0.25 * scene.notches[3 - i].length;
    }
  }
  std::printf("chips along the edge: %d of %d, %d too many; %d of %d within a quarter\n", found,
              chips, extra, inside, judged);
  EXPECT_GE(found, 0.92 * chips);
  EXPECT_LE(extra, 0.05 * chips) << "a large chip falls to pieces";
  EXPECT_GE(inside, 0.9 * judged);
}

TEST(AnyPicture, HowFarAnEdgeFellBackLiesInsideWhatIsClaimed) {
  stats::Random random(83);
  Tally mean;
  for (int k = 0; k < 2 * kOfEach; ++k) {
    OtherScene before = plain_scene(random, std::uint64_t(9000 + k)), after = before;
    const double truth = between(random, 0, 20);
    after.bevel -= truth;
    after.apex_at += truth;
    // The second picture is taken anew: turned, shifted, lit and focused otherwise.
    const double turned_by = between(random, -3, 3);
    after.turn_deg += turned_by;
    after.noise = between(random, 1, 6);
    after.soft = between(random, 0.6, 2.5);
    after.face += between(random, -20, 20);
    const OtherPicture one = other_picture(before), other = other_picture(after);
    // Marks on the bevel, shown within a pixel and a half.
    SamePlace laid;
    laid.other = 1;
    for (const auto& [u, v] :
         {std::pair{-250.0, 60.0}, {240.0, 50.0}, {10.0, 75.0}, {-120.0, 70.0}}) {
      const auto shaken = [&](Spot p) {
        return p + Spot{0.8 * random.normal(), 0.8 * random.normal()};
      };
      laid.marks.emplace_back(shaken(other.place(u, v - truth)), shaken(one.place(u, v)));
    }
    laid.map = *similarity_of(laid.marks);
    double squares = 0;
    for (const auto& [here, there] : laid.marks) {
      const Spot off = laid.map.map(here) - there;
      squares += dot(off, off);
    }
    laid.residual_px = std::sqrt(squares / double(laid.marks.size()));
    const auto whole = stretch_since(one.image, other.image, laid, false, 0);
    ++mean.asked;
    if (!whole) {
      ++mean.refused;
      continue;
    }
    const auto& found = whole->recession;
    mean.inside += std::abs(found->mean_px - truth) <= 1.96 * found->mean_error_px;
    mean.widest += 1.96 * found->mean_error_px / std::max(1.0, truth);
  }
  mean.print("two pictures of a place", "fell back");
  EXPECT_GE(mean.coverage(), least_coverage(mean.asked - mean.refused));
  EXPECT_LE(mean.refused, 0.1 * mean.asked);
}

}  // namespace
}  // namespace bq
