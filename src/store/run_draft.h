#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "quantity/said.h"
#include "trial/trial.h"

/// Inside of readings_table.cpp.
namespace bq::inline store {

/// What the rows so far say of a run's column: the text as written and where.
struct Said {
  std::string text;
  double number = 0;
  std::uint64_t line = 0;
};

/// A run as its rows so far tell it.
struct RunDraft {
  std::string name;
  std::map<std::string, Said> said;     ///< by column name
  std::vector<std::string> last_cells;  ///< the run's cells of its last row, to skip repeats
  std::uint64_t last_table = 0;
  std::vector<Reading> readings;
};

/// The side columns of one kind as angles or sizes; empty when nothing is said.
template <class Pair>
std::optional<Pair> sides(const std::map<std::string, Said>& stated, const std::string& base) {
  const auto find = [&](const std::string& key) -> const Said* {
    const auto found = stated.find(key);
    return found == stated.end() ? nullptr : &found->second;
  };
  const Said *both = find(base), *left = find(base + "_left"), *right = find(base + "_right");
  if (both) return Pair{both->number, both->number};
  if (left && right) return Pair{left->number, right->number};
  return std::nullopt;
}

/// The edge that the columns tell; empty: none, or one that there is not.
inline std::optional<EdgeGeometry> geometry_said(const std::map<std::string, Said>& stated) {
  const auto edge = sides<BevelAngles>(stated, "edge_angle"),
             micro = sides<BevelAngles>(stated, "micro_angle");
  // Where only the apex is known it is the whole edge.
  const auto made = edge    ? EdgeGeometry::make(*edge, micro)
                    : micro ? EdgeGeometry::make(*micro)
                            : Checked<EdgeGeometry>(Refusal{});
  return made ? std::optional(*made) : std::nullopt;
}

/// What is wrong with the side columns of one kind; "" nothing.
inline std::string half_said(const std::map<std::string, Said>& stated, const std::string& base) {
  const bool both = stated.contains(base), left = stated.contains(base + "_left"),
             right = stated.contains(base + "_right");
  if (both && (left || right))
    return said("{base} stands beside {base_2}_left or _right; give one or the other",
                {{"base", base}, {"base_2", base}});
  if (left != right)
    return base + (left ? "_left has no " : "_right has no ") + base + (left ? "_right" : "_left");
  return {};
}

}  // namespace bq::inline store
