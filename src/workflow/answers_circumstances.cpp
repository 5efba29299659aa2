// "Did hand, batch or order matter?"
#include <algorithm>
#include <cmath>

#include "bluntness/circumstances.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "quantity/wording.h"
#include "workflow/answer_parts.h"

namespace bq::inline workflow::answer_parts {
namespace {

/// "runs of operator B lasted 1.2 (1.1 to 1.4) times as long as those of operator A".
std::string in_words(const Circumstance& one) {
  const std::string ratio =
      with_interval(one.contrast->ratio, one.contrast->low, one.contrast->high);
  if (one.name == kOrder)
    return said(
        "the last run ({longest}) lasts {ratio} times as long as the first ({shortest}) would "
        "have, the same edge",
        {{"longest", one.longest}, {"ratio", ratio}, {"shortest", one.shortest}});
  const auto level = [&](const std::string& name) {
    return name.starts_with(one.name) ? name : one.name + " \"" + name + "\"";
  };
  return said("runs with {level} lasted {ratio} times as long as with {level_2}, the same edge",
              {{"level", level(one.longest)}, {"ratio", ratio}, {"level_2", level(one.shortest)}});
}

}  // namespace

Answer circumstances(const AnswerSource& source) {
  if (!source.life->model)
    return missing(said("Cannot tell yet: {why_not}.", {{"why_not", source.life->why_not}}), true);
  auto all =
      bluntness::circumstances(*source.facts, source.life->table, source.life->model->spec());
  if (all.empty())
    return missing(said("Cannot tell yet: the runs differ in nothing but their edges, as far as "
                        "anybody wrote it down. Name the operator and the batch of medium at the "
                        "Bench, and blocks in the plan."),
                   true);
  std::stable_sort(all.begin(), all.end(), [](const Circumstance& a, const Circumstance& b) {
    return a.p_holm.value_or(2) < b.p_holm.value_or(2);
  });
  if (!all.front().p_holm)
    return missing(said("Cannot tell yet: the runs differ in {name}, but {why_not}.",
                        {{"name", all.front().name}, {"why_not", all.front().why_not}}),
                   true);
  Answer out;
  out.answered = true;
  std::vector<std::string> quiet;
  for (const auto& one : all)
    if (one.p_holm && !one.seen()) quiet.push_back(one.name);
  const Circumstance& first = all.front();
  const bool perhaps = !first.seen() && *first.p < 0.05;
  if (first.seen()) {
    out.sentence = said("Yes, the {name} mattered: {first} (95 %).",
                        {{"name", first.name}, {"first", in_words(first)}});
    for (std::size_t i = 1; i < all.size(); ++i)
      if (all[i].seen())
        out.sentence +=
            said(" So did the {name}: {all}.", {{"name", all[i].name}, {"all", in_words(all[i])}});
    if (!quiet.empty())
      out.remarks.push_back(
          said("No effect of {quiet} can be told.", {{"quiet", either_of(quiet)}}));
  } else if (perhaps) {
    const auto asked = quiet.size();
    out.sentence = said(
        "Perhaps the {name}: {first} (95 %). Of {asked} things asked at once one looks like this "
        "by luck in {p_holm} of 100 trials, so it is no proof.",
        {{"name", first.name},
         {"first", in_words(first)},
         {"asked", std::to_string(asked)},
         {"p_holm", print_number(std::round(100 * *first.p_holm), 2)}});
    out.plan_helps = true;
  } else {
    out.sentence = said("No effect of {quiet} can be told. Nearest to one: {first} (95 %).",
                        {{"quiet", either_of(quiet)}, {"first", in_words(first)}});
    out.plan_helps = true;
  }
  out.table.heads = {said("What"),        said("In words"),      said("Ratio of lives"),
                     said("Low 95 %"),    said("High 95 %"),     "p",
                     said("p, together"), said("Longest lived"), said("Shortest lived"),
                     said("Levels")};
  PictureSeries bars;
  bars.kind = PictureSeries::Kind::points;
  bars.name = said("longest over shortest; of the order last over first");
  for (const auto& one : all) {
    const auto end = [](const std::optional<double>& value) {
      return value ? print_number(*value, 3) : said("not bounded");
    };
    if (!one.p_holm) {
      out.table.rows.push_back({one.name,
                                said("cannot tell: {why_not}", {{"why_not", one.why_not}}), "", "",
                                "", "", "", "", "", std::to_string(one.levels.size())});
      continue;
    }
    const LifeContrast& c = *one.contrast;
    const bool in_time = one.name == kOrder;
    out.table.rows.push_back({one.name,
                              one.seen()      ? "matters"
                              : *one.p < 0.05 ? "perhaps"
                                              : "no effect told",
                              print_number(c.ratio, 3), end(c.low), end(c.high), print_p(*one.p),
                              print_p(*one.p_holm), one.longest + (in_time ? said(" (last)") : ""),
                              one.shortest + (in_time ? said(" (first)") : ""),
                              in_time ? said("by rank") : std::to_string(one.levels.size())});
    out.picture.x_words.push_back(one.name);
    bars.x.push_back(double(bars.x.size()));
    bars.y.push_back(c.ratio);
    bars.y_low.push_back(c.low.value_or(c.ratio));
    bars.y_high.push_back(c.high.value_or(c.ratio));
  }
  out.picture.y_label = said("ratio of lives");
  out.picture.y_log = true;
  out.picture.level = 1;
  out.picture.level_name = said("no difference");
  out.picture.series = {std::move(bars)};
  for (const auto& one : all)
    if (one.levels.size() > 2 && one.p_holm && one.name != kOrder) {
      out.remarks.push_back(
          said("Of more than two levels the two farthest apart are shown: some distance between "
               "them is luck, which p takes into account and the interval does not."));
      break;
    }
  for (const auto& row : source.life->table.rows) out.runs.push_back(row.facts.name);
  out.formula = said(
      "The life model of the edges with and without each of them, on the same runs (F from the "
      "likelihoods); p held together by Holm. Order: steady change of ln life from the first run "
      "to the last, by rank of the time the Bench wrote. Blades used again are not allowed for.");
  out.method = "Circumstances";
  return out;
}

}  // namespace bq::inline workflow::answer_parts
