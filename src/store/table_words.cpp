#include "store/table_words.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <set>
#include <vector>

#include "quantity/number.h"
#include "store/readings_columns.h"
#include "store/table_dictionary.h"

namespace bq::inline store {
namespace {

using dictionary::kFilling, dictionary::kWords, dictionary::Word;

constexpr std::array<std::string_view, 18> kNames{
    "run",        "cuts",        "reading",   "unit",   "blade",    "steel",
    "edge_angle", "micro_angle", "finish_um", "medium", "cut_mode", "station",
    "operator",   "block",       "excluded",  "reason", "factor",   "skip"};

std::string folded(std::string_view letter) {
  static const std::map<std::string_view, std::string_view> kFolds{
      {"ä", "a"},  {"ö", "o"},  {"ü", "u"},  {"ß", "ss"},    {"á", "a"}, {"à", "a"}, {"â", "a"},
      {"é", "e"},  {"è", "e"},  {"ê", "e"},  {"ë", "e"},     {"í", "i"}, {"î", "i"}, {"ï", "i"},
      {"ó", "o"},  {"ô", "o"},  {"ú", "u"},  {"ù", "u"},     {"û", "u"}, {"ñ", "n"}, {"ç", "c"},
      {"Ä", "a"},  {"Ö", "o"},  {"Ü", "u"},  {"É", "e"},     {"È", "e"}, {"Á", "a"}, {"Í", "i"},
      {"Ó", "o"},  {"Ú", "u"},  {"Ñ", "n"},  {"μ", "u"},     {"µ", "u"}, {"°", " "}, {"º", " "},
      {"　", " "}, {"（", " "}, {"）", " "}, {"\u00a0", " "}};
  const auto found = kFolds.find(letter);
  return std::string(found == kFolds.end() ? letter : found->second);
}

std::size_t letter_length(char first) {
  const auto c = static_cast<unsigned char>(first);
  return c < 0x80 ? 1 : c < 0xe0 ? 2 : c < 0xf0 ? 3 : 4;
}

}  // namespace

int letters_between(std::string_view a, std::string_view b, int most) {
  constexpr std::size_t kLongest = 40;  // no known word is
  if (std::abs(int(a.size()) - int(b.size())) > most || a.size() > kLongest || b.size() > kLongest)
    return most + 1;
  int d[kLongest + 1][kLongest + 1];
  for (std::size_t i = 0; i <= a.size(); ++i) d[i][0] = int(i);
  for (std::size_t j = 0; j <= b.size(); ++j) d[0][j] = int(j);
  for (std::size_t i = 1; i <= a.size(); ++i)
    for (std::size_t j = 1; j <= b.size(); ++j) {
      d[i][j] = std::min(
          {d[i - 1][j] + 1, d[i][j - 1] + 1, d[i - 1][j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1)});
      if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
        d[i][j] = std::min(d[i][j], d[i - 2][j - 2] + 1);
    }
  return d[a.size()][b.size()];
}

namespace {

std::vector<std::string> words_in(const std::string& plain) {
  std::vector<std::string> out;
  std::string word;
  for (const char c : plain + ' ')
    if (c != ' ') {
      word += c;
    } else if (!word.empty()) {
      out.push_back(std::move(word));
      word.clear();
    }
  return out;
}

std::string joined(const std::vector<std::string>& words) {
  std::string out;
  for (const auto& word : words) out += (out.empty() ? "" : " ") + word;
  return out;
}

/// Takes these phrases out of the words; whether one was there.
bool take_out(std::string& plain, std::initializer_list<std::string_view> phrases) {
  for (const auto phrase : phrases) {
    const std::string padded = " " + plain + " ", wanted = " " + std::string(phrase) + " ";
    const auto at = padded.find(wanted);
    if (at == std::string::npos) continue;
    std::string left = padded;
    left.replace(at, wanted.size(), " ");
    plain = joined(words_in(left));
    return true;
  }
  return false;
}

const Word* known_word(std::string_view plain) {
  for (const auto& word : kWords)
    if (word.text == plain) return &word;
  return nullptr;
}

}  // namespace

std::string_view name_of(Meaning meaning) { return kNames[std::size_t(meaning)]; }

std::optional<Meaning> parse_meaning(std::string_view text) {
  if (text == "finish") return Meaning::finish;
  for (std::size_t i = 0; i < kNames.size(); ++i)
    if (kNames[i] == text) return Meaning(i);
  return std::nullopt;
}

std::string_view end_of(TableSide side) {
  return side == TableSide::left ? "_left" : side == TableSide::right ? "_right" : "";
}

std::optional<SidedMeaning> parse_sided_meaning(std::string_view text) {
  SidedMeaning out;
  for (const TableSide side : {TableSide::left, TableSide::right})
    if (text.ends_with(end_of(side))) {
      text.remove_suffix(end_of(side).size());
      out.side = side;
    }
  const auto meaning = parse_meaning(text);
  if (!meaning) return std::nullopt;
  out.meaning = *meaning;
  return out;
}

std::string plain_words(std::string_view text) {
  std::string out;
  for (std::size_t i = 0; i < text.size();) {
    const std::size_t length = std::min(letter_length(text[i]), text.size() - i);
    // Accents are rare, and only letters beyond ASCII have them.
    const std::string letter =
        length == 1 ? std::string(1, text[i]) : folded(text.substr(i, length));
    for (const char c : letter)
      if (static_cast<unsigned char>(c) >= 0x80 || (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9'))
        out += c;
      else if (c >= 'A' && c <= 'Z')
        out += char(c - 'A' + 'a');
      else if (!out.empty() && out.back() != ' ')
        out += ' ';
    i += length;
  }
  while (!out.empty() && out.back() == ' ') out.pop_back();
  return out;
}

HeadGuess guess_head(std::string_view head) {
  HeadGuess out;
  std::string text(head);
  // What stands in brackets is a unit or a convention.
  std::string bracketed;
  for (const auto& [open, close] : {std::pair{'(', ')'}, std::pair{'[', ']'}})
    if (const auto from = text.find(open); from != std::string::npos) {
      const auto to = text.find(close, from);
      bracketed += ' ' + text.substr(from + 1, to == std::string::npos ? to : to - from - 1);
      text.erase(from, to == std::string::npos ? to : to - from + 1);
    }
  if (const auto comma = text.rfind(','); comma != std::string::npos) {
    bracketed += ' ' + text.substr(comma + 1);
    text.erase(comma);
  }
  std::string plain = plain_words(text), side = plain_words(bracketed);
  const auto said = [&](std::initializer_list<std::string_view> phrases) {
    const bool in_brackets = take_out(side, phrases);
    return take_out(plain, phrases) || in_brackets;
  };
  if (said({"per side", "each side", "je seite", "pro seite", "par cote", "por lado", "片側"}))
    out.convention = SaidConvention::per_side;
  else if (said({"inclusive", "included", "incl", "both sides", "total", "gesamt", "inclus",
                 "incluido", "両側"}))
    out.convention = SaidConvention::inclusive;
  if (said({"left", "links", "gauche", "izquierda", "左"}))
    out.side = TableSide::left;
  else if (said({"right", "rechts", "droite", "derecha", "右"}))
    out.side = TableSide::right;
  out.unit = std::string(trimmed(bracketed));
  if (side.empty()) out.unit.clear();
  auto words = words_in(plain);
  if (words.size() > 1 && words.back().find_first_not_of("0123456789") == std::string::npos) {
    out.number = int(std::min(999.0, *parse_number(words.back())));
    words.pop_back();
  }
  const auto known = [&](const std::string& phrase, double sure) {
    const Word* word = known_word(phrase);
    if (!word) return false;
    out.meaning = word->meaning;
    out.sure = sure;
    return true;
  };
  if (known(joined(words), 1)) return out;
  std::vector<std::string> bare;
  for (const auto& word : words)
    if (!kFilling.contains(word)) bare.push_back(word);
  if (!bare.empty() && known(joined(bare), 0.9)) return out;
  const std::string phrase = joined(bare.empty() ? words : bare);
  for (const auto& word : kWords) {
    const int most = word.text.size() >= 8 ? 2 : word.text.size() >= 5 ? 1 : 0;
    if (most == 0 || static_cast<unsigned char>(word.text[0]) >= 0x80) continue;
    if (letters_between(phrase, word.text, most) > most) continue;
    out.meaning = word.meaning;
    out.sure = 0.5;
    out.near = std::string(word.text);
    return out;
  }
  out.meaning = Meaning::factor;
  return out;
}

namespace {
/// Figures in groups of three as one number: what is counted has no decimals. "1.000" → "1000".
std::string without_groups(std::string_view text) {
  std::string out;
  const auto digit = [&](std::size_t i) {
    return i < text.size() && text[i] >= '0' && text[i] <= '9';
  };
  for (std::size_t i = 0; i < text.size(); ++i) {
    const std::size_t sign = text[i] == '.' || text[i] == ',' || text[i] == '\'' || text[i] == ' '
                                 ? 1
                             : text.substr(i).starts_with("\u00a0") ? 2
                             : text.substr(i).starts_with("\u202f") ? 3
                                                                    : 0;
    const std::size_t next = i + sign;
    const bool groups = sign > 0 && i > 0 && digit(i - 1) && digit(next) && digit(next + 1) &&
                        digit(next + 2) && !digit(next + 3);
    if (groups)
      i += sign - 1;
    else
      out += text[i];
  }
  return out;
}
}  // namespace

std::optional<double> cuts_in_head(std::string_view head) {
  const auto words = words_in(plain_words(without_groups(head)));
  std::optional<double> found;
  for (const auto& word : words) {
    if (word.find_first_not_of("0123456789") == std::string::npos) {
      if (found) return std::nullopt;
      found = *parse_number(word);
      continue;
    }
    const Word* known = known_word(word);
    if (!(known && known->meaning == Meaning::cuts) && word != "after" && word != "nach" &&
        word != "apres" && word != "tras" && word != "at" && word != "bei")
      return std::nullopt;
  }
  return found;
}

bool is_summary_word(std::string_view cell) {
  static const std::set<std::string, std::less<>> kSummaries{
      "total",      "sum",   "mean",    "average", "avg",   "median", "mittel",
      "mittelwert", "summe", "schnitt", "moyenne", "somme", "media",  "promedio",
      "suma",       "平均",  "合計",    "sd",      "stdev", "min",    "max"};
  return kSummaries.contains(plain_words(cell));
}

bool is_no_value(std::string_view cell) {
  static const std::set<std::string, std::less<>> kNone{
      "", "n a", "na", "none", "nil", "k a", "keine", "nan", "null", "s d", "なし"};
  if (!cell.empty() && cell[0] >= '0' && cell[0] <= '9') return false;
  return kNone.contains(plain_words(cell));
}

bool is_example_row(std::string_view first_cell) {
  const std::string plain = plain_words(first_cell);
  return plain == "example" || plain == "beispiel" || plain == "exemple" || plain == "ejemplo";
}

bool is_error_cell(std::string_view cell) {
  if (cell.starts_with("Err:")) return true;
  for (const std::string_view error : {"#DIV/0!", "#NAME?", "#NULL!", "#NUM!", "#REF!", "#VALUE!",
                                       "#WERT!", "#BEZUG!", "#no result"})
    if (cell == error) return true;
  return false;
}

bool is_date_cell(std::string_view cell) {
  // Figures in two or three groups, with one sign between them that no number has inside; a name
  // of a month or of half a day besides is allowed.
  int groups = 0, longest = 0, figures = 0;
  bool date = false, time = false, points = false, letters = false;
  for (std::size_t i = 0; i < cell.size(); ++i) {
    const char c = cell[i];
    if (c >= '0' && c <= '9') {
      groups += figures == 0;
      longest = std::max(longest, ++figures);
      continue;
    }
    figures = 0;
    if (c == '-' || c == '/')
      date = date || (i > 0 && i + 1 < cell.size());
    else if (c == ':')
      time = true;
    else if (c == '.')
      points = true;
    else if ((c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z'))
      letters = true;
    else if (c != ' ' && c != ',')
      return false;
  }
  if (groups < 2 || longest > 4) return false;
  if (letters) {  // "2026-03-01T14:05", "1-Mar-2026", "2:05 pm"
    const std::string plain = plain_words(cell);
    static const std::set<std::string, std::less<>> kMonths{
        "t",   "z",   "am",  "pm",  "jan", "feb", "mar", "apr", "may", "mai", "jun", "jul",
        "aug", "sep", "oct", "okt", "nov", "dec", "dez", "ene", "abr", "ago", "dic", "uhr"};
    std::string word;
    for (const char c : plain + ' ')
      if (c >= 'a' && c <= 'z') {
        word += c;
      } else {
        if (!word.empty() && !kMonths.contains(word)) return false;
        word.clear();
      }
  }
  // "1.3.2026" has three groups; "12.5" is a number.
  return date ? groups >= 2 && !(groups == 2 && !letters && longest < 4)
              : time || (points && groups == 3);
}

}  // namespace bq::inline store
