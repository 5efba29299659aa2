#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

namespace bq::ui {

/// The path: one vertical line with a stop for each station, its name and one fact. The stop in use
/// is a filled diamond; the line is solid as far as the work has come.
class PathRail : public QWidget {
  Q_OBJECT
 public:
  static constexpr int kWidth = 132;
  explicit PathRail(const QStringList& stations, QWidget* parent = nullptr);
  void set_facts(const QStringList& facts);
  void set_reached(int station);  ///< the line is solid down to this stop
  void set_current(int station);

 signals:
  void chosen(int station);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  class Stop;
  std::vector<Stop*> stops_;
  int reached_ = 0, current_ = 0;
};

}  // namespace bq::ui
