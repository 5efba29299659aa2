// A person at the Bench who never stops: does what the real window asks for, readings typed or
// taken from a gauge, and writes each reading to standard output only after the window has shown it
// as kept. usage: bench-typist PROJECT FIRST_VALUE     types FIRST_VALUE, FIRST_VALUE + 1, …
//        bench-typist PROJECT gauge            asks the gauge that the project knows; ends when all
//        runs are done
#include <unistd.h>

#include <QApplication>
#include <QLineEdit>
#include <QTest>
#include <cstdio>
#include <cstring>

#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/frame/application.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/theme/theme.h"

using namespace bq;
using namespace bq::ui;

namespace {

bool tell(const char* format, long long a, long long b, double c) {
  char line[96];
  const int length = std::snprintf(line, sizeof line, format, a, b, c);
  return write(STDOUT_FILENO, line, std::size_t(length)) == length;
}

/// Through all runs, pressing what the screen asks for.
int drive(MainWindow& window, BenchView* bench) {
  BenchModel& model = bench->model();
  QString shown;
  QObject::connect(&model, &BenchModel::said, [&](const QString& sentence) { shown = sentence; });
  for (;;) {
    QCoreApplication::processEvents();
    if (!window.isVisible()) return 0;
    const StageKind kind = model.stage().kind;
    if (kind == StageKind::finished || kind == StageKind::stopped) {
      const int before = window.workbench().current_run();
      model.next_run();
      if (window.workbench().current_run() == before) return 0;
      continue;
    }
    if (kind != StageKind::read) {
      QTest::keyClick(bench->trial(), Qt::Key_Space);
      continue;
    }
    const auto before = model.run()->readings.size();
    shown.clear();
    QTest::keyClick(bench->trial(), Qt::Key_Space);
    (void)test::wait_for([&] {
      return shown.startsWith("kept") ||
             (model.run()->readings.size() > before && window.workbench().all_kept());
    });
    QCoreApplication::processEvents();
    // What the screen says is what is promised.
    if (model.run()->readings.size() == before || !bench->kept_line().startsWith("kept")) continue;
    const Reading& kept = model.run()->readings.back();
    if (!tell("%lld %lld %.6g\n", (long long)(model.run()->id), (long long)(kept.id), kept.value))
      return 4;
  }
}

}  // namespace

int main(int argc, char** argv) {
  Application app(argc, argv);
  app.close_on_signals();
  if (argc < 3) return 2;
  load_fonts();
  apply_theme(app, ThemeName::chalk);
  MainWindow window;
  window.show();
  window.workbench().open(QString::fromLocal8Bit(argv[1]));
  if (!test::wait_for([&] { return window.workbench().has_project(); })) return 3;
  window.go_to(Station::bench);
  auto* bench = static_cast<BenchView*>(window.station(Station::bench));
  if (std::strcmp(argv[2], "gauge") == 0) {
    if (!test::wait_for([&] { return bench->model().desk().open(InstrumentRole::gauge); }))
      return 5;
    return drive(window, bench);
  }
  window.workbench().choose_run(0);
  for (int value = std::atoi(argv[2]);; ++value) {
    QCoreApplication::processEvents();
    if (!window.isVisible()) return 0;
    if (!bench->entry()->isVisible() || bench->model().stage().kind != StageKind::read) {
      QTest::keyClick(bench->trial(), Qt::Key_Space);
      --value;
      continue;
    }
    QTest::keyClicks(bench->entry(), QString::number(value));
    QTest::keyClick(bench->entry(), Qt::Key_Return);
    (void)test::wait_for([&] { return window.workbench().all_kept() || !window.isVisible(); });
    if (!bench->kept_line().startsWith(QStringLiteral("kept %1 gf").arg(value))) continue;
    if (!tell("%lld\n", value, 0, 0)) return 4;
  }
}
