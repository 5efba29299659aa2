// The trial's report: golden text, same bytes, pictures as vectors, the readings attached.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <sstream>

#include "report/picture_drawing.h"
#include "report/trial_report.h"
#include "run_cli.h"
#include "store/readings_export.h"
#include "support.h"
#include "workflow/report_source.h"

using namespace bq;

namespace {

struct Made {
  test::Folder folder;
  SourceResult source;
  std::vector<RunFit> fits;
  TrialStudyOptions options;
  TrialReport report;
  Made() {
    std::istringstream none;
    source = read_source(test::whole_demo_project(folder).string(), none);
    fits = *fit_runs(source.trial, {}, {});
    options.bootstrap_refits = 60;
    report = trial_report(source, *study_trial(source, fits, options), options, "2026-03-10");
  }
};
Made& made() {
  static Made m;
  return m;
}

/// The words of a report, one a line: what a reader reads.
std::string words_of_report(const TrialReport& r) {
  std::ostringstream out;
  out << r.title << '\n' << r.work << '\n' << r.verdict << '\n';
  for (const auto& [label, value] : r.first.make) out << label << ": " << value << '\n';
  out << r.first.sure << '\n';
  for (const auto* lines : {&r.first.against, &r.first.limits, &r.first.rests_on, &r.cautions})
    for (const auto& line : *lines) out << "- " << line << '\n';
  for (const auto& line : r.reasons) out << "- " << line << '\n';
  out << r.rule << '\n';
  for (const auto& line : r.sensitivity) out << "- " << line << '\n';
  for (const auto& [matter, sentences] : r.schools)
    for (const auto& sentence : sentences) out << matter << ": " << sentence << '\n';
  for (const auto& part : r.parts) {
    out << "? " << part.question << '\n' << part.sentence << '\n';
    for (const auto& remark : part.remarks) out << "- " << remark << '\n';
  }
  for (const auto& line : r.methods) out << line << '\n';
  return out.str();
}

}  // namespace

// Written anew with BQ_GOLDEN=write; read the change before it is kept.
TEST(Report, SaysWhatItSaidBefore) {
  const std::string path = BQ_SOURCE_DIR "/tests/data/report.txt",
                    now = words_of_report(made().report);
  if (const char* wish = std::getenv("BQ_GOLDEN"); wish && std::string(wish) == "write")
    std::ofstream(path) << now;
  EXPECT_EQ(now, test::read_file(path));
}

TEST(Report, IsTheSameBytesForTheSameProjectAndDay) {
  Made& m = made();
  const std::string html = report_html(m.report), pdf = report_pdf(m.report);
  const TrialReport again =
      trial_report(m.source, *study_trial(m.source, m.fits, m.options), m.options, "2026-03-10");
  EXPECT_EQ(report_html(again), html);
  EXPECT_EQ(report_pdf(again), pdf);
  EXPECT_EQ(pdf.substr(0, 5), "%PDF-");
  // Another day changes the day alone.
  TrialReport later = m.report;
  later.date = "2026-03-11";
  std::string other = report_html(later);
  const auto at = other.find("2026-03-11");
  ASSERT_NE(at, std::string::npos);
  other.replace(at, 10, "2026-03-10");
  EXPECT_EQ(other, html);
}

TEST(Report, HoldsTheReadingsWholeAndPicturesAsVectors) {
  Made& m = made();
  std::ostringstream csv;
  write_readings_csv(m.source.trial, csv);
  EXPECT_EQ(m.report.csv, csv.str());
  const std::string html = report_html(m.report);
  EXPECT_EQ(html.find("<img"), std::string::npos);
  EXPECT_EQ(html.find("http"), std::string::npos) << "nothing from outside";
  std::size_t drawings = 0;
  for (std::size_t at = html.find("<svg"); at != std::string::npos; at = html.find("<svg", at + 1))
    ++drawings;
  EXPECT_EQ(m.report.micrographs.size(), 5u);
  EXPECT_EQ(drawings, std::size_t(kQuestions) + 2 + m.report.micrographs.size())
      << "one a question, the edge, the trade-off, the photographs";
  const std::string pdf = report_pdf(m.report);
  EXPECT_NE(pdf.find("/EmbeddedFile"), std::string::npos);
  EXPECT_NE(pdf.find("/Subtype /Image"), std::string::npos) << "the photographs";
  TrialReport bare = m.report;
  bare.micrographs.clear();
  EXPECT_EQ(report_pdf(bare).find("/Subtype /Image"), std::string::npos)
      << "everything else without pixels";
  EXPECT_GE(report_pages(m.report, 40).size(), 8u);
}

TEST(Report, TextOfTheUserCannotBecomeMarkup) {
  TrialReport report = made().report;
  report.title = "<script>alert(1)</script> & \"more\"";
  const std::string html = report_html(report);
  EXPECT_EQ(html.find("<script>"), std::string::npos);
  EXPECT_NE(html.find("&lt;script&gt;"), std::string::npos);
}

TEST(PictureDrawing, PutsPointsWhereTheAxesSay) {
  Picture picture;
  picture.x_log = picture.y_log = true;
  PictureSeries line;
  line.name = "a";
  line.x = {1, 10, 100};
  line.y = {10, 100, 1000};
  picture.series = {line};
  const Drawing drawing = draw_picture(picture, {}, 180, 80);
  // A power law is a straight line on log axes, inside the picture.
  const auto drawn =
      std::find_if(drawing.lines.begin(), drawing.lines.end(),
                   [](const DrawingLine& l) { return l.series && l.points.size() == 3; });
  ASSERT_NE(drawn, drawing.lines.end());
  const auto& p = drawn->points;
  EXPECT_NEAR((p[1].first - p[0].first) / (p[2].first - p[0].first), 0.5, 1e-9);
  EXPECT_NEAR((p[1].second - p[0].second) / (p[2].second - p[0].second), 0.5, 1e-9);
  for (const auto& [x, y] : p) EXPECT_TRUE(x > 0 && x < 180 && y > 0 && y < 80);
  EXPECT_EQ(axis_ticks(1, 1000, true).size(), 10u);
  for (const auto& [low, high] :
       {std::pair(0.0, 1.0), std::pair(-3.2, 17.0), std::pair(101.0, 103.0)}) {
    const auto ticks = axis_ticks(low, high, false);
    EXPECT_GE(ticks.size(), 3u);
    EXPECT_LE(ticks.size(), 11u);
    for (const double tick : ticks) EXPECT_TRUE(tick >= low - 1e-9 && tick <= high + 1e-9);
  }
  // Nothing drawn is no fault.
  EXPECT_FALSE(draw_picture(Picture{}, {}, 100, 50).lines.empty());
}
