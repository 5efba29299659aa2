#pragma once

#include <functional>

namespace bq::ui {

/// Runs `act` once, later, on the window's thread; from any thread. Everything the caller wrote
/// before is seen by it. The only way a worker's results come to the window.
void hand_over(std::function<void()> act);

}  // namespace bq::ui
