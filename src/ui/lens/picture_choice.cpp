#include "ui/lens/picture_choice.h"

#include <algorithm>

namespace bq::ui {

class PictureChoice::Lines : public QAbstractListModel {
 public:
  using QAbstractListModel::QAbstractListModel;
  static constexpr std::int64_t kDivider = -1;

  QString none;
  std::vector<std::int64_t> ids;  ///< kDivider: a line between
  std::function<QString(std::int64_t)> words;

  void put(const std::function<void()>& change) {
    beginResetModel();
    change();
    endResetModel();
  }
  [[nodiscard]] int rowCount(const QModelIndex& parent) const override {
    return parent.isValid() ? 0 : int(ids.size());
  }
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override {
    if (!index.isValid() || std::size_t(index.row()) >= ids.size()) return {};
    const std::int64_t id = ids[std::size_t(index.row())];
    if (role == Qt::UserRole) return qlonglong(id);
    if (id == kDivider)  // what the choice's own painter takes for one
      return role == Qt::AccessibleDescriptionRole ? QVariant(QStringLiteral("separator"))
                                                   : QVariant();
    if (role == Qt::DisplayRole) return id == 0 ? none : words(id);
    return {};
  }
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override {
    const bool divider = index.isValid() && std::size_t(index.row()) < ids.size() &&
                         ids[std::size_t(index.row())] == kDivider;
    return divider ? Qt::NoItemFlags : Qt::ItemIsEnabled | Qt::ItemIsSelectable;
  }
};

PictureChoice::PictureChoice(QWidget* parent) : QComboBox(parent), lines_(new Lines(this)) {
  // The width must not hang on every line's words.
  setSizeAdjustPolicy(AdjustToMinimumContentsLengthWithIcon);
  setModel(lines_);
}

void PictureChoice::offer(const QString& none, std::vector<std::int64_t> ids, std::size_t near,
                          std::function<QString(std::int64_t)> words, std::int64_t chosen) {
  const QSignalBlocker quiet(this);
  if (near > 0 && near < ids.size())
    ids.insert(ids.begin() + std::ptrdiff_t(near), Lines::kDivider);
  if (!none.isEmpty()) ids.insert(ids.begin(), 0);
  lines_->put([&] {
    lines_->none = none;
    lines_->ids = std::move(ids);
    lines_->words = std::move(words);
  });
  const auto at = std::find(lines_->ids.begin(), lines_->ids.end(), chosen);
  setCurrentIndex(at == lines_->ids.end() ? 0 : int(at - lines_->ids.begin()));
}

std::int64_t PictureChoice::chosen() const { return currentData().toLongLong(); }

}  // namespace bq::ui
