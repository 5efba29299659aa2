// Claims of the station Plan through clicks and keys.
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

TEST_F(PlanWindow, AClaimIsSettledByCodesAndUnsealed) {
  auto* view = plan_view();
  view->open_page(PlanView::Page::claim);
  auto* page = view->claims();
  EXPECT_NE(page->sentence().indexOf("holds here"), -1) << "the demo's settled one is shown";
  page->begin("route-leaves-burr");
  const int at = int(view->model().book().claims.size()) - 1;
  const auto claim = [&]() -> const ClaimTest& {
    return view->model().book().claims[std::size_t(at)];
  };
  ASSERT_EQ(claim().pairs, 6);
  auto* table = page->table();
  ASSERT_EQ(table->rowCount(), 12);
  EXPECT_EQ(table->columnCount(), 5) << "who got what is not on the screen";
  const auto rows = claim_sheet(claim());
  for (int i = 0; i < 12; ++i) {
    table->item(i, 4)->setText(
        i == 3 ? "none" : QString::number(rows[std::size_t(i)].second ? 1.45 + 0.01 * i : 1.1));
    QTest::qWait(5);
    if (i == 3) {
      EXPECT_NE(window_->message().indexOf("none"), -1);
    }
  }
  ASSERT_EQ(claim().values.size(), 11u);
  EXPECT_EQ(stored().claims.back().values.size(), 11u) << "on disk at once";
  // Unsealing early is asked about; no leaves it sealed.
  QTimer::singleShot(100, [] {
    if (auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget()))
      QTest::mouseClick(box->button(QMessageBox::No), Qt::LeftButton);
  });
  QTest::mouseClick(page->unseal_button(), Qt::LeftButton);
  EXPECT_FALSE(claim().unsealed);
  table->item(3, 4)->setText(rows[3].second ? "1.5" : "1.1");
  QTest::qWait(20);
  EXPECT_EQ(page->unseal_button()->objectName(), "primary");
  QTest::mouseClick(page->unseal_button(), Qt::LeftButton);
  EXPECT_TRUE(claim().unsealed);
  EXPECT_NE(page->sentence().indexOf("holds here"), -1) << page->sentence().toStdString();
  EXPECT_EQ(table->columnCount(), 6);
  const QString pdf = QString::fromStdString((folder_ / "claim.pdf").string()),
                csv = QString::fromStdString((folder_ / "claim.csv").string());
  EXPECT_FALSE(write_claim_sheet(pdf, claim()).isEmpty());
  EXPECT_FALSE(write_claim_sheet(csv, claim()).isEmpty());
  EXPECT_TRUE(std::filesystem::exists(folder_ / "claim-key.csv"));
  EXPECT_TRUE(write_claim_sheet("/nowhere/claim.csv", claim()).isEmpty());
}

TEST_F(PlanWindow, AClaimOfOnesOwnIsSizedAsItIsTypedAndFrozenByTheFirstFigure) {
  auto* view = plan_view();
  view->open_page(PlanView::Page::claim);
  auto* page = view->claims();
  page->begin("own");
  const int at = int(view->model().book().claims.size()) - 1;
  const auto claim = [&]() -> const ClaimTest& {
    return view->model().book().claims[std::size_t(at)];
  };
  type(named<QLineEdit>(page, "The claim, one sentence"), "Oil on the stone makes no difference.");
  type(named<QLineEdit>(page, "the one"), "water");
  type(named<QLineEdit>(page, "the other, as claimed"), "oil");
  auto* says = named<QComboBox>(page, "the claim says");
  says->setCurrentIndex(2);
  emit says->activated(2);
  EXPECT_TRUE(claim().claim.sameness);
  const int wide = claim().pairs;
  named<NumberEntry>(page, "difference that matters")->setValue(1.1);
  EXPECT_GT(claim().pairs, wide) << "a narrower margin takes more pairs";
  EXPECT_EQ(claim().pairs, *pairs_needed(claim().claim, claim().chance, claim().level));
  // A claim that no number of pairs decides says so and keeps a sheet.
  named<NumberEntry>(page, "difference that matters")->setValue(1.01);
  bool told = false;
  for (auto* label : page->findChildren<QLabel*>())
    told |= label->isVisible() && label->text().contains("not even 200 pairs");
  EXPECT_TRUE(told);
  named<NumberEntry>(page, "difference that matters")->setValue(1.3);
  // "The other is lower" turns the ratio round.
  says->setCurrentIndex(1);
  emit says->activated(1);
  EXPECT_NEAR(claim().claim.ratio, 1 / 1.3, 1e-9);
  named<NumberEntry>(page, "pairs")->setValue(2);
  EXPECT_EQ(page->table()->rowCount(), 4);
  page->table()->item(0, 4)->setText("> 300");
  QTest::qWait(10);
  ASSERT_EQ(claim().values.size(), 1u);
  EXPECT_TRUE(claim().values[0].more_than);
  EXPECT_FALSE(named<QLineEdit>(page, "the one")->isEnabled())
      << "with figures in, the test is what it is";
  EXPECT_FALSE(page->unseal_button()->isEnabled());
  page->table()->item(0, 4)->setText("");
  QTest::qWait(10);
  EXPECT_TRUE(claim().values.empty());
  EXPECT_TRUE(named<QLineEdit>(page, "the one")->isEnabled());
}
