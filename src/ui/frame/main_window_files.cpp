// The window's questions about files: what to open, to take in, to write, and what is dropped on
// it.
#include <QClipboard>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QMimeData>
#include <QStackedWidget>
#include <QStandardPaths>
#include <sstream>

#include "store/project_copies.h"
#include "store/project_salvage.h"
#include "store/readings_export.h"
#include "store/readings_table.h"
#include "store/table_template.h"
#include "ui/frame/damaged_dialog.h"
#include "ui/frame/first_page.h"
#include "ui/frame/job_news.h"
#include "ui/frame/learn_dialog.h"
#include "ui/frame/main_window.h"
#include "ui/frame/path_rail.h"
#include "ui/frame/print_preview.h"
#include "ui/frame/table_dialog.h"
#include "ui/parts/save_file.h"
#include "ui/parts/words.h"
#include "workflow/data_package.h"
#include "workflow/demo_project.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

bool is_project(const QString& path) {
  if (path.endsWith(QLatin1String(".bquarry"))) return true;
  QFile file(path);
  return file.open(QIODevice::ReadOnly) && file.read(15) == QByteArray("SQLite format 3");
}

}  // namespace

void MainWindow::ask_open() {
  const QString path = QFileDialog::getOpenFileName(this, tr("Open project"), {},
                                                    tr("Brave Quarry projects and data packages "
                                                       "(*.bquarry *.zip)"));
  if (!path.isEmpty()) take_files({path});
}

void MainWindow::ask_new() {
  const QString path = name_of_new(tr("New project"), QStringLiteral("trial.bquarry"));
  if (!path.isEmpty()) workbench_.create(path);
}

QString MainWindow::name_of_new(const QString& question, const QString& suggestion) {
  QString path = QFileDialog::getSaveFileName(this, question, suggestion, project_files(), nullptr,
                                              QFileDialog::DontConfirmOverwrite);
  if (!path.isEmpty() && !path.endsWith(QLatin1String(".bquarry")))
    path += QStringLiteral(".bquarry");
  return path;
}

void MainWindow::do_errand(const QString& what, std::function<QString()> work,
                           std::function<void()> done) {
  show_progress(what, 0, 0);
  errand_.ask(
      [work = std::move(work)](const std::stop_token&) -> QString {
        try {
          return work();
        } catch (...) {
          return words_of_exception();
        }
      },
      [this, done = std::move(done)](const QString& refusal) {
        show_progress({}, 0, 0);
        if (refusal.isEmpty())
          done();
        else
          show_message(refusal, true);
      });
}

void MainWindow::ask_import() {
  const QStringList paths = QFileDialog::getOpenFileNames(
      this, tr("Import readings"), {},
      tr("Tables of readings (*.csv *.tsv *.txt *.xlsx *.ods);;All files (*)"));
  if (!paths.isEmpty()) workbench_.import_tables(paths);
}

void MainWindow::ask_copy() {
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Save a copy as"), {}, project_files());
  if (!path.isEmpty()) workbench_.save_copy(path);
}

void MainWindow::ask_export() {
  const QString path = QFileDialog::getSaveFileName(
      this, tr("Export readings"), QStringLiteral("readings.csv"),
      tr("Readings table (*.csv);;Everything as an open data package (*.zip);;The whole project "
         "as JSON (*.json)"));
  if (path.isEmpty()) return;
  if (path.endsWith(QLatin1String(".zip"))) return export_package(path);
  std::ostringstream text;
  if (path.endsWith(QLatin1String(".json")))
    workbench_.session().write_json(text);
  else
    write_readings_csv(workbench_.trial(), text);
  QString why;
  if (write_whole(path, text.str(), &why))
    show_message(tr("The readings were written to %1.").arg(path), false);
  else
    show_message(tr("%1 could not be written: %2. Nothing was changed.").arg(path, why), true);
}

void MainWindow::ask_learn() {
  const QString path =
      QFileDialog::getOpenFileName(this, tr("Take over from another project"), {}, project_files());
  if (!path.isEmpty()) learn(path);
}

void MainWindow::learn(const QString& other) {
  if (errand_.busy() || !workbench_.has_project()) return;
  const auto teacher = std::make_shared<Teacher>();
  do_errand(
      tr("Looking at the other project"),
      [other, teacher]() -> QString {
        std::vector<std::string> notes;
        *teacher = teacher_from(open_to_read(other.toStdString(), notes));
        return {};
      },
      [this, teacher] {
        auto* dialog = new LearnDialog(workbench_, std::move(*teacher), this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->open();
      });
}

void MainWindow::ask_template() {
  const std::pair<TemplateKind, QString> kinds[] = {
      {TemplateKind::readings, tr("Readings, one row each (*.ods)")},
      {TemplateKind::run_per_row, tr("Readings, one row a run (*.ods)")},
      {TemplateKind::blades, tr("Blades (*.ods)")},
      {TemplateKind::stones, tr("Stones and other abrasives (*.ods)")},
      {TemplateKind::pairs, tr("Before and after (*.ods)")},
      {TemplateKind::gauge, tr("Gauge study (*.ods)")},
      {TemplateKind::strokes, tr("Force strokes (*.ods)")}};
  QStringList filters;
  for (const auto& [kind, words] : kinds) filters << words;
  QString chosen = filters.front();
  QString path =
      QFileDialog::getSaveFileName(this, tr("A table to fill in"), QStringLiteral("my-table.ods"),
                                   filters.join(QStringLiteral(";;")), &chosen);
  if (path.isEmpty()) return;
  const TemplateKind kind = kinds[std::max(qsizetype(0), filters.indexOf(chosen))].first;
  const bool csv = path.endsWith(QLatin1String(".csv"));
  if (!csv && !path.endsWith(QLatin1String(".ods"))) path += QStringLiteral(".ods");
  const auto rows = template_rows(kind);
  QString why;
  if (write_whole(path, csv ? csv_of(rows) : ods_of(rows, std::string(name_of(kind))), &why))
    show_message(tr("%1 was written: fill it in, then start from it.").arg(path), false);
  else
    show_message(tr("%1 could not be written: %2. Nothing was changed.").arg(path, why), true);
}

void MainWindow::export_package(const QString& path) {
  if (errand_.busy()) return;
  do_errand(
      tr("Packing everything, with every answer"),
      [path, project = workbench_.session().path().string()]() -> QString {
        const QString day = QDate::currentDate().toString(Qt::ISODate);
        const std::string bytes = package_of(project, day.toStdString());
        QString why;
        if (write_whole(path, bytes, &why)) return {};
        return tr("%1 could not be written: %2. Nothing was changed.").arg(path, why);
      },
      [this, path] {
        show_message(
            tr("Everything was packed into %1: tables, pictures, methods, answers.").arg(path),
            false);
      });
}

void MainWindow::open_package(const QString& path) {
  const QFileInfo package(path);
  const QString project =
      name_of_new(tr("Where the project from this package goes"),
                  package.dir().filePath(package.completeBaseName() + QStringLiteral(".bquarry")));
  if (project.isEmpty() || errand_.busy()) return;
  do_errand(
      tr("Making the project again"),
      [path, project]() -> QString {
        create_from_package(project.toStdString(),
                            read_text_file(path.toStdString(), kMostPackageBytes));
        return {};
      },
      [this, project] { workbench_.open(project); });
}

void MainWindow::paste_table() {
  const QMimeData* copied = QGuiApplication::clipboard()->mimeData();
  QStringList files;
  for (const auto& url : copied->urls())
    if (url.isLocalFile()) files << url.toLocalFile();
  if (!files.isEmpty()) return take_files(files);
  if (copied->text().trimmed().isEmpty()) {
    show_message(tr("Nothing was copied that is a table: copy its cells first."), true);
    return;
  }
  if (!pasted_) pasted_ = std::make_unique<QTemporaryDir>();
  const QString path = pasted_->filePath(tr("pasted-table") + QStringLiteral(".txt"));
  QFile file(path);
  if (!file.open(QIODevice::WriteOnly) || file.write(copied->text().toUtf8()) < 0) {
    show_message(tr("There is no room for what was pasted. Nothing was changed."), true);
    return;
  }
  file.close();
  take_files({path});
}

void MainWindow::start_from_table() {
  const QString path = QFileDialog::getOpenFileName(
      this, tr("Start from my table"), {},
      tr("Tables of readings (*.csv *.tsv *.txt *.xlsx *.ods);;All files (*)"));
  if (!path.isEmpty()) take_files({path});
}

void MainWindow::take_files(const QStringList& paths) {
  QStringList tables;
  QString project_there;
  for (const auto& path : paths)
    if (path.endsWith(QLatin1String(".zip"), Qt::CaseInsensitive))
      return open_package(path);
    else if (is_project(path))
      project_there = path;
    else
      tables << path;
  if (!project_there.isEmpty()) {
    waiting_tables_ = tables;
    workbench_.open(project_there);
    return;
  }
  if (tables.isEmpty()) return;
  if (workbench_.has_project()) {
    workbench_.import_tables(tables);
    return;
  }
  // A table without a project begins one, beside it and under its name.
  const QFileInfo table(tables.front());
  const bool is_pasted = pasted_ && table.dir() == QDir(pasted_->path());
  const QDir beside =
      is_pasted ? QDir(QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation))
                : table.dir();
  QString project = beside.filePath(table.completeBaseName() + QStringLiteral(".bquarry"));
  for (int i = 2; QFileInfo::exists(project); ++i)
    project = beside.filePath(QStringLiteral("%1-%2.bquarry").arg(table.completeBaseName()).arg(i));
  project = name_of_new(tr("New project for this table"), project);
  if (project.isEmpty()) return;
  waiting_tables_ = tables;
  workbench_.create(project);
}

void MainWindow::understand_table(const QStringList& paths, const QString& odd) {
  auto* dialog =
      new TableDialog(odd, names_of(workbench_.trial()), workbench_.display().angles, this);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->setWindowModality(Qt::WindowModal);
  connect(dialog, &QDialog::accepted, this, [this, dialog, paths] {
    workbench_.import_tables(paths, std::make_shared<TableMap>(dialog->map()));
  });
  dialog->open();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  QStringList paths;
  for (const auto& url : event->mimeData()->urls())
    if (url.isLocalFile()) paths << url.toLocalFile();
  if (paths.isEmpty()) return;
  event->acceptProposedAction();
  take_files(paths);
}

void MainWindow::begin() {
  if (workbench_.has_project() || workbench_.opening())
    go_to(Station::rack);
  else
    show_start();
}

std::vector<WayIn> MainWindow::ways_in() {
  return {
      {tr("Start from my table …"),
       tr("Readings as you keep them: a spreadsheet (.xlsx, .ods), text, or copied cells pasted "
          "here. It is shown what each column is taken for; what is not said is asked."),
       [this] { start_from_table(); }},
      {tr("New bench …"), tr("An empty project: blades first, then runs and their readings."),
       [this] { ask_new(); }},
      {tr("Look at the demo …"),
       tr("A made-up trial of three steels at an upholstery works, a copy of your own to try "
          "everything on."),
       [this] { start_demo(); }},
      {tr("Open a project …"), tr("A file that ends in .bquarry, or a data package (.zip)."),
       [this] { ask_open(); }}};
}

void MainWindow::visit(Station which) {
  if (workbench_.has_project() || workbench_.opening()) return go_to(which);
  if (!purpose_) {
    purpose_ = new StationPurpose(ways_in());
    stack_->addWidget(purpose_);
  }
  purpose_station_ = which;
  purpose_->show_station(text_of(name_of(which)));
  stack_->setCurrentWidget(purpose_);
  rail_->set_current(int(which));
  refresh_frame();
}

void MainWindow::show_start() {
  if (!start_) {
    start_ = new FirstPage(ways_in());
    connect(start_, &FirstPage::project_wanted, &workbench_, &Workbench::open);
    stack_->addWidget(start_);
  }
  std::vector<RecentProject> recent;
  const QStringList paths =
      remembered_ ? remembered_->projects : Remembered::read(ThemeName::chalk).projects;
  for (const auto& path : paths) recent.push_back({path, next_in(path)});
  start_->show_recent(recent);
  stack_->setCurrentWidget(start_);
  refresh_frame();
}

void MainWindow::start_demo() {
  const QString documents = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
  const QString path =
      name_of_new(tr("Where your copy of the demo goes"),
                  QDir(documents).filePath(QStringLiteral("fernmoor-demo.bquarry")));
  if (!path.isEmpty() && !errand_.busy()) make_demo(path);
}

void MainWindow::make_demo(const QString& path) {
  do_errand(
      tr("Making the demo"),
      [path]() -> QString {
        const auto text = [](const char* name) {
          QFile file(QStringLiteral(":/demo/") + QLatin1String(name));
          return file.open(QIODevice::ReadOnly) ? file.readAll().toStdString() : std::string();
        };
        const std::string world = text("fernmoor.json");
        const auto recipe = parse_recipe(world);
        if (!recipe) return text_of(recipe.refusal().reason);
        std::istringstream table(text("fernmoor.csv"));
        ReadingsTableReader reader;
        reader.read(table, "fernmoor.csv");
        make_demo_project(path.toStdString(), *recipe, reader.finish().trial,
                          text("fernmoor-rack.json"), text("fernmoor-plan.json"),
                          text("fernmoor-claims.json"), world, text("fernmoor-bench.json"));
        return {};
      },
      [this, path] { workbench_.open(path); });
}

void MainWindow::offer_ways_back(const QString& project, const QString& sentence) {
  auto* dialog = new DamagedDialog(project, sentence, this);
  connect(dialog, &DamagedDialog::copy_wanted, this,
          [this, project](const QString& copy) { go_back_to(copy, project); });
  connect(dialog, &DamagedDialog::salvage_wanted, this, [this, project] { ask_salvage(project); });
  dialog->open();
}

void MainWindow::go_back_to(const QString& copy, const QString& project) {
  const auto aside = std::make_shared<QString>();
  do_errand(
      tr("Putting the copy back"),
      [copy, project, aside]() -> QString {
        *aside = QString::fromStdString(
            go_back_to_copy(copy.toStdString(), project.toStdString()).filename().string());
        return {};
      },
      [this, project, aside] {
        workbench_.open(project);
        show_message(
            tr("The copy is in its place. The damaged file is kept as “%1” beside it.").arg(*aside),
            false);
      });
}

void MainWindow::ask_salvage(const QString& project) {
  const QFileInfo file(project);
  const QString made = name_of_new(
      tr("Where the new project goes"),
      file.dir().filePath(file.completeBaseName() + QStringLiteral("-salvaged.bquarry")));
  if (!made.isEmpty() && !errand_.busy()) salvage(project, made);
}

void MainWindow::salvage(const QString& project, const QString& made) {
  const auto out = std::make_shared<Salvage>();
  do_errand(
      tr("Taking out what can be read"),
      [project, made, out]() -> QString {
        *out = salvage_project(project.toStdString(), made.toStdString());
        return {};
      },
      [this, made, out] {
        workbench_.open(made);
        QString told = tr("%1 readings of %2 runs were taken out. ")
                           .arg(QString::fromStdString(print_cuts(double(out->readings))),
                                QString::fromStdString(print_cuts(double(out->runs))));
        constexpr std::size_t kNamed = 4;
        for (std::size_t i = 0; i < std::min(kNamed, out->lost.size()); ++i)
          told += (i == 0 ? tr("Lost: ") : QStringLiteral("; ")) + text_of(out->lost[i].what);
        if (out->lost.size() > kNamed) told += tr(" and %1 more").arg(out->lost.size() - kNamed);
        told += out->lost.empty() ? tr("Nothing was found lost.") : QStringLiteral(".");
        show_message(told, !out->lost.empty());
      });
}

}  // namespace bq::ui
