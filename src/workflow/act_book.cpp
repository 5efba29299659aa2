#include "workflow/act_book.h"

#include <algorithm>

namespace bq::inline workflow {
namespace {

/// Takes the first `carried` changes of a way back in memory, the last of them first: their
/// transaction is given up.
void forget(ProjectState& state, std::vector<AnyChange>& changes, std::size_t carried, Way way) {
  const std::size_t count = changes.size();
  while (carried-- > 0)
    remember(state, changes[way == Way::forth ? carried : count - 1 - carried],
             way == Way::forth ? Way::back : Way::forth);
}

}  // namespace

void ActBook::act(const std::string& what, const std::function<void()>& changes) {
  if (in_hand_) return changes();
  Act made{what, {}};
  in_hand_ = &made;
  try {
    state_.file.together(changes);
  } catch (...) {
    in_hand_ = nullptr;
    forget(state_, made.changes, made.changes.size(), Way::forth);
    throw;
  }
  in_hand_ = nullptr;
  if (made.changes.empty()) return;
  for (auto& change : made.changes) let_go(change, Way::forth);
  acts_.resize(done_);
  acts_.push_back(std::move(made));
  ++done_;
}

void ActBook::turn(Act& act, Way way) {
  const std::size_t count = act.changes.size();
  const auto at = [&](std::size_t i) -> AnyChange& {
    return act.changes[way == Way::forth ? i : count - 1 - i];
  };
  std::size_t carried = 0;
  try {
    state_.file.together([&] {
      for (; carried < count; ++carried) {
        write(state_, at(carried), way);
        touched_.add(at(carried));
        remember(state_, at(carried), way);
      }
    });
  } catch (...) {
    forget(state_, act.changes, carried, way);
    throw;
  }
  for (auto& change : act.changes) let_go(change, way);
}

bool ActBook::undo_changes_kept(std::string_view key_start) const {
  const auto is_of = [&](const AnyChange& change) {
    const auto* kept = std::get_if<Change<KeptText>>(&change);
    if (!kept) return false;
    const auto& text = kept->after ? kept->after : kept->before;
    return text && text->key.starts_with(key_start);
  };
  return can_undo() &&
         std::any_of(acts_[done_ - 1].changes.begin(), acts_[done_ - 1].changes.end(), is_of);
}

void ActBook::undo() {
  if (!can_undo()) return;
  turn(acts_[done_ - 1], Way::back);
  --done_;
}

void ActBook::redo() {
  if (!can_redo()) return;
  turn(acts_[done_], Way::forth);
  ++done_;
}

}  // namespace bq::inline workflow
