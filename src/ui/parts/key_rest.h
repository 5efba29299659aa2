#pragma once

#include <QHash>
#include <QKeyEvent>

namespace bq::ui {

/// A shaking hand, a glove or a worn pedal presses twice: the same key again within the rest is one
/// press. What counts is when the key went down as the window system says, not when the program
/// came to it: behind a slow disk the second press of a trembling hand may wait for any time.
class KeyRest {
 public:
  explicit KeyRest(int rest_ms) : rest_ms_(rest_ms) {}
  void set_rest(int ms) { rest_ms_ = ms; }
  /// False: this press belongs to the one before. A press that carries no time (an input method, a
  /// button on the screen) always counts.
  [[nodiscard]] bool pass(const QKeyEvent& press) { return pass(press, press.key()); }
  /// The same for keys that share one rest, whatever their own code.
  [[nodiscard]] bool pass(const QKeyEvent& press, int key) {
    const quint64 at = press.timestamp();
    const auto last = last_.constFind(key);
    if (at != 0 && last != last_.constEnd() && at >= *last && at - *last < quint64(rest_ms_))
      return false;
    note(press, key);
    return true;
  }
  /// A press that counts in any case; one that follows too soon will still belong to it.
  void note(const QKeyEvent& press) { note(press, press.key()); }

 private:
  void note(const QKeyEvent& press, int key) {
    if (press.timestamp() != 0) last_[key] = press.timestamp();
  }

  int rest_ms_;
  QHash<int, quint64> last_;  ///< by key: when it last went down, ms of the window system's clock
};

}  // namespace bq::ui
