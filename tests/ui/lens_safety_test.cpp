// What must not happen on Lens: a finished measure that changes unasked, a view that is taken away,
// a picture that is lost because its file was not whole yet.
#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QImage>
#include <QLabel>
#include <QListWidget>
#include <QTimer>

#include "stats/random.h"
#include "ui/lens/lens_panels.h"
#include "ui/lens/several_dialog.h"
#include "ui/lens_hand.h"

using namespace bq;
using namespace bq::ui;
using test::named;
using test::shown_button;
using test::wait_for;

namespace {

using LensSafety = test::LensWindow;

void write(const QString& path, const std::string& bytes) {
  QFile file(path);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
  file.write(bytes.data(), qint64(bytes.size()));
}

TEST_F(LensSafety, ANewScaleLeavesWhatWasMeasuredUnlessItIsTicked) {
  MicroscopeSubject subject;
  subject.bevel_um = 70;
  MicroscopeShot shot;
  const MicroscopeTruth truth = file("one.png", subject, shot);
  bring("one.png");
  model().set_facts([](Micrograph& m) { m.magnification = "20x"; }, "magnification");
  calibrate(truth);
  EXPECT_FALSE(model().current()->scale) << "kept for the magnification at this size";
  key(Qt::Key_W);
  click(truth.place(-40, 0));
  click(truth.place(-40, 70));
  ASSERT_TRUE(wait_for([&] { return model().current()->measures.size() == 1; }));
  const std::int64_t first = model().current_id();
  const auto um = [&] {
    const Micrograph& m = *window_->workbench().session().micrograph(first);
    return value_of(m.measures[0], *scale_of(trial(), m)).value;
  };
  const double before = um();
  shot.seed = 9;
  const MicroscopeTruth other = file("two.png", subject, shot);
  bring("two.png");
  ASSERT_TRUE(model().scale()) << "the same size and magnification";
  for (const bool also : {false, true}) {
    key(Qt::Key_K);
    click(other.bar_from);
    click(other.bar_to);
    named<NumberEntry>(view_, "Known length")->setValue(2 * other.bar_um);
    QCheckBox* earlier = nullptr;
    for (auto* box : view_->findChildren<QCheckBox*>())
      if (box->text().contains("earlier picture")) earlier = box;
    if (!also) {
      ASSERT_TRUE(earlier && earlier->isVisible());
      EXPECT_FALSE(earlier->isChecked());
      EXPECT_TRUE(earlier->text().contains("1 measure")) << earlier->text().toStdString();
    }
    if (also) earlier->setChecked(true);
    QTest::mouseClick(shown_button(view_, "Keep the scale"), Qt::LeftButton);
    EXPECT_NEAR(um(), also ? 2 * before : before, 0.01 * before) << also;
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
    EXPECT_NEAR(um(), before, 1e-9);
  }
  // A picture of another size has no scale by that name, and is told why.
  shot.width = 400;
  shot.height = 300;
  file("small.png", subject, shot);
  bring("small.png");
  EXPECT_EQ(model().current()->magnification, "20x");
  EXPECT_FALSE(model().scale());
  key(Qt::Key_W);
  click({100, 100});
  EXPECT_TRUE(window_->message().contains(QString::fromUtf8("800 × 600")))
      << window_->message().toStdString();
}

TEST_F(LensSafety, WhereNoBarIsFoundThePointsCountAsAHandAtThatZoom) {
  stats::Random random(4);
  GreyImage noise = *GreyImage::make(6000, 3000, 90);
  for (int y = 0; y < noise.height(); ++y)
    for (int x = 0; x < noise.width(); ++x)
      noise.row(y)[x] = std::uint8_t(90 + 8 * random.normal());
  folder_.write("wide.png", png_bytes(noise));
  bring("wide.png");
  key(Qt::Key_K);
  click({1500, 1500});
  click({4500, 1500});
  ASSERT_EQ(model().points().size(), 2u);
  EXPECT_TRUE(model().reading_words().contains("as you showed it"))
      << model().reading_words().toStdString();
  const auto scale = model().scale_shown(100);
  ASSERT_TRUE(scale);
  // Fitted into the window a screen pixel is about seven of the picture's.
  EXPECT_GT(scale->readings[0].error_px, 6);
}

TEST_F(LensSafety, ArrivalsWaitAndWhatGrowsOrComesAgainIsTakenIn) {
  const QString watched = QString::fromStdString((folder_ / "captures").string());
  QDir().mkpath(watched);
  MicroscopeSubject piece;
  piece.piece = true;
  MicroscopeShot shot;
  file("piece.png", piece, shot);
  bring("piece.png");
  model().set_facts([&](Micrograph& m) { m.stone = trial().shelf.front().name; }, "stone");
  const std::int64_t shown = model().current_id();
  shot.width = 320;
  shot.height = 240;
  const std::string whole = png_bytes(micrograph({}, shot)->image);
  shot.seed = 2;
  const std::string other = png_bytes(micrograph({}, shot)->image);
  model().watch(watched);
  // Half a file that stays so for a while, then is whole.
  write(watched + "/a.png", whole.substr(0, whole.size() / 2));
  QTest::qWait(1200);
  EXPECT_EQ(trial().micrographs.size(), 1u);
  write(watched + "/a.png", whole);
  ASSERT_TRUE(wait_for([&] { return trial().micrographs.size() == 2 && !model().busy(); }))
      << window_->message().toStdString();
  EXPECT_EQ(model().current_id(), shown) << "the view is the tester's";
  EXPECT_TRUE(trial().micrographs[1].stone.empty()) << "not of the stone that was on the screen";
  // The same name again is another picture.
  write(watched + "/a.png", other);
  ASSERT_TRUE(wait_for([&] { return trial().micrographs.size() == 3 && !model().busy(); }))
      << window_->message().toStdString();
  EXPECT_TRUE(window_->message().contains("beside the picture of that name"));
  auto* waiting = shown_button(view_, "2 new pictures");
  ASSERT_TRUE(waiting);
  QTest::mouseClick(waiting, Qt::LeftButton);
  EXPECT_EQ(model().current_id(), trial().micrographs[1].id);
  QTest::mouseClick(shown_button(view_, "1 new picture"), Qt::LeftButton);
  EXPECT_EQ(model().current_id(), trial().micrographs[2].id);
  EXPECT_TRUE(model().unseen().empty());
  model().watch({});
}

TEST_F(LensSafety, AMessageBetweenTwoClicksDoesNotMoveThePicture) {
  MicroscopeShot shot;
  const MicroscopeTruth truth = file("edge.png", {}, shot);
  bring("edge.png");
  calibrate(truth);
  window_->workbench().told(QString());
  key(Qt::Key_W);
  click(truth.place(-40, 0));
  const QPointF before = canvas()->screen_of(truth.place(-40, 70));
  emit window_->workbench().told(
      QStringLiteral("Something long that takes a strip of the window."));
  QTest::qWait(50);
  const QPointF after = canvas()->screen_of(truth.place(-40, 70));
  EXPECT_NEAR(before.x(), after.x(), 0.01);
  EXPECT_NEAR(before.y(), after.y(), 0.01);
}

TEST_F(LensSafety, TwelveBitsAreNotBlack) {
  QImage image(320, 240, QImage::Format_Grayscale16);
  for (int y = 0; y < 240; ++y)
    for (int x = 0; x < 320; ++x)
      reinterpret_cast<quint16*>(image.scanLine(y))[x] = quint16(y < 120 ? 400 : 3600);
  const QString path = QString::fromStdString((folder_ / "deep.png").string());
  ASSERT_TRUE(image.save(path));
  bring("deep.png");
  EXPECT_NEAR(model().pixels()->grey.row(10)[10], 25, 2);
  EXPECT_NEAR(model().pixels()->grey.row(200)[10], 225, 2);
}

TEST_F(LensSafety, SeveralPicturesAreSetAtOnceAndTakenBackAtOnce) {
  MicroscopeShot shot;
  shot.width = 200;
  shot.height = 160;
  for (const char* name : {"a.png", "b.png", "c.png"}) {
    file(name, {}, shot);
    bring(name);
  }
  SeveralDialog dialog(model());
  dialog.show();
  auto* list = named<QListWidget>(&dialog, "Pictures");
  list->selectAll();
  for (auto* box : dialog.findChildren<QCheckBox*>())
    if (box->text() == "magnification" || box->text() == "run") box->setChecked(true);
  named<QComboBox>(&dialog, "magnification")->setEditText("50x");
  auto* run = named<QComboBox>(&dialog, "run");
  run->setCurrentIndex(run->findText(QString::fromStdString(trial().runs[2].facts.name)));
  QTest::mouseClick(shown_button(&dialog, "Set for 3 pictures"), Qt::LeftButton);
  for (const auto& m : trial().micrographs) {
    EXPECT_EQ(m.magnification, "50x");
    EXPECT_EQ(m.run, trial().runs[2].facts.name);
    EXPECT_EQ(m.blade, trial().runs[2].facts.blade);
  }
  dialog.close();
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  for (const auto& m : trial().micrographs) EXPECT_TRUE(m.magnification.empty());
}

TEST_F(LensSafety, TheApexIsMeasuredAlongAndHowFarItFellBackIsSaid) {
  MicroscopeSubject subject;
  subject.bevel_um = 60;
  subject.seed = 5;
  MicroscopeShot shot;
  const MicroscopeTruth before = file("before.png", subject, shot);
  bring("before.png");
  calibrate(before);
  const std::int64_t first = model().current_id();
  subject.damage = {{MicroscopeDamage::Kind::chip, -40, 16, 6, false, 0},
                    {MicroscopeDamage::Kind::chip, 35, 12, 5, true, 0}};
  shot.seed = 77;
  shot.shift_x_px = 12;
  shot.turn_deg = 1;
  const MicroscopeTruth after = file("after.png", subject, shot);
  bring("after.png");
  calibrate(after);
  view_->open_panel(LensView::Panel::damage);
  QTest::mouseClick(shown_button(view_, "Measure along the apex  (J)"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return model().current()->along && !model().busy(); }))
      << window_->message().toStdString();
  const auto along = model().along();
  ASSERT_TRUE(along);
  EXPECT_EQ(along->chips, 2);
  EXPECT_NEAR(along->widest_um, 16, 2);
  EXPECT_LT(along->per_mm_low, along->per_mm);
  EXPECT_FALSE(along->receded);
  view_->compare(first, model().current_id());
  ASSERT_TRUE(wait_for([&] { return model().other_pixels() && !model().busy(); }));
  key(Qt::Key_P);
  for (std::size_t i = 0; i < 3; ++i) {
    model().show_mark(after.marks[i], false);
    model().show_mark(before.marks[i], true);
  }
  model().lay_over();
  ASSERT_TRUE(wait_for([&] { return model().laid() && !model().busy(); }))
      << window_->message().toStdString();
  QTest::mouseClick(shown_button(view_, "How far did the edge fall back?  (J)"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return model().current()->along->recession && !model().busy(); }))
      << window_->message().toStdString();
  const auto receded = model().along()->receded;
  ASSERT_TRUE(receded);
  // Two chips over some 190 um: their areas over the length.
  const double truth = (2.0 / 3 * 16 * 6 + 0.5 * 12 * 5) / along->length_um;
  EXPECT_NEAR(receded->value, truth, receded->plus_minus + 0.05);
  EXPECT_NEAR(model().along()->receded_most->value, 6, 1.2);
}

}  // namespace
