#include <cstdio>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "store/ladder_file.h"
#include "workflow/source.h"
#include "workflow/stones_study.h"

namespace {

Json angle_json(const bq::BevelAngles& angles) {
  if (!(angles.left_deg > 0) && !(angles.right_deg > 0)) return nullptr;
  if (angles.is_symmetric()) return angles.left_deg;
  return Json{angles.left_deg, angles.right_deg};
}

/// The steps as they are done; of those that grind also what they take off.
Json steps_json(const bq::Sharpening& sharpening, const bq::LadderPlan& plan) {
  Json out = Json::array();
  std::size_t ground = 0;
  for (std::size_t i = 0; i < sharpening.steps.size(); ++i) {
    const auto& step = sharpening.steps[i];
    Json item{{"abrasive", step.abrasive},
              {"um", number_or_null(step.size_um)},
              {"act", name_of(step.work)},
              {"side", name_of(step.side)},
              {"angle_deg", angle_json(step.angles)},
              {"mm3", nullptr},
              {"strokes_per_side", step.passes ? Json(strokes_a_side(step)) : Json(nullptr)},
              {"minutes", number_or_null(step.planned_min)},
              {"pressure", step.pressure},
              {"recedes_um", nullptr},
              {"instruction", instruction(sharpening, i)}};
    if (step.work == bq::StepWork::grind || step.work == bq::StepWork::micro_bevel) {
      const auto& planned = plan.steps.at(ground++);
      item["mm3"] = planned.metal_mm3;
      item["recedes_um"] = planned.receded_um;
    }
    out.push_back(std::move(item));
  }
  return out;
}

}  // namespace

int run_ladder(const EdgeFileOptions& options) {
  const auto question = bq::parse_ladder_file(bq::read_text_file(options.file));
  if (!question) throw CommandEnd(kRefused, options.file + ":" + question.refusal().reason);
  for (const auto& note : question->notes)
    say(options.file + ": \"" + note + "\" is not known here and was not used");
  const auto plan = bq::plan_ladder(question->state, question->wish, question->shelf,
                                    bq::cutting_class_of(question->hard_phase_percent));
  if (!plan) throw CommandEnd(kRefused, options.file + ": " + plan.refusal().reason);
  bq::SharpeningOptions how;
  how.policy = question->burr;
  const auto guess = bq::guess_behaviour(question->hardness_hrc, question->hard_phase_percent);
  if (guess) how.behaviour = guess->behaviour;
  const bq::Sharpening sharpening = sharpening_from(*plan, question->shelf, question->wish, how);
  std::vector<std::string> remarks = plan->remarks;
  if (guess) remarks.push_back("Deburred by the " + sharpening.route + " (" + guess->why + ").");
  if (options.json) {
    print_json({{"steps", steps_json(sharpening, *plan)},
                {"total",
                 {{"mm3", plan->metal_mm3},
                  {"minutes", plan->minutes},
                  {"recedes_um", plan->receded_um},
                  {"minutes_estimated", plan->minutes_estimated}}},
                {"remarks", remarks}});
    return kDone;
  }
  for (std::size_t i = 0; i < sharpening.steps.size(); ++i)
    std::printf("%zu. %s\n", i + 1, instruction(sharpening, i).c_str());
  std::printf("in all %s mm³, %s min%s, the apex recedes %s µm\n",
              bq::print_number(plan->metal_mm3, 3).c_str(),
              bq::print_number(plan->minutes, 3).c_str(),
              plan->minutes_estimated ? " (estimated: not every rate is known)" : "",
              bq::print_number(plan->receded_um, 3).c_str());
  for (const auto& remark : remarks) std::printf("%s\n", remark.c_str());
  return kDone;
}
