#pragma once

#include <QColor>
#include <QFont>
#include <QString>
#include <QStringList>
#include <functional>
#include <optional>
#include <vector>

class QApplication;
class QAbstractButton;
class QLabel;
class QPainter;
class QPushButton;
class QVBoxLayout;
class QWidget;

namespace bq::ui {

enum class ThemeName {
  chalk,
  slate,
  contrast  ///< black and white, everything at its edge drawn
};
/// "chalk", "slate", "contrast": as settings name it.
QString name_of(ThemeName name);
std::optional<ThemeName> parse_theme(const QString& text);

/// The colours of one theme; nothing else in the window names a colour.
struct Theme {
  ThemeName name;
  QColor ground;  ///< behind everything
  QColor panel;   ///< lists, fields
  QColor ink;     ///< text, at least 7:1 on ground and panel
  QColor quiet;   ///< secondary text, at least 7:1 on ground
  QColor hairline;
  QColor ochre;     ///< the one thing to do
  QColor on_ochre;  ///< text on it
  QColor chosen;    ///< ground of the chosen row
  QColor danger;    ///< only danger to people or data
  /// Colour of the i-th steel; markers and line patterns go with it in the same order.
  [[nodiscard]] QColor series(int index) const;
};

const Theme& theme();
/// The dark one, whatever is chosen: the surround of photographs, and what is written on them.
const Theme& photograph_theme();
/// Sets what theme() answers, without the cost of styling; apply_theme() does both.
void choose_theme(ThemeName name);
void apply_theme(QApplication& app, ThemeName name);
/// Registers the embedded typeface; once, before the first window.
void load_fonts();

inline constexpr int kBody = 13, kHeading = 17, kFigure = 28, kHuge = 84;
/// The program's typeface (B612, embedded under its own name) in pixels; its figures all have one
/// width.
QFont font_of(int pixels, bool bold = false);
/// A button that a wet or gloved finger hits: 44 px high at least.
void make_wet(QPushButton* button);
QLabel* heading(const QString& text);
/// One of a row of tabs; tabs of one parent exclude each other.
QPushButton* tab_button(const QString& text);
/// One tab for each name; `chosen` hears the index of the one that is clicked.
std::vector<QPushButton*> make_tabs(const QStringList& names,
                                    const std::function<void(int)>& chosen);
/// Gives a widget one of the style sheet's names ("primary", "flat", "" plain) and lets it show.
void name_look(QWidget* widget, const char* name);
/// Ground and frame of an answer that is drawn: focus, pointer and pressing show.
void paint_choice(QPainter& painter, const QAbstractButton& button);
/// A column that scrolls up and down when there is no room for it, without a frame.
QWidget* scrolled(QWidget* inside);
/// Fills a page with one such column, under a heading; a low window scrolls it instead of cutting
/// it off.
QVBoxLayout* scrolled_column(QWidget* page, const QString& title);
/// Text that wraps and can be selected.
QLabel* wrapped_label();
/// Secondary text that wraps.
QLabel* quiet_label(const QString& text);

}  // namespace bq::ui
