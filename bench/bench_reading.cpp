// One reading typed at the Bench of a project of 1,000,000 readings: statements of SQL, refreshes,
// and the time from the key to the painted curve that has it. usage: bench_reading [READINGS [RUNS
// [TYPED]]]
#include <sqlite3.h>

#include <QApplication>
#include <QElapsedTimer>
#include <QLineEdit>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdio>
#include <map>

#include "stats/random.h"
#include "store/bench_json.h"
#include "store/project_file.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/bench/trial_page.h"
#include "ui/frame/main_window.h"
#include "ui/plot/plot_view.h"

using namespace bq;
using namespace bq::ui;

namespace {

std::map<std::string, int> statements;
bool counting = false;

/// Every statement of every connection of this program. SQLite calls it with `what` the statement.
int count_statement(unsigned, void*, void* statement, void*) {
  if (!counting) return 0;
  ++statements[sqlite3_sql(static_cast<sqlite3_stmt*>(statement))];
  return 0;
}

int trace_connection(sqlite3* db, char**, const sqlite3_api_routines*) {
  return sqlite3_trace_v2(db, SQLITE_TRACE_STMT, count_statement, nullptr);
}

/// Runs of one bench, all but the last done.
Trial big_trial(int readings, int runs) {
  stats::Random random(5);
  Trial out;
  for (int r = 0; r < runs; ++r) {
    Run& run = out.runs.emplace_back();
    run.facts.name = "R" + std::to_string(r);
    run.facts.blade = "B" + std::to_string(r % 40);
    run.facts.steel = r % 2 ? "S" : "T";
    run.facts.medium = "mat edge";
    const int points = r + 1 == runs ? 8 : 10, each = readings / runs / 10;
    for (int point = 0; point < points; ++point) {
      const std::int64_t cuts = point == 0 ? 0 : 10LL << point;
      run.plan.checkpoints.push_back(cuts);
      run.cuts_done = cuts;
      for (int i = 0; i < each; ++i) {
        Reading& reading = run.readings.emplace_back();
        reading.cuts = cuts;
        reading.value = std::round(150 * std::pow(1 + double(cuts) / 400, 0.5) *
                                   std::exp(0.03 * random.normal()));
      }
    }
  }
  return out;
}

/// Whether the plot was painted with other fits than those there were.
class PaintWatch : public QObject {
 public:
  explicit PaintWatch(const Workbench& bench) : bench_(bench) {}
  void begin() {
    before_ = bench_.fits();
    painted = false;
  }
  bool painted = false;
  bool eventFilter(QObject*, QEvent* event) override {
    painted = painted || (event->type() == QEvent::Paint && bench_.fits() != before_);
    return false;
  }

 private:
  const Workbench& bench_;
  FitService::Fits before_;
};

}  // namespace

int main(int argc, char** argv) {
  const int readings = argc > 1 ? std::atoi(argv[1]) : 1'000'000;
  const int runs = argc > 2 ? std::atoi(argv[2]) : 1000;
  sqlite3_auto_extension(reinterpret_cast<void (*)()>(trace_connection));
  QApplication app(argc, argv);
  load_fonts();
  apply_theme(app, ThemeName::chalk);
  QTemporaryDir folder;
  const auto path = folder.filePath(QStringLiteral("p.bquarry")).toStdString();
  {
    auto project = ProjectFile::create(path, "many");
    project.import(big_trial(readings, runs), KnownRuns::refuse);
    BenchProtocol protocol;
    protocol.prepare = false;
    project.set_setting(kProtocolKey, protocol_json(protocol));
  }
  {
    auto session = ProjectSession::open(path);
    const std::size_t last = session.trial().runs.size() - 1;
    RunPlan plan = session.trial().runs[last].plan;
    plan.checkpoints.push_back(5000);
    plan.readings_each = 400;
    session.update_run(last, session.trial().runs[last].facts, plan);
    session.make_cuts(last, 5000 - session.trial().runs[last].cuts_done,
                      5000 - session.trial().runs[last].cuts_done, "A");
  }
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  Workbench& bench = window.workbench();
  bench.open(QString::fromStdString(path));
  if (!QTest::qWaitFor([&] { return bench.has_project() && !bench.fitting(); }, 600000)) return 1;
  window.go_to(Station::bench);
  auto* view = static_cast<BenchView*>(window.station(Station::bench));
  bench.choose_run(runs - 1);
  view->model().set_operator(QStringLiteral("operator A"));
  for (int press = 0; press < 5 && view->model().stage().kind != StageKind::read; ++press) {
    QTest::keyClick(view->trial(), Qt::Key_Space);
    QTest::qWait(300);
  }
  QTest::qWait(1500);
  if (view->model().stage().kind != StageKind::read)
    return std::printf("the Bench asks for something else: %s\n",
                       view->trial()->instruction().toUtf8().constData()),
           1;
  std::map<std::string, int> signals_sent;
  const auto watch = [&](auto signal, const char* name) {
    QObject::connect(&bench, signal, &window, [&signals_sent, name] { ++signals_sent[name]; });
  };
  watch(&Workbench::changed, "changed");
  watch(&Workbench::fits_changed, "fits_changed");
  watch(&Workbench::threshold_changed, "threshold_changed");
  QObject::connect(&view->model(), &BenchModel::changed, &window,
                   [&] { ++signals_sent["refreshes of the Bench"]; });
  PaintWatch paint(bench);
  view->trial()->plot()->installEventFilter(&paint);
  for (auto* child : view->trial()->plot()->findChildren<QWidget*>())
    child->installEventFilter(&paint);

  const int kReadings = argc > 3 ? std::atoi(argv[3]) : 200;
  std::vector<double> kept_ms, fitted_ms, painted_ms;
  QElapsedTimer clock;
  QObject::connect(&bench, &Workbench::fits_changed, &window,
                   [&] { fitted_ms.push_back(double(clock.nsecsElapsed()) * 1e-6); });
  stats::Random random(9);
  const std::size_t before = view->model().run()->readings.size();
  if (argc > 4) QTest::qWait(500);
  counting = true;
  for (int i = 0; i < kReadings; ++i) {
    QTest::keyClicks(view->entry(),
                     QString::number(std::lround(560 * std::exp(0.02 * random.normal()))));
    paint.begin();
    clock.start();
    QTest::keyClick(view->entry(), Qt::Key_Return);
    kept_ms.push_back(double(clock.nsecsElapsed()) * 1e-6);
    while (!paint.painted && clock.elapsed() < 5000)
      QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 5);
    painted_ms.push_back(double(clock.nsecsElapsed()) * 1e-6);
    // As a person does: the next one is typed when all is at rest.
    QTest::qWait(20);
  }
  counting = false;
  const std::size_t taken = view->model().run()->readings.size() - before;
  std::sort(kept_ms.begin(), kept_ms.end());
  std::sort(fitted_ms.begin(), fitted_ms.end());
  std::sort(painted_ms.begin(), painted_ms.end());
  std::printf("%d readings in %d runs; %zu of %d typed were taken\n", readings, runs, taken,
              kReadings);
  std::printf("window's thread held by the key: median %.1f ms, 99 %% below %.1f ms\n",
              kept_ms[kReadings / 2], kept_ms[kReadings * 99 / 100]);
  std::printf("key to new curve and all that hangs on it: median %.1f ms, 99 %% below %.1f ms\n",
              fitted_ms[fitted_ms.size() / 2], fitted_ms[fitted_ms.size() * 99 / 100]);
  std::printf("key to painted curve: median %.1f ms, 99 %% below %.1f ms (wanted: 30)\n",
              painted_ms[kReadings / 2], painted_ms[kReadings * 99 / 100]);
  for (const auto& [name, count] : signals_sent)
    std::printf("  %.2f %s a reading\n", double(count) / kReadings, name.c_str());
  int all = 0;
  for (const auto& [sql, count] : statements) {
    all += count;
    if (count >= kReadings / 10)
      std::printf("  %5.2f x %.110s\n", double(count) / kReadings, sql.c_str());
  }
  std::printf("%.1f statements a reading\n", double(all) / kReadings);
  return taken == kReadings ? 0 : 1;
}
