// Lays the card out once; the page writer puts it on pixels or paper.
#include "report/card_page.h"

#include "report/page_writer.h"

namespace bq::inline report {
namespace {

using namespace page_style;

void write(const EdgeCard& card, PageWriter& sheet) {
  sheet.text(card.title, kTitle_mm, kInk, 0, 0, true);
  sheet.text(card.kind + ", " + card.subtitle +
                 (card.date.empty() ? "" : "; " + card.dated + " " + card.date),
             kBody_mm, kQuiet);
  if (!card.section.lines.empty()) sheet.figure(card.section);
  for (const auto& block : card.blocks) {
    sheet.rule();
    sheet.text(block.heading, kHeading_mm, kInk, 0, 0, true);
    for (const auto& line : block.lines) sheet.row(line.label, line.value);
    int number = 0;
    for (const auto& step : block.steps) {
      sheet.text(std::to_string(++number) + ".", kBody_mm, kQuiet, 0, 6, false, false);
      sheet.text(step, kBody_mm, kInk, 6);
    }
    for (const auto& sentence : block.sentences) sheet.text(sentence, kBody_mm, kQuiet);
  }
  sheet.rule();
  for (const auto& caution : card.cautions) sheet.text(caution, kBody_mm, kDanger);
}

}  // namespace

std::vector<PageImage> card_pages(const EdgeCard& card, double dots_per_inch) {
  return pages_of([&](PageWriter& writer) { write(card, writer); }, kA5, dots_per_inch);
}

std::string card_pdf(const EdgeCard& card) {
  return pdf_of([&](PageWriter& writer) { write(card, writer); }, kA5,
                card.kind + ": " + card.title + ", " + card.subtitle, card.date);
}

}  // namespace bq::inline report
