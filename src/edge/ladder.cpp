#include "edge/ladder.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "edge/ladder_nick.h"
#include "edge/section_outcomes.h"
#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline edge {
namespace {

constexpr double kFar = std::numeric_limits<double>::infinity();

/// An abrasive that may be used, with what the search needs.
struct Rung {
  std::size_t index = 0;
  double size_um = 0;
  Rate rate;
};

std::vector<Rung> rungs_of(const std::vector<Abrasive>& shelf, CuttingClass cutting_class) {
  std::vector<Rung> rungs;
  for (std::size_t i = 0; i < shelf.size(); ++i) {
    const Abrasive& a = shelf[i];
    if (a.retired || a.kind == AbrasiveKind::strop ||
        a.bites[std::size_t(cutting_class)] == Bite::hardly)
      continue;
    const auto size = size_um(a);
    const auto rate = rate_on(a, cutting_class);
    if (size && rate) rungs.push_back({i, *size, *rate});
  }
  std::stable_sort(rungs.begin(), rungs.end(),
                   [](const Rung& a, const Rung& b) { return a.size_um > b.size_um; });
  return rungs;
}

/// Nearest in log size; of two equally near the quicker one.
std::size_t nearest(const std::vector<Rung>& rungs, double um) {
  std::size_t best = 0;
  const auto distance = [&](std::size_t i) { return std::abs(std::log(rungs[i].size_um / um)); };
  for (std::size_t i = 1; i < rungs.size(); ++i)
    if (distance(i) < distance(best) - 1e-9 ||
        (distance(i) < distance(best) + 1e-9 &&
         rungs[i].rate.mm3_per_min > rungs[best].rate.mm3_per_min))
      best = i;
  return best;
}

/// Quickest sequence from one rung to a finer one.
class Search {
 public:
  Search(const std::vector<Rung>& rungs, const LadderRules& rules, double mm3_per_um)
      : rungs_(rungs), rules_(rules), mm3_per_um_(mm3_per_um) {}

  struct Path {
    std::vector<std::size_t> rungs;
    double cost = kFar;  ///< minutes and penalties
    double minutes = kFar;
    double metal_mm3 = 0;  ///< of all but the first
  };
  [[nodiscard]] Path path(std::size_t from, std::size_t to) const {
    std::vector<double> cost(rungs_.size(), kFar), minutes(rungs_.size(), 0);
    std::vector<std::size_t> before(rungs_.size(), from);
    cost[from] = 0;
    for (std::size_t i = from; i < to; ++i)
      for (std::size_t j = i + 1; j <= to; ++j) {
        const double ratio = rungs_[i].size_um / rungs_[j].size_um;
        if (ratio < rules_.shelf.redundant && j != to) continue;  // the same work again
        const double time = rules_.handling_min + rules_.scratch_share * rungs_[i].size_um *
                                                      mm3_per_um_ / rungs_[j].rate.mm3_per_min;
        const double penalty = ratio > rules_.shelf.too_far * (1 + 1e-9) ? rules_.too_far_min : 0;
        if (cost[i] + time + penalty < cost[j]) {
          cost[j] = cost[i] + time + penalty;
          minutes[j] = minutes[i] + time;
          before[j] = i;
        }
      }
    Path out{{}, cost[to], minutes[to], 0};
    for (std::size_t at = to;; at = before[at]) {
      out.rungs.insert(out.rungs.begin(), at);
      if (at == from) return out;
      out.metal_mm3 += rules_.scratch_share * rungs_[before[at]].size_um * mm3_per_um_;
    }
  }

 private:
  const std::vector<Rung>& rungs_;
  const LadderRules& rules_;
  double mm3_per_um_;  ///< metal of 1 µm off both faces
};

/// Grinds on from step to step and keeps the book of the metal.
class Work {
 public:
  Work(Section now, const EdgeState& state, const LadderWish& wish)
      : now_(std::move(now)), state_(state), angles_(wish.apex_only ? *wish.micro : wish.edge) {}

  [[nodiscard]] const Section& now() const { return now_; }

  /// The bulk: apex formed, damage gone. Without either, `least_um` off the faces.
  std::optional<Refusal> form(LadderStep& step, double least_um) {
    // Dull or sharp, the old scratches go; where the faces get other angles they go with the metal.
    // A flat at the apex stands for part of that: the faces move in by what takes it away.
    const bool same_faces = is_ground_so();
    const double scratches =
        same_faces ? depth_for(least_um, GrindSide::both) - missing_apex_mm() : 0;
    double depth = std::max(state_.damage_um / 1000, scratches);
    const auto formed = now_.ground(grind(GrindSide::both, UntilApex{}));
    if (formed && removal(now_, *formed).apex_receded_mm >= depth - 1e-12)
      return take(step, *formed);
    // A sharp, sound edge of another geometry: its new faces meet a hair above the old apex.
    if (!(depth > 0) && !same_faces) depth = kHair_mm;
    if (!(depth > 0))
      return Refusal{
          said("nothing is to be removed: no dullness, no damage, the same geometry and no finish "
               "to replace were given")};
    return take(step, now_.ground(grind(GrindSide::both, UntilDepth{depth})));
  }
  /// Ground at the wished angles for an apex at `apex_mm`; where that lies below the flat there is,
  /// a flat of that much is left. Nothing where the flat is narrower already.
  std::optional<Refusal> bring_to(LadderStep& step, double apex_mm) {
    const double above = apex_mm - now_.apex_mm();
    if (above > 1e-9) return take(step, now_.ground(grind(GrindSide::both, UntilDepth{above})));
    const double flat = -above * tangents();
    if (flat > 1e-9) {
      if (!fits_in_flat(flat)) return std::nullopt;
      return take(step, now_.ground(grind(GrindSide::both, UntilThickness{flat})));
    }
    return take(step, now_.ground(grind(GrindSide::both, UntilApex{})));
  }
  /// Whether bring_to has something to do there.
  [[nodiscard]] bool reaches(double apex_mm) const {
    return apex_mm > now_.apex_mm() - 1e-9 || fits_in_flat((now_.apex_mm() - apex_mm) * tangents());
  }
  /// How far the apex recedes (mm) when both faces move in by `um`.
  [[nodiscard]] double depth_of(double um) const { return depth_for(um, GrindSide::both); }
  /// Faces of `side` moved in by a depth.
  std::optional<Refusal> clear(LadderStep& step, double um, GrindSide side) {
    return take(step, now_.ground(grind(side, UntilDepth{depth_for(um, side)})));
  }
  /// The micro-bevel; what comes after it works on it.
  std::optional<Refusal> micro(LadderStep& step, const BevelAngles& angles, double facet_um) {
    angles_ = angles;
    return take(step, now_.ground(grind(GrindSide::both, UntilFacet{facet_um})));
  }
  /// Metal (mm³) of 1 µm off both faces at the apex.
  [[nodiscard]] double mm3_per_um() const {
    double width_um = 0;
    for (const auto& facet : facets_of(now_))
      if (facet.from_um < 1e-6) width_um += facet.width_um;
    return width_um / 1e6 * state_.edge_length_mm;
  }

 private:
  static constexpr double kHair_mm = 5e-4;
  /// The faces at the apex have the wished angles.
  [[nodiscard]] bool is_ground_so() const {
    for (const auto& facet : facets_of(now_))
      if (facet.from_um < 1e-6 &&
          std::abs(facet.apex_end_deg -
                   (facet.side == EdgeSide::left ? angles_.left_deg : angles_.right_deg)) > 0.05)
        return false;
    return true;
  }
  /// Both new faces leave the flat within the flat that is there.
  [[nodiscard]] bool fits_in_flat(double flat) const {
    const double at = now_.apex_left_mm(), h = now_.apex_mm(), each = flat / tangents();
    return each * std::tan(radians(angles_.left_deg)) <
               now_.half_mm(EdgeSide::left, h) - at - 1e-9 &&
           each * std::tan(radians(angles_.right_deg)) <
               now_.half_mm(EdgeSide::right, h) + at - 1e-9;
  }
  [[nodiscard]] double tangents() const {
    return std::tan(radians(angles_.left_deg)) + std::tan(radians(angles_.right_deg));
  }
  /// How far beyond a blunt apex its faces, carried on, would meet (mm).
  [[nodiscard]] double missing_apex_mm() const { return now_.apex_width_mm() / tangents(); }
  [[nodiscard]] Grind grind(GrindSide side, GrindUntil until) const {
    Grind out;
    out.side = side;
    out.angle_deg = side == GrindSide::right ? angles_.right_deg : angles_.left_deg;
    if (side == GrindSide::both) out.angle_right_deg = angles_.right_deg;
    out.until = until;
    return out;
  }
  /// How far the apex recedes (mm) when the faces of a side move in by `um`, square to themselves.
  [[nodiscard]] double depth_for(double um, GrindSide side) const {
    const double left = radians(angles_.left_deg), right = radians(angles_.right_deg);
    const double mm = um / 1000;
    if (side == GrindSide::left) return mm / std::cos(left) / tangents();
    if (side == GrindSide::right) return mm / std::cos(right) / tangents();
    return mm / std::sin(std::min(left, right));  // each face meets the new apex
  }
  std::optional<Refusal> take(LadderStep& step, const Checked<Section>& after) {
    if (!after) return after.refusal();
    const Removal gone = removal(now_, *after);
    step.metal_mm3 += gone.area_mm2 * state_.edge_length_mm;
    step.receded_um += gone.apex_receded_mm * 1000;
    now_ = *after;
    return std::nullopt;
  }

  Section now_;
  const EdgeState& state_;
  BevelAngles angles_;
};

std::optional<Refusal> fault_of(const EdgeState& state, const LadderWish& wish,
                                const LadderRules& rules) {
  const auto in = [](double value, double least, double most) {
    return value >= least && value <= most;
  };
  if (!in(state.dull_um, 0, 500) || !in(state.damage_um, 0, 20000))
    return Refusal{said("dullness lies between 0 and 500 µm, damage between 0 and 20 mm")};
  if (!in(state.edge_length_mm, 1, 2000))
    return Refusal{said("an edge is between 1 and 2000 mm long")};
  if (!in(wish.finish_left_um, 0.01, 1000) || !in(wish.finish_right_um, 0.01, 1000))
    return Refusal{said("a finish lies between 0.01 and 1000 µm")};
  if (wish.apex_only && !wish.micro)
    return Refusal{said("honing only the apex needs the micro-bevel's angle")};
  if (!in(rules.scratch_share, 0.001, 5) || !(rules.handling_min >= 0) ||
      !(rules.too_far_min >= 0) || !(rules.strokes_per_min > 0) || !(rules.shelf.too_far > 1))
    return Refusal{said("the ladder's rules are out of range")};
  return std::nullopt;
}

void finish_step(LadderStep& step, const Rung& rung, const Abrasive& abrasive,
                 CuttingClass cutting_class, const LadderRules& rules) {
  step.abrasive = rung.index;
  step.minutes = step.metal_mm3 / rung.rate.mm3_per_min;
  step.rate_estimated = rung.rate.estimated;
  step.passes = std::max(1, int(std::ceil(*step.minutes * rules.strokes_per_min)));
  step.first = before_use(abrasive, cutting_class);
}

/// What another start would cost, and why a first abrasive has so much to do.
void add_start_remarks(LadderPlan& plan, const std::vector<Abrasive>& shelf,
                       const LadderRules& rules) {
  const std::size_t first = plan.steps.front().abrasive;
  const auto at = std::find_if(plan.starts.begin(), plan.starts.end(),
                               [&](const StartOption& s) { return s.abrasive == first; });
  if (at == plan.starts.end()) return;
  const auto against = [&](const StartOption& other, const char* finer_or_coarser) {
    const double extra = other.minutes - at->minutes;
    if (extra > 0.05)
      plan.remarks.push_back(said(
          "Start on {name}: starting {finer_or_coarser}, on {name_2}, would take {extra} min more.",
          {{"name", shelf[first].name},
           {"finer_or_coarser", finer_or_coarser},
           {"name_2", shelf[other.abrasive].name},
           {"extra", print_fixed(extra, 1)}}));
    else if (extra < -0.05)
      plan.remarks.push_back(
          said("Start on {name}: starting {finer_or_coarser}, on {name_2}, would be {extra} min "
               "quicker, with {strokes_a_side} strokes a side on it alone.",
               {{"name", shelf[first].name},
                {"finer_or_coarser", finer_or_coarser},
                {"name_2", shelf[other.abrasive].name},
                {"extra", print_fixed(-extra, 1)},
                {"strokes_a_side", std::to_string(other.strokes_a_side)}}));
  };
  if (std::next(at) != plan.starts.end()) against(*std::next(at), "finer");
  if (at != plan.starts.begin()) against(*std::prev(at), "coarser");
  const LadderStep& bulk = plan.steps.front();
  const int a_side = strokes_a_side(bulk.side, bulk.passes);
  if (a_side > rules.most_strokes)
    plan.remarks.push_back(
        said("{name} has {a_side} strokes a side to make, more than {most_strokes}: "
             "{coarser_ones_would}",
             {{"name", shelf[first].name},
              {"a_side", std::to_string(a_side)},
              {"most_strokes", std::to_string(rules.most_strokes)},
              {"coarser_ones_would",
               at != plan.starts.begin()
                   ? said("coarser ones would take even longer to be smoothed out.")
                   : said("the shelf has nothing coarser that bites on this steel and whose "
                          "scratches would not go deeper than what is to come off.")}}));
}

}  // namespace

Checked<LadderPlan> plan_ladder(const EdgeState& state, const LadderWish& wish,
                                const std::vector<Abrasive>& shelf, CuttingClass cutting_class,
                                const LadderRules& rules) {
  if (auto fault = fault_of(state, wish, rules)) return *fault;
  const auto rungs = rungs_of(shelf, cutting_class);
  if (rungs.empty())
    return Refusal{
        said("no abrasive of the shelf has a size and bites on this steel: add one, or its size")};
  auto start = make_section(state.section);
  if (!start) return start.refusal();
  if (state.dull_um > 0) start = start->truncated(state.dull_um / 1000);
  if (!start) return start.refusal();

  const double coarser_um = std::max(wish.finish_left_um, wish.finish_right_um),
               finer_um = std::min(wish.finish_left_um, wish.finish_right_um);
  const std::size_t common = nearest(rungs, coarser_um),
                    last = std::max(common, nearest(rungs, finer_um));
  const double least_um = state.finish_um ? rules.scratch_share * *state.finish_um : 0;

  // The whole of it once, to know how much it is, where the apex ends and how wide the faces
  // become.
  Work trial(*start, state, wish);
  LadderStep bulk;
  if (auto refusal = trial.form(bulk, least_um)) return *refusal;
  const double apex_mm = trial.now().apex_mm();
  const Work before(*start, state, wish);
  const Search search(rungs, rules, trial.mm3_per_um());
  /// Where the apex is to be after each rung of a path: the first one stops short, so that the
  /// scratch allowances of the finer ones end where the whole ends.
  const auto ends_of = [&](const std::vector<std::size_t>& path) {
    std::vector<double> ends(path.size(), apex_mm);
    for (std::size_t i = path.size() - 1; i-- > 0;)
      ends[i] = ends[i + 1] - trial.depth_of(rules.scratch_share * rungs[path[i]].size_um);
    return ends;
  };
  LadderPlan plan{{}, 0, 0, 0, false, false, {}, *start, {}};
  std::size_t chosen = common;
  double best_cost = kFar;
  for (std::size_t i = 0; i <= common; ++i) {
    const auto path = search.path(i, common);
    // Its scratches would go deeper than what is to come off.
    if (i < common && !before.reaches(ends_of(path.rungs).front())) continue;
    const double at_first =
        std::max(0.0, bulk.metal_mm3 - path.metal_mm3) / rungs[i].rate.mm3_per_min;
    const double patient_min = 2.0 * rules.patient_strokes / rules.strokes_per_min;
    const double first = rules.handling_min + at_first;
    plan.starts.push_back({rungs[i].index, first + path.minutes,
                           int(std::ceil(std::min(at_first * rules.strokes_per_min / 2, 1e6)))});
    if (const double cost =
            first + path.cost + std::clamp(at_first - patient_min, 0.0, rules.impatience_min);
        cost < best_cost) {
      best_cost = cost;
      chosen = i;
    }
  }

  Work work(*start, state, wish);
  BevelAngles angles = wish.apex_only ? *wish.micro : wish.edge;
  double before_um = 0;
  // `end`: where the apex is to be; without it the faces of one side move in by the scratches.
  const auto add = [&](std::size_t rung, GrindSide side,
                       std::optional<double> end) -> std::optional<Refusal> {
    const bool first = plan.steps.empty();
    LadderStep step;
    step.side = side;
    step.angles = angles;
    step.ratio = first ? 0 : before_um / rungs[rung].size_um;
    step.too_far = step.ratio > rules.shelf.too_far * (1 + 1e-9);
    if (!first) step.scratch_um = rules.scratch_share * before_um;
    auto refusal = end ? work.bring_to(step, *end) : work.clear(step, step.scratch_um, side);
    if (refusal) return refusal;
    finish_step(step, rungs[rung], shelf[rungs[rung].index], cutting_class, rules);
    before_um = rungs[rung].size_um;
    plan.steps.push_back(std::move(step));
    return std::nullopt;
  };
  const auto path = search.path(chosen, common).rungs;
  const auto ends = ends_of(path);
  for (std::size_t i = 0; i < path.size(); ++i)
    if (auto refusal = add(path[i], GrindSide::both, ends[i])) return *refusal;
  if (wish.micro && !wish.apex_only) {
    LadderStep step;
    step.angles = angles = *wish.micro;
    step.micro = true;
    if (auto refusal = work.micro(step, *wish.micro, wish.micro_facet_um))
      return Refusal{said("micro-bevel: {reason}", {{"reason", refusal->reason}})};
    finish_step(step, rungs[common], shelf[rungs[common].index], cutting_class, rules);
    step.first.clear();
    plan.facet_too_narrow = wish.micro_facet_um < rungs[common].size_um;
    if (plan.facet_too_narrow)
      plan.remarks.push_back(
          said("The micro-bevel is to be {micro_facet_um} µm wide, less than one particle of "
               "{name} ({size_um} µm): what that leaves is a torn strip, no face at this angle. "
               "Make it wider or cut it with something finer.",
               {{"micro_facet_um", print_number(wish.micro_facet_um, 3)},
                {"name", shelf[rungs[common].index].name},
                {"size_um", print_number(rungs[common].size_um, 3)}}));
    plan.steps.push_back(std::move(step));
  }
  if (last > common) {
    const GrindSide finer =
        wish.finish_left_um < wish.finish_right_um ? GrindSide::left : GrindSide::right;
    const auto on = search.path(common, last).rungs;
    for (std::size_t i = 1; i < on.size(); ++i)
      if (auto refusal = add(on[i], finer, std::nullopt)) return *refusal;
  }

  for (const auto& step : plan.steps) {
    plan.metal_mm3 += step.metal_mm3;
    plan.receded_um += step.receded_um;
    plan.minutes += *step.minutes + rules.handling_min;
    plan.minutes_estimated |= step.rate_estimated;
    if (step.too_far)
      plan.remarks.push_back(
          said("The jump to {name} is too far (a factor of {ratio}): the shelf has nothing between "
               "that bites on this steel. Reckon with scratches left, or buy one.",
               {{"name", shelf[step.abrasive].name}, {"ratio", print_fixed(step.ratio, 1)}}));
  }
  plan.after = work.now();
  const auto finish_remark = [&](double wished, std::size_t rung, const char* where) {
    const double off = std::max(wished / rungs[rung].size_um, rungs[rung].size_um / wished);
    if (off > 1.5)
      plan.remarks.push_back(said(
          "The shelf has no abrasive near {wished} µm{where}: {name} leaves about {size_um} µm.",
          {{"wished", print_number(wished, 3)},
           {"where", where},
           {"name", shelf[rungs[rung].index].name},
           {"size_um", print_number(rungs[rung].size_um, 3)}}));
  };
  finish_remark(coarser_um, common, "");
  if (finer_um < coarser_um) finish_remark(finer_um, last, " for the finer side");
  add_start_remarks(plan, shelf, rules);
  add_nick_remarks(plan, state, wish, *start);
  return plan;
}

}  // namespace bq::inline edge
