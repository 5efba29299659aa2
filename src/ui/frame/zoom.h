#pragma once

#include <vector>

namespace bq::ui {

/// The sizes that the window can be shown at, in percent of the desktop's own.
const std::vector<int>& zoom_steps();
/// The one it is shown at.
int zoom();
/// Shows every window of the program larger or smaller at once: text, drawings, spaces, pointer
/// targets alike; windows keep their place and size on the screen. What is not one of the steps
/// becomes the nearest. Before the first window is made it costs nothing.
void set_zoom(int percent);
/// The next larger (+1) or smaller (-1) step; the same at the end.
int zoom_step(int percent, int by);

}  // namespace bq::ui
