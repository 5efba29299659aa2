#include "ui/frame/help_window.h"

#include <QFile>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include "ui/frame/guide_page.h"
#include "ui/frame/remembered.h"
#include "ui/parts/text_field.h"
#include "ui/theme/theme.h"

namespace bq::ui {

HelpWindow::HelpWindow(QWidget* parent)
    : QDialog(parent),
      search_(text_field(tr("Search the guide"), tr("search the guide"))),
      list_(new QListWidget),
      page_(new GuidePage) {
  setWindowTitle(tr("Guide"));
  read(QStringLiteral(":/guide/user-guide.md"), {});
  read(QStringLiteral(":/guide/words.md"), {});
  read(QStringLiteral(":/guide/methods.md"), tr("Methods: "));
  read(QStringLiteral(":/guide/command-line.md"), tr("Command line: "));
  list_->setFixedWidth(270);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setAccessibleName(tr("Chapters"));
  page_->setAccessibleName(tr("The chapter"));
  connect(search_, &QLineEdit::textChanged, this, &HelpWindow::filter);
  connect(list_, &QListWidget::currentRowChanged, this, &HelpWindow::show_chapter);
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

void HelpWindow::read(const QString& resource, const QString& prefix) {
  QFile file(resource);
  if (!file.open(QIODevice::ReadOnly)) return;
  QString title, text;
  const auto end = [&] {
    if (!text.trimmed().isEmpty() && !title.isEmpty())
      chapters_.push_back({prefix + title, QStringLiteral("# %1\n%2").arg(title, text)});
    text.clear();
  };
  for (const QString& line : QString::fromUtf8(file.readAll()).split('\n')) {
    if (line.startsWith(QLatin1String("# ")) || line.startsWith(QLatin1String("## "))) {
      end();
      title = line.mid(line.indexOf(' ') + 1);
      continue;
    }
    text += line + '\n';
  }
  end();
}

void HelpWindow::filter(const QString& words) {
  list_->clear();
  const QStringList wanted = words.simplified().split(' ', Qt::SkipEmptyParts);
  for (std::size_t i = 0; i < chapters_.size(); ++i) {
    bool all = true;
    for (const QString& word : wanted)
      all = all && (chapters_[i].title.contains(word, Qt::CaseInsensitive) ||
                    chapters_[i].text.contains(word, Qt::CaseInsensitive));
    if (!all) continue;
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
  page_->show_chapter(chapters_[std::size_t(item->data(Qt::UserRole).toInt())].text);
  const QString words = search_->text().simplified();
  if (!words.isEmpty()) page_->find(words);
}

void HelpWindow::open_at(const QString& title) {
  search_->clear();
  filter({});
  for (int row = 0; row < list_->count(); ++row)
    if (list_->item(row)->text() == title) {
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
