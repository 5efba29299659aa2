#include "report/sheet_page.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "report/page_writer.h"

namespace bq::inline report {
namespace {

using namespace page_style;
constexpr double kBox_mm = 7, kBoxStep_mm = 15.5, kBoxFrom_mm = 62, kCode_mm = 6;

const std::vector<std::string>& trial_cautions() {
  static const std::vector<std::string> sentences{
      "Cut-resistant glove on the off hand at the bench; no gloves, loose sleeves or hanging hair "
      "at belts and wheels. Eye protection at a powered grinder.",
      "Cut away from the body; fix the work; cover an edge that stays in a clamp. Feel for a burr "
      "across the edge, never along it; do not prove sharpness on skin.",
      "Take the rests that are planned. A blunt blade needs force and slips: stop when it does.",
      "Workplace rules and trained people come before this sheet."};
  return sentences;
}

/// A blade's name can be long: the column beside the boxes takes so many letters.
std::string shortened(const std::string& text, std::size_t most = 20) {
  std::size_t letters = 0, at = 0;
  for (; at < text.size(); ++at)
    if ((static_cast<unsigned char>(text[at]) & 0xc0) != 0x80 && ++letters > most - 1) break;
  return at >= text.size() ? text : text.substr(0, at) + "…";
}

/// The boxes of a line, several rows of them where they do not fit.
Drawing boxes_of(const SheetLine& line, double width_mm) {
  Drawing out;
  out.width_mm = width_mm;
  const int in_row = std::max(1, int((width_mm - kBoxFrom_mm) / kBoxStep_mm));
  int i = 0;
  for (const auto& label : line.boxes) {
    const double x = kBoxFrom_mm + (i % in_row) * kBoxStep_mm, y = 1.2 + (i / in_row) * 13.0;
    if (label == "rest") {
      for (const double shift : {2.0, 4.2})
        out.lines.push_back(
            {{{x + shift, y + 1.2}, {x + shift, y + kBox_mm - 1.2}}, 0.9, false, false, false});
    } else {
      out.lines.push_back({{{x, y}, {x + kBox_mm, y}, {x + kBox_mm, y + kBox_mm}, {x, y + kBox_mm}},
                           0.45,
                           true,
                           false,
                           false});
    }
    out.texts.push_back({x + (label == "rest" ? 3.1 : kBox_mm / 2), y + kBox_mm + 3, label, 2.6,
                         DrawingText::Anchor::middle});
    ++i;
  }
  if (line.write_in)
    out.lines.push_back({{{width_mm - 34, 9}, {width_mm, 9}}, 0.25, false, false, false});
  const int rows = std::max(1, (i + in_row - 1) / in_row);
  out.height_mm = std::max(13.0, 13.0 * rows) + 1.5;
  out.texts.push_back({0, 7.2, line.number, 3.6, DrawingText::Anchor::start});
  out.texts.push_back({9, 7.4, line.code, kCode_mm, DrawingText::Anchor::start});
  double y = 4.0;
  for (const auto& text : line.beside) {
    out.texts.push_back({30, y, shortened(text), 2.6, DrawingText::Anchor::start});
    y += 3.6;
  }
  if (!line.what.empty()) {
    out.height_mm += 3.2;
    out.texts.push_back({9, out.height_mm - 2.2, line.what, 2.8, DrawingText::Anchor::start});
  }
  out.lines.push_back(
      {{{0, out.height_mm - 0.6}, {width_mm, out.height_mm - 0.6}}, 0.12, false, false, false});
  return out;
}

void write(const SheetDocument& document, PageWriter& page) {
  for (std::size_t d = 0; d < document.days.size(); ++d) {
    const auto& day = document.days[d];
    if (d) page.turn();
    page.text(document.title, kTitle_mm, kInk, 0, 0, true);
    page.text(day.title + (day.note.empty() ? "" : "; " + day.note), kHeading_mm, kInk, 0, 0, true);
    page.text(document.subtitle, kBody_mm, kQuiet);
    if (d == 0)
      for (const auto& step : document.steps) page.text(step, kBody_mm, kInk);
    for (const auto& caution : document.cautions) page.text(caution, kBody_mm, kDanger);
    page.rule();
    for (const auto& line : day.lines) {
      const Drawing drawing = boxes_of(line, page.width());
      page.figure(drawing);
    }
  }
  if (document.key.empty()) return;
  page.turn();
  page.text("Sealed key", kTitle_mm, kInk, 0, 0, true);
  page.text(document.title, kHeading_mm, kInk, 0, 0, true);
  page.text(document.key_note, kBody_mm, kDanger);
  page.rule();
  for (const auto& [code, what] : document.key) page.row(code, what);
}

std::string after_comma(const std::string& text) { return text.empty() ? "" : ", " + text; }

}  // namespace

std::string clock_of(double minutes) {
  const long whole = std::lround(minutes);
  const std::string rest = std::to_string(whole % 60);
  return std::to_string(whole / 60) + ":" + (rest.size() < 2 ? "0" : "") + rest;
}

SheetDocument sheet_document(const TrialPlan& plan, const RunSheet& sheet) {
  SheetDocument out;
  out.title = plan.name;
  std::string held;
  for (const auto& [key, value] : plan.held) held += ", " + print_level(kind_of_factor(key), value);
  out.subtitle = std::to_string(sheet.runs.size()) + " runs of " +
                 std::to_string(sheet.checkpoints.empty() ? 0 : sheet.checkpoints.back()) +
                 " cuts, " + std::to_string(plan.checkpoints.readings_each) +
                 " readings at each checkpoint, threshold " + plan.threshold + held;
  out.steps = {
      "Each run: sharpen to the key, start gate, read before the first cut, then cut to each "
      "count, wipe, read, tick. The number under a box is the count of cuts."};
  out.cautions = trial_cautions();
  int days = 0;
  for (const auto& run : sheet.runs) days = std::max(days, run.day);
  for (const auto& run : sheet.runs) {
    if (out.days.empty() || int(out.days.size()) < run.day) {
      SheetDay day;
      day.title = "Day " + std::to_string(run.day) + " of " + std::to_string(days) +
                  after_comma(working_date(plan.rates.start_date, run.day, plan.rates.days_a_week));
      out.days.push_back(day);
    }
    SheetDay& day = out.days.back();
    if (!run.block.empty() && plan.blocks.by != BlockBy::day &&
        day.note.find(run.block) == std::string::npos)
      day.note += (day.note.empty() ? "" : ", ") + run.block;
    SheetLine line;
    line.number = std::to_string(run.order);
    line.code = run.code;
    for (const auto& text :
         {run.blade, run.by_operator,
          clock_of(run.starts_at_min) + ", " + std::to_string(std::lround(run.minutes)) + " min"})
      if (!text.empty()) line.beside.push_back(text);
    if (!plan.blind) line.what = shortened(describe(plan, run.levels), 90);
    line.boxes = {"sharpened", "gate"};
    auto rest = run.rest_after_cuts.begin();
    for (const auto cuts : sheet.checkpoints) {
      for (; rest != run.rest_after_cuts.end() && *rest < cuts; ++rest)
        line.boxes.emplace_back("rest");
      line.boxes.push_back(std::to_string(cuts));
    }
    day.lines.push_back(line);
  }
  if (plan.blind) {
    out.key_note =
        "For whoever sharpens. Keep it from whoever cuts and reads until the last reading is in.";
    for (const auto& run : sheet.runs) out.key.emplace_back(run.code, describe(plan, run.levels));
    std::sort(out.key.begin(), out.key.end());
  }
  return out;
}

SheetDocument claim_document(const ClaimTest& test) {
  SheetDocument out;
  out.title = test.claim.sentence;
  out.subtitle = std::to_string(test.pairs) + " pairs; measured: " + words_of(test.claim.measure);
  for (std::size_t i = 0; i < test.claim.steps.size(); ++i)
    out.steps.push_back(std::to_string(i + 1) + ". " + test.claim.steps[i]);
  out.cautions = trial_cautions();
  SheetDay day;
  day.title = "Sheet";
  const auto rows = claim_sheet(test);
  for (const auto& row : rows) {
    SheetLine line;
    line.number = std::to_string(row.order);
    line.code = row.code;
    line.beside = {row.blade, row.place};
    line.boxes = {"treated", "wiped", "measured"};
    line.write_in = true;
    day.lines.push_back(line);
    out.key.emplace_back(row.code, row.second ? test.claim.second : test.claim.first);
  }
  out.days.push_back(day);
  std::sort(out.key.begin(), out.key.end());
  out.key_note =
      "For whoever treats the edges. Keep it from whoever measures until the last figure is in.";
  return out;
}

std::string sheet_pdf(const SheetDocument& document) {
  return pdf_of([&](PageWriter& page) { write(document, page); }, kA4,
                "Run sheet: " + document.title, "");
}
std::vector<PageImage> sheet_pages(const SheetDocument& document, double dots_per_inch) {
  return pages_of([&](PageWriter& page) { write(document, page); }, kA4, dots_per_inch);
}

}  // namespace bq::inline report
