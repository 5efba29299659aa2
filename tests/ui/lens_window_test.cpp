// The Lens by mouse and keys: pictures come in, are calibrated, measured, compared; suggestions are
// answered; hostile files are refused.
#include <gtest/gtest.h>

#include <sys/resource.h>
#include <QApplication>
#include <QBuffer>
#include <QClipboard>
#include <QComboBox>
#include <QDir>
#include <QFile>
#include <QImage>
#include <QListWidget>
#include <QLoggingCategory>
#include <QMimeData>
#include <QPainter>
#include <QProcess>
#include <QPushButton>
#include <QTest>

#include "lens/png_bytes.h"
#include "rehearsal/virtual_microscope.h"
#include "stats/random.h"
#include "store/picture_store.h"
#include "support.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/lens/lens_canvas.h"
#include "ui/lens/lens_panels.h"
#include "ui/lens/lens_view.h"
#include "ui/lens/place_strip.h"
#include "ui/lens_hand.h"
#include "ui/parts/number_entry.h"
#include "ui/stones/key_page.h"
#include "ui/stones/stones_view.h"

using namespace bq;
using namespace bq::ui;
using test::named;
using test::shown_button;
using test::wait_for;

namespace {

using LensWindow = test::LensWindow;

TEST_F(LensWindow, CalibratesMeasuresRepeatsAndTakesBackByMouseAndKeys) {
  MicroscopeSubject subject;
  subject.bevel_um = 70;
  subject.damage = {{MicroscopeDamage::Kind::chip, 20, 14, 5, false, 0}};
  MicroscopeShot shot;
  const MicroscopeTruth truth = file("edge.png", subject, shot);
  bring("edge.png");
  EXPECT_TRUE(canvas()->readout().contains("px"));
  // Without a scale it is looked at, not measured.
  key(Qt::Key_W);
  click(truth.place(-40, 0));
  EXPECT_TRUE(window_->message().contains("no scale")) << window_->message().toStdString();
  EXPECT_TRUE(model().points().empty());
  calibrate(truth);
  EXPECT_NEAR(model().scale()->um_per_px, shot.um_per_px, 0.005 * shot.um_per_px);
  EXPECT_TRUE(canvas()->readout().contains(QString::fromUtf8("µm")));

  key(Qt::Key_W);
  click(truth.place(-40, 0));
  click(truth.place(-40, subject.bevel_um));
  ASSERT_TRUE(wait_for([&] { return model().current()->measures.size() == 1; }))
      << window_->message().toStdString();
  const auto value = [&](std::size_t i) {
    return value_of(model().current()->measures[i], *model().scale());
  };
  EXPECT_NEAR(value(0).value, subject.bevel_um, 0.01 * subject.bevel_um);
  EXPECT_LT(std::abs(value(0).value - subject.bevel_um), value(0).plus_minus);
  // Once more, elsewhere, by keys alone: R, arrows to the place, Space twice.
  key(Qt::Key_R);
  ASSERT_TRUE(model().repeating());
  for (const double v : {0.0, subject.bevel_um}) {
    model().move_cursor(truth.place(-60, v));
    key(Qt::Key_Right);
    key(Qt::Key_Space);
  }
  ASSERT_TRUE(wait_for([&] { return model().current()->measures[0].takes.size() == 2; }))
      << window_->message().toStdString();
  EXPECT_EQ(value(0).takes, 2);
  EXPECT_TRUE(view_->measure()->list()->item(0)->text().contains("2 times"));

  key(Qt::Key_C);
  QTest::mousePress(canvas(), Qt::LeftButton, {},
                    canvas()->screen_of(truth.place(10, 0)).toPoint());
  QTest::mouseMove(canvas(), canvas()->screen_of(truth.place(20, 0)).toPoint());
  QTest::mouseMove(canvas(), canvas()->screen_of(truth.place(30, 0)).toPoint());
  QTest::mouseRelease(canvas(), Qt::LeftButton, {},
                      canvas()->screen_of(truth.place(30, 0)).toPoint());
  ASSERT_TRUE(wait_for([&] { return model().current()->measures.size() == 2; }))
      << window_->message().toStdString();
  EXPECT_NEAR(value(1).value, 14, 0.5);
  EXPECT_NEAR(*value(1).second, 5, 0.5);

  // Undo takes them back one by one; redo brings them again; it is all in the file.
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(model().current()->measures.size(), 1u);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(model().current()->measures.size(), 2u);
  key(Qt::Key_Delete);
  EXPECT_EQ(model().current()->measures.size(), 1u);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);

  // The bevel's angle against the log.
  auto* thickness = named<NumberEntry>(view_, "Thickness behind the edge, at the shoulder");
  ASSERT_TRUE(thickness->isEnabled());
  thickness->setValue(0.036);
  bool said = false;
  for (auto* label : view_->findChildren<QLabel*>())
    said |= label->isVisible() && label->text().contains("from the picture");
  EXPECT_TRUE(said);

  const QString png = QString::fromStdString((folder_ / "out.png").string()),
                svg = QString::fromStdString((folder_ / "out.svg").string());
  EXPECT_TRUE(view_->export_to(png));
  EXPECT_TRUE(view_->export_to(svg));
  const QImage drawn(png), bare(QString::fromStdString((folder_ / "edge.png").string()));
  ASSERT_EQ(drawn.size(), bare.size());
  int changed = 0;
  for (int y = 0; y < drawn.height(); ++y)
    for (int x = 0; x < drawn.width(); ++x)
      changed += qGray(drawn.pixel(x, y)) != qGray(bare.pixel(x, y));
  EXPECT_GT(changed, 2000) << "measures and scale bar are on it";
  const std::string text = test::read_file(folder_ / "out.svg");
  EXPECT_NE(text.find("data:image/png;base64,"), std::string::npos);
  EXPECT_NE(text.find(" µm</text>"), std::string::npos);
  EXPECT_FALSE(view_->export_to(QStringLiteral("/nowhere/at/all.png")));
  const auto before = *model().current();
  window_.reset();
  const Trial now = ProjectFile::open(path_.toStdString(), ProjectFile::Access::read).load();
  ASSERT_EQ(now.micrographs.size(), 1u);
  EXPECT_EQ(now.micrographs[0], before);
  EXPECT_TRUE(ProjectFile::open(path_.toStdString(), ProjectFile::Access::read).check().empty());
}

TEST_F(LensWindow, LaysTwoPicturesOfAPlaceOverEachOther) {
  MicroscopeSubject subject;
  subject.bevel_um = 60;
  MicroscopeShot shot;
  const MicroscopeTruth one = file("fresh.png", subject, shot);
  subject.damage = {{MicroscopeDamage::Kind::chip, 0, 12, 5, false, 0}};
  shot.seed = 2;
  shot.turn_deg = 2;
  shot.shift_x_px = 14;
  shot.shift_y_px = -6;
  const MicroscopeTruth other = file("after.png", subject, shot);
  bring("fresh.png");
  const auto first = model().current_id();
  // Told what it shows, by the fields of Place.
  view_->open_panel(LensView::Panel::place);
  auto* run = named<QComboBox>(view_, "run");
  run->setCurrentIndex(run->findData(QStringLiteral("C07")));
  emit run->activated(run->currentIndex());
  EXPECT_EQ(model().current()->run, "C07");
  EXPECT_EQ(model().current()->blade, trial().find_run("C07")->facts.blade);
  auto* cuts = named<NumberEntry>(view_, "after cuts");
  cuts->setFocus();
  cuts->setValue(0);
  QTest::keyClick(cuts, Qt::Key_Return);
  EXPECT_EQ(model().current()->cuts, 0);
  bring("after.png");  // tied like the one before
  EXPECT_EQ(model().current()->run, "C07");
  EXPECT_EQ(model().current()->cuts, trial().find_run("C07")->cuts_done);
  EXPECT_EQ(view_->strip()->count(), 2) << "both stand in the strip of their place";
  // Ctrl and a click in the strip: compare with the earlier one.
  QTest::mouseClick(view_->strip(), Qt::LeftButton, Qt::ControlModifier,
                    view_->strip()->frame_of(0).center().toPoint());
  ASSERT_TRUE(wait_for([&] { return model().other_pixels() != nullptr; }));
  EXPECT_EQ(model().other()->id, first);
  key(Qt::Key_X);
  EXPECT_EQ(model().mode(), CompareMode::none) << "first the marks";
  key(Qt::Key_P);
  for (std::size_t i = 0; i < 3; ++i) {
    QTest::mouseClick(canvas(), Qt::LeftButton, {},
                      canvas()->screen_of(other.marks[i], false).toPoint());
    QTest::mouseClick(canvas(), Qt::LeftButton, {},
                      canvas()->screen_of(one.marks[i], true).toPoint());
  }
  ASSERT_TRUE(wait_for([&] { return model().laid() != nullptr; }))
      << window_->message().toStdString();
  EXPECT_EQ(model().mode(), CompareMode::wipe);
  for (double u = -60; u <= 60; u += 30)
    EXPECT_LT(length(model().laid()->map.map(other.place(u, 30)) - one.place(u, 30)), 1.0);
  // What lies on what on the screen, too.
  const QPointF off = canvas()->screen_of(other.marks[0]) - canvas()->screen_of(one.marks[0], true);
  EXPECT_LT(std::hypot(off.x(), off.y()), 1.5);
  canvas()->set_wipe(0.5);
  QTest::mousePress(canvas(), Qt::LeftButton, {}, QPoint(canvas()->width() / 2, 40));
  QTest::mouseMove(canvas(), QPoint(canvas()->width() / 4, 40));
  QTest::mouseRelease(canvas(), Qt::LeftButton, {}, QPoint(canvas()->width() / 4, 40));
  EXPECT_NEAR(canvas()->wipe(), 0.25, 0.01);
  key(Qt::Key_Period);
  EXPECT_NEAR(canvas()->wipe(), 0.30, 0.01);
  model().set_mode(CompareMode::difference);
  ASSERT_TRUE(wait_for([&] { return !model().difference().isNull(); }));
  // The chip is where the two differ most.
  const QImage& d = model().difference();
  const auto swing = [&](Spot at) {
    int most = 0;
    for (int y = -6; y <= 6; ++y)
      for (int x = -6; x <= 6; ++x)
        most = std::max(most, std::abs(qGray(d.pixel(int(at.x) + x, int(at.y) + y)) - 128));
    return most;
  };
  EXPECT_GT(swing(other.place(0, 2)), 90);
  EXPECT_LT(swing(other.place(-60, 30)), 60);
  EXPECT_EQ(trial().micrographs[1].laid_over.size(), 1u);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_TRUE(trial().micrographs[1].laid_over.empty());
}

TEST_F(LensWindow, AcceptedDamageGoesIntoTheRunsRecordAndToTheKeyAndTheSearch) {
  MicroscopeSubject subject;
  subject.bevel_um = 60;
  subject.damage = {{MicroscopeDamage::Kind::chip, -30, 14, 6, false, 0},
                    {MicroscopeDamage::Kind::chip, 30, 10, 4, false, 0}};
  const MicroscopeTruth truth = file("chips.png", subject, {});
  bring("chips.png");
  calibrate(truth);
  model().set_facts(
      [&](Micrograph& m) {
        m.run = "C07", m.blade = trial().find_run("C07")->facts.blade, m.cuts = 20, m.at_mm = 40;
      },
      QStringLiteral("test"));
  const auto looks = [&] {
    int count = 0;
    for (const auto& event : trial().find_run("C07")->events)
      count += std::holds_alternative<LookEvent>(event.data);
    return count;
  };
  const int before = looks();
  key(Qt::Key_F);
  ASSERT_TRUE(wait_for([&] { return model().hints().size() == 2; }));
  key(Qt::Key_Y);
  EXPECT_EQ(looks(), before + 1);
  const auto& look = std::get<LookEvent>(trial().find_run("C07")->events.back().data);
  EXPECT_EQ(look.found, DamageFound::broken_out);
  EXPECT_NEAR(*look.widest_um, 14, 1);
  EXPECT_FALSE(look.is_thickness);
  EXPECT_EQ(look.picture, model().current_id());
  EXPECT_EQ(trial().find_run("C07")->events.back().cuts, 20)
      << "of the picture, not of the run now";
  key(Qt::Key_N);
  EXPECT_EQ(looks(), before + 1);
  EXPECT_EQ(model().current()->hints.size(), 2u);
  EXPECT_TRUE(model().hints().empty());
  key(Qt::Key_F);
  ASSERT_TRUE(wait_for([&] { return window_->message().contains("answered"); }))
      << "what was answered is not asked again";
  // One step of undo takes look and answer back together.
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(looks(), before);
  EXPECT_TRUE(model().current()->hints.empty());
  QTest::keyClick(window_.get(), Qt::Key_Y, Qt::ControlModifier);
  EXPECT_EQ(looks(), before + 1);
  // A picture that the record rests on stays.
  model().take_out();
  EXPECT_TRUE(window_->message().contains("stays")) << window_->message().toStdString();
  ASSERT_TRUE(model().current());

  view_->open_panel(LensView::Panel::measure);
  QTest::mouseClick(shown_button(view_, "What is on this edge?"), Qt::LeftButton);
  auto* stones = static_cast<StonesView*>(window_->station(Station::stones));
  ASSERT_TRUE(wait_for([&] { return stones->isVisible(); }));
  QTest::qWait(30);
  auto* key_page = dynamic_cast<KeyPage*>(stones->page());
  ASSERT_TRUE(key_page);
  EXPECT_TRUE(key_page->sentence().contains("hip")) << key_page->sentence().toStdString();
}

TEST_F(LensWindow, WatchedFolderClipboardAndSlowWritersBringPicturesIn) {
  const QString watched = QString::fromStdString((folder_ / "captures").string());
  QDir().mkpath(watched);
  MicroscopeShot shot;
  shot.width = 320;
  shot.height = 240;
  const std::string bytes = png_bytes(micrograph({}, shot)->image);
  {
    QFile old(watched + "/old.png");
    ASSERT_TRUE(old.open(QIODevice::WriteOnly));
    old.write(bytes.data(), qint64(bytes.size()));
  }
  model().watch(watched);
  QFile slow(watched + "/slow.png");
  ASSERT_TRUE(slow.open(QIODevice::WriteOnly));
  slow.write(bytes.data(), 1000);
  slow.flush();
  QTest::qWait(150);
  slow.write(bytes.data() + 1000, qint64(bytes.size()) - 1000);
  slow.close();
  QFile notes(watched + "/notes.txt");
  ASSERT_TRUE(notes.open(QIODevice::WriteOnly));
  notes.write("no picture");
  notes.close();
  ASSERT_TRUE(wait_for([&] { return trial().micrographs.size() == 1 && !model().busy(); }))
      << window_->message().toStdString();
  EXPECT_EQ(trial().micrographs[0].name, "slow.png");
  EXPECT_EQ(trial().micrographs[0].sha256, sha256_of(bytes)) << "kept as it came";
  QImage held(64, 48, QImage::Format_RGB32);
  held.fill(Qt::darkCyan);
  QApplication::clipboard()->setImage(held);
  QTest::keyClick(canvas(), Qt::Key_V, Qt::ControlModifier);
  ASSERT_TRUE(wait_for([&] { return trial().micrographs.size() == 2 && !model().busy(); }))
      << window_->message().toStdString();
  EXPECT_EQ(trial().micrographs[1].width, 64);
  // Undone, it is gone; redone, its pixels are there again.
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_EQ(trial().micrographs.size(), 1u);
  QTest::keyClick(window_.get(), Qt::Key_Y, Qt::ControlModifier);
  model().open(trial().micrographs.back().id);
  EXPECT_TRUE(wait_for([&] { return model().pixels() != nullptr; }));
  // The stand-in microscope saves into the folder like any capture program.
  QProcess microscope;
  microscope.start(QStringLiteral(BQ_INSTRUMENT),
                   {QStringLiteral("microscope"), QStringLiteral("--folder"), watched,
                    QStringLiteral("--seed"), QStringLiteral("3"), QStringLiteral("--count"),
                    QStringLiteral("2"), QStringLiteral("--every"), QStringLiteral("0.1")});
  ASSERT_TRUE(microscope.waitForFinished(20000));
  EXPECT_EQ(microscope.exitCode(), 0) << microscope.readAllStandardError().toStdString();
  EXPECT_TRUE(wait_for([&] { return trial().micrographs.size() == 4 && !model().busy(); }))
      << window_->message().toStdString();
  model().watch({});
  EXPECT_TRUE(model().watched().isEmpty());
}

// Decoding is bounded by kDecodeLimit_MB; what is hostile is refused with a sentence, and the
// window lives on.
TEST_F(LensWindow, HostilePicturesAreRefusedAndEatNoMemory) {
  QLoggingCategory::setFilterRules(QStringLiteral("qt.gui.imageio*=false"));
  const auto as = [](const char* format, const QImage& image) {
    QByteArray bytes;
    QBuffer device(&bytes);
    device.open(QIODevice::WriteOnly);
    EXPECT_TRUE(image.save(&device, format)) << format;
    return bytes.toStdString();
  };
  QImage small(200, 120, QImage::Format_RGB32);
  small.fill(Qt::gray);
  QPainter painter(&small);
  painter.drawEllipse(20, 20, 90, 60);
  painter.end();
  const std::vector<std::string> whole{as("PNG", small), as("JPEG", small), as("TIFF", small),
                                       as("BMP", small)};
  for (const auto& bytes : whole) {
    const auto decoded = decode_picture(bytes);
    ASSERT_TRUE(decoded.pixels) << decoded.fault.toStdString();
    EXPECT_EQ(decoded.pixels->grey.width(), 200);
  }
  rusage start{};
  getrusage(RUSAGE_SELF, &start);
  stats::Random random(4);
  int refused = 0, taken = 0;
  for (int i = 0; i < 1200; ++i) {
    std::string bytes = whole[std::size_t(i) % whole.size()];
    // Headers get most of it.
    for (int k = 0; k < 1 + int(random.below(8)); ++k)
      bytes[random.below(random.below(2) ? std::min<std::size_t>(bytes.size(), 64)
                                         : bytes.size())] = char(random.below(256));
    if (random.below(5) == 0) bytes.resize(1 + random.below(bytes.size()));
    const auto decoded = decode_picture(bytes);
    if (decoded.pixels) {
      ++taken;
      EXPECT_LE(std::int64_t(decoded.pixels->grey.width()) * decoded.pixels->grey.height(),
                kMostPixels);
    } else {
      ++refused;
      EXPECT_FALSE(decoded.fault.isEmpty());
    }
  }
  EXPECT_GT(refused, 300);
  EXPECT_GT(taken, 50);
  // A few kilobytes that say they are 30,000 by 30,000, and as much as is allowed and no pixels
  // behind it.
  std::string bomb = whole[0];
  const auto say = [&](std::uint32_t w, std::uint32_t h) {
    for (int k = 0; k < 4; ++k) {
      bomb[std::size_t(16 + k)] = char(w >> (24 - 8 * k) & 255);

      bomb[std::size_t(20 + k)] = char(h >> (24 - 8 * k) & 255);
    }
  };
  say(30'000, 30'000);
  EXPECT_TRUE(decode_picture(bomb).fault.contains("128 million"));
  say(12'000, 10'000);
  EXPECT_FALSE(decode_picture(bomb).pixels);
  rusage end{};
  getrusage(RUSAGE_SELF, &end);
  EXPECT_LT((end.ru_maxrss - start.ru_maxrss) / 1024, 900) << "MB";
  // Through the window: a sentence with the file's name, nothing in the project, the next one still
  // comes.
  folder_.write("bomb.png", bomb);
  folder_.write("words.png", "these are no pixels");
  MicroscopeShot shot;
  shot.width = 320;
  shot.height = 240;
  file("good.png", {}, shot);
  model().bring_in({QString::fromStdString((folder_ / "bomb.png").string()),
                    QString::fromStdString((folder_ / "gone.png").string()),
                    QString::fromStdString((folder_ / "words.png").string()),
                    QString::fromStdString((folder_ / "good.png").string())});
  QStringList said;
  QObject::connect(&window_->workbench(), &Workbench::refused, window_.get(),
                   [&](const QString& sentence) { said << sentence; });
  ASSERT_TRUE(wait_for([&] { return trial().micrographs.size() == 1 && !model().busy(); }));
  ASSERT_EQ(said.size(), 3);
  EXPECT_TRUE(said[0].contains("bomb.png")) << said[0].toStdString();
  EXPECT_TRUE(said[1].contains("gone.png"));
  EXPECT_TRUE(said[2].contains("no PNG, JPEG, TIFF or BMP")) << said[2].toStdString();
}

}  // namespace
