#include "ui/frame/main_window.h"
#include "ui/frame/code_reader.h"
#include "ui/frame/term_hints.h"

#include <QCloseEvent>
#include <QDesktopServices>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QShortcut>
#include <QStackedWidget>
#include <QTimer>
#include <QVBoxLayout>
#include <utility>

#include "store/plan_file.h"
#include "ui/bench/bench_view.h"
#include "ui/findings/findings_view.h"
#include "ui/frame/drawn_words.h"
#include "ui/frame/first_page.h"
#include "ui/frame/go_to_palette.h"
#include "ui/frame/house_rules.h"
#include "ui/frame/log_file.h"
#include "ui/frame/named_choices.h"
#include "ui/frame/next_action_bar.h"
#include "ui/frame/path_rail.h"
#include "ui/lens/lens_view.h"
#include "ui/parts/words.h"
#include "ui/plan/plan_view.h"
#include "ui/rack/blade_page.h"
#include "ui/rack/rack_view.h"
#include "ui/section/section_view.h"
#include "ui/stones/stones_view.h"
#include "ui/verdict/verdict_view.h"

namespace bq::ui {
namespace {

/// Holds the stations at the size that is there, and never below the least one that they are laid
/// out for (a station that is content with less says so by its minimum width); what they would like
/// besides does not count.
class Stage : public QWidget {
 public:
  explicit Stage(QStackedWidget* stations) : stations_(stations) {
    stations->setParent(this);
    connect(stations, &QStackedWidget::currentChanged, this, &Stage::fit);
    fit();
  }

 protected:
  void resizeEvent(QResizeEvent*) override { stations_->setGeometry(rect()); }

 private:
  void fit() {
    const QWidget* station = stations_->currentWidget();
    const int least = station ? station->minimumWidth() : 0;
    setMinimumSize(least > 0 ? least : 1100 - PathRail::kWidth, 700 - NextActionBar::kHeight);
  }

  QStackedWidget* stations_;
};

}  // namespace

MainWindow::MainWindow(Start start, QWidget* parent) : QMainWindow(parent) {
  setWindowTitle(tr("Brave Quarry"));
  set_house_rules();
  expose_drawings();
  name_choices();
  // Never larger than the screen's free area, and never kept larger than it.
  resize(fitting({1280, 800}, screen()));
  fit_to_screen();
  if (start == Start::arranged) arrange();
}

void MainWindow::arrange() {
  if (stack_) return;
  stack_ = new QStackedWidget;
  QStringList names;
  for (const Station station : kStations) names << shown(station);
  rail_ = new PathRail(names);
  bar_ = new NextActionBar(workbench_);
  message_ = new QLabel;
  message_->setWordWrap(true);
  message_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  dismiss_ = new QPushButton(tr("Dismiss"));
  job_ = new QLabel;
  progress_ = new QProgressBar;
  progress_->setMaximumWidth(260);
  progress_->setFixedHeight(12);
  progress_->setTextVisible(false);
  stop_ = new QPushButton(tr("Stop"));

  strip_ = new QWidget;
  auto* strip = new QHBoxLayout(strip_);
  strip->setContentsMargins(16, 4, 16, 6);
  strip->addWidget(message_, 1);
  strip->addWidget(dismiss_);
  strip->addWidget(job_);
  strip->addWidget(progress_);
  strip->addWidget(stop_);
  strip_->hide();
  for (QWidget* part : {static_cast<QWidget*>(message_), static_cast<QWidget*>(dismiss_),
                        static_cast<QWidget*>(job_), static_cast<QWidget*>(progress_),
                        static_cast<QWidget*>(stop_)})
    part->hide();

  auto* right = new QVBoxLayout;
  right->setContentsMargins(0, 0, 0, 0);
  right->setSpacing(0);
  // Below the least size that a station is laid out for it scrolls: nothing is cut off.
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setFocusPolicy(Qt::NoFocus);
  scroll->setWidget(new Stage(stack_));
  right->addWidget(scroll, 1);
  right->addWidget(strip_);
  auto* middle = new QHBoxLayout;
  middle->setContentsMargins(0, 0, 0, 0);
  middle->setSpacing(0);
  middle->addWidget(rail_);
  middle->addLayout(right, 1);
  auto* centre = new QWidget;
  auto* whole = new QVBoxLayout(centre);
  whole->setContentsMargins(0, 0, 0, 0);
  whole->setSpacing(0);
  whole->addWidget(bar_);
  whole->addLayout(middle, 1);
  setCentralWidget(centre);

  connect(rail_, &PathRail::chosen, this,
          [this](int index) { visit(kStations[std::size_t(index)]); });
  connect(bar_, &NextActionBar::go, this, &MainWindow::act_on_next);
  connect(bar_, &NextActionBar::menu_wanted, this, &MainWindow::open_menu);
  connect(dismiss_, &QPushButton::clicked, this, [this] {
    if (message_->text() == standing_) standing_.clear();
    show_message(standing_, true);
  });
  connect(stop_, &QPushButton::clicked, this, [this] { workbench_.stop_work(); });
  setAcceptDrops(true);
  connect(&workbench_, &Workbench::table_to_understand, this, &MainWindow::understand_table);
  connect(&workbench_, &Workbench::damaged, this, &MainWindow::offer_ways_back);
  connect(&workbench_, &Workbench::opened, this, [this] {
    if (start_ && stack_->currentWidget() == start_) go_to(Station::rack);
    // A station that was looked at without a project is opened with it.
    if (purpose_ && stack_->currentWidget() == purpose_) go_to(purpose_station_);
    if (!waiting_tables_.isEmpty()) workbench_.import_tables(std::exchange(waiting_tables_, {}));
  });
  connect(&workbench_, &Workbench::refused, this, [this](const QString& text) {
    if (painted_ && !workbench_.has_project()) show_start();  // not a station of nothing
    show_message(text, true);
  });
  connect(&workbench_, &Workbench::told, this,
          [this](const QString& text) { show_message(text, false); });
  connect(&workbench_, &Workbench::station_wanted, this, &MainWindow::go_to);
  connect(&workbench_, &Workbench::accepted, this, [this] {
    if (message_->objectName() == QLatin1String("refusal"))
      show_message(standing_, !standing_.isEmpty());
  });
  connect(&workbench_, &Workbench::unlike, this, [this](const QString& text) {
    if (text == standing_) return;
    standing_ = text;
    show_message(standing_, true);
  });
  connect(&workbench_, &Workbench::kept, bar_, &NextActionBar::show_kept);
  connect(&workbench_, &Workbench::progress, this, &MainWindow::show_progress);
  connect(&workbench_, &Workbench::changed, this, &MainWindow::refresh_frame);
  connect(&workbench_, &Workbench::fits_changed, this, &MainWindow::refresh_frame);
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    bar_->show_display();
    rail_->update();
  });
  make_shortcuts();
  rail_->set_current(int(Station::rack));
  refresh_frame();
  if (painted_ && !announcing_) begin();
}

MainWindow::~MainWindow() {
  QDesktopServices::unsetUrlHandler(QStringLiteral("guide"));
  // Stations look at the workbench as long as they live, and it goes before QWidget's children
  // would.
  delete takeCentralWidget();
}

void MainWindow::paintEvent(QPaintEvent* event) {
  QMainWindow::paintEvent(event);
  if (!stack_) paint_ground();
  if (painted_) return;
  painted_ = true;
  // The window is on the screen before type, style or any station costs time.
  QTimer::singleShot(0, this, [this] {
    announcing_ = true;
    emit painted();
    announcing_ = false;
    if (stack_ && stack_->count() == 0) begin();
  });
}

void MainWindow::paint_ground() {
  const Theme& t = theme();
  QPainter painter(this);
  painter.fillRect(rect(), t.ground);
  painter.fillRect(PathRail::kWidth - 1, NextActionBar::kHeight, 1, height(), t.hairline);
  painter.fillRect(0, NextActionBar::kHeight - 1, width(), 1, t.hairline);
}

QWidget* MainWindow::station(Station which) {
  auto& view = stations_[std::size_t(which)];
  if (!view) {
    switch (which) {
      case Station::rack:
        view = make_rack();
        break;
      case Station::section:
        view = new SectionView(workbench_);
        break;
      case Station::stones:
        view = make_stones();
        break;
      case Station::plan:
        view = new PlanView(workbench_);
        break;
      case Station::bench:
        view = make_bench();
        break;
      case Station::lens:
        view = make_lens();
        break;
      case Station::findings:
        view = new FindingsView(workbench_);
        break;
      case Station::verdict:
        view = new VerdictView(workbench_);
        break;
    }
    view->setObjectName(QStringLiteral("station"));
    stack_->addWidget(view);
  }
  return view;
}

QWidget* MainWindow::make_rack() {
  auto* rack = new RackView(workbench_);
  connect(rack->blade_page(), &BladePage::stones_wanted, this, [this](int blade) {
    static_cast<StonesView*>(station(Station::stones))->choose_blade(blade);
    go_to(Station::stones);
  });
  connect(rack, &RackView::section_wanted, this, [this](int blade) {
    static_cast<SectionView*>(station(Station::section))->choose_blade(blade);
    go_to(Station::section);
  });
  return rack;
}

QWidget* MainWindow::make_stones() {
  auto* stones = new StonesView(workbench_);
  connect(stones, &StonesView::lens_wanted, this, [this] { go_to(Station::lens); });
  connect(stones, &StonesView::pictures_wanted, this,
          [this](std::int64_t before, std::int64_t after) {
            go_to(Station::lens);
            static_cast<LensView*>(station(Station::lens))->compare(before, after);
          });
  return stones;
}

QWidget* MainWindow::make_lens() {
  auto* lens = new LensView(workbench_);
  connect(lens, &LensView::key_wanted, this,
          [this](const QString& blade, const Observations& seen, std::optional<double> at_mm) {
            auto* stones = static_cast<StonesView*>(station(Station::stones));
            go_to(Station::stones);
            if (const Blade* named = workbench_.trial().find_blade(blade.toStdString()))
              stones->open_key(int(named - workbench_.trial().blades.data()), seen, at_mm);
          });
  return lens;
}

QWidget* MainWindow::make_bench() {
  auto* bench = new BenchView(workbench_);
  connect(bench, &BenchView::full_screen_left, this, [this] { fill_screen(false); });
  if (auto* pages = bench->findChild<QStackedWidget*>())
    connect(pages, &QStackedWidget::currentChanged, this, &MainWindow::show_next);
  connect(&bench->model(), &BenchModel::changed, this, &MainWindow::show_next,
          Qt::QueuedConnection);
  connect(&workbench_, &Workbench::run_chosen, this, &MainWindow::show_next, Qt::QueuedConnection);
  return bench;
}

void MainWindow::fill_screen(bool full) {
  if (full == isFullScreen()) return;
  rail_->setVisible(!full);
  bar_->setVisible(!full);
  setWindowState(windowState().setFlag(Qt::WindowFullScreen, full));
}

void MainWindow::go_to(Station which) {
  stack_->setCurrentWidget(station(which));
  rail_->set_current(int(which));
  show_next();
  if (which == Station::bench || which == Station::rack || which == Station::stones ||
      which == Station::lens)
    station(which)->setFocus();
}

void MainWindow::make_shortcuts() {
  const auto key = [this](const QKeySequence& keys, auto act) {
    auto* shortcut = new QShortcut(keys, this);
    connect(shortcut, &QShortcut::activated, this, act);
  };
  for (int i = 0; i < int(kStations.size()); ++i)
    key(QKeySequence(Qt::CTRL | Qt::Key(Qt::Key_1 + i)),
        [this, i] { visit(kStations[std::size_t(i)]); });
  key(QKeySequence(Qt::CTRL | Qt::Key_K), [this] { open_palette(); });
  key(QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_V), [this] { paste_table(); });
  key(QKeySequence(Qt::CTRL | Qt::Key_Z), [this] { workbench_.undo(); });
  key(QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z), [this] { workbench_.redo(); });
  key(QKeySequence(Qt::CTRL | Qt::Key_Y), [this] { workbench_.redo(); });
  key(QKeySequence::Open, [this] { ask_open(); });
  key(QKeySequence(Qt::CTRL | Qt::Key_T), [this] { toggle_theme(); });
  key(QKeySequence(Qt::CTRL | Qt::Key_Comma), [this] { open_settings(); });
  key(QKeySequence(Qt::CTRL | Qt::Key_Plus), [this] { zoom_by(1); });
  key(QKeySequence(Qt::CTRL | Qt::Key_Equal), [this] { zoom_by(1); });
  key(QKeySequence(Qt::CTRL | Qt::Key_Minus), [this] { zoom_by(-1); });
  key(QKeySequence(Qt::CTRL | Qt::Key_0), [this] { zoom_to(100); });
  key(QKeySequence::HelpContents, [this] { open_help(); });
  key(QKeySequence(Qt::Key_F11), [this] { fill_screen(!isFullScreen()); });
  key(QKeySequence::Quit, [this] { close(); });
  new TermHints(this, [this](QWidget* dialog) { help_on(dialog); });
  QDesktopServices::setUrlHandler(QStringLiteral("guide"), this, "follow_guide");
  connect(new CodeReader(this), &CodeReader::read, this, &MainWindow::open_label);
}

QString MainWindow::message() const {
  return message_->isVisibleTo(strip_) ? message_->text() : QString();
}

void MainWindow::show_message(const QString& sentence, bool refusal) {
  name_look(message_, refusal ? "refusal" : "");
  if (!sentence.isEmpty()) qInfo().noquote() << sentence;
  message_->setText(sentence);
  message_->setVisible(!sentence.isEmpty());
  dismiss_->setVisible(!sentence.isEmpty());
  strip_->setVisible(!sentence.isEmpty() || job_->isVisibleTo(strip_));
}

void MainWindow::show_progress(const QString& what, int done, int total) {
  const bool shown = !what.isEmpty() && (total == 0 || total > 20);
  job_->setText(total > 0
                    ? tr("%1: %2 of %3").arg(what, QString::number(done), QString::number(total))
                    : what);
  progress_->setRange(0, total);
  progress_->setValue(done);
  job_->setVisible(shown);
  progress_->setVisible(shown);
  stop_->setVisible(shown && total > 0);
  strip_->setVisible(shown || message_->isVisibleTo(strip_));
}

void MainWindow::refresh_frame() {
  if (!workbench_.has_project()) {
    bar_->show_project({}, true);
    // The ways in have the one thing to do themselves.
    QWidget* shown = stack_->currentWidget();
    const bool ways_in = (start_ && shown == start_) || (purpose_ && shown == purpose_);
    bar_->show_action(tr("Open a project, or start from your own table."),
                      ways_in ? QString() : tr("Open project"));
    rail_->set_facts({});
    return;
  }
  const Trial& trial = workbench_.trial();
  const QString title = trial.title.empty()
                            ? QString::fromStdString(workbench_.session().path().stem().string())
                            : QString::fromStdString(trial.title);
  bar_->show_project(title, workbench_.writable());
  setWindowTitle(tr("%1 – Brave Quarry").arg(title));
  const FitService::Fits fits = workbench_.settled_fits();
  next_ = next_action(trial, *fits, workbench_.sharpening_in_hand(), workbench_.blind_runs());
  show_next();
  QStringList facts;
  for (const Station station : kStations)
    facts << QString::fromStdString(station_fact(station, trial));
  rail_->set_facts(facts);
  rail_->set_reached(int(trial.runs.empty()           ? Station::rack
                         : trial.reading_count() == 0 ? Station::bench
                                                      : Station::verdict));
}

void MainWindow::show_next() {
  QString sentence = QString::fromStdString(next_.sentence),
          button = QString::fromStdString(next_.button);
  // At the Bench the bar says what the Bench says, of the same run.
  const auto* bench = static_cast<BenchView*>(stations_[std::size_t(Station::bench)]);
  const bool there = bench && stack_->currentWidget() == bench &&
                     bench->trial()->isVisibleTo(bench) && next_.station == Station::bench &&
                     next_.run && int(*next_.run) == workbench_.current_run();
  if (there && !bench->instruction().isEmpty()) {
    sentence = bench->instruction();
    button.clear();
  }
  bar_->show_action(sentence, button);
}

void MainWindow::act_on_next() {
  if (!workbench_.has_project()) {
    ask_open();
    return;
  }
  if (next_.run) workbench_.choose_run(int(*next_.run));
  go_to(next_.station);
  if (next_.station == Station::stones && next_.blade)
    static_cast<StonesView*>(station(Station::stones))->choose_blade(int(*next_.blade));
  if (next_.station == Station::section && next_.blade) {
    auto* section = static_cast<SectionView*>(station(Station::section));
    section->choose_blade(int(*next_.blade));
    section->open_page(SectionView::Page::marker);
  }
  if (next_.station == Station::bench)
    static_cast<BenchView*>(station(Station::bench))->open_page(BenchView::Page::trial);
  if (next_.station == Station::rack) {
    auto* rack = static_cast<RackView*>(station(Station::rack));
    if (workbench_.trial().blades.empty())
      rack->start_blade();
    else
      rack->start_run();
  }
}

void MainWindow::closeEvent(QCloseEvent* event) {
  // Everything entered is kept already; there is nothing to ask.
  workbench_.stop_fitting();
  write_remembered();
  event->accept();
}

}  // namespace bq::ui
