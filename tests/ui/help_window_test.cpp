// Help where one stands: a page for every station, tab and window, an explanation for every word of
// the field; and the path of somebody who comes with a spreadsheet and no manual.
#include <gtest/gtest.h>

#include <QComboBox>
#include <QDirIterator>
#include <QFileDialog>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QRegularExpression>
#include <QTextBrowser>
#include <QToolTip>

#include "support.h"
#include "ui/edge_window.h"
#include "ui/frame/first_page.h"
#include "ui/frame/first_trial.h"
#include "ui/frame/go_to_palette.h"
#include "ui/frame/guide_page.h"
#include "ui/frame/help_index.h"
#include "ui/frame/help_window.h"
#include "ui/frame/remembered.h"
#include "ui/frame/table_dialog.h"
#include "ui/frame/term_hints.h"
#include "ui/hand.h"
#include "ui/parts/words.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "ui/verdict/verdict_view.h"

using namespace bq;
using namespace bq::ui;
using test::wait_for;

namespace {

class HelpThere : public test::EdgeWindow {};

/// The next dialogs that ask for a file are answered with these, one after the other.
void choose_files(QStringList files, int& acts) {
  if (files.isEmpty()) return;
  QTimer::singleShot(50, qApp, [files, &acts] {
    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
    if (!dialog) return choose_files(files, acts);
    dialog->findChild<QLineEdit*>(QStringLiteral("fileNameEdit"))->setText(files.front());
    ++acts;
    choose_files(files.mid(1), acts);
    QMetaObject::invokeMethod(dialog, "accept");
  });
}

}  // namespace

TEST_F(HelpThere, EveryTabOfEveryStationHasAPage) {
  int tabs = 0;
  for (int i = 0; i < 8; ++i) {
    const auto which = Station(i);
    const QString name = text_of(name_of(which));
    EXPECT_TRUE(HelpIndex::get().page(name)) << name.toStdString();
    window_->go_to(which);
    for (const auto* tab : window_->station(which)->findChildren<QPushButton*>("tab")) {
      ++tabs;
      const QString title = name + ": " + tab->text().section(" (", 0, 0);
      EXPECT_TRUE(HelpIndex::get().page(title)) << title.toStdString();
    }
  }
  EXPECT_GT(tabs, 25);
  // F1 opens the page of the tab that is open.
  window_->go_to(Station::stones);
  auto* tab = test::shown_button(window_->station(Station::stones), "Burr route");
  ASSERT_TRUE(tab);
  tab->click();
  window_->activateWindow();
  QTest::keyClick(window_.get(), Qt::Key_F1);
  auto* help = window_->findChild<HelpWindow*>();
  ASSERT_TRUE(help && help->isVisible());
  EXPECT_EQ(help->shown(), "Stones: Burr route");
  // The words in it lead on.
  auto* page = help->findChild<GuidePage*>();
  EXPECT_TRUE(page->toPlainText().contains("Words of the field here"));
  emit page->anchorClicked(QUrl("term:burr"));
  EXPECT_EQ(help->shown(), "Word: burr");
  help->close();
}

TEST(Help, EveryWindowHasAPage) {
  const QRegularExpression title(QStringLiteral("setWindowTitle\\((.*)\\);"));
  const QRegularExpression words(QStringLiteral("tr\\(\"([^\"]+)\"\\)"));
  QDirIterator sources(BQ_SOURCE_DIR "/src/ui", {"*.cpp"}, QDir::Files,
                       QDirIterator::Subdirectories);
  int windows = 0;
  while (sources.hasNext()) {
    QFile file(sources.next());
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    const QString text = QString::fromUtf8(file.readAll());
    for (auto found = title.globalMatch(text); found.hasNext();)
      for (auto said = words.globalMatch(found.next().captured(1)); said.hasNext();) {
        const QString name = said.next().captured(1);
        if (name == "Guide" || name.contains("Brave Quarry") || name.contains('%')) continue;
        ++windows;
        EXPECT_TRUE(HelpIndex::get().page(name))
            << name.toStdString() << " in " << file.fileName().toStdString();
      }
  }
  EXPECT_GE(windows, 7);
  for (const char* card : {"Steel card", "Medium card"})
    EXPECT_TRUE(HelpIndex::get().page(card)) << card;
}

TEST(Help, EveryWordOfTheFieldIsExplained) {
  const auto& terms = HelpIndex::get().terms();
  EXPECT_GE(terms.size(), 70U);
  const QRegularExpression picture(QStringLiteral("!\\[[^\\]]+\\]\\(([^)]+)\\)"));
  HelpWindow help(nullptr);
  int drawn = 0;
  for (const auto& term : terms) {
    EXPECT_GE(term.in_short().size(), 12) << term.word.toStdString();
    EXPECT_FALSE(term.in_short().contains("![")) << term.word.toStdString();
    QStringList said = term.also;
    said << term.word;
    for (const auto& word : said) {
      EXPECT_EQ(HelpIndex::get().term(word), &term) << word.toStdString();
      EXPECT_TRUE(TermHints::hint_for(word).contains(term.word)) << word.toStdString();
    }
    if (const auto found = picture.match(term.text); found.hasMatch()) {
      ++drawn;
      EXPECT_TRUE(QFile::exists(":/guide/" + found.captured(1))) << found.captured(1).toStdString();
      help.open_at(term.word);
      EXPECT_TRUE(
          help.findChild<GuidePage*>()->toPlainText().contains(QChar::ObjectReplacementCharacter))
          << term.word.toStdString() << ": the drawing is not shown";
    }
  }
  EXPECT_GE(drawn, 10);
  EXPECT_TRUE(TermHints::hint_for("Reburring").isEmpty()) << "only whole words";
}

// Qt wraps hints that are marked up alone, and here none is.
TEST(Help, ALongHintStandsInLinesAndInTheWordsItHas) {
  const auto asked = [](QWidget& over, const QPoint& at) {
    QHelpEvent event(QEvent::ToolTip, at, over.mapToGlobal(at));
    QApplication::sendEvent(&over, &event);
    return QToolTip::text();
  };
  const TermHints hints(nullptr, [](QWidget*) {});
  QWidget plain;
  plain.resize(200, 100);
  const QString words = QStringLiteral("What is kept here is <not> marked up & stays as it is ");
  plain.setToolTip(words.repeated(5));
  plain.show();
  const QString shown = asked(plain, {20, 20});
  EXPECT_EQ(QString(shown).replace('\n', ' ').simplified(), words.repeated(5).simplified());
  for (const QString& line : shown.split('\n')) EXPECT_LE(line.size(), 56) << line.toStdString();
  QListWidget list;
  list.resize(200, 100);
  list.addItem(QStringLiteral("a blade"));
  list.item(0)->setToolTip(words.repeated(3));
  list.show();
  EXPECT_GE(asked(*list.viewport(), list.visualItemRect(list.item(0)).center()).count('\n'), 2);
}

TEST(Help, EveryLinkOfTheGuideLeadsSomewhere) {
  HelpWindow help(nullptr);
  const QRegularExpression link(
      QStringLiteral("\\]\\((methods|command-line)\\.md(#[a-z0-9-]+)?\\)"));
  int links = 0;
  for (const auto& page : HelpIndex::get().pages())
    for (auto found = link.globalMatch(page.text); found.hasNext();) {
      ++links;
      help.open_at("First steps: The first window");
      emit help.findChild<GuidePage*>()->anchorClicked(
          QUrl(found.next().captured(0).mid(2).chopped(1)));
      EXPECT_NE(help.shown(), "First steps: The first window") << page.title.toStdString();
    }
  EXPECT_GT(links, 3);
}

TEST_F(HelpThere, WordsAreExplainedWhereTheyStandAndFoundByTyping) {
  window_->go_to(Station::stones);
  auto* tab = test::shown_button(window_->station(Station::stones), "Burr route");
  ASSERT_TRUE(tab);
  QHelpEvent ask(QEvent::ToolTip, tab->rect().center(), tab->mapToGlobal(tab->rect().center()));
  QApplication::sendEvent(tab, &ask);
  EXPECT_TRUE(QToolTip::text().contains("burr")) << QToolTip::text().toStdString();
  EXPECT_FALSE(QToolTip::text().contains('<')) << "markup would be shown as it is written";
  for (const QString& line : QToolTip::text().split('\n')) EXPECT_LT(line.size(), 80);
  QToolTip::hideText();

  window_->activateWindow();
  QTest::keyClick(window_.get(), Qt::Key_K, Qt::ControlModifier);
  auto* palette = window_->findChild<GoToPalette*>();
  ASSERT_TRUE(palette);
  const auto find = [&](const char* words) {
    auto* field = palette->findChild<QLineEdit*>();
    field->clear();
    QTest::keyClicks(field, words);
    QStringList rows;
    for (int i = 0; i < palette->findChild<QListWidget*>()->count(); ++i)
      rows << palette->findChild<QListWidget*>()->item(i)->text();
    return rows.join('\n');
  };
  EXPECT_TRUE(find("thickness behind").contains("word"));
  EXPECT_TRUE(find("damage search").contains("page"));
  EXPECT_TRUE(find("inclusive").contains("setting"));
  EXPECT_TRUE(find("paste").contains("do"));
  find("word apex angle");
  QTest::keyClick(palette->findChild<QLineEdit*>(), Qt::Key_Return);
  auto* help = window_->findChild<HelpWindow*>();
  ASSERT_TRUE(help);
  EXPECT_EQ(help->shown(), "Word: apex angle");
}

TEST_F(HelpThere, TheFirstTrialIsPlayedAsTheGuideTellsIt) {
  window_->go_to(Station::stones);
  window_->activateWindow();
  ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
  window_->start_first_trial();
  auto* trial = window_->findChild<FirstTrial*>();
  ASSERT_TRUE(trial && trial->isVisible());
  // Every step has the guide's words, and there are no more of them in the guide.
  const auto steps = window_->steps_of_first_trial();
  for (const auto& step : steps) EXPECT_GT(step.text.size(), 30);
  const auto* page = HelpIndex::get().page("First steps: First trial, on the demo");
  EXPECT_EQ(page->text.count(QRegularExpression("\n\\d+\\. ")), int(steps.size()));
  EXPECT_EQ(trial->step(), 0);
  const auto key = [&](Qt::Key which) {
    QTest::keyClick(window_.get(), which, Qt::ControlModifier);
  };
  key(Qt::Key_1);
  EXPECT_EQ(trial->step(), 1);
  // As the guide says: the Bench, the cuts by Space, a reading and Enter.
  test::shown_button(trial, "Show me")->click();
  auto* bench = window_->station(Station::bench);
  ASSERT_TRUE(bench->isVisible());
  const auto before = window_->workbench().trial().reading_count();
  EXPECT_TRUE(wait_for([&] {
    if (window_->workbench().trial().reading_count() > before) return true;
    QTest::keyClick(window_.get(), Qt::Key_Space);
    QTest::qWait(700);
    QTest::keyClicks(window_->focusWidget(), "300");
    QTest::keyClick(window_->focusWidget(), Qt::Key_Return);
    QTest::qWait(300);
    return false;
  })) << window_->message().toStdString();
  EXPECT_TRUE(wait_for([&] { return trial->step() == 2; }));
  key(Qt::Key_7);
  key(Qt::Key_8);
  key(Qt::Key_4);
  EXPECT_EQ(trial->step(), 5);
  EXPECT_TRUE(wait_for([&] {
    if (trial->step() == 6) return true;
    key(Qt::Key_Z);
    QTest::qWait(50);
    return false;
  }));
  EXPECT_EQ(window_->workbench().trial().reading_count(), before);
}

TEST(Newcomer, SeesWhatEachStationIsForBeforeThereIsAProject) {
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  window.activateWindow();
  ASSERT_TRUE(QTest::qWaitForWindowActive(&window));
  for (int i = 0; i < 8; ++i) {
    QTest::keyClick(&window, Qt::Key(Qt::Key_1 + i), Qt::ControlModifier);
    auto* purpose = window.findChild<StationPurpose*>();
    ASSERT_TRUE(purpose && purpose->isVisible()) << i;
    bool drawn = false, said = false;
    for (const auto* label : purpose->findChildren<QLabel*>()) {
      drawn = drawn || label->pixmap().width() > 300;
      said = said || label->text().size() > 40;
    }
    EXPECT_TRUE(drawn && said) << i;
    EXPECT_TRUE(test::shown_button(purpose, "Start from my table")) << i;
    QTest::keyClick(&window, Qt::Key_F1);
    auto* help = window.findChild<HelpWindow*>();
    ASSERT_TRUE(help);
    EXPECT_EQ(help->shown(), text_of(name_of(Station(i))));
    help->close();
    window.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&window));
  }
  const test::Folder folder;
  window.workbench().create(QString::fromStdString((folder / "new.bquarry").string()));
  EXPECT_TRUE(wait_for([&] {
    auto* verdict = window.station(Station::verdict);
    return window.workbench().has_project() && verdict->isVisible();
  })) << "the station that was looked at opens with the project";
}

TEST(Newcomer, ComesFromATableToAnAnswerAndAPlanInFifteenActs) {
  // The demo's readings as somebody keeps them: other heads, a title, no unit, inclusive angles.
  program_settings().remove(QStringLiteral("tables"));
  const test::Folder folder;
  std::string table = "Bench book\n\nTest;Knife;Alloy;Angle;Material;Cuts;Force\n";
  for (const auto& run : test::demo().runs) {
    if (!run.facts.medium.starts_with("rubberised")) continue;
    for (const auto& reading : run.readings)
      table += run.facts.name + ";" + run.facts.blade + ";" + run.facts.steel + ";" +
               std::to_string(int(2 * run.facts.geometry->apex().equivalent_deg())) + ";" +
               run.facts.medium + ";" + std::to_string(reading.cuts) + ";" +
               std::to_string(int(reading.value)) + "\n";
  }
  const QString path = QString::fromStdString(folder.write("mine.csv", table).string());
  MainWindow window;
  window.resize(1280, 800);
  window.show();
  int acts = 0;
  const auto click = [&](QWidget* where, const char* text) {
    QPushButton* button = nullptr;
    ASSERT_TRUE(wait_for([&] {
      button = test::shown_button(where, text);
      return button && button->isEnabled();
    })) << text;
    ++acts;
    button->click();
  };
  ASSERT_TRUE(wait_for([&] { return test::shown_button(&window, "Start from my table"); }));
  // The table, and where the project goes.
  choose_files({path, QString::fromStdString((folder / "mine.bquarry").string())}, acts);
  click(&window, "Start from my table");
  TableDialog* dialog = nullptr;
  ASSERT_TRUE(wait_for([&] {
    dialog = window.findChild<TableDialog*>();
    return dialog && dialog->isVisible() && dialog->settled();
  }));
  for (const char* answer : {"inclusive, both sides together", "gf"}) {
    bool given = false;
    for (auto* choice : dialog->findChildren<QComboBox*>()) {
      const int at = choice->findText(answer);
      if (given || at < 0 || choice->itemText(0) != "choose …") continue;
      choice->setCurrentIndex(at);
      emit choice->activated(at);
      given = true;
      ++acts;
    }
    EXPECT_TRUE(given) << answer;
    ASSERT_TRUE(wait_for([&] { return dialog->settled(); }));
    QTest::qWait(20);
  }
  click(dialog, "Take it in");
  ASSERT_TRUE(wait_for([&] { return window.workbench().trial().runs.size() > 20; }));
  ASSERT_TRUE(wait_for([&] { return !window.findChild<TableDialog*>(); }));
  window.activateWindow();
  ASSERT_TRUE(QTest::qWaitForWindowActive(&window));
  QTest::keyClick(&window, Qt::Key_8, Qt::ControlModifier);
  ++acts;
  auto* verdict = static_cast<VerdictView*>(window.station(Station::verdict));
  ASSERT_TRUE(wait_for([&] { return verdict->settled() && verdict->edges()->rowCount() > 0; }));
  EXPECT_TRUE(verdict->sentence().startsWith("Make ")) << verdict->sentence().toStdString();
  QTest::keyClick(&window, Qt::Key_4, Qt::ControlModifier);
  ++acts;
  click(window.station(Station::plan), "New plan");
  click(window.station(Station::plan), "Put on the bench");
  const auto planned = [&] {
    for (const auto& run : window.workbench().trial().runs)
      if (state_of(run) == RunState::planned) return true;
    return false;
  };
  EXPECT_TRUE(wait_for(planned)) << window.message().toStdString();
  EXPECT_LE(acts, 15);
}
