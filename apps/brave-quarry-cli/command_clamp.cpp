#include <cstdio>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "store/jig_files.h"
#include "workflow/source.h"

int run_clamp(const EdgeFileOptions& options) {
  const auto refuse = [&](const std::string& reason) {
    return CommandEnd(kRefused, options.file + ": " + reason);
  };
  const auto question = bq::parse_clamp_file(bq::read_text_file(options.file));
  if (!question) throw CommandEnd(kRefused, options.file + ":" + question.refusal().reason);
  for (const auto& note : question->notes)
    say(options.file + ": \"" + note + "\" is not known here and was not used");
  const auto outline = bq::EdgeOutline::through(question->outline);
  if (!outline) throw refuse(outline.refusal().reason);
  auto made = bq::ClampSolver::make(*outline, question->jig);
  if (!made) throw refuse(made.refusal().reason);
  bq::ClampSolver solver = *made;
  if (question->held)
    if (const auto held = solver.hold(question->held->x_mm, question->held_deg); !held)
      throw refuse(held.refusal().reason);
  const auto spread = solver.spread({});
  if (!spread)
    throw refuse(
        "the jig does not give an angle between 0° and 80° per side everywhere along this edge");
  const auto best = solver.best(question->limits, question->aim);
  if (!best) throw refuse(best.refusal().reason);

  Json out;
  out["angles"] = Json::array();
  TextTable table({"station", "x mm", "angle/side", "°/mm shift", "°/mm height"});
  for (const auto& station : question->stations) {
    const auto angle = solver.angle_at_x(station.x_mm, {});
    if (!angle) throw refuse("station \"" + station.name + "\": " + angle.refusal().reason);
    const auto sensitivity = solver.sensitivity(station.x_mm, {});
    out["angles"].push_back({{"station", station.name},
                             {"x_mm", station.x_mm},
                             {"angle_deg", *angle},
                             {"per_mm_shift_deg", sensitivity->per_mm_shift_deg},
                             {"per_mm_height_deg", sensitivity->per_mm_height_deg}});
    table.add({station.name, bq::print_number(station.x_mm), bq::print_fixed(*angle, 3),
               bq::print_fixed(sensitivity->per_mm_shift_deg, 4),
               bq::print_fixed(sensitivity->per_mm_height_deg, 4)});
  }
  out["range_deg"] = spread->range_deg();
  out["least_deg"] = spread->least_deg;
  out["largest_deg"] = spread->largest_deg;
  out["rms_deg"] = spread->rms_deg;
  out["best_shift_mm"] = best->placement.shift_mm;
  out["best_turn_deg"] = best->placement.turn_deg;
  out["best_range_deg"] = best->spread.range_deg();
  out["best_rms_deg"] = best->spread.rms_deg;
  out["pivot_lateral_mm"] = *solver.lateral_mm({});
  out["best_pivot_lateral_mm"] = best->pivot_lateral_mm;
  std::string advice;
  if (question->tip_ink) out["advice"] = advice = solver.tip_advice(*question->tip_ink, {});
  if (options.json) {
    print_json(out);
    return kDone;
  }
  table.print();
  std::printf("along the edge  %s° to %s° per side, range %s°\n",
              bq::print_fixed(spread->least_deg, 3).c_str(),
              bq::print_fixed(spread->largest_deg, 3).c_str(),
              bq::print_fixed(spread->range_deg(), 3).c_str());
  std::printf("pivot lateral   %s mm\n", bq::print_number(*solver.lateral_mm({})).c_str());
  std::printf("best            shift %s mm, turn %s°: range %s°, pivot lateral %s mm\n",
              bq::print_fixed(best->placement.shift_mm, 2).c_str(),
              bq::print_fixed(best->placement.turn_deg, 2).c_str(),
              bq::print_fixed(best->spread.range_deg(), 3).c_str(),
              bq::print_number(best->pivot_lateral_mm).c_str());
  if (!advice.empty()) std::printf("%s\n", advice.c_str());
  return kDone;
}
