// "Did hand, batch or order matter?"
#include <algorithm>
#include <cmath>

#include "bluntness/circumstances.h"
#include "quantity/number.h"
#include "quantity/wording.h"
#include "workflow/answer_parts.h"

namespace bq::inline workflow::answer_parts {
namespace {

/// "runs of operator B lasted 1.2 (1.1 to 1.4) times as long as those of operator A".
std::string in_words(const Circumstance& one) {
  const std::string ratio =
      with_interval(one.contrast->ratio, one.contrast->low, one.contrast->high);
  if (one.name == kOrder)
    return "the last run (" + one.longest + ") lasts " + ratio + " times as long as the first (" +
           one.shortest + ") would have, the same edge";
  const auto level = [&](const std::string& name) {
    return name.starts_with(one.name) ? name : one.name + " \"" + name + "\"";
  };
  return "runs with " + level(one.longest) + " lasted " + ratio + " times as long as with " +
         level(one.shortest) + ", the same edge";
}

}  // namespace

Answer circumstances(const AnswerSource& source) {
  if (!source.life->model) return missing("Cannot tell yet: " + source.life->why_not + ".", true);
  auto all =
      bluntness::circumstances(*source.facts, source.life->table, source.life->model->spec());
  if (all.empty())
    return missing(
        "Cannot tell yet: the runs differ in nothing but their edges, as far as anybody wrote it "
        "down. Name the operator and the batch of medium at the Bench, and blocks in the plan.",
        true);
  std::stable_sort(all.begin(), all.end(), [](const Circumstance& a, const Circumstance& b) {
    return a.p_holm.value_or(2) < b.p_holm.value_or(2);
  });
  if (!all.front().p_holm)
    return missing("Cannot tell yet: the runs differ in " + all.front().name + ", but " +
                       all.front().why_not + ".",
                   true);
  Answer out;
  out.answered = true;
  std::vector<std::string> quiet;
  for (const auto& one : all)
    if (one.p_holm && !one.seen()) quiet.push_back(one.name);
  const Circumstance& first = all.front();
  const bool perhaps = !first.seen() && *first.p < 0.05;
  if (first.seen()) {
    out.sentence = "Yes, the " + first.name + " mattered: " + in_words(first) + " (95 %).";
    for (std::size_t i = 1; i < all.size(); ++i)
      if (all[i].seen())
        out.sentence += " So did the " + all[i].name + ": " + in_words(all[i]) + ".";
    if (!quiet.empty()) out.remarks.push_back("No effect of " + either_of(quiet) + " can be told.");
  } else if (perhaps) {
    const auto asked = quiet.size();
    out.sentence = "Perhaps the " + first.name + ": " + in_words(first) + " (95 %). Of " +
                   std::to_string(asked) + " things asked at once one looks like this by luck in " +
                   print_number(std::round(100 * *first.p_holm), 2) +
                   " of 100 trials, so it is no proof.";
    out.plan_helps = true;
  } else {
    out.sentence = "No effect of " + either_of(quiet) +
                   " can be told. Nearest to one: " + in_words(first) + " (95 %).";
    out.plan_helps = true;
  }
  out.table.heads = {"What", "In words",    "Ratio of lives", "Low 95 %",       "High 95 %",
                     "p",    "p, together", "Longest lived",  "Shortest lived", "Levels"};
  PictureSeries bars;
  bars.kind = PictureSeries::Kind::points;
  bars.name = "longest over shortest; of the order last over first";
  for (const auto& one : all) {
    const auto end = [](const std::optional<double>& value) {
      return value ? print_number(*value, 3) : std::string("not bounded");
    };
    if (!one.p_holm) {
      out.table.rows.push_back({one.name, "cannot tell: " + one.why_not, "", "", "", "", "", "", "",
                                std::to_string(one.levels.size())});
      continue;
    }
    const LifeContrast& c = *one.contrast;
    const bool in_time = one.name == kOrder;
    out.table.rows.push_back({one.name,
                              one.seen()      ? "matters"
                              : *one.p < 0.05 ? "perhaps"
                                              : "no effect told",
                              print_number(c.ratio, 3), end(c.low), end(c.high), print_p(*one.p),
                              print_p(*one.p_holm), one.longest + (in_time ? " (last)" : ""),
                              one.shortest + (in_time ? " (first)" : ""),
                              in_time ? "by rank" : std::to_string(one.levels.size())});
    out.picture.x_words.push_back(one.name);
    bars.x.push_back(double(bars.x.size()));
    bars.y.push_back(c.ratio);
    bars.y_low.push_back(c.low.value_or(c.ratio));
    bars.y_high.push_back(c.high.value_or(c.ratio));
  }
  out.picture.y_label = "ratio of lives";
  out.picture.y_log = true;
  out.picture.level = 1;
  out.picture.level_name = "no difference";
  out.picture.series = {std::move(bars)};
  for (const auto& one : all)
    if (one.levels.size() > 2 && one.p_holm && one.name != kOrder) {
      out.remarks.push_back(
          "Of more than two levels the two farthest apart are shown: some distance between them is "
          "luck, which p takes into account and the interval does not.");
      break;
    }
  for (const auto& row : source.life->table.rows) out.runs.push_back(row.facts.name);
  out.formula =
      "The life model of the edges with and without each of them, on the same runs (F from the "
      "likelihoods); p held together by Holm. Order: steady change of ln life from the first run "
      "to the last, by rank of the time the Bench wrote. Blades used again are not allowed for.";
  out.method = "Circumstances";
  return out;
}

}  // namespace bq::inline workflow::answer_parts
