// The Plan station through clicks and keys.
#include <QCheckBox>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>

#include "plan_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"
#include "ui/plan/claim_page.h"
#include "ui/plan/design_field.h"
#include "ui/plan/hold_panel.h"
#include "ui/plan/plan_view.h"
#include "ui/plan/power_panel.h"
#include "ui/plan/sheet_actions.h"

using namespace bq;
using namespace bq::ui;
using bq::test::PlanWindow;

TEST_F(PlanWindow, LevelsTypedInPlaceChangeTheFieldTheSheetAndTheBudget) {
  auto* view = plan_view();
  ASSERT_EQ(view->model().study()->sheet.runs.size(), 10u);
  const double minutes = view->model().study()->budget.minutes();
  type(named<QLineEdit>(view, "Levels of finish_um, separated by commas"), "6, 12, 25");
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->sheet.runs.size(), 15u);
  EXPECT_NEAR(view->model().study()->budget.minutes(), 1.5 * minutes, 30);
  type(named<QLineEdit>(view, "Levels of finish_um, separated by commas"), "6, soft");
  EXPECT_NE(window_->message().indexOf("soft"), -1);
  EXPECT_EQ(view->model().plan()->factors[2].levels.size(), 3u) << "what was there stands";
  // Inclusive: the same edges, twice the numbers.
  ui::Display display = window_->workbench().display();
  display.angles = AngleConvention::inclusive;
  window_->workbench().set_display(display);
  QTest::qWait(20);
  auto* angles = named<QLineEdit>(view, "Levels of apex_angle, separated by commas");
  EXPECT_EQ(angles->text(), "24, 30, 36");
  type(angles, "24, 36");
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().plan()->factors[1].levels, (std::vector<FactorValue>{12.0, 18.0}));
  // One level only: a sentence, no sheet, nothing to put on the bench.
  type(named<QLineEdit>(view, "Levels of apex_angle, separated by commas"), "24");
  ASSERT_TRUE(settled(view));
  EXPECT_NE(view->remarks().indexOf("only one level"), -1) << view->remarks().toStdString();
  EXPECT_FALSE(view->issue_button()->isEnabled());
  // Undone at once, before the hand has rested: the last change is undone first, not the one before
  // it.
  window_->workbench().undo();
  EXPECT_NE(view->model().plan()->factors[1].levels.size(), 1u);
  for (int i = 0; i < 3; ++i) window_->workbench().undo();
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->sheet.runs.size(), 10u);
}

TEST_F(PlanWindow, ACombinationIsTakenOutByAClickAndBackInByAKey) {
  auto* view = plan_view();
  auto* field = view->field();
  const Combination out{0, 1, 0}, ruled{1, 0, 0};
  QTest::mouseClick(field, Qt::LeftButton, {}, field->centre_of(out));
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->sheet.runs.size(), 9u);
  EXPECT_EQ(why_excluded(*view->model().plan(), out), "taken out by hand");
  EXPECT_TRUE(test::wait_for([&] { return stored().plans.front().plan.exclusions.size() == 1; }))
      << "in the project by itself";
  field->setFocus();
  QTest::keyClick(field, Qt::Key_Space);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->sheet.runs.size(), 10u);
  // One a rule forbids stays out, and the rule is named.
  QTest::mouseClick(field, Qt::LeftButton, {}, field->centre_of(ruled));
  EXPECT_NE(window_->message().indexOf("apex_angle only 15, 18"), -1)
      << window_->message().toStdString();
  QTest::keyClick(field, Qt::Key_Right);
  EXPECT_NE(field->accessibleDescription().indexOf("25 µm"), -1);
}

TEST_F(PlanWindow, IsRehearsedStoppedGoneOnWithAndAskedWhatHelps) {
  auto* view = plan_view();
  PlanModel& model = view->model();
  auto* button = view->power()->main_button();
  ASSERT_EQ(button->text(), "Rehearse");
  EXPECT_NE(view->power()->sentence().indexOf("By formula"), -1);
  QTest::mouseClick(button, Qt::LeftButton);
  ASSERT_TRUE(model.rehearsing());
  EXPECT_EQ(button->text(), "Stop");
  ASSERT_TRUE(test::wait_for([&] { return model.progress_done() > 50; }));
  QTest::mouseClick(button, Qt::LeftButton);
  ASSERT_TRUE(test::wait_for([&] { return !model.rehearsing(); }));
  ASSERT_TRUE(model.rehearsal() && model.rehearsal()->stopped());
  const std::size_t part = model.rehearsal()->plays.size();
  EXPECT_GT(part, 0u);
  EXPECT_LT(part, std::size_t(PlanModel::kPlays));
  EXPECT_EQ(button->text(), "Go on");
  EXPECT_NE(view->power()->sentence().indexOf("Stopped before the end"), -1);
  const auto before = model.rehearsal()->plays;
  QTest::mouseClick(button, Qt::LeftButton);
  ASSERT_TRUE(test::wait_for([&] { return !model.rehearsing(); }));
  ASSERT_EQ(model.rehearsal()->plays.size(), std::size_t(PlanModel::kPlays));
  EXPECT_TRUE(std::equal(before.begin(), before.end(), model.rehearsal()->plays.begin()));
  EXPECT_EQ(model.curve().size(), 6u);
  EXPECT_NE(view->power()->sentence().indexOf("Rehearsed 2000 times"), -1);
  EXPECT_EQ(view->issue_button()->objectName(), "primary") << "the next thing to do";
  QTest::mouseClick(view->power()->help_button(), Qt::LeftButton);
  ASSERT_TRUE(test::wait_for([&] { return !model.rehearsing(); }));
  ASSERT_GE(model.helps().size(), 5u);
  auto* table = named<QTableWidget>(view, "What would help most");
  EXPECT_EQ(table->rowCount(), int(model.helps().size()));
  EXPECT_EQ(table->item(0, 0)->text(), "as it is");
  // A change makes the figure stale: it goes, and the formula stands in.
  auto* replicates = [&]() -> NumberEntry* {
    view->open_panel(PlanView::Panel::design);
    return named<NumberEntry>(view, "each one");
  }();
  replicates->setValue(2);
  ASSERT_TRUE(settled(view));
  EXPECT_FALSE(model.rehearsal());
  EXPECT_TRUE(model.helps().empty());
  EXPECT_EQ(button->text(), "Rehearse");
}

TEST_F(PlanWindow, EachQuestionHasItsOwnFigureAndASearchGoesOnTheBench) {
  auto* view = plan_view();
  PlanModel& model = view->model();
  auto* asked = named<QComboBox>(view, "What is asked of this plan");
  const auto ask = [&](PlanAsk what) {
    const int at = asked->findData(int(what));
    asked->setCurrentIndex(at);
    emit asked->activated(at);
    EXPECT_TRUE(settled(view));
  };
  QTest::mouseClick(view->power()->main_button(), Qt::LeftButton);
  ASSERT_TRUE(test::wait_for([&] { return !model.rehearsing() && model.rehearsal(); }));
  const auto plays = model.rehearsal()->plays;
  ask(PlanAsk::best);
  EXPECT_TRUE(view->power()->sentence().startsWith("chance to name the longest-lived of its"))
      << view->power()->sentence().toStdString();
  bool looked = false;
  for (const auto* label : view->power()->findChildren<QLabel*>())
    looked = looked || label->text().contains("Looked at after every run");
  EXPECT_TRUE(looked);
  ask(PlanAsk::match);
  EXPECT_TRUE(view->power()->sentence().contains("lasts as long as"));
  ASSERT_TRUE(model.rehearsal()) << "what was rehearsed answers every question";
  EXPECT_EQ(model.rehearsal()->plays, plays);
  ask(PlanAsk::hold);
  const HoldPanel* hold = view->power()->hold();
  ASSERT_TRUE(hold->isVisible());
  EXPECT_FALSE(view->power()->main_button()->isVisible());
  const QString before = hold->sentence();
  EXPECT_TRUE(before.contains("once in 300 cuts")) << before.toStdString();
  auto* confirm = named<NumberEntry>(view, "long block when clean");
  confirm->setValue(900);
  ASSERT_TRUE(settled(view));
  EXPECT_NE(hold->sentence(), before);
  model.keep_now();
  EXPECT_EQ(stored().plans.front().plan.question->hold.confirm_cuts, 900);
  const auto sessions = window_->workbench().session().bench_sessions().size();
  QTest::mouseClick(hold->begin_button(), Qt::LeftButton);
  ASSERT_TRUE(test::wait_for(
      [&] { return window_->workbench().session().bench_sessions().size() == sessions + 1; }));
  const auto made = window_->workbench().session().bench_sessions().back();
  const auto& search = std::get<DamageSearch>(made.data);
  EXPECT_EQ(search.confirm_cuts, 900);
  EXPECT_FALSE(search.blade.empty());
  EXPECT_TRUE(window_->message().contains("on the Bench")) << window_->message().toStdString();
  EXPECT_FALSE(view->isVisible()) << "the Bench is there";
  window_->workbench().undo();
  ASSERT_TRUE(test::wait_for(
      [&] { return window_->workbench().session().bench_sessions().size() == sessions; }));
}

TEST_F(PlanWindow, RunsGoOnTheBenchInOrderAndThePlanIsOnlyExtendedThen) {
  auto* view = plan_view();
  const std::size_t runs = trial().runs.size();
  QTest::mouseClick(view->issue_button(), Qt::LeftButton);
  ASSERT_EQ(trial().runs.size(), runs + 10);
  const auto& sheet = view->model().study()->sheet;
  for (std::size_t i = 0; i < 10; ++i)
    EXPECT_EQ(trial().runs[runs + i].facts.name, sheet.runs[i].code);
  EXPECT_TRUE(view->model().issued());
  EXPECT_FALSE(view->issue_button()->isEnabled());
  EXPECT_FALSE(named<QLineEdit>(view, "Levels of steel, separated by commas")->isEnabled())
      << "what runs stands";
  view->model().extend(3);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->issue_button()->text(), "Put 3 more on the bench");
  QTest::mouseClick(view->issue_button(), Qt::LeftButton);
  EXPECT_EQ(trial().runs.size(), runs + 13);
  window_->workbench().undo();
  EXPECT_EQ(trial().runs.size(), runs + 10);
  // The window gone and back: everything is where it was.
  window_.reset();
  open();
  view = plan_view();
  EXPECT_EQ(view->model().entry()->issued.size(), 10u);
  EXPECT_EQ(view->issue_button()->text(), "Put 3 more on the bench");
}

TEST_F(PlanWindow, DesignRulesBladesAndExpectationsAreSetByHand) {
  auto* view = plan_view();
  view->open_panel(PlanView::Panel::design);
  auto* kind = named<QComboBox>(view, "Combinations");
  kind->setCurrentIndex(2);
  emit kind->activated(2);
  ASSERT_TRUE(settled(view));
  named<NumberEntry>(view, "runs to choose")->setValue(8);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->sheet.runs.size(), 8u);
  auto* with = named<QComboBox>(view, "Where this level is");
  auto* only = named<QComboBox>(view, "Only these levels of");
  with->setCurrentIndex(with->findText("Marl Tough"));
  only->setCurrentIndex(2);
  auto* levels = named<QLineEdit>(view, "The levels that are allowed, separated by commas");
  type(levels, "7");
  EXPECT_NE(window_->message().indexOf("not among its levels"), -1);
  type(levels, "25");
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().plan()->only.size(), 2u);
  for (const auto& run : view->model().study()->sheet.runs)
    EXPECT_FALSE(run.levels[0] == 0 && run.levels[2] == 0);
  auto* rules = named<QListWidget>(view, "Rules");
  ASSERT_EQ(rules->count(), 2);
  view->model().take_durable();
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(rules->count(), 4);
  auto* blades =
      named<QTableWidget>(view, "Blades of the plan, and how often each may be reground");
  const std::size_t used = view->model().plan()->blades.size();
  for (int row = 0; row < blades->rowCount(); ++row)
    if (blades->item(row, 0)->text() == "Marl Tough 1")
      blades->item(row, 0)->setCheckState(Qt::Unchecked);
  QTest::qWait(20);
  EXPECT_EQ(view->model().plan()->blades.size(), used - 1);
  view->open_panel(PlanView::Panel::expect);
  auto* ratios = named<QLineEdit>(view, "Life ratios of steel");
  type(ratios, "1, 3");
  EXPECT_EQ(view->model().plan()->factors[0].life_ratio, (std::vector<double>{1, 3}));
  type(ratios, "1");
  EXPECT_NE(window_->message().indexOf("one number for each"), -1);
  view->model().take_evidence();
  EXPECT_NE(view->model().evidence_note().indexOf("run to run"), -1)
      << view->model().evidence_note().toStdString();
}

TEST_F(PlanWindow, AnEmptyProjectGetsAPlanToStartFrom) {
  window_->workbench().create(QString::fromStdString((folder_ / "empty.bquarry").string()));
  ASSERT_TRUE(
      test::wait_for([&] { return window_->workbench().has_project() && trial().runs.empty(); }));
  auto* view = plan_view();
  EXPECT_EQ(view->model().plan(), nullptr);
  for (auto* button : view->findChildren<QPushButton*>())
    if (button->text() == "New plan") QTest::mouseClick(button, Qt::LeftButton);
  ASSERT_NE(view->model().plan(), nullptr);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->refusal, "");
  EXPECT_GT(view->model().study()->sheet.runs.size(), 3u);
}

TEST_F(PlanWindow, FactorsComeAndGoAndWhatIsHeldIsSaid) {
  auto* view = plan_view();
  const auto before = *view->model().plan();
  auto* add = named<QComboBox>(view, "Add a factor");
  add->setCurrentIndex(add->findText("a factor of my own"));
  emit add->activated(add->currentIndex());
  ASSERT_TRUE(settled(view));
  ASSERT_EQ(view->model().plan()->factors.size(), 4u);
  EXPECT_EQ(view->model().plan()->factors.back().name, "factor 1");
  type(named<QLineEdit>(view, "Name of the factor"), "hand");
  type(named<QLineEdit>(view, "Levels of factor 1, separated by commas"), "dry; wet, or nearly");
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().plan()->factors.back().name, "hand");
  EXPECT_EQ(print_factor_value(view->model().plan()->factors.back().levels[1]), "wet, or nearly");
  EXPECT_EQ(view->model().study()->sheet.runs.size(), 20u);
  // A factor taken out is held at its first level, and its rules go with it.
  auto* out = named<QPushButton>(view, "Take out steel");
  QTest::mouseClick(out, Qt::LeftButton);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().plan()->factor("steel"), nullptr);
  EXPECT_EQ(print_factor_value(*view->model().plan()->value_of(Combination(3, 0), "steel")),
            "Marl Tough");
  EXPECT_TRUE(view->model().plan()->only.empty());
  auto* held = named<QComboBox>(view, "edge bevel, per side, held");
  held->lineEdit()->setText("11, 12");
  emit held->lineEdit()->editingFinished();
  EXPECT_NE(window_->message().indexOf("one value is held"), -1);
  held->lineEdit()->setText("11.5");
  emit held->lineEdit()->editingFinished();
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(*view->model().plan()->value_of(Combination(3, 0), "edge_angle"), FactorValue(11.5));
  for (int i = 0; i < 8 && window_->workbench().session().can_undo(); ++i)
    window_->workbench().undo();
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(*view->model().plan(), before);
}

TEST_F(PlanWindow, TheWorkSetsCheckpointsAndPrice) {
  auto* view = plan_view();
  view->open_panel(PlanView::Panel::work);
  QTest::qWait(20);
  named<NumberEntry>(view, "cuts of a run")->setValue(350);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->budget.cuts, 3500);
  const double before = view->model().study()->budget.sharpening_min;
  named<NumberEntry>(view, "a sharpening")->setValue(36);
  ASSERT_TRUE(settled(view));
  EXPECT_DOUBLE_EQ(view->model().study()->budget.sharpening_min, 2 * before);
  for (auto* button : view->findChildren<QPushButton*>())
    if (button->text() == "As long as the longest life takes")
      QTest::mouseClick(button, Qt::LeftButton);
  ASSERT_TRUE(settled(view));
  EXPECT_GT(view->model().plan()->checkpoints.last, 500) << "Cairn Hard lasts";
  auto* typed = named<QLineEdit>(view, "Checkpoints, typed");
  type(typed, "0 50 20");
  EXPECT_NE(window_->message().indexOf("rise"), -1);
  type(typed, "0 10 60 200");
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().study()->sheet.checkpoints, (std::vector<std::int64_t>{0, 10, 60, 200}));
  type(typed, "");
  ASSERT_TRUE(settled(view));
  EXPECT_GT(view->model().study()->sheet.checkpoints.size(), 6u) << "back to the ladder";
}

TEST_F(PlanWindow, SeveralPlansStandSideBySideAndSheetsAreWritten) {
  auto* view = plan_view();
  const auto press = [&](const char* text) {
    for (auto* button : view->findChildren<QPushButton*>())
      if (button->text() == text && button->isVisible())
        return QTest::mouseClick(button, Qt::LeftButton);
    ADD_FAILURE() << text;
  };
  press("Copy plan");
  ASSERT_TRUE(settled(view));
  auto* name = named<QLineEdit>(view, "Name of the plan");
  EXPECT_EQ(name->text(), "Coir: a lower angle or a coarser finish?, copy");
  type(name, "Second thoughts");
  press("New plan");
  ASSERT_TRUE(settled(view));
  ASSERT_EQ(view->model().book().plans.size(), 3u);
  EXPECT_EQ(view->model().study()->refusal, "") << "a new plan can be run as it is";
  auto* plans = named<QComboBox>(view, "Plan");
  plans->setCurrentIndex(1);
  emit plans->activated(1);
  ASSERT_TRUE(settled(view));
  EXPECT_EQ(view->model().plan()->name, "Second thoughts");
  press("Remove plan");
  EXPECT_EQ(stored().plans.size(), 2u);
  window_->workbench().undo();
  EXPECT_EQ(stored().plans.size(), 3u);
  ASSERT_TRUE(settled(view));
  const auto& study = *view->model().study();
  const QString pdf = QString::fromStdString((folder_ / "sheet.pdf").string()),
                csv = QString::fromStdString((folder_ / "sheet.csv").string());
  EXPECT_EQ(write_sheet(pdf, study.plan, study.sheet), pdf);
  EXPECT_NE(write_sheet(csv, study.plan, study.sheet).indexOf("sheet-key.csv"), -1);
  EXPECT_EQ(bq::test::read_file(folder_ / "sheet.pdf").substr(0, 5), "%PDF-");
  EXPECT_NE(bq::test::read_file(folder_ / "sheet-key.csv").find("apex_angle"), std::string::npos);
  EXPECT_EQ(bq::test::read_file(folder_ / "sheet.csv").find("apex_angle"), std::string::npos);
  EXPECT_TRUE(write_sheet("/nowhere/sheet.csv", study.plan, study.sheet).isEmpty());
}
