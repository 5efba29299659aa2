// The Bench through the window: instruments over pseudo-terminals, and a whole trial by them.
#include <gtest/gtest.h>

#include <QTableWidget>

#include "bench_test.h"
#include "bluntness/life_model.h"
#include "bluntness/life_table.h"
#include "ui/bench/gauge_page.h"
#include "ui/bench/instruments_page.h"
#include "ui/bench/stage_words.h"
#include "ui/bench/steadiness_page.h"
#include "workflow/bench_study.h"

using namespace bq;
using namespace bq::ui;
using test::Bench;
using test::BenchHand;

TEST_F(Bench, AGaugeIsAskedWatchedAndFoundAgain) {
  make(1, {0, 10, 30}, 3);
  open();
  press(Qt::Key_Space);
  {
    const test::Device gauge("gauge", link("gauge"));
    use(InstrumentRole::gauge, link("gauge"), "READ");
    ASSERT_TRUE(hand().step());
    EXPECT_EQ(run().readings.size(), 1u);
    EXPECT_EQ(window_->workbench().trial().labels.text(run().readings[0].gauge), "sharpness gauge");
    auto* setup = page<InstrumentsPage>(BenchView::Page::instruments);
    ASSERT_TRUE(test::wait_for([&] { return setup->lines()->rowCount() > 0; }));
    EXPECT_TRUE(setup->lines()->item(0, 0)->text().endsWith("gf"));
    EXPECT_TRUE(setup->lines()->item(0, 1)->text().startsWith("✓"));
    hand().bench()->open_page(BenchView::Page::trial);
  }
  // The cable is pulled.
  ASSERT_TRUE(test::wait_for([&] { return !model().desk().open(InstrumentRole::gauge); }));
  EXPECT_TRUE(said().contains("is gone")) << said().toStdString();
  const auto detail = [&] { return words_of(window_->workbench(), model()).detail; };
  EXPECT_TRUE(detail().contains("has been gone since")) << detail().toStdString();
  type("101");
  EXPECT_TRUE(detail().contains("has been gone since")) << "it stays said while it is away";
  EXPECT_EQ(run().readings.size(), 2u) << "readings can be typed meanwhile";
  const test::Device again("gauge", link("gauge"));
  ASSERT_TRUE(test::wait_for([&] { return model().desk().open(InstrumentRole::gauge); }));
  EXPECT_TRUE(said().contains("was away from")) << said().toStdString();
  EXPECT_FALSE(detail().contains("gone"));
  ASSERT_TRUE(hand().step());
  EXPECT_EQ(run().readings.size(), 3u);
  InstrumentProfile lengths = usual_profile(InstrumentRole::gauge);
  lengths.unit = {Unit::mm};
  EXPECT_FALSE(model().desk().set_profile(lengths)) << "a trial of forces has no use for lengths";
  // A reading that nobody asked for is not taken; one of another kind neither.
  const auto before = run().readings.size();
  model().take({312, {Unit::gf}, 1, ReadingStatus::ok, "312 gf", ""});
  EXPECT_TRUE(said().contains("no reading is due")) << said().toStdString();
  press(Qt::Key_Space);  // cuts
  press(Qt::Key_Space);  // cleaned
  model().take({1.2, {Unit::mm}, 0.1, ReadingStatus::ok, "1.2 mm", ""});
  EXPECT_TRUE(said().contains("readings are in gf")) << said().toStdString();
  model().take({9999, {Unit::gf}, 1, ReadingStatus::overload, "9999 gf", "at its capacity"});
  EXPECT_TRUE(said().contains("overload")) << said().toStdString();
  EXPECT_EQ(run().readings.size(), before);
}

TEST_F(Bench, FaultsOnTheLineCostNothing) {
  make(1, {0, 10}, 12);
  const test::Device gauge("gauge", link("gauge"), {"--fault", "garbage", "--fault-share", "0.5"});
  open();
  press(Qt::Key_Space);
  use(InstrumentRole::gauge, link("gauge"), "READ");
  while (run().readings.size() < 12) ASSERT_TRUE(hand().step()) << said().toStdString();
  EXPECT_GT(model().desk().counts(InstrumentRole::gauge).garbage, 0);
  EXPECT_GE(model().desk().counts(InstrumentRole::gauge).good, 12)
      << "late answers are counted too";
}

TEST_F(Bench, AWindowThatWasHeldUpStillHearsTheAnswer) {
  make(1, {0, 10}, 2);
  open();
  const test::Device gauge("gauge", link("gauge"));
  use(InstrumentRole::gauge, link("gauge"), "READ");
  press(Qt::Key_Space);  // prepared
  press(Qt::Key_Space);  // asked
  ASSERT_TRUE(model().desk().awaiting(InstrumentRole::gauge));
  QTest::qSleep(3000);  // longer than the gauge is waited for; its answer lies in the port
  ASSERT_TRUE(test::wait_for([&] { return !model().desk().awaiting(InstrumentRole::gauge); }));
  EXPECT_EQ(run().readings.size(), 1u) << said().toStdString();
}

TEST_F(Bench, StrokesAreKeptWholeAndSeenLive) {
  make(1, {0, 10}, 1);
  open();
  const test::Device cell("force-cell", link("cell"));
  use(InstrumentRole::force_cell, link("cell"), "STROKE");
  press(Qt::Key_T);
  ASSERT_TRUE(test::wait_for([&] { return said().contains("not being cut now"); }))
      << "before the run has begun a stroke is nobody's";
  press(Qt::Key_Space);
  // A cell that is still at the stroke before does not hear that another is wished, and one that
  // was held up gives a piece, which is told: ask again.
  bool kept = false;
  for (int asked = 0; asked < 60 && !kept; ++asked) {
    press(Qt::Key_T);
    const QDeadlineTimer again(4000);
    test::wait_for([&] {
      kept = said().startsWith("kept a stroke") && !said().contains("Look at it");
      return kept || again.hasExpired();
    });
  }
  ASSERT_TRUE(kept) << said().toStdString();
  const auto& event = std::get<StrokeEvent>(run().events.back().data);
  EXPECT_EQ(event.trouble, "");
  EXPECT_GT(event.peak_N, event.mean_N);
  const auto stroke = window_->workbench().session().stroke(event.stroke);
  ASSERT_TRUE(stroke.has_value());
  EXPECT_GT(stroke->force_N.size(), 300u);
  const auto figures = stroke_figures(*stroke, {model().protocol().stroke_mm, 0.1, 0.03, 0.01});
  EXPECT_DOUBLE_EQ(figures->peak_N, event.peak_N) << "what was kept gives the same figures";
  press(Qt::Key_U);
  EXPECT_FALSE(window_->workbench().session().stroke(event.stroke).has_value());
}

TEST_F(Bench, CheckWeightsGuardTheGauge) {
  make(1, {0, 10, 30}, 2, [](BenchProtocol& p) {
    p.check_nominal = 200;
    p.filament_lot = "7";
  });
  open();
  press(Qt::Key_Space);
  EXPECT_EQ(instruction(), "Put the check weight on the gauge");
  type("200.5");
  EXPECT_TRUE(said().startsWith("The gauge reads +0.2 %")) << said().toStdString();
  EXPECT_EQ(instruction(), "Read 1 of 2 at 0 cuts");
  type("100");
  type("101");
  EXPECT_EQ(window_->workbench().trial().labels.text(run().readings[0].gauge),
            "keyed, filament lot 7");
  press(Qt::Key_W);
  type("210");
  EXPECT_TRUE(said().contains("beyond the limit")) << said().toStdString();
  press(Qt::Key_Space);
  EXPECT_EQ(instruction(), "The gauge is off: weigh again");
  auto* checks = page<GaugeChecksPage>(BenchView::Page::gauge);
  QTest::mouseClick(button(checks, "Flag the readings"), Qt::LeftButton);
  for (const auto& reading : run().readings) EXPECT_NE(reading.reason, 0u);
  EXPECT_FALSE(run().readings[0].excluded) << "flagged, not dropped";
}

TEST_F(Bench, SteadinessIsMeasuredFromTheAngleGauge) {
  make(1, {0, 10}, 1);
  open();
  const test::Device angle("angle", link("angle"));
  use(InstrumentRole::angle, link("angle"), "ZERO");
  auto* meter = page<SteadinessPage>(BenchView::Page::steadiness);
  int samples = 0;
  QObject::connect(&model().desk(), &InstrumentDesk::streamed, meter, [&] { ++samples; });
  ASSERT_TRUE(test::wait_for([&] { return samples > 10; }));
  QTest::keyClick(meter, Qt::Key_Space);
  ASSERT_TRUE(meter->recording());
  ASSERT_TRUE(test::wait_for([&] { return samples > 360; }));  // 7 s of strokes
  QTest::keyClick(meter, Qt::Key_Space);
  EXPECT_TRUE(meter->sentence().startsWith("The steepest moments decide the apex"))
      << meter->sentence().toStdString();
  const auto& sessions = window_->workbench().session().bench_sessions();
  ASSERT_EQ(sessions.size(), 1u);
  const auto& kept = std::get<SteadinessSession>(sessions[0].data);
  EXPECT_GE(kept.strokes.size(), 3u);
  EXPECT_GT(kept.trace_deg.size(), 250u);
}

// Twenty-four runs from the stand-in over a pseudo-terminal, by the keys of a person; then the
// analysis is held against the world that the readings came from.
TEST_F(Bench, AWholeSimulatedTrialRecoversTheTruth) {
  path_ = folder_ / "trial.bquarry";
  const std::vector<std::int64_t> checkpoints{0, 20, 60, 150, 350, 800};
  const std::string world =
      R"({"gauge":{"unit":"gf","resolution":0.1,"gf_per_um":75},"scatter":{"run_sd":0.12,"checkpoint_sd":0.025,"reading_sd":0.045},
    "stations":["heel","middle","tip"],"checkpoints":[0,10],"readings_each":3,
    "media":[{"name":"rubberised coir mat 8 mm","cut_mode":"slice","stroke_mm":120,"wear_um2_per_m":0.75,"tooth_life_cuts":2500}],
    "steels":[{"name":"Fenland Plain","wear_factor":1},{"name":"Cairn Hard","wear_factor":0.45}],"runs":[{"run":"W","blade":"b","steel":"Fenland Plain","edge_angle":12,"finish_um":6,"medium":"rubberised coir mat 8 mm"}]})";
  {
    auto project = ProjectFile::create(path_, "trial");
    stats::Random random(24);
    std::vector<bq::Run> runs;
    for (const char* steel : {"Fenland Plain", "Cairn Hard"})
      for (const double angle : {12.0, 15.0, 20.0})
        for (int i = 0; i < 4; ++i) {
          bq::Run run;
          run.facts.steel = steel;
          run.facts.geometry = *EdgeGeometry::make({10, 10}, BevelAngles{angle, angle});
          run.facts.finish = Finish{6, 6};
          run.facts.medium = "rubberised coir mat 8 mm";
          run.facts.cut_mode = CutMode::slice;
          run.plan.checkpoints = checkpoints;
          run.plan.readings_each = 3;
          runs.push_back(run);
        }
    for (std::size_t i = runs.size(); i > 1; --i) std::swap(runs[i - 1], runs[random.below(i)]);
    for (std::size_t i = 0; i < runs.size(); ++i) {
      runs[i].facts.name = "T" + std::to_string(i + 1);
      project.add_run(runs[i]);
    }
    BenchProtocol protocol;
    protocol.debounce_ms = 0;
    protocol.rest_after_min = 45;
    project.set_setting(kProtocolKey, protocol_json(protocol));
    project.set_setting(kStandInWorldKey, world);
    project.set_setting("threshold", "320 gf");
  }
  open();
  StandInBench stand_ins(window_->workbench(), QStringLiteral(BQ_INSTRUMENT), QString(), 20299);
  ASSERT_TRUE(stand_ins.start());
  ASSERT_TRUE(test::wait_for([&] { return model().desk().open(InstrumentRole::gauge); }));
  for (int i = 0; i < 24; ++i) {
    window_->workbench().choose_run(i);
    int steps = 0;
    while (hand().step()) ASSERT_LT(++steps, 200) << instruction().toStdString();
    ASSERT_EQ(state_of(run()), RunState::done) << said().toStdString();
  }
  const Trial trial = window_->workbench().trial();
  EXPECT_EQ(trial.reading_count() >= 24u * 6 * 3, true);
  // Every run against its own true life.
  const auto fits = *fit_runs(trial, {}, {});
  const LifeTable table = life_table(trial, fits, 320);
  int covered = 0, judged = 0;
  double off = 0;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const auto life = blade_of(*stand_in_edge(trial, i, world, 20299)).true_life(320, 1e6);
    for (const auto& row : table.rows) {
      if (row.facts.name != trial.runs[i].facts.name || row.cuts.censoring != Censoring::none ||
          !life)
        continue;
      ++judged;
      off += std::log(*row.cuts.estimate / *life);
      covered += *row.cuts.low <= *life && *life <= *row.cuts.high;
    }
  }
  EXPECT_GE(judged, 18);
  // A single run's interval covers 87 % with six checkpoints of this world (600 runs): its curve is
  // no exact power of the cuts.
  EXPECT_GE(covered, judged * 3 / 4);
  EXPECT_NEAR(off / judged, 0, 0.08) << "mean of ln(estimate / truth)";
  // The life model against the world without the runs' own scatter.
  LifeSpec life;
  life.terms = {"steel", "angle"};
  const auto fitted = LifeModel::fit(table, life);
  ASSERT_TRUE(fitted.ok()) << fitted.refusal().reason;
  const auto true_life = [&](const char* steel, double angle) {
    VirtualEdge edge = *stand_in_edge(trial, 0, world, 20299);
    edge.scatter.run_sd = 0;
    edge.wear_factor = std::string(steel) == "Cairn Hard" ? 0.45 : 1;
    edge.geometry = *EdgeGeometry::make({10, 10}, BevelAngles{angle, angle});
    return std::log(*blade_of(edge).true_life(320, 1e6));
  };
  const auto inside = [&](const char* name, double value) {
    for (const auto& c : fitted->coefficients())
      if (c.name == name) {
        EXPECT_LE(c.low, value) << name << " estimate " << c.estimate;
        EXPECT_GE(c.high, value) << name << " estimate " << c.estimate;
        return;
      }
    ADD_FAILURE() << "no coefficient " << name;
  };
  inside("steel[Fenland Plain]", true_life("Fenland Plain", 15) - true_life("Cairn Hard", 15));
  const double ln_tan =
      std::log(std::tan(20 * 0.017453292519943295)) - std::log(std::tan(12 * 0.017453292519943295));
  inside("ln tan angle", (true_life("Cairn Hard", 20) - true_life("Cairn Hard", 12)) / ln_tan);
}
