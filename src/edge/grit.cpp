#include "edge/grit.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <optional>
#include <span>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

/// number, mean size (µm), tolerance of the mean (µm; 0: the standard gives limits of another
/// kind).
struct Entry {
  int number;
  double mean_um, tolerance_um;
};

// FEPA 43-1 (ISO 6344): P12…P220 mean from sieving, P240…P2500 d50 by sedimentation with tolerance.
constexpr Entry kFepaP[] = {
    {12, 1815, 0},    {16, 1324, 0},     {20, 1000, 0},    {24, 764, 0},     {30, 642, 0},
    {36, 538, 0},     {40, 425, 0},      {50, 336, 0},     {60, 269, 0},     {80, 201, 0},
    {100, 162, 0},    {120, 125, 0},     {150, 100, 0},    {180, 82, 0},     {220, 68, 0},
    {240, 58.5, 2},   {280, 52.2, 2},    {320, 46.2, 1.5}, {360, 40.5, 1.5}, {400, 35.0, 1.5},
    {500, 30.2, 1.5}, {600, 25.8, 1},    {800, 21.8, 1},   {1000, 18.3, 1},  {1200, 15.3, 1},
    {1500, 12.6, 1},  {2000, 10.3, 0.8}, {2500, 8.4, 0.5}};
// FEPA 42-1 (ISO 8486): F4…F220 mean from sieving, F230…F2000 d50 by sedimentation with tolerance.
constexpr Entry kFepaF[] = {
    {4, 4890, 0},     {5, 4125, 0},     {6, 3460, 0},     {7, 2900, 0},     {8, 2460, 0},
    {10, 2085, 0},    {12, 1765, 0},    {14, 1470, 0},    {16, 1230, 0},    {20, 1040, 0},
    {22, 885, 0},     {24, 745, 0},     {30, 625, 0},     {36, 525, 0},     {40, 438, 0},
    {46, 370, 0},     {54, 310, 0},     {60, 260, 0},     {70, 218, 0},     {80, 185, 0},
    {90, 154, 0},     {100, 129, 0},    {120, 109, 0},    {150, 82, 0},     {180, 69, 0},
    {220, 58, 0},     {230, 53, 3},     {240, 44.5, 2},   {280, 36.5, 1.5}, {320, 29.2, 1.5},
    {360, 22.8, 1.5}, {400, 17.3, 1},   {500, 12.8, 1},   {600, 9.3, 1},    {800, 6.5, 1},
    {1000, 4.5, 0.8}, {1200, 3.0, 0.5}, {1500, 2.0, 0.4}, {2000, 1.2, 0.3}};
// JIS R 6001-2 (1998), electrical resistance method, d50 with tolerance; the coarse grits of JIS R
// 6001-1 are sieved as those of ISO 8486-1, so they have the means of F8…F220.
constexpr Entry kJis[] = {
    {8, 2460, 0},     {10, 2085, 0},    {12, 1765, 0},    {14, 1470, 0},    {16, 1230, 0},
    {20, 1040, 0},    {24, 745, 0},     {30, 625, 0},     {36, 525, 0},     {46, 370, 0},
    {54, 310, 0},     {60, 260, 0},     {70, 218, 0},     {80, 185, 0},     {90, 154, 0},
    {100, 129, 0},    {120, 109, 0},    {150, 82, 0},     {180, 69, 0},     {220, 58, 0},
    {240, 57.0, 3},   {280, 48.0, 3},   {320, 40.0, 2.5}, {360, 35.0, 2},   {400, 30.0, 2},
    {500, 25.0, 2},   {600, 20.0, 1.5}, {700, 17.0, 1.3}, {800, 14.0, 1},   {1000, 11.5, 1},
    {1200, 9.5, 0.8}, {1500, 8.0, 0.6}, {2000, 6.7, 0.6}, {2500, 5.5, 0.5}, {3000, 4.0, 0.5},
    {4000, 3.0, 0.4}, {6000, 2.0, 0.4}, {8000, 1.2, 0.3}};
// ANSI B74.18 (CAMI), mean sizes as commonly tabulated.
constexpr Entry kAnsi[] = {
    {24, 715, 0},   {30, 638, 0},   {36, 535, 0},   {40, 428, 0},   {50, 351, 0},   {60, 268, 0},
    {80, 192, 0},   {100, 141, 0},  {120, 116, 0},  {150, 93, 0},   {180, 78, 0},   {220, 66, 0},
    {240, 53.5, 0}, {280, 44, 0},   {320, 36, 0},   {360, 28.8, 0}, {400, 23.6, 0}, {500, 19.7, 0},
    {600, 16, 0},   {800, 12.2, 0}, {1000, 9.2, 0}, {1200, 6.5, 0}};

constexpr std::array<GritSystem, 4> kSystems{GritSystem::fepa_p, GritSystem::fepa_f,
                                             GritSystem::jis, GritSystem::ansi};

std::span<const Entry> entries_of(GritSystem system) {
  switch (system) {
    case GritSystem::fepa_p:
      return kFepaP;
    case GritSystem::fepa_f:
      return kFepaF;
    case GritSystem::jis:
      return kJis;
    case GritSystem::ansi:
      return kAnsi;
  }
  return {};
}

std::string designation_of(GritSystem system, int number) {
  const bool spaced = system == GritSystem::jis || system == GritSystem::ansi;
  return std::string(sign_of(system)) + (spaced ? " " : "") + std::to_string(number);
}

GritSize size_of(GritSystem system, std::size_t place) {
  const auto table = entries_of(system);
  const Entry& entry = table[place];
  GritSize size{system, entry.number, designation_of(system, entry.number), entry.mean_um, 0,
                0,      false};
  // Half-way to a neighbour; at an end of the table as far out as the inner neighbour is near.
  const double finer =
      place + 1 < table.size() ? std::sqrt(entry.mean_um * table[place + 1].mean_um) : 0;
  const double coarser = place > 0 ? std::sqrt(entry.mean_um * table[place - 1].mean_um) : 0;
  size.low_um = finer > 0 ? finer : entry.mean_um * entry.mean_um / coarser;
  size.high_um = coarser > 0 ? coarser : entry.mean_um * entry.mean_um / finer;
  if (entry.tolerance_um > 0) {
    size.low_um = entry.mean_um - entry.tolerance_um;
    size.high_um = entry.mean_um + entry.tolerance_um;
  }
  return size;
}

std::string lower(std::string_view text) {
  std::string out;
  for (const char c : text) out += char(std::tolower(static_cast<unsigned char>(c)));
  return out;
}

std::optional<GritSystem> system_named(const std::string& word) {
  if (word == "p" || word == "fepa p" || word == "fepa-p") return GritSystem::fepa_p;
  if (word == "f" || word == "fepa f" || word == "fepa-f") return GritSystem::fepa_f;
  if (word == "jis" || word == "jis #" || word == "j") return GritSystem::jis;
  if (word == "ansi" || word == "cami" || word == "ansi/cami") return GritSystem::ansi;
  return std::nullopt;
}

}  // namespace

std::string_view sign_of(GritSystem system) {
  return std::array<std::string_view, 4>{"P", "F", "JIS", "ANSI"}[std::size_t(system)];
}

std::string_view standard_of(GritSystem system) {
  return std::array<std::string_view, 4>{"FEPA 43-1", "FEPA 42-1", "JIS R 6001-2",
                                         "ANSI B74.18"}[std::size_t(system)];
}

Checked<GritSize> parse_grit(std::string_view text) {
  std::size_t first = text.find_first_of("0123456789");
  if (first == std::string_view::npos)
    return Refusal{
        said("a grit designation ends in a number, as in P400, F220, JIS 1000 or ANSI 320")};
  std::string word = lower(text.substr(0, first));
  while (!word.empty() && (word.back() == ' ' || word.back() == '\t')) word.pop_back();
  while (!word.empty() && (word.front() == ' ' || word.front() == '\t')) word.erase(0, 1);
  const auto number = parse_number(text.substr(first), CommaRule::never);
  if (!number || *number != std::floor(*number) || *number > 1e6)
    return Refusal{
        said("\"{text}\" is not a whole grit number", {{"text", std::string(text.substr(first))}}),
        first};
  if (word.empty() || word == "#")
    return Refusal{
        said("a bare grit number means a different size in every system; say P, F, JIS or ANSI "
             "before it")};
  const auto system = system_named(word);
  if (!system)
    return Refusal{said("\"{word}\" is not a grit system this program knows: P, F, JIS, ANSI",
                        {{"word", word}})};
  const auto table = entries_of(*system);
  const int wanted = int(*number);
  if (wanted > table.back().number && (*system == GritSystem::jis || *system == GritSystem::fepa_p))
    return Refusal{
        said("{designation_of} is finer than {standard_of} goes (to {designation_of_2}, {mean_um} "
             "µm): makers use such numbers for different sizes; enter the particle size in µm that "
             "the maker states",
             {{"designation_of", designation_of(*system, wanted)},
              {"standard_of", std::string(standard_of(*system))},
              {"designation_of_2", designation_of(*system, table.back().number)},
              {"mean_um", print_number(table.back().mean_um, 3)}})};
  if (wanted < table.front().number || wanted > table.back().number)
    return Refusal{
        said("{designation_of} is outside the table ({designation_of_2} to {designation_of_3})",
             {{"designation_of", designation_of(*system, wanted)},
              {"designation_of_2", designation_of(*system, table.front().number)},
              {"designation_of_3", designation_of(*system, table.back().number)}})};
  std::size_t place = 0;
  while (table[place].number < wanted) ++place;
  if (table[place].number == wanted) return size_of(*system, place);
  const Entry &coarse = table[place - 1], &fine = table[place];
  const double share =
      std::log(double(wanted) / coarse.number) / std::log(double(fine.number) / coarse.number);
  GritSize size{*system,        wanted, designation_of(*system, wanted), 0, fine.mean_um,
                coarse.mean_um, true};
  size.mean_um = coarse.mean_um * std::pow(fine.mean_um / coarse.mean_um, share);
  return size;
}

Checked<std::vector<GritSize>> grits_near(double size_um) {
  if (!(size_um > 0) || !std::isfinite(size_um))
    return Refusal{said("a particle size must be above 0")};
  std::vector<GritSize> out;
  for (const GritSystem system : kSystems) {
    const auto table = grit_table(system);
    if (size_um > table.front().high_um || size_um < table.back().low_um) continue;
    out.push_back(
        *std::min_element(table.begin(), table.end(), [&](const GritSize& a, const GritSize& b) {
          return std::abs(std::log(a.mean_um / size_um)) < std::abs(std::log(b.mean_um / size_um));
        }));
  }
  return out;
}

std::vector<GritSize> grit_table(GritSystem system) {
  std::vector<GritSize> out;
  for (std::size_t i = 0; i < entries_of(system).size(); ++i) out.push_back(size_of(system, i));
  return out;
}

}  // namespace bq::inline edge
