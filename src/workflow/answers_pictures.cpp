// "What do the pictures show?": measures of micrographs over the cuts, place by place.
#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "stats/distributions.h"
#include "workflow/answer_parts.h"
#include "workflow/lens_study.h"
#include "workflow/sentences.h"

namespace bq::inline workflow::answer_parts {
namespace {

const std::string kLength = "µm";

struct Point {
  std::int64_t cuts = 0, picture = 0;
  LensValue value;
  double low = 0, high = 0;  ///< 95 %
};
Point point_of(const Micrograph& m, const LensValue& value) {
  return {m.cuts.value_or(0), m.id, value, value.value - value.plus_minus,
          value.value + value.plus_minus};
}
/// One measure at one place of one edge; of chips, rolls and burrs the largest in each picture:
/// which is which from picture to picture is not known.
struct Course {
  std::string name, run, steel;
  LensMeasureKind kind = LensMeasureKind::bevel_width;
  std::string unit = kLength;
  std::vector<Point> points;
  [[nodiscard]] std::string print(const Point& p) const {
    if (p.value.value == 0 && p.high == 0) return "nothing";  // reckoned from this picture
    if (unit == kLength) return print_value(kind, p.value);
    return said("{p} ({low} to {high}) {unit}", {{"p", print_number(p.value.value, 2)},
                                                 {"low", print_number(p.low, 2)},
                                                 {"high", print_number(p.high, 2)},
                                                 {"unit", unit}});
  }
};

std::string place_of(const Micrograph& m) {
  std::string out;
  if (m.side) out += std::string(name_of(*m.side)) + " ";
  if (m.at_mm) out += print_number(*m.at_mm, 3) + " mm";
  if (!m.mark.empty()) out += (out.empty() ? "" : ", ") + m.mark;
  return out;
}

std::string edge_of(const Micrograph& m) { return m.run.empty() ? m.blade : m.run; }

/// The course of one thing at the place of a picture; `what` as it is called, `apart` what else
/// tells it from others.
Course& course_of(std::map<std::string, Course>& found, const Trial& trial, const Micrograph& m,
                  LensMeasureKind kind, const std::string& what, const std::string& apart = "") {
  const std::string place = place_of(m);
  Course& course = found[edge_of(m) + "\n" + place + "\n" + what + "\n" + apart];
  course.name = edge_of(m) + ", " + what + (place.empty() ? "" : ", " + place);
  course.run = m.run;
  if (const Run* run = trial.find_run(m.run)) course.steel = run->facts.steel;
  course.kind = kind;
  return course;
}

/// What was measured along the apex: chips per mm, waves and bright band, how far it fell back.
void add_stretch(const Trial& trial, const Micrograph& m, const StretchValues& v,
                 std::map<std::string, Course>& found, AnswerTable& table) {
  const bool in_order = m.cuts && !edge_of(m).empty();
  const auto row = [&](const std::string& what, const std::string& figure,
                       const std::string& plus_minus) {
    table.rows.push_back({edge_of(m), m.cuts ? std::to_string(*m.cuts) : "", place_of(m), what,
                          figure, plus_minus, "", "1×", m.name});
    table.runs.push_back(m.run);
  };
  row(said("chips per mm (number)"), print_number(v.per_mm, 2),
      said("{per_mm_low} to {per_mm_high}", {{"per_mm_low", print_number(v.per_mm_low, 2)},
                                             {"per_mm_high", print_number(v.per_mm_high, 2)}}));
  if (in_order) {
    LensValue rate;
    rate.value = v.per_mm;
    Course& course =
        course_of(found, trial, m, LensMeasureKind::apex_line, said("chips along the apex"));
    course.unit = "per mm";
    course.points.push_back({*m.cuts, m.id, rate, v.per_mm_low, v.per_mm_high});
  }
  const auto mean_of_spread = [](const std::optional<SpreadAlong>& spread) {
    return spread ? std::optional(spread->mean) : std::nullopt;
  };
  // What is even of a burr's rim says nothing of the apex.
  const std::pair<const char*, std::optional<LensValue>> evenness[] = {
      {"standing burr, mean height", mean_of_spread(v.burr)},
      {"waves of the apex", v.burr ? std::nullopt : v.wavy},
      {"raggedness of the apex", v.burr ? std::nullopt : v.ragged},
      {"bright band, mean width", mean_of_spread(v.band)}};
  for (const auto& [what, value] : evenness) {
    if (!value) continue;
    // Waves by another cut-off are another figure.
    const bool parted = std::string_view(what).ends_with("of the apex");
    row(parted ? said("{what}, parted at {cutoff_um}",
                      {{"what", what}, {"cutoff_um", print_um(v.cutoff_um)}})
               : what,
        print_number(value->value, 3), print_number(value->plus_minus, 2));
    if (in_order)
      course_of(found, trial, m, LensMeasureKind::apex_line, what,
                parted ? print_number(v.cutoff_um, 3) : "")
          .points.push_back(point_of(m, *value));
  }
  const Micrograph* since = since_of(trial, m);
  if (!v.receded || !since) return;
  const std::pair<const char*, const LensValue*> figures[] = {
      {"apex fell back", &*v.receded}, {"apex fell back at its worst place", &*v.receded_most}};
  for (const auto& [what, value] : figures) {
    row(said("{what} since {name}", {{"what", what}, {"name", since->name}}),
        print_number(value->value, 3), print_number(value->plus_minus, 2));
    if (!in_order) continue;
    auto& points = course_of(found, trial, m, LensMeasureKind::apex_line, what).points;
    points.push_back(point_of(m, *value));
    // The picture it is reckoned from is its zero.
    if (since->cuts && std::none_of(points.begin(), points.end(),
                                    [&](const Point& p) { return p.picture == since->id; }))
      points.push_back(point_of(*since, {}));
  }
}

std::vector<Course> courses_of(const Trial& trial, AnswerTable& table) {
  std::map<std::string, Course> found;
  table.heads = {said("edge"), said("cuts"),     said("place"), said("what"),   "µm",
                 "± 95 %",     said("depth µm"), said("taken"), said("picture")};
  for (const auto& m : trial.micrographs) {
    const auto scale = scale_of(trial, m);
    if (!scale || !m.stone.empty()) continue;
    for (const auto& measure : m.measures) {
      const LensValue value = value_of(measure, *scale);
      table.rows.push_back({edge_of(m), m.cuts ? std::to_string(*m.cuts) : "", place_of(m),
                            std::string(name_of(measure.kind)), print_number(value.value, 3),
                            print_number(value.plus_minus, 2),
                            measure.kind == LensMeasureKind::chip && value.second
                                ? print_number(*value.second, 3)
                                : "",
                            std::to_string(value.takes) + "×", m.name});
      table.runs.push_back(m.run);
      if (!m.cuts || edge_of(m).empty()) continue;
      const bool largest = measure.kind == LensMeasureKind::chip ||
                           measure.kind == LensMeasureKind::roll_width ||
                           measure.kind == LensMeasureKind::burr_height;
      auto& points =
          course_of(found, trial, m, measure.kind,
                    (largest ? said("largest ") : "") + std::string(name_of(measure.kind)),
                    measure.note)
              .points;
      if (!largest || points.empty() || points.back().picture != m.id)
        points.push_back(point_of(m, value));
      else if (value.value > points.back().value.value)
        points.back() = point_of(m, value);
    }
    if (const auto along = stretch_values(trial, m)) add_stretch(trial, m, *along, found, table);
  }
  std::vector<Course> out;
  for (auto& [key, course] : found) {
    std::stable_sort(course.points.begin(), course.points.end(),
                     [](const Point& a, const Point& b) { return a.cuts < b.cuts; });
    out.push_back(std::move(course));
  }
  return out;
}

}  // namespace

Answer pictures(const AnswerSource& source) {
  Answer out;
  const auto courses = courses_of(*source.facts, out.table);
  if (out.table.rows.empty())
    return missing(said("Cannot tell yet: no picture of an edge has been measured. Bring pictures "
                        "in on Lens, set their scale and measure."),
                   false);
  out.answered = true;
  const Course* clearest = nullptr;
  int asked = 0;
  for (const auto& course : courses)
    asked += course.points.front().cuts != course.points.back().cuts;
  // The clearest of many changes looks clear by luck: each is held against its share of 5 %.
  double most = stats::normal_quantile(1 - 0.025 / std::max(1, asked)) / 1.96;
  for (const auto& course : courses) {
    if (course.points.front().cuts == course.points.back().cuts) continue;
    const Point &first = course.points.front(), &last = course.points.back();
    const bool up = last.value.value > first.value.value;
    const double clear =
        std::abs(last.value.value - first.value.value) /
        std::max(1e-9,
                 up ? std::hypot(first.high - first.value.value, last.value.value - last.low)
                    : std::hypot(first.value.value - first.low, last.high - last.value.value));
    if (clear > most) {
      most = clear;
      clearest = &course;
    }
  }
  // One axis, one unit: that of what changed most clearly, else lengths.
  const std::string unit = clearest ? clearest->unit : kLength;
  std::size_t of_unit = 0;
  for (const auto& course : courses) {
    if (course.unit != unit || ++of_unit > 12) continue;
    PictureSeries series;
    series.name = course.name;
    series.steel = course.steel;
    series.kind = PictureSeries::Kind::points;
    for (const auto& p : course.points) {
      series.x.push_back(double(p.cuts));
      series.y.push_back(p.value.value);
      series.y_low.push_back(std::max(0.0, p.low));
      series.y_high.push_back(p.high);
      series.runs.push_back(course.run);
    }
    out.picture.series.push_back(std::move(series));
  }
  out.picture.x_label = "cuts";
  out.picture.y_label = unit == kLength ? said("µm in the picture") : said("chips per mm of apex");
  if (clearest) {
    const Point &first = clearest->points.front(), &last = clearest->points.back();
    out.sentence = said("{name}: {first} after {cuts} cuts, {last} after {cuts_2} cuts.",
                        {{"name", clearest->name},
                         {"first", clearest->print(first)},
                         {"cuts", std::to_string(first.cuts)},
                         {"last", clearest->print(last)},
                         {"cuts_2", std::to_string(last.cuts)}});
  } else if (asked > 0) {
    out.sentence = asked > 1
                       ? said(
                             "No measure changed over the cuts by more than its uncertainty and "
                             "the number of measures explain.")
                       : said("No measure changed by more than its uncertainty over the cuts.");
  } else {
    out.sentence = said(
        "{rows} in pictures; none shows the same place before and after, so nothing can be said of "
        "change.",
        {{"rows", count_of(out.table.rows.size(), to_be_said("measure"), to_be_said("measures"))}});
  }
  if (of_unit > out.picture.series.size())
    out.remarks.push_back(said("Twelve of {of_unit} courses are drawn; all are in the table.",
                               {{"of_unit", std::to_string(of_unit)}}));
  if (of_unit < courses.size())
    out.remarks.push_back(unit == kLength
                              ? said("Chips per mm are in the table; the picture shows lengths.")
                              : said("Lengths are in the table; the picture shows chips per mm."));
  out.remarks.push_back(
      said("Each figure is one place of one edge: it says what happened there, not how often it "
           "happens."));
  out.formula = said(
      "Lengths in pixels times the scale; ± is 95 % from the scale, the edge finder and the "
      "repeats.");
  out.method = said("Measuring in pictures");
  for (const auto& course : courses)
    if (!course.run.empty() &&
        std::find(out.runs.begin(), out.runs.end(), course.run) == out.runs.end())
      out.runs.push_back(course.run);
  return out;
}

}  // namespace bq::inline workflow::answer_parts
