#include "workflow/work_list.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "edge/section_outcomes.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/ladder_draft.h"
#include "workflow/thinning_study.h"

namespace bq::inline workflow {
namespace {

constexpr std::array<std::string_view, 8> kNames{
    "straighten", "outline and recurve", "thin", "chips", "sharpen", "deburr", "spots", "clean"};

std::string at_place(const std::optional<double>& at_mm) {
  return at_mm ? said(" {at_mm} mm from the heel", {{"at_mm", print_number(*at_mm, 3)}}) : "";
}

std::string of_size(const std::optional<double>& size_mm, const char* words) {
  return size_mm && *size_mm > 0 ? " " + print_number(*size_mm, 3) + " mm" + words : "";
}

void put_metal(WorkItem& item, double mm3, const Trial& trial, const std::string& steel) {
  item.metal_mm3 = mm3;
  const auto with =
      quickest_of(trial.shelf, class_of_steel(trial, steel), [](AbrasiveKind) { return true; });
  if (!with) return;
  item.minutes = mm3 / with->rate.mm3_per_min;
  item.minutes_estimated = with->rate.estimated;
  item.with = with->abrasive->name;
}

/// Metal of bringing the apex down by a depth at the edge's own angles, along the whole edge.
std::optional<double> metal_down(const EdgeNow& edge, double depth_mm) {
  if (!edge.section) return std::nullopt;
  const auto section = make_section(*edge.section);
  if (!section) return std::nullopt;
  const BevelAngles apex = section->apex_angles();
  Grind grind;
  grind.side = GrindSide::both;
  grind.angle_deg = apex.left_deg;
  grind.angle_right_deg = apex.right_deg;
  grind.until = UntilDepth{depth_mm};
  const auto after = section->ground(grind);
  if (!after) return std::nullopt;
  return removal(*section, *after).area_mm2 * edge.edge_mm();
}

void add_straightening(const EdgeNow& edge, std::vector<WorkItem>& out) {
  const auto* bent = edge.trouble(IntakeCheck::straightness);
  if (!bent) return;
  WorkItem item;
  item.work = BladeWork::straighten;
  item.at_mm = bent->at_mm;
  item.what = said(
      "straighten it,{of_size}{at_place}",
      {{"of_size", of_size(bent->size_mm, " out of line")}, {"at_place", at_place(bent->at_mm)}});
  if (item.what.ends_with(',')) item.what.pop_back();
  item.why = said("Before anything is ground: a straightened blade has to be ground again.");
  out.push_back(std::move(item));
}

void add_outline(const Trial& trial, const Blade& blade, const EdgeNow& edge,
                 std::vector<WorkItem>& out) {
  for (const auto check : {IntakeCheck::recurve, IntakeCheck::profile}) {
    const auto* hollow = edge.trouble(check);
    if (!hollow) continue;
    WorkItem item;
    item.work = BladeWork::outline;
    item.at_mm = hollow->at_mm;
    item.what =
        std::string(check == IntakeCheck::recurve ? said("take the hollow out of the outline")
                                                  : said("put the outline right")) +
        (hollow->size_mm ? "," : "") + of_size(hollow->size_mm, " deep") + at_place(hollow->at_mm);
    item.why = said("The rest comes down to the bottom of it; heel and tip keep their places.");
    // A parabolic hollow: two thirds of the strip over it have to go.
    if (hollow->size_mm && *hollow->size_mm > 0)
      if (const auto metal = metal_down(edge, *hollow->size_mm))
        put_metal(item, 2.0 / 3.0 * *metal, trial, blade.steel);
    out.push_back(std::move(item));
  }
}

void add_thinning(const Trial& trial, std::size_t blade, const EdgeNow& edge,
                  std::vector<WorkItem>& out) {
  if (!edge.section) return;
  const auto section = make_section(*edge.section);
  if (!section) return;
  const auto behind = behind_edge(*section, edge.section->grinds);
  if (!behind || !behind->thickness_mm || *behind->thickness_mm <= kThickBehindEdge_mm) return;
  WorkItem item;
  item.work = BladeWork::thin;
  item.what = said("thin it behind the edge: {thickness_mm} mm at {distance_mm} mm from the apex",
                   {{"thickness_mm", print_fixed(*behind->thickness_mm, 2)},
                    {"distance_mm", print_number(behind->distance_mm, 2)}});
  item.why = said(
      "Above {thick_behind_edge_mm} mm the sharpest edge wedges and drags; Section compares the "
      "ways to thin it.",
      {{"thick_behind_edge_mm", print_number(kThickBehindEdge_mm, 2)}});
  // To the line where it is no longer too thick: what has to be done, not what could be.
  ThinningQuestion question;
  question.wish.behind_edge_mm = kThickBehindEdge_mm;
  question.look_ahead = 0;
  if (const auto ways = thinning_of(trial, blade, *section, edge.section->grinds, question)) {
    const auto flat = std::find_if(ways->begin(), ways->end(),
                                   [](const auto& way) { return way.option.why_not.empty(); });
    item.metal_mm3 = flat->metal_mm3;
    item.minutes = flat->minutes;
    item.minutes_estimated = flat->minutes_estimated;
    item.with = flat->with;
  }
  out.push_back(std::move(item));
}

/// What the ladder takes beyond the outline's metal: bringing the rest of the edge down to a hollow
/// takes chips of that depth with it.
void put_ladder(WorkItem& item, const LadderPlan& plan, const std::vector<Abrasive>& shelf,
                const std::vector<WorkItem>& before) {
  double with_outline = 0;
  for (const auto& other : before)
    if (other.work == BladeWork::outline) with_outline += other.metal_mm3.value_or(0);
  const double left = std::max(0.0, plan.metal_mm3 - with_outline);
  if (with_outline > 0)
    item.why += said(" The outline above takes {with_outline} mm³ of it.",
                     {{"with_outline", print_number(std::min(with_outline, plan.metal_mm3), 2)}});
  item.metal_mm3 = left;
  item.minutes = plan.metal_mm3 > 0 ? plan.minutes * left / plan.metal_mm3 : plan.minutes;
  item.minutes_estimated = plan.minutes_estimated;
  if (plan.steps.empty()) return;
  const std::string &first = shelf[plan.steps.front().abrasive].name,
                    &last = shelf[plan.steps.back().abrasive].name;
  item.with = first == last ? first : said("{first} to {last}", {{"first", first}, {"last", last}});
}

void add_sharpening(const Trial& trial, std::size_t blade, const EdgeNow& edge,
                    std::vector<WorkItem>& out) {
  const double damage_um = open_damage_um(edge);
  const auto* chips = edge.trouble(IntakeCheck::chips);
  if (!(damage_um > 0) && !chips) return;
  WorkItem item;
  item.work = BladeWork::chips;
  item.at_mm = chips ? chips->at_mm : std::nullopt;
  item.what = damage_um > 0
                  ? said("grind the whole edge to the bottom of the damage, {damage_um} mm",
                         {{"damage_um", print_number(damage_um / 1000, 2)}})
                  : said("chips of unknown depth{at_place}: measure one under the lens",
                         {{"at_place", at_place(item.at_mm)}});
  item.why = damage_um > 0 ? said("Never at the damage alone: a hollow is worse than a nick.") : "";
  if (damage_um > 0)
    if (const auto input = first_input(trial, blade)) {
      if (const auto plan = ladder_for(trial, blade, *input)) {
        put_ladder(item, *plan, trial.shelf, out);
      }
    }
  out.push_back(std::move(item));
}

std::string named(const Abrasive* abrasive, const char* otherwise) {
  if (!abrasive) return otherwise;
  return abrasive->name + " (" + print_number(*size_um(*abrasive), 3) + " µm)";
}

void add_spots(const Trial& trial, const EdgeNow& edge, std::vector<WorkItem>& out) {
  constexpr double kMedium_um = 15;
  const std::string fine = named(hard_fine(trial.shelf, {}), "the finest stone"),
                    medium = named(
                        nearest_in_size(trial.shelf, kMedium_um,
                                        [](const Abrasive& a) { return has_flat_face(a.kind); }),
                        "a medium stone");
  const auto places = [&](SpotKind kind) {
    std::string words;
    for (const auto& spot : edge.spots)
      if (spot.kind == kind)
        words += (words.empty() ? "" : ", ") + print_number(spot.at_mm, 3) + " mm";
    return words;
  };
  const auto add = [&](SpotKind kind, BladeWork work, const std::string& what,
                       const std::string& why) {
    const std::string where = places(kind);
    if (where.empty()) return;
    WorkItem item;
    item.work = work;
    item.what = said("{what} at {where} from the heel", {{"what", what}, {"where", where}});
    item.why = why;
    out.push_back(std::move(item));
  };
  add(SpotKind::burr, BladeWork::deburr, said("take the burr off"),
      said("Light alternating strokes there on {fine}, about 10, then look again along the edge "
           "against the light.",
           {{"fine", fine}}));
  add(SpotKind::bright, BladeWork::spots, said("bring the flat spot to an apex"),
      said("Light glints from it: about 20 strokes there on {medium}, running out to both sides.",
           {{"medium", medium}}));
  add(SpotKind::hangs, BladeWork::spots, said("clear the place where it hangs"),
      said("Wipe, strop there, slice the same paper again; only then a few light strokes on "
           "{fine}, running out to both sides, and no hollow.",
           {{"fine", fine}}));
}

void add_cleaning(const EdgeNow& edge, std::vector<WorkItem>& out) {
  for (const auto check : {IntakeCheck::corrosion, IntakeCheck::coating}) {
    const auto* found = edge.trouble(check);
    if (!found) continue;
    WorkItem item;
    item.work = BladeWork::clean;
    item.at_mm = found->at_mm;
    item.what = std::string(check == IntakeCheck::corrosion ? said("take the rust off")
                                                            : said("see to the coating")) +
                at_place(found->at_mm);
    out.push_back(std::move(item));
  }
}

constexpr double kHair_mm = 1e-3;  ///< what no straight edge shows

/// How far the apex lies deeper in the section that is left than in the one on record; 0 where that
/// is not known.
double apex_went_back_mm(const EdgeNow& edge, const SectionPlan& leaves) {
  if (!edge.section) return 0;
  const auto before = make_section(*edge.section), after = make_section(leaves);
  return before && after ? after->apex_mm() - before->apex_mm() : 0;
}

}  // namespace

std::string_view name_of(BladeWork work) { return kNames[std::size_t(work)]; }

std::vector<WorkItem> work_list(const Trial& trial, std::size_t index) {
  const Blade& blade = trial.blades.at(index);
  const EdgeNow edge = edge_now(blade);
  std::vector<WorkItem> out;
  add_straightening(edge, out);
  add_outline(trial, blade, edge, out);
  add_thinning(trial, index, edge, out);
  add_sharpening(trial, index, edge, out);
  add_spots(trial, edge, out);
  add_cleaning(edge, out);
  return out;
}

std::string describe(const WorkItem& item) {
  std::string out = item.what;
  if (!out.empty()) out[0] = char(std::toupper(static_cast<unsigned char>(out[0])));
  if (item.metal_mm3) {
    out += " (" + print_number(*item.metal_mm3, 2) + " mm³";
    if (item.minutes)
      out += ", " + print_number(std::max(1.0, std::round(*item.minutes)), 3) + " min" +
             (item.with.empty() ? "" : said(" on {with}", {{"with", item.with}})) +
             (item.minutes_estimated ? said(", estimated") : "");
    out += ")";
  }
  return out + ".";
}

std::vector<FindingRecord> findings_closed_by(const Blade& blade, const Sharpening& sharpening,
                                              const std::optional<SectionPlan>& leaves) {
  const EdgeNow edge = edge_now(blade);
  const auto did = [&](StepWork work) {
    return std::any_of(sharpening.steps.begin(), sharpening.steps.end(),
                       [&](const SharpeningStep& step) { return step.work == work && step.done; });
  };
  std::vector<FindingRecord> out;
  const auto close = [&](IntakeCheck check, bool done) {
    if (!done || !edge.trouble(check)) return;
    FindingRecord closed;
    closed.check = check;
    closed.note = said("mended by the sharpening");
    out.push_back(std::move(closed));
  };
  close(IntakeCheck::straightness, did(StepWork::straighten));
  close(IntakeCheck::recurve, did(StepWork::recurve));
  close(IntakeCheck::profile, did(StepWork::recurve));
  const auto* chips = edge.trouble(IntakeCheck::chips);
  close(IntakeCheck::chips, chips && chips->size_mm && did(StepWork::grind) && leaves &&
                                apex_went_back_mm(edge, *leaves) > *chips->size_mm - kHair_mm);
  return out;
}

}  // namespace bq::inline workflow
