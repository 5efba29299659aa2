#pragma once

#include <QByteArray>
#include <QSettings>
#include <QSize>
#include <QStringList>

#include "ui/frame/workbench.h"

class QScreen;

namespace bq::ui {

/// What the window remembers from one start to the next, in the desktop's place for settings.
struct Remembered {
  QByteArray geometry;  ///< of the window; empty at the first start
  Display display;
  int zoom = 100;  ///< percent
  Station station = Station::rack;
  QStringList projects;  ///< newest first, at most ten, only those that are still there

  /// `theme`: the one to begin with, where none is remembered.
  static Remembered read(ThemeName theme);
  void write() const;
  void add_project(const QString& path);
};

/// Where the program keeps what it remembers.
QSettings program_settings();
/// A key there for something of any length: its group, and a digest.
QString settings_key(const QString& group, const QByteArray& of);

/// What was to be done next in a project when it was last looked at; "" not known.
QString next_in(const QString& project);
void remember_next(const QString& project, const QString& sentence);

/// The desktop's own preference, by its palette; asked before the program sets one.
ThemeName theme_of_desktop();

/// The wished size, made smaller where the screen's free area (less a title bar) is; as wished on
/// the offscreen platform, which has no screen.
QSize fitting(QSize wished, const QScreen* screen);

}  // namespace bq::ui
