#include "trial/bench_event.h"

#include <array>
#include <cmath>

#include "quantity/enum_name.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/bench_fields.h"

namespace bq::inline trial {
namespace {

constexpr std::array<std::string_view, 4> kFound{"clean", "bright spot", "bent", "broken out"};
constexpr std::array<std::string_view, 4> kRules{"threshold", "damage", "budget", "wish"};
constexpr std::array<std::string_view, 2> kCounts{"whole block", "every cut"};

std::string with_note(std::string text, const std::string& note) {
  return note.empty() ? text : text + " (" + note + ")";
}

struct EventWords {
  std::string operator()(const PreparedEvent& e) const {
    return with_note(e.medium_batch.empty()
                         ? said("sharpened, angle looked at")
                         : said("sharpened, angle looked at; medium batch {medium_batch}",
                                {{"medium_batch", e.medium_batch}}),
                     e.note);
  }
  std::string operator()(const GateEvent& e) const {
    return with_note(e.passed ? said("start gate passed") : said("start gate: sharpened again"),
                     e.reason);
  }
  std::string operator()(const CleanedEvent&) const { return said("edge cleaned"); }
  std::string operator()(const CutEvent& e) const {
    std::string text =
        std::to_string(e.made) + (e.made == 1 ? said(" cut made") : said(" cuts made"));
    if (e.made != e.planned)
      text += said(", {planned} were asked for", {{"planned", std::to_string(e.planned)}});
    return text;
  }
  std::string operator()(const LookEvent& e) const {
    std::string text = said("looked at: {found}", {{"found", std::string(name_of(e.found))}});
    if (e.widest_um)
      text += ", " + print_number(*e.widest_um, 3) +
              (e.is_thickness ? said(" µm thick there") : said(" µm wide"));
    if (e.at_mm) text += said(", {at_mm} mm from the heel", {{"at_mm", print_number(*e.at_mm, 3)}});
    if (e.picture) text += said(", with a picture");
    return with_note(text, e.note);
  }
  std::string operator()(const RestEvent& e) const {
    return said("rested {taken_s} of {planned_s} min",
                {{"taken_s", print_fixed(e.taken_s / 60, 1)},
                 {"planned_s", print_number(e.planned_s / 60, 2)}});
  }
  std::string operator()(const DeviationEvent& e) const { return e.what; }
  std::string operator()(const StopEvent& e) const {
    std::string text = "stopped";
    if (e.rule == StopRule::threshold) text += said(": the threshold was passed");
    if (e.rule == StopRule::damage) text += ": damage";
    if (e.rule == StopRule::budget) text += said(": the budget is used up");
    return with_note(text, e.reason);
  }
  std::string operator()(const GoOnEvent& e) const { return with_note(said("went on"), e.reason); }
  std::string operator()(const CheckWeightEvent& e) const {
    const std::string nominal =
        said("check weight {nominal}", {{"nominal", print_measure(e.nominal, e.unit)}});
    if (!e.value) return with_note(said("{nominal} left out", {{"nominal", nominal}}), e.note);
    const double off = 100 * (*e.value / e.nominal - 1);
    return with_note(
        said("{nominal}: read {e} ({sign}{fabs} %)", {{"nominal", nominal},
                                                      {"e", print_measure(*e.value, e.unit)},
                                                      {"sign", off >= 0 ? "+" : "−"},
                                                      {"fabs", print_fixed(std::fabs(off), 1)}}),
        e.note);
  }
  std::string operator()(const StrokeEvent& e) const {
    return with_note(
        said("stroke: peak {peak_n} N, mean {mean_n} N",
             {{"peak_n", print_number(e.peak_N, 3)}, {"mean_n", print_number(e.mean_N, 3)}}),
        e.trouble);
  }
};

}  // namespace

std::string_view name_of(DamageFound found) { return kFound[std::size_t(found)]; }
std::optional<DamageFound> parse_damage_found(std::string_view text) {
  return enum_named<DamageFound>(kFound, text);
}
std::string_view name_of(StopRule rule) { return kRules[std::size_t(rule)]; }
std::optional<StopRule> parse_stop_rule(std::string_view text) {
  return enum_named<StopRule>(kRules, text);
}
std::string_view name_of(CountBy count) { return kCounts[std::size_t(count)]; }
std::optional<CountBy> parse_count_by(std::string_view text) {
  return enum_named<CountBy>(kCounts, text);
}

std::string describe(const BenchEventData& data) { return std::visit(EventWords{}, data); }

std::string BenchProtocol::gauge_words() const {
  std::string text = loading_rate;
  if (!filament_lot.empty())
    text += said("{separator}filament lot {filament_lot}",
                 {{"separator", text.empty() ? "" : ", "}, {"filament_lot", filament_lot}});
  return text;
}

std::string fault_of(const BenchProtocol& p) {
  const auto fault = range_fault(p);
  return fault ? fault->reason + "." : "";
}

std::vector<std::int64_t> rests_of(const BenchProtocol& protocol, std::int64_t last) {
  std::vector<std::int64_t> out;
  if (!(protocol.rest_after_min > 0 && protocol.seconds_per_cut > 0 && protocol.rest_min > 0))
    return out;
  const auto every = std::max<std::int64_t>(
      1, std::llround(protocol.rest_after_min * 60 / protocol.seconds_per_cut));
  for (std::int64_t at = every; at < last && out.size() < 1000; at += every) out.push_back(at);
  return out;
}

}  // namespace bq::inline trial
