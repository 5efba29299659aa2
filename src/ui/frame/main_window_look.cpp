// How the window is shown: theme, size, the dialog where both are set, and what of it is
// remembered.
#include "ui/frame/main_window.h"
#include "ui/frame/remembered.h"
#include "ui/frame/settings_dialog.h"
#include "ui/frame/zoom.h"

namespace bq::ui {
namespace {

ThemeName theme_after(ThemeName theme) {
  switch (theme) {
    case ThemeName::chalk:
      return ThemeName::slate;
    case ThemeName::slate:
      return ThemeName::contrast;
    case ThemeName::contrast:
      break;
  }
  return ThemeName::chalk;
}

}  // namespace

QString MainWindow::theme_words() const {
  switch (theme_after(workbench_.display().theme)) {
    case ThemeName::slate:
      return tr("Slate theme (dark)\tCtrl+T");
    case ThemeName::contrast:
      return tr("High contrast\tCtrl+T");
    case ThemeName::chalk:
      break;
  }
  return tr("Chalk theme (light)\tCtrl+T");
}

void MainWindow::toggle_theme() {
  Display display = workbench_.display();
  display.theme = theme_after(display.theme);
  workbench_.set_display(display);
}

void MainWindow::fit_to_screen() { setMinimumSize(fitting({960, 600}, screen())); }

void MainWindow::zoom_to(int percent) {
  if (percent == zoom()) return;
  setMinimumSize(0, 0);
  set_zoom(percent);
  fit_to_screen();
  if (remembered_) program_settings().setValue("show/zoom", zoom());
  show_message(zoom() == 100 ? QString()
                             : tr("Everything is shown at %1 %. Ctrl and 0 for 100 %.").arg(zoom()),
               false);
}

void MainWindow::zoom_by(int step) { zoom_to(zoom_step(zoom(), step)); }

void MainWindow::open_settings() {
  auto* dialog = new SettingsDialog(workbench_, this);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  connect(dialog, &SettingsDialog::size_wanted, this, &MainWindow::zoom_to);
  dialog->open();
}

void MainWindow::remember(Remembered remembered) {
  remembered_ = std::move(remembered);
  if (!remembered_->geometry.isEmpty()) {
    restoreGeometry(remembered_->geometry);
    if (!isMaximized() && !isFullScreen()) resize(fitting(size(), screen()));
  }
  connect(&workbench_, &Workbench::opened, this, [this] {
    remembered_->add_project(QString::fromStdString(workbench_.session().path().string()));
    remembered_->write();
  });
}

void MainWindow::write_remembered() {
  if (!remembered_) return;
  if (workbench_.has_project())
    remember_next(text_of(workbench_.session().path().string()), text_of(next_.sentence));
  remembered_->geometry = saveGeometry();
  remembered_->display = workbench_.display();
  for (std::size_t i = 0; i < stations_.size(); ++i)
    if (stations_[i] && stack_->currentWidget() == stations_[i])
      remembered_->station = kStations[i];
  remembered_->write();
}

}  // namespace bq::ui
