#pragma once

#include <cstdint>
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

/// A name that stands where the table had said one that is near to it: misspelt, or a fault.
struct NameDoubt {
  std::string kind;            ///< "blade", "steel", "medium"
  std::string written, first;  ///< here, and before
  std::string sentence;        ///< with its place
};

/// What was answered about names, applied while a table is read, and what is still to be asked.
class NameAnswers {
 public:
  /// Kind → as it is written → as it is meant.
  using Known = std::map<std::string, std::map<std::string, std::string>>;
  explicit NameAnswers(Known known = {}) : known_(std::move(known)) {}
  /// A name as it is meant; `kind` "" for what is no name.
  std::string meant(const std::string& kind, const std::string& name);
  /// Whether `now` may be the same name as the one that was said first, misspelt; then it is noted
  /// to be asked about, and counts as the first. `where` says of what and where that was.
  bool doubted(const std::string& kind, const std::string& first, const std::string& now,
               const std::string& where, std::uint64_t line);

  std::vector<NameDoubt> doubts;     ///< one a name
  std::vector<std::string> renamed;  ///< "steel "Marl Touhg" is taken for "Marl Tough"", one each

 private:
  Known known_;
};

}  // namespace bq::inline store
