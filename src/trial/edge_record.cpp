#include "trial/edge_record.h"

#include <array>

#include "quantity/enum_name.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline trial {
namespace {

constexpr std::array<std::string_view, kIntakeChecks> kChecks{
    "straightness", "chips", "corrosion", "profile", "coating", "recurve", "previous bevel"};
constexpr std::array<std::string_view, kIntakeChecks> kMeanings{
    "A bent blade meets the stone with one side only: straighten it before its angle is measured.",
    "A chip must be ground out first, or its place left out of the readings; it would end the run "
    "early.",
    "Rust pits at the apex break out like chips; grind past them or choose another blade.",
    "A profile that is not the others' takes another cut: keep it out of comparisons between "
    "blades.",
    "A coating hides the bevel's angle and drags in the cut; compare coated blades with coated "
    "ones.",
    "A recurve hollows out between stone and edge: straighten the outline before fine stones.",
    "A bevel from before may stand behind the new one and carry it: read the angle at the apex, "
    "not on the face."};
constexpr std::array<std::string_view, 3> kMeasuredBevels{"", "edge bevel", "micro-bevel"};
constexpr std::array<std::string_view, 4> kSpots{"burr", "hangs", "bright spot", "damage"};

std::string place(double at_mm) {
  return said("{at_mm} mm from the heel", {{"at_mm", print_number(at_mm, 3)}});
}

struct RecordWords {
  std::string operator()(const OutlineRecord& r) const {
    return said("outline set ({origin}, {points} points)",
                {{"origin", r.origin}, {"points", std::to_string(r.points.size())}});
  }
  std::string operator()(const AngleRecord& r) const {
    std::string text = "angle";
    if (r.bevel != MeasuredBevel::not_said)
      text += said(" of the {bevel}", {{"bevel", std::string(name_of(r.bevel))}});
    text += ", " + std::string(name_of(r.side)) + ", " + place(r.at_mm) + ": " +
            print_number(r.angle_deg, 3) + "°";
    if (r.plus_minus_deg > 0) text += " ± " + print_number(r.plus_minus_deg, 2) + "°";
    text += said(" per side");
    return r.method.empty() ? text : text + " (" + r.method + ")";
  }
  std::string operator()(const ThicknessRecord& r) const {
    return said("thickness, {place}, {distance_mm} mm behind the apex: {thickness_mm} mm",
                {{"place", place(r.at_mm)},
                 {"distance_mm", print_number(r.distance_mm, 3)},
                 {"thickness_mm", print_number(r.thickness_mm, 3)}});
  }
  std::string operator()(const FindingRecord& r) const {
    std::string text =
        std::string(name_of(r.check)) + ": " + (r.trouble ? said("trouble") : said("good"));
    if (r.at_mm) text += ", " + place(*r.at_mm);
    if (r.size_mm) text += ", " + print_number(*r.size_mm, 3) + " mm";
    return r.note.empty() ? text : text + " – " + r.note;
  }
  std::string operator()(const SpotRecord& r) const {
    std::string text = std::string(name_of(r.kind)) + (r.cleared ? said(" cleared") : "");
    if (r.side) text += ", " + std::string(name_of(*r.side));
    text += ", " + place(r.at_mm);
    if (r.size_um > 0) text += ", " + print_number(r.size_um, 3) + " µm";
    return r.note.empty() ? text : text + " – " + r.note;
  }
  std::string operator()(const SectionRecord& r) const {
    std::string text =
        said("section with {grinds}{grind}",
             {{"grinds", std::to_string(r.plan.grinds.size())},
              {"grind", r.plan.grinds.size() == 1 ? said(" grind") : said(" grinds")}});
    return r.note.empty() ? text : text + " – " + r.note;
  }
  std::string operator()(const SettingRecord& r) const {
    return said(
        "jig setting for {angle_deg}° per side: shift {shift_mm} mm, pivot {pivot_lateral_mm} mm "
        "out and {pivot_height_mm} mm up",
        {{"angle_deg", print_number(r.angle_deg, 3)},
         {"shift_mm", print_number(r.shift_mm, 3)},
         {"pivot_lateral_mm", print_number(r.pivot_lateral_mm, 4)},
         {"pivot_height_mm", print_number(r.pivot_height_mm, 4)}});
  }
  std::string operator()(const NoteRecord& r) const { return r.text; }
  std::string operator()(const SharpeningRecord& r) const { return describe(r.sharpening); }
  std::string operator()(const ConditionRecord& r) const {
    std::string text = said(
        "on the edge: {could_not_be}",
        {{"could_not_be", r.condition.empty()
                              ? said("could not be told")
                              : r.name + " (" + print_number(100 * r.probability, 2) + " %)"}});
    if (r.at_mm) text += ", " + place(*r.at_mm);
    if (!r.run.empty()) text += said(", run {run}", {{"run", r.run}});
    return r.note.empty() ? text : text + " – " + r.note;
  }
};

}  // namespace

std::string_view name_of(MeasuredBevel bevel) { return kMeasuredBevels[std::size_t(bevel)]; }
std::optional<MeasuredBevel> parse_measured_bevel(std::string_view text) {
  return enum_named<MeasuredBevel>(kMeasuredBevels, text);
}

std::string_view name_of(IntakeCheck check) { return kChecks[std::size_t(check)]; }
std::optional<IntakeCheck> parse_intake_check(std::string_view text) {
  return enum_named<IntakeCheck>(kChecks, text);
}
std::string_view meaning_of(IntakeCheck check) { return kMeanings[std::size_t(check)]; }
std::string_view name_of(SpotKind kind) { return kSpots[std::size_t(kind)]; }
std::optional<SpotKind> parse_spot_kind(std::string_view text) {
  return enum_named<SpotKind>(kSpots, text);
}

std::string describe(const EdgeRecordData& data) { return std::visit(RecordWords{}, data); }

}  // namespace bq::inline trial
