#pragma once

#include <optional>
#include <string>
#include <vector>

#include "report/answer.h"
#include "report/drawing.h"
#include "report/page_image.h"

namespace bq::inline report {

/// One question of the report with its answer.
struct ReportPart {
  std::string question, sentence;
  std::vector<std::string> remarks;
  std::optional<Drawing> picture;
  std::optional<Drawing> low_picture;  ///< the same, lower: for the foot of a page
  AnswerTable table;
  std::string computed;  ///< formula, method and data used
  bool answered = true;
};

/// What whoever ordered the trial reads, on a page of its own.
struct FirstPage {
  std::optional<Drawing> edge;                            ///< its cross-section near the apex
  std::vector<std::pair<std::string, std::string>> make;  ///< label and value: what to make
  std::string sure;                  ///< "It is 93 % sure that …"; "" not reckoned
  std::vector<std::string> against;  ///< what speaks against it, or is not known of it
  std::vector<std::string> limits;   ///< what was asked of the edge
  std::vector<std::string> rests_on;
  /// Heading and lines of each of these that says something, in the order they are read.
  [[nodiscard]] std::vector<std::pair<std::string, std::vector<std::string>>> lists() const;
};

/// A trial's report as data: one design for HTML, PDF and preview. Depends on nothing but its
/// content: the same project gives the same bytes, but for `date`.
struct TrialReport {
  std::string title, date;  ///< ISO 8601 day it was made
  std::string work;     ///< "48 runs in rubberised coir mat 8 mm, blunt at 450 gf, angles per side"
  std::string verdict;  ///< "Make …"
  FirstPage first;
  std::vector<std::string> reasons;  ///< of the first edge
  std::string rule;
  AnswerTable ranking;
  std::optional<Drawing> trade_off;
  std::vector<std::string> sensitivity;
  std::vector<std::pair<std::string, std::vector<std::string>>> schools;  ///< matter, sentences
  std::vector<ReportPart> parts;
  std::vector<std::pair<Drawing, std::string>>
      micrographs;                   ///< with measures and scale bar, each with its caption
  std::string micrographs_note;      ///< "" or what was left out
  std::vector<std::string> methods;  ///< what holds for all of it
  std::vector<std::string> cautions;
  std::string csv;  ///< the raw readings, attached
  std::string csv_name = "readings.csv";
};

/// One HTML page without anything from outside; the readings as a link that saves them.
std::string report_html(const TrialReport& report);
/// A4; pictures as vectors, the readings attached to the document.
std::string report_pdf(const TrialReport& report);
/// An edge near its apex, to its true angles, `behind_deg` where a micro-bevel stands on an edge
/// bevel; per side.
Drawing draw_apex(double apex_deg, const std::optional<double>& behind_deg);
std::vector<PageImage> report_pages(const TrialReport& report, double dots_per_inch);

}  // namespace bq::inline report
