// While a blind run is under way no text of the window ties its code to a blade, a steel or an
// edge: every station, every page's lists, the palette, the bar, the title, tips and spoken names.
#include <gtest/gtest.h>

#include <QAbstractItemView>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include "edge_window.h"
#include "store/plan_file.h"
#include "ui/frame/go_to_palette.h"
#include "workflow/plan_study.h"

using namespace bq;
using namespace bq::ui;

namespace {

class BlindWindow : public test::EdgeWindow {
 protected:
  /// Everything that can be read or heard, one line a text; of a table one line a row.
  QStringList texts() const {
    QStringList out{window_->windowTitle()};
    for (auto* widget : window_->findChildren<QWidget*>()) {
      if (!widget->isVisible()) continue;
      out << widget->toolTip() << widget->accessibleName() << widget->accessibleDescription();
      if (auto* label = qobject_cast<QLabel*>(widget)) out << label->text();
      if (auto* button = qobject_cast<QAbstractButton*>(widget)) out << button->text();
      if (auto* line = qobject_cast<QLineEdit*>(widget)) out << line->text();
      if (auto* box = qobject_cast<QComboBox*>(widget))
        for (int i = 0; i < box->count(); ++i) out << box->itemText(i);
      if (auto* view = qobject_cast<QAbstractItemView*>(widget); view && view->model()) {
        for (int row = 0; row < view->model()->rowCount(); ++row) {
          QString cells;
          for (int column = 0; column < view->model()->columnCount(); ++column)
            for (const int role : {int(Qt::DisplayRole), int(Qt::ToolTipRole)})
              cells += view->model()->index(row, column).data(role).toString() + ' ';
          out << cells;
        }
      }
    }
    return out;
  }

  /// The code in one breath with what it stands for.
  void expect_blind(const char* where) {
    for (const QString& text : texts()) {
      if (!text.contains("K02")) continue;
      for (const char* secret : {"Marl", "15", "12°", "6 µm"})
        EXPECT_FALSE(text.contains(QString::fromUtf8(secret)))
            << where << ": " << text.toStdString();
    }
  }
};

}  // namespace

TEST_F(BlindWindow, NoTextTiesACodeToItsBlade) {
  window_.reset();
  {
    auto session = ProjectSession::open(path_.toStdString());
    auto book = *parse_plan_book(session.kept(kPlanBookKey));
    book.plans[0].plan.blind = true;
    book.plans[0].issued = {"K02"};
    session.keep(kPlanBookKey, plan_book_json(book), "plan");
    // Sharpened for it: the history names the code.
    Sharpening made;
    SharpeningStep step;
    step.done = true;
    made.steps = {step};
    made.run = "K02";
    for (std::size_t i = 0; i < session.trial().blades.size(); ++i)
      if (session.trial().blades[i].name == "Marl Tough 1")
        session.add_records(i, {EdgeRecordData(SharpeningRecord{made})}, "sharpened");
  }
  open();
  // At the reader's station the blade's name is nowhere, with or without the code.
  for (std::size_t i = 0; i < trial().runs.size(); ++i)
    if (trial().runs[i].facts.name == "K02") window_->workbench().choose_run(int(i));
  window_->go_to(Station::bench);
  QTest::qWait(20);
  expect_blind("bench");
  // On the rack the blade is there, and its code is not.
  rack("Marl Tough 1");
  expect_blind("rack");
  for (const QString& text : texts())
    EXPECT_FALSE(text.contains("K02") && !text.startsWith("Run K0") && !text.contains("Run K01"))
        << text.toStdString();
  click(button(window_.get(), "Runs"));
  expect_blind("rack, runs of the blade");
  click(button(window_.get(), "All runs"));
  expect_blind("rack, all runs");
  for (const Station station :
       {Station::plan, Station::findings, Station::verdict, Station::lens}) {
    window_->go_to(station);
    QTest::qWait(20);
    expect_blind(std::string(name_of(station)).c_str());
  }
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  QTest::qWait(20);
  auto* palette = window_->findChild<GoToPalette*>();
  ASSERT_NE(palette, nullptr);
  palette->findChild<QLineEdit*>()->setText("K02");
  EXPECT_GT(palette->findChild<QListWidget*>()->count(), 0);
  expect_blind("palette");
}
