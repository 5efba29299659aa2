#pragma once

#include <map>
#include <set>
#include <string>
#include <vector>

namespace bq::inline store {

/// Names, to find one that may be the same written otherwise: the same words but for case, accents,
/// signs and blanks, or with one letter more, less or other (two from eight letters on) in a word
/// of four letters or more. "K1" and "K2", "steel A" and "steel B" are not near.
class NearNames {
 public:
  void add(const std::string& name);
  [[nodiscard]] bool has(const std::string& name) const { return exact_.contains(name); }
  /// Null where none is near.
  [[nodiscard]] const std::string* near(const std::string& name) const;

 private:
  struct Name {
    std::string name;
    std::vector<std::string> words;
  };
  std::set<std::string> exact_;
  std::map<std::string, std::string> joined_;
  std::map<std::string, std::vector<Name>> alike_;
};

}  // namespace bq::inline store
