// A table as somebody keeps it, taken in through the window: shown, asked about, one undo, the
// answers remembered; and the Verdict's answer with what speaks against it.
#include <gtest/gtest.h>

#include <QClipboard>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QGuiApplication>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QTest>

#include "support.h"
#include "ui/edge_window.h"
#include "ui/frame/first_page.h"
#include "ui/frame/help_window.h"
#include "ui/frame/remembered.h"
#include "ui/frame/table_dialog.h"
#include "ui/hand.h"
#include "ui/parts/words.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "ui/verdict/verdict_view.h"

using namespace bq;
using namespace bq::ui;
using test::wait_for;

namespace {

class TableWindow : public test::EdgeWindow {
 protected:
  void import(const std::string& name, const std::string& bytes) {
    window_->workbench().import_tables(
        {QString::fromStdString(folder_.write(name, bytes).string())});
  }
  TableDialog* dialog() {
    TableDialog* found = nullptr;
    wait_for([&] {
      found = window_->findChild<TableDialog*>();
      return found && found->isVisible() && found->settled();
    });
    return found;
  }
  /// Chooses an answer by its words, as a hand does; false where no question offers it.
  static bool choose(TableDialog& dialog, const QString& words) {
    for (auto* choice : dialog.findChildren<QComboBox*>()) {
      if (choice->itemText(0) != QStringLiteral("choose …")) continue;
      const int at = choice->findText(words);
      if (at < 0) continue;
      choice->setCurrentIndex(at);
      emit choice->activated(at);
      wait_for([&] { return dialog.settled(); });
      QTest::qWait(20);
      return true;
    }
    return false;
  }
  static QPushButton* button(TableDialog& dialog, const QString& text) {
    for (auto* one : dialog.findChildren<QPushButton*>())
      if (one->text() == text) return one;
    return nullptr;
  }
};

}  // namespace

TEST_F(TableWindow, AsksWhatATableDoesNotSayAndRemembersTheAnswers) {
  program_settings().remove(QStringLiteral("tables"));
  const auto runs = trial().runs.size();
  import("mine.csv",
         "My bench, March\n\nVersuch;Klinge;Stahl;Winkel;Schnitte;Kraft\n"
         "X1;KX;Marl Tough;24;0;1,5\nX1;KX;Marl Tough;24;50;2,25\nMittel;;;;;1,9\n");
  TableDialog* shown = dialog();
  ASSERT_TRUE(shown);
  EXPECT_EQ(shown->sentence(), "2 things are not said in it:");
  EXPECT_FALSE(button(*shown, "Take it in")->isEnabled());
  EXPECT_EQ(trial().runs.size(), runs) << "nothing came in before it was looked at";
  ASSERT_TRUE(choose(*shown, "inclusive, both sides together"));
  ASSERT_TRUE(choose(*shown, "N"));
  EXPECT_EQ(shown->sentence(), "To come in: 1 run with 2 readings (one row a reading).");
  bool said = false;
  for (const auto* label : shown->findChildren<QLabel*>())
    said = said || label->text().contains("left out: sums and means (line 6)");
  EXPECT_TRUE(said);
  QTest::mouseClick(button(*shown, "Take it in"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return trial().runs.size() == runs + 1; }));
  EXPECT_NEAR(trial().runs.back().facts.geometry->apex().equivalent_deg(), 12, 1e-9);
  EXPECT_EQ(trial().runs.back().readings[1].value, 2.25);
  window_->workbench().undo();
  ASSERT_TRUE(wait_for([&] { return trial().runs.size() == runs; }));
  // The next table of this kind asks nothing.
  ASSERT_TRUE(wait_for([&] { return !window_->findChild<TableDialog*>(); }));
  import("next.csv", "Versuch;Klinge;Stahl;Winkel;Schnitte;Kraft\nX2;KX;Marl Tough;30;0;1,25\n");
  shown = dialog();
  ASSERT_TRUE(shown);
  EXPECT_EQ(shown->sentence(), "To come in: 1 run with 1 reading (one row a reading).");
  QTest::mouseClick(button(*shown, "Leave it"), Qt::LeftButton);
  EXPECT_EQ(trial().runs.size(), runs);
}

TEST_F(TableWindow, AMeaningCanBeChangedAndFaultsHaveTheirLines) {
  program_settings().remove(QStringLiteral("tables"));
  import("odd.csv", "run,cuts,pull (N)\nY1,0,1.5\nY1,20,2\n");
  TableDialog* shown = dialog();
  ASSERT_TRUE(shown);
  // "pull" is no known word: it is said in the list which column holds the readings.
  auto* columns = test::named<QTableWidget>(shown, "What each column is taken for");
  ASSERT_EQ(columns->rowCount(), 3);
  auto* choice = qobject_cast<QComboBox*>(columns->cellWidget(2, 1));
  ASSERT_TRUE(choice);
  const int at = choice->findText("reading");
  choice->setCurrentIndex(at);
  emit choice->activated(at);
  ASSERT_TRUE(
      wait_for([&] { return shown->settled() && shown->sentence().startsWith("To come in"); }));
  EXPECT_EQ(shown->sentence(), "To come in: 1 run with 2 readings (one row a reading).");
  shown->reject();
  ASSERT_TRUE(wait_for([&] { return !window_->findChild<TableDialog*>(); }));
  import("bad.csv", "run,cuts,reading (N)\nY1,0,1.5\nY1,ten,2\n");
  shown = dialog();
  ASSERT_TRUE(shown);
  EXPECT_TRUE(shown->sentence().startsWith("It cannot be taken in as it is."));
  bool said = false;
  for (const auto* label : shown->findChildren<QLabel*>())
    said = said || label->text().contains("Line 3:2: ");
  EXPECT_TRUE(said);
  shown->reject();
}

TEST_F(TableWindow, CopiedCellsComeInAsATable) {
  program_settings().remove(QStringLiteral("tables"));
  const auto runs = trial().runs.size();
  QGuiApplication::clipboard()->setText("run\tcuts\treading (gf)\nP1\t0\t90\nP1\t50\t120\n");
  window_->activateWindow();
  ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
  QTest::keyClick(window_.get(), Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
  TableDialog* shown = dialog();
  ASSERT_TRUE(shown);
  EXPECT_EQ(shown->sentence(), "To come in: 1 run with 2 readings (one row a reading).");
  // How it was read is told, and what is said otherwise is heard.
  auto* separator = test::named<QComboBox>(shown, "Separated by");
  ASSERT_TRUE(separator && separator->isVisible());
  EXPECT_EQ(separator->currentText(), "tab");
  separator->setCurrentIndex(0);
  emit separator->activated(0);
  EXPECT_TRUE(wait_for(
      [&] { return shown->settled() && shown->sentence().startsWith("It cannot be taken in"); }));
  separator->setCurrentIndex(separator->findText("tab"));
  emit separator->activated(separator->currentIndex());
  ASSERT_TRUE(wait_for([&] { return button(*shown, "Take it in")->isEnabled(); }));
  QTest::mouseClick(button(*shown, "Take it in"), Qt::LeftButton);
  EXPECT_TRUE(wait_for([&] { return trial().runs.size() == runs + 1; }));
  QGuiApplication::clipboard()->setText("   ");
  window_->paste_table();
  EXPECT_TRUE(window_->message().startsWith("Nothing was copied"))
      << window_->message().toStdString();
}

TEST(FirstWindow, ShowsTheWaysInAndLeavesForTheProject) {
  const test::Folder folder;
  MainWindow window;
  window.show();
  ASSERT_TRUE(wait_for([&] { return window.findChild<FirstPage*>(); }));
  auto* start = window.findChild<FirstPage*>();
  ASSERT_TRUE(wait_for([&] { return start->isVisible(); }));
  QStringList ways;
  for (const auto* button : start->findChildren<QPushButton*>()) ways << button->text();
  for (const char* way :
       {"Start from my table …", "New bench …", "Look at the demo …", "Open a project …"})
    EXPECT_TRUE(ways.contains(way)) << way;
  const auto picture = start->findChildren<QLabel*>();
  EXPECT_TRUE(std::any_of(picture.begin(), picture.end(),
                          [](const QLabel* label) { return label->pixmap().width() > 300; }));
  window.workbench().create(QString::fromStdString((folder / "new.bquarry").string()));
  ASSERT_TRUE(wait_for([&] { return window.workbench().has_project(); }));
  EXPECT_TRUE(wait_for([&] { return !start->isVisible(); }));
}

TEST(FirstWindow, TheGuideOpensAtTheChapterOfTheScreen) {
  MainWindow window;
  window.show();
  for (int i = 0; i < 8; ++i) {
    const auto station = Station(i);
    window.go_to(station);
    window.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&window));
    QTest::keyClick(&window, Qt::Key_F1);
    auto* help = window.findChild<HelpWindow*>();
    ASSERT_TRUE(help && help->isVisible());
    EXPECT_TRUE(help->shown().startsWith(text_of(name_of(station)))) << help->shown().toStdString();
    help->close();
  }
  auto* help = window.findChild<HelpWindow*>();
  auto* search = help->findChild<QLineEdit*>();
  QTest::keyClicks(search, "marker test");
  EXPECT_GT(help->findChild<QListWidget*>()->count(), 0);
  search->clear();
  QTest::keyClicks(search, "zzzz");
  EXPECT_EQ(help->findChild<QListWidget*>()->count(), 0);
}

TEST_F(TableWindow, TheVerdictSaysHowSureItIsAndWhatSpeaksAgainstIt) {
  window_->go_to(Station::verdict);
  auto* verdict = static_cast<VerdictView*>(window_->station(Station::verdict));
  ASSERT_TRUE(wait_for([&] { return verdict->settled() && verdict->edges()->rowCount() > 0; }));
  EXPECT_TRUE(verdict->sentence().startsWith("Make ")) << verdict->sentence().toStdString();
  QString marks;
  for (const auto* label : verdict->findChildren<QLabel*>())
    if (label->text().contains("How sure:")) marks = label->text();
  EXPECT_TRUE(marks.contains("sure")) << marks.toStdString();
  EXPECT_TRUE(marks.contains("Against it, or not known:")) << marks.toStdString();
  // No edge that was damaged under the roughest use is offered.
  for (int row = 0; row < verdict->edges()->rowCount(); ++row)
    EXPECT_NE(verdict->edges()->edge(row).roughest, RoughestUse::damaged);
}
