// The window's ways into the guide: by F1, by a link, by typing.
#include <QPushButton>
#include <QStackedWidget>
#include <QUrl>
#include <memory>

#include "ui/frame/first_page.h"
#include "ui/frame/first_trial.h"
#include "ui/frame/go_to_palette.h"
#include "ui/frame/help_index.h"
#include "ui/frame/help_window.h"
#include "ui/frame/main_window.h"
#include "ui/parts/words.h"

namespace bq::ui {

void MainWindow::open_help() {
  // The page of the tab that is open, else what the station is for.
  for (std::size_t i = 0; i < stations_.size(); ++i) {
    if (!stations_[i] || stack_->currentWidget() != stations_[i]) continue;
    const QString station = text_of(name_of(Station(int(i))));
    for (const auto* tab : stations_[i]->findChildren<QPushButton*>(QStringLiteral("tab")))
      if (tab->isChecked() && tab->isVisible())
        if (const auto* page = HelpIndex::get().page(station + QStringLiteral(": ") + tab->text()))
          return open_guide_at(page->title);
    return open_guide_at(station);
  }
  if (purpose_ && stack_->currentWidget() == purpose_)
    return open_guide_at(text_of(name_of(purpose_station_)));
  open_guide_at(QStringLiteral("First steps: The first window"));
}

void MainWindow::open_guide_at(const QString& title) {
  if (!help_) help_ = new HelpWindow(this);
  help_->open_at(title);
}

void MainWindow::follow_guide(const QUrl& link) { open_guide_at(link.path()); }

void MainWindow::help_on(QWidget* dialog) {
  // A window that holds the others up holds the guide up, too, unless it is the guide's own.
  auto* help = new HelpWindow(dialog);
  help->setAttribute(Qt::WA_DeleteOnClose);
  help->open_at(dialog->windowTitle());
}

void MainWindow::add_guide_places(std::vector<Destination>& places) {
  for (const auto& page : HelpIndex::get().pages()) {
    const QString chapter = page.title.section(QStringLiteral(": "), 0, 0),
                  tab = page.title.section(QStringLiteral(": "), 1);
    for (int i = 0; i < int(stations_.size()); ++i) {
      const auto which = Station(i);
      if (chapter != text_of(name_of(which)) || tab.isEmpty()) continue;
      places.push_back({page.title, tr("page"), [this, which, tab, title = page.title] {
                          go_to(which);
                          const auto tabs =
                              station(which)->findChildren<QPushButton*>(QStringLiteral("tab"));
                          for (auto* button : tabs)
                            if (button->text() == tab) return button->click();
                          open_guide_at(title);
                        }});
    }
    places.push_back(
        {page.title, tr("guide"), [this, title = page.title] { open_guide_at(title); }});
  }
  for (const auto& term : HelpIndex::get().terms()) {
    QString said = term.word;
    if (!term.also.isEmpty()) said += QStringLiteral("  ") + term.also.join(QStringLiteral(", "));
    places.push_back({said, tr("word"), [this, word = term.word] { open_guide_at(word); }});
  }
}

std::vector<TrialStep> MainWindow::steps_of_first_trial() {
  // The words are the guide's; what counts as done is looked up here, in the same order.
  const auto seen = [this](Station which) {
    return [this, which] {
      return workbench_.has_project() && stations_[std::size_t(which)] &&
             stack_->currentWidget() == stations_[std::size_t(which)];
    };
  };
  const auto go = [this](Station which) { return [this, which] { visit(which); }; };
  const auto readings = [this] {
    return workbench_.has_project() ? workbench_.trial().reading_count() : std::size_t(0);
  };
  const auto before = std::make_shared<std::size_t>(readings());
  std::vector<TrialStep> steps{
      {{}, go(Station::rack), seen(Station::rack)},
      {{}, go(Station::bench), [readings, before] { return readings() > *before; }},
      {{}, go(Station::findings), seen(Station::findings)},
      {{}, go(Station::verdict), seen(Station::verdict)},
      {{}, go(Station::plan), seen(Station::plan)},
      {{}, [this] { workbench_.undo(); }, [readings, before] { return readings() <= *before; }}};
  const HelpPage* page =
      HelpIndex::get().page(QStringLiteral("First steps: First trial, on the demo"));
  std::size_t at = 0;
  for (const QString& line : page->text.split('\n'))
    if (line.startsWith(QStringLiteral("%1. ").arg(at + 1)) && at < steps.size())
      steps[at++].text = line.mid(3);
  return steps;
}

void MainWindow::start_first_trial() {
  if (!workbench_.has_project()) {
    show_message(tr("The first trial is played on the demo: make your copy of it, then choose this "
                    "again."),
                 false);
    return start_demo();
  }
  auto* trial = new FirstTrial(steps_of_first_trial(), this);
  connect(stack_, &QStackedWidget::currentChanged, trial, &FirstTrial::look);
  connect(&workbench_, &Workbench::changed, trial, &FirstTrial::look);
  trial->show();
  trial->move(mapToGlobal(QPoint(width() - trial->width() - 20, height() - trial->height() - 50)));
}

}  // namespace bq::ui
