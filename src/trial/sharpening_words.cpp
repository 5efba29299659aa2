#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "trial/sharpening.h"

namespace bq::inline trial {
namespace {

/// Whole minutes, or seconds below one.
std::string print_time(double seconds) {
  return seconds < 59.5 ? print_number(std::round(seconds), 3) + " s"
                        : print_number(std::round(seconds / 60), 4) + " min";
}

/// What the hand sets is per side, whatever is displayed.
std::string angles_text(const SharpeningStep& step) {
  const BevelAngles& a = step.angles;
  if (step.side == GrindSide::left) return print_angle(a.left_deg, AngleConvention::per_side);
  if (step.side == GrindSide::right) return print_angle(a.right_deg, AngleConvention::per_side);
  constexpr double kNoHandHolds_deg = 0.05;
  if (std::abs(a.left_deg - a.right_deg) < kNoHandHolds_deg)
    return print_angle(a.left_deg, AngleConvention::per_side);
  return said(
      "{left_deg}° left, {right_deg}° right, per side",
      {{"left_deg", print_number(a.left_deg, 4)}, {"right_deg", print_number(a.right_deg, 4)}});
}

/// Strokes as a hand makes them: a side at a time, in groups between which the blade is turned.
/// Groups get no longer than a burr on one side stands.
std::string strokes_text(const SharpeningStep& step) {
  constexpr int kAlternating = 10, kFew = 30, kMany = 200;
  const auto strokes = [](int n) {
    return std::to_string(n) + (n == 1 ? said(" stroke") : said(" strokes"));
  };
  if (step.side != GrindSide::both) return strokes(*step.passes);
  const int a_side = strokes_a_side(step);
  if (a_side <= kAlternating)
    return said("{strokes} a side, turning over after each", {{"strokes", strokes(a_side)}});
  return said("{strokes} a side, in groups of {what} with turning over between",
              {{"strokes", strokes(a_side)},
               {"what", std::to_string(a_side > kMany  ? 20
                                       : a_side > kFew ? 10
                                                       : 5)}});
}

/// How much of a step is to be done, by the rule that ends it.
std::string amount_text(const Sharpening& sharpening, std::size_t index) {
  const SharpeningStep& step = sharpening.steps[index];
  const bool grinds = step.work == StepWork::grind;
  if (grinds && step.passes && sharpening.way == GrindWay::crossed_wheels) {
    // Both sides at once.
    const int pulls = strokes_a_side(step);
    return ", " + std::to_string(pulls) + (pulls == 1 ? said(" pull") : said(" pulls"));
  }
  const std::string time =
      step.planned_min
          ? said("about {planned_min}", {{"planned_min", print_time(*step.planned_min * 60)}})
          : std::string();
  if (grinds && sharpening.stop == AbrasiveEnd::time && step.planned_min)
    return said(", {time}, turning over every half minute", {{"time", time}});
  if (grinds && sharpening.stop == AbrasiveEnd::burr && gate_of(sharpening, index))
    return said(", until the burr stands at every place{about}",
                {{"about", step.passes ? said(": about {strokes_text}",
                                              {{"strokes_text", strokes_text(step)}})
                                       : std::string()}});
  if (step.passes) return ", " + strokes_text(step);
  return time.empty() ? "" : ", " + time;
}

std::string side_text(GrindSide side) {
  return side == GrindSide::both ? said("both sides")
                                 : said("the {side} side", {{"side", std::string(name_of(side))}});
}

/// "Grind both sides on Grey 400 (17 µm) at 15° per side".
std::string grind_text(GrindWay way, const SharpeningStep& step, const std::string& on,
                       const std::string& at) {
  switch (way) {
    case GrindWay::held:
      break;
    case GrindWay::slack_belt:
      return said(
          "Roll {side_text}{on}, the belt slack, the edge trailing,{at} where the face leaves it",
          {{"side_text", side_text(step.side)}, {"on", on}, {"at", at}});
    case GrindWay::crossed_wheels:
      return said(
          "Draw the blade upright through the crossed wheels{on}, set{at}, from heel to tip",
          {{"on", on}, {"at", at}});
  }
  return said("Grind {side_text}{on}{at}",
              {{"side_text", side_text(step.side)}, {"on", on}, {"at", at}});
}

/// "; a burr at heel, middle and tip of both sides, by paper".
std::string gate_text(const Sharpening& sharpening, unsigned gate) {
  const unsigned left = (1U << sharpening.places) - 1, right = left << sharpening.places;
  const std::string places =
      sharpening.places == kLeastPlaces
          ? said("heel, middle and tip")
          : said("{places} places", {{"places", std::to_string(sharpening.places)}});
  const std::string side = gate == (left | right) ? said("both sides")
                           : gate == left         ? said("the left side")
                                                  : said("the right side");
  return said(
      "; a burr at {places} of {side}{by}",
      {{"places", places},
       {"side", side},
       {"by", sharpening.proof == BurrProof::touch
                  ? ""
                  : said(", by {proof}", {{"proof", std::string(name_of(sharpening.proof))}})}});
}

}  // namespace

std::string instruction(const Sharpening& sharpening, std::size_t index, bool with_note) {
  const SharpeningStep& step = sharpening.steps.at(index);
  const std::string size = step.size_um ? " (" + print_number(*step.size_um, 3) + " µm)" : "";
  const std::string on =
      step.abrasive.empty()
          ? ""
          : said(" on {abrasive}{what}", {{"abrasive", step.abrasive}, {"what", size}});
  const std::string at = step.angles.left_deg > 0 || step.angles.right_deg > 0
                             ? said(" at {angles_text}", {{"angles_text", angles_text(step)}})
                             : "";
  std::string out;
  switch (step.work) {
    case StepWork::straighten:
      out = said("Straighten the blade");
      break;
    case StepWork::recurve:
      out = said("Take the hollow out of the outline{on}", {{"on", on}});
      break;
    case StepWork::grind:
      out = grind_text(sharpening.way, step, on, at);
      break;
    case StepWork::local:
      out = said("Rework {side_text} only locally{on}{at}",
                 {{"side_text", side_text(step.side)}, {"on", on}, {"at", at}});
      break;
    case StepWork::deburr:
      out = (sharpening.route.empty()
                 ? "Deburr"
                 : said("Deburr by the {route}", {{"route", sharpening.route}})) +
            on + at;
      break;
    case StepWork::micro_bevel:
      out = said("Renew the micro-bevel on {side_text}{on}{at}",
                 {{"side_text", side_text(step.side)}, {"on", on}, {"at", at}});
      break;
    case StepWork::strop:
      out = said(
          "Strop, edge trailing{on}{on_2}{at}",
          {{"on", on.empty() ? "" : "," + on},
           {"on_2",
            step.substrate.empty() ? "" : (on.empty() ? said(", on ") : ", ") + step.substrate},
           {"at", at}});
      break;
  }
  if (step.from_mm && step.to_mm)
    out += said(
        ", {from_mm} to {to_mm} mm from the heel",
        {{"from_mm", print_number(*step.from_mm, 4)}, {"to_mm", print_number(*step.to_mm, 4)}});
  out += amount_text(sharpening, index);
  if (!step.pressure.empty()) out += ", " + step.pressure;
  if (const unsigned gate = gate_of(sharpening, index)) out += gate_text(sharpening, gate);
  if (with_note && !step.note.empty()) out += ". " + step.note;
  return out + (out.ends_with('.') ? "" : ".");
}

std::string describe(const Sharpening& sharpening) {
  std::string out = said("sharpened: {steps}{step}",
                         {{"steps", std::to_string(sharpening.steps.size())},
                          {"step", sharpening.steps.size() == 1 ? said(" step") : said(" steps")}});
  const auto ground = [](const SharpeningStep& s) { return s.work == StepWork::grind; };
  const auto first = std::find_if(sharpening.steps.begin(), sharpening.steps.end(), ground);
  const auto last = std::find_if(sharpening.steps.rbegin(), sharpening.steps.rend(), ground);
  if (first != sharpening.steps.end() && !first->abrasive.empty())
    out += ", " + first->abrasive +
           (last->abrasive == first->abrasive
                ? ""
                : said(" to {abrasive}", {{"abrasive", last->abrasive}}));
  if (sharpening.way == GrindWay::slack_belt) out += said(", on a slack belt");
  if (sharpening.way == GrindWay::crossed_wheels) out += said(", through crossed wheels");
  if (!sharpening.route.empty()) out += ", " + sharpening.route;
  if (const auto finish = finish_of(sharpening)) out += ", " + print_finish(*finish);
  if (const double seconds = seconds_of(sharpening); seconds > 0) out += ", " + print_time(seconds);
  if (!sharpening.run.empty()) out += said(", start of run {run}", {{"run", sharpening.run}});
  int overridden = 0;
  for (const auto& step : sharpening.steps) overridden += !step.override_reason.empty();
  if (overridden)
    out += ", " + std::to_string(overridden) +
           (overridden == 1 ? said(" gate passed with a reason")
                            : said(" gates passed with a reason"));
  return out;
}

}  // namespace bq::inline trial
