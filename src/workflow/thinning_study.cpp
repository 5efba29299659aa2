#include "workflow/thinning_study.h"

#include <algorithm>
#include <cmath>

#include "edge/ladder.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/edge_map.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

bool fits(GrindShape shape, AbrasiveKind kind) {
  switch (shape) {
    case GrindShape::flat:
      return has_flat_face(kind) || kind == AbrasiveKind::film || kind == AbrasiveKind::belt;
    case GrindShape::hollow:
      return kind == AbrasiveKind::wheel;
    case GrindShape::convex:
      return kind == AbrasiveKind::belt || has_flat_face(kind);
  }
  return false;
}

void put_work(ThinningAnswer& answer, const Trial& trial, const Blade& blade) {
  const auto with = quickest_of(trial.shelf, class_of_steel(trial, blade.steel),
                                [&](AbrasiveKind kind) { return fits(answer.option.shape, kind); });
  if (!with) return;
  answer.with = with->abrasive->name;
  answer.minutes = answer.metal_mm3 / with->rate.mm3_per_min;
  answer.minutes_estimated = with->rate.estimated;
  if (!is_powered(with->abrasive->kind))
    answer.strokes_a_side = int(std::ceil(*answer.minutes * LadderRules{}.strokes_per_min / 2));
}

std::string sentence_of(const ThinningAnswer& a) {
  std::string out = a.option.what + ": " + print_number(a.metal_mm3, 2) + " mm³";
  if (a.minutes) {
    out += said(", about {minutes} min on {with}{rate_estimated}",
                {{"minutes", print_number(std::max(1.0, std::round(*a.minutes)), 3)},
                 {"with", a.with},
                 {"rate_estimated", a.minutes_estimated ? said(" (rate estimated)") : ""}});
    if (a.strokes_a_side)
      out += ", " + std::to_string(*a.strokes_a_side) +
             (*a.strokes_a_side == 1 ? said(" stroke a side") : said(" strokes a side"));
  } else {
    out += said(", minutes not known: no {wheel} on the shelf has a rate",
                {{"wheel",
                  a.option.shape == GrindShape::hollow ? said("wheel") : said("abrasive for it")}});
  }
  const double percent = std::round(std::fabs(100 * a.parting_change));
  out += percent < 1 ? said("; parting stays as it is")
                     : said("; parting {falls} by {percent} %",
                            {{"falls", a.parting_change < 0 ? said("falls") : said("rises")},
                             {"percent", print_number(percent, 3)}});
  if (a.series_known)
    out += a.due_after
               ? said("; due again after {due_after}{touch_up}",
                      {{"due_after", std::to_string(*a.due_after)},
                       {"touch_up", *a.due_after == 1 ? said(" touch-up") : said(" touch-ups")}})
               : said("; not due again in the touch-ups looked at");
  return out;
}

}  // namespace

Checked<std::vector<ThinningAnswer>> thinning_of(const Trial& trial, std::size_t index,
                                                 const Section& section,
                                                 const std::vector<Grind>& grinds,
                                                 const ThinningQuestion& question) {
  const Blade& blade = trial.blades.at(index);
  const auto options = compare_thinning(section, question.wish, question.load);
  if (!options) return options.refusal();
  const double edge_mm = edge_now(blade).edge_mm(),
               before = parting_to_blend_N_per_mm(section, question.wish);
  std::vector<ThinningAnswer> out;
  for (const auto& option : *options) {
    ThinningAnswer answer{option, 0, {}, {}, false, {}, 0, {}, false, {}};
    if (!option.why_not.empty()) {
      answer.sentence = option.what + ": " + option.why_not;
      out.push_back(std::move(answer));
      continue;
    }
    answer.metal_mm3 = option.removed_mm2 * edge_mm;
    put_work(answer, trial, blade);
    if (before > 0) answer.parting_change = option.parting_N_per_mm / before - 1;
    std::vector<Grind> ground = grinds;
    ground.push_back(option.grind);
    if (option.then) ground.push_back(*option.then);
    const auto series = touch_up_series(
        option.section, touch_up_of(option.section, ground, question.worn_um), question.look_ahead);
    answer.series_known = bool(series);
    if (series) answer.due_after = thinning_due(*series, question.due_mm);
    answer.sentence = sentence_of(answer);
    out.push_back(std::move(answer));
  }
  return out;
}

}  // namespace bq::inline workflow
