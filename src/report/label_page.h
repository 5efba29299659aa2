#pragma once

#include <optional>
#include <string>
#include <vector>

#include "edge/edge_geometry.h"
#include "report/page_image.h"

namespace bq::inline report {

/// One small label: for a blade, the tape of a run, a stone.
struct Label {
  std::string name;                      ///< large: "Marl Tough 1", or a blind run's code
  std::vector<std::string> beneath;      ///< up to two short lines
  std::optional<EdgeGeometry> geometry;  ///< drawn as a small section; empty: none, or covered
  std::optional<Finish> finish;          ///< its teeth
  std::string code;                      ///< what the scannable code says
};

/// A4 sheets of 27 labels, 62 × 30 mm, with thin lines to cut along. The codes are QR symbols
/// (ISO/IEC 18004) of error level M, 0.7 mm or more a module.
std::string labels_pdf(const std::vector<Label>& labels, const std::string& title);
std::vector<PageImage> label_pages(const std::vector<Label>& labels, double dots_per_inch);

/// The symbol of a text, true for dark, row after row; empty where the text is too long for one.
std::vector<std::vector<bool>> qr_symbol(const std::string& text);

}  // namespace bq::inline report
