#pragma once

#include <QStringList>
#include <QWidget>
#include <functional>

class QLabel;
class QVBoxLayout;

namespace bq::ui {

/// One way in.
struct WayIn {
  QString text, words;
  std::function<void()> act;
};

/// A project that was open before.
struct RecentProject {
  QString path;
  QString next;  ///< what was to be done next when it was last open; "" not known
};

/// The window before a project is open: the ways in, the projects that were open lately with what
/// comes next in them, and one picture of what comes out.
class FirstPage : public QWidget {
  Q_OBJECT
 public:
  explicit FirstPage(std::vector<WayIn> ways, QWidget* parent = nullptr);
  void show_recent(const std::vector<RecentProject>& projects);

 signals:
  void project_wanted(const QString& path);

 private:
  QVBoxLayout* recent_;
};

/// What a station is for, with a picture of it filled and the ways in: shown in its place as long
/// as no project is open.
class StationPurpose : public QWidget {
  Q_OBJECT
 public:
  explicit StationPurpose(const std::vector<WayIn>& ways, QWidget* parent = nullptr);
  /// `name`: of the station, in lower case that of its picture.
  void show_station(const QString& name);

 private:
  QLabel *name_, *purpose_, *picture_;
};

}  // namespace bq::ui
