// Damage searches with whole sections, on virtual loads that the search knows nothing of.
#include <gtest/gtest.h>

#include <cmath>

#include "bluntness/damage_search.h"
#include "rehearsal/virtual_damage.h"

using namespace bq;

namespace {

constexpr double kBears_MPa = 2400;

DamageSearch asked(double start, double step, std::optional<double> micro = std::nullopt) {
  DamageSearch out;
  out.name = "corners";
  out.steel = "Marl Tough";
  out.medium = "coir mat";
  out.cut_mode = CutMode::slice;
  out.roughest_use = "corners with staples";
  out.start_angle_deg = start;
  out.step_deg = step;
  out.micro_deg = micro;
  out.rough_cuts = 40;
  out.confirm_cuts = 800;
  return out;
}

/// Plays a search to its end; the sections as they were.
std::vector<SearchProposal> play(DamageSearch& search, const VirtualSideLoad& load,
                                 const std::optional<StressFacts>& stress, stats::Random& random) {
  std::vector<SearchProposal> out;
  for (int i = 0; i < 40; ++i) {
    out.push_back(propose(search, stress));
    if (out.back().kind == SearchProposal::Kind::finished) break;
    search.rounds.push_back(round_of(out.back()));
    SearchRound& round = search.rounds.back();
    round.look =
        look_after(load, sections_of(search).back(), kBears_MPa, false, round.cuts, random);
  }
  return out;
}

/// Chance that a long block leaves a section clean.
double holds(const ApexProfile& section, const VirtualSideLoad& load, std::int64_t cuts) {
  const double least = first_yield_load(section, kBears_MPa, load.depth_mm);
  const double z = (std::log(least) - std::log(load.median_N_per_mm)) / load.sd_log;
  return std::pow(0.5 * std::erfc(-z / std::sqrt(2.0)), double(cuts));
}

}  // namespace

TEST(SectionSearch, FromABentEdgeToEightHundredCleanCutsInTheTestersSteps) {
  // 8° with a micro-bevel of 17°: bent, 0.11 mm thick; the next step with a bevel to half to three
  // quarters of that: one small bright spot; the next step: clean, and the long block too.
  DamageSearch search = asked(8, 2.5, 17);
  const std::optional<StressFacts> stress = StressFacts{2, 0.08, kBears_MPa};
  SearchProposal next = propose(search, stress);
  EXPECT_EQ(next.edge_angle_deg, 8);
  EXPECT_EQ(next.micro_deg, 17);
  const auto cut = [&](DamageFound found, double thick_um) {
    search.rounds.push_back(round_of(next));
    search.rounds.back().look.found = found;
    if (thick_um > 0) search.rounds.back().look.widest_um = thick_um;
    next = propose(search, stress);
  };
  cut(DamageFound::bent, 110);
  EXPECT_EQ(next.kind, SearchProposal::Kind::rough_block);
  EXPECT_EQ(next.edge_angle_deg, 10.5) << "the tester's step, not twice the angle";
  EXPECT_GE(next.bevel_thickness_um, 55);
  EXPECT_LE(next.bevel_thickness_um, 82.5);
  EXPECT_EQ(next.regrind_deg, 8) << "the face that carries on behind the removed metal";
  // The micro-bevel is 35 µm thick where it ends: from there 8° a side to 110 µm.
  const double micro_um = 2 * 60 * std::sin(17 * M_PI / 180);
  EXPECT_NEAR(*next.remove_um,
              60 * std::cos(17 * M_PI / 180) + (110 - micro_um) / (2 * std::tan(8 * M_PI / 180)),
              0.01);
  EXPECT_EQ(next.micro_deg, 17) << "renewed";
  EXPECT_NE(next.reason.find("regrind the face of 8°"), std::string::npos) << next.reason;
  ASSERT_TRUE(next.load.has_value());
  cut(DamageFound::bright_spot, 78);
  EXPECT_EQ(next.edge_angle_deg, 13);
  EXPECT_EQ(next.bevel_thickness_um, 66) << "nowhere slimmer than what failed";
  cut(DamageFound::clean, 0);
  EXPECT_EQ(next.kind, SearchProposal::Kind::confirmation);
  EXPECT_EQ(next.cuts, 800);
  EXPECT_EQ(next.edge_angle_deg, 13);
  cut(DamageFound::clean, 0);
  EXPECT_EQ(next.kind, SearchProposal::Kind::finished);
  // What held is the whole section: its angle alone, slimmer behind, is not said to have held.
  const auto uses = rough_uses(search);
  std::vector<const RoughUse*> known;
  for (const auto& use : uses) known.push_back(&use);
  EXPECT_EQ(judge(sections_of(search).back(), known), RoughestUse::held);
  EXPECT_EQ(judge(profile_of(8, 17, 60), known), RoughestUse::damaged);
  EXPECT_EQ(judge(profile_of(9, 17, 60), known), RoughestUse::not_tried);
}

TEST(SectionSearch, TheMicroBevelIsNotTheEdgeThatHeld) {
  DamageSearch search = asked(12, 2);
  SearchProposal next = propose(search, std::nullopt);
  for (int i = 0; i < 2; ++i) {
    search.rounds.push_back(round_of(next));
    next = propose(search, std::nullopt);
  }
  const auto uses = rough_uses(search);
  std::vector<const RoughUse*> known;
  for (const auto& use : uses) known.push_back(&use);
  EXPECT_EQ(judge(profile_of(12, std::nullopt, 0), known), RoughestUse::held);
  EXPECT_EQ(judge(profile_of(10, 12, 60), known), RoughestUse::not_tried)
      << "a 12° micro-bevel on a 10° edge bevel is slimmer behind";
}

TEST(SectionSearch, TheLoadItMetLiesInTheRangeItSays) {
  // The hardest load of a block: a factor of its own each block, thicknesses read to a tenth.
  stats::Random random(920);
  int asked_for = 0, right = 0;
  for (int play = 0; play < 1000; ++play) {
    DamageSearch search = asked(7 + double(random.below(4)), 1.5 + double(random.below(3)),
                                random.below(2) ? std::optional(18.0) : std::nullopt);
    const double depth = 0.08, load = 7 * std::exp(1.4 * random.uniform()),
                 scatter = 0.1 + 0.3 * random.uniform();
    for (int i = 0; i < 12; ++i) {
      const SearchProposal next = propose(search, std::nullopt);
      if (next.kind != SearchProposal::Kind::rough_block) break;
      search.rounds.push_back(round_of(next));
      const double met = load * std::exp(scatter * random.normal());
      const double thick = yield_thickness_um(sections_of(search).back(), met, kBears_MPa, depth);
      if (!(thick > 0)) continue;
      search.rounds.back().look.found = DamageFound::bent;
      if (random.below(5) > 0)
        search.rounds.back().look.widest_um = thick * std::exp(0.1 * random.normal());
    }
    const auto found = calibrated_load(search, kBears_MPa, depth);
    if (!found) continue;  // nothing was damaged
    ++asked_for;
    right += found->low_N_per_mm <= load && load <= found->high_N_per_mm;
  }
  std::printf("load within its range: %d of %d searches\n", right, asked_for);
  EXPECT_GT(asked_for, 600);
  EXPECT_GE(right, 0.95 * asked_for) << right << " of " << asked_for;
}

TEST(SectionSearch, FindsTheSlimmestThatHoldsAndSkipsNone) {
  stats::Random random(500);
  int found = 0, skipped = 0, played = 0;
  for (int i = 0; i < 500; ++i) {
    DamageSearch search =
        asked(6 + 4 * random.uniform(), 1.5 + 1.5 * random.uniform(),
              random.below(2) ? std::optional(17.0 + 4 * random.uniform()) : std::nullopt);
    const VirtualSideLoad load{1.5 * std::exp(1.5 * random.uniform()),
                               0.15 + 0.3 * random.uniform(), 0.08};
    const auto proposals = play(search, load, StressFacts{2, 0.08, kBears_MPa}, random);
    ++played;
    // The slimmest angle of the tester's steps that a long block is more likely than not to leave
    // clean, its bevel the whole of the edge, is the least that can be asked of a search.
    double least = search.start_angle_deg;
    const auto section_at = [&](double angle) {
      return profile_of(
          angle, search.micro_deg && *search.micro_deg > angle ? search.micro_deg : std::nullopt,
          search.micro_um);
    };
    while (least < 45 && holds(section_at(least), load, search.confirm_cuts) < 0.5)
      least += search.step_deg;
    const double ended = search.rounds.back().edge_angle_deg;
    found += std::fabs(ended - least) <= search.step_deg + 1e-6;
    // A proposal that passes over an angle which would have held, by more than a step.
    bool skips = false;
    for (std::size_t k = 1; k < proposals.size(); ++k)
      skips |= proposals[k].edge_angle_deg >
               std::max(least, proposals[k - 1].edge_angle_deg) + search.step_deg + 1e-6;
    skipped += skips;
  }
  std::printf("within one step of the slimmest that holds: %d, passing one over: %d, of %d\n",
              found, skipped, played);
  EXPECT_GE(found, 0.85 * played) << found << " of " << played;
  EXPECT_LE(skipped, 0.05 * played) << skipped << " of " << played;
}

TEST(SectionSearch, SectionsAreComparedWholeAsSamplingThemFinds) {
  // Random sections, hollows and unlike sides among them, against their thickness every µm.
  stats::Random random(77);
  const auto any_section = [&] {
    SectionPlan plan;
    plan.stock_mm = 2.5;
    plan.height_mm = 30;
    Grind primary;
    primary.angle_deg = 4 + 3 * random.uniform();
    primary.until = UntilThickness{0.2 + 0.3 * random.uniform()};
    if (random.below(2)) {
      primary.shape = GrindShape::hollow;
      primary.radius_mm = 300 + 300 * random.uniform();
    }
    Grind bevel;
    bevel.angle_deg = 10 + 6 * random.uniform();
    if (random.below(3) == 0) bevel.angle_right_deg = bevel.angle_deg + 4 * random.uniform();
    plan.grinds = {primary, bevel};
    if (random.below(2)) {
      Grind micro;
      micro.angle_deg = 21 + 4 * random.uniform();
      micro.until = UntilFacet{20 + 60 * random.uniform()};
      plan.grinds.push_back(micro);
    }
    return *make_section(plan);
  };
  int thicker = 0;
  for (int i = 0; i < 400; ++i) {
    const Section one = any_section(), other = any_section();
    const ApexProfile a = profile_of(one), b = profile_of(other);
    double least = 1e9;
    for (int um = 1; um <= 1000; ++um) {
      const double mm = um / 1000.0;
      least = std::min(least, 1000 * (*one.thickness_mm(mm) - *other.thickness_mm(mm)));
      ASSERT_NEAR(a.thickness_um(um), 1000 * *one.thickness_mm(mm), 0.3) << um;
    }
    if (least < -0.02 && least > -0.4) continue;  // too near to call, chords for arcs
    EXPECT_EQ(at_least_as_thick(a, b, 1000), least > -0.02) << least;
    thicker += least > -0.02;
  }
  EXPECT_GT(thicker, 20);
}

TEST(SectionSearch, SaysWhyItCannotBeBegunOrKept) {
  DamageSearch search = asked(10, 2);
  EXPECT_FALSE(fault_of(search));
  search.roughest_use = " ";
  EXPECT_NE(fault_of(search)->find("what makes it rough"), std::string::npos);
  search = asked(10, 2);
  search.cut_mode.reset();
  EXPECT_NE(fault_of(search)->find("how it is cut"), std::string::npos);
  EXPECT_NE(fault_of(asked(12, 2, 11))->find("steeper than the bevel it stands on"),
            std::string::npos);
  SearchRound round = round_of(propose(asked(10, 2), std::nullopt));
  round.bevel_thickness_um = 1;
  EXPECT_NE(fault_of(round, 2)->find("thinner than an apex is wide"), std::string::npos);
  round.bevel_thickness_um = 40;
  round.look.found = DamageFound::bent;
  round.look.widest_um = 2500;
  EXPECT_NE(fault_of(round, 2)->find("thicker than the blade"), std::string::npos);
  round.look.widest_um = 110;
  EXPECT_FALSE(fault_of(round, 2));
}
