#pragma once

#include <QWidget>
#include <functional>

class QGridLayout;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bq::ui {

/// Asks for a reason: usual ones by one key (1 … 6), or in words.
class ReasonPanel : public QWidget {
  Q_OBJECT
 public:
  explicit ReasonPanel(QWidget* parent = nullptr);
  using Take = std::function<void(const QString& reason)>;
  void ask(const QString& question, const QString& more, const QStringList& usual,
           const Take& take);

 signals:
  void left();

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void finish(const QString& reason);
  QLabel *question_, *more_;
  QGridLayout* choices_;
  std::vector<QPushButton*> buttons_;
  QLineEdit* words_;
  QPushButton *keep_, *back_;
  Take take_;
};

}  // namespace bq::ui
