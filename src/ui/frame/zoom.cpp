#include "ui/frame/zoom.h"

#include <QtGui/private/qhighdpiscaling_p.h>

#include <QApplication>
#include <QPointer>
#include <QWidget>
#include <QWindow>
#include <algorithm>
#include <cmath>

namespace bq::ui {
namespace {

constexpr int kPlain = 100;
int shown_at = kPlain;

/// What the desktop asks for by QT_SCALE_FACTOR stays underneath.
double factor_of_desktop() {
  bool is_number = false;
  const double factor = qgetenv("QT_SCALE_FACTOR").toDouble(&is_number);
  return is_number && factor > 0 ? factor : 1;
}

struct Shown {
  QPointer<QWidget> window;
  bool active = false;
  QRect place;  ///< in the pixels of the zoom before
  Qt::WindowStates state;
};

/// Qt says that it should be set before there are windows. They are taken off the screen for it:
/// what a window knows of its fineness it asks for when it is put there again.
void set_factor(double factor) {
  const QtMessageHandler before =
      qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {});
  QHighDpiScaling::setGlobalFactor(factor);
  qInstallMessageHandler(before);
}

}  // namespace

const std::vector<int>& zoom_steps() {
  static const std::vector<int> kSteps{80, 90, 100, 110, 125, 150, 175, 200};
  return kSteps;
}

int zoom() { return shown_at; }

int zoom_step(int percent, int by) {
  const auto& steps = zoom_steps();
  const auto nearest = std::min_element(steps.begin(), steps.end(), [&](int a, int b) {
    return std::abs(a - percent) < std::abs(b - percent);
  });
  const auto at = (nearest - steps.begin()) + by;
  return steps[std::size_t(std::clamp<std::ptrdiff_t>(at, 0, std::ptrdiff_t(steps.size()) - 1))];
}

void set_zoom(int percent) {
  const int wanted = zoom_step(percent, 0);
  if (wanted == shown_at) return;
  const double before = shown_at;
  shown_at = wanted;
  std::vector<Shown> windows;
  const QPointer<QWidget> focus = QApplication::focusWidget();
  for (QWidget* window : QApplication::topLevelWidgets()) {
    if (!window->windowHandle() || !window->isVisible()) continue;
    windows.push_back(
        {window, window->isActiveWindow(), window->geometry(), window->windowState()});
    // Hiding would tell the stations that they are left; only the screen's part of it goes.
    window->windowHandle()->destroy();
  }
  set_factor(factor_of_desktop() * wanted / kPlain);
  for (const auto& [window, active, place, state] : windows) {
    if (!window) continue;
    const double k = before / wanted;
    window->windowHandle()->create();
    window->setGeometry(
        QRect((QPointF(place.topLeft()) * k).toPoint(), (QSizeF(place.size()) * k).toSize()));
    window->windowHandle()->show();
    window->setWindowState(state);
    window->update();
    if (active) window->activateWindow();
  }
  if (focus) focus->setFocus();
}

}  // namespace bq::ui
