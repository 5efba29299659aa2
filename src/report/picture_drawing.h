#pragma once

#include "report/answer.h"
#include "report/drawing.h"

namespace bq::inline report {

/// A picture with axes, as vectors. `steels`: all of the trial, alphabetical; a steel's place is
/// its colour, marker and line pattern, as in the window. Names stand at the ends of lines where
/// there is room, else above.
Drawing draw_picture(const Picture& picture, const std::vector<std::string>& steels,
                     double width_mm, double height_mm);

/// Ticks of an axis from `low` to `high`: 1, 2, 5 of each decade on a log axis that spans more than
/// a factor of 5, else even round steps.
std::vector<double> axis_ticks(double low, double high, bool log);

}  // namespace bq::inline report
