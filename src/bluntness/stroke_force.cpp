#include "bluntness/stroke_force.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "trial/median.h"

namespace bq::inline bluntness {
namespace {

double median_between(const std::vector<double>& force, std::size_t from, std::size_t to) {
  return median_of({force.begin() + std::ptrdiff_t(from), force.begin() + std::ptrdiff_t(to)});
}

/// Centred mean over `half` samples to each side.
std::vector<double> smoothed(const std::vector<double>& force, std::size_t half) {
  std::vector<double> sums(force.size() + 1, 0), out(force.size());
  for (std::size_t i = 0; i < force.size(); ++i) sums[i + 1] = sums[i] + force[i];
  for (std::size_t i = 0; i < force.size(); ++i) {
    const std::size_t from = i > half ? i - half : 0, to = std::min(force.size(), i + half + 1);
    out[i] = (sums[to] - sums[from]) / double(to - from);
  }
  return out;
}

}  // namespace

Checked<StrokeFigures> stroke_figures(const ForceStroke& stroke, const StrokeLimits& limits) {
  if (stroke.force_N.size() < 20) return Refusal{said("The stroke has fewer than 20 samples.")};
  const std::vector<double> force(stroke.force_N.begin(), stroke.force_N.end());
  const std::vector<double> smooth =
      smoothed(force, std::size_t(std::max(1.0, stroke.rate_hz * 0.0025)));
  const auto top = std::size_t(std::max_element(smooth.begin(), smooth.end()) - smooth.begin());
  StrokeFigures out;
  // The first samples are what came before the cut; few there are where the cell starts with the
  // stroke.
  const std::size_t lead = std::max<std::size_t>(
      1,
      std::min<std::size_t>(std::size_t(stroke.rate_hz * 0.03), std::max<std::size_t>(top / 4, 1)));
  out.zero_N = median_between(force, 0, lead);
  out.peak_N = smooth[top] - out.zero_N;
  if (!(out.peak_N > 0)) return Refusal{said("No force rises above the zero.")};
  const double bar = out.zero_N + 0.1 * out.peak_N;
  out.from = top;
  while (out.from > 0 && smooth[out.from - 1] > bar) --out.from;
  out.to = top + 1;
  while (out.to < smooth.size() && smooth[out.to] > bar) ++out.to;
  double sum = 0;
  for (std::size_t i = out.from; i < out.to; ++i) sum += force[i] - out.zero_N;
  out.mean_N = sum / double(out.to - out.from);
  out.seconds = double(out.to - out.from) / stroke.rate_hz;
  out.work_J = out.mean_N * limits.stroke_mm * 1e-3;
  const auto rest = std::size_t(stroke.rate_hz * 0.03);
  const bool came_back = out.to + rest <= force.size();
  if (came_back)
    out.zero_drift_N = median_between(force, force.size() - rest, force.size()) - out.zero_N;

  if (stroke.cut_off || !came_back)
    out.troubles.emplace_back(said("it ends before the force came back"));
  if (out.seconds < limits.least_seconds)
    out.troubles.push_back(said("too short: {seconds} ms of cutting",
                                {{"seconds", print_number(1000 * out.seconds, 3)}}));
  if (stroke.capacity_N > 0) {
    const auto full = std::count_if(force.begin(), force.end(),
                                    [&](double f) { return f >= stroke.capacity_N * 0.999; });
    if (full > 0)
      out.troubles.push_back(said("saturated: the cell was at its end for {full} samples",
                                  {{"full", std::to_string(full)}}));
  }
  if (std::fabs(out.zero_drift_N) > limits.most_drift * out.peak_N)
    out.troubles.push_back(said("the zero drifted by {zero_drift_n} N over the stroke",
                                {{"zero_drift_n", print_number(out.zero_drift_N, 2)}}));
  if (stroke.lost > limits.most_lost * double(force.size()))
    out.troubles.push_back(
        said("{lost} samples were lost on the line", {{"lost", std::to_string(stroke.lost)}}));
  return out;
}

StrokeEvent stroke_event(const StrokeFigures& figures) {
  StrokeEvent out{0, figures.peak_N, figures.mean_N, figures.work_J, ""};
  for (const auto& trouble : figures.troubles)
    out.trouble += (out.trouble.empty() ? "" : "; ") + trouble;
  return out;
}

Checked<ForceSplit> split_force(const std::vector<StrokePoint>& points, double level) {
  std::map<std::string, std::vector<const StrokePoint*>> runs;
  for (const auto& point : points) runs[point.run].push_back(&point);
  if (runs.size() < 3)
    return Refusal{said("Strokes of at least three runs are needed; there are {runs}.",
                        {{"runs", std::to_string(runs.size())}})};
  std::vector<double> indices;
  for (const auto& [name, all] : runs) {
    const double index = all.front()->parting_index;
    if (std::none_of(indices.begin(), indices.end(), [&](double other) {
          return std::fabs(index - other) < 0.1 * std::max(index, other);
        }))
      indices.push_back(index);
  }
  if (indices.size() < 2)
    return Refusal{
        said("Strokes of at least two geometries that part the medium differently are needed.")};
  // s from what changes within a run.
  double sxx = 0, sxy = 0;
  struct Mean {
    double reading = 0, force = 0, index = 0;
  };
  std::vector<Mean> means;
  for (const auto& [name, all] : runs) {
    Mean mean;
    for (const auto* p : all) {
      mean.reading += p->reading / double(all.size());
      mean.force += p->mean_N / double(all.size());

      mean.index += p->parting_index / double(all.size());
    }
    for (const auto* p : all) {
      sxx += (p->reading - mean.reading) * (p->reading - mean.reading);

      sxy += (p->reading - mean.reading) * (p->mean_N - mean.force);
    }
    means.push_back(mean);
  }
  const double freedom = double(points.size()) - double(runs.size()) - 1;
  if (!(sxx > 0) || freedom < 1)
    return Refusal{
        said("Strokes at two checkpoints or more of the same runs are needed: only then the "
             "severing's part shows.")};
  ForceSplit out;
  out.severing_N_per_reading = sxy / sxx;
  double left = 0;
  std::size_t at = 0;
  for (const auto& [name, all] : runs) {
    for (const auto* p : all) {
      const double rest = p->mean_N - means[at].force -
                          out.severing_N_per_reading * (p->reading - means[at].reading);
      left += rest * rest;
    }
    ++at;
  }
  const double tail = 0.5 * (1 + level);
  const double s_se = std::sqrt(left / freedom / sxx), s_t = stats::t_quantile(tail, freedom);
  out.severing_low = out.severing_N_per_reading - s_t * s_se;
  out.severing_high = out.severing_N_per_reading + s_t * s_se;
  // K through the origin from what is left of each run.
  double ixx = 0, ixy = 0, ixr = 0;
  for (const auto& mean : means) {
    ixx += mean.index * mean.index;
    ixy += mean.index * (mean.force - out.severing_N_per_reading * mean.reading);
    ixr += mean.index * mean.reading;
  }
  out.stiffness_N_per_mm3 = ixy / ixx;
  double spread = 0;
  for (const auto& mean : means) {
    const double rest = mean.force - out.severing_N_per_reading * mean.reading -
                        out.stiffness_N_per_mm3 * mean.index;
    spread += rest * rest;
  }
  const double run_freedom = double(means.size()) - 1;
  out.run_sd_N = std::sqrt(spread / run_freedom);
  // The error of s is shared by all runs and comes on top.
  const double k_se =
      std::sqrt(spread / run_freedom / ixx + (ixr / ixx) * (ixr / ixx) * s_se * s_se);
  const double k_t = stats::t_quantile(tail, run_freedom);
  out.stiffness_low = out.stiffness_N_per_mm3 - k_t * k_se;
  out.stiffness_high = out.stiffness_N_per_mm3 + k_t * k_se;
  out.severing_se = s_se;
  out.stiffness_se = std::sqrt(spread / run_freedom / ixx);
  out.stiffness_by_severing = -ixr / ixx;
  out.runs = int(runs.size());
  out.points = int(points.size());
  out.geometries = int(indices.size());
  return out;
}

}  // namespace bq::inline bluntness
