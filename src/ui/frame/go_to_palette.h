#pragma once

#include <QDialog>
#include <QString>
#include <functional>
#include <vector>

class QLineEdit;
class QListWidget;

namespace bq::ui {

/// One thing that can be gone to or done.
struct Destination {
  QString text;  ///< what is matched
  QString kind;  ///< "station", "run", "blade", "do"
  std::function<void()> act;
};

/// "Go to anything": type a part of a name, arrow keys, Enter.
class GoToPalette : public QDialog {
  Q_OBJECT
 public:
  GoToPalette(std::vector<Destination> destinations, QWidget* parent);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void filter(const QString& text);
  void act();
  std::vector<Destination> destinations_;
  QLineEdit* field_;
  QListWidget* list_;
};

}  // namespace bq::ui
