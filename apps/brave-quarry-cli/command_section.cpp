#include <cstdio>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "workflow/section_study.h"
#include "workflow/source.h"

namespace {

using bq::print_number;

Json stress_json(const bq::StressStudy& s) {
  return {{"peak_ratio", number_or_null(s.peak_ratio)},
          {"at_um", s.weakest.at_mm * 1000},
          {"thickness_um", s.weakest.thickness_mm * 1000},
          {"least_angle_deg", number_or_null(s.least_angle_deg)},
          {"peak_MPa", s.weakest.peak_MPa},
          {"limit_MPa", s.limit ? Json(s.limit->limit_MPa) : Json(nullptr)},
          {"failure", s.limit ? Json(name_of(s.limit->failure)) : Json(nullptr)},
          {"neck", s.weakest.place == bq::WeakPlace::neck},
          {"estimate", true},
          {"sentence", s.sentence}};
}

Json json_of(const bq::SectionStudy& study) {
  Json out{{"inclusive_deg", study.section.apex_angles().inclusive_deg()},
           {"left_deg", study.section.apex_angles().left_deg},
           {"right_deg", study.section.apex_angles().right_deg},
           {"apex_um", study.section.apex_width_mm() * 1000}};
  out["facets"] = Json::array();
  for (const auto& f : study.facets)
    out["facets"].push_back({{"side", name_of(f.side)},
                             {"angle_deg", f.angle_deg},
                             {"width_um", f.width_um},
                             {"from_um", f.from_um},
                             {"to_um", f.to_um},
                             {"from_thickness_mm", f.from_thickness_mm},
                             {"to_thickness_mm", f.to_thickness_mm},
                             {"apex_end_deg", f.apex_end_deg},
                             {"shoulder_end_deg", f.shoulder_end_deg},
                             {"grind", f.made_by >= 0 ? Json(f.made_by + 1) : Json(nullptr)}});
  out["shoulder_thickness_mm"] = number_or_null(study.shoulder_mm);
  out["behind_edge_mm"] = study.behind ? number_or_null(study.behind->thickness_mm) : Json(nullptr);
  out["thickness_mm"] = Json::array();
  for (const auto& [at, value] : study.thickness_mm)
    out["thickness_mm"].push_back({{"at_mm", at}, {"value", number_or_null(value)}});
  out["removed_mm2"] = study.removed.area_mm2;
  out["apex_receded_mm"] = study.removed.apex_receded_mm;
  if (study.cost)
    out["removed"] = {{"mm3", study.cost->volume_mm3},
                      {"g", study.cost->mass_g},
                      {"minutes", number_or_null(study.cost->minutes)}};
  out["stress"] = study.stress ? stress_json(*study.stress) : Json(nullptr);
  if (study.parting_index)
    out["parting"] = {{"index", *study.parting_index},
                      {"against_compared", number_or_null(study.parting_against)},
                      {"estimate", true}};
  if (study.substrate)
    out["substrate"] = {{"sink_um", study.substrate->sink_mm * 1000},
                        {"steeper_deg", study.substrate->steeper_deg},
                        {"estimate", true}};
  if (!study.touch_ups.empty()) {
    Json series = Json::array();
    for (const auto& s : study.touch_ups)
      series.push_back({{"touch_ups", s.touch_ups},
                        {"apex_receded_mm", s.apex_receded_mm},
                        {"removed_mm2", s.removed_mm2},
                        {"shoulder_thickness_mm", s.shoulder_thickness_mm},
                        {"edge_facet_um", s.edge_facet_um},
                        {"inclusive_deg", s.inclusive_deg}});
    out["touch_ups"] = series;
    out["thinning_due"] = study.thinning_due ? Json(*study.thinning_due) : Json(nullptr);
  }
  for (const auto& option : study.thinning) {
    if (!option.why_not.empty()) {
      out["thinning"].push_back({{"op", name_of(option.shape)}, {"why_not", option.why_not}});
      continue;
    }
    out["thinning"].push_back({{"op", name_of(option.shape)},
                               {"angle_deg", option.grind.angle_deg},
                               {"removed_mm2", option.removed_mm2},
                               {"parting_index", option.parting_N_per_mm},
                               {"peak_MPa", number_or_null(option.peak_MPa)}});
  }
  return out;
}

void print_text(const bq::SectionStudy& study) {
  const auto angles = study.section.apex_angles();
  std::printf("inclusive %s°: left %s°, right %s° per side",
              print_number(angles.inclusive_deg()).c_str(), print_number(angles.left_deg).c_str(),
              print_number(angles.right_deg).c_str());
  if (study.section.apex_width_mm() > 0)
    std::printf("; apex %s µm wide", print_number(study.section.apex_width_mm() * 1000, 3).c_str());
  std::printf("\n");
  TextTable facets(
      {"side", "grind", "angle/side", "width µm", "from µm", "to µm", "thick mm", "to mm"});
  for (const auto& f : study.facets)
    facets.add({std::string(name_of(f.side)),
                f.made_by >= 0 ? std::to_string(f.made_by + 1) : "measured",
                bq::print_fixed(f.angle_deg, 2), bq::print_fixed(f.width_um, 1),
                bq::print_fixed(f.from_um, 1), bq::print_fixed(f.to_um, 1),
                bq::print_fixed(f.from_thickness_mm, 4), bq::print_fixed(f.to_thickness_mm, 4)});
  facets.print();
  if (study.behind)
    std::printf("thickness behind the edge  %s\n", bq::describe(*study.behind).c_str());
  for (const auto& [at, value] : study.thickness_mm)
    std::printf("thickness at %s mm  %s\n", print_number(at).c_str(),
                value ? (print_number(*value) + " mm").c_str() : "beyond the spine");
  std::printf("removed against %s  %s mm², apex receded %s mm\n",
              study.compared_with_start ? "the start" : "the other section",
              print_number(study.removed.area_mm2).c_str(),
              print_number(study.removed.apex_receded_mm).c_str());
  if (study.cost) {
    std::printf("  %s mm³, %s g", print_number(study.cost->volume_mm3).c_str(),
                print_number(study.cost->mass_g).c_str());
    if (study.cost->minutes) std::printf(", %s min", print_number(*study.cost->minutes, 3).c_str());
    std::printf("\n");
  }
  if (study.stress) {
    std::printf("estimate: %s", study.stress->sentence.c_str());
    if (study.stress->peak_ratio)
      std::printf("; stress is %s of what it %s at; least plain wedge %s° per side",
                  print_number(*study.stress->peak_ratio, 3).c_str(),
                  std::string(name_of(study.stress->limit->failure)).c_str(),
                  print_number(*study.stress->least_angle_deg, 3).c_str());
    std::printf("\n");
  }
  if (study.parting_index)
    std::printf("estimate: parting index %s N/mm at K = 1 N/mm³\n",
                print_number(*study.parting_index).c_str());
  if (study.substrate)
    std::printf(
        "estimate: the substrate sinks %s µm and meets the apex %s° steeper; lie that much "
        "flatter\n",
        print_number(study.substrate->sink_mm * 1000, 3).c_str(),
        print_number(study.substrate->steeper_deg, 3).c_str());
  if (!study.touch_ups.empty()) {
    TextTable series({"touch-ups", "receded mm", "behind edge mm", "edge facet µm"});
    for (const auto& s : study.touch_ups)
      series.add({std::to_string(s.touch_ups), bq::print_fixed(s.apex_receded_mm, 4),
                  bq::print_fixed(s.shoulder_thickness_mm, 4),
                  bq::print_fixed(s.edge_facet_um, 1)});
    series.print();
    if (study.thinning_due) std::printf("thinning is due after touch-up %d\n", *study.thinning_due);
  }
  if (!study.thinning.empty()) {
    TextTable ways({"thinning", "removed mm²", "parting index"});
    for (const auto& option : study.thinning)
      if (option.why_not.empty())
        ways.add({std::string(name_of(option.shape)), print_number(option.removed_mm2),
                  print_number(option.parting_N_per_mm)});
      else
        ways.add({std::string(name_of(option.shape)), "cannot be ground: " + option.why_not, ""});
    ways.print();
  }
}

}  // namespace

int run_section(const EdgeFileOptions& options) {
  const auto question = bq::parse_section_file(bq::read_text_file(options.file));
  if (!question) throw CommandEnd(kRefused, options.file + ":" + question.refusal().reason);
  for (const auto& note : question->notes)
    say(options.file + ": \"" + note + "\" is not known here and was not used");
  const auto study = bq::study_section(*question);
  if (!study) throw CommandEnd(kRefused, options.file + ": " + study.refusal().reason);
  if (options.json)
    print_json(json_of(*study));
  else
    print_text(*study);
  return kDone;
}
