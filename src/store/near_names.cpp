#include "store/near_names.h"

#include <algorithm>

#include "quantity/said.h"
#include "store/readings_columns.h"
#include "store/table_words.h"

namespace bq::inline store {
namespace {

std::vector<std::string> parted(const std::string& text) {
  std::vector<std::string> out(1);
  for (const char c : plain_words(text))
    if (c == ' ')
      out.emplace_back();
    else
      out.back() += c;
  return out;
}

std::string joined(const std::vector<std::string>& words) {
  std::string out;
  for (const auto& word : words) out += word;
  return out;
}

bool tells_apart(const std::string& word) {
  constexpr std::size_t kShort = 4;
  return word.size() < kShort || word.find_first_of("0123456789") != std::string::npos;
}

/// How many words a name has, and those of them that must be the same.
std::string shape_of(const std::vector<std::string>& words) {
  std::string out;
  for (const auto& word : words) out += (tells_apart(word) ? word : "*") + ' ';
  return out;
}

bool are_near(const std::string& a, const std::string& b) {
  constexpr std::size_t kLong = 8;
  const int most = std::min(a.size(), b.size()) < kLong ? 1 : 2;
  return a == b || (!tells_apart(a) && letters_between(a, b, most) <= most);
}

}  // namespace

void NearNames::add(const std::string& name) {
  if (!exact_.insert(name).second) return;
  const auto words = parted(name);
  joined_.try_emplace(joined(words), name);
  alike_[shape_of(words)].push_back({name, words});
}

const std::string* NearNames::near(const std::string& name) const {
  const auto words = parted(name);
  if (const auto same = joined_.find(joined(words)); same != joined_.end()) return &same->second;
  const auto alike = alike_.find(shape_of(words));
  if (alike == alike_.end()) return nullptr;
  for (const auto& known : alike->second) {
    bool near = true;
    for (std::size_t i = 0; i < words.size() && near; ++i)
      near = are_near(words[i], known.words[i]);
    if (near) return &known.name;
  }
  return nullptr;
}

std::string NameAnswers::meant(const std::string& kind, const std::string& name) {
  const auto of_kind = known_.find(kind);
  if (of_kind == known_.end()) return name;
  const auto stated = of_kind->second.find(name);
  if (stated == of_kind->second.end() || stated->second == name) return name;
  const std::string note =
      said("{kind} {shown} is taken for {shown_2}",
           {{"kind", kind}, {"shown", shown(name)}, {"shown_2", shown(stated->second)}});
  if (std::find(renamed.begin(), renamed.end(), note) == renamed.end()) renamed.push_back(note);
  return stated->second;
}

bool NameAnswers::doubted(const std::string& kind, const std::string& first, const std::string& now,
                          const std::string& where, std::uint64_t line) {
  if (kind.empty()) return false;
  // Whoever was asked already has said that they are two.
  if (const auto stated = known_.find(kind); stated != known_.end() && stated->second.contains(now))
    return false;
  NearNames known;
  known.add(first);
  if (!known.near(now)) return false;
  for (const NameDoubt& doubt : doubts)
    if (doubt.kind == kind && doubt.written == now) return true;
  doubts.push_back(
      {kind, now, first,
       said("{where}, and in line {line} {shown}, which is near to it. Is it the same?",
            {{"where", where}, {"line", std::to_string(line)}, {"shown", shown(now)}})});
  return true;
}

}  // namespace bq::inline store
