// Force strokes and looks of a made-up trial, from the same made-up edges that gave its readings.
#include <algorithm>
#include <cmath>

#include "bluntness/stroke_force.h"
#include "edge/parting.h"
#include "rehearsal/virtual_damage.h"
#include "store/json_fields.h"
#include "store/project_file.h"
#include "trial/checkpoints.h"
#include "trial/making.h"
#include "workflow/demo_project.h"
#include "workflow/edge_costs.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {
namespace {

/// A stroke at 1 kHz: rest, entry over 40 ms, 0.5 s of cutting with the medium's texture, exit,
/// rest; its mean over the cut is `mean_N`.
ForceStroke stroke_of(double mean_N, stats::Random& random) {
  ForceStroke out;
  const auto noise = [&] { return 0.03 * random.normal(); };
  double texture = 0;
  for (int i = 0; i < 60; ++i) out.force_N.push_back(float(noise()));
  for (int i = 0; i < 580; ++i) {
    texture = 0.97 * texture + 0.012 * random.normal();
    const double rise = std::min({1.0, i / 40.0, (580 - i) / 40.0});
    out.force_N.push_back(float(mean_N * 1.045 * rise * (1 + texture) + noise()));
  }
  for (int i = 0; i < 60; ++i) out.force_N.push_back(float(noise()));
  for (float& force : out.force_N) force = std::round(force * 100) / 100;
  return out;
}

/// When a run stood at a count of cuts: forty minutes after its sharpening began, ten cuts a
/// minute; `otherwise` where no sharpening of it is on record.
std::string moment_of(const Trial& trial, std::size_t run, std::int64_t cuts,
                      const std::string& otherwise) {
  const auto own = making_of_run(trial, run);
  if (!own || !own->making.sharpening) return otherwise;
  const std::string& begun = trial.blades[own->blade].records[*own->making.sharpening].made_at;
  if (begun.size() < 16) return otherwise;
  const int minutes =
      std::stoi(begun.substr(11, 2)) * 60 + std::stoi(begun.substr(14, 2)) + 40 + int(cuts / 10);
  const int in_day = std::min(minutes, 23 * 60 + 59);
  const auto two = [](int n) { return (n < 10 ? "0" : "") + std::to_string(n); };
  return begun.substr(0, 11) + two(in_day / 60) + ":" + two(in_day % 60) + ":00Z";
}

bool named(const std::string& run, const JsonFields& f) {
  for (const auto& prefix : f.list("runs"))
    if (prefix.is_string() && run.starts_with(prefix.get<std::string>())) return true;
  return false;
}

void keep_strokes(const JsonFields& f, const Trial& trial, ProjectFile& project) {
  const double severing = f.number("severing_N_per_gf", 0, 1e3), scatter = f.number("sd", 0, 1);
  PartingOptions wedge;
  wedge.stiffness_N_per_mm3 = f.number("stiffness_N_per_mm3", 0, 1e3);
  const double engaged = f.number("engaged_mm", 1, 1e4);
  StrokeLimits limits;
  limits.stroke_mm = f.number("stroke_mm", 1, 1e4);
  const auto seed = std::uint64_t(f.number("seed", 0, 1e9));
  for (std::size_t r = 0; r < trial.runs.size(); ++r) {
    const Run& run = trial.runs[r];
    if (!named(run.facts.name, f) || !run.facts.geometry) continue;
    stats::Random random(seed, r + 1);
    const double parting =
        engaged * parting_force_N_per_mm(*make_section(*section_with(
                                             trial, run.facts.steel, run.facts.geometry->edge(),
                                             run.facts.geometry->micro(), run.facts.blade)),
                                         wedge)
                      .value();
    for (const auto& checkpoint : checkpoints_of(run, Unit::gf)) {
      const bool wanted =
          std::any_of(f.list("at").begin(), f.list("at").end(), [&](const auto& at) {
            return at.is_number() && at.template get<std::int64_t>() == checkpoint.cuts;
          });
      if (!wanted) continue;
      ForceStroke stroke = stroke_of(
          (severing * checkpoint.median() + parting) * std::exp(scatter * random.normal()), random);
      const auto figures = stroke_figures(stroke, limits);
      if (!figures) continue;
      project.put_stroke(run.id, stroke);
      BenchEvent event{0, moment_of(trial, r, checkpoint.cuts, f.text("made_at")), checkpoint.cuts,
                       "operator B",
                       StrokeEvent{stroke.id, figures->peak_N, figures->mean_N, figures->work_J,
                                   figures->troubles.empty() ? "" : figures->troubles.front()}};
      project.put_event(run.id, event);
    }
  }
}

void keep_looks(const JsonFields& f, const Trial& trial, ProjectFile& project) {
  const VirtualSideLoad load{f.number("median_N_per_mm", 1e-3, 1e3), f.number("sd_log", 0.01, 3),
                             f.number("depth_mm", 1e-3, 10)};
  const auto seed = std::uint64_t(f.number("seed", 0, 1e9));
  for (std::size_t r = 0; r < trial.runs.size(); ++r) {
    const Run& run = trial.runs[r];
    const SteelCard* card = trial.steel_card(run.facts.steel);
    const auto limit = card ? leading_limit(strength_of(*card)) : std::nullopt;
    if (!named(run.facts.name, f) || !run.facts.geometry || !limit || run.cuts_done == 0) continue;
    stats::Random random(seed, r + 1);
    BenchEvent look{0, moment_of(trial, r, run.cuts_done, f.text("made_at")), run.cuts_done,
                    "operator A",
                    look_after(load, run.facts.geometry->apex().equivalent_deg(), limit->limit_MPa,
                               card->toughness == "brittle", run.cuts_done, random)};
    project.put_event(run.id, look);
  }
}

}  // namespace

void keep_demo_bench(const JsonFields& file, ProjectFile& project) {
  const Trial trial = project.load();
  if (file.has("strokes")) keep_strokes(file.object("strokes"), trial, project);
  if (file.has("looks")) keep_looks(file.object("looks"), trial, project);
}

}  // namespace bq::inline workflow
