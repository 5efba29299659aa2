#include "workflow/stone_truth.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

#include "edge/grit.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "workflow/lens_study.h"

namespace bq::inline workflow {
namespace {

struct Piece {
  double log_um = 0, error = 0, streaks = 0;  ///< of one picture
};

std::string in_um(double value) { return print_number(value, 2) + " µm"; }

const Abrasive* on_shelf(const Trial& trial, const std::string& name) {
  for (const auto& abrasive : trial.shelf)
    if (abrasive.name == name) return &abrasive;
  return nullptr;
}

/// One picture's scratches: the mean of its measures.
std::optional<Piece> piece_of(const Micrograph& m, const PictureScale& scale) {
  Piece out;
  double n = 0, errors = 0;
  for (const auto& measure : m.measures) {
    if (measure.kind != LensMeasureKind::scratches) continue;
    const LensValue value = value_of(measure, scale);
    out.log_um += std::log(value.value);
    errors += std::pow(value.plus_minus / 1.96 / value.value, 2);
    for (const auto& take : measure.takes)
      out.streaks += take.streaks / double(measure.takes.size());
    n += 1;
  }
  if (n == 0) return std::nullopt;
  out.log_um /= n;
  out.streaks /= n;
  out.error = std::sqrt(errors) / n;
  return out;
}

}  // namespace

std::set<std::string> parse_references(const std::string& kept) {
  std::set<std::string> out;
  std::istringstream lines(kept);
  for (std::string line; std::getline(lines, line);)
    if (!line.empty()) out.insert(line);
  return out;
}

std::string print_references(const std::set<std::string>& names) {
  std::string out;
  for (const auto& name : names) out += name + "\n";
  return out;
}

StoneTruths stone_truths(const Trial& trial, const std::set<std::string>& references,
                         double redundant) {
  StoneTruths out;
  std::map<std::string, std::vector<Piece>> pieces;
  for (const auto& m : trial.micrographs) {
    if (m.stone.empty()) continue;
    const auto scale = scale_of(trial, m);
    const auto piece = scale ? piece_of(m, *scale) : std::nullopt;
    if (piece)
      pieces[m.stone].push_back(*piece);
    else
      out.left_out.push_back(m.name + ": " +
                             (scale ? said("no scratches measured") : said("no scale")));
  }
  if (pieces.empty()) {
    out.sentence = said(
        "No sample piece has been measured yet: scratch one with each stone, take two pictures or "
        "more of it and measure the scratches in a box.");
    return out;
  }
  double squares = 0, freedom = 0;
  for (const auto& [name, all] : pieces) {
    double mean = 0;
    for (const auto& p : all) mean += p.log_um / double(all.size());
    for (const auto& p : all) squares += (p.log_um - mean) * (p.log_um - mean);
    freedom += double(all.size()) - 1;
  }
  out.picture_sd = freedom > 0 ? std::sqrt(squares / freedom) : 0;
  const double quantile = freedom > 0 ? stats::t_quantile(0.975, freedom) : 1.96;
  std::map<std::string, double> errors;
  for (const auto& [name, all] : pieces) {
    StoneTruth stone;
    stone.stone = name;
    stone.pictures = int(all.size());
    double mean = 0, own = 0;
    for (const auto& p : all) {
      mean += p.log_um / double(all.size());
      own += p.error * p.error;

      stone.streaks += p.streaks / double(all.size());
    }
    stone.spacing_um = std::exp(mean);
    errors[name] = freedom > 0 ? out.picture_sd / std::sqrt(double(all.size()))
                               : std::sqrt(own) / double(all.size());
    if (const Abrasive* abrasive = on_shelf(trial, name)) {
      if (const auto grit = parse_grit(abrasive->label)) stone.label_um = grit->mean_um;
      stone.reference = references.contains(name) && size_um(*abrasive).has_value();
    }
    out.stones.push_back(std::move(stone));
  }
  // Spacing over size, from the stones whose size is known.
  double sum = 0, error = 0, known = 0;
  for (const auto& stone : out.stones)
    if (stone.reference) {
      sum += std::log(stone.spacing_um / *size_um(*on_shelf(trial, stone.stone)));

      error += errors[stone.stone] * errors[stone.stone];
      known += 1;
    }
  out.estimated = known == 0;
  const double ratio_error = known > 0 ? std::sqrt(error) / known : 0;
  if (known > 0) out.ratio = std::exp(sum / known);
  int misleading = 0;
  for (auto& stone : out.stones) {
    stone.effective_um = stone.spacing_um / out.ratio;
    const double half = quantile * std::hypot(errors[stone.stone], ratio_error);
    stone.low_um = stone.effective_um * std::exp(-half);
    stone.high_um = stone.effective_um * std::exp(half);
    const std::string works =
        said("works like {in_um} ({in_um_2} to {in_um_3})", {{"in_um", in_um(stone.effective_um)},
                                                             {"in_um_2", in_um(stone.low_um)},
                                                             {"in_um_3", in_um(stone.high_um)}});
    if (!stone.label_um) {
      stone.sentence = said("{works}; it has no label", {{"works", works}});
    } else {
      const bool outside = *stone.label_um < stone.low_um || *stone.label_um > stone.high_um;
      const double off = stone.effective_um / *stone.label_um;
      stone.label = outside && (off > 1.25 || off < 0.8) ? StoneTruth::Label::misleads
                                                         : StoneTruth::Label::fits;
      misleading += stone.label == StoneTruth::Label::misleads;
      stone.sentence =
          said("the label says {in_um}, it {works}{the_label_misleads}",
               {{"in_um", in_um(*stone.label_um)},
                {"works", works},
                {"the_label_misleads",
                 stone.label == StoneTruth::Label::misleads ? said(": the label misleads") : ""}});
    }
    if (stone.streaks >= 0.05)
      stone.sentence += said("; {streaks} % of its scratches are three times as deep as the rest",
                             {{"streaks", print_fixed(100 * stone.streaks, 0)}});
  }
  std::sort(out.stones.begin(), out.stones.end(), [](const StoneTruth& a, const StoneTruth& b) {
    return a.effective_um > b.effective_um;
  });
  for (std::size_t i = 1; i < out.stones.size(); ++i) {
    const auto &coarse = out.stones[i - 1], &fine = out.stones[i];
    const double ratio = coarse.spacing_um / fine.spacing_um,
                 half = quantile * std::hypot(errors[coarse.stone], errors[fine.stone]);
    StoneTwins twins{coarse.stone,           fine.stone, ratio, ratio * std::exp(-half),
                     ratio * std::exp(half), ""};
    if (twins.low >= redundant) continue;
    const std::string interval = said(" ({ratio} times as coarse, {low} to {high})",
                                      {{"ratio", print_number(ratio, 3)},
                                       {"low", print_number(twins.low, 3)},
                                       {"high", print_number(twins.high, 3)}});
    twins.sentence =
        twins.high < redundant
            ? said("{stone} and {stone_2} do the same work{interval}: one of them is redundant.",
                   {{"stone", coarse.stone}, {"stone_2", fine.stone}, {"interval", interval}})
            : said(
                  "{stone} and {stone_2} may do the same work{interval}: more pictures would tell.",
                  {{"stone", coarse.stone}, {"stone_2", fine.stone}, {"interval", interval}});
    out.twins.push_back(std::move(twins));
  }
  out.sentence = said(
      "{stones}{stone} by what they do: {no_label_misleads}, {twins}{neighbouring_pair_is} "
      "redundant or cannot be told apart.{sizes_are_estimates}",
      {{"stones", std::to_string(out.stones.size())},
       {"stone", out.stones.size() == 1 ? said(" stone") : said(" stones")},
       {"no_label_misleads",
        misleading == 0 ? said("no label misleads")
                        : std::to_string(misleading) + (misleading == 1 ? said(" label misleads")
                                                                        : said(" labels mislead"))},
       {"twins", std::to_string(out.twins.size())},
       {"neighbouring_pair_is",
        out.twins.size() == 1 ? said(" neighbouring pair is") : said(" neighbouring pairs are")},
       {"sizes_are_estimates", out.estimated
                                   ? said(" Sizes are estimates (spacing / 0.6) until a stone's "
                                          "size is taken as known; order and ratios hold.")
                                   : ""}});
  return out;
}

}  // namespace bq::inline workflow
