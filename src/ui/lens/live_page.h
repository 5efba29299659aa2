#pragma once

#include <QWidget>

#include "ui/lens/lens_model.h"
#include "ui/lens/live_cameras.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSlider;

namespace bq::ui {

/// What a camera shows, with the last picture of the place laid over it so that the same spot is
/// found again, and two points that are held against the scale.
class LiveCanvas : public QWidget {
  Q_OBJECT
 public:
  explicit LiveCanvas(QWidget* parent = nullptr);
  void show_frame(const QImage& frame);
  /// The last picture of the place; a null image: none.
  void show_reference(const QImage& image, const std::vector<Spot>& marks);
  void set_strength(double share);  ///< 0 … 1, of the reference
  void show_points(const std::vector<Spot>& points);
  void say(const QString& words);  ///< where there is no frame
  [[nodiscard]] QPointF screen_of(Spot p) const;

 signals:
  void pressed(bq::Spot at, double px_per_screen_px);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;

 private:
  [[nodiscard]] QRectF frame_on_screen() const;
  QImage frame_, reference_;
  std::vector<Spot> marks_, points_;
  double strength_ = 0.35;
  QString words_;
};

/// Page "Live" of the station: a camera as one more source of pictures. Freeze, keep, a check of
/// the scale, the last picture of that place as an overlay. The camera runs only while the page is
/// looked at.
class LivePage : public QWidget {
  Q_OBJECT
 public:
  explicit LivePage(LensModel& model, QWidget* parent = nullptr);
  /// A stand-in beside this computer's cameras.
  void offer(const LiveChoice& choice);
  [[nodiscard]] bool frozen() const { return frozen_; }
  [[nodiscard]] const QImage& frame() const { return frame_; }
  [[nodiscard]] LiveCanvas* canvas() const { return canvas_; }
  void freeze(bool frozen);
  /// What is shown goes into the project, tied like the picture looked at.
  void keep();

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void lay_out();
  void listen();
  void look_for_cameras();
  void choose(int index);
  void take_frame(const QImage& frame);
  void show_state();
  void load_reference();
  void check_scale(Spot at, double px_per_screen_px);
  [[nodiscard]] Micrograph as_kept() const;

  LensModel& model_;
  QComboBox* source_;
  QPushButton *again_, *freeze_, *keep_;
  QCheckBox* overlay_;
  QSlider* strength_;
  LiveCanvas* canvas_;
  QLabel *tied_, *scale_, *check_, *reference_words_;
  std::vector<LiveChoice> offered_, there_;
  std::unique_ptr<LiveSource> running_;
  QString why_none_;
  bool looked_ = false, frozen_ = false;
  QImage frame_;
  std::vector<Spot> points_;
  double px_per_screen_px_ = 1;
  std::int64_t reference_ = 0;
  LatestJob<std::shared_ptr<DecodedPicture>> loading_;
};

}  // namespace bq::ui
