#pragma once

#include <QString>
#include <QStringList>
#include <string>
#include <string_view>
#include <type_traits>
#include <vector>

#include "quantity/said.h"

namespace bq::ui {

/// The core's UTF-8 as the window's text.
inline QString text_of(std::string_view text) {
  return QString::fromUtf8(text.data(), qsizetype(text.size()));
}

/// From now on the rooms below say their sentences in the language that the window's catalogues
/// hold.
void say_as_the_window_does();

/// A word of an enumeration, as files write it, in the desk's language.
template <class Enum>
QString shown(Enum value) {
  static_assert(std::is_enum_v<Enum>);
  return text_of(said(std::string(name_of(value)).c_str()));
}

/// A name as part of a button's or a menu's text, where "&" marks a key and a tab a shortcut.
inline QString in_label(QString name) {
  return name.replace(QLatin1Char('&'), QLatin1String("&&"))
      .replace(QLatin1Char('\t'), QLatin1Char(' '));
}

/// "1 run with 2 readings".
QString runs_with_readings(qint64 runs, qint64 readings);

/// What file dialogs call a project: "Brave Quarry projects (*.bquarry)".
QString project_files();

/// Below 0 where one name stands before the other in a list for people: K2 before K10, whatever the
/// letters' case.
int compare_names(const QString& a, const QString& b);

/// The core's texts as the window's.
QStringList texts_of(const std::vector<std::string>& texts);

/// Whether all these words stand in a text, whatever their case: how everything is found here.
bool holds_words(const QString& text, const QStringList& words);

/// A share as a percentage: 0.953 is "95 %"; what is nearly sure keeps a decimal, never "100 %".
QString percent(double share);

}  // namespace bq::ui
