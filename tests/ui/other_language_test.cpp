// The window in a language that is nobody's: longer words with other letters. What is left out of
// the catalogue shows in English; what has no room is cut.
#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QAction>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QDirIterator>
#include <QFile>
#include <QGroupBox>
#include <QHeaderView>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QLocale>
#include <QPushButton>
#include <QRegularExpression>
#include <QTabBar>
#include <QTableView>
#include <QTableWidget>
#include <QTest>
#include <QTextDocument>
#include <QTranslator>

#include "quantity/said.h"
#include "support.h"
#include "ui/frame/application.h"
#include "ui/frame/main_window.h"
#include "ui/frame/settings_dialog.h"
#include "ui/hand.h"
#include "ui/parts/words.h"
#include "ui/rack/card_editors.h"
#include "ui/rack/run_editor.h"
#include "ui/whole_station.h"
#include "workflow/answers.h"

using namespace bq;
using namespace bq::ui;

namespace {

/// Every vowel with an accent, and every second one twice, so that words are a fifth longer; %1,
/// %n, {places}, marks of rich text, keys' & and entities as they are.
class OtherLanguage : public QTranslator {
 public:
  [[nodiscard]] bool isEmpty() const override { return false; }
  QString translate(const char* /*context*/, const char* source, const char* /*note*/,
                    int n) const override {
    static const QString kPlain = QStringLiteral("aeiouAEIOU"),
                         kOther = QStringLiteral("áéíóúÁÉÍÓÚ");
    const QString text = QString::fromUtf8(source);
    QString out;
    bool tag = false, entity = false, place = false;
    int vowels = 0;
    for (qsizetype i = 0; i < text.size(); ++i) {
      const QChar c = text[i];
      const auto end = text.indexOf(';', i);
      tag = tag || c == '<';
      place = (place || c == '{') && c != '}';
      entity = entity || (c == '&' && end > i && end - i < 8);
      const auto at = kPlain.indexOf(c);
      const bool kept = tag || entity || place || at < 0 || (i > 0 && text[i - 1] == '%');
      out += kept ? c : kOther[at];
      if (!kept && c.isLower() && ++vowels % 2 == 0) out += kOther[at];
      if (c == '>') tag = false;
      if (c == ';') entity = false;
    }
    if (n >= 0) out.replace(QStringLiteral("%n"), QString::number(n));
    return out;
  }
};

QString plain(const QString& text) {
  if (!Qt::mightBeRichText(text)) return text;
  QTextDocument document;
  document.setHtml(text);
  return document.toPlainText();
}

/// What a widget says, wherever it says it.
QStringList texts_of(const QWidget* widget) {
  QStringList out{widget->toolTip(), widget->accessibleName(), widget->windowTitle()};
  if (auto* label = qobject_cast<const QLabel*>(widget)) out << label->text();
  if (auto* button = qobject_cast<const QAbstractButton*>(widget)) out << button->text();
  if (auto* group = qobject_cast<const QGroupBox*>(widget)) out << group->title();
  if (auto* line = qobject_cast<const QLineEdit*>(widget)) out << line->placeholderText();
  if (auto* box = qobject_cast<const QComboBox*>(widget))
    for (int i = 0; i < box->count(); ++i) out << box->itemText(i);
  if (auto* tabs = qobject_cast<const QTabBar*>(widget))
    for (int i = 0; i < tabs->count(); ++i) out << tabs->tabText(i);
  if (auto* view = qobject_cast<const QTableView*>(widget))
    for (int c = 0; view->model() && c < view->model()->columnCount(); ++c)
      out << view->model()->headerData(c, Qt::Horizontal).toString();
  for (auto& text : out) text = plain(text);
  return out;
}

/// Sentences and words that stand in the sources of a part of the program.
QSet<QString> literals(const QString& folder, bool but_for_the_window = false) {
  QSet<QString> out;
  static const QRegularExpression kLiteral(QStringLiteral("\"((?:[^\"\\\\\\n]|\\\\.)*)\""));
  static const QRegularExpression kPlace(QStringLiteral("%\\d|%n|<[^>]*>|\\\\."));
  static const QRegularExpression kVowel(QStringLiteral("[aeiou]"));
  QDirIterator files(QStringLiteral(BQ_SOURCE_DIR) + folder,
                     {QStringLiteral("*.cpp"), QStringLiteral("*.h"), QStringLiteral("*.json")},
                     QDir::Files, QDirIterator::Subdirectories);
  while (files.hasNext()) {
    QFile file(files.next());
    if ((but_for_the_window && file.fileName().contains(QLatin1String("/src/ui/"))) ||
        !file.open(QIODevice::ReadOnly))
      continue;
    const QString source = QString::fromUtf8(file.readAll());
    for (auto found = kLiteral.globalMatch(source); found.hasNext();) {
      for (const QString& part : found.next().captured(1).split(kPlace, Qt::SkipEmptyParts)) {
        const QString words = part.trimmed();
        if (words.size() >= 5 && words.contains(kVowel) &&
            (words.contains(' ') || words[0].isUpper()))
          out << words;
      }
    }
  }
  return out;
}

class OtherWords : public testing::Test {
 protected:
  void SetUp() override {
    QCoreApplication::installTranslator(&language_);
    say_as_the_window_does();
    window_ = test::window_on_demo(folder_);
    ASSERT_TRUE(window_);
  }
  void TearDown() override {
    window_.reset();
    say_by(nullptr);
    QCoreApplication::removeTranslator(&language_);
  }
  OtherLanguage language_;
  test::Folder folder_;
  std::unique_ptr<MainWindow> window_;
};

/// Texts on the screens that hold words of the sources as they stand there, once what was
/// translated is put aside.
QStringList left_out_of(MainWindow& window, const QSet<QString>& known, int& other) {
  QSet<QString> left_out;
  const auto look = [&](const QWidget* root, const QString& where) {
    QList<QWidget*> all = root->findChildren<QWidget*>();
    all << const_cast<QWidget*>(root);
    QStringList texts;
    for (const auto* widget : all) texts += texts_of(widget);
    for (const auto* action : root->findChildren<QAction*>()) texts << action->text();
    texts.removeDuplicates();
    static const QRegularExpression kOther(QStringLiteral("[áéíóúÁÉÍÓÚ]"));
    for (const QString& text : texts) {
      if (text.contains(kOther)) {
        ++other;
        continue;
      }
      for (const QString& literal : known)
        if (text == literal || (literal.size() > 12 && text.contains(literal)))
          left_out << where + ": “" + literal + "” in “" + text.left(80) + "”";
    }
  };
  for (const Station station : ui::kStations)
    look(test::whole_station(window, station), QString::fromUtf8(name_of(station).data()));
  look(&window, QStringLiteral("frame"));
  SettingsDialog settings(window.workbench());
  look(&settings, QStringLiteral("settings"));
  QStringList all(left_out.begin(), left_out.end());
  all.sort();
  return all;
}

}  // namespace

TEST_F(OtherWords, NothingOfTheWindowIsLeftOutOfTheCatalogue) {
  // What the window's sources have alone; words that the rooms below have too are asked next.
  QSet<QString> known = literals(QStringLiteral("/src/ui"));
  const QSet<QString> below = literals(QStringLiteral("/src"), true);
  const QString said_below = QStringList(below.begin(), below.end()).join(QLatin1Char('\n'));
  known -= literals(QStringLiteral("/demo"));
  known.removeIf([&](const QString& words) { return said_below.contains(words); });
  ASSERT_GT(known.size(), 1500);
  int other = 0;
  const QStringList left_out = left_out_of(*window_, known, other);
  EXPECT_GT(other, 800);
  EXPECT_TRUE(left_out.isEmpty()) << left_out.join('\n').toStdString();
}

TEST_F(OtherWords, SentencesOfTheRoomsBelowAreInTheCatalogue) {
  QSet<QString> known = literals(QStringLiteral("/src"), true);
  known -= literals(QStringLiteral("/demo"));
  ASSERT_GT(known.size(), 2000);
  int other = 0;
  const QStringList left_out = left_out_of(*window_, known, other);
  EXPECT_TRUE(left_out.isEmpty()) << left_out.join('\n').toStdString();
}

TEST_F(OtherWords, WhatIsKeptAreTheWordsOfFiles) {
  Workbench& bench = window_->workbench();
  const auto choose = [](QDialog& dialog, const QString& data, int index) {
    for (auto* box : dialog.findChildren<QComboBox*>())
      if (box->findData(data) >= 0 || (data.isEmpty() && box->findData(index) >= 0))
        box->setCurrentIndex(data.isEmpty() ? box->findData(index) : box->findData(data));
  };
  const auto save = [](QDialog& dialog) {
    auto* buttons = dialog.findChild<QDialogButtonBox*>();
    for (auto* button : buttons->buttons())
      if (buttons->buttonRole(button) == QDialogButtonBox::AcceptRole) button->click();
  };
  SteelCardEditor card(bench, QStringLiteral("Marl Tough"), nullptr);
  choose(card, QStringLiteral("middling"), 0);
  choose(card, QStringLiteral("between"), 0);
  save(card);
  const SteelCard* kept = bench.trial().steel_card("Marl Tough");
  ASSERT_TRUE(kept);
  EXPECT_EQ(kept->behaviour, "between");
  EXPECT_EQ(kept->toughness, "middling");
  ASSERT_TRUE(bench.trial().runs[0].facts.cut_mode);
  RunEditor run(bench, 0, {}, nullptr);
  choose(run, {}, int(CutMode::chop));
  save(run);
  EXPECT_EQ(bench.trial().runs[0].facts.cut_mode, CutMode::chop);
}

TEST_F(OtherWords, LongerWordsAreNotCut) {
  QStringList cut;
  int seen = 0;
  for (const Station station : ui::kStations) {
    for (auto* widget : test::whole_station(*window_, station)->findChildren<QWidget*>()) {
      if (!widget->isVisible()) continue;
      auto* label = qobject_cast<QLabel*>(widget);
      auto* button = qobject_cast<QPushButton*>(widget);
      if ((label && label->text().isEmpty()) || (!label && !button)) continue;
      ++seen;
      const int wanted = label && label->wordWrap() ? label->heightForWidth(label->width())
                                                    : widget->sizeHint().width();
      const int room = label && label->wordWrap() ? label->height() : widget->width();
      if (wanted > room + 1)
        cut << QStringLiteral("%1: %2 (%3 of %4 px)")
                   .arg(QString::fromUtf8(name_of(station).data()),
                        plain(label ? label->text() : button->text()).left(60))
                   .arg(room)
                   .arg(wanted);
    }
  }
  EXPECT_GT(seen, 200);
  cut.removeDuplicates();
  EXPECT_TRUE(cut.isEmpty()) << cut.join('\n').toStdString();
}

TEST(DeskLanguage, ACatalogueThatIsInstalledIsSpokenByWindowAndRoomsBelow) {
  // As at the start of the program, also where Qt's own words are not installed.
  auto* program = dynamic_cast<Application*>(QCoreApplication::instance());
  ASSERT_TRUE(program);
  qputenv("BQ_TRANSLATIONS", BQ_SOURCE_DIR "/tests/data/language");
  QLocale::setDefault(QLocale(QStringLiteral("de_DE")));
  program->speak_as_the_desk();
  EXPECT_EQ(words_of(Question::curves), "Wie wird jede Schneide stumpf?");
  EXPECT_EQ(said("tested in {runs}", {{"runs", "K01"}}), "in K01 erprobt");
  EXPECT_EQ(said("Not in the catalogue."), "Not in the catalogue.");
  EXPECT_EQ(project_files(), QStringLiteral("Projekte von Brave Quarry (*.bquarry)"));
  say_by(nullptr);
  for (auto* words : program->findChildren<QTranslator*>()) {
    QCoreApplication::removeTranslator(words);
    delete words;
  }
  QLocale::setDefault(QLocale::c());
  qunsetenv("BQ_TRANSLATIONS");
}

TEST(Headings, OfNumbersAreWholeAndEndWhereTheNumbersEnd) {
  QTableWidget table(1, 3);
  table.setHorizontalHeaderLabels({"Minutes", "Metal mm", "at least, a minute"});
  QHeaderView* header = table.horizontalHeader();
  for (int c = 0; c < 3; ++c)
    table.horizontalHeaderItem(c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
  header->setSectionResizeMode(QHeaderView::ResizeToContents);
  table.resize(600, 120);
  table.show();
  QTest::qWait(50);
  for (int c = 0; c < 3; ++c) {
    // Without the line below it.
    const QImage drawn = header
                             ->grab({header->sectionViewportPosition(c), 4, header->sectionSize(c),
                                     header->height() - 10})
                             .toImage();
    int left = drawn.width(), right = -1;
    for (int x = 0; x < drawn.width(); ++x)
      for (int y = 0; y < drawn.height(); ++y)
        if (drawn.pixel(x, y) != drawn.pixel(0, 0)) {
          left = std::min(left, x);
          right = std::max(right, x);
        }
    EXPECT_GE(left, 3) << c;
    EXPECT_GE(right, drawn.width() - 10) << c;
  }
}
