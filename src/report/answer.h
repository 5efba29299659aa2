#pragma once

#include <optional>
#include <string>
#include <vector>

namespace bq::inline report {

/// Something drawn in a picture, as data: the window and the report draw the same.
struct PictureSeries {
  std::string name;
  std::string steel;  ///< its colour, marker and line pattern; "" those of its place in the list
  std::vector<double> x, y;
  std::vector<double> y_low, y_high;  ///< a band (line) or bars (points), where filled
  std::vector<std::string> runs;      ///< one per point where points are runs: for linked selection
  enum class Kind { line, points, arrows_up, arrows_down } kind = Kind::line;
  bool ink = false;  ///< in the text's colour, thin and dashed
};

struct Picture {
  std::string x_label, y_label;
  bool x_log = false, y_log = false;
  std::vector<std::string> x_words;  ///< names at x = 0, 1, 2 … instead of numbers
  std::vector<PictureSeries> series;
  std::optional<double> level;  ///< a horizontal line
  std::string level_name;
  [[nodiscard]] bool empty() const { return series.empty(); }
};

struct AnswerTable {
  std::vector<std::string> heads;
  std::vector<std::vector<std::string>> rows;
  std::vector<std::string> runs;  ///< the run of each row, where rows are runs
};

/// What can be asked of a trial, in the order shown.
enum class Question {
  curves,
  angle,
  matching,
  steel,
  finish,
  behind,
  along,
  shares,
  circumstances,
  limit,
  readings,
  gauge,
  trust,
  burr,
  strop,
  chips,
  force,
  starts,
  pictures,
  touch_up
};
inline constexpr int kQuestions = 20;

/// A question's answer: a sentence with its interval first, the picture second, the table third.
struct Answer {
  Question question = Question::steel;
  bool answered = false;  ///< else `sentence` says what is missing
  std::string sentence;
  std::vector<std::string> remarks;  ///< what must be said besides: extrapolated, one blade only, …
  Picture picture;
  AnswerTable table;
  std::string formula;            ///< how it was computed, in words and signs
  std::string method;             ///< heading in docs/methods.md
  std::vector<std::string> runs;  ///< the data used
  bool plan_helps = false;        ///< what is missing can be planned
};

}  // namespace bq::inline report
