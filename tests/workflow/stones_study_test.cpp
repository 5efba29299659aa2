// What Stones knows of a blade, and how a ladder becomes steps to be done.
#include "workflow/stones_study.h"

#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include <cmath>

#include "edge/section_outcomes.h"
#include "store/readings_export.h"
#include "support.h"
#include "workflow/demo_project.h"
#include "workflow/ladder_draft.h"
#include "workflow/next_action.h"
#include "workflow/rule_base.h"
#include "workflow/sentences.h"

namespace bq {
namespace {

/// The demo as it is opened.
Trial demo() {
  static const Trial trial = [] {
    const test::Folder folder;
    return ProjectFile::open(test::demo_project(folder), ProjectFile::Access::read).load();
  }();
  return trial;
}

std::size_t index_of(const Trial& trial, const std::string& name) {
  for (std::size_t i = 0; i < trial.blades.size(); ++i)
    if (trial.blades[i].name == name) return i;
  throw std::runtime_error(name);
}

std::string answer(const std::map<std::string, KnownFact>& facts, const std::string& name) {
  const auto found = facts.find(name);
  return found == facts.end() ? "" : found->second.answers.back();
}

TEST(KnownFacts, ComeFromWhatIsOnRecordAndSayWhere) {
  Trial trial;
  Blade blade;
  blade.name = "B";
  blade.steel = "S";
  trial.blades = {blade};
  EXPECT_TRUE(known_facts(trial, 0, {}).empty()) << "nothing known, nothing claimed";
  auto& records = trial.blades[0].records;
  const auto add = [&](EdgeRecordData data) {
    records.push_back({0, "2026-03-01T00:00:00Z", std::move(data)});
  };
  SteelCard steel;
  steel.name = "S";
  steel.behaviour = "brittle";
  trial.steels = {steel};
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "behaviour"), "breaks");
  add(FindingRecord{IntakeCheck::straightness, false, {}, {}, ""});
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "straightness"), "straight");
  add(FindingRecord{IntakeCheck::recurve, true, {}, {}, ""});
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "straightness"), "bent");
  Abrasive stone;
  stone.name = "Grey";
  trial.shelf = {stone};
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "flatness"), "unknown");
  trial.shelf[0].flatness = {{"2026-03-01", 10, 0, false, ""}};
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "flatness"), "flat");
  Abrasive hollow = stone;
  hollow.name = "Hollow";
  hollow.flatness = {{"2026-03-01", 200, 0, false, ""}};
  hollow.loaded = true;
  trial.shelf.push_back(hollow);
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "flatness"), "hollow");
  EXPECT_NE(known_facts(trial, 0, {}).at("flatness").source.find("Hollow is 200 µm hollow"),
            std::string::npos);
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "loading"), "loaded");
  Sharpening s;
  SharpeningStep step;
  step.abrasive = "Grey";
  step.done = true;
  for (const std::size_t mark : {0U, 1U, 2U}) step.burr[mark] = BurrSize::felt;
  s.steps = {step};
  add(SharpeningRecord{s});
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "flatness"), "flat")
      << "only the stones this edge was made on";
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "gates"), "partly");
  add(ConditionRecord{"rolled", "rolled apex", 0.9, {}, "", {}, ""});
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "condition"), "rounded");
  add(SharpeningRecord{s});
  EXPECT_EQ(answer(known_facts(trial, 0, {}), "condition"), "")
      << "a look before this sharpening says nothing of this edge";
  // Every fact has a question that asks for it, and every question that asks for one can get it.
  const RuleBase base = load_rules({});
  for (const auto& [name, fact] : known_facts(trial, 0, {})) {
    bool asked = false;
    for (const auto* key : {&base.condition, &base.causes})
      for (const auto& q : key->questions)
        asked |= q.known == name && answered_by(*key, {{name, fact}}).contains(q.id);
    EXPECT_TRUE(asked) << name;
  }
}

TEST(LadderDraft, StartsFromTheBladesHistoryAndItsPlannedRun) {
  const Trial trial = demo();
  const auto input = first_input(trial, index_of(trial, "Marl Tough 1"));
  ASSERT_TRUE(input);
  EXPECT_EQ(input->damage_um, 90) << "the bend on record, not cleared since the last sharpening";
  EXPECT_EQ(input->run, "K02");
  EXPECT_EQ(input->wish.edge, BevelAngles::symmetric(12));
  EXPECT_EQ(*input->wish.micro, BevelAngles::symmetric(15));
  EXPECT_EQ(input->wish.finish_left_um, 6);
  Trial bare = trial;
  bare.blades[0].records.clear();
  EXPECT_FALSE(first_input(bare, 0));
  EXPECT_NE(ladder_for(bare, 0, LadderInput{}).refusal().reason.find("Section"), std::string::npos)
      << "says where to go";
  LadderInput other = *input;
  other.strop = "Balsa strop";
  other.wish.finish_right_um = 1;
  other.policy = GatePolicy::single_sided;
  other.proof = BurrProof::microscope;
  other.way = GrindWay::slack_belt;
  other.stop = AbrasiveEnd::burr;
  other.places = 7;
  other.behaviour = "brittle";
  other.deburr_between = other.straighten = other.recurve = other.wish.apex_only = true;
  const auto back = parse_ladder_input(ladder_input_json(other));
  ASSERT_TRUE(back) << back.refusal().reason;
  EXPECT_EQ(*back, other);
}

TEST(LadderDraft, StepsComeInTheirRightOrder) {
  const Trial trial = demo();
  LadderInput input = *first_input(trial, index_of(trial, "Fenland Plain 1"));
  input.damage_um = 500;
  input.wish.finish_left_um = 1;
  input.wish.finish_right_um = 6;
  input.wish.micro = BevelAngles::symmetric(20);
  input.straighten = input.recurve = input.deburr_between = true;
  input.strop = "Leather strop";
  const auto plan = ladder_for(trial, index_of(trial, "Fenland Plain 1"), input);
  ASSERT_TRUE(plan) << plan.refusal().reason;
  const Sharpening s = sharpening_for(trial, index_of(trial, "Fenland Plain 1"), input, *plan,
                                      DeburrBehaviour::ductile);
  EXPECT_EQ(s.steps[0].work, StepWork::straighten);
  EXPECT_EQ(s.steps[1].work, StepWork::recurve);
  EXPECT_EQ(s.steps.back().work, StepWork::strop);
  EXPECT_NE(s.steps.back().substrate.find("3 mm thick"), std::string::npos);
  EXPECT_TRUE(order_remarks(s).empty()) << order_remarks(s).front();
  for (std::size_t i = 2; i + 1 < s.steps.size(); ++i)
    if (s.steps[i].work == StepWork::grind) {
      EXPECT_EQ(s.steps[i + 1].work, StepWork::deburr) << "between abrasives too, step " << i;
    }
  EXPECT_EQ(*finish_of(s), (Finish{1, 6}));
  input.run = "K02";  // planned with 6 µm and another apex
  EXPECT_NE(run_mismatch(trial, input, s).find("ends at 1|6 µm"), std::string::npos)
      << run_mismatch(trial, input, s);
  input.run.clear();
  EXPECT_EQ(run_mismatch(trial, input, s), "");
}

TEST(LadderDraft, RandomLaddersKeepTheirBooks) {
  const Trial trial = demo();
  EXPECT_TRUE(rc::check(
      "any blade, any wish: steps add up to Section's figure, sizes fall, times are metal over "
      "rate",
      [&] {
        const std::size_t blade = *rc::gen::inRange<std::size_t>(0, trial.blades.size());
        LadderInput input = *first_input(trial, blade);
        input.dull_um = *rc::gen::inRange(0, 400) / 10.0;
        input.damage_um = *rc::gen::inRange(0, 1500);
        const double edge = 6 + *rc::gen::inRange(0, 180) / 10.0;
        input.wish.edge = {edge, edge + *rc::gen::inRange(0, 20) / 10.0};
        if (*rc::gen::arbitrary<bool>())
          input.wish.micro = BevelAngles{edge + 5, edge + 7};
        else
          input.wish.micro.reset();
        input.wish.finish_left_um = *rc::gen::inRange(1, 60);
        input.wish.finish_right_um =
            *rc::gen::arbitrary<bool>() ? input.wish.finish_left_um : *rc::gen::inRange(1, 60);
        const auto plan = ladder_for(trial, blade, input);
        if (!plan) {
          RC_ASSERT(!plan.refusal().reason.empty());
          return;
        }
        double metal = 0, minutes = 0, size = 1e9;
        for (const auto& step : plan->steps) {
          RC_ASSERT(step.metal_mm3 >= -1e-12);
          RC_ASSERT(step.receded_um >= -1e-9);
          const double now = *size_um(trial.shelf[step.abrasive]);
          RC_ASSERT(now <= size * 1.0001);
          size = now;
          metal += step.metal_mm3;
          minutes += *step.minutes + LadderRules{}.handling_min;
          RC_ASSERT(trial.shelf[step.abrasive].kind != AbrasiveKind::strop);
        }
        RC_ASSERT(std::abs(minutes - plan->minutes) < 1e-9 * minutes);
        // Section's own figure between the edge now and the edge made.
        auto draft = *draft_ladder(trial, blade);
        auto now = make_section(draft.state.section);
        if (input.dull_um > 0) now = now->truncated(input.dull_um / 1000);
        const double wanted = removal(*now, plan->after).area_mm2 * draft.state.edge_length_mm;
        RC_ASSERT(std::abs(metal - wanted) <= 0.01 * wanted + 1e-9);
        draft.state.dull_um = input.dull_um;
        if (const auto left = resulting_section(draft.state, input.wish, *plan)) {
          RC_ASSERT(std::abs(make_section(*left)->area_mm2() - plan->after.area_mm2()) <= 1e-4);
        }
        // And it is a sharpening that can be done, whatever the policy.
        input.policy = GatePolicy(*rc::gen::inRange(0, 4));
        Sharpening s = sharpening_for(trial, blade, input, *plan, DeburrBehaviour::between);
        RC_ASSERT(order_remarks(s).empty());
        int taps = 0;
        while (const auto tap = next_tap(s)) {
          const auto next = tap->mark ? with_mark(s, *tap->mark) : with_step_done(s, 1);
          RC_ASSERT(next.ok());
          s = *next;
          RC_ASSERT(++taps < 200);
        }
        RC_ASSERT(replay(s) == replay(replay(s)));
      }));
}

TEST(Weigh, OrderOfAnswersDoesNotMatterAndChancesAddUpToOne) {
  const RuleBase base = load_rules({});
  EXPECT_TRUE(rc::check("any answers to either key", [&] {
    const bool of_edges = *rc::gen::arbitrary<bool>();
    const EvidenceKey& key = of_edges ? base.condition : base.causes;
    Observations seen;
    for (const auto& q : key.questions) {
      if (!*rc::gen::arbitrary<bool>()) continue;
      const std::size_t chosen = *rc::gen::inRange<std::size_t>(0, q.answers.size());
      seen[q.id] = q.answers[chosen].id;
    }
    const auto result = weigh(key, seen);
    RC_ASSERT(result.ok());
    double sum = 0, last = 1;
    for (const auto& ranked : result->ranked) {
      sum += ranked.probability;
      RC_ASSERT(ranked.probability <= last + 1e-12);
      last = ranked.probability;
    }
    RC_ASSERT(std::abs(sum - 1) < 1e-9);
    // Not as one expression: RC_ASSERT evaluates both sides of an "or" for its report.
    if (result->found) RC_ASSERT(result->ranked.front().probability >= key.sure);
    if (result->next) RC_ASSERT(!seen.contains(key.questions[*result->next].id));
    EvidenceKey turned = key;  // the same questions the other way round
    std::reverse(turned.questions.begin(), turned.questions.end());
    const auto again = weigh(turned, seen);
    RC_ASSERT(std::abs(again->ranked.front().probability - result->ranked.front().probability) <
              1e-9);
  }));
}

TEST(Export, JsonHoldsEverythingAndIsReadAgainAsARack) {
  const Trial trial = demo();
  Trial back;
  for (const auto& blade : trial.blades)
    back.blades.push_back({0, blade.name, blade.steel, blade.note, blade.retired, {}});
  const auto refusal = add_rack(back, trial_json(trial));
  ASSERT_FALSE(refusal) << refusal->reason;
  EXPECT_EQ(back.shelf, trial.shelf);
  EXPECT_EQ(back.steels, trial.steels);
  EXPECT_EQ(back.media, trial.media);
  ASSERT_EQ(back.comparisons.size(), trial.comparisons.size());
  EXPECT_EQ(back.comparisons[0].pairs, trial.comparisons[0].pairs);
  for (std::size_t i = 0; i < trial.blades.size(); ++i) {
    ASSERT_EQ(back.blades[i].records.size(), trial.blades[i].records.size())
        << trial.blades[i].name;
    for (std::size_t k = 0; k < trial.blades[i].records.size(); ++k)
      EXPECT_EQ(back.blades[i].records[k].data, trial.blades[i].records[k].data);
  }
}

TEST(StartLine, SaysHowARunStarted) {
  const Trial trial = demo();
  const auto run = [&](const std::string& name) {
    return std::size_t(trial.find_run(name) - trial.runs.data());
  };
  EXPECT_EQ(start_line(trial, run("D06"), Unit::gf).substr(0, 51),
            "sharpened 2026-03-10 (ductile route), start in: 92 ");
  EXPECT_NE(start_line(trial, run("D06"), Unit::N).find(" N"), std::string::npos);
  EXPECT_NE(start_line(trial, run("K01"), Unit::gf).find("start not judged"), std::string::npos);
  EXPECT_EQ(start_line(trial, run("K02"), Unit::gf), "") << "not read yet, no sharpening names it";
}

TEST(NextAction, SendsBackToASharpeningInHandWhenNoRunIsUnderWay) {
  Trial trial = demo();
  const std::size_t blade = index_of(trial, "Marl Tough 1");
  EXPECT_EQ(next_action(trial, {}, blade).station, Station::bench) << "a run under way comes first";
  std::erase_if(trial.runs, [](const bq::Run& run) { return state_of(run) == RunState::running; });
  const NextAction next = next_action(trial, {}, blade);
  EXPECT_EQ(next.station, Station::stones);
  EXPECT_EQ(next.blade, blade);
  EXPECT_NE(next.sentence.find("Marl Tough 1"), std::string::npos);
  EXPECT_NE(next_action(trial, {}).station, Station::stones);
}

}  // namespace
}  // namespace bq
