// Start to the first painted window, against a blank QMainWindow, in turns in one run.
#include <algorithm>
#include <cstdio>

#include "child_process.h"

int main() {
  std::vector<double> blank, ours, arranged;
  double memory = 0;
  for (int round = 0; round < 21; ++round) {
    blank.push_back(run_child({BQ_BLANK}).first_line_seconds);
    const ChildCost cost = run_child({BQ_WINDOW, "--exit-after-paint"});
    if (cost.exit_code != 0) return std::printf("the window failed with %d\n", cost.exit_code), 1;
    ours.push_back(cost.first_line_seconds);
    const ChildCost whole = run_child({BQ_WINDOW, "--exit-when-arranged"});
    if (whole.exit_code != 0) return std::printf("the window failed with %d\n", whole.exit_code), 1;
    arranged.push_back(whole.first_line_seconds);
    memory = std::max(memory, whole.peak_mb);
  }
  std::sort(blank.begin(), blank.end());
  std::sort(ours.begin(), ours.end());
  std::sort(arranged.begin(), arranged.end());
  const double a = blank[blank.size() / 2], b = ours[ours.size() / 2];
  std::printf(
      "start to first painted window, median of 21: blank %.3f s, ours %.3f s, ratio %.2f (wanted: "
      "at most 2), %.0f MB\n",
      a, b, b / a, memory);
  std::printf("  ours with type, frame and the first station painted: %.3f s\n",
              arranged[arranged.size() / 2]);
  return 0;
}
