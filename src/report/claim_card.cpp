#include "report/claim_card.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline report {
namespace {

std::string times(double ratio) { return print_number(ratio, 3) + "×"; }

/// The interval on a logarithmic axis round "no difference", with what matters marked.
Drawing picture(const ClaimTest& test, const ClaimResult& result) {
  Drawing out;
  out.width_mm = 130;
  out.height_mm = 24;
  const Claim& c = test.claim;
  double far = std::max(std::fabs(std::log(c.ratio)) * 1.6, 0.1);
  for (const auto& end : {result.low, result.high})
    if (end) far = std::max(far, std::min(2.5, std::fabs(std::log(*end)) * 1.15));
  const auto x = [&](double ratio) {
    return 65 + 56 * std::clamp(std::log(ratio) / far, -1.0, 1.0);
  };
  const double y = 10;
  out.lines.push_back({{{9, 15}, {121, 15}}, 0.2, false, false, false});
  out.lines.push_back({{{65, 3}, {65, 15}}, 0.3, false, false, false});
  out.texts.push_back({65, 19, "no difference", 2.4, DrawingText::Anchor::middle});
  for (const double ratio :
       c.sameness ? std::vector<double>{c.ratio, 1 / c.ratio} : std::vector<double>{c.ratio}) {
    out.lines.push_back({{{x(ratio), 6.5}, {x(ratio), 15}}, 0.3, false, false, true});
    if (std::fabs(x(ratio) - 65) > 20)
      out.texts.push_back({x(ratio), 19, (c.sameness ? "" : said("matters: ")) + times(ratio), 2.4,
                           DrawingText::Anchor::middle});
  }
  const double low = x(result.low.value_or(1e-6)), high = x(result.high.value_or(1e6)),
               at = x(result.ratio);
  out.lines.push_back({{{low, y}, {high, y}}, 0.9, false, false, false});
  out.lines.push_back(
      {{{at - 1.4, y}, {at, y - 1.8}, {at + 1.4, y}, {at, y + 1.8}}, 0.3, true, true, false});
  out.texts.push_back(
      {std::clamp(at, 15.0, 115.0), 5.0, times(result.ratio), 2.8, DrawingText::Anchor::middle});
  return out;
}

}  // namespace

EdgeCard claim_card(const ClaimTest& test, const ClaimResult& result, const std::string& date) {
  const Claim& c = test.claim;
  EdgeCard card;
  card.kind = said("Result card");
  card.dated = "unsealed";
  card.title = c.sentence;
  card.subtitle = said("{c} against {c_2}", {{"c", c.second}, {"c_2", c.first}});
  card.date = date;
  card.section = picture(test, result);
  CardBlock answer{"Answer", {}, {}, {result.sentence}};
  answer.lines.push_back({"ratio, second over first", times(result.ratio)});
  answer.lines.push_back(
      {said("{level} % interval", {{"level", print_number(100 * test.level, 3)}}),
       said("{not_bounded} to {not_bounded_2}",
            {{"not_bounded", result.low ? times(*result.low) : said("not bounded")},
             {"not_bounded_2", result.high ? times(*result.high) : said("not bounded")}})});
  answer.lines.push_back(
      {"pairs", said("{pairs} of {pairs_2} planned", {{"pairs", std::to_string(result.pairs)},
                                                      {"pairs_2", std::to_string(test.pairs)}})});
  answer.sentences.insert(answer.sentences.end(), result.notes.begin(), result.notes.end());
  card.blocks.push_back(answer);
  CardBlock how{
      "How it was tested",
      {{"measured", words_of(c.measure)},
       {c.sameness ? "counts as the same within" : "difference that matters", times(c.ratio)},
       {"chance planned", said("{chance} %, with {pair_sd} % spread from pair to pair",
                               {{"chance", print_number(100 * test.chance, 3)},
                                {"pair_sd", print_number(100 * c.pair_sd, 3)}})},
       {"order and sides",
        said("by chance from seed {seed}, blind codes", {{"seed", std::to_string(test.seed)}})}},
      c.steps,
      {}};
  card.blocks.push_back(how);
  CardBlock data{"Measured", {}, {}, {}};
  const auto rows = claim_sheet(test);
  const auto value = [&](int pair, bool second) -> std::string {
    for (const auto& row : rows)
      if (row.pair == pair && row.second == second)
        for (const auto& v : test.values)
          if (v.code == row.code)
            return (v.more_than ? said("more than ") : "") + print_number(v.value, 4) + " (" +
                   row.code + ")";
    return said("not measured");
  };
  for (int pair = 1; pair <= test.pairs; ++pair)
    data.lines.push_back(
        {said("pair {pair}", {{"pair", std::to_string(pair)}}),
         c.first + " " + value(pair, false) + "; " + c.second + " " + value(pair, true)});
  card.blocks.push_back(data);
  card.blocks.push_back(
      {"What was not tested",
       {},
       {},
       result.not_tested.empty()
           ? std::vector<
                 std::string>{"Everything but these blades, this medium and this way of cutting."}
           : result.not_tested});
  if (const std::string other = other_school(c.id); !other.empty())
    card.blocks.push_back({"The other school", {}, {}, {other}});
  card.cautions = {
      "This card speaks for these blades and this bench. Workplace rules and trained people come "
      "before it."};
  return card;
}

}  // namespace bq::inline report
