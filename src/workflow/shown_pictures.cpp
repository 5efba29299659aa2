#include "workflow/shown_pictures.h"

#include <algorithm>

namespace bq::inline workflow {

std::vector<const Micrograph*> report_pictures(const Trial& trial, std::size_t most) {
  std::vector<const Micrograph*> out;
  for (auto it = trial.micrographs.rbegin(); it != trial.micrographs.rend() && out.size() < most;
       ++it)
    if (it->stone.empty() && !it->measures.empty()) out.push_back(&*it);
  return out;
}

PicturePart whole_picture(const Micrograph& micrograph) {
  return {0, 0, micrograph.width, micrograph.height};
}

PicturePart measured_part(const Micrograph& m) {
  double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
  for (const auto& measure : m.measures)
    for (const auto* points : {&measure.takes.back().points, &measure.takes.back().drawn})
      for (const Spot& p : *points) {
        left = std::min(left, p.x);
        right = std::max(right, p.x);
        top = std::min(top, p.y);
        bottom = std::max(bottom, p.y);
      }
  if (left > right) return whole_picture(m);
  const double wide = std::max(480.0, 1.5 * (right - left)),
               high = std::max(360.0, 1.5 * (bottom - top));
  if (wide * high > 0.5 * m.width * m.height) return whole_picture(m);
  PicturePart out;
  out.width = std::min(m.width, int(wide));
  out.height = std::min(m.height, int(high));
  out.x = std::clamp(int(0.5 * (left + right - wide)), 0, m.width - out.width);
  out.y = std::clamp(int(0.5 * (top + bottom - high)), 0, m.height - out.height);
  return out;
}

void show_whole(std::map<std::int64_t, ReportPicture>& pictures, const Trial& trial,
                const PictureStore& files, const CutPicture& cut) {
  constexpr std::int64_t kMost = 2 << 20;
  constexpr int kLongest = 1600;
  for (const Micrograph* m : report_pictures(trial)) {
    const bool as_it_is = m->kind == "png" && m->size > 0 && m->size <= kMost &&
                          std::max(m->width, m->height) <= kLongest;
    try {
      auto bytes = files.bytes(m->id);
      if (!bytes) continue;
      const PicturePart part = as_it_is ? whole_picture(*m) : measured_part(*m);
      std::string png = as_it_is ? std::move(*bytes) : cut(*bytes, part, kLongest);
      if (!png.empty()) pictures[m->id] = {std::move(png), part};
    } catch (const StoreError&) {
      // Its file is damaged; the thumbnail still shows it.
    }
  }
}

MicrographFigure figure_of(const Trial& trial, const Micrograph& micrograph,
                           const ReportPicture& picture) {
  MicrographFigure out{picture.png, "png", picture.part, scale_of(trial, micrograph), {}};
  for (std::size_t i = 0; i < micrograph.measures.size(); ++i) {
    const LensMeasure& measure = micrograph.measures[i];
    const LensTake& take = measure.takes.back();
    MicrographFigure::Mark mark{take.drawn, false,
                                std::to_string(i + 1) + "  " + print_measure(measure, out.scale)};
    if (take.box && take.points.size() == 2) {
      mark.box = true;
      mark.drawn.insert(mark.drawn.begin(), take.points.begin(), take.points.end());
    }
    out.marks.push_back(std::move(mark));
  }
  return out;
}

}  // namespace bq::inline workflow
