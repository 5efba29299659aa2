#pragma once

#include <QDateTime>
#include <QFileSystemWatcher>
#include <QObject>
#include <QStringList>
#include <QTimer>
#include <deque>
#include <map>
#include <set>

#include "pixels/picture_loader.h"
#include "ui/frame/workbench.h"
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
           finding_.busy() || along_.busy() || differing_.busy() || loading_other_.busy() ||
           !waiting_.empty();
  }
  /// The small picture of a row, or a null image.
  [[nodiscard]] QImage thumbnail(std::int64_t id) const;

  void open(std::int64_t id);
  void step(int by);  ///< to the next or previous picture
  /// Files into the project, one after another. What is refused is said, the others go on.
  /// What was brought in by hand is opened, unless a measure is half drawn; what a watched folder
  /// brings waits at the side until it is looked at.
  void bring_in(const QStringList& paths);
  void paste(const QImage& image);
  /// What a camera showed, kept under the time it was taken.
  void keep_live(const QImage& image);
  /// Says what the next picture belongs to: like the one looked at, else to the run at the bench.
  /// Returns that as a sentence.
  QString tie(Micrograph& m) const;
  /// Pictures that came in and were not looked at yet, the oldest first.
  [[nodiscard]] const std::vector<std::int64_t>& unseen() const { return unseen_; }
  void open_unseen();
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
  /// The blade lies on the other side of the apex than the program finds; kept with the picture.
  [[nodiscard]] bool other_side() const { return current() && current()->other_side; }
  void set_other_side(bool other);
  [[nodiscard]] const QString& side_words() const { return side_words_; }
  [[nodiscard]] bool box() const { return box_; }
  void set_box(bool box);
  /// A point shown with the tool in hand; the second one takes the measure (or waits for the
  /// scale's length). `px_per_screen_px`: pixels of the picture under one of the screen; a hand is
  /// no surer than that.
  void show_point(Spot at, double px_per_screen_px = 1);
  void drop_points();
  [[nodiscard]] const std::vector<Spot>& points() const { return points_; }
  /// The next measure becomes another taking of the chosen one; its tool comes to hand.
  [[nodiscard]] bool repeating() const { return repeating_; }
  void set_repeating(bool repeating);
  void remove_measure(int index);
  [[nodiscard]] int chosen() const { return chosen_; }
  void choose(int index);
  /// What two points that were shown with the scale tool are taken as, in words: found or by hand,
  /// and how sure.
  [[nodiscard]] const QString& reading_words() const { return reading_words_; }
  /// Known lengths of this picture that were taken before the one being shown.
  [[nodiscard]] const std::vector<ScaleReading>& scale_readings() const { return readings_; }
  /// The scale that these and the two points make, the points being `um` apart.
  [[nodiscard]] Checked<PictureScale> scale_shown(double um) const;
  /// Keeps the two points as a reading and asks for another one.
  bool add_scale_reading(double um);
  /// Sets it for the magnification (at this size of picture, of this instrument), or for this
  /// picture alone. `also_earlier`: pictures that have another scale by their magnification now
  /// take the new one; else they keep theirs.
  bool set_scale(double um, bool for_magnification, bool also_earlier);

  /// Follows the apex along the picture: chips per millimetre, wander, belly; and how far it fell
  /// back since the other picture, where this one is laid over it. Kept with the picture.
  void measure_along();
  [[nodiscard]] bool measuring_along() const { return along_.busy(); }
  /// What was measured along the apex; empty: nothing yet, or no scale.
  [[nodiscard]] std::optional<StretchValues> along() const;

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
    QString fault, name, path;
    bool watched = false;
    bool broken = false;  ///< its content breaks off: perhaps it is still being written
  };
  struct Waiting {
    QString path;
    QImage image;  ///< pasted, or of a camera; null: the file is read
    QString name;
    bool watched = false;
  };
  /// A file of the watched folder as it was when it was last taken or tried.
  struct SeenFile {
    qint64 size = 0;
    QDateTime changed;
    bool operator==(const SeenFile&) const = default;
  };
  void reload();
  void next_arrival();
  void take_arrival(const Arrival& arrival);
  void take_image(const QImage& image, const QString& name);
  void look_into_folder();
  void take(Spot from, Spot to);
  void take_scale_points();
  void keep_take(const Checked<LensTake>& take, LensMeasureKind kind, std::int64_t id, int into);
  struct FoundDamage {
    std::vector<DamageHint> hints;
    bool brighter = true, side_told = true;
  };
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
  QString side_words_;
  std::vector<Spot> points_, here_, there_;
  Spot cursor_;
  double px_per_screen_px_ = 1;
  ScaleReading reading_;
  QString reading_words_;
  std::vector<ScaleReading> readings_;
  int chosen_ = -1, chosen_hint_ = -1;
  std::vector<DamageHint> hints_;
  std::deque<Waiting> waiting_;
  QString folder_;
  QFileSystemWatcher watcher_;
  QTimer settle_;      ///< a file that is still being written is left alone for a moment
  QTimer look_again_;  ///< a file written over in place is told by no watcher
  std::map<QString, SeenFile> seen_;
  std::map<QString, SeenFile> growing_;
  std::map<QString, int> tries_;  ///< of a file whose content broke off
  std::vector<std::int64_t> unseen_;
  LatestJob<std::shared_ptr<Loaded>> loading_, loading_other_;
  LatestJob<std::shared_ptr<Arrival>> importing_;
  LatestJob<std::shared_ptr<Checked<LensTake>>> taking_;
  LatestJob<std::shared_ptr<Checked<FoundDamage>>> finding_;
  LatestJob<std::shared_ptr<Checked<Registration>>> laying_;
  LatestJob<std::shared_ptr<QImage>> differing_;
  LatestJob<std::shared_ptr<Checked<EdgeStretch>>> along_;
};

}  // namespace bq::ui
