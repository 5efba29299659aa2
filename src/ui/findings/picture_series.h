#pragma once

#include "report/answer.h"
#include "ui/frame/workbench.h"

namespace bq::ui {

class PlotView;

/// Draws a picture of the report in a plot of the window.
void show_picture(PlotView& plot, const Picture& picture, const Workbench& workbench);

}  // namespace bq::ui
