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
      beside;        ///< up to three short lines: "Marl Tough 1", "operator A", "0:45, 52 min"
  std::string what;  ///< the combination where the sheet is open; "" blind
  std::vector<std::string>
      boxes;              ///< labels under large check boxes, in order; "rest" is drawn as a pause
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

/// One page a day (more where a day does not fit), cautions on each day's first page, the sealed
/// key on a page of its own.
SheetDocument sheet_document(const TrialPlan& plan, const RunSheet& sheet);
SheetDocument claim_document(const ClaimTest& test);

std::string sheet_pdf(const SheetDocument& document);
std::vector<PageImage> sheet_pages(const SheetDocument& document, double dots_per_inch);

/// "1:05" for 65 minutes.
std::string clock_of(double minutes);

}  // namespace bq::inline report
