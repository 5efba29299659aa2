#include "ui/frame/go_to_palette.h"

#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

GoToPalette::GoToPalette(std::vector<Destination> destinations, QWidget* parent)
    : QDialog(parent, Qt::Dialog | Qt::FramelessWindowHint),
      destinations_(std::move(destinations)),
      field_(new QLineEdit),
      list_(new QListWidget) {
  setAttribute(Qt::WA_DeleteOnClose);
  setModal(true);
  resize(520, 360);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(12, 12, 12, 12);
  field_->setPlaceholderText(tr("Go to a station, run or blade, or do something"));
  field_->setAccessibleName(tr("Go to"));
  field_->setFont(font_of(kHeading));
  field_->installEventFilter(this);
  list_->setAccessibleName(tr("Matches"));
  list_->setFocusPolicy(Qt::NoFocus);
  layout->addWidget(field_);
  layout->addWidget(list_);
  connect(field_, &QLineEdit::textChanged, this, &GoToPalette::filter);
  connect(field_, &QLineEdit::returnPressed, this, &GoToPalette::act);
  connect(list_, &QListWidget::itemClicked, this, &GoToPalette::act);
  filter({});
  field_->setFocus();
}

void GoToPalette::filter(const QString& text) {
  list_->clear();
  const auto words = text.split(' ', Qt::SkipEmptyParts);
  const QString asked = text.simplified();
  // What is named so first, then what begins so, then what only holds the words.
  std::vector<std::pair<int, std::size_t>> found;
  for (std::size_t i = 0; i < destinations_.size(); ++i) {
    const QString& name = destinations_[i].text;
    if (!holds_words(destinations_[i].kind + ' ' + name, words)) continue;
    const bool named = name.compare(asked, Qt::CaseInsensitive) == 0;
    found.emplace_back(named ? 0 : name.startsWith(asked, Qt::CaseInsensitive) ? 1 : 2, i);
  }
  if (!asked.isEmpty()) std::sort(found.begin(), found.end());
  constexpr std::size_t kMostShown = 100;
  if (found.size() > kMostShown) found.resize(kMostShown);
  for (const auto& [rank, i] : found) {
    auto* item = new QListWidgetItem(destinations_[i].text + QStringLiteral("   – ") +
                                     destinations_[i].kind);
    item->setData(Qt::UserRole, int(i));
    list_->addItem(item);
  }
  list_->setCurrentRow(0);
}

void GoToPalette::act() {
  const auto* item = list_->currentItem();
  if (!item) return;
  const auto action = destinations_[std::size_t(item->data(Qt::UserRole).toInt())].act;
  close();
  action();
}

bool GoToPalette::eventFilter(QObject* watched, QEvent* event) {
  if (watched == field_ && event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Down || key == Qt::Key_Up) {
      const int row = list_->currentRow() + (key == Qt::Key_Down ? 1 : -1);
      list_->setCurrentRow(std::clamp(row, 0, std::max(0, list_->count() - 1)));
      return true;
    }
  }
  return QDialog::eventFilter(watched, event);
}

}  // namespace bq::ui
