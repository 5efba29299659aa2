#include <gtest/gtest.h>

#include "stats/random.h"
#include "store/plan_file.h"
#include "support.h"

using namespace bq;

namespace {
std::string demo_plan() { return test::read_file(BQ_SOURCE_DIR "/demo/fernmoor-plan.json"); }
std::string replaced(std::string text, const std::string& from, const std::string& to) {
  const auto at = text.find(from);
  EXPECT_NE(at, std::string::npos) << from;
  return at == std::string::npos ? text : text.replace(at, from.size(), to);
}
}  // namespace

TEST(PlanFile, GivesBackWhatWasWritten) {
  TrialPlan plan = *parse_plan(demo_plan());
  EXPECT_EQ(plan.factors.size(), 3u);
  EXPECT_EQ(plan.factors[1].kind, FactorKind::apex_angle);
  EXPECT_EQ(plan.question->factor, "apex_angle");
  plan.note = "with \"quotes\" and µm";
  plan.factors.push_back(
      {FactorKind::user, "hand", {std::string("dry"), std::string("wet")}, {1, 0.9}});
  plan.factors.push_back({FactorKind::user, "depth", {1.5, 2.5}, {}});
  plan.exclusions = {{{{"apex_angle", 18.0}}, "too thick"}};
  plan.durable = {{"Cairn Hard", 14.2}};
  plan.design = {DesignKind::best, 14, 1, {{"steel", "apex_angle"}}};
  plan.blocks = {BlockBy::medium_batch, 7, {"roll 1", "roll 2"}};
  plan.checkpoints.given = {0, 10, 50};
  plan.extensions = {{4, 99}, {0, 7}};
  plan.seed = 8999999999999999;
  plan.question->ask = PlanAsk::hold;
  plan.question->hold = {9.5, 1.5, 70, 0, 900, 13.25, 0.5};
  EXPECT_EQ(*parse_plan(plan_json(plan)), plan);
  PlanBook book;
  book.plans = {{plan, {"KT4", "XX2"}, {{"KT4", "Fred"}}}, {TrialPlan{}, {}, {}}};
  book.claims.push_back(
      {known_claims()[3], 0.9, 0.99, 3, 5, {"Marl Tough 1"}, {{"KT4", 312.5, true}}, true});
  EXPECT_EQ(*parse_plan_book(plan_book_json(book)), book);
  EXPECT_TRUE(is_plan_file(demo_plan()));
  EXPECT_FALSE(is_plan_file(test::demo_recipe()));
  EXPECT_FALSE(is_plan_file("{"));
}

TEST(PlanFile, IsRefusedWithThePlace) {
  const auto says = [](const std::string& text, const char* part) {
    const auto read = parse_plan(text);
    ASSERT_FALSE(read.ok());
    EXPECT_NE(read.refusal().reason.find(part), std::string::npos)
        << part << " not in " << read.refusal().reason;
  };
  const std::string good = demo_plan();
  says(replaced(good, "\"replicates\": 1", "\"replicats\": 1"),
       "design.replicats: this key is not known");
  says(replaced(good, "\"kind\": \"full\"", "\"kind\": \"half\""),
       "design.kind: \"half\" is not known here: full, fraction or best");
  says(replaced(good, "\"question\": {", "\"question\": {\"ask\": \"why\", "),
       "question.ask: \"why\" is not known here: difference, match, best or hold");
  says(replaced(good, "\"question\": {", "\"question\": {\"hold\": {\"step_deg\": 0}, "),
       "question.hold.step_deg");
  says(replaced(good, "[12, 15, 18]", "[12, [15], 18]"),
       "factors[1].levels[1]: must be a number or a text");
  says(replaced(good, "\"resharpenings\": 4", "\"resharpenings\": 4.5"),
       "blades[0].resharpenings: must be a whole number");
  says(replaced(good, "{\"last\": 700, \"steps\": 8, \"burr_suspected\": false}", "[0, 50, 20]"),
       "checkpoints[2]: the checkpoints must rise");
  says(replaced(good, "\"run_sd\": 0.14", "\"run_sd\": 14"),
       "truth.run_sd: must lie between 0 and 3");
  says(replaced(good, "\"by\": \"day\"", "\"by\": \"moon\""),
       "blocks.by: \"moon\" is not known here: none, day, medium batch, operator or blade");
  says(replaced(good, "\"unit\": \"gf\"", "\"unit\": \"g\""), "unit:");
  says("{\"factors\": [", "1:14: this is not valid JSON");
  says("[]", "must be an object");
}

TEST(PlanFile, NoBytesMakeItFailOrHang) {
  stats::Random random(11);
  const std::string good = demo_plan();
  int taken = 0;
  for (int i = 0; i < 4000; ++i) {
    std::string text = good;
    for (std::uint64_t k = 1 + random.below(4); k > 0; --k) {
      const auto at = std::size_t(random.below(text.size()));
      switch (random.below(4)) {
        case 0:
          text.erase(at, 1 + random.below(6));
          break;
        case 1:
          text[at] = char(random.below(256));
          break;
        case 2:
          text.insert(at, text.substr(std::size_t(random.below(text.size())),
                                      std::size_t(random.below(20))));
          break;
        default:
          text.insert(at, std::vector<std::string>{"-", "9", "0.", "[", "]", "null", "\"",
                                                   "1e99"}[std::size_t(random.below(8))]);
      }
    }
    const auto plan = parse_plan(text);
    if (!plan) continue;
    ++taken;
    EXPECT_EQ(*parse_plan(plan_json(*plan)), *plan) << text;
    (void)faults_of(*plan);
  }
  EXPECT_GT(taken, 50);
}
