#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "quantity/said.h"

namespace bq::inline store {

/// What is wrong in a JSON file and where; caught where a file's reader starts.
struct JsonFault {
  std::string reason;
};

/// Parses a whole text. A syntax error is thrown with its line and column; a text above 64 MB or
/// deeper than kDeepestJson is refused.
nlohmann::json parse_json(std::string_view text);

/// One object of a file, read field by field; every fault names the field's path
/// ("grinds[1].angle_deg"). Fields nobody asked for are reported by unknown().
class JsonFields {
 public:
  JsonFields(const nlohmann::json& object, std::string path);

  [[nodiscard]] bool has(const char* key) const;
  /// A finite number in [least, most].
  [[nodiscard]] double number(const char* key, double least, double most) const;
  [[nodiscard]] double number_or(const char* key, double least, double most,
                                 double otherwise) const;
  [[nodiscard]] std::optional<double> number_if(const char* key, double least, double most) const;
  [[nodiscard]] std::string text(const char* key) const;
  [[nodiscard]] std::string text_or(const char* key, const std::string& otherwise) const;
  [[nodiscard]] bool flag_or(const char* key, bool otherwise) const;
  /// A name that `parse` knows (an optional of it).
  template <class Parse>
  [[nodiscard]] auto word_or(const char* key, const Parse& parse,
                             std::string_view otherwise) const {
    const std::string word = text_or(key, std::string(otherwise));
    const auto found = parse(word);
    if (!found) fault(key, said("\"{word}\" is not known here", {{"word", word.substr(0, 40)}}));
    return *found;
  }
  [[nodiscard]] JsonFields object(const char* key) const;
  /// The entries of a list; empty when the key is missing.
  [[nodiscard]] const std::vector<nlohmann::json>& list(const char* key) const;
  [[nodiscard]] const nlohmann::json& raw(const char* key) const;
  [[nodiscard]] std::string path_of(const std::string& key) const {
    return path_.empty() ? key : path_ + "." + key;
  }
  /// Path of a list's entry: "rounds[3]".
  [[nodiscard]] std::string path_of(const std::string& key, std::size_t index) const {
    return path_of(key) + "[" + std::to_string(index) + "]";
  }
  /// The object at a place of a list.
  [[nodiscard]] JsonFields item(const nlohmann::json& object, std::string path) const;
  /// The same object; keys that nobody asks for in it, and in the records in it, are put there.
  [[nodiscard]] JsonFields noting(std::vector<std::string>& notes) const;
  /// The same object; a key that nobody asks for in it, or in the records in it, is refused: a
  /// misspelt one would silently do nothing.
  [[nodiscard]] JsonFields refusing() const;
  [[nodiscard]] bool refuses() const { return refuses_; }
  /// All was asked for that is known: the rest is noted, refused or let be.
  void end() const;
  [[noreturn]] void fault(const std::string& key, const std::string& what) const;
  /// Keys of the object that were never asked for, with their paths.
  [[nodiscard]] std::vector<std::string> unknown() const;

 private:
  const nlohmann::json* find(const char* key) const;
  const nlohmann::json& object_;
  std::string path_;
  mutable std::set<std::string> asked_;
  std::vector<std::string>* notes_ = nullptr;
  bool refuses_ = false;
};

/// Parses a text and reads its root object; a fault on the way becomes the refusal.
template <class Value, class Read>
Checked<Value> read_json(std::string_view text, const Read& read) {
  try {
    const nlohmann::json root = parse_json(text);
    return read(JsonFields(root, ""));
  } catch (const JsonFault& fault) {
    return Refusal{fault.reason};
  }
}

/// Puts a field where there is something to say: a text that is not empty, a number that is known,
/// a flag that is set.
void put_given(nlohmann::json& out, const char* key, const std::string& text);
void put_given(nlohmann::json& out, const char* key, const std::optional<double>& number);
void put_given(nlohmann::json& out, const char* key, bool flag);
/// Text of a JSON value; bytes that are no UTF-8 are replaced, not thrown at.
std::string compact_text(const nlohmann::json& json);

/// A finite number in [least, most]; `path` names it where it is not.
double number_of(const nlohmann::json& value, const std::string& path, double least, double most);
/// The same, without a fraction.
std::int64_t whole_of(const nlohmann::json& value, const std::string& path, std::int64_t least,
                      std::int64_t most);
/// A pair of numbers [a, b] in [least, most].
std::pair<double, double> number_pair(const nlohmann::json& value, const std::string& path,
                                      double least, double most);

}  // namespace bq::inline store
