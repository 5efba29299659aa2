// Everything a person or a file can hand in as text: no bytes make a reader fail, and what is taken
// is within its range.
#include <gtest/gtest.h>

#include <cmath>

#include "edge/grit.h"
#include "quantity/angle.h"
#include "quantity/measure.h"
#include "rehearsal/recipe.h"
#include "stats/random.h"
#include "store/edge_record_json.h"
#include "store/jig_files.h"
#include "support.h"
#include "workflow/demo_project.h"
#include "workflow/ladder_draft.h"
#include "workflow/limits.h"

using namespace bq;

namespace {

class Mutator {
 public:
  explicit Mutator(std::uint64_t seed) : random_(seed) {}
  std::size_t any(std::size_t count) {
    return count ? std::size_t(random_.uniform() * double(count)) : 0;
  }
  std::string change(std::string text) {
    static const std::vector<std::string> kPieces{
        "-", "1e999", "nan",  "0",    "\"",
        "{", "}",     "[",    "]",    ",",
        ":", "null",  "true", "\xff", std::string(1, '\0'),
        "°", "1,5",   "  ",   "\n",   "e-400"};
    for (int k = 1 + int(any(5)); k > 0 && !text.empty(); --k) {
      const auto at = any(text.size());
      switch (any(4)) {
        case 0:
          text.erase(at, 1 + any(8));
          break;
        case 1:
          text[at] = char(any(256));
          break;
        case 2:
          text.insert(at, text.substr(any(text.size()), any(30)));
          break;
        default:
          text.insert(at, kPieces[any(kPieces.size())]);
      }
    }
    return text;
  }

 private:
  stats::Random random_;
};

}  // namespace

TEST(TextFuzz, ShortTextsArePositiveAndInRangeOrRefused) {
  Mutator mutate(3);
  const char* seeds[] = {"12",      "24 inclusive", "12° per side", "450 gf", "0.018 in",
                         "18 thou", "1,5 N",        "3 µm",         "P400",   "JIS 1000",
                         "F220",    "ANSI 320",     "1.2e3 mm"};
  int angles = 0, measures = 0, grits = 0;
  for (int i = 0; i < 90000; ++i) {
    const std::string text = mutate.change(seeds[i % std::size(seeds)]);
    if (const auto angle = parse_angle(text, i % 2 ? std::optional(AngleConvention::inclusive)
                                                   : std::optional(AngleConvention::per_side))) {
      EXPECT_GT(*angle, 0) << text;
      EXPECT_LT(*angle, 80) << text;
      ++angles;
    }
    if (const auto measure = parse_measure(text, std::nullopt, std::nullopt)) {
      EXPECT_TRUE(std::isfinite(measure->value)) << text;
      ++measures;
    }
    if (const auto grit = parse_grit(text)) {
      EXPECT_GT(grit->low_um, 0) << text;
      EXPECT_LE(grit->low_um, grit->mean_um) << text;
      EXPECT_GE(grit->high_um, grit->mean_um) << text;
      ++grits;
    }
  }
  EXPECT_GT(std::min({angles, measures, grits}), 500) << "enough of them are still readable";
}

TEST(TextFuzz, FilesAreReadOrRefusedWithAReason) {
  Mutator mutate(7);
  const std::string recipe = test::read_file(BQ_SOURCE_DIR "/tests/data/short_trial.json");
  const std::string limits =
      R"({"threshold":"450 gf","steels":["Marl Tough"],"least_life":500,"least_angle_deg":12,"largest_angle_deg":20,"angle_step_deg":1,
    "mix":[{"medium":"coir","share":0.7},{"medium":"foam","share":0.3}],"stones":["Red plate"],"most_force_N":30,"most_damage_rate":0.002,"hold_roughest":true,"wishes":{"life":1,"damage":0.4}})";
  const std::string rack =
      R"({"steel_cards":[{"name":"S","hardness_hrc":60}],"medium_cards":[{"name":"coir"}],"history":[
    {"blade":"A","made_at":"2026-03-01T00:00:00Z","kind":"angle","data":{"side":"left","at_mm":10,"angle_deg":15}},
    {"blade":"A","kind":"outline","data":{"origin":"points","points_mm":[[0,0],[50,1],[100,9]]}},
    {"blade":"A","kind":"finding","data":{"check":"chips","trouble":true,"at_mm":4,"size_mm":0.2}}]})";
  const std::string gauge =
      R"({"drift_limit_deg":0.2,"entries":[{"kind":"zero","angle_deg":0},{"kind":"reading","side":"left","at_mm":9,"angle_deg":15.2}]})";
  SharpeningInHand in_hand{{}, 74, SectionPlan{}, 1};
  in_hand.sharpening.steps.resize(2);
  const std::string hand = in_hand_json(in_hand), ladder = ladder_input_json(LadderInput{});
  int read = 0;
  const auto check = [&](const auto& result, const std::string& text) {
    if (result)
      ++read;
    else
      EXPECT_FALSE(result.refusal().reason.empty()) << text;
  };
  for (int i = 0; i < 5000; ++i) {
    const std::string r = mutate.change(recipe), l = mutate.change(limits), k = mutate.change(rack),
                      g = mutate.change(gauge);
    check(parse_recipe(r), r);
    check(parse_limits(l), l);
    const std::string h = mutate.change(hand), d = mutate.change(ladder);
    check(parse_in_hand(h), h);
    check(parse_ladder_input(d), d);
    const auto log = parse_gauge_log(g);
    check(log, g);
    if (log) (void)evaluate_gauge_log(log->entries, log->options);
    Trial trial;
    if (const auto refusal = add_rack(trial, k))
      EXPECT_FALSE(refusal->reason.empty());
    else
      ++read;
    for (const auto& blade : trial.blades)
      for (const auto& record : blade.records) {
        const auto again =
            parse_edge_record(kind_of_record(record.data), edge_record_json(record.data));
        ASSERT_TRUE(again.ok()) << describe(record.data);
        EXPECT_EQ(*again, record.data);
      }
  }
  EXPECT_GT(read, 500);
}
