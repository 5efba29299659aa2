#pragma once

#include <QDialog>
#include <memory>
#include <vector>

#include "ui/frame/latest_job.h"
#include "workflow/source.h"

class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;
class QTableWidget;
class QVBoxLayout;

namespace bq::ui {

/// Shows a table as somebody kept it: what each column is taken for, the table with what is left
/// out and what is wrong in it, the runs that would come in; asks what the table does not say.
/// Answers for a kind of table (its heads) are remembered and offered with the next one.
class TableDialog : public QDialog {
  Q_OBJECT
 public:
  /// `known`: names of the project it goes into; `angles`: how angles are shown.
  TableDialog(const QString& path, KnownNames known, AngleConvention angles, QWidget* parent);
  [[nodiscard]] const TableMap& map() const { return map_; }
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] bool settled() const { return !job_.busy(); }
  /// Keeps the answers for the next table with these heads.
  void accept() override;

 private:
  void lay_out();
  /// A table as it was read, and what would come in.
  struct Seen {
    AnyTable table;
    Trial trial;
    std::string lists = "nothing";      ///< of blades, stones, pairs, in words
    std::vector<std::string> problems;  ///< that are no cell's
  };

  void understand();
  void take(std::shared_ptr<Seen> seen);
  void open_page(int page);
  void show_columns();
  void show_questions();
  void show_rows();
  void show_runs();
  void answer(const std::string& key, const std::string& choice);
  [[nodiscard]] QString memory_key() const;

  QString path_;
  KnownNames known_;
  AngleConvention angles_;
  TableMap map_;
  std::shared_ptr<Seen> seen_;
  QLabel *sentence_, *notes_;
  QWidget* read_as_;  ///< of a text: its encoding and separator, to be changed
  QComboBox *encoding_, *separator_;
  QVBoxLayout* questions_;
  QTableWidget *columns_, *rows_, *runs_;
  QStackedWidget* pages_;
  std::vector<QPushButton*> tabs_;
  QPushButton* import_;
  bool remembered_ = false;  ///< what is remembered of such tables was looked for
  LatestJob<std::shared_ptr<Seen>> job_;
};

}  // namespace bq::ui
