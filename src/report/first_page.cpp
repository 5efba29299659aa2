// The report's first page: its lists, and an edge near its apex.
#include <algorithm>
#include <cmath>

#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "report/trial_report.h"

namespace bq::inline report {
namespace {

constexpr double kTall_mm = 38, kTop_mm = 2, kMiddle_mm = 46;
/// Of the height, where a micro-bevel stands on an edge bevel: its width is not told here.
constexpr double kMicroShare = 0.36;

}  // namespace

std::vector<std::pair<std::string, std::vector<std::string>>> FirstPage::lists() const {
  std::vector<std::pair<std::string, std::vector<std::string>>> out;
  if (!sure.empty()) out.push_back({said("How sure that is"), {sure}});
  for (const auto& [heading, lines] :
       {std::pair("What speaks against it, or is not known", &against),
        std::pair("What was asked of the edge", &limits), std::pair("What it rests on", &rests_on)})
    if (!lines->empty()) out.emplace_back(heading, *lines);
  return out;
}

Drawing draw_apex(double apex_deg, const std::optional<double>& behind_deg) {
  Drawing out;
  out.width_mm = 186;
  out.height_mm = kTall_mm + 2 * kTop_mm;
  const double bottom = kTop_mm + kTall_mm;
  const double micro = behind_deg ? kMicroShare * kTall_mm : kTall_mm;
  const double at_micro = micro * std::tan(radians(apex_deg));
  const double at_top =
      at_micro + (behind_deg ? (kTall_mm - micro) * std::tan(radians(*behind_deg)) : 0);
  DrawingLine body;
  body.closed = body.filled = true;
  body.width_mm = 0.4;
  body.points = {{kMiddle_mm, bottom},
                 {kMiddle_mm + at_micro, bottom - micro},
                 {kMiddle_mm + at_top, kTop_mm},
                 {kMiddle_mm - at_top, kTop_mm},
                 {kMiddle_mm - at_micro, bottom - micro}};
  out.lines.push_back(body);
  DrawingLine middle;
  middle.dashed = true;
  middle.width_mm = 0.2;
  middle.points = {{kMiddle_mm, kTop_mm}, {kMiddle_mm, bottom}};
  out.lines.push_back(middle);
  const auto label = [&](double y, double x, const std::string& words) {
    DrawingLine lead;
    lead.width_mm = 0.2;
    lead.points = {{kMiddle_mm + x, y}, {kMiddle_mm + 22, y}};
    out.lines.push_back(lead);
    out.texts.push_back({kMiddle_mm + 24, y + 1, words, 3.2});
  };
  const auto both = [](double deg) {
    return said("{deg}° per side, {deg_2}° inclusive",
                {{"deg", print_number(deg, 3)}, {"deg_2", print_number(2 * deg, 3)}});
  };
  label(bottom - micro / 2, at_micro / 2, said("apex {both}", {{"both", both(apex_deg)}}));
  if (behind_deg)
    label(kTop_mm + (kTall_mm - micro) / 2, (at_micro + at_top) / 2,
          said("edge bevel behind it {both}", {{"both", both(*behind_deg)}}));
  return out;
}

}  // namespace bq::inline report
