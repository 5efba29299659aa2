// The Bench through the window: its protocol by keys, blind runs, disks that refuse.
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/resource.h>

#include <QComboBox>
#include <QLabel>

#include "bench_test.h"
#include "store/plan_file.h"
#include "ui/bench/look_panel.h"
#include "ui/bench/reason_panel.h"
#include "ui/bench/search_page.h"
#include "ui/bench/stage_line.h"
#include "ui/parts/number_entry.h"
#include "workflow/bench_study.h"

using namespace bq;
using namespace bq::ui;
using test::Bench;
using test::BenchHand;

TEST_F(Bench, TheProtocolIsWalkedByOneKeyAndResumesWhereItStood) {
  make(1, {0, 10, 30}, 2);
  open();
  EXPECT_EQ(instruction(), "Sharpen b, look at its angle");
  press(Qt::Key_Space);
  EXPECT_EQ(instruction(), "Read 1 of 2 at 0 cuts");
  type("100");
  type("104");
  EXPECT_TRUE(said().startsWith("kept 104 gf at 0 cuts, middle")) << said().toStdString();
  EXPECT_EQ(instruction(), "Cut 10 on rubberised coir mat 8 mm");
  // Digits at a block of cuts say how many were made: three too many move the checkpoint to where
  // the edge is.
  type("13");
  EXPECT_TRUE(said().contains("13 cuts made where 10 are due?")) << said().toStdString();
  EXPECT_EQ(run().cuts_done, 0) << "a reading typed too early moves no checkpoint";
  type("13");
  EXPECT_EQ(run().cuts_done, 13);
  EXPECT_EQ(run().plan.checkpoints, (std::vector<std::int64_t>{0, 13, 30}));
  EXPECT_TRUE(said().contains("13 made where 10 were asked for"));
  EXPECT_EQ(instruction(), "Clean the edge");
  EXPECT_EQ(hand().bench()->trial()->stages()->words(),
            "Cut to 13, [Clean], Read, Look, Cut to 30");
  // A power cut: another window stands exactly there.
  window_.reset();
  open();
  EXPECT_EQ(instruction(), "Clean the edge");
  press(Qt::Key_Space);
  type("140");
  press(Qt::Key_U);
  EXPECT_TRUE(said().startsWith("undone: reading 140 gf"));
  EXPECT_EQ(run().readings.size(), 2u);
  type("140");
  type("138");
  EXPECT_EQ(instruction(), "Look at the edge under light and lens");
  press(Qt::Key_D);
  auto* look = hand().bench()->trial()->findChild<LookPanel*>();
  ASSERT_TRUE(look->isVisible());
  QTest::keyClick(look, Qt::Key_3);
  QTest::keyClick(look, Qt::Key_Return);
  EXPECT_EQ(std::get<LookEvent>(run().events.back().data).found, DamageFound::bent);
  EXPECT_EQ(instruction(), "Damage: stop here?");
  press(Qt::Key_Space);
  EXPECT_EQ(state_of(run()), RunState::done);
  EXPECT_EQ(instruction(), "Run R1 is stopped");
  press(Qt::Key_G);
  press(Qt::Key_4);  // not taken: the reason panel has the keys
  auto* reasons = button(hand().bench(), "4  ");
  ASSERT_NE(reasons, nullptr);
  QTest::mouseClick(reasons, Qt::LeftButton);
  EXPECT_EQ(instruction(), "Cut 17 on rubberised coir mat 8 mm");
}

TEST_F(Bench, KeysAreHeldOffAndDigitsFindTheReading) {
  make(1, {0, 10, 30}, 2, [](BenchProtocol& p) { p.debounce_ms = 300; });
  open();
  const auto at = [&](QWidget* widget, Qt::Key key, quint64 ms) {
    test::press_at(widget, key, ms);
  };
  auto* trial = hand().bench()->trial();
  at(trial, Qt::Key_Space, 1000);
  at(trial, Qt::Key_Space, 1290);  // the glove's second press
  EXPECT_EQ(instruction(), "Read 1 of 2 at 0 cuts");
  // Unfocused digits, then the pedal.
  window_->station(Station::bench)->setFocus();
  QTest::keyClick(hand().bench()->trial(), Qt::Key_1);
  QTest::keyClick(hand().bench()->entry(), Qt::Key_1);
  QTest::keyClick(hand().bench()->entry(), Qt::Key_0);
  EXPECT_EQ(hand().bench()->entry()->text(), "110");
  QTest::keyClick(hand().bench()->entry(), Qt::Key_Escape);
  EXPECT_EQ(hand().bench()->entry()->text(), "110") << "Esc never loses anything";
  at(hand().bench()->entry(), Qt::Key_Space, 2000);
  EXPECT_EQ(run().readings.size(), 0u) << "one Space may lead to a unit";
  at(hand().bench()->entry(), Qt::Key_Space, 2350);
  EXPECT_EQ(run().readings.size(), 1u);
  // A gauge that types like a keyboard is quicker than that, and its numbers do not run into each
  // other; the Enter that follows at once on an empty field is the glove's.
  QTest::keyClicks(hand().bench()->entry(), "112");
  at(hand().bench()->entry(), Qt::Key_Return, 2400);
  EXPECT_EQ(run().readings.size(), 2u);
  EXPECT_EQ(instruction(), "Cut 10 on rubberised coir mat 8 mm");
  at(trial, Qt::Key_Space, 3000);
  at(trial, Qt::Key_Space, 3350);
  quint64 when = 4000;
  for (const char* text : {"120", "121"}) {
    QTest::keyClicks(hand().bench()->entry(), text);
    at(hand().bench()->entry(), Qt::Key_Return, when += 30);
  }
  at(trial, Qt::Key_Return, 4100);
  EXPECT_EQ(run().readings.size(), 4u);
  EXPECT_EQ(instruction(), "Look at the edge under light and lens")
      << "the second Enter was the glove's";
  window_->activateWindow();
  QTest::qWait(20);
  QTest::keyClick(window_.get(), Qt::Key_F11);
  EXPECT_TRUE(window_->isFullScreen());
  QTest::keyClick(hand().bench()->entry(), Qt::Key_Escape);
  EXPECT_FALSE(window_->isFullScreen());
}

TEST_F(Bench, DeviationsAreWrittenDownAndSuspectsStay) {
  make(1, {0, 10, 30}, 3, [](BenchProtocol& p) {
    p.rest_after_min = 0.5;
    p.rest_min = 1;
    p.seconds_per_cut = 4;
    p.medium_batch = "batch 8";
  });
  open();
  auto* by = [&] {
    for (auto* box : hand().bench()->findChildren<QComboBox*>())
      if (box->accessibleName() == "Operator") return box;
    return static_cast<QComboBox*>(nullptr);
  }();
  by->setCurrentText("operator A");
  press(Qt::Key_Space);
  EXPECT_EQ(std::get<PreparedEvent>(run().events.front().data).medium_batch, "batch 8");
  for (const char* text : {"100", "102"}) type(text);
  by->setCurrentText("operator B");
  type("101");
  EXPECT_TRUE(said().contains("operator B instead of operator A"));
  // A rest falls due inside the block: 30 s of cutting are 7 or 8 cuts.
  EXPECT_EQ(instruction(), "Cut 8 on rubberised coir mat 8 mm");
  press(Qt::Key_Space);
  EXPECT_EQ(instruction(), "Rest");
  press(Qt::Key_Space);
  EXPECT_EQ(std::get<RestEvent>(run().events.back().data).planned_s, 60);
  EXPECT_EQ(instruction(), "Cut 2 on rubberised coir mat 8 mm");
  press(Qt::Key_Space);
  press(Qt::Key_Space);
  for (const char* text : {"120", "121", "240"}) type(text);
  EXPECT_TRUE(said().contains("flagged: suspect")) << said().toStdString();
  EXPECT_FALSE(run().readings.back().excluded);
  press(Qt::Key_X);
  // Words of one's own arrive, digits among them, though the usual reasons are digits too.
  QWidget* panel = hand().bench()->trial()->findChild<ReasonPanel*>();
  QTest::keyClicks(panel, "w");
  QTest::keyClicks(panel->focusWidget() ? panel->focusWidget() : panel, "ire 4 slipped");
  QTest::keyClick(panel->focusWidget(), Qt::Key_Return);
  EXPECT_TRUE(run().readings.back().excluded);
  EXPECT_EQ(window_->workbench().trial().labels.text(run().readings.back().reason),
            "wire 4 slipped");
  EXPECT_EQ(run().readings.size(), 6u);
  EXPECT_EQ(instruction(), "Read 3 of 3 at 10 cuts") << "the checkpoint asks for another";
  const auto figure_shows = [&](const char* number) {
    for (auto* label : hand().bench()->trial()->findChildren<QLabel*>())
      if (label->isVisible() && label->text() == number) return true;
    return false;
  };
  EXPECT_TRUE(figure_shows("121")) << "the big number is of the last reading that counts";
  EXPECT_FALSE(figure_shows("240"));
  // Ten times what it was: asked about, and anything else takes its place.
  type("1210");
  EXPECT_TRUE(said().contains("is far from the run's last readings")) << said().toStdString();
  EXPECT_EQ(run().readings.size(), 6u);
  // Pausing is a key, and is written down.
  press(Qt::Key_M);
  EXPECT_TRUE(said().startsWith("Paused:")) << said().toStdString();
  EXPECT_EQ(std::get<DeviationEvent>(run().events.back().data).what, "paused until another day");
  press(Qt::Key_R);
  EXPECT_EQ(instruction(), "Rest");
  press(Qt::Key_Space);
  BenchProtocol protocol = model().protocol();
  protocol.medium_batch = "batch 9";
  model().set_protocol(protocol);
  EXPECT_TRUE(
      std::get<DeviationEvent>(run().events.back().data).what.starts_with("medium batch batch 9"));
}

TEST_F(Bench, AClockThatWasMovedBackIsNoted) {
  make(1, {0, 10}, 2);
  {
    auto project = ProjectFile::open(path_, ProjectFile::Access::write);
    const std::int64_t run = project.load().runs[0].id;
    BenchEvent prepared{0, "2099-01-01T08:00:00Z", 0, "operator A", PreparedEvent{}};
    project.put_event(run, prepared);
    Reading reading{0, 0, 100};
    LabelTable labels;
    reading.by_operator = labels.id_of("operator A");
    project.put_reading(run, reading, labels);
  }
  open();
  model().set_operator("operator A");
  type("101");
  EXPECT_TRUE(said().contains("the clock was moved back")) << said().toStdString();
  EXPECT_EQ(run().readings.size(), 2u);
  EXPECT_EQ(run().readings.back().value, 101) << "entries keep the order they were made in";
}

TEST_F(Bench, TheStartGateHoldsAndSendsBack) {
  make(9, {0, 10}, 1, [](BenchProtocol& p) { p.gate = true; });
  {
    auto project = ProjectFile::open(path_, ProjectFile::Access::write);
    LabelTable labels;
    const Trial trial = project.load();
    const double starts[] = {100, 102, 98, 101, 99, 103, 97, 100};
    for (std::size_t i = 0; i < 8; ++i) {
      Reading reading{0, 0, starts[i]};
      project.put_reading(trial.runs[i].id, reading, labels);
    }
  }
  open();
  window_->workbench().choose_run(8);
  press(Qt::Key_Space);
  type("170");
  EXPECT_EQ(instruction(), "The start lies outside its limits");
  press(Qt::Key_Space);
  EXPECT_EQ(instruction(), "Sharpen b, look at its angle");
  EXPECT_TRUE(run().readings[0].excluded);
  EXPECT_TRUE(
      QString::fromStdString(window_->workbench().trial().labels.text(run().readings[0].reason))
          .startsWith("start gate"));
  press(Qt::Key_Space);
  type("101");
  EXPECT_EQ(instruction(), "Cut 10 on rubberised coir mat 8 mm");
}

TEST_F(Bench, BlindRunsShowTheirCodeAndNothingElse) {
  path_ = test::demo_project(folder_);
  {
    auto session = ProjectSession::open(path_);
    auto book = *parse_plan_book(session.kept(kPlanBookKey));
    book.plans[0].plan.blind = true;
    book.plans[0].issued = {"K02"};
    session.keep(kPlanBookKey, plan_book_json(book), "plan");
  }
  open();
  const Trial& trial = window_->workbench().trial();
  for (std::size_t i = 0; i < trial.runs.size(); ++i)
    if (trial.runs[i].facts.name == "K02") window_->workbench().choose_run(int(i));
  ASSERT_TRUE(model().covered());
  const auto shown = [&] {
    QString text;
    for (auto* label : hand().bench()->trial()->findChildren<QLabel*>())
      if (label->isVisible()) text += label->text() + '\n';
    return text;
  };
  for (const char* secret : {"Marl", "12", "15", "6 µm"})
    EXPECT_FALSE(shown().contains(QString::fromUtf8(secret))) << secret << "\n"
                                                              << shown().toStdString();
  EXPECT_TRUE(instruction().contains("marked K02"));
  QTest::mouseClick(button(hand().bench(), "Uncover"), Qt::LeftButton);
  QTest::mouseClick(button(hand().bench(), "1  "), Qt::LeftButton);
  EXPECT_FALSE(model().covered());
  EXPECT_TRUE(shown().contains("Marl"));
  EXPECT_TRUE(was_uncovered(run()));
}

// The disk is full (no file may grow any more): the reading is held, said not to be kept, and kept
// once when there is room.
TEST_F(Bench, AFullDiskHoldsTheReadingUntilThereIsRoom) {
  make(1, {0, 10}, 3);
  open();
  press(Qt::Key_Space);
  type("100");
  rlimit before{};
  getrlimit(RLIMIT_FSIZE, &before);
  signal(SIGXFSZ, SIG_IGN);
  rlimit none = before;
  none.rlim_cur = 1;
  setrlimit(RLIMIT_FSIZE, &none);
  type("104");
  setrlimit(RLIMIT_FSIZE, &before);
  EXPECT_TRUE(said().startsWith("Not kept")) << said().toStdString();
  EXPECT_EQ(instruction(), "This reading is NOT kept");
  EXPECT_EQ(run().readings.size(), 1u);
  type("105");
  EXPECT_EQ(run().readings.size(), 1u) << "the one before comes first";
  hand().bench()->entry()->clear();
  press(Qt::Key_Space);
  EXPECT_EQ(run().readings.size(), 2u);
  EXPECT_EQ(run().readings.back().value, 104);
  window_.reset();
  EXPECT_EQ(ProjectFile::open(path_, ProjectFile::Access::read).load().runs[0].readings.size(), 2u);
}

TEST_F(Bench, ASecondWindowSeesWhatTheFirstOneKeeps) {
  make(1, {0, 10}, 3);
  open();
  press(Qt::Key_Space);
  type("100");
  MainWindow other;
  other.show();
  other.workbench().open(QString::fromStdString(path_.string()));
  ASSERT_TRUE(test::wait_for([&] { return other.workbench().has_project(); }))
      << other.message().toStdString();
  EXPECT_TRUE(other.message().contains("is being worked on in another window or command (process " +
                                       QString::number(QCoreApplication::applicationPid())))
      << other.message().toStdString();
  const auto seen = [&] { return other.workbench().trial().runs[0].readings; };
  ASSERT_TRUE(test::wait_for([&] { return seen().size() == 1; }));
  EXPECT_FALSE(other.workbench().edit([](ProjectSession& s) { s.set_threshold("400 gf"); }));
  type("103");
  type("101");
  ASSERT_TRUE(test::wait_for([&] { return seen().size() == 3; }));
  EXPECT_EQ(seen().back().value, 101);
  EXPECT_EQ(run().readings.size(), 3u) << "the first one works on";
  EXPECT_FALSE(other.workbench().writable());
  window_.reset();
  EXPECT_TRUE(test::wait_for([&] { return other.message().contains("Open it again"); }))
      << other.message().toStdString();
  EXPECT_EQ(seen().size(), 3u);
  other.workbench().open(QString::fromStdString(path_.string()));
  EXPECT_TRUE(test::wait_for([&] { return other.workbench().writable(); }));
}

TEST_F(Bench, APictureGoesWithALook) {
  make(1, {0, 10, 30}, 1);
  open();
  press(Qt::Key_Space);
  type("100");
  press(Qt::Key_Space);
  const std::string bytes("\x89PNG\r\n\x1a\nnot much of a picture", 29);
  const auto good = folder_.write("edge.png", bytes), bad = folder_.write("edge.gif", "GIF89a");
  const auto before = run().events.size();
  LookEvent bent;
  bent.found = DamageFound::bent;
  bent.widest_um = 40;
  model().keep_look(bent, QString::fromStdString(bad.string()));
  EXPECT_TRUE(said().contains("is no PNG")) << said().toStdString();
  model().keep_look(bent, QString::fromStdString((folder_ / "nothing.png").string()));
  EXPECT_TRUE(said().startsWith("Not kept")) << said().toStdString();
  EXPECT_EQ(run().events.size(), before) << "nothing is written";
  model().keep_look(bent, QString::fromStdString(good.string()));
  const auto& look = std::get<LookEvent>(run().events.back().data);
  ASSERT_GT(look.picture, 0);
  const auto kept = window_->workbench().session().picture(look.picture);
  EXPECT_EQ(kept->name, "edge.png");
  EXPECT_EQ(kept->bytes, bytes);
}

TEST_F(Bench, TheDamageSearchProposesBoundsAndEnds) {
  make(1, {0, 10}, 1);
  open();
  auto* search = page<SearchPage>(BenchView::Page::search);
  // Never a silent default: what is cut, how, and what makes it rough are asked.
  const auto field = [&](const char* name) {
    for (auto* one : search->findChildren<QLineEdit*>())
      if (one->accessibleName() == name) return one;
    return static_cast<QLineEdit*>(nullptr);
  };
  QTest::mouseClick(button(search, "Begin the search"), Qt::LeftButton);
  EXPECT_TRUE(window_->workbench().session().bench_sessions().empty());
  field("Medium")->setText("mat");
  for (auto* box : search->findChildren<QComboBox*>())
    if (box->accessibleName() == "Way of cutting") box->setCurrentText("slice");
  QTest::mouseClick(button(search, "Begin the search"), Qt::LeftButton);
  EXPECT_TRUE(window_->workbench().session().bench_sessions().empty());
  field("What makes it rough")->setText("staples");
  QTest::mouseClick(button(search, "Begin the search"), Qt::LeftButton);
  EXPECT_TRUE(search->instruction().startsWith("Grind 10°")) << search->instruction().toStdString();
  const auto round = [&](int key, double widest) {
    QTest::keyClick(search, Qt::Key_Space);
    auto* look = search->findChild<LookPanel*>();
    QTest::keyClick(look, Qt::Key(key));
    for (auto* box : look->findChildren<NumberEntry*>())
      if (box->accessibleName().startsWith("Widest")) box->setValue(widest);
    QTest::keyClick(look, Qt::Key_Return);
  };
  round(Qt::Key_3, 40);
  EXPECT_TRUE(search->instruction().startsWith("Damage. Regrind to 12°"))
      << search->instruction().toStdString();
  EXPECT_TRUE(search->bound().contains("every block was damaged"));
  round(Qt::Key_1, 0);
  EXPECT_TRUE(search->instruction().startsWith("Clean. Now the long block"))
      << search->instruction().toStdString();
  EXPECT_TRUE(search->bound().contains("at worst 1 damage in 17 cuts"))
      << search->bound().toStdString();
  round(Qt::Key_1, 0);
  EXPECT_TRUE(search->instruction().startsWith("It holds: 12°"))
      << search->instruction().toStdString();
  EXPECT_EQ(search->staircase()->words(),
            "10° 50 cuts bent; 12° 50 cuts clean; 12° 300 cuts clean");
  window_.reset();
  open();
  search = page<SearchPage>(BenchView::Page::search);
  EXPECT_TRUE(search->instruction().startsWith("It holds: 12°"));
}
