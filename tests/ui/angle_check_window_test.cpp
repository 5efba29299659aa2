// Marker test, gauge log and jig of the station Section through real clicks and keys.
#include "ui/edge_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"

using namespace bq;
using namespace bq::ui;

namespace {
class AngleCheckWindow : public test::EdgeWindow {};
}  // namespace

TEST_F(AngleCheckWindow, TheMarkerTestIsPlayedWithKeysAndStored) {
  auto* view = section("Marl Tough 3");
  click(button(view, "Marker"));
  auto* page = static_cast<MarkerPage*>(view->page());
  EXPECT_EQ(page->instruction(), "Touch at 25.0°")
      << "three degrees steeper than the edge on record";
  const double truth = 21.8;
  int touches = 0;
  while (page->instruction().startsWith("Touch at") && touches < 40) {
    const double at = page->instruction().mid(9).section(QChar(0xb0), 0, 0).toDouble();
    QTest::keyClick(page, at > truth + 0.5 ? Qt::Key_1 : at < truth - 0.5 ? Qt::Key_3 : Qt::Key_2);
    // A power cut in the middle loses no answer.
    if (++touches == 3) {
      window_.reset();
      open();
      view = section("Marl Tough 3");
      click(button(view, "Marker"));
      page = static_cast<MarkerPage*>(view->page());
    }
  }
  ASSERT_TRUE(page->instruction().contains("per side")) << page->instruction().toStdString();
  const std::size_t before = trial().blades[std::size_t(blade("Marl Tough 3"))].records.size();
  QTest::keyClick(page, Qt::Key_Return);
  const auto& records = trial().blades[std::size_t(blade("Marl Tough 3"))].records;
  ASSERT_EQ(records.size(), before) << "this edge has a micro-bevel: which is inked is asked";
  auto* inked = named<QComboBox>(page, "Bevel that is measured");
  inked->setCurrentText("micro-bevel");
  emit inked->activated(inked->currentIndex());
  QTest::keyClick(page, Qt::Key_Return);
  ASSERT_EQ(records.size(), before + 1);
  const auto& angle = std::get<AngleRecord>(records.back().data);
  EXPECT_EQ(angle.method, "marker test");
  EXPECT_EQ(angle.side, EdgeSide::left);
  EXPECT_EQ(angle.bevel, MeasuredBevel::micro_bevel);
  EXPECT_LE(std::abs(angle.angle_deg - truth), angle.plus_minus_deg);
  EXPECT_TRUE(page->instruction().startsWith("Touch at")) << "the other side comes next";
  // The angle that was really touched counts, the own step leads, and the space bar wipes nothing.
  click(button(page, "in my own steps"));
  named<NumberEntry>(page, "Angle the abrasive was really set to, per side")->setValue(24.3);
  QTest::keyClick(page, Qt::Key_1);
  EXPECT_EQ(page->instruction(), "Touch at 23.8°");
  QTest::keyClick(button(page, "Start anew"), Qt::Key_Space);
  EXPECT_EQ(page->instruction(), "Touch at 23.8°");
}

TEST_F(AngleCheckWindow, TheGaugeLogVoidsWhatADriftedZeroTook) {
  auto* view = section("Fenland Plain 4");
  click(button(view, "Gauge"));
  auto* page = static_cast<GaugePage*>(view->page());
  auto* value = named<QLineEdit>(page, "Angle the gauge shows");
  const auto add = [&](const char* text, const char* what) {
    value->setText(text);
    click(button(page, what));
  };
  add("0", "Zero");
  add("15.1", "Reading");
  add("0.05", "Zero again");
  add("19.4", "Reading");
  EXPECT_FALSE(button(page, "Store 2 readings")->isEnabled()) << "the zero was not looked at again";
  add("1.2", "Zero again");
  EXPECT_TRUE(page->summary().contains("1 void by drift")) << page->summary().toStdString();
  add("x", "Reading");
  const std::size_t before = trial().blades[std::size_t(blade("Fenland Plain 4"))].records.size();
  EXPECT_FALSE(button(page, "Store 1 readings")->isEnabled()) << "which bevel is asked";
  auto* bevel = named<QComboBox>(page, "Bevel that is measured");
  bevel->setCurrentText("edge bevel");
  emit bevel->activated(bevel->currentIndex());
  click(button(page, "Store 1 readings"));
  EXPECT_EQ(trial().blades[std::size_t(blade("Fenland Plain 4"))].records.size(), before + 1);
}

TEST_F(AngleCheckWindow, TheJigFindsItsPlaceAndStoresTheSetting) {
  auto* view = section("Marl Tough 2");
  click(button(view, "Clamp"));
  auto* page = static_cast<JigPage*>(view->page());
  const auto range = [&] {
    const QString text = page->result();
    return text.mid(text.indexOf("range ") + 6).section(QChar(0xb0), 0, 0).toDouble();
  };
  const double before = range();
  EXPECT_GT(before, 0.1) << page->result().toStdString();
  click(button(page, "at the apex"));
  click(button(page, "Find the evenest place"));
  EXPECT_LT(range(), before);
  click(button(page, "Store as this blade's setting"));
  const auto setting = edge_now(trial().blades[std::size_t(blade("Marl Tough 2"))]).setting;
  ASSERT_TRUE(setting.has_value());
  EXPECT_NEAR(setting->range_deg, range(), 0.006);
  undo();
  EXPECT_FALSE(edge_now(trial().blades[std::size_t(blade("Marl Tough 2"))]).setting.has_value());
  auto* held = named<NumberEntry>(page, "Angle wanted at the middle of the edge, per side");
  named<NumberEntry>(page, "Abrasive's face from the pivot, toward the blade")->setValue(40);
  held->setValue(60);
  EXPECT_TRUE(page->result().contains("cannot give")) << page->result().toStdString();
  // The other helpers answer in words.
  click(button(view, "Lift"));
  EXPECT_TRUE(static_cast<LiftPage*>(view->page())->result().startsWith("Lay "));
  named<QComboBox>(view->page(), "Pressure on the strop")->setCurrentText("firm");
  bool told = false;
  for (auto* label : view->page()->findChildren<QLabel*>())
    told |= label->text().contains(
                "Thin leather on wood under firm pressure meets the apex about "
                "7.6° steeper on each side") &&
            label->text().contains("Less pressure: the weight of the blade adds 1.0°");
  EXPECT_TRUE(told);
  click(button(view->page(), "Add holder"));
  EXPECT_EQ(named<QTableWidget>(view->page(), "Holders and wedges")->item(0, 3)->text(), "15.0°");
  named<QTableWidget>(view->page(), "Holders and wedges")->item(0, 2)->setText("2 -0.5");
  EXPECT_EQ(named<QTableWidget>(view->page(), "Holders and wedges")->item(0, 3)->text(), "16.5°");
  click(button(view, "Wear"));
  auto* wear = static_cast<WearPage*>(view->page());
  EXPECT_TRUE(wear->sentence().startsWith("Thinning is due after touch-up 20"))
      << wear->sentence().toStdString();
  named<NumberEntry>(wear, "Thickness behind the edge at which thinning is due")->setValue(2);
  EXPECT_TRUE(wear->sentence().startsWith("No thinning within 40"))
      << wear->sentence().toStdString();
}
