#include "trial/run_plan.h"

#include "quantity/said.h"
#include "trial/bench_stage.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace bq::inline trial {

namespace {

/// How many readings count at so many cuts, up to `most`. The latest lie at the end, so that a run
/// of thousands is not gone through by everybody who asks what its state is.
int kept_at(const Run& run, std::int64_t cuts, int most) {
  int kept = 0;
  for (auto r = run.readings.rbegin(); r != run.readings.rend() && kept < most; ++r)
    kept += r->cuts == cuts && !r->excluded;
  return kept;
}

}  // namespace

Step next_step(const Run& run) {
  if (is_stopped(run))
    return {StepKind::finished, run.cuts_done, 0, 0, run.plan.checkpoints.size()};
  if (run.plan.checkpoints.empty()) {
    Step step;
    step.kind = run.readings.empty() ? StepKind::read : StepKind::finished;
    step.reading_number = 1;
    return step;
  }
  for (std::size_t i = 0; i < run.plan.checkpoints.size(); ++i) {
    const std::int64_t at = run.plan.checkpoints[i];
    // A checkpoint the run has already passed cannot be read any more.
    if (run.cuts_done > at) continue;
    const int kept = kept_at(run, at, run.plan.readings_each);
    if (kept >= run.plan.readings_each) continue;
    if (run.cuts_done < at) return {StepKind::cut, at, at - run.cuts_done, 0, i};
    return {StepKind::read, at, 0, kept + 1, i};
  }
  return {StepKind::finished, run.cuts_done, 0, 0, run.plan.checkpoints.size()};
}

std::vector<std::int64_t> checkpoint_ladder(std::int64_t last, int steps) {
  constexpr std::array<double, 11> figures{1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10};
  std::vector<std::int64_t> ladder{0};
  const double first = std::max(1.0, double(last) / std::pow(2.0, steps - 1));
  for (int i = 0; i < steps - 1; ++i) {
    const double exact = first * std::pow(double(last) / first, double(i) / std::max(1, steps - 1));
    const double decade = std::pow(10.0, std::floor(std::log10(exact)));
    double best = figures[0];
    for (const double figure : figures)
      if (std::fabs(std::log(figure * decade / exact)) < std::fabs(std::log(best * decade / exact)))
        best = figure;
    const auto rounded = std::int64_t(std::llround(best * decade));
    if (rounded > ladder.back() && rounded < last) ladder.push_back(rounded);
  }
  ladder.push_back(last);
  return ladder;
}

Checked<std::vector<std::int64_t>> parse_checkpoints(std::string_view text) {
  std::vector<std::int64_t> out;
  std::size_t i = 0;
  while (i < text.size()) {
    if (text[i] == ' ' || text[i] == ',' || text[i] == ';' || text[i] == '\t') {
      ++i;
      continue;
    }
    std::int64_t value = 0;
    const auto [end, error] = std::from_chars(text.data() + i, text.data() + text.size(), value);
    if (error != std::errc() || value < 0)
      return Refusal{said("checkpoints are whole numbers of cuts, 0 or more"), i};
    if (!out.empty() && value <= out.back())
      return Refusal{said("checkpoints must rise from one to the next"), i};
    out.push_back(value);
    i = std::size_t(end - text.data());
    // "1,500" between blanks may be one number; "0,100,200" is none.
    const std::size_t word = text.find_last_of(" ;\t", i - 1) + 1,
                      stop = std::min(text.find_first_of(" ;\t", i), text.size());
    const std::string_view whole = text.substr(word, stop - word);
    if (std::count(whole.begin(), whole.end(), ',') == 1 && whole.back() != ',' &&
        whole.size() > 4 && whole[whole.size() - 4] == ',' && whole.size() <= 7 &&
        whole.front() != '0' && whole.front() != ',')
      return Refusal{
          said("\"{whole}\" could be one number or two; put blanks between the checkpoints",
               {{"whole", std::string(whole)}}),
          word};
    if (out.size() > 200) return Refusal{said("more than 200 checkpoints"), i};
  }
  return out;
}

std::string print_checkpoints(const std::vector<std::int64_t>& checkpoints) {
  std::string text;
  for (const auto cuts : checkpoints) text += (text.empty() ? "" : " ") + std::to_string(cuts);
  return text;
}

}  // namespace bq::inline trial
