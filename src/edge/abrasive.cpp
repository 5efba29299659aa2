#include "edge/abrasive.h"

#include <algorithm>
#include <cmath>

#include "edge/abrasive_fields.h"
#include "edge/grit.h"
#include "quantity/angle.h"
#include "quantity/enum_name.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr std::array<std::string_view, kAbrasiveKinds> kKinds{
    "bench stone", "diamond plate", "film", "belt", "wheel", "rod", "strop"};
constexpr std::array<std::string_view, 3> kBites{"well", "slowly", "hardly"};

}  // namespace

std::string_view name_of(AbrasiveKind kind) { return kKinds[std::size_t(kind)]; }
std::optional<AbrasiveKind> parse_abrasive_kind(std::string_view text) {
  return enum_named<AbrasiveKind>(kKinds, text);
}
bool has_flat_face(AbrasiveKind kind) {
  return kind == AbrasiveKind::bench_stone || kind == AbrasiveKind::diamond_plate;
}
bool is_powered(AbrasiveKind kind) {
  return kind == AbrasiveKind::belt || kind == AbrasiveKind::wheel;
}

std::string_view name_of(CuttingClass c) {
  return std::array<std::string_view, 3>{"plain", "alloyed", "rich in hard phase"}[std::size_t(c)];
}

CuttingClass cutting_class_of(std::optional<double> percent) {
  if (!percent || *percent < 3) return CuttingClass::plain;
  return *percent <= 8 ? CuttingClass::alloyed : CuttingClass::hard_phase;
}

std::string_view name_of(Bite bite) { return kBites[std::size_t(bite)]; }
std::optional<Bite> parse_bite(std::string_view text) { return enum_named<Bite>(kBites, text); }
double rate_factor(Bite bite) { return std::array<double, 3>{1, 0.4, 0.05}[std::size_t(bite)]; }

std::optional<Refusal> fault_of(const Abrasive& a) {
  if (a.name.find_first_not_of(' ') == std::string::npos)
    return Refusal{said("an abrasive needs a name")};
  if (!a.label.empty())
    if (const auto grit = parse_grit(a.label); !grit)
      return Refusal{said("label \"{label}\": {reason}",
                          {{"label", a.label}, {"reason", grit.refusal().reason}})};
  if (const auto fault = range_fault(a)) return fault;
  for (const auto& entry : a.flatness)
    if (const auto fault = range_fault(entry))
      return Refusal{said("a look at its face: {reason}", {{"reason", fault->reason}})};
  return std::nullopt;
}

std::optional<double> size_um(const Abrasive& abrasive) {
  if (abrasive.measured_um) return abrasive.measured_um;
  if (abrasive.label.empty()) return std::nullopt;
  const auto grit = parse_grit(abrasive.label);
  return grit ? std::optional(grit->mean_um) : std::nullopt;
}

std::string print_size(const Abrasive& a) {
  const auto grit = a.label.empty() ? Checked<GritSize>(Refusal{}) : parse_grit(a.label);
  if (a.measured_um) {
    const std::string measured =
        said("{measured_um} µm measured", {{"measured_um", print_number(*a.measured_um, 3)}});
    return grit ? said("{measured} (label {label}: {mean_um} µm)",
                       {{"measured", measured},
                        {"label", a.label},
                        {"mean_um", print_number(grit->mean_um, 3)}})
                : measured;
  }
  return grit ? said("{mean_um} µm by its label {label}",
                     {{"mean_um", print_number(grit->mean_um, 3)}, {"label", a.label}})
              : said("size not known");
}

std::optional<Rate> rate_on(const Abrasive& abrasive, CuttingClass cutting_class) {
  const double factor = rate_factor(abrasive.bites[std::size_t(cutting_class)]);
  if (abrasive.rate_mm3_per_min) return Rate{*abrasive.rate_mm3_per_min * factor, false};
  const auto size = size_um(abrasive);
  if (!size) return std::nullopt;
  return Rate{0.08 * *size * factor, true};
}

FaceState face_state(const Abrasive& a) {
  FaceState state;
  if (!has_flat_face(a.kind)) return state;
  if (a.flatness.empty()) {
    state.flatten_first = true;
    state.sentence = said("never checked: lay a straight edge on it before use");
    return state;
  }
  const FlatnessEntry& last = a.flatness.back();
  state.known = true;
  state.deviation_um = last.flattened ? 0 : last.deviation_um;
  const double over = last.over_mm > 0 ? last.over_mm : a.length_mm;
  state.turn_deg = degrees(std::atan(4 * state.deviation_um / 1000 / over));
  const std::string day =
      last.date.empty() ? "" : said(" on {date}", {{"date", last.date.substr(0, 10)}});
  const std::string hollow = said(
      "{deviation_um} µm hollow over {over} mm turns the contact by up to {turn_deg}° at the ends",
      {{"deviation_um", print_number(state.deviation_um, 3)},
       {"over", print_number(over, 3)},
       {"turn_deg", print_fixed(state.turn_deg, 2)}});
  if (state.deviation_um > a.flat_within_um && state.turn_deg > kTurnThatMatters_deg) {
    state.flatten_first = true;
    state.sentence = said("flatten before use: {hollow}", {{"hollow", hollow}});
  } else if (a.blades_since_check >= a.check_every_blades) {
    state.flatten_first = true;
    state.sentence =
        said("check the face before use: {blades_since_check} blades since the last look{day}",
             {{"blades_since_check", std::to_string(a.blades_since_check)}, {"day", day}});
  } else if (state.deviation_um > a.flat_within_um) {
    state.sentence = said("{hollow}: nothing a hand would notice", {{"hollow", hollow}});
  } else {
    state.sentence =
        last.flattened
            ? "flattened" + day
            : said("flat within {deviation_um} µm{day}",
                   {{"deviation_um", print_number(state.deviation_um, 3)}, {"day", day}});
    if (a.blades_since_check > 0)
      state.sentence += ", " + std::to_string(a.blades_since_check) +
                        (a.blades_since_check == 1 ? said(" blade since") : said(" blades since"));
  }
  return state;
}

std::vector<std::string> before_use(const Abrasive& a, CuttingClass cutting_class) {
  std::vector<std::string> out;
  if (a.soak_min > 0)
    out.push_back(said("soak it for {soak_min} min", {{"soak_min", print_number(a.soak_min, 3)}}));
  if (const FaceState face = face_state(a); face.flatten_first) out.push_back(face.sentence);
  if (a.loaded) out.emplace_back(said("it is loaded: dress it"));
  if (a.blackened) out.emplace_back(said("the compound is black: clean it and charge it again"));
  if (a.kind == AbrasiveKind::strop && a.blades_since_upkeep >= a.check_every_blades)
    out.push_back(said("strop upkeep is due: {blades_since_upkeep} blades since",
                       {{"blades_since_upkeep", std::to_string(a.blades_since_upkeep)}}));
  if (a.break_in_blades > 0)
    out.push_back(said(
        "new: its finish is not steady for {break_in_blades}{more_blade}",
        {{"break_in_blades", std::to_string(a.break_in_blades)},
         {"more_blade", a.break_in_blades == 1 ? said(" more blade") : said(" more blades")}}));
  if (a.streaks)
    out.emplace_back(said("it leaves single deep scratches: look before the next one"));
  const Bite bite = a.bites[std::size_t(cutting_class)];
  if (bite != Bite::well)
    out.push_back(said("it cuts this steel ({cutting_class}) {bite}{take_harder_abrasive}",
                       {{"cutting_class", std::string(name_of(cutting_class))},
                        {"bite", std::string(name_of(bite))},
                        {"take_harder_abrasive",
                         bite == Bite::hardly ? said(": take a harder abrasive")
                                              : said(": reckon with more than twice the time")}}));
  return out;
}

std::optional<double> wear_price_per_blade(const Abrasive& a) {
  if (!a.price || !a.usable_mm || !a.wear_um_per_blade || *a.usable_mm <= 0) return std::nullopt;
  return *a.price * *a.wear_um_per_blade / 1000 / *a.usable_mm;
}

std::vector<ShelfRemark> shelf_remarks(const std::vector<Abrasive>& shelf,
                                       const ShelfRules& rules) {
  std::vector<ShelfRemark> out;
  std::vector<std::pair<double, const Abrasive*>> sized;
  for (const auto& abrasive : shelf) {
    if (abrasive.retired || abrasive.kind == AbrasiveKind::strop) continue;
    if (const auto size = size_um(abrasive))
      sized.emplace_back(*size, &abrasive);
    else
      out.push_back(
          {ShelfRemarkKind::unknown_size, abrasive.name, "", 0,
           said("{name} has neither a label nor a measured size: it cannot take its place.",
                {{"name", abrasive.name}})});
  }
  std::stable_sort(sized.begin(), sized.end(),
                   [](const auto& a, const auto& b) { return a.first > b.first; });
  for (std::size_t i = 0; i + 1 < sized.size(); ++i) {
    const auto& [coarse_um, coarse] = sized[i];
    const auto& [fine_um, fine] = sized[i + 1];
    const double ratio = coarse_um / fine_um;
    const std::string sizes =
        said("{coarse_um} to {fine_um} µm",
             {{"coarse_um", print_number(coarse_um, 3)}, {"fine_um", print_number(fine_um, 3)}});
    if (ratio > rules.too_far)
      out.push_back({ShelfRemarkKind::too_far, coarse->name, fine->name, ratio,
                     said("From {name} to {name_2} is too far: {sizes}, a factor of {ratio}.",
                          {{"name", coarse->name},
                           {"name_2", fine->name},
                           {"sizes", sizes},
                           {"ratio", print_fixed(ratio, 1)}})});
    if (ratio < rules.redundant)
      out.push_back({ShelfRemarkKind::redundant, coarse->name, fine->name, ratio,
                     said("{name} and {name_2} do the same work: {sizes}.",
                          {{"name", coarse->name}, {"name_2", fine->name}, {"sizes", sizes}})});
  }
  return out;
}

}  // namespace bq::inline edge
