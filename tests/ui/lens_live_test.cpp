// A camera as one more source, a series measured like one picture, pictures of floating-point
// brightness.
#include <tiffio.h>

#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QListWidget>
#include <QProcess>
#include <QSlider>
#include <QTableWidget>
#include <QTimer>
#include <cmath>

#include "pixels/cut_picture.h"
#include "pixels/float_tiff.h"
#include "pixels/picture_loader.h"
#include "stats/random.h"
#include "store/picture_store.h"
#include "ui/lens/live_page.h"
#include "ui/lens/series_dialog.h"
#include "ui/lens_hand.h"

using namespace bq;
using namespace bq::ui;
using test::named;
using test::shown_button;
using test::wait_for;

namespace {

using LensLive = test::LensWindow;

QString text_shown(const QWidget* in, const QString& part) {
  for (const auto* label : in->findChildren<QLabel*>())
    if (label->isVisible() && label->text().contains(part)) return label->text();
  return {};
}

TEST_F(LensLive, TheStandInCameraIsFrozenCheckedAndKept) {
  // A picture of the place is there first: what is kept is tied like it, and shows through.
  MicroscopeSubject subject;
  MicroscopeShot shot;
  shot.um_per_px = 0.5;
  const MicroscopeTruth truth = file("before.png", subject, shot);
  bring("before.png");
  model().set_facts(
      [&](Micrograph& m) {
        m.magnification = "20x";
        m.run = trial().runs[0].facts.name;
        m.blade = trial().runs[0].facts.blade;
        m.at_mm = 40;
      },
      "facts");
  calibrate(truth);
  view_->offer_stand_in_camera([] {
    return stand_in_camera(QStringLiteral(BQ_INSTRUMENT),
                           {QStringLiteral("camera"), QStringLiteral("--seed"), QStringLiteral("4"),
                            QStringLiteral("--every"), QStringLiteral("0.05")});
  });
  QTest::mouseClick(shown_button(view_, "Live"), Qt::LeftButton);
  LivePage* live = view_->live();
  ASSERT_TRUE(live->isVisible());
  auto* source = named<QComboBox>(live, "Camera");
  ASSERT_GE(source->count(), 1);
  const int stand_in = source->findText("Stand-in camera");
  ASSERT_GE(stand_in, 0);
  if (source->currentIndex() != stand_in) {
    source->setCurrentIndex(stand_in);
    emit source->activated(stand_in);
  }
  ASSERT_TRUE(wait_for([&] { return !live->frame().isNull(); }));
  EXPECT_EQ(live->frame().size(), QSize(800, 600));
  EXPECT_FALSE(text_shown(live, "before.png").isEmpty()) << "the last picture of the place";
  EXPECT_FALSE(text_shown(live, "20x at 800").isEmpty());
  const QImage moving = live->frame();
  ASSERT_TRUE(wait_for([&] { return live->frame() != moving; })) << "it goes on by itself";

  QTest::keyClick(live->canvas(), Qt::Key_Space);
  ASSERT_TRUE(live->frozen());
  const QImage held = live->frame();
  QTest::qWait(300);
  EXPECT_EQ(live->frame(), held);
  // Two points are held against the scale.
  for (const Spot at : {Spot{100, 300}, Spot{300, 300}})
    QTest::mouseClick(live->canvas(), Qt::LeftButton, {}, live->canvas()->screen_of(at).toPoint());
  EXPECT_FALSE(text_shown(live, "By the scale these are").isEmpty());

  const auto before = trial().micrographs.size();
  QTest::keyClick(live->canvas(), Qt::Key_Return);
  ASSERT_TRUE(
      wait_for([&] { return trial().micrographs.size() == before + 1 && !model().busy(); }));
  const Micrograph kept = trial().micrographs.back();
  EXPECT_TRUE(kept.name.starts_with("live ")) << kept.name;
  EXPECT_EQ(kept.run, trial().runs[0].facts.name);
  EXPECT_EQ(kept.magnification, "20x");
  EXPECT_TRUE(scale_of(trial(), kept)) << "the same optics and size";
  const auto bytes = window_->workbench().session().pictures()->bytes(kept.id);
  ASSERT_TRUE(bytes);
  const DecodedPicture back = decode_picture(*bytes);
  ASSERT_TRUE(back.pixels);
  EXPECT_EQ(back.pixels->grey.row(17)[23], qGray(held.pixel(23, 17)));
  EXPECT_FALSE(live->frozen()) << "and it goes on";
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(trial().micrographs.size(), before);

  // Nobody looks: it stops; it comes back with the page.
  QTest::mouseClick(shown_button(view_, "Pictures"), Qt::LeftButton);
  const QImage last = live->frame();
  QTest::qWait(300);
  EXPECT_EQ(live->frame(), last);
}

TEST_F(LensLive, WithoutACameraItIsSaidWhatToDoAndNothingIsMissing) {
  QTest::mouseClick(shown_button(view_, "Live"), Qt::LeftButton);
  LivePage* live = view_->live();
  auto* source = named<QComboBox>(live, "Camera");
  if (source->isEnabled()) GTEST_SKIP() << "this machine has a camera";
  EXPECT_FALSE(shown_button(view_, "Freeze")->isEnabled());
  EXPECT_FALSE(shown_button(view_, "Keep this picture")->isEnabled());
  QTest::keyClick(live->canvas(), Qt::Key_Return);
  QTest::keyClick(live->canvas(), Qt::Key_Space);
  EXPECT_FALSE(live->frozen());
  EXPECT_TRUE(shown_button(view_, "Look again")->isEnabled());
  // One whose program does not run says so, and the window goes on.
  view_->offer_stand_in_camera(
      [] { return stand_in_camera(QStringLiteral("/nowhere/brave-quarry-instrument"), {}); });
  QTest::qWait(100);
  EXPECT_TRUE(live->frame().isNull());
  EXPECT_FALSE(shown_button(view_, "Freeze")->isEnabled());
}

TEST_F(LensLive, ASeriesIsMeasuredLikeOnePictureAndTakenBackAtOnce) {
  MicroscopeSubject subject;
  subject.bevel_um = 70;
  MicroscopeShot shot;
  std::vector<std::int64_t> ids;
  MicroscopeTruth truth;
  for (int i = 0; i < 3; ++i) {
    shot.seed = std::uint64_t(20 + i);
    shot.shift_x_px = 10 * i;
    shot.shift_y_px = -7 * i;
    shot.turn_deg = i;
    const std::string name = "s" + std::to_string(i) + ".png";
    const MicroscopeTruth here = file(name.c_str(), subject, shot);
    if (i == 0) truth = here;
    bring(name.c_str());
    model().set_facts([](Micrograph& m) { m.magnification = "20x"; }, "magnification");
    if (i == 0) calibrate(here);
    ids.push_back(model().current_id());
  }
  model().open(ids[0]);
  ASSERT_TRUE(wait_for([&] { return model().pixels() != nullptr; }));
  EXPECT_FALSE(shown_button(view_, "Measure other pictures")->isEnabled()) << "nothing to repeat";
  key(Qt::Key_W);
  click(truth.place(-40, 0));
  click(truth.place(-40, 70));
  ASSERT_TRUE(wait_for([&] { return model().current()->measures.size() == 1; }));
  bool seen = false;
  QTimer::singleShot(0, window_.get(), [&] {
    auto* dialog = window_->findChild<SeriesDialog*>();
    ASSERT_TRUE(dialog);
    auto* list = named<QListWidget>(dialog, "Pictures to measure");
    EXPECT_EQ(list->selectedItems().size(), 2) << "those by the same optics";
    QTest::mouseClick(shown_button(dialog, "Measure 2 pictures"), Qt::LeftButton);
    ASSERT_TRUE(wait_for([&] { return shown_button(dialog, "Keep")->isEnabled(); }));
    auto* table = named<QTableWidget>(dialog, "What was measured");
    EXPECT_EQ(table->rowCount(), 2);
    for (int row = 0; row < table->rowCount(); ++row)
      EXPECT_TRUE(table->item(row, 2)->text().contains(QString::fromUtf8("±")))
          << table->item(row, 2)->text().toStdString();
    for (std::size_t i = 1; i < 3; ++i)
      EXPECT_TRUE(window_->workbench().session().micrograph(ids[i])->measures.empty())
          << "nothing is kept unseen";
    seen = true;
    QTest::mouseClick(shown_button(dialog, "Keep"), Qt::LeftButton);
  });
  QTest::mouseClick(shown_button(view_, "Measure other pictures"), Qt::LeftButton);
  ASSERT_TRUE(seen);
  for (std::size_t i = 1; i < 3; ++i) {
    const Micrograph& m = *window_->workbench().session().micrograph(ids[i]);
    ASSERT_EQ(m.measures.size(), 1u);
    const LensValue value = value_of(m.measures[0], *scale_of(trial(), m));
    EXPECT_NEAR(value.value, 70, 1.5 * value.plus_minus);
  }
  window_->activateWindow();
  ASSERT_TRUE(wait_for([&] { return window_->isActiveWindow(); }));
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  for (std::size_t i = 1; i < 3; ++i)
    EXPECT_TRUE(window_->workbench().session().micrograph(ids[i])->measures.empty());
}

TEST_F(LensLive, TheCommandLineMeasuresASeriesByATemplate) {
  MicroscopeSubject subject;
  subject.bevel_um = 70;
  MicroscopeShot shot;
  std::vector<std::int64_t> ids;
  for (int i = 0; i < 2; ++i) {
    shot.seed = std::uint64_t(30 + i);
    shot.shift_y_px = 9 * i;
    const std::string name = "c" + std::to_string(i) + ".png";
    const MicroscopeTruth truth = file(name.c_str(), subject, shot);
    bring(name.c_str());
    model().set_facts([](Micrograph& m) { m.magnification = "20x"; }, "magnification");
    ids.push_back(model().current_id());
    if (i > 0) continue;
    calibrate(truth);
    key(Qt::Key_W);
    click(truth.place(-40, 0));
    click(truth.place(-40, 70));
    ASSERT_TRUE(wait_for([&] { return model().current()->measures.size() == 1; }));
  }
  window_.reset();
  const auto run = [&](const QStringList& wishes, int code) {
    QProcess program;
    program.start(QStringLiteral(BQ_CLI), QStringList{QStringLiteral("pictures"), path_} + wishes);
    EXPECT_TRUE(program.waitForFinished(60000));
    EXPECT_EQ(program.exitCode(), code) << program.readAllStandardError().toStdString();
    return program.readAllStandardOutput().toStdString();
  };
  const std::string made = run({"--template", QString::number(ids[0])}, 0);
  folder_.write("like.json", made);
  const QString like = QString::fromStdString((folder_ / "like.json").string());
  const std::string dry = run({"--measure", like, "--only", QString::number(ids[1])}, 0);
  EXPECT_NE(dry.find("bevel width"), std::string::npos) << dry;
  EXPECT_NE(dry.find("1 measured, 0 not; nothing was kept"), std::string::npos) << dry;
  const std::string kept =
      run({"--measure", like, "--only", QString::number(ids[1]), "--keep", "--json"}, 0);
  EXPECT_NE(kept.find("\"kept\": true"), std::string::npos) << kept;
  const std::string again = run({"--measure", like, "--only", QString::number(ids[1])}, 0);
  EXPECT_NE(again.find("measured there already"), std::string::npos) << again;
  run({"--measure", like, "--only", "99999"}, 3);
  run({"--template", "99999"}, 3);
  folder_.write("bad.json", R"({"size": [1, 1]})");
  run({"--measure", QString::fromStdString((folder_ / "bad.json").string())}, 3);
}

/// A grey picture of floating-point samples.
std::string float_tiff(int width, int height, int bits, bool tiled,
                       const std::function<double(int, int)>& value) {
  test::Folder folder;
  const std::string path = (folder / "f.tif").string();
  TIFF* file = TIFFOpen(path.c_str(), "w");
  TIFFSetField(file, TIFFTAG_IMAGEWIDTH, width);
  TIFFSetField(file, TIFFTAG_IMAGELENGTH, height);
  TIFFSetField(file, TIFFTAG_BITSPERSAMPLE, bits);
  TIFFSetField(file, TIFFTAG_SAMPLESPERPIXEL, 1);
  TIFFSetField(file, TIFFTAG_SAMPLEFORMAT, SAMPLEFORMAT_IEEEFP);
  TIFFSetField(file, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISBLACK);
  TIFFSetField(file, TIFFTAG_COMPRESSION, COMPRESSION_ADOBE_DEFLATE);
  const auto put = [&](char* to, int x, int y) {
    const double v = x < width && y < height ? value(x, y) : 0;
    const auto f = float(v);
    if (bits == 64)
      std::memcpy(to, &v, 8);
    else
      std::memcpy(to, &f, 4);
  };
  const int bytes = bits / 8;
  if (tiled) {
    TIFFSetField(file, TIFFTAG_TILEWIDTH, 64);
    TIFFSetField(file, TIFFTAG_TILELENGTH, 64);
    std::vector<char> tile(std::size_t(64 * 64 * bytes));
    for (int y = 0; y < height; y += 64)
      for (int x = 0; x < width; x += 64) {
        for (int j = 0; j < 64; ++j)
          for (int i = 0; i < 64; ++i)
            put(tile.data() + std::size_t((j * 64 + i) * bytes), x + i, y + j);
        TIFFWriteTile(file, tile.data(), std::uint32_t(x), std::uint32_t(y), 0, 0);
      }
  } else {
    TIFFSetField(file, TIFFTAG_ROWSPERSTRIP, 16);
    std::vector<char> row(std::size_t(width * bytes));
    for (int y = 0; y < height; ++y) {
      for (int x = 0; x < width; ++x) put(row.data() + std::size_t(x * bytes), x, y);
      TIFFWriteScanline(file, row.data(), std::uint32_t(y), 0);
    }
  }
  TIFFClose(file);
  QFile in(QString::fromStdString(path));
  EXPECT_TRUE(in.open(QIODevice::ReadOnly));
  return in.readAll().toStdString();
}

TEST(FloatTiff, ItsGreysAreRightWhateverItsWhite) {
  for (const bool tiled : {false, true})
    for (const int bits : {32, 64})
      for (const double white : {1.0, 4095.0}) {
        SCOPED_TRACE(white);
        const std::string bytes = float_tiff(150, 90, bits, tiled, [&](int x, int y) {
          return x == 3 && y == 3 ? std::nan("") : white * (x + y) / 238.0;
        });
        ASSERT_TRUE(is_float_tiff(bytes));
        const DecodedPicture read = decode_picture(bytes);
        ASSERT_TRUE(read.pixels) << read.fault.toStdString();
        EXPECT_EQ(read.header.width, 150);
        for (const int x : {0, 40, 149})
          for (const int y : {0, 44, 89})
            EXPECT_NEAR(read.pixels->grey.row(y)[x], 255.0 * (x + y) / 238, 1.5) << x << ' ' << y;
        EXPECT_EQ(read.pixels->grey.row(3)[3], 0) << "what is no number is black";
      }
  EXPECT_FALSE(is_float_tiff("II*\0 no picture"));
}

TEST(FloatTiff, DamagedOnesAreRefused) {
  const std::string whole =
      float_tiff(120, 80, 32, false, [](int x, int y) { return (x * y % 17) / 17.0; });
  for (const std::size_t length : {std::size_t(8), whole.size() / 3, whole.size() - 40}) {
    const DecodedPicture read = decode_picture(whole.substr(0, length));
    EXPECT_FALSE(read.pixels) << length;
    EXPECT_FALSE(read.fault.isEmpty());
  }
  stats::Random random(11);
  for (int i = 0; i < 400; ++i) {
    std::string bytes = whole;
    for (int k = 0; k < 1 + i % 6; ++k)
      bytes[std::size_t(random.uniform() * double(bytes.size() - 1))] =
          char(int(256 * random.uniform()));
    (void)decode_picture(bytes);  // whatever comes of it, it comes back
  }
}

TEST(CutPicture, APartIsCutAtFullSharpnessAndMadeSmallerOnlyWhereItMust) {
  QImage picture(3000, 2000, QImage::Format_RGB32);
  picture.fill(Qt::black);
  picture.setPixel(2100, 1500, qRgb(250, 10, 10));
  const std::string file = png_of(picture);
  QImage part;
  const auto cut = [&](const PicturePart& which, int longest) {
    const std::string png = cut_picture(file, which, longest);
    part.loadFromData(reinterpret_cast<const uchar*>(png.data()), int(png.size()), "PNG");
  };
  cut({2000, 1400, 600, 500}, 1600);
  EXPECT_EQ(part.size(), QSize(600, 500));
  EXPECT_EQ(part.pixel(100, 100), qRgb(250, 10, 10));
  cut({0, 0, 3000, 2000}, 1600);
  EXPECT_EQ(part.width(), 1600);
  EXPECT_EQ(cut_picture("no picture", {0, 0, 10, 10}, 100), "");
}

}  // namespace
