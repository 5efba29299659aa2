#pragma once

#include <QElapsedTimer>
#include <QHash>

namespace bq::ui {

/// A shaking hand, a glove or a worn pedal presses twice: the same key again within the time is one
/// press.
class KeyGuard {
 public:
  explicit KeyGuard(int hold_off_ms) : hold_off_ms_(hold_off_ms) {}
  void set_hold_off(int ms) { hold_off_ms_ = ms; }
  /// False: this press belongs to the one before.
  bool pass(int key) {
    QElapsedTimer& last = last_[key];
    if (last.isValid() && last.elapsed() < hold_off_ms_) return false;
    last.start();
    return true;
  }
  /// A press that counts in any case; one that follows too soon will still belong to it.
  void note(int key) { last_[key].start(); }

 private:
  int hold_off_ms_;
  QHash<int, QElapsedTimer> last_;
};

}  // namespace bq::ui
