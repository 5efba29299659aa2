// The real window through real clicks and keys.
#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QLineEdit>
#include <QTest>
#include <cmath>

#include "support.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/findings/answer_page.h"
#include "ui/findings/findings_view.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/plot/plot_view.h"
#include "ui/rack/rack_view.h"
#include "ui/rack/run_table_model.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "ui/verdict/verdict_view.h"
#include "ui/whole_station.h"

using namespace bq;
using namespace bq::ui;
using test::wait_for;

namespace {

class Window : public testing::Test {
 protected:
  void SetUp() override {
    path_ = QString::fromStdString(test::demo_project(folder_).string());
    open(path_);
  }
  void open(const QString& path) {
    window_ = std::make_unique<MainWindow>();
    window_->show();
    window_->workbench().open(path);
    ASSERT_TRUE(wait_for(
        [&] { return window_->workbench().has_project() && !window_->workbench().fitting(); }));
    QTest::qWait(20);
  }
  /// The Bench with K02, a planned run, on it.
  BenchView* bench() {
    const auto& runs = window_->workbench().trial().runs;
    for (std::size_t i = 0; i < runs.size(); ++i)
      if (runs[i].facts.name == "K02") window_->workbench().choose_run(int(i));
    window_->go_to(Station::bench);
    auto* view = static_cast<BenchView*>(window_->station(Station::bench));
    if (!window_->workbench().writable()) return view;
    BenchProtocol protocol = view->model().protocol();
    protocol.debounce_ms = 0;  // a test is faster than a hand
    view->model().set_protocol(protocol);
    if (view->model().stage().kind == StageKind::prepare) QTest::keyClick(view, Qt::Key_Space);
    EXPECT_TRUE(wait_for([&] { return view->isVisible(); }));
    return view;
  }
  FindingsView* findings(Question question) {
    window_->go_to(Station::findings);
    auto* view = static_cast<FindingsView*>(window_->station(Station::findings));
    view->ask(question);
    EXPECT_TRUE(wait_for([&] { return view->settled(); }));
    return view;
  }
  const bq::Run& run(const char* name) { return *window_->workbench().trial().find_run(name); }
  static void type(BenchView* view, const char* text) {
    view->entry()->setFocus();
    QTest::keyClicks(view->entry(), QString::fromUtf8(text));
    QTest::keyClick(view->entry(), Qt::Key_Return);
  }
  QString kept_line(BenchView* view) {
    EXPECT_TRUE(wait_for([&] { return window_->workbench().all_kept(); }));
    return view->kept_line();
  }
  template <class T>
  T* named(QWidget* in, const QString& accessible) {
    for (auto* widget : in->findChildren<T*>())
      if (widget->accessibleName() == accessible) return widget;
    return nullptr;
  }
  static QAbstractButton* button(QWidget* in, const QString& text) {
    for (auto* b : in->findChildren<QAbstractButton*>())
      if (b->text() == text) return b;
    return nullptr;
  }

  test::Folder folder_;
  QString path_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace

TEST_F(Window, ReadingsAreTypedKeptUndoneAndRedone) {
  auto* view = bench();
  EXPECT_EQ(view->instruction(), "Read 1 of 3 at 0 cuts");
  for (const char* text : {"88", "91 gf", "0,88 N"}) type(view, text);
  EXPECT_EQ(run("K02").readings.size(), 3u);
  EXPECT_EQ(run("K02").readings[2].unit, Unit::N);
  EXPECT_TRUE(kept_line(view).startsWith("kept 0.88 N at 0 cuts"));
  EXPECT_EQ(view->instruction(), "Cut 10 on coated canvas 3 mm");
  QTest::keyClick(view, Qt::Key_Space);
  EXPECT_EQ(run("K02").cuts_done, 10);
  EXPECT_EQ(view->instruction(), "Clean the edge");
  QTest::keyClick(view, Qt::Key_Space);
  EXPECT_EQ(view->instruction(), "Read 1 of 3 at 10 cuts");
  // Nothing wrong is taken, and it is said.
  for (const char* text : {"-5", "12 g", "abc", "0", "1,500", "3 mm"}) {
    view->entry()->clear();
    type(view, text);
    EXPECT_TRUE(kept_line(view).startsWith("Not kept")) << text << kept_line(view).toStdString();
  }
  view->entry()->clear();
  EXPECT_EQ(run("K02").readings.size(), 3u);
  type(view, "101");
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  EXPECT_TRUE(wait_for([&] { return run("K02").readings.size() == 3; }));
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_TRUE(wait_for([&] { return run("K02").readings.size() == 4; }));
  // Another window finds all of it.
  window_.reset();
  open(path_);
  EXPECT_EQ(run("K02").readings.size(), 4u);
  EXPECT_EQ(run("K02").cuts_done, 10);
}

TEST_F(Window, AFlaggedReadingSaysWhy) {
  auto* view = bench();
  for (const char* text : {"88", "91", "90"}) type(view, text);
  for (int i = 0; i < 2; ++i) QTest::keyClick(view, Qt::Key_Space);
  for (const char* text : {"100", "102", "190"}) type(view, text);
  EXPECT_TRUE(kept_line(view).contains("flagged")) << kept_line(view).toStdString();
  EXPECT_EQ(run("K02").readings.size(), 6u);
}

TEST_F(Window, DraggingTheThresholdChangesTheAnswersAndCanBeUndone) {
  auto* view = findings(Question::curves);
  AnswerPage* page = view->page(Question::curves);
  EXPECT_TRUE(page->sentence().startsWith("44 of 48 edges reach 450 gf"))
      << page->sentence().toStdString();
  PlotView* plot = page->plot();
  const QPoint from = plot->threshold_handle(), to = from - QPoint(0, 40);
  QTest::mousePress(plot->canvas(), Qt::LeftButton, {}, from);
  for (int i = 1; i <= 8; ++i) QTest::mouseMove(plot->canvas(), from - QPoint(0, 5 * i));
  EXPECT_GT(*window_->workbench().threshold(), 455);
  EXPECT_EQ(window_->workbench().session().threshold_text(), "450 gf");  // not kept while dragged
  QTest::mouseRelease(plot->canvas(), Qt::LeftButton, {}, to);
  EXPECT_NE(window_->workbench().session().threshold_text(), "450 gf");
  EXPECT_TRUE(wait_for([&] { return view->settled(); }));
  EXPECT_FALSE(page->sentence().startsWith("44 of 48"));
  EXPECT_TRUE(view->page(Question::matching)->sentence().contains("lasts as long as"));
  window_->workbench().undo();
  EXPECT_TRUE(wait_for([&] {
    return view->settled() && page->sentence().startsWith("44 of 48 edges reach 450 gf");
  }));
}

TEST_F(Window, AThresholdDraggedInNewtonsIsTheSameThreshold) {
  bq::ui::Display display = window_->workbench().display();
  display.force = Unit::N;
  window_->workbench().set_display(display);
  auto* view = bench();
  QTest::qWait(20);
  const QPoint from = view->plot()->threshold_handle();
  QTest::mousePress(view->plot()->canvas(), Qt::LeftButton, {}, from);
  QTest::mouseMove(view->plot()->canvas(), from + QPoint(0, 3));
  QTest::mouseRelease(view->plot()->canvas(), Qt::LeftButton, {}, from + QPoint(0, 3));
  EXPECT_NEAR(*window_->workbench().threshold(), 450, 25);
  EXPECT_TRUE(
      QString::fromStdString(window_->workbench().session().threshold_text()).endsWith(" N"));
  display.force = Unit::gf;
  window_->workbench().set_display(display);
}

TEST_F(Window, TheMatchingSentenceFollowsTheQuestionAndTheConvention) {
  auto* view = findings(Question::matching);
  AnswerPage* page = view->page(Question::matching);
  EXPECT_TRUE(wait_for([&] { return page->sentence().contains("lasts as long as"); }));
  EXPECT_TRUE(page->sentence().startsWith(
      "Fenland Plain at 12.7° per side lasts as long as Marl Tough at 18°"))
      << page->sentence().toStdString();
  auto* to = named<QComboBox>(page, "Second steel");
  ASSERT_TRUE(to);
  to->setCurrentText("Cairn Hard");
  emit to->activated(to->currentIndex());
  EXPECT_TRUE(wait_for([&] { return page->sentence().startsWith("Cairn Hard at"); }));
  QTest::mouseClick(button(window_.get(), "° per side"), Qt::LeftButton);
  EXPECT_TRUE(wait_for([&] {
    return page->sentence().contains("° inclusive lasts as long as Marl Tough at 36°");
  })) << page->sentence().toStdString();
}

TEST_F(Window, TheVerdictFollowsTheLimits) {
  window_->go_to(Station::verdict);
  auto* view = static_cast<VerdictView*>(window_->station(Station::verdict));
  ASSERT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() > 20; }));
  EXPECT_EQ(view->edges()->edge(0).steel, "Cairn Hard");
  const QString before = view->count_line();
  auto* steel = button(view, "Cairn Hard");
  QTest::mouseClick(steel, Qt::LeftButton, {}, QPoint(8, steel->height() / 2));
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->count_line() != before; }));
  EXPECT_EQ(view->edges()->edge(0).steel, "Marl Tough");
}

TEST_F(Window, BladesAndRunsAreAddedOnTheRack) {
  auto* rack = static_cast<RackView*>(window_->station(Station::rack));
  const auto dialog = [&](const QString& title) {
    for (auto* d : rack->findChildren<QDialog*>())
      if (d->windowTitle() == title && d->isVisible()) return d;
    return static_cast<QDialog*>(nullptr);
  };
  QTest::mouseClick(button(rack, "Add blade"), Qt::LeftButton);
  auto* blade = dialog("Add a blade");
  ASSERT_TRUE(blade);
  QTest::mouseClick(button(blade, "Add blade"), Qt::LeftButton);  // without a name
  EXPECT_TRUE(blade->isVisible());
  QTest::keyClicks(named<QLineEdit>(blade, "Name of the blade"),
                   "Trial 7 with quite a long name for a blade");
  QTest::mouseClick(button(blade, "Add blade"), Qt::LeftButton);
  const Trial& trial = window_->workbench().trial();
  EXPECT_EQ(trial.blades.back().name, "Trial 7 with quite a long name for a blade");
  rack->choose_blade(int(trial.blades.size()) - 1);
  QTest::mouseClick(button(rack, "Add run"), Qt::LeftButton);
  auto* editor = dialog("Add a run");
  ASSERT_TRUE(editor);
  auto* left = named<QLineEdit>(editor, "Edge angle left");
  QTest::keyClicks(left, "85");
  QTest::mouseClick(button(editor, "Add run"), Qt::LeftButton);
  EXPECT_TRUE(editor->isVisible());  // 85° is refused
  left->clear();
  QTest::keyClicks(left, "24 inclusive");
  QTest::mouseClick(button(editor, "Add run"), Qt::LeftButton);
  EXPECT_EQ(trial.runs.back().facts.geometry->edge().left_deg, 12);
  EXPECT_EQ(trial.runs.back().facts.blade, trial.blades.back().name);
  EXPECT_EQ(rack->run_model()->rowCount(), 1);
  window_->workbench().undo();
  window_->workbench().undo();
  EXPECT_EQ(trial.blades.size(), 12u);
}

// A part that is shown before it has its place is a window of its own for a moment: it flashes, and
// takes the keys away.
TEST_F(Window, NoPartShowsAsAWindowOfItsOwn) {
  struct Watch : QObject {
    QStringList seen;
    bool eventFilter(QObject* object, QEvent* event) override {
      const auto* widget = qobject_cast<QWidget*>(object);
      if (widget && widget->isWindow() && event->type() == QEvent::Show &&
          !qobject_cast<const MainWindow*>(widget))
        seen << QStringLiteral("%1 '%2' in %3")
                    .arg(QLatin1String(widget->metaObject()->className()), widget->accessibleName(),
                         widget->parent()
                             ? QLatin1String(widget->parent()->metaObject()->className())
                             : QLatin1String());
      return false;
    }
  } watch;
  qApp->installEventFilter(&watch);
  for (int i = 0; i <= int(Station::verdict); ++i) {
    window_->go_to(Station(i));
    QTest::qWait(20);
    EXPECT_TRUE(watch.seen.isEmpty()) << i << ": " << watch.seen.join(", ").toStdString();
    watch.seen.clear();
  }
  EXPECT_TRUE(window_->isActiveWindow());
}

TEST_F(Window, KeysReachEveryStationAndThePaletteEveryRun) {
  for (const auto& [key, station] :
       {std::pair(Qt::Key_7, Station::findings), std::pair(Qt::Key_6, Station::lens),
        std::pair(Qt::Key_5, Station::bench), std::pair(Qt::Key_4, Station::plan),
        std::pair(Qt::Key_3, Station::stones)}) {
    QTest::keyClick(window_.get(), key, Qt::ControlModifier);
    EXPECT_TRUE(wait_for([&] { return window_->station(station)->isVisible(); }));
  }
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  auto* field = named<QLineEdit>(window_.get(), "Go to");
  ASSERT_TRUE(field);
  QTest::keyClicks(field, "c14");
  QTest::keyClick(field, Qt::Key_Return);
  EXPECT_EQ(
      window_->workbench().trial().runs[std::size_t(window_->workbench().current_run())].facts.name,
      "C14");
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  EXPECT_EQ(window_->workbench().display().theme, ThemeName::slate);
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
  EXPECT_EQ(window_->workbench().display().theme, ThemeName::contrast);
  QTest::keyClick(window_.get(), Qt::Key_T, Qt::ControlModifier);
}

TEST_F(Window, EveryControlHasANameAndPlotsCanBeSaved) {
  for (const Station station :
       {Station::rack, Station::bench, Station::findings, Station::verdict}) {
    for (auto* widget : test::whole_station(*window_, station)->findChildren<QWidget*>())
      if ((widget->focusPolicy() & Qt::TabFocus) && widget->isVisible() &&
          qobject_cast<QLineEdit*>(widget) && !qobject_cast<QComboBox*>(widget->parent()) &&
          !widget->parent()->inherits("QAbstractSpinBox")) {
        EXPECT_FALSE(widget->accessibleName().isEmpty()) << widget->metaObject()->className();
      }
  }
  PlotView* plot = findings(Question::angle)->page(Question::angle)->plot();
  for (const char* name : {"p.svg", "p.png", "p.pdf"}) {
    EXPECT_TRUE(plot->save(QString::fromStdString((folder_ / name).string())));
    EXPECT_GT(std::filesystem::file_size(folder_ / name), 2000u) << name;
  }
  EXPECT_TRUE(plot->data_as_csv().startsWith("series,x,y\nCairn Hard,"));
}

TEST_F(Window, AFileThatCannotBeOpenedIsSaidAndLeavesTheOpenProject) {
  window_->workbench().open(
      QString::fromStdString(folder_.write("bad.bquarry", "nonsense").string()));
  EXPECT_TRUE(
      wait_for([&] { return window_->message().contains("is not a Brave Quarry project"); }));
  ASSERT_TRUE(window_->workbench().has_project());
  EXPECT_EQ(QString::fromStdString(window_->workbench().session().path().string()), path_);
}

TEST_F(Window, AReadOnlyProjectIsShownAndTakesNothing) {
  window_.reset();
  std::filesystem::permissions(path_.toStdString(), std::filesystem::perms::owner_read);
  open(path_);
  EXPECT_TRUE(wait_for([&] { return window_->message().contains("cannot be written"); }));
  auto* view = bench();
  EXPECT_FALSE(view->entry()->isVisible());
  EXPECT_TRUE(
      findings(Question::curves)->page(Question::curves)->sentence().startsWith("44 of 48"));
}

TEST_F(Window, AnEmptyProjectSaysWhatToDo) {
  window_.reset();
  const auto path = folder_ / "empty.bquarry";
  ProjectFile::create(path, "Empty");
  open(QString::fromStdString(path.string()));
  for (const auto question : {Question::curves, Question::angle, Question::matching})
    EXPECT_TRUE(findings(question)->page(question)->sentence().startsWith("No answer"));
  EXPECT_TRUE(bench()->instruction().startsWith("There is no run to do"));
  QTest::mouseClick(button(window_.get(), "Add a blade"), Qt::LeftButton);
  EXPECT_TRUE(window_->station(Station::rack)->isVisible());
}
