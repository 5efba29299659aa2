#include "trial/sharpening.h"

#include <algorithm>
#include <cmath>

#include "edge/ladder.h"
#include "quantity/number.h"

namespace bq::inline trial {
namespace {

constexpr std::array<std::string_view, 4> kPolicies{"every abrasive", "coarsest only",
                                                    "single-sided", "none"};
constexpr std::array<std::string_view, 4> kProofs{"touch", "light", "paper", "microscope"};
constexpr std::array<std::string_view, kStepWorks> kWorks{
    "straighten", "recurve", "grind", "local", "deburr", "micro-bevel", "strop"};
constexpr std::array<const char*, kGateMarks> kMarks{"left heel",  "left middle",  "left tip",
                                                     "right heel", "right middle", "right tip"};
constexpr unsigned kLeft = 0b000111, kRight = 0b111000;

template <class Enum, std::size_t N>
std::optional<Enum> find_name(const std::array<std::string_view, N>& names, std::string_view text) {
  const auto found = std::find(names.begin(), names.end(), text);
  if (found == names.end()) return std::nullopt;
  return Enum(found - names.begin());
}

bool works_bevel(const SharpeningStep& step) {
  return step.work == StepWork::grind || step.work == StepWork::local;
}

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
  if (a.is_symmetric()) return print_angle(a.left_deg, AngleConvention::per_side);
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

std::string side_text(GrindSide side) {
  return side == GrindSide::both ? "both sides" : "the " + std::string(name_of(side)) + " side";
}

}  // namespace

std::string_view name_of(GatePolicy policy) { return kPolicies[std::size_t(policy)]; }
std::optional<GatePolicy> parse_gate_policy(std::string_view text) {
  return find_name<GatePolicy>(kPolicies, text);
}
std::string_view name_of(BurrProof proof) { return kProofs[std::size_t(proof)]; }
std::optional<BurrProof> parse_burr_proof(std::string_view text) {
  return find_name<BurrProof>(kProofs, text);
}
std::string_view name_of(StepWork work) { return kWorks[std::size_t(work)]; }
std::optional<StepWork> parse_step_work(std::string_view text) {
  return find_name<StepWork>(kWorks, text);
}
std::string gate_mark_name(int mark) { return kMarks[std::size_t(mark)]; }

int strokes_a_side(const SharpeningStep& step) { return strokes_a_side(step.side, step.passes); }

unsigned gate_of(const Sharpening& sharpening, std::size_t index) {
  const SharpeningStep& step = sharpening.steps.at(index);
  if (step.work != StepWork::grind || sharpening.policy == GatePolicy::none) return 0;
  if (sharpening.policy == GatePolicy::coarsest_only)
    for (std::size_t i = 0; i < index; ++i)
      if (sharpening.steps[i].work == StepWork::grind) return 0;
  // The burr rises on the side that is not ground.
  if (step.side == GrindSide::left) return kRight;
  if (step.side == GrindSide::right) return kLeft;
  return sharpening.policy == GatePolicy::single_sided ? kRight : kLeft | kRight;
}

unsigned open_marks(const Sharpening& sharpening, std::size_t step) {
  const SharpeningStep& s = sharpening.steps.at(step);
  return s.override_reason.empty() ? gate_of(sharpening, step) & ~s.burr : 0U;
}

std::optional<std::size_t> current_step(const Sharpening& sharpening) {
  for (std::size_t i = 0; i < sharpening.steps.size(); ++i)
    if (!sharpening.steps[i].done) return i;
  return std::nullopt;
}

std::optional<Tap> next_tap(const Sharpening& sharpening) {
  const auto step = current_step(sharpening);
  if (!step) return std::nullopt;
  const unsigned open = open_marks(sharpening, *step);
  for (int mark = 0; mark < kGateMarks; ++mark)
    if (open >> mark & 1U) return Tap{*step, mark};
  return Tap{*step, std::nullopt};
}

Checked<Sharpening> with_mark(Sharpening sharpening, int mark) {
  const auto step = current_step(sharpening);
  if (!step) return Refusal{"every step is done"};
  if (mark < 0 || mark >= kGateMarks) return Refusal{"a gate has six places"};
  if (!(gate_of(sharpening, *step) >> mark & 1U))
    return Refusal{"this step asks for no burr at the " + gate_mark_name(mark)};
  sharpening.steps[*step].burr |= 1U << mark;
  return sharpening;
}

Checked<Sharpening> with_step_done(Sharpening sharpening, double seconds) {
  const auto step = current_step(sharpening);
  if (!step) return Refusal{"every step is done"};
  if (!(seconds >= 0) || seconds > 1e6)
    return Refusal{"a time lies between 0 and a million seconds"};
  if (const unsigned open = open_marks(sharpening, *step)) {
    std::string places;
    for (int mark = 0; mark < kGateMarks; ++mark)
      if (open >> mark & 1U) places += (places.empty() ? "" : ", ") + gate_mark_name(mark);
    return Refusal{"no burr confirmed yet: " + places +
                   ". Confirm it, or pass the gate with a reason"};
  }
  sharpening.steps[*step].done = true;
  sharpening.steps[*step].seconds = seconds;
  return sharpening;
}

Checked<Sharpening> with_override(Sharpening sharpening, const std::string& reason) {
  const auto step = current_step(sharpening);
  if (!step || open_marks(sharpening, *step) == 0) return Refusal{"no gate is open"};
  if (reason.find_first_not_of(' ') == std::string::npos)
    return Refusal{"passing a gate without its burr needs a reason; it is kept"};
  sharpening.steps[*step].override_reason = reason;
  return sharpening;
}

std::vector<std::string> order_remarks(const Sharpening& sharpening) {
  std::vector<std::string> out;
  const auto& steps = sharpening.steps;
  bool bevel = false, recurve = false;
  std::optional<double> finest;
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const SharpeningStep& step = steps[i];
    const std::string number = "Step " + std::to_string(i + 1) + ": ";
    const auto later = [&](auto wanted) {
      return std::any_of(steps.begin() + std::ptrdiff_t(i) + 1, steps.end(), wanted);
    };
    switch (step.work) {
      case StepWork::straighten:
        if (recurve)
          out.push_back(
              number + "straighten before the recurve is mended; straightening moves the outline.");
        if (bevel)
          out.push_back(number +
                        "straighten before any bevel is ground; a straightened blade has to be "
                        "ground again.");
        break;
      case StepWork::recurve:
        recurve = true;
        if (bevel)
          out.push_back(number + "mend the recurve before the bevels; it takes the apex away.");
        break;
      case StepWork::grind:
        if (finest && step.size_um && *step.size_um > *finest * 1.0001 &&
            step.side == GrindSide::both)
          out.push_back(number + "a coarser abrasive (" + print_number(*step.size_um, 3) +
                        " µm) after a finer one (" + print_number(*finest, 3) +
                        " µm) undoes its work.");
        if (step.size_um) finest = std::min(finest.value_or(*step.size_um), *step.size_um);
        bevel = true;
        break;
      case StepWork::local:
        bevel = true;
        break;
      case StepWork::deburr:
        if (!sharpening.deburr_between && later([](const SharpeningStep& s) {
              return works_bevel(s) && s.side == GrindSide::both;
            }))
          out.push_back(number + "deburring was to be at the end only, but an abrasive follows.");
        break;
      case StepWork::micro_bevel:
        // One side may be finished finer on the micro-bevel itself.
        if (later([](const SharpeningStep& s) {
              return s.work == StepWork::grind && s.side == GrindSide::both;
            }))
          out.push_back(number +
                        "the micro-bevel comes after the edge bevel; an abrasive that follows "
                        "grinds it away.");
        break;
      case StepWork::strop:
        if (later(works_bevel))
          out.push_back(number + "a strop before an abrasive does nothing that lasts.");
        break;
    }
  }
  return out;
}

Sharpening replay(const Sharpening& sharpening) {
  Sharpening out = sharpening;
  out.run.clear();
  for (auto& step : out.steps) {
    if (step.seconds > 0) step.planned_min = step.seconds / 60;
    step.done = false;
    step.seconds = 0;
    step.burr = 0;
    step.override_reason.clear();
  }
  return out;
}

std::string instruction(const Sharpening& sharpening, std::size_t index) {
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
      out = "Grind " + side_text(step.side) + on + at;
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
  if (step.passes)
    out += ", " + strokes_text(step);
  else if (step.planned_min)
    out += ", about " + print_time(*step.planned_min * 60);
  if (!step.pressure.empty()) out += ", " + step.pressure;
  const unsigned gate = gate_of(sharpening, index);
  if (gate == (kLeft | kRight))
    out += "; a burr at heel, middle and tip of both sides";
  else if (gate)
    out += std::string("; a burr at heel, middle and tip of the ") +
           (gate == kLeft ? "left" : "right") + " side";
  if (!step.note.empty()) out += ". " + step.note;
  return out + (out.ends_with('.') ? "" : ".");
}

std::optional<Finish> finish_of(const Sharpening& sharpening) {
  std::optional<double> left, right;
  for (const auto& step : sharpening.steps) {
    if (!step.size_um || (step.work != StepWork::grind && step.work != StepWork::micro_bevel))
      continue;
    if (step.side != GrindSide::right) left = step.size_um;
    if (step.side != GrindSide::left) right = step.size_um;
  }
  if (!left || !right) return std::nullopt;
  return Finish{*left, *right};
}

std::optional<EdgeGeometry> geometry_of(const Sharpening& sharpening) {
  BevelAngles edge, micro;
  for (const auto& step : sharpening.steps) {
    const bool grinds = step.work == StepWork::grind || step.work == StepWork::micro_bevel;
    if (!step.done || !grinds) continue;
    BevelAngles& ground = step.work == StepWork::grind ? edge : micro;
    if (step.work == StepWork::grind) micro = {};
    if (step.side != GrindSide::right && step.angles.left_deg > 0)
      ground.left_deg = step.angles.left_deg;
    if (step.side != GrindSide::left && step.angles.right_deg > 0)
      ground.right_deg = step.angles.right_deg;
  }
  const bool has_micro = micro.left_deg > 0 && micro.right_deg > 0;
  const auto made = EdgeGeometry::make(edge, has_micro ? std::optional(micro) : std::nullopt);
  return made ? std::optional(*made) : std::nullopt;
}

double seconds_of(const Sharpening& sharpening) {
  double sum = 0;
  for (const auto& step : sharpening.steps) sum += step.seconds;
  return sum;
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
