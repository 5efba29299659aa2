#pragma once

#include <functional>

#include "workflow/answers.h"

/// Inside of answers*.cpp.
namespace bq::inline workflow::answer_parts {

Answer curves(const AnswerSource& source);
Answer angle(const AnswerSource& source);
Answer matching(const AnswerSource& source);
Answer steel(const AnswerSource& source);
Answer finish(const AnswerSource& source);
Answer shares(const AnswerSource& source);
Answer limit(const AnswerSource& source);
Answer trust(const AnswerSource& source);
Answer readings(const AnswerSource& source);
Answer gauge(const AnswerSource& source);
Answer burr(const AnswerSource& source);
Answer strop(const AnswerSource& source);
Answer chips(const AnswerSource& source);
Answer force(const AnswerSource& source);
Answer starts(const AnswerSource& source);
Answer pictures(const AnswerSource& source);
Answer along(const AnswerSource& source);
Answer behind(const AnswerSource& source);
Answer touch_up(const AnswerSource& source);
Answer circumstances(const AnswerSource& source);

/// For each run whether it did the work that is asked about.
std::vector<bool> of_this_work(const AnswerSource& source);

/// The runs that the life model rests on become the answer's.
void use_rows(Answer& out, const AnswerSource& source);
/// Why the life model cannot answer; empty: it can. `term`: what it must have, called `what` in
/// words.
std::optional<Answer> no_model(const AnswerSource& source, const char* term, const char* what);
/// Not answered: what is missing, and whether planning helps.
Answer missing(const std::string& sentence, bool plan_helps);
/// "1.4 (1.1 to 1.8)"; ends that the data do not bound are "not bounded".
std::string with_interval(double value, std::optional<double> low, std::optional<double> high);
/// A reading of the trial's unit in the shown unit, with its sign.
std::string print_reading(const AnswerSource& source, double value);
double shown(const AnswerSource& source, double value);
/// "0.032", "< 0.0001".
std::string print_p(double p);
/// "3 runs", "1 run".
std::string count_of(std::size_t n, const char* one, const char* many);
/// "C01, C02 and 3 more".
std::string names_of(const std::vector<std::string>& names, std::size_t most = 6);
/// Degrees per side in the convention: a number, and the axis's label.
double shown_angle(const AnswerSource& source, double per_side_deg);
std::string angle_label(const AnswerSource& source);
std::string life_label(const AnswerSource& source);
/// Runs as points of life against angle, by steel, with those that never reached the limit as
/// arrows.
std::vector<PictureSeries> run_points(
    const AnswerSource& source,
    const std::function<std::optional<double>(const RunFacts&)>& against);
/// The apex angle in the convention, for run_points.
std::optional<double> shown_apex(const AnswerSource& source, const RunFacts& facts);
/// What must be said of the life model: extrapolation, blades, censored runs.
std::vector<std::string> model_remarks(const AnswerSource& source);

inline constexpr const char* kLifeFormula =
    "ln(cuts to the limit) = constant + steel + slope × ln ½(tan left + tan right) + slope × ln "
    "finish + blade + run, by maximum likelihood; runs that never reached "
    "the limit are carried on to it by the shape of the others' curves, as far as that is known, "
    "or "
    "count as \"more than\" (log-normal accelerated failure time). Blades used again are "
    "a random effect; what differs only between blades is known from the "
    "blades, the rest from the runs (between–within degrees of freedom).";

}  // namespace bq::inline workflow::answer_parts
