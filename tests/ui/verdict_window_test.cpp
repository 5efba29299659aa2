// Findings asked question by question, and the Verdict set by hand: sliders, wishes, comparison,
// half hour, report.
#include <gtest/gtest.h>

#include <QApplication>
#include <QCheckBox>
#include <QComboBox>
#include <QFile>
#include <QListView>
#include <QListWidget>
#include <QPushButton>
#include <QSlider>
#include <QTableWidget>
#include <QTest>

#include "store/project_file.h"
#include "support.h"
#include "ui/findings/findings_view.h"
#include "ui/findings/question_delegate.h"
#include "ui/findings/study_page.h"
#include "ui/frame/enough_line.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"
#include "ui/plot/plot_view.h"
#include "ui/verdict/chance_band.h"
#include "ui/verdict/compare_panel.h"
#include "ui/verdict/half_hour_panel.h"
#include "ui/verdict/limit_slider.h"
#include "ui/verdict/limits_bar.h"
#include "ui/verdict/limits_panel.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "ui/verdict/verdict_view.h"
#include "workflow/report_source.h"
#include "workflow/source.h"

using namespace bq;
using namespace bq::ui;
using test::named;
using test::wait_for;

namespace {

class Decide : public testing::Test {
 protected:
  void open(const QString& path) {
    path_ = path;
    window_ = std::make_unique<MainWindow>();
    window_->show();
    window_->workbench().open(path);
    ASSERT_TRUE(wait_for(
        [&] { return window_->workbench().has_project() && !window_->workbench().fitting(); }));
    QTest::qWait(20);
  }
  void open_demo() { open(QString::fromStdString(test::whole_demo_project(folder_).string())); }
  FindingsView* findings() {
    window_->go_to(Station::findings);
    auto* view = static_cast<FindingsView*>(window_->station(Station::findings));
    EXPECT_TRUE(wait_for([&] { return view->settled() && view->answer_of(Question::starts); }));
    return view;
  }
  VerdictView* verdict() {
    window_->go_to(Station::verdict);
    auto* view = static_cast<VerdictView*>(window_->station(Station::verdict));
    EXPECT_TRUE(wait_for([&] { return view->settled(); }));
    return view;
  }
  QPushButton* button(const char* text) {
    for (auto* b : window_->findChildren<QPushButton*>())
      if (b->text() == QString::fromUtf8(text) && b->isVisible()) return b;
    return nullptr;
  }
  test::Folder folder_;
  QString path_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace

TEST_F(Decide, EveryQuestionIsAskedByClickAndAnswered) {
  open_demo();
  FindingsView* view = findings();
  auto* list = named<QListWidget>(view, "Questions");
  ASSERT_TRUE(list);
  for (int i = 0; i < kQuestions; ++i) {
    list->scrollToItem(list->item(i));
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                      list->visualItemRect(list->item(i)).center());
    EXPECT_EQ(list->currentRow(), i);
    AnswerPage* page = view->page(Question(i));
    EXPECT_TRUE(page->isVisible()) << i;
    EXPECT_GT(page->sentence().size(), 25) << i;
    EXPECT_EQ(list->item(i)->data(QuestionDelegate::kStateRole).toInt(), QuestionDelegate::answered)
        << words_of(Question(i));
    auto* table = named<QTableWidget>(page, "Table behind the answer");
    EXPECT_GT(table->rowCount(), 0) << i;
    EXPECT_GT(page->plot()->data_as_csv().count('\n'), 1) << i;
  }
  // How it was computed unfolds with formula, page and data.
  view->ask(Question::steel);
  auto* unfold = button("How was this computed?");
  ASSERT_TRUE(unfold);
  QTest::mouseClick(unfold, Qt::LeftButton);
  bool told = false;
  for (auto* label : view->study()->findChildren<QLabel*>())
    told = told || (label->isVisible() && label->text().contains("href=\"guide:Methods") &&
                    label->text().contains("runs ("));
  EXPECT_TRUE(told);
}

TEST_F(Decide, TheWindowSaysWhatTheReportSays) {
  open_demo();
  FindingsView* view = findings();
  std::istringstream none;
  const SourceResult source = read_source(path_.toStdString(), none);
  TrialStudyOptions options;
  const auto study = study_trial(source, *fit_runs(source.trial, {}, {}), options);
  ASSERT_TRUE(study.ok()) << study.refusal().reason;
  for (int i = 0; i < kQuestions; ++i) {
    ASSERT_TRUE(wait_for([&] { return view->answer_of(Question(i)) != nullptr; }));
    const Answer& shown = *view->answer_of(Question(i));
    const Answer& reported = study->answers[std::size_t(i)];
    EXPECT_EQ(shown.sentence, reported.sentence);
    EXPECT_EQ(shown.remarks, reported.remarks) << words_of(Question(i));
    EXPECT_EQ(shown.table.rows, reported.table.rows) << words_of(Question(i));
  }
  VerdictView* v = verdict();
  const std::string limit = print_measure(study->threshold.value, study->threshold.unit, 3);
  EXPECT_EQ(v->sentence().toStdString(),
            verdict_sentence(study->verdict, limit, AngleConvention::per_side, false));
}

TEST_F(Decide, HowSureItIsStandsOnEveryPageThatAsks) {
  open_demo();
  VerdictView* view = verdict();
  ASSERT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() > 20; }));
  window_->go_to(Station::findings);
  auto* line = window_->station(Station::findings)->findChild<EnoughLine*>();
  ASSERT_TRUE(wait_for([&] { return line->settled() && !line->text().isEmpty(); }));
  EXPECT_TRUE(line->text().startsWith("It is ")) << line->text().toStdString();
  verdict();
  bool same = false;
  for (const auto* label : view->findChildren<QLabel*>())
    same = same || label->text().contains(line->text());
  EXPECT_TRUE(same) << line->text().toStdString();
  // What is asked of the edge elsewhere is asked here too.
  view->limits()->change([](LimitsFile& wanted) { wanted.limits.steels = {"Marl Tough"}; });
  window_->go_to(Station::findings);
  EXPECT_TRUE(wait_for([&] {
    return line->settled() && line->text().contains("Marl Tough") &&
           !line->text().contains("Cairn Hard");
  })) << line->text().toStdString();
  // On the Bench only when nothing is under way.
  window_->go_to(Station::bench);
  auto* bench = window_->station(Station::bench)->findChild<EnoughLine*>();
  const auto choose = [&](const char* name) {
    const Trial& now = window_->workbench().trial();
    window_->workbench().choose_run(static_cast<int>(now.find_run(name) - now.runs.data()));
  };
  choose("C14");
  EXPECT_TRUE(wait_for([&] { return bench->settled() && bench->text() == line->text(); }))
      << bench->text().toStdString();
  choose("K01");
  EXPECT_TRUE(wait_for([&] { return bench->text().isEmpty(); }));
}

TEST_F(Decide, WhatNobodyTriedIsBegunByOneClick) {
  open_demo();
  VerdictView* view = verdict();
  ASSERT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() > 20; }));
  EXPECT_TRUE(view->sentence().contains("Nobody has tried it on the roughest use"));
  QLabel* marks = nullptr;
  for (auto* label : view->findChildren<QLabel*>())
    if (label->text().contains("begin the search")) marks = label;
  ASSERT_TRUE(marks);
  const auto sessions = [&] { return window_->workbench().session().bench_sessions(); };
  const auto before = sessions().size();
  const double angle = view->edges()->edge(0).angle_deg;
  emit marks->linkActivated("begin-search");
  ASSERT_TRUE(wait_for([&] { return sessions().size() == before + 1; }));
  const auto made = std::get<DamageSearch>(sessions().back().data);
  EXPECT_EQ(made.start_angle_deg, angle);
  EXPECT_EQ(made.steel, "Cairn Hard");
  EXPECT_FALSE(made.blade.empty());
  EXPECT_FALSE(view->isVisible());
  window_->workbench().undo();
  EXPECT_TRUE(wait_for([&] { return sessions().size() == before; }));
}

TEST_F(Decide, AnEmptyProjectSaysWhatIsMissingAndOffersToPlanIt) {
  const auto path = folder_ / "empty.bquarry";
  ProjectFile::create(path, "Empty");
  open(QString::fromStdString(path.string()));
  window_->go_to(Station::findings);
  auto* view = static_cast<FindingsView*>(window_->station(Station::findings));
  int offers = 0;
  for (int i = 0; i < kQuestions; ++i) {
    view->ask(Question(i));
    EXPECT_TRUE(wait_for([&] { return view->settled() && view->answer_of(Question(i)); })) << i;
    EXPECT_TRUE(view->page(Question(i))->sentence().startsWith("No answer") ||
                view->page(Question(i))->sentence().startsWith("Cannot tell") ||
                view->page(Question(i))->sentence().startsWith("No run"))
        << i << view->page(Question(i))->sentence().toStdString();
    offers += view->page(Question(i)) == view->study() && view->study()->offers_plan();
  }
  EXPECT_GE(offers, 5);
  view->ask(Question::steel);
  QTest::mouseClick(button("Plan the runs that would tell"), Qt::LeftButton);
  EXPECT_EQ(window_->station(Station::plan)->isVisible(), true);
  VerdictView* v = verdict();
  EXPECT_TRUE(v->sentence().startsWith("No verdict yet: there are no readings yet"));
  v->open_page(VerdictView::Page::schools);
  EXPECT_GE(named<QTableWidget>(v, "Customary starting ranges")->rowCount(), 4);
  v->open_page(VerdictView::Page::half_hour);
  EXPECT_TRUE(wait_for([&] { return v->settled(); }));
  EXPECT_TRUE(v->half_hour()->sentence().startsWith("No answer: there is no blade"));
}

TEST_F(Decide, ARunPickedInOnePictureLightsUpInAll) {
  open_demo();
  FindingsView* view = findings();
  view->ask(Question::trust);
  PlotView* plot = view->study()->plot();
  QTest::qWait(50);
  const QPoint at = plot->point_of("C14");
  ASSERT_FALSE(at.isNull());
  QTest::mouseClick(plot->canvas(), Qt::LeftButton, {}, at);
  const auto& trial = window_->workbench().trial();
  const int chosen = window_->workbench().current_run();
  ASSERT_GE(chosen, 0);
  const QString run = QString::fromStdString(trial.runs[std::size_t(chosen)].facts.name);
  EXPECT_EQ(plot->lit_run(), run);
  view->ask(Question::angle);
  EXPECT_EQ(view->page(Question::angle)->plot()->lit_run(), run);
  EXPECT_EQ(view->page(Question::curves)->plot()->lit_run(), run);
}

TEST_F(Decide, OneRunsCurveShowsItsModelsAndWhatTheResidualsSay) {
  open_demo();
  FindingsView* view = findings();
  view->ask(Question::curves);
  AnswerPage* page = view->page(Question::curves);
  for (std::size_t i = 0; i < window_->workbench().trial().runs.size(); ++i)
    if (window_->workbench().trial().runs[i].facts.name == "C19")
      window_->workbench().choose_run(int(i));
  auto* drawn = named<QComboBox>(page, "What is drawn");
  drawn->setCurrentIndex(0);
  auto* table = named<QTableWidget>(page, "Table behind the answer");
  ASSERT_GE(table->rowCount(), 8);
  QStringList first;
  for (int r = 0; r < table->rowCount(); ++r) first << table->item(r, 0)->text();
  EXPECT_TRUE(first.contains("power")) << first.join('|').toStdString();
  EXPECT_TRUE(first.filter("Huber").size() == 1);
  EXPECT_TRUE(first.filter("Reading at 1").size() == 1);
  auto* at = named<NumberEntry>(page, "Cuts at which the curve is read");
  ASSERT_TRUE(at && at->isVisible());
  at->setValue(300);
  first.clear();
  for (int r = 0; r < table->rowCount(); ++r) first << table->item(r, 0)->text();
  EXPECT_TRUE(first.contains("Reading at 300 cuts")) << first.join('|').toStdString();
  bool odd = false;
  for (auto* label : page->findChildren<QLabel*>())
    odd = odd || label->text().contains("beyond the bound for a single odd reading");
  EXPECT_TRUE(odd) << "C19 was given one reading too high";
}

TEST_F(Decide, TwoRunsAreComparedInForceByChoice) {
  open_demo();
  FindingsView* view = findings();
  view->ask(Question::force);
  auto* first = named<QComboBox>(view->study(), "First run");
  auto* second = named<QComboBox>(view->study(), "Second run");
  ASSERT_TRUE(first && first->isVisible());
  first->setCurrentText("D04");
  second->setCurrentText("D09");
  emit second->activated(second->currentIndex());
  EXPECT_TRUE(wait_for([&] {
    return view->study()->sentence().contains("D04") && view->study()->sentence().contains("D09");
  })) << view->study()->sentence().toStdString();
  EXPECT_EQ(first->currentText(), "D04");
}

TEST_F(Decide, MoreReadingsAreNeededForAFinerMean) {
  open_demo();
  FindingsView* view = findings();
  view->ask(Question::readings);
  const QString before = view->study()->sentence();
  auto* precision = named<NumberEntry>(view->study(), "Wished precision of a checkpoint's mean");
  ASSERT_TRUE(precision && precision->isVisible());
  precision->setValue(2);
  EXPECT_TRUE(wait_for([&] { return view->study()->sentence().contains("to within 2 % needs"); }))
      << view->study()->sentence().toStdString();
  EXPECT_NE(view->study()->sentence(), before);
  view->ask(Question::gauge);
  EXPECT_FALSE(precision->isVisible());
}

TEST_F(Decide, SlidersBindLiveAndAreKept) {
  open_demo();
  VerdictView* view = verdict();
  ASSERT_GT(view->edges()->rowCount(), 20);
  const int before = view->edges()->rowCount();
  EXPECT_TRUE(view->count_line().startsWith(QStringLiteral("%1 of ").arg(before)));
  QTest::mouseClick(view->limits_bar()->open_button(), Qt::LeftButton);
  ASSERT_TRUE(view->limits()->isVisible());
  LimitSlider* life = view->limits()->life();
  life->slider()->setFocus();
  for (int i = 0; i < 60; ++i) QTest::keyClick(life->slider(), Qt::Key_Right);
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() < before; }));
  ASSERT_TRUE(life->value());
  EXPECT_EQ(life->field()->value(), *life->value());
  for (int i = 0; i < view->edges()->rowCount(); ++i)
    EXPECT_GE(view->edges()->edge(i).life_low, *life->value());
  // A wish for little damage brings a steeper edge first.
  auto* damage = named<QSlider>(view, "Weight: Little damage");
  damage->setValue(20);
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->edges()->edge(0).angle_deg > 12.5; }));
  const QString sentence = view->sentence();
  const double wished = *life->value();
  QTest::qWait(800);  // the hand pauses
  ASSERT_TRUE(wait_for([&] { return window_->workbench().all_kept(); }));
  window_.reset();
  open(path_);
  view = verdict();
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->sentence() == sentence; }))
      << view->sentence().toStdString();
  EXPECT_EQ(view->limits()->life()->value().value_or(0), wished);
  // One undo for what the hand did in one go.
  life = view->limits()->life();
  for (const int key : {Qt::Key_Right, Qt::Key_Right, Qt::Key_Home})
    QTest::keyClick(life->slider(), Qt::Key(key));
  EXPECT_FALSE(life->value());
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() == before; }));
  window_->go_to(Station::rack);  // what is in the hand is kept
  window_->workbench().undo();
  verdict();
  EXPECT_TRUE(wait_for(
      [&] { return view->settled() && view->limits()->life()->value().value_or(0) == wished; }));
}

TEST_F(Decide, TheBarTellsOnlyWhatIsSetAndTakesItBack) {
  open_demo();
  VerdictView* view = verdict();
  ASSERT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() > 20; }));
  EXPECT_FALSE(view->limits()->isVisible()) << "what is set now and then is out of the way";
  const int before = view->edges()->rowCount();
  const auto chip = [&](const QString& words) -> QPushButton* {
    for (auto* one : view->limits_bar()->findChildren<QPushButton*>())
      if (one->accessibleName().contains(words)) return one;
    return nullptr;
  };
  EXPECT_FALSE(chip("next edge at least"));
  view->limits()->change([](LimitsFile& wanted) {
    wanted.limits.least_life = 700;
    wanted.limits.steels = {"Cairn Hard"};
  });
  ASSERT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() < before; }));
  ASSERT_TRUE(chip("steels: Cairn Hard"));
  QTest::mouseClick(chip("next edge at least 700 cuts"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return view->settled() && !chip("next edge at least"); }));
  EXPECT_FALSE(view->limits()->life()->value());
  QTest::mouseClick(chip("steels: Cairn Hard"), Qt::LeftButton);
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() == before; }));
  // Ten edges at once in a window of 1280 × 800, and the band says what the rows say.
  window_->resize(1280, 800);
  QTest::qWait(50);
  auto* list = named<QListView>(view, "Ranked edges");
  EXPECT_GE(list->viewport()->height(), 10 * list->visualRect(view->edges()->index(0)).height());
  EXPECT_TRUE(view->band()->words().startsWith(view->edges()->title(0)));
}

TEST_F(Decide, WorkIsMixedByShares) {
  open_demo();
  window_->workbench().type_threshold("250 gf");  // the foam never brought an edge to 450
  VerdictView* view = verdict();
  ASSERT_TRUE(wait_for([&] { return view->settled() && view->sentence().contains("250 gf"); }));
  const int before = view->edges()->rowCount();
  auto* foam = named<NumberEntry>(view, "Share of the cuts in latex foam 25 mm");
  ASSERT_TRUE(foam);
  foam->setFocus();
  foam->selectAll();
  QTest::keyClicks(foam, "40");
  QTest::keyClick(foam, Qt::Key_Return);
  EXPECT_TRUE(wait_for([&] { return view->settled() && view->edges()->rowCount() < before; }));
  for (int i = 0; i < view->edges()->rowCount(); ++i)
    EXPECT_EQ(view->edges()->edge(i).angle_deg, 15) << "the foam knows one angle";
  EXPECT_TRUE(view->sentence().startsWith("Make "));
}

TEST_F(Decide, TwoEdgesStandSideBySideAndThePictureChooses) {
  open_demo();
  VerdictView* view = verdict();
  auto* list = named<QListView>(view, "Ranked edges");
  const QModelIndex second = view->edges()->index(1);
  list->scrollTo(second);
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualRect(second).center());
  QTableWidget* table = view->compare()->table();
  ASSERT_GT(table->rowCount(), 6);
  EXPECT_EQ(table->item(1, 1)->text(),
            QString::fromStdString(
                print_angle_number(view->edges()->edge(1).angle_deg, AngleConvention::per_side)) +
                "°");
  EXPECT_EQ(table->item(1, 2)->text(), "12°");
  QTest::mouseClick(button("Compare"), Qt::LeftButton);
  PlotView* plot = view->compare()->plot();
  QTest::qWait(30);
  const QString last = view->edges()->title(view->edges()->rowCount() - 1);
  const QPoint at = plot->point_of(last);
  ASSERT_FALSE(at.isNull());
  QTest::mouseClick(plot->canvas(), Qt::LeftButton, {}, at);
  EXPECT_GT(list->currentIndex().row(), 1);
}

TEST_F(Decide, TheHalfHourOfABladeIsRanked) {
  open_demo();
  VerdictView* view = verdict();
  QTest::mouseClick(button("Best next half hour"), Qt::LeftButton);
  EXPECT_TRUE(
      wait_for([&] { return view->settled() && view->half_hour()->table()->rowCount() > 3; }));
  EXPECT_TRUE(view->half_hour()->sentence().startsWith("Best: ") ||
              view->half_hour()->sentence().startsWith("Leave it"))
      << view->half_hour()->sentence().toStdString();
}

TEST_F(Decide, TheReportIsWrittenInAllThreeKindsAndAFullDiskIsSaid) {
  open_demo();
  VerdictView* view = verdict();
  for (const char* name : {"r.pdf", "r.html", "r.xlsx"}) {
    const QString path = QString::fromStdString((folder_ / name).string());
    view->write_report(path);
    EXPECT_TRUE(wait_for([&] { return !view->reporting(); })) << name;
    EXPECT_GT(QFile(path).size(), 20000) << name;
  }
  QFile html(QString::fromStdString((folder_ / "r.html").string()));
  ASSERT_TRUE(html.open(QIODevice::ReadOnly));
  EXPECT_TRUE(html.readAll().contains("Make Cairn Hard"));
  view->write_report(QString::fromStdString((folder_ / "no-such-folder/r.pdf").string()));
  EXPECT_TRUE(wait_for([&] {
    return !view->reporting() && window_->message().contains("could not be written");
  })) << window_->message().toStdString();
}
