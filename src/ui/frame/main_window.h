#pragma once

#include <QMainWindow>
#include <QTemporaryDir>
#include <array>
#include <functional>
#include <memory>

#include "report/label_page.h"
#include "ui/frame/latest_job.h"
#include "ui/frame/remembered.h"
#include "ui/frame/workbench.h"

class QLabel;
class QUrl;
class QProgressBar;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

/// In the order of the work, as the path on the left shows them.
inline constexpr std::array<Station, 8> kStations{
    Station::rack,  Station::section, Station::stones,   Station::plan,
    Station::bench, Station::lens,    Station::findings, Station::verdict};

struct Destination;
struct WayIn;
struct TrialStep;
class StationPurpose;
class HelpWindow;
class NextActionBar;
class PathRail;
class FirstPage;

/// Arranges the path, the line across the top, the stations and the strip of long work; stations
/// are made when they are first shown.
class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  /// `bare` leaves the frame to arrange(), which is to follow the first paint: type and style are
  /// the better part of the time to the first picture.
  enum class Start { arranged, bare };
  explicit MainWindow(Start start = Start::arranged, QWidget* parent = nullptr);
  /// Puts the frame together (once); the typeface and the theme have been set by then.
  void arrange();
  ~MainWindow() override;
  [[nodiscard]] Workbench& workbench() { return workbench_; }
  /// From now on size, place, theme, units, station and projects are remembered.
  void remember(Remembered remembered);
  void go_to(Station station);
  [[nodiscard]] QWidget* station(Station station);
  /// Opens a project, takes tables into the one that is open, or begins one for them.
  void take_files(const QStringList& paths);
  /// Takes in what was copied: files, or cells of a spreadsheet as text.
  void paste_table();
  /// The first trial, led step by step beside the work.
  void start_first_trial();
  [[nodiscard]] std::vector<TrialStep> steps_of_first_trial();
  /// The message strip's text, as a person would read it.
  [[nodiscard]] QString message() const;

 public slots:
  /// Opens the guide at "guide:TITLE", as links in the pages name it.
  void follow_guide(const QUrl& link);

 signals:
  /// The window has been painted for the first time; the first station is made right after.
  void painted();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void closeEvent(QCloseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  void paint_ground();
  QWidget* make_rack();
  QWidget* make_bench();
  QWidget* make_lens();
  QWidget* make_stones();
  void make_shortcuts();
  void show_message(const QString& sentence, bool refusal);
  void show_progress(const QString& what, int done, int total);
  void refresh_frame();
  void show_next();  ///< the next action in the bar
  void write_remembered();
  void act_on_next();
  void open_menu();
  void open_palette();
  void ask_open();
  void ask_new();
  /// Asks where a project that is to be made goes; "" when it is not to be.
  QString name_of_new(const QString& question, const QString& suggestion);
  /// Does `work` on a thread, then `done` here; what `work` returns or throws is a refusal and
  /// shown.
  void do_errand(const QString& what, std::function<QString()> work, std::function<void()> done);
  void ask_import();
  void start_from_table();
  [[nodiscard]] std::vector<WayIn> ways_in();
  /// Where somebody goes by rail or key: without a project what the station is for.
  void visit(Station which);
  void open_guide_at(const QString& title);
  void help_on(QWidget* dialog);
  void add_guide_places(std::vector<Destination>& places);
  void start_demo();
  void ask_template();
  void ask_learn();
  void learn(const QString& other);
  void export_package(const QString& path);
  void open_package(const QString& path);
  void make_demo(const QString& path);
  void offer_ways_back(const QString& project, const QString& sentence);
  void go_back_to(const QString& copy, const QString& project);
  void ask_salvage(const QString& project);
  void salvage(const QString& project, const QString& made);
  /// The first view: the stations where a project is open or on its way, else the ways in.
  void begin();
  void show_start();
  void open_help();
  /// Shows a table that is not tidy and asks what it does not say; `paths` come in together then.
  void understand_table(const QStringList& paths, const QString& odd);
  void ask_copy();
  void ask_export();
  void ask_labels();
  void print_labels();
  /// Empty where there are none; that was said then.
  std::vector<Label> labels_now();
  void open_label(const QString& code);  ///< what a code reader sent
  void show_about();
  void toggle_theme();
  [[nodiscard]] QString theme_words() const;  ///< for the menu: the next one
  void zoom_to(int percent);
  void zoom_by(int step);
  void open_settings();
  void fit_to_screen();
  void fill_screen(bool full);  ///< the station alone, as far as the screen goes (F11)

  Workbench workbench_;
  PathRail* rail_ = nullptr;
  NextActionBar* bar_ = nullptr;
  QStackedWidget* stack_ = nullptr;
  std::array<QWidget*, 8> stations_{};
  QWidget* strip_ = nullptr;
  QLabel* message_ = nullptr;
  QString standing_;  ///< said again when what was said over it is over
  QLabel* job_ = nullptr;
  QProgressBar* progress_ = nullptr;
  QPushButton *stop_ = nullptr, *dismiss_ = nullptr;
  std::optional<Remembered> remembered_;
  NextAction next_;
  FirstPage* start_ = nullptr;
  StationPurpose* purpose_ = nullptr;
  Station purpose_station_ = Station::rack;
  HelpWindow* help_ = nullptr;
  LatestJob<QString> errand_;
  std::unique_ptr<QTemporaryDir> pasted_;  ///< where pasted tables stand as files
  QStringList waiting_tables_;             ///< to come into the project that is being made for them
  bool painted_ = false, announcing_ = false;
};

}  // namespace bq::ui
