// Was the burr gone?
#include <algorithm>
#include <cmath>

#include "bluntness/life_model.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/answer_parts.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
namespace {

/// Edges with a burr left on against what clean edges of their kind make: the pattern without them,
/// and where they lie in it.
std::vector<std::string> against_clean(const AnswerSource& source,
                                       const std::vector<std::string>& early) {
  LifeTable clean;
  std::vector<const LifeRow*> with_burr;
  for (const auto& row : source.life->table.rows)
    if (std::find(early.begin(), early.end(), row.facts.name) == early.end())
      clean.rows.push_back(row);
    else
      with_burr.push_back(&row);
  const LifeSpec spec = terms_with_blades(clean);
  const auto model = clean.rows.empty() || spec.terms.empty() ? Checked<LifeModel>(Refusal{""})
                                                              : LifeModel::fit(clean, spec);
  std::vector<std::string> out;
  if (!model) return out;
  for (const auto* row : with_burr) {
    const Eigen::VectorXd at = model->row_of(row->facts);
    const double usual = std::exp(model->log_life(at).first),
                 least = std::exp(model->log_prediction_limit(at, 0.95));
    const bool more = row->cuts.censoring == Censoring::right;
    const double made = more                                     ? *row->cuts.low
                        : row->cuts.censoring == Censoring::left ? *row->cuts.high
                                                                 : *row->cuts.estimate;
    out.push_back(
        said("Against clean edges: {name} made {more_than}{made} cuts where a clean edge of its "
             "kind usually makes {usual} (at least {least}, 95 %): {less_than_chance}",
             {{"name", row->facts.name},
              {"more_than", more ? said("more than ") : ""},
              {"made", print_cuts(made)},
              {"usual", print_cuts(usual)},
              {"least", print_cuts(least)},
              {"less_than_chance",
               made < least && !more
                   ? said("less than chance explains.")
                   : said("the early fall cost no more life than runs differ by anyway.")}}));
  }
  return out;
}

}  // namespace

Answer burr(const AnswerSource& source) {
  Answer out;
  std::vector<std::string> early, looked;
  int fitted = 0;
  out.table.heads = {said("Run"),        said("Steel"),         said("Fresh"),
                     said("Early loss"), said("Over by, cuts"), said("Sharpening on record")};
  const std::vector<bool> of_work = of_this_work(source);
  for (std::size_t i = 0; i < source.fits->size(); ++i) {
    const RunFit& fit = (*source.fits)[i];
    if (!fit.curve || !of_work[i]) continue;
    ++fitted;
    out.runs.push_back(fit.run);
    PictureSeries line;
    line.name = fit.curve->early_collapse ? fit.run : "";
    line.steel = source.facts->runs[i].facts.steel;
    line.ink = !fit.curve->early_collapse;
    const double first = fit.curve->fit.curve.at(0), end = fit.table.last_cuts();
    for (int k = 0; k <= 30; ++k) {
      line.x.push_back(end * std::pow(double(k) / 30, 2));
      line.y.push_back(drawn_reading(fit, line.x.back()) / first);
      line.runs.push_back(fit.run);
    }
    out.picture.series.push_back(std::move(line));
    if (!fit.curve->early_collapse) continue;
    early.push_back(fit.run);
    const auto& p = fit.curve->fit.curve.parameters;
    const std::string start = start_line(*source.facts, i, source.shown);
    out.table.rows.push_back({fit.run, source.facts->runs[i].facts.steel,
                              print_reading(source, first),
                              "+" + print_number(100 * p[1] / p[0], 2) + " %", print_cuts(3 * p[2]),
                              start.empty() ? said("nothing on record") : start});
    out.table.runs.push_back(fit.run);
  }
  if (fitted == 0)
    return missing(said("Cannot tell yet: no run in this medium has a blunting curve."), true);
  out.answered = true;
  out.sentence =
      early.empty()
          ? said(
                "Nothing speaks against it: none of {fitted} lost its "
                "sharpness in a sudden first fall.",
                {{"fitted", count_of(std::size_t(fitted), to_be_said("run"), to_be_said("runs"))}})
          : said(
                "{early} fell in the first cuts as an edge with a burr left "
                "on does: look at the apex before the next sharpening.",
                {{"early", names_of(early)}});
  if (!early.empty())
    out.remarks.emplace_back(
        said("A fast first fall has two causes: a burr that bends over or breaks off, or teeth too "
             "fragile for the medium. Only a look under the lens tells them apart (Stones, On the "
             "edge?)."));
  if (!early.empty())
    for (const auto& line : against_clean(source, early)) out.remarks.push_back(line);
  out.remarks.emplace_back(said(
      "A run needs six checkpoints or more, early ones among them, for such a fall to be seen."));
  out.picture.x_label = "cuts";
  out.picture.y_label = said("reading over the fresh reading");
  out.formula = said(
      "A two-phase curve that leads the power curve by more than 6 in AICc, whose fast part is "
      "over within the first tenth of the cuts and costs at least half of the fresh reading.");
  out.method = said("Blunting curve of a run");
  return out;
}

}  // namespace bq::inline workflow::answer_parts
