#include "plan/claim.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <set>

#include "plan/blind_code.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/bounded_pairs.h"
#include "stats/paired_test.h"
#include "stats/power.h"

namespace bq::inline plan {
namespace {

constexpr int kMostPairs = 200;

struct MeasureWords {
  std::string_view name;
  const char* words;
};
constexpr std::array<MeasureWords, 5> kMeasures{
    {{"life", to_be_said("cuts to the threshold")},
     {"fresh", to_be_said("reading before the first cut")},
     {"after_cuts", to_be_said("reading after a fixed number of cuts")},
     {"early_rise", to_be_said("rise of the reading over the first cuts (ratio)")},
     {"scratch", to_be_said("mean scratch spacing (µm)")}}};

std::string percent(double ratio) { return print_number(std::fabs(100 * (ratio - 1)), 2) + " %"; }
std::string times(double ratio) { return print_number(ratio, 3) + "×"; }

struct MeasuredPair {
  std::optional<ClaimTest::Value> first, second;
};

std::string interval_words(const ClaimResult& r) {
  if (r.low && r.high)
    return said("{low} to {high}", {{"low", times(*r.low)}, {"high", times(*r.high)}});
  if (r.low) return said("at least {low}", {{"low", times(*r.low)}});
  if (r.high) return said("at most {high}", {{"high", times(*r.high)}});
  return said("not bounded");
}

void pronounce(const ClaimTest& test, ClaimResult& out) {
  const Claim& c = test.claim;
  const std::string figures = said(
      "{measure}, {c} against {c_2}: {ratio} ({level} % interval {interval_words}, {pairs} pairs)",
      {{"measure", words_of(c.measure)},
       {"c", c.second},
       {"c_2", c.first},
       {"ratio", times(out.ratio)},
       {"level", print_number(100 * test.level, 3)},
       {"interval_words", interval_words(out)},
       {"pairs", std::to_string(out.pairs)}});
  if (c.sameness) {
    const bool inside = out.low && out.high && *out.low >= 1 / c.ratio && *out.high <= c.ratio;
    const bool outside = (out.low && *out.low > c.ratio) || (out.high && *out.high < 1 / c.ratio);
    out.verdict = inside    ? ClaimVerdict::same
                  : outside ? ClaimVerdict::opposite
                            : ClaimVerdict::cannot_tell;
    out.sentence =
        inside    ? said("\"{sentence}\" holds here within {ratio}. ",
                         {{"sentence", c.sentence}, {"ratio", percent(c.ratio)}})
        : outside ? said("\"{sentence}\" does not hold here: they differ by more than {ratio}. ",
                         {{"sentence", c.sentence}, {"ratio", percent(c.ratio)}})
                  : said("These pairs cannot tell whether \"{sentence}\" holds within {ratio}. ",
                         {{"sentence", c.sentence}, {"ratio", percent(c.ratio)}});
  } else {
    // Turned so that the claim is "more than 1".
    const auto turned = [&](std::optional<double> end) {
      return end && !c.second_higher ? std::optional(1 / *end) : end;
    };
    const std::optional<double> low = turned(c.second_higher ? out.low : out.high),
                                high = turned(c.second_higher ? out.high : out.low);
    const double matters = std::max(c.ratio, 1 / c.ratio);
    const bool as_claimed = low && *low > 1, other_way = high && *high < 1,
               too_small = high && *high < matters && (as_claimed || (low && *low > 1 / matters));
    const std::string quoted = "\"" + c.sentence + "\"", size = "(" + times(c.ratio) + ")";
    if (other_way) {
      out.verdict = ClaimVerdict::opposite;
      out.sentence =
          said("{quoted} does not hold here: it is the other way round. ", {{"quoted", quoted}});
    } else if (as_claimed && too_small) {
      out.verdict = ClaimVerdict::same;
      out.sentence = said(
          "{quoted}: there is such a difference here, but it is smaller than the one that matters "
          "{what}. ",
          {{"quoted", quoted}, {"what", size}});
    } else if (as_claimed) {
      out.verdict = ClaimVerdict::holds;
      out.sentence =
          said("{quoted} holds here{by_at_least}",
               {{"quoted", quoted},
                {"by_at_least",
                 *low >= matters
                     ? said(", by at least what matters {what}. ", {{"what", size}})
                     : said("; whether by as much as matters {what} these pairs cannot tell. ",
                            {{"what", size}})}});
    } else if (too_small) {
      // An interval that leaves no room for what matters is an answer too.
      out.verdict = ClaimVerdict::same;
      out.sentence = said(
          "{quoted} is not borne out: if there is a difference, it is smaller than the one that "
          "matters {what}. ",
          {{"quoted", quoted}, {"what", size}});
    } else {
      out.verdict = ClaimVerdict::cannot_tell;
      out.sentence = said("These pairs cannot decide {quoted}. ", {{"quoted", quoted}});
    }
  }
  out.sentence += static_cast<char>(std::toupper(static_cast<unsigned char>(figures[0]))) +
                  figures.substr(1) + ".";
}

stats::Bounds bounds_of(const ClaimTest::Value& value) {
  return value.more_than ? stats::Bounds::above(std::log(value.value))
                         : stats::Bounds::exact(std::log(value.value));
}

/// With "more than" values.
std::optional<Refusal> judge_censored(const std::vector<MeasuredPair>& pairs, double level,
                                      ClaimResult& out) {
  std::vector<stats::BoundedPair> known;
  for (const auto& pair : pairs) known.push_back({bounds_of(*pair.first), bounds_of(*pair.second)});
  const auto answer = stats::bounded_pairs(known, level);
  if (!answer)
    return Refusal{said(
        "with so many runs that never reached the threshold nothing can be computed ({reason})",
        {{"reason", answer.refusal().reason}})};
  const auto ratio = [](std::optional<double> log) {
    return log ? std::optional(std::exp(*log)) : std::nullopt;
  };
  out.ratio = std::exp(answer->log_ratio);
  out.low = ratio(answer->low);
  out.high = ratio(answer->high);
  out.p = answer->p;
  if (answer->by_order)
    out.notes.emplace_back(
        said("Both parts reached the threshold in fewer than {complete_pairs} pairs: judged by "
             "which part lasted longer in each pair, and the ratio is the middle of what is known.",
             {{"complete_pairs", std::to_string(stats::kCompletePairs)}}));
  return std::nullopt;
}

}  // namespace

std::string_view name_of(ClaimMeasure measure) { return kMeasures[std::size_t(measure)].name; }
std::string words_of(ClaimMeasure measure) { return said(kMeasures[std::size_t(measure)].words); }
std::optional<ClaimMeasure> parse_claim_measure(std::string_view text) {
  for (std::size_t i = 0; i < kMeasures.size(); ++i)
    if (kMeasures[i].name == text) return ClaimMeasure(i);
  return std::nullopt;
}

std::string fault_of(const Claim& claim) {
  if (claim.sentence.empty()) return said("the claim has no words");
  if (claim.first.empty() || claim.second.empty()) return said("name both treatments");
  if (claim.first == claim.second) return said("the two treatments have the same name");
  if (!(claim.ratio > 0.01 && claim.ratio < 100))
    return said("the ratio that matters must lie between 0.01 and 100");
  if (!claim.sameness && std::fabs(std::log(claim.ratio)) < 1e-6)
    return said("an effect of exactly 1× is no effect: no test can find it");
  if (claim.sameness && claim.ratio <= 1)
    return said("the margin within which two count as the same must be above 1×");
  if (!(claim.pair_sd > 0 && claim.pair_sd <= 3))
    return said("the spread from pair to pair must be above 0 % (0.2 is about 20 %)");
  return "";
}

Checked<double> chance_with(const Claim& claim, int pairs, double level) {
  if (const std::string fault = fault_of(claim); !fault.empty()) return Refusal{fault};
  return claim.sameness ? stats::sameness_power(pairs, claim.pair_sd, claim.ratio, 1, level)
                        : stats::paired_power(pairs, claim.pair_sd, claim.ratio, level);
}

Checked<int> pairs_needed(const Claim& claim, double chance, double level) {
  if (!(chance > 0.05 && chance < 1))
    return Refusal{said("the wished chance must lie between 5 and 100 %")};
  for (int pairs = 2; pairs <= kMostPairs; ++pairs) {
    const auto power = chance_with(claim, pairs, level);
    if (!power) return power.refusal();
    if (*power >= chance) return pairs;
  }
  return Refusal{
      said("not even {most_pairs} pairs decide this with that chance: the difference is too small "
           "for the spread",
           {{"most_pairs", std::to_string(kMostPairs)}})};
}

std::vector<ClaimRow> claim_sheet(const ClaimTest& test) {
  std::vector<ClaimRow> rows;
  stats::Random sides(test.seed, 1), orders(test.seed, 2), codes(test.seed, 3);
  std::set<std::string> taken;
  // As many pairs begin with one treatment as with the other.
  std::vector<bool> second_first;
  for (int i = 0; i < test.pairs; ++i) second_first.push_back(i % 2);
  for (std::size_t i = second_first.size(); i > 1; --i) {
    const auto j = std::size_t(sides.below(i));
    const bool keep = second_first[i - 1];
    second_first[i - 1] = second_first[j];
    second_first[j] = keep;
  }
  const bool lives = test.claim.measure == ClaimMeasure::life;
  for (int pair = 0; pair < test.pairs; ++pair) {
    const std::string blade = pair < int(test.blades.size())
                                  ? test.blades[std::size_t(pair)]
                                  : said("blade {pair}", {{"pair", std::to_string(pair + 1)}});
    std::array<ClaimRow, 2> parts;
    for (int part = 0; part < 2; ++part) {
      parts[std::size_t(part)].pair = pair + 1;
      parts[std::size_t(part)].blade = blade;
      parts[std::size_t(part)].place = lives ? (part ? said("second run") : said("first run"))
                                             : (part ? said("tip half") : said("heel half"));
      parts[std::size_t(part)].code = blind_code(codes, taken);
      parts[std::size_t(part)].second = second_first[std::size_t(pair)] == (part == 0);
    }
    // Runs keep their order; of two halves chance says which is made and read first.
    if (!lives && orders.below(2)) std::swap(parts[0], parts[1]);
    for (auto& part : parts) {
      part.order = int(rows.size()) + 1;
      rows.push_back(part);
    }
  }
  return rows;
}

Checked<ClaimResult> judge_claim(const ClaimTest& test) {
  if (const std::string fault = fault_of(test.claim); !fault.empty()) return Refusal{fault};
  std::vector<MeasuredPair> pairs(std::size_t(std::max(0, test.pairs)));
  const auto rows = claim_sheet(test);
  for (const auto& value : test.values) {
    const auto row = std::find_if(rows.begin(), rows.end(),
                                  [&](const ClaimRow& r) { return r.code == value.code; });
    if (row == rows.end())
      return Refusal{said("there is no code {code} on this sheet", {{"code", value.code}})};
    if (!(value.value > 0) || !std::isfinite(value.value))
      return Refusal{said("the figure of {code} must be above 0", {{"code", value.code}})};
    auto& pair = pairs[std::size_t(row->pair) - 1];
    (row->second ? pair.second : pair.first) = value;
  }
  ClaimResult out;
  std::vector<MeasuredPair> used;
  std::string missing, both_open;
  std::size_t both = 0;
  for (std::size_t i = 0; i < pairs.size(); ++i) {
    const std::string number = std::to_string(i + 1);
    if (!pairs[i].first || !pairs[i].second)
      missing += (missing.empty() ? "" : ", ") + number;
    else
      used.push_back(pairs[i]);
    if (pairs[i].first && pairs[i].second && pairs[i].first->more_than &&
        pairs[i].second->more_than) {
      ++both;
      both_open += (both_open.empty() ? "" : ", ") + number;
    }
  }
  if (!missing.empty())
    out.notes.push_back(
        said("Not measured on both parts and left out: pair {missing}.", {{"missing", missing}}));
  if (!both_open.empty())
    out.notes.push_back(
        said("Both parts outlasted the cuts, which says little of the ratio: pair {both_open}.",
             {{"both_open", both_open}}));
  if (used.size() - both < 2)
    return Refusal{
        said("fewer than two pairs are measured: one pair cannot say how sure the answer is")};
  out.pairs = int(used.size());
  std::vector<stats::Pair> plain;
  for (const auto& pair : used) {
    out.censored += int(pair.first->more_than) + int(pair.second->more_than);
    plain.push_back({pair.first->value, pair.second->value});
  }
  if (out.censored == 0) {
    const auto answer = stats::paired_test(plain, test.level);
    if (!answer) return answer.refusal();
    out.ratio = answer->ratio;
    out.low = answer->low;
    out.high = answer->high;
    out.p = answer->p.value_or(1);
    if (!answer->t)
      out.notes.emplace_back(said(
          "All pairs are exactly alike: read more finely, or check that they were read at all."));
  } else {
    if (const auto refusal = judge_censored(used, test.level, out)) return *refusal;
    out.notes.push_back(
        said("{censored}{part} outlasted the cuts: counted as more than was cut, not as failed.",
             {{"censored", std::to_string(out.censored)},
              {"part", out.censored == 1 ? said(" part") : said(" parts")}}));
  }
  if (out.pairs < test.pairs)
    out.notes.push_back(
        said("{pairs} of the {pairs_2} planned pairs took part: the chance of deciding was smaller "
             "than planned.",
             {{"pairs", std::to_string(out.pairs)}, {"pairs_2", std::to_string(test.pairs)}}));
  out.not_tested = test.claim.not_tested;
  pronounce(test, out);
  return out;
}

}  // namespace bq::inline plan
