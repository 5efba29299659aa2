// Wet hands: from an intake with five findings to the edge card without a mouse.
#include "edge_window.h"
#include "ui/hand.h"
#include "ui/lens/lens_view.h"
#include "ui/stones/burr_marks.h"
#include "ui/stones/card_page.h"
#include "ui/stones/key_page.h"
#include "ui/stones/step_panel.h"
#include "ui/stones/stones_view.h"
#include "workflow/work_list.h"

using namespace bq;
using namespace bq::ui;
using bq::test::EdgeWindow;

namespace {

class WetHands : public EdgeWindow {
 protected:
  void press(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QWidget* at = QApplication::focusWidget();
    QTest::keyClick(at ? at : window_.get(), key, with);
    QTest::qWait(2);
  }
  void type(const char* text) {
    for (const char* c = text; *c; ++c) {
      QTest::keyClick(QApplication::focusWidget(), *c);
      QTest::qWait(1);
    }
  }
  /// Tab until something whose accessible name or text starts so has the focus.
  bool tab_to(const char* name) {
    const QString wanted = QString::fromUtf8(name);
    for (int i = 0; i < 150; ++i) {
      const QWidget* at = QApplication::focusWidget();
      const auto* button = qobject_cast<const QAbstractButton*>(at);
      if (at && at->isVisible() &&
          (at->accessibleName().startsWith(wanted) || (button && button->text() == wanted)))
        return true;
      press(Qt::Key_Tab);
    }
    return false;
  }
  void find(const char* check, const char* place, const char* size) {
    ASSERT_TRUE(tab_to(check)) << check;
    press(Qt::Key_Space);
    ASSERT_TRUE(tab_to("Result of the check"));
    press(Qt::Key_Down);
    press(Qt::Key_Tab);
    type(place);
    press(Qt::Key_Tab);
    type(size);
    press(Qt::Key_Return);
    QTest::qWait(10);
    if (QApplication::activeWindow() != window_.get()) window_->activateWindow();
    QTest::qWait(10);
  }
  StepPanel* step() { return static_cast<StonesView*>(window_->station(Station::stones))->step(); }
};

}  // namespace

TEST_F(WetHands, FromFiveFindingsToTheCardByKeysOnly) {
  const char* name = "Fenland Plain 2";
  rack(name);
  window_->activateWindow();
  QTest::qWait(20);
  const auto records = [&]() -> const std::vector<EdgeRecord>& {
    return trial().blades[std::size_t(blade(name))].records;
  };
  const std::size_t before = records().size();
  find("Straightness", "", "0.5");
  find("Chips", "40", "0.2");
  find("Recurve", "30", "0.3");
  find("Corrosion", "", "");
  ASSERT_TRUE(tab_to("Place, from the heel"));
  type("60");
  ASSERT_TRUE(tab_to("What was measured or seen"));
  type("hangs");
  ASSERT_TRUE(tab_to("Note it"));
  press(Qt::Key_Space);
  ASSERT_EQ(records().size(), before + 5);
  ASSERT_GE(work_list(trial(), std::size_t(blade(name))).size(), 5U);
  ASSERT_TRUE(tab_to("To the stones"));
  press(Qt::Key_Space);
  QTest::qWait(20);
  ASSERT_TRUE(window_->station(Station::stones)->isVisible());
  auto& model = static_cast<StonesView*>(window_->station(Station::stones))->model();
  ASSERT_EQ(model.blade(), blade(name));
  ASSERT_FALSE(model.hand());
  press(Qt::Key_Space);  // the caution is seen
  ASSERT_FALSE(model.hand());
  press(Qt::Key_Space);  // begun
  ASSERT_TRUE(model.hand()) << model.refusal().toStdString();
  EXPECT_EQ(model.hand()->sharpening.steps[0].work, StepWork::straighten);
  // Every place said with its size, smaller from abrasive to abrasive; one is missed and worked.
  bool missed = false;
  int keys = 0;
  while (model.hand() && ++keys < 200) {
    const Sharpening& s = model.hand()->sharpening;
    const auto tap = next_tap(s);
    ASSERT_TRUE(tap);
    if (!tap->mark) {
      press(Qt::Key_Space);
      continue;
    }
    if (!missed && *tap->mark == 2) {
      missed = true;
      press(Qt::Key_4);
      continue;
    }
    const auto rank = rank_of(expected_burr(s, tap->step, *tap->mark));
    press(Qt::Key(Qt::Key_1 + 3 - *rank));
  }
  ASSERT_FALSE(model.hand()) << step()->instruction_text().toStdString();
  int alone = 0;
  const Sharpening* done = nullptr;
  for (const auto& record : records())
    if (const auto* made = std::get_if<SharpeningRecord>(&record.data)) done = &made->sharpening;
  ASSERT_NE(done, nullptr);
  for (const auto& one : done->steps) alone += one.work == StepWork::local;
  EXPECT_EQ(alone, 1) << "the missed place was worked alone";
  // A press too many begins nothing.
  press(Qt::Key_Space);
  EXPECT_FALSE(model.hand());
  auto* view = static_cast<StonesView*>(window_->station(Station::stones));
  EXPECT_NE(qobject_cast<CardPage*>(view->page()), nullptr) << "the card comes up";
  for (const auto& item : work_list(trial(), std::size_t(blade(name))))
    EXPECT_TRUE(item.work == BladeWork::clean || item.work == BladeWork::thin)
        << "still to do: " << describe(item);
}

TEST_F(WetHands, AGateIsPassedWithAUsualReasonByItsNumber) {
  window_->go_to(Station::stones);
  auto* view = static_cast<StonesView*>(window_->station(Station::stones));
  view->choose_blade(blade("Cairn Hard 3"));
  window_->activateWindow();
  QTest::qWait(20);
  view->step()->setFocus();
  press(Qt::Key_Space);
  press(Qt::Key_Space);
  ASSERT_TRUE(view->model().hand());
  press(Qt::Key_9);
  EXPECT_FALSE(view->model().timer_runs());
  press(Qt::Key_7);
  press(Qt::Key_Backspace);
  EXPECT_TRUE(view->model().hand()) << "it closes the reasons and takes no tap back";
  press(Qt::Key_7);
  press(Qt::Key_2);
  EXPECT_EQ(view->model().hand()->sharpening.steps[0].override_reason,
            "the ink is gone to the apex on both sides");
  press(Qt::Key_Space);
  EXPECT_EQ(*current_step(view->model().hand()->sharpening), 1U);
}

TEST_F(WetHands, ByTouchAPlaceIsChosenAndItsSizeSaid) {
  window_->go_to(Station::stones);
  auto* view = static_cast<StonesView*>(window_->station(Station::stones));
  view->choose_blade(blade("Cairn Hard 3"));
  QTest::qWait(20);
  click(button(view, "Begin this sharpening"));
  auto* marks = view->findChild<BurrMarks*>();
  ASSERT_NE(marks, nullptr);
  ASSERT_EQ(marks->asked(), 0);
  const int wide = int(std::min(76.0, (marks->width() - 36) / 6.0));
  QTest::mouseClick(marks, Qt::LeftButton, {}, {2 + 2 * (wide + 4) + wide / 2, 20});
  EXPECT_EQ(marks->asked(), 2) << "the tip, out of turn";
  QTest::mouseClick(marks, Qt::LeftButton, {}, {20, 58 + 6 + 20});
  const auto& burr = view->model().hand()->sharpening.steps[0].burr;
  EXPECT_EQ(burr[2], BurrSize::large);
  EXPECT_EQ(marks->asked(), 0);
  for (auto* one : view->step()->findChildren<QPushButton*>())
    if (one->isVisible() && one->text() != "Seen") {
      EXPECT_GE(one->height(), 44) << one->text().toStdString();
    }
}

TEST_F(WetHands, TheKeyKeepsThePlaceItWasAskedFor) {
  window_->go_to(Station::stones);
  auto* view = static_cast<StonesView*>(window_->station(Station::stones));
  view->open_key(blade("Fenland Plain 2"), {{"shape", "upright"}}, 40.0);
  auto* page = static_cast<KeyPage*>(view->page());
  auto* place = named<NumberEntry>(page, "Place that is looked at, from the heel");
  ASSERT_NE(place, nullptr);
  EXPECT_EQ(place->value(), 40);
  click(button(page, "Keep as undecided"));
  const auto& last = trial().blades[std::size_t(blade("Fenland Plain 2"))].records.back();
  ASSERT_TRUE(std::holds_alternative<ConditionRecord>(last.data));
  EXPECT_EQ(std::get<ConditionRecord>(last.data).at_mm, 40.0);
  window_.reset();  // and after the window was closed it is still that place
  open();
  window_->go_to(Station::stones);
  view = static_cast<StonesView*>(window_->station(Station::stones));
  view->choose_blade(blade("Fenland Plain 2"));
  click(button(view, "On the edge?"));
  page = static_cast<KeyPage*>(view->page());
  place = named<NumberEntry>(page, "Place that is looked at, from the heel");
  EXPECT_EQ(place->value(), 40);
  // Another place is another look: nothing is answered there.
  place->setValue(90);
  QTest::qWait(10);
  EXPECT_TRUE(page->sentence().startsWith("Answer what you can see"))
      << page->sentence().toStdString();
  // Back at the first one what was answered there is there again.
  place->setValue(40);
  QTest::qWait(10);
  EXPECT_TRUE(page->sentence().startsWith("Cannot tell yet")) << page->sentence().toStdString();
}

TEST_F(WetHands, TheKnockTestLeadsToTheSamePlaceBeforeAndAfterInLens) {
  const test::Folder with_pictures;
  window_.reset();
  path_ = QString::fromStdString(test::whole_demo_project(with_pictures).string());
  open();
  // A blade with two pictures at least.
  std::map<std::string, std::vector<std::int64_t>> pictures;
  for (const auto& picture : trial().micrographs) pictures[picture.blade].push_back(picture.id);
  const auto two = std::find_if(pictures.begin(), pictures.end(), [](const auto& item) {
    return !item.first.empty() && item.second.size() > 1;
  });
  ASSERT_NE(two, pictures.end());
  window_->go_to(Station::stones);
  auto* view = static_cast<StonesView*>(window_->station(Station::stones));
  view->choose_blade(blade(two->first.c_str()));
  click(button(view, "On the edge?"));
  auto* page = static_cast<KeyPage*>(view->page());
  auto* before = named<QComboBox>(page, "Picture before the knock");
  auto* after = named<QComboBox>(page, "Picture after the knock");
  ASSERT_FALSE(before->isVisible()) << "only where the knock test is asked for";
  for (auto* box : page->findChildren<QComboBox*>())
    for (int i = 0; i < box->count(); ++i)
      if (box->itemText(i).contains("Knock test")) {
        box->setCurrentIndex(i);
        emit box->activated(i);
      }
  ASSERT_TRUE(before->isVisible());
  auto* see = button(page, "See both in Lens");
  EXPECT_FALSE(see->isEnabled());
  before->setCurrentIndex(before->findData(qlonglong(two->second[0])));
  after->setCurrentIndex(after->findData(qlonglong(two->second[0])));
  EXPECT_FALSE(see->isEnabled()) << "one picture is no comparison";
  after->setCurrentIndex(after->findData(qlonglong(two->second[1])));
  click(see);
  auto* lens = static_cast<LensView*>(window_->station(Station::lens));
  EXPECT_TRUE(lens->isVisible());
  ASSERT_TRUE(test::wait_for([&] { return lens->model().other() != nullptr; }));
  EXPECT_EQ(lens->model().current()->id, two->second[1]);
  EXPECT_EQ(lens->model().other()->id, two->second[0]);
  // What was found is kept with the test, its pictures and the place.
  window_->go_to(Station::stones);
  QTest::keyClick(page, Qt::Key_1);
  QTest::qWait(10);
  click(button(page, "Keep as undecided"));
  const auto& kept = std::get<ConditionRecord>(
      trial().blades[std::size_t(blade(two->first.c_str()))].records.back().data);
  EXPECT_EQ(kept.evidence.at("knock"), "same");
  EXPECT_NE(kept.note.find("knock test, 10 rocks"), std::string::npos) << kept.note;
  EXPECT_NE(kept.note.find(std::to_string(two->second[1])), std::string::npos) << kept.note;
  window_.reset();  // before its project's folder goes
}
