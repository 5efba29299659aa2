#pragma once

#include <functional>
#include <string_view>
#include <utility>

#include "workflow/project_state.h"
#include "workflow/touched.h"

namespace bq::inline workflow {

/// The acts of a session, in order. An act is one transaction and one step of undo: whole on the
/// disk and in memory, or on neither, whatever write fails; done, undone and done again by one
/// function.
class ActBook {
 public:
  explicit ActBook(ProjectState& state) : state_(state) {}

  /// Carries out what `changes` asks of add, replace and remove as one act named `what`; inside
  /// another act it is a part of that. When it throws, nothing has happened. An act that changed
  /// nothing is no step.
  void act(const std::string& what, const std::function<void()>& changes);

  /// Inside act(): the record as it is kept, with its id.
  template <class Record>
  Record add(Record record) {
    return *carry_out(Change<Record>{std::nullopt, std::move(record)}).after;
  }
  template <class Record>
  Record replace(Record before, Record after) {
    return *carry_out(Change<Record>{std::move(before), std::move(after)}).after;
  }
  template <class Record>
  void remove(Record record) {
    carry_out(Change<Record>{std::move(record), std::nullopt});
  }
  /// Added where there was none.
  template <class Record>
  Record put(std::optional<Record> before, Record after) {
    return *carry_out(Change<Record>{std::move(before), std::move(after)}).after;
  }

  [[nodiscard]] bool can_undo() const { return done_ > 0; }
  [[nodiscard]] bool can_redo() const { return done_ < acts_.size(); }
  [[nodiscard]] std::string undo_text() const { return can_undo() ? acts_[done_ - 1].text : ""; }
  [[nodiscard]] std::string redo_text() const { return can_redo() ? acts_[done_].text : ""; }
  /// Whether what undo takes back changed a text that is kept for a key that starts so.
  [[nodiscard]] bool undo_changes_kept(std::string_view key_start) const;
  void undo();
  void redo();
  /// What was touched since this was asked last; more than that where an act was given up.
  Touched take_touched() { return std::exchange(touched_, {}); }

 private:
  template <class Record>
  const Change<Record>& carry_out(Change<Record> change);
  void turn(Act& act, Way way);

  ProjectState& state_;
  std::vector<Act> acts_;
  std::size_t done_ = 0;
  Act* in_hand_ = nullptr;
  Touched touched_;
};

template <class Record>
const Change<Record>& ActBook::carry_out(Change<Record> change) {
  auto& changes = in_hand_->changes;
  changes.emplace_back(std::move(change));
  try {
    write(state_, changes.back(), Way::forth);
    touched_.add(changes.back());
    remember(state_, changes.back(), Way::forth);
  } catch (...) {
    changes.pop_back();
    throw;
  }
  return std::get<Change<Record>>(changes.back());
}

}  // namespace bq::inline workflow
