#include <algorithm>
#include <cmath>

#include "quantity/number.h"
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
  return print_number(a.left_deg, 4) + "° left, " + print_number(a.right_deg, 4) +
         "° right, per side";
}

/// Strokes as a hand makes them: a side at a time, in groups between which the blade is turned.
/// Groups get no longer than a burr on one side stands.
std::string strokes_text(const SharpeningStep& step) {
  constexpr int kAlternating = 10, kFew = 30, kMany = 200;
  const auto strokes = [](int n) { return std::to_string(n) + (n == 1 ? " stroke" : " strokes"); };
  if (step.side != GrindSide::both) return strokes(*step.passes);
  const int a_side = strokes_a_side(step);
  if (a_side <= kAlternating) return strokes(a_side) + " a side, turning over after each";
  return strokes(a_side) + " a side, in groups of " +
         std::to_string(a_side > kMany  ? 20
                        : a_side > kFew ? 10
                                        : 5) +
         " with turning over between";
}

/// How much of a step is to be done, by the rule that ends it.
std::string amount_text(const Sharpening& sharpening, std::size_t index) {
  const SharpeningStep& step = sharpening.steps[index];
  const bool grinds = step.work == StepWork::grind;
  if (grinds && step.passes && sharpening.way == GrindWay::crossed_wheels) {
    // Both sides at once.
    const int pulls = strokes_a_side(step);
    return ", " + std::to_string(pulls) + (pulls == 1 ? " pull" : " pulls");
  }
  const std::string time =
      step.planned_min ? "about " + print_time(*step.planned_min * 60) : std::string();
  if (grinds && sharpening.stop == AbrasiveEnd::time && step.planned_min)
    return ", " + time + ", turning over every half minute";
  if (grinds && sharpening.stop == AbrasiveEnd::burr && gate_of(sharpening, index))
    return ", until the burr stands at every place" +
           (step.passes ? ": about " + strokes_text(step) : std::string());
  if (step.passes) return ", " + strokes_text(step);
  return time.empty() ? "" : ", " + time;
}

std::string side_text(GrindSide side) {
  return side == GrindSide::both ? "both sides" : "the " + std::string(name_of(side)) + " side";
}

/// "Grind both sides on Grey 400 (17 µm) at 15° per side".
std::string grind_text(GrindWay way, const SharpeningStep& step, const std::string& on,
                       const std::string& at) {
  switch (way) {
    case GrindWay::held:
      break;
    case GrindWay::slack_belt:
      return "Roll " + side_text(step.side) + on + ", the belt slack, the edge trailing," + at +
             " where the face leaves it";
    case GrindWay::crossed_wheels:
      return "Draw the blade upright through the crossed wheels" + on + ", set" + at +
             ", from heel to tip";
  }
  return "Grind " + side_text(step.side) + on + at;
}

/// "; a burr at heel, middle and tip of both sides, by paper".
std::string gate_text(const Sharpening& sharpening, unsigned gate) {
  const unsigned left = (1U << sharpening.places) - 1, right = left << sharpening.places;
  const std::string places = sharpening.places == kLeastPlaces
                                 ? "heel, middle and tip"
                                 : std::to_string(sharpening.places) + " places";
  const std::string side = gate == (left | right) ? "both sides"
                           : gate == left         ? "the left side"
                                                  : "the right side";
  return "; a burr at " + places + " of " + side +
         (sharpening.proof == BurrProof::touch ? ""
                                               : ", by " + std::string(name_of(sharpening.proof)));
}

}  // namespace

std::string instruction(const Sharpening& sharpening, std::size_t index, bool with_note) {
  const SharpeningStep& step = sharpening.steps.at(index);
  const std::string size = step.size_um ? " (" + print_number(*step.size_um, 3) + " µm)" : "";
  const std::string on = step.abrasive.empty() ? "" : " on " + step.abrasive + size;
  const std::string at =
      step.angles.left_deg > 0 || step.angles.right_deg > 0 ? " at " + angles_text(step) : "";
  std::string out;
  switch (step.work) {
    case StepWork::straighten:
      out = "Straighten the blade";
      break;
    case StepWork::recurve:
      out = "Take the hollow out of the outline" + on;
      break;
    case StepWork::grind:
      out = grind_text(sharpening.way, step, on, at);
      break;
    case StepWork::local:
      out = "Rework " + side_text(step.side) + " only locally" + on + at;
      break;
    case StepWork::deburr:
      out = (sharpening.route.empty() ? "Deburr" : "Deburr by the " + sharpening.route) + on + at;
      break;
    case StepWork::micro_bevel:
      out = "Renew the micro-bevel on " + side_text(step.side) + on + at;
      break;
    case StepWork::strop:
      out = "Strop, edge trailing" + (on.empty() ? "" : "," + on) +
            (step.substrate.empty() ? "" : (on.empty() ? ", on " : ", ") + step.substrate) + at;
      break;
  }
  if (step.from_mm && step.to_mm)
    out += ", " + print_number(*step.from_mm, 4) + " to " + print_number(*step.to_mm, 4) +
           " mm from the heel";
  out += amount_text(sharpening, index);
  if (!step.pressure.empty()) out += ", " + step.pressure;
  if (const unsigned gate = gate_of(sharpening, index)) out += gate_text(sharpening, gate);
  if (with_note && !step.note.empty()) out += ". " + step.note;
  return out + (out.ends_with('.') ? "" : ".");
}

std::string describe(const Sharpening& sharpening) {
  std::string out = "sharpened: " + std::to_string(sharpening.steps.size()) +
                    (sharpening.steps.size() == 1 ? " step" : " steps");
  const auto ground = [](const SharpeningStep& s) { return s.work == StepWork::grind; };
  const auto first = std::find_if(sharpening.steps.begin(), sharpening.steps.end(), ground);
  const auto last = std::find_if(sharpening.steps.rbegin(), sharpening.steps.rend(), ground);
  if (first != sharpening.steps.end() && !first->abrasive.empty())
    out +=
        ", " + first->abrasive + (last->abrasive == first->abrasive ? "" : " to " + last->abrasive);
  if (sharpening.way == GrindWay::slack_belt) out += ", on a slack belt";
  if (sharpening.way == GrindWay::crossed_wheels) out += ", through crossed wheels";
  if (!sharpening.route.empty()) out += ", " + sharpening.route;
  if (const auto finish = finish_of(sharpening)) out += ", " + print_finish(*finish);
  if (const double seconds = seconds_of(sharpening); seconds > 0) out += ", " + print_time(seconds);
  if (!sharpening.run.empty()) out += ", start of run " + sharpening.run;
  int overridden = 0;
  for (const auto& step : sharpening.steps) overridden += !step.override_reason.empty();
  if (overridden)
    out += ", " + std::to_string(overridden) +
           (overridden == 1 ? " gate passed with a reason" : " gates passed with a reason");
  return out;
}

}  // namespace bq::inline trial
