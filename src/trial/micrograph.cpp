#include "trial/micrograph.h"

#include <array>
#include <cmath>
#include <map>
#include <tuple>
#include <utility>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline trial {
namespace {
constexpr std::array<std::string_view, kLensMeasures> kNames{
    "bevel width", "micro-bevel width", "burr height",      "roll width",
    "chip",        "scratch spacing",   "apex straightness"};
}

std::string_view name_of(LensMeasureKind kind) { return kNames[std::size_t(kind)]; }
std::optional<LensMeasureKind> parse_lens_measure(std::string_view text) {
  for (std::size_t i = 0; i < kNames.size(); ++i)
    if (kNames[i] == text) return LensMeasureKind(i);
  return std::nullopt;
}
std::string_view second_of(LensMeasureKind kind) {
  return kind == LensMeasureKind::chip        ? "depth"
         : kind == LensMeasureKind::scratches ? "direction"
                                              : "";
}

void give_sizes(std::vector<MagnificationScale>& scales, const std::vector<Micrograph>& pictures) {
  for (auto& scale : scales) {
    if (scale.width > 0) continue;
    std::map<std::pair<int, int>, int> sizes;
    for (const auto& m : pictures) {
      if (m.magnification != scale.magnification || m.width < 1) continue;
      const bool made_in = !m.name.empty() && scale.scale.how.starts_with(m.name + ": ");
      sizes[{m.width, m.height}] += made_in ? 1 << 20 : 1;
    }
    int most = 0;
    for (const auto& [size, count] : sizes)
      if (count > most) {
        most = count;
        std::tie(scale.width, scale.height) = size;
      }
  }
}

std::string describe(const Micrograph& m) {
  std::string out = m.name;
  if (!m.stone.empty())
    return said("{out}, sample piece of {stone}", {{"out", out}, {"stone", m.stone}});
  if (!m.run.empty())
    out += said(", run {run}", {{"run", m.run}});
  else if (!m.blade.empty())
    out += said(", blade {blade}", {{"blade", m.blade}});
  if (m.cuts) out += said(" after {cuts} cuts", {{"cuts", std::to_string(*m.cuts)}});
  if (m.side) out += ", " + std::string(name_of(*m.side));
  if (m.at_mm) out += said(", {at_mm} mm from the heel", {{"at_mm", print_number(*m.at_mm, 3)}});
  return out;
}

bool same_place(const Micrograph& one, const Micrograph& other) {
  if (!one.stone.empty() || !other.stone.empty()) return one.stone == other.stone;
  if (one.blade.empty() && one.run.empty()) return false;
  const bool same_edge = !one.blade.empty() && !other.blade.empty()
                             ? one.blade == other.blade
                             : one.run == other.run && !one.run.empty();
  const bool same_at = one.at_mm.has_value() == other.at_mm.has_value() &&
                       (!one.at_mm || std::abs(*one.at_mm - *other.at_mm) <= 0.5);
  return same_edge && one.side == other.side && same_at && one.mark == other.mark;
}

}  // namespace bq::inline trial
