#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

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
std::optional<Pair> sides(const std::map<std::string, Said>& said, const std::string& base) {
  const auto find = [&](const std::string& key) -> const Said* {
    const auto found = said.find(key);
    return found == said.end() ? nullptr : &found->second;
  };
  const Said *both = find(base), *left = find(base + "_left"), *right = find(base + "_right");
  if (both) return Pair{both->number, both->number};
  if (left && right) return Pair{left->number, right->number};
  return std::nullopt;
}

/// What is wrong with the side columns of one kind; "" nothing.
inline std::string half_said(const std::map<std::string, Said>& said, const std::string& base) {
  const bool both = said.contains(base), left = said.contains(base + "_left"),
             right = said.contains(base + "_right");
  if (both && (left || right))
    return base + " stands beside " + base + "_left or _right; give one or the other";
  if (left != right)
    return base + (left ? "_left has no " : "_right has no ") + base + (left ? "_right" : "_left");
  return {};
}

}  // namespace bq::inline store
