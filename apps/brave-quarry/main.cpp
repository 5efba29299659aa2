#include <QApplication>
#include <QCommandLineParser>
#include <QTimer>
#include <algorithm>
#include <cstdio>
#include <memory>
#include <string_view>

#include "screenshots.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/bench/stand_in_bench.h"
#include "ui/frame/application.h"
#include "ui/frame/log_file.h"
#include "ui/frame/main_window.h"
#include "ui/frame/zoom.h"
#include "ui/lens/lens_view.h"
#include "ui/lens/live_cameras.h"
#include "ui/theme/theme.h"

namespace {

/// Help and version are asked where there is no display too.
void speak_without_display(int argc, char** argv) {
  constexpr std::string_view kSpoken[] = {"-h", "--help", "--help-all", "-v", "--version"};
  for (int i = 1; i < argc; ++i)
    if (std::find(std::begin(kSpoken), std::end(kSpoken), argv[i]) != std::end(kSpoken))
      qputenv("QT_QPA_PLATFORM", "offscreen");
}

}  // namespace

int main(int argc, char** argv) {
  speak_without_display(argc, argv);
  bq::ui::Application app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("Brave Quarry"));
  QApplication::setApplicationVersion(QStringLiteral(BQ_VERSION));
  QApplication::setDesktopFileName(QStringLiteral("brave-quarry"));
  QApplication::setStyle(QStringLiteral("Fusion"));
  app.close_on_signals();
  app.speak_as_the_desk();
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Trial bench for blade-edge testers"));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("PROJECT"),
                               QStringLiteral("project to open (*.bquarry)"));
  parser.addOption({QStringLiteral("screenshot"),
                    QStringLiteral("Write a picture of every station into DIR and exit."),
                    QStringLiteral("DIR")});
  parser.addOption({QStringLiteral("only"),
                    QStringLiteral("With --screenshot: pictures of this station alone (lens)."),
                    QStringLiteral("STATION")});
  parser.addOption({QStringLiteral("theme"),
                    QStringLiteral("chalk (light), slate (dark) or contrast"),
                    QStringLiteral("NAME")});
  parser.addOption(
      {QStringLiteral("exit-after-paint"),
       QStringLiteral("Exit when the first window is on the screen (for the benchmark).")});
  parser.addOption(
      {QStringLiteral("exit-when-arranged"),
       QStringLiteral(
           "Exit when the frame and the first station are on the screen (for the benchmark).")});
  parser.addOption(
      {QStringLiteral("exit-when-open"),
       QStringLiteral("Exit when the project can be worked with (for the benchmark).")});
  parser.addOption(
      {QStringLiteral("stand-ins"), QStringLiteral("Start stand-in instruments (gauge, force cell, "
                                                   "angle gauge) and put them on the bench.")});
  parser.process(app);

  // Pictures and benchmarks begin as on the first day, whatever this desk remembers.
  const bool plain = parser.isSet(QStringLiteral("screenshot")) ||
                     parser.isSet(QStringLiteral("exit-after-paint")) ||
                     parser.isSet(QStringLiteral("exit-when-arranged")) ||
                     parser.isSet(QStringLiteral("exit-when-open"));
  if (!plain) bq::ui::begin_log();
  bq::ui::Remembered remembered;
  if (!plain) remembered = bq::ui::Remembered::read(bq::ui::theme_of_desktop());
  bq::ui::Display display = remembered.display;
  if (parser.isSet(QStringLiteral("theme")))
    display.theme = bq::ui::parse_theme(parser.value(QStringLiteral("theme")))
                        .value_or(bq::ui::ThemeName::chalk);
  bq::ui::choose_theme(display.theme);
  bq::ui::set_zoom(remembered.zoom);
  bq::ui::MainWindow window(bq::ui::MainWindow::Start::bare);
  if (!plain) window.remember(remembered);
  const QStringList files = parser.positionalArguments();
  std::unique_ptr<bq::ui::StandInBench> stand_ins;
  // The window is painted first; type, frame and project follow behind it.
  QObject::connect(&window, &bq::ui::MainWindow::painted, &app, [&] {
    if (parser.isSet(QStringLiteral("exit-after-paint"))) {
      std::printf("painted\n");
      std::fflush(stdout);
      QApplication::quit();
      return;
    }
    bq::ui::load_fonts();
    bq::ui::apply_theme(app, display.theme);
    window.arrange();
    window.workbench().set_display(display);
    if (!plain && !files.isEmpty()) window.go_to(remembered.station);
    if (parser.isSet(QStringLiteral("exit-when-arranged"))) {
      QApplication::processEvents();
      std::printf("arranged\n");
      std::fflush(stdout);
      QApplication::quit();
      return;
    }
    if (parser.isSet(QStringLiteral("stand-ins"))) {
      stand_ins = std::make_unique<bq::ui::StandInBench>(
          window.workbench(),
          QApplication::applicationDirPath() + QStringLiteral("/brave-quarry-instrument"),
          QString(), 20299);
      auto& model = static_cast<bq::ui::BenchView*>(window.station(bq::Station::bench))->model();
      QObject::connect(&model, &bq::ui::BenchModel::changed, stand_ins.get(), [&] {
        stand_ins->put_weight(model.weighing() ? model.protocol().check_nominal : 0);
      });
      stand_ins->start();
      auto* lens = static_cast<bq::ui::LensView*>(window.station(bq::Station::lens));
      lens->offer_stand_in(stand_ins->picture_folder(),
                           [&stand_ins] { stand_ins->take_picture(); });
      lens->offer_stand_in_camera([&stand_ins] {
        return bq::ui::stand_in_camera(stand_ins->program(), stand_ins->camera_wishes());
      });
    }
    if (!files.isEmpty()) window.take_files(files);
  });
  window.show();
  if (parser.isSet(QStringLiteral("exit-when-open")))
    QObject::connect(&window.workbench(), &bq::ui::Workbench::run_chosen, &window, [] {
      QTimer::singleShot(0, [] {
        QApplication::processEvents();  // the stations have painted what was read
        std::printf("open\n");
        std::fflush(stdout);
        QApplication::quit();
      });
    });
  if (parser.isSet(QStringLiteral("screenshot"))) {
    int code = 1;
    QTimer::singleShot(100, &window, [&] {
      code = write_screenshots(window, parser.value(QStringLiteral("screenshot")),
                               parser.value(QStringLiteral("only")))
                 ? 0
                 : 4;
      QApplication::exit(code);
    });
    return QApplication::exec();
  }
  return QApplication::exec();
}
