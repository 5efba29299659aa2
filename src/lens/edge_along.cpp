#include "lens/edge_along.h"

#include <algorithm>
#include <cmath>

namespace bq::inline lens {
namespace {

/// At most 400 of them, means of neighbours.
std::vector<double> for_drawing(const std::vector<double>& values) {
  const std::size_t every = std::max<std::size_t>(1, (values.size() + 399) / 400);
  std::vector<double> out;
  for (std::size_t i = 0; i < values.size(); i += every) {
    double sum = 0;
    const std::size_t to = std::min(values.size(), i + every);
    for (std::size_t k = i; k < to; ++k) sum += values[k];
    out.push_back(sum / double(to - i));
  }
  return out;
}

}  // namespace

EdgeAlong along_edge(const ApexTrace& trace) {
  EdgeAlong out;
  if (trace.along_px.size() < 2) return out;
  out.length_px = trace.along_px.back() - trace.along_px.front();
  out.chips = chips_of(trace);
  out.belly_px = trace.sag_px();
  out.depth_px = for_drawing(trace.inward_px);
  double chipped = 0;
  for (const auto& chip : out.chips) chipped += chip.width_px;
  out.chipped_share = std::clamp(chipped / out.length_px, 0.0, 1.0);
  std::vector<double> sound;
  for (std::size_t i = 0; i < trace.along_px.size(); ++i) {
    const bool in_chip = std::any_of(out.chips.begin(), out.chips.end(), [&](const ChipFound& c) {
      return trace.along_px[i] > c.from_px - 2 * trace.unit_px &&
             trace.along_px[i] < c.to_px + 2 * trace.unit_px;
    });
    if (!in_chip) sound.push_back(trace.inward_px[i]);
  }
  if (sound.size() < 32) return out;
  // Noise of single columns: neighbours share two of three columns, the third one none.
  double noise = 0, mean = 0;
  for (std::size_t i = 3; i < sound.size(); ++i) noise += std::pow(sound[i] - sound[i - 3], 2);
  noise /= 2 * double(sound.size() - 3);
  for (const double depth : sound) mean += depth / double(sound.size());
  std::vector<double> pieces;
  double all = 0;
  constexpr std::size_t kPieces = 8;
  for (std::size_t p = 0; p < kPieces; ++p) {
    const std::size_t from = sound.size() * p / kPieces, to = sound.size() * (p + 1) / kPieces;
    double squares = 0;
    for (std::size_t i = from; i < to; ++i) squares += std::pow(sound[i] - mean, 2);
    pieces.push_back(squares / double(to - from));
    all += squares;
  }
  const double variance = all / double(sound.size());
  out.wander_px = std::sqrt(std::max(0.0, variance - noise));
  double spread = 0;
  for (const double piece : pieces) spread += std::pow(piece - variance, 2);
  const double error = std::sqrt(spread / (kPieces - 1) / kPieces);
  // Of a root, where it is not nothing; else what could hide in the noise.
  out.wander_error_px = out.wander_px > 0.1 ? error / (2 * out.wander_px) : std::sqrt(error);
  out.wander_error_px = std::hypot(out.wander_error_px, 0.05 * trace.unit_px);
  return out;
}

Checked<Recession> recession(const ApexTrace& earlier, const ApexTrace& later,
                             const Similarity& map, double map_error_px) {
  // The later apex in the earlier picture, as depth behind the earlier line.
  struct Place {
    double at, depth;
  };
  std::vector<Place> places;
  for (std::size_t i = 0; i < later.along_px.size(); ++i) {
    const Spot p = map.map(later.spot(later.along_px[i], later.inward_px[i])) - earlier.line.at;
    const double at = dot(p, earlier.line.along);
    places.push_back({at, dot(p, earlier.inward) - earlier.bend * at * at});
  }
  const Spot inward = map.map(later.spot(0, 10)) - map.map(later.spot(0, 0));
  if (dot(inward, earlier.inward) <= 0)
    return Refusal{"the blade was taken to lie on different sides in the two pictures"};
  std::sort(places.begin(), places.end(),
            [](const Place& a, const Place& b) { return a.at < b.at; });
  std::vector<double> lost, at;
  std::size_t k = 0;
  for (std::size_t i = 0; i < earlier.along_px.size(); ++i) {
    const double s = earlier.along_px[i];
    while (k + 1 < places.size() && places[k + 1].at < s) ++k;
    if (k + 1 >= places.size() || places[k].at > s || places[k + 1].at < s) continue;
    const double gap = places[k + 1].at - places[k].at,
                 share = gap > 1e-9 ? (s - places[k].at) / gap : 0;
    const double depth = places[k].depth + share * (places[k + 1].depth - places[k].depth);
    lost.push_back(depth - earlier.inward_px[i]);
    at.push_back(s);
  }
  if (lost.size() < 40 / earlier.unit_px || at.back() - at.front() < 40)
    return Refusal{"less than 40 pixels of the apex are seen in both pictures"};
  Recession out;
  out.length_px = at.back() - at.front();
  out.depth_px = for_drawing(lost);
  for (const double d : lost) out.mean_px += d / double(lost.size());
  const double size = map.scale();
  const double shared =
      std::hypot(std::hypot(map_error_px, 0.2), 0.1 * earlier.soft_px, 0.1 * later.soft_px * size);
  // Columns side by side are not independent: pieces of an eighth are.
  double spread = 0;
  constexpr std::size_t kPieces = 8;
  for (std::size_t p = 0; p < kPieces; ++p) {
    const std::size_t from = lost.size() * p / kPieces, to = lost.size() * (p + 1) / kPieces;
    double noise = 0;
    for (std::size_t i = from + 3; i < to; ++i) noise += std::pow(lost[i] - lost[i - 3], 2);
    spread += noise / 2 / std::max<double>(1, double(to - from) - 3);
  }
  const double column = std::sqrt(spread / kPieces);
  out.mean_error_px = std::hypot(shared, column * std::sqrt(3.0 / double(lost.size())));
  for (std::size_t i = 4; i + 4 < lost.size(); ++i) {
    double mean = 0;
    for (std::size_t j = i - 4; j <= i + 4; ++j) mean += lost[j] / 9;
    if (mean > out.most_px) {
      out.most_px = mean;
      out.most_at_px = at[i];
    }
  }
  out.most_error_px = std::hypot(shared, column / std::sqrt(3.0), 0.3 * earlier.unit_px);
  out.area_px2 = out.mean_px * out.length_px;
  out.area_error_px2 = out.mean_error_px * out.length_px;
  return out;
}

}  // namespace bq::inline lens
