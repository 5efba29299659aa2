#pragma once

#include <QDialog>
#include <deque>

#include "ui/frame/workbench.h"
#include "workflow/together_answer.h"

class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace bq::ui {

/// The open project with others: "this steel in four trials". Other projects are read and fitted
/// one after another on a worker; nothing of them is changed or kept.
class TogetherDialog : public QDialog {
  Q_OBJECT
 public:
  explicit TogetherDialog(Workbench& workbench, QWidget* parent = nullptr);
  void add_projects(const QStringList& paths);
  [[nodiscard]] bool settled() const {
    return waiting_.empty() && !job_.busy() && !looking_.busy();
  }

 private:
  void lay_out();
  struct Read {
    QString path, fault;
    std::shared_ptr<const TrialLives> lives;
  };
  void ask_projects();
  void leave_out();
  void next();
  void take(const Read& read);
  void look();
  void show_trials(const Together& together);
  void show_answer(const Together& together);

  Workbench& workbench_;
  QTableWidget *trials_, *steels_;
  QComboBox* work_;
  QLabel *answer_, *remarks_, *says_;
  QPushButton *add_, *leave_;
  std::vector<QString> paths_;  ///< "": the open project
  std::vector<std::shared_ptr<const TrialLives>> lives_;
  std::deque<QString> waiting_;
  QStringList faults_;
  LatestJob<std::shared_ptr<Read>> job_;
  LatestJob<std::shared_ptr<const Together>> looking_;
};

}  // namespace bq::ui
