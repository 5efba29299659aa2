// The Stones station through keys and clicks.
#include "edge_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"
#include "ui/stones/card_page.h"
#include "ui/stones/compare_page.h"
#include "ui/stones/condition_drawing.h"
#include "ui/stones/key_page.h"
#include "ui/stones/ladder_drawing.h"
#include "ui/stones/start_page.h"
#include "ui/stones/step_dialog.h"
#include "ui/stones/step_panel.h"
#include "ui/stones/stones_view.h"

#include <QCheckBox>
#include <QPainter>
#include <QPixmap>
#include <QTimer>

using namespace bq;
using namespace bq::ui;
using bq::test::EdgeWindow;

namespace {

class StonesWindow : public EdgeWindow {
 protected:
  StonesView* stones(const char* name) {
    window_->go_to(Station::stones);
    auto* view = static_cast<StonesView*>(window_->station(Station::stones));
    view->choose_blade(blade(name));
    QTest::qWait(20);
    return view;
  }
  void key(StonesView* view, Qt::Key k) { QTest::keyClick(view->step(), k); }
  const Blade& facts(const char* name) { return trial().blades[std::size_t(blade(name))]; }
  static QString words(QWidget* in) {
    QString out;
    for (auto* label : in->findChildren<QLabel*>())
      if (label->isVisible()) out += label->text() + '\n';
    return out;
  }
  static void type(NumberEntry* box, double value) {
    ASSERT_NE(box, nullptr);
    box->setValue(value);
    emit box->editingFinished();
    QTest::qWait(5);
  }
};

}  // namespace

TEST_F(StonesWindow, AWholeSharpeningIsDoneByKeysWithTheWindowGoneInTheMiddle) {
  auto* view = stones("Cairn Hard 3");
  ASSERT_FALSE(view->model().hand());
  const std::size_t before = facts("Cairn Hard 3").records.size();
  const auto since = [&](const std::string& name) {
    for (const auto& a : trial().shelf)
      if (a.name == name) return a.blades_since_check;
    return -1;
  };
  click(button(view, "Begin this sharpening"));
  ASSERT_TRUE(view->model().hand());
  const Sharpening planned = view->model().hand()->sharpening;
  EXPECT_EQ(planned.run, "K03") << "the planned run of this blade";
  const int before_since = since(planned.steps[0].abrasive);
  // The gate holds: the step cannot be done, each place has its key, in any order.
  EXPECT_TRUE(view->step()->instruction_text().startsWith("Grind both sides on"));
  key(view, Qt::Key_Space);  // the caution is seen
  for (const Qt::Key k : {Qt::Key_1, Qt::Key_2, Qt::Key_3}) key(view, k);
  const auto found = [&] { return view->model().hand()->sharpening.steps[0].burr; };
  EXPECT_EQ(found()[0], BurrSize::large);
  EXPECT_EQ(found()[1], BurrSize::small);
  EXPECT_EQ(found()[2], BurrSize::just_felt);
  EXPECT_TRUE(words(view->step()).contains("The burr is uneven: least at the left tip"))
      << words(view->step()).toStdString();
  key(view, Qt::Key_Backspace);
  EXPECT_EQ(found()[2], BurrSize::not_looked) << "the last tap is taken back";
  // The window goes without a word; every tap is there again.
  window_.reset();
  open();
  view = stones("Cairn Hard 3");
  ASSERT_TRUE(view->model().hand());
  EXPECT_EQ(found()[1], BurrSize::small);
  EXPECT_FALSE(view->model().timer_runs()) << "nobody knows how long the work went on";
  key(view, Qt::Key_T);
  EXPECT_TRUE(view->model().timer_runs());
  int taps = 0;
  while (view->model().hand() && ++taps < 60) key(view, Qt::Key_Space);
  EXPECT_FALSE(view->model().hand());
  const auto& records = facts("Cairn Hard 3").records;
  ASSERT_EQ(records.size(), before + 2) << "the sharpening and the section it left";
  const Sharpening& done = std::get<SharpeningRecord>(records[before].data).sharpening;
  const EdgeNow edge = edge_now(facts("Cairn Hard 3"));
  EXPECT_NEAR(make_section(*edge.section)->apex_angles().left_deg, 18, 1e-9)
      << "Section shows the edge that was made";
  EXPECT_TRUE(edge.left.stations.empty()) << "angles read before it are history";
  EXPECT_EQ(done.steps.size(), planned.steps.size());
  EXPECT_EQ(done.steps[0].confirmed(), 0b111111U);
  EXPECT_EQ(done.steps[0].burr[0], BurrSize::large);
  EXPECT_EQ(done.steps[0].burr[5], BurrSize::felt) << "by Space its size is not said";
  EXPECT_FALSE(current_step(done));
  EXPECT_EQ(since(done.steps[0].abrasive), before_since + 1)
      << "the stone has one more blade to its name";
  EXPECT_NE(qobject_cast<CardPage*>(view->page()), nullptr) << "the card comes up";
  // The Rack shows it.
  auto* rack_view = rack("Cairn Hard 3");
  bool listed = false;
  for (auto* list : rack_view->findChildren<QListWidget*>())
    for (int i = 0; i < list->count(); ++i)
      listed |=
          list->item(i)->text().contains("sharpened: ") && list->item(i)->text().contains("K03");
  EXPECT_TRUE(listed);
  // One undo, and it is in the hand again.
  undo();
  view = stones("Cairn Hard 3");
  EXPECT_TRUE(view->model().hand());
}

TEST_F(StonesWindow, ATremblingHandTapsOnce) {
  auto* view = stones("Cairn Hard 3");
  click(button(view, "Begin this sharpening"));
  const auto burr = [&] { return view->model().hand()->sharpening.steps[0].confirmed(); };
  key(view, Qt::Key_Space);  // the caution is seen
  test::press_at(view->step(), Qt::Key_Space, 1000);
  QTest::qWait(150);  // a disk that takes its time: the hand's second press waits behind it
  test::press_at(view->step(), Qt::Key_Space, 1040);
  test::press_at(view->step(), Qt::Key_Space, 1110);
  EXPECT_EQ(burr(), 1U);
  for (const int ms : {1130, 1300, 1500}) test::press_at(view->step(), Qt::Key_Space, ms);
  EXPECT_EQ(burr(), 1U) << "nobody looks at the next place so soon: a gate is no row of taps";
  test::press_at(view->step(), Qt::Key_2, 1550);
  EXPECT_EQ(burr(), 1U) << "nor by another key";
  test::press_at(view->step(), Qt::Key_Space, 1700);
  EXPECT_EQ(burr(), 3U) << "a hand that looked taps again, however quick the program was";
  test::press_at(view->step(), Qt::Key_Backspace, 2000);
  QTest::qWait(150);
  test::press_at(view->step(), Qt::Key_Backspace, 2100);
  EXPECT_EQ(burr(), 1U) << "one tap back, not two";
  test::press_at(view->step(), Qt::Key_Backspace, 2130);
  EXPECT_EQ(burr(), 0U);
}

TEST_F(StonesWindow, PassingAGateNeedsAReasonThatIsKept) {
  auto* view = stones("Cairn Hard 3");
  click(button(view, "Begin this sharpening"));
  key(view, Qt::Key_Space);  // the caution is seen
  key(view, Qt::Key_O);
  auto* reason = named<QLineEdit>(view, "Reason to pass the gate");
  ASSERT_TRUE(reason->isVisible());
  QTest::keyClick(reason, Qt::Key_Return);
  EXPECT_TRUE(view->model().hand()->sharpening.steps[0].override_reason.empty())
      << "an empty reason passes nothing";
  QTest::keyClicks(reason, "jig, no burr");
  QTest::keyClick(reason, Qt::Key_Return);
  EXPECT_EQ(view->model().hand()->sharpening.steps[0].override_reason, "jig, no burr");
  key(view, Qt::Key_T);
  EXPECT_FALSE(view->model().timer_runs());
  key(view, Qt::Key_Space);
  EXPECT_EQ(*current_step(view->model().hand()->sharpening), 1U);
}

TEST_F(StonesWindow, ADeepChipStartsCoarserAndWhatWasTypedStays) {
  auto* view = stones("Fenland Plain 3");
  const auto first_stone = [&] {
    return trial().shelf[view->model().plan()->steps.front().abrasive].name;
  };
  ASSERT_TRUE(view->model().plan());
  type(named<NumberEntry>(view, "Finish on the left, particle size"), 6);
  type(named<NumberEntry>(view, "Finish on the right, particle size"), 6);
  const double light = *size_um(trial().shelf[view->model().plan()->steps.front().abrasive]);
  type(named<NumberEntry>(view, "Depth of the deepest chip"), 700);
  EXPECT_GT(*size_um(trial().shelf[view->model().plan()->steps.front().abrasive]), light)
      << first_stone();
  EXPECT_GE(view->model().plan()->receded_um, 700);
  window_.reset();  // closed at once: what was typed is kept
  open();
  view = stones("Fenland Plain 3");
  EXPECT_EQ(named<NumberEntry>(view, "Depth of the deepest chip")->value(), 700);
  // Unlike finishes: the finer side goes on alone.
  type(named<NumberEntry>(view, "Finish on the left, particle size"), 1);
  EXPECT_EQ(view->model().plan()->steps.back().side, GrindSide::left);
  // A jump too far is said.
  EXPECT_TRUE(words(view->page()).contains("too far")) << words(view->page()).toStdString();
}

TEST_F(StonesWindow, AStepIsAddedAndChanged) {
  auto* view = stones("Marl Tough 1");
  ASSERT_TRUE(view->model().hand()) << "the demo has one in hand";
  bool with_stone = false;
  QTimer::singleShot(50, [&] {
    auto* add = dialog<StepDialog>(window_.get());
    ASSERT_NE(add, nullptr);
    for (auto* box : add->findChildren<QComboBox*>())
      if (box->findText("rework one stretch") >= 0) box->setCurrentText("rework one stretch");
    for (auto* box : add->findChildren<QComboBox*>())
      if (box->findText("rework one stretch") < 0 && box->currentText().startsWith("Brown stone"))
        with_stone = true;
    test::named<NumberEntry>(add, "Stretch from, from the heel")->setValue(28);
    test::named<NumberEntry>(add, "Stretch to, from the heel")->setValue(40);
    QTest::qWait(10);
    click(button(add, "Add before this step"));
  });
  click(button(view, "Add"));
  QTest::qWait(20);
  const auto& steps = view->model().hand()->sharpening.steps;
  ASSERT_EQ(steps[1].work, StepWork::local);
  EXPECT_TRUE(with_stone) << "the stone in the hand is proposed";
  EXPECT_EQ(*steps[1].from_mm, 28);
  EXPECT_EQ(*steps[1].to_mm, 40);
  EXPECT_TRUE(view->step()->instruction_text().contains("28 to 40 mm from the heel"))
      << view->step()->instruction_text().toStdString();
  EXPECT_FALSE(view->model().hand()->leaves)
      << "metal that was not planned: the section it leaves is not known";
  QTimer::singleShot(50, [&] {
    auto* change = dialog<StepDialog>(window_.get());
    ASSERT_NE(change, nullptr);
    test::named<NumberEntry>(change, "Strokes, both sides together")->setValue(33);
    for (auto* edit : change->findChildren<QLineEdit*>())
      if (edit->placeholderText().startsWith("light, weight")) edit->setText("two fingers");
    click(button(change, "Change it"));
  });
  click(button(view, "Change"));
  QTest::qWait(20);
  const auto& changed = view->model().hand()->sharpening.steps[1];
  EXPECT_EQ(*changed.passes, 33);
  EXPECT_EQ(changed.pressure, "two fingers");
  EXPECT_EQ(changed.work, StepWork::local);
  EXPECT_EQ(*changed.from_mm, 28) << "what was not touched stays";
}

TEST_F(StonesWindow, TheKeyFindsAWireEdgeAndKeepsIt) {
  auto* view = stones("Fenland Plain 2");
  click(button(view, "On the edge?"));
  auto* page = static_cast<KeyPage*>(view->page());
  const auto give = [&](const QString& question, Qt::Key k) {
    if (page->question() != question)
      for (auto* box : page->findChildren<QComboBox*>())
        if (const int i = box->findText(question); i > 0) {
          box->setCurrentIndex(i);
          emit box->activated(i);
        }
    ASSERT_EQ(page->question(), question);
    QTest::keyClick(page, k);
    QTest::qWait(10);
  };
  give("What was done to this edge last?", Qt::Key_4);  // stropped
  EXPECT_TRUE(page->sentence().startsWith("Cannot tell yet")) << page->sentence().toStdString();
  EXPECT_TRUE(page->sentence().contains(page->question()))
      << "it asks what it says would tell most";
  give("After how many cuts did it fall off?", Qt::Key_1);
  give("Under the lens, what does the apex look like?", Qt::Key_2);
  EXPECT_TRUE(page->sentence().startsWith("Wire edge")) << page->sentence().toStdString();
  EXPECT_TRUE(words(page).contains("because only a lens shows it")) << words(page).toStdString();
  EXPECT_TRUE(words(page).contains("Do not stand it up again on a smooth rod"));
  const std::size_t before = facts("Fenland Plain 2").records.size();
  click(button(page, "Keep in the history"));
  ASSERT_EQ(facts("Fenland Plain 2").records.size(), before + 1);
  const auto& kept = std::get<ConditionRecord>(facts("Fenland Plain 2").records.back().data);
  EXPECT_EQ(kept.condition, "wire");
  EXPECT_EQ(kept.evidence.size(), 3U);
  QTest::keyClick(page, Qt::Key_Backspace);
  QTest::qWait(10);
  EXPECT_TRUE(page->sentence().startsWith("Cannot tell yet")) << "an answer is taken back";
  window_.reset();  // and the two that are left are there again
  open();
  view = stones("Fenland Plain 2");
  click(button(view, "On the edge?"));
  page = static_cast<KeyPage*>(view->page());
  EXPECT_TRUE(page->sentence().startsWith("Cannot tell yet")) << page->sentence().toStdString();
  QTest::keyClick(page, Qt::Key_Backspace);
  QTest::qWait(10);
  QTest::keyClick(page, Qt::Key_Backspace);
  QTest::qWait(10);
  EXPECT_TRUE(page->sentence().startsWith("Answer what you can see"))
      << page->sentence().toStdString();
}

TEST_F(StonesWindow, TheLastSharpeningIsRepeatedAndLaidAway) {
  auto* view = stones("Fenland Plain 3");
  const auto& records = facts("Fenland Plain 3").records;
  Sharpening last;
  for (const auto& record : records)
    if (const auto* s = std::get_if<SharpeningRecord>(&record.data)) last = s->sharpening;
  click(button(view, "Repeat the last one"));
  ASSERT_TRUE(view->model().hand());
  EXPECT_EQ(view->model().hand()->sharpening.steps.size(), last.steps.size());
  EXPECT_EQ(view->model().hand()->sharpening.steps[0].abrasive, last.steps[0].abrasive);
  EXPECT_FALSE(view->model().hand()->sharpening.steps[0].done);
  EXPECT_TRUE(window_->workbench().sharpening_in_hand());
  click(button(view, "Lay away"));
  EXPECT_FALSE(view->model().hand());
  key(view, Qt::Key_Backspace);
  EXPECT_TRUE(view->model().hand()) << "and back by one key";
}

TEST_F(StonesWindow, TheCauseFinderUsesWhatTheProjectKnows) {
  window_->workbench().edit([&](ProjectSession& session) {
    for (Abrasive a : session.trial().shelf) {
      if (!has_flat_face(a.kind)) continue;
      a.flatness.push_back({"2026-03-20", 120, 200, false, ""});
      session.set_abrasive(a);
    }
  });
  auto* view = stones("Fenland Plain 4");
  click(button(view, "Why dull?"));
  auto* page = static_cast<KeyPage*>(view->page());
  EXPECT_TRUE(words(page).contains("flatness log")) << words(page).toStdString();
  QTest::keyClick(page, Qt::Key_1);  // it does not get sharp
  QTest::qWait(10);
  EXPECT_TRUE(page->sentence().contains("ished stone")) << page->sentence().toStdString();
  EXPECT_TRUE(words(page).contains("Straight edge on the stone")) << "the check that confirms it";
}

TEST_F(StonesWindow, TheRouteAsksForALookBeforeItProposesTheOther) {
  auto* view = stones("Cairn Hard 1");
  click(button(view, "Burr route"));
  EXPECT_TRUE(words(view->page()).contains("collapsed early (C30)"))
      << words(view->page()).toStdString();
  click(button(view->page(), "Look at the apex"));
  ASSERT_NE(qobject_cast<KeyPage*>(view->page()), nullptr);
  window_->workbench().edit([&](ProjectSession& session) {
    session.add_records(std::size_t(blade("Cairn Hard 1")),
                        {ConditionRecord{"wire", "wire edge", 0.9, {}, "C30", {}, ""}}, "a look");
  });
  click(button(view, "Burr route"));
  click(button(view->page(), "Take the ductile route next time"));
  EXPECT_EQ(view->model().planned().route, "ductile route");
}

TEST_F(StonesWindow, AStoneIsLoggedAndTheShelfAnswers) {
  auto* view = stones("Fenland Plain 1");
  auto* ladder = view->findChild<LadderDrawing*>();
  ladder->repaint();
  emit ladder->stone_chosen("Pale stone");
  QTest::qWait(10);
  EXPECT_TRUE(words(view->page()).contains("6 µm measured (label JIS 2000: 6.7 µm)"))
      << words(view->page()).toStdString();
  EXPECT_TRUE(words(view->page()).contains("Pale stone and Pale twin do the same work"));
  named<NumberEntry>(view->page(), "hollow by")->setValue(140);
  click(button(view->page(), "Log this look"));
  EXPECT_TRUE(words(view->page()).contains("flatten before use: 140 µm hollow"));
  const auto pale = [&]() -> const Abrasive& {
    return *std::find_if(trial().shelf.begin(), trial().shelf.end(),
                         [](const Abrasive& a) { return a.name == "Pale stone"; });
  };
  EXPECT_EQ(pale().flatness.size(), 2U);
  EXPECT_EQ(pale().blades_since_check, 0);
  // A label that is none is refused, and the old one stays.
  auto* label = named<QLineEdit>(view->page(), "grit, as it is labelled");
  label->setText("smooth");
  emit label->editingFinished();
  EXPECT_EQ(pale().label, "JIS 2000");
  EXPECT_EQ(label->text(), "JIS 2000");
  named<QLineEdit>(view->page(), "Name of a new abrasive")->setText("Slate rod");
  click(button(view->page(), "Add"));
  EXPECT_TRUE(std::any_of(trial().shelf.begin(), trial().shelf.end(),
                          [](const Abrasive& a) { return a.name == "Slate rod"; }));
  EXPECT_TRUE(words(view->page()).contains("Slate rod has neither a label nor a measured size"));
  undo();
  EXPECT_TRUE(std::none_of(trial().shelf.begin(), trial().shelf.end(),
                           [](const Abrasive& a) { return a.name == "Slate rod"; }));
}

TEST_F(StonesWindow, AComparisonIsTypedAndJudged) {
  auto* view = stones("Fenland Plain 1");
  click(button(view, "Compare"));
  auto* page = static_cast<ComparePage*>(view->page());
  EXPECT_TRUE(page->result().startsWith("Balsa strop reads 4.5 % lower than Leather strop"))
      << page->result().toStdString();
  EXPECT_TRUE(words(page).contains("each percent lower costs"));
  named<QLineEdit>(page, "Name of a new comparison")->setText("two routes");
  click(button(page, "Begin"));
  EXPECT_TRUE(page->result().startsWith("No answer yet")) << page->result().toStdString();
  auto* pairs = named<QTableWidget>(page, "Pairs of readings");
  const auto pair = [&](int row, const char* first, const char* second) {
    pairs->item(row, 2)->setText(first);
    pairs->item(row, 3)->setText(second);
    QTest::qWait(10);
  };
  pair(0, "100", "90");
  ASSERT_EQ(trial().comparisons.back().pairs.size(), 1U);
  EXPECT_EQ(trial().comparisons.back().pairs[0].blade, "Fenland Plain 1")
      << "the blade in hand where none was typed";
  pair(1, "100", "x");
  EXPECT_EQ(trial().comparisons.back().pairs.size(), 1U)
      << "a reading that is no number is refused";
  pair(1, "110", "100");
  EXPECT_EQ(trial().comparisons.back().pairs.size(), 2U);
  EXPECT_TRUE(words(page).contains("this blade only")) << words(page).toStdString();
}

TEST_F(StonesWindow, TheStartGateShowsTheBladesOwnGroup) {
  auto* view = stones("Cairn Hard 4");
  click(button(view, "Start gate"));
  auto* page = static_cast<StartPage*>(view->page());
  EXPECT_TRUE(page->sentence().startsWith("All 6 starts lie within"))
      << page->sentence().toStdString();
}

TEST_F(StonesWindow, EmptyProjectsAndBladesWithoutASectionSayWhatToDo) {
  window_->workbench().create(QString::fromStdString((folder_ / "empty.bquarry").string()));
  ASSERT_TRUE(test::wait_for([&] { return trial().blades.empty(); }));
  auto* view = stones("none");
  EXPECT_TRUE(view->step()->instruction_text().contains("no blade on the rack"))
      << view->step()->instruction_text().toStdString();
  for (int i = 0; i < 8; ++i) {
    view->open_page(StonesView::Page(i));
    QTest::qWait(5);
    EXPECT_FALSE(words(view->page()).trimmed().isEmpty()) << i;
  }
  for (const Qt::Key k : {Qt::Key_Space, Qt::Key_1, Qt::Key_T, Qt::Key_O, Qt::Key_Backspace})
    key(view, k);
  window_->workbench().edit([](ProjectSession& session) {
    Blade blade;
    blade.name = "B1";
    session.add_blade(blade);
  });
  EXPECT_TRUE(view->step()->instruction_text().contains("say on Section how it is ground"))
      << view->step()->instruction_text().toStdString();
}

TEST(ConditionDrawing, EveryDrawingARuleMayNameIsDrawn) {
  choose_theme(ThemeName::chalk);
  QPixmap blank(120, 72);
  blank.fill(Qt::white);
  QPainter unknown(&blank);
  EXPECT_FALSE(paint_condition(unknown, QRectF(0, 0, 120, 72), "no such"));
  unknown.end();
  std::vector<QImage> seen{blank.toImage()};
  for (const auto name : kDrawings) {
    QPixmap picture(120, 72);
    picture.fill(Qt::white);
    QPainter painter(&picture);
    EXPECT_TRUE(paint_condition(painter, QRectF(0, 0, 120, 72),
                                QString::fromUtf8(name.data(), qsizetype(name.size()))))
        << name;
    painter.end();
    for (const auto& other : seen)
      EXPECT_NE(picture.toImage(), other) << name << " looks like another";
    seen.push_back(picture.toImage());
  }
}
