#include "trial/sharpening.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>

#include "edge/ladder.h"
#include "quantity/enum_name.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline trial {
namespace {

constexpr std::array<std::string_view, kStepWorks> kWorks{
    "straighten", "recurve", "grind", "local", "deburr", "micro-bevel", "strop"};
unsigned left_marks(const Sharpening& s) { return (1U << s.places) - 1; }
unsigned right_marks(const Sharpening& s) { return left_marks(s) << s.places; }

/// "left heel, left middle": the marks of a set of bits.
std::string places_text(const Sharpening& s, unsigned marks) {
  std::string out;
  for (int mark = 0; mark < 2 * s.places; ++mark)
    if (marks >> mark & 1U) out += (out.empty() ? "" : ", ") + gate_mark_name(mark, s.places);
  return out;
}

constexpr std::array<std::string_view, kGrindWays> kWays{"held", "slack belt", "crossed wheels"};

bool works_bevel(const SharpeningStep& step) {
  return step.work == StepWork::grind || step.work == StepWork::local;
}

}  // namespace

std::string_view name_of(StepWork work) { return kWorks[std::size_t(work)]; }
std::optional<StepWork> parse_step_work(std::string_view text) {
  return enum_named<StepWork>(kWorks, text);
}

unsigned SharpeningStep::confirmed() const {
  unsigned out = 0;
  for (std::size_t mark = 0; mark < burr.size(); ++mark)
    if (is_there(burr[mark])) out |= 1U << mark;
  return out;
}

int strokes_a_side(const SharpeningStep& step) { return strokes_a_side(step.side, step.passes); }

std::string_view name_of(GrindWay way) { return kWays[std::size_t(way)]; }
std::optional<GrindWay> parse_grind_way(std::string_view text) {
  return enum_named<GrindWay>(kWays, text);
}

unsigned gate_of(const Sharpening& sharpening, std::size_t index) {
  const SharpeningStep& step = sharpening.steps.at(index);
  if (step.work != StepWork::grind || sharpening.policy == GatePolicy::none ||
      sharpening.way == GrindWay::crossed_wheels)
    return 0;
  if (sharpening.policy == GatePolicy::coarsest_only)
    for (std::size_t i = 0; i < index; ++i)
      if (sharpening.steps[i].work == StepWork::grind) return 0;
  const unsigned left = left_marks(sharpening), right = right_marks(sharpening);
  // The burr rises on the side that is not ground.
  if (step.side == GrindSide::left) return right;
  if (step.side == GrindSide::right) return left;
  return sharpening.policy == GatePolicy::single_sided ? right : left | right;
}

unsigned open_marks(const Sharpening& sharpening, std::size_t step) {
  const SharpeningStep& s = sharpening.steps.at(step);
  return s.override_reason.empty() ? gate_of(sharpening, step) & ~s.confirmed() : 0U;
}

unsigned missed_marks(const Sharpening& sharpening, std::size_t step) {
  const SharpeningStep& s = sharpening.steps.at(step);
  unsigned out = open_marks(sharpening, step);
  for (std::size_t mark = 0; mark < s.burr.size(); ++mark)
    if (s.burr[mark] != BurrSize::none) out &= ~(1U << mark);
  return out;
}

std::optional<std::size_t> current_step(const Sharpening& sharpening) {
  for (std::size_t i = 0; i < sharpening.steps.size(); ++i)
    if (!sharpening.steps[i].done) return i;
  return std::nullopt;
}

std::optional<Tap> next_tap(const Sharpening& sharpening) {
  const auto step = current_step(sharpening);
  if (!step) return std::nullopt;
  const unsigned missed = missed_marks(sharpening, *step),
                 unseen = open_marks(sharpening, *step) & ~missed;
  for (int mark = 0; mark < 2 * sharpening.places; ++mark)
    if (unseen >> mark & 1U) return Tap{*step, mark, 0};
  return Tap{*step, std::nullopt, missed};
}

Checked<Sharpening> with_mark(Sharpening sharpening, int mark, BurrSize size) {
  const auto step = current_step(sharpening);
  if (!step) return Refusal{said("every step is done")};
  if (mark < 0 || mark >= 2 * sharpening.places)
    return Refusal{
        said("a gate has {places} places", {{"places", std::to_string(2 * sharpening.places)}})};
  if (!(gate_of(sharpening, *step) >> mark & 1U))
    return Refusal{said("this step asks for no burr at the {gate_mark_name}",
                        {{"gate_mark_name", gate_mark_name(mark, sharpening.places)}})};
  sharpening.steps[*step].burr[std::size_t(mark)] = size;
  return sharpening;
}

Checked<Sharpening> with_missed_worked(Sharpening sharpening, double edge_mm) {
  constexpr int kAlone = 10, kEvenOut = 5;
  const auto step = current_step(sharpening);
  const unsigned missed = step ? missed_marks(sharpening, *step) : 0U;
  if (!missed) return Refusal{said("no place was missed")};
  const SharpeningStep whole = sharpening.steps[*step];
  std::vector<SharpeningStep> work;
  for (const EdgeSide side : {EdgeSide::left, EdgeSide::right}) {
    const unsigned here =
        missed & (side == EdgeSide::left ? left_marks(sharpening) : right_marks(sharpening));
    if (!here) continue;
    SharpeningStep local;
    local.work = StepWork::local;
    local.abrasive = whole.abrasive;
    local.size_um = whole.size_um;
    local.angles = whole.angles;
    local.pressure = "light";
    local.passes = kAlone;
    // The burr of one side is raised from the other one.
    local.side = side == EdgeSide::left ? GrindSide::right : GrindSide::left;
    const int first = std::countr_zero(here), last = int(std::bit_width(here)) - 1;
    const double share = edge_mm / sharpening.places;
    local.from_mm = std::round(share * (first % sharpening.places));
    local.to_mm = std::round(share * (last % sharpening.places + 1));
    local.note = said(
        "Then {even_out} strokes over the whole side, so that no hollow is left; no burr was found "
        "at: {places_text}",
        {{"even_out", std::to_string(kEvenOut)}, {"places_text", places_text(sharpening, here)}});
    work.push_back(std::move(local));
  }
  for (std::size_t mark = 0; mark < whole.burr.size(); ++mark)
    if (missed >> mark & 1U) sharpening.steps[*step].burr[mark] = BurrSize::not_looked;
  sharpening.steps.insert(sharpening.steps.begin() + std::ptrdiff_t(*step), work.begin(),
                          work.end());
  return sharpening;
}

Checked<Sharpening> with_step_done(Sharpening sharpening, double seconds) {
  const auto step = current_step(sharpening);
  if (!step) return Refusal{said("every step is done")};
  if (!(seconds >= 0) || seconds > 1e6)
    return Refusal{said("a time lies between 0 and a million seconds")};
  if (const unsigned open = open_marks(sharpening, *step)) {
    return Refusal{
        said("no burr confirmed yet: {places_text}. Confirm it, or pass the gate with a reason",
             {{"places_text", places_text(sharpening, open)}})};
  }
  sharpening.steps[*step].done = true;
  sharpening.steps[*step].seconds = seconds;
  return sharpening;
}

Checked<Sharpening> with_override(Sharpening sharpening, const std::string& reason) {
  const auto step = current_step(sharpening);
  if (!step || open_marks(sharpening, *step) == 0) return Refusal{said("no gate is open")};
  if (reason.find_first_not_of(' ') == std::string::npos)
    return Refusal{said("passing a gate without its burr needs a reason; it is kept")};
  sharpening.steps[*step].override_reason = reason;
  return sharpening;
}

BurrSize expected_burr(const Sharpening& sharpening, std::size_t index, int mark) {
  int rank = 4;
  for (std::size_t i = 0; i <= index; ++i) {
    if (!(gate_of(sharpening, i) >> mark & 1U)) continue;
    rank = std::max(1, rank - 1);
    const auto said = rank_of(sharpening.steps[i].burr[std::size_t(mark)]);
    // A burr that was not raised there yet starts anew.
    if (i < index && said) rank = *said > 0 ? *said : 4;
  }
  return std::array{BurrSize::just_felt, BurrSize::small,
                    BurrSize::large}[std::size_t(std::min(rank, 3) - 1)];
}

std::vector<std::string> burr_remarks(const Sharpening& sharpening, std::size_t index) {
  const SharpeningStep& step = sharpening.steps.at(index);
  const unsigned gate = gate_of(sharpening, index);
  if (!gate) return {};
  std::vector<std::string> out;
  std::optional<std::size_t> coarser;
  int worked_alone = 0;
  for (std::size_t i = 0; i < index; ++i)
    if (gate_of(sharpening, i)) {
      coarser = i;
      worked_alone = 0;
    } else if (sharpening.steps[i].work == StepWork::local) {
      ++worked_alone;
    }
  unsigned no_smaller = 0;
  for (int mark = 0; coarser && mark < 2 * sharpening.places; ++mark) {
    const auto before = rank_of(sharpening.steps[*coarser].burr[std::size_t(mark)]),
               now = rank_of(step.burr[std::size_t(mark)]);
    if ((gate >> mark & 1U) && before && now && *before > 0 && *now > 1 && *now >= *before)
      no_smaller |= 1U << mark;
  }
  if (no_smaller)
    out.push_back(
        said("The burr is no smaller than after {abrasive} ({places_text}): reduce it with light "
             "alternating strokes on this abrasive before the next one.",
             {{"abrasive", sharpening.steps[*coarser].abrasive},
              {"places_text", places_text(sharpening, no_smaller)}}));
  for (const unsigned side : {left_marks(sharpening), right_marks(sharpening)}) {
    int least = 4, most = 0;
    unsigned thin = 0;
    for (int mark = 0; mark < 2 * sharpening.places; ++mark) {
      const auto rank = rank_of(step.burr[std::size_t(mark)]);
      if (!(gate & side & (1U << mark)) || !rank || *rank == 0) continue;
      if (*rank < least) thin = 0;
      if (*rank <= least) thin |= 1U << mark;
      least = std::min(least, *rank);
      most = std::max(most, *rank);
    }
    if (most - least >= 2)
      out.push_back(
          said("The burr is uneven: least at the {places_text}. That stretch was ground less than "
               "the rest, or at another angle.",
               {{"places_text", places_text(sharpening, thin)}}));
  }
  if (worked_alone > 0 && missed_marks(sharpening, index))
    out.push_back(
        said("Missed again after it was worked alone: ink the bevel there and look where the stone "
             "touches; is the angle held, is the stone flat, does the outline have a hollow?"));
  return out;
}

std::vector<std::string> order_remarks(const Sharpening& sharpening) {
  std::vector<std::string> out;
  const auto& steps = sharpening.steps;
  bool bevel = false, recurve = false;
  std::optional<double> finest;
  for (std::size_t i = 0; i < steps.size(); ++i) {
    const SharpeningStep& step = steps[i];
    const std::string number = said("Step {i}: ", {{"i", std::to_string(i + 1)}});
    const auto later = [&](auto wanted) {
      return std::any_of(steps.begin() + std::ptrdiff_t(i) + 1, steps.end(), wanted);
    };
    switch (step.work) {
      case StepWork::straighten:
        if (recurve)
          out.push_back(said(
              "{number}straighten before the recurve is mended; straightening moves the outline.",
              {{"number", number}}));
        if (bevel)
          out.push_back(
              said("{number}straighten before any bevel is ground; a straightened blade has to be "
                   "ground again.",
                   {{"number", number}}));
        break;
      case StepWork::recurve:
        recurve = true;
        if (bevel)
          out.push_back(said("{number}mend the recurve before the bevels; it takes the apex away.",
                             {{"number", number}}));
        break;
      case StepWork::grind:
        if (finest && step.size_um && *step.size_um > *finest * 1.0001 &&
            step.side == GrindSide::both)
          out.push_back(
              said("{number}a coarser abrasive ({size_um} µm) after a finer one ({finest} µm) "
                   "undoes its work.",
                   {{"number", number},
                    {"size_um", print_number(*step.size_um, 3)},
                    {"finest", print_number(*finest, 3)}}));
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
          out.push_back(
              said("{number}deburring was to be at the end only, but an abrasive follows.",
                   {{"number", number}}));
        break;
      case StepWork::micro_bevel:
        // One side may be finished finer on the micro-bevel itself.
        if (later([](const SharpeningStep& s) {
              return s.work == StepWork::grind && s.side == GrindSide::both;
            }))
          out.push_back(
              said("{number}the micro-bevel comes after the edge bevel; an abrasive that follows "
                   "grinds it away.",
                   {{"number", number}}));
        break;
      case StepWork::strop:
        if (later(works_bevel))
          out.push_back(said("{number}a strop before an abrasive does nothing that lasts.",
                             {{"number", number}}));
        break;
    }
  }
  return out;
}

Sharpening replay(const Sharpening& sharpening) {
  Sharpening out = sharpening;
  out.run.clear();
  std::erase_if(out.steps, [](const SharpeningStep& s) { return s.work == StepWork::local; });
  for (auto& step : out.steps) {
    if (step.seconds > 0) step.planned_min = step.seconds / 60;
    step.done = false;
    step.seconds = 0;
    step.burr = {};
    step.override_reason.clear();
  }
  return out;
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

}  // namespace bq::inline trial
