#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

using Json = nlohmann::ordered_json;

/// A table printed with aligned columns: numbers right, words left.
class TextTable {
 public:
  explicit TextTable(std::vector<std::string> heads) : heads_(std::move(heads)) {}
  void add(std::vector<std::string> cells) { rows_.push_back(std::move(cells)); }
  void print() const;

 private:
  std::vector<std::string> heads_;
  std::vector<std::vector<std::string>> rows_;
};

/// A line on standard error.
void say(const std::string& sentence);

/// JSON null for an absent or not finite number.
Json number_or_null(std::optional<double> value);

/// The day of `--date`, or today; throws CommandEnd where it is none.
std::string day_or_today(const std::string& day);

void print_json(const Json& json);

/// Writes a file beside the target first, so that a full disk leaves the old file whole. Throws
/// CommandEnd.
void write_whole(const std::string& target, const std::string& bytes);
