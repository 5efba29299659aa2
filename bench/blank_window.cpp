// What any Qt Widgets program costs to its first painted window.
#include <QApplication>
#include <QMainWindow>
#include <QTimer>
#include <cstdio>

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QMainWindow window;
  window.resize(1280, 800);
  window.show();
  QTimer::singleShot(0, &app, [] {
    QApplication::processEvents();
    std::printf("painted\n");
    std::fflush(stdout);
    QApplication::quit();
  });
  return QApplication::exec();
}
