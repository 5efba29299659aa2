#include "plan/blind_code.h"

#include <string_view>

namespace bq::inline plan {

std::string blind_code(stats::Random& random, std::set<std::string>& taken) {
  static constexpr std::string_view letters = "BCDFGHJKLMNPRSTVWXZ", digits = "2345679";
  for (int tries = 0;; ++tries) {
    std::string code{letters[random.below(letters.size())], letters[random.below(letters.size())]};
    // Some 2,500 codes of three signs; a longer sheet takes two digits more.
    for (int d = 0; d < (tries < 200 ? 1 : 3); ++d) code += digits[random.below(digits.size())];
    if (taken.insert(code).second) return code;
  }
}

}  // namespace bq::inline plan
