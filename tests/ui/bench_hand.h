#pragma once

#include <QLineEdit>
#include <QProcess>
#include <QTest>
#include <filesystem>

#include "store/bench_json.h"
#include "store/project_file.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/bench/reason_panel.h"
#include "ui/bench/stand_in_bench.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"

namespace bq::test {

using namespace bq::ui;

/// A hand at the Bench: presses what the screen asks for.
struct BenchHand {
  MainWindow& window;
  [[nodiscard]] BenchView* bench() const {
    return static_cast<BenchView*>(window.station(Station::bench));
  }
  [[nodiscard]] BenchModel& model() const { return bench()->model(); }
  void press(int key) const { QTest::keyClick(bench()->trial(), Qt::Key(key)); }
  /// One step of the run at the bench, by the keys a person has; waits for the gauge's answer.
  /// False when there is nothing to do.
  bool step() const {
    const StageKind kind = model().stage().kind;
    const Run* run = model().run();
    if (!run || kind == StageKind::finished || kind == StageKind::stopped) return false;
    if (kind == StageKind::read) {
      const auto before = run->readings.size();
      // A gauge that did not answer in time is asked again, as the window says.
      return wait_for([&] {
        if (model().run()->readings.size() > before) return true;
        if (!model().desk().awaiting(InstrumentRole::gauge)) press(Qt::Key_Space);
        return false;
      });
    }
    if (kind == StageKind::gate ||
        (kind == StageKind::stop && model().stage().rule == StopRule::threshold)) {
      press(Qt::Key_G);  // the trial is to run to its end
      QTest::keyClick(bench()->trial()->findChild<ReasonPanel*>(), Qt::Key_1);
      return true;
    }
    press(Qt::Key_Space);
    return true;
  }
};

/// A project with one blade and runs that are read often, keys that are not held off.
inline void make_bench_project(const std::filesystem::path& path, int runs,
                               const std::vector<std::int64_t>& checkpoints, int readings_each,
                               const BenchProtocol& protocol) {
  auto project = ProjectFile::create(path, "bench");
  project.add_blade({0, "b", "Fenland Plain", "", false, {}});
  for (int i = 0; i < runs; ++i) {
    bq::Run run;
    run.facts.name = "R" + std::to_string(i + 1);
    run.facts.blade = "b";
    run.facts.steel = "Fenland Plain";
    run.facts.geometry = *EdgeGeometry::make({12, 12}, BevelAngles{15, 15});
    run.facts.finish = Finish{6, 6};
    run.facts.medium = "rubberised coir mat 8 mm";
    run.plan.checkpoints = checkpoints;
    run.plan.readings_each = readings_each;
    project.add_run(run);
  }
  project.set_setting(kProtocolKey, protocol_json(protocol));
}

/// A stand-in on a pseudo-terminal of its own.
struct Device {
  QProcess process;
  Device(const char* kind, const QString& link, const QStringList& more = {}) {
    process.setProcessChannelMode(QProcess::ForwardedErrorChannel);
    process.start(QStringLiteral(BQ_INSTRUMENT),
                  QStringList{QLatin1String(kind), QStringLiteral("--link"), link,
                              QStringLiteral("--seed"), QStringLiteral("20299")} +
                      more);
    EXPECT_TRUE(process.waitForReadyRead(60000)) << process.errorString().toStdString();
  }
  ~Device() {
    process.terminate();
    process.waitForFinished(2000);
  }
};

}  // namespace bq::test
