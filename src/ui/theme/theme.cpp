#include "ui/theme/theme.h"

#include <QApplication>
#include <QEvent>
#include <QFontDatabase>
#include <QLabel>
#include <QPainter>
#include <QPalette>
#include <QPointer>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>
#include <array>

static void init_looks_resource() { Q_INIT_RESOURCE(looks); }

namespace bq::ui {
namespace {

const Theme kChalk{ThemeName::chalk, "#f5f1e8", "#fcfaf5", "#1f2a33", "#434e57",
                   "#cdc6b6",        "#d3922a", "#140f06", "#ece0c6", "#a11f1b"};
const Theme kSlate{ThemeName::slate, "#1d252c", "#252f38", "#f3eee4", "#c6cbcf",
                   "#4a5660",        "#e2a53f", "#140f06", "#3d3d33", "#ff8f86"};
const Theme kContrast{ThemeName::contrast, "#000000", "#0b0b0b", "#ffffff", "#ececec",
                      "#b4b4b4",           "#ffc93c", "#000000", "#453600", "#ff9c94"};
const Theme* current = &kChalk;

QString style_sheet(const Theme& t) {
  QString sheet = R"(
    QWidget { color: %ink; }
    QMainWindow, QDialog, #station { background: %ground; }
    QDialog { border: 1px solid %hairline; }
    QToolTip { background: %panel; color: %ink; border: 1px solid %hairline; padding: 4px; }
    QLineEdit, QPlainTextEdit, QAbstractSpinBox, QComboBox {
      background: %panel; border: 1px solid %hairline; border-radius: 3px; padding: 4px 6px;
      selection-background-color: %ochre; selection-color: %on_ochre; min-height: 20px; }
    QLineEdit:focus, QPlainTextEdit:focus, QAbstractSpinBox:focus, QComboBox:focus {
      border: 2px solid %ochre; padding: 3px 5px; }
    QLineEdit:disabled, QComboBox:disabled, QAbstractSpinBox:disabled { color: %quiet; background: %ground; }
    QComboBox QAbstractItemView { background: %panel; selection-background-color: %chosen; selection-color: %ink; }
    QComboBox { padding-right: 20px; }
    QComboBox::drop-down { border: none; width: 22px; }
    QComboBox::down-arrow { image: url(:/looks/down-%name.svg); width: 10px; height: 6px; }
    QAbstractSpinBox { padding-right: 2px; }
    QAbstractSpinBox::up-button, QAbstractSpinBox::down-button { border: none; background: transparent; width: 20px;
      subcontrol-origin: border; }
    QAbstractSpinBox::up-button { subcontrol-position: top right; }
    QAbstractSpinBox::down-button { subcontrol-position: bottom right; }
    QAbstractSpinBox::up-arrow { image: url(:/looks/up-%name.svg); width: 10px; height: 6px; }
    QAbstractSpinBox::down-arrow { image: url(:/looks/down-%name.svg); width: 10px; height: 6px; }
    QPushButton { background: %panel; border: 1px solid %hairline; border-radius: 3px; padding: 5px 12px; min-height: 20px; }
    QPushButton[wet="true"] { min-height: 34px; }
    QPushButton:hover { border-color: %quiet; }
    QPushButton:focus { border: 2px solid %ochre; padding: 4px 11px; }
    QPushButton:disabled { color: %quiet; background: %ground; }
    QPushButton:checked { background: %chosen; border-color: %quiet; }
    QPushButton#primary { background: %ochre; color: %on_ochre; border: 1px solid %ochre; font-weight: bold; }
    QPushButton#primary:focus { border: 2px solid %ink; }
    QPushButton#primary:disabled { background: %ground; color: %quiet; border-color: %hairline; }
    QPushButton#tab { background: transparent; border: none; border-bottom: 2px solid %hairline; border-radius: 0; padding: 4px 4px; }
    QPushButton#tab:hover { border-bottom: 2px solid %quiet; }
    QPushButton#tab:checked { border-bottom: 3px solid %ochre; font-weight: bold; }
    QPushButton#tab:focus { border: none; border-bottom: 3px solid %ink; }
    QPushButton#chosen { background: %chosen; border: 2px solid %ochre; }
    QPushButton#row { background: transparent; border: none; text-align: left; padding: 2px 4px; min-height: 16px; }
    QPushButton#row:hover { background: %chosen; }
    QPushButton#row:focus { border: 1px solid %ochre; padding: 1px 3px; }
    QPushButton#flat { background: transparent; border: 1px solid transparent; }
    QPushButton#flat:hover { border-color: %hairline; }
    QPushButton#flat:focus { border: 2px solid %ochre; padding: 4px 11px; }
    QTableView, QListView, QTreeView { background: %panel; alternate-background-color: %panel;
      border: 1px solid %hairline; gridline-color: %hairline; outline: none;
      selection-background-color: %chosen; selection-color: %ink; }
    QListWidget::item { padding: 7px 6px; border: none; }
    QListWidget::item:selected { background: %chosen; color: %ink; border: none; }
    QListView:focus, QTableView:focus { border: 1px solid %ochre; }
    QHeaderView { background: %panel; }
    QHeaderView::section { background: %panel; color: %quiet; border: none; border-bottom: 1px solid %hairline; padding: 5px 6px; }
    QHeaderView[sorts="true"]::up-arrow, QHeaderView[sorts="true"]::down-arrow { subcontrol-origin: padding;
      subcontrol-position: bottom center; width: 9px; height: 5px; bottom: -4px; }
    QHeaderView[sorts="true"]::up-arrow { image: url(:/looks/up-%name.svg); }
    QHeaderView[sorts="true"]::down-arrow { image: url(:/looks/down-%name.svg); }
    QTableCornerButton::section { background: %panel; border: none; }
    QScrollBar:vertical { background: transparent; width: 10px; margin: 0; }
    QScrollBar::handle:vertical { background: %hairline; border-radius: 4px; min-height: 24px; }
    QScrollBar:horizontal { background: transparent; height: 10px; margin: 0; }
    QScrollBar::handle:horizontal { background: %hairline; border-radius: 4px; min-width: 24px; }
    QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
    QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
    QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
    QMenu { background: %panel; border: 1px solid %hairline; padding: 4px; }
    QMenu::item { padding: 5px 28px 5px 12px; }
    QMenu::item:selected { background: %chosen; }
    QMenu::item:disabled { color: %quiet; }
    QMenu::separator { height: 1px; background: %hairline; margin: 4px 8px; }
    QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid %quiet; border-radius: 2px; background: %panel; }
    QCheckBox::indicator:checked { background: %ochre; border-color: %ink; image: url(:/looks/tick.svg); }
    QCheckBox:focus { color: %ink; text-decoration: underline; }
    QProgressBar { background: %ground; border: 1px solid %hairline; border-radius: 2px; text-align: center; }
    QProgressBar::chunk { background: %ochre; }
    QLabel#quiet { color: %quiet; }
    QLabel#caution { background: %panel; border: 1px solid %danger; border-left: 4px solid %danger; padding: 8px; }
    QLabel#refusal { color: %danger; }
    #hairline { background: %hairline; }
  )";
  sheet.replace(QLatin1String("%name"),
                t.name == ThemeName::chalk ? QLatin1String("chalk") : QLatin1String("slate"));
  const std::array<std::pair<const char*, QColor>, 9> names{{{"%on_ochre", t.on_ochre},
                                                             {"%ink", t.ink},
                                                             {"%ground", t.ground},
                                                             {"%panel", t.panel},
                                                             {"%quiet", t.quiet},
                                                             {"%hairline", t.hairline},
                                                             {"%ochre", t.ochre},
                                                             {"%chosen", t.chosen},
                                                             {"%danger", t.danger}}};
  for (const auto& [key, colour] : names) sheet.replace(QLatin1String(key), colour.name());
  return sheet;
}

}  // namespace

QString name_of(ThemeName name) {
  switch (name) {
    case ThemeName::chalk:
      return QStringLiteral("chalk");
    case ThemeName::slate:
      return QStringLiteral("slate");
    case ThemeName::contrast:
      return QStringLiteral("contrast");
  }
  return {};
}

std::optional<ThemeName> parse_theme(const QString& text) {
  for (const ThemeName name : {ThemeName::chalk, ThemeName::slate, ThemeName::contrast})
    if (text == name_of(name)) return name;
  return std::nullopt;
}

QColor Theme::series(int index) const {
  // Told apart with any colour vision by lightness and hue; red and ochre are kept for other uses.
  static const std::array<QColor, 6> on_chalk{"#1d5b9c", "#0d7566", "#7b3f98",
                                              "#5d4a1f", "#3c4650", "#2f7d9c"};
  static const std::array<QColor, 6> on_slate{"#7db8f0", "#58c9b4", "#cf9ae6",
                                              "#d8c48a", "#c3ccd4", "#8fd3ea"};
  const auto& colours = name == ThemeName::chalk ? on_chalk : on_slate;
  return colours[std::size_t(index) % colours.size()];
}

const Theme& theme() { return *current; }

void load_fonts() {
  init_looks_resource();
  QFontDatabase::addApplicationFont(QStringLiteral(":/looks/regular.otf"));
  QFontDatabase::addApplicationFont(QStringLiteral(":/looks/bold.otf"));
}

void make_wet(QPushButton* button) { button->setProperty("wet", true); }

QFont font_of(int pixels, bool bold) {
  QFont font(QStringLiteral("BqSt"));
  font.setPixelSize(pixels);
  font.setBold(bold);
  return font;
}

const Theme& photograph_theme() { return kSlate; }
void choose_theme(ThemeName name) {
  current = name == ThemeName::chalk ? &kChalk : name == ThemeName::slate ? &kSlate : &kContrast;
}

namespace {

/// Gives every window the style sheet when it is first shown. Of the program as a whole, the sheet
/// would be worked through anew for all that is in a page whenever a part of it is put into its
/// layout: a station took three times as long to make (bench_hundreds).
class Dresser : public QObject {
 public:
  explicit Dresser(QObject* parent) : QObject(parent) {}
  void wear(const QString& sheet) {
    sheet_ = sheet;
    for (QWidget* window : QApplication::topLevelWidgets()) dress(window);
  }
  bool eventFilter(QObject* watched, QEvent* event) override {
    if (event->type() == QEvent::Polish && watched->isWidgetType())
      dress(static_cast<QWidget*>(watched));
    return false;
  }

 private:
  /// What has a parent has its sheet.
  void dress(QWidget* window) const {
    if (window->isWindow() && !window->parentWidget() && window->styleSheet() != sheet_)
      window->setStyleSheet(sheet_);
  }
  QString sheet_;
};

Dresser& dresser(QApplication& app) {
  static QPointer<Dresser> the_one;
  if (!the_one) {
    the_one = new Dresser(&app);
    app.installEventFilter(the_one);
  }
  return *the_one;
}

}  // namespace

void apply_theme(QApplication& app, ThemeName name) {
  choose_theme(name);
  const Theme& t = *current;
  QPalette palette;
  palette.setColor(QPalette::Window, t.ground);
  palette.setColor(QPalette::Base, t.panel);
  palette.setColor(QPalette::AlternateBase, t.panel);
  palette.setColor(QPalette::Button, t.panel);
  for (const auto role :
       {QPalette::WindowText, QPalette::Text, QPalette::ButtonText, QPalette::ToolTipText})
    palette.setColor(role, t.ink);
  palette.setColor(QPalette::PlaceholderText, t.quiet);
  palette.setColor(QPalette::ToolTipBase, t.panel);
  palette.setColor(QPalette::Highlight, t.chosen);
  palette.setColor(QPalette::HighlightedText, t.ink);
  palette.setColor(QPalette::Link, t.ink);
  app.setPalette(palette);
  app.setFont(font_of(kBody));
  dresser(app).wear(style_sheet(t));
}

QLabel* heading(const QString& text) {
  auto* label = new QLabel(text);
  label->setFont(font_of(kHeading, true));
  return label;
}

QPushButton* tab_button(const QString& text) {
  auto* tab = new QPushButton(text);
  tab->setObjectName(QStringLiteral("tab"));
  tab->setCheckable(true);
  tab->setAutoExclusive(true);
  tab->setMinimumWidth(40);
  return tab;
}

std::vector<QPushButton*> make_tabs(const QStringList& names,
                                    const std::function<void(int)>& chosen) {
  std::vector<QPushButton*> out;
  for (int i = 0; i < names.size(); ++i) {
    out.push_back(tab_button(names[i]));
    QObject::connect(out.back(), &QPushButton::clicked, out.back(), [chosen, i] { chosen(i); });
  }
  return out;
}

void name_look(QWidget* widget, const char* name) {
  if (widget->objectName() == QLatin1String(name)) return;
  widget->setObjectName(QLatin1String(name));
  widget->style()->unpolish(widget);
  widget->style()->polish(widget);
}

void paint_choice(QPainter& painter, const QAbstractButton& button) {
  const Theme& t = theme();
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setPen(QPen(button.hasFocus()     ? t.ochre
                      : button.underMouse() ? t.quiet
                                            : t.hairline,
                      button.hasFocus() ? 2 : 1));
  painter.setBrush(button.isDown() ? t.chosen : t.panel);
  painter.drawRoundedRect(QRectF(button.rect()).adjusted(1, 1, -1, -1), 3, 3);
}

QWidget* scrolled(QWidget* inside) {
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll->setWidget(inside);
  return scroll;
}

QVBoxLayout* scrolled_column(QWidget* page, const QString& title) {
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 6, 0);
  column->setSpacing(8);
  column->addWidget(heading(title));
  auto* scroll = scrolled(inside);
  scroll->setFocusPolicy(Qt::NoFocus);
  auto* whole = new QVBoxLayout(page);
  whole->setContentsMargins(0, 0, 0, 0);
  whole->addWidget(scroll);
  return column;
}

QLabel* wrapped_label() {
  auto* label = new QLabel;
  label->setWordWrap(true);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  return label;
}

QLabel* quiet_label(const QString& text) {
  auto* label = new QLabel(text);
  label->setObjectName(QStringLiteral("quiet"));
  label->setWordWrap(true);
  return label;
}

}  // namespace bq::ui
