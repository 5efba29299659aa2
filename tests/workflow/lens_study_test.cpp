// What measures become: values with their uncertainty, angles against the log, stones by their
// scratches, answers and the report.
#include "workflow/lens_study.h"

#include <gtest/gtest.h>

#include <cmath>

#include "lens/png_bytes.h"
#include "report/trial_report.h"
#include "stats/random.h"
#include "store/picture_store.h"
#include "support.h"
#include "workflow/answers.h"
#include "workflow/project_session.h"
#include "workflow/report_source.h"
#include "workflow/stone_truth.h"

namespace bq {
namespace {

std::string png_of_grey() { return png_bytes(*GreyImage::make(400, 300, 120)); }

LensTake take(double px, double error = 0.4) {
  LensTake out;
  out.points = out.drawn = {{10, 10}, {10 + px, 10}};
  out.value_px = px;
  out.error_px = error;
  return out;
}

TEST(LensStudy, UncertaintyComesFromScaleAndRepeat) {
  const PictureScale exact{0.25, 0, "", {}}, loose{0.25, 0.02, "", {}};
  EXPECT_NEAR(value_of({LensMeasureKind::bevel_width, {take(400)}, ""}, exact).plus_minus,
              1.96 * 0.4 * 0.25, 1e-9);
  EXPECT_NEAR(value_of({LensMeasureKind::bevel_width, {take(400)}, ""}, loose).plus_minus,
              std::hypot(1.96 * 0.4 * 0.25, 1.96 * 0.02 * 100), 1e-9);
  const LensValue twice =
      value_of({LensMeasureKind::bevel_width, {take(400), take(404)}, ""}, exact);
  EXPECT_NEAR(twice.value, 100.5, 1e-9);
  EXPECT_NEAR(twice.repeat_um, 0.25 * std::sqrt(8), 1e-9);
  // Five takings of a shaking hand: 95 % intervals of the mean cover it.
  stats::Random random(3);
  int inside = 0;
  for (int i = 0; i < 2000; ++i) {
    LensMeasure m{LensMeasureKind::chip, {}, ""};
    for (int k = 0; k < 5; ++k) m.takes.push_back(take(200 + 3 * random.normal(), 0.2));
    const LensValue v = value_of(m, exact);
    inside += std::abs(v.value - 50) < v.plus_minus;
  }
  EXPECT_NEAR(inside / 2000.0, 0.955, 0.015);
  // A direction near ±90° is averaged round the corner.
  LensTake one = take(10), other = take(10);
  one.second = 89;
  other.second = -89;
  EXPECT_NEAR(std::abs(*value_of({LensMeasureKind::scratches, {one, other}, ""}, exact).second), 90,
              1e-9);
}

TEST(LensStudy, ScaleAndAngleRefuseWhatCannotBe) {
  const auto scale = [](double px, double um) {
    return scale_from({{{0, 0}, {px, 0}, um, px, 1}}, 800, 600, "x");
  };
  EXPECT_NEAR(scale(500, 100)->um_per_px, 0.2, 1e-12);
  EXPECT_FALSE(scale(5, 100));
  EXPECT_FALSE(scale(500, 0));
  EXPECT_FALSE(scale(500, 9e6));
  Trial trial = test::demo();
  Micrograph m;
  m.run = trial.runs[0].facts.name;
  m.side = EdgeSide::left;
  LensValue bevel;
  bevel.value = 800;
  bevel.plus_minus = 4;
  const double truth =
      2 * 0.8 *
      std::sin(12 * std::acos(-1) / 180);  // mm behind the edge of a 12° edge, 0.8 mm bevels
  const auto angle =
      angle_from_picture(trial, m, bevel, truth, 0.005, true, AngleConvention::per_side);
  ASSERT_TRUE(angle);
  EXPECT_NEAR(angle->angle_deg, 12, 1e-9);
  EXPECT_NEAR(angle->plus_minus_deg, 0.19, 0.02);
  EXPECT_NEAR(*angle->logged_deg, trial.runs[0].facts.geometry->edge().left_deg, 1e-9);
  // The same edge with its side seen square: the bevel looks narrower.
  bevel.value = 800 * std::cos(12 * std::acos(-1) / 180);
  EXPECT_NEAR(angle_from_picture(trial, m, bevel, truth, 0.005, false, AngleConvention::inclusive)
                  ->angle_deg,
              12, 1e-9);
  EXPECT_NE(angle_from_picture(trial, m, bevel, truth, 0.005, false, AngleConvention::inclusive)
                ->sentence.find("24.0°"),
            std::string::npos);
  EXPECT_FALSE(angle_from_picture(trial, m, bevel, 0, 0.005, true, AngleConvention::per_side));
  EXPECT_FALSE(angle_from_picture(trial, m, bevel, 5, 0.005, true, AngleConvention::per_side));
}

Micrograph piece(const std::string& stone, double spacing_um, std::int64_t id) {
  Micrograph m;
  m.id = id;
  m.stone = stone;
  m.name = stone + std::to_string(id);
  m.magnification = "20x";
  m.measures = {
      {LensMeasureKind::scratches, {take(spacing_um / 0.25, 0.01 * spacing_um / 0.25)}, ""}};
  return m;
}

Abrasive abrasive(const char* name, const char* label, std::optional<double> measured) {
  Abrasive out;
  out.name = name;
  out.label = label;
  out.measured_um = measured;
  return out;
}

TEST(LensStudy, StonesAreOrderedByWhatTheyDoWithIntervalsThatHold) {
  Trial trial;
  trial.scales = {{"20x", {0.25, 0.001, "", {}}, ""}};
  trial.shelf = {abrasive("A", "JIS 1000", {}), abrasive("B", "JIS 2000", 6.0),
                 abrasive("C", "JIS 3000", {})};
  stats::Random random(5);
  int inside = 0, misled = 0, twins = 0;
  for (int world = 0; world < 400; ++world) {
    trial.micrographs.clear();
    const double truth[] = {11.5, 6.0, 5.8};
    for (int s = 0; s < 3; ++s)
      for (int k = 0; k < 3; ++k)
        trial.micrographs.push_back(piece(trial.shelf[std::size_t(s)].name,
                                          0.55 * truth[s] * std::exp(0.06 * random.normal()),
                                          s * 10 + k + 1));
    const StoneTruths found = stone_truths(trial, {"B"});
    EXPECT_FALSE(found.estimated);
    for (const auto& stone : found.stones) {
      if (stone.stone == "A") {
        inside += stone.low_um <= 11.5 && stone.high_um >= 11.5;

        misled += stone.label == StoneTruth::Label::misleads;
      }
      // JIS 3000 is 4 µm by its label; this one works like 5.8.
      if (stone.stone == "C" && world == 0) {
        EXPECT_EQ(stone.label, StoneTruth::Label::misleads);
      }
    }
    for (const auto& pair : found.twins) twins += pair.coarse != "A" && pair.fine != "A";
  }
  EXPECT_NEAR(inside / 400.0, 0.95, 0.035);
  EXPECT_LT(misled, 12) << "a label that is right is hardly ever called misleading";
  EXPECT_GT(twins, 380);
  EXPECT_TRUE(stone_truths(trial, {}).estimated);
  trial.micrographs.push_back(piece("A", 6, 99));
  trial.micrographs.back().magnification = "unknown";
  EXPECT_EQ(stone_truths(trial, {}).left_out.size(), 1u);
}

Micrograph picture(std::int64_t id, int width, int height, double bevel_px) {
  Micrograph m;
  m.id = id;
  m.name = "p" + std::to_string(id) + ".png";
  m.width = width;
  m.height = height;
  m.magnification = "20x";
  if (bevel_px > 0) m.measures = {{LensMeasureKind::bevel_width, {take(bevel_px)}, ""}};
  return m;
}

TEST(LensStudy, AScaleBelongsToInstrumentMagnificationAndSize) {
  Trial trial;
  trial.scales = {{"20x", {0.25, 0.001, "", {}}, "", "", 800, 600}};
  EXPECT_EQ(scale_of(trial, picture(1, 800, 600, 0))->um_per_px, 0.25);
  EXPECT_FALSE(scale_of(trial, picture(1, 320, 240, 0)));
  EXPECT_NE(why_no_scale(trial, picture(1, 320, 240, 0)).find("800 × 600"), std::string::npos);
  Micrograph other = picture(1, 800, 600, 0);
  other.instrument = "the new camera";
  EXPECT_FALSE(scale_of(trial, other));
  // A file from before sizes were kept: the picture it was made in gives it, else the usual size.
  std::vector<MagnificationScale> old{{"20x", {0.25, 0.001, "p3.png: 100 µm", {}}, ""}};
  give_sizes(old, {picture(1, 800, 600, 0), picture(2, 800, 600, 0), picture(3, 1600, 1200, 0)});
  EXPECT_EQ(old[0].width, 1600);
  old = {{"20x", {0.25, 0.001, "stage scale", {}}, ""}};
  give_sizes(old, {picture(1, 800, 600, 0), picture(2, 800, 600, 0), picture(3, 1600, 1200, 0)});
  EXPECT_EQ(old[0].width, 800);
}

TEST(LensStudy, ANewScaleChangesNothingThatWasMeasuredUnlessAsked) {
  const test::Folder folder;
  ProjectFile::create(folder / "p.bquarry", "P");
  auto session = ProjectSession::open(folder / "p.bquarry");
  for (int i = 1; i <= 3; ++i) {
    Micrograph m = picture(0, 800, 600, 400);
    m.id = session.pictures()->add(m.name, "png", png_of_grey());
    session.add_micrograph(m, "");
  }
  session.set_scale({"20x", {0.25, 0.001, "", {}}, "", "", 800, 600});
  const auto um = [&](std::size_t i) {
    const Micrograph& m = session.trial().micrographs[i];
    const auto scale = scale_of(session.trial(), m);
    return scale ? value_of(m.measures[0], *scale).value : 0;
  };
  EXPECT_EQ(um(0), 100);
  const auto& last = session.trial().micrographs[2];
  const ScaleReach reach = reach_of(session.trial(), last, {0.5, 0.001, "", {}});
  EXPECT_EQ(reach.others.size(), 2u);
  EXPECT_EQ(reach.measures, 2);
  EXPECT_EQ(reach.factor, 2);
  session.set_scale({"20x", {0.5, 0.001, "", {}}, "", "", 800, 600});
  EXPECT_EQ(um(0), 100) << "measured with the scale that was";
  EXPECT_TRUE(session.trial().micrographs[0].scale);
  session.undo();
  EXPECT_EQ(um(0), 100);
  EXPECT_FALSE(session.trial().micrographs[0].scale) << "one act, one undo";
  session.set_scale({"20x", {0.5, 0.001, "", {}}, "", "", 800, 600}, true);
  EXPECT_EQ(um(0), 200);
  session.undo();
  EXPECT_EQ(um(0), 100);
}

TEST(LensStudy, SeveralReadingsOfARulerSayHowSureAndWhetherThePictureIsDistorted) {
  stats::Random random(6);
  const auto reading = [&](Spot from, Spot to, double um_per_px) {
    const double px = length(to - from) + 0.5 * random.normal();
    return ScaleReading{from, to, um_per_px * length(to - from), px, 0.5};
  };
  int inside = 0, warned = 0;
  for (int k = 0; k < 400; ++k) {
    std::vector<ScaleReading> all;
    for (int i = 0; i < 4; ++i)
      all.push_back(i % 2 ? reading({300, 200.0 + 40 * i}, {500, 200.0 + 40 * i}, 0.25)
                          : reading({300.0 + 40 * i, 200}, {300.0 + 40 * i, 400}, 0.25));
    const auto made = scale_from(all, 800, 600, "x");
    ASSERT_TRUE(made);
    inside += std::abs(made->um_per_px - 0.25) <= 1.96 * made->relative_error * made->um_per_px;
    warned += made->how.find("differ") != std::string::npos;
  }
  EXPECT_GT(inside, 0.92 * 400);
  EXPECT_LT(warned, 0.08 * 400);
  // A pixel that is a fiftieth taller than wide, and a rim that is drawn in.
  const auto skewed =
      scale_from({reading({300, 200}, {500, 200}, 0.25), reading({300, 200}, {300, 400}, 0.255)},
                 800, 600, "x");
  EXPECT_NE(skewed->how.find("rows and along the columns differ"), std::string::npos)
      << skewed->how;
  EXPECT_GT(skewed->relative_error, 0.008);
  const auto rim = scale_from(
      {reading({300, 300}, {500, 300}, 0.25), reading({10, 20}, {210, 20}, 0.256)}, 800, 600, "x");
  EXPECT_NE(rim->how.find("at the rim differ"), std::string::npos) << rim->how;
  EXPECT_FALSE(scale_from(
      {reading({300, 300}, {500, 300}, 0.25), reading({10, 20}, {210, 20}, 0.5)}, 800, 600, "x"))
      << "a reading of twice the length is no distortion";
}

TEST(LensStudy, RepeatsDoNotAverageWhatTheyShare) {
  LensTake one = take(100);
  one.error_px = 1;
  one.common_px = 2;
  LensMeasure measure{LensMeasureKind::bevel_width, {}, ""};
  for (int i = 0; i < 25; ++i) measure.takes.push_back(one);
  EXPECT_NEAR(value_of(measure, {1, 0, "", {}}).plus_minus, 1.96 * std::hypot(0.2, 2.0), 0.02);
  // By hand, a pixel of the screen is what a hand can show.
  const GreyImage image = *GreyImage::make(900, 600, 90);
  const auto at_fit = take_measure(image, LensMeasureKind::bevel_width, {100, 100}, {300, 100},
                                   {false, false, false, 7.5});
  EXPECT_NEAR(at_fit->error_px, 7.5 * std::sqrt(2.0), 1e-9);
}

TEST(LensStudy, TheLargestChipOfAPictureBringsItsOwnInterval) {
  Trial trial;
  trial.scales = {{"20x", {0.25, 0.001, "", {}}, "", "", 800, 600}};
  trial.runs.emplace_back();
  trial.runs.back().facts.name = "R";
  for (const std::int64_t cuts : {0, 100}) {
    Micrograph m = picture(1 + cuts, 800, 600, 0);
    m.run = "R";
    m.cuts = cuts;
    m.measures = {{LensMeasureKind::chip, {take(20)}, ""}, {LensMeasureKind::chip, {take(80)}, ""}};
    trial.micrographs.push_back(m);
  }
  AnswerSource answers;
  answers.facts = &trial;
  const Answer found = answer(Question::pictures, answers);
  ASSERT_EQ(found.picture.series.size(), 1u);
  const auto& series = found.picture.series[0];
  for (std::size_t i = 0; i < series.y.size(); ++i) {
    EXPECT_EQ(series.y[i], 20);
    EXPECT_LT(series.y_low[i], 20);
    EXPECT_GT(series.y_high[i], 20) << "the small chip's interval";
  }
}

TEST(LensStudy, PicturesAnswerAQuestionAndGoIntoTheReport) {
  SourceResult source;
  source.trial = test::demo();
  source.threshold = "450 gf";
  const std::string run = source.trial.runs[0].facts.name;
  source.trial.scales = {{"20x", {0.25, 0.001, "", {}}, ""}};
  for (const auto& [cuts, px] : {std::pair<std::int64_t, double>{0, 16}, {150, 40}}) {
    Micrograph m;
    m.id = 1 + cuts;
    m.name = "p" + std::to_string(cuts) + ".png";
    m.run = run;
    m.cuts = cuts;

    m.magnification = "20x";
    m.width = 400;
    m.height = 300;
    m.measures = {{LensMeasureKind::burr_height, {take(px)}, ""}};
    source.trial.micrographs.push_back(m);
  }
  const auto& fits = test::demo_fits();
  AnswerSource answers;
  const Trial facts = for_answers(source.trial);
  answers.facts = &facts;
  answers.fits = &fits;
  const Answer found = answer(Question::pictures, answers);
  EXPECT_TRUE(found.answered);
  EXPECT_NE(found.sentence.find("4.0 ± 0.2 µm after 0 cuts, 10.0 ± 0.2 µm after 150 cuts"),
            std::string::npos)
      << found.sentence;
  EXPECT_EQ(found.table.rows.size(), 2u);
  EXPECT_EQ(found.picture.series.size(), 1u);
  Trial bare = facts;
  bare.micrographs.clear();
  answers.facts = &bare;
  EXPECT_FALSE(answer(Question::pictures, answers).answered);

  source.pictures[151] = {png_of_grey(), {0, 0, 800, 600}};
  TrialStudyOptions options;
  options.bootstrap_refits = 20;
  options.workers = 1;
  const auto study = study_trial(source, fits, options);
  ASSERT_TRUE(study) << study.refusal().reason;
  const TrialReport report = trial_report(source, *study, options, "2026-05-04");
  ASSERT_EQ(report.micrographs.size(), 1u) << "one has no small picture yet";
  EXPECT_FALSE(report.micrographs_note.empty());
  EXPECT_NE(report.micrographs[0].second.find("burr height 10.0 ± 0.2 µm"), std::string::npos)
      << report.micrographs[0].second;
  const std::string html = report_html(report);
  EXPECT_NE(html.find("data:image/png;base64,"), std::string::npos);
  EXPECT_NE(html.find("Pictures of the edges"), std::string::npos);
  EXPECT_GT(report_pdf(report).size(), 10'000u);
}

}  // namespace
}  // namespace bq
