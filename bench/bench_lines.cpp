// A force cell at 1,000 lines a second for 60 s over a pseudo-terminal into the real window, with
// faults injected: are all good lines taken and no bad ones, how often is the trace drawn, how long
// is the window's thread busy at a stretch? usage: bench_lines [SECONDS]
#include <QApplication>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>
#include <algorithm>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <thread>

#include "instrument/pseudo_terminal.h"
#include "stats/random.h"
#include "store/bench_json.h"
#include "store/project_file.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/bench/stroke_trace.h"
#include "ui/frame/main_window.h"

using namespace bq;
using namespace bq::ui;

namespace {

/// Force of line number i: strokes of 400 ms, 600 ms of rest; its last four figures count up, so
/// that every value names its line.
double force_of(long i) { return (i % 1000 >= 600 ? 12.0 : 0.0) + double(i % 5000) * 1e-4; }

/// Sends `count` good lines at 1,000 a second and bad ones between them; returns how many bad ones.
long send(PseudoTerminal& line, long count, const std::atomic<bool>& stop) {
  stats::Random random(1000);
  long bad = 0;
  const auto began = std::chrono::steady_clock::now();
  for (long i = 0; i < count && !stop; ++i) {
    std::string out;
    if (random.below(20) == 0) {
      ++bad;
      switch (random.below(5)) {
        case 0:
          out += "~~\x01\x02\xff\n";
          break;
        case 1:
          out += std::string(300, '7') + "\n";
          break;
        case 2:
          out += "12.5\n";
          break;  // no unit
        case 3:
          out += "3.1 furlongs\n";
          break;
        default:
          out += "9.9 N8.8 N\n";
          break;  // two lines without an end between
      }
    }
    char text[32];
    std::snprintf(text, sizeof text, "%.4f N\n", force_of(i));
    out += text;
    // Cut anywhere: half of the lines arrive in two pieces.
    const std::size_t cut = random.below(2) ? out.size() : random.below(out.size());
    line.write(std::string_view(out).substr(0, cut));
    std::this_thread::sleep_until(began + std::chrono::milliseconds(i + 1));
    line.write(std::string_view(out).substr(cut));
  }
  return bad;
}

}  // namespace

int main(int argc, char** argv) {
  const long seconds = argc > 1 ? std::atol(argv[1]) : 60;
  QApplication app(argc, argv);
  load_fonts();
  apply_theme(app, ThemeName::chalk);
  QTemporaryDir folder;
  const auto path = folder.filePath(QStringLiteral("p.bquarry")).toStdString();
  PseudoTerminal line(folder.filePath(QStringLiteral("cell")).toStdString());
  {
    auto project = ProjectFile::create(path, "lines");
    Run run;
    run.facts.name = "R1";
    run.plan.checkpoints = {0, 10, 40};
    run.cuts_done = 0;
    project.add_run(run);
    BenchProtocol protocol;
    protocol.prepare = false;
    project.set_setting(kProtocolKey, protocol_json(protocol));
    InstrumentProfile cell = usual_profile(InstrumentRole::force_cell);
    cell.port = folder.filePath(QStringLiteral("cell")).toStdString();
    cell.resolution = 1e-4;
    project.set_setting(kInstrumentsKey, instruments_json({cell}));
  }
  MainWindow window;
  window.show();
  window.workbench().open(QString::fromStdString(path));
  window.go_to(Station::bench);
  auto* bench = static_cast<BenchView*>(window.station(Station::bench));
  InstrumentDesk& desk = bench->model().desk();
  if (!QTest::qWaitFor(
          [&] { return window.workbench().has_project() && desk.open(InstrumentRole::force_cell); },
          8000))
    return 1;
  QTest::qWait(500);

  long taken = 0, wrong = 0, next = 0, strokes = 0;
  QObject::connect(&desk, &InstrumentDesk::streamed, [&](InstrumentRole, double value) {
    wrong += std::fabs(value - force_of(next)) > 1e-6;
    ++next;
    ++taken;
  });
  QObject::connect(&bench->model(), &BenchModel::stroke_kept, [&] { ++strokes; });
  // The longest stretch in which the window's thread did not come round.
  std::vector<double> gaps;
  QElapsedTimer turn, clock;
  QTimer heart;
  heart.setTimerType(Qt::PreciseTimer);
  QObject::connect(&heart, &QTimer::timeout, [&] {
    if (turn.isValid()) gaps.push_back(double(turn.nsecsElapsed()) * 1e-6);
    turn.start();
  });
  const long frames_before = bench->trial()->trace()->frames();
  std::atomic<bool> stop = false;
  long bad = 0;
  std::thread sender([&] { bad = send(line, seconds * 1000, stop); });
  heart.start(1);
  clock.start();
  // What the machine does to a thread that only sleeps a millisecond at a time.
  double sleeper_longest = 0;
  std::thread sleeper([&] {
    auto last = std::chrono::steady_clock::now();
    while (!stop) {
      std::this_thread::sleep_for(std::chrono::milliseconds(1));
      const auto now = std::chrono::steady_clock::now();
      sleeper_longest =
          std::max(sleeper_longest, std::chrono::duration<double, std::milli>(now - last).count());
      last = now;
    }
  });
  while (clock.elapsed() < seconds * 1000 + 400)
    QCoreApplication::processEvents(QEventLoop::AllEvents | QEventLoop::WaitForMoreEvents, 20);
  heart.stop();
  stop = true;
  sender.join();
  sleeper.join();
  const double frames = double(bench->trial()->trace()->frames() - frames_before) / double(seconds);
  std::sort(gaps.begin(), gaps.end());
  const auto counts = desk.counts(InstrumentRole::force_cell);
  std::printf(
      "%ld good lines sent in %ld s, %ld taken, %ld of them not the line that was due; %ld bad "
      "lines sent, %ld counted as bad\n",
      seconds * 1000, seconds, taken, wrong, bad,
      counts.garbage + counts.overload + counts.unstable);
  std::printf("trace drawn %.1f times a second; %ld strokes kept whole (each one commit)\n", frames,
              strokes);
  std::printf("window's thread: longest stretch %.1f ms, 99.9 %% below %.1f ms, median %.2f ms\n",
              gaps.back(), gaps[gaps.size() * 999 / 1000], gaps[gaps.size() / 2]);
  std::printf(
      "a thread of this machine that only sleeps a millisecond at a time: longest stretch %.1f "
      "ms\n",
      sleeper_longest);
  const bool good = taken == seconds * 1000 && wrong == 0 && frames >= 30 && gaps.back() < 50;
  std::printf("%s\n",
              good ? "holds: every good line, no bad one, 30 frames a second, no stretch of 50 ms"
                   : "DOES NOT HOLD");
  return 0;
}
