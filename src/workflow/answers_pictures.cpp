// "What do the pictures show?": measures of micrographs over the cuts, place by place.
#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "workflow/answer_parts.h"
#include "workflow/lens_study.h"

namespace bq::inline workflow::answer_parts {
namespace {

struct Point {
  std::int64_t cuts = 0, picture = 0;
  LensValue value;
};
/// One measure at one place of one edge; of chips, rolls and burrs the largest in each picture:
/// which is which from picture to picture is not known.
struct Course {
  std::string name, run, steel;
  LensMeasureKind kind = LensMeasureKind::bevel_width;
  std::vector<Point> points;
};

std::string place_of(const Micrograph& m) {
  std::string out;
  if (m.side) out += std::string(name_of(*m.side)) + " ";
  if (m.at_mm) out += print_number(*m.at_mm, 3) + " mm";
  if (!m.mark.empty()) out += (out.empty() ? "" : ", ") + m.mark;
  return out;
}

std::vector<Course> courses_of(const Trial& trial, AnswerTable& table) {
  std::map<std::string, Course> found;
  table.heads = {"edge", "cuts", "place", "what", "µm", "± 95 %", "depth µm", "taken", "picture"};
  for (const auto& m : trial.micrographs) {
    const auto scale = scale_of(trial, m);
    if (!scale || !m.stone.empty()) continue;
    for (const auto& measure : m.measures) {
      const LensValue value = value_of(measure, *scale);
      const std::string edge = m.run.empty() ? m.blade : m.run;
      table.rows.push_back({edge, m.cuts ? std::to_string(*m.cuts) : "", place_of(m),
                            std::string(name_of(measure.kind)), print_number(value.value, 3),
                            print_number(value.plus_minus, 2),
                            measure.kind == LensMeasureKind::chip && value.second
                                ? print_number(*value.second, 3)
                                : "",
                            std::to_string(value.takes) + "×", m.name});
      table.runs.push_back(m.run);
      if (!m.cuts || edge.empty()) continue;
      Course& course = found[edge + "\n" + place_of(m) + "\n" + std::string(name_of(measure.kind)) +
                             (measure.note.empty() ? "" : "\n" + measure.note)];
      const bool largest = measure.kind == LensMeasureKind::chip ||
                           measure.kind == LensMeasureKind::roll_width ||
                           measure.kind == LensMeasureKind::burr_height;
      course.name = edge + ", " + (largest ? "largest " : "") + std::string(name_of(measure.kind)) +
                    (place_of(m).empty() ? "" : ", " + place_of(m));
      course.run = m.run;
      if (const Run* run = trial.find_run(m.run)) course.steel = run->facts.steel;
      course.kind = measure.kind;
      if (largest && !course.points.empty() && course.points.back().picture == m.id) {
        if (value.value > course.points.back().value.value) course.points.back().value = value;
        continue;
      }
      course.points.push_back({*m.cuts, m.id, value});
    }
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
    return missing(
        "Cannot tell yet: no picture of an edge has been measured. Bring pictures in on Lens, set "
        "their scale and measure.",
        false);
  out.answered = true;
  const Course* clearest = nullptr;
  double most = 1;
  int repeated = 0;
  for (const auto& course : courses) {
    PictureSeries series;
    series.name = course.name;
    series.steel = course.steel;
    series.kind = PictureSeries::Kind::points;
    for (const auto& p : course.points) {
      series.x.push_back(double(p.cuts));
      series.y.push_back(p.value.value);
      series.y_low.push_back(std::max(0.0, p.value.value - p.value.plus_minus));
      series.y_high.push_back(p.value.value + p.value.plus_minus);
      series.runs.push_back(course.run);
    }
    if (out.picture.series.size() < 12) out.picture.series.push_back(std::move(series));
    if (course.points.front().cuts == course.points.back().cuts) continue;
    ++repeated;
    const LensValue &first = course.points.front().value, &last = course.points.back().value;
    const double clear = std::abs(last.value - first.value) /
                         std::max(1e-9, std::hypot(first.plus_minus, last.plus_minus));
    if (clear > most) {
      most = clear;
      clearest = &course;
    }
  }
  out.picture.x_label = "cuts";
  out.picture.y_label = "µm in the picture";
  if (clearest) {
    const Point &first = clearest->points.front(), &last = clearest->points.back();
    out.sentence = clearest->name + ": " + print_value(clearest->kind, first.value) + " after " +
                   std::to_string(first.cuts) + " cuts, " +
                   print_value(clearest->kind, last.value) + " after " + std::to_string(last.cuts) +
                   " cuts.";
  } else if (repeated > 0) {
    out.sentence = "No measure changed by more than its uncertainty over the cuts.";
  } else {
    out.sentence = count_of(out.table.rows.size(), "measure", "measures") +
                   " in pictures; none shows the same place before and after, so nothing can be "
                   "said of change.";
  }
  if (courses.size() > out.picture.series.size())
    out.remarks.push_back("Twelve of " + std::to_string(courses.size()) +
                          " courses are drawn; all are in the table.");
  out.remarks.push_back(
      "Each figure is one place of one edge: it says what happened there, not how often it "
      "happens.");
  out.formula =
      "Lengths in pixels times the scale; ± is 95 % from the scale, the edge finder and the "
      "repeats.";
  out.method = "Measuring in pictures";
  for (const auto& course : courses)
    if (!course.run.empty() &&
        std::find(out.runs.begin(), out.runs.end(), course.run) == out.runs.end())
      out.runs.push_back(course.run);
  return out;
}

}  // namespace bq::inline workflow::answer_parts
