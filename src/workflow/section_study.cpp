#include "workflow/section_study.h"

#include <locale>
#include <sstream>

#include "edge/parting.h"
#include "quantity/said.h"

namespace bq::inline workflow {
namespace {

Checked<StressStudy> stress_of(const Section& section, const SectionQuestion& question) {
  const auto weakest = weakest_place(section, *question.load);
  if (!weakest) return weakest.refusal();
  StressStudy out{
      *weakest, leading_limit(question.limits), {}, {}, describe(*weakest, question.limits)};
  if (out.limit) {
    out.peak_ratio = weakest->peak_MPa / out.limit->limit_MPa;
    out.least_angle_deg = least_wedge_angle_deg(*question.load, out.limit->limit_MPa);
  }
  return out;
}

}  // namespace

Checked<SectionStudy> study_section(const SectionQuestion& question) {
  const auto section = make_section(question.plan);
  if (!section) return section.refusal();
  SectionPlan start = question.plan;
  start.grinds.clear();
  start.apex_um = 0;
  const auto before = make_section(question.compare_with.value_or(start));
  if (!before)
    return Refusal{said("compare_with: {reason}", {{"reason", before.refusal().reason}})};
  SectionStudy out{*section,
                   *before,
                   !question.compare_with,
                   facets_of(*section),
                   shoulder_thickness_mm(*section),
                   behind_edge(*section, question.plan.grinds),
                   {},
                   removal(*before, *section),
                   {},
                   {},
                   {},
                   {},
                   {},
                   {},
                   {},
                   {}};
  for (const double at : question.at_mm)
    out.thickness_mm.emplace_back(at, section->thickness_mm(at));
  if (question.edge_length_mm)
    out.cost = cost_of(out.removed.area_mm2, *question.edge_length_mm, question.rate_mm3_per_min);
  if (question.load) {
    const auto stress = stress_of(*section, question);
    if (!stress) return stress.refusal();
    out.stress = *stress;
  }
  if (question.parting_depth_mm) {
    PartingOptions options;
    options.depth_mm = *question.parting_depth_mm;
    options.friction = question.friction;
    options.facets = question.friction_by_grind;
    out.parting_index = *parting_force_N_per_mm(*section, options);
    if (const auto reference = parting_force_N_per_mm(*before, options);
        *reference > 0 && question.compare_with)
      out.parting_against = *out.parting_index / *reference;
  }
  if (question.substrate) {
    const auto effect = substrate_effect(*question.substrate, question.substrate_pressure_MPa);
    if (!effect) return Refusal{said("substrate: {reason}", {{"reason", effect.refusal().reason}})};
    out.substrate = *effect;
  }
  if (question.touch_up) {
    const auto series = touch_up_series(*section, *question.touch_up, question.touch_ups);
    if (!series) return series.refusal();
    out.touch_ups = *series;
    if (question.thinning_limit_mm)
      out.thinning_due = thinning_due(out.touch_ups, *question.thinning_limit_mm);
  }
  if (question.thinning) {
    const auto options = compare_thinning(*section, *question.thinning, question.load);
    if (!options)
      return Refusal{said("thinning: {reason}", {{"reason", options.refusal().reason}})};
    out.thinning = *options;
  }
  return out;
}

std::string section_questions_text(const SectionQuestions& q) {
  std::ostringstream out;
  out.imbue(std::locale::classic());
  out.precision(12);
  out << q.line_N_per_mm << ' ' << q.depth_um << ' ' << q.rate_mm3_per_min << ' ' << q.friction
      << ' ' << q.length_mm;
  return out.str();
}

SectionQuestions section_questions_of(const std::string& text) {
  std::istringstream in(text);
  in.imbue(std::locale::classic());
  SectionQuestions q, read;
  if (in >> read.line_N_per_mm >> read.depth_um >> read.rate_mm3_per_min >> read.friction &&
      read.line_N_per_mm > 0 && read.depth_um > 0 && read.rate_mm3_per_min > 0 &&
      read.friction >= 0) {
    // Kept before loads had a length: the usual one.
    if (double length = 0; in >> length && length >= 0) read.length_mm = length;
    return read;
  }
  return q;
}

StrengthLimits strength_of(const SteelCard& card) {
  StrengthLimits limits;
  if (card.hardness_hrc)
    if (const auto yield = yield_MPa(*card.hardness_hrc)) limits.yield_MPa = *yield;
  limits.bend_strength_MPa = card.bend_strength_MPa;
  if (const auto toughness = parse_toughness(card.toughness);
      toughness && !limits.bend_strength_MPa)
    limits.bend_strength_MPa = default_bend_strength_MPa(*toughness);
  return limits;
}

}  // namespace bq::inline workflow
