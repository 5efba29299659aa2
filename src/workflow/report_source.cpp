#include "workflow/report_source.h"

#include "quantity/said.h"
#include "workflow/lens_study.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <sstream>

#include "quantity/number.h"
#include "report/picture_drawing.h"
#include "store/readings_export.h"
#include "store/workbook.h"
#include "workflow/gauge_table.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {
namespace {

constexpr double kWide_mm = 186, kTall_mm = 72, kLow_mm = 50;
constexpr double kPicture_mm = 110;
constexpr std::size_t kMostRanked = 15;

std::vector<std::string> ranking_heads(AngleConvention angles) {
  return {"",
          "Steel",
          said("Angle ° {angles}", {{"angles", words_of(angles)}}),
          "Finish µm",
          "Usual life, cuts",
          "95 % of the usual edge",
          "Next edge at least",
          "Force fresh N",
          "Force blunt N",
          "No damage in, cuts",
          "Touch-up, min",
          "Evidence"};
}

std::vector<std::string> ranking_row(const RankedEdge& edge, std::size_t place,
                                     AngleConvention angles) {
  return {std::to_string(place),
          edge.steel,
          print_angle_number(edge.angle_deg, angles),
          edge.finish_um ? print_number(*edge.finish_um, 3) : "",
          print_cuts(edge.life),
          said("{life_mean_low} to {life_mean_high}",
               {{"life_mean_low", print_cuts(edge.life_mean_low)},
                {"life_mean_high", print_cuts(edge.life_mean_high)}}),
          print_cuts(edge.life_low),
          edge.force_fresh_N ? print_number(*edge.force_fresh_N, 3) : said("not known"),
          edge.force_blunt_N ? print_number(*edge.force_blunt_N, 3) : said("not known"),
          edge.damage_rate_upper ? print_cuts(std::floor(1 / *edge.damage_rate_upper))
                                 : said("not known"),
          edge.resharpening ? print_number(edge.resharpening->minutes, 2) : said("not known"),
          edge.extrapolated ? "extrapolated"
          : edge.tested     ? "tested"
                            : "between"};
}

std::string work_in_words(const Recommendation& r) {
  if (r.work.size() == 1) return r.medium();
  std::string out;
  for (const auto& part : r.work)
    out += (out.empty() ? "" : ", ") + print_number(100 * part.share, 3) + " % " + part.medium;
  return out;
}

/// What whoever ordered the trial reads.
FirstPage first_page(const SourceResult& source, const TrialStudy& study,
                     const TrialStudyOptions& options, const std::string& limit) {
  FirstPage out;
  for (const auto& one : set_limits(options.limits)) out.limits.push_back(one.words);
  out.limits.push_back(
      said("blunt at {limit}{no_other_limit}",
           {{"limit", limit},
            {"no_other_limit", out.limits.empty() ? said("; no other limit was set") : ""}}));
  std::set<std::string> blades, operators;
  for (const auto& run : source.trial.runs) {
    if (!run.facts.blade.empty()) blades.insert(run.facts.blade);
    for (const auto& reading : run.readings)
      if (const std::string name(source.trial.labels.text(reading.by_operator)); !name.empty())
        operators.insert(name);
  }
  out.rests_on = {said(
      "{runs} runs{on_blades}, {reading_count} readings{by_operators}; every reading is attached, "
      "the answers to each question follow",
      {{"runs", std::to_string(source.trial.runs.size())},
       {"on_blades",
        blades.empty() ? ""
                       : said(" on {blades} blades", {{"blades", std::to_string(blades.size())}})},
       {"reading_count", std::to_string(source.trial.reading_count())},
       {"by_operators",
        operators.size() > 1
            ? said(" by {operators} operators", {{"operators", std::to_string(operators.size())}})
            : ""}})};
  if (!study.verdict.recommendation) return out;
  const Recommendation& r = *study.verdict.recommendation;
  out.rests_on.insert(out.rests_on.begin(),
                      said("cutting {work_in_words}", {{"work_in_words", work_in_words(r)}}));
  if (r.enough) out.sure = r.enough->sentence;
  for (const auto& objection : study.verdict.objections) out.against.push_back(objection.sentence);
  if (r.ranked.empty()) return out;
  const RankedEdge& e = r.ranked.front();
  out.edge = draw_apex(e.angle_deg, e.edge_deg);
  out.make.emplace_back("Steel", e.steel);
  if (e.finish_um) out.make.emplace_back("Finish", print_number(*e.finish_um, 3) + " µm");
  out.make.emplace_back("Usually lasts",
                        said("{life} cuts ({life_mean_low} to {life_mean_high}, 95 %)",
                             {{"life", print_cuts(e.life)},
                              {"life_mean_low", print_cuts(e.life_mean_low)},
                              {"life_mean_high", print_cuts(e.life_mean_high)}}));
  out.make.emplace_back("The next one", said("at least {life_low} cuts (95 %)",
                                             {{"life_low", print_cuts(e.life_low)}}));
  if (e.force_blunt_N)
    out.make.emplace_back(
        "Force of a cut",
        said("{fresh}{force_blunt_n} N when blunt (estimate)",
             {{"fresh", e.force_fresh_N
                            ? said("{force_fresh_n} N fresh, ",
                                   {{"force_fresh_n", print_number(*e.force_fresh_N, 3)}})
                            : ""},
              {"force_blunt_n", print_number(*e.force_blunt_N, 3)}}));
  if (e.damage_rate_upper)
    out.make.emplace_back(
        "Damage", said("at worst 1 in {damage_rate_upper} cuts (95 %; {seen_in_looks})",
                       {{"damage_rate_upper", print_cuts(std::floor(1 / *e.damage_rate_upper))},
                        {"seen_in_looks", seen_in_looks(e.damage_seen, e.damage_looks)}}));
  if (e.resharpening)
    out.make.emplace_back(
        "A touch-up takes about",
        said("{minutes} min (estimate)", {{"minutes", print_number(e.resharpening->minutes, 2)}}));
  return out;
}

}  // namespace

Picture trade_off_picture(const Verdict& verdict, AngleConvention angles) {
  Picture out;
  if (!verdict.recommendation) return out;
  const auto& ranked = verdict.recommendation->ranked;
  const bool force = std::any_of(ranked.begin(), ranked.end(),
                                 [](const RankedEdge& e) { return e.force_N().has_value(); });
  // Without strokes the picture is life against angle: the other thing that can be chosen.
  out.x_label = force ? said("mean force of a cut, N (estimate)")
                      : said("apex angle, ° {angles}", {{"angles", words_of(angles)}});
  out.y_label = said("next edge lasts at least, cuts");
  out.y_log = true;
  const auto x = [&](const RankedEdge& e) {
    return force                                  ? e.force_N().value_or(0)
           : angles == AngleConvention::inclusive ? 2 * e.angle_deg
                                                  : e.angle_deg;
  };
  std::vector<std::string> steels;
  for (const auto& e : ranked)
    if (std::find(steels.begin(), steels.end(), e.steel) == steels.end()) steels.push_back(e.steel);
  std::sort(steels.begin(), steels.end());
  for (const auto& steel : steels) {
    PictureSeries points;
    points.kind = PictureSeries::Kind::points;
    points.name = points.steel = steel;
    for (const auto& e : ranked)
      if (e.steel == steel && (!force || e.force_N())) {
        points.x.push_back(x(e));
        points.y.push_back(e.life_low);

        points.runs.push_back(name_of(e, angles));
      }
    out.series.push_back(std::move(points));
  }
  PictureSeries front;
  front.name = said("no edge is better in both");
  front.ink = true;
  std::vector<const RankedEdge*> sorted;
  for (const auto& e : ranked)
    if (!force || e.force_N()) sorted.push_back(&e);
  std::stable_sort(sorted.begin(), sorted.end(), [&](const auto* a, const auto* b) {
    return x(*a) < x(*b) || (x(*a) == x(*b) && a->life_low > b->life_low);
  });
  double best = 0;
  for (const auto* e : sorted)
    if (force && e->life_low > best) {
      best = e->life_low;
      front.x.push_back(x(*e));
      front.y.push_back(best);
    }
  if (front.x.size() > 1) out.series.push_back(std::move(front));
  return out;
}

Checked<TrialStudy> study_trial(const SourceResult& source, const std::vector<RunFit>& fits,
                                const TrialStudyOptions& options) {
  if (source.trial.reading_count() == 0) return Refusal{said("there are no readings yet")};
  const std::string typed = !options.threshold.empty()          ? options.threshold
                            : !options.limits.threshold.empty() ? options.limits.threshold
                                                                : source.threshold;
  const auto threshold = parse_threshold(typed, source.trial.unit(), fits, true);
  if (!threshold) return threshold.refusal();
  TrialStudy out{*threshold, {}, {}, {}, steels_of(source.trial)};
  const double value = convert(threshold->value, threshold->unit, source.trial.unit());
  LifeQuestion question;
  question.threshold = value;
  question.medium = options.limits.limits.mix.empty() ? options.limits.limits.medium
                                                      : options.limits.limits.mix.front().medium;
  out.life = find_life(source.trial, fits, question);
  out.verdict = find_verdict(
      {&source.trial, &fits, source.sessions, source.section_questions},
      {value, options.limits.limits, options.limits.wishes, options.limits.stones, options.angles});
  AnswerSource answers;
  answers.facts = &source.trial;
  answers.fits = &fits;
  answers.life = &out.life;
  answers.gauge_readings = gauge_readings_of(source.gauge_study, source.trial);
  answers.sessions = source.sessions;
  answers.section_questions = source.section_questions;
  answers.check_limit_percent = source.check_limit_percent;
  answers.angles = options.angles;
  answers.shown = source.trial.unit();
  answers.bootstrap_refits = options.bootstrap_refits;
  answers.workers = options.workers;
  answers.stop = options.stop;
  for (int i = 0; i < kQuestions; ++i) out.answers.push_back(answer(Question(i), answers));
  return out;
}

TrialReport trial_report(const SourceResult& source, const TrialStudy& study,
                         const TrialStudyOptions& options, const std::string& date) {
  TrialReport out;
  out.title = source.trial.title.empty() ? said("Trial") : source.trial.title;
  out.date = date;
  const std::string limit = print_measure(study.threshold.value, study.threshold.unit, 3);
  out.work = said(
      "{runs} runs, {reading_count} readings. An edge counts as blunt at {limit}. Angles {angles}.",
      {{"runs", std::to_string(source.trial.runs.size())},
       {"reading_count", std::to_string(source.trial.reading_count())},
       {"limit", limit},
       {"angles", std::string(name_of(options.angles))}});
  // What speaks against it stands below the sentence.
  out.verdict = verdict_sentence(study.verdict, limit, options.angles, false);
  out.first = first_page(source, study, options, limit);
  if (study.verdict.recommendation) {
    const Recommendation& r = *study.verdict.recommendation;
    out.work += said(" Work: {work_in_words}.", {{"work_in_words", work_in_words(r)}});
    if (!r.ranked.empty()) out.reasons = r.ranked.front().reasons;
    for (const auto& remark : r.remarks) out.reasons.push_back(remark);
    if (const auto& p = study.verdict.prospect)
      out.reasons.push_back(
          said("touch up every {interval_cuts} cuts; a blade gives about "
               "{cuts_in_all}{cuts_and_more} (estimate, {usable_mm} mm usable height)",
               {{"interval_cuts", print_cuts(p->interval_cuts)},
                {"cuts_in_all", print_about(p->cuts_in_all)},
                {"cuts_and_more", p->more ? said(" cuts and more") : said(" cuts in all")},
                {"usable_mm", print_number(p->usable_mm, 2)}}));
    out.rule = r.rule;
    out.ranking.heads = ranking_heads(options.angles);
    for (std::size_t i = 0; i < r.ranked.size() && i < kMostRanked; ++i)
      out.ranking.rows.push_back(ranking_row(r.ranked[i], i + 1, options.angles));
    if (r.ranked.size() > kMostRanked)
      out.rule += said(" The first {most_ranked} of {ranked} are shown.",
                       {{"most_ranked", std::to_string(kMostRanked)},
                        {"ranked", std::to_string(r.ranked.size())}});
    out.sensitivity.insert(out.sensitivity.end(), r.sensitivity.begin(), r.sensitivity.end());
    if (r.next_best && r.next_best->helps())
      out.sensitivity.push_back(said(
          "Next best run: {steel} at {angle_deg}{number}: {reason}.",
          {{"steel", r.next_best->steel},
           {"angle_deg", print_angle(r.next_best->angle_deg, options.angles)},
           {"number",
            r.next_best->finish_um ? ", " + print_number(*r.next_best->finish_um, 3) + " µm" : ""},
           {"reason", r.next_best->reason}}));
    const Picture picture = trade_off_picture(study.verdict, options.angles);
    if (!picture.empty() && !r.ranked.empty())
      out.trade_off = draw_picture(picture, study.steels, kWide_mm, kTall_mm);
  }
  for (const auto& school : study.verdict.schools)
    out.schools.emplace_back(
        school.matter,
        std::vector<std::string>{said("One school: {school}", {{"school", school.first}}),
                                 said("The other: {school}", {{"school", school.second}}),
                                 said("This bench: {evidence}", {{"evidence", school.evidence}})});
  std::string unanswered;
  for (const auto& one : study.answers) {
    const std::string words(words_of(one.question));
    if (!one.answered) {
      unanswered += (unanswered.empty() ? "" : " ") + words + " " + one.sentence;
      continue;
    }
    ReportPart part;
    part.question = words;
    part.sentence = one.sentence;
    part.remarks = one.remarks;
    if (!one.picture.empty())
      part.picture = draw_picture(one.picture, study.steels, kWide_mm, kTall_mm);
    if (!one.picture.empty())
      part.low_picture = draw_picture(one.picture, study.steels, kWide_mm, kLow_mm);
    part.table = one.table;
    if (!one.formula.empty())
      part.computed =
          one.formula + (one.runs.empty() ? ""
                                          : said(" Data used: {runs} runs.",
                                                 {{"runs", std::to_string(one.runs.size())}}));
    out.parts.push_back(std::move(part));
  }
  const auto photographs = report_pictures(source.trial);
  for (const auto* m : photographs) {
    const auto small = source.pictures.find(m->id);
    if (small == source.pictures.end() || small->second.png.empty()) {
      out.micrographs_note = said("Pictures that have not been opened on Lens yet are not shown.");
      continue;
    }
    std::string caption = describe(*m) + ".";
    for (std::size_t i = 0; i < m->measures.size(); ++i)
      caption += " " + std::to_string(i + 1) + ": " + std::string(name_of(m->measures[i].kind)) +
                 " " + print_measure(m->measures[i], scale_of(source.trial, *m)) + ".";
    out.micrographs.emplace_back(
        draw_micrograph(figure_of(source.trial, *m, small->second), kPicture_mm),
        said("{caption} ± is 95 %.", {{"caption", caption}}));
  }
  if (const std::size_t measured = report_pictures(source.trial, 1'000'000).size();
      measured > photographs.size())
    out.micrographs_note += said("{separator}The newest of {measured} measured pictures are shown.",
                                 {{"separator", out.micrographs_note.empty() ? "" : " "},
                                  {"measured", std::to_string(measured)}});
  out.methods = {
      "Every fit is least squares on the logarithm of the reading; a life is where the fitted "
      "curve reaches the limit, never beyond the last checkpoint. A run that did not reach it "
      "is carried on to it by the shape of the others' curves or counts as \"more than\", never as "
      "failed "
      "and never left out.",
      "The run is the unit of replication. Intervals are 95 %; \"next edge at least\" is a "
      "one-sided 95 % prediction limit for a single edge, with the scatter from run to run in it; "
      "\"usual edge\" is the mean one. What lies outside the tested angles is marked.",
      "Force, stress, touch-up times and metal are estimates from models with round figures. "
      "Damage bounds are exact one-sided 95 % limits for the use that was looked at.",
      "Suspect readings are flagged and stay in the fits; excluded ones are in the attached table "
      "with their reason."};
  if (!unanswered.empty())
    out.methods.push_back(
        said("Not answered by this trial: {unanswered}", {{"unanswered", unanswered}}));
  out.cautions = {
      "Sharp edges injure. Try a recommended edge in the roughest use with a cut-resistant glove "
      "on the off hand, cutting away from the body, before many are made.",
      "Local rules, workplace procedure and trained persons come before this report."};
  std::ostringstream csv;
  write_readings_csv(source.trial, csv);
  out.csv = csv.str();
  return out;
}

std::vector<WorkbookSheet> trial_workbook(const SourceResult& source,
                                          const std::vector<RunFit>& fits, const TrialStudy& study,
                                          const TrialStudyOptions& options) {
  std::vector<WorkbookSheet> out;
  const auto number = [](const std::optional<double>& value) {
    return value && std::isfinite(*value) ? WorkbookCell(*value) : WorkbookCell(std::string());
  };
  WorkbookSheet verdict{
      "Verdict",
      {verdict_sentence(study.verdict,
                        print_measure(study.threshold.value, study.threshold.unit, 3),
                        options.angles)},
      {"place", "steel", "angle per side °", "edge bevel per side °", "finish µm",
       "usual life cuts", "low 95 %", "high 95 %", "next edge at least", "force fresh N",
       "force blunt N", "damage per cut, upper 95 %", "touch-up min", "touch-up mm³", "tested",
       "extrapolated", "evidence runs"},
      {}};
  if (const auto& r = study.verdict.recommendation) {
    verdict.words.push_back(r->rule);
    for (std::size_t i = 0; i < r->ranked.size(); ++i) {
      const RankedEdge& e = r->ranked[i];
      std::string runs;
      for (const auto& run : e.evidence_runs) runs += (runs.empty() ? "" : ", ") + run;
      verdict.rows.push_back(
          {double(i + 1), e.steel, e.angle_deg, number(e.edge_deg), number(e.finish_um), e.life,
           e.life_mean_low, e.life_mean_high, e.life_low, number(e.force_fresh_N),
           number(e.force_blunt_N), number(e.damage_rate_upper),
           number(e.resharpening ? std::optional(e.resharpening->minutes) : std::nullopt),
           number(e.resharpening ? std::optional(e.resharpening->metal_mm3) : std::nullopt),
           std::string(e.tested ? said("yes") : said("no")),
           std::string(e.extrapolated ? said("yes") : said("no")), runs});
    }
  }
  out.push_back(std::move(verdict));
  WorkbookSheet answers{
      "Answers", {}, {"question", "answer", "answered", "besides", "computed"}, {}};
  for (const auto& one : study.answers) {
    std::string remarks;
    for (const auto& remark : one.remarks) remarks += (remarks.empty() ? "" : " ") + remark;
    answers.rows.push_back({std::string(words_of(one.question)), one.sentence,
                            std::string(one.answered ? said("yes") : said("no")), remarks,
                            one.formula});
  }
  out.push_back(std::move(answers));
  const std::string unit(sign_of(source.trial.unit()));
  WorkbookSheet runs{
      "Runs",
      {said("Blunt at {threshold}",
            {{"threshold", print_measure(study.threshold.value, study.threshold.unit, 3)}})},
      {"run", "blade", "steel", "edge angle per side °", "apex angle per side °", "finish µm",
       "medium", "block", "curve", "fresh " + unit, "sigma log", "cuts to limit", "low 95 %",
       "high 95 %", "censored", "remark"},
      {}};
  const double limit = convert(study.threshold.value, study.threshold.unit, source.trial.unit());
  for (std::size_t i = 0; i < fits.size(); ++i) {
    const RunFacts& f = source.trial.runs[i].facts;
    std::vector<WorkbookCell> row{
        f.name,
        f.blade,
        f.steel,
        number(f.geometry ? std::optional(f.geometry->edge().equivalent_deg()) : std::nullopt),
        number(f.geometry ? std::optional(f.geometry->apex().equivalent_deg()) : std::nullopt),
        number(f.finish ? std::optional(f.finish->mean_um()) : std::nullopt),
        f.medium,
        f.block};
    if (fits[i].curve) {
      const CurveFit& fit = fits[i].curve->fit;
      const auto cuts = cuts_to_threshold(fits[i], limit);
      row.insert(row.end(), {curve_name(fits[i]), fit.curve.at(0), fit.sigma_log,
                             number(cuts.estimate), number(cuts.low), number(cuts.high),
                             std::string(cuts.censoring == Censoring::right  ? said("at least")
                                         : cuts.censoring == Censoring::left ? said("less than")
                                                                             : said("no")),
                             fit_remarks(fits[i])});
    } else {
      row.resize(15);
      row.emplace_back(fits[i].why_not);
    }
    runs.rows.push_back(std::move(row));
  }
  out.push_back(std::move(runs));
  WorkbookSheet readings{
      "Readings",
      {},
      {"run", "cuts", "reading", "unit", "station", "operator", "excluded", "reason"},
      {}};
  for (const auto& run : source.trial.runs)
    for (const auto& r : run.readings)
      readings.rows.push_back({run.facts.name, double(r.cuts), r.value,
                               std::string(sign_of(r.unit)), source.trial.labels.text(r.station),
                               source.trial.labels.text(r.by_operator), r.excluded ? 1.0 : 0.0,
                               source.trial.labels.text(r.reason)});
  out.push_back(std::move(readings));
  return out;
}

}  // namespace bq::inline workflow
