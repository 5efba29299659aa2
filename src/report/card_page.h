#pragma once

#include <string>
#include <vector>

#include "report/edge_card.h"
#include "report/page_image.h"

namespace bq::inline report {

/// The card on A5 pages (148 by 210 mm), at least one, at `dots_per_inch` (36 to 600).
std::vector<PageImage> card_pages(const EdgeCard& card, double dots_per_inch);
/// The same pages as a PDF document, byte for byte the same for the same card. Text can be
/// searched.
std::string card_pdf(const EdgeCard& card);

}  // namespace bq::inline report
