#pragma once

#include <set>
#include <string>

#include "workflow/act_records.h"

namespace bq::inline workflow {

/// Parts of a project, as bits.
enum class Part : unsigned {
  runs = 1U << 0,    ///< what they are, their readings, events, strokes and cuts; check weights
  blades = 1U << 1,  ///< what they are and their history
  cards = 1U << 2,   ///< of steels and media
  shelf = 1U << 3,   ///< abrasives
  comparisons = 1U << 4,  ///< of two treatments
  pictures = 1U << 5,     ///< micrographs and the scales of magnifications
  sessions = 1U << 6      ///< damage searches and steadiness
};

/// What acts have touched, so that whoever shows something else need not look again.
class Touched {
 public:
  /// Another project, or one that was read anew.
  static Touched everything() {
    Touched out;
    out.everything_ = true;
    return out;
  }
  [[nodiscard]] bool part(Part part) const { return everything_ || (parts_ & unsigned(part)); }
  /// Anything but kept texts.
  [[nodiscard]] bool any_part() const { return everything_ || parts_ != 0; }
  [[nodiscard]] bool text(const std::string& key) const {
    return everything_ || texts_.contains(key);
  }
  void add(const AnyChange& change);

 private:
  bool everything_ = false;
  unsigned parts_ = 0;
  std::set<std::string> texts_;  ///< by their keys
};

}  // namespace bq::inline workflow
