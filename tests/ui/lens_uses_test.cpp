// What pictures are good for elsewhere: stones by their scratches, a width for the damage search.
#include <gtest/gtest.h>

#include <QComboBox>
#include <QPushButton>
#include <QTableWidget>
#include <QTest>

#include "support.h"
#include "ui/bench/look_panel.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/lens/lens_view.h"
#include "ui/lens/stone_truth_page.h"

using namespace bq;
using namespace bq::ui;
using test::named;
using test::shown_button;
using test::wait_for;

namespace {

TEST(LensDemo, StoneTruthFindsTheLabelThatMisleadsAndTheTwins) {
  test::Folder folder;
  const auto path = test::whole_demo_project(folder);
  MainWindow window;
  window.show();
  window.workbench().open(QString::fromStdString(path.string()));
  ASSERT_TRUE(
      wait_for([&] { return window.workbench().has_project() && !window.workbench().fitting(); }));
  window.go_to(Station::lens);
  auto* lens = static_cast<LensView*>(window.station(Station::lens));
  lens->open_page(LensView::Page::stones);
  const auto& truths = lens->stones()->truths();
  ASSERT_EQ(truths.stones.size(), 5u);
  EXPECT_EQ(truths.stones[0].stone, "Grey stone") << "coarsest first";
  ASSERT_EQ(truths.twins.size(), 1u);
  EXPECT_TRUE(truths.twins[0].sentence.find("same work") != std::string::npos);
  int row = -1;
  for (std::size_t i = 0; i < truths.stones.size(); ++i) {
    const auto& s = truths.stones[i];
    EXPECT_EQ(s.label == StoneTruth::Label::misleads, s.stone == "Brown stone")
        << s.stone << " " << s.sentence;
    if (s.stone != "Red plate") continue;
    row = int(i);
    EXPECT_GT(s.streaks, 0.05);
  }
  // The simulated Brown stone is 15.5 µm; the Red plate, measured as 25 (24 in truth), is taken as
  // known.
  EXPECT_TRUE(truths.estimated);
  auto* take = shown_button(lens, "Put this size on the shelf");
  ASSERT_TRUE(take);
  EXPECT_FALSE(take->isEnabled()) << "an estimate is not put on the shelf";
  lens->stones()->table()->selectRow(row);
  QTest::mouseClick(shown_button(lens, "Take its size as known"), Qt::LeftButton);
  EXPECT_FALSE(lens->stones()->truths().estimated);
  for (std::size_t i = 0; i < truths.stones.size(); ++i)
    if (lens->stones()->truths().stones[i].stone == "Brown stone") row = int(i);
  const StoneTruth brown = lens->stones()->truths().stones[std::size_t(row)];
  EXPECT_NEAR(brown.effective_um, 15.5 * 25 / 24, 1.0);
  lens->stones()->table()->selectRow(row);
  QTest::mouseClick(shown_button(lens, "Put this size on the shelf"), Qt::LeftButton);
  for (const auto& abrasive : window.workbench().trial().shelf)
    if (abrasive.name == "Brown stone") {
      EXPECT_NEAR(*abrasive.measured_um, brown.effective_um, 0.01);
    }
  // Pictures are found by Findings too.
  window.go_to(Station::findings);
}

TEST(LensDemo, ADamageSearchTakesAWidthOverFromAPicture) {
  LookPanel panel(false);
  panel.begin(false);
  LookEvent look{DamageFound::broken_out, 24.0, false, 40.0, "chip 24 ± 1 µm (P7.png)", 7};
  panel.offer({{"chip 24 ± 1 µm (P7.png)", look}});
  LookEvent kept;
  QObject::connect(&panel, &LookPanel::decided, &panel,
                   [&](const LookEvent& made, const QString&) { kept = made; });
  auto* offers = named<QComboBox>(&panel, "Measured in a picture");
  ASSERT_EQ(offers->count(), 2);
  offers->setCurrentIndex(1);
  emit offers->activated(1);
  QTest::keyClick(&panel, Qt::Key_Return);
  EXPECT_EQ(kept, look);
}

}  // namespace
