#include "bluntness/treatment_verdict.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline bluntness {
namespace {

constexpr int kBladesForReplication = 3;

/// What both cost a blade. A part (time, wear) counts where it is known of both; where it is known
/// of one only, neither price is known: what was not entered is not free.
void put_prices(const Comparison& c, TreatmentVerdict& out) {
  const auto lacking = [](std::optional<double> first, std::optional<double> second) {
    return first.has_value() != second.has_value();
  };
  const auto of = [&](bool first) { return first ? c.first.name : c.second.name; };
  if (c.price_per_hour && lacking(c.first.minutes, c.second.minutes))
    out.price_missing = said("the minutes of {of} are", {{"of", of(!c.first.minutes)}});
  else if (lacking(c.first.wear_price, c.second.wear_price))
    out.price_missing = said("what wear costs with {of} is", {{"of", of(!c.first.wear_price)}});
  if (!out.price_missing.empty()) return;
  const bool time = c.price_per_hour && c.first.minutes, wear = c.first.wear_price.has_value();
  if (!time && !wear) return;
  const auto sum = [&](const Treatment& t) {
    return (time ? *t.minutes / 60 * *c.price_per_hour : 0) + t.wear_price.value_or(0);
  };
  out.first_price = sum(c.first);
  out.second_price = sum(c.second);
}

bool reads_the_same(double ratio) { return 100 * std::abs(ratio - 1) < 0.05; }

/// "8 % lower", "3 % higher", "the same".
std::string change_text(double ratio) {
  if (reads_the_same(ratio)) return said("the same");
  return print_number(100 * std::abs(ratio - 1), 2) + " % " +
         (ratio < 1 ? said("lower") : said("higher"));
}

/// "−6.8 %" with a minus sign, not a hyphen.
std::string signed_percent(double ratio) {
  const double percent = 100 * (ratio - 1);
  return (percent < 0 ? "−" : "+") + print_number(std::abs(percent), 2) + " %";
}

std::string money(double value) { return print_fixed(value, 2); }

std::string price_sentence(const Comparison& c, const TreatmentVerdict& v) {
  std::string out;
  if (v.first_price && v.second_price) {
    const double more = *v.second_price - *v.first_price;
    out = std::abs(more) < 0.005
              ? said("Both cost the same a blade ({money})", {{"money", money(*v.first_price)}})
              : said("{name} costs {money}{more} a blade ({money_2} against {money_3})",
                     {{"name", c.second.name},
                      {"money", money(std::abs(more))},
                      {"more", more > 0 ? said(" more") : said(" less")},
                      {"money_2", money(*v.second_price)},
                      {"money_3", money(*v.first_price)}});
  }
  const auto add = [&](std::optional<double> first, std::optional<double> second, const char* more,
                       const char* less, const char* unit) {
    if (!first || !second || std::abs(*first - *second) < 1e-9) return;
    const double off = *second - *first;
    out += (out.empty() ? c.second.name + " " : ", ") + std::string(off > 0 ? more : less) + " " +
           print_number(std::abs(off), 2) + unit;
  };
  add(c.first.minutes, c.second.minutes, "takes longer by", "is quicker by", " min");
  add(c.first.metal_mm3, c.second.metal_mm3, "takes more metal by", "spares metal by", " mm³");
  add(c.first.wear_um, c.second.wear_um, "wears faster by", "wears slower by", " µm a blade");
  if (out.empty()) return "";
  if (!c.first.mess.empty() || !c.second.mess.empty())
    out += said("; mess: {none_said} against {none_said_2}",
                {{"none_said", c.first.mess.empty() ? said("none said") : c.first.mess},
                 {"none_said_2", c.second.mess.empty() ? said("none said") : c.second.mess}});
  return out + ".";
}

std::string weigh(const Comparison& c, const TreatmentVerdict& v) {
  const bool known = v.first_price && v.second_price;
  const double more = known ? *v.second_price - *v.first_price : 0;
  if (!v.test.low)
    return said("One pair says nothing about how sure this is: take more marked sections.");
  if (*v.test.low < 1 && *v.test.high > 1) {
    const std::string may = said(
        " The data cannot tell them apart: {name} may read up to {low} % lower or {high} % higher.",
        {{"name", c.second.name},
         {"low", print_number(100 * (1 - *v.test.low), 2)},
         {"high", print_number(100 * (*v.test.high - 1), 2)}});
    if (!known) return may.substr(1);
    return may.substr(1) +
           (std::abs(more) < 0.005
                ? said(" Take the one you like.")
                : said(" Until more pairs say otherwise, {name} is the cheaper choice.",
                       {{"name", more > 0 ? c.first.name : c.second.name}}));
  }
  const std::string& better = v.test.ratio < 1 ? c.second.name : c.first.name;
  if (!known)
    return said("{better} is keener; what it costs {was_not_entered}",
                {{"better", better},
                 {"was_not_entered", v.price_missing.empty()
                                         ? said("was not entered.")
                                         : said("is not known: {price_missing} missing.",
                                                {{"price_missing", v.price_missing}})}});
  const double price = v.test.ratio < 1 ? more : -more;  // of the better one over the other
  const double gain = 100 * std::abs(1 - (v.test.ratio < 1 ? v.test.ratio : 1 / v.test.ratio));
  if (price <= 0.005)
    return said("{better} is keener and costs no more: take it.", {{"better", better}});
  return said(
      "{better} is keener; each percent lower costs {money} a blade. Whether that is worth it, the "
      "life of the edge decides, not the fresh reading.",
      {{"better", better}, {"money", money(price / gain)}});
}

}  // namespace

Checked<TreatmentVerdict> compare_treatments(const Comparison& c, double level) {
  if (c.first.name.empty() || c.second.name.empty() || c.first.name == c.second.name)
    return Refusal{said("two treatments need two names")};
  std::map<std::string, std::vector<double>> by_blade;
  std::vector<stats::Pair> pairs;
  for (std::size_t i = 0; i < c.pairs.size(); ++i) {
    const auto& pair = c.pairs[i];
    if (!(pair.first > 0) || !(pair.second > 0) || !std::isfinite(pair.first) ||
        !std::isfinite(pair.second))
      return Refusal{
          said("pair {i}: both readings must be above 0", {{"i", std::to_string(i + 1)}}), i};
    by_blade[pair.blade].push_back(std::log(pair.second / pair.first));
    pairs.push_back({pair.first, pair.second});
  }
  TreatmentVerdict out;
  out.blades = int(by_blade.size());
  out.by_blade = out.blades >= kBladesForReplication;
  if (out.by_blade) {
    pairs.clear();
    for (const auto& [blade, logs] : by_blade) {
      double mean = 0;
      for (const double log : logs) mean += log / double(logs.size());
      pairs.push_back({1, std::exp(mean)});
    }
  }
  const auto test = stats::paired_test(pairs, level);
  if (!test) return test.refusal();
  out.test = *test;
  put_prices(c, out);
  const std::string basis = said("{pairs}{pair} on {blades}{blade}",
                                 {{"pairs", std::to_string(c.pairs.size())},
                                  {"pair", c.pairs.size() == 1 ? said(" pair") : said(" pairs")},
                                  {"blades", std::to_string(out.blades)},
                                  {"blade", out.blades == 1 ? said(" blade") : said(" blades")}});
  out.result = said("{name} reads {change_text}{as}{name_2}",
                    {{"name", c.second.name},
                     {"change_text", change_text(test->ratio)},
                     {"as", reads_the_same(test->ratio) ? said(" as ") : said(" than ")},
                     {"name_2", c.first.name}});
  if (test->low)
    out.result += said(" ({signed_percent} to {signed_percent_2}, {level} %; {basis})",
                       {{"signed_percent", signed_percent(*test->low)},
                        {"signed_percent_2", signed_percent(*test->high)},
                        {"level", print_number(100 * level, 3)},
                        {"basis", basis}});
  else
    out.result += " (" + basis + ")";
  out.result += ".";
  out.price = price_sentence(c, out);
  out.verdict = weigh(c, out);
  if (!out.by_blade)
    out.cautions.push_back(
        said("With fewer than three blades this holds for {this_blade} only; the blade is what has "
             "to be repeated.",
             {{"this_blade", out.blades == 1 ? said("this blade") : said("these two blades")}}));
  if (test->n < 6)
    out.cautions.push_back(
        said("With fewer than 6 {blades} even a clear difference cannot reach 5 % in the signed "
             "rank test.",
             {{"blades", out.by_blade ? said("blades") : said("pairs")}}));
  return out;
}

StropMatter strop_matter(const Comparison& comparison, const std::vector<Abrasive>& shelf) {
  const auto is_strop = [&](const std::string& name) {
    for (const auto& abrasive : shelf)
      if (abrasive.name == name) return abrasive.kind == AbrasiveKind::strop;
    std::string lower = name;
    std::transform(lower.begin(), lower.end(), lower.begin(),
                   [](unsigned char c) { return char(std::tolower(c)); });
    // "no strop" is the other treatment's name.
    return lower.find("strop") != std::string::npos && !lower.starts_with("no ") &&
           !lower.starts_with("without ");
  };
  const int strops = is_strop(comparison.first.name) + is_strop(comparison.second.name);
  return strops == 0 ? StropMatter::none : strops == 1 ? StropMatter::whether : StropMatter::which;
}

}  // namespace bq::inline bluntness
