#include "plan/run_sheet.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "plan/blind_code.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/random.h"

namespace bq::inline plan {
namespace {

/// What each random stream of a part is for; streams never meet.
enum Purpose : std::uint64_t { deal = 1, order = 2, codes = 3, blades = 4, operators = 5 };
stats::Random stream(const TrialPlan& plan, int part, Purpose purpose) {
  const std::uint64_t seed = part ? plan.extensions[std::size_t(part) - 1].seed : plan.seed;
  return stats::Random(seed, std::uint64_t(part) * 16 + purpose);
}

template <class Item>
void shuffle(std::vector<Item>& items, stats::Random& random) {
  for (std::size_t i = items.size(); i > 1; --i) std::swap(items[i - 1], items[random.below(i)]);
}

struct Block {
  std::string name;
  std::size_t size = 0;
  std::string steel;  ///< of a blade block
  std::vector<Combination> runs;
};

std::string steel_of(const TrialPlan& plan, const Combination& levels) {
  const auto steel = plan.value_of(levels, "steel");
  return steel ? print_factor_value(*steel) : "";
}

std::string block_name(const TrialPlan& plan, std::size_t index) {
  if (index < plan.blocks.names.size() && !plan.blocks.names[index].empty())
    return plan.blocks.names[index];
  const std::string number = std::to_string(index + 1);
  switch (plan.blocks.by) {
    case BlockBy::day:
      return said("day {number}", {{"number", number}});
    case BlockBy::medium_batch:
      return said("batch {number}", {{"number", number}});
    default:
      return said("block {number}", {{"number", number}});
  }
}

Checked<std::vector<Block>> blocks_for(const TrialPlan& plan, const std::vector<Combination>& runs,
                                       int part, std::size_t before) {
  std::vector<Block> out;
  const std::size_t n = runs.size();
  const auto even = [&](std::size_t count) {
    for (std::size_t b = 0; b < count; ++b)
      out.push_back({block_name(plan, before + b), n * (b + 1) / count - n * b / count, "", {}});
  };
  switch (plan.blocks.by) {
    case BlockBy::none:
      out.push_back(
          {part ? said("extension {part}", {{"part", std::to_string(part)}}) : "", n, "", {}});
      break;
    case BlockBy::day:
    case BlockBy::medium_batch: {
      std::size_t each = std::size_t(plan.blocks.runs_each);
      if (each == 0 && plan.blocks.by == BlockBy::day) {
        // With the rests that fall into it on the average, and one more at the worst.
        const auto checkpoints = checkpoints_of(plan.checkpoints);
        const double cutting =
            checkpoints.empty() ? 0 : double(checkpoints.back()) * plan.rates.seconds_per_cut / 60;
        const double rested =
            run_minutes(plan) + cutting / plan.rates.rest_after_minutes * plan.rates.rest_minutes;
        each = std::size_t(
            std::max(1.0, std::floor((plan.rates.hours_a_day * 60 - plan.rates.rest_minutes) /
                                     std::max(1.0, rested))));
      }
      if (each == 0)
        each = std::max<std::size_t>(1, n / std::size_t(part ? 1 : plan.design.replicates));
      even((n + each - 1) / each);
      break;
    }
    case BlockBy::by_operator:
      if (plan.operators.size() < 2)
        return Refusal{said("blocks by operator need at least two operators")};
      for (std::size_t b = 0; b < plan.operators.size(); ++b)
        out.push_back({plan.operators[b],
                       n * (b + 1) / plan.operators.size() - n * b / plan.operators.size(),
                       "",
                       {}});
      break;
    case BlockBy::blade: {
      if (plan.blades.empty()) return Refusal{said("blocks by blade need named blades")};
      std::map<std::string, std::size_t> wanted;
      for (const auto& levels : runs) ++wanted[steel_of(plan, levels)];
      for (const auto& [steel, count] : wanted) {
        std::vector<const PlanBlade*> own;
        for (const auto& blade : plan.blades)
          if (steel.empty() || blade.steel == steel) own.push_back(&blade);
        if (own.empty()) return Refusal{said("no blade of {steel} is named", {{"steel", steel}})};
        for (std::size_t b = 0; b < own.size(); ++b)
          if (const std::size_t size = count * (b + 1) / own.size() - count * b / own.size())
            out.push_back({own[b]->name, size, steel, {}});
      }
    }
  }
  return out;
}

/// Minus what the blocks' means take from the effects' columns: 0 when blocks tell nothing about
/// effects.
double block_value(const Eigen::MatrixXd& rows, const std::vector<int>& block_of, int blocks) {
  const Eigen::Index p = rows.cols();
  Eigen::MatrixXd sums = Eigen::MatrixXd::Zero(blocks, p);
  Eigen::VectorXd counts = Eigen::VectorXd::Zero(blocks);
  for (Eigen::Index r = 0; r < rows.rows(); ++r) {
    sums.row(block_of[std::size_t(r)]) += rows.row(r);
    counts[block_of[std::size_t(r)]] += 1;
  }
  double taken = 0;
  for (int b = 0; b < blocks; ++b)
    taken += sums.row(b).tail(p - 1).squaredNorm() / std::max(1.0, counts[b]);
  return -taken;
}

/// Deals the runs to the blocks: first round and round, then exchanges that make the blocks more
/// alike.
void deal_runs(const TrialPlan& plan, std::vector<Combination> runs, std::vector<Block>& blocks,
               stats::Random random) {
  shuffle(runs, random);
  // Copies of one combination come together, so that the round puts them in different blocks.
  std::map<Combination, std::size_t> first;
  for (std::size_t i = 0; i < runs.size(); ++i) first.try_emplace(runs[i], i);
  std::stable_sort(runs.begin(), runs.end(),
                   [&](const auto& a, const auto& b) { return first[a] < first[b]; });
  std::vector<int> block_of;
  std::vector<std::size_t> filled(blocks.size());
  std::size_t turn = 0;
  for (const auto& levels : runs) {
    std::size_t tries = 0;
    const auto fits = [&](const Block& block) {
      return filled[turn] < block.size &&
             (block.steel.empty() || block.steel == steel_of(plan, levels));
    };
    while (tries++ < blocks.size() && !fits(blocks[turn])) turn = (turn + 1) % blocks.size();
    block_of.push_back(int(turn));
    ++filled[turn];
    turn = (turn + 1) % blocks.size();
  }
  if (blocks.size() > 1) {
    const Eigen::MatrixXd rows = model_columns(plan, runs, plan.design.interactions).rows;
    double value = block_value(rows, block_of, int(blocks.size()));
    const std::size_t attempts = std::min<std::size_t>(20000, 200 * runs.size());
    for (std::size_t i = 0; i < attempts && value < -1e-9; ++i) {
      const auto a = std::size_t(random.below(runs.size())),
                 b = std::size_t(random.below(runs.size()));
      if (block_of[a] == block_of[b] || runs[a] == runs[b]) continue;
      if (!blocks[std::size_t(block_of[a])].steel.empty() &&
          steel_of(plan, runs[a]) != steel_of(plan, runs[b]))
        continue;
      std::swap(block_of[a], block_of[b]);
      const double now = block_value(rows, block_of, int(blocks.size()));
      if (now > value + 1e-9)
        value = now;
      else
        std::swap(block_of[a], block_of[b]);
    }
  }
  for (std::size_t i = 0; i < runs.size(); ++i)
    blocks[std::size_t(block_of[i])].runs.push_back(runs[i]);
}

class BladeUse {
 public:
  BladeUse(const TrialPlan& plan, stats::Random random)
      : plan_(plan), uses_(plan.blades.size()), random_(random) {}

  /// The blade with the fewest uses that is allowed one more; -1 where there is none.
  int next(const Combination& levels, const std::string& wanted) {
    const std::string steel = steel_of(plan_, levels);
    std::vector<int> best;
    std::pair<int, int> least{1 << 30, 0};
    for (std::size_t b = 0; b < plan_.blades.size(); ++b) {
      const auto& blade = plan_.blades[b];
      if (!wanted.empty() ? blade.name != wanted : (!steel.empty() && blade.steel != steel))
        continue;
      if (uses_[b] > blade.resharpenings) continue;
      const std::pair<int, int> rank{uses_[b], had_[{int(b), levels}]};
      if (rank < least) {
        best.clear();
        least = rank;
      }
      if (rank == least) best.push_back(int(b));
    }
    if (best.empty()) return -1;
    const int chosen = best[random_.below(best.size())];
    ++uses_[std::size_t(chosen)];
    ++had_[{chosen, levels}];
    return chosen;
  }
  [[nodiscard]] int uses(int blade) const { return uses_[std::size_t(blade)]; }
  void reseed(stats::Random random) { random_ = random; }

 private:
  const TrialPlan& plan_;
  std::vector<int> uses_;
  std::map<std::pair<int, Combination>, int> had_;
  stats::Random random_;
};

/// Days, starting times and rests, run after run.
void time_table(const TrialPlan& plan, RunSheet& sheet) {
  const auto& rates = plan.rates;
  const double day_minutes = rates.hours_a_day * 60, without = run_minutes(plan);
  double used = 0;
  // Minutes of cutting since the last rest, and when it ended today: of each person. Whoever did
  // not cut for as long as a rest lasts has rested.
  struct Strain {
    double cutting_min = 0, until_min = 0;
  };
  std::map<std::string, Strain> strains;
  int day = 1;
  std::string block;
  bool overfull = false;
  for (auto& run : sheet.runs) {
    const bool new_block_day =
        plan.blocks.by == BlockBy::day && run.block != block && run.order > 1;
    double rests = 0;
    const auto play = [&](double since) {
      run.rest_after_cuts.clear();
      const double per_rest = rates.rest_after_minutes * 60 / std::max(1e-9, rates.seconds_per_cut);
      double due = (rates.rest_after_minutes - since) * 60 / std::max(1e-9, rates.seconds_per_cut);
      const double last = sheet.checkpoints.empty() ? 0 : double(sheet.checkpoints.back());
      for (; due < last && run.rest_after_cuts.size() < 1000; due += per_rest) {
        // At a checkpoint where one is near, so that the rest falls between blocks of cuts.
        std::int64_t at = std::int64_t(due);
        for (const auto cuts : sheet.checkpoints)
          if (cuts > 0 && double(cuts) <= due && double(cuts) >= due - 0.35 * per_rest) at = cuts;
        if (run.rest_after_cuts.empty() || at > run.rest_after_cuts.back())
          run.rest_after_cuts.push_back(std::max<std::int64_t>(1, at));
        due = double(at);
      }
      rests = double(run.rest_after_cuts.size()) * rates.rest_minutes;
      const double from = run.rest_after_cuts.empty()
                              ? -since * 60 / std::max(1e-9, rates.seconds_per_cut)
                              : double(run.rest_after_cuts.back());
      return (last - from) * rates.seconds_per_cut / 60;
    };
    const Strain before = strains[run.by_operator];
    const bool rested =
        rates.rest_minutes > 0 && used - before.until_min >= rates.rest_minutes - 1e-9;
    double after = play(rested ? 0 : before.cutting_min);
    if ((used > 0 && used + without + rests > day_minutes + 1e-9) || new_block_day) {
      if (plan.blocks.by == BlockBy::day && !new_block_day) overfull = true;
      ++day;
      used = 0;
      strains.clear();
      after = play(0);
    }
    run.day = day;
    run.starts_at_min = used;
    run.minutes = without + rests;
    used += run.minutes;
    strains[run.by_operator] = {after, used};
    block = run.block;
  }
  sheet.days = sheet.runs.empty() ? 0 : day;
  if (overfull)
    sheet.notes.emplace_back(
        said("A block is longer than a working day: its runs spill into the next day, and day and "
             "block are no longer the same."));
  if (!sheet.runs.empty() && sheet.runs.front().minutes > day_minutes)
    sheet.notes.push_back(said("One run takes {minutes} h, more than the {hours_a_day} h of a day.",
                               {{"minutes", print_number(sheet.runs.front().minutes / 60, 2)},
                                {"hours_a_day", print_number(rates.hours_a_day, 2)}}));
}

}  // namespace

Checked<RunSheet> run_sheet(const TrialPlan& plan, const PlanDesign& design,
                            const stats::Work& work) {
  RunSheet sheet;
  sheet.checkpoints = checkpoints_of(plan.checkpoints);
  std::vector<std::vector<Combination>> parts(1);
  for (const auto& candidate : design.candidates)
    parts[0].insert(parts[0].end(), std::size_t(candidate.count), candidate.levels);
  const auto more = extend_design(plan, design, work);
  if (!more) return more.refusal();
  parts.insert(parts.end(), more->begin(), more->end());

  std::set<std::string> taken;
  stats::Random code_random = stream(plan, 0, Purpose::codes);
  BladeUse blade_use(plan, stream(plan, 0, Purpose::blades));
  std::size_t blocks_so_far = 0;
  for (int part = 0; part < int(parts.size()); ++part) {
    if (work.stop.stop_requested()) return Refusal{said("stopped: there is no sheet")};
    auto blocks = blocks_for(plan, parts[std::size_t(part)], part, blocks_so_far);
    if (!blocks) return blocks.refusal();
    std::vector<Block> list = *blocks;
    blocks_so_far += list.size();
    deal_runs(plan, parts[std::size_t(part)], list, stream(plan, part, Purpose::deal));
    stats::Random order_random = stream(plan, part, Purpose::order),
                  operator_random = stream(plan, part, Purpose::operators);
    blade_use.reseed(stream(plan, part, Purpose::blades));
    for (auto& block : list) {
      shuffle(block.runs, order_random);
      std::vector<std::string> turns;
      while (!plan.operators.empty() && turns.size() < block.runs.size()) {
        auto once = plan.operators;
        shuffle(once, operator_random);
        turns.insert(turns.end(), once.begin(), once.end());
      }
      for (std::size_t i = 0; i < block.runs.size(); ++i) {
        SheetRun run;
        run.order = int(sheet.runs.size()) + 1;
        run.code = blind_code(code_random, taken);
        run.block = block.name;
        run.part = part;
        run.levels = block.runs[i];
        if (!turns.empty())
          run.by_operator = plan.blocks.by == BlockBy::by_operator ? block.name : turns[i];
        if (!plan.blades.empty()) {
          const int blade =
              blade_use.next(run.levels, plan.blocks.by == BlockBy::blade ? block.name : "");
          if (blade < 0)
            return Refusal{said(
                "more runs than the blades and their resharpenings allow{is_to_take}",
                {{"is_to_take",
                  plan.blocks.by == BlockBy::blade
                      ? said(": {name} is to take {runs} runs",
                             {{"name", block.name}, {"runs", std::to_string(block.runs.size())}})
                      : std::string()}})};
          run.blade = plan.blades[std::size_t(blade)].name;
          run.blade_use = blade_use.uses(blade);
        }
        sheet.runs.push_back(std::move(run));
      }
    }
  }
  std::vector<Combination> all;
  std::vector<std::string> block_names;
  for (const auto& run : sheet.runs) {
    all.push_back(run.levels);
    block_names.push_back(run.block);
  }
  sheet.confounded = confounding_of(plan, all, block_names);
  time_table(plan, sheet);
  if (!plan.extensions.empty())
    sheet.notes.emplace_back(
        said("The extension comes after the runs before it: what changed in between is known by "
             "its blocks only, and no order before it was touched."));
  return sheet;
}

Checked<std::vector<Run>> planned_runs(const TrialPlan& plan, const RunSheet& sheet,
                                       const std::string& prefix) {
  std::vector<Run> runs;
  const int digits = sheet.runs.size() < 100 ? 2 : 4;
  for (const auto& row : sheet.runs) {
    auto facts = facts_of(plan, row.levels);
    if (!facts) return facts.refusal();
    Run run;
    run.facts = *facts;
    const std::string number = std::to_string(row.order);
    run.facts.name =
        plan.blind
            ? row.code
            : prefix + std::string(std::size_t(std::max(0, digits - int(number.size()))), '0') +
                  number;
    run.facts.blade = row.blade;
    run.facts.block = row.block;
    run.plan = {sheet.checkpoints, plan.checkpoints.readings_each};
    runs.push_back(std::move(run));
  }
  return runs;
}

PlanBudget budget_of(const TrialPlan& plan, const RunSheet& sheet,
                     const std::vector<RunEnd>& ends) {
  PlanBudget out;
  const auto& rates = plan.rates;
  const auto runs = std::int64_t(sheet.runs.size());
  double cuts = 0, checkpoints = 0, rests = 0;
  for (std::size_t r = 0; r < sheet.runs.size(); ++r) {
    std::int64_t before = 0;
    std::size_t rest = 0;
    const auto& rest_after = sheet.runs[r].rest_after_cuts;
    for (std::size_t c = 0; c < sheet.checkpoints.size(); ++c) {
      const double reached = ends.empty() ? 1 : ends[r].reached[c];
      cuts += reached * double(sheet.checkpoints[c] - before);
      checkpoints += reached;
      before = sheet.checkpoints[c];
      for (; rest < rest_after.size() && rest_after[rest] <= before; ++rest) rests += reached;
    }
    if (ends.empty()) rests += double(rest_after.size() - rest);
  }
  out.cuts = std::llround(cuts);
  out.readings = std::llround(checkpoints * plan.checkpoints.readings_each);
  out.medium_m = cuts * rates.medium_mm_per_cut * 1e-3 * (1 + rates.offcut_percent / 100);
  out.cutting_min = cuts * rates.seconds_per_cut / 60;
  out.reading_min = checkpoints * plan.checkpoints.readings_each * rates.seconds_per_reading / 60;
  out.cleaning_min = checkpoints * rates.minutes_per_checkpoint;
  out.sharpening_min = double(runs) * rates.minutes_per_sharpening;
  out.resting_min = rests * rates.rest_minutes;
  out.sharpenings = int(runs);
  std::map<std::string, std::size_t> place;
  for (const auto& run : sheet.runs) {
    const std::string steel = steel_of(plan, run.levels),
                      name =
                          run.blade.empty()
                              ? (steel.empty() ? said("one blade")
                                               : said("one blade of {steel}", {{"steel", steel}}))
                              : run.blade;
    const auto [found, fresh] = place.try_emplace(name, out.blades.size());
    if (fresh) out.blades.push_back({name, steel, 0, 0, 0});
    auto& use = out.blades[found->second];
    ++use.runs;
    use.metal_mm3 += rates.metal_mm3_per_sharpening;
  }
  for (const auto& blade : plan.blades) {
    if (const auto found = place.find(blade.name); found != place.end())
      out.blades[found->second].allowed = 1 + blade.resharpenings;
    else
      out.blades.push_back({blade.name, blade.steel, 0, 1 + blade.resharpenings, 0});
  }
  int used = 0;
  for (const auto& use : out.blades) used += use.runs > 0;
  out.resharpenings = int(runs) - used;
  out.metal_mm3 = double(runs) * rates.metal_mm3_per_sharpening;
  out.days = sheet.days;
  if (!rates.start_date.empty() && sheet.days > 0)
    out.finishes_on = working_date(rates.start_date, sheet.days, rates.days_a_week);
  return out;
}

}  // namespace bq::inline plan
