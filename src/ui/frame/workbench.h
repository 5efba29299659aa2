#pragma once

#include <QDateTime>
#include <QObject>
#include <QString>
#include <QTimer>
#include <array>
#include <deque>
#include <functional>
#include <memory>
#include <set>

#include "store/any_table.h"
#include "ui/frame/fit_service.h"
#include "ui/theme/theme.h"
#include "workflow/next_action.h"
#include "workflow/project_session.h"

namespace bq::ui {

/// Units that readings can be shown in.
inline constexpr std::array<Unit, 4> kShownForces{Unit::gf, Unit::N, Unit::lbf, Unit::ozf};
inline constexpr std::array<Unit, 2> kShownLengths{Unit::mm, Unit::in};

/// How quantities are shown; what is stored never changes with it.
struct Display {
  AngleConvention angles = AngleConvention::per_side;
  Unit force = Unit::gf;
  Unit length = Unit::mm;
  ThemeName theme = ThemeName::chalk;
};

/// What became of a change: taken, or the sentence why not.
struct Edited {
  bool taken = false;
  QString refusal;
  operator bool() const { return taken; }  // NOLINT: asked like a bool
};

/// The open project as all stations see it: the session, its fits, the threshold, what is chosen
/// and how things are shown. Stations change the project only through edit().
class Workbench : public QObject {
  Q_OBJECT
 public:
  explicit Workbench(QObject* parent = nullptr);
  ~Workbench() override;

  /// Opens in the background; opened() or refused() follows. Until it is open, and when it is
  /// refused, the project that was open before stays so.
  void open(const QString& path);
  void create(const QString& path);
  /// Tables into the open project. One that is not tidy is shown first (table_to_understand), until
  /// a map says that it was.
  void import_tables(const QStringList& paths, std::shared_ptr<const TableMap> map = {});
  [[nodiscard]] bool has_project() const { return session_ != nullptr; }
  [[nodiscard]] bool opening() const { return opening_.busy(); }
  [[nodiscard]] bool writable() const { return session_ && session_->writable(); }
  [[nodiscard]] const ProjectSession& session() const { return *session_; }
  [[nodiscard]] const Trial& trial() const;
  /// Names of the runs of blind plans.
  [[nodiscard]] const std::set<std::string>& blind_runs() const { return blind_; }
  /// Such a run that is not done and was not uncovered: whoever reads must not learn from any list
  /// which blade, steel or edge its code stands for.
  [[nodiscard]] bool is_covered(std::size_t run) const;
  [[nodiscard]] FitService::Fits fits() const { return fits_.fits(); }
  /// The fits once they are of the readings there are; none while they are being made.
  [[nodiscard]] FitService::Fits settled_fits() const {
    return fitting() ? std::make_shared<std::vector<RunFit>>() : fits();
  }
  [[nodiscard]] bool fitting() const { return fits_.busy(); }
  void stop_fitting() { fits_.stop(); }
  /// The Stop button of the strip: whatever runs long.
  void stop_work() {
    stop_fitting();
    emit stop_wanted();
  }

  /// Says which project is open: another number after every other one. Jobs carry it.
  [[nodiscard]] std::uint64_t project_number() const { return std::uint64_t(opening_number_); }
  /// What a job's result is checked against (LatestJob::belongs_to).
  [[nodiscard]] std::function<std::uint64_t()> of_this_project() const {
    return [this] { return project_number(); };
  }

  /// Runs a change; a refusal (and whatever else is thrown) becomes refused() and is handed back.
  /// Afterwards changed() is sent.
  Edited edit(const std::function<void(ProjectSession&)>& change);
  void undo();
  void redo();
  bool save_copy(const QString& path);

  /// Calls `say` once every change so far is on the disk, through a power cut too; at once where it
  /// is. Never when the disk fails (refused() says so) or the project is closed before.
  void when_kept(std::function<void()> say);
  [[nodiscard]] bool all_kept() const { return waiting_.empty(); }

  /// The first blade with a sharpening under way.
  [[nodiscard]] std::optional<std::size_t> sharpening_in_hand() const;

  /// The limit in the trial's unit; empty without readings to say what "3x" means.
  [[nodiscard]] std::optional<double> threshold() const;
  [[nodiscard]] QString threshold_text() const;
  void drag_threshold(double value);  ///< shown, not kept
  void drop_threshold(double value);  ///< kept
  bool type_threshold(const QString& text);

  [[nodiscard]] const Display& display() const { return display_; }
  void set_display(const Display& display);
  [[nodiscard]] Unit shown_unit() const;
  /// A value of the trial's unit in the shown unit, with its sign.
  [[nodiscard]] QString print_value(double value, bool with_sign = true) const;
  [[nodiscard]] double shown(double value) const {
    return convert(value, trial().unit(), shown_unit());
  }
  [[nodiscard]] double from_shown(double value) const {
    return convert(value, shown_unit(), trial().unit());
  }

  [[nodiscard]] int current_run() const { return current_run_; }
  void choose_run(int index);
  [[nodiscard]] int steel_style(const std::string& steel) const;

 signals:
  void opened();
  /// The project is another one, or otherwise than it was: what of it.
  void changed(const Touched& touched);
  void accepted();       ///< a change was taken: what was refused before is over
  void about_to_undo();  ///< or redo: what is in hand and not kept yet is to be kept first
  void fits_changed();
  void threshold_changed();
  void display_changed();
  void run_chosen(int index);
  void refused(const QString& sentence);
  void told(const QString& sentence);
  void station_wanted(Station station);
  /// `odd`, of the tables that were to come in, needs a look before they do.
  void table_to_understand(const QStringList& paths, const QString& odd);
  void stop_wanted();
  /// A project that was to be opened is damaged; `sentence` says how.
  void damaged(const QString& path, const QString& sentence);
  /// Something in the open project is not as it was kept; `sentence` says what. "": no more.
  void unlike(const QString& sentence);
  void kept(const QDateTime& at);
  void progress(const QString& what, int done, int total);

 private:
  struct Opening {
    std::unique_ptr<ProjectSession> session;
    QString refusal;
    bool damaged = false;  ///< the file is a project's, and cannot be used as it is
    QString copy_note;     ///< why there is no copy of today
    int number = 0;
  };
  /// What the threshold comes to, found once for what it hangs on.
  struct Limit {
    FitService::Fits fits;
    std::string text;
    Unit unit = Unit::gf;
    std::optional<double> value;
    bool of_fresh = false;  ///< "3x": of readings at 0 cuts
  };
  const Limit& limit() const;
  /// The project that was open, for whoever closes it; nothing of it is left here.
  std::unique_ptr<ProjectSession> leave_project();
  void begin_project(Opening& opening);
  void compare_content();
  void follow();  ///< what another program keeps, while it is looked at beside it
  void after_change();
  void take_in();  ///< what is asked of the project all the time, after every change
  void tell_threshold();
  void tell_threshold_if_other();
  void settle(int opening, std::uint64_t changes, const QString& fault);

  std::unique_ptr<ProjectSession> session_;
  Trial none_;
  std::deque<std::pair<std::uint64_t, std::function<void()>>>
      waiting_;  ///< for the change with this number to be on the disk
  std::uint64_t settled_ = 0;
  int opening_number_ = 0, last_number_ = 0;
  FitService fits_;
  Display display_;
  std::optional<double> dragged_;
  mutable Limit limit_;
  /// What the window was last told of the threshold; nothing of this project yet.
  std::optional<std::pair<std::optional<double>, QString>> told_threshold_;
  int current_run_ = -1;
  std::vector<std::string> steels_;  ///< alphabetical; a steel's place is its colour
  std::string plans_;                ///< the plan book that blind_ was read from
  std::set<std::string> blind_;
  LatestJob<std::shared_ptr<Opening>> opening_;
  LatestJob<QString> importing_;
  LatestJob<bool> closing_;
  LatestJob<std::shared_ptr<Opening>> following_;
  QTimer follow_;
  LatestJob<std::vector<std::string>> comparing_;  ///< with the checksums
};

}  // namespace bq::ui
