// The window: its menu, Go to anything and About.
#include "ui/frame/main_window.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QMenu>
#include <QMessageBox>
#include <utility>

#include "store/plan_file.h"
#include "ui/bench/bench_view.h"
#include "ui/frame/first_page.h"
#include "ui/frame/go_to_palette.h"
#include "ui/frame/log_file.h"
#include "ui/frame/next_action_bar.h"
#include "ui/frame/term_hints.h"
#include "ui/lens/lens_view.h"
#include "ui/parts/words.h"
#include "ui/rack/rack_view.h"
#include "ui/section/section_view.h"
#include "ui/stones/stones_view.h"
#include "ui/verdict/verdict_view.h"

namespace bq::ui {

void MainWindow::open_menu() {
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  const bool project = workbench_.has_project();
  menu->addAction(tr("Go to anything…\tCtrl+K"), this, &MainWindow::open_palette);
  menu->addSeparator();
  menu->addAction(tr("New project…"), this, &MainWindow::ask_new);
  menu->addAction(tr("Start from my table…"), this, &MainWindow::start_from_table);
  menu->addAction(tr("Open project…\tCtrl+O"), this, &MainWindow::ask_open);
  menu->addAction(tr("Import readings…"), this, &MainWindow::ask_import)
      ->setEnabled(project && workbench_.writable());
  menu->addAction(tr("Paste a table\tCtrl+Shift+V"), this, &MainWindow::paste_table);
  menu->addAction(tr("Take over from another project…"), this, &MainWindow::ask_learn)
      ->setEnabled(project);
  menu->addAction(tr("A table to fill in…"), this, &MainWindow::ask_template);
  menu->addAction(tr("Export readings, or everything…"), this, &MainWindow::ask_export)
      ->setEnabled(project);
  menu->addAction(tr("Labels for blades, runs and stones…"), this, &MainWindow::ask_labels)
      ->setEnabled(project);
  menu->addAction(tr("Print labels…"), this, &MainWindow::print_labels)->setEnabled(project);
  menu->addAction(tr("Save a copy as…"), this, &MainWindow::ask_copy)->setEnabled(project);
  menu->addSeparator();
  const bool can_undo = project && workbench_.session().can_undo();
  const bool can_redo = project && workbench_.session().can_redo();
  menu->addAction(
          can_undo ? tr("Undo %1\tCtrl+Z").arg(in_label(text_of(workbench_.session().undo_text())))
                   : tr("Nothing to undo"),
          &workbench_, &Workbench::undo)
      ->setEnabled(can_undo);
  menu->addAction(
          can_redo
              ? tr("Redo %1\tCtrl+Shift+Z").arg(in_label(text_of(workbench_.session().redo_text())))
              : tr("Nothing to redo"),
          &workbench_, &Workbench::redo)
      ->setEnabled(can_redo);
  menu->addSeparator();
  menu->addAction(tr("Settings…\tCtrl+,"), this, &MainWindow::open_settings);
  menu->addAction(theme_words(), this, &MainWindow::toggle_theme);
  menu->addAction(isFullScreen() ? tr("Leave full screen\tF11") : tr("Full screen\tF11"), this,
                  [this] { fill_screen(!isFullScreen()); });
  menu->addAction(tr("First trial, step by step"), this, &MainWindow::start_first_trial);
  menu->addAction(tr("Guide\tF1"), this, &MainWindow::open_help);
  menu->addAction(tr("About"), this, &MainWindow::show_about);
  menu->addAction(tr("Quit\tCtrl+Q"), this, &QWidget::close);
  menu->popup(bar_->menu_button()->mapToGlobal(QPoint(0, bar_->menu_button()->height())));
}

void MainWindow::open_palette() {
  std::vector<Destination> places;
  for (const Station station : kStations)
    places.push_back({shown(station), tr("station"), [this, station] { go_to(station); }});
  const auto act = [&](const QString& text, auto member) {
    places.push_back({text, tr("do"), [this, member] { (this->*member)(); }});
  };
  act(tr("Switch between chalk, slate and high contrast"), &MainWindow::toggle_theme);
  act(tr("Settings: theme, size, angles, units, what is heard"), &MainWindow::open_settings);
  act(tr("Open project"), &MainWindow::ask_open);
  act(tr("New project"), &MainWindow::ask_new);
  act(tr("Guide: what this screen is for"), &MainWindow::open_help);
  act(tr("First trial, step by step"), &MainWindow::start_first_trial);
  act(tr("Start from my table"), &MainWindow::start_from_table);
  if (workbench_.has_project()) {
    act(tr("Import readings"), &MainWindow::ask_import);
    act(tr("Export readings"), &MainWindow::ask_export);
    act(tr("Save a copy"), &MainWindow::ask_copy);
    act(tr("Take over steels, stones and the bench from another project"), &MainWindow::ask_learn);
    act(tr("Labels for blades, runs and stones"), &MainWindow::ask_labels);
    act(tr("Print labels for blades, runs and stones"), &MainWindow::print_labels);
    places.push_back({tr("Undo"), tr("do"), [this] { workbench_.undo(); }});
    places.push_back({tr("Redo"), tr("do"), [this] { workbench_.redo(); }});
  }
  const Trial& trial = workbench_.trial();
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const auto& facts = trial.runs[i].facts;
    const bool covered = workbench_.is_covered(i);
    QString text = text_of(facts.name);
    if (!covered) text += "  " + text_of(facts.steel);
    if (facts.geometry && !covered)
      text += "  " +
              QString::fromStdString(print_geometry(*facts.geometry, workbench_.display().angles));
    places.push_back({text, tr("run"), [this, i] {
                        workbench_.choose_run(int(i));
                        go_to(Station::bench);
                      }});
  }
  for (std::size_t i = 0; i < trial.blades.size(); ++i)
    places.push_back({QString::fromStdString(trial.blades[i].name), tr("blade"), [this, i] {
                        go_to(Station::rack);
                        static_cast<RackView*>(station(Station::rack))->choose_blade(int(i));
                      }});
  act(tr("Paste a table"), &MainWindow::paste_table);
  act(tr("A table to fill in"), &MainWindow::ask_template);
  places.push_back({tr("Show angles per side, or inclusive"), tr("setting"), [this] {
                      Display display = workbench_.display();
                      display.angles = display.angles == AngleConvention::inclusive
                                           ? AngleConvention::per_side
                                           : AngleConvention::inclusive;
                      workbench_.set_display(display);
                    }});
  for (const Unit unit : {Unit::gf, Unit::N, Unit::lbf, Unit::ozf})
    places.push_back(
        {tr("Show readings in %1").arg(text_of(sign_of(unit))), tr("setting"), [this, unit] {
           Display display = workbench_.display();
           display.force = unit;
           workbench_.set_display(display);
         }});
  add_guide_places(places);
  auto* palette = new GoToPalette(std::move(places), this);
  palette->move(mapToGlobal(QPoint((width() - palette->width()) / 2, 60)));
  palette->show();
}

void MainWindow::show_about() {
  QMessageBox about(this);
  about.setWindowTitle(tr("About Brave Quarry"));
  about.setText(tr("Brave Quarry %1").arg(QCoreApplication::applicationVersion()));
  about.setInformativeText(
      tr("Which edge stays useful longest for this work, and how do we know?\n\n"
         "Cautions shown here do not replace local rules, workplace procedure or trained "
         "persons.\n\nLicence: GPL-3.0-or-later.\n\n%1")
          .arg(log_path().isEmpty() ? tr("No log file could be made.")
                                    : tr("What happens is written to %1.").arg(log_path())));
  auto* copy = about.addButton(tr("Copy what happened"), QMessageBox::ActionRole);
  about.setDefaultButton(about.addButton(QMessageBox::Close));
  copy->disconnect();  // copying does not close it
  connect(copy, &QAbstractButton::clicked, &about, [copy] {
    QGuiApplication::clipboard()->setText(tr("Brave Quarry %1, Qt %2, %3\n%4")
                                              .arg(QCoreApplication::applicationVersion(),
                                                   QString::fromLatin1(qVersion()),
                                                   QSysInfo::prettyProductName(), log_tail()));
    copy->setText(tr("Copied"));
  });
  about.exec();
}

}  // namespace bq::ui
