// Other projects beside the open one: looked at together in Findings, and taken over from.
#include <QCheckBox>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

#include <QTest>

#include "support.h"
#include "ui/findings/together_dialog.h"
#include "ui/frame/learn_dialog.h"
#include "ui/hand.h"
#include "workflow/learned.h"

namespace bq::ui {
namespace {

QPushButton* button_in(QWidget* where, const QString& text) {
  for (auto* button : where->findChildren<QPushButton*>())
    if (button->text() == text) return button;
  return nullptr;
}

TEST(TrialsTogetherWindow, AnotherTrialIsAddedReadAndLeftOutAgain) {
  const test::Folder folder;
  const auto first = test::demo_project(folder);
  const auto second = folder / "second.bquarry";
  {
    // The same steels in another trial: each run a little longer, under another title.
    Trial trial = ProjectFile::open(first, ProjectFile::Access::read).load();
    for (auto& run : trial.runs)
      for (auto& reading : run.readings) reading.value *= 0.9 + 0.001 * double(reading.id % 7);
    ProjectFile file = ProjectFile::create(second, "second trial");
    file.import(trial, KnownRuns::refuse);
  }
  Workbench workbench;
  workbench.open(QString::fromStdString(first.string()));
  ASSERT_TRUE(test::wait_for([&] { return workbench.has_project() && !workbench.fitting(); }));
  TogetherDialog dialog(workbench);
  dialog.show();
  ASSERT_TRUE(test::wait_for([&] { return dialog.settled(); }));
  const auto tables = dialog.findChildren<QTableWidget*>();
  ASSERT_EQ(tables.size(), 2);
  QTableWidget *steels = tables[0], *trials = tables[1];
  if (steels->columnCount() < trials->columnCount()) std::swap(steels, trials);
  EXPECT_EQ(trials->rowCount(), 1);
  EXPECT_FALSE(steels->isVisible());
  dialog.add_projects({QString::fromStdString(second.string()),
                       QString::fromStdString(first.string()),
                       QString::fromStdString((folder / "none.bquarry").string())});
  ASSERT_TRUE(test::wait_for([&] { return dialog.settled(); }));
  EXPECT_EQ(trials->rowCount(), 2);
  EXPECT_EQ(trials->item(1, 0)->text(), QStringLiteral("second trial"));
  EXPECT_GT(trials->item(1, 1)->text().toInt(), 40);
  EXPECT_TRUE(steels->isVisible());
  EXPECT_EQ(steels->rowCount(), 3);
  EXPECT_EQ(steels->item(0, 4)->text(), QStringLiteral("2"));
  QString answer, rest;
  for (auto* label : dialog.findChildren<QLabel*>()) {
    if (label->accessibleName() == QStringLiteral("Answer")) answer = label->text();
    rest += label->text() + '\n';
  }
  EXPECT_TRUE(answer.startsWith(QStringLiteral("Over 2 trials ("))) << answer.toStdString();
  EXPECT_TRUE(rest.contains(QStringLiteral("none.bquarry was left out: "))) << rest.toStdString();
  EXPECT_TRUE(rest.contains(QStringLiteral("is among them already"))) << rest.toStdString();
  trials->selectRow(1);
  QTest::mouseClick(button_in(&dialog, QStringLiteral("Leave out")), Qt::LeftButton);
  ASSERT_TRUE(test::wait_for([&] { return dialog.settled(); }));
  EXPECT_EQ(trials->rowCount(), 1);
  EXPECT_FALSE(steels->isVisible());
  EXPECT_FALSE(workbench.session().can_undo()) << "nothing was changed by looking";
}

TEST(TrialsTogetherWindow, WhatIsTakenOverIsSeenBefore) {
  const test::Folder folder;
  const auto first = test::demo_project(folder);
  ProjectFile::create(folder / "own.bquarry", "own");
  Workbench workbench;
  workbench.open(QString::fromStdString((folder / "own.bquarry").string()));
  ASSERT_TRUE(test::wait_for([&] { return workbench.has_project(); }));
  {
    LearnDialog dialog(workbench,
                       teacher_from(ProjectFile::open(first, ProjectFile::Access::read)));
    dialog.show();
    for (auto* box : dialog.findChildren<QCheckBox*>())
      if (box->text() != QStringLiteral("Steels")) box->setChecked(false);
    auto* take = button_in(&dialog, QStringLiteral("Take over"));
    ASSERT_TRUE(take->isEnabled());
    QTest::mouseClick(take, Qt::LeftButton);
    EXPECT_FALSE(dialog.isVisible());
  }
  EXPECT_GE(workbench.trial().steels.size(), 3U);
  EXPECT_TRUE(workbench.trial().shelf.empty()) << "it was not chosen";
  workbench.undo();
  EXPECT_TRUE(workbench.trial().steels.empty());
  // Taken twice: what is here stays and is named; nothing is left to take of it.
  workbench.redo();
  LearnDialog again(workbench, teacher_from(ProjectFile::open(first, ProjectFile::Access::read)));
  again.show();
  QString said;
  for (auto* label : again.findChildren<QLabel*>()) said += label->text() + '\n';
  EXPECT_TRUE(said.contains(QStringLiteral("Left as they are here: "))) << said.toStdString();
  for (auto* box : again.findChildren<QCheckBox*>())
    if (box->text() == QStringLiteral("Steels")) EXPECT_FALSE(box->isEnabled());
}

}  // namespace
}  // namespace bq::ui
