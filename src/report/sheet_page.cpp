#include "report/sheet_page.h"

#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "quantity/said.h"
#include "report/page_writer.h"

namespace bq::inline report {
namespace {

using namespace page_style;
constexpr double kBox_mm = 7, kBoxStep_mm = 15.5, kBoxFrom_mm = 62, kCode_mm = 6;
// Cells that a figure is written in by hand: columns of checkpoints, the cuts above them.
constexpr double kColumn_mm = 13.6, kNarrow_mm = 11, kCell_mm = 6.4, kHead_mm = 4.2, kRest_mm = 5;

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

using Anchor = DrawingText::Anchor;

void add_box(Drawing& out, double x, double y, double width, double height, double stroke) {
  out.lines.push_back({{{x, y}, {x + width, y}, {x + width, y + height}, {x, y + height}},
                       stroke,
                       true,
                       false,
                       false});
}

void add_rest(Drawing& out, double x, double top, double bottom) {
  for (const double shift : {-1.1, 1.1})
    out.lines.push_back({{{x + shift, top}, {x + shift, bottom}}, 0.9, false, false, false});
}

/// Large boxes to tick, several rows of them where they do not fit; how far down they reach.
double add_ticks(Drawing& out, const std::vector<std::string>& labels) {
  const int in_row = std::max(1, int((out.width_mm - kBoxFrom_mm) / kBoxStep_mm));
  int i = 0;
  for (const auto& label : labels) {
    const double x = kBoxFrom_mm + (i % in_row) * kBoxStep_mm, y = 1.2 + (i / in_row) * 13.0;
    add_box(out, x, y, kBox_mm, kBox_mm, 0.45);
    out.texts.push_back({x + kBox_mm / 2, y + kBox_mm + 3, label, 2.6, Anchor::middle});
    ++i;
  }
  return 13.0 * std::max(1, (i + in_row - 1) / in_row);
}

/// Boxes to tick beside their words, then a column of cells to write in for each checkpoint, the
/// cuts above it; how far down it all reaches.
double add_cells(Drawing& out, const SheetLine& line) {
  double x = kBoxFrom_mm, top = 0.8, tick_x = 9;
  // All columns in one row where they can be a little narrower for it.
  const auto is_count = [](const std::string& label) {
    return label.find_first_not_of("0123456789") == std::string::npos;
  };
  const auto columns = std::count_if(line.boxes.begin(), line.boxes.end(), is_count),
             rests = std::count(line.boxes.begin(), line.boxes.end(), "rest");
  const double fitting = (out.width_mm - kBoxFrom_mm - double(rests) * kRest_mm) /
                         double(std::max<std::ptrdiff_t>(columns, 1));
  const double column = fitting >= kNarrow_mm ? std::min(fitting, kColumn_mm) : kColumn_mm;
  const double tall = kHead_mm + line.readings * kCell_mm;
  for (const auto& label : line.boxes) {
    const bool rest = label == "rest";
    if (!rest && !is_count(label)) {
      add_box(out, tick_x, 14, 5, 5, 0.45);
      out.texts.push_back({tick_x + 6.4, 17.7, label, 2.6, Anchor::start});
      tick_x += 26;
      continue;
    }
    const double width = rest ? kRest_mm : column;
    if (x + width > out.width_mm + 1e-9) {
      x = kBoxFrom_mm;
      top += tall + 2;
    }
    if (rest) {
      add_rest(out, x + width / 2, top + kHead_mm + 1, top + tall - 1);
    } else {
      out.texts.push_back({x + width / 2, top + 3, label, 2.8, Anchor::middle});
      for (int i = 0; i < line.readings; ++i)
        add_box(out, x, top + kHead_mm + i * kCell_mm, width, kCell_mm, 0.25);
    }
    x += width;
  }
  return std::max(20.0, top + tall);
}

/// One line of the sheet, as wide as the page.
Drawing drawing_of(const SheetLine& line, double width_mm) {
  Drawing out;
  out.width_mm = width_mm;
  out.height_mm = (line.readings > 0 ? add_cells(out, line) : add_ticks(out, line.boxes)) + 1.5;
  if (line.write_in)
    out.lines.push_back({{{width_mm - 34, 9}, {width_mm, 9}}, 0.25, false, false, false});
  out.texts.push_back({0, 7.2, line.number, 3.6, Anchor::start});
  out.texts.push_back({9, 7.4, line.code, kCode_mm, Anchor::start});
  double y = 4.0;
  for (const auto& text : line.beside) {
    out.texts.push_back({30, y, shortened(text), 2.6, Anchor::start});
    y += 3.6;
  }
  if (!line.what.empty()) {
    out.height_mm += 3.2;
    out.texts.push_back({9, out.height_mm - 2.2, line.what, 2.8, Anchor::start});
  }
  out.lines.push_back(
      {{{0, out.height_mm - 0.6}, {width_mm, out.height_mm - 0.6}}, 0.12, false, false, false});
  return out;
}

void write(const SheetDocument& document, PageWriter& page) {
  for (std::size_t d = 0; d < document.days.size(); ++d) {
    const auto& day = document.days[d];
    std::vector<Drawing> lines;
    double tall = 12;
    for (const auto& line : day.lines) {
      lines.push_back(drawing_of(line, page.width()));
      tall += lines.back().height_mm;
    }
    // A day is not torn apart where it fits on a page.
    if (d > 0 && tall > page.left()) page.turn();
    if (d == 0) {
      page.text(document.title, kTitle_mm, kInk, 0, 0, true);
      page.text(document.subtitle, kBody_mm, kQuiet);
      for (const auto& step : document.steps) page.text(step, kBody_mm, kInk);
      for (const auto& caution : document.cautions) page.text(caution, kBody_mm, kDanger);
    }
    page.gap(2);
    page.text(day.title + (day.note.empty() ? "" : "; " + day.note), kHeading_mm, kInk, 0, 0, true);
    page.rule();
    for (const auto& line : lines) page.figure(line);
  }
  if (document.key.empty()) return;
  page.turn();
  page.text(said("Sealed key"), kTitle_mm, kInk, 0, 0, true);
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
  out.subtitle = said(
      "{runs} runs of {checkpoints} cuts, {readings_each} readings at each checkpoint, threshold "
      "{threshold}{held}",
      {{"runs", std::to_string(sheet.runs.size())},
       {"checkpoints", std::to_string(sheet.checkpoints.empty() ? 0 : sheet.checkpoints.back())},
       {"readings_each", std::to_string(plan.checkpoints.readings_each)},
       {"threshold", plan.threshold},
       {"held", held}});
  out.steps = {
      "Each run: sharpen to the key, start gate, read before the first cut, then cut to each "
      "count, wipe, read and write each reading into a cell of its own. The number above a column "
      "is "
      "the count of cuts, two bars are a rest."};
  out.cautions = trial_cautions();
  int days = 0;
  for (const auto& run : sheet.runs) days = std::max(days, run.day);
  for (const auto& run : sheet.runs) {
    if (out.days.empty() || int(out.days.size()) < run.day) {
      SheetDay day;
      day.title = said("Day {day} of {days}{after_comma}",
                       {{"day", std::to_string(run.day)},
                        {"days", std::to_string(days)},
                        {"after_comma", after_comma(working_date(plan.rates.start_date, run.day,
                                                                 plan.rates.days_a_week))}});
      out.days.push_back(day);
    }
    SheetDay& day = out.days.back();
    if (!run.block.empty() && plan.blocks.by != BlockBy::day &&
        (!plan.blind || plan.blocks.by != BlockBy::blade) &&
        day.note.find(run.block) == std::string::npos)
      day.note += (day.note.empty() ? "" : ", ") + run.block;
    SheetLine line;
    line.number = std::to_string(run.order);
    line.code = run.code;
    for (const auto& text :
         {plan.blind ? std::string() : run.blade, run.by_operator,
          clock_of(run.starts_at_min) + ", " + std::to_string(std::lround(run.minutes)) + " min"})
      if (!text.empty()) line.beside.push_back(text);
    if (!plan.blind) line.what = shortened(describe(plan, run.levels), 90);
    line.boxes = {"sharpened", "gate"};
    line.readings = std::max(1, plan.checkpoints.readings_each);
    auto rest = run.rest_after_cuts.begin();
    for (const auto cuts : sheet.checkpoints) {
      for (; rest != run.rest_after_cuts.end() && *rest < cuts; ++rest)
        line.boxes.emplace_back("rest");
      line.boxes.push_back(std::to_string(cuts));
    }
    day.lines.push_back(line);
  }
  if (plan.blind) {
    out.key_note = said(
        "For whoever sharpens. Keep it from whoever cuts and reads until the last reading is in.");
    for (const auto& run : sheet.runs)
      out.key.emplace_back(
          run.code, (run.blade.empty() ? "" : run.blade + ": ") + describe(plan, run.levels));
    std::sort(out.key.begin(), out.key.end());
  }
  return out;
}

SheetDocument claim_document(const ClaimTest& test) {
  SheetDocument out;
  out.title = test.claim.sentence;
  out.subtitle =
      said("{pairs} pairs; measured: {measure}",
           {{"pairs", std::to_string(test.pairs)}, {"measure", words_of(test.claim.measure)}});
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
  out.key_note = said(
      "For whoever treats the edges. Keep it from whoever measures until the last figure is in.");
  return out;
}

std::string sheet_pdf(const SheetDocument& document) {
  return pdf_of([&](PageWriter& page) { write(document, page); }, kA4,
                said("Run sheet: {title}", {{"title", document.title}}), "");
}
std::vector<PageImage> sheet_pages(const SheetDocument& document, double dots_per_inch) {
  return pages_of([&](PageWriter& page) { write(document, page); }, kA4, dots_per_inch);
}

}  // namespace bq::inline report
