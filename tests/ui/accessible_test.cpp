// What a screen reader is told, and what a desk is set to: names, roles and contents over every
// station, sizes, themes, and what is heard.
#include <gtest/gtest.h>

#include <QAccessible>
#include <QAccessibleInterface>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPrinter>
#include <QPushButton>
#include <QTest>

#include "report/card_page.h"
#include "support.h"
#include "ui/bench/bench_view.h"
#include "ui/frame/aloud.h"
#include "ui/frame/drawn_words.h"
#include "ui/frame/main_window.h"
#include "ui/frame/preferences.h"
#include "ui/frame/print_preview.h"
#include "ui/frame/settings_dialog.h"
#include "ui/frame/zoom.h"
#include "ui/hand.h"
#include "ui/plot/plot_view.h"
#include "ui/theme/theme.h"
#include "ui/whole_station.h"

using namespace bq;
using namespace bq::ui;
using test::wait_for;

namespace {

QString path_of(const QWidget* widget) {
  QStringList out;
  for (const QWidget* at = widget; at && !at->isWindow(); at = at->parentWidget())
    out.prepend(QLatin1String(at->metaObject()->className()));
  return out.mid(std::max(qsizetype(0), out.size() - 4)).join(QLatin1Char('/'));
}

class Accessible : public testing::Test {
 protected:
  void SetUp() override {
    window_ = test::window_on_demo(folder_);
    ASSERT_TRUE(window_);
  }
  void TearDown() override {
    set_zoom(100);
    set_preferences({});
    speak_through(nullptr, nullptr);
  }
  test::Folder folder_;
  std::unique_ptr<MainWindow> window_;
};

std::vector<std::string>& spoken() {
  static std::vector<std::string> out;
  return out;
}
std::vector<int>& sounded() {
  static std::vector<int> out;
  return out;
}
bool speak_for_test(const QString& sentence, QString&) {
  if (!sentence.isEmpty()) spoken().push_back(sentence.toStdString());
  return true;
}
bool tone_for_test(int hertz, int) {
  sounded().push_back(hertz);
  return true;
}
bool speak_nowhere(const QString&, QString& why) {
  why = QStringLiteral("no service here");
  return false;
}

}  // namespace

TEST_F(Accessible, WhateverTakesTheKeysHasANameAndARole) {
  QStringList nameless;
  int seen = 0;
  for (const Station station : ui::kStations) {
    for (auto* widget : test::whole_station(*window_, station)->findChildren<QWidget*>()) {
      if (!(widget->focusPolicy() & Qt::TabFocus) || !widget->isVisible() || !widget->isEnabled())
        continue;
      // Parts of a control that has a name itself.
      if (qobject_cast<QComboBox*>(widget->parent()) ||
          widget->parent()->inherits("QAbstractSpinBox") || widget->inherits("QScrollArea"))
        continue;
      ++seen;
      auto* told = QAccessible::queryAccessibleInterface(widget);
      ASSERT_TRUE(told);
      const QString name = told->text(QAccessible::Name);
      const auto role = told->role();
      // What is chosen is no name of what is asked.
      if (auto* box = qobject_cast<QComboBox*>(widget); box && box->accessibleName().isEmpty())
        nameless << QStringLiteral("%1: a choice, '%2': %3")
                        .arg(QString::fromUtf8(name_of(station).data()), name, path_of(widget));
      if (name.trimmed().isEmpty() || role == QAccessible::NoRole || role == QAccessible::Client)
        nameless << QStringLiteral("%1: %2 '%3' role %4")
                        .arg(QString::fromUtf8(name_of(station).data()), path_of(widget), name)
                        .arg(int(role));
    }
  }
  EXPECT_GT(seen, 150);
  EXPECT_TRUE(nameless.isEmpty()) << nameless.join('\n').toStdString();
}

TEST_F(Accessible, DrawingsSayWhatTheyShow) {
  QStringList silent;
  int drawings = 0, plots = 0;
  for (const Station station : ui::kStations) {
    for (auto* widget : test::whole_station(*window_, station)->findChildren<QWidget*>()) {
      if (!widget->isVisible()) continue;
      if (auto* plot = qobject_cast<PlotView*>(widget)) {
        ++plots;
        EXPECT_FALSE(plot->in_words().isEmpty());
        continue;
      }
      if (!is_drawing(widget)) continue;
      ++drawings;
      auto* told = QAccessible::queryAccessibleInterface(widget);
      ASSERT_TRUE(told);
      EXPECT_EQ(told->role(), QAccessible::Graphic) << path_of(widget).toStdString();
      if (told->text(QAccessible::Name).trimmed().isEmpty() &&
          told->text(QAccessible::Description).trimmed().isEmpty())
        silent << QStringLiteral("%1: %2").arg(QString::fromUtf8(name_of(station).data()),
                                               path_of(widget));
    }
  }
  EXPECT_GT(drawings, 8);
  EXPECT_GE(plots, 3);
  EXPECT_TRUE(silent.isEmpty()) << silent.join('\n').toStdString();
  // The words are those that stand in the picture now.
  window_->go_to(Station::section);
  QTest::qWait(30);
  QString words;
  for (auto* widget : window_->station(Station::section)->findChildren<QWidget*>())
    if (widget->isVisible() && widget->inherits("bq::ui::SectionDrawing"))
      words = QAccessible::queryAccessibleInterface(widget)->text(QAccessible::Description);
  EXPECT_TRUE(words.contains(QChar(0xb0))) << "its angles: " << words.toStdString();
}

TEST_F(Accessible, EverythingIsLargerAndSmallerAtOnceAndNothingTypedIsLost) {
  window_->go_to(Station::bench);
  auto* entry = static_cast<BenchView*>(window_->station(Station::bench))->entry();
  entry->setFocus();
  QTest::keyClicks(entry, QStringLiteral("31"));
  const auto press = [this](Qt::Key key) {
    // A window that was put on the screen anew is looked at a moment later.
    ASSERT_TRUE(wait_for([this] { return window_->isActiveWindow(); }));
    QTest::keyClick(window_.get(), key, Qt::ControlModifier);
  };
  const double before = window_->devicePixelRatioF();
  const QSize place = window_->size();
  press(Qt::Key_Plus);
  press(Qt::Key_Plus);
  EXPECT_EQ(zoom(), 125);
  EXPECT_NEAR(window_->devicePixelRatioF() / before, 1.25, 0.01);
  EXPECT_NEAR(window_->width() * 1.25, place.width(), 4) << "as large on the screen as it was";
  EXPECT_TRUE(window_->isVisible());
  EXPECT_EQ(entry->text(), QStringLiteral("31"));
  for (int i = 0; i < 9; ++i) press(Qt::Key_Minus);
  EXPECT_EQ(zoom(), 80);
  press(Qt::Key_0);
  EXPECT_EQ(zoom(), 100);
  EXPECT_NEAR(window_->devicePixelRatioF(), before, 1e-6);
  EXPECT_EQ(zoom_step(137, 0), 125);
  EXPECT_EQ(zoom_step(200, 1), 200);
}

TEST_F(Accessible, SettingsCountAtOnceAndAVoiceThatIsNotThereIsNotSwitchedOn) {
  SettingsDialog dialog(window_->workbench(), window_.get());
  dialog.show();
  auto* theme = test::named<QComboBox>(&dialog, "Theme");
  ASSERT_TRUE(theme);
  theme->setFocus();
  QTest::keyClick(theme, Qt::Key_End);
  EXPECT_EQ(window_->workbench().display().theme, ThemeName::contrast);
  auto* angles = test::named<QComboBox>(&dialog, "Angles");
  QTest::keyClick(angles, Qt::Key_End);
  EXPECT_EQ(window_->workbench().display().angles, AngleConvention::inclusive);
  speak_through(speak_nowhere, tone_for_test);
  QCheckBox* voice = nullptr;
  for (auto* box : dialog.findChildren<QCheckBox*>())
    if (box->text().contains(QStringLiteral("aloud"))) voice = box;
  ASSERT_TRUE(voice);
  QTest::mouseClick(voice, Qt::LeftButton, {}, QPoint(8, voice->height() / 2));
  EXPECT_FALSE(voice->isChecked());
  EXPECT_FALSE(preferences().voice);
  bool said = false;
  for (auto* label : dialog.findChildren<QLabel*>())
    said = said || (label->isVisible() && label->text() == QStringLiteral("no service here"));
  EXPECT_TRUE(said);
  QTest::keyClick(angles, Qt::Key_Home);
  QTest::keyClick(theme, Qt::Key_Home);
}

TEST_F(Accessible, AReadingIsReadBackWithWhatIsToBeDoneNext) {
  spoken().clear();
  sounded().clear();
  speak_through(speak_for_test, tone_for_test);
  set_preferences({true, true, false});
  window_->go_to(Station::bench);
  auto* bench = static_cast<BenchView*>(window_->station(Station::bench));
  auto& model = bench->model();
  emit model.said(QStringLiteral("kept 312 gf"), false);
  emit model.changed();
  ASSERT_TRUE(wait_for([] { return !spoken().empty(); }));
  EXPECT_EQ(spoken().back(), "kept 312 gf. " + bench->instruction().toStdString());
  emit window_->workbench().refused(QStringLiteral("A reading is above 0."));
  ASSERT_TRUE(wait_for([] { return spoken().size() > 1; }));
  EXPECT_EQ(spoken().back(), "A reading is above 0.") << "what is to be done is said once";
  ASSERT_EQ(sounded().size(), 2U);
  EXPECT_GT(sounded()[0], sounded()[1]) << "refused is the low one";
  // Nobody is spoken to about a screen that is not looked at, nor where it is switched off.
  window_->go_to(Station::rack);
  emit model.said(QStringLiteral("kept 313 gf"), false);
  set_preferences({});
  window_->go_to(Station::bench);
  emit model.said(QStringLiteral("kept 314 gf"), false);
  QTest::qWait(200);
  EXPECT_EQ(spoken().size(), 2U);
  EXPECT_EQ(sounded().size(), 2U);
}

// The window tells fontconfig of its own typeface, under a name that only Qt can open; papers,
// which are set without Qt, must not meet it (they were pages of boxes).
TEST(Papers, AreSetInLettersInAWindowToo) {
  load_fonts();
  const auto ink = [](const std::string& title) {
    EdgeCard card;
    card.title = title;
    int dark = 0;
    for (const PageImage& page : card_pages(card, 100))
      dark += int(std::count_if(page.pixels.begin(), page.pixels.end(),
                                [](std::uint32_t pixel) { return (pixel & 0xff) < 0x80; }));
    return dark;
  };
  const int none = ink(""), narrow = ink("iiiiiiiiii"), wide = ink("WWWWWWWWWW");
  EXPECT_GT(narrow, none);
  EXPECT_GT(wide - none, 1.5 * (narrow - none));
}

TEST_F(Accessible, APaperIsLookedAtBeforeItIsPrinted) {
  EdgeCard card;
  card.title = "Fenland Plain 1";
  PrintPreview preview(
      QStringLiteral("the edge card"), QPageSize(QPageSize::A5),
      [card](double dots) { return card_pages(card, dots); }, window_.get());
  preview.show();
  ASSERT_TRUE(wait_for([&] { return preview.settled() && preview.page_count() > 0; }));
  QPrinter printer(QPrinter::HighResolution);
  printer.setPageSize(QPageSize(QPageSize::A5));
  printer.setOutputFileName(QString::fromStdString((folder_ / "card.pdf").string()));
  preview.print_to(printer);
  EXPECT_GT(std::filesystem::file_size(folder_ / "card.pdf"), 5000u);
}
