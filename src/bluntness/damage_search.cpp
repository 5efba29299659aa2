#include "bluntness/damage_search.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "edge/weakest_place.h"
#include "quantity/angle.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "stats/power.h"

namespace bq::inline bluntness {
namespace {

constexpr double kSteepest_deg = 45;
/// Looks name places by a rule on the edge; a chip that grew by a fifth was hit again.
constexpr double kSamePlace_mm = 1, kGrown = 1.2;

/// ln likelihood of a rate p per cut when a block only says "at least one".
double log_likelihood(const std::vector<DamageBlock>& blocks, double p) {
  double sum = 0;
  for (const auto& block : blocks) {
    const double log_clean = double(block.cuts) * std::log1p(-p);
    sum += block.damaged ? std::log(-std::expm1(log_clean)) : log_clean;
  }
  return sum;
}

/// Upper end of the profile-likelihood interval, on ln p.
double likelihood_upper(const std::vector<DamageBlock>& blocks, double level) {
  const auto at = [&](double log_p) { return log_likelihood(blocks, std::exp(log_p)); };
  // The likelihood has one hill in ln p: golden section, then the far slope by halving.
  constexpr double kGolden = 0.6180339887498949;
  double low = std::log(1e-15), high = std::log(1 - 1e-12);
  for (int i = 0; i < 200; ++i) {
    const double a = high - kGolden * (high - low), b = low + kGolden * (high - low);
    (at(a) < at(b) ? low : high) = at(a) < at(b) ? a : b;
  }
  const double best = 0.5 * (low + high), z = stats::normal_quantile(level),
               floor = at(best) - 0.5 * z * z;
  double inside = best, outside = std::log(1 - 1e-12);
  if (at(outside) > floor) return 1;
  for (int i = 0; i < 200; ++i) {
    const double middle = 0.5 * (inside + outside);
    (at(middle) > floor ? inside : outside) = middle;
  }
  return std::exp(outside);
}

/// Exact upper limit from the count of damaged blocks, blocks of any sizes: the rate at which so
/// few damaged ones have a chance of 1 − level (the count follows the Poisson–binomial law; with
/// equal blocks this is Clopper and Pearson's).
double count_upper(const std::vector<DamageBlock>& blocks, double level) {
  const auto damaged = std::size_t(
      std::count_if(blocks.begin(), blocks.end(), [](const DamageBlock& b) { return b.damaged; }));
  const auto chance_of_so_few = [&](double log_p) {
    std::vector<double> law(damaged + 1, 0);
    law[0] = 1;
    for (const auto& block : blocks) {
      const double clean = std::exp(double(block.cuts) * std::log1p(-std::exp(log_p)));
      for (std::size_t k = damaged + 1; k-- > 0;)
        law[k] = law[k] * clean + (k > 0 ? law[k - 1] * (1 - clean) : 0);
    }
    double sum = 0;
    for (const double part : law) sum += part;
    return sum;
  };
  double low = std::log(1e-15), high = std::log(1 - 1e-12);
  if (chance_of_so_few(high) > 1 - level) return 1;
  for (int i = 0; i < 200; ++i) {
    const double middle = 0.5 * (low + high);
    (chance_of_so_few(middle) > 1 - level ? low : high) = middle;
  }
  return std::exp(high);
}

std::string per_side(double angle) { return print_number(angle, 3) + "°"; }

std::string seen(const SearchRound& round) {
  std::string text = std::string(name_of(round.look.found));
  if (round.look.widest_um)
    text += ", " + print_number(*round.look.widest_um, 3) +
            (round.look.is_thickness ? said(" µm thick at its widest") : said(" µm wide"));
  if (round.look.at_mm)
    text += said(", {at_mm} mm from the heel", {{"at_mm", print_number(*round.look.at_mm, 3)}});
  return text;
}

}  // namespace

std::optional<double> damage_rate_upper(const std::vector<DamageBlock>& blocks, double level) {
  if (blocks.empty()) return std::nullopt;
  const auto damaged =
      std::count_if(blocks.begin(), blocks.end(), [](const DamageBlock& b) { return b.damaged; });
  if (damaged == std::ptrdiff_t(blocks.size())) return std::nullopt;
  double total = 0;
  bool equal = true;
  for (const auto& block : blocks) {
    total += double(block.cuts);
    equal = equal && block.cuts == blocks.front().cuts;
  }
  if (damaged == 0) return -std::expm1(std::log1p(-level) / total);
  // The likelihood's own limit alone holds the rate in as few as 88 of 100 cases.
  if (!equal) return std::max(likelihood_upper(blocks, level), count_upper(blocks, level));
  // One-sided at `level` is the upper end of the two-sided interval at 2·level − 1.
  const double q = stats::share_of(long(damaged), long(blocks.size()), 2 * level - 1).high;
  return -std::expm1(std::log1p(-q) / double(blocks.front().cuts));
}

std::vector<DamageBlock> blocks_between_looks(const Run& run) {
  std::map<std::int64_t, std::vector<const LookEvent*>> looks;
  for (const auto& event : run.events)
    if (const auto* look = std::get_if<LookEvent>(&event.data)) looks[event.cuts].push_back(look);
  std::vector<DamageBlock> out;
  std::vector<const LookEvent*> before;  // damage that is known already
  std::int64_t last = 0;
  for (const auto& [cuts, here] : looks) {
    bool fresh = false, unsure = false;
    for (const auto* look : here) {
      if (look->found == DamageFound::clean) continue;
      const auto again = [&](const LookEvent* old) {
        return look->at_mm && old->at_mm && std::abs(*look->at_mm - *old->at_mm) <= kSamePlace_mm &&
               (!look->widest_um || !old->widest_um ||
                *look->widest_um <= kGrown * *old->widest_um);
      };
      const auto cannot_tell = [&](const LookEvent* old) { return !look->at_mm || !old->at_mm; };
      if (std::any_of(before.begin(), before.end(), again)) continue;
      (std::any_of(before.begin(), before.end(), cannot_tell) ? unsure : fresh) = true;
    }
    if (cuts > last && (fresh || !unsure)) out.push_back({cuts - last, fresh});
    // What was there at the start is known, not made by cutting.
    for (const auto* look : here)
      if (look->found != DamageFound::clean) before.push_back(look);
    last = std::max(last, cuts);
  }
  return out;
}

std::string seen_in_looks(long damaged, std::size_t looks) {
  const std::string in = said(
      " in {looks}{look}",
      {{"looks", std::to_string(looks)}, {"look", looks == 1 ? said(" look") : said(" looks")}});
  return damaged == 0   ? said("none seen{in}", {{"in", in}})
         : damaged == 1 ? said("seen once{in}", {{"in", in}})
         : damaged == 2
             ? said("seen twice{in}", {{"in", in}})
             : said("seen {damaged} times{in}", {{"damaged", std::to_string(damaged)}, {"in", in}});
}

std::string bound_in_words(const std::vector<DamageBlock>& blocks) {
  if (blocks.empty())
    return said("No block has been cut with this geometry yet: nothing can be promised.");
  std::int64_t cuts = 0;
  long damaged = 0;
  for (const auto& block : blocks) {
    cuts += block.cuts;
    damaged += block.damaged;
  }
  const std::string so_far =
      damaged == 0 ? said("No damage in {cuts} cuts", {{"cuts", std::to_string(cuts)}})
                   : said("{damaged} of {blocks} blocks damaged in {cuts} cuts",
                          {{"damaged", std::to_string(damaged)},
                           {"blocks", std::to_string(blocks.size())},
                           {"cuts", std::to_string(cuts)}});
  const auto upper = damage_rate_upper(blocks);
  if (!upper)
    return said("{cuts} cuts, every block was damaged ({damaged}): nothing bounds how often.",
                {{"cuts", std::to_string(cuts)}, {"damaged", std::to_string(damaged)}});
  if (*upper >= 1)
    return said("{so_far}: every cut could damage it, as far as this tells.", {{"so_far", so_far}});
  const double cuts_between = 1 / *upper;
  return said("{so_far}: at worst 1 damage in {cuts_between} cuts (one-sided 95 %).",
              {{"so_far", so_far},
               {"cuts_between", cuts_between >= 10 ? print_number(std::floor(cuts_between), 12)
                                                   : print_number(cuts_between, 2)}});
}

std::vector<SearchGeometry> geometries_of(const DamageSearch& search) {
  std::vector<SearchGeometry> out;
  for (const auto& round : search.rounds) {
    auto found = std::find_if(out.begin(), out.end(), [&](const SearchGeometry& g) {
      return g.edge_angle_deg == round.edge_angle_deg &&
             g.bevel_thickness_um == round.bevel_thickness_um && g.micro_deg == round.micro_deg;
    });
    if (found == out.end())
      found = out.insert(out.end(),
                         {round.edge_angle_deg, round.bevel_thickness_um, round.micro_deg, {}});
    if (round.cuts > 0)
      found->blocks.push_back({round.cuts, round.look.found != DamageFound::clean});
  }
  return out;
}

namespace {

/// "The load met so far is 3.1 N per mm (2.4 to 4.1, 95 %, estimate): 13° per side would bear it."
std::string load_words(const SearchLoad& load, const ApexProfile& next, const StressFacts& stress) {
  const double bends =
      yield_thickness_um(next, load.best_N_per_mm, stress.limit_MPa, stress.depth_mm);
  const double at_worst =
      yield_thickness_um(next, load.high_N_per_mm, stress.limit_MPa, stress.depth_mm);
  std::string out = said(
      " By its own damage this search has met a side load of {best_n_per_mm} N per mm "
      "({low_n_per_mm} to {high_n_per_mm}, 95 %, estimate), which this section ",
      {{"best_n_per_mm", print_number(load.best_N_per_mm, 2)},
       {"low_n_per_mm", print_number(load.low_N_per_mm, 2)},
       {"high_n_per_mm", print_number(load.high_N_per_mm, 2)}});
  if (bends > 0)
    return said("{out}would not bear: up to {bends} µm thick.",
                {{"out", out}, {"bends", print_number(bends, 2)}});
  return out + (at_worst > 0 ? said("may bear.") : said("bears."));
}

/// Fills in the section to make after damage.
void after_damage(const DamageSearch& search, const std::vector<ApexProfile>& sections,
                  SearchProposal& out) {
  const SearchRound& last = search.rounds.back();
  // The tester's step leads, from the steepest angle that failed: one that was damaged once is not
  // proposed again.
  double failed = last.edge_angle_deg;
  for (const auto& round : search.rounds)
    if (round.cuts > 0 && round.look.found != DamageFound::clean)
      failed = std::max(failed, round.edge_angle_deg);
  const double angle = failed + search.step_deg;
  std::string how = said("a step of {per_side} steeper", {{"per_side", per_side(search.step_deg)}});
  if (failed > last.edge_angle_deg)
    how += said(" than {per_side}, which failed before", {{"per_side", per_side(failed)}});
  out.edge_angle_deg = std::min(angle, kSteepest_deg);
  out.cuts = search.rough_cuts;
  const auto damaged = damaged_thickness_um(last);
  out.reason = said("Seen: {seen} after {cuts} cuts at {per_side}. ",
                    {{"seen", seen(last)},
                     {"cuts", std::to_string(last.cuts)},
                     {"per_side", per_side(last.edge_angle_deg)}});
  if (damaged) {
    const ApexProfile& section = sections.back();
    // Nowhere slimmer than what failed: as far as the bevel before, and out of the micro-bevel.
    const double micro_um = out.micro_deg ? micro_top_um(*out.micro_deg, out.micro_um) : 0;
    out.bevel_thickness_um = std::round(std::max({2 * kApexFloor_um, *damaged * search.bevel_share,
                                                  last.bevel_thickness_um, 1.5 * micro_um}));
    // The damage reaches up to where the section is that thick; the face there carries on.
    out.remove_um = section.distance_um(*damaged);
    const auto face = std::find_if(section.bevels.begin(), section.bevels.end(),
                                   [&](const ApexProfile::Bevel& bevel) {
                                     return bevel.up_to_um <= 0 || bevel.up_to_um > *damaged;
                                   });
    out.regrind_deg = std::prev(face == section.bevels.end() ? face : face + 1)->angle_deg;
    out.reason += said(
        "Take off {remove_um} µm so that no damaged metal is left, regrind the face of {per_side} "
        "until it is sharp, put on a bevel of {per_side_2} per side up to where the edge is "
        "{bevel_thickness_um} µm thick",
        {{"remove_um", print_number(*out.remove_um, 2)},
         {"per_side", per_side(*out.regrind_deg)},
         {"per_side_2", per_side(out.edge_angle_deg)},
         {"bevel_thickness_um", print_number(out.bevel_thickness_um, 3)}});
  } else {
    out.bevel_thickness_um = last.bevel_thickness_um;
    out.reason += said(
        "Take off the affected metal and put on a bevel of {per_side} per side (measure the widest "
        "damaged thickness to size it)",
        {{"per_side", per_side(out.edge_angle_deg)}});
  }
  out.reason += out.micro_deg ? said(", renew the micro-bevel of {per_side}",
                                     {{"per_side", per_side(*out.micro_deg)}})
                              : "";
  out.reason += ": " + how + ".";
  if (angle > kSteepest_deg)
    out.reason += said(
        " Steeper than 45° per side is not proposed: choose a tougher steel or a gentler use.");
}

}  // namespace

SearchProposal propose(const DamageSearch& search, const std::optional<StressFacts>& stress) {
  SearchProposal out;
  out.micro_deg = search.micro_deg;
  out.micro_um = search.micro_um;
  if (search.rounds.empty()) {
    out.edge_angle_deg = search.start_angle_deg;
    out.cuts = search.rough_cuts;
    out.reason = said("Start deliberately slim: {per_side} per side",
                      {{"per_side", per_side(out.edge_angle_deg)}});
    if (out.micro_deg)
      out.reason +=
          said(" with a micro-bevel of {per_side}", {{"per_side", per_side(*out.micro_deg)}});
    out.reason += ".";
    if (stress)
      out.reason += said(
          " The load guessed on Section would bring a plain wedge of that angle to {limit_mpa} of "
          "what the steel bears; what this search sees comes before it.",
          {{"limit_mpa", print_number(wedge_stress_MPa({stress->line_N_per_mm, stress->depth_mm},
                                                       out.edge_angle_deg) /
                                          stress->limit_MPa,
                                      2)}});
    return out;
  }
  const SearchRound& last = search.rounds.back();
  const auto sections = sections_of(search);
  out.edge_angle_deg = last.edge_angle_deg;
  out.bevel_thickness_um = last.bevel_thickness_um;
  if (last.micro_deg) {
    out.micro_deg = last.micro_deg;
    out.micro_um = last.micro_um;
  }
  if (stress) out.load = calibrated_load(search, stress->limit_MPa, stress->depth_mm);
  if (last.look.found == DamageFound::clean) {
    std::vector<DamageBlock> same;
    for (const auto& round : search.rounds)
      if (round.cuts > 0 && same_edge(round, last))
        same.push_back({round.cuts, round.look.found != DamageFound::clean});
    const std::string bound = " " + bound_in_words(same);
    if (last.confirmation) {
      out.kind = SearchProposal::Kind::finished;
      out.reason = said(
          "{sections} held the long block with nothing but even wear. Stop here, or cut more to "
          "tighten the promise.{bound}",
          {{"sections",
            describe(sections.back(), last.micro_deg.has_value(), AngleConvention::per_side)},
           {"bound", bound}});
      return out;
    }
    out.kind = SearchProposal::Kind::confirmation;
    out.cuts = search.confirm_cuts;
    out.reason =
        said("Clean. Leave the edge as it is and make the long block.{bound}", {{"bound", bound}});
    return out;
  }
  after_damage(search, sections, out);
  if (out.load) {
    out.reason += load_words(*out.load, section_of(search, out), *stress);
  }
  return out;
}

SearchRound round_of(const SearchProposal& proposal) {
  SearchRound out;
  out.edge_angle_deg = proposal.edge_angle_deg;
  out.bevel_thickness_um = proposal.bevel_thickness_um;
  out.micro_deg = proposal.micro_deg;
  if (proposal.micro_um > 0) out.micro_um = proposal.micro_um;
  out.cuts = proposal.cuts;
  out.confirmation = proposal.kind != SearchProposal::Kind::rough_block;
  return out;
}

ApexProfile section_of(const DamageSearch& search, const SearchProposal& proposal) {
  DamageSearch made = search;
  made.rounds.push_back(round_of(proposal));
  return sections_of(made).back();
}

std::optional<std::string> fault_of(const DamageSearch& search) {
  const auto blank = [](const std::string& text) {
    return text.find_first_not_of(" \t") == std::string::npos;
  };
  if (blank(search.medium))
    return "say what is cut: what held belongs to one medium and one way of cutting";
  if (!search.cut_mode) return "say how it is cut: push, slice or chop";
  if (blank(search.roughest_use))
    return "say what makes it rough (staples, grain, twist): what held is a promise for that use";
  if (!(search.start_angle_deg >= 1) || search.start_angle_deg > kSteepest_deg)
    return "the first angle lies between 1° and 45° per side";
  if (search.micro_deg && *search.micro_deg <= search.start_angle_deg)
    return said(
        "a micro-bevel is steeper than the bevel it stands on: {per_side} is not steeper than "
        "{per_side_2}",
        {{"per_side", per_side(*search.micro_deg)},
         {"per_side_2", per_side(search.start_angle_deg)}});
  return std::nullopt;
}

std::optional<std::string> fault_of(const SearchRound& round, double stock_mm) {
  if (round.micro_deg && *round.micro_deg <= round.edge_angle_deg)
    return said(
        "a micro-bevel is steeper than the bevel it stands on: {per_side} is not steeper than "
        "{per_side_2}",
        {{"per_side", per_side(*round.micro_deg)}, {"per_side_2", per_side(round.edge_angle_deg)}});
  if (round.bevel_thickness_um > 0 && round.bevel_thickness_um < kApexFloor_um)
    return said(
        "a bevel that ends where the edge is {bevel_thickness_um} µm thick is thinner than an apex "
        "is wide; it begins at {apex_floor_um} µm",
        {{"bevel_thickness_um", print_number(round.bevel_thickness_um, 2)},
         {"apex_floor_um", print_number(kApexFloor_um, 2)}});
  if (round.look.widest_um && round.look.is_thickness && *round.look.widest_um > 1000 * stock_mm)
    return said("damage {widest_um} mm thick is thicker than the blade, which is {stock_mm} mm",
                {{"widest_um", print_number(*round.look.widest_um / 1000, 3)},
                 {"stock_mm", print_number(stock_mm, 3)}});
  return std::nullopt;
}

}  // namespace bq::inline bluntness
