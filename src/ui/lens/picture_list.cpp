#include "ui/lens/picture_list.h"

#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/parts/words.h"

namespace bq::ui {
namespace {

/// Of an item: whether it is one of the first.
constexpr int kFirst = Qt::UserRole + 1;

}  // namespace

PictureList::PictureList(LensModel& model, const QString& name,
                         std::function<bool(const Micrograph&)> before, std::int64_t without,
                         QWidget* parent)
    : QWidget(parent),
      model_(model),
      before_(std::move(before)),
      without_(without),
      filter_(new QLineEdit),
      list_(new QListWidget) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  filter_->setPlaceholderText(tr("find: a run, a blade, a name"));
  filter_->setClearButtonEnabled(true);
  filter_->setAccessibleName(tr("Find pictures"));
  column->addWidget(filter_);
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  list_->setAccessibleName(name);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setTextElideMode(Qt::ElideRight);
  column->addWidget(list_, 1);
  auto* all = new QPushButton(tr("Choose all that are shown"));
  connect(all, &QPushButton::clicked, list_, &QListWidget::selectAll);
  column->addWidget(all, 0, Qt::AlignLeft);
  connect(filter_, &QLineEdit::textChanged, this, &PictureList::fill);
  connect(list_, &QListWidget::itemSelectionChanged, this, &PictureList::changed);
  fill();
}

void PictureList::fill() {
  const auto held = chosen();
  {
    const QSignalBlocker quiet(list_);
    list_->clear();
    const QStringList wanted = filter_->text().split(' ', Qt::SkipEmptyParts);
    const auto& trial = model_.trial();
    std::vector<std::pair<bool, const Micrograph*>> all;
    for (auto m = trial.micrographs.rbegin(); m != trial.micrographs.rend(); ++m)
      if (m->id != without_) all.emplace_back(before_ && before_(*m), &*m);
    std::stable_partition(all.begin(), all.end(), [](const auto& one) { return one.first; });
    for (const auto& [first, m] : all) {
      const QString words = text_of(describe(*m));
      if (!holds_words(words, wanted)) continue;
      auto* item = new QListWidgetItem(words, list_);
      item->setToolTip(words);
      item->setData(Qt::UserRole, qint64(m->id));
      item->setData(kFirst, first);
      item->setSelected(std::find(held.begin(), held.end(), m->id) != held.end());
    }
  }
  emit changed();
}

void PictureList::choose_first_ones() {
  for (int i = 0; i < list_->count(); ++i)
    list_->item(i)->setSelected(list_->item(i)->data(kFirst).toBool());
}

std::vector<std::int64_t> PictureList::chosen() const {
  std::vector<std::int64_t> out;
  for (int i = 0; i < list_->count(); ++i)
    if (list_->item(i)->isSelected())
      out.push_back(list_->item(i)->data(Qt::UserRole).toLongLong());
  return out;
}

}  // namespace bq::ui
