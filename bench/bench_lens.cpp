// A 50-megapixel picture: from its file (and out of a project) to the first view, to its pixels,
// and panned in the real widget; and what one megapixel costs each step. Then a project of 10,000
// small pictures: opened, stepped through, measured. usage: bench_lens [MEGAPIXELS]
#include <QApplication>
#include <QElapsedTimer>
#include <QImage>
#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <functional>

#include "lens/png_bytes.h"
#include "rehearsal/virtual_microscope.h"
#include "store/picture_store.h"
#include "ui/frame/main_window.h"
#include "ui/lens/lens_canvas.h"
#include "ui/lens/lens_view.h"
#include "ui/theme/theme.h"

using namespace bq;
using namespace bq::ui;

namespace {

template <class Holds>
double wait_ms(const Holds& holds, double& longest) {
  QElapsedTimer clock;
  clock.start();
  longest = 0;
  while (!holds() && clock.elapsed() < 120000) {
    QElapsedTimer turn;
    turn.start();
    QApplication::processEvents(QEventLoop::AllEvents, 5);
    longest = std::max(longest, double(turn.nsecsElapsed()) / 1e6);
  }
  return double(clock.nsecsElapsed()) / 1e6;
}

/// A station asks the project something every 5 ms, as long as the log is folded into the file and
/// the content is compared with its checksums behind it: how long it waits at most.
void ask_for(const char* what, const Workbench& workbench, int ms) {
  QElapsedTimer clock;
  clock.start();
  double longest = 0;
  while (clock.elapsed() < ms) {
    QElapsedTimer turn;
    turn.start();
    QApplication::processEvents(QEventLoop::AllEvents, 5);
    (void)workbench.session().thumbnail(1);
    longest = std::max(longest, double(turn.nsecsElapsed()) / 1e6);
  }
  std::printf("%s: longest stretch of the window's thread %.1f ms (wanted < 50)\n", what, longest);
}

/// Tiles of a simulated micrograph with noise of their own in every pixel: as hard to pack as a
/// real one.
GreyImage large(int megapixels) {
  MicroscopeShot shot;
  shot.width = 1000;
  shot.height = 750;
  shot.scale_bar = false;
  const GreyImage tile = micrograph({}, shot)->image;
  std::uint64_t state = 1;
  const int side = int(std::sqrt(megapixels * 1e6 / 0.75));
  GreyImage out = *GreyImage::make(side, side * 3 / 4);
  for (int y = 0; y < out.height(); ++y)
    for (int x = 0; x < out.width(); ++x) {
      state = state * 6364136223846793005ULL + 1442695040888963407ULL;
      out.row(y)[x] = std::uint8_t(std::clamp(
          int(tile.row(y % tile.height())[x % tile.width()]) + int(state >> 60) - 8, 0, 255));
    }
  return out;
}

void many_pictures(const QString& folder) {
  const auto path = (folder + QStringLiteral("/many.bquarry")).toStdString();
  constexpr int kPictures = 10'000;
  {
    ProjectFile file = ProjectFile::create(path, "many");
    const std::string png = png_bytes(*GreyImage::make(64, 48, 90));
    const auto pictures = file.pictures();
    (void)file.together([&] {
      for (int i = 0; i < kPictures; ++i) {
        const std::string name = "picture-" + std::to_string(i) + ".png";
        PictureFile picture{pictures->add(name, "png", png), name, "png", png};
        Micrograph m = micrograph_of(picture);
        m.cuts = i / 10;
        file.add_micrograph(m, png);
      }
    });
  }
  MainWindow window;
  window.show();
  double longest = 0;
  window.workbench().open(QString::fromStdString(path));
  wait_ms([&] { return window.workbench().has_project(); }, longest);
  std::printf("%d pictures: opened, longest stretch of the window's thread %.1f ms\n", kPictures,
              longest);
  const auto turn = [&](const char* what, const std::function<void()>& act) {
    double slowest = 0;
    for (int round = 0; round < 20; ++round) {
      QElapsedTimer clock;
      clock.start();
      act();
      QApplication::processEvents();
      slowest = std::max(slowest, double(clock.nsecsElapsed()) / 1e6);
    }
    std::printf("%d pictures: %s, slowest of 20 %.1f ms (wanted < 50)\n", kPictures, what, slowest);
  };
  QElapsedTimer clock;
  clock.start();
  window.go_to(Station::lens);
  QApplication::processEvents();
  std::printf("%d pictures: Lens opened in %.1f ms\n", kPictures,
              double(clock.nsecsElapsed()) / 1e6);
  auto* lens = static_cast<LensView*>(window.station(Station::lens));
  LensModel& model = lens->model();
  turn("the next picture", [&] { model.step(-1); });
  turn("a fact changed", [&, n = 0]() mutable {
    model.set_facts([&](Micrograph& m) { m.note = std::to_string(++n); }, "note");
  });
  turn("compared with another", [&, n = 100]() mutable { model.compare_with(++n); });
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  const int megapixels = argc > 1 ? std::atoi(argv[1]) : 50;
  QTemporaryDir folder;
  const GreyImage image = large(megapixels);
  QImage shown(image.width(), image.height(), QImage::Format_Grayscale8);
  for (int y = 0; y < image.height(); ++y)
    std::copy(image.row(y), image.row(y) + image.width(), shown.scanLine(y));
  const QString png = folder.filePath("large.png"), jpeg = folder.filePath("large.jpg");
  {
    const std::string bytes = png_bytes(image);
    QFile file(png);
    if (!file.open(QIODevice::WriteOnly) || file.write(bytes.data(), qint64(bytes.size())) < 0)
      return 1;
  }
  shown.save(jpeg, "JPG", 90);
  load_fonts();
  apply_theme(app, ThemeName::chalk);
  const QString project = folder.filePath("p.bquarry");
  ProjectFile::create(project.toStdString(), "bench");
  MainWindow window;
  window.show();
  double longest = 0;
  window.workbench().open(project);
  wait_ms([&] { return window.workbench().has_project(); }, longest);
  window.go_to(Station::lens);
  auto* lens = static_cast<LensView*>(window.station(Station::lens));
  LensModel& model = lens->model();
  std::printf("%d megapixels, PNG %.1f MB, JPEG %.1f MB\n", megapixels,
              double(QFileInfo(png).size()) / 1e6, double(QFileInfo(jpeg).size()) / 1e6);
  for (const QString& path : {png, jpeg}) {
    const std::size_t before = window.workbench().trial().micrographs.size();
    model.bring_in({path});
    const double in =
        wait_ms([&] { return window.workbench().trial().micrographs.size() > before; }, longest);
    std::printf("%s into the project: %.0f ms, longest stretch of the window's thread %.1f ms\n",
                QFileInfo(path).suffix().toUtf8().data(), in, longest);
    wait_ms([&] { return model.pixels() != nullptr; }, longest);
    const auto id = model.current_id();
    model.open(0);
    QApplication::processEvents();
    QElapsedTimer clock;
    clock.start();
    model.open(id);
    lens->canvas()->repaint();
    const double first = double(clock.nsecsElapsed()) / 1e6;
    const double whole = wait_ms([&] { return model.pixels() != nullptr; }, longest);
    std::printf(
        "%s from the project: first view %.1f ms (wanted < 1000), all pixels %.0f ms, longest "
        "stretch of the window's thread %.1f ms (wanted < 50)\n",
        QFileInfo(path).suffix().toUtf8().data(), first, first + whole, longest);
  }
  ask_for("after they came in", window.workbench(), 4000);
  window.workbench().open(project);
  wait_ms([&] { return !window.workbench().opening(); }, longest);
  ask_for("opened again", window.workbench(), 4000);
  for (const double zoom : {0.0, 0.3, 1.0, 3.0}) {
    if (zoom > 0)
      lens->canvas()->zoom_to(zoom);
    else
      lens->canvas()->fit();
    QElapsedTimer clock;
    clock.start();
    int frames = 0;
    double slowest = 0;
    while (clock.elapsed() < 2000) {
      QElapsedTimer turn;
      turn.start();
      lens->canvas()->shift(QPointF(frames % 80 < 40 ? -7 : 7, frames % 60 < 30 ? -5 : 5));
      lens->canvas()->repaint();
      slowest = std::max(slowest, double(turn.nsecsElapsed()) / 1e6);
      ++frames;
    }
    std::printf("panned at %s: %.0f frames/s (wanted 30), slowest %.1f ms\n",
                zoom > 0 ? QByteArray::number(100 * zoom).append(" %").data() : "whole picture",
                frames * 1000.0 / double(clock.elapsed()), slowest);
  }
  many_pictures(folder.path());
  return 0;
}
