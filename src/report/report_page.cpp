// The trial's report on pages.
#include "quantity/said.h"
#include "report/page_writer.h"
#include "report/pdf_attachment.h"
#include "report/trial_report.h"

namespace bq::inline report {
namespace {

using namespace page_style;

/// Text that goes with a picture: question, sentence, a remark.
constexpr double kWithPicture_mm = 26;

/// The page for whoever ordered the trial.
void write_first(const TrialReport& report, PageWriter& page) {
  const FirstPage& first = report.first;
  page.gap(3);
  page.text(report.verdict, 5.4, kInk, 0, 0, true);
  page.gap(3);
  if (first.edge) page.figure(*first.edge);
  page.gap(2);
  for (const auto& [label, value] : first.make) page.row(label, value);
  for (const auto& [heading, lines] : first.lists()) {
    page.gap(2);
    page.text(heading, kHeading_mm, kInk, 0, 0, true);
    for (const auto& line : lines) page.text("– " + line, kBody_mm, kInk, 2);
  }
  page.gap(3);
  for (const auto& line : report.cautions) page.text(line, kBody_mm, kDanger);
}

void write(const TrialReport& report, PageWriter& page) {
  page.text(report.title, kTitle_mm, kInk, 0, 0, true);
  page.text(said("Trial report{date}. {work}",
                 {{"date", report.date.empty() ? std::string() : ", " + report.date},
                  {"work", report.work}}),
            kBody_mm, kQuiet);
  page.rule();
  write_first(report, page);
  page.turn();
  page.text(said("In detail"), kHeading_mm, kInk, 0, 0, true);
  for (const auto& reason : report.reasons) page.text("– " + reason, kBody_mm, kInk, 2);
  page.gap(1);
  if (report.trade_off) page.figure(*report.trade_off);
  if (!report.ranking.rows.empty()) {
    page.text(said("Edges that pass the limits"), kHeading_mm, kInk, 0, 0, true);
    page.text(report.rule, kBody_mm, kQuiet);
    page.table(report.ranking.heads, report.ranking.rows);
  }
  if (!report.sensitivity.empty()) {
    page.room(14);
    page.text(said("What would change it"), kHeading_mm, kInk, 0, 0, true);
    for (const auto& line : report.sensitivity) page.text("– " + line, kBody_mm, kInk, 2);
  }
  if (!report.schools.empty()) {
    page.room(20);
    page.text(said("Where practitioners disagree"), kHeading_mm, kInk, 0, 0, true);
    for (const auto& [matter, sentences] : report.schools) {
      page.text(matter, kBody_mm, kInk, 0, 0, true);
      for (const auto& sentence : sentences) page.text(sentence, kBody_mm, kInk, 2);
    }
  }
  for (const auto& part : report.parts) {
    page.rule();
    // A question keeps its picture beside it; a lower one where the page has no room for the other.
    const Drawing* picture = part.picture ? &*part.picture : nullptr;
    if (picture && part.low_picture && page.left() < picture->height_mm + kWithPicture_mm)
      picture = page.left() < part.low_picture->height_mm + kWithPicture_mm ? picture
                                                                            : &*part.low_picture;
    page.room(picture ? picture->height_mm + kWithPicture_mm : 22);
    page.text(part.question, kBody_mm, kQuiet);
    page.text(part.sentence, 3.6, kInk, 0, 0, true);
    for (const auto& remark : part.remarks) page.text(remark, kBody_mm, kInk);
    page.gap(1);
    if (picture) page.figure(*picture);
    page.gap(1);
    page.table(part.table.heads, part.table.rows);
    if (!part.computed.empty()) page.text(part.computed, kTable_mm, kQuiet);
  }
  if (!report.micrographs.empty()) {
    page.rule();
    page.room(report.micrographs.front().first.height_mm + 20);
    page.text(said("Pictures of the edges"), kHeading_mm, kInk, 0, 0, true);
    for (const auto& [drawing, caption] : report.micrographs) {
      page.room(drawing.height_mm + 12);
      page.figure(drawing);
      page.gap(1);
      page.text(caption, kTable_mm, kQuiet);
      page.gap(3);
    }
    if (!report.micrographs_note.empty()) page.text(report.micrographs_note, kTable_mm, kQuiet);
  }
  page.rule();
  page.room(30);
  page.text(said("Methods and uncertainty"), kHeading_mm, kInk, 0, 0, true);
  for (const auto& line : report.methods) page.text(line, kBody_mm, kInk);
}

}  // namespace

std::string report_pdf(const TrialReport& report) {
  const std::string pdf =
      pdf_of([&](PageWriter& page) { write(report, page); }, kA4,
             said("Trial report: {title}", {{"title", report.title}}), report.date);
  return report.csv.empty() ? pdf : with_attachment(pdf, report.csv_name, report.csv, report.date);
}

std::vector<PageImage> report_pages(const TrialReport& report, double dots_per_inch) {
  return pages_of([&](PageWriter& page) { write(report, page); }, kA4, dots_per_inch);
}

}  // namespace bq::inline report
