// Answers about one edge: where along it dulls first, the bevel behind its micro-bevel, when it is
// due again.
#include <algorithm>
#include <cmath>
#include <map>

#include "bluntness/damage_search.h"
#include "bluntness/edge_places.h"
#include "bluntness/life_contrast.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/answer_parts.h"
#include "workflow/bench_study.h"
#include "workflow/cuts_left.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
namespace {

std::string times(const PlaceDulling& place) {
  return said("{ratio} ({low} to {high})", {{"ratio", print_number(place.ratio, 3)},
                                            {"low", print_number(place.low, 3)},
                                            {"high", print_number(place.high, 3)}});
}

/// Runs with a micro-bevel, by the edge bevel behind it (a tenth of a degree per side).
struct Behind {
  std::vector<const LifeRow*> rows;
  std::vector<DamageBlock> blocks;
  std::vector<double> fresh_N;
};

/// The edge bevel behind a micro-bevel, per side to a tenth; empty where there is none.
std::optional<double> bevel_behind(const RunFacts& facts) {
  if (!facts.geometry || !facts.geometry->micro()) return std::nullopt;
  return std::round(10 * facts.geometry->edge().equivalent_deg()) / 10;
}

std::map<double, Behind> bevels_behind(const AnswerSource& source) {
  std::map<double, Behind> out;
  std::map<std::string, const Run*> runs;
  for (const auto& run : source.facts->runs) runs[run.facts.name] = &run;
  for (const auto& row : source.life->table.rows) {
    const auto bevel = bevel_behind(row.facts);
    if (!bevel) continue;
    Behind& here = out[*bevel];
    here.rows.push_back(&row);
    const Run& run = *runs.at(row.facts.name);
    for (const auto& block : blocks_between_looks(run)) here.blocks.push_back(block);
    for (const auto& event : run.events)
      if (const auto* stroke = std::get_if<StrokeEvent>(&event.data);
          stroke && event.cuts == 0 && stroke->trouble.empty())
        here.fresh_N.push_back(stroke->mean_N);
  }
  return out;
}

double mean_of(const std::vector<double>& values) {
  double sum = 0;
  for (const double value : values) sum += value;
  return sum / double(values.size());
}

/// A blade with the edge that is on it now.
struct Due {
  const Blade* blade = nullptr;
  CutsLeft left;
};

std::string left_words(const CutsLeft& left) {
  if (!(left.usual > 0)) return said("past the limit");
  return said("about {usual} (at least {low})", {{"usual", print_cuts(std::floor(left.usual))},
                                                 {"low", print_cuts(std::floor(left.low))}});
}

}  // namespace

Answer along(const AnswerSource& source) {
  const auto found = dulling_by_place(*source.facts, of_this_work(source));
  if (!found)
    return missing(
        said("Cannot tell yet: {reason}. Read heel, middle and tip apart (Bench, Protocol).",
             {{"reason", found.refusal().reason}}),
        false);
  Answer out;
  out.answered = true;
  out.runs = found->runs;
  const PlaceDulling &first = found->places.front(), &last = found->places.back();
  const std::string runs = count_of(found->runs.size(), to_be_said("run"), to_be_said("runs"));
  std::string places;
  for (const auto& place : found->places) places += (places.empty() ? "" : ", ") + place.place;
  if (first.differs && first.ratio > 1)
    out.sentence = said(
        "It dulls first at \"{place}\": there the reading rises {first} times as much as on the "
        "whole edge, in {runs} (95 % for all places together).",
        {{"place", first.place}, {"first", times(first)}, {"runs", runs}});
  else if (last.differs)
    out.sentence = said(
        "It stays sharp longest at \"{place}\": there the reading rises {last} times as much as on "
        "the whole edge, in {runs} (95 % for all places together); the other places cannot be told "
        "apart.",
        {{"place", last.place}, {"last", times(last)}, {"runs", runs}});
  else
    out.sentence = said(
        "No place can be told to dull faster than the others in {runs}: the most is \"{place}\", "
        "{first} times the rise of the whole edge (95 % for all places together).",
        {{"runs", runs}, {"place", first.place}, {"first", times(first)}});
  out.table.heads = {said("Place"),
                     said("Fresh, of the edge's mean"),
                     said("Rise, of the edge's mean"),
                     said("Low 95 %"),
                     said("High 95 %"),
                     said("In words")};
  PictureSeries means, single;
  means.kind = single.kind = PictureSeries::Kind::points;
  means.name = said("mean of the runs");
  single.name = "runs";
  means.ink = true;
  for (std::size_t i = 0; i < found->places.size(); ++i) {
    const PlaceDulling& place = found->places[i];
    out.table.rows.push_back({place.place, print_fixed(place.fresh_ratio, 2),
                              print_fixed(place.ratio, 2), print_fixed(place.low, 2),
                              print_fixed(place.high, 2),
                              !place.differs    ? "not told apart"
                              : place.ratio > 1 ? "dulls faster"
                                                : "dulls more slowly"});
    out.picture.x_words.push_back(place.place);
    means.x.push_back(double(i));
    means.y.push_back(place.ratio);
    means.y_low.push_back(place.low);
    means.y_high.push_back(place.high);
    for (std::size_t run = 0; run < found->runs.size(); ++run) {
      single.x.push_back(double(i) + 0.18);
      single.y.push_back(place.by_run[run]);
      single.runs.push_back(found->runs[run]);
    }
  }
  out.picture.y_label = said("rise of the reading, of the edge's mean");
  out.picture.level = 1;
  out.picture.level_name = said("as the whole edge");
  out.picture.series = {std::move(single), std::move(means)};
  out.remarks.push_back(
      said("On the whole edge the reading rises to {rise} times the fresh one by the last "
           "checkpoint ({places}).",
           {{"rise", print_number(found->rise, 3)}, {"places", places}}));
  out.formula = said(
      "Of each run the logarithm of last over fresh reading at a place, less the mean of its "
      "places; the run is the unit. Interval: t over the runs, Bonferroni over the places.");
  out.method = said("Places along the edge");
  return out;
}

Answer behind(const AnswerSource& source) {
  const auto bevels = bevels_behind(source);
  if (bevels.size() < 2)
    return missing(bevels.empty()
                       ? said("Cannot tell yet: no run in this medium has a micro-bevel.")
                       : said("Cannot tell yet: every micro-bevel in this medium stands on the "
                              "same edge bevel."),
                   true);
  LifeTable table;
  for (const auto& [bevel, here] : bevels)
    for (const auto* row : here.rows) table.rows.push_back(*row);
  LifeSpec spec = terms_with_blades(table);
  spec.drawn_steels = false;
  spec.terms.emplace_back("edge_angle");
  const auto model = LifeModel::fit(table, spec);
  if (!model)
    return missing(
        said("Cannot tell yet: {reason}. The same micro-bevel on two edge bevels would tell.",
             {{"reason", model.refusal().reason}}),
        true);
  const double slim = bevels.begin()->first, wide = bevels.rbegin()->first;
  const auto whole = life_contrast(*model, {"edge_angle", slim, wide});
  if (!whole)
    return missing(said("Cannot tell yet: {reason}.", {{"reason", whole.refusal().reason}}), true);
  const auto angle = [&](double deg) { return print_angle(deg, source.angles); };
  Answer out;
  out.answered = true;
  out.plan_helps = !whole->seen;
  const std::string ratio = with_interval(whole->ratio, whole->low, whole->high);
  if (whole->seen)
    out.sentence = said(
        "The bevel behind changes life here: behind the same micro-bevel {angle} makes {ratio} "
        "times the cuts of {angle_2} (95 %).",
        {{"angle", angle(wide)}, {"ratio", ratio}, {"angle_2", angle(slim)}});
  else
    out.sentence = said(
        "Behind the same micro-bevel, {angle} and {angle_2} cannot be told apart in life: "
        "{angle_3} makes {ratio} times the cuts (95 %). What it bears and how it pushes decides.",
        {{"angle", angle(slim)},
         {"angle_2", angle(wide)},
         {"angle_3", angle(wide)},
         {"ratio", ratio}});
  out.table.heads = {said("Edge bevel"),      said("Runs"),      said("Life ratio"),
                     said("Low 95 %"),        said("High 95 %"), said("Damage seen"),
                     said("Clean, at least"), said("Fresh N")};
  for (const auto& [bevel, here] : bevels) {
    const auto against = bevel == slim ? Checked<LifeContrast>(Refusal{""})
                                       : life_contrast(*model, {"edge_angle", slim, bevel});
    const auto end = [&](std::optional<double> LifeContrast::* which) {
      if (!against) return std::string("–");
      const std::optional<double>& value = (*against).*which;
      return value ? print_number(*value, 3) : said("not bounded");
    };
    const auto upper = damage_rate_upper(here.blocks);
    const auto damaged = std::count_if(here.blocks.begin(), here.blocks.end(),
                                       [](const DamageBlock& block) { return block.damaged; });
    out.table.rows.push_back(
        {print_angle_number(bevel, source.angles) + "°", std::to_string(here.rows.size()),
         bevel == slim ? "1"
         : against     ? print_number(against->ratio, 3)
                       : said("not to be told"),
         end(&LifeContrast::low), end(&LifeContrast::high),
         here.blocks.empty() ? said("nobody looked")
                             : said("{damaged} of {blocks} looks",
                                    {{"damaged", std::to_string(damaged)},
                                     {"blocks", std::to_string(here.blocks.size())}}),
         upper && *upper < 1 ? said("{upper} cuts", {{"upper", print_cuts(std::floor(1 / *upper))}})
                             : said("no promise"),
         here.fresh_N.empty() ? "–" : print_number(mean_of(here.fresh_N), 3)});
    for (const auto* row : here.rows) out.runs.push_back(row->facts.name);
  }
  out.picture.x_label =
      said("edge bevel behind the micro-bevel, ° {angles}", {{"angles", words_of(source.angles)}});
  out.picture.y_label = life_label(source);
  out.picture.y_log = true;
  out.picture.series = run_points(source, [&](const RunFacts& facts) {
    const auto bevel = bevel_behind(facts);
    return bevel ? std::optional(shown_angle(source, *bevel)) : std::nullopt;
  });
  out.remarks.push_back(
      said("Life ratio: against the slimmest bevel. Damage, and the cuts in which at most one "
           "damaging event is to be expected (95 %), are told as they were seen, whatever "
           "micro-bevel, steel and finish stood on the bevel; life is compared at the same ones."));
  if (!model->blade_note().empty())
    out.remarks.push_back(said("Blades used again could not be allowed for: {blade_note}.",
                               {{"blade_note", model->blade_note()}}));
  out.formula = said(
      "{life_formula} Only runs with a micro-bevel, with slope × ln ½(tan left + tan right) of the "
      "edge bevel as one term more.",
      {{"life_formula", kLifeFormula}});
  out.method = said("Bevel behind a micro-bevel");
  return out;
}

Answer touch_up(const AnswerSource& source) {
  if (!source.life->model)
    return missing(said("Cannot tell yet: {why_not}.", {{"why_not", source.life->why_not}}), true);
  const Trial& facts = *source.facts;
  std::vector<Due> due;
  std::vector<std::string> unknown;
  for (std::size_t i = 0; i < facts.blades.size(); ++i) {
    const Blade& blade = facts.blades[i];
    if (blade.retired) continue;
    const auto draft = draft_ladder(facts, i);
    const auto left =
        draft ? cuts_left(facts, *source.fits, *source.life->model, source.life->question.medium,
                          source.life->question.threshold, i, *draft)
              : Checked<CutsLeft>(Refusal{said("no section on record")});
    if (left)
      due.push_back({&blade, *left});
    else
      unknown.push_back(blade.name);
  }
  if (due.empty())
    return missing(said("Cannot tell yet: no blade in use has a section on record and a steel that "
                        "was run in this medium."),
                   false);
  std::stable_sort(due.begin(), due.end(), [](const Due& a, const Due& b) {
    return std::pair(a.left.low, a.left.usual) < std::pair(b.left.low, b.left.usual);
  });
  Answer out;
  out.answered = true;
  const std::string limit = print_reading(source, source.life->question.threshold);
  std::vector<std::string> past;
  const Due* next = nullptr;
  for (const auto& one : due)
    if (!(one.left.usual > 0))
      past.push_back(one.blade->name);
    else if (!next)
      next = &one;
  if (!past.empty())
    out.sentence =
        said("{is} past {limit} and due now.",
             {{"is", past.size() == 1 ? said("{past} is", {{"past", past.front()}})
                                      : said("{past} are", {{"past", names_of(past, 3)}})},
              {"limit", limit}});
  if (next)
    out.sentence += said("{next}{name}, with {left_words} cuts left to {limit} in {medium} (95 %).",
                         {{"next", past.empty() ? "" : said(" Next: ")},
                          {"name", next->blade->name},
                          {"left_words", left_words(next->left)},
                          {"limit", limit},
                          {"medium", source.life->question.medium}});
  out.table.heads = {said("Blade"),          said("Cuts made"),    said("Cuts left, usually"),
                     said("At least, 95 %"), said("New, usually"), said("Told by")};
  PictureSeries bars;
  bars.kind = PictureSeries::Kind::points;
  bars.name = said("cuts left, down to the least (95 %)");
  for (std::size_t i = 0; i < due.size(); ++i) {
    const CutsLeft& left = due[i].left;
    const std::string by =
        left.carried   ? said("run {name}, carried on by the shape of the others' curves",
                              {{"name", facts.runs[*left.run].facts.name}})
        : left.stopped ? said("run {name}, the pattern beyond what was read",
                              {{"name", facts.runs[*left.run].facts.name}})
        : left.by_curve
            ? said("its own curve, run {name}", {{"name", facts.runs[*left.run].facts.name}})
        : left.made > 0 ? said("the pattern; what its cuts took is not known")
                        : said("the pattern; sharpened, not cut with since");
    out.table.rows.push_back({due[i].blade->name, print_cuts(left.made),
                              print_cuts(std::floor(left.usual)), print_cuts(std::floor(left.low)),
                              print_cuts(left.fresh.usual), by});
    // Those that are due now have nothing to draw; names of more would run into each other.
    constexpr std::size_t kMostDrawn = 6;
    if (!(left.usual > 0) || bars.x.size() == kMostDrawn) continue;
    out.picture.x_words.push_back(due[i].blade->name);
    bars.x.push_back(double(bars.x.size()));
    bars.y.push_back(left.usual);
    bars.y_low.push_back(left.low);
    bars.y_high.push_back(left.usual);
  }
  out.picture.y_label = said("cuts left to {limit}", {{"limit", limit}});
  if (!bars.x.empty()) out.picture.series = {std::move(bars)};
  if (!unknown.empty())
    out.remarks.push_back(
        said("Not told: {unknown} (no section on record, or a steel without runs in this medium).",
             {{"unknown", names_of(unknown)}}));
  out.remarks.push_back(
      said("Reckoned as if all further cuts are made in this medium; a look or a reading goes "
           "before it."));
  out.formula = said(
      "Cuts to the limit by the run's own curve, less the cuts made; where the edge has no curve, "
      "the life of such an edge by the life model. At least: the lower 95 % limit of the curve, or "
      "for the next single edge.");
  out.method = said("Cuts left");
  return out;
}

}  // namespace bq::inline workflow::answer_parts
