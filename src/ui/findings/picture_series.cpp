#include "ui/findings/picture_series.h"

#include "ui/parts/words.h"
#include "ui/plot/plot_view.h"

namespace bq::ui {
namespace {

PlotSeries series_of(const PictureSeries& from, int place, const Workbench& workbench, bool few) {
  PlotSeries out;
  out.name = text_of(from.name);
  out.x = from.x;
  out.y = from.y;
  out.y_low = from.y_low;
  out.y_high = from.y_high;
  out.style = from.steel.empty() ? place : workbench.steel_style(from.steel);
  out.line = from.kind == PictureSeries::Kind::line;
  out.markers = !out.line;
  out.upward_arrows = from.kind == PictureSeries::Kind::arrows_up;
  out.ink = from.ink;
  out.faint = out.line && !from.runs.empty() && !from.ink && !few;
  out.label_at_end = out.line && few && !from.name.empty();
  for (const auto& run : from.runs) out.runs.push_back(text_of(run));
  return out;
}

}  // namespace

void show_picture(PlotView& plot, const Picture& picture, const Workbench& workbench) {
  PlotAxes axes;
  axes.x_label = text_of(picture.x_label);
  axes.y_label = text_of(picture.y_label);
  axes.x_log = picture.x_log;
  axes.y_log = picture.y_log;
  for (const auto& word : picture.x_words) axes.x_words << text_of(word);
  std::vector<PlotSeries> series;
  // Many lines are told apart by picking them; few carry their names.
  int lines = 0;
  for (const auto& one : picture.series)
    lines += one.kind == PictureSeries::Kind::line && !one.name.empty();
  for (std::size_t i = 0; i < picture.series.size(); ++i)
    series.push_back(
        series_of(picture.series[i], int(i), workbench, axes.x_words.isEmpty() && lines <= 8));
  plot.set_threshold(picture.level, text_of(picture.level_name), true);
  plot.show_plot(axes, series);
}

}  // namespace bq::ui
