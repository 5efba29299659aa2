#include "ui/frame/help_window.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QRegularExpression>
#include <QUrl>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/frame/guide_page.h"
#include "ui/frame/help_index.h"
#include "ui/frame/remembered.h"
#include "ui/parts/text_field.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

HelpWindow::HelpWindow(QWidget* parent)
    : QDialog(parent),
      search_(text_field(tr("Search the guide"), tr("search the guide"))),
      list_(new QListWidget),
      page_(new GuidePage) {
  setWindowTitle(tr("Guide"));
  const auto& pages = HelpIndex::get().pages();
  // The words of the field follow the guide; what is meant in the program, methods and commands
  // last.
  const auto guide_ends = std::find_if(pages.begin(), pages.end(), [](const HelpPage& page) {
    return page.title == QLatin1String("What the words mean");
  });
  for (auto page = pages.begin(); page != guide_ends; ++page)
    chapters_.push_back({page->title, page->text});
  for (const auto& term : HelpIndex::get().terms()) {
    QString text = QStringLiteral("# %1\n%2").arg(term.word, term.text);
    if (!term.also.isEmpty())
      text += tr("\nAlso said: %1.\n").arg(term.also.join(QStringLiteral(", ")));
    chapters_.push_back({tr("Word: %1").arg(term.word), text, true});
  }
  for (auto page = guide_ends; page != pages.end(); ++page)
    chapters_.push_back({page->title, page->text});
  list_->setFixedWidth(270);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setAccessibleName(tr("Chapters"));
  page_->setAccessibleName(tr("The chapter"));
  connect(search_, &QLineEdit::textChanged, this, &HelpWindow::filter);
  connect(list_, &QListWidget::currentRowChanged, this, &HelpWindow::show_chapter);
  connect(page_, &QTextBrowser::anchorClicked, this, &HelpWindow::follow);
  auto* left = new QVBoxLayout;
  left->addWidget(search_);
  left->addWidget(list_, 1);
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(14, 12, 14, 12);
  layout->setSpacing(12);
  layout->addLayout(left);
  layout->addWidget(page_, 1);
  resize(fitting({980, 680}, parent ? parent->screen() : screen()));
  filter({});
}

void HelpWindow::filter(const QString& words) {
  list_->clear();
  const QStringList wanted = words.simplified().split(' ', Qt::SkipEmptyParts);
  // What is called so goes before what speaks of it.
  for (const bool by_title : {true, false})
    for (std::size_t i = 0; i < chapters_.size(); ++i) {
      const bool titled = holds_words(chapters_[i].title, wanted);
      if (by_title ? !titled
                   : titled || !holds_words(chapters_[i].title + '\n' + chapters_[i].text, wanted))
        continue;
      auto* item = new QListWidgetItem(chapters_[i].title, list_);
      item->setData(Qt::UserRole, int(i));
    }
  if (list_->count() > 0)
    list_->setCurrentRow(0);
  else
    page_->setPlainText(tr("No chapter has all of these words."));
}

void HelpWindow::show_chapter() {
  const QListWidgetItem* item = list_->currentItem();
  if (!item) return;
  const Chapter& chapter = chapters_[std::size_t(item->data(Qt::UserRole).toInt())];
  QString text = chapter.text;
  constexpr int kMostWords = 14;
  const auto terms = HelpIndex::get().terms_in(text, chapter.is_word ? 4 : kMostWords);
  QStringList links;
  for (const auto* term : terms)
    if (!chapter.title.endsWith(term->word))
      links << QStringLiteral("[%1](term:%2)")
                   .arg(term->word, QString::fromLatin1(QUrl::toPercentEncoding(term->word)));
  if (!links.isEmpty())
    text += tr("\n\n**Words of the field here:** %1\n").arg(links.join(QStringLiteral(" · ")));
  page_->show_chapter(text);
  const QString words = search_->text().simplified();
  if (!words.isEmpty()) page_->find(words);
}

void HelpWindow::follow(const QUrl& link) {
  if (link.scheme() == QLatin1String("term")) return open_at(link.path());
  // "methods.md#stones", "command-line.md#readings-table": the chapter of that heading.
  static const QRegularExpression kSigns(QStringLiteral("[^a-z0-9]+"));
  const auto plain = [](QString text) { return text.toLower().remove(kSigns); };
  // A document without a chapter is opened at its first one; a chapter is found by its beginning.
  const QString document = link.path().startsWith(QLatin1String("methods")) ? tr("Methods: ")
                           : link.path().startsWith(QLatin1String("command-line"))
                               ? tr("Command line: ")
                               : QString();
  const QString wanted = plain(link.fragment());
  if (document.isEmpty() && wanted.isEmpty()) return;
  for (const auto& chapter : chapters_)
    if ((document.isEmpty() || chapter.title.startsWith(document)) &&
        plain(chapter.title.section(QStringLiteral(": "), -1)).startsWith(wanted))
      return open_at(chapter.title);
}

void HelpWindow::open_at(const QString& title) {
  search_->clear();
  filter({});
  QString wanted = title;
  if (const HelpPage* page = HelpIndex::get().page(title))
    wanted = page->title;
  else if (const HelpTerm* term = HelpIndex::get().term(title))
    wanted = tr("Word: %1").arg(term->word);
  for (int row = 0; row < list_->count(); ++row)
    if (list_->item(row)->text() == wanted) {
      list_->setCurrentRow(row);
      break;
    }
  show();
  raise();
  activateWindow();
}

QString HelpWindow::shown() const {
  return list_->currentItem() ? list_->currentItem()->text() : QString();
}

}  // namespace bq::ui
