// A person at the Bench who never stops: types readings and confirms cuts in the real window, and
// writes each reading to standard output only after the window has shown it as kept.
#include <unistd.h>

#include <QApplication>
#include <QLineEdit>
#include <QTest>
#include <cstdio>

#include "ui/bench/bench_view.h"
#include "ui/frame/main_window.h"
#include "ui/theme/theme.h"

using namespace bq;
using namespace bq::ui;

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  if (argc < 3) return 2;
  load_fonts();
  apply_theme(app, ThemeName::chalk);
  MainWindow window;
  window.show();
  window.workbench().open(QString::fromLocal8Bit(argv[1]));
  if (!QTest::qWaitFor([&] { return window.workbench().has_project(); }, 10000)) return 3;
  window.go_to(Station::bench);
  auto* bench = static_cast<BenchView*>(window.station(Station::bench));
  window.workbench().choose_run(0);
  for (int value = std::atoi(argv[2]);; ++value) {
    QCoreApplication::processEvents();
    if (!bench->entry()->isVisible()) {
      QTest::keyClick(bench, Qt::Key_Space);
      continue;
    }
    QTest::keyClicks(bench->entry(), QString::number(value));
    QTest::keyClick(bench->entry(), Qt::Key_Return);
    if (!bench->kept_line().startsWith(QStringLiteral("kept %1 gf").arg(value))) continue;
    char line[32];
    const int length = std::snprintf(line, sizeof line, "%d\n", value);
    if (write(STDOUT_FILENO, line, std::size_t(length)) != length) return 4;
  }
}
