#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "report/edge_card.h"

namespace bq {

/// A page as pixels: 32 bits each, 0xffRRGGBB, rows without padding.
struct PageImage {
  int width = 0, height = 0;
  std::vector<std::uint32_t> pixels;
};

/// The card on A5 pages (148 by 210 mm), at least one, at `dots_per_inch` (36 to 600).
std::vector<PageImage> card_pages(const EdgeCard& card, double dots_per_inch);
/// The same pages as a PDF document, byte for byte the same for the same card. Text can be searched.
std::string card_pdf(const EdgeCard& card);

}  // namespace bq
