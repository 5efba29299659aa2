#pragma once

#include <QFileSystemWatcher>
#include <QObject>
#include <QStringList>
#include <QTimer>
#include <deque>
#include <map>
#include <set>

#include "ui/frame/workbench.h"
#include "ui/lens/picture_loader.h"
#include "workflow/lens_study.h"

namespace bq::ui {

/// What a click in the picture does.
enum class LensTool { look, scale, bevel, micro_bevel, burr, roll, chip, scratches, apex, marks };

/// How two pictures of a place are shown together.
enum class CompareMode { none, wipe, blink, difference };

/// The station's state: the picture looked at with its pixels, the tool in hand, points shown,
/// suggestions, the picture it is compared with. All slow work (reading, decoding, measuring,
/// laying over) runs on workers; what is kept goes through the workbench.
class LensModel : public QObject {
  Q_OBJECT
 public:
  explicit LensModel(Workbench& workbench, QObject* parent = nullptr);

  [[nodiscard]] Workbench& workbench() { return workbench_; }
  [[nodiscard]] const Trial& trial() const { return workbench_.trial(); }
  /// The picture looked at; nullptr where the project has none.
  [[nodiscard]] const Micrograph* current() const;
  [[nodiscard]] std::int64_t current_id() const { return id_; }
  [[nodiscard]] const LensPixels* pixels() const { return pixels_.get(); }
  [[nodiscard]] QImage first_view() const {
    return first_view_;
  }  ///< the thumbnail, until the pixels are there
  [[nodiscard]] std::optional<PictureScale> scale() const;
  [[nodiscard]] bool busy() const {
    return loading_.busy() || taking_.busy() || importing_.busy() || laying_.busy() ||
           finding_.busy() || differing_.busy() || loading_other_.busy() || !waiting_.empty();
  }
  /// The small picture of a row, or a null image.
  [[nodiscard]] QImage thumbnail(std::int64_t id) const;

  void open(std::int64_t id);
  void step(int by);  ///< to the next or previous picture
  /// Files into the project, one after another. What is refused is said, the others go on.
  void bring_in(const QStringList& paths);
  void paste(const QImage& image);
  /// Every new picture in this folder is brought in, tied like the picture before; "" stops
  /// watching.
  void watch(const QString& folder);
  [[nodiscard]] const QString& watched() const { return folder_; }
  void take_out();

  void set_facts(const std::function<void(Micrograph&)>& change, const QString& what);

  [[nodiscard]] LensTool tool() const { return tool_; }
  void set_tool(LensTool tool);
  [[nodiscard]] bool snap() const { return snap_; }
  void set_snap(bool snap);
  [[nodiscard]] bool box() const { return box_; }
  void set_box(bool box);
  /// A point shown with the tool in hand; the second one takes the measure (or waits for the
  /// scale's length).
  void show_point(Spot at);
  void drop_points();
  [[nodiscard]] const std::vector<Spot>& points() const { return points_; }
  /// The next measure becomes another taking of the chosen one; its tool comes to hand.
  [[nodiscard]] bool repeating() const { return repeating_; }
  void set_repeating(bool repeating);
  void remove_measure(int index);
  [[nodiscard]] int chosen() const { return chosen_; }
  void choose(int index);
  /// The two points of the scale tool are `um` apart; kept for the magnification, or for this
  /// picture alone.
  bool set_scale(double um, bool for_magnification);

  void find_damage();
  [[nodiscard]] const std::vector<DamageHint>& hints() const { return hints_; }
  [[nodiscard]] int chosen_hint() const { return chosen_hint_; }
  void choose_hint(int index);
  void answer_hint(bool accept);

  [[nodiscard]] const Micrograph* other() const;
  [[nodiscard]] const LensPixels* other_pixels() const { return other_pixels_.get(); }
  void compare_with(std::int64_t id);
  [[nodiscard]] CompareMode mode() const { return mode_; }
  void set_mode(CompareMode mode);
  [[nodiscard]] const QImage& difference() const { return difference_; }
  /// How this picture lies over the other; empty: not laid over yet.
  [[nodiscard]] const SamePlace* laid() const;
  /// A mark in this picture or in the other one, in turn; three pairs (or Enter after two) lay them
  /// over each other.
  void show_mark(Spot at, bool in_other);
  [[nodiscard]] const std::vector<Spot>& marks_here() const { return here_; }
  [[nodiscard]] const std::vector<Spot>& marks_there() const { return there_; }
  void lay_over();

  /// Where the cursor is, and the end of a line being shown.
  [[nodiscard]] Spot cursor() const { return cursor_; }
  void move_cursor(Spot to);

 signals:
  void picture_changed();  ///< another picture or its pixels
  void changed();          ///< anything else
  void cursor_moved();
  void length_wanted();  ///< the scale's two points are shown

 private:
  struct Arrival {
    Micrograph facts;  ///< its id is set once the bytes are in
    std::string thumbnail;
    QString fault, name;
  };
  struct Waiting {
    QString path;
    std::string bytes;  ///< of what was pasted; else the file is read
    QString name;
  };
  void reload();
  void next_arrival();
  void look_into_folder();
  void take(Spot from, Spot to);
  void keep_take(const Checked<LensTake>& take, LensMeasureKind kind, std::int64_t id, int into);
  struct Loaded {
    DecodedPicture picture;
    std::string thumbnail;  ///< where the project has none yet
  };
  void load(std::int64_t id, bool other);
  void compute_difference();
  [[nodiscard]] std::shared_ptr<PictureStore> store() const;

  Workbench& workbench_;
  std::int64_t id_ = 0, other_ = 0;
  std::shared_ptr<const LensPixels> pixels_, other_pixels_;
  QImage first_view_, difference_;
  mutable std::map<std::int64_t, QImage> thumbnails_;
  LensTool tool_ = LensTool::look;
  CompareMode mode_ = CompareMode::none;
  bool snap_ = true, box_ = true, repeating_ = false;
  std::vector<Spot> points_, here_, there_;
  Spot cursor_;
  int chosen_ = -1, chosen_hint_ = -1;
  std::vector<DamageHint> hints_;
  std::deque<Waiting> waiting_;
  QString folder_;
  QFileSystemWatcher watcher_;
  QTimer settle_;  ///< a file that is still being written is left alone for a moment
  std::set<QString> seen_;
  std::map<QString, qint64> growing_;
  LatestJob<std::shared_ptr<Loaded>> loading_, loading_other_;
  LatestJob<std::shared_ptr<Arrival>> importing_;
  LatestJob<std::shared_ptr<Checked<LensTake>>> taking_;
  LatestJob<std::shared_ptr<Checked<std::vector<DamageHint>>>> finding_;
  LatestJob<std::shared_ptr<Checked<Registration>>> laying_;
  LatestJob<std::shared_ptr<QImage>> differing_;
};

}  // namespace bq::ui
