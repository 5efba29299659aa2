#include <QApplication>
#include <QCommandLineParser>
#include <QTimer>
#include <cstdio>

#include "screenshots.h"
#include "ui/frame/main_window.h"
#include "ui/theme/theme.h"

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setApplicationName(QStringLiteral("Brave Quarry"));
  QApplication::setDesktopFileName(QStringLiteral("brave-quarry"));
  QApplication::setStyle(QStringLiteral("Fusion"));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Trial bench for blade-edge testers"));
  parser.addHelpOption();
  parser.addPositionalArgument(QStringLiteral("PROJECT"), QStringLiteral("project to open (*.bquarry)"));
  parser.addOption({QStringLiteral("screenshot"), QStringLiteral("Write a picture of every station into DIR and exit."), QStringLiteral("DIR")});
  parser.addOption({QStringLiteral("theme"), QStringLiteral("chalk (light) or slate (dark)"), QStringLiteral("NAME"), QStringLiteral("chalk")});
  parser.addOption({QStringLiteral("exit-after-paint"), QStringLiteral("Exit when the first window is on the screen (for the benchmark).")});
  parser.addOption({QStringLiteral("exit-when-open"), QStringLiteral("Exit when the project can be worked with (for the benchmark).")});
  parser.process(app);

  bq::ui::load_fonts();
  bq::ui::Display display;
  if (parser.value(QStringLiteral("theme")) == QLatin1String("slate")) display.theme = bq::ui::ThemeName::slate;
  bq::ui::apply_theme(app, display.theme);
  bq::ui::MainWindow window;
  window.workbench().set_display(display);
  if (parser.isSet(QStringLiteral("exit-after-paint")))
    QObject::connect(&window, &bq::ui::MainWindow::painted, &app, [] {
      std::printf("painted\n");
      std::fflush(stdout);
      QApplication::quit();
    });
  window.show();
  // The window paints first; the project is read behind it.
  const QStringList files = parser.positionalArguments();
  if (!files.isEmpty()) QTimer::singleShot(0, &window, [&] { window.workbench().open(files.first()); });
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
    QTimer::singleShot(0, &window, [&] {
      QTimer::singleShot(50, &window, [&] {
        code = write_screenshots(window, parser.value(QStringLiteral("screenshot"))) ? 0 : 4;
        QApplication::exit(code);
      });
    });
    return QApplication::exec();
  }
  return QApplication::exec();
}
