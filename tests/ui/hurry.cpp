// Someone in a hurry at the window: opens a project, types readings, drops pictures and goes to
// another project while fits, pictures and the keeper are still at work; again and again. Ends with
// 0 when every reading that was said to be kept is in its file. Run under the thread sanitizer by
// scripts/threads. usage: bench-hurry [ROUNDS]
#include <QApplication>
#include <QImage>
#include <QLineEdit>
#include <QTest>
#include <cstdio>
#include <cstdlib>

#include "store/project_file.h"
#include "support.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/lens/lens_model.h"
#include "ui/lens/lens_view.h"
#include "ui/theme/theme.h"

using namespace bq;
using namespace bq::ui;

namespace {

bool opened(MainWindow& window, const QString& path) {
  window.workbench().open(path);
  return test::wait_for([&] {
    return window.workbench().has_project() &&
           QString::fromStdString(window.workbench().session().path().string()) == path;
  });
}

/// Through cuts to the next station and three readings; how many were taken.
int type_readings(MainWindow& window) {
  window.go_to(Station::bench);
  auto* bench = static_cast<BenchView*>(window.station(Station::bench));
  int taken = 0;
  for (int step = 0; step < 40 && taken < 3; ++step) {
    QCoreApplication::processEvents();
    if (bench->model().stage().kind != StageKind::read || !bench->entry()->isVisible()) {
      QTest::keyClick(bench->trial(), Qt::Key_Space);
      continue;
    }
    const std::size_t before = bench->model().run()->readings.size();
    QTest::keyClicks(bench->entry(), QString::number(300 + step));
    QTest::keyClick(bench->entry(), Qt::Key_Return);
    taken += bench->model().run()->readings.size() > before;
  }
  return taken;
}

}  // namespace

int main(int argc, char** argv) {
  qputenv("QT_QPA_PLATFORM", "offscreen");
  QApplication app(argc, argv);
  load_fonts();
  apply_theme(app, ThemeName::chalk);
  const int rounds = argc > 1 ? std::atoi(argv[1]) : 3;
  const test::Folder first_folder, second_folder;
  const QString paths[] = {QString::fromStdString(test::demo_project(first_folder).string()),
                           QString::fromStdString(test::demo_project(second_folder).string())};
  QStringList pictures;
  for (int i = 0; i < 4; ++i) {
    QImage image(900 + 10 * i, 600, QImage::Format_Grayscale8);
    image.fill(40 * i);
    pictures << QString::fromStdString(
        (first_folder / ("p" + std::to_string(i) + ".png")).string());
    image.save(pictures.back());
  }
  int typed = 0;
  {
    MainWindow window;
    window.show();
    for (int round = 0; round < rounds; ++round)
      for (const QString& path : paths) {
        if (!opened(window, path)) {
          std::fprintf(stderr, "hurry: %s was not opened\n", qPrintable(path));
          return 3;
        }
        window.workbench().choose_run(0);
        typed += type_readings(window);
        auto& lens = static_cast<LensView*>(window.station(Station::lens))->model();
        window.go_to(Station::lens);
        lens.bring_in(pictures);
        window.go_to(Station::findings);
        // Every other time the first picture is in; else the project is left while it is on its
        // way.
        if (round % 2)
          (void)test::wait_for([&] { return !window.workbench().trial().micrographs.empty(); });
      }
  }
  std::size_t kept = 0;
  for (const QString& path : paths)
    kept += ProjectFile::open(path.toStdString(), ProjectFile::Access::read).load().reading_count();
  const std::size_t before = 2 * test::demo_trial().reading_count();
  std::printf("%d readings typed in %d rounds, %zu in the files\n", typed, rounds, kept - before);
  return typed > 0 && kept - before == std::size_t(typed) ? 0 : 1;
}
