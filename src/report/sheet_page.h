#pragma once

#include <string>
#include <vector>

#include "plan/claim.h"
#include "plan/run_sheet.h"
#include "report/page_image.h"

namespace bq::inline report {

/// One run (or one part of a pair) as it stands on the sheet.
struct SheetLine {
  std::string number;  ///< "7"
  std::string code;    ///< large
  std::vector<std::string>
      beside;        ///< up to three short lines: "operator A", "0:45, 52 min"; a blade where open
  std::string what;  ///< the combination where the sheet is open; "" blind
  std::vector<std::string>
      boxes;              ///< large boxes to tick by their labels, in order; with `readings` those
                          ///< that are counts of cuts are columns of cells, "rest" is a pause
  int readings = 0;       ///< cells to write in at each count of cuts; 0: boxes to tick only
  bool write_in = false;  ///< a line to write the figure on
};
struct SheetDay {
  std::string title;  ///< "Day 1 of 4, Tuesday 2026-11-24"
  std::string note;   ///< "batch 2"
  std::vector<SheetLine> lines;
};
/// A run sheet as data: one design for PDF, preview and print. A4.
struct SheetDocument {
  std::string title, subtitle;
  std::vector<std::string> steps;  ///< how it is done, once
  std::vector<SheetDay> days;
  std::vector<std::string> cautions;
  std::string key_note;  ///< who may see the key
  std::vector<std::pair<std::string, std::string>>
      key;  ///< code and what it stands for, by code; empty: the sheet is open
};

/// Several runs a page with room for every reading, day after day; a day is not torn apart where it
/// fits on a page. Cautions once, the sealed key on a page of its own.
SheetDocument sheet_document(const TrialPlan& plan, const RunSheet& sheet);
SheetDocument claim_document(const ClaimTest& test);

std::string sheet_pdf(const SheetDocument& document);
std::vector<PageImage> sheet_pages(const SheetDocument& document, double dots_per_inch);

/// "1:05" for 65 minutes.
std::string clock_of(double minutes);

}  // namespace bq::inline report
