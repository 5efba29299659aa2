#include "workflow/answers.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "quantity/number.h"
#include "quantity/said.h"
#include "quantity/wording.h"
#include "workflow/answer_parts.h"
#include "workflow/sentences.h"

namespace bq::inline workflow {

std::string words_of(Question question) {
  switch (question) {
    case Question::curves:
      return said("How does each edge blunt?");
    case Question::angle:
      return said("What does the angle do to life?");
    case Question::matching:
      return said("When do two steels last alike?");
    case Question::steel:
      return said("Which steel lasts?");
    case Question::finish:
      return said("Coarse or fine: which lasts?");
    case Question::shares:
      return said("What matters most here?");
    case Question::limit:
      return said("Does the answer hang on the limit?");
    case Question::readings:
      return said("Are the readings good enough?");
    case Question::gauge:
      return said("Is my gauge good enough?");
    case Question::trust:
      return said("Can I trust the pattern?");
    case Question::burr:
      return said("Was the burr gone?");
    case Question::strop:
      return said("Did the strop help?");
    case Question::chips:
      return said("Where does it start to chip?");
    case Question::force:
      return said("Sharper, yet harder to push?");
    case Question::starts:
      return said("Do the edges start alike?");
    case Question::pictures:
      return said("What do the pictures show?");
    case Question::along:
      return said("Where does it dull first?");
    case Question::behind:
      return said("Which bevel behind a micro-bevel?");
    case Question::touch_up:
      return said("Which blade is due next?");
    case Question::circumstances:
      return said("Did hand, batch or order matter?");
  }
  return "";
}

Trial for_answers(const Trial& trial) {
  Trial out = without_readings(trial);
  out.labels = trial.labels;
  out.shelf = trial.shelf;
  out.comparisons = trial.comparisons;
  out.gauge_checks = trial.gauge_checks;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    out.runs[i].events = trial.runs[i].events;
    std::set<std::int64_t> wanted{0};
    // The last checkpoint that was read place by place: where along the edge it dulled.
    std::int64_t last = 0;
    for (const auto& reading : trial.runs[i].readings)
      if (reading.station && !reading.excluded) last = std::max(last, reading.cuts);
    wanted.insert(last);
    for (const auto& event : trial.runs[i].events)
      if (std::holds_alternative<StrokeEvent>(event.data)) wanted.insert(event.cuts);
    // One reading of everybody who took any: who read is a difference between runs.
    std::set<LabelId> readers;
    for (const auto& reading : trial.runs[i].readings)
      if (wanted.contains(reading.cuts) ||
          (!reading.excluded && readers.insert(reading.by_operator).second))
        out.runs[i].readings.push_back(reading);
  }
  return out;
}

std::vector<stats::GaugeReading> operator_readings(const Trial& trial) {
  const Unit unit = trial.unit();
  std::map<std::string, std::map<LabelId, std::vector<double>>> places;
  // A repeat is the same place of the edge read again. Heel, middle and tip of one checkpoint are
  // three places: taken for repeats, what differs along the edge would be laid to the operators.
  for (const auto& run : trial.runs)
    for (const auto& reading : run.readings)
      if (!reading.excluded && reading.by_operator)
        places[said("{name} at {cuts}{labels}",
                    {{"name", run.facts.name},
                     {"cuts", std::to_string(reading.cuts)},
                     {"labels", reading.station ? ", " + trial.labels.text(reading.station) : ""}})]
              [reading.by_operator]
                  .push_back(convert(reading.value, reading.unit, unit));
  // The operators and the number of repeats that most places share.
  std::map<std::pair<std::set<LabelId>, std::size_t>, std::vector<std::string>> kinds;
  for (const auto& [place, by] : places) {
    std::set<LabelId> operators;
    std::size_t least = 1000;
    for (const auto& [who, values] : by) {
      operators.insert(who);
      least = std::min(least, values.size());
    }
    if (operators.size() > 1 && least > 1) kinds[{operators, least}].push_back(place);
  }
  std::vector<stats::GaugeReading> out;
  const std::pair<const std::pair<std::set<LabelId>, std::size_t>, std::vector<std::string>>* best =
      nullptr;
  for (const auto& kind : kinds)
    if (!best || kind.second.size() > best->second.size()) best = &kind;
  if (!best || best->second.size() < 2) return out;
  for (const auto& place : best->second)
    for (const LabelId who : best->first.first)
      for (std::size_t i = 0; i < best->first.second; ++i)
        out.push_back({place, trial.labels.text(who), places[place][who][i]});
  return out;
}

Answer answer(Question question, const AnswerSource& source) {
  using Part = Answer (*)(const AnswerSource&);
  namespace p = answer_parts;
  static constexpr Part kParts[kQuestions] = {
      p::curves, p::angle,         p::matching, p::steel,    p::finish,   p::behind,  p::along,
      p::shares, p::circumstances, p::limit,    p::readings, p::gauge,    p::trust,   p::burr,
      p::strop,  p::chips,         p::force,    p::starts,   p::pictures, p::touch_up};
  Answer out = kParts[std::size_t(question)](source);
  out.question = question;
  out.sentence = with_minus_signs(out.sentence);
  for (auto& remark : out.remarks) remark = with_minus_signs(remark);
  for (auto& row : out.table.rows)
    for (auto& cell : row) cell = with_minus_signs(cell);
  return out;
}

namespace answer_parts {

Answer missing(const std::string& sentence, bool plan_helps) {
  Answer out;
  out.sentence = sentence;
  out.plan_helps = plan_helps;
  return out;
}

std::string with_interval(double value, std::optional<double> low, std::optional<double> high) {
  const auto end = [](const std::optional<double>& v) {
    return v ? print_number(*v, 3) : said("not bounded");
  };
  return said("{number} ({low} to {high})",
              {{"number", print_number(value, 3)}, {"low", end(low)}, {"high", end(high)}});
}

std::vector<bool> of_this_work(const AnswerSource& source) {
  std::vector<bool> out;
  for (const auto& work : work_of_runs(*source.facts))
    out.push_back(work == source.life->question.medium);
  return out;
}

double shown(const AnswerSource& source, double value) {
  return convert(value, source.facts->unit(), source.shown);
}
std::string print_reading(const AnswerSource& source, double value) {
  return print_measure(shown(source, value), source.shown, 3);
}
std::string print_p(double p) { return p < 1e-4 ? "< 0.0001" : print_number(p, 2); }
std::string count_of(std::size_t n, const char* one, const char* many) {
  return std::to_string(n) + " " + said(n == 1 ? one : many);
}

std::string names_of(const std::vector<std::string>& names, std::size_t most) {
  return first_few(names, most);
}

double shown_angle(const AnswerSource& source, double per_side_deg) {
  return source.angles == AngleConvention::inclusive ? 2 * per_side_deg : per_side_deg;
}
std::string angle_label(const AnswerSource& source) {
  return said("apex angle, ° {angles}", {{"angles", words_of(source.angles)}});
}
std::string life_label(const AnswerSource& source) {
  return said("cuts to {source}",
              {{"source", print_reading(source, source.life->question.threshold)}});
}

std::optional<double> shown_apex(const AnswerSource& source, const RunFacts& facts) {
  if (!facts.geometry) return std::nullopt;
  return shown_angle(source, facts.geometry->apex().equivalent_deg());
}

std::vector<PictureSeries> run_points(
    const AnswerSource& source,
    const std::function<std::optional<double>(const RunFacts&)>& against) {
  std::map<std::pair<std::string, bool>, PictureSeries> points;
  for (const auto& row : source.life->table.rows) {
    const auto x = against(row.facts);
    if (!x) continue;
    const bool more = row.cuts.censoring == Censoring::right,
               less = row.cuts.censoring == Censoring::left;
    PictureSeries& series = points[{row.facts.steel, more}];
    series.steel = row.facts.steel;
    series.name = row.facts.steel + (more ? said(" (at least)") : "");
    series.kind = more ? PictureSeries::Kind::arrows_up : PictureSeries::Kind::points;
    series.x.push_back(*x);
    series.y.push_back(more ? *row.cuts.low : less ? *row.cuts.high : *row.cuts.estimate);
    series.runs.push_back(row.facts.name);
  }
  std::vector<PictureSeries> out;
  for (auto& [key, series] : points) out.push_back(std::move(series));
  return out;
}

/// The benches whose intervals hold least often (tests/reference/life_cells.txt): six checkpoints
/// a run or fewer, and three runs in ten or more that did not reach the limit. "" others.
std::string few_checkpoints_sentence(const AnswerSource& source) {
  constexpr std::size_t kFew = 6;
  constexpr double kMany = 0.3;
  const auto& table = source.life->table;
  if (table.right_censored() < kMany * double(table.rows.size())) return "";
  std::set<std::string> asked;
  for (const auto& row : table.rows) asked.insert(row.facts.name);
  std::vector<std::size_t> counts;
  for (const auto& fit : *source.fits)
    if (asked.contains(fit.run)) counts.push_back(fit.table.checkpoints);
  if (counts.empty()) return "";
  const auto middle = counts.begin() + std::ptrdiff_t(counts.size() / 2);
  std::nth_element(counts.begin(), middle, counts.end());
  if (*middle > kFew) return "";
  return said(
      "Few checkpoints a run ({middle}) and {right_censored} % of the runs stopped before the "
      "limit: of made-up benches like this one the 95 % intervals held in 86 to 96 %. Read at more "
      "counts, near the limit above all.",
      {{"middle", std::to_string(*middle)},
       {"right_censored",
        print_number(std::round(100.0 * table.right_censored() / double(table.rows.size())), 2)}});
}

std::vector<std::string> model_remarks(const AnswerSource& source) {
  std::vector<std::string> out;
  const LifeFindings& life = *source.life;
  if (!life.model) return out;
  if (const auto sd = life.model->blade_sd())
    out.push_back(*sd > 0 ? said("Blades of one kind differ by {sd} % in life, {blades} blades; "
                                 "that is in the interval.",
                                 {{"sd", print_number(100 * *sd, 2)},
                                  {"blades", std::to_string(life.model->blades())}})
                          : said("No difference between blades of one kind was seen ({blades} "
                                 "blades); steels are still judged by the number of blades.",
                                 {{"blades", std::to_string(life.model->blades())}}));
  if (!life.model->blade_note().empty())
    out.push_back(said("Blades used again could not be allowed for: {blade_note}.",
                       {{"blade_note", life.model->blade_note()}}));
  if (auto drawn = drawn_sentence(*life.model); !drawn.empty()) out.push_back(std::move(drawn));
  if (const int censored = life.table.right_censored())
    out.push_back(said(
        "{censored} of {rows} never reached the limit{and_count_as}",
        {{"censored", count_of(std::size_t(censored), to_be_said("run"), to_be_said("runs"))},
         {"rows", std::to_string(life.table.rows.size())},
         {"and_count_as", life.table.carried_on() ? "." : said(" and count as \"more than\".")}}));
  if (auto carried = carried_sentence(life.table); !carried.empty())
    out.push_back(std::move(carried));
  if (auto few = few_checkpoints_sentence(source); !few.empty()) out.push_back(std::move(few));
  std::vector<std::string> left;
  for (const auto& run : life.model->left_out()) left.push_back(run.run + " (" + run.reason + ")");
  for (const auto& run : life.table.left_out)
    if (!run.other_medium) left.push_back(run.run + " (" + run.reason + ")");
  if (!left.empty()) out.push_back(said("Not in it: {left}.", {{"left", names_of(left)}}));
  for (auto& sentence : side_sentences(life.sides)) out.push_back(std::move(sentence));
  return out;
}

}  // namespace answer_parts
}  // namespace bq::inline workflow
