#pragma once

#include <QDialog>

class QComboBox;

namespace bq::ui {

/// A project that cannot be used as it is: what happened, and the two ways back. The file itself is
/// never written.
class DamagedDialog : public QDialog {
  Q_OBJECT
 public:
  /// `sentence`: why it was not opened.
  DamagedDialog(const QString& project, const QString& sentence, QWidget* parent);

 signals:
  void copy_wanted(const QString& copy);  ///< puts this copy in the project's place
  void salvage_wanted();                  ///< takes what can be read into a new project

 private:
  void lay_out(const QString& project, const QString& sentence);
  QComboBox* copies_;
};

}  // namespace bq::ui
