// One picture's measures carried over to others, and what a report cuts out of large ones.
#include "workflow/measure_series.h"

#include <gtest/gtest.h>

#include "lens/other_microscope.h"
#include "lens/png_bytes.h"
#include "support.h"
#include "workflow/project_session.h"
#include "workflow/shown_pictures.h"

namespace bq {
namespace {

Micrograph picture_of(std::int64_t id, const OtherScene& scene, double um_per_px) {
  Micrograph m;
  m.id = id;
  m.name = "p" + std::to_string(id) + ".png";
  m.width = scene.width;
  m.height = scene.height;
  m.scale = PictureScale{um_per_px, 0, "told", {}};
  return m;
}

OtherScene scene_of(std::uint64_t seed) {
  OtherScene s;
  s.seed = seed;
  s.bevel = 200;
  s.apex_at = -90;
  s.noise = 3;
  return s;
}

LensMeasure measured(const OtherPicture& picture, double u, double bevel) {
  const auto take = take_measure(picture.image, LensMeasureKind::bevel_width, picture.place(u, 0),
                                 picture.place(u, bevel));
  EXPECT_TRUE(take) << take.refusal().reason;
  return {LensMeasureKind::bevel_width, {*take}, "left"};
}

TEST(MeasureSeries, OtherPicturesAreMeasuredWhereTheFirstOneWas) {
  OtherScene first = scene_of(1);
  const OtherPicture shown = other_picture(first);
  Trial trial;
  Micrograph like = picture_of(1, first, 0.5);
  like.measures = {measured(shown, -150, 200), measured(shown, 120, 200)};
  LensTake by_hand = like.measures[0].takes[0];
  by_hand.snapped = false;
  like.measures.push_back({LensMeasureKind::burr_height, {by_hand}, ""});
  like.along = *stretch_along(shown.image, false, 0.5);
  trial.micrographs.push_back(like);
  const auto wanted = template_of(trial, like, shown.image);
  ASSERT_TRUE(wanted) << wanted.refusal().reason;
  EXPECT_EQ(wanted->items.size(), 2u) << "a hand is not repeated";
  EXPECT_TRUE(wanted->along && wanted->apex);
  const auto back = parse_template(template_json(*wanted));
  ASSERT_TRUE(back) << back.refusal().reason;
  EXPECT_EQ(*back, *wanted);

  // Another place in the picture, turned, with a narrower bevel; then twice as fine, and of
  // another size.
  for (const double zoom : {1.0, 2.0}) {
    OtherScene other = scene_of(2);
    other.width = int(800 * zoom);
    other.height = int(600 * zoom);
    other.turn_deg = 4;
    other.bevel = 190 * zoom;
    other.apex_at = -60 * zoom;
    const OtherPicture picture = other_picture(other);
    Micrograph m = picture_of(2, other, 0.5 / zoom);
    const SeriesPicture found = measure_like(*wanted, trial, m, picture.image);
    ASSERT_EQ(found.measures.size(), 2u);
    for (const auto& one : found.measures) {
      ASSERT_TRUE(one.take) << one.why_not;
      EXPECT_NEAR(one.take->value_px, other.bevel, 3 * zoom);
      EXPECT_EQ(one.note, "left");
    }
    ASSERT_TRUE(found.along) << found.why_not_along;
    m = with_series(m, found);
    EXPECT_EQ(m.measures.size(), 2u);
    // Once is enough.
    const SeriesPicture again = measure_like(*wanted, trial, m, picture.image);
    for (const auto& one : again.measures) EXPECT_FALSE(one.take);
    EXPECT_FALSE(again.along);
    EXPECT_EQ(with_series(m, again), m);
  }
  // Where nothing can be measured it is said, not guessed.
  const GreyImage blank = *GreyImage::make(640, 480, 120);
  Micrograph bare = picture_of(3, first, 0.5);
  bare.width = 640;
  bare.height = 480;
  for (const auto& one : measure_like(*wanted, trial, bare, blank).measures) {
    EXPECT_FALSE(one.take);
    EXPECT_NE(one.why_not.find("no apex"), std::string::npos) << one.why_not;
  }
  bare.width = 800;
  bare.height = 600;
  const GreyImage plain = *GreyImage::make(800, 600, 120);
  for (const auto& one : measure_like(*wanted, trial, bare, plain).measures)
    EXPECT_NE(one.why_not.find("no two edges"), std::string::npos) << one.why_not;
}

TEST(MeasureSeries, ATemplateThatSaysNothingIsRefusedWithItsPlace) {
  Trial trial;
  const OtherScene scene = scene_of(1);
  const OtherPicture shown = other_picture(scene);
  EXPECT_FALSE(template_of(trial, picture_of(1, scene, 0.5), shown.image));
  const std::pair<const char*, const char*> faults[] = {
      {R"({"size": [800, 600], "measures": []})", "measures"},
      {R"({"size": [0, 600], "along": true})", "size"},
      {R"({"size": [800, 600], "measures": [{"kind": "length", "from": [1, 2], "to": [3, 4]}]})",
       "measures[0].kind"},
      {R"({"size": [800, 600], "measures": [{"kind": "chip", "from": [1], "to": [3, 4]}]})",
       "measures[0].from"},
      {R"({"size": [800, 600], "along": true,
           "apex": {"at": [1, 2], "along": [1, 1], "inward": [0, 1]}})",
       "apex.along"},
      {"{", "1:2: this is not valid JSON"}};
  for (const auto& [text, place] : faults) {
    const auto read = parse_template(text);
    ASSERT_FALSE(read) << text;
    EXPECT_NE(read.refusal().reason.find(place), std::string::npos) << read.refusal().reason;
  }
}

TEST(MeasureSeries, AReportCutsTheMeasuredPartOutOfALargePicture) {
  Micrograph m;
  m.id = 5;
  m.width = 4200;
  m.height = 2800;
  EXPECT_EQ(measured_part(m), (PicturePart{0, 0, 4200, 2800})) << "nothing is measured";
  LensTake take;
  take.points = take.drawn = {{3900, 400}, {4100, 900}};
  take.value_px = 500;
  m.measures = {{LensMeasureKind::bevel_width, {take}, ""}};
  const PicturePart part = measured_part(m);
  EXPECT_GE(part.width, 480);
  EXPECT_LT(part.width, 1000);
  EXPECT_EQ(part.x + part.width, 4200) << "it stays inside the picture";
  EXPECT_LE(part.x, 3900);
  EXPECT_LE(part.y, 400);
  EXPECT_GE(part.y + part.height, 900);
  // Marks lie where they are in what is shown.
  Trial trial;
  const MicrographFigure figure =
      figure_of(trial, m, {png_bytes(*GreyImage::make(64, 48, 1)), part});
  const Drawing drawing = draw_micrograph(figure, 100);
  for (const auto& line : drawing.lines)
    for (const auto& [x, y] : line.points) {
      EXPECT_GE(x, -3);
      EXPECT_LE(x, 103);
      EXPECT_LE(y, drawing.height_mm + 3);
    }
  // A small one is shown whole.
  m.width = 800;
  m.height = 600;
  m.measures[0].takes[0].drawn = m.measures[0].takes[0].points = {{100, 100}, {700, 500}};
  EXPECT_EQ(measured_part(m), (PicturePart{0, 0, 800, 600}));
}

TEST(MeasureSeries, PicturesThatMayLieOffGiveNoRecession) {
  const OtherPicture one = other_picture(scene_of(1));
  SamePlace laid;
  laid.other = 1;
  laid.marks = {{{1, 2}, {1, 2}}, {{300, 2}, {300, 2}}};
  EXPECT_TRUE(stretch_since(one.image, one.image, laid, false, 0));
  laid.doubt = "the marks lie close together";
  const auto doubted = stretch_since(one.image, one.image, laid, false, 0);
  ASSERT_FALSE(doubted);
  EXPECT_NE(doubted.refusal().reason.find("close together"), std::string::npos);
  // A burr that breaks off is no metal of the edge.
  OtherScene burred = scene_of(3);
  burred.burr = 25;
  const OtherPicture before = other_picture(burred);
  laid.doubt.clear();
  const auto alone = stretch_along(before.image, false, 0.5);
  ASSERT_TRUE(alone) << alone.refusal().reason;
  EXPECT_TRUE(alone->burr);
  const auto since = stretch_since(before.image, one.image, laid, false, 0);
  ASSERT_FALSE(since);
  EXPECT_NE(since.refusal().reason.find("a burr stands on the apex in the earlier"),
            std::string::npos)
      << since.refusal().reason;
}

}  // namespace
}  // namespace bq
