// What holds for the whole window: names are plain text, the open project stays open, nothing that
// comes back late lands elsewhere, nothing that is thrown ends the program, places keep still.
#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

#include <QApplication>
#include <QDir>
#include <QFileDialog>
#include <QImage>
#include <QLabel>
#include <QListView>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <QTest>
#include <QTimer>
#include <atomic>
#include <cstdlib>
#include <fstream>
#include <new>

#include "store/project_copies.h"
#include "store/project_file.h"
#include "support.h"
#include "ui/frame/damaged_dialog.h"
#include "ui/frame/house_rules.h"
#include "ui/frame/job_news.h"
#include "ui/frame/latest_job.h"
#include "ui/frame/log_file.h"
#include "ui/frame/main_window.h"
#include "ui/frame/next_action_bar.h"
#include "ui/hand.h"
#include "ui/lens/lens_model.h"
#include "ui/lens/lens_view.h"
#include "ui/whole_station.h"

using namespace bq;
using namespace bq::ui;
using test::wait_for;

namespace {

std::filesystem::path small_project(const std::filesystem::path& path, const std::string& blade,
                                    const std::string& run) {
  auto project = ProjectFile::create(path, blade);
  project.add_blade({0, blade, "Steel " + blade, "note " + blade, false, {}});
  bq::Run planned;
  planned.facts.name = run;
  planned.facts.blade = blade;
  planned.facts.medium = "mat " + blade;
  planned.plan.checkpoints = {0, 10};
  project.add_run(planned);
  return path;
}

void open(MainWindow& window, const std::filesystem::path& path) {
  window.workbench().open(QString::fromStdString(path.string()));
  ASSERT_TRUE(wait_for([&] {
    return window.workbench().has_project() && window.workbench().session().path() == path;
  })) << window.message().toStdString();
}

TEST(Names, ArePlainTextThroughEveryStation) {
  const test::Folder folder;
  const std::string hostile = "<h1>R&D</h1><img src='file:///dev/zero'> %1 %2";
  const auto path = small_project(folder / "p.bquarry", hostile, "<b>" + hostile);
  MainWindow window;
  window.show();
  open(window, path);
  int with_markup = 0;
  for (int s = 0; s < 8; ++s) {
    (void)test::whole_station(window, Station(s));
    for (const auto* label : window.findChildren<QLabel*>()) {
      // What is put into a sentence later does not fill the places a name seems to have.
      const int at = int(label->text().indexOf("zero'>"));
      if (at >= 0 && !label->text().contains(QChar(0x2026)))
        EXPECT_TRUE(label->text().mid(at).startsWith("zero'> %1 %2"))
            << label->text().toStdString();
      if (!label->text().contains('<')) continue;
      if (label->textFormat() == Qt::RichText) {
        EXPECT_FALSE(label->text().contains("<h1>")) << label->text().toStdString();
        continue;
      }
      if (!label->isVisible()) continue;  // polished when it is shown
      ++with_markup;
      EXPECT_EQ(label->textFormat(), Qt::PlainText) << label->text().toStdString();
    }
  }
  EXPECT_GT(with_markup, 0) << "the names were on the screen";
  QMessageBox box(QMessageBox::NoIcon, "t", QString::fromStdString(hostile));
  box.ensurePolished();
  EXPECT_EQ(box.textFormat(), Qt::PlainText);
}

/// Does it with the next dialog that asks for a file.
void when_file_dialog(const std::function<void(QFileDialog*)>& act) {
  QTimer::singleShot(50, qApp, [act] {
    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
    if (!dialog) return when_file_dialog(act);
    act(dialog);
  });
}

/// The next dialog that asks for a file is answered with this one.
void answer_file_dialog(const QString& file) {
  when_file_dialog([file](QFileDialog* dialog) {
    dialog->selectFile(file);
    QMetaObject::invokeMethod(dialog, "accept");
  });
}

/// The dialog that is open lists this folder, and is left with Esc.
void look_and_escape(std::atomic<bool>& listed, const QString& file) {
  when_file_dialog([&listed, file](QFileDialog* dialog) {
    const auto there = [dialog, file] {
      auto* view = dialog->findChild<QListView*>(QStringLiteral("listView"));
      const auto* model = view ? view->model() : nullptr;
      for (int row = 0; model && row < model->rowCount(view->rootIndex()); ++row)
        if (model->index(row, 0, view->rootIndex()).data().toString() == file) return true;
      return false;
    };
    dialog->setNameFilter(QStringLiteral("*"));
    listed = wait_for(there);
    QTest::keyClick(dialog, Qt::Key_Escape);
  });
}

TEST(Lock, HoldsWhateverADialogOpensAndClosesInTheProjectsFolder) {
  const test::Folder folder;
  const auto path = small_project(folder / "kept.bquarry", "b", "R1");
  const auto table = folder.write("t.csv", "run,cuts,reading,unit\nX,0,300,gf\nX,10,340,gf\n");
  for (const char* name : {"a.png", "b.png"}) {
    QImage image(40, 30, QImage::Format_Grayscale8);
    image.fill(name[0]);
    ASSERT_TRUE(image.save(QString::fromStdString((folder / name).string())));
  }
  const QString here = QDir::currentPath();
  ASSERT_TRUE(QDir::setCurrent(QString::fromStdString(path.parent_path().string())));
  const auto import = [&] {
    return std::system(("'" BQ_CLI "' import '" + path.string() + "' '" + table.string() +
                        "' --append > /dev/null 2>&1")
                           .c_str());
  };
  {
    MainWindow window;
    window.show();
    open(window, path);
    window.go_to(Station::lens);
    auto& lens = static_cast<LensView*>(window.station(Station::lens))->model();
    lens.watch(QDir::currentPath());
    for (int round = 0; round < 2; ++round) {
      std::atomic<bool> listed = false;
      look_and_escape(listed, QStringLiteral("kept.bquarry"));
      QTest::mouseClick(window.findChild<NextActionBar*>()->menu_button(), Qt::LeftButton);
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      ASSERT_NE(menu, nullptr);
      for (auto* action : menu->actions())
        if (action->text().startsWith("Export readings")) action->trigger();
      menu->close();
      EXPECT_TRUE(listed) << "the dialog showed the project's own file";
      EXPECT_NE(import(), 0) << "a second writer stays out";
    }
    lens.bring_in({QDir::current().filePath("a.png"), QDir::current().filePath("b.png")});
    ASSERT_TRUE(wait_for([&] { return window.workbench().trial().micrographs.size() >= 2; }));
    EXPECT_NE(import(), 0);
    ASSERT_TRUE(
        window.workbench().edit([](ProjectSession& s) { s.keep_reading(0, 300, Unit::gf, ""); }));
    ASSERT_TRUE(wait_for([&] { return window.workbench().all_kept(); }));
  }
  EXPECT_EQ(import(), 0) << "closed: now it may";
  auto kept = ProjectFile::open(path, ProjectFile::Access::read);
  EXPECT_TRUE(kept.check().empty());
  EXPECT_EQ(kept.load().micrographs.size(), 2u);
  EXPECT_EQ(kept.load().reading_count(), 3u);
  QDir::setCurrent(here);
}

TEST(Jobs, AFileThatIsRefusedLeavesTheOpenProjectOpen) {
  const test::Folder folder;
  const auto good = small_project(folder / "good.bquarry", "good", "R1");
  std::ofstream(folder / "bad.bquarry") << "no project at all, but long enough to be read as one";
  MainWindow window;
  window.show();
  open(window, good);
  window.workbench().open(QString::fromStdString((folder / "bad.bquarry").string()));
  ASSERT_TRUE(wait_for([&] { return window.message().contains("is not a Brave Quarry project"); }));
  EXPECT_TRUE(window.message().contains("stays open")) << window.message().toStdString();
  ASSERT_TRUE(window.workbench().has_project());
  EXPECT_EQ(window.workbench().session().path(), good);
  EXPECT_TRUE(window.workbench().edit(
      [](ProjectSession& s) { s.add_blade({0, "another", "", "", false, {}}); }));
  EXPECT_TRUE(window.windowTitle().contains("good"));
}

TEST(Jobs, AnImportThatEndsAfterAnotherProjectWasOpenedLandsNowhere) {
  const test::Folder folder;
  const auto one = small_project(folder / "one.bquarry", "one", "R1");
  const auto two = small_project(folder / "two.bquarry", "two", "R1");
  const auto table = folder / "t.csv";
  {
    std::ofstream out(table);
    out << "run,cuts,reading,unit\n";
    for (int i = 0; i < 200000; ++i) out << "X" << i / 1000 << ',' << i % 1000 << ",100,gf\n";
  }
  MainWindow window;
  window.show();
  open(window, one);
  window.workbench().import_tables({QString::fromStdString(table.string())});
  window.workbench().open(QString::fromStdString(two.string()));
  ASSERT_TRUE(wait_for([&] { return window.message().contains("nothing of it was imported"); }))
      << window.message().toStdString();
  EXPECT_EQ(window.workbench().session().path(), two);
  EXPECT_EQ(window.workbench().trial().runs.size(), 1u);
  EXPECT_EQ(window.workbench().trial().reading_count(), 0u);
}

TEST(Jobs, WhatIsThrownBecomesASentence) {
  const test::Folder folder;
  MainWindow window;
  window.show();
  open(window, small_project(folder / "p.bquarry", "b", "R1"));
  const Edited edited = window.workbench().edit([](ProjectSession&) { throw std::bad_alloc(); });
  EXPECT_FALSE(edited);
  EXPECT_TRUE(edited.refusal.contains("not enough memory")) << edited.refusal.toStdString();
  EXPECT_TRUE(window.message().contains("not enough memory"));
  LatestJob<int> job;
  bool done = false;
  job.ask([](const std::stop_token&) -> int { throw std::runtime_error("the table bites"); },
          [&](int) { done = true; });
  EXPECT_TRUE(wait_for([&] { return window.message().contains("the table bites"); }));
  EXPECT_FALSE(done);
  EXPECT_FALSE(job.busy()) << "the next one can begin";
  QMetaObject::invokeMethod(
      &window, [] { throw std::runtime_error("thrown in a click"); }, Qt::QueuedConnection);
  EXPECT_TRUE(wait_for([&] { return window.message().contains("thrown in a click"); }));
  // A number of its own: what comes back for another project is dropped.
  std::uint64_t project = 1;
  bool dropped = false;
  LatestJob<int> late;
  late.belongs_to([&] { return project; }, [&] { dropped = true; });
  late.ask([](const std::stop_token&) { return 1; }, [&](int) { done = true; });
  project = 2;
  EXPECT_TRUE(wait_for([&] { return dropped; }));
  EXPECT_FALSE(done);
}

TEST(Undo, SaysWhatWasUndoneAndThatThereIsNothing) {
  const test::Folder folder;
  MainWindow window;
  window.show();
  open(window, small_project(folder / "p.bquarry", "b", "R1"));
  window.workbench().undo();
  EXPECT_TRUE(window.message().contains("Nothing to undo")) << window.message().toStdString();
  window.workbench().edit([](ProjectSession& s) { s.add_blade({0, "c", "", "", false, {}}); });
  window.workbench().undo();
  EXPECT_TRUE(window.message().startsWith("Undone: ")) << window.message().toStdString();
  EXPECT_EQ(window.workbench().trial().blades.size(), 1u);
}

TEST(Top, PlacesKeepStillWhenAReadingIsKeptAndWithALongName) {
  const test::Folder folder;
  MainWindow window;
  window.show();
  open(window, small_project(folder / "p.bquarry", std::string(120, 'W') + " long", "R1"));
  auto* bar = window.findChild<NextActionBar*>();
  ASSERT_NE(bar, nullptr);
  const auto places = [&] {
    QTest::qWait(30);
    std::vector<QRect> out;
    for (const auto* button : bar->findChildren<QPushButton*>())
      if (button->isVisible() && button->objectName() != "primary")
        out.push_back(button->geometry());
    for (const auto* box : bar->findChildren<QComboBox*>()) out.push_back(box->geometry());
    return out;
  };
  const auto before = places();
  bar->show_kept(QDateTime(QDate(2026, 1, 1), QTime(22, 58, 58)));
  EXPECT_EQ(places(), before);
  bq::ui::Display display = window.workbench().display();
  display.angles = AngleConvention::inclusive;
  window.workbench().set_display(display);
  EXPECT_EQ(places(), before);
  for (const auto* label : bar->findChildren<QLabel*>())
    if (label->text().startsWith("kept")) {
      EXPECT_GE(label->width(), label->sizeHint().width()) << "kept 22:58:58 is whole";
    }
}

TEST(Remembered, TheWindowComesBackAsItWasLeft) {
  const test::Folder folder;
  qputenv("XDG_CONFIG_HOME", QByteArray::fromStdString((folder / "config").string()));
  const auto path = small_project(folder / "p.bquarry", "b", "R1");
  {
    MainWindow window;
    window.remember(Remembered::read(ThemeName::slate));
    window.resize(1010, 650);
    window.show();
    open(window, path);
    bq::ui::Display display = window.workbench().display();
    display.force = Unit::N;
    display.angles = AngleConvention::inclusive;
    window.workbench().set_display(display);
    window.go_to(Station::plan);
    window.close();
  }
  const Remembered back = Remembered::read(ThemeName::slate);
  EXPECT_EQ(back.display.force, Unit::N);
  EXPECT_EQ(back.display.angles, AngleConvention::inclusive);
  EXPECT_EQ(back.station, Station::plan);
  ASSERT_EQ(back.projects.size(), 1);
  EXPECT_EQ(back.projects.front().toStdString(), path.string());
  MainWindow window;
  window.remember(back);
  EXPECT_EQ(window.size(), fitting({1010, 650}, window.screen()));
  // A first start takes the theme that the desktop has.
  QSettings(QSettings::IniFormat, QSettings::UserScope, "brave-quarry", "brave-quarry").clear();
  EXPECT_EQ(Remembered::read(ThemeName::slate).display.theme, ThemeName::slate);
}

TEST(Remembered, TheLogIsBoundedAndShowsControlCharacters) {
  const test::Folder folder;
  begin_log(QString::fromStdString((folder / "log").string()));
  for (int i = 0; i < 9000; ++i) qInfo("line %d \x1b[31m %s", i, std::string(120, 'x').c_str());
  EXPECT_TRUE(log_tail(1).contains("line 8999 \\x1b[31m")) << log_tail(1).toStdString();
  std::uintmax_t size = 0;
  for (const auto& file : std::filesystem::directory_iterator(folder / "log"))
    size += file.file_size();
  EXPECT_LT(size, 1100u * 1024);
  EXPECT_GT(size, 500u * 1024);
}

}  // namespace

TEST(Damaged, WhatIsNotAsItWasKeptIsSaidUntilItIsDismissed) {
  const test::Folder folder;
  const auto path = test::demo_project(folder);
  std::string run;
  {
    SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
    db.exec("UPDATE reading SET value = value * 3 WHERE id = 5");
    run = db.execAndGet("SELECT name FROM run WHERE id = (SELECT run_id FROM reading WHERE id = 5)")
              .getString();
  }
  MainWindow window;
  window.show();
  open(window, path);
  const QString said = QString::fromStdString("the readings of run " + run);
  ASSERT_TRUE(wait_for([&] { return window.message().contains(said); }));
  // Other work and its refusals come and go; this stays.
  window.workbench().edit([](ProjectSession& session) { session.add_blade({}); });
  EXPECT_FALSE(window.message().contains(said));
  EXPECT_TRUE(window.workbench().edit([](ProjectSession& s) { s.set_threshold("444 gf"); }));
  EXPECT_TRUE(window.message().contains(said)) << window.message().toStdString();
  QTest::mouseClick(test::shown_button(&window, "Dismiss"), Qt::LeftButton);
  EXPECT_EQ(window.message(), "");
  EXPECT_TRUE(window.workbench().edit([](ProjectSession& s) { s.set_threshold("445 gf"); }));
  EXPECT_EQ(window.message(), "");
  // Another project has nothing to do with it.
  const auto other = folder / "other.bquarry";
  ProjectFile::create(other, "other");
  open(window, other);
  EXPECT_FALSE(window.message().contains(said));
}

TEST(Damaged, TheWindowOffersTheDaysCopyAndWhatCanBeRead) {
  const test::Folder folder;
  const auto path = test::demo_project(folder);
  const QString project = QString::fromStdString(path.string());
  const std::string bytes = test::read_file(path);
  std::size_t readings = 0;
  {
    MainWindow window;
    open(window, path);
    readings = window.workbench().trial().reading_count();
    ASSERT_EQ(copies_of(path).size(), 1u) << "before the day's work";
  }
  {
    MainWindow again;
    open(again, path);
    EXPECT_EQ(copies_of(path).size(), 1u) << "one a day";
  }
  EXPECT_TRUE(
      ProjectFile::open(copies_of(path).front(), ProjectFile::Access::read).check().empty());
  std::ofstream(path, std::ios::binary | std::ios::trunc) << bytes.substr(0, bytes.size() / 2);
  MainWindow window;
  window.show();
  const auto dialog = [&] {
    EXPECT_TRUE(wait_for([&] { return window.findChild<DamagedDialog*>(); }));
    return window.findChild<DamagedDialog*>();
  };
  window.workbench().open(project);
  // What can be read, under a name that is asked for.
  auto* offered = dialog();
  ASSERT_TRUE(offered);
  answer_file_dialog(QString::fromStdString((folder / "out.bquarry").string()));
  QTest::mouseClick(test::shown_button(offered, "Take out"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return window.workbench().has_project(); }));
  EXPECT_TRUE(window.message().contains("taken out")) << window.message().toStdString();
  EXPECT_TRUE(window.message().contains("Lost:")) << window.message().toStdString();
  ASSERT_TRUE(wait_for([&] { return !window.findChild<DamagedDialog*>(); }));
  // The copy of the day.
  window.workbench().open(project);
  offered = dialog();
  ASSERT_TRUE(offered);
  QTest::mouseClick(test::shown_button(offered, "Go back"), Qt::LeftButton);
  ASSERT_TRUE(wait_for([&] { return window.message().contains("demo.damaged.bquarry"); }));
  ASSERT_TRUE(wait_for([&] {
    return window.workbench().has_project() && window.workbench().session().path() == path;
  }));
  EXPECT_EQ(window.workbench().trial().reading_count(), readings);
  EXPECT_EQ(std::filesystem::file_size(folder / "demo.damaged.bquarry"), bytes.size() / 2);
}
