#pragma once

#include <QDialog>
#include <memory>
#include <vector>

#include "store/any_table.h"
#include "ui/frame/latest_job.h"

class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;
class QVBoxLayout;

namespace bq::ui {

/// Shows a table as somebody kept it: what each column is taken for, what would come in, what is
/// left out; asks what the table does not say. Answers for a kind of table (its heads) are
/// remembered and offered with the next one.
class TableDialog : public QDialog {
  Q_OBJECT
 public:
  TableDialog(const QString& path, QWidget* parent);
  [[nodiscard]] const TableMap& map() const { return map_; }
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] bool settled() const { return !job_.busy(); }
  /// Keeps the answers for the next table with these heads.
  void accept() override;

 private:
  void understand();
  void take(std::shared_ptr<AnyTable> table);
  void show_columns();
  void show_questions();
  void answer(const std::string& key, const std::string& choice);
  [[nodiscard]] QString memory_key() const;

  QString path_;
  std::shared_ptr<std::string> bytes_;  ///< of the file; the job reads and uses them
  TableMap map_;
  std::shared_ptr<AnyTable> table_;
  QLabel *sentence_, *notes_;
  QVBoxLayout* questions_;
  QTableWidget* columns_;
  QPushButton* import_;
  bool remembered_ = false;  ///< what is remembered of such tables was looked for
  LatestJob<std::shared_ptr<AnyTable>> job_;
};

}  // namespace bq::ui
