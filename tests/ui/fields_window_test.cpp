// Every number field of the window, found by its class, keeps what is typed into it.
#include <gtest/gtest.h>

#include <qcustomplot.h>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QSignalSpy>
#include <QStackedWidget>
#include <QTest>
#include <QVBoxLayout>
#include <QWheelEvent>

#include <cmath>
#include <map>
#include <set>

#include "support.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"
#include "ui/rack/card_editors.h"
#include "ui/rack/run_editor.h"
#include "ui/stones/step_dialog.h"
#include "ui/stones/stones_view.h"
#include "ui/whole_station.h"

using namespace bq;
using namespace bq::ui;
using test::wait_for;

namespace {

/// What is typed and what it is worth in a field's own unit, worked out apart from the program.
struct Typed {
  QString text;
  double worth;
};

std::vector<Typed> typings(const NumberEntry& field) {
  std::vector<Typed> out{{"11.5", 11.5}, {"0.254", 0.254}, {"2,5", 2.5}, {"7", 7}};
  const QString word = field.suffix().trimmed().section(' ', 0, 0);
  if (word == "mm") {
    out.push_back({"10 thou", 0.254});
    out.push_back({"0.5 in", 12.7});
  } else if (word == QStringLiteral("µm")) {
    out.push_back({"10 thou", 254});
    out.push_back({"0,03 mm", 30});
  } else if (word.startsWith(QChar(0xb0))) {
    out.push_back({QStringLiteral("12.25°"), 12.25});
  } else if (word == "N") {
    out.push_back({"2 lbf", 2 * 4.4482216152605});
  } else if (!word.isEmpty()) {
    out.push_back({"12 " + word, 12});
  }
  if (field.asked().edge_angle == AngleConvention::per_side) out.push_back({"30 inclusive", 15});
  if (field.asked().edge_angle == AngleConvention::inclusive) out.push_back({"15 per side", 30});
  return out;
}

/// Brings a field to where a person can reach it.
void uncover(QWidget* field) {
  for (QWidget* at = field; at->parentWidget() && !at->isWindow(); at = at->parentWidget()) {
    if (auto* stack = qobject_cast<QStackedWidget*>(at->parentWidget()))
      stack->setCurrentWidget(at);
    at->show();
  }
}

NumberEntry* again(QWidget* root, const QString& name, int number) {
  for (auto* field : root->findChildren<NumberEntry*>())
    if (field->accessibleName() == name && number-- == 0) return field;
  return nullptr;
}

/// Types into every number field below `root`; returns how many there were.
int type_into_all(QWidget* root) {
  std::vector<std::pair<QString, int>> fields;
  std::map<QString, int> seen;
  for (auto* field : root->findChildren<NumberEntry*>()) {
    EXPECT_FALSE(field->accessibleName().isEmpty())
        << "a field without a name in " << field->parentWidget()->metaObject()->className();
    fields.emplace_back(field->accessibleName(), seen[field->accessibleName()]++);
  }
  for (const auto& [name, number] : fields) {
    QPointer<NumberEntry> field = again(root, name, number);
    if (!field || !field->isEnabled()) continue;
    for (const Typed& typed : typings(*field)) {
      field = again(root, name, number);
      if (!field) break;
      uncover(field);
      root->window()->activateWindow();
      field->setFocus();
      EXPECT_TRUE(wait_for([&] { return field->hasFocus(); })) << name.toStdString();
      const double before = field->value();
      const double worth = typed.worth;
      const bool fits = worth >= field->minimum() && worth <= field->maximum() &&
                        (!field->asked().whole || worth == std::round(worth));
      field->selectAll();
      QTest::keyClicks(field, typed.text);
      EXPECT_TRUE(!field || field->text().contains(typed.text))
          << name.toStdString() << ": typing " << typed.text.toStdString() << " became "
          << (field ? field->text().toStdString() : "");
      if (!field) break;  // the page was made anew: its own test looks after it
      QTest::keyClick(field, Qt::Key_Tab);
      if (!field) break;
      const std::string what = name.toStdString() + " (" + field->suffix().toStdString() + ") <- " +
                               typed.text.toStdString();
      if (fits) {
        EXPECT_NEAR(field->value(), worth, 1e-9 * std::max(1.0, std::abs(worth))) << what;
        EXPECT_TRUE(field->refusal().isEmpty()) << what << field->refusal().toStdString();
      } else {
        EXPECT_EQ(field->value(), before) << what << " kept something else";
      }
    }
  }
  return int(fields.size());
}

class Fields : public testing::TestWithParam<const char*> {
 protected:
  void SetUp() override {
    QLocale::setDefault(QLocale(QString::fromUtf8(GetParam())));
    window_ = test::window_on_demo(folder_);
    ASSERT_TRUE(window_);
  }
  void TearDown() override {
    window_.reset();
    QLocale::setDefault(QLocale::c());
  }
  test::Folder folder_;
  std::unique_ptr<MainWindow> window_;
};

TEST_P(Fields, WhatIsTypedIntoEveryStationIsKept) {
  int count = 0;
  for (const Station station :
       {Station::rack, Station::section, Station::stones, Station::plan, Station::bench,
        Station::lens, Station::findings, Station::verdict}) {
    count += type_into_all(test::whole_station(*window_, station));
  }
  EXPECT_GE(count, 90) << "the fields are found by their class";
}

TEST_P(Fields, PicturesWriteNumbersAsTablesDo) {
  int labels = 0;
  for (const Station station : ui::kStations)
    for (auto* plot : test::whole_station(*window_, station)->findChildren<QCustomPlot*>()) {
      for (QCPAxis* axis : {plot->xAxis, plot->yAxis}) {
        QVector<double> ticks;
        QVector<QString> written;
        axis->ticker()->generate(axis->range(), plot->locale(), QLatin1Char('g'), 6, ticks, nullptr,
                                 &written);
        for (const QString& label : written)
          EXPECT_FALSE(label.contains(',')) << label.toStdString();
        labels += int(written.size());
      }
    }
  EXPECT_GT(labels, 50);
}

TEST_P(Fields, WhatIsTypedIntoEveryDialogIsKept) {
  Workbench& bench = window_->workbench();
  window_->go_to(Station::stones);
  auto& stones = static_cast<StonesView*>(window_->station(Station::stones))->model();
  const auto try_dialog = [](QDialog&& dialog, int least) {
    dialog.show();
    EXPECT_GE(type_into_all(&dialog), least) << dialog.windowTitle().toStdString();
  };
  try_dialog(StepDialog(bench, stones, nullptr, window_.get()), 5);
  try_dialog(RunEditor(bench, std::nullopt, {}, window_.get()), 1);
  try_dialog(OutlineEditor(bench, 0, window_.get()), 1);
}

INSTANTIATE_TEST_SUITE_P(Locales, Fields, testing::Values("C", "de_DE"));

struct OneField {
  OneField() {
    auto* layout = new QVBoxLayout(&window);
    layout->addWidget(field);
    layout->addWidget(button);
    field->setRange(0.05, 50);
    field->setSuffix(" mm");
    field->setValue(3);
    window.resize(400, 200);
    window.show();
    window.activateWindow();
    field->setFocus();
    field->selectAll();
  }
  QWidget window;
  NumberEntry* field = new NumberEntry;
  QPushButton* button = new QPushButton("Keep");
};

TEST(NumberEntryField, WhatCannotBeReadIsRefusedWithTheReasonAndTheNumberBeforeStays) {
  OneField one;
  QSignalSpy changed(one.field, &NumberEntry::valueChanged);
  QTest::keyClicks(one.field, "1,500");
  QTest::keyClick(one.field, Qt::Key_Return);
  EXPECT_EQ(one.field->value(), 3);
  EXPECT_TRUE(one.field->refusal().contains("thousands")) << one.field->refusal().toStdString();
  EXPECT_TRUE(one.field->refusal().contains("3.00 mm stays")) << one.field->refusal().toStdString();
  EXPECT_EQ(one.field->text(), "1,500") << "what was typed can still be mended";
  if (!changed.isEmpty()) {
    EXPECT_EQ(changed.last()[0].toDouble(), 3) << "nobody is left with 1.5";
  }
  one.field->selectAll();
  QTest::keyClicks(one.field, "300");
  QTest::keyClick(one.field, Qt::Key_Return);
  EXPECT_TRUE(one.field->refusal().contains("from 0.05 to 50 mm"))
      << one.field->refusal().toStdString();
  QTest::keyClick(one.field, Qt::Key_Escape);
  EXPECT_EQ(one.field->text(), "3.00 mm");
}

TEST(NumberEntryField, AClickAfterARefusalIsHeldBackOnce) {
  OneField one;
  ASSERT_TRUE(wait_for([&] { return one.field->hasFocus(); }));
  int clicks = 0;
  QObject::connect(one.button, &QPushButton::clicked, [&] { ++clicks; });
  QTest::keyClicks(one.field, "12 pounds");
  one.button->setFocus(Qt::MouseFocusReason);  // what a press does before it is delivered
  QTest::mouseClick(one.button, Qt::LeftButton);
  EXPECT_EQ(clicks, 0) << "no button acts on a number that was not taken";
  EXPECT_EQ(one.field->text(), "3.00 mm") << "what is shown is what counts";
  QTest::mouseClick(one.button, Qt::LeftButton);
  EXPECT_EQ(clicks, 1);
  one.field->setFocus();
  EXPECT_EQ(one.field->text(), "12 pounds") << "coming back brings it back";
}

TEST(NumberEntryField, TheWheelNeedsTheFocusAndKeysStep) {
  OneField one;
  ASSERT_TRUE(wait_for([&] { return one.field->hasFocus(); }));
  const auto wheel = [&] {
    QWheelEvent event(QPointF(5, 5), one.field->mapToGlobal(QPointF(5, 5)), {}, QPoint(0, 120),
                      Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(one.field, &event);
  };
  one.button->setFocus();
  wheel();
  EXPECT_EQ(one.field->value(), 3);
  one.field->setFocus();
  wheel();
  EXPECT_EQ(one.field->value(), 4);
  one.field->setSingleStep(0.1);
  for (int i = 0; i < 3; ++i) QTest::keyClick(one.field, Qt::Key_Down);
  EXPECT_EQ(one.field->value(), 3.7) << "no dust of adding";
  EXPECT_EQ(one.field->text(), "3.70 mm");
}

TEST(NumberEntryField, EveryDigitIsKeptAndNothingIsReformattedWhileItIsTyped) {
  OneField one;
  one.field->setDecimals(1);
  one.field->selectAll();
  // A page that shows its model again at every change, as Section does.
  double model = 0;
  QObject::connect(one.field, &NumberEntry::valueChanged, [&](double value) {
    model = value;
    const QSignalBlocker quiet(one.field);
    one.field->setValue(std::round(value));
  });
  QTest::keyClicks(one.field, "0.2541");
  EXPECT_EQ(one.field->text(), "0.2541");
  EXPECT_EQ(model, 0.2541);
  one.field->disconnect();
  QTest::keyClick(one.field, Qt::Key_Return);
  EXPECT_EQ(one.field->value(), 0.2541);
  EXPECT_EQ(one.field->text(), "0.2541 mm") << "more digits than are usual are shown";
}

}  // namespace
