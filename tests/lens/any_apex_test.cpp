// What is measured along an apex, and suggested at it, on pictures of a maker that is not ours
// (lens/other_microscope).
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <numbers>

#include "lens/damage_finder.h"
#include "lens/edge_along.h"
#include "lens/other_microscope.h"
#include "lens/registration.h"
#include "lens/scratch_spectrum.h"

namespace bq {
namespace {

const int kApexPictures =
    std::getenv("BQ_THOROUGH") ? std::max(40, std::atoi(std::getenv("BQ_THOROUGH"))) : 6;

OtherScene apex_scene(stats::Random& random, std::uint64_t seed) {
  OtherScene s;
  s.seed = seed;
  s.turn_deg = between(random, -12, 12);
  s.bevel = 320;
  s.apex_at = -130;
  s.soft = between(random, 0.6, 2.2);
  s.grain = between(random, 6, 16);
  s.scratch = between(random, 6, 16);
  s.lay_deg = between(random, 60, 120);
  s.noise = between(random, 1, 5);
  s.fall = between(random, 0, 0.15);
  return s;
}

/// Counts claims that hold.
struct Claims {
  int made = 0, hold = 0;
  double widest = 0, off = 0;
  void add(double said, double error, double truth) {
    ++made;
    hold += std::abs(said - truth) <= 1.96 * error;
    widest += 1.96 * error / std::max(0.5, truth);
    off += said - truth;
  }
  void expect(const char* what) const {
    std::printf("%-28s %5.1f %% of %d inside, claims ± %.0f %%, off by %+.2f px on average\n", what,
                100.0 * hold / std::max(1, made), made, 100 * widest / std::max(1, made),
                off / std::max(1, made));
    EXPECT_GE(hold, made * 0.92 - 3 * std::sqrt(made * 0.92 * 0.08)) << what;
  }
};

Checked<ApexTrace> traced(const OtherPicture& picture) {
  const auto ends = find_apex(picture.image);
  if (!ends) return Refusal{"no apex"};
  return trace_apex(picture.image, ends->first, ends->second);
}

/// Where the trace's places lie along the scene's edge.
double along_scene(const OtherPicture& picture, const ApexTrace& trace, double at) {
  return dot(trace.spot(at) - picture.middle, picture.along);
}

TEST(AnyApex, TheBandBehindItLiesInsideWhatIsClaimed) {
  stats::Random random(101);
  Claims mean, ninth, most;
  int missed = 0, invented = 0;
  double share_off = 0;
  for (int k = 0; k < 2 * kApexPictures; ++k) {
    OtherScene scene = apex_scene(random, std::uint64_t(100 + k));
    const bool has = k % 4 != 3;
    const double from = between(random, -300, -100), to = from + between(random, 120, 380);
    const OtherBand band{from, to, between(random, 5, 22), between(random, 0, 0.4),
                         between(random, 220, 250)};
    if (has) scene.bands_behind = {band};
    const OtherPicture picture = other_picture(scene);
    const auto trace = traced(picture);
    ASSERT_TRUE(trace) << trace.refusal().reason;
    const auto found = along_edge(*trace).band;
    if (!has) {
      invented += found && found->share > 0.02;
      continue;
    }
    if (!found) {
      ++missed;
      continue;
    }
    std::vector<double> widths;
    for (double u = from; u <= to; u += 0.5) widths.push_back(other_band_width(band, u));
    double truth = 0;
    for (const double width : widths) truth += width / double(widths.size());
    std::sort(widths.begin(), widths.end());
    mean.add(found->mean_px, found->mean_error_px, truth);
    ninth.add(found->ninth_px, found->mean_error_px,
              widths[std::size_t(0.9 * double(widths.size() - 1))]);
    most.add(found->most_px, found->most_error_px, widths.back());
    share_off += std::abs(found->share - (to - from) / 800) / (2 * kApexPictures);
  }
  mean.expect("band, mean");
  ninth.expect("band, nine in ten below");
  most.expect("band, widest");
  std::printf("band: %d missed, %d invented, share off by %.3f\n", missed, invented, share_off);
  EXPECT_LE(missed, kApexPictures / 15);
  EXPECT_LE(invented, kApexPictures / 30 + 1);
  EXPECT_LT(share_off, 0.05);
}

TEST(AnyApex, TheHeightsOfABurrThatStandsLieInsideWhatIsClaimed) {
  stats::Random random(106);
  Claims mean, ninth, most;
  int missed = 0, invented = 0, plain = 0;
  for (int k = 0; k < 2 * kApexPictures; ++k) {
    OtherScene scene = apex_scene(random, std::uint64_t(1500 + k));
    scene.turn_deg = between(random, -6, 6);
    scene.apex_at = -60;
    scene.bevel = 260;
    const bool has = k % 2 == 0;
    scene.burr = has ? between(random, 8, 40) : 0;
    scene.burr_bright =
        between(random, 0, 1) < 0.5 ? between(random, 90, 115) : between(random, 190, 230);
    // An edge without one that is uneven all the same.
    if (!has) {
      scene.wave = between(random, 0, 5);
      scene.rough = between(random, 0, 4);
      scene.notches = {{between(random, -200, 200), 60, 25, k % 4 == 1}};
      // Chips through a bright band, whose inner side is a straight line behind them.
      if (k % 6 == 5) {
        scene.wave = scene.rough = 0;
        scene.bands_behind = {{-390, 390, 13, 0, 235}};
        for (const double at : {-280, -90, 100, 290})
          scene.notches.push_back({at + between(random, -30, 30), 50, 20, false});
      }
    }
    const OtherPicture picture = other_picture(scene);
    const auto trace = traced(picture);
    if (!trace) {
      missed += has;
      continue;
    }
    const auto found = standing_burr(picture.image, *trace);
    if (!has) {
      ++plain;
      invented += found.has_value();
      continue;
    }
    if (!found) {
      ++missed;
      continue;
    }
    std::vector<double> heights;
    for (const double at : trace->along_px)
      if (const double high = other_burr_height(scene, along_scene(picture, *trace, at)); high >= 2)
        heights.push_back(high);
    double truth = 0;
    for (const double high : heights) truth += high / double(heights.size());
    std::sort(heights.begin(), heights.end());
    mean.add(found->mean_px, found->mean_error_px, truth);
    ninth.add(found->ninth_px, found->mean_error_px,
              heights[std::size_t(0.9 * double(heights.size() - 1))]);
    most.add(found->most_px, found->most_error_px, heights[heights.size() - 5]);
  }
  mean.expect("burr, mean height");
  ninth.expect("burr, nine in ten below");
  most.expect("burr, highest");
  std::printf("burr: %d of %d missed, %d of %d invented\n", missed, kApexPictures, invented, plain);
  EXPECT_LE(missed, 0.15 * kApexPictures + 1);
  EXPECT_LE(invented, 0.05 * plain + 1);
}

TEST(AnyApex, WavesAndRaggednessArePartedAsTheFilterParts) {
  stats::Random random(102);
  Claims wavy, ragged;
  constexpr double kCutoff = 80;
  for (int k = 0; k < 2 * kApexPictures; ++k) {
    OtherScene scene = apex_scene(random, std::uint64_t(400 + k));
    scene.turn_deg = between(random, -4, 4);
    scene.wave = between(random, 0, 5);
    scene.wave_px = between(random, 160, 260);
    scene.rough = between(random, 0, 4);
    scene.rough_px = between(random, 6, 14);
    if (k % 3 == 0) scene.notches = {{between(random, -200, 200), 30, 14, true}};
    const OtherPicture picture = other_picture(scene);
    const auto trace = traced(picture);
    ASSERT_TRUE(trace) << trace.refusal().reason;
    const EdgeAlong found = along_edge(*trace, kCutoff);
    // The truth through a filter of the test's own, straight line taken out.
    std::vector<double> at, depth;
    for (const double s : trace->along_px) {
      at.push_back(s);
      depth.push_back(other_unevenness(scene, along_scene(picture, *trace, s)));
    }
    double n = double(at.size()), sx = 0, sy = 0, sxx = 0, sxy = 0;
    for (std::size_t i = 0; i < at.size(); ++i) {
      sx += at[i];
      sy += depth[i];
      sxx += at[i] * at[i];
      sxy += at[i] * depth[i];
    }
    const double slope = (n * sxy - sx * sy) / (n * sxx - sx * sx), base = (sy - slope * sx) / n;
    double long_squares = 0, short_squares = 0;
    const auto passed = [&](std::size_t i, double cutoff) {
      double sum = 0, weight = 0;
      for (std::size_t j = 0; j < at.size(); ++j) {
        const double w =
            std::exp(-std::numbers::pi * std::pow((at[i] - at[j]) / (0.4697 * cutoff), 2));
        sum += w * (depth[j] - base - slope * at[j]);
        weight += w;
      }
      return sum / weight;
    };
    for (std::size_t i = 0; i < at.size(); ++i) {
      const double wave = passed(i, kCutoff);
      long_squares += wave * wave / n;
      short_squares += std::pow(passed(i, 0.1 * kCutoff) - wave, 2) / n;
    }
    wavy.add(found.wavy_px, found.wavy_error_px, std::sqrt(long_squares));
    if (found.ragged_px)
      ragged.add(*found.ragged_px, found.ragged_error_px, std::sqrt(short_squares));
  }
  wavy.expect("waviness");
  ragged.expect("raggedness");
}

TEST(AnyApex, SuggestedSizesLieInsideWhatIsClaimedOnDustAndSpecularLightToo) {
  stats::Random random(103);
  Claims widths, depths;
  int chips = 0, found = 0, extra = 0, unsure = 0;
  for (int k = 0; k < 2 * kApexPictures; ++k) {
    OtherScene scene = apex_scene(random, std::uint64_t(700 + k));
    if (k % 2 == 0) {
      scene.dust = 30;
      scene.fibres = 2;
      scene.oil = 3;
    } else {
      scene.bands = 30;
    }
    for (const double at : {-220, 10, 230})
      scene.notches.push_back({at + between(random, -40, 40), between(random, 20, 60),
                               between(random, 8, 30), random.uniform() < 0.5});
    const OtherPicture picture = other_picture(scene);
    const auto trace = traced(picture);
    chips += 3;
    if (!trace) continue;
    for (const DamageHint& hint : find_damage(*trace)) {
      if (hint.kind != ApexDamage::chip) continue;
      const double u = along_scene(picture, *trace, 0.5 * (hint.from_px + hint.to_px));
      const OtherNotch* nearest = nullptr;
      for (const OtherNotch& notch : scene.notches)
        if (std::abs(notch.at - u) < notch.length) nearest = &notch;
      if (!nearest) {
        extra += hint.size_sure() && hint.length_sure();
        continue;
      }
      ++found;
      unsure += !hint.size_sure() || !hint.length_sure();
      if (hint.length_sure())
        widths.add(hint.to_px - hint.from_px, hint.length_error_px, nearest->length);
      if (hint.size_sure()) depths.add(hint.size_px, hint.size_error_px, nearest->depth);
    }
  }
  std::printf("chips suggested: %d of %d, %d of no size; %d more with a size where none is\n",
              found, chips, unsure, extra);
  widths.expect("chip suggested, length");
  depths.expect("chip suggested, depth");
  EXPECT_GE(found, 0.9 * chips);
  EXPECT_LE(extra, 0.05 * chips + 1);
}

TEST(AnyApex, ACrosshatchIsCountedInBothDirections) {
  stats::Random random(104);
  Claims spacings, directions;
  int refused = 0, one = 0, two_of_one = 0;
  for (int k = 0; k < 2 * kApexPictures; ++k) {
    const double spacing = between(random, 9, 24), lay = between(random, -90, 90);
    const GreyImage image =
        other_scratches(900, 500, spacing, lay, between(random, 20, 50), between(random, 1, 5),
                        between(random, 0.5, 1.2), std::uint64_t(900 + k), k % 3 != 2);
    const auto found = find_scratches(image, {450, 250}, 480, 470);
    if (k % 3 == 2) {
      two_of_one += found && found->crossing;
      continue;
    }
    if (!found) {
      ++refused;
      std::printf("  refused: %s\n", found.refusal().reason.c_str());
      continue;
    }
    if (!found->crossing) {
      ++one;
      continue;
    }
    spacings.add(found->spacing_px, found->spacing_error_px, spacing);
    spacings.add(found->crossing->spacing_px, found->crossing->spacing_error_px, spacing);
    for (const auto& [deg, error] :
         {std::pair{found->direction_deg, found->direction_error_deg},
          std::pair{found->crossing->direction_deg, found->crossing->direction_error_deg}}) {
      const double off = std::remainder(deg - lay, 180.0), other = std::remainder(off - 60, 180.0);
      directions.add(std::min(std::abs(off), std::abs(other)), error, 0);
    }
  }
  std::printf("crosshatch: %d refused, %d taken for one, %d of one direction taken for two\n",
              refused, one, two_of_one);
  spacings.expect("crosshatch, spacing");
  directions.expect("crosshatch, direction");
  EXPECT_LE(refused, 0.15 * kApexPictures + 1);
  EXPECT_LE(one, 0.05 * kApexPictures);
  EXPECT_LE(two_of_one, 0.03 * kApexPictures);
}

TEST(AnyApex, MarksOnBareScratchesAreNeverFarOffWithoutAWarning) {
  stats::Random random(105);
  int silent = 0, far = 0, warned_good = 0, good = 0, worst_marks = 0;
  double worst = 0;
  for (int k = 0; k < 4 * kApexPictures; ++k) {
    OtherScene one = apex_scene(random, std::uint64_t(1200 + k)), other = one;
    other.turn_deg += between(random, -3, 3);
    other.noise = between(random, 1, 5);
    other.soft = one.soft + between(random, -0.3, 0.8);
    other.apex_at += between(random, -20, 20);
    // Half of them have something to be told by; of the others some were honed anew between.
    const bool pitted = k % 2 == 0;
    if (pitted)
      for (int i = 0; i < 3; ++i)
        one.pits.push_back({-240 + 240.0 * i + between(random, -40, 40), between(random, 60, 240)});
    other.pits = one.pits;
    if (k % 8 == 3) other.seed += 7;
    const OtherPicture a = other_picture(one), b = other_picture(other);
    std::vector<std::pair<Spot, Spot>> marks;
    const int count = k % 3 == 0 ? 2 : 3;
    const double hand = k % 4 < 2 ? 2 : 1;
    for (int i = 0; i < count; ++i) {
      const Spot shown =
          pitted ? one.pits[std::size_t(i)]
                 : Spot{-260 + 260.0 * i + between(random, -60, 60), between(random, 50, 260)};
      const auto shaken = [&](Spot p) {
        return p + Spot{hand * random.normal(), hand * random.normal()};
      };
      marks.emplace_back(shaken(a.place(shown.x, shown.y)), shaken(b.place(shown.x, shown.y)));
    }
    const auto laid = register_pictures(a.image, b.image, marks);
    if (!laid) continue;
    double off = 0;
    for (const double u : {-300.0, 0.0, 300.0})
      for (const double v : {0.0, 250.0})
        off = std::max(off, length(laid->map.map(a.place(u, v)) - b.place(u, v)));
    const bool warned = !laid->doubt.empty();
    far += off > 2;
    if (off > 2 && !warned) {
      ++silent;
      worst = std::max(worst, off);
      worst_marks = count;
    }
    if (pitted && off <= 2) {
      ++good;
      warned_good += warned;
    }
  }
  std::printf(
      "bare scratches: %d of %d more than 2 px off, %d of them without a word (worst %.1f "
      "px, %d marks); %d of %d good ones doubted\n",
      far, 4 * kApexPictures, silent, worst, worst_marks, warned_good, good);
  EXPECT_LE(silent, 1 + 4 * kApexPictures / 50);
  EXPECT_LE(warned_good, 0.25 * good + 2);
}

}  // namespace
}  // namespace bq
